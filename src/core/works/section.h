// Typical sections: what is built outwards from a crest, leg by leg.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/quantity.h"

namespace inselberg::works {

// A step of a batter after each height of sloping batter.
struct Bench {
  double every = 5;  // m of height
  double width = 2;  // m
  double fall = 0;   // % outwards
  bool operator==(const Bench&) const = default;
};

// One step outwards. Its outer line is the next leg's inner one.
struct Leg {
  enum class Kind {
    out,      // `width` out, falling `fall` % (negative rises)
    by,       // `height` up, or down if negative, at `slope`
    toLevel,  // to `level` at `slope`
    toGround  // the batter: up at `cut` where the crest lies below the ground, down at `fill` where above
  };
  Kind kind = Kind::toGround;
  double width = 0, fall = 0;  // m, %
  double height = 0;           // m
  double level = 0;            // m
  double slope = 2;            // H of H:1
  double cut = 2, fill = 2;    // H of H:1
  std::optional<Bench> bench;  // of a batter
  bool operator==(const Leg&) const = default;

  // Of a batter: H of H:1 in fill (sign +1) or in cut (-1).
  double run(double sign) const { return sign > 0 ? fill : cut; }
};
Leg legOut(double width, double fall = 0);
Leg legBy(double height, double slope);
Leg legToLevel(double level, double slope);
Leg legToGround(double cut, double fill);

// From the crest outwards; `toGround` comes last, if at all: without it the section ends in a wall.
using Section = std::vector<Leg>;
using SectionPtr = std::shared_ptr<const Section>;

// A section known by its name in the project, or its own legs where the name is empty.
struct NamedOrLegs {
  std::string name;
  Section legs;
  bool operator==(const NamedOrLegs&) const = default;
};
// A section kept by a name, for all works that use it.
struct NamedSection {
  std::string name;
  Section legs;
  bool operator==(const NamedSection&) const = default;
};
// Sections along a crest: each at its station, rising; before the first and after the last they stay.
struct SectionAt {
  double station = 0;  // m
  NamedOrLegs section;
  bool operator==(const SectionAt&) const = default;
};
using SectionsAlong = std::vector<SectionAt>;

// A stretch of crest with a section of its own; a wall when it has no legs and no name.
struct EdgeSection {
  std::size_t edge = 0;  // from this corner to the next
  NamedOrLegs section;
  bool operator==(const EdgeSection&) const = default;
};

// The same kinds of legs, with the same benches: such sections pass into each other.
bool sameMake(const Section& a, const Section& b);
// Alike but for rounding.
bool alike(const Section& a, const Section& b);
// Every number passing linearly, slopes as runs. REQUIRES: of the same make.
Section between(const Section& a, const Section& b, double t);

bool endsInBatter(const Section& section);
// One leg: a batter at these slopes.
Section batter(double cut, double fill);

// The sections with these legs before their first.
SectionsAlong behind(const Section& legs, SectionsAlong sections);

// Of sections along a crest: the one at a station, and the stations strictly between two where they bend. REQUIRES:
// names are resolved; not empty.
SectionPtr sectionAt(const SectionsAlong& sections, double station);
std::vector<double> bendsBetween(const SectionsAlong& sections, double from, double to);

// What is wrong with it, as the end of a sentence ("has a leg after the batter") that tells lengths in so many metres;
// nothing when it may stand.
std::optional<std::string> wrong(const Section& section, double unit = 1);
// The same for sections along a crest: stations that do not rise, makes that differ.
std::optional<std::string> wrong(const SectionsAlong& sections, double unit = 1);

// As people write it: "out 1.5 at 2 %; up 2 at 3:1; to level 74.5 at 2:1; to ground 2:1 cut 3:1 fill, bench every 5 by
// 2 at 1 %". Both slopes of a batter may be one ("to ground 2:1"); a wall is "wall". Along a crest: "@0 out 2; ... @50
// ...". A name stands for the section of that name. Lengths, levels and stations are so many times `unit` metres
// (`inLengthUnit`), unless they are typed with a unit of their own: "out 5 ft".
std::string shown(const NamedOrLegs& section, double unit = 1);
std::string shown(const SectionsAlong& sections, double unit = 1);
// Throws Error that says what is not understood.
NamedOrLegs parsedSection(std::string_view text, double unit = 1);
SectionsAlong parsedSections(std::string_view text, double unit = 1);
// A leg with its numbers typed over: "1.5" the width, height or level, "2 %" the fall of a width, "3:1" the slope, or
// several parted by a comma and a blank; what is not typed stays. A batter has slopes alone, for which "3" stands too:
// the one in cut, or in fill. Throws Error as above.
Leg typedOver(const Leg& leg, std::string_view text, bool cut, double unit = 1);

}  // namespace inselberg::works
