#include "tools/take_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>
#include <limits>

#include "base/error.h"
#include "canvas/label.h"
#include "project/contour_order.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

constexpr double kReach = 8;  // pixels
constexpr double kNone = std::numeric_limits<double>::quiet_NaN();

QString tr(const char* text, int n = -1) {
  return QCoreApplication::translate("TakeTool", text, nullptr, n);
}

QString levelText(double level) {
  return lengths::number(level, 2);
}

// What is typed as a level: "71.5", or "z 71.5" as for lines that are drawn.
std::optional<double> typedLevel(QString text) {
  text = text.trimmed();
  if (text.startsWith('z', Qt::CaseInsensitive)) text = text.mid(1).trimmed();
  return lengths::typed(text);
}

// The level a contour has now.
std::optional<double> levelOf(const ground::Breakline& line) {
  const double z = line.vertices.front().z;
  return std::isnan(z) ? std::nullopt : std::optional(z);
}

}  // namespace

TakeTool::TakeTool(Canvas& canvas, TakenAs as, double interval) : canvas_(canvas), as_(as), interval_(interval) {}

QString TakeTool::hint() const {
  const bool reading = canvas_.workspace().sheetContents().reading();
  if (reading) return tr("The sheets are being read.");
  const QString level = level_ ? levelText(*level_) : QString();
  switch (as_) {
    case TakenAs::contour:
      return (level_
                  ? tr("Click a contour of a sheet: the level of its label, else %1 (Up and Down step it).").arg(level)
                  : tr("Click a contour of a sheet: the level of its label, else one you type.")) +
             tr(" Shift takes all that look like it. Esc ends.");
    case TakenAs::breakline:
      return (level_ ? tr("Click a line of a sheet: a breakline at %1.").arg(level)
                     : tr("Click a line of a sheet: a breakline on the ground; type a level for it.")) +
             tr(" Esc ends.");
    case TakenAs::boundary:
      return tr("Click an outline of a sheet: a boundary. Esc ends.");
    case TakenAs::voids:
      return tr("Click an outline of a sheet: a void. Esc ends.");
    case TakenAs::pad:
      return tr("Click an outline of a sheet: a pad at the level that stands in it, else as typed. Esc ends.");
  }
  return {};
}

std::optional<TakeTool::Found> TakeTool::under(Vec2 p) const {
  const Workspace& workspace = canvas_.workspace();
  const auto& sheets = workspace.project()->sheets;
  for (auto sheet = sheets.rbegin(); sheet != sheets.rend(); ++sheet) {
    const auto lines = workspace.sheetContents().of(**sheet);
    if (!lines) continue;
    if (auto line = lines->lineAt(p, kReach / canvas_.view().scale)) return Found{std::move(*line), *sheet, lines};
  }
  return std::nullopt;
}

std::optional<double> TakeTool::levelFor(const Found& found) const {
  if (as_ == TakenAs::contour) return found.line.level ? found.line.level : level_;
  if (as_ == TakenAs::breakline) return level_;
  if (as_ != TakenAs::pad || found.line.points.size() < 3) return std::nullopt;
  const auto level = found.lines->levelIn(found.line.points);
  return level ? level : level_;
}

void TakeTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  hovered_ = under(at.plan);
  canvas_.showCursor(hovered_ ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void TakeTool::press(const Pointed& at, Qt::KeyboardModifiers modifiers) {
  const auto found = under(at.plan);
  if (!found || canvas_.workspace().readOnly()) return;
  try {
    if (as_ == TakenAs::pad) return takePad(*found);
    const bool all = modifiers & Qt::ShiftModifier;
    take(*found, all ? found->lines->linesLike(found->line.colour, found->line.width)
                     : std::vector<sheet::WholeLine>{found->line});
  } catch (const Error& e) {
    Q_EMIT canvas_.workspace().message(QString::fromUtf8(e.what()), true);
  }
}

void TakeTool::take(const Found& found, std::vector<sheet::WholeLine> lines) {
  Workspace& workspace = canvas_.workspace();
  const project::Ground& into = workspace.drawnInto();
  const auto* beneath = workspace.evaluation()->ground(workspace.chosenGround());
  std::vector<ground::Breakline> shapes;
  std::size_t levelled = 0;
  for (const sheet::WholeLine& line : lines) {
    if (area() && !line.closed && line.points.size() < 3) continue;
    std::optional<double> level = lines.size() == 1 || as_ != TakenAs::contour ? levelFor(found) : line.level;
    if (as_ == TakenAs::contour && !level && lines.size() == 1)
      throw Error("no level stands on this contour",
                  "type its level first, like 71.5; those after it follow by the interval");
    if (as_ == TakenAs::breakline && !level && !(beneath && beneath->tin))
      throw Error("the line has no level, and there is no ground under it", "type a level first, like 71.5");
    ground::Breakline shape;
    shape.closed = line.closed || area();
    shape.contour = as_ == TakenAs::contour;
    for (const Vec2 p : line.points) shape.vertices.push_back({p.x, p.y, level.value_or(kNone)});
    if (as_ == TakenAs::breakline && !level)
      shape = ground::levelledFrom(
          shape, [&](Vec2 p) { return beneath->tin->levelAt(p); }, 0);
    levelled += level ? 1 : 0;
    shapes.push_back(std::move(shape));
  }
  if (shapes.empty()) throw Error("this is no outline", "click a line that closes, or draw the outline");
  const auto kind = as_ == TakenAs::boundary ? project::FeatureKind::boundary
                    : as_ == TakenAs::voids  ? project::FeatureKind::voids
                                             : project::FeatureKind::line;
  const auto question = as_ == TakenAs::contour && shapes.size() == 1
                            ? project::outOfLineText(*workspace.project(), into.id, shapes.front(), interval_)
                            : std::nullopt;
  workspace.commit(
      project::withTaken(*workspace.project(), kind, shapes, into.id, found.sheet->name + ", " + into.name),
      tr("take %n line(s) off a sheet", static_cast<int>(shapes.size())));
  if (as_ == TakenAs::contour) {
    if (shapes.size() == 1) level_ = levelFor(found).value_or(0) + interval_;
    if (question) Q_EMIT workspace.message(QString::fromStdString(*question), true);
    if (shapes.size() > 1)
      Q_EMIT workspace.message(tr("%1 contours are taken, %2 with the level of their label. A stroke of \"Set levels "
                                  "across contours\" gives "
                                  "the others theirs.")
                                   .arg(shapes.size())
                                   .arg(levelled),
                               false);
  }
  hovered_.reset();
}

void TakeTool::takePad(const Found& found) {
  Workspace& workspace = canvas_.workspace();
  if (found.line.points.size() < 3) throw Error("this is no outline", "click a line that closes, or draw the pad");
  works::Pad pad;
  pad.outline = plane::sound({found.line.points, {}}, {}).outer;
  const auto level = levelFor(found);
  if (!level) throw Error("no level stands in this outline", "type the pad's level first, like 79.5");
  pad.level = *level;
  const project::Project& project = *workspace.project();
  const auto id = WorksId{project.nextId};
  const std::size_t number = project.ground(project.finished())->works.size() + 1;
  workspace.commit(project::withNewWorks(project, project.finished(), tr("Pad %1").arg(number).toStdString(), pad),
                   tr("take a pad off a sheet"));
  workspace.chooseWorks(id);
}

QString TakeTool::typed(const QString& text) {
  const auto level = typedLevel(text);
  if (!level) return tr("%1 is no level. Write it like 71.5.").arg(text);
  level_ = level;
  return {};
}

bool TakeTool::key(int key, Qt::KeyboardModifiers) {
  if (key == Qt::Key_Escape) {
    canvas_.finishTool();
    return true;
  }
  if (as_ != TakenAs::contour || (key != Qt::Key_Up && key != Qt::Key_Down)) return false;
  if (level_) *level_ += key == Qt::Key_Up ? interval_ : -interval_;
  return level_.has_value();
}

void TakeTool::paint(QPainter& painter) {
  if (!hovered_) return;
  QPolygonF line;
  for (const Vec2 p : hovered_->line.points) line << canvas_.view().toScreen(p);
  if (hovered_->line.closed || area()) line << line.front();
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::amber(), 2.6));
  painter.drawPolyline(line);
  const auto level = levelFor(*hovered_);
  if (!level) return;
  const QString text =
      hovered_->line.level || as_ == TakenAs::pad ? levelText(*level) : tr("%1?").arg(levelText(*level));
  paintLabel(painter, text, line[line.size() / 2] + QPointF(10, -22), canvas_.view().size.width());
}

