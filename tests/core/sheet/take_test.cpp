#include "sheet/take.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

using namespace inselberg;
using namespace inselberg::sheet;

namespace {

Line stroke(std::vector<Vec2> points, Colour colour = 0, double width = 0.25) {
  Line line;
  line.points = std::move(points);
  line.colour = colour;
  line.width = width;
  return line;
}

std::vector<Line> joined(const std::vector<Line>& lines, double within) {
  return takeLines(lines, {{}, {}, {}, within});
}

// Parts of a curve, `on` long with gaps of `off`, in any order and either direction.
std::vector<Line> dashes(const std::vector<Vec2>& curve, double on, double off, std::mt19937& random) {
  std::vector<Line> parts;
  double reached = 0;
  std::vector<Vec2> part;
  for (std::size_t i = 0; i + 1 < curve.size(); ++i) {
    const double length = plane::distance(curve[i], curve[i + 1]);
    for (double at = 0; at < length; at += 0.05, reached += 0.05) {
      const bool drawn = std::fmod(reached, on + off) < on;
      if (drawn) part.push_back(curve[i] + (at / length) * (curve[i + 1] - curve[i]));
      if (!drawn && part.size() > 1) parts.push_back(stroke(std::move(part)));
      if (!drawn) part.clear();
    }
  }
  if (part.size() > 1) parts.push_back(stroke(std::move(part)));
  for (Line& p : parts) {
    if (random() % 2) std::reverse(p.points.begin(), p.points.end());
  }
  std::shuffle(parts.begin(), parts.end(), random);
  return parts;
}

std::vector<Vec2> wave(double y, double height) {
  std::vector<Vec2> curve;
  for (int i = 0; i <= 200; ++i) curve.push_back({0.5 * i, y + height * std::sin(0.1 * i)});
  return curve;
}

}  // namespace

TEST_CASE("Lines are chosen by colour and width, limits counted in") {
  const std::vector<Line> lines{stroke({{0, 0}, {1, 0}}, 0xff0000, 0.25), stroke({{0, 1}, {1, 1}}, 0xff0000, 0.5),
                                stroke({{0, 2}, {1, 2}}, 0, 0.25)};
  CHECK(takeLines(lines, {}).size() == 3);
  CHECK(takeLines(lines, {0xff0000, {}, {}, 0}).size() == 2);
  CHECK(takeLines(lines, {0xff0000, 0.5, {}, 0}).size() == 1);
  CHECK(takeLines(lines, {{}, {}, 0.25, 0}).size() == 2);
  CHECK(takeLines(lines, {{}, 0.26, 0.49, 0}).empty());
}

TEST_CASE("A line drawn in dashes comes whole again, wherever its parts stand and whichever way they run") {
  std::mt19937 random(5);
  for (int round = 0; round < 20; ++round) {
    CAPTURE(round);
    const auto curve = wave(0, 3 + 0.5 * round);
    const auto parts = dashes(curve, 2 + 0.1 * round, 1, random);
    REQUIRE(parts.size() > 20);
    const auto lines = joined(parts, 1.3);
    REQUIRE(lines.size() == 1);
    const Vec2 first = lines[0].points.front(), last = lines[0].points.back();
    CHECK(std::abs(first.x - last.x) > 97);
  }
}

TEST_CASE("Dashed contours side by side stay apart, nearer to each other than their gaps are wide") {
  std::mt19937 random(6);
  std::vector<Line> parts;
  for (int k = 0; k < 6; ++k) {
    const auto more = dashes(wave(0.9 * k, 4), 2.2, 0.8 + 0.05 * k, random);
    parts.insert(parts.end(), more.begin(), more.end());
  }
  const auto lines = joined(parts, 1.4);
  CHECK(lines.size() == 6);
  for (const Line& line : lines) {
    for (std::size_t i = 1; i < line.points.size(); ++i)
      CHECK(plane::distance(line.points[i - 1], line.points[i]) < 1.41);
  }
}

TEST_CASE("Where lines cross each goes straight on, with and without a gap there") {
  for (const double gap : {0.0, 0.2, 0.5}) {
    CAPTURE(gap);
    const auto lines = joined({stroke({{-10, 0}, {-gap, 0}}), stroke({{gap, 0}, {10, 0}}),
                               stroke({{0, -10}, {0, -gap}}), stroke({{0, gap}, {0, 10}})},
                              1.5);
    REQUIRE(lines.size() == 2);
    for (const Line& line : lines) CHECK(plane::distance(line.points.front(), line.points.back()) == Approx(20));
  }
}

TEST_CASE("Corners are joined, also over a gap, but not other colours, other widths or what is too far") {
  const std::vector<Line> corner{stroke({{0, 0}, {10, 0}}), stroke({{10, 0.5}, {10, 10}})};
  CHECK(joined(corner, 1).size() == 1);
  CHECK(joined(corner, 0.5).size() == 1);
  CHECK(joined(corner, 0.4).size() == 2);
  CHECK(joined({stroke({{0, 0}, {10, 0}}, 1), stroke({{10, 0}, {20, 0}}, 2)}, 1).size() == 2);
  CHECK(joined({stroke({{0, 0}, {10, 0}}, 1, 0.25), stroke({{10, 0}, {20, 0}}, 1, 0.5)}, 1).size() == 2);
  // Four sides make a ring; of three ends at one place the straight ones go on.
  const auto box = joined(
      {stroke({{0, 0}, {10, 0}}), stroke({{10, 10}, {10, 0}}), stroke({{10, 10}, {0, 10}}), stroke({{0, 10}, {0, 0}})},
      0.1);
  REQUIRE(box.size() == 1);
  CHECK(box[0].closed);
  CHECK(box[0].points.size() == 4);
  const auto tee = joined({stroke({{0, 0}, {10, 0}}), stroke({{10, 0}, {20, 0}}), stroke({{10, 0}, {10, 9}})}, 0.1);
  REQUIRE(tee.size() == 2);
  CHECK(std::max(tee[0].points.size(), tee[1].points.size()) == 3);
}

