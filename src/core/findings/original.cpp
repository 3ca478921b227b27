#include "findings/original.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "findings/tell.hpp"
#include "original/drawn_sizes.hpp"

namespace palinform {
namespace {

/// What a drawn part rests on: how far it may be off, pieces that do not touch, a photograph that says too little.
void tell_drawn(std::vector<Finding>& out, const Job& job, const OriginalResult& r) {
  const Tracing& t = job.original.drawn.tracing;
  const auto traced = t.complete() ? traced_bodies(t) : Result<TracedBodies>(Error{});
  tell(out, "drawn-guess", Severity::note,
       traced ? "The part is traced from a picture" : "The part is drawn from measures",
       "A measure across it is good to about ± " + significant(r.u_mm, 2) + " mm, its volume to ± " +
           significant(r.u_volume_mm3 * 1e-3, 2) + " ml: rubber, resin and the printed master hang on that.");
  if (r.apart > 1)
    tell(out, "drawn-apart", Severity::stop, "The part is in " + std::to_string(r.apart) + " pieces that do not touch",
         "A mould casts what hangs together. Move a body so that it overlaps the rest, or take it out.");
  if (!traced) return;
  if (traced->slant_deg > 25)
    tell(out, "traced-slant", Severity::caution, "The picture was taken at a steep slant",
         "The camera leaned by about " + fixed(traced->slant_deg, 0) +
             "°: edges of the part's height hide and show. Under 25° the outline is that of one face.");
  if (traced->parallax_guessed)
    tell(out, "traced-parallax", Severity::caution, "How far off was the camera?",
         "The traced face stands " + shortest(t.scale.off_plane_mm, 1) +
             " mm above the ruler, so it looks larger. A camera 400 mm away is taken: give its distance in the "
             "tracing, or "
             "lay the ruler at the height of the face.");
  const double across = std::max(r.measure.box_mm.size().x, r.measure.box_mm.size().y);
  if (traced->u_scale * across > 0.5 && !traced->parallax_guessed)
    tell(out, "traced-scale", Severity::caution, "The picture's scale is coarse",
         "Across the part it leaves ± " + significant(traced->u_scale * across, 2) +
             " mm. Use a longer distance, or a rectangle about as large as the part.");
}

}  // namespace

std::vector<Finding> original_findings(const Job& job, const Shop& shop, const Soundness* soundness,
                                       const OriginalResult* drawn) {
  std::vector<Finding> out;
  const auto add = [&](std::string code, Severity severity, std::string what, std::string why) -> Finding& {
    return tell(out, std::move(code), severity, std::move(what), std::move(why));
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
    if (s.limits_guessed && !of_drawing(s)) {
      Finding& f =
          add("limits-guessed", Severity::note, s.name + ": the limits are a guess",
              limits_text(s) + " " + std::string(unit_of(s.kind)) + " was proposed by size alone. What must it fit?");
      place(f);
      f.remedies = {{"They are right", edits::ConfirmLimits{s.id}}};
    }
  }
  // The measures of a drawing bring a size each: asked about together.
  const auto guessed = std::count_if(job.original.sizes.begin(), job.original.sizes.end(),
                                     [](const MeasuredSize& s) { return s.limits_guessed && of_drawing(s); });
  if (guessed > 0) {
    Finding& f =
        add("drawn-limits", Severity::note,
            "The limits of " + counted(guessed, "drawn size", "drawn sizes") + " are a guess",
            "They came with the measures. Which must fit something? Give those their limits, take out the rest.");
    f.remedies = {{"They are all right", edits::ConfirmLimits{"*"}}};
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
  if (job.original.has_shape() || !job.original.sizes.empty()) {
    const MasterMaterial* master = shop.shelf.master(job.original.finish.master_material);
    if (!master) {
      Finding& f = add("master-material", Severity::note, "What will the rubber touch?",
                       "Sealing, waiting and whether the silicone cures at all depend on the master's surface.");
      const bool printed = job.size.master != MasterKind::original;
      for (const char* id : {printed ? "printed-photopolymer" : "cast-plastic", printed ? "printed-filament" : "metal"})
        if (const MasterMaterial* m = shop.shelf.master(id))
          f.remedies.push_back({m->name, edits::MasterSurface{m->id}});
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
  if (drawn) tell_drawn(out, job, *drawn);
  if (job.original.from() == PartFrom::volume) {
    const auto v = bare_volume_mm3(job.original.bare);
    Finding& f =
        add(v ? "bare" : "bare-wrong", v ? Severity::note : Severity::stop,
            v ? "A stand-in takes the part's place" : "The measures do not agree",
            v ? "A body of that box and " + grouped(*v * 1e-3, 1) + " ± " +
                    significant(bare_volume_u_mm3(job.original.bare) * 1e-3, 1) +
                    " ml: its box, volume and masses are right, its shape, line and undercuts are not the part's. "
                    "Draw it from measures or a picture before a mould is cut."
              : v.error().text());
    f.answerable = v ? true : false;
  }
  return out;
}

}  // namespace palinform
