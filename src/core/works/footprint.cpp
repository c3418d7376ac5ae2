// Two areas touch when their borders come near each other, or one lies inside the other: then any place of it does.
#include "works/footprint.h"

#include <algorithm>

#include "ground/recut.h"

namespace inselberg::works {
namespace {

constexpr double kNear = 1e-3;  // m

using ground::Index;
using plane::Segment2;

}  // namespace

Footprint::Footprint(ground::TinPtr facets) : facets_(std::move(facets)) {
  for (Index t = 0; t < facets_->triangles().size(); ++t) {
    const ground::Triangle& c = facets_->triangles()[t];
    for (int k = 0; k < 3; ++k) {
      if (facets_->neighbours()[t][static_cast<std::size_t>(k)] == ground::kNone)
        border_.push_back({facets_->plan(c[static_cast<std::size_t>(ground::next(k))]),
                           facets_->plan(c[static_cast<std::size_t>(ground::before(k))])});
    }
  }
  index_ = plane::SegmentIndex(border_);
}

// REQUIRES: the borders keep clear of each other.
bool Footprint::covers(const Footprint& other) const {
  return facets_->locate(ground::centroid(*other.facets_, 0)) != ground::kNone;
}

bool Footprint::touches(const Footprint& other) const {
  if (facets_->empty() || other.facets_->empty()) return false;
  if (!facets_->bounds().grown(kNear).overlaps(other.facets_->bounds())) return false;
  const Footprint &few = border_.size() < other.border_.size() ? *this : other, &many = &few == this ? other : *this;
  for (const Segment2& s : few.border_) {
    bool near = false;
    many.index_.near(s, kNear,
                     [&](std::uint32_t i) { near = near || plane::distanceBetween(s, many.border_[i]) <= kNear; });
    if (near) return true;
  }
  return covers(other) || other.covers(*this);
}

ground::TinPtr merged(const std::vector<ground::TinPtr>& facets) {
  if (facets.size() == 1) return facets.front();
  ground::TinParts parts;
  for (const ground::TinPtr& one : facets) {
    const auto firstPoint = static_cast<Index>(parts.points.size());
    const auto firstTriangle = static_cast<Index>(parts.triangles.size());
    parts.points.insert(parts.points.end(), one->points().begin(), one->points().end());
    for (Index t = 0; t < one->triangles().size(); ++t) {
      const auto moved = [](ground::Triangle c, Index by) {
        for (Index& i : c) i = i == ground::kNone ? i : i + by;
        return c;
      };
      parts.triangles.push_back(moved(one->triangles()[t], firstPoint));
      parts.neighbours.push_back(moved(one->neighbours()[t], firstTriangle));
      parts.breaks.push_back(one->breakBits(t));
    }
  }
  return std::make_shared<ground::Tin>(std::move(parts));
}

}  // namespace inselberg::works
