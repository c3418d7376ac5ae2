// What is seen of lines through the openings that a page draws through.
#pragma once

#include <memory>
#include <vector>

#include "plane/geometry.h"
#include "plane/static_index.h"

namespace inselberg::sheet {

using plane::Box;
using plane::Vec2;

// The inside of rings by one of the two rules of drawing: wound about at all, or an odd number of times.
class Opening {
 public:
  Opening(std::vector<plane::Ring> rings, bool evenOdd);
  bool contains(Vec2 p) const;
  // Adds how far along ab (0..1) the sides of the rings are crossed.
  void crossings(Vec2 a, Vec2 b, std::vector<double>& along) const;
  const Box& box() const { return box_; }

 private:
  std::vector<plane::Segment2> sides_;
  plane::SegmentIndex index_;
  bool evenOdd_;
  Box box_;
};

// All openings that hold at once: a box, and any others.
struct Clip {
  Box box;
  std::vector<std::shared_ptr<const Opening>> openings;

  // Narrowed by rings; ones that make a box keep it a box.
  void narrow(std::vector<plane::Ring> rings, bool evenOdd);
  bool contains(Vec2 p) const;
  bool holds(const Box& b) const;  // certainly all of it
};

struct Piece {
  std::vector<Vec2> points;
  bool closed = false;
};
// The parts of a line that are seen, in its order; it stays closed where all of it is.
std::vector<Piece> seen(const Clip& clip, std::vector<Vec2> points, bool closed);
// A filled ring, cut off at the clip's box; empty when nothing is left. Other openings are left to seen().
plane::Ring cutOff(const Box& box, plane::Ring ring);

}  // namespace inselberg::sheet
