// With F(t) and A(t) the volume and the area of fill from the earlier ground raised by t, the places deeper than t hold
// F(t) + t A(t) of earth; a band is the difference between its two ends. Cut likewise, from the earlier one lowered.
#include "quantity/depth_bands.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "quantity/combine.h"

namespace inselberg::quantity {

std::vector<DepthBand> depthBands(const ground::Tin& from, const ground::Tin& to,
                                  const std::vector<plane::Polygon>& region, double step, const Progress& progress) {
  const Volume whole = volumeBetween(from, to, region, progress);
  const auto below = static_cast<long>(std::ceil(whole.maxCut / step - 1e-9)),
             above = static_cast<long>(std::ceil(whole.maxFill / step - 1e-9));
  if (whole.maxCut / step + whole.maxFill / step > 1000)
    throw Error("that makes more than a thousand bands", "give wider bands");
  struct Deeper {
    double area = 0, volume = 0;
  };
  long done = 0;
  const auto deeperThan = [&](long k, bool fill) -> Deeper {
    progress.report("depth bands", static_cast<double>(done++) / static_cast<double>(std::max(1L, below + above)));
    const double t = static_cast<double>(k) * step;
    const Volume v = k == 0 ? whole : volumeBetween(*shifted(from, fill ? t : -t), to, region, progress);
    return fill ? Deeper{v.fillArea, v.fill + t * v.fillArea} : Deeper{v.cutArea, v.cut + t * v.cutArea};
  };
  std::vector<DepthBand> bands;
  const auto take = [&](long count, bool fill) {
    Deeper near = count > 0 ? deeperThan(0, fill) : Deeper();
    for (long k = 0; k < count; ++k) {
      const Deeper far = k + 1 < count ? deeperThan(k + 1, fill) : Deeper();
      const double low = static_cast<double>(k) * step, high = low + step;
      bands.push_back({fill ? low : -high, fill ? high : -low, std::max(0.0, near.area - far.area),
                       std::max(0.0, near.volume - far.volume)});
      near = far;
    }
    if (!fill) std::reverse(bands.begin(), bands.end());
  };
  take(below, false);
  take(above, true);
  return bands;
}

}  // namespace inselberg::quantity
