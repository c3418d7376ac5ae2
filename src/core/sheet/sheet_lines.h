// What stands on a sheet, in plan: to snap to and to take.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <mutex>

#include "plane/static_index.h"
#include "sheet/fit.h"
#include "sheet/take.h"

namespace inselberg::sheet {

// A line as it is taken: whole, in plan.
struct WholeLine {
  std::vector<Vec2> points;
  bool closed = false;
  Colour colour = 0;
  double width = 0;                  // mm
  std::optional<double> level = {};  // of a number in its gap or on it
};

// Immutable but for what it remembers; safe from several threads.
class SheetLines {
 public:
  // Gaps up to this are drawn across, mm.
  static constexpr double kJoin = 3;

  SheetLines(std::shared_ptr<const Content> content, const Placement& placement);

  // Calls f(a, b) for the sides in plan that may come within `reach` of the place.
  void eachNear(Vec2 p, double reach, const std::function<void(Vec2, Vec2)>& f) const;
  // The whole line nearest to the place, within `reach` metres: joined over dashes, gaps and labels. Nothing where
  // there is none.
  std::optional<WholeLine> lineAt(Vec2 p, double reach) const;
  // All whole lines of that colour and width.
  std::vector<WholeLine> linesLike(Colour colour, double width) const;
  // Numbers that are levels of points, not of lines, in plan.
  std::vector<SpotText> spots() const;
  // The level that stands in an outline in plan: of the numbers in it that have no mark of their own the one in the
  // largest figures, nearest to the middle. Nothing where there is none.
  std::optional<double> levelIn(const plane::Ring& outline) const;

 private:
  struct Style {
    Colour colour;
    long width;  // in steps of kSameWidth
    auto operator<=>(const Style&) const = default;
  };
  static Style styleOf(const Line& line);
  struct Joined {
    std::vector<WholeLine> lines;
    std::vector<std::size_t> labels;  // the texts that say their levels
  };
  const Joined& joined(const Style& style) const;

  std::shared_ptr<const Content> content_;
  Placement placement_;
  std::vector<std::size_t> lineOf_;  // of each side
  std::vector<plane::Segment2> sides_;
  plane::SegmentIndex index_;
  std::vector<SpotText> numbers_;  // with decimals; `at`: the middles of the texts, in plan
  double metresPerMm_;
  mutable std::mutex mutex_;
  mutable std::map<Style, Joined> joined_;
};

}  // namespace inselberg::sheet
