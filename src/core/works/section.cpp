#include "works/section.h"

#include <fmt/format.h>

#include <cmath>

#include "base/error.h"
#include "base/measures.h"

namespace inselberg::works {
namespace {

double mixed(double a, double b, double t) {
  return a + t * (b - a);
}

std::string number(double value) {
  return fmt::format("{:.10g}", value);
}

std::string slopeText(double run) {
  return number(run) + ":1";
}

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == ',')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == ',')) text.remove_suffix(1);
  return text;
}

// The words of a leg, taken one after the other.
class Words {
 public:
  Words(std::string_view text, double unit) : leg_(text), rest_(text), unit_(unit) {}

  bool take(std::string_view word) {
    rest_ = trimmed(rest_);
    if (!rest_.starts_with(word)) return false;
    if (rest_.size() > word.size() && rest_[word.size()] != ' ' && rest_[word.size()] != ',') return false;
    rest_.remove_prefix(word.size());
    return true;
  }
  double metres() {
    std::string word(next());
    for (const char* unit : {"m", "ft", "in", "mm", "cm"}) {
      if (take(unit)) word += unit;
    }
    // A sign is one of the number, and no change of something else.
    const auto value = parseLength(word.starts_with('+') ? word.substr(1) : word, std::nullopt, unit_);
    if (!value) fail();
    return *value;
  }
  double percent() {
    std::string_view word = next();
    if (word.ends_with("%")) word.remove_suffix(1);
    const auto value = parseNumber(word);
    if (!value) fail();
    take("%");
    return *value;
  }
  double slope() {
    std::string word(next());
    if (take("%")) word += " %";
    if (take("deg")) word += " deg";
    const auto value = parseSlope(word);
    if (!value) fail();
    return value->run();
  }
  bool done() {
    rest_ = trimmed(rest_);
    return rest_.empty();
  }
  [[noreturn]] void fail() const {
    throw Error("\"" + std::string(leg_) + "\" is not understood as a leg of a section",
                "write it like \"out 1.5 at 2 %; up 2 at 3:1; to level 74.5 at 2:1; to ground 2:1\"");
  }

 private:
  std::string_view next() {
    rest_ = trimmed(rest_);
    const std::size_t end = std::min(rest_.find_first_of(" ,"), rest_.size());
    const std::string_view word = rest_.substr(0, end);
    rest_.remove_prefix(end);
    return word;
  }

  std::string_view leg_, rest_;
  double unit_;
};

Leg parsedLeg(std::string_view text, double unit) {
  Words words(text, unit);
  Leg leg;
  if (words.take("out")) {
    leg.kind = Leg::Kind::out;
    leg.width = words.metres();
    if (words.take("at")) leg.fall = words.percent();
  } else if (words.take("to level")) {
    leg.kind = Leg::Kind::toLevel;
    leg.level = words.metres();
    if (words.take("at")) leg.slope = words.slope();
  } else if (words.take("to ground")) {
    leg.kind = Leg::Kind::toGround;
    if (!words.done()) {
      leg.cut = leg.fill = words.slope();
      words.take("cut");
      if (!words.done() && !words.take("bench")) {
        leg.fill = words.slope();
        words.take("fill");
        if (!words.done() && !words.take("bench")) words.fail();
      }
      if (words.take("every")) {
        leg.bench.emplace();
        leg.bench->every = words.metres();
        if (words.take("by")) leg.bench->width = words.metres();
        if (words.take("at")) leg.bench->fall = words.percent();
      }
    }
  } else {
    const bool up = words.take("up");
    if (!up && !words.take("down")) words.fail();
    leg.kind = Leg::Kind::by;
    leg.height = up ? words.metres() : -words.metres();
    if (words.take("at")) leg.slope = words.slope();
  }
  if (!words.done()) words.fail();
  return leg;
}

std::string shown(const Leg& leg, double unit) {
  const auto length = [&](double metres) { return number(inLengthUnit(metres, unit)); };
  switch (leg.kind) {
    case Leg::Kind::out:
      return fmt::format("out {} at {} %", length(leg.width), number(leg.fall));
    case Leg::Kind::by:
      return fmt::format("{} {} at {}", leg.height < 0 ? "down" : "up", length(std::abs(leg.height)),
                         slopeText(leg.slope));
    case Leg::Kind::toLevel:
      return fmt::format("to level {} at {}", length(leg.level), slopeText(leg.slope));
    case Leg::Kind::toGround:
      break;
  }
  std::string text = leg.cut == leg.fill
                         ? "to ground " + slopeText(leg.cut)
                         : fmt::format("to ground {} cut {} fill", slopeText(leg.cut), slopeText(leg.fill));
  if (leg.bench) {
    text += fmt::format(", bench every {} by {} at {} %", length(leg.bench->every), length(leg.bench->width),
                        number(leg.bench->fall));
  }
  return text;
}

std::optional<std::string> wrongSlope(double run) {
  if (run >= 1e-3 && run <= 1e3) return std::nullopt;
  return "has a slope that does not lie between 0.001:1 and 1000:1";
}

