// Plan sheets of a project: where each lies and how it is shown. They are drawings to read and to take from; no ground
// is made of them.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/hash.h"
#include "base/id.h"
#include "sheet/fit.h"

namespace inselberg::project {

using SheetId = Id<struct SheetTag>;

enum class PlacedBy { scale, lengths, points, itself };
inline constexpr std::pair<PlacedBy, const char*> kPlacedByWords[] = {{PlacedBy::scale, "scale"},
                                                                      {PlacedBy::lengths, "lengths"},
                                                                      {PlacedBy::points, "points"},
                                                                      {PlacedBy::itself, "itself"}};

struct SheetInfo {
  std::string name = {};
  std::string file = {};  // where it came from
  int page = 1;
  plane::Vec2 size = {1, 1};  // of the page, in its unit
  bool picture = false;       // its unit is the pixel, else the millimetre
  // To positions relative to the project's origin; so are the ground sides of the controls.
  sheet::Placement placement = {};
  PlacedBy placedBy = PlacedBy::scale;
  // What it was placed by, to be looked at and changed: known points; of lengths, the ends of each on the page (both
  // ground sides empty but for the length, in the x of the second).
  std::vector<sheet::Control> controls = {};
  std::optional<plane::Box> crop = {};  // the part that is shown, in the page's unit
  double opacity = 1;                   // 0 to 1
  bool grey = false;                    // its colours shown as greys
  bool hidden = false;
  bool locked = false;  // not placed anew by hand
  bool operator==(const SheetInfo&) const = default;
};

struct PlanSheet : SheetInfo {
  SheetId id;
  std::shared_ptr<const std::string> bytes;  // of the file, as it came
  std::string world;                         // the world file beside a picture; empty: none
  Hash hash;                                 // of both
};
using PlanSheetPtr = std::shared_ptr<const PlanSheet>;

// REQUIRES: a placement that can be turned back (its determinant is not 0).
PlanSheetPtr makePlanSheet(SheetId id, SheetInfo info, std::shared_ptr<const std::string> bytes, std::string world);

// Those it was placed by.
std::vector<sheet::KnownLength> lengthsOf(const SheetInfo& sheet);

// A sheet whose placement a careful checker would question (sheet::doubtsOf), or that was scaled by one length alone.
std::vector<std::string> doubtsOf(const SheetInfo& sheet);

// The part of the page that is shown, and the box of that in plan.
plane::Box shownPart(const SheetInfo& sheet);
plane::Box boundsOf(const SheetInfo& sheet);
// "1 : 500", "1 : 500 along, 1 : 250 up", "0.085 m a pixel".
std::string scaleText(const SheetInfo& sheet);

}  // namespace inselberg::project
