// The picture of the plan, pixel by pixel where that tells something.
#include <QImage>
#include <QInputDialog>
#include <QPainter>
#include <QSettings>
#include <catch2/catch.hpp>

#include "base/error.h"
#include "canvas/ground_colours.h"
#include "canvas/legend.h"
#include "ground/contours.h"
#include "plan/plan_renderer.h"
#include "plane/polygon.h"
#include "report/depth_places.h"
#include "support/driver.h"
#include "support/grounds.h"
#include "theme/theme.h"
#include "works/hachures.h"
#include "works/pad.h"

using namespace inselberg;
using namespace inselberg::testing;
using app::Lit;
using app::PlanMode;
using app::PlanRequest;
using plane::Vec2;

namespace {

PlanRequest requestOf(const ground::TinPtr& shown, const ground::TinPtr& beneath) {
  PlanRequest r;
  r.shown = shown;
  r.beneath = beneath;
  r.contours = false;
  r.view.size = {400, 400};
  r.view.scale = 4;
  r.view.centre = {50, 50};
  return r;
}

QColor at(const QImage& image, const app::ViewTransform& view, Vec2 p) {
  return image.pixelColor(view.toScreen(p).toPoint());
}

bool near(QColor a, QColor b, int within = 6) {
  return std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue()) <= within;
}

}  // namespace

TEST_CASE("Off the ground the plan is paper, on it it is not") {
  app::PlanRenderer renderer;
  auto r = requestOf(gridGround(
                         60, 6, [](double x, double) { return 0.1 * x; }, 20, 20),
                     nullptr);
  const QImage image = renderer.render(r, {}).image;
  CHECK(near(at(image, r.view, {10, 50}), app::theme::paper(), 0));
  CHECK_FALSE(near(at(image, r.view, {50, 50}), app::theme::paper(), 10));
}

TEST_CASE("The depth map has the colour of the depth, a zero line between cut and fill, and lights up one of them") {
  app::PlanRenderer renderer;
  const auto flat = gridGround(100, 5, [](double, double) { return 10; });
  const auto tilted = gridGround(100, 7, [](double x, double) { return 10 + 0.04 * (x - 50); });
  auto r = requestOf(tilted, flat);
  r.mode = PlanMode::depth;
  r.greatestDepth = 2;
  const QImage map = renderer.render(r, {}).image;
  CHECK(near(at(map, r.view, {14.3, 43}), app::theme::depthColour(0.04 * (14.3 - 50), 2), 12));
  CHECK(near(at(map, r.view, {91.1, 43}), app::theme::depthColour(0.04 * (91.1 - 50), 2), 12));
  bool zero = false;
  for (int x = 190; x < 210; ++x) zero |= near(map.pixelColor(x, 150), app::theme::ink(), 3);
  CHECK(zero);
  r.lit = Lit::fill;
  const QImage lit = renderer.render(r, {}).image;
  CHECK(at(lit, r.view, {91.1, 43}) == at(map, r.view, {91.1, 43}));
  CHECK_FALSE(at(lit, r.view, {14.3, 43}) == at(map, r.view, {14.3, 43}));
}

TEST_CASE("The map of a tolerance tells what lies lower, within it and higher, with a line between") {
  app::PlanRenderer renderer;
  const auto flat = gridGround(100, 5, [](double, double) { return 10; });
  const auto tilted = gridGround(100, 7, [](double x, double) { return 10 + 0.04 * (x - 50); });
  auto r = requestOf(tilted, flat);
  const QImage relief = renderer.render(r, {}).image;
  r.mode = PlanMode::depth;
  r.tolerance = 1;  // within from 25 to 75
  const QImage map = renderer.render(r, {}).image;
  for (const double x : {2.0, 12.0, 23.0}) CHECK(near(at(map, r.view, {x, 43}), app::theme::beyondTolerance(-1), 3));
  for (const double x : {27.0, 50.0, 73.0}) CHECK(at(map, r.view, {x, 43}) == at(relief, r.view, {x, 43}));
  for (const double x : {77.0, 98.0}) CHECK(near(at(map, r.view, {x, 43}), app::theme::beyondTolerance(1), 3));
  for (const int edge : {100, 300}) {
    bool line = false;  // a pixel of none of the three colours
    for (int x = edge - 4; x <= edge + 4; ++x) {
      const QColor c = map.pixelColor(x, 170);
      line |= !near(c, at(relief, r.view, {50, 50}), 60) && !near(c, app::theme::beyondTolerance(edge < 200 ? -1 : 1));
    }
    CHECK(line);
  }
  CHECK(app::toleranceLegend(1).cells.size() == 3);
}

