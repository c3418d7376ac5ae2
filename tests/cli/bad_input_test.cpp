// Bad input ends with exit code 1 and one line that names the file, the line where there is one, and what to do. An
// output file is whole or not there, and an earlier one is as it was.
#include <catch2/catch.hpp>
#include <filesystem>

#include "support/figures.h"

using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

// Checks a refusal; `names` must stand in the message.
void refused(const std::string& arguments, const std::string& names, int line = 0) {
  CAPTURE(arguments);
  const Ran ran = runCli(arguments);
  CHECK(ran.code == 1);
  CHECK(ran.out.empty());
  REQUIRE_FALSE(ran.err.empty());
  CAPTURE(ran.err);
  CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  CHECK(ran.err.find(names) != std::string::npos);
  CHECK(ran.err.find("; ") != std::string::npos);  // what to do
  if (line > 0) CHECK(ran.err.find(names + ":" + std::to_string(line)) != std::string::npos);
}

const std::string kGoodPoints = "number,easting,northing,level\n1,0,0,1\n2,50,0,2\n3,0,50,3\n4,50,50,4\n";

std::string polygon(const std::string& ring) {
  return R"({"type":"Polygon","coordinates":[)" + ring + "]}";
}

}  // namespace

TEST_CASE("a file that cannot be read as points is refused") {
  const Scratch s;
  const auto surface = [&](const std::string& path) { return "surface '" + path + "' -o '" + s / "o.xml" + "'"; };
  refused(surface(s / "missing.csv"), "missing.csv");
  refused(surface(s.path()), s.path());
  refused(surface(s.file("empty.csv", "")), "empty.csv");
  refused(surface(s.file("binary.csv", std::string("1,2\0\1\2,3,4\n", 12))), "binary.csv");
  refused(surface(s.file("utf16.csv", std::string("\xff\xfe"
                                                  "1\0,\0",
                                                  6))),
          "utf16.csv");
  refused(surface(s.file("blank.csv", "\n\n\n")), "blank.csv");
  refused(surface(s.file("header.csv", "number,easting,northing,level\n")), "header.csv");
  refused(surface(s.file("two.csv", "1,0,0,1\n2,5,5,2\n")), "two.csv");
  refused(surface(s.file("line.csv", "1,0,0,1\n2,5,5,2\n3,10,10,3\n4,20,20,1\n")), "line.csv");
  refused(surface(s.file("same.csv", "1,5,5,1\n2,5,5,2\n3,5,5,3\n")), "same.csv");
  CHECK_FALSE(fs::exists(s / "o.xml"));
}

TEST_CASE("bytes that are no file of their kind are refused by name, whatever the kind") {
  const Scratch s;
  std::string noise;
  for (unsigned i = 1, x = 7; i < 3000; ++i) noise += static_cast<char>((x = x * 1664525u + 1013904223u) >> 24);
  for (const std::string ending : {"tif", "asc", "gpkg", "shp", "xlsx", "ods", "dxf", "xml", "geojson", "csv", "txt"}) {
    const std::string file = s.file("noise." + ending, noise);
    refused("import '" + file + "' --list", "noise." + ending);
    refused("surface '" + file + "' -o '" + s / "o.xml" + "'", "noise." + ending);
  }
  refused("import '" + s.file("huge.asc", "ncols 100000\nnrows 100000\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3\n") +
              "' --list",
          "huge.asc");
}

