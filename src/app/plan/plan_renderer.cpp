// Triangles are drawn into a buffer of triangle numbers, in bands of rows that run in parallel; colours are looked up
// from the triangle under each pixel. The same buffers of two grounds give the depth map. Lines (contours, triangles)
// are drawn into a layer of their own. Buffers and layers are kept: while works are dragged, only their pending facets
// are drawn anew, over a ground that stays as it is.
#include "plan/plan_renderer.h"

#include <QPainter>
#include <QPainterPath>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>
#include <optional>

#include "base/parallel.h"
#include "base/quantity.h"
#include "canvas/ground_colours.h"
#include "canvas/label.h"
#include "canvas/source_layer.h"
#include "drawing/label_places.h"
#include "ground/smooth.h"
#include "ground/steepness.h"
#include "ground/tin_index.h"
#include "plan/flow_arrows.h"
#include "plane/polygon.h"
#include "quantity/volume.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using plane::Vec2;

}  // namespace

// Which triangle lies under the middle of each pixel.
class TriangleBuffer {
 public:
  TriangleBuffer(const Tin& tin, const ViewTransform& view, int width, int height, double ratio,
                 const Progress& progress)
      : width_(width), numbers_(static_cast<std::size_t>(width) * height, kNone) {
    if (tin.empty()) return;
    const QPointF zero = view.toScreen({0, 0}) * ratio;
    const double scale = view.scale * ratio;
    const auto draw = [&](Index t, int top, int bottom) {
      const ground::Triangle& c = tin.triangles()[t];
      std::array<QPointF, 3> p;
      for (int k = 0; k < 3; ++k) {
        const Vec2 at = tin.plan(c[k]);
        p[k] = {zero.x() + scale * at.x, zero.y() - scale * at.y};
      }
      fill(p, t, top, bottom);
    };
    const plane::Box visible = view.visible(), all = tin.bounds();
    const double seen = std::max(0.0, std::min(visible.maxX, all.maxX) - std::max(visible.minX, all.minX)) *
                        std::max(0.0, std::min(visible.maxY, all.maxY) - std::max(visible.minY, all.minY));
    if (seen > 0.2 * all.width() * all.height()) {
      // Most of the ground is in sight: all triangles in turn, each once. A pixel's middle lies in one triangle only,
      // but for sides that touch it: either number is right there.
      parallelChunks(tin.triangles().size(), 16384, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
        for (std::size_t t = begin; t < end; ++t) draw(static_cast<Index>(t), 0, height);
      });
      return;
    }
    tin.index();
    constexpr int kBand = 64;
    parallelChunks(static_cast<std::size_t>(height), kBand, progress,
                   [&](std::size_t top, std::size_t bottom, std::size_t) {
                     const Vec2 a = view.toPlan({0, static_cast<double>(top) / ratio});
                     const Vec2 b = view.toPlan({width / ratio, static_cast<double>(bottom) / ratio});
                     const std::array<Vec2, 4> band{Vec2{a.x, b.y}, Vec2{b.x, b.y}, Vec2{b.x, a.y}, Vec2{a.x, a.y}};
                     Index last = kNone;
                     tin.index().touching(band, 0, [&](Index t) {
                       if (t == last) return;
                       last = t;
                       draw(t, static_cast<int>(top), static_cast<int>(bottom));
                     });
                   });
  }

  Index at(int x, int y) const { return numbers_[static_cast<std::size_t>(y) * width_ + x]; }

 private:
  void fill(const std::array<QPointF, 3>& p, Index t, int top, int bottom) {
    const double low = std::min({p[0].y(), p[1].y(), p[2].y()}), high = std::max({p[0].y(), p[1].y(), p[2].y()});
    if (high < top || low > bottom) return;
    // Cut to the picture before they become whole numbers: far out, screen positions are beyond those.
    const int y0 = static_cast<int>(std::ceil(std::max(low - 0.5, static_cast<double>(top)))),
              y1 = static_cast<int>(std::floor(std::min(high - 0.5, bottom - 1.0)));
    const double west = std::min({p[0].x(), p[1].x(), p[2].x()}), east = std::max({p[0].x(), p[1].x(), p[2].x()});
    if (east < 0 || west > width_) return;
    const int left = static_cast<int>(std::ceil(std::max(west - 0.5, 0.0))),
              right = static_cast<int>(std::floor(std::min(east - 0.5, width_ - 1.0)));
    if (y0 > y1 || left > right) return;
    // Of a large ground most triangles are this small.
    if (y1 - y0 < 3 && right - left < 3) return fillSmall(p, t, left, right, y0, y1);
    for (int y = y0; y <= y1; ++y) {
      const double v = y + 0.5;
      double x0 = 1e30, x1 = -1e30;
      for (int k = 0, j = 2; k < 3; j = k++) {
        const QPointF &a = p[j], &b = p[k];
        if ((a.y() <= v) == (b.y() <= v)) continue;
        const double x = a.x() + (v - a.y()) / (b.y() - a.y()) * (b.x() - a.x());
        x0 = std::min(x0, x), x1 = std::max(x1, x);
      }
      if (x1 < 0 || x0 > width_) continue;
      const int c0 = static_cast<int>(std::ceil(std::max(x0 - 0.5, 0.0))),
                c1 = static_cast<int>(std::floor(std::min(x1 - 0.5, width_ - 1.0)));
      for (int x = c0; x <= c1; ++x) set(x, y, t);
    }
  }

  // Tells for each pixel by itself on which side of the sides it lies.
  void fillSmall(const std::array<QPointF, 3>& p, Index t, int left, int right, int y0, int y1) {
    constexpr double kOn = 1e-9;  // square pixels: a middle that lies on a side belongs to both
    const auto twice = [](QPointF a, QPointF b, QPointF c) {
      return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
    };
    const double sign = twice(p[0], p[1], p[2]) < 0 ? -1 : 1;
    for (int y = y0; y <= y1; ++y) {
      for (int x = left; x <= right; ++x) {
        const QPointF middle(x + 0.5, y + 0.5);
        if (sign * twice(p[0], p[1], middle) < -kOn || sign * twice(p[1], p[2], middle) < -kOn ||
            sign * twice(p[2], p[0], middle) < -kOn)
          continue;
        set(x, y, t);
      }
    }
  }

  void set(int x, int y, Index t) {
    std::atomic_ref(numbers_[static_cast<std::size_t>(y) * width_ + x]).store(t, std::memory_order_relaxed);
  }

  int width_;
  std::vector<Index> numbers_;
};

