// Files the window works on: shared with other windows and programs, reached by links, in folders that may not be used.
#include <sys/stat.h>

#include <QLabel>
#include <QMessageBox>
#include <filesystem>

#include "store/project_file.h"
#include "support/driver.h"

using namespace inselberg;
using namespace inselberg::testing;
namespace fs = std::filesystem;

namespace {

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

void press(QMessageBox& box, const char* label) {
  for (QAbstractButton* b : box.buttons()) {
    if (b->text().contains(label)) return QTest::mouseClick(b, Qt::LeftButton);
  }
  FAIL("no button " << label);
}

void rename(Driver& d, const char* name) {
  d.workspace().commit(project::withName(d.project(), name), "rename");
}

}  // namespace

TEST_CASE("Saving over a file that was changed on the disk asks first") {
  const Scratch s;
  fs::copy_file(demo("tolwin.inselberg"), s / "p.inselberg");
  Driver d;
  REQUIRE(d.window.openProject(text(s / "p.inselberg")));
  rename(d, "ours");
  CHECK_FALSE(d.workspace().changedOnDisk());
  auto theirs = project::withName(*store::open(s / "p.inselberg").project, "theirs");
  store::save(*theirs, s / "p.inselberg");
  CHECK(d.workspace().changedOnDisk());
  int asked = 0;
  d.whenDialog<QMessageBox>([&](QMessageBox& box) {
    ++asked;
    CHECK(box.text().contains("p.inselberg"));
    press(box, "Do not save");
  });
  d.act("save");
  CHECK(asked == 1);
  CHECK(store::open(s / "p.inselberg").project->name == "theirs");
  CHECK(d.workspace().unsaved());
  d.whenDialog<QMessageBox>([&](QMessageBox& box) {
    ++asked;
    press(box, "Save over");
  });
  d.act("save");
  CHECK(asked == 2);
  CHECK(store::open(s / "p.inselberg").project->name == "ours");
  rename(d, "again");
  d.act("save");  // ours as it was left: no question
  CHECK(store::open(s / "p.inselberg").project->name == "again");
}

TEST_CASE("A project opened by a link is the same project: read only in a second window, and saved where it lies") {
  const Scratch s;
  fs::copy_file(demo("tolwin.inselberg"), s / "p.inselberg");
  fs::create_symlink("p.inselberg", s / "link.inselberg");
  Driver first;
  REQUIRE(first.window.openProject(text(s / "link.inselberg")));
  CHECK_FALSE(first.workspace().readOnly());
  {
    Driver second;
    REQUIRE(second.window.openProject(text(s / "p.inselberg")));
    CHECK(second.workspace().readOnly());
    CHECK_FALSE(second.window.saveProject(text(s / "link.inselberg")));
  }
  rename(first, "through the link");
  first.act("save");
  CHECK(fs::is_symlink(s / "link.inselberg"));
  CHECK(store::open(s / "p.inselberg").project->name == "through the link");
  {
    // Still held after the file was replaced.
    Driver second;
    REQUIRE(second.window.openProject(text(s / "p.inselberg")));
    CHECK(second.workspace().readOnly());
  }
  // Opening it again by its other name keeps it.
  REQUIRE(first.window.openProject(text(s / "p.inselberg")));
  CHECK_FALSE(first.workspace().readOnly());
}

TEST_CASE("Without a place for recovery files work goes on, with one warning") {
  const Scratch s;
  const std::string before = qEnvironmentVariable("XDG_STATE_HOME").toStdString();
  s.file("occupied", "no folder");
  qputenv("XDG_STATE_HOME", QByteArray::fromStdString(s / "occupied"));
  {
    Driver d;
    auto* strip = d.window.findChild<app::MessageStrip*>();
    REQUIRE(d.waitFor([&] { return strip->text().contains("not kept against a crash"); }));
    fs::copy_file(demo("tolwin.inselberg"), s / "p.inselberg");
    REQUIRE(d.window.openProject(text(s / "p.inselberg")));
    CHECK_FALSE(d.workspace().readOnly());
    rename(d, "edited");
    d.window.offerRecovery();
    REQUIRE(d.window.saveProject(text(s / "mine.inselberg")));
    CHECK(store::open(s / "mine.inselberg").project->name == "edited");
  }
  qputenv("XDG_STATE_HOME", QByteArray::fromStdString(before));
}

