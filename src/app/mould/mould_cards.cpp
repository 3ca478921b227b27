#include "mould/mould_cards.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "mould/mould_fields.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

const BoxStyle styles[] = {BoxStyle::screwed, BoxStyle::glued, BoxStyle::cut_in_two,
                           BoxStyle::bricks,  BoxStyle::tub,   BoxStyle::tube};

}  // namespace

FormsCard::FormsCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Forms the mould can take"), QStringLiteral("forms"), parent), desk_(desk) {
  setFixedWidth(784);
}
void FormsCard::refresh() {
  const auto r = desk_.plan().newest(results::forms);
  const std::string key =
      node_mark(desk_.plan(), results::forms) + pal().ground.name().toStdString() + (desk_.units().ounce ? "o" : "g");
  if (key == shown_) return;
  shown_ = key;
  retire(body_);
  auto* scroll = new QScrollArea;
  body_ = scroll;
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setMinimumHeight(500);
  col_->addWidget(scroll, 1);
  auto* inside = new QWidget;
  scroll->setWidget(inside);
  for (QWidget* w : {scroll->viewport(), inside}) w->setAutoFillBackground(false);
  auto* grid = new QGridLayout(inside);
  grid->setContentsMargins(0, 0, 6, 0);
  grid->setSpacing(10);
  if (!r) {
    grid->addWidget(card_words(QStringLiteral("The forms are being worked out from the part.")), 0, 0);
    return;
  }
  const Units& u = desk_.units();
  const auto sil = desk_.rubber();
  const double density = sil ? sil->density_g_cm3 : 1.1;
  // The advised one first, then those that work by cost, then the rest.
  std::vector<const FormPlan*> order;
  for (const FormPlan& p : r->plans) order.push_back(&p);
  std::stable_sort(order.begin(), order.end(), [](const FormPlan* a, const FormPlan* b) {
    if (a->recommended != b->recommended) return a->recommended;
    if (a->works != b->works) return a->works;
    return a->works && a->cost < b->cost;
  });
  int at = 0;
  for (const FormPlan* p : order) {
    auto* card = new QFrame;
    card->setObjectName(QStringLiteral("panel"));
    card->setFixedWidth(240);
    auto* col = new QVBoxLayout(card);
    col->setContentsMargins(12, 8, 12, 10);
    col->setSpacing(4);
    auto* head =
        new QLabel(qs(std::string(words_of(p->form))) + (p->recommended ? QStringLiteral(" · advised") : QString()) +
                   (p->works ? QString() : QStringLiteral(" · not here")));
    head->setFont(type_face(14, 600));
    col->addWidget(head);
    if (p->works) {
      QString figures = p->rubber_mm3 > 0
                            ? QStringLiteral("<b>%1</b> of rubber in %2")
                                  .arg(u.mass_text(p->rubber_mm3 * 1e-3 * density, 0),
                                       qs(counted(static_cast<long long>(p->pours.size()), "pour", "pours")))
                            : QStringLiteral("<b>No mould rubber</b>");
      if (p->hard_mm3 > 0) figures += QStringLiteral(" · %1 ml hard").arg(qs(fixed(p->hard_mm3 * 1e-3, 0)));
      figures += QStringLiteral("<br><b>%1 h</b> by hand · <b>%2</b><br>%3 · %4 wasted a casting%5<br>Line: %6")
                     .arg(qs(fixed(p->hands_min / 60, 1)), u.money_text(p->cost, 0),
                          qs(counted(p->pulls, "pull", "pulls")) + QStringLiteral(" expected"),
                          qs(significant(p->resin_waste_mm3 * 1e-3, 2)) + QStringLiteral(" ml"),
                          p->castings_a_pull > 1 ? QStringLiteral(" · %1 a pull").arg(p->castings_a_pull) : QString(),
                          qs(p->line_quality.empty() ? "–" : p->line_quality));
      col->addWidget(card_words(figures));
    }
    QStringList why;
    for (const std::string& s : p->reasons) why << qs(s);
    col->addWidget(card_words(why.join(QStringLiteral(". ")) + QStringLiteral("."), "small"), 1, Qt::AlignTop);
    if (p->works) {
      const bool mine = r->form == p->form;
      auto* take = new QPushButton(mine ? QStringLiteral("This form") : QStringLiteral("Build this"));
      take->setObjectName(QStringLiteral("form-") + qs(std::string(name_of(p->form))));
      take->setEnabled(!mine);
      connect(take, &QPushButton::clicked, this, [this, form = p->form] {
        Job next = desk_.job();
        next.mould.form = std::string(name_of(form));
        desk_.edit(next, QStringLiteral("form: ") + qs(std::string(words_of(form))));
      });
      col->addWidget(take, 0, Qt::AlignLeft);
    }
    grid->addWidget(card, at / 3, at % 3);
    ++at;
  }
  grid->addWidget(
      card_words(QStringLiteral("Hours, pulls and money are rules of thumb; volumes are computed from this part."),
                 "small"),
      at / 3 + 1, 0, 1, 3);
  fit(body_);
}

