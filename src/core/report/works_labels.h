// What a plan writes beside the crests of works: how steep their batters are, and the levels of corners.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "project/evaluate.h"

namespace inselberg::report {

// Works in the order they are placed: later ones lie over earlier.
class WorksInSight {
 public:
  // The works are seen, not kept.
  explicit WorksInSight(std::span<const project::PlacedWorks> works) : works_(works) {}

  std::span<const project::PlacedWorks> works() const { return works_; }
  // Whether one of them, by its place in memory, still has the ground there.
  bool shows(const project::PlacedWorks& of, plane::Vec2 p) const;
  // Whether what has the ground there is a batter.
  bool onBatter(plane::Vec2 p) const;

 private:
  std::span<const project::PlacedWorks> works_;
};

struct SlopeLabel {
  plane::Vec2 at, along;  // the text's middle, and the unit vector that it runs along, upright
  std::string text;       // "2:1", square to the crest
};
// Beside the middle of each long stretch of crest, or a quarter from an end where the batter is too narrow there, on
// the batter. `mm` is the length on the ground, in metres, of a millimetre on paper or of what is as large on a screen;
// only stretches that are seen in the box.
std::vector<SlopeLabel> slopeLabels(const WorksInSight& works, double mm, const plane::Box& box);

// The corners of crests in the box that are still seen; those that would lie on each other told once. `mm` as above.
std::vector<plane::Vec3> crestCorners(const WorksInSight& works, double mm, const plane::Box& box);

// Where a text beside a corner may stand, its middle, in the order they are tried: `half` its half width, all in
// metres.
std::vector<plane::Vec2> besideCorner(plane::Vec2 corner, double half, double mm);

}  // namespace inselberg::report
