// Every call of the command line does its job on real input.
#include <catch2/catch.hpp>
#include <cmath>
#include <map>

#include "report/layout_page.h"
#include "store/project_file.h"
#include "support/figures.h"

using namespace inselberg;
using namespace inselberg::testing;
using nlohmann::json;

namespace {

// A level square of 100 m at level 10 as points, and a ground from it.
std::string levelSquare(const Scratch& scratch) {
  const std::string csv = scratch.file("level.csv",
                                       "number,easting,northing,level,code\n1,1000,2000,10,GL\n2,1100,2000,10,GL\n"
                                       "3,1100,2100,10,GL\n4,1000,2100,10,GL\n5,1050,2050,10,GL\n");
  const Ran ran = runCli("surface '" + csv + "' -o '" + scratch / "level.xml" + "'");
  REQUIRE(ran.code == 0);
  return scratch / "level.xml";
}

std::string outline(double x0, double y0, double x1, double y1) {
  return json{{"type", "Polygon"}, {"coordinates", {{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}, {x0, y0}}}}}.dump();
}

}  // namespace

TEST_CASE("surface builds the demo's ground, and info tells its numbers") {
  const Scratch scratch;
  const Ran made = runCli("surface '" + demo("survey.csv") + "' --breaklines '" + demo("breaklines.dxf") +
                          "' --boundary '" + demo("boundary.geojson") + "' -o '" + scratch / "e.xml" + "' --json");
  REQUIRE(made.code == 0);
  CHECK(made.err.empty());
  const json info = jsonFrom(runCli("info '" + scratch / "e.xml" + "' --json"));
  CHECK(info["plan_area_m2"].get<double>() == Approx(57800));
  CHECK(info["surface_area_m2"].get<double>() > info["plan_area_m2"].get<double>());
  CHECK(info["points"].get<int>() > 2500);
  CHECK(info["bounds"].size() == 4);
  CHECK(info["bounds"][0].get<double>() == Approx(412304));
  CHECK(info["bounds"][3].get<double>() == Approx(6187603));
  CHECK(jsonFrom(made)["triangles"] == info["triangles"]);
}

TEST_CASE("pad on level ground gives the closed form, and volume of the result the same") {
  const Scratch scratch;
  const std::string ground = levelSquare(scratch);
  const std::string area = scratch.file("pad.geojson", outline(1040, 2040, 1060, 2060));
  const Ran ran = runCli("pad '" + ground + "' --outline '" + area +
                         "' --level 12 --fill-batter 3 --corners square -o '" + scratch / "after.xml" + "' --json");
  REQUIRE(ran.code == 0);
  const json pad = jsonFrom(ran);
  const double a1 = 400, a2 = 32.0 * 32.0;
  const double expected = 2.0 / 3 * (a1 + a2 + std::sqrt(a1 * a2));
  CHECK(pad["fill_m3"].get<double>() == Approx(expected).epsilon(1e-9));
  CHECK(pad["cut_m3"].get<double>() == Approx(0).margin(1e-9));
  CHECK(pad["surplus_m3"].get<double>() == Approx(-expected).epsilon(1e-9));
  CHECK(pad["footprint_area_m2"].get<double>() == Approx(a2));
  CHECK(pad["max_fill_m"].get<double>() == Approx(2));
  CHECK(pad["level_m"] == 12);
  const json volume = jsonFrom(runCli("volume '" + ground + "' '" + scratch / "after.xml" + "' --json"));
  CHECK(volume["fill_m3"].get<double>() == Approx(expected).epsilon(1e-6));
  CHECK(volume["plan_area_m2"].get<double>() == Approx(10000));
  const json back = jsonFrom(runCli("volume '" + scratch / "after.xml" + "' '" + ground + "' --json"));
  CHECK(back["cut_m3"] == volume["fill_m3"]);
}

