// Method. In a cell (a triangle of one ground over one of the other) the difference D of levels is linear, with
// gradient g. Where D > 0, by the divergence theorem,
//   volume = sum over the sides of the cell of  mean of (D+)^2 x (g x side) / (2 |g|^2)
//   area   = sum over the sides of              mean of  D+    x (g x side) / |g|^2
// with g x side = g.x side.y - g.y side.x: both fields vanish along D = 0, so the zero line is not needed. Where D
// keeps its sign over the cell (or is nearly level, where |g| is no good to divide by), the side adds the triangle
// between it and a corner c instead. So every piece into which the edges of each ground are cut by the other adds its
// share to the cells on its two sides, and no cell is ever put together.
//
// Where the levels of two triangles do not even meet, the cell adds the integrals of both levels instead: those of the
// other ground's level are the same on both sides of a piece, and those of its own add up along the edge, so that
// between two such cells nothing is left to add for a piece.
//
// Pieces are found by walking each edge through the other ground, from the triangle of its first end, and from every
// border of the other ground that it enters by. Sides are decided exactly, with the outer ground moved by an
// infinitesimal (1, e), e infinitely less than 1: then no corner lies on a line, and all decisions agree with each
// other. The sums use the places as they are; a crossing is computed alike whichever edge is walked, and both levels
// there along the two edges that cross. Triangles that both grounds share are left out of both first. Triangles without
// plan area (walls) and slivers, across which planes say nothing of a level, count as borders.
#include "quantity/edge_sum.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <memory>

#include "base/parallel.h"
#include "ground/tin_index.h"
#include "plane/exact_side.h"
#include "quantity/cell.h"

