#include "quantity/second_opinion.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/parallel.h"
#include "base/quantity.h"
#include "base/sum.h"
#include "ground/clip.h"
#include "plane/boxes.h"
#include "plane/inside.h"
#include "quantity/combine.h"
#include "section/section.h"

namespace inselberg::quantity {
namespace {

using ground::Tin;
using plane::Vec2;

// Where both may be; empty when they are apart.
plane::Box commonBox(const Tin& from, const Tin& to) {
  const plane::Box &a = from.bounds(), &b = to.bounds();
  if (a.empty() || b.empty() || !a.overlaps(b)) return {};
  return plane::common(a, b);
}

struct Sums {
  Sum cut, fill;
  void add(double depth, double size) { (depth < 0 ? cut : fill).add(std::abs(depth) * size); }
};

}  // namespace

Earth byGrid(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& region, double cell,
             const Progress& progress) {
  const plane::Box box = commonBox(from, to);
  if (box.empty()) return {};
  const plane::Inside inside(region);
  const auto columns = static_cast<std::size_t>(std::ceil(box.width() / cell)),
             rows = static_cast<std::size_t>(std::ceil(box.height() / cell));
  from.index(), to.index();
  const auto parts = parallelMap<Sums>(rows, 4, progress, [&](std::size_t begin, std::size_t end) {
    Sums sums;
    for (std::size_t j = begin; j < end; ++j) {
      progress.check();
      for (std::size_t i = 0; i < columns; ++i) {
        const Vec2 p{box.minX + (static_cast<double>(i) + 0.5) * cell,
                     box.minY + (static_cast<double>(j) + 0.5) * cell};
        if (!region.empty() && !inside(p)) continue;
        const auto a = from.levelAt(p);
        const auto b = a ? to.levelAt(p) : std::nullopt;
        if (b) sums.add(*b - *a, cell * cell);
      }
    }
    return sums;
  });
  Sums all;
  for (const Sums& s : parts) all.cut.add(s.cut), all.fill.add(s.fill);
  return {all.cut.value(), all.fill.value()};
}

BySections bySections(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& region, double spacing,
                      const Progress& progress) {
  const ground::TinPtr limited = region.empty() ? nullptr : ground::keepInside(from, region, progress);
  const Tin& first = limited ? *limited : from;
  const plane::Box box = first.empty() ? plane::Box() : commonBox(first, to);
  if (box.empty()) return {};
  const bool eastwards = box.width() >= box.height();
  const double length = eastwards ? box.width() : box.height();
  const auto n = static_cast<std::size_t>(std::max(1.0, std::ceil(length / spacing)));
  const double half = length / static_cast<double>(2 * n);
  first.index(), to.index();
  // The grounds outlive this call: they are only looked at.
  const auto look = [](const Tin& tin) { return ground::TinPtr(std::shared_ptr<const void>(), &tin); };
  const std::vector<section::Named> grounds{{"", look(first)}, {"", look(to)}};
  std::vector<section::CutFill> areas(2 * n + 1);
  parallelChunks(areas.size(), 4, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t k = begin; k < end; ++k) {
      progress.check();
      const double at = static_cast<double>(k) * half;
      const std::vector<Vec2> line = eastwards
                                         ? std::vector<Vec2>{{box.minX + at, box.minY}, {box.minX + at, box.maxY}}
                                         : std::vector<Vec2>{{box.minX, box.minY + at}, {box.maxX, box.minY + at}};
      areas[k] = section::between(section::sectionAlong(grounds, line), 0, 1);
    }
  });
  BySections made;
  made.count = n + 1;
  for (std::size_t k = 0; k + 2 < areas.size(); k += 2) {
    const section::CutFill &a = areas[k], &m = areas[k + 1], &b = areas[k + 2];
    made.endAreas.cut += half * (a.cut + b.cut), made.endAreas.fill += half * (a.fill + b.fill);
    made.prismoidal.cut += half / 3 * (a.cut + 4 * m.cut + b.cut);
    made.prismoidal.fill += half / 3 * (a.fill + 4 * m.fill + b.fill);
  }
  return made;
}

Tolerance toleranceOf(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& region, double tolerance,
                      const Progress& progress) {
  Tolerance made;
  const Volume high = volumeBetween(*shifted(from, tolerance), to, region, progress);
  made.above = high.fillArea;
  made.below = volumeBetween(*shifted(from, -tolerance), to, region, progress).cutArea;
  made.within = std::max(0.0, high.planArea() - made.above - made.below);
  return made;
}

SecondOpinion secondOpinion(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& region, double cell,
                            double spacing, const Progress& progress) {
  SecondOpinion made;
  const plane::Box box = commonBox(from, to);
  const double area = box.width() * box.height(), length = std::max(box.width(), box.height());
  made.cell = cell > 0 || area <= 0 ? cell : roundStep(std::sqrt(area / 250'000));
  made.spacing = spacing > 0 || length <= 0 ? spacing : roundStep(length / 200);
  if (made.cell > 0 && area / (made.cell * made.cell) > 1e8)
    throw Error("that makes more than 100 million cells", "give wider cells");
  if (made.spacing > 0 && length / made.spacing > 1e5)
    throw Error("that makes more than 100 000 sections", "give a wider spacing");
  progress.report("exact volume", 0.1);
  made.exact = volumeBetween(from, to, region, progress);
  if (area <= 0) return made;
  progress.report("volume by grid", 0.4);
  made.grid = byGrid(from, to, region, made.cell, progress);
  progress.report("volume by sections", 0.7);
  made.sections = bySections(from, to, region, made.spacing, progress);
  return made;
}

}  // namespace inselberg::quantity
