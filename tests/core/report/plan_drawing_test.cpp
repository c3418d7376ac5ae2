// The plan on paper: to scale, on its layers, its texts clear of each other.
#include "report/plan_drawing.h"
#include "report/depth_places.h"
#include "report/plan_page.h"

#include <catch2/catch.hpp>

#include "report/ledger.h"
#include "support/stages.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using report::PlanDrawing;
using report::PlanLayer;

namespace {

project::EvaluationPtr site(unsigned seed) {
  std::mt19937 random(seed);
  return staged(siteWith(R"({"works": [
    {"kind": "pad", "name": "Silo pad", "outline": [[40, 60], [90, 60], [90, 110], [40, 110]], "level": 52},
    {"kind": "pad", "name": "Yard", "outline": [[85, 70], [150, 80], [145, 120], [95, 125]], "level": 50.5, "fall_percent": 2, "bearing_deg": 120},
    {"kind": "pond", "name": "Pond", "drawn": "top", "outline": [[120, 20], [170, 20], [170, 50], [120, 50]], "bottom": 48, "top": 51}],
    "regions": [{"name": "West", "outline": [[0, 0], [80, 0], [80, 200], [0, 200]]}]})",
                         randomHills(random, 8)))
      .evaluation;
}

const PlanLayer* layerOf(const PlanDrawing& plan, const std::string& name) {
  for (const PlanLayer& layer : plan.layers) {
    if (layer.name == name) return &layer;
  }
  return nullptr;
}

// The corners of the box of a text in plan.
std::vector<Vec2> boxOf(const report::PlanText& text, double mm) {
  const double a = text.turned * 3.14159265358979 / 180,
               w = 0.3 * text.height * static_cast<double>(text.text.size()) * mm, h = 0.4 * text.height * mm;
  const Vec2 along{std::cos(a), std::sin(a)}, up{-along.y, along.x}, p = text.at.plan();
  return {p - w * along - h * up, p + w * along - h * up, p + w * along + h * up, p - w * along + h * up};
}

// Whether two convex shapes lie over each other: no side of either parts them.
bool overlap(const std::vector<Vec2>& a, const std::vector<Vec2>& b) {
  for (const auto& [p, q] : {std::pair{&a, &b}, {&b, &a}}) {
    for (std::size_t i = 0; i < 4; ++i) {
      const Vec2 from = (*p)[i], to = (*p)[(i + 1) % 4];
      if (std::all_of(q->begin(), q->end(), [&](Vec2 c) { return plane::turn(from, to, c) <= 0; })) return false;
    }
  }
  return true;
}

}  // namespace

TEST_CASE("The plan has its lines on layers by meaning, at their levels") {
  const auto e = site(3);
  const auto finished = e->project->finished();
  const PlanDrawing plan = report::planDrawing(*e, finished, {500, 0.5}, {});
  for (const char* name : {"existing contours", "finished contours", "finished index contours", "crests", "daylight",
                           "batter ticks", "labels", "contour labels", "spot levels", "falls", "regions"}) {
    CAPTURE(name);
    REQUIRE(layerOf(plan, name));
    CHECK(layerOf(plan, name)->lines.size() + layerOf(plan, name)->texts.size() > 0);
  }
  const ground::Tin& tin = *e->ground(finished)->tin;
  for (const auto& line : layerOf(plan, "finished contours")->lines) {
    for (const auto& p : line.points) CHECK(tin.levelAt(p.plan()).value() == Approx(p.z).margin(1e-6));
  }
  for (const auto& text : layerOf(plan, "spot levels")->texts) CHECK(text.text.find('.') != std::string::npos);
  CHECK(layerOf(plan, "labels")->texts.front().text == "Silo pad  52.00");
}

