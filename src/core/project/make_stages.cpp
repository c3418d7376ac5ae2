#include "project/make_stages.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <utility>

#include "base/error.h"
#include "ground/border.h"
#include "ground/clip.h"
#include "ground/drape.h"
#include "ground/lying_over.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "ground/tin_index.h"
#include "plane/boxes.h"
#include "plane/inside.h"
#include "plane/offset.h"
#include "plane/place_text.h"
#include "quantity/combine.h"
#include "works/footprint.h"
#include "works/tops.h"

namespace inselberg::project {
namespace {

using ground::Doubt;
using ground::DoubtKind;
using ground::Index;
using ground::kNone;
using ground::TinPtr;
using plane::Vec2;
using plane::Vec3;

Doubt cannot(const std::string& name, const std::string& why) {
  return {DoubtKind::notPlaced, {}, name + " does nothing: " + why};
}

std::string gone() {
  return "works that it belongs to are gone or left out. Choose others on its card.";
}

plane::Areas areaOf(const works::Strip& strip, const FindWorks& find, ground::Doubts& doubts) {
  plane::Areas area;
  if (strip.under.empty()) area = {{strip.outline, {}}};
  bool missing = false;
  for (const WorksId id : strip.under) {
    const auto lying = find(id);
    missing |= !lying;
    if (!lying) continue;
    const TinPtr plan = works::topAndLegsOf(*lying->placement);
    if (plan->empty()) continue;
    const bool square = works::cornersOf(lying->shape) == works::CornerStyle::square;
    const auto own = plane::offset(ground::coverOf(*plan), strip.margin,
                                   square ? plane::OffsetCorners::square : plane::OffsetCorners::round);
    area.insert(area.end(), own.begin(), own.end());
  }
  if (missing) doubts.push_back(cannot(strip.name, gone()));
  plane::Areas except;
  for (const plane::Ring& ring : strip.except) except.push_back({ring, {}});
  return plane::without(plane::united(area), plane::united(except));
}

}  // namespace

StageGround strippedFrom(const Project& project, const TinPtr& existing, const FindWorks& find,
                         const works::FindPlan& plan, const Progress& progress) {
  StageGround made;
  std::vector<works::StripArea> strips;
  for (const works::Strip& strip : project.stages.strips) {
    if (!strip.leftOut) strips.push_back({&strip, areaOf(strip, find, made.doubts)});
  }
  const works::Stripped stripped = works::stripped(existing, strips, progress, plan);
  made.tin = stripped.tin;
  for (std::size_t i = 0; i < strips.size(); ++i)
    made.parts.push_back({strips[i].strip->id, stripped.parts[i], stripped.before[i]});
  constexpr double kLarge = 0.1;  // m2
  if (stripped.twice > kLarge)
    made.doubts.push_back(
        {DoubtKind::stripsOverlap, stripped.twiceAt,
         fmt::format("{:.0f}\u00a0m² lie in several strips, near {}: they are stripped once, by the greater "
                     "depth. Draw the outlines beside each other.",
                     stripped.twice, plane::placeText(stripped.twiceAt, project.origin))});
  return made;
}

StageGround formationFrom(const Project& project, const TinPtr& finished, std::span<const WorksId> order,
                          const FindWorks& find, const Progress& progress) {
  StageGround made;
  std::vector<works::BuildUp> buildUps;
  plane::Areas outlines;
  std::map<WorksId, std::size_t> numbers;
  std::vector<std::optional<Lying>> lying;
  for (const WorksId id : order) {
    numbers[id] = lying.size();
    lying.push_back(find(id));
  }
  struct Top {
    TinPtr tin;
    Index near = kNone;  // where a place was found last
  };
  std::map<std::size_t, Top> tops;
  for (const works::BuildUp& b : project.stages.buildUps) {
    if (b.leftOut) continue;
    buildUps.push_back(b);
    if (b.over.empty()) outlines.push_back({b.outline, {}});
    bool missing = false;
    for (const WorksId id : b.over) {
      const auto number = numbers.find(id);
      missing |= number == numbers.end() || !lying[number->second];
      if (number == numbers.end() || !lying[number->second] || tops.contains(number->second)) continue;
      const Lying& one = *lying[number->second];
      tops[number->second].tin = works::topOf(one.shape, *one.placement);
    }
    if (missing) made.doubts.push_back(cannot(b.name, gone()));
  }
  const TinPtr whole = outlines.empty() ? finished : ground::cutAlong(*finished, outlines, progress);
  std::vector<TinPtr> facets;
  for (const auto& one : lying) facets.push_back(one ? one->placement->facets : nullptr);
  // The last works that covers each triangle.
  const std::vector<Index> owner = ground::lastOver(*whole, facets, progress);
  std::vector<int> carried(whole->triangles().size(), -1);
  std::vector<std::optional<plane::Inside>> inside;
  for (const works::BuildUp& b : buildUps) {
    inside.emplace_back();
    const plane::Areas area{{b.outline, {}}};
    if (b.over.empty()) inside.back().emplace(area);
  }
  for (Index t = 0; t < carried.size(); ++t) {
    if (owner[t] == kNone && outlines.empty()) continue;
    if ((t & 0xfff) == 0) progress.check();
    const Vec2 c = ground::centroid(*whole, t);
    for (std::size_t k = buildUps.size(); k-- > 0 && carried[t] < 0;) {
      const works::BuildUp& b = buildUps[k];
      if (b.over.empty()) {
        if ((*inside[k])(c)) carried[t] = static_cast<int>(k);
        continue;
      }
      if (owner[t] == kNone || std::ranges::find(b.over, order[owner[t]]) == b.over.end()) continue;
      Top& own = tops.at(owner[t]);
      const bool top = own.tin->locate(c, own.near) != kNone;
      if (b.part == works::BuildUpPart::all || top == (b.part == works::BuildUpPart::top))
        carried[t] = static_cast<int>(k);
    }
  }
  works::Formation formation = works::formationUnder(whole, buildUps, carried);
  made.tin = formation.tin;
  for (std::size_t k = 0; k < buildUps.size(); ++k)
    made.parts.push_back({buildUps[k].id, formation.above[k], formation.below[k]});
  made.changed = ground::subset(*made.tin, [&](Index t) { return owner[t] != kNone || carried[t] >= 0; });
  return made;
}

namespace {

// A level that the ground does not exceed wherever the back slopes of a bottom may reach below it.
double highestNear(const ground::Tin& tin, const ground::Tin& bottom, double wider, double backSlope) {
  double highest = tin.maxLevel();
  for (int round = 0; round < 4; ++round) {
    const double reach = wider + std::max(0.0, highest - bottom.minLevel()) * backSlope;
    const plane::Box near = bottom.bounds().grown(reach);
    double found = bottom.maxLevel();
    tin.index().touching(plane::cornersOf(near), 0, [&](Index t) {
      for (const Vec3& p : tin.corners(t)) found = std::max(found, p.z);
    });
    highest = found;
  }
  return highest;
}

// A bottom, and the level its back slopes rise to at most.
struct Pit {
  plane::Areas areas;
  TinPtr bottom;
  double upTo = 0;
};

// Areas whose baths come near each other are dug together, others by themselves, each no higher than the land there.
std::vector<Pit> pitsOver(const plane::Areas& areas, const std::function<TinPtr(const plane::Areas&)>& bottomOf,
                          const ground::Tin& stripped, const works::Undercut& u) {
  const auto pitOf = [&](plane::Areas own) {
    Pit pit{std::move(own), nullptr};
    pit.bottom = bottomOf(pit.areas);
    if (pit.bottom) pit.upTo = highestNear(stripped, *pit.bottom, u.wider, u.backSlope);
    return pit;
  };
  struct Group {
    Pit pit;
    plane::Box reach;
    bool several = false;
  };
  std::vector<Group> groups;
  for (const plane::Polygon& area : areas) {
    Group own{pitOf({area}), {}};
    if (own.pit.bottom) {
      const double up = own.pit.upTo - own.pit.bottom->minLevel();
      own.reach = own.pit.bottom->bounds().grown(u.wider + std::max(0.0, up) * u.backSlope + 1);
    }
    // It takes in every group it reaches, and what these reach then.
    for (bool again = true; std::exchange(again, false);) {
      for (auto other = groups.begin(); other != groups.end();) {
        if (!other->reach.overlaps(own.reach)) {
          ++other;
          continue;
        }
        own.pit.areas.insert(own.pit.areas.begin(), other->pit.areas.begin(), other->pit.areas.end());
        own.reach.add(other->reach);
        other = groups.erase(other);
        own.several = again = true;
      }
    }
    groups.push_back(std::move(own));
  }
  std::vector<Pit> pits;
  for (Group& group : groups) {
    pits.push_back(group.several ? pitOf(std::move(group.pit.areas)) : std::move(group.pit));
    if (!pits.back().bottom) pits.pop_back();
  }
  return pits;
}

// The baths of one undercut; empty, and a doubt, where it has none.
std::vector<TinPtr> bathsOf(const works::Undercut& u, const TinPtr& stripped, const TinPtr& formation,
                            const FindWorks& find, ground::Doubts& doubts, const Progress& progress) {
  const TinPtr& below = u.below == works::UndercutBelow::formation ? formation : stripped;
  if (u.under.empty()) {
    works::Stations levels = u.levels;
    if (!u.byLevels) {
      const auto way = ground::draped(*below, u.line, false);
      if (way.empty()) {
        doubts.push_back(cannot(u.name, "its line leaves the ground. Draw it where there is ground."));
        return {};
      }
      double at = 0;
      levels.clear();
      for (std::size_t i = 0; i < way.size(); ++i) {
        if (i > 0) at += plane::distance(way[i - 1].plan(), way[i].plan());
        if (levels.empty() || at > levels.back()[0]) levels.push_back({at, way[i].z - u.depth});
      }
    }
    double highest = stripped->maxLevel();
    for (const works::Station& s : levels) highest = std::max(highest, s[1]);
    return {works::bathAlong(u.line, levels, u.width + 2 * u.wider, u.backSlope, highest, progress)};
  }
  std::map<works::CornerStyle, plane::Areas> tops;
  bool missing = false;
  for (const WorksId id : u.under) {
    const auto lying = find(id);
    missing |= !lying;
    if (!lying) continue;
    const TinPtr top = works::topOf(lying->shape, *lying->placement);
    const auto cover = ground::coverOf(*top);
    plane::Areas& all = tops[works::cornersOf(lying->shape)];
    all.insert(all.end(), cover.begin(), cover.end());
  }
  if (missing) doubts.push_back(cannot(u.name, gone()));
  constexpr double kIn = 1e-5;  // m: a wall may stand at the border; works::bathOver puts it back
  std::vector<TinPtr> baths;
  const auto bottomOf = [&](const plane::Areas& areas) -> TinPtr {
    const plane::Areas in = plane::offset(areas, -kIn, plane::OffsetCorners::square);
    const TinPtr over = in.empty() ? nullptr : ground::keepInside(*below, in, progress);
    return over && !over->empty() ? quantity::shifted(*over, -u.depth) : nullptr;
  };
  for (const auto& [corners, areas] : tops) {
    for (const Pit& pit : pitsOver(plane::united(areas), bottomOf, *stripped, u))
      baths.push_back(works::bathOver({pit.bottom, corners}, u.wider, u.backSlope, pit.upTo, progress));
  }
  return baths;
}

// What is left of an undercut once it is filled so high: its bottom is higher, and as much wider as its sides rise.
works::Undercut filledTo(works::Undercut u, double height) {
  u.depth -= height;
  for (works::Station& s : u.levels) s[1] += height;
  u.wider += height * u.backSlope;
  return u;
}

}  // namespace

StageGround undercutFrom(const Project& project, const TinPtr& stripped, const TinPtr& formation, const FindWorks& find,
                         const Progress& progress) {
  StageGround made;
  made.tin = stripped;
  ground::Doubts told;  // by the undercut itself
  for (const works::Undercut& u : project.stages.undercuts) {
    if (u.leftOut) continue;
    StagePart part{u.id, nullptr, nullptr};
    try {
      const works::Dug dug =
          works::dug(made.tin, bathsOf(u, stripped, formation, find, made.doubts, progress), progress);
      part.after = dug.after, part.before = dug.before;
      double height = 0;
      for (const works::Layer& layer : u.layers) {
        height += layer.thickness;
        const works::Dug above =
            works::dug(made.tin, bathsOf(filledTo(u, height), stripped, formation, find, told, progress), progress);
        part.layers.push_back({above.after, above.before});
      }
      made.tin = dug.tin;
    } catch (const Error& e) {
      made.doubts.push_back(cannot(u.name, e.what()));
    }
    made.parts.push_back(std::move(part));
  }
  return made;
}

ground::Doubts doubtsOfRegions(const std::vector<Region>& regions, const plane::Origin& origin) {
  constexpr double kLarge = 0.1;  // m2
  ground::Doubts doubts;
  for (std::size_t i = 0; i < regions.size(); ++i) {
    for (std::size_t k = 0; k < i; ++k) {
      const auto both = plane::common({regions[k].area}, {regions[i].area});
      if (plane::area(both) <= kLarge) continue;
      const Vec2 at = both.front().outer.front();
      doubts.push_back(
          {DoubtKind::regionsOverlap, at,
           fmt::format("{:.0f}\u00a0m² lie in both {} and {}, near {}: they are counted in both. Draw the "
                       "regions beside each other.",
                       plane::area(both), regions[k].name, regions[i].name, plane::placeText(at, origin))});
    }
  }
  return doubts;
}

}  // namespace inselberg::project
