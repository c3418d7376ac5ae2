// A kind of works that lives only here: all that the program does with a works goes by its description alone. It has
// what no kind of the program may have yet: a line instead of an outline, two levels, a flag, a field that does not
// always apply, and it cannot be placed everywhere.
#pragma once

#include "base/error.h"
#include "works/form.h"
#include "works/works.h"

namespace inselberg::testing {

enum class MoundMake { plain, capped };

// A bank of a width along a line from its first point to its last, at a level; the cap is only told.
struct Mound {
  works::Places spine;
  double top = 0;
  double width = 4;
  Slope sides = Slope::horizontalPerVertical(2);
  MoundMake make = MoundMake::plain;
  double capLevel = 1;  // of a capped one
  double fall = 0;
  double bearing = 0;
  bool sown = false;
};

inline const works::Kind& kindOf(const Mound&) {
  using works::field;
  using works::Measure;
  static const works::KindOf<Mound> kind(
      {"mound", "Mound", "A bank along a line."},
      {field<Mound>({.name = "spine", .label = "Spine", .meaning = "Its middle.", .measure = Measure::line},
                    &Mound::spine),
       field<Mound>({.name = "top", .label = "Top", .meaning = "Its level.", .measure = Measure::level, .figure = true},
                    &Mound::top),
       field<Mound>({.name = "width", .label = "Width", .meaning = "Its width.", .least = 0.5, .most = 50},
                    &Mound::width),
       field<Mound>({.name = "sides", .label = "Sides", .meaning = "Its slopes.", .measure = Measure::slope},
                    &Mound::sides),
       field<Mound>({.name = "make",
                     .label = "Make",
                     .meaning = "Whether it has a cap.",
                     .measure = Measure::choice,
                     .words = {"plain", "capped"}},
                    &Mound::make),
       field<Mound>(
           {.name = "cap", .label = "Cap", .meaning = "Level of the cap.", .measure = Measure::level, .figure = true},
           &Mound::capLevel)
           .onlyWhen([](const Mound& m) { return m.make == MoundMake::capped; }),
       field<Mound>({.name = "fall_percent",
                     .label = "Fall",
                     .meaning = "Its fall.",
                     .measure = Measure::percent,
                     .least = -10,
                     .most = 10,
                     .figure = true},
                    &Mound::fall),
       field<Mound>({.name = "bearing_deg",
                     .label = "Bearing",
                     .meaning = "Where it falls.",
                     .measure = Measure::bearing,
                     .least = 0,
                     .most = 360},
                    &Mound::bearing),
       field<Mound>({.name = "sown", .label = "Sown", .meaning = "Whether it is sown.", .measure = Measure::flag},
                    &Mound::sown)});
  return kind;
}

inline works::Placement place(const Mound& mound, const ground::Tin& ground, const plane::Origin& origin,
                              const Progress& progress, works::Detail detail) {
  const plane::Vec2 a = mound.spine.front(), b = mound.spine.back();
  if (plane::distance(a, b) > 90) throw Error("a mound longer than 90 m slides", "make it shorter");
  const plane::Vec2 u = plane::unit(b - a), out = (mound.width / 2) * plane::Vec2{u.y, -u.x};
  std::vector<plane::Vec3> outline;
  for (const plane::Vec2 p : {a + out, b + out, b - out, a - out}) outline.push_back({p.x, p.y, mound.top});
  const double run = mound.sides.run();
  works::Form form;
  form.tops = {{{a + out, b + out, b - out, a - out}, {a, mound.top, {0, 0}}, nullptr}};
  form.crests.lines = {works::around(outline, {{0, {{}, works::batter(run, run)}}})};
  return works::placeForm(ground, std::move(form), origin, progress, detail);
}

// The kinds of the program, and the mound.
inline works::Kinds kindsWithMound() {
  static const std::vector<const works::Kind*> kinds = [] {
    const works::Kinds own = works::standardKinds();
    std::vector<const works::Kind*> all(own.begin(), own.end());
    all.push_back(&kindOf(Mound{}));
    return all;
  }();
  return kinds;
}

}  // namespace inselberg::testing
