#include "exchange/design_file.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "project/evaluate.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

constexpr double kEast = 412'000, kNorth = 6'187'000;

// A project on a slope of 200 m, its origin far from zero.
project::ProjectPtr onSlope() {
  auto project = std::make_shared<project::Project>(*project::emptyProject("Slope"));
  project->origin = {kEast, kNorth};
  project->hasOrigin = true;
  project::SourceData data;
  std::vector<plane::Vec3> points;
  std::mt19937 random(4);
  std::uniform_real_distribution<double> off(-0.1, 0.1);
  for (int i = 0; i <= 20; ++i) {
    for (int k = 0; k <= 20; ++k) points.push_back({10.0 * i, 10.0 * k, 50 + 0.3 * i - 0.1 * k + off(random)});
  }
  data.points = Pieces<plane::Vec3>(std::move(points));
  return project::withSource(*project, {"survey", "survey.csv"}, std::move(data), project->surveyed());
}

project::ProjectPtr read(const std::string& text) {
  return exchange::withDesign(*onSlope(), text, "design.json", [](const project::Project&, const std::string& name) {
    throw Error("there is no ground \"" + name + "\"", "");
    return project::ProjectPtr();
  });
}

std::string at(double x, double y) {
  return "[" + std::to_string(kEast + x) + "," + std::to_string(kNorth + y) + "]";
}
std::string at(std::initializer_list<std::pair<double, double>> places) {
  std::string list;
  for (const auto& [x, y] : places) list += (list.empty() ? "" : ",") + at(x, y);
  return "[" + list + "]";
}

const std::string kAll =
    R"({"name": "All", "sections": {"bank": [{"out": 1.5, "fall_percent": 2}, {"to_ground": {"cut": "2:1", "fill": "3:1"}}]}, "works": [)"
    R"({"kind": "pad", "name": "A", "outline": )" +
    at({{20, 50}, {60, 50}, {60, 20}, {20, 20}}) +
    R"(, "level": 52, "fall_percent": 2, "bearing_deg": 135, "corners": "square", "space": 0.5, "section": "bank",)"
    R"( "edges": [{"edge": 2, "wall": true}, {"edge": 0, "section": [{"out": 2}, {"to_ground": {"cut": 1, "fill": "33 %"}}]}]},)"
    R"({"kind": "pad", "name": "B", "outline": )" +
    at({{100, 20}, {130, 20}, {130, 40}, {100, 40}}) +
    R"(, "fit": {"max_fall_percent": 3, "offset": 0.2}},)"
    R"({"kind": "pad", "name": "C", "outline": )" +
    at({{100, 60}, {100, 90}, {130, 90}, {130, 60}}) +
    R"(, "corner_levels": [54, 55, 56, 55.5]}, {"kind": "pad", "name": "D", "outline": )" +
    at({{20, 100}, {60, 100}, {60, 140}, {20, 140}}) + R"(, "ridge": {"line": )" + at({{30, 120}, {50, 120}}) +
    R"(, "level": 54, "fall_percent": 3}}, {"kind": "pad", "name": "E", "on_ground": 0.5, "outline": )" +
    at({{150, 60}, {180, 60}, {180, 90}, {150, 90}}) +
    R"(},)"
    R"({"kind": "ramp", "name": "R", "from": [412070, 6187030, 52], "to": [412098, 6187030, 54], "width": 6, "joins": "from", "max_grade_percent": 12, "left": "bank"},)"
    R"({"kind": "run", "name": "T", "line": )" +
    at({{20, 160}, {80, 170}, {160, 160}}) +
    R"(, "levels": [[0, 51], [80, 55]], "curves": [[80, 20]], "left": "bank", "right": [{"at": 0, "section": [{"out": 2}, {"to_ground": {}}]}, {"at": 80, "section": [{"out": 4}, {"to_ground": {"fill": 3}}]}], "from_station": 10},)"
    R"({"kind": "pond", "name": "P", "drawn": "top", "outline": )" +
    at({{80, 110}, {120, 110}, {120, 140}, {80, 140}}) +
    R"(, "bottom": 50, "top": 53, "inside": "3:1", "bench": {"height": 1, "width": 1}, "crest": 2},)"
    R"({"kind": "berm", "name": "Be", "line": )" +
    at({{20, 185}, {60, 190}}) +
    R"(, "width": 2, "height": 1.2, "slope": "2:1"}, {"kind": "swale", "name": "S", "line": )" +
    at({{80, 190}, {180, 185}}) +
    R"(, "width": 1, "depth": 0.6, "slope": "3:1", "material": "clay"}, {"kind": "level_area", "name": "L", "outline": )" +
    at({{5, 5}, {15, 5}, {15, 15}, {5, 15}}) +
    R"(, "level": 50, "adjust": [{"by": -0.2, "reason": "pavement"}]}, {"kind": "sculpt", "name": "Sc", "outline": )" +
    at({{150, 5}, {190, 5}, {190, 45}, {150, 45}}) + R"(, "contours": [{"level": 54.5, "line": )" +
    at({{150.5, 25}, {170, 20}, {189, 26}}) + R"(}]}]})";

