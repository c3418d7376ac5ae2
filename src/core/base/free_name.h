// Names that nothing else has.
#pragma once

#include <string>

namespace inselberg {

// The name itself, or the first of "name 2", "name 3"… that is not taken. `taken` is asked of each.
template <class Taken>
std::string freeName(const std::string& name, Taken&& taken) {
  std::string free = name;
  for (int k = 2; taken(free); ++k) free = name + " " + std::to_string(k);
  return free;
}

}  // namespace inselberg
