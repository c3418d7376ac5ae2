#include "store/project_file.h"

#include <catch2/catch.hpp>
#include <filesystem>

#include "base/error.h"
#include "store/bulk.h"
#include "store/recovery.h"
#include "support/figures.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

project::SourceData someData() {
  project::SourceData data;
  data.points = {{0, 0, 1.25}, {100, 0, 2}, {0, 100, -3.5}, {1e-7, 5, 1e6}};
  data.codes = {"GL", "", "tree, \"old\"", "ä"};
  data.breaklines.push_back({{{1, 1, 1}, {2, 2, std::nan("")}, {3, 3, 3}}, true});
  data.boundaries.push_back({rectangle(0, 0, 90, 90), {plane::Ring{{10, 10}, {10, 20}, {20, 20}}}});
  data.modelPoints = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
  data.modelTriangles = {{0, 1, 2}};
  return data;
}

project::ProjectPtr someProject() {
  auto start = std::make_shared<project::Project>(*project::emptyProject("Tolwin \"quoted\" ü"));
  start->origin = {412300, 6187400};
  start->hasOrigin = true;
  auto p = project::withSource(*start, {"survey", "survey.csv"}, someData(), start->column.front()->id);
  works::Pad pad{rectangle(10, 10, 40, 30), 77.123456789012345, {}};
  pad.batters.cut = Slope::horizontalPerVertical(1.5);
  pad.batters.corners = works::CornerStyle::square;
  p = project::withNewWorks(*p, p->column.back()->id, "Silo pad", pad);
  works::Works looks = *p->column.back()->works[0];
  p = project::withNewWorks(*p, p->column.back()->id, "Yard", works::Pad{rectangle(50, 50, 60, 60), 70, {}});
  looks.hidden = looks.leftOut = looks.held = true;
  return project::withRules(*project::withWorks(*p, looks), p->column.front()->id, {ground::DuplicateRule::mean, 45});
}

}  // namespace

TEST_CASE("Bulk data comes back bit for bit, and damaged bytes are refused") {
  const auto data = someData();
  const std::string packed = store::pack(data);
  CHECK(store::unpack(packed).hash() == data.hash());
  CHECK(store::unpack(store::pack({})).hash() == project::SourceData{}.hash());
  CHECK_THROWS(store::unpack(std::string_view(packed).substr(0, packed.size() / 2)));
  CHECK_THROWS(store::unpack(std::string_view("nonsense")));
}

TEST_CASE("A project comes back as it was saved") {
  const Scratch s;
  const auto p = someProject();
  store::save(*p, s / "p.inselberg", "session text");
  const auto opened = store::open(s / "p.inselberg");
  const project::Project& q = *opened.project;
  CHECK(opened.session == "session text");
  CHECK(q.name == p->name);
  CHECK(q.origin == p->origin);
  CHECK(q.nextId == p->nextId);
  REQUIRE(q.sources.size() == 1);
  CHECK(q.sources[0]->hash == p->sources[0]->hash);
  CHECK(q.sources[0]->id == p->sources[0]->id);
  CHECK(q.sources[0]->file == "survey.csv");
  REQUIRE(q.column.size() == 2);
  REQUIRE(q.column[1]->works.size() == 2);
  for (std::size_t i = 0; i < 2; ++i) CHECK(*q.column[1]->works[i] == *p->column[1]->works[i]);
  const auto& rules = std::get<project::FromSources>(q.column[0]->base).rules;
  CHECK(rules.duplicates == ground::DuplicateRule::mean);
  CHECK(rules.maxEdge == 45);
  // Saved again it is the same to the last item.
  store::save(q, s / "again.inselberg", "session text");
  const std::string same = "sqlite3 '" + s / "p.inselberg" + "' 'select id,kind,json from item order by id' > '" +
                           s / "a" + "'; sqlite3 '" + s / "again.inselberg" +
                           "' 'select id,kind,json from item order by id' > '" + s / "b" + "'; cmp '" + s / "a" +
                           "' '" + s / "b" + "'";
  CHECK(std::system(same.c_str()) == 0);
}

