#include "ground/assembly.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>
#include <utility>

#include "base/parallel.h"

namespace inselberg::ground {

Assembly::Assembly(const Tin& ground, const std::vector<char>& kept, const Triangulation& cut)
    : ground_(ground), kept_(kept), cut_(cut), levels_(cut.points.size()) {}

// New points are numbered behind all of the ground's.
Index Assembly::pointAt(const Vec3& p) {
  newPoints_.push_back(p);
  return static_cast<Index>(ground_.points().size() + newPoints_.size() - 1);
}

Index Assembly::pointAt(Index local, double z) {
  auto& levels = levels_[local];
  for (const Level& l : levels) {
    if (std::abs(l.z - z) <= kSnap) return l.point;
  }
  const Vec2 p = cut_.points[local];
  levels.push_back({z, pointAt({p.x, p.y, z})});
  return levels.back().point;
}

Index Assembly::pointOf(Index local, const Tin& surface, Index t) {
  const Vec2 p = cut_.points[local];
  Index own = kNone;
  for (const Index v : surface.triangles()[t]) {
    if (plane::distance(surface.plan(v), p) <= 2 * kSnap) own = v;
  }
  if (own == kNone) return pointAt(local, planeOf(surface.corners(t))(p));
  const double z = surface.points()[own].z;
  if (&surface != &ground_) return pointAt(local, z);
  auto& levels = levels_[local];
  for (const Level& l : levels) {
    if (l.point == own) return own;
  }
  levels.insert(levels.begin(), {z, own});
  return own;
}

void Assembly::add(Index face, const Tin& surface, Index t) {
  const Triangle& f = cut_.triangles[face];
  Triangle made;
  for (int k = 0; k < 3; ++k) made[k] = pointOf(f[k], surface, t);
  const Triangle& c = surface.triangles()[t];
  std::uint8_t bits = 0;
  for (int k = 0; k < 3 && surface.breakBits(t); ++k) {
    if (!(cut_.constrained[face] >> k & 1)) continue;
    const Vec2 middle = 0.5 * (cut_.points[f[next(k)]] + cut_.points[f[before(k)]]);
    for (int s = 0; s < 3; ++s) {
      if (surface.isBreak(t, s) &&
          plane::nearestOnSegment(middle, surface.plan(c[next(s)]), surface.plan(c[before(s)])).distance <= 2 * kSnap) {
        bits |= static_cast<std::uint8_t>(1 << k);
      }
    }
  }
  newTriangles_.push_back(made);
  newBreaks_.push_back(bits);
}

void Assembly::add(const Triangle& corners, std::uint8_t breaks) {
  const auto plan = [&](int k) {
    const std::size_t own = ground_.points().size();
    return corners[k] < own ? ground_.plan(corners[k]) : newPoints_[corners[k] - own].plan();
  };
  if (corners[0] == corners[1] || corners[1] == corners[2] || corners[2] == corners[0]) return;
  if (!(plane::turn(plan(0), plan(1), plan(2)) >= 0)) return;
  newTriangles_.push_back(corners);
  newBreaks_.push_back(breaks);
}

// Numbers for a list that items go from and others come to: those that stay keep theirs, but for the last of them where
// more go than come.
class Assembly::Numbers {
 public:
  Numbers(const std::vector<char>& stays, std::size_t come) {
    const std::size_t n = stays.size();
    std::vector<Index> gaps;
    for (auto it = stays.begin(); (it = std::find(it, stays.end(), 0)) != stays.end(); ++it)
      gaps.push_back(static_cast<Index>(it - stays.begin()));
    total_ = n - gaps.size() + come;
    while (!gaps.empty() && gaps.back() >= total_) gaps.pop_back();
    for (std::size_t i = 0; i < come; ++i)
      fresh_.push_back(i < gaps.size() ? gaps[i] : static_cast<Index>(n + i - gaps.size()));
    auto gap = gaps.begin() + static_cast<std::ptrdiff_t>(std::min(come, gaps.size()));
    now_.resize(n - std::min(n, total_), kNone);
    for (std::size_t i = total_; i < n; ++i) {
      if (stays[i]) moved_.emplace_back(static_cast<Index>(i), now_[i - total_] = *gap++);
    }
  }

  std::size_t total() const { return total_; }
  const std::vector<Index>& fresh() const { return fresh_; }                    // of those that come
  const std::vector<std::pair<Index, Index>>& moved() const { return moved_; }  // of those that stay: from, to
  // Of one that stays.
  Index operator()(Index number) const { return number < total_ ? number : now_[number - total_]; }

  // The list with what stays where it was, and room for what moves and comes.
  template <class T>
  std::vector<T> copyOf(const std::vector<T>& list) const {
    std::vector<T> copy;
    copy.reserve(total_);
    copy.assign(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(std::min(list.size(), total_)));
    copy.resize(total_);
    return copy;
  }

