#include "works/graded_line.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace inselberg::works {
namespace {

constexpr double kSameStation = 1e-3;  // m

}  // namespace

double lengthOf(const std::vector<Vec2>& line, bool closed) {
  double length = 0;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) length += plane::distance(line[i], line[i + 1]);
  if (closed && line.size() > 1) length += plane::distance(line.back(), line.front());
  return length;
}

double Grades::straight(double station) const {
  std::size_t i = 0;
  while (i < levels_.size() && levels_[i][0] <= station) ++i;
  if (i == 0) return levels_.front()[1];
  if (i == levels_.size()) return levels_.back()[1];
  const auto &a = levels_[i - 1], &b = levels_[i];
  return a[1] + (station - a[0]) / (b[0] - a[0]) * (b[1] - a[1]);
}

double Grades::gradeAfter(std::size_t i) const {
  if (i + 1 >= levels_.size()) return 0;
  return (levels_[i + 1][1] - levels_[i][1]) / (levels_[i + 1][0] - levels_[i][0]);
}

double Grades::gradeBefore(std::size_t i) const {
  return i == 0 ? 0 : gradeAfter(i - 1);
}

double Grades::level(double station) const {
  for (const auto& [centre, length] : curves_) {
    const double x = station - (centre - length / 2);
    if (x <= 0 || x >= length) continue;
    for (std::size_t i = 0; i < levels_.size(); ++i) {
      if (std::abs(levels_[i][0] - centre) > kSameStation) continue;
      const double before = gradeBefore(i), after = gradeAfter(i);
      return levels_[i][1] - before * length / 2 + before * x + (after - before) / (2 * length) * x * x;
    }
  }
  return straight(station);
}

std::vector<double> Grades::stops(double error) const {
  std::vector<double> all;
  for (std::size_t i = 0; i < levels_.size(); ++i) {
    double length = 0;
    for (const auto& curve : curves_) {
      if (std::abs(curve[0] - levels_[i][0]) <= kSameStation) length = curve[1];
    }
    if (length <= 0) {
      all.push_back(levels_[i][0]);
      continue;
    }
    const double bend = std::abs(gradeAfter(i) - gradeBefore(i));
    const double step = bend > 0 ? std::sqrt(8 * length * error / bend) : length;
    const int parts = std::clamp(static_cast<int>(std::ceil(length / step)), 2, 2000);
    for (int k = 0; k <= parts; ++k) all.push_back(levels_[i][0] - length / 2 + length * k / parts);
  }
  return all;
}

std::optional<std::string> Grades::wrong(double length) const {
  if (levels_.empty()) return "must have a level at one station at least";
  for (std::size_t i = 0; i < levels_.size(); ++i) {
    if (levels_[i][0] < -kSameStation || levels_[i][0] > length + kSameStation) {
      return fmt::format("must have stations between 0 and the length, {:.3f} m; {:.10g} is not", length,
                         levels_[i][0]);
    }
    if (i > 0 && !(levels_[i][0] > levels_[i - 1][0])) return "must have stations that rise";
  }
  for (std::size_t c = 0; c < curves_.size(); ++c) {
    const auto [centre, size] = curves_[c];
    if (!(size > 0)) return "must have curves longer than 0";
    std::size_t at = levels_.size();
    for (std::size_t i = 0; i < levels_.size(); ++i) {
      if (std::abs(levels_[i][0] - centre) <= kSameStation) at = i;
    }
    if (at == levels_.size()) {
      return fmt::format("must have its curves at stations of its levels; there is none at {:.10g}", centre);
    }
    const auto half = [&](std::size_t i) {
      for (const auto& other : curves_) {
        if (i < levels_.size() && std::abs(other[0] - levels_[i][0]) <= kSameStation) return other[1] / 2;
      }
      return 0.0;
    };
    const double before = at == 0 ? levels_[at][0] : levels_[at][0] - levels_[at - 1][0] - half(at - 1);
    const double after =
        at + 1 == levels_.size() ? length - levels_[at][0] : levels_[at + 1][0] - levels_[at][0] - half(at + 1);
    if (size / 2 > before + kSameStation || size / 2 > after + kSameStation) {
      return fmt::format("has a curve at {:.10g} that does not fit between its neighbours", centre);
    }
    for (std::size_t d = 0; d < c; ++d) {
      if (std::abs(curves_[d][0] - centre) <= kSameStation) return "has two curves at one station";
    }
  }
  return std::nullopt;
}

std::vector<LinePiece> piecesOf(const LineRequest& request, const Grades& grades) {
  const auto& line = request.line;
  const std::size_t n = line.size(), sides = request.closed ? n : n - 1;
  std::vector<double> wanted = grades.stops(2.5e-4);
  wanted.push_back(request.fromStation);
  wanted.push_back(request.toStation);
  for (const SectionsAlong* sections : {&request.left, &request.right}) {
    for (const SectionAt& at : *sections) wanted.push_back(at.station);
  }
  std::sort(wanted.begin(), wanted.end());
  std::vector<LinePiece> pieces;
  double station = 0;
  const auto add = [&](Vec2 p, double from, Vec2 q, double to) {
    if (from < request.fromStation - kSameStation / 2 || to > request.toStation + kSameStation / 2) return;
    LinePiece piece;
    piece.a = {p.x, p.y, grades.level(from)}, piece.b = {q.x, q.y, grades.level(to)};
    piece.left = {sectionAt(request.left, from), sectionAt(request.left, to)};
    piece.right = {sectionAt(request.right, from), sectionAt(request.right, to)};
    if (*piece.left.start == *piece.left.end) piece.left.end = piece.left.start;
    if (*piece.right.start == *piece.right.end) piece.right.end = piece.right.start;
    pieces.push_back(std::move(piece));
  };
  for (std::size_t i = 0; i < sides; ++i) {
    const Vec2 a = line[i], b = line[(i + 1) % n];
    const double length = plane::distance(a, b);
    if (length < 1e-6) continue;
    double last = station;
    Vec2 from = a;
    for (const double s : wanted) {
      // What lies within a tenth of a millimetre of a point of the line is at the point.
      if (s <= last + 1e-4 || s >= station + length - 1e-4) continue;
      const Vec2 to = a + ((s - station) / length) * (b - a);
      add(from, last, to, s);
      from = to, last = s;
    }
    add(from, last, b, station + length);
    station += length;
  }
  return pieces;
}

std::vector<LinePiece> piecesOf(const std::vector<Vec3>& line, const Section& bothSides) {
  const auto section = std::make_shared<const Section>(bothSides);
  std::vector<LinePiece> pieces;
  for (std::size_t i = 0; i + 1 < line.size(); ++i)
    pieces.push_back({line[i], line[i + 1], {section, section}, {section, section}});
  return pieces;
}

}  // namespace inselberg::works
