#include "tools/select_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "plane/place_text.h"
#include "theme/theme.h"
#include "tools/grab.h"
#include "works/transform.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using works::Grip;

constexpr double kRoom = 44;      // pixels across that corners and the level handle need to lie apart
constexpr double kSideRoom = 40;  // pixels of a side that has a handle of its own

QString tr(const char* text) {
  return QCoreApplication::translate("SelectTool", text);
}

double reachOf(Grip grip) {
  return grip == Grip::level ? kGrab + 2 : kGrab;
}

// Whether p is where the whole is taken hold of: inside an outline, or on a line.
bool onWhole(const works::Shape& shape, Vec2 p, double reach) {
  for (const works::PlacesField& places : works::placesOf(shape)) {
    if (places.closed && plane::contains(places.points, p)) return true;
    for (std::size_t i = 1; !places.closed && i < places.points.size(); ++i) {
      if (plane::nearestOnSegment(p, places.points[i - 1], places.points[i]).distance <= reach) return true;
    }
  }
  return false;
}

}  // namespace

std::optional<works::Works> SelectTool::chosen() const {
  const auto placed = canvas_.workspace().project()->works(canvas_.workspace().chosenWorks());
  return placed.ground ? std::optional(*placed.works) : std::nullopt;
}

std::optional<works::Works> SelectTool::movable() const {
  auto works = chosen();
  if (works && works->held) works.reset();
  return works;
}

bool SelectTool::hasRoom(const works::Shape& shape) const {
  const plane::Box box = works::boundsOf(shape);
  const double across =
      works::outlineOf(shape).empty() ? std::max(box.width(), box.height()) : std::min(box.width(), box.height());
  return across * canvas_.view().scale >= kRoom;
}

std::vector<SelectTool::Shown> SelectTool::shownHandles(const works::Shape& shape) const {
  const ViewTransform& view = canvas_.view();
  const bool room = hasRoom(shape);
  std::vector<Shown> shown;
  // Of this outline or line: all corners, which come before its sides, and those shown.
  std::vector<QPointF> all, corners;
  for (const works::Handle& handle : works::handlesOf(shape)) {
    QPointF at = view.toScreen(handle.at);
    if (handle.grip == Grip::level) {
      // In the middle of an outline; beside lines, and works too small on the screen to hold it.
      const plane::Box box = works::boundsOf(shape);
      if (!room || works::outlineOf(shape).empty()) at = view.toScreen({box.maxX, box.maxY}) + QPointF(16, -16);
    } else if (!room) {
      continue;
    } else if (handle.grip == Grip::fall) {
      // At the tip of the arrow.
    } else if (handle.grip == Grip::corner) {
      if (handle.index == 0) all.clear(), corners.clear();
      all.push_back(at);
      const auto near = [&](QPointF corner) { return pixels(at, corner) < 2 * kGrab; };
      if (!corners.empty() && (near(corners.front()) || near(corners.back()))) continue;
      corners.push_back(at);
    } else {
      if (2 * pixels(at, all[handle.index]) <= kSideRoom) continue;
    }
    shown.push_back({handle, at});
  }
  return shown;
}

std::optional<works::Handle> SelectTool::handleAt(QPointF screen) const {
  const auto works = movable();
  if (!works) return std::nullopt;
  const auto shown = shownHandles(works->shape);
  for (const Grip grip : {Grip::corner, Grip::fall, Grip::level, Grip::side}) {
    for (const Shown& s : shown) {
      if (s.handle.grip == grip && pixels(s.at, screen) <= reachOf(grip)) return s.handle;
    }
  }
  const Vec2 p = canvas_.view().toPlan(screen);
  if (onWhole(works->shape, p, kGrab / canvas_.view().scale)) return works::Handle{Grip::whole, 0, 0, p};
  return std::nullopt;
}

