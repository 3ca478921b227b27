#include "split/split_cards.hpp"

#include <cmath>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "job/apply.hpp"
#include "shell/desk.hpp"
#include "stages/openings.hpp"
#include "stages/parting.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

struct WeightRow {
  const char *words, *why;
  double PullWeights::*member;
};
const WeightRow weight_rows[] = {{"What locks", "share of the surface that neither side lets go", &PullWeights::locked},
                                 {"Line length", "against the girth of a ball of the part's size", &PullWeights::line},
                                 {"Flat line", "how far the line climbs", &PullWeights::flat},
                                 {"Low mould", "height of the part along the pull", &PullWeights::height},
                                 {"Off show faces", "share of the line across show faces", &PullWeights::show},
                                 {"Square set-up", "off the part's own axes, flats and bores", &PullWeights::odd}};

}  // namespace

WeightsCard::WeightsCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("What a good pull is"), QStringLiteral("weights"), parent), desk_(desk) {
  setFixedWidth(430);
  col_->addWidget(
      card_words(QStringLiteral("The search gives each direction a score, low is good. Weigh the parts of it as "
                                "your shop does; 1 is the usual weight."),
                 "small"));
  auto* grid = new QGridLayout;
  int at = 0;
  for (const WeightRow& r : weight_rows) {
    auto* name = new QLabel(QLatin1String(r.words));
    name->setToolTip(QLatin1String(r.why));
    auto* s = new QSlider(Qt::Horizontal);
    s->setRange(0, 40);  // tenths of the usual weight
    s->setMinimumHeight(32);
    s->setAccessibleName(QLatin1String(r.words));
    s->setObjectName(QStringLiteral("weight-%1").arg(at));
    auto* figure = new QLabel;
    figure->setMinimumWidth(50);
    grid->addWidget(name, at, 0);
    grid->addWidget(s, at, 1);
    grid->addWidget(figure, at, 2);
    sliders_.push_back(s);
    figures_.push_back(figure);
    connect(s, &QSlider::valueChanged, this, [this, r](int v) {
      Job next = desk_.job();
      next.split.pull_weights.*r.member = PullWeights{}.*r.member * v / 10.0;
      desk_.edit(next, QStringLiteral("weights of the search"), QStringLiteral("weights"));
    });
    ++at;
  }
  col_->addLayout(grid);
  auto* reset = new QPushButton(QStringLiteral("Usual weights"));
  reset->setObjectName(QStringLiteral("weights-reset"));
  connect(reset, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    next.split.pull_weights = {};
    desk_.edit(next, QStringLiteral("usual weights of the search"));
  });
  col_->addWidget(reset, 0, Qt::AlignLeft);
}
void WeightsCard::refresh() {
  for (size_t i = 0; i < sliders_.size(); ++i) {
    const double PullWeights::*m = weight_rows[i].member;
    const double times = desk_.job().split.pull_weights.*m / (PullWeights{}.*m);
    const QSignalBlocker quiet(sliders_[i]);
    sliders_[i]->setValue(static_cast<int>(std::lround(10 * times)));
    figures_[i]->setText(QStringLiteral("× %1").arg(qs(fixed(times, 1))));
  }
}

WayPicture::WayPicture(const WaySketch& sketch, const QString& words, QWidget* parent)
    : QWidget(parent), sketch_(sketch) {
  setFixedHeight(104);
  setAccessibleName(words + QStringLiteral(", in section"));
}

void WayPicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const WaySketch& s = sketch_;
  const double wide = std::max(1e-6, s.high.x - s.low.x), tall = std::max(1e-6, s.high.y - s.low.y);
  const double scale = std::min((width() - 8.0) / wide, (height() - 14.0) / tall);
  const double left = 0.5 * (width() - scale * wide), foot = 4 + scale * tall;
  const auto at = [&](const Point2& q) {
    return QPointF(left + (q.x - s.low.x) * scale, foot - (q.y - s.low.y) * scale);
  };
  QPainterPath part;
  for (const auto& outline : s.part) {
    QPolygonF poly;
    for (const Point2& q : outline) poly << at(q);
    poly << (poly.isEmpty() ? QPointF() : poly.front());
    part.addPolygon(poly);
  }
  const QRectF box(at({s.low.x, s.high.y}), at({s.high.x, s.low.y}));
  if (s.boxed) {
    p.fillRect(box, s.hard ? pal().quiet : pal().rubber_a);
    p.setPen(QPen(pal().ink, 1.4));
    p.drawRect(box);
  } else {
    p.setPen(QPen(pal().rubber_a, std::max(3.0, 2 * s.skin_mm * scale), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(part);
  }
  p.setPen(QPen(pal().ink, 1.2));
  p.setBrush(pal().part);
  p.drawPath(part);
  if (s.plate) p.fillRect(QRectF(box.left() - 6, box.bottom(), box.width() + 12, 5), pal().ink);
  // The line goes behind the part, so it is drawn where rubber is.
  QPainterPath rubber;
  rubber.addRect(rect());
  p.setClipPath(rubber.subtracted(part));
  p.setPen(QPen(pal().act, 2.2));
  for (const auto& line : s.lines) {
    QPolygonF poly;
    for (const Point2& q : line) poly << at(q);
    p.drawPolyline(poly);
  }
}

WaysCard::WaysCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Ways to the mould"), QStringLiteral("ways"), parent), desk_(desk) {
  setFixedWidth(784);
}
void WaysCard::refresh() {
  const auto r = desk_.plan().newest(results::ways);
  const std::string key = node_mark(desk_.plan(), results::ways) + pal().ground.name().toStdString() +
                          (desk_.units().inch ? "i" : "m") + (desk_.units().ounce ? "o" : "g");
  if (key == shown_) return;
  shown_ = key;
  retire(body_);
  col_->insertWidget(1, body_ = new QWidget, 1);
  auto* grid = new QGridLayout(body_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(10);
  if (!r) {
    grid->addWidget(card_words(QStringLiteral("The ways follow from the line; it is being worked out.")), 0, 0);
    return;
  }
  const Units& u = desk_.units();
  const auto name = [](const WholeWay& w) {
    // A bed belongs to the name only where there is a choice of beds.
    QString words = qs(std::string(words_of(w.form)));
    if (w.way && in_halves(w.form) && w.form != Form::pieces)
      words += QStringLiteral(", ") + qs(lower_ascii(words_of(*w.way)));
    return words;
  };
  const Job& job = desk_.job();
  const Form form = job.mould.planned_form();
  const auto take = [this](const WholeWay& w) {
    Job next = desk_.job();
    next.mould.form = std::string(name_of(w.form));
    next.split.way = w.way ? std::string(name_of(*w.way)) : std::string();
    desk_.edit(next, QStringLiteral("the way to the mould"));
  };
  const auto is_mine = [&](const WholeWay& w) {
    return w.form == form && (!in_halves(form) || !w.way || r->chosen == w.way);
  };
  const auto button = [&](const WholeWay& w) {
    const bool mine = is_mine(w);
    auto* b = new QPushButton(mine ? QStringLiteral("This way") : QStringLiteral("Do it this way"));
    b->setObjectName(QStringLiteral("way-") + qs(std::string(name_of(w.form))) +
                     (w.way && in_halves(w.form) ? QStringLiteral("-") + qs(std::string(name_of(*w.way))) : QString()));
    b->setEnabled(!mine);
    connect(b, &QPushButton::clicked, this, [take, w] { take(w); });
    return b;
  };
  const size_t offered = r->sketches.size();
  for (size_t i = 0; i < offered; ++i) {
    const WholeWay& w = r->whole[i];
    auto* card = new QFrame;
    card->setObjectName(QStringLiteral("panel"));
    card->setFrameShape(QFrame::StyledPanel);
    card->setFixedWidth(242);
    auto* col = new QVBoxLayout(card);
    col->setContentsMargins(12, 8, 12, 10);
    col->setSpacing(4);
    auto* head = new QLabel(name(w) + (w.advised ? QStringLiteral(" · advised") : QString()));
    head->setFont(type_face(14, 600));
    head->setWordWrap(true);
    col->addWidget(head);
    col->addWidget(new WayPicture(r->sketches[i], name(w)));
    col->addWidget(card_words(
        QStringLiteral("<b>%1 h</b> by hand · <b>%2</b> · in all <b>%3</b><br>%4")
            .arg(qs(fixed(w.hands_min / 60, 1)),
                 u.mass_text(w.rubber_mm3 * 1e-3 * (desk_.rubber() ? desk_.rubber()->density_g_cm3 : 1.1), 0),
                 u.money_text(w.cost, 0),
                 w.line == "none"    ? QStringLiteral("no line")
                 : w.line == "plane" ? QStringLiteral("line in one plane")
                                     : QStringLiteral("line climbs %1, at most %2°")
                                           .arg(u.length_unit_text(w.climb_mm, 1), qs(fixed(w.steepest_deg, 0))))));
    QStringList why;
    for (size_t k = 0; k < w.why.size() && k < 2; ++k) why << qs(w.why[k]);
    col->addWidget(card_words(why.join(QStringLiteral(". ")) + QStringLiteral("."), "small"), 1, Qt::AlignTop);
    col->addWidget(button(w), 0, Qt::AlignLeft);
    grid->addWidget(card, 0, static_cast<int>(i));
  }
  auto* rest = new QGridLayout;
  rest->setHorizontalSpacing(12);
  rest->setVerticalSpacing(3);
  int row = 0;
  QString not_here;
  for (size_t i = offered; i < r->whole.size(); ++i) {
    const WholeWay& w = r->whole[i];
    const QString first = w.why.empty() ? QString() : qs(w.why.front());
    if (!w.works) {
      // A squeeze is a block without a gate: what its beds lack is told there.
      if (w.form != Form::squeeze)
        not_here += QStringLiteral(" <b>%1</b>: %2.").arg(name(w).toHtmlEscaped(), first.toHtmlEscaped());
      continue;
    }
    rest->addWidget(card_words(QStringLiteral("<b>%1</b>").arg(name(w)), "small"), row, 0);
    rest->addWidget(
        card_words(QStringLiteral("%1 h · %2").arg(qs(fixed(w.hands_min / 60, 1)), u.money_text(w.cost, 0)), "small"),
        row, 1);
    rest->addWidget(card_words(first + QStringLiteral("."), "small"), row, 2);
    rest->addWidget(button(w), row, 3);
    ++row;
  }
  if (!not_here.isEmpty()) rest->addWidget(card_words(QStringLiteral("Not here:") + not_here, "small"), row, 0, 1, 4);
  rest->setColumnMinimumWidth(0, 218);
  rest->setColumnStretch(2, 1);
  grid->addLayout(rest, 1, 0, 1, 3);
  grid->addWidget(
      card_words(
          QStringLiteral("One money for all: hands, rubber, waiting, cleaning of the line, and the risk of steep "
                         "lines and of the knife. Prices and minutes are rules of thumb."),
          "small"),
      2, 0, 1, 3);
  if (isVisible()) body_->show(), adjustSize();
}

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
  shown_.clear();
  refresh();
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
  const bool open = picked_ == k;
  auto* head = new QPushButton((open ? QStringLiteral("▾ ") : QStringLiteral("▸ ")) + told);
  head->setProperty("kind", "bare");
  head->setStyleSheet(QStringLiteral("text-align: left; padding-left: 0;") +
                      (open ? QStringLiteral(" font-weight: 600;") : QString()));
  head->setObjectName(QStringLiteral("opening-%1-row").arg(k + 1));
  connect(head, &QPushButton::clicked, this, [this, k, at = o.at_mm()] {
    emit pointed(at);
    pick(k);
  });
  grid->addWidget(head, row, 0, 1, 2);
  auto* said = card_words(now           ? qs(std::string(words_of(now->kind)))
                          : pinned >= 0 ? QStringLiteral("a hard pin forms it")
                                        : QStringLiteral("as it falls"),
                          "small");
  grid->addWidget(said, row++, 2, Qt::AlignRight | Qt::AlignVCenter);
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
    mouth->set_current(now->mouth - 1);
    connect(mouth, &Chips::chosen, this,
            [change](int to) { change(QStringLiteral("mouth"), [&](OpeningChoice& c) { c.mouth = to + 1; }); });
    line->addWidget(mouth);
  }
  if (now->kind == Kind::meet)
    number("at", QStringLiteral("From mouth 1"), now->share * o.length_mm(), 0, o.length_mm(),
           [all_mm = o.length_mm()](OpeningChoice& c, double mm) { c.share = std::clamp(mm / all_mm, 0.0, 1.0); });
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
}

