#include "works/handles.h"

#include <catch2/catch.hpp>

#include "support/figures.h"
#include "support/grounds.h"
#include "support/mound.h"

using namespace inselberg;
using namespace inselberg::testing;
using works::Grip;
using works::Handle;

namespace {

// A star-shaped outline of 3 to 9 corners, counter-clockwise.
works::Shape randomPad(std::mt19937& random) {
  std::uniform_real_distribution<double> u(0, 1);
  const int n = 3 + static_cast<int>(random() % 7);
  plane::Ring ring;
  for (int i = 0; i < n; ++i) {
    const double angle = 2 * M_PI * (i + 0.6 * u(random)) / n, r = 20 + 30 * u(random);
    ring.push_back({100 + r * std::cos(angle), -40 + r * std::sin(angle)});
  }
  return works::Pad{ring, 50, {}};
}

double bearing(plane::Vec2 a, plane::Vec2 b) {
  return std::atan2(b.y - a.y, b.x - a.x);
}

}  // namespace

TEST_CASE("A works can be held by each corner, each side and its level") {
  std::mt19937 random(7);
  for (int round = 0; round < 50; ++round) {
    CAPTURE(round);
    const works::Shape pad = randomPad(random);
    const plane::Ring ring = works::outlineOf(pad);
    const auto handles = works::handlesOf(pad);
    REQUIRE(handles.size() == 2 * ring.size() + 1);
    for (std::size_t i = 0; i < ring.size(); ++i) {
      CHECK(handles[i] == Handle{Grip::corner, 0, i, ring[i]});
      CHECK(handles[ring.size() + i].grip == Grip::side);
    }
    CHECK(handles.back().grip == Grip::level);
  }
  // A line has a side less than corners.
  const auto handles = works::handlesOf(Mound{points("0 0, 10 0, 20 5"), 3});
  CHECK(std::count_if(handles.begin(), handles.end(), [](const Handle& h) { return h.grip == Grip::side; }) == 2);
  CHECK(std::count_if(handles.begin(), handles.end(), [](const Handle& h) { return h.grip == Grip::corner; }) == 3);
}

TEST_CASE("What is dragged moves as it should, and nothing else does") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> u(-4, 4);
  int refused = 0;
  for (int round = 0; round < 300; ++round) {
    CAPTURE(round);
    const works::Shape pad = randomPad(random);
    const plane::Ring ring = works::outlineOf(pad);
    const std::size_t n = ring.size();
    const auto handles = works::handlesOf(pad);
    const Handle h = handles[random() % handles.size()];
    const works::Drag drag{{1, 1}, {1 + u(random), 1 + u(random)}, u(random)};
    const auto moved = works::moved(
        pad, h, h.grip == Grip::corner ? works::Drag{h.at, h.at + plane::Vec2{u(random), u(random)}} : drag);
    if (!moved) {
      ++refused;
      continue;
    }
    const plane::Ring now = works::outlineOf(*moved);
    REQUIRE(now.size() == n);
    CHECK_FALSE(works::wrong(*moved));
    std::size_t still = 0;
    for (std::size_t i = 0; i < n; ++i) still += now[i] == ring[i] ? 1 : 0;
    if (h.grip == Grip::level) {
      CHECK(*works::levelOf(*moved) == 50 + drag.up);
      CHECK(still == n);
      continue;
    }
    CHECK(*works::levelOf(*moved) == 50);
    CHECK(still == n - (h.grip == Grip::corner ? 1 : 2));
    if (h.grip == Grip::side) {
      const plane::Vec2 a = now[h.index], b = now[(h.index + 1) % n];
      CHECK(bearing(a, b) == Approx(bearing(ring[h.index], ring[(h.index + 1) % n])).margin(1e-12));
      CHECK(plane::distance(a, b) == Approx(plane::distance(ring[h.index], ring[(h.index + 1) % n])));
      // Square to itself, by as much of the drag as goes that way.
      const plane::Vec2 by = a - ring[h.index];
      CHECK(plane::dot(by, plane::unit(b - a)) == Approx(0).margin(1e-9));
      CHECK(plane::dot(drag.to - drag.from - by, by) == Approx(0).margin(1e-9));
    }
    const auto whole = works::moved(pad, {Grip::whole, 0, 0, {}}, drag);
    REQUIRE(whole);
    for (std::size_t i = 0; i < n; ++i)
      CHECK(plane::distance(works::outlineOf(*whole)[i], ring[i] + (drag.to - drag.from)) < 1e-12);
  }
  CHECK(refused < 30);
}

