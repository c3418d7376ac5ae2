#include "tools/select_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using plane::Ring;
using plane::Vec2;

constexpr double kGrab = 9;   // pixels
constexpr double kRoom = 44;  // pixels across that corners and the level handle need to lie apart

QString tr(const char* text) {
  return QCoreApplication::translate("SelectTool", text);
}

double pixels(QPointF a, QPointF b) {
  return std::hypot(a.x() - b.x(), a.y() - b.y());
}

// Whether the ring is one a works can have. Counter-clockwise as given.
bool isSound(const Ring& ring) {
  try {
    return plane::sound({ring, {}}, {}).outer == ring;
  } catch (const Error&) {
    return false;
  }
}

}  // namespace

std::optional<works::Works> SelectTool::chosen() const {
  const auto placed = plan_.workspace().project()->works(plan_.workspace().chosenWorks());
  if (!placed.ground) return std::nullopt;
  return *placed.works;
}

bool SelectTool::hasRoom(const Ring& ring) const {
  const plane::Box box = plane::boundsOf(ring);
  return std::min(box.width(), box.height()) * plan_.view().scale >= kRoom;
}

QPointF SelectTool::levelHandle(const works::Works& works) const {
  const Ring& ring = works::outlineOf(works.shape);
  const plane::Box box = plane::boundsOf(ring);
  // Beside works that are too small on the screen to hold it.
  return hasRoom(ring) ? plan_.view().toScreen(box.centre())
                       : plan_.view().toScreen({box.maxX, box.maxY}) + QPointF(16, -16);
}

std::vector<std::size_t> SelectTool::cornersInReach(const Ring& ring) const {
  std::vector<std::size_t> shown;
  if (!hasRoom(ring)) return shown;
  const auto apart = [&](std::size_t i, std::size_t j) {
    return plane::distance(ring[i], ring[j]) * plan_.view().scale >= 2 * kGrab;
  };
  for (std::size_t i = 0; i < ring.size(); ++i) {
    if (shown.empty() || (apart(i, shown.back()) && apart(i, shown.front()))) shown.push_back(i);
  }
  return shown;
}

SelectTool::Part SelectTool::partAt(QPointF screen) const {
  const auto works = chosen();
  if (!works) return {};
  const Ring& ring = works::outlineOf(works->shape);
  const ViewTransform& view = plan_.view();
  for (const std::size_t i : cornersInReach(ring)) {
    if (pixels(view.toScreen(ring[i]), screen) <= kGrab) return {Part::corner, i};
  }
  if (pixels(levelHandle(*works), screen) <= kGrab + 2) return {Part::level, 0};
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
    if (hasRoom(ring) && plane::distance(a, b) * view.scale > 40 &&
        pixels(view.toScreen(0.5 * (a + b)), screen) <= kGrab)
      return {Part::edge, i};
  }
  if (plane::contains(ring, view.toPlan(screen))) return {Part::whole, 0};
  return {};
}

WorksId SelectTool::worksAt(Vec2 p) const {
  const auto& e = *plan_.workspace().evaluation();
  WorksId found;
  for (const auto& g : e.grounds) {
    for (const auto& w : g.works) {
      if (w.placement->facets->locate(p) != ground::kNone) found = w.works->id;
    }
  }
  return found;
}

bool SelectTool::holds(const Pointed& at) const {
  return partAt(at.screen).kind != Part::none || worksAt(at.plan).value != 0;
}

QString SelectTool::hint() const {
  const auto works = chosen();
  if (!works) return tr("Click works to choose them. Drag the ground to move the plan, turn the wheel to zoom.");
  switch (drag_ ? drag_->part.kind : hovered_.kind) {
    case Part::corner:
      return tr("Drag the corner. Delete removes it.");
    case Part::edge:
      return tr("Drag the edge. Double-click adds a corner.");
    case Part::level:
      return tr("Drag up or down to change the level; hold Shift for fine steps.");
    case Part::whole:
      return tr("Drag to move the whole.");
    case Part::none:
      break;
  }
  return hasRoom(works::outlineOf(works->shape))
             ? tr("Drag corners, edges, the level handle or the whole. Esc lets go.")
             : tr("Drag the whole or the level handle beside it; zoom in for corners and edges. Esc lets go.");
}

void SelectTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  Part part = partAt(at.screen);
  if (part.kind == Part::none) {
    const WorksId id = worksAt(at.plan);
    plan_.workspace().chooseWorks(id);
    if (!id) return;
    // Its handles were not in sight yet: what is taken hold of is the whole.
    part = {Part::whole, 0};
  }
  if (plan_.workspace().readOnly()) return;
  drag_ = Drag{part, plan_.view().toPlan(at.screen), at.screen, *chosen(), false};
}

void SelectTool::move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) {
  if (!dragging || !drag_) {
    hovered_ = partAt(at.screen);
    const bool grips = hovered_.kind == Part::corner || hovered_.kind == Part::edge;
    plan_.setCursor(hovered_.kind == Part::level   ? Qt::SizeVerCursor
                    : grips                        ? Qt::CrossCursor
                    : hovered_.kind == Part::whole ? Qt::SizeAllCursor
                                                   : Qt::ArrowCursor);
    return;
  }
  if (!drag_->moved && pixels(at.screen, drag_->startScreen) < 3) return;
  drag_->moved = true;
  works::Works changed = drag_->before;
  Ring ring = works::outlineOf(changed.shape);
  const Vec2 by = at.plan - drag_->start;
  const std::size_t n = ring.size(), i = drag_->part.index;
  switch (drag_->part.kind) {
    case Part::corner:
      ring[i] = at.plan;
      break;
    case Part::edge: {
      const Vec2 u = plane::unit(ring[(i + 1) % n] - ring[i]), out{u.y, -u.x};
      const Vec2 shift = plane::dot(by, out) * out;
      ring[i] = ring[i] + shift;
      ring[(i + 1) % n] = ring[(i + 1) % n] + shift;
      break;
    }
    case Part::whole:
      for (Vec2& p : ring) p = p + by;
      break;
    case Part::level: {
      const double step = modifiers & Qt::ShiftModifier ? 0.001 : 0.01;
      works::setLevel(changed.shape,
                      works::levelOf(changed.shape) + std::round(drag_->startScreen.y() - at.screen.y()) * step);
      break;
    }
    case Part::none:
      break;
  }
  if (!isSound(ring)) return;  // the outline would cross itself: it stays at its last good place
  works::setOutline(changed.shape, std::move(ring));
  apply(changed);
}

void SelectTool::apply(const works::Works& changed) {
  plan_.workspace().setTransient(project::withWorks(*plan_.workspace().project(), changed));
}

void SelectTool::release(const Pointed&) {
  if (drag_ && drag_->moved) {
    const QString name = QString::fromStdString(drag_->before.name);
    const char* what = drag_->part.kind == Part::corner  ? "move a corner of %1"
                       : drag_->part.kind == Part::edge  ? "move an edge of %1"
                       : drag_->part.kind == Part::level ? "change the level of %1"
                                                         : "move %1";
    plan_.workspace().commitTransient(tr(what).arg(name));
  }
  drag_.reset();
}

void SelectTool::doubleClick(const Pointed& at) {
  const auto works = chosen();
  const Part part = partAt(at.screen);
  if (!works || part.kind != Part::edge || plan_.workspace().readOnly()) return;
  works::Works changed = *works;
  Ring ring = works::outlineOf(changed.shape);
  const Vec2 middle = 0.5 * (ring[part.index] + ring[(part.index + 1) % ring.size()]);
  ring.insert(ring.begin() + static_cast<std::ptrdiff_t>(part.index) + 1, middle);
  works::setOutline(changed.shape, std::move(ring));
  plan_.workspace().commit(project::withWorks(*plan_.workspace().project(), changed),
                           tr("add a corner to %1").arg(QString::fromStdString(works->name)));
}

