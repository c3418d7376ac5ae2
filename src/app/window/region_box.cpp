#include "window/region_box.h"

#include <utility>

namespace inselberg::app {

RegionBox::RegionBox(project::ProjectPtr project, const QString& objectName, QWidget* parent)
    : QComboBox(parent), project_(std::move(project)) {
  setObjectName(objectName);
  addItem(tr("everywhere"));
  for (const auto& region : project_->stages.regions) addItem(QString::fromStdString(region.name));
}

std::vector<plane::Polygon> RegionBox::chosen() const {
  if (currentIndex() <= 0) return {};
  return {project_->stages.regions.at(static_cast<std::size_t>(currentIndex() - 1)).area};
}

}  // namespace inselberg::app
