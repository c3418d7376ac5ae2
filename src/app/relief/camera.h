// Where the relief is looked at from, and the way from places to pixels and back. Places are metres, with levels as
// drawn: raised or not is the caller's affair.
#pragma once

#include <QMatrix4x4>
#include <QPointF>
#include <QSizeF>
#include <optional>

#include "plane/geometry.h"

namespace inselberg::app {

using plane::Vec3;

// Calls f(corner) for the eight corners of a box between two levels.
template <class F>
void eachCorner(const plane::Box& box, double low, double high, F&& f) {
  for (const double x : {box.minX, box.maxX}) {
    for (const double y : {box.minY, box.maxY}) {
      for (const double z : {low, high}) f(Vec3{x, y, z});
    }
  }
}

struct Camera {
  Vec3 target;            // what is looked at: in the middle of the view
  double distance = 100;  // of the eye from it, m
  double bearing = 30;    // degrees clockwise from north: the way it looks
  double tilt = 35;       // degrees below the horizon; negative: looking up, from below
  QSizeF size{100, 100};  // of the view, pixels
  bool operator==(const Camera&) const = default;

  static constexpr double kMostTilt = 89;
  static constexpr double kAngle = 35;  // degrees, from the top of the view to its bottom

  Vec3 eye() const;
  // What lies nearer or farther ahead is not seen; `reach`: how far ahead anything lies at most.
  double nearest() const;
  double farthest(double reach) const;
  // To clip space, of places relative to `middle`.
  QMatrix4x4 matrix(const Vec3& middle, double reach) const;
  // Nothing behind the eye.
  std::optional<QPointF> toScreen(const Vec3& place) const;
  // Where a place as far from the eye along its axis as `ahead` is seen at the pixel.
  Vec3 at(QPointF pixel, double ahead) const;
  // How far ahead of the eye, along its axis.
  double ahead(const Vec3& place) const;
  // Metres to a pixel at that distance ahead.
  double metresPerPixel(double ahead) const;

  void turn(double bearingBy, double tiltBy);
  // Moves so that what was at the target moves with the pointer; along the land, never into it.
  void pan(QPointF by);
  // Goes nearer (above 1) by a factor to the place, which stays where it is seen.
  void zoom(double factor, const Vec3& to);
  // All of a box between two levels, as it is looked at.
  void fit(const plane::Box& box, double low, double high);

 private:
  struct Axes {
    Vec3 right, up, ahead;
  };
  Axes axes() const;
};

}  // namespace inselberg::app
