#include "original/master.hpp"

#include <array>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
std::string words_of(const MasterStep& s) {
  switch (s.kind) {
    case MasterStep::Kind::mirror:
      return std::string("mirrored across ") + "xyz"[s.axis];
    case MasterStep::Kind::stock:
      return significant(s.mm, 2) + " mm of stock";
    case MasterStep::Kind::plug:
      return s.mm > 0 ? "bore plugged, dimple " + significant(s.mm, 2) + " mm" : "bore taped over";
    default:
      return "joined with " + s.file;
  }
}

Status check_step(const MasterStep& s) {
  if (s.axis < 0 || s.axis > 2) return Error{"a mirror needs the axis x, y or z", "master", ""};
  if (!finite(s.point_mm) || !std::isfinite(s.mm))
    return Error{"a step has no place", "master", "Click the face again."};
  if (s.kind == MasterStep::Kind::stock && !(s.mm > 0 && s.mm <= 100))
    return Error{"the stock must be above 0 and up to 100 mm", "master", "0.5 to 1 mm is usual."};
  if (s.kind == MasterStep::Kind::plug && !(s.mm >= 0 && s.mm <= 100))
    return Error{"the dimple must be from 0 to 100 mm", "master", "A quarter of the bore is usual."};
  if (s.kind == MasterStep::Kind::join && s.mesh.empty())
    return Error{"the other half is missing", "master", "Choose its file."};
  return {};
}

Result<double> bare_volume_mm3(const BareOriginal& b) {
  const auto bad = [](std::string what, std::string remedy) {
    return Error{std::move(what), "original", std::move(remedy)};
  };
  for (int k = 0; k < 3; ++k)
    if (!std::isfinite(b.extent_mm[k]) || !(b.extent_mm[k] > 0))
      return bad("length, width and height must be above zero", "Measure the box the part fits in.");
  double volume = 0;
  if (b.displaced_ml) {
    volume = *b.displaced_ml * 1000;
  } else if (b.weighed_g) {
    if (!(b.density_g_cm3 > 0))
      return bad("the density must be above zero", "1.1 g/cm³ for most plastics, 7.8 for steel.");
    volume = *b.weighed_g / b.density_g_cm3 * 1000;
  } else {
    return bad("its volume is missing", "Dip it in a measuring cup, or weigh it and give its density.");
  }
  if (!std::isfinite(volume) || !(volume > 0)) return bad("the volume must be above zero", "Measure it again.");
  const double box = b.extent_mm.x * b.extent_mm.y * b.extent_mm.z;
  if (volume > box * 1.02)
    return bad(
        "a volume of " + grouped(volume * 1e-3, 1) + " ml does not fit into a box of " + grouped(box * 1e-3, 1) + " ml",
        "Check the measures, the reading and the density.");
  return volume;
}

double bare_volume_u_mm3(const BareOriginal& b) {
  const auto v = bare_volume_mm3(b);
  if (!v) return 0;
  return b.displaced_ml ? std::max(0.02 * *v, 500.0) : 0.03 * *v;
}

}  // namespace palinform
