#include "works/parting.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <numeric>

#include "base/parallel.h"
#include "plane/static_index.h"

namespace inselberg::works {
namespace {

using plane::cross;
using plane::dot;
using quantity::Convex;

constexpr double kEqual = 1e-9;     // heights this near are equal: neither governs
constexpr double kLittle = 1e-9;    // m²: shapes this small do not count
constexpr std::size_t kChunk = 16;  // ribbons that one core looks at in a go

// Keeps the part where `higher` lies above `lower`.
void clipAbove(Convex& shape, const ground::Plane& higher, const ground::Plane& lower) {
  std::array<double, Convex::kMost> d;
  for (int i = 0; i < shape.n; ++i) d[i] = higher(shape.p[i]) - lower(shape.p[i]) - kEqual;
  Convex out;
  for (int i = 0, j = shape.n - 1; i < shape.n; j = i++) {
    if ((d[i] > 0) != (d[j] > 0)) out.add(shape.p[j] + (d[j] / (d[j] - d[i])) * (shape.p[i] - shape.p[j]));
    if (d[i] > 0) out.add(shape.p[i]);
  }
  shape = out;
}

Convex domainOf(const Ribbon& r) {
  Convex shape;
  shape.add(r.a);
  shape.add(r.atA(r.railA.size() - 1));
  shape.add(r.atB(r.railB.size() - 1));
  if (!(r.a == r.b)) shape.add(r.b);
  return shape;
}

// All of a shape lies to the right of a ray, or on it.
bool allRight(const Convex& shape, Vec2 a, Vec2 direction) {
  for (int i = 0; i < shape.n; ++i) {
    if (cross(direction, shape.p[i] - a) > 1e-9) return false;
  }
  return true;
}

// Whether a ribbon, once it lies below another, stays so: going outwards it leaves the place only where it ends itself,
// or where the other does.
bool staysBelow(const Ribbon& own, const Ribbon& other, const Convex& above) {
  const Vec2 ray = own.ua + own.ub;
  for (int i = 0; i < above.n; ++i) {
    const Vec2 p = above.p[i], q = above.p[(i + 1) % above.n], side = q - p;
    const Vec2 out = plane::rightOf(side);
    if (dot(out, ray) <= 1e-6 * plane::norm(side) * plane::norm(ray)) continue;
    const Vec2 middle = 0.5 * (p + q);
    if (!own.atEnd(middle) && (other.cut || !other.atEnd(middle))) return false;
  }
  return true;
}

double distanceToFoot(Vec2 p, const Ribbon& r) {
  return plane::nearestOnSegment(p, r.a, r.b).distance;
}

}  // namespace

void Ribbon::endAt(double depth) {
  for (Rail* rail : {&railA, &railB}) {
    if (rail->back().depth <= depth) continue;
    const double height = heightAt(*rail, depth);
    for (RailPoint& p : *rail) {
      if (p.depth > depth) p = {depth, height};
    }
  }
}

void Ribbon::endWhereRaysMeet() {
  const double length = plane::distance(a, b);
  if (length == 0) return;
  const double closing = dot(ua - ub, (1 / length) * (b - a));
  if (closing > 0) endAt((1 - 1e-6) * length / closing);
}

double Ribbon::along(Vec2 p) const {
  const double t = depth(p);
  const Vec2 from = a + t * ua, across = (b + t * ub) - from;
  const double length2 = dot(across, across);
  return length2 > 0 ? std::clamp(dot(p - from, across) / length2, 0.0, 1.0) : 0.5;
}

bool Ribbon::atEnd(Vec2 p) const {
  const double s = along(p);
  return depth(p) > 0.999 * (railA.back().depth + s * (railB.back().depth - railA.back().depth));
}

namespace {

// Corners in one place are one: a side between them would have no direction to cut by.
Convex withoutDoubles(const Convex& shape) {
  Convex made;
  for (int i = 0; i < shape.n; ++i) {
    if (made.n > 0 && plane::distance(made.p[made.n - 1], shape.p[i]) < 1e-9) continue;
    if (i + 1 == shape.n && plane::distance(made.p[0], shape.p[i]) < 1e-9) continue;
    made.add(shape.p[i]);
  }
  return made;
}

void addPiece(std::vector<Piece>& pieces, const Ribbon& r, const Convex& all, const ground::Plane& plane) {
  const Convex shape = withoutDoubles(all);
  if (shape.n < 3 || !(quantity::area(shape) > 0)) return;
  Piece piece{shape, plane, quantity::boxOf(shape), 1e300, -1e300, 1e300};
  for (int i = 0; i < shape.n; ++i) {
    const double z = plane(shape.p[i]);
    piece.lowest = std::min(piece.lowest, z), piece.highest = std::max(piece.highest, z);
    piece.nearest = std::min(piece.nearest, r.depth(shape.p[i]));
  }
  pieces.push_back(piece);
}

}  // namespace

std::vector<Piece> piecesOf(const Ribbon& r, std::size_t k) {
  std::vector<Vec3> corners;
  const auto add = [&](Vec2 p, double z) {
    if (corners.empty() ||
        (plane::distance(corners.back().plan(), p) > 1e-10 && plane::distance(corners[0].plan(), p) > 1e-10))
      corners.push_back({p.x, p.y, z});
  };
  add(r.atA(k), r.railA[k].height), add(r.atA(k + 1), r.railA[k + 1].height);
  add(r.atB(k + 1), r.railB[k + 1].height), add(r.atB(k), r.railB[k].height);
  std::vector<Piece> pieces;
  const auto make = [&](std::initializer_list<int> which, const ground::Plane& plane) {
    Convex shape;
    for (const int i : which) shape.add(corners[i].plan());
    addPiece(pieces, r, shape, plane);
  };
  const auto through = [&](int i, int j, int l) { return ground::planeOf({corners[i], corners[j], corners[l]}); };
  if (corners.size() == 3) make({0, 1, 2}, through(0, 1, 2));
  if (corners.size() < 4) return pieces;
  // Through the longer of the two lines out, so that it is well known.
  const bool first =
      plane::distance(corners[0].plan(), corners[1].plan()) > plane::distance(corners[2].plan(), corners[3].plan());
  const ground::Plane plane = first ? through(0, 1, 3) : through(2, 3, 0);
  double off = 0;
  for (const Vec3& c : corners) off = std::max(off, std::abs(plane(c.plan()) - c.z));
  if (off < 1e-7) {
    make({0, 1, 2, 3}, plane);
  } else {
    make({0, 1, 2}, through(0, 1, 2));
    make({0, 2, 3}, through(0, 2, 3));
  }
  return pieces;
}

Convex overlapOf(const Convex& a, const Convex& b) {
  Convex shape = a;
  for (int i = 0; i < b.n && shape.n >= 3; ++i) quantity::clipLeft(shape, b.p[i], b.p[(i + 1) % b.n]);
  return shape;
}

namespace {

// Whether going out on the own one the way from the other's foot grows by no more than the own does: rays that lie off
// square, at a mitre, may run away from it.
bool drawsAwayNoFaster(const Ribbon& own, const Ribbon& other) {
  return std::max(dot(own.ua, other.out), dot(own.ub, other.out)) < 1 + 1e-6;
}

}  // namespace

bool endsAt(const Ribbon& own, const Ribbon& other) {
  constexpr double kSame = 1e-9;
  if (!own.benches && !other.benches) return other.fastest <= own.slowest + kSame;
  if (!own.benches || !other.benches || own.benches->rise > 0 || other.benches->rise > 0) return false;
  // Of one make and slope on crests of one level, the nearer one is the higher. Where levels differ the farther one may
  // be, as far as to the next bench.
  return drawsAwayNoFaster(own, other) && own.crestHigh - other.crestLow < kSame &&
         other.crestHigh - own.crestLow < kSame && own.railA.size() == other.railA.size() &&
         std::abs(own.slowest - other.fastest) < kSame && std::abs(own.fastest - other.slowest) < kSame;
}

// Let h(d) be the height over the crest at a distance, G the greatest from there outwards, L the least up to there. The
// other's foot is nearer by so much, and stays so going outwards, as it draws away no faster. So it does to ask for
// L(d) >= G(d + behind) + the difference of crests, for every d. L is level from where a bench begins until the slope
// beyond it has lost its rise again; G from where the slope before it comes down to the height of its end; both go
// down with the slopes between, by `gain` in each period.
std::optional<double> farBehind(const Ribbon& own, const Ribbon& other) {
  constexpr double kSame = 1e-9;
  if (!own.benches || own.benches != other.benches || !drawsAwayNoFaster(own, other)) return std::nullopt;
  for (const double rate : {own.fastest, other.slowest, other.fastest}) {
    if (std::abs(rate - own.slowest) > kSame) return std::nullopt;
  }
  const auto& [every, width, rise] = *own.benches;
  const double run = 1 / own.slowest, gain = every - rise, period = every * run + width;
  if (gain < 0.01 * every) return std::nullopt;
  const double lower = own.crestHigh - other.crestLow;
  if (lower <= kSame) return rise > 0 ? width + rise * run : 0;
  const double whole = std::floor(lower / gain), rest = lower - whole * gain;
  return width + rise * run + whole * period + (rest < gain - rise ? rest * run : period);
}

Parting::Parting(std::vector<Ribbon> ribbons, std::vector<BentMitre> mitres, const Progress& progress,
                 const std::vector<char>& asked)
    : ribbons_(std::move(ribbons)), mitres_(std::move(mitres)) {
  pieces_.resize(ribbons_.size());
  isCut_.resize(ribbons_.size(), 0);
  borders_.resize(ribbons_.size());
  overlapping_.resize(ribbons_.size());
  domains_.resize(ribbons_.size());
  parallelChunks(ribbons_.size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) {
      const Ribbon& r = ribbons_[i];
      domains_[i] = domainOf(r);
      for (std::size_t k = 0; k + 1 < r.railA.size(); ++k)
        std::ranges::move(piecesOf(r, k), std::back_inserter(pieces_[i]));
      borders_[i] = {{0, r.atA(r.railA.size() - 1)}, {1, r.atB(r.railB.size() - 1)}};
    }
  });
  surely_ = domains_;
  partAtMitres();
  for (auto& pieces : pieces_) {
    for (std::size_t k = pieces.size(); k-- > 1;)
      pieces[k - 1].highest = std::max(pieces[k - 1].highest, pieces[k].highest);
  }
  trimAll(asked, progress);
  dropParted(progress);
}

