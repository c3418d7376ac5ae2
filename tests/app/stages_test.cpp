// Strips, undercuts and build-ups in the window: the column grows, quantities are told and written.
#include <qcustomplot.h>

#include <catch2/catch.hpp>

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSet>
#include <QTabWidget>
#include <QTableWidget>

#include "ledger/quantities_dialog.h"
#include "support/driver.h"
#include "window/balance_dialog.h"
#include "window/depth_bands_dialog.h"
#include "window/measures_dialog.h"
#include "window/pits_dialog.h"
#include "window/second_opinion_dialog.h"
#include "window/stages_dialog.h"

using namespace inselberg;
using namespace inselberg::testing;
using project::Role;

namespace {

void type(QTableWidget& table, int row, int column, const char* text) {
  table.item(row, column)->setText(text);
}

QTableWidget* tableOf(app::StagesDialog& dialog, const char* name) {
  auto* table = dialog.findChild<QTableWidget*>(name);
  REQUIRE(table);
  return table;
}

}  // namespace

TEST_CASE("A strip under the works makes the stripped ground and typing changes it") {
  Driver d;
  d.openDemo();
  const std::size_t grounds = d.project().column.size();
  d.whenDialog<app::StagesDialog>([](app::StagesDialog& dialog) {
    auto* table = tableOf(dialog, "strips");
    REQUIRE(table->rowCount() == 1);
    type(*table, 0, 3, "0.25");
    type(*table, 0, 2, "2 m");
    type(*table, 0, 3, "much");  // no length: it stays
    CHECK(table->item(0, 3)->text() == "0.250 m");
    dialog.reject();
  });
  d.act("stripUnder");
  d.settle();
  REQUIRE(d.project().column.size() == grounds + 1);
  REQUIRE(d.project().withRole(Role::stripped));
  CHECK(d.project().stages.strips[0].depth == 0.25);
  CHECK(d.project().stages.strips[0].margin == 2);
  const auto& e = *d.workspace().evaluation();
  const auto* stripped = e.ground(d.project().withRole(Role::stripped)->id);
  REQUIRE(stripped->tin);
  const plane::Vec2 p = d.inside(0);
  CHECK(*e.surveyed()->tin->levelAt(p) - *stripped->tin->levelAt(p) == Approx(0.25));
  CHECK(e.seams.size() == 2);
  // Its works stand on it now; all of it is undone step by step.
  for (int i = 0; i < 3; ++i) d.act("undo");
  d.settle();
  CHECK(d.project().column.size() == grounds);
  CHECK(d.workspace().evaluation()->seams.size() == 1);
}

