// Plan sheets in the window: brought in, placed, shown, and quantities taken off them, with real events.
#include <QCheckBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QRadioButton>
#include <QSlider>
#include <QTableWidget>
#include <atomic>
#include <catch2/catch.hpp>
#include <cmath>
#include <thread>

#include "card/quantity_edit.h"
#include "plane/boxes.h"
#include "sheets/page_view.h"
#include "sheets/pages_dialog.h"
#include "sheets/place_dialog.h"
#include "sheets/sheets_dialog.h"
#include "support/driver.h"
#include "support/sheets.h"
#include "window/bring_sheet.h"
#include "workspace/open_sheet.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

constexpr sheet::Colour kContours = 0x73471f, kPad = 0xc4571c;

// Zooms in on the place, clicks it, and zooms out again.
void clickPage(app::PlaceDialog& dialog, Vec2 at) {
  app::PageView& page = dialog.page();
  const auto zoom = [&](int steps) {
    const QPointF here = page.view().toScreen(at);
    for (int i = 0; i < std::abs(steps); ++i) {
      QWheelEvent wheel(here, page.mapToGlobal(here), {}, {0, steps > 0 ? 120 : -120}, Qt::NoButton, Qt::NoModifier,
                        Qt::NoScrollPhase, false);
      QApplication::sendEvent(&page, &wheel);
    }
  };
  Driver::waitFor([&] { return page.settled(); });
  zoom(8);
  Driver::waitFor([&] { return page.settled(); });
  QTest::mouseClick(&page, Qt::LeftButton, {}, page.view().toScreen(at).toPoint());
  zoom(-8);
}

// Types into the cell that is open for it in a table, and goes on with this key.
void typeCell(app::PlaceDialog& dialog, const char* table, const QString& text, Qt::Key then) {
  auto* cells = dialog.findChild<QTableWidget*>(table);
  QLineEdit* open = nullptr;
  const bool opened = Driver::waitFor([&] {
    for (auto* edit : cells->viewport()->findChildren<QLineEdit*>()) {
      if (edit->isVisible()) open = edit;
    }
    // The window of another test on the same screen may have taken the focus, which closes it.
    if (!open && cells->currentItem()) cells->editItem(cells->currentItem());
    return open != nullptr;
  });
  REQUIRE(opened);
  open->clear();
  QTest::keyClicks(open, text);
  QTest::keyClick(open, then);
  QTest::qWait(20);  // Enter is taken a little later
}

void typePoint(app::PlaceDialog& dialog, Vec2 at, const QString& east, const QString& north) {
  clickPage(dialog, at);
  typeCell(dialog, "points", east, Qt::Key_Tab);
  typeCell(dialog, "points", north, Qt::Key_Return);
}

void place(app::PlaceDialog& dialog) {
  auto* go = dialog.findChild<QPushButton*>("placeGo");
  if (go->isEnabled()) {
    go->click();
  } else {
    dialog.reject();
  }
}

// The demo's sheet, placed by the crosses of its grid.
void bringPlan(Driver& d) {
  d.whenDialog<app::PlaceDialog>([](app::PlaceDialog& dialog) {
    typePoint(dialog, {120, 480}, "412300", "6187600");
    typePoint(dialog, {720, 480}, "412600", "6187600");
    typePoint(dialog, {120, 80}, "412300", "6187400");
    place(dialog);
  });
  REQUIRE(app::bringSheet(d.window, QString::fromStdString(demo("plan.pdf"))));
  REQUIRE(Driver::waitFor([&] { return !d.workspace().sheetContents().shown().empty(); }));
  d.settle();
}

// A place on a line of the sheet, where the plan shows no other line near it.
Vec2 onLine(Driver& d, sheet::Colour colour, double width) {
  const auto lines = d.workspace().sheetContents().shown().front()->linesLike(colour, width);
  REQUIRE_FALSE(lines.empty());
  const auto longest = std::max_element(lines.begin(), lines.end(),
                                        [](const auto& a, const auto& b) { return a.points.size() < b.points.size(); });
  const std::size_t i = longest->points.size() / 3;
  return 0.5 * (longest->points[i] + longest->points[i + 1]);
}

const project::SourceData& takenData(Driver& d) {
  for (const auto& s : d.project().sources) {
    if (s->name == "plan, existing") return *s->data;
  }
  FAIL("nothing was taken");
  return *d.project().sources.front()->data;
}