TEST_CASE("A corner goes to the very place it is dragged to") {
  const works::Shape pad = works::Pad{rectangle(0.1, 0.2, 30.3, 20.7), 50, {}};
  const plane::Vec2 to{-3.3333333333333335, 1.1e-7};
  CHECK(works::outlineOf(*works::moved(pad, works::handlesOf(pad)[0], {{1e6, 7}, to})).front() == to);
}

TEST_CASE("An outline that would cross itself is not moved") {
  const works::Shape pad = works::Pad{rectangle(0, 0, 30, 20), 50, {}};
  const auto handles = works::handlesOf(pad);
  CHECK_FALSE(works::moved(pad, handles[0], {{0, 0}, {40, 30}}));
  CHECK_FALSE(works::moved(pad, handles[4], {{0, 0}, {0, 25}}));
  CHECK(works::moved(pad, handles[4], {{0, 0}, {0, 15}}));
}

TEST_CASE("A corner put in and taken out again leaves the works as it was, and the last ones stay") {
  std::mt19937 random(3);
  for (int round = 0; round < 40; ++round) {
    const works::Shape pad = randomPad(random);
    for (const Handle& h : works::handlesOf(pad)) {
      if (h.grip != Grip::side) continue;
      const works::Shape more = works::withCorner(pad, h);
      REQUIRE(works::outlineOf(more).size() == works::outlineOf(pad).size() + 1);
      CHECK(works::withoutCorner(more, {Grip::corner, 0, h.index + 1, {}}) == pad);
    }
  }
  CHECK_THROWS_WITH(works::withoutCorner(works::Pad{points("0 0, 5 0, 0 5"), 1, {}}, {Grip::corner, 0, 1, {}}),
                    Catch::Contains("three corners"));
  CHECK_THROWS_WITH(works::withoutCorner(Mound{points("0 0, 5 0"), 1}, {Grip::corner, 0, 1, {}}),
                    Catch::Contains("two points"));
  // Without its top nothing is left between the points of a line.
  CHECK_THROWS_WITH(works::withoutCorner(works::Pad{points("0 0, 10 0, 20 0, 10 10"), 1, {}}, {Grip::corner, 0, 3, {}}),
                    Catch::Contains("without this corner"));
}

TEST_CASE("Levels and sections stay with their corners and sides when a corner comes or goes") {
  const works::NamedOrLegs steep = works::parsedSection("to ground 1:1"), wall;
  works::Pad square{rectangle(0, 0, 40, 20), 50, {}};
  square.top = works::PadTop::corners;
  square.cornerLevels = {50, 51, 52, 53};
  square.edges = {{0, steep}, {2, wall}, {3, steep}};
  const auto side = [](std::size_t i) { return Handle{Grip::side, 0, i, {}}; };
  const auto corner = [](std::size_t i) { return Handle{Grip::corner, 0, i, {}}; };
  const auto padOf = [](const works::Shape& shape) { return *shape.as<works::Pad>(); };

  const works::Pad first = padOf(works::withCorner(square, side(0)));
  CHECK(first.cornerLevels == works::Numbers{50, 50.5, 51, 52, 53});
  CHECK(first.edges == works::Edges{{0, steep}, {1, steep}, {3, wall}, {4, steep}});
  const works::Pad last = padOf(works::withCorner(square, side(3)));
  CHECK(last.cornerLevels == works::Numbers{50, 51, 52, 53, 51.5});
  CHECK(last.edges == works::Edges{{0, steep}, {2, wall}, {3, steep}, {4, steep}});
  const works::Pad plain = padOf(works::withCorner(square, side(1)));
  CHECK(plain.edges == works::Edges{{0, steep}, {3, wall}, {4, steep}});
  for (std::size_t i = 0; i < 4; ++i)
    CHECK(works::withoutCorner(works::withCorner(square, side(i)), corner(i + 1)) == works::Shape(square));

  // The side before a corner that goes becomes that of both.
  const works::Pad without = padOf(works::withoutCorner(square, corner(2)));
  CHECK(without.cornerLevels == works::Numbers{50, 51, 53});
  CHECK(without.edges == works::Edges{{0, steep}, {2, steep}});
  CHECK(padOf(works::withoutCorner(square, corner(0))).edges == works::Edges{{1, wall}, {2, steep}});

  // A ridge has points of its own.
  square.top = works::PadTop::ridge;
  square.ridge = points("5 10, 35 10");
  const auto handles = works::handlesOf(square);
  const auto ridge =
      std::ranges::find_if(handles, [](const Handle& h) { return h.grip == Grip::side && h.field != 0; });
  REQUIRE(ridge != handles.end());
  CHECK_FALSE(works::mayHaveSection(square, *ridge));
  CHECK(padOf(works::withCorner(square, *ridge)).edges == square.edges);
}

