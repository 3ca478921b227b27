#include "stages/judging.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.hpp"
#include "mesh/sketch.hpp"

namespace palinform {

CheckResult check_result(const std::vector<MeasuredSize>& sizes, const CheckSetup& check) {
  CheckResult out;
  for (const Casting& c : check.castings) {
    std::map<std::string_view, const std::vector<double>*> read;
    for (const CastReading& r : c.readings) read[r.size_id] = &r.values_mm;
    CheckedCasting checked;
    checked.number = c.number;
    std::vector<Conformity> verdicts;
    for (const MeasuredSize& s : sizes) {
      const auto at = read.find(s.id);
      const Judgement j = judge(at == read.end() ? std::vector<double>{} : *at->second, s.resolution_mm,
                                s.instrument_u_mm, s.lower_mm, s.upper_mm, check.rule);
      checked.sizes.push_back({s.id, j});
      verdicts.push_back(j.verdict);
      checked.measured += j.reading.n > 0;
    }
    checked.overall = overall(verdicts);
    out.castings.push_back(std::move(checked));
  }
  return out;
}

namespace {

/// The change as an edit of the job, where it is one.
std::optional<Edit> edit_for(const Change& c, const std::optional<Vec3>& vent_mm, const WhyGround& g) {
  switch (c.cause) {
    case Cause::no_way_out:
    case Cause::air_lock:
      return vent_mm ? std::optional<Edit>(edits::AddVent{*vent_mm}) : std::nullopt;
    case Cause::no_degas:
    case Cause::air_stirred_in:
      return edits::ClearAir{true, "vacuum"};
    case Cause::rubber_bubbles:
      return edits::HelpFill{"gravity"};
    case Cause::sprue_thin:
      return edits::SetSprue{std::round(1.3 * g.sprue_mm * 10) / 10};
    case Cause::cold:
    case Cause::warm_cure:
      return edits::WarmRoom{g.reference_c};
    case Cause::inhibition:
    case Cause::master_not_sealed:
      return edits::SetContact{"sealed", "yes"};
    case Cause::early_demould:
      return g.cure_step.empty() ? std::nullopt
                                 : std::optional<Edit>(edits::CureLonger{g.cure_step, std::ceil(1.25 * g.cure_min)});
    case Cause::overfilled:
      return g.over_pct > 0 ? std::optional<Edit>(edits::PourOver{std::floor(0.5 * g.over_pct)}) : std::nullopt;
    default:
      return std::nullopt;
  }
}

}  // namespace

std::optional<NearPocket> near_pocket(const FlowResult& flow, const Vec3& at) {
  std::optional<NearPocket> best;
  for (const PocketSeen& p : flow.pockets) {
    // From under the wall, or from anywhere as far round its highest place as it reaches.
    const double reach = 0.5 * std::cbrt(p.pocket.volume_mm3);
    const double d = std::max(0.0, std::min(length(p.vent_mm - at), length(p.pocket.apex_mm - at) - reach));
    if (!best || d < best->mm) best = NearPocket{d, &p};
  }
  return best;
}

WhysResult whys_of(const std::vector<Casting>& castings, const WhyGround& g, const std::vector<ConfirmedCause>& taught,
                   const CauseRules& rules) {
  WhysResult out;
  for (const Casting& c : castings) {
    if (c.faults.empty()) continue;
    WhysResult::Of of;
    of.number = c.number;
    CastRecord record = c.record;
    if (!record.pull) record.pull = c.number;
    if (!record.tilt_planned_deg) record.tilt_planned_deg = g.tilt_deg;
    if (!record.sealed) record.sealed = g.sealed;
    if (record.surface.empty()) record.surface = g.surface;
    if (!record.reference_c) record.reference_c = g.reference_c;
    const bool last = &c == &castings.back();
    for (size_t k = 0; k < c.faults.size(); ++k) {
      const FaultSeen& seen = c.faults[k];
      Seen s;
      s.fault = seen.fault;
      std::optional<Vec3> vent = seen.at_mm;
      s.pocket_distance_mm = seen.pocket_distance_mm, s.pocket_mm3 = seen.pocket_mm3;
      if (seen.at_mm && g.flow) {
        const auto near = near_pocket(*g.flow, *seen.at_mm);
        if (near && near->mm <= rules.near_pocket_mm) vent = near->pocket->vent_mm;
        // As it was when the place was told; the plan may have been changed because of it.
        if (!s.pocket_distance_mm) {
          s.pocket_distance_mm = near ? near->mm : 1e3;
          if (near) s.pocket_mm3 = near->pocket->pocket.volume_mm3;
        }
      }
      Why w = why_of(s, record, taught, rules);
      if (w.change) w.change->edit = edit_for(*w.change, vent, g);
      if (last && !seen.confirmed && !w.causes.empty()) {
        const CauseFound& first = w.causes.front();
        Finding f{"check-fault", Severity::caution, {}, "", "", {}};
        f.where.point_mm = seen.at_mm;
        f.where.step = "casting " + std::to_string(c.number) + " fault " + std::to_string(k + 1);
        f.what = std::string(words_of(seen.fault)) + ": " + std::string(words_of(first.cause)) + ", " +
                 fixed(100 * first.p, 0) + " %";
        f.why = first.speaks_for.empty() ? "The trade's usual cause; nothing recorded speaks for or against it."
                                         : first.speaks_for.front();
        f.magnitude = seen.size_mm;
        if (w.change && w.change->edit) f.remedies.push_back({w.change->what, *w.change->edit});
        out.findings.push_back(std::move(f));
      }
      of.whys.push_back(std::move(w));
    }
    out.castings.push_back(std::move(of));
  }
  return out;
}

std::optional<bool> helped(const ChangeMade& change, const std::vector<Casting>& castings) {
  for (const Casting& c : castings) {
    if (c.number <= change.after || (!c.looked_at && c.faults.empty())) continue;
    return std::none_of(c.faults.begin(), c.faults.end(), [&](const FaultSeen& f) { return f.fault == change.fault; });
  }
  return std::nullopt;
}

namespace {

/// Scans of more triangles are sketched before they are shown whole.
constexpr size_t sketched_from = 300'000;

/// How far off a scan's skin is looked for beside the master's.
double scan_reach_mm(const OriginalResult& original) {
  const Vec3 e = original.measure.box_mm.size();
  return std::clamp(0.015 * std::max({e.x, e.y, e.z}), 0.4, 2.0);
}

}  // namespace

Result<std::shared_ptr<const Shape>> scan_outline(TriMesh scan) {
  return make_shape(sketch_of(std::move(scan), sketched_from, 128));
}

Result<LaidScanResult> lay_scan(const OriginalResult& original, const TriMesh& scan, int number,
                                const Progress& progress) {
  LaidScanResult r;
  r.number = number;
  auto laid = align_scan(*original.mesh, *original.rays, scan, {}, progress.part(0, 0.7));
  if (!laid) return laid.error();
  r.aligned = *std::move(laid);
  auto shape = scan_outline(laid_mesh(scan, r.aligned.laid));
  if (!shape) return shape.error();
  r.shape = *shape;
  return r;
}

Result<ScanResult> scan_result(const OriginalResult& original, const TriMesh& scan, const LaidScanResult& laid,
                               const std::vector<MeasuredSize>& sizes, double limit_mm, const Progress& progress) {
  ScanResult r;
  const int number = laid.number;
  r.number = number;
  r.aligned = laid.aligned;
  r.shape = laid.shape;
  if (scan.triangles.size() > sketched_from) {
    auto whole = make_shape(laid_mesh(scan, r.aligned.laid));
    if (!whole) return whole.error();
    r.shape = *whole;
  }
  AlignOptions free;
  free.scale_free = true;
  free.points = 8000;
  auto scaled = align_scan(*original.mesh, *original.rays, scan, free, progress.part(0, 0.3));
  if (!scaled) return scaled.error();
  r.scale = scaled->scale;
  auto d = deviation_of(*original.mesh, *original.rays, scan, r.aligned.laid, progress.part(0.3, 0.95), r.shape->rays);
  if (!d) return d.error();
  r.deviation = *std::move(d);
  r.sizes = sizes_from_scan(sizes, {*original.mesh, *original.pairs, *original.rays}, *r.shape->rays, r.aligned.rms_mm,
                            scan_reach_mm(original));
  r.limit_mm = limit_mm;
  for (const MeasuredSize& s : sizes)
    if (s.upper_mm > s.lower_mm) r.limit_mm = std::min(r.limit_mm, 0.5 * (s.upper_mm - s.lower_mm));
  r.within_share = within_limit_share(scan, r.deviation.mm, r.limit_mm);
  r.histogram = deviation_histogram(scan, r.deviation.mm, 3 * r.limit_mm, 24);
  const auto tell = [&](const char* code, Severity severity, std::string what, std::string why) -> Finding& {
    Finding f{code, severity, {}, std::move(what), std::move(why), {}};
    f.where.step = "casting " + std::to_string(number);
    r.findings.push_back(std::move(f));
    return r.findings.back();
  };
  if (!r.deviation.same_part)
    tell("scan-other", Severity::stop, "Is this a scan of this part?",
         "It lies " + fixed(r.deviation.rms_mm, 2) + " mm off on the average, over a twentieth of the part's size.");
  else if (r.deviation.covered_share < 0.9)
    tell("scan-half", Severity::caution,
         "The scan shows " + fixed(100 * r.deviation.covered_share, 0) + " % of the part",
         "Only that is judged; sizes it does not show are not taken from it.");
  if (r.deviation.same_part && r.within_share < 0.95 && !r.deviation.worst.empty()) {
    const DeviationPlace& w = r.deviation.worst.front();
    Finding& f =
        tell("scan-off", Severity::caution,
             fixed(100 * (1 - r.within_share), 0) + " % of the skin lies beyond ±" + fixed(r.limit_mm, 2) + " mm",
             "Farthest here: " + std::string(w.mm < 0 ? "−" : "+") + fixed(std::abs(w.mm), 2) + " mm.");
    f.where.point_mm = w.at_mm;
    f.magnitude = std::abs(w.mm);
  }
  return r;
}

Result<std::vector<ScannedSize>> sizes_of_other(const OriginalResult& original, const TriMesh& scan,
                                                const std::vector<MeasuredSize>& sizes, const Progress& progress) {
  const auto aligned = align_scan(*original.mesh, *original.rays, scan, {}, progress.part(0, 0.5));
  if (!aligned) return aligned.error();
  const auto rays = RayScene::build(laid_mesh(scan, aligned->laid));
  if (!rays) return rays.error();
  const auto off = deviation_of(*original.mesh, *original.rays, scan, aligned->laid, progress.part(0.5, 0.9), *rays);
  if (!off) return off.error();
  if (!off->same_part)
    return Error{"this is hardly a scan of a part of the same kind", "scan",
                 "It lies " + fixed(off->rms_mm, 2) + " mm off on the average, over a twentieth of the part's size."};
  auto found = sizes_from_scan(sizes, {*original.mesh, *original.pairs, *original.rays}, **rays, aligned->rms_mm,
                               scan_reach_mm(original));
  if (found.empty())
    return Error{"the scan shows none of the sizes", "scan", "Measure sizes on the part first, on its mesh."};
  return found;
}

std::optional<double> mean_reading(const Casting& c, std::string_view size_id) {
  for (const CastReading& r : c.readings) {
    if (r.size_id != size_id || r.values_mm.empty()) continue;
    double sum = 0;
    for (const double v : r.values_mm) sum += v;
    return sum / static_cast<double>(r.values_mm.size());
  }
  return std::nullopt;
}

std::vector<int> mould_numbers(const std::vector<Casting>& castings) {
  std::vector<int> out;
  int mould = 1;
  double last = 0;
  for (const Casting& c : castings) {
    if (c.record.pull) {
      if (*c.record.pull <= last) ++mould;
      last = *c.record.pull;
    }
    out.push_back(mould);
  }
  return out;
}

}  // namespace palinform
