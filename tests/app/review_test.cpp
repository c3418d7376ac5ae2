// What helps to judge a design: limits, kept results, gaps, water, contours taken out, legs taken hold of.
#include <catch2/catch.hpp>

#include <QCheckBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>

#include "card/long_section.h"
#include "ledger/kept_dialog.h"
#include "support/driver.h"
#include "window/limits_dialog.h"
#include "works/leg_handles.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

bool doubted(Driver& d, ground::DoubtKind kind) {
  for (const auto& g : d.workspace().evaluation()->grounds) {
    for (const auto& doubt : g.doubts) {
      if (doubt.kind == kind) return true;
    }
  }
  return false;
}

void answer(Driver& d, const QString& text) {
  d.whenDialog<QInputDialog>([text](QInputDialog& dialog) {
    dialog.setTextValue(text);
    dialog.accept();
  });
}

}  // namespace

TEST_CASE("A limit typed raises doubts at once and without it they go") {
  Driver d;
  d.openDemo();
  CHECK_FALSE(doubted(d, ground::DoubtKind::tooSteep));
  d.whenDialog<app::LimitsDialog>([](app::LimitsDialog& dialog) {
    auto* cut = dialog.findChild<QLineEdit*>("limitCut");
    REQUIRE_FALSE(cut->isEnabled());
    for (auto* box : dialog.findChildren<QCheckBox*>()) {
      if (box->text().contains("cut")) box->click();
    }
    cut->setFocus();
    cut->selectAll();
    QTest::keyClicks(cut, "4:1");
    QTest::keyClick(cut, Qt::Key_Tab);
    dialog.reject();
  });
  d.act("limits");
  d.settle();
  CHECK(d.project().limits.steepestCut == 4);
  CHECK(doubted(d, ground::DoubtKind::tooSteep));
  d.act("undo");
  d.act("undo");
  d.settle();
  CHECK_FALSE(doubted(d, ground::DoubtKind::tooSteep));
}

TEST_CASE("A result is kept with its picture, stays in the file, and is compared in the ledger") {
  Driver d;
  d.openDemo();
  answer(d, "First");
  d.act("keepResult");
  REQUIRE(d.project().kept.size() == 1);
  CHECK(d.project().kept[0]->name == "First");
  CHECK(d.project().kept[0]->cut == d.ledger().cut);
  CHECK(d.project().kept[0]->picture.size() > 1000);
  d.window.save();
  const QString path = d.workspace().path();
  d.workspace().startNew();
  REQUIRE(d.window.openProject(path));
  d.settle();
  REQUIRE(d.project().kept.size() == 1);
  works::Works raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, 78);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise");
  d.settle();
  d.whenDialog<app::KeptDialog>([](app::KeptDialog& dialog) {
    CHECK(dialog.findChild<QListWidget*>("keptList")->count() == 1);
    CHECK(dialog.findChild<QLabel*>("keptTold")->text().contains("In all, now"));
    dialog.findChild<QPushButton*>("keptCompare")->click();
  });
  d.act("keptResults");
  CHECK(d.find<QToolButton>("ledgerSurplus")->text().contains("less"));
  CHECK(d.find<QTableWidget>("ledgerTable")->columnCount() == 12);
  d.whenDialog<app::KeptDialog>([](app::KeptDialog& dialog) {
    dialog.findChild<QPushButton*>("keptRemove")->click();
    CHECK(dialog.findChild<QListWidget*>("keptList")->count() == 0);
    dialog.reject();
  });
  d.act("keptResults");
  CHECK(d.project().kept.empty());
  d.settle();
}

TEST_CASE("A batter is dragged to where it meets the ground at the pointer") {
  Driver d;
  d.openDemo();
  works::Works raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, 82);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise");
  d.settle();
  d.clickPlan(d.at(d.inside(0)));
  const auto evaluation = d.workspace().evaluation();  // holds what is placed
  const auto* placed = evaluation->works(d.works(0).id);
  const auto handles = works::legHandlesOf(placed->works->shape, *placed->placement, *placed->under);
  REQUIRE_FALSE(handles.empty());
  const plane::Vec2 out = plane::unit(handles[0].at - handles[0].inner);
  const QPoint from = d.at(handles[0].at), to = d.at(handles[0].at + 3.0 * out);
  d.dragPlan(from, to);
  d.settle();
  const auto& before = *placed->works->shape.as<works::Pad>();
  const auto& after = *d.works(0).shape.as<works::Pad>();
  CHECK(after.outline == before.outline);
  CHECK((after.batters.cut.run() > before.batters.cut.run() || after.batters.fill.run() > before.batters.fill.run()));
  d.act("undo");
  d.settle();
  CHECK(d.works(0).shape == placed->works->shape);
}