std::string refusal(const std::string& text) {
  try {
    read(text);
  } catch (const Error& e) {
    return e.what();
  }
  return "not refused";
}

std::string replaced(std::string text, const std::string& from, const std::string& to) {
  const auto i = text.find(from);
  REQUIRE(i != std::string::npos);
  return text.replace(i, from.size(), to);
}

}  // namespace

TEST_CASE("A design goes out and in again to the same figures, all kinds of it") {
  const auto project = read(kAll);
  project::Cache cache;
  const auto first = project::evaluate(project, cache, {});
  const auto& works = first->grounds.back().works;
  REQUIRE(works.size() == 12);
  for (const auto& d : first->grounds.back().doubts) UNSCOPED_INFO(d.text);
  // Some of it holds water on this land; nothing else is to be questioned.
  for (const auto& doubt : first->grounds.back().doubts) CHECK(doubt.kind == ground::DoubtKind::holdsWater);
  const auto again = read(exchange::designOf(*project));
  const auto second = project::evaluate(again, cache, {});
  for (std::size_t i = 0; i < works.size(); ++i) {
    const auto &a = works[i], &b = second->grounds.back().works[i];
    CAPTURE(a.works->name);
    CHECK(a.works->name == b.works->name);
    CHECK(a.works->material == b.works->material);
    CHECK(a.volume.cut + a.volume.fill > 1);
    CHECK(b.volume.cut == Approx(a.volume.cut).epsilon(1e-9).margin(1e-9));
    CHECK(b.volume.fill == Approx(a.volume.fill).epsilon(1e-9).margin(1e-9));
  }
  CHECK(exchange::designOf(*again) == exchange::designOf(*project));
}

TEST_CASE("Edges are counted as the outline is written, whichever way it turns") {
  // The same square written both ways, its eastern edge a wall: edge 1 one way, edge 2 the other.
  const auto pad = [](const std::string& outline, int edge) {
    const auto project = read(R"({"works": [{"kind": "pad", "name": "A", "level": 60, "outline": )" + outline +
                              R"(, "edges": [{"edge": )" + std::to_string(edge) + R"(, "wall": true}]}]})");
    project::Cache cache;
    return project::evaluate(project, cache, {})->grounds.back().tin;
  };
  const auto one = pad(at({{50, 50}, {80, 50}, {80, 80}, {50, 80}}), 1);
  const auto other = pad(at({{50, 50}, {50, 80}, {80, 80}, {80, 50}}), 2);
  for (const auto& ground : {one, other}) {
    CHECK(*ground->levelAt({79.99, 65}) == Approx(60).margin(1e-6));
    CHECK(*ground->levelAt({80.5, 65}) < 53);
    CHECK(*ground->levelAt({49, 65}) == Approx(59.5).margin(1e-6));
  }
}

TEST_CASE("What is wrong in a design is said with its place") {
  CHECK(refusal(replaced(kAll, R"("fill": "3:1")", R"("fill": "3to1")")) ==
        "design.json: sections.bank[1].to_ground.fill: this is not a usable slope; write it like \"2:1\", \"33 %\", "
        "\"26.6 deg\" or the run as a number");
  CHECK_THAT(
      refusal(replaced(kAll, R"("fill": "33 %")", R"("fll": "33 %")")),
      Catch::Contains(R"(design.json: works[0] "A", edges[1].section[1].to_ground.fll: this member is not known)"));
  CHECK_THAT(refusal(replaced(kAll, R"("name": "B")", R"("name": "A")")), Catch::Contains("has this name"));
  CHECK_THAT(refusal(replaced(kAll, R"("left": "bank")", R"("left": "hill")")),
             Catch::Contains(R"(works[5] "R": there is no section of the name "hill")"));
  CHECK_THAT(refusal(replaced(kAll, R"("kind": "berm")", R"("kind": "bund")")), Catch::Contains("bund"));
  CHECK_THAT(refusal(replaced(kAll, R"(, "level": 52, )", R"(, "level": 52, "on_ground": 1, )")),
             Catch::Contains(R"(it stands beside "level")"));
  CHECK_THAT(refusal(replaced(kAll, R"("edge": 2)", R"("edge": 4)")), Catch::Contains("edges 0 to 3"));
  CHECK_THAT(refusal(replaced(kAll, R"([[0, 51], [80, 55]])", R"([[0, 51], [800, 55]])")),
             Catch::Contains("between 0 and the length"));
  CHECK_THAT(refusal("{\n \"works\": [\n  {\"kind\" \"pad\"}]}"),
             Catch::StartsWith("design.json:3: this is no JSON, at column"));
  CHECK_THAT(refusal(R"({"name": "a", "name": "b"})"), Catch::Contains("there twice"));
  CHECK_THAT(refusal(R"({"strips": [{"depth": 0.3}]})"),
             Catch::Contains("strips[0] \"Strip 1\": it has neither outline nor under"));
  CHECK_THAT(refusal(R"({"works": [{"kind": "inlay", "name": "I", "ground": "none.xml"}]})"),
             Catch::Contains("none.xml"));
}