TEST_CASE("Layouts come back as they were saved") {
  const Scratch s;
  const auto p = someProject();
  project::Layout full;
  full.name = "Plan \"A\"", full.paper = 4, full.upright = true, full.ground = p->finished(), full.scale = 250;
  full.centre = plane::Vec2{12.5, -3}, full.interval = 0.25, full.depths = 10, full.section = {{0, 0}, {50, 20}};
  full.shade = full.grid = full.legend = full.figures = false;
  full.sheets = true;
  full.fields = {{"Client", "Tolwin Grain"}, {"Drawn", ""}};
  project::Layout plain;
  plain.name = "Plan B";
  const auto with = project::withLayouts(*p, {full, plain});
  CHECK_FALSE(project::sameContent(*p, *with));
  store::save(*with, s / "p.inselberg");
  const auto opened = store::open(s / "p.inselberg");
  CHECK(opened.project->layouts == with->layouts);
  CHECK(project::sameContent(*opened.project, *with));
}

TEST_CASE("The file is a plain database with its own identity") {
  const Scratch s;
  store::save(*someProject(), s / "p.inselberg");
  REQUIRE(std::system(
              ("sqlite3 '" + s / "p.inselberg" +
               "' 'pragma application_id; pragma user_version; pragma integrity_check; select count(*) from bulk' > '" +
               s / "out" + "'")
                  .c_str()) == 0);
  CHECK(contentOf(s / "out") ==
        std::to_string(store::kApplicationId) + "\n" + std::to_string(store::kVersion) + "\nok\n1\n");
}

TEST_CASE("A save that fails leaves the earlier file, and nothing beside it") {
  const Scratch s;
  const auto p = someProject();
  store::save(*p, s / "p.inselberg");
  const std::string before = contentOf(s / "p.inselberg");
  CHECK_THROWS_AS(store::save(*p, s / "missing/p.inselberg"), Error);
  fs::create_directory(s / "dir.inselberg");
  CHECK_THROWS_AS(store::save(*p, s / "dir.inselberg"), Error);
  CHECK(contentOf(s / "p.inselberg") == before);
  std::size_t entries = 0;
  for ([[maybe_unused]] const auto& e : fs::directory_iterator(s.path())) ++entries;
  CHECK(entries == 2);
}

TEST_CASE("Damaged files are refused with a message, wherever the damage is", "[random]") {
  const Scratch s;
  store::save(*someProject(), s / "p.inselberg");
  const std::string whole = contentOf(s / "p.inselberg");
  std::mt19937 random(3);
  std::size_t refused = 0;
  for (int i = 0; i < 120; ++i) {
    std::string bad = whole;
    for (int k = 0; k < 60; ++k) bad[random() % bad.size()] = static_cast<char>(random());
    s.file("bad.inselberg", bad);
    try {
      store::open(s / "bad.inselberg");  // damage may hit unused bytes: then it opens
    } catch (const Error& e) {
      ++refused;
      CHECK(std::string(e.what()).find("bad.inselberg") != std::string::npos);
    }
  }
  CHECK(refused > 60);
}

TEST_CASE("Recovery files are held while in use, found when left behind, and removed when discarded") {
  const Scratch s;
  const auto p = someProject();
  {
    store::Recovery recovery(s.path());
    recovery.keep(*p, "/home/x/tolwin.inselberg");
    CHECK(store::abandoned(s.path()).files.empty());
    // Only its owner may look into it, and nothing else lies beside it.
    std::size_t files = 0;
    for (const auto& entry : fs::directory_iterator(s.path())) {
      ++files;
      CHECK((entry.status().permissions() & (fs::perms::group_all | fs::perms::others_all)) == fs::perms::none);
    }
    CHECK(files == 1);
    recovery.keep(*p, "/home/x/tolwin.inselberg");  // again, in its place
    CHECK(store::abandoned(s.path()).files.empty());
    store::Recovery other(s.path());
    other.keep(*project::emptyProject("other"), "");
    other.discard();
  }
  auto found = store::abandoned(s.path());
  REQUIRE(found.files.size() == 1);
  CHECK(found.damaged.empty());
  CHECK(found.files[0].original == "/home/x/tolwin.inselberg");
  CHECK(found.files[0].project->name == p->name);
  CHECK(store::abandoned(s.path()).files.empty());  // held by who was offered it
  store::remove(found.files[0]);
  CHECK(fs::is_empty(s.path()));
}

TEST_CASE("A damaged recovery file is told and kept, and what killed programs left is swept away") {
  const Scratch s;
  s.file("recovery-1-1-1.inselberg", "cut off");
  s.file("recovery-1-1-1.inselberg.lock", "");
  s.file("open-0123.lock", "");
  s.file("recovery-2-2-2.inselberg.part-aBcDeF", "half");
  fs::create_directory(s / ".inselberg-part-xyzxyz");
  s.file(".inselberg-part-xyzxyz/part", "half");
  const auto found = store::abandoned(s.path());
  CHECK(found.files.empty());
  REQUIRE(found.damaged.size() == 1);
  CHECK(found.damaged[0].find("recovery-1-1-1.inselberg") != std::string::npos);
  CHECK(fs::exists(s / "recovery-1-1-1.inselberg"));
  CHECK(std::distance(fs::directory_iterator(s.path()), fs::directory_iterator{}) == 1);
}