TEST_CASE("Undercut, build-up, region and material give figures that are shown and copied, and stay in the file") {
  Driver d;
  d.openDemo();
  d.workspace().chooseWorks(d.works(0).id);
  const auto close = [](app::StagesDialog& dialog) { dialog.reject(); };
  d.whenDialog<app::StagesDialog>(close);
  d.act("undercut");
  d.settle();
  d.whenDialog<app::StagesDialog>([](app::StagesDialog& dialog) {
    auto* table = tableOf(dialog, "buildUps");
    type(*table, 0, 3, "slab 0.25, base 0.1 from site");
    CHECK(table->item(0, 3)->text() == "slab 0.250, base 0.100 from site");
    dialog.reject();
  });
  d.act("buildUp");
  d.settle();
  d.workspace().chooseWorks(d.works(0).id);
  d.whenDialog<app::StagesDialog>(close);
  d.act("region");
  d.settle();
  d.whenDialog<app::StagesDialog>([](app::StagesDialog& dialog) {
    dialog.findChild<QPushButton*>("materialsAdd")->click();
    auto* table = tableOf(dialog, "materials");
    REQUIRE(table->rowCount() == 1);
    type(*table, 0, 1, "25 %");
    dialog.findChild<QPushButton*>("accuracyAdd")->click();
    CHECK(tableOf(dialog, "accuracy")->rowCount() == 1);
    dialog.reject();
  });
  d.act("stages");
  d.settle();
  CHECK(d.project().stages.materials[0].bulking == 0.25);
  auto* material = d.find<QComboBox>("material");
  CHECK(material->count() == 2);
  QTest::keyClicks(material, "clay");
  QTest::keyClick(material, Qt::Key_Return);
  CHECK(d.works(0).material == "clay");
  d.act("undo");
  CHECK(material->currentText().isEmpty());
  QTest::keyClick(material, Qt::Key_Down);
  d.settle();
  CHECK(d.works(0).material == d.project().stages.materials[0].name);
  CHECK(d.project().withRole(Role::undercut));
  CHECK(d.project().withRole(Role::formation));
  CHECK(d.project().stages.buildUps[0].layers[1].fromSite);
  const auto before = report::quantitiesOf(*d.workspace().evaluation(), {});
  CHECK(before.whole.undercut > 0);
  CHECK(before.whole.buildUp > 0);
  CHECK(before.regions.size() == 2);
  d.whenDialog<app::QuantitiesDialog>([](app::QuantitiesDialog& dialog) {
    auto* tabs = dialog.findChild<QTabWidget*>("quantitiesTabs");
    CHECK(tabs->tabText(tabs->currentIndex()) == "Figures");
    CHECK(tabs->count() == 7);
    dialog.findChild<QPushButton*>("copyTable")->click();
    dialog.reject();
  });
  d.act("quantities");
  CHECK(QApplication::clipboard()->text().startsWith("m³\tIn all\tRegion\telsewhere\nStrip\t"));
  d.window.save();
  const QString path = d.workspace().path();
  d.workspace().startNew();
  REQUIRE(d.window.openProject(path));
  d.settle();
  const auto after = report::quantitiesOf(*d.workspace().evaluation(), {});
  CHECK(after.whole.undercut == before.whole.undercut);
  CHECK(after.whole.buildUp == before.whole.buildUp);
  CHECK(after.whole.bulkFill == before.whole.bulkFill);
}

TEST_CASE("The site is balanced by one shift of the works that are ticked, and undone in one step") {
  Driver d;
  d.openDemo("depot.inselberg");
  std::size_t first = 0;
  while (!d.works(first).shape.as<works::Pad>()) ++first;
  d.workspace().chooseWorks(d.works(first).id);
  d.settle();
  const double before = *works::levelOf(d.works(first).shape);
  const auto others = d.project().column.back()->works.size();
  d.whenDialog<app::BalanceDialog>([&](app::BalanceDialog& dialog) {
    auto* list = dialog.findChild<QListWidget*>("balanceWorks");
    REQUIRE(list->count() > 1);
    int ticked = 0;
    for (int i = 0; i < list->count(); ++i) ticked += list->item(i)->checkState() == Qt::Checked;
    CHECK(ticked == 1);  // the chosen works
    auto* result = dialog.findChild<QLabel*>("balanceResult");
    CHECK(result->text().startsWith("Now: available"));
    auto* surplus = dialog.findChild<QLineEdit*>("balanceSurplus");
    surplus->selectAll();
    QTest::keyClicks(surplus, "-500");
    QTest::keyClick(surplus, Qt::Key_Return);  // the button by default
    CHECK((result->text().startsWith("Raised by") || result->text().startsWith("Lowered by")));
    CHECK(result->text().contains("to bring in 500"));
    dialog.reject();
  });
  d.act("balanceSite");
  d.settle();
  CHECK(*works::levelOf(d.works(first).shape) != before);
  const auto figures = report::figuresOf(*d.workspace().evaluation(), {});
  CHECK(figures.surplus() == Approx(-500).margin(0.0011 * std::max(figures.available, figures.needed)));
  d.act("undo");
  CHECK(*works::levelOf(d.works(first).shape) == before);
  CHECK(d.project().column.back()->works.size() == others);
}

