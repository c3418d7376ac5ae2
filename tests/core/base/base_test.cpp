#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <limits>
#include <numeric>
#include <thread>

#include "base/error.h"
#include "base/hash.h"
#include "base/measures.h"
#include "base/parallel.h"
#include "base/quantity.h"
#include "base/sum.h"

using namespace inselberg;

TEST_CASE("Numbers are finite and fill the whole text, or are none") {
  CHECK(parseNumber(" 12.5 ") == 12.5);
  CHECK(parseNumber("+3") == 3);
  CHECK(parseNumber("-1e3") == -1000);
  for (const char* bad : {"", " ", "nan", "inf", "-inf", "1e400", "12abc", "1 2", "0x1f", "--1", "1,5", "+", "++1"}) {
    CAPTURE(bad);
    CHECK_FALSE(parseNumber(bad));
  }
}

TEST_CASE("Lengths are read in every form, changes too") {
  CHECK(*parseLength("79.5", {}) == 79.5);
  CHECK(*parseLength("79,5", {}) == 79.5);
  CHECK(*parseLength("8 in", {}) == Approx(0.2032));
  CHECK(*parseLength("2 ft", {}) == Approx(0.6096));
  CHECK(*parseLength("350 mm", {}) == Approx(0.35));
  CHECK(*parseLength("12cm", {}) == Approx(0.12));
  CHECK(*parseLength("1.2 m", {}) == 1.2);
  CHECK(*parseLength("+0.25", 70.0) == 70.25);
  CHECK_FALSE(parseLength("+0.25", {}));
  CHECK(*parseLength("-0.25", {}) == -0.25);
  CHECK(*parseLength("-100 mm", 70.0) == Approx(69.9));
  CHECK(*parseLength("=-0.1", 70.0) == -0.1);
  CHECK(*parseLength("-0.1", -2.0) == -0.1);
  CHECK(*parseLength("+0.25", -2.0) == -1.75);
  CHECK(*parseLength("-0.1", {}) == -0.1);
  CHECK(*parseLength("5 ft 3 in", {}) == Approx(63 * 0.0254));
  CHECK(*parseLength("5'3.5\"", {}) == Approx(63.5 * 0.0254));
  CHECK(*parseLength("5' 3\"", {}) == Approx(63 * 0.0254));
  CHECK(*parseLength("-5 ft 6 in", {}) == Approx(-66 * 0.0254));
  CHECK(*parseLength("+1 ft 2 in", 70.0) == Approx(70 + 14 * 0.0254));
  CHECK(*parseLength("1 203.5", {}) == 1203.5);
  for (const char* bad : {"", "m", "high", "1 yd", "+", "1e999", "nan", "5 ft -3 in", "5 ft 3", "5 in 3 ft", "ft 3 in",
                          "5 ft in", "5 ft 12 in"}) {
    CAPTURE(bad);
    CHECK_FALSE(parseLength(bad, 70.0));
  }
}

TEST_CASE("What is typed may have a decimal comma, and blanks between thousands as figures are shown") {
  CHECK(parseTyped("2,5") == 2.5);
  CHECK(parseTyped(" -18 300.25 ") == -18300.25);
  CHECK(parseTyped("1 000 000") == 1e6);
  CHECK(parseTyped("+12 345,5") == 12345.5);
  for (const double v : {0.0, -1.25, 999.5, 1000.0, -123456.75, 1e9}) CHECK(parseTyped(formatNumber(v, 2)) == v);
  for (const char* bad : {"", "1 2", "1 0000", "12 34", "1234 567", "1 234 56", " ", "1. 234", "1,234,567", "a 123"}) {
    CAPTURE(bad);
    CHECK_FALSE(parseTyped(bad));
  }
}

TEST_CASE("Volumes are read in cubic metres and cubic yards") {
  CHECK(parseVolume("1500", {}) == 1500);
  CHECK(parseVolume("1 505,5 m³", {}) == 1505.5);
  CHECK(parseVolume("350 m3", {}) == 350);
  for (const char* text : {"2000 yd³", "2 000 yd3", "2000 cu yd"})
    CHECK(*parseVolume(text, {}) == Approx(2000 * 0.9144 * 0.9144 * 0.9144));
  Measures imperial;
  imperial.imperial = true;
  CHECK(*parseVolume("2000", imperial) == *parseVolume("2000 yd³", {}));
  CHECK(*parseVolume("2000 m³", imperial) == 2000);
  for (const double v : {0.0, 12.0, 1505.0, -18403.0})
    CHECK(*parseVolume(shown(v, Quantity::volume, imperial), imperial) == Approx(v).margin(0.4));
  for (const char* bad : {"", "m³", "yd³", "much", "5 ft"}) {
    CAPTURE(bad);
    CHECK_FALSE(parseVolume(bad, {}));
  }
}