TEST_CASE("volume inside a region counts only there") {
  const Scratch scratch;
  const std::string ground = levelSquare(scratch);
  const std::string area = scratch.file("pad.geojson", outline(1040, 2040, 1060, 2060));
  REQUIRE(runCli("pad '" + ground + "' --outline '" + area + "' --level 12 --corners square -o '" +
                 scratch / "after.xml" + "'")
              .code == 0);
  const std::string region = scratch.file("region.geojson", outline(1045, 2045, 1050, 2055));
  const json v =
      jsonFrom(runCli("volume '" + ground + "' '" + scratch / "after.xml" + "' --region '" + region + "' --json"));
  CHECK(v["fill_m3"].get<double>() == Approx(100).epsilon(1e-9));
  CHECK(v["plan_area_m2"].get<double>() == Approx(50).epsilon(1e-9));
  CHECK(v["max_fill_m"].get<double>() == Approx(2));
}

TEST_CASE("identical grounds give exactly nothing") {
  const json v = jsonFrom(runCli("volume '" + demo("existing.xml") + "' '" + demo("existing.xml") + "' --json"));
  CHECK(v["cut_m3"] == 0);
  CHECK(v["fill_m3"] == 0);
  CHECK(v["cut_area_m2"] == 0);
}

TEST_CASE("pad places tilted and fitted tops, tells what a fit came to, and refuses what does not belong") {
  const Scratch scratch;
  const std::string ground = levelSquare(scratch);
  const std::string pad = "pad '" + ground + "' --outline '" + scratch.file("p.json", outline(1030, 2030, 1070, 2070)) +
                          "' --corners square --json ";
  const Ran tilted = runCli(pad + "--level 10 --top tilted --fall-percent 2 --bearing-deg 90");
  REQUIRE(tilted.code == 0);
  const auto told = json::parse(tilted.out);
  CHECK(told["level_m"] == 10);
  CHECK(told["fall_percent"] == 2);
  CHECK(told["bearing_deg"] == 90);
  // Half of it below the ground, half above, alike.
  CHECK(told["max_fill_m"].get<double>() == Approx(0.4).epsilon(1e-9));
  CHECK(told["cut_m3"].get<double>() > 40 * 20 * 0.2);
  CHECK(told["surplus_m3"].get<double>() == Approx(0).margin(1e-6));
  const Ran fitted = runCli(pad + "--top fitted --offset 0.5");
  REQUIRE(fitted.code == 0);
  CHECK(json::parse(fitted.out)["level_m"].get<double>() == Approx(10.5));
  CHECK(json::parse(fitted.out)["fall_percent"].get<double>() == Approx(0).margin(1e-9));
  CHECK(runCli(pad + "--top tilted").code == 2);
  CHECK(runCli(pad + "--top leaning --level 10").code == 2);
  for (const char* wrong : {"--top fitted --balance", "--level 10 --fall-percent 2", "--top fitted --bearing-deg 20"}) {
    CAPTURE(wrong);
    const Ran ran = runCli(pad + wrong);
    CHECK(ran.code == 1);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  }
}

TEST_CASE("pad --balance finds the level, with or without a start") {
  const std::string call =
      "pad '" + demo("existing.xml") + "' --outline '" + demo("silo-pad.geojson") + "' --balance --json";
  const json free = jsonFrom(runCli(call)), started = jsonFrom(runCli(call + " --level 90"));
  CHECK(free["level_m"].get<double>() == Approx(started["level_m"].get<double>()).epsilon(1e-9));
  CHECK(std::abs(free["surplus_m3"].get<double>()) < 1e-3);
  CHECK(free["cut_m3"].get<double>() > 500);
}

TEST_CASE("contours go out as GeoJSON and DXF with their levels") {
  const Scratch scratch;
  for (const std::string name : {"c.geojson", "c.dxf"}) {
    const Ran ran = runCli("contours '" + demo("existing.xml") + "' --interval 0.5 -o '" + scratch / name + "'");
    REQUIRE(ran.code == 0);
  }
  const json made = json::parse(contentOf(scratch / "c.geojson"));
  REQUIRE(made["features"].size() > 20);
  for (const json& f : made["features"]) {
    const double level = f["properties"]["level_m"];
    CHECK(std::abs(std::remainder(level, 0.5)) < 1e-9);
    for (const json& p : f["geometry"]["coordinates"]) CHECK(p[2].get<double>() == Approx(level));
  }
  // The DXF is read back as lines by our own reader: the same number of contours.
  const std::string dxf = contentOf(scratch / "c.dxf");
  std::size_t polylines = 0;
  for (std::size_t at = dxf.find("\nPOLYLINE\n"); at != std::string::npos; at = dxf.find("\nPOLYLINE\n", at + 1))
    ++polylines;
  CHECK(polylines == made["features"].size());
}