namespace {

// What is left of a ribbon's pieces beside a mitre: where the other one is, that of them which counts; where it is not,
// what lies to the left of the straight mitre, which leads from `corner` towards `ray`.
std::vector<Piece> besideMitre(const Ribbon& ribbon, const std::vector<Piece>& own, const std::vector<Piece>& theirs,
                               const Convex& domain, bool higher, Vec2 corner, Vec2 ray) {
  std::vector<Piece> kept;
  const plane::Box around = quantity::boxOf(domain);
  const auto beside = [&](Convex outside) {
    if (outside.n >= 3) quantity::clipLeft(outside, corner, corner + ray);
    return outside;
  };
  std::vector<Convex> parts;
  for (const Piece& piece : own) {
    parts.clear();
    Convex rest = piece.shape;
    for (int k = 0; k < domain.n && rest.n >= 3 && piece.box.overlaps(around); ++k) {
      const Vec2 a = domain.p[k], b = domain.p[(k + 1) % domain.n];
      Convex outside = rest;
      quantity::clipLeft(outside, b, a);
      parts.push_back(beside(outside));
      quantity::clipLeft(rest, a, b);
    }
    if (!piece.box.overlaps(around)) parts.push_back(beside(rest)), rest.n = 0;
    const plane::Box box = quantity::boxOf(rest);
    for (const Piece& other : theirs) {
      if (rest.n < 3) break;
      if (!other.box.overlaps(box)) continue;
      Convex both = overlapOf(rest, other.shape);
      if (both.n >= 3) higher ? clipAbove(both, piece.plane, other.plane) : clipAbove(both, other.plane, piece.plane);
      parts.push_back(both);
    }
    double left = 0;
    for (const Convex& part : parts) left += part.n >= 3 ? quantity::area(part) : 0;
    if (quantity::area(piece.shape) - left < kLittle) parts.assign(1, piece.shape);
    for (const Convex& part : parts) addPiece(kept, ribbon, part, piece.plane);
  }
  std::stable_sort(kept.begin(), kept.end(), [](const Piece& a, const Piece& b) { return a.nearest < b.nearest; });
  return kept;
}

}  // namespace

