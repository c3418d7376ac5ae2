// Choosing and shaping works on the plan, on the card and in the column.
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <set>

#include "canvas/snapping.h"
#include "card/level_plot.h"
#include "card/quantity_edit.h"
#include "report/plan_drawing.h"
#include "support/driver.h"
#include "support/mound.h"
#include "tools/draw_places_tool.h"
#include "window/rows_dialog.h"
#include "works/handles.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

void checkAgainstCli(Driver& d) {
  const Scratch scratch;
  REQUIRE(d.window.saveProject(QString::fromStdString(scratch / "p.inselberg")));
  const auto told = reportOf(scratch / "p.inselberg");
  const auto ledger = d.ledger();
  CHECK(told["total"]["cut_m3"].get<double>() == Approx(ledger.cut).epsilon(1e-12));
  CHECK(told["total"]["fill_m3"].get<double>() == Approx(ledger.fill).epsilon(1e-12));
}

}  // namespace

TEST_CASE("The demo opens with ground, pad and the figures the command line reports") {
  Driver d;
  d.openDemo();
  const auto told = reportOf(demo("tolwin.inselberg"));
  CHECK(d.ledger().cut == Approx(told["total"]["cut_m3"].get<double>()).epsilon(1e-12));
  CHECK(d.ledger().fill == Approx(told["total"]["fill_m3"].get<double>()).epsilon(1e-12));
  CHECK(d.find<QToolButton>("ledgerCut")->text().contains(QString::fromStdString(formatNumber(d.ledger().cut, 0))));
  CHECK_FALSE(d.workspace().unsaved());
  CHECK(d.window.windowTitle().contains("Tolwin Grain Depot"));
}

TEST_CASE("Dragging a corner moves it, with figures that follow, as one step of undo") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  REQUIRE(d.workspace().chosenWorks().value != 0);
  const Vec2 before = d.corner(0, 1);
  const double cutBefore = d.ledger().cut;
  const QPoint from = d.at(before), to = from + QPoint(40, 22);
  d.dragPlan(from, to, [&] {
    // While the button is held the plan, the seam and the ledger already show it.
    CHECK_FALSE(d.workspace().history().canUndo());
    REQUIRE(Driver::waitFor(
        [&] { return d.workspace().evaluation()->project == d.workspace().project() && d.ledger().whole; }));
    CHECK(d.ledger().cut != cutBefore);
  });
  d.settle();
  const Vec2 after = d.corner(0, 1);
  CHECK(plane::distance(after, d.window.plan().view().toPlan(to)) <
        1 / d.window.plan().view().scale + 9 / d.window.plan().view().scale);
  CHECK(plane::distance(after, before) > 5);
  CHECK(d.workspace().history().undoText() == "move a corner of Silo pad");
  checkAgainstCli(d);
  d.act("undo");
  d.settle();
  CHECK(d.corner(0, 1) == before);
  CHECK(d.ledger().cut == Approx(cutBefore).epsilon(1e-12));
  CHECK_FALSE(d.workspace().history().canUndo());
  d.act("redo");
  d.settle();
  CHECK(d.corner(0, 1) == after);
}

TEST_CASE("A pad that is not chosen yet is chosen and moved as a whole in one drag, even by its corner") {
  Driver d;
  d.openDemo();
  const auto ring = works::outlineOf(d.works(0).shape);
  d.dragPlan(d.at(ring[3]), d.at(ring[3]) + QPoint(-25, 14));
  d.settle();
  const auto moved = works::outlineOf(d.works(0).shape);
  for (std::size_t i = 1; i < ring.size(); ++i) CHECK(plane::distance(moved[i] - ring[i], moved[0] - ring[0]) < 1e-9);
  CHECK(plane::distance(moved[0], ring[0]) > 3);
  CHECK(d.workspace().chosenWorks() == d.works(0).id);
}

TEST_CASE("Dragging an edge, the whole and the level handle") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const auto ring = works::outlineOf(d.works(0).shape);

  d.dragPlan(d.at(d.inside(0)), d.at(d.inside(0)) + QPoint(30, -16));
  d.settle();
  const auto moved = works::outlineOf(d.works(0).shape);
  const Vec2 by = moved[0] - ring[0];
  CHECK(plane::norm(by) > 3);
  for (std::size_t i = 0; i < ring.size(); ++i) CHECK(plane::distance(moved[i], ring[i] + by) < 1e-9);

  const QPoint middle = d.at(0.5 * (moved[0] + moved[1]));
  d.dragPlan(middle, middle + QPoint(4, 30));
  d.settle();
  const auto edged = works::outlineOf(d.works(0).shape);
  const Vec2 along = plane::unit(moved[1] - moved[0]);
  CHECK(plane::distance(edged[0], moved[0]) > 3);
  CHECK(std::abs(plane::dot(edged[0] - moved[0], along)) < 1e-9);
  CHECK(plane::distance(edged[2], moved[2]) < 1e-9);

  const double level = works::levelOf(d.works(0).shape).value();
  const QPoint handle = d.at(plane::boundsOf(edged).centre());
  d.dragPlan(handle, handle - QPoint(0, 40));
  d.settle();
  CHECK(works::levelOf(d.works(0).shape).value() == Approx(level + 0.4));
  checkAgainstCli(d);
}

