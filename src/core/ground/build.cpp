// Method. Breaklines are given levels throughout, then a shared vertex wherever two cross (found through a grid of
// segments). Points within 1 mm of each other, found by sorting all into a grid of cells, are gathered into groups, and
// each group is triangulated as one point. The boundary is cut afterwards (clip.h), so that it cannot alter a level.
#include "ground/build.h"

#include <fmt/format.h>

#include <cmath>
#include <map>
#include <numeric>
#include <unordered_map>

#include "base/error.h"
#include "ground/clip.h"
#include "ground/flats.h"
#include "ground/triangulate.h"

namespace inselberg::ground {
namespace {

constexpr double kSamePlan = 1e-3;
constexpr double kSameLevel = 5e-3;

std::string place(Vec2 p, const plane::Origin& origin) {
  return fmt::format("E {:.2f} N {:.2f}", p.x + origin.easting, p.y + origin.northing);
}

// Gives every vertex a level; false when none has one.
bool fillLevels(std::vector<Vec3>& line) {
  std::vector<std::size_t> known;
  for (std::size_t i = 0; i < line.size(); ++i) {
    if (!std::isnan(line[i].z)) known.push_back(i);
  }
  if (known.empty()) return false;
  for (std::size_t i = 0; i < known.front(); ++i) line[i].z = line[known.front()].z;
  for (std::size_t i = known.back() + 1; i < line.size(); ++i) line[i].z = line[known.back()].z;
  for (std::size_t k = 0; k + 1 < known.size(); ++k) {
    const std::size_t a = known[k], b = known[k + 1];
    double total = 0;
    for (std::size_t i = a; i < b; ++i) total += plane::distance(line[i].plan(), line[i + 1].plan());
    double run = 0;
    for (std::size_t i = a + 1; i < b; ++i) {
      run += plane::distance(line[i - 1].plan(), line[i].plan());
      line[i].z = line[a].z + (total > 0 ? run / total : 0) * (line[b].z - line[a].z);
    }
  }
  return true;
}

struct Segment {
  Vec3 a, b;
  std::size_t line;
  bool contour;
};

// A vertex to be put into a segment, at a fraction of its length.
struct Cut {
  double along;
  Vec3 at;
};

// Where segments of the lines cross away from each other's ends, in grid cells of about a segment's length.
class Crossings {
 public:
  Crossings(const std::vector<Segment>& segments, const plane::Origin& origin, BuildResult& result)
      : segments_(segments), origin_(origin), result_(result), cuts_(segments.size()) {
    if (segments.empty()) return;
    double total = 0;
    for (const Segment& s : segments) {
      box_.add(s.a.plan());
      box_.add(s.b.plan());
      total += std::max(std::abs(s.a.x - s.b.x), std::abs(s.a.y - s.b.y));
    }
    size_ = std::max(
        {2 * total / static_cast<double>(segments.size()), std::max(box_.width(), box_.height()) / 2000, 1e-3});
    std::unordered_map<std::uint64_t, std::vector<Index>> cells;
    for (Index i = 0; i < segments.size(); ++i) {
      eachCell(segments[i], [&](std::uint64_t cell) { cells[cell].push_back(i); });
    }
    for (const auto& [cell, members] : cells) {
      for (std::size_t i = 0; i < members.size(); ++i) {
        for (std::size_t j = i + 1; j < members.size(); ++j) tryPair(cell, members[i], members[j]);
      }
    }
    for (auto& cuts : cuts_) {
      std::sort(cuts.begin(), cuts.end(), [](const Cut& x, const Cut& y) { return x.along < y.along; });
    }
    std::sort(result.doubts.begin(), result.doubts.end(), [](const Doubt& x, const Doubt& y) {
      return std::pair(x.where.x, x.where.y) < std::pair(y.where.x, y.where.y);
    });
  }

  const std::vector<Cut>& cuts(std::size_t segment) const { return cuts_[segment]; }

