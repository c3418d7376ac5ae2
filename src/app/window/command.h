// A command: what it is called, where it stands, and what it does. Menus, the step bar, the finder and the page of keys
// in the guide are made from the list of them.
#pragma once

#include <QKeySequence>
#include <QObject>
#include <QString>
#include <functional>
#include <vector>

namespace inselberg::app {

class MainWindow;

// For the texts of commands.
inline QString tr(const char* text) {
  return QObject::tr(text);
}

struct Command {
  QString id;
  QString text;             // in its menu
  const char* menu = "";    // one of kMenus
  bool begins = false;      // a group of its menu
  const char* step = "";    // one of kSteps it has a button in; else none
  const char* button = "";  // the button there that opens a list with it; else it has its own
  QString brief = {};       // on its own button, and in a list that says what each is for; else the text
  QString says = {};        // one line of words for such a list; its button repeats what was last chosen there
  QString icon = {};
  QKeySequence key = {};
  QString words = {};  // others that people use for it, for the finder
  std::function<void()> run = {};
  std::function<bool()> enabled = {};  // none: always
  std::function<bool()> checked = {};  // none: nothing to check
  std::function<QString()> now = {};   // the text as things stand, where it changes
};
using Commands = std::vector<Command>;

inline constexpr const char* kMenus[] = {"&Project", "&Edit", "&Survey", "&Grounds", "&View", "&Help"};
// The order of work. A step is shown once it has buttons.
inline constexpr const char* kSteps[] = {"Gather", "Ground", "Strip", "Shape", "Measure", "Balance", "Issue"};

// In the order of the menus.
Commands projectCommands(MainWindow& window);
Commands worksCommands(MainWindow& window);
Commands surveyCommands(MainWindow& window);
Commands sheetCommands(MainWindow& window);
Commands stageCommands(MainWindow& window);
Commands groundCommands(MainWindow& window);
Commands viewCommands(MainWindow& window);
Commands reliefCommands(MainWindow& window);
Commands sectionCommands(MainWindow& window);
Commands helpCommands(MainWindow& window);

// Where a command is found: "menu Survey; step Ground › Mend".
QString placeOf(const Command& command);

// How well a command answers what was typed: every word has to begin one of its own, of its menu, its step or the other
// words for it; 0 when one does not. Words of its text count most, then the order they stand in.
int rank(const Command& command, const QString& typed);

// The page of keys of the guide, as Markdown.
QString keysPage(const Commands& commands);

}  // namespace inselberg::app
