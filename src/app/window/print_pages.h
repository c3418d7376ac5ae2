// Pages to a printer that the user chooses.
#pragma once

#include <QString>
#include <vector>

#include "drawing/paper.h"

class QWidget;

namespace inselberg::app {

// Asks for the printer, and for how many copies; nothing is done when it is let be. True to scale, whatever paper the
// printer has. REQUIRES: pages, all of one size. Throws Error when the printer does not take them.
void printPages(QWidget* over, const QString& name, const std::vector<drawing::Page>& pages);

}  // namespace inselberg::app
