// The rules of sections taken literally, by brute force: crests as close samples, the nearest one looked for among all.
// Slow and simple, and with nothing in common with the engine that it checks.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "plane/geometry.h"
#include "works/section.h"

namespace inselberg::testing {

struct CrestSample {
  plane::Vec2 at, out;  // and the direction that is built in
  double z = 0;
  works::Section section;
  bool wall = false;   // blocks what is nearest to it
  bool joined = true;  // a stretch runs from this sample to the next
};

class Rule {
 public:
  explicit Rule(std::vector<CrestSample> crest, double space = 0) {
    lines_.push_back(std::move(crest));
    (void)space;
    while (true) {
      const auto& inner = lines_.back();
      const std::size_t leg = lines_.size() - 1;
      bool any = false;
      std::vector<CrestSample> outer;
      for (CrestSample s : inner) {
        if (hasLeg(s, leg)) {
          any = true;
          const auto [w, z] = reach(s.section[leg], s.z);
          s.at = s.at + w * s.out, s.z = z;
          // Where another stretch is nearer the leg does not come so far.
          if (plane::distance(nearest(inner, s.at).at, s.at) < w - 0.005) continue;
        }
        outer.push_back(std::move(s));
      }
      if (!any) break;
      lines_.push_back(squared(outer));
    }
  }

  // The level where legs cover p; REQUIRES: p is not on the top.
  std::optional<double> leg(plane::Vec2 p) const {
    for (std::size_t k = 0; k + 1 < lines_.size(); ++k) {
      const CrestSample& n = nearest(lines_[k], p);
      if (n.wall) return std::nullopt;
      if (!hasLeg(n, k)) continue;
      const double d = plane::distance(p, n.at);
      const auto [w, z] = reach(n.section[k], n.z);
      if (d <= w) return n.z + (w > 0 ? (z - n.z) * d / w : 0);
    }
    return std::nullopt;
  }

  bool blocked(plane::Vec2 p) const {
    const CrestSample& n = nearest(lines_.back(), p);
    return n.wall || n.section.empty() || n.section.back().kind != works::Leg::Kind::toGround;
  }

  // Whether what governs at p comes from another make of section than the crest nearest to it: sections of different
  // makes part at the corners between them, which is not told by nearness alone.
  bool unsure(plane::Vec2 p) const {
    const CrestSample& first = nearest(lines_.front(), p);
    const CrestSample& last = nearest(lines_.back(), p);
    const auto other = [&](const CrestSample* s) { return s && !sameMake(first.section, s->section); };
    const Batters b = batters(p);
    return other(&last) || other(b.fillFrom) || other(b.cutFrom);
  }

  // How near p lies to where a leg ends or another stretch takes over: there a level may be either.
  double clearance(plane::Vec2 p) const {
    double clear = 1e300;
    for (std::size_t k = 0; k + 1 < lines_.size(); ++k) {
      const CrestSample& n = nearest(lines_[k], p);
      if (!hasLeg(n, k)) continue;
      const double d = plane::distance(p, n.at), w = reach(n.section[k], n.z).first;
      clear = std::min({clear, std::abs(d - w), d});
      if (d <= w) break;
    }
    return clear;
  }

  // The highest fill and lowest cut of the batters.
  struct Batters {
    double fill = -1e300, cut = 1e300;
    const CrestSample* fillFrom = nullptr;
    const CrestSample* cutFrom = nullptr;
  };
  Batters batters(plane::Vec2 p) const {
    Batters b;
    const auto& crest = lines_.back();
    for (std::size_t i = 0; i < crest.size(); ++i) {
      const CrestSample& s = crest[i];
      if (s.wall || s.section.empty() || s.section.back().kind != works::Leg::Kind::toGround) continue;
      const plane::Vec2 to = p - s.at;
      // Square to the crest, to within the samples.
      const double d = plane::dot(to, s.out);
      if (d < -1e-9 || std::abs(plane::cross(to, s.out)) > 0.027 + 0.0015 * (d + 8)) continue;
      if (const double z = s.z + fall(s.section.back(), d, 1); z > b.fill) b.fill = z, b.fillFrom = &s;
      if (const double z = s.z - fall(s.section.back(), d, -1); z < b.cut) b.cut = z, b.cutFrom = &s;
    }
    return b;
  }

