#include "findings/inserts.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "findings/tell.hpp"
#include "stages/inserts.hpp"

namespace palinform {
namespace {

/// Does what stands out go into its socket as the side that holds it comes off? It does along the pull, and on the
/// line, where both sides hold it.
bool comes_free(const OriginalResult& m, const Split& split, const StandsOut& s, double across_mm) {
  const Vec3 e = any_perpendicular(s.out), f = cross(s.out, e);
  bool a = false, b = false;
  for (int k = 0; k < 16; ++k) {
    const double t = 2 * 3.14159265358979 * k / 16;
    const auto near = m.rays->closest(s.foot_mm + (e * std::cos(t) + f * std::sin(t)) * (0.6 * across_mm));
    if (near.triangle < split.side.size()) (split.side[near.triangle] == 1 ? b : a) = true;
  }
  return (a && b) || std::abs(dot(s.out, split.pull)) > 0.966;
}

void threads_told(std::vector<Finding>& out, const InsertGround& g, const Shop& shop) {
  using How = ThreadChoice::How;
  const ThreadRules& rules = shop.rules.split.thread;
  const Shown& shown = shop.shown;
  for (size_t k = 0; k < g.threads.size(); ++k) {
    const ThreadChoice& t = g.threads[k];
    const std::string name = words_of(t);
    const auto at = [&](Finding& f) -> Finding& {
      f.where.point_mm = t.at_mm;
      f.where.step = "thread " + std::to_string(k + 1);
      return f;
    };
    const auto way = [&](How how, const char* words) {
      return Remedy{words, edits::MakeThread{k, std::string(name_of(how)), rules.bush_wall_mm, rules.engage_share}};
    };
    const double least = rules.least_rubber_pitch_mm(g.shore_a);
    if (t.how == How::rubber && t.pitch_mm < least)
      at(tell(out, "thread-fine", Severity::caution, "Rubber does not form " + name,
              "A pitch of " + shown.length(t.pitch_mm, 2) + "; rubber of " + fixed(g.shore_a, 0) + " A forms " +
                  shown.length(least, 2) + " and coarser (rule of thumb): finer crests hold air and tear off."))
          .remedies = {way(How::hard, t.stud ? "A hard sleeve" : "A hard screw"),
                       way(How::insert, t.stud ? "Cast a screw in" : "Cast a bush in"),
                       way(How::cut, t.stud ? "Cut it with a die" : "Tap it afterwards")};
    if (t.how == How::cut && !t.stud && t.found_mm > minor_bore_mm(t.nominal_mm, t.pitch_mm) + 0.2 * t.pitch_mm &&
        t.found_mm > 0)
      at(tell(out, "thread-wide", Severity::caution, "The bore is too wide to be tapped " + name,
              "It measures " + shown.length(t.found_mm, 2) + "; the thread wants a core of " +
                  shown.length(tap_core_mm(t.nominal_mm, t.pitch_mm), 2) +
                  ". Fill it and drill it, or cast a bush in."))
          .remedies = {{"Plug, drill later",
                        edits::PlugBore{t.at_mm + any_perpendicular(unit(t.axis)) * (0.5 * t.found_mm), t.found_mm}},
                       way(How::insert, "Cast a bush in")};
    if (t.how == How::cut && t.stud && t.found_mm > 0 &&
        t.found_mm < die_blank_mm(t.nominal_mm, t.pitch_mm) - 0.2 * t.pitch_mm)
      at(tell(out, "thread-thin", Severity::caution, "The stud is too thin for " + name,
              "It measures " + shown.length(t.found_mm, 2) + "; the die wants " +
                  shown.length(die_blank_mm(t.nominal_mm, t.pitch_mm), 2) + "."))
          .remedies = {way(How::insert, "Cast a screw in"), way(How::hard, "A hard sleeve")};
    if (t.deep_mm > 0 && t.deep_mm < 0.6 * t.nominal_mm)
      at(tell(out, "thread-short", Severity::note, name + " has little to hold by",
              "It is " + shown.length(t.deep_mm, 1) + " long; in resin " +
                  shown.length(rules.engage_share * t.nominal_mm, 1) + " is usual (rule of thumb)."));
    if (t.how == How::insert && std::none_of(g.inserts.begin(), g.inserts.end(), [&](const Insert& in) {
          const Vec3 axis = unit(in.axis);
          const Vec3 off = t.at_mm - in.at_mm;
          return length(off - axis * dot(off, axis)) < 0.5 * t.nominal_mm && dot(off, axis) > -1 &&
                 dot(off, axis) < in.long_mm + 1;
        }))
      at(tell(out, "thread-bare", Severity::caution, name + " is to be cast in, and nothing is there",
              "No insert lies at the thread."))
          .remedies = {way(How::insert, t.stud ? "Cast a screw in" : "Cast a bush in"),
                       way(How::cut, t.stud ? "Cut it with a die" : "Tap it afterwards")};
  }
}

}  // namespace

std::vector<Finding> insert_findings(const InsertGround& g, const Shop& shop) {
  std::vector<Finding> out;
  const InsertRules& rules = shop.rules.split.insert;
  const Shown& shown = shop.shown;
  for (size_t k = 0; k < g.inserts.size() && k < g.placed.placed.size(); ++k) {
    const Insert& in = g.inserts[k];
    const auto& p = g.placed.placed[k];
    const std::string name = in.name.empty() ? "Insert " + std::to_string(k + 1) : in.name;
    const auto at = [&](Finding& f, const Vec3& point) -> Finding& {
      f.where.point_mm = point;
      f.where.step = "insert " + std::to_string(k + 1);
      return f;
    };
    const Vec3 middle = in.kind == Insert::Kind::mesh ? in.at_mm : in.at_mm + unit(in.axis) * (0.5 * in.long_mm);
    if (p.refused) {
      Finding& f = at(tell(out, "insert-place", Severity::stop, name + " cannot lie so",
                           p.refused->what + ". " + p.refused->remedy),
                      p.how.touches.empty() ? middle : p.how.touches.front().foot_mm);
      f.answerable = false;
      if (!p.how.touches.empty()) {
        const StandsOut& t = p.how.touches.front();
        const double in_by = std::ceil((t.deep_mm + rules.cover_mm) * 10) / 10;
        f.remedies.push_back({"Move it " + shown.length(in_by, 1) + " in", edits::MoveInsert{k, -t.out * in_by}});
      }
      f.remedies.push_back({"Leave it out", edits::DropInsert{k}});
      continue;
    }
    const double lift_n = lift_on_insert_n(p.how.inside_mm3, p.mass_g, g.resin_g_cm3);
    const std::string weight = significant(p.mass_g, 2) + " g in " +
                               significant(p.how.inside_mm3 * 1e-3 * g.resin_g_cm3, 2) + " g of resin: it " +
                               (lift_n > 0 ? "lifts" : "sinks") + " with " + significant(std::abs(lift_n), 2) + " N";
    if (p.how.seats.empty() && in.hold == Insert::Hold::seats) {
      Finding& f = at(tell(out, "insert-loose", Severity::stop, "Nothing holds " + name,
                           weight + ". No part of it stands " + shown.length(rules.seat_mm, 1) +
                               " out of the part, so no rubber holds it."),
                      middle);
      f.answerable = false;
      if (in.bored()) f.remedies.push_back({"On a pin of the mould", edits::HoldInsert{k, "pin"}});
      f.remedies.push_back({"Hang it from wire", edits::HoldInsert{k, "wire"}});
      f.remedies.push_back({"Leave it out", edits::DropInsert{k}});
    } else if (lift_n > 0) {
      at(tell(out, "insert-lift", Severity::note, name + " floats: its seats hold it down",
              weight + ", on " +
                  (in.hold == Insert::Hold::wire ? std::string("its wire")
                   : in.hold == Insert::Hold::pin
                       ? std::string("its pin")
                       : counted(static_cast<long long>(p.how.seats.size()), "seat", "seats")) +
                  "."),
         middle);
    }
    if (p.how.gap_mm && *p.how.gap_mm < rules.cover_mm) {
      Finding& f = at(tell(out, "insert-thin", Severity::caution,
                           "Only " + shown.length(*p.how.gap_mm, 2) + " of resin over " + name,
                           "Under " + shown.length(rules.cover_mm, 1) +
                               " it fills badly and cracks as it shrinks on the metal (rule of thumb); " +
                               fixed(100 * p.how.thin_share, 0) + " % of its skin has less."),
                      p.how.gap_at_mm);
      f.magnitude = rules.cover_mm - *p.how.gap_mm;
      // Where it is thin all round, no move helps.
      if (p.how.thin_share < 0.4)
        f.remedies.push_back({"Move it " + shown.length(rules.cover_mm - *p.how.gap_mm, 2) + " away",
                              edits::MoveInsert{k, -p.how.gap_way * (rules.cover_mm - *p.how.gap_mm)}});
    } else if (p.how.gap_mm && *p.how.gap_mm < rules.heat_cover_mm && in.density_g_cm3 > 2.5) {
      at(tell(out, "insert-heat", Severity::note, "The resin over " + name + " cures slowly",
              "It is " + shown.length(*p.how.gap_mm, 1) + " thin there, and metal draws the heat out of it; under " +
                  shown.length(rules.heat_cover_mm, 1) + " leave it longer, or warm the metal first (rule of thumb)."),
         p.how.gap_at_mm);
    }
    if (g.gate_mm && g.placed.resin) {
      const SurfacePoint on = g.placed.resin->rays->closest(*g.gate_mm);
      const Vec3 in_way = -g.placed.resin->mesh->normal(on.triangle);
      const auto ahead = g.placed.resin->rays->first_hit(on.point_mm, in_way, 1e-3);
      const auto wall = g.master.rays->first_hit(on.point_mm, in_way, 1e-3);
      const double free = rules.gate_share * g.sprue_mm;
      const bool in_seat = on.distance_mm > 0.05;
      if (in_seat || (ahead && ahead->t_mm < free && (!wall || ahead->t_mm < wall->t_mm - 0.05)))
        at(tell(out, "insert-gate", Severity::stop, name + " blocks the gate",
                in_seat ? std::string("The gate leads onto the metal.")
                        : "It stands " + shown.length(ahead->t_mm, 1) + " before the gate; " + shown.length(free, 1) +
                              " should be free (rule of thumb)."),
           *g.gate_mm);
    }
    if (g.split) {
      const double across = in.kind == Insert::Kind::plate ? in.wide_mm : in.across_mm;
      edits::LineThrough line{{}, g.split->pull, 0.5 * across};
      const StandsOut* held = nullptr;
      for (const StandsOut& s : p.how.seats)
        if (!comes_free(g.master, *g.split, s, across)) held = &s, line.at_mm.push_back(s.foot_mm);
      if (held)
        at(tell(out, "insert-across", Severity::caution, name + " lies across in one half",
                "It stands " + shown.length(held->deep_mm, 1) +
                    " into the rubber beside the line and across the pull: it can neither be laid in nor come out. "
                    "Bring it to the line, or along the pull."),
           held->foot_mm)
            .remedies = {{"Bring the line through it", line}};
    }
    if (g.squeezed)
      at(tell(out, "insert-squeeze", Severity::note, "The heap is reckoned without " + name,
              "How the halves close is worked out for the part alone; it takes " +
                  significant(p.how.inside_mm3 * 1e-3, 2) + " ml less."),
         middle);
  }
  threads_told(out, g, shop);
  return out;
}

}  // namespace palinform
