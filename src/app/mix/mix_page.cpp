#include "mix/mix_page.hpp"

#include <algorithm>
#include <cctype>
#include <QHBoxLayout>
#include <QTimer>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "mix/colour_view.hpp"
#include "mix/cup_view.hpp"
#include "mix/meeting_view.hpp"
#include "mix/together_view.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

MixPage::MixPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 14, 16, 10);
  col->setSpacing(10);
  pours_ = new Chips(nullptr, true);
  auto* top = new QHBoxLayout;
  top->addWidget(pours_, 1);
  views_ = new Chips;
  views_->add(QStringLiteral("Weigh"), QStringLiteral("mix-weigh"));
  views_->add(QStringLiteral("Meets"), QStringLiteral("mix-meets"));
  views_->add(QStringLiteral("Colour"), QStringLiteral("mix-colour"));
  views_->add(QStringLiteral("Shared"), QStringLiteral("mix-together"));
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
  // Views with many fields are made when they are first looked at: making them all would hold up the page's opening.
  views_at_ = col->count();
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
  const auto r = desk_.plan().fresh(results::mix);
  if (r && pour_ < static_cast<int>(r->pours.size()))
    desk_.show_bottle(r->pours[static_cast<size_t>(pour_)].material_id);
  else
    desk_.show_bottle(desk_.job().mix.silicone_id);
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
  // The first filling of the page in turns of its own: with all that comes with the result it would hold the thread.
  const std::initializer_list<QWidget*> parts{cup_, pours_, bottle_, fields_, cautions_};
  if (ok && filled_ <= static_cast<int>(parts.size())) {
    empty_->hide();
    if (filled_ > 0) parts.begin()[filled_ - 1]->show();
    ++filled_;
    QTimer::singleShot(0, this, &MixPage::refresh);
    return;
  }
  for (QWidget* w : parts) w->setVisible(ok);
  empty_->setVisible(!ok && view == 0);
  auto* col = static_cast<QVBoxLayout*>(layout());
  if (view == 1 && !meeting_) col->insertWidget(views_at_, meeting_ = new MeetingView(desk_, this), 1);
  if (view == 2 && !colour_) col->insertWidget(views_at_, colour_ = new ColourView(desk_, this), 1);
  if (view == 3 && !together_) col->insertWidget(views_at_, together_ = new TogetherView(desk_, this), 1);
  if (meeting_) meeting_->setVisible(view == 1);
  if (colour_) colour_->setVisible(view == 2);
  if (together_) together_->setVisible(view == 3);
  if (view == 1) return meeting_->refresh();
  if (view == 2) return colour_->refresh();
  if (view == 3) return together_->refresh();
  if (!ok) {
    const bool materials = desk_.rubber() && desk_.resin();
    empty_->setText(
        !materials ? QStringLiteral("Choose silicone and resin in Size; what to weigh follows from them and the mould.")
                   : QStringLiteral("What to weigh follows from the mould. It is not there yet."));
    return;
  }
  QStringList names;
  for (const PourMix& p : r->pours)
    names << ((p.is_resin       ? QStringLiteral("Casting")
               : p.jacket       ? qs(std::string(1, static_cast<char>(std::toupper(p.step[0]))) + p.step.substr(1))
               : p.lumps        ? QStringLiteral("Putty, ") + qs(p.pour_name())
               : p.side.empty() ? QStringLiteral("Rubber ") + qs(p.pour_name())
                                : qs(p.pour_name())) +
              QStringLiteral(" · %1"))
                 .arg(u.mass_text(p.weighing.total_g * p.batches.count, p.is_resin ? 1 : 0));
  pour_ = std::clamp(pour_, 0, static_cast<int>(names.size()) - 1);
  if (names.size() != shown_pours_.size()) {
    // Out of sight meanwhile: a button put into a row on show comes up by itself and lays the whole window out anew.
    pours_->hide();
    pours_->clear();
    for (int i = 0; i < names.size(); ++i) pours_->add(names[i], QStringLiteral("pour-%1").arg(i));
    pours_->show();
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
      QStringLiteral("<b>%1</b>, stir the bottles first, part %2 before part %3, scrape, second cup, stir again.")
          .arg(qs(p.material).toHtmlEscaped(), QLatin1String(p.part(false)), QLatin1String(p.part(true)));
  if (p.lumps)
    words =
        QStringLiteral("<b>%1</b>, no cup: a ball of each part, %2 and %3 across, kneaded to one colour within %4 min.")
            .arg(qs(p.material).toHtmlEscaped(), u.length_unit_text(p.lump_mm[0], 0),
                 u.length_unit_text(p.lump_mm[1], 0), qs(shortest(p.mix_min, 1)));
  if (p.jacket)
    words = QStringLiteral("<b>%1</b>, to a stiff paste without lumps; laid in layers, corners first.")
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
