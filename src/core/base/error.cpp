#include "base/error.h"

#include "base/text.h"

namespace inselberg {
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
  text_ = oneLine(validUtf8(std::move(text)));  // whatever the data it quotes holds
}

}  // namespace inselberg
