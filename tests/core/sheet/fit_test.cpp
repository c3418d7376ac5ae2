#include "sheet/fit.h"

#include <catch2/catch.hpp>
#include <numbers>
#include <random>

#include "base/error.h"

using namespace inselberg;
using namespace inselberg::sheet;

namespace {

// Seven digits of easting and northing, as on any site.
Placement randomAffine(std::mt19937& random) {
  std::uniform_real_distribution<double> scale(0.05, 2), angle(-3.1, 3.1), skew(-0.2, 0.2), shift(1e5, 8e6);
  const double x = scale(random), y = scale(random), turn = angle(random), off = skew(random);
  return {x * std::cos(turn), -y * std::sin(turn + off), shift(random),
          x * std::sin(turn), y * std::cos(turn + off),  shift(random)};
}

}  // namespace

TEST_CASE("A fit through three and more points finds any affine map again") {
  std::mt19937 random(20261128);
  std::uniform_real_distribution<double> place(0, 1189);
  for (int round = 0; round < 200; ++round) {
    CAPTURE(round);
    const Placement truth = randomAffine(random);
    std::vector<Control> controls;
    for (int i = 0; i < 3 + round % 5; ++i) {
      const Vec2 p{place(random), place(random)};
      controls.push_back({p, truth(p)});
    }
    controls[1].page = {controls[0].page.x + 300, controls[0].page.y + 10};
    controls[2].page = {controls[0].page.x + 20, controls[0].page.y + 250};
    for (Control& c : controls) c.ground = truth(c.page);
    const Fit fit = fitTo(controls);
    CHECK(fit.rms < 1e-6);
    const Placement& found = fit.placement;
    CHECK(std::abs(found.a - truth.a) + std::abs(found.b - truth.b) + std::abs(found.d - truth.d) +
              std::abs(found.e - truth.e) <
          1e-8);
    for (const Vec2 corner : {Vec2{0, 0}, Vec2{1189, 0}, Vec2{0, 841}, Vec2{1189, 841}})
      CHECK(plane::distance(found(corner), truth(corner)) < 1e-6);
    const Vec2 p{place(random), place(random)};
    CHECK(plane::distance(found.inverse()(found(p)), p) < 1e-5);
  }
}

TEST_CASE("A fit is the least one: no small change of it has smaller residuals") {
  std::mt19937 random(7);
  std::normal_distribution<double> error(0, 0.3);
  const Placement truth{0.5, 0.01, 412000, -0.02, 0.49, 6187000};
  std::vector<Control> controls;
  for (const Vec2 p : {Vec2{10, 20}, Vec2{400, 30}, Vec2{380, 280}, Vec2{30, 270}, Vec2{200, 140}})
    controls.push_back({p, truth(p) + Vec2{error(random), error(random)}});
  const Fit fit = fitTo(controls);
  const auto squares = [&](const Placement& at) {
    double sum = 0;
    for (const Control& c : controls) sum += std::pow(plane::distance(at(c.page), c.ground), 2);
    return sum;
  };
  CHECK(fit.rms == Approx(std::sqrt(squares(fit.placement) / 5)).epsilon(1e-9));
  REQUIRE(fit.residuals.size() == 5);
  CHECK(fit.residuals[3] == Approx(plane::distance(fit.placement(controls[3].page), controls[3].ground)).epsilon(1e-6));
  for (double Placement::*part :
       {&Placement::a, &Placement::b, &Placement::c, &Placement::d, &Placement::e, &Placement::f}) {
    for (const double by : {-1e-4, 1e-4}) {
      Placement other = fit.placement;
      other.*part += by;
      CHECK(squares(other) > squares(fit.placement));
    }
  }
}

TEST_CASE("Two points turn and scale evenly") {
  const std::vector<Control> controls{{{10, 10}, {1000, 2000}}, {{110, 10}, {1000, 2050}}};
  const Fit fit = fitTo(controls);
  CHECK(fit.placement.metresX() == Approx(0.5));
  CHECK(fit.placement.metresY() == Approx(0.5));
  CHECK(fit.placement.rotation() == Approx(90));
  CHECK(fit.rms < 1e-9);
  CHECK(plane::distance(fit.placement({10, 30}), {990, 2000}) < 1e-9);
  CHECK(doubtsOf(fit.placement).empty());
}

TEST_CASE("A fit refuses points that place nothing") {
  const auto refused = [](std::vector<Control> controls) { CHECK_THROWS_AS(fitTo(controls), Error); };
  refused({});
  refused({{{1, 1}, {5, 5}}});
  refused({{{1, 1}, {5, 5}}, {{1, 1}, {6, 6}}});
  refused({{{1, 1}, {5, 5}}, {{2, 2}, {5, 5}}});
  refused({{{0, 0}, {0, 0}}, {{10, 10}, {5, 5}}, {{20, 20}, {10, 10}}});
  refused({{{0, 0}, {0, 0}}, {{100, 0}, {50, 0}}, {{40, 0.0001}, {20, 30}}});
  refused({{{0, 0}, {0, 0}}, {{100, 0}, {50, 0}}, {{40, 60}, {20, 0}}});
  refused({{{0, 0}, {0, 0}}, {{100, 0}, {50, 0}}, {{40, 60}, {20, 30}}, {{40, 60}, {20, 30}}});
}

TEST_CASE("Scales that are unlike, sides that are not square and mirrored sheets are doubtful") {
  CHECK(doubtsOf(byScale(500, 500, {1, 1})).empty());
  CHECK(doubtsOf(byScale(500, 500.5, {1, 1})).empty());
  CHECK(doubtsOf(byScale(500, 510, {1, 1})).size() == 1);
  CHECK(doubtsOf({0.5, 0.02, 0, 0, 0.5, 0}).size() == 1);
  CHECK(doubtsOf({-0.5, 0, 0, 0, 0.5, 0}).size() == 1);
  CHECK(byScale(500, 250, {1, 1})({100, 100}) == Vec2{50, 25});
  CHECK(Placement{-1, 0, 0, 0, -1, 0}.rotation() == 180);
}

TEST_CASE("A turned placement turns every place about the one that stays, and keeps its scales") {
  const Placement start{0.5, 0.02, 100, -0.01, 0.4, -30};
  const Vec2 about{120, 80};
  for (const double degrees : {1.5, -37.0, 90.0, 180.0, -270.0}) {
    CAPTURE(degrees);
    const Placement turned = start.turned(degrees, about);
    CHECK(turned.metresX() == Approx(start.metresX()));
    CHECK(turned.metresY() == Approx(start.metresY()));
    CHECK(turned.determinant() == Approx(start.determinant()));
    const double angle = degrees * std::acos(-1.0) / 180;
    for (const Vec2 p : {Vec2{0, 0}, Vec2{300, 10}, Vec2{-20, 90}}) {
      const Vec2 was = start(p) - about, is = turned(p) - about;
      CHECK(is.x == Approx(std::cos(angle) * was.x - std::sin(angle) * was.y).margin(1e-9));
      CHECK(is.y == Approx(std::sin(angle) * was.x + std::cos(angle) * was.y).margin(1e-9));
    }
  }
  const Vec2 stays = start.inverse()(about);
  CHECK(plane::distance(start.turned(33, about)(stays), about) < 1e-9);
  Placement four = start;
  for (int i = 0; i < 4; ++i) four = four.turned(90, {0, 0});
  CHECK(four == start);
}