TEST_CASE("Levels and steepness have the colours of their bands, and the bands are round and cover the ground") {
  app::PlanRenderer renderer;
  // A plane that rises 8 %, then one that rises 40 %.
  const auto bent = gridGround(100, 50, [](double x, double) { return x < 50 ? 0.08 * x : 4 + 0.4 * (x - 50); });
  auto r = requestOf(bent, nullptr);
  r.mode = PlanMode::steepness;
  const QImage steep = renderer.render(r, {}).image;
  CHECK(near(at(steep, r.view, {20.3, 43}), app::theme::steepnessColour(3.0 / 7), 2));
  CHECK(near(at(steep, r.view, {80.3, 43}), app::theme::steepnessColour(6.0 / 7), 2));
  r.mode = PlanMode::levels;
  const QImage levels = renderer.render(r, {}).image;
  const auto bands = app::levelBands(*bent);
  CHECK(bands.lowest <= bent->minLevel());
  CHECK(bands.lowest + bands.count * bands.step >= bent->maxLevel());
  CHECK(bands.at(bent->maxLevel()) == bands.count - 1);
  // All of one band has one colour, lighter the higher it is.
  const auto sum = [&](plane::Vec2 p) {
    const QColor c = at(levels, r.view, p);
    return c.red() + c.green() + c.blue();
  };
  REQUIRE(bands.at(0.08 * 10.2) == bands.at(0.08 * 14.1));
  CHECK(at(levels, r.view, {10.2, 40}) == at(levels, r.view, {14.1, 60}));
  CHECK(sum({96, 50}) > sum({75, 50}));
  for (const auto colour : {app::theme::levelColour, app::theme::steepnessColour}) {
    for (int i = 0; i < 10; ++i) CHECK(qGray(colour(i / 10.0).rgb()) != qGray(colour((i + 1) / 10.0).rgb()));
  }
}

TEST_CASE("Depths are written where they are greatest, and on the grid that is chosen") {
  Driver d;
  d.openDemo("depot.inselberg");
  const auto& p = d.project();
  const auto places = report::deepestPlaces(*d.workspace().evaluation(), p.surveyed(), p.finished());
  CHECK(places.size() >= 7);  // each works cuts or fills somewhere
  const auto stripped = p.withRole(project::Role::stripped)->id;
  const auto seam = report::deepestPlaces(*d.workspace().evaluation(), p.surveyed(), stripped);
  REQUIRE(seam.size() == 1);  // stripping fills nothing
  const auto& e = *d.workspace().evaluation();
  for (const auto& s : e.seams) {
    if (s.to != stripped) continue;
    const double there = *e.ground(s.from)->tin->levelAt(seam[0]) - *e.ground(s.to)->tin->levelAt(seam[0]);
    CHECK(there == Approx(s.volume->maxCut).margin(1e-6));
  }
  d.act("depth");
  d.settle();
  const QImage before = d.window.plan().grab().toImage();
  const auto choose = [&](double spacing) {
    d.whenDialog<QInputDialog>([spacing](QInputDialog& dialog) {
      dialog.setDoubleValue(spacing);
      dialog.accept();
    });
    d.act("depthSpacing");
    d.settle();
  };
  choose(7);
  CHECK(d.window.view().shown().depthSpacing == 7);
  CHECK(d.window.plan().grab().toImage() != before);
  choose(0);
  CHECK(d.window.plan().grab().toImage() == before);
}

