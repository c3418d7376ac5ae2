// Areas of stages drawn in the window, side by side, and what they cover of the site.
#include <QDialog>
#include <QTableWidget>

#include "project/design_doubts.h"
#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using project::AreaUse;

namespace {

QColor at(Driver& d, Vec2 p) {
  return d.window.plan().grab().toImage().pixelColor(d.at(p));
}

}  // namespace

TEST_CASE("Regions are drawn one after the other, along their neighbours, and what is left of the site is told") {
  Driver d;
  d.openDemo();
  const double site = d.workspace().coverage(AreaUse::regions).site;
  CHECK(site > 50'000);
  const Vec2 c = d.window.plan().view().visible().centre();
  const auto draw = [&](std::initializer_list<Vec2> corners) {
    for (const Vec2 p : corners) d.clickPlan(d.at(p));
    d.key(Qt::Key_Return);
  };
  d.act("drawRegion");
  const QColor bare = at(d, c + Vec2{-30, 5});
  draw({c + Vec2{-60, -30}, c + Vec2{0, -30}, c + Vec2{4, -10}, c + Vec2{0, 30}, c + Vec2{-60, 30}});
  REQUIRE(d.project().stages.regions.size() == 1);
  CHECK(d.window.inHand() == "drawRegion");  // for the next one
  d.settle();
  CHECK(at(d, c + Vec2{-30, 5}) != bare);  // tinted
  const plane::Ring first = d.project().stages.regions[0].area.outer;

  // Along the first one's border between two clicks on its corners, in place of a straight line between them.
  d.clickPlan(d.at(c + Vec2{40, 30}));
  d.clickPlan(d.at(first[3]));
  d.key(Qt::Key_W);
  d.clickPlan(d.at(first[1]));
  d.key(Qt::Key_W);
  d.clickPlan(d.at(c + Vec2{40, -30}));
  d.key(Qt::Key_Return);
  REQUIRE(d.project().stages.regions.size() == 2);
  CHECK(d.project().stages.regions[1].name == "Region 2");
  CHECK(d.project().stages.regions[1].area.outer.size() == 5);
  const project::Coverage& both = d.workspace().coverage(AreaUse::regions);
  CHECK(both.twice == 0);
  CHECK(both.left == Approx(site - plane::area(d.project().stages.regions[0].area) -
                            plane::area(d.project().stages.regions[1].area)));
  for (const auto& part : both.parts) CHECK(part.kind == project::CoveragePart::Kind::left);

  // Over both: claimed twice, and told so.
  draw({c + Vec2{-10, -5}, c + Vec2{10, -5}, c + Vec2{10, 5}, c + Vec2{-10, 5}});
  const project::Coverage& all = d.workspace().coverage(AreaUse::regions);
  CHECK(all.twice == Approx(200).epsilon(0.2));
  CHECK(app::told(AreaUse::regions, all).contains("twice"));
  CHECK(app::told(AreaUse::regions, all).startsWith("Regions cover "));
  CHECK(d.workspace().history().undoText() == "draw a region");
  d.act("undo");
  CHECK(d.workspace().coverage(AreaUse::regions).twice == 0);
  d.key(Qt::Key_Escape);
  d.settle();
}

TEST_CASE("Strips and build-ups are drawn on the plan, and the coverage stays on show when it is asked for") {
  Driver d;
  d.openDemo();
  const Vec2 c = d.window.plan().view().visible().centre();
  d.act("drawStrip");
  for (const Vec2 p : {Vec2{-50, -20}, Vec2{-20, -20}, Vec2{-20, 20}}) d.clickPlan(d.at(c + p));
  d.key(Qt::Key_Return);
  d.settle();
  REQUIRE(d.project().stages.strips.size() == 1);
  CHECK(d.project().stages.strips[0].depth == 0.3);
  CHECK(d.workspace().evaluation()->grounds.size() == 3);  // the stripped ground came with it
  // An outline that crosses itself is told of and stays under the pointer.
  for (const Vec2 p : {Vec2{0, 0}, Vec2{30, 30}, Vec2{30, 0}, Vec2{0, 20}}) d.clickPlan(d.at(c + p));
  d.key(Qt::Key_Return);
  CHECK(d.project().stages.strips.size() == 1);
  CHECK(d.window.messages().text().contains("not finished"));
  d.key(Qt::Key_Escape);
  d.key(Qt::Key_Escape);
  d.act("drawBuildUp");
  for (const Vec2 p : {Vec2{0, -20}, Vec2{30, -20}, Vec2{30, 20}}) d.clickPlan(d.at(c + p));
  d.key(Qt::Key_Return);
  REQUIRE(d.project().stages.buildUps.size() == 1);
  d.key(Qt::Key_Escape);
  CHECK(d.window.inHand() == "select");
  d.settle();
  const Vec2 within = c + Vec2{-25, -15};
  const QColor bare = at(d, within);
  d.act("coverStrips");
  d.settle();
  const QColor tinted = at(d, within);
  CHECK(tinted != bare);
  d.act("coverStrips");
  d.settle();
  CHECK(at(d, within) == bare);
}

namespace {

void drawBox(Driver& d, Vec2 low, Vec2 high) {
  for (const Vec2 p : {low, Vec2{high.x, low.y}, high, Vec2{low.x, high.y}}) d.clickPlan(d.at(p));
  d.key(Qt::Key_Return);
}

}  // namespace

TEST_CASE("Level areas are drawn one after the other at typed levels, and made a stepped or a smooth ground") {
  Driver d;
  d.openDemo();
  const Vec2 c = d.window.plan().view().visible().centre();
  d.act("draw-level_area");
  d.type("z 76.5");
  drawBox(d, c + Vec2{-60, -40}, c + Vec2{-30, -10});
  REQUIRE(d.project().column.back()->works.size() == 2);
  CHECK(d.window.inHand() == "draw-level_area");
  CHECK(d.window.messages().text().contains("as typed"));
  d.type("z 77.5");
  const plane::Ring first = works::outlineOf(d.works(1).shape);
  d.clickPlan(d.at(first[1]));
  d.clickPlan(d.at(c + Vec2{0, -40}));
  d.clickPlan(d.at(c + Vec2{0, -10}));
  d.clickPlan(d.at(first[2]));
  d.key(Qt::Key_Return);
  d.key(Qt::Key_Escape);
  d.settle();
  REQUIRE(d.project().column.back()->works.size() == 3);
  CHECK(*works::levelOf(d.works(1).shape) == 76.5);
  CHECK(*works::levelOf(d.works(2).shape) == 77.5);

  const std::size_t grounds = d.project().column.size();
  d.whenDialog<QDialog>([&](QDialog& dialog) {
    const auto* table = dialog.findChild<QTableWidget*>("levelStepsTable");
    REQUIRE(table);
    const auto value = [&](int row, int column) {
      return table->item(row, column)->text().remove(QChar(0x2009)).remove(' ').toDouble();
    };
    CHECK(value(2, 3) == Approx(value(1, 3) - value(0, 3)).margin(0.2));
    QTest::mouseClick(dialog.findChild<QPushButton*>("takeSmooth"), Qt::LeftButton);
  });
  d.act("levelSteps");
  d.settle();
  REQUIRE(d.project().column.size() == grounds + 1);
  const auto* made = d.workspace().evaluation()->ground(d.workspace().chosenGround());
  REQUIRE((made && made->tin));
  // Half-way at the shared border.
  const Vec2 shared = 0.5 * (first[1] + first[2]) + Vec2{-1e-5, 0};
  CHECK(*made->tin->levelAt(shared) == Approx(77).margin(1e-3));
  d.act("undo");
  CHECK(d.project().column.size() == grounds);
}

TEST_CASE("Without any survey level areas at typed levels become the existing ground") {
  Driver d;
  app::PlanView& plan = d.window.plan();
  d.act("draw-level_area");
  const auto at = [&](double x, double y) { return plan.rect().center() + QPoint(int(x), int(y)); };
  const auto box = [&](double x) {
    for (const QPoint p : {at(x, 60), at(x + 80, 60), at(x + 80, -60), at(x, -60)}) d.clickPlan(p);
    d.key(Qt::Key_Return);
  };
  box(-80);
  CHECK(d.window.messages().text().contains("type its level first"));
  d.key(Qt::Key_Escape);
  d.type("z 50");
  box(-80);
  d.type("z 51");
  box(0);
  d.key(Qt::Key_Escape);
  REQUIRE(d.project().column.back()->works.size() == 2);
  d.whenDialog<QDialog>(
      [&](QDialog& dialog) { QTest::mouseClick(dialog.findChild<QPushButton*>("takeStepped"), Qt::LeftButton); });
  d.act("levelSteps");
  REQUIRE(Driver::waitFor([&] { return d.workspace().upToDate(); }));
  const auto* existing = d.workspace().evaluation()->surveyed();
  REQUIRE((existing && existing->tin));
  CHECK(existing->tin->minLevel() == 50);
  CHECK(existing->tin->maxLevel() == 51);
  d.settle();
}
