#pragma once
/// Every field of a value within its rule, else one sentence that names it: "the max tilt must be from 0 to 90 °".
#include <array>
#include <cmath>
#include <concepts>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/text.hpp"
#include "base/vec.hpp"

namespace palinform {

/// "max_tilt_deg" → {"max tilt", "°"}: how a key is said, and its unit.
struct FieldWords {
  std::string name, unit;
};
FieldWords field_words(std::string_view key);

namespace fields_detail {

struct NoRule {};
/// Path of a field, for the message: "flow.vents[3]".
using Path = std::string;

inline Error refused(const Path& path, std::string what) { return {std::move(what), path, ""}; }
Status number(double v, const Within& rule, std::string_view key, const Path& path);
Status text(const std::string& v, size_t most, std::string_view key, const Path& path);
Status place(const Vec3& v, std::string_view key, const Path& path);
Status count(size_t n, size_t most, std::string_view key, const Path& path);

template <class T>
Status check_value(const T& v, std::string_view key, const Path& path, auto rule);

template <class T>
Status check_all(const T& value, const Path& path) {
  Status ok;
  T::fields(value, [&](std::string_view key, const auto& v, auto... rule) {
    if (!ok) return;
    const Path here = path.empty() ? Path(key) : path + "." + Path(key);
    if constexpr (sizeof...(rule) == 0)
      ok = check_value(v, key, here, NoRule{});
    else
      ok = check_value(v, key, here, rule...);
  });
  return ok;
}

template <class R>
constexpr size_t most_of(const R& rule, size_t otherwise) {
  if constexpr (std::same_as<R, AtMost>)
    return rule.count;
  else
    return otherwise;
}

template <class E>
Status check_each(const std::vector<E>& list, std::string_view key, const Path& path) {
  for (size_t i = 0; i < list.size(); ++i)
    if (auto ok = check_value(list[i], key, path + "[" + std::to_string(i + 1) + "]", NoRule{}); !ok) return ok;
  return {};
}

template <class T>
struct Kind;
template <class E>
struct Kind<std::vector<E>> {
  static Status check(const std::vector<E>& v, std::string_view key, const Path& path, auto rule) {
    if (auto ok = count(v.size(), most_of(rule, 1000), key, path); !ok) return ok;
    return check_each(v, key, path);
  }
};
template <class E>
struct Kind<std::optional<E>> {
  static Status check(const std::optional<E>& v, std::string_view key, const Path& path, auto rule) {
    return v ? check_value(*v, key, path, rule) : Status{};
  }
};
template <class E, size_t n>
struct Kind<std::array<E, n>> {
  static Status check(const std::array<E, n>& v, std::string_view key, const Path& path, auto rule) {
    for (const E& e : v)
      if (auto ok = check_value(e, key, path, rule); !ok) return ok;
    return {};
  }
};
template <class E>
struct Kind<std::map<std::string, E>> {
  static Status check(const std::map<std::string, E>& v, std::string_view key, const Path& path, auto rule) {
    if (auto ok = count(v.size(), most_of(rule, 1000), key, path); !ok) return ok;
    for (const auto& [k, e] : v) {
      if (auto ok = text(k, 200, key, path); !ok) return ok;
      if (auto ok = check_value(e, key, path + "." + k, NoRule{}); !ok) return ok;
    }
    return {};
  }
};

template <class T>
Status check_value(const T& v, std::string_view key, const Path& path, auto rule) {
  using R = decltype(rule);
  if constexpr (std::same_as<T, bool> || std::is_enum_v<T> || std::same_as<R, AsWallTime>) {
    return {};
  } else if constexpr (std::is_arithmetic_v<T>) {
    if constexpr (std::same_as<R, Within>)
      return number(static_cast<double>(v), rule, key, path);
    else
      return number(static_cast<double>(v), {-1e12, 1e12}, key, path);
  } else if constexpr (std::same_as<T, std::string>) {
    if constexpr (std::same_as<R, Naming>)
      if (!v.empty() && !rule.known(v))
        return refused(path, "\"" + v.substr(0, 60) + "\" is not " + std::string(rule.what));
    return text(v, most_of(rule, 200), key, path);
  } else if constexpr (std::same_as<T, Vec3>) {
    return place(v, key, path);
  } else if constexpr (HasFields<T>) {
    return check_all(v, path);
  } else {
    return Kind<T>::check(v, key, path, rule);
  }
}

}  // namespace fields_detail

/// The first field that breaks its rule, by path ("flow.vents[3]"), or success.
template <HasFields T>
Status check_fields(const T& value) {
  return fields_detail::check_all(value, {});
}

}  // namespace palinform