TEST_CASE("A second opinion stands beside the exact volume, inside a region too, with the area in tolerance") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.whenDialog<app::SecondOpinionDialog>([&](app::SecondOpinionDialog& dialog) {
    auto* table = dialog.findChild<QTableWidget*>("opinionTable");
    REQUIRE(table->rowCount() == 4);
    const auto fill = [&](int row) { return table->item(row, 2)->text().remove(QChar(0xa0)).remove(' ').toDouble(); };
    const double whole = fill(0);
    for (int r = 1; r < 4; ++r) CHECK(fill(r) == Approx(whole).epsilon(0.03));
    CHECK(dialog.findChild<QLabel*>("opinionShares")->text().contains("lies within 0.050 m"));
    dialog.findChild<QComboBox*>("opinionRegion")->setCurrentIndex(1);
    CHECK(fill(0) < whole);
    auto* cell = dialog.findChild<QLineEdit*>("opinionCell");
    cell->selectAll();
    QTest::keyClicks(cell, "5");
    QTest::keyClick(cell, Qt::Key_Return);
    CHECK(cell->text() == "5.000 m");
    dialog.reject();
  });
  d.act("secondOpinion");
  CHECK(d.window.view().shown().mode == app::PlanMode::relief);
  const project::Between between = d.window.view().depthsBetween();
  d.whenDialog<app::SecondOpinionDialog>([&](app::SecondOpinionDialog& dialog) {
    auto* tolerance = dialog.findChild<QLineEdit*>("opinionTolerance");
    tolerance->selectAll();
    QTest::keyClicks(tolerance, "0.4");
    QTest::keyClick(tolerance, Qt::Key_Return);
    QTest::mouseClick(dialog.findChild<QPushButton*>("toleranceMap"), Qt::LeftButton);
  });
  d.act("secondOpinion");
  CHECK(d.window.view().shown().mode == app::PlanMode::depth);
  CHECK(d.window.view().shown().tolerance == 0.4);
  CHECK(d.window.view().depthsBetween() == between);
  d.settle();
  // It goes with the depth map.
  d.act("depth");
  CHECK(d.window.view().shown().tolerance == 0);
  d.act("depth");
  CHECK(d.window.view().shown().tolerance == 0);
  d.settle();
}

TEST_CASE("Bands of depth are told and copied") {
  Driver d;
  d.openDemo();
  d.whenDialog<app::DepthBandsDialog>([&](app::DepthBandsDialog& dialog) {
    auto* table = dialog.findChild<QTableWidget*>("bandsTable");
    const int before = table->rowCount();
    CHECK(before > 2);
    CHECK(table->item(0, 0)->text().startsWith("cut"));
    auto* step = dialog.findChild<QLineEdit*>("bandsStep");
    step->selectAll();
    QTest::keyClicks(step, "0.25");
    QTest::keyClick(step, Qt::Key_Return);
    CHECK(table->rowCount() > before);
    const auto ledger = d.ledger();
    CHECK(dialog.findChild<QLabel*>("bandsNote")->text() ==
          QString("Together cut %1 m³, fill %2 m³.")
              .arg(QString::fromStdString(formatNumber(ledger.cut, 0)),
                   QString::fromStdString(formatNumber(ledger.fill, 0))));
    QTest::mouseClick(dialog.findChild<QPushButton*>("bandsCopy"), Qt::LeftButton);
    CHECK(QApplication::clipboard()->text().startsWith("\tFrom m\tTo m\tArea m²\tVolume m³\n"));
    dialog.reject();
  });
  d.act("depthBands");
}

TEST_CASE("Depths along a single band are told apart on its axis") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.whenDialog<app::DepthBandsDialog>([&](app::DepthBandsDialog& dialog) {
    REQUIRE(dialog.findChild<QTableWidget*>("bandsTable")->rowCount() == 1);
    for (QCPAxis* axis : {dialog.findChild<QCustomPlot*>()->xAxis, dialog.findChild<QCustomPlot*>()->yAxis}) {
      QVector<double> ticks;
      QVector<QString> labels;
      axis->ticker()->generate(axis->range(), QLocale::c(), axis->numberFormat().at(0), axis->numberPrecision(), ticks,
                               nullptr, &labels);
      CHECK(labels.size() > 2);
      CHECK(QSet<QString>(labels.begin(), labels.end()).size() == labels.size());
    }
    dialog.reject();
  });
  d.act("depthBands");
}

