#include "report/layout_page.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/parallel.h"
#include "base/quantity.h"
#include "drawing/inks.h"
#include "drawing/paper_write.h"
#include "plane/boxes.h"
#include "report/ledger.h"
#include "report/plan_page.h"
#include "report/sheets_print.h"
#include "section/section.h"
#include "section/sheet.h"

namespace inselberg::report {
namespace {

using drawing::Anchor;
using drawing::kInk;
using drawing::kMuted;
using drawing::Path;
using drawing::Pen;
using drawing::Text;
using plane::Box;
using plane::Vec2;
using project::Layout;

// mm
constexpr double kMargin = 8, kFoot = 46, kSection = 58, kRow = 4.4, kSmall = 2.4, kTiny = 1.9;
constexpr double kShadeCell = 0.5;  // at most so many cells in all:
constexpr double kMostShadeCells = 800'000;
constexpr int kShades = 4;

const project::EvaluatedGround& groundOf(const project::Evaluation& evaluation, const Layout& layout) {
  for (const GroundId id : {layout.ground, evaluation.project->finished()}) {
    const auto* ground = id.value ? evaluation.ground(id) : nullptr;
    if (ground && ground->tin) return *ground;
  }
  throw Error("there is no ground to show on the sheet", {layout.name}, "give the existing ground points first");
}

Vec2 sizeOf(const Layout& layout) {
  const drawing::Paper& paper = drawing::kPapers[layout.paper];
  return layout.upright ? Vec2{paper.shorter, paper.longer} : Vec2{paper.longer, paper.shorter};
}

class Laying {
 public:
  Laying(const project::Evaluation& evaluation, const Layout& layout, const Progress& progress)
      : evaluation_(evaluation),
        layout_(layout),
        progress_(progress),
        ground_(groundOf(evaluation, layout)),
        frame_(frameOf(evaluation, layout)) {
    const Vec2 size = sizeOf(layout);
    page_.width = size.x, page_.height = size.y;
    const Vec2 half = (frame_.scale / 2000) * Vec2{frame_.at.width(), frame_.at.height()};
    window_ = {frame_.centre.x - half.x, frame_.centre.y - half.y, frame_.centre.x + half.x, frame_.centre.y + half.y};
  }

  drawing::Page laid() {
    PlanRules rules;
    rules.scale = frame_.scale, rules.interval = layout_.interval, rules.window = window_;
    rules.measures = measures_;
    rules.depths = layout_.depths, rules.depthsFrom = since().id;
    const PlanDrawing plan = planDrawing(evaluation_, ground_.id, rules, progress_);
    if (layout_.shade) shade();
    if (layout_.sheets) {
      if (auto sheets = printedSheets(*evaluation_.project, window_, frame_.at, progress_))
        page_.items.push_back(std::move(*sheets));
    }
    addPlan(page_, plan, {frame_.at.minX, frame_.at.minY});
    if (layout_.grid) grid();
    northArrow();
    box(frame_.at, 0.5);
    if (layout_.section.size() > 1) section();
    foot(plan);
    return std::move(page_);
  }

 private:
  void text(Vec2 at, const std::string& what, double height, Anchor anchor = Anchor::begin, bool bold = false,
            drawing::Colour colour = kInk, double turned = 0) {
    page_.items.push_back(Text{at, what, height, colour, anchor, turned, bold});
  }
  void line(Vec2 a, Vec2 b, double width, drawing::Colour colour = kInk) {
    page_.items.push_back(Path{{a, b}, false, Pen{colour, width}});
  }
  static std::vector<Vec2> ringOf(const Box& b) {
    const auto corners = plane::cornersOf(b);
    return {corners.begin(), corners.end()};
  }
  void box(const Box& b, double width) { page_.items.push_back(Path{ringOf(b), true, Pen{kInk, width}}); }
  void plate(const Box& b) { page_.items.push_back(Path{ringOf(b), true, {}, 0xffffff, 0.85}); }
  Vec2 onPage(Vec2 p) const {
    return Vec2{frame_.at.minX, frame_.at.minY} + (1000 / frame_.scale) * (p - Vec2{window_.minX, window_.minY});
  }

