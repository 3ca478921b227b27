#include "bench/bench_page.hpp"

#include <cmath>
#include <QDateTime>
#include <QPainter>
#include <QTimer>

#include "base/text.hpp"
#include "bench/clocks.hpp"
#include "bench/device_hub.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

BenchPage::BenchPage(Desk& desk, DeviceHub& devices, QWidget* parent) : StagePage(desk, parent), devices_(devices) {
  start_ = new QPushButton(this);
  start_->setObjectName(QStringLiteral("bench-start"));
  start_->setProperty("kind", "main");
  start_->setStyleSheet(QStringLiteral("font-size: 18px; min-height: 44px; border-radius: 23px;"));
  end_ = new QPushButton(QStringLiteral("Put this run away"), this);
  end_->setProperty("kind", "bare");
  end_->setObjectName(QStringLiteral("bench-end"));
  head_ = new QLabel(this);
  head_->setTextFormat(Qt::RichText);
  empty_ = remark();
  empty_->setParent(this);
  empty_->setAlignment(Qt::AlignCenter);
  connect(start_, &QPushButton::clicked, this, [this] { start(); });
  connect(end_, &QPushButton::clicked, &desk_, &Desk::end_bench);
  timer_ = new QTimer(this);
  timer_->setInterval(1000);
  connect(timer_, &QTimer::timeout, this, [this] {
    if (isVisible() && desk_.run() && !desk_.run()->clocks.empty()) update();
  });
  timer_->start();
}

void BenchPage::start(bool full_screen) {
  if (!desk_.run() && !desk_.begin_bench()) return;
  if (!window_) window_ = std::make_unique<BenchWindow>(desk_, devices_);
  if (full_screen)
    window_->showFullScreen();
  else
    window_->show();
  window_->activateWindow();
  window_->setFocus();
}

void BenchPage::refresh() {
  const bool ready = desk_.plan().fresh(results::procedure) != nullptr;
  const auto& run = desk_.run();
  start_->setVisible(run || ready);
  start_->setEnabled(!desk_.read_only());
  start_->setText(!run             ? QStringLiteral("Begin the run")
                  : finished(*run) ? QStringLiteral("Look at the run")
                                   : QStringLiteral("Go on at the bench"));
  end_->setVisible(run.has_value());
  head_->setVisible(run || ready);
  empty_->setVisible(!run && !ready);
  empty_->setText(QStringLiteral("The run follows from the mould and the mix: see what is missing there."));
  if (!run)
    head_->setText(
        QStringLiteral("One step at a time, full screen, space bar or foot switch for next. It can be left and gone on "
                       "with at any time."));
  else
    head_->setText(QStringLiteral("<b>Begun %1</b> · screen %2 of %3")
                       .arg(QDateTime::fromSecsSinceEpoch(run->begun).toString(QStringLiteral("ddd HH:mm")))
                       .arg(std::min<size_t>(static_cast<size_t>(run->at) + 1, run->screens.size()))
                       .arg(run->screens.size()));
  update();
}

void BenchPage::resizeEvent(QResizeEvent*) {
  start_->setGeometry(20, 18, 240, 48);
  head_->setGeometry(276, 18, width() - 440, 48);
  head_->setWordWrap(true);
  end_->setGeometry(width() - 160, 26, 144, 32);
  empty_->setGeometry(60, height() / 2 - 40, width() - 120, 80);
}

void BenchPage::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), pal().ground);
  std::vector<BenchScreen> planned;
  const auto& run = desk_.run();
  const auto days = desk_.plan().fresh(results::days);
  const auto work = desk_.plan().fresh(results::procedure);
  // Steps as a path from left to right, row by row: what is behind is solid, what is in hand is large.
  std::vector<std::pair<QString, int>> steps;  // title and last screen
  if (run) {
    for (size_t i = 0; i < run->screens.size(); ++i)
      if (run->screens[i].last_of_step) steps.emplace_back(qs(run->screens[i].title), static_cast<int>(i));
  } else if (work) {
    for (const size_t i : bench_order(work->procedure, days.get()))
      steps.emplace_back(qs(work->procedure.steps[i].name), 1 << 20);
  }
  const int at = run ? run->at : -1;
  const int columns = 3;
  const double cw = (width() - 40.0) / columns, top = 92;
  const double rh = steps.empty() ? 40
                                  : std::clamp((height() - top - (run && !run->clocks.empty() ? 120 : 20)) /
                                                   std::ceil(static_cast<double>(steps.size()) / columns),
                                               30.0, 58.0);
  const int rows = static_cast<int>(std::ceil(static_cast<double>(steps.size()) / columns));
  int before = -1;
  for (size_t i = 0; i < steps.size(); ++i) {
    const int c = static_cast<int>(i) / rows, r = static_cast<int>(i) % rows;
    const double x = 34 + c * cw, y = top + r * rh + rh / 2;
    const bool done = run && at > steps[i].second, now = run && at > before && at <= steps[i].second;
    before = steps[i].second;
    p.setPen(QPen(pal().rule.darker(115), 2.5));
    if (r + 1 < rows && i + 1 < steps.size()) p.drawLine(QPointF(x, y), QPointF(x, y + rh));
    p.setPen(QPen(now ? pal().act : pal().ink, 2));
    p.setBrush(done ? pal().ink : now ? pal().act : pal().ground);
    p.drawEllipse(QPointF(x, y), now ? 9 : 6, now ? 9 : 6);
    bool wrong = false;
    if (run)
      for (const ScreenRecord& rec : run->records)
        wrong |= rec.went_wrong && rec.screen <= steps[i].second && rec.screen > (i ? steps[i - 1].second : -1);
    p.setFont(type_face(14, now ? 600 : 400));
    p.setPen(wrong ? pal().stop : done ? pal().quiet : pal().ink);
    p.drawText(QRectF(x + 18, y - 12, cw - 44, 24), Qt::AlignVCenter,
               steps[i].first + (wrong ? QStringLiteral(" · went wrong") : QString()));
  }
  if (!run) return;
  double x = 20;
  for (const BenchClock& c : run->clocks) {
    const WallSecond to_go = c.ends - now_s();
    if (c.rung && to_go < -3600) continue;
    p.setBrush(pal().panel);
    p.setPen(QPen(to_go <= 0 ? pal().stop : pal().rule, 1.4));
    p.drawRoundedRect(QRectF(x, height() - 98, 236, 82), 10, 10);
    p.setFont(type_face(13));
    p.setPen(pal().quiet);
    p.drawText(QRectF(x + 12, height() - 92, 214, 22), Qt::AlignVCenter, qs(c.label));
    p.setFont(type_face(34, 700));
    p.setPen(to_go <= 0 ? pal().stop : pal().ink);
    p.drawText(QRectF(x + 12, height() - 70, 214, 46), Qt::AlignVCenter,
               to_go <= 0 ? QStringLiteral("time is up") : span(to_go));
    x += 248;
    if (x + 236 > width()) break;
  }
}

}  // namespace palinform::app
