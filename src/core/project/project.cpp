// Every edit copies the list it touches and shares the items it does not.
#include "project/project.h"

#include <algorithm>
#include <stdexcept>

#include "base/error.h"
#include "base/free_name.h"
#include "base/visitor.h"
#include "project/retold.h"
#include "project/ties.h"

namespace inselberg::project {
namespace {

template <class Change>
ProjectPtr changeGround(const Project& project, GroundId id, Change&& change) {
  auto next = std::make_shared<Project>(project);
  for (GroundPtr& g : next->column) {
    if (g->id != id) continue;
    auto copy = std::make_shared<Ground>(*g);
    change(*copy);
    g = std::move(copy);
    return next;
  }
  throw std::out_of_range("no such ground");
}

template <class Change>
ProjectPtr changeListOf(const Project& project, WorksId id, Change&& change) {
  const auto placed = project.works(id);
  if (!placed.ground) throw std::out_of_range("no such works");
  return changeGround(project, placed.ground->id, [&](Ground& g) {
    const auto it = std::find_if(g.works.begin(), g.works.end(), [&](const WorksPtr& w) { return w->id == id; });
    change(g.works, it);
  });
}

}  // namespace

const Ground* Project::ground(GroundId id) const {
  for (const GroundPtr& g : column) {
    if (g->id == id) return g.get();
  }
  return nullptr;
}

const Source* Project::source(SourceId id) const {
  for (const SourcePtr& s : sources) {
    if (s->id == id) return s.get();
  }
  return nullptr;
}

const Ground* Project::withRole(Role role) const {
  for (const GroundPtr& g : column) {
    if (g->role == role) return g.get();
  }
  return nullptr;
}

GroundId Project::surveyed() const {
  return withRole(Role::surveyed)->id;
}

GroundId Project::finished() const {
  return withRole(Role::finished)->id;
}

std::vector<Between> Project::seams() const {
  std::vector<Between> all;
  const Ground* below = nullptr;
  for (const auto& [role, word] : kRoleWords) {
    if (!isStage(role)) break;
    const Ground* stage = withRole(role);
    if (below && stage) all.push_back({below->id, stage->id, true});
    if (stage) below = stage;
  }
  all.insert(all.end(), compared.begin(), compared.end());
  return all;
}

const AcceptedDoubt* Project::acceptance(const ground::Doubt& doubt) const {
  for (const AcceptedDoubt& a : accepted) {
    if (a.kind == doubt.kind && plane::distance(a.where, doubt.where) <= 0.05) return &a;
  }
  return nullptr;
}

Project::Placed Project::works(WorksId id) const {
  for (const GroundPtr& g : column) {
    for (const WorksPtr& w : g->works) {
      if (w->id == id) return {g.get(), w};
    }
  }
  return {};
}

ProjectPtr emptyProject(std::string name) {
  auto project = std::make_shared<Project>();
  project->name = std::move(name);
  const GroundId existing{project->nextId++}, finished{project->nextId++};
  project->column.push_back(std::make_shared<Ground>(Ground{existing, "existing", FromSources{}, {}, Role::surveyed}));
  project->column.push_back(
      std::make_shared<Ground>(Ground{finished, "finished", OnGround{existing}, {}, Role::finished}));
  return project;
}

namespace {

bool same(const SourcePtr& a, const SourcePtr& b) {
  return a == b || (a->id == b->id && a->hash == b->hash &&
                    static_cast<const SourceInfo&>(*a) == static_cast<const SourceInfo&>(*b));
}

bool same(const WorksPtr& a, const WorksPtr& b) {
  return a == b || *a == *b;
}

bool same(const KeptPtr& a, const KeptPtr& b) {
  return a == b || *a == *b;
}

bool same(const PlanSheetPtr& a, const PlanSheetPtr& b) {
  return a == b || (a->id == b->id && a->hash == b->hash &&
                    static_cast<const SheetInfo&>(*a) == static_cast<const SheetInfo&>(*b));
}

bool same(const GroundPtr& a, const GroundPtr& b) {
  return a == b || (a->id == b->id && a->name == b->name && a->role == b->role && a->base == b->base &&
                    std::equal(a->works.begin(), a->works.end(), b->works.begin(), b->works.end(),
                               [](const WorksPtr& x, const WorksPtr& y) { return same(x, y); }));
}

template <class T>
bool same(const std::vector<T>& a, const std::vector<T>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const T& x, const T& y) { return same(x, y); });
}

}  // namespace

