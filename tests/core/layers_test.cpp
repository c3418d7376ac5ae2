// A folder of the core may use those before it in the list, never those after it; nothing in the core knows Qt.
#include <algorithm>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <regex>
#include <string>
#include <vector>

namespace fs = std::filesystem;

namespace {

const std::vector<std::string> kOrder{"base",  "plane",   "drawing",  "sheet", "ground", "section", "quantity",
                                      "works", "project", "exchange", "store", "report", "balance"};

std::vector<std::pair<fs::path, std::string>> includesBelow(const fs::path& folder) {
  std::vector<std::pair<fs::path, std::string>> found;
  const std::regex include("^\\s*#include\\s*[<\"]([^>\"]+)[>\"]");
  for (const auto& entry : fs::recursive_directory_iterator(folder)) {
    if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
    std::ifstream in(entry.path());
    std::smatch match;
    for (std::string line; std::getline(in, line);) {
      if (std::regex_search(line, match, include)) found.emplace_back(entry.path(), match[1]);
    }
  }
  return found;
}

}  // namespace

TEST_CASE("Dependencies inside the core point one way") {
  const fs::path core = fs::path(INSELBERG_SOURCE_DIR) / "src/core";
  const auto rankOf = [&](const std::string& name) {
    return std::find(kOrder.begin(), kOrder.end(), name) - kOrder.begin();
  };
  std::size_t checked = 0;
  for (const auto& entry : fs::directory_iterator(core)) {
    if (entry.is_directory()) CHECK(std::count(kOrder.begin(), kOrder.end(), entry.path().filename().string()) == 1);
  }
  for (const auto& [file, name] : includesBelow(core)) {
    CAPTURE(file.string(), name);
    CHECK(name[0] != 'Q');
    const auto slash = name.find('/');
    const std::string folder = name.substr(0, slash), own = fs::relative(file, core).begin()->string();
    if (slash == std::string::npos || rankOf(folder) == static_cast<long>(kOrder.size())) continue;
    ++checked;
    CHECK(rankOf(folder) <= rankOf(own));
  }
  CHECK(checked > 100);
}

TEST_CASE("Dependencies inside the window point one way, and views know the state they share, not each other") {
  // Views come in no order: none includes another.
  const std::vector<std::vector<std::string>> order{
      {"jobs"},   {"theme"}, {"workspace"},
      {"canvas"}, {"tools"}, {"plan", "column", "card", "ledger", "gather", "section", "relief", "sheets"},
      {"window"}};
  const auto rankOf = [&](const std::string& folder) {
    for (std::size_t i = 0; i < order.size(); ++i) {
      if (std::count(order[i].begin(), order[i].end(), folder) > 0) return static_cast<long>(i);
    }
    return -1L;
  };
  const fs::path app = fs::path(INSELBERG_SOURCE_DIR) / "src/app";
  for (const auto& entry : fs::directory_iterator(app)) {
    CAPTURE(entry.path().string());
    if (entry.is_directory()) CHECK(rankOf(entry.path().filename().string()) >= 0);
  }
  std::size_t checked = 0;
  for (const auto& [file, name] : includesBelow(app)) {
    const std::string own = fs::relative(file, app).begin()->string();
    const std::string folder = name.substr(0, name.find('/'));
    if (own == "main.cpp" || rankOf(folder) < 0 || folder == own) continue;
    if (!fs::exists(app / name)) continue;  // the core has a folder of that name too
    CAPTURE(file.string(), name);
    CHECK(rankOf(folder) < rankOf(own));
    ++checked;
  }
  CHECK(checked > 50);
}

TEST_CASE("The command line knows no window") {
  const fs::path source = fs::path(INSELBERG_SOURCE_DIR) / "src";
  for (const auto& [file, name] : includesBelow(source / "cli")) {
    CAPTURE(file.string(), name);
    CHECK(name[0] != 'Q');
    CHECK(name.rfind("window/", 0) != 0);
  }
}

TEST_CASE("No function is longer than a screen or two") {
  // Lists of commands, and of the fields of a kind, are tables.
  const std::vector<std::string> longer{"Commands ", "const Kind& kindOf("};
  constexpr int kMost = 80;
  int functions = 0;
  for (const auto& entry : fs::recursive_directory_iterator(fs::path(INSELBERG_SOURCE_DIR) / "src")) {
    if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
    std::ifstream in(entry.path());
    std::vector<std::string> lines;
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    // As it is formatted, a function ends with a brace at its own indent, and begins at the line before with that.
    for (const std::string indent : {"", "  "}) {
      for (std::size_t end = 0; end < lines.size(); ++end) {
        if (lines[end] != indent + "}") continue;
        std::size_t begin = end;
        do --begin;
        while (begin > 0 && (lines[begin].size() <= indent.size() || !lines[begin].starts_with(indent) ||
                             lines[begin][indent.size()] == ' ' || lines[begin][indent.size()] == '}'));
        ++functions;
        const bool mayBe = std::any_of(longer.begin(), longer.end(),
                                       [&](const std::string& start) { return lines[begin].starts_with(start); });
        if (mayBe) continue;
        CAPTURE(entry.path().string(), lines[begin]);
        CHECK(static_cast<int>(end - begin) + 1 <= kMost);
      }
    }
  }
  CHECK(functions > 1000);
}
