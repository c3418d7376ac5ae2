// The volume between two grounds.
#pragma once

#include <memory>
#include <optional>
#include <set>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::quantity {

struct LevelSums;

// What lies between an earlier and a later ground, over the plan area both cover (and inside the region). Cubic and
// square metres, metres; all depths positive.
struct Volume {
  double cut = 0;                                       // where the later ground is below
  double fill = 0;                                      // where it is above
  double cutArea = 0, fillArea = 0, untouchedArea = 0;  // plan; a difference of level below 1e-6 m counts as untouched
  double maxCut = 0, maxFill = 0;
  std::optional<plane::Vec2> maxCutAt, maxFillAt;
  double onlyFrom = 0, onlyTo = 0;  // plan area (inside the region) covered by one of the two grounds alone
  double outside = 0;               // plan area of the region that neither covers; 0 without a region

  double surplus() const { return cut - fill; }
  double planArea() const { return cutArea + fillArea + untouchedArea; }
  double unmeasured() const { return onlyFrom + onlyTo + outside; }  // plan area that no figure above speaks of
};

// Exact to rounding (1e-9 relative against closed forms), and
//  1. a ground against itself gives exactly 0;
//  2. exchanging `from` and `to` exchanges cut and fill exactly;
//  3. the volumes of the parts of a region add up to the region's;
//  4. raising `to` by h changes fill - cut by h times the plan area.
// `region` (sound polygons not overlapping each other; empty: everywhere) limits the area.
Volume volumeBetween(const ground::Tin& from, const ground::Tin& to, const std::vector<plane::Polygon>& region,
                     const Progress& progress);

// The volume between a ground and facets laid over a part of it, the same as volumeBetween(under, facets) but that the
// ground beyond the facets does not count as unmeasured: onlyFrom and outside are 0. Its cost follows the facets, not
// the ground.
Volume volumeOfFacets(const ground::Tin& under, const ground::Tin& facets, const Progress& progress);

// The same, to rounding, for facets that change bit by bit while their works is dragged: those that the last ones had,
// corner for corner, are not measured again.
class FacetVolumes {
 public:
  FacetVolumes();
  ~FacetVolumes();

  // Keeps both grounds until it is asked again.
  Volume of(const ground::TinPtr& under, const ground::TinPtr& facets, const Progress& progress);

 private:
  struct Known;
  std::unique_ptr<Known> known_;
};

// A region made ready for measuring many grounds in it. It keeps what it found of each, until it is told to forget: so
// long they have to stay. Not for several threads at once.
class Region {
 public:
  // REQUIRES: polygons sound, not overlapping each other, and at least one.
  Region(const std::vector<plane::Polygon>& polygons, const Progress& progress);
  Region(Region&&) noexcept;
  ~Region();

  const plane::Box& bounds() const;
  // The plan area of a ground inside it.
  double coverOf(const ground::TinPtr& ground, const Progress& progress);
  // Forgets all grounds but these.
  void forgetOthers(const std::set<const ground::Tin*>& kept);

 private:
  friend class Comparison;
  struct Prepared;
  std::unique_ptr<Prepared> prepared_;
};

// Two grounds, or a ground and facets laid over a part of it, made ready to be measured in many regions: the triangles
// that two grounds share are found once, and not looked at again.
class Comparison {
 public:
  enum class Of { grounds, facets };
  Comparison(ground::TinPtr from, ground::TinPtr to, Of of, const Progress& progress);

  // Measures all triangles once, so that regions have only to add up those that lie wholly inside; where those that the
  // other has not in plan are many (a quarter of a million) it is left to the regions, as what it takes to remember
  // them is large.
  void measure(const Progress& progress);
  // What volumeBetween(from, to, {}), or volumeOfFacets(from, to), gives, to rounding.
  Volume everywhere(const Progress& progress) const;
  // What volumeBetween(from, to, region) gives, or volumeOfFacets where the region is, to rounding. Its cost follows
  // what differs in the region. From several threads, each with a region of its own.
  Volume in(Region& region, const Progress& progress) const;

 private:
  std::size_t alone() const { return outer_.size() - partners_.size(); }
  const ground::Tin& outer() const { return fromIsOuter_ ? *from_ : *to_; }
  const ground::Tin& inner() const { return fromIsOuter_ ? *to_ : *from_; }

  void addLevelled(ground::Index number, LevelSums& sums) const;

  ground::TinPtr from_, to_;
  Of of_;
  bool fromIsOuter_;
  // The triangles that the other has not: of the outer, first those it has not in plan either, then those it has there
  // at other levels, with its own (facets count for it also where they have its very levels); of the inner those that
  // the outer has not in plan.
  std::vector<ground::Index> outer_, partners_, inner_;
  std::vector<ground::Index> numberOf_;                     // of outer triangles among outer_; kNone for the rest
  std::shared_ptr<const std::vector<LevelSums>> measured_;  // of those without partners; null when not measured
};

}  // namespace inselberg::quantity