 private:
  std::size_t total_ = 0;
  std::vector<Index> fresh_, now_;  // now: of those numbered from the total on
  std::vector<std::pair<Index, Index>> moved_;
};

// The ground's, then the new ones.
std::vector<char> Assembly::usedPoints() const {
  std::vector<char> used(ground_.points().size() + newPoints_.size(), 0);
  for (Index t = 0; t < kept_.size(); ++t) {
    if (!kept_[t]) continue;
    for (const Index v : ground_.triangles()[t]) used[v] = 1;
  }
  for (const Triangle& t : newTriangles_) {
    for (const Index v : t) used[v] = 1;
  }
  return used;
}

// Most of the ground is copied as it is.
TinPtr Assembly::finish() {
  const std::size_t before = ground_.points().size();
  const Numbers triangles(kept_, newTriangles_.size());
  TinParts parts;
  std::optional<Numbers> points;
  std::vector<Index> newNumbers(newPoints_.size(), kNone);
  parallelInvoke(
      [&] {
        std::vector<char> used = usedPoints();
        std::vector<Index> fresh;
        for (std::size_t i = before; i < used.size(); ++i) {
          if (used[i]) fresh.push_back(static_cast<Index>(i - before));
        }
        used.resize(before);
        points.emplace(used, fresh.size());
        parts.points = points->copyOf(ground_.parts().points);
        for (const auto& [from, to] : points->moved()) parts.points[to] = ground_.points()[from];
        for (std::size_t i = 0; i < fresh.size(); ++i)
          parts.points[newNumbers[fresh[i]] = points->fresh()[i]] = newPoints_[fresh[i]];
      },
      [&] { parts.triangles = triangles.copyOf(ground_.parts().triangles); },
      [&] {
        parts.neighbours = triangles.copyOf(ground_.parts().neighbours);
        parts.breaks = triangles.copyOf(ground_.parts().breaks);
      });
  moveKept(parts, *points, triangles);
  for (std::size_t i = 0; i < newTriangles_.size(); ++i) {
    const Index own = triangles.fresh()[i];
    for (std::size_t k = 0; k < 3; ++k) {
      const Index v = newTriangles_[i][k];
      parts.triangles[own][k] = v < before ? (*points)(v) : newNumbers[v - before];
    }
    parts.breaks[own] = newBreaks_[i];
    parts.neighbours[own] = {kNone, kNone, kNone};
  }
  join(parts, triangles);
  std::vector<Index> changed = triangles.fresh();
  for (const auto& [from, to] : triangles.moved()) changed.push_back(to);
  return std::make_shared<Tin>(std::move(parts), ground_, changed);
}

// Kept triangles and points that have another number.
void Assembly::moveKept(TinParts& parts, const Numbers& points, const Numbers& triangles) const {
  if (!points.moved().empty()) {
    for (std::size_t t = 0; t < std::min(kept_.size(), triangles.total()); ++t) {
      if (!kept_[t]) continue;
      for (Index& v : parts.triangles[t]) v = points(v);
    }
  }
  for (const auto& [from, to] : triangles.moved()) {
    for (std::size_t k = 0; k < 3; ++k) parts.triangles[to][k] = points(ground_.triangles()[from][k]);
    parts.breaks[to] = ground_.breakBits(from);
    parts.neighbours[to] = ground_.neighbours()[from];
  }
  for (const auto& [from, to] : triangles.moved()) {
    for (int k = 0; k < 3; ++k) {
      const Index other = ground_.neighbours()[from][k];
      if (other == kNone || !kept_[other]) continue;
      parts.neighbours[to][k] = triangles(other);
      parts.neighbours[triangles(other)][ground_.sideBack(from, k)] = to;
    }
  }
}

// Sides that wait for a partner: all of new triangles, and those of kept ones beside what is gone.
void Assembly::join(TinParts& parts, const Numbers& triangles) const {
  std::unordered_map<std::uint64_t, std::pair<Index, int>> open;
  open.reserve(3 * newTriangles_.size());
  const auto side = [&](Index t, int k) {
    parts.neighbours[t][k] = kNone;
    const Triangle& c = parts.triangles[t];
    const std::uint64_t from = c[next(k)], end = c[before(k)];
    if (const auto it = open.find(end << 32 | from); it != open.end()) {
      const auto [other, otherSide] = it->second;
      parts.neighbours[t][k] = other;
      parts.neighbours[other][otherSide] = t;
      open.erase(it);
    } else {
      open.emplace(from << 32 | end, std::pair(t, k));
    }
  };
  for (auto gone = kept_.begin(); (gone = std::find(gone, kept_.end(), 0)) != kept_.end(); ++gone) {
    const auto t = static_cast<Index>(gone - kept_.begin());
    for (int k = 0; k < 3; ++k) {
      const Index other = ground_.neighbours()[t][k];
      if (other != kNone && kept_[other]) side(triangles(other), ground_.sideBack(t, k));
    }
  }
  for (const Index own : triangles.fresh()) {
    for (int k = 0; k < 3; ++k) side(own, k);
  }
}

}  // namespace inselberg::ground
