// Readers and writers: what goes out comes back, and what is odd is told.
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>

#include "base/error.h"
#include "exchange/dxf.h"
#include "exchange/formats.h"
#include "exchange/geojson.h"
#include "exchange/ground_write.h"
#include "exchange/json_tree.h"
#include "exchange/landxml.h"
#include "exchange/layers.h"
#include "exchange/oddities.h"
#include "exchange/point_list.h"
#include "exchange/text_file.h"
#include "ground/contours.h"
#include "quantity/volume.h"
#include "support/figures.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using exchange::Imported;

namespace {

const plane::Origin kOrigin{412000, 6187000};

std::string messageOf(const std::function<void()>& work) {
  try {
    work();
  } catch (const Error& e) {
    return e.what();
  }
  return "";
}

}  // namespace

TEST_CASE("A ground written as LandXML comes back with the same triangles and levels") {
  const Scratch s;
  std::mt19937 random(3);
  const auto ground = scatteredGround(300, 900, random, randomHills(random, 7));
  exchange::writeWhole(s / "g.xml", exchange::groundToLandXml(*ground, {kOrigin}, "finished \"& <1>"));
  const Imported back = exchange::readLandXml(s / "g.xml");
  REQUIRE(back.models.size() == 1);
  CHECK(back.models[0].triangles.size() == ground->triangles().size());
  CHECK(back.models[0].points.size() == ground->points().size());
  const auto data = exchange::take(back, exchange::guesses(back), kOrigin).sources.at(0).data;
  ground::TinParts parts;
  parts.points = data.modelPoints.flat();
  parts.triangles = data.modelTriangles.flat();
  const ground::Tin again(std::move(parts));
  const auto v = quantity::volumeBetween(*ground, again, {}, {});
  CHECK(v.maxCut + v.maxFill < 1e-5);
  CHECK(v.planArea() == Approx(90000).epsilon(1e-7));
}

TEST_CASE("LandXML units are honoured and unknown ones refused") {
  const Scratch s;
  const auto file = [&](const std::string& unit) {
    return s.file(
        "u.xml",
        "<LandXML><Units>" + unit +
            "</Units><Surfaces><Surface name=\"a\"><Definition surfType=\"TIN\"><Pnts><P id=\"1\">0 0 1</P><P "
            "id=\"2\">0 100 1</P>"
            "<P id=\"3\">100 0 1</P></Pnts><Faces><F>1 3 2</F></Faces></Definition></Surface></Surfaces></LandXML>");
  };
  for (const auto& [unit, factor] : {std::pair<std::string, double>{"<Metric linearUnit=\"meter\"/>", 1},
                                     {"<Imperial linearUnit=\"foot\"/>", 0.3048},
                                     {"<Imperial linearUnit=\"USSurveyFoot\"/>", 1200.0 / 3937}}) {
    CHECK(exchange::readLandXml(file(unit)).bounds().width() == Approx(100 * factor).epsilon(1e-12));
  }
  CHECK(messageOf([&] { exchange::readLandXml(file("<Imperial linearUnit=\"furlong\"/>")); }).find("furlong") !=
        std::string::npos);
}

TEST_CASE("Contours written as GeoJSON and DXF come back at their levels") {
  const Scratch s;
  const auto ground =
      gridGround(100, 40, [](double x, double y) { return 70 + 4 * std::sin(x / 15) + 3 * std::cos(y / 12); });
  const auto lines = ground::contours(*ground, ground::contourLevels(*ground, 1), {});
  exchange::writeWhole(s / "c.geojson", exchange::contoursToGeoJson(lines, {kOrigin}));
  exchange::writeWhole(s / "c.dxf", exchange::contoursToDxf(lines, kOrigin));
  for (const char* name : {"c.geojson", "c.dxf"}) {
    CAPTURE(name);
    const Imported back = exchange::readAny(s / name);
    REQUIRE(back.lines.size() == lines.size());
    for (std::size_t i = 0; i < lines.size(); ++i) {
      for (const auto& p : back.lines[i].vertices) {
        CHECK(p.z == Approx(lines[i].level));
        CHECK(*ground->levelAt({p.x - kOrigin.easting, p.y - kOrigin.northing}) == Approx(p.z).margin(1e-4));
      }
    }
  }
}

