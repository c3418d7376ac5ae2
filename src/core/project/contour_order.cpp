#include "project/contour_order.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/error.h"
#include "base/quantity.h"

namespace inselberg::project {

namespace {

// The sources that other grounds are built from, and this one is not.
std::set<SourceId> ofOthers(const Project& project, GroundId ground) {
  std::set<SourceId> others;
  for (const GroundPtr& g : project.column) {
    if (const auto* base = std::get_if<FromSources>(&g->base); base && g->id != ground)
      others.insert(base->sources.begin(), base->sources.end());
  }
  if (const auto* base = std::get_if<FromSources>(&project.ground(ground)->base)) {
    for (const SourceId id : base->sources) others.erase(id);
  }
  return others;
}

}  // namespace

std::vector<Feature> contoursCrossed(const Project& project, GroundId of, plane::Vec2 from, plane::Vec2 to) {
  const std::set<SourceId> others = ofOthers(project, of);
  plane::Box box;
  box.add(from), box.add(to);
  std::map<Feature, double> first;  // how far along each is crossed first
  for (const SourcePtr& s : project.sources) {
    if (s->hidden || s->locked || others.contains(s->id)) continue;
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

std::optional<std::string> outOfLineText(const Project& project, GroundId of, const ground::Breakline& contour,
                                         double interval, double reach) {
  constexpr std::size_t kPlaces = 9;  // along it, that look about
  if (contour.vertices.empty() || std::isnan(contour.vertices.front().z)) return std::nullopt;
  const std::set<SourceId> others = ofOthers(project, of);
  double nearest = reach;
  std::optional<double> level;
  const std::size_t step = std::max<std::size_t>(1, contour.vertices.size() / kPlaces);
  for (std::size_t i = 0; i < contour.vertices.size(); i += step) {
    const plane::Vec2 p = contour.vertices[i].plan();
    // Ever wider, until one is found that no wider look can better.
    for (double about = std::min(4.0, nearest);; about = std::min(2 * about, nearest)) {
      bool found = false;
      for (const SourcePtr& s : project.sources) {
        if (s->hidden || others.contains(s->id)) continue;
        s->eachNear({p.x - about, p.y - about, p.x + about, p.y + about}, [&](const SourceIndex::Entry& e) {
          if (e.kind != FeatureKind::line) return;
          const ground::Breakline& other = s->data->breaklines[e.index];
          if (!other.contour || std::isnan(other.vertices.front().z)) return;
          const Side side = sideOf(*s->data, e);
          const double away = plane::nearestOnSegment(p, side.a, side.b).distance;
          if (away > nearest) return;
          nearest = away, level = other.vertices.front().z, found = true;
        });
      }
      if (found || about >= nearest) break;
    }
  }
  const double own = contour.vertices.front().z;
  if (!level || std::abs(*level - own) <= 5 * interval + 1e-9) return std::nullopt;
  return "Is " + formatNumber(own, 2) + " right? The contour beside it is at " + formatNumber(*level, 2) +
         ". Undo takes it back; choosing it (E) lets its level be set.";
}

}  // namespace inselberg::project
