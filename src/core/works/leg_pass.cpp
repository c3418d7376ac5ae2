#include "works/leg_pass.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <unordered_map>

#include "base/parallel.h"

namespace inselberg::works {
namespace {

using quantity::Convex;

constexpr double kJoin = 1e-5;       // m: ends of the outer line this near are one
constexpr double kNextTo = 2e-3;     // m: the same for such as follow each other
constexpr double kShortest = 1e-3;   // m: shorter pieces of an outer line are passed over
constexpr double kNoStep = 2e-3;     // m: where a line bends on a slope, a lesser step in it is made none
constexpr double kSameLevel = 1e-4;  // m
constexpr double kFlat = 5e-4;       // m: how far a part may lie from true

// m of level for each metre out.
double rateOf(const Leg& leg, double z) {
  switch (leg.kind) {
    case Leg::Kind::out:
      return -leg.fall / 100;
    case Leg::Kind::by:
      return (leg.height < 0 ? -1 : 1) / leg.slope;
    case Leg::Kind::toLevel:
      return (leg.level < z ? -1 : 1) / leg.slope;
    default:
      return 0;
  }
}

bool has(const PassLeg& leg, const Section& section) {
  if (leg.space) return true;
  return leg.number < section.size() && section[leg.number].kind != Leg::Kind::toGround;
}

// Where along a stretch numbers stop being linear, and enough stops that a leg's surface is flat between them.
std::vector<double> stopsAlong(const Stretch& s, const PassLeg& leg) {
  if (leg.space || !has(leg, *s.fromA)) return {};
  const auto legAt = [&](double t) { return s.at(t)[leg.number]; };
  const auto levelAt = [&](double t) { return s.a.z + t * (s.b.z - s.a.z); };
  std::vector<double> kinks{0, 1};
  const Leg first = legAt(0), last = legAt(1);
  const double before = first.kind == Leg::Kind::by ? first.height : first.level - s.a.z;
  const double after = last.kind == Leg::Kind::by ? last.height : last.level - s.b.z;
  if (first.kind != Leg::Kind::out && (before > 0) != (after > 0) && before != after) {
    const double t = before / (before - after);
    if (t > 1e-6 && t < 1 - 1e-6) kinks.insert(kinks.begin() + 1, t);
  }
  std::vector<double> stops;
  for (std::size_t k = 0; k + 1 < kinks.size(); ++k) {
    const double t0 = kinks[k], t1 = kinks[k + 1];
    if (k > 0) stops.push_back(t0);
    if (s.constant() && first.kind != Leg::Kind::toLevel) continue;
    // Halves until the part is flat and its outer line straight.
    const std::function<void(double, double, int)> halve = [&](double t, double u, int depth) {
      const auto a = reachOf(legAt(t), levelAt(t)), b = reachOf(legAt(u), levelAt(u));
      const double m = 0.5 * (t + u);
      const auto c = reachOf(legAt(m), levelAt(m));
      // Rates a little inside, where a leg of no width still has one.
      const double ra = rateOf(legAt(t + 1e-9 * (u - t)), levelAt(t + 1e-9 * (u - t)));
      const double rb = rateOf(legAt(u - 1e-9 * (u - t)), levelAt(u - 1e-9 * (u - t)));
      const double twist = std::abs(ra - rb) * std::max(a.width, b.width) / 4;
      const double bend =
          std::max(std::abs(c.width - 0.5 * (a.width + b.width)), std::abs(c.level - 0.5 * (a.level + b.level)));
      if (depth >= 9 || (twist < kFlat && bend < kFlat)) return;
      halve(t, m, depth + 1);
      stops.push_back(m);
      halve(m, u, depth + 1);
    };
    halve(t0, t1, 0);
  }
  return stops;
}

// Minus the depth governs: what is nearest.
Governing byNearness() {
  return {[](const Stretch&) { return std::array{1.0, 1.0}; }};
}
std::vector<Ribbon> ribbonsByNearness(const std::vector<BatterStrip>& strips, double reach) {
  std::vector<Ribbon> ribbons;
  const Rail rail{{0, 0}, {reach, -reach}};
  for (const BatterStrip& s : strips) {
    ribbons.push_back({s.a, s.b, s.ua, s.ub, s.out, rail, rail});
    ribbons.back().endWhereRaysMeet();
  }
  return ribbons;
}

// A piece of the outer line while it is put together.
struct OuterPiece {
  Stretch stretch;
  Vec2 startRay, endRay;  // on along the line that parts it from what comes before and after
  bool startsLine = false, endsLine = false;
  std::uint32_t line = 0;
  bool used = false;
};

// What some strips come to, in their order.
struct Covered {
  std::vector<Cell> cells;
  std::vector<OuterPiece> pieces;
};

class Pass {
 public:
  Pass(const Crests& inner, const PassLeg& leg, const std::function<double(Vec2)>& radius, const Progress& progress)
      : inner_(inner), leg_(leg) {
    StripRules rules;
    rules.corners = inner.corners;
    rules.chordError = inner.chordError;
    rules.cornersToBefore = leg.space.has_value();
    if (leg.cornersLevel) rules.levelCorners = widest(inner, leg);
    rules.radius = radius;
    rules.isWall = [&](const Stretch& s) { return !has(leg, *s.fromA) && !hasBatter(s); };
    rules.stops = [&](const Stretch& s) { return stopsAlong(s, leg); };
    strips_ = stripsOf(inner.lines, inner.walls, byNearness(), rules);
    const double reach = measureLegs() * 1.01 + 0.01;
    const Parting parting(ribbonsByNearness(strips_, reach), {}, progress, covers_);
    constexpr std::size_t kChunk = 16;  // strips
    auto parts = parallelMap<Covered>(strips_.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
      Covered covered;
      for (std::size_t i = begin; i < end; ++i) {
        if (covers_[i]) {
          cover(i, parting, covered);
        } else if (strips_[i].fromA && !strips_[i].fan) {
          covered.pieces.push_back(kept(i));
        }
      }
      return covered;
    });
    for (Covered& part : parts) {
      std::ranges::move(part.cells, std::back_inserter(result_.cells));
      std::ranges::move(part.pieces, std::back_inserter(pieces_));
    }
    chain();
  }