TEST_CASE("DXF points, lines and polylines of the model space are read, others counted") {
  const Scratch s;
  const std::string dxf =
      "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n2\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n"
      "0\nPOINT\n8\nSPOT\n10\n10\n20\n20\n30\n30\n"
      "0\nLINE\n8\nEDGE\n10\n0\n20\n0\n30\n1\n11\n10\n21\n0\n31\n2\n"
      "0\nLWPOLYLINE\n8\nCONT\n90\n3\n70\n1\n38\n5\n10\n0\n20\n0\n10\n10\n20\n0\n10\n10\n20\n10\n"
      "0\nPOLYLINE\n8\nBANK\n66\n1\n70\n8\n0\nVERTEX\n8\nBANK\n10\n0\n20\n0\n30\n7\n70\n32\n0\nVERTEX\n8\nBANK\n10\n5\n"
      "20\n5\n30\n8\n70\n32\n0\nSEQEND\n8\nBANK\n"
      "0\nPOLYLINE\n8\nOLD\n66\n1\n70\n0\n30\n9\n0\nVERTEX\n8\nOLD\n10\n0\n20\n0\n0\nVERTEX\n8\nOLD\n10\n5\n20\n5\n0\nS"
      "EQEND\n"
      "0\nPOINT\n8\nTITLE\n67\n1\n10\n1\n20\n1\n30\n1\n"
      "0\nTEXT\n8\nNOTE\n1\nhello\n10\n0\n20\n0\n0\nENDSEC\n0\nEOF\n";
  const Imported read = exchange::readDxf(s.file("d.dxf", dxf));
  constexpr double ft = 0.3048;
  REQUIRE(read.points.size() == 1);
  CHECK(read.points[0].z == Approx(30 * ft));
  CHECK(read.layers.at(read.layerOf(0)) == "SPOT");
  REQUIRE(read.lines.size() == 4);
  CHECK(read.lines[0].vertices[1].z == Approx(2 * ft));
  CHECK(read.lines[1].closed);
  CHECK(read.lines[1].vertices[2].z == Approx(5 * ft));
  CHECK(read.lines[2].vertices[1].z == Approx(8 * ft));
  CHECK(read.lines[3].vertices[1].z == Approx(9 * ft));
  CHECK(read.remarks.size() == 2);
  // A wrong place for CRLF and blanks changes nothing.
  std::string windows;
  for (const char c : dxf) windows += c == '\n' ? std::string("\r\n") : std::string(1, c);
  CHECK(exchange::readDxf(s.file("w.dxf", windows)).lines.size() == 4);
}

TEST_CASE("GeoJSON of every form is read, and coordinates are checked with their line") {
  const Scratch s;
  const Imported all = exchange::readGeoJson(s.file("all.geojson", R"({"type":"FeatureCollection","features":[
    {"type":"Feature","properties":{},"geometry":{"type":"MultiPoint","coordinates":[[1,2,3],[4,5,6]]}},
    {"type":"Feature","properties":{},"geometry":{"type":"MultiLineString","coordinates":[[[0,0,1],[1,1,2]],[[2,2],[3,3,4]]]}},
    {"type":"Feature","properties":{},"geometry":{"type":"MultiPolygon","coordinates":[[[[0,0],[1,0],[1,1],[0,0]]],[[[5,5],[6,5],[6,6],[5,5]]]]}},
    {"type":"Feature","properties":{},"geometry":{"type":"GeometryCollection","geometries":[{"type":"Point","coordinates":[7,8,9]}]}},
    {"type":"Feature","properties":{},"geometry":null}]})"));
  CHECK(all.points.size() == 3);
  CHECK(all.lines.size() == 2);
  CHECK(std::isnan(all.lines[1].vertices[0].z));
  CHECK(all.areas.size() == 2);
  CHECK(messageOf([&] {
          exchange::readGeoJson(s.file("b.geojson", "{\"type\":\"Point\",\n\"coordinates\":[1]}"));
        }).find("b.geojson:2") != std::string::npos);
  CHECK_FALSE(
      messageOf([&] { exchange::readGeoJson(s.file("b.geojson", R"({"type":"Blob","coordinates":[1,2]})")); }).empty());
}

