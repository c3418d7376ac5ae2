// The ledger: what every seam and works moves, as rows and as text. One source for the window, the report and the
// command line.
#pragma once

#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include "project/evaluate.h"
#include "report/figures.h"

namespace inselberg::report {

struct LedgerRow {
  enum class Kind { seam, works };
  Kind kind = Kind::seam;
  std::string name;          // "existing to finished", "Silo pad"
  std::string on;            // works: the ground it lies on
  std::uint64_t id = 0;      // works: its id
  bool known = false;        // false while being computed, or when a ground is missing
  project::Between between;  // seams: the two grounds, and whether it enters the totals
  quantity::Volume volume;
  double footprintArea = 0;            // works, plan
  double surfaceArea = 0;              // works
  std::string phase, material;         // works; empty: not said
  std::string works;                   // works: the name of its kind, "pad"
  std::vector<works::Figure> figures;  // works
};

struct Ledger {
  // Seams from stage to stage, each followed by the works of its later ground; works of other grounds; what is compared
  // beside.
  std::vector<LedgerRow> rows;
  double cut = 0, fill = 0;  // of the seams that are counted; among them:
  double strip = 0;          // the cut into the stripped ground
  double buildUp = 0;        // the fill from formation to the finished ground
  double unmeasured = 0;     // m2 of these that their figures do not speak of
  bool whole = false;        // every seam that is counted is known
  std::size_t doubts = 0;
  double surplus() const { return cut - fill; }
  // But for topsoil and what is laid on formation, which stand apart.
  double earthCut() const { return cut - strip; }
  double earthFill() const { return fill - buildUp; }
};

Ledger ledgerOf(const project::Evaluation& evaluation);

// The figures to keep, without a name or a picture.
project::KeptResult keptOf(const project::Evaluation& evaluation);

// "surplus 350 m³", "shortfall 20 m³", "balanced", "nothing moved": never a bare sign.
std::string surplusText(double cut, double fill, const Measures& measures = {});

// "+0.45" where it is filled, "−1.20" where it is cut.
std::string depthText(double fill, const Measures& measures = {});

// "57 700 m² not measured", to stand beside every figure that leaves something out; empty where nothing is left out
// (less than a hundredth of a square metre).
std::string unmeasuredText(double area, const Measures& measures = {});

// How the figures of a row were made, in one or two sentences: of which grounds and how many triangles, by what method,
// over what area, and what of it they do not speak of. REQUIRES: the row is of this evaluation.
std::string howText(const project::Evaluation& evaluation, const LedgerRow& row);

// A plain table for a terminal.
std::string asText(const project::Evaluation& evaluation);
// A doubt as JSON: kind, where (easting, northing), text.
nlohmann::ordered_json doubtJson(const ground::Doubt& doubt, const plane::Origin& origin);
nlohmann::ordered_json doubtsJson(const ground::Doubts& doubts, const plane::Origin& origin);
// The members every volume has in JSON: cut_m3 to max_fill_m and the uncovered areas.
nlohmann::ordered_json volumeJson(const quantity::Volume& volume);
// The figures of the stages: strip_m3 to export_m3.
nlohmann::ordered_json figuresJson(const Figures& figures);
// The whole report: project, seams, works, totals, doubts, problems.
nlohmann::ordered_json asJson(const project::Evaluation& evaluation);
// JSON as text on one line; what is no number becomes null, what is no UTF-8 is replaced.
std::string dumped(const nlohmann::ordered_json& json);

}  // namespace inselberg::report
