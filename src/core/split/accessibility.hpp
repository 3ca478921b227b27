#pragma once
/// Which faces can leave the rubber toward a direction (M2).
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"

namespace palinform {

struct AccessOptions {
  double grazing = 0.01;           ///< n·d may be as low as −grazing: half a degree of wall leaning in still slides
  size_t sample_budget = 200'000;  ///< shared out by area, besides the least number a face
  int least_samples = 4;           ///< a face; 1 is used above 300k faces
};

/// Per face the share of its samples that leave toward unit `d`: n·d ≥ −grazing and the ray p + ε·n + t·d meets
/// nothing. Samples are stratified over the face and the same for the same mesh. O(samples · log faces), all cores.
Result<std::vector<float>> releasable_share(const TriMesh& mesh, const RayScene& rays, const Vec3& d,
                                            const AccessOptions& options = {},
                                            const Progress& progress = Progress::none());

}  // namespace palinform
