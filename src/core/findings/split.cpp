#include "findings/split.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "stages/openings.hpp"

namespace palinform {

std::vector<Finding> split_findings(const Split& s) {
  std::vector<Finding> out;
  if (s.loops.empty()) {
    Finding f;
    f.code = "split-no-line";
    f.severity = Severity::stop;
    f.what = "There is no line to split along";
    f.why =
        "Every face leaves toward one side: this pull leaves nothing for the other half. An open one-piece mould may "
        "do.";
    out.push_back(std::move(f));
    return out;
  }
  const auto add = [&](const char* code, std::string what, std::string why) {
    Finding f;
    f.code = code;
    f.severity = Severity::caution;
    f.what = std::move(what);
    f.why = std::move(why);
    f.where.point_mm = s.loops[0].points_mm[0];
    out.push_back(std::move(f));
  };
  if (s.steepest_deg > 60)
    add("split-steep", "The line climbs at " + fixed(s.steepest_deg, 0) + "°",
        "Over 60° the halves rub as they part and leave a knife edge of rubber. Mark where the line should pass, or "
        "turn the pull.");
  if (s.show_share > 0.02)
    add("split-show", fixed(100 * s.show_share, 0) + " % of the line crosses show faces",
        "It leaves a witness there. Mark the face to be kept clear, or choose another pull.");
  return out;
}

std::vector<Finding> witness_findings(const std::vector<WitnessPlace>& places) {
  std::vector<Finding> out;
  double feather_mm = 0, worst = 180;
  const WitnessPlace* longest = nullptr;
  for (const WitnessPlace& w : places) {
    if (w.kind != WitnessPlace::Kind::feather) continue;
    feather_mm += w.length_mm;
    worst = std::min(worst, w.worst_deg);
    if (!longest) longest = &w;
  }
  if (longest) {
    Finding f{"split-feather", Severity::caution, {}, "", "", {}};
    f.where.point_mm = longest->at_mm;
    f.what = "Rubber runs out to a knife edge over " + fixed(feather_mm, 0) + " mm of line";
    f.why = "The thinnest is " + fixed(worst, 0) +
            "°; under 35° rubber tears and lets flash in (rule of thumb). Bevel the bed there, or move the line to an "
            "edge with the brush.";
    out.push_back(std::move(f));
  }
  return out;
}

std::vector<Finding> thin_findings(const std::vector<ThinRubber>& thin, const std::vector<Bore>& bores,
                                   const OpeningsResult* openings, const std::vector<OpeningChoice>& choices,
                                   const Vec3& pull, double shore_a, const ThinRules& rules) {
  std::vector<Finding> out;
  for (const ThinRubber& t : thin) {
    if (!t.at_risk || out.size() >= 4) continue;
    Finding f{"split-thin", Severity::caution, {}, "", "", {}};
    f.where.point_mm = t.at_mm;
    f.where.step = "thin-" + std::to_string(out.size() + 1);
    const std::string figures = significant(t.length_mm, 2) + " mm long and " + significant(t.thickness_mm, 2) +
                                " mm thick, " + significant(t.slenderness(), 2) + " times";
    if (t.peg) {
      const Bore* bore = nullptr;
      for (const Bore& b : bores)
        if (length(b.centroid_mm - t.at_mm) < 1e-6) bore = &b;
      if (!bore || std::abs(dot(bore->axis, pull)) < 0.9) continue;  // across the pull it is an undercut already
      const auto opening = openings ? opening_at(openings->found, bore->centroid_mm) : std::nullopt;
      if (opening && choice_for(openings->found, *opening, choices)) continue;  // told with the openings
      f.what = "The rubber peg in bore Ø" + fixed(t.thickness_mm, 2) + " will wobble";
      f.why = figures + ": over " + significant(rules.slender_peg, 2) +
              " it leans, traps air at its foot and tears (rule of thumb).";
      const Vec3 wall = bore->centroid_mm + any_perpendicular(bore->axis) * (0.5 * bore->diameter_mm);
      f.remedies.push_back({"Hard pin Ø" + fixed(bore->diameter_mm, 2), edits::PinBore{wall, bore->diameter_mm}});
      f.remedies.push_back({"Plug, drill later", edits::PlugBore{wall, bore->diameter_mm}});
    } else {
      f.what = "A thin fin of rubber stands in a gap";
      f.why = figures + ". Over " + significant(rules.slender_fin, 2) + " times, or thinner than " +
              significant(rules.thin_mm_at_40a * 40 / std::max(10.0, shore_a), 2) + " mm at " + fixed(shore_a, 0) +
              " A, it folds and tears (rule of thumb). Brush rubber into the gap first, pull slowly, or fill the gap "
              "and cut it later.";
    }
    out.push_back(std::move(f));
  }
  return out;
}

std::vector<Finding> undercut_findings(const UndercutsResult& r, const SplitResult& split, const PiecesResult& pieces,
                                       const std::vector<Bore>& bores, const PullSearch* search,
                                       const Openings& openings, const std::vector<OpeningChoice>& choices,
                                       const Shop& shop, const TriMesh& mesh) {
  std::vector<Finding> out;
  int told = 0;
  for (const Undercut& u : r.undercuts) {
    if (++told > 6) break;
    const Bore* bore = bore_of(u, bores);
    const auto opening = opening_at(openings, u.centroid_mm);
    if (opening && ((!bore && (u.tunnel() || u.flexes)) || choice_for(openings, *opening, choices))) continue;
    Finding f{"split-locked", Severity::caution, {}, "", "", {}};
    f.where.point_mm = u.centroid_mm;
    f.where.step = std::to_string(told);
    const int piece = static_cast<size_t>(told - 1) < r.piece.size() ? r.piece[static_cast<size_t>(told - 1)] : -1;
    const bool given = piece >= 0 && static_cast<size_t>(piece) < pieces.given;
    const std::string size = significant(u.volume_mm3, 2) + " mm³, " + significant(u.reach_mm, 2) +
                             " mm deep behind a mouth of " + significant(u.mouth_mm, 2) + " mm";
    if (given) {
      const ExtraPiece& p = pieces.plan.pieces[static_cast<size_t>(piece)];
      f.code = "split-piece";
      f.severity = Severity::note;
      f.what = std::string("Piece ") + static_cast<char>('c' + piece) + " forms it, drawn along " + axis_name(p.pull);
      f.why = size + ". Draw that piece before the halves are parted.";
      f.remedies.push_back({"Without that piece", edits::DropPiece{static_cast<size_t>(piece)}});
    } else if (bore) {
      f.code = "split-bore";
      f.what = "Bore Ø" + fixed(bore->diameter_mm, 2) + " lies across the pull";
      f.why = std::string(bore->through ? "Through, " : "Blind, ") + fixed(bore->depth_mm, 1) +
              " mm long: the rubber in it is a peg of " + significant(bore->depth_mm / bore->diameter_mm, 2) +
              " times its thickness, wobbles and tears off (at risk over " +
              significant(shop.rules.split.thin.slender_peg, 2) + ", rule of thumb).";
      const Vec3 wall = bore->centroid_mm + any_perpendicular(bore->axis) * (0.5 * bore->diameter_mm);
      f.remedies.push_back({"Hard pin Ø" + fixed(bore->diameter_mm, 2) + " × " + fixed(bore->depth_mm + 16, 0),
                            edits::PinBore{wall, bore->diameter_mm}});
      f.remedies.push_back({"Plug, drill later", edits::PlugBore{wall, bore->diameter_mm}});
      f.remedies.push_back({"Tape it over", edits::TapeBore{wall}});
    } else if (u.sealed()) {
      f.severity = Severity::stop;
      f.what = "A hollow is sealed in";
      f.why = significant(u.volume_mm3, 2) + " mm³ have no way out: no rubber can form it.";
    } else if (u.tunnel()) {
      f.what = "A passage runs across the pull";
      f.why = size + ", " + significant(u.length_mm, 2) +
              " mm from mouth to mouth. Rubber joined through it would have to be torn.";
    } else if (u.flexes) {
      f.severity = Severity::note;
      f.what = "An undercut the rubber flexes out of";
      f.why = size + ": " + significant(u.ratio(), 2) + " times; rubber of " + fixed(u.shore_a, 0) +
              " A bears it (rule of thumb).";
    } else {
      f.what = told == 1 ? "A place that neither half lets go" : "Another place that locks";
      f.why = size + ": " + significant(u.ratio(), 2) + " times, too deep for " + fixed(u.shore_a, 0) + " A." +
              (u.let_go_by_shore_a
                   ? " Rubber of " + fixed(*u.let_go_by_shore_a, 0) + " A or softer would let go (rule of thumb)."
                   : " No rubber here would let go; it wants a third piece or a plug.");
      if (u.let_go_by_shore_a) {
        const Silicone* softer = nullptr;
        for (const Silicone& s : shop.shelf.silicones)
          if (s.shore_a <= *u.let_go_by_shore_a && (!softer || s.shore_a > softer->shore_a)) softer = &s;
        if (softer) f.remedies.push_back({softer->name, edits::TakeSilicone{softer->id}});
      }
    }
    if (!given && piece >= 0 && !u.flexes && !u.sealed()) {
      const Vec3& pull = pieces.plan.pieces[static_cast<size_t>(piece)].pull;
      f.remedies.push_back({"A piece of its own, along " + axis_name(pull), edits::AddPiece{pull}});
      if (const auto at = face_of_piece(u, pieces.plan.pieces[static_cast<size_t>(piece)], mesh); at && !u.tunnel())
        f.remedies.push_back(
            {"A hard slide, along " + axis_name(pull), edits::SlidePocket{*at, pull, split.split.pull}});
    }
    if (!given && !bore && !u.flexes && !u.sealed() && !u.triangles.empty()) {
      double radius = 0;
      for (const uint32_t t : u.triangles) radius = std::max(radius, length(mesh.centre(t) - u.centroid_mm));
      f.remedies.push_back({"Tape it over and lose it", edits::TapeUndercut{u.centroid_mm, radius + 0.1}});
    }
    if (!given && search && !u.flexes)
      for (const PullCandidate& c : search->candidates)
        if (c.locked_area_mm2 < shop.rules.split.better_pull_share * split.split.locked_area_mm2 - 1) {
          f.remedies.push_back({"Pull along " + axis_name(c.pull), edits::SetPull{c.pull}});
          break;
        }
    out.push_back(std::move(f));
  }
  // No pull tried lets two pieces do: say so once, and offer as many as it takes.
  if (search && !search->candidates.empty()) {
    double least = 1e300;
    for (const PullCandidate& c : search->candidates) least = std::min(least, c.locked_area_mm2);
    double stuck = 0;
    for (size_t i = 0; i < r.undercuts.size(); ++i) {
      const Undercut& u = r.undercuts[i];
      const bool given = i < r.piece.size() && r.piece[i] >= 0 && static_cast<size_t>(r.piece[i]) < pieces.given;
      if (!u.flexes && !given && !bore_of(u, bores)) stuck += u.area_mm2;
    }
    if (stuck > 1 && least > shop.rules.split.better_pull_share * stuck) {
      Finding f{"split-no-two", Severity::caution, {}, "No pull lets two pieces do", "", {}};
      f.why = "Every direction tried leaves " + grouped(least) + " mm² or more locked.";
      if (pieces.plan.pieces.size() > pieces.given && pieces.plan.left_mm2 < 0.1 * split.split.locked_area_mm2) {
        f.why +=
            " " + counted(static_cast<long long>(2 + pieces.plan.pieces.size()), "piece", "pieces") + " would free it.";
        edits::AddPieces more;
        for (size_t i = pieces.given; i < pieces.plan.pieces.size(); ++i)
          more.pulls.push_back(pieces.plan.pieces[i].pull);
        f.remedies.push_back(
            {counted(static_cast<long long>(2 + pieces.plan.pieces.size()), "piece", "pieces"), std::move(more)});
      }
      out.push_back(std::move(f));
    }
  }
  return out;
}

}  // namespace palinform