  LegPass result() { return std::move(result_); }

 private:
  bool covers(const BatterStrip& s) const { return s.fromA && has(leg_, *s.fromA); }

  // The leg along the two rays of every strip; gives the widest.
  double measureLegs() {
    double widest = 0;
    for (const BatterStrip& s : strips_) {
      covers_.push_back(covers(s) ? 1 : 0);
      legs_.push_back(covers(s) ? std::array{reachAt(s, false), reachAt(s, true)} : std::array<Reach, 2>{});
      widest = std::max({widest, legs_.back()[0].width, legs_.back()[1].width});
    }
    return widest;
  }

  Reach reachAt(const BatterStrip& s, bool atB) const {
    const Vec2 foot = atB ? s.b : s.a, ray = atB ? s.ub : s.ua;
    const double z = atB ? s.zb : s.za;
    if (leg_.space && leg_.top) return {*leg_.space, (*leg_.top)(foot + *leg_.space * ray)};
    const Leg* leg = leg_.space ? nullptr : &(atB ? *s.toB : *s.fromA)[leg_.number];
    Reach r = leg ? reachOf(*leg, z) : Reach{*leg_.space, z};
    if (!(atB ? s.mitreB : s.mitreA) || s.fan) return r;
    // On a ray off square the level is that of the foot's line, prolonged.
    const double aside = s.slope() * plane::dot(ray, s.along);
    if (leg && leg->kind == Leg::Kind::toLevel) {
      const double rate = aside + rateOf(*leg, z), width = (leg->level - z) / rate;
      if (std::isfinite(width) && width >= 0 && width < 20 * r.width + 1e-9) r.width = width;
      return r;
    }
    r.level += aside * r.width;
    return r;
  }

