// 128-bit content hashes: what a memo is kept by, and what bulk data is named by in the project file.
#pragma once

#include <array>
#include <compare>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

namespace inselberg {

struct Hash {
  std::uint64_t high = 0;
  std::uint64_t low = 0;
  auto operator<=>(const Hash&) const = default;
  std::string hex() const;  // 32 lower-case digits
};

struct HashOfHash {
  std::size_t operator()(const Hash& h) const { return static_cast<std::size_t>(h.low); }
};

// Feeds values in order; equal feeds give equal hashes. Values are hashed by their bytes, lengths included, so that
// ("ab","c") and ("a","bc") differ.
class Hasher {
 public:
  Hasher();
  ~Hasher();
  Hasher(const Hasher&) = delete;
  Hasher& operator=(const Hasher&) = delete;

  Hasher& bytes(const void* data, std::size_t size);
  Hasher& text(std::string_view s);
  Hasher& hash(const Hash& h) { return value(h.high).value(h.low); }

  template <class T>
  requires std::is_arithmetic_v<T> || std::is_enum_v<T> Hasher& value(T v) { return bytes(&v, sizeof v); }

  // T must have no padding bytes.
  template <class T>
  requires std::has_unique_object_representations_v<T> || std::is_floating_point_v<T> Hasher& array(
      std::span<const T> items) {
    value(items.size());
    return bytes(items.data(), items.size_bytes());
  }

  Hash finish() const;

 private:
  void* state_;
};

}  // namespace inselberg
