#pragma once
/// Days as the wall writes them.
#include "base/wall_time.hpp"
#include "shell/units.hpp"

namespace palinform::app {

/// "09.12."
inline QString date_words(WallMinute t) {
  const QString iso = qs(wall_text(t));
  return iso.mid(8, 2) + QLatin1Char('.') + iso.mid(5, 2) + QLatin1Char('.');
}
/// "Wed 09.12."
inline QString day_words(WallMinute t) { return qs(short_text(t)).left(3) + QLatin1Char(' ') + date_words(t); }

}  // namespace palinform::app