TEST_CASE("A pad is tilted on the card, swung and steepened on the plan, fitted, and kept") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  auto* top = d.find<QComboBox>("field-top");
  const auto choose = [&](int i) {
    top->setCurrentIndex(i);
    Q_EMIT top->activated(i);
    d.settle();
  };
  CHECK_FALSE(d.find<QWidget>("field-fall_percent")->isVisible());
  choose(1);
  CHECK(d.find<QWidget>("field-fall_percent")->isVisible());
  const double level = works::levelOf(d.works(0).shape).value();

  const auto tip = works::handlesOf(d.works(0).shape).back();
  REQUIRE(tip.grip == works::Grip::fall);
  d.dragPlan(d.at(tip.at), d.at(works::fallTip(d.works(0).shape, {works::middleOf(d.works(0).shape), 4, 210})));
  d.settle();
  const auto fall = works::fallOf(d.works(0).shape);
  REQUIRE(fall);
  // To a pixel.
  CHECK(fall->percent == Approx(4).margin(0.5));
  CHECK(fall->bearing == Approx(210).margin(3));
  CHECK(works::levelOf(d.works(0).shape).value() == level);
  const auto* finished = d.workspace().evaluation()->ground(d.project().finished());
  const Vec2 middle = works::middleOf(d.works(0).shape);
  CHECK(*finished->levelAt(middle) == Approx(level).margin(1e-6));
  const double bearing = fall->bearing * 3.14159265358979 / 180;
  CHECK(*finished->levelAt(middle + 5 * Vec2{std::sin(bearing), std::cos(bearing)}) ==
        Approx(level - 5 * fall->percent / 100).margin(1e-6));
  checkAgainstCli(d);
  d.act("undo");
  CHECK(works::fallOf(d.works(0).shape)->bearing != Approx(fall->bearing));
  d.act("redo");

  choose(2);
  CHECK(d.find<QLabel>("worksFound")->text().contains("towards"));
  CHECK_FALSE(d.find<QPushButton>("balance")->isVisible());
  CHECK(d.ledger().cut < 400);
  checkAgainstCli(d);
  // As it is kept and opened again.
  const Scratch scratch;
  const auto kept = d.works(0).shape;
  REQUIRE(d.window.saveProject(QString::fromStdString(scratch / "fitted.inselberg")));
  REQUIRE(d.window.openProject(QString::fromStdString(scratch / "fitted.inselberg")));
  CHECK(d.works(0).shape == kept);
}

TEST_CASE("Works are nudged, copied, turned and mirrored, each undone in a step") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const works::Shape start = d.works(0).shape;
  d.key(Qt::Key_Right);
  d.key(Qt::Key_Up);
  CHECK(plane::distance(works::outlineOf(d.works(0).shape)[0], works::outlineOf(start)[0] + Vec2{0.1, 0.1}) < 1e-9);
  d.act("undo");
  d.act("undo");
  CHECK(d.works(0).shape == start);

  d.act("copyWorks");
  d.act("copyWorks");
  d.settle();
  REQUIRE(d.project().column.back()->works.size() == 3);
  CHECK(d.works(1).name == d.works(0).name + " copy");
  CHECK(d.works(2).name == d.works(0).name + " copy 2");
  CHECK(d.workspace().chosenWorks() == d.works(2).id);
  CHECK(works::boundsOf(d.works(1).shape).minX > works::boundsOf(d.works(0).shape).maxX);

  d.whenDialog<QInputDialog>([](QInputDialog& dialog) {
    dialog.setDoubleValue(90);
    dialog.accept();
  });
  d.act("turnWorks");
  const plane::Box before = works::boundsOf(d.works(1).shape), now = works::boundsOf(d.works(2).shape);
  CHECK(now.width() == Approx(before.height()));
  CHECK(now.height() == Approx(before.width()));
  const works::Shape turned = d.works(2).shape;
  d.act("mirrorWorks");
  CHECK_FALSE(d.works(2).shape == turned);
  d.act("mirrorWorks");
  CHECK(plane::distance(works::outlineOf(d.works(2).shape)[0], works::outlineOf(turned)[0]) < 1e-9);
  // Without a works chosen, the arrow keys move the plan.
  d.key(Qt::Key_Escape);
  const auto centre = d.window.plan().view().centre;
  d.key(Qt::Key_Right);
  CHECK(d.window.plan().view().centre.x > centre.x);
}

TEST_CASE("The window goes on a screen of 1280 pixels") {
  Driver d;
  d.openDemo();
  CHECK(d.window.minimumSizeHint().width() <= 1280);
}