TEST_CASE("What a damaged recovery file is called is told, and it stays") {
  const std::string folder = store::stateFolder(), file = folder + "/recovery-1-1-1.inselberg";
  std::ofstream(file) << "half of it";
  Driver d;
  d.window.offerRecovery();
  auto* strip = d.window.findChild<app::MessageStrip*>();
  CHECK(strip->text().contains("recovery-1-1-1.inselberg"));
  CHECK(fs::exists(file));
  fs::remove(file);
}

TEST_CASE("A message lies over the plan and moves nothing") {
  Driver d;
  d.openDemo();
  const QRect before = d.window.plan().geometry();
  const QPoint corner = d.at(d.corner(0, 0));
  Q_EMIT d.workspace().message("Something happened.", true);
  d.waitFor([&] { return d.window.findChild<app::MessageStrip*>()->isVisible(); });
  CHECK(d.window.plan().geometry() == before);
  CHECK(d.at(d.corner(0, 0)) == corner);
  CHECK(d.window.findChild<app::MessageStrip*>()->width() == before.width());
}

TEST_CASE("A balance that ends during a drag is set in after it, and neither edit is lost") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  const WorksId id = d.works(0).id;
  REQUIRE(d.workspace().chosenWorks() == id);
  const double before = works::levelOf(d.works(0).shape).value();
  const std::string name = d.project().sources[0]->name;
  // A source is dragged while the balance is looked for.
  project::SourceInfo info = *d.project().sources[0];
  info.name = "dragged";
  d.workspace().setTransient(project::withSourceInfo(d.project(), d.project().sources[0]->id, info));
  d.workspace().balance(id);
  QTest::qWait(50);
  Driver::waitFor([&] { return false; }, 1500);  // the balance has ended by now
  CHECK(d.project().sources[0]->name == "dragged");
  CHECK(works::levelOf(d.works(0).shape).value() == before);
  d.workspace().commitTransient("drag");
  REQUIRE(d.waitFor([&] { return works::levelOf(d.works(0).shape).value() != before; }));
  CHECK(d.project().sources[0]->name == "dragged");
  d.act("undo");
  CHECK(works::levelOf(d.works(0).shape).value() == before);
  CHECK(d.project().sources[0]->name == "dragged");
  d.act("undo");
  CHECK(d.project().sources[0]->name == name);
}

TEST_CASE("What is not measured stands in the ledger, the column's figures and on the card") {
  Driver d;
  d.openDemo();
  auto* label = d.find<QLabel>("ledgerUnmeasured");
  CHECK(label->isHidden());
  works::Works pad = d.works(0);
  plane::Ring ring = works::outlineOf(pad.shape);
  for (plane::Vec2& p : ring) p.x += 10'000;
  pad.shape = works::withOutline(pad.shape, ring);
  d.workspace().chooseWorks(pad.id);
  d.workspace().commit(project::withWorks(d.project(), pad), "move");
  REQUIRE(d.waitFor([&] { return d.workspace().upToDate(); }));
  CHECK(label->isVisible());
  CHECK(label->text().contains("not measured"));
  CHECK(d.find<QLabel>("worksUnmeasured")->text().contains("not measured"));
  CHECK(d.find<QLabel>("worksUnmeasured")->isVisible());
}

TEST_CASE("On a pad that is small on the screen the handles do not lie on each other") {
  Driver d;
  d.openDemo();
  d.clickPlan(d.at(d.inside(0)));
  for (int i = 0; i < 18; ++i) {
    const QPointF at = d.at(d.inside(0));
    QWheelEvent wheel(at, d.window.plan().mapToGlobal(at), {}, {0, -120}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&d.window.plan(), &wheel);
  }
  d.settle();
  const QPoint middle = d.at(plane::boundsOf(works::outlineOf(d.works(0).shape)).centre());
  REQUIRE(std::abs(d.at(d.corner(0, 0)).x() - d.at(d.corner(0, 2)).x()) < 40);
  // Dragging it moves the whole: no corner is caught.
  const plane::Ring before = works::outlineOf(d.works(0).shape);
  d.dragPlan(middle, middle + QPoint(30, 10));
  const plane::Ring after = works::outlineOf(d.works(0).shape);
  REQUIRE(after.size() == before.size());
  for (std::size_t i = 0; i < after.size(); ++i) {
    CHECK(after[i].x - before[i].x == Approx(after[0].x - before[0].x));
    CHECK(after[i].x != before[i].x);
  }
}
