// Works: one designed thing placed on a ground, of one of the kinds there are.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <string>

#include "base/hash.h"
#include "base/id.h"
#include "works/area_works.h"
#include "works/kind.h"
#include "works/line_works.h"
#include "works/pad.h"
#include "works/pond.h"

namespace inselberg::works {

// Whose level a works follows, and how far above it.
struct Tie {
  WorksId to;
  double plus = 0;  // m
  bool operator==(const Tie&) const = default;
};

struct Works {
  WorksId id;
  std::string name;
  bool leftOut = false;  // it takes no part
  Shape shape;
  std::string material = {};    // what its cut is; empty: not said
  std::string phase = {};       // when it is built; empty: not said
  std::optional<Tie> tie = {};  // its level is kept as this says (project/ties.h)
  bool held = false;            // in place: the pointer does not move it, nor balancing
  bool hidden = false;          // its lines are not drawn; it takes part all the same
  bool operator==(const Works&) const = default;
};

using Kinds = std::span<const Kind* const>;

// All kinds of the program, in the order they are offered. Adding one: its file in this folder, its line here.
Kinds standardKinds();

// What is offered to be drawn: a fresh shape of every kind, and of some kinds one made ready for a purpose of its own.
struct Offer {
  KindNames names;
  Shape fresh;
};
std::vector<Offer> offers();

// The kind of a name; null when there is none.
const Kind* kindNamed(std::string_view name, Kinds kinds = standardKinds());

// Places a works on the ground left by those before it. Throws Cancelled, and Error when it cannot be placed there.
Placement place(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

// Equal for shapes that place alike.
void feed(Hasher& hasher, const Shape& shape);

// What is wrong with the first field that may not stand as it is ("Outline must not cross itself"); nothing when all
// may.
std::optional<std::string> wrong(const Shape& shape);

// With sections known by name replaced by their legs. Throws Error for a name that is not found (null).
using FindSection = std::function<const Section*(const std::string& name)>;
Shape withSections(const Shape& shape, const FindSection& find);
// The name of the other ground that a works is made from; nothing for most.
std::optional<std::string> groundNamed(const Shape& shape);
Shape withGround(const Shape& shape, GroundRef ground);

// An outline or line of the works.
struct PlacesField {
  std::size_t field = 0;
  Places points;
  bool closed = false;
};
std::vector<PlacesField> placesOf(const Shape& shape);
// The box of all of them; and its middle, or half way along a line: where the works is spoken of.
plane::Box boundsOf(const Shape& shape);
Vec2 placeOf(const Shape& shape);
// The centroid of its outline's area, or that place where it has none.
Vec2 middleOf(const Shape& shape);
// The first outline; empty when there is none.
plane::Ring outlineOf(const Shape& shape);
// REQUIRES: there is one.
Shape withOutline(const Shape& shape, plane::Ring outline);

// The level the works is known by; nothing for kinds that follow the ground.
std::optional<double> levelOf(const Shape& shape);
// The works raised or lowered as a whole, so that it is known by this level. REQUIRES: levelOf gives one.
Shape atLevel(const Shape& shape, double level);

// Its fields that are figures, as they stand; then what was found when it was placed.
std::vector<Figure> figuresOf(const Shape& shape, const Placement& placement);

// Where the top of a works falls to; nothing for one that does not fall.
struct Fall {
  Vec2 at;             // where the arrow begins
  double percent = 0;  // positive downwards
  double bearing = 0;  // degrees clockwise from north
};
// As its fields say it.
std::optional<Fall> fallOf(const Shape& shape);
// The same, or as it was found when it was placed.
std::optional<Fall> fallOf(const Shape& shape, const Placement& placement);

// The fresh shape with this as its first outline or line. Throws Error when it is not sound.
Shape begun(const Shape& fresh, Places places, const plane::Origin& origin);
// As it is first shown on a ground: at levels that suit it there, to 5 cm. Throws Error when it lies off the ground.
Shape startedOn(const Shape& shape, const ground::Tin& ground);
// The mean level of the ground at the points of its outlines and lines; nothing when none lies on it.
std::optional<double> groundAt(const Shape& shape, const ground::Tin& ground);

}  // namespace inselberg::works