BoxCard::BoxCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("The box, and what the shop cuts and prints with"), QStringLiteral("box"), parent),
      desk_(desk) {
  setFixedWidth(640);
  style_ = new Chips;
  for (const BoxStyle s : styles)
    style_->add(s == BoxStyle::tube         ? QStringLiteral("Tube")
                : s == BoxStyle::tub        ? QStringLiteral("A tub")
                : s == BoxStyle::cut_in_two ? QStringLiteral("Cut in two")
                : s == BoxStyle::bricks     ? QStringLiteral("Bricks")
                : s == BoxStyle::glued      ? QStringLiteral("Glued")
                                            : QStringLiteral("Screwed"),
                QStringLiteral("box-") + qs(std::string(name_of(s))));
  col_->addWidget(style_);
  told_ = card_words({});
  col_->addWidget(told_);
  own_ = new Chips(nullptr, true);
  own_->setObjectName(QStringLiteral("own-boxes"));
  col_->addWidget(own_);
  own_told_ = card_words({}, "small");
  own_told_->setObjectName(QStringLiteral("own-told"));
  col_->addWidget(own_told_);
  auto* typed = new QHBoxLayout;
  constexpr const char* inside_words[] = {"A box inside: long", "wide", "high"};
  for (int k = 0; k < 3; ++k) {
    inside_[k] =
        new FigureField(QString::fromLatin1(inside_words[k]), QStringLiteral("own-inside-%1").arg(k), k ? 84 : 122);
    inside_[k]->set_range(5, 5000);
    inside_[k]->allow_empty(QStringLiteral("–"));
    typed->addWidget(inside_[k]);
    connect(inside_[k], &FigureField::entered, this, [this, k](double v) {
      Job next = desk_.job();
      BoxChoice& own = next.mould.own_box;
      if (!own.inside_mm) {
        const auto r = desk_.plan().newest(results::forms);
        own.inside_mm = r ? r->needed_mm + Vec3{0, 0, desk_.shop().rules.mould.box.rim_mm} : Vec3{100, 100, 100};
      }
      (*own.inside_mm)[k] = desk_.units().mm(v);
      own.name = "Box as typed", own.dammed = false;
      desk_.edit(next, QStringLiteral("inside of the box"));
    });
    connect(inside_[k], &FigureField::emptied, this, [this] {
      Job next = desk_.job();
      next.mould.own_box = {};
      desk_.edit(next, QStringLiteral("box made to measure"));
    });
  }
  plates_ = chip(QStringLiteral("Dam plates in it"), QStringLiteral("own-plates"), true);
  typed->addWidget(plates_, 0, Qt::AlignBottom);
  typed->addStretch(1);
  col_->addLayout(typed);
  connect(plates_, &QPushButton::clicked, this, [this](bool on) {
    Job next = desk_.job();
    next.mould.own_box.dammed = on;
    desk_.edit(next, QStringLiteral("dam plates"));
  });
  connect(own_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.mould.own_box = {};
    if (i > 0 && static_cast<size_t>(i) <= offers_.size()) {
      const BoxOffer& o = offers_[static_cast<size_t>(i - 1)];
      next.mould.own_box = {o.name, o.inside_mm, false};
    }
    desk_.edit(next, i > 0 ? QStringLiteral("a box of the shop") : QStringLiteral("box made to measure"));
  });
  auto* walls = new QHBoxLayout;
  floor_ = new FigureField(QStringLiteral("Rubber under the part"), QStringLiteral("wall-floor"), 132);
  top_ = new FigureField(QStringLiteral("and over it"), QStringLiteral("wall-top"), 110);
  masters_ = new FigureField(QStringLiteral("Masters in one box"), QStringLiteral("box-masters"), 118);
  for (const auto& [f, member] : {std::pair{floor_, &MouldSetup::floor_mm}, {top_, &MouldSetup::top_mm}}) {
    f->set_range(0.5, 500);
    f->allow_empty(QStringLiteral("by the rule"));
    walls->addWidget(f);
    bind_measure(desk_, f, &Job::mould, member, QStringLiteral("wall"));
  }
  masters_->set_range(1, 24);
  walls->addWidget(masters_);
  walls->addStretch(1);
  col_->addLayout(walls);
  connect(masters_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.mould.masters = std::max(1, static_cast<int>(std::lround(v)));
    desk_.edit(next, QStringLiteral("masters in one box"));
  });
  auto* row = new QHBoxLayout;
  const auto field = [&](const QString& label, const QString& name, double low, double high) {
    auto* f = new FigureField(label, name, 92);
    f->set_range(low, high);
    row->addWidget(f);
    return f;
  };
  sheet_ = field(QStringLiteral("Panel sheet"), QStringLiteral("build-sheet"), 0.5, 40);
  clearance_ = field(QStringLiteral("Board clearance"), QStringLiteral("build-clearance"), 0, 3);
  voxel_ = field(QStringLiteral("Fineness"), QStringLiteral("build-voxel"), 0.05, 5);
  bed_u_ = field(QStringLiteral("Printer's bed"), QStringLiteral("build-bed-u"), 20, 2000);
  bed_v_ = field(QStringLiteral("by"), QStringLiteral("build-bed-v"), 20, 2000);
  col_->addLayout(row);
  row = new QHBoxLayout;
  chamber_ = field(QStringLiteral("Vacuum chamber, clear height"), QStringLiteral("build-chamber"), 0, 5000);
  pot_ = field(QStringLiteral("Pressure pot, clear height"), QStringLiteral("build-pot"), 0, 5000);
  for (FigureField* f : {chamber_, pot_}) f->allow_empty(QStringLiteral("unknown"));
  row->addStretch(1);
  col_->addLayout(row);
  panels_ = new QPushButton(QStringLiteral("Cut list drawing…"));
  panels_->setObjectName(QStringLiteral("panels-sheet"));
  col_->addWidget(panels_, 0, Qt::AlignLeft);
  connect(panels_, &QPushButton::clicked, this, &BoxCard::panels_wanted);
  connect(style_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.mould.box = std::string(name_of(styles[i]));
    desk_.edit(next, QStringLiteral("box: ") + qs(std::string(words_of(styles[i]))));
  });
  const auto enter = [this](FigureField* f, double BuildSetup::*member) {
    connect(f, &FigureField::entered, this, [this, member](double v) {
      Job next = desk_.job();
      next.mould.build.*member = desk_.units().mm(v);
      desk_.edit(next, QStringLiteral("shop figures"));
    });
  };
  const auto none = [this](FigureField* f, double BuildSetup::*member) {
    connect(f, &FigureField::emptied, this, [this, member] {
      Job next = desk_.job();
      next.mould.build.*member = 0;
      desk_.edit(next, QStringLiteral("shop figures"));
    });
  };
  enter(chamber_, &BuildSetup::chamber_mm), none(chamber_, &BuildSetup::chamber_mm);
  enter(pot_, &BuildSetup::pot_mm), none(pot_, &BuildSetup::pot_mm);
  enter(sheet_, &BuildSetup::sheet_mm);
  enter(clearance_, &BuildSetup::clearance_mm);
  enter(voxel_, &BuildSetup::voxel_mm);
  enter(bed_u_, &BuildSetup::bed_u_mm);
  enter(bed_v_, &BuildSetup::bed_v_mm);
}
void BoxCard::show_offers(const FormsResult& r) {
  const Units& u = desk_.units();
  const auto mould = desk_.plan().newest(results::mould);
  const double part = mould ? mould->part_mm3 * r.plan().castings_a_pull : 0;
  constexpr size_t most = 3;
  std::vector<BoxOffer> all =
      box_offers(r.needed_mm, part, desk_.equipment().boxes, desk_.shop().rules.mould.box.rim_mm);
  QStringList not_one;
  for (const BoxOffer& o : all)
    if (!o.takes()) not_one << qs(o.name) + QStringLiteral(" is ") + qs(o.why_not);
  std::erase_if(all, [](const BoxOffer& o) { return !o.takes(); });
  if (all.size() > most) all.resize(most);
  const BoxChoice& chosen = desk_.job().mould.own_box;
  offers_ = all;
  own_->clear();
  own_->add(QStringLiteral("Made to measure"), QStringLiteral("own-box-none"));
  int now = chosen.inside_mm ? -1 : 0;
  for (size_t i = 0; i < all.size(); ++i) {
    const BoxOffer& o = all[i];
    own_->add(
        QStringLiteral("%1 · %2 ml%3")
            .arg(qs(o.name), qs(grouped(o.rubber_mm3 * 1e-3, 0)),
                 o.more_mm3 > 500 ? QStringLiteral(" (%1 more)").arg(qs(grouped(o.more_mm3 * 1e-3, 0))) : QString()),
        QStringLiteral("own-box-%1").arg(i));
    if (chosen.name == o.name) now = static_cast<int>(i) + 1;
  }
  own_->set_current(now);
  QStringList said;
  if (!r.box.own.empty()) {
    said << qs(r.box.told);
    for (const DamPlate& p : r.box.plates)
      said << QStringLiteral("%1 plate %2 × %3, %4 from its far %5, saves %6 ml")
                  .arg(r.box.dammed ? QStringLiteral("a") : QStringLiteral("could have a"), u.length_text(p.wide_mm, 0),
                       u.length_unit_text(p.high_mm, 0), u.length_unit_text(p.from_end_mm, 0),
                       p.where.starts_with("across") ? QStringLiteral("end") : QStringLiteral("side"),
                       qs(grouped(p.saves_mm3 * 1e-3, 0)));
  } else if (desk_.equipment().boxes.empty()) {
    said << QStringLiteral("Boxes the shop owns are written in Ledger, The shop: those that fit then stand here");
  }
  said << not_one.mid(0, 2);
  own_told_->setText(said.join(QStringLiteral(" · ")));
  own_told_->setVisible(!said.isEmpty());
}