std::vector<works::LegHandle> SelectTool::legHandles() const {
  const auto works = movable();
  const Workspace& workspace = canvas_.workspace();
  const auto* placed = works ? workspace.evaluation()->works(works->id) : nullptr;
  if (!placed || !placed->under || !hasRoom(works->shape)) return {};
  auto handles = works::legHandlesOf(project::withSectionsOf(*workspace.project(), placed->works->shape),
                                     *placed->placement, *placed->under);
  // Those that lie apart from what they go out from.
  std::erase_if(handles, [&](const works::LegHandle& h) {
    return pixels(canvas_.view().toScreen(h.at), canvas_.view().toScreen(h.inner)) < 2 * kGrab;
  });
  return handles;
}

std::optional<works::LegHandle> SelectTool::legAt(QPointF screen) const {
  for (const works::LegHandle& handle : legHandles()) {
    if (pixels(canvas_.view().toScreen(handle.at), screen) <= kGrab) return handle;
  }
  return std::nullopt;
}

// Of a section known by name, all works that use it change.
void SelectTool::dragLeg(Vec2 to) {
  Workspace& workspace = canvas_.workspace();
  const auto* placed = workspace.evaluation()->works(legDrag_->before.id);
  if (!placed || !placed->under) return;
  const works::Shape& shape = legDrag_->before.shape;
  const auto legs =
      works::withLegTo(project::withSectionsOf(*workspace.project(), shape), legDrag_->handle, to, *placed->under);
  if (!legs) return;
  legDrag_->moved = true;
  const works::Value own = shape.get(legDrag_->handle.field);
  const auto* sections = std::get_if<works::SectionsAlong>(&own);
  if (sections && !sections->empty() && !sections->front().section.name.empty()) {
    workspace.setTransient(project::withSection(*workspace.project(), sections->front().section.name, *legs));
    return;
  }
  works::Works changed = legDrag_->before;
  changed.shape = works::withLegs(shape, legDrag_->handle, *legs);
  workspace.setTransient(project::withWorks(*workspace.project(), changed));
}

bool SelectTool::holds(const Pointed& at) const {
  if (stage_.holds(at)) return true;
  return handleAt(at.screen) || legAt(at.screen) || canvas_.workspace().worksAt(at.plan).value != 0;
}

QString SelectTool::hint() const {
  if (canvas_.workspace().chosenStage())
    return stage_.any() ? tr("Drag a corner; a double-click on a side adds one, Delete removes the one under the "
                             "pointer. Esc lets go.")
                        : tr("It lies where its works do: change them, or what its card says. Esc lets go.");
  const auto works = chosen();
  if (!works) {
    const auto& column = canvas_.workspace().project()->column;
    const bool any =
        std::any_of(column.begin(), column.end(), [](const auto& ground) { return !ground->works.empty(); });
    const QString move = tr("Drag the ground to move the plan, turn the wheel to zoom.");
    return any ? tr("Click works to choose them. ") + move : move;
  }
  if (works->held) return tr("Held in place: Edit > Hold the chosen works in place frees it. Esc lets go.");
  if (legDrag_ || hoveredLeg_)
    return tr("Drag the leg's end: its width, or the slope that meets the ground at the pointer.");
  const auto handle = drag_ ? std::optional(drag_->handle) : hovered_;
  const auto places = works::placesOf(works->shape);
  if (std::all_of(places.begin(), places.end(), [](const auto& p) { return p.points.empty(); }))
    return tr("It reaches as far as the ground that is laid in; its card says how. Esc lets go.");
  if (!handle)
    return hasRoom(works->shape)
               ? tr("Drag corners, edges, the level handle or the whole; arrow keys nudge. Esc lets go.")
               : tr("Drag the whole or the level handle beside it; zoom in for corners and edges. Esc lets go.");
  switch (handle->grip) {
    case Grip::corner:
      return tr("Drag the corner, or type where it goes. Delete removes it.");
    case Grip::side:
      return works::mayHaveSection(works->shape, *handle)
                 ? tr("Drag the edge, or type how far out; or its own slope (3:1), =wall, =others. Double-click adds "
                      "a corner.")
                 : tr("Drag the edge, or type how far out. Double-click adds a corner.");
    case Grip::level:
      return tr("Drag up or down to change the level, or type it; Shift for fine steps.");
    case Grip::fall:
      return tr("Drag the tip to swing the fall, further out to steepen it; or type 2 at 135.");
    default:
      return tr("Drag to move the whole.");
  }
}

void SelectTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  pressedBeside_.reset();
  if (stage_.press(at)) return;
  auto handle = handleAt(at.screen);
  const bool own = handle && handle->grip != Grip::whole;
  if (const auto leg = own || canvas_.workspace().readOnly() ? std::nullopt : legAt(at.screen)) {
    legDrag_ = LegDrag{*leg, *chosen(), false};
    return;
  }
  if (!handle) {
    const WorksId id = canvas_.workspace().worksAt(at.plan);
    if (!id) {
      pressedBeside_ = at.mouse;
      return;
    }
    canvas_.workspace().chooseWorks(id);
    if (!movable()) return;
    // Its handles were not in sight yet: what is taken hold of is the whole.
    handle = works::Handle{Grip::whole, 0, 0, at.plan};
  }
  if (canvas_.workspace().readOnly()) return;
  drag_ = Drag{*handle, canvas_.view().toPlan(at.screen), at.mouse, *chosen(), false};
}

void SelectTool::move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) {
  if (dragging && legDrag_) return dragLeg(at.plan);
  if (dragging && stage_.dragging()) return stage_.drag(at);
  if (!dragging || !drag_) {
    if (stage_.hover(at)) return canvas_.showCursor(Qt::CrossCursor);
    hovered_ = handleAt(at.screen);
    hoveredLeg_ = hovered_ && hovered_->grip != Grip::whole ? std::nullopt : legAt(at.screen);
    if (hoveredLeg_) {
      hovered_.reset();
      return canvas_.showCursor(Qt::CrossCursor);
    }
    canvas_.showCursor(!hovered_                       ? Qt::ArrowCursor
                       : hovered_->grip == Grip::level ? Qt::SizeVerCursor
                       : hovered_->grip == Grip::whole ? Qt::SizeAllCursor
                                                       : Qt::CrossCursor);
    return;
  }
  if (!drag_->moved && pixels(at.mouse, drag_->startMouse) < kStill) return;
  drag_->moved = true;
  const double step = lengths::nudge(modifiers & Qt::ShiftModifier ? 0.001 : 0.01);  // m of level for a pixel
  const auto shape = works::moved(drag_->before.shape, drag_->handle,
                                  {drag_->start, at.plan, std::round(drag_->startMouse.y() - at.mouse.y()) * step});
  if (!shape) return;  // the outline would cross itself: it stays at its last good place
  works::Works changed = drag_->before;
  changed.shape = *shape;
  canvas_.workspace().setTransient(project::withWorks(*canvas_.workspace().project(), changed));
}

void SelectTool::release(const Pointed& at) {
  if (pressedBeside_ && pixels(at.mouse, *pressedBeside_) < kStill) canvas_.workspace().chooseWorks({});
  pressedBeside_.reset();
  if (drag_ && drag_->moved)
    canvas_.workspace().commitTransient(QString::fromStdString(works::movedText(drag_->before, drag_->handle)));
  drag_.reset();
  stage_.release();
  if (legDrag_ && legDrag_->moved)
    canvas_.workspace().commitTransient(tr("change a leg of %1").arg(QString::fromStdString(legDrag_->before.name)));
  legDrag_.reset();
}

void SelectTool::commit(const works::Works& changed, const QString& what) {
  canvas_.workspace().commit(project::withWorks(*canvas_.workspace().project(), changed),
                             what.arg(QString::fromStdString(changed.name)));
}

