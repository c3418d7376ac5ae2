// Method. Lines are given levels throughout, and vertices within 1 mm of each other are gathered into places. Then, in
// rounds until nothing changes: every part of a line is led through the places within 1 mm of it, and where two parts
// still cross, both get a new place. New places and parts that were bent can come near others, so a further round looks
// at these alone. Near ones are found through static trees.
//
// Levels are settled line by line, from the latest to the earliest: a place that no later line has settled gets this
// line's level. So what a later line does to an earlier one's vertices is known before the earlier one is drawn
// straight between them, and no order of the lines leaves two answers.
#include "ground/meet.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <unordered_map>

#include "base/parallel.h"
#include "plane/place_text.h"
#include "plane/static_index.h"

namespace inselberg::ground {
namespace {

using plane::PointIndex;
using plane::Segment2;
using plane::SegmentIndex;

constexpr std::size_t kChunk = 4096;
constexpr int kMostRounds = 12;  // each leaves a fraction of the one before; what is left the triangulation splits

// Gives every vertex of an open line a level. REQUIRES: one has one.
void fillOpen(std::vector<Vec3>& line) {
  std::vector<std::size_t> known;
  for (std::size_t i = 0; i < line.size(); ++i) {
    if (!std::isnan(line[i].z)) known.push_back(i);
  }
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
}

// The same of any line; false when no vertex has a level.
bool fillLevels(std::vector<Vec3>& line, bool closed) {
  const auto known = std::find_if(line.begin(), line.end(), [](const Vec3& v) { return !std::isnan(v.z); });
  if (known == line.end()) return false;
  if (!closed) {
    fillOpen(line);
    return true;
  }
  // A closed line goes from a vertex with a level round to the same.
  const auto start = known - line.begin();
  std::rotate(line.begin(), known, line.end());
  line.push_back(line.front());
  fillOpen(line);
  line.pop_back();
  std::rotate(line.begin(), line.end() - start, line.end());
  return true;
}

// Groups of vertices that are one in plan; find(i) is the first member of i's group.
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

// A stretch between two neighbouring vertices of a line as it came.
struct Stretch {
  Index a, b;  // vertices
  Index line;  // the number of the line among those with levels
};

// A part of a stretch between two places.
struct Part {
  Index a, b;  // places (first vertices)
  Index stretch;
  bool fresh;  // made in the round before
};

class Meeting {
 public:
  Meeting(const BuildInput& input, DuplicateRule rule, const plane::Origin& origin, BuildResult& result,
          const Progress& progress)
      : input_(input), rule_(rule), origin_(origin), result_(result), progress_(progress) {}

  Met run() {
    gather();
    groupVertices();
    for (Index s = 0; s < stretches_.size(); ++s) {
      const Index a = placeOf_[stretches_[s].a], b = placeOf_[stretches_[s].b];
      if (a != b) parts_.push_back({a, b, s, true});
    }
    if (!parts_.empty()) meetLines();
    settleMembers();
    settleLines();
    return finish();
  }

 private:
  Vec2 plan(Index v) const { return at_[v].plan(); }
  Segment2 shape(const Part& p) const { return {plan(p.a), plan(p.b)}; }

  void gather() {
    at_ = input_.points;
    for (const Breakline& line : input_.breaklines) {
      std::vector<Vec3> v = line.vertices;
      if (!fillLevels(v, line.closed)) {
        ++result_.linesWithoutLevel;
        continue;
      }
      const auto number = static_cast<Index>(contourLine_.size());
      contourLine_.push_back(line.contour ? 1 : 0);
      const auto first = static_cast<Index>(at_.size());
      at_.insert(at_.end(), v.begin(), v.end());
      lineOfVertex_.insert(lineOfVertex_.end(), v.size(), number);
      for (Index i = 0; i + 1 < v.size(); ++i) stretches_.push_back({first + i, first + i + 1, number});
      if (line.closed && v.size() > 2) stretches_.push_back({static_cast<Index>(at_.size() - 1), first, number});
    }
    members_ = at_.size();
  }

