#include "relief/camera.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace inselberg::app {
namespace {

double radians(double degrees) {
  return degrees * std::numbers::pi / 180;
}
Vec3 operator+(const Vec3& a, const Vec3& b) {
  return {a.x + b.x, a.y + b.y, a.z + b.z};
}
Vec3 operator-(const Vec3& a, const Vec3& b) {
  return {a.x - b.x, a.y - b.y, a.z - b.z};
}
Vec3 operator*(double k, const Vec3& a) {
  return {k * a.x, k * a.y, k * a.z};
}
double dot(const Vec3& a, const Vec3& b) {
  return a.x * b.x + a.y * b.y + a.z * b.z;
}

}  // namespace

Camera::Axes Camera::axes() const {
  const double b = radians(bearing), t = radians(tilt);
  return {{std::cos(b), -std::sin(b), 0},
          {std::sin(b) * std::sin(t), std::cos(b) * std::sin(t), std::cos(t)},
          {std::sin(b) * std::cos(t), std::cos(b) * std::cos(t), -std::sin(t)}};
}

Vec3 Camera::eye() const {
  return target - distance * axes().ahead;
}

double Camera::nearest() const {
  return std::max(0.05, distance / 50);
}

double Camera::farthest(double reach) const {
  return std::max(reach, 2 * nearest());
}

QMatrix4x4 Camera::matrix(const Vec3& middle, double reach) const {
  const Axes a = axes();
  const Vec3 e = eye() - middle;
  const auto f = [](double v) { return static_cast<float>(v); };
  const QMatrix4x4 look(f(a.right.x), f(a.right.y), f(a.right.z), f(-dot(a.right, e)),  //
                        f(a.up.x), f(a.up.y), f(a.up.z), f(-dot(a.up, e)),              //
                        f(-a.ahead.x), f(-a.ahead.y), f(-a.ahead.z), f(dot(a.ahead, e)), 0, 0, 0, 1);
  QMatrix4x4 project;
  project.perspective(f(kAngle), f(size.width() / std::max(size.height(), 1.0)), f(nearest()), f(farthest(reach)));
  return project * look;
}

double Camera::ahead(const Vec3& place) const {
  return dot(place - eye(), axes().ahead);
}

double Camera::metresPerPixel(double ahead) const {
  return 2 * ahead * std::tan(radians(kAngle / 2)) / std::max(size.height(), 1.0);
}

std::optional<QPointF> Camera::toScreen(const Vec3& place) const {
  const Axes a = axes();
  const Vec3 d = place - eye();
  const double ahead = dot(d, a.ahead);
  if (ahead <= 0) return std::nullopt;
  const double per = metresPerPixel(ahead);
  return QPointF(size.width() / 2 + dot(d, a.right) / per, size.height() / 2 - dot(d, a.up) / per);
}

Vec3 Camera::at(QPointF pixel, double ahead) const {
  const Axes a = axes();
  const double per = metresPerPixel(ahead);
  return eye() + ahead * a.ahead + per * (pixel.x() - size.width() / 2) * a.right +
         per * (size.height() / 2 - pixel.y()) * a.up;
}

void Camera::turn(double bearingBy, double tiltBy) {
  bearing = std::fmod(std::fmod(bearing + bearingBy, 360) + 360, 360);
  tilt = std::clamp(tilt + tiltBy, -kMostTilt, kMostTilt);
}

void Camera::pan(QPointF by) {
  const double b = radians(bearing), per = metresPerPixel(distance);
  // Towards the horizon a pixel is long on the land; not endlessly so.
  const double along = per / std::max(std::abs(std::sin(radians(tilt))), 0.2) * (tilt < 0 ? -1 : 1);
  const Vec3 right{std::cos(b), -std::sin(b), 0}, away{std::sin(b), std::cos(b), 0};
  target = target - per * by.x() * right + along * by.y() * away;
}

void Camera::zoom(double factor, const Vec3& to) {
  const double nearer = std::clamp(distance / factor, 0.5, 1e5);
  target = to + (nearer / distance) * (target - to);
  distance = nearer;
}

void Camera::fit(const plane::Box& box, double low, double high) {
  if (box.empty()) return;
  const plane::Vec2 middle = box.centre();
  target = {middle.x, middle.y, (low + high) / 2};
  distance = 1;
  // As near as all corners allow, with a little air around.
  const Axes a = axes();
  const double air = 0.92 * std::tan(radians(kAngle / 2));
  const double wide = air * size.width() / std::max(size.height(), 1.0);
  double needed = 1;
  eachCorner(box, low, high, [&](const Vec3& corner) {
    const Vec3 d = corner - target;
    needed = std::max(
        {needed, std::abs(dot(d, a.right)) / wide - dot(d, a.ahead), std::abs(dot(d, a.up)) / air - dot(d, a.ahead)});
  });
  distance = std::clamp(needed, 0.5, 1e5);
}

}  // namespace inselberg::app
