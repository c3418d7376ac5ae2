#include "card/quantity_edit.h"

#include <QKeyEvent>
#include <QStyle>
#include <cmath>

#include "base/quantity.h"

namespace inselberg::app {

QuantityEdit::QuantityEdit(Kind kind, double step, QWidget* parent) : QLineEdit(parent), kind_(kind), step_(step) {
  setAlignment(Qt::AlignRight);
  setToolTip(kind == Kind::level
                 ? tr("Metres: 79.5, or a change: +0.25; 8 in, 2 ft and 350 mm work too. Arrow keys nudge.")
                 : tr("Horizontal to vertical: 2:1, or 33 %, or 26.6 deg. Arrow keys nudge."));
  connect(this, &QLineEdit::editingFinished, this, &QuantityEdit::take);
  connect(this, &QLineEdit::textEdited, this, [this] {
    setProperty("wrong", false);
    style()->polish(this);
  });
}

void QuantityEdit::setValue(double value) {
  value_ = value;
  if (!(hasFocus() && isModified())) show();
}

void QuantityEdit::show() {
  const std::string shown =
      kind_ == Kind::level ? formatNumber(value_, 3) + " m" : Slope::horizontalPerVertical(value_).text();
  setText(QString::fromStdString(shown));
  setModified(false);
  setProperty("wrong", false);
  style()->polish(this);
}

void QuantityEdit::take() {
  if (!isModified()) return;
  std::optional<double> typed;
  const std::string typedText = text().remove(QChar(' ')).toStdString();
  if (kind_ == Kind::level) {
    typed = parseLength(typedText, value_);
    if (typed && std::abs(*typed) > 1e5) typed.reset();
  } else if (const auto slope = parseSlope(typedText)) {
    typed = slope->run();
  }
  if (!typed) {
    setProperty("wrong", true);
    style()->polish(this);
    return;
  }
  const bool differs = *typed != value_;
  value_ = *typed;
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
  const double by = (event->key() == Qt::Key_Up ? 1 : -1) * step_ * (event->modifiers() & Qt::ShiftModifier ? 0.1 : 1);
  const double next = std::round((value_ + by) * 1e4) / 1e4;
  if (kind_ == Kind::slope && next < 0.05) return;
  value_ = next;
  show();
  Q_EMIT edited(value_);
}

}  // namespace inselberg::app
