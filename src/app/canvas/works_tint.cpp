#include "canvas/works_tint.h"

#include <QPainter>
#include <QPainterPath>
#include <unordered_map>

#include "ground/border.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

constexpr int kShare = 170;  // of 255: the light on the ground stays seen

}  // namespace

std::vector<WorksTint> worksTints(const project::Evaluation& evaluation, GroundId upTo) {
  std::vector<WorksTint> tints;
  std::size_t colours = 0;
  for (const project::GroundPtr& ground : evaluation.project->column) {
    std::unordered_map<WorksId, ground::TinPtr> facets;
    if (const project::EvaluatedGround* evaluated = evaluation.ground(ground->id)) {
      for (const project::PlacedWorks& placed : evaluated->works) facets[placed.works->id] = placed.placement->facets;
    }
    for (const project::WorksPtr& works : ground->works) {
      const QColor colour = theme::worksColour(colours++);
      if (const auto placed = facets.find(works->id); placed != facets.end() && placed->second)
        tints.push_back({placed->second, colour, QString::fromStdString(works->name)});
    }
    if (ground->id == upTo) break;
  }
  return tints;
}

void paintTints(QPainter& painter, const std::vector<WorksTint>& tints, const ViewTransform& view) {
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setCompositionMode(QPainter::CompositionMode_Source);
  painter.setPen(Qt::NoPen);
  for (const WorksTint& tint : tints) {
    QPainterPath cover;
    for (const auto& loop : ground::borderLoops(tint.facets->triangles(), tint.facets->neighbours())) {
      QPolygonF ring;
      for (const ground::Index i : loop) ring << view.toScreen(tint.facets->plan(i));
      cover.addPolygon(ring);
      cover.closeSubpath();
    }
    painter.setBrush(theme::faded(tint.colour, kShare));
    painter.drawPath(cover);
  }
  painter.restore();
}

}  // namespace inselberg::app
