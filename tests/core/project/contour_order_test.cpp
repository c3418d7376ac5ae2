#include "project/contour_order.h"

#include <catch2/catch.hpp>

#include "base/error.h"

using namespace inselberg;
using namespace inselberg::project;

namespace {

using Known = std::vector<std::optional<double>>;

ProjectPtr withContours(int count) {
  SourceData data;
  for (int i = 0; i < count; ++i)
    data.breaklines.push_back({{{0, 10.0 * i, 0}, {50, 10.0 * i + 2, 0}, {100, 10.0 * i, 0}}, false, true});
  data.breaklines.push_back({{{0, 5, 0}, {100, 5, 0}}, false, false});  // no contour
  const auto empty = emptyProject("Tolwin");
  SourceInfo info;
  info.name = "traced";
  return withSource(*empty, info, std::move(data), empty->surveyed());
}

}  // namespace

TEST_CASE("Contours come in the order a stroke crosses them, each once") {
  const auto project = withContours(6);
  const auto up = contoursCrossed(*project, project->surveyed(), {30, -3}, {40, 43});
  REQUIRE(up.size() == 5);
  for (std::size_t i = 0; i < up.size(); ++i) CHECK(up[i].index == i);
  const auto down = contoursCrossed(*project, project->surveyed(), {40, 43}, {30, -3});
  REQUIRE(down.size() == 5);
  CHECK(down.front().index == 4);
  // Along a contour that it crosses twice.
  CHECK(contoursCrossed(*project, project->surveyed(), {1, 10.9}, {99, 10.9}).size() == 1);
  CHECK(contoursCrossed(*project, project->surveyed(), {30, 3}, {40, 7}).empty());
  SourceInfo locked = *project->sources[0];
  locked.locked = true;
  CHECK(contoursCrossed(*withSourceInfo(*project, project->sources[0]->id, locked), project->surveyed(), {30, -3},
                        {40, 43})
            .empty());
}

TEST_CASE("Levels follow in order from what is known, and what does not fit is questioned") {
  CHECK(levelsInOrder(Known(3), 0.5, false, 71.0) == std::vector<double>{71, 71.5, 72});
  CHECK(levelsInOrder(Known(3), 0.5, true, 71.0) == std::vector<double>{71, 70.5, 70});
  CHECK(levelsInOrder(Known{{}, {}, 72.0, {}}, 0.5, false, {}) == std::vector<double>{71, 71.5, 72, 72.5});
  // Two that are known say which way it goes.
  CHECK(levelsInOrder(Known{{}, 72.0, {}, 71.0}, 0.5, false, 5.0) == std::vector<double>{72.5, 72, 71.5, 71});
  CHECK_THROWS_AS(levelsInOrder(Known{758.0, {}, 785.0}, 1, false, {}), Error);
  CHECK_THROWS_AS(levelsInOrder(Known{71.0, 71.5, 71.0}, 0.5, false, {}), Error);
  CHECK_THROWS_AS(levelsInOrder(Known(2), 0.5, false, {}), Error);
}

TEST_CASE("A level far off that of the contour beside it is questioned, and none that fits") {
  SourceData data;
  for (int i = 0; i < 6; ++i)
    data.breaklines.push_back({{{0, 10.0 * i, 758.0 + i}, {100, 10.0 * i, 758.0 + i}}, false, true});
  data.breaklines.push_back({{{0, 62, 12}, {100, 62, 12}}, false, false});  // no contour
  const auto empty = emptyProject("Tolwin");
  SourceInfo info;
  info.name = "traced";
  const auto project = withSource(*empty, info, std::move(data), empty->surveyed());
  const auto at = [](double y, double level) {
    return ground::Breakline{{{5, y, level}, {50, y + 1, level}, {95, y, level}}, false, true};
  };
  const auto asked = outOfLineText(*project, project->surveyed(), at(64, 785), 1);
  REQUIRE(asked);
  CHECK(asked->find("785.00") != std::string::npos);
  CHECK(asked->find("763.00") != std::string::npos);
  // Its own neighbour is asked, however many others are nearer to its level.
  CHECK(outOfLineText(*project, project->surveyed(), at(-4, 763.5), 1)->find("758.00") != std::string::npos);
  for (const double y : {-300.0, -20.0, 14.0, 55.0, 400.0})
    CHECK_FALSE(outOfLineText(*project, project->surveyed(), at(y, y < 0 ? 757 : 760), 1));
  CHECK_FALSE(outOfLineText(*project, project->surveyed(), at(900, 785), 1));  // too far away to tell
  CHECK_FALSE(outOfLineText(*empty, empty->surveyed(), at(0, 785), 1));
  SourceInfo hidden = *project->sources[0];
  hidden.hidden = true;
  CHECK_FALSE(
      outOfLineText(*withSourceInfo(*project, project->sources[0]->id, hidden), project->surveyed(), at(64, 785), 1));
}

TEST_CASE("Contours of another ground say nothing about those of this one") {
  const auto existing = withContours(4);
  const GroundId proposed{existing->nextId};
  auto both = withNewGround(*existing, "proposed", FromSources{}, existing->surveyed());
  const ground::Breakline own{{{0, 5, 9}, {100, 5, 9}}, false, true};
  both = withDrawn(*both, FeatureKind::line, own, proposed, "drawn");
  REQUIRE(both->sources.size() == 2);  // not into the source of the other ground
  CHECK(contoursCrossed(*both, proposed, {30, -3}, {40, 43}).size() == 1);
  CHECK(contoursCrossed(*both, both->surveyed(), {30, -3}, {40, 43}).size() == 4);
  const ground::Breakline beside{{{0, 6, 9.5}, {100, 6, 9.5}}, false, true};
  CHECK_FALSE(outOfLineText(*both, proposed, beside, 0.5));
  CHECK(outOfLineText(*both, both->surveyed(), beside, 0.5));
  // What no ground is built from speaks to every one.
  const auto loose = withSourcesOf(*both, proposed, {});
  CHECK(contoursCrossed(*loose, loose->surveyed(), {30, -3}, {40, 43}).size() == 5);
  CHECK(contoursCrossed(*loose, proposed, {30, -3}, {40, 43}).size() == 1);
}
