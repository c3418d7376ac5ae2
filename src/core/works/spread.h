// The batters of one kind, spread over the ground from their crests to where they first meet it.
#pragma once

#include <optional>
#include <vector>

#include "ground/recut.h"
#include "works/batter_field.h"

namespace inselberg::works {

// Heights this near are equal.
inline constexpr double kSameHeight = 1e-8;

// Goes over pairs of overlapping triangles (field, ground), over each of which the difference of heights is linear.
// Only the pairs under the batter and along its edge are visited, so the cost follows the batter's size, not the
// site's. They are gone over in waves outwards, each on all cores; what is found does not depend on how many there are.
class Spread {
 public:
  // sign: +1 fill, -1 cut. Throws Cancelled.
  Spread(const ground::Tin& ground, const BatterField& field, double sign, const Progress& progress);

  bool any() const { return all_.any; }
  // Daylight, folds and ends, in plan.
  std::vector<ground::Line2> lines() const;
  // Where the batter ends without meeting the ground: one place for each cause. At the edge of the ground the one where
  // it has farthest to go, and the run of the slope that would meet the ground there.
  struct AtEdge {
    Vec2 at;
    double run = 0;
  };
  std::optional<AtEdge> outOfGround() const { return all_.outOfGround; }
  std::optional<Vec2> outOfReach() const { return all_.outOfReach; }

  // Round corners by their place, and how far from it the batter came; a corner may come several times.
  struct CornerRadius {
    Vec2 corner;
    double radius = 0;
  };
  std::vector<CornerRadius> cornerRadius() const;

 private:
  struct Differences {
    quantity::Convex shape;
    std::array<double, quantity::Convex::kMost> d;
    bool above = false;
  };
  // A set of pairs of triangles, as an open-addressed table.
  class PairSet {
   public:
    bool insert(Index a, Index b);

   private:
    static constexpr std::uint64_t kEmpty = ~std::uint64_t{0};
    bool put(std::uint64_t key);
    void grow();
    std::vector<std::uint64_t> slots_;
    std::size_t count_ = 0;
  };

  using Pair = std::pair<Index, Index>;
  // What some pairs add.
  struct Finds {
    bool any = false;
    std::vector<Pair> beside;
    std::vector<ground::Line2> daylight, ends;
    // A stretch of a side of the field, from so far to so far along it.
    struct Fold {
      std::uint64_t side;
      double from, to;
      auto operator<=>(const Fold&) const = default;
    };
    std::vector<Fold> folds;
    std::vector<std::pair<Index, double>> radii;  // of a triangle's round corner
    std::optional<AtEdge> outOfGround;
    std::optional<Vec2> outOfReach;
    void atEdge(const AtEdge& place) {
      if (!outOfGround || place.run < outOfGround->run) outOfGround = place;
    }
  };

  Differences compare(Index b, Index g) const;
  void seed(Index b, int k);
  void visit(Index b, Index g, Finds& finds) const;
  struct Pairing;  // of a triangle of the field with one of the ground
  void cross(const Pairing& pair, Vec2 from, Vec2 to, Finds& finds) const;
  void noteFold(Index b, int k, Vec2 from, Vec2 to, Finds& finds) const;
  void take(const Finds& finds);

  const ground::Tin& ground_;
  const BatterField& field_;
  double sign_;
  PairSet seen_;
  std::vector<Pair> waiting_;
  Finds all_;  // but for what is beside, folds and radii
  std::vector<Finds::Fold> folds_;
  std::vector<double> radius_;  // of each triangle's round corner
};

}  // namespace inselberg::works
