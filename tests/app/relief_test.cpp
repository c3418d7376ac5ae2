// The relief: what its pixels mean, the camera, and the view driven by hand.
#include <catch2/catch.hpp>

#include "canvas/ground_colours.h"
#include "relief/relief_mesh.h"
#include "support/driver.h"
#include "support/grounds.h"
#include "theme/theme.h"

using namespace inselberg;
using namespace inselberg::testing;
using app::Camera;
using app::ReliefPicture;
using app::ReliefRequest;
using plane::Vec2;
using plane::Vec3;

namespace {

ReliefRequest requestOf(const ground::TinPtr& shown, const ground::TinPtr& beneath = nullptr) {
  ReliefRequest r;
  r.shown = shown, r.beneath = beneath;
  const Vec2 centre = shown->bounds().centre();
  r.middle = {centre.x, centre.y, shown->minLevel()};
  r.camera.size = {400, 300};
  r.camera.fit(shown->bounds(), shown->minLevel(), shown->maxLevel());
  return r;
}

}  // namespace

TEST_CASE("Every pixel of the relief tells the place it shows") {
  std::mt19937 random(3);
  const auto tin = scatteredGround(100, 400, random, randomHills(random, 6));
  app::ReliefRenderer renderer;
  for (const double tilt : {80.0, 35.0, 12.0}) {
    for (const double raise : {1.0, 3.0}) {
      CAPTURE(tilt, raise);
      ReliefRequest r = requestOf(tin);
      r.camera.tilt = tilt, r.camera.bearing = 200, r.raise = raise;
      const ReliefPicture picture = renderer.render(r, {});
      REQUIRE(picture.image.size() == QSize(400, 300));
      const double pixel = 1.5 * r.camera.metresPerPixel(r.camera.distance);
      int known = 0, right = 0;
      for (int y = 0; y < 300; y += 7) {
        for (int x = 0; x < 400; x += 7) {
          const auto place = picture.placeAt({x + 0.5, y + 0.5});
          if (!place) continue;
          const auto level = tin->levelAt(place->plan());
          ++known;
          if (level && std::abs(place->z - *level) < pixel) ++right;
        }
      }
      CHECK(known > 150);
      CHECK(right > 0.98 * known);  // but where an edge of the land runs through the pixel
    }
  }
  renderer.release();
}

