// The colours that things are drawn in on paper.
#pragma once

#include "drawing/paper.h"

namespace inselberg::drawing {

inline constexpr Colour kInk = 0x22303a, kMuted = 0x6c7780, kRule = 0xd8d0c2, kCut = 0xc4571b, kFill = 0x14808a;

}  // namespace inselberg::drawing
