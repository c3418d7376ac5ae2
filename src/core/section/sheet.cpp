#include "section/sheet.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/lower_case.h"
#include "base/quantity.h"
#include "drawing/inks.h"
#include "drawing/paper_write.h"

namespace inselberg::section {
namespace {

using drawing::Anchor;
using drawing::kCut;
using drawing::kFill;
using drawing::kInk;
using drawing::kMuted;
using drawing::kRule;
using drawing::Page;
using drawing::Path;
using drawing::Pen;
using drawing::Text;
using plane::Vec2;

// mm
constexpr double kWidth = 420, kHeight = 297, kMargin = 15, kLeft = 18, kHead = 16, kPlot = 52, kBelow = 9, kAbove = 9;
constexpr drawing::Colour kOthers[] = {0x8a7a66, 0x22303a, 0x6b4a2b, 0x6a3d9a, 0x5f6b2d, 0x99631f, 0x3b5c8a};

struct Levels {
  double low = std::numeric_limits<double>::infinity(), high = -low;
  double height() const { return std::max(high - low, 0.0); }
};

Levels levelsOf(const Section& section) {
  Levels levels;
  for (const auto& spans : section.grounds) {
    for (const auto& span : spans) {
      if (!span) continue;
      levels.low = std::min({levels.low, span->begin, span->end});
      levels.high = std::max({levels.high, span->begin, span->end});
    }
  }
  return levels;
}

std::string number(double value) {
  std::string text = fmt::format("{:.2f}", value);
  while (text.ends_with('0')) text.pop_back();
  if (text.ends_with('.')) text.pop_back();
  return text;
}

// Between the levels that are told, m: 6 mm on paper or more.
double stepUp(double up, const Measures& measures) {
  const double unit = lengthUnit(measures);
  return roundUp(6 / (up * unit)) * unit;
}

class Panel {
 public:
  Panel(const Section& section, const SheetRules& rules, double along, double up, Vec2 corner, Page& page)
      : section_(section),
        rules_(rules),
        along_(along),
        up_(up),
        corner_(corner),
        page_(page),
        unit_(lengthUnit(rules.measures)) {
    const Levels levels = levelsOf(section);
    step_ = stepUp(up, rules.measures);
    base_ = std::isfinite(levels.low) ? std::floor(levels.low / step_) * step_ : 0;
    top_ = std::isfinite(levels.high) ? std::max(std::ceil(levels.high / step_) * step_, base_ + step_) : step_;
  }

  void draw(const std::string& heading) {
    grid();
    if (rules_.earlier < section_.grounds.size() && rules_.later < section_.grounds.size()) fills();
    for (std::size_t g = 0; g < section_.grounds.size(); ++g) ground(g);
    if (heading.empty()) return;
    text({corner_.x, at(0, top_).y + 2.5}, heading, 3, Anchor::begin, kInk, true);
  }

 private:
  Vec2 at(double station, double level) const {
    return {corner_.x + station * along_, corner_.y + (level - base_) * up_};
  }
  void text(Vec2 where, const std::string& what, double height, Anchor anchor, drawing::Colour colour,
            bool bold = false) {
    page_.items.push_back(Text{where, what, height, colour, anchor, 0, bold});
  }
  void line(std::vector<Vec2> points, Pen pen) {
    page_.items.push_back(Path{std::move(points), false, std::move(pen)});
  }

  void grid() {
    const double length = section_.length();
    for (long k = 0; base_ + static_cast<double>(k) * step_ <= top_ + 1e-9; ++k) {
      const double level = base_ + static_cast<double>(k) * step_;
      line({at(0, level), at(length, level)}, Pen{kRule, 0.13});
      text(at(0, level) - Vec2{1.5, 0.8}, number(level / unit_), 2.2, Anchor::end, kMuted);
    }
    const double every = roundUp(20 / (along_ * unit_)) * unit_;
    const auto mark = [&](double station) {
      line({at(station, base_), at(station, top_)}, Pen{kRule, 0.13});
      text(at(station, base_) - Vec2{0, 4}, number(station / unit_), 2.2, Anchor::middle, kMuted);
    };
    for (long k = 0; static_cast<double>(k) * every <= length - every / 3; ++k) mark(static_cast<double>(k) * every);
    mark(length);
  }

