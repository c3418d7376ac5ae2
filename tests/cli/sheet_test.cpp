// Plan sheets by the command line.
#include <catch2/catch.hpp>
#include <cmath>

#include "support/figures.h"
#include "support/sheets.h"

using namespace inselberg::testing;
using nlohmann::json;

namespace {

// 254 by 127 mm, with a red line 50.8 mm long from (25.4, 25.4), a dashed blue one, and a level with its cross.
std::string plan(const Scratch& s) {
  return s.file("plan.pdf", pdfOf({"1 0 0 RG 1 w 72 72 m 216 72 l S 0 0 1 RG 2 w [6 6] 0 d 72 144 m 216 144 l S [] 0 d "
                                   "0 G 0.5 w 70 200 m 74 200 l S 72 198 m 72 202 l S "
                                   "BT /F1 8 Tf 75 202 Td (101.25) Tj ET BT /F1 8 Tf 300 202 Td (Yard) Tj ET"}));
}

std::string picture(const Scratch& s, double perInch) {
  return s.file("scan.tif", tiffOf({200, 100, 3, 8, 2, 1, perInch, [](int, int, int) { return 255; }}));
}

}  // namespace

TEST_CASE("sheet lists pages with what is on them") {
  const Scratch s;
  const json page = jsonFrom(runCli("sheet '" + plan(s) + "' --list --json"))["pages"][0];
  CHECK(page["number"] == 1);
  CHECK(page["width_mm"].get<double>() == Approx(254));
  CHECK(page["height_mm"].get<double>() == Approx(127));
  CHECK(page["lines"] == 4);
  CHECK(page["texts"] == 2);
  CHECK(page["images"] == 0);
  CHECK(page["georeferenced"] == false);
  const json scan = jsonFrom(runCli("sheet '" + picture(s, 0) + "' --list --json"))["pages"][0];
  CHECK(scan["width_mm"].is_null());
  CHECK(scan["images"] == 1);
  CHECK(scan["width_px"] == 200);
  CHECK(runCli("sheet '" + plan(s) + "' --list").out.find("254.0 x 127.0 mm, 4 lines, 2 texts") != std::string::npos);
}

TEST_CASE("sheet takes lines and levels to scale, into a drawing, GeoJSON and a list of points") {
  const Scratch s;
  const std::string sheet = "sheet '" + plan(s) + "' --page 1 ";
  const json told = jsonFrom(runCli(sheet + "--scale 500 --levels -o '" + s / "o.geojson" + "' --json"));
  CHECK(told["scale_x"].get<double>() == Approx(500));
  CHECK(told["rotation_deg"] == 0);
  CHECK(told["residuals_m"].empty());
  CHECK(told["lines"] == 4);
  CHECK(told["points"] == 1);
  const json features = json::parse(contentOf(s / "o.geojson"))["features"];
  REQUIRE(features.size() == 5);
  CHECK(features[0]["properties"]["colour"] == "FF0000");
  CHECK(features[0]["properties"]["width_mm"].get<double>() == Approx(0.3528).epsilon(1e-3));
  CHECK(features[0]["properties"]["dash"] == "");
  CHECK(features[1]["properties"]["dash"] == "2.117 2.117");
  CHECK(features[0]["geometry"]["coordinates"][1][0].get<double>() == Approx(76.2 * 0.5));
  CHECK(features[4]["geometry"]["type"] == "Point");
  CHECK(features[4]["geometry"]["coordinates"][2] == 101.25);
  CHECK(features[4]["geometry"]["coordinates"][0].get<double>() == Approx(12.7));
  // Each axis by its own scale.
  const json unlike =
      jsonFrom(runCli(sheet + "--scale-x 500 --scale-y 250 --colour ff0000 -o '" + s / "o.dxf" + "' --json"));
  CHECK(unlike["scale_y"].get<double>() == Approx(250));
  CHECK(unlike["lines"] == 1);
  CHECK(unlike["doubts"].size() == 1);
  const std::string drawing = contentOf(s / "o.dxf");
  CHECK(drawing.find("LINES-FF0000-0_35") != std::string::npos);
  CHECK(drawing.find("colour=FF0000") != std::string::npos);
  CHECK(runCli("import '" + s / "o.dxf" + "' --list").code == 0);
  REQUIRE(runCli(sheet + "--scale 500 --levels -o '" + s / "o.csv" + "'").code == 0);
  CHECK(contentOf(s / "o.csv") == "number,easting,northing,level,code\n1,12.700000,35.277778,101.25,101.25\n");
}

