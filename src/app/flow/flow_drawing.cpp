// Flow: what its canvas shows over and in the part.
#include <QPainter>

#include "base/text.hpp"
#include "flow/flow_page.hpp"
#include "shell/desk.hpp"
#include "stages/closing.hpp"
#include "stages/flowing.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

void FlowPage::show_scene(bool other, bool moved) {
  const auto original = desk_.plan().fresh(results::master);
  if (!original) return;
  Scene scene;
  Body b;
  b.shape = original->shape;
  b.colour = rgb(pal().side_b.darker(118));
  b.place = place_;
  // The slider is time: what resin has reached by then.
  const auto fill = desk_.plan().newest(results::filling);
  const auto now = shown_min();
  if (now && !rubber_->isChecked() && fill->reached_min.size() == original->mesh->points.size()) {
    b.vertex_scalar = std::make_shared<std::vector<float>>(fill->reached_min);
    b.steps = {{-1e30f, rgb(pal().side_b.darker(118))}, {static_cast<float>(*now), rgb(pal().panel)}};
  }
  // … or how far the halves have come together, seen through the roof over each place.
  const auto closing = squeezed() ? desk_.plan().newest(results::closing) : nullptr;
  if (const auto gap = shown_gap(); closing && gap && !rubber_->isChecked()) {
    auto came = reached_at(*closing, *original->mesh);
    for (float& v : came) v = static_cast<float>(closing->closing.first_touch_mm) - v;
    for (float& v : came)
      if (!std::isfinite(v)) v = 1e30f;
    b.vertex_scalar = std::make_shared<std::vector<float>>(std::move(came));
    b.steps = {{-1e30f, rgb(pal().side_b.darker(118))},
               {static_cast<float>(closing->closing.first_touch_mm - *gap), rgb(pal().panel)}};
  }
  if (rubber_->isChecked()) b.colour = rgb(pal().part);
  scene.bodies.push_back(std::move(b));
  scene.ground = rgb(pal().ground);
  if (moved)
    view_->move_scene(std::move(scene));
  else
    view_->set_scene(std::move(scene), other);
}

void FlowPage::draw_rubber(QPainter& p) {
  const auto air = desk_.plan().newest(results::rubber_air);
  if (!air) return;
  const double px = 1 / view_->camera().mm_per_px;
  std::vector<Tag> tags;
  for (const auto& pour : air->pours)
    for (const Pocket& s : pour.pockets) {
      const Vec3 at = shown(s.apex_mm);
      const auto q = view_->camera().project(at);
      const double r = 0.5 * std::clamp(ball_diameter_mm(s.volume_mm3) * px, 9.0, 120.0);
      QColor fill = pal().panel;
      fill.setAlphaF(0.9f);
      p.setBrush(fill);
      p.setPen(QPen(pal().stop, 2.4));
      p.drawEllipse(QPointF(q.x, q.y), r, r * 0.72);
      if (tags.size() < 5)
        tags.push_back(
            {at, QStringLiteral("pour %1: %2 mm³").arg(qs(pour.name), qs(significant(s.volume_mm3, 2))), pal().stop});
    }
  draw_tags(p, *view_, tags, QRectF(12, 196, width() - 24.0, height() - 380.0));
}

