#pragma once
/// Errors are values: what went wrong, where, and what to do about it. One style throughout the core.
#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace palinform {

struct Error {
  std::string what;    ///< the fault, in words: "the file ends after 812 of 1,200 triangles"
  std::string where;   ///< file, size, field: "latch.stl"
  std::string remedy;  ///< what to do: "Save it again from the program it came from."
  bool cancelled = false;
  bool operator==(const Error&) const = default;
  static void fields(auto& s, auto&& f) {
    f("what", s.what);
    f("where", s.where);
    f("remedy", s.remedy);
    f("cancelled", s.cancelled);
  }

  std::string text() const {
    std::string s = where.empty() ? what : where + ": " + what;
    if (!s.empty() && s.back() != '.') s += '.';
    return remedy.empty() ? s : s + " " + remedy;
  }
  static Error stopped() { return {"stopped on request", "", "", true}; }
};

/// Either a value or an Error. `if (!r) return r.error();` is the usual step.
template <class T>
class Result {
 public:
  Result(T value) : state_(std::in_place_index<0>, std::move(value)) {}
  Result(Error error) : state_(std::in_place_index<1>, std::move(error)) {}
  explicit operator bool() const { return state_.index() == 0; }
  const T& operator*() const& { return std::get<0>(state_); }
  T& operator*() & { return std::get<0>(state_); }
  /// By value from a temporary, so that `for (x : *call())` does not walk over what is gone.
  T operator*() && { return std::get<0>(std::move(state_)); }
  const T* operator->() const { return &std::get<0>(state_); }
  T* operator->() { return &std::get<0>(state_); }
  const Error& error() const { return std::get<1>(state_); }

 private:
  std::variant<T, Error> state_;
};

/// Success without a value, or an Error.
template <>
class Result<void> {
 public:
  Result() = default;
  Result(Error error) : error_(std::move(error)) {}
  explicit operator bool() const { return !error_; }
  const Error& error() const { return *error_; }

 private:
  std::optional<Error> error_;
};

using Status = Result<void>;

}  // namespace palinform
