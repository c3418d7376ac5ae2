// The works of one ground, placed on its base in their order, and set into it.
#pragma once

#include <functional>
#include <optional>
#include <set>
#include <tuple>
#include <unordered_set>
#include <utility>
#include <vector>

#include "project/cache_store.h"
#include "works/footprint.h"

namespace inselberg::project {

// The surface that a ground stands for in the evaluation before, and where it is not that any more.
struct Rebased {
  Hash before;
  std::shared_ptr<const works::Footprint> where;
};

// A works as it is placed.
struct Standing {
  WorksPtr works;
  Hash shapeName;  // of its parameters, and what they name
  Hash name;
  std::optional<Hash> before;  // its name in the evaluation before, where it is placed as it was there
  std::shared_ptr<const works::Placement> placement;
  std::shared_ptr<const works::Footprint> footprint;
  std::vector<std::size_t> under;  // those before it that it stands on, and that these stand on; by number
  ground::TinPtr on;               // the base with these set in
  bool fresh = false;              // placed in this evaluation
};

// What a placement of this shape is named, on a ground of that name.
Hash nameOfPlacing(const Hash& under, const Hash& shape);

struct PlacingRequest {
  const plane::Origin* origin = nullptr;
  ground::TinPtr base;
  Hash baseName;  // of its surface
  std::optional<Rebased> rebased;
  works::Detail detail = works::Detail::full;  // as a draft, works are drafts where that pays
  bool inRegions = false;                      // they will be measured in some
  // A shape with all that it is made from, and what that is named. Throws Error.
  std::function<std::pair<works::Shape, Hash>(const works::Shape&)> resolved;
};

// A works stands on those before it whose footprints its own touches, and on what these stand on; it is placed on the
// base with just these set in, so that nothing else alters it. It is tried first on what it stood on when it was placed
// last: where it touches nothing else, more would not alter it, and where it touches all of it, no less will do. Works
// are known by their number in the order placed. All that is made is kept in the store under the names of what it is
// made from. What takes long throws Cancelled.
class WorksPlacing {
 public:
  // Store and progress have to stay.
  WorksPlacing(PlacingRequest request, Cache::Store& store, const Progress& progress);

  using Numbers = std::vector<std::size_t>;

  // Those that are tried first on the base alone, by all cores.
  void placeAhead(const std::vector<WorksPtr>& list);
  // After those placed before. Throws Error where it cannot be; then it is not among those standing.
  const Standing& place(const WorksPtr& works);

  const std::vector<Standing>& standing() const { return standing_; }
  bool drafted() const { return drafted_; }  // some works is a draft
  bool anyMeet() const;                      // some works touch
  // All; those that changed since the evaluation before, or stand on such; and the rest.
  std::tuple<Numbers, Numbers, Numbers> byChange() const;
  // What each does to what it stands on, and what they do to the base: those that keep clear of all others by
  // themselves, those that stand on each other together.
  struct Costs {
    std::vector<Measured> each;
    std::vector<quantity::Volume> groups;
  };
  // Works to set into the base: the first of them before, the others at once. REQUIRES: with each all it stands on.
  struct SetInParts {
    Numbers which, before, others;
  };
  // The first being those that one of them stands on: that ground is there already.
  SetInParts uponLargest(const Numbers& which) const;
  // Sets them into the base meanwhile as well, by all cores, where `setIn` says which: groundWith() then finds it.
  Costs costs(const std::optional<SetInParts>& setIn) const;

  // The surface of the base with some of the works set in, by what it is made of; and what this gave in the evaluation
  // before, nothing where one of the works is not placed as it was there.
  Hash nameWith(const Numbers& which) const;
  std::optional<Hash> nameBefore(const Numbers& which) const;
  ground::TinPtr groundWith(const SetInParts& parts) const;
  ground::TinPtr groundWith(const Numbers& which) const { return groundWith({which, {}, which}); }
  // The facets of some of the works as one: a layer beside each other, each layer set into those below. Null without
  // any.
  ground::TinPtr facetsOf(const Numbers& which) const;

 private:
  std::pair<Hash, works::Detail> placingOf(const works::Works& works, const Hash& full) const;
  void asBefore(Standing& s) const;
  template <class NameOf>
  std::optional<Hash> nameOn(const Hash& base, const Numbers& which, NameOf&& nameOf) const;
  Numbers stoodOn(WorksId works) const;
  std::set<std::size_t> touchedBy(const works::Footprint& footprint) const;
  void addWithUnder(std::set<std::size_t>& to, std::size_t j) const;
  std::vector<Numbers> groups() const;
  Measured costOf(const Standing& s) const;
  Hash nameOfCost(const Hash& of) const;
  quantity::Volume costTogether(const Numbers& which) const;
  Hash nameOfGround(const Numbers& which) const;
  SetIn setInto(const ground::TinPtr& under, const Numbers& others) const;

  const PlacingRequest request_;
  Cache::Store& store_;
  const Progress& progress_;
  std::vector<Standing> standing_;
  std::unordered_set<Hash, HashOfHash> ahead_;  // placements made ahead
  bool drafted_ = false;
};

}  // namespace inselberg::project
