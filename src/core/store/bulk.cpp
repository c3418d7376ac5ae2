// One array after another, each with its count, all compressed as one frame (zstd). Reading trusts no count: each is
// held against the bytes that are left before anything is allocated.
#include "store/bulk.h"

#include <zstd.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <memory>
#include <new>
#include <stdexcept>
#include <string_view>

namespace inselberg::store {
namespace {

static_assert(std::endian::native == std::endian::little, "the file holds little-endian numbers");

constexpr std::string_view kMark = "ISD2", kMarkBeforeVoids = "ISD1";
// A line's flags.
constexpr std::uint64_t kClosed = 1, kContour = 2;

class Packer {
 public:
  void bytes(const void* data, std::size_t size) { raw.append(static_cast<const char*>(data), size); }
  void count(std::uint64_t n) { bytes(&n, sizeof n); }
  template <class T>
  void array(const std::vector<T>& items) {
    count(items.size());
    bytes(items.data(), items.size() * sizeof(T));
  }
  template <class T>
  void array(const Pieces<T>& items) {
    count(items.size());
    items.eachPiece([&](std::span<const T> piece) { bytes(piece.data(), piece.size_bytes()); });
  }
  void polygons(const std::vector<plane::Polygon>& list) {
    count(list.size());
    for (const auto& polygon : list) {
      array(polygon.outer);
      count(polygon.holes.size());
      for (const auto& hole : polygon.holes) array(hole);
    }
  }
  std::string raw;
};

void requirePlan(const auto& points) {
  for (const auto& p : points) {
    if (!(std::abs(p.x) <= 1e9 && std::abs(p.y) <= 1e9)) throw std::runtime_error("a coordinate is out of range");
  }
}

class Unpacker {
 public:
  explicit Unpacker(std::string_view raw) : rest_(raw) {}

  void bytes(void* to, std::size_t size) {
    if (size > rest_.size()) throw std::runtime_error("the data breaks off");
    if (size > 0) std::memcpy(to, rest_.data(), size);
    rest_.remove_prefix(size);
  }
  // A number of items of at least `least` bytes each, which must still be there.
  std::uint64_t count(std::size_t least) {
    std::uint64_t n = 0;
    bytes(&n, sizeof n);
    if (n > rest_.size() / least) throw std::runtime_error("the data breaks off");
    return n;
  }
  template <class T>
  std::vector<T> array() {
    std::vector<T> items(count(sizeof(T)));
    bytes(items.data(), items.size() * sizeof(T));
    return items;
  }
  std::vector<plane::Polygon> polygons() {
    std::vector<plane::Polygon> list(count(16));
    for (auto& polygon : list) {
      polygon.outer = array<plane::Vec2>();
      requirePlan(polygon.outer);
      polygon.holes.resize(count(8));
      for (auto& hole : polygon.holes) {
        hole = array<plane::Vec2>();
        requirePlan(hole);
      }
    }
    return list;
  }
  void end() const {
    if (!rest_.empty()) throw std::runtime_error("there is more data than was announced");
  }

