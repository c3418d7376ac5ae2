#include "works/batter_strips.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace inselberg::works {
namespace {

using plane::cross;
using plane::dot;
using plane::rightOf;

constexpr double kSharpestMitre = 10;  // a mitre longer than this many offsets is made round instead
constexpr double kSameRate = 1e-4;     // slopes that differ by less are one
constexpr double kShortestTip = 2e-3;  // m
constexpr double kStraight = 0.004;    // radians: corners flatter than this have one ray for both sides

Vec2 rotated(Vec2 u, double angle) {
  const double c = std::cos(angle), s = std::sin(angle);
  return {c * u.x - s * u.y, s * u.x + c * u.y};
}
// The ray in a direction, of depth 1; the normal itself where the direction does not lead out.
Vec2 scaled(Vec2 direction, Vec2 out) {
  const double depth = dot(direction, out);
  return depth > 1e-3 * plane::norm(direction) ? (1 / depth) * direction : out;
}

struct End {
  Vec2 along, out;
  Vec2 gradient;  // of the governing height
  double rate = 1;
};

// What comes between a stretch and the next.
struct Joint {
  Vec2 before, after;  // the rays of the two
  bool mitreBefore = false, mitreAfter = false;
  double angle = 0;    // of a fan, else 0
  bool split = false;  // the fan's halves belong to the two
  Vec2 tip = {};       // not {0, 0}: the strips of the corner itself meet on it
  // At an inward corner: how far the flatter of the two goes round it, over what lies square to the other.
  double roundBefore = 0, roundAfter = 0;
};

class Maker {
 public:
  Maker(const Governing& governing, const StripRules& rules) : governing_(governing), rules_(rules) {}

  void add(const CrestLine& line, std::uint32_t number) {
    const std::size_t n = line.stretches.size();
    std::vector<Joint> joints(n);  // after each stretch
    for (std::size_t i = 0; i < n; ++i) {
      if (i + 1 < n || line.closed) joints[i] = joint(line.stretches[i], line.stretches[(i + 1) % n]);
    }
    for (std::size_t i = 0; i < n; ++i) {
      const Stretch& s = line.stretches[i];
      const End here = end(s, false);
      BatterStrip strip;
      strip.line = number, strip.stretch = static_cast<std::uint32_t>(i), strip.edge = s.edge;
      strip.out = here.out, strip.along = here.along;
      strip.arcStep = s.arcStep, strip.centre = s.centre;
      Vec2 first = here.out, last = here.out;
      bool mitreFirst = false, mitreLast = false;
      if (i > 0 || line.closed) {
        const Joint& j = joints[(i + n - 1) % n];
        first = j.after, mitreFirst = j.mitreAfter;
      } else if (!(line.startRay == Vec2{})) {
        mitreFirst = !turns(line.startRay, here.out, s, line.startWall);
        if (!mitreFirst) addTurn(s.a, line.startRay, here.out, strip, s.fromA);
        first = mitreFirst ? scaled(line.startRay, here.out) : here.out;
      }
      if (i + 1 < n || line.closed) {
        last = joints[i].before, mitreLast = joints[i].mitreBefore;
      } else if (!(line.endRay == Vec2{})) {
        mitreLast = !turns(here.out, line.endRay, s, line.endWall);
        last = mitreLast ? scaled(line.endRay, here.out) : here.out;
      }
      if (i > 0 || line.closed) {
        if (const double angle = joints[(i + n - 1) % n].roundAfter; angle > 0)
          addTurn(s.a, rotated(here.out, -angle), here.out, strip, s.fromA);
      }
      addParts(s, strip, first, last, mitreFirst, mitreLast, !line.closed && i == 0, !line.closed && i + 1 == n);
      if (i + 1 < n || line.closed) {
        addFan(s, line.stretches[(i + 1) % n], joints[i], strip);
        addTip(s, line.stretches[(i + 1) % n], joints[i], strip);
        if (const double angle = joints[i].roundBefore; angle > 0)
          addTurn(s.b, here.out, rotated(here.out, angle), strip, s.toB);
      } else if (!(line.endRay == Vec2{}) && !mitreLast) {
        addTurn(s.b, here.out, line.endRay, strip, s.toB);
      }
    }
  }

