// Coordinate systems: found by code, and positions moved against closed forms.
#include "exchange/coordinate_system.h"

#include <catch2/catch.hpp>
#include <numbers>

#include "base/error.h"
#include "exchange/formats.h"
#include "exchange/gis.h"
#include "exchange/oddities.h"
#include "support/figures.h"

using namespace inselberg;
using namespace inselberg::testing;
using exchange::Imported;
using exchange::requireCoordinateSystem;

namespace {

Imported pointsAt(std::vector<plane::Vec3> points) {
  Imported imported;
  imported.file = "p.csv";
  imported.layers = {"p"};
  imported.points = std::move(points);
  return imported;
}

// The length of the meridian from the equator, by Simpson's rule over the ellipsoid of WGS 84.
double meridian(double degrees) {
  constexpr double kAxis = 6378137, kFlat = 1 / 298.257223563, kE2 = kFlat * (2 - kFlat);
  constexpr int kParts = 2000;
  const double phi = degrees * std::numbers::pi / 180, step = phi / kParts;
  double sum = 0;
  for (int i = 0; i <= kParts; ++i) {
    const double weight = i == 0 || i == kParts ? 1 : i % 2 ? 4 : 2;
    sum += weight * std::pow(1 - kE2 * std::pow(std::sin(i * step), 2), -1.5);
  }
  return kAxis * (1 - kE2) * sum * step / 3;
}

// A raster of the new system's plane z = 50 + dx / 100 - dy / 250 about the place, as it stands in the old system.
Imported slopingRaster(std::size_t cells, double cell, plane::Vec2 first, const char* system, const char* target) {
  Imported imported = pointsAt({});
  imported.rasters.resize(1);
  ground::Raster& raster = imported.rasters[0].raster;
  raster.columns = cells, raster.rows = cells;
  raster.first = first, raster.columnStep = {cell, 0}, raster.rowStep = {0, -cell};
  std::vector<plane::Vec3> places;
  for (std::size_t r = 0; r < cells; ++r) {
    for (std::size_t c = 0; c < cells; ++c) places.push_back({raster.place(c, r).x, raster.place(c, r).y, 0});
  }
  Imported moved = pointsAt(places);
  exchange::reproject(moved, requireCoordinateSystem(system), requireCoordinateSystem(target));
  const plane::Vec2 about = moved.points.front().plan();
  for (const auto& p : moved.points)
    raster.levels.push_back(static_cast<float>(50 + (p.x - about.x) / 100 - (p.y - about.y) / 250));
  return imported;
}

double worstAgainst(const ground::Raster& raster, plane::Vec2 about) {
  double worst = 0;
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c) {
      if (std::isnan(raster.level(c, r))) continue;
      const plane::Vec2 d = raster.place(c, r) - about;
      worst = std::max(worst, std::abs(raster.level(c, r) - (50 + d.x / 100 - d.y / 250)));
    }
  }
  return worst;
}

plane::Vec2 movedPlace(plane::Vec2 p, const char* from, const char* to) {
  Imported one = pointsAt({{p.x, p.y, 0}});
  exchange::reproject(one, requireCoordinateSystem(from), requireCoordinateSystem(to));
  return one.points[0].plan();
}

}  // namespace

