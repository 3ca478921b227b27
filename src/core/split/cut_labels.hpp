#pragma once
/// Sides by exact minimum cut (M3): what cannot leave toward a side is dear there, the line is dear on show faces and
/// where it climbs, cheap on sharp edges, forbidden where marked.
#include <optional>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

namespace palinform {

/// What the person painted on the part.
struct SplitMarks {
  struct Spot {
    Vec3 point_mm;
    double radius_mm = 2;
    bool operator==(const Spot&) const = default;
    static void fields(auto& s, auto&& f) {
      f("point_mm", s.point_mm);
      f("radius_mm", s.radius_mm, Within{0, 1000});
    }
  };
  std::vector<Spot> keep_clear, to_a, to_b, line;  ///< line: it must pass here
  bool operator==(const SplitMarks&) const = default;
  static void fields(auto& s, auto&& f) {
    f("keep_clear", s.keep_clear, AtMost{20'000});
    f("a", s.to_a, AtMost{20'000});
    f("b", s.to_b, AtMost{20'000});
    f("line", s.line, AtMost{20'000});
  }
  bool empty() const { return keep_clear.empty() && to_a.empty() && to_b.empty() && line.empty(); }
};

/// How each face stands to the marks and to the person's faces.
struct FaceWishes {
  std::vector<uint8_t> flags;  ///< per face, of the bits below; empty: none
  static constexpr uint8_t keep_clear = 1, to_a = 2, to_b = 4, line = 8, show = 16, ignored = 32;
};

/// Spots spread over the skin: faces whose centre lies within the radius of the spot, grown from the face nearest to
/// it. Refused where the same face is given to both sides, or must bear the line and be kept clear; the places are
/// named.
Result<FaceWishes> wishes_of(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                             const SplitMarks& marks);

/// Prices, per mm of line or mm² of face. Rules of thumb.
struct CutPrices {
  double locked_per_mm2 = 10;  ///< a face that cannot leave toward its side
  double wrong_side = 1e3;     ///< a face that hangs over by more than a hair (4/1000 of the part's size) on its side
  double plain = 1, sharp = 0.2, concave = 1.6;
  double show = 4;   ///< times, on show faces
  double climb = 2;  ///< times 1 + climb·|e·d|
  double forbidden = 1e4;
  double line_here = 0.02;  ///< times, where the line must pass
  // What a whole line costs besides, in mm of plain line: hands that lay and fit it against a witness that is cleaned.
  double lay_climb = 27;                             ///< per mm that the outer line climbs
  double lay_over_45_deg = 3, lay_over_60_deg = 20;  ///< per mm of it so steep
};

/// Horizontal run of what leans under itself, up to which nobody sees it: 4/1000 of the part's diagonal.
double hair_mm(const TriMesh& mesh);

/// Sides for one pull from the shares of each face that leave toward +d (`up`) and −d (`down`). Faces that may go
/// either way at the same price go to a, so that the line drops to the lower edge.
Result<std::vector<uint8_t>> cut_sides(const TriMesh& mesh, const EdgePairs& pairs, const Vec3& pull,
                                       const std::vector<float>& up, const std::vector<float>& down,
                                       const FaceWishes& wishes = {}, const CutPrices& prices = {},
                                       const Progress& progress = Progress::none());

}  // namespace palinform