void Parting::partAtMitres() {
  const auto whole = mitres_.empty() ? std::vector<std::vector<Piece>>() : pieces_;
  for (const BentMitre& m : mitres_) {
    const auto part = [&](std::uint32_t own, std::uint32_t other, Vec2 left, Vec2 surely) {
      pieces_[own] = besideMitre(ribbons_[own], pieces_[own], whole[other], domains_[other], m.higher, m.corner, left);
      isCut_[own] = 1;
      if (!m.higher) quantity::clipLeft(surely_[own], m.corner, m.corner + surely);
    };
    // Outwards lies to the right of the foot, so the one before the corner to the right of its ray.
    part(m.before, m.after, -1 * m.ray, -1 * m.surelyBefore);
    part(m.after, m.before, m.ray, m.surelyAfter);
    mitredWith_.resize(ribbons_.size(), kNone);
    mitredWith_[m.before] = m.after;
  }
}

void Parting::trim(std::size_t i, std::size_t other) {
  if (!mitres_.empty() && (mitredWith_[i] == other || mitredWith_[other] == i)) return;
  const Ribbon& r = ribbons_[i];
  const bool ends = endsAt(r, ribbons_[other]);
  const auto overlaps = [&] {
    auto& list = overlapping_[i];
    if (list.empty() || list.back() != other) list.push_back(static_cast<std::uint32_t>(other));
  };
  const Ribbon& o = ribbons_[other];
  if (!ends && (r.benches || o.benches)) {
    if (const auto behind = farBehind(r, o)) meet(i, partBehind(i, other, *behind));
    overlaps();
    return;
  }
  const plane::Box theirBox = quantity::boxOf(domains_[other]);
  const auto deepest = [&] {
    double depth = 0;
    for (const ChainPoint& c : borders_[i]) depth = std::max(depth, r.depth(c.p));
    return depth;
  };
  double limit = deepest();
  for (const Piece& own : pieces_[i]) {
    if (own.nearest > limit) break;
    if (!own.box.overlaps(theirBox)) continue;
    for (const Piece& piece : pieces_[other]) {
      if (piece.highest <= own.lowest) break;  // they fall outwards
      if (!piece.box.overlaps(own.box)) continue;
      const Convex both = overlapOf(own.shape, piece.shape);
      Convex above = both;
      if (above.n >= 3) clipAbove(above, piece.plane, own.plane);
      if (above.n < 3 || quantity::area(above) < kLittle) continue;
      if (!ends && !staysBelow(r, o, above)) {
        overlaps();
        continue;
      }
      meet(i, above);
      limit = deepest();
    }
  }
}