  // What cut and fill count from: the stripped ground where there is one, as topsoil off the whole site would hide all
  // else; else the existing one.
  const project::EvaluatedGround& since() const {
    const project::Ground* stripped = evaluation_.project->withRole(project::Role::stripped);
    const auto* from = stripped ? evaluation_.ground(stripped->id) : nullptr;
    if (!from || !from->tin || from->id == ground_.id) from = evaluation_.surveyed();
    return from && from->tin ? *from : ground_;
  }

  // Where the ground lies below and above that: the deeper, the stronger, in even steps.
  void shade() {
    const auto* from = &since();
    if (from->id == ground_.id) return;
    drawing::Picture picture{frame_.at};
    const double cell = std::max(kShadeCell, std::sqrt(frame_.at.width() * frame_.at.height() / kMostShadeCells));
    picture.columns = std::max(1, static_cast<int>(std::ceil(frame_.at.width() / cell)));
    picture.rows = std::max(1, static_cast<int>(std::ceil(frame_.at.height() / cell)));
    const std::size_t columns = static_cast<std::size_t>(picture.columns),
                      rows = static_cast<std::size_t>(picture.rows);
    std::vector<float> depths(columns * rows, 0);
    const double stepX = window_.width() / picture.columns, stepY = window_.height() / picture.rows;
    parallelChunks(rows, 16, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t r = begin; r < end; ++r) {
        for (std::size_t c = 0; c < columns; ++c) {
          const Vec2 p{window_.minX + (static_cast<double>(c) + 0.5) * stepX,
                       window_.maxY - (static_cast<double>(r) + 0.5) * stepY};
          const auto to = ground_.tin->levelAt(p), was = to ? from->tin->levelAt(p) : std::nullopt;
          if (was) depths[r * columns + c] = static_cast<float>(*to - *was);
        }
      }
    });
    double deepest = 0;
    for (const float d : depths) deepest = std::max(deepest, static_cast<double>(std::abs(d)));
    if (deepest < 0.01) return;
    const double unit = lengthUnit(measures_);
    shadeStep_ = section::roundUp(deepest / kShades / unit) * unit;
    picture.cells.resize(depths.size());
    for (std::size_t i = 0; i < depths.size(); ++i) picture.cells[i] = shadeOf(depths[i]);
    page_.items.push_back(std::move(picture));
  }
  std::uint32_t shadeOf(double depth) const {
    if (std::abs(depth) < 0.005) return 0;
    const int band = std::min(kShades - 1, static_cast<int>(std::abs(depth) / shadeStep_));
    return static_cast<std::uint32_t>(60 + 45 * band) << 24 | (depth < 0 ? drawing::kCut : drawing::kFill);
  }

  // Crosses at round coordinates of the site, told along the frame's lower and left side.
  void grid() {
    const plane::Origin& o = evaluation_.project->origin;
    const double step = section::roundUp(frame_.scale * 0.05), r = 1.5;
    const auto first = [&](double from) { return std::ceil(from / step) * step; };
    for (double e = first(window_.minX + o.easting); e <= window_.maxX + o.easting; e += step) {
      const double x = onPage({e - o.easting, 0}).x;
      line({x, frame_.at.minY}, {x, frame_.at.minY + 2.5}, 0.25);
      line({x, frame_.at.maxY}, {x, frame_.at.maxY - 2.5}, 0.25);
      const std::string told = "E " + formatNumber(e, 0);
      if (x + drawing::widthOf(told, kTiny) > frame_.at.maxX) continue;
      coordinate({x + 0.8, frame_.at.minY + 1}, told, 0);
    }
    for (double n = first(window_.minY + o.northing); n <= window_.maxY + o.northing; n += step) {
      const double y = onPage({0, n - o.northing}).y;
      line({frame_.at.minX, y}, {frame_.at.minX + 2.5, y}, 0.25);
      line({frame_.at.maxX, y}, {frame_.at.maxX - 2.5, y}, 0.25);
      const std::string told = "N " + formatNumber(n, 0);
      if (y + drawing::widthOf(told, kTiny) <= frame_.at.maxY && y > frame_.at.minY + 4)
        coordinate({frame_.at.minX + 2.6, y + 0.8}, told, 90);
      for (double e = first(window_.minX + o.easting); e <= window_.maxX + o.easting; e += step) {
        const Vec2 p = onPage({e - o.easting, n - o.northing});
        line(p - Vec2{r, 0}, p + Vec2{r, 0}, 0.13, kMuted);
        line(p - Vec2{0, r}, p + Vec2{0, r}, 0.13, kMuted);
      }
    }
  }
  void coordinate(Vec2 at, const std::string& told, double turned) {
    const double w = drawing::widthOf(told, kTiny);
    plate(turned == 0 ? Box{at.x - 0.2, at.y - 0.5, at.x + w, at.y + kTiny}
                      : Box{at.x - kTiny, at.y - 0.2, at.x + 0.5, at.y + w});
    text(at, told, kTiny, Anchor::begin, false, kInk, turned);
  }

