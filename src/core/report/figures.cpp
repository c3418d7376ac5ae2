#include "report/figures.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <list>
#include <map>
#include <set>
#include <tuple>
#include <unordered_map>
#include <utility>

#include "base/parallel.h"
#include "ground/border.h"
#include "ground/clip.h"
#include "ground/lying_over.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "plane/boxes.h"
#include "works/undercut.h"

namespace inselberg::report {

using ground::TinPtr;
using quantity::Volume;

// Everything is known by the grounds it is of, which are held, so that no other can come to lie where one was.
struct QuantityCache::Store {
  using Of = quantity::Comparison::Of;
  using Pair = std::tuple<const ground::Tin*, const ground::Tin*, Of>;
  struct Compared {
    TinPtr from, to;
    std::shared_ptr<const quantity::Comparison> comparison;
    bool forRegions = false;           // it was made ready for them
    std::optional<Volume> everywhere;  // of facets
    std::uint64_t usedIn = 0;
  };
  struct InRegion {
    plane::Areas areas;
    quantity::Region region;
    std::map<Pair, Volume> volumes;
    std::uint64_t usedIn = 0;
  };
  struct Sure {
    std::optional<quantity::Uncertainty> uncertainty;
    std::uint64_t usedIn = 0;
  };
  std::map<Pair, Compared> compared;
  std::list<InRegion> regions;
  std::map<TinPtr, std::uint64_t> covers;  // facets whose plan area is asked for, and when
  std::map<std::vector<TinPtr>, Sure> sure;
  std::vector<project::Accuracy> accuracy;  // that `sure` is by, and the sources it is of
  std::vector<std::tuple<Hash, std::string, std::string>> sources;
  std::uint64_t round = 0;

  // One for each that asks, as each is measured in by a thread of its own.
  InRegion& regionOf(const plane::Areas& areas, const Progress& progress) {
    auto it = std::find_if(regions.begin(), regions.end(),
                           [&](const InRegion& r) { return r.usedIn < round && r.areas == areas; });
    if (it == regions.end()) it = regions.insert(it, InRegion{areas, quantity::Region(areas, progress), {}});
    it->usedIn = round;
    return *it;
  }

  // Forgets what was found of grounds that are not held, which may be gone.
  void begin() {
    ++round;
    std::set<const ground::Tin*> held;
    for (const auto& [pair, known] : compared) held.insert({std::get<0>(pair), std::get<1>(pair)});
    for (const auto& [facets, when] : covers) held.insert(facets.get());
    for (InRegion& r : regions) {
      std::erase_if(r.volumes, [&](const auto& item) { return !compared.contains(item.first); });
      r.region.forgetOthers(held);
    }
  }

  // Lets go of all that was not needed.
  void end() {
    const auto unused = [&](const auto& item) { return item.second.usedIn < round; };
    std::erase_if(compared, unused);
    std::erase_if(covers, [&](const auto& item) { return item.second < round; });
    std::erase_if(sure, unused);
    std::erase_if(regions, [&](const InRegion& r) { return r.usedIn < round; });
  }
};

QuantityCache::QuantityCache() : store_(std::make_unique<Store>()) {}
QuantityCache::~QuantityCache() = default;

namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using project::EvaluatedGround;
using project::PlacedWorks;
using project::Role;

// A part of the plan that quantities are taken in: everywhere, in a region, or outside all of them.
struct Within {
  QuantityCache::Store::InRegion* region = nullptr;  // null: everywhere
  bool elsewhere = false;
  bool asking = false;  // nothing is measured yet: what would be is only noted
};

class Taking {
 public:
  Taking(const project::Evaluation& evaluation, QuantityCache::Store& known, const Progress& progress)
      : evaluation_(evaluation),
        project_(*evaluation.project),
        stages_(project_.stages),
        known_(known),
        progress_(progress) {
    known_.begin();
    existing_ = ofRole(Role::surveyed);
    finished_ = ofRole(Role::finished);
    stripped_ = ofRole(Role::stripped);
    undercut_ = ofRole(Role::undercut);
    formation_ = ofRole(Role::formation);
    if (!stripped_) stripped_ = existing_;
    if (!formation_) formation_ = finished_;
    materials_ = stages_.materials;
    const auto mention = [&](const std::string& name) {
      if (!name.empty() && numberOf(name) == materials_.size()) materials_.push_back({name});
    };
    for (const works::Strip& s : stages_.strips) mention(s.material);
    for (const works::Undercut& u : stages_.undercuts) mention(u.material);
    for (const auto& ground : project_.column) {
      for (const auto& w : ground->works) mention(w->material);
    }
  }