 private:
  std::uint64_t cellAt(double x, double y) const {
    return static_cast<std::uint64_t>((y - box_.minY) / size_) << 32 |
           static_cast<std::uint64_t>((x - box_.minX) / size_);
  }

  template <class F>
  void eachCell(const Segment& s, F&& f) const {
    const auto column = [&](double x) { return static_cast<long>((x - box_.minX) / size_); };
    const auto row = [&](double y) { return static_cast<long>((y - box_.minY) / size_); };
    for (long r = row(std::min(s.a.y, s.b.y)); r <= row(std::max(s.a.y, s.b.y)); ++r) {
      for (long c = column(std::min(s.a.x, s.b.x)); c <= column(std::max(s.a.x, s.b.x)); ++c) {
        f(static_cast<std::uint64_t>(r) << 32 | static_cast<std::uint64_t>(c));
      }
    }
  }

  void tryPair(std::uint64_t cell, Index i, Index j) {
    const Segment &s = segments_[i], &t = segments_[j];
    const Vec2 a = s.a.plan(), b = s.b.plan(), c = t.a.plan(), d = t.b.plan();
    const double abc = plane::turn(a, b, c), abd = plane::turn(a, b, d);
    const double cda = plane::turn(c, d, a), cdb = plane::turn(c, d, b);
    if (!((abc > 0) != (abd > 0) && (cda > 0) != (cdb > 0)) || abc == abd || cda == cdb) return;
    const double u = cda / (cda - cdb), v = abc / (abc - abd);
    const Vec2 p = a + u * (b - a);
    if (cellAt(p.x, p.y) != cell) return;  // found once, in the cell of the crossing
    const double zs = s.a.z + u * (s.b.z - s.a.z), zt = t.a.z + v * (t.b.z - t.a.z);
    const double z = s.line > t.line ? zs : zt;
    for (const Vec2 end : {a, b, c, d}) {
      if (plane::distance(p, end) <= kSamePlan) return;  // they meet at a vertex
    }
    if (std::abs(zs - zt) > kSameLevel) {
      const bool contours = s.contour && t.contour;
      result_.doubts.push_back(
          {contours ? DoubtKind::contourCrossing : DoubtKind::breaklineCrossing, p,
           fmt::format("{} cross at {} with levels {:.3f} and {:.3f}; the later line's {:.3f} is used.",
                       contours ? "Contours" : "Breaklines", place(p, origin_), std::min(zs, zt), std::max(zs, zt),
                       z)});
    }
    ++result_.crossings;
    cuts_[i].push_back({u, {p.x, p.y, z}});
    cuts_[j].push_back({v, {p.x, p.y, z}});
  }

