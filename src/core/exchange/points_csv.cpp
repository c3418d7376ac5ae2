#include "exchange/points_csv.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

struct Row {
  long line = 0;
  std::vector<std::string> cells;
};

// Reads rows one after the other: quotes ("" inside), CRLF, CR and LF.
class Rows {
 public:
  Rows(const std::string& text, char delimiter) : text_(text), delimiter_(delimiter) {}

  // False at the end. A row of one empty cell is a blank line.
  bool next(Row& row) {
    row.cells.clear();
    row.line = line_;
    if (at_ >= text_.size()) return false;
    std::string cell;
    bool quoted = false, wasQuoted = false;
    for (; at_ < text_.size(); ++at_) {
      const char c = text_[at_];
      if (quoted) {
        if (c == '\n') ++line_;
        if (c != '"') {
          cell += c;
        } else if (at_ + 1 < text_.size() && text_[at_ + 1] == '"') {
          cell += c;
          ++at_;
        } else {
          quoted = false;
        }
        continue;
      }
      if (c == '"' && cell.find_first_not_of(' ') == std::string::npos && !wasQuoted) {
        cell.clear();
        quoted = wasQuoted = true;
      } else if (c == delimiter_) {
        row.cells.push_back(std::move(cell));
        cell.clear();
        wasQuoted = false;
      } else if (c == '\n' || c == '\r') {
        if (c == '\r' && at_ + 1 < text_.size() && text_[at_ + 1] == '\n') ++at_;
        ++at_;
        ++line_;
        row.cells.push_back(std::move(cell));
        return true;
      } else {
        cell += c;
      }
    }
    if (quoted)
      throw Error("a quote is opened and not closed", {"", row.line}, "close it, or double quotes inside a text");
    row.cells.push_back(std::move(cell));
    return true;
  }

 private:
  const std::string& text_;
  char delimiter_;
  std::size_t at_ = 0;
  long line_ = 1;
};

std::string simplified(const std::string& cell) {
  std::string s;
  for (const char c : cell) {
    if (c != ' ' && c != '_' && c != '.' && c != '-' && c != '\t')
      s += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  }
  if (const auto bracket = s.find_first_of("(["); bracket != std::string::npos) s.erase(bracket);
  return s;
}

bool isBlank(const Row& row) {
  return row.cells.size() == 1 && row.cells[0].find_first_not_of(" \t") == std::string::npos;
}
bool isComment(const Row& row) {
  return row.cells[0].starts_with('#');
}

bool oneOf(const std::string& s, std::initializer_list<const char*> names) {
  return std::any_of(names.begin(), names.end(), [&](const char* n) { return s == n; });
}

std::optional<PointColumns> byNames(const Row& row, char delimiter) {
  PointColumns c;
  c.header = true;
  c.delimiter = delimiter;
  for (int i = 0; i < static_cast<int>(row.cells.size()); ++i) {
    const std::string s = simplified(row.cells[i]);
    const auto take = [&](int& slot) {
      if (slot < 0) slot = i;
    };
    if (oneOf(s, {"easting", "east", "e", "x", "xcoord", "eastings"})) take(c.easting);
    if (oneOf(s, {"northing", "north", "n", "y", "ycoord", "northings"})) take(c.northing);
    if (oneOf(s, {"level", "elevation", "elev", "z", "height", "rl", "h", "reducedlevel", "zcoord"})) take(c.level);
    if (oneOf(s, {"number", "no", "nr", "p", "pt", "point", "id", "name", "pointnumber", "pointno", "pointid", "num"}))
      take(c.number);
    if (oneOf(s, {"code", "description", "desc", "feature", "remark", "note", "featurecode"})) take(c.code);
  }
  if (c.easting < 0 || c.northing < 0 || c.level < 0) return std::nullopt;
  return c;
}

bool isNumber(const Row& row, int column) {
  return column < static_cast<int>(row.cells.size()) && parseNumber(row.cells[column]).has_value();
}

}  // namespace

char guessDelimiter(const std::string& text) {
  // The one that cuts the first row that counts into most cells.
  char best = ',';
  std::size_t most = 0;
  for (const char d : {',', ';', '\t'}) {
    Rows rows(text, d);
    Row row;
    while (rows.next(row) && (isBlank(row) || isComment(row))) {
    }
    if (row.cells.size() > most) most = row.cells.size(), best = d;
  }
  return best;
}

