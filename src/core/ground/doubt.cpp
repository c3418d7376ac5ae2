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
    case DoubtKind::facesOverlap:
      return "faces-overlap";
    case DoubtKind::contourCrossing:
      return "contour-crossing";
    case DoubtKind::contourLevel:
      return "contour-level";
    case DoubtKind::spike:
      return "spike";
    case DoubtKind::zeroLevel:
      return "zero-level";
    case DoubtKind::flats:
      return "flats";
    case DoubtKind::borderSlivers:
      return "border-slivers";
    case DoubtKind::hole:
      return "hole";
    case DoubtKind::pointsOutside:
      return "points-outside";
    case DoubtKind::oddExtent:
      return "odd-extent";
    case DoubtKind::notPlaced:
      return "not-placed";
    case DoubtKind::mendLost:
      return "mend-lost";
    case DoubtKind::notReached:
      return "not-reached";
    case DoubtKind::beyondSite:
      return "beyond-site";
    case DoubtKind::worksOverlap:
      return "works-overlap";
    case DoubtKind::holdsWater:
      return "holds-water";
    case DoubtKind::tieLost:
      return "tie-lost";
    case DoubtKind::overfull:
      return "overfull";
    case DoubtKind::tooSteep:
      return "too-steep";
    case DoubtKind::notDraining:
      return "not-draining";
    case DoubtKind::joinedSteeply:
      return "joined-steeply";
    case DoubtKind::fallsToBuilding:
      return "falls-to-building";
    case DoubtKind::freeboardShort:
      return "freeboard-short";
    case DoubtKind::storageShort:
      return "storage-short";
    case DoubtKind::stepAtJoint:
      return "step-at-joint";
    case DoubtKind::stripsOverlap:
      return "strips-overlap";
    case DoubtKind::regionsOverlap:
      return "regions-overlap";
    case DoubtKind::gap:
      return "gap";
    case DoubtKind::topOrFormation:
      return "top-or-formation";
    case DoubtKind::boundaryOutside:
      return "boundary-outside";
  }
  return "";
}

std::optional<DoubtKind> doubtKindOf(const std::string& word) {
  for (int k = 0; k <= static_cast<int>(DoubtKind::topOrFormation); ++k) {
    if (word == name(static_cast<DoubtKind>(k))) return static_cast<DoubtKind>(k);
  }
  return std::nullopt;
}

}  // namespace inselberg::ground
