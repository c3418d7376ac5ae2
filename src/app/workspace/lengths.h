// Lengths, levels and areas as they are told and typed in the window: in the measures of the project on show.
// Positions are eastings and northings of its coordinate system and stay in metres.
#pragma once

#include <QString>
#include <optional>

#include "base/measures.h"

class QWidget;

namespace inselberg::app::lengths {

// From now on; the workspace says so before anyone hears of a project. May be read on any thread.
void use(const Measures& measures);
// How lengths are told; nothing of how volumes are rounded.
Measures measures();

// "m" or "ft"; how many metres it is; a length in it, for the axes of plots.
QString unit();
double inMetres();
double inUnit(double metres);

// With so many decimals of a metre, of a foot at most two; without and with the unit.
QString number(double metres, int decimals);
QString told(double metres, int decimals);
QString area(double squareMetres, int decimals);
// A small one to hundredths.
QString area(double squareMetres);
// With as many decimals as it needs: "0.25 m".
QString exact(double metres);
// What a nudge by so much is, or a usual length: in feet a round one.
double nudge(double metres);
// A round length near `wanted`, metres.
double round(double wanted);
// A sentence of the core's, whose lengths are in metres.
QString told(const std::string& sentence);

// In metres, as typed ("79.5", "8 in"); `current` is what a change like "+0.25" starts from.
std::optional<double> typed(const QString& text, std::optional<double> current = std::nullopt);
// Asks for one; all in metres. Nothing when it is not given.
std::optional<double> ask(QWidget* parent, const QString& title, const QString& what, double now, double least,
                          double most);

}  // namespace inselberg::app::lengths
