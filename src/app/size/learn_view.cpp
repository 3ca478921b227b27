#include "size/learn_view.hpp"

#include <cmath>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

LearnPicture::LearnPicture(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(300);
  setAccessibleName(QStringLiteral("Total shrinkage: prior, data, posterior"));
}
void LearnPicture::show_result(std::shared_ptr<const LearnResult> r) {
  r_ = std::move(r);
  update();
}

void LearnPicture::paintEvent(QPaintEvent*) {
  if (!r_) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Estimate &prior = r_->prior_pct, &data = r_->learned.total_shrink_pct, &post = r_->learned.posterior_pct;
  const double low = std::min({prior.value - 3.2 * prior.u, data.value - 3.2 * data.u, post.value - 3.2 * post.u}),
               high = std::max({prior.value + 3.2 * prior.u, data.value + 3.2 * data.u, post.value + 3.2 * post.u});
  const QRectF plot(14, 34, width() - 28, height() * 0.40);
  const auto x = [&](double pct) { return plot.left() + plot.width() * (pct - low) / (high - low); };
  const double tallest = 1 / std::min({prior.u, data.u, post.u});
  struct Bell {
    Estimate e;
    QColor c;
    Qt::BrushStyle pattern;
    Qt::PenStyle line;
    QString words;
  };
  const Bell bells[] = {{prior, pal().note, Qt::BDiagPattern, Qt::DashLine, QStringLiteral("prior")},
                        {data, pal().caution, Qt::Dense6Pattern, Qt::DotLine, QStringLiteral("these castings")},
                        {post, pal().act, Qt::SolidPattern, Qt::SolidLine, QStringLiteral("posterior")}};
  p.setPen(QPen(pal().rule, 1));
  p.drawLine(plot.bottomLeft(), plot.bottomRight());
  double step = std::pow(10.0, std::floor(std::log10((high - low) / 4)));
  while ((high - low) / step > 9) step *= 2;
  p.setFont(type_face(12));
  for (double v = std::ceil(low / step) * step; v <= high; v += step) {
    p.setPen(QPen(pal().rule, 1));
    p.drawLine(QPointF(x(v), plot.bottom()), QPointF(x(v), plot.bottom() + 5));
    p.setPen(pal().quiet);
    p.drawText(QRectF(x(v) - 40, plot.bottom() + 5, 80, 16), Qt::AlignCenter,
               qs(fixed(v, step < 0.095 ? 2 : 1)) + QStringLiteral(" %"));
  }
  for (const Bell& b : bells) {
    QPainterPath path;
    path.moveTo(x(b.e.value - 4 * b.e.u), plot.bottom());
    for (int k = -40; k <= 40; ++k) {
      const double z = k / 10.0;
      path.lineTo(x(b.e.value + z * b.e.u),
                  plot.bottom() - plot.height() * std::sqrt(1 / b.e.u / tallest) * std::exp(-0.5 * z * z));
    }
    path.closeSubpath();
    QColor fill = b.c;
    fill.setAlphaF(b.pattern == Qt::SolidPattern ? 0.22f : 0.4f);
    p.setClipRect(QRectF(plot.left() - 10, 0, plot.width() + 20, plot.bottom() + 1));
    p.setPen(QPen(b.c, 2, b.line));
    p.setBrush(QBrush(fill, b.pattern));
    p.drawPath(path);
    p.setClipping(false);
  }
  // Names over the peaks, each on a line of its own so that near ones do not meet.
  for (int i = 0; i < 3; ++i) {
    const Bell& b = bells[i];
    const QString words = QStringLiteral("%1 %2 ±%3 %").arg(b.words, qs(fixed(b.e.value, 2)), qs(fixed(2 * b.e.u, 2)));
    const double w = text_width(type_face(13, 600), words) + 30;
    const double at = 14 + i * (plot.width() - w) / 2;
    p.setPen(QPen(b.c, 2.4, b.line));
    p.drawLine(QPointF(at, 14), QPointF(at + 22, 14));
    p.setPen(pal().ink);
    p.setFont(type_face(13, 600));
    p.drawText(QRectF(at + 28, 4, w, 20), Qt::AlignVCenter, words);
  }
  // Below: each size's own shrinkage with its uncertainty, so that an odd one is seen.
  const double top = plot.bottom() + 34, bottom = height() - 10;
  const auto& rows = r_->rows;
  std::vector<const LearnResidual*> told;
  for (const LearnResidual& q : r_->learned.residuals) told.push_back(&q);
  if (told.empty()) return;
  const double pitch = std::min(20.0, (bottom - top) / static_cast<double>(told.size()));
  p.setFont(type_face(12));
  const double flash = r_->learned.flash_mm ? r_->learned.flash_mm->value : 0;
  for (size_t i = 0; i < told.size(); ++i) {
    const LearnRow& row = rows[told[i]->row];
    const double measured = row.measured_mm - row.stock_mm - (row.formed == FormedBy::across_line ? flash : 0);
    const double own = 100 * (1 - measured / row.master_mm), u = 100 * row.u_mm / row.master_mm;
    const double y = top + (static_cast<double>(i) + 0.5) * pitch;
    const bool odd = std::abs(told[i]->normalised) > 2;
    p.setPen(QPen(odd ? pal().stop : pal().quiet, 1.4));
    p.drawLine(QPointF(std::clamp(x(own - u), plot.left(), plot.right()), y),
               QPointF(std::clamp(x(own + u), plot.left(), plot.right()), y));
    if (x(own) >= plot.left() && x(own) <= plot.right()) {
      p.setBrush(odd ? pal().stop : pal().ink);
      p.setPen(Qt::NoPen);
      p.drawEllipse(QPointF(x(own), y), 3, 3);
    }
    if (pitch >= 11.5) {
      p.setPen(odd ? pal().stop : pal().quiet);
      const QString words = QStringLiteral("%1, casting %2").arg(qs(row.name)).arg(row.casting);
      const bool left = x(own) > plot.center().x();
      p.drawText(left ? QRectF(plot.left(), y - 8, 240, 16) : QRectF(plot.right() - 240, y - 8, 240, 16),
                 (left ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, words);
    }
  }
}

LearnView::LearnView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  told_ = new QLabel;
  told_->setWordWrap(true);
  told_->setObjectName(QStringLiteral("learn-told"));
  col->addWidget(told_);
  picture_ = new LearnPicture;
  col->addWidget(picture_, 1);
  auto* row = new QHBoxLayout;
  row->setSpacing(10);
  reason_ = add_line(row, QStringLiteral("Why adopt it (kept with the date)"), QStringLiteral("learn-reason"), 0);
  adopt_ = new QPushButton(QStringLiteral("Adopt the posterior"));
  adopt_->setProperty("kind", "main");
  adopt_->setObjectName(QStringLiteral("learn-adopt"));
  row->addWidget(adopt_, 0, Qt::AlignBottom);
  col->addLayout(row);
  auto* second = new QHBoxLayout;
  used_ = remark();
  used_->setObjectName(QStringLiteral("learn-used"));
  second->addWidget(used_, 1);
  forget_ = new QPushButton(QStringLiteral("Back to the catalogue"));
  forget_->setProperty("kind", "bare");
  forget_->setObjectName(QStringLiteral("learn-forget"));
  second->addWidget(forget_);
  col->addLayout(second);
  connect(adopt_, &QPushButton::clicked, this, [this] {
    const QString why = reason_->text().trimmed();
    if (why.size() < 4)
      return mark_fault(reason_, QStringLiteral("Say why in a few words: it is kept with the figure."));
    desk_.adopt_learned(why);
    reason_->clear();
  });
  connect(forget_, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    next.size.learned.reset();
    desk_.edit(next, QStringLiteral("shrinkage of the catalogue"));
  });
}

