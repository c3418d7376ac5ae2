// Plan sheets from files, and what is taken off them into files.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "exchange/coordinate_system.h"
#include "sheet/fit.h"
#include "sheet/take.h"

namespace inselberg::exchange {

// A plan sheet's bytes, and the text of the world file beside it (empty: none).
struct SheetFile {
  std::string path;
  std::shared_ptr<const std::string> bytes;
  std::string world;
};
// Throws Error for a path that cannot be read.
SheetFile readSheetFile(const std::string& path);
std::unique_ptr<sheet::Document> openSheet(const SheetFile& file);

// Where a page lies by what it tells itself, in the coordinate system `target` (empty: in its own, which is told);
// nothing when it tells nothing. Throws Error for a system that is in degrees, or that cannot be moved to the target.
struct SheetPlace {
  sheet::Fit fit;
  std::vector<sheet::Control> controls;
  std::string system;  // of the ground's positions; empty: none is known
};
std::optional<SheetPlace> placeOf(sheet::Document& document, int page, const std::string& name,
                                  const std::string& target);

// Lines and levels in site coordinates. DXF: polylines on layers by colour, width and dashes, with them as extended
// data too; levels as points. GeoJSON: LineStrings with `colour`, `width_mm`, `dash` ("3 1.5", lengths on and off;
// empty: drawn through) and `filled`; levels as Points with `level_m` and `text`. CSV: the levels alone.
enum class SheetFormat { dxf, geoJson, csv };
std::string sheetContent(SheetFormat format, const std::vector<sheet::Line>& lines,
                         const std::vector<sheet::SpotText>& levels, const sheet::Placement& placement,
                         const std::string& system);

}  // namespace inselberg::exchange
