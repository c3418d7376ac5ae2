#include "works/tops.h"

#include "ground/subset.h"

namespace inselberg::works {

using ground::Index;
using ground::TinPtr;

TinPtr topAndLegsOf(const Placement& placement) {
  return ground::subset(*placement.facets, [&](Index t) { return !isBatter(placement.kinds[t]); });
}

TinPtr topAndMarginOf(const Placement& placement) {
  return ground::subset(*placement.facets, [&](Index t) { return isTop(placement.kinds[t]); });
}

TinPtr topOf(const Shape& shape, const Placement& placement) {
  const bool hasTop = shape.as<Pad>() || shape.as<Ramp>() || shape.as<Inlay>();
  return hasTop ? topAndMarginOf(placement) : topAndLegsOf(placement);
}

CornerStyle cornersOf(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].name == "corners") return static_cast<CornerStyle>(std::get<std::size_t>(shape.get(i)));
  }
  return CornerStyle::round;
}

}  // namespace inselberg::works