void BoxCard::refresh() {
  const auto r = desk_.plan().newest(results::forms);
  const Units& u = desk_.units();
  const Job& job = desk_.job();
  int now = 0;
  for (int i = 0; i < 6; ++i)
    if (name_of(styles[i]) == job.mould.box) now = i;
  style_->set_current(now);
  const int digits = u.inch ? 3 : 2;
  sheet_->show_value(u.length(job.mould.build.sheet_mm), digits, u.length_name());
  clearance_->show_value(u.length(job.mould.build.clearance_mm), digits, u.length_name());
  voxel_->show_value(u.length(job.mould.build.voxel_mm), digits, u.length_name());
  bed_u_->show_value(u.length(job.mould.build.bed_u_mm), u.inch ? 2 : 0, u.length_name());
  bed_v_->show_value(u.length(job.mould.build.bed_v_mm), u.inch ? 2 : 0, u.length_name());
  for (const auto& [f, mm] : {std::pair{chamber_, job.mould.build.chamber_mm}, {pot_, job.mould.build.pot_mm}})
    f->show_value(mm > 0 ? std::optional(u.length(mm)) : std::nullopt, u.inch ? 2 : 0, u.length_name());
  floor_->show_value(job.mould.floor_mm ? std::optional(u.length(*job.mould.floor_mm)) : std::nullopt, digits - 1,
                     u.length_name());
  top_->show_value(job.mould.top_mm ? std::optional(u.length(*job.mould.top_mm)) : std::nullopt, digits - 1,
                   u.length_name());
  masters_->show_value(job.mould.masters, 0, {});
  const BoxChoice& chosen = job.mould.own_box;
  for (int k = 0; k < 3; ++k)
    inside_[k]->show_value(chosen.inside_mm ? std::optional(u.length((*chosen.inside_mm)[k])) : std::nullopt,
                           u.inch ? 2 : 0, u.length_name());
  const bool boxed = r && r->plan().boxes > 0;
  for (QWidget* w :
       {static_cast<QWidget*>(own_), static_cast<QWidget*>(own_told_), static_cast<QWidget*>(masters_),
        static_cast<QWidget*>(inside_[0]), static_cast<QWidget*>(inside_[1]), static_cast<QWidget*>(inside_[2])})
    w->setVisible(boxed);
  plates_->setVisible(boxed && !r->box.own.empty() && !r->box.plates.empty());
  plates_->setChecked(chosen.dammed);
  if (boxed) show_offers(*r);
  panels_->setEnabled(r && !r->box.panels.empty() && r->plan().boxes > 0);
  if (!r) return;
  QString t;
  if (r->plan().boxes == 0) {
    t = QStringLiteral("This form needs no box.");
  } else {
    t = QStringLiteral("<b>Inside %1 × %2 × %3 %4</b> · %5")
            .arg(u.length_text(r->box.inner_mm.x, 0), u.length_text(r->box.inner_mm.y, 0),
                 u.length_text(r->box.inner_mm.z, 0), u.length_name(), qs(r->box.told));
    if (r->box.more_rubber_mm3 > 100)
      t +=
          QStringLiteral(" · %1 ml more rubber than the smallest box").arg(qs(fixed(r->box.more_rubber_mm3 * 1e-3, 0)));
    for (const CutPanel& p : r->box.panels)
      t += QStringLiteral("<br>%1 × %2: %3 × %4 %5%6")
               .arg(p.count)
               .arg(qs(p.name), u.length_text(p.width_mm, 1), u.length_text(p.height_mm, 1), u.length_name(),
                    p.overlaps ? QStringLiteral(", overlapping") : QString());
    t += QStringLiteral("<br><b>Hold shut</b> with %1: %2 N from the resin's head")
             .arg(qs(r->clamping.with), qs(significant(r->clamping.force_n, 2)));
    if (r->parting_n > 0)
      t += (r->form == Form::cup_core ? QStringLiteral("; about %1 N to jack the core out")
                                      : QStringLiteral("; about %1 N to part the halves"))
               .arg(qs(significant(r->parting_n, 2)));
    if (r->dams.corners > 0 && (r->box.own.empty() || r->box.dammed))
      t += QStringLiteral("<br><b>Dams</b> in %1 would save %2 ml of rubber")
               .arg(qs(counted(r->dams.corners, "corner", "corners")), qs(fixed(r->dams.rubber_mm3 * 1e-3, 0)));
    t += QStringLiteral("<br><b>Before pouring</b>: ");
    for (const std::string& l : r->leaks) t += qs(l) + QLatin1Char(' ');
  }
  told_->setText(t);
  told_->setMinimumHeight(told_->heightForWidth(width() - 30));
  layout()->activate();
  if (isVisible()) adjustSize();
}

}  // namespace palinform::app
