// Each rule is one look over the ground. Spikes and zeros: a point against the mean of those beside it, the nearer
// counting more, beyond a limit that follows the ground's own roughness (12 robust standard deviations, by the median;
// 0.5 m at least), and off the plane that fits its neighbourhood best. Contours: those side by side (joined by a side
// of a triangle) differ by one common step, found as the commonest; one that fits none beside it is doubted, and the
// level that would fit most is offered. Borders: loops that run clockwise are holes; long thin triangles against the
// spacing of the points.
#include "ground/check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <unordered_map>

#include "base/hash.h"
#include "base/median.h"
#include "base/quantity.h"
#include "ground/border.h"
#include "ground/each_side.h"
#include "ground/recut.h"
#include "plane/inside.h"
#include "plane/place_text.h"

namespace inselberg::ground {
namespace {

constexpr std::size_t kMost = 100;  // of a kind

// The points beside each point, from the triangles' sides.
struct Neighbours {
  std::vector<std::size_t> starts;
  std::vector<Index> list;
  std::span<const Index> of(Index i) const { return {list.data() + starts[i], starts[i + 1] - starts[i]}; }
};

Neighbours neighboursOf(const Tin& tin) {
  Neighbours n;
  n.starts.assign(tin.points().size() + 1, 0);
  eachSide(tin, [&](Index a, Index b) { ++n.starts[a + 1], ++n.starts[b + 1]; });
  for (std::size_t i = 1; i < n.starts.size(); ++i) n.starts[i] += n.starts[i - 1];
  n.list.resize(n.starts.back());
  std::vector<std::size_t> at(n.starts.begin(), n.starts.end() - 1);
  eachSide(tin, [&](Index a, Index b) { n.list[at[a]++] = b, n.list[at[b]++] = a; });
  return n;
}

class Checker {
 public:
  Checker(const Tin& tin, const BuildInput& input, const BuildRules& rules, const plane::Origin& origin,
          const Progress& progress)
      : tin_(tin), input_(input), rules_(rules), origin_(origin), progress_(progress) {}

  Doubts run() {
    if (tin_.empty()) return {};
    proportions();
    beside_ = neighboursOf(tin_);
    progress_.check();
    points();
    progress_.check();
    contours();
    progress_.check();
    border();
    progress_.check();
    outside();
    for (const auto& [kind, n] : count_) {
      if (n <= kMost) continue;
      const auto last =
          std::find_if(doubts_.rbegin(), doubts_.rend(), [kind = kind](const Doubt& d) { return d.kind == kind; });
      last->text += fmt::format(" {} more like it.", n - kMost);
    }
    return std::move(doubts_);
  }

 private:
  template <class... Args>
  void doubt(DoubtKind kind, Vec2 where, fmt::format_string<Args...> text, Args&&... args) {
    if (++count_[kind] <= kMost) doubts_.push_back({kind, where, fmt::format(text, std::forward<Args>(args)...)});
  }
  std::string place(Vec2 p) const { return plane::placeText(p, origin_); }

