#include "ledger/signature_pad.hpp"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "shell/stage_page.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

SignaturePad::SignaturePad(QWidget* parent) : QWidget(parent) {
  setFixedSize(608, 190);
  setObjectName(QStringLiteral("signature-pad"));
  setAccessibleName(QStringLiteral("A line to sign on"));
  setCursor(Qt::CrossCursor);
}

void SignaturePad::clear() {
  lines_.clear();
  update();
}

void SignaturePad::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), pal().panel);
  p.setPen(QPen(pal().rule, 1.5));
  p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
  p.drawLine(QPointF(24, 0.76 * height()), QPointF(width() - 24.0, 0.76 * height()));
  p.setPen(QPen(pal().ink, 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  for (const auto& line : lines_) {
    QPolygonF q;
    for (const auto& at : line) q << QPointF(at[0] * width(), at[1] * width());
    if (q.size() == 1) q << q.front() + QPointF(0.1, 0);
    p.drawPolyline(q);
  }
}

void SignaturePad::add(const QPointF& at) {
  const double x = std::clamp(at.x(), 0.0, static_cast<double>(width())),
               y = std::clamp(at.y(), 0.0, static_cast<double>(height()));
  const auto place = [](double v) { return std::round(v * 1e4) / 1e4; };
  if (lines_.back().size() < 1000) lines_.back().push_back({place(x / width()), place(y / width())});
  update();
}

void SignaturePad::mousePressEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton || lines_.size() >= 100) return;
  lines_.emplace_back();
  add(e->position());
}

void SignaturePad::mouseMoveEvent(QMouseEvent* e) {
  if ((e->buttons() & Qt::LeftButton) && !lines_.empty()) add(e->position());
}

std::optional<OwnersPiece::Signature> ask_signature(const QString& words, QWidget* parent) {
  QDialog d(parent);
  d.setWindowTitle(QStringLiteral("Sign"));
  auto* col = new QVBoxLayout(&d);
  col->setSpacing(10);
  auto* told = remark(words);
  told->setWordWrap(true);
  col->addWidget(told);
  auto* pad = new SignaturePad;
  col->addWidget(pad);
  auto* row = new QHBoxLayout;
  auto* again = chip(QStringLiteral("Once more"), QStringLiteral("signature-again"));
  auto* put_away = chip(QStringLiteral("Not now"), QStringLiteral("signature-not"));
  auto* done = new QPushButton(QStringLiteral("It is signed"));
  done->setObjectName(QStringLiteral("signature-done"));
  row->addWidget(again);
  row->addStretch(1);
  row->addWidget(put_away);
  row->addWidget(done);
  col->addLayout(row);
  QObject::connect(again, &QPushButton::clicked, pad, &SignaturePad::clear);
  QObject::connect(put_away, &QPushButton::clicked, &d, &QDialog::reject);
  QObject::connect(done, &QPushButton::clicked, &d, &QDialog::accept);
  if (d.exec() != QDialog::Accepted || pad->written().empty()) return std::nullopt;
  return pad->written();
}

}  // namespace palinform::app
