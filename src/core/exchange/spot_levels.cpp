#include "exchange/spot_levels.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <tuple>
#include <unordered_map>

#include "base/quantity.h"

namespace inselberg::exchange {
namespace {

using plane::Vec2;

constexpr std::array kMarks{"RL", "EL", "ELEV", "LEVEL", "LVL", "H", "Z", "SL", "GL", "FL", "IL", "FFL", "NN"};
// Without blanks, underlines and a unit at the end.
constexpr std::array kLevelNames{"LEVEL",     "ELEV", "ELEVATION", "EL",       "RL",   "Z",     "H",
                                 "HEIGHT",    "ALT",  "LVL",       "ALTITUDE", "COTA", "HOEHE", "ZVALUE",
                                 "SPOTLEVEL", "SPOT", "CONTOUR",   "SL",       "HGT"};

bool isLetter(char c) {
  return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z');
}

// Points by cells, to find those near a place.
class Near {
 public:
  Near(const std::vector<plane::Vec3>& points, double cell) : points_(points), cell_(cell) {
    for (std::size_t i = 0; i < points.size(); ++i) cells_[key(points[i].plan(), 0, 0)].push_back(i);
  }
  template <class F>
  void each(Vec2 p, F&& f) const {
    for (int dx = -1; dx <= 1; ++dx) {
      for (int dy = -1; dy <= 1; ++dy) {
        const auto found = cells_.find(key(p, dx, dy));
        if (found == cells_.end()) continue;
        for (const std::size_t i : found->second) f(i);
      }
    }
  }

 private:
  std::uint64_t key(Vec2 p, int dx, int dy) const {
    const auto part = [&](double v, int d) {
      return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(v / cell_)) + d) & 0xffffffffu;
    };
    return part(p.x, dx) << 32 | part(p.y, dy);
  }
  const std::vector<plane::Vec3>& points_;
  double cell_;
  std::unordered_map<std::uint64_t, std::vector<std::size_t>> cells_;
};

}  // namespace