TEST_CASE("A file is locked by one, whatever name it is opened by, and keeps its lock through a save") {
  const Scratch s;
  const std::string path = s / "p.inselberg";
  CHECK_FALSE(store::FileLock(path).heldByAnother());  // there is none
  store::save(*someProject(), path);
  fs::create_symlink(path, s / "link.inselberg");
  fs::create_hard_link(path, s / "twin.inselberg");
  {
    store::FileLock first(path);
    CHECK(first.held());
    for (const char* name : {"p.inselberg", "link.inselberg", "twin.inselberg"})
      CHECK(store::FileLock(s / name).heldByAnother());
    const store::FileState before = store::stateOf(path);
    store::save(*someProject(), path, {}, {.mode = {}, .ready = [&](int fd) { first.take(fd); }});
    CHECK(store::stateOf(path) != before);
    CHECK(store::stateOf(path) == store::stateOf(s / "link.inselberg"));
    CHECK(store::FileLock(path).heldByAnother());
    CHECK(store::FileLock(s / "link.inselberg").heldByAnother());
    CHECK(store::sameFile(path, s / "link.inselberg"));
    CHECK_FALSE(store::sameFile(path, s / "twin.inselberg"));
  }
  CHECK(store::FileLock(path).held());
}

TEST_CASE("A file made to harm is refused in good time and memory, with its name") {
  const Scratch s;
  store::save(*someProject(), s / "good.inselberg");
  const auto altered = [&](const std::string& name, const std::string& sql) {
    fs::copy_file(s / "good.inselberg", s / name, fs::copy_options::overwrite_existing);
    const std::string command = "sqlite3 '" + s / name + "' \"" + sql + "\"";
    REQUIRE(std::system(command.c_str()) == 0);
    return s / name;
  };
  const auto refused = [&](const std::string& path, const std::string& what) {
    try {
      store::open(path);
      FAIL(path << " was opened");
    } catch (const Error& e) {
      CHECK(e.where().file == path);
      CHECK(std::string(e.what()).find(what) != std::string::npos);
    }
  };
  const std::string endless = "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i+1 FROM n)";
  refused(altered("view.inselberg", "ALTER TABLE item RENAME TO x; CREATE VIEW item AS " + endless +
                                        " SELECT i AS id, 'works' AS kind, i AS position, '{}' AS json FROM n"),
          "no plain table");
  refused(altered("computed.inselberg", "ALTER TABLE item ADD COLUMN more AS (hex(zeroblob(1000)))"), "no plain table");
  refused(altered("claims.inselberg", "UPDATE bulk SET data=x'28B52FFDE00000000001000000000000'"), "unpacks to more");
  refused(altered("nan.inselberg", "UPDATE item SET json=json_set(json,'$.origin[0]',1e300) WHERE kind='project'"),
          "out of range");
  // A database that keeps a journal of its own is read without leaving one behind.
  altered("wal.inselberg", "PRAGMA journal_mode=WAL");
  const auto before = std::distance(fs::directory_iterator(s.path()), fs::directory_iterator{});
  CHECK(store::open(s / "wal.inselberg").project->name == someProject()->name);
  CHECK(std::distance(fs::directory_iterator(s.path()), fs::directory_iterator{}) == before);
}

TEST_CASE("Sources that share their data are unpacked once, and a line with an endless level is refused") {
  const Scratch s;
  auto p = someProject();
  for (int i = 0; i < 3; ++i) p = project::withSource(*p, {"again", "survey.csv"}, someData(), p->column.front()->id);
  store::save(*p, s / "p.inselberg");
  const auto opened = store::open(s / "p.inselberg").project;
  REQUIRE(opened->sources.size() == 4);
  for (const auto& source : opened->sources) CHECK(source->data == opened->sources[0]->data);
  project::SourceData data = someData();
  data.breaklines.change(0, [](auto& line) { line.vertices[0].z = std::numeric_limits<double>::infinity(); });
  CHECK_THROWS(store::unpack(store::pack(data)));
}