namespace {

// Light from the north-west, 45 degrees high.
double lightOn(Vec2 gradient, double exaggeration) {
  const double nx = -exaggeration * gradient.x, ny = -exaggeration * gradient.y;
  const double light = (-nx * 0.5 + ny * 0.5 + 0.7071) / std::sqrt(nx * nx + ny * ny + 1) / 0.7071;
  return std::clamp(0.42 + 0.56 * light, 0.62, 1.08);
}

// The light on each corner of each triangle: so that land that bends evenly shows no triangles, and edges that are
// meant stay sharp.
CornerLights cornerLights(const Tin& tin, double exaggeration, const Progress& progress) {
  const std::vector<Vec2> gradients = ground::cornerGradients(tin, progress);
  CornerLights lights(tin.triangles().size());
  parallelChunks(lights.size(), 8192, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (Index t = static_cast<Index>(begin); t < end; ++t) {
      const Vec2 own = ground::planeOf(tin.corners(t)).gradient;
      for (int k = 0; k < 3; ++k) {
        const Vec2 corner = gradients[tin.triangles()[t][k]];
        lights[t][k] = static_cast<float>(lightOn(own + ground::bent(own, corner) * (corner - own), exaggeration));
      }
    }
  });
  return lights;
}

// Linear over a triangle.
ground::Plane lightOver(std::array<plane::Vec3, 3> corners, const std::array<float, 3>& lights) {
  for (int k = 0; k < 3; ++k) corners[k].z = lights[k];
  return ground::planeOf(corners);
}

QRgb lit(const QColor& colour, double light) {
  const auto part = [&](int v) { return std::clamp(static_cast<int>(v * light), 0, 255); };
  return qRgb(part(colour.red()), part(colour.green()), part(colour.blue()));
}

