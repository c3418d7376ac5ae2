// What is drawn on paper: paths and texts in millimetres from the lower left corner of a page.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::drawing {

using Colour = std::uint32_t;  // 0xRRGGBB

struct Pen {
  Colour colour = 0;
  double width = 0.25;            // mm
  std::vector<double> dash = {};  // mm on, off, ...; empty: drawn through
};

struct Path {
  std::vector<plane::Vec2> points;
  bool closed = false;
  std::optional<Pen> pen = {};
  std::optional<Colour> fill = {};
  double opacity = 1;  // of the fill
};

enum class Anchor { begin, middle, end };
struct Text {
  plane::Vec2 at;  // on the base line
  std::string text;
  double height = 2.5;  // mm, of the letters' body
  Colour colour = 0;
  Anchor anchor = Anchor::begin;
  double turned = 0;  // degrees anticlockwise
  bool bold = false;
};

// About how wide a text is, mm.
double widthOf(const std::string& text, double height);
// The text, or as much of its beginning as is no wider, with three dots.
std::string fitted(const std::string& text, double height, double width);

// Coloured cells, row by row from the upper left one.
struct Picture {
  plane::Box at;  // on the page
  int columns = 0, rows = 0;
  std::vector<std::uint32_t> cells = {};  // 0xAARRGGBB; AA is 0 where nothing is laid
};

struct Page {
  double width = 0, height = 0;                               // mm
  std::vector<std::variant<Path, Text, Picture>> items = {};  // the later over the earlier
};

// Sizes of paper: mm.
struct Paper {
  const char* name;
  double shorter, longer;
};
inline constexpr Paper kPapers[] = {
    {"A4", 210, 297}, {"A3", 297, 420}, {"A2", 420, 594}, {"A1", 594, 841}, {"A0", 841, 1189}};

}  // namespace inselberg::drawing
