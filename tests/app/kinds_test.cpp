// Works of every kind, drawn, named sections, and what follows them.
#include <catch2/catch.hpp>

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>

#include "base/error.h"
#include "card/pond_card.h"
#include "card/section_drawing.h"
#include "card/section_library.h"
#include "card/sections_dialog.h"
#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

app::SectionsDialog& sectionsOf(Driver& d) {
  d.act("sections");
  return *d.find<app::SectionsDialog>("sectionsDialog");
}

void chooseSection(app::SectionsDialog& dialog, const QString& name) {
  auto* list = dialog.findChild<QListWidget*>("sectionList");
  for (int i = 0; i < list->count(); ++i) {
    if (list->item(i)->text() == name) list->setCurrentRow(i);
  }
}

}  // namespace

TEST_CASE("Works of every kind are drawn on the plan, placed at once, and taken back") {
  Driver d;
  d.openDemo();
  const std::size_t before = d.project().column.back()->works.size();
  for (const works::Kind* kind : works::standardKinds()) {
    if (kind->name == "inlay") continue;  // there is no ground to set in
    CAPTURE(kind->name);
    d.act(("draw-" + kind->name).c_str());
    const bool area = kind->fields()[0].measure == works::Measure::outline;
    const std::vector<plane::Vec2> places = area ? std::vector<plane::Vec2>{{-90, 20}, {-60, 15}, {-58, 40}, {-88, 44}}
                                                 : std::vector<plane::Vec2>{{-95, 10}, {-70, 22}, {-45, 20}};
    for (const plane::Vec2 p : places) d.clickPlan(d.at(p));
    QTest::keyClick(&d.window.plan(), Qt::Key_Return);
    d.settle();
    REQUIRE(d.project().column.back()->works.size() == before + 1);
    const works::Works drawn = d.works(before);
    CHECK(drawn.shape.kind().name == kind->name);
    const auto* placed = d.workspace().evaluation()->works(drawn.id);
    REQUIRE(placed);
    CHECK(d.workspace().chosenWorks() == drawn.id);
    d.act("undo");
    d.settle();
    CHECK(d.project().column.back()->works.size() == before);
  }
}

TEST_CASE("The list of a button says what each works is for, and the button repeats the last chosen") {
  Driver d;
  d.openDemo();
  d.window.showStep("Shape");
  auto* button = d.window.findChild<QToolButton*>("list-Line");
  REQUIRE(button);
  CHECK(button->defaultAction()->objectName() == "draw-ramp");
  auto* entry = d.window.findChild<QAction*>("list-draw-berm");
  REQUIRE(entry);
  CHECK(entry->text().contains("ridge along a line"));
  entry->trigger();
  CHECK(d.window.inHand() == "draw-berm");
  CHECK(button->defaultAction()->objectName() == "draw-berm");
}

