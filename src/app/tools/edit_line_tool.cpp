#include "tools/edit_line_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>

#include "base/error.h"
#include "canvas/source_layer.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using plane::Vec3;
using project::Feature;
using project::FeatureKind;

constexpr double kGrab = 8;  // pixels

QString tr(const char* text) {
  return QCoreApplication::translate("EditLineTool", text);
}

bool shown(const project::Source& source) {
  return !source.hidden;
}

bool locked(const project::Project& project, const Feature& feature) {
  const auto* source = project.source(feature.source);
  return source && source->locked;
}

}  // namespace

QString EditLineTool::hint() const {
  if (then_) return picking_;
  if (canvas_.workspace().chosenFeatures().empty())
    return tr("Click a point or line; drag a box around several, with Alt a line. Esc ends.");
  return tr(
      "Drag a vertex, or the whole (Ctrl copies). Double-click a side for a vertex, X splits there, Delete removes.");
}

void EditLineTool::pickOther(const QString& what, const WithOther& then) {
  picking_ = what;
  then_ = then;
  canvas_.repaintMarks();
}

std::optional<project::Met> EditLineTool::meet(Vec2 p) const {
  // What can be changed comes before what is locked.
  const auto& project = *canvas_.workspace().project();
  const double reach = kGrab / canvas_.view().scale;
  const auto met = project::meet(project, p, reach, [](const project::Source& s) { return shown(s) && !s.locked; });
  return met ? met : project::meet(project, p, reach, shown);
}

bool EditLineTool::isChosen(const Feature& f) const {
  const auto& chosen = canvas_.workspace().chosenFeatures();
  return std::find(chosen.begin(), chosen.end(), f) != chosen.end();
}

void EditLineTool::choose(std::vector<Feature> list) {
  canvas_.workspace().chooseFeatures(std::move(list));
}

void EditLineTool::change(const std::function<project::ProjectPtr(const project::Project&)>& edit,
                          const QString& what) {
  Workspace& workspace = canvas_.workspace();
  if (workspace.readOnly()) return;
  const auto& chosen = workspace.chosenFeatures();
  if (std::any_of(chosen.begin(), chosen.end(), [&](const Feature& f) { return locked(*workspace.project(), f); })) {
    Q_EMIT workspace.message(tr("Its source is locked. Unlock it on the card of the ground first."), true);
    return;
  }
  try {
    workspace.commit(edit(*workspace.project()), what);
  } catch (const Error& e) {
    Q_EMIT workspace.message(QString::fromUtf8(e.what()), true);
  }
}

void EditLineTool::press(const Pointed& at, Qt::KeyboardModifiers modifiers) {
  const Vec2 p = canvas_.view().toPlan(at.screen);
  const auto met = meet(p);
  if (then_) {
    if (met) std::exchange(then_, nullptr)(met->feature, p);
    return;
  }
  const bool fixed = met && locked(*canvas_.workspace().project(), met->feature);
  if (!met || (fixed && !(modifiers & Qt::ShiftModifier))) {
    // What is locked is chosen by a click, and a drag from it draws a box all the same.
    clicked_ = met ? std::optional(met->feature) : std::nullopt;
    drag_ = Drag{modifiers & Qt::AltModifier ? Drag::lasso : Drag::box, p, at.mouse, {}, 0, nullptr, false, false};
    lasso_ = {p};
    return;
  }
  auto chosen = canvas_.workspace().chosenFeatures();
  if (modifiers & Qt::ShiftModifier) {
    if (isChosen(met->feature)) {
      std::erase(chosen, met->feature);
    } else {
      chosen.push_back(met->feature);
    }
    choose(std::move(chosen));
    return;
  }
  const bool was = isChosen(met->feature);
  if (!was) choose({met->feature});
  const bool vertex =
      met->vertex && was && canvas_.workspace().chosenFeatures().size() == 1 && !(modifiers & Qt::ControlModifier);
  drag_ = Drag{vertex ? Drag::vertex : Drag::whole,
               p,
               at.mouse,
               met->feature,
               met->vertex.value_or(0),
               canvas_.workspace().project(),
               (modifiers & Qt::ControlModifier) != 0,
               false};
}

void EditLineTool::move(const Pointed& at, bool dragging, Qt::KeyboardModifiers) {
  pointer_ = at.screen;
  const Vec2 p = at.plan;
  if (!dragging || !drag_) {
    hovered_ = meet(canvas_.view().toPlan(at.screen));
    canvas_.showCursor(hovered_ ? Qt::PointingHandCursor : Qt::ArrowCursor);
    return;
  }
  if (!drag_->moved && std::hypot(at.mouse.x() - drag_->startMouse.x(), at.mouse.y() - drag_->startMouse.y()) < 4)
    return;
  drag_->moved = true;
  if (drag_->kind == Drag::lasso && plane::distance(lasso_.back(), p) * canvas_.view().scale > 3) lasso_.push_back(p);
  if (drag_->kind == Drag::box || drag_->kind == Drag::lasso || canvas_.workspace().readOnly()) return;
  try {
    const project::Project& before = *drag_->before;
    if (drag_->kind == Drag::vertex) {
      auto shape = *project::shapeOf(before, drag_->feature);
      shape.vertices[drag_->index].x = p.x, shape.vertices[drag_->index].y = p.y;
      canvas_.workspace().setTransient(project::withShape(before, drag_->feature, shape));
      return;
    }
    const Vec2 d = p - drag_->start;
    const auto shift = [d](const ground::Breakline& line) { return ground::moved(line, {d.x, d.y, 0}); };
    const auto& chosen = canvas_.workspace().chosenFeatures();
    if (!drag_->copy) {
      canvas_.workspace().setTransient(project::withShapes(before, chosen, shift));
      return;
    }
    project::ProjectPtr next = drag_->before;
    for (const Feature& f : chosen)
      next = project::withFeature(*next, f.source, f.kind, shift(*project::shapeOf(before, f)));
    canvas_.workspace().setTransient(next);
  } catch (const Error&) {
    // An outline that would cross itself: the last place that did not stays.
  }
}

