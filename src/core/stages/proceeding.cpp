#include "stages/proceeding.hpp"
#include "stages/inserts.hpp"
#include "stages/openings.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "procedure/own_ways.hpp"
#include "stages/closing.hpp"
#include "stages/flowing.hpp"
#include "stages/materials.hpp"
#include "stages/touching.hpp"

namespace palinform {
namespace {

/// "114 × 48 × 56 mm"
std::string box_text(const Vec3& mm, const Shown& u) {
  return u.length_figure(mm.x) + " × " + u.length_figure(mm.y) + " × " + u.length(mm.z);
}

PourFacts pour_of(const PourMix& p, const StepMinutes& t, const Shown& u) {
  PourFacts f;
  f.name = p.pour_name();
  f.material_id = p.material_id, f.material = p.material, f.ratio = p.ratio, f.side = p.side;
  f.cups = p.batches.count;
  f.each_g = p.weighing.total_g;
  f.ml = p.volume_mm3 * 1e-3;
  f.weigh_min = t.weigh_min;
  f.stir_min = p.mix_min;
  if (p.lumps)
    f.lumps = u.mass(p.weighing.a_g) + " of A and " + u.mass(p.weighing.b_g) + " of B, " +
              (std::abs(p.lump_mm[0] - p.lump_mm[1]) < 0.5
                   ? "two balls of " + u.length(p.lump_mm[0])
                   : "balls of " + u.length(p.lump_mm[p.b_first]) + " and " + u.length(p.lump_mm[!p.b_first]));
  f.degas_min = p.degas_min, f.stand_min = p.wait_min;
  f.pot_life_min = p.batches.pot_life_min;
  f.pour_min =
      p.lumps ? std::min(t.press_min, std::max(0.5, f.pot_life_min - p.mix_min)) : std::max(1.0, std::ceil(p.pour_min));
  f.fill_mm = p.fill_height_mm;
  f.stage = p.stage, f.frame_u_mm = p.frame_u_mm, f.frame_v_mm = p.frame_v_mm;
  f.no_figures = p.no_figures;
  f.cautions = p.cautions;
  for (const TintDose& d : p.tints)
    f.colour += (f.colour.empty() ? "" : ", ") + u.mass(d.weighed_g(), 2) +
                (d.master_batch ? " master batch of " : " ") + d.name;
  for (const AdditionDose& a : p.adds)
    f.stirred_in += (f.stirred_in.empty() ? "" : ", ") + u.mass(a.g, 1) + " " + a.name;
  // Coats are brushed, shells laid: by area, not by a stream.
  if (!p.side.empty()) f.pour_min = p.jacket ? t.jacket_min : t.brush_min;
  // A paste is mixed as it is laid; what is left of its pot life decides how much at a time.
  if (p.jacket) f.pour_min = std::min(t.jacket_min, std::max(5.0, f.pot_life_min - f.stir_min));
  if (p.jacket && p.stage > 0) f.pour_min = std::max(5.0, f.pour_min / p.layers);
  return f;
}

CureFacts cure_of(const Mixable& m, const Material* bottle, double room_c) {
  CureFacts c;
  const auto at_room = [&](double v) { return time_at_temperature(v, m.reference_c, room_c); };
  c.gel_min = at_room(1.3 * m.pot_life_min);  // rule of thumb, where the sheet has no gel time
  c.demould_min = 60 * at_room(m.demould_h);
  if (!bottle) return c;
  if (const auto t = times_at(*bottle, room_c)) {
    if (t->gel_min) c.gel_min = *t->gel_min;
  }
  if (const auto from = bottle->figure("recoat_from_min")) c.gel_min = *from;
  c.recoat_latest_min = bottle->figure("recoat_to_min");
  c.post_min = bottle->figure("post_cure_min").value_or(0);
  c.post_c = bottle->figure("post_cure_c").value_or(0);
  return c;
}

const Material* planned_bottle(const std::optional<Material>& copy, const std::string& id, const Shop& shop) {
  return copy && copy->id == id ? &*copy : shop.bottle(id);
}

void say_master(ProcedureFacts& f, const Job& job, const Shop& shop, const PrintResult* print) {
  const Finish& finish = job.original.finish;
  const MasterMaterial* surface = shop.shelf.master(finish.master_material);
  const bool scaled = job.size.master != MasterKind::original, printed = finish.master_material.starts_with("printed");
  f.master = finish.contacts.cured_h || job.size.generations > 1 || finish.master_material == "cast-plastic"
                 ? MasterIs::casting
             : printed || scaled ? MasterIs::printed
                                 : MasterIs::original;
  if (f.master == MasterIs::printed && print) f.master_print_h = print_hours(print->volume_mm3, shop.rules.split.ways);
  f.porous = finish.master_material == "wood" || finish.master_material == "plaster";
  f.barrier = finish.contacts.barrier;
  if (!finish.contacts.sealed) {
    if (surface) {
      f.seal = surface->seal;
      f.seal_min = surface->hands_min, f.seal_wait_min = 60 * surface->wait_h;
    } else {
      f.seal = "Two thin coats of sealer";
      f.seal_min = shop.rules.days.steps.seal_min, f.seal_wait_min = shop.rules.days.steps.seal_wait_min;
    }
  }
  if (f.master == MasterIs::casting)
    if (const auto resin = planned_resin(job.mix, shop); resin && finish.contacts.cured_h)
      f.master_cure_min = 60 * std::max(0.0, full_cure_h(job, *resin) - *finish.contacts.cured_h);
  const auto prepared = [&](const std::vector<MasterStep>& steps, const std::vector<BoreTreatment>& bores) {
    for (const MasterStep& s : steps)
      if (s.kind == MasterStep::Kind::plug) ++(s.mm > 0 ? f.plugs : f.taped);
    for (const BoreTreatment& b : bores) f.taped += b.kind == BoreTreatment::Kind::tape;
  };
  prepared(job.original.master_steps, job.split.bores);
  if (parts_together(job))
    for (const JobPart& p : job.parts) prepared(p.laid.master_steps, p.laid.bores);
}

/// What hands do about openings, before the pours and after the castings. `of`: " of Bolt", of a part that is not in
/// hand.
void openings_dealt_with(ProcedureFacts& f, const Openings& all, const std::vector<OpeningChoice>& choices,
                         const std::string& of, const Shown& shown) {
  using Kind = OpeningChoice::Kind;
  std::map<std::string, std::vector<std::string>> stopped_at, films;  // by place, by thickness
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const OpeningChoice* c = choice_for(all, k, choices);
    if (!c) continue;
    ++f.openings_said;
    const Opening& o = all.openings[k];
    const std::string name = o.name + of;
    if (c->leaves_film()) films[shown.length(c->film_mm, 2)].push_back(name);
    switch (c->kind) {
      case Kind::meet:
        f.stopped.push_back(name);
        stopped_at[std::abs(c->share - 0.5) < 0.01 ? "half-way"
                                                   : shown.length(c->share * o.length_mm(), 1) + " from mouth 1"]
            .push_back(name);
        break;
      case Kind::plate:
        f.plates.push_back(name);
        break;
      case Kind::fill:
        f.filled.push_back(name);
        f.taped += 1;
        f.finishing.push_back("Open " + name + ", " + words_of(o, shown));
        break;
      case Kind::plug:
        f.plugs += 1;
        break;
      case Kind::slit:
        f.slits.push_back(name + " (" + words_of(slit_of(o, *c), shown) + ")");
        break;
      case Kind::slide:
        break;
    }
  }
  for (const auto& [place, names] : stopped_at) f.stopped_at.push_back(in_a_row(names) + " " + place);
  for (const auto& [thick, names] : films)
    f.finishing.push_back("Cut the film of " + thick + " out of " + in_a_row(names));
}

/// By its sheet: styrene, and whatever fumes while it cures.
bool fumes(const std::vector<std::string>& hazards) {
  return std::any_of(hazards.begin(), hazards.end(),
                     [](const std::string& h) { return h == "styrene" || h == "fumes"; });
}

/// What the form and the job's own materials say, without any mesh.
ProcedureFacts ground_facts(Form form, const Job& job, const Shop& shop) {
  ProcedureFacts f;
  f.shown = shop.shown;
  f.form = form;
  f.ends = job.days.ends;
  f.copies = job.copies, f.moulds = job.days.moulds;
  f.from_first_casting = job.days.from_first_casting;
  if (const auto resin = planned_resin(job.mix, shop))
    f.casting_through_min = std::max(
        0.0,
        60 * (full_cure_h(job, *resin) - time_at_temperature(resin->demould_h, resin->reference_c, job.size.room_c)));
  const auto rubber = planned_rubber(job.mix, shop);
  const auto resin = planned_resin(job.mix, shop);
  const double room = job.size.room_c;
  if (rubber) f.rubber_cure = cure_of(*rubber, planned_bottle(job.mix.rubber, rubber->id, shop), room);
  if (resin) {
    f.resin_cure = cure_of(*resin, planned_bottle(job.mix.resin, resin->id, shop), room);
    f.resin_is_rubber = resin->shore_a.has_value();
    f.resin_cure.tacky = resin->family.find("polyester") != std::string::npos;
    f.resin_fumes = fumes(resin->hazards);
  }
  f.fill = static_cast<FillBy>(job.flow.aid);
  f.pressure_kpa = job.flow.pressure_kpa, f.vacuum_kpa = job.flow.vacuum_kpa;
  f.gate = true;
  f.vents = static_cast<int>(job.flow.vents.size());
  f.gate_mm = job.flow.sprue_mm, f.vent_mm = job.flow.vent_mm;
  f.tilt_deg = job.flow.tilt_deg, f.turned_over = job.flow.turned_over;
  f.over_pct = poured_over_pct(job.flow.squeeze, shop.rules);
  f.brush_details = form == Form::squeeze && job.flow.squeeze.brushed;
  if (form == Form::squeeze) f.tilt_deg = 0, f.vents = 0;
  f.cast_in = job.flow.cast_in;
  if (fill_way(job.mould.form) == FillWay::sprue) f.edge_gap_mm = job.flow.edge_gap_mm;
  if (job.original.finish.later == Later::paint) f.later = "paint";
  if (job.original.finish.later == Later::glue) f.later = "glue";
  const auto measured = [&](const std::vector<MeasuredSize>& sizes) {
    f.sizes += static_cast<int>(sizes.size());
    for (const MeasuredSize& s : sizes)
      if (s.finish != Finishing::none)
        f.finishing.push_back((s.finish == Finishing::ream   ? "Ream "
                               : s.finish == Finishing::skim ? "Skim "
                                                             : "Shim ") +
                              s.name + " to " + shop.shown.length(s.nominal_mm, 2));
  };
  measured(job.original.sizes);
  if (parts_together(job))
    for (const JobPart& p : job.parts) measured(p.original.sizes);
  return f;
}

/// Clay, splitter or printed board: as the job has it where that is a bed at all.
Way bed_of(std::optional<Way> way) {
  return way == Way::splitter_board || way == Way::printed_board ? *way : Way::clay_bed;
}

double bed_minutes(const WayFacts& part, const WayRates& r) {
  return r.bed_base_min + r.bed_min_per_mm * part.line_mm + r.bed_climb_min_per_mm * part.climb_mm;
}

}  // namespace

