#pragma once
/// What is printed and cut for a mould: solids and drawings, made once for the command line and the window.
#include <string>
#include <vector>

#include "job/parting_job.hpp"
#include "mould/forms.hpp"
#include "mould/halves.hpp"
#include "mould/panels.hpp"
#include "mould/parting_board.hpp"

namespace palinform {

struct BuildOrder {
  Form form = Form::two_part;
  double voxel_mm = 0.3;
  BoardOptions board;
  double frame_wall_mm = 3;
  double kerf_mm = 0.2;
  bool halves = true, board_too = true;
};

struct BuiltMesh {
  std::string name;  ///< file name without its ending
  TriMesh mesh;      ///< as it is to be printed or looked at
  double volume_mm3 = 0, print_h = 0;
};
struct BuiltDrawing {
  std::string name;
  Drawing drawing;
};
struct Build {
  std::vector<BuiltMesh> meshes;
  std::vector<BuiltDrawing> drawings;
  double unaccounted_mm3 = 0;  ///< of the halves
  double board_clearance_mm = 0;
  std::vector<Finding> findings;  ///< a solid that is not sound, a board that comes too near
};

/// Halves, parting board in tiles and printed frame for a form in two halves; cup and core for that form; panels,
/// stepped rim and pins as drawings.
Result<Build> build_files(const TriMesh& mesh, const Split& split, const MouldOptions& mould, const KeyPlan& keys,
                          const std::vector<PinPlan>& pins, const std::vector<Bore>& bores, const BoxPlan& box,
                          const BuildOrder& order, const std::string& job_name, Progress& progress = Progress::none());

}  // namespace palinform