LevelsTool::LevelsTool(Canvas& canvas, double interval) : canvas_(canvas), interval_(interval) {}

QString LevelsTool::hint() const {
  return tr("Drag across contours: levels in their order, every %1, %2%3. D turns the direction, Esc ends.")
      .arg(lengths::exact(interval_))
      .arg(falling_ ? tr("downwards") : tr("upwards"))
      .arg(level_ ? tr(", from %1").arg(levelText(*level_)) : tr(", from one that has a level (or type the first)"));
}

void LevelsTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  from_ = to_ = at.plan;
}

void LevelsTool::move(const Pointed& at, bool dragging, Qt::KeyboardModifiers) {
  if (dragging && from_) to_ = at.plan;
  canvas_.showCursor(Qt::CrossCursor);
}

void LevelsTool::release(const Pointed& at) {
  Workspace& workspace = canvas_.workspace();
  const auto from = std::exchange(from_, std::nullopt);
  if (!from || workspace.readOnly() || plane::distance(*from, at.plan) * canvas_.view().scale < 4) return;
  try {
    const project::Project& project = *workspace.project();
    const auto crossed = project::contoursCrossed(project, workspace.drawnInto().id, *from, at.plan);
    if (crossed.empty())
      throw Error("no contour that may be changed is crossed", "drag across contours that are shown");
    std::vector<std::optional<double>> known;
    for (const project::Feature& f : crossed) known.push_back(levelOf(*project::shapeOf(project, f)));
    const auto levels = project::levelsInOrder(known, interval_, falling_, level_);
    std::size_t next = 0;
    project::ProjectPtr changed = workspace.project();
    for (const project::Feature& f : crossed) {
      ground::Breakline shape = *project::shapeOf(*changed, f);
      for (auto& v : shape.vertices) v.z = levels[next];
      if (!known[next]) changed = project::withShape(*changed, f, shape);
      ++next;
    }
    const auto set = std::count(known.begin(), known.end(), std::nullopt);
    if (set > 0) workspace.commit(changed, tr("set levels of %n contour(s)", static_cast<int>(set)));
    Q_EMIT workspace.message(tr("%1 contours from %2 to %3, %4 of them set now.")
                                 .arg(crossed.size())
                                 .arg(levelText(levels.front()), levelText(levels.back()))
                                 .arg(set),
                             false);
  } catch (const Error& e) {
    Q_EMIT workspace.message(QString::fromUtf8(e.what()), true);
  }
}

QString LevelsTool::typed(const QString& text) {
  const auto level = typedLevel(text);
  if (!level) return tr("%1 is no level. Write it like 71.5.").arg(text);
  level_ = level;
  return {};
}

bool LevelsTool::key(int key, Qt::KeyboardModifiers) {
  if (key == Qt::Key_D) {
    falling_ = !falling_;
    return true;
  }
  if (key != Qt::Key_Escape) return false;
  if (!std::exchange(from_, std::nullopt)) canvas_.finishTool();
  return true;
}

void LevelsTool::paint(QPainter& painter) {
  if (!from_ || !to_) return;
  painter.setPen(QPen(theme::amber(), 2));
  painter.drawLine(canvas_.view().toScreen(*from_), canvas_.view().toScreen(*to_));
}

}  // namespace inselberg::app