  // Does what is the same for all parts of the plan, and compares all that is asked for. Then regions may be from
  // several threads.
  void prepare(bool inRegions) {
    if (!existing_ || !existing_->tin) return;
    if (formation_) partBulk(formation_->stage ? formation_->stage->changed : underWorks());
    Within asking{nullptr, false, true};
    figures(asking);
    if (inRegions) {
      for (const project::Seam& seam : evaluation_.seams) {
        if (!seam.counted || !seam.volume) continue;
        Compared& compared = ask(evaluation_.ground(seam.from)->tin, evaluation_.ground(seam.to)->tin, Of::grounds);
        if (seam.comparison) compared.comparison = seam.comparison, compared.forRegions = true;
      }
      for (const EvaluatedGround& ground : evaluation_.grounds) {
        for (const PlacedWorks& w : ground.works) {
          if (w.placement->facets->empty()) continue;
          Compared& compared = ask(w.under, w.placement->facets, Of::facets);
          if (!w.comparison) continue;
          compared.comparison = w.comparison, compared.forRegions = true;
          compared.everywhere = w.volume;
        }
      }
    }
    compare(inRegions);
  }

  Figures figures(Within& within) {
    Figures f;
    if (!existing_ || !existing_->tin) return f;
    Banks banks(materials_.size() + 1, 0);
    takeStrips(within, f, banks);
    takeBulk(within, f, banks);
    takeUndercuts(within, f, banks);
    takeBuildUps(within, f);
    balance(f, banks);
    return f;
  }

  std::vector<Measured> seams(Within& within) {
    std::vector<Measured> list;
    for (const project::Seam& seam : evaluation_.seams) {
      if (!seam.counted) continue;
      Measured m{project::seamName(project_, seam), 0, {}, {}};
      const TinPtr &from = evaluation_.ground(seam.from)->tin, &to = evaluation_.ground(seam.to)->tin;
      if (seam.volume) m.volume = !within.region ? *seam.volume : in(within, from, to, Of::grounds);
      list.push_back(std::move(m));
    }
    return list;
  }

  std::vector<Measured> works(Within& within) {
    std::vector<Measured> list;
    for (const EvaluatedGround& ground : evaluation_.grounds) {
      for (const PlacedWorks& w : ground.works) {
        Measured m{w.works->name, w.works->id.value, w.volume, {}};
        if (within.region) m.volume = facetsOver(within, w.under, w.placement->facets);
        list.push_back(std::move(m));
      }
    }
    return list;
  }