TEST_CASE("No text of a plan lies over another or over the edge, and contour labels read uphill off the batters",
          "[random]") {
  for (unsigned seed = 1; seed < 9; ++seed) {
    const auto e = site(seed);
    for (const double scale : {250.0, 500.0, 1000.0, 2000.0}) {
      CAPTURE(seed, scale);
      const PlanDrawing plan = report::planDrawing(*e, e->project->finished(), {scale, 0}, {});
      std::vector<std::vector<Vec2>> boxes;
      for (const PlanLayer& layer : plan.layers) {
        for (const auto& text : layer.texts) boxes.push_back(boxOf(text, scale / 1000));
      }
      if (scale < 600) CHECK(boxes.size() > 12);
      for (std::size_t i = 0; i < boxes.size(); ++i) {
        for (const Vec2 p : boxes[i]) CHECK(plan.extent.contains(p));
        for (std::size_t j = 0; j < i; ++j) CHECK_FALSE(overlap(boxes[i], boxes[j]));
      }
      const ground::Tin& tin = *e->ground(e->project->finished())->tin;
      for (const auto& text : layerOf(plan, "contour labels")->texts) {
        const double a = text.turned * 3.14159265358979 / 180;
        const Vec2 up{-std::sin(a), std::cos(a)}, p = text.at.plan();
        const auto above = tin.levelAt(p + 0.05 * up), below = tin.levelAt(p - 0.05 * up);
        if (above && below) CHECK(*above > *below - 1e-9);
        for (const auto& w : e->ground(e->project->finished())->works) {
          const auto t = w.placement->facets->locate(p);
          if (t != ground::kNone && &w == &e->ground(e->project->finished())->works.back())
            CHECK_FALSE(works::isBatter(w.placement->kinds[t]));
        }
      }
    }
  }
}

TEST_CASE("The page is of a sheet's size and true to scale, and the drawing has the site's coordinates") {
  const auto e = site(5);
  const PlanDrawing plan = report::planDrawing(*e, e->project->finished(), {1000, 1}, {});
  const drawing::Page page = report::asPage(plan);
  CHECK(std::pair(page.width, page.height) == std::pair(297.0, 420.0));
  // The boundary of the region, 80 m by 200 m.
  plane::Box box;
  for (const auto& item : page.items) {
    const auto* path = std::get_if<drawing::Path>(&item);
    if (!path || !path->pen || !path->closed || path->pen->colour != 0x14808a) continue;
    for (const Vec2 p : path->points) box.add(p);
  }
  CHECK(box.width() == Approx(80));
  CHECK(box.height() == Approx(200));
  const std::string dxf = report::asDxf(plan, {400000, 6000000});
  CHECK(dxf.find("FINISHED_CONTOURS") != std::string::npos);
  CHECK(dxf.find("\n10\n400080.000000\n20\n6000200.000000\n") != std::string::npos);
  CHECK(report::planDrawing(*e, e->project->finished(), {}, {}).scale == 750);
}

TEST_CASE("Depths stand where they are greatest and at even coordinates, with their sign, and are true") {
  const auto e = site(2);
  report::PlanRules rules;
  rules.scale = 500, rules.depths = 10, rules.depthsFrom = e->project->surveyed();
  const PlanDrawing plan = report::planDrawing(*e, e->project->finished(), rules, {});
  std::size_t told = 0, greatest = 0;
  const auto places = report::deepestPlaces(*e, e->project->surveyed(), e->project->finished());
  for (const char* name : {"cut depths", "fill depths"}) {
    REQUIRE(layerOf(plan, name));
    for (const auto& text : layerOf(plan, name)->texts) {
      const bool deepest = std::find(places.begin(), places.end(), text.at.plan()) != places.end();
      CHECK((deepest || std::abs(std::remainder(text.at.x + e->project->origin.easting, 10)) < 1e-6));
      CHECK(deepest == (text.height > 2));
      greatest += deepest;
      const double depth = *e->ground(e->project->finished())->tin->levelAt(text.at.plan()) -
                           *e->surveyed()->tin->levelAt(text.at.plan());
      CHECK(text.text == report::depthText(depth));
      CHECK(text.text.starts_with(depth > 0 ? "+" : "−"));
      ++told;
    }
  }
  CHECK(told > 20);
  CHECK(greatest >= 2);
  const std::string dxf = report::asDxf(plan, {400000, 6000000});
  CHECK(dxf.find("CUT_DEPTHS") != std::string::npos);
  CHECK(dxf.find("\n1\n\\U+2212") != std::string::npos);
}
