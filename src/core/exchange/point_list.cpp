// The form is guessed from the first 40 lines: the mark that parts most of them into three cells at least, else blanks,
// else fixed columns where blanks alone do not part words from numbers; a decimal comma where cells have commas and no
// points. Columns go by their names, else by their order and ranges. Rows are read one by one, with their line.
#include "exchange/point_list.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/gis.h"
#include "exchange/length_units.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

using Row = SheetRow;

// Reads rows one after the other: quotes ("" inside), CRLF, CR and LF.
class Rows {
 public:
  Rows(const std::string& text, const TableForm& form) : text_(text), form_(form), delimiter_(form.delimiter) {}

  // False at the end. A row of one empty cell is a blank line.
  bool next(Row& row) {
    row.cells.clear();
    row.line = line_;
    if (at_ >= text_.size()) return false;
    if (!form_.starts.empty() || delimiter_ == ' ') {
      plainLine(row);
      return true;
    }
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
  // A line in fixed columns or parted by blanks: no quotes.
  void plainLine(Row& row) {
    const std::size_t end = std::min(text_.find_first_of("\r\n", at_), text_.size());
    const std::string_view line(text_.data() + at_, end - at_);
    at_ = end;
    if (at_ < text_.size()) at_ += text_[at_] == '\r' && at_ + 1 < text_.size() && text_[at_ + 1] == '\n' ? 2 : 1;
    ++line_;
    const auto trimmed = [](std::string_view cell) {
      const auto first = cell.find_first_not_of(" \t");
      if (first == std::string_view::npos) return std::string();
      return std::string(cell.substr(first, cell.find_last_not_of(" \t") - first + 1));
    };
    if (!form_.starts.empty()) {
      for (std::size_t i = 0; i < form_.starts.size(); ++i) {
        const std::size_t from = std::min(form_.starts[i], line.size());
        const std::size_t to = i + 1 < form_.starts.size() ? std::min(form_.starts[i + 1], line.size()) : line.size();
        row.cells.push_back(trimmed(line.substr(from, to - std::min(from, to))));
      }
      if (std::all_of(row.cells.begin(), row.cells.end(), [](const auto& c) { return c.empty(); })) row.cells = {""};
      return;
    }
    std::size_t at = line.find_first_not_of(" \t");
    while (at != std::string_view::npos) {
      const std::size_t stop = std::min(line.find_first_of(" \t", at), line.size());
      row.cells.emplace_back(line.substr(at, stop - at));
      at = line.find_first_not_of(" \t", stop);
    }
    if (row.cells.empty()) row.cells.emplace_back();
  }

  const std::string& text_;
  const TableForm form_;
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

std::optional<PointColumns> byNames(const Row& row, const TableForm& form) {
  PointColumns c;
  c.header = true;
  c.form = form;
  for (int i = 0; i < static_cast<int>(row.cells.size()); ++i) {
    const std::string s = simplified(row.cells[i]);
    const auto take = [&](int& slot) {
      if (slot < 0) slot = i;
    };
    const bool longitude = oneOf(s, {"longitude", "lon", "long"}), latitude = oneOf(s, {"latitude", "lat"});
    if (longitude) take(c.easting);
    if (latitude) take(c.northing);
    c.degrees |= longitude || latitude;
    if (oneOf(s, {"easting", "east", "e", "x", "xcoord", "eastings"})) take(c.easting);
    if (oneOf(s, {"northing", "north", "n", "y", "ycoord", "northings"})) take(c.northing);
    if (oneOf(s, {"level", "elevation", "elev", "z", "height", "rl", "h", "reducedlevel", "zcoord"})) take(c.level);
    if (oneOf(s, {"number", "no", "nr", "p", "pt", "point", "id", "name", "pointnumber", "pointno", "pointid", "num"}))
      take(c.number);
    if (oneOf(s, {"code", "feature", "featurecode"})) take(c.code);
    if (oneOf(s, {"description", "desc", "remark", "note", "comment"})) take(c.description);
  }
  if (c.easting < 0 || c.northing < 0 || c.level < 0) return std::nullopt;
  if (c.code < 0) std::swap(c.code, c.description);
  return c;
}

// A number as the file writes them: with a decimal comma, or thousands parted by the other mark, blanks or apostrophes.
std::optional<double> numberIn(const std::string& cell, char decimal) {
  if (decimal == '.') {
    if (const auto plain = parseNumber(cell)) return plain;
  }
  const char other = decimal == '.' ? ',' : '.';
  std::string clean;
  std::size_t sinceMark = 0;  // digits since the last mark of thousands
  bool marked = false, fraction = false;
  for (std::size_t i = 0; i < cell.size(); ++i) {
    const char c = cell[i];
    const bool wide = static_cast<unsigned char>(c) == 0xc2 && i + 1 < cell.size() &&
                      static_cast<unsigned char>(cell[i + 1]) == 0xa0;  // a blank that does not break
    if (wide) ++i;
    const bool between = !clean.empty() && clean.back() >= '0' && clean.back() <= '9';
    if ((c == other || c == ' ' || c == '\'' || wide) && between && !fraction) {
      if (marked && sinceMark != 3) return std::nullopt;
      if (cell.find_first_not_of(" \t", i + 1) == std::string::npos && c != other) break;
      marked = true, sinceMark = 0;
      continue;
    }
    if (c == decimal) {
      if (marked && sinceMark != 3) return std::nullopt;
      fraction = true;
      clean += '.';
      continue;
    }
    if (marked && !fraction) ++sinceMark;
    clean += c;
  }
  if (marked && !fraction && sinceMark != 3) return std::nullopt;
  return parseNumber(clean);
}

bool isNumber(const Row& row, int column, const TableForm& form) {
  return column < static_cast<int>(row.cells.size()) && numberIn(row.cells[column], form.decimal).has_value();
}

std::vector<std::string_view> firstLines(const std::string& text, std::size_t most) {
  std::vector<std::string_view> lines;
  for (std::size_t at = 0; at < text.size() && lines.size() < most;) {
    const std::size_t end = std::min(text.find_first_of("\r\n", at), text.size());
    const std::string_view line(text.data() + at, end - at);
    if (line.find_first_not_of(" \t") != std::string_view::npos && !line.starts_with('#')) lines.push_back(line);
    at = end + 1;
  }
  return lines;
}

// Where columns begin that are blank before in every line.
std::vector<std::size_t> fixedStarts(const std::vector<std::string_view>& lines) {
  std::size_t width = 0;
  for (const auto line : lines) width = std::max(width, line.size());
  const auto blankInAll = [&](std::size_t i) {
    return std::all_of(lines.begin(), lines.end(), [&](std::string_view l) { return i >= l.size() || l[i] == ' '; });
  };
  std::vector<std::size_t> starts;
  for (std::size_t i = 0; i < std::min<std::size_t>(width, 500); ++i) {
    if (!blankInAll(i) && (i == 0 || blankInAll(i - 1))) starts.push_back(i);
  }
  if (!starts.empty()) starts.front() = 0;
  return starts;
}

// A decimal comma: cells with one comma and no point, or a point before the comma; against it, cells with a point.
void guessDecimal(const std::string& text, TableForm& form) {
  Rows rows(text, form);
  Row row;
  std::size_t commas = 0, points = 0, seen = 0;
  try {
    while (seen < 40 && rows.next(row)) {
      ++seen;
      for (const std::string& cell : row.cells) {
        if (cell.find_first_not_of("0123456789.,+- '\xc2\xa0") != std::string::npos) continue;
        const auto comma = cell.rfind(','), point = cell.rfind('.');
        if (comma != std::string::npos && (point == std::string::npos || point < comma)) ++commas;
        if (point != std::string::npos && (comma == std::string::npos || comma < point)) ++points;
      }
    }
  } catch (const Error&) {
    // A quote that is not closed is told by the reading proper.
  }
  if (form.delimiter != ',' || !form.starts.empty() || points == 0) form.decimal = commas > points ? ',' : '.';
}

}  // namespace

TableForm guessForm(const std::string& text) {
  TableForm form;
  const auto lines = firstLines(text, 40);
  if (lines.empty()) return form;
  // The mark that parts the most lines into the same number (at least three) of cells.
  std::size_t best = 0;
  for (const char mark : {'\t', ';', '|', ','}) {
    std::size_t agree = 0;
    const auto n = static_cast<std::size_t>(std::count(lines.back().begin(), lines.back().end(), mark));
    if (n >= 2) {
      for (const auto line : lines)
        agree += static_cast<std::size_t>(std::count(line.begin(), line.end(), mark)) >= 2 ? 1 : 0;
    }
    if (agree > best) best = agree, form.delimiter = mark;
  }
  const auto cellsByBlanks = [](std::string_view line) {
    std::size_t n = 0;
    for (std::size_t i = 0; i < line.size(); ++i)
      n += line[i] != ' ' && line[i] != '\t' && (i == 0 || line[i - 1] == ' ' || line[i - 1] == '\t');
    return n;
  };
  // Commas may be decimal ones where blanks part the cells.
  const bool blanks = std::all_of(lines.begin(), lines.end(), [&](auto l) { return cellsByBlanks(l) >= 3; });
  const auto tightCommas = [](std::string_view line) {
    std::size_t between = 0, all = 0;
    for (std::size_t i = 0; i < line.size(); ++i) {
      if (line[i] != ',') continue;
      ++all;
      between += i > 0 && i + 1 < line.size() && line[i - 1] >= '0' && line[i - 1] <= '9' && line[i + 1] >= '0' &&
                         line[i + 1] <= '9'
                     ? 1
                     : 0;
    }
    return all == between;
  };
  if (best == 0 || (form.delimiter == ',' && blanks && tightCommas(lines.back()))) {
    if (blanks) {
      form.delimiter = ' ';
      // Fixed columns only where blanks alone do not do: cells that are empty, or words before the numbers.
      const auto numbersByBlanks = [&](std::string_view line) {
        std::array<bool, 4> number{};
        std::size_t at = line.find_first_not_of(" \t");
        for (std::size_t i = 0; i < number.size() && at != std::string_view::npos; ++i) {
          const std::size_t end = std::min(line.find_first_of(" \t", at), line.size());
          number[i] = numberIn(std::string(line.substr(at, end - at)), ',') ||
                      numberIn(std::string(line.substr(at, end - at)), '.');
          at = line.find_first_not_of(" \t", end);
        }
        return number[1] && number[2] && (number[0] || number[3]);
      };
      const std::size_t from = numbersByBlanks(lines.front()) ? 0 : 1;  // a header
      const bool plain = std::all_of(lines.begin() + static_cast<std::ptrdiff_t>(std::min(from, lines.size())),
                                     lines.end(), numbersByBlanks);
      if (!plain && lines.size() > 2 && text.find('\t') == std::string::npos) {
        const auto starts = fixedStarts(lines);
        if (starts.size() >= 3) form.starts = starts;
      }
    } else if (best == 0) {
      form.delimiter = ',';
    }
  }
  guessDecimal(text, form);
  return form;
}

namespace {

std::optional<PointColumns> columnsOf(const Row& row, const Row* second, const TableForm& form) {
  if (auto named = byNames(row, form)) return named;
  PointColumns c;
  c.form = form;
  // The first row may be the one with the bad number: its other cells, or the next row, tell the columns.
  for (const Row* r : {&row, second ? second : &row}) {
    const int n = static_cast<int>(r->cells.size());
    const auto is = [&](int i) { return isNumber(*r, i, form); };
    if (n == 3 && is(0) && is(1)) {
      c.easting = 0, c.northing = 1, c.level = 2;
      return c;
    }
    if (n >= 4 && ((is(1) && is(2)) || (is(2) && is(3)) || (is(1) && is(3)))) {
      // A first row without any number where the next has them is a header in words we do not know.
      if (r == second && !isNumber(row, 1, form) && !isNumber(row, 2, form) && !isNumber(row, 3, form))
        return std::nullopt;
      // Without a number in front: easting, northing and level come first, then words.
      if (n == 4 && is(0) && is(1) && is(2) && !is(3)) {
        c.easting = 0, c.northing = 1, c.level = 2, c.code = 3;
        return c;
      }
      c.number = 0, c.easting = 1, c.northing = 2, c.level = 3, c.code = n > 4 ? 4 : -1;
      return c;
    }
  }
  return std::nullopt;
}

// Rows as points of one layer, from a source of rows: `next` gives false at the end. With `eitherMark` a number may
// have a decimal comma where that is the only way to read it.
template <class Next>
void addRows(Next&& next, const PointColumns& columns, LayerIndex layer, bool eitherMark, const Progress& progress,
             Imported& out) {
  Row row;
  bool first = true;
  const int needed = std::max({columns.easting, columns.northing, columns.level}) + 1;
  std::size_t count = 0;
  while (next(row)) {
    if ((++count & 0xfff) == 0) progress.check();
    if (row.cells.empty() || isBlank(row) || isComment(row)) continue;
    if (std::exchange(first, false) && columns.header) continue;
    const auto problem = [&](std::string what, std::string hint) {
      out.problems.push_back({row.line, std::move(what), std::move(hint), layer});
    };
    if (static_cast<int>(row.cells.size()) < needed) {
      problem("the row has " + std::to_string(row.cells.size()) + " columns and needs " + std::to_string(needed),
              "complete the row or remove it");
      continue;
    }
    const std::array<std::pair<const char*, int>, 3> wanted{
        {{"easting", columns.easting}, {"northing", columns.northing}, {"level", columns.level}}};
    std::array<double, 3> value{};
    bool good = true;
    for (std::size_t k = 0; k < 3 && good; ++k) {
      const std::string& cell = row.cells[wanted[k].second];
      auto number = numberIn(cell, columns.form.decimal);
      if (!number && eitherMark) number = numberIn(cell, ',');
      if (!number || std::abs(*number) > 1e8) {
        problem(std::string("the ") + wanted[k].first + " \"" + cell.substr(0, 40) + "\" is not a usable number",
                "correct the number or remove the row");
        good = false;
      } else {
        value[k] = *number;
      }
    }
    if (!good) continue;
    const auto cellAt = [&](int i) {
      return i >= 0 && i < static_cast<int>(row.cells.size()) ? row.cells[i] : std::string();
    };
    out.points.push_back({value[0], value[1], value[2]});
    if (layer > 0 || !out.pointLayers.empty()) {
      out.pointLayers.resize(out.points.size() - 1, 0);
      out.pointLayers.push_back(layer);
    }
    out.pointLines.push_back(row.line);
    out.numbers.push_back(cellAt(columns.number));
    std::string code = cellAt(columns.code);
    if (std::string more = cellAt(columns.description); !more.empty()) code += (code.empty() ? "" : " ") + more;
    // Blanks may part the words of the last column too.
    if (columns.form.delimiter == ' ' && columns.form.starts.empty() && columns.code >= 0) {
      for (int i = std::max(columns.code + 1, needed); i < static_cast<int>(row.cells.size()); ++i)
        code += " " + row.cells[static_cast<std::size_t>(i)];
    }
    out.codes.push_back(std::move(code));
  }
}

}  // namespace

std::optional<PointColumns> guessColumns(const std::string& text) {
  return guessColumns(text, guessForm(text));
}

std::optional<PointColumns> guessColumns(const std::string& text, const TableForm& form) {
  Rows rows(text, form);
  Row row, second;
  while (rows.next(row) && (isBlank(row) || isComment(row))) {
  }
  const bool more = rows.next(second);
  return columnsOf(row, more ? &second : nullptr, form);
}

std::vector<std::size_t> fixedColumns(const std::string& text) {
  return fixedStarts(firstLines(text, 40));
}

std::vector<std::vector<std::string>> firstRows(const std::string& text, const TableForm& form, std::size_t most) {
  std::vector<std::vector<std::string>> result;
  Rows rows(text, form);
  Row row;
  while (result.size() < most && rows.next(row)) result.push_back(row.cells);
  return result;
}

namespace {

void tellDegrees(Imported& out) {
  if (!out.system.empty()) return;
  out.system = "EPSG:4326";
  out.remarks.push_back("The columns are named longitude and latitude: degrees of WGS 84.");
}

}  // namespace

Imported readPoints(const std::string& path, const std::optional<PointColumns>& given, const Progress& progress) {
  const std::string text = readText(path);
  Imported out;
  out.file = path;
  out.format = "points";
  out.layers.push_back(stemOf(path));
  try {
    const std::optional<PointColumns> columns = given ? given : guessColumns(text);
    if (!columns) {
      throw Error("the columns cannot be told from the first row", {path, 1},
                  "name them in a first row: number,easting,northing,level,code");
    }
    Rows rows(text, columns->form);
    addRows([&](Row& row) { return rows.next(row); }, *columns, 0, false, progress, out);
    if (columns->degrees) tellDegrees(out);
  } catch (const Error& e) {
    if (!e.where().file.empty()) throw;
    throw Error(e.happened(), {path, e.where().line}, e.hint());
  }
  return out;
}

Imported readSheets(const std::string& path, const std::optional<PointColumns>& given, const Progress& progress) {
  Imported out;
  out.file = path;
  out.format = "spreadsheet";
  for (const Sheet& sheet : readSheetRows(path, progress)) {
    // Cells are numbers already: no thousands, a decimal point. Text cells may be written any way.
    TableForm form;
    std::optional<PointColumns> columns = given;
    std::size_t start = 0;
    // Titles may stand above the header.
    for (; !columns && start < std::min<std::size_t>(sheet.rows.size(), 20); ++start) {
      const Row* second = start + 1 < sheet.rows.size() ? &sheet.rows[start + 1] : nullptr;
      if (sheet.rows[start].cells.size() >= 3) columns = columnsOf(sheet.rows[start], second, form);
      if (columns) break;
    }
    if (!columns) {
      out.remarks.push_back("The sheet \"" + sheet.name + "\" has no columns for easting, northing and level.");
      continue;
    }
    if (columns->degrees) tellDegrees(out);
    const LayerIndex layer = out.layerNamed(sheet.name);
    std::size_t at = start;
    addRows(
        [&](Row& row) {
          if (at >= sheet.rows.size()) return false;
          row = sheet.rows[at++];
          return true;
        },
        *columns, layer, true, progress, out);
  }
  if (out.layers.empty()) {
    throw Error("no sheet has columns for easting, northing and level", {path},
                "name them in a first row: number, easting, northing, level, code");
  }
  return out;
}

}  // namespace inselberg::exchange
