#include "mix/together_view.hpp"

#include <algorithm>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "stages/weighing.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

SharedPicture::SharedPicture(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(330);
  setAccessibleName(QStringLiteral("The pours of one batch in its pot life"));
}
void SharedPicture::show_batch(std::optional<SharedBatch> batch) {
  batch_ = std::move(batch);
  update();
}

void SharedPicture::paintEvent(QPaintEvent*) {
  const auto mix = desk_.plan().fresh(results::mix);
  if (!batch_ || !mix) return;
  const auto cast = std::find_if(mix->pours.begin(), mix->pours.end(), [](const PourMix& p) { return p.is_resin; });
  if (cast == mix->pours.end()) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double life = std::max(cast->batches.pot_life_min, 0.01), air = cast->degas_min + cast->wait_min,
               used = cast->mix_min + air + batch_->pour_min, whole = std::max(life, used);
  const qreal left = 14, wide = width() - 28, top = 34, high = 40;
  const auto x = [&](double minutes) { return left + wide * minutes / whole; };
  p.setFont(type_face(14, 600));
  p.setPen(pal().ink);
  p.drawText(QRectF(left, 6, wide, 22), Qt::AlignVCenter,
             QStringLiteral("Pot life %1 min, from the moment B touches A").arg(qs(fixed(life, 1))));
  double at = 0;
  const auto piece = [&](double minutes, const QString& words, const QColor& colour, Qt::BrushStyle pattern) {
    if (minutes <= 0) return;
    fill_pattern(p, QRectF(x(at), top, x(at + minutes) - x(at), high), colour, pattern);
    p.setPen(QPen(pal().ground, 2));
    p.drawLine(QPointF(x(at), top), QPointF(x(at), top + high));
    p.setPen(pal().ink);
    p.setFont(type_face(13));
    const qreal w = x(at + minutes) - x(at);
    if (w > 28)
      p.drawText(QRectF(x(at) + 3, top + high + 4, w - 4, 18), Qt::AlignVCenter,
                 p.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(w - 4)));
    at += minutes;
  };
  piece(cast->mix_min, QStringLiteral("stir"), pal().note, Qt::NoBrush);
  piece(air, cast->degas_min > 0 ? QStringLiteral("vacuum") : QStringLiteral("rest"), pal().caution, Qt::Dense6Pattern);
  std::vector<double> poured_by;
  for (const CavityShare& c : batch_->in) {
    piece(batch_->pour_min * c.pour_g / batch_->poured_g, QString::number(poured_by.size() + 1), pal().act,
          Qt::BDiagPattern);
    poured_by.push_back(at);
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().quiet, 1.4, Qt::DashLine));
  if (life > at) p.drawRect(QRectF(x(at), top, x(life) - x(at), high));
  const Units& u = desk_.units();
  qreal y = top + high + 32;
  for (size_t k = 0; k < batch_->in.size() && k < 6; ++k, y += 22) {
    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(left, y, 24, 20), Qt::AlignVCenter, QString::number(k + 1));
    p.setFont(type_face(14));
    p.drawText(QRectF(left + 24, y, wide - 24, 20), Qt::AlignVCenter,
               QStringLiteral("%1 · %2 · poured by minute %3")
                   .arg(qs(batch_->in[k].job_name), u.mass_text(batch_->in[k].pour_g, 1), qs(fixed(poured_by[k], 1))));
  }
  p.setPen(pal().ink);
  p.setFont(type_face(14));
  p.drawText(QRectF(left, y + 6, wide, 44), Qt::TextWordWrap,
             QStringLiteral("%1 out of one cup: %2 reach the moulds, %3 of %4 ml in the cup with the foam, %5 min of "
                            "the pot life to spare.")
                 .arg(qs(counted(static_cast<long long>(batch_->in.size()), "casting", "castings")),
                      u.mass_text(batch_->poured_g, 0), qs(grouped(batch_->cup_ml_needed)),
                      qs(grouped(desk_.job().mix.cup_ml)), qs(fixed(batch_->left_min, 1))));
  if (batch_->out.empty()) return;
  QString out;
  for (const CavityShare& c : batch_->out)
    out += (out.isEmpty() ? QString() : QStringLiteral(", ")) + qs(c.job_name) + QLatin1Char(' ') +
           u.mass_text(c.pour_g, 0);
  p.setPen(pal().caution.darker(pal().dark ? 90 : 135));
  p.drawText(QRectF(left, y + 54, wide, 40), Qt::TextWordWrap,
             QStringLiteral("Not in this one: %1. It would gel, or overfill the cup.").arg(out));
}