  // How sure seams and works are, in the order of these lists.
  void addSure(std::vector<Measured>& seams, std::vector<Measured>& works) {
    if (!existing_ || !existing_->tin) return;
    std::vector<std::tuple<Hash, std::string, std::string>> sources;
    for (const project::SourcePtr& source : project_.sources)
      sources.emplace_back(source->hash, source->file, source->name);
    if (known_.accuracy != stages_.accuracy || known_.sources != sources) {
      known_.sure.clear();
      known_.accuracy = stages_.accuracy, known_.sources = std::move(sources);
    }
    using Sure = QuantityCache::Store::Sure;
    std::vector<std::pair<Measured*, Sure*>> told;
    std::vector<std::pair<const std::vector<TinPtr>*, Sure*>> asked;
    const auto ask = [&](Measured& measured, const TinPtr& from, const TinPtr& to) {
      const auto it = known_.sure.try_emplace({from, to, existing_->tin, stripped_->tin}).first;
      const bool first = std::exchange(it->second.usedIn, known_.round) != known_.round;
      if (first && !it->second.uncertainty) asked.emplace_back(&it->first, &it->second);
      told.emplace_back(&measured, &it->second);
    };
    std::size_t i = 0;
    for (const project::Seam& seam : evaluation_.seams) {
      if (!seam.counted) continue;
      const TinPtr &from = evaluation_.ground(seam.from)->tin, &to = evaluation_.ground(seam.to)->tin;
      // What is stripped is so thick, however sure the ground is.
      const bool strip = project_.ground(seam.to)->role == Role::stripped;
      seams[i].sure = quantity::Uncertainty{};
      if (from && to && !strip) ask(seams[i], from, to);
      ++i;
    }
    i = 0;
    for (const EvaluatedGround& ground : evaluation_.grounds) {
      for (const PlacedWorks& w : ground.works) {
        works[i].sure = quantity::Uncertainty{};
        if (!w.placement->facets->empty()) ask(works[i], w.under, w.placement->facets);
        ++i;
      }
    }
    std::optional<quantity::SurveyAccuracy> accuracy;
    if (!asked.empty()) accuracy = accuracyOfSurvey();
    parallelChunks(asked.size(), 1, progress_, [&](std::size_t k, std::size_t, std::size_t) {
      const auto& [of, sure] = asked[k];
      sure->uncertainty =
          quantity::uncertaintyOf(*of->at(0), *of->at(1), *existing_->tin, *stripped_->tin, *accuracy, progress_);
    });
    for (const auto& [measured, sure] : told) measured->sure = *sure->uncertainty;
  }

 private:
  const EvaluatedGround* ofRole(Role role) const {
    const project::Ground* ground = project_.withRole(role);
    const EvaluatedGround* found = ground ? evaluation_.ground(ground->id) : nullptr;
    return found && found->tin ? found : nullptr;
  }

  using Of = quantity::Comparison::Of;
  using Compared = QuantityCache::Store::Compared;

  Compared& ask(const TinPtr& from, const TinPtr& to, Of of) {
    const QuantityCache::Store::Pair pair(from.get(), to.get(), of);
    Compared& compared = known_.compared.try_emplace(pair, Compared{from, to, {}, false, {}}).first->second;
    compared.usedIn = known_.round;
    return compared;
  }
  // All that was asked for, at once.
  void compare(bool inRegions) {
    std::vector<std::pair<Of, Compared*>> asked;
    for (auto& [pair, compared] : known_.compared) {
      if (compared.usedIn == known_.round) asked.emplace_back(std::get<Of>(pair), &compared);
    }
    // Indexes are made by all cores, but by one alone where two want the same.
    for (const auto& [of, compared] : asked) compared->from->index(), compared->to->index();
    parallelChunks(asked.size(), 1, progress_, [&](std::size_t i, std::size_t, std::size_t) {
      const auto& [of, compared] = asked[i];
      if (!compared->comparison || (inRegions && !compared->forRegions)) {
        const auto made = std::make_shared<quantity::Comparison>(compared->from, compared->to, of, progress_);
        if (inRegions) made->measure(progress_);
        compared->comparison = made, compared->forRegions = inRegions;
      }
      if (of == Of::facets && !compared->everywhere) compared->everywhere = compared->comparison->everywhere(progress_);
    });
  }
  // REQUIRES: it was asked for.
  const Compared& compared(const TinPtr& from, const TinPtr& to, Of of) const {
    return known_.compared.at({from.get(), to.get(), of});
  }

  // REQUIRES: in a region.
  Volume in(Within& within, const TinPtr& from, const TinPtr& to, Of of) {
    auto& volumes = within.region->volumes;
    const QuantityCache::Store::Pair pair(from.get(), to.get(), of);
    auto it = volumes.find(pair);
    if (it == volumes.end())
      it = volumes.emplace(pair, compared(from, to, of).comparison->in(within.region->region, progress_)).first;
    Volume volume = it->second;
    if (within.elsewhere) volume.outside = 0;  // it has no end
    return volume;
  }

