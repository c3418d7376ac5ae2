// The quantities of the stages: what is stripped, cut, filled, dug and backfilled, of what material, and in which
// region.
#pragma once

#include <algorithm>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "project/evaluate.h"
#include "quantity/uncertainty.h"

namespace inselberg::report {

struct StripFigure {
  WorksId id;
  std::string name;
  double volume = 0, area = 0, loose = 0;  // m3, m2 plan, m3
};
struct LayerFigure {
  std::string name;
  double thickness = 0, volume = 0, area = 0;  // m, m3, m2; of an undercut the mean plan area
};
struct UndercutFigure {
  WorksId id;
  std::string name;
  double dig = 0, area = 0;         // m3, m2 plan
  std::vector<LayerFigure> layers;  // what it is filled with from the bottom up, but for common fill above
};
struct BuildUpFigure {
  WorksId id;
  std::string name;
  std::vector<LayerFigure> layers;
};
struct MaterialFigure {
  std::string name;  // kUnnamed for what is said to be of none
  double bank = 0, loose = 0, compacted = 0, usable = 0, cost = 0;
};
inline constexpr const char* kUnnamed = "not said";
inline constexpr const char* kElsewhere = "elsewhere";

// m3. Strip, cut and undercut in bank, the rest in compacted measure, but export in bank. Needed are bulk fill,
// backfill but for layers that come from elsewhere, and layers of build-ups that come from the site.
struct Figures {
  double strip = 0, bulkCut = 0, bulkFill = 0, undercut = 0, backfill = 0, buildUp = 0;
  double available = 0, needed = 0, import = 0, exported = 0;
  double surplus() const { return available - needed; }
  std::vector<StripFigure> strips;
  std::vector<UndercutFigure> undercuts;
  std::vector<BuildUpFigure> buildUps;
  std::vector<MaterialFigure> materials;
};

// The one of this id among figures of strips, undercuts or build-ups; null where it is left out, or there is none.
template <class Figure>
const Figure* figureOf(const std::vector<Figure>& list, WorksId id) {
  const auto it = std::find_if(list.begin(), list.end(), [&](const Figure& f) { return f.id == id; });
  return it == list.end() ? nullptr : &*it;
}

// A volume with how sure it is, where accuracies are given.
struct Measured {
  std::string name;
  std::uint64_t works = 0;  // its id; 0: a seam
  quantity::Volume volume;
  std::optional<quantity::Uncertainty> sure;
};

struct RegionFigures {
  std::string name;
  Figures figures;
  std::vector<Measured> seams, works;
};

// How far the earthwork is where an as-built survey covers it, everywhere or in a region.
struct AsBuiltFigures {
  std::string survey, region;  // region empty: everywhere
  quantity::Volume done;       // from the existing ground to the survey
  quantity::Volume sinceLast;  // from the as-built survey before it in the column, or from the existing ground
  quantity::Volume remaining;  // from the survey to the finished ground
};

struct Quantities {
  Figures whole;
  std::vector<RegionFigures> regions;   // and elsewhere; empty without regions
  std::vector<AsBuiltFigures> asBuilt;  // of each as-built survey, everywhere and then in each region
  std::vector<Measured> sure;           // every seam and works, where accuracies are given; else empty
};

// What quantities were measured from, kept from one time to the next: between grounds that are the same still nothing
// is measured again. It holds what the last quantities were of. For one thread at a time.
class QuantityCache {
 public:
  QuantityCache();
  ~QuantityCache();

  struct Store;
  Store& store() { return *store_; }

 private:
  std::unique_ptr<Store> store_;
};

// With S, U, F the levels of the stripped, undercut and formation ground (of the one before where there is none):
// bulk cut and fill are ∫ (S − F)⁺ and ∫ (F − S)⁺, undercut and backfill ∫ (min(S, F) − U)⁺; figures of regions and
// elsewhere add up to the whole. REQUIRES: the evaluation is whole. Throws Cancelled.
Quantities quantitiesOf(const project::Evaluation& evaluation, QuantityCache& cache, const Progress& progress);
Quantities quantitiesOf(const project::Evaluation& evaluation, const Progress& progress);
// Those of the whole alone.
Figures figuresOf(const project::Evaluation& evaluation, QuantityCache& cache, const Progress& progress);
Figures figuresOf(const project::Evaluation& evaluation, const Progress& progress);

}  // namespace inselberg::report
