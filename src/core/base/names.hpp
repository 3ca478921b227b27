#pragma once
/// The names of an enumeration's values, as they stand in files, on the command line and in findings: one table each,
/// beside the enumeration, from which both directions follow.
///   template <> inline constexpr std::array names<Gloss>{"unsaid"sv, "plain"sv};
#include <array>
#include <optional>
#include <string_view>

namespace palinform {

using namespace std::string_view_literals;

/// In the order of the values.
template <class E>
inline constexpr int names = 0;

template <class E>
concept Named = requires {
  names<E>.size();
};

template <Named E>
constexpr std::string_view name_of(E value) {
  return names<E>[static_cast<size_t>(value)];
}
template <Named E>
constexpr int count_of() {
  return static_cast<int>(names<E>.size());
}
/// The value of that name, letter by letter; nothing where there is none.
template <Named E>
constexpr std::optional<E> named(std::string_view name) {
  for (size_t i = 0; i < names<E>.size(); ++i)
    if (names<E>[i] == name) return static_cast<E>(i);
  return std::nullopt;
}

}  // namespace palinform
