#pragma once
/// The size chain (M10): what a size will measure on the casting, step by step, and how sure that is.
///   formed by rubber   y = x·S·(1 − s_sil)·(1 + α_sil·(T_gel − T_room))·(1 − s_res)
///   formed by a pin    y = pin·(1 − s_free), s_free ≈ 0 by default
///   across the line    + flash;   open face: + stock
/// A mould taken from a casting (second generation) goes through rubber, heat and resin once more. An angle passes
/// unchanged. Uncertainties are standard, combined to first order (GUM); draws.hpp checks that.
#include <optional>
#include <string>
#include <vector>

#include "base/names.hpp"
#include "base/result.hpp"
#include "original/size.hpp"

namespace palinform {

struct ChainMaterials {
  double sil_shrink_pct = 0, sil_shrink_u_pct = 0;
  double sil_expansion_per_k = 0;  ///< linear, 1/K
  double res_shrink_pct = 0, res_shrink_u_pct = 0;
  double gel_c = 21, gel_u_c = 1, room_c = 21;
  double flash_mm = 0, flash_u_mm = 0;
  double pin_shrink_pct = 0, pin_u_mm = 0;
  int generations = 1;                ///< 2: the mould is taken from a casting of the same pair
  double finish_u_mm = 0.01;          ///< of a size reamed, skimmed or shimmed afterwards
  double finish_allowance_mm = 0.05;  ///< least stock a reamer or file needs
  bool operator==(const ChainMaterials&) const = default;
  void hash_into(Hasher& h) const;
};

struct ChainStep {
  enum class Kind { master, scale, rubber, heat, resin, flash, stock, pin, finish } kind = Kind::master;
  double change_mm = 0;  ///< what this step adds
  double u_mm = 0;       ///< standard uncertainty it brings to the size as cast (to the finished one: finish)
  double after_mm = 0;   ///< size after this step
};
template <>
inline constexpr std::array names<ChainStep::Kind>{"master"sv, "scale"sv, "rubber"sv, "heat"sv,  "resin"sv,
                                                   "flash"sv,  "stock"sv, "pin"sv,    "finish"sv};

enum class Verdict { holds, risk, misses };  ///< P ≥ 0.95, ≥ 0.5, below
template <>
inline constexpr std::array names<Verdict>{"holds"sv, "risk"sv, "misses"sv};

struct Prediction {
  std::string size_id;
  std::vector<ChainStep> steps;
  double cast_mm = 0, cast_u_mm = 0;  ///< as it leaves the mould
  double predicted_mm = 0, u_mm = 0;  ///< after finishing; the same where nothing is done
  double p_in_limits = 0;             ///< Φ((USL − y)/u) − Φ((LSL − y)/u), times the chance that stock is left
  Verdict verdict = Verdict::holds;
};

/// Scale along x, y and z of the part's frame; 1 where the master is the original.
struct MasterScale {
  double x = 1, y = 1, z = 1;
  bool operator==(const MasterScale&) const = default;
  static void fields(auto& s, auto&& f) {
    f("x", s.x, Within{0.2, 5});
    f("y", s.y, Within{0.2, 5});
    f("z", s.z, Within{0.2, 5});
  }
  static MasterScale all(double s) { return {s, s, s}; }
  /// How much it stretches a size with these strain shares (scale_share_of).
  double along(const Vec3& share) const;
};

/// Predicts one size.
Prediction predict(const MeasuredSize& size, const ChainMaterials& m, const MasterScale& scale);
inline Prediction predict(const MeasuredSize& size, const ChainMaterials& m, double scale) {
  return predict(size, m, MasterScale::all(scale));
}

/// Resin shrinkage at a section: linear between the catalogue's thin and thick figures, held beyond them.
double shrink_at_section_pct(double section_mm, double thin_mm, double thin_pct, double thick_mm, double thick_pct);

double normal_cdf(double z);

}  // namespace palinform
