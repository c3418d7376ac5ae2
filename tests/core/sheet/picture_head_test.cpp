// What pictures say about themselves, from made-up heads of each format; every turn and both orders of bytes.
#include "sheet/picture_head.h"

#include <catch2/catch.hpp>
#include <random>
#include <string>

using namespace inselberg;
using sheet::PictureHead;
using sheet::PictureKind;

namespace {

std::string number(std::uint32_t value, int bytes, bool little) {
  std::string out;
  for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> 8 * (little ? i : bytes - 1 - i) & 0xff);
  return out;
}

// A directory of a TIFF with a turn and, when it is above 0, a resolution for each axis in so many per unit.
std::string exif(int turn, double x, double y, std::uint32_t unit, bool little) {
  const auto n = [&](std::uint32_t value, int bytes) { return number(value, bytes, little); };
  const auto entry = [&](std::uint32_t tag, std::uint32_t type, const std::string& value) {
    return n(tag, 2) + n(type, 2) + n(1, 4) + value + std::string(4 - value.size(), '\0');
  };
  const bool sized = x > 0;
  const std::uint32_t entries = sized ? 4 : 1, ratios = 8 + 2 + 12 * entries + 4;
  std::string out = (little ? "II" : "MM") + n(42, 2) + n(8, 4) + n(entries, 2);
  out += entry(274, 3, n(static_cast<std::uint32_t>(turn), 2));
  if (sized) out += entry(282, 5, n(ratios, 4)) + entry(283, 5, n(ratios + 8, 4)) + entry(296, 3, n(unit, 2));
  out += n(0, 4);
  if (sized) {
    for (const double v : {x, y}) out += n(static_cast<std::uint32_t>(100 * v), 4) + n(100, 4);
  }
  return out;
}

std::string segment(unsigned char marker, const std::string& body) {
  return std::string{'\xff', static_cast<char>(marker)} +
         number(static_cast<std::uint32_t>(body.size()) + 2, 2, false) + body;
}
std::string jpeg(const std::string& segments) {
  return "\xff\xd8" + segments + segment(0xda, "rest");
}
std::string jfif(std::uint32_t unit, std::uint32_t x, std::uint32_t y) {
  return segment(0xe0, std::string("JFIF\0\1\2", 7) + number(unit, 1, false) + number(x, 2, false) +
                           number(y, 2, false) + std::string(2, '\0'));
}

std::string chunk(const std::string& name, const std::string& body) {
  return number(static_cast<std::uint32_t>(body.size()), 4, false) + name + body + "crc!";
}
std::string png(const std::string& chunks) {
  return "\x89PNG\r\n\x1a\n" + chunk("IHDR", std::string(13, '\1')) + chunks + chunk("IEND", "");
}

PictureHead headOf(const std::string& bytes) {
  const auto kind = sheet::pictureKind(bytes);
  REQUIRE(kind);
  return sheet::pictureHead(bytes, *kind, 0);
}

}  // namespace

TEST_CASE("Each format tells its turn, in either order of bytes") {
  for (int turn = 1; turn <= 8; ++turn) {
    for (const bool little : {false, true}) {
      CAPTURE(turn, little);
      const std::string own = exif(turn, 0, 0, 2, little);
      CHECK(headOf(own).turn == turn);
      CHECK(headOf(jpeg(segment(0xe1, std::string("Exif\0\0", 6) + own))).turn == turn);
      CHECK(headOf(png(chunk("eXIf", own))).turn == turn);
      CHECK_FALSE(headOf(own).mmPerPixel);
    }
  }
  // One that is none leaves the picture as it is.
  for (const int turn : {0, 9, 65535}) CHECK(headOf(exif(turn, 0, 0, 2, true)).turn == 1);
}