TEST_CASE("sheet fits a page to known points, with the residual of each") {
  const Scratch s;
  const std::string sheet = "sheet '" + plan(s) + "' --page 1 --json ";
  const json two = jsonFrom(runCli(sheet + "--fit '25.4,25.4=412000,6187000' --fit '76.2,25.4=412000,6187025.4'"));
  CHECK(two["scale_x"].get<double>() == Approx(500));
  CHECK(two["rotation_deg"].get<double>() == Approx(90));
  CHECK(two["rms_m"].get<double>() == Approx(0).margin(1e-8));
  const json four = jsonFrom(runCli(sheet + "--fit '0,0=0,0' '100,0=50,0' '100,100=50,60' '0,100=0,60.4'"));
  REQUIRE(four["residuals_m"].size() == 4);
  for (const json& r : four["residuals_m"]) CHECK(r.get<double>() == Approx(0.1));
  CHECK(four["rms_m"].get<double>() == Approx(0.1));
  CHECK(four["scale_y"].get<double>() == Approx(602));
  // Places off the sheet's corner may be negative.
  CHECK(runCli(sheet + "--fit '-10,-5=0,0' '100,0=50,0'").code == 0);
  // Of a picture they are pixels, and scales metres for each.
  const json scan = jsonFrom(runCli("sheet '" + picture(s, 0) +
                                    "' --json --fit '0,0=0,0' '200,0=50,0' '0,100=0,26' -o '" + s / "none.dxf" + "'"));
  CHECK(scan["scale_x"].get<double>() == Approx(0.25));
  CHECK(scan["scale_y"].get<double>() == Approx(0.26));
  CHECK(scan["lines"] == 0);
  CHECK(contentOf(s / "none.dxf").find("POLYLINE") == std::string::npos);
  CHECK(jsonFrom(runCli("sheet '" + picture(s, 254) + "' --scale 100 --json"))["scale_x"].get<double>() ==
        Approx(0.01));
}

TEST_CASE("sheet refuses in one line what cannot be placed or read") {
  const Scratch s;
  const auto refused = [](const std::string& arguments, const std::string& says) {
    const Ran ran = runCli("sheet " + arguments);
    CAPTURE(arguments, ran.out, ran.err);
    CHECK(ran.code == 1);
    CHECK(ran.out.empty());
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
    CHECK(ran.err.find(says) != std::string::npos);
  };
  const std::string pdf = "'" + plan(s) + "' ";
  refused(pdf + "--page 2 --scale 500", "no page 2");
  refused(pdf + "--page 1", "--fit");
  refused(pdf + "--scale 0", "zero");
  refused(pdf + "--scale nan", "usable");
  refused(pdf + "--fit 1,2=3,4", "one point");
  refused(pdf + "--fit 1,2=3,4 1,2=5,6", "one place");
  refused(pdf + "--fit 1,1=1,1 2,2=2,2 3,3=3,3", "one line");
  refused(pdf + "--fit 1,1:1,1", "no point");
  refused(pdf + "--scale 500 --colour red", "RRGGBB");
  refused(pdf + "--scale 500 --join -1", "usable length");
  refused("'" + picture(s, 0) + "' --scale 500", "no resolution");
  refused("'" + s.file("bad.pdf", "%PDF-1.4 no more") + "' --list", "damaged");
  refused("'" + s.file("two.pdf", pdfOf({"10 10 m 20 20 l S", {}, {}, {}, {}, "0 0 72 72", 2})) + "' --scale 500",
          "2 pages");
  refused("'" + s / "missing.pdf" + "' --list", "missing.pdf");
  CHECK(runCli("sheet " + pdf + "--scale-x 500").code == 2);
  CHECK(runCli("sheet " + pdf + "--scale 500 --fit 1,1=1,1 2,2=2,2").code == 2);
  CHECK(runCli("sheet " + pdf + "--scale 500 -o out.txt").code == 2);
}