  void northArrow() {
    const Vec2 foot{frame_.at.maxX - 9, frame_.at.maxY - 17};
    plate({foot.x - 4, foot.y - 2, foot.x + 7, foot.y + 14});
    addNorth(page_, foot);
  }

  void section() {
    std::vector<section::Named> named;
    section::SheetRules rules;
    rules.measures = measures_;
    for (const auto& g : evaluation_.grounds) {
      const auto* info = evaluation_.project->ground(g.id);
      if (!g.tin || !project::isStage(info->role)) continue;
      if (g.id == evaluation_.project->surveyed()) rules.earlier = named.size();
      if (g.id == evaluation_.project->finished()) rules.later = named.size();
      named.push_back({info->name, g.tin});
    }
    const std::string name = project::nameOfLine(evaluation_.project->sectionLines, layout_.section);
    if (!name.empty()) rules.title = "Section " + name;
    const Box within{kMargin + 3, kMargin + kFoot + 2, page_.width - kMargin - 3, kMargin + kFoot + kSection - 2};
    section::addSection(page_, within, section::sectionAlong(named, layout_.section), rules);
    line({kMargin, kMargin + kFoot + kSection}, {page_.width - kMargin, kMargin + kFoot + kSection}, 0.5);
    // Its line on the plan.
    works::Line3 whole;
    for (const Vec2 p : layout_.section) whole.points.push_back({p.x, p.y, 0});
    for (const works::Line3& part : linesWithin(window_, {whole})) {
      Path path{{}, false, Pen{kInk, 0.4, {5, 1.2, 1, 1.2}}};
      for (const plane::Vec3& p : part.points) path.points.push_back(onPage(p.plan()));
      page_.items.push_back(std::move(path));
    }
    if (name.empty()) return;
    // Its letter beyond either end.
    const auto beyond = [&](Vec2 end, Vec2 next) {
      if (!window_.contains(end)) return;
      const Vec2 at = onPage(end) + 3.2 * plane::unit(end - next) - Vec2{0, kSmall / 2};
      plate({at.x - drawing::widthOf(name, kSmall) / 2 - 0.5, at.y - 0.6,
             at.x + drawing::widthOf(name, kSmall) / 2 + 0.5, at.y + kSmall + 0.6});
      text(at, name, kSmall, Anchor::middle, true);
    };
    beyond(layout_.section.front(), layout_.section[1]);
    beyond(layout_.section.back(), layout_.section[layout_.section.size() - 2]);
  }

  // From left to right: legend, figures, title block.
  void foot(const PlanDrawing& plan) {
    const Box whole{kMargin, kMargin, page_.width - kMargin, page_.height - kMargin};
    box(whole, 0.5);
    const double top = kMargin + kFoot;
    line({whole.minX, top}, {whole.maxX, top}, 0.5);
    const double title = std::min(120.0, 0.42 * whole.width()), figures = std::min(88.0, 0.35 * whole.width());
    double right = whole.maxX - title;
    line({right, whole.minY}, {right, top}, 0.35);
    titleBlock({right, whole.minY, whole.maxX, top}, plan);
    if (layout_.figures) {
      figureRows({right - figures, whole.minY, right, top});
      right -= figures;
      line({right, whole.minY}, {right, top}, 0.35);
    }
    addScaleBar(page_, {right - 6, whole.minY + 7}, frame_.scale, measures_, right - whole.minX - 12);
    if (!layout_.legend) return;
    const double shades = shadeStep_ > 0 ? 13 : 0;
    addLegend(page_, plan, {whole.minX + 3, whole.minY + 11 + shades, right - 3, top - 2});
    if (shadeStep_ > 0) shadeKeys({whole.minX + 3, whole.minY + 13});
  }

