#include "report/plan_drawing.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/quantity.h"
#include "drawing/inks.h"
#include "drawing/label_places.h"
#include "exchange/dxf_write.h"
#include "ground/contour_labels.h"
#include "plane/boxes.h"
#include "project/design_doubts.h"
#include "report/depth_places.h"
#include "report/ledger.h"
#include "report/plan_page.h"
#include "report/works_labels.h"
#include "works/hachures.h"
#include "works/handles.h"

namespace inselberg::report {
namespace {

using drawing::kCut;
using drawing::kFill;
using drawing::kInk;
using drawing::kMuted;
using drawing::Pen;
using plane::Box;
using plane::Vec2;
using plane::Vec3;
using project::PlacedWorks;

constexpr double kLabelEvery = 120;  // mm on paper
constexpr drawing::Colour kContour = 0x5b4b3a, kGranite = 0x8a7a66, kDaylight = 0x6a3d9a, kError = 0xb3261e,
                          kRegion = 0x14808a;

// Texts on paper, at the plan's scale.
class Taken {
 public:
  Taken(double mm, Box inside) : mm_(mm), places_(inside) {}

  // Takes the place of a text, unless some of it is taken or lies over the edge.
  bool take(const PlanText& text) {
    const double angle = text.turned * std::numbers::pi / 180;
    return places_.take(text.at.plan(), {std::cos(angle), std::sin(angle)}, halfWidth(text), text.height * mm_);
  }
  // m
  double halfWidth(const PlanText& text) const { return 0.5 * drawing::widthOf(text.text, text.height) * mm_; }

 private:
  double mm_;  // m on the ground
  drawing::LabelPlaces places_;
};

class Drafting {
 public:
  Drafting(const project::Evaluation& evaluation, GroundId ground, const PlanRules& rules, const Progress& progress)
      : evaluation_(evaluation),
        project_(*evaluation.project),
        ground_(*evaluation.ground(ground)),
        rules_(rules),
        progress_(progress) {
    plan_.title = project_.name;
    plan_.ground = project_.ground(ground)->name;
    plan_.extent = rules.window.value_or(ground_.tin->bounds());
    plan_.interval = rules.interval > 0 ? rules.interval : ground::proposedInterval(*ground_.tin, rules.measures);
    plan_.measures = rules.measures;
    plan_.scale = rules.scale > 0 ? rules.scale : scaleFitting(plan_.extent);
    works_ = evaluation_.worksShown(ground);
  }

  PlanDrawing drawn() {
    Taken taken(mm(), plan_.extent);
    const auto* existing = evaluation_.surveyed();
    if (existing && existing->tin && existing->id != ground_.id)
      contours("existing contours", *existing->tin, Pen{kGranite, 0.13, {1.5, 0.8}}, std::nullopt);
    const std::vector<ground::Contour> lines =
        contours(plan_.ground + " contours", *ground_.tin, Pen{kContour, 0.13}, Pen{kContour, 0.3});
    areas();
    worksLines();
    names(taken);
    slopes(taken);
    corners(taken);
    contourLabels(lines, taken);
    if (rules_.depths > 0) depths(taken);
    if (rules_.window) {
      for (PlanLayer& l : plan_.layers) l.lines = linesWithin(*rules_.window, l.lines);
    }
    return std::move(plan_);
  }

 private:
  double mm() const { return plan_.scale / 1000; }
  WorksInSight sight() const { return WorksInSight(works_); }

  PlanLayer& layer(const std::string& name, Pen pen) {
    plan_.layers.push_back({name, std::move(pen), {}, {}});
    return plan_.layers.back();
  }

