// A patched ground is the ground built anew.
#include "ground/patch.h"

#include <catch2/catch.hpp>
#include <random>
#include <set>

#include "plane/static_index.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using plane::Vec3;

namespace {

// Its triangles by the places of their corners, each with the sides that are breaklines.
std::set<std::array<double, 12>> trianglesOf(const ground::Tin& tin) {
  std::set<std::array<double, 12>> all;
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    int first = 0;
    for (int k = 1; k < 3; ++k) {
      const auto &a = c[static_cast<std::size_t>(k)], &b = c[static_cast<std::size_t>(first)];
      if (std::pair(a.x, a.y) < std::pair(b.x, b.y)) first = k;
    }
    std::array<double, 12> key{};
    for (int k = 0; k < 3; ++k) {
      const auto i = static_cast<std::size_t>((first + k) % 3), at = static_cast<std::size_t>(4 * k);
      key[at] = c[i].x, key[at + 1] = c[i].y, key[at + 2] = c[i].z;
      key[at + 3] = tin.isBreak(t, static_cast<int>(i)) ? 1 : 0;
    }
    all.insert(key);
  }
  return all;
}

void checkNeighbours(const ground::Tin& tin) {
  REQUIRE(tin.neighbours().size() == tin.triangles().size());
  const auto found = ground::findNeighbours(tin.points().size(), tin.triangles());
  CHECK(std::equal(found.begin(), found.end(), tin.neighbours().begin()));
}

ground::BuildInput survey(std::mt19937& random, int points) {
  std::uniform_real_distribution<double> place(0, 100), level(0, 5);
  ground::BuildInput input;
  for (int i = 0; i < points; ++i) input.points.push_back({place(random), place(random), level(random)});
  for (int row = 0; row < 4; ++row) {
    ground::Breakline line;
    for (int k = 0; k < 15; ++k)
      line.vertices.push_back({10 + 5.3 * k, 20 + 20.0 * row + 2 * std::sin(k * 0.9 + row), level(random)});
    input.breaklines.push_back(std::move(line));
  }
  return input;
}

// Whether from a to b nothing of the input lies near, but for what is passed over.
auto clearOf(const ground::BuildInput& input, std::size_t point, std::size_t line) {
  return [&input, point, line](Vec2 a, Vec2 b) {
    for (std::size_t i = 0; i < input.points.size(); ++i) {
      if (i != point && plane::nearestOnSegment(input.points[i].plan(), a, b).distance < 2e-3) return false;
    }
    for (std::size_t i = 0; i < input.breaklines.size(); ++i) {
      const auto& v = input.breaklines[i].vertices;
      for (std::size_t k = 0; i != line && k + 1 < v.size(); ++k) {
        if (plane::distanceBetween({a, b}, {v[k].plan(), v[k + 1].plan()}) < 2e-3) return false;
      }
    }
    return true;
  };
}

constexpr std::size_t kNoOne = ~std::size_t{0};

}  // namespace

TEST_CASE("A point moved, added or taken out: the patched ground is the one built anew", "[random]") {
  std::mt19937 random(41);
  std::uniform_real_distribution<double> place(15, 85), level(0, 5);
  int patchedCount = 0;
  for (int turn = 0; turn < 150; ++turn) {
    const auto before = survey(random, 300);
    const auto tin = ground::build(before, {}, {}, {}).tin;
    auto after = before;
    const std::size_t i = random() % before.points.size();
    const Vec3 to{place(random), place(random), level(random)};
    ground::ChangedPart part;
    if (turn % 3 == 0) {
      after.points[i] = to, part.before = {before.points[i]}, part.after = {to};
    } else if (turn % 3 == 1) {
      after.points.push_back(to), part.after = {to};
    } else {
      after.points.erase(after.points.begin() + static_cast<std::ptrdiff_t>(i)), part.before = {before.points[i]};
    }
    const auto patch = ground::patched(*tin, std::span(&part, 1), clearOf(before, i, kNoOne), {});
    if (!patch) continue;  // at the border
    ++patchedCount;
    CHECK(trianglesOf(*patch->tin) == trianglesOf(*ground::build(after, {}, {}, {}).tin));
    checkNeighbours(*patch->tin);
    CHECK(patch->facets->triangles().size() < 80);
  }
  CHECK(patchedCount > 100);
}

