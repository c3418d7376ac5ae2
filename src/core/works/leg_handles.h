// The legs of a works taken hold of in plan, those of its sections and those that its kind makes (a bank's sides, a
// pond's inside): each at its outer end, square out from the middle of the longest side. And where its sections begin.
#pragma once

#include <optional>
#include <vector>

#include "works/works.h"

namespace inselberg::works {

struct LegHandle {
  std::size_t side = 0;   // by number: what goes out from an outline or line one way
  std::size_t field = 0;  // of the sections, or of the one number that the leg takes from the works
  std::size_t leg = 0;    // by number in the section
  Vec2 inner, at;         // the ends of the leg in plan
  double level = 0;       // at its inner end
};

// None for sides whose section changes along the crest, for works that have none, and for batters that do not meet the
// ground within 200 m. REQUIRES: sections known by name are resolved; the placement is that of the shape on `under`.
std::vector<LegHandle> legHandlesOf(const Shape& shape, const Placement& placement, const ground::Tin& under);

// Where a section of a works begins, and the way it goes, square out from its crest.
struct SectionStart {
  std::size_t field = 0;  // of the sections
  Vec2 at, out;
  double level = 0;
};
// One for every field of sections, also where they change along the crest: nearest to a place; without one, from the
// middle of the longest side. REQUIRES: as above.
std::vector<SectionStart> sectionStarts(const Shape& shape, const Placement& placement, const ground::Tin& under,
                                        std::optional<Vec2> near = std::nullopt);

// The section that a handle belongs to.
Section sectionOf(const Shape& shape, const LegHandle& handle);

// The same with the leg ending beside `to`, square out: a width takes that width, to 1 cm; a slope the run that leads
// there, to 0.05; a batter the slope that meets the ground there, in cut or in fill as the ground lies. Nothing when
// that is no way outwards, or steeper than 0.1:1 or flatter than 50:1.
std::optional<Section> withLegTo(const Shape& shape, const LegHandle& handle, Vec2 to, const ground::Tin& under);

// The shape with these legs in place of the section that a handle belongs to.
Shape withLegs(const Shape& shape, const LegHandle& handle, const Section& legs);

}  // namespace inselberg::works
