#include "stages/inserts.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "cast_in/insert_body.hpp"
#include "mesh/primitives.hpp"
#include "stages/preparation.hpp"

namespace palinform {
namespace {

struct Bodies {
  TriMesh lies;      // as it lies in the cavity
  double metal_mm3;  // without its bore
};

Result<Bodies> bodies_of(const Insert& in, const MeshSource& meshes) {
  if (in.kind != Insert::Kind::mesh)
    return Bodies{insert_body(in, in.hold == Insert::Hold::pin), measure(insert_body(in, false)).volume_mm3};
  auto mesh = meshes(in.mesh_hash);
  if (!mesh) return mesh.error();
  TriMesh m = **mesh;
  for (Vec3& p : m.points) p += in.at_mm;
  const EdgePairs pairs = pair_edges(m);
  if (pairs.open_edges + pairs.non_manifold_edges > 0)
    return Error{"its mesh is not closed", in.name.empty() ? in.file : in.name, "Mend it first, as a part is mended."};
  const double mm3 = measure(m).volume_mm3;
  if (mm3 <= 0) return Error{"its mesh is turned inside out", in.name, "Mend it first, as a part is mended."};
  return Bodies{std::move(m), mm3};
}

}  // namespace

Result<InsertsResult> inserts_of(const OriginalResult& master, const std::vector<Insert>& inserts,
                                 const InsertRules& rules, const MeshSource& meshes, const Progress& progress) {
  InsertsResult r;
  std::shared_ptr<const TriMesh> cavity = master.mesh;
  std::shared_ptr<const RayScene> rays = master.rays;
  bool any = false;
  for (size_t k = 0; k < inserts.size(); ++k) {
    const Progress mine = progress.part(static_cast<double>(k) / static_cast<double>(inserts.size() + 1),
                                        static_cast<double>(k + 1) / static_cast<double>(inserts.size() + 1));
    InsertsResult::Placed& p = r.placed.emplace_back();
    const auto refuse = [&](const Error& e) { p.refused = e; };
    auto bodies = bodies_of(inserts[k], meshes);
    if (!bodies) {
      if (bodies.error().cancelled) return bodies.error();
      refuse(bodies.error());
      continue;
    }
    p.mass_g = bodies->metal_mm3 * 1e-3 * inserts[k].density_g_cm3;
    auto seated = seat_insert(*cavity, *rays, bodies->lies, inserts[k], rules, mine);
    if (!seated) {
      if (seated.error().cancelled) return seated.error();
      refuse(seated.error());
      continue;
    }
    p.how = std::move(seated->how);
    if (!p.how.touches.empty()) {
      const StandsOut& t = p.how.touches.front();
      refuse({t.deep_mm > 0 ? "It touches the wall: it stands " + significant(t.deep_mm, 2) + " mm out of the part"
                            : std::string("It touches the wall: it lies in the part's skin"),
              inserts[k].name,
              "What stands out must go " + significant(rules.seat_mm, 2) +
                  " mm deep to be held there; else keep it inside."});
      continue;
    }
    auto shape = make_shape(bodies->lies);
    if (!shape) return shape.error();
    p.shape = *shape;
    r.inside_mm3 += p.how.inside_mm3;
    cavity = std::make_shared<const TriMesh>(std::move(seated->cavity));
    auto next = RayScene::build(*cavity);
    if (!next) return next.error();
    rays = *next;
    any = true;
    if (!p.how.seats.empty()) {
      double in_rubber = 0;
      for (const StandsOut& s : p.how.seats) in_rubber += s.volume_mm3;
      r.sockets.push_back({std::make_shared<const TriMesh>(std::move(bodies->lies)), in_rubber});
    }
    if (progress.cancelled()) return Error::stopped();
  }
  if (any) {
    auto ready = ready_mesh(cavity, progress);
    if (!ready) return ready.error();
    r.resin = std::make_shared<const OriginalResult>(*std::move(ready));
  }
  return r;
}

std::array<double, 2> seats_mm3(const InsertsResult& inserts, const OriginalResult& master, const Split& split) {
  std::array<double, 2> sum{0, 0};
  for (const auto& p : inserts.placed) {
    if (p.refused) continue;
    for (const StandsOut& s : p.how.seats) {
      const uint32_t t = master.rays->closest(s.foot_mm).triangle;
      sum[t < split.side.size() && split.side[t] == 1 ? 1 : 0] += s.volume_mm3;
    }
  }
  return sum;
}

std::vector<std::string> inserts_in_words(const std::vector<Insert>& inserts, const InsertsResult& placed,
                                          const Shown& shown) {
  std::vector<std::string> out;
  for (size_t k = 0; k < inserts.size() && k < placed.placed.size(); ++k) {
    if (placed.placed[k].refused) continue;
    const Insert& in = inserts[k];
    std::string s = in.name.empty() ? "insert " + std::to_string(k + 1) : in.name;
    if (in.kind != Insert::Kind::mesh)
      s += ", " + shown.length_figure(in.across_mm, 1) + " × " + shown.length(in.long_mm, 1);
    s += in.hold == Insert::Hold::pin    ? ", on its pin"
         : in.hold == Insert::Hold::wire ? ", hung from fine wire"
                                         : ", into its sockets";
    out.push_back(std::move(s));
  }
  return out;
}

void shape_by_threads(PinsResult& pins, const std::vector<Bore>& bores, const std::vector<ThreadChoice>& threads) {
  for (size_t k = 0; k < pins.bore.size(); ++k)
    for (const ThreadChoice& t : threads) {
      if (t.stud || !at_thread(t, bores[pins.bore[k]].centroid_mm)) continue;
      const bool hard = t.how == ThreadChoice::How::hard;
      pins.pins[k].diameter_mm = hard ? t.nominal_mm : std::floor(100 * minor_bore_mm(t.nominal_mm, t.pitch_mm)) / 100;
      if (hard) pins.pins[k].name += " (screw " + words_of(t) + ")";
    }
}

std::vector<std::string> unscrewed_of(const std::vector<ThreadChoice>& threads) {
  std::vector<std::string> out;
  for (const ThreadChoice& t : threads)
    if (t.how == ThreadChoice::How::hard)
      out.push_back((t.stud ? "the sleeve " : "the screw ") + words_of(t));
    else if (t.how == ThreadChoice::How::rubber)
      out.push_back("the rubber of the thread " + words_of(t));
  return out;
}

std::vector<std::string> cut_threads_of(const std::vector<ThreadChoice>& threads, const Shown& shown) {
  std::vector<std::string> out;
  std::vector<int> times;  // of each: equal ones are told once
  for (const ThreadChoice& t : threads) {
    if (t.how != ThreadChoice::How::cut) continue;
    std::string what =
        t.stud ? "Turn or sand the stud to " + shown.length(die_blank_mm(t.nominal_mm, t.pitch_mm), 2) + " and cut " +
                     words_of(t)
               : "Drill " + shown.length(tap_core_mm(t.nominal_mm, t.pitch_mm), 2) + " and tap " + words_of(t);
    const auto same = std::find(out.begin(), out.end(), what);
    if (same == out.end())
      out.push_back(std::move(what)), times.push_back(1);
    else
      ++times[static_cast<size_t>(same - out.begin())];
  }
  for (size_t k = 0; k < out.size(); ++k)
    if (times[k] > 1) out[k] += ", at " + std::to_string(times[k]) + " places";
  return out;
}

}  // namespace palinform
