#include "card/section_drawing.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "base/error.h"
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

// What may be typed over (works::typedOver).
QString numbersOf(const Leg& leg, bool cut) {
  switch (leg.kind) {
    case Leg::Kind::out:
      return QString("%1 %2, %3 %").arg(length(leg.width), lengths::unit(), number(leg.fall));
    case Leg::Kind::by:
      return QString("%1 %2, %3:1").arg(length(leg.height), lengths::unit(), number(leg.slope));
    case Leg::Kind::toLevel:
      return QString("%1, %2:1").arg(length(leg.level), number(leg.slope));
    case Leg::Kind::toGround:
      break;
  }
  return number(cut ? leg.cut : leg.fill) + ":1";
}

// With what it is, where the line does not say so.
QString textOf(const Leg& leg, bool cut) {
  const QString numbers = numbersOf(leg, cut);
  if (leg.kind == Leg::Kind::toLevel) return QObject::tr("to %1").arg(numbers);
  if (leg.kind == Leg::Kind::toGround) return (cut ? QObject::tr("cut %1") : QObject::tr("fill %1")).arg(numbers);
  return numbers;
}

// Whether a line from p to q comes into a rectangle.
bool crosses(const QRectF& place, QPointF p, QPointF q) {
  if (place.contains(p) || place.contains(q)) return true;
  const QPointF corners[] = {place.topLeft(), place.topRight(), place.bottomRight(), place.bottomLeft()};
  for (int i = 0; i < 4; ++i) {
    if (QLineF(p, q).intersects({corners[i], corners[(i + 1) % 4]}, nullptr) == QLineF::BoundedIntersection)
      return true;
  }
  return false;
}

}  // namespace

SectionDrawing::SectionDrawing(QWidget* parent) : QWidget(parent) {
  setMinimumSize(320, 200);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName("sectionDrawing");
  entry_ = new QLineEdit(this);
  entry_->setObjectName("legEntry");
  entry_->installEventFilter(this);
  entry_->hide();
}

void SectionDrawing::setSection(const works::Section& section) {
  if (section.size() != section_.size()) entry_->hide();
  section_ = section;
  if (chosen_.leg >= section_.size()) chosen_ = {section_.empty() ? 0 : section_.size() - 1, false};
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
  chosen_ = {before, false};
}

std::vector<SectionDrawing::Words> SectionDrawing::words() const {
  std::vector<Words> all;
  const auto add = [&](std::size_t leg, bool cut, auto&& placed) {
    const QString text = textOf(section_[leg], cut);
    const QSizeF size(fontMetrics().horizontalAdvance(text) + 8, fontMetrics().height() + 2);
    all.push_back({{leg, cut}, text, placed(size)});
  };
  for (std::size_t i = 0; i < section_.size(); ++i) {
    if (section_[i].kind != Leg::Kind::toGround) continue;
    for (const bool cut : {true, false})
      add(i, cut, [&](QSizeF size) { return QRectF(endOf(i, cut) + QPointF(8, -size.height() / 2), size); });
  }
  // Of other legs near their middle, where no leg runs through them, and clear of each other.
  const auto clear = [&](const QRectF& place) {
    for (std::size_t i = 0; i < section_.size(); ++i) {
      for (const bool cut : {false, true}) {
        if (crosses(place, toScreen(startOf(i)), endOf(i, cut))) return false;
      }
    }
    return std::none_of(all.begin(), all.end(), [&](const Words& w) { return w.place.intersects(place); });
  };
  for (std::size_t i = 0; i < section_.size(); ++i) {
    if (section_[i].kind == Leg::Kind::toGround) continue;
    const QPointF middle = 0.5 * (toScreen(startOf(i)) + endOf(i));
    add(i, false, [&](QSizeF size) {
      QRectF place;
      for (double aside = 18; aside < 110; aside += 18) {
        for (const double way : {-1.0, 1.0}) {
          place = {middle + QPointF(-size.width() / 2, way * aside - size.height() / 2), size};
          if (rect().contains(place.toAlignedRect()) && clear(place)) return place;
        }
      }
      return place;
    });
  }
  std::ranges::stable_sort(all, {}, [](const Words& w) { return w.of.leg; });
  return all;
}

QRectF SectionDrawing::wordsOf(std::size_t leg, bool cut) const {
  for (const Words& w : words()) {
    if (w.of == Grip{leg, cut}) return w.place;
  }
  return {};
}

std::optional<SectionDrawing::Grip> SectionDrawing::wordsAt(QPointF p) const {
  for (const Words& w : words()) {
    if (w.place.contains(p)) return w.of;
  }
  return std::nullopt;
}

void SectionDrawing::type(Grip of, const QString& start) {
  chosen_ = of;
  const QRectF place = wordsOf(of.leg, of.cut);
  const QSize size(std::max(110, static_cast<int>(place.width()) + 24), entry_->sizeHint().height());
  const QPoint at = place.center().toPoint() - QPoint(size.width() / 2, size.height() / 2);
  entry_->setGeometry(QRect(
      QPoint(std::clamp(at.x(), 0, width() - size.width()), std::clamp(at.y(), 0, height() - size.height())), size));
  entry_->setText(start.isEmpty() ? numbersOf(section_[of.leg], of.cut) : start);
  if (start.isEmpty()) entry_->selectAll();
  entry_->show();
  entry_->setFocus();
  update();
}

