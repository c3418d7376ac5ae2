// The batter surface around a crest as if there were no ground: every batter prolonged to the reach, the governing one
// kept wherever several overlap.
#pragma once

#include <span>
#include <vector>

#include "base/progress.h"
#include "base/quantity.h"
#include "ground/tin.h"

namespace inselberg::works {

using ground::Index;
using plane::Vec2;
using plane::Vec3;

enum class CornerStyle { round, square };

// Levels here are *heights*: levels for batters going down (fill), levels with the sign turned for batters going up
// (cut). So batters always fall away from the crest, and where two overlap the higher governs.
struct FieldRequest {
  std::vector<Vec3> crest;  // a simple ring, counter-clockwise, with heights; batters lie outside of it
  Slope slope = Slope::horizontalPerVertical(2);
  CornerStyle corners = CornerStyle::round;
  double reach = 0;                  // how far out the field goes
  std::vector<double> cornerRadius;  // per crest point: the distance out to which the chord error is kept
  double chordError = 1e-3;          // greatest distance in plan between a round corner's facets and its cone
};

class BatterField {
 public:
  BatterField(const FieldRequest& request, const Progress& progress);

  // The field in plan with heights: sides along every fold, crest and end of reach are marked as breaks.
  const ground::Tin& tin() const { return *tin_; }
  // The height at p on the facet that triangle t belongs to (p may lie outside of t).
  double height(Index t, Vec2 p) const { return facets_[facetOf_[t]].plane(p); }
  // The distance in plan from the crest, seen from the facet of t, and the crest point that owns it (-1: an edge).
  double distance(Index t, Vec2 p) const { return facets_[facetOf_[t]].depth(p); }
  int cornerOf(Index t) const { return facets_[facetOf_[t]].corner; }
  // How far out the field goes; a side without a neighbour nearer than that and off the crest is a gap of rounding.
  double reach() const { return reach_; }
  // Whether side k of triangle t lies on the crest.
  bool isCrest(Index t, int k) const;

 private:
  // The batter from the foot a-b between the rays (a, ua) and (b, ub). Round corners have a = b.
  struct Facet {
    Vec2 a, b, ua, ub;
    Vec2 out;  // depth per metre: 1 along either ray
    ground::Plane plane;
    int site = 0;     // facets of one corner or edge share their site
    int corner = -1;  // crest point of a round corner
    struct ChainPoint {
      double s;
      Vec2 p;
    };
    std::vector<ChainPoint> chain;  // the far border from ray to ray, s from 0 to 1

    double depth(Vec2 p) const { return plane::dot(p - a, out); }
    Vec2 foot(double s) const { return a + s * (b - a); }
    Vec2 ray(double s) const { return ua + s * (ub - ua); }
    double along(Vec2 p) const;
  };
  struct Site {
    Vec2 a, b;                // foot
    double highest;           // of the foot
    std::size_t first, last;  // facets
  };

  void makeFacets(const FieldRequest& request);
  void trim(Facet& facet, const Facet& other) const;
  void trimAll(const Progress& progress);
  void makeTin(const Progress& progress);

  double run_;
  double reach_;
  std::vector<Facet> facets_;
  std::vector<Site> sites_;
  ground::TinPtr tin_;
  std::vector<std::uint32_t> facetOf_;
};

}  // namespace inselberg::works
