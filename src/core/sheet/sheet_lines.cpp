#include "sheet/sheet_lines.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "plane/inside.h"

namespace inselberg::sheet {
namespace {

double distanceTo(const WholeLine& line, Vec2 p) {
  double least = std::numeric_limits<double>::infinity();
  const std::size_t n = line.points.size();
  for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i)
    least = std::min(least, plane::nearestOnSegment(p, line.points[i], line.points[(i + 1) % n]).distance);
  return least;
}

// The level a text labels a line with: whole numbers too.
std::optional<double> labelLevel(const std::string& text) {
  return levelOf(text.find_first_of(".,") == std::string::npos ? text + ".0" : text);
}

}  // namespace

SheetLines::SheetLines(std::shared_ptr<const Content> content, const Placement& placement)
    : content_(std::move(content)), placement_(placement), metresPerMm_(std::sqrt(std::abs(placement.determinant()))) {
  for (std::size_t k = 0; k < content_->lines.size(); ++k) {
    const Line& line = content_->lines[k];
    const std::size_t n = line.points.size();
    for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i) {
      sides_.push_back({placement(line.points[i]), placement(line.points[(i + 1) % n])});
      lineOf_.push_back(k);
    }
  }
  index_ = plane::SegmentIndex(sides_);
  numbers_ = spotTexts(*content_);
  std::size_t next = 0;
  for (const Text& text : content_->texts) {
    if (levelOf(text.text)) numbers_[next++].at = placement(middleOf(text));
  }
}

std::optional<double> SheetLines::levelIn(const plane::Ring& outline) const {
  const plane::Inside inside(outline);
  const Vec2 middle = plane::boundsOf(outline).centre();
  const SpotText* best = nullptr;
  const auto better = [&](const SpotText& a, const SpotText& b) {
    if (std::abs(a.size - b.size) > 0.1 * b.size) return a.size > b.size;
    return plane::distance(a.at, middle) < plane::distance(b.at, middle);
  };
  for (const SpotText& number : numbers_) {
    if (!number.marked && inside(number.at) && (!best || better(number, *best))) best = &number;
  }
  return best ? std::optional(best->level) : std::nullopt;
}

SheetLines::Style SheetLines::styleOf(const Line& line) {
  return {line.colour, std::lround(line.width / kSameWidth)};
}

void SheetLines::eachNear(Vec2 p, double reach, const std::function<void(Vec2, Vec2)>& f) const {
  index_.near(p, reach, [&](std::uint32_t i) { f(sides_[i].a, sides_[i].b); });
}