TEST_CASE("Names that are no UTF-8 are kept as it") {
  const Scratch s;
  auto p = someProject();
  project::SourceInfo info{"caf\xe9", "caf\xe9.csv", {{"l\xed\xa0\x80yer", "points"}}, {"r\xff"}};
  p = project::withSource(*p, info, someData(), p->column.front()->id);
  p = project::withName(*p, "site \xe9");
  store::save(*p, s / "p.inselberg");
  const auto opened = store::open(s / "p.inselberg").project;
  CHECK(opened->sources[1]->name == "caf\u00e9");
  CHECK(opened->sources[1]->takes[0].first == "l\ufffdyer");
}

TEST_CASE(
    "What came with version 2 comes back: voids, contours, looks of sources, mends, made grounds, accepted doubts") {
  const Scratch s;
  project::SourceData data;
  data.points = {{0, 0, 1}, {50, 0, 2}, {0, 50, 3}};
  data.breaklines = {{{{1, 1, 5}, {2, 2, 5}}, true, true}, {{{3, 3, 5}, {4, 4, 6}}, false, false}};
  data.voids = {{{{10, 10}, {12, 10}, {12, 12}}, {}}};
  const auto start = project::emptyProject("two");
  const GroundId existing = start->column.front()->id;
  project::SourceInfo info{"survey", "s.dxf",  {{"SPOT", "points"}, {"X", "skip"}}, {"a line", "another"}, true,
                           true,     "#123456"};
  info.reading = {{"units", "ft"}, {"system", "EPSG:32755"}};
  auto p = project::withSource(*start, info, std::move(data), existing);
  ground::BuildRules rules;
  rules.cureFlats = true;
  p = project::withRules(*p, existing, rules);
  for (const ground::Mend& mend : std::vector<ground::Mend>{
           ground::SwapEdge{{1, 2}, {3, 4}}, ground::DeleteTriangle{{5, 6}}, ground::DeletePoint{{7, 8}},
           ground::AddPoint{{9, 10, 11}}, ground::FillHole{{12, 13.5}}})
    p = project::withMend(*p, existing, mend);
  for (const project::Operation& how :
       std::vector<project::Operation>{project::Shift{-0.25}, project::Keep{{{{0, 0}, {9, 0}, {9, 9}}, {}}, false},
                                       project::CombineAs{quantity::Combine::higher}, project::Simplify{0.125}})
    p = project::withNewGround(*p, "made", project::Derived{{existing}, how}, p->column.back()->id);
  p = project::withAccepted(*p, {ground::DoubtKind::spike, {1.5, 2.5}, "text"}, "a real mound");
  p = project::withSystem(*p, "EPSG:32755");
  p = project::withLabelLines(*p, {{{1, 2}, {3, 4.5}}, {{5, 6}, {7, 8}, {9, 10}}});
  p = project::withMeasures(*p, {true, 100});
  project::Stages stages;
  works::Strip strip;
  strip.name = "Topsoil", strip.outline = {{0, 0}, {5, 0}, {5, 5}}, strip.phase = "first";
  stages.strips.push_back(strip);
  works::Undercut trench;
  trench.name = "Main", trench.line = {{0, 0}, {9, 0}}, trench.phase = "second",
  trench.layers = {{"bedding", 0.2, true}};
  stages.undercuts.push_back(trench);
  works::BuildUp slab;
  slab.name = "Slab", slab.outline = {{0, 0}, {5, 0}, {5, 5}}, slab.layers = {{"c", 0.3}}, slab.phase = "last";
  stages.buildUps.push_back(slab);
  p = project::withStages(*p, stages);
  store::save(*p, s / "p.inselberg", "");
  const auto q = store::open(s / "p.inselberg").project;
  const auto& source = *q->sources.at(0);
  CHECK(source.hash == p->sources[0]->hash);
  CHECK(source.data->breaklines[0].contour);
  CHECK(source.data->breaklines[0].closed);
  CHECK_FALSE(source.data->breaklines[1].contour);
  CHECK(source.data->voids.size() == 1);
  CHECK(source.takes == info.takes);
  CHECK(source.reading == info.reading);
  CHECK(source.report == info.report);
  CHECK((source.hidden && source.locked));
  CHECK(source.colour == "#123456");
  const auto& base = std::get<project::FromSources>(q->column[0]->base);
  CHECK(base.rules.cureFlats);
  CHECK(base.mends == std::get<project::FromSources>(p->column[0]->base).mends);
  std::vector<project::Operation> made;
  for (const auto& g : q->column) {
    if (const auto* derived = std::get_if<project::Derived>(&g->base)) made.push_back(derived->how);
  }
  const auto how = [&](std::size_t i) { return made.at(i - 2); };
  CHECK(std::get<project::Shift>(how(2)).height == -0.25);
  CHECK_FALSE(std::get<project::Keep>(how(3)).inside);
  CHECK(std::get<project::CombineAs>(how(4)).rule == quantity::Combine::higher);
  CHECK(std::get<project::Simplify>(how(5)).tolerance == 0.125);
  CHECK(q->accepted == p->accepted);
  CHECK(q->system == "EPSG:32755");
  CHECK(q->labelLines == p->labelLines);
  CHECK(q->measures == Measures{true, 100});
  CHECK(q->stages == p->stages);
  CHECK_FALSE(project::sameContent(*p, *project::withMeasures(*p, {true, 10})));
  CHECK_FALSE(project::sameContent(*p, *project::withLabelLines(*p, {})));
  CHECK(project::sameContent(*p, *project::withSystem(*p, "EPSG:32755")));
  CHECK_FALSE(project::sameContent(*p, *project::withSystem(*p, "")));
}