TEST_CASE("A contour clicked becomes a line of a source that no ground is built from") {
  Driver d;
  d.openDemo();
  d.workspace().chooseGround(d.project().surveyed());
  d.settle();
  const std::size_t sources = d.project().sources.size();
  const auto before = d.workspace().evaluation()->surveyed()->tin;
  const double interval = d.window.contourInterval(*before);
  const auto lines = ground::contours(*before, ground::contourLevels(*before, interval), {});
  const auto& line = *std::max_element(lines.begin(), lines.end(),
                                       [](const auto& a, const auto& b) { return a.points.size() < b.points.size(); });
  d.act("takeContour");
  d.clickPlan(d.at(line.points[line.points.size() / 2]));
  d.key(Qt::Key_Escape);
  d.settle();
  REQUIRE(d.project().sources.size() == sources + 1);
  const auto& taken = d.project().sources.back()->data->breaklines;
  REQUIRE(taken.size() == 1);
  CHECK(std::fmod(taken[0].vertices[0].z, interval) == Approx(0).margin(1e-9));
  CHECK(d.workspace().evaluation()->surveyed()->tin == before);
}

TEST_CASE("The land that drains to a pond is shaded and told, and a spillway is cut through its crest") {
  Driver d;
  d.openDemo("depot.inselberg");
  for (const auto& w : d.project().column.back()->works) {
    if (w->shape.as<works::Pond>()) d.workspace().chooseWorks(w->id);
  }
  const auto pond = d.project().works(d.workspace().chosenWorks()).works;
  REQUIRE(pond);
  const QImage before = d.window.plan().grab().toImage();
  d.act("catchment");
  d.clickPlan(d.at(works::middleOf(pond->shape)));
  d.settle();
  CHECK(d.window.plan().grab().toImage() != before);
  d.key(Qt::Key_Escape);
  d.key(Qt::Key_Escape);
  d.workspace().chooseWorks(pond->id);
  d.whenDialog<QInputDialog>([](QInputDialog& dialog) { dialog.accept(); });
  d.act("spillway");
  d.settle();
  const auto added = d.project().works(d.workspace().chosenWorks()).works;
  REQUIRE(added);
  CHECK(added->shape.as<works::Swale>());
  CHECK(added->name == "Spillway of " + pond->name);
  CHECK(d.workspace().evaluation()->works(added->id));
}

TEST_CASE("A gap told on the ground's card is filled at a press") {
  Driver d;
  d.openDemo();
  project::ProjectPtr project = std::make_shared<project::Project>(d.project());
  const GroundId finished = project->finished();
  const plane::Ring rings[] = {{{-90, 20}, {-46, 20}, {-46, 30}, {-90, 30}},
                               {{-90, 60}, {-46, 60}, {-46, 70}, {-90, 70}},
                               {{-90, 30}, {-70, 30}, {-70, 60}, {-90, 60}},
                               {{-66, 30}, {-46, 30}, {-46, 60}, {-66, 60}}};
  for (const plane::Ring& ring : rings)
    project = project::withNewWorks(*project, finished, "Part", works::LevelArea{ring, 78, {}});
  d.workspace().commit(project, "parts");
  d.settle();
  d.workspace().chooseWorks({});
  d.workspace().chooseGround(finished);
  auto* list = d.find<QListWidget>("doubts");
  for (int row = 0; row < list->count(); ++row) {
    if (list->item(row)->text().contains("fill the gap")) list->setCurrentRow(row);
  }
  auto* cure = d.find<QPushButton>("cureDoubt");
  REQUIRE(cure->text() == "Fill the gap");
  REQUIRE(cure->isEnabled());
  cure->click();
  d.settle();
  CHECK_FALSE(doubted(d, ground::DoubtKind::gap));
  CHECK(*d.workspace().evaluation()->ground(finished)->levelAt({-68, 45}) == Approx(78).margin(1e-6));
}

