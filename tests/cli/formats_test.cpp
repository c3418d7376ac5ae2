// Files of every format written by other programs are listed and built from, and what we write they read back alike.
#include <catch2/catch.hpp>
#include <cmath>
#include <map>

#include "support/figures.h"

using namespace inselberg::testing;
using nlohmann::json;

namespace {

// What a command prints; the command must succeed.
std::string printed(const std::string& command) {
  const Scratch s;
  CAPTURE(command);
  REQUIRE(std::system((command + " >'" + s / "out" + "' 2>'" + s / "err" + "'").c_str()) == 0);
  return contentOf(s / "out");
}

const std::string kPython = "/usr/bin/python3 ";

json listed(const std::string& file, const std::string& options = "") {
  const Ran ran = runCli("import '" + file + "' --list --json " + options);
  CAPTURE(ran.err);
  REQUIRE(ran.code == 0);
  return jsonFrom(ran);
}

json layer(const json& list, const std::string& name) {
  for (const json& l : list["layers"]) {
    if (l["name"] == name) return l;
  }
  FAIL("no layer " << name);
  return {};
}

// A hilly ground of 400 points as CSV, and as LandXML.
std::string hills(const Scratch& s) {
  std::string csv = "number,easting,northing,level\n";
  for (int i = 0; i < 400; ++i) {
    const int x = i % 20, y = i / 20;
    csv += std::to_string(i) + "," + std::to_string(412000 + 5 * x) + "," + std::to_string(6187000 + 5 * y) + "," +
           std::to_string(70 + std::sin(x / 3.0) + std::cos(y / 4.0)) + "\n";
  }
  REQUIRE(runCli("surface '" + s.file("hills.csv", csv) + "' -o '" + s / "hills.xml" + "'").code == 0);
  return s / "hills.xml";
}

std::size_t countOf(const std::string& text, const std::string& word) {
  std::size_t n = 0;
  for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) ++n;
  return n;
}

}  // namespace

TEST_CASE("A drawing with every kind of entity is listed whole, as text and binary alike") {
  const Scratch s;
  printed(kPython + INSELBERG_SOURCE_DIR "/tests/support/make_drawing.py '" + s.path() + "'");
  const json list = listed(s / "drawing.dxf");
  CHECK(list["format"] == "DXF");
  CHECK(list["units"] == "m");
  struct Expected {
    const char* layer;
    int points, lines, faces;
    double low, high;
  };
  for (const Expected& e : std::initializer_list<Expected>{{"SURVEY", 20, 0, 0, 70, 79.5},
                                                           {"CONTOUR", 0, 4, 0, 70, 73},
                                                           {"BANK", 0, 2, 0, 71, 75},
                                                           {"ARC", 0, 1, 0, 77, 77},
                                                           {"MIRRORED", 0, 1, 0, 77, 77},
                                                           {"ELLIPSE", 0, 1, 0, 77, 77},
                                                           {"SPLINE", 0, 2, 0, 71, 74},
                                                           {"BULGE", 0, 1, 0, 75, 75},
                                                           {"MARKS", 10, 0, 0, 72.5, 81.5},
                                                           {"NESTED", 1, 1, 0, 71, 73},
                                                           {"ROWS", 6, 6, 0, 70, 72},
                                                           {"SPOT", 7, 0, 0, 80, 81.25},
                                                           {"BARE", 6, 0, 0, 90, 90.5},
                                                           {"FACES", 0, 0, 2, 71, 72},
                                                           {"MESH", 0, 0, 2, 71, 72},
                                                           {"POLYMESH", 0, 0, 8, 70, 74},
                                                           {"POLYFACE", 0, 0, 1, 71, 72}}) {
    CAPTURE(e.layer);
    const json l = layer(list, e.layer);
    CHECK(l["points"] == e.points);
    CHECK(l["lines"] == e.lines);
    CHECK(l["areas"] == 0);
    CHECK(l["faces"] == e.faces);
    CHECK(l["min_level_m"].get<double>() == Approx(e.low));
    CHECK(l["max_level_m"].get<double>() == Approx(e.high));
  }
  for (const json& l : list["layers"]) {
    CHECK(l["name"] != "PAPER");
    CHECK(l["name"] != "NEVER");
  }
  CHECK(listed(s / "binary.dxf")["layers"] == list["layers"]);
  const json old = listed(s / "r12.dxf");
  CHECK(layer(old, "HÖHE")["points"] == 1);
  CHECK(layer(old, "KANTE")["max_level_m"] == 75);
  CHECK(old["warnings"].dump().find("no unit") != std::string::npos);
  CHECK(listed(s / "r12-binary.dxf")["layers"] == old["layers"]);
  // The places of the nested block, by the ground of its point and line: see make_drawing.py.
  REQUIRE(
      runCli("surface '" + s / "drawing.dxf" + "' --take NESTED=points --take MARKS=points -o '" + s / "n.csv" + "'")
          .code == 0);
}

