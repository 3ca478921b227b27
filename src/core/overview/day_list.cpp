#include "overview/day_list.hpp"

#include <algorithm>

#include "base/text.hpp"

namespace palinform {

std::string job_letter(size_t job) {
  std::string out(1, static_cast<char>('A' + job % 26));
  return job < 26 ? out : std::string(1, static_cast<char>('A' + std::min<size_t>(25, job / 26 - 1))) + out;
}

std::vector<Drawing> day_list(const std::vector<OpenJobNow>& jobs, const WholeShop& shop, const WholePlan& plan,
                              const ShopWall& wall, WallMinute day) {
  struct Line {
    WallMinute from, to;
    std::string job, what, then;
  };
  const int64_t today = day_number(day);
  std::vector<Line> hands, over;
  const auto clock = [](WallMinute t) { return wall_text(t).substr(11); };
  for (size_t j = 0; j < jobs.size(); ++j) {
    if (!jobs[j].in_plan) continue;
    const OpenJob& in = shop.jobs[*jobs[j].in_plan];
    for (const Placed& p : plan.jobs[*jobs[j].in_plan].schedule.placed) {
      const Step& s = in.steps[p.step];
      const std::string name = job_letter(j) + "  " + jobs[j].name;
      for (const auto& [from, to] : p.hands)
        if (day_number(from) == today)
          hands.push_back(
              {from, to, name, s.name + (s.needs.empty() ? "" : ", with the " + s.needs),
               to == p.hands_end && p.end > p.hands_end
                   ? "then leave it until " + (day_number(p.end) == today ? clock(p.end) : short_text(p.end))
                   : ""});
      if (p.end > p.hands_end && day_number(p.end) == today && day_number(p.hands_end) < today)
        over.push_back({p.end, p.end, name, s.name + " has cured", ""});
    }
  }
  const auto by_clock = [](const Line& a, const Line& b) { return a.from < b.from; };
  std::stable_sort(hands.begin(), hands.end(), by_clock);
  std::stable_sort(over.begin(), over.end(), by_clock);
  int64_t minutes = 0;
  for (const Line& l : hands) minutes += l.to - l.from;

  std::vector<Drawing> out;
  double y = 0;
  const auto text = [&](double x, const std::string& s, double size, int side = -1) {
    out.back().labels.push_back({{x, y}, s, size, side});
  };
  const auto begin_page = [&] {
    Drawing d;
    d.title = "Day list";
    d.width_mm = 210, d.height_mm = 297;
    out.push_back(std::move(d));
    y = 276;
    text(18, short_text(today * day_min).substr(0, 3) + " " + wall_text(today * day_min).substr(0, 10), 7);
    text(192, "Hands on " + std::to_string(minutes / 60) + " h " + std::to_string(minutes % 60) + " min", 3.6, 1);
    y -= 5;
    out.back().strokes.push_back({Pen::measure, {{18, y}, {192, y}}, false});
    y -= 7;
  };
  const auto room = [&](double mm) {
    if (y - mm < 18) begin_page();
  };
  begin_page();
  const auto cut = [](std::string s, size_t most) {
    // On a letter's edge, never inside one.
    if (s.size() <= most) return s;
    size_t n = most;
    while (n > 0 && (static_cast<unsigned char>(s[n]) & 0xC0) == 0x80) --n;
    return s.substr(0, n) + "…";
  };
  for (const Line& l : hands) {
    room(11);
    out.back().frame(Pen::outline, {18, y - 0.6}, {21.6, y + 3});
    text(25, clock(l.from) + " – " + clock(l.to), 3.4);
    text(52, cut(l.what, 74), 3.4);
    y -= 4.4;
    text(52, cut(l.job, 60) + (l.then.empty() ? "" : "   " + l.then), 2.8);
    y -= 6;
  }
  if (hands.empty()) {
    text(18, "Nothing needs hands on this day.", 3.4);
    y -= 8;
  }
  const auto list = [&](const std::string& head, const std::vector<std::string>& lines) {
    if (lines.empty()) return;
    room(16);
    y -= 3;
    text(18, head, 4);
    y -= 6;
    for (const std::string& s : lines) {
      room(6);
      text(22, cut(s, 110), 3);
      y -= 5;
    }
  };
  std::vector<std::string> lines;
  for (const Line& l : over) lines.push_back(clock(l.from) + "   " + l.job + ": " + l.what);
  list("Cured on this day", lines);
  lines.clear();
  for (const WallPromise& p : wall.promises)
    if (p.state != PromiseState::done && p.due <= (today + 8) * day_min)
      lines.push_back(short_text(p.due - 1).substr(0, 3) + " " + wall_text(p.due - 1).substr(0, 10) + "   " +
                      job_letter(p.job) + "  " + jobs[p.job].name + (p.why.empty() ? "" : ", " + p.why));
  list("Promised", lines);
  lines.clear();
  for (const ShoppingLine& l : wall.lacking)
    lines.push_back(l.name + ": " + grouped(l.short_g) + " g short" +
                    (l.packs.of.empty() ? "" : ", " + l.packs.words()));
  list("To buy", lines);
  for (size_t k = 0; k < out.size(); ++k)
    out[k].labels.push_back({{192, 10}, "Page " + std::to_string(k + 1) + " of " + std::to_string(out.size()), 2.6, 1});
  return out;
}

}  // namespace palinform
