#pragma once
/// Check over a Job: every casting judged against the limits, and what the last one says.
#include "stages/results.hpp"

namespace palinform {

/// What causes are read from beside the castings themselves.
struct WhyGround {
  const FlowResult* flow = nullptr;  ///< pockets that were foreseen; null: not looked at
  const OriginalResult* master = nullptr;
  double tilt_deg = 0, sprue_mm = 5, reference_c = 23, room_c = 21, over_pct = 0;
  std::optional<bool> sealed;
  std::string surface;
  std::string cure_step;  ///< whose wait the cure is; empty: not planned yet
  double cure_min = 0;
};

/// The nearest pocket to a place of the part: how far off it begins, and what it is.
struct NearPocket {
  double mm = 0;
  const PocketSeen* pocket = nullptr;
};
std::optional<NearPocket> near_pocket(const FlowResult& flow, const Vec3& at_mm);

/// The causes of every fault that was seen, each with one change to make; what the last casting shows is told.
WhysResult whys_of(const std::vector<Casting>& castings, const WhyGround& g, const std::vector<ConfirmedCause>& taught,
                   const CauseRules& rules);

/// Did a change help? Nothing where no later casting was looked at.
std::optional<bool> helped(const ChangeMade& change, const std::vector<Casting>& castings);

/// What is shown of a scan first: all of it, or of a large one a sketch. Its own shading takes as long as all that
/// comes before it.
Result<std::shared_ptr<const Shape>> scan_outline(TriMesh scan);
/// A casting's scan on the original, to be looked at while the rest is worked out.
Result<LaidScanResult> lay_scan(const OriginalResult& original, const TriMesh& scan, int number,
                                const Progress& progress);
/// … and against it. The band it is judged by is the narrowest tolerance of the sizes, halved; `limit_mm` where there
/// are none.
Result<ScanResult> scan_result(const OriginalResult& original, const TriMesh& scan, const LaidScanResult& laid,
                               const std::vector<MeasuredSize>& sizes, double limit_mm, const Progress& progress);

/// The job's sizes on another original of the part's kind, from its scan. Refused where it lies over a twentieth of the
/// part's size off, as another part does, or shows none of the sizes.
Result<std::vector<ScannedSize>> sizes_of_other(const OriginalResult& original, const TriMesh& scan,
                                                const std::vector<MeasuredSize>& sizes, const Progress& progress);

CheckResult check_result(const std::vector<MeasuredSize>& sizes, const CheckSetup& check);

/// Mean of a casting's readings of a size, mm; nothing where it has none.
std::optional<double> mean_reading(const Casting& casting, std::string_view size_id);

/// Which mould each casting came out of, counted from 1 in the order of the castings: another begins where the count of
/// pulls that its record tells begins again.
std::vector<int> mould_numbers(const std::vector<Casting>& castings);

}  // namespace palinform
