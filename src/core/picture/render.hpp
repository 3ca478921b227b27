#pragma once
/// Pictures by rays (design.md, "Pictures are cast, not rasterised"): the same core rays that judge a part draw it.
/// A picture is built up pass by pass: the first is complete and pickable, each further pass adds a sub-pixel sample
/// and an ambient-occlusion sample a pixel. The same scene, camera and number of passes give the same bytes, whatever
/// the number of threads.
#include <cstdint>
#include <vector>

#include "base/progress.hpp"
#include "picture/scene.hpp"

namespace palinform {

struct Picture {
  int width_px = 0, height_px = 0;
  std::vector<uint32_t> argb;      ///< 0xffRRGGBB, row by row from the top
  std::vector<float> depth_mm;     ///< as Camera::Projected::depth_mm; +infinity where nothing is seen
  std::vector<int16_t> body;       ///< index into Scene::bodies, −1 for nothing
  std::vector<uint32_t> triangle;  ///< of that body; `cut_face` where the section plane's fill is seen
  static constexpr uint32_t cut_face = 0xFFFFFFFFu;
};

class PictureWork {
 public:
  PictureWork(Scene scene, Camera camera);
  /// One more pass over all pixels; false when cancelled part-way (the passes before it stay usable).
  /// Without occlusion the first pass is about twice as fast, for pictures in motion.
  bool add_pass(const Progress& progress, bool occlusion = true);
  int passes() const { return passes_; }
  /// The picture so far. Occlusion is smoothed over neighbours on the same surface.
  Picture resolve() const;
  const Scene& scene() const { return scene_; }
  const Camera& camera() const { return camera_; }

 private:
  struct Pixel {
    float lit[3] = {0, 0, 0}, shade[3] = {0, 0, 0};  // sums: what key light gives; what the sky gives when unhindered
    float open = 0;                                  // sum of sky seen, 0…1 a sample
    float depth = 0;
    uint32_t normal = 0, triangle = 0;
    int16_t body = -1;
    uint16_t surface_samples = 0;
  };
  /// Where a body can be met at all: its box in the picture (pixels, one more each side) and a ball round it.
  struct Bounds {
    double left = 0, right = 0, top = 0, bottom = 0;
    Vec3 centre_mm;
    double radius_mm = 0;
  };
  void trace_block(int x0, int y0, bool occlusion);
  Scene scene_;
  Camera camera_;
  std::vector<Bounds> bounds_;  ///< one a body
  double radius_mm_ = 1;
  std::vector<Pixel> pixels_;
  int passes_ = 0, occlusion_passes_ = 0;
};

/// Whole picture at once.
Picture render(const Scene& scene, const Camera& camera, int passes, const Progress& progress = Progress::none());

}  // namespace palinform