namespace inselberg::quantity {
namespace {

using ground::Index;
using ground::kNone;
using ground::next;
using ground::Plane;
using ground::Tin;
using ground::Triangle;
using plane::Vec2;
using plane::Vec3;

constexpr std::size_t kChunk = 4096;  // triangles

// A triangle with all that is asked of it, in a line of the processor's cache.
struct alignas(64) Facet {
  Triangle corners, neighbours;
  double east, north;  // its gradient
  float low, high;     // no corner is below or above
  float reach;         // no side is longer
};
static_assert(sizeof(Facet) == 64);

// A ground without the triangles that do not count, laid out for walking.
class Layer {
 public:
  // `out`: per triangle, whether it is left out.
  Layer(const Tin& tin, std::vector<std::uint8_t> out, bool moved, const Progress& progress)
      : tin_(tin),
        points_(tin.points().data()),
        out_(std::move(out)),
        size_(tin.triangles().size()),
        facets_(std::make_unique_for_overwrite<Facet[]>(size_)),
        tie_(moved ? 1 : -1) {
    parallelChunks(size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t t = begin; t < end; ++t) prepare(static_cast<Index>(t));
    });
    parallelChunks(size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t t = begin; t < end; ++t) {
        if (out_[t]) continue;
        for (Index& n : facets_[t].neighbours) {
          if (n != kNone && out_[n]) n = kNone;
        }
      }
    });
    if (std::ranges::find(out_, 1) != out_.end()) {
      used_.resize(tin.points().size(), 0);
      for (Index t = 0; t < size(); ++t) {
        for (int k = 0; k < 3 && !out_[t]; ++k) used_[facets_[t].corners[k]] = 1;
      }
    }
    tin.index();
  }

  const Tin& tin() const { return tin_; }
  std::size_t size() const { return size_; }
  bool isOut(Index t) const { return out_[t] != 0; }
  bool isUsed(Index point) const { return used_.empty() || used_[point] != 0; }
  const Facet& facet(Index t) const { return facets_[t]; }
  const Vec3& point(Index i) const { return points_[i]; }
  Vec2 plan(Index point) const { return points_[point].plan(); }

  const Vec3& origin(const Facet& f) const { return points_[f.corners[0]]; }
  // The level of a triangle's plane at p.
  double plane(const Facet& f, Vec2 p) const {
    const Vec3& c = origin(f);
    return c.z + f.east * (p.x - c.x) + f.north * (p.y - c.y);
  }
  // The same for a place in the triangle: rounding must not take it far beyond the corners'.
  double level(const Facet& f, Vec2 p) const { return std::clamp(plane(f, p), double{f.low}, double{f.high}); }

  // The side of this ground's line a->b on which a corner of the other lies; never 0.
  double sideOfOther(Vec2 a, Vec2 b, Vec2 other, double& rounded) const {
    const double side = plane::exactSide(a, b, other, rounded);
    if (side != 0) return side;
    const Vec2 d = b - a;
    return tie_ * (d.y != 0 ? d.y : -d.x);
  }
  double sideOfOther(Vec2 a, Vec2 b, Vec2 other) const {
    double rounded = 0;
    return sideOfOther(a, b, other, rounded);
  }

  // The triangle that holds a corner of the other ground, kNone where none does. `near`: one that may be near.
  Index locate(Vec2 other, Index near) const {
    if (!tin_.bounds().contains(other)) return kNone;
    constexpr int kSteps = 40;
    Index t = near, from = kNone;
    for (int step = 0; t != kNone && step < kSteps; ++step) {
      const int k = wayOut(t, other, from);
      if (k < 0) return t;
      from = t;
      t = facets_[t].neighbours[k];
    }
    Index found = kNone;
    tin_.index().near(other, [&](Index c) {
      if (found == kNone && !out_[c] && wayOut(c, other, kNone) < 0) found = c;
    });
    return found;
  }

 private:
  void prepare(Index t) {
    if (out_[t]) return;
    const auto c = tin_.corners(t);
    double longest2 = 0;
    for (int k = 0; k < 3; ++k) {
      const Vec2 d = c[next(k)].plan() - c[k].plan();
      longest2 = std::max(longest2, plane::dot(d, d));
    }
    const double longest = std::sqrt(longest2);
    // Whatever planeOf() takes for a sliver is out.
    double twice = 0;
    if (!(plane::exactSide(c[0].plan(), c[1].plan(), c[2].plan(), twice) > 0) ||
        !(twice > 3 * ground::kSliver * longest)) {
      out_[t] = 1;
      return;
    }
    Facet& f = facets_[t];
    f.corners = tin_.triangles()[t], f.neighbours = tin_.neighbours()[t];
    const Vec2 gradient = ground::planeOf(c).gradient;
    f.east = gradient.x, f.north = gradient.y;
    f.low = widened(std::min({c[0].z, c[1].z, c[2].z}), -1);
    f.high = widened(std::max({c[0].z, c[1].z, c[2].z}), 1);
    f.reach = widened(longest, 1);
  }
  // Surely not above (-1), or not below (1).
  static float widened(double value, float way) {
    constexpr float kUlp = 1.2e-7F;
    const float near = static_cast<float>(value);
    return near + way * (kUlp * std::abs(near) + std::numeric_limits<float>::min());
  }

  // A side of t that the place lies beyond, but not the one to `from`; -1: none.
  int wayOut(Index t, Vec2 other, Index from) const {
    const Facet& facet = facets_[t];
    for (int k = 0; k < 3; ++k) {
      if (from != kNone && facet.neighbours[k] == from) continue;
      if (sideOfOther(plan(facet.corners[next(k)]), plan(facet.corners[ground::before(k)]), other) < 0) return k;
    }
    return -1;
  }

  const Tin& tin_;
  const Vec3* points_;
  std::vector<std::uint8_t> out_, used_;  // used: empty when all points are
  std::size_t size_;
  std::unique_ptr<Facet[]> facets_;  // left as it comes where a triangle is left out
  double tie_;
};

// Where an edge of one ground comes in over a border of the other.
struct Entry {
  std::size_t edge;  // three times its triangle, and the side
  Index triangle;    // of the other ground
  int side;
  auto operator<=>(const Entry&) const = default;
};

// Side k of triangle t is walked for it, not for its neighbour.
bool owns(const Layer& layer, Index t, int k) {
  const Index n = layer.facet(t).neighbours[k];
  return n == kNone || t < n;
}

// An edge of a ground, from its corner of the lower number.
struct Edge {
  Index first, last;  // corners
  Vec2 a, b;
  Index left, right;  // its triangles; kNone: none
};
Edge edgeOf(const Layer& layer, Index t, int k) {
  const Index u = layer.facet(t).corners[next(k)], v = layer.facet(t).corners[ground::before(k)];
  const Index n = layer.facet(t).neighbours[k];
  if (u < v) return {u, v, layer.plan(u), layer.plan(v), t, n};
  return {v, u, layer.plan(v), layer.plan(u), n, t};
}

