// Exhaustive visits of a std::variant by a list of lambdas: leaving out a kind does not compile.
#pragma once

namespace inselberg {

template <class... F>
struct Visitor : F... {
  using F::operator()...;
};
template <class... F>
Visitor(F...) -> Visitor<F...>;

}  // namespace inselberg
