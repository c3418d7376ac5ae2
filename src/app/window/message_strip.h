// A strip over the plan that says what happened and what to do; a plain one goes by itself, a wrong one stays.
#pragma once

#include <QFrame>

class QLabel;
class QTimer;

namespace inselberg::app {

class MessageStrip : public QFrame {
  Q_OBJECT

 public:
  explicit MessageStrip(QWidget* parent);
  void say(const QString& text, bool wrong);
  QString text() const;

 private:
  QLabel* label_;
  QTimer* timer_;
};

}  // namespace inselberg::app
