#include "store/recovery.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdlib>
#include <filesystem>

#include "base/error.h"
#include "store/project_file.h"

namespace inselberg::store {
namespace fs = std::filesystem;

FileLock::FileLock(const std::string& path) {
  fd_ = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  if (fd_ >= 0 && ::flock(fd_, LOCK_EX | LOCK_NB) != 0) {
    ::close(fd_);
    fd_ = -1;
  }
}

FileLock::~FileLock() {
  if (fd_ >= 0) ::close(fd_);
}

FileLock::FileLock(FileLock&& other) noexcept : fd_(other.fd_) {
  other.fd_ = -1;
}

std::string stateFolder() {
  const char* state = std::getenv("XDG_STATE_HOME");
  const char* home = std::getenv("HOME");
  fs::path folder = state && *state ? fs::path(state) : fs::path(home ? home : "/tmp") / ".local" / "state";
  folder /= "inselberg";
  std::error_code code;
  fs::create_directories(folder, code);
  if (code)
    throw Error("the folder for recovery files cannot be made: " + code.message(), {folder.string()},
                "check its permissions");
  return folder.string();
}

namespace {

std::string freshName(const std::string& folder) {
  // The time keeps a later process of the same number from writing over what an earlier one left.
  static std::atomic<int> number{0};
  const auto now = std::chrono::system_clock::now().time_since_epoch().count();
  return (fs::path(folder) / fmt::format("recovery-{:x}-{}-{}.inselberg", now, ::getpid(), ++number)).string();
}

}  // namespace

Recovery::Recovery(std::string folder) : path_(freshName(folder)), lock_(path_ + ".lock") {}

Recovery::~Recovery() {
  if (!fs::exists(path_)) {
    std::error_code ignored;
    fs::remove(path_ + ".lock", ignored);
  }
}

void Recovery::keep(const project::Project& project, const std::string& original) {
  save(project, path_, original);
}

void Recovery::discard() {
  std::error_code ignored;
  fs::remove(path_, ignored);
}

std::vector<Abandoned> abandoned(const std::string& folder) {
  std::vector<std::pair<fs::file_time_type, std::string>> files;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const std::string name = entry.path().filename().string();
    if (name.starts_with("recovery-") && name.ends_with(".inselberg"))
      files.emplace_back(entry.last_write_time(code), entry.path().string());
  }
  std::sort(files.rbegin(), files.rend());
  std::vector<Abandoned> found;
  for (const auto& [time, path] : files) {
    if (!FileLock(path + ".lock").held()) continue;
    try {
      Opened opened = open(path);
      found.push_back({path, std::move(opened.session), std::move(opened.project)});
    } catch (const Error&) {
      // Cut off in the middle or damaged: nothing to offer. The whole file before it was replaced only when complete.
    }
  }
  return found;
}

void remove(const Abandoned& file) {
  std::error_code ignored;
  fs::remove(file.path, ignored);
  fs::remove(file.path + ".lock", ignored);
}

}  // namespace inselberg::store
