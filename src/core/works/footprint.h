// The plan area that a placement covers, and whether others touch it.
#pragma once

#include <vector>

#include "ground/tin.h"
#include "plane/static_index.h"

namespace inselberg::works {

class Footprint {
 public:
  explicit Footprint(ground::TinPtr facets);

  const ground::TinPtr& facets() const { return facets_; }
  // Whether the two come within 1 mm of each other in plan, or overlap. A footprint without facets touches nothing.
  bool touches(const Footprint& other) const;

 private:
  bool covers(const Footprint& other) const;

  ground::TinPtr facets_;
  std::vector<plane::Segment2> border_;
  plane::SegmentIndex index_;
};

// The facets of footprints that do not touch each other, as one.
ground::TinPtr merged(const std::vector<ground::TinPtr>& facets);

}  // namespace inselberg::works
