// Feeds one reader with made-up bytes, and takes what it gives all the way to a ground. An Error is the right answer to
// bad input; a crash, a hang or a sanitizer's report is a fault.
#include <unistd.h>

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <cstdio>
#include <filesystem>
#include <string>
#include <string_view>

#include "base/error.h"
#include "exchange/dxf.h"
#include "exchange/geojson.h"
#include "exchange/gis.h"
#include "exchange/landxml.h"
#include "exchange/layers.h"
#include "exchange/oddities.h"
#include "exchange/point_list.h"
#include "project/build_sources.h"
#include "sheet/take.h"

using namespace inselberg;

namespace {

// In memory, and gone with the process's folder.
const std::string kFolder = "/dev/shm/inselberg-fuzz-" + std::to_string(::getpid());

void put(const std::string& path, std::string_view bytes) {
  std::FILE* file = std::fopen(path.c_str(), "wb");
  if (!file) return;
  std::fwrite(bytes.data(), 1, bytes.size(), file);
  std::fclose(file);
}

// The bytes as the file, or files, that the reader wants; its path.
std::string filesOf(std::string_view bytes) {
  std::filesystem::create_directories(kFolder);
#if defined(FUZZ_shape)
  // Three files in one: two lengths of two bytes, then the .shp, the .shx and the .dbf.
  const auto length = [&](std::size_t at) -> std::size_t {
    if (bytes.size() < at + 2) return 0;
    return static_cast<unsigned char>(bytes[at]) + 256U * static_cast<unsigned char>(bytes[at + 1]);
  };
  const std::size_t shp = length(0), shx = length(2);
  std::string_view rest = bytes.substr(std::min<std::size_t>(4, bytes.size()));
  for (const auto& [ending, size] :
       {std::pair<const char*, std::size_t>{".shp", shp}, {".shx", shx}, {".dbf", bytes.size()}}) {
    put(kFolder + "/input" + ending, rest.substr(0, size));
    rest = rest.substr(std::min(size, rest.size()));
  }
  return kFolder + "/input.shp";
#else
#if defined(FUZZ_sheet)
  const std::string path = kFolder + (bytes.find("mimetype") < 100 ? "/input.ods" : "/input.xlsx");
#elif defined(FUZZ_vector)
  const std::string path = kFolder + "/input.gpkg";
#else
  const std::string path = kFolder + "/input";
#endif
  put(path, bytes);
  return path;
#endif
}

exchange::Imported readIt(const std::string& path) {
#if defined(FUZZ_points)
  return exchange::readPoints(path, std::nullopt);
#elif defined(FUZZ_sheet)
  return exchange::readSheets(path, std::nullopt);
#elif defined(FUZZ_dxf)
  return exchange::readDxf(path);
#elif defined(FUZZ_landxml)
  return exchange::readLandXml(path);
#elif defined(FUZZ_geojson)
  return exchange::readGeoJson(path);
#elif defined(FUZZ_grid) || defined(FUZZ_geotiff)
  return exchange::readRaster(path);
#else
  return exchange::readVector(path);
#endif
}

}  // namespace

#if defined(FUZZ_plansheet)
// Every page's lines and texts, a small picture of it, and its place.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
  try {
    const auto document =
        sheet::openDocument(std::make_shared<const std::string>(reinterpret_cast<const char*>(bytes), size), "input");
    for (int page = 1; page <= std::min(document->pages(), 3); ++page) {
      const sheet::PageFacts facts = document->facts(page);
      const sheet::Content content = document->content(page, {});
      sheet::takeLines(content.lines, {{}, {}, {}, 2});
      sheet::spotTexts(content);
      document->ownPlace(page);
      if (facts.width * facts.height < 1e6) document->draw(page, {0, 0, facts.width, facts.height}, 40, 30, {});
    }
  } catch (const Error&) {
  }
  return 0;
}
#else
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
  try {
    const exchange::Imported imported = readIt(filesOf({reinterpret_cast<const char*>(bytes), size}));
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
  return 0;
}
#endif
