#include "project/evaluate.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <set>

#include "base/error.h"
#include "ground/stamp.h"
#include "project/features.h"
#include "project/history.h"
#include "project/source_changes.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;
using project::ProjectPtr;

namespace {

// A hillside project with its existing ground built from scattered points.
ProjectPtr hillside(unsigned seed) {
  std::mt19937 random(seed);
  const Level level = randomHills(random, 6);
  project::SourceData data;
  std::uniform_real_distribution<double> place(0, 200);
  for (const double x : {0.0, 200.0}) {
    for (const double y : {0.0, 200.0}) data.points.push_back({x, y, level(x, y)});
  }
  for (int i = 0; i < 1200; ++i) {
    const double x = place(random), y = place(random);
    data.points.push_back({x, y, level(x, y)});
  }
  const auto empty = project::emptyProject("Hill");
  return project::withSource(*empty, {"survey", "survey.csv"}, std::move(data), empty->column.front()->id);
}

ProjectPtr withPad(const ProjectPtr& project, plane::Ring outline, double level) {
  return project::withNewWorks(*project, project->column.back()->id, "Pad", works::Pad{std::move(outline), level, {}});
}

}  // namespace

TEST_CASE("An empty project says what is missing, and so do the grounds above") {
  project::Cache cache;
  const auto e = project::evaluate(project::emptyProject("x"), cache, {});
  REQUIRE(e->grounds.size() == 2);
  CHECK_FALSE(e->grounds[0].tin);
  CHECK_FALSE(e->grounds[0].problem.empty());
  CHECK(e->grounds[1].problem.find("existing") != std::string::npos);
  CHECK_FALSE(e->seams[0].volume);
  CHECK(e->whole);
}

TEST_CASE("A seam is the volume between its grounds, whether works keep clear or overlap", "[random]") {
  for (const double shift : {80.0, 12.0}) {
    CAPTURE(shift);
    project::Cache cache;
    auto p = withPad(hillside(4), rectangle(40, 60, 70, 90), 50.5);
    p = withPad(p, rectangle(40 + shift, 70, 70 + shift, 100), 49.5);
    const auto e = project::evaluate(p, cache, {});
    const auto& seam = *e->seams[0].volume;
    const auto measured = quantity::volumeBetween(*e->grounds[0].tin, *e->grounds[1].tin, {}, {});
    CHECK(seam.cut == Approx(measured.cut).epsilon(1e-8));
    CHECK(seam.fill == Approx(measured.fill).epsilon(1e-8));
    CHECK(seam.cutArea == Approx(measured.cutArea).epsilon(1e-6));
    CHECK(seam.untouchedArea == Approx(measured.untouchedArea).epsilon(1e-6));
    CHECK(seam.maxCut == Approx(measured.maxCut).epsilon(1e-6));
    CHECK(seam.maxFill == Approx(measured.maxFill).epsilon(1e-6));
    const auto& works = e->grounds[1].works;
    const double sum = works[0].volume.fill + works[1].volume.fill;
    if (shift == 80.0) CHECK(seam.fill == Approx(sum));
  }
}

TEST_CASE("An early evaluation has the last works pending, and the same seam as the whole one") {
  project::Cache cache;
  const auto p = withPad(hillside(9), rectangle(60, 60, 90, 90), 51);
  project::EvaluationPtr early;
  const auto whole = project::evaluate(p, cache, {}, [&](project::EvaluationPtr e) { early = std::move(e); });
  REQUIRE(early);
  CHECK_FALSE(early->whole);
  REQUIRE(early->grounds[1].pending);
  CHECK(early->seams[0].volume->fill == whole->seams[0].volume->fill);
  for (const plane::Vec2 at : {plane::Vec2{75, 75}, {58, 75}, {10, 10}}) {
    CHECK(*early->grounds[1].levelAt(at) == Approx(*whole->grounds[1].levelAt(at)).epsilon(1e-9));
  }
}