TEST_CASE("new, report and export carry a project from survey to written ground") {
  const Scratch scratch;
  const Ran made =
      runCli("new '" + demo("survey.csv") + "' --breaklines '" + demo("breaklines.dxf") + "' --boundary '" +
             demo("boundary.geojson") + "' --name Trial --pad 'Silo pad=" + demo("silo-pad.geojson") + "@77.5' -o '" +
             scratch / "t.inselberg" + "'");
  REQUIRE(made.code == 0);
  const json report = jsonFrom(runCli("report '" + scratch / "t.inselberg" + "' --json"));
  CHECK(report["project"] == "Trial");
  REQUIRE(report["seams"].size() == 1);
  REQUIRE(report["works"].size() == 1);
  CHECK(report["works"][0]["level_m"] == 77.5);
  for (const std::string ground : {"existing", "finished"}) {
    REQUIRE(runCli("export '" + scratch / "t.inselberg" + "' --ground " + ground + " -o '" +
                   scratch / (ground + ".xml") + "'")
                .code == 0);
  }
  const json v =
      jsonFrom(runCli("volume '" + scratch / "existing.xml" + "' '" + scratch / "finished.xml" + "' --json"));
  CHECK(v["cut_m3"].get<double>() == Approx(report["seams"][0]["cut_m3"].get<double>()).epsilon(1e-6));
  CHECK(v["fill_m3"].get<double>() == Approx(report["seams"][0]["fill_m3"].get<double>()).epsilon(1e-6));
  // As text too, with the surplus in words.
  CHECK(runCli("report '" + scratch / "t.inselberg" + "'").out.find("surplus") != std::string::npos);
}

TEST_CASE("points come in any column order, with BOM, CRLF, quotes, and without a header") {
  const Scratch scratch;
  const std::vector<std::pair<std::string, std::string>> forms{
      {"plain.csv", "1,0,0,1,a\n2,10,0,2,a\n3,0,10,3,a\n"},
      {"named.csv",
       "\xef\xbb\xbf"
       "Elev;North;East;Pt\r\n1;0;0;1\r\n2;0;10;2\r\n3;10;0;3\r\n"},
      {"quoted.csv",
       "\"number\",\"easting\",\"northing\",\"level\",\"code\"\n\"1\",\"0\",\"0\",\"1\",\"a, b\"\n2,10,0,2,\"say "
       "\"\"x\"\"\"\n3,0,10,3,\n"},
  };
  for (const auto& [name, content] : forms) {
    CAPTURE(name);
    const json info = jsonFrom(runCli("info '" + scratch.file(name, content) + "' --json"));
    CHECK(info["points"] == 3);
    CHECK(info["plan_area_m2"].get<double>() == Approx(50));
    CHECK(info["min_level_m"] == 1);
    CHECK(info["max_level_m"] == 3);
  }
}

TEST_CASE("a boundary with a hole cuts the ground and leaves the void out") {
  const Scratch scratch;
  const std::string csv = scratch.file("p.csv", "1,0,0,5\n2,100,0,5\n3,100,100,5\n4,0,100,5\n5,50,50,5\n");
  const json polygon{
      {"type", "Polygon"},
      {"coordinates",
       {{{10, 10}, {90, 10}, {90, 90}, {10, 90}, {10, 10}}, {{40, 40}, {40, 60}, {60, 60}, {60, 40}, {40, 40}}}}};
  for (const json& form :
       {polygon, json{{"type", "Feature"}, {"properties", json::object()}, {"geometry", polygon}},
        json{{"type", "FeatureCollection"},
             {"features", {{{"type", "Feature"}, {"properties", nullptr}, {"geometry", polygon}}}}}}) {
    const Ran ran = runCli("surface '" + csv + "' --boundary '" + scratch.file("b.geojson", form.dump()) + "' -o '" +
                           scratch / "o.xml" + "' --json");
    REQUIRE(ran.code == 0);
    CHECK(jsonFrom(ran)["plan_area_m2"].get<double>() == Approx(6400 - 400));
  }
}

