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

struct Page {
  double width = 0, height = 0;                      // mm
  std::vector<std::variant<Path, Text>> items = {};  // the later over the earlier
};

}  // namespace inselberg::drawing
