#include "mould/mould_page.hpp"

#include <cmath>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

FillCurve::FillCurve(QWidget* parent) : QWidget(parent) { setAttribute(Qt::WA_TransparentForMouseEvents); }

void FillCurve::show_pour(const RubberPour& pour, double density, const Units& u, bool side_a) {
  pour_ = pour;
  a_ = side_a;
  head_ = QStringLiteral("Pour %1 · %2").arg(qs(pour.name), u.mass_text(pour.volume_mm3 * 1e-3 * density, 0));
  low_ = QStringLiteral("fills to %1").arg(u.length_unit_text(pour.fill_height_mm, 0));
  setAccessibleName(head_ + QStringLiteral(", ") + low_);
  update();
}
void FillCurve::paintEvent(QPaintEvent*) {
  if (pour_.curve.size() < 2) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  QColor back = pal().panel;
  back.setAlphaF(0.94f);
  p.setBrush(back);
  p.setPen(pal().rule);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8);
  p.setPen(pal().ink);
  p.setFont(type_face(13, 600));
  p.drawText(QRectF(10, 6, width() - 20, 18), Qt::AlignVCenter, head_);
  const QRectF plot(10, 28, width() - 20, height() - 50);
  // A vessel: its width at each height is the area the rubber has there.
  double most = 1e-9;
  const auto& c = pour_.curve;
  std::vector<double> area;
  for (size_t i = 1; i < c.size(); ++i) {
    area.push_back((c[i].volume_mm3 - c[i - 1].volume_mm3) / std::max(1e-9, c[i].height_mm - c[i - 1].height_mm));
    most = std::max(most, area.back());
  }
  QPainterPath vessel;
  const double top = c.back().height_mm;
  const auto y = [&](double h) { return plot.bottom() - plot.height() * h / top; };
  vessel.moveTo(plot.center().x(), plot.bottom());
  for (size_t i = 0; i < area.size(); ++i) {
    const double half = 0.5 * plot.width() * area[i] / most;
    vessel.lineTo(plot.center().x() + half, y(c[i].height_mm));
    vessel.lineTo(plot.center().x() + half, y(c[i + 1].height_mm));
  }
  for (size_t i = area.size(); i-- > 0;) {
    const double half = 0.5 * plot.width() * area[i] / most;
    vessel.lineTo(plot.center().x() - half, y(c[i + 1].height_mm));
    vessel.lineTo(plot.center().x() - half, y(c[i].height_mm));
  }
  vessel.closeSubpath();
  p.setPen(Qt::NoPen);
  p.setBrush(a_ ? pal().rubber_a : pal().rubber_b);
  p.drawPath(vessel);
  if (!a_) {
    QColor dots = pal().ground;
    dots.setAlphaF(0.6f);
    p.setBrush(QBrush(dots, Qt::Dense6Pattern));
    p.drawPath(vessel);
  }
  p.setPen(QPen(pal().act, 2));
  p.drawLine(QPointF(plot.left(), plot.top()), QPointF(plot.right(), plot.top()));
  p.setPen(pal().quiet);
  p.setFont(type_face(12));
  p.drawText(QRectF(10, height() - 20, width() - 20, 16), Qt::AlignVCenter, low_ + QStringLiteral(" · width is area"));
}

MouldPage::MouldPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(30, 70, 220, 90));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  {
    Camera c;
    c.look_from(-62, 24);
    view_->set_camera(c);
  }
  controls_ = new QWidget(this);
  auto* row = new QHBoxLayout(controls_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(16);
  wall_ = new FigureField(QStringLiteral("Rubber around the part"), QStringLiteral("wall"), 140);
  wall_->set_range(0.02, 500);
  wall_->allow_empty(QStringLiteral("by the rule"));
  master_ = new FigureField(QStringLiteral("Master weighs"), QStringLiteral("master-mass"), 100);
  master_->set_range(0, 1e6);
  master_->allow_empty(QStringLiteral("unknown"));
  row->addWidget(wall_);
  row->addWidget(master_);
  const auto slider = [&](const QString& words, const QString& name, QSlider*& into) {
    auto* col = new QVBoxLayout;
    col->setSpacing(2);
    auto* l = new QLabel(words);
    l->setProperty("role", "small");
    into = new QSlider(Qt::Horizontal);
    into->setObjectName(name);
    into->setAccessibleName(words);
    into->setMinimumSize(150, 32);
    l->setBuddy(into);
    col->addWidget(l);
    col->addWidget(into);
    row->addLayout(col, 1);
  };
  slider(QStringLiteral("Open the mould"), QStringLiteral("mould-open"), open_);
  slider(QStringLiteral("Cut away from the front"), QStringLiteral("mould-cut"), cut_);
  open_->setRange(0, 100);
  open_->setValue(0);
  cut_->setRange(0, 100);
  cut_->setValue(50);
  told_ = new QLabel(this);
  told_->setTextFormat(Qt::RichText);
  told_->setAttribute(Qt::WA_TransparentForMouseEvents);
  curve_a_ = new FillCurve(this);
  curve_b_ = new FillCurve(this);
  empty_ = remark();
  empty_->setParent(this);
  empty_->setAlignment(Qt::AlignCenter);
  for (QSlider* s : {open_, cut_})
    connect(s, &QSlider::valueChanged, this, [this] {
      if (view_->isVisible()) view_->move_scene(make_scene());
    });
  connect(wall_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.wall_mm = desk_.units().mm(v);
    desk_.edit(next, QStringLiteral("wall"));
  });
  connect(wall_, &FigureField::emptied, this, [this] {
    Job next = desk_.job();
    next.wall_mm.reset();
    desk_.edit(next, QStringLiteral("wall by the rule"));
  });
  connect(master_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.master_g = desk_.units().grams(v);
    desk_.edit(next, QStringLiteral("master weighed"));
  });
  connect(master_, &FigureField::emptied, this, [this] {
    Job next = desk_.job();
    next.master_g.reset();
    desk_.edit(next, QStringLiteral("master not weighed"));
  });
}

