// Sections along a line, or square to it, as tables and drawings.
#include <fmt/format.h>

#include <memory>
#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/lower_case.h"
#include "calls.h"
#include "exchange/line_file.h"
#include "exchange/text_file.h"
#include "gather.h"
#include "output.h"
#include "section/sheet.h"

namespace inselberg::cli {
namespace {

using section::Section;

constexpr double kMostSections = 10'000;

struct Asked {
  std::vector<std::string> files, grounds;
  std::string line, kept, spacing, width, out;
  bool json = false;
};

struct Grounds {
  std::string title;
  exchange::Georeference place;
  std::vector<section::Named> list;
  std::vector<project::SectionLine> kept;  // by a project
};

// All grounds of a project, in the order of their stages, or those named.
Grounds groundsOfProject(const std::string& path, const std::vector<std::string>& wanted) {
  const auto evaluation = evaluated(path);
  const project::Project& project = *evaluation->project;
  Grounds grounds{project.name, {project.origin, project.system}, {}, project.sectionLines};
  std::vector<std::string> names = wanted;
  if (names.empty()) {
    for (const auto& ground : project.column) names.push_back(ground->name);
  }
  for (const std::string& name : names) grounds.list.push_back({name, groundNamed(*evaluation, path, name).tin});
  return grounds;
}

Grounds groundsOf(const Asked& asked) {
  for (const std::string& file : asked.files) {
    if (exchange::formatOf(file) != exchange::Format::project) continue;
    if (asked.files.size() > 1)
      throw Error("a project stands among other files", {file}, "give one project, or grounds");
    return groundsOfProject(file, asked.grounds);
  }
  Grounds grounds;
  std::optional<exchange::Georeference> place;
  for (const std::string& file : asked.files) {
    std::string name = exchange::stemOf(file);
    const auto taken = [&] {
      return std::any_of(grounds.list.begin(), grounds.list.end(), [&](const auto& g) { return g.name == name; });
    };
    for (int k = 2; taken(); ++k) name = fmt::format("{} {}", exchange::stemOf(file), k);
    grounds.list.push_back({name, loadGround(file, place).tin});
  }
  grounds.title = grounds.list.front().name;
  grounds.place = *place;
  return grounds;
}

std::vector<plane::Vec2> lineOf(const Asked& asked, const Grounds& grounds) {
  if (asked.kept.empty()) return exchange::readOneLine(asked.line, grounds.place.system, grounds.place.origin);
  if (const auto* kept = project::lineNamed(grounds.kept, asked.kept)) return kept->line;
  std::string names;
  for (const project::SectionLine& line : grounds.kept) names += (names.empty() ? "" : ", ") + line.name;
  throw Error(fmt::format("no section line \"{}\" is kept", asked.kept), {asked.files.front()},
              names.empty() ? "keep one in the window, or give --line FILE" : "give one of: " + names);
}

nlohmann::ordered_json figuresJson(const Section& section) {
  nlohmann::ordered_json j{{"length_m", section.length()}};
  if (section.grounds.size() < 2) return j;
  const section::CutFill areas = section::between(section, 0, 1);
  j.update({{"cut_m2", areas.cut}, {"fill_m2", areas.fill}, {"missing_m", areas.missing}});
  return j;
}

void takeSections(const Asked& asked) {
  const double spacing = asked.spacing.empty() ? 0 : positiveOf("--spacing", asked.spacing);
  const double width = asked.width.empty() ? 0 : positiveOf("--width", asked.width);
  const Grounds grounds = groundsOf(asked);
  const auto line = lineOf(asked, grounds);
  std::vector<Section> sections{section::sectionAlong(grounds.list, line)};
  if (!sections.front().covered())
    throw Error("the line lies wholly off the ground", {asked.kept.empty() ? asked.line : asked.kept},
                "check that both are of the same place and unit");
  std::vector<section::CrossLine> cross;
  if (spacing > 0) {
    const double count = sections.front().length() / spacing + 1;
    if (count > kMostSections)
      throw Error(fmt::format("that makes {:.0f} sections", count), {"", 0, "--spacing"}, "give a wider spacing");
    cross = section::crossLines(line, spacing, width);
    sections.clear();
    for (const section::CrossLine& c : cross) sections.push_back(section::sectionAlong(grounds.list, c.line));
  }
  section::SheetRules rules;
  rules.title = grounds.title;
  if (!asked.out.empty())
    exchange::writeWhole(asked.out, section::contentOf(asked.out, sections, cross, rules, grounds.place.origin));
  if (asked.json) {
    if (cross.empty()) return sayJson(figuresJson(sections.front()));
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    for (std::size_t k = 0; k < sections.size(); ++k) {
      nlohmann::ordered_json j{{"section", cross[k].station}};
      j.update(figuresJson(sections[k]));
      list.push_back(std::move(j));
    }
    return sayJson({{"sections", std::move(list)}});
  }
  for (std::size_t k = 0; k < sections.size(); ++k)
    say("{}\n", section::headingOf(sections[k], rules, cross.empty() ? nullptr : &cross[k]));
}

}  // namespace

void addSection(CLI::App& app) {
  const auto asked = std::make_shared<Asked>();
  auto* call = app.add_subcommand("section", "Grounds along a line, or in sections square to it");
  call->add_option("FILE", asked->files, "A project, or grounds from the earlier to the later")->required();
  auto* line = call->add_option_group("line")->require_option(1);
  line->add_option("--line", asked->line, "A file with one line");
  line->add_option("--kept", asked->kept, "A section line that the project keeps, by its name");
  call->add_option("--ground", asked->grounds, "A ground of the project; may repeat (all)")->expected(1)->take_all();
  auto* spacing =
      call->add_option("--spacing", asked->spacing, "Sections square to the line so far from each other, m");
  auto* width = call->add_option("--width", asked->width, "Their width in all, m")->needs(spacing);
  spacing->needs(width);
  call->add_option("-o,--output", asked->out, "A table (.csv) or a drawing (.svg, .pdf, .png)")
      ->check([](const std::string& name) {
        const bool known = std::any_of(std::begin(section::kEndings), std::end(section::kEndings),
                                       [&](const char* ending) { return lowerCase(name).ends_with(ending); });
        return known ? std::string() : std::string("must end in .csv .svg .pdf or .png");
      });
  call->add_flag("--json", asked->json, "Print JSON");
  call->callback([asked] { takeSections(*asked); });
}

}  // namespace inselberg::cli