TEST_CASE("JSON is read with the line of every value, and refused when broken, too deep or too large") {
  const auto tree = exchange::parseJson("{\n\"a\": [1,\n2.5e1, \"x\\u00e9\"],\n\"b\": {\"c\": true}}", "t.json");
  CHECK(tree.find("a")->items[1].number == 25);
  CHECK(tree.find("a")->items[1].line == 3);
  CHECK(tree.find("a")->items[2].text == "x\xc3\xa9");
  CHECK(tree.find("b")->find("c")->boolean);
  CHECK(tree.find("nothing") == nullptr);
  for (const std::string& bad : {std::string("{"), std::string("[1,]"), std::string("nul"), std::string("[1] x"),
                                 std::string("[1e999]"), std::string(200, '[') + std::string(200, ']')}) {
    CAPTURE(bad);
    CHECK(messageOf([&] { exchange::parseJson(bad, "t.json"); }).find("t.json:1") != std::string::npos);
  }
}

TEST_CASE("Columns are guessed by name in any order, or by the count of numbers") {
  const auto guess = [](const std::string& text) { return exchange::guessColumns(text); };
  const auto named = guess("RL;Point No;Y;X;Description\n1;2;3;4;5\n");
  REQUIRE(named);
  CHECK(named->level == 0);
  CHECK(named->number == 1);
  CHECK(named->northing == 2);
  CHECK(named->easting == 3);
  CHECK(named->code == 4);
  CHECK(named->header);
  CHECK(named->form.delimiter == ';');
  const auto bare = guess("17\t100.0\t200.0\t5.5\tTREE\n");
  REQUIRE(bare);
  CHECK(bare->easting == 1);
  CHECK(bare->code == 4);
  CHECK(guess("1.0,2.0,3.0\n")->easting == 0);
  CHECK_FALSE(guess("some words only\n"));
  CHECK_FALSE(guess("a,b,c,d\n1,2,3,4\n"));
  CHECK(exchange::firstRows("a,\"b,c\"\n1,2\n", {}, 5).at(0).at(1) == "b,c");
}

TEST_CASE("Feet scale all three coordinates, and bad rows are problems with their lines") {
  const Scratch s;
  exchange::ReadRules feet;
  feet.units = "ft";
  const Imported read =
      exchange::readAny(s.file("p.csv", "# a remark\n1,100,200,10\n2,x,200,10\n\n3,100\n4,1,2,inf\n5,0,0,0\n"), feet);
  REQUIRE(read.points.size() == 2);
  CHECK(read.points[0].x == Approx(30.48));
  CHECK(read.points[0].z == Approx(3.048));
  REQUIRE(read.problems.size() == 3);
  CHECK(read.problems[0].line == 3);
  CHECK(read.problems[1].line == 5);
  CHECK(read.problems[2].line == 6);
  CHECK_THROWS_AS(exchange::requireClean(read), Error);
}

TEST_CASE("Formats are told by the ending, or by how the file begins") {
  const Scratch s;
  using exchange::Format;
  CHECK(exchange::formatOf("a.CSV") == Format::points);
  CHECK(exchange::formatOf("b.GeoJSON") == Format::geoJson);
  CHECK(exchange::formatOf(s.file("noname", "  <LandXML/>")) == Format::landXml);
  CHECK(exchange::formatOf(s.file("noname2", "{\"type\":1}")) == Format::geoJson);
  CHECK(exchange::formatOf(demo("tolwin.inselberg")) == Format::project);
  CHECK_THROWS_AS(exchange::formatOf(s.file("odd", "???")), Error);
  CHECK_THROWS_AS(exchange::readAny(demo("tolwin.inselberg")), Error);
}

