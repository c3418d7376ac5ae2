#include "tools/draw_places_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "base/error.h"
#include "base/quantity.h"
#include "canvas/label.h"
#include "ground/line_edit.h"
#include "plane/bearing.h"
#include "plane/place_text.h"
#include "project/between_tops.h"
#include "project/level_steps.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("DrawPlacesTool", text);
}

// "40 x 25" or "40 x 25 at 30": the other corners of a rectangle, its first side on the bearing, or east, and the
// second to the right of it. Nothing when the text is none.
std::optional<std::array<Vec2, 3>> rectangleFrom(Vec2 corner, const QString& text) {
  const auto at = text.indexOf("at");
  const QStringList sides = text.left(at < 0 ? text.size() : at).split('x', Qt::KeepEmptyParts, Qt::CaseInsensitive);
  if (sides.size() != 2) return std::nullopt;
  const auto along = lengths::typed(sides[0].trimmed());
  const auto across = lengths::typed(sides[1].trimmed());
  const auto bearing = at < 0 ? std::optional(90.0) : parseNumber(text.mid(at + 2).toStdString());
  if (!along || !across || !bearing || *along <= 0 || *across <= 0) return std::nullopt;
  const Vec2 u = *along * plane::towards(*bearing), v = *across * plane::towards(*bearing + 90);
  return std::array{corner + u, corner + u + v, corner + v};
}

// Whether the next one is counted with it: of the kind, and of an offer that only names a purpose, those named by it.
bool isAlike(const works::Works& works, const works::Offer& offer) {
  const works::Kind& kind = offer.fresh.kind();
  return &works.shape.kind() == &kind && (offer.names.name == kind.name || works.name.starts_with(offer.names.label));
}

}  // namespace

ToDraw worksToDraw(Canvas& canvas, const works::Offer& offer) {
  const works::Kind& kind = offer.fresh.kind();
  const auto first = std::find_if(kind.fields().begin(), kind.fields().end(),
                                  [](const works::Field& f) { return isPlaces(f.measure); });
  const bool outline = first != kind.fields().end() && first->measure == works::Measure::outline;
  const bool flat = kind.name == "level_area";
  const auto done = [&canvas, &kind, offer, flat](const works::Places& points, std::optional<double> level) {
    Workspace& workspace = canvas.workspace();
    const project::Project& project = *workspace.project();
    const GroundId onto = project.finished();
    const auto* ground = workspace.evaluation()->ground(onto);
    const bool joins = kind.name == "ramp";
    works::Shape shape =
        works::begun(offer.fresh, joins ? project::betweenTops(*project.ground(onto), points) : points, project.origin);
    const bool typed = level.has_value();
    if (flat && !level) level = project::levelBetweenContours(project, works::outlineOf(shape));
    if (!flat || !level) {
      if (!ground || !ground->tin)
        throw Error("there is no ground here yet",
                    flat ? "type its level first, like z 74.5" : "import a survey first");
      shape = works::startedOn(shape, *ground->tin);
    }
    if (level) shape = works::atLevel(shape, *level);
    // What sets in another ground takes the first there is.
    if (works::groundNamed(shape)) {
      const auto other = std::find_if(project.column.begin(), project.column.end(),
                                      [&](const auto& g) { return g->id != onto && g->id != project.surveyed(); });
      if (other == project.column.end())
        throw Error("the project has no other ground to set in", "import its model as a ground of its own first");
      shape = works::withGround(shape, {(*other)->name, nullptr});
    }
    std::size_t alike = 1;
    for (const auto& g : project.column) {
      for (const auto& w : g->works) alike += isAlike(*w, offer) ? 1 : 0;
    }
    const WorksId id{project.nextId};
    const QString name = QString("%1 %2").arg(QString::fromStdString(offer.names.label)).arg(alike);
    workspace.commit(project::withNewWorks(project, onto, name.toStdString(), std::move(shape)),
                     tr("draw %1").arg(name));
    workspace.chooseWorks(id);
    if (!flat) return canvas.finishTool();
    Q_EMIT workspace.message(
        (typed   ? tr("%1 at %2, as typed. The next one may follow.")
         : level ? tr("%1 at %2, half-way between its contours. The next one may follow.")
                 : tr("%1 at %2, near the ground. The next one may follow."))
            .arg(name, lengths::number(*works::levelOf(workspace.project()->works(id).works->shape), 3)),
        false);
  };
  return {QString::fromStdString(offer.names.label).toLower(), outline,
          outline ? std::optional(project::AreaUse::works) : std::nullopt, done, flat};
}

DrawPlacesTool::DrawPlacesTool(Canvas& canvas, ToDraw what) : canvas_(canvas), what_(std::move(what)) {}

QString DrawPlacesTool::hint() const {
  QString follow = follow_ ? tr(" [following]") : QString();
  if (level_) follow += tr(" [level %1]").arg(lengths::number(*level_, 2));
  if (points_.empty())
    return (what_.outline ? tr("Click the first corner of the %1. Esc ends.")
                          : tr("Click where the %1 begins. Esc ends."))
               .arg(what_.name) +
           (what_.levelled ? tr(" z 74.5 gives its level.") : QString()) + follow;
  if (points_.size() < fewest())
    return (what_.outline
                ? tr("Click the next corner, or type its distance, or 40 x 25 for a rectangle. Backspace takes one "
                     "back, W follows a border, Esc ends.")
                : tr("Click the next point, or type its distance. Backspace takes one back, W follows a line, Esc "
                     "ends.")) +
           follow;
  return (what_.outline ? tr("Click the next corner; Enter, a double-click or the first corner closes the outline.")
                        : tr("Click the next point; Enter or a double-click ends the line.")) +
         follow;
}