TEST_CASE("While works change under the hand a draft is shown, and what is returned never holds one", "[random]") {
  std::mt19937 random(31);
  works::Pond pond;
  pond.outline = randomStar(random, {100, 100}, 24, 25, 120), pond.bottom = 49, pond.top = 52, pond.crest = 2;
  const auto begun = hillside(9);
  auto p = project::withNewWorks(*begun, begun->finished(), "Pond", pond);
  project::Cache cache;
  struct Shown {
    project::EvaluationPtr early, whole;
  };
  const auto dragged = [&](bool stopped) {
    Shown shown;
    bool stop = false;
    const Progress progress([&] { return stop; });
    const auto keep = [&](project::EvaluationPtr e) {
      shown.early = std::move(e);
      stop = stopped;
    };
    try {
      shown.whole = project::evaluate(p, cache, progress, keep, works::Detail::draft);
    } catch (const Cancelled&) {
      CHECK(stopped);
    }
    return shown;
  };
  const auto facetsIn = [](const project::EvaluationPtr& e) {
    return e->grounds[1].works[0].placement->facets->triangles().size();
  };
  const std::size_t before = facetsIn(project::evaluate(p, cache, {}));
  for (int step = 1; step <= 4; ++step) {
    CAPTURE(step);
    pond.outline[60].y -= 0.3;
    works::Works works = *p->column.back()->works[0];
    works.shape = pond;
    p = project::withWorks(*p, works);
    const bool stopped = step % 2 == 1;
    Shown now = dragged(stopped);
    REQUIRE(now.early);
    CHECK(4 * facetsIn(now.early) < 3 * before);
    // Shown again: the draft is there, what is in full is not.
    if (stopped) now = dragged(false);
    REQUIRE(now.whole);
    project::Cache fresh;
    const auto alone = project::evaluate(p, fresh, {});
    const auto &got = now.whole->grounds[1], &want = alone->grounds[1];
    CHECK(std::ranges::equal(got.works[0].placement->facets->points(), want.works[0].placement->facets->points()));
    CHECK(now.whole->seams[0].volume->cut == Approx(alone->seams[0].volume->cut).epsilon(1e-9));
    CHECK(now.early->seams[0].volume->cut == Approx(alone->seams[0].volume->cut).epsilon(1e-2));
    CHECK(now.whole->whole);
  }
}

TEST_CASE("An edit computes anew only what lies downstream of it") {
  project::Cache cache;
  auto p = withPad(hillside(2), rectangle(40, 40, 60, 60), 50);
  p = withPad(p, rectangle(120, 120, 150, 150), 50);
  const auto first = project::evaluate(p, cache, {});
  works::Works second = *p->column.back()->works[1];
  second.shape = works::atLevel(second.shape, 51);
  const auto after = project::evaluate(project::withWorks(*p, second), cache, {});
  CHECK(after->grounds[0].tin == first->grounds[0].tin);
  CHECK(after->grounds[1].works[0].placement == first->grounds[1].works[0].placement);
  CHECK(after->grounds[1].works[1].placement != first->grounds[1].works[1].placement);
  // Back to the earlier value: nothing is computed at all.
  const auto back = project::evaluate(p, cache, {});
  CHECK(back->grounds[1].tin == first->grounds[1].tin);
}

TEST_CASE("Hidden works take no part, and the order of works counts") {
  project::Cache cache;
  auto p = withPad(hillside(7), rectangle(60, 60, 90, 90), 52);
  p = withPad(p, rectangle(70, 70, 100, 100), 49);
  const auto both = project::evaluate(p, cache, {});
  CHECK(*both->grounds[1].levelAt({80, 80}) == Approx(49));
  const auto swapped = project::evaluate(project::withWorksAt(*p, p->column.back()->works[1]->id, 0), cache, {});
  CHECK(*swapped->grounds[1].levelAt({80, 80}) == Approx(52));
  works::Works leftOut = *p->column.back()->works[1];
  leftOut.leftOut = true;
  const auto one = project::evaluate(project::withWorks(*p, leftOut), cache, {});
  CHECK(one->grounds[1].works.size() == 1);
  CHECK(*one->grounds[1].levelAt({80, 80}) == Approx(52));
}

TEST_CASE("A cancelled evaluation throws, and the next one is whole") {
  project::Cache cache;
  const auto p = withPad(hillside(3), rectangle(60, 60, 90, 90), 51);
  CHECK_THROWS_AS(project::evaluate(p, cache, Progress([] { return true; })), Cancelled);
  CHECK(project::evaluate(p, cache, {})->whole);
}

TEST_CASE("Undo and redo go through project values and forget what was undone after a new edit") {
  const auto a = project::emptyProject("a"), b = project::withName(*a, "b"), c = project::withName(*a, "c");
  project::History history(a);
  history.commit(b, "rename");
  CHECK(history.undoText() == "rename");
  history.undo();
  CHECK(history.now() == a);
  CHECK(history.canRedo());
  history.redo();
  CHECK(history.now() == b);
  history.undo();
  history.commit(c, "other");
  CHECK_FALSE(history.canRedo());
  CHECK(history.now() == c);
}

