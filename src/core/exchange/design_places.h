// Places, slopes and numbers as the design file writes them; for the sources of this folder.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>

#include "base/json_cursor.h"
#include "works/section_json.h"
#include "works/works.h"

namespace inselberg::exchange {

using plane::Origin;
using plane::Vec2;
using works::Places;
using OrderedJson = nlohmann::ordered_json;

// All of these throw Error, with the place in the file, for what is no such thing.
// A point as it is written, relative to the origin; a list of them; a line of two or more.
Vec2 pointFrom(const JsonCursor& at, const Origin& origin);
Places pointsFrom(const JsonCursor& at, const Origin& origin);
Places lineFrom(const JsonCursor& at, const Origin& origin);
// [easting, northing, number]
plane::Vec3 threeFrom(const JsonCursor& at, const Origin& origin);

// An outline as it is written, made counter-clockwise from the same first corner.
struct Outline {
  plane::Ring ring;
  bool clockwise = false;
};
Outline outlineFrom(const JsonCursor& at, const Origin& origin);

// What is said, or the other where nothing is.
double slopeOr(const std::optional<JsonCursor>& at, double run);
double numberOr(const std::optional<JsonCursor>& at, double value);
// The same of a number that is not negative.
double lengthOr(const std::optional<JsonCursor>& at, double value);

OrderedJson pointJson(Vec2 p, const Origin& origin);
OrderedJson pointsJson(const Places& points, const Origin& origin);
OrderedJson slopeJson(Slope slope);

}  // namespace inselberg::exchange
