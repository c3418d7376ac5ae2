// The units of length that files are written in, by the names we show.
#pragma once

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <string>
#include <string_view>

#include "base/quantity.h"

namespace inselberg::exchange {

struct LengthUnit {
  std::string_view name;
  double metres;
};

constexpr std::array kLengthUnits{LengthUnit{"m", 1},
                                  LengthUnit{"ft", kMetresPerFoot},
                                  LengthUnit{"us-ft", kMetresPerSurveyFoot},
                                  LengthUnit{"mm", 1e-3},
                                  LengthUnit{"cm", 1e-2},
                                  LengthUnit{"dm", 0.1},
                                  LengthUnit{"km", 1e3},
                                  LengthUnit{"in", kMetresPerFoot / 12},
                                  LengthUnit{"yd", 3 * kMetresPerFoot},
                                  LengthUnit{"mile", 5280 * kMetresPerFoot}};

// REQUIRES: a name of the list.
constexpr double metresOf(std::string_view name) {
  for (const LengthUnit& unit : kLengthUnits) {
    if (unit.name == name) return unit.metres;
  }
  return 0;
}

// The name of the unit of this size (within 1e-9 of it); "0.5 m" for one that has none.
inline std::string unitNameOf(double metres) {
  for (const LengthUnit& unit : kLengthUnits) {
    if (std::abs(unit.metres - metres) <= 1e-9 * metres) return std::string(unit.name);
  }
  return fmt::format("{} m", metres);
}

}  // namespace inselberg::exchange
