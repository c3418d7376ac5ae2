#include "exchange/works_area.h"

#include "base/error.h"

namespace inselberg::exchange {

works::Shape shapeFromArea(const works::Kind& kind, ImportedArea area, const std::string& file,
                           const plane::Origin& origin) {
  if (!area.polygon.holes.empty())
    throw Error("the outline has a hole", {file, area.line}, "give the " + kind.name + " a plain outline");
  return works::begun(kind.fresh(), soundArea(std::move(area.polygon), file, area.line, origin).outer, {});
}

}  // namespace inselberg::exchange