bool sameContent(const Project& a, const Project& b) {
  return a.name == b.name && a.origin == b.origin && a.hasOrigin == b.hasOrigin && same(a.sources, b.sources) &&
         same(a.column, b.column) && a.compared == b.compared && a.accepted == b.accepted && a.system == b.system &&
         a.stages == b.stages && a.limits == b.limits && a.measures == b.measures && same(a.kept, b.kept) &&
         same(a.sheets, b.sheets) && a.labelLines == b.labelLines && a.sectionLines == b.sectionLines &&
         a.layouts == b.layouts && a.sections == b.sections;
}

ProjectPtr withName(const Project& project, std::string name) {
  auto next = std::make_shared<Project>(project);
  next->name = std::move(name);
  return next;
}

ProjectPtr withSystem(const Project& project, std::string system) {
  auto next = std::make_shared<Project>(project);
  next->system = std::move(system);
  return next;
}

ProjectPtr withOrigin(const Project& project, const plane::Origin& origin) {
  auto next = std::make_shared<Project>(project);
  next->origin = origin;
  next->hasOrigin = true;
  return next;
}

ProjectPtr withLimits(const Project& project, const Limits& limits) {
  auto next = std::make_shared<Project>(project);
  next->limits = limits;
  return next;
}

ProjectPtr withMeasures(const Project& project, const Measures& measures) {
  auto next = std::make_shared<Project>(project);
  next->measures = measures;
  return next;
}

namespace {

// The place in the column of the ground of a role; the column's size when there is none.
std::size_t placeOf(const Project& project, Role role) {
  std::size_t i = 0;
  while (i < project.column.size() && project.column[i]->role != role) ++i;
  return i;
}

// Adds or takes out the ground of a stage. It lies above the last of the stages before it.
void setStage(Project& project, Role role, bool wanted) {
  const std::size_t at = placeOf(project, role);
  if (wanted == (at < project.column.size())) return;
  if (!wanted) {
    if (project.column[at]->works.empty() && !isUsed(project, project.column[at]->id))
      project.column.erase(project.column.begin() + static_cast<std::ptrdiff_t>(at));
    return;
  }
  std::size_t above = 0;
  for (std::size_t i = 0; i < project.column.size(); ++i) {
    if (isStage(project.column[i]->role) && project.column[i]->role < role) above = i + 1;
  }
  const char* name = std::find_if(std::begin(kRoleWords), std::end(kRoleWords), [&](const auto& r) {
                       return r.first == role;
                     })->second;
  project.column.insert(project.column.begin() + static_cast<std::ptrdiff_t>(above),
                        std::make_shared<Ground>(Ground{GroundId{project.nextId++}, name, FromStages{}, {}, role}));
}

template <class Item>
void giveIds(std::vector<Item>& items, std::uint64_t& nextId) {
  for (Item& item : items) {
    if (!item.id) item.id = WorksId{nextId++};
  }
}

}  // namespace

ProjectPtr withStages(const Project& project, Stages stages) {
  auto next = std::make_shared<Project>(project);
  giveIds(stages.strips, next->nextId), giveIds(stages.undercuts, next->nextId);
  giveIds(stages.buildUps, next->nextId);
  next->stages = std::move(stages);
  const GroundId surveyed = next->surveyed();
  const bool wasStripped = next->withRole(Role::stripped) != nullptr;
  const auto rest = [&](GroundId from, GroundId to) {
    for (GroundPtr& ground : next->column) {
      const auto* base = std::get_if<OnGround>(&ground->base);
      if (ground->role != Role::finished || !base || base->ground != from) continue;
      auto moved = std::make_shared<Ground>(*ground);
      moved->base = OnGround{to};
      ground = std::move(moved);
    }
  };
  if (next->stages.strips.empty()) {
    if (const Ground* stripped = next->withRole(Role::stripped)) rest(stripped->id, surveyed);
  }
  setStage(*next, Role::stripped, !next->stages.strips.empty());
  setStage(*next, Role::undercut, !next->stages.undercuts.empty());
  setStage(*next, Role::formation, !next->stages.buildUps.empty());
  if (!wasStripped && !next->stages.strips.empty()) rest(surveyed, next->withRole(Role::stripped)->id);
  return next;
}

