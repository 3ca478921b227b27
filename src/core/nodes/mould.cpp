// Mould: the block, the forms it might take, keys, what is built for it.
#include "findings/mould.hpp"
#include "findings/vessels.hpp"
#include "job/parts.hpp"
#include "nodes/nodes.hpp"
#include "stages/forming.hpp"
#include "stages/materials.hpp"
#include "stages/other_parts.hpp"
#include "stages/wall.hpp"

namespace palinform {
namespace {

struct PartsIn {
  std::vector<Job> alone;
  std::vector<std::string> names;
  auto fields(auto&& f) const { return f(alone, names); }
};
struct MouldIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  MouldOptions how;
  WallChoice wall;
  int masters;
  Fresh<OtherPartsResult> others;  // where there are some that stand in the same box
  auto fields(auto&& f) const { return f(master, split, how, wall, masters, others); }
};
struct WaysIn {
  Fresh<FormsResult> forms;
  Implied<OriginalResult> master;  // by the forms
  Implied<SplitResult> split;
  Implied<MouldResult> mould;
  Implied<BoresResult> bores;
  Implied<UndercutsResult> undercuts;
  Implied<WayFacts> facts;
  Implied<BedsResult> beds;
  std::string asked;
  auto fields(auto&& f) const { return f(forms, master, split, mould, bores, undercuts, facts, beds, asked); }
};
struct VesselsIn {
  Fresh<FormsResult> forms;
  MouldSetup mould;
  FlowSetup flow;
  AirBy rubber_air;
  double post_cure_c;
  Equipment equipment;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(forms, mould, flow, rubber_air, post_cure_c, equipment); }
};
struct KeysIn {
  Fresh<MouldResult> mould;
  std::string kind;
  std::vector<Vec3> places;
  std::optional<double> across_mm, clear_mm;
  double shrink_apart_pct = 0;  ///< between two rubbers
  double clamp_n = 0;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(mould, kind, places, across_mm, clear_mm, shrink_apart_pct, clamp_n); }
};
struct DrawsPastIn {
  Fresh<MouldResult> mould;
  Fresh<PinsResult> pins;            // of the part in hand, where it has any
  Implied<OtherPartsResult> others;  // by the mould
  std::vector<std::string> names;
  auto fields(auto&& f) const { return f(mould, pins, others, names); }
};
struct BoardIn {
  Implied<OriginalResult> master;  // by the mould
  Implied<SplitResult> split;
  Fresh<MouldResult> mould;
  Implied<FormsResult> forms;  // what is read of it, none in halves: the next four
  Form form;
  std::optional<Vec3> flat_normal;
  double skin_mm = 0;
  int castings = 0;
  Fresh<HangingResult> hanging;
  Implied<BoresResult> bores;
  Fresh<KeysResult> keys;  // only in halves
  BuildSetup build;
  MouldOptions how;
  auto fields(auto&& f) const {
    return f(master, split, mould, forms, form, flat_normal, skin_mm, castings, hanging, bores, keys, build, how);
  }
};

/// Extent that the wall's rule goes by: the largest part's in the box. Nothing while another part is not ready.
std::optional<Vec3> walled_size(const Job& job, const View& plan, const OriginalResult& master) {
  Vec3 size = master.own_size_mm;
  if (!parts_in_box(job)) return size;
  const auto others = plan.fresh(results::other_parts);
  if (!others) return std::nullopt;
  for (const OtherPart& o : others->parts)
    if (o.master->own_size_mm.x > size.x) size = o.master->own_size_mm;  // largest first
  return size;
}

}  // namespace