TEST_CASE("A ground is said to be an as-built survey and told in the quantities") {
  Driver d;
  d.openDemo();
  d.act("freeze");
  d.settle();
  // The frozen ground stands below the one it was taken of.
  for (const auto& ground : d.project().column) {
    if (ground->role == Role::other) d.workspace().chooseGround(ground->id);
  }
  auto* role = d.find<QComboBox>("groundRole");
  REQUIRE(role->isVisible());
  role->setCurrentIndex(2);
  Q_EMIT role->activated(2);
  d.settle();
  REQUIRE(d.project().withRole(Role::asBuilt));
  const auto told = report::quantitiesOf(*d.workspace().evaluation(), {});
  REQUIRE(told.asBuilt.size() == 1);
  CHECK(told.asBuilt[0].done.fill == Approx(d.ledger().fill).epsilon(1e-6));
  CHECK(told.asBuilt[0].remaining.cut + told.asBuilt[0].remaining.fill == Approx(0).margin(1e-3));
  d.whenDialog<app::QuantitiesDialog>([](app::QuantitiesDialog& dialog) {
    auto* tabs = dialog.findChild<QTabWidget*>("quantitiesTabs");
    CHECK(tabs->tabText(tabs->count() - 2) == "As built");
    dialog.reject();
  });
  d.act("quantities");
  d.act("undo");
  CHECK_FALSE(d.project().withRole(Role::asBuilt));
}

TEST_CASE("Phases are said on the card, and the schedule is grouped by them, sorted and copied") {
  Driver d;
  d.openDemo("depot.inselberg");
  const auto say = [&](std::size_t works, const char* phase) {
    d.workspace().chooseWorks(d.works(works).id);
    auto& field = *d.find<QComboBox>("phase")->lineEdit();
    field.setFocus();
    field.selectAll();
    QTest::keyClicks(&field, phase);
    QTest::keyClick(&field, Qt::Key_Return);
    d.settle();
    CHECK(d.works(works).phase == phase);
  };
  say(0, "first");
  say(1, "second");
  say(2, "first");
  d.whenDialog<app::QuantitiesDialog>([&](app::QuantitiesDialog& dialog) {
    auto* tabs = dialog.findChild<QTabWidget*>("quantitiesTabs");
    tabs->setCurrentIndex(tabs->count() - 1);
    CHECK(tabs->tabText(tabs->currentIndex()) == "Schedule");
    auto* table = tabs->currentWidget()->findChild<QTableWidget*>();
    auto* by = dialog.findChild<QComboBox*>("scheduleBy");
    by->setCurrentIndex(by->findText("phase"));
    REQUIRE(table->rowCount() == 6);  // first, second, the two of the demo, what has none, total
    CHECK(table->item(0, 0)->text() == "first");
    CHECK(table->item(0, 1)->text() == "2");
    const auto header = table->horizontalHeader();
    const auto click = [&](int column) {
      QTest::mouseClick(header->viewport(), Qt::LeftButton, {},
                        {header->sectionViewportPosition(column) + 8, header->height() / 2});
    };
    click(0);
    CHECK(table->item(0, 0)->text() == "1 drainage");
    CHECK(table->item(0, 1)->text() == "3");
    click(0);
    CHECK(table->item(0, 0)->text() == "second");
    CHECK(table->item(5, 0)->text() == "Total");
    dialog.findChild<QPushButton*>("copyTable")->click();
    dialog.reject();
  });
  d.act("quantities");
  CHECK(QApplication::clipboard()->text().startsWith("Phase\tWorks\tCut m³"));
}

TEST_CASE("Depths at test pits are pasted and typed, and the strip follows them") {
  Driver d;
  d.openDemo();
  d.whenDialog<app::StagesDialog>([](app::StagesDialog& dialog) { dialog.reject(); });
  d.act("stripUnder");
  d.settle();
  const double before = report::figuresOf(*d.workspace().evaluation(), {}).strip;
  const plane::Origin& o = d.project().origin;
  const plane::Vec2 p = plane::Vec2{o.easting, o.northing} + d.inside(0);
  d.whenDialog<app::StagesDialog>([&](app::StagesDialog& dialog) {
    d.whenDialog<app::PitsDialog>([&](app::PitsDialog& pits) {
      auto* table = pits.findChild<QTableWidget*>("pits");
      REQUIRE(table->rowCount() == 1);
      QApplication::clipboard()->setText(QString("%1\t%2\t0.6\n").arg(p.x, 0, 'f', 2).arg(p.y, 0, 'f', 2));
      QTest::keyClick(table, Qt::Key_V, Qt::ControlModifier);
      REQUIRE(table->rowCount() == 2);
      table->item(1, 0)->setText("much");
      pits.accept();
      CHECK(pits.isVisible());
      CHECK(pits.findChild<QLabel*>("pitsSays")->text().contains("Row 2"));
      table->item(1, 0)->setText("");
      pits.accept();
    });
    dialog.findChild<QPushButton*>("stripsMore")->click();
    CHECK(tableOf(dialog, "strips")->item(0, 3)->text() == "1 pit");
    dialog.reject();
  });
  d.act("stages");
  d.settle();
  REQUIRE(d.project().stages.strips[0].pits.size() == 1);
  CHECK(d.project().stages.strips[0].pits[0].z == 0.6);
  CHECK(report::figuresOf(*d.workspace().evaluation(), {}).strip == Approx(2 * before).epsilon(0.01));
}