TEST_CASE("Coordinate systems are known by code, URN and description, and found by words") {
  const auto utm = requireCoordinateSystem("EPSG:32755");
  CHECK(utm.name == "WGS 84 / UTM zone 55S");
  CHECK_FALSE(utm.degrees);
  CHECK(utm.metresPerUnit == 1);
  CHECK(requireCoordinateSystem("32755").definition == "EPSG:32755");
  CHECK(requireCoordinateSystem("urn:ogc:def:crs:EPSG::32755").definition == "EPSG:32755");
  CHECK(requireCoordinateSystem("EPSG:4326").degrees);
  CHECK(requireCoordinateSystem("EPSG:2227").metresPerUnit == Approx(1200.0 / 3937).epsilon(1e-12));
  // A compound system is its horizontal part; heights alone are none.
  CHECK(requireCoordinateSystem("EPSG:5555").definition == "EPSG:25832");
  CHECK_FALSE(exchange::coordinateSystem("EPSG:5783"));
  CHECK_FALSE(exchange::coordinateSystem("EPSG:999999"));
  CHECK_FALSE(exchange::coordinateSystem("oxen"));
  CHECK_THROWS_AS(requireCoordinateSystem(""), Error);

  const auto found = exchange::findCoordinateSystems("utm  ZONE 55s", 10);
  REQUIRE_FALSE(found.empty());
  for (const auto& s : found) CHECK(s.name.find("zone 55S") != std::string::npos);
  CHECK(exchange::findCoordinateSystems("32755", 10).front().definition == "EPSG:32755");
  CHECK(exchange::findCoordinateSystems("", 7).size() == 7);
  CHECK(exchange::findCoordinateSystems("oxen", 7).empty());
  // Words are looked for where words begin, and names with all of them come first: 55 is not in 32550.
  const auto zones = exchange::findCoordinateSystems("utm 55", 200);
  CHECK(zones.front().name.find("zone 55") != std::string::npos);
  CHECK(std::none_of(zones.begin(), zones.end(), [](const auto& s) { return s.definition == "EPSG:32550"; }));
  // Used at a place, the most local first; the world's own zone is among them.
  const auto local = exchange::findCoordinateSystems("", 500, plane::Vec2{147, -34});
  REQUIRE(local.size() > 10);
  REQUIRE(local.size() < 500);
  CHECK(std::any_of(local.begin(), local.end(), [](const auto& s) { return s.definition == "EPSG:32755"; }));
  CHECK(std::none_of(local.begin(), local.end(), [](const auto& s) { return s.definition == "EPSG:25832"; }));
  CHECK(local.back().degrees);
  CHECK_FALSE(local.front().degrees);
}

TEST_CASE("On the central meridian of a zone, easting is 500 km and northing the meridian's length") {
  for (const double latitude : {-60.0, -34.25, -0.5}) {
    Imported one = pointsAt({{147, latitude, 71.5}});
    exchange::reproject(one, requireCoordinateSystem("EPSG:4326"), requireCoordinateSystem("EPSG:32755"));
    CHECK(one.points[0].x == Approx(500000).margin(1e-4));
    CHECK(one.points[0].y == Approx(10'000'000 + 0.9996 * meridian(latitude)).margin(1e-4));
    CHECK(one.points[0].z == 71.5);
    CHECK(one.system == "EPSG:32755");
    CHECK(one.remarks.size() == 1);
  }
}

