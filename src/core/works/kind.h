// A kind of works, described once: its fields, and what it does to a ground. The project file, the hash, equality, the
// checks of input, the card, the handles on the plan and the command line come from this description.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <type_traits>
#include <typeindex>
#include <utility>
#include <vector>

#include "base/progress.h"
#include "base/quantity.h"
#include "works/field.h"
#include "works/placement.h"

namespace inselberg::works {

class Kind;

// One works' parameters, of some kind. A value: copies share what is immutable.
class Shape {
 public:
  // From the parameters of a kind: any type T with a function `const Kind& kindOf(const T&)` in its namespace.
  template <class T>
  requires(!std::is_same_v<std::remove_cvref_t<T>, Shape>) Shape(T parameters)
      : kind_(&kindOf(parameters)), parameters_(std::make_shared<const T>(std::move(parameters))) {}

  const Kind& kind() const { return *kind_; }
  // The parameters, when they are of type T; else null.
  template <class T>
  const T* as() const;

  // By number in kind().fields().
  Value get(std::size_t field) const;
  // REQUIRES: the value has the field's form.
  Shape with(std::size_t field, const Value& value) const;
  // Whether the field says something about this works, as others stand.
  bool applies(std::size_t field) const;

  // Of one kind and alike in every field.
  bool operator==(const Shape& other) const;

 private:
  const Kind* kind_;
  std::shared_ptr<const void> parameters_;
};

// How a kind is called.
struct KindNames {
  std::string name;     // in files, on the command line, of the icon: "pad"
  std::string label;    // in the window: "Pad"
  std::string meaning;  // one sentence
};

class Kind : public KindNames {
 public:
  Kind(KindNames names, std::type_index parameters) : KindNames(std::move(names)), parameters_(parameters) {}
  virtual ~Kind() = default;
  Kind(const Kind&) = delete;
  Kind& operator=(const Kind&) = delete;

  // The type of the parameters of its shapes.
  std::type_index parameters() const { return parameters_; }
  const std::vector<Field>& fields() const { return fields_; }
  virtual Value get(const Shape& shape, std::size_t field) const = 0;
  virtual Shape with(const Shape& shape, std::size_t field, const Value& value) const = 0;
  virtual bool applies(const Shape& shape, std::size_t field) const = 0;
  // As it is before anything is said about it; its places are empty.
  virtual Shape fresh() const = 0;
  // The shape as it is first shown when its places are drawn on a ground: at levels that suit it there. Kinds say so by
  // a function `T startedOn(T, ground)`.
  virtual Shape startOn(const Shape& shape, const ground::Tin& ground) const = 0;
  // As works::place.
  virtual Placement placeOn(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin,
                            const Progress& progress, Detail detail) const = 0;

 protected:
  std::vector<Field> fields_;

 private:
  std::type_index parameters_;
};

// A field of parameters of type T, with the way to it.
template <class T>
struct FieldOf {
  Field field;
  std::function<Value(const T&)> get;
  std::function<void(T&, const Value&)> set;
  std::function<bool(const T&)> when;  // none: always

  FieldOf onlyWhen(std::function<bool(const T&)> condition) && {
    when = std::move(condition);
    return std::move(*this);
  }
};

// `member` leads to a double, Slope, bool, enum (numbered as the field's words) or list of plan points: a pointer to a
// member, or a function that gives a reference for a T& and for a const T&.
template <class T, class Access>
FieldOf<T> field(Field described, Access member) {
  using Member = std::remove_cvref_t<std::invoke_result_t<Access, T&>>;
  FieldOf<T> made{std::move(described), {}, {}, {}};
  made.get = [member](const T& t) -> Value {
    const Member& m = std::invoke(member, t);
    if constexpr (std::is_enum_v<Member>)
      return static_cast<std::size_t>(m);
    else if constexpr (std::is_same_v<Member, Slope>)
      return m.run();
    else
      return m;
  };
  made.set = [member](T& t, const Value& value) {
    Member& m = std::invoke(member, t);
    if constexpr (std::is_enum_v<Member>)
      m = static_cast<Member>(std::get<std::size_t>(value));
    else if constexpr (std::is_same_v<Member, Slope>)
      m = Slope::horizontalPerVertical(std::get<double>(value));
    else
      m = std::get<Member>(value);
  };
  return made;
}

// The kind whose parameters are a T; `place(const T&, ground, origin, progress)` is found in T's namespace.
template <class T>
class KindOf final : public Kind {
 public:
  KindOf(KindNames names, std::vector<FieldOf<T>> described)
      : Kind(std::move(names), typeid(T)), access_(std::move(described)) {
    for (const FieldOf<T>& f : access_) fields_.push_back(f.field);
  }

  Value get(const Shape& shape, std::size_t field) const override { return access_.at(field).get(*shape.as<T>()); }
  Shape with(const Shape& shape, std::size_t field, const Value& value) const override {
    T parameters = *shape.as<T>();
    access_.at(field).set(parameters, value);
    return parameters;
  }
  bool applies(const Shape& shape, std::size_t field) const override {
    const auto& when = access_.at(field).when;
    return !when || when(*shape.as<T>());
  }
  Shape fresh() const override { return T{}; }
  Shape startOn(const Shape& shape, const ground::Tin& ground) const override {
    if constexpr (requires(const T& t) { startedOn(t, ground); })
      return startedOn(*shape.as<T>(), ground);
    else
      return shape;
  }
  Placement placeOn(const Shape& shape, const ground::Tin& ground, const plane::Origin& origin,
                    const Progress& progress, Detail detail) const override {
    return place(*shape.as<T>(), ground, origin, progress, detail);
  }

 private:
  std::vector<FieldOf<T>> access_;
};

template <class T>
const T* Shape::as() const {
  return kind_->parameters() == typeid(T) ? static_cast<const T*>(parameters_.get()) : nullptr;
}

}  // namespace inselberg::works