void dialogOf(Driver& d, const std::function<void(app::SheetsDialog&)>& use) {
  d.whenDialog<app::SheetsDialog>([use](app::SheetsDialog& dialog) {
    use(dialog);
    dialog.reject();
  });
  d.act("sheets");
}

}  // namespace

TEST_CASE("A sheet is placed by points of its grid, and the plan shows it where it belongs") {
  Driver d;
  bringPlan(d);
  REQUIRE(d.project().sheets.size() == 1);
  const project::PlanSheet& sheet = *d.project().sheets.front();
  CHECK(sheet.placedBy == project::PlacedBy::points);
  CHECK(project::scaleText(sheet) == "1 : 500");
  const plane::Origin origin = d.project().origin;
  const Vec2 cross = sheet.placement({720, 80});
  CHECK(cross.x + origin.easting == Approx(412600).margin(0.01));
  CHECK(cross.y + origin.northing == Approx(6187400).margin(0.01));
  // The heavy line at the pad's edge is dark on the plan, the paper beside it is not.
  const Vec2 edge = onLine(d, kPad, 0.5);
  const QImage plan = d.window.plan().grab().toImage();
  const auto darkest = [&](QPoint at) {
    int least = 255;
    for (int dx = -2; dx <= 2; ++dx) {
      for (int dy = -2; dy <= 2; ++dy) least = std::min(least, qGray(plan.pixel(at + QPoint(dx, dy))));
    }
    return least;
  };
  CHECK(darkest(d.at(edge)) < 190);
  CHECK(darkest(d.at(sheet.placement({50, 550}))) > 225);
  // One command hides it and brings it back.
  d.act("hideSheets");
  CHECK(d.project().sheets.front()->hidden);
  d.act("hideSheets");
  CHECK_FALSE(d.project().sheets.front()->hidden);
}

TEST_CASE("Quantities taken off the demo's plan sheet are those of the demo within one percent") {
  Driver d;
  bringPlan(d);
  d.act("takeContours");
  for (const double width : {0.35, 0.18}) {
    const QPoint at = d.at(onLine(d, kContours, width));
    d.movePlan(at);
    d.clickPlan(at, Qt::ShiftModifier);
    d.settle();
  }
  const auto contours = [&] { return std::as_const(takenData(d)).breaklines; };
  const auto lines = contours();
  CHECK(lines.size() > 25);
  std::size_t levelled = 0;
  for (const auto& line : lines) levelled += std::isnan(line.vertices.front().z) ? 0 : 1;
  CHECK(levelled > 18);
  d.act("takeLevels");
  d.settle();
  CHECK(takenData(d).points.size() > 200);
  d.act("takeBoundary");
  d.clickPlan(d.at(onLine(d, 0x000000, 0.5)));
  d.settle();
  CHECK(takenData(d).boundaries.size() == 1);
  d.act("takePads");
  d.clickPlan(d.at(onLine(d, kPad, 0.5)));
  d.settle();
  REQUIRE(d.project().ground(d.project().finished())->works.size() == 1);
  CHECK(works::levelOf(d.works(0).shape) == 77.5);
  const report::Ledger here = d.ledger();
  const auto wanted = reportOf(demo("tolwin.inselberg"))["total"];
  CHECK(here.cut == Approx(wanted["cut_m3"].get<double>()).epsilon(0.01));
  CHECK(here.fill == Approx(wanted["fill_m3"].get<double>()).epsilon(0.01));
  // Each step is undone by itself.
  d.act("undo");
  d.settle();
  CHECK(d.project().ground(d.project().finished())->works.empty());
  CHECK(takenData(d).boundaries.size() == 1);
}

TEST_CASE("A contour takes its label's level, one without a label wants a level first, and those after it follow") {
  Driver d;
  bringPlan(d);
  d.act("takeContours");
  const auto lines = d.workspace().sheetContents().shown().front()->linesLike(kContours, 0.18);
  const auto bare =
      std::find_if(lines.begin(), lines.end(), [](const auto& l) { return !l.level && l.points.size() > 3; });
  const auto labelled = std::find_if(lines.begin(), lines.end(), [](const auto& l) { return l.level == 77.0; });
  REQUIRE(bare != lines.end());
  REQUIRE(labelled != lines.end());
  const auto middle = [](const auto& line) { return line.points[line.points.size() / 2]; };
  d.window.plan().showPlace(middle(*bare));
  d.settle();
  d.clickPlan(d.at(middle(*bare)));
  CHECK(d.project().sources.empty());
  QTest::keyClicks(&d.window.plan(), "7");
  auto* entry = d.find<QLineEdit>("planEntry");
  QTest::keyClicks(entry, "1.25");
  QTest::keyClick(entry, Qt::Key_Return);
  d.clickPlan(d.at(middle(*bare)));
  REQUIRE(takenData(d).breaklines.size() == 1);
  CHECK(takenData(d).breaklines[0].vertices.front().z == 71.25);
  CHECK(takenData(d).breaklines[0].contour);
  d.window.plan().showPlace(middle(*labelled));
  d.settle();
  d.clickPlan(d.at(middle(*labelled)));
  REQUIRE(takenData(d).breaklines.size() == 2);
  CHECK(takenData(d).breaklines[1].vertices.front().z == 77.0);
}

