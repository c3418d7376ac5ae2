// Method. For fill and for cut apart, the batter field (batter_field.h) is laid over the ground, and the part above the
// ground that hangs together with the crest is found by spreading from the crest over pairs of overlapping triangles
// (field, ground): over each pair the difference of heights is linear. Spreading visits only the pairs under the batter
// and along its edge, so the cost follows the batter's size, not the site's. It leaves the daylight line, the folds of
// the field under it, and the places where it ran out of ground or reach. These lines and the outline are triangulated;
// each triangle is a facet of the works or a batter by its place and the sign of the difference there.
#include "works/batter.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <unordered_map>

#include "ground/recut.h"
#include "ground/tin_index.h"
#include "ground/triangulate.h"
#include "plane/inside.h"
#include "plane/linework.h"
#include "plane/place_text.h"
#include "quantity/overlap.h"

namespace inselberg::works {
namespace {

using ground::kNone;
using ground::Line2;
using ground::Plane;
using ground::Tin;
using ground::Triangle;
using plane::Ring;
using quantity::Convex;

constexpr double kTouch = 1e-6;       // in plan: a point this near a side lies on it
constexpr double kSameHeight = 1e-8;  // heights this near are equal

// A set of pairs of triangles, as an open-addressed table.
class PairSet {
 public:
  bool insert(Index a, Index b) {
    if (2 * (count_ + 1) > slots_.size()) grow();
    return put(std::uint64_t{a} << 32 | b);
  }

 private:
  static constexpr std::uint64_t kEmpty = ~std::uint64_t{0};
  bool put(std::uint64_t key) {
    std::size_t i = (key * 0x9E3779B97F4A7C15ULL >> 20) & (slots_.size() - 1);
    while (slots_[i] != kEmpty) {
      if (slots_[i] == key) return false;
      i = (i + 1) & (slots_.size() - 1);
    }
    slots_[i] = key;
    ++count_;
    return true;
  }
  void grow() {
    std::vector<std::uint64_t> old(std::max<std::size_t>(1024, slots_.size() * 2), kEmpty);
    old.swap(slots_);
    count_ = 0;
    for (const std::uint64_t key : old) {
      if (key != kEmpty) put(key);
    }
  }
  std::vector<std::uint64_t> slots_;
  std::size_t count_ = 0;
};

// The batters of one kind, spread from the crest.
class Spread {
 public:
  // sign: +1 fill, -1 cut.
  Spread(const Tin& ground, const BatterField& field, double sign, const Progress& progress)
      : ground_(ground), field_(field), sign_(sign) {
    const Tin& tin = field.tin();
    for (Index b = 0; b < tin.triangles().size(); ++b) {
      for (int k = 0; k < 3; ++k) {
        if (field.isCrest(b, k)) seed(b, k);
      }
    }
    std::size_t done = 0;
    while (!waiting_.empty()) {
      if ((++done & 0xfff) == 0) progress.check();
      const auto [b, g] = waiting_.back();
      waiting_.pop_back();
      visit(b, g);
    }
  }

  bool any() const { return any_; }
  // Daylight, folds and ends, in plan.
  std::vector<Line2> lines() const;
  // Where the batter ends without meeting the ground: one place for each cause.
  std::optional<Vec2> outOfGround() const { return outOfGround_; }
  std::optional<Vec2> outOfReach() const { return outOfReach_; }
  const std::map<int, double>& cornerRadius() const { return cornerRadius_; }

 private:
  struct Differences {
    Convex shape;
    std::array<double, Convex::kMost> d;
    bool above = false;
  };

  Differences compare(Index b, Index g) const {
    const Triangle &tb = field_.tin().triangles()[b], &tg = ground_.triangles()[g];
    Differences r;
    r.shape = quantity::overlap(
        quantity::triangleShape(field_.tin().plan(tb[0]), field_.tin().plan(tb[1]), field_.tin().plan(tb[2])),
        ground_.plan(tg[0]), ground_.plan(tg[1]), ground_.plan(tg[2]));
    if (r.shape.n < 3) return r;
    const Plane level = ground::planeOf(ground_.corners(g));
    for (int i = 0; i < r.shape.n; ++i) {
      r.d[i] = field_.height(b, r.shape.p[i]) - sign_ * level(r.shape.p[i]);
      if (std::abs(r.d[i]) < kSameHeight) r.d[i] = 0;
      r.above |= r.d[i] > 0;
    }
    return r;
  }

