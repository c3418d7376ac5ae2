// Method. The strips of batters are parted by height (parting.h); what is left of each, cut along its benches, is noded
// and triangulated together.
#include "works/batter_field.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "base/parallel.h"
#include "ground/level_grid.h"
#include "ground/recut.h"
#include "ground/triangulate_faces.h"
#include "plane/linework.h"
#include "plane/static_index.h"
#include "works/own_area.h"

namespace inselberg::works {
namespace {

using quantity::Convex;

constexpr double kSame = 1e-9;      // m: heights this near are equal
constexpr double kFlat = 4e-3;      // m: how far a part of a batter whose slope changes may lie from true
constexpr double kClear = 1e-3;     // m: this far below the ground is surely below
constexpr std::uint32_t kOwn = 1;   // a tag: of the border of the own area
constexpr std::size_t kChunk = 16;  // strips that one core looks at in a go

// The depth beyond which the ribbon surely lies below the ground; 0 when all of it does. sign as in FieldRequest.
double depthThatMatters(const Ribbon& r, const ground::LevelGrid& ground, double sign) {
  const double full = std::max(r.railA.back().depth, r.railB.back().depth);
  // Between two depths a bench may rise by so much.
  double rise = 0;
  for (const Rail* rail : {&r.railA, &r.railB}) {
    for (std::size_t k = 0; k + 1 < rail->size(); ++k) rise = std::max(rise, (*rail)[k + 1].height - (*rail)[k].height);
  }
  std::vector<double> depths{0};
  while (depths.back() < full) depths.push_back(std::min(full, depths.back() + std::max(1.0, 0.15 * depths.back())));
  for (std::size_t k = depths.size(); k-- > 1;) {
    const double from = depths[k - 1], to = depths[k];
    plane::Box box;
    for (const double d : {from, to}) box.add(r.a + d * r.ua), box.add(r.b + d * r.ub);
    const auto range = ground.within(box);
    const double lowest = sign > 0 ? range.lowest : -range.highest;
    if (std::max(heightAt(r.railA, from), heightAt(r.railB, from)) + rise > lowest - kClear) return to;
  }
  return 0;
}

// Where planes of two cells have one height, within both.
std::optional<plane::Segment2> meeting(const FieldCell& a, const FieldCell& b) {
  const Convex both = overlapOf(a.shape, b.shape);
  if (both.n < 3) return std::nullopt;
  std::vector<Vec2> zero;
  for (int i = 0, j = both.n - 1; i < both.n; j = i++) {
    const double from = a.plane(both.p[j]) - b.plane(both.p[j]), to = a.plane(both.p[i]) - b.plane(both.p[i]);
    if ((from > 0) != (to > 0)) zero.push_back(both.p[j] + (from / (from - to)) * (both.p[i] - both.p[j]));
  }
  if (zero.size() != 2 || plane::distance(zero[0], zero[1]) < 1e-7) return std::nullopt;
  return plane::Segment2{zero[0], zero[1]};
}

// The stretch of a line on a plane that lies under a cell.
std::optional<FieldCell::Hidden> hiddenBy(const FieldCell& over, Vec2 a, Vec2 b, const ground::Plane& own) {
  double from = 0, to = 1;
  // Keeps the part where what is linear along the line is above 0.
  const auto keep = [&](double atA, double atB) {
    if (atA <= 0 && atB <= 0) to = -1;
    if (atA <= 0 && atB > 0) from = std::max(from, atA / (atA - atB));
    if (atA > 0 && atB <= 0) to = std::min(to, atA / (atA - atB));
  };
  keep(over.plane(a) - own(a) - kSame, over.plane(b) - own(b) - kSame);
  for (int i = 0; i < over.shape.n && from < to; ++i) {
    const Vec2 p = over.shape.p[i], q = over.shape.p[(i + 1) % over.shape.n];
    if (plane::distance(p, q) > 1e-9) keep(plane::turn(p, q, a), plane::turn(p, q, b));
  }
  if (from >= to) return std::nullopt;
  return FieldCell::Hidden{0, from, to};
}

void noteHidden(FieldCell& cell, const FieldCell& over) {
  for (int k = 0; k < cell.shape.n; ++k) {
    auto hidden = hiddenBy(over, cell.shape.p[k], cell.shape.p[(k + 1) % cell.shape.n], cell.plane);
    if (!hidden) continue;
    hidden->side = k;
    cell.hidden.push_back(*hidden);
  }
}

// What is not hidden of a line, by stretches in their order.
void addSeen(plane::Linework& work, Vec2 a, Vec2 b, std::span<const FieldCell::Hidden> hidden) {
  const auto add = [&](Vec2 p, Vec2 q) { work.addSegment(p, q, 0); };
  const double little = ground::kSnap / std::max(plane::distance(a, b), ground::kSnap);
  double seen = 0;
  for (const FieldCell::Hidden& h : hidden) {
    if (h.from > seen + little) add(a + seen * (b - a), a + h.from * (b - a));
    seen = std::max(seen, h.to);
  }
  if (seen == 0) {
    add(a, b);
  } else if (seen < 1 - little) {
    add(a + seen * (b - a), b);
  }
}

void addSeenSides(plane::Linework& work, FieldCell& cell) {
  std::sort(cell.hidden.begin(), cell.hidden.end());
  auto from = cell.hidden.begin();
  for (int k = 0; k < cell.shape.n; ++k) {
    const auto to = std::find_if(from, cell.hidden.end(), [k](const auto& h) { return h.side != k; });
    addSeen(work, cell.shape.p[k], cell.shape.p[(k + 1) % cell.shape.n], {from, to});
    from = to;
  }
}

// The rails of a strip out to the reach, in its ribbon.
void layRails(const BatterStrip& s, Ribbon& ribbon, double sign, double reach) {
  const Leg &a = s.fromA->back(), &b = s.toB->back();
  const std::size_t steps = std::max(stepsWithin(a, sign, reach), stepsWithin(b, sign, reach));
  ribbon.crestLow = 1e300, ribbon.crestHigh = -1e300;
  const auto rail = [&](const Leg& leg, double z, Vec2 ray, bool mitre) {
    Rail made = stepsOf(leg, sign, reach, steps);
    const double aside = mitre && !s.fan ? sign * s.slope() * plane::dot(ray, s.along) : 0;
    for (RailPoint& p : made) p.height += sign * z + aside * p.depth;
    for (const double crest : {sign * z, sign * z + aside * made.back().depth})
      ribbon.crestLow = std::min(ribbon.crestLow, crest), ribbon.crestHigh = std::max(ribbon.crestHigh, crest);
    return made;
  };
  ribbon.ua = s.ua, ribbon.ub = s.ub;
  ribbon.railA = rail(a, s.za, s.ua, s.mitreA), ribbon.railB = rail(b, s.zb, s.ub, s.mitreB);
  // Where the steps of the two rails lie beside each other they end in the midst of one; else it is ended whole.
  const auto beside = [](const RailPoint& p, const RailPoint& q) { return std::abs(p.depth - q.depth) < kSame; };
  if (std::ranges::equal(ribbon.railA, ribbon.railB, beside)) ribbon.endAt(reach);
  const double deepest = ribbon.railA.back().depth;
  ribbon.endWhereRaysMeet();
  ribbon.cut = ribbon.railA.back().depth < deepest;
}

Ribbon ribbonOf(const BatterStrip& s, double sign, double reach) {
  const Leg &a = s.fromA->back(), &b = s.toB->back();
  Ribbon ribbon{s.a, s.b, s.ua, s.ub, s.out, {}, {}};
  layRails(s, ribbon, sign, reach);
  ribbon.slowest = 1 / std::max(a.run(sign), b.run(sign));
  ribbon.fastest = 1 / std::min(a.run(sign), b.run(sign));
  if (a.bench) {
    const double rise = -sign * a.bench->fall / 100 * a.bench->width;
    ribbon.benches = {a.bench->every, a.bench->width, std::max(0.0, rise)};
  }
  return ribbon;
}

// Beside a bent mitre each strip has to know the other as far as it goes itself; where the other is nowhere, it ends
// straight. `depths` are those that matter of each.
void meetEachOther(const BentMitre& m, std::vector<BatterStrip>& strips, std::span<const double> matter, double reach,
                   std::vector<double>& depths) {
  BatterStrip &before = strips[m.before], &after = strips[m.after];
  const double here = plane::dot(m.ray, before.out), there = plane::dot(m.ray, after.out);
  const auto& bench = before.toB->back().bench;
  const double more = 1 + (bench ? 4 * bench->width : 0);
  const auto atLeast = [&](double& depth, double other) {
    if (depth > 0) depth = std::min(reach, std::max(depth, 1.05 * other + more));
  };
  atLeast(depths[m.before], matter[m.after] * here / there);
  atLeast(depths[m.after], matter[m.before] * there / here);
  if (matter[m.after] == 0) before.ub = (1 / here) * m.ray;
  if (matter[m.before] == 0) after.ua = (1 / there) * m.ray;
}

}  // namespace

BatterField::BatterField(const FieldRequest& request, const Progress& progress) : sign_(request.sign) {
  const double sign = request.sign;
  Governing governing;
  governing.byLevel = true;
  governing.sign = sign;
  governing.rates = [&](const Stretch& s) {
    if (!hasBatter(s)) return std::array{1.0, 1.0};
    return std::array{1 / s.fromA->back().run(sign), 1 / s.toB->back().run(sign)};
  };
  StripRules rules;
  rules.corners = request.crests->corners;
  rules.chordError = request.crests->chordError;
  rules.radius = request.radius;
  rules.isWall = [](const Stretch&) { return false; };
  rules.stops = [&](const Stretch& s) {
    std::vector<double> stops;
    if (!hasBatter(s)) return stops;
    const double twist = std::abs(governing.rates(s)[0] - governing.rates(s)[1]) / 4 *
                         std::min(request.reach, request.radius(s.arcStep > 0 ? s.centre : s.a.plan()));
    const int n = std::clamp(static_cast<int>(std::ceil(twist / kFlat)), 1, 64);
    for (int k = 1; k < n; ++k) stops.push_back(static_cast<double>(k) / n);
    return stops;
  };
  for (BatterStrip& s : stripsOf(request.crests->lines, {}, governing, rules)) {
    if (s.fromA && endsInBatter(*s.fromA)) strips_.push_back(std::move(s));
  }
  std::vector<BentMitre> mitres = bentMitres(strips_, sign, request.reach);
  std::vector<Ribbon> ribbons = ribbonsThatMatter(request, mitres, progress);
  parting_ = std::make_unique<Parting>(std::move(ribbons), std::move(mitres), progress);
}

// Ribbons of the strips, as far out as they matter; the others are dropped, with the mitres that they have.
std::vector<Ribbon> BatterField::ribbonsThatMatter(const FieldRequest& request, std::vector<BentMitre>& mitres,
                                                   const Progress& progress) {
  const std::size_t n = strips_.size();
  std::vector<Ribbon> ribbons(n);
  std::vector<double> matter(n);
  parallelChunks(n, kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) {
      ribbons[i] = ribbonOf(strips_[i], sign_, request.reach);
      matter[i] = request.ground ? depthThatMatters(ribbons[i], request.ground->levels(), sign_) : request.reach;
    }
  });
  std::vector<double> depths = matter;
  for (const BentMitre& m : mitres) meetEachOther(m, strips_, matter, request.reach, depths);
  parallelChunks(n, kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) {
      if (depths[i] == 0) continue;
      layRails(strips_[i], ribbons[i], sign_, depths[i]);
      ribbons[i].cut |= depths[i] < request.reach;  // it would go on
    }
  });
  std::vector<std::uint32_t> numbers;  // of those that are kept
  std::size_t kept = 0;
  for (std::size_t i = 0; i < n; ++i) {
    numbers.push_back(static_cast<std::uint32_t>(kept));
    if (depths[i] == 0) continue;
    if (kept < i) ribbons[kept] = std::move(ribbons[i]), strips_[kept] = std::move(strips_[i]);
    ++kept;
  }
  ribbons.resize(kept), strips_.resize(kept);
  std::erase_if(mitres, [&](const BentMitre& m) { return depths[m.before] == 0 || depths[m.after] == 0; });
  for (BentMitre& m : mitres) m.before = numbers[m.before], m.after = numbers[m.after];
  return ribbons;
}

