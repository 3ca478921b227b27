#pragma once
/// What of the job is shown beside a step: bodies cast by the core, with lines and words over them.
#include <QColor>
#include <vector>

#include "bench/run.hpp"
#include "shell/desk.hpp"
#include "view3d/part_view.hpp"

namespace palinform::app {

/// World: the mould stands in it as on the bench for that step.
struct StepShow {
  Scene scene;  ///< empty: nothing can be shown yet, or the step has none
  struct Line {
    std::vector<Vec3> points_mm;
    QColor colour;
    double wide = 2;
    bool closed = false;
  };
  std::vector<Line> lines;
  std::vector<Tag> tags;
  double azimuth_deg = -55, elevation_deg = 24;
};
StepShow step_show(const BenchScreen& screen, Desk& desk);

/// A cup with what goes in as layers, to scale by height; `now_g`: what the scale reads.
void draw_cup(QPainter& p, const QRectF& area, const BenchRun& run, std::optional<double> now_g, const Units& units);

}  // namespace palinform::app
