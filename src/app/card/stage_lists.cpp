#include "card/stage_lists.h"

#include "base/error.h"
#include "base/measures.h"
#include "base/quantity.h"
#include "works/field.h"
#include "works/graded_line.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using project::Project;
using project::Stages;

QString text(const std::string& s) {
  return QString::fromStdString(s);
}
QString metres(double v) {
  return lengths::told(v, 3);
}
QString share(double v) {
  return text(formatNumber(100 * v, 1)) + " %";
}

QString pitsText(std::size_t pits) {
  return pits == 1 ? StageList::tr("1 pit") : StageList::tr("%1 pits").arg(pits);
}

// What is typed, or an Error that says what to write.
double length(const std::string& typed) {
  const auto v = lengths::typed(QString::fromStdString(typed));
  if (!v || *v < 0)
    throw Error("\"" + typed + "\" is no length", "write " + lengths::unit().toStdString() + ", like 0.3");
  return *v;
}
double shareOf(std::string typed) {
  while (!typed.empty() && (typed.back() == '%' || typed.back() == ' ')) typed.pop_back();
  const auto v = parseNumber(typed);
  if (!v || *v > 99.9 || *v < -99.9) throw Error("\"" + typed + "\" is no share", "write percent, like 25");
  return *v / 100;
}
// By cubic metre, told and typed by the unit that volumes are told in.
double perUnit(double byCubicMetre) {
  return byCubicMetre / inUnit(1, Quantity::volume, lengths::measures());
}
double rate(const std::string& typed) {
  const auto v = parseNumber(typed);
  if (!v || *v < 0) throw Error("\"" + typed + "\" is no rate", "write a number, like 4.5");
  return *v * inUnit(1, Quantity::volume, lengths::measures());
}
std::string named(const std::string& typed) {
  if (typed.empty()) throw Error("a name is missing", "write one");
  return typed;
}

// "concrete 0.2, base 0.15"
QString layersText(const std::vector<works::Layer>& layers) {
  QStringList parts;
  for (const works::Layer& l : layers)
    parts << text(l.name + " " + formatNumber(lengths::inUnit(l.thickness), 3)) +
                 (l.fromSite ? StageList::tr(" from site") : QString());
  return parts.join(", ");
}
std::vector<works::Layer> layersOf(const std::string& typed) {
  std::vector<works::Layer> layers;
  for (QString part : QString::fromStdString(typed).split(',', Qt::SkipEmptyParts)) {
    part = part.trimmed();
    works::Layer layer;
    const QString site = StageList::tr("from site");
    layer.fromSite = part.endsWith(site);
    if (layer.fromSite) part = part.chopped(site.size()).trimmed();
    const auto space = part.lastIndexOf(' ');
    if (space <= 0)
      throw Error("\"" + part.toStdString() + "\" is no layer",
                  "write names and thicknesses, like concrete 0.2, base 0.15");
    layer.name = part.left(space).trimmed().toStdString();
    layer.thickness = length(part.mid(space + 1).toStdString());
    layers.push_back(std::move(layer));
  }
  if (layers.empty()) throw Error("there is no layer", "write names and thicknesses, like concrete 0.2, base 0.15");
  return layers;
}

QString worksNames(const project::Project& project, const std::vector<WorksId>& ids) {
  QStringList names;
  for (const WorksId id : ids) {
    const auto placed = project.works(id);
    names << (placed.works ? text(placed.works->name) : StageList::tr("gone"));
  }
  return names.join(", ");
}

template <class Items>
void eraseRow(Items& items, std::size_t row) {
  if (row < items.size()) items.erase(items.begin() + static_cast<std::ptrdiff_t>(row));
}

// What an item lies in, under or over.
QString where(const Project& project, const std::vector<WorksId>& works, bool line) {
  if (works.empty()) return line ? StageList::tr("its line") : StageList::tr("its outline");
  return worksNames(project, works);
}

StageList stripsList() {
  return {"strips",
          StageList::tr("Strips"),
          StageList::tr(
              "Strip › Outline, Site or Under works adds one: of one depth, or of the depths found at test pits."),
          {StageList::tr("Name"), StageList::tr("Inside or under"), StageList::tr("Margin"), StageList::tr("Depth"),
           StageList::tr("Material"), StageList::tr("Phase")},
          [](const Project& p) {
            const Stages& s = p.stages;
            std::vector<QStringList> rows;
            for (const auto& strip : s.strips)
              rows.push_back({text(strip.name), where(p, strip.under, false),
                              strip.under.empty() ? QString("–") : metres(strip.margin),
                              strip.pits.empty() ? metres(strip.depth) : pitsText(strip.pits.size()),
                              text(strip.material), text(strip.phase)});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& strip = s.strips.at(row);
            if (column == 0) strip.name = named(typed);
            if (column == 2 && !strip.under.empty()) strip.margin = length(typed);
            if (column == 3) strip.depth = length(typed), strip.pits.clear();
            if (column == 4) strip.material = typed;
            if (column == 5) strip.phase = typed;
          },
          [](Stages& s, std::size_t row) { eraseRow(s.strips, row); },
          {}};
}