bool SectionDrawing::takeTyped() {
  Leg& leg = section_.at(chosen_.leg);
  try {
    const Leg typed = works::typedOver(leg, entry_->text().toStdString(), chosen_.cut, lengths::inMetres());
    // What is shown is rounded: untouched, it changes nothing.
    if (entry_->text() != numbersOf(leg, chosen_.cut)) leg = typed;
  } catch (const Error& e) {
    Q_EMIT mistyped(lengths::told(e.what()));
    return false;
  }
  return true;
}

void SectionDrawing::stopTyping() {
  entry_->hide();
  setFocus();
}

// To the numbers written after these, or before.
void SectionDrawing::typeNext(int step) {
  const std::vector<Words> all = words();
  const auto now = std::find_if(all.begin(), all.end(), [&](const Words& w) { return w.of == chosen_; });
  const auto n = static_cast<std::ptrdiff_t>(all.size());
  if (now != all.end()) type(all[static_cast<std::size_t>((now - all.begin() + step + n) % n)].of);
}

bool SectionDrawing::eventFilter(QObject* watched, QEvent* event) {
  if (watched != entry_) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::FocusOut && entry_->isVisible()) {
    const auto why = static_cast<QFocusEvent*>(event)->reason();
    if (why == Qt::PopupFocusReason || why == Qt::ActiveWindowFocusReason) return false;
    if (takeTyped()) Q_EMIT released();
    entry_->hide();
    return false;
  }
  if (event->type() != QEvent::KeyPress) return false;
  const int key = static_cast<QKeyEvent*>(event)->key();
  if (key == Qt::Key_Escape) {
    entry_->setText(numbersOf(section_.at(chosen_.leg), chosen_.cut));
    stopTyping();
    return true;
  }
  const bool next = key == Qt::Key_Tab || key == Qt::Key_Backtab;
  if (!next && key != Qt::Key_Return && key != Qt::Key_Enter) return false;
  if (!takeTyped()) return true;
  fit();
  Q_EMIT released();
  next ? typeNext(key == Qt::Key_Tab ? 1 : -1) : stopTyping();
  return true;
}

void SectionDrawing::mousePressEvent(QMouseEvent* event) {
  setFocus();
  held_ = gripAt(event->position());
  const auto words = wordsAt(event->position());
  if (held_) {
    chosen_ = *held_;
    before_ = section_;
  } else if (words) {
    type(*words);
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
    const bool grip = gripAt(event->position()).has_value();
    pointed_ = grip ? std::nullopt : wordsAt(event->position());
    setCursor(grip ? Qt::SizeAllCursor : pointed_ ? Qt::IBeamCursor : Qt::CrossCursor);
    update();
  }
}

void SectionDrawing::leaveEvent(QEvent*) {
  pointed_.reset();
  update();
}

void SectionDrawing::mouseReleaseEvent(QMouseEvent*) {
  if (!held_) return;
  held_.reset();
  fit();
  update();
  Q_EMIT released();
}

void SectionDrawing::keyPressEvent(QKeyEvent* event) {
  if (held_ && event->key() == Qt::Key_Escape) {
    held_.reset();
    setSection(works::Section(before_));
    Q_EMIT givenUp();
    return;
  }
  if (held_ || section_.empty()) return QWidget::keyPressEvent(event);
  const QString typed = event->text();
  if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) {
    section_.erase(section_.begin() + static_cast<std::ptrdiff_t>(chosen_.leg));
    setSection(works::Section(section_));
    Q_EMIT released();
  } else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    type(chosen_);
  } else if (!typed.isEmpty() && (typed[0].isDigit() || typed[0] == '-')) {
    type(chosen_, typed);
  } else {
    QWidget::keyPressEvent(event);
  }
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
    const bool chosen = i == chosen_.leg && hasFocus();
    if (leg.kind == Leg::Kind::toGround) {
      const QPointF up = endOf(i, true);
      painter.setPen(QPen(theme::cut(), 2));
      painter.drawLine(from, up);
      painter.setPen(QPen(theme::fill(), 2));
      painter.drawLine(from, to);
      grip(up, chosen);
    } else {
      painter.setPen(QPen(theme::ink(), 2));
      painter.drawLine(from, to);
    }
    grip(to, chosen);
  }
  for (const Words& w : words()) {
    const bool batter = section_[w.of.leg].kind == Leg::Kind::toGround;
    const QPointF middle = 0.5 * (toScreen(startOf(w.of.leg)) + endOf(w.of.leg));
    if (!batter && std::abs(middle.y() - w.place.center().y()) > 20) {  // which leg it is of
      painter.setPen(QPen(theme::muted(), 0.8));
      painter.drawLine(middle, {middle.x(), middle.y() > w.place.bottom() ? w.place.bottom() : w.place.top()});
    }
    if (pointed_ == w.of) {
      painter.setPen(QPen(theme::amber(), 1));
      painter.setBrush(theme::paper());
      painter.drawRoundedRect(w.place, 3, 3);
    }
    painter.setPen(!batter ? theme::ink() : w.of.cut ? theme::cut() : theme::fill());
    painter.drawText(w.place, Qt::AlignCenter, w.text);
  }
  if (section_.empty()) {
    painter.setPen(theme::muted());
    painter.drawText(rect(), Qt::AlignCenter, tr("A wall. Click where its first leg ends."));
  }
}

}  // namespace inselberg::app
