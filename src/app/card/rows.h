// The small parts cards are made of.
#pragma once

#include <QFormLayout>
#include <QLabel>
#include <functional>

#include "base/measures.h"

class QCustomPlot;

namespace inselberg::app {

// A row with a right-aligned figure; a row without a name spans the whole width. `tone` as in the style sheet: ink,
// cut, fill, strip or error.
QLabel* addFigure(QFormLayout& form, const QString& name, const char* tone = "ink");
// A volume as the project tells it, and how sure it is (0: not said), with the exact value in the tooltip.
void showVolume(QLabel& label, double cubicMetres, double sure, const Measures& measures);
QWidget* ruleLine(QWidget* parent);
// A small plot in the colours of the card. `rest` gives its graphs and items theirs, each time the theme changes too.
void dressPlot(
    QCustomPlot& plot, const std::function<void()>& rest = [] {});

}  // namespace inselberg::app
