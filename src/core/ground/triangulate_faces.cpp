// Method. What lies on one side of a segment and on the other has nothing to do with each other, so that each face
// between the segments has a constrained Delaunay triangulation of its own, and most have few corners. The segments
// round each point are sorted by their direction, and each side of each segment followed round its face. A component's
// outer border is the ring that passes above the leftmost of its points; the rest bound faces (E - V + 2 C rings
// altogether where no segments cross: Euler). A simple ring of few corners is cut into ears, whose sides are flipped
// until all are Delaunay (C. L. Lawson, 1977); other faces go to the library with the points on their borders alone.
// Sides of lines and of circles are decided exactly.
#include "ground/triangulate_faces.h"

#include <algorithm>
#include <array>
#include <numeric>
#include <optional>

#include "base/parallel.h"
#include "plane/curve_order.h"
#include "plane/exact_circle.h"
#include "plane/exact_side.h"

namespace inselberg::ground {
namespace {

constexpr std::size_t kFew = 48;       // corners of a face that is cut into ears
constexpr std::size_t kChunk = 256;    // faces or points that one core looks at in a go
constexpr std::size_t kMostParts = 8;  // that do not hang together

// A side of a segment: 2 s of segment s in its own direction, 2 s + 1 back. What lies to its left is its own.
using Half = Index;

bool leftOfLine(Vec2 a, Vec2 b, Vec2 c) {
  double rounded;
  return plane::exactSide(a, b, c, rounded) > 0;
}

// What is beyond a side of a triangle: a triangle of the same face and its side, or the segment that it lies on.
using Beyond = Index;
constexpr Beyond beyondTo(Index t, Index side) {
  return t << 2 | side;
}
constexpr Beyond beyondTo(Half h) {
  return ~(h + 1);
}
constexpr bool isSegment(Beyond b) {
  return b >> 31 != 0 && b != kNone;
}
constexpr bool isInner(Beyond b) {
  return b >> 31 == 0;
}
constexpr Half halfOf(Beyond b) {
  return ~b - 1;
}

// The triangles of one face.
struct Fan {
  std::vector<Triangle> corners;
  std::vector<std::array<Beyond, 3>> beyond;
};

// Rings that bound a face together.
struct Face {
  std::vector<std::size_t> rings;
  bool outside = false;  // it goes on without end
};

class Faces {
 public:
  Faces(const plane::Linework& lines, const Progress& progress)
      : points_(lines.points()), segments_(lines.segments()), progress_(progress) {}

  // Nothing where it does not come out even.
  std::optional<Triangulation> triangulation(std::span<const Edge> unwanted) {
    if (!sortRound()) return std::nullopt;
    followRings();
    if (!groupRings()) return std::nullopt;
    leaveOut(unwanted);
    if (!triangulateAll()) return std::nullopt;
    return together();
  }

 private:
  Index from(Half h) const { return h & 1 ? segments_[h >> 1].b : segments_[h >> 1].a; }
  Index to(Half h) const { return from(h ^ 1); }
  bool upwards(Half h) const {
    const Vec2 a = points_[from(h)], b = points_[to(h)];
    return b.y > a.y || (b.y == a.y && b.x > a.x);
  }
  std::span<Half> round(Index point) { return {round_.data() + starts_[point], round_.data() + starts_[point + 1]}; }

  bool sortRound();
  Half after(Half h) const;
  void followRings();
  bool groupRings();
  void leaveOut(std::span<const Edge> unwanted);
  std::optional<std::size_t> ringLeftOf(Index point, const std::vector<Index>& part, Index own) const;
  bool triangulateAll();
  bool cutEars(std::span<const Half> ring, Fan& fan) const;
  void flip(Fan& fan) const;
  bool askLibrary(const Face& face, Fan& fan) const;
  Triangulation together() const;
  std::span<const Half> ring(std::size_t r) const {
    return {halves_.data() + ringStarts_[r], halves_.data() + ringStarts_[r + 1]};
  }

