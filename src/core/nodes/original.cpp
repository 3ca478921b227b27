// Original: the mesh, its master, what is asked about it.
#include "findings/original.hpp"
#include "findings/meeting.hpp"
#include "nodes/nodes.hpp"
#include "stages/inserts.hpp"
#include "stages/materials.hpp"
#include "stages/openings.hpp"
#include "stages/preparation.hpp"
#include "stages/touching.hpp"

namespace palinform {
namespace {

struct MeshIn {
  OriginalPart part;  // only what its shape comes from
  auto fields(auto&& f) const { return f(part); }
};
struct SoundIn {
  Fresh<OriginalResult> original;
  auto fields(auto&& f) const { return f(original); }
};
struct QuestionsIn {
  Job only;
  Fresh<SoundnessResult> sound;
  Fresh<OriginalResult> drawn;  // where it was drawn
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(only, sound, drawn); }
};
struct MeetingsIn {
  Job only;
  std::vector<Lot> lots;
  std::vector<Trial> trials;
  Hash128 shelf;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(only, lots, trials, shelf); }
};
struct PreparedIn {
  Fresh<OriginalResult> original;
  std::vector<MasterStep> steps;
  bool instant() const { return steps.empty(); }
  auto fields(auto&& f) const { return f(original, steps); }
};
struct OpeningsIn {
  Fresh<OriginalResult> prepared;
  auto fields(auto&& f) const { return f(prepared); }
};
struct MasterIn {
  Fresh<OriginalResult> prepared;
  Fresh<OpeningsResult> openings;  // where some are to be closed
  std::vector<OpeningChoice> closing;
  bool instant() const { return closing.empty(); }
  auto fields(auto&& f) const { return f(prepared, openings, closing); }
};
struct InsertsIn {
  Fresh<OriginalResult> master;
  std::vector<Insert> inserts;
  auto fields(auto&& f) const { return f(master, inserts); }
};
struct PrintIn {
  Fresh<OriginalResult> master;
  Job only;
  auto fields(auto&& f) const { return f(master, only); }
};
struct FacesIn {
  Fresh<OriginalResult> original;
  std::vector<FaceMark> marks;
  auto fields(auto&& f) const { return f(original, marks); }
};

}  // namespace

