// Drawing, choosing, editing, mending and reading the survey, with real events.
#include <QCheckBox>
#include <QComboBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTableWidget>
#include <catch2/catch.hpp>

#include "exchange/coordinate_system.h"
#include "exchange/formats.h"
#include "gather/import_dialog.h"
#include "gather/system_dialog.h"
#include "gather/thumbnail.h"
#include "support/driver.h"
#include "tools/measure_tool.h"

using namespace inselberg;
using namespace inselberg::testing;
using project::FeatureKind;

namespace {

const project::Source& drawn(Driver& d) {
  for (const auto& s : d.project().sources) {
    if (s->file.empty()) return *s;
  }
  FAIL("nothing is drawn");
  return *d.project().sources.front();
}

// The demo with its survey locked, as it is after an import.
void openLocked(Driver& d) {
  d.openDemo();
  auto next = d.workspace().project();
  for (const auto& s : d.project().sources) {
    project::SourceInfo info = *s;
    info.locked = true;
    next = project::withSourceInfo(*next, s->id, info);
  }
  d.workspace().commit(next, "lock");
  d.settle();
}

QString hint(Driver& d) {
  return d.window.plan().tool().hint();
}

}  // namespace

TEST_CASE("A breakline is drawn by clicks and typing, and the ground follows it") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawBreakline");
  d.clickPlan(d.at({-60, -20}));
  d.type("z 79");
  d.type("25 at 90");
  d.type("+10 +5");
  d.key(Qt::Key_Return);
  d.settle();
  const auto& line = drawn(d).data->breaklines.at(0);
  REQUIRE(line.vertices.size() == 3);
  CHECK(line.vertices[1].x == Approx(line.vertices[0].x + 25));
  CHECK(line.vertices[2].y == Approx(line.vertices[0].y + 5));
  CHECK(line.vertices[1].z == 79);
  const auto* existing = d.workspace().evaluation()->ground(d.project().column.front()->id);
  CHECK(*existing->tin->levelAt(line.vertices[1].plan()) == Approx(79));
  d.act("undo");
  CHECK(std::none_of(d.project().sources.begin(), d.project().sources.end(),
                     [](const auto& s) { return s->file.empty(); }));
}

TEST_CASE("Proposed contours are drawn into a ground of their own, which the finished ground takes in") {
  Driver d;
  openLocked(d);
  d.act("snap");
  const GroundId existing = d.project().surveyed();
  const auto survey = std::get<project::FromSources>(d.project().ground(existing)->base).sources;
  d.whenDialog<QInputDialog>([](QInputDialog& ask) { ask.accept(); });
  d.act("newGround");
  const GroundId proposed = d.workspace().chosenGround();
  CHECK(d.project().ground(proposed)->name == "proposed");
  d.act("drawContour");
  CHECK(hint(d).contains("into proposed"));
  for (int i = 0; i < 3; ++i) {
    d.type(QString("z %1").arg(90 + i));
    for (const double x : {-40, 0, 40}) d.clickPlan(d.at({x, -20.0 + 20 * i}));
    d.key(Qt::Key_Return);
    CHECK_FALSE(d.window.messages().text().contains("right?"));  // far above the contours of the survey
  }
  d.key(Qt::Key_Escape);
  d.settle();
  CHECK(std::get<project::FromSources>(d.project().ground(existing)->base).sources == survey);
  const auto* made = d.workspace().evaluation()->ground(proposed);
  REQUIRE((made && made->tin));
  CHECK(made->tin->minLevel() == 90);
  CHECK(made->tin->maxLevel() == 92);

  d.act("layIn");
  d.settle();
  const auto* finished = d.workspace().evaluation()->ground(d.project().finished());
  REQUIRE(finished->tin);
  CHECK(finished->tin->maxLevel() == Approx(92));
  CHECK(d.workspace().chosenWorks());
  d.act("undo");
  d.settle();
  CHECK(d.workspace().evaluation()->ground(d.project().finished())->tin->maxLevel() < 90);
}

TEST_CASE("What is typed and is no place is told, and Esc puts the line away without losing the drawing") {
  Driver d;
  openLocked(d);
  d.act("drawBreakline");
  d.clickPlan(d.at({-60, -20}));
  QTest::keyClicks(&d.window.plan(), "7");
  auto* entry = d.find<QLineEdit>("planEntry");
  QTest::keyClicks(entry, " oxen");
  QTest::keyClick(entry, Qt::Key_Return);
  CAPTURE(d.window.messages().text().toStdString(), entry->text().toStdString());
  CHECK(d.window.messages().text().contains("412010"));
  QTest::keyClick(entry, Qt::Key_Escape);
  CHECK_FALSE(entry->isVisible());
  d.clickPlan(d.at({-30, -20}));
  d.key(Qt::Key_Return);
  CHECK(drawn(d).data->breaklines.at(0).vertices.size() == 2);
  // Nothing said: the line lies on the ground.
  CHECK_FALSE(std::isnan(drawn(d).data->breaklines.at(0).vertices[0].z));
}

