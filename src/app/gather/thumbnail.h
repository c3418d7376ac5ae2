// A small picture of imported data: what each layer is taken as by its colour, what is left out pale.
#pragma once

#include <QImage>
#include <QWidget>
#include <optional>
#include <vector>

#include "exchange/layers.h"

namespace inselberg::app {

class Thumbnail : public QWidget {
  Q_OBJECT

 public:
  explicit Thumbnail(QWidget* parent) : QWidget(parent) { setMinimumSize(300, 260); }
  // `shown` must outlive the next change; `takes` has one for each layer; `marked` is shown strong, whatever it is
  // taken as (-1: none).
  void setData(const exchange::Imported* shown, std::vector<exchange::Take> takes, int marked);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override { picture_ = {}; }

 private:
  void draw();

  const exchange::Imported* data_ = nullptr;
  std::vector<exchange::Take> takes_;
  int marked_ = -1;
  QImage picture_;  // drawn once for each change
};

}  // namespace inselberg::app
