#include "ledger/demo.hpp"
#include "job/parts.hpp"

#include <unistd.h>

#include <climits>
#include <cstdlib>
#include <filesystem>

#include "ledger/workshop.hpp"
#include "mesh/load.hpp"

namespace palinform {
namespace {

namespace fs = std::filesystem;

struct Sized {
  const char* name;
  SizeKind kind;
  FormedBy formed;
  double nominal, lower, upper, section;
  Vec3 from, to;
  std::vector<double> readings;
};

void add_sizes(Job& job, const std::vector<Sized>& list) {
  for (const Sized& d : list) {
    MeasuredSize s;
    s.id = new_size_id(job);
    s.name = d.name;
    s.kind = d.kind;
    s.formed = d.formed;
    s.nominal_mm = d.nominal;
    s.lower_mm = d.lower;
    s.upper_mm = d.upper;
    s.section_mm = d.section;
    s.from_mm = d.from;
    s.to_mm = d.to;
    s.readings_mm = d.readings;
    s.instrument_u_mm = 0.005;
    job.original.sizes.push_back(std::move(s));
  }
}

Job bracket() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f601";
  j.name = "Pen-arm bracket";
  j.client = "Saltmarsh Tide Office";
  j.piece = {"2026-11-18", "Broken through the lug and glued, one corner worn; verdigris in the slot.", "", "", {}, {}};
  j.copies = 2;
  j.mix.silicone_id = "add-40-translucent";
  j.mix.resin_id = "pu-tough-black";
  j.size.room_c = 21;
  j.size.gel_c = 32;
  j.mix.cup_ml = 2500;
  j.mix.cup_tare_g = 31;
  j.mould.master_g = 29.8;
  add_sizes(
      j,
      {{"Overall length", K::outer, F::rubber, 92, 91.75, 92.25, 9, {-46, 0, 4.5}, {46, 0, 4.5}, {92.02, 91.99, 92.01}},
       {"Pen bore", K::bore, F::rubber, 8, 8.000, 8.015, 7, {27, 0, 23}, {35, 0, 23}, {8.01, 8.01, 8.00, 8.01}},
       {"Slot width", K::slot, F::rubber, 6, 6.0, 6.1, 9, {-17, -3, 9}, {-17, 3, 9}, {6.06, 6.05, 6.07}},
       {"Boss height", K::step, F::across_line, 23, 22.9, 23.1, 7, {36.5, -8.5, 0}, {36.5, -8.5, 23}, {22.98, 22.97}},
       {"Bore to slot", K::centre, F::rubber, 48, 47.9, 48.1, 9, {31, 0, 23}, {-17, 0, 23}, {48.03, 48.01}},
       {"Lug width", K::outer, F::rubber, 20, 19.85, 20.15, 10, {-39, -10, 20}, {-39, 10, 20}, {20.01, 20.00, 20.02}},
       {"Lug thickness", K::thickness, F::rubber, 10, 9.9, 10.1, 10, {-44, 0, 15}, {-34, 0, 15}, {10.02}},
       {"Cross bore", K::bore, F::pin, 4.2, 4.2, 4.25, 3, {-41.1, -10, 29}, {-36.9, -10, 29}, {4.22, 4.23}}});
  j.original.sizes[7].pin_mm = 4.225;
  j.original.sizes[6].limits_guessed = true;
  j.days.start = "2026-11-26T08:00";
  j.days.promised = "2026-12-04";
  j.flow.tilt_deg = 14;
  j.flow.azimuth_deg = 180;
  j.flow.gate = Vec3{46, 0, 3};
  j.flow.vents = {{-40.5, 0, 33.8}};
  j.split.bores = {{BoreTreatment::Kind::pin, {-39, 0, 31.1}, 0}};
  Casting first;
  first.number = 1;
  first.made_on = "2026-11-20";
  first.note = "Test casting, pressure pot at 300 kPa";
  first.readings = {{"s1", {91.89, 91.91, 91.90}}, {"s2", {7.98, 7.98, 7.97}}, {"s3", {6.04, 6.05}},
                    {"s4", {23.05, 23.06}},        {"s5", {47.96, 47.97}},     {"s6", {19.97, 19.98}},
                    {"s8", {4.22, 4.23}}};
  first.looked_at = true;
  first.worth = Worth::repaired, first.repair_min = 15;
  FaultSeen seen;
  seen.at_mm = Vec3{-39, 3, 33.6}, seen.size_mm = 2.5;
  first.faults = {seen};
  first.record.ratio_off_pct = 0.4, first.record.ratio_tolerance_pct = 2;
  first.record.room_c = 20, first.record.reference_c = 23;
  first.record.degassed = false, first.record.pressure_kpa = 300;
  first.record.tilt_deg = 5;
  first.record.demould_h = 2.5, first.record.demould_needed_h = 2;
  j.check.castings = {first};
  return j;
}

Job ornament() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f602";
  j.name = "Case-corner ornament";
  j.client = "Saltmarsh Tide Office";
  j.copies = 4;
  j.days.start = "2026-11-30T08:00";
  j.days.promised = "2026-12-11";
  j.mix.silicone_id = "add-30-blue";
  j.mix.resin_id = "pu-rigid-ivory";
  j.mix.cup_tare_g = 12;
  j.original.marks = {{FaceMark::Kind::hidden, {12, 12, 0}}};
  j.mould.form = "open";
  add_sizes(j,
            {{"Reach", K::outer, F::rubber, 40.85, 40.55, 41.15, 6, {-9, 2.5, 1.2}, {31.85, 2.5, 1.2}, {40.86, 40.84}},
             {"Thickness",
              K::thickness,
              F::open_face,
              8.4,
              8.2,
              8.7,
              8,
              {2.5, 2.5, 0},
              {2.5, 2.5, 8.4},
              {8.41, 8.38, 8.40}}});
  j.original.sizes[1].stock_mm = 0.1;
  return j;
}

