#include "plan/plan_view.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QWheelEvent>
#include <cmath>
#include <numeric>
#include <utility>

#include "base/quantity.h"
#include "ground/steepness.h"
#include "plan/source_layer.h"
#include "theme/theme.h"
#include "tools/select_tool.h"

namespace inselberg::app {
namespace {

using plane::Vec2;
using plane::Vec3;

constexpr double kSnapPixels = 9;
constexpr double kPictureMargin = 0.2;  // of the view, on each side: room to pan into

QPolygonF screenLine(const std::vector<Vec3>& points, bool closed, const ViewTransform& view) {
  QPolygonF line;
  for (const Vec3& p : points) line << view.toScreen(p.plan());
  if (closed && !line.isEmpty()) line << line.front();
  return line;
}

}  // namespace

PlanView::PlanView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      tool_(std::make_unique<SelectTool>(*this)),
      renderer_(std::make_shared<PlanRenderer>()),
      worker_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this,
            [this, text = QString::fromUtf8(why.c_str())] {
              got_ = asked_;
              Q_EMIT workspace_.message(tr("The plan could not be drawn: %1").arg(text), true);
            },
            Qt::QueuedConnection);
      }) {
  setObjectName("plan");
  drawn_ = workspace_.project();
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_OpaquePaintEvent);
  start_ = new QPushButton(theme::icon("import"), tr("Import…"), this);
  start_->setObjectName("startImport");
  start_->setCursor(Qt::ArrowCursor);
  start_->hide();
  connect(start_, &QPushButton::clicked, this, &PlanView::importWanted);
  entry_ = new QLineEdit(this);
  entry_->setObjectName("planEntry");
  entry_->hide();
  entry_->installEventFilter(this);
  connect(&workspace_, &Workspace::evaluationChanged, this, [this] {
    greatestDepth_ = 0.5;
    for (const auto& seam : workspace_.evaluation()->seams) {
      if (seam.volume) greatestDepth_ = std::max({greatestDepth_, seam.volume->maxCut, seam.volume->maxFill});
    }
    if (!fitted_ && shownGround()) fit();
    requestPicture();
  });
  connect(&workspace_, &Workspace::projectChanged, this, [this] {
    // These are no part of an evaluation.
    const auto before = std::exchange(drawn_, workspace_.project());
    if (before->labelLines != drawn_->labelLines || (showsSources() && before->sources != drawn_->sources))
      requestPicture();
    update();
  });
  connect(&workspace_, &Workspace::fileChanged, this, [this] {
    if (!shownGround()) fitted_ = false;
  });
  connect(&workspace_, &Workspace::selectionChanged, this, [this] { requestPicture(); });
}

PlanView::~PlanView() = default;

void PlanView::setTool(std::unique_ptr<Tool> tool) {
  const bool shown = showsSources();
  tool_ = std::move(tool);
  entry_->hide();
  if (showsSources() != shown) requestPicture();
  update();
}

void PlanView::setMode(PlanMode mode) {
  mode_ = mode;
  requestPicture();
  Q_EMIT switchesChanged();
}

void PlanView::setLit(Lit part) {
  lit_ = part;
  requestPicture();
}

void PlanView::setTriangles(bool on) {
  triangles_ = on;
  requestPicture();
}

void PlanView::setContours(bool on) {
  contours_ = on;
  requestPicture();
}

void PlanView::setInterval(double interval) {
  interval_ = interval;
  requestPicture();
}

void PlanView::setSnapping(bool on) {
  snapping_ = on;
  Q_EMIT switchesChanged();
  update();
}

void PlanView::setRightAngles(bool on) {
  rightAngles_ = on;
  Q_EMIT switchesChanged();
  update();
}

void PlanView::setSnapKinds(const SnapKinds& kinds) {
  snapKinds_ = kinds;
  Q_EMIT switchesChanged();
  update();
}

void PlanView::setSources(bool on) {
  sources_ = on;
  requestPicture();
}

// A line for what is typed, under the hint.
void PlanView::openEntry(const QString& start) {
  entry_->setGeometry(width() / 2 - 170, 44, 340, 28);
  entry_->setText(start);
  entry_->show();
  entry_->setFocus();
}

const project::EvaluatedGround* PlanView::shownGround() const {
  const auto& e = *workspace_.evaluation();
  if (const auto* g = e.ground(workspace_.chosenGround()); g && g->tin) return g;
  for (auto it = e.grounds.rbegin(); it != e.grounds.rend(); ++it) {
    if (it->tin) return &*it;
  }
  return nullptr;
}

