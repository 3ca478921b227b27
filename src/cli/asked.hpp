#pragma once
// One question about one mesh: a job made of the options, planned by the same nodes that the window runs.
#include <map>

#include "base/finding.hpp"
#include "commands.hpp"
#include "nodes/nodes.hpp"

namespace palinform::cli {

/// Materials named by what the options say of them; the job uses them until it names others.
inline constexpr const char* given = "given";

class Asked {
 public:
  /// Reads a mesh and refuses one that is not closed. Job and shop stand as started: rubber and resin `given`.
  static Result<std::unique_ptr<Asked>> about(const std::string& file, const std::string& unit,
                                              const Progress& progress);
  /// A further part of the job beside it, by its own mesh.
  Status add_part(const std::string& file, const std::string& unit, const Progress& progress);
  /// Something that is cast in, by its own closed mesh in the part's frame.
  Status add_insert(const std::string& file, const std::string& unit, double density_g_cm3, const Progress& progress);
  Job job;
  Shop shop;
  Study study;
  Silicone& rubber() { return shop.shelf.silicones.back(); }
  Resin& resin() { return shop.shelf.resins.back(); }

  /// Works the named results out for `job` as it stands; what was worked out before is not done again. The first of
  /// them that failed is the Error.
  Status plan(const std::vector<std::string_view>& wanted, const Progress& progress);
  /// One of them.
  template <class T>
  const T& operator[](const Slot<T>& slot) const {
    return *planner_->newest(slot);
  }
  template <class T>
  std::shared_ptr<const T> maybe(const Slot<T>& slot) const {
    return planner_->fresh(slot);
  }
  const OriginalResult& mesh() const { return *original_; }
  /// The nearest place on the part's skin.
  Vec3 on_skin(const Vec3& p) const { return original_->rays->closest(p).point_mm; }

 private:
  Asked();
  std::shared_ptr<ResultStore> store_;
  std::shared_ptr<const TriMesh> mesh_;
  std::map<std::string, std::shared_ptr<const TriMesh>> beside_;
  std::shared_ptr<const OriginalResult> original_;
  std::unique_ptr<Planner> planner_;
};

/// What is cast in, as it lies there; refused where one cannot, or blocks the gate. After "inserts" and
/// "insert-advice" were planned.
Result<Json> inserts_json(const Asked& asked);

/// --slide AT or AT:DRAW, each x,y,z: a hard slide forms the pocket there. Along which way it is drawn, where none is
/// said, and the halves' pull are found out, so the split is worked out first.
void add_slide_option(CLI::App& command, std::vector<std::string>& said);
Status slide_pockets(Asked& asked, const std::vector<std::string>& said, const Progress& progress);
Json pockets_json(const Asked& asked);

void add_opening_option(CLI::App& command, std::vector<std::string>& said);
/// What is said of openings: "2=fill", "1=meet:0.5", "3=plate:2", "1=plug:1,4", "1=slide:2", "1=slit"; counted as
/// `palin split` lists them. Refused where there is no such opening.
Status settle_openings(Asked& asked, const std::vector<std::string>& said, const Progress& progress);
Json openings_json(const Openings& all, const std::vector<OpeningChoice>& choices, const Vec3& pull);

/// The results that lead to the split, and on to the mould.
std::vector<std::string_view> with_split(std::vector<std::string_view> more);

Json findings_json(const std::vector<Finding>& findings);

/// "x,y,z" as a unit vector; refused where it has no direction.
Result<Vec3> parse_direction(const std::string& text, const std::string& option);

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
