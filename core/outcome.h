// A value, or one clear sentence that says why there is none.
#pragma once

#include <stdexcept>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace fortitor {

/// Why an input was refused. `message` is one sentence for a person; `choices` are readings the
/// person may have meant when the input had more than one ("1450", "1.450"). `code` tells a program one cause from
/// another where it must know (a database's own codes); empty elsewhere.
struct InputError {
  std::string message;
  std::vector<std::string> choices;
  std::string code = {};
};

/// Either a `T` or an InputError. Used for everything a person or a file can get wrong; exceptions
/// are kept for programming errors (asking for the value of a failed outcome is one).
template <class T>
class [[nodiscard]] Outcome {
 public:
  Outcome(T value) : state_(std::move(value)) {}
  Outcome(InputError error) : state_(std::move(error)) {}

  explicit operator bool() const { return state_.index() == 0; }
  const T& operator*() const { return value(); }
  T& operator*() { return value(); }
  const T* operator->() const { return &value(); }
  T* operator->() { return &value(); }
  const T& value() const {
    if (state_.index() != 0) throw std::logic_error(std::get<1>(state_).message);
    return std::get<0>(state_);
  }
  T& value() {
    if (state_.index() != 0) throw std::logic_error(std::get<1>(state_).message);
    return std::get<0>(state_);
  }
  const InputError& error() const { return std::get<1>(state_); }

 private:
  std::variant<T, InputError> state_;
};

/// Outcome of something that has no value of its own.
struct Done {};

}  // namespace fortitor