TEST_CASE("A strip, an undercut and a build-up stand in the column with cards of their own") {
  Driver d;
  d.openDemo("depot.inselberg");
  auto& column = d.window.column();
  const auto click = [&](WorksId id) {
    QTest::mouseClick(&column, Qt::LeftButton, {}, column.rowOf(id).center() - QPoint(30, 0));
  };
  const auto typeInto = [&](const char* name, const char* text) {
    auto* edit = d.find<QLineEdit>(name);
    REQUIRE(edit->isVisible());
    edit->selectAll();
    QTest::keyClick(edit, Qt::Key_Delete);
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
    d.settle();
  };
  auto* figures = d.find<QLabel>("stageFigures");
  const auto told = [&](const char* what) {
    return Driver::waitFor([&] { return figures->isVisible() && figures->text().contains(what); });
  };
  const WorksId strip = d.project().stages.strips.at(0).id;
  click(strip);
  CHECK(d.workspace().chosenStage() == strip);
  CHECK(d.project().ground(d.workspace().chosenGround())->role == Role::stripped);
  CHECK(d.find<QLineEdit>("strips0")->text() == "Topsoil");
  CHECK(told("Stockpile, loose"));
  typeInto("strips3", "0.4");
  CHECK(d.project().stages.strips[0].depth == 0.4);
  CHECK(d.project().stages.strips[0].pits.empty());
  typeInto("strips3", "plenty");
  CHECK(d.project().stages.strips[0].depth == 0.4);
  typeInto("strips5", "first");
  CHECK(d.project().stages.strips[0].phase == "first");
  // Its depths on the plan, and away again.
  auto* depths = d.find<QPushButton>("stageDepths");
  depths->click();
  CHECK(d.window.view().shown().mode == app::PlanMode::depth);
  depths->click();
  CHECK(d.window.view().shown().mode == app::PlanMode::relief);

  const WorksId undercut = d.project().stages.undercuts.at(0).id;
  click(undercut);
  typeInto("undercuts7", "bedding 0.2, gravel 0.3 from site");
  REQUIRE(d.project().stages.undercuts[0].layers.size() == 2);
  CHECK(d.project().stages.undercuts[0].layers[1].fromSite);
  CHECK(told("fill above"));
  typeInto("undercuts7", "");
  CHECK(d.project().stages.undercuts[0].layers.empty());

  // Its box puts it out of the figures; Delete takes it away, with its ground; undo brings both back.
  QTest::mouseClick(&column, Qt::LeftButton, {}, column.partOf(undercut).center());
  CHECK(d.project().stages.undercuts[0].leftOut);
  d.settle();
  QTest::keyClick(&column, Qt::Key_Delete);
  CHECK(d.project().stages.undercuts.empty());
  CHECK_FALSE(d.project().withRole(Role::undercut));
  CHECK_FALSE(d.workspace().chosenStage());
  d.act("undo");
  d.act("undo");
  d.settle();
  CHECK_FALSE(d.project().stages.undercuts.at(0).leftOut);
  click(d.project().stages.buildUps.at(0).id);
  CHECK(told("Area"));
  d.workspace().chooseWorks(d.works(0).id);
  CHECK_FALSE(d.workspace().chosenStage());
}

