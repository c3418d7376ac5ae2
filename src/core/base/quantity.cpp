#include "base/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>
#include <regex>

#include "base/text.h"

namespace inselberg {
namespace {

// Feet and inches: "5 ft 3" of a text that had the inch's unit behind it; in inches.
std::optional<double> parseFeetAndInches(std::string_view text) {
  for (const std::string_view unit : {"ft", "'"}) {
    const std::size_t at = text.find(unit);
    if (at == std::string_view::npos) continue;
    const std::string_view before = trimmed(text.substr(0, at)), after = trimmed(text.substr(at + unit.size()));
    const auto feet = parseTyped(before), inches = parseTyped(after);
    if (!feet || !inches || after.front() < '0' || after.front() > '9' || *inches >= 12) return std::nullopt;
    return before.starts_with('-') ? *feet * 12 - *inches : *feet * 12 + *inches;
  }
  return parseTyped(text);
}

std::optional<Slope> checkedSlope(double run) {
  if (!(run >= 1e-3 && run <= 1e3)) return std::nullopt;
  return Slope::horizontalPerVertical(run);
}

}  // namespace

std::string Slope::text() const {
  return fmt::format("{:.4g}:1", run_);
}

std::optional<double> parseNumber(std::string_view text) {
  text = trimmed(text);
  if (text.starts_with('+')) text.remove_prefix(1);
  if (text.empty() || text.front() == '+') return std::nullopt;
  double value = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc{} || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
  return value;
}

std::optional<double> parseTyped(std::string_view text) {
  static const std::regex thousands("[+-]?[0-9]{1,3}( [0-9]{3})+([.,][0-9]+)?");
  std::string plain(trimmed(text));
  if (std::regex_match(plain, thousands)) std::erase(plain, ' ');
  if (std::count(plain.begin(), plain.end(), ',') == 1 && plain.find('.') == std::string::npos)
    std::replace(plain.begin(), plain.end(), ',', '.');
  return parseNumber(plain);
}

std::optional<double> parseLength(std::string_view text, std::optional<double> current, double unit) {
  text = trimmed(text);
  bool relative = false;
  if (text.starts_with('=')) {
    text = trimmed(text.substr(1));
  } else if (text.starts_with('+') || (text.starts_with('-') && current && *current >= 0)) {
    relative = true;
  }
  std::optional<double> number;
  if (takeSuffix(text, "in") || takeSuffix(text, "\"")) {
    unit = kMetresPerFoot / 12;
    number = parseFeetAndInches(text);
  } else {
    if (takeSuffix(text, "mm")) {
      unit = 1e-3;
    } else if (takeSuffix(text, "cm")) {
      unit = 1e-2;
    } else if (takeSuffix(text, "ft") || takeSuffix(text, "'")) {
      unit = kMetresPerFoot;
    } else if (takeSuffix(text, "m")) {
      unit = 1;
    }
    number = parseTyped(text);
  }
  if (!number) return std::nullopt;
  if (relative && !current) return std::nullopt;
  return *number * unit + (relative ? *current : 0.0);
}

std::optional<Slope> parseSlope(std::string_view text) {
  text = trimmed(text);
  if (const auto colon = text.find(':'); colon != std::string_view::npos) {
    const auto h = parseTyped(text.substr(0, colon));
    const auto v = parseTyped(text.substr(colon + 1));
    if (!h || !v || *v <= 0) return std::nullopt;
    return checkedSlope(*h / *v);
  }
  if (takeSuffix(text, "%")) {
    const auto percent = parseTyped(text);
    return percent && *percent > 0 ? checkedSlope(100 / *percent) : std::nullopt;
  }
  if (takeSuffix(text, "deg") || takeSuffix(text, "°")) {
    const auto degrees = parseTyped(text);
    if (!degrees || !(*degrees > 0 && *degrees < 90)) return std::nullopt;
    return checkedSlope(1 / std::tan(*degrees * std::numbers::pi / 180));
  }
  const auto h = parseTyped(text);
  return h ? checkedSlope(*h) : std::nullopt;
}

double roundStep(double wanted) {
  const double power = std::pow(10, std::floor(std::log10(wanted)));
  for (const double step : {1.0, 2.0, 5.0}) {
    if (wanted <= step * power * 1.2) return step * power;
  }
  return 10 * power;
}

std::string formatNumber(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", value, decimals);
  const bool negative = text.starts_with('-');
  if (negative) text.erase(0, 1);
  const std::size_t point = std::min(text.find('.'), text.size());
  for (std::size_t i = point; i > 3; i -= 3) text.insert(i - 3, " ");
  const bool zero = text.find_first_not_of("0. ") == std::string::npos;
  return negative && !zero ? "-" + text : text;
}

}  // namespace inselberg
