// Work the user waits for: the window lives on, hands are held off, it can be stopped.
#include <QProgressDialog>
#include <QThread>
#include <thread>

#include "base/error.h"
#include "jobs/long_work.h"
#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("While long work is done the window lives, and clicks and keys do nothing") {
  Driver d;
  d.openDemo();
  int ticks = 0;
  QTimer timer;
  QObject::connect(&timer, &QTimer::timeout, [&] { ++ticks; });
  timer.start(10);
  QTimer::singleShot(60, [&] {
    QTest::keyClick(&d.window.plan(), Qt::Key_D);
    QTest::mouseClick(d.find<QToolButton>("ledgerPull"), Qt::LeftButton);
    CHECK_FALSE(d.window.close());
  });
  const QThread* window = QThread::currentThread();
  d.workspace().doLong("Testing", [&](const Progress& progress) {
    CHECK(QThread::currentThread() != window);
    for (int i = 0; i < 20; ++i) {
      std::this_thread::sleep_for(std::chrono::milliseconds(10));
      progress.report("testing", i / 20.0);
    }
  });
  CHECK(ticks >= 8);
  CHECK(d.window.view().shown().mode == app::PlanMode::relief);
  CHECK_FALSE(d.window.ledger().isOpen());
  CHECK(d.window.isVisible());
  // Afterwards they are taken again.
  QTest::mouseClick(d.find<QToolButton>("ledgerPull"), Qt::LeftButton);
  CHECK(d.window.ledger().isOpen());
}

TEST_CASE("What is computed meanwhile comes after long work, which sees the grounds as they were") {
  Driver d;
  d.openDemo("depot.inselberg");
  auto raised = d.works(0);
  raised.shape = works::atLevel(raised.shape, *works::levelOf(raised.shape) + 1);
  d.workspace().commit(project::withWorks(d.project(), raised), "raise it");
  const project::EvaluationPtr before = d.workspace().evaluation();
  REQUIRE(before->project != d.workspace().project());
  bool same = true;
  d.workspace().doLong("Testing", [&](const Progress&) {
    for (int i = 0; i < 300; ++i) {
      std::this_thread::sleep_for(std::chrono::milliseconds(10));
      same &= d.workspace().evaluation() == before;
    }
  });
  CHECK(same);
  d.settle();
  CHECK(d.workspace().evaluation() != before);
  // So is a level that was looked for, also when the work is stopped.
  d.workspace().balance(d.works(0).id);
  const auto now = d.workspace().project();
  CHECK_THROWS_AS(d.workspace().doLong("Testing",
                                       [&](const Progress&) {
                                         for (int i = 0; i < 300; ++i) {
                                           std::this_thread::sleep_for(std::chrono::milliseconds(10));
                                           same &= d.workspace().project() == now;
                                         }
                                         throw Cancelled();
                                       }),
                  Cancelled);
  CHECK(same);
  CHECK(Driver::waitFor([&] { return d.workspace().project() != now; }));
}

TEST_CASE("A box tells how far long work is, and stops it") {
  Driver d;
  bool told = false;
  QTimer look;
  QObject::connect(&look, &QTimer::timeout, [&] {
    auto* box = d.window.findChild<QProgressDialog*>();
    if (!box || !box->isVisible() || box->value() < 400) return;
    CHECK(box->labelText() == "Testing…");
    told = true;
    box->findChild<QPushButton*>()->click();
  });
  look.start(20);
  const auto work = [](const Progress& progress) {
    for (int i = 0; i < 500; ++i) {
      std::this_thread::sleep_for(std::chrono::milliseconds(10));
      progress.report("testing", 0.5);
    }
  };
  CHECK_THROWS_AS(d.workspace().doLong("Testing", work), Cancelled);
  CHECK(told);
  CHECK_FALSE(d.window.findChild<QProgressDialog*>());
}

TEST_CASE("What long work throws comes out where it was asked for") {
  Driver d;
  CHECK_THROWS_WITH(d.workspace().doLong("Testing", [](const Progress&) { throw Error("it broke", "mend it"); }),
                    "it broke; mend it");
  CHECK(d.window.guarded([&] { d.workspace().doLong("Testing", [](const Progress&) {}); }));
  CHECK_FALSE(d.window.guarded([&] { d.workspace().doLong("Testing", [](const Progress&) { throw Cancelled(); }); }));
  CHECK(d.window.messages().text().contains("Stopped"));
}