std::vector<Entry> entriesInto(const Layer& other, const Layer& walked, const Progress& progress) {
  const auto parts =
      parallelMap<std::vector<Entry>>(other.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
        std::vector<Entry> found;
        for (Index o = static_cast<Index>(begin); o < end; ++o) {
          for (int side = 0; side < 3 && !other.isOut(o); ++side) {
            if (other.facet(o).neighbours[side] != kNone) continue;
            const std::array<Vec2, 2> border{other.plan(other.facet(o).corners[next(side)]),
                                             other.plan(other.facet(o).corners[ground::before(side)])};
            walked.tin().index().touching(border, 0, [&](Index t) {
              for (int k = 0; k < 3 && !walked.isOut(t); ++k) {
                if (!owns(walked, t, k)) continue;
                const Edge e = edgeOf(walked, t, k);
                if (other.sideOfOther(border[0], border[1], e.a) > 0 ||
                    other.sideOfOther(border[0], border[1], e.b) < 0)
                  continue;
                if ((walked.sideOfOther(e.a, e.b, border[0]) > 0) == (walked.sideOfOther(e.a, e.b, border[1]) > 0))
                  continue;
                found.push_back({std::size_t{3} * t + k, o, side});
              }
            });
          }
        }
        return found;
      });
  std::vector<Entry> all;
  for (const auto& part : parts) all.insert(all.end(), part.begin(), part.end());
  std::ranges::sort(all);
  all.erase(std::ranges::unique(all).begin(), all.end());
  return all;
}

// The triangle of the other ground that holds each of this ground's corners.
std::vector<Index> locateCorners(const Layer& layer, const Layer& in, const Progress& progress) {
  std::vector<Index> places(layer.tin().points().size(), kNone);
  parallelChunks(places.size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index last = kNone;
    for (std::size_t i = begin; i < end; ++i) {
      if (!layer.isUsed(static_cast<Index>(i))) continue;
      places[i] = in.locate(layer.plan(static_cast<Index>(i)), last);
      if (places[i] != kNone) last = places[i];
    }
  });
  return places;
}

// What pieces say, below ([0]) and above ([1]) the zero line: volumes with the sign of D.
struct Shares {
  std::array<double, 2> volume{}, area{};
  double untouched = 0;
  void add(const Shares& s) {
    for (std::size_t i = 0; i < 2; ++i) volume[i] += s.volume[i], area[i] += s.area[i];
    untouched += s.untouched;
  }
};

struct Part {
  LevelSums sums;
  std::uint64_t crossings = 0;  // a checksum
  bool sound = true;
};

// A number for an edge; that of a crossing is the product of both.
std::uint64_t keyOf(Index a, Index b) {
  constexpr std::uint64_t kMixed = 0x9E3779B97F4A7C15ULL;
  const std::uint64_t key = (a + kMixed) * (b + kMixed);
  return key ^ key >> 32;
}

// Walks the edges of one ground through the other and adds up what their pieces say. `ofOuter`: whether the walked one
// is the outer, which is thought moved.
template <bool ofOuter>
class Walk {
 public:
  Walk(const Layer& walked, const Layer& other, Vec2 middle, double datum)
      : walked_(walked), other_(other), middle_(middle), datum_(datum) {}

  // `start`, `end`: the other's triangles that hold the edge's ends, or kNone; and the borders it comes in by.
  void add(const Edge& edge, Index start, Index end, std::span<const Entry> entries) {
    if (start == kNone && entries.empty()) return;
    edge_ = edge;
    end_ = end;
    way_ = edge.b - edge.a;
    if (ofOuter) perLength2_ = 1 / plane::dot(way_, way_);
    atA_ = walked_.point(edge.first).z, rise_ = walked_.point(edge.last).z - atA_;
    left_ = sideOf(edge.left), right_ = sideOf(edge.right);
    lower_ = std::max(left_.low, right_.low), higher_ = std::min(left_.high, right_.high);
    key_ = keyOf(edge.first, edge.last);
    if (start != kNone) fromEnd(start);
    for (const Entry& entry : entries) fromBorder(entry);
  }
  // Between a few edges: hands over what was added.
  void settle(Part& part) {
    part.sums.add({shares_.volume[1], -shares_.volume[0], shares_.area[1], shares_.area[0], shares_.untouched});
    shares_ = {};
  }
  void finish(Part& part) {
    settle(part);
    part.sums.highest.take(highest_), part.sums.lowest.take(lowest_);
    part.crossings = crossings_;
    part.sound = sound_;
  }

