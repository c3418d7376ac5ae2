// Choosing a coordinate system: typed words narrow a list by code, name and area.
#pragma once

#include <QDialog>
#include <optional>

#include "plane/geometry.h"

class QDialogButtonBox;
class QLabel;
class QLineEdit;
class QListWidget;

namespace inselberg::app {

class SystemDialog : public QDialog {
  Q_OBJECT

 public:
  enum class Of { project, file };  // a project's has easting and northing, a file's may be in degrees
  // `told` says what the choice is for; `current` is the definition now, may be empty.
  // With a place (longitude, latitude) the systems used there are listed until something is typed.
  SystemDialog(Of of, const QString& told, const std::string& current, std::optional<plane::Vec2> at, QWidget* parent);

  // The definition chosen, empty for none; nothing when it was cancelled.
  static std::optional<std::string> choose(Of of, const QString& told, const std::string& current,
                                           std::optional<plane::Vec2> at, QWidget* parent);

 private:
  void filter();

  Of of_;
  std::optional<plane::Vec2> at_;
  QLineEdit* field_;
  QListWidget* list_;
  QLabel* more_;
  QDialogButtonBox* buttons_;
  std::optional<std::string> chosen_;
};

}  // namespace inselberg::app