/// The first set of ornaments, finished: six castings and one pour that went wrong.
Job finished_set() {
  Job j = ornament();
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f603";
  j.name = "Corner ornament, first set";
  j.days.promised.clear();
  j.copies = 6;
  j.days.start = "2026-11-09T08:00";
  j.flow.gate = Vec3{30, 30, 0.5};
  j.flow.vents = {{2.5, 2.5, 8.4}};
  const double reach[6] = {40.71, 40.70, 40.72, 40.70, 40.69, 40.71}, thick[6] = {8.46, 8.45, 8.47, 8.46, 8.48, 8.47};
  for (int i = 0; i < 6; ++i)
    j.check.castings.push_back({i + 1,
                                "2026-11-" + std::to_string(12 + i),
                                i == 0 ? "test casting" : "",
                                {{"s1", {reach[i], reach[i] + 0.01}}, {"s2", {thick[i], thick[i]}}}});
  for (Casting& c : j.check.castings) c.looked_at = true, c.worth = Worth::good, c.mate = Mate::fits;
  // The first one had pinholes all over; the resin was degassed from then on. The last ones tore the mould at a tip.
  const auto saw = [&](size_t casting, Fault f, std::optional<Vec3> at, double size_mm) {
    FaultSeen seen;
    seen.fault = f, seen.at_mm = at, seen.size_mm = size_mm;
    j.check.castings[casting].faults.push_back(seen);
  };
  saw(0, Fault::pinholes, std::nullopt, 0.4);
  j.check.castings[0].faults[0].confirmed = true;
  j.check.castings[0].faults[0].cause = std::string(name_of(Cause::no_degas));
  j.check.castings[0].worth = Worth::tests;
  j.check.castings[0].record.degassed = false;
  j.check.changes.push_back({1, Fault::pinholes, std::string(name_of(Cause::no_degas)), "Degas the resin",
                             "Small bubbles rise out before it is poured."});
  for (size_t k = 1; k < 6; ++k) j.check.castings[k].record.degassed = true;
  saw(5, Fault::torn, Vec3{31.5, 2.5, 3}, 3);
  j.check.castings[5].worth = Worth::repaired, j.check.castings[5].repair_min = 10;
  j.check.castings[5].record.demould_h = 1.6, j.check.castings[5].record.demould_needed_h = 2;
  return j;
}