  std::span<const Vec2> points_;
  std::span<const plane::Linework::Segment> segments_;
  const Progress& progress_;
  std::vector<Index> starts_;  // of the halves that leave each point
  std::vector<Half> round_;    // counter-clockwise from the east on
  std::vector<Index> place_;   // of each half in round_
  std::vector<Half> halves_;   // ring after ring
  std::vector<std::size_t> ringStarts_;
  std::vector<std::size_t> ringOf_;  // of each half
  std::vector<Face> faces_;
  std::vector<Fan> fans_;
};

// Whether no two segments leave a point in the same direction.
bool Faces::sortRound() {
  starts_.assign(points_.size() + 1, 0);
  for (const auto& s : segments_) ++starts_[s.a + 1], ++starts_[s.b + 1];
  std::partial_sum(starts_.begin(), starts_.end(), starts_.begin());
  round_.resize(2 * segments_.size()), place_.resize(round_.size());
  {
    std::vector<Index> next(starts_.begin(), starts_.end() - 1);
    for (Half h = 0; h < round_.size(); ++h) round_[next[from(h)]++] = h;
  }
  const auto sound = parallelMap<char>(points_.size(), kChunk, progress_, [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) {
      const auto all = round(static_cast<Index>(i));
      const Vec2 p = points_[i];
      const auto before = [&](Half g, Half h) {
        const bool up = upwards(g);
        if (up != upwards(h)) return up;
        return leftOfLine(p, points_[to(g)], points_[to(h)]);
      };
      std::sort(all.begin(), all.end(), before);
      for (std::size_t k = 0; k < all.size(); ++k) {
        place_[all[k]] = static_cast<Index>(k);
        if (k > 0 && !before(all[k - 1], all[k])) return char{0};
      }
    }
    return char{1};
  });
  return std::ranges::all_of(sound, [](char c) { return c != 0; });
}

// The next one round the same face.
Half Faces::after(Half h) const {
  const Half back = h ^ 1;
  const Index point = to(h), count = starts_[point + 1] - starts_[point];
  const Index k = place_[back] == 0 ? count - 1 : place_[back] - 1;
  return round_[starts_[point] + k];
}

// In the order of their places.
void Faces::followRings() {
  constexpr std::size_t kNoRing = ~std::size_t{0};
  ringOf_.assign(round_.size(), kNoRing);
  halves_.reserve(round_.size());
  ringStarts_ = {0};
  for (const Index point : plane::curveOrder(points_)) {
    for (const Half first : round(point)) {
      if (ringOf_[first] != kNoRing) continue;
      for (Half h = first; ringOf_[h] == kNoRing; h = after(h))
        ringOf_[h] = ringStarts_.size() - 1, halves_.push_back(h);
      ringStarts_.push_back(halves_.size());
    }
  }
}

// Which rings make a face together. False where there are more or fewer than there can be.
bool Faces::groupRings() {
  // The parts that hang together, by the least of their points.
  std::vector<Index> part(points_.size(), kNone), least;
  std::vector<Index> waiting;
  std::size_t count = 0;  // of points that have a segment
  for (Index start = 0; start < points_.size(); ++start) {
    if (round(start).empty()) continue;
    ++count;
    if (part[start] != kNone) continue;
    const auto number = static_cast<Index>(least.size());
    if (least.size() == kMostParts) return false;
    least.push_back(start);
    part[start] = number, waiting.push_back(start);
    while (!waiting.empty()) {
      const Index p = waiting.back();
      waiting.pop_back();
      const Vec2 a = points_[p], b = points_[least[number]];
      if (a.x < b.x || (a.x == b.x && a.y < b.y)) least[number] = p;
      for (const Half h : round(p)) {
        if (part[to(h)] == kNone) part[to(h)] = number, waiting.push_back(to(h));
      }
    }
  }
  const std::size_t rings = ringStarts_.size() - 1;
  if (rings + count != segments_.size() + 2 * least.size()) return false;
  // The outer border of each is to the left of the highest that leaves its leftmost point.
  std::vector<std::size_t> outer;
  for (const Index point : least) {
    const auto all = round(point);
    const auto up = std::ranges::partition_point(all, [&](Half h) { return upwards(h); });
    outer.push_back(ringOf_[up == all.begin() ? all.back() : *(up - 1)]);
  }
  constexpr std::size_t kByItself = ~std::size_t{0};
  std::vector<std::size_t> faceOf(rings, kByItself);
  faces_ = {{{}, true}};
  for (Index i = 0; i < outer.size(); ++i) {
    // On from border to border, until what it lies in is none.
    std::size_t face = 0;
    Index at = i;
    for (std::size_t step = 0; const auto left = ringLeftOf(least[at], part, at); ++step) {
      if (step == outer.size()) return false;
      const auto other = std::ranges::find(outer, *left);
      if (other == outer.end()) {
        if (faceOf[*left] == kByItself) {
          faceOf[*left] = faces_.size();
          faces_.push_back({{*left}});
        }
        face = faceOf[*left];
        break;
      }
      at = static_cast<Index>(other - outer.begin());
    }
    faces_[face].rings.push_back(outer[i]);
  }
  for (const std::size_t r : outer) faceOf[r] = 0;
  for (std::size_t r = 0; r < rings; ++r) {
    if (faceOf[r] == kByItself) faces_.push_back({{r}});
  }
  return true;
}

// The ring of what lies first to the left of a point, of other parts than its own.
std::optional<std::size_t> Faces::ringLeftOf(Index point, const std::vector<Index>& part, Index own) const {
  const Vec2 p = points_[point];
  std::optional<Half> nearest;
  double at = 0;
  for (Half h = 0; h < round_.size(); h += 2) {
    if (part[from(h)] == own) continue;
    // Downwards, the point is on the left.
    const Half down = points_[from(h)].y > points_[to(h)].y ? h : h ^ 1;
    const Vec2 a = points_[from(down)], b = points_[to(down)];
    if (!(a.y > p.y && b.y <= p.y) || !leftOfLine(a, b, p)) continue;
    const double x = a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x);
    if (!nearest || x > at) nearest = down, at = x;
  }
  if (!nearest) return std::nullopt;
  return ringOf_[*nearest];
}

