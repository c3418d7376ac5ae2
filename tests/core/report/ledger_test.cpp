#include "report/ledger.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "base/quantity.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

project::EvaluationPtr evaluated(double level) {
  project::SourceData data;
  data.points = {{0, 0, 10}, {100, 0, 10}, {100, 100, 10}, {0, 100, 10}};
  const auto empty = project::emptyProject("Level \"site\"");
  auto p = project::withSource(*empty, {"s", ""}, std::move(data), empty->column.front()->id);
  p = project::withNewWorks(*p, p->column.back()->id, "Pad", works::Pad{rectangle(40, 40, 60, 60), level, {}});
  project::Cache cache;
  return project::evaluate(p, cache, {});
}

}  // namespace

TEST_CASE("The ledger has a row for each seam and works, and totals over the seams") {
  const auto ledger = report::ledgerOf(*evaluated(12));
  REQUIRE(ledger.rows.size() == 2);
  CHECK(ledger.rows[0].name == "existing to finished");
  CHECK(ledger.rows[1].name == "Pad");
  CHECK(ledger.rows[1].on == "finished");
  CHECK(ledger.rows[1].works == "pad");
  REQUIRE(ledger.rows[1].figures.size() == 1);
  CHECK(ledger.rows[1].figures[0].value == 12);
  CHECK(ledger.whole);
  CHECK(ledger.fill == Approx(ledger.rows[0].volume.fill));
  CHECK(ledger.surplus() == Approx(-ledger.fill));
}

TEST_CASE("Every figure tells how it was made: grounds, triangles, method, area") {
  const auto evaluation = evaluated(12);
  const auto ledger = report::ledgerOf(*evaluation);
  const std::string seam = report::howText(*evaluation, ledger.rows[0]);
  CHECK(seam.find("existing (2 triangles) and finished (") == 0);
  CHECK(seam.find("over 10 000 m² in plan: cut nowhere, filled on ") != std::string::npos);
  CHECK(seam.find("Nothing is left unmeasured.") != std::string::npos);
  const std::string pad = report::howText(*evaluation, ledger.rows[1]);
  CHECK(pad.find("Pad: its ") == 0);
  CHECK(pad.find("against the ground it was placed on, exact") != std::string::npos);
  // The filled area of the pad is that of the seam: nothing else was placed.
  const std::string filled = formatNumber(ledger.rows[0].volume.fillArea, 0) + " m²";
  CHECK(seam.find(filled) != std::string::npos);
  CHECK(pad.find(filled) != std::string::npos);
  report::LedgerRow unknown = ledger.rows[0];
  unknown.known = false;
  CHECK(report::howText(*evaluation, unknown).find("is not known") != std::string::npos);
}

TEST_CASE("Surplus is said in words, never as a bare sign") {
  CHECK(report::surplusText(400.4, 50) == "surplus 350 m³");
  CHECK(report::surplusText(0, 20) == "shortfall 20 m³");
  CHECK(report::surplusText(100.2, 100) == "balanced");
  CHECK(report::surplusText(0.2, 0) == "nothing moved");
  CHECK(report::surplusText(12, 12357.6) == "shortfall 12 346 m³");
}

TEST_CASE("The ledger as JSON parses and says the same as the ledger") {
  const auto e = evaluated(8.5);
  const auto ledger = report::ledgerOf(*e);
  const auto json = report::asJson(*e);
  CHECK(json["project"] == "Level \"site\"");
  CHECK(json["seams"][0]["cut_m3"].get<double>() == ledger.rows[0].volume.cut);
  CHECK(json["works"][0]["max_cut_m"].get<double>() == Approx(1.5));
  CHECK(json["total"]["surplus_m3"].get<double>() == ledger.surplus());
  REQUIRE(json["doubts"].size() == 1);  // a pad dug into level land
  CHECK(json["doubts"][0]["text"].get<std::string>().find("Water stands") == 0);
  CHECK(report::asText(*e).find("shortfall") == std::string::npos);
  CHECK(report::asText(*e).find("surplus") != std::string::npos);
}

TEST_CASE("What was not measured stands beside the figures, of seams, works and the total") {
  CHECK(report::unmeasuredText(57700.4) == "57 700 m² not measured");
  CHECK(report::unmeasuredText(0.25) == "0.25 m² not measured");
  CHECK(report::unmeasuredText(1e-9).empty());
  // A pad half beyond the ground.
  project::SourceData data;
  data.points = {{0, 0, 10}, {100, 0, 10}, {100, 100, 10}, {0, 100, 10}};
  auto p = project::emptyProject("Site");
  p = project::withSource(*p, {"s", ""}, std::move(data), p->column.front()->id);
  p = project::withNewWorks(*p, p->column.back()->id, "Pad", works::Pad{rectangle(90, 40, 110, 60), 12, {}});
  project::Cache cache;
  const auto e = project::evaluate(p, cache, {});
  const auto ledger = report::ledgerOf(*e);
  CHECK(ledger.unmeasured == Approx(200));
  const std::string text = report::asText(*e);
  std::size_t lines = 0;
  for (std::size_t at = 0; (at = text.find("; 200 m² not measured", at)) != std::string::npos; ++at) ++lines;
  CHECK(lines == 3);
  CHECK(report::asJson(*e)["total"]["unmeasured_area_m2"].get<double>() == Approx(200));
}

TEST_CASE("A ground that is missing is told, not counted as nothing") {
  project::Cache cache;
  const auto e = project::evaluate(project::emptyProject("Empty"), cache, {});
  const auto ledger = report::ledgerOf(*e);
  CHECK_FALSE(ledger.whole);
  CHECK_FALSE(ledger.rows[0].known);
  const auto json = report::asJson(*e);
  CHECK(json["problems"].size() == 2);
  CHECK(report::asText(*e).find("not known") != std::string::npos);
}