TEST_CASE("A typical section changed by name changes all that use it, and taken out they keep its legs") {
  const auto project = read(kAll);
  std::vector<std::string> users;
  for (const project::WorksPtr& user : project::usersOfSection(*project, "bank")) users.push_back(user->name);
  CHECK(users == std::vector<std::string>{"A", "R", "T"});
  project::Cache cache;
  const auto before = project::evaluate(project, cache, {});
  const auto volume = [](const project::EvaluationPtr& e, std::size_t i) {
    const auto& v = e->grounds.back().works[i].volume;
    return v.cut + v.fill;
  };
  works::Section wider = *project::sectionNamed(*project, "bank");
  wider[0].width = 4;
  const auto after = project::evaluate(project::withSection(*project, "bank", wider), cache, {});
  for (const std::size_t i : {0u, 5u, 6u}) CHECK(std::abs(volume(after, i) - volume(before, i)) > 1);
  const auto without = project::withoutSection(*project, "bank");
  CHECK(project::usersOfSection(*without, "bank").empty());
  const auto kept = project::evaluate(without, cache, {});
  for (const std::size_t i : {0u, 5u, 6u}) CHECK(volume(kept, i) == volume(before, i));
  const auto renamed = project::withSectionNamed(*project, "bank", "verge");
  CHECK(project::usersOfSection(*renamed, "verge").size() == 3);
}

TEST_CASE("A section that changes in the middle of a pond's edge changes there") {
  // On its southern edge the outside is level for 2 m up to station 20, then wider up to 6 m at station 30.
  const auto project =
      read(R"({"works": [{"kind": "pond", "name": "P", "bottom": 60, "top": 61, "inside": 2, "outline": )" +
           at({{50, 50}, {90, 50}, {90, 80}, {50, 80}}) +
           R"(, "section": [{"at": 20, "section": [{"out": 2}]}, {"at": 30, "section": [{"out": 6}]}]}]})");
  project::Cache cache;
  const auto ground = project::evaluate(project, cache, {})->grounds.back().tin;
  // The top's outer line lies 2 m out from the bottom.
  CHECK(*ground->levelAt({60, 46.1}) == Approx(61).margin(1e-6));
  CHECK(*ground->levelAt({60, 45.9}) < 55);
  CHECK(*ground->levelAt({85, 42.1}) == Approx(61).margin(1e-6));
  CHECK(*ground->levelAt({85, 41.9}) < 55);
}

TEST_CASE("A level taken from other works is followed, written out, and refused with its place") {
  const auto design = [](const char* from) {
    return std::string(R"({"works": [
{"kind": "pad", "name": "B", "outline": [[412050, 6187010], [412070, 6187010], [412070, 6187030]], "level": 1, "level_from": )") +
           from + R"(},
{"kind": "level_area", "name": "A", "outline": [[412010, 6187010], [412030, 6187010], [412030, 6187030]], "level": 51}]})";
  };
  const auto project = read(design(R"({"works": "A", "plus": 0.4})"));
  const auto& works = project->column.back()->works;
  CHECK(*works::levelOf(works[0]->shape) == Approx(51.4));
  REQUIRE(works[0]->tie);
  CHECK(works[0]->tie->to == works[1]->id);
  const auto again = read(exchange::designOf(*project));
  CHECK(again->column.back()->works[0]->tie->plus == Approx(0.4));
  CHECK_THROWS_WITH(read(design(R"({"works": "C"})")),
                    Catch::Contains("works[0] \"B\", level_from") && Catch::Contains("\"C\""));
  CHECK_THROWS_WITH(read(design(R"({"works": "B"})")), Catch::Contains("level_from"));
}
