#include "works/spread.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "base/parallel.h"
#include "ground/tin_index.h"

namespace inselberg::works {

using ground::kNone;
using ground::Line2;
using ground::Plane;
using ground::Tin;
using ground::Triangle;

namespace {

constexpr double kTouch = 1e-6;      // in plan: a point this near a side lies on it
constexpr std::size_t kChunk = 128;  // pairs that one core looks at in a go

// The lines of a triangle's sides.
class Sides {
 public:
  Sides(const Tin& tin, Index t) {
    const Triangle& c = tin.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      from_[k] = tin.plan(c[ground::next(k)]), way_[k] = tin.plan(c[ground::before(k)]) - from_[k];
      limit_[k] = kTouch * kTouch * plane::dot(way_[k], way_[k]);
    }
  }
  // Whether a place in the triangle lies on its side k.
  bool on(int k, Vec2 p) const {
    const double aside = plane::cross(way_[k], p - from_[k]);
    return aside * aside < limit_[k];
  }

 private:
  std::array<Vec2, 3> from_, way_;
  std::array<double, 3> limit_;
};

}  // namespace

struct Spread::Pairing {
  Index b, g;
  Sides field, ground;
};

bool Spread::PairSet::insert(Index a, Index b) {
  if (2 * (count_ + 1) > slots_.size()) grow();
  return put(std::uint64_t{a} << 32 | b);
}

bool Spread::PairSet::put(std::uint64_t key) {
  std::size_t i = (key * 0x9E3779B97F4A7C15ULL >> 20) & (slots_.size() - 1);
  while (slots_[i] != kEmpty) {
    if (slots_[i] == key) return false;
    i = (i + 1) & (slots_.size() - 1);
  }
  slots_[i] = key;
  ++count_;
  return true;
}
void Spread::PairSet::grow() {
  std::vector<std::uint64_t> old(std::max<std::size_t>(1024, slots_.size() * 2), kEmpty);
  old.swap(slots_);
  count_ = 0;
  for (const std::uint64_t key : old) {
    if (key != kEmpty) put(key);
  }
}

Spread::Spread(const Tin& ground, const BatterField& field, double sign, const Progress& progress)
    : ground_(ground), field_(field), sign_(sign), radius_(field.tin().triangles().size(), 0) {
  const Tin& tin = field.tin();
  for (Index b = 0; b < tin.triangles().size(); ++b) {
    for (int k = 0; k < 3; ++k) {
      if (field.isCrest(b, k)) seed(b, k);
    }
  }
  while (!waiting_.empty()) {
    const std::vector<Pair> wave = std::exchange(waiting_, {});
    const auto found = parallelMap<Finds>(wave.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
      Finds finds;
      for (std::size_t i = begin; i < end; ++i) visit(wave[i].first, wave[i].second, finds);
      return finds;
    });
    for (const Finds& finds : found) take(finds);
  }
}

void Spread::take(const Finds& finds) {
  all_.any |= finds.any;
  for (const Pair& pair : finds.beside) {
    if (seen_.insert(pair.first, pair.second)) waiting_.push_back(pair);
  }
  all_.daylight.insert(all_.daylight.end(), finds.daylight.begin(), finds.daylight.end());
  all_.ends.insert(all_.ends.end(), finds.ends.begin(), finds.ends.end());
  folds_.insert(folds_.end(), finds.folds.begin(), finds.folds.end());
  for (const auto& [b, radius] : finds.radii) radius_[b] = std::max(radius_[b], radius);
  if (finds.outOfGround) all_.atEdge(*finds.outOfGround);
  if (!all_.outOfReach) all_.outOfReach = finds.outOfReach;
}

