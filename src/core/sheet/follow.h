// Following a dark line of a sheet from one place to another, as an eye does.
#pragma once

#include <vector>

#include "sheet/document.h"

namespace inselberg::sheet {

struct Followed {
  std::vector<Vec2> points;  // on the page, from near the one place to near the other
  // How closely the way follows a dark line: 1 all along on ink, 0 on bare paper.
  double closeness = 0;
};

// The way of least cost over the picture between two places of a page, where dark is cheap; both ends are drawn to the
// darkest place within `reach` (in the page's unit). `finest`: how far apart pixels are looked at, in the page's unit
// (that of a picture: 1). A longer way is looked at more coarsely. Throws Error, Cancelled.
Followed follow(Document& document, int page, Vec2 from, Vec2 to, double reach, double finest,
                const Progress& progress = {});

}  // namespace inselberg::sheet