  const std::vector<Segment>& segments_;
  const plane::Origin& origin_;
  BuildResult& result_;
  std::vector<std::vector<Cut>> cuts_;
  Box box_;
  double size_ = 1;
};

// All vertices, the breaklines' behind the points', and the segments between them.
struct Vertices {
  std::vector<Vec3> at;
  std::vector<Edge> edges;
  std::vector<char> contour;  // one for each vertex: it lies on a contour
};

Vertices gather(const BuildInput& input, const plane::Origin& origin, BuildResult& result) {
  Vertices all{input.points, {}, std::vector<char>(input.points.size(), 0)};
  const auto add = [&](const Vec3& p, bool contour) {
    all.at.push_back(p);
    all.contour.push_back(contour);
  };
  std::vector<Segment> segments;
  std::size_t number = 0;
  for (const Breakline& line : input.breaklines) {
    std::vector<Vec3> v = line.vertices;
    if (line.closed && !v.empty()) v.push_back(v.front());
    if (!fillLevels(v)) {
      ++result.linesWithoutLevel;
      continue;
    }
    if (v.size() == 1) add(v.front(), line.contour);
    for (std::size_t i = 0; i + 1 < v.size(); ++i) segments.push_back({v[i], v[i + 1], number, line.contour});
    ++number;
  }
  const Crossings crossings(segments, origin, result);
  for (std::size_t i = 0; i < segments.size(); ++i) {
    const Segment& s = segments[i];
    const bool goesOn = i > 0 && segments[i - 1].line == s.line && segments[i - 1].b == s.a;
    if (!goesOn) add(s.a, s.contour);
    Index from = static_cast<Index>(all.at.size() - 1);
    const auto step = [&](const Vec3& to) {
      add(to, s.contour);
      const Index index = static_cast<Index>(all.at.size() - 1);
      all.edges.emplace_back(from, index);
      from = index;
    };
    for (const Cut& cut : crossings.cuts(i)) step(cut.at);
    step(s.b);
  }
  return all;
}

// Groups of input vertices that are one in plan: representative[i] is the first member of i's group.
class Groups {
 public:
  explicit Groups(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), Index{0}); }
  Index find(Index i) {
    while (parent_[i] != i) i = parent_[i] = parent_[parent_[i]];
    return i;
  }
  void join(Index i, Index j) {
    i = find(i), j = find(j);
    if (i < j) parent_[j] = i;
    if (j < i) parent_[i] = j;
  }

 private:
  std::vector<Index> parent_;
};

// Joins all vertices within 1 mm of each other. Cells hold about one vertex; only those within 1 mm of a cell's edge
// need a look into the next cell.
Groups joinNear(const std::vector<Vec3>& at) {
  Groups groups(at.size());
  Box box;
  for (const Vec3& p : at) box.add(p.plan());
  if (box.empty()) return groups;
  const double n = static_cast<double>(at.size());
  const double size = std::max({std::sqrt(std::max(box.width(), 1e-3) * std::max(box.height(), 1e-3) / n),
                                std::max(box.width(), box.height()) / 4000, 4 * kSamePlan});
  const double x0 = box.minX - 2 * kSamePlan, y0 = box.minY - 2 * kSamePlan;
  const auto cell = [&](double v) { return static_cast<std::size_t>(v / size); };
  const std::size_t columns = cell(box.maxX + 2 * kSamePlan - x0) + 1, rows = cell(box.maxY + 2 * kSamePlan - y0) + 1;
  std::vector<Index> starts(columns * rows + 1, 0), sorted(at.size());
  const auto cellOf = [&](const Vec3& p) { return cell(p.y - y0) * columns + cell(p.x - x0); };
  for (const Vec3& p : at) ++starts[cellOf(p) + 1];
  for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
  {
    std::vector<Index> cursor(starts.begin(), starts.end() - 1);
    for (Index i = 0; i < at.size(); ++i) sorted[cursor[cellOf(at[i])]++] = i;
  }
  for (Index i = 0; i < at.size(); ++i) {
    const Vec3& p = at[i];
    const std::size_t c0 = cell(p.x - kSamePlan - x0), c1 = cell(p.x + kSamePlan - x0);
    const std::size_t r0 = cell(p.y - kSamePlan - y0), r1 = cell(p.y + kSamePlan - y0);
    for (std::size_t r = r0; r <= r1; ++r) {
      for (std::size_t c = c0; c <= c1; ++c) {
        for (Index k = starts[r * columns + c], end = starts[r * columns + c + 1]; k < end; ++k) {
          const Index j = sorted[k];
          if (j < i && plane::distance(at[j].plan(), p.plan()) <= kSamePlan) groups.join(i, j);
        }
      }
    }
  }
  return groups;
}