TEST_CASE("LandXML in feet comes in as metres, and faces marked invisible stay out") {
  const Scratch scratch;
  const std::string feet = scratch.file("f.xml", R"(<?xml version="1.0"?>
<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Imperial linearUnit="foot" areaUnit="squareFoot"/></Units>
<Surfaces><Surface name="s"><Definition surfType="TIN"><Pnts><P id="7">0 0 10</P><P id="8">0 100 10</P><P id="9">100 0 20</P><P id="10">100 100 20</P></Pnts>
<Faces><F>7 8 9</F><F i="1">8 10 9</F></Faces></Definition></Surface></Surfaces></LandXML>)");
  const json info = jsonFrom(runCli("info '" + feet + "' --json"));
  CHECK(info["triangles"] == 1);
  CHECK(info["plan_area_m2"].get<double>() == Approx(5000 * 0.3048 * 0.3048));
  CHECK(info["max_level_m"].get<double>() == Approx(20 * 0.3048));
}

TEST_CASE("check tells the doubts of a file and of a project, each with kind, place and text") {
  const Scratch s;
  std::string csv;
  for (int i = 0; i < 400; ++i) {
    const int x = i % 20, y = i / 20;
    csv += std::to_string(i) + "," + std::to_string(412000 + 5 * x) + "," + std::to_string(6187000 + 5 * y) + "," +
           (i == 210  ? "0"
            : i == 90 ? "88"
                      : std::to_string(70 + std::sin(x / 3.0))) +
           "\n";
  }
  const std::string file = s.file("odd.csv", csv);
  const json doubts = jsonFrom(runCli("check '" + file + "' --json"))["doubts"];
  REQUIRE(doubts.size() == 2);
  std::map<std::string, json> byKind;
  for (const json& d : doubts) byKind[d["kind"]] = d;
  CHECK(byKind["zero-level"]["where"] == json({412050, 6187050}));
  CHECK(byKind["spike"]["where"] == json({412050, 6187020}));
  CHECK(byKind["spike"]["text"].get<std::string>().find("above") != std::string::npos);
  REQUIRE(runCli("new '" + file + "' -o '" + s / "p.inselberg" + "'").code == 0);
  const json project = jsonFrom(runCli("check '" + s / "p.inselberg" + "' --json"));
  CHECK(project["doubts"].size() == 2);
  CHECK(project["doubts"][0]["ground"] == "existing");
  CHECK(project["accepted"].empty());
}