  // Queues the pairs along a crest side where the crest stands above the ground.
  void seed(Index b, int k) {
    const Triangle& c = field_.tin().triangles()[b];
    const Vec2 p = field_.tin().plan(c[ground::next(k)]), q = field_.tin().plan(c[ground::before(k)]);
    const std::array<Vec2, 2> side{p, q};
    ground_.index().touching(side, kTouch, [&](Index g) {
      const Differences r = compare(b, g);
      if (!r.above) return;
      for (int i = 0, j = r.shape.n - 1; i < r.shape.n; j = i++) {
        const bool onCrest = plane::nearestOnSegment(r.shape.p[i], p, q).distance < kTouch &&
                             plane::nearestOnSegment(r.shape.p[j], p, q).distance < kTouch;
        if (onCrest && (r.d[i] > 0 || r.d[j] > 0) && plane::distance(r.shape.p[i], r.shape.p[j]) > kTouch) {
          if (seen_.insert(b, g)) waiting_.emplace_back(b, g);
          return;
        }
      }
    });
  }

  void visit(Index b, Index g) {
    const Differences r = compare(b, g);
    if (!r.above) return;
    any_ = true;
    const int n = r.shape.n;
    std::array<Vec2, 2> zero;
    int zeros = 0;
    for (int j = n - 1, i = 0; i < n; j = i++) {
      const Vec2 p = r.shape.p[j], q = r.shape.p[i];
      const double dp = r.d[j], dq = r.d[i];
      if (dp > 0) noteRadius(b, p);
      if (dp <= 0 && dq <= 0) continue;
      Vec2 from = p, to = q;
      if (dp <= 0) from = p + (dp / (dp - dq)) * (q - p);
      if (dq <= 0) to = p + (dp / (dp - dq)) * (q - p);
      if ((dp > 0) != (dq > 0) && zeros < 2) zero[zeros++] = dp > 0 ? to : from;
      cross(b, g, from, to);
    }
    if (zeros == 2) daylight_.push_back({zero[0], zero[1]});
  }

  void noteRadius(Index b, Vec2 p) {
    if (const int corner = field_.cornerOf(b); corner >= 0) {
      double& radius = cornerRadius_[corner];
      radius = std::max(radius, field_.distance(b, p));
    }
  }

  // Goes on over the stretch from-to of the border of a pair's overlap.
  void cross(Index b, Index g, Vec2 from, Vec2 to) {
    if (plane::distance(from, to) < 1e-9) return;
    const Vec2 middle = 0.5 * (from + to);
    std::array<Index, 4> fields{b}, grounds{g};
    int fieldCount = 1, groundCount = 1;
    bool fieldEnds = false, groundEnds = false, crest = false;
    const Tin& tin = field_.tin();
    const auto onSide = [&](const Tin& t, Index triangle, int k) {
      const Triangle& c = t.triangles()[triangle];
      return plane::nearestOnSegment(middle, t.plan(c[ground::next(k)]), t.plan(c[ground::before(k)])).distance <
             kTouch;
    };
    for (int k = 0; k < 3; ++k) {
      if (onSide(tin, b, k)) {
        if (tin.neighbours()[b][k] != kNone) {
          fields[fieldCount++] = tin.neighbours()[b][k];
        } else {
          crest |= field_.isCrest(b, k);
          fieldEnds |= field_.distance(b, middle) > 0.999 * field_.reach();
        }
        if (tin.isBreak(b, k)) noteFold(b, k, from, to);
      }
      if (onSide(ground_, g, k)) {
        if (ground_.neighbours()[g][k] != kNone) {
          grounds[groundCount++] = ground_.neighbours()[g][k];
        } else {
          groundEnds = true;
        }
      }
    }
    if (!crest && (groundEnds || fieldEnds)) {
      ends_.push_back({from, to});
      if (groundEnds && !outOfGround_) outOfGround_ = middle;
      if (fieldEnds && !outOfReach_) outOfReach_ = middle;
    }
    for (int i = 0; i < fieldCount; ++i) {
      for (int j = 0; j < groundCount; ++j) {
        if (i + j > 0 && seen_.insert(fields[i], grounds[j])) waiting_.emplace_back(fields[i], grounds[j]);
      }
    }
  }

