// Where a plan sheet lies: by its scale, by lengths that are known along and up it, or by points with known
// coordinates; and a length to check it with.
#pragma once

#include <QDialog>
#include <optional>

#include "project/plan_sheet.h"

class QButtonGroup;
class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTableWidget;
class QVBoxLayout;

namespace inselberg::app {

class PageView;

class PlaceDialog : public QDialog {
  Q_OBJECT

 public:
  // `sheet` as it is placed now, its positions in easting and northing (no origin taken off). `own`: what it tells of
  // itself; `mmPerUnit`: nothing for a picture without a resolution, which has no scale to state.
  PlaceDialog(const project::PlanSheet& sheet, std::optional<sheet::Placement> own,
              std::optional<plane::Vec2> mmPerUnit, QWidget* parent = nullptr);

  // The sheet as it is placed now, in easting and northing. By scale and by lengths its lower left corner is at 0, 0.
  project::SheetInfo placed() const;
  // Whether it says where on the ground it lies, not only how large it is.
  bool located() const;
  PageView& page() { return *page_; }

 private:
  enum Way { scale, lengths, points, itself };  // as project::PlacedBy
  QWidget* makeRight();
  QWidget* makeScalePage();
  QWidget* withText(const QString& text, QWidget* below);
  void addCheck(QVBoxLayout& column);
  void showBefore();
  Way way() const;
  void clicked(plane::Vec2 at);
  void addRow(QTableWidget& table, const QStringList& cells);
  void removeRow();
  void refresh();
  std::vector<sheet::KnownLength> typedLengths() const;
  std::vector<sheet::Control> typedPoints() const;
  // Throws Error when what is typed places nothing yet.
  project::SheetInfo place() const;
  void showCheck(const sheet::Placement& placement);

  const project::SheetInfo before_;
  const std::optional<sheet::Placement> own_;
  const std::optional<plane::Vec2> mmPerUnit_;
  std::vector<std::pair<plane::Vec2, plane::Vec2>> ends_;  // of the lengths, a row each
  std::vector<plane::Vec2> places_;                        // of the points
  std::optional<plane::Vec2> from_;                        // the first end of a length that is being clicked
  std::optional<std::pair<plane::Vec2, plane::Vec2>> check_;
  bool refreshing_ = false;

  PageView* page_;
  QButtonGroup* ways_;
  QStackedWidget* stack_;
  QLineEdit *along_, *up_;
  QCheckBox* even_;
  QTableWidget *lengths_, *points_;
  QPushButton* remove_;
  QPushButton* checking_;
  QLineEdit* checkMetres_;
  QLabel *checkSays_, *result_, *doubts_;
  QPushButton* ok_;
};

}  // namespace inselberg::app