ProjectPtr withLayouts(const Project& project, std::vector<Layout> layouts) {
  auto next = std::make_shared<Project>(project);
  next->layouts = std::move(layouts);
  return next;
}
ProjectPtr withSectionLines(const Project& project, std::vector<SectionLine> lines) {
  auto next = std::make_shared<Project>(project);
  next->sectionLines = std::move(lines);
  return next;
}
ProjectPtr withKept(const Project& project, KeptResult kept) {
  auto next = std::make_shared<Project>(project);
  const auto was =
      std::find_if(next->kept.begin(), next->kept.end(), [&](const KeptPtr& k) { return k->id == kept.id; });
  if (was != next->kept.end()) {
    *was = std::make_shared<KeptResult>(std::move(kept));
  } else {
    kept.id = next->nextId++;
    next->kept.push_back(std::make_shared<KeptResult>(std::move(kept)));
  }
  return next;
}

ProjectPtr withoutKept(const Project& project, std::uint64_t id) {
  auto next = std::make_shared<Project>(project);
  std::erase_if(next->kept, [&](const KeptPtr& k) { return k->id == id; });
  return next;
}

ProjectPtr withLooseSource(const Project& project, SourceInfo info, SourceData data) {
  auto next = std::make_shared<Project>(project);
  next->sources.push_back(makeSource(SourceId{next->nextId++}, std::move(info), std::move(data)));
  return next;
}

ProjectPtr withLabelLines(const Project& project, std::vector<std::vector<plane::Vec2>> lines) {
  auto next = std::make_shared<Project>(project);
  next->labelLines = std::move(lines);
  return next;
}

ProjectPtr withSource(const Project& project, SourceInfo info, SourceData data, GroundId into) {
  const SourceId id{project.nextId};
  const ProjectPtr grown = withLooseSource(project, std::move(info), std::move(data));
  return changeGround(*grown, into, [&](Ground& g) { std::get<FromSources>(g.base).sources.push_back(id); });
}

ProjectPtr withFileAgain(const Project& project, const std::string& file, std::vector<NewSource> sources,
                         GroundId into) {
  auto next = std::make_shared<Project>(project);
  std::vector<SourceId> gone;
  for (SourcePtr& s : next->sources) {
    if (s->file != file) continue;
    const auto again =
        std::find_if(sources.begin(), sources.end(), [&](const auto& n) { return n.info.name == s->name; });
    if (again == sources.end()) {
      gone.push_back(s->id);
      continue;
    }
    // How a source is shown and edited is the user's, not the file's.
    again->info.hidden = s->hidden;
    again->info.locked = s->locked;
    again->info.colour = s->colour;
    s = makeSource(s->id, std::move(again->info), std::move(again->data));
    sources.erase(again);
  }
  ProjectPtr result = std::move(next);
  for (const SourceId id : gone) result = withoutSource(*result, id);
  for (NewSource& s : sources) result = withSource(*result, std::move(s.info), std::move(s.data), into);
  return result;
}

ProjectPtr withSourceInfo(const Project& project, SourceId id, SourceInfo info) {
  auto next = std::make_shared<Project>(project);
  for (SourcePtr& s : next->sources) {
    if (s->id == id) s = std::make_shared<Source>(Source{std::move(info), id, s->data, s->hash, s->lazyIndex});
  }
  return next;
}

ProjectPtr withSourcesOf(const Project& project, GroundId ground, std::vector<SourceId> sources) {
  return changeGround(project, ground, [&](Ground& g) { std::get<FromSources>(g.base).sources = std::move(sources); });
}

ProjectPtr withoutSource(const Project& project, SourceId id) {
  auto next = std::make_shared<Project>(project);
  std::erase_if(next->sources, [&](const SourcePtr& s) { return s->id == id; });
  for (GroundPtr& g : next->column) {
    const auto* base = std::get_if<FromSources>(&g->base);
    if (!base || std::find(base->sources.begin(), base->sources.end(), id) == base->sources.end()) continue;
    auto copy = std::make_shared<Ground>(*g);
    std::erase(std::get<FromSources>(copy->base).sources, id);
    g = std::move(copy);
  }
  return next;
}

