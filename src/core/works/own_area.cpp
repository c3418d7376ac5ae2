#include "works/own_area.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "ground/each_side.h"
#include "ground/recut.h"
#include "ground/tin_index.h"
#include "ground/triangulate_faces.h"
#include "plane/inside.h"
#include "plane/linework.h"

namespace inselberg::works {

using ground::Index;
using ground::kNone;
using ground::Triangle;

namespace {

void addSides(plane::Linework& work, const quantity::Convex& shape) {
  for (int i = 0; i < shape.n; ++i) work.addSegment(shape.p[i], shape.p[(i + 1) % shape.n], 0);
}

void addSides(plane::Linework& work, const ground::Tin& tin) {
  ground::eachSide(tin, [&](Index a, Index b) { work.addSegment(tin.plan(a), tin.plan(b), 0); });
}

}  // namespace

std::vector<std::pair<Vec2, Vec2>> outerSides(std::span<const quantity::Convex> shapes) {
  // A shared side is run along both ways.
  constexpr std::uint32_t kUp = 1, kDown = 2;
  plane::Linework work(ground::kSnap);
  for (const quantity::Convex& shape : shapes) {
    for (int i = 0; i < shape.n; ++i) {
      const auto a = work.addPoint(shape.p[i]), b = work.addPoint(shape.p[(i + 1) % shape.n]);
      const Vec2 p = work.points()[a], q = work.points()[b];
      work.addSegment(a, b, p.x < q.x || (p.x == q.x && p.y < q.y) ? kUp : kDown);
    }
  }
  work.node();
  std::vector<std::pair<Vec2, Vec2>> sides;
  for (const auto& s : work.segments()) {
    if (s.tags != (kUp | kDown)) sides.emplace_back(work.points()[s.a], work.points()[s.b]);
  }
  return sides;
}

bool isSliver(const ground::Triangulation& made, Index f) {
  const Triangle& t = made.triangles[f];
  const Vec2 a = made.points[t[0]], b = made.points[t[1]], c = made.points[t[2]];
  const double longest = std::max({plane::distance(a, b), plane::distance(b, c), plane::distance(c, a)});
  return plane::turn(a, b, c) < ground::kSnap * longest;
}

std::vector<char> besideNothing(const ground::Triangulation& made, const std::vector<char>& nothing) {
  std::vector<char> beside(made.triangles.size(), 0);
  std::vector<Index> waiting;
  const auto open = [&](Index f, int k) { return !(made.constrained[f] >> k & 1); };
  for (Index f = 0; f < beside.size(); ++f) {
    for (int k = 0; k < 3 && !beside[f]; ++k) {
      const Index other = made.neighbours[f][k];
      if ((other == kNone || nothing[other]) && open(f, k) && isSliver(made, f)) beside[f] = 1;
    }
    if (beside[f]) waiting.push_back(f);
  }
  while (!waiting.empty()) {
    const Index f = waiting.back();
    waiting.pop_back();
    for (int k = 0; k < 3; ++k) {
      const Index other = made.neighbours[f][k];
      if (other == kNone || beside[other] || !open(f, k) || !isSliver(made, other)) continue;
      beside[other] = 1;
      waiting.push_back(other);
    }
  }
  return beside;
}

void ShapeIndex::add(const quantity::Convex& shape) {
  for (int i = 2; i < shape.n; ++i) {
    if (!(plane::turn(shape.p[0], shape.p[i - 1], shape.p[i]) > 1e-12)) continue;
    const auto first = static_cast<Index>(parts_.points.size());
    for (const Vec2 p : {shape.p[0], shape.p[i - 1], shape.p[i]}) parts_.points.push_back({p.x, p.y, 0});
    parts_.triangles.push_back({first, first + 1, first + 2});
    parts_.neighbours.push_back({kNone, kNone, kNone});
    number_.push_back(count_);
  }
  ++count_;
}

void ShapeIndex::close() {
  tin_ = std::make_shared<ground::Tin>(std::move(parts_));
  tin_->index();  // before many ask for it at once
}

std::optional<std::uint32_t> ShapeIndex::at(Vec2 p) const {
  if (!tin_ || tin_->empty()) return std::nullopt;
  const Index t = tin_->locate(p);
  return t == kNone ? std::nullopt : std::optional(number_[t]);
}

std::vector<std::uint32_t> ShapeIndex::allAt(Vec2 p) const {
  std::vector<std::uint32_t> all;
  if (!tin_ || tin_->empty()) return all;
  tin_->index().near(p, [&](Index t) {
    const Triangle& c = tin_->triangles()[t];
    const Vec2 u = tin_->plan(c[0]), v = tin_->plan(c[1]), w = tin_->plan(c[2]);
    if (plane::turn(u, v, p) >= 0 && plane::turn(v, w, p) >= 0 && plane::turn(w, u, p) >= 0) all.push_back(number_[t]);
  });
  return all;
}

Index SurfaceMaker::point(const Vec3& p) {
  parts_.points.push_back(p), next_.push_back(kNone);
  return static_cast<Index>(next_.size() - 1);
}

Index SurfaceMaker::point(Index vertex, double level) {
  Index* known = &first_[vertex];
  while (*known != kNone && !(std::abs(parts_.points[*known].z - level) < kOnGround)) known = &next_[*known];
  if (*known != kNone) return *known;
  *known = static_cast<Index>(parts_.points.size());
  const Vec2 p = place(vertex);
  return point(Vec3{p.x, p.y, level});
}

bool SurfaceMaker::add(const std::array<Index, 3>& points, std::uint8_t breaks) {
  const auto plan = [&](int k) { return parts_.points[points[k]].plan(); };
  if (points[0] == points[1] || points[1] == points[2] || points[2] == points[0]) return false;
  if (!(plane::turn(plan(0), plan(1), plan(2)) >= 0)) return false;
  parts_.triangles.push_back(points);
  parts_.breaks.push_back(breaks);
  return true;
}

void SurfaceMaker::add(Index face, const ground::Plane& plane, const std::vector<int>& groupOfFace) {
  Triangle t;
  std::uint8_t bits = 0;
  for (int k = 0; k < 3; ++k) {
    const Index v = made_.triangles[face][k];
    t[k] = point(v, plane(place(v)));
    const Index other = made_.neighbours[face][k];
    if (other == kNone || groupOfFace[other] != groupOfFace[face]) bits |= static_cast<std::uint8_t>(1 << k);
  }
  parts_.triangles.push_back(t);
  parts_.breaks.push_back(bits);
}

ground::TinParts SurfaceMaker::finish() {
  return std::move(parts_);
}

OwnArea ownArea(std::span<const Top> tops, std::span<const LegCells> legs, Rule rule, const Progress& progress) {
  plane::Linework work(ground::kSnap);
  std::vector<plane::Inside> inside;
  for (const Top& top : tops) {
    for (std::size_t i = 0; i < top.ring.size(); ++i)
      work.addSegment(top.ring[i], top.ring[(i + 1) % top.ring.size()], 0);
    inside.emplace_back(top.ring);
    if (!top.tin) continue;
    addSides(work, *top.tin);
  }
  std::vector<ShapeIndex> shapes(legs.size());
  for (std::size_t l = 0; l < legs.size(); ++l) {
    for (const Cell& cell : legs[l].cells) {
      shapes[l].add(cell.shape);
      addSides(work, cell.shape);
    }
    shapes[l].close();
  }
  work.nodeCrossings();
  const ground::Triangulation made = ground::triangulateFaces(work, {}, progress);

  const Index n = static_cast<Index>(made.triangles.size());
  std::vector<int> group(n, -1);
  std::vector<ground::Plane> planes(n);
  const auto toLegs = [&](Index f, Vec2 c) {
    for (std::size_t l = 0; l < legs.size() && group[f] < 0; ++l) {
      if (const auto cell = shapes[l].at(c))
        group[f] = static_cast<int>(tops.size() + l), planes[f] = legs[l].cells[*cell].plane;
    }
  };
  // `near`: where the face before was found in each top.
  const auto toTops = [&](Index f, Vec2 c, std::vector<Index>& near) {
    for (std::size_t i = 0; i < tops.size() && group[f] < 0; ++i) {
      if (tops[i].tin) {
        const Index t = tops[i].tin->locate(c, near[i]);
        if (t == kNone) continue;
        group[f] = static_cast<int>(i), planes[f] = ground::planeOf(tops[i].tin->corners(t));
      } else if (inside[i](c)) {
        group[f] = static_cast<int>(i), planes[f] = tops[i].plane;
      }
    }
  };
  parallelChunks(n, 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    std::vector<Index> near(tops.size(), kNone);
    for (Index f = static_cast<Index>(begin); f < end; ++f) {
      const Vec2 c = ground::centroid(made, f);
      if (rule == Rule::legs) toLegs(f, c);
      toTops(f, c, near);
      toLegs(f, c);
    }
  });
  std::vector<char> nothing(n);
  for (Index f = 0; f < n; ++f) nothing[f] = group[f] < 0;
  const std::vector<char> beside = besideNothing(made, nothing);
  for (Index f = 0; f < n; ++f) {
    int& g = group[f];
    if (beside[f]) g = -1;
    if (g < 0) continue;
    const auto number = static_cast<std::size_t>(g);
    g = static_cast<int>(number < tops.size() ? FacetKind::surface : legs[number - tops.size()].kind);
  }
  OwnArea area;
  SurfaceMaker maker(made);
  for (Index f = 0; f < n; ++f) {
    if (group[f] < 0) continue;
    for (int k = 0; k < 3; ++k) {
      const Index other = made.neighbours[f][k];
      if (other == kNone || group[other] < 0) area.border.push_back({static_cast<Index>(area.kinds.size()), k});
    }
    maker.add(f, planes[f], group);
    area.kinds.push_back(static_cast<FacetKind>(group[f]));
    area.planes.push_back(planes[f]);
  }
  area.tin = std::make_shared<ground::Tin>(maker.finish());
  return area;
}

}  // namespace inselberg::works