  // "cut 2.0 … 0 … 2.0 fill": one cell for each band.
  void shadeKeys(Vec2 at) {
    constexpr double kCell = 5, kHigh = 3;
    for (int i = -kShades; i < kShades; ++i) {
      const double depth = (i + 0.5) * shadeStep_, x = at.x + (i + kShades) * kCell;
      const std::uint32_t shade = shadeOf(depth);
      page_.items.push_back(Path{ringOf({x, at.y, x + kCell, at.y + kHigh}),
                                 true,
                                 {},
                                 shade & 0xffffff,
                                 static_cast<double>(shade >> 24) / 255});
    }
    const double most = kShades * inLengthUnit(shadeStep_, lengthUnit(measures_)), middle = at.x + kShades * kCell;
    text({at.x, at.y + kHigh + 1}, "cut and fill since " + evaluation_.project->ground(since().id)->name, kTiny);
    text({at.x, at.y - 2.6}, fmt::format("cut {:g}", most), kTiny);
    text({middle, at.y - 2.6}, "0", kTiny, Anchor::middle);
    text({middle + kShades * kCell, at.y - 2.6}, fmt::format("{:g} {} fill", most, unitOf(Quantity::length, measures_)),
         kTiny, Anchor::end);
  }

  void figureRows(const Box& within) {
    const Ledger ledger = ledgerOf(evaluation_);
    constexpr double kNumber = 14;
    const double fill = within.maxX - 2.5, cut = fill - kNumber, room = cut - kNumber - within.minX - 2.5;
    double y = within.maxY - 4.4;
    const auto row = [&](const std::string& name, const std::string& c, const std::string& f, bool bold) {
      text({within.minX + 2.5, y}, drawing::fitted(name, kSmall, room), kSmall, Anchor::begin, bold);
      text({cut, y}, c, kSmall, Anchor::end, bold);
      text({fill, y}, f, kSmall, Anchor::end, bold);
      y -= kRow;
    };
    const auto number = [&](double v) { return shownNumber(v, Quantity::volume, measures_); };
    row(unitOf(Quantity::volume, measures_), "cut", "fill", true);
    line({within.minX + 2.5, y + kRow - 1.3}, {fill, y + kRow - 1.3}, 0.13);
    const std::size_t most = static_cast<std::size_t>((y - within.minY - 2 * kRow) / kRow + 0.5);
    std::size_t told = 0, left = 0;
    for (const LedgerRow& r : ledger.rows) left += r.known ? 1 : 0;
    for (const LedgerRow& r : ledger.rows) {
      if (!r.known) continue;
      if (told + 1 >= most && left > 1) {
        row(fmt::format("and {} more", left), "", "", false);
        break;
      }
      row((r.kind == LedgerRow::Kind::works ? "  " : "") + r.name, number(r.volume.cut), number(r.volume.fill), false);
      ++told, --left;
    }
    y = within.minY + kRow + 2;
    line({within.minX + 2.5, y + kRow - 1.3}, {fill, y + kRow - 1.3}, 0.13);
    // As the window tells them: topsoil and what is built up by themselves.
    const double allCut = ledger.earthCut(), allFill = ledger.earthFill();
    std::string of = "In all";
    if (ledger.strip > 0) of = "Without strip";
    if (ledger.buildUp > 0) of = ledger.strip > 0 ? "Without strip, build-up" : "Without build-up";
    row(of, number(allCut), number(allFill), true);
    text({within.minX + 2.5, y}, surplusText(allCut, allFill, measures_), kSmall);
  }

