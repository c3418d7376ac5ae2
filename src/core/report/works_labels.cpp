#include "report/works_labels.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "works/hachures.h"

namespace inselberg::report {

using plane::Box;
using plane::Vec2;
using plane::Vec3;
using project::PlacedWorks;

namespace {

ground::Index facetAt(const PlacedWorks& works, Vec2 p) {
  const ground::Tin& facets = *works.placement->facets;
  return facets.bounds().contains(p) ? facets.locate(p) : ground::kNone;
}

Vec2 upright(Vec2 along) {
  return along.x < -1e-12 || (along.x < 1e-12 && along.y < 0) ? Vec2{-along.x, -along.y} : along;
}

// In the middle of the batter that goes out from a place on a crest.
std::optional<SlopeLabel> slopeBeside(const WorksInSight& works, const PlacedWorks& of, Vec2 foot, Vec2 out,
                                      double mm) {
  const double reach = works::batterReach(*of.placement, foot, out, 0.5 * mm, 200 * mm);
  if (reach < 3 * mm) return std::nullopt;
  const Vec2 middle = foot + (0.5 * reach) * out;
  const ground::Index t = facetAt(of, middle);
  if (t == ground::kNone || !works.shows(of, middle)) return std::nullopt;
  const Vec2 gradient = ground::planeOf(of.placement->facets->corners(t)).gradient;
  const double steep = std::abs(plane::dot(gradient, out));
  // What runs across is the batter of another stretch.
  if (!(steep > 0.02) || steep < 0.7 * plane::norm(gradient)) return std::nullopt;
  return SlopeLabel{middle, upright(plane::rightOf(out)), fmt::format("{:g}:1", std::round(10 / steep) / 10)};
}

// Whether a line turns by enough at one of its points to be a corner there; an end is one.
bool isCorner(const works::Line3& line, std::size_t i) {
  constexpr double kTurn = 15 * std::numbers::pi / 180;
  const std::size_t n = line.points.size();
  if (!line.closed && (i == 0 || i + 1 == n)) return true;
  const Vec2 here = line.points[i].plan(), before = here - line.points[(i + n - 1) % n].plan(),
             after = line.points[(i + 1) % n].plan() - here;
  return std::abs(std::atan2(plane::cross(before, after), plane::dot(before, after))) >= kTurn;
}

}  // namespace

bool WorksInSight::shows(const PlacedWorks& of, Vec2 p) const {
  for (auto w = works_.rbegin(); w != works_.rend() && &*w != &of; ++w) {
    if (facetAt(*w, p) != ground::kNone) return false;
  }
  return true;
}

bool WorksInSight::onBatter(Vec2 p) const {
  for (auto w = works_.rbegin(); w != works_.rend(); ++w) {
    const ground::Index t = facetAt(*w, p);
    if (t != ground::kNone) return works::isBatter(w->placement->kinds[t]);
  }
  return false;
}

std::vector<SlopeLabel> slopeLabels(const WorksInSight& works, double mm, const Box& box) {
  std::vector<SlopeLabel> labels;
  for (const PlacedWorks& w : works.works()) {
    if (!w.placement->facets->bounds().overlaps(box)) continue;
    for (const works::Line3& crest : w.placement->crests) {
      for (std::size_t i = 0; i + (crest.closed ? 0 : 1) < crest.points.size(); ++i) {
        const Vec2 a = crest.points[i].plan(), b = crest.points[(i + 1) % crest.points.size()].plan();
        const double length = plane::distance(a, b);
        if (length < 14 * mm) continue;
        const Vec2 right = plane::rightOf((1 / length) * (b - a));
        for (const double side : {1.0, -1.0}) {
          for (const double along : {0.5, 0.25, 0.75}) {
            const Vec2 foot = a + along * (b - a);
            const auto label = box.contains(foot) ? slopeBeside(works, w, foot, side * right, mm) : std::nullopt;
            if (!label) continue;
            labels.push_back(*label);
            break;
          }
        }
      }
    }
  }
  return labels;
}

std::vector<Vec3> crestCorners(const WorksInSight& works, double mm, const Box& box) {
  std::vector<Vec3> corners;
  for (const PlacedWorks& w : works.works()) {
    if (!w.placement->facets->bounds().overlaps(box)) continue;
    for (const works::Line3& crest : w.placement->crests) {
      for (std::size_t i = 0; i < crest.points.size(); ++i) {
        const Vec3 p = crest.points[i];
        if (!box.contains(p.plan()) || !isCorner(crest, i) || !works.shows(w, p.plan())) continue;
        const bool told = std::any_of(corners.begin(), corners.end(), [&](const Vec3& q) {
          return plane::distance(q.plan(), p.plan()) < 3 * mm && std::abs(q.z - p.z) < 0.02;
        });
        if (!told) corners.push_back(p);
      }
    }
  }
  return corners;
}

std::vector<Vec2> besideCorner(Vec2 corner, double half, double mm) {
  std::vector<Vec2> places;
  for (const Vec2 side : {Vec2{1, 1}, {-1, 1}, {1, -1}, {-1, -1}})
    places.push_back(corner + Vec2{side.x * (half + 1.2 * mm), side.y * 1.8 * mm});
  return places;
}

}  // namespace inselberg::report
