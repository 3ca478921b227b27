#include "job/job.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <ctime>
#include <random>
#include <set>

#include "base/check_fields.hpp"

namespace palinform {

Job::Job() = default;
Job::Job(const Job&) = default;
Job::Job(Job&&) noexcept = default;
Job& Job::operator=(const Job&) = default;
Job& Job::operator=(Job&&) noexcept = default;
Job::~Job() = default;
bool Job::operator==(const Job&) const = default;

bool SplitSetup::has_pins() const {
  return std::any_of(bores.begin(), bores.end(),
                     [](const BoreTreatment& b) { return b.kind == BoreTreatment::Kind::pin; }) ||
         std::any_of(openings.begin(), openings.end(),
                     [](const OpeningChoice& o) { return o.kind == OpeningChoice::Kind::slide; }) ||
         !pockets.empty();
}

std::string_view words_of(Duty d) {
  constexpr std::array<std::string_view, count_of<Duty>()> words{"carries a load",
                                                                 "steers or brakes a vehicle",
                                                                 "carries mains current",
                                                                 "holds gas or pressure",
                                                                 "touches food",
                                                                 "is in a child's reach",
                                                                 "is medical"};
  return words[static_cast<size_t>(d)];
}

MasterScale SizeSetup::master_scale() const {
  return master == MasterKind::original ? MasterScale{}
         : master == MasterKind::scaled ? MasterScale::all(scale)
                                        : axis_scale;
}

const MeasuredSize* OriginalPart::size(std::string_view wanted) const {
  for (const MeasuredSize& s : sizes)
    if (s.id == wanted) return &s;
  return nullptr;
}
PartFrom OriginalPart::from() const {
  if (!mesh.hash.empty()) return PartFrom::mesh;
  if (drawn.complete()) return PartFrom::drawn;
  return bare.complete() ? PartFrom::volume : PartFrom::nothing;
}

std::string OriginalPart::shape_key() const {
  Hasher h;
  switch (from()) {
    case PartFrom::nothing:
      return {};
    case PartFrom::mesh:
      return mesh.hash;
    case PartFrom::drawn:
      h.add(drawn);
      break;
    case PartFrom::volume:
      h.add(bare);
      break;
  }
  return h.done().hex();
}

namespace {

std::vector<const OriginalPart*> parts_of(const Job& job) {
  std::vector<const OriginalPart*> all{&job.original};
  for (const JobPart& p : job.parts) all.push_back(&p.original);
  return all;
}
std::vector<const std::vector<MasterStep>*> steps_of(const Job& job) {
  std::vector<const std::vector<MasterStep>*> all{&job.original.master_steps};
  for (const JobPart& p : job.parts) all.push_back(&p.laid.master_steps);
  return all;
}

}  // namespace

Status check_job(const Job& job) {
  if (auto ok = check_fields(job); !ok) return ok;
  const auto bad = [](std::string what, const char* where) { return Error{std::move(what), where, ""}; };
  for (const auto* steps : steps_of(job))
    for (const MasterStep& m : *steps)
      if (auto ok = check_step(m); !ok) return ok;
  // What cannot be kept must not be taken: ids that stand twice.
  std::set<std::string_view> ids;
  for (const OriginalPart* part : parts_of(job))
    for (const MeasuredSize& s : part->sizes) {
      if (auto ok = check_size(s); !ok) return ok;
      if (!ids.insert(s.id).second) return bad("two sizes have the id \"" + s.id + "\"", "original.sizes");
    }
  if (job.part_at > static_cast<int>(job.parts.size())) return bad("the part in hand has no place", "part_at");
  std::set<int> numbers;
  for (const Casting& c : job.check.castings) {
    if (!numbers.insert(c.number).second)
      return bad("two castings have the number " + std::to_string(c.number), "check.castings");
    std::set<std::string_view> read;
    for (const CastReading& r : c.readings)
      if (!read.insert(r.size_id).second)
        return bad("casting " + std::to_string(c.number) + " has the size \"" + r.size_id + "\" twice",
                   "check.castings");
  }
  for (const auto* copy : {&job.mix.rubber, &job.mix.rubber_b, &job.mix.resin})
    if (*copy)
      if (auto ok = check_material(**copy); !ok) return ok;
  if (job.mix.colour)
    if (auto ok = check_recipe(*job.mix.colour); !ok) return ok;
  for (const auto* adds : {&job.mix.rubber_adds, &job.mix.resin_adds})
    if (auto ok = check_additions(*adds); !ok) return ok;
  const double coloured = job.mix.colour ? job.mix.colour->share() : 0;
  if (coloured + share_of(job.mix.resin_adds) > 0.9)
    return bad("pigment and filler together leave hardly anything that cures", "mix.resin_adds");
  const ResinNeeds& n = job.mix.needs;
  if (n.shore_low && n.shore_high && *n.shore_low > *n.shore_high)
    return bad("the least hardness asked for lies above the most", "mix.needs");
  if (job.split.pull && length(*job.split.pull) < 1e-9) return bad("the pull has no direction", "split.pull");
  for (const Vec3& p : job.split.piece_pulls)
    if (length(p) < 1e-9) return bad("a piece's pull has no direction", "split.piece_pulls");
  for (const PocketSlide& p : job.split.pockets)
    if (length(p.draw) < 1e-9 || length(p.pull) < 1e-9) return bad("a slide's draw has no direction", "split.pockets");
  const DaysSetup& d = job.days;
  if (!d.start.empty() && !parse_wall_time(d.start)) return bad("\"" + d.start + "\" is no day and time", "days.start");
  if (!d.promised.empty() && !parse_wall_time(d.promised + "T00:00"))
    return bad("\"" + d.promised + "\" is no day", "days.promised");
  for (const std::string* day : {&job.piece.came_on, &job.piece.went_on, &job.quote.sent_on, &job.quote.taken_on})
    if (!day->empty() && !parse_wall_time(*day + "T00:00"))
      return bad("\"" + *day + "\" is no day", "a date of the job");
  if (!job.closed_on.empty() && !parse_wall_time(job.closed_on + "T00:00"))
    return bad("\"" + job.closed_on + "\" is no day", "closed_on");
  if (d.bench.from_min >= d.bench.to_min) return bad("the bench must open before it shuts", "days.bench");
  if (std::find(d.bench.days.begin(), d.bench.days.end(), true) == d.bench.days.end())
    return bad("there is no bench day in the week", "days.bench");
  return {};
}

std::string now_text() {
  const std::time_t t = std::time(nullptr);
  std::tm tm{};
  localtime_r(&t, &tm);
  char buffer[32];
  std::strftime(buffer, sizeof buffer, "%Y-%m-%dT%H:%M:%S", &tm);
  return buffer;
}

std::string new_id() {
  std::random_device r;
  const auto word = [&] { return uint64_t{r()} << 32 | r(); };
  return Hash128{word(), word()}.hex();
}

}  // namespace palinform
