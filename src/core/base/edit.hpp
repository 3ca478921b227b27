#pragma once
/// Edits as values: what a remedy does to a job, as plain figures. job/apply.hpp carries them out; window and command
/// line apply the same ones. Lengths in mm of the part's own frame; materials and sizes by id.
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <variant>
#include <vector>

#include "base/vec.hpp"

namespace palinform::edits {

// ---- sizes ----
struct PinSize {
  static constexpr std::string_view code = "pin";
  std::string size;
  double mm = 0;  ///< the hard pin that forms it
  bool operator==(const PinSize&) const = default;
};
struct FinishSize {
  static constexpr std::string_view code = "finish";
  std::string size, by;  ///< name_of(Finishing)
  bool operator==(const FinishSize&) const = default;
};
struct CorrectReading {
  static constexpr std::string_view code = "reading";
  std::string size;
  size_t index = 0;
  std::optional<double> mm = {};  ///< none: take the reading out
  bool operator==(const CorrectReading&) const = default;
};
struct SetNominal {
  static constexpr std::string_view code = "nominal";
  std::string size;
  double mm = 0;
  bool operator==(const SetNominal&) const = default;
};
struct ConfirmLimits {
  static constexpr std::string_view code = "confirm-limits";
  std::string size;
  bool operator==(const ConfirmLimits&) const = default;
};
// ---- master and materials ----
struct MasterSurface {
  static constexpr std::string_view code = "master-material";
  std::string id;
  bool operator==(const MasterSurface&) const = default;
};
struct FinishLater {
  static constexpr std::string_view code = "later";
  std::string as;  ///< name_of(Later)
  bool operator==(const FinishLater&) const = default;
};
struct SetContact {  ///< "clay", "gloves", "stick", "sealed", "barrier", "released", "cured-h"
  static constexpr std::string_view code = "contact";
  std::string what, value;
  bool operator==(const SetContact&) const = default;
};
struct TakeSilicone {
  static constexpr std::string_view code = "silicone";
  std::string id;
  bool operator==(const TakeSilicone&) const = default;
};
struct TakeResin {
  static constexpr std::string_view code = "resin";
  std::string id;
  bool operator==(const TakeResin&) const = default;
};
struct ScaleMaster {
  static constexpr std::string_view code = "scale";
  double scale = 1;
  bool operator==(const ScaleMaster&) const = default;
};
struct ScalePerAxis {
  static constexpr std::string_view code = "per-axis";
  bool operator==(const ScalePerAxis&) const = default;
};
struct UseLearned {
  static constexpr std::string_view code = "learned";
  std::string silicone, resin;
  double delta_pct = 0, u_pct = 0;
  std::string from;
  bool operator==(const UseLearned&) const = default;
};
/// Needs the triangles, so the window and `palin mesh --repair` do it, not a change of the job.
struct MendMesh {
  static constexpr std::string_view code = "repair";
  bool operator==(const MendMesh&) const = default;
};
/// Rubber, resin, cup and scale that stood in as the shop's usual are right.
struct ConfirmMaterials {
  static constexpr std::string_view code = "confirm-materials";
  bool operator==(const ConfirmMaterials&) const = default;
};
// ---- split ----
struct SetPull {
  static constexpr std::string_view code = "pull";
  Vec3 pull;
  bool operator==(const SetPull&) const = default;
};
struct PinBore {
  static constexpr std::string_view code = "bore-pin";
  Vec3 wall_mm;
  double diameter_mm = 0;
  bool operator==(const PinBore&) const = default;
};
struct TapeBore {
  static constexpr std::string_view code = "bore-tape";
  Vec3 wall_mm;
  bool operator==(const TapeBore&) const = default;
};
struct PlugBore {
  static constexpr std::string_view code = "bore-plug";
  Vec3 wall_mm;
  double diameter_mm = 0;
  bool operator==(const PlugBore&) const = default;
};
/// Deals with an opening so; what was said of it before goes. A size that a slide forms takes its middle.
struct SettleOpening {
  static constexpr std::string_view code = "opening";
  std::string kind;  ///< name_of(OpeningChoice::Kind)
  Vec3 at_mm;        ///< its narrowest place
  int mouth = 1;
  double share = 0.5, dimple_mm = 0;
  std::optional<double> round_mm = {};  ///< across, where it is round
  bool two = false;                     ///< slides out of both mouths
  bool operator==(const SettleOpening&) const = default;
};
/// A hard slide forms the pocket at that place, drawn so; or, not `on`, none does any more.
struct SlidePocket {
  static constexpr std::string_view code = "pocket-slide";
  Vec3 at_mm;
  Vec3 draw{1, 0, 0}, pull{0, 0, 1};  ///< see PocketSlide
  bool on = true;
  bool operator==(const SlidePocket&) const = default;
};
/// Holds an insert of the job so; index among them.
struct HoldInsert {
  static constexpr std::string_view code = "insert-hold";
  size_t index = 0;
  std::string by;  ///< name_of(Insert::Hold)
  bool operator==(const HoldInsert&) const = default;
};
struct MoveInsert {
  static constexpr std::string_view code = "insert-move";
  size_t index = 0;
  Vec3 by_mm;
  bool operator==(const MoveInsert&) const = default;
};
struct DropInsert {
  static constexpr std::string_view code = "insert-drop";
  size_t index = 0;
  bool operator==(const DropInsert&) const = default;
};
/// A thread of the job comes into the casting so; index among them. Pins, plugs and bushes follow.
struct MakeThread {
  static constexpr std::string_view code = "thread";
  size_t index = 0;
  std::string how;  ///< name_of(ThreadChoice::How); empty: no thread any more
  double bush_wall_mm = 1.2, engage_share = 1.5;
  bool operator==(const MakeThread&) const = default;
};
/// The parting line is to run through these places: over each of them the skin goes to side a, under it to side b.
struct LineThrough {
  static constexpr std::string_view code = "line-through";
  std::vector<Vec3> at_mm;
  Vec3 pull{0, 0, 1};
  double radius_mm = 2;  ///< of the marks, and how far they lie from the place
  bool operator==(const LineThrough&) const = default;
};
struct AddPiece {
  static constexpr std::string_view code = "third-piece";
  Vec3 pull;
  bool operator==(const AddPiece&) const = default;
};
struct AddPieces {
  static constexpr std::string_view code = "more-pieces";
  std::vector<Vec3> pulls;
  bool operator==(const AddPieces&) const = default;
};
struct DropPiece {
  static constexpr std::string_view code = "drop-piece";
  size_t index = 0;
  bool operator==(const DropPiece&) const = default;
};
struct TapeUndercut {
  static constexpr std::string_view code = "tape";
  Vec3 at_mm;
  double radius_mm = 0;
  bool operator==(const TapeUndercut&) const = default;
};
// ---- mould ----
struct PlaceKeys {
  static constexpr std::string_view code = "keys";
  std::string kind;  ///< name_of(KeyKind)
  bool operator==(const PlaceKeys&) const = default;
};
struct TakeForm {
  static constexpr std::string_view code = "form";
  std::string form;  ///< name_of(Form)
  bool operator==(const TakeForm&) const = default;
};
struct SetWall {
  static constexpr std::string_view code = "wall";
  double mm = 0;
  bool operator==(const SetWall&) const = default;
};
struct TakeBox {
  static constexpr std::string_view code = "own-box";
  std::string name;  ///< empty: made to measure
  std::optional<Vec3> inside_mm = {};
  bool dammed = false;
  bool operator==(const TakeBox&) const = default;
};
struct PutDams {  ///< blocks in the box's empty corners
  static constexpr std::string_view code = "dams";
  bool on = true;
  bool operator==(const PutDams&) const = default;
};
struct MastersTogether {  ///< of the part in hand, in one box
  static constexpr std::string_view code = "masters";
  int masters = 1;
  bool operator==(const MastersTogether&) const = default;
};
struct PourInStages {
  static constexpr std::string_view code = "stages";
  bool of_a = true;  ///< else of pour b
  bool on = true;
  bool operator==(const PourInStages&) const = default;
};
struct BrushHalf {  ///< of a two-part block: "a", "b"; "none": both are poured
  static constexpr std::string_view code = "brushed";
  std::string half;
  bool operator==(const BrushHalf&) const = default;
};
struct TakePart {  ///< another part of the job in hand; index among the others
  static constexpr std::string_view code = "part";
  size_t index = 0;
  bool operator==(const TakePart&) const = default;
};
// ---- flow ----
struct AddVent {
  static constexpr std::string_view code = "vent";
  Vec3 at_mm;
  bool operator==(const AddVent&) const = default;
};
struct SetGate {
  static constexpr std::string_view code = "gate";
  Vec3 at_mm;
  bool operator==(const SetGate&) const = default;
};
struct StandSo {
  static constexpr std::string_view code = "air-plan";
  bool turned_over = false;
  double tilt_deg = 0, azimuth_deg = 0;
  std::optional<Vec3> gate_mm = {};
  std::vector<Vec3> vents_mm = {};
  bool operator==(const StandSo&) const = default;
};
struct SetSprue {
  static constexpr std::string_view code = "sprue";
  double mm = 0;
  bool operator==(const SetSprue&) const = default;
};
struct SetHead {
  static constexpr std::string_view code = "head";
  double mm = 0;
  bool operator==(const SetHead&) const = default;
};
struct SetVentSize {
  static constexpr std::string_view code = "vent-size";
  double mm = 0;
  bool operator==(const SetVentSize&) const = default;
};
struct SetPressure {  ///< of what helps it fill: the pot's, gauge; or the chamber's, absolute
  static constexpr std::string_view code = "fill-pressure";
  double kpa = 0;
  bool operator==(const SetPressure&) const = default;
};
struct HelpFill {
  static constexpr std::string_view code = "aid";
  std::string aid;  ///< name_of(FillAid)
  bool operator==(const HelpFill&) const = default;
};
struct HeapHere {  ///< the resin of a squeeze mould, part's frame
  static constexpr std::string_view code = "heap";
  Vec3 at_mm;
  bool operator==(const HeapHere&) const = default;
};
struct PourOver {  ///< a squeeze mould, by so many per cent of the part
  static constexpr std::string_view code = "pour-over";
  double pct = 0;
  bool operator==(const PourOver&) const = default;
};
struct BrushDetails {  ///< of a squeeze mould's halves
  static constexpr std::string_view code = "brush-details";
  bool on = true;
  bool operator==(const BrushDetails&) const = default;
};
struct TurnOver {  ///< the other half below
  static constexpr std::string_view code = "turn-over";
  bool turned_over = true;
  bool operator==(const TurnOver&) const = default;
};
// ---- mix ----
struct TakeFigures {  ///< of a material, as the shelf has them now
  static constexpr std::string_view code = "figures";
  std::string material;
  bool operator==(const TakeFigures&) const = default;
};
struct MakeMoulds {
  static constexpr std::string_view code = "moulds";
  int count = 1;              ///< at once
  bool from_casting = false;  ///< those after the first from the first casting, not from the master
  bool operator==(const MakeMoulds&) const = default;
};
struct OpenOn {
  static constexpr std::string_view code = "open-on";
  int weekday = 5;  ///< 0 Monday … 6 Sunday: the bench is open then too
  bool operator==(const OpenOn&) const = default;
};
struct PromiseFor {
  static constexpr std::string_view code = "promise";
  std::string day;  ///< ISO date; empty: nothing is promised
  bool operator==(const PromiseFor&) const = default;
};
struct SetScaleDivision {
  static constexpr std::string_view code = "scale-division";
  double g = 0;
  bool operator==(const SetScaleDivision&) const = default;
};
struct SetWaste {
  static constexpr std::string_view code = "waste";
  double pct = 0;
  bool operator==(const SetWaste&) const = default;
};
struct TakeCup {
  static constexpr std::string_view code = "cup";
  double ml = 0;
  bool operator==(const TakeCup&) const = default;
};
struct ClearAir {
  static constexpr std::string_view code = "clear-air";
  bool resin = false;  ///< of the casting material; else of the rubber
  std::string by;      ///< name_of(AirBy)
  bool operator==(const ClearAir&) const = default;
};
struct WarmRoom {  ///< where it cures is held at that
  static constexpr std::string_view code = "room";
  double c = 21;
  bool operator==(const WarmRoom&) const = default;
};
struct CureLonger {  ///< castings stay in the mould so long before they come out; step: whose wait it is
  static constexpr std::string_view code = "cure-longer";
  std::string step;
  double minutes = 0;
  bool operator==(const CureLonger&) const = default;
};
struct AddHands {
  static constexpr std::string_view code = "hands";
  int people = 2;
  bool operator==(const AddHands&) const = default;
};

}  // namespace palinform::edits

