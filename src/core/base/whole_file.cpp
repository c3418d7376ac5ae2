#include "base/whole_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>
#include <cstring>

#include "base/error.h"

namespace inselberg {

void failWrite(const std::string& path, int code) {
  const char* hint = "choose another place";
  if (code == ENOSPC || code == EDQUOT) hint = "the disk is full: free some space or choose another place";
  if (code == EACCES || code == EROFS || code == EPERM) hint = "the place is read-only for you: choose another";
  if (code == ENOENT || code == ENOTDIR) hint = "the folder does not exist: make it first";
  throw Error(std::string("the file cannot be written: ") + std::strerror(code), {path}, hint);
}

void writeBeside(const std::string& path, const std::string& ending,
                 const std::function<void(const std::string& part)>& fill) {
  struct stat info;
  const bool exists = ::stat(path.c_str(), &info) == 0;
  if (exists && S_ISDIR(info.st_mode)) throw Error("this is a folder", {path}, "name a file in it");
  if (exists && !S_ISREG(info.st_mode)) throw Error("this is no ordinary file", {path}, "choose another name");
  if (exists && ::access(path.c_str(), W_OK) != 0)
    throw Error("the file is read-only", {path}, "write it under another name");
  // A name of our own: made, so that nobody else takes it, then left to `fill`.
  std::string part = path + ".part-XXXXXX" + ending;
  const int made = ::mkstemps(part.data(), static_cast<int>(ending.size()));
  if (made < 0) failWrite(path, errno);
  ::close(made);
  ::unlink(part.c_str());
  const auto give = [&](int code) { failWrite(path, code); };
  int fd = -1;
  try {
    fill(part);
    fd = ::open(part.c_str(), O_RDONLY | O_CLOEXEC);
    if (fd < 0) give(errno);
    const mode_t mask = ::umask(0);
    ::umask(mask);
    if (::fchmod(fd, exists ? info.st_mode & 07777 : 0666 & ~mask) != 0) give(errno);
    if (::fsync(fd) != 0 || ::rename(part.c_str(), path.c_str()) != 0) give(errno);
    ::close(fd);
  } catch (...) {
    if (fd >= 0) ::close(fd);
    ::unlink(part.c_str());
    throw;
  }
}

}  // namespace inselberg