  std::vector<ground::Contour> contours(const std::string& name, const ground::Tin& tin, const Pen& pen,
                                        const std::optional<Pen>& index) {
    auto lines = ground::contours(tin, ground::contourLevels(tin, plan_.interval), progress_);
    PlanLayer plain{name, pen, {}, {}}, heavy{plan_.ground + " index contours", index.value_or(pen), {}, {}};
    for (const ground::Contour& c : lines) {
      works::Line3 line;
      line.closed = c.closed;
      for (const Vec2 p : c.points) line.points.push_back({p.x, p.y, c.level});
      const bool isIndex = index && ground::isIndexLevel(c.level, plan_.interval);
      (isIndex ? heavy : plain).lines.push_back(std::move(line));
    }
    plan_.layers.push_back(std::move(plain));
    if (index) plan_.layers.push_back(std::move(heavy));
    return lines;
  }

  static works::Line3 ringOf(const plane::Ring& ring) {
    works::Line3 line;
    line.closed = true;
    for (const Vec2 p : ring) line.points.push_back({p.x, p.y, 0});
    return line;
  }

  void areas() {
    PlanLayer boundary{"boundary", Pen{kMuted, 0.35, {6, 1.5, 1, 1.5}}, {}, {}};
    PlanLayer regions{"regions", Pen{kRegion, 0.3, {4, 1.5}}, {}, {}};
    const auto add = [](PlanLayer& to, const plane::Polygon& polygon) {
      to.lines.push_back(ringOf(polygon.outer));
      for (const plane::Ring& hole : polygon.holes) to.lines.push_back(ringOf(hole));
    };
    for (const plane::Polygon& part : project::siteOf(project_)) add(boundary, part);
    for (const project::Region& region : project_.stages.regions) add(regions, region.area);
    for (PlanLayer* made : {&boundary, &regions}) {
      if (!made->lines.empty()) plan_.layers.push_back(std::move(*made));
    }
  }

  void worksLines() {
    PlanLayer ticks{"batter ticks", Pen{kInk, 0.1}, {}, {}}, daylight{"daylight", Pen{kDaylight, 0.2}, {}, {}},
        ends{"batters not at daylight", Pen{kError, 0.3, {1, 1}}, {}, {}}, crests{"crests", Pen{kInk, 0.4}, {}, {}};
    const double perMetre = 5 / mm();  // a fifth of a millimetre is one
    for (const PlacedWorks& w : works_) {
      const works::Placement& placed = *w.placement;
      for (const works::HachureStroke& s : works::hachuresOf(placed, perMetre, plan_.extent)) {
        if (sight().shows(w, 0.5 * (s.top + s.end)))
          ticks.lines.push_back({{{s.top.x, s.top.y, 0}, {s.end.x, s.end.y, 0}}, false});
      }
      for (const auto& [to, from] :
           {std::pair{&daylight, &placed.daylight}, {&ends, &placed.ends}, {&crests, &placed.crests}})
        to->lines.insert(to->lines.end(), from->begin(), from->end());
    }
    for (PlanLayer* made : {&ticks, &daylight, &ends, &crests}) {
      if (!made->lines.empty()) plan_.layers.push_back(std::move(*made));
    }
  }

  Vec3 lifted(Vec2 p) const { return {p.x, p.y, ground_.tin->levelAt(p).value_or(0)}; }

  // Names with the levels that works are known by, and the arrows of their falls.
  void names(Taken& taken) {
    PlanLayer& labels = layer("labels", Pen{kInk, 0.2});
    PlanLayer falls{"falls", Pen{kInk, 0.25}, {}, {}};
    for (const PlacedWorks& w : works_) {
      const Vec2 place = works::placeOf(w.works->shape);
      PlanText name{lifted(place), w.works->name, 2.6, 0, true};
      auto level = works::levelOf(w.works->shape);
      for (const works::Figure& figure : w.placement->figures) {
        if (!level && figure.measure == works::Measure::level) level = figure.value;
      }
      if (level) name.text += "  " + lengthNumber(*level, 2, rules_.measures);
      for (const double aside : {0.0, 5.0, -5.0, 10.0, -10.0}) {
        name.at = lifted(place + Vec2{0, aside * mm()});
        if (!taken.take(name)) continue;
        labels.texts.push_back(name);
        break;
      }
      const auto fall = works::fallOf(w.works->shape, *w.placement);
      if (!fall || fall->percent <= 0) continue;
      const Vec2 tip = works::fallTip(w.works->shape, *fall);
      if (!(plane::distance(fall->at, tip) > 4 * mm())) continue;
      const Vec2 along = plane::unit(tip - fall->at), right = plane::rightOf(along);
      falls.lines.push_back({{lifted(fall->at), lifted(tip)}, false});
      const Vec2 back = tip - (2 * mm()) * along;
      falls.lines.push_back(
          {{lifted(back + (0.8 * mm()) * right), lifted(tip), lifted(back - (0.8 * mm()) * right)}, false});
      const PlanText percent{lifted(tip + (3 * mm()) * along), formatNumber(fall->percent, 1) + " %", 2, 0, true};
      if (taken.take(percent)) falls.texts.push_back(percent);
    }
    if (!falls.lines.empty()) plan_.layers.push_back(std::move(falls));
  }