TEST_CASE("Colours of the relief are those of the plan: depth, levels, steepness, from above and from below") {
  const auto flat = gridGround(100, 20, [](double, double) { return 10; });
  const auto stepped = gridGround(100, 50, [](double x, double) { return x < 40 ? 13 : x > 60 ? 7 : 10; });
  app::ReliefRenderer renderer;
  ReliefRequest r = requestOf(stepped, flat);
  r.mode = app::PlanMode::depth, r.greatestDepth = 3, r.camera.tilt = 75, r.camera.bearing = 0;
  const auto colourAt = [](const ReliefPicture& picture, Vec3 place) {
    const auto pixel = picture.camera.toScreen(picture.raised(place));
    REQUIRE(pixel);
    return QColor(picture.image.pixel(pixel->toPoint()));
  };
  const auto near = [](const QColor& a, const QColor& b) {
    return std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue());
  };
  ReliefPicture picture = renderer.render(r, {});
  CHECK(near(colourAt(picture, {20, 50, 13}), app::theme::fill()) < 30);
  CHECK(near(colourAt(picture, {80, 50, 7}), app::theme::cut()) < 30);
  CHECK(near(colourAt(picture, {50, 50, 10}), app::theme::fill()) > 150);
  // Where nothing is said, the greatest depth there is takes the full colour.
  r.greatestDepth.reset();
  CHECK(renderer.render(r, {}).greatestDepth == Approx(3));
  // Only cut is lit.
  r.lit = app::Lit::cut;
  picture = renderer.render(r, {});
  CHECK(near(colourAt(picture, {80, 50, 7}), app::theme::cut()) < 30);
  CHECK(near(colourAt(picture, {20, 50, 13}), app::theme::fill()) > 150);
  // The lowest and the highest band.
  r.mode = app::PlanMode::levels, r.beneath = nullptr;
  picture = renderer.render(r, {});
  const auto bands = app::levelBands(*stepped);
  const QColor low = colourAt(picture, {80, 50, 7}), high = colourAt(picture, {20, 50, 13});
  CHECK(near(low, app::theme::levelColour(bands.along(bands.at(7)))) < 60);
  CHECK(low.lightness() < high.lightness());
  // Flat land is light, the steps are dark.
  r.mode = app::PlanMode::steepness;
  picture = renderer.render(r, {});
  CHECK(colourAt(picture, {39, 50, 11.5}).lightness() + 40 < colourAt(picture, {20, 50, 13}).lightness());
  // By other limits the steps are in the last of two bands.
  r.steepness = {0.02};
  picture = renderer.render(r, {});
  CHECK(near(colourAt(picture, {39, 50, 11.5}), app::theme::steepnessColour(1)) < 100);
  // What is level is so up to the edge of a slope.
  const auto edged = evenGridGround(100, 10, [](double x, double) { return x < 50 ? 10 : 10 - 0.06 * (x - 50); });
  ReliefRequest beside = requestOf(edged, flat);
  beside.beneath = nullptr, beside.mode = app::PlanMode::steepness, beside.steepness = {0.01}, beside.camera.tilt = 75;
  picture = renderer.render(beside, {});
  CHECK(near(colourAt(picture, {47, 53, 10}), colourAt(picture, {15, 53, 10})) < 80);
  CHECK(near(colourAt(picture, {47, 53, 10}), colourAt(picture, {53, 53, 9.82})) > 200);
  r.steepness = app::kUsualSteepness;
  // A works in its own colour where it lies, the land as it is elsewhere.
  r.mode = app::PlanMode::works;
  const QColor plain = colourAt(renderer.render(r, {}), {20, 50, 13});
  r.tints = {{gridGround(
                  30, 3, [](double, double) { return 13; }, 5, 35),
              QColor(200, 0, 0), "pad"}};
  picture = renderer.render(r, {});
  CHECK(colourAt(picture, {20, 50, 13}).red() > colourAt(picture, {20, 50, 13}).green() + 60);
  CHECK(near(colourAt(picture, {20, 80, 13}), plain) < 40);
  r.tints[0].colour = QColor(0, 0, 200);  // another colour, another picture
  CHECK(colourAt(renderer.render(r, {}), {20, 50, 13}).blue() > 100);
  // From below the same place is there, in another light.
  r.mode = app::PlanMode::relief, r.camera.tilt = -60;
  picture = renderer.render(r, {});
  const auto seen = picture.camera.toScreen({50, 50, 10});
  const auto place = picture.placeAt(*seen);
  REQUIRE(place);
  CHECK(place->z == Approx(10).margin(1));
  CHECK(colourAt(picture, {50, 50, 10}).lightness() < 150);
  renderer.release();
}

TEST_CASE("What stands before the section is cut away, and the ground before is seen through") {
  const auto low = gridGround(100, 10, [](double, double) { return 10; });
  const auto high = gridGround(100, 10, [](double, double) { return 14; });
  app::ReliefRenderer renderer;
  ReliefRequest r = requestOf(low, high);
  r.camera.tilt = 60;
  const ReliefPicture plain = renderer.render(r, {});
  r.glass = high;
  const ReliefPicture glass = renderer.render(r, {});
  const auto middle = plain.camera.toScreen({50, 50, 10})->toPoint();
  CHECK(plain.image.pixel(middle) != glass.image.pixel(middle));
  CHECK(glass.placeAt(middle)->z == Approx(10).margin(0.5));  // the pointer is on the solid one
  r.cut = app::ReliefCut{{50, 0}, {0, 1}};
  const ReliefPicture cut = renderer.render(r, {});
  CHECK_FALSE(cut.placeAt(*cut.camera.toScreen({30, 50, 10})));
  CHECK(cut.placeAt(*cut.camera.toScreen({70, 50, 10})));
  renderer.release();
}

