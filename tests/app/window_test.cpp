// The window as a whole: files, import, export, questions, the plan's view, the ledger, the command finder.
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QRegularExpression>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>
#include <QTableWidget>

#include "gather/import_dialog.h"
#include "support/driver.h"
#include "window/command_finder.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

void acceptImport(app::ImportDialog& dialog) {
  REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
  QTest::mouseClick(dialog.findChild<QPushButton*>("importAccept"), Qt::LeftButton);
}

void pressButton(QMessageBox& box, const QString& text) {
  for (QAbstractButton* b : box.buttons()) {
    if (b->text().remove('&') == text) {
      QTest::mouseClick(b, Qt::LeftButton);
      return;
    }
  }
  FAIL("no button " << text.toStdString());
}

}  // namespace

TEST_CASE("A new project says what to do, and fills by importing points, breaklines and a boundary") {
  Driver d;
  d.settle();
  CHECK_FALSE(d.workspace().evaluation()->grounds.front().tin);
  CHECK_FALSE(d.window.findChild<QAction*>("draw-pad")->isEnabled());
  CHECK(d.find<QToolButton>("ledgerSurplus")->text() == "nothing to measure yet");

  d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    auto* rows = dialog.findChild<QTableWidget*>("importRows");
    CHECK(rows->item(0, 0)->text() == "number");
    CHECK(rows->horizontalHeaderItem(3)->text() == "level");
    CHECK(dialog.findChild<QComboBox*>("columnEasting")->currentIndex() == 2);
    CHECK(dialog.findChild<QLabel*>("importSummary")->text().contains("points"));
    CHECK(dialog.findChild<QListWidget*>("importWrong")->count() >= 1);
    acceptImport(dialog);
  });
  REQUIRE(d.window.importFile(QString::fromStdString(demo("survey.csv"))));
  for (const char* name : {"breaklines.dxf", "boundary.geojson"}) {
    d.whenDialog<app::ImportDialog>(acceptImport);
    REQUIRE(d.window.importFile(QString::fromStdString(demo(name))));
  }
  d.settle();
  const auto told = jsonFrom(runCli("info '" + demo("existing.xml") + "' --json"));
  const auto s = ground::statistics(*d.workspace().evaluation()->grounds.front().tin);
  CHECK(s.triangles == told["triangles"].get<std::size_t>());
  CHECK(s.planArea == Approx(told["plan_area_m2"].get<double>()).epsilon(1e-9));
  CHECK(d.window.findChild<QAction*>("draw-pad")->isEnabled());
  // Each import is one step of undo.
  for (int i = 0; i < 3; ++i) d.act("undo");
  CHECK(d.project().sources.empty());
}

TEST_CASE("Columns that are guessed wrong can be set, units scale, and bad rows are told") {
  const Scratch scratch;
  const std::string file =
      scratch.file("odd.csv", "a;b;c;d\n1;0;0;10\n2;100;0;11\n3;0;100;12\n4;100;100;x\n5;50;50;0\n");
  Driver d;
  d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    const auto set = [&](const char* name, int index) {
      auto* box = dialog.findChild<QComboBox*>(name);
      box->setCurrentIndex(index);
      Q_EMIT box->activated(index);
    };
    set("columnEasting", 2);
    set("columnNorthing", 3);
    set("columnLevel", 4);
    set("importUnits", 2);
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    auto* wrong = dialog.findChild<QListWidget*>("importWrong");
    CHECK(wrong->item(0)->text().contains("Line"));
    acceptImport(dialog);
  });
  REQUIRE(d.window.importFile(QString::fromStdString(file)));
  d.settle();
  const auto& data = *d.project().sources.at(0)->data;
  CHECK(data.points.size() == 4);
  const auto s = ground::statistics(*d.workspace().evaluation()->grounds.front().tin);
  CHECK(s.bounds.width() == Approx(100 * 0.3048));
  CHECK(s.maxLevel == Approx(12 * 0.3048));
}

