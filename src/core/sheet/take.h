// What is taken off a sheet: its lines, joined where they were drawn in parts, and its levels.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "sheet/document.h"

namespace inselberg::sheet {

struct TakeRules {
  std::optional<Colour> colour;
  std::optional<double> minWidth, maxWidth;  // mm, both counted in
  double join = 0;                           // mm; 0: lines stay as they were drawn
  // A line also goes on across one of these that stands in its gap, however wide.
  std::span<const Text> labels = {};
};

// Widths nearer to each other than this are one (mm): files round them.
constexpr double kSameWidth = 0.001;

// The lines of that colour and width. Open ends of lines of one colour and width that are no farther apart than `join`
// are joined, each with one other: of several the one that goes on straightest, nearer ones first. A line does not turn
// back on itself across a gap. Closed lines and outlines stay as they are. Throws Error where so many ends lie within
// `join` of each other that nothing could be told apart; Cancelled.
std::vector<Line> takeLines(std::span<const Line> lines, const TakeRules& rules, const Progress& progress = {});

// A text that is wholly a number with decimals.
struct SpotText {
  std::string text;
  double level = 0;
  Vec2 at;              // of its mark, else where the text begins
  bool marked = false;  // whether it has a mark of its own: a cross, a dot, a small closed shape beside it
  double size = 0;      // of its figures, mm
};
std::vector<SpotText> spotTexts(const Content& content);

// The number a text is wholly made of, with decimals: "101.25", "-0.40", "1,204.50", "101,2" and "101,25" (a comma and
// three digits may part thousands, and is left). Nothing for other texts.
std::optional<double> levelOf(const std::string& text);

}  // namespace inselberg::sheet