TEST_CASE("An edit shares what it does not change") {
  const auto p = withPad(hillside(1), rectangle(60, 60, 90, 90), 51);
  const auto q = project::withName(*p, "other");
  CHECK(q->sources[0] == p->sources[0]);
  CHECK(q->column[0] == p->column[0]);
  CHECK_FALSE(project::sameContent(*p, *q));
  CHECK(project::sameContent(*p, *project::withName(*q, p->name)));
  const auto removed = project::withoutWorks(*p, p->column.back()->works[0]->id);
  CHECK(removed->column[0] == p->column[0]);
  CHECK(removed->column[1]->works.empty());
  const auto emptied = project::withoutSource(*p, p->sources[0]->id);
  CHECK(emptied->sources.empty());
  CHECK(std::get<project::FromSources>(emptied->column[0]->base).sources.empty());
}

TEST_CASE("A ground model keeps its own triangles and holes") {
  project::SourceData model;
  model.modelPoints = {{0, 0, 1}, {100, 0, 1}, {100, 100, 3}, {0, 100, 3}, {50, 50, 9}};
  model.modelTriangles = {{0, 1, 4}, {1, 2, 4}};  // a hole on the left that is never filled
  const auto bare = project::emptyProject("Model");
  const auto p = project::withSource(*bare, {"model.xml", ""}, std::move(model), bare->column.front()->id);
  project::Cache cache;
  const auto e = project::evaluate(p, cache, {});
  CHECK(e->grounds[0].tin->triangles().size() == 2);
  CHECK_FALSE(e->grounds[0].levelAt({10, 50}));
  CHECK(e->grounds[0].doubts.empty());
}

TEST_CASE("A model rules where it lies over other sources, with a doubt, and they hold elsewhere") {
  project::SourceData model;
  model.modelPoints = {{40, 40, 500}, {60, 40, 500}, {60, 60, 500}, {40, 60, 500}};
  model.modelTriangles = {{0, 1, 2}, {0, 2, 3}};
  const auto bare = hillside(2);
  project::Cache cache;
  const auto before = project::evaluate(bare, cache, {});
  const auto p = project::withSource(*bare, {"platform", ""}, std::move(model), bare->column.front()->id);
  const auto e = project::evaluate(p, cache, {});
  CHECK(*e->grounds[0].levelAt({50, 50}) == Approx(500));
  for (const plane::Vec2 place : {plane::Vec2{10, 10}, plane::Vec2{39, 50}, plane::Vec2{61, 61}})
    CHECK(*e->grounds[0].levelAt(place) == Approx(*before->grounds[0].levelAt(place)));
  std::vector<ground::Doubt> overlaps;
  for (const auto& d : e->grounds[0].doubts) {
    if (d.kind == ground::DoubtKind::sourcesOverlap) overlaps.push_back(d);
  }
  REQUIRE(overlaps.size() == 1);
  CHECK(overlaps[0].text.find("platform") != std::string::npos);
}

TEST_CASE("Bringing a file in again keeps its sources' ids, places and grounds") {
  const auto bare = project::emptyProject("Again");
  const auto data = [](double level) {
    project::SourceData d;
    d.points = {{0, 0, level}, {10, 0, level}, {0, 10, level}};
    return d;
  };
  const GroundId existing = bare->column.front()->id;
  auto p = project::withSource(*bare, {"a", "f.dxf"}, data(1), existing);
  p = project::withSource(*p, {"other", "g.dxf"}, data(2), existing);
  p = project::withSource(*p, {"b", "f.dxf"}, data(3), existing);
  project::SourceInfo looks = *p->sources[0];
  looks.hidden = looks.locked = true;
  looks.colour = "#102030";
  p = project::withSourceInfo(*p, p->sources[0]->id, looks);
  std::vector<project::NewSource> again;
  again.push_back({{"a", "f.dxf", {{"L", "points"}}, {"fresh"}}, data(7)});
  again.push_back({{"c", "f.dxf"}, data(8)});
  const auto q = project::withFileAgain(*p, "f.dxf", std::move(again), existing);
  REQUIRE(q->sources.size() == 3);
  CHECK(q->sources[0]->id == p->sources[0]->id);
  CHECK(q->sources[0]->data->points[0].z == 7);
  CHECK((q->sources[0]->hidden && q->sources[0]->locked && q->sources[0]->colour == "#102030"));
  CHECK(q->sources[0]->report == std::vector<std::string>{"fresh"});
  CHECK(q->sources[1] == p->sources[1]);
  CHECK(q->sources[2]->name == "c");
  const auto& base = std::get<project::FromSources>(q->column.front()->base);
  CHECK(base.sources == std::vector<SourceId>{q->sources[0]->id, q->sources[1]->id, q->sources[2]->id});
}

