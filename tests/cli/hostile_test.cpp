// Files, names and places that no friend would give: refused in good time, or taken for what they are.
#include <sys/stat.h>

#include <catch2/catch.hpp>
#include <filesystem>

#include "support/figures.h"

using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

const std::string kPoints = "1,0,0,1\n2,50,0,2\n3,0,50,3\n4,50,50,4\n";

std::string quoted(const std::string& path) {
  return "'" + path + "'";
}

// One line on stderr that names the file, nothing on stdout.
void refused(const Ran& ran, const std::string& names) {
  CAPTURE(ran.out, ran.err);
  CHECK(ran.code == 1);
  CHECK(ran.out.empty());
  CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  CHECK(ran.err.find(names) != std::string::npos);
}

Ran within(const std::string& limits, const std::string& arguments) {
  const Scratch scratch;
  const std::string command = "(" + limits + "; timeout 20 '" + std::string(INSELBERG_CLI) + "' " + arguments + ") >'" +
                              scratch / "out" + "' 2>'" + scratch / "err" + "'";
  const int status = std::system(("bash -c \"" + command + "\"").c_str());
  return {WIFEXITED(status) ? WEXITSTATUS(status) : 128, contentOf(scratch / "out"), contentOf(scratch / "err")};
}

}  // namespace

TEST_CASE("pipes and devices are refused at once, by link too, whatever they are taken for") {
  const Scratch s;
  REQUIRE(::mkfifo((s / "pipe").c_str(), 0600) == 0);
  for (const std::string ending : {"csv", "dxf", "xml", "geojson", "tif", "asc", "gpkg", "shp", "xlsx", "inselberg"}) {
    fs::create_symlink("/dev/zero", s / "zero." + ending);
    fs::create_symlink(s / "pipe", s / "pipe." + ending);
    for (const std::string& name : {"zero." + ending, "pipe." + ending}) {
      const std::string call = ending == "inselberg" ? "report " : "import --list ";
#ifdef __SANITIZE_ADDRESS__
      const char* limits = "true";  // the sanitizer's own memory is beyond any limit
#else
      const char* limits = "ulimit -v 4000000";
#endif
      refused(within(limits, call + s / name), name);
    }
  }
}

TEST_CASE("a database of sixteen bytes is refused by name") {
  const Scratch s;
  refused(runCli("import --list " + quoted(s.file("short", std::string("SQLite format 3", 16)))), "short");
  refused(runCli("report " + quoted(s.file("short.inselberg", std::string("SQLite format 3", 16)))), "short.inselberg");
}

TEST_CASE("a GeoPackage whose table is a view without end is refused") {
  const Scratch s;
  REQUIRE(std::system(("ogr2ogr -f GPKG '" + s / "a.gpkg" + "' '" + demo("boundary.geojson") + "'").c_str()) == 0);
  CHECK(runCli("import --list " + quoted(s / "a.gpkg")).code == 0);
  const std::string table = "SELECT table_name FROM gpkg_contents";
  const std::string sql =
      "ALTER TABLE boundary RENAME TO hidden; CREATE VIEW boundary AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL "
      "SELECT "
      "i+1 FROM n) SELECT i AS fid, NULL AS geom FROM n; UPDATE gpkg_contents SET table_name='boundary'";
  REQUIRE(std::system(("sqlite3 '" + s / "a.gpkg" + "' \"" + sql + "\"").c_str()) == 0);
  refused(within("true", "import --list " + s / "a.gpkg"), "a.gpkg");
}

TEST_CASE("a limit on the size of files is told, the earlier file stays, and nothing is left beside it") {
  const Scratch s;
  const std::string points = s.file("p.csv", kPoints);
  std::string many;
  for (int i = 0; i < 3000; ++i)
    many += std::to_string(i) + "," + std::to_string(i % 60) + "," + std::to_string(i / 60 * 2 + i % 3) + "," +
            std::to_string(i * 7919 % 1000) + "\n";
  s.file("many.csv", many);
  for (const char* ending : {"xml", "dxf", "tif", "gpkg", "ply"}) {
    const std::string out = s / "o." + ending;
    REQUIRE(runCli("surface " + quoted(points) + " -o " + quoted(out)).code == 0);
    const std::string before = contentOf(out);
    const auto ran = within("ulimit -f 4", "surface " + s / "many.csv" + " -o " + out);
    refused(ran, "o." + std::string(ending));
    CHECK((contentOf(out) == before));
  }
  for (const auto& entry : fs::directory_iterator(s.path())) CHECK(entry.path().filename().string()[0] != '.');
}

