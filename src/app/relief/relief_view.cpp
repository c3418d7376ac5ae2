#include "relief/relief_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QWheelEvent>
#include <cmath>
#include <numbers>

#include "canvas/label.h"
#include "canvas/north_arrow.h"
#include "canvas/view_button.h"
#include "ground/contours.h"
#include "ground/drape.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using plane::Vec3;

constexpr double kEyeHeight = 1.7;  // m
constexpr double kStep = 2;         // m
constexpr double kRaises[] = {1, 1.5, 2, 3, 5, 10};

}  // namespace

ReliefView::ReliefView(Workspace& workspace, ViewState& state, QWidget* parent)
    : QWidget(parent), workspace_(workspace), state_(state), worker_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this,
            [this, text = QString::fromUtf8(why.c_str())] {
              failure_ = text;
              got_ = asked_;
              update();
            },
            Qt::QueuedConnection);
      }) {
  setObjectName("reliefView");
  setAccessibleName(tr("Relief"));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_OpaquePaintEvent);
  fit_ = viewButton(this, "reliefFit", tr("Fit"), tr("All of the ground (Home)"));
  raise_ = viewButton(this, "reliefRaise", {}, tr("Raise the levels (Page up, Page down; 1: true)"));
  glass_ =
      viewButton(this, "reliefGlass", tr("Land as it was"), tr("The surveyed ground as well, to be looked through"));
  cutAway_ = viewButton(this, "reliefCut", tr("Cut at section"), tr("Cut away what stands before the section's line"));
  close_ = viewButton(this, "reliefClose", QStringLiteral("×"), tr("Put the relief away"));
  glass_->setCheckable(true), cutAway_->setCheckable(true);
  connect(fit_, &QToolButton::clicked, this, &ReliefView::fit);
  connect(raise_, &QToolButton::clicked, this, [this] {
    const bool highest = state_.shown().raise >= kRaises[std::size(kRaises) - 1];
    highest ? setRaise(1) : raiseBy(1);
  });
  connect(glass_, &QToolButton::clicked, this, [this](bool on) { state_.alter([on](Shown& s) { s.glass = on; }); });
  connect(cutAway_, &QToolButton::clicked, this, [this](bool on) { state_.alter([on](Shown& s) { s.cutAway = on; }); });
  connect(close_, &QToolButton::clicked, this, [this] { state_.alter([](Shown& s) { s.layout = Layout::plan; }); });
  rest_.setSingleShot(true);
  rest_.setInterval(150);
  connect(&rest_, &QTimer::timeout, this, [this] { request(false); });
  connect(&workspace_, &Workspace::evaluationChanged, this, &ReliefView::refresh);
  connect(&workspace_, &Workspace::selectionChanged, this, &ReliefView::refresh);
  connect(&state_, &ViewState::changed, this, &ReliefView::refresh);
  connect(&state_, &ViewState::sectionChanged, this, &ReliefView::refresh);
  connect(&state_, &ViewState::pointed, this, [this] {
    if (!here_) update();
  });
  hide();
}

// What is held of the graphics has to be given back where it was made.
ReliefView::~ReliefView() {
  if (!renderer_) return;
  worker_.finish();
  worker_.post([renderer = renderer_](const Worker::Token&) { renderer->release(); });
  worker_.finish();
}

ground::TinPtr ReliefView::shownTin() const {
  const auto* shown = state_.shownGround();
  return shown && !shown->tin->empty() ? shown->tin : nullptr;
}

std::optional<double> ReliefView::levelAt(Vec2 p) const {
  const auto* shown = state_.shownGround();
  if (!shown) return std::nullopt;
  const auto pending = shown->pending ? shown->pending->levelAt(p) : std::nullopt;
  return pending ? pending : shown->tin->levelAt(p);
}

Vec3 ReliefView::raised(const Vec3& p) const {
  return {p.x, p.y, middle_.z + (p.z - middle_.z) * state_.shown().raise};
}

