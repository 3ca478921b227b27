#include "size/size_page.hpp"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QSlider>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr double scale_step = 1e-4, scale_low = 0.98, scale_high = 1.04;

}  // namespace

SizePage::SizePage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 14, 16, 10);
  col->setSpacing(10);
  master_ = new Chips;
  master_->add(QStringLiteral("Original"), QStringLiteral("master-original"));
  master_->add(QStringLiteral("Printed, one scale"), QStringLiteral("master-scaled"));
  master_->add(QStringLiteral("three scales"), QStringLiteral("master-axes"));
  view_ = new Chips;
  view_->add(QStringLiteral("Chain"), QStringLiteral("size-chain"));
  view_->add(QStringLiteral("Choose"), QStringLiteral("size-choose"));
  view_->add(QStringLiteral("Learnt"), QStringLiteral("size-learnt"));
  view_->set_current(0);
  auto* fits = chip(QStringLiteral("Fits…"), QStringLiteral("size-fits"));
  auto* top = new QHBoxLayout;
  top->addWidget(view_);
  top->addStretch(1);
  top->addWidget(master_);
  second_ = chip(QStringLiteral("Copy of a copy"), QStringLiteral("generations"), true);
  second_->setToolTip(QStringLiteral("The mould is taken from a casting: everything shrinks twice"));
  top->addWidget(second_);
  col->addLayout(top);
  auto* row = new QHBoxLayout;
  row->setSpacing(12);
  rubber_ = new ChoiceField(QStringLiteral("Silicone"), QStringLiteral("silicone"), 244);
  resin_ = new ChoiceField(QStringLiteral("Casting resin"), QStringLiteral("resin"), 244);
  room_ = new FigureField(QStringLiteral("Room"), QStringLiteral("room-c"), 76);
  gel_ = new FigureField(QStringLiteral("Resin gels at"), QStringLiteral("gel-c"), 92);
  row->addWidget(rubber_);
  row->addWidget(resin_);
  row->addWidget(room_);
  row->addWidget(gel_);
  row->addWidget(fits, 0, Qt::AlignBottom);
  row->addStretch(1);
  col->addLayout(row);
  told_ = remark();
  col->addWidget(told_);
  scale_row_ = new QWidget;
  auto* sr = new QHBoxLayout(scale_row_);
  sr->setContentsMargins(0, 0, 0, 0);
  sr->setSpacing(12);
  scale_ = new FigureField(QStringLiteral("Scale of the master"), QStringLiteral("scale"), 110);
  scale_->set_range(0.2, 5);
  slider_ = new QSlider(Qt::Horizontal);
  slider_->setObjectName(QStringLiteral("scale-slider"));
  slider_->setAccessibleName(QStringLiteral("Scale of the master"));
  slider_->setRange(static_cast<int>(std::lround(scale_low / scale_step)),
                    static_cast<int>(std::lround(scale_high / scale_step)));
  slider_->setPageStep(10);
  slider_->setMinimumHeight(32);
  best_ = new QPushButton;
  best_->setObjectName(QStringLiteral("best-scale"));
  sr->addWidget(scale_);
  sr->addWidget(slider_, 1);
  sr->addWidget(best_);
  col->addWidget(scale_row_);
  axis_row_ = new QWidget;
  auto* ar = new QHBoxLayout(axis_row_);
  ar->setContentsMargins(0, 0, 0, 0);
  ar->setSpacing(12);
  for (int k = 0; k < 3; ++k) {
    axis_[k] = new FigureField(QStringLiteral("Scale along ") + QLatin1Char("xyz"[k]),
                               QStringLiteral("scale-") + QLatin1Char("xyz"[k]), 110);
    axis_[k]->set_range(0.2, 5);
    ar->addWidget(axis_[k]);
    connect(axis_[k], &FigureField::entered, this, [this, k](double v) {
      Job next = desk_.job();
      (k == 0 ? next.size.axis_scale.x : k == 1 ? next.size.axis_scale.y : next.size.axis_scale.z) = v;
      desk_.edit(next, QStringLiteral("scale"));
    });
  }
  best_axes_ = new QPushButton;
  best_axes_->setObjectName(QStringLiteral("best-axes"));
  ar->addWidget(best_axes_, 0, Qt::AlignBottom);
  ar->addStretch(1);
  col->addWidget(axis_row_);
  chain_ = new ChainView(desk_, this);
  auto* scroll = new QScrollArea;
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setWidget(chain_);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  stack_ = new QStackedWidget;
  auto* chain_page = new QWidget;
  auto* chain_col = new QVBoxLayout(chain_page);
  chain_col->setContentsMargins(0, 0, 0, 0);
  chain_col->addWidget(scroll, 1);
  empty_ =
      remark(QStringLiteral("No sizes yet. Add them in Original: click two faces or a bore, type what the calipers "
                            "read and what limits it must hold."));
  chain_col->addWidget(empty_);
  key_ = remark();
  key_->setStyleSheet(QStringLiteral("font-size: 13px;"));
  chain_col->addWidget(key_);
  choose_ = new ChooseView(desk_);
  learn_ = new LearnView(desk_);
  stack_->addWidget(chain_page);
  stack_->addWidget(choose_);
  stack_->addWidget(learn_);
  col->addWidget(stack_, 1);
  fits_ = new FitsCard(this);
  connect(view_, &Chips::chosen, this, [this](int i) {
    stack_->setCurrentIndex(i);
    refresh();
  });
  connect(fits, &QPushButton::clicked, this,
          [this] { fits_->isVisible() ? fits_->hide() : fits_->show_at(QPoint(width() - 14, 58)); });
  connect(second_, &QPushButton::clicked, this, [this](bool on) {
    Job next = desk_.job();
    next.size.generations = on ? 2 : 1;
    desk_.edit(next, QStringLiteral("what the mould is taken from"));
  });
  connect(best_axes_, &QPushButton::clicked, this, [this] {
    const auto r = desk_.plan().fresh(results::size);
    if (!r) return;
    Job next = desk_.job();
    next.size.axis_scale = rounded_scale(r->best_axis_scale);
    desk_.edit(next, QStringLiteral("best scales"));
  });

  connect(master_, &Chips::chosen, this, [this](int i) {
    const auto sections = desk_.plan().fresh(results::sections);
    desk_.edit(with_master(desk_.job(), static_cast<MasterKind>(i), desk_.shop(), sections.get()),
               i == 0 ? QStringLiteral("original as master") : QStringLiteral("printed master"));
  });
  connect(rubber_, &ChoiceField::chosen, this, [this](const std::string& id) {
    Job next = desk_.job();
    next.mix.silicone_id = id;
    next.size.learned = desk_.learned_for(next.mix.silicone_id, next.mix.resin_id);
    desk_.edit(next, QStringLiteral("silicone chosen"));
  });
  connect(resin_, &ChoiceField::chosen, this, [this](const std::string& id) {
    Job next = desk_.job();
    next.mix.resin_id = id;
    next.size.learned = desk_.learned_for(next.mix.silicone_id, next.mix.resin_id);
    desk_.edit(next, QStringLiteral("resin chosen"));
  });
  connect(room_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.size.room_c = desk_.units().celsius(v);
    desk_.edit(next, QStringLiteral("room temperature"));
  });
  connect(gel_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.size.gel_c = desk_.units().celsius(v);
    desk_.edit(next, QStringLiteral("gel temperature"));
  });
  connect(scale_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.size.scale = v;
    desk_.edit(next, QStringLiteral("scale"));
  });
  connect(slider_, &QSlider::valueChanged, this, [this](int v) {
    Job next = desk_.job();
    if (std::lround(next.size.scale / scale_step) == v) return;
    next.size.scale = v * scale_step;
    desk_.edit(next, QStringLiteral("scale"), QStringLiteral("scale-drag"));
  });
  connect(best_, &QPushButton::clicked, this, [this] {
    const auto r = desk_.plan().fresh(results::size);
    if (!r) return;
    Job next = desk_.job();
    next.size.scale = std::round(r->best_scale * 1e5) / 1e5;
    desk_.edit(next, QStringLiteral("best scale"));
  });
}

