// Features of sources are met, chosen and edited; other sources share their data as before.
#include "project/features.h"

#include <catch2/catch.hpp>

#include "base/error.h"

using namespace inselberg;
using project::Feature;
using project::FeatureKind;

namespace {

const auto kAll = [](const project::Source&) { return true; };

project::SourceInfo named(const char* name, const char* file = "") {
  project::SourceInfo info;
  info.name = name;
  info.file = file;
  return info;
}

project::ProjectPtr site() {
  project::SourceData data;
  data.points = {{0, 0, 5}, {50, 50, 6}};
  data.codes = {"a", "b"};
  data.breaklines = {{{{10, 0, 1}, {20, 0, 2}, {20, 10, 3}}, false, false},
                     {{{30, 0, 1}, {40, 0, 1}, {40, 9, 1}}, true, true}};
  data.boundaries = {{{{-10, -10}, {90, -10}, {90, 90}, {-10, 90}}, {{{1, 2}, {1, 3}, {2, 3}}}}};
  data.voids = {{{{60, 60}, {70, 60}, {70, 70}}, {}}};
  const auto empty = project::emptyProject("s");
  return project::withSource(*empty, named("survey", "s.csv"), std::move(data), empty->column.front()->id);
}

}  // namespace

TEST_CASE("The nearest vertex is met before a side, within reach only") {
  const auto p = site();
  const auto met = project::meet(*p, {20.3, 0.2}, 1, kAll);
  REQUIRE(met);
  CHECK(met->feature.kind == FeatureKind::line);
  CHECK(met->vertex == 1);
  const auto side = project::meet(*p, {15, 0.4}, 1, kAll);
  REQUIRE(side);
  CHECK_FALSE(side->vertex);
  CHECK(side->at.side == 0);
  CHECK(side->at.part == Approx(0.5));
  CHECK(project::meet(*p, {20.1, 10.2}, 1, kAll)->vertex == 2);
  CHECK(project::meet(*p, {0.1, 0}, 1, kAll)->feature.kind == FeatureKind::point);
  CHECK(project::meet(*p, {35, 4.6}, 1, kAll)->feature.index == 1);  // the side that closes the ring
  CHECK(project::meet(*p, {65, 60.2}, 1, kAll)->feature.kind == FeatureKind::voids);
  CHECK_FALSE(project::meet(*p, {15, 30}, 1, kAll));
  CHECK_FALSE(project::meet(*p, {15, 0.4}, 1, [](const project::Source&) { return false; }));
}

TEST_CASE("Features wholly inside a polygon are chosen") {
  const auto p = site();
  const auto found = project::inside(*p, {{-5, -5}, {25, -5}, {25, 25}, {-5, 25}}, kAll);
  const SourceId id = p->sources[0]->id;
  CHECK(found == std::vector<Feature>{{id, FeatureKind::point, 0}, {id, FeatureKind::line, 0}});
}

TEST_CASE("A shape changed keeps everything else, an outline keeps its holes and must be sound") {
  const auto p = site();
  const SourceId id = p->sources[0]->id;
  const Feature line{id, FeatureKind::line, 0}, boundary{id, FeatureKind::boundary, 0};
  const auto moved = project::withShape(*p, line, ground::moved(*project::shapeOf(*p, line), {1, 1, 1}));
  CHECK(project::shapeOf(*moved, line)->vertices[0] == plane::Vec3{11, 1, 2});
  CHECK(moved->sources[0]->id == id);
  CHECK(moved->sources[0]->name == "survey");
  CHECK(moved->sources[0]->hash != p->sources[0]->hash);
  CHECK(moved->column == p->column);
  const auto outline = project::withShape(*p, boundary, ground::moved(*project::shapeOf(*p, boundary), {0, 0.5, 0}));
  CHECK(outline->sources[0]->data->boundaries[0].holes.size() == 1);
  auto bow = *project::shapeOf(*p, boundary);
  std::swap(bow.vertices[0], bow.vertices[1]);
  CHECK_THROWS_AS(project::withShape(*p, boundary, bow), Error);
  CHECK_FALSE(project::shapeOf(*p, {id, FeatureKind::line, 9}));
}

TEST_CASE("Features are taken out together, codes with their points") {
  const auto p = site();
  const SourceId id = p->sources[0]->id;
  const auto left = project::withoutFeatures(*p, {{id, FeatureKind::line, 0},
                                                  {id, FeatureKind::point, 0},
                                                  {id, FeatureKind::line, 1},
                                                  {id, FeatureKind::voids, 0},
                                                  {id, FeatureKind::line, 0}});
  const auto& d = *left->sources[0]->data;
  CHECK(d.breaklines.empty());
  CHECK(d.points.size() == 1);
  CHECK(d.codes == std::vector<std::string>{"b"});
  CHECK(d.voids.empty());
  CHECK(d.boundaries.size() == 1);
}

TEST_CASE("What is drawn goes to a source of its own, the same one until it is locked") {
  auto p = site();
  const GroundId existing = p->column.front()->id;
  const ground::Breakline line{{{0, 0, 1}, {5, 5, 2}}, false, false};
  p = project::withDrawn(*p, FeatureKind::line, line, existing, "drawn");
  p = project::withDrawn(*p, FeatureKind::point, {{{3, 3, 3}}, false, false}, existing, "drawn");
  REQUIRE(p->sources.size() == 2);
  CHECK(p->sources[1]->name == "drawn");
  CHECK(p->sources[1]->data->points.size() == 1);
  CHECK(std::get<project::FromSources>(p->column.front()->base).sources.size() == 2);
  project::SourceInfo locked = *p->sources[1];
  locked.locked = true;
  p = project::withSourceInfo(*p, p->sources[1]->id, locked);
  p = project::withDrawn(*p, FeatureKind::line, line, existing, "drawn 2");
  CHECK(p->sources.size() == 3);
  const auto turned = project::withSourcesOf(*p, existing, {p->sources[2]->id, p->sources[0]->id});
  CHECK(std::get<project::FromSources>(turned->column.front()->base).sources.size() == 2);
  const std::vector<Feature> both{{p->sources[2]->id, FeatureKind::line, 0}, {p->sources[0]->id, FeatureKind::line, 0}};
  const auto level = project::withShapes(*p, both, [](const ground::Breakline& l) { return ground::atLevel(l, 9); });
  CHECK(project::shapeOf(*level, both[0])->vertices[1].z == 9);
  CHECK(project::shapeOf(*level, both[1])->vertices[2].z == 9);
}
