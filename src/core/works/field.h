// What can be said about a works: each kind lists its fields, and everything that shows, stores, asks for or alters one
// goes by that list.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "base/measures.h"
#include "ground/tin.h"
#include "plane/geometry.h"
#include "works/graded_line.h"

namespace inselberg::works {

// What a field measures, and with it the form of its value.
enum class Measure {
  level,         // m; moves with the works when it is raised
  length,        // m
  slope,         // H of H:1
  volume,        // m3
  percent,       // positive downwards
  bearing,       // degrees clockwise from north
  choice,        // the number of one of the field's words
  flag,          // yes or no
  outline,       // a simple ring, counter-clockwise
  line,          // plan points, two or more
  sections,      // typical sections along a crest
  edges,         // sections of single edges of an outline
  stations,      // stations and a length at each
  levels,        // stations and a level at each; they move with the works
  cornerLevels,  // a level for each corner of the outline; they move with the works
  adjustments,   // what a level is changed by, and why
  contours,      // lines with a level each
  ground         // the name of a ground
};
constexpr bool isNumber(Measure m) {
  return m <= Measure::bearing;
}
constexpr bool isLength(Measure m) {
  return m == Measure::level || m == Measure::length;
}
constexpr bool isPlaces(Measure m) {
  return m == Measure::outline || m == Measure::line;
}
// Whether it is drawn and not typed.
constexpr bool isDrawn(Measure m) {
  return isPlaces(m) || m == Measure::contours;
}

using Places = std::vector<plane::Vec2>;
using Numbers = std::vector<double>;
using Edges = std::vector<EdgeSection>;
struct Adjustment {
  double by = 0;
  std::string reason;
  bool operator==(const Adjustment&) const = default;
};
using Adjustments = std::vector<Adjustment>;
struct Contour {
  double level = 0;
  Places line;
  bool operator==(const Contour&) const = default;
};
using Contours = std::vector<Contour>;
// A ground by its name, and the ground itself once it is looked up; equal by name.
struct GroundRef {
  std::string name;
  ground::TinPtr tin;
  bool operator==(const GroundRef& other) const { return name == other.name; }
};
// Numbers as double, choices as the number of their word, outlines and lines relative to the project's origin.
using Value = std::variant<double, std::size_t, bool, Places, SectionsAlong, Edges, Stations, Numbers, Adjustments,
                           Contours, GroundRef>;

struct Field {
  std::string name;     // in files ("cut_batter"); on the command line with dashes
  std::string label;    // in the window ("Cut batter")
  std::string meaning;  // one sentence, for whoever asks
  Measure measure = Measure::length;
  double least = -1e5, most = 1e5;      // of numbers, both allowed
  double step = 0.1;                    // one nudge
  std::vector<std::string> words = {};  // of a choice
  bool onCard = true;                   // else it is only in files
  bool figure = false;                  // a number that is told among the figures of a works
  bool later = false;                   // not in all files: there it is as before anything is said
  bool mayBeEmpty = false;              // of outlines and lines: none is given
};

// What a works says of itself, beside what it costs.
struct Figure {
  std::string name;  // "level_m"
  std::string label;
  Measure measure = Measure::level;
  double value = 0;
};

// The limits that a slope has by itself.
inline constexpr double kSteepest = 1e-3, kFlattest = 1e3;

// " m", ":1", " %", "°" or nothing.
std::string unitOf(Measure measure, const Measures& measures = {});

// What is wrong with a value, as the end of a sentence that begins with the label ("must lie between 0 and 100 m");
// nothing when it may stand. Outlines are asked whether they are sound and run counter-clockwise.
std::optional<std::string> wrong(const Field& field, const Value& value, const Measures& measures = {});

// A value as typed, in these measures where it names no unit; `current` is what a change like "+0.25" of a number
// starts from. Throws Error whose text begins with the label and says what to write. REQUIRES: not drawn.
Value parsed(const Field& field, std::string_view text, std::optional<double> current, const Measures& measures = {});

// A value as it is shown, and as it can be typed again where it is not drawn: "79.500 m", "260.827 ft", "2:1", "2 %",
// "square", "0 = 74.5, 80 = 76". Of what is drawn the count.
std::string shown(const Field& field, const Value& value, const Measures& measures = {});

// A figure as it is told: "77.567 m", "2.5 %".
std::string shown(const Figure& figure, const Measures& measures = {});

// An outline in the form that `wrong` asks for; other values as they are. Throws Error (plane::sound).
Value tidied(const Field& field, Value value, const plane::Origin& origin);

}  // namespace inselberg::works