TEST_CASE("A typical section is drawn, named, and followed by the works that use it") {
  Driver d;
  d.openDemo();
  {
    app::SectionsDialog& dialog = sectionsOf(d);
    QTest::mouseClick(dialog.findChild<QPushButton*>("sectionNew"), Qt::LeftButton);
    auto* name = dialog.findChild<QLineEdit*>("sectionName");
    name->setText("bank");
    QTest::keyClick(name, Qt::Key_Return);
    CHECK(project::sectionNamed(d.project(), "bank"));
    CHECK(d.project().sections.size() == 1);  // the line's Return presses no button
    dialog.reject();
  }
  // The pad takes it.
  works::Works pad = d.works(0);
  for (std::size_t i = 0; i < pad.shape.kind().fields().size(); ++i) {
    if (pad.shape.kind().fields()[i].name == "section") pad.shape = pad.shape.with(i, works::parsedSections("bank"));
  }
  d.workspace().commit(project::withWorks(d.project(), pad), "section");
  d.settle();
  const double narrow = d.workspace().evaluation()->works(pad.id)->placement->footprintArea;
  {
    app::SectionsDialog& dialog = sectionsOf(d);
    CHECK(dialog.findChild<QLabel*>("sectionUsers")->text() == QString::fromStdString(pad.name));
    auto* drawing = dialog.findChild<app::SectionDrawing*>("sectionDrawing");
    // Behind it the ground out from the middle of the pad's longest side, above its level.
    const auto& placed = *d.workspace().evaluation()->works(pad.id);
    REQUIRE(drawing->ground().size() == 1);
    const auto ring = works::outlineOf(pad.shape);
    std::size_t longest = 0;
    const auto sideOf = [&](std::size_t i) { return ring[(i + 1) % ring.size()] - ring[i]; };
    for (std::size_t i = 0; i < ring.size(); ++i) {
      if (plane::norm(sideOf(i)) > plane::norm(sideOf(longest))) longest = i;
    }
    const plane::Vec2 out = plane::rightOf(plane::unit(sideOf(longest))),
                      middle = ring[longest] + 0.5 * sideOf(longest);
    for (const QPointF p : drawing->ground().front())
      CHECK(placed.under->levelAt(middle + p.x() * out).value() - *works::levelOf(pad.shape) ==
            Approx(p.y()).margin(1e-6));
    // The end of the first leg, drawn out by a hand's width.
    const QPoint end = drawing->endOf(0).toPoint();
    QTest::mousePress(drawing, Qt::LeftButton, {}, end);
    QTest::mouseMove(drawing, end + QPoint(60, 0));
    QTest::mouseRelease(drawing, Qt::LeftButton, {}, end + QPoint(60, 0));
    const works::Section wider = *project::sectionNamed(d.project(), "bank");
    CHECK(wider[0].width > 1.5);
    // A click between the last leg and the daylight adds one; Delete takes it out.
    const QPoint beyond = drawing->endOf(0).toPoint() + QPoint(40, 25);
    QTest::mouseClick(drawing, Qt::LeftButton, {}, beyond);
    CHECK(project::sectionNamed(d.project(), "bank")->size() == 3);
    QTest::keyClick(drawing, Qt::Key_Delete);
    CHECK(*project::sectionNamed(d.project(), "bank") == wider);
    dialog.reject();
  }
  d.settle();
  CHECK(d.workspace().evaluation()->works(pad.id)->placement->footprintArea > narrow + 50);
  d.act("undo");
  d.act("undo");
  d.act("undo");
  d.settle();
  CHECK(d.workspace().evaluation()->works(pad.id)->placement->footprintArea == Approx(narrow));
}

TEST_CASE("Numbers of a section are typed over where they are written, and its works follow a drag of its legs") {
  Driver d;
  d.openDemo("depot.inselberg");
  app::SectionsDialog& dialog = sectionsOf(d);
  chooseSection(dialog, "bank");
  auto* drawing = dialog.findChild<app::SectionDrawing*>("sectionDrawing");
  auto* entry = dialog.findChild<QLineEdit*>("legEntry");
  const auto bank = [&] { return *project::sectionNamed(d.project(), "bank"); };
  const works::Section before = bank();
  std::size_t out = 0;
  while (before[out].kind != works::Leg::Kind::out) ++out;
  const std::size_t batter = before.size() - 1;
  REQUIRE(before[batter].kind == works::Leg::Kind::toGround);
  const auto click = [&](std::size_t leg, bool cut) {
    QTest::mouseClick(drawing, Qt::LeftButton, {}, drawing->wordsOf(leg, cut).center().toPoint());
    REQUIRE(entry->isVisible());
  };
  // Untouched, nothing changes; Esc leaves the dialog open.
  click(out, false);
  QTest::keyClick(entry, Qt::Key_Return);
  CHECK(bank() == before);
  click(out, false);
  QTest::keyClicks(entry, "9");
  QTest::keyClick(entry, Qt::Key_Escape);
  CHECK((bank() == before && dialog.isVisible() && !entry->isVisible()));
  // One number, or both; Tab goes on to the next, round to the first.
  click(out, false);
  QTest::keyClicks(entry, "3.25");
  QTest::keyClick(entry, Qt::Key_Return);
  CHECK(bank()[out].width == 3.25);
  CHECK(bank()[out].fall == before[out].fall);
  click(out, false);
  QTest::keyClicks(entry, "2.5, -1 %");
  QTest::keyClick(entry, Qt::Key_Return);
  CHECK((bank()[out].width == 2.5 && bank()[out].fall == -1));
  click(batter, true);
  QTest::keyClicks(entry, "2.5:1");
  QTest::keyClick(entry, Qt::Key_Tab);
  REQUIRE(entry->isVisible());
  QTest::keyClicks(entry, "4");
  QTest::keyClick(entry, Qt::Key_Return);
  CHECK((bank()[batter].cut == 2.5 && bank()[batter].fill == 4));
  // What is no number is said, and may be mended.
  click(batter, false);
  QTest::keyClicks(entry, "flat");
  QTest::keyClick(entry, Qt::Key_Return);
  CHECK((entry->isVisible() && bank()[batter].fill == 4));
  const auto labels = dialog.findChildren<QLabel*>();
  CHECK(std::any_of(labels.begin(), labels.end(), [](QLabel* l) { return l->text().contains("no number"); }));
  QTest::keyClick(entry, Qt::Key_Escape);
  // A digit begins to type over the chosen numbers.
  QTest::keyClick(drawing, Qt::Key_5);
  QTest::keyClick(entry, Qt::Key_Return);
  CHECK(bank()[batter].fill == 5);

  // While a leg is dragged the works that use it follow; Esc puts it back.
  const works::Section typed = bank();
  const QPoint end = drawing->endOf(out).toPoint();
  QTest::mousePress(drawing, Qt::LeftButton, {}, end);
  QTest::mouseMove(drawing, end + QPoint(50, 0));
  CHECK(bank()[out].width > 2.6);
  QTest::keyClick(drawing, Qt::Key_Escape);
  QTest::mouseRelease(drawing, Qt::LeftButton, {}, end + QPoint(50, 0));
  CHECK((bank() == typed && dialog.isVisible()));
  for (int i = 0; i < 5; ++i) d.act("undo");
  CHECK(bank() == before);
  CHECK(drawing->section() == before);
  dialog.reject();
  d.settle();
}