void SelectTool::doubleClick(const Pointed& at) {
  if (stage_.addCorner(at)) return;
  const auto works = movable();
  const auto handle = handleAt(at.screen);
  if (!works || !handle || handle->grip != Grip::side || canvas_.workspace().readOnly()) return;
  works::Works changed = *works;
  changed.shape = works::withCorner(works->shape, *handle);
  commit(changed, tr("add a corner to %1"));
}

// 10 cm, with Shift a metre; in feet half of one, and five.
bool SelectTool::nudge(int key, Qt::KeyboardModifiers modifiers) {
  const Vec2 way = key == Qt::Key_Left    ? Vec2{-1, 0}
                   : key == Qt::Key_Right ? Vec2{1, 0}
                   : key == Qt::Key_Up    ? Vec2{0, 1}
                   : key == Qt::Key_Down  ? Vec2{0, -1}
                                          : Vec2{0, 0};
  const auto works = movable();
  if (way == Vec2{0, 0} || !works || drag_ || canvas_.workspace().readOnly()) return false;
  works::Works changed = *works;
  changed.shape = works::shifted(works->shape, lengths::nudge(modifiers & Qt::ShiftModifier ? 1.0 : 0.1) * way);
  commit(changed, tr("nudge %1"));
  return true;
}

bool SelectTool::key(int key, Qt::KeyboardModifiers modifiers) {
  Workspace& workspace = canvas_.workspace();
  if (key == Qt::Key_Escape) {
    if (stage_.dragging()) {
      stage_.cancel();
    } else if (drag_ || legDrag_) {
      drag_.reset();
      legDrag_.reset();
      workspace.dropTransient();
    } else {
      workspace.chooseWorks({});
    }
    return true;
  }
  if (nudge(key, modifiers) || (key == Qt::Key_Delete && stage_.removeCorner())) return true;
  const auto works = movable();
  if (key != Qt::Key_Delete || !works || workspace.readOnly()) return false;
  if (hovered_ && hovered_->grip == Grip::corner) {
    removeCornerOf(*works);
  } else {
    workspace.commit(project::withoutWorks(*workspace.project(), works->id),
                     tr("remove %1").arg(QString::fromStdString(works->name)));
  }
  return true;
}

// While a handle is dragged, or under the pointer.
bool SelectTool::wantsText() const {
  if (canvas_.workspace().readOnly()) return false;
  return drag_ || (hovered_ && hovered_->grip != Grip::whole);
}

