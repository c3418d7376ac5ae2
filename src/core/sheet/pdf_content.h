// What a page of a PDF draws, taken down as lines and texts; for sheet/pdf.cpp.
#pragma once

#include <OutputDev.h>

#include <memory>
#include <optional>

#include "sheet/clip.h"
#include "sheet/document.h"

namespace inselberg::sheet {

// Takes the place of a picture: poppler draws on it. Positions come in points of the page and are kept in mm.
class ContentOutput : public OutputDev {
 public:
  // mm for each of poppler's points (its user unit is not known to poppler).
  ContentOutput(Content& content, double mmPerPoint) : content_(content), mm_(mmPerPoint) {}

  // Whether more was drawn than is taken; the rest should not be drawn.
  bool tooMuch() const { return vertices_ > kMostVertices || drawn_ > kMostDrawn; }
  // Strings are whole when the page is.
  void finish();

  bool upsideDown() override { return false; }
  bool useDrawChar() override { return true; }
  bool interpretType3Chars() override { return false; }
  bool useTilingPatternFill() override { return true; }
  bool useShadedFills(int) override { return true; }

  void startPage(int, GfxState* state, XRef*) override;
  void saveState(GfxState*) override { clips_.push_back(clips_.back()); }
  void restoreState(GfxState*) override;

  void stroke(GfxState* state) override;
  void fill(GfxState* state) override { fillWith(state, false); }
  void eoFill(GfxState* state) override { fillWith(state, true); }
  void clip(GfxState* state) override { clips_.back().narrow(ringsOf(state), false); }
  void eoClip(GfxState* state) override { clips_.back().narrow(ringsOf(state), true); }
  void clipToStrokePath(GfxState* state) override;

  bool tilingPatternFill(GfxState*, Gfx*, Catalog*, GfxTilingPattern*, const double*, int x0, int y0, int x1, int y1,
                         double, double) override;
  // Blends of colours are pictures, not lines.
  bool functionShadedFill(GfxState*, GfxFunctionShading*) override { return true; }
  bool axialShadedFill(GfxState*, GfxAxialShading*, double, double) override { return true; }
  bool axialShadedSupportExtend(GfxState*, GfxAxialShading*) override { return true; }
  bool radialShadedFill(GfxState*, GfxRadialShading*, double, double) override { return true; }
  bool radialShadedSupportExtend(GfxState*, GfxRadialShading*) override { return true; }
  bool gouraudTriangleShadedFill(GfxState*, GfxGouraudTriangleShading*) override { return true; }
  bool patchMeshShadedFill(GfxState*, GfxPatchMeshShading*) override { return true; }

  void beginString(GfxState* state, const GooString*) override;
  void endString(GfxState*) override;
  void beginTextObject(GfxState*) override { keepText(); }
  void endTextObject(GfxState*) override { keepText(); }
  void drawChar(GfxState* state, double x, double y, double dx, double dy, double originX, double originY,
                CharCode code, int bytes, const Unicode* u, int length) override;

  void drawImageMask(GfxState* state, Object* ref, Stream* str, int width, int height, bool invert, bool interpolate,
                     bool inlined) override;
  void drawImage(GfxState* state, Object* ref, Stream* str, int width, int height, GfxImageColorMap* colours,
                 bool interpolate, const int* maskColours, bool inlined) override;
  void drawMaskedImage(GfxState* state, Object*, Stream*, int, int, GfxImageColorMap*, bool, Stream*, int, int, bool,
                       bool) override {
    countImage(state);
  }
  void drawSoftMaskedImage(GfxState* state, Object*, Stream*, int, int, GfxImageColorMap*, bool, Stream*, int, int,
                           GfxImageColorMap*, bool) override {
    countImage(state);
  }

  void beginTransparencyGroup(GfxState*, const double*, GfxColorSpace*, bool, bool, bool forSoftMask) override;
  void endTransparencyGroup(GfxState*) override;

 private:
  // Operations of drawing: a page that repeats itself without end is stopped.
  static constexpr std::size_t kMostDrawn = 3'000'000;

  Vec2 place(GfxState* state, double x, double y) const;
  std::vector<Piece> pathOf(GfxState* state) const;
  std::vector<plane::Ring> ringsOf(GfxState* state) const;
  void fillWith(GfxState* state, bool evenOdd);
  void take(Line line);
  void countImage(GfxState* state);
  void keepText();
  bool masking() const { return masks_ > 0; }

  Content& content_;
  double mm_;
  std::vector<Clip> clips_{1};
  std::vector<bool> groups_;  // of the groups that are open, which are masks: seen only as what they let through
  int masks_ = 0;
  std::size_t vertices_ = 0, drawn_ = 0;
  std::optional<Text> text_;  // that may go on
  bool textSeen_ = false;
  bool continues_ = false;  // the next letter is the first of a string, behind text_
};

}  // namespace inselberg::sheet