// Whether all of another lies behind a ribbon's foot or beyond one of its rays.
bool Parting::aside(std::size_t i, std::size_t other) const {
  const Ribbon& r = ribbons_[i];
  const Convex& theirs = domains_[other];
  return allRight(theirs, r.a, r.ua) || allRight(theirs, r.b, -1 * r.ub) ||
         (!(r.a == r.b) && allRight(theirs, r.b, r.a - r.b));
}

// The part of both where the way from the first one's foot is longer by more than so much.
Convex Parting::partBehind(std::size_t i, std::size_t other, double behind) const {
  Convex shape = overlapOf(domains_[i], surely_[other]);
  const ground::Plane own{ribbons_[i].a, 0, ribbons_[i].out}, theirs{ribbons_[other].a, behind, ribbons_[other].out};
  if (shape.n >= 3) clipAbove(shape, own, theirs);
  return shape;
}

// Ends the ribbon at the near border of `above`: of its two ways from the first ray that meets it to the last, the one
// nearer the foot.
void Parting::meet(std::size_t i, const Convex& above) {
  if (above.n < 3 || quantity::area(above) < kLittle) return;
  const Ribbon& r = ribbons_[i];
  std::array<double, Convex::kMost> s{};
  int low = 0, high = 0;
  for (int k = 0; k < above.n; ++k) {
    s[k] = r.along(above.p[k]);
    if (s[k] < s[low] || (s[k] == s[low] && r.depth(above.p[k]) < r.depth(above.p[low]))) low = k;
    if (s[k] > s[high] || (s[k] == s[high] && r.depth(above.p[k]) < r.depth(above.p[high]))) high = k;
  }
  if (s[high] - s[low] < 1e-12) return;
  const auto onRay = [&](double at, Vec2 p, Vec2 q) {
    const Vec2 foot = r.foot(at), ray = r.ray(at), d = q - p;
    const double across = cross(ray, d);
    if (std::abs(across) < 1e-14 * plane::norm(d)) return r.depth(p) < r.depth(q) ? p : q;
    return foot + (cross(p - foot, d) / across) * ray;
  };
  const auto way = [&](int step) {
    Chain chain;
    for (int k = low;; k = (k + step + above.n) % above.n) {
      chain.push_back({chain.empty() ? s[k] : std::max(s[k], chain.back().s), above.p[k]});
      if (k == high) break;
    }
    return chain;
  };
  const auto at = [&](const Chain& chain, double x) {
    std::size_t k = 0;
    while (k + 2 < chain.size() && chain[k + 1].s <= x) ++k;
    return std::pair(k, onRay(x, chain[k].p, chain[k + 1].p));
  };
  const double middle = (s[low] + s[high]) / 2;
  Chain near = way(1);
  if (Chain far = way(-1); r.depth(at(near, middle).second) > r.depth(at(far, middle).second)) near = std::move(far);

  const Chain& own = borders_[i];
  std::vector<double> stops;
  for (const ChainPoint& c : own) stops.push_back(c.s);
  for (const ChainPoint& c : near) stops.push_back(c.s);
  std::sort(stops.begin(), stops.end());
  Chain result;
  bool nearer = false;
  const auto push = [&](double x, Vec2 p) {
    if (!result.empty() && plane::distance(result.back().p, p) < 1e-10) return;
    // A point on the line between its neighbours says nothing.
    const std::size_t m = result.size();
    if (m >= 2 &&
        std::abs(plane::turn(result[m - 2].p, result[m - 1].p, p)) < 1e-10 * plane::distance(result[m - 2].p, p))
      result.pop_back();
    result.push_back({x, p});
  };
  for (std::size_t k = 0; k + 1 < stops.size(); ++k) {
    const double x = stops[k], y = stops[k + 1];
    if (y - x < 1e-13) continue;
    const auto [ownAt, own0] = at(own, x);
    const Vec2 own1 = onRay(y, own[ownAt].p, own[ownAt + 1].p);
    if (y <= near.front().s || x >= near.back().s) {
      push(x, own0);
      push(y, own1);
      continue;
    }
    const auto [nearAt, near0] = at(near, x);
    const Vec2 near1 = onRay(y, near[nearAt].p, near[nearAt + 1].p);
    const double d0 = r.depth(own0) - r.depth(near0), d1 = r.depth(own1) - r.depth(near1);
    nearer |= d0 > 1e-10 || d1 > 1e-10;
    push(x, d0 > 0 ? near0 : own0);
    if ((d0 > 0) != (d1 > 0) && std::abs(d0) > 1e-10 && std::abs(d1) > 1e-10) {
      const Vec2 d = own1 - own0, e = near1 - near0;
      const double across = cross(d, e);
      if (across != 0) {
        const Vec2 p = own0 + (cross(near0 - own0, e) / across) * d;
        push(r.along(p), p);
      }
    }
    push(y, d1 > 0 ? near1 : own1);
  }
  if (nearer && result.size() >= 2) borders_[i] = std::move(result);
}

