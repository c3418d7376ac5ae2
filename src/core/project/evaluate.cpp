// Every result is a node named by the hash of its own parameters and of the nodes it was made from: a built base, a
// placement, a ground with works set in, a volume. An edit changes the names of what lies downstream of it and nothing
// else. Grounds are made as others ask for them, so the order of the column does not matter; a placement's name holds
// the works it stands on and no others, so an edit leaves alone what it does not touch.
#include "project/evaluate.h"

#include <algorithm>
#include <map>
#include <utility>

#include "base/error.h"
#include "base/visitor.h"
#include "ground/clip.h"
#include "project/build_sources.h"
#include "project/cache_store.h"
#include "project/design_doubts.h"
#include "project/gaps.h"
#include "project/place_works.h"
#include "project/source_changes.h"
#include "works/footprint.h"
#include "works/strip.h"

namespace inselberg::project {

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

const EvaluatedGround* Evaluation::surveyed() const {
  return ground(project->surveyed());
}

const PlacedWorks* Evaluation::works(WorksId id) const {
  for (const EvaluatedGround& g : grounds) {
    for (const PlacedWorks& w : g.works) {
      if (w.works->id == id) return &w;
    }
  }
  return nullptr;
}

std::vector<PlacedWorks> Evaluation::worksShown(GroundId upTo, WorksId chosen) const {
  std::vector<PlacedWorks> shown;
  for (const EvaluatedGround& ground : grounds) {
    for (const PlacedWorks& w : ground.works) {
      if (!w.works->hidden || w.works->id == chosen) shown.push_back(w);
    }
    if (ground.id == upTo) break;
  }
  return shown;
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

Hash nameOfRules(const Project& project, const FromSources& base) {
  Hasher h;
  h.value(base.rules.duplicates)
      .value(base.rules.maxEdge)
      .value(base.rules.cureFlats)
      .value(project.origin.easting)
      .value(project.origin.northing);
  return h.finish();
}

// What is laid from sources, before it is mended.
Hash nameOfLaid(const Project& project, const FromSources& base) {
  Hasher h;
  h.text("build");
  for (const SourceId id : base.sources) {
    if (const Source* s = project.source(id)) h.hash(s->hash);
  }
  return h.hash(nameOfRules(project, base)).finish();
}

Hash nameOfMended(const Hash& laid, const FromSources& base) {
  Hasher h;
  h.text("mend").hash(laid);
  for (const ground::Mend& mend : base.mends) {
    h.value(mend.index());
    std::visit([&](const auto& m) { h.bytes(&m, sizeof m); }, mend);
  }
  return h.finish();
}

Built orProblem(const std::function<ground::BuildResult()>& make) {
  try {
    return {make(), {}};
  } catch (const Error& e) {
    return {{}, e.what()};
  }
}

std::vector<SourcePtr> sourcesOf(const Project& project, const FromSources& base) {
  std::vector<SourcePtr> list;
  for (const SourceId id : base.sources) {
    for (const SourcePtr& source : project.sources) {
      if (source->id == id) list.push_back(source);
    }
  }
  return list;
}

// A ground whose sources changed a little, patched instead of built: for looking at until it is.
struct Patched {
  ground::Patch patch;
  LastBuilt last;
};
using Patches = std::map<GroundId, Patched>;

// Nothing unless every ground that would have to be built anew can be patched.
Patches patchesFor(const Project& project, const Cache::Store& store, const Progress& progress) {
  Patches patches;
  for (const GroundPtr& ground : project.column) {
    const auto* base = std::get_if<FromSources>(&ground->base);
    if (!base || base->sources.empty() || store.entries.contains(nameOfLaid(project, *base))) continue;
    const auto last = store.built.find(ground->id);
    if (last == store.built.end() || base->rules.cureFlats || last->second.rules != nameOfRules(project, *base))
      return {};
    const auto sources = sourcesOf(project, *base);
    auto changes = changesBetween(last->second.sources, sources);
    if (!changes || changes->parts.empty()) return {};
    addPointsOnLines(sources, base->rules.duplicates, *changes);
    auto patch = ground::patched(
        *last->second.laid, changes->parts,
        [&](plane::Vec2 a, plane::Vec2 b) { return isClear(sources, *changes, a, b); }, progress);
    if (!patch) return {};
    patches[ground->id] = {std::move(*patch), last->second};
  }
  return patches;
}

// Ends an evaluation with drafts, once it was given early.
struct DraftGiven {};

class Evaluator {
 public:
  // With patches, the evaluation is one to look at: the patched grounds and what stands on them, without what has to be
  // computed from a whole ground. With drafts it may be, and then throws DraftGiven after it was given early.
  Evaluator(const ProjectPtr& project, Cache::Store& store, const Progress& progress, const Early& early, bool watched,
            Patches patches, works::Detail detail)
      : project_(*project),
        store_(store),
        progress_(progress),
        early_(early),
        watched_(watched),
        patches_(std::move(patches)),
        detail_(detail),
        out_(std::make_shared<Evaluation>()),
        names_(project->column.size()),
        waiting_(project->column.size()),
        rebased_(project->column.size()),
        states_(project->column.size(), State::open),
        groups_(project->column.size()),
        meet_(project->column.size(), false) {
    out_->project = project;
    out_->grounds.resize(project->column.size());
    for (std::size_t i = 0; i < project->column.size(); ++i) out_->grounds[i].id = project->column[i]->id;
    for (const Between& between : project->seams()) out_->seams.push_back({between, {}, {}});
    site_ = siteOf(*project);
    Hasher h;
    for (const plane::Polygon& polygon : site_) feed(h, polygon);
    siteName_ = h.finish();
  }

  EvaluationPtr run() {
    for (std::size_t i = 0; i < project_.column.size(); ++i) make(i);
    out_->whole = patches_.empty();
    if (out_->whole) lookAhead();
    for (std::size_t i = 0; i < waiting_.size(); ++i) finishStage(i);
    if (out_->whole) lookAhead();
    for (Seam& seam : out_->seams) measure(seam);
    for (std::size_t i = 0; out_->whole && i < out_->grounds.size(); ++i) {
      if (!out_->grounds[i].tin) continue;
      out_->grounds[i].statistics = statisticsOf(i);
      doubtWater(i);
    }
    if (const Ground* finished = project_.withRole(Role::finished)) {
      Hasher h;
      h.text("regions");
      for (const Region& region : project_.stages.regions) {
        h.text(region.name);
        feed(h, region.area);
      }
      const auto doubts = store_.node<ground::Doubts>(
          h.finish(), [&] { return doubtsOfRegions(project_.stages.regions, project_.origin); });
      EvaluatedGround& ground = out_->grounds[indexOf(finished->id)];
      ground.doubts.insert(ground.doubts.end(), doubts->begin(), doubts->end());
      doubtTops(ground);
    }
    out_->patched = !patches_.empty();
    return out_;
  }

 private:
  enum class State { open, begun, done };

  // What is known of whole grounds, and stages that wait: none of it waits for another.
  void lookAhead() {
    Ahead ahead(store_);
    for (std::size_t i = 0; i < waiting_.size(); ++i) {
      if (waiting_[i]) ahead.add<StageGround>(names_[i], waiting_[i]);
    }
    for (std::size_t i = 0; i < out_->grounds.size(); ++i) {
      const ground::TinPtr& tin = out_->grounds[i].tin;
      if (!tin) continue;
      tin->index();  // by all cores
      ahead.add<ground::TinStatistics>(nameOfStatistics(i), [tin] { return ground::statistics(*tin); });
      ahead.add<ground::Doubts>(nameOfWater(i), [this, i] { return waterOn(i); });
      if (meet_[i]) ahead.add<ground::Doubts>(nameOfGaps(i), [this, i] { return gapsOn(i); });
    }
    for (const Seam& seam : out_->seams) {
      const std::size_t i = indexOf(seam.from), k = indexOf(seam.to);
      if (!out_->grounds[i].tin || !out_->grounds[k].tin || isSummed(seam)) continue;
      ahead.add<Measured>(nameOfSeam(i, k), [this, i, k] { return measuredBetween(i, k); });
    }
    progress_.report("measuring", 0.9);
    ahead.make(progress_);
  }

  // Makes a ground, after those it is made from.
  void make(std::size_t i) {
    if (states_[i] != State::open) return;
    states_[i] = State::begun;
    for (const WorksPtr& w : project_.column[i]->works) {
      if (const auto k = w->leftOut ? std::nullopt : inlaid(w->shape)) makeNow(*k);
    }
    makeBase(i);
    if (!project_.column[i]->works.empty()) finishStage(i);
    if (out_->grounds[i].tin) placeWorks(i);
    states_[i] = State::done;
  }

  // The same for a ground that another is made from: it does not wait.
  void makeNow(std::size_t i) {
    make(i);
    finishStage(i);
  }

  // Makes a stage that waits, if this ground is one.
  void finishStage(std::size_t i) {
    const auto make = std::exchange(waiting_[i], nullptr);
    if (!make) return;
    progress_.report("making " + project_.column[i]->name, 0.8);
    EvaluatedGround& ground = out_->grounds[i];
    ground.stage = store_.node<StageGround>(names_[i], make);
    ground.tin = ground.stage->tin;
    ground.doubts = ground.stage->doubts;
  }

  // The ground that a works sets in, by number; nothing for most, or where there is none of the name.
  std::optional<std::size_t> inlaid(const works::Shape& shape) const {
    const auto name = works::groundNamed(shape);
    for (std::size_t k = 0; name && k < project_.column.size(); ++k) {
      if (project_.column[k]->name == *name) return k;
    }
    return std::nullopt;
  }

  // The works with all that it is made from, and what that is named.
  std::pair<works::Shape, Hash> resolved(const works::Shape& shape) const {
    works::Shape made = withSectionsOf(project_, shape);
    Hasher h;
    works::feed(h, made);
    if (const auto k = inlaid(shape)) {
      if (states_[*k] != State::done)
        throw Error("the ground \"" + project_.column[*k]->name + "\" is itself made from this one",
                    "set in one that is not");
      made = works::withGround(made, {project_.column[*k]->name, out_->grounds[*k].tin});
      h.hash(names_[*k]);
    }
    return {std::move(made), h.finish()};
  }

  void makeBase(std::size_t i) {
    EvaluatedGround& ground = out_->grounds[i];
    std::visit(Visitor{[&](const FromSources& base) { build(i, base); },
                       [&](const OnGround& base) {
                         if (const auto under = other(base.ground, ground)) {
                           names_[i] = names_[*under];
                           rebased_[i] = rebased_[*under];
                           ground.tin = out_->grounds[*under].tin;
                         }
                       },
                       [&](const Derived& base) { derive(i, base); }, [&](const FromStages&) { makeStage(i); }},
               project_.column[i]->base);
  }

  // The ground of a role, or where there is none of another; made first.
  std::optional<std::size_t> ofRole(Role role, Role otherwise, EvaluatedGround& ground) {
    const Ground* found = project_.withRole(role);
    if (!found) found = project_.withRole(otherwise);
    return found ? other(found->id, ground) : std::nullopt;
  }

  // What makes the ground of a stage, beside the grounds it is made from.
  void feedStage(Hasher& h, Role role) const {
    const auto feedWorks = [&](const std::vector<WorksId>& list) {
      for (const WorksId id : list) {
        const auto placed = project_.works(id);
        h.value(id.value).value(placed.works && !placed.works->leftOut);
        if (placed.works) works::feed(h, withSectionsOf(project_, placed.works->shape));
      }
    };
    const auto feedRing = [&](const std::vector<plane::Vec2>& ring) {
      h.value(ring.size());
      for (const plane::Vec2 p : ring) h.value(p.x).value(p.y);
    };
    if (role == Role::stripped) {
      for (const works::Strip& s : project_.stages.strips) {
        h.text("strip").text(s.name).value(s.leftOut).value(s.margin).value(s.depth);
        feedRing(s.outline), feedWorks(s.under);
        for (const plane::Ring& ring : s.except) feedRing(ring);
        for (const plane::Vec3& p : s.pits) h.value(p.x).value(p.y).value(p.z);
      }
    } else if (role == Role::undercut) {
      for (const works::Undercut& u : project_.stages.undercuts) {
        h.text("undercut").text(u.name).value(u.leftOut).value(u.width).value(u.byLevels).value(u.depth).value(u.below);
        h.value(u.wider).value(u.backSlope);
        feedRing(u.line), feedWorks(u.under);
        for (const works::Station& s : u.levels) h.value(s[0]).value(s[1]);
        for (const works::Layer& layer : u.layers) h.value(layer.thickness);
      }
    } else {
      for (const works::BuildUp& b : project_.stages.buildUps) {
        h.text("buildup").text(b.name).value(b.leftOut).value(b.part).value(b.slopeTrue).value(b.thickness());
        feedRing(b.outline), feedWorks(b.over);
      }
    }
  }

  // Works where they lie on the finished ground.
  std::optional<Lying> lyingOnFinished(const EvaluatedGround& finished, WorksId id) const {
    for (const PlacedWorks& w : finished.works) {
      if (w.works->id == id) return Lying{w.works->shape, w.placement};
    }
    return std::nullopt;
  }

  // The same as they would lie on another.
  std::optional<Lying> lyingOn(std::size_t k, WorksId id) {
    const auto placed = project_.works(id);
    if (!placed.works || placed.works->leftOut || works::groundNamed(placed.works->shape)) return std::nullopt;
    const auto [shape, name] = resolved(placed.works->shape);
    const ground::TinPtr& under = out_->grounds[k].tin;
    try {
      return Lying{shape, store_.node<works::Placement>(nameOfPlacing(names_[k], name), [&, made = shape] {
                     return works::place(made, *under, project_.origin, progress_);
                   })};
    } catch (const Error&) {
      return std::nullopt;
    }
  }

  // Strips of one depth each in plan, on a ground.
  std::shared_ptr<const works::StripPlan> planOn(std::size_t k, const std::vector<works::StripArea>& strips) {
    Hasher h;
    h.text("strips").hash(names_[k]);
    for (const std::size_t i : works::byDepth(strips)) h.value(i);
    for (const works::StripArea& strip : strips) {
      h.value(strip.area.size());
      for (const plane::Polygon& polygon : strip.area) feed(h, polygon);
    }
    return store_.node<works::StripPlan>(h.finish(),
                                         [&] { return works::planOf(*out_->grounds[k].tin, strips, progress_); });
  }

  void makeStage(std::size_t i) {
    EvaluatedGround& ground = out_->grounds[i];
    const Role role = project_.column[i]->role;
    Hasher h;
    h.text("stage").value(role);
    feedStage(h, role);
    std::function<StageGround()>& make = waiting_[i];
    if (role == Role::stripped) {
      const auto k = ofRole(Role::surveyed, Role::surveyed, ground);
      if (!k) return;
      h.hash(names_[*k]);
      make = [this, k = *k] {
        return strippedFrom(
            project_, out_->grounds[k].tin, [&](WorksId id) { return lyingOn(k, id); },
            [&](const auto& strips) { return planOn(k, strips); }, progress_);
      };
    } else {
      const auto finished = ofRole(Role::finished, Role::finished, ground);
      if (!finished) return;
      const EvaluatedGround& f = out_->grounds[*finished];
      h.hash(names_[*finished]);
      const auto find = [this, &f](WorksId id) { return lyingOnFinished(f, id); };
      if (role == Role::formation) {
        make = [this, &f, find] {
          std::vector<WorksId> order;
          for (const PlacedWorks& w : f.works) order.push_back(w.works->id);
          return formationFrom(project_, f.tin, order, find, progress_);
        };
      } else {
        const auto stripped = ofRole(Role::stripped, Role::surveyed, ground);
        const auto formation = ofRole(Role::formation, Role::finished, ground);
        if (!stripped || !formation) return;
        h.hash(names_[*stripped]).hash(names_[*formation]);
        make = [this, s = *stripped, k = *formation, find] {
          return undercutFrom(project_, out_->grounds[s].tin, out_->grounds[k].tin, find, progress_);
        };
      }
    }
    names_[i] = h.finish();
    const bool known = store_.entries.contains(names_[i]);
    if (!patches_.empty() && !known) {
      make = nullptr;
    } else if (known || role == Role::stripped) {
      finishStage(i);  // what is stripped is made with the help of the store, which is not for several threads
    }
  }

  // Laid from its sources, then mended and checked: a mend does not build anew.
  void build(std::size_t i, const FromSources& base) {
    EvaluatedGround& ground = out_->grounds[i];
    const auto held = sourcesOf(project_, base);
    std::vector<const Source*> sources;
    for (const SourcePtr& source : held) sources.push_back(source.get());
    const Hash laidName = nameOfLaid(project_, base);
    names_[i] = nameOfMended(laidName, base);
    if (sources.empty()) {
      ground.problem = "No survey yet. Import points, or a ground model.";
      return;
    }
    const plane::Origin& origin = project_.origin;
    if (const auto it = patches_.find(ground.id); it != patches_.end()) {
      const Patched& patched = it->second;
      names_[i] = Hasher().text("patched").hash(names_[i]).finish();
      rebased_[i] = {patched.last.mended, std::make_shared<works::Footprint>(patched.patch.facets)};
      ground.doubts = patched.last.doubts;
      ground.tin = patched.patch.tin;
      ground::Doubts toldBefore;
      if (!base.mends.empty()) ground.tin = ground::mended(*ground.tin, base.mends, origin, toldBefore);
      return;
    }
    const auto laid = store_.node<Built>(
        laidName, [&] { return orProblem([&] { return laidFromSources(sources, base.rules, origin, progress_); }); });
    ground.problem = laid->problem;
    if (!laid->result.tin) return;
    const auto built = store_.node<Built>(names_[i], [&] {
      return orProblem(
          [&] { return mendedAndChecked(laid->result, sources, base.rules, base.mends, origin, progress_); });
    });
    ground.tin = built->result.tin;
    ground.problem = built->problem;
    ground.doubts = built->result.doubts;
    store_.built[ground.id] = {held,        nameOfRules(project_, base), names_[i], laid->result.tin, ground.doubts,
                               store_.round};
  }

  // The place in the column of a ground that another is made from, made first; nothing, and the problem set, when it
  // cannot be.
  std::optional<std::size_t> other(GroundId id, EvaluatedGround& ground) {
    std::size_t k = 0;
    while (k < project_.column.size() && project_.column[k]->id != id) ++k;
    if (k == project_.column.size()) {
      ground.problem = "The ground it is made from is missing.";
      return std::nullopt;
    }
    makeNow(k);
    const std::string& name = project_.column[k]->name;
    if (states_[k] == State::begun) {
      ground.problem = "It is made from itself, by way of " + name + ".";
    } else if (out_->grounds[k].pending ||
               (!patches_.empty() && !out_->grounds[k].tin && out_->grounds[k].problem.empty())) {
      return std::nullopt;  // not computed yet
    } else if (!out_->grounds[k].tin) {
      ground.problem = "Waits for " + name + ".";
    } else {
      return k;
    }
    return std::nullopt;
  }

  static void feed(Hasher& h, const plane::Polygon& polygon) {
    const auto feedRing = [&](const plane::Ring& ring) {
      h.value(ring.size());
      for (const plane::Vec2 p : ring) h.value(p.x).value(p.y);
    };
    feedRing(polygon.outer);
    for (const auto& hole : polygon.holes) feedRing(hole);
  }

  void derive(std::size_t i, const Derived& base) {
    EvaluatedGround& ground = out_->grounds[i];
    Hasher h;
    h.text("derive").value(base.how.index());
    std::vector<ground::TinPtr> of;
    for (const GroundId id : base.of) {
      const auto k = other(id, ground);
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
                  feed(h, op.polygon);
                },
                [&](const CombineAs& op) { h.value(op.rule); }, [&](const Simplify& op) { h.value(op.tolerance); }},
        base.how);
    const Hash name = names_[i] = h.finish();
    if (!patches_.empty() && !store_.entries.contains(name)) return;
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

  // Places the works in order and sets them in.
  void placeWorks(std::size_t i) {
    EvaluatedGround& ground = out_->grounds[i];
    WorksPlacing placing(
        {&project_.origin, ground.tin, names_[i], rebased_[i], early_ ? detail_ : works::Detail::full,
         !project_.stages.regions.empty(), [this](const works::Shape& shape) { return resolved(shape); }},
        store_, progress_);
    std::vector<WorksPtr> list;
    for (const WorksPtr& w : project_.column[i]->works) {
      if (!w->leftOut) list.push_back(w);
    }
    placing.placeAhead(list);
    for (const WorksPtr& w : list) {
      progress_.report("placing " + w->name, 0.5);
      try {
        const Standing& s = placing.place(w);
        ground.works.push_back({w, s.placement, {}, s.on, nullptr});
        for (ground::Doubt doubt : ground.works.back().placement->doubts) {
          doubt.text = w->name + ": " + doubt.text;
          ground.doubts.push_back(std::move(doubt));
        }
        doubtDesign(placing.standing(), ground);
      } catch (const Error& e) {
        ground.doubts.push_back(
            {ground::DoubtKind::notPlaced, works::placeOf(w->shape), w->name + " cannot be placed: " + e.what()});
      }
    }
    const auto [all, changed, rest] = placing.byChange();
    names_[i] = placing.nameWith(all);
    // While somebody watches, what changed is set into the ground that has the rest already: the same surface, sooner.
    const bool apart = watched_ && !changed.empty();
    const auto whole = apart ? WorksPlacing::SetInParts{all, rest, changed} : placing.uponLargest(all);
    // That waits while the figures are waited for.
    const bool early = early_ && !changed.empty();
    const auto costs = placing.costs(early || !patches_.empty() ? std::nullopt : std::optional(whole));
    for (std::size_t k = 0; k < costs.each.size(); ++k)
      ground.works[k].volume = costs.each[k].volume, ground.works[k].comparison = costs.each[k].comparison;
    groups_[i] = costs.groups;
    if (rebased_[i]) {
      if (const auto before = placing.nameBefore(all)) {
        rebased_[i]->before = *before;
      } else {
        rebased_[i].reset();
      }
    }
    if (early) publishEarly(i, placing, rest, changed);
    if (!patches_.empty()) {  // set in later
      ground.pending = placing.facetsOf(all);
      return;
    }
    ground.tin = placing.groundWith(whole);
    meet_[i] = placing.anyMeet();
  }

  // What is to be questioned about the works placed last. (Works placed and those standing have the same numbers.)
  void doubtDesign(const std::vector<Standing>& standing, EvaluatedGround& ground) {
    const Standing& s = standing.back();
    const PlacedWorks& own = ground.works.back();
    if (own.works->tie && !project_.works(own.works->tie->to).works)
      ground.doubts.push_back({ground::DoubtKind::tieLost, works::placeOf(own.works->shape),
                               own.works->name + " followed the level of works that are gone; it keeps its last one. "
                                                 "Tie it to others, or let it go on its card."});
    const auto add = [&](const Hash& name, const std::function<ground::Doubts()>& find) {
      const auto found = store_.node<ground::Doubts>(name, find);
      ground.doubts.insert(ground.doubts.end(), found->begin(), found->end());
    };
    if (!site_.empty()) {
      add(Hasher().text("beyond").hash(s.name).text(own.works->name).hash(siteName_).finish(),
          [&] { return doubtsBeyond(site_, *own.works, *own.placement, *own.under, project_.origin, progress_); });
    }
    if (own.works->shape.as<works::Inlay>())
      add(Hasher().text("joint").hash(s.name).text(own.works->name).finish(),
          [&] { return doubtsOfJoint(*own.works, *own.placement, *own.under, project_.origin); });
    const Limits& limits = project_.limits;
    if (limits.steepestCut > 0 || limits.steepestFill > 0 || limits.leastFall > 0) {
      add(Hasher()
              .text("slopes")
              .hash(s.name)
              .text(own.works->name)
              .value(limits.steepestCut)
              .value(limits.steepestFill)
              .value(limits.leastFall)
              .finish(),
          [&] { return doubtsOfSlopes(limits, *own.works, *own.placement, project_.origin); });
    }
    for (const std::size_t j : s.under) {
      const PlacedWorks& other = ground.works[j];
      add(Hasher()
              .text("overlap")
              .hash(standing[j].name)
              .hash(s.name)
              .text(other.works->name)
              .text(own.works->name)
              .finish(),
          [&] { return doubtsOfOverlap(other, own, project_.origin); });
    }
  }

  // The same about the whole ground: where water stands, and where works enclose what none of them covers.
  void doubtWater(std::size_t i) {
    EvaluatedGround& ground = out_->grounds[i];
    const auto found = store_.node<ground::Doubts>(nameOfWater(i), [&] { return waterOn(i); });
    ground::Doubts& water = store_.water[ground.id] = *found;
    if (meet_[i]) {
      const auto gaps = store_.node<ground::Doubts>(nameOfGaps(i), [&] { return gapsOn(i); });
      water.insert(water.end(), gaps->begin(), gaps->end());
    }
    ground.doubts.insert(ground.doubts.end(), water.begin(), water.end());
  }
  ground::Doubts waterOn(std::size_t i) const {
    const EvaluatedGround& ground = out_->grounds[i];
    return doubtsOfWater(*ground.tin, ground.works, project_.limits, project_.origin, progress_);
  }
  ground::Doubts gapsOn(std::size_t i) const {
    return doubtsOfGaps(gapsBetween(out_->grounds[i].works), project_.origin);
  }
  Hash nameOfWater(std::size_t i) const {
    Hasher h;
    h.text("water").hash(names_[i]).value(project_.limits.freeboard).value(project_.limits.besideBuildings);
    for (const PlacedWorks& w : out_->grounds[i].works) h.text(w.works->name);
    return h.finish();
  }
  Hash nameOfGaps(std::size_t i) const { return Hasher().text("gaps").hash(nameOfWater(i)).finish(); }

  // What is compared with the finished ground is measured to the top of what is built up.
  void doubtTops(EvaluatedGround& finished) const {
    const Ground* formation = project_.withRole(Role::formation);
    const EvaluatedGround* made = formation ? out_->ground(formation->id) : nullptr;
    if (!made || !made->stage || made->stage->parts.empty()) return;
    double layers = 0;
    for (const Seam& seam : out_->seams) {
      if (seam.counted && seam.from == formation->id && seam.volume) layers = seam.volume->fill;
    }
    const auto built = std::find_if(made->stage->parts.begin(), made->stage->parts.end(),
                                    [](const StagePart& part) { return part.after && !part.after->empty(); });
    if (built == made->stage->parts.end()) return;
    for (const Between& between : project_.compared) {
      if (between.from != finished.id && between.to != finished.id) continue;
      const Ground* other = project_.ground(between.from == finished.id ? between.to : between.from);
      if (!other || other->role == Role::formation) continue;
      finished.doubts.push_back(doubtOfTop(*other, *formation, layers, built->after->points().front().plan()));
    }
  }

  // What changed lies over the ground with the rest; seams are known where works keep clear of each other.
  void publishEarly(std::size_t i, WorksPlacing& placing, const std::vector<std::size_t>& rest,
                    const std::vector<std::size_t>& changed) {
    auto now = std::make_shared<Evaluation>(*out_);
    EvaluatedGround& ground = now->grounds[i];
    ground.tin = placing.groundWith(rest);
    ground.pending = placing.facetsOf(changed);
    // Where water stood is looked for again when grounds are whole.
    for (EvaluatedGround& g : now->grounds) {
      const auto& water = store_.water[g.id];
      if (g.tin) g.doubts.insert(g.doubts.end(), water.begin(), water.end());
    }
    const auto known = [&](GroundId id) {
      const std::size_t k = indexOf(id);
      return k != i && states_[k] == State::done;
    };
    for (Seam& seam : now->seams) {
      if (seam.to == project_.column[i]->id && known(seam.from)) {
        seam.volume = summed(seam);
      } else if (known(seam.from) && known(seam.to)) {
        measure(seam);
      }
    }
    std::exchange(early_, nullptr)(std::move(now));
    if (placing.drafted()) throw DraftGiven();
  }

  std::size_t indexOf(GroundId id) const {
    std::size_t k = 0;
    while (project_.column[k]->id != id) ++k;
    return k;
  }

  // Left without a volume while either ground is missing.
  void measure(Seam& seam) {
    const std::size_t i = indexOf(seam.from), k = indexOf(seam.to);
    if (!out_->grounds[i].tin || !out_->grounds[k].tin) return;
    if (isSummed(seam)) {
      seam.volume = summed(seam);
      return;
    }
    const Hash name = nameOfSeam(i, k);
    if (!patches_.empty() && !store_.entries.contains(name)) return;
    progress_.report("measuring", 0.9);
    const auto measured = store_.node<Measured>(name, [&] { return measuredBetween(i, k); });
    seam.volume = measured->volume, seam.comparison = measured->comparison;
  }
  Hash nameOfSeam(std::size_t i, std::size_t k) const {
    return Hasher().text("seam").hash(names_[i]).hash(names_[k]).value(project_.stages.regions.empty()).finish();
  }
  Measured measuredBetween(std::size_t i, std::size_t k) const {
    const ground::TinPtr &from = out_->grounds[i].tin, &to = out_->grounds[k].tin;
    if (project_.stages.regions.empty()) return {nullptr, quantity::volumeBetween(*from, *to, {}, progress_)};
    return Measured::forRegions(from, to, quantity::Comparison::Of::grounds, progress_);
  }

  // Whether the later ground stands on the earlier one, so that it is the sum over what works do.
  bool isSummed(const Seam& seam) const {
    const auto* base = std::get_if<OnGround>(&project_.ground(seam.to)->base);
    return base && base->ground == seam.from && out_->grounds[indexOf(seam.from)].tin;
  }
  // Nothing when it is not.
  std::optional<quantity::Volume> summed(const Seam& seam) {
    if (!isSummed(seam)) return std::nullopt;
    const std::size_t i = indexOf(seam.from);
    quantity::Volume sum;
    for (const quantity::Volume& v : groups_[indexOf(seam.to)]) {
      sum.cut += v.cut, sum.fill += v.fill;
      sum.cutArea += v.cutArea, sum.fillArea += v.fillArea, sum.untouchedArea -= v.cutArea + v.fillArea;
      if (v.maxCut > sum.maxCut) sum.maxCut = v.maxCut, sum.maxCutAt = v.maxCutAt;
      if (v.maxFill > sum.maxFill) sum.maxFill = v.maxFill, sum.maxFillAt = v.maxFillAt;
      sum.onlyTo += v.onlyTo;
    }
    sum.untouchedArea += statisticsOf(i).planArea;
    return sum;
  }

  const ground::TinStatistics& statisticsOf(std::size_t i) {
    return *store_.node<ground::TinStatistics>(nameOfStatistics(i),
                                               [&] { return ground::statistics(*out_->grounds[i].tin); });
  }
  Hash nameOfStatistics(std::size_t i) const { return Hasher().text("statistics").hash(names_[i]).finish(); }

  const Project& project_;
  Cache::Store& store_;
  const Progress& progress_;
  Early early_;         // until it was called
  const bool watched_;  // somebody waits for what is dragged
  const Patches patches_;
  const works::Detail detail_;
  std::shared_ptr<Evaluation> out_;
  std::vector<plane::Polygon> site_;
  Hash siteName_;
  std::vector<Hash> names_;  // of the grounds' surfaces
  // Per ground, of stages: what makes it, while nothing waits for it. It is made beside what is measured of others.
  std::vector<std::function<StageGround()>> waiting_;
  std::vector<std::optional<Rebased>> rebased_;  // of those that stand on a patched ground
  std::vector<State> states_;
  std::vector<std::vector<quantity::Volume>> groups_;  // per ground: what its works do to its base
  std::vector<char> meet_;                             // per ground: some of its works touch
};

}  // namespace

EvaluationPtr evaluate(const ProjectPtr& project, Cache& cache, const Progress& progress, const Early& early,
                       works::Detail shown) {
  Cache::Store& store = cache.store();
  ++store.round;
  Patches patches;
  if (early) patches = patchesFor(*project, store, progress);
  EvaluationPtr evaluation;
  const auto inFull = [&](const Early& watching, bool watched) {
    return Evaluator(project, store, progress, watching, watched, {}, works::Detail::full).run();
  };
  if (!patches.empty()) {
    early(Evaluator(project, store, progress, {}, false, std::move(patches), works::Detail::full).run());
    progress.check();
    evaluation = inFull({}, false);
  } else if (early && shown == works::Detail::draft) {
    try {
      evaluation = Evaluator(project, store, progress, early, true, {}, shown).run();
    } catch (const DraftGiven&) {
      progress.check();
      evaluation = inFull({}, true);
    }
  } else {
    evaluation = inFull(early, static_cast<bool>(early));
  }
  store.forget();
  return evaluation;
}

}  // namespace inselberg::project