ProjectPtr withRules(const Project& project, GroundId ground, const ground::BuildRules& rules) {
  return changeGround(project, ground, [&](Ground& g) { std::get<FromSources>(g.base).rules = rules; });
}

ProjectPtr withMend(const Project& project, GroundId ground, const ground::Mend& mend) {
  return changeGround(project, ground, [&](Ground& g) { std::get<FromSources>(g.base).mends.push_back(mend); });
}

ProjectPtr withoutMend(const Project& project, GroundId ground, plane::Vec2 place, double reach) {
  return changeGround(project, ground, [&](Ground& g) {
    auto& mends = std::get<FromSources>(g.base).mends;
    const auto found = std::find_if(mends.rbegin(), mends.rend(), [&](const ground::Mend& m) {
      return plane::distance(ground::placeOf(m), place) <= reach;
    });
    if (found != mends.rend()) mends.erase(std::next(found).base());
  });
}

ProjectPtr withAccepted(const Project& project, const ground::Doubt& doubt, std::string reason) {
  auto next = std::make_shared<Project>(*withoutAccepted(project, doubt));
  next->accepted.push_back({doubt.kind, doubt.where, std::move(reason)});
  return next;
}

ProjectPtr withoutAccepted(const Project& project, const ground::Doubt& doubt) {
  auto next = std::make_shared<Project>(project);
  std::erase_if(next->accepted, [&](const AcceptedDoubt& a) {
    return a.kind == doubt.kind && plane::distance(a.where, doubt.where) <= 0.05;
  });
  return next;
}

ProjectPtr withNewGround(const Project& project, std::string name, Base base, GroundId after) {
  auto next = std::make_shared<Project>(project);
  const GroundId id{next->nextId++};
  const auto at =
      std::find_if(next->column.begin(), next->column.end(), [&](const GroundPtr& g) { return g->id == after; });
  if (at == next->column.end()) throw std::out_of_range("no such ground");
  name = freeName(name, [&](const std::string& taken) {
    return std::any_of(next->column.begin(), next->column.end(), [&](const GroundPtr& g) { return g->name == taken; });
  });
  const auto* derived = std::get_if<Derived>(&base);
  next->compared.push_back({derived && !derived->of.empty() ? derived->of.front() : after, id});
  next->column.insert(at + 1, std::make_shared<Ground>(Ground{id, std::move(name), std::move(base), {}}));
  return next;
}

ProjectPtr withFrozen(const Project& project, GroundId ground, const ground::Tin& now, std::string name) {
  auto next = std::make_shared<Project>(project);
  const auto at =
      std::find_if(next->column.begin(), next->column.end(), [&](const GroundPtr& g) { return g->id == ground; });
  if (at == next->column.end()) throw std::out_of_range("no such ground");
  const SourceId source{next->nextId++};
  const GroundId id{next->nextId++};
  SourceData data;
  data.modelPoints.append(now.points().begin(), now.points().end());
  data.modelTriangles.append(now.triangles().begin(), now.triangles().end());
  SourceInfo info;
  info.name = name;
  info.locked = true;
  next->sources.push_back(makeSource(source, std::move(info), std::move(data)));
  next->compared.push_back({id, ground});
  next->column.insert(at, std::make_shared<Ground>(Ground{id, std::move(name), FromSources{{source}, {}, {}}, {}}));
  return next;
}

bool isUsed(const Project& project, GroundId id) {
  return std::any_of(project.column.begin(), project.column.end(), [&](const GroundPtr& g) {
    return std::visit(
        Visitor{[](const FromSources&) { return false; }, [](const FromStages&) { return false; },
                [&](const OnGround& base) { return base.ground == id; },
                [&](const Derived& base) { return std::find(base.of.begin(), base.of.end(), id) != base.of.end(); }},
        g->base);
  });
}

std::string seamName(const Project& project, const Between& seam) {
  return project.ground(seam.from)->name + " to " + project.ground(seam.to)->name;
}

