#include "tools/sheet_tracer.h"

#include <QCoreApplication>
#include <cmath>

namespace inselberg::app {

std::optional<SheetTracer::Traced> SheetTracer::follow(plane::Vec2 from, plane::Vec2 to, double reach) {
  const auto& sheets = workspace_.project()->sheets;
  for (auto at = sheets.rbegin(); at != sheets.rend(); ++at) {
    const project::PlanSheet& sheet = **at;
    const sheet::Placement back = sheet.placement.inverse();
    const plane::Box part = project::shownPart(sheet);
    if (sheet.hidden || !part.contains(back(from)) || !part.contains(back(to))) continue;
    const double metresPerUnit = std::sqrt(std::abs(sheet.placement.determinant()));
    constexpr double kFinestMm = 0.15;
    std::optional<sheet::Followed> followed;
    workspace_.doLong(QCoreApplication::translate("SheetTracer", "Reading the sheet"), [&](const Progress& progress) {
      open_ = OpenSheet::of(sheet);
      followed = open_->use([&](sheet::Document& document) {
        return sheet::follow(document, sheet.page, back(from), back(to), reach / metresPerUnit,
                             sheet.picture ? 1 : kFinestMm, progress);
      });
    });
    if (!followed) return std::nullopt;
    Traced traced{{}, followed->closeness};
    for (std::size_t i = 1; i < followed->points.size(); ++i)
      traced.points.push_back(sheet.placement(followed->points[i]));
    if (traced.points.empty()) return std::nullopt;
    return traced;
  }
  return std::nullopt;
}

}  // namespace inselberg::app
