// The project as a value: immutable items behind shared pointers. An edit makes a new Project that shares what it did
// not change; "what changed" is a comparison of pointers.
#pragma once

#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "base/id.h"
#include "base/measures.h"
#include "ground/doubt.h"
#include "ground/mend.h"
#include "project/kept.h"
#include "project/layout.h"
#include "project/limits.h"
#include "project/plan_sheet.h"
#include "project/section_line.h"
#include "project/source.h"
#include "project/stages.h"
#include "quantity/combine.h"
#include "works/works.h"

namespace inselberg::project {

using WorksPtr = std::shared_ptr<const works::Works>;

// A base built from sources: all points and breaklines of the listed sources, with the models of faces among them laid
// over that in their order (a doubt tells where), all kept inside the boundaries and outside the voids.
struct FromSources {
  std::vector<SourceId> sources;
  ground::BuildRules rules;
  std::vector<ground::Mend> mends;
  bool operator==(const FromSources&) const = default;
};
// A base that is another ground of the column.
struct OnGround {
  GroundId ground;
  bool operator==(const OnGround&) const = default;
};
// A base made from other grounds of the column, and kept up with them.
struct Shift {
  double height = 0;  // m up
  bool operator==(const Shift&) const = default;
};
struct Keep {
  plane::Polygon polygon;  // sound
  bool inside = true;      // else outside
  bool operator==(const Keep&) const = default;
};
struct CombineAs {
  quantity::Combine rule = quantity::Combine::over;
  bool operator==(const CombineAs&) const = default;
};
struct Simplify {
  double tolerance = 0.05;  // m
  bool operator==(const Simplify&) const = default;
};
using Operation = std::variant<Shift, Keep, CombineAs, Simplify>;
struct Derived {
  std::vector<GroundId> of;  // one; of a combination two or more, in order
  Operation how;
  bool operator==(const Derived&) const = default;
};
// A base that follows from the stages around it: stripped, undercut and formation, by the project's strips, undercuts
// and build-ups.
struct FromStages {
  bool operator==(const FromStages&) const = default;
};
using Base = std::variant<FromSources, OnGround, Derived, FromStages>;

// What a ground is in the order of work. The stages, surveyed to finished, are those quantities are counted between; a
// project has at most one of each, and always a surveyed and a finished ground. The others are for comparing.
enum class Role { surveyed, stripped, undercut, formation, finished, interim, asBuilt, other };
// In files and on the command line; the stages first, in order of work.
inline constexpr std::pair<Role, const char*> kRoleWords[] = {
    {Role::surveyed, "surveyed"},   {Role::stripped, "stripped"}, {Role::undercut, "undercut"},
    {Role::formation, "formation"}, {Role::finished, "finished"}, {Role::interim, "interim"},
    {Role::asBuilt, "as-built"},    {Role::other, "other"}};
constexpr bool isStage(Role role) {
  return role <= Role::finished;
}

// A ground is a recipe: a base followed by works in order.
struct Ground {
  GroundId id;
  std::string name;
  Base base;
  std::vector<WorksPtr> works;
  Role role = Role::other;
};
using GroundPtr = std::shared_ptr<const Ground>;

// A doubt that was looked into and is left as it is: any of its kind within 5 cm of the place.
struct AcceptedDoubt {
  ground::DoubtKind kind;
  plane::Vec2 where;
  std::string reason;
  bool operator==(const AcceptedDoubt&) const = default;
};

// What lies between two grounds.
struct Between {
  GroundId from, to;     // the earlier and the later
  bool counted = false;  // between one stage and the next: it enters the totals
  bool operator==(const Between&) const = default;
};

struct Project {
  std::string name;
  plane::Origin origin;  // fixed at the first import
  bool hasOrigin = false;
  std::string system;  // the coordinate system of its positions, by code or description; empty: none is known
  std::vector<SourcePtr> sources;
  std::vector<GroundPtr> column;  // as it is shown, from the lowest up; the order means nothing to any figure
  std::vector<Between> compared;  // beside the seams between stages; not counted
  std::vector<AcceptedDoubt> accepted;
  std::vector<works::NamedSection> sections;  // typical sections, by their names
  Stages stages;
  Limits limits;
  Measures measures;
  std::vector<KeptPtr> kept;
  std::vector<PlanSheetPtr> sheets;                  // as they lie, the lowest first
  std::vector<Layout> layouts;                       // sheets to print, in their order
  std::vector<SectionLine> sectionLines;             // that sections are taken along
  std::vector<std::vector<plane::Vec2>> labelLines;  // contours are labelled where they cross these; none: as fits
  std::uint64_t nextId = 1;

