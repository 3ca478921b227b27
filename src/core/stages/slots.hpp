#pragma once
/// Every result of a job by name: what the Planner keeps, in working order. `core/nodes` says how each is made.
#include "graph/slot.hpp"
#include "stages/results.hpp"
#include "stages/sizing.hpp"
#include "stages/stage.hpp"

namespace palinform::results {

inline constexpr Slot<OriginalResult> original{"original", Stage::original};
inline constexpr Slot<SoundnessResult> soundness{"soundness", Stage::original};
inline constexpr Slot<QuestionsResult> questions{"questions", Stage::original};
inline constexpr Slot<MeetingsResult> meetings{"meetings", Stage::original};
inline constexpr Slot<OriginalResult> prepared{"prepared", Stage::original};  ///< the original, its steps carried out
inline constexpr Slot<OpeningsResult> openings{"openings", Stage::split};     ///< of that
inline constexpr Slot<OriginalResult> master{"master", Stage::original};  ///< … with the openings closed that are to be
inline constexpr Slot<InsertsResult> inserts{"inserts", Stage::split};    ///< cast in, and the cavity they leave
inline constexpr Slot<PrintResult> print{"print", Stage::original};
inline constexpr Slot<FacesResult> faces{"faces", Stage::original};

inline constexpr Slot<SectionsResult> sections{"sections", Stage::size};
inline constexpr Slot<SizeResult> size{"size", Stage::size};
inline constexpr Slot<DrawsResult> draws{"draws", Stage::size};
inline constexpr Slot<ChooseResult> choose{"choose", Stage::size};
inline constexpr Slot<LearnResult> learn{"learn", Stage::size};

inline constexpr Slot<BoresResult> bores{"bores", Stage::split};
inline constexpr Slot<FaceWishes> wishes{"wishes", Stage::split};
inline constexpr Slot<PullSearch> search{"search", Stage::split};
inline constexpr Slot<Releases> releases{"releases", Stage::split};
inline constexpr Slot<SplitResult> split{"split", Stage::split};
inline constexpr Slot<WitnessResult> witness{"witness", Stage::split};
inline constexpr Slot<ThinResult> thin{"thin", Stage::split};
inline constexpr Slot<PiecesResult> pieces{"pieces", Stage::split};
inline constexpr Slot<PinsResult> pins{"pins", Stage::split};
inline constexpr Slot<UndercutsResult> undercuts{"undercuts", Stage::split};
inline constexpr Slot<AdviceResult> undercut_advice{"undercut-advice", Stage::split};
inline constexpr Slot<AdviceResult> opening_advice{"opening-advice", Stage::split};
inline constexpr Slot<AdviceResult> insert_advice{"insert-advice", Stage::split};
inline constexpr Slot<WayFacts> facts{"facts", Stage::split};
inline constexpr Slot<BedsResult> beds{"beds", Stage::split};

inline constexpr Slot<OtherPartsResult> other_parts{"other-parts", Stage::mould};
inline constexpr Slot<MouldResult> mould{"mould", Stage::mould};
inline constexpr Slot<Growth> growth{"growth", Stage::mould};  ///< from here to the forms: what they are counted on
inline constexpr Slot<JacketField> jacket_field{"jacket-field", Stage::mould};
inline constexpr Slot<JacketAmounts> jacket{"jacket", Stage::mould};
inline constexpr Slot<SkinPlaces> skin_places{"skin-places", Stage::mould};
inline constexpr Slot<SkinSamples> skin_samples{"skin-samples", Stage::mould};
inline constexpr Slot<CoatSidesResult> coat_sides{"coat-sides", Stage::mould};
inline constexpr Slot<CupAmount> cup{"cup", Stage::mould};
inline constexpr Slot<WholePours> whole_pours{"whole-pours", Stage::mould};
inline constexpr Slot<HangingResult> hanging{"hanging", Stage::mould};
inline constexpr Slot<PartDistances> part_distances{"part-distances", Stage::mould};  ///< while something is dragged
inline constexpr Slot<BrushedResult> brushed{"brushed", Stage::mould};
inline constexpr Slot<FormsResult> forms{"forms", Stage::mould};
inline constexpr Slot<WaysResult> ways{"ways", Stage::split};  ///< judged whole: form, bed and line
inline constexpr Slot<KeysResult> keys{"keys", Stage::mould};
inline constexpr Slot<BoardResult> board{"board", Stage::mould};
inline constexpr Slot<AdviceResult> draws_past{"draws-past", Stage::mould};  ///< pins of masters that share a box

inline constexpr Slot<VesselsResult> vessels{"vessels", Stage::mould};

inline constexpr Slot<CavityResult> cavity{"cavity", Stage::flow};
inline constexpr Slot<FillNetwork> network{"network", Stage::flow};
inline constexpr Slot<ClosingResult> closing{"closing", Stage::flow};
inline constexpr Slot<OtherClosingsResult> other_closings{"other-closings", Stage::flow};
inline constexpr Slot<FlowResult> flow{"flow", Stage::flow};
inline constexpr Slot<ChannelsResult> channels{"channels", Stage::flow};
inline constexpr Slot<FlowPlanResult> air_plan{"air-plan", Stage::flow};
inline constexpr Slot<FlowPlanResult> air_advice{"air-advice", Stage::flow};  ///< the plan against how the job stands
inline constexpr Slot<FillingResult> filling{"filling", Stage::flow};
inline constexpr Slot<AdviceResult> other_air{"other-air", Stage::flow};
inline constexpr Slot<RubberAirResult> rubber_air{"rubber-air", Stage::flow};
inline constexpr Slot<SolidsResult> solids{"solids", Stage::flow};
inline constexpr Slot<AssemblyResult> assembly{"assembly", Stage::split};  ///< of more than two halves

inline constexpr Slot<MixResult> mix{"mix", Stage::mix};
inline constexpr Slot<StockResult> stock{"stock", Stage::mix};
inline constexpr Slot<ProcedureResult> procedure{"procedure", Stage::days};
inline constexpr Slot<DaysResult> days{"days", Stage::days};
inline constexpr Slot<WhysResult> whys{"whys", Stage::check};  ///< causes of the faults that were seen
/// Scans of the last castings that have one, the newest first: laid on the original, then judged.
inline constexpr size_t most_scans = 4;
inline constexpr std::array<Slot<LaidScanResult>, most_scans> laid_scans{
    Slot<LaidScanResult>{"laid-scan", Stage::check}, Slot<LaidScanResult>{"laid-scan-2", Stage::check},
    Slot<LaidScanResult>{"laid-scan-3", Stage::check}, Slot<LaidScanResult>{"laid-scan-4", Stage::check}};
inline constexpr std::array<Slot<ScanResult>, most_scans> scans{
    Slot<ScanResult>{"scan", Stage::check}, Slot<ScanResult>{"scan-2", Stage::check},
    Slot<ScanResult>{"scan-3", Stage::check}, Slot<ScanResult>{"scan-4", Stage::check}};
inline constexpr Slot<CheckResult> check{"check", Stage::check};

}  // namespace palinform::results
