// Files that are written whole or not at all.
#pragma once

#include <sys/types.h>

#include <functional>
#include <optional>
#include <string>

namespace inselberg {

struct WriteRules {
  std::optional<mode_t> mode;      // permissions of the file; else those it had, else what the system gives new files
  std::function<void(int)> ready;  // called with the finished file, open, just before it takes its place
};

// Has `fill` write a file of the name it is given (which is not there yet, and ends in `ending`), brings that to the
// disk, and puts it in the place of `path`:
//  1. when anything fails, an Error of `fill` or of our own is thrown (for `path`, with what to do), an earlier file is
//     as it was, and nothing is left beside it;
//  2. a symbolic link stays, and what it leads to is written;
//  3. the file is written in a folder only the owner can look into, held open throughout, so that nobody can put a file
//     or link of theirs in its place;
//  4. what an earlier run left in that folder when it was killed is swept away.
// REQUIRES: `path` is no device or pipe.
void writeBeside(const std::string& path, const std::string& ending,
                 const std::function<void(const std::string& part)>& fill, const WriteRules& rules = {});

// Removes what runs that were killed while writing left in a folder; what another run is writing stays. Says nothing.
void sweep(const std::string& folder);

// Where a path leads once symbolic links at its end are followed; the path itself where there is none. Throws Error for
// links that lead in a circle.
std::string linkTarget(const std::string& path);

// Throws the Error for a file that cannot be written, by the system's error number.
[[noreturn]] void failWrite(const std::string& path, int code);

}  // namespace inselberg
