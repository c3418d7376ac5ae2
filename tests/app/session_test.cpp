// Random sessions: whatever is clicked, dragged and typed, the figures are true of the project, and undo leads back.
#include <random>

#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

void oneStep(Driver& d, std::mt19937& random) {
  const auto any = [&] { return QPoint(30 + static_cast<int>(random() % 760), 40 + static_cast<int>(random() % 640)); };
  // Mostly something of the works there are, so that handles are really taken.
  const auto place = [&] {
    const auto& list = d.project().column.back()->works;
    if (list.empty() || random() % 4 == 0) return any();
    const auto& ring = works::outlineOf(list[random() % list.size()]->shape);
    const std::size_t k = random() % ring.size();
    switch (random() % 3) {
      case 0:
        return d.at(ring[k]);
      case 1:
        return d.at(0.5 * (ring[k] + ring[(k + 1) % ring.size()]));
      default:
        return d.at(plane::boundsOf(ring).centre());
    }
  };
  switch (random() % 9) {
    case 0:
    case 1:
      d.clickPlan(place());
      break;
    case 2:
    case 3:
    case 4:
      d.dragPlan(place(), place() + QPoint(static_cast<int>(random() % 61) - 30, static_cast<int>(random() % 61) - 30));
      break;
    case 5: {
      const Qt::Key keys[] = {Qt::Key_Escape, Qt::Key_Return, Qt::Key_Backspace, Qt::Key_Delete,
                              Qt::Key_Plus,   Qt::Key_Minus,  Qt::Key_Left};
      d.key(keys[random() % std::size(keys)]);
      break;
    }
    default: {
      const char* actions[] = {"undo", "redo",        "draw-pad", "select",   "depth", "triangles",
                               "snap", "rightAngles", "fit",      "baseline", "ledger"};
      auto* action = d.window.findChild<QAction*>(actions[random() % std::size(actions)]);
      if (action->isEnabled()) action->trigger();
    }
  }
}

}  // namespace

TEST_CASE("After random sessions the figures are those of a fresh evaluation, and undo leads back to the start",
          "[random]") {
  for (unsigned seed = 1; seed <= 4; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    Driver d;
    d.openDemo();
    const auto start = d.workspace().project();
    for (int i = 0; i < 60; ++i) {
      CAPTURE(i);
      oneStep(d, random);
      if (i % 6 != 5) continue;
      d.settle();
      for (const auto& w : d.project().column.back()->works)
        CHECK_NOTHROW(plane::sound({works::outlineOf(w->shape), {}}, {}));
      project::Cache cache;
      const auto fresh = report::ledgerOf(*project::evaluate(d.workspace().project(), cache, {}));
      const auto shown = d.ledger();
      REQUIRE(shown.rows.size() == fresh.rows.size());
      CHECK(shown.cut == Approx(fresh.cut).epsilon(1e-12));
      CHECK(shown.fill == Approx(fresh.fill).epsilon(1e-12));
    }
    while (d.workspace().history().canUndo()) d.act("undo");
    d.settle();
    CHECK(project::sameContent(*d.workspace().project(), *start));
    CHECK_FALSE(d.workspace().unsaved());
  }
}