void drawPath(QPainter& painter, const ground::Contour& line, const ViewTransform& view) {
  QPolygonF points;
  points.reserve(static_cast<int>(line.points.size()) + 1);
  QPointF last;
  for (std::size_t i = 0; i < line.points.size(); ++i) {
    const QPointF q = view.toScreen(line.points[i]);
    if (i > 0 && i + 1 < line.points.size() && std::abs(q.x() - last.x()) + std::abs(q.y() - last.y()) < 1.2) continue;
    points << q;
    last = q;
  }
  if (line.closed && !points.isEmpty()) points << points.front();
  painter.drawPolyline(points);
}

int pixelWidth(const PlanRequest& r) {
  return std::max(1, static_cast<int>(r.view.size.width() * r.pixelRatio));
}
int pixelHeight(const PlanRequest& r) {
  return std::max(1, static_cast<int>(r.view.size.height() * r.pixelRatio));
}

// A premultiplied colour over an opaque one.
QRgb over8(QRgb above, QRgb below) {
  const int rest = 255 - qAlpha(above);
  if (rest == 255) return below;
  return qRgb(qRed(above) + qRed(below) * rest / 255, qGreen(above) + qGreen(below) * rest / 255,
              qBlue(above) + qBlue(below) * rest / 255);
}

void drawContours(QPainter& painter, const std::vector<ground::Contour>& lines, const std::vector<plane::Box>& boxes,
                  const ViewTransform& view, double interval, bool existing, const Progress& progress) {
  const plane::Box visible = view.visible();
  painter.setBrush(Qt::NoBrush);
  for (std::size_t i = 0; i < lines.size(); ++i) {
    if (!boxes[i].overlaps(visible)) continue;
    if ((i & 63) == 0) progress.check();
    QPen pen(existing ? theme::granite() : theme::contour(),
             !existing && ground::isIndexLevel(lines[i].level, interval) ? 1.3 : 0.7);
    if (existing) pen.setDashPattern({5, 4});
    painter.setPen(pen);
    drawPath(painter, lines[i], view);
  }
}

// Not more than can be told apart.
void drawTriangles(QPainter& painter, const Tin& tin, const ViewTransform& view, const Progress& progress) {
  constexpr std::size_t kMost = 60000;
  const plane::Box visible = view.visible();
  painter.setPen(QPen(theme::faded(theme::ink(), 90), 0.6));
  const std::array<Vec2, 4> frame{Vec2{visible.minX, visible.minY}, Vec2{visible.maxX, visible.minY},
                                  Vec2{visible.maxX, visible.maxY}, Vec2{visible.minX, visible.maxY}};
  std::vector<char> drawn(tin.triangles().size(), 0);
  std::size_t count = 0;
  tin.index().touching(frame, 0, [&](Index t) {
    if (drawn[t] || count > kMost) return;
    if ((count & 0xfff) == 0) progress.check();
    drawn[t] = 1;
    ++count;
    const ground::Triangle& c = tin.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][k] != kNone && tin.neighbours()[t][k] < t) continue;
      painter.drawLine(view.toScreen(tin.plan(c[ground::next(k)])), view.toScreen(tin.plan(c[ground::before(k)])));
    }
  });
}

// Pixels on the screen that are as a millimetre on paper: texts of works are spaced by these.
constexpr double kLikeMillimetre = 5.5;

// Labels of works and along contours, clear of each other, of the edge and of the names of works; contours' clear of
// batters as well.
class Labels {
 public:
  Labels(QPainter& painter, const PlanRequest& request, int decimals, PlanPicture& picture)
      : painter_(painter),
        request_(request),
        sight_(request.works),
        decimals_(decimals),
        places_(request.view.visible()),
        picture_(picture) {
    for (const project::PlacedWorks& w : request.works) {
      const QString name = QString::fromStdString(w.works->name);
      places_.take(works::placeOf(w.works->shape), {1, 0},
                   metres(0.6 * painter.fontMetrics().horizontalAdvance(name) + 8), metres(40));
    }
  }

