#pragma once
/// A knot of the strand: by its shape alone it says untouched, moving, settled, needs an answer, stopped.
#include <QPainter>

#include "overview/overview.hpp"

namespace palinform::app {

const char* state_word(Knot k);
/// Round `c`, of radius `r` px. `progress` 0…1 and `turn` degrees are of one that moves.
void draw_knot(QPainter& p, const QPointF& c, Knot knot, double r = 8.5, double progress = 0, int turn = 0);

}  // namespace palinform::app