TEST_CASE("The ledger tells regions beside each other, adding up, and how sure each figure is") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.act("ledger");
  auto* table = d.find<QTableWidget>("ledgerTable");
  const auto columnOf = [&](const QString& name) {
    for (int c = 0; c < table->columnCount(); ++c) {
      if (table->horizontalHeaderItem(c)->text() == name) return c;
    }
    return -1;
  };
  const int first = columnOf(QString::fromStdString(d.project().stages.regions.at(0).name));
  REQUIRE(first > 0);
  REQUIRE(columnOf("elsewhere") == first + 1);
  REQUIRE(columnOf("±") == first - 1);
  REQUIRE(Driver::waitFor([&] { return table->item(0, first)->text().contains(" / "); }));
  const auto cutAt = [&](int row, int column) {
    return table->item(row, column)->text().section(" / ", 0, 0).remove(' ').toDouble();
  };
  int told = 0;
  for (int row = 0; row < table->rowCount(); ++row) {
    if (!table->item(row, first)->text().contains(" / ")) continue;
    ++told;
    CHECK(cutAt(row, first) + cutAt(row, first + 1) == Approx(cutAt(row, 1)).margin(1.1));
  }
  CHECK(told >= 10);
  // A changed design says so until the figures of its regions are known.
  works::Works pad = d.works(0);
  pad.shape = works::atLevel(pad.shape, *works::levelOf(pad.shape) - 0.5);
  d.workspace().commit(project::withWorks(d.project(), pad), "lower");
  d.settle();
  REQUIRE(Driver::waitFor([&] { return table->item(0, first)->text().contains(" / "); }));
  // The card of the pad tells its ± as well.
  d.workspace().chooseWorks(pad.id);
  auto* cut = d.find<QLabel>("worksCut");
  CHECK(Driver::waitFor([&] { return cut->text().contains("±"); }));
}

TEST_CASE("Grounds are renamed, moved in the column, and made of others") {
  Driver d;
  d.openDemo();
  auto* name = d.find<QLineEdit>("groundName");
  d.workspace().chooseGround(d.project().surveyed());
  const auto rename = [&](const char* text) {
    name->selectAll();
    QTest::keyClicks(name, text);
    QTest::keyClick(name, Qt::Key_Return);
  };
  rename("survey of 2026");
  CHECK(d.project().ground(d.project().surveyed())->name == "survey of 2026");
  rename("finished");
  CHECK(d.window.messages().text().contains("another ground is named"));
  CHECK(name->text() == "survey of 2026");
  d.workspace().commit(
      project::withNewGround(d.project(), "raised", project::Derived{{d.project().surveyed()}, project::Shift{2}},
                             d.project().surveyed()),
      "raise");
  d.settle();
  const GroundId raised = d.project().column.at(1)->id;
  // Dragged above the finished ground by its band.
  auto& column = d.window.column();
  const QPoint from = column.bandOf(raised).center(),
               to = column.bandOf(d.project().finished()).center() - QPoint(0, 12);
  QTest::mousePress(&column, Qt::LeftButton, {}, from);
  for (const QPoint p : {from + (to - from) / 2, to}) {
    QMouseEvent move(QEvent::MouseMove, p, column.mapToGlobal(p), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&column, &move);
  }
  QTest::mouseRelease(&column, Qt::LeftButton, {}, to);
  CHECK(d.project().column.back()->id == raised);
  d.act("groundDown");
  CHECK(d.project().column.at(1)->id == raised);
  d.act("undo");
  CHECK(d.project().column.back()->id == raised);
  // The finished ground stands on it from now on.
  d.workspace().chooseGround(d.project().finished());
  auto* of = d.find<QComboBox>("madeOf0");
  REQUIRE(of->isVisible());
  of->setCurrentIndex(of->findText("raised"));
  Q_EMIT of->activated(of->currentIndex());
  d.settle();
  CHECK(std::get<project::OnGround>(d.project().ground(d.project().finished())->base).ground == raised);
  // And so the raised one cannot be made of the finished.
  d.workspace().chooseGround(raised);
  of->setCurrentIndex(of->findText("finished"));
  Q_EMIT of->activated(of->currentIndex());
  CHECK(d.window.messages().text().contains("itself made from"));
  CHECK(of->currentText() == "survey of 2026");
}

