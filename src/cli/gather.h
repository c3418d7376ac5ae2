// From files on the command line to sources and grounds.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "exchange/coordinate_system.h"
#include "exchange/formats.h"
#include "exchange/layers.h"
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
  std::vector<project::SourcePtr> sources;
  exchange::Georeference place;  // from the first file, or as asked
  std::vector<TakenLayer> layers;
  std::vector<std::string> warnings;
};

// Reads the files, whole, and takes their layers as told, or as guessed. Throws Error, also for a layer that is in
// none.
Gathered gather(const std::vector<std::string>& files, const GatherOptions& options,
                std::optional<exchange::Georeference> place = {});

// The ground of the sources; Error names `file`.
ground::BuildResult groundOf(const std::vector<project::SourcePtr>& sources, const ground::BuildRules& rules,
                             const plane::Origin& origin, const std::string& file);

// What is worth knowing of a file: its remarks and what looks wrong.
std::vector<std::string> warningsOf(const exchange::Imported& imported);

}  // namespace inselberg::cli
