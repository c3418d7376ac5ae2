// Each part of the line is cut off at the sides of every triangle near it; what is left, put in order, is the profile.
#include "section/profile.h"

#include <algorithm>
#include <array>

#include "ground/tin_index.h"

namespace inselberg::section {
namespace {

using ground::Index;
using ground::Tin;
using plane::Vec2;

constexpr double kBeside = 1e-9;  // m: so near a side the line runs along it
constexpr double kJoined = 1e-7;  // m: gaps and overlaps below this are rounding
constexpr double kWall = 1e-6;    // m of level

struct Piece {
  double from, to;  // along the part, m
  double fromLevel, toLevel;
};

// The part of a->b over a triangle.
std::optional<Piece> over(const Tin& tin, Index triangle, Vec2 a, Vec2 b, double length) {
  const auto corners = tin.corners(triangle);
  double begin = 0, end = 1;
  for (int k = 0; k < 3; ++k) {
    const Vec2 p = corners[k].plan(), q = corners[ground::next(k)].plan();
    const double side = plane::distance(p, q);
    if (!(side > 0)) return std::nullopt;
    const double atA = plane::turn(p, q, a) / side, atB = plane::turn(p, q, b) / side;
    if (atA >= -kBeside && atB >= -kBeside) continue;
    if (atA <= 0 && atB <= 0) return std::nullopt;
    const double t = atA / (atA - atB);
    if (atA < atB) {
      begin = std::max(begin, t);
    } else {
      end = std::min(end, t);
    }
  }
  if (!((end - begin) * length > kBeside)) return std::nullopt;
  const ground::Plane level = ground::planeOf(corners);
  return Piece{begin * length, end * length, level(a + begin * (b - a)), level(a + end * (b - a))};
}

// Triangles do not overlap but for rounding and where the line runs along a side: what was taken is not taken again.
void append(Profile& profile, double station, const std::vector<Piece>& pieces) {
  double reached = 0;
  for (Piece p : pieces) {
    if (p.to - reached <= kJoined && p.from < reached) continue;
    if (p.from < reached - kJoined) {
      p.fromLevel += (p.toLevel - p.fromLevel) * (reached - p.from) / (p.to - p.from);
      p.from = reached;
    }
    const bool joined = !profile.empty() && p.from + station - profile.back().back().station <= kJoined;
    if (!joined) profile.emplace_back();
    auto& piece = profile.back();
    if (!joined || std::abs(piece.back().level - p.fromLevel) > kWall)
      piece.push_back({joined ? piece.back().station : station + p.from, p.fromLevel});
    piece.push_back({station + p.to, p.toLevel});
    reached = p.to;
  }
}

}  // namespace

Profile profileAlong(const Tin& tin, std::span<const Vec2> line) {
  Profile profile;
  double station = 0;
  std::vector<Piece> pieces;
  std::vector<Index> near;
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec2 a = line[i - 1], b = line[i];
    const double length = plane::distance(a, b);
    if (!(length > 0)) continue;
    near.clear();
    tin.index().touching(std::array{a, b}, kBeside, [&](Index t) { near.push_back(t); });
    std::sort(near.begin(), near.end());
    near.erase(std::unique(near.begin(), near.end()), near.end());
    pieces.clear();
    for (const Index t : near) {
      if (const auto piece = over(tin, t, a, b, length)) pieces.push_back(*piece);
    }
    std::sort(pieces.begin(), pieces.end(),
              [](const Piece& p, const Piece& q) { return std::pair(p.from, q.to) < std::pair(q.from, p.to); });
    append(profile, station, pieces);
    station += length;
  }
  return profile;
}

}  // namespace inselberg::section