TEST_CASE("Limits of steepness are typed in percent or as ratios, from gentle to steep") {
  const auto limits = app::steepnessLimits("0.5 %, 2;  10 3:1");
  REQUIRE(limits.size() == 4);
  CHECK(limits[0] == Approx(0.005));
  CHECK(limits[2] == Approx(0.1));
  CHECK(limits[3] == Approx(1.0 / 3));
  for (const char* wrong : {"", "0", "-1", "5 2", "2 2", "oxen", "3:", "0:1", "1:2:3", "1 2 3 4 5 6 7 8"}) {
    CAPTURE(wrong);
    CHECK_THROWS_AS(app::steepnessLimits(wrong), Error);
  }
  const auto again = app::steepnessLimits(app::steepnessText(app::kUsualSteepness));
  REQUIRE(again.size() == app::kUsualSteepness.size());
  for (std::size_t i = 0; i < again.size(); ++i) CHECK(again[i] == Approx(app::kUsualSteepness[i]).epsilon(1e-3));
}

TEST_CASE("Other limits of steepness colour plan and legend by themselves, and are remembered") {
  app::PlanRenderer renderer;
  const auto slope = gridGround(100, 10, [](double x, double) { return 0.15 * x; });
  auto r = requestOf(slope, nullptr);
  r.mode = PlanMode::steepness;
  r.steepness = {0.10, 0.20};
  CHECK(near(at(renderer.render(r, {}).image, r.view, {50, 50}), app::theme::steepnessColour(0.5)));
  r.steepness = {0.20};
  CHECK(near(at(renderer.render(r, {}).image, r.view, {50, 50}), app::theme::steepnessColour(0)));
  r.steepness = {0.10};
  CHECK(near(at(renderer.render(r, {}).image, r.view, {50, 50}), app::theme::steepnessColour(1)));

  const auto type = [](Driver& d, const QString& text) {
    d.whenDialog<QInputDialog>([&](QInputDialog& dialog) {
      dialog.setTextValue(text);
      dialog.accept();
    });
    d.act("steepnessLimits");
  };
  {
    Driver d;
    d.openDemo();
    type(d, "2 30");
    CHECK(d.window.view().shown().mode == PlanMode::steepness);
    d.settle();
    app::ShownLegend legend;
    const auto told = legend.of(d.window.view(), 1);
    REQUIRE(told);
    CHECK(told->cells.size() == 3);
    CHECK(told->between[1] == "2 %");
    type(d, "30 2");
    CHECK(d.window.messages().text().contains("\"2\" is not steeper"));
    CHECK(d.window.view().shown().steepness.size() == 2);
    Driver other;
    CHECK(other.window.view().shown().steepness == app::SteepnessLimits{0.02, 0.3});
    type(d, "");
    CHECK(d.window.view().shown().steepness == app::kUsualSteepness);
  }
  QSettings().remove("steepness");
}

