// What differs between sources as they were and as they are, where that is little.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "ground/patch.h"
#include "project/source.h"

namespace inselberg::project {

struct SourceChanges {
  std::vector<ground::ChangedPart> parts;
  // By the place of the source in the list: its features that changed or were added, in order.
  std::vector<std::vector<std::pair<FeatureKind, std::size_t>>> features;
};

// Nothing when more than a few points and breaklines changed, or anything else did: another list of sources, outlines,
// ground models, features that went, lines with vertices without level. Costs what is not shared between the two.
std::optional<SourceChanges> changesBetween(std::span<const SourcePtr> before, std::span<const SourcePtr> after);

// Survey points within 1 mm of the lines that change, as the rules of building have it: a line runs through such a
// point, at its own level between its vertices, at what the rule gives at a vertex. They become vertices of the parts,
// and those that a line leaves or comes to are parts of their own.
void addPointsOnLines(std::span<const SourcePtr> sources, ground::DuplicateRule rule, SourceChanges& changes);

// Whether nothing of the sources but the changed features touches the straight line from a to b: no point within 1 mm,
// no line within 2 mm.
bool isClear(std::span<const SourcePtr> sources, const SourceChanges& changes, plane::Vec2 a, plane::Vec2 b);

}  // namespace inselberg::project
