// Method of the affine fit: both sides are taken from their means, so that large coordinates cost no digits; the two
// by two system of what is left is solved for each row.
#include "sheet/fit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/error.h"

namespace inselberg::sheet {
namespace {

// Points narrower than this share of their length lie on one line.
constexpr double kNarrow = 1e-5;

struct Centred {
  Vec2 page, ground;  // the means
  std::vector<Control> rest;
};

Centred centred(std::span<const Control> controls) {
  Centred c;
  const double share = 1 / static_cast<double>(controls.size());
  for (const Control& control : controls) {
    c.page = c.page + share * control.page;
    c.ground = c.ground + share * control.ground;
  }
  for (const Control& control : controls) c.rest.push_back({control.page - c.page, control.ground - c.ground});
  return c;
}

// The lesser extent of points around their mean, over the greater one.
double narrowness(const std::vector<Control>& points, Vec2 Control::*which) {
  double xx = 0, xy = 0, yy = 0;
  for (const Control& p : points) {
    const Vec2 v = p.*which;
    xx += v.x * v.x, xy += v.x * v.y, yy += v.y * v.y;
  }
  const double middle = (xx + yy) / 2, half = std::hypot((xx - yy) / 2, xy);
  // The lesser one by the determinant: their difference would lose it in rounding.
  const double greater = middle + half, lesser = greater > 0 ? std::max(xx * yy - xy * xy, 0.0) / greater : 0;
  return greater > 0 ? std::sqrt(lesser / greater) : 0;
}

void requireApart(std::span<const Control> controls) {
  double reach = 0, groundReach = 0;
  for (const Control& c : controls) {
    reach = std::max(reach, plane::distance(c.page, controls.front().page));
    groundReach = std::max(groundReach, plane::distance(c.ground, controls.front().ground));
  }
  for (std::size_t i = 0; i < controls.size(); ++i) {
    for (std::size_t k = 0; k < i; ++k) {
      const bool onPage = plane::distance(controls[i].page, controls[k].page) <= 1e-9 * reach;
      if (!onPage && plane::distance(controls[i].ground, controls[k].ground) > 1e-9 * groundReach) continue;
      throw Error(
          fmt::format("points {} and {} are at one place {}", k + 1, i + 1, onPage ? "of the sheet" : "on the ground"),
          "give points that lie well apart");
    }
  }
}

// The linear part that carries the points of the page to those on the ground.
Placement linearPart(const std::vector<Control>& points) {
  double xx = 0, xy = 0, yy = 0, ex = 0, ey = 0, nx = 0, ny = 0;
  for (const auto& [p, g] : points) {
    xx += p.x * p.x, xy += p.x * p.y, yy += p.y * p.y;
    ex += g.x * p.x, ey += g.x * p.y, nx += g.y * p.x, ny += g.y * p.y;
  }
  const double det = xx * yy - xy * xy;
  return {(ex * yy - ey * xy) / det, (ey * xx - ex * xy) / det, 0,
          (nx * yy - ny * xy) / det, (ny * xx - nx * xy) / det, 0};
}

}  // namespace

Placement Placement::inverse() const {
  const double det = determinant();
  const Placement back{e / det, -b / det, 0, -d / det, a / det, 0};
  const Vec2 zero = back({c, f});
  return {back.a, back.b, -zero.x, back.d, back.e, -zero.y};
}

double Placement::metresX() const {
  return std::hypot(a, d);
}

double Placement::metresY() const {
  return std::hypot(b, e);
}

Placement Placement::turned(double degrees, Vec2 about) const {
  // Quarters exactly, so that four of them are none.
  const double quarters = degrees / 90;
  const bool even = quarters == std::round(quarters);
  const double angle = degrees * std::numbers::pi / 180;
  const double co = even ? std::round(std::cos(angle)) : std::cos(angle),
               si = even ? std::round(std::sin(angle)) : std::sin(angle);
  return {co * a - si * d, co * b - si * e, about.x + co * (c - about.x) - si * (f - about.y),
          si * a + co * d, si * b + co * e, about.y + si * (c - about.x) + co * (f - about.y)};
}

double Placement::rotation() const {
  const double degrees = std::atan2(d, a) * 180 / std::numbers::pi;
  return degrees <= -180 ? 180 : degrees + 0.0;
}

Placement byScale(double scaleX, double scaleY, Vec2 mmPerUnit) {
  return {scaleX * mmPerUnit.x / 1000, 0, 0, 0, scaleY * mmPerUnit.y / 1000, 0};
}

namespace {

// The squares of both scales times these are the square of the length: 1 by shares of it.
struct LengthRow {
  double x, y;
};
LengthRow rowOf(const KnownLength& length) {
  const Vec2 d = length.to - length.from;
  return {d.x * d.x / (length.metres * length.metres), d.y * d.y / (length.metres * length.metres)};
}

struct LengthSystem {
  double xx = 0, xy = 0, yy = 0, x = 0, y = 0;
  double determinant() const { return xx * yy - xy * xy; }
  // Directions less than about 6 degrees from each other tell one scale.
  bool tellsBoth() const { return determinant() > 1e-3 * (xx + yy) * (xx + yy); }
};
LengthSystem systemOf(std::span<const KnownLength> lengths) {
  LengthSystem s;
  for (const KnownLength& length : lengths) {
    const auto [x, y] = rowOf(length);
    s.xx += x * x, s.xy += x * y, s.yy += y * y, s.x += x, s.y += y;
  }
  return s;
}

}  // namespace

bool tellBoth(std::span<const KnownLength> lengths) {
  return systemOf(lengths).tellsBoth();
}

Placement byLengths(std::span<const KnownLength> lengths) {
  if (lengths.empty()) throw Error("no length is known", "click the ends of a length and type how long it is");
  for (const KnownLength& length : lengths) {
    if (!(length.metres > 0) || plane::distance(length.from, length.to) <= 0)
      throw Error("a length is zero", "click two places that lie apart, and type the metres between them");
  }
  const LengthSystem s = systemOf(lengths);
  if (!s.tellsBoth()) {
    // Even scales: the square of the length on the page is the same along any direction.
    double squares = 0, sum = 0;
    for (const KnownLength& length : lengths) {
      const auto [x, y] = rowOf(length);
      squares += (x + y) * (x + y), sum += x + y;
    }
    const double scale = std::sqrt(sum / squares);
    return {scale, 0, 0, 0, scale, 0};
  }
  const double x = (s.x * s.yy - s.y * s.xy) / s.determinant(), y = (s.y * s.xx - s.x * s.xy) / s.determinant();
  if (!(x > 0 && y > 0)) throw Error("no scales fit these lengths", "look for one that is mistyped");
  return {std::sqrt(x), 0, 0, 0, std::sqrt(y), 0};
}

double disagreement(const Placement& placement, const KnownLength& length) {
  return plane::distance(placement(length.from), placement(length.to)) / length.metres - 1;
}

Fit fitTo(std::span<const Control> controls) {
  if (controls.size() < 2)
    throw Error("one point does not place a sheet", "give two or more points, each on the sheet and on the ground");
  requireApart(controls);
  const Centred from = centred(controls);
  Fit fit;
  if (controls.size() == 2) {
    // As complex numbers: the ground is the page times a + d i.
    const Vec2 p = from.rest[1].page, g = from.rest[1].ground;
    const double square = plane::dot(p, p), a = plane::dot(p, g) / square, d = plane::cross(p, g) / square;
    fit.placement = {a, -d, 0, d, a, 0};
  } else {
    if (narrowness(from.rest, &Control::page) < kNarrow || narrowness(from.rest, &Control::ground) < kNarrow)
      throw Error("the points lie on one line", "give one more, well off that line");
    fit.placement = linearPart(from.rest);
  }
  const Vec2 moved = fit.placement(from.page);
  fit.placement.c = from.ground.x - moved.x;
  fit.placement.f = from.ground.y - moved.y;
  double squares = 0;
  Placement linear = fit.placement;
  linear.c = linear.f = 0;
  for (const auto& [p, g] : from.rest) {
    fit.residuals.push_back(plane::distance(linear(p), g));
    squares += fit.residuals.back() * fit.residuals.back();
  }
  fit.rms = std::sqrt(squares / static_cast<double>(controls.size()));
  return fit;
}

std::vector<std::string> doubtsOf(const Placement& placement) {
  std::vector<std::string> doubts;
  const double x = placement.metresX(), y = placement.metresY();
  if (std::abs(x / y - 1) > kUnlikeScales)
    doubts.push_back(
        fmt::format("The scales along the sheet and up it differ by {:.1f} %.", std::abs(x / y - 1) * 100));
  const double off =
      std::asin(std::clamp((placement.a * placement.b + placement.d * placement.e) / (x * y), -1.0, 1.0)) * 180 /
      std::numbers::pi;
  if (std::abs(off) > 0.2)
    doubts.push_back(fmt::format("The sheet's sides are {:.1f}° off a right angle.", std::abs(off)));
  if (placement.determinant() < 0) doubts.push_back("The sheet is mirrored: a point may be mistyped.");
  return doubts;
}

}  // namespace inselberg::sheet
