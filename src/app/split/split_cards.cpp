#include "split/split_cards.hpp"

#include <cmath>
#include <QGridLayout>
#include <QPainter>
#include <QPainterPath>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "job/apply.hpp"
#include "shell/desk.hpp"
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
  body_ = renewed(body_);
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
  fit(body_);
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
  body_ = renewed(body_);
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
  fit(body_);
}

}  // namespace palinform::app
