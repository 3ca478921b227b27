#pragma once
/// A size of one mould's castings by pull: scatter, signals, drift, and the pull before which it holds (M26).
#include <optional>
#include <vector>

namespace palinform {

struct RunPoint {
  int pull = 1;
  double mm = 0;
};

enum class SignalKind { beyond_three, two_of_three, four_of_five, eight_on_one_side };
struct Signal {
  SignalKind kind = SignalKind::beyond_three;
  int pull = 1;  ///< at which it shows
};

struct Drift {
  double mm_a_pull = 0, u_mm_a_pull = 0;  ///< slope, and its standard uncertainty
  double at_first_mm = 0;                 ///< fitted, at the first pull
  double scatter_mm = 0;                  ///< about the line
  bool sure = false;                      ///< its 95 % interval leaves out nought
};

struct Capability {
  double cp = 0, cp_low = 0, cp_high = 0;  ///< 95 % by chi-square
  double cpk = 0, cpk_low = 0, cpk_high = 0;
};

struct RunChart {
  double mean_mm = 0, sigma_mm = 0;  ///< by the moving range, d2 = 1.128; 0 with fewer than two points
  std::vector<Signal> signs;
  std::optional<Drift> drift;            ///< from three points
  std::optional<Capability> capability;  ///< from five, and both limits
  /// It leaves its limits not before pull `leaves_from`: where the 95 % prediction band first meets one. `leaves_to`:
  /// where the band's other edge does. None: not within a thousand pulls, or no drift is fitted.
  std::optional<int> leaves_from, leaves_to;
};

/// Points in the order of their pulls. A limit that is not finite is none.
RunChart run_chart(const std::vector<RunPoint>& points, double lower_mm, double upper_mm);

}  // namespace palinform
