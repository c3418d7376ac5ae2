// Files are written whole or not at all, where only we can.
#include "base/whole_file.h"

#include <sys/stat.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>

#include "base/error.h"
#include "support/figures.h"

using namespace inselberg;
using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

void put(const std::string& path, const std::string& text, const WriteRules& rules = {}) {
  writeBeside(
      path, ".x",
      [&](const std::string& part) {
        REQUIRE_FALSE(fs::exists(part));
        CHECK(part.ends_with(".x"));
        std::ofstream(part) << text;
      },
      rules);
}

std::ptrdiff_t entries(const std::string& folder) {
  return std::distance(fs::directory_iterator(folder), fs::directory_iterator{});
}

}  // namespace

TEST_CASE("After guarantee 1 a write that fails leaves the earlier file and nothing beside it") {
  const Scratch s;
  put(s / "f", "first");
  CHECK_THROWS_AS(writeBeside(s / "f", "",
                              [&](const std::string& part) {
                                std::ofstream(part) << "half";
                                throw Error("no", "nothing");
                              }),
                  Error);
  CHECK_THROWS_AS(writeBeside(s / "f", "", [](const std::string&) {}), Error);  // nothing was made
  CHECK(contentOf(s / "f") == "first");
  CHECK(entries(s.path()) == 1);
}

TEST_CASE("After guarantee 2 a link stays and what it leads to is written, also where that is not there yet") {
  const Scratch s;
  fs::create_directory(s / "far");
  put(s / "far/target", "old");
  ::chmod((s / "far/target").c_str(), 0640);
  fs::create_symlink("far/target", s / "link");
  fs::create_symlink("link", s / "second");
  fs::create_symlink("far/new", s / "dangling");
  put(s / "second", "new");
  put(s / "dangling", "made");
  CHECK(fs::is_symlink(s / "second"));
  CHECK(fs::is_symlink(s / "link"));
  CHECK(contentOf(s / "far/target") == "new");
  CHECK((fs::status(s / "far/target").permissions() & fs::perms::all) == static_cast<fs::perms>(0640));
  CHECK(contentOf(s / "far/new") == "made");
  fs::create_symlink("round", s / "circle");
  fs::create_symlink("circle", s / "round");
  CHECK_THROWS_AS(put(s / "round", "no"), Error);
}

TEST_CASE("After guarantee 3 the part lies in a folder of our own, whatever is put in that folder's place") {
  const Scratch s;
  s.file("victim", "precious");
  writeBeside(s / "f", ".tif", [&](const std::string& part) {
    for (const auto& entry : fs::directory_iterator(s.path())) {
      if (!entry.is_directory()) continue;
      CHECK((entry.status().permissions() & (fs::perms::group_all | fs::perms::others_all)) == fs::perms::none);
      // The folder is moved away and another with a planted link takes its name.
      const fs::path name = entry.path();
      fs::rename(name, s / "moved");
      fs::create_directory(name);
      fs::create_symlink(s / "victim", name / "part.tif");
      break;
    }
    std::ofstream(part) << "mine";
  });
  CHECK(contentOf(s / "f") == "mine");
  CHECK(contentOf(s / "victim") == "precious");
}

TEST_CASE("After guarantee 4 what a killed run left is swept away, and what another is writing stays") {
  const Scratch s;
  fs::create_directory(s / ".inselberg-part-abcdef");
  s.file(".inselberg-part-abcdef/part", "half");
  s.file(".inselberg-part-abcdef/part-journal", "half");
  s.file("own", "mine");
  writeBeside(s / "f", "", [&](const std::string& part) {
    std::ofstream(part) << "outer";
    put(s / "g", "inner");  // sweeps too
    CHECK(contentOf(part) == "outer");
  });
  CHECK(entries(s.path()) == 3);
  CHECK(contentOf(s / "f") == "outer");
}

TEST_CASE("Permissions and names of the greatest length") {
  const Scratch s;
  put(s / "mine", "x", {.mode = 0600, .ready = {}});
  CHECK((fs::status(s / "mine").permissions() & fs::perms::all) == static_cast<fs::perms>(0600));
  for (const std::size_t length : {246u, 255u}) {
    const std::string name = s / std::string(length, 'n');
    put(name, "long");
    CHECK(contentOf(name) == "long");
  }
  CHECK_THROWS_AS(put(s / std::string(256, 'n'), "too long"), Error);
  int told = 0;
  put(s / "told", "x", {.mode = {}, .ready = [&](int fd) {
                          ++told;
                          struct stat info;
                          CHECK(::fstat(fd, &info) == 0);
                          CHECK(info.st_size == 1);
                        }});
  CHECK(told == 1);
}
