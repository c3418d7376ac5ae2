// inselberg-cli: every main job without a screen. Exit 0; 1 for bad input, with one line on stderr; 2 for wrong usage.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cmath>
#include <csignal>
#include <exception>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>

#include "balance/level_balance.h"
#include "base/error.h"
#include "base/lower_case.h"
#include "base/quantity.h"
#include "base/text.h"
#include "calls.h"
#include "exchange/area_file.h"
#include "exchange/contours_write.h"
#include "exchange/design_file.h"
#include "exchange/formats.h"
#include "exchange/ground_write.h"
#include "exchange/landxml.h"
#include "exchange/text_file.h"
#include "exchange/works_area.h"
#include "gather.h"
#include "ground/build.h"
#include "ground/stamp.h"
#include "output.h"
#include "project/evaluate.h"
#include "quantity/depth_bands.h"
#include "quantity/second_opinion.h"
#include "report/ledger.h"
#include "report/schedule.h"
#include "store/project_file.h"
#include "works/works.h"

namespace inselberg::cli {
namespace {

using json = nlohmann::ordered_json;

void printVolume(const quantity::Volume& v) {
  const auto line = [](const char* name, double value, const char* unit, int decimals) {
    say("{:<18}{:>16} {}\n", name, formatNumber(value, decimals), unit);
  };
  line("cut", v.cut, "m3", 3);
  line("fill", v.fill, "m3", 3);
  say("{:<18}{:>16}\n", "", report::surplusText(v.cut, v.fill));
  line("cut area", v.cutArea, "m2", 2);
  line("fill area", v.fillArea, "m2", 2);
  line("untouched area", v.untouchedArea, "m2", 2);
  line("greatest cut", v.maxCut, "m", 3);
  line("greatest fill", v.maxFill, "m", 3);
  if (v.onlyFrom > 0) line("only in the first", v.onlyFrom, "m2 not measured", 2);
  if (v.onlyTo > 0) line("only in the second", v.onlyTo, "m2 not measured", 2);
  if (v.outside > 0) line("in neither", v.outside, "m2 not measured", 2);
}

void printDoubts(const ground::Doubts& doubts) {
  for (const auto& d : doubts) say("doubt: {}\n", toldIn(d.text, {}));
}

// A coordinate system as JSON: its code or description, or null.
json systemJson(const std::string& definition) {
  return definition.empty() ? json() : json(definition);
}

json infoJson(const ground::Tin& tin, const exchange::Georeference& place) {
  const plane::Origin& origin = place.origin;
  const ground::TinStatistics s = ground::statistics(tin);
  return {{"points", s.points},
          {"triangles", s.triangles},
          {"plan_area_m2", s.planArea},
          {"surface_area_m2", s.surfaceArea},
          {"min_level_m", s.minLevel},
          {"max_level_m", s.maxLevel},
          {"bounds",
           {s.bounds.minX + origin.easting, s.bounds.minY + origin.northing, s.bounds.maxX + origin.easting,
            s.bounds.maxY + origin.northing}},
          {"system", systemJson(place.system)}};
}

void printInfo(const ground::Tin& tin, const exchange::Georeference& place, bool asJson) {
  const plane::Origin& origin = place.origin;
  if (asJson) return sayJson(infoJson(tin, place));
  const ground::TinStatistics s = ground::statistics(tin);
  const double e0 = s.bounds.minX + origin.easting, n0 = s.bounds.minY + origin.northing;
  const double e1 = s.bounds.maxX + origin.easting, n1 = s.bounds.maxY + origin.northing;
  say("points          {}\ntriangles       {}\nplan area       {} m2\nsurface area    {} m2\nlevels          {} to {} "
      "m\n",
      s.points, s.triangles, formatNumber(s.planArea, 2), formatNumber(s.surfaceArea, 2), formatNumber(s.minLevel, 3),
      formatNumber(s.maxLevel, 3));
  say("easting         {:.3f} to {:.3f}\nnorthing        {:.3f} to {:.3f}\n", e0, e1, n0, n1);
  if (!place.system.empty()) say("coordinates     {}\n", exchange::requireCoordinateSystem(place.system).text());
}

struct SurveyFiles {
  std::vector<std::string> files;
  std::vector<std::string> breaklines;
  std::string boundary;
  GatherOptions options;
  ground::BuildRules rules;
};

// Files of breaklines: their lines, whatever the layers are called; points beside them are only marks.
project::SourceData readBreaklines(const std::string& file, const SurveyFiles& survey,
                                   const exchange::Georeference& place) {
  exchange::ReadRules rules = survey.options.read;
  rules.target = place.system;
  exchange::Imported lines = exchange::readAny(file, rules);
  exchange::requireClean(lines);
  if (!lines.areas.empty()) {
    throw Error("breaklines must be lines, and this is a polygon", {file, lines.areas.front().line},
                "export the breaklines as lines with levels");
  }
  if (lines.lines.empty())
    throw Error("there is no line in the file", {file, 1}, "export the breaklines as lines with levels");
  for (const auto& line : lines.lines) {
    if (std::all_of(line.vertices.begin(), line.vertices.end(), [](const auto& p) { return std::isnan(p.z); }))
      throw Error("a breakline has no level", {file, line.line}, "give at least one of its points a level");
  }
  lines.points.clear();
  lines.models.clear();
  return exchange::take(lines, std::vector(lines.layers.size(), exchange::Take::breaklines), place.origin)
      .sources.front()
      .data;
}

// The survey; the origin comes from the first file.
Gathered readSurvey(const SurveyFiles& survey) {
  Gathered gathered = gather(survey.files, survey.options);
  const auto add = [&](const std::string& file, const char* as, project::SourceData data) {
    exchange::BroughtIn more;
    more.file = file;
    more.place = gathered.place;
    more.takes = {{exchange::stemOf(file), as}};
    more.report = {std::string("Taken as ") + as + "."};
    more.taken.sources.push_back({exchange::stemOf(file), std::move(data)});
    gathered.files.push_back(std::move(more));
  };
  for (const std::string& file : survey.breaklines)
    add(file, "breaklines", readBreaklines(file, survey, gathered.place));
  if (!survey.boundary.empty()) {
    project::SourceData data;
    for (auto& area : exchange::readAreas(survey.boundary, gathered.place.system))
      data.boundaries.push_back(
          exchange::soundArea(std::move(area.polygon), survey.boundary, area.line, gathered.place.origin));
    add(survey.boundary, "boundary", std::move(data));
  }
  return gathered;
}

void surface(const SurveyFiles& survey, const std::string& out, bool asJson) {
  Gathered gathered = readSurvey(survey);
  const auto built = groundOf(std::move(gathered.files), survey.rules, gathered.place.origin);
  const json info = infoJson(*built.tin, gathered.place);
  exchange::writeGround(*built.tin, gathered.place, exchange::stemOf(out), out, 1, kQuiet);
  if (built.flatPoints > 0)
    gathered.warnings.push_back(fmt::format("{} points were added to cure flats between contours.", built.flatPoints));
  if (built.trimmed > 0) gathered.warnings.push_back(fmt::format("{} border triangles were trimmed.", built.trimmed));
  if (built.linesWithoutLevel > 0)
    gathered.warnings.push_back(fmt::format("{} lines have no level and take no part.", built.linesWithoutLevel));
  if (asJson) {
    for (const auto& d : built.doubts) gathered.warnings.push_back(toldIn(d.text, {}));
    json result = info, taken = json::array();
    for (const TakenLayer& l : gathered.layers)
      taken.push_back({{"file", l.file}, {"layer", l.layer}, {"as", exchange::word(l.as)}});
    result["taken"] = std::move(taken);
    result["warnings"] = gathered.warnings;
    return sayJson(result);
  }
  for (const TakenLayer& l : gathered.layers) say("{}: {} taken as {}\n", l.file, l.layer, exchange::word(l.as));
  printInfo(*built.tin, gathered.place, false);
  for (const std::string& warning : gathered.warnings) say("note: {}\n", warning);
  printDoubts(built.doubts);
}

// What a file holds, layer by layer.
void listFile(const std::string& path, const exchange::ReadRules& rules, bool asJson) {
  const exchange::Imported imported = exchange::readAny(path, rules);
  std::vector<std::string> warnings = warningsOf(imported);
  for (const auto& p : imported.problems)
    warnings.push_back(fmt::format("line {}: {}; left out. To keep it, {}.", p.line, p.what, p.hint));
  if (imported.moreProblems > 0) warnings.push_back(fmt::format("{} more like these.", imported.moreProblems));
  const auto list = exchange::summaries(imported);
  if (asJson) {
    json layers = json::array();
    for (const auto& s : list) {
      json layer{
          {"name", s.name},   {"points", s.points},     {"lines", s.lines},       {"areas", s.areas},
          {"faces", s.faces}, {"min_level_m", nullptr}, {"max_level_m", nullptr}, {"guess", exchange::word(s.guess)}};
      if (s.minLevel) layer["min_level_m"] = *s.minLevel, layer["max_level_m"] = *s.maxLevel;
      layers.push_back(std::move(layer));
    }
    return sayJson({{"format", imported.format},
                    {"units", imported.units},
                    {"system", systemJson(imported.system)},
                    {"layers", std::move(layers)},
                    {"warnings", warnings}});
  }
  if (!imported.system.empty()) say("coordinates in {}\n", exchange::requireCoordinateSystem(imported.system).text());
  say("{}, {}\n{:<24}{:>9}{:>9}{:>9}{:>9}{:>12}{:>12}  guess\n", imported.format, imported.units, "layer", "points",
      "lines", "areas", "faces", "lowest", "highest");
  for (const auto& s : list) {
    const auto level = [](const std::optional<double>& z) { return z ? formatNumber(*z, 3) : std::string("-"); };
    say("{:<24}{:>9}{:>9}{:>9}{:>9}{:>12}{:>12}  {}\n", s.name, s.points, s.lines, s.areas, s.faces, level(s.minLevel),
        level(s.maxLevel), exchange::word(s.guess));
  }
  for (const std::string& warning : warnings) say("note: {}\n", warning);
}

void systems(const std::vector<std::string>& words, bool asJson) {
  constexpr std::size_t kMost = 50;
  const auto found = exchange::findCoordinateSystems(fmt::format("{}", fmt::join(words, " ")), kMost);
  json list = json::array();
  for (const auto& s : found) {
    list.push_back({{"code", s.definition}, {"name", s.name}, {"area", s.area}, {"degrees", s.degrees}});
    if (!asJson) say("{:<12} {}{}\n{:<12} {}\n", s.definition, s.name, s.degrees ? " (degrees)" : "", "", s.area);
  }
  if (asJson) sayJson({{"systems", std::move(list)}});
  if (!asJson && found.empty()) say("no coordinate system has all these words\n");
  if (!asJson && found.size() == kMost) say("only the first {} are shown\n", kMost);
}

void convert(const std::string& path, const std::string& out, const std::string& cell) {
  const double size = positiveOf("--cell", cell);
  std::optional<exchange::Georeference> place;
  const auto loaded = loadGround(path, place);
  exchange::writeGround(*loaded.tin, *place, exchange::stemOf(out), out, size, kQuiet);
}

struct VolumeOptions {
  bool second = false;
  std::string cell, spacing, tolerance, bands;
};

json earthJson(const quantity::Earth& earth) {
  return {{"cut_m3", earth.cut}, {"fill_m3", earth.fill}, {"surplus_m3", earth.cut - earth.fill}};
}

void printSecond(const quantity::SecondOpinion& s) {
  const auto row = [&](const std::string& name, const quantity::Earth& e) {
    const double moved = s.exact.cut + s.exact.fill;
    const double off = std::max(std::abs(e.cut - s.exact.cut), std::abs(e.fill - s.exact.fill));
    say("{:<34}{:>14}{:>14} m3{:>8} %\n", name, formatNumber(e.cut, 1), formatNumber(e.fill, 1),
        formatNumber(moved > 0 ? 100 * off / moved : 0, 2));
  };
  say("\n{:<34}{:>14}{:>14}{:>13}\n", "method", "cut", "fill", "differs");
  row("exact", {s.exact.cut, s.exact.fill});
  row("grid of " + formatNumber(s.cell, 2) + " m", s.grid);
  row("sections, average end areas", s.sections.endAreas);
  row("sections every " + formatNumber(s.spacing, 2) + " m, prismoidal", s.sections.prismoidal);
}

void volume(const std::string& fromPath, const std::string& toPath, const std::string& regionPath,
            const VolumeOptions& o, bool asJson) {
  std::optional<exchange::Georeference> place;
  const auto from = loadGround(fromPath, place).tin, to = loadGround(toPath, place).tin;
  std::vector<plane::Polygon> region;
  if (!regionPath.empty()) {
    for (auto& area : exchange::readAreas(regionPath, place->system))
      region.push_back(exchange::soundArea(std::move(area.polygon), regionPath, area.line, place->origin));
  }
  const double cell = o.cell.empty() ? 0 : positiveOf("--cell", o.cell);
  const double spacing = o.spacing.empty() ? 0 : positiveOf("--spacing", o.spacing);
  const double tolerance = o.tolerance.empty() ? 0 : positiveOf("--tolerance", o.tolerance);
  quantity::SecondOpinion second;
  if (o.second) {
    second = quantity::secondOpinion(*from, *to, region, cell, spacing, kQuiet);
  } else {
    second.exact = quantity::volumeBetween(*from, *to, region, kQuiet);
  }
  quantity::Tolerance shares;
  if (tolerance > 0) shares = quantity::toleranceOf(*from, *to, region, tolerance, kQuiet);
  std::vector<quantity::DepthBand> bands;
  if (!o.bands.empty()) bands = quantity::depthBands(*from, *to, region, positiveOf("--bands", o.bands), kQuiet);
  if (asJson) {
    json j = report::volumeJson(second.exact);
    for (const quantity::DepthBand& b : bands)
      j["bands"].push_back({{"low_m", b.low}, {"high_m", b.high}, {"area_m2", b.area}, {"volume_m3", b.volume}});
    if (o.second) {
      j["second_opinion"] = {{"cell_m", second.cell},
                             {"grid", earthJson(second.grid)},
                             {"spacing_m", second.spacing},
                             {"end_areas", earthJson(second.sections.endAreas)},
                             {"prismoidal", earthJson(second.sections.prismoidal)}};
    }
    if (tolerance > 0) {
      j["tolerance"] = {{"tolerance_m", tolerance},
                        {"within_m2", shares.within},
                        {"above_m2", shares.above},
                        {"below_m2", shares.below}};
    }
    return sayJson(j);
  }
  printVolume(second.exact);
  if (o.second) printSecond(second);
  for (const quantity::DepthBand& b : bands)
    say("{:>8} to {:>8} m{:>16} m2{:>16} m3\n", formatNumber(b.low, 2), formatNumber(b.high, 2),
        formatNumber(b.area, 2), formatNumber(b.volume, 2));
  if (tolerance > 0) {
    for (const auto& [name, area] :
         {std::pair{"within tolerance", shares.within}, {"too high", shares.above}, {"too low", shares.below}})
      say("{:<18}{:>16} m2\n", name, formatNumber(area, 2));
  }
}

// Works of one kind placed on a ground by its own; `fields` are what was typed, by the names of the kind's fields.
struct PlaceOptions {
  std::string ground, outline, out;
  std::map<std::string, std::string> fields;
  bool balance = false, json = false;
};

std::string optionOf(const works::Field& field) {
  std::string option = "--" + field.name;
  std::replace(option.begin(), option.end(), '_', '-');
  return option;
}

void placeWorks(const works::Kind& kind, const PlaceOptions& o) {
  std::vector<std::pair<std::size_t, works::Value>> given;
  for (std::size_t i = 0; i < kind.fields().size(); ++i) {
    const auto typed = o.fields.find(kind.fields()[i].name);
    if (typed == o.fields.end()) continue;
    try {
      given.emplace_back(i, works::parsed(kind.fields()[i], typed->second, {}));
    } catch (const Error& e) {
      throw Error(e.happened(), {"", 0, optionOf(kind.fields()[i])}, e.hint());
    }
  }
  works::Shape said = kind.fresh();
  for (const auto& [field, value] : given) said = said.with(field, value);
  if (!works::levelOf(said)) {
    if (o.balance) throw Error("there is no level to balance: it follows the ground", "leave out --balance");
  } else if (o.fields.count("level") == 0 && !o.balance) {
    throw CLI::RequiredError("--level or --balance");
  }
  for (const auto& [field, value] : given) {
    if (!said.applies(field))
      throw Error("it says nothing about this " + kind.name, {"", 0, optionOf(kind.fields()[field])},
                  "leave it out, or choose what it belongs to");
  }
  std::optional<exchange::Georeference> place;
  const auto loaded = loadGround(o.ground, place);
  const ground::Tin& ground = *loaded.tin;
  const plane::Origin& origin = place->origin;
  exchange::ImportedArea area = exchange::readOneArea(o.outline, place->system);
  const long line = area.line;
  works::Shape shape = exchange::shapeFromArea(kind, std::move(area), o.outline, origin);
  if (works::levelOf(shape)) {
    const double middle = (ground.minLevel() + ground.maxLevel()) / 2;
    shape = works::atLevel(shape, works::groundAt(shape, ground).value_or(middle));
  }
  for (const auto& [field, value] : given) shape = shape.with(field, value);

  works::Placement placed = works::place(shape, ground, origin, kQuiet);
  quantity::Volume v = works::costOf(placed, ground, kQuiet);
  if (v.planArea() <= 0)
    throw Error("the outline lies outside the ground", {o.outline, line},
                "check that both are of the same place and unit");
  bool closed = true;
  if (o.balance) {
    const auto limits = balance::limitsOn(ground);
    const auto found =
        balance::balanceLevel([&](double z) { return balance::costAtLevel(shape, z, ground, origin, kQuiet); },
                              works::levelOf(shape).value(), limits.lowest, limits.highest, 0, kQuiet);
    closed = found.closed;
    shape = works::atLevel(shape, found.best.level);
    placed = works::place(shape, ground, origin, kQuiet);
    v = works::costOf(placed, ground, kQuiet);
  }
  if (!o.out.empty()) {
    exchange::writeWhole(o.out,
                         exchange::groundToLandXml(*ground::stamp(ground, *placed.facets, kQuiet), *place, "finished"));
  }
  if (o.json) {
    json result = report::volumeJson(v);
    for (const works::Figure& figure : works::figuresOf(shape, placed)) result[figure.name] = figure.value;
    result.update({{"kind", kind.name},
                   {"footprint_area_m2", placed.footprintArea},
                   {"balanced", o.balance && closed},
                   {"doubts", report::doubtsJson(placed.doubts, origin)}});
    return sayJson(result);
  }
  for (const works::Figure& figure : works::figuresOf(shape, placed))
    say("{:<18}{:>16}{}\n", lowerCase(figure.label), formatNumber(figure.value, 4), works::unitOf(figure.measure));
  say("{:<18}{:>16} m2\n", "footprint", formatNumber(placed.footprintArea, 2));
  printVolume(v);
  if (o.balance && !closed) say("no level balances exactly; this is the nearest\n");
  printDoubts(placed.doubts);
}

void contours(const std::string& path, const std::string& interval, const std::string& out) {
  const double step = positiveOf("--interval", interval);
  std::optional<exchange::Georeference> place;
  const auto tin = loadGround(path, place).tin;
  say("{} contours written to {}\n", exchange::writeContours(*tin, *place, step, {}, out, kQuiet), out);
}

// The doubts about a file that makes a ground, or about all grounds of a project.
void check(const std::string& path, bool asJson) {
  if (exchange::formatOf(path) != exchange::Format::project) {
    std::optional<exchange::Georeference> place;
    const auto loaded = loadGround(path, place);
    if (asJson) {
      sayJson({{"doubts", report::doubtsJson(loaded.doubts, place->origin)}});
    } else {
      printDoubts(loaded.doubts);
      if (loaded.doubts.empty()) say("no doubts\n");
    }
    return;
  }
  const auto evaluation = evaluated(path);
  const project::Project& project = *evaluation->project;
  json doubts = json::array(), accepted = json::array();
  for (const auto& ground : evaluation->grounds) {
    const std::string& name = project.ground(ground.id)->name;
    for (const ground::Doubt& d : ground.doubts) {
      const auto* acceptance = project.acceptance(d);
      json j = report::doubtJson(d, project.origin);
      j["ground"] = name;
      if (acceptance) j["reason"] = acceptance->reason;
      (acceptance ? accepted : doubts).push_back(std::move(j));
      if (!asJson)
        say("{}{}: {}\n", acceptance ? "accepted (" + acceptance->reason + "): " : "doubt: ", name, toldIn(d.text, {}));
    }
  }
  if (asJson) {
    sayJson({{"doubts", std::move(doubts)}, {"accepted", std::move(accepted)}});
  } else if (doubts.empty()) {
    say("no doubts\n");
  }
}

void exportGround(const std::string& path, const std::string& name, const std::string& out) {
  const auto evaluation = evaluated(path);
  const exchange::Georeference place{evaluation->project->origin, evaluation->project->system};
  exchange::writeGround(*groundNamed(*evaluation, path, name).tin, place, name, out, 1, kQuiet);
}

// NAME=FILE@LEVEL
void addPad(project::ProjectPtr& project, const std::string& text) {
  const auto equals = text.find('='), at = text.rfind('@');
  if (equals == std::string::npos || at == std::string::npos || at < equals) {
    throw Error("\"" + text + "\" is not NAME=FILE@LEVEL", {"", 0, "--pad"}, "write it like Yard=yard.geojson@74.5");
  }
  const std::string file = text.substr(equals + 1, at - equals - 1);
  const double level = numberOf("--pad", text.substr(at + 1));
  const works::Shape pad = exchange::shapeFromArea(*works::kindNamed("pad"),
                                                   exchange::readOneArea(file, project->system), file, project->origin);
  project = project::withNewWorks(*project, project->finished(), validUtf8(text.substr(0, equals)),
                                  works::atLevel(pad, level));
}

void newProject(const SurveyFiles& survey, const std::string& name, const std::vector<std::string>& pads,
                const std::string& out) {
  project::ProjectPtr project = project::emptyProject(validUtf8(name));
  for (exchange::BroughtIn& file : readSurvey(survey).files)
    project = exchange::withBroughtIn(*project, std::move(file), {});
  for (const std::string& pad : pads) addPad(project, pad);
  store::save(*project, out);
}

// The ground of a file beside the design, under the name it has there.
project::ProjectPtr withGroundOfFile(const project::Project& project, const std::string& name,
                                     const std::string& designFile, const GatherOptions& options) {
  const std::string path = (std::filesystem::path(designFile).parent_path() / name).string();
  if (!std::filesystem::exists(path))
    throw Error("there is no ground and no file \"" + name + "\"", {designFile}, "put the file beside the design");
  GatherOptions here = options;
  here.takes.clear();
  const exchange::Georeference place{project.origin, project.system};
  const GroundId id{project.nextId};
  project::ProjectPtr next = project::withNewGround(project, name, project::FromSources{}, project.surveyed());
  for (exchange::BroughtIn& file : gather({path}, here, place).files) {
    for (exchange::TakenSource& s : file.taken.sources)
      next = project::withSource(*next, {s.name, file.file}, std::move(s.data), id);
  }
  return next;
}

// What a design is made into: which stage is written.
struct DesignOutput {
  std::string design, out;
  project::Role stage = project::Role::finished;
  bool json = false;
};

void design(const SurveyFiles& survey, const DesignOutput& o) {
  const std::string text = exchange::readText(o.design);
  project::ProjectPtr project = project::emptyProject(exchange::stemOf(o.design));
  for (exchange::BroughtIn& file : readSurvey(survey).files)
    project = exchange::withBroughtIn(*project, std::move(file), {});
  project = exchange::withDesign(*project, text, o.design, [&](const project::Project& p, const std::string& name) {
    return withGroundOfFile(p, name, o.design, survey.options);
  });
  project::Cache cache;
  const auto evaluation = project::evaluate(project, cache, kQuiet);
  for (const auto& ground : evaluation->grounds) {
    const project::Ground& of = *project->ground(ground.id);
    if (!ground.tin) throw Error(ground.problem, {"", 0, of.name}, "check its files");
  }
  if (lowerCase(o.out).ends_with(".inselberg")) {
    store::save(*project, o.out);
  } else {
    const project::Ground* stage = project->withRole(o.stage);
    if (!stage) throw Error("the design makes no such ground", {o.design}, "name a ground that it makes");
    exchange::writeGround(*evaluation->ground(stage->id)->tin, {project->origin, project->system}, stage->name, o.out,
                          1, kQuiet);
  }
  if (o.json) {
    sayJson(report::asJson(*evaluation));
  } else {
    say("{}", report::asText(*evaluation));
  }
}

void exportDesign(const std::string& path, const std::string& out) {
  exchange::writeWhole(out, exchange::designOf(*store::open(path).project));
}

// An option for every field of a kind that has no places, with its words or its form and what it is before it is given.
void addFields(CLI::App& call, const works::Kind& kind, std::map<std::string, std::string>& into) {
  const works::Shape fresh = kind.fresh();
  for (std::size_t i = 0; i < kind.fields().size(); ++i) {
    const works::Field& field = kind.fields()[i];
    if (!field.onCard || works::isDrawn(field.measure) || field.measure == works::Measure::ground) continue;
    const std::string start =
        field.measure == works::Measure::level ? std::string() : " [" + works::shown(field, fresh.get(i)) + "]";
    auto* option = call.add_option_function<std::string>(
        optionOf(field), [&into, name = field.name](const std::string& typed) { into[name] = typed; },
        field.meaning + (isLength(field.measure) ? " In metres." : "") + start);
    if (field.measure == works::Measure::choice) option->check(CLI::IsMember(field.words));
  }
}

// What was given on the command line; the calls share what they share a meaning of.
struct Given {
  bool asJson = false, list = false;
  std::string out;
  SurveyFiles survey;
  std::string first, second, region, interval, groundName, projectName = "Site";
  std::string maxEdge, tolerance, cell = "1";
  std::vector<std::string> pads, words;
  PlaceOptions placeOptions;
  VolumeOptions volume;
  DesignOutput design;
};

std::string groundEnding(const std::string& name) {
  return exchange::isGroundEnding(name) ? std::string() : "must end in " + exchange::groundEndings();
}

void addUnits(Given& given, CLI::App* call) {
  auto& read = given.survey.options.read;
  call->add_option("--units", read.units, "Of files that do not declare them: m, ft or us-ft")
      ->check(CLI::IsMember({"m", "ft", "us-ft"}));
  call->add_option("--level-field", read.levelField, "Attribute of GIS files that holds levels");
  call->add_option("--file-system", read.system, "Coordinate system the files are in, like EPSG:25832");
  call->add_option("--system", read.target, "Coordinate system they are moved into");
}

void addSurface(CLI::App& app, Given& given) {
  auto* surfaceCall = app.add_subcommand("surface", "Build a ground from any mix of files");
  surfaceCall->add_option("FILE", given.survey.files, "Points, drawings, models, GIS files, rasters")->required();
  surfaceCall
      ->add_option("--take", given.survey.options.takes,
                   "LAYER=points|breaklines|contours|boundary|void|faces|skip; else as guessed")
      ->expected(1)
      ->take_all();
  addUnits(given, surfaceCall);
  surfaceCall->add_option("--breaklines", given.survey.breaklines, "A file whose lines are all breaklines")
      ->expected(1)
      ->take_all();
  surfaceCall->add_option("--boundary", given.survey.boundary, "GeoJSON Polygon; its holes are voids")->expected(1);
  surfaceCall->add_option("--duplicates", given.survey.rules.duplicates, "first, last, mean, highest or lowest")
      ->transform(CLI::CheckedTransformer([] {
        std::map<std::string, ground::DuplicateRule> words;
        for (const auto& [rule, word] : ground::kDuplicateWords) words[word] = rule;
        return words;
      }()));
  surfaceCall->add_option("--max-edge", given.maxEdge, "Trim border triangles with a longer side, m");
  surfaceCall->add_option("--tolerance", given.tolerance,
                          "Greatest level error of thinned rasters and clouds, m (0.05)");
  surfaceCall->add_flag("--cure-flats", given.survey.rules.cureFlats, "Add points where contours leave flats");
  surfaceCall->add_option("-o,--output", given.out, "LandXML, or another ground format, to write")
      ->required()
      ->check(groundEnding);
  surfaceCall->add_flag("--json", given.asJson, "Print JSON");
  surfaceCall->callback([&given] {
    if (!given.maxEdge.empty()) given.survey.rules.maxEdge = positiveOf("--max-edge", given.maxEdge);
    if (!given.tolerance.empty()) {
      given.survey.options.take.tolerance = positiveOf("--tolerance", given.tolerance);
      given.survey.options.take.cloud = 10'000;  // asked for, so also of lesser clouds
    }
    surface(given.survey, given.out, given.asJson);
  });
}

void addImport(CLI::App& app, Given& given) {
  auto* importCall = app.add_subcommand("import", "List what a file holds, layer by layer");
  importCall->add_option("FILE", given.first)->required();
  importCall->add_flag("--list", given.list, "List the layers (this is all there is to do)");
  addUnits(given, importCall);
  importCall->add_flag("--json", given.asJson, "Print JSON");
  importCall->callback([&given] { listFile(given.first, given.survey.options.read, given.asJson); });
}

void addSystems(CLI::App& app, Given& given) {
  auto* systemsCall = app.add_subcommand("systems", "Find coordinate systems by code, name or area");
  systemsCall->add_option("WORD", given.words, "All have to occur")->required();
  systemsCall->add_flag("--json", given.asJson, "Print JSON");
  systemsCall->callback([&given] { systems(given.words, given.asJson); });
}

void addCheck(CLI::App& app, Given& given) {
  auto* checkCall = app.add_subcommand("check", "The doubts about a ground, or about a project's grounds");
  checkCall->add_option("FILE", given.first, "A project, or a file a ground can be made from")->required();
  checkCall->add_flag("--json", given.asJson, "Print JSON");
  checkCall->callback([&given] { check(given.first, given.asJson); });
}

void addConvert(CLI::App& app, Given& given) {
  auto* convertCall = app.add_subcommand("convert", "Write a ground in another format");
  convertCall->add_option("GROUND", given.first)->required();
  convertCall->add_option("-o,--output", given.out, exchange::groundEndings())->required()->check(groundEnding);
  convertCall->add_option("--cell", given.cell, "Cell size of rasters, m")->capture_default_str();
  convertCall->callback([&given] { convert(given.first, given.out, given.cell); });
}

void addVolume(CLI::App& app, Given& given) {
  auto* volumeCall = app.add_subcommand("volume", "Cut and fill between two grounds");
  volumeCall->add_option("FROM", given.first, "The earlier ground")->required();
  volumeCall->add_option("TO", given.second, "The later ground")->required();
  volumeCall->add_option("--region", given.region, "GeoJSON Polygon to measure inside");
  auto* second = volumeCall->add_flag("--second-opinion", given.volume.second, "By grid and by sections as well");
  volumeCall->add_option("--cell", given.volume.cell, "Cell of the grid, m (one that suits the ground)")->needs(second);
  volumeCall->add_option("--spacing", given.volume.spacing, "Between sections, m (one that suits)")->needs(second);
  volumeCall->add_option("--bands", given.volume.bands, "Area and volume in bands of depth so many m wide");
  volumeCall->add_option("--tolerance", given.volume.tolerance, "Tell the area where TO is so near to FROM, m");
  volumeCall->add_flag("--json", given.asJson, "Print JSON");
  volumeCall->callback([&given] { volume(given.first, given.second, given.region, given.volume, given.asJson); });
}

void addPadCall(CLI::App& app, Given& given) {
  const works::Kind& padKind = *works::kindNamed("pad");
  auto* padCall = app.add_subcommand("pad", "Place a level pad with batters, or find the level that balances it");
  padCall->add_option("GROUND", given.placeOptions.ground, "The ground it is placed on")->required();
  padCall->add_option("--outline", given.placeOptions.outline, "GeoJSON Polygon")->required();
  addFields(*padCall, padKind, given.placeOptions.fields);
  padCall->add_flag("--balance", given.placeOptions.balance,
                    "Find the level where cut equals fill, from the level given");
  padCall->add_option("-o,--output", given.placeOptions.out, "LandXML of the ground with the pad");
  padCall->add_flag("--json", given.placeOptions.json, "Print JSON");
  padCall->callback([&given, &padKind] { placeWorks(padKind, given.placeOptions); });
}

void addContours(CLI::App& app, Given& given) {
  auto* contoursCall = app.add_subcommand("contours", "Contours of a ground");
  contoursCall->add_option("GROUND", given.first)->required();
  contoursCall->add_option("--interval", given.interval, "m between levels")->required();
  contoursCall->add_option("-o,--output", given.out, ".geojson or .dxf")
      ->required()
      ->check([](const std::string& typed) {
        const std::string name = lowerCase(typed);
        return name.ends_with(".geojson") || name.ends_with(".json") || name.ends_with(".dxf")
                   ? std::string()
                   : std::string("must end in .geojson or .dxf");
      });
  contoursCall->callback([&given] { contours(given.first, given.interval, given.out); });
}

void addInfo(CLI::App& app, Given& given) {
  auto* infoCall = app.add_subcommand("info", "What a ground holds");
  infoCall->add_option("FILE", given.first)->required();
  infoCall->add_flag("--json", given.asJson, "Print JSON");
  infoCall->callback([&given] {
    std::optional<exchange::Georeference> place;
    const auto loaded = loadGround(given.first, place);
    printInfo(*loaded.tin, *place, given.asJson);
    if (!given.asJson) printDoubts(loaded.doubts);
  });
}

void writeReport(const project::Evaluation& evaluation, const std::string& out) {
  const std::string ending = lowerCase(std::filesystem::path(out).extension().string());
  if (ending == ".json") return exchange::writeWhole(out, report::dumped(report::asJson(evaluation)) + "\n");
  if (ending != ".csv" && ending != ".xlsx")
    throw Error("a report is not written as \"" + ending + "\"", {out}, "end the name in .csv, .xlsx or .json");
  const auto tables = report::reportTables(evaluation, kQuiet);
  if (ending == ".csv") {
    exchange::writeWhole(out, report::asCsv(tables));
  } else {
    report::writeSpreadsheet(tables, out);
  }
}

void addReport(CLI::App& app, Given& given) {
  auto* reportCall = app.add_subcommand("report", "A project's seams and ledger");
  reportCall->add_option("PROJECT", given.first)->required();
  reportCall->add_flag("--json", given.asJson, "Print JSON");
  reportCall->add_option("-o,--output", given.out, "A file of tables (.csv, .xlsx) or all of it (.json)");
  reportCall->callback([&given] {
    const auto evaluation = evaluated(given.first);
    if (!given.out.empty()) writeReport(*evaluation, given.out);
    if (given.asJson) {
      sayJson(report::asJson(*evaluation));
    } else {
      say("{}", report::asText(*evaluation));
    }
  });
}

void addExport(CLI::App& app, Given& given) {
  auto* exportCall = app.add_subcommand("export", "Write a project's ground in any ground format, or its design");
  exportCall->add_option("PROJECT", given.first)->required();
  auto* ground = exportCall->add_option("--ground", given.groundName, "Its name in the column");
  auto* out = exportCall->add_option("-o,--output", given.out)->check(groundEnding)->needs(ground);
  ground->needs(out);
  exportCall->add_option("--design", given.design.out, "The design file to write");
  exportCall->callback([&given] {
    if (given.groundName.empty() && given.design.out.empty()) throw CLI::RequiredError("--ground or --design");
    if (!given.groundName.empty()) exportGround(given.first, given.groundName, given.out);
    if (!given.design.out.empty()) exportDesign(given.first, given.design.out);
  });
}

void addDesign(CLI::App& app, Given& given) {
  auto* call = app.add_subcommand("design", "Make the grounds and quantities of a design file");
  call->add_option("DESIGN", given.design.design, "The design file (JSON)")->required();
  call->add_option("--ground", given.survey.files, "The files of the existing ground")->required();
  call->add_option("--take", given.survey.options.takes, "LAYER=points|breaklines|contours|boundary|void|faces|skip")
      ->expected(1)
      ->take_all();
  addUnits(given, call);
  call->add_option("-o,--output", given.design.out, "A project (.inselberg), or any ground format")
      ->required()
      ->check([](const std::string& name) {
        return lowerCase(name).ends_with(".inselberg") || exchange::isGroundEnding(name)
                   ? std::string()
                   : "must end in .inselberg " + exchange::groundEndings();
      });
  CLI::Option_group* stages = call->add_option_group("stages", "The ground that is written");
  for (const auto& [role, word] : project::kRoleWords) {
    if (!project::isStage(role) || role == project::Role::surveyed) continue;
    stages->add_flag_callback("--" + std::string(word), [&given, r = role] { given.design.stage = r; });
  }
  stages->require_option(0, 1);
  call->add_flag("--json", given.design.json, "Print JSON");
  call->callback([&given] { design(given.survey, given.design); });
}

void addNew(CLI::App& app, Given& given) {
  auto* newCall = app.add_subcommand("new", "Start a project from a survey");
  newCall->add_option("FILE", given.survey.files, "Points, drawings, models, GIS files, rasters")->required();
  addUnits(given, newCall);
  newCall->add_option("--breaklines", given.survey.breaklines)->expected(1)->take_all();
  newCall->add_option("--boundary", given.survey.boundary);
  newCall->add_option("--name", given.projectName)->capture_default_str();
  newCall->add_option("--pad", given.pads, "NAME=OUTLINE.geojson@LEVEL, on the finished ground")
      ->expected(1)
      ->take_all();
  newCall->add_option("-o,--output", given.out, "NAME.inselberg")->required();
  newCall->callback([&given] { newProject(given.survey, given.projectName, given.pads, given.out); });
}

int run(int argc, char** argv) {
  CLI::App app{"Inselberg: earthworks for a site, from survey to balanced ground", "inselberg-cli"};
  app.require_subcommand(1);
  Given given;
  for (const auto add : {addSurface, addImport, addSystems, addCheck, addConvert, addVolume, addPadCall, addContours,
                         addInfo, addReport, addExport, addNew, addDesign})
    add(app, given);
  addBalance(app);
  addSection(app);
  addSheet(app);
  addDraw(app);
  try {
    app.parse(argc, argv);
  } catch (const CLI::CallForHelp& e) {
    return app.exit(e);
  } catch (const CLI::ParseError& e) {
    app.exit(e);
    return 2;
  }
  std::fflush(stdout);
  if (std::ferror(stdout)) throw Error("the result cannot be written to standard output", "check the disk or the pipe");
  return 0;
}

}  // namespace
}  // namespace inselberg::cli

int main(int argc, char** argv) {
  std::signal(SIGXFSZ, SIG_IGN);  // a file that may not grow is told as an Error of writing it
  try {
    return inselberg::cli::run(argc, argv);
  } catch (const inselberg::Error& e) {
    fmt::print(stderr, "inselberg-cli: {}\n", e.what());
  } catch (const std::bad_alloc&) {
    fmt::print(stderr, "inselberg-cli: there is not enough memory for this; use a smaller part of the data\n");
  } catch (const std::exception& e) {
    fmt::print(stderr, "inselberg-cli: an unexpected fault ({}); please report it with the file\n", e.what());
  }
  return 1;
}
