// Every edit works on the chain of vertices: lengths and levels go by chainage in plan. An offset is mitred
// corner by corner, cut where the mitre would be over twice the distance, and loses the sides that came out the other
// way round; trimming and prolonging take the crossing nearest to the end that was clicked.
#include "ground/line_edit.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "plane/curves.h"

namespace inselberg::ground {
namespace {

constexpr double kSame = 1e-3;  // m

std::size_t sideCount(const Breakline& line) {
  if (line.vertices.size() < 2) return 0;
  return line.vertices.size() - (line.closed ? 0 : 1);
}

Vec3 along(const Vec3& a, const Vec3& b, double t) {
  if (t == 0) return a;
  if (t == 1) return b;
  return {a.x + t * (b.x - a.x), a.y + t * (b.y - a.y), a.z + t * (b.z - a.z)};
}

const Vec3& endOf(const Breakline& line, std::size_t side) {
  return line.vertices[(side + 1) % line.vertices.size()];
}

Breakline like(const Breakline& line, std::vector<Vec3> vertices, bool closed) {
  return {std::move(vertices), closed, line.contour};
}

// Where the ray from a through b meets the segment cd: how far along ab (1: at b), and along cd.
std::optional<std::pair<double, double>> meet(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
  const Vec2 r = b - a, s = d - c;
  const double det = plane::cross(r, s);
  if (std::abs(det) < 1e-12 * std::max(1e-6, plane::norm(r) * plane::norm(s))) return std::nullopt;
  const double t = plane::cross(c - a, s) / det, u = plane::cross(c - a, r) / det;
  if (u < -1e-9 || u > 1 + 1e-9) return std::nullopt;
  return std::pair(t, u);
}

// The line with the end nearer to `end` last.
Breakline facing(const Breakline& line, Vec2 end, bool& turnedRound) {
  turnedRound = plane::distance(line.vertices.front().plan(), end) < plane::distance(line.vertices.back().plan(), end);
  return turnedRound ? reversed(line) : line;
}

}  // namespace

std::vector<double> chainage(const Breakline& line) {
  std::vector<double> stations;
  double sum = 0;
  for (std::size_t i = 0; i < line.vertices.size(); ++i) {
    if (i > 0) sum += plane::distance(line.vertices[i - 1].plan(), line.vertices[i].plan());
    stations.push_back(sum);
  }
  if (line.closed && !stations.empty())
    stations.push_back(sum + plane::distance(line.vertices.back().plan(), line.vertices.front().plan()));
  return stations;
}

OnLine nearestOn(const Breakline& line, Vec2 p) {
  OnLine best{0, 0, std::numeric_limits<double>::infinity()};
  if (line.vertices.size() == 1) best.distance = plane::distance(line.vertices[0].plan(), p);
  for (std::size_t i = 0; i < sideCount(line); ++i) {
    const auto near = plane::nearestOnSegment(p, line.vertices[i].plan(), endOf(line, i).plan());
    if (near.distance < best.distance) best = {i, near.along, near.distance};
  }
  return best;
}

Vec3 placeAt(const Breakline& line, const OnLine& at) {
  return along(line.vertices[at.side], endOf(line, at.side), at.part);
}

Breakline withVertex(Breakline line, const OnLine& at) {
  const Vec3 p = placeAt(line, at);
  line.vertices.insert(line.vertices.begin() + static_cast<std::ptrdiff_t>(at.side) + 1, p);
  return line;
}

std::optional<Breakline> withoutVertex(Breakline line, std::size_t vertex) {
  if (line.vertices.size() <= (line.closed ? 3u : 2u)) return std::nullopt;
  line.vertices.erase(line.vertices.begin() + static_cast<std::ptrdiff_t>(vertex));
  return line;
}

Breakline reversed(Breakline line) {
  std::reverse(line.vertices.begin(), line.vertices.end());
  return line;
}

std::vector<Breakline> split(const Breakline& line, const OnLine& at) {
  const Vec3 p = placeAt(line, at);
  std::vector<Vec3> before(line.vertices.begin(), line.vertices.begin() + static_cast<std::ptrdiff_t>(at.side) + 1);
  std::vector<Vec3> after(line.vertices.begin() + static_cast<std::ptrdiff_t>(at.side) + 1, line.vertices.end());
  const auto add = [&](std::vector<Vec3>& way, bool front) {
    const Vec2 end = way.empty() ? p.plan() + Vec2{1, 0} : (front ? way.front() : way.back()).plan();
    if (plane::distance(end, p.plan()) > kSame) way.insert(front ? way.begin() : way.end(), p);
  };
  add(before, false);
  add(after, true);
  if (line.closed) {
    after.insert(after.end(), before.begin(), before.end());
    return {like(line, std::move(after), false)};
  }
  if (before.size() < 2 || after.size() < 2) return {line};
  return {like(line, std::move(before), false), like(line, std::move(after), false)};
}

std::optional<Breakline> joined(const Breakline& a, const Breakline& b) {
  if (a.closed || b.closed || a.vertices.empty() || b.vertices.empty()) return std::nullopt;
  Breakline best;
  double least = std::numeric_limits<double>::infinity();
  for (const Breakline& first : {a, reversed(a)}) {
    for (const Breakline& second : {b, reversed(b)}) {
      const double gap = plane::distance(first.vertices.back().plan(), second.vertices.front().plan());
      if (gap >= least) continue;
      least = gap;
      best = first;
      best.vertices.insert(best.vertices.end(), second.vertices.begin() + (gap <= kSame ? 1 : 0),
                           second.vertices.end());
    }
  }
  // The direction of the first line is kept where that can be.
  if (best.vertices.back() == a.vertices.front() || best.vertices.front() == a.vertices.back()) best = reversed(best);
  return best;
}

std::optional<Breakline> offset(const Breakline& line, double distance) {
  std::vector<Vec3> way;
  for (const Vec3& v : line.vertices) {
    if (way.empty() || plane::distance(way.back().plan(), v.plan()) > kSame) way.push_back(v);
  }
  if (line.closed && way.size() > 1 && plane::distance(way.front().plan(), way.back().plan()) <= kSame) way.pop_back();
  const std::size_t n = way.size();
  if (n < 2) return std::nullopt;
  const auto normal = [&](std::size_t i) {
    const Vec2 d = plane::unit(way[(i + 1) % n].plan() - way[i].plan());
    return Vec2{-d.y, d.x};
  };
  std::vector<Vec3> out;
  for (std::size_t i = 0; i < n; ++i) {
    const bool first = !line.closed && i == 0, last = !line.closed && i + 1 == n;
    const Vec2 before = first ? normal(0) : normal((i + n - 1) % n), after = last ? normal(n - 2) : normal(i);
    const Vec2 sum = before + after;
    const double length2 = plane::dot(sum, sum);
    const auto put = [&](Vec2 by) { out.push_back({way[i].x + by.x, way[i].y + by.y, way[i].z}); };
    // The mitre is 2 d / |sum| long; where it is over twice the distance the corner is cut.
    if (length2 >= 1) {
      put(2 * distance / length2 * sum);
    } else {
      put(distance * before);
      put(distance * after);
    }
  }
  // Sides that came out the other way round are gone: the line is too tight there.
  std::vector<Vec3> kept;
  if (line.closed || out.size() != n) {
    kept = std::move(out);
  } else {
    kept.push_back(out.front());
    for (std::size_t i = 1; i < n; ++i) {
      const Vec2 was = way[i].plan() - way[i - 1].plan(), is = out[i].plan() - kept.back().plan();
      if (plane::dot(was, is) > 0) kept.push_back(out[i]);
    }
  }
  if (kept.size() < 2) return std::nullopt;
  for (std::size_t i = 0; line.closed && kept.size() == n && i < n; ++i) {
    const Vec2 was = way[(i + 1) % n].plan() - way[i].plan(), is = kept[(i + 1) % n].plan() - kept[i].plan();
    if (!(plane::dot(was, is) > 0)) return std::nullopt;
  }
  return like(line, std::move(kept), line.closed);
}

std::optional<Breakline> trimmedTo(const Breakline& line, const Breakline& other, Vec2 end) {
  if (line.closed || line.vertices.size() < 2) return std::nullopt;
  bool turnedRound = false;
  Breakline way = facing(line, end, turnedRound);
  // The last crossing before the end.
  for (std::size_t i = way.vertices.size() - 1; i-- > 0;) {
    double best = -1;
    for (std::size_t k = 0; k < sideCount(other); ++k) {
      const auto hit =
          meet(way.vertices[i].plan(), way.vertices[i + 1].plan(), other.vertices[k].plan(), endOf(other, k).plan());
      if (hit && hit->first >= -1e-9 && hit->first <= 1 + 1e-9) best = std::max(best, hit->first);
    }
    if (best < 0) continue;
    const Vec3 p = along(way.vertices[i], way.vertices[i + 1], std::clamp(best, 0.0, 1.0));
    way.vertices.resize(i + 1);
    if (plane::distance(way.vertices.back().plan(), p.plan()) > kSame) way.vertices.push_back(p);
    if (way.vertices.size() < 2) return std::nullopt;
    return turnedRound ? reversed(way) : way;
  }
  return std::nullopt;
}

std::optional<Breakline> extendedTo(const Breakline& line, const Breakline& other, Vec2 end) {
  if (line.closed || line.vertices.size() < 2) return std::nullopt;
  bool turnedRound = false;
  Breakline way = facing(line, end, turnedRound);
  const Vec3 a = way.vertices[way.vertices.size() - 2], b = way.vertices.back();
  double best = std::numeric_limits<double>::infinity();
  for (std::size_t k = 0; k < sideCount(other); ++k) {
    const auto hit = meet(a.plan(), b.plan(), other.vertices[k].plan(), endOf(other, k).plan());
    if (hit && hit->first > 1 + 1e-9) best = std::min(best, hit->first);
  }
  if (!std::isfinite(best)) return std::nullopt;
  way.vertices.back() = {a.x + best * (b.x - a.x), a.y + best * (b.y - a.y), a.z + best * (b.z - a.z)};
  return turnedRound ? reversed(way) : way;
}

Breakline rounded(const Breakline& line, double radius) {
  const std::size_t n = line.vertices.size();
  if (n < 3 || !(radius > 0)) return line;
  std::vector<Vec3> out;
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 &p = line.vertices[(i + n - 1) % n], &q = line.vertices[i], &r = line.vertices[(i + 1) % n];
    const double in = plane::distance(p.plan(), q.plan()), outLength = plane::distance(q.plan(), r.plan());
    const bool end = !line.closed && (i == 0 || i + 1 == n);
    if (end || !(in > kSame) || !(outLength > kSame)) {
      out.push_back(q);
      continue;
    }
    const Vec2 u = plane::unit(q.plan() - p.plan()), v = plane::unit(r.plan() - q.plan());
    const double bend = std::atan2(plane::cross(u, v), plane::dot(u, v));
    const double back = radius * std::tan(std::abs(bend) / 2);
    // Each corner has half of the sides to itself, all of them at the ends of the line.
    const bool firstSide = !line.closed && i == 1, lastSide = !line.closed && i + 2 == n;
    if (std::abs(bend) < 1e-6 || back > (firstSide ? in : in / 2) || back > (lastSide ? outLength : outLength / 2)) {
      out.push_back(q);
      continue;
    }
    const Vec3 start = along(q, p, back / in), stop = along(q, r, back / outLength);
    const auto chords = plane::bulgeChords(start.plan(), stop.plan(), std::tan(bend / 4), 0.01);
    out.push_back(start);
    for (std::size_t k = 0; k < chords.size(); ++k) {
      const double t = static_cast<double>(k + 1) / static_cast<double>(chords.size());
      out.push_back({chords[k].x, chords[k].y, start.z + t * (stop.z - start.z)});
    }
  }
  return like(line, std::move(out), line.closed);
}