TEST_CASE("Works have colours of their own, the later over the earlier, and the legend names them") {
  Driver d;
  d.openDemo("depot.inselberg");
  d.act("worksColours");
  d.settle();
  const auto& grounds = d.workspace().evaluation()->grounds;
  const auto tints = app::worksTints(*d.workspace().evaluation(), d.project().finished());
  REQUIRE(tints.size() == 7);
  for (std::size_t i = 0; i < tints.size(); ++i) CHECK(tints[i].colour == app::theme::worksColour(i));
  CHECK(app::worksTints(*d.workspace().evaluation(), grounds.front().id).empty());
  app::ShownLegend legend;
  CHECK(legend.of(d.window.view(), 1)->names.front() == "Silo pad");
  // Left out, it has none, and the others keep their colours.
  d.workspace().leaveOutOrTakeIn(d.works(0).id);
  d.settle();
  const auto fewer = app::worksTints(*d.workspace().evaluation(), d.project().finished());
  REQUIRE(fewer.size() == 6);
  CHECK(fewer[0].colour == tints[1].colour);
  CHECK(fewer[0].name == tints[1].name);

  // Pixel by pixel, on grounds made for it.
  app::PlanRenderer renderer;
  const auto square = [](double from, double size) {
    return gridGround(
        size, 2, [](double, double) { return 10; }, from, from);
  };
  auto r = requestOf(square(0, 100), nullptr);
  const QColor plain = at(renderer.render(r, {}).image, r.view, {40, 40});
  r.mode = PlanMode::works;
  r.tints = {{square(20, 30), QColor(200, 0, 0), "a"}, {square(35, 30), QColor(0, 0, 200), "b"}};
  const QImage image = renderer.render(r, {}).image;
  CHECK(at(image, r.view, {25, 25}).red() > at(image, r.view, {25, 25}).blue() + 60);
  CHECK(at(image, r.view, {60, 60}).blue() > at(image, r.view, {60, 60}).red() + 60);
  CHECK(near(at(image, r.view, {40, 40}), at(image, r.view, {60, 60})));
  CHECK(near(at(image, r.view, {10, 10}), plain));
}

TEST_CASE("A legend of many names tells as many as there is room for, and how many more") {
  std::vector<app::WorksTint> many;
  for (int i = 0; i < 60; ++i) many.push_back({nullptr, app::theme::worksColour(i), QString("works %1").arg(i)});
  const app::Legend legend = app::worksLegend(many);
  for (const QSize size : {QSize(800, 700), QSize(400, 240), QSize(300, 120)}) {
    QImage image(size, QImage::Format_RGB32);
    image.fill(Qt::magenta);
    QPainter painter(&image);
    legend.paint(painter, size);
    painter.end();
    int top = size.height();
    for (int y = size.height() - 1; y >= 0; --y) {
      for (int x = 0; x < size.width(); ++x) {
        if (image.pixel(x, y) != QColor(Qt::magenta).rgb()) top = y;
      }
    }
    CHECK(top > 20);  // it leaves the head of the view alone
    CHECK(top < size.height() - 30);
    CHECK(image.pixelColor(5, size.height() - 5) == QColor(Qt::magenta));
  }
}

TEST_CASE("With label lines contours are labelled along them and nowhere else") {
  app::PlanRenderer renderer;
  auto r = requestOf(gridGround(100, 5, [](double x, double) { return 0.2 * x; }), nullptr);
  r.contours = true;
  r.interval = 1;
  const QImage fitted = renderer.render(r, {}).image;
  r.labelLines = {{{0, 25}, {100, 25}}};
  const QImage along = renderer.render(r, {}).image;
  r.labelLines = {{{-50, -20}, {-50, -10}}};
  const QImage none = renderer.render(r, {}).image;
  const auto differs = [&](const QImage& image, int top, int bottom) {
    int n = 0;
    for (int y = top; y < bottom; ++y) {
      for (int x = 0; x < image.width(); ++x) n += image.pixel(x, y) == none.pixel(x, y) ? 0 : 1;
    }
    return n;
  };
  CHECK(differs(fitted, 0, fitted.height()) > 100);
  const int row = qRound(r.view.toScreen({0, 25}).y());
  CHECK(differs(along, row - 30, row + 30) > 500);
  CHECK(differs(along, 0, row - 30) == 0);
  CHECK(differs(along, row + 30, along.height()) == 0);
}

