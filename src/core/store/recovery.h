// Recovery files: what is open and not saved, kept in the user's state folder while the program runs.
#pragma once

#include <string>
#include <vector>

#include "project/project.h"

namespace inselberg::store {

// A lock that ends with its holder, however that ends.
class FileLock {
 public:
  // Tries to take the lock; held() says whether it was free.
  explicit FileLock(const std::string& path);
  ~FileLock();
  FileLock(FileLock&& other) noexcept;
  FileLock& operator=(FileLock&&) = delete;
  bool held() const { return fd_ >= 0; }

 private:
  int fd_ = -1;
};

// $XDG_STATE_HOME/inselberg or ~/.local/state/inselberg, made when missing. Throws Error when it cannot be.
std::string stateFolder();

// One per window. The file exists only while there is something unsaved.
class Recovery {
 public:
  explicit Recovery(std::string folder);
  ~Recovery();  // leaves the file as it is, so that only discard() takes it away

  // Writes the project; `original` is the path it was opened from or saved to, empty for none. Throws Error.
  void keep(const project::Project& project, const std::string& original);
  void discard();

 private:
  std::string path_;
  FileLock lock_;
};

struct Abandoned {
  std::string path;
  std::string original;  // path of the project file, empty when it had none
  project::ProjectPtr project;
};

// Recovery files that no running program holds, newest first; damaged ones are passed over.
std::vector<Abandoned> abandoned(const std::string& folder);
void remove(const Abandoned& file);

}  // namespace inselberg::store
