#include "works/placement.h"

namespace inselberg::works {

quantity::Volume costOf(const Placement& placement, const ground::Tin& under, const Progress& progress) {
  quantity::Volume volume = quantity::volumeBetween(under, *placement.facets, {}, progress);
  volume.onlyFrom = 0;
  return volume;
}

}  // namespace inselberg::works
