#include "ground/doubt.h"

namespace inselberg::ground {

const char* name(DoubtKind kind) {
  switch (kind) {
    case DoubtKind::duplicateLevels:
      return "duplicate-levels";
    case DoubtKind::breaklineCrossing:
      return "breakline-crossing";
    case DoubtKind::noDaylight:
      return "no-daylight";
    case DoubtKind::outsideGround:
      return "outside-ground";
    case DoubtKind::sourcesOverlap:
      return "sources-overlap";
    case DoubtKind::boundaryOutside:
      return "boundary-outside";
  }
  return "";
}

}  // namespace inselberg::ground
