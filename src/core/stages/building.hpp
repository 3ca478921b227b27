#pragma once
/// What is printed and cut for a mould: solids and drawings, made once for the command line and the window.
#include <string>
#include <vector>

#include "mould/forms.hpp"
#include "mould/halves.hpp"
#include "mould/jacket.hpp"
#include "mould/panels.hpp"
#include "mould/parting_board.hpp"
#include "stages/flowing.hpp"
#include "stages/parting.hpp"
#include "stages/wall.hpp"

namespace palinform {

/// The job's shop figures as the board takes them.
BoardOptions board_options(const BuildSetup& b);

/// The jacket's rules with the thicknesses of skin and shell that the forms have.
JacketRules jacket_rules(const MouldRules& rules, double skin_mm = 0);

struct BuildOrder {
  Form form = Form::two_part;
  double voxel_mm = 0.3;
  BoardOptions board;
  double frame_wall_mm = 3;
  double kerf_mm = 0.2;
  HalvesParts parts = {};  ///< pins and slides, gate and vents, further pieces, sockets of what is cast in
  MouldRules rules = {};
  std::vector<OnBar> on_bar;     ///< of a strip, besides the part in hand
  int strip_many = 1;            ///< of that one
  int masters = 1;               ///< in one box; of a mould in halves the mesh is all of them
  double skin_mm = 0;            ///< of a skin: all its coats; 0: as the rules have it
  std::string brushed;           ///< of two halves: "a", "b", the one brushed on …
  std::vector<double> outer_mm;  ///< … in coats of these outer offsets
  double cut_pass_mm = 9;        ///< depth of the knife's pass
  double cover_over_mm = 0;      ///< of an open face's plate beyond the part; 0: none
  std::optional<Vec3> strip_up;
  std::optional<Vec3> flat_normal;  ///< outward, of the hidden flat face
};

/// What the job has built: its form, fineness, board, and of each that is there its parts (any may be null).
BuildOrder build_order(const Job& job, const Shop& shop, const FormsResult& forms, const PinsResult* pins,
                       const ChannelsResult* channels, const PiecesResult* pieces, const InsertsResult* inserts);

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
  double channels_mm3 = 0;        ///< gates and vents cut into halves, as far as they lie in the box
  std::vector<Finding> findings;  ///< a solid that is not sound, a board that comes too near
};

/// Halves and further pieces with their channels, parting board in tiles and printed frame for a form in halves, of a
/// half that is brushed its rubber and its backing; rubber
/// in one piece; skin and jacket shells; strip with its bar; cup and core; slides as solids. Panels, stepped rim and
/// pins as drawings.
Result<Build> build_files(const TriMesh& mesh, const RayScene& rays, const Split& split, const MouldOptions& mould,
                          const KeyPlan& keys, const std::vector<Bore>& bores, const BoxPlan& box,
                          const BuildOrder& order, const std::string& job_name,
                          const Progress& progress = Progress::none());

}  // namespace palinform
