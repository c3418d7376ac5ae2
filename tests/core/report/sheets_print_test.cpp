#include "report/sheets_print.h"

#include <catch2/catch.hpp>

#include "support/sheets.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

// A sheet of 254 by 127 mm at 1 : 500, its lower left corner at (10, 20), with what is drawn on it (points of 1/72
// inch).
project::ProjectPtr withDrawn(const project::ProjectPtr& project, const std::string& content,
                              const std::function<void(project::SheetInfo&)>& more = {}) {
  project::SheetInfo info;
  info.file = "made.pdf";
  info.size = {254, 127};
  info.placement = sheet::byScale(500, 500, {1, 1});
  info.placement.c = 10, info.placement.f = 20;
  if (more) more(info);
  return project::withSheet(*project, info, std::make_shared<std::string>(pdfOf({content})), "");
}

const plane::Box kWindow{0, 0, 200, 100}, kAt{20, 30, 220, 130};  // so 1 : 1000

std::uint32_t cellAt(const drawing::Picture& picture, Vec2 p) {
  const int c = static_cast<int>(p.x / kWindow.width() * picture.columns),
            r = static_cast<int>((kWindow.maxY - p.y) / kWindow.height() * picture.rows);
  return picture.cells.at(static_cast<std::size_t>(r) * picture.columns + c);
}

// Red from (16.35, 26.35) to (73.5, 39.05), in metres.
const std::string kRed = "1 0 0 rg 36 36 324 72 re f";

}  // namespace

TEST_CASE("Plan sheets are printed where they lie, their paper clear") {
  const auto empty = project::emptyProject("print");
  CHECK_FALSE(report::printedSheets(*empty, kWindow, kAt, {}));
  const auto red = withDrawn(empty, kRed);
  const auto picture = report::printedSheets(*red, kWindow, kAt, {});
  REQUIRE(picture);
  CHECK(picture->at == kAt);
  CHECK(picture->columns == 2400);
  for (const Vec2 p : {Vec2{16.6, 26.6}, {73.2, 38.8}, {40, 33}}) CHECK(cellAt(*picture, p) == 0xffff0000u);
  for (const Vec2 p : {Vec2{16.1, 33}, {73.8, 33}, {40, 26.1}, {40, 39.3}, {150, 90}, {5, 5}})
    CHECK(cellAt(*picture, p) >> 24 == 0);
  // Elsewhere there is nothing of it.
  CHECK_FALSE(report::printedSheets(*red, {300, 0, 400, 50}, kAt, {}));
}

TEST_CASE("Printed sheets keep their looks, and where they lie over each other inks add up") {
  const auto empty = project::emptyProject("print");
  const Vec2 p{40, 33};
  const auto looks = [&](const std::function<void(project::SheetInfo&)>& more) {
    return report::printedSheets(*withDrawn(empty, kRed, more), kWindow, kAt, {});
  };
  CHECK_FALSE(looks([](auto& info) { info.hidden = true; }));
  const auto faint = looks([](auto& info) { info.opacity = 0.5; });
  CHECK(static_cast<int>(cellAt(*faint, p) >> 24) == Approx(128).margin(1));
  CHECK((cellAt(*faint, p) & 0xffffff) == 0xff0000);
  const auto grey = looks([](auto& info) { info.grey = true; });
  CHECK((cellAt(*grey, p) & 0xffffff) == 0);  // black that lets through as much as the grey is light
  CHECK(static_cast<int>(cellAt(*grey, p) >> 24) == Approx(255 - 76).margin(2));
  const auto cropped = looks([](auto& info) { info.crop = plane::Box{0, 0, 50, 127}; });
  CHECK(cellAt(*cropped, {30, 33}) == 0xffff0000u);
  CHECK(cellAt(*cropped, p) >> 24 == 0);
  const auto both = withDrawn(withDrawn(empty, kRed), "0 1 0 rg 36 36 324 72 re f");
  CHECK(cellAt(*report::printedSheets(*both, kWindow, kAt, {}), p) == 0xff000000u);
  // Of a large page there are fewer dots.
  const auto large = report::printedSheets(*withDrawn(empty, kRed), kWindow, {0, 0, 1600, 800}, {});
  CHECK(large->cells.size() <= 12'100'000);
  CHECK(cellAt(*large, p) == 0xffff0000u);
}
