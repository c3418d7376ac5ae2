// What a picture says about itself beside its pixels.
#pragma once

#include <cstdint>
#include <optional>
#include <string_view>

#include "plane/geometry.h"

namespace inselberg::sheet {

enum class PictureKind { png, jpeg, tiff };

struct PictureHead {
  int turn = 1;                           // how it is to be turned, 1 to 8, as EXIF and TIFF count
  std::optional<plane::Vec2> mmPerPixel;  // along its rows and columns as they are stored
  bool inverted = false;                  // inks stored as what they leave of the white
};

// What the first bytes are of; nothing for other files.
std::optional<PictureKind> pictureKind(std::string_view bytes);

// `page` (from 0) of a TIFF. What is damaged is not told; the pixels will tell.
PictureHead pictureHead(std::string_view bytes, PictureKind kind, int page);

}  // namespace inselberg::sheet