namespace {

// How high ribbons can lie at a distance from their feet: highest - rate x distance. What holds at the corners of their
// pieces holds between them.
struct Bounds {
  double rate = 1e9;
  std::vector<double> highest;
  explicit Bounds(const std::vector<Ribbon>& ribbons) : highest(ribbons.size(), -1e300) {
    for (const Ribbon& r : ribbons) {
      const double top = std::max(r.railA.front().height, r.railB.front().height);
      const std::size_t last = r.railA.size() - 1;
      for (const auto& [p, h] :
           {std::pair(r.atA(last), r.railA[last].height), std::pair(r.atB(last), r.railB[last].height)}) {
        if (const double d = distanceToFoot(p, r); d > 1e-9) rate = std::min(rate, (top - h) / d);
      }
    }
    rate = std::max(rate, 1e-6);
    for (std::size_t i = 0; i < ribbons.size(); ++i) {
      const Ribbon& r = ribbons[i];
      for (std::size_t k = 0; k < r.railA.size(); ++k) {
        highest[i] = std::max({highest[i], r.railA[k].height + rate * distanceToFoot(r.atA(k), r),
                               r.railB[k].height + rate * distanceToFoot(r.atB(k), r)});
      }
    }
  }
};

// The feet, and which ribbons share one: those of a fan hang together and do not overlap.
struct Feet {
  std::vector<plane::Segment2> segments;
  std::vector<std::uint32_t> group;
  std::vector<std::size_t> starts;
  explicit Feet(const std::vector<Ribbon>& ribbons) {
    for (std::size_t i = 0; i < ribbons.size(); ++i) {
      segments.push_back({ribbons[i].a, ribbons[i].b});
      const auto same = [&](std::size_t k) { return segments[k].a == segments[i].a && segments[k].b == segments[i].b; };
      if (i == 0 || !(segments[i].a == segments[i].b) || !same(i - 1)) starts.push_back(i);
      group.push_back(static_cast<std::uint32_t>(starts.size() - 1));
    }
    starts.push_back(ribbons.size());
  }
};

// The feet by how high their ribbons can lie.
class Heights {
 public:
  Heights(const Bounds& bounds, const std::vector<plane::Segment2>& feet, const Progress& progress)
      : bounds_(bounds), feet_(feet) {
    std::vector<std::uint32_t> order(feet.size());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(), [&](auto i, auto j) { return bounds.highest[i] > bounds.highest[j]; });
    constexpr std::size_t kGroups = 12, kLeast = 16;
    const std::size_t size = std::max(kLeast, (feet.size() + kGroups - 1) / kGroups);
    groups_.resize(chunkCount(order.size(), size));
    parallelChunks(order.size(), size, progress, [&](std::size_t begin, std::size_t end, std::size_t k) {
      Group& group = groups_[k];
      group.highest = bounds.highest[order[begin]];
      group.numbers.assign(order.begin() + static_cast<std::ptrdiff_t>(begin),
                           order.begin() + static_cast<std::ptrdiff_t>(end));
      std::vector<plane::Segment2> own;
      for (const std::uint32_t number : group.numbers) own.push_back(feet[number]);
      group.index = plane::SegmentIndex(own);
    });
  }

