#include <catch2/catch.hpp>
#include <cmath>

#include "base/error.h"
#include "plane/polygon.h"
#include "sheet/document.h"
#include "support/sheets.h"

using namespace inselberg;
using namespace inselberg::sheet;
using namespace inselberg::testing;

namespace {

constexpr double kPoint = 25.4 / 72;

Content contentOf(const MadePdf& made) {
  return openDocument(shared(pdfOf(made)), "made.pdf")->content(1, {});
}

double lengthOf(const Line& line) {
  double length = 0;
  for (std::size_t i = 1; i < line.points.size(); ++i) length += plane::distance(line.points[i - 1], line.points[i]);
  return length + (line.closed ? plane::distance(line.points.back(), line.points.front()) : 0);
}

}  // namespace

TEST_CASE("A stroke comes in millimetres, with its colour, width and dashes") {
  const Content content = contentOf({"1 0 0 RG 2 w [6 3] 0 d 72 36 m 144 36 l 144 72 l S"});
  REQUIRE(content.lines.size() == 1);
  const Line& line = content.lines[0];
  CHECK(line.colour == 0xff0000);
  CHECK(line.width == Approx(2 * kPoint));
  REQUIRE(line.dash.size() == 2);
  CHECK(line.dash[1] == Approx(3 * kPoint));
  CHECK_FALSE(line.closed);
  REQUIRE(line.points.size() == 3);
  CHECK(plane::distance(line.points[2], {50.8, 25.4}) < 1e-9);
  CHECK(content.strokes == 1);
}

TEST_CASE("A page is its crop box after its turn, times its user unit") {
  // A place 72 from the left and 36 from below of a crop box that begins at 100, 50.
  const std::string content = "172 86 m 173 86 l S";
  for (const int turn : {0, 90, 180, 270, -90, 450}) {
    CAPTURE(turn);
    auto document = openDocument(
        shared(pdfOf({content, fmt::format("/CropBox [100 50 460 230] /Rotate {} /UserUnit 2", turn)})), "made.pdf");
    const PageFacts facts = document->facts(1);
    const bool sideways = turn % 180 != 0;
    CHECK(facts.width == Approx((sideways ? 180 : 360) * 2 * kPoint));
    CHECK(facts.height == Approx((sideways ? 360 : 180) * 2 * kPoint));
    const Vec2 at = document->content(1, {}).lines.at(0).points.at(0);
    const double left = 72 * 2 * kPoint, below = 36 * 2 * kPoint;
    const double width = 360 * 2 * kPoint, height = 180 * 2 * kPoint;
    const int quarter = ((turn % 360) + 360) % 360;
    const Vec2 wanted = quarter == 0     ? Vec2{left, below}
                        : quarter == 90  ? Vec2{below, width - left}
                        : quarter == 180 ? Vec2{width - left, height - below}
                                         : Vec2{height - below, left};
    CHECK(plane::distance(at, wanted) < 1e-9);
  }
}

TEST_CASE("Curves are flattened within 0.05 mm and not into more than it takes") {
  // A circle of four curves, which is one within 0.03 %.
  const double r = 100, k = 0.5522847 * r;
  const Content content =
      contentOf({fmt::format("460 180 m 460 {0} {1} 280 360 280 c {2} 280 260 {0} 260 180 c 260 {3} {2} 80 360 80 c "
                             "{1} 80 460 {3} 460 180 c h S",
                             180 + k, 360 + k, 360 - k, 180 - k)});
  REQUIRE(content.lines.size() == 1);
  const Line& circle = content.lines[0];
  CHECK(circle.closed);
  CHECK(circle.points.size() < 200);
  const Vec2 centre{360 * kPoint, 180 * kPoint};
  for (std::size_t i = 0; i < circle.points.size(); ++i) {
    const Vec2 a = circle.points[i], b = circle.points[(i + 1) % circle.points.size()];
    CHECK(std::abs(plane::distance(centre, 0.5 * (a + b)) - r * kPoint) < 0.05);
  }
}