  // Folds are gathered as stretches of field sides, so that the ground's triangles leave no marks on them.
  void noteFold(Index b, int k, Vec2 from, Vec2 to) {
    const Triangle& c = field_.tin().triangles()[b];
    const Index u = std::min(c[ground::next(k)], c[ground::before(k)]),
                v = std::max(c[ground::next(k)], c[ground::before(k)]);
    const Vec2 p = field_.tin().plan(u), q = field_.tin().plan(v);
    const double length2 = plane::dot(q - p, q - p);
    double s = plane::dot(from - p, q - p) / length2, t = plane::dot(to - p, q - p) / length2;
    if (s > t) std::swap(s, t);
    folds_[std::uint64_t{u} << 32 | v].emplace_back(s, t);
  }

  const Tin& ground_;
  const BatterField& field_;
  double sign_;
  bool any_ = false;
  PairSet seen_;
  std::vector<std::pair<Index, Index>> waiting_;
  std::vector<Line2> daylight_, ends_;
  std::unordered_map<std::uint64_t, std::vector<std::pair<double, double>>> folds_;
  std::optional<Vec2> outOfGround_, outOfReach_;
  std::map<int, double> cornerRadius_;
};

std::vector<Line2> Spread::lines() const {
  std::vector<Line2> lines = daylight_;
  lines.insert(lines.end(), ends_.begin(), ends_.end());
  for (const auto& [key, stretches] : folds_) {
    const Vec2 p = field_.tin().plan(static_cast<Index>(key >> 32)), q = field_.tin().plan(static_cast<Index>(key));
    const double gap = kTouch / plane::distance(p, q);
    auto sorted = stretches;
    std::sort(sorted.begin(), sorted.end());
    double s = sorted.front().first, t = sorted.front().second;
    const auto flush = [&] { lines.push_back({p + s * (q - p), p + t * (q - p)}); };
    for (const auto& [from, to] : sorted) {
      if (from > t + gap) {
        flush();
        s = from;
      }
      t = std::max(t, to);
    }
    flush();
  }
  return lines;
}

// One kind of batter round a crest: field and spread, with corners fine enough for the radius they came to have.
struct Side {
  double sign;
  std::unique_ptr<BatterField> field;
  std::unique_ptr<Spread> spread;
};

// How far out from p the batter goes before it first meets the ground, sampled: only sets the fineness of corners.
double roughRadius(const Tin& ground, Vec2 p, double height, double run, double sign, double reach) {
  double farthest = 0;
  for (int k = 0; k < 8; ++k) {
    const Vec2 u{std::cos(k * 0.785), std::sin(k * 0.785)};
    double t = 0.5;
    for (; t < reach; t *= 1.3) {
      const auto level = ground.levelAt(p + t * u);
      if (!level || height - t / run <= sign * *level) break;
    }
    farthest = std::max(farthest, t);
  }
  return std::min(farthest, reach);
}

Side makeSide(const Tin& ground, const std::vector<Vec3>& crest, double sign, const BatterRule& rule,
              const Progress& progress) {
  Side side{sign, nullptr, nullptr};
  FieldRequest request;
  double top = -std::numeric_limits<double>::infinity();
  for (const Vec3& p : crest) {
    request.crest.push_back({p.x, p.y, sign * p.z});
    top = std::max(top, sign * p.z);
  }
  request.slope = sign > 0 ? rule.fill : rule.cut;
  request.corners = rule.corners;
  request.chordError = rule.chordError;
  const double lowest = sign > 0 ? ground.minLevel() : -ground.maxLevel();
  if (top <= lowest) return side;  // nowhere above the ground
  request.reach = std::min(rule.reach, (top - lowest) * request.slope.run() * 1.01 + 1);
  for (const Vec3& p : request.crest) {
    request.cornerRadius.push_back(roughRadius(ground, p.plan(), p.z, request.slope.run(), sign, request.reach));
  }
  for (int round = 0;; ++round) {
    side.field = std::make_unique<BatterField>(request, progress);
    side.spread = std::make_unique<Spread>(ground, *side.field, sign, progress);
    bool fineEnough = true;
    for (const auto& [corner, radius] : side.spread->cornerRadius()) {
      if (radius <= request.cornerRadius[corner] * 1.001) continue;
      request.cornerRadius[corner] = radius * 1.05;
      fineEnough = false;
    }
    if (fineEnough || round == 3) return side;
  }
}

// Chains sides of the facets into lines.
std::vector<Line3> chained(const Tin& tin, const std::vector<std::pair<Index, Index>>& sides) {
  std::multimap<Index, std::pair<Index, bool>> from;  // start point -> (end point, used)
  std::map<Index, int> balance;
  for (const auto& [a, b] : sides) {
    from.emplace(a, std::pair(b, false));
    ++balance[a];
    --balance[b];
  }
  std::vector<Line3> lines;
  const auto follow = [&](Index start) {
    Line3 line;
    line.points.push_back(tin.points()[start]);
    Index at = start;
    while (true) {
      auto [first, last] = from.equal_range(at);
      while (first != last && first->second.second) ++first;
      if (first == last) break;
      first->second.second = true;
      at = first->second.first;
      if (at == start) {
        line.closed = true;
        break;
      }
      line.points.push_back(tin.points()[at]);
    }
    if (line.points.size() > 1) lines.push_back(std::move(line));
  };
  for (const auto& [point, excess] : balance) {
    for (int i = 0; i < excess; ++i) follow(point);
  }
  for (const auto& [a, b] : sides) {
    const auto [first, last] = from.equal_range(a);
    if (std::any_of(first, last, [](const auto& item) { return !item.second.second; })) follow(a);
  }
  return lines;
}

class Assembler {
 public:
  Assembler(const Tin& ground, const Ring& outline, const Plane& top, const std::vector<Side>& sides,
            const Progress& progress)
      : ground_(ground), outline_(outline), top_(top), sides_(sides) {
    plane::Linework work(ground::kSnap);
    for (std::size_t i = 0; i < outline.size(); ++i) work.addSegment(outline[i], outline[(i + 1) % outline.size()], 0);
    for (const Side& side : sides) {
      if (!side.spread || !side.spread->any()) continue;
      for (const Line2& line : side.spread->lines()) work.addSegment(line.a, line.b, 0);
    }
    work.node();
    std::vector<ground::Edge> edges;
    for (const auto& s : work.segments()) edges.emplace_back(s.a, s.b);
    made_ = ground::triangulate(work.points(), edges, progress);
    progress.check();
    sortFaces();
    emit();
  }

