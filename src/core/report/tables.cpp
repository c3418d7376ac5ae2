#include "report/tables.h"

#include <fmt/format.h>
#include <xlsxwriter.h>

#include <algorithm>

#include "base/error.h"
#include "base/quantity.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "report/ledger.h"

namespace inselberg::report {
namespace {

Table seamsTable(const Ledger& ledger, const Quantities& quantities) {
  Table table{"Seams",
              {{"Seam"},
               {"Cut m³", 1, true},
               {"Fill m³", 1, true},
               {"Cut less fill m³", 1, true},
               {"Cut m²", 1},
               {"Fill m²", 1},
               {"Deepest cut m", 3},
               {"Highest fill m", 3},
               {"Not measured m²", 1}},
              {}};
  const bool sure = !quantities.sure.empty();
  if (sure) table.columns.insert(table.columns.end(), {{"± cut m³", 1}, {"± fill m³", 1}, {"± net m³", 1}});
  for (const LedgerRow& row : ledger.rows) {
    if (row.kind != LedgerRow::Kind::seam || !row.known || !row.between.counted) continue;
    const quantity::Volume& v = row.volume;
    table.rows.push_back(
        {row.name, v.cut, v.fill, v.surplus(), v.cutArea, v.fillArea, v.maxCut, v.maxFill, v.unmeasured()});
    for (const Measured& m : quantities.sure) {
      if (m.works == 0 && m.name == row.name && m.sure)
        table.rows.back().insert(table.rows.back().end(), {m.sure->cut, m.sure->fill, m.sure->net});
    }
  }
  return table;
}

Table worksTable(const Ledger& ledger, const Quantities& quantities) {
  Table table{"Works",
              {{"Works"},
               {"Kind"},
               {"On"},
               {"Cut m³", 1},
               {"Fill m³", 1},
               {"Cut less fill m³", 1},
               {"Cut m²", 1},
               {"Fill m²", 1},
               {"Footprint m²", 1},
               {"Deepest cut m", 3},
               {"Highest fill m", 3}},
              {}};
  if (!quantities.sure.empty())
    table.columns.insert(table.columns.end(), {{"± cut m³", 1}, {"± fill m³", 1}, {"± net m³", 1}});
  for (const LedgerRow& row : ledger.rows) {
    if (row.kind != LedgerRow::Kind::works || !row.known) continue;
    const quantity::Volume& v = row.volume;
    table.rows.push_back({row.name, row.works, row.on, v.cut, v.fill, v.surplus(), v.cutArea, v.fillArea,
                          row.footprintArea, v.maxCut, v.maxFill});
    for (const Measured& m : quantities.sure) {
      if (m.works == row.id && m.sure)
        table.rows.back().insert(table.rows.back().end(), {m.sure->cut, m.sure->fill, m.sure->net});
    }
  }
  return table;
}

Table figuresTable(const Quantities& quantities) {
  Table table{"Figures", {{"m³"}, {"In all", 1}}, {}};
  for (const RegionFigures& r : quantities.regions) table.columns.push_back({r.name, 1});
  const auto row = [&](const char* name, auto&& figure) {
    table.rows.push_back({std::string(name), figure(quantities.whole)});
    for (const RegionFigures& r : quantities.regions) table.rows.back().push_back(figure(r.figures));
  };
  row("Strip", [](const Figures& f) { return f.strip; });
  row("Bulk cut", [](const Figures& f) { return f.bulkCut; });
  row("Bulk fill", [](const Figures& f) { return f.bulkFill; });
  row("Undercut", [](const Figures& f) { return f.undercut; });
  row("Backfill", [](const Figures& f) { return f.backfill; });
  row("Build-up", [](const Figures& f) { return f.buildUp; });
  row("Available, compacted", [](const Figures& f) { return f.available; });
  row("Needed, compacted", [](const Figures& f) { return f.needed; });
  row("Surplus, compacted", [](const Figures& f) { return std::max(0.0, f.surplus()); });
  row("Shortfall, to import, compacted", [](const Figures& f) { return f.import; });
  row("Export, bank", [](const Figures& f) { return f.exported; });
  return table;
}

void addStages(std::vector<Table>& tables, const Figures& f) {
  Table strips{"Strips", {{"Strip"}, {"Volume m³", 1, true}, {"Area m²", 1, true}, {"Loose m³", 1, true}}, {}};
  for (const StripFigure& s : f.strips) strips.rows.push_back({s.name, s.volume, s.area, s.loose});
  Table undercuts{"Undercuts", {{"Undercut"}, {"Dig m³", 1, true}, {"Area m²", 1}}, {}};
  for (const UndercutFigure& u : f.undercuts) undercuts.rows.push_back({u.name, u.dig, u.area});
  Table buildUps{
      "Build-ups", {{"Build-up"}, {"Layer"}, {"Thickness m", 3}, {"Area m²", 1}, {"Volume m³", 1, true}}, {}};
  for (const BuildUpFigure& b : f.buildUps) {
    for (const LayerFigure& l : b.layers) buildUps.rows.push_back({b.name, l.name, l.thickness, l.area, l.volume});
  }
  Table backfill{"Backfill in layers",
                 {{"Undercut"}, {"Layer"}, {"Thickness m", 3}, {"Mean area m²", 1}, {"Volume m³", 1, true}},
                 {}};
  for (const UndercutFigure& u : f.undercuts) {
    double rest = u.dig;
    for (const LayerFigure& l : u.layers) {
      backfill.rows.push_back({u.name, l.name, l.thickness, l.area, l.volume});
      rest -= l.volume;
    }
    if (!u.layers.empty()) backfill.rows.push_back({u.name, std::string("fill above"), std::string(), u.area, rest});
  }
  Table materials{"Materials",
                  {{"Material"},
                   {"Bank m³", 1, true},
                   {"Loose m³", 1, true},
                   {"Compacted m³", 1, true},
                   {"Usable, bank m³", 1, true},
                   {"Cost", 2, true}},
                  {}};
  for (const MaterialFigure& m : f.materials)
    materials.rows.push_back({m.name, m.bank, m.loose, m.compacted, m.usable, m.cost});
  for (Table* table : {&strips, &undercuts, &backfill, &buildUps, &materials}) {
    if (!table->rows.empty()) tables.push_back(std::move(*table));
  }
}

template <class Text>
std::string lines(const Table& table, const char* between, Text&& text) {
  std::string out;
  const auto line = [&](std::size_t n, auto&& cell) {
    for (std::size_t c = 0; c < n; ++c) out += (c == 0 ? "" : between) + cell(c);
    out += "\n";
  };
  line(table.columns.size(), [&](std::size_t c) { return text(Cell(table.columns[c].title)); });
  for (const auto& row : table.rows) line(row.size(), [&](std::size_t c) { return text(row[c]); });
  if (table.hasTotal()) {
    line(table.columns.size(), [&](std::size_t c) {
      return c == 0                    ? text(Cell(std::string("Total")))
             : table.columns[c].summed ? text(Cell(table.total(c)))
                                       : std::string();
    });
  }
  return out;
}

std::string numberText(double v) {
  return fmt::format("{:.17g}", v);
}

Table asBuiltTable(const Quantities& quantities) {
  Table table{"As built",
              {{"Survey", 0, false},
               {"Region", 0, false},
               {"Done cut m³", 0, false},
               {"Done fill m³", 0, false},
               {"Since last cut m³", 0, false},
               {"Since last fill m³", 0, false},
               {"Left to cut m³", 0, false},
               {"Left to fill m³", 0, false},
               {"Covered m²", 0, false}},
              {}};
  for (const AsBuiltFigures& a : quantities.asBuilt) {
    table.rows.push_back({a.survey, a.region.empty() ? std::string("everywhere") : a.region, a.done.cut, a.done.fill,
                          a.sinceLast.cut, a.sinceLast.fill, a.remaining.cut, a.remaining.fill, a.done.planArea()});
  }
  return table;
}

}  // namespace

bool Table::hasTotal() const {
  return rows.size() > 1 && std::any_of(columns.begin(), columns.end(), [](const Column& c) { return c.summed; });
}

double Table::total(std::size_t column) const {
  double sum = 0;
  for (const auto& row : rows) {
    if (column < row.size()) sum += row[column].number.value_or(0);
  }
  return sum;
}

void Table::sort(std::size_t column, bool falling) {
  const auto before = [column](const std::vector<Cell>& a, const std::vector<Cell>& b) {
    if (column >= a.size() || column >= b.size()) return a.size() > b.size();
    const Cell &x = a[column], &y = b[column];
    if (x.number && y.number) return *x.number < *y.number;
    return !x.number && !y.number ? x.text < y.text : x.number.has_value();
  };
  std::stable_sort(rows.begin(), rows.end(),
                   [&](const auto& a, const auto& b) { return falling ? before(b, a) : before(a, b); });
}

Table inMeasures(Table table, const Measures& measures) {
  if (!measures.imperial) return table;
  // The unit that a title ends in, told in the other one.
  const auto retitle = [&](std::string& title) -> std::optional<Quantity> {
    for (const Quantity quantity : {Quantity::volume, Quantity::area, Quantity::length}) {
      const std::string unit = unitOf(quantity, {});
      if (title != unit && !title.ends_with(" " + unit)) continue;
      title = title.substr(0, title.size() - unit.size()) + unitOf(quantity, measures);
      return quantity;
    }
    return std::nullopt;
  };
  std::optional<Quantity> ofAll;
  for (std::size_t c = 0; c < table.columns.size(); ++c) {
    Column& column = table.columns[c];
    const std::optional<Quantity> own = retitle(column.title);
    if (c == 0) ofAll = own;
    const std::optional<Quantity> quantity = own ? own : ofAll;
    if (!quantity) continue;
    if (quantity == Quantity::area) column.decimals = 3;
    for (auto& row : table.rows) {
      if (c < row.size() && row[c].number) row[c].number = inUnit(*row[c].number, *quantity, measures);
    }
  }
  return table;
}

std::vector<Table> tablesOf(const project::Evaluation& evaluation, const Quantities& quantities) {
  const Ledger ledger = ledgerOf(evaluation);
  std::vector<Table> tables{seamsTable(ledger, quantities), worksTable(ledger, quantities), figuresTable(quantities)};
  addStages(tables, quantities.whole);
  if (!quantities.asBuilt.empty()) tables.push_back(asBuiltTable(quantities));
  for (Table& table : tables) table = inMeasures(std::move(table), evaluation.project->measures);
  return tables;
}

std::string asCsv(const std::vector<Table>& tables) {
  std::string out;
  for (const Table& table : tables) {
    out += (out.empty() ? "" : "\n") + csvCell(table.title) + "\n";
    out +=
        lines(table, ",", [](const Cell& cell) { return cell.number ? numberText(*cell.number) : csvCell(cell.text); });
  }
  return out;
}

std::string asTabs(const Table& table) {
  return lines(table, "\t", [](const Cell& cell) { return cell.number ? numberText(*cell.number) : cell.text; });
}

void writeSpreadsheet(const std::vector<Table>& tables, const std::string& path) {
  writeBeside(path, "", [&](const std::string& part) {
    lxw_workbook* book = workbook_new(part.c_str());
    if (!book) throw Error("the spreadsheet cannot be begun", {path}, "choose another folder");
    lxw_format* bold = workbook_add_format(book);
    format_set_bold(bold);
    std::vector<lxw_format*> plain, strong;
    for (int d = 0; d <= 3; ++d) {
      const std::string form = d == 0 ? "#,##0" : "#,##0." + std::string(static_cast<std::size_t>(d), '0');
      for (auto* list : {&plain, &strong}) {
        lxw_format* format = workbook_add_format(book);
        format_set_num_format(format, form.c_str());
        if (list == &strong) format_set_bold(format);
        list->push_back(format);
      }
    }
    for (const Table& table : tables) {
      lxw_worksheet* sheet = workbook_add_worksheet(book, table.title.c_str());
      for (std::size_t c = 0; c < table.columns.size(); ++c) {
        const auto column = static_cast<lxw_col_t>(c);
        worksheet_set_column(sheet, column, column, c == 0 ? 30 : 16, nullptr);
        worksheet_write_string(sheet, 0, column, table.columns[c].title.c_str(), bold);
        const auto decimals = static_cast<std::size_t>(std::clamp(table.columns[c].decimals, 0, 3));
        for (std::size_t r = 0; r < table.rows.size(); ++r) {
          if (c >= table.rows[r].size()) continue;
          const auto row = static_cast<lxw_row_t>(r + 1);
          const Cell& cell = table.rows[r][c];
          if (cell.number) {
            worksheet_write_number(sheet, row, column, *cell.number, plain[decimals]);
          } else {
            worksheet_write_string(sheet, row, column, cell.text.c_str(), nullptr);
          }
        }
        if (!table.hasTotal()) continue;
        const auto last = static_cast<lxw_row_t>(table.rows.size() + 1);
        if (c == 0) worksheet_write_string(sheet, last, 0, "Total", bold);
        if (!table.columns[c].summed) continue;
        const char letter = static_cast<char>('A' + c);
        worksheet_write_formula_num(sheet, last, column,
                                    fmt::format("=SUM({0}2:{0}{1})", letter, table.rows.size() + 1).c_str(),
                                    strong[decimals], table.total(c));
      }
      worksheet_freeze_panes(sheet, 1, 1);
    }
    if (const lxw_error error = workbook_close(book); error != LXW_NO_ERROR)
      throw Error(std::string("the spreadsheet cannot be written (") + lxw_strerror(error) + ")", {path},
                  "choose another folder");
  });
}

}  // namespace inselberg::report
