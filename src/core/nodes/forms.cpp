// Mould: what the forms are counted on, and the forms. A node for each, so that an edit builds again only what stands
// on what it changed.
#include "findings/mould.hpp"
#include "job/parts.hpp"
#include "mould/coat_sides.hpp"
#include "mould/jacket_amounts.hpp"
#include "nodes/nodes.hpp"
#include "stages/form_building.hpp"
#include "stages/forming.hpp"
#include "stages/materials.hpp"

namespace palinform {
namespace {

struct GrowthIn {
  Fresh<OriginalResult> master;
  double voxel_mm, reach_mm;
  auto fields(auto&& f) const { return f(master, voxel_mm, reach_mm); }
};
struct FieldIn {
  Fresh<OriginalResult> master;
  Implied<Growth> growth;  // its lighter copy, of a form that is not the one in hand
  std::array<Vec3, 3> rows;
  Vec3 shift_mm;  // of the mould's frame
  bool light;
  double voxel_mm, skin_mm;
  auto fields(auto&& f) const { return f(master, growth, rows, shift_mm, light, voxel_mm, skin_mm); }
};
struct JacketIn {
  Fresh<JacketField> field;
  Fresh<MouldResult> mould;
  double skin_mm;
  int every;  // point of the field
  auto fields(auto&& f) const { return f(field, mould, skin_mm, every); }
};
struct SkinPlacesIn {
  Fresh<OriginalResult> master;
  std::array<Vec3, 3> rows;
  Vec3 shift_mm;  // of the mould's frame: a wall that is dragged leaves it as it is
  double reach_mm, cells;
  auto fields(auto&& f) const { return f(master, rows, shift_mm, reach_mm, cells); }
};
struct SkinSamplesIn {
  Fresh<SkinPlaces> places;
  Implied<SplitResult> split;  // by the mould
  Fresh<MouldResult> mould;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(places, split, mould); }
};
struct CoatSidesIn {
  Fresh<SkinSamples> samples;
  std::vector<double> outer_mm;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(samples, outer_mm); }
};
struct CupIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  Fresh<BoresResult> bores;
  double voxel_mm;
  auto fields(auto&& f) const { return f(master, split, bores, voxel_mm); }
};
struct WholeIn {
  Implied<OriginalResult> master;  // by the mould
  Fresh<MouldResult> mould;
  std::optional<Vec3> flat_normal;
  double pitch_mm;  // 0: as the part asks
  auto fields(auto&& f) const { return f(master, mould, flat_normal, pitch_mm); }
};
struct HangingIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  std::optional<Vec3> flat_side;
  Fresh<OtherPartsResult> others;
  auto fields(auto&& f) const { return f(master, split, flat_side, others); }
};
struct DistancesIn {
  Fresh<OriginalResult> master;
  Implied<Growth> growth;  // its lighter copy
  std::array<Vec3, 3> rows;
  Vec3 shift_mm;  // of the mould's frame
  double skin_mm;
  auto fields(auto&& f) const { return f(master, growth, rows, shift_mm, skin_mm); }
};
struct BrushedIn {
  Implied<OriginalResult> master;  // by the mould
  Fresh<MouldResult> mould;
  Implied<Growth> growth;  // by the master, what is wanted of it
  Job only;
  Brushed half;
  bool in_hand;
  Fresh<PartDistances> near = {};  // then, of one master
  auto fields(auto&& f) const { return f(master, mould, growth, only, half, in_hand, near); }
};
struct FormsIn {
  Implied<OriginalResult> master;  // by the mould
  Implied<SplitResult> split;
  Fresh<MouldResult> mould;
  Implied<BoresResult> bores;  // by the facts
  Implied<UndercutsResult> undercuts;
  Fresh<WayFacts> facts;
  Fresh<BedsResult> beds;
  Job only;
  Fresh<Growth> growth;
  Fresh<JacketAmounts> jacket;
  Fresh<CoatSidesResult> coat_sides;
  Fresh<CupAmount> cup;  // where it is counted
  Fresh<WholePours> whole;
  Fresh<HangingResult> hanging;  // of a strip
  Fresh<BrushedResult> brushed;  // where a half is
  auto fields(auto&& f) const {
    return f(master, split, mould, bores, undercuts, facts, beds, only, growth, jacket, coat_sides, cup, whole, hanging,
             brushed);
  }
};

