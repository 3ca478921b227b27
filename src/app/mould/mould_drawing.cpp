// Mould: the scene of its canvas, and what is drawn over it.
#include <algorithm>
#include <cmath>
#include <QPainter>

#include "base/text.hpp"
#include "mould/mould_page.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "stages/building.hpp"
#include "stages/flowing.hpp"
#include "stages/wall.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

double MouldPage::out_share(size_t place, size_t count) const {
  return std::clamp(open_->value() / 100.0 * static_cast<double>(count) - static_cast<double>(place), 0.0, 1.0);
}

Vec3 MouldPage::lift(bool upper) const {
  const auto r = desk_.plan().newest(results::mould);
  if (!r) return {};
  double share = open_->value() / 100.0;
  // Of what comes apart in order each half has its turn.
  if (const auto order = desk_.plan().fresh(results::assembly))
    for (size_t k = 0; k < order->order.size(); ++k)
      if (order->order[k].shape == (upper ? 0 : 1)) share = out_share(k, order->order.size());
  const double way = share * 0.9 * r->mould.inner_mm.size().z;
  return r->mould.frame.rows[2] * (upper ? way : -way * 0.55);
}

Scene MouldPage::make_scene() const {
  Scene scene;
  scene.ground = rgb(pal().ground);
  const auto original = desk_.plan().newest(results::master);
  const auto r = desk_.plan().newest(results::mould);
  if (!r || !original) return scene;
  const Mould& m = r->block();
  Body part;
  part.shape = original->shape;
  part.colour = rgb(pal().part);
  part.cut_colour = rgb(pal().part_cut);
  part.sectioned = false;
  const auto forms = desk_.plan().newest(results::forms);
  const auto built = desk_.plan().newest(results::board);
  const double open = open_->value() / 100.0;
  const auto add = [&](const std::shared_ptr<const Shape>& shape, const QColor& colour, const Vec3& by, bool cut) {
    if (!shape) return;
    Body b;
    b.shape = shape;
    b.colour = rgb(colour);
    b.cut_colour = b.colour;
    b.place = Transform::move(by);
    b.sectioned = cut;
    scene.bodies.push_back(std::move(b));
  };
  const bool whole = forms && !forms->halved();
  const bool on_board = board_on() && !whole && built && built->shape;
  const auto is_brushed = [&](const std::string& side) {
    return forms && !side.empty() && forms->brushes(side == "a");
  };
  const auto solids = desk_.plan().fresh(results::solids);
  const double way = open * 0.9 * m.inner_mm.size().z;
  if (on_board) part.place = Transform::move(m.frame.rows[2] * way);  // the master hovers over its imprint
  scene.bodies.push_back(part);
  if (r->set)
    for (size_t k = 1; k < r->set->masters.size(); ++k) {
      const SetMaster& one = r->set->masters[k];
      Body another = part;
      if (one.part > 0) {
        const auto others = desk_.plan().newest(results::other_parts);
        if (!others || one.part > others->parts.size()) continue;
        another.shape = others->parts[one.part - 1].master->shape;
      }
      another.place = one.place;
      another.place.shift += part.place.shift;
      scene.bodies.push_back(std::move(another));
    }
  if (on_board) {
    add(built->shape, pal().rubber_b, {}, true);
  } else if (whole && built) {
    // Shells and cups part along the pull; rubber in one piece comes up off the part, out of a jacket not at all.
    add(built->whole, pal().rubber_a, built->cup_a ? Vec3{} : m.frame.rows[2] * way, true);
    const QColor shell_a = built->whole ? pal().quiet : pal().rubber_a,
                 shell_b = built->whole ? pal().quiet : pal().rubber_b;
    add(built->cup_a, shell_a, m.frame.rows[2] * way, true);
    add(built->cup_b, shell_b, m.frame.rows[2] * -way, true);
    add(built->core, pal().part_cut, built->core_draw * (2 * way), false);
  } else if (!whole && solids) {
    const auto order = desk_.plan().fresh(results::assembly);
    const auto place_of = [&](int shape, int pin) -> std::optional<double> {
      for (size_t k = 0; order && k < order->order.size(); ++k)
        if (shape >= 0 ? order->order[k].shape == shape : order->order[k].pin == pin)
          return out_share(k, order->order.size());
      return std::nullopt;
    };
    const double reach = 0.9 * m.inner_mm.size().z;
    for (size_t k = 0; k < solids->pieces.size(); ++k) {
      if (is_brushed(k == 0 ? "a" : k == 1 ? "b" : "")) continue;
      add(solids->pieces[k],
          k == 0   ? pal().rubber_a
          : k == 1 ? pal().rubber_b
                   : pal().quiet,
          k < 2 ? lift(k == 0) : solids->pulls[k] * (1.2 * reach * place_of(static_cast<int>(k), -1).value_or(open)),
          true);
    }
    // Pins and slides come out past the rubber, each in its turn.
    const auto pins = desk_.plan().fresh(results::pins);
    if (order && pins) {
      const std::string key = node_mark(desk_.plan(), results::pins);
      if (key != pins_shown_) {
        pins_shown_ = key;
        pin_shapes_.clear();
        for (const PinPlan& k : pins->pins) {
          const auto shape = make_shape(pin_mesh(k));
          pin_shapes_.push_back(shape ? *shape : nullptr);
        }
      }
      for (size_t k = 0; k < pin_shapes_.size(); ++k)
        add(pin_shapes_[k], mixed(pal().quiet, pal().ink, 0.35),
            pins->pins[k].draw * (1.1 * pins->pins[k].length_mm() * place_of(-1, static_cast<int>(k)).value_or(open)),
            false);
    }
  } else if (!whole) {
    if (!is_brushed("a")) add(r->half_a, pal().rubber_a, lift(true), true);
    if (!is_brushed("b")) add(r->half_b, pal().rubber_b, lift(false), true);
  }
  if (!whole && !on_board && forms && forms->brushed) {
    // The skin goes with its half, its backing half as far again.
    const bool upper = forms->brushed->side == "a";
    add(forms->brushed->rubber, upper ? pal().rubber_a : pal().rubber_b, lift(upper), true);
    add(forms->brushed->backing, pal().quiet, lift(upper) * 1.5, true);
  }
  // The cut runs along the box's longer side and is taken from the side nearer to the viewer.
  const bool along_u = m.inner_mm.size().x >= m.inner_mm.size().y;
  Vec3 n = m.frame.rows[along_u ? 1 : 0];
  if (dot(n, view_->camera().toward_viewer()) < 0) n = -n;
  const double from = along_u ? m.inner_mm.min.y : m.inner_mm.min.x, to = along_u ? m.inner_mm.max.y : m.inner_mm.max.x;
  const bool flipped = dot(n, m.frame.rows[along_u ? 1 : 0]) < 0;
  const double share = cut_->value() / 100.0;
  if (share > 0 && !(board_on() && !whole))
    scene.section = SectionPlane{n, flipped ? -(from + (to - from) * share) : to - (to - from) * share};
  return scene;
}

