// Thinning and rasters keep their promises: every level within the tolerance, no triangle over a gap, few triangles.
#include "ground/thin.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>
#include <set>

#include "base/error.h"
#include "ground/raster.h"
#include "ground/triangulate.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Raster;
using ground::Vec3;

namespace {

ground::Tin tinOf(const std::vector<Vec3>& points, const ground::Thinned& thinned) {
  ground::TinParts parts;
  parts.points = points;
  parts.triangles = thinned.triangles;
  ground::dropUnusedPoints(parts);
  return ground::Tin(std::move(parts));
}

Raster rolling(std::size_t columns, std::size_t rows) {
  Raster raster;
  raster.columns = columns, raster.rows = rows;
  raster.first = {500, 900};
  raster.columnStep = {2, 0};
  raster.rowStep = {0, -2};
  for (std::size_t r = 0; r < rows; ++r) {
    for (std::size_t c = 0; c < columns; ++c) {
      const double x = static_cast<double>(c), y = static_cast<double>(r);
      raster.levels.push_back(
          static_cast<float>(50 + 4 * std::sin(x / 17) + 3 * std::cos(y / 11) + std::sin((x + y) / 7)));
    }
  }
  return raster;
}

// Greedy insertion as plainly as can be: all points against all triangles in every round.
std::size_t plainGreedyTriangles(const std::vector<Vec3>& points, double tolerance) {
  std::vector<ground::Index> chosen;
  std::set<ground::Index> known;
  const auto extreme = [&](auto&& key) {
    ground::Index best = 0;
    for (ground::Index i = 0; i < points.size(); ++i) {
      if (key(points[i]) > key(points[best])) best = i;
    }
    if (known.insert(best).second) chosen.push_back(best);
  };
  for (const double sx : {-1.0, 1.0}) {
    for (const double sy : {-1.0, 1.0}) extreme([&](const Vec3& p) { return sx * p.x + sy * p.y; });
  }
  while (true) {
    std::vector<ground::Vec2> plans;
    for (const auto i : chosen) plans.push_back(points[i].plan());
    auto made = ground::triangulate(plans, {}, {});
    ground::TinParts parts;
    for (const auto i : chosen) parts.points.push_back(points[i]);
    parts.triangles = made.triangles;
    const std::size_t triangles = made.triangles.size();
    const ground::Tin tin(std::move(parts));
    double worst = 0;
    ground::Index at = 0;
    for (ground::Index i = 0; i < points.size(); ++i) {
      const double error = std::abs(points[i].z - tin.levelAt(points[i].plan()).value_or(points[i].z));
      if (error > worst) worst = error, at = i;
    }
    if (worst <= tolerance) return triangles;
    if (known.insert(at).second) chosen.push_back(at);
  }
}

}  // namespace

TEST_CASE("Guarantee 1: every point lies within the tolerance of the thinned triangles", "[random]") {
  std::mt19937 random(7);
  for (int round = 0; round < 12; ++round) {
    CAPTURE(round);
    std::vector<Vec3> points;
    const auto hills = randomHills(random, 5);
    std::uniform_real_distribution<double> place(0, 200);
    for (int i = 0; i < 3000; ++i) {
      double x = place(random), y = place(random);
      if (round % 3 == 1) x = std::round(x / 5) * 5, y = std::round(y / 5) * 5;  // a lattice, with repeats
      if (round % 3 == 2) x += 412000, y += 6187000;                             // far out
      points.push_back({x, y, hills(std::fmod(x, 1000), std::fmod(y, 1000))});
    }
    const double tolerance = 0.02 * (1 + round);
    const auto thinned = ground::thin(points, {}, tolerance, {});
    CHECK(thinned.greatestError <= tolerance);
    CHECK(thinned.kept.size() < points.size());
    const ground::Tin tin = tinOf(points, thinned);
    double worst = 0;
    std::size_t off = 0;
    for (const Vec3& p : points) {
      const auto level = tin.levelAt(p.plan());
      off += level ? 0 : 1;
      if (level) worst = std::max(worst, std::abs(*level - p.z));
    }
    CHECK(off == 0);
    CHECK(worst <= tolerance * (1 + 1e-6));
  }
}

TEST_CASE("Points on a plane thin to the corners of their hull, required ones stay") {
  std::vector<Vec3> points;
  for (int i = 0; i < 400; ++i) points.push_back({i % 20 * 1.0, i / 20 * 1.0, 3 + 0.1 * (i % 20) - 0.2 * (i / 20)});
  CHECK(ground::thin(points, {}, 1e-6, {}).kept.size() == 4);
  const std::vector<ground::Index> required{105, 210};
  const auto thinned = ground::thin(points, required, 1e-6, {});
  CHECK(thinned.kept.size() == 6);
}

TEST_CASE("Too few points, or all on a line, are kept and give no triangle") {
  const std::vector<Vec3> two{{0, 0, 0}, {1, 1, 1}}, line{{0, 0, 0}, {1, 1, 5}, {2, 2, 0}, {3, 3, 9}};
  CHECK(ground::thin(two, {}, 0.1, {}).kept.size() == 2);
  CHECK(ground::thin(line, {}, 0.1, {}).kept.size() == 4);
  CHECK(ground::thin(line, {}, 0.1, {}).triangles.empty());
}