TEST_CASE("Only what is seen is taken: not what is clipped, off the page, transparent or on a layer turned off") {
  MadePdf made;
  made.resources = "/Properties << /Off 6 0 R /On 7 0 R >> /ExtGState << /Clear << /CA 0 /ca 0 >> >>";
  made.objects = {"<< /Type /OCG /Name (off) >>", "<< /Type /OCG /Name (on) >>"};
  made.catalog = "/OCProperties << /OCGs [6 0 R 7 0 R] /D << /OFF [6 0 R] >> >>";
  const auto lines = [&](const std::string& content) {
    made.content = content;
    return contentOf(made).lines;
  };
  CHECK(lines("/OC /Off BDC 10 10 m 90 10 l S EMC").empty());
  CHECK(lines("/OC /On BDC 10 10 m 90 10 l S EMC").size() == 1);
  CHECK(lines("q /Clear gs 10 10 m 90 10 l S 10 10 50 50 re f Q").empty());
  CHECK(lines("10 -10 m 90 -10 l S 800 10 m 900 10 l S").empty());
  // Cut at the page's edge.
  const auto cut = lines("-72 36 m 72 36 l S");
  REQUIRE(cut.size() == 1);
  CHECK(lengthOf(cut[0]) == Approx(25.4));
  CHECK(cut[0].points.front().x == Approx(0).margin(1e-9));
  // A box, and a triangle with a hole by the odd rule: a line through it comes in two parts.
  CHECK(lengthOf(lines("q 72 0 72 360 re W n 0 36 m 720 36 l S Q").at(0)) == Approx(25.4));
  const auto parts = lines("q 0 0 m 360 0 l 360 360 l h 216 36 72 72 re W* n 0 72 m 720 72 l S Q");
  REQUIRE(parts.size() == 2);
  CHECK(lengthOf(parts[0]) == Approx((216 - 72) * kPoint));
  CHECK(lengthOf(parts[1]) == Approx(72 * kPoint));
  // By the other rule the box in the triangle, wound the same way, is no hole.
  CHECK(lines("q 0 0 m 360 0 l 360 360 l h 216 36 72 72 re W n 0 72 m 720 72 l S Q").size() == 1);
  // The opening ends with its state.
  CHECK(lengthOf(lines("q 72 0 72 360 re W n Q 0 36 m 720 36 l S").at(0)) == Approx(254));
}

TEST_CASE("Pieces of a clipped closed line meet where it began, and a filled shape stays closed") {
  const Content content = contentOf({"q 0 0 144 360 re W n 1 w 72 72 144 72 re S 0 0 1 rg 72 180 144 72 re f Q"});
  REQUIRE(content.lines.size() == 2);
  CHECK_FALSE(content.lines[0].closed);
  CHECK(lengthOf(content.lines[0]) == Approx(3 * 25.4));
  CHECK(content.lines[1].filled);
  CHECK(content.lines[1].closed);
  CHECK(content.lines[1].colour == 0x0000ff);
  CHECK(std::abs(plane::signedArea(content.lines[1].points)) == Approx(25.4 * 25.4));
  CHECK(content.strokes == 1);
}

TEST_CASE("Inks are turned plainly to colours") {
  const auto colour = [](const std::string& set, const std::string& resources = {}) {
    return contentOf({set + " 10 10 m 90 10 l S", {}, resources}).lines.at(0).colour;
  };
  CHECK(colour("1 0 0 0 K") == 0x00ffff);
  CHECK(colour("0 1 1 0 K") == 0xff0000);
  CHECK(colour("0 0 0 1 K") == 0x000000);
  CHECK(colour("0 0 0 0.4 K") == 0x999999);
  CHECK(colour("0.2 0 0 0.5 K") == 0x668080);
  CHECK(colour("0.5 G") == 0x808080);
  CHECK(colour("/Spot CS 1 SCN",
               "/ColorSpace << /Spot [/Separation /Blue /DeviceCMYK << /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] "
               "/C1 [1 1 0 0] /N 1 >>] >>") == 0x0000ff);
}

