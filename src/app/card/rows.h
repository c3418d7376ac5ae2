// The small parts cards are made of.
#pragma once

#include <QColor>
#include <QFormLayout>
#include <QLabel>

class QCustomPlot;

namespace inselberg::app {

// A row with a right-aligned figure; a row without a name spans the whole width.
QLabel* addFigure(QFormLayout& form, const QString& name, const QColor& colour);
// A volume in whole cubic metres, with the exact value in the tooltip.
void showVolume(QLabel& label, double cubicMetres);
QWidget* ruleLine(QWidget* parent);
// A small plot in the colours of the card.
void dressPlot(QCustomPlot& plot);

}  // namespace inselberg::app