TEST_CASE("Grounds made from others follow them, and say what they wait for") {
  auto p = hillside(4);
  const GroundId existing = p->column.front()->id;
  const auto make = [&](const char* name, project::Operation how, std::vector<GroundId> of) {
    const GroundId id{p->nextId};
    p = project::withNewGround(*p, name, project::Derived{std::move(of), std::move(how)}, p->column.back()->id);
    return id;
  };
  const GroundId shifted = make("shifted", project::Shift{-0.3}, {existing});
  const GroundId inside =
      make("inside", project::Keep{{{{20, 20}, {60, 20}, {60, 60}, {20, 60}}, {}}, true}, {existing});
  const GroundId lower = make("lower", project::CombineAs{quantity::Combine::lower}, {existing, shifted});
  const GroundId simple = make("simple", project::Simplify{0.2}, {existing});
  project::Cache cache;
  auto e = project::evaluate(p, cache, {});
  const plane::Vec2 place{33, 41};
  const double z = *e->ground(existing)->levelAt(place);
  CHECK(*e->ground(shifted)->levelAt(place) == Approx(z - 0.3));
  CHECK(*e->ground(inside)->levelAt(place) == Approx(z));
  CHECK_FALSE(e->ground(inside)->levelAt({10, 10}));
  CHECK(*e->ground(lower)->levelAt(place) == Approx(z - 0.3));
  CHECK(*e->ground(simple)->levelAt(place) == Approx(z).margin(0.2));
  CHECK(project::isUsed(*p, existing));
  CHECK_FALSE(project::isUsed(*p, lower));
  // A frozen copy stays when the ground changes, and stands before it.
  const auto frozen = project::withFrozen(*p, existing, *e->ground(existing)->tin, "before");
  CHECK(frozen->column[0]->name == "before");
  CHECK(frozen->surveyed() == existing);
  const auto mended = project::withMend(*frozen, existing, ground::AddPoint{{place.x, place.y, z + 5}});
  e = project::evaluate(mended, cache, {});
  CHECK(*e->grounds[0].levelAt(place) == Approx(z));
  CHECK(*e->ground(existing)->levelAt(place) == Approx(z + 5));
  CHECK(*e->ground(shifted)->levelAt(place) == Approx(z + 4.7));
  for (const project::Seam& seam : e->seams) {
    if (seam.from == e->grounds[0].id) CHECK((seam.volume->fill > 1 && seam.to == existing && !seam.counted));
    if (seam.counted) CHECK(seam.volume->fill == 0);  // finished stands on existing
  }
  // Without what it is made from, a ground says so.
  const auto without = project::withoutGround(*p, shifted);
  e = project::evaluate(without, cache, {});
  CHECK_FALSE(e->ground(lower)->tin);
  CHECK(e->ground(lower)->problem.find("missing") != std::string::npos);
  const GroundId away = make("away", project::Keep{{{{5000, 0}, {5001, 0}, {5001, 1}}, {}}, true}, {existing});
  e = project::evaluate(p, cache, {});
  CHECK(e->ground(away)->problem.find("Nothing") != std::string::npos);
}

TEST_CASE("Accepting a doubt hides that one alone, and letting it stand again shows it") {
  // Two places where points disagree, and a spike beside one of them.
  project::SourceData data;
  for (int i = 0; i <= 10; ++i) {
    for (int j = 0; j <= 10; ++j) data.points.push_back({10.0 * i + 0.3 * (j % 3), 10.0 * j + 0.4 * (i % 2), 20});
  }
  data.points.push_back({data.points[40].x, data.points[40].y, 20.2});
  data.points.push_back({data.points[80].x, data.points[80].y, 20.3});
  data.points.push_back({data.points[60].x + 2, data.points[60].y + 3, 35});
  const auto empty = project::emptyProject("doubts");
  const auto p = project::withSource(*empty, {"s", ""}, std::move(data), empty->column.front()->id);
  project::Cache cache;
  const auto e = project::evaluate(p, cache, {});
  const ground::Doubts& all = e->grounds[0].doubts;
  REQUIRE(all.size() == 3);
  REQUIRE(e->doubtCount() == 3);
  for (const ground::Doubt& doubt : all) {
    CAPTURE(doubt.text);
    const auto accepted = project::withAccepted(*p, doubt, "seen on site");
    const auto after = project::evaluate(accepted, cache, {});
    CHECK(after->doubtCount() == 2);
    for (const ground::Doubt& other : after->grounds[0].doubts)
      CHECK((accepted->acceptance(other) != nullptr) == (other == doubt));
    CHECK(project::evaluate(project::withoutAccepted(*accepted, doubt), cache, {})->doubtCount() == 3);
  }
}