TEST_CASE("Curves of a drawing lie on the true curves, mirrored ones on the mirrored") {
  const Scratch s;
  printed(kPython + INSELBERG_SOURCE_DIR "/tests/support/make_drawing.py '" + s.path() + "'");
  std::string others;
  const json list = listed(s / "drawing.dxf");
  for (const json& l : list["layers"]) {
    const std::string name = l["name"];
    if (name != "ARC" && name != "MIRRORED") others += " --take '" + name + "=skip'";
  }
  REQUIRE(runCli("surface '" + s / "drawing.dxf" + "' --take ARC=points --take MIRRORED=points" + others + " -o '" +
                 s / "c.csv" + "'")
              .code == 0);
  std::istringstream rows(contentOf(s / "c.csv"));
  std::string row;
  std::getline(rows, row);
  int arc = 0, mirrored = 0;
  while (std::getline(rows, row)) {
    double number = 0, x = 0, y = 0, z = 0;
    REQUIRE(std::sscanf(row.c_str(), "%lf,%lf,%lf,%lf", &number, &x, &y, &z) == 4);
    CHECK(z == Approx(77));
    const double toArc = std::abs(std::hypot(x - 50, y - 50) - 20),
                 toCircle = std::abs(std::hypot(x + 150, y - 50) - 20);
    CHECK(std::min(toArc, toCircle) < 1e-6);
    ++(toArc < toCircle ? arc : mirrored);
  }
  CHECK(arc >= 20);
  CHECK(mirrored >= 80);
}

TEST_CASE("Units declared in a drawing scale it, and can be set") {
  const Scratch s;
  const auto drawing = [&](int code) {
    return s.file(
        "u.dxf",
        "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n" + std::to_string(code) +
            "\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nPOINT\n8\nA\n10\n100\n20\n100\n30\n10\n0\nENDSEC\n0\nEOF\n");
  };
  const auto level = [&](int code, const std::string& options = "") {
    return layer(listed(drawing(code), options), "A")["max_level_m"].get<double>();
  };
  CHECK(level(6) == 10);
  CHECK(level(2) == Approx(3.048));
  CHECK(level(21) == Approx(10 * 1200.0 / 3937));
  CHECK(level(4) == Approx(0.01));
  CHECK(level(0) == 10);
  CHECK(level(0, "--units ft") == Approx(3.048));
  CHECK(level(2, "--units m") == 10);
}

TEST_CASE("Spreadsheets come in sheet by sheet, numbers as they stand") {
  const Scratch s;
  s.file(
      "make.py",
      "import openpyxl, sys\nb = openpyxl.Workbook()\na = b.active\na.title = 'Survey'\n"
      "a.append(['Site survey'])\na.append(['Point', 'Northing', 'Easting', 'Level', 'Code'])\n"
      "for i in range(12):\n    a.append([i + 1, 6187000 + 10 * (i // 4), 412000 + 10 * (i % 4), 70.125 + i, 'GL'])\n"
      "n = b.create_sheet('Notes')\nn.append(['nothing here'])\n"
      "p = b.create_sheet('Pits')\np.append(['x', 'y', 'z'])\np.append([412001, 6187001, "
      "'71,5'])\nb.save(sys.argv[1])\n");
  printed(kPython + "'" + s / "make.py" + "' '" + s / "b.xlsx" + "'");
  const json list = listed(s / "b.xlsx");
  CHECK(layer(list, "Survey")["points"] == 12);
  CHECK(layer(list, "Survey")["max_level_m"] == Approx(81.125));
  CHECK(list["layers"].size() == 2);
  CHECK(list["warnings"].dump().find("Notes") != std::string::npos);
  const json info = jsonFrom(runCli("surface '" + s / "b.xlsx" + "' --take Pits=skip -o '" + s / "o.xml" + "' --json"));
  CHECK(info["plan_area_m2"].get<double>() == Approx(600));
  CHECK(info["bounds"][0] == 412000);
  // The same table as ODS, made by another program.
  s.file("t.csv",
         "number,easting,northing,level\n1,412000,6187000,70.5\n2,412010,6187000,71.5\n3,412000,6187010,72.25\n");
  printed("ogr2ogr -f ODS '" + s / "t.ods" + "' '" + s / "t.csv" + "'");
  const json ods = listed(s / "t.ods");
  REQUIRE(ods["layers"].size() == 1);
  CHECK(ods["layers"][0]["points"] == 3);
  CHECK(ods["layers"][0]["max_level_m"] == 72.25);
}

