// Looking up what is near gives the same as walking through.
#include "project/source_index.h"

#include <catch2/catch.hpp>
#include <random>
#include <set>

#include "project/each_side.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using project::FeatureKind;
using project::SourceIndex;

namespace {

using Key = std::tuple<FeatureKind, std::uint32_t, std::uint32_t>;

std::set<Key> touching(const project::SourceData& data, const SourceIndex* index, const plane::Box& box) {
  std::set<Key> found;
  project::eachSide(data, [&](const SourceIndex::Entry& e, plane::Vec2 a, plane::Vec2 b) {
    plane::Box side;
    side.add(a), side.add(b);
    // A side is near when some place of it is: a fine walk along it decides.
    bool in = false;
    for (int i = 0; i <= 200 && !in; ++i) in = box.contains(a + (i / 200.0) * (b - a));
    if (in && !index) found.insert({e.kind, e.index, e.vertex});
  });
  if (index) index->touching(box, [&](const SourceIndex::Entry& e) { found.insert({e.kind, e.index, e.vertex}); });
  return found;
}

project::SourceData someData(std::mt19937& random, double width, double height) {
  std::uniform_real_distribution<double> x(-width, width), y(-height, height), short_(-3, 3);
  project::SourceData data;
  for (int i = 0; i < 200; ++i) data.points.push_back({x(random), y(random), 0});
  for (int i = 0; i < 30; ++i) {
    ground::Breakline line{{{x(random), y(random), 0}}, i % 3 == 0, false};
    for (int k = 0; k < 12; ++k)
      line.vertices.push_back(i % 5 == 0 ? plane::Vec3{x(random), y(random), 0}
                                         : plane::Vec3{line.vertices.back().x + short_(random),
                                                       line.vertices.back().y + short_(random), 0});
    data.breaklines.push_back(std::move(line));
  }
  data.breaklines.push_back({{{1, 1, 0}}, false, false});
  data.boundaries.push_back({rectangle(-width, -height, width, height), {}});
  data.voids.push_back({rectangle(0, 0, width / 3, height / 3), {}});
  return data;
}

}  // namespace

TEST_CASE("The index finds every point and side that touches a box", "[random]") {
  std::mt19937 random(21);
  for (const auto& [width, height] : {std::pair(50.0, 40.0), {5000.0, 0.5}, {0.01, 300.0}}) {
    const auto data = someData(random, width, height);
    const SourceIndex index(data);
    std::uniform_real_distribution<double> x(-1.1 * width, 1.1 * width), y(-1.1 * height, 1.1 * height);
    for (int i = 0; i < 200; ++i) {
      const plane::Vec2 p{x(random), y(random)};
      const auto box = plane::Box{p.x, p.y, p.x, p.y}.grown(i % 2 ? 0.5 : 4);
      const auto all = touching(data, nullptr, box), found = touching(data, &index, box);
      CHECK(std::includes(found.begin(), found.end(), all.begin(), all.end()));
      CHECK(found.size() < 800);
    }
  }
  const SourceIndex nothing(project::SourceData{});
  nothing.touching({0, 0, 1, 1}, [](const SourceIndex::Entry&) { FAIL("nothing is there"); });
}

TEST_CASE("What the pointer meets is the same whether asked once or often", "[random]") {
  std::mt19937 random(22);
  const auto empty = project::emptyProject("p");
  const auto project = project::withSource(*empty, {"s", ""}, someData(random, 50, 40), empty->column.front()->id);
  const auto all = [](const project::Source&) { return true; };
  std::uniform_real_distribution<double> x(-55, 55), y(-45, 45);
  for (int i = 0; i < 300; ++i) {
    const plane::Vec2 p{x(random), y(random)};
    // A source of its own is walked through, the long-lived one looked up.
    const auto fresh = project::withSource(*empty, {"s", ""}, *project->sources[0]->data, empty->column.front()->id);
    const auto walked = project::meet(*fresh, p, 2, all), found = project::meet(*project, p, 2, all);
    REQUIRE(walked.has_value() == found.has_value());
    if (!found) continue;
    CHECK(walked->at.distance == found->at.distance);
    CHECK(walked->vertex.has_value() == found->vertex.has_value());
  }
}