  void slopes(Taken& taken) {
    PlanLayer texts{"slopes", Pen{kInk, 0.2}, {}, {}};
    for (const SlopeLabel& label : slopeLabels(sight(), mm(), plan_.extent)) {
      const PlanText text{lifted(label.at), label.text, 1.8,
                          std::atan2(label.along.y, label.along.x) * 180 / std::numbers::pi, true};
      if (taken.take(text)) texts.texts.push_back(text);
    }
    if (!texts.texts.empty()) plan_.layers.push_back(std::move(texts));
  }

  // Levels of the corners of crests, beside a cross.
  void corners(Taken& taken) {
    PlanLayer texts{"spot levels", Pen{kInk, 0.2}, {}, {}};
    for (const Vec3& p : crestCorners(sight(), mm(), plan_.extent)) {
      PlanText text{p, lengthNumber(p.z, 2, rules_.measures), 1.8, 0, true};
      for (const Vec2 at : besideCorner(p.plan(), taken.halfWidth(text), mm())) {
        text.at = {at.x, at.y, p.z};
        if (!taken.take(text)) continue;
        const double r = 0.7 * mm();
        texts.lines.push_back({{{p.x - r, p.y, p.z}, {p.x + r, p.y, p.z}}, false});
        texts.lines.push_back({{{p.x, p.y - r, p.z}, {p.x, p.y + r, p.z}}, false});
        texts.texts.push_back(text);
        break;
      }
    }
    if (!texts.texts.empty()) plan_.layers.push_back(std::move(texts));
  }

  // Off the batters.
  void contourLabels(const std::vector<ground::Contour>& lines, Taken& taken) {
    PlanLayer& texts = layer("contour labels", Pen{kContour, 0.2});
    const int decimals = ground::decimalsOf(plan_.interval / lengthUnit(rules_.measures));
    for (const ground::Contour& c : lines) {
      if (!ground::isIndexLevel(c.level, plan_.interval)) continue;
      progress_.check();
      PlanText text{{0, 0, c.level}, lengthNumber(c.level, decimals, rules_.measures), 1.9, 0, true};
      const double half = taken.halfWidth(text);
      const ground::LabelSpacing spacing{half, 0.8 * mm(), 0.25 * kLabelEvery * mm(), kLabelEvery * mm(), 4 * mm()};
      ground::labelContour(c, *ground_.tin, text.height * mm(), plan_.interval, spacing, [&](const auto& label) {
        for (const double t : {-1.0, 0.0, 1.0}) {
          if (sight().onBatter(label.at + (t * half) * label.along)) return false;
        }
        text.at.x = label.at.x, text.at.y = label.at.y;
        text.turned = std::atan2(label.along.y, label.along.x) * 180 / std::numbers::pi;
        if (!taken.take(text)) return false;
        texts.texts.push_back(text);
        return true;
      });
    }
  }

