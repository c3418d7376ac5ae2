// The list of commands, and what is made from it.
#include <QClipboard>
#include <QLineEdit>
#include <QMenuBar>
#include <QTreeWidget>
#include <cstdlib>
#include <fstream>
#include <set>

#include "support/driver.h"
#include "window/command_finder.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// The ids of the commands that are found, best first.
std::vector<std::string> found(const app::Commands& commands, const QString& typed) {
  std::vector<std::pair<int, std::string>> answers;
  for (const app::Command& c : commands) {
    if (const int r = app::rank(c, typed); r > 0) answers.emplace_back(-r, c.id.toStdString());
  }
  std::stable_sort(answers.begin(), answers.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<std::string> ids;
  for (const auto& [r, id] : answers) ids.push_back(id);
  return ids;
}

}  // namespace

TEST_CASE("Every command stands in a menu and behind its button, has other words, and a key of its own") {
  Driver d;
  std::set<QString> ids, keys;
  const auto* menus = d.window.findChild<QMenuBar*>();
  std::set<const QAction*> inMenus, onButtons;
  for (const QAction* menu : menus->actions()) {
    for (const QAction* action : menu->menu()->actions()) inMenus.insert(action);
  }
  for (const auto* button : d.window.findChildren<QToolButton*>()) {
    if (button->defaultAction()) onButtons.insert(button->defaultAction());
    if (!button->menu()) continue;
    for (const QAction* action : button->menu()->actions()) onButtons.insert(action);
  }
  for (const app::Command& c : d.window.commands()) {
    CAPTURE(c.id.toStdString());
    CHECK(ids.insert(c.id).second);
    CHECK_FALSE(c.text.isEmpty());
    CHECK_FALSE(c.words.isEmpty());
    CHECK(std::count_if(std::begin(app::kMenus), std::end(app::kMenus),
                        [&](const char* m) { return QLatin1String(m) == QLatin1String(c.menu); }) == 1);
    if (!c.key.isEmpty()) CHECK(keys.insert(c.key.toString()).second);
    const auto* action = d.window.findChild<QAction*>(c.id);
    REQUIRE(action);
    CHECK(action->shortcut() == c.key);
    CHECK(inMenus.count(action) == 1);
    if (!*c.step) continue;
    // A list that says what each is for has entries of its own.
    const auto* entry = d.window.findChild<QAction*>("list-" + c.id);
    CHECK(onButtons.count(c.says.isEmpty() ? action : entry) == 1);
    if (entry) CHECK(entry->text() == c.brief + "\t" + c.says);
  }
}

TEST_CASE("The guide's page of keys is that of the list of commands") {
  Driver d;
  const std::string path = std::string(INSELBERG_SOURCE_DIR) + "/docs/keys.md";
  const std::string page = app::keysPage(d.window.commands()).toStdString();
  if (std::getenv("INSELBERG_WRITE_KEYS")) std::ofstream(path) << page;
  CHECK(contentOf(path) == page);
}

TEST_CASE("Commands are found by name, by place, and by the other words people use") {
  Driver d;
  const app::Commands& all = d.window.commands();
  const auto first = [&](const char* typed) {
    const auto ids = found(all, typed);
    return ids.empty() ? std::string("nothing") : ids.front();
  };
  CHECK(first("depth map") == "depth");
  CHECK(first("slope") == "slope");
  CHECK(first("undo") == "undo");
  CHECK(first("flip") == "mendSwap");
  CHECK(first("elevation") == "levels");
  CHECK(first("export landxml") == "exportGround");
  CHECK(first("epsg") == "system");
  CHECK(first("tin") != "nothing");
  CHECK(first("Balance") == "balance");
  CHECK(first("platform") == "draw-pad");
  CHECK(first("ortho") == "rightAngles");
  CHECK(first("ground to draw") == "newGround");
  CHECK(first("qwertz") == "nothing");
  CHECK(first("depth qwertz") == "nothing");
  const auto holds = [&](const char* typed, const char* id) {
    const auto ids = found(all, typed);
    return std::find(ids.begin(), ids.end(), id) != ids.end();
  };
  // By its menu, its step and its button; by a word in any place of its name.
  CHECK(found(all, "mend").size() == 4);
  CHECK(holds("volume", "ledger"));
  CHECK(holds("volume", "depth"));
  CHECK(holds("grounds", "freeze"));
  CHECK(holds("gather", "drawVoid"));
  CHECK(holds("slope", "steepness"));
  CHECK(found(all, "").size() == all.size());
}

TEST_CASE("Ctrl+K tells the key and the place of a command, and runs it") {
  Driver d;
  d.openDemo();
  d.whenDialog<app::CommandFinder>([&](app::CommandFinder& finder) {
    auto* field = finder.findChild<QLineEdit*>();
    auto* list = finder.findChild<QTreeWidget*>();
    // The best answers on top.
    QTest::keyClicks(field, "slope");
    const auto answers = found(d.window.commands(), "slope");
    REQUIRE(list->topLevelItemCount() == static_cast<int>(answers.size()));
    for (int i = 0; i < list->topLevelItemCount(); ++i)
      CHECK(list->topLevelItem(i)->data(0, Qt::UserRole).toString().toStdString() ==
            answers[static_cast<std::size_t>(i)]);
    field->clear();
    QTest::keyClicks(field, "isopach");
    REQUIRE(list->topLevelItemCount() == 1);
    CHECK(list->topLevelItem(0)->text(0) == "Depth map");
    CHECK(list->topLevelItem(0)->text(1) == "D");
    CHECK(list->topLevelItem(0)->text(2) == "menu View; step Measure");
    field->clear();
    QTest::keyClicks(field, "redo");
    // What cannot be done now is shown, and not run.
    CHECK(list->topLevelItem(0)->isDisabled());
    field->clear();
    QTest::keyClicks(field, "mend");
    CHECK(list->topLevelItem(0)->text(2) == "menu Survey; step Ground › Mend");
    field->clear();
    QTest::keyClicks(field, "depth");
    QTest::keyClick(field, Qt::Key_Return);
  });
  d.act("find");
  CHECK(d.window.view().shown().mode == app::PlanMode::depth);
  d.act("copyLedger");
  CHECK(QApplication::clipboard()->text().contains("Silo pad"));
}
