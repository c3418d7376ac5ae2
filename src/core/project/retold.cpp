#include "project/retold.h"

#include <map>
#include <string>

namespace inselberg::project {

KeptResult retold(KeptResult kept, const Project& before, const Project& now) {
  std::map<std::string, std::string> names;
  for (const Between& seam : before.seams()) {
    if (now.ground(seam.from) && now.ground(seam.to)) names[seamName(before, seam)] = seamName(now, seam);
  }
  for (KeptFigure& figure : kept.figures) {
    const auto name = names.find(figure.name);
    if (figure.works == 0 && name != names.end()) figure.name = name->second;
  }
  return kept;
}

}  // namespace inselberg::project