  // Where they are greatest, larger; then at even coordinates of the site, so that sheets and set-out agree. Less than
  // a centimetre is not told.
  void depths(Taken& taken) {
    const auto* from = evaluation_.ground(rules_.depthsFrom);
    if (!from || !from->tin) return;
    PlanLayer cut{"cut depths", Pen{kCut, 0.2}, {}, {}}, fill{"fill depths", Pen{kFill, 0.2}, {}, {}};
    const double step = rules_.depths;
    const plane::Origin& o = project_.origin;
    const auto write = [&](Vec2 p, double height) {
      const auto a = from->tin->levelAt(p), b = ground_.tin->levelAt(p);
      if (!a || !b || std::abs(*b - *a) < 0.005) return;
      const PlanText text{{p.x, p.y, *b}, depthText(*b - *a, rules_.measures), height, 0, true};
      if (taken.take(text)) (*b > *a ? fill : cut).texts.push_back(text);
    };
    for (const Vec2 p : deepestPlaces(evaluation_, from->id, ground_.id)) write(p, 2.2);
    for (double n = std::ceil((plan_.extent.minY + o.northing) / step) * step; n <= plan_.extent.maxY + o.northing;
         n += step) {
      progress_.check();
      for (double e = std::ceil((plan_.extent.minX + o.easting) / step) * step; e <= plan_.extent.maxX + o.easting;
           e += step) {
        write({e - o.easting, n - o.northing}, 1.7);
      }
    }
    for (PlanLayer* made : {&cut, &fill}) {
      if (!made->texts.empty()) plan_.layers.push_back(std::move(*made));
    }
  }

  const project::Evaluation& evaluation_;
  const project::Project& project_;
  const project::EvaluatedGround& ground_;
  const PlanRules& rules_;
  const Progress& progress_;
  std::vector<PlacedWorks> works_;  // up to this ground in the column
  PlanDrawing plan_;
};

}  // namespace

std::vector<works::Line3> linesWithin(const Box& box, const std::vector<works::Line3>& lines) {
  std::vector<works::Line3> kept;
  for (const works::Line3& line : lines) {
    Box own;
    for (const Vec3& p : line.points) own.add(p.plan());
    if (!own.overlaps(box)) continue;
    if (box.contains({own.minX, own.minY}) && box.contains({own.maxX, own.maxY})) {
      kept.push_back(line);
      continue;
    }
    works::Line3 part;
    const auto close = [&] {
      if (part.points.size() > 1) kept.push_back(std::move(part));
      part = {};
    };
    const std::size_t n = line.points.size();
    for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i) {
      const Vec3 a = line.points[i], b = line.points[(i + 1) % n];
      const auto [first, last] = plane::insideBox(a.plan(), b.plan(), box);
      if (first > last) {
        close();
        continue;
      }
      const auto at = [&a, &b](double t) {
        return t == 0 ? a : t == 1 ? b : Vec3{std::lerp(a.x, b.x, t), std::lerp(a.y, b.y, t), std::lerp(a.z, b.z, t)};
      };
      if (first > 0) close();
      if (part.points.empty()) part.points.push_back(at(first));
      part.points.push_back(at(last));
      if (last < 1) close();
    }
    close();
  }
  return kept;
}

PlanDrawing planDrawing(const project::Evaluation& evaluation, GroundId ground, const PlanRules& rules,
                        const Progress& progress) {
  return Drafting(evaluation, ground, rules, progress).drawn();
}

std::string asDxf(const PlanDrawing& plan, const plane::Origin& origin) {
  std::string out = exchange::dxfStart();
  const auto absolute = [&](const Vec3& p) { return Vec3{p.x + origin.easting, p.y + origin.northing, p.z}; };
  std::vector<Vec3> points;
  for (const PlanLayer& layer : plan.layers) {
    const std::string name = exchange::dxfLayer(layer.name);
    for (const works::Line3& line : layer.lines) {
      points.clear();
      for (const Vec3& p : line.points) points.push_back(absolute(p));
      exchange::addPolyline(out, name, line.closed, points);
    }
    for (const PlanText& text : layer.texts)
      exchange::addText(out, name, absolute(text.at), text.text, text.height * plan.scale / 1000, text.turned);
  }
  return out + exchange::dxfEnd();
}

}  // namespace inselberg::report