TEST_CASE("sheet reads PNG and JPEG of every kind, and a world file beside them") {
  const Scratch s;
  const std::string tiff = picture(s, 0);
  for (const std::string ending : {"png", "jpg"}) {
    CAPTURE(ending);
    const std::string out = s / ("scan." + ending);
    REQUIRE(std::system(("gdal_translate -q -of " + std::string(ending == "png" ? "PNG" : "JPEG") + " '" + tiff +
                         "' '" + out + "' >/dev/null 2>&1")
                            .c_str()) == 0);
    CHECK(jsonFrom(runCli("sheet '" + out + "' --list --json"))["pages"][0]["georeferenced"] == false);
    s.file("scan." + std::string(ending == "png" ? "pgw" : "jgw"), "0.5\n0\n0\n-0.5\n1000.25\n1999.75\n");
    CHECK(jsonFrom(runCli("sheet '" + out + "' --list --json"))["pages"][0]["georeferenced"] == true);
    const json placed = jsonFrom(runCli("sheet '" + out + "' --page 1 --json"));
    CHECK(placed["scale_x"].get<double>() == Approx(0.5));
    CHECK(placed["scale_y"].get<double>() == Approx(0.5));
  }
}

namespace {

// The sum that ends a chunk of a PNG.
std::uint32_t sumOf(const std::string& bytes) {
  std::uint32_t sum = ~0u;
  for (const char c : bytes) {
    sum ^= static_cast<unsigned char>(c);
    for (int k = 0; k < 8; ++k) sum = (sum >> 1) ^ (0xedb88320u & (0u - (sum & 1)));
  }
  return ~sum;
}
std::string big(std::uint32_t value, int bytes) {
  std::string out;
  for (int i = bytes - 1; i >= 0; --i) out += static_cast<char>(value >> 8 * i & 0xff);
  return out;
}

}  // namespace

TEST_CASE("sheet turns JPEG and PNG as their EXIF says, so that its size is of what is seen") {
  const Scratch s;
  const std::string tiff = picture(s, 0);  // 200 by 100
  for (const int turn : {1, 3, 6, 8}) {
    CAPTURE(turn);
    // One entry: the turn.
    const std::string exif = "MM" + big(42, 2) + big(8, 4) + big(1, 2) + big(274, 2) + big(3, 2) + big(1, 4) +
                             big(static_cast<std::uint32_t>(turn), 2) + big(0, 2) + big(0, 4);
    for (const std::string kind : {"PNG", "JPEG"}) {
      const std::string plain = s / ("plain." + kind), turned = "turned." + kind;
      REQUIRE(std::system(
                  ("gdal_translate -q -of " + kind + " '" + tiff + "' '" + plain + "' >/dev/null 2>&1").c_str()) == 0);
      std::string bytes = contentOf(plain);
      if (kind == "PNG") {
        const std::string chunk = "eXIf" + exif;
        bytes.insert(33, big(static_cast<std::uint32_t>(exif.size()), 4) + chunk + big(sumOf(chunk), 4));
      } else {
        const std::string body = std::string("Exif\0\0", 6) + exif;
        bytes.insert(2, "\xff\xe1" + big(static_cast<std::uint32_t>(body.size() + 2), 2) + body);
      }
      const std::string file = s.file(turned, bytes);
      const json page = jsonFrom(runCli("sheet '" + file + "' --list --json"))["pages"][0];
      CHECK(page["width_px"] == (turn >= 5 ? 100 : 200));
      CHECK(page["height_px"] == (turn >= 5 ? 200 : 100));
    }
  }
}
