// Two plans side by side.
#include <QBuffer>
#include <QComboBox>
#include <QWheelEvent>

#include "report/figures.h"
#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

void wheel(QWidget& widget, QPoint at, int steps) {
  QWheelEvent event(at, widget.mapToGlobal(at), {}, {0, 120 * steps}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                    false);
  QApplication::sendEvent(&widget, &event);
}

void choose(QComboBox& list, int row) {
  list.setCurrentIndex(row);
  Q_EMIT list.activated(row);
}

}  // namespace

TEST_CASE("A second plan shows another ground at the same place, and both move together") {
  Driver d;
  d.openDemo("depot.inselberg");
  app::SecondPlan& second = d.window.secondPlan();
  app::PlanView& plan = d.window.plan();
  CHECK_FALSE(second.isVisible());
  d.act("twoPlans");
  d.settle();
  REQUIRE(second.isVisible());
  CHECK(plan.isVisible());
  CHECK_FALSE(d.window.relief().isVisible());
  CHECK(*second.ground() == d.project().surveyed());
  CHECK(second.width() > 300);
  const auto tied = [&] {
    return second.view().centre == plan.view().centre && second.view().scale == plan.view().scale;
  };
  CHECK(tied());

  const double scale = plan.view().scale;
  wheel(plan, {100, 100}, 2);
  CHECK(plan.view().scale > scale);
  CHECK(tied());
  wheel(second, {50, 200}, -3);
  CHECK(plan.view().scale < scale);
  CHECK(tied());
  const Vec2 centre = plan.view().centre;
  QTest::keyClick(&second, Qt::Key_Left);
  CHECK(plan.view().centre.x < centre.x);
  CHECK(tied());
  d.settle();

  // The pointer on one is the place on the other.
  const Vec2 place = d.inside(0);
  QMouseEvent move(QEvent::MouseMove, second.view().toScreen(place), second.mapToGlobal(second.view().toScreen(place)),
                   Qt::NoButton, Qt::NoButton, Qt::NoModifier);
  QApplication::sendEvent(&second, &move);
  REQUIRE(d.window.view().pointer());
  CHECK(plane::distance(*d.window.view().pointer(), place) < 1e-6);
  d.movePlan(d.at(place));
  CHECK(plane::distance(*d.window.view().pointer(), place) < 1 / plan.view().scale);

  // Where works changed the ground the two pictures differ, far from them they do not.
  auto* list = d.find<QComboBox>("secondGround");
  CHECK(list->count() == static_cast<int>(d.project().column.size()));
  const auto colour = [&] { return second.grab().toImage().pixelColor(second.view().toScreen(d.inside(0)).toPoint()); };
  d.movePlan({2, 2});
  d.settle();
  const QColor before = colour();
  choose(*list, 0);  // finished
  d.settle();
  CHECK(*second.ground() == d.project().finished());
  CHECK(colour() != before);
  QTest::mouseClick(d.find<QToolButton>("secondClose"), Qt::LeftButton);
  CHECK_FALSE(second.isVisible());
  CHECK(d.window.view().shown().layout == app::Layout::plan);
}

TEST_CASE("A kept result is seen beside the plan, and a ground that goes gives way to the surveyed one") {
  Driver d;
  d.openDemo("depot.inselberg");
  project::KeptResult kept = report::keptOf(*d.workspace().evaluation());
  kept.name = "before", kept.when = "2026-11-29";
  QImage picture(200, 100, QImage::Format_RGB32);
  picture.fill(QColor(10, 200, 30));
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  picture.save(&buffer, "PNG");
  kept.picture = bytes.toStdString();
  d.workspace().commit(project::withKept(d.project(), std::move(kept)), "keep");
  d.act("twoPlans");
  d.settle();
  app::SecondPlan& second = d.window.secondPlan();
  auto* list = d.find<QComboBox>("secondGround");
  const int grounds = static_cast<int>(d.project().column.size());
  REQUIRE(list->count() == grounds + 1);
  CHECK(list->itemText(grounds) == "kept: before");
  choose(*list, grounds);
  CHECK_FALSE(second.ground());
  CHECK(second.grab().toImage().pixelColor(second.width() / 2, 60) == QColor(10, 200, 30));
  d.act("undo");
  d.settle();
  CHECK(*second.ground() == d.project().surveyed());
  CHECK(list->count() == grounds);
}
