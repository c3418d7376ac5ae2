// What holds for every kind by its description alone.
#include "works/kind.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>

#include "project/evaluate.h"
#include "store/project_file.h"
#include "support/figures.h"
#include "support/grounds.h"
#include "support/mound.h"
#include "works/works_json.h"

using namespace inselberg;
using namespace inselberg::testing;
using works::Measure;

namespace {

// A shape of the kind with every field said, none as it is before.
works::Shape filled(const works::Kind& kind) {
  works::Shape shape = kind.fresh();
  for (std::size_t i = 0; i < kind.fields().size(); ++i) {
    const works::Field& f = kind.fields()[i];
    const double number = f.measure == Measure::slope ? 3.25 : std::clamp(0.75, f.least, f.most);
    works::Value value = number;
    if (f.measure == Measure::outline) value = points("1 2, 31 4, 28 25");
    if (f.measure == Measure::line) value = points("1 2, 31 4, 28 25, 40 70");
    if (f.measure == Measure::choice) value = f.words.size() - 1;
    if (f.measure == Measure::flag) value = true;
    if (f.measure == Measure::sections)
      value = works::parsedSections(f.name == "section" ? "@0 out 1.5 at 2 %; to ground 2:1, bench every 5 by 2 at 1 % "
                                                          "@50 out 3 at 1 %; to ground 3:1, bench every 5 by 2 at 1 %"
                                                        : "up 2 at 3:1; down 1 at 2:1; to level 50 at 2:1");
    if (f.measure == Measure::edges) value = works::Edges{{1, works::parsedSection("bank")}, {2, {}}};
    if (f.measure == Measure::stations) value = works::Stations{{20, 10}};
    if (f.measure == Measure::levels) value = works::Stations{{0, 5}, {20, 6}, {40, 5.5}};
    if (f.measure == Measure::cornerLevels) value = works::Numbers{4, 5, 6.25};
    if (f.measure == Measure::adjustments) value = works::Adjustments{{-0.2, "pavement"}, {0.05, ""}};
    if (f.measure == Measure::contours) value = works::Contours{{5, points("1 2, 31 4")}, {6, points("2 3, 4 5, 6 9")}};
    if (f.measure == Measure::ground) value = works::GroundRef{"road", nullptr};
    shape = shape.with(i, value);
  }
  return shape;
}

works::Value other(const works::Field& field, works::Value value) {
  if (isNumber(field.measure)) return std::get<double>(value) * 1.0001;
  if (field.measure == Measure::choice) return (std::get<std::size_t>(value) + 1) % field.words.size();
  if (field.measure == Measure::flag) return !std::get<bool>(value);
  if (auto* sections = std::get_if<works::SectionsAlong>(&value)) {
    works::Leg& leg = sections->back().section.legs[0];
    (leg.kind == works::Leg::Kind::out ? leg.width : leg.height) += 0.5;
  }
  if (auto* edges = std::get_if<works::Edges>(&value)) (*edges)[0].edge = 0;
  if (auto* stations = std::get_if<works::Stations>(&value)) (*stations)[0][1] += 0.001;
  if (auto* numbers = std::get_if<works::Numbers>(&value)) (*numbers)[2] -= 0.001;
  if (auto* adjust = std::get_if<works::Adjustments>(&value)) (*adjust)[1].reason = "screed";
  if (auto* contours = std::get_if<works::Contours>(&value)) (*contours)[1].line[2].x += 1e-6;
  if (auto* ground = std::get_if<works::GroundRef>(&value)) ground->name = "rail";
  if (auto* places = std::get_if<works::Places>(&value)) (*places)[1].y += 1e-6;
  return value;
}

Hash hashOf(const works::Shape& shape) {
  Hasher hasher;
  works::feed(hasher, shape);
  return hasher.finish();
}

}  // namespace

TEST_CASE("Every field of every kind is compared, hashed and kept, and names itself when it is wrong") {
  for (const works::Kind* kind : kindsWithMound()) {
    const works::Shape shape = filled(*kind);
    CAPTURE(kind->name);
    CHECK_FALSE(works::wrong(shape));
    CHECK(works::shapeFromJson(works::toJson(shape), kindsWithMound()) == shape);
    for (std::size_t i = 0; i < kind->fields().size(); ++i) {
      const works::Field& field = kind->fields()[i];
      CAPTURE(field.name);
      const works::Shape changed = shape.with(i, other(field, shape.get(i)));
      CHECK_FALSE(changed == shape);
      CHECK(hashOf(changed) != hashOf(shape));
      const works::Shape kept = works::shapeFromJson(works::toJson(changed), kindsWithMound());
      CHECK(kept == changed);
      CHECK(hashOf(kept) == hashOf(changed));
      auto without = works::toJson(shape);
      without.erase(field.name);
      if (field.later) {
        CHECK(works::shapeFromJson(without, kindsWithMound()) == shape.with(i, kind->fresh().get(i)));
      } else {
        CHECK_THROWS_WITH(works::shapeFromJson(without, kindsWithMound()), Catch::Contains(field.name));
      }
      if (field.measure == Measure::flag || !shape.applies(i)) continue;
      if (field.measure > Measure::line) continue;
      auto wrong = works::toJson(shape);
      if (isNumber(field.measure)) wrong[field.name] = -2e5;
      if (field.measure == Measure::choice) wrong[field.name] = "sideways";
      if (isPlaces(field.measure)) {
        wrong[field.name] = {{0, 0}, {0, 0}};
        CHECK_THROWS_AS(works::shapeFromJson(wrong, kindsWithMound()), Error);
        continue;
      }
      CHECK_THROWS_WITH(works::shapeFromJson(wrong, kindsWithMound()), Catch::Contains("\"" + field.name + "\" must"));
    }
  }
}

