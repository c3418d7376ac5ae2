// GDAL's messages of this thread dropped while in scope; what went wrong is told in our words.
#pragma once

#include <cpl_error.h>

namespace inselberg::sheet {

struct Quiet {
  Quiet() { CPLPushErrorHandler(CPLQuietErrorHandler); }
  ~Quiet() { CPLPopErrorHandler(); }
  Quiet(const Quiet&) = delete;
  Quiet& operator=(const Quiet&) = delete;
};

}  // namespace inselberg::sheet