ground::TinPtr PlanView::beneathTin() const {
  const auto& e = *workspace_.evaluation();
  for (const project::Seam& seam : e.seams) {
    const auto* from = e.ground(seam.from);
    const auto* to = e.ground(seam.to);
    if (seam.to == workspace_.chosenGround() && from && to && to->tin) return from->tin;
  }
  return nullptr;
}

void PlanView::fit() {
  plane::Box box;
  if (const auto* g = shownGround()) box = g->tin->bounds();
  for (const auto& g : workspace_.project()->column) {
    for (const auto& w : g->works) box.add(works::boundsOf(w->shape));
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
  return asked_ == got_ && worker_.idle() && workspace_.upToDate();
}

void PlanView::requestPicture() {
  update();
  start_->setVisible(!shownGround() && workspace_.project()->sources.empty() && !workspace_.readOnly());
  start_->move((width() - start_->sizeHint().width()) / 2, height() / 2 - 20);
  if (width() < 2 || height() < 2) return;
  view_.size = size();
  PlanRequest r;
  if (const auto* g = shownGround()) r.shown = g->tin, r.pending = g->pending;
  r.beneath = beneathTin();
  r.mode = mode_;
  r.lit = lit_;
  r.triangles = triangles_;
  r.contours = contours_;
  r.interval = interval_;
  r.greatestDepth = greatestDepth_;
  r.labelLines = workspace_.project()->labelLines;
  if (showsSources()) r.sources = workspace_.project()->sources;
  r.view = view_;
  r.view.size = QSizeF(std::round(width() * (1 + 2 * kPictureMargin)), std::round(height() * (1 + 2 * kPictureMargin)));
  r.pixelRatio = devicePixelRatioF();
  const std::uint64_t number = ++asked_;
  worker_.post([this, r, number, renderer = renderer_](const Worker::Token& token) {
    try {
      PlanPicture picture = renderer->render(r, Progress([&] { return token.leaving(); }));
      QMetaObject::invokeMethod(
          this,
          [this, picture = std::move(picture), number] {
            picture_ = picture;
            got_ = number;
            update();
          },
          Qt::QueuedConnection);
    } catch (const Cancelled&) {
    }
  });
}

Pointed PlanView::pointedAt(QPointF screen) {
  Pointed at{screen, view_.toPlan(screen), false};
  const double reach = kSnapPixels / view_.scale;
  if (snapping_ && tool_->snaps()) {
    SnapQuery query{at.plan, reach, std::nullopt, tool_->notTo(), gridStep(view_.scale)};
    if (const auto lock = tool_->lockFrom()) query.from = lock->first;
    const auto& e = *workspace_.evaluation();
    const auto* survey = e.surveyed() ? e.surveyed()->tin.get() : nullptr;
    if (const auto p = snapped(*workspace_.project(), survey, snapKinds_, query)) at.plan = *p, at.snapped = true;
  }
  if (rightAngles_ && !at.snapped) {
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
  if (!fitted_ && shownGround()) fit();
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
  Q_EMIT pointed(pointer_->plan, true);
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

void PlanView::keyPressEvent(QKeyEvent* event) {
  if (tool_->key(event->key(), event->modifiers())) {
    update();
    return;
  }
  if (tool_->wantsText() && !event->text().isEmpty() &&
      !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier))) {
    const QChar c = event->text().front();
    if (c.isDigit() || c == '+' || c == '-' || c == 'z' || c == 'Z') {
      openEntry(event->text());
      return;
    }
  }
  const double step = 60 / view_.scale;
  switch (event->key()) {
    case Qt::Key_Left:
      view_.centre.x -= step;
      break;
    case Qt::Key_Right:
      view_.centre.x += step;
      break;
    case Qt::Key_Up:
      view_.centre.y += step;
      break;
    case Qt::Key_Down:
      view_.centre.y -= step;
      break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      view_.zoom(1.25, rect().center());
      break;
    case Qt::Key_Minus:
      view_.zoom(0.8, rect().center());
      break;
    default:
      QWidget::keyPressEvent(event);
      return;
  }
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
  Q_EMIT pointed({}, false);
  update();
}

void PlanView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::paper);
  if (!picture_.image.isNull()) {
    const QPointF a = view_.toScreen(picture_.view.toPlan({0, 0}));
    const QPointF b = view_.toScreen(picture_.view.toPlan({picture_.view.size.width(), picture_.view.size.height()}));
    painter.drawImage(QRectF(a, b), picture_.image);
  }
  painter.setRenderHint(QPainter::Antialiasing);
  if (!shownGround()) {
    paintEmpty(painter);
  } else {
    paintWorks(painter);
    paintDoubts(painter);
  }
  const bool showSources = showsSources();
  if (showSources) paintFeatures(painter, *workspace_.project(), view_, workspace_.chosenFeatures());
  tool_->paint(painter);
  paintHint(painter);
  if (showSources && snapping_) paintSnapping(painter);
  if (pointer_ && pointer_->snapped) {
    painter.setPen(QPen(theme::amber, 2));
    painter.setBrush(Qt::NoBrush);
    const QPointF p = pointer_->screen;
    painter.drawPolygon(QPolygonF() << p + QPointF(0, -7) << p + QPointF(7, 0) << p + QPointF(0, 7)
                                    << p + QPointF(-7, 0));
  }
  paintFurniture(painter);
  paintLegend(painter);
}

