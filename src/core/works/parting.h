// Strips that overlap, parted: every place belongs to the strip whose height governs there.
#pragma once

#include <optional>
#include <span>
#include <utility>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "quantity/overlap.h"
#include "works/batter_strips.h"
#include "works/bent_mitre.h"
#include "works/rail.h"

namespace inselberg::works {

// A strip with its heights: along both rays the same number of points, from the foot outwards; straight between them.
struct Ribbon {
  Vec2 a, b, ua, ub, out;
  Rail railA, railB;
  // How fast it falls outwards, at least and at most, benches aside.
  double slowest = 1, fastest = 1;
  // Benches of one make all along: after each so much of height a step so wide, which rises by so much (0: it falls).
  struct Benches {
    double every = 0, width = 0, rise = 0;
    bool operator==(const Benches&) const = default;
  };
  std::optional<Benches> benches = {};
  double crestLow = 0, crestHigh = 0;  // heights of its crest, as prolonged to either side as far as it goes
  bool cut = false;                    // it would go on, but what lies beyond its end does not matter

  double depth(Vec2 p) const { return plane::dot(p - a, out); }
  Vec2 foot(double s) const { return a + s * (b - a); }
  Vec2 ray(double s) const { return ua + s * (ub - ua); }
  Vec2 atA(std::size_t k) const { return a + railA[k].depth * ua; }
  Vec2 atB(std::size_t k) const { return b + railB[k].depth * ub; }
  // Which ray p lies on, from 0 to 1.
  double along(Vec2 p) const;
  // Whether p lies at its far end.
  bool atEnd(Vec2 p) const;
  // Ends it at a depth; just short of that where its rays meet.
  void endAt(double depth);
  void endWhereRaysMeet();
};

// A planar part of a ribbon.
struct Piece {
  quantity::Convex shape;
  ground::Plane plane;
  plane::Box box = {};
  double lowest = 0, highest = 0;  // over its corners; `highest` of a ribbon's also over those farther out
  double nearest = 0;              // depth of the corner nearest to the foot
};
// Between the points k and k + 1 of the rails: one piece, or two triangles where they do not lie in a plane.
std::vector<Piece> piecesOf(const Ribbon& ribbon, std::size_t k);

// Whether all that lies beyond a place where `other` lies above `own`, seen from the foot of `own`, is below it too: so
// where `other` falls no faster. Then it can end there.
bool endsAt(const Ribbon& own, const Ribbon& other);

// Of ribbons with benches of one make: how much farther from its own foot than from the other's a place is, where the
// own surely lies below the other from there on, whatever the benches do. Nothing where that cannot be told. They may
// lie over each other in between.
std::optional<double> farBehind(const Ribbon& own, const Ribbon& other);

// Seen from its foot, a ribbon ends along each of its rays where another comes to lie above it: its far border is the
// lower envelope of the near borders of all such places. What is left of the ribbons tiles all they cover; but those
// that fall at different rates may come up again behind each other, and go on overlapping: there the higher rules.
// Which others can matter is bounded: a ribbon's height at p is at most its highest less a rate times the distance from
// its foot; a tree over the feet finds them.
class Parting {
 public:
  // `mitres` names ribbons that lie over each other beside a corner: there each keeps only what counts of the two.
  // `asked`: by ribbon, whether what is left of it will be asked for; else it stays as if it were alone. Empty: of all.
  Parting(std::vector<Ribbon> ribbons, std::vector<BentMitre> mitres, const Progress& progress,
          const std::vector<char>& asked = {});

  const std::vector<Ribbon>& ribbons() const { return ribbons_; }
  // Outwards.
  const std::vector<Piece>& pieces(std::size_t ribbon) const { return pieces_[ribbon]; }
  // Whether one piece is all that a ribbon could cover.
  bool isOnePiece(std::size_t ribbon) const { return pieces_[ribbon].size() == 1 && !isCut_[ribbon]; }

  struct ChainPoint {
    double s;  // which ray, rising
    Vec2 p;
  };
  using Chain = std::vector<ChainPoint>;
  // The far border of what is left of a ribbon.
  const Chain& border(std::size_t ribbon) const { return borders_[ribbon]; }

  // Ribbons of which some that is left lies over some of another's, each pair once.
  std::vector<std::pair<std::uint32_t, std::uint32_t>> overlappingPairs() const;

  // What is left of a ribbon as convex quadrangles (some are triangles): the foot from left to right, then the border.
  template <class F>
  void eachCell(std::size_t ribbon, F&& f) const {
    const Ribbon& r = ribbons_[ribbon];
    const Chain& chain = borders_[ribbon];
    for (std::size_t k = 0; k + 1 < chain.size(); ++k) {
      quantity::Convex cell;
      const auto add = [&](Vec2 p) {
        if (cell.n == 0 || (plane::distance(cell.p[cell.n - 1], p) > 1e-10 && plane::distance(cell.p[0], p) > 1e-10))
          cell.add(p);
      };
      // Counter-clockwise: outwards lies on the right of the foot.
      add(r.foot(chain[k].s)), add(chain[k].p), add(chain[k + 1].p), add(r.foot(chain[k + 1].s));
      if (cell.n >= 3 && quantity::area(cell) > 1e-13) f(cell, chain[k], chain[k + 1]);
    }
  }

 private:
  void partAtMitres();
  void trim(std::size_t ribbon, std::size_t other);
  bool aside(std::size_t ribbon, std::size_t other) const;
  quantity::Convex partBehind(std::size_t ribbon, std::size_t other, double behind) const;
  void meet(std::size_t ribbon, const quantity::Convex& above);
  void trimAll(const std::vector<char>& asked, const Progress& progress);
  void dropParted(const Progress& progress);
  // The least height of the ribbon near a place of its own.
  double lowestAt(std::size_t ribbon, Vec2 p) const;

  std::vector<Ribbon> ribbons_;
  static constexpr std::uint32_t kNone = ~std::uint32_t{0};
  std::vector<BentMitre> mitres_;
  std::vector<std::uint32_t> mitredWith_;  // the ribbon after the corner; none of a mitre: empty
  std::vector<char> isCut_;                // at a mitre
  std::vector<quantity::Convex> domains_;  // all they could cover
  std::vector<quantity::Convex> surely_;   // where nothing is taken from them at mitres
  std::vector<std::vector<Piece>> pieces_;
  std::vector<Chain> borders_;
  std::vector<std::vector<std::uint32_t>> overlapping_;
};

// The overlap of two convex shapes, counter-clockwise.
quantity::Convex overlapOf(const quantity::Convex& a, const quantity::Convex& b);

}  // namespace inselberg::works