TEST_CASE("A typical section is dropped on a run from a station on, and taken away again") {
  Driver d;
  d.openDemo("depot.inselberg");
  works::Run run;
  run.line = {{-60, 20}, {-20, 40}, {20, 30}}, run.levels = {{{0, 76}, {80, 75}}};
  auto project = project::withNewWorks(d.project(), d.project().finished(), "Track", run);
  project = project::withSection(*project, "Gentle", works::parsedSection("to ground 3:1").legs);
  project = project::withSection(*project, "Shoulder", works::parsedSection("out 1; to ground 3:1").legs);
  d.workspace().commit(project, "track");
  d.settle();
  const auto id = d.project().column.back()->works.back()->id;
  d.workspace().chooseWorks(id);
  d.settle();
  auto* along = d.find<app::LongSection>("longSection");
  QWidget* plot = along->findChild<QWidget*>();
  const auto pick = [&](double station, const QString& title, const QString& action) {
    bool found = false;
    QTimer::singleShot(50, along, [&] {
      auto* menu = along->findChild<QMenu*>("longSectionMenu");
      if (!menu) return;
      QList<QMenu*> menus{menu};
      menus += menu->findChildren<QMenu*>();
      for (QMenu* m : menus) {
        for (QAction* a : m->actions()) {
          if ((title.isEmpty() || m->title().startsWith(title)) && a->text().contains(action))
            found = true, a->trigger();
        }
      }
      menu->close();
    });
    QTest::mouseClick(plot, Qt::RightButton, {}, along->at(station, 75));
    CHECK(found);
    d.settle();
  };
  const auto now = [&] { return *d.project().works(id).works->shape.as<works::Run>(); };
  const auto gentle = works::parsedSections("@0 to ground 2:1 @40 Gentle");
  pick(40, "Left", "Gentle");
  CHECK(now().left == gentle);
  CHECK(now().right.empty());
  // What has other legs cannot go on from it, and is told.
  pick(60, "Left", "Shoulder");
  CHECK(now().left == gentle);
  CHECK(d.window.messages().text().contains("legs"));
  pick(20, "Right", "Gentle");
  CHECK(now().right == works::parsedSections("@0 to ground 2:1 @20 Gentle"));
  pick(40, "", "no longer Gentle");
  CHECK(now().left == works::parsedSections("to ground 2:1"));
  for (int i = 0; i < 3; ++i) d.act("undo");
  CHECK(now().left.empty());
}

TEST_CASE("Grade points of a run are dragged, added, rounded and removed in its long section") {
  Driver d;
  d.openDemo("depot.inselberg");
  works::Run run;
  run.line = {{-60, 20}, {-20, 40}, {20, 30}}, run.levels = {{{0, 76}, {40, 77}, {80, 75}}};
  run.curves = {{{40, 20}}};
  d.workspace().commit(project::withNewWorks(d.project(), d.project().finished(), "Track", run), "track");
  d.settle();
  const auto id = d.project().column.back()->works.back()->id;
  d.workspace().chooseWorks(id);
  d.settle();
  auto* along = d.find<app::LongSection>("longSection");
  REQUIRE(along->isVisible());
  QWidget* plot = along->findChild<QWidget*>();
  const auto now = [&] { return *d.project().works(id).works->shape.as<works::Run>(); };
  const QPoint from = along->at(40, 77), to = along->at(45, 78);
  QTest::mousePress(plot, Qt::LeftButton, {}, from);
  for (const QPoint p : {(from + to) / 2, to}) {
    QMouseEvent move(QEvent::MouseMove, p, plot->mapToGlobal(p), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(plot, &move);
  }
  QTest::mouseRelease(plot, Qt::LeftButton, {}, to);
  d.settle();
  CHECK(now().levels[1][0] == Approx(45).margin(1));
  CHECK(now().levels[1][1] == Approx(78).margin(0.2));
  CHECK(now().curves == works::Stations{{now().levels[1][0], 20}});
  const double middle = works::Grades(now().levels, now().curves).level(20);
  QTest::mouseDClick(plot, Qt::LeftButton, {}, along->at(20, middle));
  d.settle();
  REQUIRE(now().levels.size() == 4);
  d.act("undo");
  d.act("undo");
  CHECK(now().levels == run.levels);
  d.settle();
}
