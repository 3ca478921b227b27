#pragma once
/// How long things last that wear out: a Weibull law fitted to lives that ended and to lives that go on (M29).
#include <vector>

#include "base/result.hpp"

namespace palinform {

struct Life {
  double pulls = 0;    ///< so far
  bool ended = false;  ///< false: it still goes on, or ended for another reason
};

struct LifeLaw {
  double shape = 1;          ///< over 1: the longer it has served, the likelier it fails
  double scale = 0;          ///< pulls at which 63 % are gone
  double mean = 0;           ///< pulls
  double low = 0, high = 0;  ///< of the mean, nine times in ten
  int ended = 0, going_on = 0;
  bool by_sheet = false;  ///< too few have ended: the sheet's figure, moved by what is there
};

/// Maximum likelihood with right-censored lives. Refused: under 2 that ended, all alike at nought, figures not finite.
Result<LifeLaw> fit_weibull(const std::vector<Life>& lives);

/// With at least five that ended the fit; before that the sheet's pulls as a guess worth three moulds, moved by those
/// that are there (gamma on the mean, shape 1).
LifeLaw life_law(const std::vector<Life>& lives, double sheet_pulls);

/// Chance to do so many more pulls, having done `pulls`; 0…1.
double chance_of(const LifeLaw& law, double pulls, double more);
/// Pulls still to come, on the average, having done `pulls`.
double pulls_to_come(const LifeLaw& law, double pulls);

}  // namespace palinform
