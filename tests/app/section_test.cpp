// Sections in the window: drawn, swept, dragged, pointed at from either side, written.
#include <catch2/catch.hpp>

#include <QClipboard>
#include <QFileDialog>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPrintDialog>
#include <QPrinter>
#include <QTableWidget>

#include "card/quantity_edit.h"
#include "exchange/text_file.h"
#include "support/driver.h"
#include "window/areas_along_dialog.h"
#include "window/section_lines_dialog.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

// A section drawn by two clicks.
void draw(Driver& d, plane::Vec2 a, plane::Vec2 b) {
  d.act("section");
  d.clickPlan(d.at(a));
  d.clickPlan(d.at(b));
  d.key(Qt::Key_Return);
  QTest::qWait(50);
}

void chooseFile(Driver& d, const std::string& path) {
  d.whenDialog<QFileDialog>([path](QFileDialog& dialog) {
    dialog.selectFile(QString::fromStdString(path));
    dialog.findChild<QLineEdit*>("fileNameEdit")->setText(QString::fromStdString(path));
    static_cast<QDialog&>(dialog).accept();
  });
}

}  // namespace

TEST_CASE("A section is drawn on the plan, shown below it, swept, and put away") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.act("snap");
  auto& view = d.window.section();
  CHECK_FALSE(view.isVisible());
  draw(d, {-90, 10}, {90, 20});
  REQUIRE(view.isVisible());
  d.settle();
  CHECK(view.section().grounds.size() == d.project().column.size());
  CHECK(view.section().length() == Approx(std::hypot(180, 10)).margin(2));
  REQUIRE(view.areas());
  const double cut = view.areas()->cut;
  CHECK(cut > 0);
  // Swept: the line is dragged as a whole.
  const auto before = d.window.view().sectionLine();
  const plane::Vec2 middle = 0.5 * (before[0] + before[1]);
  d.dragPlan(d.at(middle), d.at(middle + plane::Vec2{0, 20}));
  const auto after = d.window.view().sectionLine();
  CHECK(after[0].y - before[0].y == Approx(20).margin(1));
  CHECK(plane::distance(after[1] - after[0], before[1] - before[0]) < 1e-9);
  CHECK(view.areas()->cut != cut);
  d.act("sectionAway");
  CHECK_FALSE(view.isVisible());
  // It does not outlive its project.
  draw(d, {-90, 10}, {90, 20});
  CHECK(view.isVisible());
  d.workspace().startNew();
  CHECK_FALSE(view.isVisible());
}

TEST_CASE("The pointer is tied between section and plan both ways") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.act("snap");
  draw(d, {-90, 10}, {90, 20});
  d.settle();
  auto& view = d.window.section();
  const QPointF at = view.axes().toScreen(70, view.section().level(0, 70).value());
  QTest::mouseMove(&view, at.toPoint());
  QMouseEvent move(QEvent::MouseMove, at, view.mapToGlobal(at), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
  QApplication::sendEvent(&view, &move);
  REQUIRE(d.window.view().pointer());
  CHECK(plane::distance(*d.window.view().pointer(), view.section().at(70)) < 0.5);
  const QImage without = view.grab().toImage();
  d.movePlan(d.at({30, 60}));
  CHECK(view.grab().toImage() != without);  // its line has moved
}

TEST_CASE("A pad's level is dragged in the section and everything follows, as one step") {
  Driver d;
  d.openDemo();
  d.act("snap");
  const plane::Vec2 middle = plane::boundsOf(works::outlineOf(d.works(0).shape)).centre();
  draw(d, middle - plane::Vec2{80, 3}, middle + plane::Vec2{80, 5});
  d.settle();
  auto& view = d.window.section();
  const double station = view.section().length() / 2, before = *works::levelOf(d.works(0).shape);
  const std::size_t finished = view.section().grounds.size() - 1;
  const double shown = view.section().level(finished, station).value();
  const auto send = [&](QEvent::Type type, QPointF p, Qt::MouseButtons held) {
    QMouseEvent e(type, p, view.mapToGlobal(p), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, held, {});
    QApplication::sendEvent(&view, &e);
    QTest::qWait(30);
  };
  // Once the views have their sizes, the cursor tells that there is something to drag.
  REQUIRE(Driver::waitFor([&] {
    send(QEvent::MouseMove, view.axes().toScreen(station, shown), {});
    return view.cursor().shape() == Qt::SizeVerCursor;
  }));
  const QPointF from = view.axes().toScreen(station, shown), to = view.axes().toScreen(station, shown + 1.2);
  send(QEvent::MouseButtonPress, from, Qt::LeftButton);
  for (int i = 1; i <= 6; ++i) send(QEvent::MouseMove, from + (to - from) * i / 6, Qt::LeftButton);
  send(QEvent::MouseButtonRelease, to, {});
  d.settle();
  CHECK(*works::levelOf(d.works(0).shape) == Approx(before + 1.2).margin(0.03));
  CHECK(view.section().level(finished, station).value() == Approx(shown + 1.2).margin(0.03));
  CHECK(d.workspace().chosenWorks() == d.works(0).id);
  d.act("undo");
  CHECK(*works::levelOf(d.works(0).shape) == before);
}