TEST_CASE("Where the relief is cut away the land stands in its colour, and what was filled in another") {
  const auto land = gridGround(100, 10, [](double, double) { return 10; });
  const auto made = gridGround(100, 11, [](double x, double) { return x < 50 ? 14 : 7; });
  app::ReliefRenderer renderer;
  ReliefRequest r = requestOf(made, land);
  r.camera.tilt = 15, r.camera.bearing = 0;  // from the south
  r.cut = app::ReliefCut{{0, 50}, {-1, 0}};
  REQUIRE(r.cut->away(r.camera.eye().plan()));
  const auto colourAt = [](const ReliefPicture& picture, Vec3 place) -> std::optional<QRgb> {
    const auto pixel = picture.camera.toScreen(picture.raised(place));
    if (!pixel || !picture.placeAt(*pixel)) return std::nullopt;
    return picture.image.pixel(pixel->toPoint());
  };
  CHECK_FALSE(colourAt(renderer.render(r, {}), {25, 50, 5.5}));  // open
  r.steps = {{land, app::theme::earth()}, {made, app::theme::filled()}};
  for (const double raise : {1.0, 2.0}) {
    r.raise = raise;
    const ReliefPicture picture = renderer.render(r, {});
    CHECK(colourAt(picture, {25, 50, 12}) == app::theme::filled().rgb());
    CHECK(colourAt(picture, {25, 50, 9}) == app::theme::earth().rgb());
    CHECK(colourAt(picture, {75, 50, 6.5}) == app::theme::earth().rgb());
    CHECK(colourAt(picture, {75, 50, 8}) != app::theme::filled().rgb());  // dug out
    // The face is a place like any other of the relief.
    CHECK(picture.placeAt(*picture.camera.toScreen(picture.raised({25, 50, 12})))->y == Approx(50).margin(0.5));
  }
  // Dug out to 6 before it is made: filled again up to what is made where that is lower than the land.
  const auto dug = gridGround(100, 10, [](double, double) { return 6; });
  r.steps = {{land, app::theme::earth()},
             {dug, app::theme::filled()},
             {made, app::theme::refilled(), land},
             {made, app::theme::filled()}};
  const ReliefPicture again = renderer.render(r, {});
  CHECK(colourAt(again, {25, 50, 12}) == app::theme::filled().rgb());
  CHECK(colourAt(again, {25, 50, 8}) == app::theme::refilled().rgb());
  CHECK(colourAt(again, {75, 50, 6.5}) == app::theme::refilled().rgb());
  CHECK(colourAt(again, {75, 50, 5.5}) == app::theme::earth().rgb());
  // Another line, another face.
  r.raise = 1, r.cut = app::ReliefCut{{0, 20}, {-1, 0}};
  CHECK(colourAt(renderer.render(r, {}), {25, 20, 12}) == app::theme::filled().rgb());
  renderer.release();
}

TEST_CASE("Contours of the relief stand out from the ground in light colours and in dark ones") {
  const auto slope = gridGround(100, 10, [](double x, double) { return 10 + x / 5; });
  app::ReliefRenderer renderer;
  ReliefRequest r = requestOf(slope);
  r.camera.tilt = 80, r.interval = 5;
  for (const auto which : {app::theme::Theme::light, app::theme::Theme::dark}) {
    app::theme::choose(which);
    const QImage image = renderer.render(r, {}).image;
    int darkest = 255, lightest = 0;  // across the contours, within the ground
    for (int x = 150; x < 250; ++x) {
      darkest = std::min(darkest, qGray(image.pixel(x, 150)));
      lightest = std::max(lightest, qGray(image.pixel(x, 150)));
    }
    CHECK(lightest - darkest > 40);
  }
  app::theme::choose(app::theme::Theme::light);
  renderer.release();
}

TEST_CASE("The face at the cut goes as far as the grounds, and a line beside them has none") {
  const auto land = gridGround(100, 10, [](double, double) { return 10; });
  const app::CutFace face = app::cutFaceOf({{30, 40}, {1, 0}}, {{land, Qt::red}});
  REQUIRE(face.layers.size() == 1);
  plane::Box box;
  double low = 100, high = 0;
  for (const Vec3& p : face.layers[0].triangles) {
    box.add(p.plan());
    low = std::min(low, p.z), high = std::max(high, p.z);
  }
  CHECK(box.minX == Approx(0).margin(1e-6));
  CHECK(box.maxX == Approx(100));
  CHECK(box.height() < 1e-6);
  CHECK(high == 10);
  CHECK(low == 9);
  CHECK(app::cutFaceOf({{30, 140}, {1, 0}}, {{land, Qt::red}}).layers[0].triangles.empty());
  CHECK(app::cutFaceOf({{30, 140}, {1, 0}}, {}).layers.empty());
}