TEST_CASE("Point lists in many forms give the same points") {
  const Scratch s;
  const std::map<std::string, std::string> forms{
      {"plain.csv", "1,412000.5,6187000.25,70.125,GL\n2,412010.5,6187000.25,71.5,GL\n3,412000.5,6187010.25,72.25,GL\n"},
      {"semi.csv", "E;N;Z;No\n412000,5;6187000,25;70,125;1\n412010,5;6187000,25;71,5;2\n412000,5;6187010,25;72,25;3\n"},
      {"thousands.csv",
       "No;E;N;Z\n1;412.000,5;6.187.000,25;70,125\n2;412.010,5;6.187.000,25;71,5\n3;412.000,5;6.187.010,25;72,25\n"},
      {"quoted.csv",
       "no,e,n,z\n1,\"412,000.5\",\"6,187,000.25\",70.125\n2,\"412,010.5\",\"6,187,000.25\",71.5\n3,\"412,000.5\",\"6,"
       "187,010.25\",72.25\n"},
      {"tab.txt",
       "N\tE\tLevel\n6187000.25\t412000.5\t70.125\n6187000.25\t412010.5\t71.5\n6187010.25\t412000.5\t72.25\n"},
      {"bar.txt", "1|412000.5|6187000.25|70.125\n2|412010.5|6187000.25|71.5\n3|412000.5|6187010.25|72.25\n"},
      {"blanks.xyz", "412000.5 6187000.25  70.125\n412010.5 6187000.25 71.5\n412000.5   6187010.25 72.25\n"},
      {"blankscomma.txt", "1 412000,5 6187000,25 70,125\n2 412010,5 6187000,25 71,5\n3 412000,5 6187010,25 72,25\n"},
      {"fixed.txt",
       "   1  412000.50  6187000.25   70.125  TOP OF BANK\n   2  412010.50  6187000.25   71.500\n   3  412000.50  "
       "6187010.25   72.250  GL\n"},
      {"words.txt",
       "1 412000.5 6187000.25 70.125 TOP OF BANK\n2 412010.5 6187000.25 71.5 GL\n3 412000.5 6187010.25 72.25 TRACK\n"}};
  for (const auto& [name, content] : forms) {
    CAPTURE(name);
    const std::string file = s.file(name, content);
    const json list = listed(file);
    CHECK(list["layers"].at(0)["points"] == 3);
    const Ran ran = runCli("surface '" + file + "' -o '" + s / "o.xml" + "' --json");
    CAPTURE(ran.err);
    REQUIRE(ran.code == 0);
    const json info = jsonFrom(ran);
    CHECK(info["bounds"] == json({412000.5, 6187000.25, 412010.5, 6187010.25}));
    CHECK(info["min_level_m"] == 70.125);
    CHECK(info["max_level_m"] == 72.25);
  }
}

TEST_CASE("GeoPackage and Shapefile of another program give its points, lines and areas, levels by attribute too") {
  const Scratch s;
  json features = json::array();
  const auto add = [&](const char* type, json coordinates, json properties) {
    features.push_back({{"type", "Feature"},
                        {"properties", properties},
                        {"geometry", {{"type", type}, {"coordinates", coordinates}}}});
  };
  for (int i = 0; i < 7; ++i) add("Point", {412000 + i, 6187000 + i * i, 70 + i}, {{"name", "p"}});
  s.file("points.geojson", json{{"type", "FeatureCollection"}, {"features", features}}.dump());
  features = json::array();
  for (int i = 0; i < 4; ++i) add("LineString", {{412000, 6187000 + i}, {412050, 6187000 + i}}, {{"elev", 71.5 + i}});
  s.file("contours.geojson", json{{"type", "FeatureCollection"}, {"features", features}}.dump());
  for (const std::string ending : {"gpkg", "shp"}) {
    CAPTURE(ending);
    const std::string format = ending == "gpkg" ? "GPKG" : "'ESRI Shapefile'";
    const std::string points = s / ("points." + ending), contours = s / ("contours." + ending);
    printed("ogr2ogr -f " + format + " '" + points + "' '" + s / "points.geojson" + "'");
    printed("ogr2ogr -f " + format + " '" + contours + "' '" + s / "contours.geojson" + "'");
    CHECK(layer(listed(points), "points")["points"] == 7);
    CHECK(layer(listed(points), "points")["max_level_m"] == 76);
    const json lines = layer(listed(contours), "contours");
    CHECK(lines["lines"] == 4);
    CHECK(lines["min_level_m"] == 71.5);
    CHECK(lines["max_level_m"] == 74.5);
    CHECK(lines["guess"] == "contours");
  }
}