  void cover(std::size_t i, const Parting& parting, Covered& covered) const {
    const BatterStrip& s = strips_[i];
    const auto [legA, legB] = legs_[i];
    Ribbon surface{
        s.a, s.b, s.ua, s.ub, s.out, {{0, s.za}, {legA.width, legA.level}}, {{0, s.zb}, {legB.width, legB.level}}};
    Ribbon open = surface;
    open.endWhereRaysMeet();
    const std::vector<Piece> pieces = piecesOf(open, 0);
    const Vec2 outerA = surface.atA(1), outerB = surface.atB(1);
    std::optional<std::pair<double, double>> along;
    Vec2 startRay = s.ua, endRay = s.ub;
    const auto flush = [&] {
      if (along) addOuter(s, surface, along->first, along->second, startRay, endRay, covered.pieces);
      along.reset();
    };
    parting.eachCell(i, [&](const Convex& cell, const Parting::ChainPoint& c, const Parting::ChainPoint& d) {
      for (const Piece& piece : pieces) {
        const Convex shape = overlapOf(piece.shape, cell);
        if (shape.n >= 3 && quantity::area(shape) > 1e-12) covered.cells.push_back({shape, piece.plane});
      }
      const auto part = within(outerA, outerB, cell);
      if (!part) return;
      const bool joins = along && part->first < along->second + 1e-9;
      if (!joins) {
        flush();
        startRay = part->first > 1e-9 ? outwards(surface, c, d) : s.ua;
        along = part;
      }
      along->second = part->second;
      endRay = part->second < 1 - 1e-9 ? outwards(surface, d, c) : s.ub;
    });
    flush();
  }

  // Along the border of a cell, away from the foot.
  static Vec2 outwards(const Ribbon& r, const Parting::ChainPoint& c, const Parting::ChainPoint& d) {
    const Vec2 way = d.p - c.p;
    return r.depth(d.p) > r.depth(c.p) ? way : -1 * way;
  }

  // The part of a segment inside a convex shape.
  static std::optional<std::pair<double, double>> within(Vec2 a, Vec2 b, const Convex& shape) {
    double low = 0, high = 1;
    for (int i = 0; i < shape.n; ++i) {
      const Vec2 p = shape.p[i], q = shape.p[(i + 1) % shape.n];
      const double slack = 1e-9 * plane::distance(p, q);
      const double da = plane::turn(p, q, a) + slack, db = plane::turn(p, q, b) + slack;
      if (da < 0 && db < 0) return std::nullopt;
      if (da < 0) low = std::max(low, da / (da - db));
      if (db < 0) high = std::min(high, da / (da - db));
    }
    return high - low > 1e-9 ? std::optional(std::pair(low, high)) : std::nullopt;
  }

  static void addOuter(const BatterStrip& s, const Ribbon& r, double from, double to, Vec2 startRay, Vec2 endRay,
                       std::vector<OuterPiece>& pieces) {
    const Vec2 a = r.atA(1), b = r.atB(1);
    if (plane::distance(a, b) * (to - from) < 1e-7) return;
    const double za = r.railA[1].height, zb = r.railB[1].height;
    const auto at = [&](double t) {
      const Vec2 p = a + t * (b - a);
      return Vec3{p.x, p.y, za + t * (zb - za)};
    };
    OuterPiece piece;
    piece.stretch = {at(from), at(to), s.fromA, s.toB, s.edge, s.arcStep, s.centre};
    if (!(s.fromA == s.toB || *s.fromA == *s.toB)) {
      piece.stretch.fromA = std::make_shared<const Section>(between(*s.fromA, *s.toB, from));
      piece.stretch.toB = std::make_shared<const Section>(between(*s.fromA, *s.toB, to));
    }
    piece.startRay = startRay, piece.endRay = endRay;
    piece.startsLine = s.startsLine && from < 1e-9, piece.endsLine = s.endsLine && to > 1 - 1e-9;
    piece.line = s.line;
    pieces.push_back(std::move(piece));
  }

