// How sure a volume is, by how sure the levels of the survey are.
#pragma once

#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::quantity {

// Of the survey's ground: for each point the standard deviation of its level by itself, and the number of the source it
// came from; for each source the deviation of all its points together. m.
struct SurveyAccuracy {
  std::vector<double> random;         // per point
  std::vector<std::uint32_t> source;  // per point
  std::vector<double> systematic;     // per source
};

// In 95 of 100 surveys a volume lies within so much. m3.
struct Uncertainty {
  double cut = 0, fill = 0, net = 0;
};

// Of the volume from an earlier to a later ground:
//   1.96 √(Σ (σ_i a_i)² + Σ_sources (σ_s A_s)²)
// a_i being the integral of point i's hat function over the part measured (cut, fill, or both), where one of the two
// grounds follows the survey and the other does not; A_s the sum of a_i over a source. A ground follows the survey
// where it has the level of `followed` (the survey itself, or what was stripped of it); elsewhere its level is exact.
Uncertainty uncertaintyOf(const ground::Tin& from, const ground::Tin& to, const ground::Tin& survey,
                          const ground::Tin& followed, const SurveyAccuracy& accuracy, const Progress& progress);

}  // namespace inselberg::quantity
