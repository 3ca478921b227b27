#include "split/holes_card.hpp"

#include <cmath>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "job/apply.hpp"
#include "shell/desk.hpp"
#include "stages/openings.hpp"
#include "stages/parting.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

HolesCard::HolesCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Openings, holes and thin rubber"), QStringLiteral("holes"), parent), desk_(desk) {
  setFixedWidth(566);
  sheet_ = new QPushButton(QStringLiteral("Drawing of the pins…"));
  sheet_->setObjectName(QStringLiteral("pins-sheet"));
  connect(sheet_, &QPushButton::clicked, this, &HolesCard::pin_sheet_wanted);
  plates_ = new QPushButton(QStringLiteral("Drawing of the plates…"));
  plates_->setObjectName(QStringLiteral("plates-sheet"));
  connect(plates_, &QPushButton::clicked, this, &HolesCard::plate_sheet_wanted);
  auto* sheets = new QHBoxLayout;
  sheets->addWidget(sheet_);
  sheets->addWidget(plates_);
  sheets->addStretch(1);
  col_->addLayout(sheets);
}
void HolesCard::pick(size_t opening) {
  picked_ = opening;
  pocket_.clear();
  shown_.clear();
  refresh();
}

QPushButton* HolesCard::put_head(QGridLayout* grid, int& row, bool open, const QString& name, const QString& told,
                                 const QString& said) {
  auto* head = new QPushButton((open ? QStringLiteral("▾ ") : QStringLiteral("▸ ")) + told);
  head->setProperty("kind", "bare");
  head->setStyleSheet(QStringLiteral("text-align: left; padding-left: 0;") +
                      (open ? QStringLiteral(" font-weight: 600;") : QString()));
  head->setObjectName(name);
  grid->addWidget(head, row, 0, 1, 2);
  grid->addWidget(card_words(said, "small"), row++, 2, Qt::AlignRight | Qt::AlignVCenter);
  return head;
}

