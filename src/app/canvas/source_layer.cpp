#include "canvas/source_layer.h"

#include <cmath>

#include "theme/theme.h"

namespace inselberg::app {
namespace {

using project::FeatureKind;

constexpr std::size_t kMostMarks = 30000;  // more look the same

QColor colourOf(const project::Source& source, FeatureKind kind, bool contour) {
  if (!source.colour.empty()) return QColor(QString::fromStdString(source.colour));
  switch (kind) {
    case FeatureKind::point:
      return theme::written(theme::granite());
    case FeatureKind::line:
      return contour ? theme::loam() : theme::ink();
    case FeatureKind::boundary:
      return theme::ink();
    case FeatureKind::voids:
      return theme::error();
  }
  return theme::ink();
}

Qt::PenStyle styleOf(FeatureKind kind) {
  return kind == FeatureKind::boundary ? Qt::DashLine : kind == FeatureKind::voids ? Qt::DotLine : Qt::SolidLine;
}

// Vertices less than a pixel and a bit from the one before are passed over.
template <class Points, class Plan>
QPolygonF chain(const Points& points, bool closed, const ViewTransform& view, Plan&& plan) {
  QPolygonF line;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const QPointF q = view.toScreen(plan(points[i]));
    if (i > 0 && i + 1 < points.size() && (q - line.back()).manhattanLength() < 1.2) continue;
    line << q;
  }
  if (closed && !line.isEmpty()) line << line.front();
  return line;
}

}  // namespace

void paintSources(QPainter& painter, std::span<const project::SourcePtr> sources, const ViewTransform& view,
                  const Progress& progress) {
  const plane::Box seen = view.visible();
  const auto plan3 = [](const plane::Vec3& p) { return p.plan(); };
  const auto plan2 = [](const plane::Vec2& p) { return p; };
  for (const auto& source : sources) {
    if (source->hidden) continue;
    const project::SourceData& data = *source->data;
    std::size_t inView = 0;
    for (const auto& p : data.points) inView += seen.contains(p.plan()) ? 1 : 0;
    const std::size_t step = inView / kMostMarks + 1;
    painter.setPen(Qt::NoPen);
    painter.setBrush(colourOf(*source, FeatureKind::point, false));
    std::size_t n = 0;
    for (const auto& p : data.points) {
      if (!seen.contains(p.plan()) || n++ % step != 0) continue;
      const QPointF q = view.toScreen(p.plan());
      painter.drawRect(QRectF(q.x() - 1.4, q.y() - 1.4, 2.8, 2.8));
    }
    painter.setBrush(Qt::NoBrush);
    std::size_t lines = 0;
    for (const auto& line : data.breaklines) {
      if ((lines++ & 63) == 0) progress.check();
      plane::Box box;
      for (const auto& v : line.vertices) box.add(v.plan());
      if (!box.overlaps(seen)) continue;
      painter.setPen(QPen(colourOf(*source, FeatureKind::line, line.contour), line.contour ? 1.0 : 1.4));
      painter.drawPolyline(chain(line.vertices, line.closed, view, plan3));
    }
    for (const auto& [kind, polygons] :
         {std::pair(FeatureKind::boundary, &data.boundaries), std::pair(FeatureKind::voids, &data.voids)}) {
      painter.setPen(QPen(colourOf(*source, kind, false), 1.5, styleOf(kind)));
      for (const auto& polygon : *polygons) {
        painter.drawPolyline(chain(polygon.outer, true, view, plan2));
        for (const auto& hole : polygon.holes) painter.drawPolyline(chain(hole, true, view, plan2));
      }
    }
  }
}

void paintFeatures(QPainter& painter, const project::Project& project, const ViewTransform& view,
                   std::span<const project::Feature> chosen) {
  for (const project::Feature& f : chosen) {
    const auto shape = project::shapeOf(project, f);
    if (!shape) continue;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::amber(), 2.4, styleOf(f.kind)));
    painter.drawPolyline(chain(shape->vertices, shape->closed, view, [](const plane::Vec3& p) { return p.plan(); }));
    painter.setPen(QPen(theme::ink(), 1.1));
    painter.setBrush(theme::paper());
    // Marks that would hide the line come with a closer look.
    constexpr double kApart = 9;
    QPointF last;
    for (std::size_t i = 0; i < shape->vertices.size(); ++i) {
      const QPointF q = view.toScreen(shape->vertices[i].plan());
      if (i > 0 && std::hypot(q.x() - last.x(), q.y() - last.y()) < kApart) continue;
      last = q;
      // The first vertex is round: it shows which way the line runs.
      if (i == 0) {
        painter.drawEllipse(q, 4.5, 4.5);
      } else {
        painter.drawRect(QRectF(q.x() - 3.5, q.y() - 3.5, 7, 7));
      }
    }
  }
}

}  // namespace inselberg::app