double largest_mm(const OriginalResult& master) { return master.own_size_mm.x; }  // largest first
std::vector<double> outer_mm(const Job& job, const FormRates& rates) {
  std::vector<double> mm;
  for (const Coat& c : job.mould.coats) mm.push_back(c.mm);
  return coat_offsets_mm(mm, rates);
}
bool skin_in_hand(const Job& job) { return job.mould.planned_form() == Form::skin; }
bool strip_of(const Job& job) { return job.mould.planned_form() == Form::strip; }
bool cup_in_hand(const Job& job) { return job.mould.planned_form() == Form::cup_core; }
bool casts_rubber(const Job& job, const Shop& shop) {
  const Resin* resin = shop_of(materials_only(job.mix), shop)->shelf.resin(job.mix.resin_id);
  return resin && resin->shore_a.has_value();
}
bool half_brushed(const Job& job, const MouldResult& mould) {
  return brushed_half_of(job) != Brushed::none && mould.block().pours.size() == 2;
}
/// The bore whose core is counted; null: none is.
const Bore* counted_cup(const Job& job, const Shop& shop, const BoresResult& bores, const MouldResult& mould) {
  const Bore* bore = core_bore(bores.bores);
  return bore && cup_is_counted(*bore, mould.mould.part_mm3, casts_rubber(job, shop), cup_in_hand(job)) ? bore
                                                                                                        : nullptr;
}

}  // namespace

