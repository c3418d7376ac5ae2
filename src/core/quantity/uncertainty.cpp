#include "quantity/uncertainty.h"

#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

#include "base/parallel.h"
#include "ground/recut.h"
#include "ground/tin_index.h"
#include "quantity/candidates.h"
#include "quantity/edge_sum.h"
#include "quantity/overlap.h"

namespace inselberg::quantity {
namespace {

using ground::Index;
using ground::kNone;
using ground::Plane;
using ground::Tin;

constexpr double kSame = 1e-7;  // m

// The part of a convex shape where a value linear over it is above zero, given at its corners.
Convex partAbove(const Convex& shape, const std::array<double, Convex::kMost>& value) {
  Convex part;
  for (int i = 0, j = shape.n - 1; i < shape.n; j = i++) {
    const double from = value[static_cast<std::size_t>(j)], to = value[static_cast<std::size_t>(i)];
    if ((from > 0) != (to > 0)) part.add(shape.p[j] + (from / (from - to)) * (shape.p[i] - shape.p[j]));
    if (to > 0) part.add(shape.p[i]);
  }
  return part;
}

Vec2 centroidOf(const Convex& shape) {
  Vec2 sum;
  double twice = 0;
  for (int i = 2; i < shape.n; ++i) {
    const double one = plane::turn(shape.p[0], shape.p[i - 1], shape.p[i]);
    twice += one;
    sum = sum + (one / 3) * (shape.p[0] + shape.p[i - 1] + shape.p[i]);
  }
  return twice > 0 ? (1 / twice) * sum : shape.p[0];
}

// Calls f(triangle, overlap) for the triangles of a ground that lie over a shape. `near` is room for them.
template <class F>
void eachOver(const Tin& tin, const Convex& shape, std::vector<Index>& near, F&& f) {
  near.clear();
  tin.index().touching({shape.p.data(), static_cast<std::size_t>(shape.n)}, 0, [&](Index t) { near.push_back(t); });
  std::sort(near.begin(), near.end());
  near.erase(std::unique(near.begin(), near.end()), near.end());
  const plane::Box box = boxOf(shape);
  for (const Index t : near) {
    const auto c = tin.corners(t);
    plane::Box own;
    for (const plane::Vec3& p : c) own.add(p.plan());
    if (!own.overlaps(box)) continue;
    const Convex both = overlap(shape, c[0].plan(), c[1].plan(), c[2].plan());
    if (both.n >= 3 && area(both) > 0) f(t, both);
  }
}

// What a piece of cut or fill adds to the integral of a survey point's hat function.
struct Share {
  Index point;
  bool fill;
  double integral;
};

// The triangles of the followed ground and of the survey that a triangle lies in, where it lies in one of each: then
// none has to be looked for under its parts. (Grounds are cut along the survey's sides, not across them.)
struct Bed {
  bool known = false;
  Index followed = kNone, survey = kNone;  // kNone: it lies in several
  Plane own, followedLevel;                // the latter where `followed` is one
};

// Takes the shares of pieces, one after the other.
class Taking {
 public:
  Taking(const Tin& from, const Tin& survey, const Tin& followed)
      : from_(from), survey_(survey), followed_(followed), candidates_(from), beds_(from.triangles().size()) {}

  // Of a triangle of the later ground; `same`: the one of the earlier that is alike in plan, if there is any. One that
  // both have counts for nothing.
  void add(const std::array<plane::Vec3, 3>& corners, Index same) {
    if (same != kNone) {
      if (!sameCorners(corners, from_.corners(same)))
        add(triangleShape(corners[0].plan(), corners[1].plan(), corners[2].plan()), same, ground::planeOf(corners));
      return;
    }
    constexpr double kRounding = 1e-9;  // of an area
    const auto plans = plansOf(corners);
    const Convex shape = triangleShape(plans[0], plans[1], plans[2]);
    const double whole = area(shape);
    const Plane level = ground::planeOf(corners);
    double covered = 0;
    const auto take = [&](Index u) {
      overlapOfTriangles(plans, plansOf(from_.corners(u)), both_);
      if (both_.n < 3) return false;
      covered += area(both_);
      add(both_, u, level);
      return true;
    };
    candidates_.flood(boxOf(shape), centroidOf(shape), take);
    if (!(std::abs(covered - whole) <= kRounding * whole)) candidates_.rest(shape, take);
  }

  // The shares since they were taken last; what comes next does not depend on what was before.
  std::vector<Share> take() {
    candidates_.beginAnew();
    return std::exchange(shares_, {});
  }

 private:
  // A piece in triangle u of the earlier ground, over which the later is a plane.
  void add(const Convex& piece, Index u, const Plane& to) {
    const Bed& bed = bedOf(u);
    const Plane& from = bed.own;
    const Plane d{from.at, to(from.at) - from.level, to.gradient - from.gradient};
    std::array<double, Convex::kMost> above;
    bool rises = false, falls = false;
    for (int i = 0; i < piece.n; ++i) {
      const double at = d(piece.p[static_cast<std::size_t>(i)]);
      above[static_cast<std::size_t>(i)] = at;
      rises |= at > 0, falls |= at < 0;
    }
    if (rises != falls) return add(piece, bed, to, rises);
    if (!rises) return;
    add(partAbove(piece, above), bed, to, true);
    for (int i = 0; i < piece.n; ++i) above[static_cast<std::size_t>(i)] *= -1;
    add(partAbove(piece, above), bed, to, false);
  }

