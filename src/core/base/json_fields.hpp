#pragma once
// For files that read and write documents: JSON from the one list of a value's fields. A key that is missing
// keeps what the value starts with, keys that are not known are passed over, a key of the wrong type is thrown as Bad.
#include <nlohmann/json.hpp>

#include "base/check_fields.hpp"
#include "base/names.hpp"
#include "base/wall_time.hpp"

namespace palinform::json {

using Json = nlohmann::ordered_json;  ///< as it is written: in the order of the fields
using Given = nlohmann::json;         ///< as it is read: by name, so that many keys cost no more than n log n

/// Thrown between these functions only: whoever calls read() turns it into an Error.
struct Bad {
  std::string path, what;
};

template <class T>
Json write(const T& v, auto... rule);
template <class T>
void read(const Given& j, T& into, const std::string& path, auto... rule);

template <class T>
struct Kind;  // the containers

template <class E>
struct Kind<std::vector<E>> {
  static Json write(const std::vector<E>& v) {
    Json out = Json::array();
    for (const E& e : v) out.push_back(json::write(e));
    return out;
  }
  static void read(const Given& j, std::vector<E>& into, const std::string& path, size_t most) {
    if (!j.is_array()) throw Bad{path, "it should be a list"};
    if (j.size() > most)
      throw Bad{path, "there are " + grouped(static_cast<double>(j.size())) + " entries; " +
                          grouped(static_cast<double>(most)) + " are read at most"};
    into.clear();
    for (size_t i = 0; i < j.size(); ++i) {
      E e{};
      json::read(j[i], e, path + "[" + std::to_string(i + 1) + "]");
      into.push_back(std::move(e));
    }
  }
};
template <class E, size_t n>
struct Kind<std::array<E, n>> {
  static Json write(const std::array<E, n>& v) {
    Json out = Json::array();
    for (const E& e : v) out.push_back(json::write(e));
    return out;
  }
  static void read(const Given& j, std::array<E, n>& into, const std::string& path, size_t) {
    if (!j.is_array() || j.size() != n) throw Bad{path, "it should be a list of " + std::to_string(n)};
    for (size_t i = 0; i < n; ++i) json::read(j[i], into[i], path);
  }
};
template <class E>
struct Kind<std::map<std::string, E>> {
  static Json write(const std::map<std::string, E>& v) {
    Json out = Json::object();
    for (const auto& [k, e] : v) out[k] = json::write(e);
    return out;
  }
  static void read(const Given& j, std::map<std::string, E>& into, const std::string& path, size_t most) {
    if (!j.is_object()) throw Bad{path, "it should be an object"};
    if (j.size() > most) throw Bad{path, "there are too many entries"};
    into.clear();
    for (const auto& [k, e] : j.items()) json::read(e, into[k], path + "." + k);
  }
};

template <class T>
inline constexpr bool is_optional = false;
template <class T>
inline constexpr bool is_optional<std::optional<T>> = true;

template <class... R>
constexpr bool as_wall_time = (std::same_as<R, AsWallTime> || ...);

template <class T>
Json write(const T& v, auto... rule) {
  if constexpr (is_optional<T>) {
    return v ? write(*v, rule...) : Json();
  } else if constexpr (as_wall_time<decltype(rule)...>) {
    return wall_text(v);
  } else if constexpr (Named<T>) {
    return name_of(v);
  } else if constexpr (std::same_as<T, Vec3>) {
    return Json::array({v.x, v.y, v.z});
  } else if constexpr (HasFields<T>) {
    Json out = Json::object();
    T::fields(v, [&](std::string_view key, const auto& field, auto... field_rule) {
      if constexpr (is_optional<std::remove_cvref_t<decltype(field)>>)
        if (!field) return;
      out[std::string(key)] = write(field, field_rule...);
    });
    return out;
  } else if constexpr (std::is_arithmetic_v<T> || std::same_as<T, std::string>) {
    return v;
  } else {
    return Kind<T>::write(v);
  }
}

template <class T>
void read(const Given& j, T& into, const std::string& path, auto... rule) {
  if constexpr (is_optional<T>) {
    if (j.is_null()) return into.reset();
    typename T::value_type v{};
    read(j, v, path, rule...);
    into = std::move(v);
  } else if constexpr (as_wall_time<decltype(rule)...>) {
    const auto t = j.is_string() ? parse_wall_time(j.template get_ref<const std::string&>()) : std::nullopt;
    if (!t) throw Bad{path, "it should be a day and time like 2026-11-30T08:00"};
    into = *t;
  } else if constexpr (Named<T>) {
    const auto v = j.is_string() ? named<T>(j.template get_ref<const std::string&>()) : std::nullopt;
    if (!v)
      throw Bad{path, "\"" + (j.is_string() ? j.template get<std::string>().substr(0, 60) : j.dump().substr(0, 60)) +
                          "\" is unknown"};
    into = *v;
  } else if constexpr (std::same_as<T, Vec3>) {
    if (!j.is_array() || j.size() != 3 || !j[0].is_number() || !j[1].is_number() || !j[2].is_number())
      throw Bad{path, "it should be three numbers"};
    into = {j[0].template get<double>(), j[1].template get<double>(), j[2].template get<double>()};
  } else if constexpr (HasFields<T>) {
    if (!j.is_object()) throw Bad{path, "it should be an object"};
    T::fields(into, [&](std::string_view key, auto& field, auto... field_rule) {
      const auto at = j.find(key);
      if (at == j.end()) return;
      if (at->is_null() && !is_optional<std::remove_cvref_t<decltype(field)>>) return;
      read(*at, field, path.empty() ? std::string(key) : path + "." + std::string(key), field_rule...);
    });
  } else if constexpr (std::same_as<T, bool>) {
    if (!j.is_boolean()) throw Bad{path, "it should be true or false"};
    into = j.template get<bool>();
  } else if constexpr (std::is_integral_v<T>) {
    // By way of double, so that no number wraps round: 2^53 is far over every rule.
    const double v = j.is_number() ? j.template get<double>() : NAN;
    const double low = std::is_signed_v<T> ? -2147483648.0 : 0, high = sizeof(T) > 4 ? 9e15 : 2147483647.0;
    if (!(v >= low && v <= high) || v != std::floor(v)) throw Bad{path, "it should be a whole number in reason"};
    into = static_cast<T>(v);
  } else if constexpr (std::is_floating_point_v<T>) {
    if (!j.is_number()) throw Bad{path, "it should be a number"};
    into = j.template get<double>();
  } else if constexpr (std::same_as<T, std::string>) {
    if (!j.is_string()) throw Bad{path, "it should be text"};
    into = j.template get<std::string>();
  } else {
    size_t most = 1000;
    ((most = fields_detail::most_of(rule, most)), ...);
    Kind<T>::read(j, into, path, most);
  }
}

}  // namespace palinform::json
