// Every result is a node named by the hash of its own parameters and of the nodes it was made from: a built base, a
// placement, a stamped ground, a volume. An edit changes the names of what lies downstream of it and nothing else.
#include "project/evaluate.h"

#include <any>

#include "base/error.h"
#include "base/visitor.h"
#include "ground/clip.h"
#include "ground/stamp.h"
#include "project/build_sources.h"

namespace inselberg::project {

struct Cache::Store {
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

  // Undo and redo come back to recent states: nodes stay for a few rounds after their last use.
  void forget() {
    constexpr std::uint64_t kRounds = 6;
    std::erase_if(entries, [&](const auto& item) { return item.second.usedIn + kRounds < round; });
  }
};

Cache::Cache() : store_(std::make_unique<Store>()) {}
Cache::~Cache() = default;

std::optional<double> EvaluatedGround::levelAt(plane::Vec2 p) const {
  if (pending) {
    if (const auto level = pending->levelAt(p)) return level;
  }
  return tin ? tin->levelAt(p) : std::nullopt;
}

const EvaluatedGround* Evaluation::ground(GroundId id) const {
  for (const EvaluatedGround& g : grounds) {
    if (g.id == id) return &g;
  }
  return nullptr;
}

const PlacedWorks* Evaluation::works(WorksId id) const {
  for (const EvaluatedGround& g : grounds) {
    for (const PlacedWorks& w : g.works) {
      if (w.works->id == id) return &w;
    }
  }
  return nullptr;
}

std::size_t Evaluation::doubtCount() const {
  std::size_t n = 0;
  for (const EvaluatedGround& g : grounds) {
    for (const ground::Doubt& d : g.doubts) n += project->acceptance(d) ? 0 : 1;
  }
  return n;
}

namespace {

struct Built {
  ground::BuildResult result;
  std::string problem;
};

Hash nameOf(const Project& project, const FromSources& base) {
  Hasher h;
  h.text("build");
  for (const SourceId id : base.sources) {
    if (const Source* s = project.source(id)) h.hash(s->hash);
  }
  h.value(base.rules.duplicates)
      .value(base.rules.maxEdge)
      .value(base.rules.cureFlats)
      .value(project.origin.easting)
      .value(project.origin.northing);
  for (const ground::Mend& mend : base.mends) {
    h.value(mend.index());
    std::visit([&](const auto& m) { h.bytes(&m, sizeof m); }, mend);
  }
  return h.finish();
}

Built buildBase(const Project& project, const FromSources& base, const Progress& progress) {
  std::vector<const Source*> sources;
  for (const SourceId id : base.sources) {
    if (const Source* source = project.source(id)) sources.push_back(source);
  }
  Built built;
  if (sources.empty()) {
    built.problem = "No survey yet. Import points, or a ground model.";
    return built;
  }
  try {
    built.result = buildFromSources(sources, base.rules, base.mends, project.origin, progress);
  } catch (const Error& e) {
    built.problem = e.what();
  }
  return built;
}

class Evaluator {
 public:
  Evaluator(const ProjectPtr& project, Cache::Store& store, const Progress& progress)
      : project_(*project), store_(store), progress_(progress), out_(std::make_shared<Evaluation>()) {
    out_->project = project;
    out_->grounds.resize(project->column.size());
    names_.resize(project->column.size());
  }

  EvaluationPtr run(const Early& early) {
    ++store_.round;
    const std::size_t n = project_.column.size();
    for (std::size_t i = 0; i < n; ++i) {
      out_->grounds[i].id = project_.column[i]->id;
      if (i + 1 < n) out_->seams.push_back({project_.column[i]->id, project_.column[i + 1]->id, std::nullopt});
    }
    for (std::size_t i = 0; i < n; ++i) evaluateGround(i, early);
    for (std::size_t i = 0; i < out_->seams.size(); ++i) out_->seams[i].volume = measured(i);
    out_->whole = true;
    store_.forget();
    return out_;
  }

