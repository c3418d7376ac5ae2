// Plan sheets: a page of a PDF, or a picture, and what stands on it.
//
// Positions on a page are in its own unit from the lower left corner of what is seen, x to the right, y up: millimetres
// on a PDF (crop box, after the page's own turn, times its user unit), pixels on a picture (after its own turn).
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/progress.h"
#include "plane/geometry.h"

namespace inselberg::sheet {

using plane::Box;
using plane::Vec2;
using Colour = std::uint32_t;  // 0xRRGGBB

// A stroke that is seen, or the outline of a shape that is filled. Curves are chords within 0.05 mm of them.
struct Line {
  std::vector<Vec2> points;  // two or more
  bool closed = false;       // without repeating the first point
  bool filled = false;
  Colour colour = 0;
  double width = 0;          // mm; of an outline 0
  std::vector<double> dash;  // lengths on and off in turn, mm; empty: drawn through
};

// A string that is seen: what is shown in one go, and what goes on right behind it on the same line.
struct Text {
  std::string text;  // UTF-8, without blanks around
  Vec2 at, end;      // where it begins and ends, on its base line
  double size = 0;   // of its letters, mm
  Colour colour = 0;
};

// Of its figures, which have no tails.
inline Vec2 middleOf(const Text& text) {
  constexpr double kHalfFigure = 0.35;  // of the size
  const Vec2 along = text.end - text.at;
  const double length = plane::norm(along);
  return length > 0 ? text.at + 0.5 * along - (kHalfFigure * text.size / length) * plane::rightOf(along) : text.at;
}

struct Content {
  std::vector<Line> lines;
  std::vector<Text> texts;
  std::vector<Vec2> dots;   // strokes without length, seen as dots
  std::size_t strokes = 0;  // subpaths stroked and seen
  std::size_t images = 0;
};

struct PageFacts {
  double width = 0, height = 0;   // in the page's unit
  std::optional<Vec2> mmPerUnit;  // along x and y; nothing for a picture that tells no resolution
  bool picture = false;           // its unit is the pixel
  double widthMm() const { return mmPerUnit ? width * mmPerUnit->x : 0; }
  double heightMm() const { return mmPerUnit ? height * mmPerUnit->y : 0; }
};

// Where a place of the page lies on the ground.
struct Control {
  Vec2 page;
  Vec2 ground;  // easting and northing, m, without an origin taken off
  bool operator==(const Control&) const = default;
};
// What a page itself tells about its place.
struct OwnPlace {
  std::vector<Control> controls;  // three or more; in degrees (longitude, latitude) where the system is in degrees
  std::string system;             // a description (WKT); empty: none is told
};

// Pixels, four bytes each (blue, green, red, 255), the top row first.
struct Bitmap {
  int width = 0, height = 0;
  std::vector<std::uint8_t> pixels;
};

// An open file. Not to be used from two threads at once; several of the same bytes may be.
class Document {
 public:
  virtual ~Document() = default;
  Document() = default;
  Document(const Document&) = delete;
  Document& operator=(const Document&) = delete;

  virtual int pages() const = 0;
  // Pages count from 1. Each throws Error for a page that there is not, or that cannot be read; Cancelled.
  virtual PageFacts facts(int page) = 0;
  // What stands on a page; nothing on a picture. Throws Error for one with more than it can hold (kMostVertices).
  virtual Content content(int page, const Progress& progress) = 0;
  virtual std::optional<OwnPlace> ownPlace(int page) = 0;
  // A part of the page (whatever lies beyond it is white) as a picture of width by height pixels.
  virtual Bitmap draw(int page, const Box& part, int width, int height, const Progress& progress) = 0;
};

constexpr std::size_t kMostVertices = 10'000'000;
// A side of a PDF page longer than this is none (mm), and a picture has no more pixels.
constexpr double kLongestSide = 30'000, kMostPixels = 2e9;

// Whether the name ends like that of a plan sheet: .pdf, .png, .jpg, .jpeg, .tif, .tiff.
bool isSheetEnding(const std::string& name);
// Those endings, as told in messages.
std::string sheetEndings();

// Opens a file by its bytes; `name` is for messages. Throws Error for what is damaged, protected by a password, without
// pages, or neither a PDF nor a picture. `worldFile` is the text of one that lies beside a picture; empty: none.
std::unique_ptr<Document> openDocument(std::shared_ptr<const std::string> bytes, const std::string& name,
                                       const std::string& worldFile = {});

}  // namespace inselberg::sheet