TEST_CASE("Vertices of a line moved, one added, the line as a whole new: the patched ground is the one built anew",
          "[random]") {
  std::mt19937 random(42);
  std::uniform_real_distribution<double> shift(-2, 2);
  int patchedCount = 0;
  for (int turn = 0; turn < 150; ++turn) {
    const auto before = survey(random, 300);
    const auto tin = ground::build(before, {}, {}, {}).tin;
    auto after = before;
    auto& line = after.breaklines[1].vertices;
    const std::size_t first = 1 + random() % 8, count = 1 + random() % 3;
    ground::ChangedPart part{{}, {}, true, true};
    const auto cut = [&](const std::vector<Vec3>& v, std::size_t n) {
      return std::vector<Vec3>(v.begin() + static_cast<std::ptrdiff_t>(first) - 1,
                               v.begin() + static_cast<std::ptrdiff_t>(first + n) + 1);
    };
    if (turn % 3 == 0) {  // a vertex into a side
      line.insert(line.begin() + static_cast<std::ptrdiff_t>(first),
                  {0.5 * (line[first - 1].x + line[first].x), line[first].y + 0.5 * shift(random), 3});
      part.before = cut(before.breaklines[1].vertices, 0), part.after = cut(line, 1);
    } else if (turn % 3 == 1) {
      for (std::size_t k = first; k < first + count; ++k) line[k].x += shift(random), line[k].y += shift(random);
      part.before = cut(before.breaklines[1].vertices, count), part.after = cut(line, count);
    } else {
      for (Vec3& v : line) v.y += 3;
      part = {before.breaklines[1].vertices, line, false, false};
    }
    const auto patch = ground::patched(*tin, std::span(&part, 1), clearOf(before, kNoOne, 1), {});
    if (!patch) continue;
    ++patchedCount;
    CHECK(trianglesOf(*patch->tin) == trianglesOf(*ground::build(after, {}, {}, {}).tin));
    checkNeighbours(*patch->tin);
  }
  CHECK(patchedCount > 90);
}

TEST_CASE("What is more than a patch is left to be built") {
  std::mt19937 random(43);
  const auto input = survey(random, 300);
  const auto tin = ground::build(input, {}, {}, {}).tin;
  const auto asked = [&](ground::ChangedPart part, std::size_t point = kNoOne, std::size_t line = kNoOne) {
    return ground::patched(*tin, std::span(&part, 1), clearOf(input, point, line), {}).has_value();
  };
  const Vec3 inside{50, 51, 3};
  CHECK(asked({{}, {inside}, false, false}));
  CHECK_FALSE(asked({{}, {{500, 51, 3}}, false, false}));              // no ground there
  CHECK_FALSE(asked({{{50, 50.5, 1}}, {inside}, false, false}));       // no vertex of the ground
  CHECK_FALSE(asked({{}, {{50, 51, 3}, {50, 10, 3}}, false, false}));  // across other lines
  const auto& line = input.breaklines[0].vertices;
  CHECK_FALSE(asked({{line[3]}, {}, false, false}, kNoOne, 0));                    // a vertex that a line still has
  CHECK_FALSE(asked({{}, {{40, 50, 1}, {60, 52, 1}, {60, 50, 1}, {40, 52, 1}}}));  // across itself
  const auto triangle = gridGround(1, 1, [](double, double) { return 0.0; });      // all of it is border
  ground::ChangedPart point{{}, {{0.5, 0.4, 3}}, false, false};
  CHECK_FALSE(ground::patched(*triangle, std::span(&point, 1), [](Vec2, Vec2) { return true; }, {}).has_value());
}