TEST_CASE("A stroke across contours sets levels in their order, and questions those that do not fit") {
  Driver d;
  bringPlan(d);
  project::SourceData data;
  for (int i = 0; i < 5; ++i) {
    const double z = i == 2 ? 74 : std::nan("");
    data.breaklines.push_back({{{100, 100.0 + 8 * i, z}, {160, 100.0 + 8 * i, z}}, false, true});
  }
  project::SourceInfo info;
  info.name = "traced";
  d.workspace().commit(project::withLooseSource(d.project(), info, std::move(data)), "trace");
  d.settle();
  d.window.plan().showPlace({130, 116});
  d.settle();
  d.act("setLevels");
  d.dragPlan(d.at({130, 95}), d.at({130, 137}));
  const auto levels = [&] {
    std::vector<double> list;
    for (const auto& line : d.project().sources.back()->data->breaklines) list.push_back(line.vertices.front().z);
    return list;
  };
  CHECK(levels() == std::vector<double>{73, 73.5, 74, 74.5, 75});
  // One that does not fit any more.
  d.act("undo");
  auto shape = *project::shapeOf(d.project(), {d.project().sources.back()->id, project::FeatureKind::line, 4});
  for (auto& v : shape.vertices) v.z = 57;
  d.workspace().commit(
      project::withShape(d.project(), {d.project().sources.back()->id, project::FeatureKind::line, 4}, shape),
      "mistype");
  d.dragPlan(d.at({130, 95}), d.at({130, 137}));
  CHECK(std::isnan(levels()[0]));
  CHECK(d.window.messages().text().contains("does not fit"));
}

TEST_CASE("Lengths scale a sheet, one alone leaves it doubtful, and a check tells how far off it is") {
  Driver d;
  QString doubtOfOne, doubtOfTwo, check, scale;
  d.whenDialog<app::PlaceDialog>([&](app::PlaceDialog& dialog) {
    dialog.findChild<QRadioButton*>("placeByLengths")->click();
    const auto length = [&](Vec2 from, Vec2 to, const QString& metres) {
      clickPage(dialog, from);
      clickPage(dialog, to);
      typeCell(dialog, "lengths", metres, Qt::Key_Return);
    };
    length({120, 80}, {720, 80}, "300");
    doubtOfOne = dialog.findChild<QLabel*>("placeDoubts")->text();
    length({120, 80}, {120, 480}, "200");
    doubtOfTwo = dialog.findChild<QLabel*>("placeDoubts")->text();
    dialog.findChild<QPushButton*>("checkLength")->click();
    clickPage(dialog, {320, 80});
    clickPage(dialog, {520, 80});
    QTest::keyClicks(dialog.findChild<QLineEdit*>("checkMetres"), "98");
    check = dialog.findChild<QLabel*>("checkSays")->text();
    scale = dialog.findChild<QLabel*>("placeResult")->text();
    place(dialog);
  });
  REQUIRE(app::bringSheet(d.window, QString::fromStdString(demo("plan.pdf"))));
  CHECK(doubtOfOne.contains("one direction only"));
  CHECK(doubtOfTwo.isEmpty());
  CHECK(check.contains("2.04 % longer"));
  CHECK(scale == "1 : 500");
  CHECK(d.project().sheets.front()->controls.size() == 4);
}