const SheetLines::Joined& SheetLines::joined(const Style& style) const {
  std::lock_guard lock(mutex_);
  const auto known = joined_.find(style);
  if (known != joined_.end()) return known->second;
  std::vector<Text> labels;
  std::vector<std::size_t> textOf;
  std::size_t number = 0;
  for (std::size_t t = 0; t < content_->texts.size(); ++t) {
    const std::string& text = content_->texts[t].text;
    if (levelOf(text) && numbers_[number++].marked) continue;  // of a point
    if (!labelLevel(text)) continue;
    labels.push_back(content_->texts[t]);
    textOf.push_back(t);
  }
  TakeRules rules;
  rules.colour = style.colour;
  rules.minWidth = rules.maxWidth = static_cast<double>(style.width) * kSameWidth;
  rules.join = kJoin;
  rules.labels = labels;
  Joined made;
  for (const Line& line : takeLines(content_->lines, rules)) {
    WholeLine whole{{}, line.closed, line.colour, line.width, {}};
    for (const Vec2 p : line.points) whole.points.push_back(placement_(p));
    made.lines.push_back(std::move(whole));
  }
  std::vector<plane::Segment2> sides;
  std::vector<std::size_t> of;
  for (std::size_t k = 0; k < made.lines.size(); ++k) {
    const std::size_t n = made.lines[k].points.size();
    for (std::size_t i = 0; i + (made.lines[k].closed ? 0 : 1) < n; ++i) {
      sides.push_back({made.lines[k].points[i], made.lines[k].points[(i + 1) % n]});
      of.push_back(k);
    }
  }
  const plane::SegmentIndex index(sides);
  // A number in a gap of a line says its level before one that a line is drawn through; of those they have to agree.
  std::vector<bool> inGap(made.lines.size(), false), disputed(made.lines.size(), false);
  for (std::size_t t = 0; t < labels.size(); ++t) {
    // The line that runs through the middle of the number, the way it is written.
    const Vec2 middle = placement_(middleOf(labels[t])), along = placement_(labels[t].end) - placement_(labels[t].at);
    const double size = labels[t].size * metresPerMm_;
    double least = 0.6 * size;
    std::optional<std::size_t> nearest;
    index.near(middle, least, [&](std::uint32_t i) {
      const double d = plane::nearestOnSegment(middle, sides[i].a, sides[i].b).distance;
      const Vec2 side = sides[i].b - sides[i].a;
      const bool alongIt = std::abs(plane::dot(side, along)) > 0.8 * plane::norm(side) * plane::norm(along);
      if (d < least && alongIt) least = d, nearest = of[i];
    });
    if (!nearest) continue;
    made.labels.push_back(textOf[t]);
    bool drawnThrough = false;
    index_.near(middle, 0.6 * size, [&](std::uint32_t i) {
      drawnThrough = drawnThrough || plane::nearestOnSegment(middle, sides_[i].a, sides_[i].b).distance < 0.6 * size;
    });
    if (inGap[*nearest] && drawnThrough) continue;
    WholeLine& line = made.lines[*nearest];
    const auto level = labelLevel(labels[t].text);
    const bool anew = !drawnThrough && !inGap[*nearest];
    disputed[*nearest] = !anew && (disputed[*nearest] || (line.level && line.level != level));
    inGap[*nearest] = inGap[*nearest] || !drawnThrough;
    line.level = level;
  }
  for (std::size_t k = 0; k < made.lines.size(); ++k) {
    if (disputed[k]) made.lines[k].level.reset();
  }
  return joined_.emplace(style, std::move(made)).first->second;
}

std::optional<WholeLine> SheetLines::lineAt(Vec2 p, double reach) const {
  double least = reach;
  std::optional<std::size_t> nearest;
  index_.near(p, reach, [&](std::uint32_t i) {
    const double d = plane::nearestOnSegment(p, sides_[i].a, sides_[i].b).distance;
    if (d < least) least = d, nearest = i;
  });
  if (!nearest) return std::nullopt;
  const Line& line = content_->lines[lineOf_[*nearest]];
  const WholeLine* best = nullptr;
  double beside = std::numeric_limits<double>::infinity();
  for (const WholeLine& whole : joined(styleOf(line)).lines) {
    if (const double d = distanceTo(whole, p); d < beside) beside = d, best = &whole;
  }
  return best ? std::optional(*best) : std::nullopt;
}

std::vector<WholeLine> SheetLines::linesLike(Colour colour, double width) const {
  Line like;
  like.colour = colour;
  like.width = width;
  return joined(styleOf(like)).lines;
}

std::vector<SpotText> SheetLines::spots() const {
  // Labels of lines of any style are no points.
  std::set<Style> styles;
  for (const Line& line : content_->lines) {
    if (!line.filled) styles.insert(styleOf(line));
  }
  std::vector<bool> isLabel(content_->texts.size(), false);
  for (const Style& style : styles) {
    for (const std::size_t t : joined(style).labels) isLabel[t] = true;
  }
  std::vector<SpotText> spots;
  std::size_t text = 0;
  for (SpotText spot : spotTexts(*content_)) {
    while (!levelOf(content_->texts[text].text)) ++text;
    const bool label = isLabel[text++] && !spot.marked;
    spot.at = placement_(spot.at);
    if (!label) spots.push_back(std::move(spot));
  }
  return spots;
}

}  // namespace inselberg::sheet