bool SelectTool::key(int key, Qt::KeyboardModifiers) {
  Workspace& workspace = plan_.workspace();
  if (key == Qt::Key_Escape) {
    if (drag_) {
      drag_.reset();
      workspace.dropTransient();
    } else {
      workspace.chooseWorks({});
    }
    return true;
  }
  const auto works = chosen();
  if (key != Qt::Key_Delete || !works || workspace.readOnly()) return false;
  if (hovered_.kind != Part::corner) {
    workspace.commit(project::withoutWorks(*workspace.project(), works->id),
                     tr("remove %1").arg(QString::fromStdString(works->name)));
    return true;
  }
  works::Works changed = *works;
  Ring ring = works::outlineOf(changed.shape);
  if (ring.size() <= 3) {
    Q_EMIT workspace.message(tr("An outline keeps at least three corners."), true);
    return true;
  }
  ring.erase(ring.begin() + static_cast<std::ptrdiff_t>(std::min(hovered_.index, ring.size() - 1)));
  hovered_ = {};
  if (!isSound(ring)) {
    Q_EMIT workspace.message(tr("Without this corner the outline would cross itself."), true);
    return true;
  }
  works::setOutline(changed.shape, std::move(ring));
  workspace.commit(project::withWorks(*workspace.project(), changed),
                   tr("remove a corner of %1").arg(QString::fromStdString(works->name)));
  return true;
}

std::optional<Vec2> SelectTool::notTo() const {
  if (!drag_ || drag_->part.kind != Part::corner) return std::nullopt;
  const auto works = chosen();
  return works ? std::optional(works::outlineOf(works->shape)[drag_->part.index]) : std::nullopt;
}

std::optional<std::pair<Vec2, Vec2>> SelectTool::lockFrom() const {
  if (!drag_ || drag_->part.kind != Part::corner) return std::nullopt;
  const Ring& ring = works::outlineOf(drag_->before.shape);
  const Vec2 corner = ring[drag_->part.index], before = ring[(drag_->part.index + ring.size() - 1) % ring.size()];
  return std::pair(corner, plane::unit(corner - before));
}

void SelectTool::paint(QPainter& painter) {
  const auto works = chosen();
  if (!works) return;
  const Ring& ring = works::outlineOf(works->shape);
  const ViewTransform& view = plan_.view();
  // The outline as it is now, even while the picture is still of a moment ago.
  QPolygonF outline;
  for (const Vec2 p : ring) outline << view.toScreen(p);
  painter.setPen(QPen(theme::amber, 2));
  painter.setBrush(Qt::NoBrush);
  painter.drawPolygon(outline);
  const auto handle = [&](QPointF p, bool hot, bool round) {
    painter.setPen(QPen(theme::ink, 1.2));
    painter.setBrush(hot ? theme::amber : theme::paper);
    const double r = hot ? 5.5 : 4.5;
    round ? painter.drawEllipse(p, r - 0.5, r - 0.5) : painter.drawRect(QRectF(p.x() - r, p.y() - r, 2 * r, 2 * r));
  };
  const Part hot = drag_ ? drag_->part : hovered_;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
    if (hasRoom(ring) && plane::distance(a, b) * view.scale > 40)
      handle(view.toScreen(0.5 * (a + b)), hot.kind == Part::edge && hot.index == i, true);
  }
  for (const std::size_t i : cornersInReach(ring))
    handle(view.toScreen(ring[i]), hot.kind == Part::corner && hot.index == i, false);
  // The level handle: a staff with arrows up and down.
  const QPointF c = levelHandle(*works);
  painter.setPen(QPen(theme::ink, 1.4));
  painter.setBrush(hot.kind == Part::level ? theme::amber : theme::paper);
  painter.drawPolygon(QPolygonF() << c + QPointF(0, -13) << c + QPointF(5.5, -4) << c + QPointF(-5.5, -4));
  painter.drawPolygon(QPolygonF() << c + QPointF(0, 13) << c + QPointF(5.5, 4) << c + QPointF(-5.5, 4));
  painter.drawLine(c + QPointF(-9, 0), c + QPointF(9, 0));
}

}  // namespace inselberg::app
