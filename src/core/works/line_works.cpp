#include "works/line_works.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/error.h"
#include "ground/drape.h"
#include "works/form.h"

namespace inselberg::works {
namespace {

const BatterRule kTwoToOne;
constexpr double kNoLimit = std::numeric_limits<double>::infinity();

// Level across half a width; nothing for no width.
Section across(double width) {
  return width > 0 ? Section{legOut(width / 2)} : Section();
}

void require(const Grades& grades, double length) {
  if (const auto why = grades.wrong(length)) throw Error("its line " + *why, "mend the levels or curves");
}

Placement placeLine(std::vector<LinePiece> pieces, LineEnds ends, CornerStyle corners, const ground::Tin& ground,
                    const plane::Origin& origin, const Progress& progress, Detail detail, std::size_t topLegs = 0) {
  if (pieces.empty()) throw Error("no part of its line is left to be built", "give stations that lie further apart");
  Form form;
  form.crests = alongBothSides(pieces, ends);
  form.crests.corners = corners;
  form.topLegs = topLegs;
  return placeForm(ground, std::move(form), origin, progress, detail);
}

// The level of the ground to 5 cm; its middle where there is none.
double levelNear(const ground::Tin& ground, Vec2 p) {
  return std::round(ground.levelAt(p).value_or((ground.minLevel() + ground.maxLevel()) / 2) * 20) / 20;
}

// Without those of its points between two corners whose levels lie within kDraft of a straight line from one that stays
// to the next. From each that stays, the grades that pass all since within that make a fan: the next one stays where
// the fan would not hold what follows. `corners`: which points stay in any case, first and last among them.
std::vector<Vec3> drafted(const std::vector<Vec3>& line, const std::vector<std::size_t>& corners) {
  std::vector<Vec3> kept{line.front()};
  double least = -kNoLimit, most = kNoLimit;
  const auto keep = [&](const Vec3& p) { kept.push_back(p), least = -kNoLimit, most = kNoLimit; };
  for (std::size_t i = 1, corner = 1; i < line.size(); ++i) {
    const auto gradeTo = [&](double above) {
      return (line[i].z + above - kept.back().z) / plane::distance(line[i].plan(), kept.back().plan());
    };
    if (gradeTo(0) < least || gradeTo(0) > most) keep(line[i - 1]);
    least = std::max(least, gradeTo(-kDraft)), most = std::min(most, gradeTo(kDraft));
    if (i == corners[corner]) keep(line[i]), ++corner;
  }
  return kept;
}

// A line so far above the ground, all along.
std::vector<Vec3> above(const ground::Tin& ground, const Places& line, double by, Detail detail) {
  std::vector<std::size_t> corners;
  std::vector<Vec3> draped = ground::draped(ground, line, false, &corners);
  if (draped.empty()) throw Error("its line leaves the ground", "draw it where there is ground, or give it levels");
  for (Vec3& p : draped) p.z += by;
  return detail == Detail::draft ? drafted(draped, corners) : draped;
}

// A width level across, and a slope to the ground on both sides of a line that keeps a height over the ground, or has
// levels where there is none.
struct Bank {
  const Places& line;
  double width;
  Slope slope;
  std::optional<double> overGround;
  Stations levels;
};
Placement placeBank(const Bank& bank, LineEnds ends, CornerStyle corners, const ground::Tin& ground,
                    const plane::Origin& origin, const Progress& progress, Detail detail) {
  const SectionsAlong both = behind(across(bank.width), {{0, {{}, batter(bank.slope.run(), bank.slope.run())}}});
  const double length = lengthOf(bank.line, false);
  std::vector<LinePiece> pieces;
  if (bank.overGround) {
    pieces = piecesOf(above(ground, bank.line, *bank.overGround, detail), both.front().section.legs);
  } else {
    const Grades grades(bank.levels, {});
    require(grades, length);
    pieces = piecesOf({bank.line, false, both, both}, grades);
  }
  Placement result = placeLine(std::move(pieces), ends, corners, ground, origin, progress, detail);
  result.figures = {{"length_m", "Length", Measure::length, length}};
  return result;
}

template <class T>
FieldOf<T> lineField(std::string name, std::string meaning, Places T::*member) {
  return field<T>({.name = std::move(name), .label = "Line", .meaning = std::move(meaning), .measure = Measure::line},
                  member);
}

template <class T>
FieldOf<T> widthField(std::string meaning, double T::*member) {
  return field<T>({.name = "width", .label = "Width", .meaning = std::move(meaning), .least = 0, .most = 10'000},
                  member);
}

template <class T>
FieldOf<T> levelsField(Stations T::*member) {
  return field<T>({.name = "levels",
                   .label = "Levels",
                   .meaning = "Levels at stations along the line, straight between them.",
                   .measure = Measure::levels},
                  member);
}

template <class T>
FieldOf<T> slopeField(Slope T::*member) {
  return field<T>({.name = "slope",
                   .label = "Slope",
                   .meaning = "The slope of both sides, in cut and in fill.",
                   .measure = Measure::slope,
                   .step = 0.25},
                  member);
}

FieldOf<Ramp> joinsField(const char* name, const char* label, const char* meaning, bool Ramp::*member) {
  return field<Ramp>({.name = name, .label = label, .meaning = meaning, .measure = Measure::flag, .later = true},
                     member);
}

}  // namespace

const Kind& kindOf(const Ramp&) {
  static const KindOf<Ramp> kind(
      {"ramp", "Ramp", "A plane strip between two levels or two works, of a width."},
      {lineField<Ramp>("axis", "Its middle, from the one level to the other.", &Ramp::axis),
       joinsField("from_joins", "Begins on what is there",
                  "Whether it begins at the level of the works or ground where it begins, whatever becomes of that.",
                  &Ramp::fromJoins),
       field<Ramp>({.name = "from_level",
                    .label = "From",
                    .meaning = "The level where it begins.",
                    .measure = Measure::level,
                    .figure = true},
                   &Ramp::from)
           .onlyWhen([](const Ramp& r) { return !r.fromJoins; }),
       joinsField("to_joins", "Ends on what is there",
                  "Whether it ends at the level of the works or ground where it ends, whatever becomes of that.",
                  &Ramp::toJoins),
       field<Ramp>({.name = "to_level",
                    .label = "To",
                    .meaning = "The level where it ends.",
                    .measure = Measure::level,
                    .figure = true},
                   &Ramp::to)
           .onlyWhen([](const Ramp& r) { return !r.toJoins; }),
       field<Ramp>({.name = "greatest_grade",
                    .label = "Greatest grade",
                    .meaning = "It is never steeper, and ends short of its level instead; 0: any grade will do.",
                    .measure = Measure::percent,
                    .least = 0,
                    .most = 100,
                    .step = 0.5,
                    .later = true},
                   &Ramp::greatest),
       widthField<Ramp>("Its width.", &Ramp::width),
       sectionField<Ramp>("left", "Left side", "What goes out to the left of it: legs, or a section by its name.",
                          &Ramp::left),
       sectionField<Ramp>("right", "Right side", "What goes out to the right of it: legs, or a section by its name.",
                          &Ramp::right),
       cornersField<Ramp>(&Ramp::corners)});
  return kind;
}

Ramp startedOn(Ramp ramp, const ground::Tin& ground) {
  ramp.from = levelNear(ground, ramp.axis.front()), ramp.to = levelNear(ground, ramp.axis.back());
  ramp.fromJoins = ramp.toJoins = true;
  return ramp;
}

Placement place(const Ramp& ramp, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  const double length = lengthOf(ramp.axis, false);
  LineRequest request{ramp.axis};
  request.left = behind(across(ramp.width), orBatter(ramp.left, kTwoToOne));
  request.right = behind(across(ramp.width), orBatter(ramp.right, kTwoToOne));
  const double from = ramp.fromJoins ? ground.levelAt(ramp.axis.front()).value_or(ramp.from) : ramp.from;
  const double wanted = ramp.toJoins ? ground.levelAt(ramp.axis.back()).value_or(ramp.to) : ramp.to;
  double to = wanted;
  if (const double most = ramp.greatest / 100 * length; ramp.greatest > 0)
    to = std::clamp(to, from - most, from + most);
  Placement result = placeLine(piecesOf(request, Grades({{0, from}, {length, to}}, {})), LineEnds::square, ramp.corners,
                               ground, origin, progress, detail, ramp.width > 0 ? 1 : 0);
  result.figures = {{"grade_percent", "Grade", Measure::percent, 100 * (from - to) / length},
                    {"length_m", "Length", Measure::length, length}};
  if (ramp.fromJoins) result.figures.push_back({"from_level_m", "From", Measure::level, from});
  if (ramp.toJoins) result.figures.push_back({"to_level_m", "To", Measure::level, to});
  if (const double missing = std::abs(wanted - to); missing > 1e-6) {
    result.figures.push_back({"missing_m", "Missing at its end", Measure::length, missing});
    result.doubts.push_back(
        {ground::DoubtKind::notReached, ramp.axis.back(),
         fmt::format(
             "The greatest grade governs: at {:g} % the ramp ends {:.2f}\u00a0m {} the level it leads to. It would "
             "have to be {:.1f}\u00a0m long, or rise at {:.1f} %.",
             ramp.greatest, missing, to < wanted ? "below" : "above", 100 * std::abs(wanted - from) / ramp.greatest,
             100 * std::abs(wanted - from) / length)});
  }
  doubtOutside(result, ramp.axis, ground, origin, "ramp");
  return result;
}

const Kind& kindOf(const Run&) {
  static const KindOf<Run> kind(
      {"run", "Run", "A graded line with a typical section on either side: a road, a ditch, a bank."},
      {lineField<Run>("line", "The line its sections start from.", &Run::line), levelsField<Run>(&Run::levels),
       field<Run>({.name = "curves",
                   .label = "Curves",
                   .meaning = "Vertical curves: stations where the grade breaks, and their lengths.",
                   .measure = Measure::stations},
                  &Run::curves),
       sectionField<Run>("left", "Left side", "What goes out to the left, looking along it.", &Run::left),
       sectionField<Run>("right", "Right side", "What goes out to the right, looking along it.", &Run::right),
       field<Run>({.name = "closed",
                   .label = "Closed",
                   .meaning = "Whether the line goes back to its first point.",
                   .measure = Measure::flag},
                  &Run::closed),
       field<Run>({.name = "ends",
                   .label = "Ends",
                   .meaning = "Open, cut square; or wrapped, the section turned round them.",
                   .measure = Measure::choice,
                   .words = {"open", "wrapped"}},
                  &Run::ends)
           .onlyWhen([](const Run& run) { return !run.closed; }),
       field<Run>({.name = "part",
                   .label = "Part",
                   .meaning = "Whether only a part of the length is built.",
                   .measure = Measure::flag},
                  &Run::part),
       field<Run>({.name = "from_station", .label = "From station", .meaning = "Where the part begins.", .step = 1},
                  &Run::fromStation)
           .onlyWhen([](const Run& run) { return run.part; }),
       field<Run>({.name = "to_station", .label = "To station", .meaning = "Where the part ends.", .step = 1},
                  &Run::toStation)
           .onlyWhen([](const Run& run) { return run.part; }),
       cornersField<Run>(&Run::corners)});
  return kind;
}

Run startedOn(Run run, const ground::Tin& ground) {
  const double length = std::floor(lengthOf(run.line, run.closed) * 1000) / 1000;
  run.levels = {{0, levelNear(ground, run.line.front())}, {length, levelNear(ground, run.line.back())}};
  return run;
}

Placement place(const Run& run, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  const double length = lengthOf(run.line, run.closed);
  const Grades grades(run.levels, run.curves);
  require(grades, length);
  LineRequest request{run.line, run.closed, orBatter(run.left, kTwoToOne), orBatter(run.right, kTwoToOne)};
  LineEnds ends = run.ends == RunEnds::wrapped ? LineEnds::wrapped : LineEnds::square;
  if (run.closed) ends = LineEnds::joined;
  if (run.part) {
    if (!(run.fromStation >= -1e-3 && run.toStation <= length + 1e-3 && run.fromStation < run.toStation)) {
      throw Error(fmt::format("its part does not lie within its length, {:.3f} m", length),
                  "give stations between 0 and that");
    }
    request.fromStation = run.fromStation, request.toStation = run.toStation;
    if (run.closed && (run.fromStation > 1e-3 || run.toStation < length - 1e-3)) ends = LineEnds::square;
  }
  const auto pieces = piecesOf(request, grades);
  if (ends == LineEnds::wrapped && !pieces.empty() &&
      (!(*pieces.front().left.start == *pieces.front().right.start) ||
       !(*pieces.back().left.end == *pieces.back().right.end)))
    throw Error("its left and right sections differ at an end that is wrapped", "make them alike, or the ends open");
  Placement result = placeLine(pieces, ends, run.corners, ground, origin, progress, detail);
  result.figures = {{"length_m", "Length", Measure::length, length}};
  doubtOutside(result, run.line, ground, origin, "run");
  return result;
}

const Kind& kindOf(const Berm&) {
  static const KindOf<Berm> kind(
      {"berm", "Berm", "A ridge along a line."},
      {lineField<Berm>("line", "The middle of its crest.", &Berm::line),
       widthField<Berm>("The width of its crest.", &Berm::width),
       field<Berm>({.name = "by",
                    .label = "Crest by",
                    .meaning = "By a height above the ground, by one level, or by levels at stations.",
                    .measure = Measure::choice,
                    .words = {"height", "level", "levels"}},
                   &Berm::by),
       field<Berm>({.name = "height",
                    .label = "Height",
                    .meaning = "Of the crest above the ground, all along.",
                    .least = -100,
                    .most = 1000,
                    .figure = true},
                   &Berm::height)
           .onlyWhen([](const Berm& b) { return b.by == BermBy::height; }),
       field<Berm>(
           {.name = "level", .label = "Level", .meaning = "Of the crest.", .measure = Measure::level, .figure = true},
           &Berm::level)
           .onlyWhen([](const Berm& b) { return b.by == BermBy::level; }),
       levelsField<Berm>(&Berm::levels).onlyWhen([](const Berm& b) { return b.by == BermBy::levels; }),
       slopeField<Berm>(&Berm::slope), cornersField<Berm>(&Berm::corners)});
  return kind;
}

Placement place(const Berm& berm, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  Bank bank{berm.line, berm.width, berm.slope, {}, berm.by == BermBy::level ? Stations{{0, berm.level}} : berm.levels};
  if (berm.by == BermBy::height) bank.overGround = berm.height;
  Placement result = placeBank(bank, LineEnds::wrapped, berm.corners, ground, origin, progress, detail);
  doubtOutside(result, berm.line, ground, origin, "berm");
  return result;
}

const Kind& kindOf(const Swale&) {
  static const KindOf<Swale> kind(
      {"swale", "Swale", "A channel along a line."},
      {lineField<Swale>("line", "The middle of its bottom.", &Swale::line),
       widthField<Swale>("The width of its bottom.", &Swale::width),
       field<Swale>({.name = "by",
                     .label = "Bottom by",
                     .meaning = "By a depth below the ground, or by levels at stations.",
                     .measure = Measure::choice,
                     .words = {"depth", "levels"}},
                    &Swale::by),
       field<Swale>({.name = "depth",
                     .label = "Depth",
                     .meaning = "Of the bottom below the ground, all along.",
                     .least = -100,
                     .most = 1000,
                     .figure = true},
                    &Swale::depth)
           .onlyWhen([](const Swale& s) { return s.by == SwaleBy::depth; }),
       levelsField<Swale>(&Swale::levels).onlyWhen([](const Swale& s) { return s.by == SwaleBy::levels; }),
       slopeField<Swale>(&Swale::slope), cornersField<Swale>(&Swale::corners)});
  return kind;
}

Placement place(const Swale& swale, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  Bank bank{swale.line, swale.width, swale.slope, {}, swale.levels};
  if (swale.by == SwaleBy::depth) bank.overGround = -swale.depth;
  Placement result = placeBank(bank, LineEnds::square, swale.corners, ground, origin, progress, detail);
  doubtOutside(result, swale.line, ground, origin, "swale");
  return result;
}

}  // namespace inselberg::works
