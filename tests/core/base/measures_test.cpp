#include "base/measures.h"

#include <catch2/catch.hpp>

using namespace inselberg;

TEST_CASE("Quantities are told in yards, acres and feet, and rounded as wanted") {
  const Measures metric, imperial{true, 1};
  CHECK(inUnit(1, Quantity::volume, imperial) == Approx(1.307950619314392).epsilon(1e-12));
  CHECK(inUnit(4046.8564224, Quantity::area, imperial) == Approx(1).epsilon(1e-12));
  CHECK(inUnit(0.3048, Quantity::length, imperial) == Approx(1).epsilon(1e-12));
  CHECK(inUnit(7, Quantity::volume, metric) == 7);
  CHECK(shown(18302.4, Quantity::volume, metric) == "18 302 m³");
  CHECK(shown(18302.4, Quantity::volume, {false, 100}) == "18 300 m³");
  CHECK(shown(18302.44, Quantity::volume, {false, 0.1}) == "18 302.4 m³");
  CHECK(shown(764.554857984, Quantity::volume, imperial) == "1 000 yd³");
  CHECK(shown(8093.7128448, Quantity::area, imperial) == "2.00 acres");
  CHECK(shown(100, Quantity::area, imperial) == "1 076 ft²");
  CHECK(shown(1.25, Quantity::length, metric) == "1.25 m");
  CHECK(shown(1, Quantity::length, imperial) == "3.28 ft");
}
