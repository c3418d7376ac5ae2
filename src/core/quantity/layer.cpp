#include "quantity/layer.h"

#include <atomic>
#include <cmath>
#include <limits>

#include "base/parallel.h"
#include "ground/tin_index.h"

namespace inselberg::quantity {

using ground::before;
using ground::kNone;
using ground::next;

namespace {

// Surely not above (-1), or not below (1).
float widened(double value, float way) {
  constexpr float kUlp = 1.2e-7F;
  const float near = static_cast<float>(value);
  return near + way * (kUlp * std::abs(near) + std::numeric_limits<float>::min());
}

}  // namespace

Layer::Layer(const ground::Tin& tin, std::vector<std::uint8_t> out, bool moved, const Progress& progress)
    : tin_(tin),
      points_(tin.points().data()),
      out_(std::move(out)),
      facets_(tin.triangles().size()),
      tie_(moved ? 1 : -1) {
  constexpr std::size_t kChunk = 4096;  // triangles
  parallelChunks(size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t t = begin; t < end; ++t) prepare(static_cast<Index>(t));
  });
  if (std::ranges::find(out_, 1) != out_.end()) {
    used_.resize(tin.points().size(), 0);
    parallelChunks(size(), kChunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t t = begin; t < end; ++t) {
        for (int k = 0; k < 3 && !out_[t]; ++k) {
          Facet& facet = facets_[t];
          std::atomic_ref(used_[facet.corners[k]]).store(1, std::memory_order_relaxed);
          if (facet.neighbours[k] != kNone && out_[facet.neighbours[k]]) facet.neighbours[k] = kNone;
        }
      }
    });
  }
  tin.index();
}

void Layer::prepare(Index t) {
  if (out_[t]) return;
  const auto c = tin_.corners(t);
  const Vec2 u = c[1].plan() - c[0].plan(), v = c[2].plan() - c[0].plan(), w = c[2].plan() - c[1].plan();
  const double longest2 = std::max({plane::dot(u, u), plane::dot(v, v), plane::dot(w, w)});
  // Whatever planeOf() takes for a sliver is out.
  double twice = 0;
  if (!(plane::exactSide(c[0].plan(), c[1].plan(), c[2].plan(), twice) > 0) ||
      !(twice * twice > 9 * ground::kSliver * ground::kSliver * longest2)) {
    out_[t] = 1;
    return;
  }
  Facet& f = facets_[t];
  f.corners = tin_.triangles()[t], f.neighbours = tin_.neighbours()[t];
  const double du = c[1].z - c[0].z, dv = c[2].z - c[0].z;
  const double perTwice = 1 / twice;
  f.east = perTwice * (du * v.y - dv * u.y), f.north = perTwice * (dv * u.x - du * v.x);
  f.low = widened(std::min({c[0].z, c[1].z, c[2].z}), -1);
  f.high = widened(std::max({c[0].z, c[1].z, c[2].z}), 1);
  f.reach2 = widened(longest2, 1);
}

int Layer::wayOut(Index t, Vec2 other, Index from) const {
  const Facet& facet = facets_[t];
  for (int k = 0; k < 3; ++k) {
    if (from != kNone && facet.neighbours[k] == from) continue;
    if (sideOfOther(plan(facet.corners[next(k)]), plan(facet.corners[before(k)]), other) < 0) return k;
  }
  return -1;
}

Index Layer::locate(Vec2 other, Index near) const {
  if (!tin_.bounds().contains(other)) return kNone;
  constexpr int kSteps = 40;
  Index t = near, from = kNone;
  for (int step = 0; t != kNone && step < kSteps; ++step) {
    const int k = wayOut(t, other, from);
    if (k < 0) return t;
    from = t;
    t = facets_[t].neighbours[k];
  }
  Index found = kNone;
  tin_.index().near(other, [&](Index c) {
    if (found == kNone && !out_[c] && wayOut(c, other, kNone) < 0) found = c;
  });
  return found;
}

}  // namespace inselberg::quantity
