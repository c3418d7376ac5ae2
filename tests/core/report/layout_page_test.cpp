// Sheets to print: true to scale, nothing outside its frame, the figures of the ledger.
#include "report/layout_page.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "base/quantity.h"
#include "drawing/inks.h"
#include "plane/boxes.h"
#include "report/ledger.h"
#include "support/stages.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using project::Layout;

namespace {

project::EvaluationPtr site(unsigned seed) {
  std::mt19937 random(seed);
  return staged(siteWith(R"({"works": [
    {"kind": "pad", "name": "Silo pad", "outline": [[40, 60], [90, 60], [90, 110], [40, 110]], "level": 52},
    {"kind": "pad", "name": "Yard", "outline": [[85, 70], [150, 80], [145, 120], [95, 125]], "level": 44}],
    "regions": [{"name": "West", "outline": [[0, 0], [80, 0], [80, 200], [0, 200]]}]})",
                         randomHills(random, 8)))
      .evaluation;
}

bool says(const drawing::Page& page, const std::string& what) {
  for (const auto& item : page.items) {
    const auto* text = std::get_if<drawing::Text>(&item);
    if (text && text->text.find(what) != std::string::npos) return true;
  }
  return false;
}

// The box of what is drawn with such a pen.
plane::Box drawnIn(const drawing::Page& page, drawing::Colour colour, double width) {
  plane::Box box;
  for (const auto& item : page.items) {
    const auto* path = std::get_if<drawing::Path>(&item);
    if (!path || !path->pen || path->pen->colour != colour || path->pen->width != width) continue;
    for (const Vec2 p : path->points) box.add(p);
  }
  return box;
}

constexpr drawing::Colour kContours = 0x5b4b3a;

}  // namespace

TEST_CASE("A layout fits its ground on the paper, and says what it is, with the ledger's figures") {
  const auto e = site(3);
  Layout layout = report::startedLayout(*e->project);
  layout.fields = {{"Client", "Tolwin Grain"}, {"Number", "C-01"}, {"Drawn", "M. Ode"}};
  const drawing::Page page = report::layoutPage(*e, layout, {});
  CHECK(std::pair(page.width, page.height) == std::pair(420.0, 297.0));
  for (const char* text : {"Tolwin Grain", "C-01", "M. Ode", "Earthworks plan", "finished ground", "at A3", "In all"}) {
    CAPTURE(text);
    CHECK(says(page, text));
  }
  const report::Ledger ledger = report::ledgerOf(*e);
  for (const auto& row : ledger.rows) {
    CHECK(says(page, row.name));
    CHECK(says(page, formatNumber(row.volume.cut, 0)));
  }
  CHECK(says(page, report::surplusText(ledger.cut, ledger.fill)));
  const auto frame = report::frameOf(*e, layout);
  layout.legend = false;
  CHECK(plane::holds(frame.at, drawnIn(report::layoutPage(*e, layout, {}), kContours, 0.13)));
  CHECK(plane::holds({0, 0, page.width, page.height}, frame.at));
}

TEST_CASE("The plan on a layout is true to scale, in the middle that was asked for, and ends at its frame") {
  const auto e = site(4);
  for (const double scale : {100.0, 250.0, 500.0}) {
    for (const std::size_t paper : {0, 1, 2, 4}) {
      CAPTURE(scale, paper);
      Layout layout = report::startedLayout(*e->project);
      layout.scale = scale, layout.paper = paper, layout.centre = Vec2{65, 85},
      layout.shade = layout.grid = layout.legend = false;
      const drawing::Page page = report::layoutPage(*e, layout, {});
      const auto frame = report::frameOf(*e, layout);
      const plane::Box lines = drawnIn(page, kContours, 0.13);
      CHECK(plane::holds(frame.at.grown(1e-6), lines));
      // The crest of the pad of 50 m by 50 m is there whole once the frame is large enough.
      const double mm = 50 * 1000 / scale;
      if (frame.at.width() < 2.5 * mm || frame.at.height() < 2.5 * mm) continue;
      plane::Box pad;
      for (const auto& item : page.items) {
        const auto* path = std::get_if<drawing::Path>(&item);
        if (!path || !path->pen || path->pen->width != 0.4 || !path->closed) continue;
        plane::Box own;
        for (const Vec2 p : path->points) own.add(p);
        if (std::abs(own.width() - mm) < 1e-6 && std::abs(own.height() - mm) < 1e-6) pad = own;
      }
      REQUIRE_FALSE(pad.empty());
      CHECK(plane::distance(pad.centre(), frame.at.centre()) < 1e-6);
    }
  }
}