/// A scan of a casting as it comes off a scanner: shrunk, sunk where it was thick, noisy, and lying anyhow.
TriMesh scanned(TriMesh m) {
  const MeshMeasure whole = measure(m);
  const Transform lies = Transform::turn(unit(Vec3{1, 2, 0.5}), 0.9).then(Transform::move({31, -12, 44}));
  uint32_t dice = 2463534242u;
  const auto noise = [&] {  // xorshift: the same scan every time
    dice ^= dice << 13, dice ^= dice >> 17, dice ^= dice << 5;
    return (dice / 4294967295.0 - 0.5) * 0.03;
  };
  const Vec3 sink = whole.box_mm.min + (whole.box_mm.max - whole.box_mm.min) * 0.3;
  for (Vec3& p : m.points) {
    const double off = std::hypot(p.x - sink.x, p.y - sink.y);
    if (p.z > whole.centroid_mm.z) p.z -= 0.16 * std::exp(-off * off / 24);
    p = whole.centroid_mm + (p - whole.centroid_mm) * 0.9965;
    p += Vec3{noise(), noise(), noise()};
    p = lies.point(p);
  }
  return m;
}

/// The missing left-hand latch: the surviving right one, mirrored, printed oversize.
Job latch() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f605";
  j.name = "Drum latch, left hand";
  j.client = "Saltmarsh Tide Office";
  j.copies = 2;
  j.mix.silicone_id = "add-30-blue";
  j.mix.resin_id = "pu-tough-natural";
  j.size.room_c = 21;
  j.size.gel_c = 24;
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-01T08:00";
  j.days.promised = "2026-12-07";
  MasterStep mirror;
  mirror.axis = 1;
  j.original.master_steps = {mirror};
  j.size.master = MasterKind::scaled;
  j.original.finish = {Gloss::plain, Later::paint, "printed-photopolymer"};
  j.original.marks = {{FaceMark::Kind::hidden, {0, 4, 0}}, {FaceMark::Kind::show, {-4, 5, 5}}};
  j.mix.needs.shore_low = 65;
  j.mix.needs.flexibility = "tough";
  j.mix.needs.work_min = 6;
  add_sizes(
      j, {{"Pivot bore", K::bore, F::rubber, 5, 5.0, 5.03, 4, {-16.5, 0, 11}, {-11.5, 0, 11}, {5.01, 5.02, 5.01}},
          {"Plate thickness", K::thickness, F::across_line, 5, 4.9, 5.1, 5, {-4, 6, 0}, {-4, 6, 5}, {5.01, 5.00}},
          {"Boss height", K::step, F::rubber, 11, 10.9, 11.1, 6, {-14, -6, 0}, {-14, -6, 11}, {10.99, 11.01, 11.00}},
          {"Slot width", K::slot, F::rubber, 3.2, 3.2, 3.3, 5, {13, -6.8, 5}, {13, -3.6, 5}, {3.22, 3.24}},
          {"Pivot to slot", K::centre, F::rubber, 27.5, 27.4, 27.6, 5, {-14, -5.2, 5}, {13, -5.2, 5}, {}},
          {"Plate width", K::outer, F::rubber, 18, 17.9, 18.1, 5, {-4, -9, 2.5}, {-4, 9, 2.5}, {18.01, 18.00, 18.02}}});
  j.original.sizes[0].limits_from = "turns on a mate of 4.970 mm";
  j.original.sizes[3].limits_from = "slides on a mate of 3.150 mm";
  j.original.sizes[4].nominal_mm = 27;
  j.original.sizes[4].lower_mm = 26.9;
  j.original.sizes[4].upper_mm = 27.1;
  j.original.sizes[4].limits_from = "ISO 2768-m";
  j.size.scale = 1.0018;
  return j;
}

/// A drip collar known only by calipers and a measuring cup: there is no mesh.
Job collar() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f606";
  j.name = "Float-tube drip collar";
  j.client = "Saltmarsh Tide Office";
  j.copies = 3;
  j.mix.silicone_id = "con-25-white";
  j.mix.resin_id = "pu-flex-40";
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-03T08:00";
  j.original.bare = {{58, 58, 16}, 17.5, std::nullopt, 1.1};
  j.original.finish = {Gloss::plain, Later::nothing, "old-rubber"};
  add_sizes(j, {{"Tube bore", K::bore, F::rubber, 24, 23.6, 24.0, 6, {}, {}, {23.8, 23.9, 23.85}},
                {"Collar across", K::outer, F::rubber, 58, 57.5, 58.5, 6, {}, {}, {58.1, 57.9}},
                {"Lip", K::thickness, F::across_line, 3, 2.8, 3.3, 3, {}, {}, {3.05}}});
  j.original.sizes[0].limits_from = "snaps on a mate of 24.200 mm";
  for (MeasuredSize& s : j.original.sizes) s.instrument_u_mm = 0.02;
  return j;
}

