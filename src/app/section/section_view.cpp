#include "section/section_view.h"

#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QWheelEvent>
#include <cmath>

#include "base/quantity.h"
#include "canvas/label.h"
#include "canvas/view_button.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using project::Role;

constexpr double kLeft = 52, kRight = 14, kHead = 26, kBelow = 20;  // pixels
constexpr double kSame = 1e-6;                                      // m

QString number(double value, int decimals) {
  return QString::fromStdString(formatNumber(value, decimals));
}

}  // namespace

SectionView::SectionView(Workspace& workspace, ViewState& state, QWidget* parent)
    : QWidget(parent), workspace_(workspace), state_(state) {
  setObjectName("sectionView");
  setAccessibleName(tr("Section"));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  fit_ = viewButton(this, "sectionFit", tr("Fit"), tr("All of the section (Home)"));
  true_ = viewButton(this, "sectionTrue", tr("True scale"), tr("Levels at the scale of lengths (1)"));
  lines_ = viewButton(this, "sectionKept", {}, tr("Kept section lines, and to keep this one"));
  auto* menu = new QMenu(lines_);
  lines_->setMenu(menu);
  lines_->setPopupMode(QToolButton::InstantPopup);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    menu->clear();
    for (const project::SectionLine& kept : workspace_.project()->sectionLines) {
      QAction* action = menu->addAction(QString::fromStdString(kept.name));
      action->setCheckable(true);
      action->setChecked(kept.line == state_.sectionLine());
      connect(action, &QAction::triggered, this, [this, line = kept.line] { state_.takeSection(line); });
    }
    menu->addSeparator();
    QAction* keep = menu->addAction(tr("Keep this line…"));
    keep->setEnabled(!workspace_.readOnly());
    connect(keep, &QAction::triggered, this, &SectionView::keepWanted);
  });
  close_ = viewButton(this, "sectionClose", QStringLiteral("×"), tr("Put the section away"));
  connect(fit_, &QToolButton::clicked, this, &SectionView::fit);
  connect(true_, &QToolButton::clicked, this, &SectionView::trueScale);
  connect(close_, &QToolButton::clicked, this, [this] { state_.takeSection({}); });
  connect(&state_, &ViewState::sectionChanged, this, &SectionView::take);
  connect(&state_, &ViewState::pointed, this, [this] { update(); });
  connect(&workspace_, &Workspace::evaluationChanged, this, &SectionView::take);
  connect(&workspace_, &Workspace::projectChanged, this, &SectionView::nameLine);
  hide();
}

void SectionView::take() {
  setVisible(state_.hasSection());
  if (!state_.hasSection()) {
    section_ = {}, ids_.clear(), roles_.clear();
    fitted_ = false;
    return;
  }
  const project::Evaluation& evaluation = *workspace_.evaluation();
  ids_.clear(), roles_.clear();
  for (const auto& ground : evaluation.grounds) {
    if (!ground.tin) continue;
    ids_.push_back(ground.id), roles_.push_back(evaluation.project->ground(ground.id)->role);
  }
  section_ = along(state_.sectionLine());
  nameLine();
  low_ = std::numeric_limits<double>::infinity(), high_ = -low_;
  for (const auto& spans : section_.grounds) {
    for (const auto& span : spans) {
      if (!span) continue;
      low_ = std::min({low_, span->begin, span->end}), high_ = std::max({high_, span->begin, span->end});
    }
  }
  if (!fitted_ && !grip_) fit();
  update();
}

section::Section SectionView::along(std::vector<Vec2> line) const {
  std::vector<section::Named> list, pending;
  std::vector<std::size_t> under;  // of each pending part the ground it lies over
  for (const GroundId id : ids_) {
    const auto* ground = workspace_.evaluation()->ground(id);
    if (ground->pending && !ground->pending->empty()) {
      under.push_back(list.size());
      pending.push_back({"", ground->pending});
    }
    list.push_back({workspace_.evaluation()->project->ground(id)->name, ground->tin});
  }
  list.insert(list.end(), pending.begin(), pending.end());
  section::Section made = section::sectionAlong(list, std::move(line));
  for (std::size_t k = 0; k < under.size(); ++k) {
    const auto& over = made.grounds[ids_.size() + k];
    for (std::size_t i = 0; i < over.size(); ++i) {
      if (over[i]) made.grounds[under[k]][i] = over[i];
    }
  }
  made.grounds.resize(ids_.size()), made.names.resize(ids_.size());
  return made;
}