namespace {

/// What stands on the shelf, and the job's own where it no longer does.
template <class T>
std::vector<std::pair<std::string, QString>> offered(const std::vector<T>& shelf, const std::optional<T>& own,
                                                     const QString& none) {
  std::vector<std::pair<std::string, QString>> items{{"", none}};
  bool there = !own;
  for (const T& t : shelf) {
    items.emplace_back(t.id, qs(t.name));
    there |= own && t.id == own->id;
  }
  if (!there) items.emplace_back(own->id, qs(own->name) + QStringLiteral(" (off the shelf)"));
  return items;
}

}  // namespace

void SizePage::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  master_->set_current(static_cast<int>(job.size.master));
  second_->setChecked(job.size.generations == 2);
  if (stack_->currentIndex() == 1) choose_->refresh();
  if (stack_->currentIndex() == 2) learn_->refresh();
  rubber_->set_items(offered(desk_.catalogue().silicones, desk_.rubber(), QStringLiteral("choose a silicone")));
  resin_->set_items(offered(desk_.catalogue().resins, desk_.resin(), QStringLiteral("choose a resin")));
  rubber_->show_current(job.mix.silicone_id);
  resin_->show_current(job.mix.resin_id);
  room_->show_value(u.temperature(job.size.room_c), 0, u.temperature_name());
  gel_->show_value(u.temperature(job.size.gel_c), 0, u.temperature_name());
  const auto sil = desk_.rubber();
  const auto res = desk_.resin();
  QStringList facts;
  if (sil)
    facts << QStringLiteral("Silicone: %1 A, shrinks %2 ±%3 %, grows %4 % per 10 °C")
                 .arg(qs(fixed(sil->shore_a, 0)), qs(fixed(sil->shrink_pct, 2)), qs(fixed(sil->shrink_u_pct, 2)),
                      qs(fixed(sil->expansion_per_k * 1000, 2)));
  if (res)
    facts << QStringLiteral("resin: %1, shrinks %2 % (%3 mm) to %4 % (%5 mm)")
                 .arg(res->shore_d ? qs(fixed(*res->shore_d, 0)) + QStringLiteral(" D")
                                   : qs(fixed(res->shore_a.value_or(0), 0)) + QStringLiteral(" A"),
                      qs(fixed(res->shrink_thin_pct, 2)), qs(fixed(res->thin_mm, 0)),
                      qs(fixed(res->shrink_thick_pct, 2)), qs(fixed(res->thick_mm, 0)));
  if (const auto r = desk_.plan().fresh(results::size); r && !r->older.empty()) {
    const auto worst = std::min_element(r->older.begin(), r->older.end(), [](const Prediction& a, const Prediction& b) {
      return a.p_in_limits < b.p_in_limits;
    });
    const auto k = static_cast<size_t>(worst - r->older.begin());
    facts << QStringLiteral("out of moulds from the first casting: %1 at %2 %3, holds %4 % of the time")
                 .arg(qs(job.original.sizes[k].name), qs(fixed(worst->predicted_mm, 3)),
                      qs(std::string(unit_of(job.original.sizes[k].kind))), qs(fixed(100 * worst->p_in_limits, 0)));
  }
  if (job.size.learned && job.size.learned->silicone_id == job.mix.silicone_id &&
      job.size.learned->resin_id == job.mix.resin_id)
    facts << QStringLiteral("as learnt: %1 % %2 than that")
                 .arg(qs(fixed(std::abs(job.size.learned->delta_pct), 2)),
                      job.size.learned->delta_pct < 0 ? QStringLiteral("less") : QStringLiteral("more"));
  told_->setText(facts.join(QStringLiteral(" · ")));
  told_->setVisible(!facts.isEmpty() && stack_->currentIndex() == 0);
  const bool chain = stack_->currentIndex() == 0;
  scale_row_->setVisible(job.size.master == MasterKind::scaled && chain);
  axis_row_->setVisible(job.size.master == MasterKind::scaled_per_axis && chain);
  axis_[0]->show_value(job.size.axis_scale.x, 4, {});
  axis_[1]->show_value(job.size.axis_scale.y, 4, {});
  axis_[2]->show_value(job.size.axis_scale.z, 4, {});
  scale_->show_value(job.size.scale, 4, {});
  {
    const QSignalBlocker quiet(slider_);
    slider_->setValue(static_cast<int>(std::lround(job.size.scale / scale_step)));
  }
  const auto r = desk_.plan().fresh(results::size);
  const bool ladders = r && r->predictions.size() == job.original.sizes.size();
  best_->setVisible(ladders);
  if (ladders) best_->setText(QStringLiteral("Best: %1").arg(qs(fixed(r->best_scale, 4))));
  best_axes_->setVisible(ladders);
  if (ladders)
    best_axes_->setText(QStringLiteral("Best: %1 · %2 · %3")
                            .arg(qs(fixed(r->best_axis_scale.x, 4)), qs(fixed(r->best_axis_scale.y, 4)),
                                 qs(fixed(r->best_axis_scale.z, 4))));
  empty_->setVisible(job.original.sizes.empty());
  chain_->setMinimumHeight(ladders ? static_cast<int>(job.original.sizes.size()) * 58 : 0);
  QString steps;
  const auto draws = desk_.plan().fresh(results::draws);
  const auto section_words = [&](const SizeResult& z) {
    size_t known = 0;
    for (const ChainInput& in : z.inputs) known += in.size.section_mm.has_value();
    return known == z.inputs.size() ? QStringLiteral("Sections as measured on the part.")
                                    : QStringLiteral("Section %1 mm where not known (a guess).")
                                          .arg(qs(fixed(desk_.shop().rules.size.guessed_section_mm, 0)));
  };
  if (ladders) {
    std::vector<ChainStep::Kind> used;
    for (const Prediction& q : r->predictions)
      for (const ChainStep& s : q.steps)
        if (s.kind != ChainStep::Kind::master && std::find(used.begin(), used.end(), s.kind) == used.end())
          used.push_back(s.kind);
    for (const auto k : used)
      steps += QStringLiteral("%1<b><font color='%2'>%3</font></b>")
                   .arg(steps.isEmpty() ? QString() : QStringLiteral(" · "),
                        step_look(k).first.darker(pal().dark ? 100 : 115).name(), step_word(k));
    key_->setText(QStringLiteral("Walls are the limits, the gap is what the part may measure, each row to its own "
                                 "scale. Steps: %1, then the predicted spread. "
                                 "%2%3")
                      .arg(steps, section_words(*r),
                           draws ? QStringLiteral(" 100,000 draws agree within %1 %.")
                                       .arg(qs(fixed(100 * draws->check.worst_ratio, 1)))
                                 : QString()));
  } else {
    key_->setText(
        job.original.sizes.empty()
            ? QString()
            : QStringLiteral("Choose rubber and resin: the sizes of the casting follow from how both shrink."));
  }
  chain_->update();
}

void SizePage::point_at(const Finding& f) { chain_->mark(f.where.size); }

}  // namespace palinform::app
