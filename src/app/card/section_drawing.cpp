#include "card/section_drawing.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using works::Leg;

constexpr double kBatter = 2.5;  // m of height that a batter is drawn with
constexpr double kLevel = 1;     // and a leg to a level, whose height depends on the crest
constexpr int kNear = 10;        // pixels

double rounded(double value, double step) {
  return std::round(value / step) * step;
}

QString number(double value) {
  return QString::number(value, 'g', 6);
}

QString length(double metres) {
  return number(std::round(lengths::inUnit(metres) * 1000) / 1000);
}

// To 5 cm, or a fifth of a foot.
double roundedLength(double metres) {
  return rounded(metres, lengths::nudge(0.05));
}

QString textOf(const Leg& leg) {
  switch (leg.kind) {
    case Leg::Kind::out:
      return QObject::tr("%1 %2, %3 %").arg(length(leg.width), lengths::unit(), number(leg.fall));
    case Leg::Kind::by:
      return QObject::tr("%1 %2, %3:1").arg(length(leg.height), lengths::unit(), number(leg.slope));
    case Leg::Kind::toLevel:
      return QObject::tr("to %1, %2:1").arg(length(leg.level), number(leg.slope));
    default:
      return {};
  }
}

}  // namespace

SectionDrawing::SectionDrawing(QWidget* parent) : QWidget(parent) {
  setMinimumSize(320, 200);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName("sectionDrawing");
}

void SectionDrawing::setSection(const works::Section& section) {
  section_ = section;
  chosen_ = std::min(chosen_, section_.empty() ? 0 : section_.size() - 1);
  if (!held_) fit();
  update();
}

void SectionDrawing::setGround(std::vector<QPolygonF> ground, const QString& where) {
  ground_ = std::move(ground), where_ = where;
  update();
}

QPointF SectionDrawing::endInMetres(std::size_t i, bool cut) const {
  const QPointF from = startOf(i);
  const Leg& leg = section_[i];
  switch (leg.kind) {
    case Leg::Kind::out:
      return from + QPointF(leg.width, -leg.fall / 100 * leg.width);
    case Leg::Kind::by:
      return from + QPointF(std::abs(leg.height) * leg.slope, leg.height);
    case Leg::Kind::toLevel:
      return from + QPointF(kLevel * leg.slope, kLevel);
    default:
      return from + (cut ? QPointF(kBatter * leg.cut, kBatter) : QPointF(kBatter * leg.fill, -kBatter));
  }
}

QPointF SectionDrawing::startOf(std::size_t leg) const {
  QPointF at(0, 0);
  for (std::size_t i = 0; i < leg; ++i) at = endInMetres(i, false);
  return at;
}

QPointF SectionDrawing::toScreen(QPointF m) const {
  return {originX_ + scale_ * m.x(), originY_ - scale_ * m.y()};
}

QPointF SectionDrawing::toMetres(QPointF s) const {
  return {(s.x() - originX_) / scale_, (originY_ - s.y()) / scale_};
}

QPointF SectionDrawing::endOf(std::size_t leg, bool cut) const {
  return toScreen(endInMetres(leg, cut));
}

void SectionDrawing::fit() {
  double right = 4, top = 1, bottom = -1;
  for (std::size_t i = 0; i < section_.size(); ++i) {
    for (const bool cut : {false, true}) {
      const QPointF end = endInMetres(i, cut);
      right = std::max(right, end.x()), top = std::max(top, end.y()), bottom = std::min(bottom, end.y());
    }
  }
  scale_ = std::min((width() - 110) / right, (height() - 50) / (top - bottom));
  originX_ = 50;
  originY_ = 25 + scale_ * top + ((height() - 50) - scale_ * (top - bottom)) / 2;
}

std::optional<SectionDrawing::Grip> SectionDrawing::gripAt(QPointF p) const {
  for (std::size_t i = section_.size(); i-- > 0;) {
    for (const bool cut : {false, true}) {
      if (cut && section_[i].kind != Leg::Kind::toGround) continue;
      const QPointF d = endOf(i, cut) - p;
      if (std::hypot(d.x(), d.y()) < kNear) return Grip{i, cut};
    }
  }
  return std::nullopt;
}

void SectionDrawing::dragTo(QPointF m) {
  Leg& leg = section_[held_->leg];
  const QPointF d = m - startOf(held_->leg);
  const double out = std::max(d.x(), 0.05);
  const auto slope = [&](double rise) {
    return std::clamp(rounded(out / std::max(std::abs(rise), 0.05), 0.05), 0.05, 50.0);
  };
  switch (leg.kind) {
    case Leg::Kind::out:
      leg.width = roundedLength(out);
      leg.fall = rounded(-100 * d.y() / out, 0.5);
      break;
    case Leg::Kind::by:
      leg.slope = slope(d.y());
      leg.height = roundedLength(d.y());
      break;
    case Leg::Kind::toLevel:
      leg.slope = slope(d.y());
      break;
    case Leg::Kind::toGround:
      (held_->cut ? leg.cut : leg.fill) = slope(d.y());
      break;
  }
}

