#include "sheet/pdf_content.h"

#include <GfxFont.h>
#include <GfxState.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"

namespace inselberg::sheet {
namespace {

// Chords stay within this of their curve, mm.
constexpr double kChord = 0.02;
// Strings on one line are one text when they are no farther apart than this share of their letters' size.
constexpr double kApart = 0.25;

double share(GfxColorComp c) {
  return std::clamp(colToDbl(c), 0.0, 1.0);
}

Colour packed(double r, double g, double b) {
  const auto byte = [](double v) { return static_cast<Colour>(std::lround(std::clamp(v, 0.0, 1.0) * 255)); };
  return byte(r) << 16 | byte(g) << 8 | byte(b);
}

// The colour as the file gives it: no profiles, and of inks what they leave of the white.
Colour plainColour(GfxColorSpace* space, const GfxColor& colour) {
  const GfxColorComp* c = colour.c;
  const auto throughAlternate = [](const Function* tint, GfxColorSpace* alternate, const GfxColor& from, int inputs) {
    double in[gfxColorMaxComps] = {}, out[gfxColorMaxComps] = {};
    for (int i = 0; i < inputs; ++i) in[i] = colToDbl(from.c[i]);
    tint->transform(in, out);
    GfxColor to{};
    for (int i = 0; i < std::min<int>(alternate->getNComps(), gfxColorMaxComps); ++i) to.c[i] = dblToCol(out[i]);
    return plainColour(alternate, to);
  };
  switch (space->getMode()) {
    case csDeviceGray:
    case csCalGray:
      return packed(share(c[0]), share(c[0]), share(c[0]));
    case csDeviceRGB:
    case csCalRGB:
      return packed(share(c[0]), share(c[1]), share(c[2]));
    case csSeparation: {
      auto* separation = static_cast<GfxSeparationColorSpace*>(space);
      return throughAlternate(separation->getFunc(), separation->getAlt(), colour, 1);
    }
    case csDeviceN: {
      auto* inks = static_cast<GfxDeviceNColorSpace*>(space);
      return throughAlternate(inks->getTintTransformFunc(), inks->getAlt(), colour, inks->getNComps());
    }
    case csPattern:
      return 0;
    default:
      break;
  }
  const int count = space->getNComps();
  if (space->getMode() == csDeviceCMYK || (space->getMode() == csICCBased && count == 4)) {
    const double left = 1 - share(c[3]);
    return packed((1 - share(c[0])) * left, (1 - share(c[1])) * left, (1 - share(c[2])) * left);
  }
  if (space->getMode() == csICCBased)
    return count == 1 ? packed(share(c[0]), share(c[0]), share(c[0])) : packed(share(c[0]), share(c[1]), share(c[2]));
  GfxRGB rgb{};
  space->getRGB(&colour, &rgb);
  return packed(share(rgb.r), share(rgb.g), share(rgb.b));
}

// Adds the curve from the last point on, as chords.
void addCurve(std::vector<Vec2>& points, Vec2 b, Vec2 c, Vec2 d) {
  const Vec2 a = points.back();
  // Half a chord's height is bounded by the second differences of the control points, over eight parts squared.
  const double bend = std::max(plane::norm(a - 2 * b + c), plane::norm(b - 2 * c + d));
  const int parts = static_cast<int>(std::clamp(std::ceil(std::sqrt(0.75 * bend / kChord)), 1.0, 2000.0));
  for (int i = 1; i <= parts; ++i) {
    const double t = static_cast<double>(i) / parts, s = 1 - t;
    points.push_back(i == parts ? d : s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d);
  }
}

double scaleOf(GfxState* state) {
  const auto& m = state->getCTM();
  return std::sqrt(std::abs(m[0] * m[3] - m[1] * m[2]));
}

}  // namespace

void ContentOutput::startPage(int, GfxState* state, XRef*) {
  clips_.assign(1, {});
  clips_.back().box = {0, 0, state->getPageWidth() * mm_, state->getPageHeight() * mm_};
}

void ContentOutput::restoreState(GfxState*) {
  if (clips_.size() > 1) clips_.pop_back();
}

Vec2 ContentOutput::place(GfxState* state, double x, double y) const {
  double px = 0, py = 0;
  state->transform(x, y, &px, &py);
  return {px * mm_, py * mm_};
}

std::vector<Piece> ContentOutput::pathOf(GfxState* state) const {
  std::vector<Piece> pieces;
  const GfxPath* path = state->getPath();
  for (int k = 0; k < path->getNumSubpaths(); ++k) {
    const GfxSubpath* sub = path->getSubpath(k);
    Piece piece;
    const auto at = [&](int i) { return place(state, sub->getX(i), sub->getY(i)); };
    bool sound = true;
    for (int i = 0; i < sub->getNumPoints(); ++i) {
      if (i > 0 && sub->getCurve(i) && i + 2 < sub->getNumPoints()) {
        addCurve(piece.points, at(i), at(i + 1), at(i + 2));
        i += 2;
      } else if (const Vec2 p = at(i); piece.points.empty() || p != piece.points.back()) {
        piece.points.push_back(p);
      }
      const Vec2 last = piece.points.back();
      sound = sound && std::abs(last.x) < 1e7 && std::abs(last.y) < 1e7;
    }
    if (!sound || piece.points.empty()) continue;
    piece.closed = sub->isClosed();
    if (piece.points.size() > 1 && piece.points.front() == piece.points.back()) {
      piece.points.pop_back();
      piece.closed = piece.points.size() > 2;
    }
    if (piece.points.size() < 3 && piece.closed) piece.closed = false;
    pieces.push_back(std::move(piece));
  }
  return pieces;
}

std::vector<plane::Ring> ContentOutput::ringsOf(GfxState* state) const {
  std::vector<plane::Ring> rings;
  for (Piece& piece : pathOf(state)) rings.push_back(std::move(piece.points));
  return rings;
}

void ContentOutput::take(Line line) {
  vertices_ += line.points.size();
  content_.lines.push_back(std::move(line));
}

void ContentOutput::stroke(GfxState* state) {
  ++drawn_;
  if (masking() || state->getStrokeOpacity() <= 0 || tooMuch()) return;
  Line like;
  like.colour = plainColour(state->getStrokeColorSpace(), *state->getStrokeColor());
  const double scale = scaleOf(state) * mm_;
  like.width = state->getLineWidth() * scale;
  double start = 0;
  for (const double length : state->getLineDash(&start)) like.dash.push_back(length * scale);
  double whole = 0;
  for (const double length : like.dash) whole += length;
  if (whole <= 0) like.dash.clear();
  for (Piece& piece : pathOf(state)) {
    if (piece.points.size() == 1) {
      // Without length: seen where its ends reach beyond it.
      if (state->getLineCap() == 0 || !clips_.back().contains(piece.points.front())) continue;
      content_.dots.push_back(piece.points.front());
      ++content_.strokes;
      continue;
    }
    auto parts = seen(clips_.back(), std::move(piece.points), piece.closed);
    if (!parts.empty()) ++content_.strokes;
    for (Piece& part : parts) {
      Line line = like;
      line.points = std::move(part.points);
      line.closed = part.closed;
      take(std::move(line));
    }
  }
}

void ContentOutput::fillWith(GfxState* state, bool) {
  ++drawn_;
  if (masking() || state->getFillOpacity() <= 0 || tooMuch()) return;
  const Colour colour = plainColour(state->getFillColorSpace(), *state->getFillColor());
  const Clip& clip = clips_.back();
  for (Piece& piece : pathOf(state)) {
    plane::Ring ring = cutOff(clip.box, std::move(piece.points));
    if (ring.size() < 3) continue;
    for (Piece& part : seen(clip, std::move(ring), true))
      take({std::move(part.points), part.closed, true, colour, 0, {}});
  }
}

void ContentOutput::clipToStrokePath(GfxState* state) {
  // A stroke drawn with a pattern: its line is taken, the pattern inside it is not.
  stroke(state);
  clips_.back().box = {};
}

bool ContentOutput::tilingPatternFill(GfxState*, Gfx*, Catalog*, GfxTilingPattern*, const double*, int x0, int y0,
                                      int x1, int y1, double, double) {
  // Hatches are drawn tile by tile; one of more tiles than could be told apart is left out.
  constexpr double kMostTiles = 100'000;
  return masking() || clips_.back().box.empty() || (double(x1) - x0) * (double(y1) - y0) > kMostTiles || tooMuch();
}

void ContentOutput::beginString(GfxState* state, const GooString*) {
  continues_ = text_.has_value();
  if (!state->getFont()) keepText();
}

void ContentOutput::endString(GfxState*) {
  continues_ = false;
}

void ContentOutput::drawChar(GfxState* state, double x, double y, double dx, double dy, double, double, CharCode, int,
                             const Unicode* u, int length) {
  ++drawn_;
  const bool hidden = (state->getRender() & 3) == 3 || ((state->getRender() & 3) == 0 && state->getFillOpacity() <= 0);
  if (masking() || hidden || tooMuch()) return;
  const Vec2 from = place(state, x, y), to = place(state, x + dx, y + dy);
  if (!(std::abs(from.x) < 1e7 && std::abs(from.y) < 1e7)) return;
  if (continues_) {
    // The first letter of a string: behind the one before, or somewhere else.
    continues_ = false;
    const Vec2 along = text_->end - text_->at, gap = from - text_->end;
    const double length2 = plane::norm(along), size = text_->size;
    const double forth = length2 > 0 ? plane::dot(along, gap) / length2 : 0;
    const double aside = length2 > 0 ? std::abs(plane::cross(along, gap)) / length2 : plane::norm(gap);
    if (length2 <= 0 || std::abs(forth) > kApart * size || aside > 0.05 * size) keepText();
  }
  if (!text_) {
    text_ = Text{"", from, from, state->getTransformedFontSize() * mm_,
                 plainColour(state->getFillColorSpace(), *state->getFillColor())};
    textSeen_ = false;
  }
  for (int i = 0; i < length; ++i) appendUtf8(text_->text, u[i]);
  text_->end = to;
  textSeen_ = textSeen_ || clips_.back().contains(0.5 * (from + to));
}

void ContentOutput::keepText() {
  if (!text_) return;
  Text text = std::move(*text_);
  text_.reset();
  continues_ = false;
  text.text = oneLine(std::move(text.text));
  const auto first = text.text.find_first_not_of(' ');
  if (!textSeen_ || first == std::string::npos) return;
  text.text = text.text.substr(first, text.text.find_last_not_of(' ') + 1 - first);
  vertices_ += 1 + text.text.size() / 16;
  content_.texts.push_back(std::move(text));
}

void ContentOutput::countImage(GfxState* state) {
  ++drawn_;
  Box box;
  for (const Vec2 corner : {Vec2{0, 0}, Vec2{1, 0}, Vec2{1, 1}, Vec2{0, 1}}) box.add(place(state, corner.x, corner.y));
  if (!masking() && clips_.back().box.overlaps(box)) ++content_.images;
}

void ContentOutput::drawImageMask(GfxState* state, Object* ref, Stream* str, int width, int height, bool invert,
                                  bool interpolate, bool inlined) {
  countImage(state);
  // One that stands among the operations has to be read past.
  if (inlined) OutputDev::drawImageMask(state, ref, str, width, height, invert, interpolate, inlined);
}

void ContentOutput::drawImage(GfxState* state, Object* ref, Stream* str, int width, int height,
                              GfxImageColorMap* colours, bool interpolate, const int* maskColours, bool inlined) {
  countImage(state);
  if (inlined) OutputDev::drawImage(state, ref, str, width, height, colours, interpolate, maskColours, inlined);
}

void ContentOutput::beginTransparencyGroup(GfxState*, const double*, GfxColorSpace*, bool, bool, bool forSoftMask) {
  groups_.push_back(forSoftMask);
  if (forSoftMask) ++masks_;
}

void ContentOutput::endTransparencyGroup(GfxState*) {
  if (groups_.empty()) return;
  if (groups_.back()) --masks_;
  groups_.pop_back();
}

void ContentOutput::finish() {
  keepText();
}

}  // namespace inselberg::sheet