namespace palinform {

using EditVariant =
    std::variant<edits::PinSize, edits::FinishSize, edits::CorrectReading, edits::SetNominal, edits::ConfirmLimits,
                 edits::MasterSurface, edits::FinishLater, edits::SetContact, edits::TakeSilicone, edits::TakeResin,
                 edits::ScaleMaster, edits::ScalePerAxis, edits::UseLearned, edits::MendMesh, edits::ConfirmMaterials,
                 edits::SetPull, edits::PinBore, edits::TapeBore, edits::PlugBore, edits::AddPiece, edits::AddPieces,
                 edits::SettleOpening, edits::SlidePocket, edits::DropPiece, edits::TapeUndercut, edits::PlaceKeys,
                 edits::TakeForm, edits::SetWall, edits::TakeBox, edits::PutDams, edits::MastersTogether,
                 edits::PourInStages, edits::BrushHalf, edits::TakePart, edits::AddVent, edits::SetGate, edits::StandSo,
                 edits::SetSprue, edits::SetHead, edits::SetVentSize, edits::SetPressure, edits::HelpFill,
                 edits::HeapHere, edits::PourOver, edits::BrushDetails, edits::TurnOver, edits::HoldInsert,
                 edits::MoveInsert, edits::DropInsert, edits::LineThrough, edits::MakeThread, edits::WarmRoom,
                 edits::CureLonger, edits::MakeMoulds, edits::OpenOn, edits::PromiseFor, edits::SetScaleDivision,
                 edits::SetWaste, edits::TakeFigures, edits::TakeCup, edits::ClearAir, edits::AddHands>;

template <class T, class Variant>
inline constexpr bool one_of = false;
template <class T, class... Kinds>
inline constexpr bool one_of<T, std::variant<Kinds...>> = (std::is_same_v<T, Kinds> || ...);

/// Any one of them; looked into as a variant is. Copies and comparisons stand in edit.cpp: with sixty kinds, every file
/// that holds a finding would else take seconds to compile for them.
class Edit : public EditVariant {
 public:
  Edit();
  template <class T>
  requires one_of<T, EditVariant> Edit(const T& edit) : Edit() { put(edit); }
  Edit(const Edit&);
  Edit(Edit&&) noexcept;
  Edit& operator=(const Edit&);
  Edit& operator=(Edit&&) noexcept;
  ~Edit();
  bool operator==(const Edit& other) const;

 private:
  template <class T>
  void put(const T& edit);
  template <class Variant>
  friend struct EveryKind;
};

/// The edit's stable name: "wall".
std::string_view code_of(const Edit& edit);

}  // namespace palinform