 private:
  // A side of the other ground's triangle: its ends on the right and the left of the edge, and turn(edge, end).
  struct Crossed {
    Index right, left;
    double r, l;
  };
  // A place on the edge, with the levels of the walked ground and of the other.
  struct Spot {
    Vec2 at;
    double own, other;
    double difference() const { return kSign * (own - other); }
  };
  // How the levels of a cell's triangles lie: apart, outer above (1) or below (-1), or not apart (0).
  using Apart = int;

  // A triangle beside the edge.
  struct Side {
    Vec2 gradient{};
    double reach2 = 0;
    Vec3 origin{};
    float low = std::numeric_limits<float>::infinity(), high = -low;  // where there is none it overlaps with nothing
    bool isThere() const { return low <= high; }
  };
  Side sideOf(Index t) const {
    if (t == kNone) return {};
    const Facet& f = walked_.facet(t);
    return {{f.east, f.north}, double{f.reach} * f.reach, walked_.origin(f), f.low, f.high};
  }

  void fromEnd(Index o) {
    const Facet& node = other_.facet(o);
    std::array<double, 3> side{}, rounded{};
    for (int k = 0; k < 3; ++k)
      side[k] = walked_.sideOfOther(edge_.a, edge_.b, other_.plan(node.corners[k]), rounded[k]);
    for (int k = 0; k < 3; ++k) {
      if (side[next(k)] < 0 && side[ground::before(k)] > 0)
        return go(
            {edge_.a, atA_, other_.level(node, edge_.a)}, o, k,
            {node.corners[next(k)], node.corners[ground::before(k)], rounded[next(k)], rounded[ground::before(k)]});
    }
    sound_ = false;
  }
  void fromBorder(const Entry& entry) {
    const Facet& node = other_.facet(entry.triangle);
    Crossed at{node.corners[ground::before(entry.side)], node.corners[next(entry.side)], 0, 0};
    at.r = plane::turn(edge_.a, edge_.b, other_.plan(at.right));
    at.l = plane::turn(edge_.a, edge_.b, other_.plan(at.left));
    count(at);
    const Spot p = crossing(at);
    const int k = turnAt(entry.triangle, entry.side, at);
    go(p, entry.triangle, k, at);
  }
  // Having come into triangle o across its side `back`: the side by which the line leaves it.
  int turnAt(Index o, int back, Crossed& at) const {
    const Index corner = other_.facet(o).corners[back];
    double c = 0;
    const bool onLeft = walked_.sideOfOther(edge_.a, edge_.b, other_.plan(corner), c) > 0;
    at.l = onLeft ? c : at.l, at.r = onLeft ? at.r : c;
    at.left = onLeft ? corner : at.left, at.right = onLeft ? at.right : corner;
    return onLeft ? next(back) : ground::before(back);
  }
  void count(const Crossed& at) { crossings_ += key_ * keyOf(at.left, at.right); }

  // From p in triangle o, whose side k, between two corners, the line leaves by.
  void go(Spot p, Index o, int k, Crossed to) {
    Shares shares;
    Run run;
    double dp = p.difference();
    take(dp, p.at);
    for (std::size_t steps = 0; steps <= other_.size(); ++steps) {
      const Facet& other = other_.facet(o);
      const bool ends = o == end_;
      if (!ends) count(to);
      const Spot q = ends ? Spot{edge_.b, atA_ + rise_, other_.level(other, edge_.b)} : crossing(to);
      const double dq = q.difference();
      take(dq, q.at);
      if (lower_ <= other.high && higher_ >= other.low) {
        endRun(run, p);
        piece(left_, 1, other, p, q, dp, dq, shares), piece(right_, -1, other, p, q, dp, dq, shares);
      } else {
        const Apart left = apart(left_, other), right = apart(right_, other), both = left == right ? left : 0;
        if (both != run.apart) endRun(run, p), run = {both, p.at, p.own};
        if (both == 0) mixedPiece(left, right, other, p, q, dp, dq);
      }
      const Index n = other.neighbours[k];
      if (ends || n == kNone) {
        endRun(run, q);
        shares_.add(shares);
        return;
      }
      p = q, dp = dq;
      // The shared side ends, in the neighbour, at the corner on the right.
      const Facet& into = other_.facet(n);
      const int back = int{into.corners[0] == to.right} + 2 * int{into.corners[1] == to.right};
      if (into.neighbours[back] != o) break;
      k = turnAt(n, back, to);
      o = n;
    }
    sound_ = false;
  }