section::SheetRules SectionView::sheetRules() const {
  section::SheetRules rules;
  rules.title = workspace_.project()->name;
  rules.measures = workspace_.project()->measures;
  for (std::size_t g = 0; g < ids_.size(); ++g) {
    drawing::Pen pen{colourOf(g).rgb() & 0xffffff, roles_[g] == Role::finished ? 0.45 : 0.25, {}};
    if (roles_[g] == Role::surveyed) pen.dash = {2, 1};
    rules.pens.push_back(pen);
  }
  rules.earlier = ofRole(Role::surveyed).value_or(0);
  rules.later = ofRole(Role::finished).value_or(ids_.size());
  return rules;
}

void SectionView::fit() {
  fitted_ = false;
  if (state_.hasSection() && low_ <= high_) axes_.fit(section_.length(), low_, high_);
  update();
}

void SectionView::trueScale() {
  fitted_ = true;
  axes_.exaggerate(1, axes_.area.center().y());
  update();
}

std::optional<std::size_t> SectionView::ofRole(Role role) const {
  const auto found = std::find(roles_.begin(), roles_.end(), role);
  return found == roles_.end() ? std::nullopt : std::optional<std::size_t>(found - roles_.begin());
}

std::optional<section::CutFill> SectionView::areas() const {
  const auto from = ofRole(Role::surveyed), to = ofRole(Role::finished);
  if (!from || !to) return std::nullopt;
  return section::between(section_, *from, *to);
}

void SectionView::nameLine() {
  const auto& kept = workspace_.project()->sectionLines;
  const std::string name = project::nameOfLine(kept, state_.sectionLine());
  lines_->setText(name.empty() ? tr("Lines") : QString::fromStdString(name));
  placeButtons();
}

void SectionView::resizeEvent(QResizeEvent*) {
  axes_.area =
      QRectF(kLeft, kHead, std::max(10.0, width() - kLeft - kRight), std::max(10.0, height() - kHead - kBelow));
  placeButtons();
  if (!fitted_) fit();
}

void SectionView::placeButtons() {
  int x = width() - 6;
  for (QToolButton* b : {close_, true_, fit_, lines_}) {
    b->adjustSize();
    x -= b->width();
    b->move(x, 2);
  }
}

std::optional<SectionView::Grip> SectionView::gripAt(QPointF at) const {
  const auto finished = ofRole(Role::finished);
  if (!finished || workspace_.readOnly() || !workspace_.upToDate()) return std::nullopt;
  const double station = axes_.stationAt(at.x());
  const auto level = section_.level(*finished, station);
  if (!level || std::abs(axes_.toScreen(station, *level).y() - at.y()) > 6) return std::nullopt;
  const auto* ground = workspace_.evaluation()->ground(ids_[*finished]);
  const Vec2 place = section_.at(std::clamp(station, 0.0, section_.length()));
  for (auto w = ground->works.rbegin(); w != ground->works.rend(); ++w) {
    if (w->placement->facets->empty() || w->placement->facets->locate(place) == ground::kNone) continue;
    const auto own = works::levelOf(w->works->shape);
    const bool follows = w->works->tie && workspace_.project()->works(w->works->tie->to).works;
    if (!own || follows || w->works->held) return std::nullopt;
    return Grip{w->works->id, *own, axes_.levelAt(at.y())};
  }
  return std::nullopt;
}

void SectionView::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) grip_ = gripAt(event->position());
  if (grip_) {
    workspace_.chooseWorks(grip_->works);
  } else {
    panFrom_ = event->position();
  }
}

// To the centimetre, so that a level that was dragged is one that can be set out.
void SectionView::drag(QPointF at) {
  const auto now = workspace_.project()->works(grip_->works);
  if (!now.works) return;
  works::Works changed = *now.works;
  const double level = std::round((grip_->level + axes_.levelAt(at.y()) - grip_->grabbed) * 100) / 100;
  if (works::levelOf(changed.shape) == level) return;
  changed.shape = works::atLevel(changed.shape, level);
  grip_->moved = true;
  workspace_.setTransient(project::withWorks(*workspace_.project(), changed));
}

void SectionView::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  if (grip_) {
    drag(at);
  } else if (panFrom_) {
    const QPointF d = at - *panFrom_;
    panFrom_ = at;
    fitted_ = true;
    axes_.station -= d.x() / axes_.scale;
    axes_.level += d.y() / axes_.up();
  } else {
    setCursor(gripAt(at) ? Qt::SizeVerCursor : Qt::ArrowCursor);
  }
  const double station = axes_.stationAt(at.x());
  const bool inside = state_.hasSection() && station >= 0 && station <= section_.length();
  state_.point(inside ? std::optional(section_.at(station)) : std::nullopt);
  update();
}

