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
// other. The sums use the places as they are; a crossing is computed alike whichever edge is walked. Triangles that
// both grounds share are left out of both first. Triangles without plan area (walls) count as borders.
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
  bool steep;
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
  Vec2 plan(Index point) const { return points_[point].plan(); }

  const Vec3& origin(const Facet& f) const { return points_[f.corners[0]]; }
  // The level of a triangle's plane at p.
  double plane(const Facet& f, Vec2 p) const {
    const Vec3& c = origin(f);
    return c.z + f.east * (p.x - c.x) + f.north * (p.y - c.y);
  }
  // The same for a place in the triangle: rounding must not take it far beyond the corners'.
  double level(const Facet& f, Vec2 p) const {
    const double z = plane(f, p);
    return f.steep ? std::clamp(z, double{f.low}, double{f.high}) : z;
  }

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
  static constexpr double kSteep = 1e6;  // of a squared gradient

  void prepare(Index t) {
    if (out_[t]) return;
    const auto c = tin_.corners(t);
    double rounded = 0;
    if (!(plane::exactSide(c[0].plan(), c[1].plan(), c[2].plan(), rounded) > 0)) {
      out_[t] = 1;
      return;
    }
    double longest2 = 0;
    for (int k = 0; k < 3; ++k) {
      const Vec2 d = c[next(k)].plan() - c[k].plan();
      longest2 = std::max(longest2, plane::dot(d, d));
    }
    constexpr float kFar = std::numeric_limits<float>::infinity();
    Facet& f = facets_[t];
    f.corners = tin_.triangles()[t], f.neighbours = tin_.neighbours()[t];
    const Vec2 gradient = ground::planeOf(c).gradient;
    f.east = gradient.x, f.north = gradient.y;
    f.low = std::nextafter(static_cast<float>(std::min({c[0].z, c[1].z, c[2].z})), -kFar);
    f.high = std::nextafter(static_cast<float>(std::max({c[0].z, c[1].z, c[2].z})), kFar);
    f.reach = std::nextafter(static_cast<float>(std::sqrt(longest2)), kFar);
    f.steep = plane::dot(gradient, gradient) > kSteep;
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
};

struct Part {
  LevelSums sums;
  std::uint64_t crossings = 0;  // a checksum
  bool sound = true;
};

// Walks the edges of one ground through the other and adds up what their pieces say. `ofOuter`: whether the walked one
// is the outer, which is thought moved.
template <bool ofOuter>
class Walk {
 public:
  Walk(const Layer& walked, const Layer& other, Vec2 middle, double datum)
      : walked_(walked), other_(other), middle_(middle), datum_(datum) {}

