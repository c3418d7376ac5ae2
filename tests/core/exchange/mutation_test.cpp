// Files with random faults: a reader gives what it could read or an Error that names the file; it never crashes, and
// what it gives can be built from.
#include <catch2/catch.hpp>
#include <filesystem>

#include "base/error.h"
#include "exchange/formats.h"
#include "exchange/ground_write.h"
#include "exchange/landxml.h"
#include "exchange/layers.h"
#include "exchange/oddities.h"
#include "exchange/text_file.h"
#include "ground/contours.h"
#include "project/build_sources.h"
#include "support/figures.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

std::string mutated(std::string text, std::mt19937& random) {
  const std::vector<std::string> tokens{"nan",
                                        "1e400",
                                        "-",
                                        "\"",
                                        "<",
                                        "}",
                                        "]",
                                        ",",
                                        "0",
                                        "\n",
                                        std::string(1, '\0'),
                                        "99999999999999999999",
                                        "\xff\xfe",
                                        "&amp;",
                                        "\\u0000",
                                        "i=\"1\""};
  const int faults = 1 + static_cast<int>(random() % 4);
  for (int i = 0; i < faults && !text.empty(); ++i) {
    const std::size_t at = random() % text.size(), length = std::min<std::size_t>(random() % 20, text.size() - at);
    switch (random() % 5) {
      case 0:
        text[at] = static_cast<char>(random());
        break;
      case 1:
        text.erase(at, length);
        break;
      case 2:
        text.insert(at, text.substr(at, length));
        break;
      case 3:
        text.insert(at, tokens[random() % tokens.size()]);
        break;
      default:
        text.resize(at);
    }
  }
  return text;
}

// What was read can be looked over, taken and built from, or is refused.
void builds(const exchange::Imported& imported) {
  exchange::oddities(imported, {});
  const plane::Origin origin = exchange::originFor(imported);
  const auto taken = exchange::take(imported, exchange::guesses(imported), origin);
  std::vector<project::SourcePtr> sources;
  std::vector<const project::Source*> plain;
  for (const auto& source : taken.sources) {
    for (const auto& t : source.data.modelTriangles) {
      for (const auto v : t) REQUIRE(v < source.data.modelPoints.size());
    }
    sources.push_back(project::makeSource(SourceId{1}, {source.name, ""}, source.data));
    plain.push_back(sources.back().get());
  }
  if (imported.points.size() < 500) project::buildFromSources(plain, {}, {}, origin, {});
}

void survives(const std::string& name, const std::string& good, int rounds) {
  const Scratch s;
  std::mt19937 random(17);
  int refused = 0, read = 0;
  for (int i = 0; i < rounds; ++i) {
    CAPTURE(name, i);
    const std::string path = s.file(name, mutated(good, random));
    try {
      const exchange::Imported imported = exchange::readAny(path);
      ++read;
      builds(imported);
    } catch (const Error& e) {
      ++refused;
      CHECK_FALSE(e.hint().empty());
    }
  }
  CHECK(refused > rounds / 20);
  CHECK(read > 0);
}

}  // namespace

TEST_CASE("Point lists with random faults", "[random]") {
  std::string csv = "number,easting,northing,level,code\n";
  std::mt19937 random(1);
  for (int i = 0; i < 60; ++i)
    csv += std::to_string(i) + "," + std::to_string(random() % 100) + "." + std::to_string(random() % 10) + "," +
           std::to_string(random() % 100) + ",5." + std::to_string(i) + ",\"G,L\"\n";
  survives("p.csv", csv, 600);
}

TEST_CASE("GeoJSON with random faults", "[random]") {
  survives("g.geojson", contentOf(demo("silo-pad.geojson")), 400);
  survives(
      "g.geojson",
      R"({"type":"FeatureCollection","features":[{"type":"Feature","properties":{"a":[1,2,{"b":null}]},"geometry":{"type":"MultiLineString","coordinates":[[[0,0,1],[9,1,2],[5,7,3]],[[2,2],[3,3,4]]]}},{"type":"Feature","geometry":{"type":"Point","coordinates":[1,8,3]}}]})",
      600);
}

TEST_CASE("Drawings with random faults", "[random]") {
  const auto ground = gridGround(30, 6, [](double x, double y) { return 0.3 * x + 0.1 * y; });
  const auto lines = ground::contours(*ground, ground::contourLevels(*ground, 2), {});
  survives("d.dxf", exchange::contoursToDxf(lines, {}), 600);
}

TEST_CASE("LandXML with random faults", "[random]") {
  survives("x.xml", exchange::groundToLandXml(*gridGround(30, 4, [](double x, double y) { return x * y; }), {}, "s"),
           600);
}

TEST_CASE("What fuzzing stumbled over is read and built from, or refused with what to do") {
  std::size_t files = 0;
  for (const auto& entry : std::filesystem::directory_iterator(INSELBERG_SOURCE_DIR "/tests/data/faulty")) {
    CAPTURE(entry.path().string());
    ++files;
    try {
      builds(exchange::readAny(entry.path().string()));
    } catch (const Error& e) {
      CHECK_FALSE(e.hint().empty());
    }
  }
  CHECK(files > 0);
}
