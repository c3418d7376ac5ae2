#include "project/plan_sheet.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <stdexcept>

#include "plane/boxes.h"
#include "project/project.h"

namespace inselberg::project {

PlanSheetPtr makePlanSheet(SheetId id, SheetInfo info, std::shared_ptr<const std::string> bytes, std::string world) {
  auto made = std::make_shared<PlanSheet>();
  static_cast<SheetInfo&>(*made) = std::move(info);
  made->id = id;
  made->hash = Hasher().text(*bytes).text(world).finish();
  made->bytes = std::move(bytes);
  made->world = std::move(world);
  return made;
}

std::vector<sheet::KnownLength> lengthsOf(const SheetInfo& sheet) {
  std::vector<sheet::KnownLength> lengths;
  for (std::size_t i = 0; sheet.placedBy == PlacedBy::lengths && i + 1 < sheet.controls.size(); i += 2)
    lengths.push_back({sheet.controls[i].page, sheet.controls[i + 1].page, sheet.controls[i + 1].ground.x});
  return lengths;
}

std::vector<std::string> doubtsOf(const SheetInfo& sheet) {
  std::vector<std::string> doubts = sheet::doubtsOf(sheet.placement);
  if (sheet.placedBy == PlacedBy::lengths && !sheet::tellBoth(lengthsOf(sheet)))
    doubts.push_back("It is scaled by a length in one direction only.");
  return doubts;
}

plane::Box shownPart(const SheetInfo& sheet) {
  plane::Box page{0, 0, sheet.size.x, sheet.size.y};
  if (!sheet.crop) return page;
  return plane::common(page, *sheet.crop);
}

plane::Box boundsOf(const SheetInfo& sheet) {
  return plane::boxAround(shownPart(sheet), sheet.placement);
}

std::string scaleText(const SheetInfo& sheet) {
  const double x = sheet.placement.metresX(), y = sheet.placement.metresY();
  const bool even = std::abs(x / y - 1) <= sheet::kUnlikeScales;
  if (sheet.picture)
    return even ? fmt::format("{:.4g} m a pixel", x) : fmt::format("{:.4g} m along, {:.4g} m up a pixel", x, y);
  return even ? fmt::format("1 : {:.6g}", std::round(x * 1e4) / 10)
              : fmt::format("1 : {:.6g} along, 1 : {:.6g} up", std::round(x * 1e4) / 10, std::round(y * 1e4) / 10);
}

namespace {

ProjectPtr withChangedSheet(const Project& project, SheetId id,
                            const std::function<PlanSheetPtr(const PlanSheet&)>& f) {
  auto next = std::make_shared<Project>(project);
  for (PlanSheetPtr& sheet : next->sheets) {
    if (sheet->id == id) {
      sheet = f(*sheet);
      return next;
    }
  }
  throw std::out_of_range("no such sheet");
}

}  // namespace

const PlanSheet* Project::sheet(SheetId id) const {
  for (const PlanSheetPtr& s : sheets) {
    if (s->id == id) return s.get();
  }
  return nullptr;
}

ProjectPtr withSheet(const Project& project, SheetInfo info, std::shared_ptr<const std::string> bytes,
                     std::string world) {
  auto next = std::make_shared<Project>(project);
  next->hasOrigin = true;
  next->sheets.push_back(makePlanSheet(SheetId{next->nextId++}, std::move(info), std::move(bytes), std::move(world)));
  return next;
}

ProjectPtr withSheetInfo(const Project& project, SheetId id, SheetInfo info) {
  return withChangedSheet(project, id, [&](const PlanSheet& was) {
    auto changed = std::make_shared<PlanSheet>(was);
    static_cast<SheetInfo&>(*changed) = std::move(info);
    return changed;
  });
}

ProjectPtr withoutSheet(const Project& project, SheetId id) {
  auto next = std::make_shared<Project>(project);
  std::erase_if(next->sheets, [&](const PlanSheetPtr& s) { return s->id == id; });
  return next;
}

ProjectPtr withSheetAt(const Project& project, SheetId id, std::size_t place) {
  auto next = std::make_shared<Project>(project);
  const auto at = std::find_if(next->sheets.begin(), next->sheets.end(), [&](const auto& s) { return s->id == id; });
  if (at == next->sheets.end()) throw std::out_of_range("no such sheet");
  PlanSheetPtr moved = *at;
  next->sheets.erase(at);
  place = std::min(place, next->sheets.size());
  next->sheets.insert(next->sheets.begin() + static_cast<std::ptrdiff_t>(place), std::move(moved));
  return next;
}

}  // namespace inselberg::project
