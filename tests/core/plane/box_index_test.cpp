#include "plane/box_index.h"

#include <catch2/catch.hpp>
#include <random>
#include <set>

using namespace inselberg;
using plane::Box;

TEST_CASE("Boxes that meet another are found, each once, and no others") {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> at(0, 100), size(0, 12);
  const auto box = [&] {
    const double x = at(random), y = at(random);
    return Box{x, y, x + size(random), y + size(random)};
  };
  for (int round = 0; round < 20; ++round) {
    std::vector<Box> boxes;
    for (int i = 0; i < 60; ++i) boxes.push_back(box());
    boxes.push_back(boxes[3]);          // the same twice
    boxes.push_back({0, 50, 100, 50});  // a line right across
    boxes.push_back({40, 40, 40, 40});  // a point
    const plane::BoxIndex index(boxes);
    for (int k = 0; k < 30; ++k) {
      const Box asked = k == 0 ? Box{40, 40, 40, 40} : box();
      std::multiset<std::size_t> found, wanted;
      index.overlapping(asked, [&](std::size_t i) { found.insert(i); });
      for (std::size_t i = 0; i < boxes.size(); ++i) {
        if (boxes[i].overlaps(asked)) wanted.insert(i);
      }
      CHECK(found == wanted);
    }
  }
  std::size_t none = 0;
  plane::BoxIndex({}).overlapping({0, 0, 1, 1}, [&](std::size_t) { ++none; });
  CHECK(none == 0);
}
