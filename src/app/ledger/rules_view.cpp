#include "ledger/rules_view.hpp"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"

namespace palinform::app {

namespace {

constexpr const char* stage_names[] = {"Size", "Split", "Mould", "Flow", "Mix", "Days"};

/// "mould.wall.least_mm" → "wall · least".
std::string words_of_rule(const RuleLine& r) {
  const size_t first = r.path.find('.'), last = r.path.rfind('.');
  const std::string name = r.name.ends_with(" u") ? r.name.substr(0, r.name.size() - 2) + ", uncertainty" : r.name;
  if (first == last) return name;
  std::string group = r.path.substr(first + 1, last - first - 1);
  std::replace(group.begin(), group.end(), '_', ' ');
  std::replace(group.begin(), group.end(), '.', ' ');
  return group + " · " + name;
}

FigureLine as_mark(const RuleLine& r) {
  FigureLine l;
  l.key = r.path;
  l.words = words_of_rule(r);
  l.unit = r.unit;
  l.figure = Figure{r.value, {}, r.own() ? FigureSource::measured : FigureSource::guess};
  l.range = FamilyRange{r.standard, r.standard, r.standard};
  // A scale about the default: rules may range over thousands, and change by a quarter.
  const double reach = std::max({std::abs(r.standard), std::abs(r.value), 0.02 * (r.high - r.low)});
  l.low = std::max(r.low, std::min(r.standard, r.value) - reach);
  l.high = std::min(r.high, std::max(r.standard, r.value) + reach);
  if (!(l.high > l.low)) l.low = r.low, l.high = r.high;
  return l;
}

}  // namespace

RulesView::RulesView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* row = new QHBoxLayout;
  stages_ = new Chips;
  for (const char* name : stage_names)
    stages_->add(QString::fromLatin1(name), QStringLiteral("rules-") + QString::fromLatin1(name).toLower());
  row->addWidget(stages_);
  row->addStretch(1);
  default_ = chip(QStringLiteral("Back to default"), QStringLiteral("rule-default"));
  row->addWidget(default_);
  all_ = chip(QStringLiteral("All to default"), QStringLiteral("rules-default"));
  row->addWidget(all_);
  col->addLayout(row);
  marks_ = new MarksView;
  auto* scroll = new QScrollArea;
  scroll->setWidget(marks_);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  col->addWidget(scroll, 1);
  told_ = remark();
  col->addWidget(told_);
  stages_->set_current(0);
  connect(stages_, &Chips::chosen, this, &RulesView::show_stage);
  connect(marks_, &MarksView::written, this, [this](const QString& key, double v) { keep(key.toStdString(), v); });
  connect(marks_, &MarksView::dragged, this, [this](const QString& key, double v) { keep(key.toStdString(), v); });
  const auto to_default = [this](const std::string& key) {
    for (const RuleLine& r : lines_)
      if (r.path == key) return keep(key, r.standard);
  };
  connect(marks_, &MarksView::struck_out, this, [to_default](const QString& key) { to_default(key.toStdString()); });
  connect(default_, &QPushButton::clicked, this, [this, to_default] {
    if (marks_->selected() >= 0) to_default(lines_[static_cast<size_t>(marks_->selected())].path);
  });
  connect(all_, &QPushButton::clicked, this, [this] { desk_.keep_rules(starting_shop().rules); });
  connect(marks_, &MarksView::chosen, this, [this] { tell(); });
}

void RulesView::keep(const std::string& path, double value) {
  const auto next = with_rule(desk_.shop().rules, path, value);
  if (!next) {
    emit desk_.message(qs(next.error().text()), true);
    return refresh();
  }
  desk_.keep_rules(*next);
}

void RulesView::show_stage(int i) {
  stages_->set_current(i);
  marks_->select(-1);
  refresh();
}

void RulesView::tell() {
  const int i = marks_->selected();
  default_->setEnabled(false);
  if (i < 0 || i >= static_cast<int>(lines_.size())) {
    told_->setText(
        QStringLiteral("Rules of thumb, all of them guesses until the shop knows better. Notch: the default. Ring: "
                       "the shop's own. Choose one to read what it changes."));
    return;
  }
  const RuleLine& r = lines_[static_cast<size_t>(i)];
  default_->setEnabled(r.own() && !desk_.read_only());
  const QString unit = r.unit.empty() ? QString() : QLatin1Char(' ') + qs(r.unit);
  told_->setText(QStringLiteral("%1: changes %2. Default %3%4; it may lie from %5 to %6%4.")
                     .arg(qs(words_of_rule(r)), qs(r.affects), qs(shortest(r.standard, 5)), unit,
                          qs(shortest(r.low, 5)), qs(shortest(r.high, 5))));
}

void RulesView::refresh() {
  const auto all = rule_lines(desk_.shop().rules, starting_shop().rules);
  const std::string stage = stage_names[stages_->current()];
  lines_.clear();
  bool any_own = false;
  std::vector<FigureLine> marks;
  for (const RuleLine& r : all) {
    any_own |= r.own();
    if (r.stage != stage) continue;
    lines_.push_back(r);
    marks.push_back(as_mark(r));
  }
  marks_->show_lines(std::move(marks), !desk_.read_only());
  all_->setEnabled(any_own && !desk_.read_only());
  tell();
}

}  // namespace palinform::app
