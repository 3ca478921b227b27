#pragma once
/// A place for one result of one type, by name and group. Slots are constants; whoever reads a result names its slot,
/// so that the type is known and a wrong name does not compile.
///   inline constexpr Slot<UndercutsResult> undercuts{"undercuts", Stage::split};
#include <memory>
#include <string_view>

#include "base/hash.hpp"

namespace palinform {

template <class T>
struct Slot {
  using Value = T;
  std::string_view name;
  int group = 0;  ///< for whoever sums up: the stage

  template <class Group>
  constexpr Slot(std::string_view slot_name, Group in_group) : name(slot_name), group(static_cast<int>(in_group)) {}
};

/// A result that belongs to the present subject, with the key it is remembered under; empty where there is none. Reads
/// like a pointer.
template <class T>
struct Fresh {
  std::shared_ptr<const T> value;
  Hash128 key;

  explicit operator bool() const { return value != nullptr; }
  const T& operator*() const { return *value; }
  const T* operator->() const { return value.get(); }
  const T* get() const { return value.get(); }
  operator std::shared_ptr<const T>() const { return value; }
  bool operator==(std::nullptr_t) const { return value == nullptr; }
  /// What stands in keys: what it was made from, not its bytes.
  void hash_into(Hasher& h) const { h.add(value != nullptr).add(key); }
};

/// One that comes along without standing in the key: what is read of it is listed beside it, or it follows from
/// another that is.
template <class T>
struct Implied : Fresh<T> {
  Implied() = default;
  Implied(Fresh<T> f) : Fresh<T>(std::move(f)) {}
  void hash_into(Hasher& h) const { h.add(this->value != nullptr); }
};

}  // namespace palinform
