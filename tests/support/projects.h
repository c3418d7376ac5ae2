// A made-up project that has one of everything, crooked and different for each seed, and the ways it can differ from
// another in a single member.
#pragma once

#include <functional>
#include <string>
#include <utility>
#include <vector>

#include "project/project.h"
#include "support/grounds.h"

namespace inselberg::testing {

inline plane::Polygon soundOf(plane::Polygon polygon) {
  return plane::sound(std::move(polygon), {});
}

inline project::SourceData surveyOf(std::mt19937& random) {
  const Level level = randomHills(random, 6);
  std::uniform_real_distribution<double> place(2, 98);
  project::SourceData data;
  for (const double x : {0.0, 100.0}) {
    for (const double y : {0.0, 100.0}) data.points.push_back({x, y, level(x, y)});
  }
  for (int i = 0; i < 60; ++i) {
    const double x = place(random), y = place(random);
    data.points.push_back({x, y, level(x, y)});
  }
  for (std::size_t i = 0; i < data.points.size(); ++i) data.codes.push_back(i % 3 ? "GL" : "tree \"\u00e4\"");
  const plane::Vec3& twice = data.points[10];
  data.points.push_back({twice.x, twice.y, twice.z + 0.8});  // a duplicate that disagrees
  data.codes.push_back("");
  for (int l = 0; l < 3; ++l) {
    ground::Breakline line{{}, l == 1, l == 2};
    const double z = l == 2 ? 51 : 0;
    for (int k = 0; k < 4; ++k) {
      const double x = 12.0 + 24 * l + 3 * std::cos(1.7 * k) + 4 * k * (l != 1), y = 30 + 9 * std::sin(1.7 * k) + 2 * l;
      line.vertices.push_back({x, y, z > 0 ? z : level(x, y) + 0.3});
    }
    if (l == 0) line.vertices[1].z = std::nan("");
    data.breaklines.push_back(std::move(line));
  }
  data.boundaries.push_back(
      soundOf({randomStar(random, {50, 50}, 44, 49, 14), {randomStar(random, {20, 75}, 2, 4, 5)}}));
  data.voids.push_back(soundOf({randomStar(random, {75, 20}, 3, 6, 7), {randomStar(random, {75, 20}, 0.5, 1, 4)}}));
  return data;
}

inline project::SourceData modelOf(std::mt19937& random) {
  const auto tin = scatteredGround(20, 12, random, [](double x, double y) { return 51 + 0.03 * x - 0.02 * y; });
  project::SourceData data;
  for (const auto& p : tin->points()) data.modelPoints.push_back({p.x + 40, p.y + 60, p.z});
  data.modelTriangles.append(tin->triangles().begin(), tin->triangles().end());
  return data;
}

inline project::ProjectPtr everything(unsigned seed) {
  std::mt19937 random(seed);
  auto start = std::make_shared<project::Project>(*project::emptyProject("Tolwin \"east\" \u00fc"));
  start->origin = {412300.5, 6187400.25};
  start->hasOrigin = true;
  start->system = "EPSG:32755";
  start->labelLines = {{{1, 2}, {3, 4.5}}, {{5, 6}, {7, 8}, {9, 10}}};
  const GroundId existing = start->column.front()->id, finished = start->column.back()->id;
  project::SourceInfo info{"survey", "survey.dxf", {{"SPOT", "points"}, {"X", "skip"}}, {"a line", "another"}, true,
                           true,     "#123456"};
  info.reading = {{"units", "ft"}, {"system", "EPSG:32755"}, {"limit", "1 2, 3 4, 5 6"}};
  auto p = project::withSource(*start, info, surveyOf(random), existing);
  p = project::withSource(*p, {"model", "model.xml"}, modelOf(random), existing);
  ground::BuildRules rules{ground::DuplicateRule::last, 60, false};
  p = project::withRules(*p, existing, rules);
  p = project::withMend(*p, existing, ground::AddPoint{{51.25, 48.5, 53}});
  p = project::withMend(*p, existing, ground::DeletePoint{{51.25, 48.5}});
  p = project::withMend(*p, existing, ground::AddPoint{{33.25, 61.5, 54}});
  works::Pad pad{randomStar(random, {52, 40}, 6, 9, 7), 52.125, {}};
  pad.batters.cut = Slope::horizontalPerVertical(1.25);
  pad.batters.fill = Slope::horizontalPerVertical(2.5);
  pad.batters.corners = works::CornerStyle::square;
  pad.batters.reach = 40;
  pad.batters.chordError = 0.01;
  p = project::withNewWorks(*p, finished, "Silo pad", pad);
  works::Pad yard{randomStar(random, {68, 44}, 5, 9, 6), 50.5, {}};
  p = project::withNewWorks(*p, finished, "Yard", yard);
  p = project::withNewWorks(*p, finished, "Later", works::Pad{randomStar(random, {30, 52}, 4, 6, 5), 51, {}});
  works::Works looks = *p->column.back()->works.back();
  looks.leftOut = looks.hidden = true;
  p = project::withWorks(*p, looks);
  const auto make = [&](const char* name, project::Derived base) {
    p = project::withNewGround(*p, name, std::move(base), p->column.back()->id);
  };
  make("lowered", {{existing}, project::Shift{-0.3125}});
  make("part",
       {{existing},
        project::Keep{soundOf({randomStar(random, {50, 50}, 20, 40, 9), {randomStar(random, {50, 50}, 3, 6, 5)}}),
                      true}});
  make("both", {{existing, p->column[2]->id}, project::CombineAs{quantity::Combine::higher}});
  make("simple", {{existing}, project::Simplify{0.125}});
  project::SheetInfo sheet;
  sheet.name = "plan", sheet.file = "plan.pdf", sheet.page = 2, sheet.size = {420, 297}, sheet.picture = true;
  sheet.placement = {0.5, 0.01, 12, -0.01, 0.4, 30}, sheet.placedBy = project::PlacedBy::points;
  sheet.controls = {{{1, 2}, {3, 4}}, {{5, 6}, {7, 8.5}}};
  sheet.crop = plane::Box{10, 20, 300, 200};
  sheet.opacity = 0.75, sheet.grey = sheet.hidden = sheet.locked = true;
  p = project::withSheet(*p, sheet, std::make_shared<const std::string>("bytes of a file"), "0.5\n0\n0\n-0.5\n1\n2\n");
  p = project::withSheet(*p, {"other", "plan.pdf"}, std::make_shared<const std::string>("others"), "");
  p = project::withAccepted(*p, {ground::DoubtKind::spike, {1.5, 2.5}, "text"}, "a real mound");
  return p;
}

// One member changed alone, by name.
using Change = std::pair<std::string, std::function<project::ProjectPtr(const project::Project&)>>;

// What shows or is kept, but alters no ground.
inline std::vector<Change> quietChanges() {
  const auto info = [](auto alter) {
    return [alter](const project::Project& p) {
      project::SourceInfo i = *p.sources[0];
      alter(i);
      return project::withSourceInfo(p, p.sources[0]->id, std::move(i));
    };
  };
  const auto own = [](auto alter) {
    return [alter](const project::Project& p) {
      auto next = std::make_shared<project::Project>(p);
      alter(*next);
      return project::ProjectPtr(next);
    };
  };
  const auto sheet = [](auto alter) {
    return [alter](const project::Project& p) {
      project::SheetInfo i = *p.sheets[0];
      alter(i);
      return project::withSheetInfo(p, p.sheets[0]->id, std::move(i));
    };
  };
  return {{"sheet name", sheet([](project::SheetInfo& i) { i.name = "third"; })},
          {"sheet file", sheet([](project::SheetInfo& i) { i.file = "third.pdf"; })},
          {"sheet page", sheet([](project::SheetInfo& i) { i.page = 3; })},
          {"sheet size", sheet([](project::SheetInfo& i) { i.size.x = 9; })},
          {"sheet of pixels", sheet([](project::SheetInfo& i) { i.picture = false; })},
          {"sheet placement", sheet([](project::SheetInfo& i) { i.placement.f += 1; })},
          {"sheet placed by", sheet([](project::SheetInfo& i) { i.placedBy = project::PlacedBy::itself; })},
          {"sheet controls", sheet([](project::SheetInfo& i) { i.controls[1].ground.y += 1; })},
          {"sheet crop", sheet([](project::SheetInfo& i) { i.crop.reset(); })},
          {"sheet opacity", sheet([](project::SheetInfo& i) { i.opacity = 0.5; })},
          {"sheet grey", sheet([](project::SheetInfo& i) { i.grey = false; })},
          {"sheet hidden", sheet([](project::SheetInfo& i) { i.hidden = false; })},
          {"sheet locked", sheet([](project::SheetInfo& i) { i.locked = false; })},
          {"sheet gone", [](const project::Project& p) { return project::withoutSheet(p, p.sheets[1]->id); }},
          {"sheet order", [](const project::Project& p) { return project::withSheetAt(p, p.sheets[0]->id, 1); }},
          {"sheet file's bytes", own([](project::Project& p) {
             const project::PlanSheet& was = *p.sheets[0];
             p.sheets[0] = project::makePlanSheet(was.id, was, std::make_shared<const std::string>("else"), was.world);
           })},
          {"sheet world file", own([](project::Project& p) {
             const project::PlanSheet& was = *p.sheets[0];
             p.sheets[0] = project::makePlanSheet(was.id, was, was.bytes, "");
           })},
          {"name", [](const project::Project& p) { return project::withName(p, "other"); }},
          {"system", [](const project::Project& p) { return project::withSystem(p, "EPSG:32756"); }},
          {"label lines",
           [](const project::Project& p) {
             return project::withLabelLines(p, {{{1, 2}, {3, 4}}});
           }},
          {"has origin", own([](project::Project& p) { p.hasOrigin = false; })},
          {"compared", own([](project::Project& p) { p.compared.pop_back(); })},
          {"role", own([](project::Project& p) {
             auto g = std::make_shared<project::Ground>(*p.column[2]);
             g->role = project::Role::asBuilt;
             p.column[2] = std::move(g);
           })},
          {"accepted reason", own([](project::Project& p) { p.accepted[0].reason = "other"; })},
          {"accepted place", own([](project::Project& p) { p.accepted[0].where.x += 1; })},
          {"accepted kind", own([](project::Project& p) { p.accepted[0].kind = ground::DoubtKind::flats; })},
          {"source name", info([](project::SourceInfo& i) { i.name = "other"; })},
          {"source file", info([](project::SourceInfo& i) { i.file = "other"; })},
          {"takes", info([](project::SourceInfo& i) { i.takes[1].second = "points"; })},
          {"report", info([](project::SourceInfo& i) { i.report.pop_back(); })},
          {"reading", info([](project::SourceInfo& i) { i.reading[2].second += "1"; })},
          {"hidden source", info([](project::SourceInfo& i) { i.hidden = false; })},
          {"locked", info([](project::SourceInfo& i) { i.locked = false; })},
          {"colour", info([](project::SourceInfo& i) { i.colour = "#123457"; })},
          {"hidden works",
           [](const project::Project& p) {
             works::Works w = *p.column[1]->works[2];
             w.hidden = !w.hidden;
             return project::withWorks(p, w);
           }},
          {"works name", [](const project::Project& p) {
             works::Works w = *p.column[1]->works[0];
             w.name = "other";
             return project::withWorks(p, w);
           }}};
}

// What alters a ground or a figure.
inline std::vector<Change> loudChanges() {
  const auto data = [](std::size_t source, auto alter) {
    return [source, alter](const project::Project& p) {
      auto next = std::make_shared<project::Project>(p);
      project::SourceData d = *p.sources[source]->data;
      alter(d);
      next->sources[source] = project::makeSource(p.sources[source]->id, *p.sources[source], std::move(d));
      return project::ProjectPtr(next);
    };
  };
  const auto survey = [data](auto alter) { return data(0, alter); };
  const auto model = [data](auto alter) { return data(1, alter); };
  const auto rules = [](auto alter) {
    return [alter](const project::Project& p) {
      ground::BuildRules r = std::get<project::FromSources>(p.column[0]->base).rules;
      alter(r);
      return project::withRules(p, p.column[0]->id, r);
    };
  };
  const auto pad = [](std::size_t which, auto alter) {
    return [which, alter](const project::Project& p) {
      works::Works w = *p.column[1]->works[which];
      works::Pad changed = *w.shape.as<works::Pad>();
      alter(w, changed);
      w.shape = changed;
      return project::withWorks(p, w);
    };
  };
  const auto ground = [](std::size_t which, auto alter) {
    return [which, alter](const project::Project& p) {
      auto next = std::make_shared<project::Project>(p);
      auto g = std::make_shared<project::Ground>(*p.column[which]);
      alter(*g);
      next->column[which] = g;
      return project::ProjectPtr(next);
    };
  };
  const auto how = [ground](std::size_t which, auto alter) {
    return ground(which, [alter](project::Ground& g) { alter(std::get<project::Derived>(g.base)); });
  };
  using Data = project::SourceData;
  using W = works::Works;
  using P = works::Pad;
  using project::Derived;
  return {
      {"point", survey([](Data& d) { d.points.change(12, [](auto& p) { p.z += 0.5; }); })},
      {"breakline level", survey([](Data& d) { d.breaklines.change(0, [](auto& l) { l.vertices[2].z += 0.5; }); })},
      {"breakline closed", survey([](Data& d) { d.breaklines.change(1, [](auto& l) { l.closed = false; }); })},
      {"order of breaklines", survey([](Data& d) {
         ground::Breakline line = d.breaklines[0];
         for (auto& v : line.vertices) v.z += 1;
         d.breaklines.push_back(line);
       })},
      {"boundary", survey([](Data& d) { d.boundaries[0].outer[3].x *= 0.9; })},
      {"boundary hole", survey([](Data& d) { d.boundaries[0].holes.clear(); })},
      {"void", survey([](Data& d) { d.voids[0].outer[1].x += 1; })},
      {"model point", model([](Data& d) { d.modelPoints.change(5, [](auto& p) { p.z += 0.5; }); })},
      {"model triangle", model([](Data& d) { d.modelTriangles.erase(std::vector{d.modelTriangles.size() - 1}); })},
      {"duplicates", rules([](ground::BuildRules& r) { r.duplicates = ground::DuplicateRule::first; })},
      {"max edge", rules([](ground::BuildRules& r) { r.maxEdge = 12; })},
      {"mend gone", ground(0, [](project::Ground& g) { std::get<project::FromSources>(g.base).mends.pop_back(); })},
      {"mend level", ground(0,
                            [](project::Ground& g) {
                              std::get<ground::AddPoint>(std::get<project::FromSources>(g.base).mends.back()).at.z += 1;
                            })},
      {"source order",
       ground(0, [](project::Ground& g) { std::get<project::FromSources>(g.base).sources.pop_back(); })},
      {"pad corner", pad(0, [](W&, P& p) { p.outline[2].x += 0.7; })},
      {"pad level", pad(0, [](W&, P& p) { p.level += 0.25; })},
      {"cut batter", pad(0, [](W&, P& p) { p.batters.cut = Slope::horizontalPerVertical(3); })},
      {"fill batter", pad(0, [](W&, P& p) { p.batters.fill = Slope::horizontalPerVertical(4); })},
      {"corners", pad(0, [](W&, P& p) { p.batters.corners = works::CornerStyle::round; })},
      {"reach", pad(0, [](W&, P& p) { p.batters.reach = 0.5; })},
      {"chord error", pad(1, [](W&, P& p) { p.batters.chordError = 0.2; })},
      {"works left out", pad(2, [](W& w, P&) { w.leftOut = false; })},
      {"works order", [](const project::Project& p) { return project::withWorksAt(p, p.column[1]->works[1]->id, 0); }},
      {"works gone", [](const project::Project& p) { return project::withoutWorks(p, p.column[1]->works[0]->id); }},
      {"shift", how(2, [](Derived& d) { std::get<project::Shift>(d.how).height = 1; })},
      {"keep outline", how(3, [](Derived& d) { std::get<project::Keep>(d.how).polygon.outer[2].x += 3; })},
      {"keep hole", how(3, [](Derived& d) { std::get<project::Keep>(d.how).polygon.holes.clear(); })},
      {"keep inside", how(3, [](Derived& d) { std::get<project::Keep>(d.how).inside = false; })},
      {"combine", how(4, [](Derived& d) { std::get<project::CombineAs>(d.how).rule = quantity::Combine::lower; })},
      {"combined of", how(4, [](Derived& d) { d.of.pop_back(); })},
      {"simplify", how(5, [](Derived& d) { std::get<project::Simplify>(d.how).tolerance = 20; })},
      {"made of another", how(2, [](Derived& d) { d.how = project::Simplify{1}; })},
      {"finished on another", ground(1,
                                     [](project::Ground& g) {
                                       g.base = project::Derived{{GroundId{1}}, project::Shift{2}};
                                     })},
  };
}

}  // namespace inselberg::testing
