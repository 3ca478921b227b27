#include "mix/mix_page.hpp"

#include <cmath>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "mix/colour_view.hpp"
#include "mix/meeting_view.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

CupView::CupView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(380);
  setAccessibleName(QStringLiteral("Cup and scale readings"));
}

void CupView::show_pour(int i) {
  pour_ = i;
  readings_.clear();
  const auto r = desk_.plan().fresh(results::mix);
  if (r && i < static_cast<int>(r->pours.size())) {
    const double d = desk_.job().mix.scale_division_g;
    const int digits = d < 0.005 ? 3 : d < 0.05 ? 2 : d < 0.5 ? 1 : 0;
    const PourMix& m = r->pours[static_cast<size_t>(i)];
    for (const double g : m.weighing.readings_g)
      readings_ << (m.no_figures ? QStringLiteral("no figure") : desk_.units().mass_text(g, digits));
    if (m.drops && !m.no_figures) readings_.back() = qs(counted(*m.drops, "drop", "drops"));
    setAccessibleDescription(
        QStringLiteral("Scale reads %1, then %2, then %3").arg(readings_[0], readings_[1], readings_[2]));
  }
  update();
}

void CupView::paintEvent(QPaintEvent*) {
  const auto r = desk_.plan().fresh(results::mix);
  if (!r || pour_ >= static_cast<int>(r->pours.size())) return;
  const PourMix& m = r->pours[static_cast<size_t>(pour_)];
  const Units& u = desk_.units();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);

  // The cup to scale: a tapered tumbler of the shop's size (height 1.25 × mouth), with the levels of A, of A + B, and
  // of the foam. Levels follow the frustum's volume.
  const double cup_ml = std::max(desk_.job().mix.cup_ml, 1.0);
  const double a_ml = m.weighing.a_g / m.density_a_g_cm3, ab_ml = a_ml + m.weighing.b_g / m.density_b_g_cm3,
               foam_ml = ab_ml * m.foam_ratio;
  constexpr double taper = 0.78, tall = 1.25;  // bottom over mouth, height over mouth
  const auto level = [&](double ml) {          // share of the height that `ml` fills
    const double whole = (1 + taper + taper * taper), wanted = std::min(1.0, ml / cup_ml) * whole;
    double lo = 0, hi = 1;
    for (int i = 0; i < 40; ++i) {
      const double h = 0.5 * (lo + hi), w = taper + (1 - taper) * h;
      (h * (taper * taper + taper * w + w * w) < wanted ? lo : hi) = h;
    }
    return lo;
  };
  const qreal cup_h = std::min<qreal>(height() - 150, 250), mouth = cup_h / tall, cx = 30 + mouth / 2, top = 26,
              bottom = top + cup_h;
  const auto half = [&](double h) { return 0.5 * mouth * (taper + (1 - taper) * h); };
  const auto y = [&](double h) { return bottom - cup_h * h; };
  const auto band = [&](double from, double to) {
    QPainterPath path;
    path.moveTo(cx - half(from), y(from));
    path.lineTo(cx + half(from), y(from));
    path.lineTo(cx + half(to), y(to));
    path.lineTo(cx - half(to), y(to));
    path.closeSubpath();
    return path;
  };
  const double la = m.no_figures ? 0 : level(a_ml), lab = m.no_figures ? 0 : level(ab_ml),
               lf = m.no_figures ? 0 : level(foam_ml);
  p.setPen(Qt::NoPen);
  p.setBrush(pal().note.lighter(pal().dark ? 90 : 140));
  p.drawPath(band(0, la));
  p.setBrush(pal().caution.lighter(pal().dark ? 95 : 130));
  p.drawPath(band(la, lab));
  QColor dots = pal().ground;
  p.setBrush(QBrush(dots, Qt::Dense6Pattern));
  p.drawPath(band(la, lab));
  if (m.degas_min > 0) {
    QColor foam = pal().quiet;
    foam.setAlphaF(0.22f);
    p.setBrush(QBrush(foam, Qt::Dense5Pattern));
    p.drawPath(band(lab, lf));
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().ink, 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  QPolygonF outline;
  outline << QPointF(cx - half(1), top) << QPointF(cx - half(0), bottom) << QPointF(cx + half(0), bottom)
          << QPointF(cx + half(1), top);
  p.drawPolyline(outline);
  // Lines to the right of the cup, kept a line apart.
  struct Mark {
    qreal y;
    QString words;
    QColor colour;
  };
  std::vector<Mark> marks;
  if (!m.no_figures && m.degas_min > 0)
    marks.push_back({y(lf), QStringLiteral("foam to %1 ml").arg(qs(grouped(foam_ml))), pal().quiet});
  if (!m.no_figures)
    marks.push_back({y(lab), QStringLiteral("A + B, %1 ml").arg(qs(grouped(ab_ml, ab_ml < 100 ? 1 : 0))),
                     pal().caution.darker(pal().dark ? 90 : 130)});
  if (!m.no_figures)
    marks.push_back({y(la), QStringLiteral("A, %1 ml").arg(qs(grouped(a_ml, a_ml < 100 ? 1 : 0))), pal().note});
  p.setFont(type_face(13));
  qreal last = -1e9;
  for (const Mark& k : marks) {
    const qreal ty = std::max(k.y, last + 18);
    last = ty;
    p.setPen(QPen(k.colour, 1.6));
    const double h = (bottom - k.y) / cup_h;
    p.drawLine(QPointF(cx - half(h), k.y), QPointF(cx + half(h), k.y));
    p.drawLine(QPointF(cx + half(h), k.y), QPointF(cx + mouth / 2 + 14, ty));
    p.drawText(QRectF(cx + mouth / 2 + 18, ty - 9, 130, 18), Qt::AlignVCenter, k.words);
  }
  p.setPen(pal().quiet);
  p.drawText(QRectF(0, bottom + 6, 2 * cx, 18), Qt::AlignCenter,
             QStringLiteral("cup of %1 ml, to scale").arg(qs(grouped(cup_ml))));

  // The scale's readings in turn.
  const qreal left = cx + mouth / 2 + 158, wide = width() - left - 10;
  const char* heads[3] = {"Empty cup: scale reads", "Pour A until it reads",
                          m.drops ? "Count into it of B" : "Pour B until it reads"};
  const int sizes[3] = {34, 62, 62};
  qreal at = 14;
  for (int i = 0; i < 3 && i < readings_.size(); ++i) {
    p.setPen(pal().quiet);
    p.setFont(type_face(14));
    p.drawText(QRectF(left, at, wide, 20), Qt::AlignVCenter, QString::fromLatin1(heads[i]));
    const int space = static_cast<int>(readings_[i].lastIndexOf(QLatin1Char(' ')));
    const QString digits = readings_[i].left(space), unit = readings_[i].mid(space + 1);
    p.setPen(i == 1 ? pal().note : i == 2 ? pal().caution.darker(pal().dark ? 90 : 135) : pal().ink);
    const QFont big = type_face(sizes[i], 700);
    p.setFont(big);
    const qreal h = sizes[i] * 1.16;
    p.drawText(QRectF(left - 2, at + 20, wide, h), Qt::AlignVCenter | Qt::AlignLeft, digits);
    const int w = text_width(big, digits);
    p.setFont(type_face(24));
    p.setPen(pal().ink);
    p.drawText(QRectF(left + w + 8, at + 20 + h * 0.42, 60, 32), Qt::AlignVCenter, unit);
    if (i > 0 && !m.no_figures) {
      p.setFont(type_face(13));
      p.setPen(pal().quiet);
      p.drawText(QRectF(left + w + 62, at + 20 + h * 0.42, std::max<qreal>(40, wide - w - 62), 32), Qt::AlignVCenter,
                 QStringLiteral("%1 %2").arg(i == 1 ? QStringLiteral("A") : QStringLiteral("B"),
                                             u.mass_text(i == 1 ? m.weighing.a_g : m.weighing.b_g, 1)));
    }
    at += 26 + h;
  }
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  QString small = QStringLiteral("ratio off by %1 % ±%2 %, the material allows ±%3 %")
                      .arg(qs(fixed(m.weighing.ratio_error_pct, 2)), qs(fixed(2 * m.weighing.ratio_u_pct, 2)),
                           qs(fixed(m.ratio_tolerance_pct, 1)));
  if (!m.tints.empty()) {
    QString first;
    double reads = m.weighing.readings_g[0];
    for (const TintDose& d : m.tints) {
      const double g = d.master_batch ? d.stock_use_g : d.g;
      reads += g;
      first += QStringLiteral("%1 %2 (reads %3), ")
                   .arg(d.master_batch ? QStringLiteral("master batch of ") + qs(d.name) : qs(d.name),
                        u.mass_text(g, 2), u.mass_text(reads, 2));
    }
    small = QStringLiteral("Colour first: ") + first + QStringLiteral("then A, stir, then B · ") + small;
  }
  if (m.batches.count > 1) small = QStringLiteral("%1 batches like this · ").arg(m.batches.count) + small;
  p.drawText(QRectF(left, at + 2, wide, 40), Qt::AlignTop | Qt::TextWordWrap, small);

  if (m.cups)
    paint_cups(p, m);
  else
    paint_pot_life(p, m);
}