TEST_CASE("Resolutions are told in inches, centimetres and metres, for each axis") {
  const auto sized = [](const std::string& bytes, double x, double y) {
    const PictureHead head = headOf(bytes);
    REQUIRE(head.mmPerPixel);
    CHECK(head.mmPerPixel->x == Approx(x));
    CHECK(head.mmPerPixel->y == Approx(y));
  };
  sized(exif(1, 300, 200, 2, true), 25.4 / 300, 25.4 / 200);
  sized(exif(1, 118.11, 118.11, 3, false), 10 / 118.11, 10 / 118.11);
  sized(jpeg(jfif(1, 300, 150)), 25.4 / 300, 25.4 / 150);
  sized(jpeg(jfif(2, 100, 50)), 0.1, 0.2);
  sized(png(chunk("pHYs", number(4000, 4, false) + number(2000, 4, false) + '\1')), 0.25, 0.5);
  // A shape of pixels is no size; nor is nothing.
  CHECK_FALSE(headOf(jpeg(jfif(0, 1, 1))).mmPerPixel);
  CHECK_FALSE(headOf(png(chunk("pHYs", number(4000, 4, false) + number(2000, 4, false) + '\0'))).mmPerPixel);
  CHECK_FALSE(headOf(jpeg(jfif(1, 0, 300))).mmPerPixel);
  CHECK_FALSE(headOf(exif(1, 300, 200, 1, true)).mmPerPixel);
  // What a camera or scanner wrote later rules over the JPEG's own, not over a PNG's.
  const std::string own = exif(6, 600, 600, 2, false);
  sized(jpeg(jfif(1, 72, 72) + segment(0xe1, std::string("Exif\0\0", 6) + own)), 25.4 / 600, 25.4 / 600);
  sized(png(chunk("pHYs", number(4000, 4, false) + number(4000, 4, false) + '\1') + chunk("eXIf", own)), 0.25, 0.25);
}

TEST_CASE("Filling before segments is passed over, and only what stands before the pixels counts") {
  const std::string turned = segment(0xe1, std::string("Exif\0\0", 6) + exif(8, 0, 0, 2, true));
  CHECK(headOf("\xff\xd8\xff\xff\xff" + turned + segment(0xda, "rest")).turn == 8);
  CHECK(headOf("\xff\xd8" + segment(0xda, "rest") + turned).turn == 1);
  CHECK(headOf(jpeg(segment(0xe1, "http://ns.example/" + turned))).turn == 1);  // another use of the segment
  CHECK(headOf(png("")).turn == 1);
  CHECK(headOf(jpeg(segment(0xee, "Adobe"))).inverted);
  CHECK_FALSE(headOf(jpeg("")).inverted);
}

TEST_CASE("Heads that break off anywhere, or lie about their lengths, are read as far as they go", "[random]") {
  const std::string whole[] = {
      exif(3, 300, 300, 2, true),
      jpeg(jfif(1, 300, 300) + segment(0xe1, std::string("Exif\0\0", 6) + exif(3, 72, 72, 2, false))),
      png(chunk("pHYs", number(4000, 4, false) + number(2000, 4, false) + '\1') +
          chunk("eXIf", exif(3, 72, 72, 2, true)))};
  std::mt19937 random(5);
  for (const std::string& bytes : whole) {
    for (std::size_t end = 4; end <= bytes.size(); ++end) {
      const std::string part = bytes.substr(0, end);
      if (const auto kind = sheet::pictureKind(part)) {
        const PictureHead head = sheet::pictureHead(part, *kind, 0);
        CHECK((head.turn == 1 || head.turn == 3));
      }
    }
    CHECK(headOf(bytes).turn == 3);
    for (int i = 0; i < 3000; ++i) {
      std::string damaged = bytes;
      for (int k = 0; k < 3; ++k) damaged[random() % damaged.size()] = static_cast<char>(random());
      const auto kind = sheet::pictureKind(damaged);
      if (!kind) continue;
      const PictureHead head = sheet::pictureHead(damaged, *kind, static_cast<int>(random() % 3));
      CHECK((head.turn >= 1 && head.turn <= 8));
      if (head.mmPerPixel) CHECK((head.mmPerPixel->x > 0 && head.mmPerPixel->y > 0));
    }
  }
}

TEST_CASE("Files are known by their first bytes") {
  CHECK(sheet::pictureKind(png("")) == PictureKind::png);
  CHECK(sheet::pictureKind(jpeg("")) == PictureKind::jpeg);
  for (const char* begins : {"II*", "MM\0*", "II+", "MM\0+"})
    CHECK(sheet::pictureKind(std::string(begins, begins[2] == '\0' ? 4 : 3) + std::string(5, '\0')) ==
          PictureKind::tiff);
  for (const char* other : {"", "I", "II", "%PDF-1.4", "GIF89a", "\x89PNG", "II?\0"})
    CHECK_FALSE(sheet::pictureKind(other));
}
