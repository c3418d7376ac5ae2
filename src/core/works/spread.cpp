// Method. Outwards from the crest. What of a triangle of the field surely lies above the ground, which is all of it
// over some level, is passed as a whole; near daylight pairs of overlapping triangles (field, ground) are visited, over
// which the difference of heights is linear, each from one beside it. So the cost follows the edge of the batter more
// than its area. Strips that follow each other along the crests make a part of the field, which one core goes over by
// itself; what leads on into another part waits there for the next round. So what is found does not depend on how many
// cores there are.
#include "works/spread.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "base/parallel.h"
#include "ground/level_grid.h"
#include "ground/tin_index.h"

namespace inselberg::works {

using ground::kNone;
using ground::Line2;
using ground::Plane;
using ground::Tin;
using ground::Triangle;

namespace {

constexpr double kTouch = 1e-6;  // in plan: a point this near a side lies on it

// A triangle of the field and one of the ground; kNone for what surely lies above the ground.
using Pair = std::pair<Index, Index>;

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

// What of a line is above 0, of a value linear along it.
std::optional<Line2> partAbove(Line2 line, double atA, double atB) {
  if (atA <= 0 && atB <= 0) return std::nullopt;
  if (atA <= 0 || atB <= 0) (atA > 0 ? line.b : line.a) = line.a + atA / (atA - atB) * (line.b - line.a);
  return line;
}

// A set of pairs, as an open-addressed table.
class PairSet {
 public:
  // Whether it was not there.
  bool insert(const Pair& pair) {
    if (2 * (count_ + 1) > slots_.size()) grow();
    return put(std::uint64_t{pair.first} << 32 | pair.second);
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
    std::vector<std::uint64_t> old(std::max<std::size_t>(512, slots_.size() * 2), kEmpty);
    old.swap(slots_);
    count_ = 0;
    for (const std::uint64_t key : old) {
      if (key != kEmpty) put(key);
    }
  }
  std::vector<std::uint64_t> slots_;
  std::size_t count_ = 0;
};

// What all parts share.
struct Overlay {
  double clearOf(Index b) const;

  const Tin& ground;
  const BatterField& field;
  double sign;
  std::vector<std::uint32_t> partOf;  // per triangle of the field
  std::vector<double> clear;          // likewise: over this height it surely lies above the ground
  std::vector<double> radius;  // how far from its round corner the batter came: each part sets its own triangles'
};

// What lies over a height grows as that goes down, and so does the highest ground under it: between the heights of the
// triangle there is one from which on all is clear.
double Overlay::clearOf(Index b) const {
  const std::array<Vec3, 3> corners = field.tin().corners(b);
  std::array<double, 3> heights;
  for (int k = 0; k < 3; ++k) heights[k] = field.height(b, corners[k].plan());
  const auto isClear = [&](double height) {
    plane::Box box;
    for (int k = 0; k < 3; ++k) {
      const int next = ground::next(k);
      const auto side =
          partAbove({corners[k].plan(), corners[next].plan()}, heights[k] - height, heights[next] - height);
      if (side) box.add(side->a), box.add(side->b);
    }
    const auto under = ground.levels().within(box);
    return !under.ends && height > (sign > 0 ? under.highest : -under.lowest) + kSameHeight;
  };
  // All of it and nothing are told with a margin, as sides may lie level at either height.
  const auto [lowest, highest] = std::ranges::minmax(heights);
  if (isClear(lowest - kSameHeight)) return lowest - 1;
  constexpr int kHalvings = 4;
  double low = lowest, from = highest + 1;
  for (int i = 0; i < kHalvings; ++i) {
    const double middle = 0.5 * (low + std::min(from, highest));
    (isClear(middle) ? from : low) = middle;
  }
  return from;
}

// A stretch of a side of the field, from so far to so far along it.
struct Fold {
  std::uint64_t side;
  double from, to;
  auto operator<=>(const Fold&) const = default;
};

// Those of one side that follow each other as one line.
void addFolds(std::vector<Fold>& folds, const Tin& field, std::vector<Line2>& lines) {
  std::ranges::sort(folds);
  for (std::size_t i = 0; i < folds.size();) {
    auto [side, s, t] = folds[i];
    const Vec2 p = field.plan(static_cast<Index>(side >> 32)), q = field.plan(static_cast<Index>(side));
    const double gap = kTouch / plane::distance(p, q);
    for (++i; i < folds.size() && folds[i].side == side && folds[i].from <= t + gap; ++i) t = std::max(t, folds[i].to);
    lines.push_back({p + s * (q - p), p + t * (q - p)});
  }
}

void takeSteepest(std::optional<Spread::AtEdge>& of, const Spread::AtEdge& place) {
  if (!of || place.run < of->run) of = place;
}

// A part of the field, and what is found over it.
class Part {
 public:
  Part(Overlay& overlay, std::uint32_t number) : all_(&overlay), number_(number) {}