TEST_CASE("LandXML with several surfaces, source data, survey points, features and parcels is listed whole") {
  const Scratch s;
  const std::string surface =
      "<Definition surfType=\"TIN\"><Pnts><P id=\"1\">0 0 1</P><P id=\"2\">0 9 1</P><P id=\"3\">9 0 4</P></Pnts>"
      "<Faces><F>1 2 3</F></Faces></Definition></Surface>";
  const std::string file = s.file(
      "m.xml",
      "<?xml version=\"1.0\"?>\n<LandXML version=\"1.0\"><Units><Imperial linearUnit=\"foot\"/></Units>"
      "<CgPoints><CgPoint name=\"A1\" code=\"GL\">10 20 30</CgPoint><CgPoint name=\"A2\">11 21 31</CgPoint></CgPoints>"
      "<Surfaces><Surface name=\"old\"><SourceData><DataPoints><PntList3D>0 0 1 0 9 1 9 0 4</PntList3D></DataPoints>"
      "<Breaklines><Breakline><PntList3D>0 0 1 9 9 2</PntList3D></Breakline></Breaklines>"
      "<Contours><Contour elev=\"2\"><PntList2D>0 0 5 5</PntList2D></Contour></Contours>"
      "<Boundaries><Boundary bndType=\"outer\"><PntList2D>0 0 0 9 9 0 0 0</PntList2D></Boundary>"
      "<Boundary bndType=\"void\"><PntList2D>1 1 1 2 2 1</PntList2D></Boundary></Boundaries></SourceData>" +
          surface + "<Surface name=\"new\">" + surface +
          "</Surfaces><PlanFeatures><PlanFeature name=\"f\"><CoordGeom><Line><Start>0 0</Start><End>0 10</End></Line>"
          "<Curve rot=\"ccw\"><Start>0 10</Start><Center>5 10</Center><End>10 "
          "10</End></Curve></CoordGeom></PlanFeature></PlanFeatures>"
          "<Parcels><Parcel name=\"lot\"><CoordGeom><Line><Start>0 0</Start><End>0 10</End></Line><Line><Start>0 "
          "10</Start>"
          "<End>10 10</End></Line><Line><Start>10 10</Start><End>0 "
          "0</End></Line></CoordGeom></Parcel></Parcels></LandXML>\n");
  const json list = listed(file);
  CHECK(list["units"] == "ft");
  CHECK(layer(list, "old")["faces"] == 1);
  CHECK(layer(list, "old")["guess"] == "faces");
  CHECK(layer(list, "new")["faces"] == 1);
  CHECK(layer(list, "new")["guess"] == "skip");
  CHECK(layer(list, "old points")["points"] == 3);
  CHECK(layer(list, "old points")["guess"] == "skip");
  CHECK(layer(list, "old breaklines")["lines"] == 1);
  CHECK(layer(list, "old contours")["max_level_m"].get<double>() == Approx(2 * 0.3048));
  CHECK(layer(list, "old boundary")["areas"] == 1);
  CHECK(layer(list, "old voids")["areas"] == 1);
  CHECK(layer(list, "survey points")["points"] == 2);
  CHECK(layer(list, "plan features")["lines"] == 1);
  CHECK(layer(list, "parcels")["areas"] == 1);
  const json built =
      jsonFrom(runCli("surface '" + file + "' --take old=skip --take new=faces -o '" + s / "o.xml" + "' --json"));
  CHECK(built["triangles"] == 1);
  CHECK(built["max_level_m"].get<double>() == Approx(4 * 0.3048));
}