TEST_CASE("A drag that would make the outline cross itself stops, and Esc gives it up") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const auto before = d.workspace().project();
  const auto ring = works::outlineOf(d.works(0).shape);
  // Corner 0 to beyond the far side: the last good place is kept.
  d.dragPlan(d.at(ring[0]), d.at(ring[1]) + QPoint(120, 10));
  d.settle();
  CHECK_NOTHROW(plane::sound({works::outlineOf(d.works(0).shape), {}}, {}));
  if (d.workspace().history().canUndo()) d.act("undo");
  d.settle();
  d.dragPlan(d.at(ring[2]), d.at(ring[2]) + QPoint(25, 25), [&] { d.key(Qt::Key_Escape); });
  d.settle();
  CHECK(d.corner(0, 2) == ring[2]);
  CHECK_FALSE(d.workspace().history().canUndo());
}

TEST_CASE("Balance moves the level to where cut equals fill, the same as the command line") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  d.act("balance");
  REQUIRE(Driver::waitFor([&] { return d.workspace().history().canUndo(); }));
  d.settle();
  CHECK(std::abs(d.ledger().surplus()) < 1e-3);
  const auto told = jsonFrom(
      runCli("pad '" + demo("existing.xml") + "' --outline '" + demo("silo-pad.geojson") + "' --balance --json"));
  CHECK(works::levelOf(d.works(0).shape).value() == Approx(told["level_m"].get<double>()).margin(1e-5));
  CHECK(d.window.messages().text().contains("balances"));
  CHECK(d.find<QToolButton>("ledgerSurplus")->text().startsWith("Balanced"));
  checkAgainstCli(d);
}

TEST_CASE("A second pad is drawn by clicking its corners, with length, right angles, Backspace and Esc") {
  Driver d;
  d.openDemo();
  d.act("draw-pad");
  d.act("snap");  // off: the corners are where they are clicked
  const QPoint a(520, 470);
  d.clickPlan(a);
  d.clickPlan(a + QPoint(60, 0));
  d.clickPlan(a + QPoint(300, 10));
  d.key(Qt::Key_Backspace);
  d.act("rightAngles");
  d.clickPlan(a + QPoint(64, 50));  // held square to the first side
  d.act("rightAngles");
  d.clickPlan(a + QPoint(0, 50));
  d.key(Qt::Key_Return);
  REQUIRE(d.project().column.back()->works.size() == 2);
  d.settle();
  const auto ring = works::outlineOf(d.works(1).shape);
  REQUIRE(ring.size() == 4);
  bool square = false;
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec2 u = ring[(i + 1) % 4] - ring[i], v = ring[(i + 2) % 4] - ring[(i + 1) % 4];
    square |= std::abs(plane::dot(u, v)) < 1e-6 * plane::norm(u) * plane::norm(v);
  }
  CHECK(square);
  CHECK(d.workspace().chosenWorks() == d.works(1).id);
  CHECK_FALSE(d.window.column().rowOf(d.works(1).id).isEmpty());
  checkAgainstCli(d);
  d.act("undo");
  d.settle();
  CHECK(d.project().column.back()->works.size() == 1);
  CHECK_FALSE(d.workspace().chosenWorks());
  // Esc gives the drawing up, then the tool.
  d.act("draw-pad");
  d.clickPlan(a);
  d.key(Qt::Key_Escape);
  d.key(Qt::Key_Escape);
  CHECK(d.window.findChild<QAction*>("select")->isChecked());
}

TEST_CASE("A pad drawn with crossing sides, or off the ground, is refused with a message") {
  Driver d;
  d.openDemo();
  d.act("draw-pad");
  d.act("snap");
  for (const QPoint p : {QPoint(450, 400), QPoint(520, 460), QPoint(520, 400), QPoint(450, 460)}) d.clickPlan(p);
  d.key(Qt::Key_Return);
  CHECK(d.project().column.back()->works.size() == 1);
  CHECK(d.window.messages().text().contains("crosses"));
}

TEST_CASE("The pointer snaps to corners with a mark, and not when snapping is off") {
  Driver d;
  d.openDemo();
  d.act("draw-pad");
  const QPoint near = d.at(d.corner(0, 2)) + QPoint(1, 1);
  for (const QPoint p : {near, near + QPoint(60, 5), near + QPoint(50, 50)}) d.clickPlan(p);
  d.key(Qt::Key_Return);
  REQUIRE(d.project().column.back()->works.size() == 2);
  const auto ring = works::outlineOf(d.works(1).shape);
  CHECK(std::any_of(ring.begin(), ring.end(), [&](Vec2 p) { return p == d.corner(0, 2); }));
}

TEST_CASE("Corners are added by double-click and removed by Delete, and Delete elsewhere removes the works") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const auto ring = works::outlineOf(d.works(0).shape);
  const QPoint middle = d.at(0.5 * (ring[0] + ring[1]));
  d.movePlan(middle);
  QTest::mouseDClick(&d.window.plan(), Qt::LeftButton, {}, middle);
  CHECK(works::outlineOf(d.works(0).shape).size() == ring.size() + 1);
  d.settle();
  d.movePlan(middle);
  d.key(Qt::Key_Delete);
  CHECK(works::outlineOf(d.works(0).shape).size() == ring.size());
  d.movePlan(d.at(d.inside(0)));
  d.key(Qt::Key_Delete);
  CHECK(d.project().column.back()->works.empty());
  d.settle();
  CHECK(d.ledger().cut == 0);
  d.act("undo");
  CHECK(d.project().column.back()->works.size() == 1);
}

