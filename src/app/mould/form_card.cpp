#include "mould/form_card.hpp"

#include <cmath>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "mould/mould_fields.hpp"

namespace palinform::app {

FormCard::FormCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("What only this form of mould has"), QStringLiteral("form-own"), parent), desk_(desk) {
  setFixedWidth(760);
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
    bind_measure(desk_, f, &Job::mould, member, QStringLiteral("keys"));
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
  cup_ = new FigureField(QStringLiteral("Funnel across"), QStringLiteral("cup-mm"), 110);
  cup_deep_ = new FigureField(QStringLiteral("Funnel deep"), QStringLiteral("cup-deep-mm"), 110);
  for (const auto& [f, member] : {std::pair{cup_, &FlowSetup::cup_mm}, std::pair{cup_deep_, &FlowSetup::cup_deep_mm}}) {
    f->set_range(0.04, 300);
    f->allow_empty(QStringLiteral("by the rule"));
    row->addWidget(f);
    bind_measure(desk_, f, &Job::flow, member, QStringLiteral("reservoir"));
  }
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

  row = new QHBoxLayout;
  second_ = new ChoiceField(QStringLiteral("Side b of"), QStringLiteral("silicone-b"), 244);
  row->addWidget(second_);
  connect(second_, &ChoiceField::chosen, this, [this](const std::string& id) {
    Job next = desk_.job();
    next.mix.silicone_b_id = id;
    desk_.edit(next, QStringLiteral("rubber of side b"));
  });
  const auto yes_no = [&](QPushButton*& b, const QString& words, const QString& name, auto edit) {
    b = chip(words, name, true);
    row->addWidget(b, 0, Qt::AlignBottom);
    connect(b, &QPushButton::clicked, this, [this, edit, words](bool on) {
      desk_.apply({"", edit(on)}, words.toLower());
    });
  };
  yes_no(dams_, QStringLiteral("Blocks in corners"), QStringLiteral("box-dams"),
         [](bool on) -> Edit { return edits::PutDams{on}; });
  yes_no(stage_a_, QStringLiteral("a in two stages"), QStringLiteral("stage-a"), [](bool on) -> Edit {
    return edits::PourInStages{true, on};
  });
  yes_no(stage_b_, QStringLiteral("b in two stages"), QStringLiteral("stage-b"), [](bool on) -> Edit {
    return edits::PourInStages{false, on};
  });
  row->addStretch(1);
  col->addLayout(row);
  brushed_ = new Chips;
  brushed_->add(QStringLiteral("Both halves poured"), QStringLiteral("brushed-none"));
  brushed_->add(QStringLiteral("a brushed on"), QStringLiteral("brushed-a"));
  brushed_->add(QStringLiteral("b brushed on"), QStringLiteral("brushed-b"));
  col->addWidget(brushed_);
  connect(brushed_, &Chips::chosen, this, [this](int i) {
    const std::string half(name_of(static_cast<Brushed>(i)));
    desk_.apply({"", edits::BrushHalf{half}},
                i == 0 ? QStringLiteral("both halves poured") : QStringLiteral("half %1 brushed on").arg(qs(half)));
  });
  halves_told_ = card_words({}, "small");
  halves_told_->setObjectName(QStringLiteral("halves-told"));
  col->addWidget(halves_told_);

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
  if (const auto forms = desk_.plan().newest(results::forms); forms && forms->backed())
    for (const RubberPour& p : forms->plan().pours)
      if (p.side == (forms->brushed ? forms->brushed->side : "a"))
        out.push_back(coat_by_rule(out.size(), p.fill_height_mm));
  return out;
}

void FormCard::edit_coats(const std::function<void(std::vector<Coat>&)>& change, const QString& what,
                          const QString& merge) {
  Job next = desk_.job();
  next.mould.coats = coats();
  change(next.mould.coats);
  desk_.edit(next, what, merge);
}

