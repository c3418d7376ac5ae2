// Follows dark lines of the plan sheets between two places of the plan.
#pragma once

#include <optional>

#include "sheet/follow.h"
#include "workspace/open_sheet.h"
#include "workspace/workspace.h"

namespace inselberg::app {

class SheetTracer {
 public:
  explicit SheetTracer(Workspace& workspace) : workspace_(workspace) {}

  struct Traced {
    std::vector<plane::Vec2> points;  // in plan, without the first place
    double closeness = 0;
  };
  // On the topmost sheet that is shown and holds both places; nothing where there is none. Ends are drawn to a dark
  // line within `reach` metres. Reading a large scan for the first time is long work. Throws Error, Cancelled.
  std::optional<Traced> follow(plane::Vec2 from, plane::Vec2 to, double reach);

 private:
  Workspace& workspace_;
  std::shared_ptr<OpenSheet> open_;  // the last one that was needed
};

}  // namespace inselberg::app
