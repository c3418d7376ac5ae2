// Sheets to print, made and seen in the window.
#include <catch2/catch.hpp>

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTableWidget>

#include "support/driver.h"
#include "support/sheets.h"
#include "window/layout_preview.h"
#include "window/layouts_dialog.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

template <class Widget>
Widget& part(app::LayoutsDialog& dialog, const char* name) {
  auto* found = dialog.findChild<Widget*>(name);
  REQUIRE(found);
  return *found;
}

// Once the page on show says so.
bool showsText(app::LayoutsDialog& dialog, const std::string& what) {
  auto& preview = part<app::LayoutPreview>(dialog, "layoutPreview");
  return Driver::waitFor([&] {
    for (const auto& item : preview.page().items) {
      const auto* text = std::get_if<drawing::Text>(&item);
      if (text && text->text.find(what) != std::string::npos) return true;
    }
    return false;
  });
}

void press(app::LayoutsDialog& dialog, const char* name) {
  auto& button = part<QPushButton>(dialog, name);
  REQUIRE(button.isEnabled());
  QTest::mouseClick(&button, Qt::LeftButton);
}

}  // namespace

TEST_CASE("A layout is made, changed and seen at once, and undone step by step") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.whenDialog<app::LayoutsDialog>([&](app::LayoutsDialog& dialog) {
    CHECK_FALSE(part<QPushButton>(dialog, "layoutPrint").isEnabled());
    press(dialog, "layoutAdd");
    CHECK(showsText(dialog, "at A3"));
    auto& paper = part<QComboBox>(dialog, "layoutPaper");
    paper.setCurrentIndex(2);
    Q_EMIT paper.activated(2);
    CHECK(showsText(dialog, "at A2"));
    part<QCheckBox>(dialog, "layoutUpright").click();
    CHECK(Driver::waitFor([&] { return part<app::LayoutPreview>(dialog, "layoutPreview").page().width == 420; }));
    auto& scale = *part<QComboBox>(dialog, "layoutScale").lineEdit();
    scale.setFocus();
    scale.selectAll();
    QTest::keyClicks(&scale, "1 : 400");
    QTest::keyClick(&scale, Qt::Key_Return);
    CHECK(d.project().layouts.front().scale == 400);
    CHECK(showsText(dialog, "1 : 400 at A2"));
    part<QTableWidget>(dialog, "layoutFields").item(0, 1)->setText("Growers' union");
    CHECK(showsText(dialog, "Growers' union"));
    auto& name = part<QLineEdit>(dialog, "layoutName");
    name.setFocus();
    name.selectAll();
    QTest::keyClicks(&name, "Issue 1");
    QTest::keyClick(&name, Qt::Key_Return);
    CHECK(part<QListWidget>(dialog, "layoutList").item(0)->text() == "Issue 1");
    dialog.reject();
  });
  d.act("layouts");
  REQUIRE(d.project().layouts.size() == 1);
  CHECK(d.project().layouts.front().name == "Issue 1");
  d.act("undo");
  CHECK(d.project().layouts.front().name == "Earthworks plan");
  d.act("undo");
  CHECK(d.project().layouts.front().fields.front().text.empty());
  int steps = 2;
  for (; !d.project().layouts.empty() && steps < 12; ++steps) d.act("undo");
  CHECK(steps == 6);
  CHECK(d.project().layouts.empty());
}

TEST_CASE("The plan is dragged to its place on the sheet, and copies have names of their own") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.whenDialog<app::LayoutsDialog>([&](app::LayoutsDialog& dialog) {
    press(dialog, "layoutAdd");
    CHECK(showsText(dialog, "at A3"));
    auto& preview = part<app::LayoutPreview>(dialog, "layoutPreview");
    const QPoint from = preview.onScreen({200, 180}).toPoint(), to = preview.onScreen({230, 165}).toPoint();
    QTest::mousePress(&preview, Qt::LeftButton, {}, from);
    QTest::mouseMove(&preview, to);
    QTest::mouseRelease(&preview, Qt::LeftButton, {}, to);
    REQUIRE(d.project().layouts.front().centre);
    CHECK(showsText(dialog, "at A3"));
    // The wheel looks closer at what is under the pointer.
    const QPointF before = preview.onScreen({100, 100});
    QWheelEvent wheel(before, preview.mapToGlobal(before), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&preview, &wheel);
    CHECK((preview.onScreen({100, 100}) - before).manhattanLength() < 1);
    CHECK(preview.onScreen({200, 100}).x() - before.x() > 100);
    press(dialog, "layoutCopy");
    press(dialog, "layoutRemove");
    press(dialog, "layoutCopy");
    CHECK(d.project().layouts.size() == 2);
    CHECK(d.project().layouts[0].name != d.project().layouts[1].name);
    // A name that is taken is not.
    auto& name = part<QLineEdit>(dialog, "layoutName");
    name.setText(QString::fromStdString(d.project().layouts[0].name));
    name.setFocus();
    QTest::keyClick(&name, Qt::Key_Return);
    CHECK(part<QLabel>(dialog, "layoutSays").text().contains("Another layout"));
    dialog.reject();
  });
  d.act("layouts");
  const auto first = *d.project().layouts.front().centre;
  const auto middle = d.workspace().evaluation()->ground(d.project().finished())->tin->bounds().centre();
  // Dragged right and down, other land comes to the middle: to the left of it and above.
  CHECK(first.x < middle.x - 5);
  CHECK(first.y > middle.y + 2);
}

