// All of it goes over the fields of the kind; nothing here knows one.
#include "works/works.h"

#include <cmath>

#include "base/error.h"
#include "base/visitor.h"

namespace inselberg::works {

Kinds standardKinds() {
  static const Kind* const kinds[] = {&kindOf(Pad{}),       &kindOf(Ramp{}),  &kindOf(Run{}),
                                      &kindOf(Pond{}),      &kindOf(Berm{}),  &kindOf(Swale{}),
                                      &kindOf(LevelArea{}), &kindOf(Inlay{}), &kindOf(Sculpt{})};
  return kinds;
}

std::vector<Offer> offers() {
  std::vector<Offer> all;
  for (const Kind* kind : standardKinds()) {
    all.push_back({*kind, kind->fresh()});
    if (kind == &kindOf(Pad{}))
      all.push_back(
          {{"sloping_bed", "Sloping bed", "An area that lies as the land does, with a level margin round it."},
           slopingBed()});
  }
  return all;
}

const Kind* kindNamed(std::string_view name, Kinds kinds) {
  for (const Kind* kind : kinds) {
    if (kind->name == name) return kind;
  }
  return nullptr;
}

Placement place(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  return shape.kind().placeOn(shape, ground, origin, progress, detail);
}

namespace {

void feed(Hasher& hasher, const Places& places) {
  hasher.value(places.size());
  for (const Vec2 p : places) hasher.value(p.x).value(p.y);
}

void feed(Hasher& hasher, const NamedOrLegs& section) {
  hasher.text(section.name).value(section.legs.size());
  for (const Leg& leg : section.legs) {
    hasher.value(leg.kind);
    for (const double v : {leg.width, leg.fall, leg.height, leg.level, leg.slope, leg.cut, leg.fill}) hasher.value(v);
    hasher.value(leg.bench.has_value());
    if (leg.bench) hasher.value(leg.bench->every).value(leg.bench->width).value(leg.bench->fall);
  }
}

void feed(Hasher& hasher, const Value& value) {
  std::visit(
      Visitor{[&](const Places& places) { feed(hasher, places); },
              [&](const SectionsAlong& sections) {
                hasher.value(sections.size());
                for (const SectionAt& at : sections) hasher.value(at.station), feed(hasher, at.section);
              },
              [&](const Edges& edges) {
                hasher.value(edges.size());
                for (const EdgeSection& e : edges) hasher.value(e.edge), feed(hasher, e.section);
              },
              [&](const Stations& stations) {
                hasher.value(stations.size());
                for (const auto& [at, v] : stations) hasher.value(at).value(v);
              },
              [&](const Numbers& numbers) {
                hasher.value(numbers.size());
                for (const double v : numbers) hasher.value(v);
              },
              [&](const Adjustments& all) {
                hasher.value(all.size());
                for (const Adjustment& a : all) hasher.value(a.by).text(a.reason);
              },
              [&](const Contours& contours) {
                hasher.value(contours.size());
                for (const Contour& c : contours) hasher.value(c.level), feed(hasher, c.line);
              },
              [&](const GroundRef& ground) { hasher.text(ground.name); }, [&](auto plain) { hasher.value(plain); }},
      value);
}

}  // namespace

void feed(Hasher& hasher, const Shape& shape) {
  hasher.text(shape.kind().name);
  for (std::size_t i = 0; i < shape.kind().fields().size(); ++i) {
    feed(hasher, shape.get(i));
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

Shape withSections(const Shape& shape, const FindSection& find) {
  const auto resolve = [&](NamedOrLegs& section, bool& any) {
    if (section.name.empty()) return;
    any = true;
    const Section* legs = find(section.name);
    if (!legs) throw Error("there is no section of the name \"" + section.name + "\"", "choose another, or make one");
    section = {{}, *legs};
  };
  Shape made = shape;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    Value value = shape.get(i);
    bool any = false;
    if (auto* along = std::get_if<SectionsAlong>(&value)) {
      for (SectionAt& at : *along) resolve(at.section, any);
      if (const auto why = any ? wrong(*along) : std::nullopt) throw Error("its section " + *why, "mend the section");
    } else if (auto* edges = std::get_if<Edges>(&value)) {
      for (EdgeSection& e : *edges) resolve(e.section, any);
    }
    if (any) made = made.with(i, value);
  }
  return made;
}

namespace {

std::optional<std::size_t> groundField(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].measure == Measure::ground) return i;
  }
  return std::nullopt;
}

}  // namespace

