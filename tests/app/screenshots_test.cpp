// Makes the pictures of docs/screenshots (scripts/screenshots.sh), in the folder named by INSELBERG_PICTURES.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScreen>
#include <QTableWidget>

#include "card/level_plot.h"
#include "card/sections_dialog.h"
#include "exchange/sheet_file.h"
#include "gather/import_dialog.h"
#include "ledger/quantities_dialog.h"
#include "support/driver.h"
#include "window/layouts_dialog.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// With all that is still being computed.
void shoot(const char* name) {
  REQUIRE(Driver::waitFor([] {
    const QWidgetList all = QApplication::allWidgets();
    return std::none_of(all.begin(), all.end(), [](const QWidget* widget) {
      const auto* label = qobject_cast<const QLabel*>(widget);
      return label && label->isVisible() && label->text().contains("being computed");
    });
  }));
  QTest::qWait(700);
  const QString folder = qEnvironmentVariable("INSELBERG_PICTURES");
  REQUIRE(QApplication::primaryScreen()->grabWindow(0).save(folder + "/" + name + ".png"));
}

}  // namespace

TEST_CASE("pictures", "[.]") {
  if (!qEnvironmentVariableIsSet("INSELBERG_PICTURES")) return;
  {
    Driver d;
    REQUIRE(d.window.openProject(QString::fromStdString(demo("depot.inselberg"))));
    d.settle();
    d.act("fit");
    d.window.showStep("Shape");
    d.workspace().chooseWorks(d.works(1).id);
    d.settle();
    Driver::waitFor([&] { return d.find<app::LevelPlot>("worksPlot")->hasCurve(); });
    shoot("depot");
    for (std::size_t i = 0;; ++i) {
      if (!d.works(i).shape.as<works::Pond>()) continue;
      d.workspace().chooseWorks(d.works(i).id);
      break;
    }
    Driver::waitFor([&] { return d.workspace().spill().has_value(); });
    d.settle();
    shoot("pond");
    d.act("flow");
    d.workspace().chooseWorks(d.works(2).id);
    d.settle();
    shoot("flow");
    d.act("flow");
    d.act("sections");
    auto* sections = d.find<app::SectionsDialog>("sectionsDialog");
    sections->findChild<QListWidget*>("sectionList")->setCurrentRow(1);
    QTest::qWait(200);
    shoot("sections");
    sections->reject();
    d.window.showStep("Strip");
    d.workspace().chooseStage(d.project().stages.strips[0].id);
    d.find<QPushButton>("stageDepths")->click();
    d.settle();
    auto* figures = d.find<QLabel>("stageFigures");
    Driver::waitFor([&] { return figures->text().contains("Stockpile"); });
    shoot("stages");
    d.find<QPushButton>("stageDepths")->click();
    d.window.showStep("Measure");
    d.workspace().chooseWorks(d.works(0).id);
    const plane::Vec2 middle = plane::boundsOf(works::outlineOf(d.works(0).shape)).centre();
    const std::vector<plane::Vec2> across{middle - plane::Vec2{110, 40}, middle + plane::Vec2{70, 30}};
    d.workspace().commit(project::withSectionLines(d.project(), {{"A", across}}), "keep a section's line");
    d.window.view().takeSection(across);
    d.settle();
    d.movePlan(d.at(middle - plane::Vec2{-20, 15}));
    shoot("section");
    d.whenDialog<app::LayoutsDialog>([](app::LayoutsDialog& dialog) {
      dialog.findChild<QPushButton*>("layoutAdd")->click();
      auto* lines = dialog.findChild<QComboBox*>("layoutSection");
      lines->setCurrentIndex(1);
      Q_EMIT lines->activated(1);
      auto* fields = dialog.findChild<QTableWidget*>("layoutFields");
      for (const auto& [row, text] :
           {std::pair{0, "Tolwin Grain"}, {1, "C-101"}, {2, "M. Ode"}, {3, "2026-11-29"}, {5, "A"}}) {
        fields->item(row, 1)->setText(text);
        QTest::qWait(50);
      }
      QTest::qWait(1500);
      shoot("layout");
      dialog.reject();
    });
    d.act("layouts");
    d.workspace().chooseWorks({});
    d.act("reliefAlone");
    d.act("worksColours");
    d.window.view().alter([&](app::Shown& shown) { shown.raise = 2, shown.cutAway = true; });
    d.settle();
    d.window.relief().fit();
    app::Camera closer = d.window.relief().camera();
    closer.bearing = 350, closer.tilt = 30;
    closer.zoom(1.5, {middle.x, middle.y, closer.target.z});
    d.window.relief().lookFrom(closer);
    Driver::waitFor([&] { return d.window.relief().settled(); });
    shoot("relief");
    d.window.view().alter([&](app::Shown& shown) { shown.cutAway = false; });
    d.act("worksColours");
    d.act("reliefAlone");
    d.act("sectionAway");
    d.whenDialog<app::QuantitiesDialog>([](app::QuantitiesDialog& dialog) {
      QTest::qWait(200);
      shoot("quantities");
      dialog.reject();
    });
    d.act("quantities");
  }
  {
    Driver d;
    d.settle();
    shoot("empty");
    d.whenDialog<app::ImportDialog>([](app::ImportDialog& dialog) {
      Driver::waitFor([&] { return dialog.ready(); });
      shoot("import");
      dialog.reject();
    });
    d.window.importFile(QString::fromStdString(demo("survey.csv")));
  }
  {
    Driver d;
    d.openDemo();
    d.act("editLines");
    d.clickPlan(d.at(d.project().sources.front()->data->breaklines.front().vertices[20].plan()));
    d.movePlan(d.at({40, -20}));
    shoot("survey");
    d.act("water");
    d.clickPlan(d.at({-20, 60}));
    d.workspace().chooseGround(d.project().column.front()->id);
    shoot("ground");
  }
  {
    // Steepness, before and after, in dark colours.
    Driver d;
    d.openDemo("depot.inselberg");
    d.act("dark");
    d.act("twoPlans");
    d.act("steepness");
    d.settle();
    d.movePlan(d.at(d.inside(0)));
    shoot("dark");
    d.act("dark");
  }
  {
    // The demo's plan sheet, placed, with one of its contours about to be taken.
    Driver d;
    const exchange::SheetFile file = exchange::readSheetFile(demo("plan.pdf"));
    project::SheetInfo info;
    info.name = "plan", info.file = "plan.pdf", info.size = {841, 594};
    info.placement = sheet::byScale(500, 500, {1, 1});
    const auto placed = project::withOrigin(*d.workspace().project(), {412240, 6187360});
    d.workspace().commit(project::withSheet(*placed, info, file.bytes, file.world), "bring in");
    REQUIRE(Driver::waitFor([&] { return !d.workspace().sheetContents().shown().empty(); }));
    d.act("takeContours");
    const auto lines = d.workspace().sheetContents().shown().front()->linesLike(0x73471f, 0.35);
    const auto line = std::find_if(lines.begin(), lines.end(), [](const auto& l) { return l.level == 77.5; });
    REQUIRE(line != lines.end());
    const plane::Vec2 at = line->points[line->points.size() / 2];
    for (int i = 0; i < 5; ++i) {
      const QPointF here = d.at(at);
      QWheelEvent wheel(here, d.window.plan().mapToGlobal(here), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                        Qt::NoScrollPhase, false);
      QApplication::sendEvent(&d.window.plan(), &wheel);
    }
    d.settle();
    d.movePlan(d.at(at));
    shoot("sheet");
  }
  Driver d;
  d.openDemo();
  d.movePlan({640, 500});
  shoot("plan");
  d.clickPlan(d.at(d.inside(0)));
  shoot("pad");
  d.act("draw-pad");
  d.act("snap");
  for (const plane::Vec2 p : {plane::Vec2{-45, 20}, {0, 14}, {5, -18}, {-40, -12}}) d.clickPlan(d.at(p));
  d.key(Qt::Key_Return);
  d.settle();
  d.act("depth");
  d.movePlan(d.at({-20, 0}));
  shoot("depth");
  d.act("baseline");
  d.act("balance");
  Driver::waitFor([&] { return d.window.messages().text().contains("balances"); });
  d.act("ledger");
  d.settle();
  d.window.messages().hide();
  shoot("ledger");
}
