// Room for very many values, read and written here and there.
#pragma once

#include <sys/mman.h>

#include <algorithm>
#include <cstddef>
#include <cstdlib>
#include <new>
#include <type_traits>

namespace inselberg {

// n values, left as they come: each has to be set before it is read. Where there are many, and the system has large
// pages, they lie in those, so that its table of pages is missed less often.
template <class T>
class LargeArray {
  static_assert(std::is_trivially_destructible_v<T>);
  static constexpr std::size_t kPage = std::size_t{1} << 21;  // bytes
  static_assert(alignof(T) <= kPage);

 public:
  explicit LargeArray(std::size_t n) : size_(n) {
    if (n == 0) return;
    const bool many = n * sizeof(T) >= kPage;
    const std::size_t unit = many ? kPage : std::max(alignof(T), sizeof(void*));
    const std::size_t bytes = (n * sizeof(T) + unit - 1) / unit * unit;
    values_ = static_cast<T*>(std::aligned_alloc(unit, bytes));
    if (!values_) throw std::bad_alloc();
    if (many) madvise(values_, bytes, MADV_HUGEPAGE);  // where there are none all goes on
  }
  LargeArray(const LargeArray&) = delete;
  LargeArray& operator=(const LargeArray&) = delete;
  ~LargeArray() { std::free(values_); }

  std::size_t size() const { return size_; }
  T& operator[](std::size_t i) { return values_[i]; }
  const T& operator[](std::size_t i) const { return values_[i]; }

 private:
  std::size_t size_;
  T* values_ = nullptr;
};

}  // namespace inselberg
