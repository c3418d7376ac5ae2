// Method: the neighbourhood of both places as a picture, smoothed a little so that the middle of a line is its darkest;
// a pixel costs the more the lighter it is against the paper around; the cheapest way is found from one end to the
// other (Dijkstra over eight neighbours), and thinned.
#include "sheet/follow.h"

#include <algorithm>
#include <cmath>
#include <queue>

namespace inselberg::sheet {
namespace {

constexpr int kMostLooked = 1'500'000;
// A step over bare paper costs so many times one over ink.
constexpr double kPaper = 40;
// The way is thinned to within this of itself, pixels.
constexpr double kThin = 0.6;

struct Field {
  int width = 0, height = 0;
  std::vector<float> ink;  // 0 bare paper, 1 the darkest there is
  float at(int c, int r) const { return ink[static_cast<std::size_t>(r) * width + c]; }
};

Field inkOf(const Bitmap& bitmap) {
  Field field{bitmap.width, bitmap.height, {}};
  std::vector<float> dark(static_cast<std::size_t>(field.width) * field.height);
  std::vector<std::size_t> counts(256, 0);
  for (std::size_t i = 0; i < dark.size(); ++i) {
    const std::uint8_t* p = &bitmap.pixels[4 * i];
    const int grey = (p[0] + 5 * p[1] + 2 * p[2]) / 8;
    ++counts[static_cast<std::size_t>(grey)];
    dark[i] = static_cast<float>(255 - grey);
  }
  // Most of a drawing is paper: its tone is the most frequent one.
  const auto paper = static_cast<float>(255 - (std::max_element(counts.begin(), counts.end()) - counts.begin()));
  field.ink.resize(dark.size());
  float most = 1;
  for (int r = 0; r < field.height; ++r) {
    for (int c = 0; c < field.width; ++c) {
      float sum = 0, weight = 0;
      for (int dr = -1; dr <= 1; ++dr) {
        for (int dc = -1; dc <= 1; ++dc) {
          const int x = c + dc, y = r + dr;
          if (x < 0 || y < 0 || x >= field.width || y >= field.height) continue;
          const float w = dr == 0 && dc == 0 ? 2.0f : 1.0f;
          sum += w * std::max(0.0f, dark[static_cast<std::size_t>(y) * field.width + x] - paper);
          weight += w;
        }
      }
      const float value = sum / weight;
      field.ink[static_cast<std::size_t>(r) * field.width + c] = value;
      most = std::max(most, value);
    }
  }
  for (float& value : field.ink) value /= most;
  return field;
}

std::size_t darkestNear(const Field& field, double c, double r, double reach) {
  const int c0 = std::clamp(static_cast<int>(c), 0, field.width - 1),
            r0 = std::clamp(static_cast<int>(r), 0, field.height - 1);
  const int n = static_cast<int>(reach);
  std::size_t best = static_cast<std::size_t>(r0) * field.width + c0;
  double value = -1;
  for (int y = std::max(0, r0 - n); y <= std::min(field.height - 1, r0 + n); ++y) {
    for (int x = std::max(0, c0 - n); x <= std::min(field.width - 1, c0 + n); ++x) {
      const double d = std::hypot(x + 0.5 - c, y + 0.5 - r);
      // A nearer line wins over a slightly darker one.
      const double worth = field.at(x, y) - 0.3 * d / (reach + 1);
      if (d <= reach && worth > value) value = worth, best = static_cast<std::size_t>(y) * field.width + x;
    }
  }
  return best;
}

std::vector<std::size_t> cheapestWay(const Field& field, std::size_t from, std::size_t to, const Progress& progress) {
  const std::size_t count = field.ink.size();
  std::vector<float> cost(count, std::numeric_limits<float>::infinity());
  std::vector<std::uint32_t> before(count, static_cast<std::uint32_t>(-1));
  using Open = std::pair<float, std::uint32_t>;
  std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
  cost[from] = 0;
  open.emplace(0.0f, static_cast<std::uint32_t>(from));
  const auto price = [&](std::size_t i) {
    const double bare = 1 - std::min(1.0, 1.25 * field.ink[i]);
    return static_cast<float>(1 + (kPaper - 1) * bare * bare);
  };
  std::size_t steps = 0;
  while (!open.empty()) {
    const auto [so, i] = open.top();
    open.pop();
    if (so > cost[i]) continue;
    if (i == to) break;
    if (++steps % 4096 == 0) progress.check();
    const int c = static_cast<int>(i % field.width), r = static_cast<int>(i / field.width);
    for (int dr = -1; dr <= 1; ++dr) {
      for (int dc = -1; dc <= 1; ++dc) {
        const int x = c + dc, y = r + dr;
        if ((dc == 0 && dr == 0) || x < 0 || y < 0 || x >= field.width || y >= field.height) continue;
        const std::size_t next = static_cast<std::size_t>(y) * field.width + x;
        const float length = dc != 0 && dr != 0 ? 1.41421356f : 1.0f;
        const float total = so + length * 0.5f * (price(i) + price(next));
        if (total >= cost[next]) continue;
        cost[next] = total;
        before[next] = i;
        open.emplace(total, static_cast<std::uint32_t>(next));
      }
    }
  }
  std::vector<std::size_t> way{to};
  while (way.back() != from && before[way.back()] != static_cast<std::uint32_t>(-1)) way.push_back(before[way.back()]);
  std::reverse(way.begin(), way.end());
  return way;
}

// Keeps the ends and what lies farther than kThin from the straight between those kept.
void thin(const std::vector<Vec2>& points, std::size_t first, std::size_t last, std::vector<bool>& kept) {
  std::vector<std::pair<std::size_t, std::size_t>> open{{first, last}};
  while (!open.empty()) {
    const auto [a, b] = open.back();
    open.pop_back();
    double most = kThin;
    std::size_t at = a;
    for (std::size_t i = a + 1; i < b; ++i) {
      const double d = plane::nearestOnSegment(points[i], points[a], points[b]).distance;
      if (d > most) most = d, at = i;
    }
    if (at == a) continue;
    kept[at] = true;
    open.emplace_back(a, at);
    open.emplace_back(at, b);
  }
}

}  // namespace

Followed follow(Document& document, int page, Vec2 from, Vec2 to, double reach, double finest,
                const Progress& progress) {
  Box part;
  part.add(from), part.add(to);
  // Lines bend: there is room on either side.
  part = part.grown(0.35 * plane::distance(from, to) + 12 * finest + reach);
  double step = finest;
  while (part.width() / step * (part.height() / step) > kMostLooked) step *= 1.5;
  const int width = std::max(2, static_cast<int>(part.width() / step)),
            height = std::max(2, static_cast<int>(part.height() / step));
  const Field field = inkOf(document.draw(page, part, width, height, progress));
  const double across = part.width() / width, up = part.height() / height;
  const auto pixel = [&](Vec2 p) { return Vec2{(p.x - part.minX) / across, (part.maxY - p.y) / up}; };
  const Vec2 a = pixel(from), b = pixel(to);
  const std::size_t start = darkestNear(field, a.x, a.y, reach / step),
                    end = darkestNear(field, b.x, b.y, reach / step);
  const auto way = cheapestWay(field, start, end, progress);
  Followed followed;
  std::vector<Vec2> pixels;
  double ink = 0;
  for (const std::size_t i : way) {
    pixels.push_back({static_cast<double>(i % width) + 0.5, static_cast<double>(i / width) + 0.5});
    ink += std::min(1.0, 1.25 * field.ink[i]);
  }
  followed.closeness = ink / static_cast<double>(way.size());
  std::vector<bool> kept(pixels.size(), false);
  kept.front() = kept.back() = true;
  thin(pixels, 0, pixels.size() - 1, kept);
  for (std::size_t i = 0; i < pixels.size(); ++i) {
    if (kept[i]) followed.points.push_back({part.minX + pixels[i].x * across, part.maxY - pixels[i].y * up});
  }
  return followed;
}

}  // namespace inselberg::sheet