 private:
  // With every sample's direction square to the line that they make, and more of them where it turns outwards.
  static std::vector<CrestSample> squared(const std::vector<CrestSample>& line) {
    const auto near = [&](std::size_t i, std::size_t j) { return plane::distance(line[i].at, line[j].at) < 0.15; };
    const std::size_t n = line.size();
    std::vector<CrestSample> made;
    for (std::size_t i = 0; i < n; ++i) {
      CrestSample s = line[i];
      const std::size_t before = (i + n - 1) % n, after = (i + 1) % n;
      const plane::Vec2 from = near(before, i) ? line[before].at : s.at, to = near(i, after) ? line[after].at : s.at;
      if (!s.wall && plane::distance(from, to) > 1e-4) {
        const plane::Vec2 u = plane::unit(to - from), out{u.y, -u.x};
        if (plane::dot(out, s.out) > 0.5) s.out = out;
      }
      if (!made.empty() && plane::distance(made.back().at, s.at) < 0.15) {
        const CrestSample last = made.back();
        const double turn = std::atan2(plane::cross(last.out, s.out), plane::dot(last.out, s.out));
        const int more = turn > 0.004 && turn < 1 ? static_cast<int>(turn / 0.002) : 0;
        for (int k = 1; k < more; ++k) {
          const double c = std::cos(turn * k / more), q = std::sin(turn * k / more);
          CrestSample extra = k * 2 < more ? last : s;
          extra.out = {c * last.out.x - q * last.out.y, q * last.out.x + c * last.out.y};
          made.push_back(std::move(extra));
        }
      }
      made.push_back(std::move(s));
    }
    return made;
  }

  static bool hasLeg(const CrestSample& s, std::size_t leg) {
    return !s.wall && leg < s.section.size() && s.section[leg].kind != works::Leg::Kind::toGround;
  }
  static std::pair<double, double> reach(const works::Leg& leg, double z) {
    switch (leg.kind) {
      case works::Leg::Kind::out:
        return {leg.width, z - leg.width * leg.fall / 100};
      case works::Leg::Kind::by:
        return {std::abs(leg.height) * leg.slope, z + leg.height};
      default:
        return {std::abs(leg.level - z) * leg.slope, leg.level};
    }
  }
  // How far a batter lies above (below zero) its crest at a distance, with the sign turned for cut.
  static double fall(const works::Leg& leg, double d, double sign) {
    const double run = sign > 0 ? leg.fill : leg.cut;
    if (!leg.bench) return -d / run;
    double h = 0;
    while (true) {
      const double slope = leg.bench->every * run;
      if (d <= slope) return h - d / run;
      d -= slope, h -= leg.bench->every;
      if (d <= leg.bench->width) return h - sign * leg.bench->fall / 100 * d;
      d -= leg.bench->width, h -= sign * leg.bench->fall / 100 * leg.bench->width;
    }
  }
  static const CrestSample& nearest(const std::vector<CrestSample>& line, plane::Vec2 p) {
    std::size_t best = 0;
    double least = 1e300, along = -1e300;
    for (std::size_t i = 0; i < line.size(); ++i) {
      const plane::Vec2 d = p - line[i].at;
      const double square = plane::dot(d, d);
      if (square > least + 1e-9) continue;
      // Of those round one corner, the one that looks there.
      const double a = plane::dot(d, line[i].out);
      if (square > least - 1e-9 && a <= along) continue;
      least = std::min(least, square), along = a, best = i;
    }
    return line[best];
  }

  std::vector<std::vector<CrestSample>> lines_;
};

// Samples along a crest's corners (outside on the right), and round its outward corners. `sectionAt` and `levelAt` by
// edge and how far along it; in corners sections pass linearly with the angle where they are of the same make, else the
// bisector parts them.
inline std::vector<CrestSample> sampled(const std::vector<plane::Vec2>& corners, bool closed, double spacing,
                                        const std::function<double(std::size_t, double)>& levelAt,
                                        const std::function<works::Section(std::size_t, double)>& sectionAt) {
  std::vector<CrestSample> all;
  const std::size_t n = corners.size(), edges = closed ? n : n - 1;
  const auto outOf = [&](std::size_t e) {
    const plane::Vec2 u = plane::unit(corners[(e + 1) % n] - corners[e]);
    return plane::Vec2{u.y, -u.x};
  };
  for (std::size_t e = 0; e < edges; ++e) {
    const plane::Vec2 a = corners[e], b = corners[(e + 1) % n], out = outOf(e);
    const int parts = std::max(2, static_cast<int>(plane::distance(a, b) / spacing));
    for (int k = 0; k <= parts; ++k) {
      const double t = static_cast<double>(k) / parts;
      const works::Section section = sectionAt(e, t);
      all.push_back({a + t * (b - a), out, levelAt(e, t), section, section.empty()});
    }
    if (e + 1 == edges && !closed) break;
    const plane::Vec2 next = outOf((e + 1) % edges);
    double angle = std::atan2(plane::cross(out, next), plane::dot(out, next));
    if (angle < -3.141592) angle = -angle;
    if (angle <= 0) continue;
    const works::Section from = sectionAt(e, 1), to = sectionAt((e + 1) % edges, 0);
    const int turns = std::max(2, static_cast<int>(angle / 0.002));
    for (int k = 1; k < turns; ++k) {
      const double t = static_cast<double>(k) / turns, c = std::cos(angle * t), s = std::sin(angle * t);
      works::Section section = sameMake(from, to) ? between(from, to, t) : t < 0.5 ? from : to;
      const bool wall = section.empty();
      all.push_back({b, {c * out.x - s * out.y, s * out.x + c * out.y}, levelAt(e, 1), std::move(section), wall});
    }
  }
  return all;
}

}  // namespace inselberg::testing
