// Typical sections typed: a leg's numbers over those it has.
#include "works/section.h"

#include <catch2/catch.hpp>

#include "base/error.h"

using namespace inselberg;
using works::Leg;

TEST_CASE("Numbers typed over those of a leg change these and no others") {
  const Leg out = works::legOut(1, 2), up = works::legBy(1.5, 3), level = works::legToLevel(74, 2),
            batter = works::legToGround(1.5, 2);
  const auto typed = [](const Leg& leg, const char* text, bool cut = false, double unit = 1) {
    return works::typedOver(leg, text, cut, unit);
  };
  CHECK(typed(out, "2.5") == works::legOut(2.5, 2));
  CHECK(typed(out, "2.5 m") == works::legOut(2.5, 2));
  CHECK(typed(out, "2,5") == works::legOut(2.5, 2));  // a decimal comma parts nothing
  CHECK(typed(out, "-3 %") == works::legOut(1, -3));
  CHECK(typed(out, " 4, 1.5% ") == works::legOut(4, 1.5));
  CHECK(typed(out, "1.5 %, 4") == works::legOut(4, 1.5));
  CHECK(typed(up, "-2") == works::legBy(-2, 3));
  CHECK(typed(up, "2:1") == works::legBy(1.5, 2));
  CHECK(typed(up, "50 %") == works::legBy(1.5, 2));
  CHECK(typed(up, "2, 1:2") == works::legBy(2, 0.5));
  CHECK(typed(level, "75.25, 4:1") == works::legToLevel(75.25, 4));
  CHECK(typed(batter, "3:1", true) == works::legToGround(3, 2));
  CHECK(typed(batter, "3", false) == works::legToGround(1.5, 3));
  // In feet, but where a unit is typed.
  CHECK(typed(out, "10", false, 0.3048).width == Approx(3.048));
  CHECK(typed(out, "10 m", false, 0.3048).width == Approx(10));

  const auto refused = [&](const Leg& leg, const char* text, const char* why) {
    CHECK_THROWS_WITH(typed(leg, text), Catch::Contains(why));
  };
  refused(out, "", "nothing is typed");
  refused(out, "3:1", "no number of this leg");
  refused(out, "1, 2, wide", "\"wide\"");
  refused(out, "-1", "width");
  refused(up, "0:1", "no number of this leg");
  refused(batter, "flat", "type its slope");
  refused(batter, "5000", "slope");
}
