// A strip over the top of a view that says what happened and what to do; a plain one goes by itself, a wrong one stays.
// It lies over the view, so that nothing moves under the pointer.
#pragma once

#include <QFrame>

class QLabel;
class QTimer;

namespace inselberg::app {

class MessageStrip : public QFrame {
  Q_OBJECT

 public:
  explicit MessageStrip(QWidget* over);
  void say(const QString& text, bool wrong);
  QString text() const;

 signals:
  // How many pixels of the view's top lie under it now.
  void covers(int height);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void layOver();

  QLabel* label_;
  QTimer* timer_;
};

}  // namespace inselberg::app
