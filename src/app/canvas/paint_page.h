// A page of paper by the window's painter: for its preview, and for a printer.
#pragma once

#include "drawing/paper.h"

class QPainter;

namespace inselberg::app {

// With its upper left corner at the painter's origin, one unit a millimetre.
void paintPage(QPainter& painter, const drawing::Page& page);

}  // namespace inselberg::app
