#include "base/measures.h"

#include <algorithm>
#include <cmath>
#include <regex>

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

double lengthUnit(const Measures& measures) {
  return measures.imperial ? kMetresPerFoot : 1;
}

double inLengthUnit(double metres, double unit) {
  return unit == 1 ? metres : std::round(metres / unit * 1e4) / 1e4;
}

std::string lengthNumber(double metres, int decimals, const Measures& measures) {
  return formatNumber(metres / lengthUnit(measures), measures.imperial ? std::min(decimals, 2) : decimals);
}

std::string shownLength(double metres, int decimals, const Measures& measures) {
  return lengthNumber(metres, decimals, measures) + " " + unitOf(Quantity::length, measures);
}

std::string shownArea(double area, int decimals, const Measures& measures) {
  const double unit = lengthUnit(measures);
  return formatNumber(area / (unit * unit), decimals) + (measures.imperial ? " ft²" : " m²");
}

double roundLength(double wanted, const Measures& measures) {
  const double unit = lengthUnit(measures);
  return roundStep(wanted / unit) * unit;
}

std::string toldIn(std::string_view sentence, const Measures& measures) {
  static const std::regex told("([0-9]+(?: [0-9]{3})*(?:[.]([0-9]+))?)\u00a0m(²|³)?");
  std::string text;
  const char *from = sentence.data(), *const end = from + sentence.size();
  std::cmatch found;
  for (; std::regex_search(from, end, found, told); from = found[0].second) {
    text.append(from, found[0].first);
    const double value = parseTyped(found[1].str()).value_or(0);
    const int decimals = static_cast<int>(found[2].length());
    if (!measures.imperial)
      text += found[1].str() + " m" + found[3].str();
    else if (found[3] == "³")
      text += formatNumber(inUnit(value, Quantity::volume, measures), decimals) + " yd³";
    else
      text += found[3].matched ? shownArea(value, decimals, measures) : shownLength(value, decimals, measures);
  }
  return text.append(from, end);
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