  // A stretch that has not this leg stays.
  OuterPiece kept(std::size_t i) const {
    const BatterStrip& s = strips_[i];
    OuterPiece piece;
    piece.stretch = {{s.a.x, s.a.y, s.za}, {s.b.x, s.b.y, s.zb}, s.fromA, s.toB, s.edge, s.arcStep, s.centre};
    // With what it has of the round corners at its ends.
    const auto own = [&](std::size_t k) {
      const BatterStrip& fan = strips_[k];
      return fan.fan && !covers_[k] && fan.fromA && fan.line == s.line && fan.edge == s.edge &&
             sameMake(*fan.fromA, *s.fromA);
    };
    std::size_t first = i, last = i;
    while (first > 0 && own(first - 1) && strips_[first - 1].b == s.a) --first;
    while (last + 1 < strips_.size() && own(last + 1) && strips_[last + 1].a == s.b) ++last;
    piece.startRay = strips_[first].ua, piece.endRay = strips_[last].ub;
    piece.startsLine = s.startsLine, piece.endsLine = s.endsLine;
    piece.line = s.line;
    return piece;
  }

  static void join(const Vec3& end, Vec3& start) {
    start = {end.x, end.y, std::abs(end.z - start.z) <= kNoStep ? end.z : start.z};
  }

  static std::uint64_t cellOf(Vec2 p, int dx, int dy) {
    const auto i = static_cast<std::int64_t>(std::floor(p.x / (2 * kJoin))) + dx;
    const auto j = static_cast<std::int64_t>(std::floor(p.y / (2 * kJoin))) + dy;
    return static_cast<std::uint64_t>(i) * 0x9E3779B97F4A7C15ULL ^ static_cast<std::uint64_t>(j);
  }

  // The pieces, end to start where they meet.
  void chain() {
    const std::size_t n = pieces_.size();
    std::unordered_multimap<std::uint64_t, std::size_t> starts;
    for (std::size_t i = 0; i < n; ++i) starts.emplace(cellOf(pieces_[i].stretch.a.plan(), 0, 0), i);
    constexpr std::size_t kNone = ~std::size_t{0};
    std::vector<std::size_t> next(n, kNone), before(n, kNone);
    // Where a line bends inwards on a slope its parts come together at different levels: there is a step, and it goes
    // on.
    const auto fits = [&](std::size_t i, std::size_t j, double tolerance) {
      const Stretch &s = pieces_[i].stretch, &t = pieces_[j].stretch;
      return before[j] == kNone && plane::distance(s.b.plan(), t.a.plan()) <= tolerance &&
             (std::abs(s.b.z - t.a.z) <= kSameLevel || sameMake(*s.toB, *t.fromA));
    };
    const auto link = [&](std::size_t i, std::size_t j) { next[i] = j, before[j] = i; };
    // The one that follows first, as nearly all do.
    for (std::size_t i = 0; i + 1 < n; ++i) {
      if (fits(i, i + 1, pieces_[i].line == pieces_[i + 1].line ? kNextTo : kJoin)) link(i, i + 1);
    }
    for (std::size_t i = 0; i < n; ++i) {
      for (int dx = -1; dx <= 1 && next[i] == kNone; ++dx) {
        for (int dy = -1; dy <= 1 && next[i] == kNone; ++dy) {
          const auto [first, last] = starts.equal_range(cellOf(pieces_[i].stretch.b.plan(), dx, dy));
          for (auto it = first; it != last && next[i] == kNone; ++it) {
            if (fits(i, it->second, kJoin)) link(i, it->second);
          }
        }
      }
    }
    result_.outer.corners = inner_.corners;
    result_.outer.chordError = inner_.chordError;
    result_.outer.walls = inner_.walls;
    const auto follow = [&](std::size_t start, bool closed) {
      CrestLine line;
      line.closed = closed;
      std::size_t last = start;
      for (std::size_t i = start; i != kNone && !pieces_[i].used; i = next[i]) {
        pieces_[i].used = true;
        last = i;
        Stretch s = pieces_[i].stretch;
        // Too short to have a direction of its own: the next one starts where it did.
        if (plane::distance(s.a.plan(), s.b.plan()) < kShortest && next[i] != kNone && next[i] != start) continue;
        if (!line.stretches.empty()) join(line.stretches.back().b, s.a);
        line.stretches.push_back(std::move(s));
      }
      if (closed) {
        join(line.stretches.back().b, line.stretches.front().a);
      } else {
        const OuterPiece &first = pieces_[start], &end = pieces_[last];
        line.startRay = first.startRay, line.endRay = end.endRay;
        if (first.startsLine)
          atWall(inner_.lines[first.line].startWall, line.startWall, line.stretches.front().a, false);
        if (end.endsLine) atWall(inner_.lines[end.line].endWall, line.endWall, line.stretches.back().b, true);
      }
      result_.outer.lines.push_back(std::move(line));
    };
    for (std::size_t i = 0; i < n; ++i) {
      if (before[i] == kNone) follow(i, false);
    }
    for (std::size_t i = 0; i < n; ++i) {
      if (!pieces_[i].used) follow(i, true);
    }
  }

