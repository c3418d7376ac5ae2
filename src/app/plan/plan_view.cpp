#include "plan/plan_view.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QWheelEvent>
#include <cmath>
#include <utility>

#include "base/quantity.h"
#include "canvas/label.h"
#include "canvas/north_arrow.h"
#include "canvas/source_layer.h"
#include "canvas/view_keys.h"
#include "plan/stage_lines.h"
#include "plan/works_lines.h"
#include "report/depth_places.h"
#include "report/ledger.h"
#include "theme/theme.h"
#include "tools/section_tool.h"
#include "works/handles.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using plane::Vec3;

constexpr double kSnapPixels = 9;
constexpr double kPictureMargin = 0.2;  // of the view, on each side: room to pan into

}  // namespace

PlanView::PlanView(Workspace& workspace, ViewState& state, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      state_(state),
      tool_(std::make_unique<Tool>()),
      pictures_(*this, [this](const QString& why) {
        Q_EMIT workspace_.message(tr("The plan could not be drawn: %1").arg(why), true);
      }) {
  setObjectName("plan");
  drawn_ = workspace_.project();
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_OpaquePaintEvent);
  start_ = new QPushButton(tr("Import…"), this);
  start_->setObjectName("startImport");
  start_->setCursor(Qt::ArrowCursor);
  start_->hide();
  connect(start_, &QPushButton::clicked, this, &PlanView::importWanted);
  entry_ = new QLineEdit(this);
  entry_->setObjectName("planEntry");
  entry_->hide();
  entry_->installEventFilter(this);
  connect(&workspace_, &Workspace::evaluationChanged, this, [this] {
    if (!fitted_ && hasPicture()) fit();
    requestPicture();
  });
  connect(&workspace_, &Workspace::projectChanged, this, [this] {
    // These are no part of an evaluation.
    const auto before = std::exchange(drawn_, workspace_.project());
    if (!fitted_ && before->sheets != drawn_->sheets) fit();
    if (before->labelLines != drawn_->labelLines || !(before->measures == drawn_->measures) ||
        before->sheets != drawn_->sheets || (showsSources() && before->sources != drawn_->sources))
      requestPicture();
    update();
  });
  connect(&workspace_, &Workspace::fileChanged, this, [this] {
    if (!hasPicture()) fitted_ = false;
  });
  connect(&workspace_, &Workspace::selectionChanged, this, [this] { requestPicture(); });
  connect(&workspace_, &Workspace::spillChanged, this, [this] { update(); });
  connect(&state_, &ViewState::changed, this, [this] { requestPicture(); });
  connect(&state_, &ViewState::sectionChanged, this, [this] { update(); });
  connect(&state_, &ViewState::pointed, this, [this] {
    if (!pointer_) update();
  });
  theme::dressed(this, [this] {
    start_->setIcon(theme::icon("import"));
    pictures_.forgetColours();
    requestPicture();
  });
}

PlanView::~PlanView() = default;

void PlanView::setTool(std::unique_ptr<Tool> tool) {
  const bool shown = showsSources();
  tool_ = std::move(tool);
  entry_->hide();
  if (showsSources() != shown) requestPicture();
  update();
}

void PlanView::coverTop(int pixels) {
  covered_ = pixels;
  update();
}

void PlanView::showCursor(Qt::CursorShape shape) {
  setCursor(shape);
}

// A line for what is typed, under the hint and what stands below it.
void PlanView::openEntry(const QString& start) {
  entry_->setGeometry(width() / 2 - 170, static_cast<int>(plateTop_), 340, 28);
  entry_->setText(start);
  entry_->show();
  entry_->setFocus();
}

void PlanView::fit() {
  plane::Box box;
  if (const auto* g = state_.shownGround()) box = g->tin->bounds();
  for (const auto& g : workspace_.project()->column) {
    for (const auto& w : g->works) box.add(works::boundsOf(w->shape));
  }
  if (!state_.shownGround()) {
    for (const auto& sheet : workspace_.project()->sheets) box.add(project::boundsOf(*sheet));
  }
  if (box.empty()) return;
  fitted_ = true;
  view_.size = size();
  view_.fit(box, 28);
  requestPicture();
}

void PlanView::showPlace(Vec2 p) {
  view_.centre = p;
  requestPicture();
}

bool PlanView::settled() const {
  return pictures_.settled() && workspace_.upToDate();
}

void PlanView::look(const ViewTransform& view) {
  view_.centre = view.centre, view_.scale = view.scale;
  fitted_ = true;
  requestPicture();
}