TEST_CASE("Contours step their level from line to line, and voids leave the ground out") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawContour");
  d.type("z 75");
  for (int k = 0; k < 2; ++k) {
    d.clickPlan(d.at({-60.0, -20.0 + 12 * k}));
    d.clickPlan(d.at({-30.0, -20.0 + 12 * k}));
    d.key(Qt::Key_Return);
  }
  const auto& lines = drawn(d).data->breaklines;
  REQUIRE(lines.size() == 2);
  CHECK(lines[0].contour);
  CHECK(lines[0].vertices[0].z == 75);
  CHECK(lines[1].vertices[0].z > 75);
  d.act("drawVoid");
  for (const plane::Vec2 p : {plane::Vec2{60, -40}, {75, -40}, {75, -30}, {60, -30}}) d.clickPlan(d.at(p));
  d.key(Qt::Key_Return);
  d.settle();
  CHECK_FALSE(d.workspace().evaluation()->grounds.front().levelAt({67, -35}));
  CHECK(d.workspace().evaluation()->grounds.front().levelAt({80, -35}));
  d.act("hideDrawn");
  CHECK(drawn(d).hidden);
  d.act("hideDrawn");
  CHECK_FALSE(drawn(d).hidden);
}

TEST_CASE("Arcs go on from the line before, and following takes over another line's vertices") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawBreakline");
  d.clickPlan(d.at({-60, -20}));
  d.clickPlan(d.at({-40, -20}));
  d.key(Qt::Key_A);
  CHECK(hint(d).contains("arc"));
  d.clickPlan(d.at({-30, -10}));
  d.key(Qt::Key_Return);
  const auto line = drawn(d).data->breaklines.at(0);
  CHECK(line.vertices.size() > 6);
  // Tangent: the first chord of the arc hardly turns.
  const plane::Vec2 along = line.vertices[1].plan() - line.vertices[0].plan(),
                    on = line.vertices[2].plan() - line.vertices[1].plan();
  CHECK(std::abs(std::atan2(plane::cross(along, on), plane::dot(along, on))) < 0.2);
  d.act("snap");
  d.key(Qt::Key_A);
  d.key(Qt::Key_W);
  // Letters of the tool in hand, and what begins a level, are no commands of the window; others are.
  const auto kept = [&](int key, const QString& text) {
    QKeyEvent event(QEvent::ShortcutOverride, key, Qt::NoModifier, text);
    event.ignore();
    QApplication::sendEvent(&d.window.plan(), &event);
    return event.isAccepted();
  };
  CHECK(kept(Qt::Key_W, "w"));
  CHECK(kept(Qt::Key_Z, "z"));
  CHECK_FALSE(kept(Qt::Key_D, "d"));
  d.clickPlan(d.at(line.vertices[1].plan()));
  d.clickPlan(d.at(line.vertices.back().plan()));
  d.key(Qt::Key_Return);
  CHECK(drawn(d).data->breaklines.at(1).vertices.size() == line.vertices.size() - 1);
}