TEST_CASE("What convert writes has the same counts and levels to another program") {
  const Scratch s;
  const std::string ground = hills(s);
  const json info = jsonFrom(runCli("info '" + ground + "' --json"));
  const int triangles = info["triangles"], points = info["points"];
  for (const char* ending : {"dxf", "geojson", "gpkg", "tif", "asc", "obj", "ply", "glb", "csv", "xml"}) {
    CAPTURE(ending);
    const Ran ran = runCli("convert '" + ground + "' -o '" + s / ("g." + std::string(ending)) + "' --cell 2.5");
    CAPTURE(ran.err);
    REQUIRE(ran.code == 0);
  }
  const auto features = [](const std::string& text) {
    return std::stoi(text.substr(text.find("Feature Count: ") + 15));
  };
  CHECK(features(printed("ogrinfo -so -al '" + s / "g.dxf" + "'")) == triangles);
  CHECK(features(printed("ogrinfo -so -al '" + s / "g.geojson" + "'")) == triangles);
  CHECK(features(printed("ogrinfo -so '" + s / "g.gpkg" + "' g")) == triangles);
  CHECK(features(printed("ogrinfo -so '" + s / "g.gpkg" + "' 'g points'")) == points);
  const std::string levels = printed(kPython + "-c \"import ezdxf; f = [v for e in ezdxf.readfile('" + s / "g.dxf" +
                                     "').modelspace().query('3DFACE') for v in e.wcs_vertices()]; print(min(v.z for v "
                                     "in f), max(v.z for v in f), min(v.x for v in f))\"");
  double low = 0, high = 0, west = 0;
  REQUIRE(std::sscanf(levels.c_str(), "%lf %lf %lf", &low, &high, &west) == 3);
  CHECK(low == Approx(info["min_level_m"].get<double>()).margin(1e-6));
  CHECK(high == Approx(info["max_level_m"].get<double>()).margin(1e-6));
  CHECK(west == Approx(412000));
  // Raster cells: the ground's level at their centres.
  const json list = layer(listed(s / "g.tif"), "g");
  for (const char* raster : {"g.tif", "g.asc"}) {
    CAPTURE(raster);
    const std::string about = printed("gdalinfo -mm '" + s / raster + "'");
    CHECK(about.find("Pixel Size = (2.5") != std::string::npos);
    const auto at = about.find("Computed Min/Max=");
    REQUIRE(at != std::string::npos);
    double least = 0, most = 0;
    REQUIRE(std::sscanf(about.c_str() + at, "Computed Min/Max=%lf,%lf", &least, &most) == 2);
    CHECK(least == Approx(list["min_level_m"].get<double>()).margin(1e-3));
    CHECK(most == Approx(list["max_level_m"].get<double>()).margin(1e-3));
    const json back = layer(listed(s / raster), "g");
    CHECK(back["points"] == 38 * 38);
    CHECK(back["max_level_m"].get<double>() == Approx(most).margin(1e-3));
  }
  const std::string obj = contentOf(s / "g.obj"), ply = contentOf(s / "g.ply"), csv = contentOf(s / "g.csv");
  CHECK(countOf(obj, "\nv ") == static_cast<std::size_t>(points));
  CHECK(countOf(obj, "\nf ") == static_cast<std::size_t>(triangles));
  CHECK(ply.find("element face " + std::to_string(triangles) + "\n") != std::string::npos);
  CHECK(countOf(csv, "\n") == static_cast<std::size_t>(points) + 1);
  // The head of glTF says what its numbers are: the triangles' plan area and greatest level come out of them.
  const std::string glb =
      printed(kPython + "-c \"import json, struct; b = open('" + s / "g.glb" +
              "', 'rb').read(); assert struct.unpack('<4sII', b[:12]) == (b'glTF', 2, len(b)); n = "
              "struct.unpack('<I', b[12:16])[0]; h = json.loads(b[20:20 + n]); d = b[28 + n:]; v = "
              "h['bufferViews']; p = [struct.unpack_from('<3f', d, 12 * i) for i in range(h["
              "'accessors'][0]['count'])]; t = [struct.unpack_from('<3I', d, v[2]['byteOffset'] + 12 "
              "* i) for i in range(h['accessors'][2]['count'] // 3)]; print(len(p), len(t), sum((p[j]"
              "[2] - p[i][2]) * (p[k][0] - p[i][0]) - (p[j][0] - p[i][0]) * (p[k][2] - p[i][2]) for "
              "i, j, k in t) / 2, max(q[1] for q in p), h['nodes'][0]['extras']['easting'])\"");
  int corners = 0, faces = 0;
  double area = 0, top = 0, east = 0;
  REQUIRE(std::sscanf(glb.c_str(), "%d %d %lf %lf %lf", &corners, &faces, &area, &top, &east) == 5);
  CHECK(corners == points);
  CHECK(faces == triangles);
  CHECK(area == Approx(info["plan_area_m2"].get<double>()).epsilon(1e-4));
  CHECK(top == Approx(info["max_level_m"].get<double>()).margin(1e-4));
  CHECK((east > 412000 && east < 412200));
  // And to us: models keep their triangles.
  for (const char* model : {"g.dxf", "g.geojson", "g.gpkg", "g.xml"}) {
    CAPTURE(model);
    const json again = jsonFrom(runCli("info '" + s / model + "' --json"));
    CHECK(again["triangles"] == triangles);
    CHECK(again["plan_area_m2"].get<double>() == Approx(info["plan_area_m2"].get<double>()));
    CHECK(again["surface_area_m2"].get<double>() == Approx(info["surface_area_m2"].get<double>()));
  }
}