/// The crank sleeve: a rubber part, cast in a hard printed cup round a core.
Job sleeve() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f607";
  j.name = "Crank sleeve";
  j.client = "Saltmarsh Tide Office";
  j.copies = 2;
  j.mix.silicone_id = "add-40-translucent";
  j.mix.resin_id = "pu-flex-40";
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-07T08:00";
  j.original.finish = {Gloss::texture, Later::nothing, "printed-photopolymer"};
  add_sizes(j, {{"Rod bore", K::bore, F::pin, 12, 11.8, 12.0, 7, {-6, 0, 62}, {6, 0, 62}, {11.92, 11.95, 11.9}},
                {"Collar across", K::outer, F::rubber, 34, 33.6, 34.4, 7, {-17, 0, 2.5}, {17, 0, 2.5}, {34.05, 33.95}},
                {"Height", K::outer, F::rubber, 62, 61.5, 62.5, 8, {13, 0, 0}, {13, 0, 62}, {62.1, 62.0}}});
  j.original.sizes[0].pin_mm = 11.95;
  j.mould.form = "cup-core";
  j.split.bores = {{BoreTreatment::Kind::pin, {0, 6, 36}, 0}};  // the core
  return j;
}

/// The irrigation timer's snap lid: twelve in clear-cut rubber.
Job lid() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f608";
  j.name = "Timer snap lid";
  j.client = "Saltmarsh Tide Office";
  j.copies = 12;
  j.mix.silicone_id = "add-25-clear";
  j.mix.resin_id = "pu-tough-natural";
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-08T08:00";
  j.days.promised = "2027-01-08";
  j.size.master = MasterKind::scaled;
  j.size.scale = 1.004;
  j.split.way = "pour-and-cut";
  j.mould.form = "cut";
  j.original.marks = {{FaceMark::Kind::show, {10, 8, 0}}};
  j.original.finish = {Gloss::plain, Later::nothing, "printed-photopolymer"};
  add_sizes(j, {{"Lid length", K::outer, F::rubber, 64, 63.8, 64.2, 2, {-32, 0, 8}, {32, 0, 8}, {63.98, 64.00}},
                {"Lid width", K::outer, F::rubber, 44, 43.8, 44.2, 2, {0, -22, 8}, {0, 22, 8}, {43.99, 44.01}},
                {"Between noses", K::slot, F::rubber, 39.2, 39.0, 39.4, 2, {0, -19.6, 9.4}, {0, 19.6, 9.4}, {39.21}},
                {"Peg", K::outer, F::rubber, 4.4, 4.3, 4.5, 4, {17.8, 0, 5}, {22.2, 0, 5}, {4.41, 4.40}}});
  j.original.sizes[2].limits_from = "snaps on a mate of 39.600 mm";
  return j;
}

/// A strip of tiny dial pointers, filled under vacuum.
Job pointers() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f609";
  j.name = "Dial pointers, strip";
  j.client = "Saltmarsh Tide Office";
  j.copies = 10;
  j.mix.silicone_id = "add-30-blue";
  j.mix.resin_id = "pu-rigid-ivory";
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-10T08:00";
  j.days.promised = "2026-12-23";
  j.flow.aid = FillAid::vacuum;
  j.mould.form = "strip";
  j.original.marks = {{FaceMark::Kind::hidden, {12, 0, 0}}};
  j.original.finish = {Gloss::plain, Later::paint, "metal"};
  add_sizes(j, {{"Hub bore", K::bore, F::pin, 2, 2.0, 2.02, 2, {-1, 0, 2.4}, {1, 0, 2.4}, {2.01, 2.00}},
                {"Length", K::outer, F::rubber, 34.4, 34.2, 34.6, 2, {-8.4, 0, 0.8}, {26, 0, 0.8}, {34.38, 34.40}}});
  j.original.sizes[0].pin_mm = 2.01;
  return j;
}