  // Calls f(number) for every ribbon that `asked` and that can lie above `low` somewhere along a segment.
  template <class Asked, class F>
  void above(double low, const plane::Segment2& along, Asked&& asked, F&& f) const {
    for (const Group& group : groups_) {
      if (group.highest <= low) return;
      group.index.near(along, (group.highest - low) / bounds_.rate, [&](std::uint32_t i) {
        const std::uint32_t number = group.numbers[i];
        if (asked(number) &&
            bounds_.highest[number] - bounds_.rate * plane::distanceBetween(along, feet_[number]) > low)
          f(number);
      });
    }
  }

 private:
  struct Group {
    double highest = 0;
    std::vector<std::uint32_t> numbers;
    plane::SegmentIndex index;
  };
  const Bounds& bounds_;
  const std::vector<plane::Segment2>& feet_;
  std::vector<Group> groups_;
};

}  // namespace

double Parting::lowestAt(std::size_t i, Vec2 p) const {
  const Ribbon& r = ribbons_[i];
  if (isOnePiece(i)) return pieces_[i].front().plane(p);
  const double d = r.depth(p);
  double least = 1e300;
  for (const Rail* rail : {&r.railA, &r.railB}) {
    std::size_t k = 0;
    while (k + 2 < rail->size() && (*rail)[k + 1].depth < d) ++k;
    least = std::min({least, (*rail)[k].height, (*rail)[k + 1].height});
  }
  return least;
}

