// The figures and the picture of a moment, held under a name to compare with.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/id.h"

namespace inselberg::project {

struct KeptFigure {
  std::string name;
  std::uint64_t works = 0;  // the id of the works; 0: a seam, known by its name
  double cut = 0, fill = 0;
  bool operator==(const KeptFigure&) const = default;
};

struct KeptResult {
  std::uint64_t id = 0;
  std::string name, when;  // the day, as it is shown
  std::vector<KeptFigure> figures;
  double cut = 0, fill = 0;  // in all
  std::string picture;       // a PNG; may be empty
  bool operator==(const KeptResult&) const = default;
};
using KeptPtr = std::shared_ptr<const KeptResult>;

}  // namespace inselberg::project