  // kNone: a point, not a vertex of a line.
  Index lineOf(Index vertex) const {
    return vertex < input_.points.size() ? kNone : lineOfVertex_[vertex - input_.points.size()];
  }

  void groupVertices() {
    Groups groups(at_.size());
    std::vector<Vec2> plans;
    plans.reserve(at_.size());
    for (const Vec3& p : at_) plans.push_back(p.plan());
    PointIndex index(plans);
    // Pairs are found in parallel and joined in order.
    using Pairs = std::vector<std::pair<Index, Index>>;
    const auto found = parallelMap<Pairs>(at_.size(), kChunk, progress_, [&](std::size_t begin, std::size_t end) {
      Pairs pairs;
      for (auto i = static_cast<Index>(begin); i < end; ++i) {
        index.near(plans[i], kSamePlan, [&](Index j) {
          if (j < i && plane::distance(plans[i], plans[j]) <= kSamePlan) pairs.emplace_back(i, j);
        });
      }
      return pairs;
    });
    for (const Pairs& pairs : found) {
      for (const auto& [i, j] : pairs) groups.join(i, j);
    }
    placeOf_.resize(at_.size());
    std::vector<Vec2> places;
    for (Index i = 0; i < at_.size(); ++i) {
      placeOf_[i] = groups.find(i);
      if (placeOf_[i] != i) continue;
      known_.push_back(i);
      places.push_back(plans[i]);
    }
    if (stretches_.empty()) return;
    // The tree over all vertices serves when none are joined.
    trees_.push_back(places.size() == plans.size() ? std::move(index) : PointIndex(places));
    firstKnown_.push_back(0);
  }

  void meetLines() {
    for (int round = 0; round < kMostRounds; ++round) {
      const bool led = leadThroughPlaces();
      const bool crossed = splitAtCrossings();
      if (!led && !crossed) return;
    }
  }

  // The places within 1 mm of the part, but its ends, in their order along it.
  void placesOn(const Part& part, std::vector<std::pair<double, Index>>& on) const {
    on.clear();
    const Segment2 s = shape(part);
    // Parts that were looked at before need only the places that are new.
    for (std::size_t tree = part.fresh ? 0 : newest_; tree < trees_.size(); ++tree) {
      trees_[tree].near(s, kSamePlan, [&](Index k) {
        const Index v = known_[firstKnown_[tree] + k];
        if (v == part.a || v == part.b) return;
        const plane::Nearest near = plane::nearestOnSegment(plan(v), s.a, s.b);
        if (near.distance <= kSamePlan) on.emplace_back(near.along, v);
      });
    }
    std::sort(on.begin(), on.end());
  }

  bool leadThroughPlaces() {
    using Split = std::pair<std::size_t, std::vector<Index>>;
    const auto splits =
        parallelMap<std::vector<Split>>(parts_.size(), kChunk, progress_, [&](std::size_t begin, std::size_t end) {
          std::vector<Split> list;
          std::vector<std::pair<double, Index>> on;
          for (std::size_t i = begin; i < end; ++i) {
            placesOn(parts_[i], on);
            if (on.empty()) continue;
            Split split{i, {}};
            for (const auto& [along, v] : on) split.second.push_back(v);
            list.push_back(std::move(split));
          }
          return list;
        });
    newest_ = trees_.size();
    bool any = false;
    for (const auto& list : splits) {
      for (const Split& split : list) any = true, divide(split.first, split.second);
    }
    if (any) sweep();
    return any;
  }

  // Replaces a part by those through `places`; the old one goes with sweep().
  void divide(std::size_t i, const std::vector<Index>& places) {
    const Part old = parts_[i];
    Index from = old.a;
    for (const Index to : places) {
      if (to != from) parts_.push_back({from, to, old.stretch, true});
      from = to;
    }
    if (from != old.b) parts_.push_back({from, old.b, old.stretch, true});
    parts_[i].stretch = kNone;
  }
  void sweep() {
    std::erase_if(parts_, [](const Part& p) { return p.stretch == kNone; });
  }

