// Surveys over each other at different heights are told; beside each other, or along a ditch, they are not.
#include "project/survey_offset.h"

#include <catch2/catch.hpp>
#include <random>

#include "project/build_sources.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

double hilly(double x, double y) {
  return 70 + 2 * std::sin(x / 30) + 0.05 * y;
}

project::SourcePtr survey(const char* name, int n, double x0, double x1, double lift, std::mt19937& random) {
  std::uniform_real_distribution<double> x(x0, x1), y(0, 100), noise(-0.02, 0.02);
  project::SourceData data;
  for (int i = 0; i < n; ++i) {
    const double e = x(random), s = y(random);
    data.points.push_back({e, s, hilly(e, s) + lift + noise(random)});
  }
  return project::makeSource(SourceId{static_cast<std::uint64_t>(n)}, {name, ""}, std::move(data));
}

std::vector<std::string> told(std::vector<project::SourcePtr> sources) {
  std::vector<const project::Source*> plain;
  for (const auto& s : sources) plain.push_back(s.get());
  std::vector<std::string> texts;
  for (const auto& d : project::buildFromSources(plain, {}, {}, {}, {}).doubts) {
    if (d.kind == ground::DoubtKind::sourcesOverlap) texts.push_back(d.text);
  }
  return texts;
}

}  // namespace

TEST_CASE("Two surveys of one place at different heights are told, with the difference", "[random]") {
  std::mt19937 random(14);
  for (const double lift : {0.3, -0.3, 1.25}) {
    const auto texts = told({survey("old", 800, 0, 200, 0, random), survey("new", 500, 50, 250, lift, random)});
    REQUIRE(texts.size() == 1);
    CAPTURE(texts[0]);
    CHECK(texts[0].starts_with("new and old"));
    CHECK(texts[0].find(lift > 0 ? "above" : "below") != std::string::npos);
    const double said = std::stod(texts[0].substr(texts[0].find("lies ") + 5));
    CHECK(said == Approx(std::abs(lift)).margin(0.05));
  }
  CHECK(told({survey("old", 800, 0, 200, 0, random), survey("new", 500, 50, 250, 0, random)}).empty());
}

TEST_CASE("Surveys side by side, single marks and a ditch within a field are no doubt", "[random]") {
  std::mt19937 random(15);
  const auto field = survey("field", 900, 0, 200, 0, random);
  CHECK(told({field, survey("beside", 900, 200, 400, 2, random)}).empty());
  CHECK(told({field, survey("marks", 30, 0, 200, 2, random)}).empty());
  for (const double bend : {0.0, 25.0}) {
    project::SourceData ditch;
    for (int i = 0; i < 120; ++i) {
      const double x = 10 + 1.5 * i, y = 50 + bend * std::sin(x / 25);
      ditch.points.push_back({x, y, hilly(x, y) - 0.8});
    }
    CHECK(told({field, project::makeSource(SourceId{7}, {"ditch", ""}, std::move(ditch))}).empty());
  }
}