// The level of each group by the rule, written to its representative; doubts where members disagree.
void settleLevels(std::vector<Vec3>& at, Groups& groups, DuplicateRule rule, const plane::Origin& origin,
                  BuildResult& result) {
  std::map<Index, std::vector<Index>> members;
  for (Index i = 0; i < at.size(); ++i) {
    const Index g = groups.find(i);
    if (g == i) continue;
    auto& list = members[g];
    if (list.empty()) list.push_back(g);
    list.push_back(i);
  }
  for (const auto& [g, list] : members) {
    double low = at[g].z, high = at[g].z, sum = 0;
    for (const Index i : list) low = std::min(low, at[i].z), high = std::max(high, at[i].z), sum += at[i].z;
    result.duplicates += list.size() - 1;
    double z = at[g].z;
    switch (rule) {
      case DuplicateRule::first:
        break;
      case DuplicateRule::last:
        z = at[list.back()].z;
        break;
      case DuplicateRule::mean:
        z = sum / static_cast<double>(list.size());
        break;
      case DuplicateRule::highest:
        z = high;
        break;
      case DuplicateRule::lowest:
        z = low;
        break;
    }
    if (high - low > kSameLevel) {
      result.doubts.push_back({DoubtKind::duplicateLevels, at[g].plan(),
                               fmt::format("{} points lie together at {} with levels {:.3f} to {:.3f}; {:.3f} is used.",
                                           list.size(), place(at[g].plan(), origin), low, high, z)});
    }
    at[g].z = z;
  }
}

std::vector<Vec2> plansOf(const std::vector<Vec3>& at) {
  std::vector<Vec2> plans;
  plans.reserve(at.size());
  for (const Vec3& p : at) plans.push_back(p.plan());
  return plans;
}

// Points made where segments cross after all (by rounding) get their level from the segment ends around them.
void levelNewPoints(const Triangulation& made, std::size_t known, std::vector<Vec3>& at) {
  if (at.size() == known) return;
  std::vector<double> weight(at.size() - known, 0), sum(at.size() - known, 0);
  for (Index t = 0; t < made.triangles.size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (!(made.constrained[t] >> k & 1)) continue;
      const Index a = made.triangles[t][next(k)], b = made.triangles[t][before(k)];
      for (const auto& [fresh, other] : {Edge{a, b}, Edge{b, a}}) {
        if (fresh < known || other >= known) continue;
        const double w = 1 / std::max(plane::distance(at[fresh].plan(), at[other].plan()), 1e-9);
        weight[fresh - known] += w;
        sum[fresh - known] += w * at[other].z;
      }
    }
  }
  for (std::size_t i = 0; i < weight.size(); ++i) at[known + i].z = weight[i] > 0 ? sum[i] / weight[i] : at[0].z;
}

// Marks border triangles with a side over the limit, again and again from the border inwards.
std::vector<char> trimmed(const Triangulation& made, double maxEdge) {
  std::vector<char> gone(made.triangles.size(), 0);
  std::vector<Index> border;
  for (Index t = 0; t < made.triangles.size(); ++t) {
    for (const Index n : made.neighbours[t]) {
      if (n == kNone) {
        border.push_back(t);
        break;
      }
    }
  }
  while (!border.empty()) {
    const Index t = border.back();
    border.pop_back();
    if (gone[t]) continue;
    double longest = 0;
    for (int k = 0; k < 3; ++k) {
      longest = std::max(longest,
                         plane::distance(made.points[made.triangles[t][k]], made.points[made.triangles[t][next(k)]]));
    }
    if (longest <= maxEdge) continue;
    gone[t] = 1;
    for (const Index n : made.neighbours[t]) {
      if (n != kNone && !gone[n]) border.push_back(n);
    }
  }
  return gone;
}

