#include "project/contour_order.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "base/error.h"
#include "base/quantity.h"

namespace inselberg::project {

std::vector<Feature> contoursCrossed(const Project& project, plane::Vec2 from, plane::Vec2 to) {
  plane::Box box;
  box.add(from), box.add(to);
  std::map<Feature, double> first;  // how far along each is crossed first
  for (const SourcePtr& s : project.sources) {
    if (s->hidden || s->locked) continue;
    s->eachNear(box, [&](const SourceIndex::Entry& e) {
      if (e.kind != FeatureKind::line || !s->data->breaklines[e.index].contour) return;
      const Side side = sideOf(*s->data, e);
      const auto along = plane::crossingAlong(from, to, side.a, side.b);
      if (!along) return;
      const auto [at, isNew] = first.try_emplace({s->id, FeatureKind::line, e.index}, *along);
      if (!isNew) at->second = std::min(at->second, *along);
    });
  }
  std::vector<std::pair<double, Feature>> order;
  for (const auto& [feature, along] : first) order.emplace_back(along, feature);
  std::sort(order.begin(), order.end());
  std::vector<Feature> features;
  for (const auto& [along, feature] : order) features.push_back(feature);
  return features;
}

std::vector<double> levelsInOrder(std::span<const std::optional<double>> known, double interval, bool falling,
                                  std::optional<double> first) {
  std::optional<std::size_t> one, other;  // the first two that are known
  for (std::size_t i = 0; i < known.size(); ++i) {
    if (!known[i]) continue;
    if (!one) {
      one = i;
    } else if (!other) {
      other = i;
    }
  }
  if (!one && !first)
    throw Error("none of these contours has a level", "type the level of the first one that is crossed");
  double step = falling ? -interval : interval;
  if (other) step = *known[*other] < *known[*one] ? -interval : interval;
  const double start = one ? *known[*one] - static_cast<double>(*one) * step : *first;
  std::vector<double> levels;
  for (std::size_t i = 0; i < known.size(); ++i) {
    levels.push_back(start + static_cast<double>(i) * step);
    if (known[i] && std::abs(*known[i] - levels.back()) > 1e-6)
      throw Error(
          fmt::format("the contours at {} and {} are {} apart in this order, which does not fit steps of {:g} m",
                      formatNumber(*known[*one], 2), formatNumber(*known[i], 2), i - *one, interval),
          "look for a level that is mistyped, a contour that is missing, or another interval");
  }
  return levels;
}

}  // namespace inselberg::project