void Faces::leaveOut(std::span<const Edge> unwanted) {
  std::vector<char> out(ringStarts_.size() - 1, 0);
  for (const auto& [a, b] : unwanted) {
    for (const Half h : round(a)) {
      if (to(h) == b) out[ringOf_[h]] = 1;
    }
  }
  const auto endsFreely = [&](std::size_t r) {
    return std::ranges::any_of(ring(r), [&](Half h) { return starts_[to(h) + 1] - starts_[to(h)] == 1; });
  };
  std::erase_if(faces_, [&](const Face& face) {
    if (std::ranges::any_of(face.rings, [&](std::size_t r) { return out[r] != 0; })) return true;
    return face.outside && std::ranges::none_of(face.rings, endsFreely);
  });
}

bool Faces::triangulateAll() {
  fans_.resize(faces_.size());
  std::vector<char> fine(faces_.size(), 0);
  std::vector<std::size_t> small, large;
  for (std::size_t i = 0; i < faces_.size(); ++i) {
    const Face& face = faces_[i];
    const bool few = !face.outside && face.rings.size() == 1 && ring(face.rings[0]).size() <= kFew;
    (few ? small : large).push_back(i);
  }
  parallelInvoke(
      [&] {
        parallelChunks(large.size(), 1, progress_, [&](std::size_t k, std::size_t, std::size_t) {
          fine[large[k]] = askLibrary(faces_[large[k]], fans_[large[k]]);
        });
      },
      [&] {
        parallelChunks(small.size(), kChunk, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
          for (std::size_t k = begin; k < end; ++k) {
            const std::size_t i = small[k];
            fine[i] = cutEars(ring(faces_[i].rings[0]), fans_[i]) || askLibrary(faces_[i], fans_[i]);
          }
        });
      });
  return std::ranges::all_of(fine, [](char c) { return c != 0; });
}

