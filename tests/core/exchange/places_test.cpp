// Where things lie and how high, to the last digit: a reader that moves, turns, mirrors or scales is no reader.
#include <catch2/catch.hpp>
#include <numbers>

#include "exchange/formats.h"
#include "exchange/layers.h"
#include "support/figures.h"

using namespace inselberg;
using namespace inselberg::testing;
using exchange::Imported;
using plane::Vec3;

namespace {

using Tags = std::vector<std::pair<int, std::string>>;

std::string entity(const std::string& kind, const Tags& tags) {
  std::string text = "0\n" + kind + "\n8\nA\n";
  for (const auto& [code, value] : tags) text += std::to_string(code) + "\n" + value + "\n";
  return text;
}

Imported drawing(const std::string& entities, const std::string& blocks = {}, const std::string& units = {}) {
  const Scratch s;
  std::string text = "0\nSECTION\n2\nHEADER\n";
  if (!units.empty()) text += "9\n$INSUNITS\n70\n" + units + "\n";
  text += "0\nENDSEC\n0\nSECTION\n2\nBLOCKS\n" + blocks + "0\nENDSEC\n0\nSECTION\n2\nENTITIES\n" + entities;
  return exchange::readAny(s.file("d.dxf", text + "0\nENDSEC\n0\nEOF\n"));
}

void checkNear(const Vec3& is, const Vec3& wanted) {
  CAPTURE(is.x, is.y, is.z);
  CHECK(is.x == Approx(wanted.x).margin(1e-9));
  CHECK(is.y == Approx(wanted.y).margin(1e-9));
  CHECK(is.z == Approx(wanted.z).margin(1e-9));
}

const std::string kBlock =
    "0\nBLOCK\n8\n0\n2\nMARK\n70\n0\n10\n500\n20\n-30\n30\n10\n" +
    entity("POINT", {{10, "501"}, {20, "-28"}, {30, "13"}}) +
    entity("LINE", {{10, "500"}, {20, "-30"}, {30, "10"}, {11, "503"}, {21, "-30"}, {31, "11"}}) + "0\nENDBLK\n";

}  // namespace

TEST_CASE("A block stands where it is inserted: off its base, scaled, turned, in rows and columns") {
  const Imported plain = drawing(entity("INSERT", {{2, "MARK"}, {10, "1000"}, {20, "2000"}, {30, "50"}}), kBlock);
  checkNear(plain.points.at(0), {1001, 2002, 53});
  checkNear(plain.lines.at(0).vertices[1], {1003, 2000, 51});
  const Imported turned = drawing(
      entity("INSERT",
             {{2, "MARK"}, {10, "1000"}, {20, "2000"}, {30, "50"}, {41, "2"}, {42, "3"}, {43, "4"}, {50, "90"}}),
      kBlock);
  checkNear(turned.points.at(0), {1000 - 6, 2000 + 2, 50 + 12});
  checkNear(turned.lines.at(0).vertices[1], {1000, 2006, 54});
  const Imported rows = drawing(
      entity("INSERT",
             {{2, "MARK"}, {10, "0"}, {20, "0"}, {30, "0"}, {50, "90"}, {70, "2"}, {71, "3"}, {44, "10"}, {45, "20"}}),
      kBlock);
  REQUIRE(rows.points.size() == 6);
  std::vector<Vec3> wanted;
  for (int row = 0; row < 3; ++row) {
    for (int column = 0; column < 2; ++column) wanted.push_back({-2.0 - 20 * row, 1.0 + 10 * column, 3});
  }
  for (std::size_t i = 0; i < 6; ++i) checkNear(rows.points[i], wanted[i]);
}

TEST_CASE("Units of a drawing scale places and levels alike") {
  const std::string point = entity("POINT", {{10, "1500"}, {20, "2500"}, {30, "3500"}});
  for (const auto& [code, factor] : {std::pair<std::string, double>{"4", 0.001},
                                     {"5", 0.01},
                                     {"6", 1},
                                     {"2", 0.3048},
                                     {"21", 1200.0 / 3937},
                                     {"1", 0.0254}}) {
    CAPTURE(code);
    checkNear(drawing(point, {}, code).points.at(0), {1500 * factor, 2500 * factor, 3500 * factor});
  }
}