void PlanView::requestPicture() {
  update();
  Q_EMIT moved(view_);
  start_->setVisible(!hasPicture() && workspace_.project()->sources.empty() && !workspace_.readOnly());
  start_->move((width() - start_->sizeHint().width()) / 2, height() / 2 - 20);
  if (width() < 2 || height() < 2) return;
  view_.size = size();
  PlanRequest r;
  if (const auto* g = state_.shownGround()) r.shown = g->tin, r.pending = g->pending;
  r.beneath = state_.beneath();
  const Shown& shown = state_.shown();
  r.mode = shown.mode;
  r.lit = shown.lit;
  r.triangles = shown.triangles;
  r.contours = shown.contours;
  r.flow = shown.flow;
  r.worksLabels = shown.worksLabels;
  r.interval = shown.interval;
  r.greatestDepth = state_.greatestDepth();
  r.tolerance = shown.tolerance, r.steepness = shown.steepness;
  if (shown.mode == PlanMode::works && r.shown)
    r.tints = worksTints(*workspace_.evaluation(), state_.shownGround()->id);
  r.measures = workspace_.project()->measures;
  r.labelLines = workspace_.project()->labelLines;
  if (showsSources()) r.sources = workspace_.project()->sources;
  r.sheets = workspace_.project()->sheets;
  r.works = workspace_.worksShown();
  r.view = view_;
  r.window = view_.visible();
  r.view.size = QSizeF(std::round(width() * (1 + 2 * kPictureMargin)), std::round(height() * (1 + 2 * kPictureMargin)));
  r.pixelRatio = devicePixelRatioF();
  pictures_.ask(std::move(r));
}

Pointed PlanView::pointedAt(QPointF screen) {
  Pointed at{screen, screen, view_.toPlan(screen), false};
  const double reach = kSnapPixels / view_.scale;
  if (state_.shown().snapping && tool_->snaps()) {
    SnapQuery query{at.plan, reach, std::nullopt, tool_->notTo(), gridStep(view_.scale)};
    if (const auto lock = tool_->lockFrom()) query.from = lock->first;
    const auto& e = *workspace_.evaluation();
    const auto* survey = e.surveyed() ? e.surveyed()->tin.get() : nullptr;
    if (const auto p = snapped({*workspace_.project(), survey, workspace_.sheetContents().shown()},
                               state_.shown().snapKinds, query))
      at.plan = *p, at.snapped = true;
  }
  if (state_.shown().rightAngles && !at.snapped) {
    if (const auto lock = tool_->lockFrom()) {
      const auto [from, along] = *lock;
      const Vec2 d = at.plan - from, across{-along.y, along.x};
      const double a = plane::dot(d, along), b = plane::dot(d, across);
      at.plan = from + (std::abs(a) > std::abs(b) ? a * along : b * across);
    }
  }
  at.screen = view_.toScreen(at.plan);
  return at;
}

void PlanView::resizeEvent(QResizeEvent*) {
  view_.size = size();
  if (!fitted_ && hasPicture()) fit();
  requestPicture();
}

void PlanView::wheelEvent(QWheelEvent* event) {
  view_.zoom(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
  fitted_ = true;
  requestPicture();
}

void PlanView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const Pointed at = pointedAt(event->position());
  const bool drag = event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && !tool_->holds(at));
  if (event->button() == Qt::LeftButton) {
    pressed_ = true;
    tool_->press(at, event->modifiers());
  }
  if (drag) panFrom_ = event->position();
  if (drag && event->button() == Qt::MiddleButton) setCursor(Qt::ClosedHandCursor);
  update();
}

void PlanView::mouseMoveEvent(QMouseEvent* event) {
  if (panFrom_) {
    const QPointF d = event->position() - *panFrom_;
    panFrom_ = event->position();
    view_.centre = view_.centre - Vec2{d.x() / view_.scale, -d.y() / view_.scale};
    fitted_ = true;
    requestPicture();
  }
  pointer_ = pointedAt(event->position());
  if (!panFrom_) tool_->move(*pointer_, pressed_, event->modifiers());
  state_.point(pointer_->plan);
  update();
}

void PlanView::mouseReleaseEvent(QMouseEvent* event) {
  panFrom_.reset();
  unsetCursor();
  if (event->button() == Qt::LeftButton && pressed_) {
    pressed_ = false;
    tool_->release(pointedAt(event->position()));
  }
  update();
}

void PlanView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) tool_->doubleClick(pointedAt(event->position()));
  update();
}