TEST_CASE("A line is chosen, its vertex dragged, split, joined and removed") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawBreakline");
  for (const plane::Vec2 p : {plane::Vec2{-60, -21}, {-45, -13}, {-30, -19}}) d.clickPlan(d.at(p));
  d.key(Qt::Key_Return);
  d.act("editLines");
  const auto at = [&](std::size_t i) { return drawn(d).data->breaklines.at(0).vertices.at(i).plan(); };
  d.clickPlan(d.at(0.5 * (at(0) + at(1))));
  REQUIRE(d.workspace().chosenFeatures().size() == 1);
  CHECK(d.find<QLabel>("lineHeading")->text() == "Breakline");
  const plane::Vec2 was = at(1);
  d.dragPlan(d.at(at(1)), d.at(was + plane::Vec2{0, 8}));
  CHECK(at(1).y == Approx(was.y + 8).margin(0.5));
  // Double-click on a side for a vertex.
  const QPoint middle = d.at(0.5 * (at(0) + at(1)));
  d.movePlan(middle);
  QTest::mouseDClick(&d.window.plan(), Qt::LeftButton, {}, middle);
  CHECK(drawn(d).data->breaklines.at(0).vertices.size() == 4);
  d.movePlan(d.at(at(2)));
  d.key(Qt::Key_X);
  REQUIRE(drawn(d).data->breaklines.size() == 2);
  const auto chain = [&](std::size_t i) { return drawn(d).data->breaklines.at(i).vertices; };
  d.clickPlan(d.at(0.5 * (chain(0)[0].plan() + chain(0)[1].plan())));
  const QPoint second = d.at(0.5 * (chain(1)[0].plan() + chain(1)[1].plan()));
  d.clickPlan(second, Qt::ShiftModifier);
  REQUIRE(d.workspace().chosenFeatures().size() == 2);
  CAPTURE(chain(0).size(), chain(1).size(), d.workspace().chosenFeatures()[0].index,
          d.workspace().chosenFeatures()[1].index);
  d.find<QPushButton>("lineJoin")->click();
  CHECK(drawn(d).data->breaklines.size() == 1);
  CHECK(chain(0).size() == 4);
  d.clickPlan(d.at(0.5 * (at(0) + at(1))));
  d.movePlan({5, 5});
  d.key(Qt::Key_Delete);
  CHECK(drawn(d).data->breaklines.empty());
  d.act("undo");
  CHECK(drawn(d).data->breaklines.size() == 1);
}

TEST_CASE("The card of a line sets its levels, offsets, rounds, turns and moves it") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawBreakline");
  for (const plane::Vec2 p : {plane::Vec2{-60, -21}, {-40, -21}, {-40, -11}}) d.clickPlan(d.at(p));
  d.key(Qt::Key_Return);
  d.act("editLines");
  const auto line = [&](std::size_t i = 0) { return drawn(d).data->breaklines.at(i); };
  d.clickPlan(d.at(0.5 * (line().vertices[0].plan() + line().vertices[1].plan())));
  const auto levels = [&](int how, const char* value) {
    d.find<QComboBox>("lineLevels")->setCurrentIndex(how);
    d.find<QLineEdit>("lineLevel")->setText(value);
    d.find<QPushButton>("lineApply")->click();
  };
  levels(0, "75");
  CHECK(line().vertices[2].z == 75);
  levels(2, "2");
  CHECK(line().vertices[1].z ==
        Approx(75 + 0.02 * plane::distance(line().vertices[0].plan(), line().vertices[1].plan())));
  auto* table = d.find<QTableWidget>("lineTable");
  CHECK(table->rowCount() == 3);
  table->item(2, 1)->setText("80.25");
  CHECK(line().vertices[2].z == 80.25);
  levels(1, "");
  CHECK(line().vertices[1].z > 75);
  levels(3, "0.5");
  d.settle();
  CHECK_FALSE(std::isnan(line().vertices[0].z));
  d.find<QLineEdit>("lineOffsetBy")->setText("3");
  d.find<QPushButton>("lineOffset")->click();
  REQUIRE(drawn(d).data->breaklines.size() == 2);
  CHECK(line(1).vertices[0].y == Approx(line(0).vertices[0].y + 3));
  d.find<QLineEdit>("lineRadius")->setText("4");
  d.find<QPushButton>("lineRound")->click();
  CHECK(line().vertices.size() > 6);
  const double x = line().vertices[0].x;
  d.find<QLineEdit>("lineBy")->setText("2.5 -1");
  d.find<QPushButton>("lineShift")->click();
  CHECK(line().vertices[0].x == Approx(x + 2.5));
  d.find<QPushButton>("lineReverse")->click();
  CHECK(line().vertices.back().x == Approx(x + 2.5));
  d.find<QLineEdit>("lineAngle")->setText("oops");
  d.find<QPushButton>("lineTurn")->click();
  CHECK(d.window.messages().text().contains("number"));
}

TEST_CASE("A box and a line drawn around choose what lies inside of what is not locked, and a click chooses what is") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawPoint");
  for (const plane::Vec2 p : {plane::Vec2{-50, 10}, {-45, 15}, {-40, 10}, {40, 10}}) d.clickPlan(d.at(p));
  d.act("editLines");
  d.dragPlan(d.at({-60, 0}), d.at({-30, 25}));
  CHECK(d.workspace().chosenFeatures().size() == 3);
  d.key(Qt::Key_Escape);
  CHECK(d.workspace().chosenFeatures().empty());
  const auto p = d.project().sources.front()->data->points.at(1000).plan();
  d.clickPlan(d.at(p));
  REQUIRE(d.workspace().chosenFeatures().size() == 1);
  CHECK_FALSE(d.find<QPushButton>("lineShift")->isEnabled());
  d.key(Qt::Key_Delete);
  CHECK(d.window.messages().text().contains("locked"));
}