// False where the ring touches itself, or has no ear.
bool Faces::cutEars(std::span<const Half> ring, Fan& fan) const {
  struct Side {
    Index from;
    Beyond beyond;
  };
  std::array<Side, kFew> left;
  std::size_t n = ring.size();
  if (n < 3) return false;
  for (std::size_t i = 0; i < n; ++i) {
    left[i] = {from(ring[i]), beyondTo(ring[i])};
    for (std::size_t k = 0; k < i; ++k) {
      if (left[k].from == left[i].from) return false;
    }
  }
  fan.corners.reserve(n - 2), fan.beyond.reserve(n - 2);
  const auto at = [&](std::size_t i) { return points_[left[i].from]; };
  const auto isEar = [&](std::size_t i) {
    const std::size_t before = (i + n - 1) % n, next = (i + 1) % n;
    const Vec2 a = at(before), b = at(i), c = at(next);
    if (!leftOfLine(a, b, c)) return false;
    for (std::size_t k = 0; k < n; ++k) {
      if (k == before || k == i || k == next) continue;
      const Vec2 p = at(k);
      if (!leftOfLine(b, a, p) && !leftOfLine(c, b, p) && !leftOfLine(a, c, p)) return false;
    }
    return true;
  };
  const auto join = [&](Beyond beyond, Index t, Index side) {
    if (isInner(beyond)) fan.beyond[beyond >> 2][beyond & 3] = beyondTo(t, side);
  };
  while (n > 2) {
    std::size_t i = 0;
    while (i < n && !isEar(i)) ++i;
    if (i == n) {
      fan = {};
      return false;
    }
    const std::size_t before = (i + n - 1) % n, next = (i + 1) % n;
    const auto t = static_cast<Index>(fan.corners.size());
    fan.corners.push_back({left[before].from, left[i].from, left[next].from});
    // The last triangle closes with what is left of the ring.
    const Beyond last = n == 3 ? left[next].beyond : kNone;
    fan.beyond.push_back({left[i].beyond, last, left[before].beyond});
    join(left[i].beyond, t, 0), join(left[before].beyond, t, 2);
    if (n == 3) join(last, t, 1);
    left[before].beyond = beyondTo(t, 1);
    std::move(left.begin() + static_cast<std::ptrdiff_t>(i) + 1, left.begin() + static_cast<std::ptrdiff_t>(n),
              left.begin() + static_cast<std::ptrdiff_t>(i));
    --n;
  }
  flip(fan);
  return true;
}

// Until all sides between them are Delaunay.
void Faces::flip(Fan& fan) const {
  std::vector<Beyond> waiting;  // as seen from the other side
  for (Index t = 0; t < fan.corners.size(); ++t) {
    for (Index k = 0; k < 3; ++k) {
      if (isInner(fan.beyond[t][k]) && fan.beyond[t][k] >> 2 < t) waiting.push_back(beyondTo(t, k));
    }
  }
  while (!waiting.empty()) {
    const Index t = waiting.back() >> 2, k = waiting.back() & 3;
    waiting.pop_back();
    const Beyond beyond = fan.beyond[t][k];
    if (!isInner(beyond)) continue;
    const Index u = beyond >> 2, m = beyond & 3;
    Triangle &tc = fan.corners[t], &uc = fan.corners[u];
    auto &tb = fan.beyond[t], &ub = fan.beyond[u];
    const Index a = tc[k], b = tc[next(k)], c = tc[before(k)], d = uc[m];
    if (!plane::insideCircle(points_[a], points_[b], points_[c], points_[d])) continue;
    // a, b, d and a, d, c in place of a, b, c and d, c, b.
    const Beyond ab = tb[before(k)], ca = tb[next(k)], bd = ub[next(m)], dc = ub[before(m)];
    tc = {a, b, d}, tb = {bd, beyondTo(u, 2), ab};
    uc = {a, d, c}, ub = {dc, ca, beyondTo(t, 1)};
    const auto join = [&](Beyond other, Beyond self) {
      if (isInner(other)) fan.beyond[other >> 2][other & 3] = self;
    };
    join(bd, beyondTo(t, 0)), join(ab, beyondTo(t, 2)), join(dc, beyondTo(u, 0)), join(ca, beyondTo(u, 1));
    for (const Beyond side : {beyondTo(t, 0), beyondTo(t, 2), beyondTo(u, 0), beyondTo(u, 1)}) waiting.push_back(side);
  }
}

