// Limits, forms and words of fields, in one place for the window, the command line and the files.
#include "works/field.h"

#include <fmt/format.h>

#include <cmath>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/measures.h"
#include "base/quantity.h"
#include "base/text.h"
#include "base/visitor.h"
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

std::string howToWrite(const Field& field, bool relative, const Measures& measures) {
  switch (field.measure) {
    case Measure::level:
    case Measure::length:
      if (measures.imperial)
        return relative ? "write feet, like 260.5 or 5 ft 3 in, or a change, like +0.5" : "write feet, like 260.5";
      return relative ? "write metres, like 79.5, or a change, like +0.25" : "write metres, like 79.5";
    case Measure::volume:
      return measures.imperial ? "write cubic yards, like 450, or 350 m3" : "write cubic metres, like 350, or 450 yd3";
    case Measure::slope:
      return "write it like 2:1, 33 % or 26.6 deg";
    case Measure::percent:
      return "write a number of percent, like 2.5";
    case Measure::bearing:
      return "write degrees clockwise from north, like 135";
    case Measure::choice:
      return "write " + listed(field.words);
    case Measure::sections:
      return "write legs like \"out 1.5 at 2 %; to ground 2:1\", or the name of a section";
    case Measure::edges:
      return "write edges like \"2: wall | 0: out 1; to ground 3:1\", counted from 0";
    case Measure::stations:
      return "write stations and lengths like \"40 = 20, 80 = 15\"";
    case Measure::levels:
      return "write stations and levels like \"0 = 74.5, 80 = 76\"";
    case Measure::cornerLevels:
      return "write a level for each corner, like \"74.5, 74.5, 75, 75\"";
    case Measure::adjustments:
      return "write what it is changed by and why, like \"-0.2 pavement, 0.05 screed\"";
    case Measure::ground:
      return "write the name of a ground of the project";
    default:
      return "write yes or no";
  }
}

// To the thousandth, of a foot as well: what is typed anew from what is shown lies where it did.
std::string typedLength(double metres, const Measures& measures) {
  return formatNumber(metres / lengthUnit(measures), 3) + " " + inselberg::unitOf(Quantity::length, measures);
}

std::string volumeText(double volume, int decimals, const Measures& measures) {
  return formatNumber(inUnit(volume, Quantity::volume, measures), decimals) + " " +
         inselberg::unitOf(Quantity::volume, measures);
}

// A number of percent or degrees, with its unit or without.
std::optional<double> parsedPlain(std::string_view text, std::string_view unit) {
  text = trimmed(text);
  takeSuffix(text, unit);
  return parseTyped(text);
}

std::optional<double> number(const Field& field, std::string_view text, std::optional<double> current,
                             const Measures& measures) {
  switch (field.measure) {
    case Measure::slope: {
      const auto slope = parseSlope(text);
      return slope ? std::optional(slope->run()) : std::nullopt;
    }
    case Measure::volume:
      return parseVolume(text, measures);
    case Measure::percent:
      return parsedPlain(text, "%");
    case Measure::bearing:
      return parsedPlain(text, "°");
    default:
      if (const auto plain = current ? std::nullopt : parseNumber(text)) return *plain * lengthUnit(measures);
      return parseLength(text, current, lengthUnit(measures));
  }
}

std::vector<std::string_view> split(std::string_view text, char at) {
  std::vector<std::string_view> parts;
  while (true) {
    const std::size_t end = text.find(at);
    if (const auto part = trimmed(text.substr(0, end)); !part.empty()) parts.push_back(part);
    if (end == std::string_view::npos) return parts;
    text.remove_prefix(end + 1);
  }
}