void MouldPage::draw_over(QPainter& p) {
  const auto r = desk_.plan().newest(results::mould);
  if (!r) return;
  const Mould& m = r->block();
  const Units& u = desk_.units();
  const Box3& b = m.inner_mm;
  const auto at = [&](double x, double y, double z, const Vec3& shift) {
    return m.frame.direction_back({x, y, z}) + shift;
  };
  const auto ring = [&](double z, const Vec3& shift) {
    return std::vector<Vec3>{at(b.min.x, b.min.y, z, shift), at(b.max.x, b.min.y, z, shift),
                             at(b.max.x, b.max.y, z, shift), at(b.min.x, b.max.y, z, shift)};
  };
  const auto forms = desk_.plan().newest(results::forms);
  const bool halved = forms && forms->halved();
  const auto keys = desk_.plan().newest(results::keys);
  std::vector<Tag> key_tags;
  if (halved && keys) {
    const Vec3 by = board_on() ? Vec3{} : lift(false);
    for (size_t n = 0; n < keys->plan.keys.size(); ++n) {
      const Key& k = keys->plan.keys[n];
      const bool bad = k.clearance_mm < 2 - 0.05 || !keys->plan.assembly_unique;
      std::vector<Vec3> foot;
      for (int a = 0; a < 32; ++a) {
        const double t = a * 0.19634954, c = std::cos(k.along_deg * 0.017453293),
                     s = std::sin(k.along_deg * 0.017453293);
        const double px = k.radius_mm * std::cos(t) + std::copysign(k.half_length_mm, std::cos(t)),
                     py = k.radius_mm * std::sin(t);
        foot.push_back(
            at(k.at_mm.x + c * px - s * py, k.at_mm.y + s * px + c * py, k.at_mm.z + (board_on() ? 0.2 : 0), by));
      }
      draw_polyline(p, *view_, foot, QPen(bad ? pal().stop : pal().act, 2), true);
      if (bad)
        key_tags.push_back(
            {at(k.at_mm.x, k.at_mm.y, k.at_mm.z, by),
             QStringLiteral("key %1: %2 clear").arg(n + 1).arg(u.length_unit_text(std::max(0.0, k.clearance_mm), 1)),
             pal().stop});
    }
  }
  if (const auto built = desk_.plan().newest(results::board); built && forms && forms->form == Form::skin) {
    const double way = open_->value() / 100.0 * 0.9 * m.inner_mm.size().z;
    const Vec3 by = m.frame.rows[2] * -way;
    if (!built->bolts_mm.empty())
      key_tags.push_back(
          {built->bolts_mm.front() + by, QStringLiteral("bolt Ø6, one of %1").arg(built->bolts_mm.size()), pal().act});
    if (!built->pry_mm.empty())
      key_tags.push_back({built->pry_mm.front() + by, QStringLiteral("slot to pry at"), pal().act});
  }
  if (board_on() || (forms && !halved)) {
    draw_tags(p, *view_, key_tags, QRectF(12, 106, width() - 232.0, height() - 150.0));
    return;
  }
  // The box as thin lines about both halves, closed mould only; the fill lines where each pour ends.
  if (open_->value() == 0)
    for (int k = 0; k < 4; ++k) {
      const double x = k & 1 ? b.max.x : b.min.x, y = k & 2 ? b.max.y : b.min.y;
      draw_polyline(p, *view_, {at(x, y, b.min.z, {}), at(x, y, b.max.z, {})}, QPen(pal().quiet, 1.2));
    }
  const Vec3 up = lift(true), down = lift(false);
  draw_polyline(p, *view_, ring(b.max.z, up), QPen(pal().act, 2.4), true);
  draw_polyline(p, *view_, ring(b.min.z, down), QPen(pal().act, 2.4), true);
  std::vector<Tag> tags = key_tags;
  if (const auto order = desk_.plan().fresh(results::assembly); order && open_->value() > 0) {
    // Numbered as they come out.
    const auto solids = desk_.plan().fresh(results::solids);
    const auto pins = desk_.plan().fresh(results::pins);
    for (size_t k = 0; k < order->order.size(); ++k) {
      const AssemblyResult::Member& e = order->order[k];
      const double share = out_share(k, order->order.size());
      Vec3 tip;
      if (e.pin >= 0 && pins && e.pin < static_cast<int>(pins->pins.size())) {
        const PinPlan& pin = pins->pins[static_cast<size_t>(e.pin)];
        tip = pin.foot_mm + pin.draw * (pin.length_mm() * (1 + 1.1 * share));
      } else if (e.shape >= 0 && solids && e.shape < static_cast<int>(solids->pieces.size())) {
        const Vec3 by = e.shape < 2 ? lift(e.shape == 0) : e.draw * (1.08 * b.size().z * share);
        const Box3& own = solids->pieces[static_cast<size_t>(e.shape)]->box_mm;
        tip = own.centre() + e.draw * (0.5 * std::abs(dot(own.size(), e.draw))) + by;
      } else {
        continue;
      }
      tags.push_back({tip, QStringLiteral("%1 · %2").arg(k + 1).arg(qs(e.name)), share > 0 ? pal().act : pal().quiet});
    }
  } else if (m.pours.size() == 2) {
    const auto filled_with = [&](std::string_view side) {
      return forms && forms->brushes(side == "a") ? QStringLiteral("backing") : QStringLiteral("rubber");
    };
    tags.push_back({at(b.min.x, b.min.y, b.max.z, up),
                    QStringLiteral("fill line a · %1 of %2")
                        .arg(u.length_unit_text(m.pours[0].fill_height_mm, 0), filled_with("a")),
                    pal().act});
    tags.push_back({at(b.min.x, b.min.y, b.min.z, down),
                    QStringLiteral("fill line b, turned over · %1 of %2")
                        .arg(u.length_unit_text(m.pours[1].fill_height_mm, 0), filled_with("b")),
                    pal().act});
  }
  draw_tags(p, *view_, tags, QRectF(12, 106, width() - 232.0, height() - 150.0));
}

}  // namespace palinform::app