// The points and segments of some rings, and of the triangles those to the left of them.
bool Faces::askLibrary(const Face& face, Fan& fan) const {
  std::vector<Index> numbers;
  for (const std::size_t r : face.rings) {
    for (const Half h : ring(r)) numbers.push_back(from(h));
  }
  std::sort(numbers.begin(), numbers.end());
  numbers.erase(std::unique(numbers.begin(), numbers.end()), numbers.end());
  const auto number = [&](Index point) {
    return static_cast<Index>(std::ranges::lower_bound(numbers, point) - numbers.begin());
  };
  std::vector<Vec2> points;
  for (const Index i : numbers) points.push_back(points_[i]);
  std::vector<Edge> edges;
  std::vector<std::pair<Edge, Half>> sides;  // from, to
  for (const std::size_t r : face.rings) {
    for (const Half h : ring(r)) {
      edges.emplace_back(number(from(h)), number(to(h)));
      sides.emplace_back(edges.back(), h);
    }
  }
  std::sort(sides.begin(), sides.end());
  const Triangulation made = triangulate(points, edges, progress_);
  if (made.points.size() != points.size()) return false;
  // On: those beside the rings, and what hangs together with them.
  std::vector<Index> now(made.triangles.size(), kNone), waiting;
  std::vector<std::array<Beyond, 3>> beyond(made.triangles.size(), {kNone, kNone, kNone});
  std::size_t found = 0;
  for (Index t = 0; t < made.triangles.size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (!(made.constrained[t] >> k & 1)) continue;
      const Edge side{made.triangles[t][next(k)], made.triangles[t][before(k)]};
      const auto it = std::ranges::lower_bound(sides, side, {}, &std::pair<Edge, Half>::first);
      if (it == sides.end() || it->first != side) continue;
      ++found;
      beyond[t][k] = beyondTo(it->second);
      if (now[t] == kNone) now[t] = 0, waiting.push_back(t);
    }
  }
  if (!face.outside && found != sides.size()) return false;
  while (!waiting.empty()) {
    const Index t = waiting.back();
    waiting.pop_back();
    for (int k = 0; k < 3; ++k) {
      const Index other = made.neighbours[t][k];
      if ((made.constrained[t] >> k & 1) || other == kNone || now[other] != kNone) continue;
      now[other] = 0;
      waiting.push_back(other);
    }
  }
  Index count = 0;
  for (Index& n : now) {
    if (n != kNone) n = count++;
  }
  for (Index t = 0; t < made.triangles.size(); ++t) {
    if (now[t] == kNone) continue;
    Triangle corners;
    std::array<Beyond, 3> over;
    for (int k = 0; k < 3; ++k) {
      corners[k] = numbers[made.triangles[t][k]];
      over[k] = beyond[t][k];
      const Index other = made.neighbours[t][k];
      if (over[k] != kNone || other == kNone || (made.constrained[t] >> k & 1)) continue;
      for (Index m = 0; m < 3; ++m) {
        if (made.neighbours[other][m] == t) over[k] = beyondTo(now[other], m);
      }
    }
    fan.corners.push_back(corners), fan.beyond.push_back(over);
  }
  return true;
}

Triangulation Faces::together() const {
  Triangulation out;
  out.points.assign(points_.begin(), points_.end());
  out.same.resize(points_.size());
  std::iota(out.same.begin(), out.same.end(), Index{0});
  std::vector<Index> first{0};
  for (const Fan& fan : fans_) first.push_back(first.back() + static_cast<Index>(fan.corners.size()));
  out.triangles.resize(first.back()), out.neighbours.resize(first.back()), out.constrained.resize(first.back());
  std::vector<Index> leftOf(round_.size(), kNone);
  const auto each = [&](auto&& f) {
    parallelChunks(fans_.size(), kChunk, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t i = begin; i < end; ++i) {
        const Fan& fan = fans_[i];
        for (Index t = 0; t < fan.corners.size(); ++t) f(first[i], t, fan);
      }
    });
  };
  each([&](Index base, Index t, const Fan& fan) {
    out.triangles[base + t] = fan.corners[t];
    for (const Beyond beyond : fan.beyond[t]) {
      if (isSegment(beyond)) leftOf[halfOf(beyond)] = base + t;
    }
  });
  each([&](Index base, Index t, const Fan& fan) {
    for (int k = 0; k < 3; ++k) {
      const Beyond beyond = fan.beyond[t][k];
      out.neighbours[base + t][k] = isSegment(beyond) ? leftOf[halfOf(beyond) ^ 1]
                                    : beyond == kNone ? kNone
                                                      : base + (beyond >> 2);
      if (isSegment(beyond)) out.constrained[base + t] |= static_cast<std::uint8_t>(1 << k);
    }
  });
  return out;
}

}  // namespace

Triangulation triangulateFaces(const plane::Linework& lines, std::span<const Edge> unwanted, const Progress& progress) {
  if (auto made = Faces(lines, progress).triangulation(unwanted)) return *std::move(made);
  return triangulate(lines, progress);
}

}  // namespace inselberg::ground