// The forms of lists; nothing when the text is none. Lengths and levels are so many times `unit` metres.
std::optional<Value> listOf(Measure measure, std::string_view text, double unit) {
  if (measure == Measure::cornerLevels) {
    Numbers numbers;
    for (const auto part : split(text, ',')) {
      const auto number = parseNumber(part);
      if (!number) return std::nullopt;
      numbers.push_back(*number * unit);
    }
    return numbers;
  }
  if (measure == Measure::adjustments) {
    Adjustments all;
    for (const auto part : split(text, ',')) {
      const std::size_t blank = std::min(part.find(' '), part.size());
      std::string_view by = part.substr(0, blank);
      if (by.starts_with('+')) by.remove_prefix(1);
      const auto number = parseNumber(by);
      if (!number) return std::nullopt;
      all.push_back({*number * unit, std::string(trimmed(part.substr(blank)))});
    }
    return all;
  }
  if (measure == Measure::edges) {
    Edges edges;
    for (const auto part : split(text, '|')) {
      const std::size_t colon = part.find(':');
      const auto number = colon == std::string_view::npos ? std::nullopt : parseNumber(part.substr(0, colon));
      if (!number || *number < 0 || *number != std::floor(*number)) return std::nullopt;
      edges.push_back({static_cast<std::size_t>(*number), parsedSection(part.substr(colon + 1), unit)});
    }
    return edges;
  }
  Stations stations;
  for (const auto part : split(text, ',')) {
    const std::size_t equals = part.find('=');
    if (equals == std::string_view::npos) return std::nullopt;
    const auto at = parseNumber(part.substr(0, equals)), value = parseNumber(part.substr(equals + 1));
    if (!at || !value) return std::nullopt;
    stations.push_back({*at * unit, *value * unit});
  }
  return stations;
}

std::string listText(const Value& value, double unit) {
  const auto length = [&](double metres) { return shortest(inLengthUnit(metres, unit)); };
  std::string text;
  const auto add = [&](const std::string& part, const char* between = ", ") {
    text += (text.empty() ? "" : between) + part;
  };
  std::visit(Visitor{[&](const SectionsAlong& s) { text = s.empty() ? std::string() : shown(s, unit); },
                     [&](const Edges& edges) {
                       for (const EdgeSection& e : edges)
                         add(fmt::format("{}: {}", e.edge, shown(e.section, unit)), " | ");
                     },
                     [&](const Stations& stations) {
                       for (const auto& [at, v] : stations) add(length(at) + " = " + length(v));
                     },
                     [&](const Numbers& numbers) {
                       for (const double v : numbers) add(length(v));
                     },
                     [&](const Adjustments& all) {
                       for (const Adjustment& a : all) add(length(a.by) + (a.reason.empty() ? "" : " " + a.reason));
                     },
                     [&](const Contours& contours) { text = fmt::format("{} contours", contours.size()); },
                     [&](const GroundRef& ground) { text = ground.name; }, [&](const auto&) {}},
             value);
  return text;
}

// What is wrong with a value that is no number and no places.
std::optional<std::string> wrongList(const Value& value, double unit) {
  std::optional<std::string> why;
  const auto finite = [&](double v) {
    if (!(std::abs(v) <= 1e5)) why = "has a number that is out of reach";
  };
  std::visit(Visitor{[&](const SectionsAlong& s) { why = wrong(s, unit); },
                     [&](const Edges& edges) {
                       for (const EdgeSection& e : edges) {
                         if (const auto w = wrong(e.section.legs, unit)) why = w;
                       }
                     },
                     [&](const Stations& stations) {
                       for (std::size_t i = 0; i < stations.size(); ++i) {
                         finite(stations[i][0]), finite(stations[i][1]);
                         if (i > 0 && !(stations[i][0] > stations[i - 1][0])) why = "must have stations that rise";
                       }
                     },
                     [&](const Numbers& numbers) {
                       for (const double v : numbers) finite(v);
                     },
                     [&](const Adjustments& all) {
                       for (const Adjustment& a : all) finite(a.by);
                     },
                     [&](const Contours& contours) {
                       for (const Contour& c : contours) {
                         finite(c.level);
                         if (c.line.size() < 2) why = "has a contour of fewer than two points";
                       }
                     },
                     [&](const auto&) {}},
             value);
  return why;
}

}  // namespace

