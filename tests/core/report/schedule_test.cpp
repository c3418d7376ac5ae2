// The schedule: what adds up in every grouping, in regions and without.
#include "report/schedule.h"

#include <catch2/catch.hpp>

#include <cmath>

#include "exchange/design_file.h"
#include "support/stages.h"

using namespace inselberg;
using namespace inselberg::testing;
using report::ScheduleBy;
using report::ScheduleItem;

namespace {

constexpr const char* kWorks = R"("works": [
    {"kind": "pad", "name": "Silo pad", "phase": "1", "outline": [[40, 60], [90, 60], [90, 110], [40, 110]], "level": 52},
    {"kind": "pad", "name": "Yard", "phase": "2", "material": "clay", "outline": [[85, 70], [150, 80], [145, 120], [95, 125]],
     "level": 50.5, "fall_percent": 5, "bearing_deg": 90, "section": []},
    {"kind": "level_area", "name": "Sump", "phase": "1", "outline": [[20, 20], [30, 20], [30, 30], [20, 30]], "level": 47}])";

project::EvaluationPtr site(unsigned seed, bool regions) {
  std::mt19937 random(seed);
  return staged(
             siteWith(
                 std::string("{") + kWorks +
                     (regions ? R"(, "regions": [{"name": "West", "outline": [[0, 0], [80, 0], [80, 200], [0, 200]]}]})"
                              : "}"),
                 randomHills(random, 8)))
      .evaluation;
}

std::vector<ScheduleItem> itemsOf(const project::EvaluationPtr& e) {
  return report::scheduleOf(*e, report::quantitiesOf(*e, {}), {});
}

double totalOf(const report::Table& table, const char* title) {
  for (std::size_t c = 0; c < table.columns.size(); ++c) {
    if (table.columns[c].title == title) return table.total(c);
  }
  FAIL(title);
  return 0;
}

}  // namespace

TEST_CASE("Every grouping of the schedule comes to the same, with regions and without") {
  for (unsigned seed = 1; seed < 5; ++seed) {
    const auto whole = itemsOf(site(seed, false)), parts = itemsOf(site(seed, true));
    CHECK(whole.size() == 3);
    CHECK(parts.size() > 3);
    const report::Table plain = report::scheduleTable(whole, ScheduleBy::works);
    for (const auto& items : {whole, parts}) {
      for (const report::ScheduleGrouping& grouping : report::kScheduleGroupings) {
        CAPTURE(seed, grouping.word, items.size());
        const report::Table table = report::scheduleTable(items, grouping.by);
        for (const char* title : {"Cut m³", "Fill m³", "Cut less fill m³", "Plan area m²", "Surface m²"})
          CHECK(totalOf(table, title) == Approx(totalOf(plain, title)).epsilon(1e-9).margin(1e-6));
      }
    }
  }
}

TEST_CASE("The schedule groups by what the works say, and areas are those of the closed forms") {
  const auto items = itemsOf(site(2, true));
  const report::Table phases = report::scheduleTable(items, ScheduleBy::phase);
  REQUIRE(phases.rows.size() == 2);
  CHECK(phases.rows[0][0].text == "1");
  CHECK(phases.rows[0][1].number == 2.0);  // works, though the silo pad lies in two regions
  CHECK(report::scheduleTable(items, ScheduleBy::material).rows[0][0].text == report::kUnnamed);
  const report::Table regions = report::scheduleTable(items, ScheduleBy::region);
  REQUIRE(regions.rows.size() == 2);
  CHECK(regions.rows[0][0].text == "West");
  CHECK(regions.rows[1][0].text == report::kElsewhere);
  for (const ScheduleItem& item : items) {
    if (item.works == "Sump") {
      CHECK(item.planArea == Approx(100));
      CHECK(item.surfaceArea == Approx(100));
      CHECK(item.region == "West");
    }
    // A plane of 5 %, without batters.
    if (item.works == "Yard") CHECK(item.surfaceArea == Approx(item.planArea * std::sqrt(1 + 0.05 * 0.05)));
  }
}

TEST_CASE("Tables are sorted by numbers and by letters, either way") {
  report::Table table{
      "t", {{"Name"}, {"m³"}}, {{std::string("b"), 2.0}, {std::string("a"), 10.0}, {std::string("c"), 1.0}}};
  table.sort(1, true);
  CHECK(table.rows[0][0].text == "a");
  CHECK(table.rows[2][0].text == "c");
  table.sort(0, false);
  CHECK(table.rows[1][0].text == "b");
}

TEST_CASE("Phases go out in the design file and come in again") {
  const auto e = site(3, false);
  const std::string text = exchange::designOf(*e->project);
  CHECK(text.find("\"phase\": \"2\"") != std::string::npos);
  for (const auto& w : e->project->ground(e->project->finished())->works)
    CHECK(w->phase == (w->name == "Yard" ? "2" : "1"));
}