// Whether the key begins a place or a level that is typed.
bool PlanView::startsEntry(const QKeyEvent& event) const {
  if (!tool_->wantsText() || event.text().isEmpty() || (event.modifiers() & (Qt::ControlModifier | Qt::AltModifier)))
    return false;
  const QChar c = event.text().front();
  return c.isDigit() || c == '+' || c == '-' || c == '=' || c == 'z' || c == 'Z';
}

// What the tool in hand understands is not taken for a command of the window.
bool PlanView::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    if (startsEntry(*key) || (key->modifiers() == Qt::NoModifier && tool_->ownsLetter(key->key()))) {
      event->accept();
      return true;
    }
  }
  return QWidget::event(event);
}

void PlanView::keyPressEvent(QKeyEvent* event) {
  if (tool_->key(event->key(), event->modifiers())) {
    update();
    return;
  }
  if (startsEntry(*event)) {
    openEntry(event->text());
    return;
  }
  if (!moveByKey(view_, event->key())) return QWidget::keyPressEvent(event);
  requestPicture();
}

// In the line for typing, Enter and Esc are its own: neither reaches the tool as a key.
bool PlanView::eventFilter(QObject* watched, QEvent* event) {
  if (watched != entry_ || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  const int key = static_cast<QKeyEvent*>(event)->key();
  if (key != Qt::Key_Escape && key != Qt::Key_Return && key != Qt::Key_Enter) return false;
  if (key != Qt::Key_Escape) {
    const QString wrong = tool_->typed(entry_->text());
    if (!wrong.isEmpty()) {
      Q_EMIT workspace_.message(wrong, true);
      return true;
    }
  }
  entry_->hide();
  setFocus();
  update();
  return true;
}

void PlanView::leaveEvent(QEvent*) {
  pointer_.reset();
  state_.point(std::nullopt);
  update();
}

void PlanView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::paper());
  pictures_.paint(painter, view_);
  painter.setRenderHint(QPainter::Antialiasing);
  plates_.assign(1, QRectF(10, height() - 40, 170, 30));  // the scale bar's
  paintSection(painter);                                  // names stand over it
  const auto use = covering();
  const project::Coverage* coverage = use ? &workspace_.coverage(*use) : nullptr;
  if (hasPicture()) {
    paintWorks(painter);
  } else if (!use) {
    paintEmpty(painter);
  }
  if (coverage) paintCoverage(painter, *coverage);
  paintStage(painter, *workspace_.project(), workspace_.chosenStage(), view_);
  paintDoubts(painter);
  const bool showSources = showsSources();
  if (showSources) paintFeatures(painter, *workspace_.project(), view_, workspace_.chosenFeatures());
  if (state_.shown().mode == PlanMode::depth) paintDepths(painter);
  tool_->paint(painter);
  plateTop_ = 12 + covered_;
  if (const QString hint = tool_->hint();
      !hint.isEmpty() && (hasPicture() || tool_->wantsText() || !workspace_.project()->sheets.empty()))
    paintPlate(painter, hint);
  if (showSources && state_.shown().snapping) paintSnapping(painter);
  if (coverage) paintPlate(painter, told(*use, *coverage));
  if (pointer_ && pointer_->snapped) {
    painter.setPen(QPen(theme::amber(), 2));
    painter.setBrush(Qt::NoBrush);
    const QPointF p = pointer_->screen;
    painter.drawPolygon(QPolygonF() << p + QPointF(0, -7) << p + QPointF(7, 0) << p + QPointF(0, 7)
                                    << p + QPointF(-7, 0));
  }
  paintFurniture(painter);
  paintLegend(painter);
}

