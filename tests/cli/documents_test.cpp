// What the documents say is there: links, folders, calls and options.
#include <catch2/catch.hpp>
#include <filesystem>
#include <regex>

#include "support/figures.h"

using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

const fs::path kRoot = INSELBERG_SOURCE_DIR;

std::vector<std::string> matchesIn(const std::string& text, const std::string& pattern) {
  std::vector<std::string> found;
  const std::regex expression(pattern);
  for (std::sregex_iterator it(text.begin(), text.end(), expression), end; it != end; ++it) found.push_back((*it)[1]);
  return found;
}

}  // namespace

TEST_CASE("Every link in the documents leads somewhere") {
  std::size_t links = 0;
  std::vector<fs::path> documents{kRoot / "README.md"};
  for (const auto& entry : fs::directory_iterator(kRoot / "docs")) {
    if (entry.path().extension() == ".md") documents.push_back(entry.path());
  }
  for (const fs::path& document : documents) {
    for (const std::string& link : matchesIn(contentOf(document.string()), "\\]\\(([^)#]+)\\)")) {
      CAPTURE(document.string(), link);
      CHECK(fs::exists(document.parent_path() / link));
      ++links;
    }
  }
  CHECK(links > 12);
}

TEST_CASE("The map of the house names folders that are there, and the scripts run") {
  const std::string text = contentOf((kRoot / "docs/maintaining.md").string());
  std::size_t folders = 0;
  for (const std::string& folder : matchesIn(text, "\\| ((?:src|tests)/[a-z/]+) \\|")) {
    CAPTURE(folder);
    CHECK(fs::is_directory(kRoot / folder));
    ++folders;
  }
  CHECK(folders > 10);
  for (const std::string& script :
       matchesIn(text + contentOf((kRoot / "README.md").string()), "(scripts/[a-z]+\\.sh)")) {
    CAPTURE(script);
    CHECK((fs::status(kRoot / script).permissions() & fs::perms::owner_exec) != fs::perms::none);
  }
  for (const auto& entry : fs::directory_iterator(kRoot / "src/core")) {
    if (entry.is_directory()) CHECK(text.find("src/core/" + entry.path().filename().string()) != std::string::npos);
  }
}

TEST_CASE("Every call and option of the command line is documented, and no other") {
  const std::string text = contentOf((kRoot / "docs/command-line.md").string());
  const std::string help = runCli("--help").out;
  std::vector<std::string> calls = matchesIn(help.substr(help.find("Subcommands:")), "\\n  ([a-z]+) ");
  CHECK(calls.size() >= 8);
  for (const std::string& call : calls) {
    CAPTURE(call);
    CHECK(text.find("inselberg-cli " + call + " ") != std::string::npos);
    for (const std::string& option : matchesIn(runCli(call + " --help").out, "(--[a-z-]+)")) {
      CAPTURE(option);
      if (option == "--help" || option == "--output") continue;  // -o stands for the latter
      CHECK(text.find(option) != std::string::npos);
    }
  }
  for (const std::string& call : matchesIn(text, "inselberg-cli ([a-z]+) ")) {
    CAPTURE(call);
    CHECK(std::find(calls.begin(), calls.end(), call) != calls.end());
  }
}

TEST_CASE("Every package that is installed is explained") {
  // Named by what they are in docs/dependencies.md, not by their Debian name: the list is short enough to keep by hand.
  const std::string text = contentOf((kRoot / "docs/dependencies.md").string());
  const std::string packages = contentOf((kRoot / "scripts/packages.sh").string());
  for (const auto& [package, name] :
       std::vector<std::pair<std::string, std::string>>{{"qt6-base-dev", "Qt 6"},
                                                        {"libqcustomplot-dev", "QCustomPlot"},
                                                        {"libcgal-dev", "CGAL"},
                                                        {"libgeos-dev", "GEOS"},
                                                        {"libtbb-dev", "oneTBB"},
                                                        {"libxxhash-dev", "xxHash"},
                                                        {"libpugixml-dev", "pugixml"},
                                                        {"libgdal-dev", "GDAL"},
                                                        {"libproj-dev", "PROJ"},
                                                        {"proj-data", "PROJ"},
                                                        {"gdal-bin", "gdal-bin"},
                                                        {"python3-ezdxf", "ezdxf"},
                                                        {"python3-openpyxl", "openpyxl"},
                                                        {"nlohmann-json3-dev", "nlohmann-json"},
                                                        {"libsqlite3-dev", "SQLite"},
                                                        {"libzstd-dev", "zstd"},
                                                        {"libcli11-dev", "CLI11"},
                                                        {"libfmt-dev", "fmt"},
                                                        {"catch2", "Catch2"},
                                                        {"xvfb", "Xvfb"},
                                                        {"fonts-dejavu-core", "DejaVu"}}) {
    CAPTURE(package);
    CHECK(packages.find(package) != std::string::npos);
    CHECK(text.find(name) != std::string::npos);
  }
}