TEST_CASE("surface mixes files, takes layers as told, and lays models over what is built") {
  const Scratch s;
  hills(s);
  const std::string platform = s.file(
      "platform.dxf",
      "0\nSECTION\n2\nENTITIES\n0\n3DFACE\n8\nTOP\n10\n412030\n20\n6187030\n30\n80\n11\n412060\n21\n6187030\n31\n80\n"
      "12\n412060\n22\n6187060\n32\n80\n13\n412030\n23\n6187060\n33\n80\n0\nENDSEC\n0\nEOF\n");
  const json mixed =
      jsonFrom(runCli("surface '" + s / "hills.csv" + "' '" + platform + "' -o '" + s / "m.xml" + "' --json"));
  CHECK(mixed["max_level_m"] == 80);
  CHECK(mixed["plan_area_m2"].get<double>() == Approx(95.0 * 95));
  CHECK(mixed["taken"].size() == 2);
  CHECK(mixed["warnings"].dump().find("rules there") != std::string::npos);
  const Ran nothing = runCli("surface '" + s / "hills.csv" + "' --take hills=skip -o '" + s / "m.xml" + "'");
  CHECK(nothing.code == 1);
  const Ran unknown = runCli("surface '" + s / "hills.csv" + "' --take NOSUCH=points -o '" + s / "m.xml" + "'");
  CHECK(unknown.code == 1);
  CHECK(unknown.err.find("hills") != std::string::npos);
  const Ran wrong = runCli("surface '" + s / "hills.csv" + "' --take hills=ridge -o '" + s / "m.xml" + "'");
  CHECK(wrong.code == 1);
}

TEST_CASE("The rules of surface: duplicates, longest edge, voids, tolerance, feet, flats") {
  const Scratch s;
  const std::string twice = s.file("twice.csv", "1,0,0,1\n2,10,0,1\n3,0,10,1\n4,10,10,1\n5,5,5,2\n6,5,5,6\n");
  for (const auto& [rule, level] :
       std::map<std::string, double>{{"first", 2}, {"last", 6}, {"mean", 4}, {"highest", 6}, {"lowest", 2}}) {
    const json info =
        jsonFrom(runCli("surface '" + twice + "' --duplicates " + rule + " -o '" + s / "o.xml" + "' --json"));
    CHECK(info["max_level_m"] == level);
    CHECK(info["warnings"].dump().find("lie together") != std::string::npos);
  }
  CHECK(jsonFrom(runCli("surface '" + twice + "' --units ft -o '" + s / "o.xml" + "' --json"))["plan_area_m2"]
            .get<double>() == Approx(100 * 0.3048 * 0.3048));
  const std::string far = s.file("far.csv", "1,0,0,1\n2,10,0,1\n3,0,10,1\n4,10,10,1\n5,300,5,2\n");
  CHECK(jsonFrom(runCli("surface '" + far + "' --max-edge 20 -o '" + s / "o.xml" + "' --json"))["plan_area_m2"] == 100);
  const std::string hole =
      s.file("hole.geojson", R"({"type":"Polygon","coordinates":[[[2,2],[4,2],[4,4],[2,4],[2,2]]]})");
  const json holed =
      jsonFrom(runCli("surface '" + twice + "' '" + hole + "' --take hole=void -o '" + s / "o.xml" + "' --json"));
  CHECK(holed["plan_area_m2"].get<double>() == Approx(96));
  const std::string ground = hills(s);
  REQUIRE(runCli("convert '" + ground + "' -o '" + s / "g.tif" + "' --cell 0.5").code == 0);
  const json fine = jsonFrom(runCli("surface '" + s / "g.tif" + "' --tolerance 0.01 -o '" + s / "f.xml" + "' --json"));
  const json coarse = jsonFrom(runCli("surface '" + s / "g.tif" + "' --tolerance 0.2 -o '" + s / "c.xml" + "' --json"));
  CHECK(coarse["triangles"].get<int>() < fine["triangles"].get<int>());
  const json between = jsonFrom(runCli("volume '" + s / "f.xml" + "' '" + s / "c.xml" + "' --json"));
  CHECK(between["max_cut_m"].get<double>() < 0.4);
  std::string rings = R"({"type":"FeatureCollection","features":[)";
  for (int k = 0; k < 3; ++k) {
    json ring = json::array();
    for (int i = 0; i <= 30; ++i) {
      const double a = 2 * M_PI * i / 30;
      ring.push_back({(30 - 8 * k) * std::cos(a), (30 - 8 * k) * std::sin(a), 70 + k});
    }
    rings += (k ? "," : "") + json{{"type", "Feature"},
                                   {"properties", json::object()},
                                   {"geometry", {{"type", "LineString"}, {"coordinates", ring}}}}
                                  .dump();
  }
  const std::string contours = s.file("rings.geojson", rings + "]}");
  CHECK(jsonFrom(runCli("surface '" + contours + "' -o '" + s / "o.xml" + "' --json"))["max_level_m"] == 72);
  const json cured = jsonFrom(runCli("surface '" + contours + "' --cure-flats -o '" + s / "o.xml" + "' --json"));
  CHECK(cured["max_level_m"].get<double>() > 72.01);
  CHECK(cured["warnings"].dump().find("cure flats") != std::string::npos);
}