void ReliefView::refresh() {
  const Shown& shown = state_.shown();
  raise_->setText(tr("Levels × %1").arg(shown.raise));
  glass_->setChecked(shown.glass);
  cutAway_->setChecked(shown.cutAway);
  cutAway_->setEnabled(state_.hasSection());
  if (!isVisible()) return;
  const auto tin = shownTin();
  if (!tin) middleOf_ = -1;
  if (tin && middleOf_ != workspace_.shown()) {
    middleOf_ = workspace_.shown();
    const Vec2 centre = tin->bounds().centre();
    middle_ = {centre.x, centre.y, tin->minLevel()};
    fit();
  }
  lines_ = lines();
  const auto* ground = state_.shownGround();
  request(ground && ground->pending && !ground->pending->empty());  // something is being dragged
}

void ReliefView::fit() {
  const auto tin = shownTin();
  if (!tin) return;
  walks_ = false, fitted_ = true;
  camera_.size = size();
  camera_.bearing = 30, camera_.tilt = width() > 1.2 * height() ? 35 : 50;
  camera_.fit(tin->bounds(), raised({0, 0, tin->minLevel()}).z, raised({0, 0, tin->maxLevel()}).z);
  request(true);
}

void ReliefView::lookFrom(const Camera& camera) {
  const QSizeF size = camera_.size;
  camera_ = camera;
  camera_.size = size;
  walks_ = fitted_ = false;
  request(true);
}

void ReliefView::goTo(Vec2 eye) {
  const auto level = levelAt(eye);
  if (!level) return;
  fitted_ = false;
  camera_.distance = 1;
  // The eye stays where it is put, whatever it looks at.
  const Vec3 now = camera_.eye(), put = raised({eye.x, eye.y, *level});
  const Vec3& at = camera_.target;
  camera_.target = {at.x + put.x - now.x, at.y + put.y - now.y, at.z + put.z + kEyeHeight - now.z};
  request(true);
}

void ReliefView::standAt(Vec2 place) {
  if (!levelAt(place)) return;
  walks_ = true;
  camera_.tilt = 2;
  goTo(place);
}

void ReliefView::step(double metres) {
  const double b = camera_.bearing * std::numbers::pi / 180;
  goTo(camera_.eye().plan() + metres * Vec2{std::sin(b), std::cos(b)});
}

void ReliefView::turn(double bearingBy, double tiltBy) {
  const Vec2 eye = camera_.eye().plan();
  fitted_ = false;
  camera_.turn(bearingBy, tiltBy);
  if (walks_) return goTo(eye);
  request(true);
}

void ReliefView::setRaise(double raise) {
  // What is looked at stays in the middle.
  camera_.target.z = middle_.z + (camera_.target.z - middle_.z) / state_.shown().raise * raise;
  state_.alter([raise](Shown& s) { s.raise = raise; });
}

void ReliefView::raiseBy(int steps) {
  std::ptrdiff_t i = 0;
  while (i + 1 < std::ssize(kRaises) && kRaises[i] < state_.shown().raise) ++i;
  setRaise(kRaises[std::clamp<std::ptrdiff_t>(i + steps, 0, std::ssize(kRaises) - 1)]);
}

std::vector<ReliefRequest::Line> ReliefView::lines() const {
  std::vector<ReliefRequest::Line> all;
  const auto add = [&](const std::vector<Vec3>& points, bool closed, const QColor& colour) {
    if (points.size() < 2) return;
    all.push_back({points, colour});
    if (closed) all.back().points.push_back(points.front());
  };
  for (const project::PlacedWorks& w : workspace_.worksShown()) {
    const bool chosen = w.works->id == workspace_.chosenWorks();
    for (const auto& line : w.placement->daylight) add(line.points, line.closed, theme::daylight());
    for (const auto& line : w.placement->ends) add(line.points, line.closed, theme::error());
    for (const auto& line : w.placement->crests) add(line.points, line.closed, chosen ? theme::amber() : theme::ink());
  }
  if (const auto tin = shownTin(); tin && state_.hasSection())
    add(ground::draped(*tin, state_.sectionLine(), false), false, theme::error());
  return all;
}

