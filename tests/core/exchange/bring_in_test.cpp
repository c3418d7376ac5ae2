// Files brought into a project, the same for the window and the command line.
#include "exchange/bring_in.h"

#include <catch2/catch.hpp>

#include "exchange/contours_write.h"
#include "ground/contours.h"
#include "project/redraw.h"
#include "store/project_file.h"
#include "support/figures.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

const char* kSurvey = R"({"type":"FeatureCollection","features":[
{"type":"Feature","properties":{"layer":"spots"},"geometry":{"type":"Point","coordinates":[412000,6187000,70]}},
{"type":"Feature","properties":{"layer":"spots"},"geometry":{"type":"Point","coordinates":[412100,6187000,71]}},
{"type":"Feature","properties":{"layer":"spots"},"geometry":{"type":"Point","coordinates":[412000,6187100,72.5]}},
{"type":"Feature","properties":{"layer":"spots"},"geometry":{"type":"Point","coordinates":[412100,6187100,74]}},
{"type":"Feature","properties":{"layer":"spots"},"geometry":{"type":"Point","coordinates":[412050]}}]})";

}  // namespace

TEST_CASE("A file that is brought in keeps what it was taken as, how it was read, its report and its lock") {
  const Scratch s;
  const std::string file = s.file("survey.geojson", kSurvey);
  exchange::ReadRules rules;
  rules.units = "m";
  const exchange::Imported imported = exchange::readAny(file, rules);
  const auto takes = exchange::guesses(imported);
  const exchange::Georeference place{{412000, 6187000}, {}};
  CHECK(exchange::comesIn(imported, takes) == "4 points");
  CHECK(exchange::comesIn(imported, std::vector(takes.size(), exchange::Take::skip)).empty());
  const plane::Polygon limit{{{412000, 6187000}, {412100, 6187000.5}, {412050, 6187100}}, {}};
  exchange::BroughtIn chosen = exchange::broughtIn(imported, takes, exchange::take(imported, takes, place.origin),
                                                   exchange::readingOf(rules, &limit), place);
  const auto p = exchange::withBroughtIn(*project::emptyProject("Tolwin"), chosen, {});
  REQUIRE(p->sources.size() == 1);
  const project::Source& source = *p->sources[0];
  CHECK(source.name == "survey.geojson");
  CHECK(source.file == file);
  CHECK(source.locked);
  REQUIRE(source.takes.size() == 1);
  CHECK(source.takes[0].second == "points");
  CHECK(source.reading ==
        exchange::Choices{{"units", "m"}, {"limit", "412000 6187000, 412100 6187000.5, 412050 6187100"}});
  REQUIRE(source.report.size() >= 2);
  CHECK(source.report[0] == "Comes in: 4 points");
  CHECK(source.report[1].find("left out") != std::string::npos);
  CHECK(p->origin == place.origin);
  CHECK(p->hasOrigin);
  CHECK(std::get<project::FromSources>(p->ground(p->surveyed())->base).sources == std::vector{source.id});

  // Again, it takes its own place.
  chosen.again = true;
  const auto again = exchange::withBroughtIn(*p, chosen, {});
  CHECK(again->sources.size() == 1);
  CHECK(again->sources[0]->id == source.id);
}

TEST_CASE("Outlines that are brought in become pads at their level, or at that of the ground to 5 cm") {
  exchange::BroughtIn file;
  file.file = "somewhere/yards.v2.dxf";
  file.taken.works.push_back({{rectangle(0, 0, 10, 10), {}}, 71.234});
  file.taken.works.push_back({{rectangle(20, 0, 40, 10), {}}, std::nullopt});
  const auto p = exchange::withBroughtIn(*project::emptyProject("Tolwin"), std::move(file), [](plane::Vec2 at) {
    CHECK(at == plane::Vec2{30, 5});
    return std::optional(72.33);
  });
  const auto& works = p->ground(p->finished())->works;
  REQUIRE(works.size() == 2);
  CHECK(works[0]->name == "yards.v2 1");
  CHECK(works::levelOf(works[0]->shape) == 71.234);
  CHECK(works[1]->name == "yards.v2 2");
  CHECK(works::levelOf(works[1]->shape).value() == Approx(72.35).epsilon(1e-15));
  CHECK(p->sources.empty());
}