TEST_CASE("Arcs, bulges and ellipses bend to the side they are drawn on") {
  // A bulge above zero runs counter-clockwise: to the right of the way from its start to its end.
  for (const double sign : {1.0, -1.0}) {
    const Imported bulge = drawing(entity(
        "LWPOLYLINE",
        {{90, "2"}, {70, "0"}, {38, "7"}, {10, "0"}, {20, "0"}, {42, sign > 0 ? "1" : "-1"}, {10, "10"}, {20, "0"}}));
    const auto& v = bulge.lines.at(0).vertices;
    REQUIRE(v.size() > 10);
    checkNear(v.front(), {0, 0, 7});
    checkNear(v.back(), {10, 0, 7});
    for (const Vec3& p : v) {
      CHECK(-sign * p.y >= -1e-9);
      CHECK(std::hypot(p.x - 5, p.y) == Approx(5));
    }
  }
  const Imported arc = drawing(entity("ARC", {{10, "10"}, {20, "20"}, {30, "5"}, {40, "4"}, {50, "350"}, {51, "80"}}));
  const auto& v = arc.lines.at(0).vertices;
  const double degree = std::numbers::pi / 180;
  checkNear(v.front(), {10 + 4 * std::cos(350 * degree), 20 + 4 * std::sin(350 * degree), 5});
  checkNear(v.back(), {10 + 4 * std::cos(80 * degree), 20 + 4 * std::sin(80 * degree), 5});
  for (const Vec3& p : v) {
    const double angle = std::remainder(std::atan2(p.y - 20, p.x - 10) - 35 * degree, 2 * std::numbers::pi);
    CHECK(std::abs(angle) <= 45 * degree + 1e-9);
  }
  const Imported ellipse = drawing(entity("ELLIPSE", {{10, "1"},
                                                      {20, "2"},
                                                      {30, "3"},
                                                      {11, "0"},
                                                      {21, "6"},
                                                      {31, "0"},
                                                      {40, "0.5"},
                                                      {41, "0"},
                                                      {42, "1.5707963267948966"}}));
  checkNear(ellipse.lines.at(0).vertices.front(), {1, 8, 3});
  checkNear(ellipse.lines.at(0).vertices.back(), {1 - 3, 2, 3});
}

TEST_CASE("What is drawn on the back of the plan is mirrored, and polylines keep their own levels") {
  const Imported circle = drawing(
      entity("CIRCLE", {{10, "-150"}, {20, "50"}, {30, "-77"}, {40, "20"}, {210, "0"}, {220, "0"}, {230, "-1"}}));
  for (const Vec3& p : circle.lines.at(0).vertices) {
    CHECK(std::hypot(p.x - 150, p.y - 50) == Approx(20));
    CHECK(p.z == Approx(77));
  }
  const std::string vertices = entity("VERTEX", {{10, "1"}, {20, "2"}, {30, "3"}, {70, "32"}}) +
                               entity("VERTEX", {{10, "4"}, {20, "5"}, {30, "6.5"}, {70, "32"}}) + entity("SEQEND", {});
  const Imported space = drawing(entity("POLYLINE", {{66, "1"}, {70, "8"}, {30, "99"}}) + vertices);
  checkNear(space.lines.at(0).vertices[0], {1, 2, 3});
  checkNear(space.lines.at(0).vertices[1], {4, 5, 6.5});
  const Imported flat = drawing(entity("POLYLINE", {{66, "1"}, {70, "0"}, {30, "99"}}) + vertices);
  checkNear(flat.lines.at(0).vertices[1], {4, 5, 99});
}

TEST_CASE("Faces keep their corners, and written levels stand at their texts") {
  const Imported face = drawing(entity("3DFACE", {{10, "0"},
                                                  {20, "1"},
                                                  {30, "2"},
                                                  {11, "10"},
                                                  {21, "1"},
                                                  {31, "3"},
                                                  {12, "10"},
                                                  {22, "9"},
                                                  {32, "4"},
                                                  {13, "0"},
                                                  {23, "9"},
                                                  {33, "5"}}));
  const auto& model = face.models.at(0);
  REQUIRE(model.triangles.size() == 2);
  const Vec3 corners[] = {{0, 1, 2}, {10, 1, 3}, {10, 9, 4}, {0, 9, 5}};
  for (const auto& t : model.triangles) {
    for (const auto i : t) {
      const Vec3& p = model.points[i];
      CHECK(std::any_of(std::begin(corners), std::end(corners), [&](const Vec3& c) { return c == p; }));
    }
  }
  const Imported text = drawing(entity("TEXT", {{10, "12"}, {20, "34"}, {30, "0"}, {40, "1"}, {1, "RL 56.78"}}));
  checkNear(text.points.at(0), {12, 34, 56.78});
}