void CupView::paint_pot_life(QPainter& p, const PourMix& m) const {
  const Units& u = desk_.units();
  // The pot life as a bar: stir, vacuum, pour, what is left.
  const qreal bar_y = height() - 72, bar_h = 34, bar_l = 14, bar_w = width() - 28;
  const double life = std::max(m.batches.pot_life_min, 0.01), used = m.mix_min + m.degas_min + m.wait_min + m.pour_min,
               whole = std::max(life, used);
  struct Piece {
    double min;
    QString words;
    QColor colour;
    Qt::BrushStyle pattern;
  };
  const Piece pieces[] = {{m.mix_min, QStringLiteral("stir"), pal().note, Qt::SolidPattern},
                          {m.degas_min, QStringLiteral("vacuum"), pal().caution, Qt::Dense6Pattern},
                          {m.wait_min, QStringLiteral("rest"), pal().quiet, Qt::Dense6Pattern},
                          {m.pour_min, QStringLiteral("pour"), pal().act, Qt::BDiagPattern}};
  p.setPen(pal().ink);
  p.setFont(type_face(14, 600));
  p.drawText(QRectF(bar_l, bar_y - 26, bar_w, 20), Qt::AlignVCenter,
             QStringLiteral("Pot life %1 min at %2 %3")
                 .arg(qs(fixed(m.batches.pot_life_min, 1)), qs(fixed(u.temperature(desk_.job().size.room_c), 0)),
                      u.temperature_name()));
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  p.drawText(QRectF(bar_l, bar_y - 26, bar_w, 20), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("starts when B touches A · doubles per 10 °C colder (rule of thumb)"));
  qreal x = bar_l, label_end = 0;
  for (const Piece& k : pieces) {
    if (k.min <= 0) continue;
    const qreal w = bar_w * k.min / whole;
    fill_pattern(p, QRectF(x, bar_y, w, bar_h), k.colour, k.pattern == Qt::SolidPattern ? Qt::NoBrush : k.pattern);
    const QString words =
        k.words + QStringLiteral(" %1 min").arg(qs(fixed(k.min, k.min < 10 && k.min != std::round(k.min) ? 1 : 0)));
    p.setPen(pal().ink);
    const qreal lx = std::max(x, label_end);
    p.drawText(QRectF(lx, bar_y + bar_h + 4, 160, 18), Qt::AlignVCenter, words);
    label_end = lx + text_width(type_face(13), words) + 12;
    x += w;
  }
  p.setBrush(Qt::NoBrush);
  if (life >= used) {
    p.setPen(QPen(pal().quiet, 1.4, Qt::DashLine));
    p.drawRect(QRectF(x, bar_y, bar_l + bar_w - x, bar_h));
    p.setPen(pal().ink);
    p.drawText(QRectF(std::max(label_end, x + 2), bar_y + bar_h + 4, 200, 18), Qt::AlignVCenter,
               QStringLiteral("%1 min left").arg(qs(fixed(life - used, 1))));
  } else {
    const qreal end = bar_l + bar_w * life / whole;
    p.setPen(QPen(pal().stop, 4));
    p.drawLine(QPointF(end, bar_y - 4), QPointF(end, bar_y + bar_h + 4));
    p.drawText(QRectF(label_end, bar_y + bar_h + 4, 260, 18), Qt::AlignVCenter,
               QStringLiteral("gels %1 min too soon").arg(qs(fixed(used - life, 1))));
  }
}

