// Works that set an area: level area, inlay and sculpt.
#pragma once

#include "works/batter_rule.h"

namespace inselberg::works {

// A flat area with walls round it, its level changed by reasons that add up.
struct LevelArea {
  plane::Ring outline;
  double level = 0;
  Adjustments adjust;
  double space = 0;  // m that it goes on beyond its outline, to work in
};
const Kind& kindOf(const LevelArea&);
Placement place(const LevelArea& area, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

enum class InlayHow { over, lower, higher };

// Another ground set in, within its own extent or an outline.
struct Inlay {
  GroundRef ground;
  InlayHow how = InlayHow::over;
  Places outline;         // empty: its extent
  SectionsAlong section;  // round its border, of one laid over; empty: a wall
  CornerStyle corners = CornerStyle::round;
};
const Kind& kindOf(const Inlay&);
// Throws Error when the other ground is missing, or has nothing here.
Placement place(const Inlay& inlay, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

// Contours moved by hand, tied to the ground around.
struct Sculpt {
  plane::Ring outline;
  Contours contours;
};
const Kind& kindOf(const Sculpt&);
// With the contours that the ground has there.
Sculpt startedOn(Sculpt sculpt, const ground::Tin& ground);
// The constrained triangulation of the contours and of the outline, which lies on the ground; flats are cured.
Placement place(const Sculpt& sculpt, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

}  // namespace inselberg::works