  // Slopes of batters and levels of corners.
  void placeOfWorks() {
    const double mm = metres(kLikeMillimetre), height = metres(painter_.fontMetrics().height());
    const plane::Box box = request_.view.visible();
    const auto width = [&](const std::string& text) {
      return metres(painter_.fontMetrics().horizontalAdvance(QString::fromStdString(text)));
    };
    for (report::SlopeLabel& label : report::slopeLabels(sight_, mm, box)) {
      if (places_.take(label.at, label.along, width(label.text) / 2, height))
        picture_.slopes.push_back(std::move(label));
    }
    for (const plane::Vec3& corner : report::crestCorners(sight_, mm, box)) {
      const double half = width(lengthNumber(corner.z, 2, request_.measures)) / 2;
      for (const Vec2 at : report::besideCorner(corner.plan(), half, mm)) {
        if (!places_.take(at, {1, 0}, half, height)) continue;
        picture_.corners.push_back({corner, at});
        break;
      }
    }
  }

  void place(const ground::Contour& line, double interval) {
    const double half = metres(widthOf(line.level) / 2), height = metres(painter_.fontMetrics().height());
    const ground::LabelSpacing spacing{half, metres(2.5), metres(60), metres(600), metres(12)};
    ground::labelContour(line, *request_.shown, height, interval, spacing, [&](const auto& label) {
      if (!request_.view.visible().contains(label.at)) return false;
      for (const double t : {-1.0, 0.0, 1.0}) {
        const Vec2 p = label.at + (t * half) * label.along;
        if (sight_.onBatter(p) || (request_.pending && request_.pending->locate(p) != kNone)) return false;
      }
      if (overEdge(label, half, height) || !places_.take(label.at, label.along, half + metres(10), height + metres(8)))
        return false;
      write(label);
      return true;
    });
  }

  void place(const ground::ContourLabel& label) {
    if (places_.take(label.at, label.along, metres(widthOf(label.level) / 2), metres(painter_.fontMetrics().height())))
      write(label);
  }

 private:
  double metres(double pixels) const { return pixels / request_.view.scale; }
  QString textOf(double level) const {
    return QString::fromStdString(lengthNumber(level, decimals_, request_.measures));
  }
  double widthOf(double level) const { return painter_.fontMetrics().horizontalAdvance(textOf(level)) + 6; }

  // Whether the window's edge would cut it.
  bool overEdge(const ground::ContourLabel& label, double half, double height) const {
    const auto corners = ground::cornersOf(label, half, height);
    const auto seen =
        std::count_if(corners.begin(), corners.end(), [&](Vec2 p) { return request_.window.contains(p); });
    return seen % 4 != 0;
  }

  void write(const ground::ContourLabel& label) {
    picture_.labels.push_back(label);
    const double width = widthOf(label.level), height = painter_.fontMetrics().height();
    painter_.save();
    painter_.translate(request_.view.toScreen(label.at));
    painter_.rotate(-std::atan2(label.along.y, label.along.x) * 180 / std::numbers::pi);
    const QRectF plate(-width / 2 + 1, -height / 2 + 2, width - 2, height - 4);
    paintOnPlate(painter_, plate, textOf(label.level), 200);
    painter_.restore();
  }

  QPainter& painter_;
  const PlanRequest& request_;
  report::WorksInSight sight_;
  int decimals_;
  drawing::LabelPlaces places_;
  PlanPicture& picture_;
};

}  // namespace

PlanRenderer::PlanRenderer() = default;
PlanRenderer::~PlanRenderer() = default;

const PlanRenderer::Contours& PlanRenderer::contoursOf(const ground::TinPtr& tin, double interval,
                                                       const Progress& progress) {
  for (Contours& k : contours_) {
    if (k.tin == tin && k.interval == interval) {
      k.used = round_;
      return k;
    }
  }
  Contours fresh{tin, interval, ground::contours(*tin, ground::contourLevels(*tin, interval), progress), {}, round_};
  for (const auto& line : fresh.lines) fresh.boxes.push_back(plane::boundsOf(line.points));
  std::erase_if(contours_, [&](const Contours& k) { return k.used + 2 < round_; });
  contours_.push_back(std::move(fresh));
  return contours_.back();
}

