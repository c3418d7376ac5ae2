#include "works/leg_handles.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

struct Held {
  works::Shape shape;
  ground::TinPtr under;
  works::Placement placement;
  std::vector<works::LegHandle> handles;
};
// On a plane at 50 that rises by `rise` to the east.
Held held(works::Shape shape, double rise = 0) {
  const auto under = gridGround(
      300, 4, [rise](double x, double) { return 50 + rise * x; }, -100, -100);
  works::Placement placement = works::place(shape, *under, {}, {});
  auto handles = works::legHandlesOf(shape, placement, *under);
  return {std::move(shape), under, std::move(placement), std::move(handles)};
}

}  // namespace

TEST_CASE("Legs of a pad are held at their ends and take what they are dragged to") {
  works::Pad pad{rectangle(0, 0, 40, 20), 54, {}};
  pad.space = 1;
  pad.section = {{0, {"", {works::legOut(3, 2), works::legBy(-1, 2.5), works::legToGround(2, 3)}}}};
  const Held h = held(pad);
  REQUIRE(h.handles.size() == 3);
  // Out from the middle of the side to the south.
  const Vec2 ends[] = {{20, -4}, {20, -6.5}, {20, -6.5 - 3 * 2.94}};
  for (std::size_t i = 0; i < 3; ++i) CHECK(plane::distance(h.handles[i].at, ends[i]) < 1e-9);
  auto legs = works::withLegTo(h.shape, h.handles[0], {30, -5.504}, *h.under);
  CHECK(legs->at(0).width == Approx(4.5));
  legs = works::withLegTo(h.shape, h.handles[1], {20, -7}, *h.under);
  CHECK(legs->at(1).slope == Approx(3));
  legs = works::withLegTo(h.shape, h.handles[2], {20, -6.5 - 2 * 2.94}, *h.under);
  CHECK(legs->at(2).fill == Approx(2));
  CHECK(legs->at(2).cut == 2);
  CHECK_FALSE(works::withLegTo(h.shape, h.handles[0], {30, 0}, *h.under));
  // What is set meets the ground where it was dragged to.
  const Held after = held(works::withLegs(h.shape, h.handles[2], *legs));
  CHECK(plane::distance(after.handles[2].at, {20, -6.5 - 2 * 2.94}) < 1e-9);
}

TEST_CASE("Without a section the batters of a pad and the slope of a berm are dragged") {
  const Held pad = held(works::Pad{rectangle(0, 0, 20, 40), 48, {}}, 0.05);
  REQUIRE(pad.handles.size() == 1);
  // The first of the longest sides lies to the east, 2 m and 1 m of rise below the ground.
  CHECK(plane::distance(pad.handles[0].at, {20 + 2 * 3 / 0.9, 20}) < 1e-6);
  const auto legs = works::withLegTo(pad.shape, pad.handles[0], {20 + 3.15, 20}, *pad.under);
  REQUIRE(legs);
  const auto changed = works::withLegs(pad.shape, pad.handles[0], *legs);
  CHECK(changed.as<works::Pad>()->batters.cut.run() == Approx(1));
  CHECK(changed.as<works::Pad>()->batters.fill.run() == 2);
  CHECK(changed.as<works::Pad>()->section.empty());

  works::Berm berm;
  berm.line = {{0, 0}, {0, 50}};
  const Held bank = held(berm);
  REQUIRE(bank.handles.size() == 1);
  CHECK(plane::distance(bank.handles[0].at, {1 + 2, 25}) < 1e-9);
  const auto flatter = works::withLegTo(bank.shape, bank.handles[0], {1 + 3, 25}, *bank.under);
  CHECK(works::withLegs(bank.shape, bank.handles[0], *flatter).as<works::Berm>()->slope.run() == Approx(3));
}

TEST_CASE("A run is held on both sides and a section that changes along it is not") {
  works::Run run;
  run.line = {{0, 0}, {0, 50}}, run.levels = {{{0, 52}, {50, 52}}};
  run.left = {{0, {"", {works::legOut(2), works::legToGround(2, 2)}}}};
  run.right = {{0, {"", {works::legOut(2)}}}, {50, {"", {works::legOut(3)}}}};
  const Held h = held(run);
  REQUIRE(h.handles.size() == 2);
  CHECK(plane::distance(h.handles[0].at, {-2, 25}) < 1e-9);
  CHECK(plane::distance(h.handles[1].at, {-6, 25}) < 1e-9);
}

