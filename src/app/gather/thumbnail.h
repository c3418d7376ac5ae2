// A small picture of imported data: points, lines, areas, faces.
#pragma once

#include <QWidget>

#include "exchange/imported.h"

namespace inselberg::app {

class Thumbnail : public QWidget {
  Q_OBJECT

 public:
  explicit Thumbnail(QWidget* parent) : QWidget(parent) { setMinimumSize(300, 260); }
  // It must outlive the next paint.
  void setData(const exchange::Imported* shown);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  const exchange::Imported* data_ = nullptr;
};

}  // namespace inselberg::app
