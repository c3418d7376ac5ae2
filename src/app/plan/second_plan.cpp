#include "plan/second_plan.h"

#include <QComboBox>
#include <QMouseEvent>
#include <QPainter>
#include <QSignalBlocker>
#include <cmath>

#include "base/error.h"
#include "canvas/label.h"
#include "canvas/view_button.h"
#include "canvas/view_keys.h"
#include "plan/works_lines.h"
#include "report/ledger.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {

using plane::Vec2;

SecondPlan::SecondPlan(Workspace& workspace, ViewState& state, QWidget* parent)
    : QWidget(parent), workspace_(workspace), state_(state), pictures_(*this, [this](const QString& why) {
        Q_EMIT workspace_.message(tr("The second plan could not be drawn: %1").arg(why), true);
      }) {
  setObjectName("secondPlan");
  setAccessibleName(tr("Second plan"));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_OpaquePaintEvent);
  list_ = new QComboBox(this);
  list_->setObjectName("secondGround");
  list_->setAccessibleName(tr("What the second plan shows"));
  list_->setToolTip(tr("The ground, or the kept result, to see beside the plan"));
  list_->setMaximumWidth(220);
  close_ = viewButton(this, "secondClose", QStringLiteral("×"), tr("Put the second plan away"));
  connect(close_, &QToolButton::clicked, this, [this] { state_.alter([](Shown& s) { s.layout = Layout::plan; }); });
  connect(list_, &QComboBox::activated, this, &SecondPlan::choose);
  connect(&workspace_, &Workspace::evaluationChanged, this, &SecondPlan::fillList);
  connect(&workspace_, &Workspace::projectChanged, this, &SecondPlan::fillList);
  connect(&workspace_, &Workspace::selectionChanged, this, qOverload<>(&QWidget::update));
  connect(&state_, &ViewState::changed, this, &SecondPlan::request);
  connect(&state_, &ViewState::pointed, this, qOverload<>(&QWidget::update));
  theme::dressed(this, [this] {
    pictures_.forgetColours();
    request();
  });
  hide();
}

SecondPlan::~SecondPlan() = default;

// Grounds, the latest first as in the column, then kept results. What was on show stays, while it is there; else the
// surveyed ground.
void SecondPlan::fillList() {
  if (!isVisible()) return;
  const project::Project& project = *workspace_.project();
  if (ground_ && !project.ground(*ground_)) ground_.reset();
  const bool held =
      std::any_of(project.kept.begin(), project.kept.end(), [&](const auto& k) { return k->id == kept_; });
  if (!held) kept_ = 0;
  if (!ground_ && kept_ == 0) {
    const GroundId surveyed = project.surveyed();
    ground_ = workspace_.chosenGround() == surveyed ? project.finished() : surveyed;
  }
  const QSignalBlocker quiet(list_);
  list_->clear();
  for (auto it = project.column.rbegin(); it != project.column.rend(); ++it) {
    list_->addItem(QString::fromStdString((*it)->name), QVariant::fromValue<qulonglong>((*it)->id.value));
    if (ground_ == (*it)->id) list_->setCurrentIndex(list_->count() - 1);
  }
  for (const project::KeptPtr& kept : project.kept) {
    list_->addItem(tr("kept: %1").arg(QString::fromStdString(kept->name)));
    if (kept_ == kept->id) list_->setCurrentIndex(list_->count() - 1);
  }
  list_->adjustSize();
  request();
}

void SecondPlan::choose(int row) {
  const project::Project& project = *workspace_.project();
  const auto grounds = static_cast<int>(project.column.size());
  kept_ = 0;
  ground_.reset();
  if (row < grounds) {
    ground_ = project.column[static_cast<std::size_t>(grounds - 1 - row)]->id;
  } else {
    const project::KeptPtr& kept = project.kept.at(static_cast<std::size_t>(row - grounds));
    kept_ = kept->id;
    keptPicture_.loadFromData(QByteArray::fromStdString(kept->picture), "PNG");
  }
  request();
}

void SecondPlan::follow(const ViewTransform& view) {
  if (view_.centre == view.centre && view_.scale == view.scale) return;
  view_.centre = view.centre, view_.scale = view.scale;
  request();
}

