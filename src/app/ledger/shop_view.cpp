#include "ledger/shop_view.hpp"

#include <algorithm>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "ledger/gauge_sheet.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

EquipmentPicture::EquipmentPicture(QWidget* parent) : QWidget(parent) {
  setFixedHeight(190);
  setAccessibleName(QStringLiteral("What the shop owns, drawn to one scale"));
}
void EquipmentPicture::show_equipment(const Equipment& e) {
  shop_ = e;
  update();
}

void EquipmentPicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  struct Thing {
    QString name, size;
    double bottom, top, high;
    int kind;  // 0 cup, 1 box, 2 vessel
  };
  std::vector<Thing> things;
  for (const OwnCup& c : shop_.cups) {
    // Without measures as the film takes it: a cylinder 1.2 times as high as wide.
    const double across = std::cbrt(c.brim_ml * 1000 * 4 / (3.14159265 * 1.2));
    things.push_back({qs(c.name), qs(grouped(c.brim_ml)) + QStringLiteral(" ml"), c.bottom_mm.value_or(across),
                      c.top_mm.value_or(across), c.high_mm.value_or(1.2 * across), 0});
  }
  for (const OwnBox& b : shop_.boxes)
    things.push_back({qs(b.name), QStringLiteral("%1×%2×%3").arg(b.long_mm).arg(b.wide_mm).arg(b.high_mm), b.long_mm,
                      b.long_mm, b.high_mm, 1});
  const auto vessel = [&](const OwnVessel& v, const char* name, const QString& limit) {
    if (v.there()) things.push_back({QString::fromLatin1(name), limit, v.across_mm, v.across_mm, v.high_mm, 2});
  };
  vessel(shop_.chamber, "Chamber", QStringLiteral("to %1 kPa").arg(shop_.chamber.limit));
  vessel(shop_.pot, "Pot", QStringLiteral("plate %1 kPa").arg(shop_.pot.limit));
  vessel(shop_.oven, "Oven", QStringLiteral("to %1 °C").arg(shop_.oven.limit));
  p.setFont(type_face(13));
  if (things.empty()) {
    p.setPen(pal().quiet);
    p.drawText(
        rect(), Qt::AlignCenter,
        QStringLiteral("Write below what the shop owns: cups, boxes and vessels then stand here to scale,\nand new "
                       "jobs begin with them."));
    return;
  }
  // As large as it goes with room under each thing for its name.
  constexpr double gap = 8, floor_y = 146;
  const double least_room = std::min(98.0, (width() - 1.0) / static_cast<double>(things.size()));
  double high = 1, scale = 0;
  for (const Thing& t : things) high = std::max(high, t.high);
  const auto room_of = [&](const Thing& t) { return std::max(least_room, scale * std::max(t.bottom, t.top) + gap); };
  for (scale = 130.0 / high; scale > 0.01; scale *= 0.97) {
    double all = 0;
    for (const Thing& t : things) all += room_of(t);
    if (all <= width()) break;
  }
  p.fillRect(QRectF(0, floor_y, width(), 3), pal().rule);
  double x = 0;
  for (const Thing& t : things) {
    const double h = scale * t.high, room = room_of(t), mid = x + room / 2;
    QPolygonF shape;
    shape << QPointF(mid - scale * t.top / 2, floor_y - h) << QPointF(mid + scale * t.top / 2, floor_y - h)
          << QPointF(mid + scale * t.bottom / 2, floor_y) << QPointF(mid - scale * t.bottom / 2, floor_y);
    p.setBrush(t.kind == 2 ? pal().slip : pal().panel);
    p.setPen(QPen(pal().ink, t.kind == 2 ? 2.4 : 1.5));
    if (t.kind == 2)
      p.drawRoundedRect(shape.boundingRect(), 8, 8);
    else
      p.drawPolygon(shape);
    p.setPen(pal().ink);
    p.setFont(type_face(12));
    p.drawText(QRectF(mid - room / 2, floor_y + 5, room, 18), Qt::AlignHCenter | Qt::AlignTop, t.name);
    p.setPen(pal().quiet);
    p.drawText(QRectF(mid - room / 2, floor_y + 21, room, 18), Qt::AlignHCenter | Qt::AlignTop, t.size);
    x += room;
  }
}