TEST_CASE("Files in different coordinate systems make one ground, and what is written names its own") {
  const Scratch s;
  // The same square twice: in metres of a zone, and in degrees as an independent program gives them.
  std::string csv = "number,easting,northing,level\n", in;
  for (int i = 0; i < 9; ++i) {
    const std::string place = std::to_string(500000 + 50 * (i % 3)) + " " + std::to_string(6200000 + 50 * (i / 3));
    in += place + "\n";
    csv += std::to_string(i) + "," + place.substr(0, 6) + "," + place.substr(7) + "," + std::to_string(70 + i) + "\n";
  }
  s.file("metres.csv", csv);
  std::istringstream degrees(
      printed("gdaltransform -s_srs EPSG:32755 -t_srs EPSG:4326 < '" + s.file("in.txt", in) + "'"));
  csv = "number,easting,northing,level\n";
  std::string x, y, z;
  for (int i = 0; degrees >> x >> y >> z; ++i)
    csv += std::to_string(100 + i) + "," + x + "," + y + "," + std::to_string(70 + i) + "\n";
  s.file("degrees.csv", csv);

  const Ran refused = runCli("surface '" + s / "degrees.csv" + "' --file-system EPSG:4326 -o '" + s / "x.xml" + "'");
  CHECK(refused.code == 1);
  CHECK(refused.err.find("--system") != std::string::npos);
  const Ran built = runCli("surface '" + s / "degrees.csv" +
                           "' --file-system EPSG:4326 --system EPSG:32755 --json -o '" + s / "a.xml" + "'");
  CAPTURE(built.err);
  REQUIRE(built.code == 0);
  const json a = jsonFrom(built);
  CHECK(a["system"] == "EPSG:32755");
  REQUIRE(runCli("surface '" + s / "metres.csv" + "' --file-system 32755 -o '" + s / "b.xml" + "'").code == 0);
  const json info = jsonFrom(runCli("info '" + s / "b.xml" + "' --json"));
  CHECK(info["system"] == "EPSG:32755");
  for (std::size_t i = 0; i < 4; ++i)
    CHECK(a["bounds"][i].get<double>() == Approx(info["bounds"][i].get<double>()).margin(0.001));

  for (const std::string ending : {"tif", "gpkg", "geojson"}) {
    const std::string out = s / ("g." + ending);
    REQUIRE(runCli("convert '" + s / "b.xml" + "' --cell 10 -o '" + out + "'").code == 0);
    CHECK(listed(out)["system"] == "EPSG:32755");
    CHECK(countOf(printed((ending == "tif" ? "gdalinfo '" : "ogrinfo -so -al '") + out + "'"), "UTM zone 55S") > 0);
  }
  // Another zone's file is moved into the first one's.
  printed("gdalwarp -q -t_srs EPSG:32754 -r bilinear '" + s / "g.tif" + "' '" + s / "other.tif" + "'");
  const json both =
      jsonFrom(runCli("surface '" + s / "b.xml" + "' '" + s / "other.tif" + "' --json -o '" + s / "c.xml" + "'"));
  CHECK(both["system"] == "EPSG:32755");
  CHECK(both["bounds"][0].get<double>() == Approx(500000).margin(30));
  CHECK(both["max_level_m"].get<double>() == Approx(78).margin(0.5));

  // So is a region, whatever the format.
  const std::string ring = "[[[500010,6200010],[500060,6200010],[500060,6200060],[500010,6200060],[500010,6200010]]]";
  s.file("here.geojson", R"({"type":"Polygon","coordinates":)" + ring + "}");
  printed("ogr2ogr -f GPKG -a_srs EPSG:32755 '" + s / "here.gpkg" + "' '" + s / "here.geojson" + "'");
  printed("ogr2ogr -f GPKG -t_srs EPSG:32754 '" + s / "there.gpkg" + "' '" + s / "here.gpkg" + "'");
  for (const char* region : {"here.geojson", "here.gpkg", "there.gpkg"}) {
    const json v =
        jsonFrom(runCli("volume '" + s / "b.xml" + "' '" + s / "b.xml" + "' --region '" + s / region + "' --json"));
    CHECK(v["untouched_area_m2"].get<double>() == Approx(2500).margin(0.5));
  }
  REQUIRE(runCli("new '" + s / "b.xml" + "' -o '" + s / "site.inselberg" + "'").code == 0);
  REQUIRE(runCli("export '" + s / "site.inselberg" + "' --ground existing -o '" + s / "e.xml" + "'").code == 0);
  CHECK(contentOf(s / "e.xml").find("epsgCode=\"32755\"") != std::string::npos);
  const json found = jsonFrom(runCli("systems utm zone 55S --json"));
  CHECK(std::any_of(found["systems"].begin(), found["systems"].end(),
                    [](const json& j) { return j["code"] == "EPSG:32755"; }));
  CHECK(runCli("systems oxen").out.find("no coordinate system") != std::string::npos);
}