TEST_CASE("Undo in a field takes back what is being typed there, and then what was taken over") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  auto* level = d.find<app::QuantityEdit>("field-level");
  QApplication::setActiveWindow(level->window());  // shortcuts are the active window's
  const auto levelNow = [&] { return works::levelOf(d.works(0).shape).value(); };
  const double before = levelNow();
  const auto ctrl = [&](Qt::Key key, Qt::KeyboardModifiers more = {}) {
    QTest::keyClick(level, key, Qt::ControlModifier | more);
  };
  level->setFocus();
  level->selectAll();
  QTest::keyClicks(level, "79.5");
  QTest::keyClick(level, Qt::Key_Return);
  CHECK(levelNow() == 79.5);
  level->selectAll();
  QTest::keyClicks(level, "81");
  for (int steps = 0; level->isUndoAvailable() && steps < 5; ++steps) ctrl(Qt::Key_Z);  // what is being typed
  CHECK(level->text().startsWith("79.5"));
  CHECK(levelNow() == 79.5);
  ctrl(Qt::Key_Z);
  CHECK(levelNow() == before);
  ctrl(Qt::Key_Z, Qt::ShiftModifier);
  CHECK(levelNow() == 79.5);
  d.settle();
}

TEST_CASE("The card takes levels and slopes in every form, and marks what it cannot read") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  auto* level = d.find<app::QuantityEdit>("field-level");
  const auto type = [](app::QuantityEdit* field, const QString& text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  };
  const auto levelNow = [&] { return works::levelOf(d.works(0).shape).value(); };
  type(level, "79.5");
  CHECK(levelNow() == 79.5);
  type(level, "+0.25");
  CHECK(levelNow() == 79.75);
  type(level, "-0.5 m");
  CHECK(levelNow() == 79.25);
  type(level, "260 ft");
  CHECK(levelNow() == Approx(260 * 0.3048));
  type(level, "260 ft 6 in");
  CHECK(levelNow() == Approx(260.5 * 0.3048));
  type(level, "1 078.5 m");
  CHECK(levelNow() == 1078.5);
  // Below zero a minus is the level's own.
  type(level, "=-2");
  CHECK(levelNow() == -2);
  type(level, "-2.1");
  CHECK(levelNow() == -2.1);
  type(level, "+0.25");
  CHECK(levelNow() == Approx(-1.85));
  type(level, "78,5");
  CHECK(levelNow() == 78.5);
  QTest::keyClick(level, Qt::Key_Up);
  CHECK(levelNow() == Approx(78.6));
  QTest::keyClick(level, Qt::Key_Down, Qt::ShiftModifier);
  CHECK(levelNow() == Approx(78.59));
  type(level, "high");
  CHECK(level->property("wrong").toBool());
  CHECK(levelNow() == Approx(78.59));
  QTest::keyClick(level, Qt::Key_Escape);
  CHECK_FALSE(level->property("wrong").toBool());

  auto* fill = d.find<app::QuantityEdit>("field-fill_batter");
  const auto run = [&] { return d.works(0).shape.as<works::Pad>()->batters.fill.run(); };
  type(fill, "3:1");
  CHECK(run() == 3);
  type(fill, "40 %");
  CHECK(run() == Approx(2.5));
  type(fill, "45 deg");
  CHECK(run() == Approx(1));
  type(fill, "0");
  CHECK(fill->property("wrong").toBool());
  CHECK(run() == Approx(1));
  d.settle();

  auto* corners = d.find<QComboBox>("field-corners");
  corners->setFocus();
  QTest::keyClick(corners, Qt::Key_Down);
  CHECK(d.works(0).shape.as<works::Pad>()->batters.corners == works::CornerStyle::square);
  auto* name = d.find<QLineEdit>("worksName");
  name->selectAll();
  QTest::keyClicks(name, "Silos east");
  QTest::keyClick(name, Qt::Key_Return);
  CHECK(d.works(0).name == "Silos east");
  d.settle();
  checkAgainstCli(d);
}

TEST_CASE("The curve on the card meets at the balance level, and its line drags the level") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  auto* plot = d.find<app::LevelPlot>("worksPlot");
  REQUIRE(Driver::waitFor([&] { return plot->hasCurve(); }));
  const auto told = jsonFrom(
      runCli("pad '" + demo("existing.xml") + "' --outline '" + demo("silo-pad.geojson") + "' --balance --json"));
  REQUIRE(plot->balanceLevel());
  CHECK(*plot->balanceLevel() == Approx(told["level_m"].get<double>()).margin(0.05));
  QWidget* inner = plot->findChild<QWidget*>();
  const QPoint from(static_cast<int>(plot->xOf(77.5)), 60), to(static_cast<int>(plot->xOf(78.0)), 60);
  QTest::mousePress(inner, Qt::LeftButton, {}, from);
  QMouseEvent move(QEvent::MouseMove, to, inner->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(inner, &move);
  CHECK(works::levelOf(d.works(0).shape).value() == Approx(78.0).margin(0.05));
  CHECK_FALSE(d.workspace().history().canUndo());
  QTest::mouseRelease(inner, Qt::LeftButton, {}, to);
  CHECK(d.workspace().history().canUndo());
  d.settle();
}

