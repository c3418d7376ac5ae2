// Parallel loops. Work is cut into chunks whose borders do not depend on the number of threads, so a sum over chunks,
// taken in order, is the same on every machine and in every run.
#pragma once

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>
#include <tbb/task_group.h>

#include <algorithm>
#include <cstddef>
#include <utility>
#include <vector>

#include "base/progress.h"

namespace inselberg {

inline std::size_t chunkCount(std::size_t n, std::size_t chunk) {
  return (n + chunk - 1) / chunk;
}

// Within work that an exception ends elsewhere, TBB passes over what has not begun and returns as if it were done.
// Throws Cancelled then; whoever began the outermost work gets the exception that ended it.
inline void throwIfPassedOver() {
  if (tbb::is_current_task_group_canceling()) throw Cancelled{};
}

// Calls f(begin, end, chunkIndex) for chunks of at most `chunk` of the n indices, in parallel. Throws Cancelled when
// progress is stopped; an exception from f ends the loop and is rethrown. Where it returns, all of it is done.
template <class F>
void parallelChunks(std::size_t n, std::size_t chunk, const Progress& progress, F&& f) {
  const std::size_t chunks = chunkCount(n, chunk);
  const auto one = [&](std::size_t k) {
    progress.check();
    f(k * chunk, std::min(n, (k + 1) * chunk), k);
  };
  if (chunks <= 1) {
    if (chunks == 1) one(0);
    return;
  }
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, chunks, 1), [&](const tbb::blocked_range<std::size_t>& range) {
    for (std::size_t k = range.begin(); k != range.end(); ++k) one(k);
  });
  throwIfPassedOver();
}

// Calls all of the functions, in parallel. An exception from one ends the rest and is rethrown. Where it returns, all
// are done.
template <class... F>
void parallelInvoke(F&&... f) {
  tbb::parallel_invoke(std::forward<F>(f)...);
  throwIfPassedOver();
}

// Maps every chunk to a T and returns the T's in the order of the chunks.
template <class T, class F>
std::vector<T> parallelMap(std::size_t n, std::size_t chunk, const Progress& progress, F&& f) {
  std::vector<T> results(chunkCount(n, chunk));
  parallelChunks(n, chunk, progress,
                 [&](std::size_t begin, std::size_t end, std::size_t k) { results[k] = f(begin, end); });
  return results;
}

}  // namespace inselberg
