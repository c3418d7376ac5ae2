// Works in colours of their own, over what each of them covers.
#pragma once

#include <QColor>
#include <QString>
#include <vector>

#include "canvas/view_transform.h"
#include "project/evaluate.h"

class QPainter;

namespace inselberg::app {

struct WorksTint {
  ground::TinPtr facets;
  QColor colour;
  QString name;
  bool operator==(const WorksTint&) const = default;
};

// Of the grounds up to one in the order of the column, as they are set in. A works keeps its colour when another is
// hidden; after so many as there are colours they begin anew.
std::vector<WorksTint> worksTints(const project::Evaluation& evaluation, GroundId upTo);

// Later ones take the place of earlier ones.
void paintTints(QPainter& painter, const std::vector<WorksTint>& tints, const ViewTransform& view);

}  // namespace inselberg::app
