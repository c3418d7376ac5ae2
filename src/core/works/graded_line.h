// Lines with levels along them: grades, vertical curves, stations.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "works/crest.h"

namespace inselberg::works {

// A station and a number there: a level, or the length of a curve.
using Station = std::array<double, 2>;
using Stations = std::vector<Station>;

double lengthOf(const std::vector<Vec2>& line, bool closed);

// Levels along a line: grades straight between the points, levels held before the first and after the last, parabolas
// centred on breaks of grade.
class Grades {
 public:
  Grades(Stations levels, Stations curves) : levels_(std::move(levels)), curves_(std::move(curves)) {}

  double level(double station) const;
  // Where the grade changes: breaks, and enough places along curves that chords lie within `error` of them.
  std::vector<double> stops(double error) const;
  // What does not fit a line of this length, as the end of a sentence; nothing when all does.
  std::optional<std::string> wrong(double length) const;

 private:
  double straight(double station) const;
  double gradeAfter(std::size_t point) const;  // of the point; also before the first
  double gradeBefore(std::size_t point) const;

  Stations levels_, curves_;
};

struct LineRequest {
  std::vector<Vec2> line;
  bool closed = false;
  SectionsAlong left = {}, right = {};
  double fromStation = 0, toStation = 1e300;  // the part that is built
};
// The pieces between all stations that matter, with their levels and sections; stations are those of the whole line.
std::vector<LinePiece> piecesOf(const LineRequest& request, const Grades& grades);
// The same for levels that change linearly between points.
std::vector<LinePiece> piecesOf(const std::vector<Vec3>& line, const Section& bothSides);

}  // namespace inselberg::works
