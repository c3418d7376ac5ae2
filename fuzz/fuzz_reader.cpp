// Feeds one reader with made-up bytes, and takes what it gives all the way to a ground. An Error is the right answer to
// bad input; a crash, a hang or a sanitizer's report is a fault.
#include <sys/mman.h>
#include <unistd.h>

#include <cstddef>
#include <cstdint>
#include <string>

#include "base/error.h"
#include "exchange/dxf.h"
#include "exchange/geojson.h"
#include "exchange/gis.h"
#include "exchange/landxml.h"
#include "exchange/layers.h"
#include "exchange/oddities.h"
#include "exchange/point_list.h"
#include "project/build_sources.h"

using namespace inselberg;

namespace {

exchange::Imported readIt(const std::string& path) {
#if defined(FUZZ_points)
  return exchange::readPoints(path, std::nullopt);
#elif defined(FUZZ_dxf)
  return exchange::readDxf(path);
#elif defined(FUZZ_landxml)
  return exchange::readLandXml(path);
#elif defined(FUZZ_geojson)
  return exchange::readGeoJson(path);
#elif defined(FUZZ_grid)
  return exchange::readRaster(path);
#else
  return exchange::readVector(path);
#endif
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
  const int fd = ::memfd_create("input", 0);
  if (fd < 0 || ::write(fd, bytes, size) != static_cast<ssize_t>(size)) return 0;
  const std::string path = "/proc/self/fd/" + std::to_string(fd);
  try {
    const exchange::Imported imported = readIt(path);
    exchange::oddities(imported, std::nullopt);
    const plane::Origin origin = exchange::originFor(imported);
    const auto taken = exchange::take(imported, exchange::guesses(imported), origin);
    std::vector<project::SourcePtr> sources;
    std::vector<const project::Source*> plain;
    for (const auto& source : taken.sources) {
      sources.push_back(project::makeSource(SourceId{1}, {source.name, ""}, source.data));
      plain.push_back(sources.back().get());
    }
    ground::BuildRules rules;
    rules.cureFlats = true;
    if (imported.points.size() + imported.lines.size() < 200) project::buildFromSources(plain, rules, {}, origin, {});
  } catch (const Error&) {
  }
  ::close(fd);
  return 0;
}
