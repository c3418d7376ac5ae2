#include "tools/draw_line_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>
#include <limits>

#include "base/error.h"
#include "base/quantity.h"
#include "canvas/label.h"
#include "plane/bearing.h"
#include "plane/curves.h"
#include "plane/place_text.h"
#include "project/contour_order.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using plane::Vec3;

constexpr double kNone = std::numeric_limits<double>::quiet_NaN();

QString tr(const char* text) {
  return QCoreApplication::translate("DrawLineTool", text);
}

QString number(double v) {
  return lengths::number(v, 3);
}

bool shown(const project::Source& source) {
  return !source.hidden;
}

}  // namespace

DrawLineTool::DrawLineTool(Canvas& canvas, Drawn kind, double interval)
    : canvas_(canvas), kind_(kind), interval_(interval) {
  if (kind_ != Drawn::contour) return;
  level_ = 0;
  // In the middle of the ground it is drawn into, or of the survey while that has none.
  const Workspace& workspace = canvas_.workspace();
  const project::Evaluation& e = *workspace.evaluation();
  const auto* into = e.ground(workspace.drawnInto().id);
  if (!into || !into->tin) into = e.surveyed();
  if (into && into->tin) {
    const auto& tin = *into->tin;
    level_ = std::round((tin.minLevel() + tin.maxLevel()) / 2 / interval_) * interval_;
  }
}

QString DrawLineTool::hint() const {
  QString what;
  switch (kind_) {
    case Drawn::point:
      what = tr("Click a point.");
      break;
    case Drawn::breakline:
      what = tr("Breakline: click its points, Enter ends it.");
      break;
    case Drawn::contour:
      what = tr("Contour %1: click along it, Enter ends it, the first point closes it. Up and Down step the level.")
                 .arg(number(*level_));
      break;
    case Drawn::boundary:
      what = tr("Boundary: click its corners, Enter closes it.");
      break;
    case Drawn::voids:
      what = tr("Void: click its corners, Enter closes it.");
      break;
    case Drawn::labels:
      what = tr("Contours are labelled where this line crosses them: click its points, Enter ends it.");
      break;
  }
  QStringList state;
  if (kind_ != Drawn::contour && level_) state << tr("level %1").arg(number(*level_));
  if (fromGround_) state << tr("level of the ground");
  if (arc_) state << tr("arc");
  if (follow_) state << tr("following");
  const project::Ground& into = canvas_.workspace().drawnInto();
  if (into.id != canvas_.workspace().project()->surveyed() && kind_ != Drawn::labels)
    state << tr("into %1").arg(QString::fromStdString(into.name));
  if (trace_) state << (closeness_ < 1 ? tr("tracing, %1 % on ink").arg(std::lround(closeness_ * 100)) : tr("tracing"));
  if (!state.isEmpty()) what += " [" + state.join(", ") + "]";
  return what + (levelled() ? tr(" Type a place or a level; A arc, W follow, T trace, Esc ends.")
                            : tr(" Type a place; A arc, W follow, T trace, Esc ends."));
}

// The level at a place: that of the vertex it is snapped to, or as typed, or the ground's.
double DrawLineTool::levelFor(Vec2 place) const {
  if (!levelled()) return kNone;
  if (kind_ == Drawn::contour) return *level_;
  const auto& workspace = canvas_.workspace();
  if (!fromGround_) {
    if (const auto met = project::meet(*workspace.project(), place, 1e-6, shown)) {
      const auto shape = project::shapeOf(*workspace.project(), met->feature);
      const double z = met->vertex ? shape->vertices[*met->vertex].z : ground::placeAt(*shape, met->at).z;
      if (!std::isnan(z)) return z;
    }
    if (level_) return *level_;
  }
  if (fromGround_ || kind_ == Drawn::point) {
    const auto* g = workspace.evaluation()->ground(workspace.chosenGround());
    if (g && g->tin) return g->tin->levelAt(place).value_or(kNone);
  }
  return kNone;
}

