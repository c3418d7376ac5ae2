#include "works/own_border.h"

#include <algorithm>
#include <array>

#include "base/parallel.h"
#include "ground/recut.h"

namespace inselberg::works {

using ground::Index;
using ground::kNone;
using ground::Triangle;

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
  std::array<Index, 3> corner;
  std::array<std::span<const Index>, 3> between;
  std::uint8_t breaks;
};

// Adds a part as triangles from the corner that faces the first split side, as long as there is one.
template <class Add>
void addSplit(const Part& part, Add&& add) {
  int k = 0;
  while (k < 3 && part.between[k].empty()) ++k;
  if (k == 3) return add(part.corner, part.breaks);
  const int n = ground::next(k), b = ground::before(k);
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

OwnBorder::OwnBorder(const OwnArea& own, plane::Linework& work, std::uint32_t tag) : own_(own), tag_(tag) {
  for (const OwnArea::Side& side : own.border) {
    const auto [from, to] = own.ends(side);
    const Vertex a = work.addPoint(from), b = work.addPoint(to);
    work.addSegment(a, b, tag);
    sides_.push_back({a, b, {}});
  }
}

void OwnBorder::follow(const plane::Linework& work) {
  const Neighbours neighbours(work, tag_);
  for (Side& side : sides_) {
    const Vec2 a = work.points()[side.a], way = work.points()[side.b] - a;
    const double length2 = plane::dot(way, way);
    // On to what lies farther along and nearest to the straight line.
    double along = 0;
    for (Vertex at = side.a; at != side.b;) {
      Vertex best = at;
      double farther = 0, least = 4 * ground::kSnap * std::sqrt(length2);
      for (const Vertex to : neighbours.of(at)) {
        const Vec2 d = work.points()[to] - a;
        const double t = plane::dot(way, d), aside = std::abs(plane::cross(way, d));
        if (to != side.b && (t <= along || t >= length2)) continue;
        if (to == side.b || aside < least) best = to, farther = t, least = to == side.b ? -1 : aside;
      }
      if (best == at) break;
      at = best, along = farther;
      if (at != side.b) side.between.push_back(at);
    }
  }
}

std::vector<char> OwnBorder::inside(const ground::Triangulation& made, const Progress& progress) const {
  // Beside a side of the area its facet's way along it tells; elsewhere the place.
  std::vector<std::uint64_t> ways;
  const auto way = [](Index from, Index to) { return std::uint64_t{from} << 32 | to; };
  for (const Side& side : sides_) {
    Vertex from = side.a;
    for (const Vertex to : side.between) ways.push_back(way(from, to)), from = to;
    ways.push_back(way(from, side.b));
  }
  std::sort(ways.begin(), ways.end());
  const auto runs = [&](Index from, Index to) { return std::binary_search(ways.begin(), ways.end(), way(from, to)); };
  std::vector<char> inside(made.triangles.size(), 0);
  parallelChunks(inside.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index near = kNone;
    for (std::size_t f = begin; f < end; ++f) {
      const Triangle& t = made.triangles[f];
      bool with = false, against = false;
      for (int k = 0; k < 3 && !with; ++k) {
        if (!(made.constrained[f] >> k & 1)) continue;
        const Index from = t[ground::next(k)], to = t[ground::before(k)];
        with = runs(from, to), against |= runs(to, from);
      }
      inside[f] = with || (!against && !own_.tin->empty() &&
                           own_.tin->locate(ground::centroid(made, static_cast<Index>(f)), near) != kNone);
    }
  });
  return inside;
}

void OwnBorder::addFacets(SurfaceMaker& maker, std::vector<FacetKind>& kinds) const {
  if (own_.tin->empty()) return;
  const ground::Tin& tin = *own_.tin;
  std::vector<Index> points(tin.points().size(), kNone);  // those of the surface
  const auto cornerOf = [&](Index facet, int corner) -> Index& { return points[tin.triangles()[facet][corner]]; };
  for (std::size_t i = 0; i < sides_.size(); ++i) {
    const auto [facet, side] = own_.border[i];
    for (const auto& [corner, vertex] :
         {std::pair(ground::next(side), sides_[i].a), {ground::before(side), sides_[i].b}})
      cornerOf(facet, corner) = maker.point(vertex, tin.points()[tin.triangles()[facet][corner]].z);
  }
  std::size_t next = 0;  // side of the border
  std::array<std::vector<Index>, 3> between;
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    Part part{{}, {}, tin.breakBits(t)};
    for (int k = 0; k < 3; ++k) {
      const Index p = tin.triangles()[t][k];
      if (points[p] == kNone) points[p] = maker.point(tin.points()[p]);
      part.corner[k] = points[p];
    }
    for (; next < sides_.size() && own_.border[next].facet == t; ++next) {
      std::vector<Index>& on = between[own_.border[next].side];
      on.clear();
      for (const Vertex v : sides_[next].between) on.push_back(maker.point(v, own_.planes[t](maker.place(v))));
      part.between[own_.border[next].side] = on;
    }
    addSplit(part, [&](const std::array<Index, 3>& corner, std::uint8_t breaks) {
      if (maker.add(corner, breaks)) kinds.push_back(own_.kinds[t]);
    });
  }
}

}  // namespace inselberg::works
