// A long list in pieces: copies share them, and a change of one item copies the piece it lies in.
#pragma once

#include <algorithm>
#include <cassert>
#include <initializer_list>
#include <iterator>
#include <memory>
#include <mutex>
#include <span>
#include <stdexcept>
#include <utility>
#include <vector>

#include "base/hash.h"

namespace inselberg {

// A value like std::vector<T>, read through its const members; safe to read from several threads. Copying, changing an
// item and hashing a copy of which most was hashed before cost the number of pieces, not of items.
template <class T>
class Pieces {
 public:
  static constexpr std::size_t kItems = 2048;  // in each piece but the last

  class Iterator {
   public:
    using iterator_category = std::random_access_iterator_tag;
    using value_type = T;
    using difference_type = std::ptrdiff_t;
    using pointer = const T*;
    using reference = const T&;
    Iterator() = default;
    Iterator(const Pieces* of, std::size_t at) : of_(of), at_(at) { find(); }
    reference operator*() const { return *here_; }
    pointer operator->() const { return here_; }
    reference operator[](difference_type n) const { return *(*this + n); }
    Iterator& operator++() {
      ++at_, ++here_;
      if (at_ % kItems == 0) find();
      return *this;
    }
    Iterator operator++(int) { return std::exchange(*this, *this + 1); }
    Iterator& operator--() { return *this += -1; }
    Iterator operator--(int) { return std::exchange(*this, *this - 1); }
    Iterator& operator+=(difference_type n) {
      at_ = static_cast<std::size_t>(static_cast<difference_type>(at_) + n);
      find();
      return *this;
    }
    Iterator& operator-=(difference_type n) { return *this += -n; }
    friend Iterator operator+(Iterator i, difference_type n) { return i += n; }
    friend Iterator operator+(difference_type n, Iterator i) { return i += n; }
    friend Iterator operator-(Iterator i, difference_type n) { return i -= n; }
    friend difference_type operator-(const Iterator& a, const Iterator& b) {
      return static_cast<difference_type>(a.at_) - static_cast<difference_type>(b.at_);
    }
    bool operator==(const Iterator& other) const { return at_ == other.at_; }
    auto operator<=>(const Iterator& other) const { return at_ <=> other.at_; }

   private:
    void find() { here_ = of_ && at_ < of_->size() ? &(*of_)[at_] : nullptr; }
    const Pieces* of_ = nullptr;
    std::size_t at_ = 0;
    const T* here_ = nullptr;
  };
  using value_type = T;
  using const_iterator = Iterator;

  Pieces() = default;
  Pieces(std::initializer_list<T> items) { append(items.begin(), items.end()); }
  Pieces(std::vector<T> items) { append(std::make_move_iterator(items.begin()), std::make_move_iterator(items.end())); }

  std::size_t size() const { return full_.size() * kItems + rest_.size(); }
  bool empty() const { return size() == 0; }
  const T& operator[](std::size_t i) const {
    assert(i < size());
    const std::size_t piece = i / kItems;
    return piece < full_.size() ? full_[piece]->items[i % kItems] : rest_[i % kItems];
  }
  const T& at(std::size_t i) const {
    if (i >= size()) throw std::out_of_range("no such item");
    return (*this)[i];
  }
  const T& front() const { return (*this)[0]; }
  const T& back() const { return (*this)[size() - 1]; }
  Iterator begin() const { return {this, 0}; }
  Iterator end() const { return {this, size()}; }

  void push_back(T item) {
    rest_.push_back(std::move(item));
    if (rest_.size() < kItems) return;
    full_.push_back(std::make_shared<const Piece>(std::move(rest_)));
    rest_ = {};
  }
  template <class It>
  void append(It from, It to) {
    for (; from != to; ++from) push_back(*from);
  }
  void clear() { *this = {}; }
  void set(std::size_t i, T item) {
    assert(i < size());
    const std::size_t piece = i / kItems;
    if (piece == full_.size()) {
      rest_[i % kItems] = std::move(item);
      return;
    }
    std::vector<T> items = full_[piece]->items;
    items[i % kItems] = std::move(item);
    full_[piece] = std::make_shared<const Piece>(std::move(items));
  }
  // Calls f(item), which may change it.
  template <class F>
  void change(std::size_t i, F&& f) {
    T item = at(i);
    f(item);
    set(i, std::move(item));
  }
  // Removes the items of these numbers, in rising order, each once. What follows moves up: costs what follows the
  // first.
  void erase(std::span<const std::size_t> which) {
    if (which.empty()) return;
    assert(which.back() < size());
    const std::size_t from = which.front() / kItems * kItems;
    std::vector<T> after;
    auto gone = which.begin();
    for (std::size_t i = from; i < size(); ++i) {
      if (gone != which.end() && *gone == i) {
        ++gone;
      } else {
        after.push_back((*this)[i]);
      }
    }
    full_.resize(std::min(from / kItems, full_.size()));
    rest_.clear();
    append(std::make_move_iterator(after.begin()), std::make_move_iterator(after.end()));
  }

  friend bool operator==(const Pieces& a, const Pieces& b) {
    return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin());
  }

  std::vector<T> flat() const { return {begin(), end()}; }

  // Calls f(span of items) for every piece, in order.
  template <class F>
  void eachPiece(F&& f) const {
    for (const auto& piece : full_) f(std::span<const T>(piece->items));
    if (!rest_.empty()) f(std::span<const T>(rest_));
  }

  // Calls f(i) for the items that may not be those of another list at the same place: all of pieces not shared with it.
  template <class F>
  void eachUnshared(const Pieces& other, F&& f) const {
    for (std::size_t piece = 0; piece < full_.size(); ++piece) {
      if (piece < other.full_.size() && full_[piece] == other.full_[piece]) continue;
      for (std::size_t i = 0; i < kItems; ++i) f(piece * kItems + i);
    }
    for (std::size_t i = 0; i < rest_.size(); ++i) f(full_.size() * kItems + i);
  }

  // Equal lists have equal hashes. `feedItem(hasher, item)` feeds one; it must be the same for all lists of a type.
  template <class FeedItem>
  Hash hash(FeedItem&& feedItem) const {
    const auto of = [&](const std::vector<T>& items) {
      Hasher h;
      h.value(items.size());
      for (const T& item : items) feedItem(h, item);
      return h.finish();
    };
    Hasher all;
    all.value(size());
    for (const auto& piece : full_) {
      std::call_once(piece->once, [&] { piece->hash = of(piece->items); });
      all.hash(piece->hash);
    }
    return all.hash(of(rest_)).finish();
  }

 private:
  struct Piece {
    explicit Piece(std::vector<T> list) : items(std::move(list)) {}
    std::vector<T> items;
    mutable std::once_flag once;
    mutable Hash hash;
  };
  std::vector<std::shared_ptr<const Piece>> full_;  // each of kItems
  std::vector<T> rest_;                             // fewer
};

}  // namespace inselberg