void add_form_nodes(std::vector<Node>& nodes, const Shop& shop) {
  nodes.push_back(job_node(
      results::growth,
      [&shop](const Job& job, const View& plan) -> std::optional<GrowthIn> {
        GrowthIn in{plan.fresh(results::master), 0, 0};
        if (!in.master) return std::nullopt;
        const FormRates& rates = shop.rules.mould.forms;
        in.voxel_mm = form_voxel_mm(largest_mm(*in.master), plan.subject<Subject>().study.form_voxels);
        in.reach_mm = growth_reach_mm(outer_mm(job, rates).back(), rates.putty_mm);
        return in;
      },
      [](const GrowthIn& in, const Progress& progress) {
        return growth_of(*in.master->mesh, in.voxel_mm, in.reach_mm, progress);
      }));

  nodes.push_back(job_node(
      results::jacket_field,
      [&shop](const Job& job, const View& plan) -> std::optional<FieldIn> {
        FieldIn in{plan.fresh(results::master), plan.fresh(results::growth), {}, {}, !skin_in_hand(job), 0, 0};
        const auto mould = plan.fresh(results::mould);
        if (!in.master || !in.growth || !mould) return std::nullopt;
        const Study& study = plan.subject<Subject>().study;
        in.rows = mould->mould.frame.rows, in.shift_mm = mould->mould.frame.shift;
        in.voxel_mm = jacket_voxel_mm(skin_in_hand(job), largest_mm(*in.master), study.form_voxels);
        in.skin_mm = field_skin_mm(outer_mm(job, shop.rules.mould.forms).back());
        return in;
      },
      [&shop](const FieldIn& in, const Progress& progress) {
        return jacket_field(in.light && in.growth->light ? *in.growth->light : *in.master->mesh, {in.rows, in.shift_mm},
                            jacket_rules(shop.rules.mould, in.skin_mm), in.voxel_mm, progress);
      }));

  nodes.push_back(job_node(
      results::jacket,
      [&shop](const Job& job, const View& plan) -> std::optional<JacketIn> {
        JacketIn in{plan.fresh(results::jacket_field), plan.fresh(results::mould),
                    outer_mm(job, shop.rules.mould.forms).back(), 1};
        if (!in.field || !in.mould) return std::nullopt;
        // While something is dragged the same field is looked at as coarsely as that of a form not in hand; of those
        // every second point will do.
        const Study& study = plan.subject<Subject>().study;
        if (const auto master = plan.fresh(results::master); master && study.in_hand)
          in.every = skin_in_hand(job)
                         ? static_cast<int>(std::lround(jacket_voxel_mm(false, largest_mm(*master), study.form_voxels) /
                                                        in.field->distance.voxel_mm))
                         : 2;
        return in;
      },
      [&shop](const JacketIn& in, const Progress&) -> Result<JacketAmounts> {
        return jacket_amounts(in.every > 1 ? coarser(*in.field, in.every) : *in.field, in.mould->mould,
                              jacket_rules(shop.rules.mould, in.skin_mm));
      }));

  nodes.push_back(job_node(
      results::skin_places,
      [&shop](const Job& job, const View& plan) -> std::optional<SkinPlacesIn> {
        SkinPlacesIn in{plan.fresh(results::master), {}, {}, 0, 0};
        const auto mould = plan.fresh(results::mould);
        if (!in.master || !mould) return std::nullopt;
        in.rows = mould->mould.frame.rows, in.shift_mm = mould->mould.frame.shift;
        in.reach_mm = field_skin_mm(outer_mm(job, shop.rules.mould.forms).back());
        in.cells = coat_cells(skin_in_hand(job), plan.subject<Subject>().study.form_voxels);
        return in;
      },
      [](const SkinPlacesIn& in, const Progress&) -> Result<SkinPlaces> {
        return skin_places(*in.master->mesh, *in.master->rays, {in.rows, in.shift_mm}, in.reach_mm, in.cells);
      }));

  nodes.push_back(job_node(
      results::skin_samples,
      [](const Job&, const View& plan) -> std::optional<SkinSamplesIn> {
        SkinSamplesIn in{plan.fresh(results::skin_places), plan.fresh(results::split), plan.fresh(results::mould)};
        return in.places && in.split && in.mould ? std::optional(in) : std::nullopt;
      },
      [](const SkinSamplesIn& in, const Progress&) -> Result<SkinSamples> {
        return sided(*in.places, in.split->split, in.mould->mould);
      }));

  nodes.push_back(job_node(
      results::coat_sides,
      [&shop](const Job& job, const View& plan) -> std::optional<CoatSidesIn> {
        CoatSidesIn in{plan.fresh(results::skin_samples), outer_mm(job, shop.rules.mould.forms)};
        return in.samples ? std::optional(in) : std::nullopt;
      },
      [](const CoatSidesIn& in, const Progress&) -> Result<CoatSidesResult> {
        return coat_shares_a(*in.samples, in.outer_mm);
      }));

  nodes.push_back(job_node(
      results::cup,
      [&shop](const Job& job, const View& plan) -> std::optional<CupIn> {
        CupIn in{plan.fresh(results::master), plan.fresh(results::split), plan.fresh(results::bores), 0};
        const auto mould = plan.fresh(results::mould);
        if (!in.master || !in.split || !in.bores || !mould || !counted_cup(job, shop, *in.bores, *mould))
          return std::nullopt;
        in.voxel_mm = cup_amount_voxel_mm(*in.master->mesh, cup_in_hand(job), job.mould.build.voxel_mm,
                                          largest_mm(*in.master), plan.subject<Subject>().study.form_voxels);
        return in;
      },
      [&shop](const CupIn& in, const Progress& progress) -> Result<CupAmount> {
        const auto mm3 =
            cup_amount_mm3(*in.master->mesh, *in.master->rays, in.split->split, *core_bore(in.bores->bores),
                           shop.rules.mould.forms.cup_wall_mm, in.voxel_mm, progress);
        if (!mm3) return mm3.error();
        return CupAmount{*mm3};
      }));

  nodes.push_back(job_node(
      results::whole_pours,
      [](const Job&, const View& plan) -> std::optional<WholeIn> {
        const auto facts = plan.fresh(results::facts);
        WholeIn in{plan.fresh(results::master), plan.fresh(results::mould), {}, 0};
        if (!in.master || !in.mould || !facts) return std::nullopt;
        if (plan.subject<Subject>().study.in_hand) in.pitch_mm = pitch_in_hand_mm(in.master->own_size_mm);
        in.flat_normal = facts->flat_normal;
        return in;
      },
      [](const WholeIn& in, const Progress& progress) {
        return whole_pours(*in.master->mesh, in.mould->mould.frame, in.mould->block().walls, in.flat_normal,
                           in.pitch_mm, progress);
      }));

  nodes.push_back(job_node(
      results::hanging,
      [](const Job& job, const View& plan) -> std::optional<HangingIn> {
        const auto facts = plan.fresh(results::facts);
        HangingIn in{plan.fresh(results::master), plan.fresh(results::split), {}, {}};
        if (!strip_of(job) || !in.master || !in.split || !facts) return std::nullopt;
        if (parts_on_bar(job) && !(in.others = plan.fresh(results::other_parts))) return std::nullopt;
        in.flat_side = flat_side(Form::strip, *facts);
        return in;
      },
      [&shop](const HangingIn& in, const Progress& progress) {
        return hanging_result(*in.master, in.split->split.pull, in.flat_side, in.others.get(), shop.rules.mould.strip,
                              progress);
      }));

  // Also at rest: the first step of a drag then finds it there.
  nodes.push_back(job_node(
      results::part_distances,
      [&shop](const Job& job, const View& plan) -> std::optional<DistancesIn> {
        DistancesIn in{plan.fresh(results::master), plan.fresh(results::growth), {}, {}, 0};
        const auto mould = plan.fresh(results::mould);
        if (!in.master || !in.growth || !mould || mould->set || !half_brushed(job, *mould)) return std::nullopt;
        in.rows = mould->mould.frame.rows, in.shift_mm = mould->mould.frame.shift;
        in.skin_mm = field_skin_mm(outer_mm(job, shop.rules.mould.forms).back());
        return in;
      },
      [&shop](const DistancesIn& in, const Progress& progress) {
        return distances_in_hand(in.growth->light ? *in.growth->light : *in.master->mesh, {in.rows, in.shift_mm},
                                 in.skin_mm, shop.rules.mould.jacket, progress);
      }));

  nodes.push_back(job_node(
      results::brushed,
      [](const Job& job, const View& plan) -> std::optional<BrushedIn> {
        BrushedIn in{plan.fresh(results::master), plan.fresh(results::mould),           plan.fresh(results::growth), {},
                     brushed_half_of(job),        plan.subject<Subject>().study.in_hand};
        if (!in.master || !in.growth || !in.mould || !half_brushed(job, *in.mould)) return std::nullopt;
        if (in.in_hand && !in.mould->set && !(in.near = plan.fresh(results::part_distances))) return std::nullopt;
        in.only.mould.coats = job.mould.coats;
        in.only.mould.keys = job.mould.keys;
        in.only.mould.key_places = job.mould.key_places;
        in.only.mould.key_mm = job.mould.key_mm, in.only.mould.key_clear_mm = job.mould.key_clear_mm;
        return in;
      },
      [&shop](const BrushedIn& in, const Progress& progress) {
        const TriMesh& mesh = in.mould->set                    ? *in.mould->set->mesh
                              : in.in_hand && in.growth->light ? *in.growth->light
                                                               : *in.master->mesh;
        return brushed_result(mesh, in.in_hand, in.near.get(), in.mould->block(), in.only, in.half, shop.rules.mould,
                              progress);
      }));

  nodes.push_back(job_node(
      results::forms,
      [&shop](const Job& job, const View& plan) -> std::optional<FormsIn> {
        FormsIn in{plan.fresh(results::master),
                   plan.fresh(results::split),
                   plan.fresh(results::mould),
                   plan.fresh(results::bores),
                   plan.fresh(results::undercuts),
                   plan.fresh(results::facts),
                   plan.fresh(results::beds),
                   {},
                   plan.fresh(results::growth),
                   plan.fresh(results::jacket),
                   plan.fresh(results::coat_sides),
                   plan.fresh(results::cup),
                   plan.fresh(results::whole_pours),
                   {},
                   {}};
        if (!in.master || !in.split || !in.mould || !in.bores || !in.undercuts || !in.facts || !in.beds || !in.growth ||
            !in.jacket || !in.coat_sides || !in.whole)
          return std::nullopt;
        if (counted_cup(job, shop, *in.bores, *in.mould) && !in.cup) return std::nullopt;
        if (strip_of(job) && !(in.hanging = plan.fresh(results::hanging))) return std::nullopt;
        if (half_brushed(job, *in.mould) && !(in.brushed = plan.fresh(results::brushed))) return std::nullopt;
        in.only.copies = job.copies;
        in.only.mix = materials_only(job.mix);
        in.only.mix.rubber_air = job.mix.rubber_air;
        in.only.mould.build = job.mould.build;
        in.only.mould.box = job.mould.box;
        in.only.mould.own_box = job.mould.own_box;
        in.only.mould.masters = job.mould.masters;
        in.only.mould.form = job.mould.form;
        in.only.flow.head_mm = job.flow.head_mm;
        in.only.flow.aid = job.flow.aid;
        if (by_pot(job.flow.aid)) in.only.flow.pressure_kpa = job.flow.pressure_kpa;
        in.only.flow.squeeze.over_pct = job.flow.squeeze.over_pct;
        in.only.mould.coats = job.mould.coats;
        in.only.mould.brushed = brushed_half_of(job);
        in.only.parts = counts_only(job.parts);
        return in;
      },
      [&shop](const FormsIn& in, const Progress& progress) -> Result<FormsResult> {
        FormsBuilt built;
        built.amounts = {in.growth->curve, *in.coat_sides, *in.jacket, {}, *in.whole};
        if (in.cup) built.amounts.cup_core_mm3 = in.cup->mm3;
        built.hanging = in.hanging, built.brushed = in.brushed;
        auto r = forms_result(
            {*in.master, in.split->split, *in.mould, in.bores->bores, *in.undercuts, *in.facts, in.beds->ways}, built,
            in.only, *shop_of(in.only.mix, shop), progress);
        if (r) r->findings = form_findings(*r, *in.mould, in.only, shop.rules);
        return r;
      }));
}

}  // namespace palinform