TEST_CASE("Slopes and levels of corners are written on the plan clear of each other, and go when they are put away") {
  Driver d;
  d.openDemo("depot.inselberg");
  const project::EvaluationPtr e = d.workspace().evaluation();
  app::PlanRenderer renderer;
  std::size_t slopes = 0, corners = 0;
  for (const double scale : {3.0, 6.0, 12.0}) {
    PlanRequest r;
    r.shown = e->ground(d.project().finished())->tin;
    for (const auto& g : e->grounds) r.works.insert(r.works.end(), g.works.begin(), g.works.end());
    r.view.size = {1200, 900};
    r.view.scale = scale;
    r.view.centre = r.shown->bounds().centre();
    r.worksLabels = true;
    const app::PlanPicture picture = renderer.render(r, {});
    slopes += picture.slopes.size(), corners += picture.corners.size();
    std::vector<std::array<Vec2, 3>> texts;  // three places along each
    const auto add = [&](Vec2 at, Vec2 along) {
      texts.push_back({at - (8 / scale) * along, at, at + (8 / scale) * along});
    };
    for (const auto& label : picture.slopes) add(label.at, label.along);
    for (const auto& level : picture.corners) add(level.at, {1, 0});
    for (const auto& label : picture.labels) add(label.at, label.along);
    for (std::size_t i = 0; i < texts.size(); ++i) {
      for (std::size_t k = 0; k < i; ++k) {
        for (const Vec2 p : texts[i]) {
          for (const Vec2 q : texts[k]) CHECK(plane::distance(p, q) * scale > 9);
        }
      }
    }
    for (const auto& level : picture.corners) CHECK(plane::distance(level.at, level.corner.plan()) * scale < 60);
    r.worksLabels = false;
    const app::PlanPicture without = renderer.render(r, {});
    CHECK(without.slopes.empty());
    CHECK(without.corners.empty());
  }
  CHECK(slopes > 8);
  CHECK(corners > 40);

  // By the key.
  const auto written = [&] {
    QApplication::processEvents();
    return d.window.plan().grab().toImage();
  };
  d.settle();
  const QImage with = written();
  d.act("worksLabels");
  d.settle();
  const QImage put = written();
  d.act("worksLabels");
  d.settle();
  CHECK(put != with);
  CHECK(written() == with);
}

TEST_CASE("No contour label of the plan lies over another, a batter, or an edge, and all read uphill") {
  Driver d;
  d.openDemo("depot.inselberg");
  const project::EvaluationPtr e = d.workspace().evaluation();
  const ground::TinPtr& finished = e->ground(d.project().finished())->tin;
  app::PlanRenderer renderer;
  std::size_t labels = 0;
  for (const double scale : {1.5, 3.0, 8.0}) {
    PlanRequest r;
    r.shown = finished;
    for (const auto& g : e->grounds) r.works.insert(r.works.end(), g.works.begin(), g.works.end());
    r.view.size = {1200, 900};
    r.view.scale = scale;
    r.view.centre = finished->bounds().centre();
    r.window = r.view.visible().grown(-80 / scale);
    const auto written = renderer.render(r, {}).labels;
    labels += written.size();
    const auto boxOf = [&](const ground::ContourLabel& label) {
      const Vec2 along = (10 / scale) * label.along, up = (5 / scale) * plane::rightOf(label.along);
      return plane::Ring{label.at - along - up, label.at + along - up, label.at + along + up, label.at - along + up};
    };
    for (std::size_t i = 0; i < written.size(); ++i) {
      CAPTURE(scale, i, written[i].at.x, written[i].at.y);
      const plane::Ring box = boxOf(written[i]);
      const bool seen = r.window.contains(box[0]);
      for (const Vec2 p : box) {
        CHECK(finished->locate(p) != ground::kNone);
        CHECK(r.window.contains(p) == seen);
      }
      for (std::size_t k = 0; k < i; ++k) {
        for (const Vec2 p : boxOf(written[k])) CHECK_FALSE(plane::contains(box, p));
      }
      CHECK(*finished->levelAt(written[i].at) == Approx(written[i].level).margin(1e-6));
      const Vec2 up = (0.05) * plane::rightOf(written[i].along);
      CHECK(*finished->levelAt(written[i].at - up) >= *finished->levelAt(written[i].at + up) - 1e-9);
      const works::Placement* top = nullptr;
      for (const auto& w : r.works) {
        if (w.placement->facets->locate(written[i].at) != ground::kNone) top = w.placement.get();
      }
      if (top) CHECK_FALSE(works::isBatter(top->kinds[top->facets->locate(written[i].at)]));
    }
  }
  CHECK(labels > 15);
}

