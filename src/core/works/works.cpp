#include "works/works.h"

#include "base/visitor.h"

namespace inselberg::works {

const char* kindName(const Shape& shape) {
  return std::visit(Visitor{[](const Pad&) { return "pad"; }}, shape);
}

Placement place(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress) {
  return std::visit([&](const auto& kind) { return place(kind, ground, origin, progress); }, shape);
}

void feed(Hasher& hasher, const Shape& shape) {
  hasher.text(kindName(shape));
  std::visit(Visitor{[&](const Pad& pad) {
               hasher.value(pad.outline.size());
               for (const Vec2 p : pad.outline) hasher.value(p.x).value(p.y);
               hasher.value(pad.level).value(pad.batters.cut.run()).value(pad.batters.fill.run());
               hasher.value(pad.batters.corners).value(pad.batters.reach).value(pad.batters.chordError);
             }},
             shape);
}

Vec2 placeOf(const Shape& shape) {
  return plane::boundsOf(outlineOf(shape)).centre();
}

const plane::Ring& outlineOf(const Shape& shape) {
  return std::visit(Visitor{[](const Pad& pad) -> const plane::Ring& { return pad.outline; }}, shape);
}

void setOutline(Shape& shape, plane::Ring outline) {
  std::visit(Visitor{[&](Pad& pad) { pad.outline = std::move(outline); }}, shape);
}

double levelOf(const Shape& shape) {
  return std::visit(Visitor{[](const Pad& pad) { return pad.level; }}, shape);
}

void setLevel(Shape& shape, double level) {
  std::visit(Visitor{[&](Pad& pad) { pad.level = level; }}, shape);
}

}  // namespace inselberg::works
