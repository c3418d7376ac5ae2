// What views share: the two grounds compared, and a column taller than the window.
#include <QInputDialog>
#include <QLabel>
#include <QScrollArea>
#include <QTableWidget>

#include <cmath>
#include <set>
#include "plan/plan_renderer.h"

#include "support/driver.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using app::PlanMode;

TEST_CASE("A click on a seam shows the depths between its two grounds, again puts them away") {
  Driver d;
  d.openDemo();
  const project::Between seam = d.project().seams().at(0);
  const QImage plain = d.window.plan().grab().toImage();
  const QPoint middle = d.window.column().seamRectOf(seam).center();
  QTest::mouseClick(&d.window.column(), Qt::LeftButton, {}, middle);
  CHECK(d.window.view().shown().mode == PlanMode::depth);
  CHECK(d.window.view().depthsBetween() == seam);
  d.settle();
  CHECK(d.window.plan().grab().toImage() != plain);
  QTest::mouseClick(&d.window.column(), Qt::LeftButton, {}, middle);
  CHECK(d.window.view().shown().mode == PlanMode::relief);
  CHECK_FALSE(d.window.view().shown().compared);
}

TEST_CASE("Any two grounds are compared, on a scale of their own, until another ground is chosen") {
  Driver d;
  d.openDemo();
  d.workspace().chooseGround(d.project().finished());
  d.act("freeze");
  works::Works pad = d.works(0);
  // The finished ground is the last of the column.
  pad.shape = works::atLevel(pad.shape, *works::levelOf(pad.shape) + 0.75);
  d.workspace().commit(project::withWorks(d.project(), pad), "raise");
  d.settle();
  GroundId frozen;
  for (const auto& g : d.project().column) {
    if (g->name == "finished before") frozen = g->id;
  }
  REQUIRE(frozen);
  d.workspace().chooseGround(d.project().finished());
  d.whenDialog<QInputDialog>([](QInputDialog& ask) {
    ask.setTextValue("finished before");
    ask.accept();
  });
  d.act("compare");
  CHECK(d.window.view().shown().mode == PlanMode::depth);
  CHECK(d.window.view().depthsBetween().from == frozen);
  CHECK(d.window.view().depthsBetween().to == d.project().finished());
  d.settle();
  // The readout tells the depth between these two.
  d.movePlan(d.at(d.inside(0)));
  CHECK(d.find<QLabel>("readout")->text().contains("fill&nbsp;0.750"));
  d.workspace().chooseGround(d.project().surveyed());
  CHECK_FALSE(d.window.view().shown().compared);
  d.movePlan(d.at(d.inside(0)) + QPoint(1, 0));
  CHECK_FALSE(d.find<QLabel>("readout")->text().contains("fill&nbsp;0.750"));
}

TEST_CASE("Where the scale of depths is not known it is that of the two grounds") {
  app::PlanRenderer renderer;
  app::PlanRequest request;
  request.beneath = evenGridGround(40, 4, [](double, double) { return 10.0; });
  request.shown = evenGridGround(40, 4, [](double x, double) { return 10 + x / 20; });
  request.mode = PlanMode::depth;
  request.view.size = {80, 80};
  request.view.fit(request.shown->bounds(), 2);
  CHECK(renderer.render(request, {}).greatestDepth == Approx(2));
  request.greatestDepth = 5;
  CHECK(renderer.render(request, {}).greatestDepth == 5);
}

TEST_CASE("Where a depth is at the edge of a band all over, rounding draws no lines") {
  app::PlanRenderer renderer;
  app::PlanRequest request;
  request.beneath = evenGridGround(40, 20, [](double, double) { return 10.0; });
  request.shown = evenGridGround(40, 20, [](double x, double y) { return 9.6 + 1e-9 * std::sin(7 * x + 5 * y); });
  request.mode = PlanMode::depth;
  request.contours = false;
  request.greatestDepth = 0.6;
  request.view.size = {200, 200};
  request.view.fit(request.shown->bounds(), 2);
  const QImage image = renderer.render(request, {}).image;
  std::set<int> greys;
  for (int y = 20; y < 180; ++y) {
    for (int x = 20; x < 180; ++x) greys.insert(qGray(image.pixel(x, y)));
  }
  CHECK(*greys.rbegin() - *greys.begin() <= 1);
}

TEST_CASE("A comparison ends with one of its grounds") {
  Driver d;
  d.openDemo();
  d.workspace().chooseGround(d.project().surveyed());
  const GroundId derived{d.project().nextId};
  d.workspace().commit(
      project::withNewGround(d.project(), "lower", project::Derived{{d.project().surveyed()}, project::Shift{-1}},
                             d.project().surveyed()),
      "make lower");
  d.settle();
  d.window.view().alter([&](app::Shown& s) {
    s.mode = PlanMode::depth;
    s.compared = project::Between{d.project().surveyed(), derived};
  });
  d.settle();
  d.act("undo");
  CHECK_FALSE(d.window.view().shown().compared);
  d.settle();
}

TEST_CASE("A column that is taller than the window is scrolled to what is chosen") {
  Driver d;
  d.openDemo();
  auto project = d.workspace().project();
  const plane::Ring ring = works::outlineOf(d.works(0).shape);
  for (int i = 0; i < 40; ++i) {
    works::Works more = d.works(0);
    project = project::withNewWorks(*project, project->finished(), "Copy " + std::to_string(i), more.shape);
  }
  d.workspace().commit(project, "copy");
  const WorksId last = d.project().column.back()->works.back()->id;
  auto* area = qobject_cast<QScrollArea*>(d.window.column().parentWidget()->parentWidget());
  REQUIRE(area);
  CHECK(d.window.column().height() > area->viewport()->height());
  const auto inSight = [&](WorksId id) {
    const QPoint middle = d.window.column().mapTo(area->viewport(), d.window.column().rowOf(id).center());
    return area->viewport()->rect().contains(middle);
  };
  CHECK(inSight(d.works(0).id));
  CHECK_FALSE(inSight(last));
  d.workspace().chooseWorks(last);
  CHECK(inSight(last));
  // Nothing of it is cut off by the bar.
  CHECK(d.window.column().eyeOf(last).right() < area->viewport()->width());
  d.workspace().cancel();
}