TEST_CASE("The survey is drawn over the ground, and where there is no ground too, and hidden sources are not") {
  app::PlanRenderer renderer;
  project::SourceData data;
  for (int i = 0; i < 5000; ++i) data.points.push_back({10 + 0.001 * i, 20, 0});
  data.breaklines.push_back({{{20, 50, 1}, {80, 50, 1}}, false, false});
  project::SourceInfo info;
  info.colour = "#102030";
  const auto source = project::makeSource(SourceId{1}, info, data);
  info.hidden = true;
  const auto hidden = project::makeSource(SourceId{2}, info, data);
  for (const ground::TinPtr& ground : {ground::TinPtr(), gridGround(100, 5, [](double, double) { return 10; })}) {
    auto r = requestOf(ground, nullptr);
    const QImage without = renderer.render(r, {}).image;
    r.sources = {hidden};
    CHECK(renderer.render(r, {}).image == without);
    r.sources = {hidden, source};
    const QImage with = renderer.render(r, {}).image;
    CHECK(near(at(with, r.view, {12, 20}), QColor(0x10, 0x20, 0x30), 10));
    int dark = 0;
    for (int x = 0; x < with.width(); ++x) {
      const int y = qRound(r.view.toScreen({20, 50}).y());
      dark += qGray(with.pixel(x, y)) < 150 || qGray(with.pixel(x, y - 1)) < 150 ? 1 : 0;
    }
    CHECK(dark > 0.5 * 60 * r.view.scale);
  }
}

TEST_CASE("Pending facets are drawn over the ground as if they were part of it") {
  app::PlanRenderer renderer;
  const auto flat = gridGround(100, 5, [](double, double) { return 10; });
  works::Pad pad{rectangle(30, 30, 70, 70), 12, {}};
  const auto placed = works::place(pad, *flat, {}, {});
  auto r = requestOf(flat, flat);
  r.mode = PlanMode::depth;
  r.greatestDepth = 2;
  r.pending = placed.facets;
  const QImage image = renderer.render(r, {}).image;
  CHECK(near(at(image, r.view, {50.2, 51.3}), app::theme::depthColour(2, 2)));
  CHECK(near(at(image, r.view, {72.1, 50}), app::theme::depthColour(2 - 2.1 / 2, 2), 25));
  // Moved away they leave no trace.
  r.pending = nullptr;
  const QImage without = renderer.render(r, {}).image;
  CHECK_FALSE(near(at(without, r.view, {50.2, 51.3}), app::theme::depthColour(2, 2), 40));
}

TEST_CASE("The picture is the same whether much or little of the ground is in sight") {
  // Near and far views take different ways to the triangle under a pixel.
  std::mt19937 random(4);
  const auto ground = scatteredGround(100, 600, random, randomHills(random, 6));
  app::PlanRenderer one, two;
  auto close = requestOf(ground, nullptr);
  close.view.scale = 16;
  close.view.size = {400, 400};  // a sixteenth of the ground
  auto whole = close;
  whole.view.size = {1700, 1700};
  const QImage a = one.render(close, {}).image, b = two.render(whole, {}).image;
  int differing = 0;
  for (int y = 0; y < 400; y += 3) {
    for (int x = 0; x < 400; x += 3) differing += a.pixel(x, y) == b.pixel(x + 650, y + 650) ? 0 : 1;
  }
  CHECK(differing < 20);  // pixels on sides may go either way
}