std::optional<WrittenLevel> spotLevelOf(std::string_view text) {
  const auto trim = [&] {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
  };
  trim();
  WrittenLevel written;
  written.digits = text.size();
  std::size_t letters = 0;
  while (letters < text.size() && isLetter(text[letters])) ++letters;
  if (letters > 0) {
    std::string mark(text.substr(0, letters));
    std::transform(mark.begin(), mark.end(), mark.begin(),
                   [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    if (std::find(kMarks.begin(), kMarks.end(), mark) == kMarks.end()) return std::nullopt;
    text.remove_prefix(letters);
    trim();
    while (!text.empty() && (text.front() == '=' || text.front() == ':' || text.front() == '.')) text.remove_prefix(1);
    trim();
  }
  if (text.ends_with('m')) text.remove_suffix(1);
  trim();
  if (text.empty() || text.size() > 16) return std::nullopt;
  std::string number(text);
  const auto separator = number.find_first_of(".,");
  if (separator != std::string::npos) number[separator] = '.';
  for (std::size_t i = 0; i < number.size(); ++i) {
    const char c = number[i];
    if (!(c >= '0' && c <= '9') && i != separator && !(i == 0 && (c == '-' || c == '+'))) return std::nullopt;
  }
  const auto value = parseNumber(number);
  if (!value || std::abs(*value) > 1e5) return std::nullopt;
  written.level = *value;
  written.decimals = separator != std::string::npos && separator + 1 < number.size();
  written.rounding = written.decimals ? 0.5 * std::pow(10.0, -static_cast<double>(number.size() - separator - 1)) : 0.5;
  return written;
}

bool isLevelName(std::string_view name) {
  std::string plain;
  for (const char c : name) {
    if (c != ' ' && c != '_' && c != '-') plain += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
  }
  const auto known = [&] { return std::find(kLevelNames.begin(), kLevelNames.end(), plain) != kLevelNames.end(); };
  if (known()) return true;
  if (plain.size() < 2 || plain.back() != 'M') return false;
  plain.pop_back();
  return known();
}

std::optional<WrittenLevel> levelAttribute(const Attributes& attributes) {
  for (const auto& [name, value] : attributes) {
    if (!isLevelName(name)) continue;
    if (const auto level = spotLevelOf(value)) return level;
  }
  return std::nullopt;
}

std::string attributeValue(const Attributes& attributes, std::initializer_list<std::string_view> names) {
  for (const std::string_view wanted : names) {
    for (const auto& [name, value] : attributes) {
      if (name == wanted) return value;
    }
  }
  return {};
}

void settleSpotLevels(const std::vector<SpotLevel>& spots, Imported& out) {
  if (spots.empty()) return;
  std::map<LayerIndex, std::pair<std::size_t, std::size_t>> byLayer;  // with decimals, without
  for (const SpotLevel& s : spots) ++(s.hasDecimals ? byLayer[s.layer].first : byLayer[s.layer].second);
  std::size_t whole = 0, labels = 0, given = 0;

  double reach = 1e-3;
  std::vector<const SpotLevel*> wanted;
  for (const SpotLevel& s : spots) {
    const auto [with, without] = byLayer[s.layer];
    if (!s.hasDecimals && with < without) {
      ++whole;
      continue;
    }
    wanted.push_back(&s);
    reach = std::max(reach, 1.5 * s.height + s.width);
  }
  reach = std::min(reach, 1000.0);

  // A text is beside a point when the point is within one and a half heights of its box, however that is turned.
  struct Pair {
    double distance;
    std::size_t spot, point;
  };
  std::vector<Pair> pairs;
  const std::size_t known = out.points.size();
  if (known > 0) {
    const Near near(out.points, reach);
    for (std::size_t s = 0; s < wanted.size(); ++s) {
      near.each(wanted[s]->at.plan(), [&](std::size_t p) {
        const double d = plane::distance(wanted[s]->at.plan(), out.points[p].plan());
        if (d <= std::max(1.5 * wanted[s]->height + wanted[s]->width, 1e-3) && d <= reach) pairs.push_back({d, s, p});
      });
    }
  }
  std::sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
    return std::tie(a.distance, a.spot, a.point) < std::tie(b.distance, b.spot, b.point);
  });
  std::vector<char> spotDone(wanted.size(), 0), pointDone(known, 0);
  for (const Pair& pair : pairs) {
    if (spotDone[pair.spot] || pointDone[pair.point]) continue;
    const SpotLevel& s = *wanted[pair.spot];
    plane::Vec3& p = out.points[pair.point];
    if (p.z == 0) {
      p.z = s.level;
      ++given;
    } else if (std::abs(p.z - s.level) <= s.rounding + 1e-9) {
      ++labels;
    } else {
      continue;
    }
    spotDone[pair.spot] = pointDone[pair.point] = 1;
  }

  // Lines of one level, by level, for the labels of contours.
  std::multimap<double, const ImportedLine*> levelLines;
  for (const ImportedLine& line : out.lines) {
    const double z = line.vertices.front().z;
    if (z != 0 && std::all_of(line.vertices.begin(), line.vertices.end(), [&](const auto& p) { return p.z == z; }))
      levelLines.emplace(z, &line);
  }
  const auto labelsLine = [&](const SpotLevel& s) {
    const double far = std::max(2 * s.height + s.width, 1e-3);
    for (auto it = levelLines.lower_bound(s.level - s.rounding - 1e-9);
         it != levelLines.end() && it->first <= s.level + s.rounding + 1e-9; ++it) {
      const auto& v = it->second->vertices;
      for (std::size_t i = 0; i + (it->second->closed ? 0 : 1) < v.size(); ++i) {
        const Vec2 a = v[i].plan(), b = v[(i + 1) % v.size()].plan();
        if (plane::nearestOnSegment(s.at.plan(), a, b).distance <= far) return true;
      }
    }
    return false;
  };
  std::size_t points = 0;
  for (std::size_t i = 0; i < wanted.size(); ++i) {
    const SpotLevel& s = *wanted[i];
    if (spotDone[i]) continue;
    if (labelsLine(s)) {
      ++labels;
      continue;
    }
    out.points.push_back({s.at.x, s.at.y, s.level});
    out.pointLayers.push_back(s.layer);
    out.pointLines.push_back(s.line);
    out.numbers.emplace_back();
    out.codes.emplace_back();
    ++points;
  }
  if (points > 0) out.remarks.push_back(fmt::format("{} texts that are levels came in as points.", points));
  if (given > 0) out.remarks.push_back(fmt::format("{} points took their level from the text beside them.", given));
  if (labels > 0) out.remarks.push_back(fmt::format("{} texts repeat the level of a point or contour.", labels));
  if (whole > 0) out.remarks.push_back(fmt::format("{} whole numbers were not taken as levels.", whole));
}

}  // namespace inselberg::exchange
