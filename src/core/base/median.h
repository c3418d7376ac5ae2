// The middle of a list of values.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace inselberg {

// The upper of the two middle ones of an even number; 0 of none.
inline double median(std::vector<double> values) {
  if (values.empty()) return 0;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

}  // namespace inselberg
