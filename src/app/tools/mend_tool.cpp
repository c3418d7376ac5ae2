#include "tools/mend_tool.h"

#include <QCoreApplication>
#include <QPainter>

#include "ground/recut.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("MendTool", text);
}

}  // namespace

GroundId MendTool::target() const {
  const auto& workspace = canvas_.workspace();
  const auto* chosen = workspace.project()->ground(workspace.chosenGround());
  if (chosen && std::holds_alternative<project::FromSources>(chosen->base)) return chosen->id;
  return workspace.project()->surveyed();
}

QString MendTool::hint() const {
  switch (kind_) {
    case Mending::swapEdge:
      return tr("Click a side between two triangles to swap it. Esc ends.");
    case Mending::deleteTriangle:
      return tr("Click a triangle to delete it. Esc ends.");
    case Mending::deletePoint:
      return tr("Click a point to delete it; its triangles close up. Esc ends.");
    case Mending::addPoint:
      return level_ ? tr("Click where to add a point at level %1. Type another level. Esc ends.")
                          .arg(lengths::number(*level_, 3))
                    : tr("Type the level of the point to add (z 71.5), then click its place. Esc ends.");
  }
  return {};
}

std::optional<ground::Mend> MendTool::under(Vec2 p) const {
  const auto* g = canvas_.workspace().evaluation()->ground(target());
  if (!g || !g->tin) return std::nullopt;
  const ground::Tin& tin = *g->tin;
  const auto t = tin.locate(p);
  if (t == ground::kNone) return std::nullopt;
  const auto c = tin.corners(t);
  switch (kind_) {
    case Mending::deleteTriangle:
      return ground::DeleteTriangle{ground::centroid(tin, t)};
    case Mending::deletePoint: {
      const auto* nearest = &c[0];
      for (const auto& v : c) {
        if (plane::distance(v.plan(), p) < plane::distance(nearest->plan(), p)) nearest = &v;
      }
      return ground::DeletePoint{nearest->plan()};
    }
    case Mending::addPoint:
      if (!level_) return std::nullopt;
      return ground::AddPoint{{p.x, p.y, *level_}};
    case Mending::swapEdge:
      break;
  }
  double best = 1e300;
  std::optional<ground::Mend> mend;
  for (int k = 0; k < 3; ++k) {
    if (tin.neighbours()[t][static_cast<std::size_t>(k)] == ground::kNone) continue;
    const Vec2 a = c[static_cast<std::size_t>(ground::next(k))].plan(),
               b = c[static_cast<std::size_t>(ground::before(k))].plan();
    const double d = plane::nearestOnSegment(p, a, b).distance;
    if (d < best) best = d, mend = ground::SwapEdge{a, b};
  }
  return mend;
}

void MendTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  Workspace& workspace = canvas_.workspace();
  if (workspace.readOnly() || !workspace.upToDate()) return;
  const auto mend = under(at.plan);
  if (!mend) {
    if (kind_ == Mending::addPoint && !level_)
      Q_EMIT workspace.message(tr("Type the level of the point first: z 71.5"), true);
    return;
  }
  // A swap that cannot be is told at once, not by a doubt.
  const auto* g = workspace.evaluation()->ground(target());
  ground::Doubts doubts;
  const std::vector<ground::Mend> one{*mend};
  ground::mended(*g->tin, one, workspace.project()->origin, doubts);
  if (!doubts.empty()) {
    Q_EMIT workspace.message(kind_ == Mending::swapEdge ? tr("This side cannot be swapped: a triangle would turn over.")
                                                        : tr("This cannot be done here."),
                             true);
    return;
  }
  static const char* const kNames[] = {
      QT_TRANSLATE_NOOP("MendTool", "swap a side"), QT_TRANSLATE_NOOP("MendTool", "delete a triangle"),
      QT_TRANSLATE_NOOP("MendTool", "delete a point"), QT_TRANSLATE_NOOP("MendTool", "add a point")};
  workspace.commit(project::withMend(*workspace.project(), target(), *mend), tr(kNames[static_cast<int>(kind_)]));
}

void MendTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  canvas_.showCursor(Qt::CrossCursor);
}

bool MendTool::key(int key, Qt::KeyboardModifiers) {
  if (key != Qt::Key_Escape) return false;
  canvas_.finishTool();
  return true;
}

QString MendTool::typed(const QString& text) {
  QString plain = text.trimmed();
  if (plain.startsWith('z', Qt::CaseInsensitive)) plain = plain.mid(1).trimmed();
  const auto level = lengths::typed(plain, level_);
  if (!level) return tr("Write a level like z 71.5.");
  level_ = level;
  return {};
}

void MendTool::paint(QPainter& painter) {
  if (!pointer_) return;
  const auto mend = under(*pointer_);
  if (!mend) return;
  const ViewTransform& view = canvas_.view();
  const auto* g = canvas_.workspace().evaluation()->ground(target());
  painter.setPen(QPen(theme::amber(), 2.6));
  painter.setBrush(theme::faded(theme::amber(), 50));
  if (const auto* swap = std::get_if<ground::SwapEdge>(&*mend)) {
    painter.drawLine(view.toScreen(swap->from), view.toScreen(swap->to));
  } else if (std::holds_alternative<ground::DeleteTriangle>(*mend)) {
    QPolygonF shape;
    for (const auto& c : g->tin->corners(g->tin->locate(*pointer_))) shape << view.toScreen(c.plan());
    painter.drawPolygon(shape);
  } else {
    painter.drawEllipse(view.toScreen(ground::placeOf(*mend)), 6, 6);
  }
}

}  // namespace inselberg::app
