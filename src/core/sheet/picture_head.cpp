// The three formats keep the same facts in three ways: PNG in chunks, JPEG in segments (its own density, or EXIF, which
// is a TIFF without pixels), TIFF in directories.
#include "sheet/picture_head.h"

namespace inselberg::sheet {
namespace {

constexpr double kInch = 25.4;

// Numbers of a file, in either order of bytes; 0 beyond its end.
struct Bytes {
  std::string_view data;
  bool little = false;

  std::uint32_t number(std::size_t at, int length) const {
    if (at > data.size() || data.size() - at < static_cast<std::size_t>(length)) return 0;
    std::uint32_t value = 0;
    for (int i = 0; i < length; ++i) {
      const auto byte = static_cast<unsigned char>(data[at + static_cast<std::size_t>(little ? length - 1 - i : i)]);
      value = value << 8 | byte;
    }
    return value;
  }
};

void setResolution(PictureHead& head, double x, double y, double mm) {
  if (x > 0 && y > 0) head.mmPerPixel = plane::Vec2{mm / x, mm / y};
}

void readTiff(std::string_view data, int page, PictureHead& head) {
  Bytes bytes{data, data.starts_with("II")};
  std::size_t directory = bytes.number(4, 4);
  for (int i = 0; i < page && directory > 0 && directory < data.size(); ++i)
    directory = bytes.number(directory + 2 + 12 * std::size_t{bytes.number(directory, 2)}, 4);
  if (directory == 0 || directory >= data.size()) return;
  double x = 0, y = 0;
  std::uint32_t unit = 2;  // inches, unless told
  const auto ratio = [&](std::size_t entry) {
    const std::size_t at = bytes.number(entry + 8, 4);
    const double below = bytes.number(at + 4, 4);
    return below > 0 ? bytes.number(at, 4) / below : 0;
  };
  for (std::uint32_t i = 0, count = bytes.number(directory, 2); i < count; ++i) {
    const std::size_t entry = directory + 2 + std::size_t{12} * i;
    const std::uint32_t value = bytes.number(entry + 8, 2);
    switch (bytes.number(entry, 2)) {
      case 274:
        if (value >= 1 && value <= 8) head.turn = static_cast<int>(value);
        break;
      case 282:
        x = ratio(entry);
        break;
      case 283:
        y = ratio(entry);
        break;
      case 296:
        unit = value;
        break;
      default:
        break;
    }
  }
  if (unit == 2 || unit == 3) setResolution(head, x, y, unit == 2 ? kInch : 10);
}

void readPng(std::string_view data, PictureHead& head) {
  const Bytes bytes{data};
  for (std::size_t at = 8; at + 12 <= data.size();) {
    const std::size_t length = bytes.number(at, 4);
    const std::string_view name = data.substr(at + 4, 4);
    if (length > data.size() - at - 12 || name == "IEND") return;
    const std::size_t body = at + 8;
    if (name == "pHYs" && length >= 9 && bytes.number(body + 8, 1) == 1)
      setResolution(head, bytes.number(body, 4), bytes.number(body + 4, 4), 1000);
    if (name == "eXIf") {
      PictureHead exif;
      readTiff(data.substr(body, length), 0, exif);
      head.turn = exif.turn;
      if (!head.mmPerPixel) head.mmPerPixel = exif.mmPerPixel;
    }
    at = body + length + 4;
  }
}

void readJpeg(std::string_view data, PictureHead& head) {
  const Bytes bytes{data};
  for (std::size_t at = 2; at + 4 <= data.size() && bytes.number(at, 1) == 0xff;) {
    const std::uint32_t marker = bytes.number(at + 1, 1);
    if (marker == 0xff) {  // filling
      ++at;
      continue;
    }
    if (marker == 0xda || marker == 0xd9) return;
    const std::size_t length = bytes.number(at + 2, 2), body = at + 4;
    if (length < 2 || length > data.size() - at - 2) return;
    const std::string_view segment = data.substr(body, length - 2);
    if (marker == 0xe0 && segment.starts_with(std::string_view("JFIF\0", 5)) && segment.size() >= 12) {
      const std::uint32_t unit = bytes.number(body + 7, 1);
      if (unit == 1 || unit == 2)
        setResolution(head, bytes.number(body + 8, 2), bytes.number(body + 10, 2), unit == 1 ? kInch : 10);
    }
    if (marker == 0xe1 && segment.starts_with(std::string_view("Exif\0\0", 6))) {
      PictureHead exif;
      readTiff(segment.substr(6), 0, exif);
      head.turn = exif.turn;
      if (exif.mmPerPixel) head.mmPerPixel = exif.mmPerPixel;
    }
    if (marker == 0xee && segment.starts_with("Adobe")) head.inverted = true;
    at = body + length - 2;
  }
}

}  // namespace

std::optional<PictureKind> pictureKind(std::string_view bytes) {
  if (bytes.starts_with("\x89PNG\r\n\x1a\n")) return PictureKind::png;
  if (bytes.starts_with("\xff\xd8\xff")) return PictureKind::jpeg;
  if (bytes.starts_with(std::string_view("II*\0", 4)) || bytes.starts_with(std::string_view("MM\0*", 4)) ||
      bytes.starts_with(std::string_view("II+\0", 4)) || bytes.starts_with(std::string_view("MM\0+", 4)))
    return PictureKind::tiff;
  return std::nullopt;
}

PictureHead pictureHead(std::string_view bytes, PictureKind kind, int page) {
  PictureHead head;
  switch (kind) {
    case PictureKind::png:
      readPng(bytes, head);
      break;
    case PictureKind::jpeg:
      readJpeg(bytes, head);
      break;
    case PictureKind::tiff:
      if (bytes[2] == '*' || bytes[3] == '*') readTiff(bytes, page, head);
      break;
  }
  return head;
}

}  // namespace inselberg::sheet