 private:
  void evaluateGround(std::size_t i, const Early& early) {
    const Ground& recipe = *project_.column[i];
    EvaluatedGround& ground = out_->grounds[i];
    Hash name;
    if (const auto* sources = std::get_if<FromSources>(&recipe.base)) {
      name = nameOf(project_, *sources);
      const auto built = store_.node<Built>(name, [&] { return buildBase(project_, *sources, progress_); });
      ground.tin = built->result.tin;
      ground.problem = built->problem;
      ground.doubts = built->result.doubts;
    } else if (const auto* base = std::get_if<OnGround>(&recipe.base)) {
      if (const auto under = earlier(i, base->ground, ground)) {
        name = names_[*under];
        ground.tin = out_->grounds[*under].tin;
      }
    } else {
      derive(i, std::get<Derived>(recipe.base), name, ground);
    }
    std::size_t active = 0;
    for (const WorksPtr& w : recipe.works) active += w->hidden ? 0 : 1;
    for (const WorksPtr& w : recipe.works) {
      if (w->hidden || !ground.tin) continue;
      progress_.report("placing " + w->name, 0.5);
      Hasher placing;
      placing.text("place").hash(name);
      works::feed(placing, w->shape);
      const Hash placed = placing.finish();
      const auto placement = store_.node<works::Placement>(
          placed, [&] { return works::place(w->shape, *ground.tin, project_.origin, progress_); });
      const auto volume = store_.node<quantity::Volume>(Hasher().text("volume").hash(placed).finish(), [&] {
        return works::costOf(*placement, *ground.tin, progress_);
      });
      ground.works.push_back({w, placement, *volume, ground.tin});
      for (ground::Doubt doubt : placement->doubts) {
        doubt.text = w->name + ": " + doubt.text;
        ground.doubts.push_back(std::move(doubt));
      }
      if (--active == 0 && early && i + 1 == out_->grounds.size()) publishEarly(*placement, early);
      name = Hasher().text("stamp").hash(placed).finish();
      ground.tin =
          *store_.node<ground::TinPtr>(name, [&] { return ground::stamp(*ground.tin, *placement->facets, progress_); });
    }
    names_[i] = name;
  }

  // The place in the column of a ground before i that has been made; nothing, and the problem set, when there is none.
  std::optional<std::size_t> earlier(std::size_t i, GroundId id, EvaluatedGround& ground) const {
    for (std::size_t k = 0; k < i; ++k) {
      if (out_->grounds[k].id != id) continue;
      if (out_->grounds[k].tin) return k;
      ground.problem = "Waits for " + project_.column[k]->name + ".";
      return std::nullopt;
    }
    ground.problem = "The ground it is made from is missing, or comes later in the column.";
    return std::nullopt;
  }

  void derive(std::size_t i, const Derived& base, Hash& name, EvaluatedGround& ground) {
    Hasher h;
    h.text("derive").value(base.how.index());
    std::vector<ground::TinPtr> of;
    for (const GroundId id : base.of) {
      const auto k = earlier(i, id, ground);
      if (!k) return;
      h.hash(names_[*k]);
      of.push_back(out_->grounds[*k].tin);
    }
    if (of.empty()) {
      ground.problem = "It is made from no ground.";
      return;
    }
    std::visit(
        Visitor{[&](const Shift& op) { h.value(op.height); },
                [&](const Keep& op) {
                  h.value(op.inside);
                  for (const plane::Vec2 p : op.polygon.outer) h.value(p.x).value(p.y);
                  for (const auto& hole : op.polygon.holes) {
                    for (const plane::Vec2 p : hole) h.value(p.x).value(p.y);
                  }
                },
                [&](const CombineAs& op) { h.value(op.rule); }, [&](const Simplify& op) { h.value(op.tolerance); }},
        base.how);
    name = h.finish();
    progress_.report("making " + project_.column[i]->name, 0.4);
    ground.tin = *store_.node<ground::TinPtr>(name, [&] {
      return std::visit(
          Visitor{[&](const Shift& op) { return quantity::shifted(*of[0], op.height); },
                  [&](const Keep& op) {
                    const std::vector<plane::Polygon> polygons{op.polygon};
                    return op.inside ? ground::keepInside(*of[0], polygons, progress_)
                                     : ground::keepOutside(*of[0], polygons, progress_);
                  },
                  [&](const CombineAs& op) {
                    ground::TinPtr all = of[0];
                    for (std::size_t k = 1; k < of.size(); ++k)
                      all = quantity::combined(*all, *of[k], op.rule, progress_);
                    return all;
                  },
                  [&](const Simplify& op) { return quantity::simplified(*of[0], op.tolerance, progress_); }},
          base.how);
    });
    if (!ground.tin->empty()) return;
    ground.tin = nullptr;
    ground.problem = "Nothing of the ground is left. Check its outline.";
  }