TEST_CASE("A design with stages gives its figures, and the report's tables say the same") {
  const Scratch scratch;
  const json design = {
      {"works",
       {{{"kind", "pad"},
         {"name", "A"},
         {"outline", {{1040, 2040}, {1060, 2040}, {1060, 2060}, {1040, 2060}}},
         {"level", 9},
         {"corners", "square"},
         {"material", "clay"}}}},
      {"strips",
       {{{"name", "Topsoil"},
         {"outline", {{1020, 2020}, {1080, 2020}, {1080, 2080}, {1020, 2080}}},
         {"depth", 0.3},
         {"material", "topsoil"}}}},
      {"undercuts", {{{"name", "U"}, {"under", {"A"}}, {"depth", 1}, {"wider", 0.5}}}},
      {"buildups",
       {{{"name", "Slab"}, {"over", {"A"}}, {"part", "top"}, {"layers", {{{"name", "slab"}, {"thickness", 0.2}}}}}}},
      {"regions", {{{"name", "West"}, {"outline", {{1000, 2000}, {1050, 2000}, {1050, 2100}, {1000, 2100}}}}}},
      {"materials", {{{"name", "topsoil"}, {"usable", 0}}, {{"name", "clay"}, {"shrinkage", 0.1}}}},
      {"accuracy", {{{"source", "level.csv"}, {"random", 0.05}}}}};
  levelSquare(scratch);
  const std::string file = scratch.file("d.json", design.dump()), project = scratch / "d.inselberg";
  const json told =
      jsonFrom(runCli("design '" + file + "' --ground '" + scratch / "level.csv" + "' -o '" + project + "' --json"));
  CHECK(told["strips"][0]["volume_m3"].get<double>() == Approx(0.3 * 3600).epsilon(1e-9));
  // Formation at 8.8 below the slab, stripped ground at 9.7.
  const auto prism = [](double a, double b, double h) { return h / 6 * (a * a + b * b + (a + b) * (a + b)); };
  CHECK(told["figures"]["bulk_cut_m3"].get<double>() == Approx(prism(20, 20 + 4 * 0.7, 0.7) + 400 * 0.2).epsilon(1e-6));
  CHECK(told["seams"].size() == 4);
  CHECK(told["seams"][1]["name"] == "stripped to undercut");
  CHECK(told["seams"][3]["name"] == "formation to finished");
  CHECK(told["works"][0].contains("cut_pm_m3"));
  CHECK(told["regions"].size() == 2);
  CHECK(told["regions"][0]["strip_m3"].get<double>() == Approx(0.15 * 3600).epsilon(1e-9));
  CHECK(jsonFrom(runCli("report '" + project + "' --json")) == told);
  // Every stage can be written.
  for (const char* stage : {"stripped", "undercut", "formation", "finished"})
    CHECK(runCli("design '" + file + "' --ground '" + scratch / "level.csv" + "' -o '" + scratch / stage + ".xml' --" +
                 stage)
              .code == 0);
  // Out and in again.
  REQUIRE(runCli("export '" + project + "' --design '" + scratch / "again.json" + "'").code == 0);
  const json again = jsonFrom(runCli("design '" + scratch / "again.json" + "' --ground '" + scratch / "level.csv" +
                                     "' -o '" + scratch / "again.inselberg" + "' --json"));
  CHECK(again["figures"] == told["figures"]);
  CHECK(again["materials"] == told["materials"]);

  for (const char* ending : {"csv", "xlsx", "json"})
    REQUIRE(runCli("report '" + project + "' -o '" + scratch / "r." + ending + "'").code == 0);
  CHECK(runCli("report '" + project + "' -o '" + scratch / "r.doc" + "'").code != 0);
  // Read by another program.
  scratch.file("read.py",
               "import openpyxl, sys, json\n"
               "book = openpyxl.load_workbook(sys.argv[1], data_only=True)\n"
               "live = openpyxl.load_workbook(sys.argv[1])\n"
               "out = {s.title: [[c.value for c in row] for row in s.rows] for s in book}\n"
               "out['formulas'] = sum(str(c.value).startswith('=SUM') for s in live for row in s.rows for c in row)\n"
               "print(json.dumps(out))\n");
  REQUIRE(std::system(("/usr/bin/python3 '" + scratch / "read.py" + "' '" + scratch / "r.xlsx" + "' > '" +
                       scratch / "read.json" + "'")
                          .c_str()) == 0);
  std::ifstream in(scratch / "read.json");
  const json sheets = json::parse(in);
  CHECK(sheets["formulas"].get<int>() > 0);
  for (const auto& row : sheets["Figures"]) {
    const std::string name = row[0];
    if (name == "Strip")
      CHECK(row[1].get<double>() == Approx(told["figures"]["strip_m3"].get<double>()).epsilon(1e-14));
    if (name == "Bulk cut")
      CHECK(row[1].get<double>() == Approx(told["figures"]["bulk_cut_m3"].get<double>()).epsilon(1e-14));
    if (name == "Undercut")
      CHECK(row[2].get<double>() == Approx(told["regions"][0]["undercut_m3"].get<double>()).epsilon(1e-14));
  }
  CHECK(sheets["Materials"][1][1].get<double>() ==
        Approx(told["materials"][0]["bank_m3"].get<double>()).epsilon(1e-14));
}