void Parting::trimAll(const std::vector<char>& asked, const Progress& progress) {
  const std::size_t n = ribbons_.size();
  if (n == 0) return;
  const Bounds bounds(ribbons_);
  const Feet feet(ribbons_);
  const Heights heights(bounds, feet.segments, progress);
  std::vector<plane::Box> boxes;
  for (const Convex& domain : domains_) boxes.push_back(quantity::boxOf(domain));
  const auto leftOf = [&](std::size_t i) {
    plane::Box box = plane::boxOf(feet.segments[i]);
    for (const ChainPoint& c : borders_[i]) box.add(c.p);
    return box;
  };
  const auto lowest = [&](std::size_t i, Vec2 p, Vec2 q) { return std::min(lowestAt(i, p), lowestAt(i, q)); };
  const auto matters = [&](std::size_t i, std::size_t other) {
    if (!boxes[other].overlaps(leftOf(i))) return false;
    const Chain& chain = borders_[i];
    for (std::size_t k = 0; k + 1 < chain.size(); ++k) {
      const Vec2 p = chain[k].p, q = chain[k + 1].p;
      const double d = plane::distanceBetween({p, q}, feet.segments[other]);
      if (bounds.highest[other] - bounds.rate * d > lowest(i, p, q)) return true;
    }
    return false;
  };
  const auto trimOne = [&](std::size_t i) {
    // Those near along the crest first: they cut most.
    constexpr std::uint32_t kNear = 2;
    const std::uint32_t own = feet.group[i];
    const std::size_t from = feet.starts[own > kNear ? own - kNear : 0];
    const std::size_t to = feet.starts[std::min<std::size_t>(feet.starts.size() - 1, own + kNear + 1)];
    for (std::size_t other = from; other < to; ++other) {
      if (feet.group[other] != own && !aside(i, other) && matters(i, other)) trim(i, other);
    }
    // The others by stretches of the border as it is now, nearest first; it only draws nearer.
    const Chain chain = borders_[i];
    const plane::Box left = leftOf(i);
    std::vector<std::pair<double, std::uint32_t>> found;
    for (std::size_t k = 0; k + 1 < chain.size(); ++k) {
      const plane::Segment2 part{chain[k].p, chain[k + 1].p};
      heights.above(
          lowest(i, part.a, part.b), part,
          [&](std::uint32_t other) {
            return (other < from || other >= to) && boxes[other].overlaps(left) && !aside(i, other);
          },
          [&](std::uint32_t other) {
            found.emplace_back(plane::distanceBetween(feet.segments[other], feet.segments[i]), other);
          });
    }
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    for (const auto& [d, other] : found) {
      if (matters(i, other)) trim(i, other);
    }
  };
  parallelChunks(n, kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) {
      if (asked.empty() || asked[i]) trimOne(i);
    }
  });
}

std::vector<std::pair<std::uint32_t, std::uint32_t>> Parting::overlappingPairs() const {
  std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
  for (std::uint32_t i = 0; i < overlapping_.size(); ++i) {
    for (const std::uint32_t other : overlapping_[i]) pairs.emplace_back(std::min(i, other), std::max(i, other));
  }
  std::sort(pairs.begin(), pairs.end());
  pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
  return pairs;
}

// Of those that overlapped, the others have ended before by now.
void Parting::dropParted(const Progress& progress) {
  if (std::all_of(overlapping_.begin(), overlapping_.end(), [](const auto& others) { return others.empty(); })) return;
  std::vector<std::vector<Convex>> cells(ribbons_.size());
  std::vector<plane::Box> boxes(ribbons_.size());
  for (std::size_t i = 0; i < ribbons_.size(); ++i) {
    eachCell(i, [&](const Convex& cell, const auto&, const auto&) {
      cells[i].push_back(cell);
      boxes[i].add(quantity::boxOf(cell));
    });
  }
  const auto overlap = [&](std::size_t i, std::size_t other) {
    if (!boxes[i].overlaps(boxes[other])) return false;
    for (const Convex& a : cells[i]) {
      for (const Convex& b : cells[other]) {
        const Convex both = overlapOf(a, b);
        if (both.n >= 3 && quantity::area(both) > kLittle) return true;
      }
    }
    return false;
  };
  parallelChunks(ribbons_.size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i)
      std::erase_if(overlapping_[i], [&](std::uint32_t other) { return !overlap(i, other); });
  });
}

}  // namespace inselberg::works