// Depths as numbers where they are greatest, and on a grid of even coordinates, where there is any and no other words
// stand.
void PlanView::paintDepths(QPainter& painter) {
  const project::Between between = state_.depthsBetween();
  const project::Evaluation& e = *workspace_.evaluation();
  const auto *from = e.ground(between.from), *to = e.ground(between.to);
  if (!from || !to || !from->tin || !to->tin) return;
  // A chosen grid is kept far out, but for what has no room.
  const double chosen = state_.shown().depthSpacing, room = 45 / view_.scale;
  const double step = chosen > 0 ? chosen * std::max(1.0, std::ceil(0.7 * room / chosen)) : roundStep(room);
  const plane::Box box = view_.visible();
  const plane::Origin& o = workspace_.project()->origin;
  const Lit lit = state_.shown().lit;
  std::vector<QRectF> greatest;  // written whatever the grid
  const auto write = [&](Vec2 p, bool strong) {
    const auto a = from->levelAt(p), b = to->levelAt(p);
    if (!a || !b || std::abs(*b - *a) < 0.005) return;
    if (lit != Lit::all && (lit == Lit::fill) != (*b > *a)) return;
    const QString text = QString::fromStdString(report::depthText(*b - *a, lengths::measures()));
    // The greatest often lie at corners, where there are handles: above these.
    const QRectF at(view_.toScreen(p) - QPointF(40, strong ? 21 : 8), QSizeF(80, 16));
    QRectF letters = painter.fontMetrics().boundingRect(text);
    letters.moveCenter(at.center());
    const auto over = [&](const QRectF& plate) { return plate.intersects(letters); };
    if (std::any_of(plates_.begin(), plates_.end(), over) || std::any_of(greatest.begin(), greatest.end(), over))
      return;
    if (strong) greatest.push_back(letters);
    painter.setPen(theme::faded(theme::paper(), 200));
    for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
      painter.drawText(at.translated(d), Qt::AlignCenter, text);
    painter.setPen(theme::ink());
    painter.drawText(at, Qt::AlignCenter, text);
  };
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  font.setBold(true);
  painter.setFont(font);
  for (const Vec2 p : report::deepestPlaces(e, between.from, between.to)) {
    if (box.contains(p)) write(p, true);
  }
  font.setPixelSize(theme::pixels(10));
  font.setBold(false);
  painter.setFont(font);
  for (double n = std::ceil((box.minY + o.northing) / step) * step; n <= box.maxY + o.northing; n += step) {
    for (double x = std::ceil((box.minX + o.easting) / step) * step; x <= box.maxX + o.easting; x += step)
      write({x - o.easting, n - o.northing}, false);
  }
}

// The kept section lines, the section's line, and the place that is pointed at in it.
void PlanView::paintSection(QPainter& painter) {
  for (const project::SectionLine& kept : workspace_.project()->sectionLines) paintKeptLine(painter, kept, view_);
  if (!state_.hasSection()) return;
  paintSectionLine(painter, state_.sectionLine(), view_);
  if (pointer_ || !state_.pointer()) return;
  const QPointF p = view_.toScreen(*state_.pointer());
  painter.setPen(QPen(theme::ink(), 1.2));
  painter.setBrush(theme::amber());
  painter.drawEllipse(p, 5, 5);
}

// Words at the top right, clear of the north arrow, below those that stand there; in several lines where one has no
// room.
void PlanView::paintPlate(QPainter& painter, const QString& text) {
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  painter.setFont(font);
  constexpr int kHow = Qt::AlignRight | Qt::AlignTop | Qt::TextWordWrap;
  QRectF box = painter.fontMetrics().boundingRect(QRect(0, 0, std::max(120, width() - 80), 200), kHow, text);
  box.moveTopRight(QPointF(width() - 17, plateTop_));
  plateTop_ = box.bottom() + 12;
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), 215));
  painter.drawRoundedRect(box.adjusted(-6, -4, 6, 4), 3, 3);
  painter.setPen(theme::muted());
  painter.drawText(box, kHow, text);
}

// What is snapped to.
void PlanView::paintSnapping(QPainter& painter) {
  QString text = tr("Snap to %1").arg(state_.shown().snapKinds.text(gridStep(view_.scale)));
  if (state_.shown().rightAngles) text += tr(" · right angles");
  paintPlate(painter, text);
}

std::optional<project::AreaUse> PlanView::covering() const {
  const auto asked = tool_->covering();
  return asked ? asked : state_.shown().coverage;
}

