#include "section/standing.h"

#include <algorithm>

namespace inselberg::section {
namespace {

constexpr double kNothing = 1e-9;  // m of height, and of an interval

struct Done {
  std::size_t by;
  Span levels;
  std::optional<Span> notAbove;
  double levelAt(double share) const {
    const auto at = [share](const Span& s) { return s.begin + share * (s.end - s.begin); };
    return notAbove ? std::min(at(levels), at(*notAbove)) : at(levels);
  }
};

// Where any two of the lines cross within an interval, as shares of it; its ends too.
std::vector<double> crossings(const std::vector<Done>& steps) {
  std::vector<Span> lines;
  for (const Done& s : steps) {
    lines.push_back(s.levels);
    if (s.notAbove) lines.push_back(*s.notAbove);
  }
  std::vector<double> at{0, 1};
  for (std::size_t i = 0; i < lines.size(); ++i) {
    for (std::size_t k = 0; k < i; ++k) {
      const double a = lines[i].begin - lines[k].begin, b = lines[i].end - lines[k].end;
      if ((a < 0 && b > 0) || (a > 0 && b < 0)) at.push_back(a / (a - b));
    }
  }
  std::sort(at.begin(), at.end());
  return at;
}

// What is left of each step's top once those after it are made, at a share of the interval.
std::vector<double> topsAt(const std::vector<Done>& steps, double share) {
  std::vector<double> tops;
  for (const Done& s : steps) tops.push_back(s.levelAt(share));
  for (std::size_t i = tops.size() - 1; i-- > 0;) tops[i] = std::min(tops[i], tops[i + 1]);
  return tops;
}

}  // namespace

std::vector<Standing> standingAlong(const Section& section, std::span<const Step> asked, double floor) {
  std::vector<Standing> all;
  for (std::size_t i = 0; i + 1 < section.stations.size(); ++i) {
    std::vector<Done> steps;
    for (std::size_t k = 0; k < asked.size(); ++k) {
      const auto& span = section.grounds[asked[k].ground][i];
      const auto& cap = asked[k].notAbove ? section.grounds[*asked[k].notAbove][i] : span;
      if (!span || !cap) continue;
      steps.push_back({k, *span, {}});
      if (asked[k].notAbove) steps.back().notAbove = *cap;
    }
    if (steps.empty()) continue;
    const double from = section.stations[i], length = section.stations[i + 1] - from;
    const auto shares = crossings(steps);
    for (std::size_t c = 0; c + 1 < shares.size(); ++c) {
      if ((shares[c + 1] - shares[c]) * length < kNothing) continue;
      const auto begin = topsAt(steps, shares[c]), end = topsAt(steps, shares[c + 1]);
      double lowBegin = floor, lowEnd = floor;
      for (std::size_t s = 0; s < steps.size(); ++s) {
        // The first that is there stands on the land, whichever it is.
        if (begin[s] - lowBegin > kNothing || end[s] - lowEnd > kNothing) {
          all.push_back({s == 0 ? 0 : steps[s].by, from + shares[c] * length, lowBegin, begin[s],
                         from + shares[c + 1] * length, lowEnd, end[s]});
        }
        lowBegin = begin[s], lowEnd = end[s];
      }
    }
  }
  return all;
}

}  // namespace inselberg::section