TEST_CASE("Sound surveys of smooth ground raise no doubt, with pads that fit on them", "[random]") {
  for (unsigned seed = 0; seed < 12; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    auto p = hillside(seed);
    std::uniform_real_distribution<double> place(60, 140);
    const plane::Vec2 centre{place(random), place(random)};
    project::Cache cache;
    const auto under = project::evaluate(p, cache, {})->grounds[0].tin->levelAt(centre);
    p = withPad(p, randomStar(random, centre, 4, 9, 9), *under + 0.4);
    const auto e = project::evaluate(p, cache, {});
    for (const auto& g : e->grounds) {
      for (const auto& d : g.doubts) {
        if (d.kind == ground::DoubtKind::borderSlivers) continue;  // the hull of scattered points has them
        FAIL_CHECK(d.text);
      }
    }
  }
}

TEST_CASE("Works set in by layers leave the ground that setting them in one by one does", "[random]") {
  for (unsigned seed = 0; seed < 30; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> place(30, 170), level(46, 54), size(3, 16);
    auto p = hillside(seed % 3);
    const std::size_t n = 2 + seed % 9;
    for (std::size_t i = 0; i < n; ++i) {
      const double r = size(random);
      p = withPad(p, randomStar(random, {place(random), place(random)}, r / 2, r, 5 + static_cast<int>(i)),
                  level(random));
    }
    project::Cache cache;
    const auto e = project::evaluate(p, cache, {});
    const project::EvaluatedGround& finished = *e->ground(p->finished());
    ground::TinPtr plain = e->ground(p->surveyed())->tin;
    REQUIRE(finished.works.size() == n);
    for (std::size_t i = 0; i < n; ++i) {
      const auto placed = works::place(p->column[1]->works[i]->shape, *plain, p->origin, {});
      const auto cost = works::costOf(placed, *plain, {});
      CHECK(finished.works[i].volume.cut == Approx(cost.cut).epsilon(1e-7).margin(1e-6));
      CHECK(finished.works[i].volume.fill == Approx(cost.fill).epsilon(1e-7).margin(1e-6));
      plain = ground::stamp(*plain, *placed.facets, {});
    }
    const auto between = quantity::volumeBetween(*plain, *finished.tin, {}, {});
    CHECK(between.cut + between.fill < 1e-3);
    CHECK(between.unmeasured() < 1e-4);
    const auto seam = quantity::volumeBetween(*e->ground(p->surveyed())->tin, *plain, {}, {});
    CHECK(e->seams[0].volume->cut == Approx(seam.cut).epsilon(1e-6).margin(1e-4));
    CHECK(e->seams[0].volume->fill == Approx(seam.fill).epsilon(1e-6).margin(1e-4));
  }
}

TEST_CASE("Works that come to stand on others, and leave them, come out as they would from nothing", "[random]") {
  for (unsigned seed = 0; seed < 6; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> place(70, 130), level(47, 53);
    auto p = hillside(seed % 3);
    for (int i = 0; i < 5; ++i) p = withPad(p, rectangle(20.0 + 30 * i, 90, 36.0 + 30 * i, 106), level(random));
    project::Cache cache;
    for (int step = 0; step < 12; ++step) {
      CAPTURE(step);
      works::Works w = *p->column[1]->works[random() % 5];
      const double x = place(random), y = place(random);
      w.shape = works::Pad{rectangle(x - 8, y - 8, x + 8, y + 8), level(random), {}};
      p = project::withWorks(*p, w);
      const auto known = project::evaluate(p, cache, {});
      project::Cache fresh;
      const auto anew = project::evaluate(p, fresh, {});
      for (std::size_t i = 0; i < 5; ++i) {
        CAPTURE(i);
        const auto &got = known->grounds[1].works[i].volume, &want = anew->grounds[1].works[i].volume;
        CHECK(got.cut == Approx(want.cut).epsilon(1e-8).margin(1e-6));
        CHECK(got.fill == Approx(want.fill).epsilon(1e-8).margin(1e-6));
      }
      CHECK(known->seams[0].volume->cut == Approx(anew->seams[0].volume->cut).epsilon(1e-8));
      CHECK(known->seams[0].volume->fill == Approx(anew->seams[0].volume->fill).epsilon(1e-8));
      const auto between = quantity::volumeBetween(*known->grounds[1].tin, *anew->grounds[1].tin, {}, {});
      CHECK(between.cut + between.fill < 1e-4);
      CHECK(between.unmeasured() < 1e-5);
    }
  }
}