 private:
  std::string_view rest_;
};

// A number, or none at all.
void requireLevelsOrNone(const std::vector<plane::Vec3>& points) {
  requirePlan(points);
  for (const auto& p : points) {
    if (std::abs(p.z) > 1e9) throw std::runtime_error("a level is out of range");
  }
}

// The bytes unpacked piece by piece.
std::string unpacked(std::span<const char> bytes) {
  constexpr unsigned long long kMostRatio = 4000, kSmall = 1 << 20;
  const unsigned long long size = ZSTD_getFrameContentSize(bytes.data(), bytes.size());
  if (size == ZSTD_CONTENTSIZE_ERROR || size == ZSTD_CONTENTSIZE_UNKNOWN)
    throw std::runtime_error("the data is not compressed as expected");
  if (size > kMostRatio * bytes.size() + kSmall) throw std::runtime_error("the data unpacks to more than it can hold");
  const std::unique_ptr<ZSTD_DStream, std::size_t (*)(ZSTD_DStream*)> stream(ZSTD_createDStream(), &ZSTD_freeDStream);
  if (!stream) throw std::bad_alloc();
  std::string raw;
  ZSTD_inBuffer in{bytes.data(), bytes.size(), 0};
  for (std::size_t left = 1; left != 0;) {
    const std::size_t had = raw.size();
    raw.resize(std::min<std::size_t>(size, std::max<std::size_t>(2 * had, kSmall)));
    ZSTD_outBuffer out{raw.data(), raw.size(), had};
    left = ZSTD_decompressStream(stream.get(), &out, &in);
    raw.resize(out.pos);
    if (ZSTD_isError(left) || (left != 0 && out.pos == had && in.pos == in.size))
      throw std::runtime_error("the compressed data is damaged");
  }
  if (raw.size() != size || in.pos != in.size) throw std::runtime_error("the compressed data is damaged");
  return raw;
}

void requireLevels(const Pieces<plane::Vec3>& points) {
  requirePlan(points);
  for (const auto& p : points) {
    if (!(std::abs(p.z) <= 1e9)) throw std::runtime_error("a level is out of range");
  }
}

}  // namespace

Hash nameOf(const project::SourceData& data) {
  Hasher h;
  const auto feed = [&]<class T>(const Pieces<T>& list) {
    h.value(list.size());
    list.eachPiece([&](std::span<const T> piece) { h.bytes(piece.data(), piece.size_bytes()); });
  };
  const auto feedArray = [&](const auto& list) {
    h.value(list.size()).bytes(list.data(), list.size() * sizeof list[0]);
  };
  feed(data.points);
  h.value(data.codes.size());
  for (const std::string& code : data.codes) h.text(code);
  h.value(data.breaklines.size());
  for (const auto& line : data.breaklines) {
    feedArray(line.vertices);
    h.value(static_cast<std::uint8_t>((line.closed ? kClosed : 0) | (line.contour ? kContour : 0)));
  }
  const auto feedPolygons = [&](const std::vector<plane::Polygon>& polygons) {
    h.value(polygons.size());
    for (const auto& polygon : polygons) {
      feedArray(polygon.outer);
      h.value(polygon.holes.size());
      for (const auto& hole : polygon.holes) feedArray(hole);
    }
  };
  feedPolygons(data.boundaries);
  feed(data.modelPoints);
  feed(data.modelTriangles);
  // What a file of version 1 can hold has the name it had there.
  if (!data.voids.empty()) feedPolygons(data.voids);
  return h.finish();
}

std::string pack(const project::SourceData& data) {
  Packer p;
  p.bytes(kMark.data(), kMark.size());
  p.array(data.points);
  p.count(data.codes.size());
  for (const std::string& code : data.codes) {
    p.count(code.size());
    p.bytes(code.data(), code.size());
  }
  p.count(data.breaklines.size());
  for (const auto& line : data.breaklines) {
    p.count((line.closed ? kClosed : 0) | (line.contour ? kContour : 0));
    p.array(line.vertices);
  }
  p.polygons(data.boundaries);
  p.array(data.modelPoints);
  p.array(data.modelTriangles);
  p.polygons(data.voids);
  std::string packed(ZSTD_compressBound(p.raw.size()), '\0');
  const std::size_t size = ZSTD_compress(packed.data(), packed.size(), p.raw.data(), p.raw.size(), 3);
  if (ZSTD_isError(size)) throw std::runtime_error(ZSTD_getErrorName(size));
  packed.resize(size);
  return packed;
}

project::SourceData unpack(std::span<const char> bytes) {
  const std::string raw = unpacked(bytes);
  Unpacker u(raw);
  std::string mark(kMark.size(), '\0');
  u.bytes(mark.data(), mark.size());
  if (mark != kMark && mark != kMarkBeforeVoids) throw std::runtime_error("the data is of an unknown kind");
  project::SourceData data;
  data.points = u.array<plane::Vec3>();
  requireLevels(data.points);
  for (std::uint64_t n = u.count(8); n > 0; --n) {
    std::string code(u.count(1), '\0');
    u.bytes(code.data(), code.size());
    data.codes.push_back(std::move(code));
  }
  for (std::uint64_t n = u.count(16); n > 0; --n) {
    ground::Breakline line;
    std::uint64_t flags = 0;
    u.bytes(&flags, sizeof flags);
    line.closed = (flags & kClosed) != 0;
    line.contour = (flags & kContour) != 0;
    line.vertices = u.array<plane::Vec3>();
    requireLevelsOrNone(line.vertices);
    data.breaklines.push_back(std::move(line));
  }
  data.boundaries = u.polygons();
  data.modelPoints = u.array<plane::Vec3>();
  requireLevels(data.modelPoints);
  data.modelTriangles = u.array<ground::Triangle>();
  for (const ground::Triangle& t : data.modelTriangles) {
    for (const ground::Index v : t) {
      if (v >= data.modelPoints.size()) throw std::runtime_error("a triangle names a point that is not there");
    }
  }
  if (mark == kMark) data.voids = u.polygons();
  u.end();
  return data;
}

}  // namespace inselberg::store
