#include "jobs/long_work.h"

#include <QApplication>
#include <QEventLoop>
#include <QProgressDialog>
#include <QTimer>
#include <atomic>
#include <exception>
#include <thread>

namespace inselberg::app {
namespace {

// Keeps the user's hands off everything but the box that tells how far the work is.
class HandsOff : public QObject {
 public:
  explicit HandsOff(const QWidget* box) : box_(box) { qApp->installEventFilter(this); }
  ~HandsOff() override { qApp->removeEventFilter(this); }

  bool eventFilter(QObject* watched, QEvent* event) override {
    switch (event->type()) {
      case QEvent::MouseButtonPress:
      case QEvent::MouseButtonRelease:
      case QEvent::MouseButtonDblClick:
      case QEvent::Wheel:
      case QEvent::KeyPress:
      case QEvent::KeyRelease:
      case QEvent::Shortcut:
      case QEvent::ShortcutOverride:
      case QEvent::Drop:
      case QEvent::Close: {
        const auto* widget = qobject_cast<QWidget*>(watched);
        if (!widget || widget == box_ || box_->isAncestorOf(widget)) return false;
        if (event->type() == QEvent::Close) event->ignore();
        return true;
      }
      default:
        return false;
    }
  }

 private:
  const QWidget* box_;
};

}  // namespace

void doLongWork(QWidget* over, const QString& what, const std::function<void(const Progress&)>& work) {
  std::atomic<bool> stopped = false;
  std::atomic<int> done = 0;  // thousandths
  std::exception_ptr thrown;
  QProgressDialog box(what + "…", QObject::tr("Stop"), 0, 1000, over);
  box.setWindowTitle(QObject::tr("Inselberg"));
  box.setMinimumWidth(360);
  box.setWindowModality(Qt::WindowModal);
  box.setAutoClose(false);
  box.setAutoReset(false);
  box.setMinimumDuration(1 << 30);  // shown by hand, below
  QObject::connect(&box, &QProgressDialog::canceled, &box, [&] {
    stopped = true;
    box.setLabelText(QObject::tr("Stopping…"));
  });
  QEventLoop loop;
  std::thread thread([&] {
    try {
      work(Progress([&] { return stopped.load(); },
                    [&](std::string_view, double fraction) { done = static_cast<int>(1000 * fraction); }));
    } catch (...) {
      thrown = std::current_exception();
    }
    QMetaObject::invokeMethod(&loop, &QEventLoop::quit, Qt::QueuedConnection);
  });
  {
    const HandsOff handsOff(&box);
    QTimer show, look;
    show.setSingleShot(true);
    QObject::connect(&show, &QTimer::timeout, &box, [&] { box.show(); });
    QObject::connect(&look, &QTimer::timeout, &box, [&] { box.setValue(done); });
    show.start(300);
    look.start(100);
    loop.exec();
  }
  thread.join();
  box.hide();
  if (thrown) std::rethrow_exception(thrown);
}

}  // namespace inselberg::app
