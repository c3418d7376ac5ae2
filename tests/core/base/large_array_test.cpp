#include "base/large_array.h"

#include <catch2/catch.hpp>
#include <cstdint>

using inselberg::LargeArray;

TEST_CASE("A large array holds what is put into it, begins at a large page, and may be empty") {
  struct alignas(64) Line {
    std::size_t value;
  };
  LargeArray<Line> lines(100000);
  CHECK(lines.size() == 100000);
  CHECK(reinterpret_cast<std::uintptr_t>(&lines[0]) % (std::size_t{1} << 21) == 0);
  for (std::size_t i = 0; i < lines.size(); ++i) lines[i].value = i;
  for (std::size_t i = 0; i < lines.size(); ++i) REQUIRE(lines[i].value == i);
  CHECK(LargeArray<double>(0).size() == 0);
}
