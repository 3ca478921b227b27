#pragma once
/// What the bench's clocks read.
#include <cmath>
#include <QDateTime>
#include <QString>

#include "bench/run.hpp"

namespace palinform::app {

inline WallSecond now_s() { return QDateTime::currentSecsSinceEpoch(); }

/// "22:40" minutes and seconds, or "3 h 12" for long ones.
inline QString span(WallSecond s) {
  const bool over = s < 0;
  const WallSecond t = std::abs(s);
  const QString words =
      t >= 3600 ? QStringLiteral("%1 h %2").arg(t / 3600).arg(t / 60 % 60, 2, 10, QLatin1Char('0'))
                : QStringLiteral("%1:%2").arg(t / 60, 2, 10, QLatin1Char('0')).arg(t % 60, 2, 10, QLatin1Char('0'));
  return over ? QStringLiteral("−") + words : words;
}

}  // namespace palinform::app
