#include "mould/form_builds.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mesh/lighter.hpp"
#include "mould/coat_sides.hpp"
#include "mould/forms.hpp"
#include "mould/jacket_amounts.hpp"

namespace palinform {

double form_voxel_mm(double largest_mm, double voxels_across) { return std::max(0.4, largest_mm / voxels_across); }

double growth_reach_mm(double skin_mm, double putty_mm) {
  constexpr double step = 5;
  return step * std::ceil(std::max({skin_mm, putty_mm, 0.1}) / step);
}

Result<Growth> growth_of(const TriMesh& mesh, double voxel_mm, double reach_mm, const Progress& progress) {
  Growth g;
  if (mesh.triangles.size() > 60'000) g.light = std::make_shared<const TriMesh>(lighter(mesh, 20'000, 0.08 * voxel_mm));
  auto curve = growth_curve(g.light ? *g.light : mesh, reach_mm, voxel_mm, progress);
  if (!curve) return curve.error();
  g.curve = *std::move(curve);
  return g;
}

double field_skin_mm(double skin_mm) {
  constexpr double step = 3, spare = 0.5;
  return step * std::ceil((skin_mm + spare) / step);
}

double jacket_voxel_mm(bool in_hand, double largest_mm, double voxels_across) {
  return in_hand ? 0 : std::max(0.9, 1.15 * largest_mm / voxels_across);
}

Result<WholePours> whole_pours(const TriMesh& mesh, const Transform& frame, const Walls& walls,
                               const std::optional<Vec3>& flat_normal, double pitch_mm, const Progress& progress) {
  WholePours out;
  if (flat_normal) {
    const Transform up = frame_around(mesh, -*flat_normal);
    Walls standing = walls;
    standing.floor_mm = 0;
    auto pour = pour_around(mesh, up, standing, "whole", pitch_mm, progress.part(0, 0.5));
    if (!pour) return pour.error();
    out.open = *std::move(pour);
    out.open_box_mm = box_round(box_in(mesh, up), standing).size();
  }
  auto pour = pour_around(mesh, frame, walls, "whole", pitch_mm, progress.part(0.5, 1));
  if (!pour) return pour.error();
  out.cut = *std::move(pour);
  return out;
}

double coat_cells(bool in_hand, double voxels_across) {
  return std::min(1.0, voxels_across / 80) * (in_hand ? 60'000 : 15'000);
}

bool bore_takes_a_core(const Bore& b, double part_mm3) {
  constexpr double least_share = 0.08;
  return std::numbers::pi / 4 * b.diameter_mm * b.diameter_mm * b.depth_mm > least_share * std::max(1.0, part_mm3);
}

bool cup_is_counted(const Bore& bore, double part_mm3, bool resin_is_rubber, bool in_hand) {
  return in_hand || (resin_is_rubber && bore_takes_a_core(bore, part_mm3));
}
double cup_amount_voxel_mm(const TriMesh& mesh, bool in_hand, double asked_mm, double largest_mm, double across) {
  return in_hand ? cup_voxel_mm(mesh, asked_mm) : std::max(0.7, 1.15 * largest_mm / across);
}

Result<double> cup_amount_mm3(const TriMesh& mesh, const RayScene& rays, const Split& split, const Bore& bore,
                              double wall_mm, double voxel_mm, const Progress& progress) {
  const auto built = cup_and_core(mesh, rays, split, bore, wall_mm, voxel_mm, progress);
  if (!built) return built.error();
  double sum = 0;
  for (const TriMesh* m : {&built->cup_a, &built->cup_b, &built->core}) sum += measure(*m).volume_mm3;
  return sum;
}

std::vector<double> coat_offsets_mm(const std::vector<double>& coats_mm, const FormRates& rates) {
  std::vector<double> out;
  double outer = 0;
  for (const double mm : coats_mm.empty() ? coats_by_rule_mm(rates) : coats_mm) out.push_back(outer += mm);
  return out;
}

Result<FormBuilds> build_for_forms(const TriMesh& mesh, const RayScene& rays, const Split& split, const Mould& two,
                                   const std::vector<Bore>& bores, const FormFacts& f, const FormRates& r,
                                   const Progress& progress) {
  FormBuilds out;
  const Vec3 size = f.own_size_mm.x > 0 ? f.own_size_mm : own_size_mm(mesh);  // the same however it lies in its file
  const double largest = std::max({size.x, size.y, size.z});
  const std::vector<double> outer = coat_offsets_mm(f.coats_mm, r);
  const auto growth = growth_of(mesh, form_voxel_mm(largest, f.voxels_across),
                                growth_reach_mm(outer.back(), r.putty_mm), progress.part(0, 0.3));
  if (!growth) return growth.error();
  out.growth = growth->curve;
  const bool line = !split.loops.empty(), skin = f.chosen == Form::skin;
  if (line) {
    JacketRules rules = f.jacket;
    rules.skin_mm = outer.back(), rules.shell_mm = r.jacket_mm;
    const auto field = jacket_field(!skin && growth->light ? *growth->light : mesh, two.frame, rules,
                                    jacket_voxel_mm(skin, largest, f.voxels_across), progress.part(0.3, 0.6));
    if (!field) return field.error();
    out.jacket = jacket_amounts(*field, two, rules);
  }
  out.coats_a = line ? coat_shares_a(skin_samples(mesh, rays, split, two, field_skin_mm(outer.back()),
                                                  coat_cells(skin, f.voxels_across)),
                                     outer)
                     : std::vector<double>(outer.size(), 1.0);
  auto whole = whole_pours(mesh, two.frame, f.walls, f.flat_normal, 0, progress.part(0.6, 0.7));
  if (!whole) return whole.error();
  out.whole = *std::move(whole);
  const bool cup_in_hand = f.chosen == Form::cup_core;
  if (const Bore* bore = core_bore(bores);
      bore && line && cup_is_counted(*bore, two.part_mm3, f.resin_is_rubber, cup_in_hand)) {
    const auto cup = cup_amount_mm3(mesh, rays, split, *bore, r.cup_wall_mm,
                                    cup_amount_voxel_mm(mesh, cup_in_hand, f.voxel_mm, largest, f.voxels_across),
                                    progress.part(0.7, 1));
    if (!cup) return cup.error();
    out.cup_core_mm3 = *cup;
  }
  return out;
}

}  // namespace palinform