  // Between the two grounds, in areas as large as they go.
  void fills() {
    std::vector<Vec2> under, over;
    bool fill = false;
    double reached = 0;
    const auto close = [&] {
      if (over.size() > 1) {
        under.insert(under.end(), over.rbegin(), over.rend());
        page_.items.push_back(Path{under, true, std::nullopt, fill ? kFill : kCut, 0.45});
      }
      under.clear(), over.clear();
    };
    eachPart(section_, rules_.earlier, rules_.later, [&](const Part& p) {
      if (p.begin != reached || p.fill() != fill || p.alike()) close();
      fill = p.fill(), reached = p.end;
      if (p.alike()) return;
      under.push_back(at(p.begin, p.fromBegin)), over.push_back(at(p.begin, p.toBegin));
      under.push_back(at(p.end, p.fromEnd)), over.push_back(at(p.end, p.toEnd));
    });
    close();
  }

  void ground(std::size_t g) {
    const Pen pen = penOf(rules_, g);
    std::vector<Vec2> run;
    const auto close = [&] {
      if (run.size() > 1) line(run, pen);
      run.clear();
    };
    for (std::size_t i = 0; i < section_.grounds[g].size(); ++i) {
      const auto& span = section_.grounds[g][i];
      if (!span) {
        close();
        continue;
      }
      const Vec2 p = at(section_.stations[i], span->begin), q = at(section_.stations[i + 1], span->end);
      if (run.empty() || plane::distance(run.back(), p) > 1e-4) run.push_back(p);
      run.push_back(q);
    }
    close();
  }

 public:
  static Pen penOf(const SheetRules& rules, std::size_t g) {
    return g < rules.pens.size() ? rules.pens[g]
                                 : Pen{kOthers[g % std::size(kOthers)], g == rules.earlier ? 0.25 : 0.4};
  }

