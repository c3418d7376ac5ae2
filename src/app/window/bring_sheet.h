// Plan sheets from files into the project, and to another place.
#pragma once

#include <QString>

#include "project/plan_sheet.h"

namespace inselberg::app {

class MainWindow;

// Asks which pages, and where each lies when it does not say so itself. False when it did not work out (and was told)
// or was let be.
bool bringSheet(MainWindow& window, const QString& path);
// Asks where it lies anew.
void placeSheet(MainWindow& window, project::SheetId id);

}  // namespace inselberg::app