std::optional<std::string> wrong(const Leg& leg, double unit) {
  constexpr double kMost = 1e5;
  const auto between = [unit](const char* what, double least, double most) {
    return fmt::format("has {} does not lie between {} and {} {}", what, number(inLengthUnit(least, unit)),
                       number(inLengthUnit(most, unit)), unit == 1 ? "m" : "ft");
  };
  const auto usable = [](double v) { return std::abs(v) <= kMost; };
  switch (leg.kind) {
    case Leg::Kind::out:
      if (!(leg.width >= 0 && leg.width <= 1e4)) return between("a leg whose width", 0, 1e4);
      if (!(std::abs(leg.fall) <= 1e4)) return "has a leg whose fall does not lie between -10000 and 10000 %";
      return std::nullopt;
    case Leg::Kind::by:
      return usable(leg.height) ? wrongSlope(leg.slope) : "has a leg of an unusable height";
    case Leg::Kind::toLevel:
      return usable(leg.level) ? wrongSlope(leg.slope) : "has a leg to an unusable level";
    case Leg::Kind::toGround:
      break;
  }
  if (leg.bench) {
    if (!(leg.bench->every >= 0.01 && leg.bench->every <= 1e4)) return between("benches whose height", 0.01, 1e4);
    if (!(leg.bench->width >= 0 && leg.bench->width <= 1e4)) return between("benches whose width", 0, 1e4);
    if (!(std::abs(leg.bench->fall) <= 100)) return "has benches whose fall does not lie between -100 and 100 %";
  }
  if (const auto why = wrongSlope(leg.cut)) return why;
  return wrongSlope(leg.fill);
}

}  // namespace

bool sameMake(const Section& a, const Section& b) {
  if (a.size() != b.size()) return false;
  for (std::size_t i = 0; i < a.size(); ++i) {
    if (a[i].kind != b[i].kind || a[i].bench != b[i].bench) return false;
  }
  return true;
}

bool alike(const Section& a, const Section& b) {
  if (!sameMake(a, b)) return false;
  for (std::size_t i = 0; i < a.size(); ++i) {
    for (const auto member : {&Leg::width, &Leg::fall, &Leg::height, &Leg::level, &Leg::slope, &Leg::cut, &Leg::fill}) {
      if (std::abs(a[i].*member - b[i].*member) > 1e-9 * std::max(1.0, std::abs(a[i].*member))) return false;
    }
  }
  return true;
}

Section between(const Section& a, const Section& b, double t) {
  Section made = a;
  for (std::size_t i = 0; i < a.size(); ++i) {
    for (const auto member : {&Leg::width, &Leg::fall, &Leg::height, &Leg::level, &Leg::slope, &Leg::cut, &Leg::fill})
      made[i].*member = mixed(a[i].*member, b[i].*member, t);
  }
  return made;
}

bool endsInBatter(const Section& section) {
  return !section.empty() && section.back().kind == Leg::Kind::toGround;
}

SectionsAlong behind(const Section& legs, SectionsAlong sections) {
  for (SectionAt& at : sections) at.section.legs.insert(at.section.legs.begin(), legs.begin(), legs.end());
  return sections;
}

SectionPtr sectionAt(const SectionsAlong& sections, double station) {
  std::size_t i = 0;
  while (i < sections.size() && sections[i].station <= station) ++i;
  if (i == 0) return std::make_shared<const Section>(sections.front().section.legs);
  if (i == sections.size()) return std::make_shared<const Section>(sections.back().section.legs);
  const SectionAt &a = sections[i - 1], &b = sections[i];
  const double t = (station - a.station) / (b.station - a.station);
  return std::make_shared<const Section>(between(a.section.legs, b.section.legs, t));
}

std::vector<double> bendsBetween(const SectionsAlong& sections, double from, double to) {
  std::vector<double> bends;
  for (const SectionAt& at : sections) {
    if (at.station > from && at.station < to) bends.push_back(at.station);
  }
  return bends;
}

Leg legOut(double width, double fall) {
  Leg leg;
  leg.kind = Leg::Kind::out;
  leg.width = width, leg.fall = fall;
  return leg;
}

Leg legBy(double height, double slope) {
  Leg leg;
  leg.kind = Leg::Kind::by;
  leg.height = height, leg.slope = slope;
  return leg;
}

Leg legToLevel(double level, double slope) {
  Leg leg;
  leg.kind = Leg::Kind::toLevel;
  leg.level = level, leg.slope = slope;
  return leg;
}

Leg legToGround(double cut, double fill) {
  Leg leg;
  leg.cut = cut, leg.fill = fill;
  return leg;
}

Section batter(double cut, double fill) {
  return {legToGround(cut, fill)};
}