  // Blocks all that lies square to it and between its rays.
  void add(const EndWall& wall, std::uint32_t number) {
    BatterStrip strip;
    strip.line = number;
    Vec2 ray = wall.startRay;
    for (std::size_t i = 0; i + 1 < wall.points.size(); ++i) {
      const Vec2 a = wall.points[i], b = wall.points[i + 1];
      if (plane::distance(a, b) < 1e-9) continue;
      const Vec2 along = plane::unit(b - a), out = rightOf(along);
      addTurn({a.x, a.y, 0}, ray, out, strip, nullptr);
      BatterStrip straight = strip;
      straight.a = a, straight.b = b, straight.ua = straight.ub = straight.out = out, straight.along = along;
      strips.push_back(straight);
      ray = out;
    }
    const Vec2 last = wall.points.back();
    addTurn({last.x, last.y, 0}, ray, wall.endRay, strip, nullptr);
  }

  std::vector<BatterStrip> strips;

 private:
  End end(const Stretch& s, bool atB) const {
    End e;
    const double length = plane::distance(s.a.plan(), s.b.plan());
    e.along = (1 / length) * (s.b.plan() - s.a.plan());
    e.out = rightOf(e.along);
    const double rate = governing_.rates(s)[atB ? 1 : 0];
    e.rate = rate;
    e.gradient = -rate * e.out;
    if (governing_.byLevel) e.gradient = e.gradient + (governing_.sign * (s.b.z - s.a.z) / length) * e.along;
    return e;
  }

  // Whether a round corner lies between a stretch and the ray that its line ends at.
  bool turns(Vec2 from, Vec2 to, const Stretch& s, std::uint32_t wall) const {
    if (rules_.corners == CornerStyle::square || wall != CrestLine::kNoWall) return false;
    return std::atan2(cross(from, to), dot(from, to)) > 1e-6 + 0.51 * s.arcStep;
  }

  Joint joint(const Stretch& in, const Stretch& out) const {
    const End e = end(in, true), f = end(out, false);
    const bool same = sameMake(*in.toB, *out.fromA);
    Joint j{e.out, f.out};
    double angle = std::atan2(cross(e.along, f.along), dot(e.along, f.along));
    if (angle < -std::numbers::pi + 1e-9) angle = std::numbers::pi;  // straight back: round the end of a line
    const double smooth = 0.51 * (in.arcStep + out.arcStep);
    const Vec2 middle = e.out + f.out;
    if (std::abs(angle) < kStraight + smooth) {
      j.before = scaled(middle, e.out), j.after = scaled(middle, f.out);
      return j;
    }
    const auto meetOn = [&](Vec2 ray) {
      j.before = scaled(ray, e.out), j.after = scaled(ray, f.out);
      j.mitreBefore = j.mitreAfter = true;
    };
    // The line in which the two planes meet.
    Vec2 mitre = same ? rightOf(e.gradient - f.gradient) : middle;
    if (dot(mitre, middle) < 0) mitre = -1 * mitre;
    const double least = std::min(dot(mitre, e.out), dot(mitre, f.out));
    const bool meet = least > 0 && plane::norm(mitre) < kSharpestMitre * least;
    if (angle < 0) {
      // Strips overlap, and the governing one is kept. Of two slopes the flatter goes round; of one slope they go to
      // where they meet, on a sloping crest perhaps beyond what lies square to either. Sections of different makes
      // part.
      const bool step = same && governing_.byLevel && std::abs(in.b.z - out.a.z) > 1e-6;
      if (same && std::abs(e.rate - f.rate) > kSameRate) {
        const bool benched = in.toB->back().bench.has_value();
        j.roundBefore = roundOver(e.rate, f, 1, -angle, benched);
        j.roundAfter = roundOver(f.rate, e, -1, -angle, benched);
      } else if (meet && !step && (!same || cross(e.out, mitre) > 0 || cross(mitre, f.out) > 0)) {
        meetOn(mitre);
      }
      return j;
    }
    if (rules_.corners == CornerStyle::square && meet) {
      if (rules_.levelCorners * std::tan(angle / 2) > kShortestTip) {
        j.tip = mitre;
      } else {
        meetOn(mitre);
      }
      return j;
    }
    j.angle = angle;
    j.split = !same && !rules_.cornersToBefore;
    return j;
  }

