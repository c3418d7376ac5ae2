// The plan of a ground, drawn to scale.
#include <memory>

#include "base/error.h"
#include "base/lower_case.h"
#include "calls.h"
#include "drawing/paper_write.h"
#include "exchange/text_file.h"
#include "output.h"
#include "report/plan_drawing.h"

namespace inselberg::cli {
namespace {

struct Asked {
  std::string project, ground, scale, interval, depths, out;
};

void drawPlan(const Asked& asked) {
  report::PlanRules rules;
  if (!asked.scale.empty()) rules.scale = positiveOf("--scale", asked.scale);
  if (!asked.interval.empty()) rules.interval = positiveOf("--interval", asked.interval);
  const auto evaluation = evaluated(asked.project);
  const project::Project& project = *evaluation->project;
  if (!asked.depths.empty()) {
    rules.depths = positiveOf("--depths", asked.depths);
    rules.depthsFrom = project.surveyed();
  }
  const GroundId ground = groundNamed(*evaluation, asked.project, asked.ground).id;
  const report::PlanDrawing plan = report::planDrawing(*evaluation, ground, rules, kQuiet);
  exchange::writeWhole(asked.out, report::contentOf(asked.out, plan, project.origin));
  say("{} drawn at 1 : {:g}, contours every {:g} m, to {}\n", asked.ground, plan.scale, plan.interval, asked.out);
}

}  // namespace

void addDraw(CLI::App& app) {
  const auto asked = std::make_shared<Asked>();
  auto* call = app.add_subcommand("draw", "Draw the plan of a project's ground to scale");
  call->add_option("PROJECT", asked->project)->required();
  call->add_option("--ground", asked->ground, "Its name in the column")->required();
  call->add_option("--scale", asked->scale, "1 to so much (what fits on A3)");
  call->add_option("--interval", asked->interval, "Between contours, m (as the relief has it)");
  call->add_option("--depths", asked->depths, "Tell cut and fill from the existing ground every so many m");
  call->add_option("-o,--output", asked->out, "A drawing: .dxf, .svg or .pdf")
      ->required()
      ->check([](const std::string& name) {
        return report::isDrawingEnding(name) ? std::string() : std::string("must end in .dxf .svg or .pdf");
      });
  call->callback([asked] { drawPlan(*asked); });
}

}  // namespace inselberg::cli
