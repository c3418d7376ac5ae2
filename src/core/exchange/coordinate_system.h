// Coordinate systems by their code, and positions moved from one to another. The library behind it (PROJ) reaches no
// network: transformations that need a grid which is not on the machine are left to the next best, and that is told.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/progress.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

// A system with positions on a plane, or of longitude and latitude.
struct CoordinateSystem {
  std::string definition;    // what a project or file keeps: its code, "EPSG:25832"; else its description as WKT
  std::string name;          // "ETRS89 / UTM zone 32N"
  std::string area;          // where it is used, in words; may be empty
  bool degrees = false;      // longitude and latitude, not easting and northing
  double metresPerUnit = 1;  // of its positions; 1 for degrees

  bool hasCode() const { return definition.size() < 40 && definition.find('[') == std::string::npos; }
  // "EPSG:25832 ETRS89 / UTM zone 32N".
  std::string text() const { return hasCode() ? definition + " " + name : name; }
};

// What a code ("EPSG:25832", or "25832" alone), a URN or a description (WKT) stands for; of a compound system its
// horizontal part. Nothing for what is not known or has no positions on the ground (a system of heights, or one of the
// site's own).
std::optional<CoordinateSystem> coordinateSystem(const std::string& definition);

// The same. Throws Error for what is not known.
CoordinateSystem requireCoordinateSystem(const std::string& definition);

// Systems in use whose code, name or area has words that begin with each of these, at most `most`: the one of that very
// code first, then systems on a plane before those in degrees, those with all the words in their name before others,
// by name. With a place (longitude, latitude) only those used there, of the smallest area first.
std::vector<CoordinateSystem> findCoordinateSystems(const std::string& words, std::size_t most,
                                                    const std::optional<plane::Vec2>& at = {});

// Moves every position from one system to another; levels stay as they are. Positions are in metres along the axes,
// whatever the unit of a system, or in degrees. A raster keeps its cells and levels where an even grid fits the new
// places within 2 cm; else it is sampled anew (bilinear) on cells of the same area. Adds remarks on what was done and
// how exact it is, and sets imported.system. Throws Error where a place has none in the new system; Cancelled.
void reproject(Imported& imported, const CoordinateSystem& from, const CoordinateSystem& to,
               const Progress& progress = {});

// Whether the definition is of a system with easting and northing.
bool isOnPlane(const std::string& definition);

// Whether every position could be a longitude and a latitude, and whether they also look like those of a site.
bool couldBeDegrees(const Imported& imported);
bool looksLikeDegrees(const Imported& imported);

// Where the zero of positions lies: what has to be told when a ground leaves the program.
struct Georeference {
  plane::Origin origin;
  std::string system = {};  // its definition; empty: none is known
};

// The system a file of metres can name: one with an EPSG code whose unit is the metre.
std::optional<CoordinateSystem> writtenSystem(const Georeference& place);

}  // namespace inselberg::exchange
