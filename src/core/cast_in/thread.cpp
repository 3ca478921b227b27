#include "cast_in/thread.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

const double root3 = std::sqrt(3.0);

// ISO 261, first choice and the second-choice sizes that shops keep; mm.
constexpr std::array threads{
    IsoThread{1.6, {0.35, 0.2, 0}}, IsoThread{2, {0.4, 0.25, 0}},     IsoThread{2.5, {0.45, 0.35, 0}},
    IsoThread{3, {0.5, 0.35, 0}},   IsoThread{3.5, {0.6, 0.35, 0}},   IsoThread{4, {0.7, 0.5, 0}},
    IsoThread{5, {0.8, 0.5, 0}},    IsoThread{6, {1, 0.75, 0}},       IsoThread{8, {1.25, 1, 0.75}},
    IsoThread{10, {1.5, 1.25, 1}},  IsoThread{12, {1.75, 1.5, 1.25}}, IsoThread{14, {2, 1.5, 0}},
    IsoThread{16, {2, 1.5, 0}},     IsoThread{18, {2.5, 2, 1.5}},     IsoThread{20, {2.5, 2, 1.5}},
    IsoThread{22, {2.5, 2, 1.5}},   IsoThread{24, {3, 2, 0}},         IsoThread{27, {3, 2, 0}},
    IsoThread{30, {3.5, 2, 0}},     IsoThread{33, {3.5, 2, 0}},       IsoThread{36, {4, 3, 0}},
};

const IsoThread* of_size(double nominal) {
  for (const IsoThread& t : threads)
    if (std::abs(t.nominal_mm - nominal) < 1e-6) return &t;
  return nullptr;
}

}  // namespace

double pitch_diameter_mm(double d, double p) { return d - 3.0 / 8 * root3 * p; }
double minor_bore_mm(double d, double p) { return d - 5.0 / 8 * root3 * p; }
double minor_stud_mm(double d, double p) { return d - 17.0 / 24 * root3 * p; }
double tap_core_mm(double d, double p) { return d - p; }
double die_blank_mm(double d, double p) { return d - 0.1 * p; }

std::span<const IsoThread> iso_threads() { return threads; }

double coarse_pitch_mm(double nominal) {
  const IsoThread* t = of_size(nominal);
  return t ? t->pitches_mm[0] : 0;
}

IsoThread thread_like(double diameter, bool stud) {
  IsoThread best{0, {}};
  double near = 1e300;
  for (const IsoThread& t : threads) {
    const double p = t.pitches_mm[0];
    // A bore that waits for its thread has its core, one that bears it is seen at its crests.
    for (const double d :
         {stud ? t.nominal_mm : tap_core_mm(t.nominal_mm, p), stud ? t.nominal_mm : minor_bore_mm(t.nominal_mm, p)}) {
      const double off = std::abs(diameter - d) / p;
      if (off < near) near = off, best = t;
    }
  }
  return near <= 0.2 ? best : IsoThread{0, {}};
}

Insert threaded_insert(const ThreadChoice& t, const ThreadRules& rules) {
  Insert in;
  const double engage = rules.engage_share * t.nominal_mm;
  const double deep = t.deep_mm > 0 ? t.deep_mm : engage;
  in.axis = unit(t.axis, Vec3{0, 0, 1});
  in.density_g_cm3 = t.stud ? 7.85 : 8.5;
  in.material = t.stud ? "steel" : "brass";
  if (t.stud) {
    // Screwed as deep again into the casting as it is long outside.
    in.kind = Insert::Kind::rod;
    in.hold = Insert::Hold::seats;
    in.name = "Screw " + words_of(t);
    in.across_mm = t.nominal_mm;
    in.long_mm = deep + engage;
    in.at_mm = t.at_mm - in.axis * (0.5 * deep + engage);
  } else {
    in.kind = Insert::Kind::tube;
    in.hold = Insert::Hold::pin;
    in.name = "Bush " + words_of(t);
    in.bore_mm = t.nominal_mm;
    in.across_mm = t.nominal_mm + 2 * rules.bush_wall_mm;
    in.long_mm = std::min(engage, deep);
    in.at_mm = t.at_mm - in.axis * (0.5 * in.long_mm);
  }
  return in;
}

bool at_thread(const ThreadChoice& t, const Vec3& p) {
  const Vec3 axis = unit(t.axis, Vec3{0, 0, 1}), off = p - t.at_mm;
  const double along = dot(off, axis);
  return std::abs(along) <= 0.5 * t.deep_mm + 0.5 && length(off - axis * along) <= 0.3 * std::max(1.0, t.found_mm);
}

std::string words_of(const ThreadChoice& t) {
  const IsoThread* iso = of_size(t.nominal_mm);
  const auto metric = iso && std::any_of(iso->pitches_mm.begin(), iso->pitches_mm.end(),
                                         [&](double p) { return p > 0 && std::abs(p - t.pitch_mm) < 1e-6; });
  std::string s = (metric ? "M" : "Ø") + shortest(t.nominal_mm, 4);
  if (!metric || std::abs(t.pitch_mm - iso->pitches_mm[0]) > 1e-6) s += " × " + shortest(t.pitch_mm, 4);
  return t.left_hand ? s + " left" : s;
}

}  // namespace palinform
