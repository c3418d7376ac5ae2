#include "report/ledger.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "base/quantity.h"
#include "report/figures.h"
#include "works/pond_storage.h"

namespace inselberg::report {

using json = nlohmann::ordered_json;
Ledger ledgerOf(const project::Evaluation& evaluation) {
  Ledger ledger;
  ledger.whole = true;
  ledger.doubts = evaluation.doubtCount();
  const project::Project& project = *evaluation.project;
  const auto worksOf = [&](GroundId id) {
    for (const auto& w : evaluation.ground(id)->works) {
      LedgerRow row;
      row.kind = LedgerRow::Kind::works;
      row.name = w.works->name;
      row.on = project.ground(id)->name;
      row.id = w.works->id.value;
      row.known = true;
      row.volume = w.volume;
      row.footprintArea = w.placement->footprintArea, row.surfaceArea = w.placement->surfaceArea;
      row.phase = w.works->phase, row.material = w.works->material;
      row.works = w.works->shape.kind().name;
      row.figures = works::figuresOf(w.works->shape, *w.placement);
      ledger.rows.push_back(std::move(row));
    }
  };
  const auto seamRow = [&](const project::Seam& seam) {
    LedgerRow row;
    row.name = project::seamName(project, seam);
    row.known = seam.volume.has_value();
    row.between = seam;
    if (seam.volume) row.volume = *seam.volume;
    ledger.rows.push_back(std::move(row));
  };
  std::set<GroundId> told;
  for (const project::Seam& seam : evaluation.seams) {
    if (!seam.counted) continue;
    seamRow(seam);
    if (seam.volume) {
      if (project.ground(seam.to)->role == project::Role::stripped) ledger.strip += seam.volume->cut;
      if (project.ground(seam.from)->role == project::Role::formation) ledger.buildUp += seam.volume->fill;
      ledger.cut += seam.volume->cut;
      ledger.fill += seam.volume->fill;
      ledger.unmeasured += seam.volume->unmeasured();
    } else {
      ledger.whole = false;
    }
    worksOf(seam.to);
    told.insert(seam.to);
  }
  for (const auto& g : evaluation.grounds) {
    if (told.count(g.id) == 0) worksOf(g.id);
  }
  for (const project::Seam& seam : evaluation.seams) {
    if (!seam.counted) seamRow(seam);
  }
  return ledger;
}

project::KeptResult keptOf(const project::Evaluation& evaluation) {
  const Ledger ledger = ledgerOf(evaluation);
  project::KeptResult kept;
  kept.cut = ledger.cut, kept.fill = ledger.fill;
  for (const LedgerRow& row : ledger.rows) {
    if (row.known) kept.figures.push_back({row.name, row.id, row.volume.cut, row.volume.fill});
  }
  return kept;
}

std::string surplusText(double cut, double fill, const Measures& measures) {
  const double surplus = cut - fill;
  if (inUnit(std::abs(surplus), Quantity::volume, measures) < measures.roundTo / 2)
    return cut < 0.5 && fill < 0.5 ? "nothing moved" : "balanced";
  return (surplus > 0 ? "surplus " : "shortfall ") + shown(std::abs(surplus), Quantity::volume, measures);
}

std::string depthText(double fill, const Measures& measures) {
  return (fill < 0 ? "−" : "+") + lengthNumber(std::abs(fill), 2, measures);
}

namespace {

// A small one to hundredths.
std::string areaText(double area, const Measures& measures) {
  if (!measures.imperial && area < 10) return formatNumber(area, 2) + " m²";
  return shown(area, Quantity::area, measures);
}

}  // namespace

std::string unmeasuredText(double area, const Measures& measures) {
  return area >= 0.01 ? areaText(area, measures) + " not measured" : std::string();
}

std::string howText(const project::Evaluation& evaluation, const LedgerRow& row) {
  if (!row.known) return row.name + " is not known: a ground is missing, or is being made.";
  const auto triangles = [](const ground::TinPtr& tin) {
    return formatNumber(tin ? static_cast<double>(tin->triangles().size()) : 0, 0) + " triangles";
  };
  const Measures& measures = evaluation.project->measures;
  const auto area = [&](double m2) { return areaText(m2, measures); };
  const auto on = [&](const char* what, double m2) {
    return what + (m2 >= 0.01 ? " on " + area(m2) : std::string(" nowhere"));
  };
  const quantity::Volume& v = row.volume;
  std::string how;
  if (row.kind == LedgerRow::Kind::works) {
    const project::PlacedWorks* placed = evaluation.works(WorksId{row.id});
    how = fmt::format("{}: its {} against the ground it was placed on", row.name,
                      triangles(placed ? placed->placement->facets : nullptr));
  } else {
    const auto told = [&](GroundId id) {
      const auto* ground = evaluation.ground(id);
      return fmt::format("{} ({})", evaluation.project->ground(id)->name, triangles(ground ? ground->tin : nullptr));
    };
    how = fmt::format("{} and {} laid over each other", told(row.between.from), told(row.between.to));
  }
  how += fmt::format(", exact, triangle by triangle, over {} in plan: {}, {}, {}. ", area(v.planArea()),
                     on("cut", v.cutArea), on("filled", v.fillArea), on("as it was", v.untouchedArea));
  const std::string missing = unmeasuredText(v.unmeasured(), measures);
  return how + (missing.empty() ? "Nothing is left unmeasured."
                                : missing + ", as only one of the grounds is there: no figure speaks of it.");
}

std::string asText(const project::Evaluation& evaluation) {
  const Ledger ledger = ledgerOf(evaluation);
  const Measures& measures = evaluation.project->measures;
  const auto number = [&](double m3) { return formatNumber(inUnit(m3, Quantity::volume, measures), 1); };
  std::string out = evaluation.project->name + "\n\n";
  const auto line = [&](const std::string& name, const std::string& cut, const std::string& fill,
                        const std::string& surplus, double unmeasured) {
    // Names are padded by characters, not bytes, as far as UTF-8 continuation bytes tell.
    std::size_t width = 0;
    for (const char c : name) width += (static_cast<unsigned char>(c) & 0xc0) != 0x80;
    out += name + std::string(width < 36 ? 36 - width : 1, ' ');
    const std::string missing = unmeasuredText(unmeasured, measures);
    out += fmt::format("{:>12} {:>12}   {}{}\n", cut, fill, surplus, missing.empty() ? "" : "; " + missing);
  };
  line("", measures.imperial ? "cut yd3" : "cut m3", measures.imperial ? "fill yd3" : "fill m3", "", 0);
  const auto print = [&](const LedgerRow& row) {
    const std::string name = (row.kind == LedgerRow::Kind::works ? "  " : "") + row.name;
    if (row.known) {
      line(name, number(row.volume.cut), number(row.volume.fill),
           surplusText(row.volume.cut, row.volume.fill, measures), row.volume.unmeasured());
    } else {
      line(name, "-", "-", "not known: a ground is missing", 0);
    }
  };
  const auto beside = [](const LedgerRow& row) { return row.kind == LedgerRow::Kind::seam && !row.between.counted; };
  for (const LedgerRow& row : ledger.rows) {
    if (!beside(row)) print(row);
  }
  line("total", number(ledger.cut), number(ledger.fill), surplusText(ledger.cut, ledger.fill, measures),
       ledger.unmeasured);
  for (const auto& g : evaluation.grounds) {
    if (!g.problem.empty()) out += "\n" + evaluation.project->ground(g.id)->name + ": " + g.problem + "\n";
    for (const auto& d : g.doubts) {
      if (!evaluation.project->acceptance(d)) out += "\ndoubt: " + toldIn(d.text, evaluation.project->measures) + "\n";
    }
  }
  return out;
}

nlohmann::ordered_json volumeJson(const quantity::Volume& v) {
  return {{"cut_m3", v.cut},
          {"fill_m3", v.fill},
          {"surplus_m3", v.surplus()},
          {"cut_area_m2", v.cutArea},
          {"fill_area_m2", v.fillArea},
          {"untouched_area_m2", v.untouchedArea},
          {"plan_area_m2", v.planArea()},
          {"max_cut_m", v.maxCut},
          {"max_fill_m", v.maxFill},
          {"only_from_area_m2", v.onlyFrom},
          {"only_to_area_m2", v.onlyTo},
          {"outside_area_m2", v.outside}};
}

nlohmann::ordered_json doubtJson(const ground::Doubt& doubt, const plane::Origin& origin) {
  return {{"kind", ground::name(doubt.kind)},
          {"where", {doubt.where.x + origin.easting, doubt.where.y + origin.northing}},
          {"text", toldIn(doubt.text, {})}};
}

nlohmann::ordered_json doubtsJson(const ground::Doubts& doubts, const plane::Origin& origin) {
  json list = json::array();
  for (const ground::Doubt& d : doubts) list.push_back(doubtJson(d, origin));
  return list;
}

namespace {

// What a pond holds.
void addStorage(json& j, const project::Evaluation& evaluation, WorksId id) {
  for (const auto& ground : evaluation.grounds) {
    for (const auto& w : ground.works) {
      const auto* pond = w.works->id == id ? w.works->shape.as<works::Pond>() : nullptr;
      if (!pond || !ground.tin || ground.pending) continue;
      const auto storage = works::storageOf(*pond, *w.placement, *ground.tin, {});
      if (!storage) continue;
      j["spill_level_m"] = storage->hollow.rim;
      j["storage_m3"] = storage->held;
      if (const auto freeboard = storage->freeboard()) j["freeboard_m"] = *freeboard;
      j["storage"] = json::array();
      for (const ground::Storage& s : storage->table) j["storage"].push_back({s.level, s.volume, s.area});
    }
  }
}

void addSure(json& j, const Quantities& quantities, const std::string& name, std::uint64_t works) {
  for (const Measured& m : quantities.sure) {
    if (m.works != works || (works == 0 && m.name != name) || !m.sure) continue;
    j["cut_pm_m3"] = m.sure->cut, j["fill_pm_m3"] = m.sure->fill, j["net_pm_m3"] = m.sure->net;
  }
}

json measuredJson(const std::vector<Measured>& list) {
  json all = json::array();
  for (const Measured& m : list) {
    json j;
    if (m.works != 0) j["id"] = m.works;
    j["name"] = m.name;
    j.update(volumeJson(m.volume));
    all.push_back(std::move(j));
  }
  return all;
}

json materialsJson(const Figures& f) {
  json list = json::array();
  for (const MaterialFigure& m : f.materials)
    list.push_back({{"name", m.name},
                    {"bank_m3", m.bank},
                    {"loose_m3", m.loose},
                    {"compacted_m3", m.compacted},
                    {"usable_m3", m.usable},
                    {"cost", m.cost}});
  return list;
}

json layersJson(const std::vector<LayerFigure>& figures) {
  json layers = json::array();
  for (const LayerFigure& l : figures)
    layers.push_back({{"name", l.name}, {"thickness_m", l.thickness}, {"volume_m3", l.volume}, {"area_m2", l.area}});
  return layers;
}

void addQuantities(json& whole, const Quantities& quantities) {
  const Figures& f = quantities.whole;
  whole["strips"] = json::array(), whole["undercuts"] = json::array(), whole["buildups"] = json::array();
  for (const StripFigure& s : f.strips)
    whole["strips"].push_back({{"name", s.name}, {"volume_m3", s.volume}, {"area_m2", s.area}, {"loose_m3", s.loose}});
  for (const UndercutFigure& u : f.undercuts) {
    whole["undercuts"].push_back({{"name", u.name}, {"dig_m3", u.dig}, {"area_m2", u.area}});
    if (!u.layers.empty()) whole["undercuts"].back()["layers"] = layersJson(u.layers);
  }
  for (const BuildUpFigure& b : f.buildUps)
    whole["buildups"].push_back({{"name", b.name}, {"layers", layersJson(b.layers)}});
  whole["figures"] = figuresJson(f);
  whole["regions"] = json::array();
  for (const RegionFigures& r : quantities.regions) {
    json j{{"name", r.name}};
    j.update(figuresJson(r.figures));
    j["materials"] = materialsJson(r.figures);
    j["seams"] = measuredJson(r.seams), j["works"] = measuredJson(r.works);
    whole["regions"].push_back(std::move(j));
  }
  whole["materials"] = materialsJson(f);
  for (const AsBuiltFigures& a : quantities.asBuilt) {
    whole["as_built"].push_back({{"survey", a.survey},
                                 {"region", a.region.empty() ? json() : json(a.region)},
                                 {"done", volumeJson(a.done)},
                                 {"since_last", volumeJson(a.sinceLast)},
                                 {"remaining", volumeJson(a.remaining)}});
  }
}

}  // namespace

json figuresJson(const Figures& f) {
  return {{"strip_m3", f.strip},         {"bulk_cut_m3", f.bulkCut},  {"bulk_fill_m3", f.bulkFill},
          {"undercut_m3", f.undercut},   {"backfill_m3", f.backfill}, {"buildup_m3", f.buildUp},
          {"available_m3", f.available}, {"needed_m3", f.needed},     {"surplus_m3", f.surplus()},
          {"import_m3", f.import},       {"export_m3", f.exported}};
}

nlohmann::ordered_json asJson(const project::Evaluation& evaluation) {
  const Ledger ledger = ledgerOf(evaluation);
  const Quantities quantities = quantitiesOf(evaluation, {});
  json seams = json::array(), compared = json::array(), works = json::array(), doubts = json::array(),
       problems = json::array();
  for (const LedgerRow& row : ledger.rows) {
    json j;
    if (row.kind == LedgerRow::Kind::works) j["id"] = row.id;
    j["name"] = row.name;
    if (row.kind == LedgerRow::Kind::works) {
      j.update({{"kind", row.works},
                {"ground", row.on},
                {"footprint_area_m2", row.footprintArea},
                {"surface_area_m2", row.surfaceArea}});
      if (!row.phase.empty()) j["phase"] = row.phase;
      for (const works::Figure& figure : row.figures) j[figure.name] = figure.value;
      addStorage(j, evaluation, WorksId{row.id});
    }
    if (row.known) {
      j.update(volumeJson(row.volume));
      addSure(j, quantities, row.name, row.id);
    } else {
      j["known"] = false;
    }
    (row.kind == LedgerRow::Kind::works ? works : row.between.counted ? seams : compared).push_back(std::move(j));
  }
  for (const auto& g : evaluation.grounds) {
    const std::string& name = evaluation.project->ground(g.id)->name;
    if (!g.problem.empty()) problems.push_back({{"ground", name}, {"text", g.problem}});
    for (const auto& d : g.doubts) {
      if (evaluation.project->acceptance(d)) continue;
      doubts.push_back(doubtJson(d, evaluation.project->origin));
      doubts.back()["ground"] = name;
    }
  }
  json whole{{"project", evaluation.project->name},
             {"seams", std::move(seams)},
             {"works", std::move(works)},
             {"compared", std::move(compared)},
             {"total",
              {{"cut_m3", ledger.cut},
               {"fill_m3", ledger.fill},
               {"surplus_m3", ledger.surplus()},
               {"unmeasured_area_m2", ledger.unmeasured}}},
             {"doubts", std::move(doubts)},
             {"problems", std::move(problems)}};
  addQuantities(whole, quantities);
  return whole;
}

std::string dumped(const nlohmann::ordered_json& j) {
  return j.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

}  // namespace inselberg::report