TEST_CASE("The ground behind a typical section is that beside the pointer") {
  Driver d;
  d.openDemo("depot.inselberg");
  app::SectionsDialog& dialog = sectionsOf(d);
  chooseSection(dialog, "bank");
  const auto* drawing = dialog.findChild<app::SectionDrawing*>("sectionDrawing");
  const project::WorksPtr user = project::usersOfSection(d.project(), "bank").front();
  const auto* placed = d.workspace().evaluation()->works(user->id);
  const plane::Ring outline = works::outlineOf(user->shape);
  REQUIRE(outline.size() > 2);
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const plane::Vec2 a = outline[i], b = outline[(i + 1) % outline.size()];
    const plane::Vec2 at = a + 0.3 * (b - a), out = plane::rightOf(plane::unit(b - a));
    d.window.view().point(at + 0.5 * out);
    REQUIRE(drawing->ground().size() == 1);
    const double level = placed->placement->facets->levelAt(at).value();
    for (const QPointF p : drawing->ground().front())
      CHECK(placed->under->levelAt(at + p.x() * out).value() - level == Approx(p.y()).margin(1e-6));
  }
  // Works keep the legs of sections that are removed; where there is none, there is no ground.
  while (!d.project().sections.empty()) dialog.findChild<QPushButton*>("sectionRemove")->click();
  d.settle();
  CHECK(drawing->ground().empty());
  dialog.reject();
  d.settle();
}

TEST_CASE("Sections are kept in the user's library and taken into another project") {
  QFile::remove(app::libraryPath());
  const auto pick = [](QWidget& dialog, const char* name) {
    QTimer::singleShot(50, &dialog, [&dialog, name] {
      auto* menu = dialog.findChild<QMenu*>("library");
      REQUIRE(menu);
      for (QAction* action : menu->actions()) {
        if (action->text() == name) action->trigger();
      }
      menu->close();
    });
    dialog.findChild<QPushButton*>("sectionTake")->click();
  };
  {
    Driver d;
    d.openDemo("depot.inselberg");
    {
      app::SectionsDialog& dialog = sectionsOf(d);
      pick(dialog, "bank");  // nothing there yet
      dialog.findChild<QListWidget*>("sectionList")->setCurrentRow(0);
      dialog.findChild<QPushButton*>("sectionKeep")->click();
      dialog.findChild<QPushButton*>("sectionKeep")->click();
      dialog.reject();
    }
  }
  REQUIRE(app::userSections().size() == 1);
  const works::NamedSection kept = app::userSections().front();
  Driver d;
  d.openDemo();
  REQUIRE(!project::sectionNamed(d.project(), kept.name));
  {
    app::SectionsDialog& dialog = sectionsOf(d);
    pick(dialog, kept.name.c_str());
    dialog.reject();
  }
  REQUIRE(project::sectionNamed(d.project(), kept.name));
  CHECK(*project::sectionNamed(d.project(), kept.name) == kept.legs);
  // A damaged library is told and left alone.
  QFile file(app::libraryPath());
  REQUIRE(file.open(QIODevice::WriteOnly));
  file.write("{\"sections\": {\"x\": [{\"up\": 1}]}}");
  file.close();
  CHECK_THROWS_AS(app::keepSection(kept), Error);
  CHECK(QFileInfo(app::libraryPath()).size() == 32);
  QFile::remove(app::libraryPath());
  d.settle();
}

