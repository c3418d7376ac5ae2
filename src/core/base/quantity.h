// Quantities as people type them, and slopes as a type of their own.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace inselberg {

// A slope steeper than flat and flatter than vertical, kept as H in H:V (horizontal run for one of rise).
class Slope {
 public:
  static Slope horizontalPerVertical(double h) { return Slope(h); }
  double run() const { return run_; }  // horizontal metres for one metre of level
  std::string text() const;            // "2:1"
  bool operator==(const Slope&) const = default;

 private:
  explicit Slope(double h) : run_(h) {}
  double run_;
};

constexpr double kMetresPerFoot = 0.3048;
constexpr double kMetresPerSurveyFoot = 1200.0 / 3937.0;

// A finite number that fills the whole text (surrounding blanks allowed), with a decimal point; nothing otherwise.
// "nan", "inf", "1e400", "12abc" and "" give nothing.
std::optional<double> parseNumber(std::string_view text);

// A number as people type it: with a decimal point or comma, and perhaps blanks between thousands, as formatNumber has
// them ("18 300.25"). Nothing otherwise.
std::optional<double> parseTyped(std::string_view text);

// A length or level in metres as typed: "79.5", "79,5", "8 in", "2 ft", "5 ft 3 in", "5' 3\"", "350 mm", "1.2 m",
// "12 cm"; a number without a unit stands for so many times `unit` metres. A leading "+" or a leading "-" followed by
// text means a change of `current` when `relative` forms are wanted ("+0.25", "-0.1"); to type a negative level itself,
// write "=-0.1". Where `current` is below zero itself, a minus is that of the level. Nothing when the text is no
// length.
std::optional<double> parseLength(std::string_view text, std::optional<double> current, double unit = 1);

// "2:1" (horizontal : vertical), "33 %", "26.6 deg" or "26.6°", a bare number as H of H:1. Positive and finite, with a
// run between 1/1000 and 1000; nothing otherwise.
std::optional<Slope> parseSlope(std::string_view text);

// 1, 2 or 5 times a power of ten, near `wanted`. REQUIRES: above 0.
double roundStep(double wanted);

// Fixed decimals with a blank between thousands ("18 300.25"); a value that rounds to zero has no minus.
std::string formatNumber(double value, int decimals);

}  // namespace inselberg
