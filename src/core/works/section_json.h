// Sections and their kin as JSON, in the form of the design file; read strictly.
#pragma once

#include "base/json_cursor.h"
#include "works/field.h"

namespace inselberg::works {

nlohmann::json toJson(const Section& section);
nlohmann::json toJson(const NamedOrLegs& section);     // its name, or its legs
nlohmann::json toJson(const SectionsAlong& sections);  // one from the start, or a list with stations

// "2:1", "33 %", "26.6 deg" or the run as a number.
double slopeFrom(const JsonCursor& at);
Section sectionFrom(const JsonCursor& at);
NamedOrLegs namedOrLegsFrom(const JsonCursor& at);
SectionsAlong sectionsFrom(const JsonCursor& at);

// {NAME: [leg...]...}
nlohmann::ordered_json toJson(const std::vector<NamedSection>& sections);
std::vector<NamedSection> namedSectionsFrom(const JsonCursor& at);

// {"edge": 2, "wall": true} or {"edge": 0, "section": ...}
nlohmann::json toJson(const EdgeSection& edge);
EdgeSection edgeFrom(const JsonCursor& at);

// [[station, number]...], [number...], [{"by", "reason"}...]
Stations stationsFrom(const JsonCursor& at);
Numbers numbersFrom(const JsonCursor& at);
nlohmann::json toJson(const Adjustments& adjustments);
Adjustments adjustmentsFrom(const JsonCursor& at);

}  // namespace inselberg::works
