#include "works/crest.h"

#include <algorithm>

namespace inselberg::works {

using plane::rightOf;
CrestLine around(const std::vector<Vec3>& outline, const SectionsAlong& along, const std::vector<EdgeSection>& edges,
                 const std::vector<std::size_t>& edgeOf) {
  CrestLine line;
  line.closed = true;
  double station = 0;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec3 &a = outline[i], &b = outline[(i + 1) % outline.size()];
    const double length = plane::distance(a.plan(), b.plan());
    if (length < 1e-9) continue;
    const auto at = [&](double s) {
      const double t = (s - station) / length;
      return Vec3{a.x + t * (b.x - a.x), a.y + t * (b.y - a.y), a.z + t * (b.z - a.z)};
    };
    const std::size_t edge = edgeOf.empty() ? i : edgeOf[i];
    const auto own = std::find_if(edges.begin(), edges.end(), [&](const auto& e) { return e.edge == edge; });
    std::vector<double> stops{station};
    if (own == edges.end()) {
      for (const double s : bendsBetween(along, station + 1e-6, station + length - 1e-6)) stops.push_back(s);
    }
    stops.push_back(station + length);
    for (std::size_t k = 0; k + 1 < stops.size(); ++k) {
      Stretch s{k == 0 ? a : at(stops[k]), k + 2 == stops.size() ? b : at(stops[k + 1])};
      s.fromA = own == edges.end() ? sectionAt(along, stops[k]) : std::make_shared<const Section>(own->section.legs);
      s.toB = own == edges.end() ? sectionAt(along, stops[k + 1]) : s.fromA;
      if (s.constant()) s.toB = s.fromA;
      s.edge = static_cast<std::uint32_t>(line.stretches.size());
      line.stretches.push_back(std::move(s));
    }
    station += length;
  }
  return line;
}

CrestLine within(const std::vector<Vec3>& outline, const Section& section) {
  return around({outline.rbegin(), outline.rend()}, {{0, {{}, section}}});
}

Crests alongBothSides(const std::vector<LinePiece>& pieces, LineEnds ends) {
  Crests made;
  CrestLine right, left;
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    const LinePiece& p = pieces[i];
    const auto edge = static_cast<std::uint32_t>(i);
    right.stretches.push_back({p.a, p.b, p.right.start, p.right.end, edge});
    left.stretches.push_back({p.b, p.a, p.left.end, p.left.start, edge});
  }
  std::reverse(left.stretches.begin(), left.stretches.end());
  if (ends == LineEnds::joined) {
    right.closed = left.closed = true;
    made.lines = {std::move(right), std::move(left)};
    return made;
  }
  if (ends == LineEnds::wrapped) {
    right.closed = true;
    right.stretches.insert(right.stretches.end(), left.stretches.begin(), left.stretches.end());
    made.lines = {std::move(right)};
    return made;
  }
  const auto out = [](const Stretch& s) { return rightOf(plane::unit(s.b.plan() - s.a.plan())); };
  // Square to the line's own ends, for all that follows.
  right.startRay = out(right.stretches.front()), right.endRay = out(right.stretches.back());
  left.startRay = out(left.stretches.front()), left.endRay = out(left.stretches.back());
  made.walls = {{{pieces.back().b.plan()}, right.endRay, left.startRay},
                {{pieces.front().a.plan()}, left.endRay, right.startRay}};
  right.endWall = left.startWall = 0;
  left.endWall = right.startWall = 1;
  made.lines = {std::move(right), std::move(left)};
  return made;
}

}  // namespace inselberg::works