std::vector<FieldCell> BatterField::cellsOf(std::uint32_t ribbon) const {
  std::vector<FieldCell> cells;
  const auto& pieces = parting_->pieces(ribbon);
  parting_->eachCell(ribbon, [&](const Convex& cell, const auto&, const auto&) {
    for (const Piece& piece : pieces) {
      const Convex shape = parting_->isOnePiece(ribbon) ? cell : overlapOf(piece.shape, cell);
      if (shape.n < 3 || quantity::area(shape) < 1e-12) continue;
      cells.push_back({ribbon, piece.plane, shape, quantity::boxOf(shape), {}});
    }
  });
  return cells;
}

// Adds the lines along which one strip gives way to another where no third lies over both, and notes what is hidden of
// each cell's sides. Of each strip, whether it lies over another.
std::vector<char> BatterField::partCells(std::vector<FieldCell>& cells, const std::vector<std::size_t>& starts,
                                         plane::Linework& work) const {
  std::vector<char> overlaps(strips_.size(), 0);
  const auto pairs = parting_->overlappingPairs();
  std::vector<std::vector<std::uint32_t>> beside(strips_.size());
  for (const auto& [i, other] : pairs) beside[i].push_back(other), beside[other].push_back(i);
  std::vector<FieldCell::Hidden> hidden;
  const auto addMeeting = [&](const plane::Segment2& line, const FieldCell& on) {
    hidden.clear();
    const plane::Box box = plane::boxOf(line);
    for (const std::uint32_t third : beside[on.ribbon]) {
      for (std::size_t c = starts[third]; c < starts[third + 1]; ++c) {
        if (!cells[c].box.overlaps(box)) continue;
        if (const auto h = hiddenBy(cells[c], line.a, line.b, on.plane)) hidden.push_back(*h);
      }
    }
    std::sort(hidden.begin(), hidden.end());
    addSeen(work, line.a, line.b, hidden);
  };
  for (const auto& [i, other] : pairs) {
    overlaps[i] = overlaps[other] = 1;
    for (std::size_t c = starts[i]; c < starts[i + 1]; ++c) {
      for (std::size_t d = starts[other]; d < starts[other + 1]; ++d) {
        if (!cells[c].box.overlaps(cells[d].box)) continue;
        if (const auto line = meeting(cells[c], cells[d])) addMeeting(*line, cells[c]);
        noteHidden(cells[c], cells[d]);
        noteHidden(cells[d], cells[c]);
      }
    }
  }
  return overlaps;
}