  void proportions() {
    const double extent = std::max(tin_.bounds().width(), tin_.bounds().height());
    const double relief = tin_.maxLevel() - tin_.minLevel();
    if (extent > 50'000)
      doubt(DoubtKind::oddExtent, tin_.bounds().centre(),
            "The ground stretches over {} km. A stray point, or the wrong unit?", formatNumber(extent / 1000, 0));
    if (extent < 1)
      doubt(DoubtKind::oddExtent, tin_.bounds().centre(),
            "The ground covers less than a metre ({}\u00a0m). The wrong unit?", formatNumber(extent, 3));
    if (relief > 3000 || (relief > extent && extent >= 1))
      doubt(DoubtKind::oddExtent, tin_.bounds().centre(),
            "The levels span {}\u00a0m over {}\u00a0m of ground. A stray level, or the wrong unit?",
            formatNumber(relief, 0), formatNumber(extent, 0));
  }

  // Spikes, pits and zeros, from each point and those beside it.
  void points() {
    const auto points = tin_.points();
    struct Look {
      double off = 0;    // over the mean of its neighbours, the nearer counting more
      double least = 0;  // beyond the neighbour that comes nearest in level; 0 when it is not beyond all
    };
    std::vector<Look> looks(points.size());
    std::vector<double> usual;
    usual.reserve(points.size());
    for (Index i = 0; i < points.size(); ++i) {
      if ((i & 0xffff) == 0) progress_.check();
      double weight = 0, sum = 0, low = 1e300, high = -1e300;
      for (const Index j : beside_.of(i)) {
        const double w = 1 / std::max(plane::distance(points[i].plan(), points[j].plan()), 1e-3);
        weight += w, sum += w * points[j].z;
        low = std::min(low, points[j].z), high = std::max(high, points[j].z);
      }
      if (!(weight > 0)) continue;
      looks[i].off = points[i].z - sum / weight;
      looks[i].least = points[i].z > high ? points[i].z - high : points[i].z < low ? low - points[i].z : 0;
      usual.push_back(std::abs(looks[i].off));
    }
    const double limit = std::max(0.5, 12 * 1.4826 * median(std::move(usual)));
    const bool zerosOdd = tin_.maxLevel() > 1 || tin_.minLevel() < -1;
    for (Index i = 0; i < points.size(); ++i) {
      const Look& look = looks[i];
      const Vec2 p = points[i].plan();
      if (points[i].z == 0 && zerosOdd && std::abs(look.off) > 1) {
        doubt(DoubtKind::zeroLevel, p, "The level at {} is exactly zero, and {}\u00a0m around it. Lost on the way?",
              place(p), formatNumber(-look.off, 2));
      } else if (std::abs(look.off) > limit && look.least > 0.25 * std::abs(look.off) &&
                 std::abs(offPlane(i)) > limit) {
        doubt(DoubtKind::spike, p, "The point at {} ({:.3f}\u00a0m) lies {}\u00a0m {} all around it.", place(p),
              points[i].z, formatNumber(std::abs(look.off), 2), look.off > 0 ? "above" : "below");
      }
    }
  }

  // How far a point lies over the plane that fits those beside it, and those beside them, best: at the border of a
  // slope the outermost point is above or below all around it, and no spike.
  double offPlane(Index i) const {
    const auto points = tin_.points();
    std::set<Index> around;
    for (const Index j : beside_.of(i)) {
      around.insert(j);
      for (const Index k : beside_.of(j)) around.insert(k);
    }
    around.erase(i);
    // Moments about the point, the nearer counting more; solved by hand for the level there.
    double w = 0, x = 0, y = 0, z = 0, xx = 0, xy = 0, yy = 0, xz = 0, yz = 0;
    for (const Index j : around) {
      const double dx = points[j].x - points[i].x, dy = points[j].y - points[i].y, dz = points[j].z - points[i].z;
      const double each = 1 / std::max(dx * dx + dy * dy, 1e-6);
      w += each, x += each * dx, y += each * dy, z += each * dz;
      xx += each * dx * dx, xy += each * dx * dy, yy += each * dy * dy, xz += each * dx * dz, yz += each * dy * dz;
    }
    const double a = xx - x * x / w, b = xy - x * y / w, c = yy - y * y / w, p = xz - x * z / w, q = yz - y * z / w;
    const double det = a * c - b * b;
    if (!(det > 1e-9 * a * c)) return z / -w;  // all on one line
    const double east = (p * c - q * b) / det, north = (q * a - p * b) / det;
    return (east * x + north * y - z) / w;
  }

  // The one level that goes best with the contours beside: a step from each, or the same, and not that of a contour on
  // their other side. Nothing when two are as good.
  template <class LevelOf>
  static std::optional<double> fittingLevel(Index line, const std::vector<std::set<Index>>& beside,
                                            const LevelOf& levelOf, double step) {
    const auto same = [&](double a, double b) { return std::abs(a - b) < 0.01 * step; };
    std::optional<double> best;
    int most = 0;
    bool alone = false;
    for (const Index m : beside[line]) {
      for (const double level : {levelOf(m) - step, levelOf(m), levelOf(m) + step}) {
        if (best && same(level, *best)) continue;
        int score = 0;
        for (const Index n : beside[line]) {
          score += same(std::abs(level - levelOf(n)), step) ? 3 : same(level, levelOf(n)) ? 1 : -3;
          for (const Index o : beside[n]) score -= o != line && same(level, levelOf(o)) ? 1 : 0;
        }
        if (score > most || (!best && score > 0)) {
          best = level, most = score, alone = true;
        } else if (best && score == most) {
          alone = false;
        }
      }
    }
    return alone ? best : std::nullopt;
  }

  // Which contour each point of the ground lies on, then how the levels of contours side by side go together.
  void contours() {
    std::unordered_map<Hash, Index, HashOfHash> at;
    const auto key = [](Vec2 p) { return Hasher().value(p.x).value(p.y).finish(); };
    std::vector<const Breakline*> lines;
    for (const Breakline& line : input_.breaklines) {
      if (!line.contour || line.vertices.empty()) continue;
      for (const Vec3& v : line.vertices) at.try_emplace(key(v.plan()), static_cast<Index>(lines.size()));
      lines.push_back(&line);
    }
    if (lines.size() < 2) return;
    const auto points = tin_.points();
    std::vector<Index> lineOf(points.size(), kNone);
    for (Index i = 0; i < points.size(); ++i) {
      if (const auto found = at.find(key(points[i].plan())); found != at.end()) lineOf[i] = found->second;
    }
    const auto levelOf = [&](Index line) { return lines[line]->vertices.front().z; };
    std::vector<std::set<Index>> beside(lines.size());
    for (Index i = 0; i < points.size(); ++i) {
      if (lineOf[i] == kNone) continue;
      for (const Index j : beside_.of(i)) {
        if (lineOf[j] != kNone && lineOf[j] != lineOf[i]) beside[lineOf[i]].insert(lineOf[j]);
      }
    }
    std::map<long long, std::size_t> steps;  // in mm
    for (Index l = 0; l < lines.size(); ++l) {
      for (const Index m : beside[l]) {
        const long long step = std::llround(1000 * std::abs(levelOf(l) - levelOf(m)));
        if (step > 0) ++steps[step];
      }
    }
    if (!steps.empty()) {
      const auto common = std::max_element(steps.begin(), steps.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
      const double step = 1e-3 * static_cast<double>(common->first);
      const auto fits = [&](Index l, Index m) { return std::abs(levelOf(l) - levelOf(m)) < 1.5 * step; };
      for (Index l = 0; l < lines.size(); ++l) {
        if (beside[l].empty() || std::any_of(beside[l].begin(), beside[l].end(), [&](Index m) { return fits(l, m); }))
          continue;
        // With one neighbour either of the two may be wrong: it is this one when the other fits elsewhere.
        if (beside[l].size() == 1) {
          const auto& others = beside[*beside[l].begin()];
          if (std::none_of(others.begin(), others.end(), [&](Index m) { return fits(*beside[l].begin(), m); }))
            continue;
        }
        const Vec2 p = lines[l]->vertices[lines[l]->vertices.size() / 2].plan();
        const auto fitting = fittingLevel(l, beside, levelOf, step);
        doubt(DoubtKind::contourLevel, p,
              "The contour {}\u00a0m at {} does not fit those beside it, which go by {}\u00a0m. Mistyped?{}",
              formatNumber(levelOf(l), 3), place(p), formatNumber(step, 3),
              fitting ? " " + formatNumber(*fitting, 3) + "\u00a0m would fit." : std::string());
        if (count_[DoubtKind::contourLevel] <= kMost) doubts_.back().level = fitting;
      }
    }
    if (rules_.cureFlats) return;
    double area = 0, greatest = 0;
    std::size_t flats = 0;
    Vec2 where;
    for (Index t = 0; t < tin_.triangles().size(); ++t) {
      const auto& [a, b, c] = tin_.triangles()[t];
      if (lineOf[a] == kNone || lineOf[b] == kNone || lineOf[c] == kNone) continue;
      if (points[a].z != points[b].z || points[a].z != points[c].z) continue;
      const double here = plane::turn(points[a].plan(), points[b].plan(), points[c].plan()) / 2;
      if (here < 1e-3) continue;
      ++flats, area += here;
      if (here > greatest) greatest = here, where = centroid(tin_, t);
    }
    if (flats > 0)
      doubt(DoubtKind::flats, where,
            "{} triangles lie flat between contours, {}\u00a0m² in all. Curing flats adds the ridges and valleys.",
            flats, formatNumber(area, 0));
  }

  void border() {
    const auto triangles = tin_.triangles();
    std::vector<plane::Polygon> left;  // what is left out on purpose
    for (const plane::Polygon& b : input_.boundaries) {
      for (const plane::Ring& hole : b.holes) left.push_back({hole, {}});
    }
    for (const plane::Polygon& v : input_.voids) left.push_back({v.outer, {}});
    const plane::Inside isVoid(left);
    for (const auto& loop : borderLoops(triangles, tin_.neighbours())) {
      double twice = 0;
      for (std::size_t i = 1; i + 1 < loop.size(); ++i)
        twice += plane::cross(tin_.plan(loop[i]) - tin_.plan(loop[0]), tin_.plan(loop[i + 1]) - tin_.plan(loop[0]));
      if (!(twice < -0.02)) continue;
      // A place beside the border and inside the hole, to compare with the voids.
      const Vec2 a = tin_.plan(loop[0]), b = tin_.plan(loop.size() > 1 ? loop[1] : loop[0]);
      const Vec2 along = b - a, middle = 0.5 * (a + b);
      const Vec2 in = middle + (1e-3 / std::max(plane::norm(along), 1e-9)) * Vec2{along.y, -along.x};
      if (isVoid(in)) continue;
      doubt(DoubtKind::hole, middle, "There is a hole of {}\u00a0m² in the ground at {}, and no void there.",
            formatNumber(-twice / 2, 1), place(middle));
    }
    if (!input_.boundaries.empty()) return;
    const double limit = proposedMaxEdge(tin_);
    double longest = 0;
    std::size_t thin = 0;
    Vec2 where;
    for (Index t = 0; t < triangles.size(); ++t) {
      const auto c = tin_.corners(t);
      double side = 0;
      bool atBorder = false;
      for (int k = 0; k < 3; ++k) {
        side = std::max(
            side, plane::distance(c[static_cast<std::size_t>(k)].plan(), c[static_cast<std::size_t>(next(k))].plan()));
        atBorder |= tin_.neighbours()[t][k] == kNone;
      }
      const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
      // Thinner than a tenth of its length, and wide enough to matter.
      if (!atBorder || side <= limit || area > 0.1 * side * side || area < 1e-3 * side) continue;
      ++thin;
      if (side > longest) longest = side, where = centroid(tin_, t);
    }
    if (thin > 0 && !(rules_.maxEdge > 0 && rules_.maxEdge <= limit))
      doubt(DoubtKind::borderSlivers, where,
            "{} long thin triangles stand at the border, up to {}\u00a0m long. A longest edge of {}\u00a0m would trim "
            "them.",
            thin, formatNumber(longest, 1), formatNumber(limit, limit < 10 ? 1 : 0));
  }

  void outside() {
    if (input_.boundaries.empty()) return;
    std::size_t n = 0;
    Vec2 where;
    std::vector<plane::Polygon> outers;
    for (const plane::Polygon& b : input_.boundaries) outers.push_back({b.outer, {}});
    const plane::Inside inside(outers);
    for (const Vec3& p : input_.points) {
      if (!inside(p.plan()) && n++ == 0) where = p.plan();
    }
    if (n > 0)
      doubt(DoubtKind::pointsOutside, where,
            "{} of {} points lie outside the boundary; they shape the ground at its edge only.", n,
            input_.points.size());
  }

  const Tin& tin_;
  const BuildInput& input_;
  const BuildRules& rules_;
  const plane::Origin& origin_;
  const Progress& progress_;
  Neighbours beside_;
  Doubts doubts_;
  std::map<DoubtKind, std::size_t> count_;
};

}  // namespace

double proposedMaxEdge(const Tin& tin) {
  std::vector<double> lengths;
  const std::size_t step = tin.triangles().size() / 100'000 + 1;
  for (Index t = 0; t < tin.triangles().size(); t += static_cast<Index>(step)) {
    const auto c = tin.corners(t);
    lengths.push_back(plane::distance(c[0].plan(), c[1].plan()));
  }
  const double raw = 4 * median(std::move(lengths));
  if (!(raw > 0)) return 1;
  const double unit = std::pow(10, std::floor(std::log10(raw)));
  return std::ceil(raw / unit * 2) / 2 * unit;
}

Doubts check(const Tin& tin, const BuildInput& input, const BuildRules& rules, const plane::Origin& origin,
             const Progress& progress) {
  return Checker(tin, input, rules, origin, progress).run();
}

}  // namespace inselberg::ground
