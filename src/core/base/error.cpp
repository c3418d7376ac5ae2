#include "base/error.h"

namespace inselberg {
namespace {

// A message is one line whatever the data it quotes holds.
std::string oneLine(std::string text) {
  for (char& c : text) {
    if (static_cast<unsigned char>(c) < 0x20 || c == 0x7f) c = ' ';
  }
  return text;
}

}  // namespace

Error::Error(std::string what, Where where, std::string hint)
    : happened_(std::move(what)), where_(std::move(where)), hint_(std::move(hint)) {
  std::string text;
  if (!where_.file.empty()) {
    text += where_.file;
    if (where_.line > 0) text += ":" + std::to_string(where_.line);
    text += ": ";
  }
  if (!where_.item.empty()) text += where_.item + ": ";
  text += happened_;
  if (!hint_.empty()) text += "; " + hint_;
  text_ = oneLine(std::move(text));
}

}  // namespace inselberg