  // `start`, `end`: the other's triangles that hold the edge's ends, or kNone; and the borders it comes in by.
  void add(const Edge& edge, Index start, Index end, std::span<const Entry> entries) {
    edge_ = edge;
    end_ = end;
    left_ = edge.left == kNone ? nullptr : &walked_.facet(edge.left);
    right_ = edge.right == kNone ? nullptr : &walked_.facet(edge.right);
    flatter_ = !left_ || (right_ && steepness(*right_) < steepness(*left_)) ? right_ : left_;
    key_ = mixed(std::uint64_t{edge.first} << 32 | edge.last);
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
  // How the levels of a cell's triangles lie: apart, outer above (1) or below (-1), or not apart (0).
  using Apart = int;

  static double steepness(const Facet& f) { return f.east * f.east + f.north * f.north; }

  void fromEnd(Index o) {
    const Facet& node = other_.facet(o);
    std::array<double, 3> side{}, rounded{};
    for (int k = 0; k < 3; ++k)
      side[k] = walked_.sideOfOther(edge_.a, edge_.b, other_.plan(node.corners[k]), rounded[k]);
    for (int k = 0; k < 3; ++k) {
      if (side[next(k)] < 0 && side[ground::before(k)] > 0)
        return go(
            edge_.a, o, k,
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
    const Vec2 p = crossing(at);
    const int k = turnAt(entry.triangle, entry.side, at);
    go(p, entry.triangle, k, at);
  }
  // Having come into triangle o across its side `back`: the side by which the line leaves it.
  int turnAt(Index o, int back, Crossed& at) const {
    const Index corner = other_.facet(o).corners[back];
    double c = 0;
    const bool onLeft = walked_.sideOfOther(edge_.a, edge_.b, other_.plan(corner), c) > 0;
    (onLeft ? at.l : at.r) = c;
    (onLeft ? at.left : at.right) = corner;
    return onLeft ? next(back) : ground::before(back);
  }
  void count(const Crossed& at) {
    const std::uint64_t other = mixed(std::uint64_t{std::min(at.left, at.right)} << 32 | std::max(at.left, at.right));
    crossings_ += ofOuter ? mixed(key_ + 3 * other) : mixed(other + 3 * key_);
  }
  static std::uint64_t mixed(std::uint64_t key) {
    key *= 0x9E3779B97F4A7C15ULL;
    return key ^ key >> 32;
  }

  // From p in triangle o, whose side k, between two corners, the line leaves by. Where the levels lie apart nothing
  // has to be known of a piece, not even where it ends.
  void go(Vec2 p, Index o, int k, Crossed to) {
    double zp = walked_.level(*flatter_, p);
    bool known = true;  // p and zp
    Crossed from = to;
    const auto know = [&] {
      if (!known) p = crossing(from), zp = walked_.level(*flatter_, p);
      known = true;
    };
    run_ = {0, p, zp};
    for (std::size_t steps = 0; steps <= other_.size(); ++steps) {
      const Facet& other = other_.facet(o);
      const bool ends = o == end_;
      if (!ends) count(to);
      const Apart left = left_ ? apart(*left_, other) : 0, right = right_ ? apart(*right_, other) : 0;
      const Apart both = left == right ? left : 0;
      if (both == 0 || both != run_.apart || mayBeDeepest(other)) {
        know();
        if (both != run_.apart) endRun(p, zp), run_ = {both, p, zp};
        const Vec2 q = ends ? edge_.b : crossing(to);
        const double zq = walked_.level(*flatter_, q);
        piece(p, q, zp, zq, o, left, right);
        p = q, zp = zq;
      } else {
        known = false;
      }
      from = to;
      const Index n = other_.facet(o).neighbours[k];
      if (ends || n == kNone) {
        if (ends && !known) p = edge_.b, zp = walked_.level(*flatter_, p), known = true;
        if (run_.apart != 0) know(), endRun(p, zp);
        return;
      }
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
  // the outer's, likewise directed.
  Vec2 crossing(const Crossed& at) const {
    const bool leftFirst = at.left < at.right;
    const Vec2 from = other_.plan(std::min(at.left, at.right)), to = other_.plan(std::max(at.left, at.right));
    if (ofOuter) return along(from, to, leftFirst ? at.l : at.r, leftFirst ? at.r : at.l);
    return along(edge_.a, edge_.b, plane::turn(from, to, edge_.a), plane::turn(from, to, edge_.b));
  }
  static Vec2 along(Vec2 a, Vec2 b, double sideOfA, double sideOfB) {
    const double whole = sideOfA - sideOfB;
    const double t = whole != 0 ? std::clamp(sideOfA / whole, 0.0, 1.0) : 0.5;
    return a + t * (b - a);
  }

  Apart apart(const Facet& walked, const Facet& other) const {
    return (ofOuter ? 1 : -1) * (int{walked.low > other.high} - int{walked.high < other.low});
  }

  // The part of the edge from p to q, at levels zp and zq, which lies in triangle o of the other ground.
  [[gnu::always_inline]] void piece(Vec2 p, Vec2 q, double zp, double zq, Index o, Apart left, Apart right) {
    const Facet& other = other_.facet(o);
    const double op = other_.level(other, p), oq = other_.level(other, q);
    const double dp = kSign * (zp - op), dq = kSign * (zq - oq);
    take(dp, p), take(dq, q);
    if (left == right && left != 0) return;
    if (left_ && left == 0) side(*left_, other, p, q, dp, dq);
    if (right_ && right == 0) side(*right_, other, q, p, dq, dp);
    if (left != 0) apartSide(left, *left_, other, p, q, zp, zq, op, oq);
    if (right != 0) apartSide(right, *right_, other, q, p, zq, zp, oq, op);
  }
  bool mayBeDeepest(const Facet& other) const {
    const double above = std::max(left_->high, right_->high) - other.low;
    const double below = other.high - std::min(left_->low, right_->low);
    return (kSign > 0 ? above : below) >= highest_.depth || (kSign > 0 ? below : above) >= lowest_.depth;
  }
  void take(double d, Vec2 p) {
    if (d >= highest_.depth && d >= kNoDifference) highest_.take(d, p);
    if (-d >= lowest_.depth && -d >= kNoDifference) lowest_.take(-d, p);
  }

  // Pieces between cells whose triangles lie apart, alike on both sides, from run_.from to p: what the edge's own
  // ground adds.
  void endRun(Vec2 p, double zp) {
    if (run_.apart == 0) return;
    const double own =
        under(walked_, *left_, run_.from, p, run_.level, zp) - under(walked_, *right_, run_.from, p, run_.level, zp);
    shares_.volume[run_.apart > 0] += kSign * own;
  }
  // The integral of a triangle's level, above the datum, between a corner of it and the piece.
  double under(const Layer& layer, const Facet& f, Vec2 p, Vec2 q, double zp, double zq) const {
    const Vec3& c = layer.origin(f);
    return plane::cross(p - c.plan(), q - p) * (c.z + zp + zq - 3 * datum_) / 6;
  }
  [[gnu::noinline]] void apartSide(Apart apart, const Facet& walked, const Facet& other, Vec2 p, Vec2 q, double zp,
                                   double zq, double op, double oq) {
    shares_.volume[apart > 0] += kSign * (under(walked_, walked, p, q, zp, zq) - under(other_, other, p, q, op, oq));
    shares_.area[apart > 0] += plane::cross(p - middle_, q - p) / 2;
  }

  // What the piece adds to the cell on its left.
  [[gnu::always_inline]] void side(const Facet& walked, const Facet& other, Vec2 p, Vec2 q, double dp, double dq) {
    const Facet& inner = ofOuter ? other : walked;
    const Vec2 c = (ofOuter ? other_ : walked_).origin(inner).plan();
    const double reach2 = double{inner.reach} * inner.reach;
    const Vec2 g{kSign * (walked.east - other.east), kSign * (walked.north - other.north)};
    const double g2 = plane::dot(g, g);
    const double dc = kSign * (walked_.plane(walked, c) - other_.plane(other, c));
    const Vec2 along = q - p;
    if (dc * dc > g2 * reach2 || g2 * reach2 < kLevel * kLevel) {
      const double twice = plane::cross(p - c, along);
      shares_.volume[dc > 0] += twice * (dc + dp + dq) / 6;
      (std::abs(dc) < kNoDifference ? shares_.untouched : shares_.area[dc > 0]) += twice / 2;
      return;
    }
    const double share = plane::cross(g, along) / g2;
    const bool tilted = g2 * reach2 > kTilted * kTilted;
    if (!tilted) nearlyLevelArea(share, plane::cross(p - c, along), dp, dq);
    const double ofArea = tilted ? share : 0;
    if (dp * dq >= 0) {
      const bool above = dp + dq > 0;
      shares_.volume[above] += share * (dp * dp + dp * dq + dq * dq) / 6;
      shares_.area[above] += ofArea * (dp + dq) / 2;
    } else {
      const double high = std::max(dp, dq), low = std::min(dp, dq), per = 1 / (high - low);
      shares_.volume[1] += share * per * high * high * high / 6;
      shares_.volume[0] -= share * per * low * low * low / 6;
      shares_.area[1] += ofArea * per * high * high / 2;
      shares_.area[0] -= ofArea * per * low * low / 2;
    }
  }
  // The areas where D hardly changes: less what is no difference; and of the rounding that division by a small |g|
  // makes large, nothing gets into their sum.
  [[gnu::noinline]] void nearlyLevelArea(double share, double twice, double dp, double dq) {
    const double up = share * meanAbove(dp - kNoDifference, dq - kNoDifference);
    const double down = -share * meanAbove(-dp - kNoDifference, -dq - kNoDifference);
    shares_.area[1] += up, shares_.area[0] += down;
    shares_.untouched += twice / 2 - up - down;
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
  Index end_ = kNone;
  const Facet *left_ = nullptr, *right_ = nullptr, *flatter_ = nullptr;
  std::uint64_t key_ = 0, crossings_ = 0;
  struct {
    Apart apart = 0;
    Vec2 from{};
    double level = 0;
  } run_;
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
