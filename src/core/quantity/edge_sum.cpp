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
// Crossings are found by walking each edge of the outer ground through the inner, from the triangle of its first end,
// and from every border of the inner that it enters by. So the pieces of an outer edge come in order. Those of an inner
// edge do not, and are not put together either: each lies in one triangle of the outer, between two crossings with its
// sides, and what it says is the difference of two integrals along the line from a foot, which the edge and the
// triangle decide, to either crossing. Each crossing adds its own. An end of the edge that the triangle holds is its
// foot.
//
// Sides are decided exactly (layer.h), and the sums use the places as they are. The levels at a crossing are those
// along the two edges that cross. Triangles that both grounds share are left out of both first; what is not laid out in
// a layer counts as a border.
#include "quantity/edge_sum.h"

#include <algorithm>
#include <array>
#include <limits>

#include "base/parallel.h"
#include "ground/tin_index.h"
#include "quantity/cell.h"
#include "quantity/layer.h"

namespace inselberg::quantity {
namespace {

using ground::before;
using ground::kNone;
using ground::next;
using ground::Tin;

constexpr std::size_t kChunk = 4096;  // triangles

// Where an edge of the outer ground comes in over a border of the inner.
struct Entry {
  std::size_t edge;  // three times its triangle, and the side
  Index triangle;    // of the inner ground
  int side;
  auto operator<=>(const Entry&) const = default;
};

std::vector<Entry> entriesInto(const Layer& inner, const Layer& outer, const Progress& progress) {
  const auto parts =
      parallelMap<std::vector<Entry>>(inner.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
        std::vector<Entry> found;
        for (Index o = static_cast<Index>(begin); o < end; ++o) {
          for (int side = 0; side < 3 && !inner.isOut(o); ++side) {
            if (inner.facet(o).neighbours[side] != kNone) continue;
            const std::array<Vec2, 2> border{inner.plan(inner.facet(o).corners[next(side)]),
                                             inner.plan(inner.facet(o).corners[before(side)])};
            outer.tin().index().touching(border, 0, [&](Index t) {
              for (int k = 0; k < 3 && !outer.isOut(t); ++k) {
                if (!outer.owns(t, k)) continue;
                const Edge e = outer.edgeOf(t, k);
                if (inner.sideOfOther(border[0], border[1], e.a) > 0 ||
                    inner.sideOfOther(border[0], border[1], e.b) < 0)
                  continue;
                if ((outer.sideOfOther(e.a, e.b, border[0]) > 0) == (outer.sideOfOther(e.a, e.b, border[1]) > 0))
                  continue;
                found.push_back({std::size_t{3} * t + static_cast<std::size_t>(k), o, side});
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

// Finds the triangle of the other ground that holds a corner of this one; kNone: none, or the corner is not used.
// `near`: one found just before, or kNone; it is kept up.
Index locate(const Layer& layer, Index corner, const Layer& in, Index& near) {
  if (!layer.isUsed(corner)) return kNone;
  const Index found = in.locate(layer.plan(corner), near);
  if (found != kNone) near = found;
  return found;
}

std::vector<Index> locateCorners(const Layer& layer, const Layer& in, const Progress& progress) {
  std::vector<Index> places(layer.tin().points().size());
  parallelChunks(places.size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index near = kNone;
    for (std::size_t i = begin; i < end; ++i) places[i] = locate(layer, static_cast<Index>(i), in, near);
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
  double least = 0, most = 0;  // of D and 0
  std::uint64_t chain = 0;     // 0 in the end: see mark()
  bool sound = true;
};

// A number for an edge of the inner ground, and one for a triangle of the outer. An edge passes from triangle to
// triangle; added up over its crossings the change of mark() is what it is from the first corner's to the last's.
std::uint64_t keyOf(Index a, Index b) {
  constexpr std::uint64_t kMixed = 0x9E3779B97F4A7C15ULL;
  const std::uint64_t key = (a + kMixed) * (b + kMixed);
  return key ^ key >> 32;
}
std::uint64_t mark(Index triangle) {
  return triangle == kNone ? 0 : keyOf(triangle, triangle);
}

// The means of D and of D^2 / 2, below and above zero, over pieces along which D goes straight from p to q, each times
// a factor. They wait until there are many, as the processor then works on several at once.
class Means {
 public:
  void add(double p, double q, double factor, Shares& shares) {
    p_[n_] = p, q_[n_] = q, factor_[n_] = factor;
    if (++n_ == kMost) settle(shares);
  }
  void settle(Shares& shares) {
    for (; n_ % kLanes != 0; ++n_) p_[n_] = q_[n_] = factor_[n_] = 0;
    Lanes up{}, down{}, above{}, below{};
    for (std::size_t first = 0; first < n_; first += kLanes) {
      for (std::size_t i = 0; i < kLanes; ++i) {
        const double p = p_[first + i], q = q_[first + i], factor = factor_[first + i];
        const double pUp = std::max(p, 0.0), qUp = std::max(q, 0.0), pDown = std::min(p, 0.0), qDown = std::min(q, 0.0);
        const double high = std::max(pUp, qUp), low = std::min(pDown, qDown);
        // The part of the piece that lies above.
        const double upper = high / std::max(high - low, std::numeric_limits<double>::min()), lower = 1 - upper;
        up[i] += factor * upper * (pUp * pUp + pUp * qUp + qUp * qUp);
        above[i] += factor * upper * (pUp + qUp);
        down[i] += factor * lower * (pDown * pDown + pDown * qDown + qDown * qDown);
        below[i] += factor * lower * (pDown + qDown);
      }
    }
    n_ = 0;
    for (std::size_t i = 0; i < kLanes; ++i) {
      shares.volume[1] += up[i] / 6, shares.volume[0] += down[i] / 6;
      shares.area[1] += above[i] / 2, shares.area[0] += below[i] / 2;
    }
  }

 private:
  static constexpr std::size_t kLanes = 4, kMost = 64;
  using Lanes = std::array<double, kLanes>;
  std::array<double, kMost> p_, q_, factor_;
  std::size_t n_ = 0;
};

// Adds up what the pieces of edges say.
class Pieces {
 public:
  // `places`: the outer's triangles that hold the inner's corners, or kNone.
  Pieces(const Layer& outer, const Layer& inner, std::span<const Index> places)
      : outer_(outer),
        inner_(inner),
        places_(places),
        middle_(outer.tin().bounds().centre()),
        datum_(outer.tin().minLevel()) {}

  // The pieces of an edge of the outer ground, and its crossings. `start`, `end`: the inner's triangles that hold its
  // ends, or kNone; and the borders it comes in by.
  void addOuter(const Edge& edge, Index start, Index end, std::span<const Entry> entries) {
    if (start == kNone && entries.empty()) {
      sound_ = sound_ && end == kNone;
      return;
    }
    edge_ = edge;
    end_ = end;
    ended_ = false;
    way_ = edge.b - edge.a;
    perLength2_ = 1 / plane::dot(way_, way_);
    atA_ = outer_.point(edge.first).z, rise_ = outer_.point(edge.last).z - atA_;
    left_ = faceOf(edge.left), right_ = faceOf(edge.right);
    lower_ = std::max(left_.low, right_.low), higher_ = std::min(left_.high, right_.high);
    crossed_ = 0;
    if (start != kNone) fromEnd(start);
    for (const Entry& entry : entries) fromBorder(entry);
    chain_ += crossed_ * (mark(edge.right) - mark(edge.left));
    sound_ = sound_ && ended_ == (end != kNone);
  }
  // What the sides of a triangle of the inner ground add beside their crossings.
  void addInner(Index triangle) {
    const Facet& inner = inner_.facet(triangle);
    for (int k = 0; k < 3; ++k) {
      const Index a = inner.corners[next(k)], b = inner.corners[before(k)];
      const Index from = places_[a], to = places_[b];
      if (from == to) {
        if (from != kNone) addWithin(inner, a, b, from);
        continue;
      }
      if (inner_.owns(triangle, k)) chain_ += keyOf(a, b) * (a < b ? mark(from) - mark(to) : mark(to) - mark(from));
      // Sides beside the corner that a triangle's integrals begin at have none.
      const Index last = a < b ? to : from;
      if (k == 0 && last != kNone) addOwn(apart(outer_.facet(last), inner), 1, inner, spotAt(a), spotAt(b));
    }
  }
  // A corner of the inner ground that a triangle of the outer holds.
  void addCorner(Index corner) {
    Spot spot = spotAt(corner);
    spot.outer = outer_.level(outer_.facet(places_[corner]), spot.at);
    take(spot);
  }
  // Between a few edges: hands over what was added.
  void settle(Part& part) {
    means_.settle(shares_);
    part.sums.add({shares_.volume[1], -shares_.volume[0], shares_.area[1], shares_.area[0], shares_.untouched});
    shares_ = {};
  }
  void finish(Part& part) {
    settle(part);
    part.sums.highest.take(highest_), part.sums.lowest.take(lowest_);
    part.least = least_, part.most = most_;
    part.chain = chain_;
    part.sound = sound_;
  }

 private:
  // A side of an inner triangle that the edge crosses: its ends on the right ([0]) and the left ([1]) of the edge, and
  // turn(edge, end).
  struct Crossing {
    std::array<Index, 2> ends;
    std::array<double, 2> turns;
    Index first() const { return std::min(ends[0], ends[1]); }
    Index last() const { return std::max(ends[0], ends[1]); }
  };
  // A place on an edge, with the levels of both grounds.
  struct Spot {
    Vec2 at;
    double outer, inner;
    bool isBeyond = false;  // the ends of the outer edge
    double difference() const { return outer - inner; }
  };
  // A piece of a line along which D goes straight from p to q.
  struct Piece {
    Piece(const Spot& a, const Spot& b) : from(a.at), along(b.at - a.at), p(a.difference()), q(b.difference()) {}
    Vec2 from, along;
    double p, q;
  };
  // A triangle of the outer ground.
  struct Face {
    Vec2 gradient{};
    Vec3 origin{};
    float low = std::numeric_limits<float>::infinity(), high = -low;  // where there is none it overlaps with nothing
    double reach2 = 0, range2 = 0;                                    // squares of what it spans in plan and in level
    bool isThere() const { return low <= high; }
    double operator()(Vec2 p) const { return origin.z + plane::dot(gradient, p - origin.plan()); }
  };
  // A triangle of the outer over one of the inner.
  struct Cell {
    enum class Kind : std::uint8_t {
      missing,
      below,  // apart: the outer's corners all below the inner's
      above,
      oneSign,      // D keeps its sign, or is level
      nearlyLevel,  // D is about zero and hardly changes
      tilted
    };
    Kind kind = Kind::missing;
    Vec2 slope{};         // gradient of D by its square
    Vec2 corner{};        // of the inner's triangle
    double atCorner = 0;  // D
    // 1: above, -1: below, 0: neither.
    int apart() const { return int{kind == Kind::above} - int{kind == Kind::below}; }
  };
  // The cells on both sides of the edge, in one triangle of the inner.
  struct Cells {
    Cell left, right;
    const Facet* inner = nullptr;  // none beyond a border
    int apart = 0;                 // both alike, else 0
    bool areTilted = false;        // both
  };

  Face faceOf(Index t) const {
    if (t == kNone) return {};
    const Facet& f = outer_.facet(t);
    const double range = double{f.high} - f.low;
    return {{f.east, f.north}, outer_.origin(f), f.low, f.high, f.reach2, range * range};
  }
  template <class Triangle>
  static int apart(const Triangle& outer, const Facet& inner) {
    return int{outer.low > inner.high} - int{outer.high < inner.low};
  }
  Cell cellOf(const Face& face, const Facet& inner) const {
    Cell cell;
    if (!face.isThere()) return cell;
    const int side = apart(face, inner);
    if (side == 0) {
      meet(face, inner, cell);
    } else {
      cell.kind = side > 0 ? Cell::Kind::above : Cell::Kind::below;
    }
    return cell;
  }
  // A cell whose triangles are not apart.
  [[gnu::always_inline]] void meet(const Face& face, const Facet& inner, Cell& cell) const {
    const Vec3& corner = inner_.origin(inner);
    const Vec2 g = face.gradient - Vec2{inner.east, inner.north};
    const double g2 = plane::dot(g, g), spread2 = g2 * inner.reach2;
    cell.corner = corner.plan();
    cell.atCorner = face(cell.corner) - corner.z;
    const double at2 = cell.atCorner * cell.atCorner;
    if (at2 > kFar * kFar * spread2 || spread2 < kLevel * kLevel) {
      cell.kind = Cell::Kind::oneSign;
      return;
    }
    cell.slope = (1 / g2) * g;
    const bool reachesZero = at2 < 4 * (spread2 + kNoDifference * kNoDifference);
    cell.kind = reachesZero && spread2 < kTilted * kTilted ? Cell::Kind::nearlyLevel : Cell::Kind::tilted;
  }
  void meetBoth(const Facet& inner, Cells& cells) const {
    cells.inner = &inner;
    if (lower_ <= inner.high && higher_ >= inner.low) {
      meet(left_, inner, cells.left), meet(right_, inner, cells.right);
      cells.apart = 0;
      cells.areTilted = cells.left.kind == Cell::Kind::tilted && cells.right.kind == Cell::Kind::tilted;
      return;
    }
    cells.left = cellOf(left_, inner), cells.right = cellOf(right_, inner);
    cells.apart = cells.left.apart() == cells.right.apart() ? cells.left.apart() : 0;
    cells.areTilted = false;
  }

  void fromEnd(Index o) {
    const Facet& node = inner_.facet(o);
    std::array<double, 3> side{}, rounded{};
    for (int k = 0; k < 3; ++k)
      side[k] = outer_.sideOfOther(edge_.a, edge_.b, inner_.plan(node.corners[k]), rounded[k]);
    const auto leaves = [&](int k) { return side[next(k)] < 0 && side[before(k)] > 0; };
    const int k = int{leaves(1)} + 2 * int{leaves(2)}, right = next(k), left = before(k);
    if (!leaves(k)) {
      sound_ = false;
      return;
    }
    const Spot p{edge_.a, atA_, inner_.level(node, edge_.a)};
    take(p);
    meetBoth(node, cells_[0]);
    go(p, o, k, {{node.corners[right], node.corners[left]}, {rounded[right], rounded[left]}});
  }
  void fromBorder(const Entry& entry) {
    const Facet& node = inner_.facet(entry.triangle);
    Crossing at{{node.corners[before(entry.side)], node.corners[next(entry.side)]}, {}};
    for (std::size_t i = 0; i < 2; ++i) at.turns[i] = plane::turn(edge_.a, edge_.b, inner_.plan(at.ends[i]));
    const Spot p = spotOf(at);
    take(p);
    meetBoth(node, cells_[0]);
    count(at);
    cross(at, p, {}, cells_[0]);
    const int k = turnAt(entry.triangle, entry.side, at);
    go(p, entry.triangle, k, at);
  }
  // Having come into triangle o across its side `back`: the side by which the line leaves it.
  int turnAt(Index o, int back, Crossing& at) const {
    const Index corner = inner_.facet(o).corners[back];
    double turn = 0;
    const bool onLeft = outer_.sideOfOther(edge_.a, edge_.b, inner_.plan(corner), turn) > 0;
    at.ends[onLeft] = corner, at.turns[onLeft] = turn;
    return onLeft ? next(back) : before(back);
  }
  void count(const Crossing& at) {
    const std::uint64_t key = keyOf(at.ends[0], at.ends[1]);
    crossed_ += at.ends[1] < at.ends[0] ? key : -key;
  }

  // From p in triangle o with the first of cells_; its side k, between two corners, the line leaves by.
  void go(Spot p, Index o, int k, Crossing to) {
    Run run;
    Cells *now = &cells_[0], *then = &cells_[1];
    for (std::size_t steps = 0; steps <= inner_.size(); ++steps) {
      const Facet& inner = inner_.facet(o);
      const bool ends = o == end_;
      const Spot q = ends ? Spot{edge_.b, atA_ + rise_, inner_.level(inner, edge_.b)} : spotOf(to);
      take(q);
      if (now->apart != run.apart) endRun(run, p), run = {now->apart, p.at, p.outer};
      if (now->apart == 0) addPiece(*now, p, q);
      if (ends) {
        ended_ = true;
        return endRun(run, q);
      }
      count(to);
      const Index n = inner.neighbours[k];
      if (n == kNone) {
        cross(to, q, *now, {});
        return endRun(run, q);
      }
      const Facet& into = inner_.facet(n);
      meetBoth(into, *then);
      if (now->apart == 0 || now->apart != then->apart) cross(to, q, *now, *then);
      // The shared side ends, in the neighbour, at the corner on the right.
      const int back = int{into.corners[0] == to.ends[0]} + 2 * int{into.corners[1] == to.ends[0]};
      if (into.neighbours[back] != o) break;
      k = turnAt(n, back, to);
      o = n, p = q;
      std::swap(now, then);
    }
    sound_ = false;
  }

  // Where the edge crosses: along the inner ground's, by where its ends lie beside the edge. Where the two are all but
  // parallel rounding may take the place beyond the outer's ends: its level goes on straight there, as the planes of
  // its triangles do, so that the cells beside it still close; no depth is taken there.
  Spot spotOf(const Crossing& at) const {
    const Vec3 &left = inner_.point(at.ends[1]), &right = inner_.point(at.ends[0]);
    const double whole = at.turns[1] - at.turns[0];
    const double s = whole != 0 ? std::clamp(at.turns[1] / whole, 0.0, 1.0) : 0.5;
    const Vec2 p = left.plan() + s * (right.plan() - left.plan());
    const double t = plane::dot(p - edge_.a, way_) * perLength2_;
    return {p, atA_ + t * rise_, left.z + s * (right.z - left.z), t < 0 || t > 1};
  }
  // A corner of the inner ground, without the outer's level.
  Spot spotAt(Index corner) const {
    const Vec3& p = inner_.point(corner);
    return {p.plan(), 0, p.z};
  }

  void take(const Spot& spot) {
    if (spot.isBeyond) return;
    const double d = spot.difference();
    least_ = std::min(least_, d), most_ = std::max(most_, d);
    if (d >= highest_.depth && d >= kNoDifference) highest_.take(d, spot.at);
    if (-d >= lowest_.depth && -d >= kNoDifference) lowest_.take(-d, spot.at);
  }

  // Pieces between cells whose triangles lie apart, alike on both sides.
  struct Run {
    int apart = 0;
    Vec2 from{};
    double level = 0;
  };
  // What the edge's own ground adds over a run that ends at p.
  void endRun(const Run& run, const Spot& p) {
    if (run.apart == 0) return;
    shares_.volume[run.apart > 0] += under(left_.origin, run.from, p.at, run.level, p.outer) -
                                     under(right_.origin, run.from, p.at, run.level, p.outer);
  }
  // The integral of a triangle's level, above the datum, between a corner of it and the piece.
  double under(const Vec3& c, Vec2 p, Vec2 q, double zp, double zq) const {
    return plane::cross(p - c.plan(), q - p) * (c.z + zp + zq - 3 * datum_) / 6;
  }

  // A piece of the outer edge.
  void addPiece(const Cells& cells, const Spot& p, const Spot& q) {
    if (cells.areTilted) {
      const Piece piece(p, q);
      return addShare(plane::cross(cells.left.slope - cells.right.slope, piece.along), piece);
    }
    addTo(cells.left, left_, *cells.inner, 1, p, q), addTo(cells.right, right_, *cells.inner, -1, p, q);
  }
  // What a piece whose both ends are known adds to a cell beside it.
  void addTo(const Cell& cell, const Face& face, const Facet& inner, double sign, const Spot& p, const Spot& q) {
    if (cell.apart() == 0) return add(cell, sign, Piece(p, q));
    addOuterLevel(cell.apart(), sign, face, p, q);
    addOwn(cell.apart(), sign, inner, p, q);
  }

  // What a crossing at x, out of some cells into others, says of the pieces of the inner edge that it parts.
  void cross(const Crossing& at, const Spot& x, const Cells& from, const Cells& into) {
    // The inner edge goes from the left to the right, with what is come into on its left.
    if (from.areTilted && into.areTilted) {
      const Piece left(footOf(at, left_, edge_.left), x), right(footOf(at, right_, edge_.right), x);
      addShare(plane::cross(into.left.slope - from.left.slope, left.along), left);
      addShare(-plane::cross(into.right.slope - from.right.slope, right.along), right);
      return;
    }
    if (left_.isThere()) crossOn(at, x, left_, edge_.left, 1, {from.left, from.inner}, {into.left, into.inner});
    if (right_.isThere()) crossOn(at, x, right_, edge_.right, -1, {from.right, from.inner}, {into.right, into.inner});
  }
  struct InnerCell {
    const Cell& cell;
    const Facet* inner;
  };
  // The same for those on one side of the outer edge.
  void crossOn(const Crossing& at, const Spot& x, const Face& face, Index triangle, double sign, InnerCell from,
               InnerCell into) {
    const int apartFrom = from.cell.apart(), apartInto = into.cell.apart();
    const Spot first = spotAt(at.first());
    if (apartInto != 0) addOwn(apartInto, sign, *into.inner, first, x);
    if (apartFrom != 0) addOwn(apartFrom, -sign, *from.inner, first, x);
    if (apartFrom != 0 && apartFrom == apartInto) return;
    const Spot foot = footOf(at, face, triangle);
    const Piece piece(foot, x);
    apartInto == 0 ? add(into.cell, sign, piece) : addOuterLevel(apartInto, sign, face, foot, x);
    apartFrom == 0 ? add(from.cell, -sign, piece) : addOuterLevel(apartFrom, -sign, face, foot, x);
  }
  // Where the pieces of an inner edge are measured from in a triangle of the outer: an end that it holds, else the
  // place on the line that is nearest to a corner of it, by its own measure: along a steep triangle its span in level
  // counts, so that D stays of the size that it has in the triangle.
  [[gnu::always_inline]] Spot footOf(const Crossing& at, const Face& face, Index triangle) const {
    const Vec3 &first = inner_.point(at.first()), &last = inner_.point(at.last());
    const Vec2 line = last.plan() - first.plan(), to = face.origin.plan() - first.plan();
    const double rise = plane::dot(face.gradient, line), riseTo = plane::dot(face.gradient, to);
    double t = (plane::dot(to, line) * face.range2 + riseTo * rise * face.reach2) /
               (plane::dot(line, line) * face.range2 + rise * rise * face.reach2);
    t = places_[at.last()] == triangle ? 1 : t;
    t = places_[at.first()] == triangle ? 0 : t;
    const Vec2 foot = first.plan() + t * line;
    return {foot, face(foot), first.z + t * (last.z - first.z)};
  }
  // A side of an inner triangle that lies in one of the outer.
  void addWithin(const Facet& inner, Index a, Index b, Index outer) {
    const Face face = faceOf(outer);
    Spot p = spotAt(a), q = spotAt(b);
    p.outer = face(p.at), q.outer = face(q.at);
    addTo(cellOf(face, inner), face, inner, 1, p, q);
  }

  // In a cell that is apart: the integrals of the outer's level, and of the inner's. Those of the inner's along an
  // inner edge begin at its first corner, in all triangles alike.
  void addOuterLevel(int apart, double sign, const Face& face, const Spot& p, const Spot& q) {
    shares_.volume[apart > 0] += sign * under(face.origin, p.at, q.at, p.outer, q.outer);
    shares_.area[apart > 0] += sign * plane::cross(p.at - middle_, q.at - p.at) / 2;
  }
  void addOwn(int apart, double sign, const Facet& inner, const Spot& p, const Spot& q) {
    if (apart != 0) shares_.volume[apart > 0] -= sign * under(inner_.origin(inner), p.at, q.at, p.inner, q.inner);
  }
  // What a piece adds to the cell on its left (sign 1), or on its right (-1), that is not apart.
  void add(const Cell& cell, double sign, const Piece& piece) {
    if (cell.kind == Cell::Kind::missing) return;
    if (cell.kind == Cell::Kind::oneSign) {
      const double twice = sign * plane::cross(piece.from - cell.corner, piece.along);
      shares_.volume[cell.atCorner > 0] += twice * (cell.atCorner + piece.p + piece.q) / 6;
      (std::abs(cell.atCorner) < kNoDifference ? shares_.untouched : shares_.area[cell.atCorner > 0]) += twice / 2;
      return;
    }
    const double share = sign * plane::cross(cell.slope, piece.along);
    cell.kind == Cell::Kind::tilted ? addShare(share, piece) : addNearlyLevel(cell, sign, share, piece);
  }
  void addShare(double share, const Piece& piece) { means_.add(piece.p, piece.q, share, shares_); }
  // Of the areas what is no difference is told apart; and of the rounding that division by a small gradient makes
  // large, nothing gets into their sum.
  [[gnu::noinline]] void addNearlyLevel(const Cell& cell, double sign, double share, const Piece& piece) {
    Shares one;
    Means means;
    means.add(piece.p, piece.q, share, one), means.settle(one);
    for (std::size_t i = 0; i < 2; ++i) shares_.volume[i] += one.volume[i];
    const double up = share * meanAbove(piece.p - kNoDifference, piece.q - kNoDifference);
    const double down = -share * meanAbove(-piece.p - kNoDifference, -piece.q - kNoDifference);
    shares_.area[1] += up, shares_.area[0] += down;
    shares_.untouched += sign * plane::cross(piece.from - cell.corner, piece.along) / 2 - up - down;
  }
  // The mean of D where D > 0, of a D that goes straight from p to q.
  static double meanAbove(double p, double q) {
    if (p >= 0 && q >= 0) return (p + q) / 2;
    if (p <= 0 && q <= 0) return 0;
    const double high = std::max(p, q);
    return high * high / (2 * (high - std::min(p, q)));
  }

  static constexpr double kLevel = 1e-11;  // m; a difference of levels that changes by less over a cell is level
  // m; where it changes by more, the strip along zero that is too thin to be a difference is not told apart.
  static constexpr double kTilted = 1e-4;
  // Where D is more times what it changes by, it keeps its sign for sure, and division by the gradient makes rounding
  // as many times larger.
  static constexpr double kFar = 10;

  const Layer& outer_;
  const Layer& inner_;
  std::span<const Index> places_;
  Vec2 middle_;
  double datum_;
  // Of the outer edge that is walked.
  Edge edge_{};
  Vec2 way_{};
  double perLength2_ = 0, atA_ = 0, rise_ = 0;
  Face left_, right_;
  float lower_ = 0, higher_ = 0;  // within, both sides meet what lies between
  std::array<Cells, 2> cells_;    // those it is in, and those it comes into next
  Index end_ = kNone;
  bool ended_ = false;
  std::uint64_t crossed_ = 0;

  std::uint64_t chain_ = 0;
  Shares shares_;
  Means means_;
  Deepest highest_, lowest_;
  double least_ = 0, most_ = 0;
  bool sound_ = true;
};

Part addPieces(const Layer& outer, const Layer& inner, const Progress& progress) {
  const std::vector<Entry> entries = entriesInto(inner, outer, progress);
  const std::vector<Index> in = locateCorners(outer, inner, progress);
  std::vector<Index> places(inner.tin().points().size(), kNone);
  Part all;
  // Calls add(pieces, i, state) for all i below n, in parts; begin(first) makes the state of a part.
  const auto addAll = [&](std::size_t n, auto&& begin, auto&& add) {
    const auto parts = parallelMap<Part>(n, kChunk, progress, [&](std::size_t first, std::size_t last) {
      Part part;
      Pieces pieces(outer, inner, places);
      auto state = begin(first);
      for (Index i = static_cast<Index>(first); i < last; ++i) {
        add(pieces, i, state);
        if (i % 16 == 0) pieces.settle(part);
      }
      pieces.finish(part);
      return part;
    });
    for (const Part& part : parts) {
      all.sums.add(part.sums);
      all.least = std::min(all.least, part.least), all.most = std::max(all.most, part.most);
      all.chain += part.chain;
      all.sound = all.sound && part.sound;
    }
  };
  addAll(
      places.size(), [](std::size_t) { return kNone; },
      [&](Pieces& pieces, Index corner, Index& near) {
        places[corner] = locate(inner, corner, outer, near);
        if (places[corner] != kNone) pieces.addCorner(corner);
      });
  addAll(
      outer.size(), [&](std::size_t t) { return std::ranges::lower_bound(entries, 3 * t, {}, &Entry::edge); },
      [&](Pieces& pieces, Index t, auto& entry) {
        for (int k = 0; k < 3 && !outer.isOut(t); ++k) {
          if (!outer.owns(t, k)) continue;
          const std::size_t key = std::size_t{3} * t + static_cast<std::size_t>(k);
          while (entry != entries.end() && entry->edge < key) ++entry;
          auto last = entry;
          while (last != entries.end() && last->edge == key) ++last;
          const Edge edge = outer.edgeOf(t, k);
          pieces.addOuter(edge, in[edge.first], in[edge.last], {entry, last});
        }
      });
  addAll(
      inner.size(), [](std::size_t) { return 0; },
      [&](Pieces& pieces, Index t, int) {
        if (!inner.isOut(t)) pieces.addInner(t);
      });
  // Where D is nowhere on one side of zero, what pieces from feet beyond their cells leave there is rounding.
  if (all.least == 0) all.sums.down = all.sums.downArea = {};
  if (all.most == 0) all.sums.up = all.sums.upArea = {};
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
  const Part part = addPieces(a, b, progress);
  // Every edge of the inner leads from crossing to crossing, and every one of the outer to its end, or a ground is not
  // sound.
  if (!part.sound || part.chain != 0) return std::nullopt;
  all.add(part.sums);
  return all;
}

}  // namespace inselberg::quantity