TEST_CASE("Hidden works take part, but are not drawn, met or snapped to until they are chosen or shown") {
  Driver d;
  d.openDemo("depot.inselberg");
  auto& column = d.window.column();
  auto& workspace = d.workspace();
  const auto& all = d.project().column.back()->works;
  const auto yard = std::find_if(all.begin(), all.end(), [](const auto& w) { return w->name == "Truck yard"; });
  const WorksId id = (*yard)->id;
  const plane::Ring outline = works::outlineOf((*yard)->shape);
  const Vec2 middle = works::placeOf((*yard)->shape);
  workspace.chooseWorks({});
  const auto isShown = [&] {
    const auto shown = workspace.worksShown();
    return std::any_of(shown.begin(), shown.end(), [&](const auto& w) { return w.works->id == id; });
  };
  const auto snapped = [&] {
    return app::snapped({d.project()}, {}, {outline[0] + Vec2{0.1, 0}, 0.5, {}, {}, 1}).has_value();
  };
  const double cut = d.ledger().cut, fill = d.ledger().fill;
  CHECK((isShown() && snapped() && workspace.worksAt(middle) == id));

  QTest::mouseClick(&column, Qt::LeftButton, {}, column.eyeOf(id).center());
  d.settle();
  CHECK(d.ledger().cut == cut);
  CHECK(d.ledger().fill == fill);
  CHECK(!isShown());
  CHECK(!snapped());
  CHECK(workspace.worksAt(middle) != id);
  const auto drawing = report::planDrawing(*workspace.evaluation(), d.project().finished(), {}, {});
  for (const auto& layer : drawing.layers) {
    for (const auto& text : layer.texts) CHECK(text.text.find("Truck yard") == std::string::npos);
  }

  QTest::mouseClick(&column, Qt::LeftButton, {}, column.rowOf(id).center() - QPoint(40, 0));
  CHECK((isShown() && workspace.worksAt(middle) == id));
  d.act("hideWorks");
  CHECK_FALSE(d.project().works(id).works->hidden);
  d.act("hideWorks");
  d.act("leaveOutWorks");
  d.settle();
  CHECK(d.ledger().fill != fill);
  d.act("leaveOutWorks");
  d.act("showAllWorks");
  d.settle();
  CHECK(d.ledger().fill == Approx(fill).epsilon(1e-12));
  workspace.chooseWorks({});
  CHECK((isShown() && snapped()));
  d.act("undo");
  d.settle();
  CHECK_FALSE(isShown());
}

TEST_CASE("The column chooses, leaves out, takes in and reorders") {
  Driver d;
  d.openDemo();
  d.act("draw-pad");
  d.act("snap");
  for (const QPoint p : {QPoint(450, 300), QPoint(560, 300), QPoint(560, 380), QPoint(450, 380)}) d.clickPlan(p);
  d.key(Qt::Key_Return);
  d.settle();
  auto& column = d.window.column();
  const auto first = d.works(0).id, second = d.works(1).id;
  QTest::mouseClick(&column, Qt::LeftButton, {}, column.rowOf(first).center() - QPoint(40, 0));
  CHECK(d.workspace().chosenWorks() == first);
  const double cut = d.ledger().cut;
  QTest::mouseClick(&column, Qt::LeftButton, {}, column.partOf(second).center());
  d.settle();
  CHECK(d.works(1).leftOut);
  CHECK(d.ledger().cut != cut);
  QTest::mouseClick(&column, Qt::LeftButton, {}, column.partOf(second).center());
  d.settle();
  CHECK(d.ledger().cut == Approx(cut).epsilon(1e-12));
  // Drag the second above the first.
  const QPoint from = column.rowOf(second).center() - QPoint(30, 0), to = column.rowOf(first).center() - QPoint(30, 8);
  QTest::mousePress(&column, Qt::LeftButton, {}, from);
  for (int i = 1; i <= 4; ++i) {
    const QPoint p = from + (to - from) * i / 4;
    QMouseEvent move(QEvent::MouseMove, p, column.mapToGlobal(p), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&column, &move);
  }
  QTest::mouseRelease(&column, Qt::LeftButton, {}, to);
  CHECK(d.works(0).id == second);
  CHECK(d.works(1).id == first);
  d.act("undo");
  CHECK(d.works(0).id == first);
  // The keyboard walks down the column.
  QTest::mouseClick(&column, Qt::LeftButton, {}, column.bandOf(d.project().column.back()->id).center());
  QTest::keyClick(&column, Qt::Key_Down);
  CHECK(d.workspace().chosenWorks() == first);
  QTest::keyClick(&column, Qt::Key_Down);
  QTest::keyClick(&column, Qt::Key_Down);
  CHECK_FALSE(d.workspace().chosenWorks());
  CHECK(d.workspace().chosenGround() == d.project().column.front()->id);
  d.settle();
}

