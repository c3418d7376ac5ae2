#include "base/measures.h"

#include <cmath>

#include "base/quantity.h"
#include "base/text.h"

namespace inselberg {

namespace {

constexpr double kYard = 3 * kMetresPerFoot;
constexpr double kCubicYard = kYard * kYard * kYard;

}  // namespace

const char* unitOf(Quantity quantity, const Measures& measures) {
  switch (quantity) {
    case Quantity::volume:
      return measures.imperial ? "yd³" : "m³";
    case Quantity::area:
      return measures.imperial ? "acres" : "m²";
    case Quantity::length:
      return measures.imperial ? "ft" : "m";
  }
  return "";
}

double inUnit(double value, Quantity quantity, const Measures& measures) {
  constexpr double kAcre = 4840 * kYard * kYard;
  if (!measures.imperial) return value;
  switch (quantity) {
    case Quantity::volume:
      return value / kCubicYard;
    case Quantity::area:
      return value / kAcre;
    case Quantity::length:
      return value / kMetresPerFoot;
  }
  return value;
}

std::string shownNumber(double value, Quantity quantity, const Measures& measures) {
  const double v = inUnit(value, quantity, measures);
  if (quantity == Quantity::volume)
    return formatNumber(std::round(v / measures.roundTo) * measures.roundTo, measures.roundTo < 1 ? 1 : 0);
  return formatNumber(v, quantity == Quantity::area && !measures.imperial ? 0 : 2);
}

std::string shown(double value, Quantity quantity, const Measures& measures) {
  if (quantity == Quantity::area && measures.imperial && inUnit(value, quantity, measures) <= 0.1)
    return formatNumber(value / (kMetresPerFoot * kMetresPerFoot), 0) + " ft²";
  return shownNumber(value, quantity, measures) + " " + unitOf(quantity, measures);
}

std::optional<double> parseVolume(std::string_view text, const Measures& measures) {
  text = trimmed(text);
  double unit = measures.imperial ? kCubicYard : 1;
  if (takeSuffix(text, "m³") || takeSuffix(text, "m3")) {
    unit = 1;
  } else if (takeSuffix(text, "yd³") || takeSuffix(text, "yd3") || takeSuffix(text, "cu yd")) {
    unit = kCubicYard;
  }
  const auto number = parseTyped(text);
  return number ? std::optional(*number * unit) : std::nullopt;
}

}  // namespace inselberg