ProjectPtr withGroundNamed(const Project& project, GroundId id, std::string name) {
  if (name.empty()) throw Error("the ground has no name", "write one");
  const Ground* ground = project.ground(id);
  if (!ground) throw std::out_of_range("no such ground");
  for (const GroundPtr& g : project.column) {
    if (g->id != id && g->name == name)
      throw Error("another ground is named \"" + name + "\"", "give each a name of its own");
  }
  ProjectPtr next = changeGround(project, id, [&](Ground& g) { g.name = name; });
  for (const GroundPtr& g : project.column) {
    for (const WorksPtr& w : g->works) {
      if (works::groundNamed(w->shape) != ground->name) continue;
      works::Works changed = *w;
      changed.shape = works::withGround(w->shape, {name, nullptr});
      next = withWorks(*next, changed);
    }
  }
  // Kept results go on being compared with them.
  for (const KeptPtr& kept : project.kept) {
    KeptResult renamed = retold(*kept, project, *next);
    if (renamed.figures != kept->figures) next = withKept(*next, std::move(renamed));
  }
  return next;
}

ProjectPtr withGroundAt(const Project& project, GroundId id, std::size_t place) {
  auto next = std::make_shared<Project>(project);
  auto& column = next->column;
  const auto it = std::find_if(column.begin(), column.end(), [&](const GroundPtr& g) { return g->id == id; });
  if (it == column.end()) throw std::out_of_range("no such ground");
  GroundPtr ground = *it;
  column.erase(it);
  column.insert(column.begin() + static_cast<std::ptrdiff_t>(std::min(place, column.size())), std::move(ground));
  return next;
}

namespace {

// The grounds that one is made from.
std::vector<GroundId> madeOf(const Project& project, const Ground& ground) {
  return std::visit(Visitor{[](const FromSources&) { return std::vector<GroundId>(); },
                            [](const OnGround& base) { return std::vector{base.ground}; },
                            [](const Derived& base) { return base.of; },
                            [&](const FromStages&) {
                              std::vector<GroundId> of{project.surveyed()};
                              if (ground.role != Role::stripped) of.push_back(project.finished());
                              return of;
                            }},
                    ground.base);
}

bool isMadeFrom(const Project& project, GroundId id, GroundId from) {
  std::vector<GroundId> open{id}, seen;
  while (!open.empty()) {
    const GroundId now = open.back();
    open.pop_back();
    if (now == from) return true;
    if (std::find(seen.begin(), seen.end(), now) != seen.end()) continue;
    seen.push_back(now);
    if (const Ground* ground = project.ground(now)) {
      for (const GroundId of : madeOf(project, *ground)) open.push_back(of);
    }
  }
  return false;
}

}  // namespace

ProjectPtr withMadeOf(const Project& project, GroundId id, std::vector<GroundId> of) {
  for (const GroundId from : of) {
    if (isMadeFrom(project, from, id))
      throw Error("\"" + project.ground(from)->name + "\" is itself made from this ground", "choose another one");
  }
  return changeGround(project, id, [&](Ground& g) {
    if (auto* on = std::get_if<OnGround>(&g.base)) on->ground = of.at(0);
    if (auto* derived = std::get_if<Derived>(&g.base)) derived->of = std::move(of);
  });
}

ProjectPtr withRoleOf(const Project& project, GroundId id, Role role) {
  auto next = std::make_shared<Project>(project);
  return changeGround(*next, id, [&](Ground& g) { g.role = role; });
}

ProjectPtr withoutGround(const Project& project, GroundId id) {
  auto next = std::make_shared<Project>(project);
  std::erase_if(next->column, [&](const GroundPtr& g) { return g->id == id; });
  std::erase_if(next->compared, [&](const Between& b) { return b.from == id || b.to == id; });
  return next;
}

ProjectPtr withNewWorks(const Project& project, GroundId onto, std::string name, works::Shape shape) {
  auto next = std::make_shared<Project>(project);
  const WorksId id{next->nextId++};
  return changeGround(*next, onto, [&](Ground& g) {
    g.works.push_back(std::make_shared<works::Works>(works::Works{id, std::move(name), false, std::move(shape)}));
  });
}