/// Six spare latches for the museum's store, squeezed: thickness may vary by the flash.
Job squeezed() {
  Job j = latch();
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f60a";
  j.name = "Drum latch, spares";
  j.days.promised.clear();
  j.copies = 6;
  j.mould.form = "squeeze";
  j.flow.turned_over = true;  // its deep side holds the resin
  j.mix.resin_id = "pu-rigid-ivory";
  j.days.start = "2026-12-14T08:00";
  j.original.sizes.resize(1);
  return j;
}

/// A pair of latches, right and left, that come out of one box together; the other hand is made of the one that is
/// there when it is written.
Job latch_pair() {
  Job j = latch();
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f60f";
  j.name = "Drum latches, a pair";
  j.part_name = "Left";
  j.days.promised.clear();
  j.days.start = "2026-12-15T08:00";
  j.mould.form = "two-part";
  return j;
}

/// The case's finial, too much rubber for a block: a brushed skin in a jacket.
Job finial() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f60b";
  j.name = "Case finial";
  j.client = "Saltmarsh Tide Office";
  j.copies = 2;
  j.mix.silicone_id = "con-25-white";
  j.mix.resin_id = "pu-rigid-slow";
  j.mix.cup_ml = 2500;
  j.mix.cup_tare_g = 31;
  j.days.start = "2026-12-15T08:00";
  j.days.promised = "2027-01-15";
  j.mould.form = "skin";
  j.original.marks = {{FaceMark::Kind::hidden, {10, 0, 0}}};
  j.original.finish = {Gloss::plain, Later::paint, "wood"};
  add_sizes(j, {{"Foot across", K::outer, F::rubber, 76, 75.0, 76.5, 20, {-38, 0, 7}, {38, 0, 7}, {76.1, 75.9}},
                {"Height", K::outer, F::across_line, 186, 184, 187, 30, {0, 0, 0}, {0, 0, 186}, {186.2}}});
  return j;
}

/// One ornament more for a trial of colours, in putty within the hour.
Job putty() {
  Job j = ornament();
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f60c";
  j.name = "Corner ornament, colour trial";
  j.days.promised.clear();
  j.copies = 1;
  j.mould.form = "putty";
  j.mix.silicone_id = "putty-50";
  j.mix.rubber.reset();
  j.flow.gate.reset();
  j.flow.vents.clear();
  j.days.start = "2026-12-16T08:00";
  j.original.sizes.clear();
  return j;
}

/// The timer's valve cradle: pockets from three sides, so a third piece.
Job cradle() {
  using K = SizeKind;
  using F = FormedBy;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f60d";
  j.name = "Timer valve cradle";
  j.client = "Saltmarsh Tide Office";
  j.copies = 3;
  j.mix.silicone_id = "add-40-translucent";
  j.mix.resin_id = "pu-tough-natural";
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-17T08:00";
  j.split.way = "pieces";
  j.split.pull = Vec3{1, 0, 0};
  j.split.piece_pulls = {{0, 1, 0}};
  j.mould.form = "pieces";
  j.original.finish = {Gloss::plain, Later::nothing, "printed-photopolymer"};
  j.size.master = MasterKind::scaled;
  j.size.scale = 1.004;
  add_sizes(j, {{"Pocket width", K::slot, F::rubber, 18, 17.8, 18.2, 4, {-9, 14, 14}, {9, 14, 14}, {18.02}},
                {"Length", K::outer, F::rubber, 72, 71.6, 72.4, 4, {-36, 0, 2.5}, {36, 0, 2.5}, {72.05, 71.95}}});
  return j;
}

