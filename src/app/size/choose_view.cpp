#include "size/choose_view.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

/// One candidate: reasons for on the left half, against on the right, the worst size at the end.
class CandidateRow : public QWidget {
 public:
  CandidateRow(const MaterialChoice& c, bool chosen, const QString& facts, QWidget* parent)
      : QWidget(parent), c_(c), chosen_(chosen), facts_(facts) {
    const size_t lines = std::max<size_t>({1, c.candidate.good.size(), c.candidate.bad.size()});
    setMinimumHeight(48 + static_cast<int>(lines) * 19);
    QStringList words{qs(c.candidate.name)};
    for (const std::string& g : c.candidate.good) words << QStringLiteral("for: ") + qs(g);
    for (const std::string& b : c.candidate.bad) words << QStringLiteral("against: ") + qs(b);
    setAccessibleName(words.join(QStringLiteral("; ")));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF r = QRectF(rect()).adjusted(1, 3, -1, -3);
    p.setBrush(pal().panel);
    p.setPen(QPen(chosen_ ? pal().act : pal().rule, chosen_ ? 2 : 1));
    p.drawRoundedRect(r, 8, 8);
    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(14, 9, width() - 330, 20), Qt::AlignVCenter,
               qs(c_.candidate.name) + (chosen_ ? QStringLiteral("  · in use") : QString()));
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    const int name =
        text_width(type_face(14, 600), qs(c_.candidate.name) + (chosen_ ? QStringLiteral("  · in use") : QString()));
    p.drawText(QRectF(14 + name + 16, 9, width() - name - 120, 20), Qt::AlignVCenter, facts_);
    const qreal half = (width() - 130) / 2.0;
    const auto column = [&](const std::vector<std::string>& list, qreal x, bool good) {
      qreal y = 33;
      p.setFont(type_face(13));
      for (const std::string& s : list) {
        // A tick or a bar stands before each reason: not by colour alone.
        p.setPen(QPen(good ? pal().act : pal().stop, 2));
        if (good)
          p.drawPolyline(QPolygonF({{x, y + 9}, {x + 3.5, y + 13}, {x + 10, y + 4}}));
        else
          p.drawLine(QPointF(x + 1, y + 9), QPointF(x + 10, y + 9));
        p.setPen(pal().ink);
        p.drawText(QRectF(x + 17, y, half - 26, 18), Qt::AlignVCenter,
                   QFontMetrics(p.font()).elidedText(qs(s), Qt::ElideRight, static_cast<int>(half - 26)));
        y += 19;
      }
    };
    column(c_.candidate.good, 14, true);
    column(c_.candidate.bad, 14 + half, false);
    if (c_.worst_p) {
      const QColor c = *c_.worst_p >= 0.95 ? pal().act : *c_.worst_p >= 0.5 ? pal().caution : pal().stop;
      // A little gauge: the share that lands inside.
      const QRectF bar(width() - 116, 36, 100, 7);
      p.setPen(Qt::NoPen);
      p.setBrush(pal().slip);
      p.drawRoundedRect(bar, 3, 3);
      p.setBrush(c);
      p.drawRoundedRect(QRectF(bar.x(), bar.y(), std::max(2.0, bar.width() * *c_.worst_p), bar.height()), 3, 3);
      p.setPen(pal().ink);
      p.setFont(type_face(13, 600));
      p.drawText(QRectF(width() - 216, 9, 200, 20), Qt::AlignVCenter | Qt::AlignRight,
                 QStringLiteral("%1 %").arg(qs(fixed(100 * *c_.worst_p, 0))));
      p.setFont(type_face(12));
      p.setPen(pal().quiet);
      p.drawText(QRectF(width() - 126, 45, 110, 16), Qt::AlignVCenter | Qt::AlignRight,
                 QFontMetrics(p.font()).elidedText(qs(c_.worst_size), Qt::ElideRight, 110));
    }
  }

 private:
  MaterialChoice c_;
  bool chosen_;
  QString facts_;
};

}  // namespace