Spread::Differences Spread::compare(Index b, Index g) const {
  Differences r;
  quantity::overlapOfTriangles(quantity::plansOf(ground_.corners(g)), quantity::plansOf(field_.tin().corners(b)),
                               r.shape);
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
void Spread::seed(Index b, int k) {
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

void Spread::visit(Index b, Index g, Finds& finds) const {
  const Differences r = compare(b, g);
  if (!r.above) return;
  finds.any = true;
  const Vec2* corner = field_.corner(b);
  double radius = 0;
  const int n = r.shape.n;
  std::array<Vec2, 2> zero;
  int zeros = 0;
  const Pairing pair{b, g, {field_.tin(), b}, {ground_, g}};
  for (int j = n - 1, i = 0; i < n; j = i++) {
    const Vec2 p = r.shape.p[j], q = r.shape.p[i];
    const double dp = r.d[j], dq = r.d[i];
    if (dp > 0 && corner) radius = std::max(radius, plane::distance(*corner, p));
    if (dp <= 0 && dq <= 0) continue;
    Vec2 from = p, to = q;
    if (dp <= 0) from = p + (dp / (dp - dq)) * (q - p);
    if (dq <= 0) to = p + (dp / (dp - dq)) * (q - p);
    if ((dp > 0) != (dq > 0) && zeros < 2) zero[zeros++] = dp > 0 ? to : from;
    cross(pair, from, to, finds);
  }
  if (zeros == 2) finds.daylight.push_back({zero[0], zero[1]});
  if (corner) finds.radii.emplace_back(b, radius);
}

// Goes on over the stretch from-to of the border of a pair's overlap.
void Spread::cross(const Pairing& pair, Vec2 from, Vec2 to, Finds& finds) const {
  if (plane::distance(from, to) < 1e-9) return;
  const auto [b, g] = std::pair(pair.b, pair.g);
  const Vec2 middle = 0.5 * (from + to);
  std::array<Index, 4> fields{b}, grounds{g};
  int fieldCount = 1, groundCount = 1;
  bool fieldEnds = false, groundEnds = false, crest = false;
  const Tin& tin = field_.tin();
  for (int k = 0; k < 3; ++k) {
    if (pair.field.on(k, middle)) {
      if (tin.neighbours()[b][k] != kNone) {
        fields[fieldCount++] = tin.neighbours()[b][k];
      } else {
        crest |= field_.isCrest(b, k);
        fieldEnds |= field_.atReach(b, middle);
      }
      if (tin.isBreak(b, k)) noteFold(b, k, from, to, finds);
    }
    if (pair.ground.on(k, middle)) {
      if (ground_.neighbours()[g][k] != kNone) {
        grounds[groundCount++] = ground_.neighbours()[g][k];
      } else {
        groundEnds = true;
      }
    }
  }
  if (!crest && (groundEnds || fieldEnds)) {
    finds.ends.push_back({from, to});
    if (groundEnds) {
      const double height = field_.crestHeight(b, middle) - sign_ * ground::planeOf(ground_.corners(g))(middle);
      const double run = field_.distance(b, middle) / std::max(height, 1e-9);
      finds.atEdge({middle, run});
    }
    if (fieldEnds && !finds.outOfReach) finds.outOfReach = middle;
  }
  for (int i = 0; i < fieldCount; ++i) {
    for (int j = 0; j < groundCount; ++j) {
      if (i + j > 0) finds.beside.emplace_back(fields[i], grounds[j]);
    }
  }
}

// Folds are gathered as stretches of field sides, so that the ground's triangles leave no marks on them.
void Spread::noteFold(Index b, int k, Vec2 from, Vec2 to, Finds& finds) const {
  const Triangle& c = field_.tin().triangles()[b];
  const Index u = std::min(c[ground::next(k)], c[ground::before(k)]),
              v = std::max(c[ground::next(k)], c[ground::before(k)]);
  const Vec2 p = field_.tin().plan(u), q = field_.tin().plan(v);
  const double length2 = plane::dot(q - p, q - p);
  double s = plane::dot(from - p, q - p) / length2, t = plane::dot(to - p, q - p) / length2;
  if (s > t) std::swap(s, t);
  finds.folds.push_back({std::uint64_t{u} << 32 | v, s, t});
}

std::vector<Line2> Spread::lines() const {
  std::vector<Line2> lines = all_.daylight;
  lines.insert(lines.end(), all_.ends.begin(), all_.ends.end());
  std::vector<Finds::Fold> folds = folds_;
  std::sort(folds.begin(), folds.end());
  for (std::size_t i = 0; i < folds.size();) {
    auto [side, s, t] = folds[i];
    const Vec2 p = field_.tin().plan(static_cast<Index>(side >> 32)), q = field_.tin().plan(static_cast<Index>(side));
    const double gap = kTouch / plane::distance(p, q);
    for (++i; i < folds.size() && folds[i].side == side && folds[i].from <= t + gap; ++i) t = std::max(t, folds[i].to);
    lines.push_back({p + s * (q - p), p + t * (q - p)});
  }
  return lines;
}

std::vector<Spread::CornerRadius> Spread::cornerRadius() const {
  std::vector<CornerRadius> all;
  for (Index b = 0; b < radius_.size(); ++b) {
    if (radius_[b] > 0) all.push_back({*field_.corner(b), radius_[b]});
  }
  return all;
}

}  // namespace inselberg::works