TEST_CASE("Texts are whole strings with their places, and what is invisible is none") {
  const Content content =
      contentOf({"BT /F1 10 Tf 72 72 Td (Pad level 101.25) Tj ET BT /F1 10 Tf 72 144 Td [(10) 30 (2.5) -20 (0)] TJ ET "
                 "BT 3 Tr /F1 10 Tf 72 200 Td (hidden) Tj ET BT 0 Tr /F1 10 Tf 900 200 Td (off) Tj ET "
                 "BT /F1 10 Tf 0 1 -1 0 300 72 Tm (up) Tj ET BT /F1 10 Tf 400 72 Td (a) Tj 100 0 Td (b) Tj ET "
                 "BT /F1 10 Tf 72 20 Td (   ) Tj ET"});
  REQUIRE(content.texts.size() == 5);
  CHECK(content.texts[0].text == "Pad level 101.25");
  CHECK(content.texts[1].text == "102.50");
  CHECK(plane::distance(content.texts[1].at, {25.4, 50.8}) < 1e-9);
  CHECK(content.texts[1].size == Approx(10 * kPoint));
  CHECK(content.texts[2].text == "up");
  CHECK(content.texts[2].end.y > content.texts[2].at.y);
  CHECK(content.texts[2].end.x == Approx(content.texts[2].at.x));
}

TEST_CASE("Dots are strokes without length, seen with round ends only") {
  CHECK(contentOf({"1 J 2 w 72 72 m 72 72 l S"}).dots.size() == 1);
  CHECK(contentOf({"0 J 2 w 72 72 m 72 72 l S"}).dots.empty());
}

TEST_CASE("Pictures on a page are counted, and a hatch that would never end is left out") {
  MadePdf made{"q 72 0 0 72 10 10 cm /Im Do Q q 72 0 0 72 900 10 cm /Im Do Q"};
  made.resources = "/XObject << /Im 6 0 R >>";
  made.objects = {
      "<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /ColorSpace /DeviceGray /BitsPerComponent 8 "
      "/Length 1 >>\nstream\nx\nendstream"};
  CHECK(contentOf(made).images == 1);
  made.content = "/Pattern cs /P scn 0 0 720 360 re f";
  made.resources = "/Pattern << /P 6 0 R >>";
  const auto hatch = [](double step) {
    const std::string draws = fmt::format("1 w 0 0 m {0} {0} l S", step);
    return fmt::format(
        "<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 {0} {0}] /XStep {0} /YStep {0} "
        "/Resources << >> /Length {1} >>\nstream\n{2}\nendstream",
        step, draws.size(), draws);
  };
  made.objects = {hatch(72)};
  CHECK(contentOf(made).lines.size() >= 50);
  made.objects = {hatch(0.001)};
  CHECK(contentOf(made).lines.empty());
}

TEST_CASE("PDFs that cannot be read are refused in one line") {
  const auto refused = [](const std::string& bytes, const std::string& why) {
    try {
      auto document = openDocument(shared(bytes), "bad.pdf");
      document->content(1, {});
      FAIL("was read");
    } catch (const Error& e) {
      CAPTURE(e.what());
      CHECK(e.happened().find(why) != std::string::npos);
      CHECK(e.where().file == "bad.pdf");
    }
  };
  refused("%PDF-1.7\nnothing more", "damaged");
  refused("hello", "neither");
  MadePdf locked{"10 10 m 20 20 l S"};
  locked.trailer = "/ID [<00> <00>] /Encrypt << /Filter /Standard /V 1 /R 2 /P -44 /O <" + std::string(64, '1') +
                   "> /U <" + std::string(64, '2') + "> >>";
  refused(pdfOf(locked), "password");
  refused(pdfOf({"", {}, {}, {}, {}, "0 0 720 360", 0}), "no pages");
  refused(pdfOf({"", {}, {}, {}, {}, "0 0 9000000 9000000"}), "no size");
  auto document = openDocument(shared(pdfOf({"", {}, {}, {}, {}, "0 0 72 72", 3})), "three.pdf");
  CHECK(document->pages() == 3);
  CHECK_THROWS_AS(document->facts(0), Error);
  CHECK_THROWS_AS(document->facts(4), Error);
}

