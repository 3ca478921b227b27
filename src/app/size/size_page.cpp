#include "size/size_page.hpp"

#include <cmath>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
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

/// Colour and pattern of a step, so that neither speaks alone.
std::pair<QColor, Qt::BrushStyle> step_look(ChainStep::Kind k) {
  switch (k) {
    case ChainStep::Kind::rubber:
      return {pal().note, Qt::SolidPattern};
    case ChainStep::Kind::heat:
      return {pal().stop, Qt::BDiagPattern};
    case ChainStep::Kind::resin:
      return {pal().caution, Qt::VerPattern};
    case ChainStep::Kind::flash:
    case ChainStep::Kind::stock:
      return {pal().act, Qt::Dense4Pattern};
    case ChainStep::Kind::scale:
      return {pal().quiet, Qt::HorPattern};
    case ChainStep::Kind::finish:
      return {pal().ink, Qt::Dense3Pattern};
    default:
      return {pal().ink, Qt::SolidPattern};
  }
}
QString step_word(ChainStep::Kind k) {
  switch (k) {
    case ChainStep::Kind::rubber:
      return QStringLiteral("rubber");
    case ChainStep::Kind::heat:
      return QStringLiteral("heat");
    case ChainStep::Kind::resin:
      return QStringLiteral("resin");
    case ChainStep::Kind::flash:
      return QStringLiteral("flash");
    case ChainStep::Kind::stock:
      return QStringLiteral("stock");
    case ChainStep::Kind::scale:
      return QStringLiteral("scale");
    case ChainStep::Kind::pin:
      return QStringLiteral("pin");
    case ChainStep::Kind::finish:
      return QStringLiteral("by hand");
    default:
      return QStringLiteral("original");
  }
}

MasterScale rounded(const MasterScale& s) {
  const auto r = [](double v) { return std::round(v * 1e5) / 1e5; };
  return {r(s.x), r(s.y), r(s.z)};
}

}  // namespace

ChainView::ChainView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setAccessibleName(QStringLiteral("Chain of sizes from master to casting"));
}

void ChainView::mark(const std::string& id) {
  marked_ = id;
  update();
}

bool ChainView::event(QEvent* e) {
  if (e->type() != QEvent::ToolTip) return QWidget::event(e);
  const auto* h = static_cast<QHelpEvent*>(e);
  const auto r = desk_.plan().fresh(results::size);
  const int i = h->pos().y() / std::max(1, row_);
  if (!r || i < 0 || i >= static_cast<int>(r->predictions.size())) {
    QToolTip::hideText();
    return true;
  }
  const Prediction& q = r->predictions[static_cast<size_t>(i)];
  QString words = QStringLiteral("<table>");
  for (const ChainStep& s : q.steps) {
    const bool start = s.kind == ChainStep::Kind::master || s.kind == ChainStep::Kind::pin;
    words += QStringLiteral(
                 "<tr><td>%1&nbsp;&nbsp;</td><td align='right'>%2 mm</td><td>&nbsp;&nbsp;±%3 "
                 "(standard)</td><td>&nbsp;&nbsp;→ %4</td></tr>")
                 .arg(step_word(s.kind),
                      start ? qs(fixed(s.after_mm, 4))
                            : (s.change_mm < 0 ? QStringLiteral("−") : QStringLiteral("+")) +
                                  qs(fixed(std::abs(s.change_mm), 4)),
                      qs(fixed(s.u_mm, 4)), qs(fixed(s.after_mm, 4)));
  }
  const auto draws = desk_.plan().fresh(results::draws);
  if (draws && static_cast<size_t>(i) < draws->drawn.size())
    words +=
        QStringLiteral("<tr><td>by draws&nbsp;&nbsp;</td><td></td><td>&nbsp;&nbsp;±%1</td><td>&nbsp;&nbsp;%2</td></tr>")
            .arg(qs(fixed(draws->drawn[static_cast<size_t>(i)].u_mm, 4)),
                 qs(fixed(draws->drawn[static_cast<size_t>(i)].mean_mm, 4)));
  QToolTip::showText(h->globalPos(), words + QStringLiteral("</table>"), this);
  return true;
}