TEST_CASE("Quantities are told in yards and rounded as the project wants, exact ones beside") {
  Driver d;
  d.openDemo();
  const double cut = d.ledger().earthCut();
  d.whenDialog<app::MeasuresDialog>([&](app::MeasuresDialog& dialog) {
    auto* units = dialog.findChild<QComboBox*>("measuresUnits");
    units->setCurrentIndex(1);
    Q_EMIT units->activated(1);
    auto* rounding = dialog.findChild<QComboBox*>("measuresRounding");
    rounding->setCurrentIndex(rounding->findText("10"));
    Q_EMIT rounding->activated(rounding->currentIndex());
    CHECK(dialog.findChild<QLabel*>("measuresExample")->text().endsWith("0 yd³"));
    dialog.reject();
  });
  d.act("measures");
  d.settle();
  CHECK(d.project().measures == Measures{true, 10});
  const std::string yards = shownNumber(cut, Quantity::volume, d.project().measures);
  CHECK(yards.ends_with("0"));
  CHECK(d.find<QToolButton>("ledgerCut")->text() == "Cut " + QString::fromStdString(yards));
  d.act("ledger");
  auto* table = d.find<QTableWidget>("ledgerTable");
  CHECK(table->horizontalHeaderItem(1)->text() == "Cut yd³");
  CHECK(table->horizontalHeaderItem(4)->text() == "Cut acres");
  const double exact = table->item(0, 1)->toolTip().remove(' ').toDouble();
  CHECK(exact ==
        Approx(inUnit(d.workspace().evaluation()->seams[0].volume->cut, Quantity::volume, {true, 1})).margin(1e-5));
  d.whenDialog<app::QuantitiesDialog>([](app::QuantitiesDialog& dialog) {
    dialog.findChild<QTabWidget*>("quantitiesTabs")->setCurrentIndex(0);
    dialog.findChild<QPushButton*>("copyTable")->click();
    dialog.reject();
  });
  d.act("quantities");
  CHECK(QApplication::clipboard()->text().startsWith("Seam\tCut yd³\tFill yd³"));
  d.act("undo");
  d.act("undo");
  CHECK(d.project().measures == Measures{});
}

TEST_CASE("A trench is drawn along a line, and its card says how wide and deep it is") {
  Driver d;
  d.openDemo();
  d.act("drawTrench");
  const plane::Vec2 p = d.inside(0);
  d.clickPlan(d.at(p));
  d.clickPlan(d.at(p + plane::Vec2{20, 0}));
  d.key(Qt::Key_Return);
  d.settle();
  REQUIRE(d.project().stages.undercuts.size() == 1);
  CHECK(d.workspace().chosenStage() == d.project().stages.undercuts[0].id);
  const auto typeInto = [&](const char* name, const char* text) {
    auto* edit = d.find<QLineEdit>(name);
    REQUIRE(edit->isVisible());
    edit->selectAll();
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
    d.settle();
  };
  typeInto("undercuts2", "0");  // none
  CHECK(d.project().stages.undercuts[0].width == 1);
  typeInto("undercuts2", "1.5");
  typeInto("undercuts3", "2");
  typeInto("undercuts6", "0.5:1");
  const works::Undercut trench = d.project().stages.undercuts[0];
  CHECK(trench.width == 1.5);
  CHECK(trench.depth == 2);
  // Below formation, which is the pad's level here: so wide, and wider by a metre on each side where it ends.
  const double length = plane::distance(trench.line.front(), trench.line.back());
  const auto quantities = report::quantitiesOf(*d.workspace().evaluation(), {});
  CHECK(quantities.whole.undercut == Approx(length * (1.5 + 0.5 * 2) * 2).epsilon(0.02));

  // At levels along it: from a metre deep to two, of which the mean square is 7 / 3.
  const std::string end = formatNumber(std::floor(1000 * length) / 1000, 3);
  typeInto("undercuts3", ("0 = 76.5, " + end + " = 75.5").c_str());
  const auto& falling = [&]() -> const works::Undercut& { return d.project().stages.undercuts[0]; };
  CHECK(falling().byLevels);
  REQUIRE(falling().levels.size() == 2);
  CHECK(falling().levels[1][1] == 75.5);
  const auto deeper = report::quantitiesOf(*d.workspace().evaluation(), {});
  CHECK(deeper.whole.undercut == Approx(length * (1.5 * 1.5 + 0.5 * 7 / 3)).epsilon(0.02));
  CHECK(d.find<QLineEdit>("undercuts3")->text().startsWith("0 = 76.5, "));
  for (const char* wrong : {"0 = 76.5, 500 = 75.5", "10 = 76.5, 0 = 75", "0 = "}) {
    typeInto("undercuts3", wrong);
    CHECK(falling().levels.size() == 2);
  }
  typeInto("undercuts3", "1");
  CHECK_FALSE(falling().byLevels);
}

