#pragma once
// What the commands on a mesh share: a closed solid with its rays, its split, findings in JSON.
#include "base/finding.hpp"
#include "commands.hpp"
#include "mesh/exact_face.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"
#include "split/pull_search.hpp"

namespace palinform::cli {

struct Solid {
  TriMesh mesh;
  EdgePairs pairs;
  std::shared_ptr<const RayScene> rays;
  std::vector<ExactFace> exact;
};

/// Reads a mesh and refuses one that is not closed.
Result<Solid> load_solid(const std::string& file, const std::string& unit, const Progress& progress);

struct Parted {
  Split split;
  std::vector<Bore> bores;
};

/// Along `pull` ("x,y,z"), or searched where it is empty.
Result<Parted> split_of(const Solid& s, const std::string& pull, const SplitMarks& marks, const Progress& progress);

Json findings_json(const std::vector<Finding>& findings);

/// Qt for fonts and paper, without a screen; one at a time.
class PaperSession {
 public:
  PaperSession();
  ~PaperSession();

 private:
  struct App;
  std::unique_ptr<App> app_;
};

}  // namespace palinform::cli
