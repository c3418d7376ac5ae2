// The small parts cards are made of.
#pragma once

#include <QFormLayout>
#include <QLabel>
#include <functional>

class QCustomPlot;

namespace inselberg::app {

// A row with a right-aligned figure; a row without a name spans the whole width. `tone` as in the style sheet: ink,
// cut, fill, strip or error.
QLabel* addFigure(QFormLayout& form, const QString& name, const char* tone = "ink");
// A volume in whole cubic metres, with the exact value in the tooltip.
void showVolume(QLabel& label, double cubicMetres);
QWidget* ruleLine(QWidget* parent);
// A small plot in the colours of the card. `rest` gives its graphs and items theirs, each time the theme changes too.
void dressPlot(
    QCustomPlot& plot, const std::function<void()>& rest = [] {});

}  // namespace inselberg::app
