// What of a works can be taken hold of in plan, and what moving each does.
#pragma once

#include <string>

#include "works/works.h"

namespace inselberg::works {

enum class Grip {
  corner,  // a point of an outline or line
  side,    // between two of them; an outline's moves square to itself, a line's as it is dragged
  level,   // moves up and down
  fall,    // the tip of the fall arrow: swings and steepens it
  whole    // moves everything
};

struct Handle {
  Grip grip = Grip::whole;
  std::size_t field = 0, index = 0;  // of corners and sides: the field, and the point or the first of the side's two
  Vec2 at;
  bool operator==(const Handle&) const = default;
};

// Corners and sides of every outline and line, then the level and the fall, where there are. The whole has no place of
// its own.
std::vector<Handle> handlesOf(const Shape& shape);

// With another fall, towards a bearing in degrees; no steeper than its kind allows. REQUIRES: fallOf gives one.
Shape withFall(const Shape& shape, double percent, double bearing);
// Where the arrow of a works' fall ends: the steeper, the longer.
Vec2 fallTip(const Shape& shape, const Fall& fall);

// A handle dragged from one place to another, and up by so much where it is a level.
struct Drag {
  Vec2 from, to;
  double up = 0;  // m
};
// The works with a handle of `shape` dragged: a corner to the very place, others by as much as the drag. Nothing when
// it could not be so: an outline would cross itself.
std::optional<Shape> moved(const Shape& shape, const Handle& handle, const Drag& drag);

// With a corner more, in the middle of a side, whose halves keep its section and levels. REQUIRES: handle.grip is side.
Shape withCorner(const Shape& shape, const Handle& side);
// Without a corner; the side that takes the place of two has the section of the one before the corner. Throws Error
// when it cannot go. REQUIRES: handle.grip is corner.
Shape withoutCorner(const Shape& shape, const Handle& corner);

// Whether a handle is a side that may have a section of its own.
bool mayHaveSection(const Shape& shape, const Handle& handle);
// The same legs along the side as now, with a batter of this run in cut and fill. REQUIRES: mayHaveSection, and
// sections of `resolved`, which is else the same, are not known by name.
Shape withSlopeOfSide(const Shape& shape, const Shape& resolved, const Handle& side, double run);
// With that section along the side; without one, as its others. REQUIRES: mayHaveSection.
Shape withSectionOfSide(const Shape& shape, const Handle& side, const std::optional<NamedOrLegs>& section);

// What moving does, for the list of what can be undone: "move a corner of Yard".
std::string movedText(const Works& works, const Handle& handle);

}  // namespace inselberg::works