TEST_CASE("What cannot be brought in is said, and nothing changes") {
  const Scratch scratch;
  Driver d;
  for (const std::string& file : {scratch.file("empty.csv", ""), scratch.file("odd.bin", "xyz"),
                                  scratch.file("cut.xml", "<LandXML>"), scratch / "missing.csv"}) {
    CAPTURE(file);
    d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
      REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
      CHECK_FALSE(dialog.findChild<QPushButton*>("importAccept")->isEnabled());
      CHECK(dialog.findChild<QListWidget*>("importWrong")->count() == 1);
      dialog.reject();
    });
    CHECK_FALSE(d.window.importFile(QString::fromStdString(file)));
  }
  CHECK(d.project().sources.empty());
  CHECK_FALSE(d.workspace().history().canUndo());
}

TEST_CASE("A project saved and opened again is the same, and the list of recent ones knows it") {
  const Scratch scratch;
  const QString path = QString::fromStdString(scratch / "kept.inselberg");
  double cut = 0;
  {
    Driver d;
    d.openDemo();
    d.clickPlan(d.at(d.inside(0)));
    d.dragPlan(d.at(d.corner(0, 0)), d.at(d.corner(0, 0)) - QPoint(20, 15));
    d.settle();
    CHECK(d.workspace().unsaved());
    CHECK(d.window.isWindowModified());
    REQUIRE(d.window.saveProject(path));
    CHECK_FALSE(d.workspace().unsaved());
    cut = d.ledger().cut;
  }
  Driver d;
  REQUIRE(d.window.openProject(path));
  d.settle();
  CHECK(d.ledger().cut == cut);
  CHECK(reportOf(path.toStdString())["total"]["cut_m3"].get<double>() == Approx(cut).epsilon(1e-12));
  CHECK(QSettings().value("recent").toStringList().front() == path);
}

TEST_CASE("What cannot be opened or saved leaves all as it was, with a message") {
  const Scratch scratch;
  Driver d;
  d.openDemo();
  CHECK_FALSE(d.window.openProject(QString::fromStdString(scratch.file("no.inselberg", "nothing"))));
  CHECK(d.window.messages().text().contains("no.inselberg"));
  CHECK(d.project().name == "Tolwin Grain Depot");
  CHECK_FALSE(d.window.saveProject(QString::fromStdString(scratch / "no/folder/x.inselberg")));
  CHECK(d.window.messages().text().contains("x.inselberg"));
  CHECK_FALSE(d.window.exportGround(QString::fromStdString(scratch / "no/folder/x.xml")));
}

TEST_CASE("Closing with changes asks, and staying keeps the window") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  d.act("remove");
  d.whenDialog<QMessageBox>([](QMessageBox& box) { pressButton(box, "Stay"); });
  d.window.close();
  CHECK(d.window.isVisible());
  CHECK(d.workspace().unsaved());
  d.whenDialog<QMessageBox>([](QMessageBox& box) { pressButton(box, "Leave without saving"); });
  d.window.close();
  CHECK_FALSE(d.window.isVisible());
}

TEST_CASE("A project open in another window can be read there, not written") {
  const Scratch scratch;
  std::filesystem::copy_file(demo("tolwin.inselberg"), scratch / "two.inselberg");
  const QString path = QString::fromStdString(scratch / "two.inselberg");
  Driver first, second;
  REQUIRE(first.window.openProject(path));
  REQUIRE(second.window.openProject(path));
  first.settle();
  second.settle();
  CHECK_FALSE(first.workspace().readOnly());
  CHECK(second.workspace().readOnly());
  CHECK_FALSE(second.window.findChild<QAction*>("draw-pad")->isEnabled());
  CHECK(second.window.windowTitle().contains("read only"));
  REQUIRE(second.window.saveProject(QString::fromStdString(scratch / "other.inselberg")));
  CHECK_FALSE(second.workspace().readOnly());
}

TEST_CASE("The finished ground goes out as LandXML and contours as DXF") {
  const Scratch scratch;
  Driver d;
  d.openDemo();
  REQUIRE(d.window.exportGround(QString::fromStdString(scratch / "f.xml")));
  const auto told = jsonFrom(runCli("volume '" + demo("existing.xml") + "' '" + scratch / "f.xml" + "' --json"));
  CHECK(told["fill_m3"].get<double>() == Approx(d.ledger().fill).epsilon(1e-6));
  REQUIRE(d.window.exportContours(QString::fromStdString(scratch / "c.dxf")));
  CHECK(contentOf(scratch / "c.dxf").ends_with("EOF\n"));
}

