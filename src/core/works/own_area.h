// The area of a works that lies where it puts it, whatever the ground: its top and the legs of its sections.
#pragma once

#include <span>

#include "ground/facet_border.h"
#include "ground/triangulate.h"

#include "works/leg_pass.h"
#include "works/placement.h"

namespace inselberg::works {

// A plane over a ring (counter-clockwise), or any surface.
struct Top {
  plane::Ring ring;
  ground::Plane plane;
  ground::TinPtr tin;  // when it is not null, it rules
};

struct OwnArea {
  ground::TinPtr tin;                     // may be empty; where kinds change there are breaks
  std::vector<FacetKind> kinds;           // per triangle
  std::vector<ground::Plane> planes;      // per triangle, to the last digit
  std::vector<ground::FacetSide> border;  // where it ends, in the order of facets
};

// What rules where tops and legs overlap; earlier ones of both over later ones.
enum class Rule { legs, tops };

// What a leg covers, as margin or leg.
struct LegCells {
  FacetKind kind = FacetKind::leg;
  std::vector<Cell> cells;
};

// Where levels differ a wall stands.
OwnArea ownArea(std::span<const Top> tops, std::span<const LegCells> legs, Rule rule, const Progress& progress);

// Whether a face is narrower than what lines are noded to.
bool isSliver(const ground::Triangulation& made, ground::Index face);
// Per face: whether it only fills what lies beside points of a line that are not quite straight, towards the hull or
// `nothing`, and so is nothing itself.
std::vector<char> besideNothing(const ground::Triangulation& made, const std::vector<char>& nothing);

// Faces with their planes, put together as a surface: where planes give a point different levels a wall stands.
class SurfaceMaker {
 public:
  explicit SurfaceMaker(const ground::Triangulation& made) : made_(made), first_(made.points.size(), ground::kNone) {}
  // Sides towards faces of another `group` become breaks.
  void add(ground::Index face, const ground::Plane& plane, const std::vector<int>& groupOfFace);

  Vec2 place(ground::Index vertex) const { return made_.points[vertex]; }
  // The surface's point at a vertex and level; a point that is no vertex.
  ground::Index point(ground::Index vertex, double level);
  ground::Index point(const Vec3& p);
  // A triangle of its points; whether it was added: one that has nothing inside is left out.
  bool add(const std::array<ground::Index, 3>& points, std::uint8_t breaks);

  ground::TinParts finish();

 private:
  const ground::Triangulation& made_;
  std::vector<ground::Index> first_, next_;  // of the points at a vertex; after a point the next there
  ground::TinParts parts_;
};

// m: levels nearer than this are one.
inline constexpr double kOnGround = 1e-5;

// The sides of convex shapes that lie side by side, without those that two of them share.
std::vector<std::pair<Vec2, Vec2>> outerSides(std::span<const quantity::Convex> shapes);

// Convex shapes as triangles that share no corners, to find the shape of a place.
class ShapeIndex {
 public:
  void add(const quantity::Convex& shape);  // numbered from 0
  void close();
  // The number of a shape that holds p.
  std::optional<std::uint32_t> at(Vec2 p) const;
  // All of them.
  std::vector<std::uint32_t> allAt(Vec2 p) const;

 private:
  ground::TinParts parts_;
  std::vector<std::uint32_t> number_;
  std::uint32_t count_ = 0;
  ground::TinPtr tin_;
};

}  // namespace inselberg::works