// Adds points where triangles lie flat between contours, until there are none left to add. Three rounds are ample: a
// round leaves only what the new points themselves have made.
void cureFlats(Vertices& all, Triangulation& made, BuildResult& result, const Progress& progress) {
  for (int round = 0; round < 3 && !made.triangles.empty(); ++round) {
    std::vector<Vec3> at = all.at;
    for (std::size_t i = at.size(); i < made.points.size(); ++i) at.push_back({made.points[i].x, made.points[i].y, 0});
    levelNewPoints(made, all.at.size(), at);
    std::vector<char> contour = all.contour;
    for (std::size_t i = 0; i < all.at.size(); ++i) contour[made.same[i]] |= contour[i];
    contour.resize(at.size(), 0);
    const std::vector<char> flat = flatTriangles(made, at, contour);
    const std::vector<Vec3> cures = flatCures(made, at, flat);
    if (cures.empty()) return;
    all.at.insert(all.at.end(), cures.begin(), cures.end());
    all.contour.resize(all.at.size(), 0);
    result.flatPoints += cures.size();
    made = triangulate(plansOf(all.at), all.edges, progress);
  }
}

// A doubt where a boundary reaches beyond the data.
void doubtBeyond(const Tin& tin, const plane::Polygon& boundary, const plane::Origin& origin, BuildResult& result) {
  const plane::Ring& ring = boundary.outer;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    for (const Vec2 p : {ring[i], 0.5 * (ring[i] + ring[(i + 1) % ring.size()])}) {
      if (tin.locate(p) != kNone) continue;
      result.doubts.push_back(
          {DoubtKind::boundaryOutside, p,
           fmt::format("The boundary reaches beyond the data at {}; there is no ground there.", place(p, origin))});
      return;
    }
  }
}

}  // namespace

BuildResult build(const BuildInput& input, const BuildRules& rules, const plane::Origin& origin,
                  const Progress& progress) {
  BuildResult result;
  Vertices all = gather(input, origin, result);
  Groups groups = joinNear(all.at);
  settleLevels(all.at, groups, rules.duplicates, origin, result);
  for (Index i = 0; i < all.at.size(); ++i) {
    const Index g = groups.find(i);
    if (g == i) continue;
    all.at[i] = all.at[g];
    all.contour[g] |= all.contour[i];
  }
  Triangulation made = triangulate(plansOf(all.at), all.edges, progress);
  if (rules.cureFlats) cureFlats(all, made, result, progress);
  if (made.triangles.empty()) {
    throw Error("fewer than three different points, or all on one line", "a ground needs points spread over an area");
  }
  TinParts parts;
  const std::size_t known = all.at.size();
  parts.points = std::move(all.at);
  for (std::size_t i = known; i < made.points.size(); ++i)
    parts.points.push_back({made.points[i].x, made.points[i].y, 0});
  levelNewPoints(made, known, parts.points);
  if (rules.maxEdge > 0) {
    const std::vector<char> gone = trimmed(made, rules.maxEdge);
    for (Index t = 0; t < gone.size(); ++t) {
      if (gone[t]) {
        ++result.trimmed;
        continue;
      }
      parts.triangles.push_back(made.triangles[t]);
      parts.breaks.push_back(made.constrained[t]);
    }
    if (parts.triangles.empty()) {
      throw Error(fmt::format("no triangle has all sides within {:g} m", rules.maxEdge), "allow longer sides");
    }
  } else {
    parts.triangles = std::move(made.triangles);
    parts.neighbours = std::move(made.neighbours);
    parts.breaks = std::move(made.constrained);
  }
  dropUnusedPoints(parts);
  result.tin = std::make_shared<Tin>(std::move(parts));
  if (!input.boundaries.empty()) {
    for (const plane::Polygon& boundary : input.boundaries) doubtBeyond(*result.tin, boundary, origin, result);
    result.tin = keepInside(*result.tin, input.boundaries, progress);
    if (result.tin->empty()) {
      throw Error("no point lies inside the boundary", "check that points and boundary are of the same place");
    }
  }
  if (!input.voids.empty()) {
    result.tin = keepOutside(*result.tin, input.voids, progress);
    if (result.tin->empty()) throw Error("the voids leave nothing of the ground", "make them smaller");
  }
  return result;
}

}  // namespace inselberg::ground