void add_original_nodes(std::vector<Node>& nodes, const Shop& shop, MeshSource meshes) {
  nodes.push_back(job_node(
      results::original,
      [](const Job& job, const View&) -> std::optional<MeshIn> {
        MeshIn in;
        switch (job.original.from()) {
          case PartFrom::nothing:
            return std::nullopt;
          case PartFrom::mesh:
            in.part.mesh.hash = job.original.mesh.hash, in.part.mesh.exact = job.original.mesh.exact;
            break;
          case PartFrom::drawn:
            in.part.drawn = job.original.drawn;
            break;
          case PartFrom::volume:
            in.part.bare = job.original.bare;
            break;
        }
        return in;
      },
      [meshes](const MeshIn& in, const Progress& progress) { return original_of(in.part, meshes, progress); }));

  nodes.push_back(job_node(
      results::soundness,
      [](const Job&, const View& plan) -> std::optional<SoundIn> {
        SoundIn in{plan.fresh(results::original)};
        return in.original ? std::optional(in) : std::nullopt;
      },
      [](const SoundIn& in, const Progress& progress) -> Result<SoundnessResult> {
        auto s = check_soundness(*in.original->mesh, true, progress);
        if (!s) return s.error();
        return SoundnessResult{*s};
      }));

  nodes.push_back(job_node(
      results::questions,
      [](const Job& job, const View& plan) -> std::optional<QuestionsIn> {
        QuestionsIn in;
        in.only.original.mesh.hash = job.original.mesh.hash;
        if (job.original.mesh.hash.empty()) in.only.original.drawn = job.original.drawn;
        in.only.original.duties = job.original.duties;
        in.only.original.sizes = job.original.sizes;
        in.only.original.bare = job.original.bare;
        in.only.original.finish = job.original.finish;
        in.only.original.master_steps = job.original.master_steps;
        in.only.size.master = job.size.master;
        in.only.size.generations = job.size.generations;
        in.only.mould.form = job.mould.form;
        in.sound = plan.fresh(results::soundness);
        if (job.original.from() == PartFrom::drawn) in.drawn = plan.fresh(results::original);
        return in;
      },
      [&shop](const QuestionsIn& in, const Progress&) -> Result<QuestionsResult> {
        return QuestionsResult{
            original_findings(in.only, shop, in.sound ? &in.sound->soundness : nullptr, in.drawn.get())};
      }));

  nodes.push_back(node(
      results::meetings,
      [&shop](const View& plan) -> std::optional<MeetingsIn> {
        const auto& [job, books, study] = plan.subject<Subject>();
        if (!job.original.has_shape() && job.original.sizes.empty()) return std::nullopt;
        MeetingsIn in{{}, {}, books.trials, shop.key};
        in.only.original.finish = job.original.finish;
        in.only.mix = materials_only(job.mix);
        in.only.size.generations = job.size.generations;
        in.only.size.room_c = job.size.room_c;
        in.only.mould.form = job.mould.form;
        in.only.split.way = job.split.way;
        for (const Lot& l : books.lots)
          if (l.material_id == job.mix.silicone_id || l.material_id == job.mix.resin_id) in.lots.push_back(l);
        return in;
      },
      [&shop](const MeetingsIn& in, const Progress&) -> Result<MeetingsResult> {
        const auto own = shop_of(in.only.mix, shop);
        MeetingsResult r = meetings_of(in.only, *own, in.lots, in.trials);
        r.findings = meeting_findings(r, in.only, *own, in.lots, in.trials);
        return r;
      }));

  nodes.push_back(job_node(
      results::prepared,
      [](const Job& job, const View& plan) -> std::optional<PreparedIn> {
        PreparedIn in{plan.fresh(results::original), job.original.master_steps};
        return in.original ? std::optional(in) : std::nullopt;
      },
      [meshes](const PreparedIn& in, const Progress& progress) {
        return master_of(in.original.value, in.steps, meshes, progress);
      }));

  nodes.push_back(job_node(
      results::openings,
      [](const Job&, const View& plan) -> std::optional<OpeningsIn> {
        OpeningsIn in{plan.fresh(results::prepared)};
        return in.prepared ? std::optional(in) : std::nullopt;
      },
      [](const OpeningsIn& in, const Progress& progress) { return openings_of(*in.prepared, progress); }));

  nodes.push_back(job_node(
      results::master,
      [](const Job& job, const View& plan) -> std::optional<MasterIn> {
        MasterIn in{plan.fresh(results::prepared), {}, {}};
        if (!in.prepared) return std::nullopt;
        for (const OpeningChoice& c : job.split.openings)
          if (c.closes()) in.closing.push_back(c);
        if (in.closing.empty()) return in;
        in.openings = plan.fresh(results::openings);
        return in.openings ? std::optional(in) : std::nullopt;
      },
      [](const MasterIn& in, const Progress& progress) {
        return with_closed(in.prepared.value, in.openings ? *in.openings : OpeningsResult{}, in.closing, progress);
      }));

  nodes.push_back(job_node(
      results::inserts,
      [](const Job& job, const View& plan) -> std::optional<InsertsIn> {
        InsertsIn in{plan.fresh(results::master), job.split.inserts};
        return in.master && !in.inserts.empty() && in.master->closed() ? std::optional(in) : std::nullopt;
      },
      [&shop, meshes](const InsertsIn& in, const Progress& progress) {
        return inserts_of(*in.master, in.inserts, shop.rules.split.insert, meshes, progress);
      }));

  nodes.push_back(job_node(
      results::print,
      [](const Job& job, const View& plan) -> std::optional<PrintIn> {
        PrintIn in{plan.fresh(results::master), {}};
        if (!in.master) return std::nullopt;
        in.only.size.master = job.size.master;
        in.only.size.scale = job.size.scale;
        in.only.size.axis_scale = job.size.axis_scale;
        in.only.original.sizes = job.original.sizes;
        in.only.original.finish = job.original.finish;
        return in;
      },
      [&shop](const PrintIn& in, const Progress&) -> Result<PrintResult> {
        MasterFile f = master_file(*in.master, in.only, shop);
        return PrintResult{f.volume_mm3, std::move(f.advice)};
      }));

  nodes.push_back(job_node(
      results::faces,
      [](const Job& job, const View& plan) -> std::optional<FacesIn> {
        FacesIn in{plan.fresh(results::original), job.original.marks};
        return in.original && !in.marks.empty() ? std::optional(in) : std::nullopt;
      },
      [](const FacesIn& in, const Progress&) -> Result<FacesResult> { return find_faces(*in.original, in.marks); }));
}

}  // namespace palinform