TEST_CASE("Two levels in one place cannot both be met, and the error tells") {
  std::vector<Vec3> points{{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}, {5, 5, 1}, {5, 5, 3}};
  CHECK(ground::thin(points, {}, 0.01, {}).greatestError == Approx(2));
}

TEST_CASE("Greedy insertion takes no more triangles than the plainest form of it") {
  const Raster raster = rolling(40, 40);
  std::vector<Vec3> points;
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c)
      points.push_back({static_cast<double>(c), -static_cast<double>(r), raster.level(c, r)});
  }
  for (const double tolerance : {0.3, 0.1, 0.05}) {
    const double ours = static_cast<double>(ground::thin(points, {}, tolerance, {}).triangles.size());
    const double plain = static_cast<double>(plainGreedyTriangles(points, tolerance));
    CAPTURE(tolerance, ours, plain);
    CHECK(ours <= 1.1 * plain);
  }
}

TEST_CASE("A raster becomes triangles within the tolerance at every cell, and none over a gap") {
  Raster raster = rolling(150, 120);
  std::mt19937 random(3);
  const auto drop = [&](std::size_t c, std::size_t r) {
    raster.levels[r * raster.columns + c] = std::numeric_limits<float>::quiet_NaN();
  };
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c) {
      const bool lake = std::hypot(static_cast<double>(c) - 70, static_cast<double>(r) - 60) < 20;
      const bool slit = c == 110 && r > 10 && r < 90, corner = c + r < 30;
      if (lake || slit || corner || random() % 900 == 0) drop(c, r);
    }
  }
  for (const double tolerance : {0.2, 0.02}) {
    CAPTURE(tolerance);
    const ground::Tin tin(ground::asTriangles(raster, tolerance, {}));
    double worst = 0;
    std::size_t uncovered = 0, wrong = 0, cells = 0;
    // Inside every square of four neighbouring cells: covered when all have data, not when two or less have.
    for (std::size_t r = 0; r + 1 < raster.rows; ++r) {
      for (std::size_t c = 0; c + 1 < raster.columns; ++c) {
        int with = 0;
        for (const auto& [dc, dr] : {std::pair{0, 0}, {1, 0}, {0, 1}, {1, 1}})
          with += std::isnan(raster.level(c + static_cast<std::size_t>(dc), r + static_cast<std::size_t>(dr))) ? 0 : 1;
        const ground::Vec2 middle = 0.5 * (raster.place(c, r) + raster.place(c + 1, r + 1));
        const bool there = tin.levelAt(middle + ground::Vec2{0.013, 0.007}).has_value();
        if (with == 4) CHECK(there);
        if (with <= 2) CHECK_FALSE(there);
      }
    }
    for (std::size_t r = 0; r < raster.rows; ++r) {
      for (std::size_t c = 0; c < raster.columns; ++c) {
        const auto level = tin.levelAt(raster.place(c, r));
        if (std::isnan(raster.level(c, r))) {
          wrong += level ? 1 : 0;
          continue;
        }
        ++cells;
        if (level) {
          worst = std::max(worst, std::abs(*level - static_cast<double>(raster.level(c, r))));
        } else {
          ++uncovered;
        }
      }
    }
    CHECK(worst <= tolerance * (1 + 1e-6));
    CHECK(wrong == 0);
    CHECK(uncovered < cells / 500);  // cells that hang by a corner only
  }
}

TEST_CASE("A raster mirrored or turned in its grid gives the same ground") {
  const Raster raster = rolling(30, 25);
  const ground::Tin straight(ground::asTriangles(raster, 0.05, {}));
  Raster upward = raster;
  upward.first = raster.place(0, raster.rows - 1);
  upward.rowStep = {0, 2};
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c)
      upward.levels[r * raster.columns + c] = raster.level(c, raster.rows - 1 - r);
  }
  const ground::Tin turned(ground::asTriangles(upward, 0.05, {}));
  CHECK(ground::statistics(turned).planArea == Approx(ground::statistics(straight).planArea));
  CHECK(*turned.levelAt(raster.place(7, 9)) == Approx(*straight.levelAt(raster.place(7, 9))).margin(0.1));
}

TEST_CASE("Sampling a ground gives its own levels at cell centres, and nothing beside it") {
  const auto plane = gridGround(100, 10, [](double x, double y) { return 10 + 0.1 * x - 0.05 * y; });
  const Raster raster = ground::sampled(*plane, 2, {});
  CHECK(raster.columns == 50);
  CHECK(raster.rows == 50);
  for (std::size_t r = 0; r < raster.rows; r += 7) {
    for (std::size_t c = 0; c < raster.columns; c += 7) {
      const auto p = raster.place(c, r);
      CHECK(raster.level(c, r) == Approx(10 + 0.1 * p.x - 0.05 * p.y).margin(1e-5));
    }
  }
  CHECK_THROWS_AS(ground::sampled(*plane, 1e-4, {}), Error);
  Raster none;
  none.columns = none.rows = 2;
  none.levels.assign(4, std::numeric_limits<float>::quiet_NaN());
  CHECK_THROWS_AS(ground::asTriangles(none, 0.1, {}), Error);
}
