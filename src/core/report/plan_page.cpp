#include "report/plan_page.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/lower_case.h"
#include "base/quantity.h"
#include "drawing/inks.h"
#include "drawing/paper_write.h"

namespace inselberg::report {
namespace {

using drawing::kInk;
using drawing::Page;
using drawing::Path;
using drawing::Pen;
using drawing::Text;
using plane::Box;
using plane::Vec2;
using plane::Vec3;

constexpr double kMargin = 10, kFoot = 24;  // mm

void line(Page& page, std::vector<Vec2> points, double width) {
  page.items.push_back(Path{std::move(points), false, Pen{kInk, width}});
}

// About its middle, on its plate.
void add(Page& page, const PlanText& text, Vec2 middle, drawing::Colour colour) {
  const double angle = text.turned * std::numbers::pi / 180;
  const Vec2 along{std::cos(angle), std::sin(angle)}, up{-along.y, along.x};
  const double half = 0.5 * drawing::widthOf(text.text, text.height);
  if (text.plate) {
    const Vec2 a = (half + 0.2) * along, b = (0.55 * text.height) * up;
    page.items.push_back(
        Path{{middle - a - b, middle + a - b, middle + a + b, middle - a + b}, true, {}, 0xffffff, 0.85});
  }
  page.items.push_back(
      Text{middle - (0.36 * text.height) * up, text.text, text.height, colour, drawing::Anchor::middle, text.turned});
}

}  // namespace

double scaleFitting(const Box& area, double width, double height) {
  for (double power = 1; power < 1e7; power *= 10) {
    for (const double step : {1.0, 1.25, 2.0, 2.5, 5.0, 7.5}) {
      const double perMetre = 1000 / (step * power);
      if (area.width() * perMetre <= width && area.height() * perMetre <= height) return step * power;
    }
  }
  return 1e7;
}
double scaleFitting(const Box& area) {
  // Its foot takes height either way up.
  const auto [name, shorter, longer] = drawing::kPapers[1];
  return std::min(scaleFitting(area, longer - 2 * kMargin, shorter - 2 * kMargin - kFoot),
                  scaleFitting(area, shorter - 2 * kMargin, longer - 2 * kMargin - kFoot));
}

void addPlan(Page& page, const PlanDrawing& plan, Vec2 corner) {
  const double perMetre = 1000 / plan.scale;
  const auto at = [&](const Vec3& p) {
    return corner + perMetre * (p.plan() - Vec2{plan.extent.minX, plan.extent.minY});
  };
  for (const PlanLayer& layer : plan.layers) {
    for (const works::Line3& drawn : layer.lines) {
      Path path{{}, drawn.closed, layer.pen};
      for (const Vec3& p : drawn.points) path.points.push_back(at(p));
      page.items.push_back(std::move(path));
    }
  }
  for (const PlanLayer& layer : plan.layers) {
    for (const PlanText& text : layer.texts) add(page, text, at(text.at), layer.pen.colour);
  }
}

namespace {

// With as many decimals as it needs.
std::string roundText(double metres, const Measures& measures) {
  return fmt::format("{:g} {}", inLengthUnit(metres, lengthUnit(measures)), unitOf(Quantity::length, measures));
}

}  // namespace

void addScaleBar(Page& page, Vec2 right, double scale, const Measures& measures, double most) {
  double length = roundLength(50 * scale / 1000, measures);
  for (double wanted = 50; length * 1000 / scale > most && wanted > 1; wanted *= 0.8)
    length = roundLength(wanted * scale / 1000, measures);
  const double mm = length * 1000 / scale;
  const Vec2 left = right - Vec2{mm, 0}, tick{0, 1.5};
  line(page, {left + tick, left, right, right + tick}, 0.35);
  page.items.push_back(
      Text{0.5 * (left + right) - Vec2{0, 4}, roundText(length, measures), 3, kInk, drawing::Anchor::middle});
}

std::string intervalText(const PlanDrawing& plan) {
  return "contours every " + roundText(plan.interval, plan.measures);
}

void addNorth(Page& page, Vec2 foot) {
  line(page, {foot, foot + Vec2{0, 12}}, 0.35);
  line(page, {foot + Vec2{-2, 8}, foot + Vec2{0, 12}, foot + Vec2{2, 8}}, 0.35);
  page.items.push_back(Text{foot + Vec2{3, 8}, "N", 3, kInk, drawing::Anchor::begin, 0, true});
}

void addLegend(Page& page, const PlanDrawing& plan, const Box& within) {
  constexpr double kText = 2.4, kPitch = 4.2, kLeast = 12;
  double x = within.minX, y = within.maxY - kText, widest = 0;
  for (const PlanLayer& layer : plan.layers) {
    if (layer.lines.empty() || layer.name == "spot levels" || layer.name == "falls" || layer.name == "labels") continue;
    if (y < within.minY) x += widest, y = within.maxY - kText, widest = 0;
    const double room = within.maxX - x - 10;
    if (room < kLeast) return;
    const std::string name = drawing::fitted(layer.name, kText, room);
    page.items.push_back(Path{{{x, y + 0.8}, {x + 8, y + 0.8}}, false, layer.pen});
    page.items.push_back(Text{{x + 10, y}, name, kText, kInk});
    y -= kPitch, widest = std::max(widest, 15 + drawing::widthOf(name, kText));
  }
}

Page asPage(const PlanDrawing& plan) {
  const double perMetre = 1000 / plan.scale;
  const double w = plan.extent.width() * perMetre + 2 * kMargin,
               h = plan.extent.height() * perMetre + 2 * kMargin + kFoot;
  Page page{w, h};
  for (const auto& [name, shorter, longer] : drawing::kPapers) {
    if (std::min(w, h) > shorter || std::max(w, h) > longer) continue;
    page.width = w >= h ? longer : shorter, page.height = w >= h ? shorter : longer;
    break;
  }
  addPlan(page, plan,
          {(page.width - plan.extent.width() * perMetre) / 2,
           kFoot + (page.height - kFoot - plan.extent.height() * perMetre) / 2});
  line(page, {{kMargin, kFoot}, {page.width - kMargin, kFoot}}, 0.35);
  page.items.push_back(Text{{kMargin, kFoot - 8}, plan.title, 5, kInk, drawing::Anchor::begin, 0, true});
  page.items.push_back(Text{{kMargin, kFoot - 14},
                            fmt::format("{} ground · {} · 1 : {:g}", plan.ground, intervalText(plan), plan.scale),
                            3,
                            kInk});
  addScaleBar(page, {page.width - kMargin - 16, kFoot - 10}, plan.scale, plan.measures);
  addNorth(page, {page.width - kMargin - 5, kFoot - 16});
  addLegend(page, plan, {kMargin, kFoot - 22, page.width - kMargin - 80, kFoot - 16});
  return page;
}

bool isDrawingEnding(const std::string& name) {
  const std::string low = lowerCase(name);
  return low.ends_with(".dxf") || low.ends_with(".svg") || low.ends_with(".pdf");
}

Measures measuresOn(const std::string& name, const Measures& ofProject) {
  return lowerCase(name).ends_with(".dxf") ? Measures() : ofProject;
}

std::string contentOf(const std::string& name, const PlanDrawing& plan, const plane::Origin& origin) {
  const std::string low = lowerCase(name);
  if (low.ends_with(".dxf")) return asDxf(plan, origin);
  const Page page = asPage(plan);
  return low.ends_with(".svg") ? drawing::asSvg(page) : drawing::asPdf({&page, 1});
}

}  // namespace inselberg::report
