#include "stages/touching.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "mix/shopping.hpp"
#include "shelf/family.hpp"
#include "stages/materials.hpp"

namespace palinform {
namespace {

/// Traits that go with a family of casting materials.
std::vector<std::string> traits_of_family(std::string_view id) {
  if (id == "casting-silicone") return {"silicone-casting"};
  if (id == "epoxy") return {"epoxy"};
  if (id == "polyester") return {"polyester"};
  if (id.ends_with("-pu")) return {"urethane"};
  return {};
}

/// The family's id of the job's casting material: its own copy says it, an older job's from the resin's family name.
std::string family_of(const Job& job, const Resin& resin) {
  if (job.mix.resin && job.mix.resin->id == resin.id) return job.mix.resin->family;
  for (const Family& f : families())
    if (lower_ascii(f.name) == resin.family) return f.id;
  return resin.family;
}

}  // namespace

double full_cure_h(const Job& job, const Resin& resin) {
  double hours = 10 * resin.demould_h;
  if (job.mix.resin && !job.mix.resin->times.empty())
    if (const auto t = times_at(*job.mix.resin, job.size.room_c); t && t->full_cure_h) return *t->full_cure_h;
  return time_at_temperature(hours, resin.reference_c, job.size.room_c);
}

std::vector<Party> parties_of(const Job& job, const Shop& shop) {
  std::vector<Party> out;
  const Contacts& c = job.original.finish.contacts;
  const auto form = job.mould.planned_form();
  const bool rubber_poured = form != Form::cup_core;  // a printed cup and core take no mould rubber
  const auto rubber = rubber_poured ? planned_rubber(job.mix, shop) : std::nullopt;
  if (rubber) out.push_back({"rubber", rubber->name, {"silicone", rubber->addition_cure ? "addition" : "tin-rubber"}});
  if (const auto second = second_rubber(job, shop))
    out.push_back({"rubber-b", second->name, {"silicone", second->addition_cure ? "addition" : "tin-rubber"}});
  const auto resin = planned_resin(job.mix, shop);
  if (resin) {
    Party p{"casting", resin->name, traits_of_family(family_of(job, *resin))};
    // Silicone for parts cures by addition: what stops a mould's rubber stops it too.
    if (p.traits == std::vector<std::string>{"silicone-casting"} && !rubber_poured) p.traits.push_back("addition");
    out.push_back(std::move(p));
  }
  if (!rubber && rubber_poured) return out;
  if (job.size.generations > 1 && resin) {
    Party p{"master", "casting of " + resin->name, {"own-casting"}};
    if (!c.cured_h || *c.cured_h < full_cure_h(job, *resin) - 1e-9) p.traits.push_back("green-casting");
    if (family_of(job, *resin) == "epoxy") p.traits.push_back("epoxy-casting");
    out.push_back(std::move(p));
  } else if (const MasterMaterial* m = shop.shelf.master(job.original.finish.master_material)) {
    out.push_back({"master", m->name, traits_of_surface(m->id)});
  }
  const bool halved = in_halves(form) || form == Form::skin;
  const auto way = named<Way>(job.split.way);
  if (rubber && halved) {
    // Both sides against one another, and the clay that stands in for the second while the first is poured.
    out.push_back({"first-half", "first half", {"first-half"}});
    if (c.clay != Clay::unsaid && (!way || *way == Way::clay_bed || *way == Way::pieces)) {
      if (c.clay == Clay::sulphur_free) out.push_back({"clay", "clay without sulphur", {}});
      if (c.clay == Clay::sulphur) out.push_back({"clay", "clay with sulphur", {"sulphur-clay"}});
      if (c.clay == Clay::water) out.push_back({"clay", "water clay", {"wet-clay"}});
    }
  }
  if (c.gloves == Gloves::latex) out.push_back({"gloves", "latex gloves", {"latex-gloves"}});
  if (c.gloves == Gloves::nitrile) out.push_back({"gloves", "nitrile gloves", {}});
  if (c.gloves == Gloves::vinyl) out.push_back({"gloves", "vinyl gloves", {}});
  if (c.stick == Stick::wood) out.push_back({"stick", "wooden stick", {"wooden-stick"}});
  if (c.stick == Stick::metal) out.push_back({"stick", "metal stick", {}});
  if (c.barrier) out.push_back({"barrier", "film of polyvinyl alcohol", {"water-barrier"}});
  if (c.released) out.push_back({"release", "release", {"release"}});
  if (job.original.finish.later == Later::paint) out.push_back({"later", "paint", {"paint-later"}});
  if (job.original.finish.later == Later::glue) out.push_back({"later", "glue", {"paint-later"}});
  return out;
}

Between between_of(const Job& job, const std::vector<Lot>& lots, const std::vector<Trial>& trials) {
  const Contacts& c = job.original.finish.contacts;
  Between b{c.released, c.barrier, c.sealed, {}};
  const std::string surface = job.size.generations > 1 ? "own-casting" : job.original.finish.master_material;
  if (const Trial* t = newest_trial(trials, lots, TrialKind::patch, job.mix.silicone_id, surface)) {
    std::string lot;
    for (const Lot& l : lots)
      if (l.id == t->lot_id) lot = l.label;
    b.patch = TestResult{t->cured, "patch test of " + t->on + " on lot " + lot};
  }
  return b;
}

int64_t lot_in_use(const std::vector<Lot>& lots, const std::string& material_id, const std::string& today) {
  const auto drawn = draw_lots(lots, material_id, 1, today);
  if (!drawn.empty()) return drawn.front().lot_id;
  for (const Lot& l : lots)
    if (l.material_id == material_id && l.left_g > 0) return l.id;
  return 0;
}

std::vector<TestFacts> tests_wanted(const MeetingsResult& met, const Job& job, const Shop& shop) {
  const auto rubber = planned_rubber(job.mix, shop);
  if (!rubber) return {};
  for (const Met& m : met.met) {
    const auto& by = m.rule->settled_by;
    if (met.parties[m.b].id != "master" || met.parties[m.a].id != "rubber" || !m.settled.empty() || m.hardened ||
        std::find(by.begin(), by.end(), Settles::patch_test) == by.end())
      continue;
    TestFacts t;
    t.wanted = {TrialKind::patch, job.size.generations > 1 ? "own-casting" : job.original.finish.master_material,
                rubber->id, 0};
    t.material = rubber->name;
    t.on = "the master (" + lower_ascii(met.parties[m.b].name) + ")";
    t.cure_min = 60 * time_at_temperature(rubber->demould_h, rubber->reference_c, job.size.room_c);
    return {t};  // one patch speaks of every rule on that surface
  }
  return {};
}

std::vector<TestFacts> cups_wanted(const Job& job, const Shop& shop, const std::vector<Lot>& lots,
                                   const std::vector<Trial>& trials, const std::string& today) {
  std::vector<TestFacts> out;
  if (today.empty()) return out;
  const Ends ends = job.days.ends;
  const auto look = [&](const Mixable& m, const std::optional<Material>& bottle) {
    const double life = bottle ? bottle->figure("life_open_days").value_or(0) : 0;
    const Lot* old = nullptr;
    for (const Lot& l : lots) {
      if (l.material_id != m.id || l.left_g <= 0) continue;
      const auto open = days_open(l, today);
      if (!out_of_date(l, today) && !(open && life > 0 && *open > life)) return;  // a good one is at hand
      if (!old) old = &l;
    }
    if (!old || std::any_of(trials.begin(), trials.end(),
                            [&](const Trial& t) { return t.kind == TrialKind::cup && t.lot_id == old->id; }))
      return;
    TestFacts t;
    t.wanted = {TrialKind::cup, "", m.id, old->id};
    t.material = m.name, t.on = "lot " + old->label;
    t.cure_min = 60 * time_at_temperature(m.demould_h, m.reference_c, job.size.room_c);
    out.push_back(std::move(t));
  };
  const auto form = job.mould.planned_form();
  if (const auto rubber = planned_rubber(job.mix, shop);
      rubber && form != Form::cup_core && (ends == Ends::both || ends == Ends::mould))
    look(*rubber, job.mix.rubber);
  if (const auto resin = planned_resin(job.mix, shop); resin && (ends == Ends::both || ends == Ends::castings))
    look(*resin, job.mix.resin);
  return out;
}

MeetingsResult meetings_of(const Job& job, const Shop& shop, const std::vector<Lot>& lots,
                           const std::vector<Trial>& trials) {
  MeetingsResult r;
  r.parties = parties_of(job, shop);
  const Between between = between_of(job, lots, trials);
  r.met = meetings(r.parties, between);
  // A patch test was made on the master's surface: it speaks of no other meeting.
  const Between untried{between.released, between.barrier, between.sealed, {}};
  const std::vector<Met> plain = meetings(r.parties, untried);
  for (size_t i = 0; i < r.met.size(); ++i)
    if (r.parties[r.met[i].b].id != "master") r.met[i] = plain[i];
  // The second rubber never sees the clay; on a first half that is cured a tin rubber takes no harm; and what is told
  // of the first rubber is not told again.
  const auto id = [&](size_t party) -> const std::string& { return r.parties[party].id; };
  std::erase_if(r.met, [&, all = r.met](const Met& m) {
    const bool second_a = id(m.a) == "rubber-b", second_b = id(m.b) == "rubber-b";
    if (!second_a && !second_b) return false;
    const std::string& other = id(second_a ? m.b : m.a);
    if (other == "clay") return true;
    if (other == "rubber") return second_b;  // the rule's second is the tin rubber
    return std::any_of(all.begin(), all.end(), [&](const Met& x) {
      return x.rule == m.rule && id(x.a) == (second_a ? "rubber" : id(m.a)) &&
             id(x.b) == (second_b ? "rubber" : id(m.b));
    });
  });
  return r;
}

}  // namespace palinform