void FlowPage::draw_over(QPainter& p) {
  const auto flow = desk_.plan().newest(results::flow);
  const auto channels = desk_.plan().newest(results::channels);
  const FlowSetup& f = desk_.job().flow;
  const double px = 1 / view_->camera().mm_per_px;
  if (rubber_->isChecked()) return draw_rubber(p);
  std::vector<Tag> tags;
  // Channels as they are cut; the upright is cut short where it would leave the picture.
  if (channels)
    for (const Channel& c : channels->channels) {
      std::vector<Vec3> path;
      for (const Vec3& q : c.path_mm) path.push_back(shown(q));
      const Box3 box = view_->scene().box_mm();
      path.back().z = std::min(path.back().z, box.max.z + 0.16 * box.size().z + 8);
      draw_polyline(p, *view_, path,
                    QPen(c.clear ? pal().act : pal().stop, std::clamp(c.diameter_mm * px, 3.0, 14.0), Qt::SolidLine,
                         Qt::FlatCap, Qt::RoundJoin));
      tags.push_back({path.back(),
                      QStringLiteral("%1 Ø%2").arg(qs(c.name), qs(fixed(c.diameter_mm, c.diameter_mm < 3 ? 1 : 0))),
                      c.clear ? pal().act : pal().stop});
    }
  const auto foot = [&](const Vec3& at, double r) {
    const auto q = view_->camera().project(shown(at));
    p.setPen(QPen(pal().ink, 1.4));
    p.setBrush(pal().act);
    p.drawEllipse(QPointF(q.x, q.y), r, r);
  };
  for (const Vec3& v : f.vents) foot(v, 4.5);
  if (f.gate) foot(*f.gate, 6.5);
  for (const Vec3& v : f.no_vents) {
    const auto q = view_->camera().project(shown(v));
    p.setPen(QPen(pal().stop, 2));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QPointF(q.x, q.y), 8, 8);
    p.drawLine(QPointF(q.x - 5.6, q.y + 5.6), QPointF(q.x + 5.6, q.y - 5.6));
  }
  const auto now = shown_min();
  const auto filling = desk_.plan().newest(results::filling);
  const auto original = desk_.plan().fresh(results::master);
  if (flow) {
    int told = 0;
    for (const PocketSeen& s : flow->pockets) {
      if (!s.visible) continue;
      // A pocket is one from when the front has passed the place where it was cut off.
      if (now && s.pocket.saddle_mm && original && filling->reached_min.size() == original->mesh->points.size()) {
        const uint32_t face = original->rays->closest(*s.pocket.saddle_mm).triangle;
        if (static_cast<double>(filling->reached_min[original->mesh->triangles[face][0]]) > *now) continue;
      }
      if (++told > 8) break;
      // A region without any way out is the whole mould, not a bubble.
      const Vec3 at = shown(s.pocket.apex_mm);
      const auto q = view_->camera().project(at);
      const double d = std::max(9.0, ball_diameter_mm(s.pocket.volume_mm3) * px);
      const double r = s.pocket.saddle_mm ? 0.5 * std::min(d, 120.0) : 16;
      QColor fill = pal().panel;
      fill.setAlphaF(0.9f);
      p.setBrush(fill);
      p.setPen(QPen(pal().stop, 2.4,
                    point_visible(at, view_->camera(), view_->picture(), view_->slack_mm() + 2 * flow->voxel_mm)
                        ? Qt::SolidLine
                        : Qt::DashLine));
      p.drawEllipse(QPointF(q.x, q.y), r, r * 0.72);
      p.setPen(QPen(pal().quiet, 1));
      p.setBrush(Qt::NoBrush);
      p.drawArc(QRectF(q.x - r * 0.6, q.y - r * 0.5, r * 0.7, r * 0.5), 90 * 16, 90 * 16);
      QString words = s.pocket.saddle_mm ? QStringLiteral("%1 mm³ · Ø%2")
                                               .arg(qs(significant(s.pocket.volume_mm3, 2)),
                                                    qs(fixed(ball_diameter_mm(s.pocket.volume_mm3), 1)))
                                         : QStringLiteral("no way out for the air");
      if (f.aid != FillAid::gravity) words += QStringLiteral(" → %1 mm³").arg(qs(significant(s.after_mm3, 2)));
      if (told <= 5) tags.push_back({at, words, pal().stop});
    }
  }
  draw_tags(p, *view_, tags, QRectF(12, 170, width() - 24.0, height() - 350.0));
  if (pointed_) {
    const auto q = view_->camera().project(shown(*pointed_));
    p.setPen(QPen(pal().stop, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QPointF(q.x, q.y), 22, 22);
  }
}

}  // namespace palinform::app