std::optional<ReliefCut> ReliefView::cutAway() const {
  const auto& line = state_.sectionLine();
  if (!state_.shown().cutAway || line.size() < 2 || line.front() == line.back()) return std::nullopt;
  ReliefCut cut{line.front(), line.back() - line.front()};
  if (!cut.away(camera_.eye().plan())) cut.along = -1.0 * cut.along;
  return cut;
}

std::vector<EarthStep> ReliefView::earthSteps() const {
  const auto* shown = state_.shownGround();
  if (!shown) return {};
  const project::Project& project = *workspace_.evaluation()->project;
  const project::Role last = project.ground(shown->id)->role;
  std::vector<EarthStep> steps;
  ground::TinPtr land;  // that the earth is moved from
  const bool dug = last > project::Role::undercut && project.withRole(project::Role::undercut);
  bool formed = false;
  for (const auto& [role, word] : project::kRoleWords) {
    const project::Ground* ground = project::isStage(role) && role <= last ? project.withRole(role) : nullptr;
    const auto* made = ground ? workspace_.evaluation()->ground(ground->id) : nullptr;
    if (!made || !made->tin) continue;
    const bool first = role == project::Role::formation || (role == project::Role::finished && !formed);
    // What was dug out is filled again before anything is put on the land.
    if (dug && first && land) steps.push_back({made->tin, theme::refilled(), land});
    steps.push_back({made->tin, steps.empty() ? theme::earth() : formed ? theme::builtUp() : theme::filled()});
    formed |= role == project::Role::formation;
    if (role <= project::Role::stripped) land = made->tin;
  }
  // A ground for comparing stands on what it is told from.
  if (!project::isStage(last)) {
    steps.clear();
    if (const auto beneath = state_.beneath()) steps.push_back({beneath, theme::earth()});
    steps.push_back({shown->tin, steps.empty() ? theme::earth() : theme::filled()});
  }
  return steps;
}

ReliefRequest ReliefView::wanted(bool moving) const {
  const Shown& shown = state_.shown();
  ReliefRequest r;
  r.shown = shownTin();
  if (r.shown) r.pending = state_.shownGround()->pending;
  r.beneath = state_.beneath();
  if (const auto* survey = workspace_.evaluation()->surveyed(); survey && shown.glass) r.glass = survey->tin;
  r.mode = shown.mode;
  r.lit = shown.lit;
  r.steepness = shown.steepness;
  r.greatestDepth = state_.greatestDepth();
  if (r.shown && shown.contours)
    r.interval = shown.interval > 0 ? shown.interval : ground::proposedInterval(*r.shown, lengths::measures());
  r.lines = lines_;
  r.cut = cutAway();
  if (r.cut) r.steps = earthSteps();
  if (r.mode == PlanMode::works && r.shown) r.tints = worksTints(*workspace_.evaluation(), state_.shownGround()->id);
  r.middle = middle_;
  r.raise = shown.raise;
  r.camera = camera_;
  r.pixelRatio = devicePixelRatioF();
  r.moving = moving;
  return r;
}

void ReliefView::request(bool moving) {
  if (!isVisible() || width() < 2 || height() < 2) return;
  if (!renderer_) renderer_ = std::make_shared<ReliefRenderer>();
  camera_.size = size();
  moving = moving || picture_.image.isNull();  // something is seen soon
  if (moving) rest_.start();
  const std::uint64_t number = ++asked_;
  worker_.post([this, r = wanted(moving), number, renderer = renderer_](const Worker::Token& token) {
    ReliefPicture picture = renderer->render(r, Progress([&] { return token.leaving(); }));
    QMetaObject::invokeMethod(
        this,
        [this, picture = std::move(picture), number]() mutable {
          picture_ = std::move(picture);
          failure_.clear();
          got_ = number;
          update();
        },
        Qt::QueuedConnection);
  });
}