std::vector<Vec3> DrawLineTool::stretchTo(Vec2 place) const {
  const Vec3 end{place.x, place.y, levelFor(place)};
  if (vertices_.empty()) return {end};
  const Vec3 last = vertices_.back();
  const auto& project = *canvas_.workspace().project();
  if (follow_) {
    const auto from = project::meet(project, last.plan(), 1e-6, shown), to = project::meet(project, place, 1e-6, shown);
    if (from && to && from->feature == to->feature) {
      auto way = ground::between(*project::shapeOf(project, to->feature), from->at, to->at);
      for (Vec3& v : way) {
        if (kind_ == Drawn::contour) v.z = *level_;
        if (!levelled()) v.z = kNone;
      }
      std::erase_if(way, [&](const Vec3& v) { return v.plan() == last.plan() || v.plan() == place; });
      way.push_back(end);
      return way;
    }
  }
  if (arc_ && vertices_.size() > 1) {
    // The arc that leaves in the direction the line arrived with: it turns by twice the angle to the chord.
    const Vec2 along = last.plan() - vertices_[vertices_.size() - 2].plan(), chord = place - last.plan();
    const double half = std::atan2(plane::cross(along, chord), plane::dot(along, chord));
    if (std::abs(half) > 1e-6 && std::abs(half) < 3.1) {
      std::vector<Vec3> way;
      const auto chords = plane::bulgeChords(last.plan(), place, std::tan(half / 2), 0.01);
      for (std::size_t i = 0; i < chords.size(); ++i) {
        const double t = static_cast<double>(i + 1) / static_cast<double>(chords.size());
        way.push_back({chords[i].x, chords[i].y,
                       std::isnan(last.z) || std::isnan(end.z) ? kNone : last.z + t * (end.z - last.z)});
      }
      way.back() = end;
      return way;
    }
  }
  return {end};
}

void DrawLineTool::add(Vec2 place) {
  if (kind_ == Drawn::point) {
    const double z = levelFor(place);
    if (std::isnan(z)) {
      Q_EMIT canvas_.workspace().message(tr("There is no ground here to take a level from. Type one first: z 71.5"),
                                         true);
      return;
    }
    vertices_ = {{place.x, place.y, z}};
    finish(false);
    return;
  }
  if (!vertices_.empty() && plane::distance(vertices_.back().plan(), place) < 1e-6) return;
  marks_.push_back(vertices_.size());
  const auto traced = trace_ && !vertices_.empty() ? tracedTo(place) : std::vector<Vec2>();
  if (traced.empty()) {
    for (const Vec3& v : stretchTo(place)) vertices_.push_back(v);
    return;
  }
  for (const Vec2 p : traced) vertices_.push_back({p.x, p.y, levelFor(p)});
}

// Along the dark line of the topmost sheet there; empty where it has to be straight.
std::vector<Vec2> DrawLineTool::tracedTo(Vec2 place) {
  try {
    if (!tracer_) tracer_ = std::make_unique<SheetTracer>(canvas_.workspace());
    const double reach = 6 / canvas_.view().scale;
    const auto traced = tracer_->follow(vertices_.back().plan(), place, reach);
    if (!traced) return {};
    closeness_ = traced->closeness;
    if (closeness_ < 0.5)
      Q_EMIT canvas_.workspace().message(
          tr("Hardly a line to follow here: %1 % of the way is on ink. Click closer together, or T for straight lines.")
              .arg(std::lround(closeness_ * 100)),
          true);
    return traced->points;
  } catch (const Error& e) {
    Q_EMIT canvas_.workspace().message(QString::fromUtf8(e.what()), true);
  } catch (const Cancelled&) {
  }
  return {};
}

void DrawLineTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  if (vertices_.size() >= 3 && kind_ != Drawn::point) {
    const QPointF first = canvas_.view().toScreen(vertices_.front().plan());
    if (std::hypot(first.x() - at.screen.x(), first.y() - at.screen.y()) < 10) {
      finish(true);
      return;
    }
  }
  if (!vertices_.empty() && plane::distance(vertices_.back().plan(), at.plan) * canvas_.view().scale < 1) return;
  add(at.plan);
}

void DrawLineTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  canvas_.showCursor(Qt::CrossCursor);
}

void DrawLineTool::doubleClick(const Pointed&) {
  finish(false);
}

bool DrawLineTool::key(int key, Qt::KeyboardModifiers modifiers) {
  if (modifiers & (Qt::ControlModifier | Qt::AltModifier)) return false;
  switch (key) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      finish(false);
      return true;
    case Qt::Key_Backspace:
      if (!marks_.empty()) vertices_.resize(marks_.back()), marks_.pop_back();
      return true;
    case Qt::Key_A:
      arc_ = !arc_;
      return true;
    case Qt::Key_W:
      follow_ = !follow_;
      return true;
    case Qt::Key_T:
      trace_ = !trace_;
      return true;
    case Qt::Key_Up:
    case Qt::Key_Down:
      if (kind_ != Drawn::contour) return false;
      *level_ += key == Qt::Key_Up ? interval_ : -interval_;
      for (Vec3& v : vertices_) v.z = *level_;
      return true;
    case Qt::Key_Escape:
      if (vertices_.empty()) {
        canvas_.finishTool();
      } else {
        vertices_.clear();
        marks_.clear();
      }
      return true;
    default:
      return false;
  }
}

QString DrawLineTool::typed(const QString& text) {
  const QString trimmed = text.trimmed();
  if (trimmed.startsWith('z', Qt::CaseInsensitive)) {
    const QString rest = trimmed.mid(1).trimmed().remove('=');
    if (rest == "ground" && kind_ != Drawn::contour) {
      fromGround_ = true;
      return {};
    }
    if (rest == "none" && kind_ != Drawn::contour) {
      level_.reset();
      fromGround_ = false;
      return {};
    }
    const auto level = lengths::typed(rest, level_);
    if (!level) return tr("Write a level like z 71.5, or z ground.");
    level_ = *level;
    fromGround_ = false;
    if (kind_ == Drawn::contour) {
      for (Vec3& v : vertices_) v.z = *level_;
    }
    return {};
  }
  const auto last = vertices_.empty() ? std::optional<Vec2>() : vertices_.back().plan();
  const auto place =
      plane::parsePlace(trimmed.toStdString(), canvas_.workspace().project()->origin, last, lengths::inMetres());
  if (!place)
    return tr("Write a place like 412010 6187020, or from the last point +5 -3 or 25 at 120 (length at bearing).");
  add(*place);
  return {};
}

