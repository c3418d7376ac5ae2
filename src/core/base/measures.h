// How quantities are told: in metres, or in yards, acres and feet; and how volumes are rounded where they are shown.
// Nothing is computed in any of these.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace inselberg {

struct Measures {
  bool imperial = false;
  double roundTo = 1;  // volumes, in the unit they are told in
  bool operator==(const Measures&) const = default;
};

enum class Quantity { volume, area, length };

// "m³", "m²", "m"; "yd³", "acres", "ft".
const char* unitOf(Quantity quantity, const Measures& measures);
// Of a value in cubic metres, square metres or metres. An acre is 4046.8564224 m², a foot 0.3048 m.
double inUnit(double value, Quantity quantity, const Measures& measures);
// Its number as it is shown, without and with the unit: volumes rounded as the measures say, square metres whole,
// acres, metres and feet to hundredths. With the unit, a tenth of an acre or less is told in square feet.
std::string shownNumber(double value, Quantity quantity, const Measures& measures);
std::string shown(double value, Quantity quantity, const Measures& measures);

// Metres in the unit of length, which a length typed without a unit is in too.
double lengthUnit(const Measures& measures);
// So many times `unit` metres; feet to 0.0001, so that what was typed is shown as it was typed.
double inLengthUnit(double metres, double unit);
// A length or level with this many decimals of a metre, of a foot at most two; without and with the unit.
std::string lengthNumber(double metres, int decimals, const Measures& measures);
std::string shownLength(double metres, int decimals, const Measures& measures);
// An area with this many decimals, in square metres or square feet.
std::string shownArea(double area, int decimals, const Measures& measures);
// 1, 2 or 5 times a power of ten of the unit of length, near `wanted`; both in metres. REQUIRES: above 0.
double roundLength(double wanted, const Measures& measures);

// A sentence that is kept in metres, in these measures: each length, level, area and volume in it stands before a blank
// that does not break and its unit ("12.50\u00a0m", "320\u00a0m²", "40\u00a0m³"), by which it is told from names.
std::string toldIn(std::string_view sentence, const Measures& measures);

// A volume as typed, in cubic metres: "1500 m³", "1500 m3", "2000 yd³", "2000 yd3", "2000 cu yd"; without a unit in the
// one that volumes are told in. Nothing when the text is none.
std::optional<double> parseVolume(std::string_view text, const Measures& measures);

}  // namespace inselberg
