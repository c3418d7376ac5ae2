// Scales of drawings, as they are offered and typed: "1 : 500", or where lengths are in feet "1 in = 40 ft".
#pragma once

#include <QString>
#include <cmath>
#include <optional>
#include <vector>

#include "base/quantity.h"
#include "window/command.h"
#include "workspace/lengths.h"

namespace inselberg::app {

inline constexpr double kFeetForAnInch = 12;  // of the scale 1 in = 1 ft

// 1 to so much each.
inline std::vector<double> drawingScales() {
  if (!lengths::measures().imperial) return {100, 200, 250, 500, 750, 1000, 1250, 2000, 2500, 5000};
  std::vector<double> scales;
  for (const double feet : {10, 20, 30, 40, 50, 60, 100, 200, 400}) scales.push_back(kFeetForAnInch * feet);
  return scales;
}
inline QString scaleText(double scale) {
  const double feet = scale / kFeetForAnInch;
  return lengths::measures().imperial && feet == std::round(feet) ? tr("1 in = %1 ft").arg(feet)
                                                                  : tr("1 : %1").arg(scale);
}
// 1 to so much; nothing for what is no scale.
inline std::optional<double> scaleFrom(const QString& text) {
  double scale = text.section(':', -1).trimmed().toDouble();
  if (text.contains('=')) {
    const auto drawn = parseLength(text.section('=', 0, 0).toStdString(), std::nullopt);
    const auto real = lengths::typed(text.section('=', 1));
    scale = drawn && real && *drawn > 0 ? std::round(*real / *drawn * 1e6) / 1e6 : 0;
  }
  return scale >= 1 && scale <= 1e6 ? std::optional(scale) : std::nullopt;
}
inline QString noScaleText(const QString& text) {
  return tr("%1 is no scale. Write it like 1 : 500.").arg(text);
}

}  // namespace inselberg::app
