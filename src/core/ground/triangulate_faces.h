// The faces between lines that are noded, each triangulated by itself: quicker than all at once, and on all cores.
#pragma once

#include <span>

#include "base/progress.h"
#include "ground/triangulate.h"
#include "plane/linework.h"

namespace inselberg::ground {

// As triangulate(lines), but for what lies outside of all lines, and for faces that are not wanted: those to the left
// of a line where `unwanted` runs along it. Where a line ends freely towards the outside, so that a gap may have let it
// in, that is triangulated too; and where lines run along each other, some of their points have none, or more than a
// few parts do not hang together, all is. REQUIRES: lines.nodeCrossings() was called last.
Triangulation triangulateFaces(const plane::Linework& lines, std::span<const Edge> unwanted, const Progress& progress);

}  // namespace inselberg::ground
