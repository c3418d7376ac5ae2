#include "sheet/geo_place.h"

#include <cpl_conv.h>
#include <ogr_srs_api.h>

#include "sheet/quiet.h"

namespace inselberg::sheet {
namespace {

struct Release {
  void operator()(OGRSpatialReferenceH s) const { OSRRelease(s); }
};
using System = std::unique_ptr<void, Release>;

}  // namespace

std::optional<OwnPlace> placeFromDegrees(std::vector<Control> controls, const std::string& wkt, int epsg) {
  const Quiet quiet;
  const System system(OSRNewSpatialReference(nullptr));
  const OGRErr known =
      wkt.empty() ? OSRImportFromEPSG(system.get(), epsg) : OSRSetFromUserInput(system.get(), wkt.c_str());
  if (known != OGRERR_NONE) return std::nullopt;
  OSRSetAxisMappingStrategy(system.get(), OAMS_TRADITIONAL_GIS_ORDER);
  if (OSRIsProjected(system.get()) != 0) {
    const System degrees(OSRCloneGeogCS(system.get()));
    if (!degrees) return std::nullopt;
    OSRSetAxisMappingStrategy(degrees.get(), OAMS_TRADITIONAL_GIS_ORDER);
    OGRCoordinateTransformationH way = OCTNewCoordinateTransformation(degrees.get(), system.get());
    if (!way) return std::nullopt;
    bool all = true;
    for (Control& c : controls) all = OCTTransform(way, 1, &c.ground.x, &c.ground.y, nullptr) != 0 && all;
    OCTDestroyCoordinateTransformation(way);
    if (!all) return std::nullopt;
    const double metres = OSRGetLinearUnits(system.get(), nullptr);
    for (Control& c : controls) c.ground = metres * c.ground;
  }
  char* text = nullptr;
  OSRExportToWkt(system.get(), &text);
  OwnPlace place{std::move(controls), text ? text : ""};
  CPLFree(text);
  return place;
}

}  // namespace inselberg::sheet
