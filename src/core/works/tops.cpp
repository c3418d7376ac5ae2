#include "works/tops.h"

#include "ground/subset.h"

namespace inselberg::works {

using ground::Index;
using ground::TinPtr;

TinPtr topAndLegsOf(const Placement& placement) {
  return ground::subset(*placement.facets, [&](Index t) { return !isBatter(placement.kinds[t]); });
}

TinPtr topOf(const Shape& shape, const Placement& placement, const ground::Tin& under, const plane::Origin& origin,
             const Progress& progress) {
  const SectionsAlong wall{{0, {}}};
  // With walls instead of sections only the top is left.
  if (const Pad* pad = shape.as<Pad>(); pad && pad->space > 0) {
    Pad bare = *pad;
    bare.section = wall, bare.edges.clear();
    return topAndLegsOf(place(bare, under, origin, progress));
  }
  if (const Ramp* ramp = shape.as<Ramp>()) {
    Ramp bare = *ramp;
    bare.left = bare.right = wall;
    return topAndLegsOf(place(bare, under, origin, progress));
  }
  if (shape.as<Pad>() || shape.as<Inlay>())
    return ground::subset(*placement.facets, [&](Index t) { return placement.kinds[t] == FacetKind::surface; });
  return topAndLegsOf(placement);
}

CornerStyle cornersOf(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].name == "corners") return static_cast<CornerStyle>(std::get<std::size_t>(shape.get(i)));
  }
  return CornerStyle::round;
}

}  // namespace inselberg::works