  // Nothing of those that are null.
  Volume facetsOver(Within& within, const TinPtr& under, const TinPtr& facets) {
    if (!under || !facets || facets->empty()) return {};
    if (within.asking) return ask(under, facets, Of::facets), Volume{};
    if (within.region) return in(within, under, facets, Of::facets);
    return *compared(under, facets, Of::facets).everywhere;
  }

  double planAreaOf(Within& within, const TinPtr& facets) {
    if (within.asking) {
      facets->index();
      known_.covers[facets] = known_.round;
      return 0;
    }
    return within.region ? within.region->region.coverOf(facets, progress_) : ground::statistics(*facets).planArea;
  }

  using Banks = std::vector<double>;  // by material, then what is of none

  // The number of a material; none comes last.
  std::size_t numberOf(const std::string& material) const {
    std::size_t k = 0;
    while (k < materials_.size() && materials_[k].name != material) ++k;
    return k;
  }
  project::Material materialOf(std::size_t number) const {
    return number < materials_.size() ? materials_[number] : project::Material{kUnnamed};
  }

  void takeStrips(Within& within, Figures& f, Banks& banks) {
    std::size_t k = 0;
    for (const works::Strip& strip : stages_.strips) {
      if (strip.leftOut) continue;
      StripFigure figure{strip.id, strip.name};
      if (stripped_->stage) {
        const project::StagePart& part = stripped_->stage->parts.at(k);
        const TinPtr& after = part.after;
        if (after && strip.pits.empty()) {  // everywhere as deep
          figure.area = planAreaOf(within, part.before ? part.before : after);
          figure.volume = strip.depth * figure.area;
        } else {
          const Volume volume = facetsOver(within, existing_->tin, after);
          figure.volume = volume.cut, figure.area = volume.planArea();
        }
      }
      ++k;
      const std::size_t number = numberOf(strip.material);
      figure.loose = figure.volume * (1 + materialOf(number).bulking);
      banks[number] += figure.volume;
      f.strip += figure.volume;
      f.strips.push_back(std::move(figure));
    }
  }

  // What the cut at a place is made of: of the last works that lowered it, else of the last that lies there.
  std::size_t materialAt(plane::Vec2 p) const {
    std::optional<std::size_t> last;
    for (auto w = finished_->works.rbegin(); w != finished_->works.rend(); ++w) {
      const Tin& facets = *w->placement->facets;
      if (facets.empty() || !facets.bounds().contains(p)) continue;
      const auto level = facets.levelAt(p);
      if (!level) continue;
      const std::size_t number = numberOf(w->works->material);
      if (*level < w->under->levelAt(p).value_or(*level)) return number;
      if (!last) last = number;
    }
    return last.value_or(materials_.size());
  }

  void takeBulk(Within& within, Figures& f, Banks& banks) {
    for (std::size_t k = 0; k < bulk_.size(); ++k) {
      const Volume volume = facetsOver(within, stripped_->tin, bulk_[k]);
      banks[k] += volume.cut;
      f.bulkCut += volume.cut, f.bulkFill += volume.fill;
    }
  }

  // The finished ground where works lie.
  TinPtr underWorks() const {
    std::vector<TinPtr> facets;
    for (const PlacedWorks& w : finished_->works) facets.push_back(w.placement->facets);
    const auto over = ground::lastOver(*finished_->tin, facets, progress_);
    return ground::subset(*finished_->tin, [&](Index t) { return over[t] != kNone; });
  }

  // Whether works lower what was there, where others may lie whose cut is of another material.
  bool meetsOthers(const PlacedWorks& works) const {
    return works.volume.cut > 0 && std::ranges::any_of(finished_->works, [&](const PlacedWorks& other) {
             return numberOf(other.works->material) != numberOf(works.works->material) &&
                    other.placement->facets->bounds().overlaps(works.placement->facets->bounds());
           });
  }

