// What layers hold, what they are guessed to be, and the sources they become.
#include "exchange/layers.h"

#include <catch2/catch.hpp>

#include "base/error.h"

using namespace inselberg;
using exchange::Imported;
using exchange::Take;

namespace {

const double kNone = std::nan("");

Imported file(std::vector<std::string> layers) {
  Imported out;
  out.file = "site.dxf";
  out.layers = std::move(layers);
  return out;
}

exchange::ImportedLine line(std::vector<plane::Vec3> v, exchange::LayerIndex layer, bool closed = false) {
  return {std::move(v), closed, layer, 1};
}

std::vector<plane::Vec3> square(double x, double y, double size, double z) {
  return {{x, y, z}, {x + size, y, z}, {x + size, y + size, z}, {x, y + size, z}};
}

void addPoint(Imported& out, plane::Vec3 p, exchange::LayerIndex layer) {
  out.points.push_back(p);
  out.pointLayers.push_back(layer);
}

}  // namespace

TEST_CASE("Every word for what a layer is taken as is read back") {
  for (const Take take : {Take::skip, Take::points, Take::breaklines, Take::contours, Take::boundary, Take::voids,
                          Take::works, Take::faces})
    CHECK(exchange::takeOf(exchange::word(take)) == take);
  CHECK_FALSE(exchange::takeOf("ridge"));
}

TEST_CASE("Layers are counted, with their levels, and guessed by content") {
  Imported f = file({"A", "B", "C", "D", "E", "F"});
  addPoint(f, {0, 0, 5}, 0);
  addPoint(f, {1, 1, 9}, 0);
  f.lines.push_back(line({{0, 0, 5}, {9, 9, 7}}, 1));
  for (int z = 10; z < 15; ++z) f.lines.push_back(line({{0, 1.0 * z, 1.0 * z}, {50, 1.0 * z, 1.0 * z}}, 2));
  f.lines.push_back(line(square(-1, -1, 60, 0), 3, true));
  f.models.push_back({{{0, 0, 1}, {1, 0, 1}, {0, 1, 2}}, {{0, 1, 2}}, 4});
  f.lines.push_back(line({{3, 3, 0}, {4, 4, 0}}, 5));
  const auto s = exchange::summaries(f);
  CHECK(s[0].points == 2);
  CHECK(*s[0].minLevel == 5);
  CHECK(*s[0].maxLevel == 9);
  CHECK(s[2].levelLines == 5);
  CHECK(s[4].faces == 1);
  CHECK(exchange::guesses(f) ==
        std::vector{Take::points, Take::breaklines, Take::contours, Take::boundary, Take::faces, Take::skip});
}

TEST_CASE("Names tell breaklines, boundaries and voids apart") {
  Imported f = file({"Site boundary", "VOIDS", "Ditch edge", "contours major", "trees"});
  f.lines.push_back(line(square(0, 0, 100, 0), 0, true));
  f.lines.push_back(line(square(40, 40, 9, 0), 1, true));
  f.lines.push_back(line({{0, 0, 7}, {9, 0, 7}}, 2));
  f.lines.push_back(line({{0, 5, 8}, {9, 5, 8}}, 3));
  f.lines.push_back(line({{0, 5, 0}, {9, 5, 0}}, 4));
  CHECK(exchange::guesses(f) == std::vector{Take::boundary, Take::voids, Take::breaklines, Take::contours, Take::skip});
}

TEST_CASE("Of models over each other the first is offered, of models side by side all") {
  Imported f = file({"old", "new", "beside"});
  const auto model = [&](double x, exchange::LayerIndex layer) {
    f.models.push_back({{{x, 0, 1}, {x + 10, 0, 1}, {x, 10, 2}}, {{0, 1, 2}}, layer});
  };
  model(0, 0), model(1, 1), model(50, 2);
  CHECK(exchange::guesses(f) == std::vector{Take::faces, Take::skip, Take::faces});
}

