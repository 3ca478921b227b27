#include "job/apply.hpp"

#include "original/drawn_sizes.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "original/bore_size.hpp"

namespace palinform {
namespace {

using namespace edits;

/// A pin shapes it, turned to the middle of its limits where none is said yet.
void form_by_pin(MeasuredSize& s) {
  if (s.formed != FormedBy::pin) s.formed = FormedBy::pin, s.pin_mm = 0.5 * (s.lower_mm + s.upper_mm);
}

/// One overload an edit: changes the job and says whether it found what it speaks of.
struct Apply {
  Job& job;

  MeasuredSize* size(const std::string& id) const {
    const auto it = std::find_if(job.original.sizes.begin(), job.original.sizes.end(),
                                 [&](const MeasuredSize& s) { return s.id == id; });
    return it == job.original.sizes.end() ? nullptr : &*it;
  }

  bool operator()(const PinSize& e) const {
    MeasuredSize* s = size(e.size);
    if (s) s->formed = FormedBy::pin, s->pin_mm = e.mm;
    return s;
  }
  bool operator()(const FinishSize& e) const {
    MeasuredSize* s = size(e.size);
    const auto by = named<Finishing>(e.by);
    if (s && by) s->finish = *by;
    return s && by;
  }
  bool operator()(const CorrectReading& e) const {
    MeasuredSize* s = size(e.size);
    if (!s || e.index >= s->readings_mm.size()) return false;
    const auto at = s->readings_mm.begin() + static_cast<std::ptrdiff_t>(e.index);
    if (e.mm)
      *at = *e.mm;
    else
      s->readings_mm.erase(at);
    return true;
  }
  bool operator()(const SetNominal& e) const {
    MeasuredSize* s = size(e.size);
    if (s) s->nominal_mm = e.mm;
    return s;
  }
  bool operator()(const ConfirmLimits& e) const {
    if (e.size == "*") {
      for (MeasuredSize& s : job.original.sizes)
        if (of_drawing(s)) s.limits_guessed = false;
      return true;
    }
    MeasuredSize* s = size(e.size);
    if (s) s->limits_guessed = false;
    return s;
  }
  bool operator()(const MasterSurface& e) const {
    job.original.finish.master_material = e.id;
    return true;
  }
  bool operator()(const FinishLater& e) const {
    const auto later = named<Later>(e.as);
    if (later) job.original.finish.later = *later;
    return later.has_value();
  }
  bool operator()(const SetContact& e) const {
    Contacts& c = job.original.finish.contacts;
    const auto name = [&]<Named E>(E& into) {
      const auto v = named<E>(e.value);
      if (v) into = *v;
      return v.has_value();
    };
    if (e.what == "clay") return name(c.clay);
    if (e.what == "gloves") return name(c.gloves);
    if (e.what == "stick") return name(c.stick);
    if (e.what == "cured-h") {
      const auto hours = parse_number(e.value);
      if (hours) c.cured_h = *hours;
      return hours.has_value();
    }
    bool* flag = e.what == "sealed"     ? &c.sealed
                 : e.what == "barrier"  ? &c.barrier
                 : e.what == "released" ? &c.released
                                        : nullptr;
    if (!flag || (e.value != "yes" && e.value != "no")) return false;
    *flag = e.value == "yes";
    return true;
  }
  bool operator()(const TakeSilicone& e) const {
    job.mix.silicone_id = e.id;
    return true;
  }
  bool operator()(const TakeResin& e) const {
    job.mix.resin_id = e.id;
    return true;
  }
  bool operator()(const ScaleMaster& e) const {
    job.size.master = MasterKind::scaled;
    job.size.scale = e.scale;
    return true;
  }
  bool operator()(const ScalePerAxis&) const {
    job.size.master = MasterKind::scaled_per_axis;
    job.size.axis_scale = MasterScale::all(job.size.scale);
    return true;
  }
  bool operator()(const UseLearned& e) const {
    job.size.learned = LearnedShrink{e.silicone, e.resin, e.delta_pct, e.u_pct, e.from};
    return true;
  }
  bool operator()(const MendMesh&) const { return false; }
  bool operator()(const ConfirmMaterials&) const {
    job.mix.guessed = false;
    return true;
  }
  bool operator()(const SetPull& e) const {
    job.split.pull = e.pull;
    return true;
  }
  bool operator()(const PinBore& e) const {
    job.split.bores.push_back({BoreTreatment::Kind::pin, e.wall_mm, 0});
    // The pin shapes the size: every bore size of that diameter whose line lies at this bore.
    for (MeasuredSize& s : job.original.sizes)
      if (speaks_of_bore(s, e.diameter_mm, e.wall_mm)) form_by_pin(s);
    return true;
  }
  bool operator()(const TapeBore& e) const {
    // Its mouths closed, it fills with resin: a plug without a dimple.
    MasterStep step;
    step.kind = MasterStep::Kind::plug;
    step.point_mm = e.wall_mm;
    job.original.master_steps.push_back(step);
    return true;
  }
  bool operator()(const PlugBore& e) const {
    // A dimple of a quarter of the bore starts the drill.
    MasterStep step;
    step.kind = MasterStep::Kind::plug;
    step.point_mm = e.wall_mm;
    step.mm = std::round(e.diameter_mm / 4 * 10) / 10;
    job.original.master_steps.push_back(step);
    return true;
  }
  bool operator()(const SettleOpening& e) const {
    const auto gone =
        std::erase_if(job.split.openings, [&](const OpeningChoice& c) { return length(c.at_mm - e.at_mm) < 1e-3; });
    if (e.kind.empty()) return gone > 0;  // only taken back
    const auto kind = named<OpeningChoice::Kind>(e.kind);
    if (!kind) return false;
    OpeningChoice c;
    c.kind = *kind, c.at_mm = e.at_mm, c.mouth = e.mouth, c.share = e.share, c.dimple_mm = e.dimple_mm;
    c.two = e.two;
    job.split.openings.push_back(c);
    for (MeasuredSize& s : job.original.sizes) {
      if (!e.round_mm || !speaks_of_bore(s, *e.round_mm, e.at_mm)) continue;
      if (c.kind == OpeningChoice::Kind::slide) {
        form_by_pin(s);
      } else if (s.formed == FormedBy::pin) {
        s.formed = FormedBy::rubber, s.pin_mm.reset();
      }
      // What is closed is cut out of the casting, to its size.
      if (c.closes()) s.finish = Finishing::ream;
    }
    return true;
  }
  bool operator()(const SlidePocket& e) const {
    const auto gone =
        std::erase_if(job.split.pockets, [&](const PocketSlide& p) { return length(p.at_mm - e.at_mm) < 1e-3; });
    if (e.on) job.split.pockets.push_back({e.at_mm, e.draw, e.pull});
    return e.on || gone > 0;
  }
  bool operator()(const HoldInsert& e) const {
    const auto by = named<Insert::Hold>(e.by);
    if (!by || e.index >= job.split.inserts.size()) return false;
    job.split.inserts[e.index].hold = *by;
    return true;
  }
  bool operator()(const MoveInsert& e) const {
    if (e.index >= job.split.inserts.size()) return false;
    job.split.inserts[e.index].at_mm += e.by_mm;
    return true;
  }
  bool operator()(const DropInsert& e) const {
    if (e.index >= job.split.inserts.size()) return false;
    job.split.inserts.erase(job.split.inserts.begin() + static_cast<std::ptrdiff_t>(e.index));
    return true;
  }
  bool operator()(const MakeThread& e) const {
    if (e.index >= job.split.threads.size()) return false;
    ThreadChoice& t = job.split.threads[e.index];
    const auto how = named<ThreadChoice::How>(e.how);
    if (!how && !e.how.empty()) return false;
    // What the way before had put there goes: its bush or screw, and the pin in its bore.
    std::erase_if(job.split.inserts, [&](const Insert& in) {
      return in.kind != Insert::Kind::mesh && at_thread(t, in.at_mm + unit(in.axis) * (0.5 * in.long_mm));
    });
    const Vec3 wall = t.at_mm + any_perpendicular(unit(t.axis)) * (0.5 * t.found_mm);
    if (!t.stud)
      std::erase_if(job.split.bores, [&](const BoreTreatment& b) {
        const Vec3 off = b.point_mm - t.at_mm, axis = unit(t.axis);
        return b.kind == BoreTreatment::Kind::pin && std::abs(dot(off, axis)) < 0.5 * t.deep_mm + 1 &&
               length(off - axis * dot(off, axis)) < 0.5 * t.found_mm + 1;
      });
    if (!how) {
      job.split.threads.erase(job.split.threads.begin() + static_cast<std::ptrdiff_t>(e.index));
      return true;
    }
    t.how = *how;
    const bool by_pin = !t.stud && (*how == ThreadChoice::How::hard || *how == ThreadChoice::How::insert);
    if (by_pin) job.split.bores.push_back({BoreTreatment::Kind::pin, wall, 0});
    if (*how == ThreadChoice::How::insert) {
      ThreadRules rules;
      rules.bush_wall_mm = e.bush_wall_mm, rules.engage_share = e.engage_share;
      job.split.inserts.push_back(threaded_insert(t, rules));
    }
    return true;
  }
  bool operator()(const LineThrough& e) const {
    for (const Vec3& at : e.at_mm) {
      job.split.marks.line.push_back({at, e.radius_mm});
      job.split.marks.to_a.push_back({at + e.pull * (1.6 * e.radius_mm), e.radius_mm});
      job.split.marks.to_b.push_back({at - e.pull * (1.6 * e.radius_mm), e.radius_mm});
    }
    return !e.at_mm.empty();
  }
  bool operator()(const WarmRoom& e) const {
    job.size.room_c = e.c;
    return true;
  }
  bool operator()(const CureLonger& e) const {
    if (e.step.empty()) return false;
    job.days.changes[e.step].wait_min = e.minutes;
    return true;
  }
  bool operator()(const MakeMoulds& e) const {
    job.days.moulds = e.count;
    job.days.from_first_casting = e.from_casting;
    return e.count >= 1;
  }
  bool operator()(const OpenOn& e) const {
    if (e.weekday < 0 || e.weekday > 6) return false;
    job.days.bench.days[static_cast<size_t>(e.weekday)] = true;
    return true;
  }
  bool operator()(const PromiseFor& e) const {
    job.days.promised = e.day;
    return true;
  }
  bool operator()(const AddPiece& e) const {
    job.split.piece_pulls.push_back(e.pull);
    return true;
  }
  bool operator()(const AddPieces& e) const {
    job.split.piece_pulls.insert(job.split.piece_pulls.end(), e.pulls.begin(), e.pulls.end());
    return true;
  }
  bool operator()(const DropPiece& e) const {
    if (e.index >= job.split.piece_pulls.size()) return false;
    job.split.piece_pulls.erase(job.split.piece_pulls.begin() + static_cast<std::ptrdiff_t>(e.index));
    return true;
  }
  bool operator()(const TapeUndercut& e) const {
    job.split.bores.push_back({BoreTreatment::Kind::tape, e.at_mm, e.radius_mm});
    return true;
  }
  bool operator()(const PlaceKeys& e) const {
    job.mould.keys = e.kind;
    job.mould.key_places.clear();
    return true;
  }
  bool operator()(const TakeForm& e) const {
    job.mould.form = e.form;
    return true;
  }
  bool operator()(const TakeBox& e) const {
    if (!e.name.empty() && !e.inside_mm) return false;
    job.mould.own_box = {e.name, e.inside_mm, e.dammed && e.inside_mm};
    return true;
  }
  bool operator()(const PutDams& e) const {
    job.mould.dams = e.on;
    return true;
  }
  bool operator()(const MastersTogether& e) const {
    if (e.masters < 1) return false;
    job.mould.masters = e.masters;
    return true;
  }
  bool operator()(const PourInStages& e) const {
    (e.of_a ? job.mould.stage_a : job.mould.stage_b) = e.on;
    if (e.on && job.mould.brushed == (e.of_a ? Brushed::a : Brushed::b)) job.mould.brushed = Brushed::none;
    return true;
  }
  bool operator()(const BrushHalf& e) const {
    const auto half = named<Brushed>(e.half);
    if (!half) return false;
    job.mould.brushed = *half;
    if (*half != Brushed::none) (*half == Brushed::a ? job.mould.stage_a : job.mould.stage_b) = false;
    return true;
  }
  bool operator()(const TakePart& e) const {
    if (e.index >= job.parts.size()) return false;
    job = with_part_in_hand(std::move(job), e.index);
    return true;
  }
  bool operator()(const SetWall& e) const {
    job.mould.wall_mm = e.mm;
    return true;
  }
  bool operator()(const AddVent& e) const {
    job.flow.vents.push_back(e.at_mm);
    return true;
  }
  bool operator()(const SetGate& e) const {
    job.flow.gate = e.at_mm;
    return true;
  }
  bool operator()(const StandSo& e) const {
    job.flow.turned_over = e.turned_over;
    job.flow.tilt_deg = e.tilt_deg;
    job.flow.azimuth_deg = e.azimuth_deg;
    if (e.gate_mm) job.flow.gate = e.gate_mm;
    job.flow.vents = e.vents_mm;
    return true;
  }
  bool operator()(const SetSprue& e) const {
    job.flow.sprue_mm = e.mm;
    return true;
  }
  bool operator()(const SetHead& e) const {
    job.flow.head_mm = e.mm;
    return true;
  }
  bool operator()(const SetVentSize& e) const {
    job.flow.vent_mm = e.mm;
    return true;
  }
  bool operator()(const SetPressure& e) const {
    // Where both help, no chamber is as poor as 60 kPa, and no pot as weak.
    const bool chamber = job.flow.aid == FillAid::vacuum_then_pressure ? e.kpa < 60 : by_chamber(job.flow.aid);
    (chamber ? job.flow.vacuum_kpa : job.flow.pressure_kpa) = e.kpa;
    return true;
  }
  bool operator()(const HelpFill& e) const {
    const auto aid = named<FillAid>(e.aid);
    if (aid) job.flow.aid = *aid;
    return aid.has_value();
  }
  bool operator()(const HeapHere& e) const {
    job.flow.squeeze.heap = e.at_mm;
    return true;
  }
  bool operator()(const PourOver& e) const {
    job.flow.squeeze.over_pct = e.pct;
    return true;
  }
  bool operator()(const BrushDetails& e) const {
    job.flow.squeeze.brushed = e.on;
    return true;
  }
  bool operator()(const TurnOver& e) const {
    job.flow.turned_over = e.turned_over;
    return true;
  }
  bool operator()(const TakeFigures& e) const {
    // Without a copy the shelf's figures stand; whoever keeps the job copies them.
    bool any = false;
    for (auto* copy : {&job.mix.rubber, &job.mix.rubber_b, &job.mix.resin})
      if (*copy && (*copy)->id == e.material) copy->reset(), any = true;
    return any;
  }
  bool operator()(const SetScaleDivision& e) const {
    job.mix.scale_division_g = e.g;
    return true;
  }
  bool operator()(const SetWaste& e) const {
    job.mix.waste_pct = e.pct;
    return true;
  }
  bool operator()(const TakeCup& e) const {
    job.mix.cup_ml = e.ml;
    return true;
  }
  bool operator()(const ClearAir& e) const {
    const auto by = named<AirBy>(e.by);
    if (by) (e.resin ? job.mix.resin_air : job.mix.rubber_air) = *by;
    return by.has_value();
  }
  bool operator()(const AddHands& e) const {
    job.mix.people = e.people;
    return true;
  }
};

}  // namespace

Result<Job> edited(const Job& job, const Edit& edit) {
  Job next = job;
  if (!std::visit(Apply{next}, static_cast<const EditVariant&>(edit)))
    return Error{"this cannot be done by itself", std::string(code_of(edit)), ""};
  if (auto ok = check_job(next); !ok) return ok.error();
  return next;
}

}  // namespace palinform