TEST_CASE("Pending facets take the ground's place where they lie, below it too") {
  const auto flat = gridGround(100, 10, [](double, double) { return 10; });
  ground::BuildInput pit;
  for (const Vec2 p : {Vec2{30, 30}, {70, 30}, {70, 70}, {30, 70}}) pit.points.push_back({p.x, p.y, 6});
  app::ReliefRenderer renderer;
  ReliefRequest r = requestOf(flat);
  r.pending = ground::build(pit, {}, {}, {}).tin;
  r.camera.tilt = 70;
  for (const bool moving : {true, false}) {
    r.moving = moving;
    const ReliefPicture picture = renderer.render(r, {});
    const auto place = picture.placeAt(*picture.camera.toScreen({50, 50, 6}));
    REQUIRE(place);
    CHECK(place->z == Approx(6).margin(0.3));
    CHECK(picture.placeAt(*picture.camera.toScreen({15, 50, 10}))->z == Approx(10).margin(0.3));
  }
  renderer.release();
}

TEST_CASE("The camera goes to screen and back, keeps what is pointed at, and fits what it is given") {
  std::mt19937 random(9);
  std::uniform_real_distribution<double> unit(0, 1);
  for (int round = 0; round < 200; ++round) {
    Camera c;
    c.size = {200 + 800 * unit(random), 200 + 500 * unit(random)};
    c.bearing = 360 * unit(random), c.tilt = -80 + 160 * unit(random);
    plane::Box box;
    box.add(Vec2{1000 * unit(random), 1000 * unit(random)});
    box.add(Vec2{box.minX, box.minY} + Vec2{1 + 500 * unit(random), 1 + 500 * unit(random)});
    c.fit(box, 10, 10 + 60 * unit(random));
    for (const double x : {box.minX, box.maxX}) {
      for (const double y : {box.minY, box.maxY}) {
        const auto pixel = c.toScreen({x, y, 10});
        REQUIRE(pixel);
        CHECK(QRectF({0, 0}, c.size).contains(*pixel));
      }
    }
    const Vec3 place{box.centre().x + 5, box.centre().y - 3, 14};
    const auto pixel = c.toScreen(place);
    const Vec3 back = c.at(*pixel, c.ahead(place));
    CHECK(plane::distance(back.plan(), place.plan()) < 1e-6);
    CHECK(back.z == Approx(place.z));
    const auto before = *c.toScreen(place);
    c.zoom(1 + unit(random), place);
    CHECK(QLineF(before, *c.toScreen(place)).length() < 1e-6);
    c.turn(725, 500);
    CHECK(c.tilt == Camera::kMostTilt);
    CHECK((c.bearing >= 0 && c.bearing < 360));
  }
}