// A flat one is a width, a steep one a height.
void SectionDrawing::addLeg(QPointF m) {
  const bool batter = works::endsInBatter(section_);
  const std::size_t before = section_.size() - (batter ? 1 : 0);
  const QPointF d = m - startOf(before);
  if (d.x() < 0.05) return;
  Leg leg;
  if (std::abs(d.y()) < 0.15 * d.x()) {
    leg.kind = Leg::Kind::out;
    leg.width = roundedLength(d.x()), leg.fall = rounded(-100 * d.y() / d.x(), 0.5);
  } else {
    leg.kind = Leg::Kind::by;
    leg.height = roundedLength(d.y()), leg.slope = std::max(0.05, rounded(d.x() / std::abs(d.y()), 0.05));
  }
  section_.insert(section_.begin() + static_cast<std::ptrdiff_t>(before), leg);
  chosen_ = before;
}

void SectionDrawing::mousePressEvent(QMouseEvent* event) {
  setFocus();
  held_ = gripAt(event->position());
  if (held_) {
    chosen_ = held_->leg;
  } else if (event->button() == Qt::LeftButton) {
    const std::size_t before = section_.size();
    addLeg(toMetres(event->position()));
    if (section_.size() != before) {
      fit();
      Q_EMIT released();
    }
  }
  update();
}

void SectionDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (held_) {
    dragTo(toMetres(event->position()));
    Q_EMIT dragged();
    update();
  } else {
    setCursor(gripAt(event->position()) ? Qt::SizeAllCursor : Qt::CrossCursor);
  }
}

void SectionDrawing::mouseReleaseEvent(QMouseEvent*) {
  if (!held_) return;
  held_.reset();
  fit();
  update();
  Q_EMIT released();
}

void SectionDrawing::keyPressEvent(QKeyEvent* event) {
  if ((event->key() != Qt::Key_Delete && event->key() != Qt::Key_Backspace) || chosen_ >= section_.size()) {
    QWidget::keyPressEvent(event);
    return;
  }
  section_.erase(section_.begin() + static_cast<std::ptrdiff_t>(chosen_));
  setSection(works::Section(section_));
  Q_EMIT released();
}

void SectionDrawing::paintGround(QPainter& painter) const {
  painter.setPen(QPen(theme::granite(), 1.6));
  painter.setBrush(Qt::NoBrush);
  for (const QPolygonF& line : ground_) {
    QPolygonF shown;
    for (const QPointF p : line) shown << toScreen(p);
    painter.drawPolyline(shown);
  }
  if (ground_.empty()) return;
  painter.setPen(theme::granite());
  painter.drawText(rect().adjusted(8, 6, -8, -6), Qt::AlignRight | Qt::AlignBottom, where_);
}

void SectionDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme::paper());
  painter.setPen(QPen(theme::rule(), 1));
  painter.drawRect(rect().adjusted(0, 0, -1, -1));
  paintGround(painter);
  const QPointF crest = toScreen({0, 0});
  painter.setPen(QPen(theme::muted(), 1, Qt::DashLine));
  painter.drawLine(QPointF(crest.x(), 8), QPointF(crest.x(), height() - 8));
  painter.drawText(QPointF(6, crest.y() - 6), tr("crest"));
  painter.setPen(QPen(theme::ink(), 2));
  painter.drawLine(QPointF(4, crest.y()), crest);
  const auto grip = [&](QPointF at, bool chosen) {
    painter.setPen(QPen(theme::ink(), 1.2));
    painter.setBrush(chosen ? theme::amber() : theme::paper());
    painter.drawRect(QRectF(at - QPointF(4, 4), QSizeF(8, 8)));
  };
  for (std::size_t i = 0; i < section_.size(); ++i) {
    const Leg& leg = section_[i];
    const QPointF from = toScreen(startOf(i)), to = endOf(i);
    const bool chosen = i == chosen_ && hasFocus();
    if (leg.kind == Leg::Kind::toGround) {
      const QPointF up = endOf(i, true);
      painter.setPen(QPen(theme::cut(), 2));
      painter.drawLine(from, up);
      painter.drawText(up + QPointF(8, 4), tr("cut %1:1").arg(number(leg.cut)));
      painter.setPen(QPen(theme::fill(), 2));
      painter.drawLine(from, to);
      painter.drawText(to + QPointF(8, 4), tr("fill %1:1").arg(number(leg.fill)));
      grip(up, chosen);
    } else {
      painter.setPen(QPen(theme::ink(), 2));
      painter.drawLine(from, to);
      painter.setPen(theme::ink());
      // Above and below by turns, so that short legs leave room for each other's words.
      painter.drawText(0.5 * (from + to) + QPointF(-28, i % 2 == 0 ? -12 : 22), textOf(leg));
    }
    grip(to, chosen);
  }
  if (section_.empty()) {
    painter.setPen(theme::muted());
    painter.drawText(rect(), Qt::AlignCenter, tr("A wall. Click where its first leg ends."));
  }
}

}  // namespace inselberg::app
