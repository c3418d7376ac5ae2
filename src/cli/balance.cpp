// The works of a project shifted so that its earth comes out even.
#include <memory>
#include <nlohmann/json.hpp>

#include "balance/site_balance.h"
#include "base/error.h"
#include "base/quantity.h"
#include "calls.h"
#include "output.h"
#include "report/ledger.h"
#include "store/project_file.h"

namespace inselberg::cli {
namespace {

struct Asked {
  std::string project, out, surplus = "0", within = "0.1", most = "10";
  std::vector<std::string> works;
  bool json = false;
};

std::string nameOf(const project::Project& project, WorksId id) {
  return project.works(id).works->name;
}

// Those named, or all there are.
std::vector<WorksId> worksOf(const project::Project& project, const Asked& asked) {
  const auto all = balance::worksToShift(project);
  if (all.empty()) throw Error("no works of it can be shifted", {asked.project}, "place works with a level");
  std::vector<WorksId> list;
  for (const std::string& name : asked.works) {
    const auto found = std::find_if(all.begin(), all.end(), [&](WorksId id) { return nameOf(project, id) == name; });
    if (found == all.end()) {
      std::string names;
      for (const WorksId id : all) names += (names.empty() ? "" : ", ") + nameOf(project, id);
      throw Error("there is no works \"" + name + "\" that can be shifted", {asked.project}, "it has: " + names);
    }
    if (std::find(list.begin(), list.end(), *found) == list.end()) list.push_back(*found);
  }
  return list.empty() ? all : list;
}

void balanceProject(const Asked& asked) {
  const project::ProjectPtr project = store::open(asked.project).project;
  balance::SiteWish wish;
  wish.works = worksOf(*project, asked);
  wish.surplus = numberOf("--surplus", asked.surplus);
  wish.share = positiveOf("--within", asked.within) / 100;
  wish.most = positiveOf("--most", asked.most);
  const balance::SiteBalance found = balance::balanceSite(project, wish, kQuiet);
  if (!asked.out.empty()) store::save(*found.project, asked.out);
  const auto levelOf = [&](WorksId id) { return works::levelOf(found.project->works(id).works->shape).value(); };
  if (asked.json) {
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    for (const WorksId id : wish.works) list.push_back({{"name", nameOf(*project, id)}, {"level_m", levelOf(id)}});
    return sayJson({{"balanced", found.closed},
                    {"shift_m", found.shift},
                    {"works", std::move(list)},
                    {"figures", report::figuresJson(found.figures)}});
  }
  for (const WorksId id : wish.works) say("{:<24}{:>12} m\n", nameOf(*project, id), formatNumber(levelOf(id), 3));
  say("{:<24}{:>12} m\n", "shifted by", formatNumber(found.shift, 3));
  say("{:<24}{:>12} m3\n", "available", formatNumber(found.figures.available, 1));
  say("{:<24}{:>12} m3\n", "needed", formatNumber(found.figures.needed, 1));
  if (!found.closed) say("no shift within the limits comes to the wanted surplus; this is the nearest\n");
}

}  // namespace

void addBalance(CLI::App& app) {
  const auto asked = std::make_shared<Asked>();
  auto* call = app.add_subcommand("balance", "Shift works so that the earth of a project comes out even");
  call->add_option("PROJECT", asked->project)->required();
  call->add_option("--works", asked->works, "A works to shift; may repeat (all that can be)")->expected(1)->take_all();
  call->add_option("--surplus", asked->surplus, "Wanted surplus, m3 compacted; below zero: to be brought in")
      ->capture_default_str();
  call->add_option("--within", asked->within, "How near, percent of the earth moved")->capture_default_str();
  call->add_option("--most", asked->most, "Greatest shift, m")->capture_default_str();
  call->add_option("-o,--output", asked->out, "The balanced project")->check([](const std::string& name) {
    return name.ends_with(".inselberg") ? std::string() : std::string("must end in .inselberg");
  });
  call->add_flag("--json", asked->json, "Print JSON");
  call->callback([asked] { balanceProject(*asked); });
}

}  // namespace inselberg::cli
