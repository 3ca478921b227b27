#include "stages/form_building.hpp"

#include "flow/strip_up.hpp"

namespace palinform {
namespace {

constexpr double coarse_in_hand = 3;

}  // namespace

Result<PartDistances> distances_in_hand(const TriMesh& mesh, const Transform& frame, double skin_mm,
                                        const JacketRules& rules, const Progress& progress) {
  const double voxel = coarse_in_hand * skin_voxel_mm(measure(mesh).box_mm.size());
  return part_distances(mesh, frame, voxel, skin_mm + rules.key_high_mm + 3 * voxel, progress);
}

Result<BrushedResult> brushed_result(const TriMesh& mesh, bool in_hand, const PartDistances* near, const Mould& m,
                                     const Job& job, Brushed half, const MouldRules& rules, const Progress& progress) {
  BrushedResult r;
  r.side = std::string(name_of(half));
  for (const Coat& c : job.mould.coats) r.coats_mm.push_back(c.mm);
  if (r.coats_mm.empty()) r.coats_mm = coats_by_rule_mm(rules.forms);
  BrushedHalfAsked asked;
  asked.upper = half == Brushed::a;
  asked.outer_mm = coat_offsets_mm(r.coats_mm, rules.forms);
  asked.rules = rules.jacket;
  std::vector<Vec3> places;
  for (const Vec3& p : job.mould.key_places) places.push_back(m.frame.direction(p));
  const KeyPlan keys = place_keys(m, *named<KeyKind>(job.mould.keys),
                                  key_rules(rules.keys, job.mould.key_mm, job.mould.key_clear_mm), places);
  asked.bed_mm = [&](double u, double v) { return m.parting_at(u, v) + keys.bump_mm(u, v, m.inner_mm); };
  asked.to_write = false;
  if (in_hand) asked.near = near, asked.voxel_mm = coarse_in_hand * skin_voxel_mm(m.inner_mm.size());
  auto built = brushed_half(mesh, m, asked, progress);
  if (!built) return built.error();
  r.coats_mm3 = built->coats_mm3;
  r.filler_mm3 = built->filler_mm3, r.backing_mm3 = built->backing_mm3, r.keys_mm3 = built->keys_mm3;
  for (auto [from, to] : {std::pair{&built->rubber, &r.rubber}, {&built->backing, &r.backing}}) {
    auto shape = make_shape(std::move(*from));
    if (!shape) return shape.error();
    *to = *shape;
  }
  return r;
}

Result<HangingResult> hanging_result(const OriginalResult& master, const Vec3& pull,
                                     const std::optional<Vec3>& flat_side, const OtherPartsResult* others,
                                     const StripRules& rules, const Progress& progress) {
  HangingResult r;
  const auto way_up = [&](const OriginalResult& part, const Vec3& along, const Progress& here) {
    StrutsFor struts;
    if (rules.strut_mm > 0) struts = [&](const Vec3& up) { return strut_places({part.mesh.get(), up, 1}, rules); };
    return strip_up(*part.mesh, *part.rays, along, struts, here);
  };
  const double share = 1.0 / (1.0 + static_cast<double>(others ? others->parts.size() : 0));
  if (flat_side) {
    r.up = -*flat_side;
  } else {
    const auto up = way_up(master, pull, progress.part(0, share));
    if (!up) return up.error();
    r.up = *up;
  }
  if (rules.strut_mm > 0) r.struts_mm = strut_places({master.mesh.get(), r.up, 1}, rules);
  for (size_t k = 0; others && k < others->parts.size(); ++k) {
    const OtherPart& o = others->parts[k];
    const double done = static_cast<double>(k + 1);
    const auto up = way_up(*o.master, o.split.pull, progress.part(share * done, share * (done + 1)));
    if (!up) return up.error();
    r.on_bar.push_back({o.master, *up, o.masters, o.cast_mm3(), o.sockets, o.seats_mm3[0] + o.seats_mm3[1]});
  }
  return r;
}

}  // namespace palinform
