// The program's window, driven with real events the way a user would.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QLineEdit>
#include <QMouseEvent>
#include <QProgressDialog>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <QToolButton>
#include <QWindow>
#include <catch2/catch.hpp>
#include <functional>

#include "base/quantity.h"
#include "column/column_panel.h"
#include "ledger/ledger_panel.h"
#include "plan/plan_view.h"
#include "report/ledger.h"
#include "support/figures.h"
#include "window/main_window.h"
#include "window/message_strip.h"

namespace inselberg::testing {

class Driver {
 public:
  static constexpr int kDialogLimit = 60000;  // ms

  Driver() {
    window.resize(1280, 800);
    window.show();
    waitFor([&] { return window.isVisible(); });
  }
  ~Driver() {
    window.workspace().discardRecovery();
    window.workspace().finishRecovery();
  }

  app::Workspace& workspace() { return window.workspace(); }
  const project::Project& project() { return *window.workspace().project(); }

  static bool waitFor(const std::function<bool()>& done, int milliseconds = 15000) {
    QElapsedTimer timer;
    timer.start();
    while (!done()) {
      if (timer.elapsed() > milliseconds) return false;
      QApplication::processEvents(QEventLoop::AllEvents, 10);
      QTest::qWait(2);
    }
    return true;
  }
  // Everything computed and drawn.
  void settle() {
    REQUIRE(waitFor([&] { return window.plan().settled() && window.secondPlan().settled(); }));
  }
  // A copy of the demo: the file itself may be open in the window of another test.
  void openDemo(const char* name = "tolwin.inselberg") {
    const std::string copy = scratch_ / name;
    std::filesystem::copy_file(demo(name), copy, std::filesystem::copy_options::overwrite_existing);
    REQUIRE(window.openProject(QString::fromStdString(copy)));
    settle();
  }

  report::Ledger ledger() { return report::ledgerOf(*workspace().evaluation()); }
  works::Works works(std::size_t i) { return *project().column.back()->works.at(i); }

  // Where a plan position is on the plan widget.
  QPoint at(plane::Vec2 p) { return window.plan().view().toScreen(p).toPoint(); }
  plane::Vec2 corner(std::size_t worksIndex, std::size_t k) { return works::outlineOf(works(worksIndex).shape).at(k); }
  plane::Vec2 inside(std::size_t worksIndex) {
    return plane::boundsOf(works::outlineOf(works(worksIndex).shape)).centre() + plane::Vec2{3, 6};
  }

  void clickPlan(QPoint p, Qt::KeyboardModifiers m = {}) {
    movePlan(p);
    QTest::mouseClick(&window.plan(), Qt::LeftButton, m, p);
  }
  void movePlan(QPoint p, Qt::MouseButtons buttons = {}) {
    QMouseEvent move(QEvent::MouseMove, p, window.plan().mapToGlobal(p), Qt::NoButton, buttons, Qt::NoModifier);
    QApplication::sendEvent(&window.plan(), &move);
  }
  // Press, a few moves, release; `during` is called before the release.
  void dragPlan(QPoint from, QPoint to, const std::function<void()>& during = {}) {
    movePlan(from);
    QTest::mousePress(&window.plan(), Qt::LeftButton, {}, from);
    constexpr int kSteps = 8;
    for (int i = 1; i <= kSteps; ++i) {
      movePlan(from + (to - from) * i / kSteps, Qt::LeftButton);
      QTest::qWait(5);
    }
    if (during) during();
    QTest::mouseRelease(&window.plan(), Qt::LeftButton, {}, to);
  }
  void key(Qt::Key k, Qt::KeyboardModifiers m = {}) { QTest::keyClick(&window.plan(), k, m); }
  // Types a level, a place or a length while a tool is in hand.
  void type(const QString& text) {
    QTest::keyClicks(&window.plan(), text.left(1));
    auto* entry = find<QLineEdit>("planEntry");
    REQUIRE(entry->isVisible());
    QTest::keyClicks(entry, text.mid(1));
    QTest::keyClick(entry, Qt::Key_Return);
  }
  // Runs an action by its name, as a menu would.
  void act(const char* id) {
    auto* action = window.findChild<QAction*>(id);
    REQUIRE(action);
    REQUIRE(action->isEnabled());
    action->trigger();
  }
  template <class Widget>
  Widget* find(const char* name) {
    auto* found = window.findChild<Widget*>(name);
    REQUIRE(found);
    return found;
  }
  // Once the next dialog is up and takes keys, calls `use` with it; what opens it runs until it is closed again. The
  // box that tells how far long work is comes up on a slow machine only: it is waited out. Where no such dialog comes,
  // the test fails, and what stands in the way is closed.
  template <class Dialog>
  void whenDialog(const std::function<void(Dialog&)>& use) {
    auto* timer = new QTimer(&window);
    QElapsedTimer waited;
    waited.start();
    QObject::connect(timer, &QTimer::timeout, &window, [timer, use, waited] {
      auto* up = QApplication::activeModalWidget();
      auto* dialog = qobject_cast<Dialog*>(up);
      if (qobject_cast<QProgressDialog*>(up)) dialog = nullptr;
      // Whatever else opens a window on this screen may have taken the keys.
      if (dialog && !dialog->isActiveWindow()) {
        dialog->activateWindow();
        dialog = nullptr;
      }
      if (!dialog && waited.elapsed() < kDialogLimit) return;
      timer->stop();
      timer->deleteLater();
      if (dialog) return use(*dialog);
      FAIL_CHECK("no " << Dialog::staticMetaObject.className() << ", but "
                       << (up ? up->metaObject()->className() : "no dialog"));
      if (up) up->close();
    });
    timer->start(20);
  }

 private:
  Scratch scratch_;  // outlives the window

 public:
  app::MainWindow window;
};

}  // namespace inselberg::testing