TEST_CASE("Corners of a strip's outline are dragged, added and removed on the plan") {
  Driver d;
  d.openDemo();
  d.act("snap");
  d.act("select");
  const plane::Vec2 c = d.window.plan().view().visible().centre();
  project::Stages stages = d.project().stages;
  works::Strip strip;
  strip.name = "Topsoil";
  strip.outline = {c + plane::Vec2{-40, -20}, c + plane::Vec2{0, -20}, c + plane::Vec2{0, 20},
                   c + plane::Vec2{-40, 20}};
  strip.except = {{c + plane::Vec2{-30, -5}, c + plane::Vec2{-20, -5}, c + plane::Vec2{-20, 5}}};
  stages.strips.push_back(strip);
  d.workspace().commit(project::withStages(d.project(), stages), "strip");
  d.settle();
  const auto now = [&]() -> const works::Strip& { return d.project().stages.strips[0]; };
  d.workspace().chooseStage(now().id);
  const double before = plane::signedArea(now().outline);
  d.dragPlan(d.at(now().outline[2]), d.at(c + plane::Vec2{10, 30}));
  CHECK(plane::distance(now().outline[2], c + plane::Vec2{10, 30}) < 0.5);
  CHECK(plane::signedArea(now().outline) > before + 300);
  CHECK(d.workspace().history().undoText() == "move a corner of Topsoil");
  CHECK(d.workspace().chosenStage() == now().id);
  d.settle();
  // What is left out has corners too.
  d.dragPlan(d.at(now().except[0][2]), d.at(c + plane::Vec2{-20, 10}));
  CHECK(plane::distance(now().except[0][2], c + plane::Vec2{-20, 10}) < 0.5);
  // An outline never crosses itself.
  const auto sound = now().outline;
  d.dragPlan(d.at(now().outline[0]), d.at(c + plane::Vec2{30, 0}));
  CHECK_NOTHROW(plane::sound({now().outline, {}}, d.project().origin));
  if (now().outline != sound) d.act("undo");
  d.settle();
  QTest::mouseDClick(&d.window.plan(), Qt::LeftButton, {}, d.at(c + plane::Vec2{-20, -20}));
  REQUIRE(now().outline.size() == 5);
  CHECK(plane::distance(now().outline[1], c + plane::Vec2{-20, -20}) < 0.5);
  CHECK(now().outline[1].y == Approx(c.y - 20).margin(1e-9));  // on the side
  d.settle();
  d.movePlan(d.at(now().outline[1]));
  d.key(Qt::Key_Delete);
  CHECK(now().outline.size() == 4);
  REQUIRE(d.project().stages.strips.size() == 1);
  CHECK(d.window.plan().tool().hint().startsWith("Drag a corner"));
  d.settle();
  // Three corners are the fewest.
  d.movePlan(d.at(now().except[0][0]));
  d.key(Qt::Key_Delete);
  CHECK(now().except[0].size() == 3);
  CHECK(d.window.messages().text().contains("three corners"));
  d.act("undo");
  CHECK(now().outline.size() == 5);
  // What lies below works has none.
  stages = d.project().stages;
  works::Undercut undercut;
  undercut.name = "Below", undercut.under = {d.works(0).id};
  stages.undercuts.push_back(undercut);
  d.workspace().commit(project::withStages(d.project(), stages), "undercut");
  d.workspace().chooseStage(d.project().stages.undercuts[0].id);
  CHECK(d.window.plan().tool().hint().startsWith("It lies where its works do"));
  d.settle();
}