TEST_CASE("outputs go through links to where they lead, and names of any length that fits are written") {
  const Scratch s;
  const std::string points = s.file("p.csv", kPoints);
  for (const std::string ending : {"xml", "dxf", "tif", "asc", "geojson", "gpkg", "obj", "ply", "csv"}) {
    s.file("real." + ending, "old");
    fs::create_symlink("real." + ending, s / "link." + ending);
    CHECK(runCli("surface " + quoted(points) + " -o " + quoted(s / "link." + ending)).code == 0);
    CHECK(fs::is_symlink(s / "link." + ending));
    CHECK(contentOf(s / "real." + ending) != "old");
    CHECK(contentOf(s / "real." + ending).size() > 20);
    const std::string name = s / std::string(254 - ending.size(), 'n') + "." + ending;
    const Ran ran = runCli("surface " + quoted(points) + " -o " + quoted(name));
    CAPTURE(ran.err);
    CHECK(ran.code == 0);
    CHECK(fs::exists(name));
    CHECK(runCli("surface " + quoted(points) + " -o " + quoted(s / "BIG." + ending)).code == 0);
  }
  CHECK(runCli("surface " + quoted(points) + " -o " + quoted(s / "LOUD.DXF")).code == 0);
  CHECK(runCli("contours " + quoted(points) + " --interval 1 -o " + quoted(s / "LINES.DXF")).code == 0);
}

TEST_CASE("an interval that gives countless contours is refused in a short line") {
  const Scratch s;
  const Ran ran =
      runCli("contours " + quoted(s.file("p.csv", kPoints)) + " --interval 1e-300 -o " + quoted(s / "c.dxf"));
  refused(ran, "interval");
  CHECK(ran.err.size() < 200);
}

TEST_CASE("a coordinate system that is not known is refused before anything is written") {
  const Scratch s;
  const std::string points = s.file("p.csv", kPoints), out = s.file("o.xml", "earlier");
  refused(runCli("surface " + quoted(points) + " --system EPSG:99999 --json -o " + quoted(out)), "99999");
  CHECK(contentOf(out) == "earlier");
  refused(runCli("surface " + quoted(points) + " --file-system EPSG:99999 -o " + quoted(out)), "99999");
  refused(runCli("new " + quoted(points) + " --system EPSG:99999 -o " + quoted(s / "p.inselberg")), "99999");
  CHECK_FALSE(fs::exists(s / "p.inselberg"));
}

TEST_CASE("names that are no UTF-8, or would command a terminal, come in and go out") {
  const Scratch s;
  const std::string points = s.file("caf\xe9.csv", kPoints);
  CHECK(runCli("new " + quoted(points) + " --name 'Site \xe9' -o " + quoted(s / "p.inselberg")).code == 0);
  CHECK(reportOf(s / "p.inselberg")["project"] == "Site \u00e9");
  const std::string layer = "bad\\U+D800name";
  std::string drawing = "0\nSECTION\n2\nENTITIES\n";
  for (int i = 0; i < 4; ++i)
    drawing += "0\nPOINT\n8\n" + layer + "\n10\n" + std::to_string(10 * (i % 2)) + "\n20\n" +
               std::to_string(10 * (i / 2)) + "\n30\n" + std::to_string(i) + "\n";
  s.file("d.dxf", drawing + "0\nENDSEC\n0\nEOF\n");
  const auto list = jsonFrom(runCli("import --list --json " + quoted(s / "d.dxf")));
  const std::string name = list["layers"][0]["name"];
  CHECK(name == "bad\ufffdname");
  CHECK(runCli("surface " + quoted(s / "d.dxf") + " --take '" + name + "=points' -o " + quoted(s / "o.xml")).code == 0);
  CHECK(runCli("new " + quoted(s / "d.dxf") + " -o " + quoted(s / "d.inselberg")).code == 0);
  // An escape in a name does not reach the terminal.
  drawing.replace(drawing.find(layer), layer.size(), "red\x1b[31m\xc2\x9b");
  s.file("e.dxf", drawing + "0\nENDSEC\n0\nEOF\n");
  const Ran ran = runCli("import --list " + quoted(s / "e.dxf"));
  CHECK(ran.code == 0);
  CHECK(ran.out.find("red [31m") != std::string::npos);
  CHECK(ran.out.find('\x1b') == std::string::npos);
  CHECK(ran.out.find("\xc2\x9b") == std::string::npos);
}

