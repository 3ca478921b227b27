#include "base/edit.hpp"

#include <tuple>

namespace palinform {

Edit::Edit() = default;
Edit::Edit(const Edit&) = default;
Edit::Edit(Edit&&) noexcept = default;
Edit& Edit::operator=(const Edit&) = default;
Edit& Edit::operator=(Edit&&) noexcept = default;
Edit::~Edit() = default;

bool Edit::operator==(const Edit& other) const {
  return static_cast<const EditVariant&>(*this) == static_cast<const EditVariant&>(other);
}

template <class T>
void Edit::put(const T& edit) {
  emplace<T>(edit);
}

/// put() of every kind, for the files that only see it declared.
template <class Variant>
struct EveryKind;
template <class... Kinds>
struct EveryKind<std::variant<Kinds...>> {
  static constexpr std::tuple<void (Edit::*)(const Kinds&)...> put{&Edit::put<Kinds>...};
};
[[gnu::used]] constexpr auto put_every_kind = EveryKind<EditVariant>::put;

std::string_view code_of(const Edit& edit) {
  return std::visit([](const auto& e) { return e.code; }, static_cast<const EditVariant&>(edit));
}

}  // namespace palinform