  Placement placement() {
    Placement result;
    result.facets = std::make_shared<Tin>(std::move(parts_));
    result.kinds = std::move(kinds_);
    const Tin& tin = *result.facets;
    std::vector<std::pair<Index, Index>> crest, daylight, ends;
    for (Index t = 0; t < tin.triangles().size(); ++t) {
      const Triangle& c = tin.triangles()[t];
      for (int k = 0; k < 3; ++k) {
        const Index other = tin.neighbours()[t][k];
        const std::pair side(c[ground::next(k)], c[ground::before(k)]);
        if (result.kinds[t] == FacetKind::surface) {
          if (other == kNone || result.kinds[other] != FacetKind::surface) crest.push_back(side);
        } else if (other == kNone) {
          (onGround(tin.points()[side.first]) && onGround(tin.points()[side.second]) ? daylight : ends).push_back(side);
        }
      }
    }
    result.crests = chained(tin, crest);
    result.daylight = chained(tin, daylight);
    result.ends = chained(tin, ends);
    result.footprintArea = ground::statistics(tin).planArea;
    return result;
  }

 private:
  struct Face {
    int kind = -1;  // -1: not of the works; 0: surface; 1 + index of side: batter
    Index fieldTriangle = kNone;
  };

  bool onGround(const Vec3& p) const {
    const auto level = ground_.levelAt(p.plan());
    return level && std::abs(*level - p.z) < kOnGround;
  }

  // Surface faces lie in the outline; batter faces hang together with them through faces of the same side.
  void sortFaces() {
    const Index n = static_cast<Index>(made_.triangles.size());
    faces_.resize(n);
    std::vector<std::array<Index, 2>> candidate(n, {kNone, kNone});
    std::vector<Index> waiting;
    const plane::Inside inside(outline_);
    for (Index f = 0; f < n; ++f) {
      const Vec2 c = ground::centroid(made_, f);
      if (inside(c)) {
        faces_[f].kind = 0;
        waiting.push_back(f);
        continue;
      }
      const auto level = ground_.levelAt(c);
      if (!level) continue;
      for (std::size_t s = 0; s < sides_.size(); ++s) {
        if (!sides_[s].spread || !sides_[s].spread->any()) continue;
        const Index t = sides_[s].field->tin().locate(c);
        if (t == kNone) continue;
        // Slivers between points of the daylight line have no sign worth asking: they go with the batter.
        const double above = sides_[s].field->height(t, c) - sides_[s].sign * *level;
        if (above > 0 || (above > -kSameHeight && isSliver(f))) candidate[f][s] = t;
      }
    }
    while (!waiting.empty()) {
      const Index f = waiting.back();
      waiting.pop_back();
      for (const Index other : made_.neighbours[f]) {
        if (other == kNone || faces_[other].kind >= 0) continue;
        for (int s = 0; s < static_cast<int>(sides_.size()); ++s) {
          if (candidate[other][s] == kNone || (faces_[f].kind != 0 && faces_[f].kind != 1 + s)) continue;
          faces_[other] = {1 + s, candidate[other][s]};
          waiting.push_back(other);
          break;
        }
      }
    }
  }

