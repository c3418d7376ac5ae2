// The part is written in a folder of its own beside the file, readable by nobody else and locked while it is in use. It
// is reached through the process's own handle of that folder (/proc/self/fd), so that renaming the folder away and
// putting another in its place changes nothing.
#include "base/whole_file.h"

#include <dirent.h>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <climits>
#include <cstdlib>
#include <cstring>
#include <string_view>
#include <vector>

#include "base/error.h"

namespace inselberg {
namespace {

constexpr std::string_view kPartFolder = ".inselberg-part-";

class Handle {
 public:
  explicit Handle(int fd) : fd_(fd) {}
  ~Handle() {
    if (fd_ >= 0) ::close(fd_);
  }
  Handle(const Handle&) = delete;
  Handle& operator=(const Handle&) = delete;
  int fd() const { return fd_; }
  explicit operator bool() const { return fd_ >= 0; }

 private:
  int fd_;
};

std::string folderOf(const std::string& path) {
  const auto slash = path.find_last_of('/');
  return slash == std::string::npos ? "." : slash == 0 ? "/" : path.substr(0, slash);
}

// Empties and removes a folder of parts; `folder` is where it lies, `inside` the folder itself.
void removePart(int folder, int inside, const char* name) {
  const int copy = ::openat(inside, ".", O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (DIR* list = copy < 0 ? nullptr : ::fdopendir(copy)) {
    while (const dirent* entry = ::readdir(list)) ::unlinkat(inside, entry->d_name, 0);
    ::closedir(list);
  }
  ::unlinkat(folder, name, AT_REMOVEDIR);
}

// A folder for a part, made and locked; gone with everything in it at the end.
class PartFolder {
 public:
  PartFolder(const std::string& beside, const std::string& path) {
    folder_ = ::open(beside.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (folder_ < 0) failWrite(path, errno);
    std::string pattern = beside + "/" + std::string(kPartFolder) + "XXXXXX";
    if (!::mkdtemp(pattern.data())) fail(path);
    name_ = pattern.substr(pattern.find_last_of('/') + 1);
    inside_ = ::openat(folder_, name_.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC);
    struct stat info;
    if (inside_ < 0 || ::fstat(inside_, &info) != 0) fail(path);
    if (info.st_uid != ::geteuid() || (info.st_mode & 077) != 0) {
      errno = EACCES;
      fail(path);
    }
    ::flock(inside_, LOCK_EX | LOCK_NB);
  }
  ~PartFolder() {
    if (inside_ >= 0) {
      removePart(folder_, inside_, name_.c_str());
      ::close(inside_);
    }
    if (folder_ >= 0) ::close(folder_);
  }
  PartFolder(const PartFolder&) = delete;
  PartFolder& operator=(const PartFolder&) = delete;

  int folder() const { return folder_; }
  int inside() const { return inside_; }
  // A name for a file in it that leads there whatever becomes of the folder's own name.
  std::string reach(const std::string& file) const { return "/proc/self/fd/" + std::to_string(inside_) + "/" + file; }

 private:
  [[noreturn]] void fail(const std::string& path) {
    const int code = errno;
    if (inside_ >= 0) ::close(inside_);
    ::close(folder_);
    failWrite(path, code);
  }
  int folder_ = -1, inside_ = -1;
  std::string name_;
};

}  // namespace

void failWrite(const std::string& path, int code) {
  const char* hint = "choose another place";
  if (code == ENOSPC || code == EDQUOT) hint = "the disk is full: free some space or choose another place";
  if (code == EFBIG) hint = "files may not grow that large here: raise the limit or choose another place";
  if (code == EACCES || code == EROFS || code == EPERM) hint = "the place is read-only for you: choose another";
  if (code == ENOENT || code == ENOTDIR) hint = "the folder does not exist: make it first";
  if (code == ENAMETOOLONG) hint = "shorten the name";
  throw Error(std::string("the file cannot be written: ") + std::strerror(code), {path}, hint);
}

std::string linkTarget(const std::string& path) {
  std::string at = path;
  for (int steps = 0; steps < 40; ++steps) {
    char to[PATH_MAX];
    const ssize_t length = ::readlink(at.c_str(), to, sizeof to);
    if (length < 0) return at;
    const std::string target(to, static_cast<std::size_t>(length));
    at = target.starts_with('/') ? target : folderOf(at) + "/" + target;
  }
  throw Error("the link leads in a circle", {path}, "choose another name");
}

void sweep(const std::string& folder) {
  const Handle held(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  DIR* list = ::opendir(folder.c_str());
  if (!held || !list) {
    if (list) ::closedir(list);
    return;
  }
  std::vector<std::string> found;
  while (const dirent* entry = ::readdir(list)) {
    if (std::string_view(entry->d_name).starts_with(kPartFolder)) found.emplace_back(entry->d_name);
  }
  ::closedir(list);
  for (const std::string& name : found) {
    const Handle inside(::openat(held.fd(), name.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC));
    struct stat info;
    if (!inside || ::fstat(inside.fd(), &info) != 0 || info.st_uid != ::geteuid()) continue;
    if (::flock(inside.fd(), LOCK_EX | LOCK_NB) == 0) removePart(held.fd(), inside.fd(), name.c_str());
  }
}

void writeBeside(const std::string& name, const std::string& ending,
                 const std::function<void(const std::string& part)>& fill, const WriteRules& rules) {
  const std::string path = linkTarget(name);
  struct stat info;
  const bool exists = ::stat(path.c_str(), &info) == 0;
  if (exists && S_ISDIR(info.st_mode)) throw Error("this is a folder", {name}, "name a file in it");
  if (exists && !S_ISREG(info.st_mode)) throw Error("this is no ordinary file", {name}, "choose another name");
  if (exists && ::access(path.c_str(), W_OK) != 0)
    throw Error("the file is read-only", {name}, "write it under another name");
  const std::string folder = folderOf(path), base = path.substr(path.find_last_of('/') + 1);
  if (base.size() > NAME_MAX) failWrite(name, ENAMETOOLONG);
  sweep(folder);
  const PartFolder parts(folder, name);
  const std::string part = "part" + ending;
  fill(parts.reach(part));
  const Handle made(::openat(parts.inside(), part.c_str(), O_RDONLY | O_NOFOLLOW | O_CLOEXEC));
  if (!made) failWrite(name, errno);
  const mode_t mask = ::umask(0);
  ::umask(mask);
  if (::fchmod(made.fd(), rules.mode.value_or(exists ? info.st_mode & 07777 : 0666 & ~mask)) != 0 ||
      ::fsync(made.fd()) != 0)
    failWrite(name, errno);
  if (rules.ready) rules.ready(made.fd());
  if (::renameat(parts.inside(), part.c_str(), parts.folder(), base.c_str()) != 0) failWrite(name, errno);
  ::fsync(parts.folder());  // where a folder can be brought to the disk, the new name is
}

}  // namespace inselberg