  // The square end grows out to where the line ends now.
  void atWall(std::uint32_t wall, std::uint32_t& of, const Vec3& place, bool lineEnds) {
    of = wall;
    if (wall == CrestLine::kNoWall) return;
    auto& points = result_.outer.walls[wall].points;
    const Vec2 p = place.plan();
    if (plane::distance(p, lineEnds ? points.front() : points.back()) < 1e-9) return;
    if (lineEnds) {
      points.insert(points.begin(), p);
    } else {
      points.push_back(p);
    }
  }

  const Crests& inner_;
  const PassLeg& leg_;
  std::vector<BatterStrip> strips_;
  std::vector<char> covers_;
  std::vector<std::array<Reach, 2>> legs_;
  std::vector<OuterPiece> pieces_;
  LegPass result_;
};

}  // namespace

Reach reachOf(const Leg& leg, double z) {
  switch (leg.kind) {
    case Leg::Kind::out:
      return {leg.width, z - leg.fall / 100 * leg.width};
    case Leg::Kind::by:
      return {std::abs(leg.height) * leg.slope, z + leg.height};
    case Leg::Kind::toLevel:
      return {std::abs(leg.level - z) * leg.slope, leg.level};
    default:
      return {0, z};
  }
}

LegPass passLeg(const Crests& inner, const PassLeg& leg, const std::function<double(Vec2)>& radius,
                const Progress& progress) {
  return Pass(inner, leg, radius, progress).result();
}

double widest(const Crests& crests, const PassLeg& leg) {
  double width = 0;
  for (const CrestLine& line : crests.lines) {
    for (const Stretch& s : line.stretches) {
      if (leg.space) return *leg.space;
      if (!has(leg, *s.fromA)) continue;
      width =
          std::max({width, reachOf((*s.fromA)[leg.number], s.a.z).width, reachOf((*s.toB)[leg.number], s.b.z).width});
    }
  }
  return width;
}

std::vector<Convex> nearestToWalls(const Crests& crests, double reach, const Progress& progress) {
  std::vector<Convex> cells;
  const bool any =
      !crests.walls.empty() || std::any_of(crests.lines.begin(), crests.lines.end(), [](const CrestLine& l) {
        return !std::all_of(l.stretches.begin(), l.stretches.end(), hasBatter);
      });
  if (!any) return cells;
  StripRules rules;
  rules.corners = crests.corners;
  rules.chordError = 0.02;
  rules.radius = [](Vec2) { return 20.0; };
  rules.isWall = [](const Stretch& s) { return !hasBatter(s); };
  rules.stops = [](const Stretch&) { return std::vector<double>(); };
  const std::vector<BatterStrip> strips = stripsOf(crests.lines, crests.walls, byNearness(), rules);
  std::vector<char> asked;
  for (const BatterStrip& strip : strips) asked.push_back(!strip.fromA || !endsInBatter(*strip.fromA));
  const Parting parting(ribbonsByNearness(strips, reach), {}, progress, asked);
  for (std::size_t i = 0; i < strips.size(); ++i) {
    if (asked[i]) parting.eachCell(i, [&](const Convex& cell, const auto&, const auto&) { cells.push_back(cell); });
  }
  return cells;
}

}  // namespace inselberg::works