std::optional<PointColumns> guessColumns(const std::string& text) {
  const char delimiter = guessDelimiter(text);
  Rows rows(text, delimiter);
  Row row;
  while (rows.next(row) && (isBlank(row) || isComment(row))) {
  }
  if (auto named = byNames(row, delimiter)) return named;
  const int n = static_cast<int>(row.cells.size());
  PointColumns c;
  c.delimiter = delimiter;
  // The first row may be the one with the bad number: its other cells, or the next row, tell the columns.
  Row second;
  const bool more = rows.next(second);
  for (const Row* r : {&row, more ? &second : &row}) {
    if (n == 3 && isNumber(*r, 0) && isNumber(*r, 1)) {
      c.easting = 0, c.northing = 1, c.level = 2;
      return c;
    }
    if (n >= 4 && ((isNumber(*r, 1) && isNumber(*r, 2)) || (isNumber(*r, 2) && isNumber(*r, 3)) ||
                   (isNumber(*r, 1) && isNumber(*r, 3)))) {
      // A first row without any number where the next has them is a header in words we do not know.
      if (r == &second && !isNumber(row, 1) && !isNumber(row, 2) && !isNumber(row, 3)) return std::nullopt;
      c.number = 0, c.easting = 1, c.northing = 2, c.level = 3, c.code = n > 4 ? 4 : -1;
      return c;
    }
  }
  return std::nullopt;
}

std::vector<std::vector<std::string>> firstRows(const std::string& text, char delimiter, std::size_t most) {
  std::vector<std::vector<std::string>> result;
  Rows rows(text, delimiter);
  Row row;
  while (result.size() < most && rows.next(row)) result.push_back(row.cells);
  return result;
}

Imported readPoints(const std::string& path, const std::optional<PointColumns>& given, double metresPerUnit,
                    const Progress& progress) {
  const std::string text = readText(path);
  Imported out;
  out.file = path;
  out.format = "points";
  try {
    const std::optional<PointColumns> columns = given ? given : guessColumns(text);
    if (!columns) {
      throw Error("the columns cannot be told from the first row", {path, 1},
                  "name them in a first row: number,easting,northing,level,code");
    }
    Rows rows(text, columns->delimiter);
    Row row;
    bool first = true;
    const int needed = std::max({columns->easting, columns->northing, columns->level}) + 1;
    std::size_t count = 0;
    while (rows.next(row)) {
      if ((++count & 0xfff) == 0) progress.check();
      if (isBlank(row) || isComment(row)) continue;
      if (std::exchange(first, false) && columns->header) continue;
      const auto problem = [&](std::string what, std::string hint) {
        out.problems.push_back({row.line, std::move(what), std::move(hint)});
      };
      if (static_cast<int>(row.cells.size()) < needed) {
        problem("the row has " + std::to_string(row.cells.size()) + " columns and needs " + std::to_string(needed),
                "complete the row or remove it");
        continue;
      }
      const std::array<std::pair<const char*, int>, 3> wanted{
          {{"easting", columns->easting}, {"northing", columns->northing}, {"level", columns->level}}};
      std::array<double, 3> value{};
      bool good = true;
      for (std::size_t k = 0; k < 3 && good; ++k) {
        const std::string& cell = row.cells[wanted[k].second];
        const auto number = parseNumber(cell);
        if (!number || std::abs(*number) > 1e8) {
          problem(std::string("the ") + wanted[k].first + " \"" + cell.substr(0, 40) + "\" is not a usable number",
                  "correct the number or remove the row");
          good = false;
        } else {
          value[k] = *number * metresPerUnit;
        }
      }
      if (!good) continue;
      const auto cellAt = [&](int i) {
        return i >= 0 && i < static_cast<int>(row.cells.size()) ? row.cells[i] : std::string();
      };
      out.points.push_back({value[0], value[1], value[2]});
      out.pointLines.push_back(row.line);
      out.numbers.push_back(cellAt(columns->number));
      out.codes.push_back(cellAt(columns->code));
    }
  } catch (const Error& e) {
    if (!e.where().file.empty()) throw;
    throw Error(e.happened(), {path, e.where().line}, e.hint());
  }
  if (metresPerUnit != 1) out.units = "ft";
  return out;
}

}  // namespace inselberg::exchange
