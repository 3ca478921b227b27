#include "stages/preparation.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/shape_edits.hpp"
#include "mesh/thickness.hpp"
#include "mould/box.hpp"
#include "mould/forms.hpp"
#include "solid/unite.hpp"

namespace palinform {

Result<OriginalResult> ready_mesh(std::shared_ptr<const TriMesh> mesh, const Progress& progress) {
  OriginalResult r;
  r.mesh = std::move(mesh);
  progress.report(0.2);
  auto rays = RayScene::build(*r.mesh);
  if (!rays) return rays.error();
  r.rays = *rays;
  progress.report(0.5);
  if (progress.cancelled()) return Error::stopped();
  r.pairs = std::make_shared<const EdgePairs>(pair_edges(*r.mesh));
  progress.report(0.7);
  if (progress.cancelled()) return Error::stopped();
  r.shape = make_shape(*r.mesh, *rays);
  r.measure = measure(*r.mesh);
  r.own_size_mm = own_size_mm(*r.mesh);
  progress.report(1);
  return r;
}

Result<TriMesh> prepared_master(const OriginalResult& original, const std::vector<MasterStep>& steps,
                                const MeshSource& meshes, const Progress& progress) {
  TriMesh mesh = *original.mesh;
  for (size_t i = 0; i < steps.size(); ++i) {
    if (progress.cancelled()) return Error::stopped();
    progress.report(0.2 * static_cast<double>(i) / static_cast<double>(steps.size()));
    const MasterStep& s = steps[i];
    const auto fail = [&](const Error& e) {
      return Error{"step " + std::to_string(i + 1) + " (" + words_of(s) + "): " + e.what, "master", e.remedy};
    };
    if (s.kind == MasterStep::Kind::mirror) {
      mesh = mirrored(std::move(mesh), s.axis);
      continue;
    }
    if (s.kind == MasterStep::Kind::join) {
      const auto other = meshes(s.mesh);
      if (!other) return fail(other.error());
      auto both = unite(mesh, **other);
      if (!both) return fail(both.error());
      mesh = *std::move(both);
      continue;
    }
    const EdgePairs pairs = pair_edges(mesh);
    const auto rays = RayScene::build(mesh);
    if (!rays) return rays.error();
    const FaceFit face = fit_face(mesh, pairs, (*rays)->closest(s.point_mm).triangle);
    auto next =
        s.kind == MasterStep::Kind::stock ? with_stock(mesh, pairs, face, s.mm) : plugged(mesh, pairs, face, s.mm);
    if (!next) return fail(next.error());
    mesh = *std::move(next);
  }
  return mesh;
}

FacesResult find_faces(const OriginalResult& original, const std::vector<FaceMark>& marks) {
  FacesResult r;
  auto paint = std::make_shared<std::vector<uint8_t>>(original.mesh->triangles.size(), uint8_t{0});
  for (const FaceMark& m : marks) {
    const FaceFit f = fit_face(*original.mesh, *original.pairs, original.rays->closest(m.point_mm).triangle);
    FacesResult::Found found{f.kind, 0, f.direction};
    for (const uint32_t t : f.triangles) {
      (*paint)[t] = static_cast<uint8_t>(1 + static_cast<int>(m.kind));
      found.area_mm2 += original.mesh->area_mm2(t);
    }
    r.faces.push_back(found);
  }
  r.paint = paint;
  return r;
}

std::optional<double> section_of_line(const OriginalResult& original, const Vec3& from, const Vec3& to) {
  if (from == to) return std::nullopt;
  // A centre distance ends on axes, in the open: the skin near them is what shrinks, but only within reach.
  const double reach = 0.3 * length(to - from) + 1;
  double sum = 0;
  int n = 0;
  for (const Vec3& p : {from, to}) {
    if (original.rays->closest(p).distance_mm > reach) continue;
    if (const auto s = section_at_mm(*original.mesh, *original.rays, p)) sum += *s, ++n;
  }
  if (n == 0) return std::nullopt;
  return std::round(sum / n * 100) / 100;
}

MasterFile master_file(const OriginalResult& master, const Job& job, const Catalogue& catalogue) {
  MasterFile out;
  out.mesh = *master.mesh;
  const MasterScale s = job.size.master_scale();
  const Vec3 centre = master.measure.box_mm.centre();
  for (Vec3& p : out.mesh.points)
    p = {centre.x + (p.x - centre.x) * s.x, centre.y + (p.y - centre.y) * s.y, centre.z + (p.z - centre.z) * s.z};
  const MeshMeasure m = measure(out.mesh);
  out.volume_mm3 = m.volume_mm3;
  if (s == MasterScale{})
    out.advice.push_back("At its own size: no scale is set.");
  else if (s.x == s.y && s.y == s.z)
    out.advice.push_back("Scaled × " + fixed(s.x, 5) + " already: print it at 100 %.");
  else
    out.advice.push_back("Scaled × " + fixed(s.x, 5) + ", " + fixed(s.y, 5) + ", " + fixed(s.z, 5) +
                         " along x, y, z already: print it at 100 %, standing as it is in the file.");
  const Vec3 size = m.box_mm.size();
  // The largest flat face down: the least support, and its layers lie along the hidden side.
  double best = 0;
  Vec3 down{0, 0, -1};
  std::vector<bool> seen(out.mesh.triangles.size(), false);
  for (int axis = 0; axis < 3; ++axis)
    for (const double side : {-1.0, 1.0}) {
      double area = 0;
      for (size_t t = 0; t < out.mesh.triangles.size(); ++t) {
        const Vec3 n = out.mesh.normal(t);
        if (n[axis] * side < 0.995) continue;
        const double at = out.mesh.centre(t)[axis], end = side > 0 ? m.box_mm.max[axis] : m.box_mm.min[axis];
        if (std::abs(at - end) < 0.003 * size[axis] + 0.02) area += out.mesh.area_mm2(t);
      }
      if (area > best) {
        best = area;
        down = {};
        down[axis] = side;
      }
    }
  if (best > 0.1 * std::min({size.x * size.y, size.y * size.z, size.z * size.x}))
    out.advice.push_back(std::string("Stand it on its ") + (down.x + down.y + down.z > 0 ? "+" : "−") +
                         (down.x != 0   ? "x"
                          : down.y != 0 ? "y"
                                        : "z") +
                         " face (" + fixed(best, 0) +
                         " mm² flat): it needs the least support, and the layers run off the show side.");
  else
    out.advice.push_back("It has no large flat face: tilt it, and put the supports on the hidden side.");
  double tightest = 1e9;
  for (const MeasuredSize& z : job.original.sizes)
    if (z.kind != SizeKind::angle && !(z.formed == FormedBy::pin && z.pin_mm))
      tightest = std::min(tightest, z.upper_mm - z.lower_mm);
  if (tightest < 1e8)
    out.advice.push_back("Layers of " + fixed(std::clamp(tightest / 4, 0.025, 0.2), 3) +
                         " mm or less: the narrowest limits span " + fixed(tightest, 3) +
                         " mm. Measure the print before rubber touches it.");
  out.advice.push_back("Solid " + grouped(out.volume_mm3 * 1e-3, 1) +
                       " ml. Print it solid or with thick walls: a hollow master floats in rubber.");
  if (const MasterMaterial* w = catalogue.master(job.original.finish.master_material))
    out.advice.push_back(w->seal + ", then wait " +
                         (w->wait_h >= 48 ? fixed(w->wait_h / 24, 0) + " days" : significant(w->wait_h, 2) + " h") +
                         ". " + w->why);
  else
    out.advice.push_back(
        "A photopolymer print must be washed, post-cured fully and sealed before addition-cure silicone touches it.");
  return out;
}

Vec3 through_mirrors(Vec3 p, const std::vector<MasterStep>& steps, const Vec3& centre) {
  for (const MasterStep& s : steps)
    if (s.kind == MasterStep::Kind::mirror) p[s.axis] = 2 * centre[s.axis] - p[s.axis];
  return p;
}

// ---- findings ----

std::vector<Finding> original_findings(const Job& job, const Catalogue& catalogue, const Soundness* soundness) {
  std::vector<Finding> out;
  const auto add = [&](std::string code, Severity severity, std::string what, std::string why) -> Finding& {
    out.push_back({std::move(code), severity, {}, std::move(what), std::move(why), {}});
    return out.back();
  };
  if (soundness && !soundness->sound()) {
    const Soundness& s = *soundness;
    std::vector<std::string> faults;
    const auto fault = [&](size_t n, const char* one, const char* many) {
      if (n) faults.push_back(counted(static_cast<long long>(n), one, many));
    };
    fault(s.open_edges, "open edge", "open edges");
    fault(s.non_manifold_edges, "edge where more than two faces meet", "edges where more than two faces meet");
    fault(s.self_intersections, "pair of faces that cut one another", "pairs of faces that cut one another");
    fault(s.degenerate_faces, "face without area", "faces without area");
    fault(s.flipped_components, "piece inside out", "pieces inside out");
    Finding& f = add("mesh-unsound", Severity::stop, "The mesh is not a sound skin", "");
    for (size_t i = 0; i < faults.size(); ++i) f.why += (i ? ", " : "") + faults[i];
    f.why += ". Volumes and the split cannot be trusted until it is mended.";
    f.remedies = {{"Mend it", edits::MendMesh{}}};
  }
  for (const Duty d : job.original.duties) {
    Finding& f =
        add("duty", Severity::stop, "Somebody's safety hangs on this part",
            "It " + std::string(words_of(d)) +
                ". A copy in cast resin is weaker and untested. Follow the data sheets and local rules and ask a "
                "licensed person; say in writing why it may be made.");
    f.where.step = std::string(name_of(d));
    f.needs_written = true;
  }
  for (const MeasuredSize& s : job.original.sizes) {
    const auto place = [&](Finding& f) {
      f.where.size = s.id;
      f.where.point_mm = (s.from_mm + s.to_mm) * 0.5;
    };
    for (const ReadingDoubt& d : doubtful_readings(s)) {
      Finding& f = add("reading-doubt", Severity::caution, s.name + ": is " + significant(d.reading_mm, 5) + " right?",
                       "It is far from the nominal " + significant(s.nominal_mm, 5) + " " +
                           std::string(unit_of(s.kind)) + "." + (d.meant_mm ? " It looks like " + d.guess + "." : ""));
      place(f);
      f.where.step = "reading " + std::to_string(d.index + 1);
      if (d.meant_mm)
        f.remedies.push_back({"It is " + fixed(*d.meant_mm, 2) + " " + std::string(unit_of(s.kind)),
                              edits::CorrectReading{s.id, d.index, *d.meant_mm}});
      f.remedies.push_back({"Take it out", edits::CorrectReading{s.id, d.index}});
    }
    if (s.nominal_mm < s.lower_mm - 1e-9 || s.nominal_mm > s.upper_mm + 1e-9) {
      const double middle = 0.5 * (s.lower_mm + s.upper_mm);
      Finding& f = add("nominal-outside", Severity::caution, s.name + ": the nominal lies outside its limits",
                       significant(s.nominal_mm, 5) + " is not between " + fixed(s.lower_mm, 3) + " and " +
                           fixed(s.upper_mm, 3) + " " + std::string(unit_of(s.kind)) +
                           ". A size meant for its mate may be so; a slip of the keys is likelier.");
      place(f);
      f.remedies = {{"Nominal " + fixed(middle, 3), edits::SetNominal{s.id, middle}}};
    }
    if (s.limits_guessed) {
      Finding& f =
          add("limits-guessed", Severity::note, s.name + ": the limits are a guess",
              limits_text(s) + " " + std::string(unit_of(s.kind)) + " was proposed by size alone. What must it fit?");
      place(f);
      f.remedies = {{"They are right", edits::ConfirmLimits{s.id}}};
    }
  }
  const bool mirrored_part = std::count_if(job.original.master_steps.begin(), job.original.master_steps.end(),
                                           [](const MasterStep& s) { return s.kind == MasterStep::Kind::mirror; }) %
                                 2 ==
                             1;
  if (mirrored_part) {
    Finding& f = add(
        "mirror", Severity::caution, "Not everything may be mirrored",
        "Threads become left-handed, lettering reads backwards, and fits that lie to one side change sides. Look for "
        "them on the part before it is printed");
    std::string fitted;
    for (const MeasuredSize& s : job.original.sizes)
      if (s.limits_from.find("mate") != std::string::npos ||
          (!s.limits_from.empty() && s.limits_from.find("2768") == std::string::npos))
        fitted += (fitted.empty() ? "" : ", ") + s.name;
    f.why += fitted.empty() ? "." : "; check the fits of " + fitted + ".";
  }
  if (!job.original.mesh.hash.empty() || job.original.bare.complete() || !job.original.sizes.empty()) {
    const Silicone* sil = catalogue.silicone(job.mix.silicone_id);
    const MasterMaterial* master = catalogue.master(job.original.finish.master_material);
    if (!master) {
      Finding& f = add("master-material", Severity::note, "What will the rubber touch?",
                       "Sealing, waiting and whether the silicone cures at all depend on the master's surface.");
      const bool printed = job.size.master != MasterKind::original;
      for (const char* id : {printed ? "printed-photopolymer" : "cast-plastic", printed ? "printed-filament" : "metal"})
        if (const MasterMaterial* m = catalogue.master(id))
          f.remedies.push_back({m->name, edits::MasterSurface{m->id}});
    } else {
      // A printed cup takes no silicone: there is no mould rubber to be stopped.
      if (sil && sil->addition_cure && master->inhibits_addition && job.mould.form != name_of(Form::cup_core)) {
        Finding& f = add("inhibition", Severity::caution, master->name + " can stop this silicone",
                         master->why + " " + master->seal + "; test a hidden spot first.");
        f.where.material = sil->id;
        for (const Silicone& s : catalogue.silicones)
          if (!s.addition_cure) {
            f.remedies.push_back({s.name, edits::TakeSilicone{s.id}});
            break;
          }
      }
      if (master->bonds) {
        Finding& f = add("bonds", Severity::caution, "Silicone sticks to " + lower_ascii(master->name),
                         master->why + " " + master->seal + ".");
        f.where.material = master->id;
      }
    }
    if (job.original.finish.later == Later::unsaid) {
      Finding& f = add("finish-later", Severity::note, "Will the casting be painted or glued?",
                       "Release agent in the mould makes pulls last, but paint and glue do not hold on it.");
      f.remedies = {{"Neither", edits::FinishLater{"nothing"}},
                    {"Painted", edits::FinishLater{"paint"}},
                    {"Glued", edits::FinishLater{"glue"}}};
    } else if (job.original.finish.later != Later::nothing) {
      add("finish-release", Severity::note, "No release agent in this mould",
          std::string("The casting will be ") + (job.original.finish.later == Later::paint ? "painted" : "glued") +
              ": wash it, wait 24 h, and reckon with fewer pulls from the mould (rules of thumb).");
    } else if (job.original.finish.surface == Gloss::gloss) {
      add("finish-gloss", Severity::note, "No release on a gloss face",
          "It dulls the gloss. Gloss in the master means gloss out.");
    }
  }
  if (job.size.generations > 1)
    add("second-generation", Severity::note, "A copy of a copy shrinks twice",
        "The mould is taken from a casting: rubber, heat and resin act once more, and their uncertainty counts twice.");
  if (job.original.mesh.hash.empty() && job.original.bare.complete()) {
    const auto v = bare_volume_mm3(job.original.bare);
    Finding& f = add(v ? "bare" : "bare-wrong", v ? Severity::note : Severity::stop,
                     v ? "There is no shape, only measures" : "The measures do not agree",
                     v ? "Rubber, resin, weighing and days are reckoned from the box and " + grouped(*v * 1e-3, 1) +
                             " ml. Split, halves and the air in the mould need a mesh."
                       : v.error().text());
    f.answerable = v ? true : false;
  }
  return out;
}

}  // namespace palinform
