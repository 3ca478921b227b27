#pragma once
/// How long the mould takes to fill (M8). The front goes where the pressure in the connected gap drives it: each cell
/// at the front takes what flows to it, resin falls and levels where the gap is wide enough to let it, and no more
/// comes in than the sprue gives. Resin thickens meanwhile.
#include <optional>
#include <string>
#include <vector>

#include "flow/network.hpp"

namespace palinform {

struct FillConditions {
  double gate_level_mm = 0;  ///< along up
  double sprue_top_mm = 0;   ///< level of the resin in its funnel, along up
  double sprue_mm = 5;       ///< diameter
  double sprue_long_mm = 60;
  int gates = 1;
  double extra_kpa = 0;          ///< on the resin's surface, over what stands in the cavity (after a vacuum is let in)
  double viscosity_mpa_s = 300;  ///< as it goes in
  double doubling_min = 2;       ///< time in which the viscosity doubles
  double density_g_cm3 = 1.08;
};

/// The cavity while it fills: what stands between gate and front.
struct FillStage {
  double volume_mm3 = 0;  ///< filled
  double resist = 0;      ///< from gate to front, per viscosity, mm⁻³
  double level_mm = 0;    ///< of the front along up: mean over what flows there
};
struct FillCourse {
  std::vector<FillStage> stages;  ///< rising; the last is full
  std::vector<uint16_t> reached;  ///< per cell of the network: the stage by which it is filled
};
/// The order of filling is worked out under `conditions` (viscosity apart, which slows all alike), in `stages` steps of
/// equal volume. Gates are snapped to the nearest cell; every cell within half of `conditions.sprue_mm` is fed with it.
/// Where the head does not reach, the course goes on under more of it: fill_time() says how far it really gets.
Result<FillCourse> fill_course(const FillNetwork& network, const Vec3& up, const std::vector<Vec3>& gates_mm,
                               const FillConditions& conditions, int stages = 40,
                               const Progress& progress = Progress::none());

struct FillTime {
  std::optional<double> full_min;  ///< none: it gels or the head runs out first
  double filled_share = 1;
  std::vector<double> at_min;  ///< when each stage is reached; those that are not: infinite
  double sprue_share = 0;      ///< of the whole resistance, at the last stage
};
/// Round channel 8·L/(π·r⁴) for the sprue (Hagen–Poiseuille); the front's pressure is the air's. Viscosity grows
/// μ0·2^(t/τ), so that ∫dV·R/Δp = τ/(μ0·ln 2)·(1 − 2^(−t/τ)) gives the time in closed form.
FillTime fill_time(const std::vector<FillStage>& stages, const FillConditions& conditions);

/// What would shorten it, most first.
struct FillLever {
  std::string what;  ///< "a sprue of Ø7"
  std::optional<double> full_min;
};
std::vector<FillLever> fill_levers(const std::vector<FillStage>& stages, const std::vector<FillStage>& two_gates,
                                   const FillConditions& conditions);

/// Viscosity at another temperature than the reference: 4 % less for each kelvin (rule of thumb).
double viscosity_at(double mpa_s, double room_c, double reference_c);

}  // namespace palinform
