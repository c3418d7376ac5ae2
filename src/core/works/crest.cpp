#include "works/crest.h"

#include <algorithm>

namespace inselberg::works {
namespace {

Vec2 rightOf(Vec2 u) {
  return {u.y, -u.x};
}

}  // namespace

CrestLine around(const std::vector<Vec3>& outline, const std::vector<SectionPtr>& sections) {
  CrestLine line;
  line.closed = true;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    line.stretches.push_back(
        {outline[i], outline[(i + 1) % outline.size()], sections[i], sections[i], static_cast<std::uint32_t>(i)});
  }
  return line;
}

CrestLine within(const std::vector<Vec3>& outline, const SectionPtr& section) {
  std::vector<Vec3> reversed(outline.rbegin(), outline.rend());
  return around(reversed, std::vector<SectionPtr>(outline.size(), section));
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
