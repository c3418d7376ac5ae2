// Which triangles of a ground lie over a shape.
#pragma once

#include <algorithm>
#include <span>
#include <utility>
#include <vector>

#include "ground/tin.h"
#include "ground/tin_index.h"
#include "quantity/overlap.h"

namespace inselberg::quantity {

// The triangles of one ground near a shape. One per thread: marks are kept from query to query.
class Candidates {
 public:
  explicit Candidates(const ground::Tin& tin) : tin_(tin), stamps_(tin.triangles().size(), 0) {}

  // Those whose box overlaps the shape's, each once.
  std::span<const ground::Index> over(const Convex& shape) {
    const plane::Box box = boxOf(shape);
    ++epoch_;
    found_.clear();
    tin_.index().touching({shape.p.data(), static_cast<std::size_t>(shape.n)}, 0, [&](ground::Index t) {
      if (take(t) && boxOverlaps(t, box)) found_.push_back(t);
    });
    return found_;
  }

  // Those that are come upon from triangle to triangle, from among the ones that were taken last, or else from the one
  // at `at`: calls f(triangle) for each, which tells whether it lies over the shape. Cheap, and complete unless the
  // ground has a border or a wall there: so what was found has to be added up, and the rest asked for.
  template <class F>
  void flood(const plane::Box& box, Vec2 at, F&& f) {
    ++epoch_;
    if (!reached_.empty()) std::swap(last_, reached_);
    reached_.clear();
    const auto visitAround = [&](ground::Index of) {
      for (const ground::Index t : tin_.neighbours()[of]) {
        if (t != ground::kNone) visit(t, box, f);
      }
    };
    for (std::size_t i = 0; i < last_.size() && reached_.empty(); ++i) visit(last_[i], box, f);
    for (std::size_t i = 0; i < last_.size() && reached_.empty(); ++i) visitAround(last_[i]);
    if (reached_.empty()) {
      if (const ground::Index t = tin_.locate(at); t != ground::kNone) visit(t, box, f);
    }
    for (std::size_t i = 0; i < reached_.size(); ++i) visitAround(reached_[i]);
  }
  // Those that flood() has not come upon, likewise.
  template <class F>
  void rest(const Convex& shape, F&& f) {
    const plane::Box box = boxOf(shape);
    tin_.index().touching({shape.p.data(), static_cast<std::size_t>(shape.n)}, 0,
                          [&](ground::Index t) { visit(t, box, f); });
  }
  // So that what comes next does not depend on what was before.
  void beginAnew() {
    last_.clear();
    reached_.clear();
  }

 private:
  bool take(ground::Index t) {
    if (stamps_[t] == epoch_) return false;
    stamps_[t] = epoch_;
    return true;
  }
  bool boxOverlaps(ground::Index t, const plane::Box& box) const {
    const ground::Triangle& c = tin_.triangles()[t];
    const Vec2 p = tin_.plan(c[0]), q = tin_.plan(c[1]), r = tin_.plan(c[2]);
    return std::max({p.x, q.x, r.x}) > box.minX && std::min({p.x, q.x, r.x}) < box.maxX &&
           std::max({p.y, q.y, r.y}) > box.minY && std::min({p.y, q.y, r.y}) < box.maxY;
  }
  template <class F>
  void visit(ground::Index t, const plane::Box& box, F& f) {
    if (take(t) && boxOverlaps(t, box) && f(t)) reached_.push_back(t);
  }

  const ground::Tin& tin_;
  std::vector<std::uint32_t> stamps_;
  std::uint32_t epoch_ = 0;
  std::vector<ground::Index> found_, last_, reached_;
};

}  // namespace inselberg::quantity
