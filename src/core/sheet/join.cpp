// Method: every pair of open ends within reach gets a price: how far the line turns on the way, by its own directions
// and, the wider the gap, by the direction across it; a little for the gap itself. The cheapest pair is joined first,
// and each end once.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "base/error.h"
#include "plane/static_index.h"
#include "sheet/take.h"

namespace inselberg::sheet {
namespace {

constexpr std::size_t kMostPairs = 20'000'000;
// Ends this near to each other are one place, mm.
constexpr double kOnePlace = 1e-3;
// Across a gap a line does not turn by more (radians).
constexpr double kSharpest = 150 * std::numbers::pi / 180;
constexpr double kPriceOfGap = 0.3;

struct End {
  std::size_t line;
  bool atBack;   // of the line's points
  Vec2 at, out;  // where it is, and the direction the line goes out of it
};

struct Pair {
  double price;
  std::uint32_t a, b;  // ends
};

double angle(Vec2 a, Vec2 b) {
  return std::abs(std::atan2(plane::cross(a, b), plane::dot(a, b)));
}

double lengthOf(const Line& line) {
  double length = 0;
  for (std::size_t i = 1; i < line.points.size(); ++i) length += plane::distance(line.points[i - 1], line.points[i]);
  return length;
}

std::vector<End> openEnds(const std::vector<Line>& lines) {
  std::vector<End> ends;
  for (std::size_t k = 0; k < lines.size(); ++k) {
    const auto& p = lines[k].points;
    if (lines[k].closed || lines[k].filled || lengthOf(lines[k]) <= 0) continue;
    const auto inner = [&](Vec2 from, auto begin, auto end) {
      const auto other = std::find_if(begin, end, [&](Vec2 q) { return q != from; });
      return plane::unit(from - *other);
    };
    ends.push_back({k, false, p.front(), inner(p.front(), p.begin(), p.end())});
    ends.push_back({k, true, p.back(), inner(p.back(), p.rbegin(), p.rend())});
  }
  return ends;
}

bool alike(const Line& a, const Line& b) {
  return a.colour == b.colour && std::abs(a.width - b.width) <= kSameWidth;
}

// `join`: how wide a gap may be here.
std::optional<double> priceOf(const std::vector<Line>& lines, const End& a, const End& b, double join) {
  const Vec2 gap = b.at - a.at, on = -1 * b.out;
  const double wide = plane::norm(gap), share = wide / join;
  const double turn = angle(a.out, on);
  if (wide > kOnePlace && turn > kSharpest) return std::nullopt;
  // Its own two ends meet only where it is a ring with a gap, not a dash.
  if (a.line == b.line && lengthOf(lines[a.line]) < 4 * wide) return std::nullopt;
  const double across = wide > kOnePlace ? share * (angle(a.out, gap) + angle(gap, on)) : 0;
  return turn + across + kPriceOfGap * share;
}

// Pairs of ends on either side of a text, with its middle between them.
void addPairsAcross(std::span<const Text> labels, const std::vector<Line>& lines, const std::vector<End>& ends,
                    const plane::PointIndex& index, std::vector<Pair>& pairs) {
  for (const Text& label : labels) {
    const Vec2 along = label.end - label.at;
    const double length = plane::norm(along);
    if (length <= 0) continue;
    const Vec2 middle = middleOf(label);
    const double reach = 0.5 * length + 1.5 * label.size;
    std::vector<std::uint32_t> near;
    index.near(middle, reach, [&](std::uint32_t e) {
      if (near.size() < 200 && plane::distance(ends[e].at, middle) <= reach) near.push_back(e);
    });
    for (const std::uint32_t a : near) {
      for (const std::uint32_t b : near) {
        const Vec2 p = ends[a].at, q = ends[b].at;
        if (b <= a || !alike(lines[ends[a].line], lines[ends[b].line])) continue;
        const plane::Nearest at = plane::nearestOnSegment(middle, p, q);
        if (at.distance > 0.8 * label.size || at.along < 0.25 || at.along > 0.75) continue;
        if (const auto price = priceOf(lines, ends[a], ends[b], 2 * reach)) pairs.push_back({*price, a, b});
      }
    }
  }
}

std::vector<Pair> pairsOf(const std::vector<Line>& lines, const std::vector<End>& ends, double join,
                          std::span<const Text> labels, const Progress& progress) {
  std::vector<Vec2> places;
  for (const End& end : ends) places.push_back(end.at);
  const plane::PointIndex index(places);
  std::vector<Pair> pairs;
  for (std::uint32_t a = 0; a < ends.size(); ++a) {
    if (a % 256 == 0) progress.check();
    // Files round places by less than a thousandth.
    index.near(ends[a].at, join + kOnePlace, [&](std::uint32_t b) {
      if (b <= a || plane::distance(ends[a].at, ends[b].at) > join + kOnePlace ||
          !alike(lines[ends[a].line], lines[ends[b].line]))
        return;
      if (pairs.size() >= kMostPairs)
        throw Error(fmt::format("too many ends of lines lie within {} mm of each other", join),
                    "join over a shorter distance");
      if (const auto price = priceOf(lines, ends[a], ends[b], join)) pairs.push_back({*price, a, b});
    });
  }
  addPairsAcross(labels, lines, ends, index, pairs);
  std::sort(pairs.begin(), pairs.end(),
            [](const Pair& x, const Pair& y) { return std::tie(x.price, x.a, x.b) < std::tie(y.price, y.a, y.b); });
  return pairs;
}

void add(std::vector<Vec2>& points, const Line& line, bool backwards) {
  const auto take = [&](Vec2 p) {
    if (points.empty() || plane::distance(points.back(), p) > 1e-9) points.push_back(p);
  };
  if (backwards) {
    std::for_each(line.points.rbegin(), line.points.rend(), take);
  } else {
    std::for_each(line.points.begin(), line.points.end(), take);
  }
}

constexpr std::uint32_t kFree = static_cast<std::uint32_t>(-1);

}  // namespace

std::vector<Line> takeLines(std::span<const Line> all, const TakeRules& rules, const Progress& progress) {
  std::vector<Line> lines;
  for (const Line& line : all) {
    if (rules.colour && line.colour != *rules.colour) continue;
    if (rules.minWidth && line.width < *rules.minWidth - kSameWidth) continue;
    if (rules.maxWidth && line.width > *rules.maxWidth + kSameWidth) continue;
    lines.push_back(line);
  }
  if (rules.join <= 0) return lines;
  const std::vector<End> ends = openEnds(lines);
  std::vector<std::uint32_t> other(ends.size(), kFree);  // the end that each is joined with
  for (const Pair& pair : pairsOf(lines, ends, rules.join, rules.labels, progress)) {
    if (other[pair.a] != kFree || other[pair.b] != kFree) continue;
    other[pair.a] = pair.b;
    other[pair.b] = pair.a;
  }
  std::vector<bool> done(lines.size(), false);
  std::vector<Line> joined;
  // Ends come in pairs, the front of a line and its back.
  const auto walk = [&](std::uint32_t from) {
    Line line = lines[ends[from].line];
    line.points.clear();
    std::uint32_t at = from;
    do {
      done[ends[at].line] = true;
      add(line.points, lines[ends[at].line], ends[at].atBack);
      at = other[at ^ 1u];
    } while (at != kFree && !done[ends[at].line]);
    line.closed = at == from && line.points.size() > 2;
    if (line.closed && plane::distance(line.points.front(), line.points.back()) <= 1e-9) line.points.pop_back();
    joined.push_back(std::move(line));
  };
  for (std::uint32_t e = 0; e < ends.size(); ++e) {
    if (other[e] == kFree && !done[ends[e].line]) walk(e);
  }
  for (std::uint32_t e = 0; e < ends.size(); e += 2) {
    if (!done[ends[e].line]) walk(e);  // rings
  }
  for (std::size_t k = 0; k < lines.size(); ++k) {
    if (!done[k]) joined.push_back(std::move(lines[k]));
  }
  return joined;
}

}  // namespace inselberg::sheet