TEST_CASE("The list of sheets shows what is doubtful, and alters how a sheet is shown") {
  Driver d;
  d.whenDialog<app::PlaceDialog>([&](app::PlaceDialog& dialog) {
    dialog.findChild<QRadioButton*>("placeByScale")->click();
    dialog.findChild<QCheckBox*>("scaleEven")->setChecked(false);
    dialog.findChild<QLineEdit*>("scaleUp")->setText("250");
    place(dialog);
  });
  REQUIRE(app::bringSheet(d.window, QString::fromStdString(demo("plan.pdf"))));
  d.settle();
  dialogOf(d, [&](app::SheetsDialog& dialog) {
    CHECK(dialog.findChild<QListWidget*>("sheetList")->item(0)->text().contains("doubtful"));
    CHECK(dialog.findChild<QLabel*>("sheetDoubts")->text().contains("differ by"));
    const project::PlanSheet before = *d.project().sheets.front();
    d.whenDialog<QInputDialog>([](QInputDialog& ask) {
      ask.setDoubleValue(90);
      ask.accept();
    });
    dialog.findChild<QPushButton*>("sheetTurn")->click();
    const project::PlanSheet& turned = *d.project().sheets.front();
    CHECK(turned.placement.rotation() == Approx(before.placement.rotation() + 90));
    CHECK(plane::distance(project::boundsOf(turned).centre(), project::boundsOf(before).centre()) < 1e-6);
    dialog.findChild<QCheckBox*>("sheetGrey")->click();
    dialog.findChild<QCheckBox*>("sheetLocked")->click();
    dialog.findChild<QSlider*>("sheetOpacity")->setValue(40);
    dialog.findChild<QPushButton*>("sheetCrop")->click();
    CHECK_FALSE(dialog.findChild<QPushButton*>("sheetPlace")->isEnabled());
    CHECK_FALSE(dialog.findChild<QPushButton*>("sheetTurn")->isEnabled());
  });
  const project::PlanSheet& sheet = *d.project().sheets.front();
  CHECK(sheet.grey);
  CHECK(sheet.locked);
  CHECK(sheet.opacity == Approx(0.4));
  CHECK(sheet.crop);
  dialogOf(d, [&](app::SheetsDialog& dialog) { dialog.findChild<QPushButton*>("sheetRemove")->click(); });
  CHECK(d.project().sheets.empty());
  d.act("undo");
  CHECK(d.project().sheets.size() == 1);
}

TEST_CASE("Sheets and what was taken off them are there after reopening") {
  const Scratch s;
  const std::string path = s / "site.inselberg";
  {
    Driver d;
    bringPlan(d);
    d.act("takeLevels");
    d.settle();
    REQUIRE(d.window.saveProject(QString::fromStdString(path)));
  }
  Driver d;
  REQUIRE(d.window.openProject(QString::fromStdString(path)));
  d.settle();
  REQUIRE(d.project().sheets.size() == 1);
  CHECK(d.project().sheets.front()->controls.size() == 3);
  CHECK(*d.project().sheets.front()->bytes == contentOf(demo("plan.pdf")));
  CHECK(Driver::waitFor([&] { return !d.workspace().sheetContents().shown().empty(); }));
  CHECK(takenData(d).points.size() > 200);
}

TEST_CASE("Of a file of several pages those chosen become sheets, and one that is damaged is told") {
  const Scratch s;
  Driver d;
  const std::string three = s.file("three.pdf", pdfOf({"72 72 m 500 300 l S", {}, {}, {}, {}, "0 0 720 360", 3}));
  d.whenDialog<app::PagesDialog>([&](app::PagesDialog& dialog) {
    auto* pages = dialog.findChild<QListWidget*>("pages");
    CHECK(pages->count() == 3);
    pages->clearSelection();
    pages->item(1)->setSelected(true);
    d.whenDialog<app::PlaceDialog>([](app::PlaceDialog& placing) {
      placing.findChild<QRadioButton*>("placeByScale")->click();
      place(placing);
    });
    dialog.accept();
  });
  REQUIRE(app::bringSheet(d.window, QString::fromStdString(three)));
  REQUIRE(d.project().sheets.size() == 1);
  CHECK(d.project().sheets.front()->page == 2);
  CHECK_FALSE(app::bringSheet(d.window, QString::fromStdString(s.file("bad.pdf", "%PDF-1.4 and no more"))));
  CHECK(d.window.messages().text().contains("damaged"));
  CHECK(d.project().sheets.size() == 1);
}

