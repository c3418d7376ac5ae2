// A list in pieces behaves like a vector, and shares what did not change.
#include "base/pieces.h"

#include <catch2/catch.hpp>
#include <numeric>
#include <random>

using namespace inselberg;

namespace {

Hash hashOf(const Pieces<int>& list) {
  return list.hash([](Hasher& h, int item) { h.value(item); });
}

std::size_t unshared(const Pieces<int>& list, const Pieces<int>& with) {
  std::size_t n = 0;
  list.eachUnshared(with, [&](std::size_t) { ++n; });
  return n;
}

}  // namespace

TEST_CASE("A list in pieces holds what a vector holds after any edits", "[random]") {
  std::mt19937 random(31);
  for (const std::size_t start : {0ul, 1ul, 2047ul, 2048ul, 2049ul, 6000ul}) {
    std::vector<int> plain(start);
    std::iota(plain.begin(), plain.end(), 0);
    Pieces<int> pieces(plain);
    const auto before = pieces;
    const auto was = plain;
    for (int edit = 0; edit < 60; ++edit) {
      const int what = static_cast<int>(random() % 3), value = static_cast<int>(random());
      const std::size_t i = plain.empty() ? 0 : random() % plain.size();
      if (what == 0 || plain.empty()) {
        for (int k = 0; k < 70; ++k) plain.push_back(value + k), pieces.push_back(value + k);
      } else if (what == 1) {
        plain[i] = value, pieces.set(i, value);
      } else {
        std::vector<std::size_t> gone;
        for (std::size_t k = i; k < plain.size() && gone.size() < 5; k += 1 + random() % 900) gone.push_back(k);
        pieces.erase(gone);
        for (std::size_t k = gone.size(); k-- > 0;) plain.erase(plain.begin() + static_cast<std::ptrdiff_t>(gone[k]));
      }
      REQUIRE(pieces.flat() == plain);
      REQUIRE(hashOf(pieces) == hashOf(Pieces<int>(plain)));
    }
    CHECK(before.flat() == was);
    if (plain.empty()) continue;
    CHECK(pieces.front() == plain.front());
    CHECK(pieces.back() == plain.back());
    CHECK(std::accumulate(pieces.begin(), pieces.end(), 0u) == std::accumulate(plain.begin(), plain.end(), 0u));
    CHECK(*(pieces.end() - 1) == plain.back());
    CHECK(std::is_sorted(was.begin(), was.end()) == std::is_sorted(before.begin(), before.end()));
  }
}

TEST_CASE("A changed item costs its piece, and equal lists have equal hashes, others have not") {
  std::vector<int> plain(100'000, 7);
  const Pieces<int> one(plain);
  Pieces<int> other = one;
  CHECK(unshared(other, one) < Pieces<int>::kItems);
  other.set(50'000, 8);
  CHECK(unshared(other, one) < 2 * Pieces<int>::kItems);
  CHECK(hashOf(other) != hashOf(one));
  other.set(50'000, 7);
  CHECK(hashOf(other) == hashOf(one));
  CHECK(other == one);
  other.erase(std::vector<std::size_t>{99'999});
  CHECK(hashOf(other) != hashOf(one));
}
