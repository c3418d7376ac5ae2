// The footprints are grown by a little, so that works whose edges meet hang together, and united: the holes that none
// of them has by itself are the gaps, drawn in by as much.
#include "project/gaps.h"

#include <fmt/format.h>

#include <algorithm>

#include "ground/border.h"
#include "plane/offset.h"
#include "plane/place_text.h"

namespace inselberg::project {
namespace {

constexpr double kJoin = 0.002, kWide = 5, kLarge = 1;  // m, m, m2

double lengthRound(const plane::Ring& ring) {
  double sum = 0;
  for (std::size_t i = 0; i < ring.size(); ++i) sum += plane::distance(ring[i], ring[(i + 1) % ring.size()]);
  return sum;
}

bool isGap(const plane::Ring& ring) {
  const double area = plane::area({ring, {}});
  return area > kLarge && 2 * area < kWide * lengthRound(ring);
}

}  // namespace

std::vector<Gap> gapsBetween(const std::vector<PlacedWorks>& works) {
  struct Grown {
    const std::string* name;
    plane::Areas areas;
  };
  std::vector<Grown> grown;
  plane::Areas all;
  for (const PlacedWorks& w : works) {
    if (w.placement->facets->empty()) continue;
    Grown& one = grown.emplace_back(Grown{&w.works->name, {}});
    for (const plane::Polygon& part : ground::coverOf(*w.placement->facets)) {
      for (auto& bigger : plane::offset(part, kJoin, plane::OffsetCorners::square))
        one.areas.push_back(std::move(bigger));
    }
    all.insert(all.end(), one.areas.begin(), one.areas.end());
  }
  std::vector<Gap> gaps;
  for (const plane::Polygon& part : plane::united(all)) {
    for (plane::Ring hole : part.holes) {
      std::reverse(hole.begin(), hole.end());
      const plane::Polygon whole{hole, {}};
      if (!isGap(hole)) continue;
      Gap gap{whole, {}};
      const auto around = plane::offset(whole, 2 * kJoin, plane::OffsetCorners::square);
      for (const Grown& one : grown) {
        if (!plane::common(around, one.areas).empty()) gap.between.push_back(*one.name);
      }
      if (gap.between.size() > 1) gaps.push_back(std::move(gap));
    }
  }
  return gaps;
}

namespace {

std::string namesOf(const Gap& gap) {
  std::string text;
  const std::size_t n = gap.between.size();
  for (std::size_t i = 0; i < n; ++i) text += (i == 0 ? "" : i + 1 == n ? " and " : ", ") + gap.between[i];
  return text;
}

}  // namespace

plane::Vec2 placeOf(const Gap& gap) {
  return gap.outline.outer.front();
}

ground::Doubts doubtsOfGaps(const std::vector<Gap>& gaps, const plane::Origin& origin) {
  ground::Doubts doubts;
  for (const Gap& gap : gaps) {
    const plane::Vec2 at = placeOf(gap);
    doubts.push_back(
        {ground::DoubtKind::gap, at,
         fmt::format("{:.0f}\u00a0m² of land are left between {} near {}: fill the gap, or move them together.",
                     plane::area(gap.outline), namesOf(gap), plane::placeText(at, origin))});
  }
  return doubts;
}

ProjectPtr withGapsFilled(const Project& project, const EvaluatedGround& ground, std::optional<plane::Vec2> at) {
  ProjectPtr next = std::make_shared<Project>(project);
  for (const Gap& gap : gapsBetween(ground.works)) {
    if (at && placeOf(gap) != *at) continue;
    // A little onto the works, so that it passes from their edges and not from the land beside them.
    const auto outline = plane::offset(gap.outline, 2 * kJoin, plane::OffsetCorners::square);
    if (outline.size() == 1)
      next = withNewWorks(*next, ground.id, "Between " + namesOf(gap), works::Sculpt{outline[0].outer, {}});
  }
  return next;
}

}  // namespace inselberg::project