void FormCard::build_coats(size_t count) {
  if (coat_rows_) retire(coat_rows_);
  coat_rows_ = new QWidget;
  rows_.clear();
  auto* grid = new QGridLayout(coat_rows_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(4);
  const Units& u = desk_.units();
  for (size_t k = 0; k < count; ++k) {
    const QString no = QString::number(k + 1);
    CoatRow row;
    row.field = new FigureField(QStringLiteral("Coat ") + no, QStringLiteral("coat-") + no, 90);
    row.field->set_range(u.length(0.1), u.length(20));
    row.slide = new QSlider(Qt::Horizontal);
    row.slide->setObjectName(QStringLiteral("coat-slide-") + no);
    row.slide->setRange(2, 50);        // tenths of a millimetre
    row.slide->setFixedSize(220, 26);  // its knob whole
    row.slide->setToolTip(QStringLiteral("Drag: amounts follow"));
    row.thick = chip(QStringLiteral("Thickened"), QStringLiteral("coat-thick-") + no, true);
    row.tint = chip(QStringLiteral("Other colour"), QStringLiteral("coat-tint-") + no, true);
    auto* line = new QHBoxLayout;
    line->setSpacing(8);
    line->addWidget(row.field);
    line->addWidget(row.thick, 0, Qt::AlignBottom);
    line->addWidget(row.tint, 0, Qt::AlignBottom);
    line->addStretch(1);
    auto* cell = new QVBoxLayout;
    cell->setSpacing(0);
    cell->addLayout(line);
    cell->addWidget(row.slide);
    grid->addLayout(cell, static_cast<int>(k / 2), static_cast<int>(k % 2));
    connect(row.field, &FigureField::entered, this, [this, k](double v) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).mm = desk_.units().mm(v); }, QStringLiteral("coat"));
    });
    connect(row.slide, &QSlider::sliderPressed, this, [this] { desk_.take_in_hand(true); });
    connect(row.slide, &QSlider::sliderReleased, this, [this] { desk_.take_in_hand(false); });
    connect(row.slide, &QSlider::valueChanged, this, [this, k](int tenths) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).mm = 0.1 * tenths; }, QStringLiteral("coat"),
                 QStringLiteral("coat-drag-%1").arg(k));
    });
    connect(row.thick, &QPushButton::clicked, this, [this, k](bool on) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).thickened = on; }, QStringLiteral("coat thickened"));
    });
    connect(row.tint, &QPushButton::clicked, this, [this, k](bool on) {
      edit_coats([&](std::vector<Coat>& c) { c.at(k).tinted = on; }, QStringLiteral("coat's colour"));
    });
    rows_.push_back(row);
  }
  static_cast<QVBoxLayout*>(skin_->layout())->insertWidget(0, coat_rows_);
}

void FormCard::show_coats() {
  const std::vector<Coat> all = coats();
  const Units& u = desk_.units();
  const std::string kind = (u.inch ? "in " : "mm ") + std::to_string(all.size());
  if (kind != shown_) {
    shown_ = kind;
    build_coats(all.size());
  }
  for (size_t k = 0; k < all.size(); ++k) {
    const CoatRow& row = rows_[k];
    row.field->show_value(u.length(all[k].mm), u.inch ? 3 : 1, u.length_name());
    const QSignalBlocker quiet(row.slide);
    if (!row.slide->isSliderDown()) row.slide->setValue(static_cast<int>(std::lround(10 * all[k].mm)));
    row.slide->setEnabled(!desk_.read_only());
    row.thick->setChecked(all[k].thickened);
    row.tint->setChecked(all[k].tinted);
  }
}