bool ReliefView::settled() const {
  return asked_ == got_ && !picture_.moving && !rest_.isActive() && worker_.idle() && workspace_.upToDate();
}

void ReliefView::paintText(QPainter& painter, const QString& text) {
  painter.fillRect(rect(), theme::paper());
  painter.setPen(theme::muted());
  painter.drawText(rect().adjusted(30, 40, -30, -10), Qt::AlignCenter | Qt::TextWordWrap, text);
}

void ReliefView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  if (!failure_.isEmpty()) return paintText(painter, failure_);
  if (!shownTin()) return paintText(painter, tr("There is no ground yet. Bring in a survey, and it stands here."));
  if (picture_.image.isNull()) return paintText(painter, tr("Drawing…"));
  painter.setRenderHint(QPainter::SmoothPixmapTransform, picture_.moving);
  painter.drawImage(rect(), picture_.image);
  paintLabels(painter);
  paintPointer(painter);
  const double upright = std::abs(std::sin(picture_.camera.tilt * std::numbers::pi / 180));
  paintNorth(painter, {26, 62}, picture_.camera.bearing, std::max(0.35, upright));
  if (state_.shown().layout == Layout::relief) {
    if (const auto legend = legend_.of(state_, picture_.greatestDepth)) legend->paint(painter, size());
  }
  if (walks_)
    paintLabel(painter, tr("On the ground. Arrows or wheel walk, a drag looks round, Home goes back up."), {44, 40},
               width());
}

// Names of works over their middle, with their level; where one stands before another, or behind a hill, not.
void ReliefView::paintLabels(QPainter& painter) {
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  painter.setFont(font);
  const auto cut = cutAway();
  std::vector<QRect> taken;
  for (const project::PlacedWorks& w : workspace_.worksShown()) {
    const Vec2 at = works::placeOf(w.works->shape);
    const auto level = levelAt(at);
    if (cut && cut->away(at)) continue;
    if (!level || !picture_.sees({at.x, at.y, *level})) continue;
    const auto pixel = picture_.camera.toScreen(picture_.raised({at.x, at.y, *level}));
    if (!pixel || !rect().contains(pixel->toPoint())) continue;
    QString text = QString::fromStdString(w.works->name);
    if (const auto own = works::levelOf(w.works->shape)) text += "\n" + lengths::number(*own, 2);
    QRect box = painter.fontMetrics().boundingRect(QRect(0, 0, 400, 60), Qt::AlignCenter, text);
    box.moveCenter(pixel->toPoint());
    box.adjust(-5, -2, 5, 2);
    if (std::any_of(taken.begin(), taken.end(), [&](const QRect& r) { return r.intersects(box); })) continue;
    taken.push_back(box);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::faded(theme::paper(), 190));
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(w.works->id == workspace_.chosenWorks() ? theme::loam() : theme::ink());
    painter.drawText(box, Qt::AlignCenter, text);
  }
}

void ReliefView::paintPointer(QPainter& painter) {
  const auto& at = state_.pointer();
  const auto level = at ? levelAt(*at) : std::nullopt;
  if (!level) return;
  const Vec3 place{at->x, at->y, *level};
  if (!here_) {
    const auto pixel = picture_.camera.toScreen(picture_.raised(place));
    if (pixel && picture_.sees(place)) {
      painter.setPen(QPen(theme::error(), 1.6));
      painter.setBrush(Qt::NoBrush);
      painter.drawEllipse(*pixel, 5, 5);
      painter.drawLine(*pixel - QPointF(0, 14), *pixel - QPointF(0, 5));
    }
    return;
  }
  QString text = tr("level %1").arg(lengths::number(*level, 2));
  if (const auto beneath = state_.beneath()) {
    const auto under = beneath->levelAt(*at);
    if (under && std::abs(*level - *under) > 0.005)
      text += *level > *under ? tr("   fill %1").arg(lengths::number(*level - *under, 2))
                              : tr("   cut %1").arg(lengths::number(*under - *level, 2));
  }
  paintLabel(painter, text, {12, height() - 24.0}, width());
}