TEST_CASE("The wheel zooms to the pointer, dragging the ground pans, F fits") {
  Driver d;
  d.openDemo();
  auto& plan = d.window.plan();
  const double scale = plan.view().scale;
  const QPointF p(300, 500);
  const Vec2 under = plan.view().toPlan(p);
  QWheelEvent wheel(p, plan.mapToGlobal(p), {}, {0, 240}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
  QApplication::sendEvent(&plan, &wheel);
  CHECK(plan.view().scale > scale * 1.3);
  CHECK(plane::distance(plan.view().toPlan(p), under) < 1e-9);
  d.settle();
  const Vec2 held = plan.view().toPlan(QPointF(200, 600));
  d.dragPlan({200, 600}, {260, 560});
  CHECK(plane::distance(plan.view().toPlan(QPointF(260, 560)), held) < 1e-9);
  d.act("fit");
  d.settle();
  CHECK(plan.view().scale == Approx(scale).epsilon(0.05));
}

TEST_CASE("Moving the plan by its empty ground keeps what is chosen, a click there lets go") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const WorksId chosen = d.window.workspace().chosenWorks();
  REQUIRE(chosen);
  d.dragPlan({200, 600}, {260, 560});
  CHECK(d.window.workspace().chosenWorks() == chosen);
  d.clickPlan({200, 600});
  CHECK_FALSE(d.window.workspace().chosenWorks());
}

TEST_CASE("The readout tells position, levels, depth and slope under the pointer") {
  Driver d;
  d.openDemo();
  d.movePlan(d.at(d.inside(0)));
  const QString told = d.find<QLabel>("readout")->text();
  CHECK(told.contains("77.500"));
  CHECK(told.contains("existing"));
  CHECK((told.contains("cut") || told.contains("fill")));
  d.movePlan({3, 3});
  CHECK(d.find<QLabel>("readout")->text().contains("–"));
}

TEST_CASE("A message lies over nothing that the plan says") {
  Driver d;
  d.openDemo();
  d.act("draw-pad");
  d.settle();
  const auto top = [&] { return d.window.plan().grab(QRect(0, 0, d.window.plan().width(), 30)).toImage(); };
  // How far down the hint begins: the first row that is not all of one colour at the right.
  const auto hintAt = [&] {
    const QImage image = d.window.plan().grab().toImage();
    for (int y = 0; y < 200; ++y) {
      for (int x = image.width() - 200; x < image.width() - 20; ++x) {
        if (qGray(image.pixel(x, y)) < 150) return y;
      }
    }
    return 200;
  };
  const QImage without = top();
  const int before = hintAt();
  d.window.messages().say("Something happened.", false);
  const int height = d.find<QFrame>("messageStrip")->height();
  CHECK(hintAt() == Approx(before + height).margin(2));
  d.find<QFrame>("messageStrip")->hide();
  CHECK(hintAt() == before);
  CHECK(top() == without);
  d.key(Qt::Key_Escape);
}

TEST_CASE("The readout tells each level beside the name of its ground while the column changes") {
  Driver d;
  d.openDemo();
  d.movePlan(d.at(d.inside(0)));
  REQUIRE(d.workspace().upToDate());
  const project::Project& before = d.project();
  d.workspace().commit(project::withNewGround(before, "between", project::FromSources{}, before.surveyed()), "add");
  // Nothing is known of the new ground yet.
  QString told = d.find<QLabel>("readout")->text();
  CHECK(told.contains(QRegularExpression("between</span>&nbsp;–")));
  CHECK(told.contains(QRegularExpression("finished</span>&nbsp;77\\.500")));
  d.settle();
  // And what was known of it tells nothing when it is gone.
  d.act("undo");
  told = d.find<QLabel>("readout")->text();
  CHECK_FALSE(told.contains("between"));
  CHECK(told.contains(QRegularExpression("finished</span>&nbsp;77\\.500")));
  d.settle();
}

