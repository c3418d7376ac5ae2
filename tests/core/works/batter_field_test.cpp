#include "works/batter_field.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Ring;
using plane::Vec2;
using works::BatterField;
using works::CornerStyle;

namespace {

// The field of one batter slope round a level crest, to a reach.
BatterField levelField(const Ring& ring, double height, double run, CornerStyle corners, double reach) {
  works::Crests crests;
  std::vector<plane::Vec3> outline;
  for (const Vec2 p : ring) outline.push_back({p.x, p.y, height});
  crests.lines = {works::around(outline, {{0, {{}, works::batter(run, run)}}})};
  crests.corners = corners;
  works::FieldRequest request;
  request.crests = &crests;
  request.reach = reach;
  request.radius = [reach](Vec2) { return reach; };
  BatterField field(request, {});
  field.lay({nullptr, {}, [ring](Vec2 p) { return plane::contains(ring, p); }}, {});
  return field;
}

double distanceTo(const Ring& ring, Vec2 p) {
  double best = 1e300;
  for (std::size_t i = 0; i < ring.size(); ++i)
    best = std::min(best, plane::nearestOnSegment(p, ring[i], ring[(i + 1) % ring.size()]).distance);
  return best;
}

}  // namespace

TEST_CASE("Round fields fall with the distance from the crest, up to the chord error", "[random]") {
  for (unsigned seed = 0; seed < 12; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const Ring ring = randomStar(random, {0, 0}, 5, 30, 4 + static_cast<int>(random() % 40));
    const double run = 1 + static_cast<double>(seed % 4), reach = 25;
    const BatterField field = levelField(ring, 10, run, CornerStyle::round, reach);
    std::uniform_real_distribution<double> place(-60, 60);
    int tried = 0;
    for (int i = 0; i < 1500; ++i) {
      const Vec2 p{place(random), place(random)};
      const double d = distanceTo(ring, p);
      const auto t = field.tin().locate(p);
      if (plane::contains(ring, p)) {
        if (d > 1e-5) CHECK(t == ground::kNone);
        continue;
      }
      if (d > reach * 0.995) continue;
      REQUIRE(t != ground::kNone);
      // Chords lie inside the cone by up to a millimetre in plan.
      CHECK(field.height(t, p) <= 10 - d / run + 1e-7);
      CHECK(field.height(t, p) >= 10 - (d + 1.1e-3) / run - 1e-7);
      ++tried;
    }
    CHECK(tried > 100);
  }
}

TEST_CASE("Square corners are the two planes prolonged to their mitre") {
  const Ring square = rectangle(0, 0, 10, 10);
  const BatterField field = levelField(square, 5, 2, CornerStyle::square, 8);
  for (const Vec2 p : {Vec2{-3, -3}, {-3, -1}, {13, 15}, {12, -4}}) {
    const double d = std::max({-p.x, -p.y, p.x - 10, p.y - 10});
    const auto t = field.tin().locate(p);
    REQUIRE(t != ground::kNone);
    CHECK(field.height(t, p) == Approx(5 - d / 2));
  }
  CHECK(ground::statistics(field.tin()).planArea == Approx(26.0 * 26 - 100));
}

TEST_CASE("At an inward corner the higher of the two batters governs, with an exact valley between") {
  const Ring angle{{0, 0}, {20, 0}, {20, 10}, {10, 10}, {10, 20}, {0, 20}};
  const BatterField field = levelField(angle, 6, 1.5, CornerStyle::round, 6);
  for (const Vec2 p : {Vec2{11, 13}, {14, 11}, {12, 12}, {10.5, 10.5}}) {
    const auto t = field.tin().locate(p);
    REQUIRE(t != ground::kNone);
    CHECK(field.height(t, p) == Approx(6 - std::min(p.x - 10, p.y - 10) / 1.5));
  }
}

TEST_CASE("Every side along the crest is known as such, once") {
  std::mt19937 random(9);
  const Ring ring = randomStar(random, {0, 0}, 10, 30, 14);
  const BatterField field = levelField(ring, 3, 2, CornerStyle::round, 15);
  double along = 0, length = 0;
  for (ground::Index t = 0; t < field.tin().triangles().size(); ++t) {
    const auto& c = field.tin().triangles()[t];
    for (int k = 0; k < 3; ++k) {
      if (field.isCrest(t, k))
        along += plane::distance(field.tin().plan(c[ground::next(k)]), field.tin().plan(c[ground::before(k)]));
    }
  }
  for (std::size_t i = 0; i < ring.size(); ++i) length += plane::distance(ring[i], ring[(i + 1) % ring.size()]);
  CHECK(along == Approx(length).epsilon(1e-9));
}