TEST_CASE("A pond is held inside as well: its slope, its bench and its crest") {
  works::Pond pond;
  pond.outline = rectangle(0, 0, 60, 40), pond.drawn = works::PondDrawn::top;
  pond.bottom = 48, pond.top = 51, pond.inside = Slope::horizontalPerVertical(3);
  pond.benchHeight = 1, pond.benchWidth = 1.5, pond.crest = 2;
  const Held h = held(pond);
  // Outside the batter, then the crest; inwards down to the bench, over it, and down to the bottom.
  REQUIRE(h.handles.size() == 5);
  const Vec2 ends[] = {{30, -4}, {30, -2}, {30, 6}, {30, 7.5}, {30, 10.5}};
  for (std::size_t i = 0; i < 5; ++i) CHECK(plane::distance(h.handles[i].at, ends[i]) < 1e-9);
  const auto dragged = [&](std::size_t handle, Vec2 to) {
    const auto legs = works::withLegTo(h.shape, h.handles[handle], to, *h.under);
    REQUIRE(legs);
    return works::withLegs(h.shape, h.handles[handle], *legs);
  };
  CHECK(dragged(1, {22, -3.25}).as<works::Pond>()->crest == Approx(3.25));
  CHECK(dragged(2, {30, 8}).as<works::Pond>()->inside.run() == Approx(4));
  CHECK(dragged(3, {30, 8.2}).as<works::Pond>()->benchWidth == Approx(2.2));
  CHECK(dragged(4, {30, 9.5}).as<works::Pond>()->inside.run() == Approx(2));
  CHECK(dragged(0, {30, -5}).as<works::Pond>()->section.front().section.legs.back().fill == Approx(3));
  CHECK_FALSE(works::withLegTo(h.shape, h.handles[3], {30, 5}, *h.under));
  // Where it is taken to, it lies afterwards, and so does the ground.
  const Held after = held(dragged(2, {30, 8}));
  CHECK(plane::distance(after.handles[2].at, {30, 8}) < 1e-9);
  CHECK(*after.placement.facets->levelAt({30, 8}) == Approx(49));
}

TEST_CASE("A pond drawn at its bottom is held upwards, one at its water both ways") {
  works::Pond pond;
  pond.outline = rectangle(0, 0, 60, 40), pond.bottom = 48, pond.top = 51;
  pond.inside = Slope::horizontalPerVertical(2);
  const Held bottom = held(pond);
  REQUIRE(bottom.handles.size() == 2);
  CHECK(plane::distance(bottom.handles[1].at, {30, -6}) < 1e-9);
  pond.drawn = works::PondDrawn::water, pond.water = 50;
  const Held water = held(pond);
  REQUIRE(water.handles.size() == 3);
  CHECK(plane::distance(water.handles[1].at, {30, -2}) < 1e-9);
  CHECK(plane::distance(water.handles[2].at, {30, 4}) < 1e-9);
}

TEST_CASE("Sections begin beside a place, behind what lies before them, also where they change along the crest") {
  works::Run run;
  run.line = {{0, 0}, {60, 0}, {60, 40}}, run.levels = {{{0, 52}, {100, 52}}};
  run.right = {{0, {"", works::batter(2, 2)}}, {50, {"", works::batter(3, 3)}}};
  run.left = {{0, {"", {works::legOut(2)}}}};
  const Held h = held(run);
  auto starts = works::sectionStarts(h.shape, h.placement, *h.under, Vec2{61, 30});
  REQUIRE(starts.size() == 2);
  for (const works::SectionStart& s : starts) {
    const bool right = h.shape.kind().fields()[s.field].name == "right";
    CHECK(plane::distance(s.at, {60, 30}) < 1e-9);
    CHECK(plane::distance(s.out, right ? Vec2{1, 0} : Vec2{-1, 0}) < 1e-9);
    CHECK(s.level == Approx(52));
  }
  // Without a place from the middle of the longest side, and of a pad behind its space.
  works::Pad pad{rectangle(0, 0, 40, 20), 54, {}};
  pad.space = 1.5;
  const Held p = held(pad);
  starts = works::sectionStarts(p.shape, p.placement, *p.under);
  REQUIRE(starts.size() == 1);
  CHECK(plane::distance(starts[0].at, {20, -1.5}) < 1e-9);
  CHECK(starts[0].level == Approx(54));
  // A bank has no sections.
  works::Berm berm;
  berm.line = {{0, 0}, {60, 0}};
  const Held b = held(berm);
  CHECK(works::sectionStarts(b.shape, b.placement, *b.under).empty());
}