ShopView::ShopView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  picture_ = new EquipmentPicture(this);
  col->addWidget(picture_);
  picture_->setMinimumHeight(170);
  auto* tools = new QHBoxLayout;
  tools->setSpacing(8);
  overdue_ = remark();
  overdue_->setObjectName(QStringLiteral("gauge-overdue"));
  overdue_->setWordWrap(true);
  tools->addWidget(overdue_, 1);
  auto* study = chip(QStringLiteral("Study a gauge…"), QStringLiteral("gauge-study"));
  connect(study, &QPushButton::clicked, this, [this] {
    auto* sheet = new GaugeSheet(desk_, this);
    sheet->setAttribute(Qt::WA_DeleteOnClose);
    sheet->open();
  });
  tools->addWidget(study);
  col->addLayout(tools);
  // The lines scroll under the picture: a shop may own more than a page holds.
  auto* below = new QWidget;
  auto* lines_col = new QVBoxLayout(below);
  lines_col->setContentsMargins(0, 0, 8, 4);
  lines_col->setSpacing(8);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(14);
  grid->setVerticalSpacing(6);
  int at = 0;
  for (const EquipmentLine& l : equipment_lines(Equipment{})) {
    auto* cell = new QHBoxLayout;
    QLineEdit* e = add_line(cell, qs(l.label), QStringLiteral("shop-") + qs(l.key), 0);
    e->setPlaceholderText(qs(l.hint));
    // Scales, cups and boxes are long: each takes a row of its own.
    const bool wide = l.key == "scales" || l.key == "cups" || l.key == "boxes";
    const int span = wide ? 3 : l.key == "causes" ? 2 : 1;
    if (at % 3 + span > 3) at += 3 - at % 3;
    grid->addLayout(cell, at / 3, at % 3, 1, span);
    at += span;
    lines_[l.key] = e;
    connect(e, &QLineEdit::editingFinished, this, [this, key = l.key, e] {
      if (!e->isModified()) return;
      e->setModified(false);
      const auto next = with_equipment_line(desk_.equipment(), key, e->text().toStdString());
      if (!next) return mark_fault(e, qs(next.error().text()));
      desk_.keep_equipment(*next);
    });
  }
  lines_col->addLayout(grid);
  auto* usual = new QHBoxLayout;
  usual->setSpacing(12);
  rubber_ = new ChoiceField(QStringLiteral("Usual rubber"), QStringLiteral("usual-rubber"), 200);
  resin_ = new ChoiceField(QStringLiteral("Usual casting material"), QStringLiteral("usual-resin"), 200);
  cup_ = new ChoiceField(QStringLiteral("Usual cup"), QStringLiteral("usual-cup"), 156);
  scale_ = new ChoiceField(QStringLiteral("Usual scale"), QStringLiteral("usual-scale"), 156);
  const auto usually = [this](ChoiceField* f, std::string Equipment::*which) {
    connect(f, &ChoiceField::chosen, this, [this, which](const std::string& id) {
      Equipment next = desk_.equipment();
      next.*which = id;
      desk_.keep_equipment(next);
    });
  };
  usually(rubber_, &Equipment::usual_rubber), usually(resin_, &Equipment::usual_resin);
  usually(cup_, &Equipment::usual_cup), usually(scale_, &Equipment::usual_scale);
  for (ChoiceField* f : {rubber_, resin_, cup_, scale_}) usual->addWidget(f);
  usual->addStretch(1);
  lines_col->addLayout(usual);
  lines_col->addStretch(1);
  col->addWidget(scrolled(below), 1);
}

void ShopView::refresh() {
  const Equipment& shop = desk_.equipment();
  picture_->show_equipment(shop);
  QStringList overdue;
  for (const OwnGauge& g : shop.gauges)
    if (const auto months = overdue_months(g, desk_.books().today))
      overdue << (g.checked_on.empty() ? QStringLiteral("%1 was never checked against a standard").arg(qs(g.name))
                                       : QStringLiteral("the check of %1 is %2 overdue")
                                             .arg(qs(g.name), qs(counted(*months, "month", "months"))));
  overdue_->setText(overdue.isEmpty()
                        ? QString()
                        : QStringLiteral("Overdue: ") + overdue.join(QStringLiteral("; ")) + QLatin1Char('.'));
  for (const EquipmentLine& l : equipment_lines(shop)) {
    QLineEdit* e = lines_.at(l.key);
    e->setEnabled(!desk_.read_only());
    if (e->isModified() || e->property("fault").toBool()) continue;  // what is being written stays
    if (e->text() != qs(l.text)) e->setText(qs(l.text)), e->setCursorPosition(0);
  }
  const auto fill = [](ChoiceField* f, std::vector<std::pair<std::string, QString>> items, const std::string& now) {
    items.insert(items.begin(), {"", QStringLiteral("as the last job")});
    f->set_items(items);
    f->show_current(now);
  };
  std::vector<std::pair<std::string, QString>> rubbers, resins, cups, scales;
  for (const Silicone& s : desk_.catalogue().silicones) rubbers.emplace_back(s.id, qs(s.name));
  for (const Resin& r : desk_.catalogue().resins) resins.emplace_back(r.id, qs(r.name));
  for (const OwnCup& c : shop.cups) cups.emplace_back(c.name, qs(c.name));
  for (const OwnScale& s : shop.scales) scales.emplace_back(s.name, qs(s.name));
  fill(rubber_, rubbers, shop.usual_rubber), fill(resin_, resins, shop.usual_resin);
  fill(cup_, cups, shop.usual_cup), fill(scale_, scales, shop.usual_scale);
}

}  // namespace palinform::app