ProjectPtr withWorks(const Project& project, const works::Works& changed) {
  works::Works next = changed;
  // One that is tied and is raised by itself is tied farther above.
  const auto before = project.works(changed.id);
  const auto own = works::levelOf(next.shape);
  if (next.tie && before.works && before.works->tie == next.tie && own != works::levelOf(before.works->shape)) {
    const auto to = project.works(next.tie->to);
    const auto level = to.works ? works::levelOf(to.works->shape) : std::nullopt;
    if (own && level) next.tie->plus = *own - *level;
  }
  return settled(
      changeListOf(project, changed.id, [&](auto&, auto it) { *it = std::make_shared<works::Works>(next); }));
}

ProjectPtr withoutWorks(const Project& project, WorksId id) {
  return changeListOf(project, id, [](auto& list, auto it) { list.erase(it); });
}

ProjectPtr withWorksAt(const Project& project, WorksId id, std::size_t place) {
  return changeListOf(project, id, [&](auto& list, auto it) {
    const WorksPtr moved = *it;
    list.erase(it);
    list.insert(list.begin() + static_cast<std::ptrdiff_t>(std::min(place, list.size())), moved);
  });
}

const works::Section* sectionNamed(const Project& project, const std::string& name) {
  for (const works::NamedSection& s : project.sections) {
    if (s.name == name) return &s.legs;
  }
  return nullptr;
}

works::Shape withSectionsOf(const Project& project, const works::Shape& shape) {
  return works::withSections(shape, [&](const std::string& name) { return sectionNamed(project, name); });
}

namespace {

// Calls f with every section of a works that is known by this name, and gives the works with what f made of it.
template <class F>
works::Shape eachUse(const works::Shape& shape, const std::string& name, bool& any, F&& f) {
  works::Shape made = shape;
  for (std::size_t i = 0; i < shape.kind().fields().size(); ++i) {
    works::Value value = shape.get(i);
    bool here = false;
    const auto use = [&](works::NamedOrLegs& section) {
      if (section.name != name) return;
      here = true;
      f(section);
    };
    if (auto* along = std::get_if<works::SectionsAlong>(&value)) {
      for (works::SectionAt& at : *along) use(at.section);
    } else if (auto* edges = std::get_if<works::Edges>(&value)) {
      for (works::EdgeSection& e : *edges) use(e.section);
    }
    if (here) made = made.with(i, value);
    any |= here;
  }
  return made;
}

template <class F>
void changeUses(Project& project, const std::string& name, F&& f) {
  for (GroundPtr& ground : project.column) {
    auto changed = std::make_shared<Ground>(*ground);
    bool any = false;
    for (WorksPtr& w : changed->works) {
      bool here = false;
      works::Shape shape = eachUse(w->shape, name, here, f);
      if (!here) continue;
      auto next = std::make_shared<works::Works>(*w);
      next->shape = std::move(shape);
      w = std::move(next);
      any = true;
    }
    if (any) ground = std::move(changed);
  }
}

}  // namespace

ProjectPtr withSection(const Project& project, const std::string& name, works::Section legs) {
  auto next = std::make_shared<Project>(project);
  for (works::NamedSection& s : next->sections) {
    if (s.name != name) continue;
    s.legs = std::move(legs);
    return next;
  }
  next->sections.push_back({name, std::move(legs)});
  return next;
}

ProjectPtr withSectionNamed(const Project& project, const std::string& from, const std::string& to) {
  auto next = std::make_shared<Project>(project);
  for (works::NamedSection& s : next->sections) {
    if (s.name == from) s.name = to;
  }
  changeUses(*next, from, [&](works::NamedOrLegs& section) { section.name = to; });
  return next;
}

ProjectPtr withoutSection(const Project& project, const std::string& name) {
  auto next = std::make_shared<Project>(project);
  const works::Section* legs = sectionNamed(project, name);
  if (!legs) throw std::out_of_range("no such section");
  changeUses(*next, name, [&](works::NamedOrLegs& section) { section = {{}, *legs}; });
  std::erase_if(next->sections, [&](const works::NamedSection& s) { return s.name == name; });
  return next;
}

std::vector<WorksPtr> usersOfSection(const Project& project, const std::string& name) {
  std::vector<WorksPtr> users;
  for (const GroundPtr& ground : project.column) {
    for (const WorksPtr& w : ground->works) {
      bool any = false;
      eachUse(w->shape, name, any, [](const works::NamedOrLegs&) {});
      if (any) users.push_back(w);
    }
  }
  return users;
}

}  // namespace inselberg::project
