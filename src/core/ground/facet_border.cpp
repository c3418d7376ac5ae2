#include "ground/facet_border.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <span>

#include "base/parallel.h"
#include "ground/recut.h"

namespace inselberg::ground {
namespace {

// Which vertices lines with a tag lead to from each.
class Neighbours {
 public:
  Neighbours(const plane::Linework& work, std::uint32_t tag) : starts_(work.points().size() + 1, 0) {
    for (const auto& s : work.segments()) {
      if (s.tags & tag) ++starts_[s.a], ++starts_[s.b];
    }
    std::uint32_t sum = 0;
    for (std::uint32_t& start : starts_) sum += start, start = sum;
    to_.resize(sum);
    for (const auto& s : work.segments()) {
      if (s.tags & tag) to_[--starts_[s.a]] = s.b, to_[--starts_[s.b]] = s.a;
    }
  }
  std::span<const std::uint32_t> of(std::uint32_t vertex) const {
    return {to_.data() + starts_[vertex], to_.data() + starts_[vertex + 1]};
  }

 private:
  std::vector<std::uint32_t> starts_, to_;
};

// A facet, or a part of it, and the points that its sides have between their ends, in their order.
struct Part {
  Triangle corner;
  std::array<std::span<const Index>, 3> between;
  std::uint8_t breaks;
};

// Adds a part as triangles from the corner that faces the first split side, as long as there is one.
template <class Add>
void addSplit(const Part& part, Add&& add) {
  int k = 0;
  while (k < 3 && part.between[k].empty()) ++k;
  if (k == 3) return add(part.corner, part.breaks);
  const int n = next(k), b = before(k);
  const auto bit = [&](int side, int to) { return static_cast<std::uint8_t>((part.breaks >> side & 1) << to); };
  const std::span<const Index> between = part.between[k];
  Index from = part.corner[n];
  for (std::size_t i = 0; i <= between.size(); ++i) {
    const bool first = i == 0, last = i == between.size();
    const Index to = last ? part.corner[b] : between[i];
    Part piece{{part.corner[k], from, to}, {}, bit(k, 0)};
    if (last) piece.between[1] = part.between[n], piece.breaks |= bit(n, 1);
    if (first) piece.between[2] = part.between[b], piece.breaks |= bit(b, 2);
    addSplit(piece, add);
    from = to;
  }
}

}  // namespace

std::vector<FacetSide> borderSides(const Tin& facets) {
  std::vector<FacetSide> sides;
  for (Index t = 0; t < facets.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (facets.neighbours()[t][k] == kNone) sides.push_back({t, k});
    }
  }
  return sides;
}

FacetBorder::FacetBorder(const Tin& facets, std::vector<FacetSide> sides, plane::Linework& work, std::uint32_t tag)
    : facets_(facets), border_(std::move(sides)), tag_(tag) {
  for (const FacetSide& side : border_) {
    const Triangle& c = facets_.triangles()[side.facet];
    const Vertex a = work.addPoint(facets_.plan(c[next(side.side)]));
    const Vertex b = work.addPoint(facets_.plan(c[before(side.side)]));
    work.addSegment(a, b, tag);
    sides_.push_back({a, b, {}});
  }
}

void FacetBorder::follow(const plane::Linework& work) {
  const Neighbours neighbours(work, tag_);
  for (Side& side : sides_) {
    const Vec2 a = work.points()[side.a], way = work.points()[side.b] - a;
    const double length2 = plane::dot(way, way);
    // On to what lies farther along and nearest to the straight line.
    double along = 0;
    for (Vertex at = side.a; at != side.b;) {
      Vertex best = at;
      double farther = 0, least = 4 * kSnap * std::sqrt(length2);
      for (const Vertex to : neighbours.of(at)) {
        const Vec2 d = work.points()[to] - a;
        const double t = plane::dot(way, d), aside = std::abs(plane::cross(way, d));
        if (to != side.b && (t <= along || t >= length2)) continue;
        if (to == side.b || aside < least) best = to, farther = t, least = to == side.b ? -1 : aside;
      }
      if (best == at) break;
      at = best, along = farther;
      if (at != side.b) side.between.emplace_back(at, work.points()[at]);
    }
  }
  std::vector<Edge> all;
  for (const Side& side : sides_) {
    Vertex from = side.a;
    for (const auto& [to, place] : side.between) all.emplace_back(from, to), from = to;
    all.emplace_back(from, side.b);
  }
  std::sort(all.begin(), all.end());
  // Along steps, and facets narrower than what is told apart, sides run both ways.
  std::ranges::copy_if(all, std::back_inserter(ways_), [&](const Edge& e) {
    return !std::binary_search(all.begin(), all.end(), Edge(e.second, e.first));
  });
}

std::vector<char> FacetBorder::inside(const Triangulation& made, const Progress& progress) const {
  // Beside a side of the area its facet's way along it tells; elsewhere the place.
  const auto runs = [&](Index from, Index to) {
    return std::binary_search(ways_.begin(), ways_.end(), Edge(from, to));
  };
  std::vector<char> inside(made.triangles.size(), 0);
  parallelChunks(inside.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index near = kNone;
    for (std::size_t f = begin; f < end; ++f) {
      const Triangle& t = made.triangles[f];
      bool with = false, against = false;
      for (int k = 0; k < 3 && !with; ++k) {
        if (!(made.constrained[f] >> k & 1)) continue;
        const Index from = t[next(k)], to = t[before(k)];
        with = runs(from, to), against |= runs(to, from);
      }
      inside[f] = with || (!against && !facets_.empty() &&
                           facets_.locate(centroid(made, static_cast<Index>(f)), near) != kNone);
    }
  });
  return inside;
}

void FacetBorder::eachFacet(const PointAt& pointAt, const LevelOn& levelOn, const Add& add) const {
  std::vector<Index> points(facets_.points().size(), kNone);  // what they have become
  for (std::size_t i = 0; i < sides_.size(); ++i) {
    const Triangle& c = facets_.triangles()[border_[i].facet];
    for (const auto& [corner, vertex] :
         {std::pair(c[next(border_[i].side)], sides_[i].a), {c[before(border_[i].side)], sides_[i].b}})
      points[corner] = pointAt(vertex, facets_.points()[corner]);
  }
  std::size_t side = 0;  // of the border
  std::array<std::vector<Index>, 3> between;
  for (Index t = 0; t < facets_.triangles().size(); ++t) {
    Part part{{}, {}, facets_.breakBits(t)};
    for (int k = 0; k < 3; ++k) {
      const Index p = facets_.triangles()[t][k];
      if (points[p] == kNone) points[p] = pointAt(std::nullopt, facets_.points()[p]);
      part.corner[k] = points[p];
    }
    for (; side < sides_.size() && border_[side].facet == t; ++side) {
      std::vector<Index>& on = between[border_[side].side];
      on.clear();
      for (const auto& [vertex, p] : sides_[side].between)
        on.push_back(pointAt(vertex, {p.x, p.y, levelOn(border_[side], p)}));
      part.between[border_[side].side] = on;
    }
    addSplit(part, [&](const Triangle& corners, std::uint8_t breaks) { add(t, corners, breaks); });
  }
}

}  // namespace inselberg::ground