TEST_CASE("An edit leaves alone the works it does not touch, wherever it stands in the list") {
  auto p = hillside(5);
  for (int i = 0; i < 5; ++i) p = withPad(p, rectangle(20.0 + 32 * i, 90, 34.0 + 32 * i, 106), 50.5);
  p = withPad(p, rectangle(25, 95, 40, 115), 51.5);  // over the first
  project::Cache cache;
  const auto before = project::evaluate(p, cache, {});
  const auto placementOf = [](const project::Evaluation& e, std::size_t i) { return e.grounds[1].works[i].placement; };
  for (std::size_t changed = 0; changed < 6; ++changed) {
    CAPTURE(changed);
    works::Works w = *p->column[1]->works[changed];
    w.shape = works::atLevel(w.shape, 50.9);
    project::EvaluationPtr early;
    const auto q = project::withWorks(*p, w);
    const auto after = project::evaluate(q, cache, {}, [&](project::EvaluationPtr e) { early = std::move(e); });
    for (std::size_t i = 0; i < 6; ++i) {
      const bool touched = i == changed || (changed == 0 && i == 5);
      CHECK((placementOf(*after, i) == placementOf(*before, i)) != touched);
    }
    // Published early: what changed is pending over the rest, and reads as the whole does.
    REQUIRE(early);
    REQUIRE(early->grounds[1].pending);
    for (double x = 15; x < 190; x += 3.7) {
      const plane::Vec2 at{x, 99.3};
      CHECK(*early->grounds[1].levelAt(at) == Approx(*after->grounds[1].levelAt(at)).margin(1e-5));
    }
  }
}

TEST_CASE("The order of the column alters no figure, and what is compared enters no total", "[random]") {
  for (unsigned seed = 0; seed < 12; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    auto p = withPad(hillside(seed), rectangle(60, 60, 90, 90), 51);
    const GroundId existing = p->surveyed(), finished = p->finished();
    project::Cache cache;
    const auto plain = project::evaluate(p, cache, {});
    p = project::withNewGround(*p, "shifted", project::Derived{{existing}, project::Shift{-0.3}}, existing);
    p = project::withFrozen(*p, finished, *plain->ground(finished)->tin, "frozen");
    p = project::withNewGround(
        *p, "lower", project::Derived{{finished, existing}, project::CombineAs{quantity::Combine::lower}}, finished);
    auto shuffled = std::make_shared<project::Project>(*p);
    std::shuffle(shuffled->column.begin(), shuffled->column.end(), random);
    CHECK(shuffled->surveyed() == existing);
    CHECK(shuffled->finished() == finished);
    const auto a = project::evaluate(p, cache, {}), b = project::evaluate(shuffled, cache, {});
    REQUIRE(a->seams.size() == 4);
    for (std::size_t i = 0; i < a->seams.size(); ++i) {
      CHECK(a->seams[i].volume->cut == b->seams[i].volume->cut);
      CHECK(a->seams[i].volume->fill == b->seams[i].volume->fill);
    }
    CHECK(a->seams[0].volume->fill == plain->seams[0].volume->fill);
    CHECK(std::count_if(a->seams.begin(), a->seams.end(), [](const auto& s) { return s.counted; }) == 1);
    // Any ground that is no stage can go, and its comparisons go with it.
    const auto gone = project::withoutGround(*shuffled, shuffled->ground(p->column.back()->id)->id);
    CHECK(project::evaluate(gone, cache, {})->seams[0].volume->fill == plain->seams[0].volume->fill);
  }
}

TEST_CASE("A ground made from itself says so, and the rest goes on") {
  auto p = withPad(hillside(6), rectangle(60, 60, 90, 90), 51);
  p = project::withNewGround(*p, "one", project::Derived{{p->surveyed()}, project::Shift{1}}, p->finished());
  const GroundId one = p->column.back()->id;
  p = project::withNewGround(*p, "two", project::Derived{{one}, project::Shift{1}}, one);
  const GroundId two = p->column.back()->id;
  auto round = std::make_shared<project::Project>(*p);
  auto first = std::make_shared<project::Ground>(*p->ground(one));
  first->base = project::Derived{{two}, project::Shift{1}};
  for (auto& g : round->column) {
    if (g->id == one) g = first;
  }
  project::Cache cache;
  const auto e = project::evaluate(round, cache, {});
  CHECK(e->ground(two)->problem.find("itself") + 1 + e->ground(one)->problem.find("itself") + 1 > 0);
  CHECK_FALSE(e->ground(one)->tin);
  CHECK_FALSE(e->ground(two)->tin);
  CHECK(e->ground(p->finished())->tin);
  CHECK(e->seams[0].volume);
}

