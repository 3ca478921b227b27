#include "ledger/gauge_sheet.hpp"

#include <QDate>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "shell/stage_page.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

GaugeSheet::GaugeSheet(Desk& desk, QWidget* parent) : QDialog(parent), desk_(desk) {
  setObjectName(QStringLiteral("gauge-sheet"));
  setWindowTitle(QStringLiteral("Study of a gauge"));
  auto* col = new QVBoxLayout(this);
  col->setSpacing(8);
  auto* words =
      remark(QStringLiteral("Three people measure the same five parts twice each, in any order, without seeing "
                            "each other's figures. What comes out is kept with the gauge and stands in for "
                            "the sheet's figure in every size measured with it from then on."));
  words->setWordWrap(true);
  col->addWidget(words);
  auto* row = new QHBoxLayout;
  name_ = add_line(row, QStringLiteral("Gauge"), QStringLiteral("gauge-name"), 220);
  const auto& gauges = desk_.equipment().gauges;
  name_->setText(gauges.empty() ? QStringLiteral("Caliper") : qs(gauges.front().name));
  row->addStretch(1);
  col->addLayout(row);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(4);
  for (size_t j = 0; j < parts; ++j) {
    auto* head = new QLabel(QStringLiteral("Part %1").arg(j + 1));
    head->setFont(type_face(13, 600));
    grid->addWidget(head, 0, static_cast<int>(1 + j));
  }
  for (size_t i = 0; i < people; ++i)
    for (size_t r = 0; r < repeats; ++r) {
      const int at = static_cast<int>(1 + i * repeats + r);
      grid->addWidget(new QLabel(r == 0 ? QStringLiteral("Person %1, first").arg(i + 1) : QStringLiteral("again")), at,
                      0);
      for (size_t j = 0; j < parts; ++j) {
        auto* e = new QLineEdit;
        e->setObjectName(QStringLiteral("gauge-%1-%2-%3").arg(i).arg(j).arg(r));
        e->setFixedWidth(92);
        e->setAccessibleName(QStringLiteral("Person %1, part %2, reading %3").arg(i + 1).arg(j + 1).arg(r + 1));
        connect(e, &QLineEdit::textEdited, this, &GaugeSheet::tell);
        cells_[(i * parts + j) * repeats + r] = e;
        grid->addWidget(e, at, static_cast<int>(1 + j));
      }
    }
  col->addLayout(grid);
  told_ = new QLabel;
  told_->setObjectName(QStringLiteral("gauge-told"));
  told_->setTextFormat(Qt::RichText);
  told_->setWordWrap(true);
  told_->setMinimumHeight(64);
  col->addWidget(told_);
  auto* end = new QHBoxLayout;
  end->addStretch(1);
  keep_ = chip(QStringLiteral("Keep it with the gauge"), QStringLiteral("gauge-keep"));
  auto* close = chip(QStringLiteral("Close"), QStringLiteral("gauge-close"));
  connect(keep_, &QPushButton::clicked, this, &GaugeSheet::keep);
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  end->addWidget(keep_);
  end->addWidget(close);
  col->addLayout(end);
  // Read across: each person's parts one after the other.
  for (size_t i = 0; i < people; ++i)
    for (size_t r = 0; r < repeats; ++r)
      for (size_t j = 0; j + 1 < parts; ++j)
        setTabOrder(cells_[(i * parts + j) * repeats + r], cells_[(i * parts + j + 1) * repeats + r]);
  tell();
}

std::optional<GaugeStudy> GaugeSheet::study() const {
  GaugeReadings x(people, std::vector<std::vector<double>>(parts, std::vector<double>(repeats)));
  for (size_t i = 0; i < people; ++i)
    for (size_t j = 0; j < parts; ++j)
      for (size_t r = 0; r < repeats; ++r) {
        const auto v = parse_number(cells_[(i * parts + j) * repeats + r]->text().toStdString());
        if (!v) return std::nullopt;
        x[i][j][r] = desk_.units().mm(*v);
      }
  const auto s = gauge_study(x);
  return s ? std::optional(*s) : std::nullopt;
}

void GaugeSheet::tell() {
  const auto s = study();
  keep_->setEnabled(s.has_value() && !desk_.read_only());
  size_t typed = 0;
  for (QLineEdit* e : cells_) typed += parse_number(e->text().toStdString()).has_value();
  if (!s) {
    told_->setText(
        QStringLiteral("%1 of %2 readings, in %3.").arg(typed).arg(cells_.size()).arg(desk_.units().length_name()));
    return;
  }
  const Units& u = desk_.units();
  const int d = u.inch ? 5 : 4;
  told_->setText(
      QStringLiteral(
          "One reading, whoever takes it: <b>u = %1</b>. One person again: %2; between people: %3%4. The parts "
          "themselves differ by %5. The gauge makes up %6 % of the spread seen%7.")
          .arg(u.length_unit_text(s->u_mm, d), u.length_unit_text(s->repeatability_mm, d),
               u.length_unit_text(s->reproducibility_mm, d),
               s->interaction ? QStringLiteral(" (people differ from part to part)") : QString(),
               u.length_unit_text(s->part_to_part_mm, d), qs(fixed(s->share_pct, 0)),
               s->share_pct > 30 ? QStringLiteral(": too much to tell these parts apart") : QString()));
}

void GaugeSheet::keep() {
  const auto s = study();
  const QString name = name_->text().trimmed();
  if (!s) return;
  if (name.isEmpty()) return mark_fault(name_, QStringLiteral("A gauge has a name."));
  Equipment shop = desk_.equipment();
  auto at = std::find_if(shop.gauges.begin(), shop.gauges.end(),
                         [&](const OwnGauge& g) { return g.name == name.toStdString(); });
  if (at == shop.gauges.end()) {
    shop.gauges.push_back({});
    at = std::prev(shop.gauges.end());
    at->name = name.toStdString();
  }
  at->u_mm = std::max(1e-6, s->u_mm);
  at->studied_on = QDate::currentDate().toString(Qt::ISODate).toStdString();
  if (desk_.keep_equipment(shop)) accept();
}

}  // namespace palinform::app