TogetherView::TogetherView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(10);
  auto* row = new QHBoxLayout;
  row->setSpacing(12);
  told_ = remark();
  told_->setObjectName(QStringLiteral("together-told"));
  told_->setWordWrap(true);
  row->addWidget(told_, 1);
  look_ = chip(QStringLiteral("Look at the other jobs"), QStringLiteral("together-look"));
  row->addWidget(look_, 0, Qt::AlignTop);
  col->addLayout(row);
  rows_ = new QWidget;
  rows_->setLayout(new QVBoxLayout);
  rows_->layout()->setContentsMargins(0, 0, 0, 0);
  col->addWidget(rows_);
  picture_ = new SharedPicture(desk_, this);
  col->addWidget(picture_);
  begin_ = chip(QStringLiteral("Weigh it at the bench"), QStringLiteral("together-begin"));
  auto* foot = new QHBoxLayout;
  foot->addWidget(begin_);
  foot->addStretch(1);
  col->addLayout(foot);
  col->addStretch(1);
  connect(look_, &QPushButton::clicked, this, [this] {
    left_out_.clear();
    desk_.look_for_others();
  });
  connect(begin_, &QPushButton::clicked, this, [this] {
    const auto batch = desk_.shared_batch(left_out_);
    if (!batch || !*batch) return;
    BenchBeginning b;
    b.at = BeginAt::shared;
    b.shares = (*batch)->in;
    if (desk_.begin_bench(b))
      emit desk_.message(QStringLiteral("The batch stands at the bench, weighing first."), false);
  });
}

void TogetherView::refresh() {
  const auto& others = desk_.others_to_cast();
  const auto batch = desk_.shared_batch(left_out_);
  QString told;
  if (!others)
    told = QStringLiteral(
               "Other open jobs that cast in %1, coloured alike and with a mould that stands, can be poured "
               "out of the same cup.")
               .arg(desk_.resin() ? qs(desk_.resin()->name) : QStringLiteral("the same material"));
  else if (others->empty())
    told = QStringLiteral("No other open job casts in the same material, coloured alike, and has a mould that stands.");
  else if (batch && !*batch)
    told = qs(batch->error().text());
  else
    told = QStringLiteral("Press a job to leave it out of the batch, or to take it in again.");
  told_->setText(told);
  look_->setEnabled(!desk_.errand().running && desk_.plan().fresh(results::mix) != nullptr);
  begin_->setVisible(batch && *batch && (*batch)->in.size() > 1);
  begin_->setEnabled(!desk_.read_only());
  picture_->setVisible(batch && *batch);
  picture_->show_batch(batch && *batch ? std::optional(**batch) : std::nullopt);
  // The rows only change when others were found.
  std::string key;
  if (others)
    for (const CavityShare& c : *others) key += c.job_id + shortest(c.pour_g, 4);
  if (key == shown_) return;
  shown_ = key;
  while (QLayoutItem* item = rows_->layout()->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  if (!others) return;
  for (const CavityShare& c : *others) {
    QPushButton* b = chip(QStringLiteral("%1 · %2").arg(qs(c.job_name), desk_.units().mass_text(c.pour_g, 1)),
                          QStringLiteral("together-%1").arg(qs(c.job_id)), true);
    b->setChecked(true);
    connect(b, &QPushButton::toggled, this, [this, id = c.job_id](bool in) {
      std::erase(left_out_, id);
      if (!in) left_out_.push_back(id);
      refresh();
    });
    rows_->layout()->addWidget(b);
    rows_->layout()->setAlignment(b, Qt::AlignLeft);
  }
}

}  // namespace palinform::app
