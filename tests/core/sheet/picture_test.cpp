#include <catch2/catch.hpp>
#include <random>

#include "base/error.h"
#include "sheet/document.h"
#include "sheet/tile_pyramid.h"
#include "support/sheets.h"

using namespace inselberg;
using namespace inselberg::sheet;
using namespace inselberg::testing;

namespace {

std::unique_ptr<Document> openTiff(const MadeTiff& made, const std::string& world = {}) {
  return openDocument(shared(tiffOf(made)), "made.tif", world);
}

std::uint32_t pixel(const Bitmap& b, int column, int row) {
  const std::uint8_t* p = &b.pixels[std::size_t(4) * (row * b.width + column)];
  return std::uint32_t{p[2]} << 16 | std::uint32_t{p[1]} << 8 | p[0];
}

// The whole page, a pixel for each of its own.
Bitmap whole(Document& document) {
  const PageFacts facts = document.facts(1);
  return document.draw(1, {0, 0, facts.width, facts.height}, int(facts.width), int(facts.height), {});
}

}  // namespace

TEST_CASE("A picture is drawn after its own turn, and its facts are those of what is seen") {
  // The first pixel is red, the one to its right green, the one below it blue, all others white.
  const auto value = [](int c, int r, int s) {
    if (c == 0 && r == 0) return s == 0 ? 255 : 0;
    if (c == 1 && r == 0) return s == 1 ? 255 : 0;
    if (c == 0 && r == 1) return s == 2 ? 255 : 0;
    return 255;
  };
  // Where those three are seen for each of the eight turns, of a picture of 5 by 3.
  struct Seen {
    int turn, red[2], green[2], blue[2];
  };
  const Seen turns[] = {{1, {0, 0}, {1, 0}, {0, 1}}, {2, {4, 0}, {3, 0}, {4, 1}}, {3, {4, 2}, {3, 2}, {4, 1}},
                        {4, {0, 2}, {1, 2}, {0, 1}}, {5, {0, 0}, {0, 1}, {1, 0}}, {6, {2, 0}, {2, 1}, {1, 0}},
                        {7, {2, 4}, {2, 3}, {1, 4}}, {8, {0, 4}, {0, 3}, {1, 4}}};
  for (const Seen& seen : turns) {
    CAPTURE(seen.turn);
    const auto document = openTiff({5, 3, 3, 8, 2, seen.turn, 100, value});
    const PageFacts facts = document->facts(1);
    CHECK(facts.width == (seen.turn >= 5 ? 3 : 5));
    CHECK(facts.height == (seen.turn >= 5 ? 5 : 3));
    REQUIRE(facts.mmPerUnit);
    CHECK(facts.mmPerUnit->x == Approx(0.254));
    const Bitmap b = whole(*document);
    CHECK(pixel(b, seen.red[0], seen.red[1]) == 0xff0000);
    CHECK(pixel(b, seen.green[0], seen.green[1]) == 0x00ff00);
    CHECK(pixel(b, seen.blue[0], seen.blue[1]) == 0x0000ff);
  }
}

TEST_CASE("Inks, sixteen bits, grey and white as zero come in their colours") {
  const auto one = [](int samples, int bits, int photometric, std::vector<int> values) {
    const auto document =
        openTiff({4, 4, samples, bits, photometric, 1, 0, [values](int, int, int s) { return values[s]; }});
    CHECK_FALSE(document->facts(1).mmPerUnit);
    return pixel(whole(*document), 1, 1);
  };
  CHECK(one(3, 8, 2, {10, 20, 30}) == 0x0a141e);
  CHECK(one(4, 8, 5, {255, 0, 0, 0}) == 0x00ffff);
  CHECK(one(4, 8, 5, {0, 0, 0, 128}) == 0x7f7f7f);
  CHECK(one(3, 16, 2, {65535, 32896, 0}) == 0xff8000);
  CHECK(one(1, 8, 1, {200}) == 0xc8c8c8);
  CHECK(one(1, 8, 0, {0}) == 0xffffff);
}

TEST_CASE("A world file places a picture, also one that is turned") {
  const auto value = [](int, int, int) { return 255; };
  // Half a metre a pixel; the first one's middle at 1000.25, 1999.75.
  const std::string world = "0.5\n0\n0\n-0.5\n1000.25\n1999.75\n";
  for (const int turn : {1, 6}) {
    CAPTURE(turn);
    const auto document = openTiff({20, 10, 3, 8, 2, turn, 0, value}, world);
    const auto place = document->ownPlace(1);
    REQUIRE(place);
    REQUIRE(place->controls.size() == 3);
    // The corner of the first pixel, wherever it is seen.
    const Control& first = place->controls[0];
    CHECK(plane::distance(first.ground, {1000, 2000}) < 1e-9);
    CHECK(first.page == (turn == 1 ? Vec2{0, 10} : Vec2{10, 20}));
  }
  CHECK_FALSE(openTiff({20, 10, 3, 8, 2, 1, 0, value})->ownPlace(1));
}

TEST_CASE("Pictures that are damaged, cut off or no colours are refused") {
  const auto value = [](int, int, int) { return 7; };
  const std::string good = tiffOf({40, 40, 3, 8, 2, 1, 0, value});
  CHECK_THROWS_AS(openDocument(shared(good.substr(0, 20)), "cut.tif"), Error);
  CHECK_THROWS_AS(openDocument(shared("\x89PNG\r\n\x1a\n and no more"), "cut.png"), Error);
  CHECK_THROWS_AS(openDocument(shared("\xff\xd8\xff\xe0 and no more"), "cut.jpg"), Error);
  const auto levels = openTiff({40, 40, 1, 32, 1, 1, 0, value});
  CHECK_THROWS_AS(whole(*levels), Error);
}

TEST_CASE("Tiles give every pixel back, and halved ones their mean") {
  std::mt19937 random(3);
  const int width = 1300, height = 1111;
  std::vector<std::uint8_t> rgb(3 * width * height);
  for (std::uint8_t& v : rgb) v = static_cast<std::uint8_t>(random());
  TilePyramid pyramid(width, height);
  for (int row = 0; row < height;) {
    const int rows = std::min(1 + int(random() % 200), height - row);
    pyramid.addRows(std::span(rgb).subspan(std::size_t(3) * width * row, std::size_t(3) * width * rows));
    row += rows;
  }
  CHECK(pyramid.complete());
  CHECK(pyramid.bytes() > 0);
  TilePyramid::Look full(pyramid, 0), half(pyramid, 1);
  for (int i = 0; i < 3000; ++i) {
    const int c = int(random() % width), r = int(random() % height);
    CHECK(full.at(c + 0.5, r + 0.5)[1] == Approx(rgb[3 * (r * width + c) + 1]));
    const int c2 = c / 2 * 2, r2 = r / 2 * 2;
    if (c2 + 1 >= width || r2 + 1 >= height) continue;
    double mean = 0;
    for (const int k : {r2 * width + c2, r2 * width + c2 + 1, (r2 + 1) * width + c2, (r2 + 1) * width + c2 + 1})
      mean += rgb[3 * k] / 4.0;
    CHECK(half.at(c2 + 1, r2 + 1)[0] == Approx(mean).margin(0.51));
  }
  CHECK(pyramid.levelFor(1) == 0);
  CHECK(pyramid.levelFor(2.5) == 1);
  CHECK(pyramid.levelFor(100) == 2);
  CHECK(full.at(-1, 5)[0] == 255);
}