ChooseView::ChooseView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  which_ = new Chips;
  which_->add(QStringLiteral("Casting resins"), QStringLiteral("choose-resins"));
  which_->add(QStringLiteral("Silicones"), QStringLiteral("choose-silicones"));
  which_->set_current(0);
  auto* head = new QHBoxLayout;
  head->addWidget(which_);
  head->addStretch(1);
  col->addLayout(head);
  needs_ = new QWidget;
  auto* row = new QHBoxLayout(needs_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  low_ = new FigureField(QStringLiteral("Hardness from"), QStringLiteral("need-low"), 86);
  high_ = new FigureField(QStringLiteral("to"), QStringLiteral("need-high"), 56);
  scale_ = new ChoiceField(QStringLiteral("Shore"), QStringLiteral("need-scale"), 58);
  scale_->set_items({{"D", QStringLiteral("D")}, {"A", QStringLiteral("A")}});
  flex_ = new ChoiceField(QStringLiteral("It is"), QStringLiteral("need-flex"), 92);
  flex_->set_items({{"", QStringLiteral("any")},
                    {"rigid", QStringLiteral("rigid")},
                    {"tough", QStringLiteral("tough")},
                    {"flexible", QStringLiteral("flexible")}});
  clarity_ = new ChoiceField(QStringLiteral("Clarity"), QStringLiteral("need-clarity"), 84);
  clarity_->set_items(
      {{"", QStringLiteral("any")}, {"clear", QStringLiteral("clear")}, {"opaque", QStringLiteral("opaque")}});
  heat_ = new FigureField(QStringLiteral("Stands"), QStringLiteral("need-heat"), 66);
  section_ = new FigureField(QStringLiteral("Thickest"), QStringLiteral("need-section"), 84);
  work_ = new FigureField(QStringLiteral("Work"), QStringLiteral("need-work"), 66);
  for (FigureField* f : {low_, high_, heat_, section_, work_}) {
    f->set_range(0, 1000);
    f->allow_empty(QStringLiteral("any"));
  }
  for (QWidget* w : std::initializer_list<QWidget*>{low_, high_, scale_, flex_, clarity_, heat_, section_, work_})
    row->addWidget(w);
  colour_ = add_line(row, QStringLiteral("Colour"), QStringLiteral("need-colour"), 74);
  colour_->setPlaceholderText(QStringLiteral("any"));
  connect(colour_, &QLineEdit::editingFinished, this, [this] {
    if (const std::string now = colour_->text().trimmed().toStdString(); now != desk_.job().mix.needs.colour)
      edit([&](ResinNeeds& n) { n.colour = now; }, QStringLiteral("colour asked for"));
  });
  row->addStretch(1);
  col->addWidget(needs_);
  auto* scroll = new QScrollArea;
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inner = new QWidget;
  list_ = new QVBoxLayout(inner);
  list_->setContentsMargins(0, 0, 6, 0);
  list_->setSpacing(4);
  scroll->setWidget(inner);
  col->addWidget(scroll, 1);
  connect(which_, &Chips::chosen, this, [this] { refresh(); });
  const auto figure = [this](FigureField* f, std::optional<double> ResinNeeds::*member, const QString& what,
                             auto&& to_core) {
    connect(f, &FigureField::entered, this,
            [this, member, what, to_core](double v) { edit([&](ResinNeeds& n) { n.*member = to_core(v); }, what); });
    connect(f, &FigureField::emptied, this,
            [this, member, what] { edit([&](ResinNeeds& n) { (n.*member).reset(); }, what); });
  };
  const auto same = [](double v) { return v; };
  figure(low_, &ResinNeeds::shore_low, QStringLiteral("hardness asked for"), same);
  figure(high_, &ResinNeeds::shore_high, QStringLiteral("hardness asked for"), same);
  figure(work_, &ResinNeeds::work_min, QStringLiteral("work time asked for"), same);
  figure(heat_, &ResinNeeds::heat_c, QStringLiteral("heat asked for"),
         [this](double v) { return desk_.units().celsius(v); });
  figure(section_, &ResinNeeds::section_mm, QStringLiteral("thickest section"),
         [this](double v) { return desk_.units().mm(v); });
  connect(scale_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit([&](ResinNeeds& n) { n.shore_is_d = id == "D"; }, QStringLiteral("hardness asked for"));
  });
  connect(flex_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit([&](ResinNeeds& n) { n.flexibility = id; }, QStringLiteral("flexibility asked for"));
  });
  connect(clarity_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit([&](ResinNeeds& n) { n.clarity = id; }, QStringLiteral("clarity asked for"));
  });
}