std::optional<std::string> groundNamed(const Shape& shape) {
  const auto field = groundField(shape);
  return field ? std::optional(std::get<GroundRef>(shape.get(*field)).name) : std::nullopt;
}

Shape withGround(const Shape& shape, GroundRef ground) {
  const auto field = groundField(shape);
  return field ? shape.with(*field, std::move(ground)) : shape;
}

std::vector<PlacesField> placesOf(const Shape& shape) {
  std::vector<PlacesField> all;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (isPlaces(fields[i].measure) && shape.applies(i) && !std::get<Places>(shape.get(i)).empty())
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
  const auto places = placesOf(shape);
  if (places.empty() || places.front().closed) return boundsOf(shape).centre();
  // Half way along a line.
  const Places& line = places.front().points;
  double rest = lengthOf(line, false) / 2;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const double length = plane::distance(line[i], line[i + 1]);
    if (rest <= length && length > 0) return line[i] + (rest / length) * (line[i + 1] - line[i]);
    rest -= length;
  }
  return line.back();
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

namespace {

bool isLevel(Measure m) {
  return m == Measure::level || m == Measure::levels || m == Measure::cornerLevels;
}

// The first level in a value of such a measure.
std::optional<double> firstLevel(const Value& value) {
  return std::visit(Visitor{[](double v) { return std::optional(v); },
                            [](const Stations& s) { return s.empty() ? std::nullopt : std::optional(s.front()[1]); },
                            [](const Numbers& n) { return n.empty() ? std::nullopt : std::optional(n.front()); },
                            [](const auto&) { return std::optional<double>(); }},
                    value);
}

Value raised(Value value, double by) {
  std::visit(Visitor{[&](double& v) { v += by; },
                     [&](Stations& stations) {
                       for (auto& s : stations) s[1] += by;
                     },
                     [&](Numbers& numbers) {
                       for (double& v : numbers) v += by;
                     },
                     [](auto&) {}},
             value);
  return value;
}

}  // namespace

std::optional<double> levelOf(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (!isLevel(fields[i].measure) || !shape.applies(i)) continue;
    if (const auto level = firstLevel(shape.get(i))) return level;
  }
  return std::nullopt;
}

Shape atLevel(const Shape& shape, double level) {
  const auto& fields = shape.kind().fields();
  const double known = levelOf(shape).value();
  bool first = true;
  Shape made = shape;
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (!isLevel(fields[i].measure) || !shape.applies(i)) continue;
    // The one it is known by to the letter.
    const bool number = fields[i].measure == Measure::level;
    made = made.with(i, first && number ? Value(level) : raised(shape.get(i), level - known));
    first = false;
  }
  return made;
}

std::vector<Figure> figuresOf(const Shape& shape, const Placement& placement) {
  std::vector<Figure> figures;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    const Field& field = fields[i];
    if (!field.figure || !shape.applies(i) || !isNumber(field.measure)) continue;
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

Shape begun(const Shape& fresh, Places places, const plane::Origin& origin) {
  const Kind& kind = fresh.kind();
  for (std::size_t i = 0; i < kind.fields().size(); ++i) {
    const Field& field = kind.fields()[i];
    if (!isPlaces(field.measure)) continue;
    Value drawn = tidied(field, std::move(places), origin);
    if (const auto why = wrong(field, drawn)) throw Error("the " + field.label + " " + *why, "draw it anew");
    return fresh.with(i, drawn);
  }
  return fresh;
}

Shape startedOn(const Shape& shape, const ground::Tin& ground) {
  const auto level = groundAt(shape, ground);
  if (!level) throw Error("it lies off the ground", "draw it where there is ground");
  const Shape begun = levelOf(shape) ? atLevel(shape, std::round(*level * 20) / 20) : shape;
  return shape.kind().startOn(begun, ground);
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
