// Pieces that are shared are not looked at. Of a line only the vertices between the first and the last that moved
// count, so that a vertex of a long contour is a small change.
#include "project/source_changes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include "ground/meet.h"
#include "plane/geometry.h"
#include "plane/static_index.h"
#include "project/features.h"

namespace inselberg::project {
namespace {

constexpr std::size_t kMostFeatures = 32, kMostVertices = 2000;
constexpr double kClear = 2e-3;

bool same(const plane::Vec3& a, const plane::Vec3& b) {
  return a.x == b.x && a.y == b.y && a.z == b.z;
}

bool same(const plane::Polygon& a, const plane::Polygon& b) {
  return a.outer == b.outer && a.holes == b.holes;
}

bool sameAll(const std::vector<plane::Polygon>& a, const std::vector<plane::Polygon>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& p, const auto& q) { return same(p, q); });
}

std::vector<plane::Vec3> verticesOf(const ground::Breakline& line) {
  std::vector<plane::Vec3> v = line.vertices;
  if (line.closed && !v.empty()) v.push_back(v.front());
  return v;
}

// The part of a line between what is the same at its ends; nothing where it has vertices without level.
std::optional<ground::ChangedPart> partOf(const ground::Breakline& before, const ground::Breakline& after) {
  std::vector<plane::Vec3> a = verticesOf(before), b = verticesOf(after);
  for (const auto* list : {&a, &b}) {
    if (std::any_of(list->begin(), list->end(), [](const auto& v) { return std::isnan(v.z); })) return std::nullopt;
  }
  std::size_t start = 0, end = 0;  // how many are the same
  while (start < a.size() && start < b.size() && same(a[start], b[start])) ++start;
  while (end < a.size() - std::min(start, a.size()) && end < b.size() - std::min(start, b.size()) &&
         same(a[a.size() - 1 - end], b[b.size() - 1 - end]))
    ++end;
  const auto cut = [&](std::vector<plane::Vec3>& v) {
    v.erase(v.end() - static_cast<std::ptrdiff_t>(end > 0 ? end - 1 : 0), v.end());
    v.erase(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(start > 0 ? start - 1 : 0));
  };
  cut(a), cut(b);
  return ground::ChangedPart{std::move(a), std::move(b), start > 0, end > 0};
}

class Finder {
 public:
  std::optional<SourceChanges> run(std::span<const SourcePtr> before, std::span<const SourcePtr> after) {
    if (before.size() != after.size()) return std::nullopt;
    found_.features.resize(after.size());
    for (std::size_t i = 0; i < after.size(); ++i) {
      if (before[i]->id != after[i]->id || !after[i]->data->modelTriangles.empty()) return std::nullopt;
      if (before[i]->data != after[i]->data && !compare(*before[i]->data, *after[i]->data, found_.features[i]))
        return std::nullopt;
    }
    return std::move(found_);
  }

 private:
  using Features = std::vector<std::pair<FeatureKind, std::size_t>>;

  bool compare(const SourceData& a, const SourceData& b, Features& features) {
    if (!a.modelTriangles.empty() || a.points.size() > b.points.size() || a.breaklines.size() > b.breaklines.size() ||
        !sameAll(a.boundaries, b.boundaries) || !sameAll(a.voids, b.voids))
      return false;
    const auto add = [&](FeatureKind kind, std::size_t i, std::optional<ground::ChangedPart> part) {
      if (!part || features.size() >= kMostFeatures) return few_ = false;
      vertices_ += part->before.size() + part->after.size();
      features.emplace_back(kind, i);
      found_.parts.push_back(std::move(*part));
      return few_ = vertices_ <= kMostVertices;
    };
    b.points.eachUnshared(a.points, [&](std::size_t i) {
      if (!few_ || (i < a.points.size() && same(a.points[i], b.points[i]))) return;
      ground::ChangedPart part{{}, {b.points[i]}, false, false};
      if (i < a.points.size()) part.before.push_back(a.points[i]);
      add(FeatureKind::point, i, std::move(part));
    });
    b.breaklines.eachUnshared(a.breaklines, [&](std::size_t i) {
      if (!few_) return;
      const ground::Breakline none, &was = i < a.breaklines.size() ? a.breaklines[i] : none, &is = b.breaklines[i];
      const bool equal =
          was.closed == is.closed && was.contour == is.contour &&
          std::equal(was.vertices.begin(), was.vertices.end(), is.vertices.begin(), is.vertices.end(),
                     [](const auto& p, const auto& q) { return same(p, q) || (std::isnan(p.z) && std::isnan(q.z)); });
      if (i >= a.breaklines.size() || !equal) add(FeatureKind::line, i, partOf(was, is));
    });
    std::sort(features.begin(), features.end());
    return few_;
  }

  SourceChanges found_;
  std::size_t vertices_ = 0;
  bool few_ = true;
};

class PointsOnLines {
 public:
  PointsOnLines(std::span<const SourcePtr> sources, ground::DuplicateRule rule, SourceChanges& changes)
      : sources_(sources), rule_(rule), changes_(changes) {}