  struct Crossing {
    std::size_t i, j;
    Vec2 at;
  };

  bool splitAtCrossings() {
    std::vector<Segment2> shapes;
    shapes.reserve(parts_.size());
    for (const Part& p : parts_) shapes.push_back(shape(p));
    const SegmentIndex index(shapes);
    const auto found =
        parallelMap<std::vector<Crossing>>(parts_.size(), kChunk, progress_, [&](std::size_t begin, std::size_t end) {
          std::vector<Crossing> list;
          for (std::size_t i = begin; i < end; ++i) {
            const Part& p = parts_[i];
            if (!p.fresh) continue;
            if ((i & 0xff) == 0) progress_.check();
            index.near(shapes[i], 0, [&](Index j) {
              const Part& q = parts_[j];
              if (q.fresh && j <= i) return;
              if (p.a == q.a || p.a == q.b || p.b == q.a || p.b == q.b) return;
              const Segment2 &s = shapes[i], &t = shapes[j];
              if (const auto along = plane::crossingAlong(s.a, s.b, t.a, t.b))
                list.push_back({i, j, s.a + *along * (s.b - s.a)});
            });
          }
          return list;
        });
    for (Part& p : parts_) p.fresh = false;
    std::vector<Crossing> crossings;
    for (const auto& list : found) crossings.insert(crossings.end(), list.begin(), list.end());
    if (crossings.empty()) return false;
    addPlaces(crossings);
    return true;
  }

  // Crossings within 1 mm of a place are there, and of each other are one new place; the parts are led through them.
  void addPlaces(const std::vector<Crossing>& crossings) {
    std::vector<Vec2> spots;
    for (const Crossing& c : crossings) spots.push_back(c.at);
    const PointIndex among(spots);
    std::vector<Index> placeAt(crossings.size(), kNone);
    const std::size_t first = known_.size();
    for (Index i = 0; i < spots.size(); ++i) {
      for (std::size_t tree = 0; tree < trees_.size(); ++tree) {
        trees_[tree].near(spots[i], kSamePlan, [&](Index k) {
          const Index v = known_[firstKnown_[tree] + k];
          if (plane::distance(plan(v), spots[i]) <= kSamePlan && v < placeAt[i]) placeAt[i] = v;
        });
      }
      if (placeAt[i] != kNone) continue;
      among.near(spots[i], kSamePlan, [&](Index j) {
        const Index v = j < i ? placeAt[j] : kNone;
        if (v != kNone && v >= members_ && plane::distance(plan(v), spots[i]) <= kSamePlan)
          placeAt[i] = std::min(placeAt[i], v);
      });
      if (placeAt[i] != kNone) continue;
      placeAt[i] = static_cast<Index>(at_.size());
      at_.push_back({spots[i].x, spots[i].y, 0});
      known_.push_back(placeAt[i]);
      ++result_.crossings;
    }
    std::vector<Vec2> fresh;
    for (std::size_t k = first; k < known_.size(); ++k) fresh.push_back(plan(known_[k]));
    newest_ = trees_.size();
    trees_.push_back(PointIndex(fresh));
    firstKnown_.push_back(first);
    std::map<std::size_t, std::vector<std::pair<double, Index>>> on;
    for (std::size_t i = 0; i < crossings.size(); ++i) {
      for (const std::size_t part : {crossings[i].i, crossings[i].j}) {
        const Part& p = parts_[part];
        if (placeAt[i] == p.a || placeAt[i] == p.b) continue;
        on[part].emplace_back(plane::nearestOnSegment(plan(placeAt[i]), plan(p.a), plan(p.b)).along, placeAt[i]);
      }
    }
    for (auto& [part, list] : on) {
      std::sort(list.begin(), list.end());
      std::vector<Index> places;
      for (const auto& [along, v] : list) {
        if (places.empty() || places.back() != v) places.push_back(v);
      }
      divide(part, places);
    }
    sweep();
  }