  // Where the edge crosses: along the inner ground's, from its corner of the lower number, by where its ends lie beside
  // the outer's, likewise directed. Levels are those along both edges. Where the two are all but parallel rounding may
  // take the place beyond the outer's ends: its level goes on straight there, as the planes of its triangles do, so
  // that the cells beside it still close.
  Spot crossing(const Crossed& at) const {
    const bool leftFirst = at.left < at.right;
    const Vec3 &from = other_.point(std::min(at.left, at.right)), &to = other_.point(std::max(at.left, at.right));
    const Vec2 other = to.plan() - from.plan();
    if (ofOuter) {
      const double s = fraction(leftFirst ? at.l : at.r, leftFirst ? at.r : at.l);
      const Vec2 p = from.plan() + s * other;
      const double t = plane::dot(p - edge_.a, way_) * perLength2_;
      return {p, atA_ + t * rise_, from.z + s * (to.z - from.z)};
    }
    const double s =
        fraction(plane::turn(from.plan(), to.plan(), edge_.a), plane::turn(from.plan(), to.plan(), edge_.b));
    const Vec2 p = edge_.a + s * way_;
    const double t = plane::dot(p - from.plan(), other) * (1 / plane::dot(other, other));
    return {p, atA_ + s * rise_, from.z + t * (to.z - from.z)};
  }
  static double fraction(double sideOfA, double sideOfB) {
    const double whole = sideOfA - sideOfB;
    return whole != 0 ? std::clamp(sideOfA / whole, 0.0, 1.0) : 0.5;
  }

  Apart apart(const Side& walked, const Facet& other) const {
    return walked.isThere() ? (ofOuter ? 1 : -1) * (int{walked.low > other.high} - int{walked.high < other.low}) : 0;
  }
  void take(double d, Vec2 p) {
    if (d >= highest_.depth && d >= kNoDifference) highest_.take(d, p);
    if (-d >= lowest_.depth && -d >= kNoDifference) lowest_.take(-d, p);
  }

  // Pieces between cells whose triangles lie apart, alike on both sides.
  struct Run {
    Apart apart = 0;
    Vec2 from{};
    double level = 0;
  };
  // What the edge's own ground adds over a run that ends at p.
  void endRun(Run& run, const Spot& p) {
    if (run.apart == 0) return;
    const double own =
        under(left_.origin, run.from, p.at, run.level, p.own) - under(right_.origin, run.from, p.at, run.level, p.own);
    shares_.volume[run.apart > 0] += kSign * own;
    run.apart = 0;
  }
  // The integral of a triangle's level, above the datum, between a corner of it and the piece.
  double under(const Vec3& c, Vec2 p, Vec2 q, double zp, double zq) const {
    return plane::cross(p - c.plan(), q - p) * (c.z + zp + zq - 3 * datum_) / 6;
  }
  // A piece of which one side is missing, or apart otherwise than the other's.
  [[gnu::noinline]] void mixedPiece(Apart left, Apart right, const Facet& other, const Spot& p, const Spot& q,
                                    double dp, double dq) {
    if (left_.isThere() && left == 0) piece(left_, 1, other, p, q, dp, dq, shares_);
    if (right_.isThere() && right == 0) piece(right_, -1, other, p, q, dp, dq, shares_);
    if (left != 0) apartPiece(left, left_, other, p, q);
    if (right != 0) apartPiece(right, right_, other, q, p);
  }
  void apartPiece(Apart apart, const Side& walked, const Facet& other, const Spot& p, const Spot& q) {
    shares_.volume[apart > 0] += kSign * (under(walked.origin, p.at, q.at, p.own, q.own) -
                                          under(other_.origin(other), p.at, q.at, p.other, q.other));
    shares_.area[apart > 0] += plane::cross(p.at - middle_, q.at - p.at) / 2;
  }