TEST_CASE("A picture with a world file lies where it says, without asking") {
  const Scratch s;
  Driver d;
  const std::string scan =
      s.file("scan.tif", tiffOf({200, 100, 3, 8, 2, 1, 0, [](int c, int, int) { return c < 100 ? 0 : 255; }}));
  s.file("scan.tfw", "0.5\n0\n0\n-0.5\n412300.25\n6187449.75\n");
  REQUIRE(app::bringSheet(d.window, QString::fromStdString(scan)));
  REQUIRE(d.project().sheets.size() == 1);
  d.settle();
  const project::PlanSheet& sheet = *d.project().sheets.front();
  CHECK(sheet.placedBy == project::PlacedBy::itself);
  const QImage plan = d.window.plan().grab().toImage();
  CHECK(qGray(plan.pixel(d.at(sheet.placement({50, 50})))) < 30);
  CHECK(qGray(plan.pixel(d.at(sheet.placement({150, 50})))) > 220);
}

namespace {

// The demo's scan, which is turned, and stretched each way by its own factor: four crosses of its grid place it.
void bringScan(Driver& d) {
  const auto onScan = [](Vec2 mm) {
    const double dots = 100 / 25.4, turned = 0.6 * 3.14159265358979 / 180;
    const Vec2 v{(mm.x - 420.5) * 1.008, (mm.y - 297) * 0.995};
    return Vec2{dots * (420.5 + v.x * std::cos(turned) - v.y * std::sin(turned)),
                dots * (297 + v.x * std::sin(turned) + v.y * std::cos(turned))};
  };
  d.whenDialog<app::PlaceDialog>([&](app::PlaceDialog& dialog) {
    typePoint(dialog, onScan({120, 480}), "412300", "6187600");
    typePoint(dialog, onScan({720, 480}), "412600", "6187600");
    typePoint(dialog, onScan({120, 80}), "412300", "6187400");
    typePoint(dialog, onScan({720, 80}), "412600", "6187400");
    CHECK(dialog.findChild<QLabel*>("placeDoubts")->text().contains("differ by 1.3 %"));
    place(dialog);
  });
  REQUIRE(app::bringSheet(d.window, QString::fromStdString(demo("scan.png"))));
  d.settle();
}

struct Contour {
  double level;
  std::vector<Vec2> line;
};
// Those of the demo's ground, every half metre, as they are drawn on the sheet.
std::vector<Contour> contoursOfDemo(const plane::Origin& origin) {
  const Scratch s;
  REQUIRE(runCli("contours '" + demo("existing.xml") + "' --interval 0.5 -o '" + s / "c.geojson" + "'").code == 0);
  const auto all = nlohmann::json::parse(contentOf(s / "c.geojson"));
  std::vector<Contour> contours;
  for (const auto& f : all["features"]) {
    Contour& c = contours.emplace_back(Contour{f["properties"]["level_m"].get<double>(), {}});
    for (const auto& p : f["geometry"]["coordinates"])
      c.line.push_back({p[0].get<double>() - origin.easting, p[1].get<double>() - origin.northing});
  }
  return contours;
}

}  // namespace

TEST_CASE("On a scan a contour is traced from click to click, and what is drawn lies on the dark line") {
  Driver d;
  bringScan(d);
  const auto contours = contoursOfDemo(d.project().origin);
  const auto found =
      std::find_if(contours.begin(), contours.end(), [](const Contour& c) { return std::abs(c.level - 77.5) < 1e-9; });
  REQUIRE(found != contours.end());
  const std::vector<Vec2>& line = found->line;
  const Vec2 from = line[line.size() / 6], to = line[line.size() / 3];
  d.window.plan().showPlace(0.5 * (from + to));
  for (int i = 0; i < 3; ++i) d.key(Qt::Key_Plus);
  d.settle();
  d.act("drawContour");
  d.key(Qt::Key_T);
  d.clickPlan(d.at(from));
  d.clickPlan(d.at(to));
  d.key(Qt::Key_Return);
  const auto drawn = project::shapeOf(d.project(), {d.project().sources.back()->id, project::FeatureKind::line, 0});
  REQUIRE(drawn);
  CHECK(drawn->vertices.size() > 5);
  for (const auto& v : drawn->vertices) {
    double least = 1e9;
    for (std::size_t i = 0; i + 1 < line.size(); ++i)
      least = std::min(least, plane::nearestOnSegment(v.plan(), line[i], line[i + 1]).distance);
    CHECK(least < 0.6);  // m, about a millimetre on the paper
  }
  CHECK(d.project().sheets.front()->picture);
}

