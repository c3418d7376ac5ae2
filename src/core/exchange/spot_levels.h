// Levels that a drawing has only as writing: texts beside points, attributes of survey marks.
#pragma once

#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "exchange/imported.h"

namespace inselberg::exchange {

// A text that is nothing but a level: a number, with a decimal point or comma, after a mark like "RL", "EL" or "Z=" and
// before an "m" if at all.
struct WrittenLevel {
  double level = 0;
  double rounding = 0;  // half a unit of the last digit written
  bool decimals = false;
  std::size_t digits = 0;  // characters of the text
};
std::optional<WrittenLevel> spotLevelOf(std::string_view text);

// Whether an attribute or column of this name holds a level ("Level", "elev_m", "RL", "contour", ...).
bool isLevelName(std::string_view name);

using Attributes = std::vector<std::pair<std::string, std::string>>;  // NAME (upper case), value

// The attribute that holds a level by its name ("LEVEL", "ELEVATION", "RL", "Z", ...); nothing when none does.
std::optional<WrittenLevel> levelAttribute(const Attributes& attributes);
// The value of the first attribute with one of the names; empty when there is none.
std::string attributeValue(const Attributes& attributes, std::initializer_list<std::string_view> names);

// A level written in a drawing; lengths in metres.
struct SpotLevel {
  plane::Vec3 at;
  double height = 0, width = 0;  // of the text
  double level = 0, rounding = 0;
  bool hasDecimals = false;
  LayerIndex layer = 0;
  long line = 0;
};

// Sorts out what each written level belongs to, nearest first, and adds it to `out`:
//  1. beside a point whose level is zero, that point takes the level;
//  2. beside a point or on a line that has this level already, it is a label, and left;
//  3. else it becomes a point at its own place.
// Whole numbers count only on layers where most written levels have decimals (elsewhere they number lots or chainages).
// What was done is told in remarks.
void settleSpotLevels(const std::vector<SpotLevel>& spots, Imported& out);

}  // namespace inselberg::exchange
