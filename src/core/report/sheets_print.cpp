#include "report/sheets_print.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"
#include "plane/boxes.h"

namespace inselberg::report {
namespace {

using plane::Box;
using plane::Vec2;
using project::PlanSheet;

constexpr double kDots = 12;              // a millimetre
constexpr double kMostDots = 12'000'000;  // in all

// Colours from white down, as inks add up: what lies over each other gets darker.
struct Inks {
  int columns, rows;
  std::vector<std::array<std::uint8_t, 3>> cells;  // red, green, blue
};

// A sheet of the page as drawn, and where its pixels lie.
struct Drawn {
  Box part;  // of the page
  sheet::Bitmap bitmap;
};

std::optional<Drawn> drawn(const PlanSheet& sheet, const Box& window, double metresPerDot, const Progress& progress) {
  const sheet::Placement back = sheet.placement.inverse();
  Box part;
  for (const Vec2 corner : plane::cornersOf(window)) part.add(back(corner));
  part = plane::common(part, project::shownPart(sheet));
  if (!(part.minX < part.maxX) || !(part.minY < part.maxY)) return std::nullopt;
  const auto dots = [&](double units, double metres) {
    return static_cast<int>(std::clamp(std::ceil(units * metres / metresPerDot), 1.0, 8000.0));
  };
  const int width = dots(part.width(), sheet.placement.metresX()),
            height = dots(part.height(), sheet.placement.metresY());
  const auto document = sheet::openDocument(sheet.bytes, sheet.file, sheet.world);
  return Drawn{part, document->draw(sheet.page, part, width, height, progress)};
}

void lay(Inks& inks, const PlanSheet& sheet, const Drawn& drawn, const Box& window, const Progress& progress) {
  const sheet::Placement back = sheet.placement.inverse();
  const double stepX = window.width() / inks.columns, stepY = window.height() / inks.rows;
  const sheet::Bitmap& bitmap = drawn.bitmap;
  parallelChunks(
      static_cast<std::size_t>(inks.rows), 16, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
        for (std::size_t r = begin; r < end; ++r) {
          for (int c = 0; c < inks.columns; ++c) {
            const Vec2 p =
                back({window.minX + (c + 0.5) * stepX, window.maxY - (static_cast<double>(r) + 0.5) * stepY});
            if (!drawn.part.contains(p)) continue;
            const auto along = [](double at, double from, double size, int count) {
              return std::min(count - 1, static_cast<int>((at - from) / size * count));
            };
            const int x = along(p.x, drawn.part.minX, drawn.part.width(), bitmap.width),
                      y = bitmap.height - 1 - along(p.y, drawn.part.minY, drawn.part.height(), bitmap.height);
            const std::uint8_t* pixel = &bitmap.pixels[4 * (static_cast<std::size_t>(y) * bitmap.width + x)];
            std::array<double, 3> colour{double(pixel[2]), double(pixel[1]), double(pixel[0])};
            if (sheet.grey) colour.fill(0.299 * colour[0] + 0.587 * colour[1] + 0.114 * colour[2]);
            auto& cell = inks.cells[r * static_cast<std::size_t>(inks.columns) + c];
            for (std::size_t k = 0; k < 3; ++k)
              cell[k] = static_cast<std::uint8_t>(cell[k] * (1 - sheet.opacity * (1 - colour[k] / 255)));
          }
        }
      });
}

// The clearest colour that looks like this one on white.
std::uint32_t onClear(const std::array<std::uint8_t, 3>& colour) {
  const int lightest = 255 - *std::min_element(colour.begin(), colour.end());
  if (lightest == 0) return 0;
  std::uint32_t cell = static_cast<std::uint32_t>(lightest) << 24;
  for (std::size_t k = 0; k < 3; ++k) {
    const int part = std::clamp(255 - (255 - colour[k]) * 255 / lightest, 0, 255);
    cell |= static_cast<std::uint32_t>(part) << (16 - 8 * k);
  }
  return cell;
}

}  // namespace

std::optional<drawing::Picture> printedSheets(const project::Project& project, const Box& window, const Box& at,
                                              const Progress& progress) {
  const double dots = std::min(kDots, std::sqrt(kMostDots / (at.width() * at.height())));
  Inks inks{std::max(1, static_cast<int>(at.width() * dots)), std::max(1, static_cast<int>(at.height() * dots)), {}};
  bool any = false;
  for (const project::PlanSheetPtr& sheet : project.sheets) {
    if (sheet->hidden || !project::boundsOf(*sheet).overlaps(window)) continue;
    const auto one = drawn(*sheet, window, window.width() / inks.columns, progress);
    if (!one) continue;
    if (!any) inks.cells.assign(static_cast<std::size_t>(inks.columns) * inks.rows, {255, 255, 255});
    any = true;
    lay(inks, *sheet, *one, window, progress);
  }
  if (!any) return std::nullopt;
  drawing::Picture picture{at, inks.columns, inks.rows, {}};
  picture.cells.reserve(inks.cells.size());
  for (const auto& colour : inks.cells) picture.cells.push_back(onClear(colour));
  return picture;
}

}  // namespace inselberg::report
