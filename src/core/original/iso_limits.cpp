#include "original/iso_limits.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

#include "base/text.hpp"

namespace palinform {
namespace {

// Main steps of nominal size, "up to and including", mm.
constexpr std::array<double, 13> steps{3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500};
// Intermediate steps, used by s.
constexpr std::array<double, 22> fine_steps{3,   6,   10,  18,  30,  50,  65,  80,  100, 120, 140,
                                            160, 180, 200, 225, 250, 280, 315, 355, 400, 450, 500};

// Standard tolerances IT5 to IT13, µm.
constexpr std::array<std::array<int, 13>, 9> it_um{{
    {4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25, 27},
    {6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40},
    {10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63},
    {14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97},
    {25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155},
    {40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230, 250},
    {60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360, 400},
    {100, 120, 150, 180, 210, 250, 300, 350, 400, 460, 520, 570, 630},
    {140, 180, 220, 270, 330, 390, 460, 540, 630, 720, 810, 890, 970},
}};

// Fundamental deviations of shafts, µm: the upper one (negative) of d to g, the lower one of k, n, p and s.
constexpr std::array<int, 13> es_d{-20, -30, -40, -50, -65, -80, -100, -120, -145, -170, -190, -210, -230};
constexpr std::array<int, 13> es_e{-14, -20, -25, -32, -40, -50, -60, -72, -85, -100, -110, -125, -135};
constexpr std::array<int, 13> es_f{-6, -10, -13, -16, -20, -25, -30, -36, -43, -50, -56, -62, -68};
constexpr std::array<int, 13> es_g{-2, -4, -5, -6, -7, -9, -10, -12, -14, -15, -17, -18, -20};
constexpr std::array<int, 13> ei_k{0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4, 5};  // IT4 to IT7; beyond that nought
constexpr std::array<int, 13> ei_n{4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37, 40};
constexpr std::array<int, 13> ei_p{6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62, 68};
constexpr std::array<int, 22> ei_s{14,  19,  23,  28,  35,  43,  53,  59,  71,  79,  92,
                                   100, 108, 122, 130, 140, 158, 170, 190, 208, 232, 252};

size_t step_of(std::span<const double> list, double nominal) {
  size_t i = 0;
  while (i + 1 < list.size() && nominal > list[i]) ++i;
  return i;
}

Status in_range(double nominal, double low, double high, const char* what) {
  if (std::isfinite(nominal) && nominal > low && nominal <= high) return {};
  return Error{std::string(what) + " covers sizes above " + fixed(low, low == std::round(low) ? 0 : 1) + " and up to " +
                   fixed(high, 0) + " mm",
               significant(nominal, 4) + " mm", "Give the limits themselves."};
}

Result<size_t> grade_row(char grade) {
  for (size_t i = 0; i < 4; ++i)
    if ("fmcv"[i] == grade) return i;
  return Error{"there is no such class of general tolerance", std::string(1, grade),
               "Choose f (fine), m (medium), c (coarse) or v (very coarse)."};
}

}  // namespace

Result<ToleranceClass> tolerance_class(std::string_view text) {
  const std::string s = trim(text);
  size_t split = 0;
  while (split < s.size() && std::isalpha(static_cast<unsigned char>(s[split]))) ++split;
  ToleranceClass c;
  c.letters = s.substr(0, split);
  const auto grade = parse_number(s.substr(split));
  if (c.letters.empty() || !grade || *grade != std::round(*grade))
    return Error{"this is no tolerance class", s, "Write a letter and a grade: H7 for a hole, g6 for a shaft."};
  c.grade = static_cast<int>(std::lround(std::clamp(*grade, -1.0, 99.0)));
  if (c.grade < 5 || c.grade > 13) return Error{"the grades offered are IT5 to IT13", s, "Choose one of these."};
  constexpr std::array<std::string_view, 6> holes{"D", "E", "F", "G", "H", "JS"};
  constexpr std::array<std::string_view, 10> shafts{"d", "e", "f", "g", "h", "js", "k", "n", "p", "s"};
  const bool is_hole = std::find(holes.begin(), holes.end(), c.letters) != holes.end();
  const bool is_shaft = std::find(shafts.begin(), shafts.end(), c.letters) != shafts.end();
  if (!is_hole && !is_shaft)
    return Error{"this class is not in the tables here", s,
                 "Holes: D E F G H JS. Shafts: d e f g h js k n p s. Or give the limits themselves."};
  c.hole = is_hole;
  return c;
}

Result<double> it_grade_mm(double nominal, int grade) {
  if (auto ok = in_range(nominal, 0, 500, "ISO 286"); !ok) return ok.error();
  if (grade < 5 || grade > 13) return Error{"the grades offered are IT5 to IT13", "IT" + std::to_string(grade), ""};
  return it_um[static_cast<size_t>(grade - 5)][step_of(steps, nominal)] / 1000.0;
}

Result<Deviations> iso286(double nominal, const ToleranceClass& c) {
  const auto width = it_grade_mm(nominal, c.grade);
  if (!width) return width.error();
  const double it = *width;
  const size_t i = step_of(steps, nominal);
  const std::string l = lower_ascii(c.letters);
  if (l == "js") return Deviations{-it / 2, it / 2};
  const auto below = [&](double es) { return c.hole ? Deviations{-es, -es + it} : Deviations{es - it, es}; };
  const auto above = [&](double ei) { return Deviations{ei, ei + it}; };
  if (l == "d") return below(es_d[i] / 1000.0);
  if (l == "e") return below(es_e[i] / 1000.0);
  if (l == "f") return below(es_f[i] / 1000.0);
  if (l == "g") return below(es_g[i] / 1000.0);
  if (l == "h") return c.hole ? Deviations{0, it} : Deviations{-it, 0};
  if (!c.hole && l == "k") return above(c.grade <= 7 ? ei_k[i] / 1000.0 : 0);
  if (!c.hole && l == "n") return above(ei_n[i] / 1000.0);
  if (!c.hole && l == "p") return above(ei_p[i] / 1000.0);
  if (!c.hole && l == "s") return above(ei_s[step_of(fine_steps, nominal)] / 1000.0);
  return Error{"this class is not in the tables here", c.text(), "Give the limits themselves."};
}

Result<Deviations> iso2768(double nominal, char grade) {
  const auto row = grade_row(grade);
  if (!row) return row.error();
  if (auto ok = in_range(nominal, 0.5 - 1e-12, 4000, "ISO 2768-1"); !ok) return ok.error();
  constexpr std::array<double, 8> to{3, 6, 30, 120, 400, 1000, 2000, 4000};
  constexpr double none = -1;
  constexpr std::array<std::array<double, 8>, 4> half{{{0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, none},
                                                       {0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2},
                                                       {0.2, 0.3, 0.5, 0.8, 1.2, 2, 3, 4},
                                                       {none, 0.5, 1, 1.5, 2.5, 4, 6, 8}}};
  const double h = half[*row][step_of(to, nominal)];
  if (h < 0)
    return Error{std::string("class ") + grade + " of ISO 2768-1 has no figure for this size",
                 significant(nominal, 4) + " mm", "Choose another class, or give the limits themselves."};
  return Deviations{-h, h};
}

Result<Deviations> iso2768_radius(double nominal, char grade) {
  const auto row = grade_row(grade);
  if (!row) return row.error();
  if (auto ok = in_range(nominal, 0.5 - 1e-12, 4000, "ISO 2768-1"); !ok) return ok.error();
  constexpr std::array<double, 3> fine{0.2, 0.5, 1}, coarse{0.4, 1, 2};
  const size_t i = nominal <= 3 ? 0 : nominal <= 6 ? 1 : 2;
  const double h = *row < 2 ? fine[i] : coarse[i];
  return Deviations{-h, h};
}

Result<double> iso2768_angle_deg(double leg, char grade) {
  const auto row = grade_row(grade);
  if (!row) return row.error();
  if (!(leg > 0)) return Error{"the shorter leg has no length", significant(leg, 3) + " mm", ""};
  constexpr std::array<double, 5> to{10, 50, 120, 400, 1e300};
  // Minutes of arc; f and m share a row.
  constexpr std::array<std::array<double, 5>, 3> minutes{
      {{60, 30, 20, 10, 5}, {90, 60, 30, 15, 10}, {180, 120, 60, 30, 20}}};
  return minutes[*row < 2 ? 0 : *row - 1][step_of(to, leg)] / 60;
}

}  // namespace palinform
