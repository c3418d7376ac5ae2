// Segments in plan, made to meet properly: the step before any constrained triangulation.
#pragma once

#include <cstdint>
#include <span>
#include <utility>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

// Collects tagged segments and single points. After node():
//  1. no two vertices lie within the tolerance of each other (later ones became the earlier ones);
//  2. no vertex lies within the tolerance of the inside of a segment (such segments are split there);
//  3. a segment occurs once, with the tags of all that ran along it.
// Segments may still cross each other away from vertices; the triangulation gives those a vertex.
class Linework {
 public:
  using Index = std::uint32_t;
  struct Segment {
    Index a;
    Index b;
    std::uint32_t tags;  // bits, or-ed
  };

  // Positions are kept to rounding except where (1) merges them. REQUIRES: tolerance > 0.
  explicit Linework(double tolerance) : tolerance_(tolerance) {}

  // The vertex at p: an earlier one when one lies within the tolerance.
  Index addPoint(Vec2 p);
  // A segment shorter than the tolerance only adds its ends. REQUIRES: tags < 2^31.
  void addSegment(Vec2 a, Vec2 b, std::uint32_t tags);
  void addSegment(Index a, Index b, std::uint32_t tags);

  void node();
  // The same, and segments that cross get a vertex there too: after it none do but such as meet at less than about the
  // tolerance. For lines that cross often, or at a small angle. Segments that have one of the tags `apart` in common
  // are known not to cross each other, but by rounding.
  void nodeCrossings(std::uint32_t apart = 0);

  const std::vector<Vec2>& points() const { return points_; }
  const std::vector<Segment>& segments() const { return segments_; }

 private:
  class VertexGrid;
  static constexpr std::uint32_t kCut = std::uint32_t{1} << 31;  // a tag while nodeCrossings() is at it
  // Where vertices lie on segments: on those with the tag all, on the others those numbered from `firstNew` on. What is
  // split gets the tag.
  void splitAtVertices(Index firstNew);
  // Segments that occur several times become one.
  void merge();
  // Where one with the tag crosses another. What is split gets the tag, all others lose it; whether there was any.
  bool splitAtCrossings();
  struct Crossing {
    Index i, j;
    double along;  // of i, which has the tag
    auto operator<=>(const Crossing&) const = default;
  };
  std::vector<Crossing> crossings() const;
  void addCrossings(std::span<const Index> among, const Box& box, int depth, std::vector<Crossing>& all) const;

  // Of an open-addressed table of the vertices by their cells.
  static constexpr Index kFree = ~Index{0};
  struct Slot {
    std::uint64_t cell;
    Index point;
  };
  void take(Slot slot);
  void growSlots();

  double tolerance_;
  std::uint32_t apart_ = 0;
  std::vector<Vec2> points_;
  std::vector<Segment> segments_;
  std::vector<Slot> slots_;
};

}  // namespace inselberg::plane