namespace {

// The works with a handle moved to what was typed; nothing when that is no such thing.
std::optional<works::Shape> movedAsTyped(const works::Shape& shape, const works::Handle& handle,
                                         const std::string& text, const plane::Origin& origin) {
  switch (handle.grip) {
    case Grip::corner:
    case Grip::whole: {
      const Vec2 from = handle.grip == Grip::corner ? handle.at : works::placeOf(shape);
      const auto to = plane::parsePlace(text, origin, from, lengths::inMetres());
      return to ? works::moved(shape, handle, {from, *to}) : std::nullopt;
    }
    case Grip::side: {
      const auto out = parseLength(text, 0.0, lengths::inMetres());
      if (!out) return std::nullopt;
      const auto points = std::get<works::Places>(shape.get(handle.field));
      const Vec2 way = plane::unit(points[(handle.index + 1) % points.size()] - points[handle.index]);
      return works::moved(shape, handle, {handle.at, handle.at + *out * plane::rightOf(way)});
    }
    case Grip::level: {
      const double now = *works::levelOf(shape);
      const auto level = parseLength(text, now, lengths::inMetres());
      return level ? works::moved(shape, handle, {handle.at, handle.at, *level - now}) : std::nullopt;
    }
    default: {
      // A percentage, and a bearing after "at".
      const auto at = text.find("at");
      const auto percent = parseNumber(text.substr(0, at));
      const auto bearing =
          at == std::string::npos ? std::optional(works::fallOf(shape)->bearing) : parseNumber(text.substr(at + 2));
      if (!percent || !bearing || *percent < 0) return std::nullopt;
      const works::Shape next = works::withFall(shape, *percent, *bearing);
      return works::wrong(next) ? std::nullopt : std::optional(next);
    }
  }
}

// The works with a section of its own along a side, as it was typed: a slope for its batter, or after "=" a wall,
// legs, a section by its name, or "others" for that of the others; nothing when that is no such thing.
std::optional<works::Shape> withSectionTyped(const works::Shape& shape, const works::Handle& side,
                                             const std::string& text, const project::Project& project) {
  if (!works::mayHaveSection(shape, side)) return std::nullopt;
  try {
    if (const auto slope = parseSlope(text))
      return works::withSlopeOfSide(shape, project::withSectionsOf(project, shape), side, slope->run());
    if (!text.starts_with('=')) return std::nullopt;
    const std::string plain = QString::fromStdString(text.substr(1)).trimmed().toStdString();
    if (plain == "others") return works::withSectionOfSide(shape, side, std::nullopt);
    const works::NamedOrLegs section = works::parsedSection(plain, lengths::inMetres());
    if (!section.name.empty() && !project::sectionNamed(project, section.name)) return std::nullopt;
    return works::withSectionOfSide(shape, side, section);
  } catch (const Error&) {
    return std::nullopt;
  }
}

QString wanted(Grip grip) {
  switch (grip) {
    case Grip::corner:
      return tr("Write where the corner goes: +5 -3, 2.5 at 120 (length at bearing), or 412010 6187020.");
    case Grip::whole:
      return tr("Write how far it moves: +5 -3, or 25 at 120 (length at bearing).");
    case Grip::side:
      return tr(
          "Write how far the edge moves out, like 2.5 (inwards -2.5); along a pad also a slope like 3:1, or =wall, "
          "=out 1; to ground 3:1, a section by its name, =others.");
    case Grip::level:
      return tr("Write a level like 79.5, or a change like +0.25.");
    default:
      return tr("Write a fall like 2, or 2 at 135 (percent at bearing).");
  }
}

}  // namespace

QString SelectTool::typed(const QString& text) {
  const auto handle = drag_ ? std::optional(drag_->handle) : hovered_;
  const auto works = drag_ ? std::optional(drag_->before) : chosen();
  if (!handle || !works) return {};
  const project::Project& project = *canvas_.workspace().project();
  const std::string plain = text.trimmed().toStdString();
  auto shape = movedAsTyped(works->shape, *handle, plain, project.origin);
  QString what = QString::fromStdString(works::movedText(*works, *handle));
  if (!shape) {
    shape = withSectionTyped(works->shape, *handle, plain, project);
    what = tr("change a side of %1").arg(QString::fromStdString(works->name));
  }
  if (!shape) return wanted(handle->grip);
  if (drag_) {
    drag_.reset();
    canvas_.workspace().dropTransient();
  }
  works::Works changed = *works;
  changed.shape = *shape;
  hovered_.reset();
  if (!(changed == *works))
    canvas_.workspace().commit(project::withWorks(*canvas_.workspace().project(), changed), what);
  return {};
}

void SelectTool::removeCornerOf(const works::Works& works) {
  const works::Handle corner = *hovered_;
  if (corner.index >= std::get<works::Places>(works.shape.get(corner.field)).size()) return;
  hovered_.reset();
  try {
    works::Works changed = works;
    changed.shape = works::withoutCorner(works.shape, corner);
    commit(changed, tr("remove a corner of %1"));
  } catch (const Error& e) {
    Q_EMIT canvas_.workspace().message(tr("The corner stays: %1").arg(QString::fromUtf8(e.what())), true);
  }
}

std::optional<Vec2> SelectTool::notTo() const {
  if (const auto place = stage_.place()) return place;
  if (!drag_ || drag_->handle.grip != Grip::corner) return std::nullopt;
  const auto works = chosen();
  if (!works) return std::nullopt;
  return std::get<works::Places>(works->shape.get(drag_->handle.field)).at(drag_->handle.index);
}

