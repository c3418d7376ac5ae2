#include "plan/works_lines.h"

#include "theme/theme.h"

namespace inselberg::app {

QPolygonF screenLine(const std::vector<plane::Vec3>& points, bool closed, const ViewTransform& view) {
  QPolygonF line;
  for (const plane::Vec3& p : points) line << view.toScreen(p.plan());
  if (closed && !line.isEmpty()) line << line.front();
  return line;
}

void paintWorksLines(QPainter& painter, const project::Evaluation& evaluation, GroundId upTo, WorksId chosen,
                     const ViewTransform& view) {
  painter.setBrush(Qt::NoBrush);
  for (const auto& g : evaluation.grounds) {
    for (const auto& w : g.works) {
      const bool strong = w.works->id == chosen;
      const auto draw = [&](const auto& lines, const QPen& pen) {
        painter.setPen(pen);
        for (const auto& line : lines) painter.drawPolyline(screenLine(line.points, line.closed, view));
      };
      draw(w.placement->daylight, QPen(theme::daylight(), 1.2));
      draw(w.placement->ends, QPen(theme::error(), 2, Qt::DotLine));
      draw(w.placement->crests, QPen(strong ? theme::amber() : theme::ink(), strong ? 2.4 : 1.5));
    }
    if (g.id == upTo) break;
  }
}

}  // namespace inselberg::app
