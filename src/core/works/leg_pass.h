// One leg of the sections along crests: what it covers, and the line it ends at.
#pragma once

#include "works/parting.h"

namespace inselberg::works {

// A convex part of a works' own surface, in plan.
struct Cell {
  quantity::Convex shape;
  ground::Plane plane;
};

// How far a leg goes out from a level, and where it ends. Nowhere, for one that goes to the ground.
struct Reach {
  double width = 0, level = 0;
};
Reach reachOf(const Leg& leg, double z);

// The leg of that number in the sections of the crests; or working space before the first: so many metres out for all
// of them, in the plane of the top; where it has none, as a leg without a fall (square corners prolong the line of
// either side). Round corners of the space belong to what comes before.
struct PassLeg {
  std::size_t number = 0;
  std::optional<double> space = {};
  std::optional<ground::Plane> top = {};
  // Of a leg that neither rises nor falls: in square corners it lies at the corner's level, and no side's is prolonged.
  bool cornersLevel = false;
};

struct LegPass {
  std::vector<Cell> cells;
  Crests outer;  // the crests that come next; stretches without the leg are as they were
};

// What lies nearest to a stretch is covered as far as its leg is wide there. Within the chord error of `radius`.
LegPass passLeg(const Crests& inner, const PassLeg& leg, const std::function<double(Vec2)>& radius,
                const Progress& progress);

// The places nearest to a wall: to a stretch without a batter, or to a square end; out to a distance.
std::vector<quantity::Convex> nearestToWalls(const Crests& crests, double reach, const Progress& progress);

// How wide a leg may be, at most, anywhere along the crests.
double widest(const Crests& crests, const PassLeg& leg);

}  // namespace inselberg::works
