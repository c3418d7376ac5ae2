#include "works/hachures.h"

#include <cmath>

#include "plane/boxes.h"

namespace inselberg::works {
namespace {

constexpr double kSpacing = 9;    // pixels between strokes
constexpr double kLongest = 600;  // pixels
constexpr double kShortest = 4;

// The facet of a batter at p; kNone where there is none.
ground::Index batterAt(const Placement& placement, Vec2 p) {
  const ground::Index t = placement.facets->locate(p);
  return t != ground::kNone && isBatter(placement.kinds[t]) ? t : ground::kNone;
}

// Whether a batter lies at p that goes up or down in a direction more than across it, as where another side's begins at
// a corner that turns in. A level bench counts.
bool goesOn(const Placement& placement, Vec2 p, Vec2 out) {
  const ground::Index t = batterAt(placement, p);
  if (t == ground::kNone) return false;
  const Vec2 gradient = ground::planeOf(placement.facets->corners(t)).gradient;
  return std::abs(plane::dot(gradient, out)) >= 0.5 * plane::norm(gradient);
}

}  // namespace

double batterReach(const Placement& placement, Vec2 foot, Vec2 out, double step, double longest) {
  double reach = 0;
  for (double t = step; t < longest && goesOn(placement, foot + t * out, out); t += step) reach = t;
  return reach;
}

std::vector<HachureStroke> hachuresOf(const Placement& placement, double scale, const plane::Box& area) {
  std::vector<HachureStroke> strokes;
  const auto stroke = [&](Vec2 foot, Vec2 out, bool isLong) {
    const ground::Index t = batterAt(placement, foot + (0.5 / scale) * out);
    if (t == ground::kNone) return;
    const double reach = batterReach(placement, foot, out, 2 / scale, kLongest / scale);
    if (reach * scale < kShortest) return;
    const bool cut = placement.kinds[t] == FacetKind::cutBatter;
    const double part = (isLong ? 0.92 : 0.45) * reach;
    const Vec2 top = cut ? foot + reach * out : foot;
    strokes.push_back({top, top + (cut ? -part : part) * out, cut, isLong});
  };
  const double spacing = kSpacing / scale;
  for (const Line3& crest : placement.crests) {
    double before = 0;  // m of the crest passed
    for (std::size_t i = 0; i + (crest.closed ? 0 : 1) < crest.points.size(); ++i) {
      const Vec2 a = crest.points[i].plan(), b = crest.points[(i + 1) % crest.points.size()].plan();
      const double length = plane::distance(a, b);
      if (!(length > 0)) continue;
      const auto [first, last] = plane::insideBox(a, b, area);
      const Vec2 u = (1 / length) * (b - a), right{u.y, -u.x};
      // Strokes stand at half a spacing and every whole one after that, counted from the beginning of the crest.
      for (auto k = static_cast<long>(std::ceil((before + first * length) / spacing - 0.5));
           (static_cast<double>(k) + 0.5) * spacing < before + last * length; ++k) {
        const Vec2 foot = a + ((static_cast<double>(k) + 0.5) * spacing - before) * u;
        stroke(foot, right, k % 2 == 0);
        stroke(foot, -1.0 * right, k % 2 == 0);
      }
      before += length;
    }
  }
  return strokes;
}

}  // namespace inselberg::works