TEST_CASE("Every format has easting, northing and level in their places") {
  const Scratch s;
  const Vec3 wanted{412001.25, 6187002.5, 73.125};
  const auto first = [](const Imported& f) { return f.points.at(0); };
  checkNear(first(exchange::readAny(s.file("a.csv",
                                           "P,Northing,Easting,Level,Code\n1,6187002.5,412001.25,73.125,GL\n"
                                           "2,6187003,412002,74,GL\n"))),
            wanted);
  checkNear(first(exchange::readAny(
                s.file("a.geojson", R"({"type":"MultiPoint","coordinates":[[412001.25,6187002.5,73.125],[1,2,3]]})"))),
            wanted);
  checkNear(
      first(exchange::readAny(s.file(
          "a.xml",
          "<LandXML><Units><Metric linearUnit=\"meter\"/></Units><CgPoints><CgPoint name=\"1\">6187002.5 412001.25 "
          "73.125</CgPoint><CgPoint name=\"2\">1 2 3</CgPoint></CgPoints></LandXML>"))),
      wanted);
  checkNear(first(exchange::readAny(s.file(
                "l.xml",
                "<LandXML><Units><Metric linearUnit=\"meter\"/></Units><Surfaces><Surface name=\"a\"><SourceData>"
                "<DataPoints><PntList3D>6187002.5 412001.25 73.125 1 2 3</PntList3D></DataPoints></SourceData>"
                "</Surface></Surfaces></LandXML>"))),
            wanted);
  for (const std::string ending : {"shp", "gpkg", "xlsx", "ods"}) {
    CAPTURE(ending);
    const bool table = ending == "xlsx" || ending == "ods";
    const std::string from = table ? s / "a.csv" : s / "a.geojson";
    REQUIRE(std::system(("ogr2ogr '" + s / "b." + ending + "' '" + from + "' -dim 3 2>/dev/null || ogr2ogr '" +
                         s / "b." + ending + "' '" + from + "'")
                            .c_str()) == 0);
    const Imported f = exchange::readAny(s / "b." + ending);
    REQUIRE_FALSE(f.points.empty());
    checkNear(f.points[0], wanted);
  }
}

TEST_CASE("Cells of a raster stand for their middles, the first row is the northernmost, and no data is none") {
  const Scratch s;
  s.file("g.asc",
         "ncols 3\nnrows 2\nxllcorner 1000\nyllcorner 2000\ncellsize 10\nNODATA_value -9999\n1 2 3\n4 -9999 6\n");
  REQUIRE(std::system(("gdal_translate -q '" + s / "g.asc" + "' '" + s / "g.tif" + "'").c_str()) == 0);
  for (const std::string ending : {"asc", "tif"}) {
    CAPTURE(ending);
    const Imported f = exchange::readAny(s / "g." + ending);
    const ground::Raster& r = f.rasters.at(0).raster;
    const auto at = [&](double x, double y) {
      for (std::size_t row = 0; row < r.rows; ++row) {
        for (std::size_t c = 0; c < r.columns; ++c) {
          if (plane::distance(r.place(c, row), {x, y}) < 1e-6) return static_cast<double>(r.level(c, row));
        }
      }
      return -1.0;
    };
    CHECK(at(1005, 2015) == 1);
    CHECK(at(1025, 2015) == 3);
    CHECK(at(1005, 2005) == 4);
    CHECK(std::isnan(at(1015, 2005)));
    CHECK(at(1025, 2005) == 6);
  }
}

TEST_CASE("A limit keeps what lies inside, cuts lines at its sides with their levels, and nothing else") {
  Imported f;
  f.layers = {"A"};
  f.points = {{5, 5, 1}, {15, 5, 2}, {5, 15, 3}};
  f.lines.push_back({{{-10, 5, 0}, {30, 5, 40}}, false, 0, 1});
  f.lines.push_back({{{2, 2, 7}, {8, 2, 7}, {8, 8, 7}, {2, 8, 7}}, true, 0, 2});
  f.lines.push_back({{{11, 0, 7}, {11, 9, 7}}, false, 0, 3});
  plane::Polygon limit{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}, {{{4, 4.5}, {4, 5.5}, {6, 5.5}, {6, 4.5}}}};
  exchange::limitTo(f, limit);
  CHECK(f.points.empty());
  REQUIRE(f.lines.size() == 3);
  checkNear(f.lines[0].vertices.front(), {0, 5, 10});
  checkNear(f.lines[0].vertices.back(), {4, 5, 14});
  checkNear(f.lines[1].vertices.front(), {6, 5, 16});
  checkNear(f.lines[1].vertices.back(), {10, 5, 20});
  CHECK(f.lines[2].closed);
}
