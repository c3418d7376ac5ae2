#include "works/leg_handles.h"

#include <algorithm>
#include <cmath>

namespace inselberg::works {
namespace {

constexpr double kReach = 200, kStep = 0.5;  // m

// What goes out from an outline or line on one side: legs that are not taken hold of here, then those that are. They
// are a field's, or each takes a number of its own from the works.
struct Side {
  std::size_t field = 0;
  Places line;
  bool closed = false, left = false;
  Section before, own;
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
  if (const auto own = onlyOf(shape, *field))
    sides.push_back({*field, std::move(line), closed, left, std::move(before), *own});
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
  Side side{0, pond.outline, true, inwards, {}, inwards ? inwardsOf(pond) : outwardsOf(pond)};
  for (std::size_t i = 0; i < side.own.size(); ++i) {
    const bool crest = !inwards && pond.crest > 0 && i + 1 == side.own.size();
    side.numbers.push_back(*fieldNamed(shape, crest                                ? "crest"
                                              : side.own[i].kind == Leg::Kind::out ? "bench_width"
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

// The middle of the longest side, and the way out there.
std::pair<Vec2, Vec2> middleOf(const Side& side) {
  std::size_t longest = 0;
  const std::size_t n = side.line.size();
  const auto length = [&](std::size_t i) { return plane::distance(side.line[i], side.line[(i + 1) % n]); };
  for (std::size_t i = 0; i + (side.closed ? 0 : 1) < n; ++i) {
    if (length(i) > length(longest)) longest = i;
  }
  const Vec2 a = side.line[longest], b = side.line[(longest + 1) % n];
  const Vec2 right = plane::rightOf(plane::unit(b - a));
  return {0.5 * (a + b), side.left ? -1 * right : right};
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
    auto [at, out] = middleOf(side);
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
    for (std::size_t i = 0; i < side.own.size(); ++i) {
      LegHandle handle{k, side.fieldOf(i), i, at, {}, level};
      go(side.own[i]);
      if (!reached) break;
      handle.at = at;
      handles.push_back(handle);
    }
  }
  return handles;
}

Section sectionOf(const Shape& shape, const LegHandle& handle) {
  const std::vector<Side> sides = sidesOf(shape);
  return handle.side < sides.size() ? sides[handle.side].own : Section();
}

std::optional<Section> withLegTo(const Shape& shape, const LegHandle& handle, Vec2 to, const ground::Tin& under) {
  Section legs = sectionOf(shape, handle);
  if (handle.leg >= legs.size()) return std::nullopt;
  Leg& leg = legs[handle.leg];
  // The way out is that of the side, also where the leg has no width.
  const Vec2 out = middleOf(sidesOf(shape)[handle.side]).second;
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
