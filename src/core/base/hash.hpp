#pragma once
/// Stable 128-bit hash of values: the same on every machine, build and thread. Numbers go in as little-endian bytes,
/// strings and lists with their length, so that neighbouring fields cannot run together.
#include <array>
#include <concepts>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "base/fields.hpp"
#include "base/vec.hpp"

namespace palinform {

struct Hash128 {
  uint64_t high = 0, low = 0;
  auto operator<=>(const Hash128&) const = default;
  std::string hex() const;
  static std::optional<Hash128> from_hex(std::string_view text);
};

/// Streams values into one hash (XXH3, 128 bit, seed 0).
class Hasher {
 public:
  Hasher();
  ~Hasher();
  Hasher(const Hasher&) = delete;
  Hasher& operator=(const Hasher&) = delete;
  void bytes(const void* data, size_t size);
  Hash128 done() const;

  template <class T>
  requires std::integral<T> || std::is_enum_v<T> Hasher& add(T v) {
    const int64_t wide = static_cast<int64_t>(v);
    bytes(&wide, sizeof wide);
    return *this;
  }
  Hasher& add(double v) {
    if (v == 0) v = 0;  // −0 and +0 are equal, so they hash alike
    bytes(&v, sizeof v);
    return *this;
  }
  Hasher& add(std::string_view s) {
    add(s.size());
    bytes(s.data(), s.size());
    return *this;
  }
  Hasher& add(const std::string& s) { return add(std::string_view(s)); }
  Hasher& add(const char* s) { return add(std::string_view(s)); }
  Hasher& add(const Vec3& v) { return add(v.x).add(v.y).add(v.z); }
  Hasher& add(const Hash128& h) { return add(static_cast<int64_t>(h.high)).add(static_cast<int64_t>(h.low)); }
  template <class T>
  Hasher& add(const std::optional<T>& v) {
    add(v.has_value());
    return v ? add(*v) : *this;
  }
  template <class T>
  Hasher& add(const std::vector<T>& v) {
    add(v.size());
    for (const auto& e : v) add(e);
    return *this;
  }
  template <class T, size_t n>
  Hasher& add(const std::array<T, n>& v) {
    for (const auto& e : v) add(e);
    return *this;
  }
  template <class K, class T>
  Hasher& add(const std::map<K, T>& v) {
    add(v.size());
    for (const auto& [k, e] : v) add(k).add(e);
    return *this;
  }
  /// Any plain struct that lists its fields (fields.hpp).
  template <HasFields T>
  Hasher& add(const T& t) {
    T::fields(t, [this](std::string_view, const auto& v, auto&&...) { add(v); });
    return *this;
  }
  /// Any plain struct that lists its members (graph/node.hpp).
  template <class T>
  requires requires(const T& t) {
    t.fields([](auto&&...) { return 0; });
  }
  Hasher& add(const T& t) {
    t.fields([this](const auto&... members) {
      (add(members), ...);
      return 0;
    });
    return *this;
  }
  /// Any plain struct with `void hash_into(Hasher&) const`.
  template <class T>
  requires requires(const T& t, Hasher& h) { t.hash_into(h); }
  Hasher& add(const T& t) {
    t.hash_into(*this);
    return *this;
  }

 private:
  void* state_;
};

template <class... T>
Hash128 hash_of(const T&... values) {
  Hasher h;
  (h.add(values), ...);
  return h.done();
}

}  // namespace palinform