  // The project, what is shown, then the fields, two beside each other.
  void titleBlock(const Box& within, const PlanDrawing& plan) {
    const double width = within.width() - 5, left = within.minX + 2.5;
    text({left, within.maxY - 6}, drawing::fitted(plan.title, 4.2, width), 4.2, Anchor::begin, true);
    text({left, within.maxY - 10.8}, drawing::fitted(layout_.name, 3, width), 3);
    const std::string shown = fmt::format("{} ground · {} · 1 : {:g} at {}", plan.ground, intervalText(plan),
                                          plan.scale, drawing::kPapers[layout_.paper].name);
    const double high = drawing::widthOf(shown, kSmall) <= width ? kSmall : kTiny;
    text({left, within.maxY - 15}, drawing::fitted(shown, high, width), high, Anchor::begin, false, kMuted);
    const std::size_t rows = (layout_.fields.size() + 1) / 2;
    if (rows == 0) return;
    const double top = within.maxY - 17, pitch = std::min(8.0, (top - within.minY) / static_cast<double>(rows));
    const double middle = within.minX + within.width() / 2;
    line({middle, top}, {middle, top - pitch * static_cast<double>(rows)}, 0.2);
    for (std::size_t k = 0; k < rows; ++k) {
      const double y = top - pitch * static_cast<double>(k);
      line({within.minX, y}, {within.maxX, y}, 0.2);
      for (const std::size_t i : {2 * k, 2 * k + 1}) {
        if (i >= layout_.fields.size()) break;
        const double x = i % 2 == 0 ? left : middle + 2.5, room = within.width() / 2 - 4;
        const project::LayoutField& field = layout_.fields[i];
        text({x, y - 0.32 * pitch}, drawing::fitted(field.name, kTiny * 0.9, room), kTiny * 0.9, Anchor::begin, false,
             kMuted);
        const double size = std::min(2.8, 0.42 * pitch);
        text({x, y - 0.84 * pitch}, drawing::fitted(field.text, size, room), size);
      }
    }
    if (const double y = top - pitch * static_cast<double>(rows); y > within.minY + 0.1)
      line({within.minX, y}, {within.maxX, y}, 0.2);
  }

  const project::Evaluation& evaluation_;
  const Measures measures_ = evaluation_.project->measures;
  const Layout& layout_;
  const Progress& progress_;
  const project::EvaluatedGround& ground_;
  PlanFrame frame_;
  Box window_;
  double shadeStep_ = 0;  // m of depth; 0: nothing is shaded
  drawing::Page page_;
};

}  // namespace

Layout startedLayout(const project::Project& project) {
  Layout layout;
  layout.ground = project.finished();
  const auto taken = [&](const std::string& name) {
    return std::any_of(project.layouts.begin(), project.layouts.end(), [&](const Layout& l) { return l.name == name; });
  };
  layout.name = "Earthworks plan";
  for (int n = 2; taken(layout.name); ++n) layout.name = fmt::format("Earthworks plan {}", n);
  for (const char* field : {"Client", "Number", "Drawn", "Date", "Checked", "Revision"})
    layout.fields.push_back({field, ""});
  return layout;
}

PlanFrame frameOf(const project::Evaluation& evaluation, const Layout& layout) {
  const Vec2 size = sizeOf(layout);
  const Box extent = groundOf(evaluation, layout).tin->bounds();
  PlanFrame frame;
  frame.at = {kMargin, kMargin + kFoot + (layout.section.size() > 1 ? kSection : 0), size.x - kMargin,
              size.y - kMargin};
  frame.scale = layout.scale > 0 ? layout.scale : scaleFitting(extent, frame.at.width() - 8, frame.at.height() - 8);
  frame.centre = layout.centre.value_or(extent.centre());
  return frame;
}

drawing::Page layoutPage(const project::Evaluation& evaluation, const Layout& layout, const Progress& progress) {
  return Laying(evaluation, layout, progress).laid();
}

std::string contentOf(const std::string& name, const std::vector<drawing::Page>& pages) {
  const std::string low = lowerCase(name);
  if (low.ends_with(".pdf")) return drawing::asPdf(pages);
  constexpr double kDotsPerMm = 6;
  if (low.ends_with(".svg") || low.ends_with(".png")) {
    if (pages.size() != 1)
      throw Error("such a file holds one sheet", {name}, "end the name in .pdf, or write one sheet");
    return low.ends_with(".svg") ? drawing::asSvg(pages.front()) : drawing::asPng(pages.front(), kDotsPerMm);
  }
  throw Error("the name has no known ending", {name}, "end it in .pdf, .svg or .png");
}

}  // namespace inselberg::report