TEST_CASE("A kind of works the window never heard of is drawn, shown, typed, dragged and undone by its description") {
  Driver d;
  d.openDemo();
  app::PlanView& plan = d.window.plan();
  plan.setTool(std::make_unique<app::DrawPlacesTool>(plan, app::worksToDraw(plan, {kindOf(Mound{}), Mound{}})));
  CHECK(plan.tool().hint() == "Click where the mound begins. Esc ends.");
  const QPoint start = d.at(plan.view().visible().centre()) + QPoint(-90, 60);
  d.clickPlan(start);
  d.key(Qt::Key_Return);  // a line of one point is none
  CHECK(d.project().column.back()->works.size() == 1);
  d.clickPlan(start + QPoint(70, 20));
  d.clickPlan(start + QPoint(150, 0));
  d.key(Qt::Key_Return);
  d.settle();
  REQUIRE(d.project().column.back()->works.size() == 2);
  CHECK(d.works(1).name == "Mound 1");
  CHECK(d.workspace().chosenWorks() == d.works(1).id);
  const auto mound = [&] { return *d.works(1).shape.as<Mound>(); };
  CHECK(mound().spine.size() == 3);
  CHECK(mound().top > 60);
  CHECK(d.ledger().rows.back().figures.front().name == "top_m");

  // The card asks for its fields, and for the cap of a capped one only.
  const auto type = [&](const char* name, const QString& text) {
    auto* field = d.find<app::QuantityEdit>(name);
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  };
  CHECK(d.find<QLabel>("worksCut")->isVisible());
  type("field-top", "+0.5");
  type("field-width", "7");
  CHECK(mound().width == 7);
  type("field-width", "70");
  CHECK(mound().width == 7);
  CHECK(d.find<app::QuantityEdit>("field-width")->property("wrong").toBool());
  CHECK(d.window.messages().text().contains("Width must lie between 0.5 and 50 m"));
  auto* cap = d.find<app::QuantityEdit>("field-cap");
  CHECK_FALSE(cap->isVisible());
  auto* make = d.find<QComboBox>("field-make");
  make->setFocus();
  QTest::keyClick(make, Qt::Key_Down);
  CHECK(mound().make == MoundMake::capped);
  CHECK(cap->isVisible());
  QTest::mouseClick(d.find<QCheckBox>("field-sown"), Qt::LeftButton, {}, QPoint(8, 8));
  CHECK(mound().sown);
  CHECK(d.workspace().history().undoText() == "change the sown of Mound 1");
  d.settle();

  // Its handles: a point, a part, the level.
  const auto spine = mound().spine;
  const double top = mound().top;
  d.dragPlan(d.at(spine[1]), d.at(spine[1]) + QPoint(9, -31));
  CHECK(d.workspace().history().undoText() == "move a corner of Mound 1");
  CHECK(mound().spine[0] == spine[0]);
  CHECK(mound().spine[1] != spine[1]);
  d.settle();
  const auto bent = mound().spine;
  const QPoint middle = d.at(0.5 * (bent[1] + bent[2]));
  d.dragPlan(middle, middle + QPoint(-5, 22));
  CHECK(plane::distance(mound().spine[1] - bent[1], mound().spine[2] - bent[2]) < 1e-9);
  CHECK(mound().spine[0] == bent[0]);
  d.settle();
  const plane::Box box = works::boundsOf(d.works(1).shape);
  const QPoint staff = d.at({box.maxX, box.maxY}) + QPoint(16, -16);
  d.dragPlan(staff, staff - QPoint(0, 30));
  CHECK(mound().top == Approx(top + 0.3));
  d.settle();
  while (d.workspace().history().canUndo()) d.act("undo");
  d.settle();
  CHECK(d.project().column.back()->works.size() == 1);
}

TEST_CASE("A click whose mouse trembles moves nothing") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const auto before = d.workspace().project();
  for (const QPoint by : {QPoint(2, 0), QPoint(-1, 1), QPoint(0, -2)}) {
    const QPoint corner = d.at(d.corner(0, 1));
    d.movePlan(corner);
    QTest::mousePress(&d.window.plan(), Qt::LeftButton, {}, corner);
    d.movePlan(corner + by, Qt::LeftButton);
    QTest::mouseRelease(&d.window.plan(), Qt::LeftButton, {}, corner + by);
  }
  CHECK(d.workspace().project() == before);
  CHECK_FALSE(d.workspace().history().canUndo());
}

TEST_CASE("A corner that is dragged a little does not snap back to itself") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  REQUIRE(d.window.view().shown().snapping);
  const Vec2 before = d.corner(0, 4);
  d.dragPlan(d.at(before), d.at(before) + QPoint(6, 1));
  CHECK(plane::distance(d.corner(0, 4), before) * d.window.plan().view().scale > 4);
  d.settle();
}

