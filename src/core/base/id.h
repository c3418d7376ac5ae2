// Ids of different things are different types. An id is never used twice in a project.
#pragma once

#include <compare>
#include <cstdint>
#include <functional>

namespace inselberg {

template <class Tag>
struct Id {
  std::uint64_t value = 0;  // 0: nothing
  auto operator<=>(const Id&) const = default;
  explicit operator bool() const { return value != 0; }
};

using SourceId = Id<struct SourceTag>;
using GroundId = Id<struct GroundTag>;
using WorksId = Id<struct WorksTag>;

}  // namespace inselberg

template <class Tag>
struct std::hash<inselberg::Id<Tag>> {
  std::size_t operator()(const inselberg::Id<Tag>& id) const { return std::hash<std::uint64_t>{}(id.value); }
};