TEST_CASE("What is typed for a field is read, shown, and refused with what to write") {
  const works::Kind& kind = kindOf(Mound{});
  const auto field = [&](const char* name) {
    for (const works::Field& f : kind.fields()) {
      if (f.name == name) return f;
    }
    throw std::logic_error(name);
  };
  const auto back = [&](const char* name, const char* typed) {
    return works::shown(field(name), works::parsed(field(name), typed, 10.0));
  };
  CHECK(back("top", "79.5") == "79.500 m");
  CHECK(back("top", "+0.25") == "10.250 m");
  CHECK(back("sides", "33 %") == works::shown(field("sides"), 100.0 / 33));
  CHECK(back("sides", "2:1") == "2:1");
  CHECK(back("fall_percent", "2.5 %") == "2.5 %");
  CHECK(back("fall_percent", "-1") == "-1 %");
  CHECK(back("bearing_deg", "135°") == "135°");
  CHECK(back("make", "Capped") == "capped");
  CHECK(back("sown", "yes") == "yes");
  CHECK_THROWS_WITH(back("width", "0.2"),
                    "Width must lie between 0.5 and 50 m; write metres, like 79.5, or a change, "
                    "like +0.25");
  CHECK_THROWS_WITH(back("fall_percent", "11"), Catch::StartsWith("Fall must lie between -10 and 10 %"));
  CHECK_THROWS_WITH(back("sides", "flat"), "Sides cannot be \"flat\"; write it like 2:1, 33 % or 26.6 deg");
  CHECK_THROWS_WITH(back("make", "tall"), "Make must be plain or capped; write plain or capped");
  CHECK_THROWS_WITH(back("sown", "perhaps"), Catch::StartsWith("Sown cannot be \"perhaps\""));
  CHECK_THROWS_AS(back("top", "nan"), Error);
  CHECK_THROWS_AS(back("bearing_deg", "400"), Error);
}

TEST_CASE("Fields are told in feet, and read again as the lengths they were") {
  constexpr Measures kFeet{.imperial = true};
  std::mt19937 random(5);
  std::uniform_real_distribution<double> any(-30, 900);
  const auto lengths = [](const works::Value& v) {
    std::vector<double> all;
    if (const auto* number = std::get_if<double>(&v)) all.push_back(*number);
    if (const auto* numbers = std::get_if<works::Numbers>(&v)) all = *numbers;
    if (const auto* stations = std::get_if<works::Stations>(&v)) {
      for (const works::Station& s : *stations) all.insert(all.end(), s.begin(), s.end());
    }
    if (const auto* sections = std::get_if<works::SectionsAlong>(&v)) {
      for (const works::SectionAt& at : *sections) {
        all.push_back(at.station);
        for (const works::Leg& leg : at.section.legs)
          all.insert(all.end(), {leg.width, leg.fall, leg.height, leg.level, leg.slope, leg.cut, leg.fill});
      }
    }
    return all;
  };
  for (const works::Kind* kind : kindsWithMound()) {
    const works::Shape shape = filled(*kind);
    for (int round = 0; round < 20; ++round) {
      for (std::size_t i = 0; i < kind->fields().size(); ++i) {
        const works::Field& field = kind->fields()[i];
        if (isDrawn(field.measure)) continue;
        works::Value value = shape.get(i);
        if (isLength(field.measure)) value = std::clamp(any(random), field.least + 0.01, field.most - 0.01);
        const std::string told = works::shown(field, value, kFeet);
        INFO(kind->name << " " << field.name << " " << told);
        if (isLength(field.measure)) CHECK(told.ends_with(" ft"));
        const works::Value back = works::parsed(field, told, {}, kFeet);
        CHECK(back.index() == value.index());
        CHECK(works::shown(field, back, kFeet) == told);
        const auto before = lengths(value), after = lengths(back);
        REQUIRE(after.size() == before.size());
        for (std::size_t k = 0; k < before.size(); ++k)
          CHECK(after[k] == Approx(before[k]).margin(field.measure == Measure::volume ? 0.05 : 2e-4));
      }
    }
  }
  const works::SectionsAlong read = works::parsedSections("@0 out 5 at 2 %; down 2 m at 3:1; to ground 2:1", 0.3048);
  CHECK(read[0].section.legs[0].width == Approx(1.524));
  CHECK(read[0].section.legs[1].height == Approx(-2));
  CHECK(works::shown(works::parsedSections("@0 out 5 ft at 2 %; up 6 in at 3:1"), 0.3048) ==
        "out 5 at 2 %; up 0.5 at 3:1");
  works::Field width;
  width.label = "Width", width.least = 0.3048, width.most = 30.48;
  CHECK_THROWS_WITH(works::parsed(width, "101", 3.0, kFeet), Catch::StartsWith("Width must lie between 1 and 100 ft"));
  works::Field store;
  store.label = "Storage", store.measure = works::Measure::volume;
  store.least = 0, store.most = 764.554857984;
  CHECK_THROWS_WITH(works::parsed(store, "1001", 3.0, kFeet),
                    Catch::StartsWith("Storage must lie between 0 and 1000 yd³"));
  CHECK_THROWS_WITH(works::parsedSection("out 40000", 0.3048),
                    Catch::Contains("width does not lie between 0 and 32808.399 ft"));
  CHECK_THROWS_WITH(works::parsedSection("out 40000"), Catch::Contains("width does not lie between 0 and 10000 m"));
}