TEST_CASE("With right angles on, sides are drawn along and square to the one before") {
  Driver d;
  d.openDemo();
  d.act("snap");
  d.act("rightAngles");
  d.act("draw-pad");
  const QPoint start = d.at(d.window.plan().view().visible().centre()) + QPoint(-120, 60);
  d.clickPlan(start);
  d.clickPlan(start + QPoint(80, 9));
  d.clickPlan(start + QPoint(87, -60));
  d.clickPlan(start + QPoint(-4, -52));
  d.key(Qt::Key_Return);
  d.settle();
  REQUIRE(d.project().column.back()->works.size() == 2);
  const plane::Ring ring = works::outlineOf(d.works(1).shape);
  REQUIRE(ring.size() == 4);
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec2 side = ring[i + 1] - ring[i];
    CHECK(std::min(std::abs(side.x), std::abs(side.y)) < 1e-9);
    CHECK(plane::norm(side) * d.window.plan().view().scale > 40);
  }
}

TEST_CASE("Lengths and rectangles are typed while drawing and handles take what is typed over them") {
  Driver d;
  d.openDemo();
  const std::size_t before = d.project().column.back()->works.size();
  const auto type = [&](const QString& text) {
    QTest::keyClicks(&d.window.plan(), text.left(1));
    auto* entry = d.find<QLineEdit>("planEntry");
    REQUIRE(entry->isVisible());
    entry->setText(text);
    QTest::keyClick(entry, Qt::Key_Return);
    CHECK(!entry->isVisible());
  };
  // A rectangle from its first corner.
  d.act("draw-pad");
  d.clickPlan(d.at({-90, 20}));
  type("30 x 12 at 60");
  d.settle();
  REQUIRE(d.project().column.back()->works.size() == before + 1);
  const auto ring = works::outlineOf(d.works(before).shape);
  CHECK(std::abs(plane::signedArea(ring)) == Approx(360));
  // Sides by their lengths.
  d.act("draw-berm");
  d.clickPlan(d.at({-95, 60}));
  d.movePlan(d.at({-40, 60}));
  type("25");
  type("10 at 0");
  d.key(Qt::Key_Return);
  d.settle();
  const auto line = works::placesOf(d.works(before + 1).shape).front().points;
  REQUIRE(line.size() == 3);
  CHECK(plane::distance(line[0], line[1]) == Approx(25));
  CHECK(line[2].y - line[1].y == Approx(10));
  CHECK(line[2].x == Approx(line[1].x));

  // The level, over its handle; an edge, out by so much.
  d.workspace().chooseWorks(d.works(before).id);
  d.act("select");
  const auto handles = works::handlesOf(d.works(before).shape);
  const auto hover = [&](works::Grip grip) {
    for (const auto& h : handles) {
      if (h.grip == grip) return d.movePlan(d.at(h.at));
    }
  };
  const double level = *works::levelOf(d.works(before).shape);
  hover(works::Grip::level);
  type("+0.25");
  CHECK(*works::levelOf(d.works(before).shape) == Approx(level + 0.25));
  hover(works::Grip::side);
  type("2");
  const double area = std::abs(plane::signedArea(works::outlineOf(d.works(before).shape)));
  CHECK((area == Approx(360 + 60) || area == Approx(360 + 24)));
  // That edge with a slope or a wall of its own, and as the others again.
  d.settle();
  const auto edges = [&] { return d.works(before).shape.as<works::Pad>()->edges; };
  const auto overSide = [&](std::size_t side) {
    const auto outline = works::outlineOf(d.works(before).shape);
    d.movePlan(d.at(0.5 * (outline[side] + outline[(side + 1) % outline.size()])));
  };
  overSide(2);
  type("3:1");
  CHECK(edges() == works::Edges{{2, works::parsedSection("to ground 3:1")}});
  d.settle();
  overSide(0);
  type("=wall");
  CHECK(edges() == works::Edges{{0, {}}, {2, works::parsedSection("to ground 3:1")}});
  d.settle();
  overSide(2);
  type("= others");
  CHECK(edges() == works::Edges{{0, {}}});
  d.settle();
  overSide(0);
  QTest::keyClicks(&d.window.plan(), "=");
  d.find<QLineEdit>("planEntry")->setText("=No such section");
  QTest::keyClick(d.find<QLineEdit>("planEntry"), Qt::Key_Return);
  CHECK(d.find<QLineEdit>("planEntry")->isVisible());
  QTest::keyClick(d.find<QLineEdit>("planEntry"), Qt::Key_Escape);
  for (int i = 0; i < 3; ++i) d.act("undo");
  CHECK(edges().empty());
  // In the middle of a drag.
  d.settle();
  const auto corner = works::outlineOf(d.works(before).shape)[0];
  d.movePlan(d.at(corner));
  QTest::mousePress(&d.window.plan(), Qt::LeftButton, {}, d.at(corner));
  d.movePlan(d.at(corner) + QPoint(12, 9), Qt::LeftButton);
  type("+1 +1");
  QTest::mouseRelease(&d.window.plan(), Qt::LeftButton, {}, d.at(corner) + QPoint(12, 9));
  CHECK(plane::distance(works::outlineOf(d.works(before).shape)[0], corner + plane::Vec2{1, 1}) < 1e-6);
}