  // What is said of a place: by members (points and vertices there) and by lines passing.
  struct Said {
    Index line;  // kNone: a point
    double level;
  };
  struct Talk {
    std::vector<Said> members;
    std::vector<Said> passing;
  };

  // The level of the members of each place by the rule.
  void settleMembers() {
    level_.resize(at_.size());
    for (Index i = 0; i < at_.size(); ++i) level_[i] = at_[i].z;
    for (Index i = 0; i < members_; ++i) {
      const Index g = placeOf_[i];
      if (g == i) continue;
      auto& members = talks_[g].members;
      if (members.empty()) members.push_back({lineOf(g), at_[g].z});
      members.push_back({lineOf(i), at_[i].z});
      ++result_.duplicates;
    }
    for (auto& [g, talk] : talks_) level_[g] = byRule(talk.members);
  }

  double byRule(const std::vector<Said>& members) const {
    std::vector<double> levels;
    for (const Said& s : members) levels.push_back(s.level);
    return levelBy(rule_, levels);
  }

  void settleLines() {
    // The places each stretch was led through.
    std::vector<std::pair<Index, Index>> through;
    for (const Part& p : parts_) {
      for (const Index v : {p.a, p.b}) {
        const Stretch& s = stretches_[p.stretch];
        if (v != placeOf(s.a) && v != placeOf(s.b)) through.emplace_back(p.stretch, v);
      }
    }
    std::sort(through.begin(), through.end());
    through.erase(std::unique(through.begin(), through.end()), through.end());
    std::vector<char> settled(at_.size(), 0);
    const auto levelAlong = [&](const Stretch& s, Index v, double a, double b) {
      return a + plane::nearestOnSegment(plan(v), plan(s.a), plan(s.b)).along * (b - a);
    };
    std::size_t end = through.size();
    auto stretch = static_cast<Index>(stretches_.size());
    while (stretch > 0) {
      // All stretches of one line: first its own vertices, then what lies between.
      const Index line = stretches_[stretch - 1].line;
      Index firstStretch = stretch;
      while (firstStretch > 0 && stretches_[firstStretch - 1].line == line) --firstStretch;
      for (Index s = firstStretch; s < stretch; ++s)
        settled[placeOf(stretches_[s].a)] = settled[placeOf(stretches_[s].b)] = 1;
      for (; end > 0 && through[end - 1].first >= firstStretch; --end) {
        const auto [number, v] = through[end - 1];
        const Stretch& s = stretches_[number];
        Talk& talk = talks_[v];
        if (talk.members.empty() && v < members_) talk.members.push_back({lineOf(v), at_[v].z});
        talk.passing.push_back({line, levelAlong(s, v, at_[s.a].z, at_[s.b].z)});
        if (settled[v]) continue;
        settled[v] = 1;
        level_[v] = levelAlong(s, v, level_[placeOf(s.a)], level_[placeOf(s.b)]);
      }
      stretch = firstStretch;
    }
    for (const auto& [g, talk] : talks_) doubtAbout(g, talk);
  }

