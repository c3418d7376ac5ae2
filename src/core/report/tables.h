// The quantities of a project as tables: for the window, the clipboard, text files and spreadsheets.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "report/figures.h"

namespace inselberg::report {

// A number at full precision, else a text, which may be empty.
struct Cell {
  Cell(std::string t) : text(std::move(t)) {}
  Cell(double v) : number(v) {}
  std::string text;
  std::optional<double> number;
};

struct Column {
  std::string title;    // with the unit: "Cut m³"
  int decimals = 0;     // as it is shown
  bool summed = false;  // the table ends in its total
};

struct Table {
  std::string title;
  std::vector<Column> columns;  // the first names the rows
  std::vector<std::vector<Cell>> rows;

  // Whether it ends in a total: some column is summed, over more than one row.
  bool hasTotal() const;
  // Of a column that is summed.
  double total(std::size_t column) const;
  // Its rows in the order of a column, numbers by size and texts by letters; equal ones stay as they are.
  void sort(std::size_t column, bool falling);
};

// A table made in metres, told in other measures. Units stand at the end of the titles, or as the title of the first
// column for all others.
Table inMeasures(Table table, const Measures& measures);

// Seams; works; the figures of the stages by region; strips, undercuts, build-ups and materials, where there are any.
// In the project's measures.
std::vector<Table> tablesOf(const project::Evaluation& evaluation, const Quantities& quantities);

// Separated by commas, each table under its title, with an empty line between them. UTF-8.
std::string asCsv(const std::vector<Table>& tables);
// Separated by tabs, for the clipboard.
std::string asTabs(const Table& table);

// A sheet for each table, totals as formulas. Throws Error when the file cannot be written.
void writeSpreadsheet(const std::vector<Table>& tables, const std::string& path);

}  // namespace inselberg::report