  // What the piece from p to q adds to the cell on its left, or on its right (turned: -1).
  [[gnu::always_inline]] void piece(const Side& walked, double turned, const Facet& other, const Spot& p, const Spot& q,
                                    double dp, double dq, Shares& shares) {
    const Vec2 theirs{other.east, other.north};
    const Vec2 g = kSign * (walked.gradient - theirs);
    const double g2 = plane::dot(g, g);
    // A corner of the inner ground's triangle, and D there.
    const Vec3 &origin = other_.origin(other), &c = ofOuter ? origin : walked.origin;
    const Plane outer = ofOuter ? Plane{walked.origin.plan(), walked.origin.z, walked.gradient}
                                : Plane{origin.plan(), origin.z, theirs};
    const double dc = outer(c.plan()) - c.z;
    const double spread2 = g2 * (ofOuter ? double{other.reach} * other.reach : walked.reach2);
    const Vec2 along = q.at - p.at;
    if (dc * dc > spread2 || spread2 < kLevel * kLevel) {
      const double twice = turned * plane::cross(p.at - c.plan(), along);
      shares.volume[dc > 0] += twice * (dc + dp + dq) / 6;
      (std::abs(dc) < kNoDifference ? shares.untouched : shares.area[dc > 0]) += twice / 2;
      return;
    }
    const double share = turned * plane::cross(g, along) / g2;
    const bool tilted = spread2 > kTilted * kTilted;
    if (!tilted) nearlyLevelArea(share, turned * plane::cross(p.at - c.plan(), along), dp, dq, shares);
    const double ofArea = tilted ? share : 0;
    if (dp * dq >= 0) {
      const bool above = dp + dq > 0;
      shares.volume[above] += share * (dp * dp + dp * dq + dq * dq) / 6;
      shares.area[above] += ofArea * (dp + dq) / 2;
    } else {
      const double high = std::max(dp, dq), low = std::min(dp, dq), per = 1 / (high - low);
      shares.volume[1] += share * per * high * high * high / 6;
      shares.volume[0] -= share * per * low * low * low / 6;
      shares.area[1] += ofArea * per * high * high / 2;
      shares.area[0] -= ofArea * per * low * low / 2;
    }
  }
  // The areas where D hardly changes: less what is no difference; and of the rounding that division by a small |g|
  // makes large, nothing gets into their sum.
  [[gnu::noinline]] static void nearlyLevelArea(double share, double twice, double dp, double dq, Shares& shares) {
    const double up = share * meanAbove(dp - kNoDifference, dq - kNoDifference);
    const double down = -share * meanAbove(-dp - kNoDifference, -dq - kNoDifference);
    shares.area[1] += up, shares.area[0] += down;
    shares.untouched += twice / 2 - up - down;
  }
  // The mean of D where D > 0, of a D that goes straight from p to q.
  static double meanAbove(double p, double q) {
    if (p >= 0 && q >= 0) return (p + q) / 2;
    if (p <= 0 && q <= 0) return 0;
    const double high = std::max(p, q);
    return high * high / (2 * (high - std::min(p, q)));
  }

  // Of a difference: the walked ground's level less the other's, or the opposite.
  static constexpr double kSign = ofOuter ? 1 : -1;
  static constexpr double kLevel = 1e-11;  // m; a difference of levels that changes by less over a cell is level
  // m; where it changes by more, the strip along zero that is too thin to be a difference is not told apart.
  static constexpr double kTilted = 1e-3;

  const Layer& walked_;
  const Layer& other_;
  Vec2 middle_;
  double datum_;
  Edge edge_{};
  Vec2 way_{};
  double perLength2_ = 0, atA_ = 0, rise_ = 0;
  Index end_ = kNone;
  Side left_, right_;
  float lower_ = 0, higher_ = 0;
  std::uint64_t key_ = 0, crossings_ = 0;
  Shares shares_;
  Deepest highest_, lowest_;
  bool sound_ = true;
};