  void add(Index fieldTriangle) { triangles_.push_back(fieldTriangle); }
  // Of all parts, before they begin.
  void lookUnder() {
    for (const Index b : triangles_) all_->clear[b] = all_->clearOf(b);
  }
  // What its crests begin.
  void begin() {
    for (const Index b : triangles_) {
      for (int k = 0; k < 3; ++k) {
        if (all_->field.isCrest(b, k)) enter(b, ends(b, k));
      }
    }
  }
  // A pair beside one that was visited.
  void wait(const Pair& pair) {
    if (seen_.insert(pair)) waiting_.push_back(pair);
  }
  bool waits() const { return !waiting_.empty(); }
  void goOn(const Progress& progress) {
    constexpr std::size_t kGo = 1024;  // pairs between two looks whether to stop
    for (std::size_t n = 0; waits(); ++n) {
      if (n % kGo == 0) progress.check();
      const Pair pair = waiting_.back();
      waiting_.pop_back();
      pair.second == kNone ? pass(pair.first) : visit(pair.first, pair.second);
    }
  }
  // What leads on into other parts, since it was taken last.
  std::vector<Pair> takeBeyond() { return std::exchange(beyond_, {}); }
  // When nothing waits anywhere.
  void finish() { addFolds(folds_, all_->field.tin(), found_.lines); }
  const Spread& found() const { return found_; }
  // Folds along other parts, which these may know as well.
  const std::vector<Fold>& outerFolds() const { return outerFolds_; }

 private:
  struct Differences {
    quantity::Convex shape;
    std::array<double, quantity::Convex::kMost> d;
    bool above = false;
    double highest = -1e300;  // of the field
  };
  struct Pairing {
    Index b, g;
    Sides field, ground;
  };

  Differences compare(Index b, Index g) const;
  Line2 ends(Index b, int k) const;
  void enter(Index b, const Line2& along);
  void enterPairs(Index b, const Line2& along);
  void pass(Index b);
  void visit(Index b, Index g);
  void cross(const Pairing& pair, Vec2 from, Vec2 to);
  void noteFold(Index b, int k, Vec2 from, Vec2 to);
  void reach(const Pair& pair) { all_->partOf[pair.first] == number_ ? wait(pair) : beyond_.push_back(pair); }
  double height(Index b, Vec2 p) const { return all_->field.height(b, p); }
  double overClear(Index b, Vec2 p) const { return height(b, p) - all_->clear[b]; }

