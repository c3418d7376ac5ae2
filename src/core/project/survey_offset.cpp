// In the triangulation of all surveys together, points of one that have two neighbours or more of another are compared
// with these, the nearer counting more; the offset is the median over such points. That they lie all over an area and
// not along a line is seen from their number against the squares of the spacing that fit into their hull.
#include "project/survey_offset.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

#include "base/median.h"
#include "base/quantity.h"
#include "ground/each_side.h"
#include "plane/hull.h"
#include "plane/polygon.h"

namespace inselberg::project {
namespace {

using ground::Index;
using ground::kNone;

constexpr std::size_t kLeastPoints = 50;
constexpr double kLeastOffset = 0.05;  // m

// The source each point of the ground comes from; kNone where it comes from none of them.
std::vector<Index> ownersOf(const ground::Tin& tin, const std::vector<const Source*>& surveys) {
  struct Known {
    double x, y;
    Index source;
  };
  std::vector<Known> known;
  for (Index s = 0; s < surveys.size(); ++s) {
    for (const auto& p : surveys[s]->data->points) known.push_back({p.x, p.y, s});
  }
  const auto before = [](const Known& a, const Known& b) { return a.x < b.x || (a.x == b.x && a.y < b.y); };
  std::sort(known.begin(), known.end(), before);
  std::vector<Index> owners;
  owners.reserve(tin.points().size());
  for (const auto& p : tin.points()) {
    const auto found = std::lower_bound(known.begin(), known.end(), Known{p.x, p.y, 0}, before);
    owners.push_back(found != known.end() && found->x == p.x && found->y == p.y ? found->source : kNone);
  }
  return owners;
}

double hullArea(const std::vector<plane::Vec3>& points) {
  plane::Ring ring;
  for (const auto i : plane::hullOf(points)) ring.push_back(points[i].plan());
  return plane::signedArea(ring);
}

}  // namespace

ground::Doubts offsetsBetween(std::span<const Source* const> sources, const ground::Tin& tin,
                              const Progress& progress) {
  std::vector<const Source*> surveys;
  for (const Source* s : sources) {
    if (s->data->points.size() >= kLeastPoints) surveys.push_back(s);
  }
  ground::Doubts doubts;
  if (surveys.size() < 2) return doubts;
  const std::vector<Index> owners = ownersOf(tin, surveys);
  const auto points = tin.points();
  for (Index b = 1; b < surveys.size(); ++b) {
    for (Index a = 0; a < b; ++a) {
      progress.check();
      struct Beside {
        double weight = 0, sum = 0;
        int count = 0;
      };
      std::vector<Beside> beside(points.size());
      std::vector<double> spacing;
      const auto look = [&](Index p, Index q, double length) {
        if (owners[p] != b || owners[q] != a) return;
        const double w = 1 / std::max(length, 1e-3);
        beside[p].weight += w, beside[p].sum += w * points[q].z, ++beside[p].count;
      };
      ground::eachSide(tin, [&](Index p, Index q) {
        const double length = plane::distance(points[p].plan(), points[q].plan());
        look(p, q, length), look(q, p, length);
        if (owners[p] == b && owners[q] == b) spacing.push_back(length);
      });
      std::vector<double> offsets;
      std::vector<plane::Vec3> places;
      for (Index p = 0; p < points.size(); ++p) {
        if (beside[p].count < 2) continue;
        offsets.push_back(points[p].z - beside[p].sum / beside[p].weight);
        places.push_back(points[p]);
      }
      const std::size_t least = std::min(surveys[a]->data->points.size(), surveys[b]->data->points.size()) / 10;
      if (offsets.size() < std::max(kLeastPoints, least) || spacing.empty()) continue;
      // Points all over an area have about its size in squares of their spacing; those along lines have far less or
      // far more.
      const double squares = static_cast<double>(offsets.size()) * std::pow(median(spacing), 2);
      const double area = hullArea(places);
      if (squares < 0.2 * area || squares > 5 * area) continue;
      const double offset = median(offsets);
      if (std::abs(offset) <= kLeastOffset) continue;
      doubts.push_back({ground::DoubtKind::sourcesOverlap, places[places.size() / 2].plan(),
                        fmt::format("{} and {} cover the same ground, and {} lies {}\u00a0m {} on the whole. Are both "
                                    "at the same height of reference?",
                                    surveys[b]->name, surveys[a]->name, surveys[b]->name,
                                    formatNumber(std::abs(offset), 2), offset > 0 ? "above" : "below")});
    }
  }
  return doubts;
}

}  // namespace inselberg::project