/// The timer's housing: six openings, each dealt with its own way, two cored screw posts, a clip on its side.
Job housing() {
  using K = SizeKind;
  using F = FormedBy;
  using Deal = OpeningChoice::Kind;
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f60e";
  j.name = "Timer housing";
  j.client = "Saltmarsh Tide Office";
  j.copies = 4;
  j.mix.silicone_id = "add-30-blue";
  j.mix.resin_id = "pu-tough-natural";
  j.mix.cup_tare_g = 12;
  j.days.start = "2026-12-21T08:00";
  j.split.pull = Vec3{0, 0, 1};
  const auto deal = [&](Deal how, const Vec3& at, int mouth = 1) {
    OpeningChoice c;
    c.kind = how, c.at_mm = at, c.mouth = mouth;
    j.split.openings.push_back(c);
  };
  deal(Deal::plate, {9, 3, 22.8});    // the dial's window, its sharp edge outside
  deal(Deal::slide, {-15, 3, 22.8});  // the spindle's hole
  for (const double y : {-6.0, -11.0, -16.0}) deal(Deal::meet, {-14, y, 22.8});  // vents
  deal(Deal::slide, {30.8, 4, 10});  // the window in the end wall, across the pull
  j.split.bores = {{BoreTreatment::Kind::pin, {25.65, -15, 10}, 0}, {BoreTreatment::Kind::pin, {-22.35, 15, 10}, 0}};
  for (const double side : {1.0, -1.0}) {  // pins form the cores of both posts' threads
    ThreadChoice t;
    t.at_mm = {side * 24, -side * 15, 11}, t.axis = {0, 0, -1};
    t.nominal_mm = 4, t.pitch_mm = 0.7;
    t.found_mm = 3.3, t.deep_mm = 12;
    j.split.threads.push_back(t);
  }
  j.original.finish = {Gloss::plain, Later::paint, "cast-plastic"};
  add_sizes(j, {{"Length", K::outer, F::rubber, 64, 63.7, 64.3, 4, {-32, 0, 12}, {32, 0, 12}, {64.02, 63.98}},
                {"Width", K::outer, F::rubber, 46, 45.7, 46.3, 4, {-10, -23, 14}, {-10, 23, 14}, {46.01}},
                {"Dial window", K::slot, F::rubber, 22, 21.8, 22.2, 2.4, {-2, 3, 22.8}, {20, 3, 22.8}, {22.03}},
                {"Spindle hole", K::bore, F::pin, 6, 6.0, 6.1, 2.4, {-18, 3, 22.8}, {-12, 3, 22.8}, {6.02}},
                {"Screw core", K::bore, F::pin, 3.3, 3.2, 3.4, 2, {22.35, -15, 10}, {25.65, -15, 10}, {3.31}}});
  j.original.sizes[3].pin_mm = 6.05;
  j.original.sizes[4].pin_mm = 3.3;
  return j;
}

/// Just opened: a mesh and nothing else.
Job just_opened() {
  Job j;
  j.id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f604";
  j.name = "Spare bracket for the second recorder";
  j.client = "Saltmarsh Tide Office";
  return j;
}