void ChooseView::edit(const std::function<void(ResinNeeds&)>& change, const QString& what) {
  Job next = desk_.job();
  change(next.mix.needs);
  desk_.edit(next, what);
}

void ChooseView::refresh() {
  const ResinNeeds& n = desk_.job().mix.needs;
  const Units& u = desk_.units();
  low_->show_value(n.shore_low, 0, {});
  high_->show_value(n.shore_high, 0, {});
  scale_->show_current(n.shore_is_d ? "D" : "A");
  flex_->show_current(n.flexibility);
  clarity_->show_current(n.clarity);
  heat_->show_value(n.heat_c ? std::optional(u.temperature(*n.heat_c)) : std::nullopt, 0, u.temperature_name());
  section_->show_value(n.section_mm ? std::optional(u.length(*n.section_mm)) : std::nullopt, u.inch ? 2 : 0,
                       u.length_name());
  work_->show_value(n.work_min, 0, QStringLiteral("min"));
  if (!colour_->hasFocus()) colour_->setText(qs(n.colour));
  needs_->setVisible(which_->current() == 0);
  fill();
}

void ChooseView::fill() {
  const auto r = desk_.plan().fresh(results::choose);
  const Hash128 key =
      hash_of(desk_.plan().state(results::choose).key, desk_.job().mix.resin_id, desk_.job().mix.silicone_id);
  if (!r || (key == shown_ && shown_which_ == which_->current())) return;
  shown_ = key;
  shown_which_ = which_->current();
  while (QLayoutItem* item = list_->takeAt(0)) {
    if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
    delete item;
  }
  const bool resins = which_->current() == 0;
  for (const MaterialChoice& c : resins ? r->resins : r->silicones) {
    const std::string id = c.candidate.id;
    const bool chosen = id == (resins ? desk_.job().mix.resin_id : desk_.job().mix.silicone_id);
    QString facts;
    if (const Resin* m = resins ? desk_.catalogue().resin(id) : nullptr)
      facts = QStringLiteral("%1 · %2 min · %3 per kg")
                  .arg(m->shore_d ? qs(fixed(*m->shore_d, 0)) + QStringLiteral(" D")
                                  : qs(fixed(m->shore_a.value_or(0), 0)) + QStringLiteral(" A"),
                       qs(fixed(m->pot_life_min, 0)), qs(fixed(m->price_per_kg, 0)));
    if (const Silicone* m = resins ? nullptr : desk_.catalogue().silicone(id))
      facts = QStringLiteral("%1 A · %2 min · %3 per kg")
                  .arg(qs(fixed(m->shore_a, 0)), qs(fixed(m->pot_life_min, 0)), qs(fixed(m->price_per_kg, 0)));
    auto* holder = new QWidget;
    auto* line = new QHBoxLayout(holder);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    line->addWidget(new CandidateRow(c, chosen, facts, holder), 1);
    auto* take = new QPushButton(QStringLiteral("Use"));
    take->setObjectName(QStringLiteral("use-") + qs(id));
    take->setAccessibleName(QStringLiteral("Use ") + qs(c.candidate.name));
    take->setEnabled(!chosen && !desk_.read_only());
    line->addWidget(take);
    connect(take, &QPushButton::clicked, this, [this, id, resins] {
      Job next = desk_.job();
      (resins ? next.mix.resin_id : next.mix.silicone_id) = id;
      next.size.learned = desk_.learned_for(next.mix.silicone_id, next.mix.resin_id);
      desk_.edit(next, resins ? QStringLiteral("resin chosen") : QStringLiteral("silicone chosen"));
    });
    list_->addWidget(holder);
  }
  list_->addStretch(1);
}

}  // namespace palinform::app
