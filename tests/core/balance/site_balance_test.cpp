// One shift of several works, with stages and materials.
#include "balance/site_balance.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "project/ties.h"
#include "support/stages.h"

using namespace inselberg;
using namespace inselberg::testing;
using balance::SiteBalance;
using balance::SiteWish;

namespace {

const Level kSlope = [](double x, double y) { return 50 + 0.04 * x + 0.01 * y; };

std::string twoPads(double a, double b) {
  return R"("works": [{"kind": "pad", "name": "A", "outline": [[40, 60], [80, 60], [80, 100], [40, 100]], "level": )" +
         std::to_string(a) +
         R"(}, {"kind": "pad", "name": "B", "outline": [[120, 60], [160, 60], [160, 90], [120, 90]], "level": )" +
         std::to_string(b) + "}]";
}
const std::string kCommon = R"(, "materials": [{"name": "common", "bulking": 0.2, "shrinkage": 0.1, "usable": 0.9}])";

double levelOf(const project::Project& project, WorksId id) {
  return works::levelOf(project.works(id).works->shape).value();
}

}  // namespace

TEST_CASE("One shift of two pads evens out the site by its report, with shrinkage and strip") {
  for (const double wanted : {0.0, 400.0, -250.0}) {
    CAPTURE(wanted);
    const auto site = siteWith("{" + twoPads(54, 57) + kCommon +
                                   R"(, "strips": [{"name": "Topsoil", "under": ["A", "B"], "margin": 2, "depth": 0.3}],
      "undercuts": [{"name": "Soft", "under": ["B"], "depth": 0.5, "material": "common"}]})",
                               kSlope);
    const auto list = balance::worksToShift(*site);
    REQUIRE(list.size() == 2);
    const SiteBalance found = balance::balanceSite(site, {list, wanted, 1e-4, 10}, {});
    REQUIRE(found.closed);
    CHECK(found.evaluations < 16);
    const auto again = staged(found.project).quantities.whole;
    CHECK(again.surplus() == Approx(wanted).margin(1.0001e-4 * std::max(again.available, again.needed)));
    CHECK(again.surplus() == Approx(found.figures.surplus()).epsilon(1e-9).margin(1e-6));
    for (const WorksId id : list)
      CHECK(levelOf(*found.project, id) == Approx(levelOf(*site, id) + found.shift).margin(1e-9));
  }
}

TEST_CASE("On level land a pad in walls is evened out at the closed form's level") {
  // Two equal pads one metre apart in level between walls: raised by x, cut is (1 - x) a and fill x a, so that
  // (1 - x) u (1 - s) = x.
  const std::string design = R"({"works": [
    {"kind": "pad", "name": "A", "outline": [[40, 60], [80, 60], [80, 100], [40, 100]], "level": 50, "section": []},
    {"kind": "pad", "name": "B", "outline": [[120, 60], [160, 60], [160, 100], [120, 100]], "level": 49, "section": [],
     "material": "common"}])" +
                             kCommon + "}";
  const auto site = siteWith(design, [](double, double) { return 50.0; });
  const SiteBalance found = balance::balanceSite(site, {balance::worksToShift(*site), 0, 1e-7, 10}, {});
  REQUIRE(found.closed);
  CHECK(found.shift == Approx(0.81 / 1.81).epsilon(1e-6));
}

TEST_CASE("What follows another moves with it once, and what cannot be reached is told") {
  auto site = siteWith("{" + twoPads(54, 57) + "}", kSlope);
  const auto both = balance::worksToShift(*site);
  site = project::withTie(*site, both.at(1), both.at(0));
  const auto list = balance::worksToShift(*site);
  REQUIRE(list == std::vector{both[0]});
  works::Works held = *site->works(both[0]).works;
  held.held = true;
  CHECK(balance::worksToShift(*project::withWorks(*site, held)).empty());
  const SiteBalance found = balance::balanceSite(site, {list, 0, 1e-4, 10}, {});
  REQUIRE(found.closed);
  CHECK(levelOf(*found.project, both[1]) - levelOf(*found.project, both[0]) == Approx(3).margin(1e-9));

  const SiteBalance far = balance::balanceSite(site, {list, 1e7, 1e-4, 3}, {});
  CHECK_FALSE(far.closed);
  CHECK(far.shift == -3);
  const SiteBalance other = balance::balanceSite(site, {list, -1e7, 1e-4, 3}, {});
  CHECK_FALSE(other.closed);
  CHECK(other.shift == 3);
  CHECK_THROWS_AS(balance::balanceSite(site, {list, 0, 1e-4, 10}, Progress([] { return true; })), Cancelled);
}

TEST_CASE("A site that is even already stays as it is") {
  const auto site = siteWith("{" + twoPads(54, 57) + "}", kSlope);
  const SiteWish wish{balance::worksToShift(*site), 0, 1e-3, 10};
  const SiteBalance found = balance::balanceSite(site, wish, {});
  const SiteBalance again = balance::balanceSite(found.project, wish, {});
  CHECK(again.evaluations == 1);
  CHECK(again.shift == 0);
  CHECK(again.project == found.project);
}
