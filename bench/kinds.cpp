#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <random>

#include "project/evaluate.h"
#include "project/project.h"
#include "table.h"
#include "works/works.h"

namespace inselberg::bench {
namespace {

using plane::Vec2;
constexpr double kPi = 3.14159265358979323846;
constexpr std::size_t kCorners = 200;

// Ring of n corners, a little in and out, with a bay.
plane::Ring bayed(Vec2 centre, double radius, std::size_t n) {
  plane::Ring ring;
  for (std::size_t i = 0; i < n; ++i) {
    const double a = 2 * kPi * static_cast<double>(i) / static_cast<double>(n),
                 r = radius * (1 + 0.12 * std::sin(5 * a) + 0.01 * std::sin(37 * a));
    ring.push_back({centre.x + r * std::cos(a), centre.y + r * std::sin(a)});
  }
  return ring;
}
// Line of n points that winds across the land.
plane::Ring winding(Vec2 from, double length, std::size_t n) {
  plane::Ring line;
  for (std::size_t i = 0; i < n; ++i) {
    const double t = static_cast<double>(i) / static_cast<double>(n - 1);
    line.push_back({from.x + length * t, from.y + 0.06 * length * std::sin(7 * t)});
  }
  return line;
}

works::SectionsAlong section(const char* text) {
  return {{0, works::parsedSection(text)}};
}
constexpr const char* kBank = "out 1.5 at 2 %; to ground 2:1";

struct Case {
  const char* name;
  works::Shape shape;
};

std::vector<Case> cases(std::size_t n) {
  const Vec2 middle{350, 350};
  const double level = hills(350, 350) + 1;
  const plane::Ring ring = bayed(middle, 45, n), line = winding({260, 350}, 180, n);
  std::vector<Case> all;
  works::Pad pad{ring, level, {}};
  all.push_back({"pad", pad});
  pad.batters.corners = works::CornerStyle::square;
  all.push_back({"pad, square corners", pad});
  pad.batters.corners = works::CornerStyle::round;
  pad.section = section("out 2 at 2 %; up -0.5 at 2:1; to ground 2:1, bench every 2 by 1 at 2 %");
  all.push_back({"pad with legs and benches", pad});
  pad.section = section(kBank), pad.top = works::PadTop::tilted, pad.fall = 2, pad.bearing = 130;
  all.push_back({"pad on a tilt", pad});
  works::Pad draped{ring, level, {}};
  draped.top = works::PadTop::onGround, draped.offset = 0.5;
  all.push_back({"pad on the ground", draped});
  works::Ramp ramp;
  ramp.axis = line, ramp.from = hills(260, 350) + 1, ramp.to = hills(440, 350) + 1;
  ramp.left = ramp.right = section(kBank);
  all.push_back({"ramp", ramp});
  works::Run run;
  run.line = line;
  run.levels = {{0, hills(260, 350) + 1}, {90, level}, {180, hills(440, 350) + 1}};
  run.curves = {{90, 60}};
  run.left = section(kBank);
  run.right = {{0, works::parsedSection("out 3 at 2 %; to ground 2:1")},
               {150, works::parsedSection("out 6 at 2 %; to ground 3:1")}};
  all.push_back({"run with a transition", run});
  works::Pond pond;
  pond.outline = ring, pond.bottom = level - 2, pond.top = level + 1, pond.crest = 2;
  all.push_back({"pond", pond});
  works::Berm berm;
  berm.line = line, berm.height = 1.2;
  all.push_back({"berm", berm});
  works::Swale swale;
  swale.line = line, swale.depth = 0.6;
  all.push_back({"swale", swale});
  works::LevelArea area;
  area.outline = ring, area.level = level;
  all.push_back({"level area", area});
  works::Sculpt sculpt;
  sculpt.outline = ring;
  sculpt.contours = {{level + 1, bayed(middle, 30, n)}, {level + 2, bayed(middle, 15, n)}};
  all.push_back({"sculpt", sculpt});
  return all;
}

project::ProjectPtr surveyed() {
  project::SourceData data;
  data.points = survey(500'000, 0, 4).points;
  const auto empty = project::emptyProject("bench");
  return project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
}

works::Shape moved(const works::Shape& shape, double by) {
  for (const auto& places : works::placesOf(shape)) {
    auto points = places.points;
    points[points.size() / 2].y += by;
    works::Shape changed = shape;
    changed = changed.with(places.field, points);
    return changed;
  }
  return shape;
}

void dragSteps(const project::ProjectPtr& ground, project::Cache& cache) {
  for (const Case& c : cases(kCorners)) {
    auto project = project::withNewWorks(*ground, ground->finished(), c.name, c.shape);
    project::evaluate(project, cache, {});
    const WorksId id = project->ground(project->finished())->works[0]->id;
    double mean = 0, worst = 0, whole = 0;
    constexpr int kSteps = 8;
    for (int step = 0; step <= kSteps; ++step) {
      works::Works w = *project->works(id).works;
      w.shape = moved(c.shape, 0.21 * (step + 1));
      project = project::withWorks(*project, w);
      const auto start = std::chrono::steady_clock::now();
      const auto since = [&] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
      };
      double first = 0;
      project::evaluate(
          project, cache, {}, [&](const project::EvaluationPtr&) { first = since(); }, works::Detail::draft);
      if (step == 0) continue;
      mean += first / kSteps, whole += since() / kSteps, worst = std::max(worst, first);
    }
    row(fmt::format("One step of dragging, {} corners on 1 000 000 triangles: {}; and whole", kCorners, c.name),
        fmt::format("{:.0f} ms (worst {:.0f} ms); {:.0f} ms", 1000 * mean, 1000 * worst, 1000 * whole),
        "50 ms; 300 ms");
  }
}

void fiftyMixed(const project::ProjectPtr& ground, project::Cache& cache) {
  auto project = ground;
  std::mt19937 random(12);
  std::uniform_real_distribution<double> wobble(-8, 8);
  const auto shapes = cases(16);
  for (int i = 0; i < 50; ++i) {
    const Vec2 to{60.0 + 65 * (i % 10) + wobble(random), 80.0 + 130 * (i / 10) + wobble(random)};
    const Case& c = shapes[static_cast<std::size_t>(i) % shapes.size()];
    works::Shape shape = c.shape;
    for (const auto& places : works::placesOf(c.shape)) {
      auto points = places.points;
      for (Vec2& p : points) p = to + 0.3 * (p - Vec2{350, 350});
      shape = shape.with(places.field, points);
    }
    if (works::levelOf(shape)) shape = works::startedOn(shape, *project::evaluate(ground, cache, {})->grounds[0].tin);
    project = project::withNewWorks(*project, project->finished(), fmt::format("{} {}", c.name, i), shape);
  }
  const double placing = best(1, [&] { project::evaluate(project, cache, {}); });
  row("50 works of all kinds on 1 000 000 triangles placed and set in, from nothing but the ground",
      fmt::format("{:.2f} s", placing), "5 s");
}

}  // namespace

void kinds() {
  const auto ground = surveyed();
  project::Cache cache;
  const auto tin = project::evaluate(ground, cache, {})->grounds[0].tin;
  for (const Case& c : cases(2000)) {
    row(fmt::format("2 000 corners placed on 1 000 000 triangles: {}", c.name),
        fmt::format("{:.0f} ms", 1000 * best(2, [&] { works::place(c.shape, *tin, {}, {}); })), "300 ms");
  }
  dragSteps(ground, cache);
  fiftyMixed(ground, cache);
  for (std::size_t i = 0; i < cases(3).size(); ++i) {
    grows(fmt::format("Corners of a works: {}", cases(3)[i].name), 1000,
          [&](std::size_t n) { return [&, shape = cases(n)[i].shape] { works::place(shape, *tin, {}, {}); }; });
  }
}

}  // namespace inselberg::bench
