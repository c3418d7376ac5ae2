// A project in feet: what is told of lengths, and how they are typed.
#include <qcustomplot.h>

#include <catch2/catch.hpp>

#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QGroupBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QRegularExpression>
#include <QTableWidget>
#include <QTextDocumentFragment>

#include "card/quantity_edit.h"
#include "gather/import_dialog.h"
#include "plane/polygon.h"
#include "project/project.h"
#include "project/stages.h"
#include "support/driver.h"
#include "window/drawing_scale.h"
#include "workspace/lengths.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

constexpr double kFoot = 0.3048;

// All words of the widgets that are seen, with those of lists and tables.
QStringList wordsOf(const QWidget& top) {
  QStringList words;
  const auto say = [&](const QString& text) { words << QTextDocumentFragment::fromHtml(text).toPlainText(); };
  for (const QWidget* w : top.findChildren<QWidget*>()) {
    if (!w->isVisible()) continue;
    if (const auto* label = qobject_cast<const QLabel*>(w)) say(label->text());
    if (const auto* button = qobject_cast<const QAbstractButton*>(w)) say(button->text());
    if (const auto* edit = qobject_cast<const QLineEdit*>(w)) say(edit->text()), say(edit->placeholderText());
    if (const auto* box = qobject_cast<const QAbstractSpinBox*>(w)) say(box->text());
    if (const auto* box = qobject_cast<const QComboBox*>(w)) {
      for (int i = 0; i < box->count(); ++i) say(box->itemText(i));
    }
    if (const auto* list = qobject_cast<const QListWidget*>(w)) {
      for (int i = 0; i < list->count(); ++i) say(list->item(i)->text());
    }
    if (const auto* table = qobject_cast<const QTableWidget*>(w)) {
      for (int c = 0; c < table->columnCount(); ++c) {
        if (const auto* head = table->horizontalHeaderItem(c)) say(head->text());
        for (int r = 0; r < table->rowCount(); ++r) {
          if (const auto* cell = table->item(r, c)) say(cell->text());
        }
      }
    }
    if (const auto* plot = qobject_cast<const QCustomPlot*>(w)) say(plot->xAxis->label()), say(plot->yAxis->label());
  }
  return words;
}

// Those that tell something in metres.
QStringList inMetres(const QWidget& top) {
  static const QRegularExpression metric("\\bm([²³]|\\b)|[Mm]etres");
  return wordsOf(top).filter(metric);
}

void tellInFeet(Driver& d) {
  d.workspace().commit(project::withMeasures(d.project(), {.imperial = true}), "feet");
  d.settle();
}

}  // namespace

TEST_CASE("A project in feet tells nothing in metres") {
  Driver d;
  d.openDemo("depot.inselberg");
  // There is something to find before.
  d.workspace().chooseWorks(d.works(0).id);
  d.settle();
  CHECK_FALSE(inMetres(d.window).isEmpty());
  tellInFeet(d);
  d.act("ledger");
  for (const auto& ground : d.project().column) {
    d.workspace().chooseGround(ground->id);
    d.settle();
    INFO(ground->name << ": " << inMetres(d.window).join(" | ").toStdString());
    CHECK(inMetres(d.window).isEmpty());
    for (const auto& works : ground->works) {
      d.workspace().chooseWorks(works->id);
      d.settle();
      INFO(works->name << ": " << inMetres(d.window).join(" | ").toStdString());
      CHECK(inMetres(d.window).isEmpty());
    }
  }
  const project::Stages& stages = d.project().stages;
  std::vector<WorksId> items;
  for (const auto& s : stages.strips) items.push_back(s.id);
  for (const auto& s : stages.undercuts) items.push_back(s.id);
  for (const auto& s : stages.buildUps) items.push_back(s.id);
  REQUIRE(items.size() > 1);
  for (const WorksId id : items) {
    d.workspace().chooseStage(id);
    d.settle();
    INFO(inMetres(d.window).join(" | ").toStdString());
    CHECK(inMetres(d.window).isEmpty());
  }
  const auto isRun = [](const auto& works) { return works->shape.template as<works::Run>() != nullptr; };
  const auto& works = d.project().ground(d.project().finished())->works;
  d.workspace().chooseWorks((*std::find_if(works.begin(), works.end(), isRun))->id);
  d.settle();
  d.act("sectionAlong");
  d.settle();
  for (const char* command : {"areasAlong", "rowsOfWorks", "stages", "secondOpinion", "depthBands", "quantities",
                              "balanceSite", "limits", "sections", "layouts"}) {
    INFO(command);
    d.whenDialog<QDialog>([&](QDialog& dialog) {
      INFO(inMetres(dialog).join(" | ").toStdString());
      CHECK(inMetres(dialog).isEmpty());
      dialog.reject();
    });
    d.act(command);
  }
}