void ChainView::paintEvent(QPaintEvent*) {
  const Job& job = desk_.job();
  const auto r = desk_.plan().fresh(results::size);
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (!r || r->predictions.size() != job.original.sizes.size() || job.original.sizes.empty()) return;
  const Units& u = desk_.units();
  const int n = static_cast<int>(job.original.sizes.size());
  row_ = std::clamp(height() / n, 58, 120);
  const qreal left = 178, right = width() - 118, mid = (left + right) / 2,
              gap = (right - left) * 0.30;  // half the gap between the walls
  for (int i = 0; i < n; ++i) {
    const MeasuredSize& s = job.original.sizes[static_cast<size_t>(i)];
    const Prediction& q = r->predictions[static_cast<size_t>(i)];
    const qreal top = i * row_, base = top + row_ - 12;
    if (s.id == marked_) {
      p.fillRect(QRectF(0, top + 2, width(), row_ - 4), pal().panel);
      p.fillRect(QRectF(0, top + 2, 3, row_ - 4), pal().act);
    }
    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(14, top + 8, left - 24, 20), Qt::AlignVCenter, qs(s.name));
    p.setFont(type_face(13));
    p.setPen(pal().quiet);
    p.drawText(QRectF(14, top + 28, left - 24, 18), Qt::AlignVCenter,
               u.inch ? u.length_text(s.lower_mm, 3) + QStringLiteral("–") + u.length_text(s.upper_mm, 3) +
                            QStringLiteral(" in")
                      : qs(limits_text(s)) + QStringLiteral(" mm"));

    const double centre = 0.5 * (s.lower_mm + s.upper_mm), half = std::max(0.5 * (s.upper_mm - s.lower_mm), 1e-6);
    const auto x = [&](double mm) { return mid + std::clamp((mm - centre) / half, -3.0, 3.0) * gap; };
    const qreal wall_l = x(s.lower_mm), wall_r = x(s.upper_mm);
    p.fillRect(QRectF(left, top + 8, wall_l - left, row_ - 18), pal().slip);
    p.fillRect(QRectF(wall_r, top + 8, right - wall_r, row_ - 18), pal().slip);
    p.setPen(QPen(pal().rule, 1, Qt::DotLine));
    p.drawLine(QPointF(mid, top + 6), QPointF(mid, base));
    p.save();
    p.setClipRect(QRectF(left, top, right - left, row_));
    // The predicted spread, on the floor of the row.
    const QColor curve = q.verdict == Verdict::holds  ? pal().act
                         : q.verdict == Verdict::risk ? pal().caution
                                                      : pal().stop;
    const double sigma = std::max(q.u_mm, 1e-6);
    QPainterPath bell;
    bell.moveTo(mid + (q.predicted_mm - 4 * sigma - centre) / half * gap, base);
    for (int k = -40; k <= 40; ++k) {
      const double z = k / 10.0;
      bell.lineTo(mid + (q.predicted_mm + z * sigma - centre) / half * gap,
                  base - (row_ - 34) * std::exp(-0.5 * z * z));
    }
    bell.closeSubpath();
    QColor fill = curve;
    fill.setAlphaF(0.32f);
    p.setBrush(fill);
    p.setPen(QPen(curve, 1.6));
    p.drawPath(bell);
    if (q.verdict != Verdict::holds) {  // hatched too: not by colour alone
      QColor line = curve;
      line.setAlphaF(0.5f);
      p.setPen(Qt::NoPen);
      p.setBrush(QBrush(line, q.verdict == Verdict::misses ? Qt::DiagCrossPattern : Qt::BDiagPattern));
      p.drawPath(bell);
    }
    // The ladder: each step a bar from where it starts to where it ends.
    qreal y = top + 9;
    double at = 0;
    for (const ChainStep& step : q.steps) {
      const double before = at;
      at = step.after_mm;
      if (step.kind == ChainStep::Kind::master || step.kind == ChainStep::Kind::pin) {
        p.setPen(QPen(pal().ink, 2));
        p.drawLine(QPointF(x(at), y - 1), QPointF(x(at), y + 5));
        continue;
      }
      const auto [colour, pattern] = step_look(step.kind);
      const QRectF bar = QRectF(QPointF(x(before), y), QPointF(x(at), y + 5)).normalized().adjusted(-0.5, 0, 0.5, 0);
      p.fillRect(bar, pattern == Qt::SolidPattern ? colour : QColor(colour.lighter(pal().dark ? 90 : 135)));
      p.fillRect(bar, QBrush(colour, pattern));
      p.setPen(QPen(colour, 1));
      p.setBrush(Qt::NoBrush);
      p.drawRect(bar);
      p.setPen(QPen(pal().quiet, 0.8));
      p.drawLine(QPointF(x(at), y + 5), QPointF(x(at), y + 8));
      y += 7;
    }
    p.restore();
    p.setPen(QPen(pal().ink, 3));
    p.drawLine(QPointF(wall_l, top + 4), QPointF(wall_l, base + 4));
    p.drawLine(QPointF(wall_r, top + 4), QPointF(wall_r, base + 4));
    p.setPen(QPen(curve, 1.2));
    p.drawLine(QPointF(left, base), QPointF(right, base));

    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(right + 8, top + 8, 106, 20), Qt::AlignVCenter | Qt::AlignRight,
               u.length_unit_text(q.predicted_mm, 3));
    p.setFont(type_face(13));
    p.setPen(q.verdict == Verdict::holds ? pal().quiet : curve.darker(pal().dark ? 90 : 125));
    p.drawText(QRectF(right + 8, top + 28, 106, 18), Qt::AlignVCenter | Qt::AlignRight,
               QStringLiteral("±%1 · %2 %").arg(u.length_text(2 * q.u_mm, 3), qs(fixed(100 * q.p_in_limits, 0))));
  }
}

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
  std::vector<std::pair<std::string, QString>> items{{"", QStringLiteral("choose a silicone")}};
  for (const Silicone& s : desk_.catalogue().silicones) items.emplace_back(s.id, qs(s.name));
  rubber_->set_items(items);
  items = {{"", QStringLiteral("choose a resin")}};
  for (const Resin& r : desk_.catalogue().resins) items.emplace_back(r.id, qs(r.name));
  resin_->set_items(items);
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
    next.size.axis_scale = rounded(r->best_axis_scale);
    desk_.edit(next, QStringLiteral("best scales"));
  });

  connect(master_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.size.master = static_cast<MasterKind>(i);
    if (i == 2 && next.size.axis_scale == MasterScale{}) {
      const SizeResult r =
          predict_sizes(size_projection(next, desk_.plan().fresh(results::sections).get()), desk_.shop());
      next.size.axis_scale = rounded(r.best_axis_scale);
    }
    if (i == 1 && next.size.scale == 1)
      if (const auto r = desk_.plan().fresh(results::size)) next.size.scale = std::round(r->best_scale * 1e5) / 1e5;
    desk_.edit(next, i == 0 ? QStringLiteral("original as master") : QStringLiteral("printed master"));
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

void SizePage::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  master_->set_current(static_cast<int>(job.size.master));
  second_->setChecked(job.size.generations == 2);
  if (stack_->currentIndex() == 1) choose_->refresh();
  if (stack_->currentIndex() == 2) learn_->refresh();
  rubber_->show_current(job.mix.silicone_id);
  resin_->show_current(job.mix.resin_id);
  room_->show_value(u.temperature(job.size.room_c), 0, u.temperature_name());
  gel_->show_value(u.temperature(job.size.gel_c), 0, u.temperature_name());
  const Silicone* sil = desk_.catalogue().silicone(job.mix.silicone_id);
  const Resin* res = desk_.catalogue().resin(job.mix.resin_id);
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
