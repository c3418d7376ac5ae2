// Geometry as one line of text, so that a test reads like the case it tests: "0 0, 10 0, 10 10" are plan points,
// "0 0 5, 10 0 6" points with levels, and "0 0, 10 0 | z 5" points at one level. What fails prints the same way.
#pragma once

#include <catch2/catch.hpp>
#include <cmath>
#include <sstream>
#include <stdexcept>
#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::testing {

inline std::vector<plane::Vec3> points3(const std::string& text) {
  const auto bar = text.find("| z ");
  const double all = bar == std::string::npos ? std::nan("") : std::stod(text.substr(bar + 4));
  std::vector<plane::Vec3> points;
  std::istringstream list(text.substr(0, bar));
  for (std::string item; std::getline(list, item, ',');) {
    std::istringstream numbers(item);
    plane::Vec3 p{0, 0, all};
    if (!(numbers >> p.x >> p.y)) throw std::invalid_argument("no point: \"" + item + "\"");
    if (double z; numbers >> z) p.z = z;
    points.push_back(p);
  }
  return points;
}

inline std::vector<plane::Vec2> points(const std::string& text) {
  std::vector<plane::Vec2> plan;
  for (const plane::Vec3& p : points3(text)) plan.push_back(p.plan());
  return plan;
}

inline std::string textOf(const std::vector<plane::Vec2>& points) {
  std::ostringstream text;
  text.precision(12);
  for (std::size_t i = 0; i < points.size(); ++i) text << (i ? ", " : "") << points[i].x << ' ' << points[i].y;
  return text.str();
}

}  // namespace inselberg::testing

template <>
struct Catch::StringMaker<inselberg::plane::Vec2> {
  static std::string convert(const inselberg::plane::Vec2& p) { return inselberg::testing::textOf({p}); }
};
template <>
struct Catch::StringMaker<std::vector<inselberg::plane::Vec2>> {
  static std::string convert(const std::vector<inselberg::plane::Vec2>& p) {
    return "\"" + inselberg::testing::textOf(p) + "\"";
  }
};
