#include "ledger/reports.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.hpp"
#include "ledger/booked.hpp"
#include "ledger/really_taken.hpp"
#include "overview/job_card.hpp"

namespace palinform {

Result<MouldLives> mould_lives(Workshop& w, const Shop& shop) {
  auto moulds = w.moulds();
  if (!moulds) return moulds.error();
  const auto rows = w.jobs();
  if (!rows) return rows.error();
  std::map<std::string, std::string> kind_of;  // by job
  for (const JobRow& r : *rows) kind_of[r.id] = r.kind;
  MouldLives out;
  std::map<std::string, size_t> at;
  std::vector<std::vector<Life>> lives;
  for (MouldRecord& m : *moulds) {
    if (m.retired_why == "taken back") continue;
    const std::string kind = kind_of[m.job_id];
    const auto [it, made] = at.emplace(kind, out.kinds.size());
    if (made) {
      MouldKind k;
      k.kind = kind;
      const size_t slash = kind.rfind('/');
      const std::string id = kind.substr(0, slash);
      k.form = slash == std::string::npos ? "" : kind.substr(slash + 1);
      const Material* rubber = shop.bottle(id);
      k.rubber = rubber ? rubber->name : id;
      k.sheet_pulls = rubber ? rubber->figure("pulls_simple").value_or(30) : 30;
      out.kinds.push_back(std::move(k));
      lives.emplace_back();
    }
    lives[it->second].push_back({static_cast<double>(m.pulls), !m.retired_on.empty()});
    out.moulds.push_back({std::move(m), it->second, 0, 1, ""});
  }
  for (size_t k = 0; k < out.kinds.size(); ++k) {
    std::erase_if(lives[k], [](const Life& l) { return l.pulls <= 0; });
    out.kinds[k].law = life_law(lives[k], out.kinds[k].sheet_pulls);
  }
  for (MouldLife& m : out.moulds) {
    if (!m.mould.retired_on.empty()) continue;
    const LifeLaw& law = out.kinds[m.kind].law;
    m.to_come = pulls_to_come(law, m.mould.pulls);
    m.next_chance = chance_of(law, m.mould.pulls, 1);
    // A guess by the sheet retires nothing.
    if (!law.by_sheet && m.next_chance < 0.7)
      m.advice = "retire it: the next pull goes wrong " + fixed(100 * (1 - m.next_chance), 0) + " times in a hundred";
    else if (!law.by_sheet && m.to_come < 4)
      m.advice = "make the next one now";
  }
  return out;
}

Result<Reports> reports_of(Workshop& w, const Shop& shop) {
  const auto pours = w.pours();
  if (!pours) return pours.error();
  const auto lots = w.lots();
  if (!lots) return lots.error();
  const auto rows = w.jobs();
  if (!rows) return rows.error();
  const auto price = [&](const std::string& id) { return price_per_kg(shop, id); };
  const auto name = [&](const std::string& id) {
    const Material* m = shop.bottle(id);
    return m ? m->name : id;
  };
  Reports out;
  out.use = {"Materials by month", {"Month", "Material", "Used g", "Of it failed g", "Cost"}, {}};
  std::map<std::pair<std::string, std::string>, std::pair<double, double>> used;
  out.wrong = {"What went wrong", {"Day", "Job", "What", "Why", "g", "Cost"}, {}};
  for (const PourRecord& p : *pours) {
    auto& [all, failed] = used[{p.at.substr(0, 7), p.material_id}];
    all += p.mass_g;
    if (!p.failed) continue;
    failed += p.mass_g;
    out.wrong.rows.push_back({p.at.substr(0, 10), p.job_name, p.what, p.note, p.mass_g,
                              std::round(p.mass_g * price(p.material_id) / 10) / 100});
  }
  for (auto it = used.rbegin(); it != used.rend(); ++it)
    out.use.rows.push_back({it->first.first, name(it->first.second), std::round(10 * it->second.first) / 10,
                            std::round(10 * it->second.second) / 10,
                            std::round(it->second.first * price(it->first.second) / 10) / 100});
  out.hours = {"Hours",
               {"Job", "Run begun", "Screens done", "Planned at the bench h", "At the bench h", "Castings", "Scrap"},
               {}};
  std::map<std::string, double> planned;
  if (const auto cards = w.cards())
    for (const std::string& text : *cards)
      if (const auto c = card_from_json(text)) planned[c->job_id] = c->hands_min / 60;
  for (const JobRow& r : *rows) {
    // Scrap and its cause, as people have found it.
    int scrap = 0;
    if (r.castings > 0)
      if (const auto job = w.load_job(r.id))
        for (const Casting& c : job->check.castings) {
          if (c.worth != Worth::scrap) continue;
          ++scrap;
          std::string why;
          for (const FaultSeen& f : c.faults)
            why += (why.empty() ? "" : "; ") + std::string(words_of(f.fault)) +
                   (f.confirmed && !f.cause.empty() ? " (" + f.cause + ")" : "");
          out.wrong.rows.push_back({c.made_on, r.name, "casting " + std::to_string(c.number), why, 0.0, 0.0});
        }
    for (const BenchRun& run : runs_of(w, r.id)) {
      const std::vector<TapeLine> tape = tape_of(run);
      const auto done = std::count_if(tape.begin(), tape.end(), [](const TapeLine& l) { return l.done != 0; });
      out.hours.rows.push_back({r.name, wall_text(run.begun / 60).substr(0, 10), static_cast<double>(done),
                                std::round(100 * planned[r.id]) / 100, std::round(100 * worked_h(run)) / 100,
                                static_cast<double>(r.castings), static_cast<double>(scrap)});
    }
  }
  out.worth = {"Stock", {"Material", "Lot", "Left g", "Worth", "Opened", "Expires"}, {}};
  double all = 0;
  for (const Lot& l : *lots) {
    const double worth = std::round(l.left_g * price(l.material_id) / 10) / 100;
    all += worth;
    out.worth.rows.push_back({name(l.material_id), l.label, l.left_g, worth, l.opened_on, l.expires_on});
  }
  out.worth.rows.push_back({std::string("All of it"), std::string(), 0.0, all, std::string(), std::string()});
  out.lives = {"Moulds", {"Rubber", "Form", "Ended", "Going on", "Pulls on the average", "Low", "High", "From"}, {}};
  if (const auto lives = mould_lives(w, shop))
    for (const MouldKind& k : lives->kinds)
      out.lives.rows.push_back(
          {k.rubber, k.form, static_cast<double>(k.law.ended), static_cast<double>(k.law.going_on),
           std::round(10 * k.law.mean) / 10, std::round(10 * k.law.low) / 10, std::round(10 * k.law.high) / 10,
           std::string(k.law.by_sheet ? "the rule, moved by what is there" : "the shop's moulds")});
  return out;
}

}  // namespace palinform
