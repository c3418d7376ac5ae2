#include "project/place_works.h"

#include <algorithm>
#include <iterator>
#include <map>
#include <numeric>
#include <set>

#include "base/error.h"
#include "ground/stamp.h"

namespace inselberg::project {
namespace {

Hash nameOfVolume(const Hash& of) {
  return Hasher().text("volume").hash(of).finish();
}

Hash nameOfFootprint(const Hash& of) {
  return Hasher().text("footprint").hash(of).finish();
}

}  // namespace

Hash nameOfPlacing(const Hash& under, const Hash& shape) {
  return Hasher().text("place").hash(under).hash(shape).finish();
}

WorksPlacing::WorksPlacing(PlacingRequest request, Cache::Store& store, const Progress& progress)
    : request_(std::move(request)), store_(store), progress_(progress) {}

void WorksPlacing::placeAhead(const std::vector<WorksPtr>& list) {
  if (request_.rebased) return;
  Ahead ahead(store_);
  for (const WorksPtr& w : list) {
    const auto last = store_.stoodOn.find(w->id);
    const auto isPlaced = [&](WorksId id) {
      return std::any_of(list.begin(), list.end(), [&](const WorksPtr& other) { return other->id == id; });
    };
    if (last != store_.stoodOn.end() && std::any_of(last->second.begin(), last->second.end(), isPlaced)) continue;
    try {
      const auto [shape, name] = request_.resolved(w->shape);
      const auto [placing, detail] = placingOf(*w, nameOfPlacing(request_.baseName, name));
      ahead.add<works::Placement>(placing, [this, shape = shape, detail = detail] {
        return works::place(shape, *request_.base, *request_.origin, progress_, detail);
      });
    } catch (const Error&) {  // told when its turn comes
    }
  }
  progress_.report("placing works", 0.5);
  ahead_ = ahead.make(progress_);
}

// What a works' placement is named, and how closely it is made: as a draft where that is asked for and pays, and it is
// not there in full. In full its name is `full`.
std::pair<Hash, works::Detail> WorksPlacing::placingOf(const works::Works& works, const Hash& full) const {
  if (request_.detail == works::Detail::full || store_.entries.contains(full) ||
      !store_.facetCounts[works.id].isDraftWorthwhile())
    return {full, works::Detail::full};
  return {Hasher().text("draft").hash(full).finish(), works::Detail::draft};
}

const Standing& WorksPlacing::place(const WorksPtr& works) {
  Standing s;
  s.works = works;
  const auto [shape, shapeName] = request_.resolved(works->shape);
  s.shapeName = shapeName;
  s.under = stoodOn(works->id);
  bool asLast = !s.under.empty();
  while (true) {
    s.on = groundWith(s.under);
    works::Detail detail{};
    std::tie(s.name, detail) = placingOf(*works, nameOfPlacing(nameWith(s.under), shapeName));
    bool made = false;
    asBefore(s);
    s.placement = store_.node<works::Placement>(s.name, [&] {
      made = true;
      return works::place(shape, *s.on, *request_.origin, progress_, detail);
    });
    s.fresh = made || ahead_.contains(s.name) || detail == works::Detail::draft;
    s.footprint =
        store_.node<works::Footprint>(nameOfFootprint(s.name), [&] { return works::Footprint(s.placement->facets); });
    const std::set<std::size_t> touched = touchedBy(*s.footprint);
    const bool onTouched = std::ranges::equal(touched, s.under);
    if (!onTouched && std::exchange(asLast, false)) {
      s.under.clear();
      continue;
    }
    std::set<std::size_t> under = touched;
    under.insert(s.under.begin(), s.under.end());
    if (under.size() > s.under.size()) {
      s.under.assign(under.begin(), under.end());
      continue;
    }
    std::vector<WorksId>& last = store_.stoodOn[works->id];
    last.clear();
    for (const std::size_t j : s.under) {
      if (onTouched) last.push_back(standing_[j].works->id);
    }
    store_.facetCounts[works->id].add(detail, s.placement->kinds.size());
    drafted_ |= detail == works::Detail::draft;
    standing_.push_back(s);
    return standing_.back();
  }
}

// What is placed already of what a works stood on when it was last placed, with all that stands on now.
auto WorksPlacing::stoodOn(WorksId works) const -> Numbers {
  const auto last = store_.stoodOn.find(works);
  if (last == store_.stoodOn.end()) return {};
  std::set<std::size_t> under;
  for (std::size_t j = 0; j < standing_.size(); ++j) {
    if (std::ranges::find(last->second, standing_[j].works->id) != last->second.end()) addWithUnder(under, j);
  }
  return {under.begin(), under.end()};
}

// What a footprint touches, and all that stands on.
std::set<std::size_t> WorksPlacing::touchedBy(const works::Footprint& footprint) const {
  std::set<std::size_t> under;
  for (std::size_t j = 0; j < standing_.size(); ++j) {
    if (!under.count(j) && footprint.touches(*standing_[j].footprint)) addWithUnder(under, j);
  }
  return under;
}

void WorksPlacing::addWithUnder(std::set<std::size_t>& to, std::size_t j) const {
  to.insert(j);
  to.insert(standing_[j].under.begin(), standing_[j].under.end());
}

bool WorksPlacing::anyMeet() const {
  return std::any_of(standing_.begin(), standing_.end(), [](const Standing& s) { return !s.under.empty(); });
}

auto WorksPlacing::byChange() const -> std::tuple<Numbers, Numbers, Numbers> {
  Numbers all(standing_.size()), changed, rest;
  std::iota(all.begin(), all.end(), std::size_t{0});
  for (const std::size_t k : all) {
    const auto& under = standing_[k].under;
    const bool moves = standing_[k].fresh || std::any_of(under.begin(), under.end(), [&](std::size_t j) {
                         return std::find(changed.begin(), changed.end(), j) != changed.end();
                       });
    (moves ? changed : rest).push_back(k);
  }
  return {std::move(all), std::move(changed), std::move(rest)};
}

auto WorksPlacing::uponLargest(const Numbers& which) const -> SetInParts {
  SetInParts parts{which, {}, {}};
  for (const std::size_t k : which) {
    if (standing_[k].under.size() > parts.before.size()) parts.before = standing_[k].under;
  }
  std::ranges::set_difference(which, parts.before, std::back_inserter(parts.others));
  return parts;
}

// Those that stand on each other, together.
std::vector<WorksPlacing::Numbers> WorksPlacing::groups() const {
  std::vector<std::size_t> group(standing_.size());
  for (std::size_t k = 0; k < group.size(); ++k) {
    group[k] = k;
    for (const std::size_t j : standing_[k].under) {
      const std::size_t from = group[j];
      for (std::size_t m = 0; m <= k; ++m) group[m] = group[m] == from ? group[k] : group[m];
    }
  }
  std::map<std::size_t, Numbers> groups;
  for (std::size_t k = 0; k < group.size(); ++k) groups[group[k]].push_back(k);
  std::vector<Numbers> list;
  for (auto& [first, members] : groups) list.push_back(std::move(members));
  return list;
}

WorksPlacing::Costs WorksPlacing::costs(const std::optional<SetInParts>& setIn) const {
  Ahead ahead(store_);
  if (setIn && !store_.entries.contains(nameOfGround(setIn->which))) {
    ahead.add<SetIn>(nameOfGround(setIn->which), [this, parts = *setIn, under = groundWith(setIn->before)] {
      return setInto(under, parts.others);
    });
  }
  // A draft is dragged: what it has in common with the one before is not measured again.
  const bool draft = request_.detail == works::Detail::draft;
  for (const Standing& s : standing_) {
    if (!draft) ahead.add<Measured>(nameOfCost(s.name), [this, &s] { return costOf(s); });
  }
  const std::vector<Numbers> groups = this->groups();
  for (const Numbers& members : groups) {
    if (members.size() == 1) continue;
    const Hash name = nameOfVolume(nameWith(members));
    if (const auto before = nameBefore(members)) store_.rename(nameOfVolume(*before), name);
    ahead.add<quantity::Volume>(name, [this, &members] { return costTogether(members); });
  }
  ahead.make(progress_);
  Costs costs;
  for (const Standing& s : standing_) {
    costs.each.push_back(*store_.node<Measured>(nameOfCost(s.name), [&] {
      return draft ? Measured{nullptr, store_.costOf(s.works->id, s.on, s.placement->facets, progress_)} : costOf(s);
    }));
  }
  for (const Numbers& members : groups) {
    // Of one alone it is what that does to what it stands on, the base.
    costs.groups.push_back(members.size() == 1 ? costs.each[members[0]].volume
                                               : *store_.node<quantity::Volume>(nameOfVolume(nameWith(members)),
                                                                                [&] { return costTogether(members); }));
  }
  return costs;
}

Measured WorksPlacing::costOf(const Standing& s) const {
  const ground::TinPtr& facets = s.placement->facets;
  if (!request_.inRegions || facets->empty()) return {nullptr, works::costOf(*s.placement, *s.on, progress_)};
  return Measured::forRegions(s.on, facets, quantity::Comparison::Of::facets, progress_);
}

Hash WorksPlacing::nameOfCost(const Hash& of) const {
  return Hasher().text("cost").hash(of).value(request_.inRegions).finish();
}

quantity::Volume WorksPlacing::costTogether(const Numbers& which) const {
  const ground::TinPtr facets = facetsOf(which);
  return facets ? quantity::volumeOfFacets(*request_.base, *facets, progress_) : quantity::Volume{};
}

// On a ground that was patched where the works does not reach, it is placed as it was before.
void WorksPlacing::asBefore(Standing& s) const {
  s.before.reset();
  const auto under = nameBefore(s.under);
  if (!request_.rebased || !under) return;
  const Hash before = nameOfPlacing(*under, s.shapeName);
  const auto footprint = store_.find<works::Footprint>(nameOfFootprint(before));
  if (!footprint || footprint->touches(*request_.rebased->where) || !store_.rename(before, s.name)) return;
  store_.rename(nameOfFootprint(before), nameOfFootprint(s.name));
  store_.rename(nameOfCost(before), nameOfCost(s.name));
  s.before = before;
}

// The name of a base with some of the works set in; nothing where one of them has none.
template <class NameOf>
std::optional<Hash> WorksPlacing::nameOn(const Hash& base, const Numbers& which, NameOf&& nameOf) const {
  if (which.empty()) return base;
  Hasher h;
  h.text("with").hash(base);
  for (const std::size_t k : which) {
    const std::optional<Hash> name = nameOf(standing_[k]);
    if (!name) return std::nullopt;
    h.hash(*name);
  }
  return h.finish();
}

Hash WorksPlacing::nameWith(const Numbers& which) const {
  return *nameOn(request_.baseName, which, [](const Standing& s) { return std::optional(s.name); });
}

std::optional<Hash> WorksPlacing::nameBefore(const Numbers& which) const {
  if (!request_.rebased) return std::nullopt;
  return nameOn(request_.rebased->before, which, [](const Standing& s) { return s.before; });
}

ground::TinPtr WorksPlacing::groundWith(const SetInParts& parts) const {
  if (parts.which.empty()) return request_.base;
  return store_.node<SetIn>(nameOfGround(parts.which), [&] { return setInto(groundWith(parts.before), parts.others); })
      ->tin;
}

Hash WorksPlacing::nameOfGround(const Numbers& which) const {
  return Hasher().text("ground").hash(nameWith(which)).finish();
}

SetIn WorksPlacing::setInto(const ground::TinPtr& under, const Numbers& others) const {
  const ground::TinPtr facets = facetsOf(others);
  return {facets ? ground::stamp(*under, *facets, progress_) : under};
}

ground::TinPtr WorksPlacing::facetsOf(const Numbers& which) const {
  std::vector<std::vector<ground::TinPtr>> layers;
  std::map<std::size_t, std::size_t> layerOf;  // above all it stands on, of these
  for (const std::size_t k : which) {
    const Standing& s = standing_[k];
    if (s.placement->facets->empty()) continue;
    std::size_t layer = 0;
    for (const std::size_t j : s.under) {
      if (const auto below = layerOf.find(j); below != layerOf.end()) layer = std::max(layer, below->second + 1);
    }
    layerOf[k] = layer;
    if (layer == layers.size()) layers.emplace_back();
    layers[layer].push_back(s.placement->facets);
  }
  ground::TinPtr all;
  for (const auto& list : layers) {
    const ground::TinPtr facets = works::merged(list);
    all = all ? ground::stamp(*all, *facets, progress_) : facets;
  }
  return all;
}

}  // namespace inselberg::project