void LearnView::refresh() {
  const auto r = desk_.plan().fresh(results::learn);
  const SlotState slot = desk_.plan().state(results::learn);
  picture_->show_result(r);
  adopt_->setEnabled(r && !desk_.read_only());
  reason_->setEnabled(r != nullptr);
  if (r) {
    QString words =
        QStringLiteral(
            "Total shrinkage of this pair, rubber and heat and resin together. %1 of %2 against the master; the "
            "catalogue says %3 %.")
            .arg(qs(counted(static_cast<long long>(r->learned.used), "reading of a size", "readings of sizes")),
                 qs(counted(r->castings, "casting", "castings")), qs(fixed(r->catalogue_pct, 2)));
    if (r->learned.flash_mm)
      words += QStringLiteral(" Flash across the line: %1 ±%2 mm.")
                   .arg(qs(fixed(r->learned.flash_mm->value, 3)), qs(fixed(2 * r->learned.flash_mm->u, 3)));
    if (r->learned.scatter_ratio > 2)
      words += QStringLiteral(
                   " The readings scatter %1 times wider than their uncertainty: look at the odd ones (red) before "
                   "adopting.")
                   .arg(qs(fixed(r->learned.scatter_ratio, 1)));
    told_->setText(words);
  } else {
    told_->setText(slot.state == Freshness::failed
                       ? qs(slot.error.text())
                       : QStringLiteral("Measure a casting in Check: its sizes against the master's tell how much this "
                                        "pair of materials really shrinks."));
  }
  const Job& job = desk_.job();
  const bool used = job.size.learned && job.size.learned->silicone_id == job.mix.silicone_id &&
                    job.size.learned->resin_id == job.mix.resin_id;
  used_->setText(used ? QStringLiteral("In use: %1 % %2 than the catalogue, ±%3 %, from %4.")
                            .arg(qs(fixed(std::abs(job.size.learned->delta_pct), 2)),
                                 job.size.learned->delta_pct < 0 ? QStringLiteral("less") : QStringLiteral("more"),
                                 qs(fixed(2 * job.size.learned->u_pct, 2)), qs(job.size.learned->from))
                      : QStringLiteral("In use: the catalogue's shrinkage."));
  forget_->setVisible(used);
}

}  // namespace palinform::app
