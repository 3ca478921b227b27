#pragma once
/// A node: a slot, how its input is read, and the pure function that runs on it.
///   node(results::split, read, run)
///     read: (const View&) → std::optional<In>   what it needs, or nothing while something is not there yet
///     run:  (const In&, const Progress&) → Result<Out>, or Result<std::shared_ptr<const Out>> to pass one along
/// In lists all its members once, in the order they are declared:
///   struct In {
///     Fresh<Master> master;
///     double wall_mm;
///     auto fields(auto&& f) const { return f(master, wall_mm); }
///   };
/// and that list is the key its result is remembered under. It is checked against the struct's size, so that a member
/// that is not listed does not compile. An In that answers `bool instant() const` with true is worked out in the
/// caller's thread: for what takes under a few milliseconds, so that a drag sees it at once.
#include <functional>
#include <optional>
#include <typeindex>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "graph/slot.hpp"

namespace palinform {

/// A result as the Planner keeps it.
struct Boxed {
  std::shared_ptr<const void> value;
  size_t bytes = 0;
};

struct Task {
  Hash128 key;
  bool instant = false;
  std::function<Result<Boxed>(const Progress&)> run;
};

class View;

struct Node {
  std::string_view name;
  int group = 0;
  std::type_index type;
  std::function<std::optional<Task>(const View&)> prepare;
};

/// About how much memory a result holds, for the Planner's bound. Types that hold more than themselves say so with a
/// member `size_t bytes() const`.
template <class T>
size_t bytes_of(const T& value) {
  if constexpr (requires { value.bytes(); })
    return 256 + sizeof(T) + value.bytes();
  else
    return 256 + sizeof(T);
}

namespace graph_detail {

/// Do members of these types, laid one after the other, make up In? What fits into padding goes unseen.
template <class In>
struct Layout {
  template <class... M>
  constexpr auto operator()(const M&...) const {
    return std::integral_constant<bool, layout<M...>() == sizeof(In)>{};
  }
  template <class... M>
  static constexpr size_t layout() {
    constexpr size_t sizes[] = {sizeof(M)..., 0}, aligns[] = {alignof(M)..., 1};
    size_t end = 0;
    for (size_t i = 0; i < sizeof...(M); ++i) end = (end + aligns[i] - 1) / aligns[i] * aligns[i] + sizes[i];
    return (end + alignof(In) - 1) / alignof(In) * alignof(In);
  }
};

}  // namespace graph_detail

template <class In>
constexpr bool lists_every_member = decltype(std::declval<const In&>().fields(graph_detail::Layout<In>{}))::value;

template <class In>
Hash128 key_of(std::string_view name, const In& in) {
  Hasher h;
  h.add(name);
  in.fields([&](const auto&... members) {
    (h.add(members), ...);
    return 0;
  });
  return h.done();
}

template <class Out, class Read, class Run>
Node node(const Slot<Out>& slot, Read read, Run run) {
  using In = typename std::invoke_result_t<Read, const View&>::value_type;
  static_assert(lists_every_member<In>, "In::fields must list every member, in order");
  return {slot.name, slot.group, typeid(Out), [read, run, name = slot.name](const View& view) -> std::optional<Task> {
            std::optional<In> in = read(view);
            if (!in) return std::nullopt;
            Task t;
            t.key = key_of(name, *in);
            if constexpr (requires { in->instant(); }) t.instant = in->instant();
            t.run = [in = std::make_shared<const In>(*std::move(in)), run](const Progress& progress) -> Result<Boxed> {
              auto out = run(*in, progress);
              if (!out) return out.error();
              std::shared_ptr<const Out> value;
              if constexpr (std::convertible_to<decltype(*out), std::shared_ptr<const Out>>)
                value = *std::move(out);
              else
                value = std::make_shared<const Out>(*std::move(out));
              const size_t bytes = bytes_of(*value);
              return Boxed{std::move(value), bytes};
            };
            return t;
          }};
}

}  // namespace palinform