void EditLineTool::release(const Pointed& at) {
  if (!drag_) return;
  const Drag drag = *std::exchange(drag_, std::nullopt);
  Workspace& workspace = canvas_.workspace();
  if (drag.kind == Drag::box || drag.kind == Drag::lasso) {
    if (!drag.moved) {
      choose(clicked_ ? std::vector{*clicked_} : std::vector<Feature>{});
      return;
    }
    plane::Ring ring = lasso_;
    if (drag.kind == Drag::box) {
      const Vec2 a = drag.start, b = canvas_.view().toPlan(at.screen);
      ring = {a, {b.x, a.y}, b, {a.x, b.y}};
    }
    lasso_.clear();
    if (ring.size() >= 3)
      choose(
          project::inside(*workspace.project(), ring, [](const project::Source& s) { return !s.hidden && !s.locked; }));
    return;
  }
  if (!drag.moved) return;
  workspace.commitTransient(drag.kind == Drag::vertex ? tr("move a vertex") : drag.copy ? tr("copy") : tr("move"));
}

void EditLineTool::doubleClick(const Pointed& at) {
  const auto met = meet(canvas_.view().toPlan(at.screen));
  if (!met || met->vertex || met->feature.kind == FeatureKind::point) return;
  choose({met->feature});
  change(
      [&](const project::Project& project) {
        return project::withShape(project, met->feature,
                                  ground::withVertex(*project::shapeOf(project, met->feature), met->at));
      },
      tr("insert a vertex"));
}

bool EditLineTool::key(int key, Qt::KeyboardModifiers modifiers) {
  if (modifiers & (Qt::ControlModifier | Qt::AltModifier)) return false;
  const auto chosen = canvas_.workspace().chosenFeatures();
  const auto met = meet(canvas_.view().toPlan(pointer_));
  switch (key) {
    case Qt::Key_Escape:
      if (then_) {
        then_ = nullptr;
      } else if (drag_) {
        drag_.reset();
        canvas_.workspace().dropTransient();
      } else if (!chosen.empty()) {
        choose({});
      } else {
        canvas_.finishTool();
      }
      return true;
    case Qt::Key_Delete:
    case Qt::Key_Backspace: {
      if (chosen.empty()) return true;
      if (met && met->vertex && chosen.size() == 1 && met->feature == chosen.front() &&
          met->feature.kind != FeatureKind::point) {
        const auto without =
            ground::withoutVertex(*project::shapeOf(*canvas_.workspace().project(), met->feature), *met->vertex);
        if (without) {
          change([&](const project::Project& p) { return project::withShape(p, met->feature, *without); },
                 tr("remove a vertex"));
          return true;
        }
      }
      change([&](const project::Project& p) { return project::withoutFeatures(p, chosen); },
             chosen.size() == 1 ? tr("remove a feature") : tr("remove %1 features").arg(chosen.size()));
      return true;
    }
    case Qt::Key_X: {
      if (!met || met->feature.kind != FeatureKind::line) return true;
      const auto parts = ground::split(*project::shapeOf(*canvas_.workspace().project(), met->feature), met->at);
      choose({met->feature});
      change(
          [&](const project::Project& p) {
            auto next = project::withShape(p, met->feature, parts.front());
            if (parts.size() > 1) next = project::withFeature(*next, met->feature.source, FeatureKind::line, parts[1]);
            return next;
          },
          tr("split a line"));
      return true;
    }
    default:
      return false;
  }
}

std::optional<Vec2> EditLineTool::notTo() const {
  if (!drag_ || drag_->kind != Drag::vertex) return std::nullopt;
  const auto shape = project::shapeOf(*canvas_.workspace().project(), drag_->feature);
  return shape ? std::optional(shape->vertices[drag_->index].plan()) : std::nullopt;
}

void EditLineTool::paint(QPainter& painter) {
  const auto& project = *canvas_.workspace().project();
  if (hovered_ && !drag_) {
    const std::vector<Feature> one{hovered_->feature};
    painter.setOpacity(isChosen(hovered_->feature) ? 1.0 : 0.55);
    paintFeatures(painter, project, canvas_.view(), one);
    painter.setOpacity(1);
  }
  if (!drag_ || !drag_->moved) return;
  painter.setPen(QPen(theme::amber(), 1.4, Qt::DashLine));
  painter.setBrush(theme::faded(theme::amber(), 30));
  if (drag_->kind == Drag::box) painter.drawRect(QRectF(drag_->startMouse, pointer_).normalized());
  if (drag_->kind == Drag::lasso) {
    QPolygonF shape;
    for (const Vec2 p : lasso_) shape << canvas_.view().toScreen(p);
    painter.drawPolygon(shape);
  }
}

}  // namespace inselberg::app
