// Limits, forms and words of fields, in one place for the window, the command line and the files.
#include "works/field.h"

#include <fmt/format.h>

#include <cmath>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/quantity.h"
#include "plane/polygon.h"

namespace inselberg::works {
namespace {

std::string shortest(double value) {
  return fmt::format("{:.10g}", value);
}

std::string listed(const std::vector<std::string>& words) {
  std::string text;
  for (std::size_t i = 0; i < words.size(); ++i)
    text += (i == 0 ? "" : i + 1 == words.size() ? " or " : ", ") + words[i];
  return text;
}

std::string howToWrite(const Field& field, bool relative) {
  switch (field.measure) {
    case Measure::level:
    case Measure::length:
      return relative ? "write metres, like 79.5, or a change, like +0.25" : "write metres, like 79.5";
    case Measure::slope:
      return "write it like 2:1, 33 % or 26.6 deg";
    case Measure::percent:
      return "write a number of percent, like 2.5";
    case Measure::bearing:
      return "write degrees clockwise from north, like 135";
    case Measure::choice:
      return "write " + listed(field.words);
    default:
      return "write yes or no";
  }
}

// A number of percent or degrees, with its unit or without.
std::optional<double> parsedPlain(std::string_view text, std::string_view unit) {
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  if (text.ends_with(unit)) text.remove_suffix(unit.size());
  return parseNumber(text);
}

std::optional<double> number(const Field& field, std::string_view text, std::optional<double> current) {
  switch (field.measure) {
    case Measure::slope: {
      const auto slope = parseSlope(text);
      return slope ? std::optional(slope->run()) : std::nullopt;
    }
    case Measure::percent:
      return parsedPlain(text, "%");
    case Measure::bearing:
      return parsedPlain(text, "°");
    default:
      if (const auto plain = current ? std::nullopt : parseNumber(text)) return plain;
      return parseLength(text, current);
  }
}

}  // namespace

const char* unitOf(Measure m) {
  switch (m) {
    case Measure::level:
    case Measure::length:
      return " m";
    case Measure::percent:
      return " %";
    case Measure::bearing:
      return "°";
    case Measure::slope:
      return ":1";
    default:
      return "";
  }
}

std::optional<std::string> wrong(const Field& field, const Value& value) {
  if (isNumber(field.measure)) {
    const double v = std::get<double>(value);
    const double least = field.measure == Measure::slope ? std::max(field.least, kSteepest) : field.least;
    const double most = field.measure == Measure::slope ? std::min(field.most, kFlattest) : field.most;
    if (v >= least && v <= most) return std::nullopt;
    return fmt::format("must lie between {} and {}{}", shortest(least), shortest(most), unitOf(field.measure));
  }
  if (field.measure == Measure::choice && std::get<std::size_t>(value) >= field.words.size())
    return "must be " + listed(field.words);
  if (!isPlaces(field.measure)) return std::nullopt;
  const Places& places = std::get<Places>(value);
  if (field.measure == Measure::line) {
    if (places.size() < 2) return "needs two points at least";
    for (std::size_t i = 1; i < places.size(); ++i) {
      if (places[i] == places[i - 1]) return "has the same point twice in a row";
    }
    return std::nullopt;
  }
  try {
    if (plane::sound({places, {}}, {}).outer == places) return std::nullopt;
    return "has a point twice in a row or runs clockwise";
  } catch (const Error& e) {
    return e.happened();
  }
}

Value parsed(const Field& field, std::string_view text, std::optional<double> current) {
  const auto refuse = [&](const std::string& why) {
    throw Error(fmt::format("{} {}", field.label, why), howToWrite(field, current.has_value()));
  };
  Value value;
  if (isNumber(field.measure)) {
    const auto typed = number(field, text, current);
    if (!typed) refuse(fmt::format("cannot be \"{}\"", text));
    value = *typed;
  } else if (field.measure == Measure::choice) {
    std::size_t i = 0;
    while (i < field.words.size() && field.words[i] != lowerCase(std::string(text))) ++i;
    value = i;
  } else {
    const std::string word = lowerCase(std::string(text));
    if (word != "yes" && word != "no") refuse(fmt::format("cannot be \"{}\"", text));
    value = word == "yes";
  }
  if (const auto why = wrong(field, value)) refuse(*why);
  return value;
}

std::string shown(const Field& field, const Value& value) {
  switch (field.measure) {
    case Measure::level:
    case Measure::length:
      return formatNumber(std::get<double>(value), 3) + " m";
    case Measure::slope:
      return Slope::horizontalPerVertical(std::get<double>(value)).text();
    case Measure::percent:
    case Measure::bearing:
      return shortest(std::get<double>(value)) + (field.measure == Measure::percent ? " %" : "°");
    case Measure::choice:
      return field.words.at(std::get<std::size_t>(value));
    case Measure::flag:
      return std::get<bool>(value) ? "yes" : "no";
    default:
      return fmt::format("{} points", std::get<Places>(value).size());
  }
}

std::string shown(const Figure& figure) {
  const bool metres = figure.measure == Measure::level || figure.measure == Measure::length;
  return formatNumber(figure.value, metres ? 3 : figure.measure == Measure::bearing ? 1 : 2) + unitOf(figure.measure);
}

Value tidied(const Field& field, Value value, const plane::Origin& origin) {
  if (field.measure == Measure::outline) value = plane::sound({std::get<Places>(std::move(value)), {}}, origin).outer;
  return value;
}

}  // namespace inselberg::works