void HolesCard::refresh() {
  const auto bores = desk_.plan().newest(results::bores);
  const auto pins = desk_.plan().fresh(results::pins);
  const auto thin = desk_.plan().newest(results::thin);
  const auto split = desk_.plan().newest(results::split);
  const std::string key = node_mark(desk_.plan(), results::bores) + node_mark(desk_.plan(), results::pins) +
                          node_mark(desk_.plan(), results::thin) + (desk_.units().inch ? "i" : "m") +
                          node_mark(desk_.plan(), results::openings) + std::to_string(desk_.job().split.bores.size()) +
                          hash_of(desk_.job().split.openings).hex() + (split ? axis_name(split->split.pull) : "");
  sheet_->setVisible(pins && !pins->pins.empty());
  plates_->setVisible(std::any_of(desk_.job().split.openings.begin(), desk_.job().split.openings.end(),
                                  [](const OpeningChoice& c) { return c.kind == OpeningChoice::Kind::plate; }));
  if (key == shown_) return;
  shown_ = key;
  retire(body_);
  col_->insertWidget(1, body_ = new QWidget, 1);
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
  if (isVisible()) body_->show(), adjustSize();
}

WitnessCard::WitnessCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Where the line will show"), QStringLiteral("witness"), parent), desk_(desk) {
  setFixedWidth(460);
}
void WitnessCard::refresh() {
  const auto r = desk_.plan().newest(results::witness);
  const auto split = desk_.plan().newest(results::split);
  const std::string key = node_mark(desk_.plan(), results::witness) + (desk_.units().inch ? "i" : "m");
  if (key == shown_) return;
  shown_ = key;
  retire(body_);
  col_->insertWidget(1, body_ = new QWidget, 1);
  auto* grid = new QGridLayout(body_);
  grid->setContentsMargins(0, 0, 0, 0);
  if (!r || !split) return;
  const Units& u = desk_.units();
  double all = 0;
  for (const WitnessPlace& w : r->places) all += w.length_mm;
  grid->addWidget(
      card_words(r->places.empty()
                     ? QStringLiteral("The whole line lies on edges: nothing to see, nothing to clean.")
                     : QStringLiteral("%1 of %2 leave a witness; the rest lies on edges.")
                               .arg(u.length_unit_text(all, 0), u.length_unit_text(split->split.line_mm, 0)) +
                           QStringLiteral(" %1 % of the line crosses show faces.")
                               .arg(qs(fixed(100 * split->split.show_share, 0)))),
      0, 0, 1, 2);
  int row = 1;
  for (const WitnessPlace& w : r->places) {
    if (row > 8) break;
    QString told = QStringLiteral("<b>%1</b> %2, from %3 along loop %4")
                       .arg(u.length_unit_text(w.length_mm, 1), qs(std::string(words_of(w.kind))),
                            u.length_unit_text(w.from_mm, 0))
                       .arg(w.loop + 1);
    if (w.kind == WitnessPlace::Kind::feather || w.kind == WitnessPlace::Kind::steep)
      told += QStringLiteral(", %1°").arg(qs(fixed(w.worst_deg, 0)));
    auto* l = card_words(told);
    l->setTextFormat(Qt::RichText);
    grid->addWidget(l, row, 0);
    auto* show = new QPushButton(QStringLiteral("Show"));
    show->setProperty("kind", "bare");
    show->setObjectName(QStringLiteral("witness-%1").arg(row - 1));
    connect(show, &QPushButton::clicked, this, [this, at = w.at_mm] { emit pointed(at); });
    grid->addWidget(show, row++, 1);
  }
  grid->setColumnStretch(0, 1);
  if (isVisible()) body_->show(), adjustSize();
}

}  // namespace palinform::app