std::string unitOf(Measure m, const Measures& measures) {
  switch (m) {
    case Measure::level:
    case Measure::length:
      return std::string(" ") + inselberg::unitOf(Quantity::length, measures);
    case Measure::volume:
      return std::string(" ") + inselberg::unitOf(Quantity::volume, measures);
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

std::optional<std::string> wrong(const Field& field, const Value& value, const Measures& measures) {
  if (isNumber(field.measure)) {
    const double v = std::get<double>(value);
    const double least = field.measure == Measure::slope ? std::max(field.least, kSteepest) : field.least;
    const double most = field.measure == Measure::slope ? std::min(field.most, kFlattest) : field.most;
    if (v >= least && v <= most) return std::nullopt;
    const auto limit = [&](double at) {
      if (isLength(field.measure)) return shortest(inLengthUnit(at, lengthUnit(measures)));
      return shortest(field.measure == Measure::volume ? inUnit(at, Quantity::volume, measures) : at);
    };
    return fmt::format("must lie between {} and {}{}", limit(least), limit(most), unitOf(field.measure, measures));
  }
  if (field.measure == Measure::choice && std::get<std::size_t>(value) >= field.words.size())
    return "must be " + listed(field.words);
  if (!isPlaces(field.measure)) return wrongList(value, lengthUnit(measures));
  const Places& places = std::get<Places>(value);
  if (places.empty() && field.mayBeEmpty) return std::nullopt;
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

Value parsed(const Field& field, std::string_view text, std::optional<double> current, const Measures& measures) {
  const double unit = lengthUnit(measures);
  const auto refuse = [&](const std::string& why) {
    throw Error(fmt::format("{} {}", field.label, why), howToWrite(field, current.has_value(), measures));
  };
  Value value;
  if (isNumber(field.measure)) {
    const auto typed = number(field, text, current, measures);
    if (!typed) refuse(fmt::format("cannot be \"{}\"", text));
    value = *typed;
  } else if (field.measure == Measure::choice) {
    std::size_t i = 0;
    while (i < field.words.size() && field.words[i] != lowerCase(std::string(text))) ++i;
    value = i;
  } else if (field.measure == Measure::sections) {
    value = trimmed(text).empty() ? SectionsAlong() : parsedSections(text, unit);
  } else if (field.measure == Measure::ground) {
    value = GroundRef{std::string(trimmed(text)), nullptr};
  } else if (field.measure > Measure::line) {
    const auto list = listOf(field.measure, text, unit);
    if (!list) refuse(fmt::format("cannot be \"{}\"", text));
    value = *list;
  } else {
    const std::string word = lowerCase(std::string(text));
    if (word != "yes" && word != "no") refuse(fmt::format("cannot be \"{}\"", text));
    value = word == "yes";
  }
  if (const auto why = wrong(field, value, measures)) refuse(*why);
  return value;
}

std::string shown(const Field& field, const Value& value, const Measures& measures) {
  switch (field.measure) {
    case Measure::level:
    case Measure::length:
      return typedLength(std::get<double>(value), measures);
    case Measure::volume:
      return volumeText(std::get<double>(value), 1, measures);
    case Measure::slope:
      return Slope::horizontalPerVertical(std::get<double>(value)).text();
    case Measure::percent:
    case Measure::bearing:
      return shortest(std::get<double>(value)) + (field.measure == Measure::percent ? " %" : "°");
    case Measure::choice:
      return field.words.at(std::get<std::size_t>(value));
    case Measure::flag:
      return std::get<bool>(value) ? "yes" : "no";
    case Measure::outline:
    case Measure::line:
      return fmt::format("{} points", std::get<Places>(value).size());
    default:
      return listText(value, lengthUnit(measures));
  }
}

std::string shown(const Figure& figure, const Measures& measures) {
  if (isLength(figure.measure)) return typedLength(figure.value, measures);
  if (figure.measure == Measure::volume) return volumeText(figure.value, 2, measures);
  return formatNumber(figure.value, figure.measure == Measure::bearing ? 1 : 2) + unitOf(figure.measure);
}

Value tidied(const Field& field, Value value, const plane::Origin& origin) {
  if (field.measure == Measure::outline && !std::get<Places>(value).empty())
    value = plane::sound({std::get<Places>(std::move(value)), {}}, origin).outer;
  return value;
}

}  // namespace inselberg::works