TEST_CASE("The card offers the typical sections there are by their names") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.workspace().chooseWorks(d.works(0).id);
  auto* section = d.find<QLineEdit>("field-section");
  REQUIRE(section->isVisible());
  REQUIRE(section->actions().size() == 1);
  const std::string name = d.project().sections.front().name;
  QTimer::singleShot(50, [&] {
    auto* menu = section->findChild<QMenu*>("names");
    REQUIRE(menu);
    CHECK(menu->actions().size() == static_cast<int>(d.project().sections.size()));
    menu->actions().front()->trigger();
    menu->close();
  });
  section->actions().front()->trigger();
  const auto* pad = d.works(0).shape.as<works::Pad>();
  REQUIRE(pad);
  REQUIRE(pad->section.size() == 1);
  CHECK(pad->section.front().section.name == name);
  d.settle();
}

TEST_CASE("A level is tied to other works on the card, and follows it") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.workspace().chooseWorks(d.works(1).id);
  auto* tie = d.find<QComboBox>("tie");
  REQUIRE(tie->isVisible());
  const int row = tie->findText(QString::fromStdString(d.works(0).name));
  REQUIRE(row > 0);
  tie->setCurrentIndex(row);
  Q_EMIT tie->activated(row);
  const double apart = *works::levelOf(d.works(1).shape) - *works::levelOf(d.works(0).shape);
  CHECK(d.works(1).tie->plus == Approx(apart));
  CHECK(tie->currentText().startsWith(QString::fromStdString(d.works(0).name)));
  works::Works raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, 80);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise");
  CHECK(*works::levelOf(d.works(1).shape) == Approx(80 + apart));
  Q_EMIT tie->activated(0);
  CHECK(!d.works(1).tie);
  d.settle();
}

TEST_CASE("Flow arrows are a switch and show in the picture") {
  Driver d;
  d.openDemo();
  const QImage before = d.window.plan().grab().toImage();
  d.act("flow");
  d.settle();
  const QImage after = d.window.plan().grab().toImage();
  int changed = 0;
  for (int y = 0; y < after.height(); y += 2) {
    for (int x = 0; x < after.width(); x += 2) changed += before.pixel(x, y) != after.pixel(x, y);
  }
  CHECK(changed > 500);
  d.act("flow");
  d.settle();
}

TEST_CASE("While earth is measured anew the bar does not tell that there is none") {
  Driver d;
  d.openDemo("depot.inselberg");
  std::size_t index = 0;
  while (!d.works(index).shape.as<works::Pond>()) ++index;
  d.workspace().chooseWorks(d.works(index).id);
  d.settle();
  auto* cut = d.find<QToolButton>("ledgerCut");
  const QString before = cut->text();
  QStringList early;
  QObject::connect(&d.workspace(), &app::Workspace::evaluationChanged, cut, [&] {
    if (!d.workspace().evaluation()->whole) early << cut->text();
  });
  const QPoint corner = d.at(d.corner(index, 0));
  d.dragPlan(corner, corner + QPoint(24, 8), [&] { Driver::waitFor([&] { return !early.empty(); }); });
  d.settle();
  REQUIRE(!early.empty());
  for (const QString& text : early) CHECK(text == "Cut –");
  CHECK(cut->text() != before);
  CHECK(cut->text() != "Cut –");
}

