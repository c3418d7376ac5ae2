// The one place where colours, type and icons are decided.
#pragma once

#include <QColor>
#include <QIcon>
#include <QPalette>
#include <QString>
#include <functional>

namespace inselberg::app::theme {

// One set of colours, the same meanings in each. Words in ink, muted and error are legible on paper and panel (contrast
// of 4.5), lines and areas stand out from them (3), and what lies beside each other on the plan can be told apart by
// colour-blind people as well (tests/app/theme_test.cpp).
struct Palette {
  QColor paper, panel, rule, ink, muted;
  QColor amber;  // chosen
  QColor cut, fill, loam, granite, daylight, error, water;
  QColor contour;           // of the ground on show
  QColor oldest, youngest;  // grounds of the column
  double ground;            // how light a lit ground is, 1 in daylight
};
enum class Theme { light, dark };
const Palette& paletteOf(Theme theme);

// The colours of now: light until others are chosen. May be read on any thread.
Theme current();
// Everything that was dressed is dressed anew. On the window's thread.
void choose(Theme theme);
// Calls `dress` now, and whenever other colours are chosen for as long as `owner` lives.
void dressed(QObject* owner, const std::function<void()>& dress);

const Palette& palette();
inline const QColor& paper() {
  return palette().paper;
}
inline const QColor& panel() {
  return palette().panel;
}
inline const QColor& rule() {
  return palette().rule;
}
inline const QColor& ink() {
  return palette().ink;
}
inline const QColor& muted() {
  return palette().muted;
}
inline const QColor& amber() {
  return palette().amber;
}
inline const QColor& cut() {
  return palette().cut;
}
inline const QColor& fill() {
  return palette().fill;
}
inline const QColor& loam() {
  return palette().loam;
}
inline const QColor& granite() {
  return palette().granite;
}
inline const QColor& daylight() {
  return palette().daylight;
}
inline const QColor& error() {
  return palette().error;
}
inline const QColor& water() {
  return palette().water;
}
inline const QColor& contour() {
  return palette().contour;
}

// A colour let through by so much: `alpha` 0 (nothing) to 255.
QColor faded(QColor colour, int alpha);
// A colour for words and thin lines: nearer to the ink, so that it is legible as they are.
QColor written(const QColor& colour);

// A height of letters meant for a desktop whose text is 12 pixels high, for this one.
int pixels(int height);

// The tint of ground `index` of `count` in the column, existing first.
QColor groundTint(int index, int count);

// Depth of cut (negative) or fill (positive) on the diverging scale ember-paper-lagoon; `greatest` takes the full
// colour.
QColor depthColour(double depth, double greatest);
// Of works `index` where each has a colour of its own; eight of them, then anew.
QColor worksColour(std::size_t index);
// Of what an upright cut shows: the land as it was, what was dug out and filled again, what was filled, layers built up
// on that.
QColor earth();
QColor refilled();
QColor filled();
QColor builtUp();
// Of what lies lower (below 0) or higher than a tolerance allows.
QColor beyondTolerance(double depth);

// Along the scales of levels (0 lowest, light with height) and of steepness (0 flat, dark with steepness).
QColor levelColour(double along);
QColor steepnessColour(double along);

// Own line icons by name (the list stands in the .cpp); "open", "save", "undo" and "redo" come from the icon theme,
// with an own fallback.
QIcon icon(const QString& name);

// Colours and type of all that Qt draws itself.
QString styleSheet();
QPalette standardPalette();

// The theme that was chosen last; before the first time the one that suits the desktop's own colours.
Theme remembered();
void remember(Theme theme);

}  // namespace inselberg::app::theme
