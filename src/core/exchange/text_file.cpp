#include "exchange/text_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <limits>

#include "base/error.h"
#include "base/whole_file.h"

namespace inselberg::exchange {
namespace {

[[noreturn]] void failRead(const std::string& path, int code) {
  switch (code) {
    case ENOENT:
      throw Error("there is no such file", {path}, "check the path");
    case ENXIO:
      throw Error("this is no ordinary file", {path}, "copy its content into one");
    case EACCES:
      throw Error("the file may not be read", {path}, "check its permissions");
    default:
      throw Error(std::string("the file cannot be read: ") + std::strerror(code), {path},
                  "check the path and the disk");
  }
}

// Closes on every way out.
struct Descriptor {
  int fd = -1;
  ~Descriptor() {
    if (fd >= 0) ::close(fd);
  }
  int release() {
    const int f = fd;
    fd = -1;
    return f;
  }
};

bool writeAll(int fd, std::string_view content) {
  while (!content.empty()) {
    const ssize_t n = ::write(fd, content.data(), content.size());
    if (n < 0) {
      if (errno == EINTR) continue;
      return false;
    }
    content.remove_prefix(static_cast<std::size_t>(n));
  }
  return true;
}

}  // namespace

std::string readBytesAhead(const std::string& path, std::size_t most) {
  // Not held up by a pipe that nobody writes to; and what never ends is not begun.
  Descriptor file{::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK)};
  if (file.fd < 0) failRead(path, errno);
  struct stat info;
  if (::fstat(file.fd, &info) != 0) failRead(path, errno);
  if (S_ISDIR(info.st_mode)) throw Error("this is a folder", {path}, "name a file in it");
  if (!S_ISREG(info.st_mode)) throw Error("this is no ordinary file", {path}, "copy its content into one");
  std::string content;
  content.resize(std::min(most, static_cast<std::size_t>(std::max<off_t>(info.st_size, 0))));
  std::size_t got = 0;
  while (got < most) {
    if (got == content.size()) content.resize(std::min(most, got + 65536));
    const ssize_t n = ::read(file.fd, content.data() + got, content.size() - got);
    if (n < 0 && errno == EINTR) continue;
    if (n < 0) failRead(path, errno);
    if (n == 0) break;
    got += static_cast<std::size_t>(n);
  }
  content.resize(got);
  if (content.empty()) throw Error("the file is empty", {path}, "export it again");
  return content;
}

std::string readBytes(const std::string& path) {
  return readBytesAhead(path, std::numeric_limits<std::size_t>::max());
}

std::string readText(const std::string& path) {
  std::string text = readBytes(path);
  if (text.starts_with("\xff\xfe") || text.starts_with("\xfe\xff")) {
    throw Error("the file is UTF-16 text", {path, 1}, "save it as UTF-8");
  }
  if (const auto zero = text.find('\0'); zero != std::string::npos) {
    throw Error("the file is binary, not text", {path, lineAt(text, zero)}, "export it as text (UTF-8)");
  }
  if (text.starts_with("\xef\xbb\xbf")) text.erase(0, 3);
  if (text.find_first_not_of(" \t\r\n") == std::string::npos)
    throw Error("the file is empty", {path}, "export it again");
  return text;
}

void writeWhole(const std::string& path, std::string_view content) {
  const auto put = [&](const std::string& to, int flags) {
    Descriptor out{::open(to.c_str(), O_WRONLY | O_CLOEXEC | flags, 0600)};
    if (out.fd < 0 || !writeAll(out.fd, content)) failWrite(path, errno);
    if (::close(out.release()) != 0) failWrite(path, errno);
  };
  struct stat info;
  if (::stat(path.c_str(), &info) == 0 && !S_ISREG(info.st_mode) && !S_ISDIR(info.st_mode)) {
    put(path, 0);  // a device or a pipe: there is nothing to replace
  } else {
    writeBeside(path, "", [&](const std::string& part) { put(part, O_CREAT | O_EXCL); });
  }
}

long lineAt(std::string_view text, std::size_t position) {
  return 1 +
         std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(std::min(position, text.size())), '\n');
}

namespace {
constexpr std::size_t kBlock = 4096;
}

LineCounter::LineCounter(std::string_view text) : text_(text), before_{0} {
  for (std::size_t at = 0; at < text.size(); at += kBlock) {
    const std::string_view block = text.substr(at, kBlock);
    before_.push_back(before_.back() + std::count(block.begin(), block.end(), '\n'));
  }
}

long LineCounter::at(std::size_t position) const {
  const std::size_t block = std::min(position, text_.size()) / kBlock;
  return before_.empty() ? 0 : before_[block] + lineAt(text_.substr(block * kBlock), position - block * kBlock);
}

}  // namespace inselberg::exchange