const TriangleBuffer& PlanRenderer::bufferOf(Layer& layer, const ground::TinPtr& tin, const PlanRequest& r,
                                             const Progress& progress) {
  if (layer.tin != tin || layer.view != r.view || layer.pixelRatio != r.pixelRatio) {
    layer.triangles =
        std::make_unique<TriangleBuffer>(*tin, r.view, pixelWidth(r), pixelHeight(r), r.pixelRatio, progress);
    layer.tin = tin, layer.view = r.view, layer.pixelRatio = r.pixelRatio;
  }
  return *layer.triangles;
}

const CornerLights& PlanRenderer::lightsOf(Layer& layer, double exaggeration, const Progress& progress) {
  if (layer.litTin != layer.tin || layer.exaggeration != exaggeration) {
    layer.lights = cornerLights(*layer.tin, exaggeration, progress);
    layer.litTin = layer.tin, layer.exaggeration = exaggeration;
  }
  return layer.lights;
}

const QImage& PlanRenderer::linesOf(Lines& lines, const ground::TinPtr& tin, bool existing, double interval,
                                    const PlanRequest& r, const Progress& progress) {
  const bool triangles = r.triangles && !existing;
  if (lines.tin == tin && lines.view == r.view && lines.pixelRatio == r.pixelRatio && lines.interval == interval &&
      lines.existing == existing && lines.contours == r.contours && lines.triangles == triangles) {
    return lines.image;
  }
  QImage image(pixelWidth(r), pixelHeight(r), QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(r.pixelRatio);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  painter.setRenderHint(QPainter::Antialiasing);
  if (triangles) drawTriangles(painter, *tin, r.view, progress);
  if (r.contours) {
    const Contours& k = contoursOf(tin, interval, progress);
    drawContours(painter, k.lines, k.boxes, r.view, interval, existing, progress);
  }
  lines = {tin, r.view, r.pixelRatio, interval, existing, r.contours, triangles, image};
  return lines.image;
}

namespace {

constexpr std::int16_t kNoBand = 0x7fff;

// Lines between bands, the zero line heavy: the map reads in greyscale too. `bands` has the band of each pixel.
void drawBandLines(QImage& image, const std::vector<std::int16_t>& bands, const Progress& progress) {
  const int width = image.width();
  const QRgb heavy = theme::ink().rgb(), light = qPremultiply(theme::faded(theme::ink(), 90).rgba());
  uchar* const pixels = image.bits();
  const auto rows = static_cast<std::size_t>(std::max(0, image.height() - 1));
  parallelChunks(rows, 32, progress, [&](std::size_t top, std::size_t bottom, std::size_t) {
    for (std::size_t y = top; y < bottom; ++y) {
      QRgb* row = reinterpret_cast<QRgb*>(pixels + y * static_cast<std::size_t>(image.bytesPerLine()));
      const std::int16_t* own = &bands[y * width];
      for (int x = 0; x + 1 < width; ++x) {
        if (own[x] == kNoBand) continue;
        for (const std::int16_t other : {own[x + 1], own[x + width]}) {
          if (other == own[x] || other == kNoBand) continue;
          const bool zero = (other < 0) != (own[x] < 0);
          row[x] = zero ? heavy : over8(light, row[x]);
          if (zero) row[x + 1] = heavy;
        }
      }
    }
  });
}

// Of works in colours of their own; null without any.
QImage tintsOf(const PlanRequest& r) {
  if (r.tints.empty()) return {};
  QImage image(pixelWidth(r), pixelHeight(r), QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(r.pixelRatio);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  paintTints(painter, r.tints, r.view);
  return image;
}

// How a triangle is painted.
struct Shade {
  Index number = kNone;
  const Tin* of = nullptr;
  ground::Plane plane{}, light{};
  bool even = false;  // one colour all over
  QRgb colour = 0;    // that
};
struct Shading {
  PlanMode mode;
  const SteepnessLimits& limits;
  double lowest, relief, perPixel;  // m

  QRgb land(double level, double light) const { return grass(std::clamp((level - lowest) / relief, 0.0, 1.0), light); }
  Shade of(const Tin& tin, Index t, const std::array<float, 3>& light) const {
    constexpr double kEven = 6;  // pixels; smaller ones do not show how light changes over them
    const auto corners = tin.corners(t);
    Shade shade{t, &tin, ground::planeOf(corners), {}, mode == PlanMode::steepness, 0};
    const double area = plane::turn(corners[0].plan(), corners[1].plan(), corners[2].plan()) / 2;
    if (mode == PlanMode::steepness) {
      const auto steep = static_cast<double>(ground::bandOf(plane::norm(shade.plane.gradient), limits));
      shade.colour = theme::steepnessColour(steep / static_cast<double>(limits.size())).rgb();
    } else if (mode != PlanMode::levels && area < kEven * perPixel * perPixel) {
      shade.even = true;
      shade.colour = land(shade.plane.level, (light[0] + light[1] + light[2]) / 3.0);
    } else {
      shade.light = lightOver(corners, light);
    }
    return shade;
  }
};

}  // namespace

void PlanRenderer::colour(const PlanRequest& r, QImage& image, const QImage* lines, double greatest,
                          const Progress& progress) {
  const Tin& tin = *r.shown;
  const double ratio = r.pixelRatio;
  const int width = image.width(), height = image.height();
  const TriangleBuffer& shown = bufferOf(shown_, r.shown, r, progress);
  std::optional<TriangleBuffer> pending;
  if (r.pending) pending.emplace(*r.pending, r.view, width, height, ratio, progress);
  const bool depth = r.mode == PlanMode::depth && r.beneath;
  const TriangleBuffer* beneath = depth ? &bufferOf(beneath_, r.beneath, r, progress) : nullptr;
  // Tones and light follow the ground beneath, so that they stay as they are while works are dragged.
  const Tin& steady = r.beneath ? *r.beneath : tin;
  const double lowest = steady.minLevel(), relief = std::max(steady.maxLevel() - lowest, 0.01),
               exaggeration = slopesRaised(steady);
  const CornerLights& lights = lightsOf(shown_, exaggeration, progress);
  const CornerLights ofPending = r.pending ? cornerLights(*r.pending, exaggeration, progress) : CornerLights();
  const LevelBands levels = levelBands(steady);
  std::vector<std::array<QRgb, 2>> scale;
  constexpr int kSteps = 256;
  for (int i = 0; i < kSteps; ++i) {
    scale.push_back({theme::depthColour(-i / 255.0, 1).rgb(), theme::depthColour(i / 255.0, 1).rgb()});
  }
  const std::array<QRgb, 2> beyondTolerance{theme::beyondTolerance(-1).rgb(), theme::beyondTolerance(1).rgb()};
  std::vector<QColor> tints;
  for (int i = 0; i < levels.count; ++i) tints.push_back(theme::levelColour(levels.along(i)));
  // What lies in the middle of pixel x, y.
  const double perPixel = 1 / (r.view.scale * ratio);
  const Shading shading{r.mode, r.steepness, lowest, relief, perPixel};
  const Vec2 corner = r.view.toPlan({0, 0});
  const double left = corner.x, upper = corner.y;
  const QImage tinted = tintsOf(r);
  const double band = depthBand(greatest);
  constexpr double kSame = 1e-5;  // m: where depths are at the edge of a band all over, rounding draws no line
  std::vector<std::int16_t> bands(depth ? static_cast<std::size_t>(width) * height : 0, kNoBand);
  parallelChunks(static_cast<std::size_t>(height), 32, progress, [&](std::size_t top, std::size_t bottom, std::size_t) {
    Shade now;
    Index under = kNone;  // whose plane this is
    ground::Plane underPlane{};
    for (int y = static_cast<int>(top); y < static_cast<int>(bottom); ++y) {
      QRgb* row = reinterpret_cast<QRgb*>(image.scanLine(y));
      const QRgb* tintRow = tinted.isNull() ? nullptr : reinterpret_cast<const QRgb*>(tinted.constScanLine(y));
      const QRgb* lineRow = lines ? reinterpret_cast<const QRgb*>(lines->constScanLine(y)) : nullptr;
      for (int x = 0; x < width; ++x) {
        const Index over = pending ? pending->at(x, y) : kNone;
        const Tin& of = over != kNone ? *r.pending : tin;
        const Index t = over != kNone ? over : shown.at(x, y);
        if (t == kNone) continue;
        if (t != now.number || &of != now.of) {
          now = shading.of(of, t, (over != kNone ? ofPending : lights)[t]);
        }
        const Vec2 p{left + (x + 0.5) * perPixel, upper - (y + 0.5) * perPixel};
        QRgb out = now.colour;
        if (r.mode == PlanMode::levels) {
          out = lit(tints[static_cast<std::size_t>(levels.at(now.plane(p)))], now.light(p));
        } else if (!now.even) {
          out = shading.land(now.plane(p), now.light(p));
        }
        if (const Index u = depth ? beneath->at(x, y) : kNone; u != kNone) {
          if (u != under) under = u, underPlane = ground::planeOf(r.beneath->corners(u));
          const double d = now.plane(p) - underPlane(p);
          if (r.tolerance > 0) {
            const int beyond = d > r.tolerance ? 1 : d < -r.tolerance ? -1 : 0;
            if (beyond != 0) out = beyondTolerance[beyond > 0 ? 1 : 0];
            bands[static_cast<std::size_t>(y) * width + x] = static_cast<std::int16_t>(beyond + 1);
          } else if (std::abs(d) > kLeastDepth && r.lit != (d > 0 ? Lit::cut : Lit::fill)) {
            out = scale[std::min(kSteps - 1, static_cast<int>(std::abs(d) / greatest * (kSteps - 1)))][d > 0 ? 1 : 0];
            bands[static_cast<std::size_t>(y) * width + x] =
                static_cast<std::int16_t>(std::clamp(std::floor((d + kSame) / band), -3e4, 3e4));
          }
        }
        if (tintRow) out = over8(tintRow[x], out);
        if (lineRow && over == kNone) out = over8(lineRow[x], out);
        row[x] = out;
      }
    }
  });
  if (depth) drawBandLines(image, bands, progress);
}

PlanPicture PlanRenderer::render(const PlanRequest& r, const Progress& progress) {
  ++round_;
  PlanPicture picture{
      QImage(pixelWidth(r), pixelHeight(r), QImage::Format_RGB32), r.view, r.mode, r.interval, 1, {}, {}, {}, {}};
  picture.image.setDevicePixelRatio(r.pixelRatio);
  picture.image.fill(theme::paper());
  if (r.shown && !r.shown->empty()) paintGround(r, picture, progress);
  QPainter painter(&picture.image);
  if (const QImage& sheets = sheets_.of(r.sheets, r.view, r.pixelRatio, progress); !sheets.isNull()) {
    const bool dark = theme::current() == theme::Theme::dark;
    painter.setCompositionMode(dark ? QPainter::CompositionMode_Screen : QPainter::CompositionMode_Multiply);
    painter.drawImage(0, 0, sheets);
    painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
  }
  paintSurvey(painter, r, progress);
  picture.hachures = hachures(r, progress);
  return picture;
}

// Strokes are kept while the works, the scale (nearly) and the area stay the same.
std::vector<works::HachureStroke> PlanRenderer::hachures(const PlanRequest& r, const Progress& progress) {
  std::vector<works::HachureStroke> all;
  const plane::Box visible = r.view.visible();
  std::unordered_map<WorksId, Hachures> used;
  for (const project::PlacedWorks& works : r.works) {
    progress.check();
    Hachures& kept = hachures_[works.works->id];
    const bool fits =
        kept.area.contains({visible.minX, visible.minY}) && kept.area.contains({visible.maxX, visible.maxY});
    if (kept.of != works.placement || !fits || kept.scale < 0.8 * r.view.scale || kept.scale > 1.25 * r.view.scale) {
      kept = {works.placement, r.view.scale, visible.grown(std::max(visible.width(), visible.height()) / 2), {}};
      kept.strokes = works::hachuresOf(*works.placement, kept.scale, kept.area);
    }
    all.insert(all.end(), kept.strokes.begin(), kept.strokes.end());
    used[works.works->id] = std::move(kept);
  }
  hachures_ = std::move(used);
  return all;
}

double PlanRenderer::greatestDepth(const PlanRequest& r, const Progress& progress) {
  if (r.mode != PlanMode::depth || !r.beneath) return 1;
  if (r.greatestDepth) return *r.greatestDepth;
  if (depth_.from != r.beneath || depth_.to != r.shown) {
    const quantity::Volume v = quantity::volumeBetween(*r.beneath, *r.shown, {}, progress);
    depth_ = {r.beneath, r.shown, std::max({0.5, v.maxCut, v.maxFill})};
  }
  return depth_.greatest;
}

void PlanRenderer::paintGround(const PlanRequest& r, PlanPicture& picture, const Progress& progress) {
  const double interval = r.interval > 0 ? r.interval : ground::proposedInterval(*r.shown, r.measures);
  picture.interval = interval;
  const QImage* lines =
      r.contours || r.triangles ? &linesOf(shownLines_, r.shown, false, interval, r, progress) : nullptr;
  picture.greatestDepth = greatestDepth(r, progress);
  colour(r, picture.image, lines, picture.greatestDepth, progress);

  QPainter painter(&picture.image);
  painter.setRenderHint(QPainter::Antialiasing);
  if (r.contours && r.beneath) painter.drawImage(0, 0, linesOf(beneathLines_, r.beneath, true, interval, r, progress));
  if (r.pending) {
    if (r.triangles) drawTriangles(painter, *r.pending, r.view, progress);
    if (r.contours) {
      const auto fresh = ground::contours(*r.pending, ground::contourLevels(*r.pending, interval), progress);
      std::vector<plane::Box> boxes;
      for (const auto& line : fresh) boxes.push_back(plane::boundsOf(line.points));
      drawContours(painter, fresh, boxes, r.view, interval, false, progress);
    }
  }
  if (r.flow) {
    const auto surface = [&](Vec2 p) -> std::optional<ground::Plane> {
      for (const Tin* tin : {r.pending.get(), r.shown.get()}) {
        const Index t = tin ? tin->locate(p) : kNone;
        if (t != kNone) return ground::planeOf(tin->corners(t));
      }
      return std::nullopt;
    };
    paintFlow(painter, surface, r.view);
  }
  QFont font("DejaVu Sans");
  font.setPixelSize(theme::pixels(10));
  painter.setFont(font);
  Labels labels(painter, r, ground::decimalsOf(interval / lengthUnit(r.measures)), picture);
  if (r.worksLabels) labels.placeOfWorks();
  if (r.contours) {
    const Contours& k = contoursOf(r.shown, interval, progress);
    const plane::Box visible = r.view.visible();
    for (const auto& line : r.labelLines) {
      for (const auto& label : ground::labelsAlong(k.lines, line)) labels.place(label);
    }
    if (!r.labelLines.empty()) return;
    for (std::size_t i = 0; i < k.lines.size(); ++i) {
      if (k.boxes[i].overlaps(visible) && ground::isIndexLevel(k.lines[i].level, interval))
        labels.place(k.lines[i], interval);
    }
  }
}

// The sources in a layer of their own, which stays while the ground under them changes.
void PlanRenderer::paintSurvey(QPainter& painter, const PlanRequest& r, const Progress& progress) {
  if (r.sources.empty()) return;
  if (survey_.sources != r.sources || survey_.view != r.view || survey_.pixelRatio != r.pixelRatio) {
    QImage image(pixelWidth(r), pixelHeight(r), QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(r.pixelRatio);
    image.fill(Qt::transparent);
    QPainter inner(&image);
    inner.setRenderHint(QPainter::Antialiasing);
    paintSources(inner, r.sources, r.view, progress);
    inner.end();
    survey_ = {r.sources, r.view, r.pixelRatio, image};
  }
  painter.drawImage(0, 0, survey_.image);
}

}  // namespace inselberg::app
