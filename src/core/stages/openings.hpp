#pragma once
/// What a job says of its part's openings, carried out: closed on the master, slides in them, where rubber meets.
#include "base/drawing.hpp"
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// Does the pull see through it? Else it lies across, and rubber in it has to bend out.
bool along_pull(const Opening& opening, const Vec3& pull);

/// The job's choice for an opening; null where it has made none.
const OpeningChoice* choice_for(const Openings& all, size_t opening, const std::vector<OpeningChoice>& choices);

/// Openings of the prepared master; a mesh that cannot be looked at says why.
Result<OpeningsResult> openings_of(const OriginalResult& prepared, const Progress& progress = Progress::none());

/// The prepared master with the openings closed that the job closes. What cannot be closed stays open and is told in
/// `unfilled`.
Result<std::shared_ptr<const OriginalResult>> with_closed(std::shared_ptr<const OriginalResult> prepared,
                                                          const OpeningsResult& openings,
                                                          const std::vector<OpeningChoice>& choices,
                                                          const Progress& progress = Progress::none());

/// The faces of an opening's wall, on a mesh where it is open.
std::vector<uint32_t> wall_of_opening(const OriginalResult& master, const Opening& opening);

/// Where rubber meets in an opening and no line of the halves runs there: the gap in the rubber that the film leaves,
/// as thick as the film or `least_mm`. `halved`: the form has a line; then openings along the pull are left to it.
std::vector<Socket> film_gaps(const OriginalResult& master, const Openings& all,
                              const std::vector<OpeningChoice>& choices, const Vec3& pull, bool halved,
                              double least_mm);

/// … of a solid on that voxel, beside the sockets there are. `openings` may be null.
void add_film_gaps(std::vector<Socket>& sockets, const OriginalResult& master, const OpeningsResult* openings,
                   const std::vector<OpeningChoice>& choices, const Vec3& pull, bool halved, double voxel_mm);

/// The rubber that stands in an opening: from where it meets, or from mouth to mouth.
double peg_mm(const Opening& opening, const OpeningChoice* choice);

/// Of films that are left across openings, mm³.
double films_mm3(const Openings& all, const std::vector<OpeningChoice>& choices);

/// Slides for the openings that the job gives one, in the order of the openings. Where an opening is as wide all along,
/// a bar of its outline, a round one as the size asks that it forms; where it is stepped or tapered, or two are to meet
/// in it, solids that follow its own wall.
std::vector<PinPlan> slides_of(const OriginalResult& master, const Openings& all,
                               const std::vector<OpeningChoice>& choices, const std::vector<MeasuredSize>& pin_sizes,
                               double wall_mm, const PinRules& rules);
/// Is the opening as wide all along, to 2 % of its volume?
bool is_prism(const Opening& opening);

/// The walls that slides form are no concern of the halves.
void ignore_slid_walls(FaceWishes& wishes, const OriginalResult& master, const Openings& all,
                       const std::vector<OpeningChoice>& choices);

/// Pegs in openings where rubber meets are shorter.
void settle_pegs(std::vector<ThinRubber>& thin, const Openings& all, const std::vector<OpeningChoice>& choices,
                 const ThinRules& rules);

/// Undercuts as the choices leave them: rubber that meets half-way has half the way to bend out; so has
/// what is slit half-way.
void settle_undercuts(std::vector<Undercut>& undercuts, const Openings& all, const std::vector<OpeningChoice>& choices,
                      const FlexRule& rule);

/// Moves the shut-offs to where rubber is to meet, in openings that the pull runs through.
void move_shut_offs(Split& split, const OriginalResult& master, const Openings& all,
                    const std::vector<OpeningChoice>& choices);

/// The cut through the rubber that stands in an opening. The rubber's section is taken as that of the opening where it
/// is narrowest, as large as it is at the cut.
struct SlitCut {
  std::vector<Vec3> outline_mm;     ///< the rubber's section there
  std::vector<Vec3> line_mm;        ///< on it, the blade's way along its longer extent; with the step two ends more
  double from_mouth_1_mm = 0;       ///< to the cut; of a stepped one, to its nearer half
  double long_mm = 0, deep_mm = 0;  ///< extents of the section: along the blade's way, and square to it
  double step_mm = 0;               ///< of its second half toward mouth 2
};
/// The step is held to what slit_step_most_mm() gives.
SlitCut slit_of(const Opening& opening, const OpeningChoice& choice);
/// Of a stepped slit: how much farther in its second half may lie, so that a lip of rubber is left at mouth 2.
double slit_step_most_mm(const Opening& opening, const OpeningChoice& choice);
/// "4.0 mm from mouth 1, 14.0 mm long and 6.0 mm deep, the second half 2.0 mm farther in, so that it closes true"
std::string words_of(const SlitCut& cut, const Shown& shown);

/// How far a plate laid over a mouth stands off the skin round it, mm: the step it leaves.
double plate_step_mm(const OriginalResult& master, const Opening& opening, int mouth);

/// The plates over mouths at true scale, each its opening's outline and `lap_mm` all round.
std::vector<Drawing> plate_drawings(const OriginalResult& master, const Openings& all,
                                    const std::vector<OpeningChoice>& choices, const std::string& job_name,
                                    double lap_mm = 6);

/// "12.0 × 8.0 mm, 3.0 mm deep", "Ø6.00 mm, 14.0 mm long"
std::string words_of(const Opening& opening, const Shown& shown);

}  // namespace palinform