TEST_CASE("Slopes are read as ratio, percent, degrees or a bare H") {
  CHECK(parseSlope("2:1")->run() == 2);
  CHECK(parseSlope("3 : 2")->run() == 1.5);
  CHECK(parseSlope("33 %")->run() == Approx(100.0 / 33));
  CHECK(parseSlope("45 deg")->run() == Approx(1));
  CHECK(parseSlope("26.565051177°")->run() == Approx(2));
  CHECK(parseSlope("2.5")->run() == 2.5);
  for (const char* bad : {"", "0", "-2", "2:0", "0:1", "0 %", "90 deg", "1e9", "nan", "1e-9", "2:-1"}) {
    CAPTURE(bad);
    CHECK_FALSE(parseSlope(bad));
  }
  CHECK(Slope::horizontalPerVertical(2).text() == "2:1");
}

TEST_CASE("Figures have blanks between thousands, and zero has no minus") {
  CHECK(formatNumber(18300.25, 2) == "18 300.25");
  CHECK(formatNumber(-1234567, 0) == "-1 234 567");
  CHECK(formatNumber(-0.0004, 3) == "0.000");
  CHECK(formatNumber(999, 0) == "999");
  CHECK(formatNumber(-1000.5, 1) == "-1 000.5");
}

TEST_CASE("An error says where, what and what to do in one line") {
  CHECK(std::string(Error("it broke", {"a.csv", 7, "level"}, "mend it").what()) == "a.csv:7: level: it broke; mend it");
  CHECK(std::string(Error("it broke", "mend it").what()) == "it broke; mend it");
}

TEST_CASE("A compensated sum loses nothing of small terms beside large ones") {
  Sum sum;
  sum.add(1e16);
  for (int i = 0; i < 1000; ++i) sum.add(1);
  sum.add(-1e16);
  CHECK(sum.value() == 1000);
}

TEST_CASE("Hashes tell apart what is fed in another order or another split") {
  const auto h = [](auto... parts) {
    Hasher hasher;
    (hasher.text(parts), ...);
    return hasher.finish();
  };
  CHECK(h("ab", "c") == h("ab", "c"));
  CHECK_FALSE(h("ab", "c") == h("a", "bc"));
  CHECK_FALSE(h("a", "b") == h("b", "a"));
  CHECK(h("x").hex().size() == 32);
}

TEST_CASE("Parallel sums do not depend on how the work is shared, and a loop can be stopped") {
  std::vector<double> values(100000);
  for (std::size_t i = 0; i < values.size(); ++i) values[i] = std::sin(static_cast<double>(i));
  const auto total = [&] {
    double sum = 0;
    for (const double part : parallelMap<double>(values.size(), 1000, {}, [&](std::size_t b, std::size_t e) {
           return std::accumulate(values.begin() + static_cast<long>(b), values.begin() + static_cast<long>(e), 0.0);
         }))
      sum += part;
    return sum;
  };
  const double first = total();
  for (int i = 0; i < 20; ++i) CHECK(total() == first);
  std::atomic<int> asked = 0;
  const Progress stop([&] { return ++asked > 5; });
  CHECK_THROWS_AS(parallelChunks(10000, 10, stop, [](std::size_t, std::size_t, std::size_t) {}), Cancelled);
  CHECK_THROWS_AS(parallelChunks(10, 1, {}, [](std::size_t, std::size_t, std::size_t) { throw Error("x", "y"); }),
                  Error);
}

TEST_CASE("Within work that an exception ends elsewhere, no loop returns with some of it undone") {
  for (int round = 0; round < 20; ++round) {
    std::atomic<bool> begun = false, undone = false;
    const auto fail = [&] {
      for (int i = 0; i < 200 && !begun; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(1));
      throw Error("x", "y");
    };
    const auto workOn = [&] {
      begun = true;
      for (int i = 0; i < 20'000; ++i) {
        std::atomic<int> done = 0;
        parallelChunks(8, 1, {}, [&](std::size_t, std::size_t, std::size_t) { ++done; });
        if (done != 8) undone = true;
        done = 0;
        parallelInvoke([&] { ++done; }, [&] { ++done; }, [&] { ++done; });
        if (done != 3) undone = true;
      }
    };
    CHECK_THROWS_AS(
        parallelChunks(2, 1, {}, [&](std::size_t k, std::size_t, std::size_t) { k == 0 ? fail() : workOn(); }), Error);
    CHECK_FALSE(undone);
  }
}