void DrawLineTool::finish(bool closed) {
  if (vertices_.empty()) return;
  Workspace& workspace = canvas_.workspace();
  const std::size_t least = kind_ == Drawn::point ? 1 : area() ? 3 : 2;
  if (vertices_.size() < least) {
    Q_EMIT workspace.message(area() ? tr("An outline needs three corners.") : tr("A line needs two points."), true);
    return;
  }
  if (kind_ == Drawn::labels) {
    auto lines = workspace.project()->labelLines;
    auto& line = lines.emplace_back();
    for (const Vec3& v : vertices_) line.push_back(v.plan());
    if (closed) line.push_back(line.front());
    vertices_.clear();
    marks_.clear();
    workspace.commit(project::withLabelLines(*workspace.project(), std::move(lines)),
                     tr("label contours along a line"));
    return;
  }
  ground::Breakline shape{vertices_, closed || area(), kind_ == Drawn::contour};
  const auto hasLevel = [](const Vec3& v) { return !std::isnan(v.z); };
  if (kind_ == Drawn::breakline && std::none_of(shape.vertices.begin(), shape.vertices.end(), hasLevel)) {
    // Nothing was said: the line lies on the ground it is drawn over.
    if (const auto* g = workspace.evaluation()->ground(workspace.chosenGround()); g && g->tin)
      shape = ground::levelledFrom(
          shape, [&](Vec2 p) { return g->tin->levelAt(p); }, 0);
    if (std::none_of(shape.vertices.begin(), shape.vertices.end(), hasLevel)) {
      Q_EMIT workspace.message(tr("The line has no level, and there is no ground under it. Type one: z 71.5"), true);
      return;
    }
  }
  const auto kind = kind_ == Drawn::point      ? project::FeatureKind::point
                    : kind_ == Drawn::boundary ? project::FeatureKind::boundary
                    : kind_ == Drawn::voids    ? project::FeatureKind::voids
                                               : project::FeatureKind::line;
  const QString what = kind_ == Drawn::point       ? tr("draw a point")
                       : kind_ == Drawn::breakline ? tr("draw a breakline")
                       : kind_ == Drawn::contour   ? tr("draw a contour")
                       : kind_ == Drawn::boundary  ? tr("draw a boundary")
                                                   : tr("draw a void");
  std::optional<std::string> question;
  try {
    const auto& project = *workspace.project();
    const GroundId into = workspace.drawnInto().id;
    if (kind_ == Drawn::contour) question = project::outOfLineText(project, into, shape, interval_);
    std::size_t drawn = 1;
    for (const auto& s : project.sources) drawn += s->file.empty() ? 1 : 0;
    workspace.commit(
        project::withDrawn(project, kind, shape, into,
                           drawn == 1 ? tr("drawn").toStdString() : tr("drawn %1").arg(drawn).toStdString()),
        what);
  } catch (const Error& e) {
    Q_EMIT workspace.message(QString::fromUtf8(e.what()), true);
    return;
  }
  vertices_.clear();
  marks_.clear();
  if (kind_ == Drawn::contour) *level_ += interval_;
  if (question) Q_EMIT workspace.message(QString::fromStdString(*question), true);
}

std::optional<std::pair<Vec2, Vec2>> DrawLineTool::lockFrom() const {
  if (vertices_.empty()) return std::nullopt;
  const Vec2 last = vertices_.back().plan();
  if (vertices_.size() == 1) return std::pair(last, Vec2{1, 0});
  return std::pair(last, plane::unit(last - vertices_[vertices_.size() - 2].plan()));
}

void DrawLineTool::paint(QPainter& painter) {
  if (vertices_.empty()) return;
  const ViewTransform& view = canvas_.view();
  QPolygonF line;
  for (const Vec3& v : vertices_) line << view.toScreen(v.plan());
  const auto done = line.size();
  if (pointer_) {
    for (const Vec3& v : stretchTo(*pointer_)) line << view.toScreen(v.plan());
  }
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::amber(), 2));
  painter.drawPolyline(line);
  if (area() && line.size() > 2) {
    painter.setPen(QPen(theme::amber(), 1.2, Qt::DashLine));
    painter.drawLine(line.back(), line.front());
  }
  painter.setPen(QPen(theme::ink(), 1.2));
  painter.setBrush(theme::paper());
  for (qsizetype i = 0; i < done; ++i) painter.drawRect(QRectF(line[i] - QPointF(3.5, 3.5), QSizeF(7, 7)));
  if (!pointer_) return;
  const Vec2 d = *pointer_ - vertices_.back().plan();
  const double bearing = plane::bearingOf(d);
  QString text =
      tr("%1 at %2°").arg(lengths::told(plane::norm(d), 2), QString::fromStdString(formatNumber(bearing, 1)));
  if (const double z = levelFor(*pointer_); !std::isnan(z)) text += "  z " + number(z);
  paintLabel(painter, text, view.toScreen(*pointer_) + QPointF(14, -12), canvas_.view().size.width());
}

}  // namespace inselberg::app
