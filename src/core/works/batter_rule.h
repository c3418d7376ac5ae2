// What batters go by, in kinds that have them.
#pragma once

#include "works/crest.h"
#include "works/kind.h"

namespace inselberg::works {

struct BatterRule {
  Slope cut = Slope::horizontalPerVertical(2);
  Slope fill = Slope::horizontalPerVertical(2);
  CornerStyle corners = CornerStyle::round;
  double reach = 500;        // m; a batter longer than this ends there, with a doubt
  double chordError = 1e-3;  // m; of round corners, in plan
  bool operator==(const BatterRule&) const = default;
};

// The section as given, or where there is none the batter.
SectionsAlong orBatter(const SectionsAlong& given, const BatterRule& rule);

// A field of how corners are made; `access` leads to the CornerStyle.
template <class T, class Access>
FieldOf<T> cornersField(Access access) {
  return field<T>({.name = "corners",
                   .label = "Corners",
                   .meaning = "How batters and legs meet at outward corners: round about them, or prolonged.",
                   .measure = Measure::choice,
                   .words = {"round", "square"},
                   .later = false},
                  access);
}

// A typical section; empty: two to one.
template <class T, class Access>
FieldOf<T> sectionField(std::string name, std::string label, std::string meaning, Access access) {
  return field<T>({.name = std::move(name),
                   .label = std::move(label),
                   .meaning = std::move(meaning),
                   .measure = Measure::sections,
                   .later = true},
                  access);
}

// Adds a doubt when some of the points lie beyond the ground.
void doubtOutside(Placement& placement, const Places& points, const ground::Tin& ground, const plane::Origin& origin,
                  const char* what);

}  // namespace inselberg::works
