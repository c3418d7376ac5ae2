// The depths that were found at test pits: typed, pasted, or from a file.
#pragma once

#include <QDialog>
#include <vector>

#include "plane/geometry.h"
#include "works/strip.h"

class QLabel;
class QTableWidget;

namespace inselberg::app {

class PitsDialog : public QDialog {
  Q_OBJECT

 public:
  // Eastings, northings and depths.
  PitsDialog(const QString& strip, const std::vector<plane::Vec3>& pits, QWidget* parent = nullptr);
  // When accepted; none: the strip has one depth.
  const std::vector<plane::Vec3>& pits() const { return pits_; }

  void accept() override;

 protected:
  bool eventFilter(QObject* of, QEvent* event) override;

 private:
  void fill(const std::vector<plane::Vec3>& pits);
  void addRow(const QStringList& cells);
  void readFile();
  void paste();
  // What stands in a row; empty cells at its end are left out.
  QStringList row(int number) const;

  std::vector<plane::Vec3> pits_;
  QTableWidget* table_;
  QLabel* says_;
};

// Asks for the pits of a strip; whether they were given.
bool askForPits(works::Strip& strip, const plane::Origin& origin, QWidget* parent);

}  // namespace inselberg::app
