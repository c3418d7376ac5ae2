#include "works/buildup.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "ground/subset.h"

namespace inselberg::works {

using ground::Index;
using ground::Tin;
using plane::Vec3;

Formation formationUnder(const ground::TinPtr& finished, const std::vector<BuildUp>& buildUps,
                         const std::vector<int>& carried) {
  Formation made;
  ground::TinParts parts;
  parts.points.assign(finished->points().begin(), finished->points().end());
  std::map<std::pair<Index, double>, Index> lowered;  // points by how far they are
  for (Index t = 0; t < finished->triangles().size(); ++t) {
    ground::Triangle corners = finished->triangles()[t];
    if (carried[t] >= 0) {
      const BuildUp& b = buildUps[static_cast<std::size_t>(carried[t])];
      const double gradient = plane::norm(ground::planeOf(finished->corners(t)).gradient);
      // Facets of one plane, to rounding, stay joined.
      const double down = b.thickness() * (b.slopeTrue ? std::round(std::hypot(1.0, gradient) * 1e9) / 1e9 : 1.0);
      for (Index& v : corners) {
        const auto [known, fresh] = lowered.try_emplace({v, down}, static_cast<Index>(parts.points.size()));
        if (fresh) {
          const Vec3 p = finished->points()[v];
          parts.points.push_back({p.x, p.y, p.z - down});
        }
        v = known->second;
      }
    }
    parts.triangles.push_back(corners);
    parts.breaks.push_back(finished->breakBits(t));
  }
  ground::dropUnusedPoints(parts);
  made.tin = std::make_shared<Tin>(std::move(parts));
  for (std::size_t k = 0; k < buildUps.size(); ++k) {
    const auto rules = [&](Index t) { return carried[t] == static_cast<int>(k); };
    const bool none = std::find(carried.begin(), carried.end(), static_cast<int>(k)) == carried.end();
    made.above.push_back(none ? nullptr : ground::subset(*finished, rules));
    made.below.push_back(none ? nullptr : ground::subset(*made.tin, rules));
  }
  return made;
}

}  // namespace inselberg::works
