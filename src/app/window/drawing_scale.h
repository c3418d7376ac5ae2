// Scales of drawings, as they are offered and typed: "1 : 500".
#pragma once

#include <QString>
#include <optional>

#include "window/command.h"

namespace inselberg::app {

inline constexpr double kDrawingScales[] = {100, 200, 250, 500, 750, 1000, 1250, 2000, 2500, 5000};

inline QString scaleText(double scale) {
  return tr("1 : %1").arg(scale);
}
// 1 to so much; nothing for what is no scale.
inline std::optional<double> scaleFrom(const QString& text) {
  const double scale = text.section(':', -1).trimmed().toDouble();
  return scale >= 1 && scale <= 1e6 ? std::optional(scale) : std::nullopt;
}
inline QString noScaleText(const QString& text) {
  return tr("%1 is no scale. Write it like 1 : 500.").arg(text);
}

}  // namespace inselberg::app
