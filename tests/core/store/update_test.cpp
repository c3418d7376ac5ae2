// A project file brought up to date in place, as recovery files are.
#include <catch2/catch.hpp>
#include <filesystem>
#include <map>
#include <set>

#include "base/database.h"
#include "base/error.h"
#include "store/bulk.h"
#include "store/project_file.h"
#include "store/recovery.h"
#include "support/figures.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

std::map<std::string, std::int64_t> bulkRows(const std::string& path) {
  Database db(path, Database::Mode::read);
  Statement s(db, "SELECT hash, rowid FROM bulk");
  std::map<std::string, std::int64_t> rows;
  while (s.step()) rows[s.text(0)] = s.number(1);
  return rows;
}

}  // namespace

TEST_CASE("A file brought up to date holds what the project holds, and nothing else, after every single change") {
  const Scratch s;
  const std::string path = s / "p.inselberg";
  const auto start = everything(5);
  store::save(*start, path, "first");
  auto changes = quietChanges();
  for (auto& c : loudChanges()) changes.push_back(c);
  for (const auto& [name, make] : changes) {
    CAPTURE(name);
    const auto next = make(*start);
    store::update(*next, path, name);
    const auto opened = store::open(path);
    CHECK(project::sameContent(*opened.project, *next));
    CHECK(opened.session == name);
    std::set<std::string> hashes;
    for (const auto& source : next->sources) hashes.insert(store::nameOf(*source->data).hex());
    for (const auto& sheet : next->sheets) hashes.insert(sheet->hash.hex());
    const auto rows = bulkRows(path);
    CHECK(rows.size() == hashes.size());
    for (const auto& [hash, row] : rows) CHECK(hashes.count(hash) == 1);
  }
  CHECK(fs::exists(path));
  CHECK_FALSE(fs::exists(path + "-journal"));
}

TEST_CASE("Data that is in the file already is not written again") {
  const Scratch s;
  const std::string path = s / "p.inselberg";
  const auto start = everything(6);
  store::save(*start, path);
  const auto before = bulkRows(path);
  REQUIRE(before.size() >= 2);
  // One source altered, the others as they were.
  auto next = std::make_shared<project::Project>(*start);
  project::SourceData data = *start->sources[0]->data;
  data.points.change(3, [](auto& p) { p.z += 1; });
  next->sources[0] = project::makeSource(start->sources[0]->id, *start->sources[0], std::move(data));
  store::update(*next, path, {});
  const auto after = bulkRows(path);
  std::size_t kept = 0;
  for (const auto& [hash, row] : after) kept += before.count(hash) == 1 && before.at(hash) == row ? 1 : 0;
  CHECK(kept == before.size() - 1);
  CHECK(after.size() == before.size());
}

TEST_CASE("A recovery file whose writing was cut off is what it was before") {
  const Scratch s;
  const std::string folder = s / "state";
  fs::create_directory(folder);
  store::Recovery recovery(folder);
  const auto start = everything(7);
  recovery.keep(*start, "/site/p.inselberg");
  std::string path;
  for (const auto& entry : fs::directory_iterator(folder)) path = entry.path().string();
  // What a killed run leaves: pages of an unfinished change in the file, and the journal beside it.
  const std::string left = s / "left";
  fs::create_directory(left);
  {
    Database db(path, Database::Mode::write);
    db.run("PRAGMA cache_size=1; BEGIN; DELETE FROM item; UPDATE bulk SET data=zeroblob(200000)");
    REQUIRE(fs::exists(path + "-journal"));
    const std::string name = fs::path(path).filename().string();
    fs::copy_file(path, fs::path(left) / name);
    fs::copy_file(path + "-journal", fs::path(left) / (name + "-journal"));
    db.run("ROLLBACK");
  }
  fs::copy_file(path, fs::path(left) / "recovery-gone.inselberg-journal");
  const store::Found found = store::abandoned(left);
  CHECK(found.damaged.empty());
  REQUIRE(found.files.size() == 1);
  CHECK(found.files[0].original == "/site/p.inselberg");
  CHECK(project::sameContent(*found.files[0].project, *start));
  // A journal without its file is nobody's.
  CHECK_FALSE(fs::exists(fs::path(left) / "recovery-gone.inselberg-journal"));
}

TEST_CASE("A recovery file follows the project, and is written anew where it was taken away or spoilt") {
  const Scratch s;
  const std::string folder = s / "state";
  fs::create_directory(folder);
  store::Recovery recovery(folder);
  const auto a = everything(8), b = everything(9);
  recovery.keep(*a, {});
  std::string path;
  for (const auto& entry : fs::directory_iterator(folder)) path = entry.path().string();
  recovery.keep(*b, {});
  CHECK(project::sameContent(*store::open(path).project, *b));
  CHECK((fs::status(path).permissions() & fs::perms::all) == (fs::perms::owner_read | fs::perms::owner_write));
  fs::remove(path);
  recovery.keep(*a, {});
  CHECK(project::sameContent(*store::open(path).project, *a));
  fs::resize_file(path, 100);
  recovery.keep(*b, {});
  CHECK(project::sameContent(*store::open(path).project, *b));
  recovery.discard();
  CHECK(fs::is_empty(folder));
}

TEST_CASE("Saving and opening stop when asked, and leave what was there") {
  const Scratch s;
  const std::string path = s / "p.inselberg";
  const auto a = everything(8), b = everything(9);
  store::save(*a, path);
  int asked = 0;
  const Progress stop([&] { return ++asked > 1; });
  CHECK_THROWS_AS(store::save(*b, path, {}, {}, stop), Cancelled);
  CHECK(project::sameContent(*store::open(path).project, *a));
  asked = 0;
  CHECK_THROWS_AS(store::open(path, works::standardKinds(), stop), Cancelled);
}