TEST_CASE("Sources are hidden, unlocked, left out and put in another order from the card") {
  Driver d;
  openLocked(d);
  d.workspace().chooseGround(d.project().column.front()->id);
  auto* list = d.find<QListWidget>("sources");
  REQUIRE(list->count() == static_cast<int>(d.project().sources.size()));
  list->setCurrentRow(0);
  d.find<QCheckBox>("sourceShown")->click();
  CHECK(d.project().sources[0]->hidden);
  d.find<QCheckBox>("sourceLocked")->click();
  CHECK_FALSE(d.project().sources[0]->locked);
  const auto order = [&] { return std::get<project::FromSources>(d.project().column.front()->base).sources; };
  const auto before = order();
  if (before.size() > 1) {
    d.find<QPushButton>("sourceDown")->click();
    CHECK(order()[0] == before[1]);
    d.act("undo");
  }
  list->item(0)->setCheckState(Qt::Unchecked);
  CHECK(order().size() == before.size() - 1);
  d.act("undo");
  CHECK(order() == before);
}

TEST_CASE("Mends are made with a press and stay through a rebuild, and undo takes them back") {
  Driver d;
  d.openDemo();
  const auto existing = [&] { return d.workspace().evaluation()->grounds.front().tin; };
  const auto before = existing()->triangles().size();
  d.act("mendTriangle");
  d.clickPlan(d.at({-50, 10}));
  d.settle();
  CHECK(existing()->triangles().size() == before - 1);
  CHECK_FALSE(existing()->levelAt(d.window.plan().view().toPlan(d.at({-50, 10}))));
  d.act("mendPoint");
  const auto points = existing()->points().size();
  d.clickPlan(d.at({-20, 20}));
  d.settle();
  CHECK(existing()->points().size() == points - 1);
  d.act("mendAdd");
  d.clickPlan(d.at({-30, 30}));
  CHECK(d.window.messages().text().contains("level"));
  d.type("z 90");
  d.clickPlan(d.at({-30, 30}));
  d.settle();
  CHECK(existing()->maxLevel() == Approx(90));
  const auto& base = std::get<project::FromSources>(d.project().column.front()->base);
  CHECK(base.mends.size() == 3);
  for (int i = 0; i < 3; ++i) d.act("undo");
  d.settle();
  CHECK(existing()->triangles().size() == before);
}

TEST_CASE("The slope between two places and the way of the water are read off") {
  Driver d;
  d.openDemo();
  d.act("slope");
  d.clickPlan(d.at({-50, 10}));
  d.clickPlan(d.at({-20, 30}));
  const auto& tool = dynamic_cast<app::MeasureTool&>(d.window.plan().tool());
  CHECK(tool.reading().contains("%"));
  CHECK(tool.reading().contains(":1"));
  d.act("water");
  d.clickPlan(d.at({-50, 10}));
  const auto& water = dynamic_cast<app::MeasureTool&>(d.window.plan().tool());
  CHECK(water.reading().contains("falling"));
}

TEST_CASE("Doubts are cured, accepted with a reason, and doubted again from the card") {
  const Scratch s;
  std::string csv;
  for (int i = 0; i < 400; ++i) {
    csv += std::to_string(i) + "," + std::to_string(5 * (i % 20)) + "," + std::to_string(5 * (i / 20)) + "," +
           (i == 210  ? "0"
            : i == 90 ? "88"
                      : std::to_string(70 + std::sin(i % 20 / 3.0))) +
           "\n";
  }
  Driver d;
  d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    QTest::mouseClick(dialog.findChild<QPushButton*>("importAccept"), Qt::LeftButton);
  });
  REQUIRE(d.window.importFile(QString::fromStdString(s.file("odd.csv", csv))));
  d.settle();
  d.workspace().chooseGround(d.project().column.front()->id);
  auto* list = d.find<QListWidget>("doubts");
  REQUIRE(list->count() == 2);
  CHECK(d.ledger().doubts == 2);
  list->setCurrentRow(0);
  d.find<QPushButton>("cureDoubt")->click();
  d.settle();
  REQUIRE(list->count() == 1);
  list->setCurrentRow(0);
  d.whenDialog<QDialog>([](QDialog& dialog) {
    dialog.findChild<QLineEdit*>()->setText("a real mound");
    dialog.accept();
  });
  d.find<QPushButton>("acceptDoubt")->click();
  d.settle();
  CHECK(d.ledger().doubts == 0);
  CHECK(list->item(0)->text().contains("a real mound"));
  list->setCurrentRow(0);
  d.find<QPushButton>("acceptDoubt")->click();
  d.settle();
  CHECK(d.ledger().doubts == 1);
}