TEST_CASE("The attribute that holds levels can be named, for GeoJSON too") {
  const Scratch s;
  std::string features;
  for (int i = 0; i < 4; ++i)
    features += std::string(i ? "," : "") + R"({"type":"Feature","properties":{"level":1,"z_survey":)" +
                std::to_string(70 + i) + R"(},"geometry":{"type":"Point","coordinates":[)" +
                std::to_string(412000 + 10 * (i % 2)) + "," + std::to_string(6187000 + 10 * (i / 2)) + "]}}";
  s.file("p.geojson", R"({"type":"FeatureCollection","features":[)" + features + "]}");
  CHECK(listed(s / "p.geojson")["layers"][0]["max_level_m"] == 1);
  CHECK(listed(s / "p.geojson", "--level-field z_survey")["layers"][0]["max_level_m"] == 73);
  printed("ogr2ogr -f GPKG '" + s / "p.gpkg" + "' '" + s / "p.geojson" + "' -a_srs EPSG:32755");
  CHECK(listed(s / "p.gpkg", "--level-field z_survey")["layers"][0]["max_level_m"] == 73);
}

TEST_CASE("A model whose faces lie over each other is doubted, with the place") {
  const Scratch s;
  std::string xml =
      "<LandXML version='1.2'><Units><Metric linearUnit='meter'/></Units><Surfaces><Surface name='folded'><Definition "
      "surfType='TIN'><Pnts>";
  int id = 0;
  for (const char* p : {"0 0 1", "0 40 1", "40 0 1", "10 10 5", "10 40 5", "40 10 5"})
    xml += "<P id='" + std::to_string(++id) + "'>" + p + "</P>";
  xml += "</Pnts><Faces><F>1 2 3</F><F>4 5 6</F></Faces></Definition></Surface></Surfaces></LandXML>";
  const json found = jsonFrom(runCli("check '" + s.file("folded.xml", xml) + "' --json"))["doubts"];
  REQUIRE(found.size() == 1);
  CHECK(found[0]["kind"] == "faces-overlap");
  CHECK(found[0]["where"][0].get<double>() >= 10 - 0.01);
  CHECK(found[0]["text"].get<std::string>().find("folded") != std::string::npos);
}
