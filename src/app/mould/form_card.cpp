#include "mould/form_card.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"

namespace palinform::app {

FormCard::FormCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("What only this form of mould has"), QStringLiteral("form-own"), parent), desk_(desk) {
  setFixedWidth(700);
  told_ = card_words({});
  col_->addWidget(told_);
  const auto group = [this](QVBoxLayout*& into) {
    auto* w = new QWidget;
    into = new QVBoxLayout(w);
    into->setContentsMargins(0, 0, 0, 0);
    into->setSpacing(8);
    col_->addWidget(w);
    return w;
  };
  QVBoxLayout* col = nullptr;
  halves_ = group(col);
  auto* row = new QHBoxLayout;
  key_ = new FigureField(QStringLiteral("Across a key's foot"), QStringLiteral("key-mm"), 120);
  clear_ = new FigureField(QStringLiteral("Key to part and wall"), QStringLiteral("key-clear-mm"), 130);
  key_->set_range(0.04, 100);
  clear_->set_range(0.01, 100);
  for (const auto& [f, member] : {std::pair{key_, &MouldSetup::key_mm}, {clear_, &MouldSetup::key_clear_mm}}) {
    f->allow_empty(QStringLiteral("by the rule"));
    row->addWidget(f);
    connect(f, &FigureField::entered, this, [this, member = member](double v) {
      Job next = desk_.job();
      next.mould.*member = desk_.units().mm(v);
      desk_.edit(next, QStringLiteral("keys"));
    });
    connect(f, &FigureField::emptied, this, [this, member = member] {
      Job next = desk_.job();
      (next.mould.*member).reset();
      desk_.edit(next, QStringLiteral("keys by the rule"));
    });
  }
  gap_ = new FigureField(QStringLiteral("Line kept open by"), QStringLiteral("edge-gap"), 120);
  gap_->set_range(0, 2);
  gap_->allow_empty(QStringLiteral("shut"));
  row->addWidget(gap_);
  const auto keep_open = [this](double mm) {
    Job next = desk_.job();
    next.flow.edge_gap_mm = mm;
    desk_.edit(next, QStringLiteral("line kept open"));
  };
  connect(gap_, &FigureField::entered, this, [this, keep_open](double v) { keep_open(desk_.units().mm(v)); });
  connect(gap_, &FigureField::emptied, this, [keep_open] { keep_open(0); });
  row->addStretch(1);
  col->addLayout(row);
  channels_ = new Chips;
  channels_->add(QStringLiteral("Gate and vents cut later"), QStringLiteral("channels-cut"));
  channels_->add(QStringLiteral("Cast in, round rods"), QStringLiteral("channels-cast-in"));
  col->addWidget(channels_);
  connect(channels_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.flow.cast_in = i == 1;
    desk_.edit(next, QStringLiteral("how gate and vents are made"));
  });

  skin_ = group(col);
  coats_told_ = card_words({}, "small");
  col->addWidget(coats_told_);
  row = new QHBoxLayout;
  auto* more = new QPushButton(QStringLiteral("One coat more"));
  more->setObjectName(QStringLiteral("coat-more"));
  auto* fewer = new QPushButton(QStringLiteral("One fewer"));
  fewer->setObjectName(QStringLiteral("coat-fewer"));
  by_rule_ = new QPushButton(QStringLiteral("By the rule"));
  by_rule_->setObjectName(QStringLiteral("coats-rule"));
  for (QPushButton* b : {more, fewer, by_rule_}) row->addWidget(b);
  row->addStretch(1);
  col->addLayout(row);
  connect(more, &QPushButton::clicked, this, [this] {
    edit_coats(
        [](std::vector<Coat>& c) {
          if (c.size() < 20) c.push_back({c.empty() ? 1.2 : c.back().mm, true, !c.empty() && !c.back().tinted});
        },
        QStringLiteral("a coat more"));
  });
  connect(fewer, &QPushButton::clicked, this, [this] {
    edit_coats([](std::vector<Coat>& c) { c.size() > 1 ? c.pop_back() : void(); }, QStringLiteral("a coat fewer"));
  });
  connect(by_rule_, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    next.mould.coats.clear();
    desk_.edit(next, QStringLiteral("coats by the rule"));
  });

  open_ = group(col);
  cover_ = new Chips;
  cover_->add(QStringLiteral("Scraped level"), QStringLiteral("cover-scrape"));
  cover_->add(QStringLiteral("Under a waxed plate"), QStringLiteral("cover-plate"));
  cover_->add(QStringLiteral("Under a clear film"), QStringLiteral("cover-film"));
  col->addWidget(cover_);
  connect(cover_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.mould.cover = std::string(name_of(static_cast<Cover>(i)));
    desk_.edit(next, QStringLiteral("open side"));
  });
}