std::optional<std::pair<Vec2, Vec2>> SelectTool::lockFrom() const {
  if (const auto from = stage_.lockFrom()) return from;
  if (!drag_ || drag_->handle.grip != Grip::corner) return std::nullopt;
  const auto points = std::get<works::Places>(drag_->before.shape.get(drag_->handle.field));
  const std::size_t i = drag_->handle.index;
  // The direction from the point before; of a line's first point, from the one after.
  const bool first = i == 0 && works::outlineOf(drag_->before.shape).empty();
  const Vec2 other = points[first ? 1 : (i + points.size() - 1) % points.size()];
  return std::pair(points[i], plane::unit(points[i] - other));
}

void SelectTool::paint(QPainter& painter) {
  stage_.paint(painter);
  const auto works = chosen();
  if (!works) return;
  const ViewTransform& view = canvas_.view();
  // Its outlines and lines as they are now, even while the picture is still of a moment ago.
  painter.setPen(QPen(theme::amber(), 2));
  painter.setBrush(Qt::NoBrush);
  for (const works::PlacesField& places : works::placesOf(works->shape)) {
    QPolygonF line;
    for (const Vec2 p : places.points) line << view.toScreen(p);
    places.closed ? painter.drawPolygon(line) : painter.drawPolyline(line);
  }
  if (works->held) return;
  const auto hot = drag_ ? std::optional(drag_->handle) : hovered_;
  const auto isHot = [&](const works::Handle& h) {
    return hot && hot->grip == h.grip && hot->field == h.field && hot->index == h.index;
  };
  const auto shown = shownHandles(works->shape);
  paintLegs(painter);
  for (const Grip grip : {Grip::side, Grip::corner, Grip::fall, Grip::level}) {
    for (const Shown& s : shown) {
      if (s.handle.grip != grip) continue;
      painter.setPen(QPen(theme::ink(), 1.2));
      painter.setBrush(isHot(s.handle) ? theme::amber() : theme::paper());
      const double r = isHot(s.handle) ? 5.5 : 4.5;
      if (grip == Grip::side || grip == Grip::fall) {
        painter.drawEllipse(s.at, r - 0.5, r - 0.5);
      } else if (grip == Grip::corner) {
        painter.drawRect(QRectF(s.at.x() - r, s.at.y() - r, 2 * r, 2 * r));
      } else {
        // A staff with arrows up and down.
        const QPointF c = s.at;
        painter.setPen(QPen(theme::ink(), 1.4));
        painter.drawPolygon(QPolygonF() << c + QPointF(0, -13) << c + QPointF(5.5, -4) << c + QPointF(-5.5, -4));
        painter.drawPolygon(QPolygonF() << c + QPointF(0, 13) << c + QPointF(5.5, 4) << c + QPointF(-5.5, 4));
        painter.drawLine(c + QPointF(-9, 0), c + QPointF(9, 0));
      }
    }
  }
}

// A bar across the end of each leg.
void SelectTool::paintLegs(QPainter& painter) {
  const auto hot = legDrag_ ? std::optional(legDrag_->handle) : hoveredLeg_;
  for (const works::LegHandle& handle : legHandles()) {
    const QPointF at = canvas_.view().toScreen(handle.at), inner = canvas_.view().toScreen(handle.inner);
    const bool isHot = hot && hot->side == handle.side && hot->leg == handle.leg;
    const QPointF way = (at - inner) / pixels(at, inner), across(-way.y(), way.x());
    painter.setPen(QPen(theme::amber(), 1.2, Qt::DotLine));
    painter.drawLine(inner, at);
    for (const auto& [colour, width] :
         {std::pair(theme::ink(), 5.0), std::pair(isHot ? theme::amber() : theme::paper(), 2.6)}) {
      painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
      painter.drawLine(at - 7 * across, at + 7 * across);
    }
  }
}

}  // namespace inselberg::app
