// Split: bores, wishes, the pull and its line, what locks, how the split may be made.
#include "findings/split.hpp"
#include "findings/inserts.hpp"
#include "findings/openings.hpp"
#include "findings/pockets.hpp"
#include "job/parts.hpp"
#include "nodes/nodes.hpp"
#include "stages/inserts.hpp"
#include "stages/materials.hpp"
#include "stages/openings.hpp"
#include "stages/parting.hpp"
#include "stages/pockets.hpp"
#include "stages/reach_out.hpp"
#include "stages/wall.hpp"

namespace palinform {
namespace {

/// What the job says of openings, as far as a node acts on it, with the openings it is said of. Nothing where they are
/// still to be found.
struct Said {
  Fresh<OpeningsResult> openings;
  std::vector<OpeningChoice> choices;
  void hash_into(Hasher& h) const { h.add(openings).add(choices); }
};
template <class Acts>
std::optional<Said> said_of_openings(const Job& job, const View& plan, Acts acts) {
  Said s;
  for (const OpeningChoice& c : job.split.openings)
    if (acts(c)) s.choices.push_back(c);
  if (s.choices.empty()) return s;
  s.openings = plan.fresh(results::openings);
  return s.openings ? std::optional(s) : std::nullopt;
}
bool slides(const OpeningChoice& c) { return c.kind == OpeningChoice::Kind::slide; }
bool leaves_film(const OpeningChoice& c) { return c.leaves_film(); }
bool frees(const OpeningChoice& c) { return c.leaves_film() || c.kind == OpeningChoice::Kind::slit; }

struct BoresIn {
  Fresh<OriginalResult> master;
  std::vector<ExactFace> exact;
  auto fields(auto&& f) const { return f(master, exact); }
};
struct WishesIn {
  Implied<OriginalResult> original;  // by the master
  Fresh<OriginalResult> master;
  SplitMarks marks;
  std::vector<FaceMark> faces;
  std::vector<BoreTreatment> bores;
  std::vector<MasterStep> steps;
  Said said;
  std::vector<PocketSlide> pockets;
  auto fields(auto&& f) const { return f(original, master, marks, faces, bores, steps, said, pockets); }
};
struct SearchIn {
  Fresh<OriginalResult> master;
  Fresh<BoresResult> bores;
  Fresh<FaceWishes> wishes;
  PullWeights weights;
  auto fields(auto&& f) const { return f(master, bores, wishes, weights); }
};
struct ReleasesIn {
  Fresh<OriginalResult> master;
  Vec3 pull;
  auto fields(auto&& f) const { return f(master, pull); }
};
struct SplitIn {
  Fresh<OriginalResult> master;
  std::optional<Error> refused;  // wishes that contradict, a mesh that is open
  Fresh<PullSearch> found;       // without a pull of the job's own
  Fresh<FaceWishes> wishes;
  Fresh<Releases> releases;
  Said said;
  bool instant() const { return refused || (found && said.choices.empty()); }
  auto fields(auto&& f) const { return f(master, refused, found, wishes, releases, said); }
};
struct WitnessIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  Fresh<FaceWishes> wishes;
  auto fields(auto&& f) const { return f(master, split, wishes); }
};
struct ThinIn {
  Fresh<OriginalResult> master;
  Fresh<BoresResult> bores;
  Fresh<FaceWishes> wishes;
  Vec3 pull;
  double shore_a;
  Said said;
  auto fields(auto&& f) const { return f(master, bores, wishes, pull, shore_a, said); }
};
struct PiecesIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  Fresh<FaceWishes> wishes;
  std::vector<Vec3> given;
  auto fields(auto&& f) const { return f(master, split, wishes, given); }
};
struct PinsIn {
  Fresh<OriginalResult> master;
  Fresh<BoresResult> bores;
  std::vector<BoreTreatment> wanted;
  double wall_mm;
  std::vector<MeasuredSize> sizes;
  Said said;
  std::vector<ThreadChoice> threads = {};  // that a pin forms or holds
  std::vector<PocketSlide> pockets = {};
  Fresh<SplitResult> split = {};  // in a box of the shop's own: how it stands round the part
  Walls walls = {};
  bool instant() const { return pockets.empty(); }
  auto fields(auto&& f) const { return f(master, bores, wanted, wall_mm, sizes, said, threads, pockets, split, walls); }
};
struct UndercutsIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  Fresh<PiecesResult> pieces;
  double shore_a, pitch_mm;
  std::optional<double> shore_b;
  Said said;
  auto fields(auto&& f) const { return f(master, split, pieces, shore_a, pitch_mm, shore_b, said); }
};
struct AdviceIn {
  Fresh<OriginalResult> master;
  Fresh<SplitResult> split;
  Fresh<BoresResult> bores;
  Fresh<PiecesResult> pieces;
  Fresh<UndercutsResult> undercuts;
  Fresh<PullSearch> search;  // may be missing: then no other pull is offered
  Fresh<OpeningsResult> openings;
  std::vector<OpeningChoice> choices;
  Hash128 shelf;  // softer rubbers are offered
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(master, split, bores, pieces, undercuts, search, openings, choices, shelf); }
};
struct InsertAdviceIn {
  Fresh<OriginalResult> master;
  Fresh<InsertsResult> placed;  // none where there are only threads
  Fresh<SplitResult> split;     // once there is one
  std::vector<Insert> inserts;
  std::vector<ThreadChoice> threads;
  std::optional<Vec3> gate_mm;
  double sprue_mm, resin_g_cm3, shore_a;
  bool squeezed;
  Hash128 shelf;
  bool instant() const { return true; }
  auto fields(auto&& f) const {
    return f(master, placed, split, inserts, threads, gate_mm, sprue_mm, resin_g_cm3, shore_a, squeezed, shelf);
  }
};
struct OpeningAdviceIn {
  Fresh<OriginalResult> master;
  Fresh<OpeningsResult> openings;
  Fresh<UndercutsResult> undercuts;
  Fresh<BoresResult> bores;
  std::vector<OpeningChoice> choices;
  std::vector<BoreTreatment> treated;
  Vec3 pull;
  Hash128 shelf;
  Fresh<PinsResult> pins;  // where there are slides
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(master, openings, undercuts, bores, choices, treated, pull, shelf, pins); }
};
struct FactsIn {
  Implied<OriginalResult> original;  // all by undercuts and witness places
  Implied<OriginalResult> master;
  Implied<SplitResult> split;
  Fresh<WitnessResult> witness;
  Implied<PiecesResult> pieces;
  Fresh<UndercutsResult> undercuts;
  Fresh<BoresResult> bores;
  std::vector<FaceMark> marks;
  std::vector<MasterStep> steps;
  double shore_a;
  bool open;  // the job wants an open mould, whether a face is marked or not
  auto fields(auto&& f) const {
    return f(original, master, split, witness, pieces, undercuts, bores, marks, steps, shore_a, open);
  }
};
struct BedsIn {
  Fresh<WayFacts> facts;
  double wall_mm;
  int copies;
  MixSetup materials;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(facts, wall_mm, copies, materials); }
};

