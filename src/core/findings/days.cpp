#include "findings/days.hpp"

#include <cmath>

#include "base/text.hpp"
#include "findings/tell.hpp"

namespace palinform {
namespace {

constexpr const char* long_days[] = {"Mondays", "Tuesdays",  "Wednesdays", "Thursdays",
                                     "Fridays", "Saturdays", "Sundays"};

std::string day_words(WallMinute t) { return short_text(t).substr(0, 3) + " " + wall_text(t).substr(0, 10); }

}  // namespace

std::vector<Finding> days_findings(const DaysResult& r) {
  std::vector<Finding> out;
  if (!r.due || r.schedule.finish <= *r.due) return out;
  const double late_h = static_cast<double>(r.schedule.finish - *r.due) / 60;
  Finding& f = tell(out, "promise", Severity::caution,
                    "Promised for " + day_words(*r.due - 1) + ", ready " + short_text(r.schedule.finish) + ", " +
                        wall_text(r.schedule.finish).substr(0, 10),
                    "");
  f.magnitude = late_h;
  f.why = "That is " +
          (late_h < 48 ? counted(std::llround(std::ceil(late_h)), "hour", "hours")
                       : counted(std::llround(late_h / 24), "day", "days")) +
          " over the promised day.";
  const bool alone_keeps = r.alone_finish && *r.alone_finish <= *r.due;
  if (alone_keeps)
    f.why += " Were the shop its own it would be ready " + short_text(*r.alone_finish) +
             ": other jobs have the hands or the machines.";
  else if (r.alone_finish)
    f.why += " It would be late even were the shop its own.";
  for (const MouldsChoice& m : r.by_moulds)
    if (m.finish <= *r.due) {
      f.remedies.push_back({"Make " + counted(m.moulds, "mould", "moulds") +
                                (m.from_casting ? ", the second from casting 1" : "") + ": ready " +
                                short_text(m.finish),
                            edits::MakeMoulds{m.moulds, m.from_casting}});
      break;
    }
  for (const int weekday : r.open_on) {
    if (f.remedies.size() >= 3) break;
    f.remedies.push_back({std::string("Work ") + long_days[weekday] + " too", edits::OpenOn{weekday}});
  }
  if (f.remedies.empty()) f.why += " Neither more moulds nor another bench day would keep it.";
  // Whoever asks for another day says which one can be kept.
  const std::string can = wall_text(r.schedule.finish).substr(0, 10);
  f.remedies.push_back({"Promise " + day_words(r.schedule.finish) + " instead", edits::PromiseFor{can}});
  return out;
}

}  // namespace palinform