Breakline moved(Breakline line, Vec3 by) {
  for (Vec3& v : line.vertices) v = {v.x + by.x, v.y + by.y, v.z + by.z};
  return line;
}

Breakline turned(Breakline line, Vec2 about, double angle) {
  const double c = std::cos(angle), s = std::sin(angle);
  for (Vec3& v : line.vertices) {
    const Vec2 d = v.plan() - about;
    v = {about.x + c * d.x - s * d.y, about.y + s * d.x + c * d.y, v.z};
  }
  return line;
}

std::vector<Vec3> between(const Breakline& line, const OnLine& from, const OnLine& to) {
  const auto forward = [&](const OnLine& a, const OnLine& b) {
    std::vector<Vec3> way;
    const std::size_t n = line.vertices.size();
    const bool wraps = std::pair(a.side, a.part) > std::pair(b.side, b.part);
    for (std::size_t i = a.side + 1, end = b.side + (wraps ? n : 0); i <= end; ++i) way.push_back(line.vertices[i % n]);
    return way;
  };
  const bool ahead = std::pair(from.side, from.part) <= std::pair(to.side, to.part);
  if (!line.closed) {
    if (ahead) return forward(from, to);
    auto way = forward(to, from);
    std::reverse(way.begin(), way.end());
    return way;
  }
  auto one = forward(from, to), other = forward(to, from);
  std::reverse(other.begin(), other.end());
  const auto length = [&](const std::vector<Vec3>& way) {
    Vec2 at = placeAt(line, from).plan();
    double sum = 0;
    for (const Vec3& v : way) sum += plane::distance(at, v.plan()), at = v.plan();
    return sum + plane::distance(at, placeAt(line, to).plan());
  };
  return length(one) <= length(other) ? one : other;
}