TEST_CASE("Positions of a system in feet are metres along its axes, and the way there and back is none") {
  // The same projection once in US survey feet and once in metres.
  Imported all = pointsAt({{1'850'000, 640'000, 3}, {1'851'234.5, 641'111.25, 4}});
  all.lines.push_back({{{1'850'010, 640'020, 1}, {1'850'500, 640'700, 2}}, false, 0, 1});
  all.areas.push_back({{{{1'850'000, 640'000}, {1'850'100, 640'000}, {1'850'100, 640'100}}, {}}, 0, 1});
  all.models.push_back({{{1'850'000, 640'000, 1}, {1'850'001, 640'000, 1}, {1'850'000, 640'001, 1}}, {{0, 1, 2}}, 0});
  const Imported before = all;
  const auto feet = requireCoordinateSystem("EPSG:2227"), metres = requireCoordinateSystem("EPSG:26943");
  const auto same = [&](double margin) {
    for (std::size_t i = 0; i < 2; ++i) {
      CHECK(plane::distance(all.points[i].plan(), before.points[i].plan()) < margin);
      CHECK(plane::distance(all.lines[0].vertices[i].plan(), before.lines[0].vertices[i].plan()) < margin);
      CHECK(plane::distance(all.areas[0].polygon.outer[i], before.areas[0].polygon.outer[i]) < margin);
      CHECK(plane::distance(all.models[0].points[i].plan(), before.models[0].points[i].plan()) < margin);
      CHECK(all.points[i].z == before.points[i].z);
    }
  };
  exchange::reproject(all, feet, metres);
  same(2e-4);  // the false easting in feet is rounded to a thousandth
  exchange::reproject(all, metres, requireCoordinateSystem("EPSG:26910"));
  CHECK(plane::distance(all.points[0].plan(), before.points[0].plan()) > 1e5);
  exchange::reproject(all, requireCoordinateSystem("EPSG:26910"), feet);
  same(2e-4);  // the false easting in feet is rounded to a thousandth
}

TEST_CASE("A raster that stays even keeps its cells, and one that does not is sampled anew on cells of the same area") {
  const char* from = "EPSG:25832";
  const char* to = "EPSG:25833";
  const plane::Vec2 first{690'000, 5'600'000};
  SECTION("a site") {
    Imported all = slopingRaster(40, 5, first, from, to);
    const std::vector<float> levels = all.rasters[0].raster.levels;
    exchange::reproject(all, requireCoordinateSystem(from), requireCoordinateSystem(to));
    const ground::Raster& raster = all.rasters[0].raster;
    CHECK(raster.levels == levels);
    CHECK(plane::distance(raster.first, movedPlace(first, from, to)) < 0.02);
    CHECK(worstAgainst(raster, movedPlace(first, from, to)) < 5e-4);
  }
  SECTION("a country") {
    Imported all = slopingRaster(200, 100, first, from, to);
    const plane::Vec2 hole = all.rasters[0].raster.place(100, 100);
    all.rasters[0].raster.levels[100 * 200 + 100] = std::numeric_limits<float>::quiet_NaN();
    exchange::reproject(all, requireCoordinateSystem(from), requireCoordinateSystem(to));
    const ground::Raster& raster = all.rasters[0].raster;
    CHECK(raster.rowStep.x == 0);
    CHECK(raster.columnStep.x == Approx(100).epsilon(0.01));
    CHECK(worstAgainst(raster, movedPlace(first, from, to)) < 0.6);  // half a cell beside the border and the hole
    const auto figures = ground::figures(raster);
    CHECK(static_cast<double>(figures.cells) == Approx(200.0 * 200).epsilon(0.01));
    const plane::Vec2 d = movedPlace(hole, from, to) - raster.first;
    CHECK(std::isnan(raster.level(static_cast<std::size_t>(std::lround(d.x / raster.columnStep.x)),
                                  static_cast<std::size_t>(std::lround(d.y / raster.rowStep.y)))));
    CHECK(all.remarks.front().find("sampled anew") != std::string::npos);
  }
}

TEST_CASE("A place that has none in the other system is told, and nothing hangs or is made up") {
  Imported beyond = pointsAt({{0, 95, 1}});
  CHECK_THROWS_AS(
      exchange::reproject(beyond, requireCoordinateSystem("EPSG:4326"), requireCoordinateSystem("EPSG:32755")), Error);
  Imported many = pointsAt(std::vector<plane::Vec3>(100'000, {147, -34, 1}));
  const Progress stop([] { return true; }, [](std::string_view, double) {});
  CHECK_THROWS_AS(
      exchange::reproject(many, requireCoordinateSystem("EPSG:4326"), requireCoordinateSystem("EPSG:32755"), stop),
      Cancelled);
}

TEST_CASE("Files tell their coordinate system, and are moved into the one asked for") {
  const Scratch s;
  const std::string geojson = s.file("p.geojson", R"({"type":"FeatureCollection",
    "crs":{"type":"name","properties":{"name":"urn:ogc:def:crs:EPSG::32755"}},"features":[
    {"type":"Feature","properties":{},"geometry":{"type":"Point","coordinates":[500000,6200000,71]}}]})");
  CHECK(exchange::readAny(geojson).system == "EPSG:32755");
  exchange::ReadRules rules;
  rules.target = "EPSG:28355";
  const Imported moved = exchange::readAny(geojson, rules);
  CHECK(moved.system == "EPSG:28355");
  CHECK(moved.ownSystem == "EPSG:32755");
  // Numbers that cannot be degrees are none, whatever the file says.
  const Imported wrong = exchange::readAny(s.file("w.geojson", R"({"type":"Point","coordinates":[500000,6200000,71],
    "crs":{"type":"name","properties":{"name":"EPSG:4326"}}})"));
  CHECK(wrong.system.empty());
  CHECK(wrong.points.at(0).x == 500000);
  REQUIRE(wrong.remarks.size() == 1);
  CHECK(wrong.remarks[0].find("cannot be") != std::string::npos);
  // Degrees without a word of it: what the standard says, once there is somewhere to go.
  const std::string degrees = s.file("d.geojson", R"({"type":"Point","coordinates":[147.0,-34.0,71]})");
  CHECK(exchange::readAny(degrees).system.empty());
  rules.target = "EPSG:32755";
  CHECK(exchange::readAny(degrees, rules).points.at(0).x == Approx(500000).margin(1e-4));
  // Columns named longitude and latitude tell it too.
  const std::string named = s.file("n.csv", "lat,lon,height\n-34.0,147.0,71\n-34.0,147.01,72\n-34.01,147.0,71.5\n");
  CHECK(exchange::readAny(named).system == "EPSG:4326");
  CHECK(exchange::readAny(named, rules).points.at(0).x == Approx(500000).margin(1e-4));
  // A plain point list tells nothing; the caller may.
  const std::string list = s.file("p.csv", "1,147.0,-34.0,71\n2,147.01,-34.0,72\n3,147.0,-34.01,71.5\n");
  CHECK(exchange::readAny(list, rules).points.at(0).x == 147);
  rules.system = "EPSG:4326";
  rules.units = "ft";
  const Imported told = exchange::readAny(list, rules);
  CHECK(told.points.at(0).x == Approx(500000).margin(1e-4));
  CHECK(told.points.at(0).z == Approx(71 * 0.3048));
  rules.target.clear();
  const auto odd = exchange::oddities(exchange::readAny(list, rules), std::nullopt);
  REQUIRE(odd.size() == 1);
  CHECK(odd[0].find("EPSG:32755") != std::string::npos);
  // A system in feet says the unit of a file that does not.
  rules.units.clear();
  rules.system = "EPSG:2227";
  const Imported feet = exchange::readAny(
      s.file("f.csv", "1,6000000,2000000,100\n2,6000100,2000000,100\n3,6000000,2000100,100\n"), rules);
  CHECK(feet.units == "us-ft");
  CHECK(feet.points.at(0).x == Approx(6'000'000 * 1200.0 / 3937));
  CHECK(feet.points.at(0).z == Approx(100 * 1200.0 / 3937));
  rules.system = "oxen";
  CHECK_THROWS_AS(exchange::readAny(list, rules), Error);
  // An ASCII grid has it beside itself.
  s.file("g.prj", "EPSG:32755");
  CHECK(exchange::readAny(
            s.file("g.asc", "ncols 2\nnrows 2\nxllcorner 500000\nyllcorner 6200000\ncellsize 10\n1 2\n3 4\n"))
            .system == "EPSG:32755");
  // A description that is no system of ours leaves the numbers alone.
  s.file("g.prj", "LOCAL_CS[\"site\"]");
  const Imported own = exchange::readAny(s / "g.asc");
  CHECK(own.system.empty());
  CHECK(own.remarks.size() == 1);
}
