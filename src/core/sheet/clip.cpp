// Method: a line is parted at every side of every opening that it crosses; a part is seen when its middle is inside
// all of them. No polygon is intersected with another, so rings may cross themselves and each other.
#include "sheet/clip.h"

#include <algorithm>

#include "plane/boxes.h"

namespace inselberg::sheet {
namespace {

// The ring's box when it is one, drawn along the axes.
bool isBox(const plane::Ring& ring, const Box& box) {
  if (ring.size() != 4) return false;
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec2 d = ring[(i + 1) % 4] - ring[i];
    if (std::min(std::abs(d.x), std::abs(d.y)) > 1e-6 * (box.width() + box.height())) return false;
  }
  return true;
}

// Where ab goes into the box and out of it, as shares of ab; false when it stays outside.
bool within(const Box& box, Vec2 a, Vec2 b, double& in, double& out) {
  in = 0, out = 1;
  const Vec2 d = b - a;
  const auto side = [&](double step, double room) {
    if (step == 0) return room >= 0;
    const double t = room / step;
    if (step > 0) {
      out = std::min(out, t);
    } else {
      in = std::max(in, t);
    }
    return in <= out;
  };
  return side(d.x, box.maxX - a.x) && side(-d.x, a.x - box.minX) && side(d.y, box.maxY - a.y) &&
         side(-d.y, a.y - box.minY);
}

}  // namespace

Opening::Opening(std::vector<plane::Ring> rings, bool evenOdd) : evenOdd_(evenOdd) {
  for (const plane::Ring& ring : rings) {
    for (std::size_t i = 0; i < ring.size(); ++i) {
      const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
      box_.add(a);
      if (a != b) sides_.push_back({a, b});
    }
  }
  index_ = plane::SegmentIndex(sides_);
}

bool Opening::contains(Vec2 p) const {
  if (!box_.contains(p)) return false;
  int turns = 0;
  bool odd = false;
  // A ray to the right; a side counts from its lower end on, up to its upper end.
  index_.near(plane::Segment2{p, {box_.maxX + 1, p.y}}, 0, [&](std::size_t i) {
    const auto& [a, b] = sides_[i];
    if ((a.y <= p.y) == (b.y <= p.y)) return;
    const bool up = a.y <= p.y;
    if ((plane::turn(a, b, p) > 0) != up) return;
    turns += up ? 1 : -1;
    odd = !odd;
  });
  return evenOdd_ ? odd : turns != 0;
}

void Opening::crossings(Vec2 a, Vec2 b, std::vector<double>& along) const {
  index_.near(plane::Segment2{a, b}, 0, [&](std::size_t i) {
    if (const auto t = plane::crossingAlong(a, b, sides_[i].a, sides_[i].b)) along.push_back(*t);
  });
}

void Clip::narrow(std::vector<plane::Ring> rings, bool evenOdd) {
  Box all;
  for (const plane::Ring& ring : rings) {
    for (const Vec2 p : ring) all.add(p);
  }
  if (rings.size() != 1 || !isBox(rings.front(), all)) {
    openings.push_back(std::make_shared<const Opening>(std::move(rings), evenOdd));
    all = openings.back()->box();
  }
  box = plane::common(box, all);
  if (box.minX > box.maxX || box.minY > box.maxY) box = {};
}

bool Clip::contains(Vec2 p) const {
  return box.contains(p) &&
         std::all_of(openings.begin(), openings.end(), [&](const auto& o) { return o->contains(p); });
}

bool Clip::holds(const Box& b) const {
  return openings.empty() && plane::holds(box, b);
}

std::vector<Piece> seen(const Clip& clip, std::vector<Vec2> points, bool closed) {
  Box own;
  for (const Vec2 p : points) own.add(p);
  if (points.empty() || !clip.box.overlaps(own)) return {};
  if (clip.holds(own)) return {{std::move(points), closed}};
  if (closed) points.push_back(points.front());
  std::vector<Piece> pieces;
  bool open = false, whole = true;  // whether the last piece goes on here
  std::vector<double> along;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    const Vec2 a = points[i], b = points[i + 1];
    if (a == b) continue;
    const auto at = [&](double t) { return t <= 0 ? a : t >= 1 ? b : a + t * (b - a); };
    double in = 0, out = 1;
    along.clear();
    if (within(clip.box, a, b, in, out)) {
      along = {in, out};
      for (const auto& opening : clip.openings) opening->crossings(a, b, along);
    }
    std::sort(along.begin(), along.end());
    double reached = 0;  // how far the line is dealt with
    for (std::size_t k = 0; k + 1 < along.size(); ++k) {
      const double from = along[k], to = along[k + 1];
      if (from < in || to > out || to <= from || !clip.contains(at((from + to) / 2))) continue;
      if (!open || from > reached + 1e-12) {
        whole = whole && pieces.empty() && i == 0 && from <= 0;
        pieces.push_back({{at(from)}, false});
      }
      pieces.back().points.push_back(at(to));
      reached = to;
      open = true;
    }
    if (reached < 1) open = whole = false;
    // A side crossed in the middle of what is seen parts nothing.
  }
  // Of a closed line the last piece goes on in the first.
  if (closed && whole && pieces.size() == 1) {
    pieces.front().points.pop_back();
    pieces.front().closed = true;
  } else if (closed && pieces.size() > 1 && pieces.back().points.back() == pieces.front().points.front()) {
    std::vector<Vec2>& last = pieces.back().points;
    last.insert(last.end(), pieces.front().points.begin() + 1, pieces.front().points.end());
    std::swap(pieces.front(), pieces.back());
    pieces.pop_back();
  }
  return pieces;
}

plane::Ring cutOff(const Box& box, plane::Ring ring) {
  // Off one side of the box after the other; `inside` is how far within it.
  const auto cut = [&ring](const auto& inside) {
    plane::Ring left;
    for (std::size_t i = 0; i < ring.size(); ++i) {
      const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
      const double da = inside(a), db = inside(b);
      if (da >= 0) left.push_back(a);
      if ((da < 0) != (db < 0) && da != db) left.push_back(a + da / (da - db) * (b - a));
    }
    ring = std::move(left);
  };
  cut([&](Vec2 p) { return p.x - box.minX; });
  cut([&](Vec2 p) { return box.maxX - p.x; });
  cut([&](Vec2 p) { return p.y - box.minY; });
  cut([&](Vec2 p) { return box.maxY - p.y; });
  return ring;
}

}  // namespace inselberg::sheet
