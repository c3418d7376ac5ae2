// The surface of the batters along crests as if there were no ground: every batter prolonged to the reach, the
// governing one kept wherever several overlap.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "plane/linework.h"
#include "works/parting.h"

namespace inselberg::works {

using ground::Index;

// Heights here are levels for batters going down (fill), levels with the sign turned for batters going up (cut). So
// batters fall away from the crest, and where two overlap the higher governs.
struct FieldRequest {
  const ground::Tin* ground = nullptr;  // where the field surely lies below it it may end; null: it goes on
  const Crests* crests = nullptr;       // the last leg of a stretch that is built on is its batter
  double sign = 1;                      // +1 fill, -1 cut
  double reach = 0;                     // how far out the field goes, m
  std::function<double(Vec2)> radius;   // how far from a corner, and from a stretch, its batter matters
};

struct OwnArea;

// Places that no batter enters.
struct Blocked {
  const OwnArea* own = nullptr;
  std::vector<std::pair<Vec2, Vec2>> borders = {};            // of others
  std::function<bool(Vec2)> at = [](Vec2) { return false; };  // all of them
};

// A planar part of what is left of a strip, and the stretches of its sides that lie under another.
struct FieldCell {
  std::uint32_t ribbon = 0;
  ground::Plane plane;
  quantity::Convex shape;
  plane::Box box = {};
  struct Hidden {
    int side;
    double from, to;  // along it, from 0 to 1
    auto operator<=>(const Hidden&) const = default;
  };
  std::vector<Hidden> hidden = {};
};

class BatterField {
 public:
  // Parts the strips. Throws Cancelled.
  BatterField(const FieldRequest& request, const Progress& progress);
  // Lays out what is left of them. Before anything that follows. Throws Cancelled.
  void lay(const Blocked& blocked, const Progress& progress);

  bool empty() const { return tin_->empty(); }
  // The field in plan with heights: sides along every fold, crest and end of reach are marked as breaks. Triangles on
  // either side of a crest are no neighbours.
  const ground::Tin& tin() const { return *tin_; }
  // The height at p on the plane that triangle t belongs to (p may lie outside of t).
  double height(Index t, Vec2 p) const { return planes_[t](p); }
  // The levels of that plane.
  ground::Plane levels(Index t) const { return {planes_[t].at, sign_ * planes_[t].level, sign_ * planes_[t].gradient}; }
  // The distance in plan from the crest, seen from the strip of t.
  double distance(Index t, Vec2 p) const { return ribbon(t).depth(p); }
  // The height of the crest there.
  double crestHeight(Index t, Vec2 p) const {
    const Ribbon& r = ribbon(t);
    return r.railA.front().height + r.along(p) * (r.railB.front().height - r.railA.front().height);
  }
  // The strips in the order of the crests, and that of t.
  std::size_t stripCount() const { return strips_.size(); }
  std::size_t strip(Index t) const { return ribbonOf_[t]; }
  // Whether p lies at the far end of the strip of t.
  bool atReach(Index t, Vec2 p) const { return ribbon(t).atEnd(p); }
  // The round corner that t belongs to; null for others.
  const Vec2* corner(Index t) const;
  // Whether side k of triangle t lies on the crest it starts from.
  bool isCrest(Index t, int k) const;

 private:
  const Ribbon& ribbon(Index t) const { return parting_->ribbons()[ribbonOf_[t]]; }
  std::vector<Ribbon> ribbonsThatMatter(const FieldRequest& request, std::vector<BentMitre>& mitres,
                                        const Progress& progress);
  std::vector<FieldCell> cellsOf(std::uint32_t ribbon) const;
  std::vector<char> partCells(std::vector<FieldCell>& cells, const std::vector<std::size_t>& starts,
                              plane::Linework& work) const;
  void cutAtCrests(ground::TinParts& parts) const;
  bool onFoot(std::uint32_t ribbon, Vec2 p) const;

  double sign_;
  std::vector<BatterStrip> strips_;
  std::unique_ptr<Parting> parting_;
  ground::TinPtr tin_;
  std::vector<std::uint32_t> ribbonOf_;
  std::vector<ground::Plane> planes_;
};

}  // namespace inselberg::works