TEST_CASE("The card of a pond shows what it holds and where it spills, and sizes it for a volume") {
  Driver d;
  d.openDemo("depot.inselberg");
  std::size_t index = 0;
  while (!d.works(index).shape.as<works::Pond>()) ++index;
  d.workspace().chooseWorks(d.works(index).id);
  auto* card = d.window.findChild<app::PondCard*>();
  REQUIRE(card);
  const auto shown = [&] {
    Driver::waitFor([&] { return card->storage().has_value(); });
    return *card->storage();
  };
  const auto before = shown();
  CHECK(card->isVisible());
  REQUIRE(d.workspace().spill());
  CHECK(d.workspace().spill()->level == before.hollow.rim);
  d.find<QPushButton>("copyStorage")->click();
  CHECK(QApplication::clipboard()->text().count('\n') == static_cast<int>(before.table.size()) + 1);

  auto* wanted = d.find<QLineEdit>("pondVolume");
  d.find<QPushButton>("sizeByLevel")->click();  // nothing written yet
  d.settle();
  CHECK(!d.workspace().history().canUndo());
  const double volume = std::round(1.2 * before.held);
  wanted->setText(QString::number(volume) + " m³");
  const works::Works old = d.works(index);
  d.find<QPushButton>("sizeByOutline")->click();
  Driver::waitFor([&] { return !(d.works(index) == old); });
  d.settle();
  Driver::waitFor([&] { return card->storage() && std::abs(card->storage()->held - volume) < 1e-3 * volume; });
  CHECK(shown().held == Approx(volume).epsilon(1e-3));
  d.act("undo");
  d.settle();
  CHECK(d.works(index) == old);

  // In the units that the project's volumes are told in, and typed so.
  Measures imperial;
  imperial.imperial = true;
  d.workspace().commit(project::withMeasures(d.project(), imperial), "units");
  d.settle();
  const double yards = before.held / (0.9144 * 0.9144 * 0.9144);
  auto* told = d.find<QLabel>("pondTold");
  CHECK(Driver::waitFor(
      [&] { return told->text().startsWith(QString::fromStdString("Holds " + formatNumber(yards, 0) + " yd³ to")); }));
  wanted->setText(QString::number(std::round(1.1 * yards)));
  d.find<QPushButton>("sizeByOutline")->click();
  CHECK(Driver::waitFor([&] { return card->storage() && std::abs(card->storage()->held - 1.1 * before.held) < 2; }));
  d.act("undo");
  d.settle();
  // Nothing of it is left for works that are no ponds.
  d.workspace().chooseWorks(d.works(index == 0 ? 1 : 0).id);
  CHECK(!card->isVisible());
  CHECK(!d.workspace().spill());
}

TEST_CASE("A works that names a section that is not there says so, and is not balanced") {
  Driver d;
  d.openDemo();
  works::Works pad = d.works(0);
  for (std::size_t i = 0; i < pad.shape.kind().fields().size(); ++i) {
    if (pad.shape.kind().fields()[i].name == "section") pad.shape = pad.shape.with(i, works::parsedSections("nowhere"));
  }
  d.workspace().commit(project::withWorks(d.project(), pad), "section");
  // While the plan still shows what was before.
  d.workspace().balance(pad.id);
  d.settle();
  CHECK(d.works(0) == pad);
  bool told = false;
  for (const auto& doubt : d.workspace().evaluation()->grounds.back().doubts)
    told |= doubt.text.find("nowhere") != std::string::npos;
  CHECK(told);
}

TEST_CASE(
    "A ramp that is drawn from the middle of a pad begins at its edge, cuts nothing off it and follows its level") {
  Driver d;
  d.openDemo();
  const auto doubts = d.workspace().evaluation()->doubtCount();
  const plane::Vec2 inside = d.inside(0);
  d.act("draw-ramp");
  d.clickPlan(d.at(inside));
  d.clickPlan(d.at(inside - plane::Vec2{12, 75}));
  d.key(Qt::Key_Return);
  d.settle();
  const auto ramp = d.project().works(d.workspace().chosenWorks()).works;
  REQUIRE(ramp);
  const auto* shape = ramp->shape.as<works::Ramp>();
  REQUIRE(shape);
  const auto pad = works::outlineOf(d.works(0).shape);
  double near = 1e9;
  for (std::size_t k = 0; k < pad.size(); ++k)
    near = std::min(near, plane::nearestOnSegment(shape->axis.front(), pad[k], pad[(k + 1) % pad.size()]).distance);
  CHECK(near < 2e-3);
  CHECK(d.workspace().evaluation()->doubtCount() == doubts);
  const auto from = [&] {
    for (const auto& f : d.workspace().evaluation()->works(ramp->id)->placement->figures) {
      if (std::string(f.name) == "from_level_m") return f.value;
    }
    return 0.0;
  };
  CHECK(from() == Approx(*works::levelOf(d.works(0).shape)).margin(1e-6));
  auto raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, *works::levelOf(raised.shape) + 0.4);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise it");
  d.settle();
  CHECK(from() == Approx(*works::levelOf(raised.shape)).margin(1e-6));
}
