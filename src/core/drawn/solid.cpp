#include "drawn/solid.hpp"

#include <algorithm>
#include <cmath>

#include "mesh/topology.hpp"
#include "solid/unite.hpp"

namespace palinform {

bool Drawn::complete() const {
  return tracing.complete() || std::any_of(bodies.begin(), bodies.end(), [](const DrawnBody& b) { return !b.cut; });
}

Result<std::vector<DrawnBody>> all_bodies(const Drawn& d, double* u) {
  std::vector<DrawnBody> out;
  if (u) *u = d.bodies.empty() ? 0 : d.u_mm;
  if (d.tracing.complete()) {
    auto traced = traced_bodies(d.tracing);
    if (!traced) return traced.error();
    out = std::move(traced->bodies);
    if (u) *u = std::max(*u, traced->u_mm);
  }
  out.insert(out.end(), d.bodies.begin(), d.bodies.end());
  return out;
}

Result<DrawnSolid> draw_solid(const Drawn& d, const Progress& progress) {
  DrawnSolid out;
  const auto bodies = all_bodies(d, &out.u_mm);
  if (!bodies) return bodies.error();
  if (bodies->empty()) return Error{"there is nothing to draw yet", "drawn", "Add a plate, a bar, a disc …"};
  double size = 0;
  for (const DrawnBody& b : *bodies) size = std::max(size, rough_size_mm(b));
  const double off = chord_error_mm(size);
  for (size_t i = 0; i < bodies->size(); ++i) {
    const DrawnBody& b = (*bodies)[i];
    if (progress.cancelled()) return Error::stopped();
    progress.report(static_cast<double>(i) / static_cast<double>(bodies->size()));
    auto m = body_mesh(b, off);
    if (!m) return m.error();
    for (ExactFace& e : m->exact) {
      if (b.cut && e.kind == FaceKind::plane)
        e.direction = -e.direction;
      else if (b.cut)
        e.kind = e.kind == FaceKind::bore ? FaceKind::boss : FaceKind::bore;
      out.exact.push_back(e);
    }
    if (i == 0) {
      if (b.cut) return Error{name_of(b) + ": there is nothing yet to cut it from", "drawn", "Put a body before it."};
      out.mesh = std::move(m->mesh);
      continue;
    }
    auto next = b.cut ? subtract(out.mesh, m->mesh) : unite(out.mesh, m->mesh);
    if (!next)
      return Error{name_of(b) + (b.cut ? ": it cannot be cut away as it stands" : ": it cannot be put on as it stands"),
                   "drawn", "It meets the rest in an edge or a point only: let it overlap a little, or keep clear."};
    if (next->triangles.empty())
      return Error{name_of(b) + ": it cuts everything away", "drawn", "Make it smaller, or move it."};
    out.mesh = *std::move(next);
  }
  drop_unused_points(out.mesh);
  if (auto ok = check_mesh(out.mesh, "the drawn part"); !ok) return ok.error();
  out.apart = components(out.mesh, pair_edges(out.mesh)).count;
  out.u_volume_mm3 = measure(out.mesh).area_mm2 * out.u_mm / 2;
  progress.report(1);
  return out;
}

}  // namespace palinform