  bool isSliver(Index f) const {
    const Triangle& t = made_.triangles[f];
    const Vec2 a = made_.points[t[0]], b = made_.points[t[1]], c = made_.points[t[2]];
    const double longest = std::max({plane::distance(a, b), plane::distance(b, c), plane::distance(c, a)});
    return plane::turn(a, b, c) < ground::kSnap * longest;
  }

  double levelOf(const Face& face, Vec2 p) const {
    if (face.kind == 0) return top_(p);
    const Side& side = sides_[face.kind - 1];
    return side.sign * side.field->height(face.fieldTriangle, p);
  }

  void emit() {
    std::vector<std::vector<std::pair<double, Index>>> levels(made_.points.size());
    for (Index f = 0; f < faces_.size(); ++f) {
      const Face& face = faces_[f];
      if (face.kind < 0) continue;
      Triangle t;
      std::uint8_t bits = 0;
      for (int k = 0; k < 3; ++k) {
        const Index v = made_.triangles[f][k];
        const Vec2 p = made_.points[v];
        const double z = levelOf(face, p);
        auto& known = levels[v];
        const auto it =
            std::find_if(known.begin(), known.end(), [&](const auto& l) { return std::abs(l.first - z) < kOnGround; });
        if (it != known.end()) {
          t[k] = it->second;
        } else {
          t[k] = static_cast<Index>(parts_.points.size());
          parts_.points.push_back({p.x, p.y, z});
          known.emplace_back(z, t[k]);
        }
        const Index other = made_.neighbours[f][k];
        if (other == kNone || faces_[other].kind != face.kind) bits |= static_cast<std::uint8_t>(1 << k);
      }
      parts_.triangles.push_back(t);
      parts_.breaks.push_back(bits);
      kinds_.push_back(face.kind == 0                   ? FacetKind::surface
                       : sides_[face.kind - 1].sign > 0 ? FacetKind::fillBatter
                                                        : FacetKind::cutBatter);
    }
  }

  const Tin& ground_;
  const Ring& outline_;
  const Plane& top_;
  const std::vector<Side>& sides_;
  ground::Triangulation made_;
  std::vector<Face> faces_;
  ground::TinParts parts_;
  std::vector<FacetKind> kinds_;
};

}  // namespace

Placement placeWithBatters(const Tin& ground, const Ring& outline, const Plane& top, const BatterRule& rule,
                           const plane::Origin& origin, const Progress& progress) {
  std::vector<Vec3> crest;
  for (const Vec2 p : outline) crest.push_back({p.x, p.y, top(p)});
  std::vector<Side> sides;
  if (!ground.empty()) {
    sides.push_back(makeSide(ground, crest, 1, rule, progress));
    sides.push_back(makeSide(ground, crest, -1, rule, progress));
  }
  Placement result = Assembler(ground, outline, top, sides, progress).placement();
  const auto text = [&](Vec2 p) { return plane::placeText(p, origin); };
  for (const Side& side : sides) {
    if (!side.spread) continue;
    const char* kind = side.sign > 0 ? "fill" : "cut";
    if (const auto p = side.spread->outOfGround()) {
      result.doubts.push_back(
          {ground::DoubtKind::noDaylight, *p,
           fmt::format("The {} batter reaches the edge of the ground before daylight near {}.", kind, text(*p))});
    }
    if (const auto p = side.spread->outOfReach()) {
      result.doubts.push_back(
          {ground::DoubtKind::noDaylight, *p,
           fmt::format("The {} batter does not reach daylight within {:g} m near {}.", kind, rule.reach, text(*p))});
    }
  }
  return result;
}

}  // namespace inselberg::works
