// Method: marks are found by their form, wherever they are; then texts and marks that lie near each other are paired,
// the nearest first, so that of two levels in one place each keeps its own.
#include <algorithm>
#include <charconv>
#include <regex>

#include "plane/static_index.h"
#include "sheet/take.h"

namespace inselberg::sheet {
namespace {

constexpr double kLargestMark = 4, kLongestStroke = 6;  // mm
// Marks whose middles are nearer are one, drawn twice: filled and outlined, or a ring around a cross.
constexpr double kOneMark = 0.3;
// Height of figures for the size of letters.
constexpr double kFigureHeight = 0.7;

// Short straight strokes that cross in their middles.
void addCrosses(const std::vector<Line>& lines, std::vector<Vec2>& marks) {
  std::vector<plane::Segment2> strokes;
  for (const Line& line : lines) {
    if (line.filled || line.closed || line.points.size() != 2) continue;
    const double length = plane::distance(line.points[0], line.points[1]);
    if (length > 0.2 && length < kLongestStroke) strokes.push_back({line.points[0], line.points[1]});
  }
  const plane::SegmentIndex index(strokes);
  const auto nearMiddle = [](double t) { return t > 0.3 && t < 0.7; };
  for (std::uint32_t i = 0; i < strokes.size(); ++i) {
    const auto& [a, b] = strokes[i];
    index.near(strokes[i], 0, [&](std::uint32_t k) {
      if (k <= i) return;
      const auto& [c, d] = strokes[k];
      const auto t = plane::crossingAlong(a, b, c, d), u = plane::crossingAlong(c, d, a, b);
      if (t && u && nearMiddle(*t) && nearMiddle(*u)) marks.push_back(a + *t * (b - a));
    });
  }
}

std::vector<Vec2> marksOf(const Content& content) {
  std::vector<Vec2> found = content.dots;
  for (const Line& line : content.lines) {
    if (!line.closed) continue;
    Box box;
    for (const Vec2 p : line.points) box.add(p);
    const double w = box.width(), h = box.height();
    if (std::max(w, h) <= kLargestMark && std::min(w, h) >= 0.2 && std::max(w, h) <= 2 * std::min(w, h))
      found.push_back(box.centre());
  }
  addCrosses(content.lines, found);
  for (const Text& text : content.texts) {
    const bool low = text.text == "x";
    if (!low && text.text != "+" && text.text != "\u00d7" && text.text != "\u2022" && text.text != "\u00b7") continue;
    const Vec2 along = text.end - text.at;
    const double length = plane::norm(along);
    if (length <= 0) continue;
    const Vec2 up = (-1 / length) * plane::rightOf(along);
    found.push_back(text.at + 0.5 * along + (low ? 0.26 : 0.33) * text.size * up);
  }
  // Each place once.
  const plane::PointIndex index(found);
  std::vector<bool> taken(found.size(), false);
  std::vector<Vec2> marks;
  for (std::uint32_t i = 0; i < found.size(); ++i) {
    if (taken[i]) continue;
    marks.push_back(found[i]);
    index.near(found[i], kOneMark,
               [&](std::uint32_t k) { taken[k] = taken[k] || plane::distance(found[i], found[k]) <= kOneMark; });
  }
  return marks;
}

// From the box of a text's figures.
double distanceTo(const Text& text, Vec2 p) {
  const Vec2 along = text.end - text.at;
  const double length = plane::norm(along);
  if (length <= 0) return plane::distance(text.at, p);
  const Vec2 x = (1 / length) * along, y = -1 * plane::rightOf(x), v = p - text.at;
  const double forth = plane::dot(v, x), up = plane::dot(v, y);
  const double beside = std::max({0.0, -forth, forth - length}),
               above = std::max({0.0, -up, up - kFigureHeight * text.size});
  return std::hypot(beside, above);
}

}  // namespace

std::optional<double> levelOf(const std::string& text) {
  static const std::regex kPoint("([+-]|\u2212)?([0-9]{1,3}(?:[ ,'][0-9]{3})+|[0-9]{1,7})\\.([0-9]{1,6})");
  static const std::regex kComma("([+-]|\u2212)?([0-9]{1,7}),([0-9]{1,2})");
  std::smatch match;
  if (text.size() > 24 || (!std::regex_match(text, match, kPoint) && !std::regex_match(text, match, kComma)))
    return std::nullopt;
  std::string number = match[2].str() + "." + match[3].str();
  number.erase(std::remove_if(number.begin(), number.end(), [](char c) { return c == ' ' || c == ',' || c == '\''; }),
               number.end());
  double value = 0;
  std::from_chars(number.data(), number.data() + number.size(), value);
  return match[1].matched && match[1].str() != "+" ? -value : value;
}

std::vector<SpotText> spotTexts(const Content& content) {
  std::vector<SpotText> spots;
  std::vector<const Text*> texts;
  for (const Text& text : content.texts) {
    const auto level = levelOf(text.text);
    if (!level) continue;
    spots.push_back({text.text, *level, text.at, false, text.size});
    texts.push_back(&text);
  }
  if (spots.empty()) return spots;
  const std::vector<Vec2> marks = marksOf(content);
  const plane::PointIndex index(marks);
  struct Pair {
    double distance;
    std::size_t text, mark;
  };
  std::vector<Pair> pairs;
  for (std::size_t i = 0; i < texts.size(); ++i) {
    const double reach = std::max(2 * texts[i]->size, 3.0);
    index.near(plane::Segment2{texts[i]->at, texts[i]->end}, reach + texts[i]->size, [&](std::uint32_t k) {
      const double distance = distanceTo(*texts[i], marks[k]);
      if (distance <= reach) pairs.push_back({distance, i, k});
    });
  }
  std::sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
    return std::tie(a.distance, a.text, a.mark) < std::tie(b.distance, b.text, b.mark);
  });
  std::vector<bool> used(marks.size(), false);
  for (const Pair& pair : pairs) {
    if (used[pair.mark] || spots[pair.text].marked) continue;
    used[pair.mark] = spots[pair.text].marked = true;
    spots[pair.text].at = marks[pair.mark];
  }
  return spots;
}

}  // namespace inselberg::sheet