TEST_CASE("The wheel exaggerates, keys fit and go to true scale") {
  Driver d;
  d.openDemo();
  d.act("snap");
  draw(d, {-60, 0}, {60, 0});
  d.settle();
  auto& view = d.window.section();
  const double fitted = view.axes().exaggeration;
  const QPointF at = view.axes().area.center();
  QWheelEvent wheel(at, view.mapToGlobal(at), {}, {0, 240}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
  QApplication::sendEvent(&view, &wheel);
  CHECK(view.axes().exaggeration == Approx(fitted * 1.44));
  QTest::keyClick(&view, Qt::Key_1);
  CHECK(view.axes().exaggeration == 1);
  CHECK(view.axes().up() == view.axes().scale);
  QTest::keyClick(&view, Qt::Key_Home);
  CHECK(view.axes().exaggeration == fitted);
}

TEST_CASE("Sections along works are written as drawing and table, and square ones too") {
  Driver d;
  const Scratch scratch;
  d.openDemo("depot.inselberg");
  std::size_t run = 0;
  while (!d.works(run).shape.as<works::Run>()) ++run;
  d.workspace().chooseWorks(d.works(run).id);
  d.act("sectionAlong");
  d.settle();
  CHECK(d.window.section().section().line == works::placesOf(d.works(run).shape).front().points);
  for (const char* name : {"s.svg", "s.pdf", "s.png", "s.csv"}) {
    chooseFile(d, scratch / name);
    d.act("writeSection");
    CHECK(exchange::readBytes(scratch / name).size() > 500);
  }
  CHECK(exchange::readBytes(scratch / "s.svg").find("finished</text>") != std::string::npos);
  d.whenDialog<QDialog>([&](QDialog& dialog) {
    if (dialog.objectName() != "crossDialog") return;
    auto* spacing = dialog.findChild<QLineEdit*>("crossSpacing");
    spacing->selectAll();
    chooseFile(d, scratch / "c.csv");
    QTest::keyClicks(spacing, "17");
    QTest::keyClick(spacing, Qt::Key_Return);
  });
  d.act("writeCross");
  const std::string csv = exchange::readText(scratch / "c.csv");
  CHECK(csv.starts_with("section,station,easting,northing,existing,"));
  CHECK(csv.find("\n17.000000,0.000000,") != std::string::npos);
}

TEST_CASE("The section on show goes to a printer that is asked for") {
  Driver d;
  d.openDemo();
  CHECK_FALSE(d.window.findChild<QAction*>("printSection")->isEnabled());
  d.window.view().takeSection({{-60, 0}, {60, 10}});
  d.settle();
  bool asked = false;
  d.whenDialog<QPrintDialog>([&](QPrintDialog& dialog) {
    asked = true;
    CHECK(dialog.printer()->pageLayout().orientation() == QPageLayout::Landscape);
    CHECK(dialog.printer()->pageLayout().pageSize().size(QPageSize::Millimeter).width() == Approx(297).margin(1));
    dialog.reject();
  });
  d.act("printSection");
  CHECK(asked);
}

TEST_CASE("A section's line is kept by its letter, shown again, renamed, and in the file") {
  Driver d;
  d.openDemo("depot.inselberg");
  const Scratch scratch;
  auto* button = d.find<QToolButton>("sectionKept");
  const std::vector<Vec2> first{{-40, 0}, {40, 10}}, second{{0, -40}, {10, 30}, {20, 40}};
  const auto keep = [&](const QString& expected, const QString& typed) {
    d.whenDialog<QInputDialog>([&](QInputDialog& dialog) {
      CHECK(dialog.textValue() == expected);
      dialog.setTextValue(typed);
      dialog.accept();
    });
    d.act("keepSection");
  };
  CHECK_FALSE(d.window.findChild<QAction*>("keepSection")->isEnabled());
  CHECK_FALSE(d.window.findChild<QAction*>("keptSections")->isEnabled());
  d.window.view().takeSection(first);
  d.settle();
  CHECK(button->text() == "Lines");
  keep("A", "A");
  CHECK(button->text() == "A");
  d.window.view().takeSection(second);
  CHECK(button->text() == "Lines");
  keep("B", "B");
  REQUIRE(d.project().sectionLines.size() == 2);
  // The button leads from one to the other.
  Q_EMIT button->menu()->aboutToShow();
  REQUIRE(button->menu()->actions().size() == 4);  // with a line between, and the way to keep another
  CHECK(button->menu()->actions()[1]->isChecked());
  button->menu()->actions()[0]->trigger();
  CHECK(d.window.view().sectionLine() == first);
  CHECK(button->text() == "A");
  // Under a name that is there it takes its place; undone in one step.
  d.window.view().takeSection({{-10, 0}, {30, 10}});
  keep("C", "B");
  REQUIRE(d.project().sectionLines.size() == 2);
  CHECK(d.project().sectionLines[1].line.size() == 2);
  d.act("undo");
  CHECK(d.project().sectionLines[1].line == second);
  // Renamed, never to a name that is taken; shown; removed.
  d.whenDialog<app::SectionLinesDialog>([&](app::SectionLinesDialog& dialog) {
    auto* list = dialog.findChild<QListWidget*>("sectionLines");
    REQUIRE(list->count() == 2);
    list->setCurrentRow(1);
    d.whenDialog<QInputDialog>([](QInputDialog& ask) {
      ask.setTextValue("A");
      ask.accept();
    });
    QTest::mouseClick(dialog.findChild<QPushButton*>("sectionLineRename"), Qt::LeftButton);
    CHECK(d.project().sectionLines[1].name == "A 2");
    QTest::mouseClick(dialog.findChild<QPushButton*>("sectionLineShow"), Qt::LeftButton);
  });
  d.act("keptSections");
  CHECK(d.window.view().sectionLine() == second);
  const auto kept = d.project().sectionLines;
  REQUIRE(d.window.saveProject(QString::fromStdString(scratch / "p.inselberg")));
  REQUIRE(d.window.openProject(QString::fromStdString(scratch / "p.inselberg")));
  d.settle();
  CHECK(d.project().sectionLines == kept);
  d.whenDialog<app::SectionLinesDialog>([&](app::SectionLinesDialog& dialog) {
    for (int k = 0; k < 2; ++k) QTest::mouseClick(dialog.findChild<QPushButton*>("sectionLineRemove"), Qt::LeftButton);
    CHECK_FALSE(dialog.findChild<QPushButton*>("sectionLineRemove")->isEnabled());
    dialog.reject();
  });
  d.act("keptSections");
  CHECK(d.project().sectionLines.empty());
  d.act("undo");
  CHECK(d.project().sectionLines.size() == 1);
}

TEST_CASE("Cut and fill along a run are drawn and listed, and a row leads to its section") {
  Driver d;
  d.openDemo("depot.inselberg");
  std::size_t run = 0;
  while (!d.works(run).shape.as<works::Run>()) ++run;
  d.workspace().chooseWorks(d.works(run).id);
  d.act("sectionAlong");
  d.settle();
  const double length = d.window.section().section().length();
  d.whenDialog<app::AreasAlongDialog>([&](app::AreasAlongDialog& dialog) {
    auto* table = dialog.findChild<QTableWidget*>("alongTable");
    auto* spacing = dialog.findChild<app::QuantityEdit*>("alongSpacing");
    spacing->setFocus();
    spacing->selectAll();
    QTest::keyClicks(spacing, "5");
    QTest::keyClick(spacing, Qt::Key_Return);
    CHECK(table->rowCount() == static_cast<int>(length / 5) + 1);
    CHECK(table->item(2, 0)->text() == "10.00");
    const auto value = [&](int row, int column) { return table->item(row, column)->text().toDouble(); };
    CHECK(value(1, 3) == Approx(5 * (value(0, 1) + value(1, 1)) / 2).margin(0.6));
    CHECK(dialog.findChild<QLabel*>("alongNote")->text().contains("average end areas"));
    QTest::mouseClick(dialog.findChild<QPushButton*>("alongCopy"), Qt::LeftButton);
    CHECK(QApplication::clipboard()->text().startsWith("Station m\tCut m²"));
    Q_EMIT table->cellDoubleClicked(2, 0);
  });
  d.act("areasAlong");
  d.settle();
  // Across the run now, as wide as was asked for.
  CHECK(d.window.section().section().line.size() == 2);
  CHECK(d.window.section().section().length() < length);
}

TEST_CASE("The plan is drawn on paper at a chosen scale") {
  Driver d;
  const Scratch scratch;
  d.openDemo("depot.inselberg");
  for (const char* name : {"p.pdf", "p.svg", "p.dxf"}) {
    d.whenDialog<QInputDialog>([&](QInputDialog& dialog) {
      dialog.setTextValue("1 : 500");
      chooseFile(d, scratch / name);
      static_cast<QDialog&>(dialog).accept();
    });
    d.act("writePlan");
    CHECK(exchange::readBytes(scratch / name).size() > 10'000);
  }
  CHECK(exchange::readText(scratch / "p.svg").find("1 : 500</text>") != std::string::npos);
}