TEST_CASE("A project begun on the command line keeps of its files what the window keeps") {
  const Scratch s;
  const std::string file =
      s.file("survey.csv", "P,E,N,Z\n1,412000,6187000,70\n2,412100,6187000,71\n3,412000,6187100,72\n");
  const std::string lines =
      s.file("lines.geojson", R"({"type":"LineString","coordinates":[[412010,6187010,70],[412050,6187020,71]]})");
  REQUIRE(
      runCli("new '" + file + "' --breaklines '" + lines + "' --units m --name Tolwin -o '" + (s / "p.inselberg") + "'")
          .code == 0);
  const auto p = store::open(s / "p.inselberg").project;
  REQUIRE(p->sources.size() == 2);
  CHECK(p->sources[0]->name == "survey.csv");
  CHECK(p->sources[0]->file == file);
  CHECK(p->sources[0]->locked);
  CHECK(p->sources[0]->takes == exchange::Choices{{"survey", "points"}});
  CHECK(p->sources[0]->reading == exchange::Choices{{"units", "m"}});
  CHECK(p->sources[0]->report.at(0) == "Comes in: 3 points");
  CHECK(p->sources[1]->takes == exchange::Choices{{"lines", "breaklines"}});
  CHECK(p->sources[1]->locked);
}

TEST_CASE("A ground redrawn from its contours is made of them, and of nothing where there are none") {
  const auto tin = evenGridGround(40, 8, [](double x, double y) { return 50 + x / 10 + y / 40; });
  const auto p = project::emptyProject("Tolwin");
  const project::Redrawn made = project::withRedrawn(*p, p->surveyed(), *tin, 0.5, Progress());
  const project::Ground* ground = made.project->ground(made.ground);
  CHECK(ground->name == "existing redrawn");
  const auto& base = std::get<project::FromSources>(ground->base);
  CHECK(base.rules.cureFlats);
  REQUIRE(base.sources.size() == 1);
  const auto& lines = made.project->source(base.sources[0])->data->breaklines;
  CHECK(lines.size() == ground::contours(*tin, ground::contourLevels(*tin, 0.5), {}).size());
  for (const auto& line : lines) {
    CHECK(line.contour);
    for (const auto& v : line.vertices) CHECK(v.z == Approx(*tin->levelAt(v.plan())).margin(1e-9));
  }
  CHECK_THROWS_WITH(project::withRedrawn(*p, p->surveyed(), *tin, 1000, Progress()),
                    Catch::Contains("has no contour every 1000 m"));
}

TEST_CASE("Contours are written as the ending says, labelled where they cross the label lines") {
  const Scratch s;
  const auto tin = evenGridGround(40, 8, [](double x, double y) { return 50 + x / 10 + y / 40; });
  const std::vector<std::vector<plane::Vec2>> labels{{{0, 20}, {40, 20}}};
  const std::size_t count = exchange::writeContours(*tin, {{100, 200}, {}}, 0.5, labels, s / "c.dxf", {});
  CHECK(count == exchange::writeContours(*tin, {{100, 200}, {}}, 0.5, {}, s / "c.GeoJSON", {}));
  const exchange::Imported dxf = exchange::readAny(s / "c.dxf"), json = exchange::readAny(s / "c.GeoJSON");
  CHECK(dxf.lines.size() == count);
  CHECK(json.lines.size() == count);
  const std::string text = contentOf(s / "c.dxf");
  std::size_t labelled = 0;
  for (auto at = text.find("\nTEXT\n"); at != std::string::npos; at = text.find("\nTEXT\n", at + 1)) ++labelled;
  // The line at y = 20 runs from 50.5 to 54.5.
  CHECK(labelled >= 7);
  CHECK(labelled <= 9);
}