Vec3 MouldPage::lift(bool upper) const {
  const auto r = desk_.plan().value<MouldResult>("mould");
  if (!r) return {};
  const double way = open_->value() / 100.0 * 0.9 * r->mould.inner_mm.size().z;
  return r->mould.frame.rows[2] * (upper ? way : -way * 0.55);
}

Scene MouldPage::make_scene() const {
  Scene scene;
  scene.ground = rgb(pal().ground);
  const auto original = desk_.plan().value<OriginalResult>("master");
  const auto r = desk_.plan().value<MouldResult>("mould");
  if (!r || (!original && !r->stand_in)) return scene;
  const Mould& m = r->mould;
  Body part;
  part.shape = r->stand_in ? r->stand_in : original->shape;
  part.colour = rgb(pal().part);
  part.cut_colour = rgb(pal().part_cut);
  part.sectioned = false;
  scene.bodies.push_back(std::move(part));
  for (const bool upper : {true, false}) {
    Body half;
    half.shape = upper ? r->half_a : r->half_b;
    half.colour = rgb(upper ? pal().rubber_a : pal().rubber_b);
    half.cut_colour = half.colour;
    half.place = Transform::move(lift(upper));
    scene.bodies.push_back(std::move(half));
  }
  // The cut runs along the box's longer side and is taken from the side nearer to the viewer.
  const bool along_u = m.inner_mm.size().x >= m.inner_mm.size().y;
  Vec3 n = m.frame.rows[along_u ? 1 : 0];
  if (dot(n, view_->camera().toward_viewer()) < 0) n = -n;
  const double from = along_u ? m.inner_mm.min.y : m.inner_mm.min.x, to = along_u ? m.inner_mm.max.y : m.inner_mm.max.x;
  const bool flipped = dot(n, m.frame.rows[along_u ? 1 : 0]) < 0;
  const double share = cut_->value() / 100.0;
  if (share > 0) scene.section = SectionPlane{n, flipped ? -(from + (to - from) * share) : to - (to - from) * share};
  return scene;
}

