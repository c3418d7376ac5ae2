#include "card/section_library.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <QStandardPaths>
#include <algorithm>

#include "base/error.h"
#include "exchange/section_library.h"

namespace inselberg::app {

QString libraryPath() {
  return QStandardPaths::writableLocation(QStandardPaths::GenericConfigLocation) + "/inselberg/sections.json";
}

std::vector<works::NamedSection> userSections() {
  QFile file(libraryPath());
  if (!file.exists()) return {};
  if (!file.open(QIODevice::ReadOnly))
    throw Error("your library cannot be read", {libraryPath().toStdString()}, file.errorString().toStdString());
  return exchange::libraryFrom(file.readAll().toStdString(), libraryPath().toStdString());
}

void keepSection(const works::NamedSection& section) {
  auto sections = userSections();
  const auto same =
      std::find_if(sections.begin(), sections.end(), [&](const auto& s) { return s.name == section.name; });
  if (same == sections.end())
    sections.push_back(section);
  else
    *same = section;
  QDir().mkpath(QFileInfo(libraryPath()).path());
  QSaveFile file(libraryPath());
  const std::string text = exchange::libraryText(sections);
  if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), static_cast<qint64>(text.size())) < 0 ||
      !file.commit())
    throw Error("your library cannot be written", {libraryPath().toStdString()}, file.errorString().toStdString());
}

}  // namespace inselberg::app
