// Files that are written whole or not at all.
#pragma once

#include <functional>
#include <string>

namespace inselberg {

// Has `fill` write a neighbour of `path` (which is not there yet, and whose name ends in `ending`), brings it to the
// disk, and renames it over `path` with the permissions that file had. When anything fails, an Error of `fill` or of
// our own is thrown (for `path`, with what to do), an earlier file is as it was, and nothing is left beside it.
// REQUIRES: `path` is no device or pipe.
void writeBeside(const std::string& path, const std::string& ending,
                 const std::function<void(const std::string& part)>& fill);

// Throws the Error for a file that cannot be written, by the system's error number.
[[noreturn]] void failWrite(const std::string& path, int code);

}  // namespace inselberg