// Levels along a trench: "0 = 74.5, 80 = 76".
const works::Field& levelsField() {
  static const works::Field field = [] {
    works::Field f;
    f.label = "Levels", f.measure = works::Measure::levels;
    return f;
  }();
  return field;
}

void setDepth(works::Undercut& u, const std::string& typed) {
  if (typed.find('=') == std::string::npos) {
    u.depth = length(typed), u.byLevels = false;
    return;
  }
  if (!u.under.empty()) throw Error("levels along a line are of a trench", "write a depth, like 0.6");
  auto levels = std::get<works::Stations>(works::parsed(levelsField(), typed, std::nullopt, lengths::measures()));
  if (const auto why = works::Grades(levels, {}).wrong(works::lengthOf(u.line, false)))
    throw Error("the line " + *why, "write stations and levels, like 0 = 74.5, 80 = 76");
  u.levels = std::move(levels), u.byLevels = true;
}

StageList undercutsList() {
  return {"undercuts",
          StageList::tr("Undercuts"),
          StageList::tr("Strip › Undercut below the chosen works or Trench adds one. A trench is so deep, or at levels "
                        "along it: 0 = 74.5, 80 = 76. Filled from below: bedding 0.15, gravel 0.3; then common fill."),
          {StageList::tr("Name"), StageList::tr("Below"), StageList::tr("Width"), StageList::tr("Depth"),
           StageList::tr("Measured from"), StageList::tr("Wider"), StageList::tr("Back slope"),
           StageList::tr("Filled from below"), StageList::tr("Material"), StageList::tr("Phase")},
          [](const Project& p) {
            const Stages& s = p.stages;
            std::vector<QStringList> rows;
            for (const auto& u : s.undercuts)
              rows.push_back(
                  {text(u.name), where(p, u.under, true), u.under.empty() ? metres(u.width) : QString("–"),
                   u.byLevels ? text(works::shown(levelsField(), u.levels, lengths::measures())) : metres(u.depth),
                   u.below == works::UndercutBelow::formation ? StageList::tr("formation") : StageList::tr("stripped"),
                   metres(u.wider), text(Slope::horizontalPerVertical(u.backSlope).text()), layersText(u.layers),
                   text(u.material), text(u.phase)});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& u = s.undercuts.at(row);
            if (column == 0) u.name = named(typed);
            if (column == 2 && u.under.empty()) {
              const double width = length(typed);
              if (width <= 0) throw Error("a width is more than 0", "write it like 1.2");
              u.width = width;
            }
            if (column == 3) setDepth(u, typed);
            if (column == 4) {
              if (typed != "formation" && typed != "stripped")
                throw Error("nothing is dug below \"" + typed + "\"", "write formation or stripped");
              u.below = typed == "formation" ? works::UndercutBelow::formation : works::UndercutBelow::stripped;
            }
            if (column == 5) u.wider = length(typed);
            if (column == 6) {
              const auto slope = parseSlope(typed);
              if (!slope) throw Error("\"" + typed + "\" is no slope", "write it like 1:1, 100 % or 45 deg");
              u.backSlope = slope->run();
            }
            if (column == 7) u.layers = typed.empty() ? std::vector<works::Layer>() : layersOf(typed);
            if (column == 8) u.material = typed;
            if (column == 9) u.phase = typed;
          },
          [](Stages& s, std::size_t row) { eraseRow(s.undercuts, row); },
          {}};
}

StageList buildUpsList() {
  return {"buildUps",
          StageList::tr("Build-ups"),
          StageList::tr(
              "Strip › Build-up over the chosen works adds one. Layers go from the top down: concrete 0.2, base 0.15."),
          {StageList::tr("Name"), StageList::tr("Over"), StageList::tr("Part"), StageList::tr("Layers"),
           StageList::tr("Square to the slope"), StageList::tr("Phase")},
          [](const Project& p) {
            const Stages& s = p.stages;
            std::vector<QStringList> rows;
            for (const auto& b : s.buildUps)
              rows.push_back({text(b.name), where(p, b.over, false),
                              b.over.empty()                          ? QString("–")
                              : b.part == works::BuildUpPart::top     ? StageList::tr("top")
                              : b.part == works::BuildUpPart::batters ? StageList::tr("batters")
                                                                      : StageList::tr("all"),
                              layersText(b.layers), b.slopeTrue ? StageList::tr("yes") : StageList::tr("no"),
                              text(b.phase)});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& b = s.buildUps.at(row);
            if (column == 0) b.name = named(typed);
            if (column == 2 && !b.over.empty()) {
              if (typed != "top" && typed != "batters" && typed != "all")
                throw Error("works have no part \"" + typed + "\"", "write top, batters or all");
              b.part = typed == "top"       ? works::BuildUpPart::top
                       : typed == "batters" ? works::BuildUpPart::batters
                                            : works::BuildUpPart::all;
            }
            if (column == 3) b.layers = layersOf(typed);
            if (column == 4) {
              if (typed != "yes" && typed != "no") throw Error("\"" + typed + "\" is no answer", "write yes or no");
              b.slopeTrue = typed == "yes";
            }
            if (column == 5) b.phase = typed;
          },
          [](Stages& s, std::size_t row) { eraseRow(s.buildUps, row); },
          {}};
}

