// Long work can be stopped at every question it asks, and asks more than once.
#include <atomic>
#include <catch2/catch.hpp>

#include "balance/level_balance.h"
#include "exchange/coordinate_system.h"
#include "exchange/dxf.h"
#include "exchange/formats.h"
#include "exchange/ground_write.h"
#include "exchange/layers.h"
#include "ground/check.h"
#include "ground/clip.h"
#include "ground/contours.h"
#include "ground/raster.h"
#include "ground/stamp.h"
#include "ground/thin.h"
#include "project/evaluate.h"
#include "quantity/combine.h"
#include "quantity/volume.h"
#include "support/figures.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// Runs the work once to count its questions, then stops it at a good number of them in turn.
void stopsEverywhere(const std::string& name, const std::function<void(const Progress&)>& work, long least = 2) {
  CAPTURE(name);
  std::atomic<long> asked{0};
  work(Progress([&] {
    ++asked;
    return false;
  }));
  const long all = asked;
  CAPTURE(all);
  REQUIRE(all >= least);
  const long step = std::max(1L, all / 25);
  for (long at = 1; at <= all; at += step) {
    CAPTURE(at);
    asked = 0;
    CHECK_THROWS_AS(work(Progress([&] { return ++asked >= at; })), Cancelled);
  }
}

}  // namespace

TEST_CASE("Building, checking, cutting and measuring grounds stop at every question") {
  std::mt19937 random(2);
  const Level level = randomHills(random, 6);
  ground::BuildInput input;
  std::uniform_real_distribution<double> place(0, 300);
  for (int i = 0; i < 20'000; ++i) {
    const double x = place(random), y = place(random);
    input.points.push_back({x, y, level(x, y)});
  }
  for (int i = 0; i < 600; ++i) {
    const double x = place(random), y = place(random);
    input.breaklines.push_back({{{x, y, level(x, y)}, {x + 5, y + 3, level(x, y) + 0.1}}});
  }
  input.boundaries.push_back({randomStar(random, {150, 150}, 100, 140, 40), {}});
  stopsEverywhere(
      "build", [&](const Progress& p) { ground::build(input, {}, {}, p); }, 10);
  const auto a = ground::build(input, {}, {}, {}).tin;
  input.points[0].z += 1;
  const auto b = ground::build({input.points, {}, {}, {}}, {}, {}, {}).tin;
  stopsEverywhere(
      "check", [&](const Progress& p) { ground::check(*b, input, {}, {}, p); }, 4);
  stopsEverywhere(
      "volume", [&](const Progress& p) { quantity::volumeBetween(*a, *b, {}, p); }, 4);
  stopsEverywhere(
      "volume in a region",
      [&](const Progress& p) {
        quantity::volumeBetween(*a, *b, {{randomStar(random, {150, 150}, 60, 90, 12), {}}}, p);
      },
      4);
  stopsEverywhere(
      "contours", [&](const Progress& p) { ground::contours(*b, ground::contourLevels(*b, 0.05), p); }, 4);
  stopsEverywhere(
      "stamp", [&](const Progress& p) { ground::stamp(*b, *a, p); }, 3);
  stopsEverywhere(
      "keep", [&](const Progress& p) { ground::keepInside(*b, input.boundaries, p); }, 2);
  stopsEverywhere(
      "combine", [&](const Progress& p) { quantity::combined(*a, *b, quantity::Combine::lower, p); }, 3);
  stopsEverywhere(
      "thin", [&](const Progress& p) { ground::thin(input.points, {}, 0.01, p); }, 8);
  stopsEverywhere(
      "sample", [&](const Progress& p) { ground::sampled(*b, 0.5, p); }, 2);
}

TEST_CASE("Placing, balancing and evaluating stop at every question") {
  std::mt19937 random(5);
  const auto ground = scatteredGround(200, 4000, random, randomHills(random, 6));
  works::Pad pad{randomStar(random, {100, 100}, 20, 35, 60), 52, {}};
  stopsEverywhere(
      "place", [&](const Progress& p) { works::place(pad, *ground, {}, p); }, 4);
  const balance::CostAt cost = [&](double z) { return balance::costAtLevel(pad, z, *ground, {}, {}); };
  stopsEverywhere(
      "balance", [&](const Progress& p) { balance::balanceLevel(cost, 52, 0, 100, 0, p); }, 3);
  stopsEverywhere(
      "curve", [&](const Progress& p) { balance::levelCurve(cost, 49, 55, 5, p); }, 5);
  const auto project = everything(1);
  stopsEverywhere(
      "evaluate",
      [&](const Progress& p) {
        project::Cache cache;
        project::evaluate(project, cache, p);
      },
      20);
}

TEST_CASE("Readers and what makes sources of files stop at every question") {
  const Scratch s;
  std::mt19937 random(6);
  const auto tin = scatteredGround(300, 12'000, random, randomHills(random, 6));
  for (const std::string ending : {"csv", "dxf", "xml", "tif", "asc", "gpkg"}) {
    const std::string path = s / "g." + ending;
    exchange::writeGround(*tin, {{412000, 6187000}}, "g", path, 0.5, {});
    stopsEverywhere("read " + ending, [&](const Progress& p) { exchange::readAny(path, {}, p); });
  }
  const auto raster = exchange::readAny(s / "g.tif");
  stopsEverywhere(
      "take",
      [&](const Progress& p) { exchange::take(raster, exchange::guesses(raster), exchange::originFor(raster), {}, p); },
      4);
  const auto points = exchange::readAny(s / "g.csv");
  stopsEverywhere("reproject", [&](const Progress& p) {
    auto moved = points;
    exchange::reproject(moved, exchange::requireCoordinateSystem("EPSG:32755"),
                        exchange::requireCoordinateSystem("EPSG:32756"), p);
  });
}