TEST_CASE("Views far out and far in are drawn without trouble") {
  app::PlanRenderer renderer;
  auto r = requestOf(gridGround(100, 5, [](double x, double) { return x; }), nullptr);
  r.contours = r.triangles = true;
  for (const double scale : {1e-3, 1e4}) {
    r.view.scale = scale;
    CHECK(renderer.render(r, {}).image.width() == 400);
  }
  r.view.centre = {1e7, -1e7};
  r.view.scale = 1e4;
  CHECK(near(renderer.render(r, {}).image.pixelColor(200, 200), app::theme::paper(), 0));
}

TEST_CASE("Contour intervals are round and follow the relief") {
  CHECK(ground::proposedInterval(*gridGround(100, 5, [](double x, double) { return 0.15 * x; })) == Approx(0.5));
  CHECK(ground::proposedInterval(*gridGround(100, 5, [](double x, double) { return 3 * x; })) == Approx(10));
  CHECK(app::depthBand(2) == Approx(0.5));
}

TEST_CASE("Hachures run down the batter and stay on it, in cut and in fill") {
  const auto ground = gridGround(200, 20, [](double x, double) { return 0.1 * x; });
  project::PlacedWorks placed;
  works::Pad pad{rectangle(70, 80, 130, 120), 10, {}};
  placed.works = std::make_shared<works::Works>(works::Works{WorksId{1}, "Pad", false, pad});
  placed.placement = std::make_shared<works::Placement>(works::place(pad, *ground, {}, {}));
  placed.under = ground;
  plane::Box all;
  all.add(Vec2{0, 0});
  all.add(Vec2{200, 200});
  const auto strokes = works::hachuresOf(*placed.placement, 8, all);
  CHECK(strokes.size() > 60);
  for (const auto& s : strokes) {
    for (const double t : {0.1, 0.5, 0.9}) {
      const auto triangle = placed.placement->facets->locate(s.top + t * (s.end - s.top));
      REQUIRE(triangle != ground::kNone);
      CHECK(placed.placement->kinds[triangle] == (s.cut ? works::FacetKind::cutBatter : works::FacetKind::fillBatter));
    }
    CHECK(*placed.placement->facets->levelAt(s.end) <
          *placed.placement->facets->levelAt(s.top + 0.02 * (s.end - s.top)));
  }
  CHECK(works::hachuresOf(*placed.placement, 8, plane::Box{0, 0, 5, 5}).empty());
}

TEST_CASE("Land that bends evenly shows no triangles, and a batter's edge stays sharp") {
  const auto bowl =
      gridGround(100, 10, [](double x, double y) { return 0.002 * ((x - 50) * (x - 50) + (y - 50) * (y - 50)); });
  PlanRequest r = requestOf(bowl, nullptr);
  r.contours = false;
  app::PlanRenderer renderer;
  const auto greatestStep = [&](const QImage& image) {
    int greatest = 0;
    const int y = static_cast<int>(r.view.toScreen({50, 47}).y());
    for (int x = static_cast<int>(r.view.toScreen({5, 0}).x()); x < r.view.toScreen({95, 0}).x(); ++x)
      greatest = std::max(greatest, std::abs(qRed(image.pixel(x, y)) - qRed(image.pixel(x + 1, y))));
    return greatest;
  };
  CHECK(greatestStep(renderer.render(r, {}).image) <= 3);
  ground::BuildInput batter;
  for (const double x : {0, 25, 50, 75, 100}) {
    for (const double y : {0, 25, 50, 75, 100}) batter.points.push_back({x, y, 10 + 0.5 * std::max(0.0, x - 50)});
  }
  r.shown = ground::build(batter, {}, {}, {}).tin;
  CHECK(greatestStep(renderer.render(r, {}).image) > 15);
}
