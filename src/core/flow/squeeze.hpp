#pragma once
/// Closing a squeeze mould: what is poured over and what it takes to press the rest out over the land (M8, thin film).

namespace palinform {

/// Newtons that bring two round lands of radius `land_mm` to `flash_mm` apart in `seconds`: Stefan's film,
/// F = 3π·μ·R⁴/(4·t)·(1/h² − 1/h0²) with h0 far open. Viscosity in Pa·s.
double squeeze_force_n(double viscosity_pa_s, double land_mm, double flash_mm, double seconds);

/// Radius of the round land of the same area.
double land_radius_mm(double area_mm2);

}  // namespace palinform
