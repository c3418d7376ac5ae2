// What a Cache holds: results by the hash of what they were made from.
#pragma once

#include <any>
#include <functional>
#include <map>
#include <memory>
#include <typeinfo>
#include <unordered_map>
#include <unordered_set>
#include <utility>
#include <vector>

#include "base/error.h"
#include "base/parallel.h"
#include "project/evaluate.h"

namespace inselberg::project {

// A ground with works set in.
struct SetIn {
  ground::TinPtr tin;
};

// What lies between two grounds, or a ground and facets over it.
struct Measured {
  std::shared_ptr<const quantity::Comparison> comparison;  // where regions are to be measured
  quantity::Volume volume;

  // By a comparison that serves for regions too.
  static Measured forRegions(const ground::TinPtr& from, const ground::TinPtr& to, quantity::Comparison::Of of,
                             const Progress& progress) {
    const auto made = std::make_shared<quantity::Comparison>(from, to, of, progress);
    made->measure(progress);
    return {made, made->everywhere(progress)};
  }
};

// A ground as it was last built from its sources, to patch while they change under the hand.
struct LastBuilt {
  std::vector<SourcePtr> sources;
  Hash rules;  // all but the sources
  Hash mended;
  ground::TinPtr laid;
  ground::Doubts doubts;
  std::uint64_t usedIn = 0;
};

// How many triangles a works had when it was last placed; 0: it was not.
class FacetCounts {
 public:
  void add(works::Detail detail, std::size_t facets) {
    if (detail == works::Detail::draft) {
      draft_ = facets;
      return;
    }
    if (4 * facets < 3 * full_ || 3 * facets > 4 * full_) draft_ = 0;  // another shape: that draft says nothing of it
    full_ = facets;
  }
  // In full it takes long, and a draft is not known to save less than 15 % of its triangles.
  bool isDraftWorthwhile() const {
    constexpr std::size_t kQuick = 2000;
    return full_ > kQuick && 20 * draft_ < 17 * full_;
  }

 private:
  std::size_t full_ = 0, draft_ = 0;
};

// The facets of a works that is dragged, as they were measured last.
struct LastMeasured {
  quantity::FacetVolumes volumes;
  std::uint64_t usedIn = 0;
};

struct Cache::Store {
  std::map<GroundId, LastBuilt> built;
  std::map<GroundId, ground::Doubts> water;  // and gaps: of the grounds as they were last whole
  std::map<WorksId, FacetCounts> facetCounts;
  std::map<WorksId, std::vector<WorksId>> stoodOn;  // when it was last placed
  std::map<WorksId, LastMeasured> measured;
  struct Entry {
    std::any value;
    std::uint64_t usedIn = 0;
  };
  std::unordered_map<Hash, Entry, HashOfHash> entries;
  std::uint64_t round = 0;

  // The node of this name, made now when it is not there.
  template <class T, class Make>
  std::shared_ptr<const T> node(const Hash& name, Make&& make) {
    if (const auto it = entries.find(name); it != entries.end()) {
      it->second.usedIn = round;
      return std::any_cast<std::shared_ptr<const T>>(it->second.value);
    }
    std::shared_ptr<const T> made = std::make_shared<const T>(make());
    entries[name] = {made, round};
    return made;
  }

  // Null when it is not there.
  template <class T>
  std::shared_ptr<const T> find(const Hash& name) const {
    const auto it = entries.find(name);
    return it == entries.end() ? nullptr : std::any_cast<std::shared_ptr<const T>>(it->second.value);
  }

  // What a works costs that is dragged: quicker where it changed but in part since the last step.
  quantity::Volume costOf(WorksId works, const ground::TinPtr& under, const ground::TinPtr& facets,
                          const Progress& progress) {
    LastMeasured& last = measured[works];
    last.usedIn = round;
    return last.volumes.of(under, facets, progress);
  }

  // Gives the node of one name a second one; false when there is none.
  bool rename(const Hash& from, const Hash& to) {
    const auto it = entries.find(from);
    if (it == entries.end()) return false;
    it->second.usedIn = round;
    entries[to] = Entry(it->second);
    return true;
  }

  // Undo and redo come back to recent states: nodes stay for a few rounds after their last use. Whole grounds, and
  // what holds them, are large and quickly made again: they stay for the next round only.
  void forget() {
    constexpr std::uint64_t kRounds = 6, kRoundsOfGrounds = 1;
    std::erase_if(built, [&](const auto& item) { return item.second.usedIn < round; });
    std::erase_if(measured, [&](const auto& item) { return item.second.usedIn < round; });
    std::erase_if(entries, [&](const auto& item) {
      const std::type_info& type = item.second.value.type();
      const bool whole =
          type == typeid(std::shared_ptr<const works::StripPlan>) || type == typeid(std::shared_ptr<const SetIn>) ||
          type == typeid(std::shared_ptr<const StageGround>) || type == typeid(std::shared_ptr<const Measured>);
      return item.second.usedIn + (whole ? kRoundsOfGrounds : kRounds) < round;
    });
  }
};

// Nodes made before they are asked for, at once on all cores. What throws an Error is left to whoever asks.
class Ahead {
 public:
  explicit Ahead(Cache::Store& store) : store_(store) {}

  template <class T>
  void add(const Hash& name, std::function<T()> make) {
    if (store_.entries.contains(name)) return;
    asked_.emplace_back(
        name, [make = std::move(make)] { return std::any(std::shared_ptr<const T>(std::make_shared<T>(make()))); });
  }
  // The names of those that were made.
  std::unordered_set<Hash, HashOfHash> make(const Progress& progress) {
    std::vector<std::any> made(asked_.size());
    parallelChunks(asked_.size(), 1, progress, [&](std::size_t i, std::size_t, std::size_t) {
      try {
        made[i] = asked_[i].second();
      } catch (const Error&) {
      }
    });
    std::unordered_set<Hash, HashOfHash> names;
    for (std::size_t i = 0; i < asked_.size(); ++i) {
      if (!made[i].has_value()) continue;
      store_.entries[asked_[i].first] = {std::move(made[i]), store_.round};
      names.insert(asked_[i].first);
    }
    asked_.clear();
    return names;
  }

 private:
  Cache::Store& store_;
  std::vector<std::pair<Hash, std::function<std::any()>>> asked_;
};

}  // namespace inselberg::project
