#include "base/measures.h"

#include <cmath>

#include "base/quantity.h"

namespace inselberg {

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
  constexpr double kYard = 3 * kMetresPerFoot, kAcre = 4840 * kYard * kYard;
  if (!measures.imperial) return value;
  switch (quantity) {
    case Quantity::volume:
      return value / (kYard * kYard * kYard);
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

}  // namespace inselberg