TEST_CASE("A sloping bed is drawn as a pad fitted to the land with a level margin") {
  Driver d;
  d.openDemo();
  for (const char* name : {"Sloping bed 1", "Sloping bed 2"}) {
    const std::size_t before = d.project().column.back()->works.size();
    d.act("draw-sloping_bed");
    const QPoint a(420 + 90 * static_cast<int>(before), 470);
    for (const QPoint p : {a, a + QPoint(60, 0), a + QPoint(60, 40), a + QPoint(0, 40)}) d.clickPlan(p);
    d.key(Qt::Key_Return);
    d.settle();
    REQUIRE(d.project().column.back()->works.size() == before + 1);
    CHECK(d.works(before).name == name);
    const auto* pad = d.works(before).shape.as<works::Pad>();
    REQUIRE(pad);
    CHECK(pad->top == works::PadTop::fitted);
    CHECK(pad->section == works::parsedSections("out 1; to ground 2:1"));
    CHECK(d.workspace().evaluation()->works(d.works(before).id)->placement->footprintArea > 0);
  }
}

TEST_CASE("What is held in place is not moved by the pointer, keys or balancing, and may be let go") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const works::Shape start = d.works(0).shape;
  d.act("holdWorks");
  CHECK(d.works(0).held);
  CHECK(d.window.findChild<QAction*>("holdWorks")->isChecked());
  d.settle();
  for (const QPoint from : {d.at(d.inside(0)), d.at(d.corner(0, 1))}) d.dragPlan(from, from + QPoint(40, 25));
  d.clickPlan(d.at(d.inside(0)));
  d.key(Qt::Key_Right);
  d.key(Qt::Key_Delete);
  CHECK(d.works(0).shape == start);
  for (const char* action : {"remove", "turnWorks", "mirrorWorks", "roundCorners", "balance"})
    CHECK_FALSE(d.window.findChild<QAction*>(action)->isEnabled());
  CHECK(d.find<QLabel>("worksHeld")->isVisible());
  CHECK_FALSE(d.find<QPushButton>("balance")->isEnabled());
  d.act("holdWorks");
  CHECK_FALSE(d.works(0).held);
  CHECK_FALSE(d.find<QLabel>("worksHeld")->isVisible());
  d.settle();
  d.key(Qt::Key_Right);
  CHECK_FALSE(d.works(0).shape == start);
}

TEST_CASE("Works are copied in rows and drawn around and rounded and each is one step to undo") {
  Driver d;
  d.openDemo();
  d.workspace().chooseWorks(d.works(0).id);
  const std::size_t before = d.project().column.back()->works.size();
  const auto first = works::outlineOf(d.works(0).shape);
  d.whenDialog<app::RowsDialog>([](app::RowsDialog& dialog) {
    dialog.findChild<QSpinBox*>("rowAlong")->setValue(3);
    dialog.findChild<QSpinBox*>("rowCount")->setValue(2);
    dialog.findChild<QDoubleSpinBox*>("rowSpacing")->setValue(50);
    dialog.findChild<QDoubleSpinBox*>("rowBearing")->setValue(0);
    dialog.findChild<QDoubleSpinBox*>("rowsApart")->setValue(30);
    dialog.accept();
  });
  d.act("rowsOfWorks");
  REQUIRE(d.project().column.back()->works.size() == before + 5);
  std::set<std::string> names;
  for (std::size_t i = 0; i < before + 5; ++i) names.insert(d.works(i).name);
  CHECK(names.size() == before + 5);
  CHECK(plane::distance(works::outlineOf(d.works(before + 4).shape)[0], first[0] + plane::Vec2{30, 100}) < 1e-9);
  d.act("undo");
  CHECK(d.project().column.back()->works.size() == before);

  d.workspace().chooseWorks(d.works(0).id);
  d.whenDialog<QInputDialog>([](QInputDialog& dialog) {
    dialog.setDoubleValue(4);
    dialog.accept();
  });
  d.act("padAround");
  REQUIRE(d.project().column.back()->works.size() == before + 1);
  CHECK(works::levelOf(d.works(before).shape) == works::levelOf(d.works(0).shape));
  CHECK(std::abs(plane::signedArea(works::outlineOf(d.works(before).shape))) > std::abs(plane::signedArea(first)));
  d.act("undo");

  d.workspace().chooseWorks(d.works(0).id);
  d.whenDialog<QInputDialog>([](QInputDialog& dialog) {
    dialog.setDoubleValue(3);
    dialog.accept();
  });
  d.act("roundCorners");
  CHECK(works::outlineOf(d.works(0).shape).size() > first.size());
  d.settle();
  d.act("undo");
  CHECK(works::outlineOf(d.works(0).shape) == first);
  d.settle();
}
