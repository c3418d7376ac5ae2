#include "project/survey_offset.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

#include "base/quantity.h"

namespace inselberg::project {
namespace {

using ground::Index;
using ground::kNone;
using plane::Vec2;

constexpr std::size_t kLeastPoints = 50;
constexpr double kLeastOffset = 0.05;  // m

double median(std::vector<double> values) {
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

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

template <class F>
void eachSide(const ground::Tin& tin, F&& f) {
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      const Index other = tin.neighbours()[t][k];
      if (other == kNone || other > t) f(tin.triangles()[t][ground::next(k)], tin.triangles()[t][ground::before(k)]);
    }
  }
}

// The area of the convex hull (A. M. Andrew, 1979).
double hullArea(std::vector<Vec2> points) {
  std::sort(points.begin(), points.end(), [](Vec2 a, Vec2 b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
  double twice = 0;
  for (int half = 0; half < 2; ++half) {
    std::vector<Vec2> chain;
    for (const Vec2 p : points) {
      while (chain.size() >= 2 && plane::turn(chain[chain.size() - 2], chain.back(), p) <= 0) chain.pop_back();
      chain.push_back(p);
    }
    for (std::size_t i = 0; i + 1 < chain.size(); ++i)
      twice += plane::cross(chain[i] - points.front(), chain[i + 1] - points.front());
    std::reverse(points.begin(), points.end());
  }
  return twice / 2;
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
      eachSide(tin, [&](Index p, Index q) {
        const double length = plane::distance(points[p].plan(), points[q].plan());
        look(p, q, length), look(q, p, length);
        if (owners[p] == b && owners[q] == b) spacing.push_back(length);
      });
      std::vector<double> offsets;
      std::vector<Vec2> places;
      for (Index p = 0; p < points.size(); ++p) {
        if (beside[p].count < 2) continue;
        offsets.push_back(points[p].z - beside[p].sum / beside[p].weight);
        places.push_back(points[p].plan());
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
      doubts.push_back({ground::DoubtKind::sourcesOverlap, places[places.size() / 2],
                        fmt::format("{} and {} cover the same ground, and {} lies {} m {} on the whole. Are both "
                                    "at the same height of reference?",
                                    surveys[b]->name, surveys[a]->name, surveys[b]->name,
                                    formatNumber(std::abs(offset), 2), offset > 0 ? "above" : "below")});
    }
  }
  return doubts;
}

}  // namespace inselberg::project
