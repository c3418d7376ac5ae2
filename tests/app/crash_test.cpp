// Killed at any moment, the program loses at most the last second, and never the saved file.
#include <QMessageBox>
#include <QProcess>
#include <QProcessEnvironment>
#include <chrono>
#include <random>

#include "store/project_file.h"
#include "store/recovery.h"
#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("Killed during edits, the work up to a second before is offered again") {
  for (const int after : {900, 1300, 1700}) {
    CAPTURE(after);
    const Scratch scratch;
    QProcess process;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("XDG_STATE_HOME", QString::fromStdString(scratch.path()));
    process.setProcessEnvironment(environment);
    process.start(INSELBERG_EDIT_LOOP, {"edit"});
    REQUIRE(process.waitForReadyRead());
    QByteArray told;
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < after) {
      process.waitForReadyRead(20);
      told += process.readAllStandardOutput();
    }
    const auto killed =
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now().time_since_epoch())
            .count();
    process.kill();  // SIGKILL
    process.waitForFinished();
    told += process.readAllStandardOutput();
    const auto found = store::abandoned(scratch / "inselberg").files;
    REQUIRE(found.size() == 1);
    const int kept = std::stoi(found[0].project->name);
    CAPTURE(kept);
    // The first edit that was not kept was made less than a second before the end.
    for (const QByteArray& line : told.split('\n')) {
      const auto parts = line.split(' ');
      if (parts.size() == 2 && parts[0].toInt() == kept + 1) CHECK(killed - parts[1].toLongLong() < 1000);
    }
    CHECK(found[0].project->sources.at(0)->data->points.size() == 2000);
  }
}

TEST_CASE("Killed during saves, the file is one of the two whole projects") {
  std::mt19937 random(6);
  for (int round = 0; round < 12; ++round) {
    CAPTURE(round);
    const Scratch scratch;
    QProcess process;
    process.start(INSELBERG_EDIT_LOOP, {"save", QString::fromStdString(scratch / "p.inselberg")});
    REQUIRE(process.waitForReadyRead());
    QTest::qSleep(static_cast<int>(random() % 120));
    process.kill();
    process.waitForFinished();
    const auto opened = store::open(scratch / "p.inselberg");
    const std::size_t points = opened.project->sources.at(0)->data->points.size();
    CHECK((points == 20000 || points == 26000));
  }
}

TEST_CASE("What a crash left behind is offered, taken up as unsaved work, and then gone from the list") {
  {
    // A recovery file whose holder is gone.
    store::Recovery recovery(store::stateFolder());
    recovery.keep(*project::emptyProject("Left behind"), "");
  }
  REQUIRE(store::abandoned(store::stateFolder()).files.size() == 1);
  Driver d;
  d.whenDialog<QMessageBox>([](QMessageBox& box) {
    CHECK(box.text().contains("Left behind"));
    for (QAbstractButton* b : box.buttons()) {
      if (b->text().contains("Take it up")) QTest::mouseClick(b, Qt::LeftButton);
    }
  });
  d.window.offerRecovery();
  CHECK(d.project().name == "Left behind");
  CHECK(d.workspace().unsaved());
  d.workspace().finishRecovery();
  CHECK(store::abandoned(store::stateFolder()).files.empty());  // ours now: held by this window
}
