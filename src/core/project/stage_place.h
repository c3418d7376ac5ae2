// Where a strip, undercut or build-up stands in its list.
#pragma once

#include <cstddef>
#include <optional>
#include <string>

#include "project/project.h"

namespace inselberg::project {

enum class StageKind { strip, undercut, buildUp };
struct StagePlace {
  StageKind kind;
  std::size_t place;
};

// The ground that one of the kind makes.
inline Role roleOf(StageKind kind) {
  switch (kind) {
    case StageKind::strip:
      return Role::stripped;
    case StageKind::undercut:
      return Role::undercut;
    case StageKind::buildUp:
      break;
  }
  return Role::formation;
}

// Nothing where there is none of the id.
inline std::optional<StagePlace> placeOf(const Stages& stages, WorksId id) {
  const auto among = [&](const auto& items, StageKind kind) -> std::optional<StagePlace> {
    for (std::size_t i = 0; i < items.size(); ++i) {
      if (items[i].id == id) return StagePlace{kind, i};
    }
    return std::nullopt;
  };
  if (const auto strip = among(stages.strips, StageKind::strip)) return strip;
  if (const auto undercut = among(stages.undercuts, StageKind::undercut)) return undercut;
  return among(stages.buildUps, StageKind::buildUp);
}

// Calls f with the list that it stands in.
template <class AnyStages, class F>
decltype(auto) withListOf(AnyStages& stages, StageKind kind, F&& f) {
  switch (kind) {
    case StageKind::strip:
      return f(stages.strips);
    case StageKind::undercut:
      return f(stages.undercuts);
    case StageKind::buildUp:
      break;
  }
  return f(stages.buildUps);
}

// Without the one of the id.
inline Stages without(Stages stages, WorksId id) {
  const auto erase = [&](auto& list) { std::erase_if(list, [&](const auto& one) { return one.id == id; }); };
  erase(stages.strips), erase(stages.undercuts), erase(stages.buildUps);
  return stages;
}
// The name of the one of the id; empty where there is none.
inline std::string nameOf(const Stages& stages, WorksId id) {
  const auto at = placeOf(stages, id);
  return at ? withListOf(stages, at->kind, [&](const auto& list) { return list[at->place].name; }) : std::string();
}

}  // namespace inselberg::project
