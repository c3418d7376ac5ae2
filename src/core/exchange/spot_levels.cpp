// Texts and points are paired greedily, the nearest first, each once: a point at zero takes the level written beside
// it, a point or contour whose level the text repeats makes it a label, and what is left over is a point of its own.
// Whole numbers count as levels only in layers where most texts have decimals too or none does.
#include "exchange/spot_levels.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <tuple>

#include "base/quantity.h"
#include "base/text.h"
#include "plane/static_index.h"

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

constexpr std::size_t kLongest = 40;        // characters of a text that is a level, its mark and unit included
constexpr std::size_t kMostCandidates = 8;  // points a text is held against, the nearest ones
constexpr double kFarthest = 1000;          // m, whatever the size of the text

}  // namespace

std::optional<WrittenLevel> spotLevelOf(std::string_view text) {
  text = trimmed(text);
  if (text.size() > kLongest) return std::nullopt;
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
    text = trimmed(text);
    while (!text.empty() && (text.front() == '=' || text.front() == ':' || text.front() == '.')) text.remove_prefix(1);
    text = trimmed(text);
  }
  takeSuffix(text, "m");
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

namespace {

// Texts that look like levels, settled as what they are: numbers that are none, labels of points or lines, levels of
// points that have none, points of their own.
class Settling {
 public:
  Settling(const std::vector<SpotLevel>& spots, Imported& out) : out_(out) {
    std::map<LayerIndex, std::pair<std::size_t, std::size_t>> byLayer;  // with decimals, without
    for (const SpotLevel& s : spots) ++(s.hasDecimals ? byLayer[s.layer].first : byLayer[s.layer].second);
    for (const SpotLevel& s : spots) {
      const auto [with, without] = byLayer[s.layer];
      if (!s.hasDecimals && with < without) {
        ++whole_;
      } else {
        wanted_.push_back(&s);
      }
    }
    done_.assign(wanted_.size(), 0);
  }

  void run() {
    besidePoints();
    rest();
    const auto remark = [&](const char* text, std::size_t n) {
      if (n > 0) out_.remarks.push_back(fmt::format(fmt::runtime(text), n));
    };
    remark("{} texts that are levels came in as points.", points_);
    remark("{} points took their level from the text beside them.", given_);
    remark("{} texts repeat the level of a point or contour.", labels_);
    remark("{} whole numbers were not taken as levels.", whole_);
  }

 private:
  struct Pair {
    double distance;
    std::size_t spot, point;
  };

  // A text is beside a point when the point is within one and a half heights of its box, however that is turned. The
  // nearest first.
  std::vector<Pair> pairs() const {
    std::vector<Pair> pairs, candidates;
    if (out_.points.empty()) return pairs;
    std::vector<Vec2> places;
    for (const plane::Vec3& p : out_.points) places.push_back(p.plan());
    const plane::PointIndex index(places);
    for (std::size_t s = 0; s < wanted_.size(); ++s) {
      const Vec2 at = wanted_[s]->at.plan();
      const double reach = std::clamp(1.5 * wanted_[s]->height + wanted_[s]->width, 1e-3, kFarthest);
      candidates.clear();
      index.near(at, reach, [&](std::size_t p) {
        const double d = plane::distance(at, places[p]);
        if (d <= reach) candidates.push_back({d, s, p});
      });
      const auto kept = candidates.begin() + static_cast<std::ptrdiff_t>(std::min(candidates.size(), kMostCandidates));
      std::partial_sort(candidates.begin(), kept, candidates.end(), [](const Pair& a, const Pair& b) {
        return std::tie(a.distance, a.point) < std::tie(b.distance, b.point);
      });
      pairs.insert(pairs.end(), candidates.begin(), kept);
    }
    std::sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
      return std::tie(a.distance, a.spot, a.point) < std::tie(b.distance, b.spot, b.point);
    });
    return pairs;
  }

  void besidePoints() {
    std::vector<char> pointDone(out_.points.size(), 0);
    for (const Pair& pair : pairs()) {
      if (done_[pair.spot] || pointDone[pair.point]) continue;
      const SpotLevel& s = *wanted_[pair.spot];
      plane::Vec3& p = out_.points[pair.point];
      if (p.z == 0) {
        p.z = s.level;
        ++given_;
      } else if (std::abs(p.z - s.level) <= s.rounding + 1e-9) {
        ++labels_;
      } else {
        continue;
      }
      done_[pair.spot] = pointDone[pair.point] = 1;
    }
  }

  // Labels of lines of one level, and points.
  void rest() {
    std::vector<plane::Segment2> levelSides;
    std::vector<double> sideLevels;
    for (const ImportedLine& line : out_.lines) {
      const double z = line.vertices.front().z;
      if (z == 0 || !std::all_of(line.vertices.begin(), line.vertices.end(), [&](const auto& p) { return p.z == z; }))
        continue;
      for (std::size_t i = 0; i + (line.closed ? 0 : 1) < line.vertices.size(); ++i) {
        levelSides.push_back({line.vertices[i].plan(), line.vertices[(i + 1) % line.vertices.size()].plan()});
        sideLevels.push_back(z);
      }
    }
    const plane::SegmentIndex sides(levelSides);
    const auto labelsLine = [&](const SpotLevel& s) {
      const double far = std::clamp(2 * s.height + s.width, 1e-3, kFarthest);
      bool found = false;
      sides.near(s.at.plan(), far, [&](std::size_t i) {
        found = found || (std::abs(sideLevels[i] - s.level) <= s.rounding + 1e-9 &&
                          plane::nearestOnSegment(s.at.plan(), levelSides[i].a, levelSides[i].b).distance <= far);
      });
      return found;
    };
    for (std::size_t i = 0; i < wanted_.size(); ++i) {
      const SpotLevel& s = *wanted_[i];
      if (done_[i]) continue;
      if (labelsLine(s)) {
        ++labels_;
        continue;
      }
      out_.points.push_back({s.at.x, s.at.y, s.level});
      out_.pointLayers.push_back(s.layer);
      out_.pointLines.push_back(s.line);
      out_.numbers.emplace_back();
      out_.codes.emplace_back();
      ++points_;
    }
  }

  Imported& out_;
  std::vector<const SpotLevel*> wanted_;
  std::vector<char> done_;
  std::size_t whole_ = 0, labels_ = 0, given_ = 0, points_ = 0;
};

}  // namespace

void settleSpotLevels(const std::vector<SpotLevel>& spots, Imported& out) {
  if (!spots.empty()) Settling(spots, out).run();
}

}  // namespace inselberg::exchange