  // How far a cone about the corner, that falls at a rate, lies above the plane of the other side: the angle from the
  // end of its own, square to which it begins, `apart` from that of the other. Benched ones may come up again behind.
  static double roundOver(double rate, const End& other, double turned, double apart, bool benched) {
    // Along a ray at an angle from the other's normal both are linear: the cone is as high where the plane falls as
    // fast.
    const auto falls = [&](double angle) {
      return -plane::dot(other.gradient, std::cos(angle) * other.out + turned * std::sin(angle) * other.along);
    };
    double low = apart, high = 0.49 * std::numbers::pi;
    if (falls(low) <= rate || low >= high) return 0;
    if (benched || falls(high) > rate) return high - apart;
    while (high - low > 1e-9) {
      const double middle = 0.5 * (low + high);
      (falls(middle) > rate ? low : high) = middle;
    }
    return high - apart;
  }

  void addParts(const Stretch& s, BatterStrip strip, Vec2 first, Vec2 last, bool mitreFirst, bool mitreLast,
                bool startsLine, bool endsLine) {
    std::vector<double> stops{0};
    for (const double t : rules_.stops(s)) stops.push_back(t);
    stops.push_back(1);
    const Vec2 a = s.a.plan(), d = s.b.plan() - s.a.plan();
    for (std::size_t k = 0; k + 1 < stops.size(); ++k) {
      const double t = stops[k], u = stops[k + 1];
      const bool isFirst = k == 0, isLast = k + 2 == stops.size();
      strip.a = isFirst ? a : a + t * d, strip.b = isLast ? s.b.plan() : a + u * d;
      strip.za = s.a.z + t * (s.b.z - s.a.z), strip.zb = s.a.z + u * (s.b.z - s.a.z);
      strip.ua = isFirst ? first : strip.out, strip.ub = isLast ? last : strip.out;
      strip.mitreA = isFirst && mitreFirst, strip.mitreB = isLast && mitreLast;
      strip.startsLine = startsLine && isFirst, strip.endsLine = endsLine && isLast;
      if (s.constant()) {
        strip.fromA = strip.toB = s.fromA;
      } else {
        strip.fromA = std::make_shared<const Section>(s.at(t));
        strip.toB = std::make_shared<const Section>(s.at(u));
      }
      strips.push_back(strip);
    }
  }

  void addFan(const Stretch& in, const Stretch& out, const Joint& j, const BatterStrip& like) {
    if (j.angle == 0) return;
    const Vec2 from = end(in, true).out;
    BatterStrip strip = like;
    strip.fan = true, strip.along = {}, strip.edge = in.edge;
    strip.mitreA = strip.mitreB = strip.startsLine = strip.endsLine = false;
    strip.centre = in.b.plan();
    int parts = partsOf(j.angle, strip.centre);
    if (j.split && parts % 2 == 1) ++parts;
    const bool varies = !j.split && !rules_.cornersToBefore && in.toB != out.fromA && !alike(*in.toB, *out.fromA);
    if (varies) parts = std::max(parts, 16);
    strip.arcStep = j.angle / parts;
    const auto sectionAt = [&](int k) {
      if (!varies) return in.toB;
      return std::make_shared<const Section>(between(*in.toB, *out.fromA, static_cast<double>(k) / parts));
    };
    SectionPtr last = in.toB;
    for (int k = 0; k < parts; ++k) {
      const bool second = j.split && 2 * k >= parts;
      const Vec3 at = second ? out.a : in.b;
      strip.a = strip.b = at.plan(), strip.za = strip.zb = at.z;
      setRays(strip, rotated(from, j.angle * k / parts), rotated(from, j.angle * (k + 1) / parts));
      if (second) {
        strip.fromA = strip.toB = out.fromA, strip.edge = out.edge;
      } else {
        strip.fromA = last, strip.toB = last = sectionAt(k + 1);
      }
      strips.push_back(strip);
    }
  }