void ReliefView::resizeEvent(QResizeEvent*) {
  int x = 6;
  for (QToolButton* b : {fit_, raise_, glass_, cutAway_}) {
    b->adjustSize();
    b->setFixedHeight(24);
    b->resize(b == raise_ ? 96 : b->sizeHint().width(), 24);
    b->move(x, 6);
    x += b->width() + 4;
  }
  close_->resize(24, 24);
  close_->move(width() - 30, 6);
  fitted_ ? fit() : request(true);
}

void ReliefView::showEvent(QShowEvent*) {
  refresh();
}

void ReliefView::wheelEvent(QWheelEvent* event) {
  const double turns = event->angleDelta().y() / 120.0;
  if (event->modifiers() & Qt::ControlModifier) return raiseBy(turns > 0 ? 1 : -1);
  if (walks_) return step(kStep * turns);
  const auto place = picture_.placeAt(event->position());
  fitted_ = false;
  camera_.zoom(std::pow(1.25, turns), place ? raised(*place) : camera_.at(event->position(), camera_.distance));
  request(true);
}

void ReliefView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  pressedAt_ = last_ = event->position();
  dragged_ = false;
  pans_ = event->button() != Qt::LeftButton || (event->modifiers() & Qt::ShiftModifier);
}

void ReliefView::mouseMoveEvent(QMouseEvent* event) {
  if (!pressedAt_) {
    here_ = true;
    const auto place = picture_.placeAt(event->position());
    state_.point(place ? std::optional(place->plan()) : std::nullopt);
    update();
    return;
  }
  const QPointF by = event->position() - *last_;
  dragged_ = dragged_ || (event->position() - *pressedAt_).manhattanLength() > 4;
  if (!dragged_) return;
  last_ = event->position();
  if (pans_ && !walks_) {
    camera_.pan(by);
    fitted_ = false;
    request(true);
  } else {
    // Degrees to a pixel: the land turns with the pointer, or the view when standing on it.
    const double per = walks_ ? -0.12 : 0.4;
    turn(per * by.x(), per * by.y());
  }
}

void ReliefView::mouseReleaseEvent(QMouseEvent* event) {
  const bool click = pressedAt_ && !dragged_ && event->button() == Qt::LeftButton;
  pressedAt_.reset(), last_.reset();
  if (!click) return;
  if (const auto place = picture_.placeAt(event->position())) workspace_.chooseWorks(workspace_.worksAt(place->plan()));
}

void ReliefView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (const auto place = picture_.placeAt(event->position())) standAt(place->plan());
}

void ReliefView::keyPressEvent(QKeyEvent* event) {
  const bool shift = event->modifiers() & Qt::ShiftModifier;
  constexpr double kTurn = 5, kPan = 30;
  const auto arrow = [&](int east, int north) {
    if (walks_ && north != 0) return step(north * (shift ? 5 * kStep : kStep));
    if (shift && !walks_) {
      camera_.pan({-kPan * east, kPan * north});
      return request(true);
    }
    turn((walks_ ? 1 : -1) * kTurn * east, kTurn * north);
  };
  switch (event->key()) {
    case Qt::Key_Left:
      return arrow(-1, 0);
    case Qt::Key_Right:
      return arrow(1, 0);
    case Qt::Key_Up:
      return arrow(0, 1);
    case Qt::Key_Down:
      return arrow(0, -1);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
    case Qt::Key_Minus:
      camera_.zoom(event->key() == Qt::Key_Minus ? 0.8 : 1.25, camera_.target);
      return request(true);
    case Qt::Key_PageUp:
      return raiseBy(1);
    case Qt::Key_PageDown:
      return raiseBy(-1);
    case Qt::Key_1:
      return setRaise(1);
    case Qt::Key_Home:
      return fit();
    default:
      QWidget::keyPressEvent(event);
  }
}

void ReliefView::leaveEvent(QEvent*) {
  here_ = false;
  state_.point(std::nullopt);
}

}  // namespace inselberg::app