TEST_CASE("Detail is lost by tiles, and only as far as it looks the same") {
  std::mt19937 random(4);
  const auto tin = scatteredGround(1000, 30000, random, randomHills(random, 9));
  const Vec3 middle{500, 500, tin->minLevel()};
  const auto mesh = app::reliefMesh(*tin, nullptr, middle, {});
  REQUIRE(mesh.details.size() > 1);
  CHECK(mesh.details.front().corners.size() == 3 * tin->triangles().size());
  for (std::size_t d = 1; d < mesh.details.size(); ++d) {
    CHECK(5 * mesh.details[d].corners.size() < 3 * mesh.details[d - 1].corners.size());
    for (const auto i : mesh.details[d].corners) REQUIRE(i < mesh.corners.size());
  }
  CHECK(mesh.details.back().corners.size() / 3 < 9000);
  const auto all = [&](const std::vector<std::uint8_t>& chosen) {
    std::size_t sum = 0;
    for (std::size_t k = 0; k < chosen.size(); ++k)
      sum += (mesh.details[chosen[k]].starts[k + 1] - mesh.details[chosen[k]].starts[k]) / 3;
    return sum;
  };
  const std::vector<double> close(mesh.tiles.size(), 0.01), far(mesh.tiles.size(), 100);
  CHECK(all(app::chooseDetail(mesh, close, 1, 1'000'000)) == tin->triangles().size());
  CHECK(all(app::chooseDetail(mesh, close, 1, 20'000)) <= 20'000);
  CHECK(all(app::chooseDetail(mesh, far, 1, 1'000'000)) == mesh.details.back().corners.size() / 3);
}

TEST_CASE("The relief beside the plan: turned, zoomed, walked on, works chosen, pointers tied") {
  Driver d;
  d.openDemo("depot.inselberg");
  auto& relief = d.window.relief();
  CHECK_FALSE(relief.isVisible());
  d.act("relief");
  REQUIRE(relief.isVisible());
  CHECK(d.window.plan().isVisible());
  const auto settle = [&] { REQUIRE(Driver::waitFor([&] { return relief.settled(); })); };
  settle();
  CHECK(relief.failure().isEmpty());
  const Vec2 silo = d.inside(0);
  const double level = *works::levelOf(d.works(0).shape);
  const auto pixelOf = [&](Vec2 p, double z) {
    return relief.picture().camera.toScreen(relief.picture().raised({p.x, p.y, z}))->toPoint();
  };
  // A click chooses works, also after turning and zooming.
  const auto click = [&](QPoint p) { QTest::mouseClick(&relief, Qt::LeftButton, {}, p); };
  click(pixelOf(silo, level));
  CHECK(d.workspace().chosenWorks() == d.works(0).id);
  const Camera before = relief.camera();
  QTest::mousePress(&relief, Qt::LeftButton, {}, {200, 300});
  for (int i = 1; i <= 5; ++i) {
    QMouseEvent move(QEvent::MouseMove, QPointF(200 + 20 * i, 300 - 4 * i), relief.mapToGlobal(QPointF(0, 0)),
                     Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&relief, &move);
  }
  QTest::mouseRelease(&relief, Qt::LeftButton, {}, {300, 280});
  CHECK(relief.camera().bearing > before.bearing);
  CHECK(relief.camera().tilt < before.tilt);
  settle();
  d.workspace().chooseWorks({});
  click(pixelOf(silo, level));
  CHECK(d.workspace().chosenWorks() == d.works(0).id);
  // The pointer shows on the plan.
  QMouseEvent hover(QEvent::MouseMove, QPointF(pixelOf(silo, level)), relief.mapToGlobal(QPointF(0, 0)), Qt::NoButton,
                    Qt::NoButton, Qt::NoModifier);
  QApplication::sendEvent(&relief, &hover);
  REQUIRE(d.window.view().pointer());
  CHECK(plane::distance(*d.window.view().pointer(), silo) < 2);
  // Levels raised: the same place is still under the pixel that shows it.
  QTest::keyClick(&relief, Qt::Key_PageUp);
  CHECK(d.window.view().shown().raise == 1.5);
  settle();
  const auto there = relief.picture().placeAt(pixelOf(silo, level));
  REQUIRE(there);
  CHECK(there->z == Approx(level).margin(0.5));
  // On the ground.
  relief.standAt(silo);
  CHECK(relief.walks());
  const Vec3 eye = relief.camera().eye();
  QTest::keyClick(&relief, Qt::Key_Up);
  CHECK(plane::distance(relief.camera().eye().plan(), eye.plan()) == Approx(2).margin(1e-6));
  QTest::keyClick(&relief, Qt::Key_Home);
  CHECK_FALSE(relief.walks());
  // Alone; a tool brings the plan back.
  d.act("reliefAlone");
  CHECK_FALSE(d.window.plan().isVisible());
  d.act("section");
  CHECK(d.window.plan().isVisible());
  d.window.findChild<QToolButton*>("reliefClose")->click();
  CHECK_FALSE(relief.isVisible());
}

TEST_CASE("The relief follows a works that changes, and is empty without a ground") {
  Driver d;
  d.act("relief");
  auto& relief = d.window.relief();
  QTest::qWait(100);
  CHECK(relief.picture().triangles == 0);
  d.openDemo("depot.inselberg");
  REQUIRE(Driver::waitFor([&] { return relief.settled() && relief.picture().triangles > 0; }));
  const Vec2 silo = d.inside(0);
  auto raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, *works::levelOf(raised.shape) + 3);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise it");
  d.settle();
  REQUIRE(Driver::waitFor([&] { return relief.settled(); }));
  const double level = *works::levelOf(raised.shape);
  const auto& picture = relief.picture();
  const auto place = picture.placeAt(*picture.camera.toScreen(picture.raised({silo.x, silo.y, level})));
  REQUIRE(place);
  CHECK(place->z == Approx(level).margin(0.5));
}