TEST_CASE("A line neither turns back across a gap nor closes on itself when it is a dash") {
  CHECK(joined({stroke({{0, 0}, {10, 0}}), stroke({{0, 1}, {10, 1}})}, 1.2).size() == 2);
  const auto dash = joined({stroke({{0, 0}, {1, 0}})}, 2);
  REQUIRE(dash.size() == 1);
  CHECK_FALSE(dash[0].closed);
  // A ring with a gap for its label does.
  std::vector<Vec2> ring;
  for (int i = 0; i <= 60; ++i) ring.push_back({10 * std::cos(0.1 * i), 10 * std::sin(0.1 * i)});
  const auto closed = joined({stroke(ring)}, 4);
  REQUIRE(closed.size() == 1);
  CHECK(closed[0].closed);
}

TEST_CASE("Joining keeps every length that was drawn") {
  std::mt19937 random(8);
  std::uniform_real_distribution<double> place(0, 40);
  std::vector<Line> lines;
  double drawn = 0;
  for (int i = 0; i < 300; ++i) {
    lines.push_back(stroke({{place(random), place(random)}, {place(random), place(random)}}));
    drawn += plane::distance(lines.back().points[0], lines.back().points[1]);
  }
  const auto whole = joined(lines, 0.8);
  CHECK(whole.size() < lines.size());
  double found = 0, gaps = 0;
  for (const Line& line : whole) {
    const std::size_t n = line.points.size();
    for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i) {
      const double length = plane::distance(line.points[i], line.points[(i + 1) % n]);
      (length > 0.8 ? found : gaps) += length;
    }
  }
  CHECK(found + gaps >= drawn - 1e-9);
  CHECK(found <= drawn + 1e-9);
}

TEST_CASE("Only texts that are wholly a number with decimals are levels") {
  CHECK(levelOf("101.25") == 101.25);
  CHECK(levelOf("-0.40") == -0.4);
  CHECK(levelOf("+3.5") == 3.5);
  CHECK(levelOf("1,204.50") == 1204.5);
  CHECK(levelOf("101,25") == 101.25);
  CHECK(levelOf("\u22122.5") == -2.5);
  for (const char* text :
       {"101", "FFL 101.25", "101.25 m", "12,500", "1.2.3", ".5", "101.", "", "10 1.25", "1e3.5", "01-02.5"}) {
    CAPTURE(text);
    CHECK_FALSE(levelOf(text));
  }
}

TEST_CASE("A level stands at its mark, else where its text begins") {
  Content content;
  const auto text = [&](const std::string& says, Vec2 at) {
    content.texts.push_back({says, at, at + Vec2{8, 0}, 2.5, 0});
  };
  text("101.25", {50, 50});
  text("102.50", {80, 50});
  text("103.75", {110, 50});
  text("104.00", {140, 50});
  text("105.00", {170, 50});
  text("Pad", {20, 20});
  // A cross below the first, a filled dot left of the second with a ring round it, a sign for the third; long lines and
  // dashes beside the fourth are no marks.
  content.lines = {stroke({{48, 48}, {50, 48}}), stroke({{49, 47}, {49, 49}}), stroke({{130, 49}, {160, 49}}),
                   stroke({{141, 48}, {143, 48}}), stroke({{141, 20}, {141, 52.5}})};
  for (const double r : {0.4, 0.9}) {
    Line ring = stroke({});
    ring.closed = true;
    ring.filled = r < 0.5;
    for (int i = 0; i < 12; ++i) ring.points.push_back({78 + r * std::cos(i * 0.5236), 51 + r * std::sin(i * 0.5236)});
    content.lines.push_back(ring);
  }
  content.texts.push_back({"+", {106, 50}, {107.4, 50}, 2.5, 0});
  content.dots = {{169, 49}};
  const auto spots = spotTexts(content);
  REQUIRE(spots.size() == 5);
  CHECK(plane::distance(spots[0].at, {49, 48}) < 1e-9);
  CHECK(plane::distance(spots[1].at, {78, 51}) < 0.05);
  CHECK(plane::distance(spots[2].at, {106.7, 50.825}) < 0.01);
  CHECK(spots[3].at == Vec2{140, 50});
  CHECK_FALSE(spots[3].marked);
  CHECK(spots[4].at == Vec2{169, 49});
  CHECK(spots[2].level == 103.75);
}

TEST_CASE("Of levels that stand close together each keeps its own mark") {
  Content content;
  for (int i = 0; i < 10; ++i) {
    const double y = 3.0 * i;
    content.texts.push_back({"10" + std::to_string(i) + ".5", {12, y}, {20, y}, 2, 0});
    content.dots.push_back({11, y + 0.7});
  }
  for (const SpotText& spot : spotTexts(content)) CHECK(spot.at.y == Approx(3 * (spot.level - 100.5) + 0.7));
}