TEST_CASE("A drawing's layers are taken as chosen, again in place of before, and its report is kept") {
  const Scratch s;
  const auto drawing = [&](double level) {
    std::string dxf = "0\nSECTION\n2\nENTITIES\n";
    for (int i = 0; i < 9; ++i)
      dxf += "0\nPOINT\n8\nSPOT\n10\n" + std::to_string(10 * (i % 3)) + "\n20\n" + std::to_string(10 * (i / 3)) +
             "\n30\n" + std::to_string(level) + "\n";
    dxf += "0\nLWPOLYLINE\n8\nPAD\n90\n4\n70\n1\n10\n5\n20\n5\n10\n9\n20\n5\n10\n9\n20\n9\n10\n5\n20\n9\n";
    return s.file("site.dxf", dxf + "0\nENDSEC\n0\nEOF\n");
  };
  Driver d;
  const auto take = [&](int padAs) {
    d.whenDialog<app::ImportDialog>([padAs](app::ImportDialog& dialog) {
      REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
      auto* layers = dialog.findChild<QTableWidget*>("importLayers");
      REQUIRE(layers->rowCount() == 2);
      if (padAs >= 0) {
        auto* box = qobject_cast<QComboBox*>(layers->cellWidget(1, 7));
        box->setCurrentIndex(padAs);
        Q_EMIT box->activated(padAs);
      }
      QTest::mouseClick(dialog.findChild<QPushButton*>("importAccept"), Qt::LeftButton);
    });
    REQUIRE(d.window.importFile(QString::fromStdString(s / "site.dxf")));
    d.settle();
  };
  drawing(50);
  take(6);  // works outlines
  CHECK(d.project().sources.size() == 1);
  CHECK(d.project().column.back()->works.size() == 1);
  const SourceId id = d.project().sources[0]->id;
  drawing(52);
  take(0);  // left out
  REQUIRE(d.project().sources.size() == 1);
  CHECK(d.project().sources[0]->id == id);
  CHECK(d.project().column.back()->works.size() == 1);
  CHECK(d.workspace().evaluation()->grounds.front().tin->maxLevel() == 52);
  CHECK(d.project().sources[0]->takes ==
        std::vector<std::pair<std::string, std::string>>{{"SPOT", "points"}, {"PAD", "skip"}});
  CHECK(d.project().sources[0]->report.size() >= 2);
  // Saved and opened it is all still there.
  REQUIRE(d.window.saveProject(QString::fromStdString(s / "p.inselberg")));
  REQUIRE(d.window.openProject(QString::fromStdString(s / "p.inselberg")));
  CHECK(d.project().sources[0]->takes.size() == 2);
  CHECK(d.project().sources[0]->report.size() >= 2);
}

TEST_CASE("Grounds are made from others, frozen and removed from the menu") {
  Driver d;
  d.openDemo();
  const GroundId existing = d.project().surveyed();
  d.workspace().chooseGround(existing);
  d.settle();
  d.whenDialog<QDialog>([](QDialog& dialog) { dialog.accept(); });
  d.act("shiftGround");
  d.settle();
  REQUIRE(d.project().column.size() == 3);
  CHECK(d.workspace().chosenGround() == d.project().column[1]->id);
  const auto& e = *d.workspace().evaluation();
  CHECK(*e.grounds[1].levelAt({0, 0}) == Approx(*e.grounds[0].levelAt({0, 0}) - 0.3));
  d.act("removeGround");
  d.settle();
  CHECK(d.project().column.size() == 2);
  d.workspace().chooseGround(existing);
  d.settle();
  d.act("freeze");
  d.settle();
  CHECK(d.project().column[0]->name == "existing before");
  CHECK(d.project().surveyed() == existing);
  d.act("redraw");
  d.settle();
  CHECK(d.workspace().evaluation()->ground(d.workspace().chosenGround())->tin);
  // An outline has to be chosen before a part can be kept.
  d.act("keepInside");
  CHECK(d.window.messages().text().contains("outline"));
  d.workspace().chooseWorks(d.project().column.back()->works.front()->id);
}