void SecondPlan::request() {
  update();
  if (!isVisible() || width() < 2 || height() < 2 || !ground_) return;
  view_.size = size();
  const project::Evaluation& e = *workspace_.evaluation();
  PlanRequest r;
  for (std::size_t i = 0; i < e.grounds.size(); ++i) {
    const auto& g = e.grounds[i];
    if (g.id != *ground_) continue;
    r.shown = g.tin, r.pending = g.pending;
    if (i > 0) r.beneath = e.grounds[i - 1].tin;
    break;
  }
  const Shown& shown = state_.shown();
  // Depths are told between two grounds, not of one.
  r.mode = shown.mode == PlanMode::depth ? PlanMode::relief : shown.mode;
  if (r.mode == PlanMode::works) r.tints = worksTints(e, *ground_);
  r.steepness = shown.steepness;
  r.contours = shown.contours, r.triangles = shown.triangles, r.interval = shown.interval;
  r.view = view_;
  r.pixelRatio = devicePixelRatioF();
  pictures_.ask(std::move(r));
}

void SecondPlan::paintKept(QPainter& painter) {
  for (const project::KeptPtr& kept : workspace_.project()->kept) {
    if (kept->id != kept_) continue;
    const QRect room = rect().adjusted(10, 44, -10, -40);
    const QSize size = keptPicture_.size().scaled(room.size(), Qt::KeepAspectRatio);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawPixmap(QRect(room.topLeft() + QPoint((room.width() - size.width()) / 2, 0), size), keptPicture_);
    painter.setPen(theme::ink());
    const auto number = [&](double v) { return workspace_.told(v, Quantity::volume); };
    painter.drawText(
        rect().adjusted(10, 0, -10, -12), Qt::AlignBottom | Qt::AlignHCenter | Qt::TextWordWrap,
        tr("%1, as it was kept on %2: cut %3, fill %4, %5")
            .arg(QString::fromStdString(kept->name), QString::fromStdString(kept->when), number(kept->cut),
                 number(kept->fill),
                 QString::fromStdString(report::surplusText(kept->cut, kept->fill, workspace_.project()->measures))));
  }
}

// Where the pointer is, on whichever view, with the level there.
void SecondPlan::paintHere(QPainter& painter) {
  if (!state_.pointer()) return;
  const QPointF at = view_.toScreen(*state_.pointer());
  if (!underMouse()) {
    painter.setPen(QPen(theme::ink(), 1.2));
    painter.setBrush(theme::amber());
    painter.drawEllipse(at, 5, 5);
  }
  const auto* ground = workspace_.evaluation()->ground(*ground_);
  const auto level = ground && ground->tin ? ground->levelAt(*state_.pointer()) : std::nullopt;
  if (level) paintLabel(painter, lengths::number(*level, 2), at + QPointF(12, -18), width());
}

void SecondPlan::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::paper());
  painter.setPen(theme::rule());
  painter.drawLine(0, 0, 0, height());
  if (!ground_) return paintKept(painter);
  pictures_.paint(painter, view_);
  painter.setRenderHint(QPainter::Antialiasing);
  const WorksId chosen = workspace_.chosenWorks();
  paintWorksLines(painter, workspace_.evaluation()->worksShown(*ground_, chosen), chosen, view_);
  paintHere(painter);
}

void SecondPlan::resizeEvent(QResizeEvent*) {
  list_->move(10, 8);
  list_->resize(std::min(220, width() - 60), list_->sizeHint().height());
  close_->move(width() - close_->sizeHint().width() - 6, 8);
  request();
}

void SecondPlan::showEvent(QShowEvent*) {
  fillList();
}

void SecondPlan::wheelEvent(QWheelEvent* event) {
  if (!ground_) return;
  view_.zoom(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
  request();
  Q_EMIT moved(view_);
}

void SecondPlan::mousePressEvent(QMouseEvent* event) {
  setFocus();
  panFrom_ = event->position();
  if (!ground_ || event->button() != Qt::LeftButton) return;
  if (const WorksId works = workspace_.worksAt(view_.toPlan(event->position()))) workspace_.chooseWorks(works);
}

void SecondPlan::mouseMoveEvent(QMouseEvent* event) {
  if (!ground_) return;
  if (panFrom_ && event->buttons() != Qt::NoButton) {
    const QPointF d = event->position() - *panFrom_;
    panFrom_ = event->position();
    view_.centre = view_.centre - Vec2{d.x() / view_.scale, -d.y() / view_.scale};
    request();
    Q_EMIT moved(view_);
  }
  state_.point(view_.toPlan(event->position()));
}

void SecondPlan::mouseReleaseEvent(QMouseEvent*) {
  panFrom_.reset();
}

void SecondPlan::leaveEvent(QEvent*) {
  state_.point(std::nullopt);
}

void SecondPlan::keyPressEvent(QKeyEvent* event) {
  if (!ground_ || !moveByKey(view_, event->key())) return QWidget::keyPressEvent(event);
  request();
  Q_EMIT moved(view_);
}

}  // namespace inselberg::app