TEST_CASE("A side takes a section of its own, and gives it back") {
  const works::NamedOrLegs steep = works::parsedSection("to ground 1:1"), wall;
  works::Shape pad = works::Pad{rectangle(0, 0, 40, 20), 50, {}};
  const works::Shape plain = pad;
  const auto side = [](std::size_t i) { return Handle{Grip::side, 0, i, {}}; };
  CHECK(works::mayHaveSection(pad, side(2)));
  CHECK_FALSE(works::mayHaveSection(pad, {Grip::corner, 0, 2, {}}));
  CHECK_FALSE(works::mayHaveSection(Mound{points("0 0, 5 0"), 1}, side(0)));
  pad = works::withSectionOfSide(pad, side(3), wall);
  pad = works::withSectionOfSide(pad, side(1), wall);
  pad = works::withSectionOfSide(pad, side(3), steep);
  CHECK(pad.as<works::Pad>()->edges == works::Edges{{1, wall}, {3, steep}});
  CHECK(works::withSectionOfSide(works::withSectionOfSide(pad, side(1), {}), side(3), {}) == plain);
  // A slope alone leaves the legs before the batter as they are, those of the side or else of the pad.
  const auto sloped = [&](const works::Shape& resolved, std::size_t i) {
    return works::withSlopeOfSide(plain, resolved, side(i), 3).as<works::Pad>()->edges;
  };
  works::Pad benched = *plain.as<works::Pad>();
  benched.section = works::parsedSections("out 1; to ground 2:1 cut 4:1 fill, bench every 5 by 2 at 1 %");
  benched.edges = {{1, wall}, {3, works::parsedSection("up 1 at 2:1; to ground 1:1")}};
  CHECK(sloped(benched, 0) ==
        works::Edges{{0, works::parsedSection("out 1; to ground 3:1, bench every 5 by 2 at 1 %")}});
  CHECK(sloped(benched, 1) == works::Edges{{1, works::parsedSection("to ground 3:1")}});
  CHECK(sloped(benched, 3) == works::Edges{{3, works::parsedSection("up 1 at 2:1; to ground 3:1")}});
  CHECK(sloped(plain, 2) == works::Edges{{2, works::parsedSection("to ground 3:1")}});
}

TEST_CASE("Points of a line move freely, its parts as they are dragged") {
  const works::Shape mound = Mound{points("0 0, 10 0, 20 5"), 3};
  const auto handles = works::handlesOf(mound);
  const auto side = std::find_if(handles.begin(), handles.end(), [](const Handle& h) { return h.grip == Grip::side; });
  CHECK(works::moved(mound, *side, {{0, 0}, {2, 3}})->as<Mound>()->spine == points("2 3, 12 3, 20 5"));
  CHECK(works::moved(mound, handles[2], {{0, 0}, {25, 9}})->as<Mound>()->spine.back() == plane::Vec2{25, 9});
  CHECK_FALSE(works::moved(mound, handles[2], {{0, 0}, {10, 0}}));  // onto the point before it
}
