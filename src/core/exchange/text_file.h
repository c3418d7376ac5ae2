// Whole text files in and out.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace inselberg::exchange {

// The text of a UTF-8 (or plain Latin) file, without a byte order mark. Throws Error for a path that is missing, a
// folder, unreadable, empty, UTF-16, or holds zero bytes.
std::string readText(const std::string& path);

// The bytes of a file; throws Error for a path that is missing, a folder, unreadable, empty, or no ordinary file (a
// device, a pipe).
std::string readBytes(const std::string& path);

// At most the first `most` bytes; throws Error as readBytes does.
std::string readBytesAhead(const std::string& path, std::size_t most);

// Writes the file whole or not at all: to a neighbour first, then renamed over `path`. On failure (no folder, no
// rights, full disk) throws Error, and an earlier file of that name is as it was.
void writeWhole(const std::string& path, std::string_view content);

// The 1-based line of a position in a text, counted from its start.
long lineAt(std::string_view text, std::size_t position);

// The same for many positions of one text: counted once.
class LineCounter {
 public:
  LineCounter() = default;
  // `text` must outlive it.
  explicit LineCounter(std::string_view text);
  long at(std::size_t position) const;

 private:
  std::string_view text_;
  std::vector<long> before_;  // line ends before each block of the text
};

}  // namespace inselberg::exchange