  // While the last works is not set into its ground, seams are known where works keep clear of each other.
  void publishEarly(const works::Placement& last, const Early& early) {
    auto now = std::make_shared<Evaluation>(*out_);
    now->grounds.back().pending = last.facets;
    for (std::size_t s = 0; s < now->seams.size(); ++s) {
      now->seams[s].volume = s + 1 < now->seams.size() ? measured(s) : summed(s);
    }
    early(std::move(now));
  }

  // The seam between ground i and the next; nothing while either is missing.
  std::optional<quantity::Volume> measured(std::size_t i) {
    const EvaluatedGround &from = out_->grounds[i], &to = out_->grounds[i + 1];
    if (!from.tin || !to.tin) return std::nullopt;
    if (auto sum = summed(i)) return sum;
    progress_.report("measuring", 0.9);
    const Hash name = Hasher().text("seam").hash(names_[i]).hash(names_[i + 1]).finish();
    return *store_.node<quantity::Volume>(name,
                                          [&] { return quantity::volumeBetween(*from.tin, *to.tin, {}, progress_); });
  }

  // The same as the sum over the works of the upper ground; nothing when it does not stand on the lower one, or when
  // footprints may overlap.
  std::optional<quantity::Volume> summed(std::size_t i) {
    const EvaluatedGround &from = out_->grounds[i], &to = out_->grounds[i + 1];
    const auto* base = std::get_if<OnGround>(&project_.column[i + 1]->base);
    if (!from.tin || !to.tin || !base || base->ground != from.id) return std::nullopt;
    quantity::Volume sum;
    for (std::size_t k = 0; k < to.works.size(); ++k) {
      const plane::Box box = to.works[k].placement->facets->bounds();
      for (std::size_t j = 0; j < k; ++j) {
        if (box.grown(1e-3).overlaps(to.works[j].placement->facets->bounds())) return std::nullopt;
      }
      const quantity::Volume& v = to.works[k].volume;
      sum.cut += v.cut, sum.fill += v.fill;
      sum.cutArea += v.cutArea, sum.fillArea += v.fillArea, sum.untouchedArea -= v.cutArea + v.fillArea;
      if (v.maxCut > sum.maxCut) sum.maxCut = v.maxCut, sum.maxCutAt = v.maxCutAt;
      if (v.maxFill > sum.maxFill) sum.maxFill = v.maxFill, sum.maxFillAt = v.maxFillAt;
      sum.onlyTo += v.onlyTo;
    }
    const auto whole = store_.node<ground::TinStatistics>(Hasher().text("statistics").hash(names_[i]).finish(),
                                                          [&] { return ground::statistics(*from.tin); });
    sum.untouchedArea += whole->planArea;
    return sum;
  }

  const Project& project_;
  Cache::Store& store_;
  const Progress& progress_;
  std::shared_ptr<Evaluation> out_;
  std::vector<Hash> names_;
};

}  // namespace

EvaluationPtr evaluate(const ProjectPtr& project, Cache& cache, const Progress& progress, const Early& early) {
  return Evaluator(project, cache.store(), progress).run(early);
}

}  // namespace inselberg::project
