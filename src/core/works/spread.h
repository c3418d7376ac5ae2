// The batters of one kind, spread over the ground from their crests to where they first meet it.
#pragma once

#include <optional>
#include <vector>

#include "ground/recut.h"
#include "works/batter_field.h"

namespace inselberg::works {

// Heights this near are equal.
inline constexpr double kSameHeight = 1e-8;

// The part of a field above the ground that hangs together with the crest.
struct Spread {
  bool any = false;                  // there is some
  std::vector<ground::Line2> lines;  // daylight, folds and ends, in plan

  // Where the batter ends without meeting the ground: one place for each cause. At the edge of the ground the one where
  // it has farthest to go, and the run of the slope that would meet the ground there.
  struct AtEdge {
    Vec2 at;
    double run = 0;
  };
  std::optional<AtEdge> outOfGround;
  std::optional<Vec2> outOfReach;

  // Round corners by their place, and how far from it the batter came; a corner may come several times.
  struct CornerRadius {
    Vec2 corner;
    double radius = 0;
  };
  std::vector<CornerRadius> corners;
};

// sign: +1 fill, -1 cut. The cost follows the batter's size, not the site's. Throws Cancelled.
Spread spreadOver(const ground::Tin& ground, const BatterField& field, double sign, const Progress& progress);

}  // namespace inselberg::works