double print_hours(double mm3, const WayRates& rates) { return mm3 / rates.print_mm3_per_min / 60; }

ProcedureFacts procedure_facts(const ProceedingGround& g, const Job& job, const Shop& shop) {
  const Form form = g.forms ? g.forms->form : job.mould.planned_form();
  ProcedureFacts f = ground_facts(form, job, shop);
  const StepMinutes& t = shop.rules.days.steps;
  say_master(f, job, shop, g.print);
  f.a_pull = std::max(1, g.mix.castings_a_pull);
  if (!job.parts.empty()) f.copies = g.mix.pulls * f.a_pull;
  const std::optional<Silicone> second = second_rubber(job, shop);
  for (const PourMix& p : g.mix.pours) {
    if (p.is_resin)
      f.casting = pour_of(p, t, shop.shown);
    else if (p.jacket)
      f.jacket.push_back(pour_of(p, t, shop.shown));
    else
      f.rubber.push_back(pour_of(p, t, shop.shown));
    if (second && !p.is_resin && !p.jacket && p.material_id == second->id)
      f.rubber.back().cure = cure_of(*second, planned_bottle(job.mix.rubber_b, second->id, shop), job.size.room_c);
    if (p.lumps && p.batches.count > 1) {
      const Material* bottle = planned_bottle(job.mix.rubber, p.material_id, shop);
      const auto bond = bottle ? bottle->figure("recoat_to_min") : std::nullopt;
      f.rubber.back().bond_min = bond.value_or(p.batches.pot_life_min);
    }
  }
  if (g.forms && g.forms->brushed) f.brushed = g.forms->brushed->side;
  if (form == Form::skin || !f.brushed.empty()) {
    // As planned: of a skin the same on both sides.
    std::vector<double> coat_mm;
    if (g.forms)
      for (const RubberPour& r : g.forms->plan().pours)
        if (r.side == (f.brushed.empty() ? g.forms->plan().pours.front().side : f.brushed))
          coat_mm.push_back(r.fill_height_mm);
    std::map<std::string, size_t> coat;  // by side
    for (PourFacts& p : f.rubber) {
      if (p.side.empty()) continue;
      const size_t k = coat[p.side]++;
      const Coat c =
          k < job.mould.coats.size() ? job.mould.coats[k] : coat_by_rule(k, k < coat_mm.size() ? coat_mm[k] : 0);
      p.coat_mm = c.mm, p.thickened = c.thickened, p.tinted = c.tinted;
    }
  }
  // A printed or cut board is laid out for halves; a flange or an impression gets one only where somebody says so.
  f.way = bed_of(in_halves(form) ? g.way : named<Way>(job.split.way));
  if (g.facts) {
    f.bed_min = bed_minutes(*g.facts, shop.rules.split.ways);
    f.line_mm = g.forms ? g.forms->plan().line_mm : g.facts->line_mm;
  }
  // Of the block itself, whatever box it stands in: as on the guide that is wrapped round it.
  if (const Mould& block = g.mould.mould; form == Form::cut)
    f.wave = words_of(wave_round(block.inner_mm.size(), block.wall_mm, shop.rules.split.ways.cut_depth_per_pass_mm),
                      shop.shown);
  // Each cavity has its own.
  const int cavities = in_halves(form) && form != Form::pieces ? job.mould.masters : 1;
  const auto set_pins = [&](const std::vector<PinPlan>& pins, int masters, const std::string& part) {
    for (int m = 1; m <= masters; ++m)
      for (const PinPlan& p : pins)
        f.pins.push_back(part + p.name + (masters > 1 ? " of cavity " + std::to_string(m) : std::string()) + " (" +
                         (p.outline_mm.empty() ? "Ø" + shop.shown.length_figure(p.diameter_mm, 2)
                                               : shop.shown.length_figure(p.across_mm().x, 1) + " × " +
                                                     shop.shown.length_figure(p.across_mm().y, 1)) +
                         ")");
  };
  std::vector<PinPlan> drawn = g.pins ? g.pins->pins : std::vector<PinPlan>{};
  if (g.assembly) {
    // As they come out past one another.
    drawn.clear();
    for (const AssemblyResult::Member& m : g.assembly->order) {
      if (m.pin >= 0 && g.pins && m.pin < static_cast<int>(g.pins->pins.size()))
        drawn.push_back(g.pins->pins[static_cast<size_t>(m.pin)]);
      if (m.rubber) f.comes_off.push_back(m.name);
    }
    if (f.comes_off.size() <= 2) f.comes_off.clear();
  }
  if (g.pins && form != Form::cup_core) set_pins(drawn, cavities, g.others ? name_in_hand(job) + ": " : std::string());
  f.gates = cavities, f.vents *= cavities;
  const auto names = other_names(job);
  for (size_t k = 0; g.others && k < g.others->parts.size(); ++k) {
    const OtherPart& o = g.others->parts[k];
    set_pins(o.pins, in_halves(form) ? o.masters : 1, names[k] + ": ");
    if (!parts_in_box(job)) continue;  // a bar has one well for all
    f.gates += o.masters;
    f.vents += o.masters * static_cast<int>(o.vents.size());
  }
  if (g.openings) openings_dealt_with(f, g.openings->found, job.split.openings, "", shop.shown);
  if (g.inserts) f.inserts = inserts_in_words(job.split.inserts, *g.inserts, shop.shown);
  f.unscrewed = unscrewed_of(job.split.threads);
  for (std::string& s : cut_threads_of(job.split.threads, shop.shown)) f.finishing.push_back(std::move(s));
  for (size_t k = 0; g.others && k < g.others->parts.size(); ++k) {
    const OtherPart& o = g.others->parts[k];
    if (o.openings)
      openings_dealt_with(f, o.openings->found, job.parts[k].laid.openings, " of " + names[k], shop.shown);
    for (auto [from, to] :
         {std::pair{&o.inserts, &f.inserts}, {&o.unscrewed, &f.unscrewed}, {&o.finishing, &f.finishing}})
      for (const std::string& s : *from) to->push_back(names[k] + ": " + s);
  }
  bool rim_holds = false;
  if (g.keys) {
    f.keys = g.keys->plan.kind;
    f.key_count = static_cast<int>(g.keys->plan.keys.size());
    rim_holds = g.keys->rim && g.keys->rim->holds_n >= (g.forms ? g.forms->clamping.force_n : 0);
  }
  f.pieces = form == Form::pieces ? static_cast<int>(job.split.piece_pulls.size()) : 0;
  const std::optional<double>& held = in_halves(form) ? g.mould.block().hold_down_n : g.mould.block().hold_down_whole_n;
  f.hold_down_n = held.value_or(0);
  f.jacket_bolts = g.board ? static_cast<int>(g.board->bolts_mm.size()) : 0;
  if (const auto* paste = form == Form::skin || !f.brushed.empty() ? jacket_material(job.mix, shop) : nullptr) {
    f.jacket_fumes = fumes(paste->hazards);
    if (const auto at = times_at(*paste, job.size.room_c)) {
      if (at->demould_h) f.jacket_set_min = 60 * *at->demould_h;
      if (at->gel_min) f.jacket_gel_min = *at->gel_min;
    }
  }
  if (form == Form::skin) f.fence_mm = shop.rules.mould.jacket.flange_thick_mm;
  if (g.forms) {
    const BoxPlan& box = g.forms->box;
    const Vec3 in = g.forms->plan().boxes > 0 ? box.inner_mm : g.forms->plan().box_mm;
    f.box_words =
        box_text(in, shop.shown) + " inside, " + (box.own.empty() ? lower_ascii(words_of(box.style)) : box.own);
    if (!box.own.empty() && box.works && g.forms->plan().boxes > 0)
      f.box_words += ", filled " + shop.shown.length(box.below_brim_mm, 0) + " under its brim";
    const bool plates = !box.own.empty() && box.dammed;
    f.dams = plates ? static_cast<int>(box.plates.size()) : in_halves(form) ? g.mould.block().dams() : 0;
    f.clamp_n = g.forms->clamping.force_n, f.clamp_with = g.forms->clamping.with;
    if (rim_holds) f.clamp_n = 0;  // no bands
    if (form == Form::open && job.mould.cover != name_of(Cover::scrape)) {
      // Over the face all round, so that what is squeezed out finds the rim.
      // The part's own size is that of the box made to measure, whatever box it stands in.
      const double over = 2 * shop.rules.mould.cover_over_mm, wall = 2 * g.mould.block().walls.side_mm;
      const Vec3& b = g.forms->needed_mm;
      f.cover_plate = true;
      f.cover = (job.mould.cover == name_of(Cover::film) ? "A clear film on a plate of " : "The waxed plate of ") +
                shop.shown.length_figure(b.x - wall + over) + " × " + shop.shown.length(b.y - wall + over);
    }
    f.grooves = static_cast<int>(g.forms->grooves.size()), f.grooves_ml = grooves_ml(g.forms->grooves);
    if (form == Form::open)
      f.powder_g = shop.rules.mould.powder_g_per_m2 * 1e-6 * g.mould.part_mm2 * std::max(1, job.mould.masters);
    f.casting.pour_min += t.by_syringe_min(g.forms->grooves.size(), f.grooves_ml);
    f.struts = g.forms->plan().struts;
    if (const auto& cut = g.forms->plan().strip_cut; cut && form == Form::strip) {
      const Shown& u = shop.shown;
      f.strip_cut =
          u.length(cut->deep_mm, 0) + (cut->from_face ? " deep, from the face away from the well, " +
                                                            u.length(cut->at_mm, 0) + " from the long side away from it"
                                                      : " deep, from the long side away from the well, " +
                                                            u.length(cut->at_mm, 0) + " under the face away from it");
    }
    if (const auto resin = planned_resin(job.mix, shop); resin && form == Form::open)
      f.top_up_ml = 3e-2 * resin->shrink_thick_pct * f.casting.ml;
    if (form == Form::cup_core) {
      f.casting.fill_mm = g.forms->cup_line_mm;
      f.jack_n = g.forms->parting_n;
      f.print_ml = g.forms->plan().hard_mm3 * 1e-3;
      f.print_h = print_hours(g.forms->plan().hard_mm3, shop.rules.split.ways);
    }
  } else {
    const Vec3 in = g.mould.block().inner_mm.size();
    f.box_words = box_text(in, shop.shown) + " inside";
  }
  if (g.closing) {
    const Shown& u = shop.shown;
    f.squeeze_kg = g.closing->weight_kg;
    f.set_down = set_down_words(g.closing->how.hinge_deg);
    const auto place = [&](const ClosingResult& c) {
      return u.length(c.heap_from_wall_mm.x) + " from the left and " + u.length(c.heap_from_wall_mm.y) +
             " from the front wall";
    };
    f.heap = "Heap it " + place(*g.closing) + ", " + u.length(g.closing->how.heap_high_mm) + " high";
    // As many heaps as there are hollows.
    if (g.closings) {
      f.heap += " in " + name_in_hand(job);
      for (const OtherClosingsResult::Of& o : g.closings->parts) f.heap += ", " + place(o.closing) + " in " + o.name;
      f.squeeze_kg += g.closings->weight_kg();
    }
    if (g.closing->hollows > 1) f.heap += ", and so in every other hollow";
  }
  if (g.board && f.way == Way::printed_board && in_halves(form)) f.print_h = g.board->print_h;
  if (g.channels) f.wedge_rise_mm = g.channels->wedge_rise_mm;
  return f;
}