/// Every cup a row of its own on one clock: weighed, stirred, under vacuum, poured; where it gels.
void CupView::paint_cups(QPainter& p, const PourMix& m) const {
  const CupsPlan& plan = *m.cups;
  const int n = static_cast<int>(plan.cups.size()), shown = std::min(n, 6);
  double whole = plan.done_min;
  for (const CupTime& c : plan.cups) whole = std::max(whole, c.gels_min);
  const qreal left = 70, wide = width() - left - 14, row_h = std::min<qreal>(17, 86.0 / shown),
              top = height() - shown * row_h - 24;
  const auto x = [&](double min) { return left + wide * min / std::max(whole, 0.01); };
  p.setFont(type_face(14, 600));
  p.setPen(plan.fits ? pal().ink : pal().stop);
  p.drawText(QRectF(14, top - 26, width() - 28, 20), Qt::AlignVCenter,
             QStringLiteral("%1 cups, %2: %3")
                 .arg(n)
                 .arg(qs(counted(desk_.job().mix.people, "person", "people")),
                      plan.fits ? QStringLiteral("poured out after %1 min").arg(qs(fixed(plan.done_min, 0)))
                                : QStringLiteral("they do not come in time")));
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  p.drawText(QRectF(14, top - 26, width() - 28, 20), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("each clock starts when B touches A · the bar: it has gelled"));
  for (int i = 0; i < shown; ++i) {
    const CupTime& c = plan.cups[static_cast<size_t>(i)];
    const qreal y = top + i * row_h, h = row_h - 4;
    p.setFont(type_face(12));
    p.setPen(pal().ink);
    p.drawText(QRectF(14, y, left - 18, h), Qt::AlignVCenter, QStringLiteral("cup %1").arg(c.cup + 1));
    const auto piece = [&](double from, double to, const QColor& colour, Qt::BrushStyle pattern) {
      if (to > from) fill_pattern(p, QRectF(x(from), y, x(to) - x(from), h), colour, pattern);
    };
    piece(c.weigh_from_min, c.starts_min, pal().rule, Qt::NoBrush);
    piece(c.starts_min, c.starts_min + m.mix_min, pal().note, Qt::NoBrush);
    piece(c.degas_from_min, c.degas_to_min, pal().caution, Qt::Dense6Pattern);
    piece(c.pour_from_min, c.pour_to_min, pal().act, Qt::BDiagPattern);
    p.setPen(QPen(pal().stop, 3));
    p.drawLine(QPointF(x(c.gels_min), y - 1), QPointF(x(c.gels_min), y + h + 1));
  }
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  const qreal foot = height() - 20;
  p.drawText(QRectF(left, foot, wide, 16), Qt::AlignVCenter,
             n > shown ? QStringLiteral("weigh · stir · vacuum · pour   (%1 more cups not drawn)").arg(n - shown)
                       : QStringLiteral("weigh · stir · vacuum · pour"));
  p.drawText(QRectF(left, foot, wide, 16), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("%1 min").arg(qs(fixed(whole, 0))));
}