// What is snapped to, top right.
void PlanView::paintSnapping(QPainter& painter) {
  QString text = tr("Snap to %1").arg(snapKinds_.text(gridStep(view_.scale)));
  if (rightAngles_) text += tr(" · right angles");
  QFont font = painter.font();
  font.setPixelSize(11);
  painter.setFont(font);
  QRectF box = painter.fontMetrics().boundingRect(text);
  box.moveTopRight(QPointF(width() - 17, 36));
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(247, 244, 238, 215));
  painter.drawRoundedRect(box.adjusted(-6, -4, 6, 4), 3, 3);
  painter.setPen(theme::muted);
  painter.drawText(box, Qt::AlignCenter, text);
}

void PlanView::paintEmpty(QPainter& painter) {
  const auto& e = *workspace_.evaluation();
  QString text = tr("No ground yet");
  QString next = tr("Bring in the survey: points, breaklines and a boundary.\nFiles can be dropped here.");
  if (!workspace_.project()->sources.empty()) {
    const bool wrong = e.surveyed() && !e.surveyed()->problem.empty();
    if (!wrong) text = tr("The ground is being built");
    next = wrong ? QString::fromStdString(e.surveyed()->problem) : QString();
  }
  QFont font = painter.font();
  font.setPixelSize(18);
  painter.setFont(font);
  painter.setPen(theme::ink);
  const QRect middle(40, height() / 2 - 110, width() - 80, 200);
  painter.drawText(middle, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, text);
  font.setPixelSize(13);
  painter.setFont(font);
  painter.setPen(theme::muted);
  painter.drawText(middle.adjusted(0, 36, 0, 0), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, next);
}

void PlanView::paintWorks(QPainter& painter) {
  const auto& e = *workspace_.evaluation();
  // Works of the grounds up to the one on show.
  for (const auto& g : e.grounds) {
    for (const auto& w : g.works) {
      const bool chosen = w.works->id == workspace_.chosenWorks();
      paintHachures(painter, w);
      painter.setBrush(Qt::NoBrush);
      painter.setPen(QPen(theme::daylight, 1.2));
      for (const auto& line : w.placement->daylight) painter.drawPolyline(screenLine(line.points, line.closed, view_));
      painter.setPen(QPen(theme::error, 2, Qt::DotLine));
      for (const auto& line : w.placement->ends) painter.drawPolyline(screenLine(line.points, line.closed, view_));
      painter.setPen(QPen(chosen ? theme::amber : theme::ink, chosen ? 2.4 : 1.5));
      for (const auto& line : w.placement->crests) painter.drawPolyline(screenLine(line.points, line.closed, view_));
      // Name and level in the middle.
      const QPointF middle = view_.toScreen(works::placeOf(w.works->shape));
      QString text = QString::fromStdString(w.works->name);
      if (const auto level = works::levelOf(w.works->shape))
        text += "\n" + QString::fromStdString(formatNumber(*level, 2));
      QFont font = painter.font();
      font.setPixelSize(11);
      painter.setFont(font);
      QRectF box = painter.fontMetrics().boundingRect(QRect(0, 0, 400, 60), Qt::AlignCenter, text);
      if (works::boundsOf(w.works->shape).width() * view_.scale > box.width() + 10) {
        box.moveCenter(middle + QPointF(0, chosen ? 26 : 0));
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(247, 244, 238, 190));
        painter.drawRoundedRect(box.adjusted(-5, -2, 5, 2), 3, 3);
        painter.setPen(theme::ink);
        painter.drawText(box, Qt::AlignCenter, text);
      }
    }
    if (g.id == workspace_.chosenGround()) break;
  }
}

