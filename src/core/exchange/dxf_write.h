// Entities of a drawing, as text: what every drawing that is written is made of.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::exchange {

// R12: read by everything; the header says metres all the same. Entities go between start and end.
const char* dxfStart();
const char* dxfEnd();

// Positions are easting, northing and level; names of layers as dxfLayer makes them.
struct DxfLook {
  int colour = 256;                // its index; 256: its layer's
  std::vector<std::string> notes;  // "name=value", kept with it as extended data
};
void addPolyline(std::string& drawing, const std::string& layer, bool closed, std::span<const plane::Vec3> points,
                 const DxfLook& look = {});
void addPoint(std::string& drawing, const std::string& layer, const plane::Vec3& at);
// Centred on the place; height in metres, turned in degrees anticlockwise. Line ends in the text are blanks.
void addText(std::string& drawing, const std::string& layer, const plane::Vec3& at, const std::string& text,
             double height, double turned);

// A name that every reader of such files takes: letters, digits, `-` and `_`, in capitals.
std::string dxfLayer(const std::string& name);

}  // namespace inselberg::exchange
