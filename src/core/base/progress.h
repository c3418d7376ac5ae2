// Progress and cancellation of long work. Every long function of the core takes a Progress and calls check() or
// report() at least every few milliseconds of work.
#pragma once

#include <functional>
#include <string_view>

namespace inselberg {

// Thrown by Progress when the caller has asked to stop. It is not an Error: nothing went wrong.
struct Cancelled {};

class Progress {
 public:
  using Stop = std::function<bool()>;                          // asked from any thread; true: stop
  using Tell = std::function<void(std::string_view, double)>;  // stage, fraction done 0..1; from any thread

  // Never stops, tells nobody.
  Progress() = default;
  explicit Progress(Stop stop, Tell tell = {}) : stop_(std::move(stop)), tell_(std::move(tell)) {}

  bool stopped() const { return stop_ && stop_(); }

  // Throws Cancelled when asked to stop.
  void check() const {
    if (stopped()) throw Cancelled{};
  }

  // Tells the stage and the fraction done, then check().
  void report(std::string_view stage, double fraction) const {
    if (tell_) tell_(stage, fraction);
    check();
  }

 private:
  Stop stop_;
  Tell tell_;
};

}  // namespace inselberg
