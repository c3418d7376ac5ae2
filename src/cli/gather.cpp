#include "gather.h"

#include "base/error.h"
#include "base/text.h"
#include "exchange/oddities.h"

namespace inselberg::cli {

std::vector<std::string> warningsOf(const exchange::Imported& imported) {
  std::vector<std::string> warnings = exchange::oddities(imported, std::nullopt);
  warnings.insert(warnings.end(), imported.remarks.begin(), imported.remarks.end());
  return warnings;
}

Gathered gather(const std::vector<std::string>& files, const GatherOptions& options,
                std::optional<exchange::Georeference> place) {
  Gathered all;
  exchange::ReadRules rules = options.read;
  if (place && rules.target.empty()) rules.target = place->system;
  std::vector<char> used(options.takes.size(), 0);
  std::string known;
  for (const std::string& file : files) {
    const exchange::Imported imported = exchange::readAny(file, rules);
    if (!place) place = exchange::Georeference{exchange::originFor(imported), {}};
    // The first file on a plane says what the others are moved into.
    if (rules.target.empty() && exchange::isOnPlane(imported.system)) rules.target = imported.system;
    if (rules.target.empty() && !imported.system.empty())
      throw Error("the positions of the file are degrees", {file},
                  "give --system with the code of a system of easting and northing; `systems` finds it");
    place->system = rules.target;
    std::vector<exchange::Take> takes = exchange::guesses(imported);
    for (std::size_t t = 0; t < options.takes.size(); ++t) {
      const std::string& text = options.takes[t];
      const auto equals = text.rfind('=');
      const auto take = equals == std::string::npos ? std::nullopt : exchange::takeOf(text.substr(equals + 1));
      if (!take || take == exchange::Take::works) {
        throw Error("\"" + text + "\" is not LAYER=points|breaklines|contours|boundary|void|faces|skip",
                    {"", 0, "--take"}, "write it like TREES=skip");
      }
      for (std::size_t i = 0; i < imported.layers.size(); ++i) {
        if (imported.layers[i] != validUtf8(text.substr(0, equals))) continue;
        takes[i] = *take;
        used[t] = 1;
      }
    }
    for (const auto& problem : imported.problems) {
      if (takes[problem.layer] != exchange::Take::skip) throw Error(problem.what, {file, problem.line}, problem.hint);
    }
    for (std::size_t i = 0; i < imported.layers.size(); ++i) {
      known += (known.empty() ? "" : ", ") + imported.layers[i];
      all.layers.push_back({file, imported.layers[i], takes[i]});
    }
    for (std::string& warning : warningsOf(imported)) all.warnings.push_back(std::move(warning));
    exchange::Taken taken = exchange::take(imported, takes, place->origin, options.take);
    for (std::string& remark : taken.remarks) all.warnings.push_back(std::move(remark));
    all.files.push_back(
        exchange::broughtIn(imported, takes, std::move(taken), exchange::readingOf(options.read), *place));
  }
  for (std::size_t t = 0; t < used.size(); ++t) {
    if (!used[t])
      throw Error("there is no layer \"" + options.takes[t].substr(0, options.takes[t].rfind('=')) + "\"",
                  {"", 0, "--take"}, "the files have: " + known);
  }
  all.place = place.value_or(exchange::Georeference{});
  return all;
}

ground::BuildResult groundOf(std::vector<exchange::BroughtIn> files, const ground::BuildRules& rules,
                             const plane::Origin& origin) {
  std::vector<project::SourcePtr> sources;
  std::vector<const project::Source*> plain;
  for (exchange::BroughtIn& file : files) {
    for (exchange::TakenSource& s : file.taken.sources) {
      sources.push_back(project::makeSource(SourceId{sources.size() + 1}, {s.name, file.file}, std::move(s.data)));
      plain.push_back(sources.back().get());
    }
  }
  try {
    return project::buildFromSources(plain, rules, {}, origin, {});
  } catch (const Error& e) {
    throw Error(e.happened(), {files.front().file}, e.hint());
  }
}

LoadedGround loadGround(const std::string& path, std::optional<exchange::Georeference>& place) {
  Gathered gathered = gather({path}, {}, place);
  place = gathered.place;
  auto built = groundOf(std::move(gathered.files), {}, place->origin);
  return {built.tin, built.doubts};
}

}  // namespace inselberg::cli
