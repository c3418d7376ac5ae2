// Words without their capitals.
#pragma once

#include <cctype>
#include <string>

namespace inselberg {

// ASCII letters only; other bytes stay as they are.
inline std::string lowerCase(std::string text) {
  for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

}  // namespace inselberg