TEST_CASE("The ledger opens, lights up figures, and compares with a kept baseline") {
  Driver d;
  d.openDemo();
  d.act("ledger");
  auto* table = d.find<QTableWidget>("ledgerTable");
  REQUIRE(table->isVisible());
  REQUIRE(table->rowCount() == 2);
  CHECK(table->item(1, 0)->text().trimmed() == "Silo pad");
  // A click tells how the row's figures were made, until the table is let down.
  auto* how = d.find<QLabel>("ledgerHow");
  CHECK_FALSE(how->isVisible());
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(0, 4)).center());
  REQUIRE(how->isVisible());
  CHECK(how->text().toStdString() == report::howText(*d.workspace().evaluation(), d.ledger().rows[0]));
  d.act("ledger");
  CHECK_FALSE(how->isVisible());
  d.act("ledger");
  // Every figure stands under its heading.
  const auto ledger = d.ledger();
  for (int row = 0; row < 2; ++row) {
    const report::LedgerRow& told = ledger.rows[static_cast<std::size_t>(row)];
    const auto cell = [&](const char* heading) {
      for (int c = 0; c < table->columnCount(); ++c) {
        if (table->horizontalHeaderItem(c)->text() == heading) return table->item(row, c)->text();
      }
      return QString("no such column");
    };
    const auto number = [](double v, int decimals) { return QString::fromStdString(formatNumber(v, decimals)); };
    const quantity::Volume& v = told.volume;
    CAPTURE(row);
    CHECK(cell("Cut m³") == number(v.cut, 0));
    CHECK(cell("Fill m³") == number(v.fill, 0));
    CHECK(cell("Cut m²") == number(v.cutArea, 0));
    CHECK(cell("Fill m²") == number(v.fillArea, 0));
    CHECK(cell("Deepest cut m") == number(v.maxCut, 2));
    CHECK(cell("Highest fill m") == number(v.maxFill, 2));
    CHECK(cell("Level m") == (row == 1 ? "77.500" : ""));
    CHECK(cell("Not measured m²").isEmpty());
    CHECK(cell("Cut m²") != cell("Fill m²"));
  }
  QTest::mouseClick(d.find<QToolButton>("ledgerCut"), Qt::LeftButton);
  CHECK(d.window.view().shown().mode == app::PlanMode::depth);
  CHECK(d.window.view().shown().lit == app::Lit::cut);
  QTest::mouseClick(d.find<QToolButton>("ledgerCut"), Qt::LeftButton);
  CHECK(d.window.view().shown().mode == app::PlanMode::relief);
  d.act("baseline");
  d.clickPlan(d.at(d.inside(0)));
  works::Works raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, 78);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise");
  d.settle();
  CHECK(d.find<QToolButton>("ledgerSurplus")->text().contains("less"));
  CHECK(table->columnCount() == 12);
  CHECK(table->item(0, 11)->text().endsWith("more"));
  // A ground under another name is the same ground still.
  d.workspace().commit(project::withGroundNamed(d.project(), d.project().finished(), "platform"), "rename");
  d.settle();
  CHECK(table->item(0, 0)->text().endsWith("to platform"));
  CHECK(table->item(0, 11)->text().endsWith("more"));
  d.act("undo");
  d.settle();
  CHECK(table->item(0, 0)->text().endsWith("to finished"));
  CHECK(table->item(0, 11)->text().endsWith("more"));
  d.act("baseline");
  CHECK(table->columnCount() == 10);
  d.settle();
}

TEST_CASE("The depth map, triangles and contours change the picture") {
  Driver d;
  d.openDemo();
  const auto picture = [&] {
    d.settle();
    return d.window.plan().grab().toImage();
  };
  const QImage plain = picture();
  for (const char* view : {"depth", "triangles", "contours", "levels", "steepness", "survey"}) {
    d.act(view);
    CHECK(picture() != plain);
    d.act(view);
    CHECK(picture() == plain);
  }
}

TEST_CASE("The card of a ground does not scroll for the length of another card") {
  Driver d;
  d.openDemo("depot.inselberg");
  QTest::qWait(50);
  QWidget* panel = d.find<QWidget>("cardPanel");
  QScrollArea* around = nullptr;
  for (QWidget* w = panel; w && !around; w = w->parentWidget()) around = qobject_cast<QScrollArea*>(w);
  REQUIRE(around);
  CHECK(around->verticalScrollBar()->maximum() == 0);
  // Nor once the other one was on show.
  const GroundId ground = d.project().column.back()->id;
  for (const bool held : {false, true}) {
    CAPTURE(held);
    d.workspace().chooseWorks(d.project().ground(d.project().finished())->works.front()->id);
    if (held) d.act("holdWorks");
    QTest::qWait(50);
    d.workspace().chooseGround(ground);
    QTest::qWait(50);
    CHECK(around->verticalScrollBar()->maximum() == 0);
  }
}
