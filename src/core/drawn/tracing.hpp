#pragma once
/// An outline followed on a picture: what was clicked, and the bodies that come of it.
#include <string>
#include <vector>

#include "drawn/body.hpp"
#include "drawn/edge_snap.hpp"

namespace palinform {

/// A closed path on the picture, in pixels, and what it means.
struct TracedLoop {
  /// `raised`: a step that stands on the face; `sunk`: one that lies in it.
  enum class Means { outline, hole, raised, sunk } means = Means::outline;
  Path path;           ///< pixels
  double mm = 0;       ///< outline: thickness; raised: height over the face; sunk: depth; hole: right through
  double edge_mm = 0;  ///< rounding of the outline's edges
  bool operator==(const TracedLoop&) const = default;
  static void fields(auto& s, auto&& f) {
    f("means", s.means);
    f("path_px", s.path, AtMost{1000});
    f("mm", s.mm, Within{0, 5000});
    f("edge_mm", s.edge_mm, Within{0, 5000});
  }
};
template <>
inline constexpr std::array names<TracedLoop::Means>{"outline"sv, "hole"sv, "raised"sv, "sunk"sv};

struct Tracing {
  std::string picture;  ///< hash of the kept picture; empty: none
  std::string file;     ///< where it came from, for people
  int width_px = 0, height_px = 0;
  PhotoScale scale;
  std::vector<TracedLoop> loops;
  bool operator==(const Tracing&) const = default;
  static void fields(auto& s, auto&& f) {
    f("picture", s.picture, AtMost{40});
    f("file", s.file, AtMost{1000});
    f("width_px", s.width_px, Within{0, 30'000});
    f("height_px", s.height_px, Within{0, 30'000});
    f("scale", s.scale);
    f("loops", s.loops, AtMost{200});
  }
  /// An outline is closed and has a thickness.
  bool complete() const;
};

/// What a picture's bytes are known by.
std::string picture_hash(std::string_view bytes);

/// The bodies in millimetres, the outlines' common middle at nought, the face upward at the outline's thickness.
struct TracedBodies {
  std::vector<DrawnBody> bodies;
  double u_mm = 0;  ///< standard uncertainty of a measure across the whole: edge, scale, slant, height over the ruler
  double u_edge_mm = 0, u_scale = 0, slant_deg = 0, parallax = 1;
  bool parallax_guessed = false;
};
Result<TracedBodies> traced_bodies(const Tracing& tracing);

/// The loop with its points on the edges of the picture: straight sides by a line through many places of each, corners
/// where those lines meet, other points one by one; with a scale, arcs and circles by a circle on the part through many
/// places of each, and corners where it meets its neighbours. Points that find no edge stay as they were clicked.
/// `reach_px`: as far as a click may be off.
TracedLoop sharpened(const TracedLoop& loop, const GreyPicture& picture, double reach_px,
                     const PhotoMap* scale = nullptr);

}  // namespace palinform
