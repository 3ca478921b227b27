#include "check/scan_view.hpp"

#include <cmath>
#include <QFileDialog>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "shell/fits_card.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

constexpr int panel_width = 340;

/// From too little to too much: inside the band plain, then two steps each way.
std::vector<ScalarStep> steps_of(double limit) {
  const auto at = [](double mm, const QColor& c) { return ScalarStep{static_cast<float>(mm), rgb(c)}; };
  const QColor low = pal().note, high = pal().stop, good = pal().part;
  return {at(-1e6, low),          at(-2 * limit, mixed(good, low, 0.6)),    at(-limit, mixed(good, low, 0.18)),
          at(-0.5 * limit, good), at(0.5 * limit, mixed(good, high, 0.15)), at(limit, mixed(good, high, 0.55)),
          at(2 * limit, high)};
}

QString signed_text(double v, int digits) {
  return (v < 0 ? QStringLiteral("−") : QStringLiteral("+")) + qs(fixed(std::abs(v), digits));
}

}  // namespace

void DeviationBars::show_bins(std::vector<HistogramBin> bins, double limit, const QString& unit, double per_mm) {
  bins_ = std::move(bins), limit_mm_ = limit, unit_ = unit, per_mm_ = per_mm;
  update();
}

void DeviationBars::paintEvent(QPaintEvent*) {
  QPainter p(this);
  if (bins_.empty()) return;
  const double low = bins_.front().from_mm, high = bins_.back().to_mm;
  const QRectF box(4, 6, width() - 8.0, height() - 30.0);
  const auto x = [&](double mm) { return box.left() + (mm - low) / (high - low) * box.width(); };
  p.fillRect(box, pal().slip);
  p.fillRect(QRectF(x(-limit_mm_), box.top(), x(limit_mm_) - x(-limit_mm_), box.height()),
             mixed(pal().slip, pal().act, 0.22));
  double most = 0;
  for (const HistogramBin& b : bins_) most = std::max(most, b.share);
  for (const HistogramBin& b : bins_) {
    const double mid = 0.5 * (b.from_mm + b.to_mm);
    const QColor c = std::abs(mid) <= limit_mm_ ? pal().act : mid < 0 ? pal().note : pal().stop;
    const double h = most > 0 ? b.share / most * (box.height() - 4) : 0;
    p.fillRect(QRectF(x(b.from_mm) + 0.5, box.bottom() - h, x(b.to_mm) - x(b.from_mm) - 1, h), c);
  }
  p.setFont(type_face(12));
  p.setPen(pal().ink);
  const auto tick = [&](double mm, const QString& words) {
    p.drawLine(QPointF(x(mm), box.bottom()), QPointF(x(mm), box.bottom() + 4));
    p.drawText(QRectF(x(mm) - 60, box.bottom() + 5, 120, 16), Qt::AlignCenter, words);
  };
  tick(-limit_mm_, signed_text(-limit_mm_ * per_mm_, 2));
  tick(0, QStringLiteral("0 ") + unit_);
  tick(limit_mm_, signed_text(limit_mm_ * per_mm_, 2));
}

ScanView::ScanView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(24, 40, 24, 40));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  side_ = new QWidget(this);
  auto* col = new QVBoxLayout(side_);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(9);
  open_ = new QPushButton(QStringLiteral("Open a scan…"));
  open_->setObjectName(QStringLiteral("scan-open"));
  told_ = card_words({});
  told_->setTextFormat(Qt::RichText);
  told_->setObjectName(QStringLiteral("scan-told"));
  bars_ = new DeviationBars;
  sizes_ = card_words({}, "small");
  sizes_->setTextFormat(Qt::RichText);
  take_ = new QPushButton(QStringLiteral("Take these as readings"));
  take_->setObjectName(QStringLiteral("scan-take"));
  for (QWidget* w : std::initializer_list<QWidget*>{open_, told_, bars_, sizes_, take_}) col->addWidget(w);
  col->addStretch(1);
  empty_ =
      remark(QStringLiteral("No scan of this casting. Open one as STL, OBJ, PLY or 3MF: it is laid on the original "
                            "by itself, and sizes are read from it."));
  empty_->setParent(this);
  empty_->setAlignment(Qt::AlignCenter);
  connect(open_, &QPushButton::clicked, this, [this] {
    const auto& all = desk_.job().check.castings;
    if (casting_ < 0 || casting_ >= static_cast<int>(all.size())) return;
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("A scan of the casting"), {},
                                                      QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf)"));
    if (!path.isEmpty()) desk_.scan_casting(path, all[static_cast<size_t>(casting_)].number);
  });
  connect(take_, &QPushButton::clicked, this, [this] {
    const auto scan = judged();
    Job next = desk_.job();
    if (!scan || casting_ < 0 || casting_ >= static_cast<int>(next.check.castings.size())) return;
    Casting& c = next.check.castings[static_cast<size_t>(casting_)];
    for (const ScannedSize& s : scan->sizes) {
      std::erase_if(c.readings, [&](const CastReading& r) { return r.size_id == s.size_id; });
      c.readings.push_back({s.size_id, {std::round(s.mm * 1e4) / 1e4}});
    }
    desk_.edit(next, QStringLiteral("readings from the scan"));
  });
}