void add_mould_nodes(std::vector<Node>& nodes, const Shop& shop, const MeshSource& meshes) {
  nodes.push_back(job_node(
      results::other_parts,
      [](const Job& job, const View&) -> std::optional<PartsIn> {
        if (!parts_together(job)) return std::nullopt;
        PartsIn in{{}, other_names(job)};
        for (const JobPart& p : job.parts) in.alone.push_back(part_alone(p, job));
        return in;
      },
      [&shop, meshes](const PartsIn& in, const Progress& progress) -> Result<OtherPartsResult> {
        return other_parts(in.alone, in.names, shop, meshes, progress);
      }));

  nodes.push_back(job_node(
      results::mould,
      [&shop](const Job& job, const View& plan) -> std::optional<MouldIn> {
        MouldIn in{plan.fresh(results::master), plan.fresh(results::split), {}, {}, 1, {}};
        if (!in.master || !in.split || in.split->split.loops.empty()) return std::nullopt;
        if (parts_in_box(job) && !(in.others = plan.fresh(results::other_parts))) return std::nullopt;
        const auto size = walled_size(job, plan, *in.master);
        if (!size) return std::nullopt;
        in.wall = wall_of(job, shop, *size);
        in.how = mould_options(job, shop, in.wall);
        if (in_halves(job.mould.planned_form())) in.masters = job.mould.masters;
        const Study& study = plan.subject<Subject>().study;
        in.how.pitch_mm = study.mould_pitch_mm;
        if (study.in_hand && in.how.pitch_mm <= 0) in.how.pitch_mm = pitch_in_hand_mm(in.master->own_size_mm);
        return in;
      },
      [](const MouldIn& in, const Progress& progress) -> Result<MouldResult> {
        auto r = mould_result(*in.master, in.split->split, in.how, in.wall, in.masters,
                              in.others ? in.others->parts : std::vector<OtherPart>{}, progress);
        if (r) r->findings = mould_findings(r->mould, in.wall.thin ? in.wall.rule_mm : 0, in.wall.learnt_from);
        return r;
      }));

  add_form_nodes(nodes, shop);

  nodes.push_back(job_node(
      results::ways,
      [](const Job& job, const View& plan) -> std::optional<WaysIn> {
        WaysIn in{plan.fresh(results::forms), plan.fresh(results::master), plan.fresh(results::split),
                  plan.fresh(results::mould), plan.fresh(results::bores),  plan.fresh(results::undercuts),
                  plan.fresh(results::facts), plan.fresh(results::beds),   job.split.way};
        return in.forms && in.master && in.split && in.mould && in.beds ? std::optional(in) : std::nullopt;
      },
      [&shop](const WaysIn& in, const Progress&) -> Result<WaysResult> {
        return judged_ways(
            {*in.master, in.split->split, *in.mould, in.bores->bores, *in.undercuts, *in.facts, in.beds->ways},
            *in.forms, in.asked, shop.rules.mould.forms);
      }));

  nodes.push_back(node(
      results::vessels,
      [&shop](const View& plan) -> std::optional<VesselsIn> {
        const Subject& s = plan.subject<Subject>();
        VesselsIn in{plan.fresh(results::forms), s.job.mould, s.job.flow, s.job.mix.rubber_air, 0, s.books.equipment};
        if (!in.forms) return std::nullopt;
        for (const auto* bottle : {&s.job.mix.rubber, &s.job.mix.resin})
          if (*bottle) in.post_cure_c = std::max(in.post_cure_c, (*bottle)->figure("post_cure_c").value_or(0));
        return in;
      },
      [&shop](const VesselsIn& in, const Progress&) -> Result<VesselsResult> {
        const FormPlan& plan = in.forms->plan();
        VesselsAsked a;
        a.mould_mm = in.forms->box.inner_mm;
        a.sheet_mm = in.mould.build.sheet_mm;
        if (plan.boxes > 0) a.box_mm = a.mould_mm.z + shop.rules.mould.box.rim_mm + a.sheet_mm;
        a.gate = in.forms->halved() && in.forms->form != Form::squeeze;
        a.closed = in.forms->halved() || in.forms->form == Form::cut;
        a.degas_in_box = in.rubber_air == AirBy::vacuum;
        a.post_cure_c = in.post_cure_c;
        a.flow = in.flow;
        a.chamber_mm = in.mould.build.chamber_mm, a.pot_mm = in.mould.build.pot_mm;
        auto found = vessel_findings(a, in.equipment);
        return VesselsResult{std::move(found.mould), std::move(found.flow)};
      }));

  nodes.push_back(job_node(
      results::keys,
      [&shop](const Job& job, const View& plan) -> std::optional<KeysIn> {
        const auto forms = plan.fresh(results::forms);
        KeysIn in{plan.fresh(results::mould), job.mould.keys, job.mould.key_places, job.mould.key_mm,
                  job.mould.key_clear_mm};
        if (!in.mould || !forms || !forms->halved()) return std::nullopt;
        if (in.kind != name_of(KeyKind::rim)) return in;  // the rest is asked of a rim only
        if (const auto first = planned_rubber(job.mix, shop))
          if (const auto second = second_rubber(job, shop))
            in.shrink_apart_pct = std::abs(first->shrink_pct - second->shrink_pct);
        in.clamp_n = forms->clamping.force_n;
        return in;
      },
      [&shop](const KeysIn& in, const Progress&) -> Result<KeysResult> {
        std::vector<Vec3> in_frame;
        for (const Vec3& p : in.places) in_frame.push_back(in.mould->block().frame.direction(p));
        const KeyRules rules = key_rules(shop.rules.mould.keys, in.across_mm, in.clear_mm);
        KeysResult r;
        r.plan = place_keys(in.mould->block(), *named<KeyKind>(in.kind), rules, in_frame);
        r.findings = key_findings(r.plan, rules);
        if (r.plan.kind == KeyKind::rim) {
          r.rim = rim_fit(r.plan, in.mould->block().inner_mm.size(), rules.rim_sheet_mm, in.shrink_apart_pct,
                          shop.rules.mould.parting_kpa);
          for (Finding& f : rim_findings(*r.rim, in.clamp_n)) r.findings.push_back(std::move(f));
        }
        return r;
      }));

  nodes.push_back(job_node(
      results::draws_past,
      [](const Job& job, const View& plan) -> std::optional<DrawsPastIn> {
        DrawsPastIn in{plan.fresh(results::mould), {}, plan.fresh(results::other_parts), {}};
        if (!in.mould || !in.mould->set || !in_halves(job.mould.planned_form())) return std::nullopt;
        if (job.split.has_pins() && !(in.pins = plan.fresh(results::pins))) return std::nullopt;
        if (parts_in_box(job)) {
          in.names = other_names(job);
          in.names.insert(in.names.begin(), name_in_hand(job));
        }
        return in;
      },
      [&shop](const DrawsPastIn& in, const Progress&) -> Result<AdviceResult> {
        std::vector<std::vector<PinPlan>> pins{in.pins ? in.pins->pins : std::vector<PinPlan>{}};
        if (in.others)
          for (const OtherPart& o : in.others->parts) pins.push_back(o.pins);
        return AdviceResult{draws_past_findings(no_ways_out(*in.mould->set, in.mould->block(), pins), *in.mould->set,
                                                in.names, shop.shown)};
      }));

  nodes.push_back(job_node(
      results::board,
      [](const Job& job, const View& plan) -> std::optional<BoardIn> {
        BoardIn in{};
        in.master = plan.fresh(results::master), in.split = plan.fresh(results::split);
        in.mould = plan.fresh(results::mould), in.bores = plan.fresh(results::bores);
        in.forms = plan.fresh(results::forms);
        if (!in.master || !in.split || !in.mould || !in.forms || !in.bores) return std::nullopt;
        in.form = in.forms->form;
        if (!in.forms->halved()) {
          in.flat_normal = in.forms->flat_normal;
          in.skin_mm = in.forms->plan().skin_mm, in.castings = in.forms->plan().castings_a_pull;
          in.hanging = plan.fresh(results::hanging);
          return in;
        }
        in.keys = plan.fresh(results::keys);
        in.build = job.mould.build;
        in.how = in.mould->how;
        return in.keys ? std::optional(in) : std::nullopt;
      },
      [&shop](const BoardIn& in, const Progress& progress) -> Result<BoardResult> {
        if (!in_halves(in.form))
          return built_whole(shop, *in.master, in.split->split, in.mould->mould, *in.forms, in.bores->bores, progress);
        const MasterSet* set = in.mould->set.get();
        return built_board(set ? *set->mesh : *in.master->mesh, set ? *set->rays : *in.master->rays,
                           set ? set->split : in.split->split, in.keys->plan, board_options(in.build), in.how,
                           progress);
      }));
}

}  // namespace palinform