TEST_CASE("a drawing whose blocks or curves unfold without end is refused, soon") {
  const Scratch s;
  const auto drawing = [&](const std::string& blocks, const std::string& entities) {
    return s.file("bomb.dxf", "0\nSECTION\n2\nBLOCKS\n" + blocks + "0\nENDSEC\n0\nSECTION\n2\nENTITIES\n" + entities +
                                  "0\nENDSEC\n0\nEOF\n");
  };
  const auto block = [](const std::string& name, const std::string& content) {
    return "0\nBLOCK\n2\n" + name + "\n" + content + "0\nENDBLK\n";
  };
  const std::string line = "0\nLINE\n8\nL\n10\n0\n20\n0\n11\n1\n21\n1\n";
  // Rows and columns without number.
  refused("import '" + drawing(block("B", line), "0\nINSERT\n2\nB\n70\n30000\n71\n30000\n44\n1\n45\n1\n") + "' --list",
          "unfold");
  // Each block inserts the one before ten times over.
  std::string blocks = block("B0", line), ten;
  for (int k = 1; k < 12; ++k) {
    ten.clear();
    for (int i = 0; i < 10; ++i) ten += "0\nINSERT\n2\nB" + std::to_string(k - 1) + "\n";
    blocks += block("B" + std::to_string(k), ten);
  }
  refused("import '" + drawing(blocks, "0\nINSERT\n2\nB11\n") + "' --list", "unfold");
  // A block that inserts itself ends.
  const Ran itself =
      runCli("import '" + drawing(block("B", line + "0\nINSERT\n2\nB\n"), "0\nINSERT\n2\nB\n") + "' --list --json");
  REQUIRE(itself.code == 0);
  CHECK(itself.out.find("16 deep") != std::string::npos);
}

TEST_CASE("a number that is none is refused with its line") {
  const Scratch s;
  for (const std::string bad : {"nan", "inf", "-inf", "1e400", "abc", "", "1.2.3", "12m", "0x10", "1e300"}) {
    CAPTURE(bad);
    refused("surface '" + s.file("bad.csv", kGoodPoints + "5,10,10," + bad + "\n6,20,20,1\n") + "' -o '" + s / "o.xml" +
                "'",
            "bad.csv", 6);
  }
  refused("surface '" + s.file("short.csv", kGoodPoints + "5,10\n") + "' -o '" + s / "o.xml" + "'", "short.csv", 6);
  refused("surface '" + s.file("quote.csv", kGoodPoints + "5,10,10,\"3\n") + "' -o '" + s / "o.xml" + "'", "quote.csv",
          6);
}

TEST_CASE("outlines and boundaries that are none are refused") {
  const Scratch s;
  const std::string ground = s.file("g.csv", kGoodPoints);
  const auto pad = [&](const std::string& content) {
    return "pad '" + ground + "' --level 2 --outline '" + s.file("out.geojson", content) + "'";
  };
  refused(pad(polygon("[[10,10],[20,10],[10,10]]")), "out.geojson", 1);
  refused(pad(polygon("[[10,10],[20,20],[20,10],[10,20],[10,10]]")), "out.geojson", 1);
  refused(pad(polygon("[[10,10],[20,20],[30,30],[10,10]]")), "out.geojson", 1);
  refused(pad(R"({"type":"LineString","coordinates":[[1,1],[2,2],[3,1]]})"), "out.geojson", 1);
  refused(pad(R"({"type":"Point","coordinates":[1,1]})"), "out.geojson", 1);
  refused(pad("{\"type\":\"Polygon\",\n\"coordinates\":[[[10,10],[20,10],\n[20,1e400],[10,10]]]}"), "out.geojson", 3);
  refused(pad("{\"type\":\"Polygon\",\n\"coordinates\":[[[10,10],[20,10],\n[20,\"x\"],[10,10]]]}"), "out.geojson", 3);
  refused(pad("{\"type\":\"Polygon\",\n\"coordinates\":[[[10,10],"), "out.geojson", 2);
  refused(pad("[]"), "out.geojson");
  refused(pad(R"({"type":"FeatureCollection","features":[]})"), "out.geojson");
  refused(pad(polygon("[[1010,10],[1020,10],[1020,20],[1010,10]]")), "out.geojson");  // off the ground
  refused("surface '" + ground + "' --boundary '" + s.file("b.geojson", R"({"type":"Point","coordinates":[1,1]})") +
              "' -o '" + s / "o.xml" + "'",
          "b.geojson", 1);
  refused("surface '" + ground + "' --breaklines '" +
              s.file("l.geojson", polygon("[[10,10],[20,10],[20,20],[10,10]]")) + "' -o '" + s / "o.xml" + "'",
          "l.geojson", 1);
  refused("surface '" + ground + "' --breaklines '" +
              s.file("l.geojson", R"({"type":"LineString","coordinates":[[1,1],[20,20]]})") + "' -o '" + s / "o.xml" +
              "'",
          "l.geojson", 1);
}

