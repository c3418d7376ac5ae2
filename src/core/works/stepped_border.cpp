#include "works/stepped_border.h"

#include <algorithm>

namespace inselberg::works {

bool goesOnBeyond(const ground::Tin& surface, Vec2 a, Vec2 b) {
  constexpr double kBeyond = 1e-4;  // m
  const Vec2 beyond = a + 0.5 * (b - a) + kBeyond * plane::rightOf(plane::unit(b - a));
  return surface.locate(beyond) != ground::kNone;
}

std::vector<CrestLine> linesAround(const ground::Tin& surface, const std::vector<std::vector<Vec3>>& loops,
                                   const SectionsAlong& along) {
  std::vector<CrestLine> lines;
  for (const std::vector<Vec3>& loop : loops) {
    CrestLine all = around(loop, along);
    const std::size_t n = all.stretches.size();
    std::vector<char> step;
    for (const Stretch& s : all.stretches) step.push_back(goesOnBeyond(surface, s.a.plan(), s.b.plan()));
    if (std::ranges::find(step, 1) == step.end()) {
      lines.push_back(std::move(all));
      continue;
    }
    for (std::size_t first = 0; first < n; ++first) {
      if (step[first] || !step[(first + n - 1) % n]) continue;
      CrestLine line;
      for (std::size_t i = first; !step[i % n]; ++i) line.stretches.push_back(all.stretches[i % n]);
      lines.push_back(std::move(line));
    }
  }
  constexpr double kSame = 1e-3;  // m
  const auto out = [](const Stretch& s) { return plane::rightOf(plane::unit(s.b.plan() - s.a.plan())); };
  for (CrestLine& line : lines) {
    for (CrestLine& after : lines) {
      const Stretch &end = line.stretches.back(), &begin = after.stretches.front();
      if (line.closed || after.closed || plane::distance(end.b.plan(), begin.a.plan()) > kSame) continue;
      if (plane::cross(out(end), out(begin)) > 0) line.endRay = after.startRay = plane::unit(out(end) + out(begin));
    }
  }
  return lines;
}

}  // namespace inselberg::works