TEST_CASE("A file in another coordinate system is moved into the project's, and degrees ask for one first") {
  const Scratch s;
  std::string list = "number,easting,northing,level\n", degrees = list;
  exchange::Imported places;
  for (int i = 0; i < 9; ++i) places.points.push_back({500000.0 + 40 * (i % 3), 6200000.0 + 40 * (i / 3), 70.0 + i});
  const auto line = [](int i, plane::Vec3 p) {
    return QString("%1,%2,%3,%4\n").arg(i).arg(p.x, 0, 'f', 9).arg(p.y, 0, 'f', 9).arg(p.z).toStdString();
  };
  for (int i = 0; i < 9; ++i) list += line(i, places.points[static_cast<std::size_t>(i)]);
  exchange::reproject(places, exchange::requireCoordinateSystem("EPSG:32755"),
                      exchange::requireCoordinateSystem("EPSG:4326"));
  for (int i = 0; i < 9; ++i) degrees += line(100 + i, places.points[static_cast<std::size_t>(i)]);
  s.file("metres.csv", list);
  s.file("degrees.csv", degrees);
  const auto pick = [](Driver& d, const QString& words) {
    d.whenDialog<app::SystemDialog>([words](app::SystemDialog& dialog) {
      auto* field = dialog.findChild<QLineEdit*>("systemWords");
      QTest::keyClicks(field, words);
      auto* found = dialog.findChild<QListWidget*>("systemList");
      REQUIRE(Driver::waitFor([&] { return found->count() > 0 && found->item(0)->text().contains(words); }));
      QTest::keyClick(field, Qt::Key_Return);
    });
  };
  const auto accept = [](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    auto* button = dialog.findChild<QPushButton*>("importAccept");
    REQUIRE(button->isEnabled());
    QTest::mouseClick(button, Qt::LeftButton);
  };
  Driver d;
  // The first file is in degrees: nothing comes in before the project has a system.
  d.whenDialog<app::ImportDialog>([&](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    auto* box = dialog.findChild<QComboBox*>("importSystem");
    pick(d, "EPSG:4326");
    box->setCurrentIndex(box->count() - 1);
    Q_EMIT box->activated(box->count() - 1);
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    CHECK_FALSE(dialog.findChild<QPushButton*>("importAccept")->isEnabled());
    CHECK(dialog.findChild<QListWidget*>("importWrong")->item(0)->text().contains("EPSG:32755"));
    pick(d, "EPSG:32755");
    QTest::mouseClick(dialog.findChild<QPushButton*>("importTarget"), Qt::LeftButton);
    accept(dialog);
  });
  REQUIRE(d.window.importFile(QString::fromStdString(s / "degrees.csv")));
  d.settle();
  CHECK(d.project().system == "EPSG:32755");
  const auto& bounds = d.workspace().evaluation()->grounds.front().tin->bounds();
  CHECK(bounds.minX + d.project().origin.easting == Approx(500000).margin(1e-3));
  CHECK(bounds.maxY + d.project().origin.northing == Approx(6200080).margin(1e-3));
  // One that tells none is in it already.
  d.whenDialog<app::ImportDialog>(accept);
  REQUIRE(d.window.importFile(QString::fromStdString(s / "metres.csv")));
  d.settle();
  CHECK(d.workspace().evaluation()->grounds.front().tin->bounds().width() == Approx(80).margin(1e-3));
  CHECK(d.workspace().evaluation()->grounds.front().tin->maxLevel() == Approx(78));

  d.whenDialog<app::SystemDialog>([](app::SystemDialog& dialog) {
    QTest::mouseClick(dialog.findChild<QPushButton*>("systemNone"), Qt::LeftButton);
  });
  d.act("system");
  CHECK(d.project().system.empty());
  d.act("undo");
  CHECK(d.project().system == "EPSG:32755");
}