TEST_CASE("A page that draws itself again and again is stopped") {
  // Each form draws the next ten times: a thousand million strokes.
  MadePdf made{"/F Do", {}, "/XObject << /F 6 0 R >>"};
  for (int level = 0; level < 9; ++level) {
    std::string draws;
    for (int i = 0; i < 10; ++i) draws += level == 8 ? "10 10 m 90 10 l S " : "/F Do ";
    made.objects.push_back(
        fmt::format("<< /Type /XObject /Subtype /Form /BBox [0 0 720 360] {} /Length {} >>\nstream\n{}\nendstream",
                    level == 8 ? std::string() : fmt::format("/Resources << /XObject << /F {} 0 R >> >>", level + 7),
                    draws.size(), draws));
  }
  auto document = openDocument(shared(pdfOf(made)), "bomb.pdf");
  int asked = 0;
  CHECK_THROWS_AS(document->content(1, Progress([&] { return ++asked > 1000; })), Cancelled);
}

TEST_CASE("A part of a page is drawn at any size, its places where they belong") {
  auto document = openDocument(shared(pdfOf({"1 0 0 rg 72 72 72 72 re f", "/UserUnit 2"})), "made.pdf");
  // The red square is 50.8 mm wide from 50.8 on.
  const Bitmap bitmap = document->draw(1, {25.4, 25.4, 127, 76.2}, 400, 200, {});
  const auto red = [&](int column, int row) {
    const std::uint8_t* p = &bitmap.pixels[std::size_t(4) * (row * 400 + column)];
    return p[2] == 255 && p[1] == 0 && p[0] == 0;
  };
  CHECK_FALSE(red(97, 50));
  CHECK(red(103, 50));
  CHECK(red(297, 50));
  CHECK_FALSE(red(303, 50));
  CHECK(red(200, 97));
  CHECK_FALSE(red(200, 103));
}

TEST_CASE("Dashes too fine to be told apart are drawn through, and others as they are") {
  auto document = openDocument(shared(pdfOf({"0 0 1 RG 8 w [0.000001 0.000001] 0 d 0 270 m 720 270 l S "
                                             "[0.01 0.01] 0 d -10000 180 m 10000 180 l S "
                                             "[40 40] 0 d 0 90 m 720 90 l S"})),
                               "made.pdf");
  const Bitmap drawn = document->draw(1, {0, 0, 254, 127}, 720, 360, {});
  const auto blue = [&](int row) {
    int count = 0;
    for (int x = 0; x < 720; ++x) {
      const std::uint8_t* p = &drawn.pixels[std::size_t(4) * (row * 720 + x)];
      count += p[0] == 255 && p[1] < 128 && p[2] < 128 ? 1 : 0;
    }
    return count;
  };
  CHECK(blue(90) >= 718);
  CHECK(blue(180) >= 718);
  CHECK(blue(270) == Approx(360).margin(8));
}

TEST_CASE("A PDF that places itself tells where, in metres of its system") {
  // 200 m by 100 m on a plan of UTM zone 55 south, over the whole page.
  MadePdf made{"10 10 m 20 20 l S"};
  made.page =
      "/VP [<< /Type /Viewport /BBox [0 0 720 360] /Measure << /Type /Measure /Subtype /GEO /Bounds [0 0 0 1 1 1 1 0] "
      "/GPTS [-34.459128 146.042311 -34.458226 146.042328 -34.458244 146.044504 -34.459146 146.044487] "
      "/LPTS [0 0 0 1 1 1 1 0] /GCS << /Type /PROJCS /EPSG 32755 >> >> >>]";
  auto document = openDocument(shared(pdfOf(made)), "placed.pdf");
  const auto place = document->ownPlace(1);
  REQUIRE(place);
  REQUIRE(place->controls.size() == 4);
  CHECK(place->system.find("55S") != std::string::npos);
  CHECK(plane::distance(place->controls[2].page, {254, 127}) < 1e-9);
  CHECK(plane::distance(place->controls[0].ground, place->controls[1].ground) == Approx(100).margin(0.3));
  CHECK(plane::distance(place->controls[0].ground, place->controls[3].ground) == Approx(200).margin(0.3));
  CHECK_FALSE(openDocument(shared(pdfOf({"10 10 m 20 20 l S"})), "plain.pdf")->ownPlace(1));
}