TEST_CASE("Oddities of sound data are told, and plain data has none") {
  Imported plain;
  plain.layers = {"survey"};
  for (int i = 0; i < 30; ++i) plain.points.push_back({1000.0 + 7 * (i % 6), 2000.0 + 7 * (i / 6), 50 + 0.1 * i});
  CHECK(exchange::oddities(plain, {}).empty());
  const auto told = [](const Imported& i, const std::string& word, std::optional<plane::Box> site = {}) {
    for (const std::string& text : exchange::oddities(i, site)) {
      if (text.find(word) != std::string::npos) return true;
    }
    return false;
  };
  Imported zeros = plain;
  zeros.points[3].z = 0;
  CHECK(told(zeros, "exactly zero"));
  Imported repeated = plain;
  repeated.points.push_back(plain.points[5]);
  CHECK(told(repeated, "in the place of another"));
  Imported stray = plain;
  stray.points.push_back({900000, 2000, 50});
  CHECK(told(stray, "stretches"));
  Imported spike = plain;
  spike.points[7].z = 9999;
  CHECK(told(spike, "span"));
  const plane::Box there{0, 500000, 100, 500100};
  CHECK(told(plain, "from the site", there));
  CHECK_FALSE(told(plain, "exchanged", there));
  Imported swapped;
  swapped.layers = {"survey"};
  for (const auto& p : plain.points) swapped.points.push_back({p.y + 6e6, p.x + 4e5, p.z});
  CHECK(told(swapped, "exchanged", plane::Box{401000, 6002000, 401050, 6002050}));
  Imported lines = plain;
  lines.lines.push_back({{{1000, 2000, std::nan("")}, {1005, 2005, std::nan("")}}, false, 0, 1});
  CHECK(told(lines, "no level"));
}

TEST_CASE("Reading a long file can be stopped", "[cancel]") {
  const Scratch s;
  std::string csv;
  for (int i = 0; i < 20000; ++i)
    csv += std::to_string(i) + "," + std::to_string(i % 200) + "," + std::to_string(i / 200) + ",5\n";
  const auto ground = gridGround(100, 80, [](double x, double y) { return x * y; });
  const std::string xml = exchange::groundToLandXml(*ground, {kOrigin}, "g");
  const auto lines = ground::contours(*ground, ground::contourLevels(*ground, 1), {});
  std::string dxf = exchange::contoursToDxf(lines, kOrigin);
  const Progress stop([] { return true; });
  for (const std::string& file : {s.file("p.csv", csv), s.file("x.xml", xml), s.file("d.dxf", dxf)}) {
    CAPTURE(file);
    CHECK_THROWS_AS(exchange::readAny(file, {}, stop), Cancelled);
    CHECK_NOTHROW(exchange::readAny(file));
  }
}

TEST_CASE("A ground written over a file keeps its permissions, and a read-only one stays as it is") {
  namespace fs = std::filesystem;
  const Scratch s;
  const auto ground = gridGround(20, 4, [](double x, double y) { return x * y / 50; });
  for (const std::string ending : {"xml", "gpkg", "tif", "asc"}) {
    CAPTURE(ending);
    const std::string path = s / ("g." + ending);
    exchange::writeGround(*ground, {kOrigin}, "g", path, 1, {});
    fs::permissions(path, fs::perms::owner_read | fs::perms::owner_write | fs::perms::group_read);
    exchange::writeGround(*ground, {kOrigin}, "g", path, 1, {});
    CHECK(fs::status(path).permissions() == (fs::perms::owner_read | fs::perms::owner_write | fs::perms::group_read));
    CHECK(exchange::readAny(path).bounds().width() == Approx(20).margin(1.001));
  }
  std::size_t files = 0;
  for ([[maybe_unused]] const auto& e : fs::directory_iterator(s.path())) ++files;
  CHECK(files == 4);
  if (::geteuid() == 0) return;  // to root nothing is read-only
  fs::permissions(s / "g.tif", fs::perms::owner_read);
  CHECK_THROWS_AS(exchange::writeGround(*ground, {kOrigin}, "g", s / "g.tif", 1, {}), Error);
}
