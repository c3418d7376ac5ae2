#include "section/section.h"

#include <fmt/format.h>

#include <algorithm>
#include <cassert>
#include <cmath>

#include "base/text.h"
#include "section/profile.h"

namespace inselberg::section {
namespace {

using plane::Vec2;

constexpr double kOne = 1e-7;   // m: stations closer than this are one
constexpr double kWall = 1e-6;  // m of level

// Corners and ends stay to the letter; what is too near one of them, or the one before, is left out.
std::vector<double> merged(const std::vector<double>& corners, std::vector<double> crossings) {
  std::sort(crossings.begin(), crossings.end());
  std::vector<double> stations;
  std::size_t next = 0;
  for (const double s : crossings) {
    while (next < corners.size() && corners[next] <= s + kOne) stations.push_back(corners[next++]);
    if (s - stations.back() > kOne) stations.push_back(s);
  }
  stations.insert(stations.end(), corners.begin() + static_cast<std::ptrdiff_t>(next), corners.end());
  return stations;
}

double onLine(const ProfilePoint& p, const ProfilePoint& q, double station) {
  return p.level + (q.level - p.level) * (station - p.station) / (q.station - p.station);
}

// A profile told by intervals.
std::vector<std::optional<Span>> spansOf(const Profile& profile, const std::vector<double>& stations) {
  std::vector<std::optional<Span>> spans(stations.size() - 1);
  std::size_t piece = 0, point = 1;
  for (std::size_t i = 0; i + 1 < stations.size(); ++i) {
    const double middle = (stations[i] + stations[i + 1]) / 2;
    while (piece < profile.size() && profile[piece][point].station <= middle) {
      if (++point == profile[piece].size()) ++piece, point = 1;
    }
    if (piece == profile.size()) break;
    const ProfilePoint &p = profile[piece][point - 1], &q = profile[piece][point];
    if (p.station <= middle) spans[i] = Span{onLine(p, q, stations[i]), onLine(p, q, stations[i + 1])};
  }
  return spans;
}

std::size_t intervalAt(const std::vector<double>& stations, double station) {
  const auto after = std::upper_bound(stations.begin(), stations.end(), station);
  const auto i = static_cast<std::size_t>(std::max<std::ptrdiff_t>(after - stations.begin() - 1, 0));
  return std::min(i, stations.size() - 2);
}

}  // namespace

bool Section::covered() const {
  return std::any_of(grounds.begin(), grounds.end(), [](const auto& spans) {
    return std::any_of(spans.begin(), spans.end(), [](const auto& s) { return s.has_value(); });
  });
}

Vec2 Section::at(double station) const {
  const std::size_t i = intervalAt(corners, station);
  const double t = (station - corners[i]) / (corners[i + 1] - corners[i]);
  return line[i] + t * (line[i + 1] - line[i]);
}

std::optional<double> Section::level(std::size_t ground, double station) const {
  if (station < 0 || station > length()) return std::nullopt;
  const std::size_t i = intervalAt(stations, station);
  const auto& span = grounds[ground][i];
  if (!span) return std::nullopt;
  const double t = (station - stations[i]) / (stations[i + 1] - stations[i]);
  return span->begin + t * (span->end - span->begin);
}

Section sectionAlong(std::span<const Named> grounds, std::vector<Vec2> line) {
  Section section;
  line.erase(std::unique(line.begin(), line.end()), line.end());
  assert(line.size() >= 2);
  section.corners = {0};
  for (std::size_t i = 1; i < line.size(); ++i)
    section.corners.push_back(section.corners.back() + plane::distance(line[i - 1], line[i]));
  std::vector<Profile> profiles;
  std::vector<double> crossings;
  for (const Named& ground : grounds) {
    section.names.push_back(ground.name);
    profiles.push_back(profileAlong(*ground.tin, line));
    for (const auto& piece : profiles.back()) {
      for (const ProfilePoint& p : piece) crossings.push_back(std::min(p.station, section.corners.back()));
    }
  }
  section.line = std::move(line);
  section.stations = merged(section.corners, std::move(crossings));
  for (const Profile& profile : profiles) section.grounds.push_back(spansOf(profile, section.stations));
  return section;
}

std::vector<Row> rowsOf(const Section& section) {
  std::vector<Row> rows;
  const std::size_t n = section.stations.size();
  for (std::size_t i = 0; i < n; ++i) {
    const double station = section.stations[i];
    Row before{station, section.at(station), {}}, after = before;
    bool wall = false, gap = false;
    for (const auto& spans : section.grounds) {
      const auto left = i > 0 ? spans[i - 1] : std::nullopt, right = i + 1 < n ? spans[i] : std::nullopt;
      const auto a = left ? std::optional(left->end) : std::nullopt;
      const auto b = right ? std::optional(right->begin) : std::nullopt;
      before.levels.push_back(a ? a : b);
      after.levels.push_back(b ? b : a);
      wall |= a && b && std::abs(*a - *b) > kWall;
      gap |= left && !right && i + 2 < n && spans[i + 1];
    }
    rows.push_back(before);
    if (wall) rows.push_back(after);
    if (!gap) continue;
    const double middle = (station + section.stations[i + 1]) / 2;
    Row inside{middle, section.at(middle), {}};
    for (std::size_t g = 0; g < section.grounds.size(); ++g) inside.levels.push_back(section.level(g, middle));
    rows.push_back(std::move(inside));
  }
  return rows;
}

void eachPart(const Section& section, std::size_t earlier, std::size_t later,
              const std::function<void(const Part&)>& f) {
  for (std::size_t i = 0; i + 1 < section.stations.size(); ++i) {
    const auto &from = section.grounds[earlier][i], &to = section.grounds[later][i];
    if (!from || !to) continue;
    const Part whole{section.stations[i], from->begin, to->begin, section.stations[i + 1], from->end, to->end};
    const double a = to->begin - from->begin, b = to->end - from->end;
    if (!((a < 0 && b > 0) || (a > 0 && b < 0))) {
      f(whole);
      continue;
    }
    // The same whichever of the two comes first.
    const double t = a / (a - b), station = whole.begin + t * (whole.end - whole.begin),
                 level = ((from->begin + t * (from->end - from->begin)) + (to->begin + t * (to->end - to->begin))) / 2;
    f({whole.begin, whole.fromBegin, whole.toBegin, station, level, level});
    f({station, level, level, whole.end, whole.fromEnd, whole.toEnd});
  }
}

CutFill between(const Section& section, std::size_t earlier, std::size_t later) {
  CutFill sum;
  for (std::size_t i = 0; i + 1 < section.stations.size(); ++i) {
    if (section.grounds[earlier][i].has_value() != section.grounds[later][i].has_value())
      sum.missing += section.stations[i + 1] - section.stations[i];
  }
  eachPart(section, earlier, later, [&](const Part& p) {
    const double depths = (p.toBegin - p.fromBegin) + (p.toEnd - p.fromEnd);
    (p.fill() ? sum.fill : sum.cut) += (p.end - p.begin) * std::abs(depths) / 2;
  });
  return sum;
}

std::vector<CrossLine> crossLines(std::span<const Vec2> line, double spacing, double width) {
  std::vector<CrossLine> lines;
  double passed = 0;
  long k = 0;
  std::optional<Vec2> along, end;
  const auto add = [&](Vec2 at, Vec2 direction) {
    const Vec2 right = plane::rightOf(direction);
    lines.push_back({static_cast<double>(k) * spacing, {at - (width / 2) * right, at + (width / 2) * right}});
    ++k;
  };
  for (std::size_t i = 1; i < line.size(); ++i) {
    const double length = plane::distance(line[i - 1], line[i]);
    if (!(length > 0)) continue;
    along = plane::unit(line[i] - line[i - 1]), end = line[i];
    for (; static_cast<double>(k) * spacing < passed + length - 1e-9;)
      add(line[i - 1] + (static_cast<double>(k) * spacing - passed) * *along, *along);
    passed += length;
  }
  if (along && static_cast<double>(k) * spacing <= passed + 1e-9) add(*end, *along);
  return lines;
}

std::vector<AreaAlong> areasAlong(std::span<const Section> sections, std::span<const CrossLine> cross,
                                  std::size_t earlier, std::size_t later) {
  std::vector<AreaAlong> areas;
  for (std::size_t i = 0; i < sections.size(); ++i) {
    const CutFill here = between(sections[i], earlier, later);
    AreaAlong next{cross[i].station, here.cut, here.fill, 0, 0};
    if (i > 0) {
      const AreaAlong& last = areas.back();
      const double way = next.station - last.station;
      next.cutSoFar = last.cutSoFar + way * (last.cut + next.cut) / 2;
      next.fillSoFar = last.fillSoFar + way * (last.fill + next.fill) / 2;
    }
    areas.push_back(next);
  }
  return areas;
}

std::string asCsv(std::span<const Section> sections, std::span<const CrossLine> cross, const plane::Origin& origin) {
  std::string text = cross.empty() ? "station,easting,northing" : "section,station,easting,northing";
  if (!sections.empty()) {
    for (const std::string& name : sections.front().names) text += "," + csvCell(name);
  }
  text += "\n";
  for (std::size_t k = 0; k < sections.size(); ++k) {
    for (const Row& row : rowsOf(sections[k])) {
      if (!cross.empty()) text += fmt::format("{:.6f},", cross[k].station);
      text += fmt::format("{:.6f},{:.6f},{:.6f}", row.station, row.at.x + origin.easting, row.at.y + origin.northing);
      for (const auto& level : row.levels) text += level ? fmt::format(",{:.7f}", *level) : ",";
      text += "\n";
    }
  }
  return text;
}

}  // namespace inselberg::section