std::vector<Coat> FormCard::coats() const {
  const Job& job = desk_.job();
  if (!job.mould.coats.empty()) return job.mould.coats;
  std::vector<Coat> out;
  if (const auto forms = desk_.plan().newest(results::forms); forms && forms->form == Form::skin)
    for (const RubberPour& p : forms->plan().pours)
      if (p.side == "a") out.push_back({p.fill_height_mm, !out.empty(), out.size() % 2 == 1});
  return out;
}

void FormCard::edit_coats(const std::function<void(std::vector<Coat>&)>& change, const QString& what) {
  Job next = desk_.job();
  next.mould.coats = coats();
  change(next.mould.coats);
  desk_.edit(next, what);
}

void FormCard::build_coats() {
  if (coat_rows_) retire(coat_rows_);
  coat_rows_ = new QWidget;
  auto* grid = new QGridLayout(coat_rows_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(4);
  const Units& u = desk_.units();
  const std::vector<Coat> all = coats();
  for (size_t k = 0; k < all.size(); ++k) {
    auto* row = new QHBoxLayout;
    const QString no = QString::number(k + 1);
    auto* f = new FigureField(QStringLiteral("Coat ") + no, QStringLiteral("coat-") + no, 90);
    f->set_range(u.length(0.1), u.length(20));
    f->show_value(u.length(all[k].mm), u.inch ? 3 : 1, u.length_name());
    auto* thick = chip(QStringLiteral("Thickened"), QStringLiteral("coat-thick-") + no, true);
    thick->setChecked(all[k].thickened);
    auto* tint = chip(QStringLiteral("Other colour"), QStringLiteral("coat-tint-") + no, true);
    tint->setChecked(all[k].tinted);
    row->addWidget(f);
    row->addWidget(thick, 0, Qt::AlignBottom);
    row->addWidget(tint, 0, Qt::AlignBottom);
    row->addStretch(1);
    grid->addLayout(row, static_cast<int>(k / 2), static_cast<int>(k % 2));
    connect(f, &FigureField::entered, this, [this, k](double v) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).mm = desk_.units().mm(v); }, QStringLiteral("coat"));
    });
    connect(thick, &QPushButton::clicked, this, [this, k](bool on) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).thickened = on; }, QStringLiteral("coat thickened"));
    });
    connect(tint, &QPushButton::clicked, this, [this, k](bool on) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).tinted = on; }, QStringLiteral("coat's colour"));
    });
  }
  static_cast<QVBoxLayout*>(skin_->layout())->insertWidget(0, coat_rows_);
}

void FormCard::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  const Form form = named<Form>(job.mould.form).value_or(Form::two_part);
  const bool halves = in_halves(form);
  halves_->setVisible(halves);
  skin_->setVisible(form == Form::skin);
  open_->setVisible(form == Form::open);
  channels_->setVisible(halves && form != Form::squeeze);
  gap_->setVisible(halves && form != Form::squeeze);
  gap_->show_value(job.flow.edge_gap_mm > 0 ? std::optional(u.length(job.flow.edge_gap_mm)) : std::nullopt,
                   u.inch ? 3 : 2, u.length_name());
  QString words = QStringLiteral("%1.").arg(qs(std::string(words_of(form))));
  if (!halves && form != Form::skin && form != Form::open) words += QStringLiteral(" It has nothing to set here.");
  if (form == Form::squeeze)
    words += QStringLiteral(" Where the resin is heaped and which end comes down is set in Flow.");
  told_->setText(words);
  const auto show = [&](FigureField* f, const std::optional<double>& mm) {
    f->show_value(mm ? std::optional(u.length(*mm)) : std::nullopt, u.inch ? 3 : 1, u.length_name());
  };
  show(key_, job.mould.key_mm);
  show(clear_, job.mould.key_clear_mm);
  channels_->set_current(job.flow.cast_in ? 1 : 0);
  cover_->set_current(static_cast<int>(named<Cover>(job.mould.cover).value_or(Cover::scrape)));
  if (form == Form::skin) {
    std::string key = u.inch ? "in" : "mm";
    for (const Coat& c : coats()) key += " " + shortest(c.mm, 3) + (c.thickened ? "k" : "") + (c.tinted ? "t" : "");
    if (key != shown_) {
      shown_ = key;
      build_coats();
    }
    double ml = 0, mm = 0;
    if (const auto forms = desk_.plan().newest(results::forms); forms && forms->form == Form::skin)
      ml = forms->plan().rubber_mm3 * 1e-3, mm = forms->plan().skin_mm;
    coats_told_->setText(QStringLiteral("%1 of skin, %2 ml on both sides together, keys and filled hollows with it.")
                             .arg(u.length_unit_text(mm, 1), qs(grouped(ml))));
    by_rule_->setEnabled(!job.mould.coats.empty());
  }
  if (isVisible()) adjustSize();
}

}  // namespace palinform::app