// What to do next, on a plate at the top right.
void PlanView::paintHint(QPainter& painter) {
  if (!shownGround()) return;
  QFont font = painter.font();
  font.setPixelSize(11);
  painter.setFont(font);
  const QString text = painter.fontMetrics().elidedText(tool_->hint(), Qt::ElideRight, width() - 40);
  QRectF box = painter.fontMetrics().boundingRect(text);
  box = QRectF(width() - box.width() - 26, 8, box.width() + 18, 20);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(247, 244, 238, 215));
  painter.drawRoundedRect(box, 3, 3);
  painter.setPen(theme::muted.darker(120));
  painter.drawText(box, Qt::AlignCenter, text);
}

// Strokes are kept while the works, the scale (nearly) and the area stay the same, so that panning draws lines only.
void PlanView::paintHachures(QPainter& painter, const project::PlacedWorks& works) {
  Hachures& kept = hachures_[works.works->id];
  const plane::Box visible = view_.visible();
  const bool fits =
      kept.area.contains({visible.minX, visible.minY}) && kept.area.contains({visible.maxX, visible.maxY});
  if (kept.of != works.placement || !fits || kept.scale < 0.8 * view_.scale || kept.scale > 1.25 * view_.scale) {
    kept = {works.placement, view_.scale, visible.grown(std::max(visible.width(), visible.height()) / 2), {}};
    kept.strokes = hachuresOf(works, kept.scale, kept.area);
  }
  for (const HachureStroke& s : kept.strokes) {
    painter.setPen(QPen(s.cut ? theme::cut : theme::fill, s.isLong ? 1.0 : 0.8));
    painter.drawLine(view_.toScreen(s.top), view_.toScreen(s.end));
  }
}

void PlanView::paintDoubts(QPainter& painter) {
  for (const auto& g : workspace_.evaluation()->grounds) {
    for (const auto& d : g.doubts) {
      if (workspace_.project()->acceptance(d)) continue;
      const QPointF p = view_.toScreen(d.where);
      painter.setPen(QPen(theme::error, 1.6));
      painter.setBrush(QColor(255, 255, 255, 200));
      painter.drawEllipse(p, 7, 7);
      painter.drawText(QRectF(p.x() - 7, p.y() - 7, 14, 14), Qt::AlignCenter, "?");
    }
  }
}

void PlanView::paintFurniture(QPainter& painter) {
  if (!shownGround()) return;
  QFont font = painter.font();
  font.setPixelSize(11);
  painter.setFont(font);
  // Scale bar: a round length near 120 pixels, bottom left.
  double length = std::pow(10, std::floor(std::log10(120 / view_.scale)));
  for (const double step : {5.0, 2.0}) {
    if (length * step * view_.scale <= 150) {
      length *= step;
      break;
    }
  }
  const double w = length * view_.scale;
  const QRectF plate(10, height() - 40, w + 20, 30);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(247, 244, 238, 215));
  painter.drawRoundedRect(plate, 3, 3);
  painter.setPen(QPen(theme::ink, 1.4));
  const double y = height() - 17;
  painter.drawPolyline(QPolygonF() << QPointF(20, y - 5) << QPointF(20, y) << QPointF(20 + w, y)
                                   << QPointF(20 + w, y - 5));
  painter.drawText(QRectF(20, y - 20, w, 14), Qt::AlignCenter, QString("%1 m").arg(length));
  // North arrow, top left.
  painter.save();
  painter.translate(26, 34);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(247, 244, 238, 215));
  painter.drawEllipse(QPointF(0, 0), 17, 17);
  painter.setBrush(theme::ink);
  painter.drawPolygon(QPolygonF() << QPointF(0, -13) << QPointF(5, 9) << QPointF(0, 5));
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::ink, 1));
  painter.drawPolygon(QPolygonF() << QPointF(0, -13) << QPointF(-5, 9) << QPointF(0, 5));
  painter.restore();
}