// What is covered, tinted; what is left of the site, with its size; slivers and what is covered twice, marked.
void PlanView::paintCoverage(QPainter& painter, const project::Coverage& coverage) {
  using Kind = project::CoveragePart::Kind;
  const auto pathOf = [&](const plane::Polygon& polygon) {
    QPainterPath path;
    const auto add = [&](const plane::Ring& ring) {
      QPolygonF points;
      for (const Vec2 p : ring) points << view_.toScreen(p);
      path.addPolygon(points);
      path.closeSubpath();
    };
    add(polygon.outer);
    for (const plane::Ring& hole : polygon.holes) add(hole);
    return path;
  };
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::daylight(), 55));
  for (const plane::Polygon& area : coverage.areas) painter.drawPath(pathOf(area));
  for (const project::CoveragePart& part : coverage.parts) {
    const plane::Box box = plane::boundsOf(part.shape.outer);
    if (!box.overlaps(view_.visible())) continue;
    const QPointF at = view_.toScreen(part.at);
    const double pixels = std::sqrt(part.area) * view_.scale;
    if (part.kind != Kind::left) {
      painter.setPen(QPen(theme::error(), 1.6));
      painter.setBrush(QBrush(theme::faded(theme::error(), 120), Qt::BDiagPattern));
      painter.drawPath(pathOf(part.shape));
      painter.setBrush(Qt::NoBrush);
      if (pixels < 14) painter.drawEllipse(at, 9, 9);
    }
    if (part.kind == Kind::left && pixels < 40) continue;
    const QString size = lengths::area(part.area);
    const QString text = part.kind == Kind::left     ? tr("%1 left").arg(size)
                         : part.kind == Kind::sliver ? tr("sliver %1").arg(size)
                                                     : tr("%1 twice").arg(size);
    paintLabel(painter, text, at + QPointF(part.kind == Kind::left ? -40 : 12, -8), width());
  }
}

void PlanView::paintEmpty(QPainter& painter) {
  const auto& e = *workspace_.evaluation();
  QString text = tr("No ground yet");
  QString next =
      tr("Bring in the survey: points, breaklines and a boundary; or a plan sheet, a PDF or a scan.\nFiles can be "
         "dropped here.");
  if (!workspace_.project()->sources.empty()) {
    const bool wrong = e.surveyed() && !e.surveyed()->problem.empty();
    if (!wrong) text = tr("The ground is being built");
    next = wrong ? QString::fromStdString(e.surveyed()->problem) : QString();
  }
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(18));
  painter.setFont(font);
  painter.setPen(theme::ink());
  const QRect middle(40, height() / 2 - 110, width() - 80, 200);
  painter.drawText(middle, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, text);
  font.setPixelSize(theme::pixels(13));
  painter.setFont(font);
  painter.setPen(theme::muted());
  painter.drawText(middle.adjusted(0, 36, 0, 0), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, next);
}

// An arrow downhill from the middle, with how steep it is at its tip.
void PlanView::paintFall(QPainter& painter, const works::Shape& shape, const works::Fall& fall) {
  if (fall.percent <= 0) return;
  const QPointF from = view_.toScreen(fall.at), tip = view_.toScreen(works::fallTip(shape, fall));
  const double length = std::hypot(tip.x() - from.x(), tip.y() - from.y());
  if (length < 14) return;
  const QPointF along = (tip - from) / length, across(-along.y(), along.x());
  painter.setPen(QPen(theme::ink(), 1.4));
  painter.drawLine(from, tip);
  painter.setBrush(theme::ink());
  painter.drawPolygon(QPolygonF() << tip << tip - 8 * along + 3.2 * across << tip - 8 * along - 3.2 * across);
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  painter.setFont(font);
  const QString text = QString::fromStdString(formatNumber(fall.percent, 1)) + " %";
  QRectF box = painter.fontMetrics().boundingRect(QRect(0, 0, 200, 40), Qt::AlignCenter, text);
  box.moveCenter(tip + 0.5 * (box.width() + 14) * QPointF(along.x(), 0) +
                 (10 + 0.5 * box.height()) * QPointF(0, along.y()));
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), 190));
  plates_.push_back(box.adjusted(-4, -1, 4, 1));
  painter.drawRoundedRect(plates_.back(), 3, 3);
  painter.setPen(theme::ink());
  painter.drawText(box, Qt::AlignCenter, text);
}

