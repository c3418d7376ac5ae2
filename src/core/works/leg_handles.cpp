#include "works/leg_handles.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace inselberg::works {
namespace {

constexpr double kReach = 200, kStep = 0.5;  // m

// What goes out from an outline or line on one side: legs that are not taken hold of here, then those that are. They
// are a field's, or each takes a number of its own from the works.
struct Side {
  std::size_t field = 0;
  Places line;
  bool closed = false, left = false;
  Section before;
  std::optional<Section> own;  // nothing where sections change along the crest
  std::vector<std::size_t> numbers = {};
  std::size_t fieldOf(std::size_t leg) const { return numbers.empty() ? field : numbers.at(leg); }
};

std::optional<std::size_t> fieldNamed(const Shape& shape, const std::string& name) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].name == name) return i;
  }
  return std::nullopt;
}

// Nothing where sections change along the crest.
std::optional<Section> onlyOf(const Shape& shape, std::size_t field) {
  const auto sections = std::get<SectionsAlong>(shape.get(field));
  if (sections.size() > 1) return std::nullopt;
  if (!sections.empty()) return sections[0].section.legs;
  const Pad* pad = shape.as<Pad>();
  return pad ? batter(pad->batters.cut.run(), pad->batters.fill.run()) : batter(2, 2);
}

void addSide(std::vector<Side>& sides, const Shape& shape, const std::string& name, Places line, bool closed, bool left,
             Section before) {
  const auto field = fieldNamed(shape, name);
  if (!field || line.size() < 2) return;
  sides.push_back({*field, std::move(line), closed, left, std::move(before), onlyOf(shape, *field)});
}

template <class T>
void addBank(std::vector<Side>& sides, const Shape& shape) {
  const T* bank = shape.as<T>();
  if (!bank) return;
  const double run = bank->slope.run();
  sides.push_back({*fieldNamed(shape, "slope"), bank->line, false, false, {legOut(bank->width / 2)}, batter(run, run)});
}

// What a pond's own legs are made of: its inside slope, its bench and its crest.
void addInside(std::vector<Side>& sides, const Shape& shape, const Pond& pond, bool inwards) {
  const Section own = inwards ? inwardsOf(pond) : outwardsOf(pond);
  Side side{0, pond.outline, true, inwards, {}, own};
  for (std::size_t i = 0; i < own.size(); ++i) {
    const bool crest = !inwards && pond.crest > 0 && i + 1 == own.size();
    side.numbers.push_back(*fieldNamed(shape, crest                           ? "crest"
                                              : own[i].kind == Leg::Kind::out ? "bench_width"
                                                                              : "inside"));
  }
  sides.push_back(std::move(side));
}

std::vector<Side> sidesOf(const Shape& shape) {
  std::vector<Side> sides;
  if (const auto* pad = shape.as<Pad>())
    addSide(sides, shape, "section", pad->outline, true, false, {legOut(pad->space)});
  if (const auto* pond = shape.as<Pond>()) {
    addSide(sides, shape, "section", pond->outline, true, false, outwardsOf(*pond));
    addInside(sides, shape, *pond, false), addInside(sides, shape, *pond, true);
  }
  if (const auto* ramp = shape.as<Ramp>()) {
    addSide(sides, shape, "right", ramp->axis, false, false, {legOut(ramp->width / 2)});
    addSide(sides, shape, "left", ramp->axis, false, true, {legOut(ramp->width / 2)});
  }
  if (const auto* run = shape.as<Run>()) {
    addSide(sides, shape, "right", run->line, run->closed, false, {});
    addSide(sides, shape, "left", run->line, run->closed, true, {});
  }
  addBank<Berm>(sides, shape), addBank<Swale>(sides, shape);
  return sides;
}

// A place on a side, and the way out there.
struct Start {
  Vec2 at, out;
};

// The place nearest to `near`; without it the middle of the longest stretch.
Start startOn(const Side& side, std::optional<Vec2> near = std::nullopt) {
  const std::size_t n = side.line.size(), stretches = side.closed ? n : n - 1;
  std::size_t best = 0;
  Vec2 at;
  double leastCost = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < stretches; ++i) {
    const Vec2 a = side.line[i], b = side.line[(i + 1) % n];
    const plane::Nearest place =
        near ? plane::nearestOnSegment(*near, a, b) : plane::Nearest{-plane::distance(a, b), 0.5};
    if (place.distance < leastCost) leastCost = place.distance, best = i, at = a + place.along * (b - a);
  }
  const Vec2 right = plane::rightOf(plane::unit(side.line[(best + 1) % n] - side.line[best]));
  return {at, side.left ? -1 * right : right};
}

// How far a batter goes from a place to where it meets the ground; nothing where that is too far.
std::optional<double> wayToGround(const Leg& leg, Vec2 from, double level, Vec2 out, const ground::Tin& under) {
  const auto here = under.levelAt(from);
  if (!here) return std::nullopt;
  const double sign = *here > level ? 1 : -1, run = leg.run(-sign);
  double last = std::abs(*here - level);
  for (double d = kStep; d <= kReach; d += kStep) {
    const auto ground = under.levelAt(from + d * out);
    if (!ground) return std::nullopt;
    const double above = sign * (*ground - level) - d / run;
    if (above <= 0) return d - kStep + kStep * last / (last - above);
    last = above;
  }
  return std::nullopt;
}