  void run() {
    for (ground::ChangedPart& part : changes_.parts) {
      if (part.before.size() + part.after.size() < 3) continue;  // a point
      part.before = threaded(part.before, part.startStays, part.endStays, false);
      part.after = threaded(part.after, part.startStays, part.endStays, true);
    }
    for (const auto& [key, on] : found_) {
      auto& features = changes_.features[key.first];
      const std::pair feature(FeatureKind::point, key.second);
      features.insert(std::lower_bound(features.begin(), features.end(), feature), feature);
      const plane::Vec3& point = sources_[key.first]->data->points[key.second];
      if (on.was && !on.is) changes_.parts.push_back({{}, {point}, false, false});
      if (on.is && !on.was) changes_.parts.push_back({{point}, {}, false, false});
    }
  }

 private:
  struct On {
    bool was = false, is = false;  // on a part before, after
  };
  struct Between {
    double along;
    plane::Vec3 vertex;
    bool operator<(const Between& other) const { return along < other.along; }
  };

  // The chain with the points it runs through.
  std::vector<plane::Vec3> threaded(const std::vector<plane::Vec3>& chain, bool startStays, bool endStays, bool after) {
    std::vector<plane::Vec3> out;
    for (std::size_t k = 0; k < chain.size(); ++k) {
      const bool last = k + 1 == chain.size();
      const bool stays = (k == 0 && startStays) || (last && endStays);
      const plane::Vec3 a = chain[k], b = last ? a : chain[k + 1];
      plane::Vec3 vertex = a;
      std::vector<Between> between;
      eachPointOn(a.plan(), b.plan(), [&](std::size_t source, std::size_t index, const plane::Vec3& p, double along) {
        const bool atEnd = !last && plane::distance(p.plan(), b.plan()) <= ground::kSamePlan;
        if (atEnd) return;  // comes with the next vertex
        On& on = found_[{source, index}];
        if (plane::distance(p.plan(), a.plan()) > ground::kSamePlan) {
          between.push_back({along, {p.x, p.y, a.z + along * (b.z - a.z)}});
        } else if (stays) {
          return;  // as it was
        } else if (after) {
          vertex = {p.x, p.y, ground::levelBy(rule_, std::array{p.z, a.z})};
        } else {
          vertex = {p.x, p.y, a.z};
        }
        (after ? on.is : on.was) = true;
      });
      out.push_back(vertex);
      std::sort(between.begin(), between.end());
      for (const Between& v : between) out.push_back(v.vertex);
    }
    return out;
  }

  template <class F>
  void eachPointOn(plane::Vec2 a, plane::Vec2 b, F&& f) const {
    plane::Box box;
    box.add(a), box.add(b);
    for (std::size_t i = 0; i < sources_.size(); ++i) {
      const auto& changed = changes_.features[i];
      std::set<std::size_t> seen;  // the same one may come several times
      sources_[i]->eachNear(box.grown(ground::kSamePlan), [&](const SourceIndex::Entry& e) {
        if (e.kind != FeatureKind::point || !seen.insert(e.index).second) return;
        if (std::binary_search(changed.begin(), changed.end(), std::pair(e.kind, std::size_t{e.index}))) return;
        const plane::Vec3& p = sources_[i]->data->points[e.index];
        const auto nearest = plane::nearestOnSegment(p.plan(), a, b);
        if (nearest.distance <= ground::kSamePlan) f(i, std::size_t{e.index}, p, nearest.along);
      });
    }
  }

  std::span<const SourcePtr> sources_;
  const ground::DuplicateRule rule_;
  SourceChanges& changes_;
  std::map<std::pair<std::size_t, std::size_t>, On> found_;  // by source and number of the point
};

}  // namespace

std::optional<SourceChanges> changesBetween(std::span<const SourcePtr> before, std::span<const SourcePtr> after) {
  return Finder().run(before, after);
}

void addPointsOnLines(std::span<const SourcePtr> sources, ground::DuplicateRule rule, SourceChanges& changes) {
  PointsOnLines(sources, rule, changes).run();
}

bool isClear(std::span<const SourcePtr> sources, const SourceChanges& changes, plane::Vec2 a, plane::Vec2 b) {
  plane::Box box;
  box.add(a), box.add(b);
  bool clear = true;
  for (std::size_t i = 0; i < sources.size() && clear; ++i) {
    const auto& changed = changes.features[i];
    sources[i]->eachNear(box.grown(kClear), [&](const SourceIndex::Entry& e) {
      if (!clear || std::binary_search(changed.begin(), changed.end(), std::pair(e.kind, std::size_t{e.index}))) return;
      if (e.kind == FeatureKind::boundary || e.kind == FeatureKind::voids) return;  // cut afterwards
      const Side side = sideOf(*sources[i]->data, e);
      // A point is on the line, and accounted for, or an ordinary one.
      const double least = e.kind == FeatureKind::point ? ground::kSamePlan : kClear;
      if (plane::distanceBetween({a, b}, {side.a, side.b}) < least) clear = false;
    });
  }
  return clear;
}

}  // namespace inselberg::project
