// The long section of a graded line: the ground along it, its grades and vertical curves, its points to drag.
#pragma once

#include <QStringList>
#include <QWidget>
#include <optional>

#include "works/works.h"

class QCustomPlot;

namespace inselberg::app {

class LongSection : public QWidget {
  Q_OBJECT

 public:
  explicit LongSection(QWidget* parent = nullptr);

  // Whether the works has levels along a line.
  static bool suits(const works::Shape& shape);
  // Shows it over the ground it is placed on (null: not known yet). REQUIRES: suits.
  void show(const works::Shape& shape, const ground::TinPtr& under);
  // The sections of the project, to be dropped at a station.
  void setSections(const QStringList& names) { sections_ = names; }
  void setReadOnly(bool readOnly) { readOnly_ = readOnly; }
  // Where a station and a level are in the widget.
  QPoint at(double station, double level) const;

  QSize sizeHint() const override { return {220, 170}; }

 signals:
  void dragged(const works::Shape& shape);                       // while a point is dragged
  void released();                                               // the drag is over
  void changed(const works::Shape& shape, const QString& what);  // at once: "add a grade point to %1"
  void refused(const QString& why);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void replot();
  std::optional<std::size_t> pointAt(QPointF mouse) const;
  void drag(QPointF mouse);
  void addPoint(QPointF mouse);
  void showMenu(QPointF mouse, QPoint global);
  // A section from a station on, on one side; without a name the one that begins there goes.
  void dropSection(std::size_t field, double station, const QString& name);
  void markSections();
  void removePoint(std::size_t point);
  void askCurve(std::size_t point);
  // The shape with these; nothing, and `refused` says why, when it may not be.
  std::optional<works::Shape> with(const works::Stations& levels, const works::Stations& curves);

  QCustomPlot* plot_;
  std::optional<works::Shape> shape_;
  ground::TinPtr under_;
  works::Stations levels_, curves_;
  QStringList sections_;
  double length_ = 0;
  std::optional<std::size_t> dragging_;
  bool moved_ = false, readOnly_ = false;
};

}  // namespace inselberg::app