TEST_CASE("balance shifts works of a project to the wanted surplus, and refuses what it cannot do in one line") {
  const Scratch scratch;
  const std::string project = demo("depot.inselberg"), out = scratch / "b.inselberg";
  const json before = jsonFrom(runCli("report '" + project + "' --json"));
  const json told = jsonFrom(runCli("balance '" + project + "' --surplus 250 --within 0.01 -o '" + out + "' --json"));
  CHECK(told["balanced"] == true);
  CHECK(told["works"].size() > 1);
  const json figures = jsonFrom(runCli("report '" + out + "' --json"))["figures"];
  CHECK(figures["surplus_m3"].get<double>() == Approx(250).margin(1.001e-4 * figures["needed_m3"].get<double>() + 3));
  CHECK(figures["available_m3"].get<double>() == Approx(told["figures"]["available_m3"].get<double>()).epsilon(1e-9));
  CHECK(figures["surplus_m3"] != before["figures"]["surplus_m3"]);
  for (const std::string bad : {"--works nobody", "--most 0", "--within -1", "--surplus much"}) {
    CAPTURE(bad);
    const Ran ran = runCli("balance '" + project + "' " + bad);
    CHECK(ran.code == 1);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  }
  CHECK(runCli("balance '" + project + "' -o '" + scratch / "b.xml" + "'").code == 2);
}

TEST_CASE("section writes the levels along a line, its areas, and square sections, and refuses what is no line") {
  const Scratch scratch;
  const std::string level = levelSquare(scratch);
  const std::string csv = scratch.file("tilt.csv",
                                       "number,easting,northing,level\n1,1000,2000,9\n2,1100,2000,11\n3,1100,2100,11\n"
                                       "4,1000,2100,9\n");
  const auto line = [&](const std::string& name, const json& geometry) { return scratch.file(name, geometry.dump()); };
  const std::string along =
      line("l.geojson", {{"type", "LineString"}, {"coordinates", {{1000, 2030}, {1060, 2030}, {1100, 2030}}}});
  const std::string out = scratch / "s.csv";
  const json told =
      jsonFrom(runCli("section '" + level + "' '" + csv + "' --line '" + along + "' -o '" + out + "' --json"));
  CHECK(told["cut_m2"].get<double>() == Approx(25).epsilon(1e-6));
  CHECK(told["fill_m2"].get<double>() == Approx(25).epsilon(1e-6));
  const std::string text = contentOf(out);
  CHECK(
      text.starts_with("station,easting,northing,level,tilt\n0.000000,1000.000000,2030.000000,10.0000000,9.0000000\n"));
  CHECK(text.find("\n60.000000,1060.000000,2030.000000,10.0000000,10.2000000\n") != std::string::npos);

  const json square = jsonFrom(runCli("section '" + level + "' '" + csv + "' --line '" + along +
                                      "' --spacing 40 --width 20 -o '" + out + "' --json"));
  REQUIRE(square["sections"].size() == 3);
  CHECK(square["sections"][2]["section"] == 80);
  CHECK(square["sections"][2]["fill_m2"].get<double>() == Approx(20 * 0.6).epsilon(1e-6));
  CHECK(contentOf(out).find("\n80.000000,0.000000,1080.000000,2040.000000,10.0000000,10.6000000\n") !=
        std::string::npos);

  for (const char* drawing : {"s.svg", "s.pdf", "s.png"}) {
    CHECK(runCli("section '" + level + "' --line '" + along + "' -o '" + scratch / drawing + "'").code == 0);
    CHECK(contentOf(scratch / drawing).size() > 500);
  }
  const auto refused = [&](const std::string& file, const std::string& more = "") {
    const Ran ran = runCli("section '" + level + "' --line '" + file + "' " + more + " --json");
    CAPTURE(file, more, ran.err);
    CHECK(ran.code == 1);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  };
  refused(line("p.geojson", {{"type", "Point"}, {"coordinates", {1050, 2050}}}));
  refused(scratch.file("a.geojson", outline(1010, 2010, 1020, 2020)));
  refused(line("m.geojson", {{"type", "MultiLineString"},
                             {"coordinates", {{{1000, 2030}, {1060, 2030}}, {{1000, 2040}, {1060, 2040}}}}}));
  refused(line("off.geojson", {{"type", "LineString"}, {"coordinates", {{0, 0}, {10, 0}}}}));
  refused(line("none.geojson", {{"type", "LineString"}, {"coordinates", {{1050, 2050}, {1050, 2050}}}}));
  refused(along, "--spacing 0 --width 10");
  refused(along, "--spacing 10 --width 0");
  refused(along, "--spacing 1e-9 --width 10");
  CHECK(runCli("section '" + level + "' --line '" + along + "' --spacing 10 --json").code == 2);
}