TEST_CASE("batters and intervals of zero or less, and levels that are none, are refused") {
  const Scratch s;
  const std::string ground = s.file("g.csv", kGoodPoints),
                    area = s.file("a.geojson", polygon("[[10,10],[20,10],[20,20],[10,20],[10,10]]"));
  const std::string pad = "pad '" + ground + "' --outline '" + area + "' ";
  for (const std::string bad : {"0", "-2", "nan", "inf", "x", "1e400"}) {
    refused(pad + "--level 2 --cut-batter=" + bad, "--cut-batter");
    refused(pad + "--level 2 --fill-batter=" + bad, "--fill-batter");
    refused("contours '" + ground + "' --interval=" + bad + " -o '" + s / "c.dxf" + "'", "--interval");
  }
  for (const std::string bad : {"nan", "inf", "x", "1e400"}) refused(pad + "--level=" + bad, "--level");
  refused("contours '" + ground + "' --interval=1e-9 -o '" + s / "c.dxf" + "'", "g");
}

TEST_CASE("LandXML that points nowhere, breaks off or carries entities is refused with its line") {
  const Scratch s;
  const auto xml = [](const std::string& points, const std::string& faces) {
    return "<?xml version=\"1.0\"?>\n<LandXML version=\"1.2\"><Units><Metric "
           "linearUnit=\"meter\"/></Units>\n<Surfaces><Surface name=\"s\"><Definition "
           "surfType=\"TIN\"><Pnts>\n" +
           points + "</Pnts>\n<Faces>\n" + faces + "</Faces></Definition></Surface></Surfaces></LandXML>\n";
  };
  const std::string points = "<P id=\"1\">0 0 1</P>\n<P id=\"2\">0 9 1</P>\n<P id=\"3\">9 0 1</P>\n";
  refused("info '" + s.file("f.xml", xml(points, "<F>1 2 3</F>\n<F>1 2 4</F>\n")) + "'", "f.xml", 10);
  refused("info '" + s.file("f.xml", xml(points, "<F>1 2</F>\n")) + "'", "f.xml", 9);
  refused("info '" +
              s.file("f.xml",
                     xml("<P id=\"1\">0 0 1</P>\n<P id=\"2\">0 nan 1</P>\n<P id=\"3\">9 0 1</P>\n", "<F>1 2 3</F>\n")) +
              "'",
          "f.xml", 5);
  refused("info '" + s.file("f.xml", xml(points, "")) + "'", "f.xml");
  refused("info '" + s.file("f.xml", xml(points, "<F>1 2 3</F>\n").substr(0, 200)) + "'", "f.xml");
  refused("info '" + s.file("f.xml", "<html></html>") + "'", "f.xml");
  std::string bomb = "<?xml version=\"1.0\"?>\n<!DOCTYPE b [\n<!ENTITY a \"aaaaaaaaaa\">\n";
  for (char c = 'b'; c < 'l'; ++c) {
    bomb += std::string("<!ENTITY ") + c + " \"";
    for (int k = 0; k < 10; ++k) bomb += std::string("&") + static_cast<char>(c - 1) + ";";
    bomb += "\">\n";
  }
  refused("info '" + s.file("bomb.xml", bomb + "]>\n<LandXML>&k;</LandXML>") + "'", "bomb.xml");
}

TEST_CASE("a drawing that breaks off or has text for a number is refused with its line") {
  const Scratch s;
  const std::string start = "0\nSECTION\n2\nENTITIES\n0\nPOINT\n8\nA\n10\n";
  const std::string ground = s.file("g.csv", kGoodPoints);
  const auto lines = [&](const std::string& content) {
    return "surface '" + ground + "' --breaklines '" + s.file("d.dxf", content) + "' -o '" + s / "o.xml" + "'";
  };
  refused(lines(start + "abc\n20\n0\n30\n1\n0\nENDSEC\n0\nEOF\n"), "d.dxf", 10);
  refused(lines(start + "1\n20"), "d.dxf");
  refused(lines("no drawing at all\n"), "d.dxf");
  refused(lines(std::string("A binary drawing\r\n\x1a\0", 20)), "d.dxf");
}