void FormCard::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  const Form form = job.mould.planned_form();
  const bool halves = in_halves(form);
  halves_->setVisible(halves);
  const Brushed brushed = brushed_half_of(job);
  skin_->setVisible(form == Form::skin || brushed != Brushed::none);
  brushed_->setVisible(form == Form::two_part);
  brushed_->set_current(static_cast<int>(brushed));
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
  show(cup_, job.flow.cup_mm);
  show(cup_deep_, job.flow.cup_deep_mm);
  for (FigureField* f : {cup_, cup_deep_}) f->setVisible(halves && form != Form::squeeze);
  channels_->set_current(job.flow.cast_in ? 1 : 0);
  if (halves) {
    std::vector<std::pair<std::string, QString>> rubbers{{"", QStringLiteral("the same rubber")}};
    for (const Silicone& s : desk_.catalogue().silicones)
      if (s.id != job.mix.silicone_id) rubbers.emplace_back(s.id, qs(s.name));
    if (job.mix.rubber_b &&
        std::none_of(rubbers.begin(), rubbers.end(), [&](const auto& r) { return r.first == job.mix.silicone_b_id; }))
      rubbers.emplace_back(job.mix.silicone_b_id, qs(job.mix.rubber_b->name));
    second_->set_items(rubbers);
    second_->show_current(job.mix.silicone_b_id == job.mix.silicone_id ? std::string() : job.mix.silicone_b_id);
    dams_->setChecked(job.mould.dams);
    dams_->setEnabled(!job.mould.own_box.inside_mm);
    stage_a_->setChecked(job.mould.stage_a && brushed != Brushed::a);
    stage_b_->setChecked(job.mould.stage_b && brushed != Brushed::b);
    QStringList parts;
    if (const auto made = desk_.plan().newest(results::mould)) {
      const Mould& m = made->block();
      double saved = 0;
      for (const KeptOut& k : m.kept_out) {
        const Vec3 s = k.box_mm.size();
        saved += k.dam ? s.x * s.y * s.z : 0;
      }
      if (m.dams() > 0)
        parts << QStringLiteral("%1 in the corners, %2 ml")
                     .arg(qs(counted(m.dams(), "block", "blocks")), qs(grouped(saved * 1e-3)));
      else if (job.mould.dams && !job.mould.own_box.inside_mm)
        parts << QStringLiteral("no corner is empty enough for a block");
      for (const RubberPour& p : m.pours)
        if (p.stage_mm3 > 0)
          parts << QStringLiteral("pour %1: %2 ml to %3, then %4 ml in a frame of %5 × %6")
                       .arg(qs(p.name), qs(grouped(p.stage_mm3 * 1e-3)), u.length_unit_text(p.stage_fill_mm, 0),
                            qs(grouped((p.volume_mm3 - p.stage_mm3) * 1e-3)), u.length_text(p.frame_u_mm, 0),
                            u.length_unit_text(p.frame_v_mm, 0));
        else if (p.name == "a" ? stage_a_->isChecked() : stage_b_->isChecked())
          parts << QStringLiteral("pour %1: one stage does as well").arg(qs(p.name));
    }
    QString line = parts.join(QStringLiteral("; "));
    if (!line.isEmpty()) line = line.left(1).toUpper() + line.mid(1) + QStringLiteral(".");
    halves_told_->setText(line);
    halves_told_->setVisible(!line.isEmpty());
  }
  cover_->set_current(static_cast<int>(named<Cover>(job.mould.cover).value_or(Cover::scrape)));
  if (form == Form::skin || brushed != Brushed::none) {
    show_coats();
    const auto forms = desk_.plan().newest(results::forms);
    if (forms && forms->brushed) {
      double ml = 0;
      for (const RubberPour& p : forms->plan().pours)
        if (p.side == forms->brushed->side) ml += p.volume_mm3 * 1e-3;
      coats_told_->setText(
          QStringLiteral("%1 of skin over half %2, %3 ml with its keys and filled hollows; %4 ml of backing fill the "
                         "box over it.")
              .arg(u.length_unit_text(forms->plan().skin_mm, 1), qs(forms->brushed->side), qs(grouped(ml)),
                   qs(grouped(forms->plan().hard_mm3 * 1e-3))));
    } else if (forms && forms->form == Form::skin) {
      coats_told_->setText(
          QStringLiteral("%1 of skin, %2 ml on both sides together, keys and filled hollows with it.")
              .arg(u.length_unit_text(forms->plan().skin_mm, 1), qs(grouped(forms->plan().rubber_mm3 * 1e-3))));
    } else {
      coats_told_->setText(QStringLiteral("Being worked out…"));
    }
    by_rule_->setEnabled(!job.mould.coats.empty());
  }
  if (isVisible()) adjustSize();
}

}  // namespace palinform::app