Breakline atLevel(Breakline line, double level) {
  for (Vec3& v : line.vertices) v.z = level;
  return line;
}

Breakline levelledBetween(Breakline line, std::size_t from, std::size_t to) {
  if (from > to) std::swap(from, to);
  const auto stations = chainage(line);
  const double length = stations[to] - stations[from];
  const double start = line.vertices[from].z, rise = line.vertices[to].z - start;
  for (std::size_t i = from + 1; i < to; ++i)
    line.vertices[i].z = start + (length > 0 ? (stations[i] - stations[from]) / length : 0) * rise;
  return line;
}

Breakline levelledByGrade(Breakline line, std::size_t from, double grade) {
  const auto stations = chainage(line);
  const double start = line.vertices[from].z;
  for (std::size_t i = 0; i < line.vertices.size(); ++i) {
    if (i != from) line.vertices[i].z = start + grade * (stations[i] - stations[from]);
  }
  return line;
}

Breakline levelledFrom(Breakline line, const std::function<std::optional<double>(Vec2)>& levelAt, double offset) {
  for (Vec3& v : line.vertices) {
    if (const auto level = levelAt(v.plan())) v.z = *level + offset;
  }
  return line;
}

Breakline levelledFromLine(Breakline line, const Breakline& other, double offset) {
  return levelledFrom(
      std::move(line),
      [&](Vec2 p) -> std::optional<double> {
        const double z = placeAt(other, nearestOn(other, p)).z;
        return std::isnan(z) ? std::nullopt : std::optional(z);
      },
      offset);
}

}  // namespace inselberg::ground
