// The one place where colours, type and icons are decided.
#pragma once

#include <QColor>
#include <QIcon>
#include <QString>

namespace inselberg::app::theme {

inline const QColor paper{0xF7, 0xF4, 0xEE};
inline const QColor panel{0xEF, 0xEA, 0xE0};
inline const QColor rule{0xD8, 0xD0, 0xC2};
inline const QColor ink{0x22, 0x30, 0x3A};
inline const QColor muted{0x6C, 0x77, 0x80};
inline const QColor amber{0xD9, 0xA4, 0x00};
inline const QColor cut{0xC4, 0x57, 0x1B};
inline const QColor fill{0x14, 0x80, 0x8A};
inline const QColor loam{0x6B, 0x4A, 0x2B};
inline const QColor granite{0x8A, 0x7A, 0x66};
inline const QColor daylight{0x6A, 0x3D, 0x9A};
inline const QColor error{0xB3, 0x26, 0x1E};
inline const QColor water{0x1F, 0x5F, 0xA8};

// The tint of ground `index` of `count` in the column, existing first.
QColor groundTint(int index, int count);

// Depth of cut (negative) or fill (positive) on the diverging scale ember-paper-lagoon; `greatest` takes the full
// colour.
QColor depthColour(double depth, double greatest);

// Along the scales of levels (0 lowest, light with height) and of steepness (0 flat, dark with steepness).
QColor levelColour(double along);
QColor steepnessColour(double along);

// Own line icons by name (the list stands in the .cpp); "open", "save", "undo" and "redo" come from the icon theme,
// with an own fallback.
QIcon icon(const QString& name);

QString styleSheet();

}  // namespace inselberg::app::theme
