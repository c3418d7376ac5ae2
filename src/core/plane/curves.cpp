// An arc of radius r over the angle w lies r (1 - cos(w/2)) from its chord. Splines are evaluated by de Boor's
// recurrence (C. de Boor, A Practical Guide to Splines) on homogeneous coordinates, and halved where the middle of a
// span is off its chord. A natural cubic through points is a piecewise cubic Hermite curve whose slopes solve the usual
// tridiagonal system.
#include "plane/curves.h"

#include <algorithm>
#include <array>
#include <functional>
#include <numbers>

namespace inselberg::plane {
namespace {

constexpr double kTurn = 2 * std::numbers::pi;

using Homogeneous = std::array<double, 4>;

Vec3 at(const Spline& s, std::size_t span, double t) {
  const std::size_t p = static_cast<std::size_t>(s.degree);
  std::vector<Homogeneous> d(p + 1);
  for (std::size_t j = 0; j <= p; ++j) {
    const std::size_t i = span - p + j;
    const double w = s.weights.empty() ? 1 : s.weights[i];
    d[j] = {s.control[i].x * w, s.control[i].y * w, s.control[i].z * w, w};
  }
  for (std::size_t r = 1; r <= p; ++r) {
    for (std::size_t j = p; j >= r; --j) {
      const std::size_t i = span - p + j;
      const double length = s.knots[i + p - r + 1] - s.knots[i];
      const double a = length > 0 ? (t - s.knots[i]) / length : 0;
      for (std::size_t k = 0; k < 4; ++k) d[j][k] = (1 - a) * d[j - 1][k] + a * d[j][k];
    }
  }
  return {d[p][0] / d[p][3], d[p][1] / d[p][3], d[p][2] / d[p][3]};
}

double distance3(Vec3 a, Vec3 b) {
  return std::hypot(a.x - b.x, a.y - b.y, a.z - b.z);
}
Vec3 plus(Vec3 a, Vec3 b) {
  return {a.x + b.x, a.y + b.y, a.z + b.z};
}
Vec3 minus(Vec3 a, Vec3 b) {
  return {a.x - b.x, a.y - b.y, a.z - b.z};
}
Vec3 scaled(double k, Vec3 a) {
  return {k * a.x, k * a.y, k * a.z};
}

// Appends chords of the curve from t0 to t1 (its start only when there are no points yet), halved at least `least`
// times over.
template <class Curve>
void halved(const Curve& curve, double t0, double t1, int least, double chordError, std::size_t most,
            std::vector<Vec3>& points) {
  const Vec3 start = curve(t0), end = curve(t1);
  if (points.empty()) points.push_back(start);
  const std::function<void(double, Vec3, double, Vec3, int)> halve = [&](double a, Vec3 pa, double b, Vec3 pb,
                                                                         int depth) {
    const double m = (a + b) / 2;
    const Vec3 pm = curve(m);
    const bool split = depth < least || distance3(pm, scaled(0.5, plus(pa, pb))) > chordError;
    if (!split || depth > 12 || points.size() + 1 >= most) {
      points.push_back(pb);
      return;
    }
    halve(a, pa, m, pm, depth + 1);
    halve(m, pm, b, pb, depth + 1);
  };
  halve(t0, start, t1, end, 0);
}

}  // namespace

std::vector<Vec2> ellipseChords(Vec2 centre, Vec2 major, Vec2 minor, double from, double to, double chordError) {
  const double radius = std::max(norm(major), norm(minor));
  const double angle = std::abs(to - from);
  double step = kTurn / 8;
  if (chordError < radius) step = std::min(step, 2 * std::acos(1 - chordError / radius));
  step = std::max(step, kTurn / 512);
  const int n = std::max(1, static_cast<int>(std::ceil(std::min(angle, kTurn) / step - 1e-9)));
  std::vector<Vec2> points;
  points.reserve(static_cast<std::size_t>(n) + 1);
  for (int i = 0; i <= n; ++i) {
    const double t = from + (to - from) * i / n;
    points.push_back(centre + std::cos(t) * major + std::sin(t) * minor);
  }
  return points;
}

std::vector<Vec2> bulgeChords(Vec2 a, Vec2 b, double bulge, double chordError) {
  const Vec2 chord = b - a;
  const double length = norm(chord);
  if (bulge == 0 || !(length > 0) || !std::isfinite(bulge)) return {b};
  const double angle = 4 * std::atan(bulge);
  const double radius = length / (2 * std::sin(angle / 2));  // signed
  const Vec2 left{-chord.y / length, chord.x / length};
  const Vec2 centre = a + 0.5 * chord + (radius * std::cos(angle / 2)) * left;
  const Vec2 arm = a - centre;
  std::vector<Vec2> points = ellipseChords(centre, arm, {-arm.y, arm.x}, 0, angle, chordError);
  points.erase(points.begin());
  points.back() = b;
  return points;
}

bool isSound(const Spline& s) {
  const std::size_t n = s.control.size();
  if (s.degree < 1 || s.degree > 25 || n < static_cast<std::size_t>(s.degree) + 1) return false;
  if (s.knots.size() != n + static_cast<std::size_t>(s.degree) + 1) return false;
  if (!std::is_sorted(s.knots.begin(), s.knots.end())) return false;
  if (!(s.knots[n] > s.knots[static_cast<std::size_t>(s.degree)])) return false;
  return s.weights.empty() ||
         (s.weights.size() == n && std::all_of(s.weights.begin(), s.weights.end(), [](double w) { return w > 0; }));
}

std::vector<Vec3> splineChords(const Spline& s, double chordError, std::size_t most) {
  std::vector<Vec3> points;
  const std::size_t p = static_cast<std::size_t>(s.degree), n = s.control.size();
  for (std::size_t span = p; span < n && points.size() + 1 < most; ++span) {
    if (!(s.knots[span + 1] > s.knots[span])) continue;
    // A line needs no halving; of a curve the middle may lie on its chord by chance.
    halved([&](double t) { return at(s, span, t); }, s.knots[span], s.knots[span + 1], p > 1 ? 2 : 0, chordError, most,
           points);
  }
  return points;
}

std::vector<Vec3> fittedChords(std::span<const Vec3> through, double chordError, std::size_t most) {
  std::vector<Vec3> way(through.begin(), through.end());
  way.erase(std::unique(way.begin(), way.end()), way.end());
  const std::size_t n = way.size();
  if (n < 3) return way;
  std::vector<double> h(n - 1), diagonal(n, 2.0), upper(n, 1.0);
  for (std::size_t i = 0; i + 1 < n; ++i) h[i] = distance3(way[i], way[i + 1]);
  const auto slope = [&](std::size_t i) { return scaled(1 / h[i], minus(way[i + 1], way[i])); };
  std::vector<Vec3> slopes(n);
  slopes[0] = scaled(3, slope(0));
  slopes[n - 1] = scaled(3, slope(n - 2));
  for (std::size_t i = 1; i + 1 < n; ++i) {
    diagonal[i] = 2 * (h[i - 1] + h[i]);
    upper[i] = h[i - 1];
    slopes[i] = plus(scaled(3 * h[i], slope(i - 1)), scaled(3 * h[i - 1], slope(i)));
  }
  for (std::size_t i = 1; i < n; ++i) {
    const double lower = i + 1 < n ? h[i] : 1.0;
    const double f = lower / diagonal[i - 1];
    diagonal[i] -= f * upper[i - 1];
    slopes[i] = minus(slopes[i], scaled(f, slopes[i - 1]));
  }
  slopes[n - 1] = scaled(1 / diagonal[n - 1], slopes[n - 1]);
  for (std::size_t i = n - 1; i-- > 0;) {
    slopes[i] = scaled(1 / diagonal[i], minus(slopes[i], scaled(upper[i], slopes[i + 1])));
  }
  std::vector<Vec3> points;
  for (std::size_t i = 0; i + 1 < n && points.size() + 1 < most; ++i) {
    const auto hermite = [&](double t) {
      const double u = 1 - t;
      return plus(plus(scaled(u * u * (1 + 2 * t), way[i]), scaled(t * t * (1 + 2 * u), way[i + 1])),
                  plus(scaled(t * u * u * h[i], slopes[i]), scaled(-t * t * u * h[i], slopes[i + 1])));
    };
    halved(hermite, 0, 1, 2, chordError, most, points);
  }
  return points;
}

}  // namespace inselberg::plane
