// Compensated summation (A. Neumaier, 1974): the error of a sum of n terms does not grow with n.
#pragma once

#include <cmath>

namespace inselberg {

class Sum {
 public:
  void add(double x) {
    const double t = sum_ + x;
    lost_ += std::abs(sum_) >= std::abs(x) ? (sum_ - t) + x : (x - t) + sum_;
    sum_ = t;
  }
  void add(const Sum& other) {
    add(other.sum_);
    add(other.lost_);
  }
  double value() const { return sum_ + lost_; }

 private:
  double sum_ = 0;
  double lost_ = 0;
};

}  // namespace inselberg
