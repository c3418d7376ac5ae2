#include "report/schedule.h"

#include <algorithm>
#include <iterator>
#include <span>

#include "base/lower_case.h"
#include "ground/clip.h"
#include "report/ledger.h"

namespace inselberg::report {
namespace {

using plane::Polygon;

ScheduleItem itemOf(const project::Evaluation& evaluation, const project::EvaluatedGround& ground,
                    const project::PlacedWorks& placed) {
  const works::Works& w = *placed.works;
  return {w.name,
          w.shape.kind().name,
          evaluation.project->ground(ground.id)->name,
          w.phase,
          w.material,
          "",
          placed.volume.cut,
          placed.volume.fill,
          placed.placement->footprintArea,
          placed.placement->surfaceArea};
}

// The part of an item in a region; `clipped` is what lies there of the works' facets.
ScheduleItem partOf(ScheduleItem item, const RegionFigures& region, WorksId id, const ground::Tin& clipped) {
  item.region = region.name;
  for (const Measured& m : region.works) {
    if (m.works == id.value) item.cut = m.volume.cut, item.fill = m.volume.fill;
  }
  const ground::TinStatistics statistics = ground::statistics(clipped);
  item.planArea = statistics.planArea, item.surfaceArea = statistics.surfaceArea;
  return item;
}

// Strips, undercuts and build-ups, everywhere or in a region; an undercut is dug and filled again.
void addStages(std::vector<ScheduleItem>& items, const std::string& region, const Figures& figures,
               const project::Evaluation& evaluation) {
  const project::Project& project = *evaluation.project;
  const auto nameOf = [&](project::Role role) {
    const project::Ground* ground = project.withRole(role);
    return ground ? ground->name : std::string();
  };
  const auto add = [&](ScheduleItem item) {
    item.region = region;
    if (item.cut > 0 || item.fill > 0 || region.empty()) items.push_back(std::move(item));
  };
  const project::Stages& stages = project.stages;
  for (const works::Strip& strip : stages.strips) {
    if (const StripFigure* f = figureOf(figures.strips, strip.id))
      add({f->name, "strip", nameOf(project::Role::stripped), strip.phase, strip.material, "", f->volume, 0, f->area,
           f->area});
  }
  for (const works::Undercut& u : stages.undercuts) {
    if (const UndercutFigure* f = figureOf(figures.undercuts, u.id))
      add({f->name, "undercut", nameOf(project::Role::undercut), u.phase, u.material, "", f->dig, f->dig, f->area,
           f->area});
  }
  for (const works::BuildUp& b : stages.buildUps) {
    const BuildUpFigure* f = figureOf(figures.buildUps, b.id);
    if (!f) continue;
    double volume = 0, area = 0;
    for (const LayerFigure& layer : f->layers) volume += layer.volume, area = layer.area;
    add({f->name, "build-up", nameOf(project::Role::finished), b.phase, "", "", 0, volume, area, area});
  }
}

const std::string& memberOf(const ScheduleItem& item, ScheduleBy by) {
  switch (by) {
    case ScheduleBy::works:
      return item.works;
    case ScheduleBy::phase:
      return item.phase;
    case ScheduleBy::material:
      return item.material;
    case ScheduleBy::region:
      return item.region;
    case ScheduleBy::kind:
      return item.kind;
    case ScheduleBy::ground:
      return item.ground;
  }
  return item.works;
}

const char* titleOf(ScheduleBy by) {
  switch (by) {
    case ScheduleBy::works:
      return "Works";
    case ScheduleBy::phase:
      return "Phase";
    case ScheduleBy::material:
      return "Material";
    case ScheduleBy::region:
      return "Region";
    case ScheduleBy::kind:
      return "Kind";
    case ScheduleBy::ground:
      return "Ground";
  }
  return "";
}

}  // namespace

std::vector<ScheduleItem> scheduleOf(const project::Evaluation& evaluation, const Quantities& quantities,
                                     const Progress& progress) {
  std::vector<ScheduleItem> items;
  const auto& regions = evaluation.project->stages.regions;
  std::vector<Polygon> all;
  for (const project::Region& region : regions) all.push_back(region.area);
  for (const project::EvaluatedGround& ground : evaluation.grounds) {
    for (const project::PlacedWorks& placed : ground.works) {
      progress.check();
      const ScheduleItem whole = itemOf(evaluation, ground, placed);
      if (regions.empty()) items.push_back(whole);
      const ground::Tin& facets = *placed.placement->facets;
      // Those of the regions, in their order, then that of elsewhere.
      for (std::size_t k = 0; k < quantities.regions.size(); ++k) {
        const ground::TinPtr clipped = facets.empty()   ? placed.placement->facets
                                       : k < all.size() ? ground::keepInside(facets, {&all[k], 1}, progress)
                                                        : ground::keepOutside(facets, all, progress);
        if (!clipped->empty()) items.push_back(partOf(whole, quantities.regions[k], placed.works->id, *clipped));
      }
    }
  }
  if (quantities.regions.empty()) addStages(items, "", quantities.whole, evaluation);
  for (const RegionFigures& region : quantities.regions) addStages(items, region.name, region.figures, evaluation);
  return items;
}

Table scheduleTable(const std::vector<ScheduleItem>& items, ScheduleBy by) {
  const bool single = by == ScheduleBy::works;
  Table table{
      single ? std::string("Schedule") : std::string("Schedule by ") + lowerCase(titleOf(by)), {{titleOf(by)}}, {}};
  const bool regions = std::any_of(items.begin(), items.end(), [](const ScheduleItem& i) { return !i.region.empty(); });
  if (single) {
    table.columns.insert(table.columns.end(), {{"Kind"}, {"Phase"}, {"Material"}});
    if (regions) table.columns.push_back({"Region"});
  } else {
    table.columns.push_back({"Works", 0});
  }
  table.columns.insert(table.columns.end(), {{"Cut m³", 1, true},
                                             {"Fill m³", 1, true},
                                             {"Cut less fill m³", 1, true},
                                             {"Plan area m²", 1, true},
                                             {"Surface m²", 1, true}});
  struct Group {
    std::string name;
    std::vector<const ScheduleItem*> items;
  };
  std::vector<Group> groups;
  for (const ScheduleItem& item : items) {
    const std::string& name = memberOf(item, by);
    auto group = std::find_if(groups.begin(), groups.end(), [&](const Group& g) { return g.name == name; });
    if (single || group == groups.end()) group = groups.insert(groups.end(), {name, {}});
    group->items.push_back(&item);
  }
  for (const Group& group : groups) {
    std::vector<Cell> row{group.name.empty() ? std::string(kUnnamed) : group.name};
    const ScheduleItem& first = *group.items.front();
    if (single) {
      row.insert(row.end(), {first.kind, first.phase, first.material});
      if (regions) row.push_back(first.region);
    } else {
      std::vector<std::string> names;
      for (const ScheduleItem* item : group.items) names.push_back(item->works);
      std::sort(names.begin(), names.end());
      row.push_back(static_cast<double>(std::unique(names.begin(), names.end()) - names.begin()));
    }
    double cut = 0, fill = 0, plan = 0, surface = 0;
    for (const ScheduleItem* item : group.items)
      cut += item->cut, fill += item->fill, plan += item->planArea, surface += item->surfaceArea;
    row.insert(row.end(), {cut, fill, cut - fill, plan, surface});
    table.rows.push_back(std::move(row));
  }
  return table;
}

std::vector<Table> reportTables(const project::Evaluation& evaluation, const Progress& progress) {
  const Quantities quantities = quantitiesOf(evaluation, progress);
  std::vector<Table> tables = tablesOf(evaluation, quantities);
  const std::vector<ScheduleItem> items = scheduleOf(evaluation, quantities, progress);
  const std::size_t first = tables.size();
  tables.push_back(scheduleTable(items, ScheduleBy::works));
  for (const ScheduleBy by : {ScheduleBy::phase, ScheduleBy::region, ScheduleBy::material}) {
    if (std::any_of(items.begin(), items.end(), [&](const ScheduleItem& i) { return !memberOf(i, by).empty(); }))
      tables.push_back(scheduleTable(items, by));
  }
  for (Table& table : std::span(tables).subspan(first))
    table = inMeasures(std::move(table), evaluation.project->measures);
  return tables;
}

}  // namespace inselberg::report
