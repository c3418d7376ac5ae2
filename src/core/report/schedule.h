// What each works moves, listed and grouped: by phase, material, region, kind or ground.
#pragma once

#include <string>
#include <vector>

#include "report/tables.h"

namespace inselberg::report {

// A works, strip, undercut or build-up, or what of it lies in a region.
struct ScheduleItem {
  std::string works, kind, ground, phase, material;
  std::string region;                    // empty where the project has none
  double cut = 0, fill = 0;              // m3, of the works as it was placed on the ground before it
  double planArea = 0, surfaceArea = 0;  // m2, of all that it covers; both alike of strips, undercuts and build-ups
};

enum class ScheduleBy { works, phase, material, region, kind, ground };
struct ScheduleGrouping {
  ScheduleBy by;
  const char* word;
};
inline constexpr ScheduleGrouping kScheduleGroupings[] = {
    {ScheduleBy::works, "works"},   {ScheduleBy::phase, "phase"}, {ScheduleBy::material, "material"},
    {ScheduleBy::region, "region"}, {ScheduleBy::kind, "kind"},   {ScheduleBy::ground, "ground"}};

// Every works that is not left out, in the order of building, then strips, undercuts and build-ups; where there are
// regions one item for each region it touches, then elsewhere. Regions that overlap count twice, as everywhere. Throws
// Cancelled.
std::vector<ScheduleItem> scheduleOf(const project::Evaluation& evaluation, const Quantities& quantities,
                                     const Progress& progress);

// A row for each works, or for each group, in the order they come first; what belongs to none is told as "not said".
Table scheduleTable(const std::vector<ScheduleItem>& items, ScheduleBy by);

// All tables of a project, for its report: those of tables.h, the schedule, and what it comes to by phase, region and
// material where these are said. REQUIRES: the evaluation is whole. Throws Cancelled.
std::vector<Table> reportTables(const project::Evaluation& evaluation, const Progress& progress);

}  // namespace inselberg::report