 private:
  const Section& section_;
  const SheetRules& rules_;
  double along_, up_, base_, top_, step_;  // mm a metre; m
  Vec2 corner_;
  Page& page_;
  double unit_;  // m
};

// The title, the scales, and which line is which ground.
void head(Page& page, const SheetRules& rules, std::span<const std::string> names, double along, double up) {
  const double y = page.height - kMargin;
  page.items.push_back(Text{{kMargin, y - 4}, rules.title, 4.5, kInk, Anchor::begin, 0, true});
  page.items.push_back(
      Text{{page.width - kMargin, y - 4},
           fmt::format("1 : {:g} along, 1 : {:g} up", std::round(1000 / along), std::round(1e5 / up) / 100),
           2.8,
           kMuted,
           Anchor::end,
           0,
           false});
  double x = kMargin;
  for (std::size_t g = 0; g < names.size(); ++g) {
    page.items.push_back(Path{{{x, y - 9.2}, {x + 8, y - 9.2}}, false, Panel::penOf(rules, g)});
    page.items.push_back(Text{{x + 10, y - 10}, names[g], 2.8, kInk});
    x += 16 + 1.9 * static_cast<double>(names[g].size());
  }
  if (names.size() < 2) return;
  for (const auto& [colour, word] : {std::pair{kCut, "cut"}, {kFill, "fill"}}) {
    page.items.push_back(
        Path{{{x, y - 10.4}, {x + 5, y - 10.4}, {x + 5, y - 7.9}, {x, y - 7.9}}, true, {}, colour, 0.45});
    page.items.push_back(Text{{x + 7, y - 10}, word, 2.8, kInk});
    x += 18;
  }
}

}  // namespace

namespace {

double stepAbove(double least, std::initializer_list<double> steps) {
  const double power = std::pow(10, std::floor(std::log10(least)));
  for (const double step : steps) {
    if (step * power >= least * (1 - 1e-9)) return step * power;
  }
  return 10 * power;
}

// What a scale may be 1 to.
double scaleAbove(double least) {
  return stepAbove(least, {1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 7.5});
}

}  // namespace

double roundUp(double least) {
  return stepAbove(least, {1, 2, 2.5, 5});
}

std::vector<Page> sheetsOf(std::span<const Section> sections, const SheetRules& rules) {
  double longest = 1e-3, tallest = 1e-3;
  for (const Section& s : sections)
    longest = std::max(longest, s.length()), tallest = std::max(tallest, levelsOf(s).height());
  const double along = 1000 / scaleAbove(longest * 1000 / (kWidth - 2 * kMargin - kLeft));  // mm a metre
  // So that the tallest, and a step above and below it, stay in their panel.
  const double most = sections.size() == 1 ? kHeight - 2 * kMargin - kHead - kAbove - kBelow : kPlot;
  const double up = rules.exaggeration > 0 ? along * rules.exaggeration
                                           : std::max(along, 1000 / scaleAbove(tallest * 1000 / (most - 14)));
  const auto panelOf = [&](const Section& s) {
    return (levelsOf(s).height() + 2 * stepUp(up, rules.measures)) * up + kAbove + kBelow + 4;
  };
  std::vector<Page> pages;
  double y = 0;
  for (std::size_t k = 0; k < sections.size(); ++k) {
    const double panel = panelOf(sections[k]);
    if (pages.empty() || (!rules.onePage && y - panel < kMargin)) {
      double needed = 2 * kMargin + kHead + panel;
      for (std::size_t l = k + 1; rules.onePage && l < sections.size(); ++l) needed += panelOf(sections[l]);
      pages.push_back({kWidth, rules.onePage ? needed : std::max(kHeight, needed)});
      head(pages.back(), rules, sections[k].names, along, up);
      y = pages.back().height - kMargin - kHead;
    }
    y -= panel;
    Panel(sections[k], rules, along, up, {kMargin + kLeft, y + kBelow}, pages.back())
        .draw(k < rules.headings.size() ? rules.headings[k] : "");
  }
  return pages;
}

void addSection(Page& page, const plane::Box& within, const Section& section, const SheetRules& rules) {
  constexpr double kKeys = 5;
  double x = within.minX;
  if (!rules.title.empty()) {
    page.items.push_back(Text{{x, within.maxY - 2.8}, rules.title, 2.4, kInk, Anchor::begin, 0, true});
    x += drawing::widthOf(rules.title, 2.4) + 6;
  }
  for (std::size_t g = 0; g < section.names.size(); ++g) {
    page.items.push_back(Path{{{x, within.maxY - 2}, {x + 8, within.maxY - 2}}, false, Panel::penOf(rules, g)});
    page.items.push_back(Text{{x + 10, within.maxY - 2.8}, section.names[g], 2.4, kInk});
    x += 16 + 1.7 * static_cast<double>(section.names[g].size());
  }
  const double width = within.width() - kLeft - 4, height = within.height() - kKeys - kBelow - 2;
  const double along = 1000 / scaleAbove(std::max(section.length(), 1e-3) * 1000 / width);
  const double tall = std::max(levelsOf(section).height(), 1e-3);
  double up = std::max(along, 1000 / scaleAbove(tall * 1000 / height));
  // A step above and below the tallest has to fit as well.
  while ((tall + 2 * stepUp(up, rules.measures)) * up > height && up > 1e-6) up = 1000 / scaleAbove(1000 / up * 1.001);
  page.items.push_back(
      Text{{within.maxX, within.maxY - 2.8},
           fmt::format("1 : {:g} along, 1 : {:g} up", std::round(1000 / along), std::round(1e5 / up) / 100),
           2.4,
           kMuted,
           Anchor::end});
  Panel(section, rules, along, up, {within.minX + kLeft, within.minY + kBelow}, page).draw("");
}

std::string headingOf(const Section& section, const SheetRules& rules, const CrossLine* cross) {
  const std::string text = cross ? "at " + shownLength(cross->station, 2, rules.measures) : "along the line";
  if (std::max(rules.earlier, rules.later) >= section.grounds.size()) return text;
  const CutFill areas = between(section, rules.earlier, rules.later);
  return fmt::format("{}: cut {}, fill {}", text, shownArea(areas.cut, 2, rules.measures),
                     shownArea(areas.fill, 2, rules.measures));
}

std::string contentOf(const std::string& name, std::span<const Section> sections, std::span<const CrossLine> cross,
                      SheetRules rules, const plane::Origin& origin) {
  const std::string low = lowerCase(name);
  if (low.ends_with(".csv")) return asCsv(sections, cross, origin);
  for (std::size_t k = 0; k < sections.size(); ++k)
    rules.headings.push_back(headingOf(sections[k], rules, cross.empty() ? nullptr : &cross[k]));
  rules.onePage = !low.ends_with(".pdf");
  const auto pages = sheetsOf(sections, rules);
  if (low.ends_with(".pdf")) return drawing::asPdf(pages);
  constexpr double kDotsPerMm = 6;
  return low.ends_with(".svg") ? drawing::asSvg(pages.front()) : drawing::asPng(pages.front(), kDotsPerMm);
}

}  // namespace inselberg::section
