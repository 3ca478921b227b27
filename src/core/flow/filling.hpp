#pragma once
/// How long the mould takes to fill (M8): a network of resistances over the cavity's cells, filled in stages, fed
/// through a sprue whose head falls as the front rises, by resin that thickens meanwhile.
#include <optional>
#include <string>
#include <vector>

#include "flow/cavity.hpp"
#include "mesh/rays.hpp"

namespace palinform {

/// Cells with the local thickness of the section they lie in: the distance from wall to wall through
/// the middle of the largest ball inside that reaches them.
struct FillNetwork {
  Cavity cavity;
  std::vector<float> thick_mm;
  double volume_mm3 = 0;  ///< of the mesh itself; cells this coarse would miscount it
};

/// About `cells` cells; finer, up to eight times as many, where they would not hang together.
Result<FillNetwork> fill_network(const TriMesh& mesh, const RayScene& rays, double cells = 25'000,
                                 Progress& progress = Progress::none());

/// Resistance between two sets of cells that are each held at one pressure, per viscosity: Δp/(Q·μ), mm⁻³. Neighbours
/// conduct k·h with k = t²/12, a thin wall's (harmonic mean of the two). Only cells with `open` set take part (empty:
/// all). Infinite where nothing joins them.
double network_resistance(const FillNetwork& network, const std::vector<uint32_t>& from,
                          const std::vector<uint32_t>& to, const std::vector<uint8_t>& open = {});

/// One stage: cavity filled up to a level.
struct FillStage {
  double level_mm = 0;    ///< height of the front along up
  double volume_mm3 = 0;  ///< filled under it
  double resist = 0;      ///< of the cavity from gate to front, per viscosity, mm⁻³
};
/// Levels of equal volume, lowest first; the last is full.
std::vector<FillStage> fill_stages(const FillNetwork& network, const Vec3& up, const std::vector<Vec3>& gates_mm,
                                   double gate_diameter_mm, int stages = 12, Progress& progress = Progress::none());

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
struct FillTime {
  std::optional<double> full_min;  ///< none: it gels or the head runs out first
  double filled_share = 1;
  std::vector<double> at_min;  ///< when each stage is reached; those that are not: infinite
  double sprue_share = 0;      ///< of the whole resistance, at the last stage
};
/// Round channel 8·L/(π·r⁴) for the sprue; the front's pressure is the air's. Viscosity grows μ0·2^(t/τ), so that
/// ∫dV·R/Δp = τ/(μ0·ln 2)·(1 − 2^(−t/τ)) gives the time in closed form.
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
