#pragma once
/// Fields of Mould that stand for a measure of the job which the rule gives where nobody types it.
#include "shell/desk.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

/// What is typed goes to `member` of that stage, in millimetres; emptied, the rule stands again. `what`: for the
/// history, "wall".
template <class Setup>
void bind_measure(Desk& desk, FigureField* field, Setup Job::*stage, std::optional<double> Setup::*member,
                  const QString& what) {
  const auto put = [&desk, stage, member](std::optional<double> mm, const QString& words) {
    Job next = desk.job();
    next.*stage.*member = mm;
    desk.edit(next, words);
  };
  QObject::connect(field, &FigureField::entered, field,
                   [&desk, put, what](double v) { put(desk.units().mm(v), what); });
  QObject::connect(field, &FigureField::emptied, field,
                   [put, what] { put(std::nullopt, what + QStringLiteral(" by the rule")); });
}

}  // namespace palinform::app
