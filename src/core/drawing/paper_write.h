// Pages as files.
#pragma once

#include <span>
#include <string>

#include "drawing/paper.h"

namespace inselberg::drawing {

// Scalable: texts stay texts.
std::string asSvg(const Page& page);
// Throws Error when the library cannot make it.
std::string asPdf(std::span<const Page> pages);
std::string asPng(const Page& page, double dotsPerMm);

}  // namespace inselberg::drawing