Status write_books(Workshop& w) {
  const Lot lots[] = {{0, "add-40-translucent", "T40-118", "2026-10-05", "2027-10-01", 5000, 3240},
                      {0, "add-30-blue", "B30-077", "2026-09-14", "2027-03-01", 2000, 890},
                      {0, "pu-tough-black", "TK-2209", "2026-11-02", "2027-02-01", 1000, 612},
                      {0, "pu-rigid-ivory", "RI-1904", "2026-03-20", "2026-10-31", 1000, 140}};
  int64_t lot_ids[4];
  for (int i = 0; i < 4; ++i) {
    const auto id = w.save_lot(lots[i]);
    if (!id) return id.error();
    lot_ids[i] = *id;
  }
  const std::string set = "5a17e0d4b2c94f6e8a1bb2c3d4e5f603", bracket_id = "5a17e0d4b2c94f6e8a1bb2c3d4e5f601";
  const auto first = w.save_mould({0, set, "", "Corner ornament, mould 1", "2026-11-11", 0, "", ""});
  const auto second = w.save_mould({0, bracket_id, "", "Pen-arm bracket, mould 1", "2026-11-19", 0, "", ""});
  if (!first) return first.error();
  if (!second) return second.error();
  const PourRecord rubber[] = {
      {0, set, "", "2026-11-09T15:10:00", "Pour half a", "add-30-blue", 73, lot_ids[1], 0, false, ""},
      {0, set, "", "2026-11-10T09:20:00", "Pour half b", "add-30-blue", 47, lot_ids[1], 0, false, ""},
      {0, bracket_id, "", "2026-11-17T14:40:00", "Pour half a", "add-40-translucent", 248, lot_ids[0], 0, false, ""},
      {0, bracket_id, "", "2026-11-18T09:05:00", "Pour half b", "add-40-translucent", 75, lot_ids[0], 0, false, ""}};
  for (const PourRecord& p : rubber)
    if (auto ok = w.book_pour(p, false); !ok) return ok.error();
  for (int i = 0; i < 7; ++i) {
    const bool failed = i == 1;  // the second pour gelled in the cup
    PourRecord p{0,
                 set,
                 "",
                 "2026-11-" + std::to_string(12 + std::max(0, i - 1)) + (failed ? "T10:05:00" : "T11:30:00"),
                 failed ? "Pour casting" : "Pour casting " + std::to_string(i ? i : 1) + " of 6",
                 "pu-rigid-ivory",
                 8.8,
                 lot_ids[3],
                 *first,
                 failed,
                 failed ? "gelled in the cup: stirred too long" : ""};
    if (auto ok = w.book_pour(p, !failed); !ok) return ok.error();
  }
  if (auto ok = w.book_pour({0, bracket_id, "", "2026-11-20T10:12:00", "Pour the test casting", "pu-tough-black", 39,
                             lot_ids[2], *second, false, "pressure pot at 300 kPa"},
                            true);
      !ok)
    return ok.error();
  if (auto ok = w.keep_trial({"", lot_ids[0], TrialKind::patch, "printed-photopolymer", true, "2026-11-16",
                              "hidden spot inside the slot, lacquered twice"});
      !ok)
    return ok.error();
  Equipment shop;
  shop.scales = {{"Bench scale", 0.1, 3000}, {"Letter scale", 0.01, 300}};
  shop.cups = {{"Beaker 1 l", 1000, 46.2, 90.0, 108.0, 130.0},
               {"Tumbler 500 ml", 500, 9.4, 70.0, 92.0, 97.0},
               {"Cup 250 ml", 250, 4.1, {}, {}, {}}};
  shop.chamber = {250, 280, 2.5};
  shop.pot = {230, 260, 400};
  shop.oven = {400, 300, 80};
  shop.boxes = {{"Tide box, large", 180, 120, 90}, {"Tide box, small", 90, 60, 60}};
  shop.drills_mm = {1.5, 2, 3, 4, 6, 8};
  shop.rods_mm = {1.5, 2, 3, 4, 6};
  shop.sheets_mm = {3, 6, 9};
  shop.syringes_ml = {5, 20, 60};
  shop.causes = {{Fault::pinholes, Cause::no_degas, 1}, {Fault::tacky, Cause::ratio, 2}};
  shop.people = 2;
  OwnGauge caliper;
  caliper.name = "Bench calipers", caliper.resolution_mm = 0.01, caliper.u_mm = 0.012;
  caliper.checked_on = "2026-03-02";
  shop.gauges = {caliper};
  if (auto ok = w.keep_equipment(shop); !ok) return ok.error();
  if (auto ok = w.keep_standing_mould({"tide-coaster", "Coaster with the harbour's mark", 38, 6, {}, "sill"}); !ok)
    return ok.error();
  if (auto ok = w.keep_standing_mould({"drawer-knob", "Drawer knob", 11, 4, {"casting-resin"}, "sill"}); !ok)
    return ok.error();
  if (auto ok = w.keep_recipe({"recorder-black",
                               "Recorder black",
                               {{"pigment-paste", "Pigment paste", 0.006}},
                               {{"2026-11-13",
                                 "Corner ornaments, casting 2",
                                 {{"pigment-paste", "Pigment paste", 0.01}},
                                 "too dense: the grain is lost",
                                 "less paste",
                                 ""}}});
      !ok)
    return ok.error();
  MouldRecord worn{*first, set, "", "Corner ornament, mould 1", "2026-11-11", 6, "2026-11-18", "torn at a leaf tip"};
  const auto retired = w.save_mould(worn);
  return retired ? Status() : Status(retired.error());
}

}  // namespace

