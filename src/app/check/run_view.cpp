#include "check/run_view.hpp"

#include <cmath>
#include <QPainter>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "stages/judging.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

QString words(SignalKind k) {
  switch (k) {
    case SignalKind::beyond_three:
      return QStringLiteral("one beyond three sigmas");
    case SignalKind::two_of_three:
      return QStringLiteral("two of three beyond two sigmas");
    case SignalKind::four_of_five:
      return QStringLiteral("four of five beyond one sigma");
    case SignalKind::eight_on_one_side:
      return QStringLiteral("eight on one side");
  }
  return {};
}

}  // namespace

RunView::RunView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  sizes_ = new Chips(this, true);
  told_ = new QLabel(this);
  told_->setTextFormat(Qt::RichText);
  told_->setWordWrap(true);
  told_->setObjectName(QStringLiteral("run-told"));
  connect(sizes_, &Chips::chosen, this, [this](int i) {
    size_ = i;
    refresh();
  });
}

void RunView::resizeEvent(QResizeEvent*) {
  sizes_->setGeometry(0, 0, width(), 36);
  told_->setGeometry(0, 40, width(), 44);
}

void RunView::refresh() {
  const Job& job = desk_.job();
  const auto& sizes = job.original.sizes;
  if (sizes_->count() != static_cast<int>(sizes.size())) {
    sizes_->clear();
    for (size_t i = 0; i < sizes.size(); ++i) sizes_->add({}, QStringLiteral("run-%1").arg(qs(sizes[i].id)));
  }
  for (size_t i = 0; i < sizes.size(); ++i) sizes_->at(static_cast<int>(i))->setText(qs(sizes[i].name));
  if (size_ >= static_cast<int>(sizes.size())) size_ = 0;
  sizes_->set_current(sizes.empty() ? -1 : size_);
  points_.clear();
  moulds_.clear();
  chart_.reset();
  QString told;
  if (!sizes.empty()) {
    const MeasuredSize& s = sizes[static_cast<size_t>(size_)];
    const std::vector<int> of = mould_numbers(job.check.castings);
    for (size_t i = 0; i < of.size(); ++i) {
      const Casting& c = job.check.castings[i];
      if (moulds_.empty() || moulds_.back().mould != of[i]) moulds_.push_back({of[i], {}});
      if (const auto mean = mean_reading(c, s.id)) moulds_.back().points.push_back({c.number, *mean});
    }
    if (!moulds_.empty()) points_ = moulds_.back().points;
    if (!points_.empty()) chart_ = run_chart(points_, s.lower_mm, s.upper_mm);
    const Units& u = desk_.units();
    const int digits = u.inch ? 5 : 4;
    if (chart_ && points_.size() >= 2) {
      if (moulds_.size() > 1) told = QStringLiteral("Mould %1, the newest: ").arg(moulds_.back().mould);
      told += QStringLiteral("<b>Mean</b> %1, <b>σ</b> %2 from the moving range of %3 castings. ")
                  .arg(u.length_unit_text(chart_->mean_mm, digits - 1), u.length_unit_text(chart_->sigma_mm, digits))
                  .arg(points_.size());
      if (chart_->drift)
        told += chart_->drift->sure ? QStringLiteral("<b>Drifts</b> by %1 ±%2 a pull. ")
                                          .arg(u.length_unit_text(chart_->drift->mm_a_pull, digits),
                                               u.length_text(2 * chart_->drift->u_mm_a_pull, digits))
                                    : QStringLiteral("No sure drift. ");
      if (chart_->leaves_from && chart_->drift && chart_->drift->sure)
        told += QStringLiteral("It leaves its limits <b>not before pull %1</b>%2. ")
                    .arg(*chart_->leaves_from)
                    .arg(chart_->leaves_to ? QStringLiteral(", by pull %1 at the latest").arg(*chart_->leaves_to)
                                           : QString());
      if (chart_->capability)
        told += QStringLiteral("Cpk %1 (%2 to %3). ")
                    .arg(qs(fixed(chart_->capability->cpk, 2)), qs(fixed(chart_->capability->cpk_low, 2)),
                         qs(fixed(chart_->capability->cpk_high, 2)));
      for (const Signal& k : chart_->signs)
        told += QStringLiteral("<b>Signal</b> at no. %1: %2. ").arg(k.pull).arg(words(k.kind));
    } else {
      told = QStringLiteral("Two castings with readings of %1 make a chart.").arg(qs(s.name));
    }
  } else {
    told = QStringLiteral("Sizes come from Original; faults are charted below all the same.");
  }
  told_->setText(told);
  update();
}

