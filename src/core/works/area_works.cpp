#include "works/area_works.h"

#include <algorithm>

#include "base/error.h"
#include "ground/border.h"
#include "ground/build.h"
#include "ground/clip.h"
#include "ground/contours.h"
#include "ground/drape.h"
#include "quantity/combine.h"
#include "works/form.h"
#include "works/stepped_border.h"

namespace inselberg::works {
namespace {

// Without points that lie within 10 cm of the line between their neighbours, so that few are left to be dragged.
std::vector<Vec2> thinned(const std::vector<Vec2>& line) {
  std::vector<Vec2> kept;
  for (std::size_t i = 0; i < line.size(); ++i) {
    const bool end = i == 0 || i + 1 == line.size();
    if (end || plane::nearestOnSegment(line[i], kept.back(), line[i + 1]).distance > 0.1) kept.push_back(line[i]);
  }
  return kept;
}

// The loops of its border.
std::vector<std::vector<Vec3>> borderOf(const ground::Tin& tin) {
  std::vector<std::vector<Vec3>> loops;
  for (const auto& loop : ground::borderLoops(tin.triangles(), tin.neighbours())) {
    loops.emplace_back();
    for (const ground::Index i : loop) loops.back().push_back(tin.points()[i]);
  }
  return loops;
}

// A surface as a placement, without any batters.
Placement asPlaced(ground::TinPtr tin, const plane::Origin& origin, const Progress& progress) {
  Form form;
  form.tops = {{{}, {}, std::move(tin)}};
  return placeForm(ground::Tin({}), form, origin, progress);
}

template <class T>
FieldOf<T> outlineField(std::string meaning, Places T::*member, bool mayBeEmpty) {
  return field<T>({.name = "outline",
                   .label = "Outline",
                   .meaning = std::move(meaning),
                   .measure = Measure::outline,
                   .mayBeEmpty = mayBeEmpty},
                  member);
}

}  // namespace

const Kind& kindOf(const LevelArea&) {
  static const KindOf<LevelArea> kind(
      {"level_area", "Level area", "A flat area at a level, with walls round it."},
      {outlineField<LevelArea>("The edge of the area.", &LevelArea::outline, false),
       field<LevelArea>({.name = "level",
                         .label = "Level",
                         .meaning = "The level it is known by.",
                         .measure = Measure::level,
                         .figure = true},
                        &LevelArea::level),
       field<LevelArea>({.name = "adjust",
                         .label = "Adjusted",
                         .meaning = "What it lies higher or lower by, with reasons; they add up.",
                         .measure = Measure::adjustments},
                        &LevelArea::adjust),
       field<LevelArea>({.name = "space",
                         .label = "Space",
                         .meaning = "How far it goes on beyond its outline, for working in.",
                         .least = 0,
                         .most = 1000,
                         .later = true},
                        &LevelArea::space)});
  return kind;
}

Placement place(const LevelArea& area, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  double level = area.level;
  for (const Adjustment& a : area.adjust) level += a.by;
  Form form;
  form.tops = {{area.outline, {area.outline.front(), level, {0, 0}}, nullptr}};
  if (area.space > 0) {
    std::vector<Vec3> crest;
    for (const Vec2 p : area.outline) crest.push_back({p.x, p.y, level});
    form.crests.lines = {around(crest, {{0, {}}})};
    form.space = area.space;
  }
  Placement result = placeForm(ground, std::move(form), origin, progress, detail);
  if (!area.adjust.empty()) result.figures = {{"adjusted_level_m", "Adjusted level", Measure::level, level}};
  doubtOutside(result, area.outline, ground, origin, "level area");
  return result;
}

const Kind& kindOf(const Inlay&) {
  static const KindOf<Inlay> kind(
      {"inlay", "Inlay", "Another ground set in: over, or the lower or higher of both."},
      {field<Inlay>({.name = "ground",
                     .label = "Ground",
                     .meaning = "The ground that is set in, by its name.",
                     .measure = Measure::ground},
                    &Inlay::ground),
       field<Inlay>({.name = "how",
                     .label = "How",
                     .meaning = "Laid over what is there, or the lower or the higher of both.",
                     .measure = Measure::choice,
                     .words = {"over", "lower", "higher"}},
                    &Inlay::how),
       outlineField<Inlay>("Where it is set in; none: all over its extent.", &Inlay::outline, true),
       sectionField<Inlay>("section", "Section", "What goes out from its border; none: a wall.", &Inlay::section)
           .onlyWhen([](const Inlay& inlay) { return inlay.how == InlayHow::over; }),
       cornersField<Inlay>(&Inlay::corners).onlyWhen([](const Inlay& inlay) { return inlay.how == InlayHow::over; })});
  return kind;
}

Placement place(const Inlay& inlay, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  if (!inlay.ground.tin || inlay.ground.tin->empty())
    throw Error("the ground \"" + inlay.ground.name + "\" that it sets in is missing or empty",
                "choose another ground");
  ground::TinPtr set = inlay.ground.tin;
  const plane::Polygon outline{inlay.outline, {}};
  if (!inlay.outline.empty()) set = ground::keepInside(*set, std::span(&outline, 1), progress);
  if (set->empty()) throw Error("the ground \"" + inlay.ground.name + "\" has nothing inside the outline", "move it");
  if (inlay.how != InlayHow::over) {
    const auto rule = inlay.how == InlayHow::lower ? quantity::Combine::lower : quantity::Combine::higher;
    const ground::TinPtr both = quantity::combined(ground, *set, rule, progress);
    // Only within what is set in.
    ground::TinPtr inside = ground::keepInside(*both, ground::coverOf(*set), progress);
    return asPlaced(std::move(inside), origin, progress);
  }
  Form form;
  form.tops = {{{}, {}, set}};
  form.crests.corners = inlay.corners;
  if (!inlay.section.empty()) {
    form.rule = Rule::tops;
    form.crests.lines = linesAround(*set, borderOf(*set), inlay.section);
  }
  return placeForm(ground, std::move(form), origin, progress, detail);
}

const Kind& kindOf(const Sculpt&) {
  static const KindOf<Sculpt> kind(
      {"sculpt", "Sculpt", "Contours moved by hand, tied to the ground around."},
      {outlineField<Sculpt>("The edge of what is shaped; it stays on the ground.", &Sculpt::outline, false),
       field<Sculpt>({.name = "contours",
                      .label = "Contours",
                      .meaning = "The contours inside, with their levels.",
                      .measure = Measure::contours},
                     &Sculpt::contours)});
  return kind;
}

Sculpt startedOn(Sculpt sculpt, const ground::Tin& ground) {
  const plane::Polygon outline{sculpt.outline, {}};
  const ground::TinPtr here = ground::keepInside(ground, std::span(&outline, 1), {});
  if (here->empty()) return sculpt;
  double interval = 5;
  for (const double finer : {2.0, 1.0, 0.5, 0.25, 0.1}) {
    if ((here->maxLevel() - here->minLevel()) / interval < 4) interval = finer;
  }
  for (const ground::Contour& c : ground::contours(*here, ground::contourLevels(*here, interval), {})) {
    Contour contour{c.level, {}};
    for (const auto& p : thinned(c.points)) contour.line.push_back(p);
    if (c.closed && contour.line.size() > 2) contour.line.push_back(contour.line.front());
    if (contour.line.size() >= 2) sculpt.contours.push_back(std::move(contour));
  }
  return sculpt;
}

Placement place(const Sculpt& sculpt, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail) {
  const std::vector<Vec3> edge = ground::draped(ground, sculpt.outline, true);
  if (edge.empty()) throw Error("its outline leaves the ground", "draw it where there is ground");
  ground::BuildInput input;
  for (const Contour& contour : sculpt.contours) {
    ground::Breakline line;
    line.contour = true;
    for (const Vec2 p : contour.line) line.vertices.push_back({p.x, p.y, contour.level});
    line.closed = contour.line.size() > 3 && contour.line.front() == contour.line.back();
    if (line.closed) line.vertices.pop_back();
    input.breaklines.push_back(std::move(line));
  }
  // The outline last: it rules where a contour meets it.
  input.breaklines.push_back({edge, true, false});
  input.boundaries = {{sculpt.outline, {}}};
  ground::BuildRules rules;
  rules.cureFlats = true;
  ground::BuildResult built = ground::build(input, rules, origin, progress);
  Placement result = asPlaced(built.tin, origin, progress);
  for (ground::Doubt& d : built.doubts) {
    if (d.kind == ground::DoubtKind::contourCrossing) result.doubts.push_back(std::move(d));
  }
  return result;
}

}  // namespace inselberg::works