  // What lies nearest to a square corner.
  void addTip(const Stretch& in, const Stretch& out, const Joint& j, const BatterStrip& like) {
    if (j.tip == Vec2{}) return;
    BatterStrip strip = like;
    strip.fan = true, strip.along = {}, strip.startsLine = strip.endsLine = false;
    strip.a = strip.b = in.b.plan(), strip.za = strip.zb = in.b.z;
    strip.edge = in.edge, strip.fromA = strip.toB = in.toB;
    strip.out = j.before, strip.ua = j.before, strip.ub = scaled(j.tip, j.before);
    strips.push_back(strip);
    strip.a = strip.b = out.a.plan(), strip.za = strip.zb = out.a.z;
    strip.edge = out.edge, strip.fromA = strip.toB = out.fromA;
    strip.out = j.after, strip.ua = scaled(j.tip, j.after), strip.ub = j.after;
    strips.push_back(strip);
  }

  int partsOf(double angle, Vec2 centre) const {
    const double radius = std::max(rules_.radius(centre), 1e-3);
    const double step = 2 * std::acos(std::max(0.0, 1 - rules_.chordError / radius));
    return std::clamp(static_cast<int>(std::ceil(angle / step)), 1, 2000);
  }

  static void setRays(BatterStrip& strip, Vec2 ua, Vec2 ub) {
    strip.ua = ua, strip.ub = ub;
    strip.out = (1 / (1 + dot(ua, ub))) * (ua + ub);
  }

  // Strips round the end of a line, from one ray on to another; coarse where they only block.
  void addTurn(Vec3 at, Vec2 from, Vec2 to, const BatterStrip& like, const SectionPtr& section) {
    from = plane::unit(from), to = plane::unit(to);
    double angle = std::atan2(cross(from, to), dot(from, to));
    if (angle < -std::numbers::pi + 1e-9) angle += 2 * std::numbers::pi;
    if (angle < 1e-6) return;
    const int parts = section ? partsOf(angle, at.plan()) : std::max(1, static_cast<int>(std::ceil(angle / 0.1)));
    BatterStrip strip = like;
    strip.fan = true, strip.along = {}, strip.fromA = strip.toB = section;
    strip.mitreA = strip.mitreB = strip.startsLine = strip.endsLine = false;
    strip.a = strip.b = at.plan(), strip.za = strip.zb = at.z;
    strip.arcStep = angle / parts, strip.centre = at.plan();
    for (int k = 0; k < parts; ++k) {
      setRays(strip, rotated(from, angle * k / parts), rotated(from, angle * (k + 1) / parts));
      strips.push_back(strip);
    }
  }

  const Governing& governing_;
  const StripRules& rules_;
};

}  // namespace

std::vector<BatterStrip> stripsOf(const std::vector<CrestLine>& lines, const std::vector<EndWall>& walls,
                                  const Governing& governing, const StripRules& rules) {
  Maker maker(governing, rules);
  for (std::size_t i = 0; i < lines.size(); ++i) maker.add(lines[i], static_cast<std::uint32_t>(i));
  for (std::size_t i = 0; i < walls.size(); ++i) maker.add(walls[i], static_cast<std::uint32_t>(lines.size() + i));
  return std::move(maker.strips);
}

}  // namespace inselberg::works