TEST_CASE("Shades tell cut and fill at their places, the deeper the stronger, and nothing where nothing is moved") {
  const auto e = site(5);
  Layout layout = report::startedLayout(*e->project);
  layout.paper = 0;
  const drawing::Page page = report::layoutPage(*e, layout, {});
  const auto frame = report::frameOf(*e, layout);
  const drawing::Picture* shades = nullptr;
  for (const auto& item : page.items) {
    if (const auto* picture = std::get_if<drawing::Picture>(&item)) shades = picture;
  }
  REQUIRE(shades);
  CHECK(shades->at == frame.at);
  const ground::Tin &was = *e->surveyed()->tin, &is = *e->ground(e->project->finished())->tin;
  int cut = 0, fill = 0;
  for (int row = 0; row < shades->rows; row += 7) {
    for (int column = 0; column < shades->columns; column += 7) {
      const Vec2 onPage{frame.at.minX + (column + 0.5) * frame.at.width() / shades->columns,
                        frame.at.maxY - (row + 0.5) * frame.at.height() / shades->rows};
      const Vec2 p = frame.centre + (frame.scale / 1000) * (onPage - frame.at.centre());
      const auto to = is.levelAt(p), from = was.levelAt(p);
      const double depth = to && from ? *to - *from : 0;
      if (std::abs(std::abs(depth) - 0.005) < 1e-4) continue;
      const std::uint32_t cell = shades->cells[static_cast<std::size_t>(row * shades->columns + column)];
      CHECK((cell >> 24 == 0) == (std::abs(depth) < 0.005));
      if (cell >> 24 == 0) continue;
      CHECK((cell & 0xffffff) == (depth < 0 ? drawing::kCut : drawing::kFill));
      ++(depth < 0 ? cut : fill);
    }
  }
  CHECK(cut > 20);
  CHECK(fill > 20);
}

TEST_CASE("A section stands beneath the plan, and grids are told at round coordinates") {
  const auto e = site(6);
  Layout layout = report::startedLayout(*e->project);
  const double high = report::frameOf(*e, layout).at.height();
  layout.section = {{10, 85}, {190, 85}};
  const auto frame = report::frameOf(*e, layout);
  CHECK(frame.at.height() < high - 40);
  const drawing::Page page = report::layoutPage(*e, layout, {});
  CHECK(says(page, "along, 1 :"));
  CHECK(says(page, "E "));
  // All of it stays on the paper, on small ones as well.
  for (const auto& item : page.items) {
    if (const auto* path = std::get_if<drawing::Path>(&item)) {
      for (const Vec2 p : path->points)
        REQUIRE(plane::Box{-1e-6, -1e-6, page.width + 1e-6, page.height + 1e-6}.contains(p));
    }
  }
  for (const bool upright : {true, false}) {
    layout.paper = 0, layout.upright = upright;
    const drawing::Page small = report::layoutPage(*e, layout, {});
    for (const auto& item : small.items) {
      if (const auto* path = std::get_if<drawing::Path>(&item)) {
        for (const Vec2 p : path->points)
          REQUIRE(plane::Box{7.9, 7.9, small.width - 7.9, small.height - 7.9}.contains(p));
      }
    }
  }
  layout.grid = layout.legend = layout.figures = layout.shade = false;
  layout.section.clear(), layout.fields.clear();
  const drawing::Page bare = report::layoutPage(*e, layout, {});
  for (const char* text : {"E 4", "crests", "In all", "Client"}) CHECK_FALSE(says(bare, text));
}

TEST_CASE("Layouts as files: pages of a PDF, one sheet as SVG and PNG, and names that say neither") {
  const auto e = site(7);
  Layout layout = report::startedLayout(*e->project);
  layout.paper = 0;
  const drawing::Page page = report::layoutPage(*e, layout, {});
  CHECK(report::contentOf("a.pdf", {page, page}).starts_with("%PDF"));
  CHECK(report::contentOf("a.PNG", {page}).starts_with("\x89PNG"));
  const std::string svg = report::contentOf("a.svg", {page});
  CHECK(svg.find("width=\"297.00mm\"") != std::string::npos);
  CHECK(svg.find("data:image/png;base64,iVBORw0KGgo") != std::string::npos);
  CHECK_THROWS_AS(report::contentOf("a.svg", {page, page}), Error);
  CHECK_THROWS_AS(report::contentOf("a.doc", {page}), Error);
}

TEST_CASE("A layout of a ground that is gone shows the finished one, and none where there is no ground") {
  const auto e = site(8);
  Layout layout = report::startedLayout(*e->project);
  layout.ground = GroundId{987654};
  CHECK(says(report::layoutPage(*e, layout, {}), "finished ground"));
  const auto empty = project::emptyProject("nothing");
  project::Cache cache;
  CHECK_THROWS_AS(report::layoutPage(*project::evaluate(empty, cache, {}), layout, {}), Error);
  // Names are their own.
  const auto two = project::withLayouts(*e->project, {report::startedLayout(*e->project)});
  CHECK(report::startedLayout(*two).name == "Earthworks plan 2");
}
