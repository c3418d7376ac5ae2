// From files on the command line to sources and grounds.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "exchange/bring_in.h"
#include "exchange/coordinate_system.h"
#include "exchange/formats.h"
#include "ground/build.h"
#include "project/build_sources.h"

namespace inselberg::cli {

struct GatherOptions {
  std::vector<std::string> takes;  // "LAYER=word"
  exchange::ReadRules read;
  exchange::TakeRules take;
};

struct TakenLayer {
  std::string file, layer;
  exchange::Take as;
};

struct Gathered {
  std::vector<exchange::BroughtIn> files;
  exchange::Georeference place;  // from the first file, or as asked
  std::vector<TakenLayer> layers;
  std::vector<std::string> warnings;
};

// Reads the files, whole, and takes their layers as told, or as guessed. Throws Error, also for a layer that is in
// none.
Gathered gather(const std::vector<std::string>& files, const GatherOptions& options,
                std::optional<exchange::Georeference> place = {});

// The ground of files that were gathered, relative to `origin`; Error names the first.
ground::BuildResult groundOf(std::vector<exchange::BroughtIn> files, const ground::BuildRules& rules,
                             const plane::Origin& origin);

// What is worth knowing of a file: its remarks and what looks wrong.
std::vector<std::string> warningsOf(const exchange::Imported& imported);

struct LoadedGround {
  ground::TinPtr tin;
  ground::Doubts doubts;
};

// A ground from a model file, or built from what else a file holds. The first file read fixes the place. Throws Error.
LoadedGround loadGround(const std::string& path, std::optional<exchange::Georeference>& place);

}  // namespace inselberg::cli
