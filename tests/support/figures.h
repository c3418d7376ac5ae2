// Running the command line, and reading what it prints.
#pragma once

#include <sys/wait.h>

#include <array>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>
#include <string>

namespace inselberg::testing {

struct Ran {
  int code = -1;
  std::string out, err;
};

// A folder of its own for a test, removed at the end.
class Scratch {
 public:
  Scratch() {
    std::string pattern = (std::filesystem::temp_directory_path() / "inselberg-test-XXXXXX").string();
    path_ = ::mkdtemp(pattern.data());
  }
  ~Scratch() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
  }
  Scratch(const Scratch&) = delete;
  Scratch& operator=(const Scratch&) = delete;

  std::string operator/(const std::string& name) const { return (path_ / name).string(); }
  std::string path() const { return path_.string(); }
  // Writes a file and returns its path.
  std::string file(const std::string& name, const std::string& content) const {
    std::ofstream(*this / name, std::ios::binary) << content;
    return *this / name;
  }

 private:
  std::filesystem::path path_;
};

inline std::string contentOf(const std::string& path) {
  std::ifstream in(path, std::ios::binary);
  std::stringstream all;
  all << in.rdbuf();
  return all.str();
}

// Runs inselberg-cli with these arguments (already quoted for a shell).
inline Ran runCli(const std::string& arguments) {
  const Scratch scratch;
  const std::string command =
      std::string("'") + INSELBERG_CLI + "' " + arguments + " >'" + scratch / "out" + "' 2>'" + scratch / "err" + "'";
  const int status = std::system(command.c_str());
  return {WIFEXITED(status) ? WEXITSTATUS(status) : 128, contentOf(scratch / "out"), contentOf(scratch / "err")};
}

inline nlohmann::json jsonFrom(const Ran& ran) {
  return nlohmann::json::parse(ran.out);
}

// What the command line reports of a project.
inline nlohmann::json reportOf(const std::string& path) {
  return jsonFrom(runCli("report '" + path + "' --json"));
}

inline std::string demo(const std::string& name) {
  return std::string(INSELBERG_SOURCE_DIR) + "/demo/tolwin/" + name;
}

}  // namespace inselberg::testing