  Overlay* all_;
  std::uint32_t number_;
  std::vector<Index> triangles_;  // of the field
  PairSet seen_;
  std::vector<Pair> waiting_, beyond_;
  std::vector<Fold> folds_, outerFolds_;
  Spread found_;
};

Part::Differences Part::compare(Index b, Index g) const {
  Differences r;
  const auto under = all_->ground.corners(g);
  quantity::overlapOfTriangles(quantity::plansOf(under), quantity::plansOf(all_->field.tin().corners(b)), r.shape);
  if (r.shape.n < 3) return r;
  const Plane level = ground::planeOf(under);
  for (int i = 0; i < r.shape.n; ++i) {
    const double own = height(b, r.shape.p[i]);
    r.highest = std::max(r.highest, own);
    r.d[i] = own - all_->sign * level(r.shape.p[i]);
    if (std::abs(r.d[i]) < kSameHeight) r.d[i] = 0;
    r.above |= r.d[i] > 0;
  }
  return r;
}

// Of side k of a triangle of the field.
Line2 Part::ends(Index b, int k) const {
  const Tin& field = all_->field.tin();
  const Triangle& c = field.triangles()[b];
  return {field.plan(c[ground::next(k)]), field.plan(c[ground::before(k)])};
}

// Into a triangle along a line on its border, wherever it lies above the ground there.
void Part::enter(Index b, const Line2& along) {
  const double from = overClear(b, along.a), to = overClear(b, along.b);
  if (from > 0 || to > 0) reach({b, kNone});
  if (const auto rest = partAbove(along, -from, -to)) enterPairs(b, *rest);
}

// Along a line in a triangle or on its border.
void Part::enterPairs(Index b, const Line2& along) {
  all_->ground.index().touching(std::array{along.a, along.b}, kTouch, [&](Index g) {
    const auto under = all_->ground.corners(g);
    const auto part = ground::nearTriangle(along, under, 0);
    if (!part) return;
    const Plane level = ground::planeOf(under);
    const auto above = [&](double at) {
      const Vec2 p = along.a + at * (along.b - along.a);
      return height(b, p) - all_->sign * level(p) > kSameHeight;
    };
    if (above(part->first) || above(part->second)) reach({b, g});
  });
}

// Over what of a triangle surely lies above the ground.
void Part::pass(Index b) {
  const Tin& tin = all_->field.tin();
  const Vec2* corner = all_->field.corner(b);
  found_.any = true;
  std::array<Vec2, 2> cut;
  int cuts = 0;
  for (int k = 0; k < 3; ++k) {
    const Line2 side = ends(b, k);
    const double from = overClear(b, side.a), to = overClear(b, side.b);
    const auto part = partAbove(side, from, to);
    if (!part) continue;
    const auto [p, q] = *part;
    if ((from > 0) != (to > 0) && cuts < 2) cut[cuts++] = from > 0 ? q : p;
    if (corner) all_->radius[b] = std::max({all_->radius[b], plane::distance(*corner, p), plane::distance(*corner, q)});
    if (tin.isBreak(b, k)) noteFold(b, k, p, q);
    if (const Index beyond = tin.neighbours()[b][k]; beyond != kNone) {
      enter(beyond, {p, q});
    } else if (const Vec2 middle = 0.5 * (p + q); !all_->field.isCrest(b, k) && all_->field.atReach(b, middle)) {
      found_.lines.push_back({p, q});
      if (!found_.outOfReach) found_.outOfReach = middle;
    }
  }
  if (cuts == 2) enterPairs(b, {cut[0], cut[1]});
}

void Part::visit(Index b, Index g) {
  const Differences r = compare(b, g);
  if (!r.above) return;
  if (r.highest > all_->clear[b]) reach({b, kNone});
  found_.any = true;
  const Vec2* corner = all_->field.corner(b);
  double radius = 0;
  const int n = r.shape.n;
  std::array<Vec2, 2> zero;
  int zeros = 0;
  const Pairing pair{b, g, {all_->field.tin(), b}, {all_->ground, g}};
  for (int j = n - 1, i = 0; i < n; j = i++) {
    const Vec2 p = r.shape.p[j], q = r.shape.p[i];
    const double dp = r.d[j], dq = r.d[i];
    if (dp > 0 && corner) radius = std::max(radius, plane::distance(*corner, p));
    const auto part = partAbove({p, q}, dp, dq);
    if (!part) continue;
    if ((dp > 0) != (dq > 0) && zeros < 2) zero[zeros++] = dp > 0 ? part->b : part->a;
    cross(pair, part->a, part->b);
  }
  if (zeros == 2) found_.lines.push_back({zero[0], zero[1]});
  all_->radius[b] = std::max(all_->radius[b], radius);
}

// Goes on over the stretch from-to of the border of a pair's overlap.
void Part::cross(const Pairing& pair, Vec2 from, Vec2 to) {
  if (plane::distance(from, to) < 1e-9) return;
  const auto [b, g] = std::pair(pair.b, pair.g);
  const auto isClear = [&](Index of) { return overClear(of, from) > 0 && overClear(of, to) > 0; };
  if (isClear(b)) return;
  const Vec2 middle = 0.5 * (from + to);
  std::array<Index, 4> fields{b}, grounds{g};
  int fieldCount = 1, groundCount = 1;
  bool fieldEnds = false, groundEnds = false, crest = false;
  const Tin& tin = all_->field.tin();
  for (int k = 0; k < 3; ++k) {
    if (pair.field.on(k, middle)) {
      if (tin.neighbours()[b][k] != kNone) {
        fields[fieldCount++] = tin.neighbours()[b][k];
      } else {
        crest |= all_->field.isCrest(b, k);
        fieldEnds |= all_->field.atReach(b, middle);
      }
      if (tin.isBreak(b, k)) noteFold(b, k, from, to);
    }
    if (pair.ground.on(k, middle)) {
      if (all_->ground.neighbours()[g][k] != kNone) {
        grounds[groundCount++] = all_->ground.neighbours()[g][k];
      } else {
        groundEnds = true;
      }
    }
  }
  if (!crest && (groundEnds || fieldEnds)) {
    found_.lines.push_back({from, to});
    if (groundEnds) {
      const double height =
          all_->field.crestHeight(b, middle) - all_->sign * ground::planeOf(all_->ground.corners(g))(middle);
      takeSteepest(found_.outOfGround, {middle, all_->field.distance(b, middle) / std::max(height, 1e-9)});
    }
    if (fieldEnds && !found_.outOfReach) found_.outOfReach = middle;
  }
  for (int i = 0; i < fieldCount; ++i) {
    const bool whole = i > 0 && isClear(fields[i]);
    if (whole) reach({fields[i], kNone});
    for (int j = 0; j < groundCount && !whole; ++j) {
      if (i + j > 0) reach({fields[i], grounds[j]});
    }
  }
}

// Folds are gathered as stretches of field sides, so that the ground's triangles leave no marks on them.
void Part::noteFold(Index b, int k, Vec2 from, Vec2 to) {
  const Tin& field = all_->field.tin();
  const Triangle& c = field.triangles()[b];
  const Index u = std::min(c[ground::next(k)], c[ground::before(k)]),
              v = std::max(c[ground::next(k)], c[ground::before(k)]);
  const Vec2 p = field.plan(u), q = field.plan(v);
  const double length2 = plane::dot(q - p, q - p);
  double s = plane::dot(from - p, q - p) / length2, t = plane::dot(to - p, q - p) / length2;
  if (s > t) std::swap(s, t);
  const Index beyond = field.neighbours()[b][k];
  (beyond == kNone || all_->partOf[beyond] == number_ ? folds_ : outerFolds_)
      .push_back({std::uint64_t{u} << 32 | v, s, t});
}

// The field in parts of a few strips: enough for all cores, large enough to be worth a task of their own.
std::vector<Part> partsOf(Overlay& all) {
  constexpr std::size_t kParts = 32, kMostStrips = 16;
  const std::size_t strips = std::clamp<std::size_t>(all.field.stripCount() / kParts, 1, kMostStrips);
  const std::size_t count = all.field.tin().triangles().size();
  all.partOf.resize(count), all.clear.resize(count), all.radius.resize(count, 0);
  std::vector<Part> parts;
  for (std::uint32_t i = 0; i * strips < all.field.stripCount(); ++i) parts.emplace_back(all, i);
  for (Index b = 0; b < count; ++b) {
    all.partOf[b] = static_cast<std::uint32_t>(all.field.strip(b) / strips);
    parts[all.partOf[b]].add(b);
  }
  return parts;
}

}  // namespace

Spread spreadOver(const Tin& ground, const BatterField& field, double sign, const Progress& progress) {
  Overlay all{ground, field, sign, {}, {}, {}};
  std::vector<Part> parts = partsOf(all);
  const auto each = [&](auto&& work) {
    parallelChunks(parts.size(), 1, progress, [&](std::size_t i, std::size_t, std::size_t) { work(parts[i]); });
  };
  each([](Part& part) { part.lookUnder(); });
  each([&](Part& part) { part.begin(), part.goOn(progress); });
  for (bool goesOn = true; goesOn;) {
    for (Part& part : parts) {
      for (const Pair& pair : part.takeBeyond()) parts[all.partOf[pair.first]].wait(pair);
    }
    goesOn = std::ranges::any_of(parts, &Part::waits);
    if (goesOn) each([&](Part& part) { part.goOn(progress); });
  }
  each([](Part& part) { part.finish(); });
  Spread spread;
  std::vector<Fold> folds;
  for (const Part& part : parts) {
    const Spread& found = part.found();
    spread.any |= found.any;
    spread.lines.insert(spread.lines.end(), found.lines.begin(), found.lines.end());
    if (found.outOfGround) takeSteepest(spread.outOfGround, *found.outOfGround);
    if (!spread.outOfReach) spread.outOfReach = found.outOfReach;
    folds.insert(folds.end(), part.outerFolds().begin(), part.outerFolds().end());
  }
  addFolds(folds, field.tin(), spread.lines);
  for (Index b = 0; b < all.radius.size(); ++b) {
    if (all.radius[b] > 0) spread.corners.push_back({*field.corner(b), all.radius[b]});
  }
  return spread;
}

}  // namespace inselberg::works