TEST_CASE("A mend does not build the ground anew, and comes out as if it had") {
  // Without works: setting them in triangulates too.
  std::mt19937 random(12);
  std::uniform_real_distribution<double> place(0, 100), level(50, 52);
  project::SourceData survey;
  for (int i = 0; i < 300; ++i) survey.points.push_back({place(random), place(random), level(random)});
  const auto empty = project::emptyProject("Tolwin");
  const auto start = project::withSource(*empty, {.name = "survey"}, std::move(survey), empty->surveyed());
  project::Cache cache;
  project::evaluate(start, cache, {});
  const GroundId surveyed = start->surveyed();
  const auto* base = std::get_if<project::FromSources>(&start->ground(surveyed)->base);
  REQUIRE(base);
  const auto mended = project::withMend(*start, surveyed, ground::AddPoint{{31.5, 42.25, 60}});
  std::set<std::string> stages;
  const Progress progress({}, [&](std::string_view stage, double) { stages.emplace(stage); });
  const auto again = project::evaluate(mended, cache, progress);
  CHECK(stages.count("looking it over") == 1);
  CHECK(stages.count("triangulating") == 0);
  project::Cache fresh;
  std::set<std::string> all;
  const auto anew =
      project::evaluate(mended, fresh, Progress({}, [&](std::string_view stage, double) { all.emplace(stage); }));
  CHECK(all.count("triangulating") == 1);
  const auto &a = *again->ground(surveyed), &b = *anew->ground(surveyed);
  CHECK(a.tin->points().size() == b.tin->points().size());
  CHECK(a.doubts.size() == b.doubts.size());
  REQUIRE(again->seams.size() == anew->seams.size());
  for (std::size_t i = 0; i < again->seams.size(); ++i)
    CHECK(again->seams[i].volume->cut == anew->seams[i].volume->cut);
}

TEST_CASE("While a survey changes under the hand, the patched ground with its works is what comes of it", "[random]") {
  std::mt19937 random(77);
  std::uniform_real_distribution<double> move(-3, 3), place(10, 190);
  auto p = hillside(7);
  const auto shifted =
      project::withNewGround(*p, "shifted", project::Derived{{p->surveyed()}, project::Shift{1.0}}, p->surveyed());
  p = shifted;
  const GroundId finished = p->finished();
  for (const double x : {40.0, 90.0, 105.0, 150.0})
    p = project::withNewWorks(*p, finished, "Pad", works::Pad{rectangle(x, 60, x + 20, 85), 50.5, {}});
  project::Cache cache;
  auto before = project::evaluate(p, cache, {});
  int patched = 0, kept = 0;
  for (int turn = 0; turn < 25; ++turn) {
    const std::size_t i = 4 + random() % 1000;
    auto at = p->sources[0]->data->points[i];
    at.x += move(random), at.y += move(random), at.z += 0.2 * move(random);
    const auto next = project::withShape(*p, {p->sources[0]->id, project::FeatureKind::point, i}, {{at}, false, false});
    project::EvaluationPtr early;
    // Dragged on: the next step begins where the last did, whatever has been shown.
    const auto stepped = project::withShape(*p, {p->sources[0]->id, project::FeatureKind::point, i},
                                            {{{at.x + 0.5, at.y, at.z}}, false, false});
    CHECK_THROWS_AS(project::evaluate(stepped, cache, Progress([&] { return early != nullptr; }, {}),
                                      [&](project::EvaluationPtr e) { early = std::move(e); }),
                    Cancelled);
    early = nullptr;
    const auto whole = project::evaluate(next, cache, {}, [&](project::EvaluationPtr e) { early = std::move(e); });
    REQUIRE(whole->whole);
    if (early && !early->grounds[1].tin) {  // patched: what is made from a whole ground waits
      ++patched;
      CHECK_FALSE(early->whole);
      CHECK(early->grounds[1].problem.empty());
      const auto &early1 = *early->ground(finished), &whole1 = *whole->ground(finished);
      for (int k = 0; k < 300; ++k) {
        const plane::Vec2 q =
            k < 100 ? plane::Vec2{at.x + move(random), at.y + move(random)} : plane::Vec2{place(random), place(random)};
        const auto a = early1.levelAt(q), b = whole1.levelAt(q);
        REQUIRE(a.has_value() == b.has_value());
        if (a) CHECK(*a == Approx(*b).margin(1e-6));
      }
      const auto &a = early->seams, &b = whole->seams;
      for (std::size_t s = 0; s < a.size(); ++s) {
        if (!a[s].volume) continue;
        CHECK(a[s].volume->cut == Approx(b[s].volume->cut).epsilon(1e-6).margin(1e-9));
        CHECK(a[s].volume->fill == Approx(b[s].volume->fill).epsilon(1e-6).margin(1e-9));
      }
      for (std::size_t w = 0; w < 4; ++w)
        kept += early1.works[w].placement == before->ground(finished)->works[w].placement ? 1 : 0;
    }
    before = whole;
    p = next;
  }
  CHECK(patched > 15);
  CHECK(kept > 40);  // works out of reach stay as they are
}