MixPage::MixPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 14, 16, 10);
  col->setSpacing(10);
  pours_ = new Chips;
  auto* top = new QHBoxLayout;
  top->addWidget(pours_);
  top->addStretch(1);
  views_ = new Chips;
  views_->add(QStringLiteral("Weigh"), QStringLiteral("mix-weigh"));
  views_->add(QStringLiteral("Meets"), QStringLiteral("mix-meets"));
  views_->add(QStringLiteral("Colour"), QStringLiteral("mix-colour"));
  views_->set_current(0);
  top->addWidget(views_);
  col->addLayout(top);
  fields_ = new QWidget;
  auto* row = new QHBoxLayout(fields_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(12);
  division_ = new ChoiceField(QStringLiteral("Scale reads to"), QStringLiteral("division"), 92);
  division_->set_items({{"0.01", QStringLiteral("0.01 g")},
                        {"0.1", QStringLiteral("0.1 g")},
                        {"0.5", QStringLiteral("0.5 g")},
                        {"1", QStringLiteral("1 g")},
                        {"2", QStringLiteral("2 g")},
                        {"5", QStringLiteral("5 g")}});
  waste_ = new FigureField(QStringLiteral("May exceed"), QStringLiteral("waste"), 92);
  waste_->set_range(0, 100);
  tare_ = new FigureField(QStringLiteral("Empty cup"), QStringLiteral("tare"), 84);
  tare_->set_range(0, 1e5);
  cup_ml_ = new FigureField(QStringLiteral("Cup holds"), QStringLiteral("cup"), 84);
  cup_ml_->set_range(1, 1e6);
  copies_ = new FigureField(QStringLiteral("Castings"), QStringLiteral("copies"), 70);
  copies_->set_range(1, 100'000);
  air_ = new ChoiceField(QStringLiteral("Air gets out by"), QStringLiteral("air-by"), 122);
  air_->set_items({{"vacuum", QStringLiteral("vacuum")},
                   {"rest", QStringLiteral("rest")},
                   {"self-clearing", QStringLiteral("clears itself")},
                   {"warm", QStringLiteral("warm air")},
                   {"none", QStringLiteral("nothing")}});
  own_cup_ = new ChoiceField(QStringLiteral("Cup of the shop"), QStringLiteral("own-cup"), 138);
  row->addWidget(division_);
  row->addWidget(waste_);
  row->addWidget(own_cup_);
  row->addWidget(tare_);
  row->addWidget(cup_ml_);
  row->addWidget(copies_);
  row->addWidget(air_);
  row->addStretch(1);
  col->addWidget(fields_);
  cup_ = new CupView(desk_, this);
  col->addWidget(cup_, 1);
  meeting_ = new MeetingView(desk_, this);
  col->addWidget(meeting_, 1);
  meeting_->hide();
  colour_ = new ColourView(desk_, this);
  col->addWidget(colour_, 1);
  colour_->hide();
  empty_ = remark();
  empty_->setAlignment(Qt::AlignCenter);
  col->addWidget(empty_, 1);
  cautions_ = remark();
  cautions_->setObjectName(QStringLiteral("cautions"));
  cautions_->setTextFormat(Qt::RichText);
  bottle_ = chip(QStringLiteral("Its bottle (B)"), QStringLiteral("mix-bottle"));
  auto* foot = new QHBoxLayout;
  foot->addWidget(cautions_, 1);
  foot->addWidget(bottle_, 0, Qt::AlignTop);
  col->addLayout(foot);

  connect(views_, &Chips::chosen, this, &MixPage::show_view);
  connect(bottle_, &QPushButton::clicked, this, &MixPage::show_bottle);
  connect(pours_, &Chips::chosen, this, &MixPage::choose_pour);
  connect(division_, &ChoiceField::chosen, this, [this](const std::string& id) {
    Job next = desk_.job();
    next.mix.scale_division_g = parse_number(id).value_or(0.1);
    desk_.edit(next, QStringLiteral("scale division"));
  });
  const auto figure = [this](FigureField* f, const QString& what, std::function<void(Job&, double)> put) {
    connect(f, &FigureField::entered, this, [this, what, put = std::move(put)](double v) {
      Job next = desk_.job();
      put(next, v);
      desk_.edit(next, what);
    });
  };
  figure(waste_, QStringLiteral("waste"), [](Job& j, double v) { j.mix.waste_pct = v; });
  figure(tare_, QStringLiteral("empty cup"), [this](Job& j, double v) { j.mix.cup_tare_g = desk_.units().grams(v); });
  figure(cup_ml_, QStringLiteral("cup size"), [](Job& j, double v) { j.mix.cup_ml = v; });
  figure(copies_, QStringLiteral("castings"), [](Job& j, double v) { j.copies = static_cast<int>(v); });
  connect(air_, &ChoiceField::chosen, this, [this](const std::string& by) {
    desk_.apply({"", edits::ClearAir{resin_in_view(), by}}, QStringLiteral("air"));
  });
  connect(own_cup_, &ChoiceField::chosen, this, [this](const std::string& name) {
    Job next = desk_.job();
    next.mix.cup_name = name;
    for (const OwnCup& c : desk_.equipment().cups)
      if (c.name == name) {
        next.mix.cup_ml = c.brim_ml, next.mix.cup_tare_g = c.empty_g;
        next.mix.cup_bottom_mm = c.bottom_mm, next.mix.cup_top_mm = c.top_mm, next.mix.cup_high_mm = c.high_mm;
      }
    desk_.edit(next, QStringLiteral("cup"));
  });
}

void MixPage::show_view(int i) {
  views_->set_current(i);
  refresh();
}

bool MixPage::resin_in_view() const {
  const auto r = desk_.plan().fresh(results::mix);
  return r && pour_ < static_cast<int>(r->pours.size()) && r->pours[static_cast<size_t>(pour_)].is_resin;
}

void MixPage::show_bottle() {
  desk_.show_bottle(resin_in_view() ? desk_.job().mix.resin_id : desk_.job().mix.silicone_id);
}

void MixPage::choose_pour(int i) {
  pour_ = i;
  refresh();
}

void MixPage::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  const auto r = desk_.plan().fresh(results::mix);
  const int view = views_->current();
  const bool ok = view == 0 && r && !r->pours.empty();
  cup_->setVisible(ok);
  pours_->setVisible(ok);
  bottle_->setVisible(ok);
  fields_->setVisible(ok);
  cautions_->setVisible(ok);
  empty_->setVisible(!ok && view == 0);
  meeting_->setVisible(view == 1);
  colour_->setVisible(view == 2);
  if (view == 1) return meeting_->refresh();
  if (view == 2) return colour_->refresh();
  if (!ok) {
    const bool materials = desk_.rubber() && desk_.resin();
    empty_->setText(
        !materials ? QStringLiteral("Choose silicone and resin in Size; what to weigh follows from them and the mould.")
                   : QStringLiteral("What to weigh follows from the mould. It is not there yet."));
    return;
  }
  QStringList names;
  for (const PourMix& p : r->pours)
    names << (p.is_resin ? QStringLiteral("Casting · %1")
                         : QStringLiteral("Rubber ") + qs(p.pour_name()) + QStringLiteral(" · %1"))
                 .arg(u.mass_text(p.weighing.total_g * p.batches.count, p.is_resin ? 1 : 0));
  pour_ = std::clamp(pour_, 0, static_cast<int>(names.size()) - 1);
  if (names.size() != shown_pours_.size()) {
    pours_->clear();
    for (int i = 0; i < names.size(); ++i) pours_->add(names[i], QStringLiteral("pour-%1").arg(i));
  }
  for (int i = 0; i < names.size(); ++i) pours_->at(i)->setText(names[i]);
  shown_pours_ = names;
  pours_->set_current(pour_);
  division_->show_current(significant(job.mix.scale_division_g, 1));
  waste_->show_value(job.mix.waste_pct, 0, QStringLiteral("%"));
  tare_->show_value(u.mass(job.mix.cup_tare_g), u.ounce ? 3 : 1, u.mass_name());
  cup_ml_->show_value(job.mix.cup_ml, 0, QStringLiteral("ml"));
  copies_->show_value(job.copies, 0, {});
  air_->show_current(std::string(name_of(resin_in_view() ? job.mix.resin_air : job.mix.rubber_air)));
  std::vector<std::pair<std::string, QString>> cups{{"", QStringLiteral("by its size")}};
  for (const OwnCup& c : desk_.equipment().cups) cups.emplace_back(c.name, qs(c.name));
  if (!job.mix.cup_name.empty() &&
      std::none_of(cups.begin(), cups.end(), [&](const auto& c) { return c.first == job.mix.cup_name; }))
    cups.emplace_back(job.mix.cup_name, qs(job.mix.cup_name));
  own_cup_->set_items(cups);
  own_cup_->show_current(job.mix.cup_name);
  cup_->show_pour(pour_);
  const PourMix& p = r->pours[static_cast<size_t>(pour_)];
  QString words =
      QStringLiteral("<b>%1</b>, stir the bottles first, part A before part B, scrape, second cup, stir again.")
          .arg(qs(p.material).toHtmlEscaped());
  for (const std::string& c : p.cautions)
    words +=
        QStringLiteral("<br><b><font color='%1'>Caution</font></b> %2").arg(pal().stop.name(), qs(c).toHtmlEscaped());
  words += QStringLiteral("<br>Read the data sheet, follow local codes, ask a licensed person.");
  cautions_->setText(words);
}

void MixPage::point_at(const Finding& f) {
  const auto r = desk_.plan().fresh(results::mix);
  if (!r) return;
  for (size_t i = 0; i < r->pours.size(); ++i)
    if (r->pours[i].step == f.where.step) choose_pour(static_cast<int>(i));
}

}  // namespace palinform::app