TEST_CASE("draw writes the plan of a ground as drawing, SVG and PDF, and names what it does not find") {
  const Scratch scratch;
  const std::string project = demo("depot.inselberg");
  for (const char* name : {"p.dxf", "p.svg", "p.pdf"}) {
    CHECK(runCli("draw '" + project + "' --ground finished --scale 500 -o '" + scratch / name + "'").code == 0);
    CHECK(contentOf(scratch / name).size() > 10'000);
  }
  CHECK(contentOf(scratch / "p.svg").find("Silo pad  77.20</text>") != std::string::npos);
  scratch.file(
      "read.py",
      "import ezdxf, sys\nd = ezdxf.readfile(sys.argv[1])\nprint(sorted(set(e.dxf.layer for e in d.modelspace())))\n");
  REQUIRE(std::system(("/usr/bin/python3 '" + scratch / "read.py" + "' '" + scratch / "p.dxf" + "' > '" +
                       scratch / "layers" + "'")
                          .c_str()) == 0);
  for (const char* layer : {"'FINISHED_CONTOURS'", "'EXISTING_CONTOURS'", "'CRESTS'", "'DAYLIGHT'", "'BATTER_TICKS'",
                            "'CONTOUR_LABELS'", "'BOUNDARY'", "'REGIONS'"})
    CHECK(contentOf(scratch / "layers").find(layer) != std::string::npos);
  const Ran none = runCli("draw '" + project + "' --ground cellar -o '" + scratch / "x.pdf" + "'");
  CHECK(none.code == 1);
  CHECK(none.err.find("the project has: ") != std::string::npos);
  CHECK(runCli("draw '" + project + "' --ground finished --scale 0 -o '" + scratch / "x.pdf" + "'").code == 1);
  CHECK(runCli("draw '" + project + "' --ground finished -o '" + scratch / "x.xml" + "'").code == 2);
}

TEST_CASE("draw lays out the sheets of a project, one by name or all, and names what it does not find") {
  const Scratch scratch;
  const std::string file = scratch / "p.inselberg";
  const auto depot = store::open(demo("depot.inselberg")).project;
  auto layouts = std::vector{report::startedLayout(*depot)};
  layouts.push_back(layouts.front());
  layouts.back().name = "Detail", layouts.back().scale = 200, layouts.back().paper = 0;
  store::save(*project::withLayouts(*depot, layouts), file);
  const std::string call = "draw '" + file + "' ";
  for (const char* name : {"p.svg", "p.pdf", "p.png"})
    CHECK(runCli(call + "--layout Detail -o '" + scratch / name + "'").code == 0);
  CHECK(contentOf(scratch / "p.svg").find("1 : 200 at A4") != std::string::npos);
  CHECK(runCli(call + "--layouts -o '" + scratch / "all.pdf" + "'").out.starts_with("2 sheets to "));
  CHECK(contentOf(scratch / "all.pdf").starts_with("%PDF"));
  for (const auto& [options, expected] : {std::pair{"--layout Cellar", "it has \"Earthworks plan\", \"Detail\""},
                                          {"--layouts", "one sheet"},
                                          {"--layout Detail --scale 500", "does not go with layouts"},
                                          {"", "not said"}}) {
    CAPTURE(options);
    const Ran ran = runCli(call + options + " -o '" + scratch / "x.svg" + "'");
    CHECK(ran.code == 1);
    CHECK(ran.err.find(expected) != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(scratch / "x.svg"));
  }
  const Ran none = runCli("draw '" + demo("depot.inselberg") + "' --layouts -o '" + scratch / "x.pdf" + "'");
  CHECK(none.code == 1);
  CHECK(none.err.find("has no layouts") != std::string::npos);
}

TEST_CASE("volume gives a second opinion and the area within a tolerance when asked") {
  const Scratch scratch;
  const std::string level = levelSquare(scratch);
  const std::string tilt = scratch.file(
      "tilt.csv", "number,easting,northing,level\n1,1000,2000,9\n2,1100,2000,11\n3,1100,2100,11\n4,1000,2100,9\n");
  const std::string both = "volume '" + level + "' '" + tilt + "' ";
  const json told =
      jsonFrom(runCli(both + "--second-opinion --cell 1 --spacing 5 --tolerance 0.25 --bands 0.5 --json"));
  REQUIRE(told["bands"].size() == 4);
  CHECK(told["bands"][0]["low_m"] == -1);
  CHECK(told["bands"][0]["area_m2"].get<double>() == Approx(2500).epsilon(1e-6));
  CHECK(told["bands"][3]["volume_m3"].get<double>() == Approx(2500 * 0.75).epsilon(1e-6));
  CHECK(told["cut_m3"].get<double>() == Approx(2500).epsilon(1e-9));
  CHECK(told["second_opinion"]["grid"]["cut_m3"].get<double>() == Approx(2500).epsilon(1e-3));
  CHECK(told["second_opinion"]["prismoidal"]["fill_m3"].get<double>() == Approx(2500).epsilon(1e-6));
  CHECK(told["second_opinion"]["spacing_m"] == 5);
  CHECK(told["tolerance"]["within_m2"].get<double>() == Approx(2500).epsilon(1e-6));
  CHECK_FALSE(jsonFrom(runCli(both + "--json")).contains("second_opinion"));
  CHECK(runCli(both + "--second-opinion").out.find("prismoidal") != std::string::npos);
  CHECK(runCli(both + "--second-opinion --cell 0").code == 1);
  CHECK(runCli(both + "--cell 1").code == 2);
}

TEST_CASE("section goes along a line that the project keeps, by its name") {
  const Scratch scratch;
  const auto project = store::open(demo("depot.inselberg")).project;
  const plane::Vec2 middle = works::middleOf(project->column.back()->works.front()->shape);
  const std::vector<plane::Vec2> line{middle - plane::Vec2{60, 20}, middle, middle + plane::Vec2{50, 30}};
  const std::string file = scratch / "p.inselberg";
  store::save(*project::withSectionLines(*project, {{"A", {{0, 0}, {1, 1}}}, {"B 2", line}}), file);
  json places = json::array();
  for (const plane::Vec2 p : line) places.push_back({p.x + project->origin.easting, p.y + project->origin.northing});
  const std::string along = scratch.file("l.geojson", json{{"type", "LineString"}, {"coordinates", places}}.dump());
  const std::string call = "section '" + file + "' --ground existing --ground finished --json ";
  const json kept = jsonFrom(runCli(call + "--kept 'B 2'")), drawn = jsonFrom(runCli(call + "--line '" + along + "'"));
  CHECK(kept["length_m"].get<double>() == Approx(drawn["length_m"].get<double>()).margin(1e-6));
  CHECK(kept["cut_m2"].get<double>() == Approx(drawn["cut_m2"].get<double>()).margin(1e-5));
  CHECK(kept["fill_m2"].get<double>() > 1);
  const Ran unknown = runCli(call + "--kept C");
  CHECK(unknown.code == 1);
  CHECK(unknown.err.find("A, B 2") != std::string::npos);
  CHECK(std::count(unknown.err.begin(), unknown.err.end(), '\n') == 1);
  // One of the two, not none and not both; grounds keep no lines.
  CHECK(runCli(call).code == 2);
  CHECK(runCli(call + "--kept 'B 2' --line '" + along + "'").code == 2);
  CHECK(runCli("section '" + levelSquare(scratch) + "' --kept A").code == 1);
}