TEST_CASE("Quantities traced off the demo's scan are those of the demo within three percent") {
  Driver d;
  bringScan(d);
  const plane::Origin origin = d.project().origin;
  const auto outline = nlohmann::json::parse(contentOf(demo("silo-pad.geojson")))["features"][0]["geometry"];
  std::vector<Vec2> pad;
  for (const auto& p : outline["coordinates"][0])
    pad.push_back({p[0].get<double>() - origin.easting, p[1].get<double>() - origin.northing});
  pad.pop_back();
  plane::Box around = plane::boundsOf(pad);
  d.window.plan().showPlace(around.centre());
  d.key(Qt::Key_Plus);
  d.settle();
  around = around.grown(30);
  REQUIRE(plane::holds(d.window.plan().view().visible(), around));
  // Every contour about the pad, a click about every ten metres of it.
  d.act("drawContour");
  d.key(Qt::Key_T);
  std::size_t traced = 0;
  for (const Contour& c : contoursOfDemo(origin)) {
    double gone = 0;
    std::vector<Vec2> clicks;
    const auto trace = [&] {
      if (clicks.size() > 1) {
        d.type(QString("z %1").arg(c.level));
        for (const Vec2 p : clicks) d.clickPlan(d.at(p));
        d.key(Qt::Key_Return);
        ++traced;
      }
      clicks.clear();
      gone = 0;
    };
    for (std::size_t i = 0; i < c.line.size(); ++i) {
      if (!around.contains(c.line[i])) {
        trace();
        continue;
      }
      if (!clicks.empty()) gone += plane::distance(c.line[i - 1], c.line[i]);
      const bool last = i + 1 == c.line.size() || !around.contains(c.line[i + 1]);
      if (!clicks.empty() && gone < 10 && !last) continue;
      clicks.push_back(c.line[i]);
      gone = 0;
    }
    trace();
  }
  CHECK(traced > 8);
  d.key(Qt::Key_Escape);
  d.settle();
  d.act("draw-pad");
  // Its corners are written on a drawing: clicked, they would catch the contours beside them.
  for (const Vec2 p : pad)
    d.type(QString("%1 %2").arg(p.x + origin.easting, 0, 'f', 3).arg(p.y + origin.northing, 0, 'f', 3));
  d.key(Qt::Key_Return);
  d.settle();
  REQUIRE(d.project().ground(d.project().finished())->works.size() == 1);
  auto* level = d.find<app::QuantityEdit>("field-level");
  level->setFocus();
  level->selectAll();
  QTest::keyClicks(level, "77.5");
  QTest::keyClick(level, Qt::Key_Return);
  d.settle();
  const report::Ledger here = d.ledger();
  const auto wanted = reportOf(demo("tolwin.inselberg"))["total"];
  CHECK(here.cut == Approx(wanted["cut_m3"].get<double>()).epsilon(0.03));
  CHECK(here.fill == Approx(wanted["fill_m3"].get<double>()).epsilon(0.03));
}

TEST_CASE("A file of a sheet is open once, whoever holds it, and used by one after the other") {
  const auto bytes = [](const char* content) { return std::make_shared<const std::string>(pdfOf({content})); };
  const auto one = project::makePlanSheet({}, {}, bytes("10 10 m 90 10 l S"), "");
  const auto same = project::makePlanSheet({}, {}, bytes("10 10 m 90 10 l S"), "");
  const auto other = project::makePlanSheet({}, {}, bytes("10 10 m 90 90 l S"), "");
  const auto open = app::OpenSheet::of(*one);
  CHECK(app::OpenSheet::of(*same) == open);
  CHECK(app::OpenSheet::of(*other) != open);
  sheet::Document* first = open->use([](sheet::Document& document) { return &document; });
  CHECK(app::OpenSheet::of(*same)->use([](sheet::Document& document) { return &document; }) == first);
  std::atomic<int> inside = 0;
  std::atomic<bool> together = false;
  std::vector<std::thread> users;
  for (int i = 0; i < 4; ++i) {
    users.emplace_back([&] {
      for (int k = 0; k < 50; ++k) {
        app::OpenSheet::of(*one)->use([&](sheet::Document& document) {
          if (++inside > 1) together = true;
          if (document.pages() != 1) together = true;
          --inside;
        });
      }
    });
  }
  for (std::thread& user : users) user.join();
  CHECK_FALSE(together);
  // What cannot be opened says so to everyone who asks.
  const auto damaged = project::makePlanSheet({}, {}, std::make_shared<const std::string>("%PDF-1.4 no more"), "");
  const auto broken = app::OpenSheet::of(*damaged);
  for (int i = 0; i < 2; ++i) CHECK_THROWS_AS(broken->use([](sheet::Document&) {}), Error);
}