SplitResult told(SplitResult r) {
  r.findings = split_findings(r.split);
  return r;
}

}  // namespace

void add_split_nodes(std::vector<Node>& nodes, const Shop& shop) {
  nodes.push_back(job_node(
      results::bores,
      [](const Job& job, const View& plan) -> std::optional<BoresIn> {
        BoresIn in{plan.fresh(results::master), {}};
        if (in.master && job.original.master_steps.empty()) in.exact = in.master->exact;
        return in.master ? std::optional(in) : std::nullopt;
      },
      [](const BoresIn& in, const Progress& progress) -> Result<BoresResult> {
        auto b = find_bores(*in.master->mesh, *in.master->pairs, *in.master->rays, in.exact, progress);
        if (!b) return b.error();
        return BoresResult{*std::move(b)};
      }));

  nodes.push_back(job_node(
      results::wishes,
      [](const Job& job, const View& plan) -> std::optional<WishesIn> {
        WishesIn in{plan.fresh(results::original),
                    plan.fresh(results::master),
                    job.split.marks,
                    job.original.marks,
                    job.split.bores,
                    job.original.master_steps,
                    {},
                    job.split.pockets};
        const auto said = said_of_openings(job, plan, slides);
        if (!in.original || !in.master || !said) return std::nullopt;
        in.said = *said;
        return in;
      },
      [](const WishesIn& in, const Progress&) -> Result<FaceWishes> {
        auto w = split_wishes(*in.original, *in.master, in.marks, in.faces, in.bores, in.steps);
        if (w && in.said.openings) ignore_slid_walls(*w, *in.master, in.said.openings->found, in.said.choices);
        if (w) ignore_slid_pockets(*w, *in.master, in.pockets);
        return w;
      }));

  nodes.push_back(job_node(
      results::search,
      [](const Job& job, const View& plan) -> std::optional<SearchIn> {
        SearchIn in{plan.fresh(results::master), plan.fresh(results::bores), plan.fresh(results::wishes),
                    job.split.pull_weights};
        return in.master && in.bores && in.wishes ? std::optional(in) : std::nullopt;
      },
      [](const SearchIn& in, const Progress& progress) -> Result<PullSearch> {
        PullSearchOptions o;
        o.weights = in.weights;
        return search_pull(*in.master->mesh, *in.master->pairs, *in.master->rays, in.bores->bores, *in.wishes, o,
                           progress);
      }));

  nodes.push_back(job_node(
      results::releases,
      [](const Job& job, const View& plan) -> std::optional<ReleasesIn> {
        const auto master = plan.fresh(results::master);
        if (!master || !job.split.pull || !master->closed()) return std::nullopt;
        return ReleasesIn{master, *job.split.pull};
      },
      [](const ReleasesIn& in, const Progress& progress) -> Result<Releases> {
        return releases_along(*in.master->mesh, *in.master->rays, in.pull, progress);
      }));

  nodes.push_back(job_node(
      results::split,
      [](const Job& job, const View& plan) -> std::optional<SplitIn> {
        SplitIn in{plan.fresh(results::master), plan.failed(results::wishes), {}, {}, {}, {}};
        const auto said = said_of_openings(job, plan, leaves_film);
        if (!in.master || !said) return std::nullopt;
        in.said = *said;
        if (!in.master->closed())
          in.refused = Error{"the mesh is not closed, so it cannot be split", "split", "Mend it in Original first."};
        if (in.refused) return in;
        in.wishes = plan.fresh(results::wishes);
        if (!in.wishes) return std::nullopt;
        if (job.split.pull)
          in.releases = plan.fresh(results::releases);
        else
          in.found = plan.fresh(results::search);
        return in.releases || in.found ? std::optional(in) : std::nullopt;
      },
      [](const SplitIn& in, const Progress& progress) -> Result<SplitResult> {
        if (in.refused) return *in.refused;
        auto s = in.found ? Result<Split>(in.found->best)
                          : split_from(*in.master->mesh, *in.master->pairs, *in.master->rays, *in.releases, *in.wishes,
                                       {}, progress);
        if (!s) return s.error();
        if (in.said.openings) move_shut_offs(*s, *in.master, in.said.openings->found, in.said.choices);
        return told(painted(*std::move(s)));
      }));

  nodes.push_back(job_node(
      results::witness,
      [](const Job&, const View& plan) -> std::optional<WitnessIn> {
        WitnessIn in{plan.fresh(results::master), plan.fresh(results::split), plan.fresh(results::wishes)};
        return in.master && in.split && in.wishes ? std::optional(in) : std::nullopt;
      },
      [](const WitnessIn& in, const Progress&) -> Result<WitnessResult> {
        WitnessResult r;
        r.places = witness_places(*in.master->mesh, *in.master->rays, in.split->split, *in.wishes);
        r.findings = witness_findings(r.places);
        return r;
      }));

  nodes.push_back(job_node(
      results::thin,
      [&shop](const Job& job, const View& plan) -> std::optional<ThinIn> {
        const auto split = plan.fresh(results::split);
        ThinIn in{plan.fresh(results::master),        plan.fresh(results::bores), plan.fresh(results::wishes),
                  split ? split->split.pull : Vec3{}, shore_of(job, shop),        {}};
        const auto said = said_of_openings(job, plan, frees);
        if (!in.master || !in.bores || !in.wishes || !split || !said) return std::nullopt;
        in.said = *said;
        return in;
      },
      [&shop](const ThinIn& in, const Progress& progress) -> Result<ThinResult> {
        const ThinRules& how = shop.rules.split.thin;
        auto t = find_thin_rubber(*in.master->mesh, *in.master->pairs, *in.master->rays, in.bores->bores, *in.wishes,
                                  in.shore_a, how, progress);
        if (!t) return t.error();
        ThinResult r;
        r.thin = *std::move(t);
        if (in.said.openings) settle_pegs(r.thin, in.said.openings->found, in.said.choices, how);
        r.findings = thin_findings(r.thin, in.bores->bores, in.said.openings ? &*in.said.openings : nullptr,
                                   in.said.choices, in.pull, in.shore_a, how);
        return r;
      }));

  nodes.push_back(job_node(
      results::pieces,
      [](const Job& job, const View& plan) -> std::optional<PiecesIn> {
        PiecesIn in{plan.fresh(results::master), plan.fresh(results::split), plan.fresh(results::wishes),
                    job.split.piece_pulls};
        return in.master && in.split && in.wishes ? std::optional(in) : std::nullopt;
      },
      [](const PiecesIn& in, const Progress& progress) -> Result<PiecesResult> {
        auto p = find_pieces(*in.master->mesh, *in.master->pairs, *in.master->rays, in.split->split, *in.wishes,
                             in.given, {}, progress);
        if (!p) return p.error();
        PiecesResult r;
        r.given = std::min(in.given.size(), p->pieces.size());
        r.plan = *std::move(p);
        return r;
      }));

  nodes.push_back(job_node(
      results::pins,
      [&shop](const Job& job, const View& plan) -> std::optional<PinsIn> {
        PinsIn in{plan.fresh(results::master), plan.fresh(results::bores), {}, 0, {}, {}, {}};
        for (const BoreTreatment& b : job.split.bores)
          if (b.kind == BoreTreatment::Kind::pin) in.wanted.push_back(b);
        const auto said = said_of_openings(job, plan, slides);
        if (!in.master || !in.bores || !said || !job.split.has_pins()) return std::nullopt;
        in.said = *said;
        in.pockets = job.split.pockets;
        const WallChoice wall = wall_of(job, shop, in.master->own_size_mm);
        in.wall_mm = wall.wall_mm;
        // Several masters stand nearer to its middle, and to one another.
        if (in_halves(job.mould.planned_form()) && filled_inside(job.mould.own_box) && job.mould.masters <= 1 &&
            !parts_in_box(job)) {
          if (!(in.split = plan.fresh(results::split))) return std::nullopt;
          in.walls = mould_options(job, shop, wall).walls();
        }
        for (const MeasuredSize& s : job.original.sizes)
          if (s.formed == FormedBy::pin && s.pin_mm) in.sizes.push_back(s);
        for (const ThreadChoice& t : job.split.threads)
          if (!t.stud && (t.how == ThreadChoice::How::hard || t.how == ThreadChoice::How::insert))
            in.threads.push_back(t);
        return in;
      },
      [&shop](const PinsIn& in, const Progress& progress) -> Result<PinsResult> {
        PinsResult r =
            pins_of(*in.master->rays, in.bores->bores, in.wanted, in.sizes, in.wall_mm, shop.rules.split.pin);
        if (in.said.openings)
          for (PinPlan& p : slides_of(*in.master, in.said.openings->found, in.said.choices, in.sizes, in.wall_mm,
                                      shop.rules.split.pin))
            r.pins.push_back(std::move(p));
        shape_by_threads(r, in.bores->bores, in.threads);
        if (auto ok = add_pocket_slides(r, *in.master, in.pockets, in.wall_mm, shop.rules.split.pin, progress); !ok)
          return ok.error();
        if (in.split) reach_out(r.pins, *in.master->mesh, in.split->split.pull, in.walls);
        r.findings = pocket_findings(r, *in.master, in.pockets, shop.shown);
        return r;
      }));

  nodes.push_back(job_node(
      results::undercuts,
      [&shop](const Job& job, const View& plan) -> std::optional<UndercutsIn> {
        UndercutsIn in{plan.fresh(results::master),
                       plan.fresh(results::split),
                       plan.fresh(results::pieces),
                       shore_of(job, shop),
                       plan.subject<Subject>().study.undercut_pitch_mm,
                       {},
                       {}};
        if (const auto second = second_rubber(job, shop)) in.shore_b = second->shore_a;
        const auto said = said_of_openings(job, plan, frees);
        if (!in.master || !in.split || !in.pieces || !said) return std::nullopt;
        in.said = *said;
        return in;
      },
      [&shop](const UndercutsIn& in, const Progress& progress) -> Result<UndercutsResult> {
        UndercutOptions o;
        o.shore_a = in.shore_a, o.shore_b = in.shore_b;
        o.pitch_mm = in.pitch_mm;
        o.rule = shop.rules.split.flex;
        auto u = find_undercuts(*in.master->mesh, in.split->split, o, progress);
        if (!u) return u.error();
        UndercutsResult r;
        r.shore_a = o.shore_a;
        r.undercuts = *std::move(u);
        if (in.said.openings) settle_undercuts(r.undercuts, in.said.openings->found, in.said.choices, o.rule);
        r.piece = piece_of_undercuts(r.undercuts, *in.pieces, *in.master->mesh, shop.rules.split);
        return r;
      }));

  // Apart from the undercuts themselves, so that a weight of the search moves words only.
  nodes.push_back(job_node(
      results::undercut_advice,
      [&shop](const Job& job, const View& plan) -> std::optional<AdviceIn> {
        AdviceIn in{plan.fresh(results::master),
                    plan.fresh(results::split),
                    plan.fresh(results::bores),
                    plan.fresh(results::pieces),
                    plan.fresh(results::undercuts),
                    plan.fresh(results::search),
                    plan.fresh(results::openings),
                    job.split.openings,
                    shop.key};
        return in.master && in.split && in.bores && in.pieces && in.undercuts && in.openings ? std::optional(in)
                                                                                             : std::nullopt;
      },
      [&shop](const AdviceIn& in, const Progress&) -> Result<AdviceResult> {
        return AdviceResult{undercut_findings(*in.undercuts, *in.split, *in.pieces, in.bores->bores, in.search.get(),
                                              in.openings->found, in.choices, shop, *in.master->mesh)};
      }));

  nodes.push_back(job_node(
      results::insert_advice,
      [&shop](const Job& job, const View& plan) -> std::optional<InsertAdviceIn> {
        if (job.split.inserts.empty() && job.split.threads.empty()) return std::nullopt;
        InsertAdviceIn in{plan.fresh(results::master),
                          plan.fresh(results::inserts),
                          plan.fresh(results::split),
                          job.split.inserts,
                          job.split.threads,
                          job.flow.gate,
                          job.flow.sprue_mm,
                          1.1,
                          shore_of(job, shop),
                          job.mould.form == name_of(Form::squeeze),
                          shop.key};
        if (const auto resin = planned_resin(job.mix, shop)) in.resin_g_cm3 = resin->density_g_cm3;
        return in.master && (in.placed || in.inserts.empty()) ? std::optional(in) : std::nullopt;
      },
      [&shop](const InsertAdviceIn& in, const Progress&) -> Result<AdviceResult> {
        static const InsertsResult none;
        return AdviceResult{insert_findings(
            {*in.master, in.placed ? *in.placed : none, in.inserts, in.threads, in.split ? &in.split->split : nullptr,
             in.gate_mm, in.sprue_mm, in.resin_g_cm3, in.shore_a, in.squeezed},
            shop)};
      }));

  nodes.push_back(job_node(
      results::opening_advice,
      [&shop](const Job& job, const View& plan) -> std::optional<OpeningAdviceIn> {
        const auto split = plan.fresh(results::split);
        OpeningAdviceIn in{plan.fresh(results::master),
                           plan.fresh(results::openings),
                           plan.fresh(results::undercuts),
                           plan.fresh(results::bores),
                           job.split.openings,
                           job.split.bores,
                           split ? split->split.pull : Vec3{},
                           shop.key,
                           {}};
        if (std::any_of(in.choices.begin(), in.choices.end(), slides) && !(in.pins = plan.fresh(results::pins)))
          return std::nullopt;
        return in.master && in.openings && in.undercuts && in.bores && split ? std::optional(in) : std::nullopt;
      },
      [&shop](const OpeningAdviceIn& in, const Progress&) -> Result<AdviceResult> {
        static const PinsResult no_pins;
        return AdviceResult{opening_findings({*in.master, *in.openings, *in.undercuts, in.choices, in.bores->bores,
                                              in.treated, in.pull, (in.pins ? *in.pins : no_pins).pins},
                                             shop)};
      }));

  // What of the part decides ways and forms; rays for the flat face make it the costly half of both.
  nodes.push_back(job_node(
      results::facts,
      [&shop](const Job& job, const View& plan) -> std::optional<FactsIn> {
        FactsIn in{plan.fresh(results::original),
                   plan.fresh(results::master),
                   plan.fresh(results::split),
                   plan.fresh(results::witness),
                   plan.fresh(results::pieces),
                   plan.fresh(results::undercuts),
                   plan.fresh(results::bores),
                   job.original.marks,
                   job.original.master_steps,
                   shore_of(job, shop),
                   job.mould.form == name_of(Form::open)};
        if (!in.original || !in.master || !in.split || !in.witness || !in.pieces || !in.undercuts || !in.bores)
          return std::nullopt;
        return in;
      },
      [&shop](const FactsIn& in, const Progress& progress) -> Result<WayFacts> {
        Job only;
        only.original.marks = in.marks;
        only.original.master_steps = in.steps;
        if (in.open) only.mould.form = name_of(Form::open);
        WayFacts f;
        f.shore_a = in.shore_a;
        f = way_facts(f, *in.original, *in.master, *in.split, *in.witness, *in.pieces, *in.undercuts, in.bores->bores,
                      only, shop.rules.split, progress);
        if (progress.cancelled()) return Error::stopped();
        return f;
      }));

  nodes.push_back(job_node(
      results::beds,
      [&shop](const Job& job, const View& plan) -> std::optional<BedsIn> {
        const auto master = plan.fresh(results::master);
        const auto facts = plan.fresh(results::facts);
        if (!master || !facts) return std::nullopt;
        return BedsIn{facts, wall_of(job, shop, master->own_size_mm).wall_mm, job.copies, materials_only(job.mix)};
      },
      [&shop](const BedsIn& in, const Progress&) -> Result<BedsResult> {
        WayFacts f = *in.facts;
        f.wall_mm = in.wall_mm;
        f.copies = in.copies;
        if (const auto sil = planned_rubber(in.materials, shop)) {
          f.rubber_density_g_cm3 = sil->density_g_cm3;
          f.rubber_price_per_kg = sil->price_per_kg;
          f.see_through = sil->see_through();
          f.cure_h = sil->demould_h;
        }
        return BedsResult{ways_to_split(f, shop.rules.split.ways)};
      }));
}

}  // namespace palinform
