// Long work that the user waits for, away from the window's thread.
#pragma once

#include <QString>
#include <functional>

#include "base/progress.h"

class QWidget;

namespace inselberg::app {

// Does the work on a thread of its own and returns when it is done, while the window goes on painting. Meanwhile clicks
// and keys are held off; after 0.3 s a box tells how far it is, and stops it. Throws what the work throws; Cancelled
// when it was stopped. To be called from the window's thread.
void doLongWork(QWidget* over, const QString& what, const std::function<void(const Progress&)>& work);

}  // namespace inselberg::app
