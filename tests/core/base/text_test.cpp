#include "base/text.h"

#include <catch2/catch.hpp>
#include <random>

using namespace inselberg;

TEST_CASE("UTF-8 is told from what is none, and stays as it is") {
  for (const std::string good : {"", "plain", "\u00e9\u20ac\U0001F5FA", "\uffff"}) {
    CHECK(isUtf8(good));
    CHECK(validUtf8(good) == good);
  }
  for (const std::string bad : {"caf\xe9", "\xc0\xaf", "\xed\xa0\x80", "\xf4\x90\x80\x80", "\xe2\x82", "\x80"})
    CHECK_FALSE(isUtf8(bad));
  CHECK(validUtf8("caf\xe9.csv") == "caf\u00e9.csv");
  CHECK(validUtf8("a\xed\xa0\x80z") == "a\ufffdz");
  CHECK(validUtf8("\x80") == "\ufffd");
}

TEST_CASE("Whatever bytes come in, UTF-8 comes out, and twice the same", "[random]") {
  std::mt19937 random(4);
  for (int i = 0; i < 3000; ++i) {
    std::string bytes;
    for (auto n = random() % 12; n > 0; --n) bytes += static_cast<char>(random() % 3 ? 0xc0 + random() % 64 : random());
    const std::string text = validUtf8(bytes);
    CHECK(isUtf8(text));
    CHECK(validUtf8(text) == text);
    const std::string line = oneLine(text);
    CHECK(line.size() == text.size());
    for (const char c : line) CHECK((static_cast<unsigned char>(c) >= 0x20 && c != 0x7f));
  }
  CHECK(oneLine("a\x1b[2Jb\n\xc2\x9b"
                "31m") == "a [2Jb   31m");
}