TEST_CASE("an output that cannot be written leaves the earlier file as it was") {
  const Scratch s;
  const std::string ground = s.file("g.csv", kGoodPoints);
  refused("surface '" + ground + "' -o '" + s / "no/such/folder/o.xml" + "'", "o.xml");
  fs::create_directory(s / "folder.xml");
  refused("surface '" + ground + "' -o '" + s / "folder.xml" + "'", "folder.xml");
  CHECK(fs::is_directory(s / "folder.xml"));
  // A full disk: the file size limit of the shell stands in for it.
  const std::string old = s.file("old.xml", "earlier content");
  const Ran full = runCli("surface '" + demo("survey.csv") + "' -o '" + old + "'; true");  // it does fit here
  CHECK(full.code == 0);
  s.file("old.xml", "earlier content");
  const int status = std::system(("bash -c 'ulimit -f 20; trap \"\" XFSZ; \"" INSELBERG_CLI "\" surface \"" +
                                  demo("survey.csv") + "\" -o \"" + old + "\" 2>\"" + s / "err" + "\" >/dev/null'")
                                     .c_str());
  CHECK(WEXITSTATUS(status) == 1);
  CHECK(contentOf(s / "err").find("old.xml") != std::string::npos);
  CHECK(contentOf(old) == "earlier content");
  std::size_t files = 0;
  for (const auto& entry : fs::directory_iterator(s.path()))
    files += entry.path().filename().string().find("old.xml") != std::string::npos ? 1 : 0;
  CHECK(files == 1);  // nothing half written is left beside it
}

TEST_CASE("a project that is none is refused, and a newer one is named so") {
  const Scratch s;
  refused("report '" + s.file("p.inselberg", "this is no database") + "'", "p.inselberg");
  refused("report '" + s / "missing.inselberg" + "'", "missing.inselberg");
  CHECK_FALSE(fs::exists(s / "missing.inselberg"));
  refused("report '" + s.path() + "'", s.path());
  fs::copy_file(demo("tolwin.inselberg"), s / "newer.inselberg");
  REQUIRE(std::system(("sqlite3 '" + s / "newer.inselberg" + "' 'PRAGMA user_version=99'").c_str()) == 0);
  refused("report '" + s / "newer.inselberg" + "'", "newer");
  const std::string whole = contentOf(demo("tolwin.inselberg"));
  refused("report '" + s.file("cut.inselberg", whole.substr(0, whole.size() / 2)) + "'", "cut.inselberg");
  refused("export '" + demo("tolwin.inselberg") + "' --ground nowhere -o '" + s / "o.xml" + "'", "nowhere");
}

TEST_CASE("wrong usage ends with 2") {
  for (const std::string call :
       {"", "fly", "surface", "volume one", "pad g.xml --level 3", "contours g.xml --interval 1 -o c.pdf",
        "pad g.xml --outline o.geojson --level 1 --corners oval", "info a b"}) {
    CAPTURE(call);
    CHECK(runCli(call).code == 2);
  }
  CHECK(runCli("--help").code == 0);
}

TEST_CASE("small files that claim or unpack to far more than they can hold are refused before they take it") {
  const Scratch s;
  refused(
      "import '" + s.file("vast.asc", "ncols 20000\nnrows 20000\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3\n") + "'",
      "vast.asc");
  const std::string script =
      "import sys, zipfile\n"
      "with zipfile.ZipFile(sys.argv[1], 'w', zipfile.ZIP_DEFLATED) as z:\n"
      "    z.writestr('[Content_Types].xml', '<Types/>')\n"
      "    z.writestr('xl/worksheets/sheet1.xml', ' ' * 60_000_000)\n";
  REQUIRE(std::system(("/usr/bin/python3 '" + s.file("make.py", script) + "' '" + s / "vast.xlsx" + "'").c_str()) == 0);
  refused("import '" + s / "vast.xlsx" + "'", "out of all proportion");
}