  // A part of it that is cut or fill alone.
  void add(const Convex& part, const Bed& bed, const Plane& to, bool fill) {
    if (part.n < 3) return;
    const Vec2 c = centroidOf(part);
    const auto level = bed.followed != kNone ? std::optional(bed.followedLevel(c)) : levelFollowed(c);
    if (!level) return;
    const int weight = (std::abs(to(c) - *level) < kSame ? 1 : 0) - (std::abs(bed.own(c) - *level) < kSame ? 1 : 0);
    if (weight == 0) return;
    if (bed.survey != kNone) return spread(bed.survey, part, weight, fill);
    eachOver(survey_, part, near_, [&](Index t, const Convex& both) { spread(t, both, weight, fill); });
  }

  std::optional<double> levelFollowed(Vec2 p) {
    const Index t = followed_.locate(p, nearFollowed_);
    return t != kNone ? std::optional(ground::planeOf(followed_.corners(t))(p)) : std::nullopt;
  }

  const Bed& bedOf(Index u) {
    Bed& bed = beds_[u];
    if (bed.known) return bed;
    bed.known = true;
    const auto corners = from_.corners(u);
    const auto holding = [&](const Tin& tin, Index& near) {
      if (&tin == &from_) return u;
      const Index t = tin.locate(ground::centroid(from_, u), near);
      if (t == kNone) return kNone;
      const auto c = tin.corners(t);
      for (const int k : {0, 1, 2}) {
        const Vec2 a = c[static_cast<std::size_t>(k)].plan(), b = c[static_cast<std::size_t>(ground::next(k))].plan();
        for (const plane::Vec3& p : corners) {
          if (plane::turn(a, b, p.plan()) < -ground::kSnap * plane::distance(a, b)) return kNone;
        }
      }
      return t;
    };
    bed.followed = holding(followed_, nearFollowed_), bed.survey = holding(survey_, nearSurvey_);
    bed.own = ground::planeOf(corners);
    if (bed.followed != kNone) bed.followedLevel = ground::planeOf(followed_.corners(bed.followed));
    return bed;
  }

  // The hat functions of a triangle's corners are linear: their integrals are their values at the centroid times the
  // area.
  void spread(Index t, const Convex& shape, double weight, bool fill) {
    const auto c = survey_.corners(t);
    const Vec2 p = centroidOf(shape);
    const double whole = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    if (!(whole > 0)) return;
    const double size = weight * area(shape);
    for (int k = 0; k < 3; ++k) {
      const double share = plane::turn(c[static_cast<std::size_t>(ground::next(k))].plan(),
                                       c[static_cast<std::size_t>(ground::before(k))].plan(), p) /
                           whole;
      shares_.push_back({survey_.triangles()[t][static_cast<std::size_t>(k)], fill, size * share});
    }
  }

  const Tin &from_, &survey_, &followed_;
  Index nearFollowed_ = kNone, nearSurvey_ = kNone;  // where places were found before
  Candidates candidates_;
  std::vector<Bed> beds_;  // by triangle of the earlier ground
  std::vector<Share> shares_;
  Convex both_;
  std::vector<Index> near_;
};

class Sums {
 public:
  explicit Sums(std::size_t points) : cut_(points), fill_(points) {}

  void add(const std::vector<Share>& shares) {
    for (const Share& share : shares) (share.fill ? fill_ : cut_)[share.point] += share.integral;
  }

  Uncertainty result(const SurveyAccuracy& accuracy) const {
    const auto of = [&](const auto& integral) {
      double sum = 0;
      std::vector<double> together(accuracy.systematic.size(), 0);
      for (std::size_t i = 0; i < cut_.size(); ++i) {
        const double a = integral(i);
        sum += accuracy.random[i] * a * accuracy.random[i] * a;
        together[accuracy.source[i]] += a;
      }
      for (std::size_t s = 0; s < together.size(); ++s) {
        const double a = accuracy.systematic[s] * together[s];
        sum += a * a;
      }
      constexpr double kTwoSided95 = 1.96;
      return kTwoSided95 * std::sqrt(sum);
    };
    return {of([&](std::size_t i) { return cut_[i]; }), of([&](std::size_t i) { return fill_[i]; }),
            of([&](std::size_t i) { return cut_[i] + fill_[i]; })};
  }

 private:
  std::vector<double> cut_, fill_;
};

}  // namespace

Uncertainty uncertaintyOf(const Tin& from, const Tin& to, const Tin& survey, const Tin& followed,
                          const SurveyAccuracy& accuracy, const Progress& progress) {
  for (const Tin* tin : {&from, &survey, &followed}) tin->index();
  const std::vector<Index> same = sharedTriangles(to, from, progress);
  tbb::enumerable_thread_specific<Taking> takings([&] { return Taking(from, survey, followed); });
  const auto parts =
      parallelMap<std::vector<Share>>(to.triangles().size(), 512, progress, [&](std::size_t begin, std::size_t end) {
        Taking& taking = takings.local();
        for (Index t = static_cast<Index>(begin); t < end; ++t) taking.add(to.corners(t), same[t]);
        return taking.take();
      });
  Sums sums(survey.points().size());
  for (const auto& part : parts) sums.add(part);
  return sums.result(accuracy);
}

}  // namespace inselberg::quantity
