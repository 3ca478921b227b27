#include "findings/meeting.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "stages/materials.hpp"
#include "stages/touching.hpp"

namespace palinform {
namespace {

const char* code_of(Does d) {
  switch (d) {
    case Does::stays_wet:
      return "inhibition";
    case Does::grows_together:
      return "bonds";
    case Does::bubbles:
      return "foams";
    case Does::wears:
      return "wears";
    default:
      return "peels";
  }
}

/// The edits that would part these two, by what the other one is.
std::vector<Remedy> ways_out(const Met& m, const MeetingsResult& r, const Job& job, const Shop& shop) {
  std::vector<Remedy> out;
  const Party& other = r.parties[m.b];
  const auto contact = [&](const char* label, const char* what, std::string value) {
    out.push_back({label, edits::SetContact{what, std::move(value)}});
  };
  if (other.id == "clay") contact("Clay without sulphur or water", "clay", "sulphur-free");
  if (other.id == "gloves") contact("Nitrile gloves", "gloves", "nitrile");
  if (other.id == "stick") contact("Stir with metal", "stick", "metal");
  if (other.id == "later") contact("No release in this mould", "released", "no");
  for (const Settles s : m.rule->settled_by) {
    if (s == Settles::release) contact("It is released", "released", "yes");
    if (s == Settles::barrier) contact("A barrier lies on it", "barrier", "yes");
    if (s == Settles::sealed) contact("It is dry and sealed", "sealed", "yes");
  }
  if (m.rule->b == "green-casting")
    if (const auto resin = planned_resin(job.mix, shop)) {
      const double h = std::ceil(full_cure_h(job, *resin));
      out.push_back({"It has cured " + fixed(h, 0) + " h", edits::SetContact{"cured-h", fixed(h, 0)}});
    }
  // Another kind of cure, where it is the rubber that is stopped by what the master is.
  if (m.rule->does == Does::stays_wet && other.id == "master" && r.parties[m.a].id == "rubber")
    for (const Silicone& s : shop.shelf.silicones)
      if (!s.addition_cure) {
        out.push_back({s.name, edits::TakeSilicone{s.id}});
        break;
      }
  return out;
}

}  // namespace

std::vector<Finding> meeting_findings(const MeetingsResult& r, const Job& job, const Shop& shop,
                                      const std::vector<Lot>& lots, const std::vector<Trial>& trials) {
  std::vector<Finding> out;
  const Contacts& c = job.original.finish.contacts;
  for (const Met& m : r.met) {
    if (!m.settled.empty()) continue;
    const Party &one = r.parties[m.a], &other = r.parties[m.b];
    Finding f{code_of(m.rule->does), m.hardened ? Severity::stop : m.rule->severity, {}, "", "", {}};
    f.where.step = m.rule->id;
    // The rubber goes without saying; what it meets is what is new.
    f.what = one.id == "rubber" ? other.name : one.name + " and " + other.name;
    if (!f.what.empty() && f.what[0] >= 'a' && f.what[0] <= 'z') f.what[0] = static_cast<char>(f.what[0] - 'a' + 'A');
    f.what += ": " + std::string(words_of(m.rule->does));
    f.why = m.rule->why + " " + m.rule->remedy;
    if (m.hardened) {
      f.why = "The patch test stayed wet: this rubber does not cure on it. " + m.rule->remedy + " Then try it again.";
      f.answerable = false;
    }
    if (m.rule->b == "green-casting") {
      const auto resin = planned_resin(job.mix, shop);
      f.why +=
          " The full cure of " + other.name + " takes " + significant(full_cure_h(job, *resin), 3) + " h at " +
          fixed(job.size.room_c, 0) + " °C" +
          (c.cured_h ? "; it has had " + significant(*c.cured_h, 3) + " h." : "; nobody has said how long it had.");
      f.answerable = false;
    }
    f.remedies = ways_out(m, r, job, shop);
    out.push_back(std::move(f));
  }
  const bool addition = std::any_of(r.parties.begin(), r.parties.end(), [](const Party& p) {
    return std::find(p.traits.begin(), p.traits.end(), "addition") != p.traits.end();
  });
  if (addition && (c.gloves == Gloves::unsaid || c.clay == Clay::unsaid)) {
    Finding f{"contacts-unsaid", Severity::note, {}, "Which gloves and which clay?", "", {}};
    f.why = "Sulphur in latex and in many clays stops this rubber wherever it touches.";
    if (c.gloves == Gloves::unsaid) f.remedies.push_back({"Nitrile gloves", edits::SetContact{"gloves", "nitrile"}});
    if (c.clay == Clay::unsaid)
      f.remedies.push_back({"Clay without sulphur", edits::SetContact{"clay", "sulphur-free"}});
    out.push_back(std::move(f));
  }
  for (const std::string* id : {&job.mix.silicone_id, &job.mix.resin_id}) {
    const Trial* t = newest_trial(trials, lots, TrialKind::cup, *id, "");
    if (!t || t->cured) continue;
    Finding f{"cup-test-wet", Severity::stop, {}, "A test cup of this lot did not cure", "", {}};
    f.where.material = *id;
    f.why = "The cup of " + t->on + " stayed wet. Open another lot and make a cup of that first.";
    f.answerable = false;
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