TEST_CASE("In a project in feet lengths are typed in feet, with a unit in that") {
  Driver d;
  d.openDemo();
  tellInFeet(d);
  const auto pads = [&](std::size_t i) { return d.works(i); };
  std::size_t at = 0;
  while (!works::levelOf(pads(at).shape)) ++at;
  d.workspace().chooseWorks(pads(at).id);
  d.settle();
  const double level = *works::levelOf(pads(at).shape);
  auto* field = d.find<app::QuantityEdit>("field-level");
  CHECK(field->text() == QString::fromStdString(formatNumber(level / kFoot, 3)) + " ft");
  const auto type = [&](const char* text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    return *works::levelOf(pads(at).shape);
  };
  CHECK(type("260.5") == Approx(260.5 * kFoot).epsilon(1e-12));
  CHECK(type("+1") == Approx(261.5 * kFoot).epsilon(1e-12));
  CHECK(type("79.5 m") == Approx(79.5).epsilon(1e-12));
  CHECK(type("260 ft 6 in") == Approx(260.5 * kFoot).epsilon(1e-12));
  QTest::keyClick(field, Qt::Key_Up);
  d.settle();
  CHECK(*works::levelOf(pads(at).shape) == Approx(261 * kFoot).epsilon(1e-12));
  // A line is drawn by lengths, and from one place to the next.
  const plane::Vec2 from = d.window.plan().view().toPlan({400, 300});
  d.act("draw-pad");
  d.clickPlan(d.at(from));
  d.type("100 at 90");
  d.type("+0 -50");
  d.key(Qt::Key_Return);
  d.settle();
  const auto drawn = works::outlineOf(d.works(d.project().column.back()->works.size() - 1).shape);
  REQUIRE(drawn.size() == 3);
  CHECK(std::abs(plane::signedArea(drawn)) == Approx(0.5 * 100 * 50 * kFoot * kFoot));
  // Drawings are to a scale in inches and feet.
  for (const char* text : {"1 in = 40 ft", "1\" = 40'", "1 in = 40", "1 : 480"}) CHECK(app::scaleFrom(text) == 480);
  CHECK(app::scaleText(480) == "1 in = 40 ft");
  CHECK(app::scaleText(500) == "1 : 500");
  CHECK_FALSE(app::scaleFrom("1 in = far"));
  // Undone and redone in metres.
  d.workspace().commit(project::withMeasures(d.project(), {}), "metres");
  d.settle();
  CHECK(app::lengths::unit() == "m");
}

TEST_CASE("A project that begins with a survey in feet is in feet, undone with it") {
  Driver d;
  const auto bring = [&](int unit) {
    d.whenDialog<app::ImportDialog>([&](app::ImportDialog& dialog) {
      REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
      auto* units = dialog.findChild<QComboBox*>("importUnits");
      units->setCurrentIndex(unit);
      Q_EMIT units->activated(unit);
      REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
      dialog.findChild<QPushButton*>("importAccept")->click();
    });
    REQUIRE(d.window.importFile(QString::fromStdString(demo("survey.csv"))));
    d.settle();
  };
  bring(2);
  CHECK(d.project().measures == Measures{.imperial = true});
  CHECK(d.window.messages().text().contains("feet"));
  // Levels are told as they stand in the file.
  const ground::Tin& tin = *d.workspace().evaluation()->grounds.front().tin;
  CHECK(app::lengths::number(tin.maxLevel(), 2).toDouble() == Approx(83.10).margin(0.01));
  d.act("undo");
  CHECK(d.project().measures == Measures{});
  bring(1);
  CHECK(d.project().measures == Measures{});
}

TEST_CASE("In a project in feet a raster is brought in to within so many feet") {
  const Scratch s;
  // Level land with one cell 0.2 m higher: kept within half a foot, passed over within half a metre.
  std::string grid = "ncols 9\nnrows 9\nxllcorner 0\nyllcorner 0\ncellsize 5\n";
  for (int i = 0; i < 81; ++i) grid += std::string(i == 40 ? "70.2" : "70") + (i % 9 == 8 ? "\n" : " ");
  Driver d;
  tellInFeet(d);
  d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
    REQUIRE(Driver::waitFor([&] { return dialog.ready(); }));
    auto* tolerance = dialog.findChild<QDoubleSpinBox*>("importTolerance");
    CHECK(tolerance->isVisible());
    CHECK(tolerance->text() == "0.164 ft");
    tolerance->setValue(0.5);
    dialog.findChild<QPushButton*>("importAccept")->click();
  });
  REQUIRE(d.window.importFile(QString::fromStdString(s.file("land.asc", grid))));
  d.settle();
  const ground::Tin& tin = *d.workspace().evaluation()->grounds.front().tin;
  CHECK(tin.maxLevel() == Approx(70.2));
}