  // The same surface with sides where such works begin to lower: a face is made of one material.
  TinPtr cutWhereLowered(const TinPtr& changed) const {
    plane::Areas lowered;
    for (const PlacedWorks& w : finished_->works) {
      if (!meetsOthers(w)) continue;
      const TinPtr& facets = w.placement->facets;
      const TinPtr own = works::dug(ground::keepBeneath(*w.under, *facets, progress_), {facets}, progress_).after;
      if (!own) continue;
      const plane::Areas areas = ground::coverOf(*own);
      lowered.insert(lowered.end(), areas.begin(), areas.end());
    }
    return lowered.empty() ? changed : ground::cutAlong(*changed, lowered, progress_);
  }

  // What works and build-ups changed, parted by what the cut there is made of.
  void partBulk(const TinPtr& all) {
    const TinPtr cut = cutWhereLowered(all);
    const Tin& changed = *cut;
    std::vector<std::size_t> number(changed.triangles().size());
    parallelChunks(number.size(), 512, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t t = begin; t < end; ++t)
        number[t] = materialAt(ground::centroid(changed, static_cast<Index>(t)));
    });
    for (std::size_t k = 0; k <= materials_.size(); ++k) {
      const bool none = std::find(number.begin(), number.end(), k) == number.end();
      bulk_.push_back(none ? nullptr : ground::subset(changed, [&](Index t) { return number[t] == k; }));
    }
  }

  // The share of an undercut: what fills it up to the lower of stripped ground and formation, less what already lay
  // below.
  void takeUndercuts(Within& within, Figures& f, Banks& banks) {
    std::size_t k = 0;
    for (const works::Undercut& u : stages_.undercuts) {
      if (u.leftOut) continue;
      UndercutFigure figure{u.id, u.name, 0, 0, {}};
      if (undercut_ && undercut_->stage) {
        const auto left = [&](const TinPtr& after, const TinPtr& before) {
          const Volume filled = facetsOver(within, formation_->tin, after);
          const double dig = std::max(0.0, filled.cut - facetsOver(within, formation_->tin, before).cut);
          return std::pair(dig, filled.cutArea);
        };
        const project::StagePart& part = undercut_->stage->parts.at(k);
        std::tie(figure.dig, figure.area) = left(part.after, part.before);
        double above = figure.dig;
        for (std::size_t l = 0; l < part.layers.size(); ++l) {
          const double now = left(part.layers[l].after, part.layers[l].before).first;
          const works::Layer& layer = u.layers[l];
          const double volume = above - now;
          figure.layers.push_back(
              {layer.name, layer.thickness, volume, layer.thickness > 0 ? volume / layer.thickness : 0});
          if (!layer.fromSite) f.needed -= volume;
          above = now;
        }
      }
      ++k;
      banks[numberOf(u.material)] += figure.dig;
      f.undercut += figure.dig;
      f.undercuts.push_back(std::move(figure));
    }
    f.backfill = f.undercut;
  }

  void takeBuildUps(Within& within, Figures& f) {
    std::size_t k = 0;
    for (const works::BuildUp& b : stages_.buildUps) {
      if (b.leftOut) continue;
      BuildUpFigure figure{b.id, b.name, {}};
      Volume volume;
      if (formation_ && formation_->stage) {
        const project::StagePart& part = formation_->stage->parts.at(k);
        volume = facetsOver(within, part.before, part.after);
      }
      ++k;
      // Of a thickness square to the slope it is the area of the surface.
      const double area = b.thickness() > 0 ? volume.fill / b.thickness() : volume.planArea();
      for (const works::Layer& layer : b.layers) {
        figure.layers.push_back({layer.name, layer.thickness, area * layer.thickness, area});
        f.buildUp += area * layer.thickness;
        if (layer.fromSite) f.needed += area * layer.thickness;
      }
      f.buildUps.push_back(std::move(figure));
    }
  }

  void balance(Figures& f, const Banks& banks) const {
    f.needed += f.bulkFill + f.backfill;
    double wanting = f.needed;
    for (std::size_t k = 0; k < banks.size(); ++k) {
      const project::Material m = materialOf(k);
      const double bank = banks[k], kept = 1 - m.shrinkage;
      MaterialFigure figure{m.name,
                            bank,
                            bank * (1 + m.bulking),
                            bank * kept,
                            bank * m.usable,
                            bank * m.cutRate + bank * (1 + m.bulking) * m.haulRate};
      const double available = bank * m.usable * kept, used = std::min(available, wanting);
      wanting -= used;
      f.available += available;
      f.exported += bank - (kept > 0 ? used / kept : 0);
      if (k < materials_.size() || bank > 0) f.materials.push_back(std::move(figure));
    }
    f.import = wanting;
  }

  // Points of the survey's ground are known by their places among those of the sources; what is not found there (cut in
  // where lines cross, or at the boundary) has the accuracy of a point beside it.
  quantity::SurveyAccuracy accuracyOfSurvey() const {
    constexpr std::uint32_t kUnknown = 0xffffffffu;
    struct HashPlace {
      std::size_t operator()(const std::pair<double, double>& p) const {
        return std::hash<double>{}(p.first) * 31 + std::hash<double>{}(p.second);
      }
    };
    std::unordered_map<std::pair<double, double>, std::uint32_t, HashPlace> known;
    const auto none = static_cast<std::uint32_t>(stages_.accuracy.size());
    const project::Ground& ground = *project_.ground(existing_->id);
    if (const auto* base = std::get_if<project::FromSources>(&ground.base)) {
      for (const SourceId id : base->sources) {
        const project::Source* source = project_.source(id);
        if (!source) continue;
        const std::string file = std::filesystem::path(source->file).filename().string();
        std::uint32_t number = 0;
        while (number < none && stages_.accuracy[number].source != file &&
               stages_.accuracy[number].source != source->name)
          ++number;
        const auto add = [&](const plane::Vec3& p) { known[{p.x, p.y}] = number; };
        for (const auto& p : source->data->points) add(p);
        for (const auto& p : source->data->modelPoints) add(p);
        for (const auto& line : source->data->breaklines) {
          for (const auto& v : line.vertices) known[{v.x, v.y}] = number;
        }
      }
    }
    const Tin& tin = *existing_->tin;
    quantity::SurveyAccuracy accuracy;
    accuracy.source.assign(tin.points().size(), kUnknown);
    for (std::size_t i = 0; i < tin.points().size(); ++i) {
      const auto found = known.find({tin.points()[i].x, tin.points()[i].y});
      if (found != known.end()) accuracy.source[i] = found->second;
    }
    for (int round = 0; round < 3; ++round) {
      for (const ground::Triangle& t : tin.triangles()) {
        for (const Index v : t) {
          for (const Index beside : t) {
            if (accuracy.source[v] == kUnknown) accuracy.source[v] = accuracy.source[beside];
          }
        }
      }
    }
    for (std::uint32_t& s : accuracy.source) s = std::min(s, none);
    for (const std::uint32_t s : accuracy.source) accuracy.random.push_back(s < none ? stages_.accuracy[s].random : 0);
    for (const project::Accuracy& a : stages_.accuracy) accuracy.systematic.push_back(a.systematic);
    accuracy.systematic.push_back(0);
    return accuracy;
  }

  const project::Evaluation& evaluation_;
  const project::Project& project_;
  const project::Stages& stages_;
  QuantityCache::Store& known_;
  const Progress& progress_;
  const EvaluatedGround *existing_, *finished_, *stripped_, *undercut_, *formation_;
  std::vector<project::Material> materials_;  // listed, then mentioned only
  std::vector<TinPtr> bulk_;                  // by material
};

