#include "works/pond_storage.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "ground/recut.h"
#include "ground/stamp.h"
#include "plane/polygon.h"
#include "works/tops.h"

namespace inselberg::works {
namespace {

// The hollow over the lowest corner of a pond: from just beside it, in its largest facet. Of its bottom, or else of its
// legs, where they do not come down to it: batters outside may lie lower.
std::optional<ground::Hollow> hollowOf(const Placement& placement, const ground::Tin& after, const Progress& progress) {
  constexpr double kLow = 1e-6, kBeside = 1e-3;  // m
  ground::TinPtr inside = topAndMarginOf(placement);
  if (inside->empty()) inside = topAndLegsOf(placement);
  if (inside->empty()) return std::nullopt;
  const ground::Tin& facets = *inside;
  Vec2 place;
  double largest = -1;
  for (ground::Index t = 0; t < facets.triangles().size(); ++t) {
    const auto c = facets.corners(t);
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    const Vec3& lowest = *std::min_element(c.begin(), c.end(), [](const Vec3& p, const Vec3& q) { return p.z < q.z; });
    if (lowest.z > facets.minLevel() + kLow || area <= largest) continue;
    largest = area;
    const Vec2 inwards = ground::centroid(facets, t) - lowest.plan();
    place = lowest.plan() + std::min(1.0, kBeside / std::max(plane::norm(inwards), 1e-12)) * inwards;
  }
  return largest < 0 ? std::nullopt : ground::hollowAt(after, place, progress);
}

double heldBy(const Pond& pond, const ground::Hollow& hollow, const ground::Tin& after) {
  const double level = pond.hasWater() ? std::min(pond.water, hollow.rim) : hollow.rim;
  return ground::storageAt(after, hollow, level).volume;
}

// Larger the larger x is; itself at 0.
Pond changed(const Pond& pond, SizeBy by, double x) {
  Pond other = pond;
  if (by == SizeBy::outline) {
    const Vec2 middle = plane::centroid(pond.outline);
    for (Vec2& p : other.outline) p = middle + std::exp(x) * (p - middle);
  } else if (pond.drawn == PondDrawn::bottom) {
    other.top += x, other.water += x;
  } else {
    other.bottom -= x;
  }
  return other;
}

// The least and greatest x worth trying.
std::pair<double, double> limitsOf(const Pond& pond, SizeBy by) {
  constexpr double kDeepest = 100, kShallowest = 0.05, kTimes = 20;  // m, m, 1
  if (by == SizeBy::outline) return {-std::log(kTimes), std::log(kTimes)};
  const double surface = pond.hasWater() ? std::min(pond.water, pond.top) : pond.top;
  return {kShallowest - (surface - pond.bottom) + pond.benchHeight * (pond.benchWidth > 0), kDeepest};
}

}  // namespace

std::optional<PondStorage> storageOf(const Pond& pond, const Placement& placement, const ground::Tin& after,
                                     const Progress& progress) {
  const auto hollow = hollowOf(placement, after, progress);
  if (!hollow) return std::nullopt;
  PondStorage storage{*hollow, ground::storageTable(after, *hollow, 0.1), {}, heldBy(pond, *hollow, after)};
  if (pond.hasWater()) storage.water = pond.water;
  return storage;
}

SizedPond sizedFor(const Pond& pond, double volume, SizeBy by, const ground::Tin& under, const plane::Origin& origin,
                   const Progress& progress) {
  constexpr int kMost = 60;
  int tries = 0;
  const auto held = [&](double x) {
    progress.report("sizing the pond", std::min(0.95, ++tries / 16.0));
    const Pond other = changed(pond, by, x);
    const Placement placement = place(other, under, origin, progress);
    const auto after = ground::stamp(under, *placement.facets, progress);
    const auto hollow = hollowOf(placement, *after, progress);
    return hollow ? heldBy(other, *hollow, *after) : 0.0;
  };
  SizedPond best;
  double nearest = 1e300;
  // Whether that was near enough; what is held less what is asked.
  const auto attempt = [&](double x, double& excess) {
    const double now = held(x);
    excess = now - volume;
    if (std::abs(excess) < nearest) nearest = std::abs(excess), best = {changed(pond, by, x), now, false};
    return best.reached = nearest <= std::max(1e-4 * volume, 0.01);
  };
  double low = 0, high = 0, atLow = 0, atHigh = 0;
  if (attempt(0, atLow)) return best;
  atHigh = atLow;
  const auto [least, most] = limitsOf(pond, by);
  // Outwards until it is between.
  for (double step = by == SizeBy::outline ? 0.1 : 0.25; atLow > 0 || atHigh < 0; step *= 2) {
    double& end = atLow > 0 ? low : high;
    double& value = atLow > 0 ? atLow : atHigh;
    const double next = std::clamp(end + (atLow > 0 ? -step : step), least, most);
    if (next == end) return best;
    (atLow > 0 ? high : low) = end, (atLow > 0 ? atHigh : atLow) = value;
    end = next;
    try {
      if (attempt(next, value)) return best;
    } catch (const Error&) {  // no pond any more
      return best;
    }
  }
  // By the secant, and by halving when one end stays too long.
  for (int side = 0; tries < kMost && high - low > 1e-9;) {
    double x = low + (high - low) * atLow / (atLow - atHigh);
    if (std::abs(side) >= 3 || !(x > low && x < high)) x = (low + high) / 2, side = 0;
    double excess = 0;
    if (attempt(x, excess)) return best;
    if (excess < 0) {
      low = x, atLow = excess, side = std::max(0, side) + 1;
    } else {
      high = x, atHigh = excess, side = std::min(0, side) - 1;
    }
  }
  return best;
}

}  // namespace inselberg::works