// What the colours mean, bottom right, with the values between them, so that it reads without colour.
void PlanView::paintLegend(QPainter& painter) {
  const auto* shown = shownGround();
  if (!shown) return;
  const auto number = [](double v, int decimals) { return QString::fromStdString(formatNumber(v, decimals)); };
  struct {
    std::vector<QColor> cells;
    QStringList between;  // one more than cells; may be empty texts
    QStringList above;    // none, or one for each cell
    QString left, right;
    QColor leftInk = theme::ink, rightInk = theme::ink;
    int zero = -1;  // a mark between cells
  } legend;
  int cell = 30;
  switch (mode_) {
    case PlanMode::relief:
      return;
    case PlanMode::depth: {
      if (!beneathTin()) return;
      const double band = depthBand(greatestDepth_);
      const int bands = std::clamp(static_cast<int>(std::ceil(greatestDepth_ / band - 1e-9)), 1, 8);
      for (int i = -bands; i <= bands; ++i) {
        if (i < bands) legend.cells.push_back(theme::depthColour((i + 0.5) * band, greatestDepth_));
        legend.between << number(std::abs(i * band), band < 0.1 ? 2 : 1);
      }
      legend.zero = bands;
      legend.left = tr("cut, m"), legend.right = tr("fill, m");
      legend.leftInk = theme::cut, legend.rightInk = theme::fill;
      break;
    }
    case PlanMode::levels: {
      const auto beneath = beneathTin();
      const LevelBands bands = levelBands(beneath ? *beneath : *shown->tin);
      for (int i = 0; i <= bands.count; ++i) {
        if (i < bands.count) legend.cells.push_back(theme::levelColour(bands.along(i)));
        legend.between << number(bands.lowest + i * bands.step, bands.step < 0.1 ? 2 : bands.step < 1 ? 1 : 0);
      }
      legend.left = tr("level, m");
      break;
    }
    case PlanMode::steepness: {
      cell = 44;
      if (steepnessOf_ != shown->tin) {
        steepnessOf_ = shown->tin;
        steepness_ = ground::areaBySteepness(*shown->tin, kSteepness);
      }
      const double all = std::max(1e-9, std::accumulate(steepness_.begin(), steepness_.end(), 0.0));
      for (std::size_t i = 0; i <= kSteepness.size(); ++i) {
        legend.cells.push_back(theme::steepnessColour(static_cast<double>(i) / kSteepness.size()));
        const double share = 100 * steepness_[i] / all;
        legend.above << (share > 0 && share < 0.5 ? tr("<1 %") : tr("%1 %").arg(number(share, 0)));
        legend.between << (i == 0 ? QString() : tr("%1 %").arg(number(100 * kSteepness[i - 1], 0)));
      }
      legend.between << QString();
      legend.left = tr("steepness, and its share of the ground");
      break;
    }
  }
  QFont font = painter.font();
  font.setPixelSize(11);
  painter.setFont(font);
  const int n = static_cast<int>(legend.cells.size());
  const int top = legend.above.isEmpty() ? 18 : 32;
  const double across = std::max(n * cell + 30, painter.fontMetrics().horizontalAdvance(legend.left) + 30);
  const QRectF plate(width() - across - 10, height() - top - 36, across, top + 26);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(247, 244, 238, 230));
  painter.drawRoundedRect(plate, 3, 3);
  for (int i = 0; i <= n; ++i) {
    const QRectF box(plate.left() + 15 + i * cell, plate.top() + top, cell, 10);
    if (i < n) {
      painter.setPen(QPen(theme::rule, 0.5));
      painter.setBrush(legend.cells[static_cast<std::size_t>(i)]);
      painter.drawRect(box);
    }
    painter.setPen(theme::ink);
    if (i < legend.above.size())
      painter.drawText(QRectF(box.left(), box.top() - 15, cell, 14), Qt::AlignCenter, legend.above[i]);
    if (i == legend.zero) painter.drawLine(box.topLeft() - QPointF(0, 2), box.bottomLeft() + QPointF(0, 2));
    painter.drawText(QRectF(box.left() - 22, box.bottom() + 1, 44, 13), Qt::AlignCenter, legend.between[i]);
  }
  const QRectF head(plate.left() + 15, plate.top() + 2, across - 30, 15);
  painter.setPen(legend.leftInk);
  painter.drawText(head, Qt::AlignLeft | Qt::AlignVCenter, legend.left);
  painter.setPen(legend.rightInk);
  painter.drawText(head, Qt::AlignRight | Qt::AlignVCenter, legend.right);
}

}  // namespace inselberg::app