void RunView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  if (job.check.castings.empty()) return;
  int first = job.check.castings.front().number, last = first;
  for (const Casting& c : job.check.castings) first = std::min(first, c.number), last = std::max(last, c.number);
  const int ahead = std::max(2, (last - first) / 3);
  std::vector<Fault> seen;
  for (const Casting& c : job.check.castings)
    for (const FaultSeen& f : c.faults)
      if (std::find(seen.begin(), seen.end(), f.fault) == seen.end()) seen.push_back(f.fault);
  const double left = 92, right = width() - 18.0,
               faults_h = 26.0 * static_cast<double>(std::max<size_t>(1, seen.size())) + 30;
  const QRectF box(left, 96, right - left, std::max(120.0, height() - 96 - faults_h - 36));
  const auto x = [&](double pull) {
    return box.left() + 26 + (pull - first) / std::max(1, last - first + ahead) * (box.width() - 40);
  };
  p.fillRect(box, pal().panel);
  p.setPen(QPen(pal().rule, 1));
  p.drawRect(box);
  p.setFont(type_face(12));
  if (chart_ && !job.original.sizes.empty()) {
    const MeasuredSize& s = job.original.sizes[static_cast<size_t>(size_)];
    double low = s.lower_mm, high = s.upper_mm;
    for (const OfMould& m : moulds_)
      for (const RunPoint& q : m.points) low = std::min(low, q.mm), high = std::max(high, q.mm);
    const double pad = 0.18 * std::max(high - low, 1e-6);
    low -= pad, high += pad;
    const auto y = [&](double mm) { return box.bottom() - (mm - low) / (high - low) * box.height(); };
    p.fillRect(QRectF(box.left(), y(high), box.width(), y(s.upper_mm) - y(high)), QBrush(pal().stop, Qt::BDiagPattern));
    p.fillRect(QRectF(box.left(), y(s.lower_mm), box.width(), y(low) - y(s.lower_mm)),
               QBrush(pal().stop, Qt::BDiagPattern));
    const auto level = [&](double mm, const QPen& pen, const QString& words) {
      p.setPen(pen);
      p.drawLine(QPointF(box.left(), y(mm)), QPointF(box.right(), y(mm)));
      p.setPen(pal().quiet);
      p.drawText(QRectF(0, y(mm) - 9, left - 8, 18), Qt::AlignRight | Qt::AlignVCenter, words);
    };
    level(s.upper_mm, QPen(pal().ink, 2), u.length_text(s.upper_mm, 3));
    level(s.lower_mm, QPen(pal().ink, 2), u.length_text(s.lower_mm, 3));
    if (points_.size() >= 2 && chart_->sigma_mm > 0) {
      level(chart_->mean_mm, QPen(pal().quiet, 1.2), QStringLiteral("mean"));
      for (const double k : {-3.0, 3.0}) {
        const double at = chart_->mean_mm + k * chart_->sigma_mm;
        if (at > low && at < high) {
          p.setPen(QPen(pal().quiet, 1, Qt::DashLine));
          p.drawLine(QPointF(box.left(), y(at)), QPointF(box.right(), y(at)));
        }
      }
    }
    if (chart_->drift && chart_->drift->sure) {
      p.setPen(QPen(pal().act, 2));
      const double end = last + ahead;
      const double begins = points_.front().pull;
      p.drawLine(QPointF(x(begins), y(chart_->drift->at_first_mm)),
                 QPointF(x(end), y(chart_->drift->at_first_mm + chart_->drift->mm_a_pull * (end - begins))));
    }
    // The moulds before it stand beside it, paler, each from its own first casting.
    for (size_t k = 0; k < moulds_.size(); ++k) {
      const auto& q = moulds_[k].points;
      if (moulds_.size() > 1 && !q.empty()) {
        p.setPen(pal().quiet);
        p.drawText(QRectF(x(q.front().pull) - 12, box.top() + 3, 90, 16), Qt::AlignLeft,
                   QStringLiteral("mould %1").arg(moulds_[k].mould));
        if (k > 0) {
          p.setPen(QPen(pal().quiet, 1, Qt::DotLine));
          p.drawLine(QPointF(x(q.front().pull - 0.5), box.top()), QPointF(x(q.front().pull - 0.5), box.bottom()));
        }
      }
      if (k + 1 == moulds_.size()) continue;
      p.setPen(QPen(pal().quiet, 1.4));
      p.setBrush(pal().slip);
      for (size_t i = 0; i < q.size(); ++i) {
        if (i > 0) p.drawLine(QPointF(x(q[i - 1].pull), y(q[i - 1].mm)), QPointF(x(q[i].pull), y(q[i].mm)));
        p.drawEllipse(QPointF(x(q[i].pull), y(q[i].mm)), 4.5, 4.5);
      }
    }
    p.setPen(QPen(pal().ink, 1.4));
    for (size_t i = 1; i < points_.size(); ++i)
      p.drawLine(QPointF(x(points_[i - 1].pull), y(points_[i - 1].mm)), QPointF(x(points_[i].pull), y(points_[i].mm)));
    for (const RunPoint& q : points_) {
      const bool out = q.mm < s.lower_mm || q.mm > s.upper_mm;
      const bool signal =
          std::any_of(chart_->signs.begin(), chart_->signs.end(), [&](const Signal& k) { return k.pull == q.pull; });
      p.setBrush(out ? pal().stop : signal ? pal().caution : pal().act);
      p.setPen(QPen(pal().ink, 1.5));
      const QPointF at(x(q.pull), y(q.mm));
      if (out)
        p.drawRect(QRectF(at.x() - 6, at.y() - 6, 12, 12));
      else if (signal)
        p.drawPolygon(QPolygonF() << at + QPointF(0, -8) << at + QPointF(8, 0) << at + QPointF(0, 8)
                                  << at + QPointF(-8, 0));
      else
        p.drawEllipse(at, 5.5, 5.5);
    }
    if (chart_->leaves_from && chart_->drift && chart_->drift->sure && *chart_->leaves_from <= last + ahead) {
      p.setPen(QPen(pal().stop, 1.6, Qt::DashLine));
      p.drawLine(QPointF(x(*chart_->leaves_from), box.top()), QPointF(x(*chart_->leaves_from), box.bottom()));
    }
  } else {
    p.setPen(pal().quiet);
    p.drawText(box, Qt::AlignCenter, QStringLiteral("no readings of this size yet"));
  }
  p.setPen(pal().quiet);
  for (const Casting& c : job.check.castings)
    p.drawText(QRectF(x(c.number) - 24, box.bottom() + 3, 48, 16), Qt::AlignCenter,
               QStringLiteral("no. %1").arg(c.number));
  // Faults by casting: as large as they were.
  double row = box.bottom() + 30;
  if (seen.empty()) {
    p.drawText(QRectF(left, row, box.width(), 20), Qt::AlignLeft | Qt::AlignVCenter,
               QStringLiteral("No fault was ticked on any casting."));
    return;
  }
  for (const Fault f : seen) {
    p.setPen(pal().ink);
    const auto name = words_of(f);
    p.drawText(QRectF(0, row, left - 8, 20), Qt::AlignRight | Qt::AlignVCenter,
               QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size())));
    p.setPen(QPen(pal().rule, 1));
    p.drawLine(QPointF(left, row + 10), QPointF(right, row + 10));
    for (const Casting& c : job.check.castings) {
      const auto at = std::find_if(c.faults.begin(), c.faults.end(), [&](const FaultSeen& s) { return s.fault == f; });
      const QPointF m(x(c.number), row + 10);
      if (at == c.faults.end()) {
        if (!c.looked_at) continue;
        p.setPen(QPen(pal().act, 1.5));
        p.setBrush(pal().ground);
        p.drawEllipse(m, 3.5, 3.5);
      } else {
        const double r = std::clamp(4 + 1.2 * at->size_mm, 5.0, 11.0);
        p.setPen(QPen(pal().ink, 1.2));
        p.setBrush(pal().stop);
        p.drawRect(QRectF(m.x() - r, m.y() - r, 2 * r, 2 * r));
      }
    }
    row += 26;
  }
}

}  // namespace palinform::app