void SectionView::mouseReleaseEvent(QMouseEvent*) {
  panFrom_.reset();
  if (!grip_) return;
  const auto now = workspace_.project()->works(grip_->works);
  if (grip_->moved && now.works)
    workspace_.commitTransient(tr("change the level of %1").arg(QString::fromStdString(now.works->name)));
  grip_.reset();
}

void SectionView::wheelEvent(QWheelEvent* event) {
  const double factor = std::pow(1.2, event->angleDelta().y() / 120.0);
  fitted_ = true;
  if (event->modifiers() & Qt::ControlModifier) {
    axes_.zoom(factor, event->position());
  } else {
    axes_.exaggerate(axes_.exaggeration * factor, event->position().y());
  }
  update();
}

void SectionView::keyPressEvent(QKeyEvent* event) {
  const QPointF middle = axes_.area.center();
  switch (event->key()) {
    case Qt::Key_Home:
      return fit();
    case Qt::Key_1:
      return trueScale();
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      axes_.zoom(1.25, middle);
      break;
    case Qt::Key_Minus:
      axes_.zoom(0.8, middle);
      break;
    case Qt::Key_Left:
    case Qt::Key_Right:
      axes_.station += (event->key() == Qt::Key_Left ? -60 : 60) / axes_.scale;
      break;
    case Qt::Key_Up:
    case Qt::Key_Down:
      axes_.exaggerate(axes_.exaggeration * (event->key() == Qt::Key_Up ? 1.25 : 0.8), middle.y());
      break;
    case Qt::Key_Escape:
      if (grip_) {
        workspace_.dropTransient();
        grip_.reset();
        return update();
      }
      [[fallthrough]];
    default:
      return QWidget::keyPressEvent(event);
  }
  fitted_ = true;
  update();
}

void SectionView::leaveEvent(QEvent*) {
  state_.point(std::nullopt);
}

std::optional<double> SectionView::pointedStation() const {
  if (!state_.pointer() || !state_.hasSection()) return std::nullopt;
  std::optional<double> best;
  double nearest = std::numeric_limits<double>::infinity();
  for (std::size_t i = 1; i < section_.line.size(); ++i) {
    const auto n = plane::nearestOnSegment(*state_.pointer(), section_.line[i - 1], section_.line[i]);
    if (n.distance >= nearest) continue;
    nearest = n.distance;
    best = section_.corners[i - 1] + n.along * (section_.corners[i] - section_.corners[i - 1]);
  }
  return best;
}

QColor SectionView::colourOf(std::size_t ground) const {
  switch (roles_[ground]) {
    case Role::surveyed:
      return theme::granite();
    case Role::stripped:
      return theme::loam();
    case Role::undercut:
      return theme::written(theme::cut());
    case Role::formation:
      return theme::daylight();
    case Role::finished:
      return theme::ink();
    default:
      return theme::muted();
  }
}

void SectionView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::paper());
  painter.fillRect(QRectF(0, 0, width(), 1), theme::rule());
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  painter.setFont(font);
  if (!section_.covered()) {
    painter.setPen(theme::muted());
    painter.drawText(rect(), Qt::AlignCenter, tr("The section lies off the ground. Drag its line on the plan."));
    return;
  }
  paintAxes(painter);
  painter.setClipRect(axes_.area);
  paintEarth(painter);
  painter.setRenderHint(QPainter::Antialiasing);
  paintGrounds(painter);
  paintSlopes(painter);
  painter.setClipping(false);
  paintHead(painter);
  paintPointer(painter);
}

void SectionView::paintAxes(QPainter& painter) {
  const QRectF& area = axes_.area;
  const double unit = lengths::inMetres();
  const double up = section::roundUp(28 / (axes_.up() * unit)), along = section::roundUp(90 / (axes_.scale * unit));
  const double step = up * unit, every = along * unit;
  const int decimals = up < 0.1 ? 2 : up < 1 ? 1 : 0;
  for (double k = std::ceil(axes_.level / step); axes_.toScreen(0, k * step).y() >= area.top(); ++k) {
    const double y = axes_.toScreen(0, k * step).y();
    painter.setPen(QPen(theme::rule(), 1));
    painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y));
    painter.setPen(theme::muted());
    painter.drawText(QRectF(0, y - 8, kLeft - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                     lengths::number(k * step, decimals));
  }
  for (double k = std::max(0.0, std::ceil(axes_.station / every)); k * every <= section_.length() + 1e-9; ++k) {
    const double x = axes_.toScreen(k * every, 0).x();
    if (x > area.right()) break;
    painter.setPen(QPen(theme::rule(), 1));
    painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
    painter.setPen(theme::muted());
    painter.drawText(QRectF(x - 40, area.bottom() + 3, 80, 16), Qt::AlignHCenter,
                     lengths::number(k * every, along < 1 ? 1 : 0));
  }
}

