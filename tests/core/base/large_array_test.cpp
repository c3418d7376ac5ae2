#include "base/large_array.h"

#include <catch2/catch.hpp>
#include <cstdint>

using inselberg::LargeArray;

TEST_CASE("A large array holds what is put into it, many or few, and begins at a large page where it fills one") {
  struct alignas(64) Line {
    std::size_t value;
  };
  for (const std::size_t n : {100000, 32768, 32767, 3, 1, 0}) {
    LargeArray<Line> lines(n);
    REQUIRE(lines.size() == n);
    for (std::size_t i = 0; i < n; ++i) lines[i].value = i;
    for (std::size_t i = 0; i < n; ++i) REQUIRE(lines[i].value == i);
    if (n == 0) continue;
    const auto begin = reinterpret_cast<std::uintptr_t>(&lines[0]);
    CHECK(begin % (n >= 32768 ? std::uintptr_t{1} << 21 : 64) == 0);
  }
}