  void doubtAbout(Index g, const Talk& talk) {
    const double used = level_[g];
    double low = used, high = used, lowLine = used, highLine = used, ofPoint = used;
    std::size_t lines = 0;
    bool contours = true;
    const auto hear = [&](const Said& said) {
      low = std::min(low, said.level), high = std::max(high, said.level);
      if (said.line == kNone) {
        if (std::abs(said.level - used) > std::abs(ofPoint - used)) ofPoint = said.level;
        return;
      }
      ++lines;
      contours = contours && contourLine_[said.line];
      lowLine = std::min(lowLine, said.level), highLine = std::max(highLine, said.level);
    };
    for (const Said& said : talk.members) hear(said);
    for (const Said& said : talk.passing) hear(said);
    if (!(high - low > kSameLevel)) return;
    const Vec2 p = plan(g);
    if (talk.passing.empty()) {
      result_.doubts.push_back(
          {DoubtKind::duplicateLevels, p,
           fmt::format(
               "{} points lie together at {} with levels {:.3f}\u00a0m to {:.3f}\u00a0m; {:.3f}\u00a0m is used.",
               talk.members.size(), plane::placeText(p, origin_), low, high, used)});
    } else if (lines > 1 && highLine - lowLine > kSameLevel) {
      result_.doubts.push_back(
          {contours ? DoubtKind::contourCrossing : DoubtKind::breaklineCrossing, p,
           fmt::format(
               "{} meet at {} with levels {:.3f}\u00a0m and {:.3f}\u00a0m; the later line's {:.3f}\u00a0m is used.",
               contours ? "Contours" : "Breaklines", plane::placeText(p, origin_), lowLine, highLine, used)});
    } else {
      result_.doubts.push_back(
          {DoubtKind::duplicateLevels, p,
           fmt::format("A point of level {:.3f}\u00a0m lies on a breakline at {}; the line's {:.3f}\u00a0m is used.",
                       ofPoint, plane::placeText(p, origin_), used)});
    }
  }

  Index placeOf(Index v) const { return v < members_ ? placeOf_[v] : v; }

  Met finish() {
    Met met;
    met.contour.assign(at_.size(), 0);
    for (Index i = 0; i < members_; ++i) {
      const Index line = lineOf(i);
      if (line != kNone && contourLine_[line]) met.contour[placeOf_[i]] = 1;
    }
    for (const Part& p : parts_) {
      met.edges.emplace_back(p.a, p.b);
      if (contourLine_[stretches_[p.stretch].line]) met.contour[p.a] = met.contour[p.b] = 1;
    }
    for (Index i = 0; i < at_.size(); ++i) {
      const Index g = placeOf(i);
      at_[i] = {at_[g].x, at_[g].y, level_[g]};
    }
    met.at = std::move(at_);
    return met;
  }

  const BuildInput& input_;
  const DuplicateRule rule_;
  const plane::Origin& origin_;
  BuildResult& result_;
  const Progress& progress_;

  std::vector<Vec3> at_;
  std::size_t members_ = 0;  // of at_, those that came with the input
  std::vector<Index> lineOfVertex_;
  std::vector<char> contourLine_;
  std::vector<Stretch> stretches_;
  std::vector<Index> placeOf_;  // per member: the first of its place
  std::vector<Index> known_;    // all places; tree k numbers those from firstKnown_[k] on
  std::vector<PointIndex> trees_;
  std::vector<std::size_t> firstKnown_;
  std::size_t newest_ = 0;  // trees from here on hold places that old parts have not been held against
  std::vector<Part> parts_;
  std::vector<double> level_;
  std::map<Index, Talk> talks_;  // of places with more than one voice
};

}  // namespace

double levelBy(DuplicateRule rule, std::span<const double> levels) {
  const auto [low, high] = std::minmax_element(levels.begin(), levels.end());
  switch (rule) {
    case DuplicateRule::first:
      return levels.front();
    case DuplicateRule::last:
      return levels.back();
    case DuplicateRule::mean:
      return std::accumulate(levels.begin(), levels.end(), 0.0) / static_cast<double>(levels.size());
    case DuplicateRule::highest:
      return *high;
    case DuplicateRule::lowest:
      return *low;
  }
  return levels.front();
}

Met meet(const BuildInput& input, DuplicateRule rule, const plane::Origin& origin, BuildResult& result,
         const Progress& progress) {
  return Meeting(input, rule, origin, result, progress).run();
}

}  // namespace inselberg::ground
