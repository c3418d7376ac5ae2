// From the place on, each step leaves the triangle by the side the gradient meets, or follows that side when the
// triangle behind it leads back. Every step lowers the level, or moves on a level side to a point not yet visited, so
// the way ends.
#include "ground/water_path.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace inselberg::ground {
namespace {

constexpr double kFlat = 1e-9;  // a smaller gradient is none

class Walk {
 public:
  Walk(const Tin& tin, const TrianglesAtPoints& at, const Progress& progress)
      : tin_(tin), at_(at), progress_(progress) {}

  WaterPath from(Vec2 start) {
    WaterPath path;
    Index t = tin_.locate(start);
    if (t == kNone) return path;
    Vec2 p = start;
    add(path, {p.x, p.y, *tin_.levelAt(p)});
    std::size_t steps = 0;
    const std::size_t most = 10 * tin_.triangles().size() + 100;
    while (++steps < most) {
      if ((steps & 0xff) == 0) progress_.check();
      const auto corners = tin_.corners(t);
      const Plane plane = planeOf(corners);
      const Vec2 down = -1.0 * plane.gradient;
      if (plane::norm(down) < kFlat) {
        const Index corner = lowestWayOut(t);
        if (corner == kNone) return finish(path, WaterPath::End::hollow);
        add(path, tin_.points()[corner]);
        if (!fromPoint(corner, path, t, p)) return path;
        continue;
      }
      // The side met first, seen from p.
      double best = 1e300;
      int side = -1;
      for (int k = 0; k < 3; ++k) {
        const Vec2 a = corners[static_cast<std::size_t>(next(k))].plan(),
                   b = corners[static_cast<std::size_t>(before(k))].plan();
        const double towards = plane::cross(b - a, down);
        if (!(towards < 0)) continue;  // does not leave by this side
        const double s = std::max(0.0, plane::cross(b - a, a - p) / towards);
        if (s < best) best = s, side = k;
      }
      if (side < 0) return finish(path, WaterPath::End::hollow);
      const Index ia = tin_.triangles()[t][static_cast<std::size_t>(next(side))],
                  ib = tin_.triangles()[t][static_cast<std::size_t>(before(side))];
      const Vec3 &a = tin_.points()[ia], &b = tin_.points()[ib];
      const Vec2 ab = b.plan() - a.plan();
      const double along =
          std::clamp(plane::dot(p + best * down - a.plan(), ab) / std::max(plane::dot(ab, ab), 1e-18), 0.0, 1.0);
      const Vec3 out{a.x + along * ab.x, a.y + along * ab.y, a.z + along * (b.z - a.z)};
      add(path, out);
      p = out.plan();
      if (along < 1e-9 || along > 1 - 1e-9) {
        if (!fromPoint(along < 0.5 ? ia : ib, path, t, p)) return path;
        continue;
      }
      const Index behind = tin_.neighbours()[t][static_cast<std::size_t>(side)];
      if (behind == kNone) return finish(path, WaterPath::End::border);
      const Vec2 onward = -1.0 * planeOf(tin_.corners(behind)).gradient;
      // Into the triangle behind when its own fall leads away from the side, else down along the side.
      if (plane::norm(onward) < kFlat || plane::cross(ab, onward) < 0) {
        t = behind;
        continue;
      }
      const Index lower = a.z <= b.z ? ia : ib;
      if (a.z == b.z) return finish(path, WaterPath::End::hollow);
      add(path, tin_.points()[lower]);
      if (!fromPoint(lower, path, t, p)) return path;
    }
    return finish(path, WaterPath::End::hollow);
  }

 private:
  static void add(WaterPath& path, const Vec3& p) {
    if (path.way.empty() || !(path.way.back() == p)) path.way.push_back(p);
  }
  static WaterPath finish(WaterPath& path, WaterPath::End end) {
    path.end = end;
    return std::move(path);
  }

  std::span<const Index> trianglesAt(Index point) const { return at_.at(point); }