void PlanView::paintWorks(QPainter& painter) {
  paintHachures(painter);
  const std::vector<project::PlacedWorks> shown = workspace_.worksShown();
  paintWorksLines(painter, shown, workspace_.chosenWorks(), view_);
  for (const project::PlacedWorks& w : shown) {
    const bool chosen = w.works->id == workspace_.chosenWorks();
    const auto fall = works::fallOf(w.works->shape, *w.placement);
    if (fall) paintFall(painter, w.works->shape, *fall);
    // Name and level in the middle.
    const QPointF middle = view_.toScreen(works::placeOf(w.works->shape));
    QString text = QString::fromStdString(w.works->name);
    auto level = works::levelOf(w.works->shape);
    for (const works::Figure& figure : w.placement->figures) {
      if (!level && figure.measure == works::Measure::level) level = figure.value;
    }
    if (level) text += "\n" + lengths::number(*level, 2);
    QFont font = painter.font();
    font.setPixelSize(theme::pixels(11));
    painter.setFont(font);
    QRectF box = painter.fontMetrics().boundingRect(QRect(0, 0, 400, 60), Qt::AlignCenter, text);
    // Handles leave no room beside the drawn outline.
    const double room = chosen ? works::boundsOf(w.works->shape).width() : w.placement->facets->bounds().width();
    if (room * view_.scale > box.width() + 10) {
      // Clear of the handle in the middle, and of the arrow of its fall.
      const bool above = fall && fall->bearing > 90 && fall->bearing < 270;
      const double aside = chosen ? 28 : fall ? 18 : 0;
      box.moveCenter(middle + QPointF(0, above ? -aside : aside));
      painter.setPen(Qt::NoPen);
      painter.setBrush(theme::faded(theme::paper(), 190));
      plates_.push_back(box.adjusted(-5, -2, 5, 2));
      painter.drawRoundedRect(plates_.back(), 3, 3);
      painter.setPen(theme::ink());
      painter.drawText(box, Qt::AlignCenter, text);
    }
  }
  paintWorksLabels(painter, pictures_.latest(), view_, plates_);
  paintSpill(painter);
}

// A drop where the water of the chosen pond leaves.
void PlanView::paintSpill(QPainter& painter) {
  if (!workspace_.spill()) return;
  const QPointF at = view_.toScreen(workspace_.spill()->at);
  QPainterPath drop(at);
  drop.cubicTo(at + QPointF(9, -12), at + QPointF(6, -18), at + QPointF(0, -18));
  drop.cubicTo(at + QPointF(-6, -18), at + QPointF(-9, -12), at);
  painter.setPen(QPen(theme::paper(), 1.5));
  painter.setBrush(theme::fill());
  painter.drawPath(drop);
  // Away from the pond and its handles.
  const auto placed = workspace_.project()->works(workspace_.chosenWorks());
  const QString text = tr("spills at %1").arg(lengths::number(workspace_.spill()->level, 2));
  const bool left = placed.ground && workspace_.spill()->at.x < works::middleOf(placed.works->shape).x;
  const double aside = left ? -14.0 - painter.fontMetrics().horizontalAdvance(text) : 14;
  paintLabel(painter, text, at + QPointF(aside, -20), width());
}

// As they were when the picture was drawn.
void PlanView::paintHachures(QPainter& painter) {
  for (const works::HachureStroke& s : pictures_.latest().hachures) {
    painter.setPen(QPen(s.cut ? theme::cut() : theme::fill(), s.isLong ? 1.0 : 0.8));
    painter.drawLine(view_.toScreen(s.top), view_.toScreen(s.end));
  }
}

void PlanView::paintDoubts(QPainter& painter) {
  for (const auto& g : workspace_.evaluation()->grounds) {
    for (const auto& d : g.doubts) {
      if (workspace_.project()->acceptance(d)) continue;
      const QPointF p = view_.toScreen(d.where);
      painter.setPen(QPen(theme::error(), 1.6));
      painter.setBrush(theme::faded(theme::paper(), 200));
      painter.drawEllipse(p, 7, 7);
      painter.drawText(QRectF(p.x() - 7, p.y() - 7, 14, 14), Qt::AlignCenter, "?");
    }
  }
}

void PlanView::paintFurniture(QPainter& painter) {
  if (!hasPicture()) return;
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  painter.setFont(font);
  // Scale bar: a round length near 120 pixels, bottom left.
  const double unit = lengths::inMetres();
  double length = std::pow(10, std::floor(std::log10(120 / (view_.scale * unit))));
  for (const double step : {5.0, 2.0}) {
    if (length * step * view_.scale * unit <= 150) {
      length *= step;
      break;
    }
  }
  const double w = length * unit * view_.scale;
  const QRectF plate(10, height() - 40, w + 20, 30);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), 215));
  painter.drawRoundedRect(plate, 3, 3);
  painter.setPen(QPen(theme::ink(), 1.4));
  const double y = height() - 17;
  painter.drawPolyline(QPolygonF() << QPointF(20, y - 5) << QPointF(20, y) << QPointF(20 + w, y)
                                   << QPointF(20 + w, y - 5));
  painter.drawText(QRectF(20, y - 20, w, 14), Qt::AlignCenter, QString("%1 %2").arg(length).arg(lengths::unit()));
  paintNorth(painter, {26, 34.0 + covered_});
}

void PlanView::paintLegend(QPainter& painter) {
  if (const auto legend = legend_.of(state_, pictures_.latest().greatestDepth)) legend->paint(painter, size());
}

}  // namespace inselberg::app
