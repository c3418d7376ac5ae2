// All of it goes over the fields of the kind; nothing here knows one.
#include "works/works.h"

#include "base/error.h"
#include "base/visitor.h"

namespace inselberg::works {

Kinds standardKinds() {
  static const Kind* const kinds[] = {&kindOf(Pad{})};
  return kinds;
}

const Kind* kindNamed(std::string_view name, Kinds kinds) {
  for (const Kind* kind : kinds) {
    if (kind->name == name) return kind;
  }
  return nullptr;
}

Placement place(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress) {
  return shape.kind().placeOn(shape, ground, origin, progress);
}

void feed(Hasher& hasher, const Shape& shape) {
  hasher.text(shape.kind().name);
  for (std::size_t i = 0; i < shape.kind().fields().size(); ++i) {
    std::visit(Visitor{[&](const Places& places) {
                         hasher.value(places.size());
                         for (const Vec2 p : places) hasher.value(p.x).value(p.y);
                       },
                       [&](auto value) { hasher.value(value); }},
               shape.get(i));
  }
}

std::optional<std::string> wrong(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (!shape.applies(i)) continue;
    if (const auto why = wrong(fields[i], shape.get(i))) return fields[i].label + " " + *why;
  }
  return std::nullopt;
}

std::vector<PlacesField> placesOf(const Shape& shape) {
  std::vector<PlacesField> all;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (isPlaces(fields[i].measure) && shape.applies(i))
      all.push_back({i, std::get<Places>(shape.get(i)), fields[i].measure == Measure::outline});
  }
  return all;
}

plane::Box boundsOf(const Shape& shape) {
  plane::Box box;
  for (const PlacesField& places : placesOf(shape)) {
    for (const Vec2 p : places.points) box.add(p);
  }
  return box;
}

Vec2 placeOf(const Shape& shape) {
  return boundsOf(shape).centre();
}

Vec2 middleOf(const Shape& shape) {
  const plane::Ring outline = outlineOf(shape);
  return outline.empty() ? placeOf(shape) : plane::centroid(outline);
}

plane::Ring outlineOf(const Shape& shape) {
  for (PlacesField& places : placesOf(shape)) {
    if (places.closed) return std::move(places.points);
  }
  return {};
}

Shape withOutline(const Shape& shape, plane::Ring outline) {
  for (const PlacesField& places : placesOf(shape)) {
    if (places.closed) return shape.with(places.field, std::move(outline));
  }
  return shape;
}

std::optional<double> levelOf(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].measure == Measure::level && shape.applies(i)) return std::get<double>(shape.get(i));
  }
  return std::nullopt;
}

Shape atLevel(const Shape& shape, double level) {
  const auto& fields = shape.kind().fields();
  const double known = levelOf(shape).value();
  bool first = true;
  Shape raised = shape;
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].measure != Measure::level || !shape.applies(i)) continue;
    // The one it is known by to the letter.
    raised = raised.with(i, first ? level : std::get<double>(shape.get(i)) + (level - known));
    first = false;
  }
  return raised;
}

std::vector<Figure> figuresOf(const Shape& shape, const Placement& placement) {
  std::vector<Figure> figures;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    const Field& field = fields[i];
    if (!field.figure || !shape.applies(i)) continue;
    const bool metres = field.measure == Measure::level || field.measure == Measure::length;
    figures.push_back({field.name + (metres ? "_m" : ""), field.label, field.measure, std::get<double>(shape.get(i))});
  }
  figures.insert(figures.end(), placement.figures.begin(), placement.figures.end());
  return figures;
}

std::optional<Fall> fallOf(const Shape& shape) {
  return fallOf(shape, {});
}

std::optional<Fall> fallOf(const Shape& shape, const Placement& placement) {
  std::optional<double> percent, bearing;
  for (const Figure& figure : figuresOf(shape, placement)) {
    if (figure.measure == Measure::percent && !percent) percent = figure.value;
    if (figure.measure == Measure::bearing && !bearing) bearing = figure.value;
  }
  if (!percent || !bearing) return std::nullopt;
  return Fall{middleOf(shape), *percent, *bearing};
}

Shape begun(const Kind& kind, Places places, const plane::Origin& origin) {
  const Shape fresh = kind.fresh();
  for (std::size_t i = 0; i < kind.fields().size(); ++i) {
    const Field& field = kind.fields()[i];
    if (!isPlaces(field.measure)) continue;
    Value drawn = tidied(field, std::move(places), origin);
    if (const auto why = wrong(field, drawn)) throw Error("the " + field.label + " " + *why, "draw it anew");
    return fresh.with(i, drawn);
  }
  return fresh;
}

std::optional<double> groundAt(const Shape& shape, const ground::Tin& ground) {
  double sum = 0;
  int covered = 0;
  for (const PlacesField& places : placesOf(shape)) {
    for (const Vec2 p : places.points) {
      if (const auto z = ground.levelAt(p)) sum += *z, ++covered;
    }
  }
  return covered > 0 ? std::optional(sum / covered) : std::nullopt;
}

}  // namespace inselberg::works