StageList regionsList() {
  return {
      "regions",
      StageList::tr("Regions"),
      StageList::tr("Measure › Region from the chosen outline adds one. Quantities are told for each, and elsewhere."),
      {StageList::tr("Name"), StageList::tr("Area")},
      [](const Project& p) {
        const Stages& s = p.stages;
        std::vector<QStringList> rows;
        for (const auto& r : s.regions)
          rows.push_back({text(r.name), text(shown(plane::area(r.area), Quantity::area, p.measures))});
        return rows;
      },
      [](Stages& s, std::size_t row, int column, const std::string& typed) {
        if (column == 0) s.regions.at(row).name = named(typed);
      },
      [](Stages& s, std::size_t row) { eraseRow(s.regions, row); },
      {}};
}

StageList materialsList() {
  const QString volume = unitOf(Quantity::volume, lengths::measures());
  return {
      "materials",
      StageList::tr("Materials"),
      StageList::tr("Works, strips and undercuts name what their cut is made of. Fill is taken in this order."),
      {StageList::tr("Name"), StageList::tr("Bulking"), StageList::tr("Shrinkage"), StageList::tr("Usable"),
       StageList::tr("Rate per bank %1").arg(volume), StageList::tr("Haul per loose %1").arg(volume)},
      [](const Project& p) {
        const Stages& s = p.stages;
        std::vector<QStringList> rows;
        for (const auto& m : s.materials)
          rows.push_back({text(m.name), share(m.bulking), share(m.shrinkage), share(m.usable),
                          text(formatNumber(perUnit(m.cutRate), 2)), text(formatNumber(perUnit(m.haulRate), 2))});
        return rows;
      },
      [](Stages& s, std::size_t row, int column, const std::string& typed) {
        auto& m = s.materials.at(row);
        if (column == 0) m.name = named(typed);
        if (column == 1) m.bulking = std::max(0.0, shareOf(typed));
        if (column == 2) m.shrinkage = shareOf(typed);
        if (column == 3) m.usable = typed.starts_with("100") ? 1 : std::max(0.0, shareOf(typed));
        if (column == 4) m.cutRate = rate(typed);
        if (column == 5) m.haulRate = rate(typed);
      },
      [](Stages& s, std::size_t row) { eraseRow(s.materials, row); },
      [](Stages& s, const Project&) { s.materials.push_back({"material " + std::to_string(s.materials.size() + 1)}); }};
}

StageList accuracyList() {
  return {
      "accuracy",
      StageList::tr("Accuracy"),
      StageList::tr("Standard deviations of levels, by the file a survey came from: the ± of every volume follows."),
      {StageList::tr("File"), StageList::tr("Of each point"), StageList::tr("Of all together")},
      [](const Project& p) {
        const Stages& s = p.stages;
        std::vector<QStringList> rows;
        for (const auto& a : s.accuracy) rows.push_back({text(a.source), metres(a.random), metres(a.systematic)});
        return rows;
      },
      [](Stages& s, std::size_t row, int column, const std::string& typed) {
        auto& a = s.accuracy.at(row);
        if (column == 0) a.source = named(typed);
        if (column == 1) a.random = length(typed);
        if (column == 2) a.systematic = length(typed);
      },
      [](Stages& s, std::size_t row) { eraseRow(s.accuracy, row); },
      [](Stages& s, const Project& p) {
        for (const auto& source : p.sources) {
          const std::string file = QString::fromStdString(source->file).section('/', -1).toStdString();
          const bool known =
              std::any_of(s.accuracy.begin(), s.accuracy.end(), [&](const auto& a) { return a.source == file; });
          if (!file.empty() && !known) return s.accuracy.push_back({file, 0.03, 0.01});
        }
        s.accuracy.push_back({"survey.csv", 0.03, 0.01});
      }};
}

}  // namespace

std::vector<StageList> stageLists() {
  return {stripsList(), undercutsList(), buildUpsList(), regionsList(), materialsList(), accuracyList()};
}

void changeStages(Workspace& workspace, const std::function<void(Stages&)>& edit, const QString& what) {
  if (workspace.readOnly()) return;
  Stages stages = workspace.project()->stages;
  edit(stages);
  if (!(stages == workspace.project()->stages))
    workspace.commit(project::withStages(*workspace.project(), std::move(stages)), what);
}

}  // namespace inselberg::app