// The column runs from the earliest to the latest.
std::vector<AsBuiltFigures> asBuiltOf(const project::Evaluation& evaluation, const Progress& progress) {
  std::vector<AsBuiltFigures> list;
  const project::Project& project = *evaluation.project;
  const EvaluatedGround *existing = evaluation.surveyed(), *finished = evaluation.ground(project.finished());
  if (!existing || !existing->tin || !finished || !finished->tin) return list;
  TinPtr last = existing->tin;
  for (const EvaluatedGround& ground : evaluation.grounds) {
    const project::Ground& of = *project.ground(ground.id);
    if (of.role != Role::asBuilt || !ground.tin) continue;
    const auto add = [&](const std::string& region, const plane::Areas& areas) {
      const auto between = [&](const Tin& from, const Tin& to) {
        return quantity::volumeBetween(from, to, areas, progress);
      };
      const Volume done = between(*existing->tin, *ground.tin);
      list.push_back({of.name, region, done, last == existing->tin ? done : between(*last, *ground.tin),
                      between(*ground.tin, *finished->tin)});
    };
    add("", {});
    for (const project::Region& region : project.stages.regions) add(region.name, {region.area});
    last = ground.tin;
  }
  return list;
}

// A square that holds all grounds and areas, and more.
plane::Polygon around(const project::Evaluation& evaluation, const plane::Areas& areas) {
  plane::Box box;
  for (const EvaluatedGround& ground : evaluation.grounds) {
    if (ground.tin && !ground.tin->empty()) box.add(ground.tin->bounds());
  }
  for (const plane::Polygon& polygon : areas) {
    for (const plane::Vec2 p : polygon.outer) box.add(p);
  }
  const auto corners = plane::cornersOf(box.grown(10));
  return {{corners.begin(), corners.end()}, {}};
}

}  // namespace

