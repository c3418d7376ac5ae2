#include "base/hash.h"

#include <xxhash.h>

#include <new>

namespace inselberg {

std::string Hash::hex() const {
  static const char* digits = "0123456789abcdef";
  std::string text;
  for (std::uint64_t part : {high, low}) {
    for (int shift = 60; shift >= 0; shift -= 4) text += digits[(part >> shift) & 15];
  }
  return text;
}

Hasher::Hasher() : state_(XXH3_createState()) {
  if (!state_) throw std::bad_alloc();
  XXH3_128bits_reset(static_cast<XXH3_state_t*>(state_));
}

Hasher::~Hasher() {
  XXH3_freeState(static_cast<XXH3_state_t*>(state_));
}

Hasher& Hasher::bytes(const void* data, std::size_t size) {
  if (size > 0) XXH3_128bits_update(static_cast<XXH3_state_t*>(state_), data, size);
  return *this;
}

Hasher& Hasher::text(std::string_view s) {
  value(s.size());
  return bytes(s.data(), s.size());
}

Hash Hasher::finish() const {
  const XXH128_hash_t h = XXH3_128bits_digest(static_cast<const XXH3_state_t*>(state_));
  return {h.high64, h.low64};
}

}  // namespace inselberg
