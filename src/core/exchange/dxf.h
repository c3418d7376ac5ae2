// DXF drawings: points and lines in, contours out.
#pragma once

#include <span>
#include <string>

#include "base/progress.h"
#include "exchange/imported.h"
#include "ground/contours.h"

namespace inselberg::exchange {

// Reads POINT, LINE, POLYLINE (2D with elevation, and 3D) and LWPOLYLINE of the model space, by layer; drawing units
// are honoured when the file declares feet, inches, millimetres or centimetres. Other entities are counted in a remark.
// Throws Error for what is no text DXF, breaks off, or has text where a number belongs.
// Throws Cancelled.
Imported readDxf(const std::string& path, const Progress& progress = {});

// Contours as 3D polylines on the layer "CONTOURS" of an R12 drawing.
std::string contoursToDxf(std::span<const ground::Contour> contours, const plane::Origin& origin);

}  // namespace inselberg::exchange
