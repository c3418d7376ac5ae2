// Point lists as delimited text.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/progress.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

// Which column (from 0) holds what; -1: none.
struct PointColumns {
  int number = -1, easting = -1, northing = -1, level = -1, code = -1;
  bool header = false;  // the first row names the columns
  char delimiter = ',';
  bool operator==(const PointColumns&) const = default;
};

// The character most likely to part the cells: comma, semicolon or tab.
char guessDelimiter(const std::string& text);

// The columns as guessed from the first row: by name (any order, common synonyms), or without a header as
// number, easting, northing, level, code (easting, northing, level when there are three). Nothing when neither fits.
std::optional<PointColumns> guessColumns(const std::string& text);

// The first rows, cell by cell.
std::vector<std::vector<std::string>> firstRows(const std::string& text, char delimiter, std::size_t most);

// Reads all rows; `metresPerUnit` scales easting, northing and level. A row with a missing, non-numeric, infinite or
// implausible (beyond 1e8) coordinate becomes a problem with its line. Blank lines and lines starting with # are passed
// over. Throws Error when the columns cannot be told, or a quote is not closed; Cancelled.
Imported readPoints(const std::string& path, const std::optional<PointColumns>& columns, double metresPerUnit,
                    const Progress& progress = {});

}  // namespace inselberg::exchange