TEST_CASE("A part of a file is taken by a frame or an outline on its picture, and levels from a chosen attribute") {
  const Scratch s;
  std::string features;
  for (int i = 0; i < 121; ++i)
    features += std::string(i ? "," : "") + R"({"type":"Feature","properties":{"survey":)" + std::to_string(50 + i) +
                R"(},"geometry":{"type":"Point","coordinates":[)" + std::to_string(412000 + 10 * (i % 11)) + "," +
                std::to_string(6187000 + 10 * (i / 11)) + ",0]}}";
  s.file("p.geojson", R"({"type":"FeatureCollection","features":[)" + features + "]}");
  Driver d;
  d.whenDialog<app::ImportDialog>([&](app::ImportDialog& dialog) {
    const auto ready = [&] { REQUIRE(Driver::waitFor([&] { return dialog.ready(); })); };
    ready();
    auto* levels = dialog.findChild<QComboBox*>("importAttribute");
    REQUIRE(levels->findText("survey") == 1);
    levels->setCurrentIndex(1);
    Q_EMIT levels->activated(1);
    ready();
    auto* picture = dialog.findChild<app::Thumbnail*>();
    auto* summary = dialog.findChild<QLabel*>("importSummary");
    CHECK(summary->text().contains("121"));
    // The file's square fills the picture but for a margin: a frame around its middle part.
    const QPoint middle = picture->rect().center();
    const int half = std::min(picture->width(), picture->height()) / 2 - 16;
    const auto at = [&](double u, double v) { return middle + QPoint(qRound(half * u), qRound(half * v)); };
    QTest::mousePress(picture, Qt::LeftButton, {}, at(-0.5, -0.5));
    QTest::mouseMove(picture, at(0.1, 0.1));
    QTest::mouseRelease(picture, Qt::LeftButton, {}, at(0.5, 0.5));
    ready();
    CHECK(summary->text().contains("25 points"));
    auto* limit = dialog.findChild<QComboBox*>("importLimit");
    CHECK(limit->currentText().contains("drawn"));
    limit->setCurrentIndex(0);
    Q_EMIT limit->activated(0);
    ready();
    CHECK(summary->text().contains("121"));
    // Corner by corner, one too many taken back: the lower left half.
    for (const QPoint p : {at(-1.05, -1.05), at(1.05, 1.05), at(0, 0)})
      QTest::mouseClick(picture, Qt::LeftButton, {}, p);
    QTest::keyClick(picture, Qt::Key_Backspace);
    QTest::mouseClick(picture, Qt::LeftButton, {}, at(-1.05, 1.05));
    QTest::mouseClick(picture, Qt::LeftButton, {}, at(-1.05, -1.05));
    ready();
    QTest::mouseClick(dialog.findChild<QPushButton*>("importAccept"), Qt::LeftButton);
  });
  REQUIRE(d.window.importFile(QString::fromStdString(s / "p.geojson")));
  d.settle();
  // Brought in again it is read the same way.
  d.whenDialog<app::ImportDialog>([&](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    CHECK(dialog.findChild<QComboBox*>("importAttribute")->currentText() == "survey");
    CHECK(dialog.findChild<QTableWidget*>("importLayers")->item(0, 5)->text().startsWith("50"));
    CHECK(dialog.findChild<QComboBox*>("importLimit")->currentText() == "Only inside the limit of last time");
    const auto kept = d.project().sources.at(0)->data->points.size();
    CHECK(dialog.findChild<QLabel*>("importSummary")->text().contains(QString("%1 points").arg(kept)));
    dialog.reject();
  });
  CHECK_FALSE(d.window.importFile(QString::fromStdString(s / "p.geojson")));
  const auto& points = d.project().sources.at(0)->data->points;
  CHECK(points.size() >= 55);  // those on the diagonal lie on either side
  CHECK(points.size() <= 66);
  for (const auto& p : points) CHECK(p.z >= 50);
}

TEST_CASE("Contours take any interval that is typed, and labels along drawn lines, in the file and the drawing too") {
  const Scratch s;
  Driver d;
  openLocked(d);
  auto* interval = d.find<QComboBox>("interval");
  const auto typeInterval = [&](const QString& text) {
    interval->setEditText(text);
    QTest::keyClick(interval->lineEdit(), Qt::Key_Return);
  };
  typeInterval("0.3");
  CHECK(d.window.view().shown().interval == 0.3);
  typeInterval("oxen");
  CHECK(d.window.view().shown().interval == 0.3);
  CHECK(d.window.messages().text().contains("0.3"));
  CHECK(interval->currentText() == "0.3 m");
  typeInterval("0.5 m");
  CHECK(d.window.view().shown().interval == 0.5);

  d.act("snap");
  d.act("labelLine");
  d.clickPlan(d.at({-60, -40}));
  d.clickPlan(d.at({-55, 40}));
  d.key(Qt::Key_Return);
  d.settle();
  REQUIRE(d.project().labelLines.size() == 1);
  CHECK(d.project().labelLines[0].size() == 2);
  REQUIRE(d.window.saveProject(QString::fromStdString(s / "p.inselberg")));
  REQUIRE(d.window.openProject(QString::fromStdString(s / "p.inselberg")));
  d.settle();
  REQUIRE(d.project().labelLines.size() == 1);
  REQUIRE(d.window.exportContours(QString::fromStdString(s / "c.dxf")));
  const std::string drawing = contentOf(s / "c.dxf");
  CHECK(drawing.find("CONTOUR LABELS") != std::string::npos);
  // Read back, the texts label contours: they are no points of their own.
  const auto back = exchange::readAny(s / "c.dxf");
  CHECK(back.points.empty());
  CHECK(back.lines.size() > 5);
  d.act("clearLabels");
  CHECK(d.project().labelLines.empty());
  d.act("undo");
  CHECK(d.project().labelLines.size() == 1);
}