// How far a leg goes out, and its level at the end.
struct LegEnd {
  double width = 0, level = 0;
};
std::optional<LegEnd> endOf(const Leg& leg, Vec2 from, double level, Vec2 out, const ground::Tin& under) {
  switch (leg.kind) {
    case Leg::Kind::out:
      return LegEnd{leg.width, level - leg.fall / 100 * leg.width};
    case Leg::Kind::by:
      return LegEnd{std::abs(leg.height) * leg.slope, level + leg.height};
    case Leg::Kind::toLevel:
      return LegEnd{std::abs(leg.level - level) * leg.slope, leg.level};
    case Leg::Kind::toGround:
      if (const auto way = wayToGround(leg, from, level, out, under)) return LegEnd{*way, level};
  }
  return std::nullopt;
}

double rounded(double v, double step) {
  return std::round(v / step) * step;
}

}  // namespace

std::vector<LegHandle> legHandlesOf(const Shape& shape, const Placement& placement, const ground::Tin& under) {
  std::vector<LegHandle> handles;
  const std::vector<Side> sides = sidesOf(shape);
  for (std::size_t k = 0; k < sides.size(); ++k) {
    const Side& side = sides[k];
    if (!side.own) continue;
    auto [at, out] = startOn(side);
    const auto crest = placement.facets->levelAt(at);
    if (!crest) continue;
    double level = *crest;
    bool reached = true;
    const auto go = [&](const Leg& leg) {
      const auto end = endOf(leg, at, level, out, under);
      reached = reached && end;
      if (reached) at = at + end->width * out, level = end->level;
    };
    for (const Leg& leg : side.before) go(leg);
    for (std::size_t i = 0; i < side.own->size(); ++i) {
      LegHandle handle{k, side.fieldOf(i), i, at, {}, level};
      go((*side.own)[i]);
      if (!reached) break;
      handle.at = at;
      handles.push_back(handle);
    }
  }
  return handles;
}

std::vector<SectionStart> sectionStarts(const Shape& shape, const Placement& placement, const ground::Tin& under,
                                        std::optional<Vec2> near) {
  std::vector<SectionStart> starts;
  for (const Side& side : sidesOf(shape)) {
    if (!std::holds_alternative<SectionsAlong>(shape.get(side.field))) continue;
    auto [at, out] = startOn(side, near);
    auto level = placement.facets->levelAt(at);
    for (const Leg& leg : side.before) {
      const auto end = level ? endOf(leg, at, *level, out, under) : std::nullopt;
      level = end ? std::optional(end->level) : std::nullopt;
      if (end) at = at + end->width * out;
    }
    if (level) starts.push_back({side.field, at, out, *level});
  }
  return starts;
}

Section sectionOf(const Shape& shape, const LegHandle& handle) {
  const std::vector<Side> sides = sidesOf(shape);
  return handle.side < sides.size() ? sides[handle.side].own.value_or(Section()) : Section();
}

std::optional<Section> withLegTo(const Shape& shape, const LegHandle& handle, Vec2 to, const ground::Tin& under) {
  Section legs = sectionOf(shape, handle);
  if (handle.leg >= legs.size()) return std::nullopt;
  Leg& leg = legs[handle.leg];
  // The way out is that of the side, also where the leg has no width.
  const Vec2 out = startOn(sidesOf(shape)[handle.side]).out;
  const double width = plane::dot(to - handle.inner, out);
  if (width < 0) return std::nullopt;
  if (leg.kind == Leg::Kind::out) {
    leg.width = rounded(width, 0.01);
    return legs;
  }
  double height = leg.kind == Leg::Kind::by ? leg.height : leg.level - handle.level;
  if (leg.kind == Leg::Kind::toGround) {
    const auto ground = under.levelAt(handle.inner + width * out);
    if (!ground) return std::nullopt;
    height = *ground - handle.level;
  }
  constexpr double kFlat = 0.01, kSteepestRun = 0.1, kFlattestRun = 50;
  if (std::abs(height) < kFlat) return std::nullopt;
  const double run = rounded(width / std::abs(height), 0.05);
  if (run < kSteepestRun || run > kFlattestRun) return std::nullopt;
  if (leg.kind == Leg::Kind::toGround) {
    (height > 0 ? leg.cut : leg.fill) = run;
  } else {
    leg.slope = run;
  }
  return legs;
}

Shape withLegs(const Shape& shape, const LegHandle& handle, const Section& legs) {
  const Measure measure = shape.kind().fields()[handle.field].measure;
  const Leg& leg = legs.at(handle.leg);
  if (measure == Measure::length) return shape.with(handle.field, leg.width);
  if (measure == Measure::slope) {
    const double was = std::get<double>(shape.get(handle.field));
    if (leg.kind != Leg::Kind::toGround) return shape.with(handle.field, leg.slope);
    return shape.with(handle.field, leg.cut != was ? leg.cut : leg.fill);
  }
  // A pad without a section has its batters as they are.
  const auto cut = fieldNamed(shape, "cut_batter"), fill = fieldNamed(shape, "fill_batter");
  if (cut && fill && std::get<SectionsAlong>(shape.get(handle.field)).empty())
    return shape.with(*cut, legs[0].cut).with(*fill, legs[0].fill);
  return shape.with(handle.field, SectionsAlong{{0, {{}, legs}}});
}

}  // namespace inselberg::works
