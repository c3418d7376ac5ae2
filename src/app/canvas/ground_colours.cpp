#include "canvas/ground_colours.h"

#include "workspace/lengths.h"

namespace inselberg::app {

using ground::Index;
using ground::Tin;

LevelBands levelBands(const Tin& tin) {
  LevelBands bands;
  bands.step = lengths::round(std::max(tin.maxLevel() - tin.minLevel(), 0.01) / 8);
  bands.lowest = std::floor(tin.minLevel() / bands.step) * bands.step;
  bands.count = std::max(1, static_cast<int>(std::ceil((tin.maxLevel() - bands.lowest) / bands.step - 1e-9)));
  return bands;
}

double depthBand(double greatestDepth) {
  return lengths::round(greatestDepth / 4);
}

double slopesRaised(const Tin& tin) {
  const std::size_t step = tin.triangles().size() / 5000 + 1;
  double slopes = 0, areas = 0;
  for (std::size_t t = 0; t < tin.triangles().size(); t += step) {
    const auto c = tin.corners(static_cast<Index>(t));
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    slopes += area * std::min(2.0, plane::norm(ground::planeOf(c).gradient));
    areas += area;
  }
  return std::clamp(0.21 * areas / std::max(slopes, 1e-9), 1.0, 6.0);
}

}  // namespace inselberg::app