TEST_CASE("A mistyped contour is set to the level that fits, and a hole filled, each by one press") {
  const Scratch s;
  std::string dxf = "0\nSECTION\n2\nENTITIES\n";
  for (int k = 0; k < 6; ++k) {
    const std::string level = std::to_string(k == 3 ? 37 : 70 + k);
    dxf += "0\nPOLYLINE\n8\nCONTOURS\n66\n1\n70\n8\n";
    for (int i = 0; i <= 12; ++i)
      dxf += "0\nVERTEX\n8\nCONTOURS\n10\n" + std::to_string(10 * k + i % 2) + "\n20\n" + std::to_string(6 * i) +
             "\n30\n" + level + "\n70\n32\n";
    dxf += "0\nSEQEND\n";
  }
  Driver d;
  d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    QTest::mouseClick(dialog.findChild<QPushButton*>("importAccept"), Qt::LeftButton);
  });
  REQUIRE(d.window.importFile(QString::fromStdString(s.file("c.dxf", dxf + "0\nENDSEC\n0\nEOF\n"))));
  d.settle();
  d.workspace().chooseGround(d.project().column.front()->id);
  auto* list = d.find<QListWidget>("doubts");
  auto* cure = d.find<QPushButton>("cureDoubt");
  const auto mark = [&](const QString& word) {
    for (int row = 0; row < list->count(); ++row) {
      if (!list->item(row)->text().contains(word)) continue;
      list->setCurrentRow(row);
      return true;
    }
    return false;
  };
  REQUIRE(mark("Mistyped"));
  CHECK(cure->text().contains("73"));
  cure->click();
  d.settle();
  CHECK_FALSE(mark("Mistyped"));
  CHECK(d.project().sources.at(0)->data->breaklines.at(3).vertices.at(5).z == 73);
  CHECK(d.workspace().evaluation()->grounds.front().tin->minLevel() == 70);

  const GroundId id = d.project().column.front()->id;
  const auto& tin = *d.workspace().evaluation()->grounds.front().tin;
  ground::Index inner = 0;
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    const auto& n = tin.neighbours()[t];
    if (std::count(n.begin(), n.end(), ground::kNone) == 0) inner = t;
  }
  const auto c = tin.corners(inner);
  const std::size_t before = tin.triangles().size();
  d.workspace().commit(
      project::withMend(d.project(), id, ground::DeleteTriangle{(1.0 / 3) * (c[0].plan() + c[1].plan() + c[2].plan())}),
      "delete");
  d.settle();
  REQUIRE(mark("hole"));
  cure->click();
  d.settle();
  CHECK_FALSE(mark("hole"));
  CHECK(d.workspace().evaluation()->grounds.front().tin->triangles().size() == before);
}

TEST_CASE("Backspace takes back the last click of a line, and no more") {
  Driver d;
  openLocked(d);
  d.act("snap");
  d.act("drawBreakline");
  const plane::Vec2 places[] = {{-60, -20}, {-30, -20}, {-20, 10}};
  for (const plane::Vec2 p : places) d.clickPlan(d.at(p));
  d.key(Qt::Key_Backspace);
  d.clickPlan(d.at({0, 0}));
  d.key(Qt::Key_Return);
  d.settle();
  const auto& line = drawn(d).data->breaklines.at(0);
  REQUIRE(line.vertices.size() == 3);
  CHECK(plane::distance(line.vertices[0].plan(), places[0]) < 1);
  CHECK(plane::distance(line.vertices[1].plan(), places[1]) < 1);
  CHECK(plane::distance(line.vertices[2].plan(), {0, 0}) < 1);
}

TEST_CASE("A message that tells what went well goes by itself, one of what is wrong stays") {
  Driver d;
  auto* timer = d.window.messages().findChild<QTimer*>();
  REQUIRE(timer);
  d.window.messages().say("Saved.", false);
  CHECK(timer->isActive());
  d.window.messages().say("It is wrong.", true);
  CHECK_FALSE(timer->isActive());
  CHECK(d.window.messages().isVisible());
}
