#include "base/measures.h"

#include <catch2/catch.hpp>
#include <random>

#include "base/quantity.h"

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

TEST_CASE("Lengths are told and typed in the unit of the measures") {
  const Measures metric, feet{.imperial = true};
  CHECK(shownLength(79.4996, 3, metric) == "79.500 m");
  CHECK(shownLength(79.5, 3, feet) == "260.83 ft");
  CHECK(shownLength(304.8, 0, feet) == "1 000 ft");
  CHECK(shownArea(9.290304, 1, feet) == "100.0 ft²");
  CHECK(shownArea(9.290304, 1, metric) == "9.3 m²");
  CHECK(roundLength(0.7, metric) == 1);
  CHECK(roundLength(0.7, feet) == Approx(2 * 0.3048));
  CHECK(parseLength("10", {}, lengthUnit(feet)) == Approx(3.048));
  CHECK(parseLength("+10", 1, lengthUnit(feet)) == Approx(4.048));
  for (const char* named : {"1.2 m", "120 cm", "1200 mm"})
    CHECK(parseLength(named, {}, lengthUnit(feet)) == Approx(1.2).epsilon(1e-12));
  CHECK(*parseLength("3 ft 6 in", {}, lengthUnit(metric)) == Approx(*parseLength("3.5", {}, lengthUnit(feet))));
}

TEST_CASE("What is shown of a length is typed again as it was") {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> feet(-3000, 3000);
  for (int i = 0; i < 2000; ++i) {
    const double typed = std::round(feet(random) * 100) / 100;
    const double metres = *parseLength(std::to_string(typed), {}, kMetresPerFoot);
    CHECK(inLengthUnit(metres, kMetresPerFoot) == typed);
    CHECK(inLengthUnit(metres, 1) == metres);
  }
}

TEST_CASE("Sentences are told in other measures, names in them as they are") {
  const std::string kept =
      "Road 6 m reaches 1 219.20\u00a0m beyond the boundary near E 412010.00 N 6187020.00, over 93\u00a0m², 8\u00a0m³: "
      "Ø 1.5 ditch";
  CHECK(toldIn(kept, {}) ==
        "Road 6 m reaches 1 219.20 m beyond the boundary near E 412010.00 N 6187020.00, over 93 m², 8 m³: Ø 1.5 ditch");
  CHECK(toldIn(kept, {.imperial = true}) ==
        "Road 6 m reaches 4 000.00 ft beyond the boundary near E 412010.00 N 6187020.00, over 1 001 ft², 10 yd³: "
        "Ø 1.5 ditch");
  CHECK(toldIn("-0.305\u00a0m", {.imperial = true}) == "-1.00 ft");
  CHECK(toldIn("nothing", {.imperial = true}) == "nothing");
}