void SectionView::paintBetween(QPainter& painter, std::size_t earlier, std::size_t later, const QBrush& cut,
                               const QBrush& fill) {
  section::eachPart(section_, earlier, later, [&](const section::Part& p) {
    if (p.alike()) return;
    painter.setBrush(p.fill() ? fill : cut);
    painter.drawPolygon(QPolygonF() << axes_.toScreen(p.begin, p.fromBegin) << axes_.toScreen(p.end, p.fromEnd)
                                    << axes_.toScreen(p.end, p.toEnd) << axes_.toScreen(p.begin, p.toBegin));
  });
}

// What is dug out below formation and filled again.
void SectionView::paintUndercut(QPainter& painter) {
  const auto undercut = ofRole(Role::undercut), formation = ofRole(Role::formation);
  auto land = ofRole(Role::stripped);
  if (!land) land = ofRole(Role::surveyed);
  auto made = formation ? formation : ofRole(Role::finished);
  if (!undercut || !land || !made) return;
  painter.setBrush(QBrush(theme::written(theme::cut()), Qt::BDiagPattern));
  for (std::size_t i = 0; i + 1 < section_.stations.size(); ++i) {
    const auto &u = section_.grounds[*undercut][i], &s = section_.grounds[*land][i], &f = section_.grounds[*made][i];
    if (!u || !s || !f) continue;
    const double begin = std::min(s->begin, f->begin), end = std::min(s->end, f->end);
    if (begin - u->begin < kSame && end - u->end < kSame) continue;
    const double s0 = section_.stations[i], s1 = section_.stations[i + 1];
    painter.drawPolygon(QPolygonF() << axes_.toScreen(s0, u->begin) << axes_.toScreen(s1, u->end)
                                    << axes_.toScreen(s1, std::max(end, u->end))
                                    << axes_.toScreen(s0, std::max(begin, u->begin)));
  }
}

void SectionView::paintEarth(QPainter& painter) {
  painter.setPen(Qt::NoPen);
  const auto existing = ofRole(Role::surveyed), stripped = ofRole(Role::stripped), formation = ofRole(Role::formation),
             finished = ofRole(Role::finished);
  const auto land = stripped ? stripped : existing, made = formation ? formation : finished;
  const QBrush none(Qt::NoBrush);
  if (land && made)
    paintBetween(painter, *land, *made, theme::faded(theme::cut(), 110), theme::faded(theme::fill(), 110));
  if (existing && stripped) paintBetween(painter, *existing, *stripped, theme::faded(theme::loam(), 130), none);
  if (formation && finished)
    paintBetween(painter, *formation, *finished, none, QBrush(theme::faded(theme::ink(), 150), Qt::Dense5Pattern));
  paintUndercut(painter);
}

void SectionView::paintGrounds(QPainter& painter) {
  painter.setBrush(Qt::NoBrush);
  for (std::size_t g = 0; g < section_.grounds.size(); ++g) {
    const bool chosen = ids_[g] == workspace_.chosenGround();
    const bool main = roles_[g] == Role::finished;
    painter.setPen(QPen(colourOf(g),
                        main     ? 2.2
                        : chosen ? 1.8
                                 : 1.2,
                        roles_[g] == Role::surveyed ? Qt::DashLine : Qt::SolidLine));
    QPolygonF run;
    const auto draw = [&] {
      if (run.size() > 1) painter.drawPolyline(run);
      run.clear();
    };
    for (std::size_t i = 0; i < section_.grounds[g].size(); ++i) {
      const auto& span = section_.grounds[g][i];
      if (!span) {
        draw();
        continue;
      }
      run << axes_.toScreen(section_.stations[i], span->begin) << axes_.toScreen(section_.stations[i + 1], span->end);
    }
    draw();
  }
}

