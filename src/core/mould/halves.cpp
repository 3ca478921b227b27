#include "mould/halves.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mesh/primitives.hpp"
#include "solid/columns.hpp"
#include "solid/cut_block.hpp"
#include "solid/lattice.hpp"

namespace palinform {
namespace {

/// Length of the path from its foot that lies in the box, and the share of the funnel: by small steps.
double inside_mm3(const Channel& c, const Mould& m) {
  const double all = c.length_mm();
  if (all <= 0) return 0;
  double run = 0, sum = 0;
  for (size_t k = 1; k < c.path_mm.size(); ++k) {
    const Vec3 a = c.path_mm[k - 1], b = c.path_mm[k];
    const double len = length(b - a);
    const int steps = std::max(1, static_cast<int>(len / 0.1));
    for (int s = 0; s < steps; ++s) {
      const double t = (s + 0.5) / steps, at = run + t * len;
      const Vec3 p = m.frame.direction(a + (b - a) * t);
      double r = 0.5 * c.diameter_mm;
      if (c.cup_mm > c.diameter_mm && all - at < c.cup_deep_mm)
        r += 0.5 * (c.cup_mm - c.diameter_mm) * (1 - (all - at) / c.cup_deep_mm);
      bool in = true;
      for (int q = 0; q < 3; ++q) in &= p[q] >= m.inner_mm.min[q] && p[q] <= m.inner_mm.max[q];
      if (in) sum += std::numbers::pi * r * r * len / steps;
    }
    run += len;
  }
  return sum;
}

}  // namespace

double way_out_mm(const Box3& box, const Vec3& from, const Vec3& d) {
  double way = 1e300;
  for (int k = 0; k < 3; ++k)
    if (std::abs(d[k]) > 1e-9) way = std::min(way, ((d[k] > 0 ? box.max[k] : box.min[k]) - from[k]) / d[k]);
  return std::max(0.0, way);
}

double Halves::unaccounted_mm3() const {
  double sum = box_mm3 - part_mm3 - pins_mm3 - channels_mm3 - sockets_mm3;
  for (const HalfSolid& h : halves) sum -= h.volume_mm3;
  return sum;
}

Result<Lattice> piece_field(const TriMesh& mesh, const ExtraPiece& piece, double way, double pitch,
                            const Progress& progress) {
  const Transform frame = frame_along(piece.pull);
  Box3 box;
  for (const uint32_t t : piece.triangles)
    for (int k = 0; k < 3; ++k) box.add(frame.direction(mesh.corner(t, k)));
  if (box.empty()) return Error{"the piece forms no face", "mould", ""};
  const Vec3 size = box.size();
  const double h = std::max(pitch, std::max({size.x, size.y, 0.5 * way}) / 220);
  const double floor = box.min.z - 1.5 * h, top = box.max.z + way;
  Box3 region;
  region.add({box.min.x - 4 * h, box.min.y - 4 * h, floor - 2 * h});
  region.add({box.max.x + 4 * h, box.max.y + 4 * h, top});
  auto field = lattice_over(region, h, static_cast<float>(3 * h));
  if (!field) return field.error();
  Lattice& l = *field;
  const auto at = [&](int i, int j) {
    return static_cast<size_t>(j) * static_cast<size_t>(l.ni) + static_cast<size_t>(i);
  };
  const size_t all = static_cast<size_t>(l.ni) * static_cast<size_t>(l.nj);
  // Columns the faces cross, each with its lowest face; and which quarters of a column's width they cross, both ways.
  constexpr int fine = 4;
  const int fi = fine * l.ni, fj = fine * l.nj;
  const auto fine_at = [&](int i, int j) {
    return static_cast<size_t>(j) * static_cast<size_t>(fi) + static_cast<size_t>(i);
  };
  std::vector<float> low(all, 1e30f);
  std::vector<uint8_t> crossed(all * fine * fine, 0), beyond(all * fine * fine, 0);
  for (const uint32_t t : piece.triangles) {
    const Vec3 a = frame.direction(mesh.corner(t, 0)), b = frame.direction(mesh.corner(t, 1)),
               c = frame.direction(mesh.corner(t, 2));
    const double longest = std::max(
        {std::hypot(b.x - a.x, b.y - a.y), std::hypot(c.x - b.x, c.y - b.y), std::hypot(a.x - c.x, a.y - c.y)});
    const int steps = std::max(1, static_cast<int>(std::ceil(1.5 * fine * longest / h)));
    for (int i = 0; i <= steps; ++i)
      for (int j = 0; i + j <= steps; ++j) {
        const Vec3 p = a + (b - a) * (static_cast<double>(i) / steps) + (c - a) * (static_cast<double>(j) / steps);
        const int x = std::clamp(static_cast<int>(std::floor((p.x / h + 0.5) * fine)) - fine * l.i0, 0, fi - 1),
                  y = std::clamp(static_cast<int>(std::floor((p.y / h + 0.5) * fine)) - fine * l.j0, 0, fj - 1);
        crossed[fine_at(x, y)] = 1;
        float& z = low[at(x / fine, y / fine)];
        z = std::min(z, static_cast<float>(p.z));
      }
  }
  // What the faces enclose: all that cannot be reached from the border.
  std::vector<std::pair<int, int>> stack{{0, 0}};
  beyond[0] = 1;
  while (!stack.empty()) {
    const auto [i, j] = stack.back();
    stack.pop_back();
    for (const auto& [x, y] : {std::pair{i + 1, j}, {i - 1, j}, {i, j + 1}, {i, j - 1}})
      if (x >= 0 && y >= 0 && x < fi && y < fj && !beyond[fine_at(x, y)] && !crossed[fine_at(x, y)])
        beyond[fine_at(x, y)] = 1, stack.push_back({x, y});
  }
  // How much of each column lies within; of the quarters at the edge, half. Smoothed over its neighbours, it is level
  // with the edge at one half.
  std::vector<float> mask(all, 0), blurred(all, 0);
  for (int y = 1; y + 1 < fj; ++y)
    for (int x = 1; x + 1 < fi; ++x) {
      if (beyond[fine_at(x, y)]) continue;
      const bool edge = beyond[fine_at(x + 1, y)] || beyond[fine_at(x - 1, y)] || beyond[fine_at(x, y + 1)] ||
                        beyond[fine_at(x, y - 1)];
      mask[at(x / fine, y / fine)] += (edge ? 0.5f : 1.0f) / (fine * fine);
    }
  for (int round = 0; round < 2; ++round) {
    for (int j = 1; j + 1 < l.nj; ++j)
      for (int i = 1; i + 1 < l.ni; ++i) {
        float sum = 0;
        for (int dj = -1; dj <= 1; ++dj)
          for (int di = -1; di <= 1; ++di) sum += mask[at(i + di, j + dj)];
        blurred[at(i, j)] = sum / 9;
      }
    mask.swap(blurred);
  }
  for (int j = 0; j < l.nj; ++j)
    for (int i = 0; i < l.ni; ++i) {
      const size_t c = at(i, j);
      const float side = (0.5f - mask[c]) * static_cast<float>(3 * h);  // mm off the edge: it crosses there in 3 h
      // A face seen edge-on bounds a hollow: that reaches down to the faces' lowest place.
      float foot = static_cast<float>(floor);
      if (low[c] < 1e29f) foot = std::max(foot, low[c] - static_cast<float>(1.5 * h));
      for (int k = 0; k < l.nk; ++k) l.at(i, j, k) = std::max(side, foot - static_cast<float>((l.k0 + k) * h));
    }
  progress.report(1);
  return field;
}

/// From a piece's farthest face along its pull to past the whole box.
static double way_past_mm(const TriMesh& mesh, const ExtraPiece& piece, const Mould& m) {
  const Vec3 along = m.frame.direction(unit(piece.pull));
  double box = 0, face = -1e300;
  for (int k = 0; k < 3; ++k) box += along[k] * (along[k] > 0 ? m.inner_mm.max[k] : m.inner_mm.min[k]);
  for (const uint32_t t : piece.triangles)
    for (int k = 0; k < 3; ++k) face = std::max(face, dot(m.frame.direction(mesh.corner(t, k)), along));
  return std::max(0.0, box - face);
}

Result<Halves> mould_halves(const TriMesh& mesh, const Mould& m, const KeyPlan& keys, const HalvesParts& parts,
                            const HalvesOptions& o, const Progress& progress) {
  Halves out;
  out.voxel_mm = o.voxel_mm;
  out.box_mm3 = m.box_mm3;
  out.part_mm3 = m.part_mm3;
  const Box3& in = m.inner_mm;
  const HeightField surface =
      sample_heights(in.min.x, in.min.y, in.max.x, in.max.y, m.pitch_mm, [&](double u, double v) {
        return std::clamp(m.parting_at(u, v) + keys.bump_mm(u, v, in), in.min.z + 0.5, in.max.z - 0.5);
      });
  // All of it in the mould's frame, where voxels lie square to the box.
  std::vector<TriMesh> away{transformed(mesh, m.frame)};
  std::vector<PieceSpace> cut;
  for (const KeptOut& k : m.kept_out) away.push_back(box_in_frame({}, k.box_mm.min, k.box_mm.max));
  for (const PinPlan& p : parts.pins) {
    away.push_back(transformed(pin_socket(p, o.slack_mm), m.frame));
    if (p.socket) {
      // All of it but what stands out of the box, straight on from its head.
      const double end = p.tail_mm + p.forms_mm;
      const double out_at = way_out_mm(in, m.frame.direction(p.foot_mm + p.draw * end), m.frame.direction(p.draw));
      out.pins_mm3 += p.volume_mm3 - p.section_mm2() * std::max(0.0, p.length_mm() - end - out_at);
      continue;
    }
    // What of the pin lies in rubber: all but the length that forms the bore and the grip outside.
    const double wider = p.outline_mm.empty() ? 1 + 2 * o.slack_mm / p.diameter_mm : 1;
    out.pins_mm3 += wider * wider * (p.tail_section_mm2() * p.tail_mm + p.section_mm2() * p.head_mm);
  }
  for (const Channel& c : parts.channels) {
    for (TriMesh& body : channel_bodies(c)) away.push_back(transformed(std::move(body), m.frame));
    out.channels_mm3 += inside_mm3(c, m);
  }
  for (const Socket& s : parts.sockets) {
    away.push_back(transformed(*s.body, m.frame));
    out.sockets_mm3 += s.in_rubber_mm3;
  }
  for (const ExtraPiece& p : parts.pieces) {
    auto space = piece_field(mesh, p, way_past_mm(mesh, p, m) + 4 * o.voxel_mm, o.voxel_mm, progress.part(0, 0.2));
    if (!space) return space.error();
    cut.push_back({*std::move(space), m.frame.inverse().then(frame_along(p.pull))});
  }
  auto solids = cut_block(in, surface, away, cut, o.voxel_mm, progress.part(0.4, 1));
  if (!solids) return solids.error();
  const Transform back = m.frame.inverse();
  const auto put = [&](TriMesh solid) {
    HalfSolid h;
    h.name = std::string(1, static_cast<char>('a' + out.halves.size()));
    h.volume_mm3 = measure(solid).volume_mm3;
    h.mesh = transformed(std::move(solid), back);
    out.halves.push_back(std::move(h));
  };
  put(std::move(solids->upper));
  put(std::move(solids->lower));
  for (TriMesh& p : solids->pieces) put(std::move(p));
  return out;
}

HalvesParts at_each(const std::vector<HalvesParts>& of_part, const MasterSet& set) {
  HalvesParts all;
  if (of_part.empty()) return all;
  all.pieces = of_part[0].pieces;
  for (ExtraPiece& p : all.pieces) p.triangles.clear();
  for (const SetMaster& m : set.masters) {
    if (m.part >= of_part.size()) continue;
    const HalvesParts& one = of_part[m.part];
    for (const PinPlan& p : one.pins) all.pins.push_back(moved(p, m.place));
    for (Channel c : one.channels) {
      for (Vec3& q : c.path_mm) q = m.place.point(q);
      all.channels.push_back(std::move(c));
    }
    for (const Socket& s : one.sockets)
      all.sockets.push_back({std::make_shared<const TriMesh>(transformed(*s.body, m.place)), s.in_rubber_mm3});
    if (m.part > 0) continue;
    for (size_t i = 0; i < one.pieces.size(); ++i)
      for (const uint32_t t : one.pieces[i].triangles) all.pieces[i].triangles.push_back(t + m.first_triangle);
  }
  return all;
}

}  // namespace palinform