TEST_CASE("Every member of every item comes back as it was kept, and a change of any is seen", "[random]") {
  const Scratch s;
  const auto kept = [&](const project::Project& p) {
    store::save(p, s / "p.inselberg");
    return store::open(s / "p.inselberg").project;
  };
  for (unsigned seed = 0; seed < 4; ++seed) {
    CAPTURE(seed);
    const auto p = everything(seed);
    CHECK(project::sameContent(*p, *kept(*p)));
    CHECK(kept(*p)->nextId == p->nextId);
    for (const auto& changes : {quietChanges(), loudChanges()}) {
      for (const auto& [name, change] : changes) {
        CAPTURE(name);
        const auto q = change(*p);
        CHECK_FALSE(project::sameContent(*p, *q));
        const auto again = kept(*q);
        CHECK(project::sameContent(*q, *again));
        CHECK_FALSE(project::sameContent(*p, *again));
      }
    }
  }
}

TEST_CASE("A file from before grounds had roles gets them from the order of its column") {
  const Scratch s;
  auto p = someProject();
  const GroundId existing = p->surveyed(), finished = p->finished();
  p = project::withNewGround(*p, "shifted", project::Derived{{existing}, project::Shift{1}}, existing);
  const auto tin = gridGround(100, 3, [](double, double) { return 5; });
  p = project::withFrozen(*p, existing, *tin, "before");
  store::save(*p, s / "old.inselberg");
  const std::string sql =
      "PRAGMA user_version=2; UPDATE item SET json=json_remove(json,'$.role') WHERE kind='ground'; UPDATE item SET "
      "json=json_remove(json,'$.compared') WHERE kind='project'";
  REQUIRE(std::system(("sqlite3 '" + s / "old.inselberg" + "' \"" + sql + "\"").c_str()) == 0);
  const auto q = store::open(s / "old.inselberg").project;
  CHECK(q->surveyed() == existing);
  CHECK(q->finished() == finished);
  REQUIRE(q->seams().size() == 4);  // from stage to stage, and each with its neighbour as it was
  CHECK(q->seams()[0] == project::Between{existing, finished, true});
  CHECK(q->compared[0] == project::Between{q->column[0]->id, existing, false});
}

TEST_CASE("What was hidden in a file from before version 13 took no part, and takes none") {
  const Scratch s;
  project::ProjectPtr p = someProject();
  project::Stages stages = p->stages;
  stages.strips.emplace_back();
  stages.strips.back().id = WorksId{900}, stages.strips.back().name = "topsoil", stages.strips.back().leftOut = true;
  p = project::withStages(*p, stages);
  store::save(*p, s / "old.inselberg");
  const std::string sql =
      "PRAGMA user_version=12; UPDATE item SET json=json_remove(json,'$.hidden') WHERE kind='works'; UPDATE item SET "
      "json=replace(json,'left_out','hidden') WHERE kind='works' OR kind='project'";
  REQUIRE(std::system(("sqlite3 '" + s / "old.inselberg" + "' \"" + sql + "\"").c_str()) == 0);
  const auto q = store::open(s / "old.inselberg").project;
  const works::Works& works = *q->column.back()->works[0];
  CHECK((works.leftOut && !works.hidden));
  CHECK_FALSE(q->column.back()->works[1]->leftOut);
  REQUIRE(q->stages.strips.size() == stages.strips.size());
  CHECK(q->stages.strips.back().leftOut);
}