void BatterField::lay(const Blocked& blocked, const Progress& progress) {
  plane::Linework work(ground::kSnap);
  // The crest first, so that its points keep their exact places.
  for (const BatterStrip& s : strips_) {
    if (!s.fan) work.addSegment(s.a, s.b, 0);
  }
  std::optional<ground::FacetBorder> own;
  if (blocked.own) own.emplace(*blocked.own->tin, blocked.own->border, work, kOwn);
  for (const auto& [a, b] : blocked.borders) work.addSegment(a, b, 0);
  std::vector<FieldCell> cellOf;
  std::vector<std::size_t> starts;  // of each ribbon's
  std::vector<std::vector<FieldCell>> ofRibbon(strips_.size());
  parallelChunks(strips_.size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) ofRibbon[i] = cellsOf(static_cast<std::uint32_t>(i));
  });
  for (std::vector<FieldCell>& cells : ofRibbon) {
    starts.push_back(cellOf.size());
    std::move(cells.begin(), cells.end(), std::back_inserter(cellOf));
  }
  starts.push_back(cellOf.size());
  const std::vector<char> overlaps = partCells(cellOf, starts, work);
  ShapeIndex cells;
  ground::Triangulation made;
  parallelInvoke(
      [&] {
        for (const FieldCell& cell : cellOf) cells.add(cell.shape);
        cells.close();
      },
      [&] {
        for (FieldCell& cell : cellOf) addSeenSides(work, cell);
        // Strips that lie over no other do cross by rounding where their sides are slivers.
        work.nodeCrossings(kOwn);
        if (own) own->follow(work);
        made =
            ground::triangulateFaces(work, own ? std::span(own->sides()) : std::span<const ground::Edge>(), progress);
      });

  constexpr std::uint32_t kNowhere = ~std::uint32_t{0};
  std::vector<std::uint32_t> cellAt(made.triangles.size(), kNowhere);
  const auto alone = [&](std::uint32_t cell) { return cell != kNowhere && !overlaps[cellOf[cell].ribbon]; };
  parallelChunks(cellAt.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    // What is inside of a cell that lies over no other goes on to its sides, all of which are there.
    const auto fromBeside = [&](std::size_t t) {
      for (int k = 0; k < 3; ++k) {
        const Index other = made.neighbours[t][k];
        if (other >= begin && other < t && !(made.constrained[t] >> k & 1) && alone(cellAt[other]))
          return cellAt[other];
      }
      return kNowhere;
    };
    for (std::size_t t = begin; t < end; ++t) {
      if ((cellAt[t] = fromBeside(t)) != kNowhere) continue;
      const Vec2 middle = ground::centroid(made, static_cast<Index>(t));
      const auto found = cells.at(middle);
      if (!found || blocked.at(middle)) continue;
      cellAt[t] = *found;
      if (alone(*found)) continue;
      for (const std::uint32_t other : cells.allAt(middle)) {
        if (cellOf[other].plane(middle) > cellOf[cellAt[t]].plane(middle)) cellAt[t] = other;
      }
    }
  });
  ground::TinParts parts;
  for (const Vec2 p : made.points) parts.points.push_back({p.x, p.y, 0});
  for (Index t = 0; t < made.triangles.size(); ++t) {
    if (cellAt[t] == kNowhere) continue;
    const ground::Triangle& c = made.triangles[t];
    const FieldCell& cell = cellOf[cellAt[t]];
    parts.triangles.push_back(c);
    parts.breaks.push_back(made.constrained[t]);
    ribbonOf_.push_back(cell.ribbon);
    planes_.push_back(cell.plane);
    for (const Index v : c) parts.points[v].z = cell.plane(made.points[v]);
  }
  ground::dropUnusedPoints(parts);
  cutAtCrests(parts);
  tin_ = std::make_shared<ground::Tin>(std::move(parts));
}

