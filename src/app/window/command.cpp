#include "window/command.h"

#include <QObject>
#include <QRegularExpression>

namespace inselberg::app {
namespace {

QStringList wordsOf(const QString& text) {
  static const QRegularExpression between("[^\\w]+", QRegularExpression::UseUnicodePropertiesOption);
  return text.toLower().remove('&').split(between, Qt::SkipEmptyParts);
}

bool anyBegins(const QStringList& words, const QString& with) {
  return std::any_of(words.begin(), words.end(), [&](const QString& w) { return w.startsWith(with); });
}

}  // namespace

QString placeOf(const Command& command) {
  QString place = QObject::tr("menu %1").arg(QObject::tr(command.menu).remove('&'));
  if (*command.step) place += QObject::tr("; step %1").arg(QObject::tr(command.step));
  if (*command.button) place += " › " + QObject::tr(command.button);
  return place;
}

int rank(const Command& command, const QString& typed) {
  const QStringList own = wordsOf(command.text), other = wordsOf(command.words);
  const QStringList place = wordsOf(QString("%1 %2 %3").arg(command.menu, command.step, command.button));
  int sum = 1;
  bool named = true;  // all that is typed stands in its name
  for (const QString& word : wordsOf(typed)) {
    named = named && anyBegins(own, word);
    if (!own.isEmpty() && own.front().startsWith(word))
      sum += 100;
    else if (anyBegins(own, word))
      sum += 40;
    else if (anyBegins(other, word))
      sum += 20;
    else if (anyBegins(place, word))
      sum += 5;
    else
      return 0;
  }
  return named ? sum + 100 : sum;
}

QString keysPage(const Commands& commands) {
  QString page =
      "# Keys\n\nMade from the list of commands; Ctrl+K finds them all by name, and by other words for them.\n";
  for (const char* menu : kMenus) {
    QString rows;
    for (const Command& c : commands) {
      if (c.menu != QLatin1String(menu) || c.key.isEmpty()) continue;
      rows += QString("| %1 | %2 |\n").arg(c.key.toString(QKeySequence::PortableText), QString(c.text).remove("…"));
    }
    if (!rows.isEmpty())
      page += QString("\n## %1\n\n| key | does |\n|---|---|\n").arg(QString(menu).remove('&')) + rows;
  }
  return page;
}

}  // namespace inselberg::app