void HolesCard::put_opening(QGridLayout* grid, int& row, const Openings& all, size_t k) {
  using Kind = OpeningChoice::Kind;
  const Units& u = desk_.units();
  const Opening& o = all.openings[k];
  const OpeningChoice* now = choice_for(all, k, desk_.job().split.openings);
  const auto split = desk_.plan().newest(results::split);
  int pinned = -1;  // by a pin of the bore, as jobs had it before openings were told
  for (size_t i = 0; i < desk_.job().split.bores.size(); ++i)
    if (const BoreTreatment& b = desk_.job().split.bores[i]; b.radius_mm <= 0 && opening_at(all, b.point_mm) == k)
      pinned = static_cast<int>(i);
  const bool along = split && along_pull(o, split->split.pull);
  QString told = qs(o.name + " · " + words_of(o, desk_.shop().shown));
  if (const auto steps = o.steps_mm2(); steps.size() > 1) told += QStringLiteral(" in %1 steps").arg(steps.size());
  told += !o.straight ? QString() : along ? QStringLiteral(", along the pull") : QStringLiteral(", across the pull");
  const bool open = picked_ == k && pocket_.empty();
  auto* head = put_head(grid, row, open, QStringLiteral("opening-%1-row").arg(k + 1), told,
                        now           ? qs(std::string(words_of(now->kind)))
                        : pinned >= 0 ? QStringLiteral("a hard pin forms it")
                                      : QStringLiteral("as it falls"));
  connect(head, &QPushButton::clicked, this, [this, k, at = o.at_mm()] {
    emit pointed(at);
    pick(k);
  });
  if (!open) return;
  // Said in the words of the bench; what cannot be is not offered.
  struct Way {
    std::optional<Kind> kind;
    const char* words;
  };
  std::vector<Way> ways{{std::nullopt, "As it falls"}, {Kind::meet, "Rubber meets"}, {Kind::plate, "Plate"}};
  if (o.straight) ways.push_back({Kind::slide, o.round_mm ? "Pin" : "Slide"});
  ways.push_back({Kind::fill, "Fill"});
  ways.push_back({Kind::plug, "Plug"});
  if (!along) ways.push_back({Kind::slit, "Slit"});
  auto* how = new Chips;
  for (size_t i = 0; i < ways.size(); ++i) {
    how->add(QLatin1String(ways[i].words),
             QStringLiteral("opening-%1-%2")
                 .arg(k + 1)
                 .arg(ways[i].kind ? qs(std::string(name_of(*ways[i].kind))) : QStringLiteral("none")));
    const bool is = now ? ways[i].kind == now->kind : pinned >= 0 ? ways[i].kind == Kind::slide : !ways[i].kind;
    if (is) how->set_current(static_cast<int>(i));
  }
  grid->addWidget(how, row++, 0, 1, 3);
  connect(how, &Chips::chosen, this,
          [this, ways, o, pinned, at = now ? now->at_mm : o.at_mm(), said = now != nullptr](int to) {
            const auto kind = ways[static_cast<size_t>(to)].kind;
            Job next = desk_.job();
            if (pinned >= 0 && static_cast<size_t>(pinned) < next.split.bores.size())
              next.split.bores.erase(next.split.bores.begin() + pinned);
            edits::SettleOpening settle{kind ? std::string(name_of(*kind)) : std::string(), at};
            settle.round_mm = o.round_mm;
            if (kind == Kind::plug) settle.dimple_mm = std::round(0.25 * o.width_mm * 10) / 10;
            if (kind || said)
              if (auto done = edited(next, settle)) next = *std::move(done);
            desk_.edit(next, kind ? qs(o.name + ": " + std::string(words_of(*kind))) : qs(o.name + " as it falls"));
          });
  if (!now) return;
  // Its figures: how far, how thick, which mouth.
  auto* line = new QHBoxLayout;
  line->setSpacing(8);
  const auto change = [this, at = now->at_mm](const QString& words, auto set) {
    Job next = desk_.job();
    for (OpeningChoice& c : next.split.openings)
      if (c.at_mm == at) set(c);
    desk_.edit(next, words, QStringLiteral("opening-figure"));
  };
  const auto number = [&](const char* name, const QString& label, double value, double low, double high, auto set) {
    auto* field = new FigureField(label, QStringLiteral("opening-%1-%2").arg(k + 1).arg(QLatin1String(name)), 84);
    field->show_value(u.length(value), u.inch ? 4 : 2, u.length_name());
    field->set_range(u.length(low), u.length(high));
    connect(field, &FigureField::entered, this, [this, change, label, set](double v) {
      const double mm = desk_.units().mm(v);
      change(label, [&](OpeningChoice& c) { set(c, mm); });
    });
    line->addWidget(field);
  };
  if (now->kind == Kind::plate || now->kind == Kind::plug || now->kind == Kind::slide) {
    auto* mouth = new Chips;
    mouth->add(QStringLiteral("Mouth 1"), QStringLiteral("opening-%1-mouth-1").arg(k + 1));
    mouth->add(QStringLiteral("Mouth 2"), QStringLiteral("opening-%1-mouth-2").arg(k + 1));
    const bool may_two = now->kind == Kind::slide && o.straight && o.cuts.size() >= 3;
    if (may_two) mouth->add(QStringLiteral("Both, they meet"), QStringLiteral("opening-%1-both").arg(k + 1));
    mouth->set_current(may_two && now->two ? 2 : now->mouth - 1);
    connect(mouth, &Chips::chosen, this, [change](int to) {
      change(QStringLiteral("mouth"), [&](OpeningChoice& c) {
        c.two = to == 2;
        if (to < 2) c.mouth = to + 1;
      });
    });
    line->addWidget(mouth);
  }
  if (now->kind == Kind::meet || now->kind == Kind::slit)
    number("at", QStringLiteral("From mouth 1"), now->share * o.length_mm(), 0, o.length_mm(),
           [all_mm = o.length_mm()](OpeningChoice& c, double mm) { c.share = std::clamp(mm / all_mm, 0.0, 1.0); });
  if (now->kind == Kind::slit)
    number("step", QStringLiteral("Step, 0 straight"), now->step_mm, 0, 100,
           [](OpeningChoice& c, double mm) { c.step_mm = std::clamp(mm, 0.0, 100.0); });
  if (now->leaves_film())
    number("film", QStringLiteral("Film"), now->film_mm, 0.02, 5,
           [](OpeningChoice& c, double mm) { c.film_mm = std::clamp(mm, 0.02, 5.0); });
  if (now->kind == Kind::plate)
    number("plate", QStringLiteral("Sheet"), now->plate_mm, 0.05, 20,
           [](OpeningChoice& c, double mm) { c.plate_mm = std::clamp(mm, 0.05, 20.0); });
  if (now->kind == Kind::plug) {
    number("deep", QStringLiteral("Free over it"), now->deep_mm, 0, 1000,
           [](OpeningChoice& c, double mm) { c.deep_mm = std::max(0.0, mm); });
    number("thick", QStringLiteral("Thick, 0 all"), now->thick_mm, 0, 1000,
           [](OpeningChoice& c, double mm) { c.thick_mm = std::max(0.0, mm); });
    number("dimple", QStringLiteral("Dimple"), now->dimple_mm, 0, 100,
           [](OpeningChoice& c, double mm) { c.dimple_mm = std::max(0.0, mm); });
  }
  line->addStretch(1);
  grid->addLayout(line, row++, 0, 1, 3);
  if (now->kind == Kind::slit) {
    auto* slit_told = card_words(qs("Cut " + words_of(slit_of(o, *now), desk_.shop().shown) + "."), "small");
    slit_told->setObjectName(QStringLiteral("opening-%1-slit-told").arg(k + 1));
    grid->addWidget(slit_told, row++, 0, 1, 3);
  }
}

