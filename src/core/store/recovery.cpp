// A recovery file is written whole once, held by a lock of its own, and brought up to date in place from then on. Files
// that nobody holds are abandoned: what an unfinished update left is put back before they are read.
#include "store/recovery.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <cerrno>
#include <chrono>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <utility>

#include "base/error.h"
#include "store/project_file.h"

namespace inselberg::store {
namespace fs = std::filesystem;

namespace {
constexpr const char* kJournal = "-journal";  // what SQLite keeps beside a file while it writes
}  // namespace

FileLock::FileLock(const std::string& path) {
  for (int tries = 0; tries < 5; ++tries) {
    fd_ = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (fd_ < 0) return;
    struct stat own, there;
    const bool taken = ::flock(fd_, LOCK_EX | LOCK_NB) == 0;
    busy_ = !taken && errno == EWOULDBLOCK;
    // The file may have been replaced between opening and locking.
    const bool same = ::fstat(fd_, &own) == 0 && ::stat(path.c_str(), &there) == 0 && own.st_dev == there.st_dev &&
                      own.st_ino == there.st_ino;
    if (taken && same) return;
    ::close(fd_);
    fd_ = -1;
    if (!taken) return;
  }
}

FileLock::~FileLock() {
  if (fd_ >= 0) ::close(fd_);
}

FileLock::FileLock(FileLock&& other) noexcept : fd_(std::exchange(other.fd_, -1)), busy_(other.busy_) {}

FileLock& FileLock::operator=(FileLock&& other) noexcept {
  std::swap(fd_, other.fd_);
  std::swap(busy_, other.busy_);
  return *this;
}

void FileLock::take(int fd) {
  const int own = ::fcntl(fd, F_DUPFD_CLOEXEC, 0);
  if (own >= 0 && ::flock(own, LOCK_EX | LOCK_NB) != 0) {
    ::close(own);
    return;
  }
  if (fd_ >= 0) ::close(fd_);
  fd_ = own;
  busy_ = false;
}

FileState stateOf(const std::string& path) {
  struct stat info;
  if (::stat(path.c_str(), &info) != 0) return {};
  return {info.st_dev, info.st_ino, static_cast<unsigned long long>(info.st_size), info.st_mtim.tv_sec,
          info.st_mtim.tv_nsec};
}

bool sameFile(const std::string& a, const std::string& b) {
  const FileState first = stateOf(a), second = stateOf(b);
  return first != FileState{} && first.device == second.device && first.number == second.number;
}

std::string stateFolder() {
  const char* state = std::getenv("XDG_STATE_HOME");
  const char* home = std::getenv("HOME");
  fs::path folder = state && *state ? fs::path(state) : fs::path(home ? home : "/tmp") / ".local" / "state";
  std::error_code code;
  fs::create_directories(folder, code);
  folder /= "inselberg";
  const auto fail = [&](const char* what, int number) {
    throw Error(fmt::format("the folder for recovery files cannot be {}: {}", what, std::strerror(number)),
                {folder.string()}, "check its permissions");
  };
  if (::mkdir(folder.c_str(), 0700) != 0 && errno != EEXIST) fail("made", errno);
  struct stat info;
  if (::stat(folder.c_str(), &info) != 0) fail("used", errno);
  if (info.st_uid == ::geteuid() && (info.st_mode & 077) != 0) ::chmod(folder.c_str(), 0700);
  if (::access(folder.c_str(), R_OK | W_OK | X_OK) != 0) fail("written to", errno);
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

Recovery::Recovery(std::string folder) : path_(freshName(folder)) {}

void Recovery::keep(const project::Project& project, const std::string& original) {
  if (lock_.held() && fs::exists(path_)) {
    try {
      return update(project, path_, original);
    } catch (const Error&) {
      // Somebody meddled with it: written anew.
    }
  }
  save(project, path_, original, {.mode = 0600, .ready = [this](int fd) { lock_.take(fd); }});
}

void Recovery::discard() {
  std::error_code ignored;
  fs::remove(path_, ignored);
  fs::remove(path_ + kJournal, ignored);
  lock_ = FileLock();
}

Found abandoned(const std::string& folder) {
  sweep(folder);
  std::vector<std::pair<fs::file_time_type, std::string>> files;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const std::string name = entry.path().filename().string();
    // What versions before left behind: locks as files of their own, and parts beside what they were to become.
    if (name.ends_with(kJournal)) {
      // Of a recovery file that is gone.
      const std::string of = entry.path().string().substr(0, entry.path().string().size() - std::strlen(kJournal));
      if (!fs::exists(of)) fs::remove(entry.path(), code);
    } else if (name.ends_with(".lock") || name.find(".part-") != std::string::npos) {
      if (FileLock(entry.path().string()).held()) fs::remove(entry.path(), code);
    } else if (name.starts_with("recovery-") && name.ends_with(".inselberg")) {
      files.emplace_back(entry.last_write_time(code), entry.path().string());
    }
  }
  std::sort(files.rbegin(), files.rend());
  Found found;
  for (const auto& [time, path] : files) {
    FileLock lock(path);
    if (!lock.held()) continue;
    try {
      if (fs::exists(path + kJournal)) rollBack(path);
      Opened opened = open(path);
      found.files.push_back({path, std::move(opened.session), std::move(opened.project), std::move(lock)});
    } catch (const Error& e) {
      found.damaged.push_back(e.what());
    }
  }
  return found;
}

void remove(const Abandoned& file) {
  std::error_code ignored;
  fs::remove(file.path, ignored);
}

}  // namespace inselberg::store
