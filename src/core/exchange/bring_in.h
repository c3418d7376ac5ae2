// Bringing a file into a project: the same from the window and from the command line.
#pragma once

#include <functional>

#include "exchange/coordinate_system.h"
#include "exchange/formats.h"
#include "exchange/layers.h"
#include "project/project.h"

namespace inselberg::exchange {

// Pairs of what and how, as project::SourceInfo keeps them.
using Choices = std::vector<std::pair<std::string, std::string>>;

// How a file is read, as far as it does not say so itself, and the limit (easting and northing) that was kept.
Choices readingOf(const ReadRules& rules, const plane::Polygon* limit = nullptr);

// What comes in when the layers are taken so, in words: "121 points, 3 breaklines"; empty when nothing does.
std::string comesIn(const Imported& imported, std::span<const Take> takes);

// What was chosen of one file.
struct BroughtIn {
  std::string file;    // its path
  Georeference place;  // what the project's positions are relative to from now on, and their system
  Taken taken;         // relative to that
  Choices takes;       // layer and word
  Choices reading;     // how it was read, where it did not say so itself
  std::vector<std::string> report;
  bool again = false;  // in place of what came from the file before
  std::string units;   // that the file is in ("m", "us-ft")
};

// What was taken of a file, with the words its takes and its report are kept in.
BroughtIn broughtIn(const Imported& imported, std::span<const Take> takes, Taken taken, Choices reading,
                    Georeference place);

// The project with it: sources that are locked against editing, built into the surveyed ground; outlines of works as
// pads on the finished ground, at their own level or at that of the ground in their middle (`levelUnder`), to 5 cm.
// Points and lines go by the file's name, models by their own where there are several.
project::ProjectPtr withBroughtIn(const project::Project& project, BroughtIn file,
                                  const std::function<std::optional<double>(plane::Vec2)>& levelUnder);

}  // namespace inselberg::exchange