void MouldPage::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  const auto r = desk_.plan().value<MouldResult>("mould");
  const auto original = desk_.plan().fresh<OriginalResult>("master");
  const SlotView slot = desk_.plan().slot("mould"), split = desk_.plan().slot("split");
  const bool fits = r && (original || r->stand_in) && slot.state != Freshness::absent;
  for (QWidget* w : {static_cast<QWidget*>(view_), static_cast<QWidget*>(controls_), static_cast<QWidget*>(told_),
                     static_cast<QWidget*>(curve_a_), static_cast<QWidget*>(curve_b_)})
    w->setVisible(fits);
  empty_->setVisible(!fits);
  empty_->setText(
      slot.state == Freshness::running || split.state == Freshness::running ? QStringLiteral("Working out the box…")
      : slot.state == Freshness::failed
          ? qs(slot.error.text())
          : QStringLiteral("The box follows from the split: open a mesh in Original, or give its measures there."));
  if (fits) {
    const Mould& m = r->mould;
    wall_->show_value(r->wall_by_rule && !job.wall_mm ? std::nullopt : std::optional(u.length(m.wall_mm)),
                      u.inch ? 3 : 1, u.length_name());
    wall_->edit()->setPlaceholderText(QStringLiteral("%1 by the rule").arg(u.length_text(r->wall_rule_mm, 1)));
    master_->show_value(job.master_g ? std::optional(u.mass(*job.master_g)) : std::nullopt, u.ounce ? 2 : 1,
                        u.mass_name());
    const std::string key = job.mesh.hash + slot.key.hex() + pal().ground.name().toStdString() +
                            (slot.state == Freshness::fresh ? "f" : "s");
    if (key != shown_) {
      const bool other = shown_.substr(0, 32) != job.mesh.hash;
      shown_ = key;
      view_->set_scene(make_scene(), other);
    }
    const Silicone* sil = desk_.catalogue().silicone(job.silicone_id);
    const double density = sil ? sil->density_g_cm3 : 1.1;
    const Vec3 in = m.inner_mm.size();
    QString box = QStringLiteral("<b>Box inside</b> %1 × %2 × %3 %4")
                      .arg(u.length_text(in.x, 0), u.length_text(in.y, 0), u.length_text(in.z, 0), u.length_name());
    box += QStringLiteral(" · rubber %1 ±%2 ml")
               .arg(qs(grouped(m.rubber_mm3 * 1e-3, 0)), qs(significant(std::max(m.volume_error_mm3 * 1e-3, 0.1), 1)));
    if (m.hold_down_n)
      box += *m.hold_down_n > 0.05 ? QStringLiteral(" · hold down with %1 N").arg(qs(significant(*m.hold_down_n, 2)))
                                   : QStringLiteral(" · the master sinks");
    if (r->stand_in) box += QStringLiteral(" · reckoned from measures: no shape, no line");
    if (!sil) box += QStringLiteral(" · masses at 1.10 g/cm³ until a rubber is chosen");
    told_->setText(box);
    if (m.pours.size() == 2) {
      curve_a_->show_pour(m.pours[0], density, u, true);
      curve_b_->show_pour(m.pours[1], density, u, false);
    }
  } else {
    shown_.clear();
  }
  lay_out();
  view_->update();
}

void MouldPage::lay_out() {
  view_->setGeometry(rect());
  controls_->setGeometry(16, 10, width() - 32, controls_->sizeHint().height());
  curve_a_->setGeometry(width() - 206, 84, 190, 150);
  curve_b_->setGeometry(width() - 206, 246, 190, 150);
  told_->setGeometry(20, height() - 34, width() - 40, 22);
  empty_->setGeometry(60, height() / 2 - 40, width() - 120, 80);
}
void MouldPage::resizeEvent(QResizeEvent*) { lay_out(); }

void MouldPage::draw_over(QPainter& p) {
  const auto r = desk_.plan().value<MouldResult>("mould");
  if (!r) return;
  const Mould& m = r->mould;
  const Units& u = desk_.units();
  const Box3& b = m.inner_mm;
  const auto at = [&](double x, double y, double z, const Vec3& shift) {
    return m.frame.direction_back({x, y, z}) + shift;
  };
  const auto ring = [&](double z, const Vec3& shift) {
    return std::vector<Vec3>{at(b.min.x, b.min.y, z, shift), at(b.max.x, b.min.y, z, shift),
                             at(b.max.x, b.max.y, z, shift), at(b.min.x, b.max.y, z, shift)};
  };
  // The box as thin lines about both halves, closed mould only; the fill lines where each pour ends.
  if (open_->value() == 0)
    for (int k = 0; k < 4; ++k) {
      const double x = k & 1 ? b.max.x : b.min.x, y = k & 2 ? b.max.y : b.min.y;
      draw_polyline(p, *view_, {at(x, y, b.min.z, {}), at(x, y, b.max.z, {})}, QPen(pal().quiet, 1.2));
    }
  const Vec3 up = lift(true), down = lift(false);
  draw_polyline(p, *view_, ring(b.max.z, up), QPen(pal().act, 2.4), true);
  draw_polyline(p, *view_, ring(b.min.z, down), QPen(pal().act, 2.4), true);
  std::vector<Tag> tags;
  if (m.pours.size() == 2) {
    tags.push_back({at(b.min.x, b.min.y, b.max.z, up),
                    QStringLiteral("fill line a · %1 of rubber").arg(u.length_unit_text(m.pours[0].fill_height_mm, 0)),
                    pal().act});
    tags.push_back(
        {at(b.min.x, b.min.y, b.min.z, down),
         QStringLiteral("fill line b, turned over · %1").arg(u.length_unit_text(m.pours[1].fill_height_mm, 0)),
         pal().act});
  }
  draw_tags(p, *view_, tags, QRectF(12, 74, width() - 232.0, height() - 118.0));
}

}  // namespace palinform::app