TEST_CASE("Layers become what they are taken as") {
  Imported f = file({"P", "L", "C", "B", "V", "W", "M", "no"});
  addPoint(f, {1000, 2000, 5}, 0);
  addPoint(f, {1000, 2000, kNone}, 0);
  addPoint(f, {1000, 2000, 5}, 7);
  f.lines.push_back(line({{1000, 2000, 5}, {1010, 2000, 6}}, 1));
  f.lines.push_back(line({{1000, 2000, 7}, {1010, 2000, 7}}, 2));
  f.lines.push_back(line(square(1000, 2000, 50, 0), 3, true));
  f.lines.push_back(line({{1010, 2010, 0}, {1020, 2010, 0}, {1020, 2020, 0}, {1010, 2010, 0}}, 4));
  f.lines.push_back(line(square(1030, 2030, 5, 71.5), 5, true));
  f.models.push_back({{{1000, 2000, 1}, {1010, 2000, 1}, {1000, 2010, 2}}, {{0, 1, 2}}, 6});
  const std::vector takes{Take::points, Take::breaklines, Take::contours, Take::boundary,
                          Take::voids,  Take::works,      Take::faces,    Take::skip};
  const auto taken = exchange::take(f, takes, {1000, 2000});
  REQUIRE(taken.sources.size() == 2);
  const auto& d = taken.sources[0].data;
  CHECK(d.points == std::vector<plane::Vec3>{{0, 0, 5}});
  REQUIRE(d.breaklines.size() == 2);
  CHECK_FALSE(d.breaklines[0].contour);
  CHECK(d.breaklines[1].contour);
  REQUIRE(d.boundaries.size() == 1);
  CHECK(plane::area(d.boundaries[0]) == Approx(2500));
  REQUIRE(d.voids.size() == 1);
  CHECK(plane::area(d.voids[0]) == Approx(50));
  REQUIRE(taken.works.size() == 1);
  CHECK(*taken.works[0].level == 71.5);
  CHECK(taken.sources[1].name == "M");
  CHECK(taken.sources[1].data.modelTriangles.size() == 1);
  CHECK(taken.remarks.size() == 1);  // the point without a level
  // Lines taken as points give their vertices.
  std::vector asPoints(8, Take::skip);
  asPoints[1] = Take::points;
  CHECK(exchange::take(f, asPoints, {}).sources[0].data.points.size() == 2);
  CHECK_THROWS_AS(exchange::take(f, std::vector(8, Take::skip), {}), Error);
}

TEST_CASE("Open lines are no outlines, and a model that stands upright is none") {
  Imported f = file({"B", "M"});
  f.lines.push_back(line({{0, 0, 0}, {10, 0, 0}, {10, 10, 0}}, 0));
  addPoint(f, {1, 1, 1}, 0);
  CHECK_THROWS_AS(exchange::take(f, std::vector{Take::boundary, Take::skip}, {}), Error);
  f.models.push_back({{{0, 0, 1}, {10, 0, 1}, {10, 0, 5}}, {{0, 1, 2}}, 1});
  CHECK_THROWS_AS(exchange::take(f, std::vector{Take::points, Take::faces}, {}), Error);
}

TEST_CASE("Only what lies inside a polygon is kept, lines cut at its sides with their levels") {
  Imported f = file({"L", "M"});
  addPoint(f, {5, 5, 1}, 0);
  addPoint(f, {50, 5, 1}, 0);
  f.lines.push_back(line({{-10, 5, 0}, {30, 5, 40}}, 0));
  f.lines.push_back(line(square(1, 1, 5, 3), 0, true));
  f.lines.push_back(line(square(2, 2, 50, 3), 0, true));
  f.areas.push_back({{{{100, 100}, {101, 100}, {100, 101}}, {}}, 0, 1});
  f.models.push_back(
      {{{0, 0, 1}, {6, 0, 1}, {0, 6, 2}, {90, 90, 1}, {99, 90, 1}, {90, 99, 1}}, {{0, 1, 2}, {3, 4, 5}}, 1});
  exchange::limitTo(f, {{{0, 0}, {20, 0}, {20, 20}, {0, 20}}, {}});
  CHECK(f.points.size() == 1);
  CHECK(f.pointLayers.size() == 1);
  REQUIRE(f.lines.size() == 4);
  CHECK(f.lines[0].vertices == std::vector<plane::Vec3>{{0, 5, 10}, {20, 5, 30}});
  CHECK(f.lines[1].closed);
  CHECK_FALSE(f.lines[2].closed);
  CHECK(f.areas.empty());
  CHECK(f.models[0].triangles.size() == 1);
}

TEST_CASE("A great cloud is thinned within the tolerance, and says so") {
  Imported f = file({"cloud"});
  for (int i = 0; i < 40000; ++i) f.points.push_back({1.0 * (i % 200), 1.0 * (i / 200), std::sin(i % 200 / 30.0)});
  const auto taken = exchange::take(f, std::vector{Take::points}, {}, {0.02, 1000});
  CHECK(taken.sources[0].data.points.size() < 8000);
  REQUIRE(taken.remarks.size() == 1);
  CHECK(taken.remarks[0].find("0.02") != std::string::npos);
}
