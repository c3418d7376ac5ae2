// DXF drawings in. Writing them: ground_write.h.
#pragma once

#include <optional>
#include <string>

#include "base/progress.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

struct DxfRules {
  std::optional<double> metresPerUnit;  // instead of the unit the drawing declares
  double chordError = 0.01;             // m, of arcs, bulges, circles, ellipses and splines
};

// Reads text and binary drawings from R12 on, by layer, model space only, blocks where they are inserted (layer "0" of
// a block is the insert's):
//  - POINT; INSERT of a block with a level attribute as one point at its place;
//  - TEXT and MTEXT that are numbers, as spot levels: on a POINT without a level they give it theirs, beside a line of
//    that level they are its label, else they are a point at their own place;
//  - LINE, POLYLINE, LWPOLYLINE, ARC, CIRCLE, ELLIPSE, SPLINE as lines, curves within the chord error;
//  - 3DFACE, polygon meshes, polyface meshes and MESH as faces, a model for each layer.
// Mirrored and tilted extrusions are turned into the drawing's own coordinates. Other entities are counted in a remark.
// A drawing without a declared unit is taken as metres, and says so. An entity with text where a number belongs is left
// out and told in the problems. Throws Error for what is no DXF, breaks off, or whose blocks and curves unfold to more
// than 4 million points and 8 for every 100 bytes of the file; Cancelled.
Imported readDxf(const std::string& path, const DxfRules& rules = {}, const Progress& progress = {});

}  // namespace inselberg::exchange
