// Recovery files: what is open and not saved, kept in the user's state folder while the program runs.
#pragma once

#include <string>
#include <vector>

#include "project/project.h"

namespace inselberg::store {

// Says that a project file is open for writing. The lock is on the file itself, whatever it is called: opened by a link
// it is the same lock. It ends with its holder, however that ends, and leaves nothing behind.
class FileLock {
 public:
  FileLock() = default;  // holds nothing
  // Tries to take the lock of the file at `path`.
  explicit FileLock(const std::string& path);
  ~FileLock();
  FileLock(FileLock&& other) noexcept;
  FileLock& operator=(FileLock&& other) noexcept;

  // False when another holds it, or there is no such file.
  bool held() const { return fd_ >= 0; }
  // True when the file is there and another holds its lock.
  bool heldByAnother() const { return busy_; }
  // Takes the lock of a file that is open and about to take a place (WriteRules::ready). Never fails: nobody else
  // knows the file yet.
  void take(int fd);

 private:
  int fd_ = -1;
  bool busy_ = false;
};

// Which file lies at a path, and in what state: equal as long as nobody wrote or replaced it.
struct FileState {
  unsigned long long device = 0, number = 0, size = 0;
  long long seconds = 0, nanoseconds = 0;
  bool operator==(const FileState&) const = default;
};
// All zero where there is no file.
FileState stateOf(const std::string& path);
// Whether both lead to one file that is there.
bool sameFile(const std::string& a, const std::string& b);

// $XDG_STATE_HOME/inselberg or ~/.local/state/inselberg, made when missing, for the user alone. Throws Error when it
// cannot be made or written to.
std::string stateFolder();

// One per window. The file exists only while there is something unsaved, and only its owner may read it.
class Recovery {
 public:
  explicit Recovery(std::string folder);

  // Writes what is new of the project; `original` is the path it was opened from or saved to, empty for none. Throws
  // Error.
  void keep(const project::Project& project, const std::string& original);
  void discard();

 private:
  std::string path_;
  FileLock lock_;  // of the file as it was kept last
};

struct Abandoned {
  std::string path;
  std::string original;  // path of the project file, empty when it had none
  project::ProjectPtr project;
  FileLock lock;  // so that no other program offers it too
};
struct Found {
  std::vector<Abandoned> files;      // newest first
  std::vector<std::string> damaged;  // paths of files that cannot be read, one sentence each; they stay where they are
};

// Recovery files that no running program holds. Sweeps away what killed programs left half written.
Found abandoned(const std::string& folder);
void remove(const Abandoned& file);

}  // namespace inselberg::store
