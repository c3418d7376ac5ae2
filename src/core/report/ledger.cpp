#include "report/ledger.h"

#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "base/quantity.h"

namespace inselberg::report {
namespace {

std::string quoted(const std::string& text) {
  return nlohmann::json(text).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

}  // namespace

Ledger ledgerOf(const project::Evaluation& evaluation) {
  Ledger ledger;
  ledger.whole = true;
  ledger.doubts = evaluation.doubtCount();
  const project::Project& project = *evaluation.project;
  const auto worksOf = [&](std::size_t i) {
    for (const auto& w : evaluation.grounds[i].works) {
      LedgerRow row;
      row.kind = LedgerRow::Kind::works;
      row.name = w.works->name;
      row.on = project.column[i]->name;
      row.id = w.works->id.value;
      row.known = true;
      row.volume = w.volume;
      row.footprintArea = w.placement->footprintArea;
      row.level = works::levelOf(w.works->shape);
      ledger.rows.push_back(std::move(row));
    }
  };
  if (!evaluation.grounds.empty()) worksOf(0);
  for (std::size_t i = 0; i < evaluation.seams.size(); ++i) {
    const project::Seam& seam = evaluation.seams[i];
    LedgerRow row;
    row.name = project.ground(seam.from)->name + " to " + project.ground(seam.to)->name;
    row.known = seam.volume.has_value();
    if (seam.volume) {
      row.volume = *seam.volume;
      ledger.cut += seam.volume->cut;
      ledger.fill += seam.volume->fill;
    } else {
      ledger.whole = false;
    }
    ledger.rows.push_back(std::move(row));
    worksOf(i + 1);
  }
  return ledger;
}

std::string surplusText(double surplus) {
  const std::string amount = formatNumber(std::abs(surplus), 0);
  if (amount == "0") return "balanced";
  return (surplus > 0 ? "surplus " : "shortfall ") + amount + " m³";
}

std::string asText(const project::Evaluation& evaluation) {
  const Ledger ledger = ledgerOf(evaluation);
  std::string out = evaluation.project->name + "\n\n";
  const auto line = [&](const std::string& name, const std::string& cut, const std::string& fill,
                        const std::string& surplus) {
    // Names are padded by characters, not bytes, as far as UTF-8 continuation bytes tell.
    std::size_t width = 0;
    for (const char c : name) width += (static_cast<unsigned char>(c) & 0xc0) != 0x80;
    out += name + std::string(width < 36 ? 36 - width : 1, ' ');
    out += fmt::format("{:>12} {:>12}   {}\n", cut, fill, surplus);
  };
  line("", "cut m3", "fill m3", "");
  for (const LedgerRow& row : ledger.rows) {
    const std::string name = (row.kind == LedgerRow::Kind::works ? "  " : "") + row.name;
    if (row.known) {
      line(name, formatNumber(row.volume.cut, 1), formatNumber(row.volume.fill, 1), surplusText(row.volume.surplus()));
    } else {
      line(name, "-", "-", "not known: a ground is missing");
    }
  }
  line("total", formatNumber(ledger.cut, 1), formatNumber(ledger.fill, 1), surplusText(ledger.surplus()));
  for (const auto& g : evaluation.grounds) {
    if (!g.problem.empty()) out += "\n" + evaluation.project->ground(g.id)->name + ": " + g.problem + "\n";
    for (const auto& d : g.doubts) {
      if (!evaluation.project->acceptance(d)) out += "\ndoubt: " + d.text + "\n";
    }
  }
  return out;
}

std::string volumeMembers(const quantity::Volume& v) {
  return fmt::format(
      "\"cut_m3\":{},\"fill_m3\":{},\"surplus_m3\":{},\"cut_area_m2\":{},\"fill_area_m2\":{},\"untouched_area_m2\":{},"
      "\"plan_area_m2\":{},\"max_cut_m\":{},\"max_fill_m\":{},\"only_from_area_m2\":{},\"only_to_area_m2\":{},"
      "\"outside_area_m2\":{}",
      v.cut, v.fill, v.surplus(), v.cutArea, v.fillArea, v.untouchedArea, v.planArea(), v.maxCut, v.maxFill, v.onlyFrom,
      v.onlyTo, v.outside);
}

std::string doubtMembers(const ground::Doubt& doubt, const plane::Origin& origin) {
  return fmt::format("\"kind\":\"{}\",\"where\":[{},{}],\"text\":{}", ground::name(doubt.kind),
                     doubt.where.x + origin.easting, doubt.where.y + origin.northing, quoted(doubt.text));
}

std::string asJson(const project::Evaluation& evaluation) {
  const Ledger ledger = ledgerOf(evaluation);
  std::string seams, works, doubts, problems;
  const auto join = [](std::string& list, const std::string& item) { list += (list.empty() ? "" : ",") + item; };
  for (const LedgerRow& row : ledger.rows) {
    if (row.kind == LedgerRow::Kind::seam) {
      join(seams, fmt::format("{{\"name\":{},{}}}", quoted(row.name),
                              row.known ? volumeMembers(row.volume) : "\"known\":false"));
    } else {
      join(works,
           fmt::format("{{\"id\":{},\"name\":{},\"ground\":{},\"level_m\":{},\"footprint_area_m2\":{},{}}}", row.id,
                       quoted(row.name), quoted(row.on), row.level, row.footprintArea, volumeMembers(row.volume)));
    }
  }
  for (const auto& g : evaluation.grounds) {
    const std::string name = quoted(evaluation.project->ground(g.id)->name);
    if (!g.problem.empty()) join(problems, fmt::format("{{\"ground\":{},\"text\":{}}}", name, quoted(g.problem)));
    for (const auto& d : g.doubts) {
      if (evaluation.project->acceptance(d)) continue;
      join(doubts, fmt::format("{{{},\"ground\":{}}}", doubtMembers(d, evaluation.project->origin), name));
    }
  }
  return fmt::format(
      "{{\"project\":{},\"seams\":[{}],\"works\":[{}],\"total\":{{\"cut_m3\":{},\"fill_m3\":{},\"surplus_m3\":{}}},"
      "\"doubts\":[{}],\"problems\":[{}]}}\n",
      quoted(evaluation.project->name), seams, works, ledger.cut, ledger.fill, ledger.surplus(), doubts, problems);
}

}  // namespace inselberg::report