// How steep the finished ground is where works changed it: batters as H:V, gentle land in %.
void SectionView::paintSlopes(QPainter& painter) {
  const auto finished = ofRole(Role::finished);
  auto land = ofRole(Role::stripped);
  if (!land) land = ofRole(Role::surveyed);
  if (!finished || !land) return;
  const auto& spans = section_.grounds[*finished];
  const auto slopeOf = [&](std::size_t i) {
    return (spans[i]->end - spans[i]->begin) / (section_.stations[i + 1] - section_.stations[i]);
  };
  const auto changed = [&](std::size_t i) {
    const auto& under = section_.grounds[*land][i];
    return spans[i] && under &&
           std::max(std::abs(spans[i]->begin - under->begin), std::abs(spans[i]->end - under->end)) > kSame;
  };
  double taken = -1e9;
  for (std::size_t i = 0; i < spans.size();) {
    if (!changed(i)) {
      ++i;
      continue;
    }
    const double slope = slopeOf(i), near = 0.003 + 0.03 * std::abs(slope);
    std::size_t end = i + 1;
    while (end < spans.size() && changed(end) && std::abs(slopeOf(end) - slope) < near &&
           std::abs(spans[end]->begin - spans[end - 1]->end) < kSame)
      ++end;
    const QPointF a = axes_.toScreen(section_.stations[i], spans[i]->begin),
                  b = axes_.toScreen(section_.stations[end], spans[end - 1]->end);
    i = end;
    if (std::hypot(b.x() - a.x(), b.y() - a.y()) < 26) continue;
    const double steep = std::abs(slope);
    const QString text = steep < 5e-4    ? tr("level")
                         : steep >= 0.12 ? QString("%1:1").arg(std::round(10 / steep) / 10)
                                         : QString("%1 %").arg(number(100 * steep, 1));
    const double w = painter.fontMetrics().horizontalAdvance(text), x = (a.x() + b.x()) / 2 - w / 2;
    if (x < taken || x < axes_.area.left() + 4) continue;
    taken = x + w + 8;
    const double y = std::max((a.y() + b.y()) / 2 - 20, axes_.area.top() + 2);
    paintLabel(painter, text, {x, y}, width());
  }
}

void SectionView::paintPointer(QPainter& painter) {
  const auto station = pointedStation();
  if (!station) return;
  const double x = axes_.toScreen(*station, 0).x();
  if (x < axes_.area.left() || x > axes_.area.right()) return;
  painter.setPen(QPen(theme::amber(), 1));
  painter.drawLine(QPointF(x, axes_.area.top()), QPointF(x, axes_.area.bottom()));
  QStringList told{lengths::told(*station, 2)};
  for (std::size_t g = section_.grounds.size(); g-- > 0;) {
    const auto level = section_.level(g, *station);
    if (!level) continue;
    painter.setPen(QPen(theme::paper(), 1));
    painter.setBrush(colourOf(g));
    painter.drawEllipse(axes_.toScreen(*station, *level), 3.5, 3.5);
    told << QString("%1 %2").arg(QString::fromStdString(section_.names[g]), lengths::number(*level, 2));
  }
  if (const auto from = ofRole(Role::surveyed), to = ofRole(Role::finished); from && to) {
    const auto before = section_.level(*from, *station), after = section_.level(*to, *station);
    const double fill = before && after ? *after - *before : 0;
    if (std::abs(fill) > 5e-4) told << (fill > 0 ? tr("fill %1") : tr("cut %1")).arg(lengths::told(std::abs(fill), 2));
  }
  const QString text = told.join("  ·  ");
  const double w = painter.fontMetrics().horizontalAdvance(text);
  paintLabel(painter, text, {std::max(x - w / 2, kLeft + 6), axes_.area.bottom() - 20}, axes_.area.right());
}

// Which line is which ground, the areas, and the exaggeration.
void SectionView::paintHead(QPainter& painter) {
  double x = kLeft;
  for (std::size_t g = section_.grounds.size(); g-- > 0;) {
    const QString name = QString::fromStdString(section_.names[g]);
    painter.setPen(QPen(colourOf(g), 2, roles_[g] == Role::surveyed ? Qt::DashLine : Qt::SolidLine));
    painter.drawLine(QPointF(x, kHead / 2), QPointF(x + 16, kHead / 2));
    painter.setPen(theme::ink());
    painter.drawText(QPointF(x + 21, kHead / 2 + 4), name);
    x += 21 + painter.fontMetrics().horizontalAdvance(name) + 14;
  }
  QString text;
  if (const auto a = areas())
    text = tr("cut %1, fill %2  ·  ").arg(lengths::area(a->cut, 1), lengths::area(a->fill, 1));
  const double e = axes_.exaggeration;
  text += std::abs(e - 1) < 1e-9 ? tr("true scale")
                                 : tr("levels ×%1").arg(number(e, std::abs(e - std::round(e)) < 0.05 ? 0 : 1));
  paintLabel(painter, text, {axes_.area.right(), axes_.area.top() + 4}, axes_.area.right());
}

}  // namespace inselberg::app
