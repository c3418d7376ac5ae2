// Mends: small edits of a built ground by hand, kept as a list and applied again after every build.
#pragma once

#include <span>
#include <variant>
#include <vector>

#include "ground/doubt.h"
#include "ground/tin.h"

namespace inselberg::ground {

// Everything is named by its place in plan, so that it is found again after a rebuild.
struct SwapEdge {  // the side between two points becomes that between the two corners across it
  Vec2 from, to;
  bool operator==(const SwapEdge&) const = default;
};
struct DeleteTriangle {
  Vec2 middle;
  bool operator==(const DeleteTriangle&) const = default;
};
struct DeletePoint {  // what it carried is triangulated anew without it
  Vec2 at;
  bool operator==(const DeletePoint&) const = default;
};
struct AddPoint {
  Vec3 at;
  bool operator==(const AddPoint&) const = default;
};
struct FillHole {  // the hole with a border side through this place is filled with triangles between its points
  Vec2 at;
  bool operator==(const FillHole&) const = default;
};
using Mend = std::variant<SwapEdge, DeleteTriangle, DeletePoint, AddPoint, FillHole>;

Vec2 placeOf(const Mend& mend);

// The ground with the mends made one after the other:
//  1. what no mend touches stays as it is;
//  2. a mend whose point, side or triangle is not there (within 1 mm; triangles by a middle inside them within 1 mm of
//     their own), or that would turn a triangle over, is left and told by a doubt (its text has coordinates with the
//     origin added).
TinPtr mended(const Tin& tin, std::span<const Mend> mends, const plane::Origin& origin, Doubts& doubts);

}  // namespace inselberg::ground