TEST_CASE("The section of now goes on a layout, and all layouts into one file") {
  Driver d;
  d.openDemo("depot.inselberg");
  const Scratch scratch;
  const plane::Vec2 middle = plane::boundsOf(works::outlineOf(d.works(0).shape)).centre();
  d.window.view().takeSection({middle - plane::Vec2{60, 10}, middle + plane::Vec2{60, 10}});
  d.workspace().commit(
      project::withSectionLines(d.project(), {{"A", {middle - plane::Vec2{50, 20}, middle + plane::Vec2{50, 20}}}}),
      "keep a line");
  d.settle();
  std::size_t written = 0;
  d.whenDialog<app::LayoutsDialog>([&](app::LayoutsDialog& dialog) {
    press(dialog, "layoutAdd");
    auto& lines = part<QComboBox>(dialog, "layoutSection");
    REQUIRE(lines.count() == 3);  // none, the kept one, that of now
    lines.setCurrentIndex(2);
    Q_EMIT lines.activated(2);
    CHECK(showsText(dialog, "along, 1 :"));
    CHECK_FALSE(showsText(dialog, "Section A"));
    REQUIRE(lines.currentText() == "Along the line of now");
    lines.setCurrentIndex(1);
    Q_EMIT lines.activated(1);
    CHECK(showsText(dialog, "Section A"));
    CHECK(lines.currentText() == "A");
    press(dialog, "layoutCopy");
    QObject::disconnect(&dialog, &app::LayoutsDialog::writeWanted, nullptr, nullptr);
    QObject::connect(&dialog, &app::LayoutsDialog::writeWanted, &dialog,
                     [&](const QString&, const std::vector<drawing::Page>& pages) { written = pages.size(); });
    press(dialog, "layoutWriteAll");
    dialog.reject();
  });
  d.act("layouts");
  CHECK(written == 2);
  CHECK(d.project().layouts.front().section.size() == 2);
}

TEST_CASE("The window paints a page as it is written: colours at their places") {
  drawing::Page page{100, 50, {}};
  page.items.push_back(drawing::Path{{{10, 10}, {40, 10}, {40, 40}, {10, 40}}, true, {}, 0x14808a, 1});
  page.items.push_back(drawing::Picture{{60, 10, 80, 30}, 2, 1, {0xffc4571b, 0x00000000}});
  app::LayoutPreview preview;
  preview.resize(624, 324);
  preview.show();
  preview.showPage(page, {0, 0, 1, 1});
  const QImage shown = preview.grab().toImage();
  const auto colour = [&](plane::Vec2 mm) { return shown.pixelColor(preview.onScreen(mm).toPoint()).rgb() & 0xffffff; };
  CHECK(colour({25, 25}) == 0x14808a);
  CHECK(colour({65, 20}) == 0xc4571b);
  CHECK(colour({75, 20}) == 0xffffff);
  CHECK(colour({50, 25}) == 0xffffff);
}

TEST_CASE("Plan sheets are printed beneath the plan when a layout says so") {
  Driver d;
  d.openDemo("depot.inselberg");
  project::SheetInfo info;
  info.name = "Sheet", info.file = "sheet.pdf";
  info.size = {254, 127};
  info.placement = sheet::byScale(500, 500, {1, 1});
  const plane::Vec2 corner = d.workspace().evaluation()->surveyed()->tin->bounds().centre();
  info.placement.c = corner.x - 60, info.placement.f = corner.y - 30;
  const auto bytes = std::make_shared<std::string>(pdfOf({"0 0 1 rg 36 36 324 72 re f"}));
  d.workspace().commit(project::withSheet(d.project(), info, bytes, ""), "sheet");
  d.settle();
  d.whenDialog<app::LayoutsDialog>([&](app::LayoutsDialog& dialog) {
    press(dialog, "layoutAdd");
    CHECK(showsText(dialog, "at A3"));
    auto& preview = part<app::LayoutPreview>(dialog, "layoutPreview");
    const auto blue = [&] {
      for (const auto& item : preview.page().items) {
        const auto* picture = std::get_if<drawing::Picture>(&item);
        if (picture && std::find(picture->cells.begin(), picture->cells.end(), 0xff0000ffu) != picture->cells.end())
          return true;
      }
      return false;
    };
    CHECK_FALSE(blue());
    part<QCheckBox>(dialog, "layoutSheets").click();
    CHECK(Driver::waitFor(blue));
    dialog.reject();
  });
  d.act("layouts");
  CHECK(d.project().layouts.at(0).sheets);
  d.act("undo");
  CHECK_FALSE(d.project().layouts.at(0).sheets);
}