std::string find_demo_folder() {
  std::vector<std::string> places;
  if (const char* named = std::getenv("PALINFORM_DEMO")) places.push_back(named);
  char self[PATH_MAX];
  if (const ssize_t n = ::readlink("/proc/self/exe", self, sizeof self - 1); n > 0) {
    self[n] = '\0';
    places.push_back(fs::path(self).parent_path().parent_path() / "share/palinform/demo");
  }
#ifdef PALINFORM_SOURCE_DEMO
  places.push_back(PALINFORM_SOURCE_DEMO);
#endif
  std::error_code ec;
  for (const std::string& p : places)
    if (fs::exists(fs::path(p) / "meshes/pen_arm_bracket.stl", ec)) return p;
  return "";
}

Result<std::string> write_demo(const std::string& dir, const std::string& demo_folder) {
  if (demo_folder.empty())
    return Error{"the demo's meshes are not installed", dir, "Set PALINFORM_DEMO to the folder that holds meshes/."};
  std::error_code ec;
  fs::create_directories(dir, ec);
  if (ec) return Error{"the folder cannot be made", dir, "Check the path and its permissions."};
  const std::string path = (fs::path(dir) / "workshop.sqlite").string();
  // Whatever stands there may be somebody's work, open in a window or not.
  for (const char* end : {"", "-wal", "-shm"})
    if (fs::exists(fs::symlink_status(path + end, ec)))
      return Error{"there is a workshop already: nothing was touched", path + end, "Choose another folder."};
  auto workshop = Workshop::open(path);
  if (!workshop) return workshop.error();
  if ((*workshop)->read_only())
    return Error{"another window has this demo workshop open", path, "Close it, or choose another folder."};
  // The older job first, so that the bracket is on top of the list.
  const std::pair<Job, const char*> jobs[] = {{finished_set(), "corner_ornament.stl"},
                                              {just_opened(), "pen_arm_bracket.stl"},
                                              {cradle(), "valve_cradle.stl"},
                                              {housing(), "timer_housing.stl"},
                                              {putty(), "corner_ornament.stl"},
                                              {finial(), "case_finial.stl"},
                                              {squeezed(), "drum_latch_right.stl"},
                                              {pointers(), "dial_pointer.stl"},
                                              {lid(), "snap_lid.stl"},
                                              {sleeve(), "crank_sleeve.stl"},
                                              {ornament(), "corner_ornament.stl"},
                                              {collar(), ""},
                                              {latch_pair(), "drum_latch_right.stl"},
                                              {latch(), "drum_latch_right.stl"},
                                              {bracket(), "pen_arm_bracket.stl"}};
  for (const auto& [made, file] : jobs) {
    if (!*file) {
      if (auto saved = (*workshop)->save_job(made, "demo job made"); !saved) return saved.error();
      continue;
    }
    auto loaded = load_mesh((fs::path(demo_folder) / "meshes" / file).string(), LengthUnit::mm);
    if (!loaded) return loaded.error();
    auto hash = (*workshop)->put_mesh(loaded->mesh, file);
    if (!hash) return hash.error();
    Job job = made;
    job.original.mesh = {*hash, file, LengthUnit::mm, loaded->mesh.triangles.size()};
    if (job.name == "Corner ornament, first set") {
      auto scan = (*workshop)->put_mesh(scanned(loaded->mesh), "ornament no. 5.ply");
      if (!scan) return scan.error();
      job.check.castings[4].scan = *scan, job.check.castings[4].scan_file = "ornament no. 5.ply";
    }
    if (job.part_name == "Left") {
      auto both = with_other_hand(std::move(job));
      if (!both) return both.error();
      job = with_part_in_hand(*std::move(both), 0);
    }
    if (auto saved = (*workshop)->save_job(job, "demo job made"); !saved) return saved.error();
  }
  if (auto ok = write_books(**workshop); !ok) return ok.error();
  // What the finished set taught was adopted when it was done.
  auto taught = learn_from_castings(finished_set(), starting_shop(), {});
  if (!taught) return taught.error();
  taught->record.adopted_at = "2026-11-18T16:30:00";
  taught->record.reason = "six good castings of the corner ornament";
  if (auto ok = (*workshop)->adopt(taught->record); !ok) return ok.error();
  return path;
}

}  // namespace palinform