void ScanView::resizeEvent(QResizeEvent*) {
  const bool first = view_->width() < 200 || view_->height() < 200;
  view_->setGeometry(0, 0, width() - panel_width - 14, height());
  if (first) view_->fit();
  side_->setGeometry(width() - panel_width, 0, panel_width, height());
  empty_->setGeometry(30, height() / 2 - 50, width() - panel_width - 70, 100);
}

std::shared_ptr<const ScanResult> ScanView::judged() const {
  const auto& all = desk_.job().check.castings;
  if (casting_ < 0 || casting_ >= static_cast<int>(all.size()) || all[static_cast<size_t>(casting_)].scan.empty())
    return nullptr;
  return scan_of(desk_.plan(), all[static_cast<size_t>(casting_)].number);
}

void ScanView::show_casting(int index) {
  if (index != casting_) pointed_.reset();
  casting_ = index;
  const auto& all = desk_.job().check.castings;
  if (index < 0 || index >= static_cast<int>(all.size())) return;
  const Casting& c = all[static_cast<size_t>(index)];
  // Which of the scans it is, from the last.
  size_t place = 0;
  for (size_t k = all.size(); k-- > static_cast<size_t>(index) + 1;) place += !all[k].scan.empty();
  const bool too_old = !c.scan.empty() && place >= results::most_scans;
  std::shared_ptr<const LaidScanResult> laid;
  SlotState slot;
  if (!c.scan.empty() && !too_old) {
    slot = desk_.plan().state(results::laid_scans[place]);
    laid = desk_.plan().fresh(results::laid_scans[place]);
    if (laid && laid->number != c.number) laid = nullptr;
  }
  const auto scan = laid ? judged() : nullptr;
  const bool mine = laid != nullptr;
  const auto outline =
      !mine && slot.state == Freshness::running ? desk_.scan_outline_of(c.scan) : std::shared_ptr<const Shape>();
  view_->setVisible(mine || outline);
  bars_->setVisible(scan != nullptr);
  sizes_->setVisible(scan != nullptr);
  take_->setVisible(scan && !scan->sizes.empty());
  take_->setEnabled(!desk_.read_only());
  open_->setEnabled(!desk_.read_only());
  empty_->setVisible(!mine && !outline);
  const auto show = [this](Body b, bool refit) {
    Scene scene;
    b.colour = rgb(pal().part);
    scene.bodies.push_back(std::move(b));
    scene.ground = rgb(pal().ground);
    view_->set_scene(std::move(scene), refit);
  };
  if (outline) {
    // As it lies in its file: it is there at once, and moves to its place when that is found.
    told_->setText(QStringLiteral("The scan is being laid on the original…"));
    if (const std::string key = "outline " + c.scan; shown_ != key) {
      shown_ = key;
      Body b;
      b.shape = outline;
      show(std::move(b), true);
    }
    return;
  }
  if (!mine) {
    told_->setText({});
    empty_->setText(too_old ? QStringLiteral("The last %1 scans lie on the original. Open this casting's scan again to "
                                             "look at it.")
                                  .arg(results::most_scans)
                    : !c.scan.empty() && slot.state == Freshness::running
                        ? QStringLiteral("The scan is laid on the original…")
                    : !c.scan.empty() && slot.state == Freshness::failed
                        ? qs(slot.error.text())
                        : QStringLiteral("No scan of this casting. Open one as STL, OBJ, PLY or 3MF: it is "
                                         "laid on the original by itself, and sizes are read from it."));
    shown_.clear();
    return;
  }
  const Units& u = desk_.units();
  const std::string key = slot.key.hex() + (scan ? "+" : "") + pal().ground.name().toStdString();
  if (key != shown_) {
    const bool other = shown_.substr(0, 32) != key.substr(0, 32);
    shown_ = key;
    Body b;
    b.shape = scan ? scan->shape : laid->shape;
    if (scan) {
      b.vertex_scalar = std::make_shared<const std::vector<float>>(scan->deviation.mm);
      b.steps = steps_of(scan->limit_mm);
    }
    show(std::move(b), other);
  }
  if (!scan) {
    told_->setText(QStringLiteral("It lies on the original with %1 of scatter. How far it is off is being worked out…")
                       .arg(u.length_unit_text(laid->aligned.rms_mm, 3)));
    view_->update();
    return;
  }
  const Deviation& d = scan->deviation;
  QString told = QStringLiteral("<b>%1 %</b> of the skin within ±%2. Mean %3, rms %4, 95 % within %5 %6.")
                     .arg(qs(fixed(100 * scan->within_share, 0)), u.length_unit_text(scan->limit_mm, 2),
                          signed_text(u.length(d.mean_mm), 3), u.length_text(d.rms_mm, 3),
                          u.length_text(d.p95_abs_mm, 3), u.length_name());
  if (scan->scale) {
    const auto pct = [](double s) { return signed_text(100 * (s - 1), 2); };
    told += QStringLiteral("<br>Against the original: %1 % along x, %2 % y, %3 % z.")
                .arg(pct(scan->scale->x), pct(scan->scale->y), pct(scan->scale->z));
  }
  told += QStringLiteral("<br>It shows %1 % of the part; laid with %2 of scatter.")
              .arg(qs(fixed(100 * d.covered_share, 0)), u.length_unit_text(scan->aligned.rms_mm, 3));
  told_->setText(told);
  bars_->show_bins(scan->histogram, scan->limit_mm, u.length_name(), u.length(1));
  QString table = QStringLiteral("<table cellpadding='2'>");
  for (const ScannedSize& s : scan->sizes)
    if (const MeasuredSize* size = desk_.job().original.size(s.size_id)) {
      const bool out = s.mm < size->lower_mm || s.mm > size->upper_mm;
      table += QStringLiteral("<tr><td>%1</td><td align='right'><b>%2</b></td><td>±%3 %4</td><td>%5</td></tr>")
                   .arg(qs(size->name), u.length_text(s.mm, 3), u.length_text(2 * s.u_mm, 3), u.length_name(),
                        (out ? QStringLiteral("<font color='%1'>out of limits</font>").arg(pal().stop.name())
                             : QStringLiteral("inside")) +
                            (s.refitted ? QStringLiteral(", %1 out of round").arg(u.length_text(s.out_of_round_mm, 3))
                                        : QString()));
    }
  sizes_->setText(scan->sizes.empty() ? QStringLiteral("No size with a line on the part is shown by the scan.")
                                      : table + QStringLiteral("</table>"));
  view_->update();
}

void ScanView::draw_over(QPainter& p) {
  const auto scan = judged();
  if (!scan) return;
  std::vector<Tag> tags;
  const Units& u = desk_.units();
  for (size_t k = 0; k < std::min<size_t>(3, scan->deviation.worst.size()); ++k) {
    const DeviationPlace& w = scan->deviation.worst[k];
    if (std::abs(w.mm) < scan->limit_mm) continue;
    tags.push_back({w.at_mm, signed_text(u.length(w.mm), u.inch ? 4 : 2) + QLatin1Char(' ') + u.length_name(),
                    w.mm < 0 ? pal().note : pal().stop});
  }
  if (pointed_) {
    const auto q = view_->camera().project(*pointed_);
    p.setPen(QPen(pal().stop, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QPointF(q.x, q.y), 18, 18);
  }
  draw_tags(p, *view_, tags, QRectF(10, 8, view_->width() - 20.0, view_->height() - 40.0));
}

}  // namespace palinform::app