bool BatterField::onFoot(std::uint32_t i, Vec2 p) const {
  const Ribbon& r = parting_->ribbons()[i];
  return std::abs(r.depth(p)) < 4 * ground::kSnap && plane::nearestOnSegment(p, r.a, r.b).distance < 4 * ground::kSnap;
}

// Where batters start on both sides of a line, neither goes on into the other.
void BatterField::cutAtCrests(ground::TinParts& parts) const {
  parts.neighbours = ground::findNeighbours(parts.points.size(), parts.triangles);
  for (Index t = 0; t < parts.triangles.size(); ++t) {
    if (strips_[ribbonOf_[t]].fan) continue;
    for (int k = 0; k < 3; ++k) {
      const Index other = parts.neighbours[t][k];
      if (other == ground::kNone) continue;
      const ground::Triangle& c = parts.triangles[t];
      if (!onFoot(ribbonOf_[t], parts.points[c[ground::next(k)]].plan()) ||
          !onFoot(ribbonOf_[t], parts.points[c[ground::before(k)]].plan()))
        continue;
      // Only towards what lies on the other side of it.
      const ground::Triangle& beyond = parts.triangles[other];
      const Vec2 middle = (1.0 / 3) * (parts.points[beyond[0]].plan() + parts.points[beyond[1]].plan() +
                                       parts.points[beyond[2]].plan());
      if (parting_->ribbons()[ribbonOf_[t]].depth(middle) > 0) continue;
      parts.neighbours[t][k] = ground::kNone;
      for (Index& back : parts.neighbours[other]) {
        if (back == t) back = ground::kNone;
      }
    }
  }
}

const Vec2* BatterField::corner(Index t) const {
  const BatterStrip& s = strips_[ribbonOf_[t]];
  return s.arcStep > 0 ? &s.centre : nullptr;
}

bool BatterField::isCrest(Index t, int k) const {
  if (strips_[ribbonOf_[t]].fan || tin_->neighbours()[t][k] != ground::kNone) return false;
  const ground::Triangle& c = tin_->triangles()[t];
  return onFoot(ribbonOf_[t], tin_->plan(c[ground::next(k)])) && onFoot(ribbonOf_[t], tin_->plan(c[ground::before(k)]));
}

}  // namespace inselberg::works
