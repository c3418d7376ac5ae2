// Places as people type them.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "plane/geometry.h"

namespace inselberg::plane {

// "412010.5 6187020" is easting and northing; "+5 -3" (both with a sign) so far east and north of `from`; "25 at 120"
// so far from `from` on the bearing in degrees, clockwise from grid north; both in lengths of `unit` metres. Blanks, a
// comma followed by a blank, or a semicolon part the numbers; a decimal comma is understood. Relative to the origin;
// nothing when the text is no place, or needs a `from` and there is none.
std::optional<Vec2> parsePlace(std::string_view text, const Origin& origin, std::optional<Vec2> from, double unit = 1);

// "E 412010.50 N 6187020.00", as places are told in messages.
std::string placeText(Vec2 p, const Origin& origin);

}  // namespace inselberg::plane
