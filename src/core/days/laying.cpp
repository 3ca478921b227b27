#include "days/laying.hpp"

#include <algorithm>

namespace palinform {

namespace {

/// The first change after t, or at t.
auto change(auto& from, WallMinute t, bool after) {
  return std::partition_point(from.begin(), from.end(),
                              [&](const auto& c) { return after ? c.first <= t : c.first < t; });
}

}  // namespace

std::optional<WallMinute> Busy::until(WallMinute a, WallMinute b) const {
  auto it = change(from, a, true);
  if (it != from.begin()) --it;
  for (; it != from.end() && it->first < b; ++it) {
    if (it->second < people || (std::next(it) != from.end() && std::next(it)->first <= a)) continue;
    while (it != from.end() && it->second >= people) ++it;
    return it->first;
  }
  return std::nullopt;
}

WallMinute Busy::room(WallMinute a, int64_t minutes) const {
  auto it = change(from, a, true);
  if (it != from.begin()) --it;
  for (; it != from.end() && it->first < a + minutes; ++it)
    if (it->second >= people && std::next(it) != from.end()) a = std::max(a, std::next(it)->first);
  return a;
}

std::optional<WallMinute> Busy::begins(WallMinute a, WallMinute b) const {
  for (auto it = change(from, a, true); it != from.end() && it->first < b; ++it)
    if (it->second >= people) return it->first;
  return std::nullopt;
}

void Busy::add(WallSpan span, int hands) {
  if (span.second <= span.first) return;
  const auto cut = [&](WallMinute t) {
    auto it = change(from, t, false);
    if (it == from.end() || it->first != t) it = from.insert(it, {t, it == from.begin() ? 0 : std::prev(it)->second});
    return it - from.begin();
  };
  const auto first = cut(span.first), end = cut(span.second);
  for (auto i = first; i != end; ++i) from[static_cast<size_t>(i)].second += hands;
  for (const auto i : {end, first})
    if (from[static_cast<size_t>(i)].second == (i == 0 ? 0 : from[static_cast<size_t>(i - 1)].second))
      from.erase(from.begin() + i);  // no change any more
}

namespace {

int64_t longest_day(const std::vector<BenchHours>& bench) {
  int64_t longest = 0;
  for (const BenchHours& b : bench)
    if (std::find(b.days.begin(), b.days.end(), true) != b.days.end())
      longest = std::max<int64_t>(longest, b.to_min - b.from_min);
  return longest;
}

/// Free bench time from `from` on, in the pieces that closing time and other work leave, until `minutes` are together.
Result<std::vector<WallSpan>> pieces_from(const std::vector<BenchHours>& bench, const ShopNow& shop, WallMinute from,
                                          int64_t minutes) {
  std::vector<WallSpan> out;
  WallMinute at = from;
  for (int guard = 0; minutes > 0 && guard < 100'000; ++guard) {
    const auto open = next_bench_time(bench, at, 1, *shop.holidays);
    if (!open) return open.error();
    at = *open;
    if (const auto later = shop.busy.until(at, at + 1)) {
      at = *later;
      continue;
    }
    // To closing time, or to the next thing the person has to do.
    const int64_t day = day_number(at);
    WallMinute shut = at;
    for (const BenchHours& b : bench)
      if (b.days[static_cast<size_t>(weekday_of(at))] && day * day_min + b.from_min <= at)
        shut = std::max(shut, day * day_min + b.to_min);
    WallMinute end = std::min(shut, at + minutes);
    if (const auto other = shop.busy.begins(at, end)) end = *other;
    out.emplace_back(at, end);
    minutes -= end - at;
    at = end;
  }
  return out;
}

/// Machine and places of a placed step. Alone in the shop, a job's own order keeps its machines; places are counted.
void hold_of(const ReadyJob& job, const LaidSoFar& s, size_t k, ShopNow& shop, int by) {
  const Placed& p = s.placed[k];
  const auto of = [&](const std::string& name, const WallSpan& span) {
    if (span.second > span.first && span.second > job.now) hold(shop, name, span, by);
  };
  const ReadyJob::Piece& piece = job.pieces[k];
  if (shop.shared && piece.needs) {
    const std::string& name = job.names[*piece.needs];
    of(name, {p.start, held_until(p, name)});
  }
  for (const size_t what : piece.besides)
    of(job.names[what], held_besides(*job.steps, s.placed, k, piece.same_as, job.names[what]));
}

/// Waits inside a placed run: its hands stand by, other jobs may have them.
void stand_by(const LaidSoFar& so_far, const ReadyJob::Run& run, Busy& busy, int hands) {
  for (size_t k = run.from; k + 1 < run.to; ++k)
    busy.add({so_far.placed[k].hands_end, so_far.placed[k + 1].start}, hands);
}

}  // namespace

void hold(ShopNow& shop, const std::string& name, WallSpan span, int by) {
  const auto places = places_of(*shop.places, name);
  if (!places) return;
  Busy& held = shop.machines[name];
  held.people = *places;
  held.add(span, by);
}

Result<ReadyJob> ready_to_lay(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                              const Begun& begun) {
  ReadyJob out;
  out.steps = &steps, out.bench = &bench;
  out.start = out.first_start = begun.now > 0 ? std::max(start, begun.now) : start;
  if (begun.now > 0) out.now = begun.now;
  std::map<std::string, size_t> place, named;
  for (size_t i = 0; i < steps.size(); ++i)
    if (!place.emplace(steps[i].id, i).second) return Error{"two steps are called \"" + steps[i].id + "\"", "days", ""};
  const auto name = [&](const std::string& what) {
    const auto [it, fresh] = named.emplace(what, out.names.size());
    if (fresh) out.names.push_back(what), out.made.push_back(false);
    return it->second;
  };
  std::vector<const DoneStep*> done(steps.size(), nullptr);
  for (const DoneStep& d : begun.done)
    if (const auto it = place.find(d.id); it != place.end()) {
      done[it->second] = &d;
      // What is only known to be done has no hour of its own.
      if (d.hands_end > d.start) out.first_start = std::min(out.first_start, d.start);
    }
  const int64_t longest = longest_day(bench);
  out.run_of.resize(steps.size());
  out.pieces.resize(steps.size());
  // Where a step speaks of another: that must come before it.
  const auto earlier = [&](const std::string& id, size_t k) -> std::optional<size_t> {
    const auto it = place.find(id);
    return it == place.end() || it->second >= k ? std::nullopt : std::optional(it->second);
  };
  for (size_t i = 0; i < steps.size();) {
    ReadyJob::Run r;
    r.from = i, r.to = i + 1, r.done = done[i];
    while (!r.done && r.to < steps.size() && steps[r.to].at_once && !done[r.to]) ++r.to;
    int64_t ahead = 0;
    for (size_t k = r.from; k < r.to; ++k) {
      const Step& s = steps[k];
      ReadyJob::Piece& piece = out.pieces[k];
      out.run_of[k] = out.runs.size();
      piece.hands = whole_minutes(s.hands_min), piece.wait = whole_minutes(s.wait_min);
      if (s.window) {
        const auto from = earlier(s.window->after, k);
        if (!from)
          return Error{"step \"" + s.id + "\" waits for \"" + s.window->after + "\", which does not come before it",
                       "days", ""};
        const size_t first = *from < i ? out.run_of[*from] : out.runs.size();
        (first < out.runs.size() ? out.runs[first] : r).anchor = true;
        if (*from < i) {
          ReadyJob::FromWindow w{*from, ahead, whole_minutes(s.window->earliest_min), {}};
          if (s.window->latest_min && !done[*from])
            w.latest = std::max(w.earliest, static_cast<int64_t>(*s.window->latest_min));
          r.windows.push_back(w);
        }
      }
      ahead += piece.hands + piece.wait;
      r.length += piece.hands + (k + 1 < r.to ? piece.wait : 0);
      if (s.pinned) r.pinned = std::max(r.pinned, *s.pinned);
      if (!s.any_of.empty()) {
        r.choice.clear();
        for (const std::string& one : s.any_of) r.choice.push_back(name(one));
      }
      if (!s.holds.empty()) out.made[*(piece.holds = name(s.holds))] = true;
      if (!s.needs.empty()) piece.needs = name(s.needs);
      for (const std::string& what : s.besides) piece.besides.push_back(name(what));
      if (!s.same_as.empty() && !(piece.same_as = earlier(s.same_as, k)))
        return Error{"step \"" + s.id + "\" goes on with \"" + s.same_as + "\", which does not come before it", "days",
                     ""};
      // Where it keeps what it holds, the step that took it can be put off.
      if (piece.same_as && *piece.same_as < i)
        for (const std::string& what : s.besides) {
          if (!has_besides(steps[*piece.same_as], what)) continue;
          piece.keeps.push_back(name(what));
          ReadyJob::Run& took = out.runs[out.run_of[*piece.same_as]];
          took.anchor = true, took.kept_to = k;
        }
      if (r.done) continue;  // it stands where it was, whatever it follows
      for (const std::string& id : s.after) {
        const auto before = earlier(id, k);
        if (!before)
          return Error{"step \"" + s.id + "\" waits for \"" + id + "\", which does not come before it", "days", ""};
        if (*before < i) r.after.push_back(*before);
      }
    }
    if (!r.done && r.length > longest && longest > 0) {
      r.split = r.to == i + 1 && steps[i].may_split;
      if (!r.split)
        return Error{"\"" + steps[i].name + "\"" + (r.to > i + 1 ? " and what must follow at once" : "") + " takes " +
                         std::to_string(r.length) + " minutes in one piece, and the bench is open for " +
                         std::to_string(longest) + " at the most",
                     "days", "Open the bench longer on that day, or make the step shorter."};
    }
    r.in_order = !r.choice.empty() || !r.windows.empty() || r.done;
    for (size_t k = r.from; k < r.to; ++k) r.in_order = r.in_order || out.pieces[k].holds || out.pieces[k].same_as;
    i = r.to;
    out.runs.push_back(std::move(r));
  }
  for (ReadyJob::Run& r : out.runs) r.in_order = r.in_order || r.anchor;
  return out;
}

LaidSoFar nothing_laid(const ReadyJob& job) {
  LaidSoFar out;
  out.placed.resize(job.pieces.size());
  out.given.resize(job.pieces.size());
  out.held.assign(job.names.size(), INT64_MIN);
  out.finish = job.start;
  return out;
}

bool all_laid(const ReadyJob& job, const LaidSoFar& so_far) { return so_far.next == job.runs.size(); }

void take_back(const ReadyJob& job, LaidSoFar& so_far, size_t run, ShopNow& shop) {
  for (size_t r = run; r < so_far.next; ++r) {
    if (job.runs[r].done) continue;
    for (size_t k = job.runs[r].from; k < job.runs[r].to; ++k) {
      const Placed& p = so_far.placed[k];
      for (const WallSpan& span : p.hands) shop.busy.add(span, -1);
      hold_of(job, so_far, k, shop, -1);
    }
    if (!shop.shared) stand_by(so_far, job.runs[r], shop.busy, -1);
  }
  so_far.next = run;
}

namespace {

/// What a placed step takes of the shop.
void take_of(const ReadyJob& job, const LaidSoFar& s, size_t k, ShopNow& shop) {
  const Placed& p = s.placed[k];
  for (const WallSpan& span : p.hands)
    if (span.second > job.now) shop.busy.add(span);
  hold_of(job, s, k, shop, 1);
}

void lay_done(const ReadyJob& job, LaidSoFar& s, const ReadyJob::Run& run) {
  const size_t i = run.from;
  const Step& step = (*job.steps)[i];
  Placed& p = s.placed[i];
  p = {i, run.done->start, run.done->hands_end, run.done->hands_end + job.pieces[i].wait, {}, "", true};
  if (p.hands_end > p.start) p.hands.emplace_back(p.start, p.hands_end);
  // Which of several moulds it went into nobody wrote down: the first that is free.
  std::optional<size_t> given;
  for (const size_t one : run.choice)
    if (!given || s.held[one] < s.held[*given]) given = one;
  if (job.pieces[i].same_as) given = s.given[*job.pieces[i].same_as];
  if (given) p.held = job.names[*given];
  s.given[i] = given;
  s.hands_min += step.hands_min;
  s.finish = std::max(s.finish, p.end);
}

/// From then on it is taken until …: what a placed step holds and needs.
void hold(const ReadyJob& job, LaidSoFar& s, size_t k) {
  const Placed& p = s.placed[k];
  const ReadyJob::Piece& piece = job.pieces[k];
  const auto until = [&](size_t what, WallMinute end) { s.held[what] = std::max(s.held[what], end); };
  if (piece.holds) until(*piece.holds, p.end);
  if (s.given[k]) until(*s.given[k], p.end);
  if (piece.needs) until(*piece.needs, held_until(p, job.names[*piece.needs]));
}

/// Where a run fits.
struct Place {
  WallMinute at = 0;
  std::optional<size_t> given;
  std::vector<WallSpan> pieces;  // of one that is split
  /// It cannot be there: the run of that step must wait until then.
  struct PutOff {
    size_t step = 0;
    WallMinute until = 0;
    bool by_window = true;  // else others have what should have been kept in between
  };
  std::optional<PutOff> put_off;
};

Result<Place> place_for(const ReadyJob& job, const LaidSoFar& s, size_t r, ShopNow& shop, WallMinute no_sooner) {
  const ReadyJob::Run& run = job.runs[r];
  Place out;
  std::optional<WallMinute> latest;  // for its first minute, by its windows
  size_t counted_from = 0;           // step, of that window
  const auto asked = s.not_before.find(run.from);
  WallMinute earliest =
      std::max({job.start, run.pinned, asked == s.not_before.end() ? job.start : asked->second, no_sooner});
  for (const ReadyJob::FromWindow& w : run.windows) {
    const WallMinute counted = s.placed[w.from].hands_end - w.ahead;
    earliest = std::max(earliest, counted + w.earliest);
    if (w.latest && (!latest || counted + *w.latest < *latest)) latest = counted + *w.latest, counted_from = w.from;
  }
  for (const size_t a : run.after) earliest = std::max(earliest, s.placed[a].end);
  // Of a mould that goes on with what it has in it: nobody else was given it since, it need not wait for the cure.
  for (size_t k = run.from; k < run.to; ++k)
    for (const auto& what : {job.pieces[k].holds, job.pieces[k].needs})
      if (what) earliest = std::max(earliest, s.held[*what]);
  // A machine that the run needs and others have: when the run could begin instead.
  const auto machine_taken = [&](WallMinute from) -> std::optional<WallMinute> {
    if (shop.machines.empty()) return std::nullopt;
    WallMinute t = from;
    for (size_t k = run.from; k < run.to; ++k) {
      const WallMinute hands_end = t + job.pieces[k].hands, all = hands_end + job.pieces[k].wait;
      const auto later = [&](size_t what) -> std::optional<WallMinute> {
        const std::string& name = job.names[what];
        const auto it = shop.machines.find(name);
        if (it == shop.machines.end()) return std::nullopt;
        const auto until = it->second.until(t, std::max(t + 1, held_through_wait(name) ? all : hands_end));
        return until ? std::optional(from + std::max<int64_t>(1, *until - t)) : std::nullopt;
      };
      if (job.pieces[k].needs)
        if (const auto at = later(*job.pieces[k].needs)) return at;
      for (const size_t what : job.pieces[k].besides)
        if (const auto at = later(what)) return at;
      t = all;
    }
    return std::nullopt;
  };
  const auto first_free = [&](WallMinute from) -> Result<WallMinute> {
    for (;;) {
      WallMinute at = from;
      if (!run.split && run.length > 0) {
        const auto open = next_bench_time(*job.bench, from, static_cast<double>(run.length), *shop.holidays);
        if (!open) return open.error();
        at = *open;
        if (const WallMinute room = shop.busy.room(at, run.length); room != at) {
          from = room;
          continue;
        }
      }
      const auto later = machine_taken(at);
      if (!later) return at;
      from = *later;
    }
  };
  // The job's own hands stay with a run that waits in between; in a shared shop others may have them.
  const auto own_stand_by = [&](int hands) {
    if (!shop.shared || s.stands_by_until <= earliest) return;
    for (size_t q = 0; q < s.next; ++q)
      if (const ReadyJob::Run& run_q = job.runs[q];
          run_q.to - run_q.from > 1 && !run_q.done && s.placed[run_q.to - 1].start > earliest)
        stand_by(s, run_q, shop.busy, hands);
  };
  const auto find = [&]() -> Status {
    std::optional<WallMinute> at;
    if (run.choice.empty()) {
      const auto t = first_free(earliest);
      if (!t) return t.error();
      at = *t;
    }
    for (const size_t one : run.choice) {
      if (s.held[one] == INT64_MIN && job.made[one]) continue;
      const auto t = first_free(std::max(earliest, s.held[one]));
      if (!t) return t.error();
      if (!at || *t < *at) at = *t, out.given = one;
    }
    if (!at) return Error{"step \"" + (*job.steps)[run.from].id + "\" has nothing to be done in", "days", ""};
    out.at = *at;
    if (!run.split || (latest && out.at > *latest)) return {};
    auto p = pieces_from(*job.bench, shop, *at, run.length);
    if (!p) return p.error();
    out.pieces = *std::move(p);
    out.at = out.pieces.front().first;
    return {};
  };
  own_stand_by(1);
  const Status found = find();
  own_stand_by(-1);
  if (!found) return found.error();
  const auto begun = [&](size_t step) { return s.placed[job.runs[job.run_of[step]].from].start; };
  if (latest && out.at > *latest) {
    out.put_off = {counted_from, begun(counted_from) + out.at - *latest, true};
    return out;
  }
  for (size_t k = run.from; k < run.to; ++k) {
    const ReadyJob::Piece& piece = job.pieces[k];
    if (piece.keeps.empty() || job.runs[job.run_of[*piece.same_as]].done) continue;
    for (const size_t what : piece.keeps)
      if (const auto it = shop.machines.find(job.names[what]); it != shop.machines.end())
        if (const auto until = it->second.until(s.placed[*piece.same_as].end, out.at))
          out.put_off = {*piece.same_as, std::max(begun(*piece.same_as) + 1, *until), false};
  }
  return out;
}

}  // namespace

bool may_be_next(const ReadyJob& job, const LaidSoFar& so_far, size_t run) {
  const ReadyJob::Run& r = job.runs[run];
  if (run == so_far.next) return true;
  if (r.done || std::any_of(r.after.begin(), r.after.end(), [&](size_t a) { return job.run_of[a] >= so_far.next; }))
    return false;
  // What goes through a mould, or is counted from, stays in its order.
  return !r.in_order || std::none_of(job.runs.begin() + static_cast<std::ptrdiff_t>(so_far.next),
                                     job.runs.begin() + static_cast<std::ptrdiff_t>(run),
                                     [](const ReadyJob::Run& q) { return q.in_order; });
}

void bring_forward(ReadyJob& job, const LaidSoFar& so_far, size_t run) {
  const auto at = [&](size_t r) { return job.runs.begin() + static_cast<std::ptrdiff_t>(r); };
  std::rotate(at(so_far.next), at(run), at(run + 1));
  for (size_t r = so_far.next; r <= run; ++r)
    for (size_t k = job.runs[r].from; k < job.runs[r].to; ++k) job.run_of[k] = r;
}

Result<WallMinute> begin_of(const ReadyJob& job, const LaidSoFar& so_far, size_t run, ShopNow& shop,
                            WallMinute no_sooner) {
  if (job.runs[run].done) return INT64_MIN;
  const auto place = place_for(job, so_far, run, shop, no_sooner);
  if (!place) return place.error();
  return place->at;
}

Status lay_next(const ReadyJob& job, LaidSoFar& s, ShopNow& shop, WallMinute no_sooner) {
  const size_t r = s.next;
  const ReadyJob::Run& run = job.runs[r];
  if (run.done) {
    lay_done(job, s, run);
    hold(job, s, run.from);
    shop.shared ? take_of(job, s, run.from, shop) : hold_of(job, s, run.from, shop, 1);
    ++s.next;
    return {};
  }
  if (run.anchor) s.before[run.from] = {s.held, s.hands_min, s.finish};
  const auto place = place_for(job, s, r, shop, no_sooner);
  if (!place) return place.error();
  const std::vector<WallSpan>& pieces = place->pieces;
  if (const auto& put_off = place->put_off) {
    const size_t first = job.run_of[put_off->step];
    const size_t counted = job.runs[first].from;
    const WallMinute begun = s.placed[counted].start, later = put_off->until;
    if (++s.put_off[run.from] > 400 || later - s.first_start.emplace(counted, begun).first->second > 60 * day_min) {
      const Step &step = (*job.steps)[run.from], &from = (*job.steps)[put_off->step];
      if (!put_off->by_window)
        return Error{"\"" + step.name + "\" and all it keeps from \"" + from.name + "\" on are not free at one time",
                     "days", "Tell the shop's equipment of more, or close other jobs."};
      return Error{"\"" + step.name + "\" must begin within " +
                       std::to_string(static_cast<int64_t>(step.window ? step.window->latest_min.value_or(0) : 0)) +
                       " minutes of \"" + from.name + "\", and no time was found at which the bench is open for both",
                   "days", "Open the bench longer, or begin at another hour."};
    }
    WallMinute& not_before = s.not_before.emplace(counted, later).first->second;
    not_before = std::max(not_before, later);
    take_back(job, s, first, shop);
    const LaidSoFar::Before& before = s.before.at(counted);
    s.held = before.held, s.hands_min = before.hands_min, s.finish = before.finish;
    return {};
  }
  WallMinute now = place->at;
  for (size_t k = run.from; k < run.to; ++k) {
    Placed& p = s.placed[k];
    p.step = k;
    p.start = now;
    p.hands_end = pieces.empty() ? now + job.pieces[k].hands : pieces.back().second;
    p.end = p.hands_end + job.pieces[k].wait;
    p.hands = pieces;
    if (pieces.empty() && p.hands_end > p.start) p.hands.emplace_back(p.start, p.hands_end);
    s.given[k] = job.pieces[k].same_as ? s.given[*job.pieces[k].same_as] : std::nullopt;
    if (!(*job.steps)[k].any_of.empty()) s.given[k] = place->given;
    p.held = s.given[k] ? job.names[*s.given[k]] : "";
    now = p.end;
    s.hands_min += (*job.steps)[k].hands_min;
    s.finish = std::max(s.finish, p.end);
    hold(job, s, k);
    take_of(job, s, k, shop);
  }
  if (!shop.shared) stand_by(s, run, shop.busy, 1);
  if (run.to - run.from > 1) s.stands_by_until = std::max(s.stands_by_until, s.placed[run.to - 1].start);
  ++s.next;
  return {};
}

Schedule schedule_of(const ReadyJob& job, LaidSoFar so_far) {
  Schedule out;
  out.placed = std::move(so_far.placed);
  out.start = job.first_start;
  out.finish = so_far.finish;
  out.hands_min = so_far.hands_min;
  return out;
}

}  // namespace palinform
