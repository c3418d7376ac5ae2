#include "relief/cut_face.h"

#include <algorithm>
#include <limits>

#include "plane/boxes.h"
#include "section/standing.h"

namespace inselberg::app {

using plane::Vec2;
using plane::Vec3;

CutFace cutFaceOf(const ReliefCut& cut, const std::vector<EarthStep>& steps) {
  constexpr double kBelow = 0.2;  // of the grounds' own height
  std::vector<section::Named> grounds;
  std::vector<section::Step> order;
  CutFace face;
  plane::Box box;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (const EarthStep& step : steps) {
    if (!step.tin || step.tin->empty()) continue;
    order.push_back({grounds.size()});
    grounds.push_back({{}, step.tin});
    if (step.notAbove) {
      order.back().notAbove = grounds.size();
      grounds.push_back({{}, step.notAbove});
    }
    face.layers.push_back({{}, step.colour});
    box.add(step.tin->bounds());
    low = std::min(low, step.tin->minLevel()), high = std::max(high, step.tin->maxLevel());
  }
  if (grounds.empty()) return face;
  const Vec2 along = plane::unit(cut.along);
  double from = std::numeric_limits<double>::infinity(), to = -from;
  for (const Vec2 p : plane::cornersOf(box)) {
    const double t = plane::dot(p - cut.at, along);
    from = std::min(from, t), to = std::max(to, t);
  }
  if (!(to > from)) return face;
  const section::Section s = section::sectionAlong(grounds, {cut.at + from * along, cut.at + to * along});
  const double floor = low - std::max(1.0, kBelow * (high - low));
  for (const section::Standing& piece : section::standingAlong(s, order, floor)) {
    const Vec2 a = s.at(piece.begin), b = s.at(piece.end);
    const Vec3 lowA{a.x, a.y, piece.lowBegin}, highA{a.x, a.y, piece.highBegin}, lowB{b.x, b.y, piece.lowEnd},
        highB{b.x, b.y, piece.highEnd};
    auto& triangles = face.layers[piece.by].triangles;
    triangles.insert(triangles.end(), {lowA, lowB, highB, lowA, highB, highA});
  }
  return face;
}

}  // namespace inselberg::app