// Along a neighbour's border, or a line of the survey, where both ends lie on it.
works::Places DrawPlacesTool::wayTo(Vec2 place) const {
  works::Places way;
  if (follow_ && !points_.empty()) {
    const project::Project& project = *canvas_.workspace().project();
    if (what_.use) way = project::wayAlong(project::areasFor(project, *what_.use), points_.back(), place);
    const auto shown = [](const project::Source& s) { return !s.hidden; };
    const auto from = project::meet(project, points_.back(), 1e-6, shown),
               to = project::meet(project, place, 1e-6, shown);
    if (way.empty() && from && to && from->feature == to->feature) {
      for (const plane::Vec3& v : ground::between(*project::shapeOf(project, to->feature), from->at, to->at))
        way.push_back(v.plan());
    }
    std::erase_if(way, [&](Vec2 p) { return p == points_.back() || p == place; });
  }
  way.push_back(place);
  return way;
}

void DrawPlacesTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  if (what_.outline && points_.size() >= fewest()) {
    const QPointF first = canvas_.view().toScreen(points_.front());
    if (std::hypot(first.x() - at.screen.x(), first.y() - at.screen.y()) < 10) {
      finish();
      return;
    }
  }
  if (!points_.empty() && plane::distance(points_.back(), at.plan) * canvas_.view().scale < 1) return;
  const works::Places way = wayTo(at.plan);
  points_.insert(points_.end(), way.begin(), way.end());
}

void DrawPlacesTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  canvas_.showCursor(Qt::CrossCursor);
}

void DrawPlacesTool::doubleClick(const Pointed&) {
  finish();
}

bool DrawPlacesTool::key(int key, Qt::KeyboardModifiers) {
  switch (key) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      finish();
      return true;
    case Qt::Key_Backspace:
      if (!points_.empty()) points_.pop_back();
      return true;
    case Qt::Key_W:
      follow_ = !follow_;
      return true;
    case Qt::Key_Escape:
      if (points_.empty()) {
        canvas_.finishTool();
      } else {
        points_.clear();
      }
      return true;
    default:
      return false;
  }
}

// A place in the forms that survey lines take; a rectangle; or a length alone, towards the pointer.
QString DrawPlacesTool::typed(const QString& text) {
  if (const QString word = text.trimmed(); what_.levelled && word.startsWith('z', Qt::CaseInsensitive)) {
    const auto level = lengths::typed(word.mid(1).trimmed());
    if (!level) return tr("Write a level like z 74.5.");
    level_ = level;
    return {};
  }
  const auto last = points_.empty() ? std::optional<Vec2>() : points_.back();
  auto place =
      plane::parsePlace(text.trimmed().toStdString(), canvas_.workspace().project()->origin, last, lengths::inMetres());
  if (!place && last && pointer_ && !(*pointer_ == *last)) {
    const auto length = lengths::typed(text.trimmed());
    if (length && *length > 0) place = *last + *length * plane::unit(*pointer_ - *last);
  }
  if (!place && what_.outline && points_.size() == 1) {
    if (const auto others = rectangleFrom(points_.front(), text.trimmed())) {
      points_.insert(points_.end(), others->begin(), others->end());
      finish();
      return {};
    }
  }
  if (!place)
    return last ? tr("Write a length like 25 towards the pointer, 25 at 120 (length at bearing), +5 -3, a place like "
                     "412010 6187020, or of a rectangle 40 x 25 at 30 (its sides, the first at a bearing).")
                : tr("Write a place like 412010 6187020.");
  points_.push_back(*place);
  return {};
}

void DrawPlacesTool::finish() {
  Workspace& workspace = canvas_.workspace();
  if (points_.size() < fewest()) {
    Q_EMIT workspace.message(
        what_.outline ? tr("An outline needs three corners at least.") : tr("A line needs two points at least."), true);
    return;
  }
  // What is done may lay the tool down.
  const auto done = what_.done;
  const auto level = level_;
  const works::Places points = std::exchange(points_, {});
  try {
    done(points, level);
  } catch (const Error& e) {
    points_ = points;
    Q_EMIT workspace.message(tr("The %1 is not finished: %2").arg(what_.name, QString::fromUtf8(e.what())), true);
  }
}

std::optional<std::pair<Vec2, Vec2>> DrawPlacesTool::lockFrom() const {
  if (points_.empty()) return std::nullopt;
  if (points_.size() == 1) return std::pair(points_.front(), Vec2{1, 0});
  return std::pair(points_.back(), plane::unit(points_.back() - points_[points_.size() - 2]));
}

void DrawPlacesTool::paint(QPainter& painter) {
  if (points_.empty()) return;
  const ViewTransform& view = canvas_.view();
  QPolygonF line;
  for (const Vec2 p : points_) line << view.toScreen(p);
  if (pointer_) {
    for (const Vec2 p : wayTo(*pointer_)) line << view.toScreen(p);
  }
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::amber(), 40));
  if (what_.outline && line.size() > 2) painter.drawPolygon(line);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::amber(), 2));
  painter.drawPolyline(line);
  if (what_.outline && line.size() > 2) {
    painter.setPen(QPen(theme::amber(), 1.2, Qt::DashLine));
    painter.drawLine(line.back(), line.front());
  }
  painter.setPen(QPen(theme::ink(), 1.2));
  painter.setBrush(theme::paper());
  for (const Vec2 p : points_) painter.drawRect(QRectF(view.toScreen(p) - QPointF(4, 4), QSizeF(8, 8)));
  if (!pointer_) return;
  const QString length = lengths::told(plane::distance(points_.back(), *pointer_), 2);
  paintLabel(painter, length, view.toScreen(*pointer_) + QPointF(14, -12), canvas_.view().size.width());
}

}  // namespace inselberg::app