  // Goes on from a point: into the triangle, or along the side, that falls steepest. False when the path has ended
  // there.
  bool fromPoint(Index point, WaterPath& path, Index& t, Vec2& p) {
    while (true) {
      const Vec3 here = tin_.points()[point];
      double steepest = kFlat;
      Index into = kNone, along = kNone;
      bool border = false, off = false;
      for (const Index k : trianglesAt(point)) {
        const Triangle& c = tin_.triangles()[k];
        const int corner = c[0] == point ? 0 : c[1] == point ? 1 : 2;
        const Vec3 &a = tin_.points()[c[static_cast<std::size_t>(next(corner))]],
                   &b = tin_.points()[c[static_cast<std::size_t>(before(corner))]];
        border |= tin_.neighbours()[k][static_cast<std::size_t>(next(corner))] == kNone ||
                  tin_.neighbours()[k][static_cast<std::size_t>(before(corner))] == kNone;
        const Vec2 down = -1.0 * planeOf(tin_.corners(k)).gradient;
        if (plane::cross(a.plan() - here.plan(), down) > 0 && plane::cross(down, b.plan() - here.plan()) > 0 &&
            plane::norm(down) > steepest)
          steepest = plane::norm(down), into = k, along = kNone, off = false;
        for (const auto& [end, index] : {std::pair(a, c[static_cast<std::size_t>(next(corner))]),
                                         std::pair(b, c[static_cast<std::size_t>(before(corner))])}) {
          const double fall = (here.z - end.z) / std::max(plane::distance(here.plan(), end.plan()), 1e-9);
          if (fall <= steepest) continue;
          steepest = fall, along = index, into = kNone;
          // Along the border, but its triangle falls out over it: here the water leaves the ground.
          const int opposite = index == c[static_cast<std::size_t>(next(corner))] ? before(corner) : next(corner);
          const Vec2 side = end.plan() - here.plan();
          const bool left = opposite == before(corner);  // the triangle lies to the left of the way to `end`
          off = tin_.neighbours()[k][static_cast<std::size_t>(opposite)] == kNone &&
                (plane::cross(side, down) < 0) == left;
        }
      }
      if (into != kNone) {
        t = into, p = here.plan();
        return true;
      }
      if (off) {
        path.end = WaterPath::End::border;
        return false;
      }
      if (along == kNone) {
        path.end = border ? WaterPath::End::border : WaterPath::End::hollow;
        return false;
      }
      add(path, tin_.points()[along]);
      point = along;
      progress_.check();
    }
  }

  // Of the level ground around t, the point by which it is left: one with a neighbour below. kNone when there is none.
  Index lowestWayOut(Index start) {
    const double level = tin_.corners(start)[0].z;
    std::set<Index> seen{start};
    std::vector<Index> list{start};
    Index best = kNone;
    double lowest = level;
    for (std::size_t i = 0; i < list.size(); ++i) {
      for (const Index v : tin_.triangles()[list[i]]) {
        for (const Index k : trianglesAt(v)) {
          bool flat = true;
          for (const Index w : tin_.triangles()[k]) {
            const double z = tin_.points()[w].z;
            flat &= std::abs(z - level) < kFlat;
            if (z < lowest - kFlat && std::abs(tin_.points()[v].z - level) < kFlat) lowest = z, best = v;
          }
          if (flat && seen.insert(k).second) list.push_back(k);
        }
      }
    }
    return best;
  }

  const Tin& tin_;
  const TrianglesAtPoints& at_;
  const Progress& progress_;
};

}  // namespace

TrianglesAtPoints::TrianglesAtPoints(const Tin& tin)
    : first_(tin.points().size() + 1, 0), triangles_(3 * tin.triangles().size()) {
  for (const Triangle& c : tin.triangles()) {
    for (const Index v : c) ++first_[v + 1];
  }
  std::partial_sum(first_.begin(), first_.end(), first_.begin());
  std::vector<std::size_t> next(first_.begin(), first_.end() - 1);
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    for (const Index v : tin.triangles()[t]) triangles_[next[v]++] = t;
  }
}

WaterPath WaterWays::from(Vec2 start, const Progress& progress) const {
  return Walk(tin_, at_, progress).from(start);
}

WaterPath waterPath(const Tin& tin, Vec2 start, const Progress& progress) {
  return WaterWays(tin).from(start, progress);
}

}  // namespace inselberg::ground
