#include "window/message_strip.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QStyle>
#include <QTimer>
#include <QToolButton>

namespace inselberg::app {

MessageStrip::MessageStrip(QWidget* over) : QFrame(over), label_(new QLabel(this)), timer_(new QTimer(this)) {
  setObjectName("messageStrip");
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(12, 4, 4, 4);
  label_->setWordWrap(true);
  label_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  layout->addWidget(label_, 1);
  auto* close = new QToolButton(this);
  close->setText(tr("Close"));
  layout->addWidget(close, 0, Qt::AlignTop);
  connect(close, &QToolButton::clicked, this, &QWidget::hide);
  timer_->setSingleShot(true);
  connect(timer_, &QTimer::timeout, this, &QWidget::hide);
  setCursor(Qt::ArrowCursor);
  over->installEventFilter(this);
  hide();
}

void MessageStrip::layOver() {
  const int width = parentWidget()->width();
  setGeometry(0, 0, width, heightForWidth(width));
  raise();
  Q_EMIT covers(height());
}

void MessageStrip::hideEvent(QHideEvent* event) {
  QFrame::hideEvent(event);
  Q_EMIT covers(0);
}

bool MessageStrip::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize && isVisibleTo(parentWidget())) layOver();
  return QFrame::eventFilter(watched, event);
}

void MessageStrip::say(const QString& text, bool wrong) {
  label_->setText(text);
  setProperty("wrong", wrong);
  style()->polish(this);
  wrong ? timer_->stop() : timer_->start(8000);
  layOver();
  show();
}

QString MessageStrip::text() const {
  return isVisible() ? label_->text() : QString();
}

}  // namespace inselberg::app