TEST_CASE("one thing that is wrong leaves the rest, with its line, and a ground is not made of half a file") {
  const Scratch s;
  struct Case {
    std::string name, content;
    int line;
    std::string kind;
    int kept;
  };
  const std::string json =
      "{\"type\":\"FeatureCollection\",\"features\":[\n"
      "{\"type\":\"Feature\",\"properties\":{},\"geometry\":{\"type\":\"Point\",\"coordinates\":[0,0,1]}},\n"
      "{\"type\":\"Feature\",\"properties\":{},\"geometry\":{\"type\":\"Point\",\"coordinates\":[9,0]}},\n"
      "{\"type\":\"Feature\",\"properties\":{},\"geometry\":{\"type\":\"Point\",\"coordinates\":[9,9,2]}},\n"
      "{\"type\":\"Feature\",\"properties\":{},\"geometry\":{\"type\":\"Point\",\"coordinates\":[0,9,3]}}]}\n";
  const auto point = [](const std::string& x, const std::string& y) {
    return "0\nPOINT\n8\nA\n10\n" + x + "\n20\n" + y + "\n30\n1\n";
  };
  const std::string dxf = "0\nSECTION\n2\nENTITIES\n" + point("0", "0") + point("abc", "0") + point("9", "0") +
                          point("0", "9") + "0\nENDSEC\n0\nEOF\n";
  const std::string polyline =
      "0\nSECTION\n2\nENTITIES\n0\nPOLYLINE\n8\nA\n66\n1\n70\n8\n0\nVERTEX\n8\nA\n10\n0\n20\n0\n30\n1\n0\nVERTEX\n8\n"
      "A\n10\nx\n20\n0\n30\n1\n0\nVERTEX\n8\nA\n10\n5\n20\n5\n30\n1\n0\nSEQEND\n8\nA\n" +
      point("1", "1") + "0\nENDSEC\n0\nEOF\n";
  const auto xml = [](const std::string& inner) {
    return "<?xml version=\"1.0\"?>\n<LandXML version=\"1.2\"><Units><Metric linearUnit=\"meter\"/></Units>\n" + inner +
           "</LandXML>\n";
  };
  const std::string listed =
      xml("<Surfaces><Surface name=\"s\"><SourceData><DataPoints><PntList3D>0 0 1\n9 0 2\n0 oops 3\n9 9 "
          "4</PntList3D></DataPoints></SourceData></Surface></Surfaces>");
  const std::string survey =
      xml("<CgPoints>\n<CgPoint name=\"1\">0 0 1</CgPoint>\n<CgPoint name=\"2\">0 nan 1</CgPoint>\n<CgPoint "
          "name=\"3\">9 0 1</CgPoint>\n<CgPoint name=\"4\">0 9 1</CgPoint></CgPoints>");
  for (const Case& c : {Case{"j.geojson", json, 3, "points", 3}, Case{"d.dxf", dxf, 20, "points", 3},
                        Case{"p.dxf", polyline, 28, "points", 1}, Case{"l.xml", listed, 5, "points", 3},
                        Case{"c.xml", survey, 5, "points", 3}}) {
    CAPTURE(c.name);
    const std::string file = s.file(c.name, c.content);
    const Ran ran = runCli("import --list --json " + quoted(file));
    REQUIRE(ran.code == 0);
    const auto list = jsonFrom(ran);
    int kept = 0, lines = 0;
    for (const auto& layer : list["layers"]) kept += layer[c.kind].get<int>(), lines += layer["lines"].get<int>();
    CHECK(kept == c.kept);
    CHECK(lines == 0);
    const std::string warnings = list["warnings"].dump();
    CAPTURE(warnings);
    CHECK(warnings.find("line " + std::to_string(c.line) + ":") != std::string::npos);
    refused(runCli("surface " + quoted(file) + " -o " + quoted(s / "o.xml")), c.name + ":" + std::to_string(c.line));
  }
}

TEST_CASE("what a format says of a layer rules over its name, and a layer at zero among others is told by name") {
  const Scratch s;
  const std::string contours =
      "<?xml version=\"1.0\"?>\n<LandXML version=\"1.2\"><Units><Metric linearUnit=\"meter\"/></Units>\n"
      "<Surfaces><Surface name=\"Site boundary\"><SourceData><Contours>\n"
      "<Contour elev=\"5\"><PntList2D>0 0 0 9 9 9 9 0 0 0</PntList2D></Contour>\n"
      "<Contour elev=\"6\"><PntList2D>3 3 3 6 6 6 6 3 3 3</PntList2D></Contour>\n"
      "</Contours><Breaklines><Breakline><PntList3D>0 0 5 9 9 "
      "5</PntList3D></Breakline></Breaklines></SourceData></Surface>"
      "</Surfaces></LandXML>\n";
  const auto list = jsonFrom(runCli("import --list --json " + quoted(s.file("c.xml", contours))));
  for (const auto& layer : list["layers"]) {
    const std::string name = layer["name"];
    CHECK(layer["guess"] == (name.ends_with("contours") ? "contours" : "breaklines"));
  }
  std::string drawing = "0\nSECTION\n2\nENTITIES\n";
  for (int i = 0; i < 8; ++i)
    drawing += std::string("0\nPOINT\n8\n") + (i < 4 ? "FLAT" : "GOOD") + "\n10\n" + std::to_string(i * 3) + "\n20\n" +
               std::to_string(i * i) + "\n30\n" + (i < 4 ? "0" : "40") + "\n";
  const auto zero =
      jsonFrom(runCli("import --list --json " + quoted(s.file("z.dxf", drawing + "0\nENDSEC\n0\nEOF\n"))));
  CHECK(zero["warnings"].dump().find("FLAT: all 4 levels are zero") != std::string::npos);
}

TEST_CASE("what is not measured stands beside the figures of the report") {
  const Scratch s;
  const std::string small = s.file("a.csv", "1,0,0,1\n2,10,0,1\n3,0,10,1\n4,10,10,1\n"),
                    large = s.file("b.csv", "1,0,0,2\n2,100,0,2\n3,0,100,2\n4,100,100,2\n");
  const Ran ran = runCli("volume " + quoted(small) + " " + quoted(large));
  CHECK(ran.out.find("9 900.00 m2 not measured") != std::string::npos);
}