  const Ground* ground(GroundId id) const;
  const Source* source(SourceId id) const;
  const PlanSheet* sheet(SheetId id) const;
  // The ground of a role; null when there is none.
  const Ground* withRole(Role role) const;
  // The ground that what is imported and drawn goes to, and the one that new works go to.
  GroundId surveyed() const;
  GroundId finished() const;
  // From each stage there is to the next, in order of work, then what is compared beside.
  std::vector<Between> seams() const;
  // The acceptance of a doubt; null when it stands.
  const AcceptedDoubt* acceptance(const ground::Doubt& doubt) const;
  // The works and the ground it lies on; null when there is none.
  struct Placed {
    const Ground* ground = nullptr;
    WorksPtr works;
  };
  Placed works(WorksId id) const;
};

using ProjectPtr = std::shared_ptr<const Project>;

// A new project: existing (from no sources yet) and finished on top of it.
ProjectPtr emptyProject(std::string name);

// True when both show and compute the same: every member of every item is equal, and their order; what only counts
// (ids to come) is not looked at.
bool sameContent(const Project& a, const Project& b);

// Edits. Each gives a new project; ids that do not exist throw std::out_of_range (a mistake of the caller).
ProjectPtr withName(const Project& project, std::string name);
// Says what coordinate system the positions are in; nothing is moved.
ProjectPtr withSystem(const Project& project, std::string system);
ProjectPtr withLabelLines(const Project& project, std::vector<std::vector<plane::Vec2>> lines);
// REQUIRES: every one has a name of its own.
ProjectPtr withSectionLines(const Project& project, std::vector<SectionLine> lines);
ProjectPtr withLimits(const Project& project, const Limits& limits);
ProjectPtr withMeasures(const Project& project, const Measures& measures);
// With these strips, undercuts, build-ups, regions, materials and accuracies. The column gets the grounds that they
// make and loses those that nothing makes any more (but for grounds that others are made from); works come to stand on
// the stripped ground with the first strip. New items (id 0) get ids.
ProjectPtr withStages(const Project& project, Stages stages);
// In place of the one of its id; a new one (id 0) comes last.
ProjectPtr withKept(const Project& project, KeptResult kept);
ProjectPtr withoutKept(const Project& project, std::uint64_t id);
// REQUIRES: every layout has a name of its own.
ProjectPtr withLayouts(const Project& project, std::vector<Layout> layouts);
// Adds a plan sheet on top of the others; the project has an origin from then on. `world`: the world file beside it.
ProjectPtr withSheet(const Project& project, SheetInfo info, std::shared_ptr<const std::string> bytes,
                     std::string world);
ProjectPtr withSheetInfo(const Project& project, SheetId id, SheetInfo info);
ProjectPtr withoutSheet(const Project& project, SheetId id);
// Moves a sheet to another place among them (clamped).
ProjectPtr withSheetAt(const Project& project, SheetId id, std::size_t place);
// With another zero of positions. REQUIRES: nothing in it has a position yet.
ProjectPtr withOrigin(const Project& project, const plane::Origin& origin);
// Adds a source that no ground is built from.
ProjectPtr withLooseSource(const Project& project, SourceInfo info, SourceData data);
// Adds a source to the project and to the base of ground `into` (which must be built from sources).
ProjectPtr withSource(const Project& project, SourceInfo info, SourceData data, GroundId into);
// The same for all sources of one file, in place of what came from that file before: a source of the same name keeps
// its id, its place and its grounds, others are taken out, new ones are added to `into`.
struct NewSource {
  SourceInfo info;
  SourceData data;
};
ProjectPtr withFileAgain(const Project& project, const std::string& file, std::vector<NewSource> sources,
                         GroundId into);
ProjectPtr withSourceInfo(const Project& project, SourceId id, SourceInfo info);
// The sources a ground is built from, in order of precedence: the later rules.
ProjectPtr withSourcesOf(const Project& project, GroundId ground, std::vector<SourceId> sources);
ProjectPtr withoutSource(const Project& project, SourceId id);
ProjectPtr withRules(const Project& project, GroundId ground, const ground::BuildRules& rules);
ProjectPtr withMend(const Project& project, GroundId ground, const ground::Mend& mend);
// Without the last mend that lies within `reach` metres of the place; the project itself when there is none.
ProjectPtr withoutMend(const Project& project, GroundId ground, plane::Vec2 place, double reach);
ProjectPtr withAccepted(const Project& project, const ground::Doubt& doubt, std::string reason);
ProjectPtr withoutAccepted(const Project& project, const ground::Doubt& doubt);
// Adds a ground for comparing to the column right above another, and compares it with what it is made from (that other
// when it is made from sources); the new id is the project's nextId before the call. Where another ground has its name
// it gets a number behind it.
ProjectPtr withNewGround(const Project& project, std::string name, Base base, GroundId after);
// Adds a copy of a ground as it is now, with its triangles as a source of its own, right below it, and compares the
// two.
ProjectPtr withFrozen(const Project& project, GroundId ground, const ground::Tin& now, std::string name);
// What a seam is called: "existing to finished". REQUIRES: both grounds are there.
std::string seamName(const Project& project, const Between& seam);
// What a ground that is no stage is there for. REQUIRES: neither its role nor the new one is a stage.
ProjectPtr withRoleOf(const Project& project, GroundId ground, Role role);
// Under another name, also where works set it in by its name and kept results tell seams by it. Throws Error when
// another ground has it, or it is empty.
ProjectPtr withGroundNamed(const Project& project, GroundId ground, std::string name);
// Moves a ground to another place in the column (clamped); it alters no figure.
ProjectPtr withGroundAt(const Project& project, GroundId ground, std::size_t place);
// Made of other grounds than it was. REQUIRES: its base is OnGround or Derived, and made of as many. Throws Error when
// it would be made from itself.
ProjectPtr withMadeOf(const Project& project, GroundId ground, std::vector<GroundId> of);
// Whether another ground is made from this one.
bool isUsed(const Project& project, GroundId ground);
// REQUIRES: not used, and neither surveyed nor finished. Its works go with it.
ProjectPtr withoutGround(const Project& project, GroundId ground);
// Adds a works at the end of a ground's list; the new id is the project's nextId before the call.
ProjectPtr withNewWorks(const Project& project, GroundId onto, std::string name, works::Shape shape);
// In place of the works of its id; works that are tied to it follow (project/ties.h).
ProjectPtr withWorks(const Project& project, const works::Works& changed);
ProjectPtr withoutWorks(const Project& project, WorksId id);
// The typical section of a name is these legs from now on, for all works that use it; a new one comes last.
ProjectPtr withSection(const Project& project, const std::string& name, works::Section legs);
// Under another name, also where works use it. REQUIRES: there is the one and not the other.
ProjectPtr withSectionNamed(const Project& project, const std::string& from, const std::string& to);
// Works that use it have its legs from now on.
ProjectPtr withoutSection(const Project& project, const std::string& name);
// The legs of a name; null when there is no such section.
const works::Section* sectionNamed(const Project& project, const std::string& name);
// The works with the legs of the sections that it names. Throws Error for one that is not there.
works::Shape withSectionsOf(const Project& project, const works::Shape& shape);
// The works that use it.
std::vector<WorksPtr> usersOfSection(const Project& project, const std::string& name);
// Moves a works to another place in its ground's list (clamped).
ProjectPtr withWorksAt(const Project& project, WorksId id, std::size_t place);

}  // namespace inselberg::project