void HolesCard::refresh() {
  const auto bores = desk_.plan().newest(results::bores);
  const auto pins = desk_.plan().fresh(results::pins);
  const auto thin = desk_.plan().newest(results::thin);
  const auto split = desk_.plan().newest(results::split);
  const std::string key = node_mark(desk_.plan(), results::bores) + node_mark(desk_.plan(), results::pins) +
                          node_mark(desk_.plan(), results::thin) + (desk_.units().inch ? "i" : "m") +
                          node_mark(desk_.plan(), results::openings) + std::to_string(desk_.job().split.bores.size()) +
                          node_mark(desk_.plan(), results::undercuts) + hash_of(desk_.job().split.pockets).hex() +
                          hash_of(desk_.job().split.openings).hex() + (split ? axis_name(split->split.pull) : "");
  sheet_->setVisible(pins && !pins->pins.empty());
  plates_->setVisible(std::any_of(desk_.job().split.openings.begin(), desk_.job().split.openings.end(),
                                  [](const OpeningChoice& c) { return c.kind == OpeningChoice::Kind::plate; }));
  if (key == shown_) return;
  shown_ = key;
  body_ = renewed(body_);
  auto* grid = new QGridLayout(body_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(14);
  int row = 0;
  const Units& u = desk_.units();
  const Job& job = desk_.job();
  const auto openings = desk_.plan().newest(results::openings);
  if (openings && !openings->refused.empty())
    grid->addWidget(card_words(qs(openings->refused)), row++, 0, 1, 3);
  else if (openings && openings->found.openings.empty() && (!bores || bores->bores.empty()))
    grid->addWidget(card_words(QStringLiteral("No opening and no bore was found on the part.")), row++, 0, 1, 3);
  // One stands open: the one clicked, else the first that nothing is said of.
  for (size_t k = 0; openings && !picked_ && k < openings->found.openings.size(); ++k)
    if (!choice_for(openings->found, k, job.split.openings)) picked_ = k;
  if (openings && !openings->found.openings.empty() && (!picked_ || *picked_ >= openings->found.openings.size()))
    picked_ = 0;
  for (size_t k = 0; openings && k < std::min<size_t>(12, openings->found.openings.size()); ++k)
    put_opening(grid, row, openings->found, k);
  put_pockets(grid, row);
  for (size_t i = 0; bores && i < std::min<size_t>(8, bores->bores.size()); ++i) {
    const Bore& b = bores->bores[i];
    if (openings && opening_at(openings->found, b.centroid_mm)) continue;  // among the openings
    const double times = b.depth_mm / b.diameter_mm;
    const bool along = split && std::abs(dot(b.axis, split->split.pull)) > 0.97;
    QString told =
        QStringLiteral("<b>Ø%1</b> %2, %3 deep, %4; in rubber a peg %5 times its thickness%6")
            .arg(u.length_unit_text(b.diameter_mm, 2), b.through ? QStringLiteral("through") : QStringLiteral("blind"),
                 u.length_unit_text(b.depth_mm, 1), along ? QStringLiteral("along") : QStringLiteral("across"),
                 qs(significant(times, 2)),
                 times > desk_.shop().rules.split.thin.slender_peg ? QStringLiteral(", too slender") : QString());
    int treated = -1;
    for (size_t k = 0; k < job.split.bores.size(); ++k)
      if (treated_bore(bores->bores, job.split.bores[k]) == &b) treated = static_cast<int>(k);
    const PinPlan* pin = nullptr;
    for (size_t k = 0; pins && k < pins->bore.size(); ++k)
      if (pins->bore[k] == i) pin = &pins->pins[k];
    if (pin && treated >= 0)
      told +=
          QStringLiteral("<br><b>%1</b> Ø%2 × %3, drawn along %4; %5 and %6 into the rubber; flat of %7 on the grip")
              .arg(qs(pin->name), u.length_unit_text(pin->diameter_mm, 3), u.length_unit_text(pin->length_mm(), 1),
                   qs(axis_name(pin->draw)), u.length_unit_text(pin->tail_mm, 1), u.length_unit_text(pin->head_mm, 1),
                   u.length_unit_text(pin->flat_mm, 2));
    auto* text = card_words(told);
    text->setTextFormat(Qt::RichText);
    grid->addWidget(text, row, 0, 1, 3);
    ++row;
    auto* how = new Chips;
    for (const char* name : {"Rubber", "Pin", "Fill"})
      how->add(QLatin1String(name), QStringLiteral("bore-%1-%2").arg(i).arg(QString::fromLatin1(name).toLower()));
    how->set_current(treated < 0                                                                      ? 0
                     : job.split.bores[static_cast<size_t>(treated)].kind == BoreTreatment::Kind::pin ? 1
                                                                                                      : 2);
    grid->addWidget(how, row, 0, 1, 2, Qt::AlignLeft);
    auto* show = new QPushButton(QStringLiteral("Show"));
    show->setProperty("kind", "bare");
    connect(show, &QPushButton::clicked, this, [this, at = b.centroid_mm] { emit pointed(at); });
    grid->addWidget(show, row, 2, Qt::AlignRight);
    connect(how, &Chips::chosen, this, [this, b, treated](int to) {
      Job next = desk_.job();
      if (treated >= 0 && static_cast<size_t>(treated) < next.split.bores.size())
        next.split.bores.erase(next.split.bores.begin() + treated);
      if (to > 0) {
        const Vec3 wall = b.centroid_mm + any_perpendicular(b.axis) * (0.5 * b.diameter_mm);
        const Edit treat = to == 1 ? Edit(edits::PinBore{wall, b.diameter_mm}) : Edit(edits::TapeBore{wall});
        if (auto done = edited(next, treat)) next = *std::move(done);
      }
      desk_.edit(next, to == 1   ? QStringLiteral("pin into the bore")
                       : to == 2 ? QStringLiteral("bore taped over")
                                 : QStringLiteral("bore formed by rubber"));
    });
    ++row;
  }
  int fins = 0;
  for (size_t i = 0; thin && i < thin->thin.size(); ++i) {
    const ThinRubber& t = thin->thin[i];
    if (t.peg || ++fins > 4) continue;
    grid->addWidget(
        card_words(QStringLiteral("<b>Fin</b> %1 thick, %2 long: %3 times%4")
                       .arg(u.length_unit_text(t.thickness_mm, 1), u.length_unit_text(t.length_mm, 1),
                            qs(significant(t.slenderness(), 2)), t.at_risk ? QStringLiteral(", at risk") : QString())),
        row, 0, 1, 2);
    auto* show = new QPushButton(QStringLiteral("Show"));
    show->setProperty("kind", "bare");
    connect(show, &QPushButton::clicked, this, [this, at = t.at_mm] { emit pointed(at); });
    grid->addWidget(show, row++, 2);
  }
  grid->setColumnStretch(0, 1);
  fit(body_);
}

}  // namespace palinform::app