template <bool ofOuter>
Part walkEdges(const Layer& walked, const Layer& other, const Progress& progress) {
  const std::vector<Entry> entries = entriesInto(other, walked, progress);
  const std::vector<Index> places = locateCorners(walked, other, progress);
  const auto parts = parallelMap<Part>(walked.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
    Part part;
    const Tin& outer = ofOuter ? walked.tin() : other.tin();
    Walk<ofOuter> walk(walked, other, outer.bounds().centre(), outer.minLevel());
    auto entry = std::ranges::lower_bound(entries, std::size_t{3} * begin, {}, &Entry::edge);
    for (Index t = static_cast<Index>(begin); t < end; ++t) {
      if (walked.isOut(t)) continue;
      for (int k = 0; k < 3; ++k) {
        if (!owns(walked, t, k)) continue;
        const std::size_t key = std::size_t{3} * t + k;
        while (entry != entries.end() && entry->edge < key) ++entry;
        auto last = entry;
        while (last != entries.end() && last->edge == key) ++last;
        const Edge edge = edgeOf(walked, t, k);
        walk.add(edge, places[edge.first], places[edge.last], {entry, last});
      }
      if (t % 16 == 0) walk.settle(part);
    }
    walk.finish(part);
    return part;
  });
  Part all;
  for (const Part& part : parts) {
    all.sums.add(part.sums);
    all.crossings += part.crossings;
    all.sound = all.sound && part.sound;
  }
  return all;
}

}  // namespace

// Grounds made from each other have the triangles they share in the same order: the one after the last that was found
// comes first.
std::vector<Index> sharedTriangles(const Tin& a, const Tin& b, const Progress& progress) {
  std::vector<Index> same(a.triangles().size(), kNone);
  const auto look = [&](Index t, Index guess) {
    const auto corners = a.corners(t);
    for (const Index u : {guess, t}) {
      if (u < b.triangles().size() && samePlan(corners, b.corners(u))) return u;
    }
    const Vec2 middle = (1.0 / 3) * (corners[0].plan() + corners[1].plan() + corners[2].plan());
    Index found = kNone;
    b.index().near(middle, [&](Index u) {
      if (found == kNone && samePlan(corners, b.corners(u))) found = u;
    });
    return found;
  };
  // Most grounds share nothing or nearly all: a sample tells whether it is worth looking.
  constexpr std::size_t kSample = 1024;
  const std::size_t step = std::max<std::size_t>(1, same.size() / kSample);
  bool some = false;
  for (std::size_t t = 0; t < same.size() && !some; t += step)
    some = look(static_cast<Index>(t), static_cast<Index>(t)) != kNone;
  if (!some) return same;
  parallelChunks(same.size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index guess = static_cast<Index>(begin);
    for (std::size_t t = begin; t < end; ++t) {
      same[t] = look(static_cast<Index>(t), guess);
      if (same[t] != kNone) guess = same[t] + 1;
    }
  });
  return same;
}

std::optional<LevelSums> sumOverEdges(const Tin& outer, const Tin& inner, const Progress& progress) {
  LevelSums all;
  std::vector<std::uint8_t> outOfOuter(outer.triangles().size(), 0), outOfInner(inner.triangles().size(), 0);
  const std::vector<Index> same = sharedTriangles(outer, inner, progress);
  for (Index t = 0; t < same.size(); ++t) {
    if (same[t] != kNone && !outOfInner[same[t]]) outOfOuter[t] = outOfInner[same[t]] = 1;
  }
  const auto shared = parallelMap<LevelSums>(same.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
    LevelSums sums;
    for (Index t = static_cast<Index>(begin); t < end; ++t) {
      if (!outOfOuter[t]) continue;
      Few few;
      addSamePlan(outer.corners(t), inner.corners(same[t]), few, sums);
      sums.add(few);
    }
    return sums;
  });
  for (const LevelSums& sums : shared) all.add(sums);
  const Layer a(outer, std::move(outOfOuter), true, progress), b(inner, std::move(outOfInner), false, progress);
  const Part of = walkEdges<true>(a, b, progress), back = walkEdges<false>(b, a, progress);
  // Every crossing is come upon from both its edges, or a ground is not sound.
  if (!of.sound || !back.sound || of.crossings != back.crossings) return std::nullopt;
  all.add(of.sums), all.add(back.sums);
  return all;
}

}  // namespace inselberg::quantity
