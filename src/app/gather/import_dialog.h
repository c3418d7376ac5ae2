// Bringing in a file: its first rows, the guessed columns and units, a thumbnail of what will come in, and what looks
// wrong, before anything enters the project.
#pragma once

#include <QDialog>
#include <optional>

#include "exchange/imported.h"
#include "exchange/points_csv.h"
#include "jobs/worker.h"
#include "project/project.h"

class QCheckBox;
class QComboBox;
class QDialogButtonBox;
class QLabel;
class QListWidget;
class QTableWidget;

namespace inselberg::app {

class Thumbnail;

class ImportDialog : public QDialog {
  Q_OBJECT

 public:
  // `site`: bounds of what the project has, in easting and northing.
  ImportDialog(const QString& path, std::optional<plane::Box> site, QWidget* parent);
  ~ImportDialog() override;

  // What was chosen, ready to become a source; after the dialog was accepted.
  const exchange::Imported& chosen() const { return chosen_; }
  // Whether the file has been read and shown.
  bool ready() const { return ready_; }

 private:
  void read();
  void show(exchange::Imported imported);
  void showChoice();
  void fail(const QString& text);
  void setUpColumns();
  exchange::PointColumns columns() const;

  QString path_;
  std::optional<plane::Box> site_;
  bool isPoints_ = false, ready_ = false;
  int asked_ = 0;     // readings begun: only the result of the last counts
  std::string head_;  // the first bytes of a point list
  exchange::Imported read_, chosen_;
  QLabel* summary_;
  QTableWidget* rows_;
  QWidget* columnBox_;
  std::array<QComboBox*, 5> columnOf_{};
  QComboBox *delimiter_, *units_;
  QCheckBox *header_, *takePoints_, *takeLines_, *takeAreas_;
  Thumbnail* thumbnail_;
  QListWidget* wrong_;
  QDialogButtonBox* buttons_;
  Worker worker_;
};

}  // namespace inselberg::app