double form_hands_min(const FormPlan& plan, Way bed, const WayFacts& part, const Job& job, const Shop& shop) {
  ProcedureFacts f = ground_facts(plan.form, job, shop);
  f.way = bed;
  const StepMinutes& t = shop.rules.days.steps;
  f.ends = Ends::mould;
  f.moulds = 1;
  f.a_pull = plan.castings_a_pull;
  f.bed_min = bed_minutes(part, shop.rules.split.ways);
  f.key_count = 4;
  f.line_mm = plan.line_mm;
  f.pieces = part.extra_pieces;
  for (int i = 0; i < part.pins && plan.form != Form::cup_core; ++i) f.pins.push_back("Pin " + std::to_string(i + 1));
  const MixRules& mix = shop.rules.mix;
  for (const RubberPour& p : plan.pours) {
    PourFacts x;
    x.name = p.name, x.side = p.side;
    x.weigh_min = t.weigh_min, x.stir_min = mix.mix_min,
    x.degas_min = job.mix.rubber_air == AirBy::vacuum ? mix.degas_min : 0;
    x.pour_min =
        p.side.empty() ? std::max(1.0, std::ceil(p.volume_mm3 * 1.1e-5 * mix.pour_min_per_100g_rubber)) : t.brush_min;
    if (plan.form == Form::putty) x.stir_min = t.knead_min, x.degas_min = 0, x.pour_min = t.press_min;
    f.rubber.push_back(std::move(x));
  }
  return hands_needed(procedure(f, t)).mould_min;
}

ProcedureResult procedure_result(ProcedureFacts facts, const OwnWays& own, const Shop& shop) {
  ProcedureResult r;
  r.facts = std::move(facts);
  r.procedure = procedure(r.facts, shop.rules.days.steps);
  if (own == OwnWays{} && shop.habits == OwnWays{}) return r;
  auto mine = with_own_ways(r.procedure, r.facts, shop.habits, own);
  if (mine) {
    r.procedure = *std::move(mine);
    return r;
  }
  Finding& f = r.findings.emplace_back();
  f.code = "own-steps", f.severity = Severity::stop;
  f.what = "The steps cannot be done as they were changed";
  f.why = mine.error().what + ".";
  f.answerable = false;
  return r;
}

}  // namespace palinform
