#include "bench/path_view.hpp"

#include <cmath>
#include <QMouseEvent>
#include <QPainter>

#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {
constexpr int row_px = 34, columns = 3;
}

PathView::PathView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setAccessibleName(QStringLiteral("Steps of the run"));
}

std::vector<PathView::Stop> PathView::stops() const {
  std::vector<Stop> out;
  const auto& run = desk_.run();
  if (run) {
    int first = 0;
    for (size_t i = 0; i < run->screens.size(); ++i)
      if (run->screens[i].last_of_step) {
        out.push_back({qs(run->screens[i].title), run->screens[i].step_id, first, static_cast<int>(i)});
        first = static_cast<int>(i) + 1;
      }
    return out;
  }
  const auto work = desk_.plan().fresh(results::procedure);
  const auto days = desk_.plan().fresh(results::days);
  if (work)
    for (const size_t i : bench_order(work->procedure, days.get()))
      out.push_back({qs(work->procedure.steps[i].name), work->procedure.steps[i].id, 1 << 20, 1 << 20});
  return out;
}

void PathView::lay_out() {
  const int rows = static_cast<int>(std::ceil(static_cast<double>(stops().size()) / columns));
  setMinimumHeight(rows * row_px + 20);
  update();
}

void PathView::resizeEvent(QResizeEvent*) { update(); }

void PathView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), pal().ground);
  const auto& run = desk_.run();
  const auto steps = stops();
  const int at = run ? run->at : -1,
            rows = std::max(1, static_cast<int>(std::ceil(static_cast<double>(steps.size()) / columns)));
  const double cw = (width() - 24.0) / columns;
  for (size_t i = 0; i < steps.size(); ++i) {
    const int c = static_cast<int>(i) / rows, r = static_cast<int>(i) % rows;
    const double x = 26 + c * cw, y = r * row_px + 20;
    const bool done = run && at > steps[i].last, now = run && at >= steps[i].first && at <= steps[i].last;
    p.setPen(QPen(pal().rule.darker(115), 2.5));
    if (r + 1 < rows && i + 1 < steps.size()) p.drawLine(QPointF(x, y), QPointF(x, y + row_px));
    p.setPen(QPen(now ? pal().act : pal().ink, 2));
    p.setBrush(done ? pal().ink : now ? pal().act : pal().ground);
    p.drawEllipse(QPointF(x, y), now ? 9 : 6, now ? 9 : 6);
    bool wrong = false;
    if (run)
      for (const ScreenRecord& rec : run->records)
        wrong |= rec.went_wrong && rec.screen <= steps[i].last && rec.screen >= steps[i].first;
    p.setFont(type_face(14, now ? 600 : 400));
    p.setPen(wrong ? pal().stop : done ? pal().quiet : pal().ink);
    const QString words = steps[i].title + (wrong ? QStringLiteral(" · went wrong") : QString());
    // Long names take a smaller hand rather than an end that is cut off.
    QFont f = p.font();
    for (int px = 14; px > 12 && text_width(f, words) > cw - 44; --px) f = type_face(px, now ? 600 : 400);
    p.setFont(f);
    p.drawText(QRectF(x + 18, y - 16, cw - 42, 32), Qt::AlignVCenter | Qt::TextWordWrap, words);
  }
}

void PathView::mousePressEvent(QMouseEvent* e) {
  const auto steps = stops();
  const int rows = std::max(1, static_cast<int>(std::ceil(static_cast<double>(steps.size()) / columns)));
  const double cw = (width() - 24.0) / columns;
  const size_t i = static_cast<size_t>(std::max(0.0, (e->position().x() - 10) / cw)) * static_cast<size_t>(rows) +
                   static_cast<size_t>(std::max(0.0, (e->position().y() - 4) / row_px));
  if (i < steps.size()) emit step_chosen(QString::fromStdString(steps[i].id));
}

}  // namespace palinform::app
