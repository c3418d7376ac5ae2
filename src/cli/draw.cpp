// The plan of a ground, drawn to scale.
#include <fmt/format.h>

#include <memory>

#include "base/error.h"
#include "base/lower_case.h"
#include "calls.h"
#include "drawing/paper_write.h"
#include "exchange/text_file.h"
#include "output.h"
#include "report/layout_page.h"
#include "report/plan_drawing.h"
#include "report/plan_page.h"

namespace inselberg::cli {
namespace {

struct Asked {
  std::string project, ground, layout, scale, interval, depths, out;
  bool layouts = false;
};

// One layout by its name, or all of the project.
void drawLayouts(const Asked& asked) {
  for (const auto& [option, given] : {std::pair{"--scale", &asked.scale},
                                      {"--interval", &asked.interval},
                                      {"--depths", &asked.depths},
                                      {"--ground", &asked.ground}}) {
    if (!given->empty()) throw Error(std::string(option) + " does not go with layouts", "change the layout instead");
  }
  const auto evaluation = evaluated(asked.project);
  std::vector<drawing::Page> pages;
  for (const project::Layout& layout : evaluation->project->layouts) {
    if (asked.layouts || layout.name == asked.layout) pages.push_back(report::layoutPage(*evaluation, layout, kQuiet));
  }
  if (pages.empty()) {
    std::vector<std::string> names;
    for (const project::Layout& layout : evaluation->project->layouts) names.push_back("\"" + layout.name + "\"");
    throw Error(
        asked.layouts ? "the project has no layouts" : "there is no layout of that name",
        {asked.layouts ? asked.project : asked.layout},
        names.empty() ? "make one in the window: Issue, Layouts" : fmt::format("it has {}", fmt::join(names, ", ")));
  }
  exchange::writeWhole(asked.out, report::contentOf(asked.out, pages));
  say("{} {} to {}\n", pages.size(), pages.size() == 1 ? "sheet" : "sheets", asked.out);
}

void drawPlan(const Asked& asked) {
  if (asked.ground.empty()) throw Error("what is to be drawn is not said", "give --ground, --layout or --layouts");
  if (!report::isDrawingEnding(asked.out))
    throw Error("the name has no known ending", {asked.out}, "end it in .dxf, .svg or .pdf");
  report::PlanRules rules;
  if (!asked.scale.empty()) rules.scale = positiveOf("--scale", asked.scale);
  if (!asked.interval.empty()) rules.interval = positiveOf("--interval", asked.interval);
  const auto evaluation = evaluated(asked.project);
  const project::Project& project = *evaluation->project;
  if (!asked.depths.empty()) {
    rules.depths = positiveOf("--depths", asked.depths);
    rules.depthsFrom = project.surveyed();
  }
  rules.measures = report::measuresOn(asked.out, project.measures);
  const GroundId ground = groundNamed(*evaluation, asked.project, asked.ground).id;
  const report::PlanDrawing plan = report::planDrawing(*evaluation, ground, rules, kQuiet);
  exchange::writeWhole(asked.out, report::contentOf(asked.out, plan, project.origin));
  say("{} drawn at 1 : {:g}, {}, to {}\n", asked.ground, plan.scale, report::intervalText(plan), asked.out);
}

}  // namespace

void addDraw(CLI::App& app) {
  const auto asked = std::make_shared<Asked>();
  auto* call = app.add_subcommand("draw", "Draw the plan of a project's ground to scale");
  call->add_option("PROJECT", asked->project)->required();
  call->add_option("--ground", asked->ground, "Its name in the column");
  auto* one = call->add_option("--layout", asked->layout, "A layout of the project instead, by its name");
  call->add_flag("--layouts", asked->layouts, "All of them, in one PDF")->excludes(one);
  call->add_option("--scale", asked->scale, "1 to so much (what fits on A3)");
  call->add_option("--interval", asked->interval, "Between contours, m (as the relief has it)");
  call->add_option("--depths", asked->depths, "Tell cut and fill from the existing ground every so many m");
  call->add_option("-o,--output", asked->out, "A drawing: .dxf, .svg or .pdf; layouts: .pdf, .svg or .png")
      ->required()
      ->check([](const std::string& name) {
        const bool known = report::isDrawingEnding(name) || lowerCase(name).ends_with(".png");
        return known ? std::string() : std::string("must end in .dxf .svg .pdf or .png");
      });
  call->callback([asked] { asked->layouts || !asked->layout.empty() ? drawLayouts(*asked) : drawPlan(*asked); });
}

}  // namespace inselberg::cli
