// A sheet to print: what it shows of the plan, and what stands around it.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "base/id.h"
#include "plane/geometry.h"

namespace inselberg::project {

// A field of the title block.
struct LayoutField {
  std::string name, text;
  bool operator==(const LayoutField&) const = default;
};
inline constexpr std::size_t kMostLayoutFields = 12;

// Positions relative to the project's origin.
struct Layout {
  std::string name;       // one of its own in the project
  std::size_t paper = 1;  // of drawing::kPapers
  bool upright = false;
  GroundId ground;                         // none, or one that is gone: the finished ground
  double scale = 0;                        // 1 to so much; 0: the roundest with which the ground fits
  std::optional<plane::Vec2> centre = {};  // of the plan; none: the middle of the ground
  double interval = 0;                     // m between contours; 0: proposed
  bool shade = true;                       // where it is cut and filled, since the existing ground
  bool sheets = false;                     // the plan sheets that are shown, beneath the plan
  double depths = 0;                       // m between the depths that are written; 0: none
  bool grid = true;                        // crosses at round eastings and northings
  bool legend = true;
  bool figures = true;                    // cut and fill from the ledger
  std::vector<plane::Vec2> section = {};  // the line of the section beneath the plan; none: no section
  std::vector<LayoutField> fields = {};   // at most kMostLayoutFields
  bool operator==(const Layout&) const = default;
};

}  // namespace inselberg::project
