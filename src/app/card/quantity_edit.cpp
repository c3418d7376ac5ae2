#include "card/quantity_edit.h"

#include <QKeyEvent>
#include <QStyle>
#include <cmath>

#include "base/error.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QString howToType(works::Measure measure) {
  switch (measure) {
    case works::Measure::slope:
      return QuantityEdit::tr("Horizontal to vertical: 2:1, or 33 %, or 26.6 deg. Arrow keys nudge.");
    case works::Measure::volume:
      return lengths::measures().imperial ? QuantityEdit::tr("Cubic yards: 450; 350 m3 works too. Arrow keys nudge.")
                                          : QuantityEdit::tr("Cubic metres: 350; 450 yd3 works too. Arrow keys nudge.");
    case works::Measure::percent:
      return QuantityEdit::tr("Percent, positive downwards: 2.5. Arrow keys nudge.");
    case works::Measure::bearing:
      return QuantityEdit::tr("Degrees clockwise from north: 135. Arrow keys nudge.");
    default:
      return lengths::measures().imperial
                 ? QuantityEdit::tr(
                       "Feet: 260.5, or a change: +0.5; 8 in, 5 ft 3 in and 1.2 m work too. Arrow keys "
                       "nudge.")
                 : QuantityEdit::tr(
                       "Metres: 79.5, or a change: +0.25; 8 in, 5 ft 3 in and 350 mm work too. Arrow keys nudge.");
  }
}

}  // namespace

QuantityEdit::QuantityEdit(works::Field field, QWidget* parent) : QLineEdit(parent), field_(std::move(field)) {
  setAlignment(Qt::AlignRight);
  connect(this, &QLineEdit::editingFinished, this, &QuantityEdit::take);
  connect(this, &QLineEdit::textEdited, this, [this] { setWrong(false); });
}

void QuantityEdit::setValue(double value) {
  value_ = value;
  if (!(hasFocus() && isModified())) show();
}

void QuantityEdit::setWrong(bool wrong) {
  setProperty("wrong", wrong);
  style()->polish(this);
}

void QuantityEdit::show() {
  const QString how = howToType(field_.measure);
  setToolTip(field_.meaning.empty() ? how : QString::fromStdString(field_.meaning) + "\n" + how);
  setText(QString::fromStdString(works::shown(field_, value_, lengths::measures())));
  setModified(false);
  setWrong(false);
}

void QuantityEdit::take() {
  if (!isModified()) return;
  double typed = value_;
  try {
    typed = std::get<double>(works::parsed(field_, text().toStdString(), value_, lengths::measures()));
  } catch (const Error& e) {
    setWrong(true);
    Q_EMIT refused(QString::fromUtf8(e.what()));
    return;
  }
  const bool differs = typed != value_;
  value_ = typed;
  show();
  if (differs) Q_EMIT edited(value_);
}

void QuantityEdit::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape && isModified()) {
    show();
    return;
  }
  if (event->key() != Qt::Key_Up && event->key() != Qt::Key_Down) {
    QLineEdit::keyPressEvent(event);
    return;
  }
  take();
  if (property("wrong").toBool()) return;
  const double unit = isLength(field_.measure) ? lengths::inMetres() : 1;
  const double step = (isLength(field_.measure) ? lengths::nudge(field_.step) : field_.step) *
                      (event->modifiers() & Qt::ShiftModifier ? 0.1 : 1);
  const double next = std::round((value_ + (event->key() == Qt::Key_Up ? step : -step)) / unit * 1e4) / 1e4 * unit;
  if (works::wrong(field_, next)) return;
  value_ = next;
  show();
  Q_EMIT edited(value_);
}

}  // namespace inselberg::app
