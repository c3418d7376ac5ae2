// Which writing is a level, and what it belongs to.
#include "exchange/spot_levels.h"

#include <catch2/catch.hpp>

using namespace inselberg;
using exchange::Imported;
using exchange::SpotLevel;

namespace {

SpotLevel spot(double x, double y, double level, bool decimals = true) {
  SpotLevel s;
  s.at = {x, y, 0};
  s.height = 1, s.width = 4;
  s.level = level;
  s.rounding = 0.005;
  s.hasDecimals = decimals;
  return s;
}

Imported withPoints(std::vector<plane::Vec3> points) {
  Imported out;
  out.layers = {"a"};
  for (const auto& p : points) {
    out.points.push_back(p);
    out.pointLayers.push_back(0);
    out.pointLines.push_back(1);
    out.numbers.emplace_back();
    out.codes.emplace_back();
  }
  return out;
}

}  // namespace

TEST_CASE("A text is a level when it is a number and nothing else but its mark and unit") {
  const auto level = [](const char* text) { return exchange::spotLevelOf(text); };
  CHECK(level("101.25")->level == 101.25);
  CHECK(level("101,25")->level == 101.25);
  CHECK(level(" +3.5 ")->level == 3.5);
  CHECK(level("-0.40")->level == -0.4);
  CHECK(level("RL 72.1")->level == 72.1);
  CHECK(level("EL=72.10 m")->level == 72.1);
  CHECK(level("72")->level == 72);
  CHECK_FALSE(level("72")->decimals);
  CHECK(level("72.10")->rounding == Approx(0.005));
  for (const char* word :
       {"", "LOT 12", "12A", "1.2.3", "1:500", "12/3", "2024-05-01", "R2.5", "abc", "-", "1e5", "12345678901234567890"})
    CHECK_FALSE(level(word));
}

TEST_CASE("Attributes and columns hold levels by their names") {
  for (const char* name : {"LEVEL", "elev", "Elevation", "RL", "z", "level_m", "elev_m", "Contour"}) {
    CAPTURE(name);
    CHECK(exchange::isLevelName(name));
  }
  for (const char* name : {"NAME", "LENGTH", "m", "ID", "HZ", ""}) {
    CAPTURE(name);
    CHECK_FALSE(exchange::isLevelName(name));
  }
  const exchange::Attributes attributes{{"NO", "7"}, {"LEVEL", "not yet"}, {"ELEV", "70.5"}};
  CHECK(exchange::levelAttribute(attributes)->level == 70.5);
  CHECK(exchange::attributeValue(attributes, {"ID", "NO"}) == "7");
  CHECK(exchange::attributeValue(attributes, {"CODE"}).empty());
}

TEST_CASE("A written level goes to the nearest point without one, labels one that has it, or is a point itself") {
  Imported out = withPoints({{0, 0, 0}, {20, 0, 55.5}, {40, 0, 12}});
  exchange::settleSpotLevels({spot(0.5, 0.5, 50), spot(20.5, 0.5, 55.5), spot(40.5, 0.5, 60), spot(100, 0, 70)}, out);
  REQUIRE(out.points.size() == 5);
  CHECK(out.points[0].z == 50);
  CHECK(out.points[1].z == 55.5);
  CHECK(out.points[2].z == 12);  // another level than the one written: both stay
  CHECK(out.points[3] == plane::Vec3{40.5, 0.5, 60});
  CHECK(out.points[4] == plane::Vec3{100, 0, 70});
  CHECK(out.numbers.size() == out.points.size());
  CHECK(out.pointLayers.size() == out.points.size());
}

TEST_CASE("A point takes one level only, from the nearest text") {
  Imported out = withPoints({{0, 0, 0}});
  exchange::settleSpotLevels({spot(2, 0, 51), spot(0.5, 0, 50)}, out);
  CHECK(out.points.at(0).z == 50);
  CHECK(out.points.size() == 2);
}

TEST_CASE("The label of a contour is no point, on another level it is") {
  Imported out = withPoints({});
  out.lines.push_back({{{0, 0, 70}, {100, 0, 70}}, false, 0, 1});
  exchange::settleSpotLevels({spot(50, 0.5, 70), spot(50, 0.5, 71), spot(50, 30, 70)}, out);
  CHECK(out.points.size() == 2);
}

TEST_CASE("Whole numbers are levels only among levels with decimals") {
  Imported lots = withPoints({});
  exchange::settleSpotLevels({spot(0, 0, 12, false), spot(50, 0, 13, false), spot(100, 0, 14.5)}, lots);
  CHECK(lots.points.size() == 1);
  Imported levels = withPoints({});
  exchange::settleSpotLevels({spot(0, 0, 12, false), spot(50, 0, 13.2), spot(100, 0, 14.5)}, levels);
  CHECK(levels.points.size() == 3);
}

TEST_CASE("A text of a million characters is no level, and takes no time") {
  for (const std::string& text :
       {std::string(1'000'000, '7'), "RL" + std::string(1'000'000, ' ') + "12.5", std::string(1'000'000, ' ') + "x"})
    CHECK_FALSE(exchange::spotLevelOf(text));
  CHECK(exchange::spotLevelOf(std::string(1'000'000, ' ') + "12.5")->digits == 4);
}
