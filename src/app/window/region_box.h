// The choice of a region to measure in: everywhere, or one of the project's.
#pragma once

#include <QComboBox>
#include <vector>

#include "project/project.h"

namespace inselberg::app {

class RegionBox : public QComboBox {
  Q_OBJECT

 public:
  RegionBox(project::ProjectPtr project, const QString& objectName, QWidget* parent);

  // What was chosen; empty: everywhere.
  std::vector<plane::Polygon> chosen() const;

 private:
  project::ProjectPtr project_;
};

}  // namespace inselberg::app
