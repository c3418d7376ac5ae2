// The registry of works kinds. Adding a kind: one file in this folder, one line in Shape, and the compiler names the
// places that have to know it (every visit is exhaustive).
#pragma once

#include <string>
#include <variant>

#include "base/hash.h"
#include "base/id.h"
#include "works/pad.h"

namespace inselberg::works {

using Shape = std::variant<Pad>;

// One designed thing placed on a ground.
struct Works {
  WorksId id;
  std::string name;
  bool hidden = false;
  Shape shape;
  bool operator==(const Works&) const = default;
};

const char* kindName(const Shape& shape);  // "pad"

// Places a works on the ground left by those before it.
Placement place(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress);

// Equal for shapes that place alike.
void feed(Hasher& hasher, const Shape& shape);

// A place that stands for the works, for messages about it.
Vec2 placeOf(const Shape& shape);

// The outline that can be edited by its corners.
const plane::Ring& outlineOf(const Shape& shape);
void setOutline(Shape& shape, plane::Ring outline);

// The level the works is set by, and the same works at another.
double levelOf(const Shape& shape);
void setLevel(Shape& shape, double level);

}  // namespace inselberg::works
