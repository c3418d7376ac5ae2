// Test pits from point lists.
#include "exchange/pit_list.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "support/figures.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec3;

TEST_CASE("Pits are read by the name of their depths, beside levels and without a header") {
  const Scratch s;
  const std::vector<Vec3> pits{{412010, 6187020, 0.25}, {412060, 6187020, 0.4}};
  for (const char* text : {"easting,northing,depth\n412010,6187020,0.25\n412060,6187020,0.4\n",
                           "Pit;Easting;Northing;Thickness m\nTP1;412010;6187020;0.25\nTP2;412060;6187020;0.4\n",
                           "easting,northing,level,depth\n412010,6187020,71.2,0.25\n412060,6187020,72.9,0.4\n",
                           "TP1,412010,6187020,0.25\nTP2,412060,6187020,0.4\n"}) {
    CAPTURE(text);
    CHECK(exchange::readPits(s.file("pits.csv", text)) == pits);
  }
}

TEST_CASE("What is no list of pits is refused with its place") {
  const Scratch s;
  for (const auto& [text, expected] : {std::pair{"easting,northing,depth\n412010,6187020,-0.25\n", "pits.csv:2"},
                                       {"easting,northing,depth\n412010,6187020,deep\n", "pits.csv:2"},
                                       {"easting,northing,depth\n", "no pits"},
                                       {"north,colour\n1,2\n", "pits.csv"}}) {
    CAPTURE(text);
    try {
      exchange::readPits(s.file("pits.csv", text));
      FAIL("read");
    } catch (const Error& e) {
      CHECK(std::string(e.what()).find(expected) != std::string::npos);
    }
  }
}