TEST_CASE("What changes in sources is found where it is little", "[random]") {
  const auto p = hillside(9);
  const auto& source = p->sources[0];
  const auto changes = [&](const ProjectPtr& next) { return project::changesBetween(p->sources, next->sources); };
  const project::Feature point{source->id, project::FeatureKind::point, 17};
  const auto moved = changes(project::withShape(*p, point, {{{1, 2, 3}}, false, false}));
  REQUIRE(moved);
  REQUIRE(moved->parts.size() == 1);
  CHECK(moved->parts[0].before == std::vector{source->data->points[17]});
  CHECK(moved->parts[0].after == std::vector{plane::Vec3{1, 2, 3}});
  CHECK(changes(p)->parts.empty());
  CHECK_FALSE(changes(project::withoutFeatures(*p, {point})));
  ground::Breakline line{{{1, 1, 1}, {2, 2, 2}, {3, 1, 3}, {4, 2, 4}}, false, false};
  const auto drawn = project::withFeature(*p, source->id, project::FeatureKind::line, line);
  REQUIRE(changes(drawn));
  CHECK(changes(drawn)->parts[0].after == line.vertices);
  line.vertices[1] = {2, 3, 2};
  const project::Feature first{source->id, project::FeatureKind::line, 0};
  const auto bent = project::changesBetween(drawn->sources, project::withShape(*drawn, first, line)->sources);
  REQUIRE(bent);
  CHECK(bent->parts[0].before == std::vector<plane::Vec3>{{1, 1, 1}, {2, 2, 2}, {3, 1, 3}});
  CHECK(bent->parts[0].after == std::vector<plane::Vec3>{{1, 1, 1}, {2, 3, 2}, {3, 1, 3}});
  CHECK((bent->parts[0].startStays && bent->parts[0].endStays));
  line.vertices[2].z = std::nan("");
  CHECK_FALSE(project::changesBetween(drawn->sources, project::withShape(*drawn, first, line)->sources));
}

TEST_CASE("A line drawn over survey points under the hand is patched with the levels it is built with", "[random]") {
  std::mt19937 random(78);
  for (const auto rule : {ground::DuplicateRule::first, ground::DuplicateRule::last, ground::DuplicateRule::mean,
                          ground::DuplicateRule::highest, ground::DuplicateRule::lowest}) {
    auto p = hillside(11);
    p = project::withRules(*p, p->surveyed(), {rule, 0, false});
    const auto points = p->sources[0]->data->points;  // a copy: the project goes on
    ground::Breakline line{{{60, 60, 40}, {90, 71, 41}, {120, 60, 42}, {141, 66, 41}}, false, false};
    p = project::withFeature(*p, p->sources[0]->id, project::FeatureKind::line, line);
    const project::Feature feature{p->sources[0]->id, project::FeatureKind::line, 0};
    project::Cache cache;
    project::evaluate(p, cache, {});
    int patched = 0;
    for (int step = 0; step < 8; ++step) {
      // On to a point near by, and off it again.
      std::size_t nearest = 0;
      for (std::size_t i = 0; i < points.size(); ++i) {
        const plane::Vec2 to{80.0 + 5 * step, 78.0 - 4 * (step % 4)};
        if (plane::distance(points[i].plan(), to) < plane::distance(points[nearest].plan(), to)) nearest = i;
      }
      const plane::Vec2 at = points[nearest].plan(), start = line.vertices[0].plan();
      line.vertices[1].x = step % 3 == 2 ? 88 + step : at.x;
      line.vertices[1].y = step % 3 == 2 ? 74.5 : at.y;
      // Or through it, the vertex behind.
      if (step % 3 == 1) line.vertices[1] = {at.x + 0.2 * (at.x - start.x), at.y + 0.2 * (at.y - start.y), 40.5};
      const auto next = project::withShape(*p, feature, line);
      project::EvaluationPtr early;
      const auto whole = project::evaluate(next, cache, {}, [&](project::EvaluationPtr e) { early = std::move(e); });
      if (early && early->grounds[0].tin != whole->grounds[0].tin) {
        ++patched;
        for (const plane::Vec3& v : line.vertices)
          CHECK(*early->grounds[0].levelAt(v.plan()) == Approx(*whole->grounds[0].levelAt(v.plan())).margin(1e-9));
        for (int k = 0; k < 50; ++k) {
          const plane::Vec2 q{60 + 1.6 * k, 62 + 0.2 * k};
          CHECK(*early->grounds[0].levelAt(q) == Approx(*whole->grounds[0].levelAt(q)).margin(1e-6));
        }
      }
      p = next;
    }
    CHECK(patched >= 6);
  }
}
