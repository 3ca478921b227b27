#include "stages/building.hpp"

#include "base/text.hpp"
#include "mesh/soundness.hpp"
#include "mould/brushed_half.hpp"
#include "mould/guides.hpp"
#include "mould/punch_sheet.hpp"
#include "mould/rim.hpp"
#include "mould/section.hpp"
#include "mould/strip.hpp"
#include "mould/whole.hpp"
#include "solid/carve.hpp"

namespace palinform {

BoardOptions board_options(const BuildSetup& b) {
  BoardOptions o;
  o.clearance_mm = b.clearance_mm;
  o.panel_mm = b.sheet_mm;
  o.bed_u_mm = b.bed_u_mm;
  o.bed_v_mm = b.bed_v_mm;
  return o;
}

JacketRules jacket_rules(const MouldRules& rules, double skin_mm) {
  JacketRules r = rules.jacket;
  r.skin_mm = skin_mm > 0 ? skin_mm : rules.forms.skin_mm;
  r.shell_mm = rules.forms.jacket_mm;
  return r;
}

BuildOrder build_order(const Job& job, const Shop& shop, const FormsResult& forms, const PinsResult* pins,
                       const ChannelsResult* channels, const PiecesResult* pieces, const InsertsResult* inserts) {
  BuildOrder order;
  order.form = forms.form;
  order.voxel_mm = job.mould.build.voxel_mm;
  order.board = board_options(job.mould.build);
  order.rules = shop.rules.mould;
  order.skin_mm = forms.plan().skin_mm;
  if (forms.brushed) {
    order.brushed = forms.brushed->side;
    double outer = 0;
    for (const RubberPour& p : forms.plan().pours)
      if (p.side == order.brushed) order.outer_mm.push_back(outer += p.fill_height_mm);
  }
  order.flat_normal = forms.flat_normal;
  order.strip_up = forms.strip_up;
  order.cut_pass_mm = shop.rules.split.ways.cut_depth_per_pass_mm;
  if (job.mould.cover != name_of(Cover::scrape)) order.cover_over_mm = shop.rules.mould.cover_over_mm;
  order.strip_many = forms.plan().castings_a_pull;
  order.on_bar = forms.on_bar;
  order.masters = job.mould.masters;
  if (pins) order.parts.pins = pins->pins;
  if (channels) order.parts.channels = channels->channels;
  order.parts.pieces = wanted_pieces(pieces, order.form == Form::pieces);
  if (inserts) order.parts.sockets = inserts->sockets;
  return order;
}

Result<Build> build_files(const TriMesh& mesh, const RayScene& rays, const Split& split, const MouldOptions& mould,
                          const KeyPlan& keys, const std::vector<Bore>& bores, const BoxPlan& box,
                          const BuildOrder& order, const std::string& job_name, const Progress& progress) {
  Build out;
  const std::vector<PinPlan>& pins = order.parts.pins;
  const auto put = [&](std::string name, TriMesh m) {
    BuiltMesh b;
    b.name = std::move(name);
    b.volume_mm3 = measure(m).volume_mm3;
    b.print_h = b.volume_mm3 / order.board.print_mm3_per_min / 60;
    b.mesh = std::move(m);
    out.meshes.push_back(std::move(b));
  };
  std::optional<Mould> fine;
  if (in_halves(order.form)) {
    auto f = fine_mould(mesh, split, mould, order.voxel_mm, progress.part(0, 0.15));
    if (!f) return f.error();
    fine = *std::move(f);
    const auto board = parting_board(mesh, rays, *fine, keys, order.board, progress.part(0.15, 0.4));
    if (!board) return board.error();
    for (size_t k = 0; k < board->tiles.size(); ++k)
      put(board->tiles.size() > 1 ? "parting_board_" + std::to_string(k + 1) : "parting_board", board->tiles[k].mesh);
    if (board->clearance_mm < 0.5 * order.board.clearance_mm) {
      Finding near{"board-near", Severity::caution, {}, "The board comes nearer to the master than asked", "", {}};
      near.why = fixed(board->clearance_mm, 2) + " mm against " + fixed(order.board.clearance_mm, 2) +
                 " mm. Sand the imprint, or write it at a finer voxel.";
      out.findings.push_back(std::move(near));
    }
    put("box_frame", printed_frame(fine->inner_mm, fine->rim_mm() - order.board.groove_deep_mm,
                                   fine->inner_mm.max.z + 8, order.frame_wall_mm));
    if (progress.cancelled()) return Error::stopped();
    auto h = mould_halves(mesh, *fine, keys, order.parts, {order.voxel_mm}, progress.part(0.4, 0.7));
    if (!h) return h.error();
    out.channels_mm3 = h->channels_mm3;
    for (HalfSolid& x : h->halves) {
      if (x.name == order.brushed) {
        // Over the keys as they stand in the bed; the backing is what of the half lies beyond the last coat.
        BrushedHalfAsked asked;
        asked.upper = x.name == "a";
        asked.outer_mm = order.outer_mm;
        asked.rules = order.rules.jacket;
        const Box3& in = fine->inner_mm;
        asked.bed_mm = [&](double u, double v) { return fine->parting_at(u, v) + keys.bump_mm(u, v, in); };
        const auto half = brushed_half(mesh, *fine, asked, progress.part(0.55, 0.62));
        if (!half) return half.error();
        auto backing = carved({x.mesh}, {half->covered}, 0, order.voxel_mm, progress.part(0.62, 0.66));
        if (!backing) return backing.error();
        auto rubber = carved({x.mesh}, {half->beyond}, 0, order.voxel_mm, progress.part(0.66, 0.7));
        if (!rubber) return rubber.error();
        x.mesh = *std::move(rubber);
        put("backing_" + x.name, *std::move(backing));
      }
      put("rubber_half_" + x.name, std::move(x.mesh));
    }
  }
  if (order.form == Form::open || order.form == Form::cut || order.form == Form::putty) {
    const auto block = two_part_mould(mesh, split, mould, progress.part(0, 0.2));
    if (!block) return block.error();
    auto rubber = rubber_whole(mesh, *block, order.form, order.flat_normal, order.rules.forms, order.voxel_mm,
                               progress.part(0.2, 0.7), order.masters, order.parts.sockets);
    if (!rubber) return rubber.error();
    put("rubber_whole", *std::move(rubber));
    // Drawn round one master; several in a block are cut apart first.
    const bool alone = order.masters <= 1;
    if (order.form == Form::cut && alone) {
      const WaveCut wave = wave_round(block->inner_mm.size(), block->wall_mm, order.cut_pass_mm);
      out.drawings.push_back({"cut_guide", cut_guide(*block, wave, job_name)});
    }
    if (order.form == Form::open && alone && order.flat_normal && order.cover_over_mm > 0)
      out.drawings.push_back({"cover", cover_drawing(mesh, *order.flat_normal, order.cover_over_mm, job_name)});
  }
  if (order.form == Form::skin) {
    const auto block = two_part_mould(mesh, split, mould, progress.part(0, 0.2));
    if (!block) return block.error();
    auto j = plan_jacket(mesh, *block, jacket_rules(order.rules, order.skin_mm), 0, progress.part(0.2, 0.7));
    if (!j) return j.error();
    // Resin and air come through the shells where they come through the skin.
    std::vector<TriMesh> openings;
    for (Channel c : order.parts.channels) {
      c.diameter_mm += 2, c.cup_mm = 0;
      for (TriMesh& body : channel_bodies(c)) openings.push_back(std::move(body));
    }
    // What stands out of the master for an insert leaves its socket in the rubber, and in the shell where it reaches
    // through.
    std::vector<TriMesh> sockets;
    for (const Socket& s : order.parts.sockets) sockets.push_back(*s.body);
    if (!sockets.empty()) {
      // With the part's own space once more: a solid read into a level set loses what it encloses.
      std::vector<TriMesh> away = sockets;
      away.push_back(mesh);
      auto skin = carved({j->skin}, away, 0, std::max(order.voxel_mm, 0.6 * j->voxel_mm), progress.part(0.55, 0.6));
      if (!skin) return skin.error();
      j->skin = *std::move(skin);
      openings.insert(openings.end(), sockets.begin(), sockets.end());
    }
    for (auto* shell : {&j->a.mesh, &j->b.mesh}) {
      if (openings.empty()) break;
      auto open = carved({*shell}, openings, 0, std::max(0.5, 0.6 * j->voxel_mm), progress.part(0.6, 0.7));
      if (!open) return open.error();
      *shell = *std::move(open);
    }
    put("jacket_a", std::move(j->a.mesh));
    put("jacket_b", std::move(j->b.mesh));
    put("skin", std::move(j->skin));
  }
  if (order.form == Form::strip) {
    const std::vector<StripPart> hang =
        strip_parts(mesh, order.strip_up.value_or(split.pull), order.strip_many, order.on_bar);
    auto s = plan_strip(hang, order.rules.strip, progress.part(0, 0.1));
    if (!s) return s.error();
    auto bar = strip_bar(*s, progress.part(0.1, 0.3));
    if (!bar) return bar.error();
    std::vector<std::vector<const TriMesh*>> sockets(1);
    for (const Socket& one : order.parts.sockets) sockets[0].push_back(one.body.get());
    for (const OnBar& o : order.on_bar) {
      sockets.emplace_back();
      for (const Socket& one : o.sockets) sockets.back().push_back(one.body.get());
    }
    auto rubber = strip_rubber(hang, *s, *bar, std::max(0.25, order.voxel_mm), sockets, progress.part(0.3, 0.7));
    if (!rubber) return rubber.error();
    put("strip_rubber", *std::move(rubber));
    put("strip_frame", printed_frame(s->inner_mm, 0, s->inner_mm.max.z + 8, order.frame_wall_mm));
    put("strip_bar", *std::move(bar));
  }
  for (size_t k = 0; k < pins.size(); ++k) put("slide_" + std::to_string(k + 1), pin_mesh(pins[k]));
  if (order.form == Form::cup_core) {
    const Bore* core = core_bore(bores);
    if (!core) return Error{"there is no bore to put a core in", "cup and core", "Choose another form."};
    auto c = cup_and_core(mesh, rays, split, *core, order.rules.forms.cup_wall_mm, cup_voxel_mm(mesh, order.voxel_mm),
                          progress.part(0, 0.7));
    if (!c) return c.error();
    put("cup_a", std::move(c->cup_a));
    put("cup_b", std::move(c->cup_b));
    put("core", std::move(c->core));
  }
  for (const BuiltMesh& b : out.meshes) {
    if (progress.cancelled()) return Error::stopped();
    // Above that, edges alone are looked at: the surface of a level set does not cross itself at this fineness.
    const auto sound = check_soundness(b.mesh, b.mesh.triangles.size() < 250'000, progress.part(0.7, 0.7));
    if (!sound) return sound.error();
    if (sound->sound()) continue;
    Finding f{"build-unsound", Severity::caution, {}, b.name + " is not a sound solid", "", {}};
    f.where.step = b.name;
    f.why = "Write it at another voxel size.";
    out.findings.push_back(std::move(f));
  }
  if (fine) out.drawings.push_back({"section", section_drawing(mesh, *fine, keys, job_name)});
  if (fine && !order.parts.channels.empty())
    out.drawings.push_back({"drill_and_punch", punch_sheet(*fine, order.parts.channels, job_name)});
  if (!box.panels.empty())
    out.drawings.push_back({"panels", panel_drawing(fine ? with_pin_holes(box, *fine, pins) : box, job_name)});
  if (fine && keys.kind == KeyKind::rim) {
    Box3 inner;
    inner.add({0, 0, 0});
    inner.add(box.inner_mm);
    out.drawings.push_back(
        {"stepped_rim", rim_drawing(inner, keys.ring_mm, order.rules.keys.rim_sheet_mm,
                                    rim_fit(keys, box.inner_mm, order.rules.keys.rim_sheet_mm, 0, 0).layers,
                                    order.kerf_mm, job_name)});
  }
  for (size_t k = 0; k < pins.size(); ++k)
    out.drawings.push_back({"pin_" + std::to_string(k + 1), pin_drawing(pins[k], job_name)});
  progress.report(1);
  return out;
}

}  // namespace palinform