Quantities quantitiesOf(const project::Evaluation& evaluation, QuantityCache& cache, const Progress& progress) {
  Quantities made;
  Taking taking(evaluation, cache.store(), progress);
  const project::Stages& stages = evaluation.project->stages;
  taking.prepare(!stages.regions.empty());
  Within everywhere;
  made.whole = taking.figures(everywhere);
  if (!stages.regions.empty()) {
    plane::Areas all;
    for (const project::Region& region : stages.regions) all.push_back(region.area);
    const plane::Areas elsewhere = plane::without({around(evaluation, all)}, plane::united(all));
    std::vector<QuantityCache::Store::InRegion*> regions;
    for (const plane::Polygon& area : all) regions.push_back(&cache.store().regionOf({area}, progress));
    regions.push_back(&cache.store().regionOf(elsewhere, progress));
    made.regions.resize(regions.size());
    // Elsewhere first, as it is the largest.
    parallelChunks(regions.size(), 1, progress, [&](std::size_t k, std::size_t, std::size_t) {
      const std::size_t i = all.size() - k;
      const bool rest = i == all.size();
      Within within{regions[i], rest};
      made.regions[i] = {rest ? kElsewhere : stages.regions[i].name, taking.figures(within), taking.seams(within),
                         taking.works(within)};
    });
  }
  made.asBuilt = asBuiltOf(evaluation, progress);
  if (!stages.accuracy.empty()) {
    std::vector<Measured> seams = taking.seams(everywhere), works = taking.works(everywhere);
    taking.addSure(seams, works);
    made.sure = std::move(seams);
    made.sure.insert(made.sure.end(), works.begin(), works.end());
  }
  cache.store().end();
  return made;
}

Quantities quantitiesOf(const project::Evaluation& evaluation, const Progress& progress) {
  QuantityCache cache;
  return quantitiesOf(evaluation, cache, progress);
}

Figures figuresOf(const project::Evaluation& evaluation, QuantityCache& cache, const Progress& progress) {
  Within everywhere;
  Taking taking(evaluation, cache.store(), progress);
  taking.prepare(false);
  Figures figures = taking.figures(everywhere);
  cache.store().end();
  return figures;
}

Figures figuresOf(const project::Evaluation& evaluation, const Progress& progress) {
  QuantityCache cache;
  return figuresOf(evaluation, cache, progress);
}

}  // namespace inselberg::report
