#include "works/placement.h"

namespace inselberg::works {

quantity::Volume costOf(const Placement& placement, const ground::Tin& under, const Progress& progress) {
  return quantity::volumeOfFacets(under, *placement.facets, progress);
}

}  // namespace inselberg::works
