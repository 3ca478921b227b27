// The calendar file: see calendar_text in schedule.hpp. Folding of long lines and escaping are libical's.
#include <libical/ical.h>

#include <chrono>
#include <memory>

#include "days/schedule.hpp"

namespace palinform {
namespace {

/// Floating: a workshop's wall clock, without a zone.
icaltimetype floating(WallMinute t) {
  const auto day =
      std::chrono::floor<std::chrono::days>(std::chrono::sys_time<std::chrono::minutes>(std::chrono::minutes(t)));
  const std::chrono::year_month_day date(day);
  const auto minute = t - std::chrono::duration_cast<std::chrono::minutes>(day.time_since_epoch()).count();
  icaltimetype out = icaltime_null_time();
  out.year = static_cast<int>(date.year());
  out.month = static_cast<int>(static_cast<unsigned>(date.month()));
  out.day = static_cast<int>(static_cast<unsigned>(date.day()));
  out.hour = static_cast<int>(minute / 60);
  out.minute = static_cast<int>(minute % 60);
  return out;
}

}  // namespace

std::string calendar_text(const std::vector<CalendarPart>& parts, std::optional<int> warn_min) {
  const std::unique_ptr<icalcomponent, void (*)(icalcomponent*)> calendar(icalcomponent_new(ICAL_VCALENDAR_COMPONENT),
                                                                          icalcomponent_free);
  icalcomponent_add_property(calendar.get(), icalproperty_new_version("2.0"));
  icalcomponent_add_property(calendar.get(), icalproperty_new_prodid("-//Palinform//Days//EN"));
  icaltimetype epoch = floating(0);
  epoch.zone = icaltimezone_get_utc_timezone();
  for (const CalendarPart& part : parts)
    for (const Placed& p : part.schedule->placed) {
      const Step& step = (*part.steps)[p.step];
      for (const auto& [from, to] : p.hands) {
        icalcomponent* event = icalcomponent_new(ICAL_VEVENT_COMPONENT);
        const std::string uid = step.id + "-" + wall_text(from) + (part.id.empty() ? "" : "-" + part.id) + "@palinform";
        const std::string name = step.name + " · " + part.title;
        icalcomponent_add_property(event, icalproperty_new_uid(uid.c_str()));
        icalcomponent_add_property(event, icalproperty_new_dtstamp(epoch));
        icalcomponent_add_property(event, icalproperty_new_dtstart(floating(from)));
        icalcomponent_add_property(event, icalproperty_new_dtend(floating(to)));
        icalcomponent_add_property(event, icalproperty_new_summary(name.c_str()));
        if (step.wait_min > 0 && to == p.hands_end)
          icalcomponent_add_property(
              event, icalproperty_new_description(("then leave it until " + short_text(p.end)).c_str()));
        if (warn_min) {
          icalcomponent* alarm = icalcomponent_new(ICAL_VALARM_COMPONENT);
          icaltriggertype before{icaltime_null_time(), icaldurationtype_from_int(-60 * *warn_min)};
          icalcomponent_add_property(alarm, icalproperty_new_action(ICAL_ACTION_DISPLAY));
          icalcomponent_add_property(alarm, icalproperty_new_trigger(before));
          icalcomponent_add_property(alarm, icalproperty_new_description(name.c_str()));
          icalcomponent_add_component(event, alarm);
        }
        icalcomponent_add_component(calendar.get(), event);
      }
    }
  const std::unique_ptr<char, void (*)(void*)> text(icalcomponent_as_ical_string_r(calendar.get()),
                                                    icalmemory_free_buffer);
  return text ? text.get() : "";
}

std::string calendar_text(const std::vector<Step>& steps, const Schedule& s, const std::string& title) {
  return calendar_text({{"", title, &steps, &s}});
}

}  // namespace palinform
