#include "works/kind.h"

namespace inselberg::works {

Value Shape::get(std::size_t field) const {
  return kind_->get(*this, field);
}

Shape Shape::with(std::size_t field, const Value& value) const {
  return kind_->with(*this, field, value);
}

bool Shape::applies(std::size_t field) const {
  return kind_->applies(*this, field);
}

bool Shape::operator==(const Shape& other) const {
  if (kind_ != other.kind_) return false;
  if (parameters_ == other.parameters_) return true;
  for (std::size_t i = 0; i < kind_->fields().size(); ++i) {
    if (get(i) != other.get(i)) return false;
  }
  return true;
}

}  // namespace inselberg::works