TEST_CASE("A field that does not apply is neither asked for, raised nor told") {
  works::Shape mound = Mound{points("0 0, 10 0"), 20};
  const auto figures = [&] {
    std::string names;
    for (const works::Figure& f : works::figuresOf(mound, {})) names += f.name + " ";
    return names;
  };
  CHECK(figures() == "top_m fall_percent ");
  const works::Shape raised = works::atLevel(mound, 25);
  CHECK(raised.as<Mound>()->top == 25);
  CHECK(raised.as<Mound>()->capLevel == 1);
  Mound capped = *mound.as<Mound>();
  capped.make = MoundMake::capped;
  mound = capped;
  CHECK(figures() == "top_m cap_m fall_percent ");
  // A works is raised as a whole.
  CHECK(works::atLevel(mound, 25).as<Mound>()->capLevel == 6);
  capped.capLevel = 2e5;
  CHECK(works::wrong(works::Shape(capped)).value() == "Cap must lie between -100000 and 100000 m");
  capped.make = MoundMake::plain;
  CHECK_FALSE(works::wrong(works::Shape(capped)));
}

TEST_CASE("A kind that is known is kept with its project, one that is not is told") {
  const Scratch s;
  auto start = std::make_shared<project::Project>(*project::emptyProject("Tolwin"));
  start->hasOrigin = true;
  Mound mound{{{5, 5}, {20, 30}, {60, 40}}, 77.5, 6};
  mound.sown = true;
  const auto p = project::withNewWorks(*start, start->finished(), "North bank", mound);
  store::save(*p, s / "p.inselberg");
  CHECK(project::sameContent(*store::open(s / "p.inselberg", kindsWithMound()).project, *p));
  CHECK_THROWS_WITH(store::open(s / "p.inselberg"), Catch::Contains("works of the kind \"mound\" are not known"));
}

TEST_CASE("A works that cannot be placed raises a doubt where it is, and the rest goes on") {
  auto start = std::make_shared<project::Project>(*project::emptyProject("Tolwin"));
  start->hasOrigin = true;
  project::SourceData survey;
  for (double x = 0; x <= 200; x += 20) {
    for (double y = 0; y <= 200; y += 20) survey.points.push_back({x, y, 50 + x / 100});
  }
  auto p = project::withSource(*start, {"survey"}, std::move(survey), start->surveyed());
  p = project::withNewWorks(*p, p->finished(), "Short", Mound{points("20 20, 60 20"), 54});
  p = project::withNewWorks(*p, p->finished(), "Long", Mound{points("20 100, 180 100"), 54});
  p = project::withNewWorks(*p, p->finished(), "Other", Mound{points("20 160, 60 160"), 54});
  project::Cache cache;
  const auto e = project::evaluate(p, cache, {});
  const auto* finished = e->ground(p->finished());
  REQUIRE(finished->works.size() == 2);
  CHECK(finished->works[0].works->name == "Short");
  CHECK(finished->works[1].works->name == "Other");
  REQUIRE(finished->doubts.size() == 1);
  CHECK(finished->doubts[0].kind == ground::DoubtKind::notPlaced);
  CHECK(finished->doubts[0].where == plane::Vec2{100, 100});
  CHECK(finished->doubts[0].text == "Long cannot be placed: a mound longer than 90 m slides; make it shorter");
  // It does not leave the figures of the others.
  REQUIRE(e->seams.size() == 1);
  CHECK(e->seams[0].volume->fill == Approx(finished->works[0].volume.fill + finished->works[1].volume.fill));
}
