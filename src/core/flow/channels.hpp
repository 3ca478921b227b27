#pragma once
/// Gate and vents as channels that can be cut: upright where nothing stands over them, else beside the part first.
#include "base/fields.hpp"
#include "mesh/rays.hpp"
#include "mould/channel.hpp"

namespace palinform {

/// Rules of thumb.
struct ChannelRules {
  double gate_mm = 5, vent_mm = 2;           ///< diameters
  double sink_mm = 0.6;                      ///< foot inside the part's wall
  double beside_mm = 6;                      ///< least rubber between a sprue and the part
  double cup_ratio = 2.6, cup_deep_mm = 12;  ///< funnel of the sprue: the reservoir
  static void fields(auto& s, auto&& f) {
    f("gate_mm", s.gate_mm, Within{0.5, 60});
    f("vent_mm", s.vent_mm, Within{0.2, 30});
    f("sink_mm", s.sink_mm, Within{0, 20});
    f("beside_mm", s.beside_mm, Within{0, 1000});
    f("cup_ratio", s.cup_ratio, Within{1, 10});
    f("cup_deep_mm", s.cup_deep_mm, Within{0, 1000});
  }
};

/// From `at_mm` on the part's wall to the height `top_mm` along unit `up` (measured from the origin). The first way
/// that is clear of the part: straight up; out to one of 24 sides and up. With none clear, straight up, `clear` false.
Channel plan_channel(const RayScene& rays, const Box3& box_mm, const Vec3& at_mm, const Vec3& wall_normal,
                     const Vec3& up, double top_mm, bool gate, const std::string& name, const ChannelRules& rules = {});

/// Height along unit `up` that every corner of a box in a frame (rows) lies under.
double top_along(const Box3& box_in_frame_mm, const Transform& frame, const Vec3& up);

}  // namespace palinform