std::optional<std::string> wrong(const Section& section, double unit) {
  for (std::size_t i = 0; i < section.size(); ++i) {
    if (section[i].kind == Leg::Kind::toGround && i + 1 < section.size()) return "has a leg after the batter";
    if (const auto why = wrong(section[i], unit)) return why;
  }
  return std::nullopt;
}

std::optional<std::string> wrong(const SectionsAlong& sections, double unit) {
  for (std::size_t i = 0; i < sections.size(); ++i) {
    if (const auto why = wrong(sections[i].section.legs, unit)) return why;
    if (!std::isfinite(sections[i].station) || std::abs(sections[i].station) > 1e6)
      return "has a section at an unusable station";
    if (i == 0) continue;
    if (!(sections[i].station > sections[i - 1].station)) return "has sections whose stations do not rise";
    const bool plain = sections[i].section.name.empty() && sections[i - 1].section.name.empty();
    if (plain && !sameMake(sections[i].section.legs, sections[i - 1].section.legs))
      return "changes between sections of different legs; they must have the same legs, with other numbers";
  }
  return std::nullopt;
}

std::string shown(const NamedOrLegs& section, double unit) {
  if (!section.name.empty()) return section.name;
  std::string text;
  for (const Leg& leg : section.legs) text += (text.empty() ? "" : "; ") + shown(leg, unit);
  return text.empty() ? "wall" : text;
}

std::string shown(const SectionsAlong& sections, double unit) {
  if (sections.size() == 1 && sections.front().station == 0) return shown(sections.front().section, unit);
  std::string text;
  for (const SectionAt& at : sections)
    text += (text.empty() ? "@" : " @") + number(inLengthUnit(at.station, unit)) + " " + shown(at.section, unit);
  return text;
}

NamedOrLegs parsedSection(std::string_view text, double unit) {
  text = trimmed(text);
  if (text == "wall") return {};
  for (const std::string_view start : {"out ", "up ", "down ", "to level ", "to ground"}) {
    if (!text.starts_with(start)) continue;
    NamedOrLegs made;
    while (!text.empty()) {
      const std::size_t end = std::min(text.find(';'), text.size());
      if (const auto leg = trimmed(text.substr(0, end)); !leg.empty()) made.legs.push_back(parsedLeg(leg, unit));
      text.remove_prefix(std::min(end + 1, text.size()));
    }
    if (const auto why = wrong(made.legs, unit)) throw Error("The section " + *why, "mend that leg");
    return made;
  }
  if (text.empty()) throw Error("a section must not be empty", "write its legs, or \"wall\"");
  return {std::string(text), {}};
}

SectionsAlong parsedSections(std::string_view text, double unit) {
  text = trimmed(text);
  if (!text.starts_with('@')) return {{0, parsedSection(text, unit)}};
  SectionsAlong all;
  while (!text.empty()) {
    text.remove_prefix(1);
    const std::size_t end = std::min(text.find('@'), text.size());
    const std::string_view one = trimmed(text.substr(0, end));
    const std::size_t blank = std::min(one.find(' '), one.size());
    const auto station = parseNumber(one.substr(0, blank));
    if (!station)
      throw Error("\"" + std::string(one) + "\" has no station", "write it like \"@50 out 2; to ground 2:1\"");
    all.push_back({*station * unit, parsedSection(one.substr(blank), unit)});
    text.remove_prefix(end);
  }
  if (const auto why = wrong(all, unit)) throw Error("The section " + *why, "mend that");
  return all;
}

Leg typedOver(const Leg& leg, std::string_view text, bool cut, double unit) {
  Leg made = leg;
  const bool isBatter = leg.kind == Leg::Kind::toGround, isWidth = leg.kind == Leg::Kind::out;
  double& size = isWidth ? made.width : leg.kind == Leg::Kind::by ? made.height : made.level;
  double& slope = !isBatter ? made.slope : cut ? made.cut : made.fill;
  const auto take = [&](std::string_view one) {
    const bool steep = isBatter || one.find_first_of(":%") != std::string_view::npos || one.ends_with("deg");
    if (steep && !isWidth) {
      const auto typed = parseSlope(one);
      if (typed) slope = typed->run();
      return typed.has_value();
    }
    const auto typed = steep ? parseTyped(one.substr(0, one.find('%'))) : parseLength(one, std::nullopt, unit);
    if (typed) (steep ? made.fall : size) = *typed;
    return typed.has_value();
  };
  do {
    const std::size_t end = std::min(text.find(", "), text.size());
    if (const auto one = trimmed(text.substr(0, end)); !take(one))
      throw Error(one.empty() ? "nothing is typed" : "\"" + std::string(one) + "\" is no number of this leg",
                  isBatter  ? "type its slope, like \"3:1\""
                  : isWidth ? "type its width and fall, like \"1.5, 2 %\""
                            : "type its height or level, and slope, like \"1.5, 3:1\"");
    text.remove_prefix(end);
    text = trimmed(text);
  } while (!text.empty());
  if (const auto why = wrong(made, unit)) throw Error("The section " + *why, "type another number");
  return made;
}

}  // namespace inselberg::works
