// Bringing in a file: its layers and what each is taken as, the columns of a point list, a thumbnail of what will come
// in, and what looks wrong, before anything enters the project.
#pragma once

#include <QDialog>
#include <optional>

#include "exchange/bring_in.h"
#include "exchange/point_list.h"
#include "jobs/worker.h"

class QCheckBox;
class QComboBox;
class QDialogButtonBox;
class QDoubleSpinBox;
class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;
class QTableWidget;
class QVBoxLayout;

namespace inselberg::app {

class Thumbnail;

// A polygon that may limit what is taken; easting and northing.
struct ImportLimit {
  QString name;
  plane::Polygon polygon;
};

struct ImportContext {
  std::optional<plane::Box> site;       // bounds of what the project has, in easting and northing
  std::optional<plane::Origin> origin;  // of the project; nothing: this import fixes it
  std::string system = {};              // of the project; empty: none
  std::vector<ImportLimit> limits;
  // What came from this file before, by layer; empty when nothing did.
  exchange::Choices before;
  exchange::Choices reading;  // and how it was read
  bool cameBefore = false;
};

class ImportDialog : public QDialog {
  Q_OBJECT

 public:
  ImportDialog(const QString& path, ImportContext context, QWidget* parent);
  ~ImportDialog() override;

  // After the dialog was accepted: what was chosen. To be asked for once.
  exchange::BroughtIn chosen();
  std::size_t leftOut() const { return read_->problems.size(); }
  // Whether the file has been read and shown.
  bool ready() const { return ready_; }

 private:
  // The coordinate system of the project from now on: its own, else, at the first import, the file's; may be empty.
  std::string system() const;
  exchange::Choices reading() const;  // see project::SourceInfo
  exchange::ReadRules rules() const;
  void makeTable(QVBoxLayout& left);
  void makeLayers(QVBoxLayout& left);
  void makeOptions(QVBoxLayout& left);
  void makePlaces(QVBoxLayout& left);
  void makeEnd(QVBoxLayout& layout);
  void connectChoices();
  void begin();
  void read();
  // What the worker found out about the file.
  struct Found {
    exchange::Imported imported;
    std::vector<exchange::LayerSummary> layers;
    std::vector<std::string> oddities;
  };
  void show(Found found);
  void showLayers(const std::vector<exchange::LayerSummary>& list);
  void showChoice();
  void bringIn();
  void busy(const QString& text);
  void lockChoices(bool locked);
  // From the worker: does the work in the window, unless something newer has been asked since.
  template <class Work>
  void inWindow(int number, Work&& work);
  void fail(const QString& text);
  void setUpColumns(bool fromMemory);
  void exchangeColumns();
  void readAsBefore();
  void showSystem();
  void showAttributes();
  void limitToDrawn(const plane::Polygon& polygon);
  const plane::Polygon* chosenLimit() const;  // null: the whole file
  void chooseFileSystem();
  exchange::TableForm form() const;
  exchange::PointColumns columns() const;
  QString memoryKey() const;

  QString path_;
  ImportContext context_;
  bool isPoints_ = false, ready_ = false;
  exchange::PointColumns guessed_;  // of a point list
  int asked_ = 0;                   // readings begun: only the result of the last counts
  std::string head_;                // the first bytes of a point list
  // Limited, when so chosen. Held by the picture of it too, and not changed once that has it.
  std::shared_ptr<exchange::Imported> read_ = std::make_shared<exchange::Imported>();
  std::optional<plane::Polygon> drawn_;  // on the thumbnail, to limit what is taken
  std::string fileSystem_;               // as chosen for a file that tells none, or a wrong one
  bool degrees_ = false;                 // what was read has no easting and northing
  exchange::Taken taken_;
  plane::Origin origin_;
  std::vector<exchange::Take> remembered_;  // by layer, as chosen so far
  QLabel* summary_;
  QTableWidget *rows_, *layers_;
  QWidget* columnBox_;
  std::array<QComboBox*, 5> columnOf_{};
  QComboBox *delimiter_, *decimal_, *units_, *limit_, *system_, *attribute_;
  QWidget* attributeBox_;
  QPushButton* target_;
  QCheckBox *header_, *replace_;
  QDoubleSpinBox* tolerance_;
  QWidget* toleranceBox_;
  QProgressBar* progress_;
  Thumbnail* thumbnail_;
  QListWidget* wrong_;
  QDialogButtonBox* buttons_;
  Worker worker_;  // last, so that it ends before what it hands its results to
};

}  // namespace inselberg::app
