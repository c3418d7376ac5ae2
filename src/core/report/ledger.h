// The ledger: what every seam and works moves, as rows and as text. One source for the window, the report and the
// command line.
#pragma once

#include <string>
#include <vector>

#include "project/evaluate.h"

namespace inselberg::report {

struct LedgerRow {
  enum class Kind { seam, works };
  Kind kind = Kind::seam;
  std::string name;      // "existing to finished", "Silo pad"
  std::string on;        // works: the ground it lies on
  std::uint64_t id = 0;  // works: its id
  bool known = false;    // false while being computed, or when a ground is missing
  quantity::Volume volume;
  double footprintArea = 0;  // works
  double level = 0;          // works
};

struct Ledger {
  std::vector<LedgerRow> rows;  // seams in the order of the column, each followed by the works of its upper ground
  double cut = 0, fill = 0;     // of all seams
  bool whole = false;           // every seam is known
  std::size_t doubts = 0;
  double surplus() const { return cut - fill; }
};

Ledger ledgerOf(const project::Evaluation& evaluation);

// "surplus 350 m³", "shortfall 20 m³", "balanced": never a bare sign.
std::string surplusText(double surplus);

// A plain table for a terminal.
std::string asText(const project::Evaluation& evaluation);
// The JSON members of a doubt: kind, where (easting, northing), text.
std::string doubtMembers(const ground::Doubt& doubt, const plane::Origin& origin);
// One JSON object: project, seams, works, totals, doubts.
std::string asJson(const project::Evaluation& evaluation);

// The members every volume has in JSON: cut_m3 to max_fill_m and the uncovered areas, without braces.
std::string volumeMembers(const quantity::Volume& volume);

}  // namespace inselberg::report
