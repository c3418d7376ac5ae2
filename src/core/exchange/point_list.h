// Point lists: delimited text, text in fixed columns, and spreadsheets.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/progress.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

// How a line of text parts into cells, and how numbers are written.
struct TableForm {
  char delimiter = ',';             // a blank: any number of blanks and tabs
  std::vector<std::size_t> starts;  // fixed columns: where each begins (bytes from 0); empty: delimited
  char decimal = '.';               // or ','; the other one, blanks and apostrophes may part thousands
  bool operator==(const TableForm&) const = default;
};

// Which column (from 0) holds what; -1: none.
struct PointColumns {
  int number = -1, easting = -1, northing = -1, level = -1, code = -1, description = -1;
  bool header = false;   // the first row names the columns
  bool degrees = false;  // easting and northing are named longitude and latitude
  TableForm form;
  bool operator==(const PointColumns&) const = default;
};

// The form most likely from the first lines: comma, semicolon, tab, bar or blanks; fixed columns where blanks alone
// give rows of different lengths and the same places are blank in all rows; a decimal comma where the numbers have one.
TableForm guessForm(const std::string& text);

// The columns as guessed from the first row: by name (any order, common synonyms), or without a header as
// number, easting, northing, level, code (easting, northing, level when there are three). Nothing when neither fits.
std::optional<PointColumns> guessColumns(const std::string& text);
// The same with a given form.
std::optional<PointColumns> guessColumns(const std::string& text, const TableForm& form);

// Where columns begin that are blank before in each of the first lines.
std::vector<std::size_t> fixedColumns(const std::string& text);

// The first rows, cell by cell.
std::vector<std::vector<std::string>> firstRows(const std::string& text, const TableForm& form, std::size_t most);

// Reads all rows; longitude and latitude are taken to be of WGS 84. A row with a missing, non-numeric, infinite or
// implausible (beyond 1e8) coordinate becomes a problem with its line. Blank lines and lines starting with # are passed
// over. Throws Error when the columns cannot be told, or a quote is not closed; Cancelled.
Imported readPoints(const std::string& path, const std::optional<PointColumns>& columns, const Progress& progress = {});

// Reads a spreadsheet (XLSX, ODS): every sheet with point columns is a layer; others are told in a remark. `columns`
// holds for all sheets. Otherwise as readPoints, lines being rows.
Imported readSheets(const std::string& path, const std::optional<PointColumns>& columns, const Progress& progress = {});

}  // namespace inselberg::exchange
