#include "core/plan/day.h"

#include <algorithm>
#include <boost/random/mersenne_twister.hpp>
#include <boost/random/uniform_int_distribution.hpp>
#include <numeric>
#include <queue>
#include <tuple>

namespace fortitor::day {
namespace {

constexpr int kNever = INT_MAX;

// What is taken of one resource, in order of time.
class Taken {
 public:
  explicit Taken(const Resource& r) : resource_(&r) {}

  // First start at or after `from` at which it is free for so many minutes; kNever if there is none.
  int free_from(int from, int minutes, int horizon) const {
    const int last = std::min(horizon, resource_->ends);
    if (resource_->kind == Resource::Kind::place) return from + minutes <= last ? from : kNever;
    int at = from;
    for (bool moved = true; moved;) {
      moved = false;
      for (const std::vector<Span>* spans : {&resource_->closed, &busy_}) {
        // The first span that ends after `at`.
        auto s = std::partition_point(spans->begin(), spans->end(), [&](const Span& x) { return x.to <= at; });
        while (s != spans->end() && s->from < at + std::max(minutes, 1)) {
          at = s->to;
          moved = true;
          ++s;
        }
      }
      if (at > last || at + minutes > last) return kNever;
    }
    return at + minutes <= last ? at : kNever;
  }
  void take(int from, int minutes) {
    if (resource_->kind == Resource::Kind::place || minutes <= 0) return;
    const Span span{from, from + minutes};
    // Spans that touch become one: a full morning is one step of the search.
    auto next = std::partition_point(busy_.begin(), busy_.end(), [&](const Span& x) { return x.from < span.from; });
    const bool joins_next = next != busy_.end() && next->from == span.to;
    if (next != busy_.begin() && std::prev(next)->to == span.from) {
      std::prev(next)->to = joins_next ? next->to : span.to;
      if (joins_next) busy_.erase(next);
    } else if (joins_next) {
      next->from = span.from;
    } else {
      busy_.insert(next, span);
    }
  }

 private:
  const Resource* resource_;
  std::vector<Span> busy_;
};

// One attempt to lay the tasks out.
class Placer {
 public:
  explicit Placer(const Problem& p) : p_(p), ends_(p.tasks.size(), kNever) {
    for (size_t r = 0; r < p.resources.size(); ++r) {
      taken_.emplace_back(p.resources[r]);
      if (p.resources[r].kind == Resource::Kind::person) people_.push_back(r);
    }
  }

  // Earliest place of a task from `from` on; nothing when there is none.
  std::optional<Bar> find(size_t task, int from) const {
    const Task& t = p_.tasks[task];
    Bar bar{task, from, 0, std::vector<size_t>(t.needs.size()), {}, 0};
    for (int at = from; at != kNever;) {
      int next = at;
      for (size_t n = 0; n < t.needs.size(); ++n) {
        int best = kNever;
        for (size_t r : t.needs[n]) {
          if (t.attended > 0 && !someone(r)) continue;
          const int free = taken_[r].free_from(at, t.minutes, p_.horizon);
          if (free < best) best = free, bar.resources[n] = r;
        }
        if (best == kNever) return std::nullopt;
        next = std::max(next, best);
      }
      if (t.attended > 0) {
        int best = kNever;
        for (size_t person : people_) {
          if (!std::all_of(bar.resources.begin(), bar.resources.end(),
                           [&](size_t r) { return may(p_.resources[r], p_.resources[person]); }))
            continue;
          const int free = taken_[person].free_from(next, t.attended, p_.horizon);
          if (free < best) best = free, bar.person = person;
        }
        if (best == kNever) return std::nullopt;
        next = best;
      }
      if (next == at) {
        if (at + t.minutes > p_.horizon) return std::nullopt;
        bar.start = at;
        bar.end = at + t.minutes;
        return bar;
      }
      at = next;
    }
    return std::nullopt;
  }

  int ready_at(size_t task) const {
    int from = std::max(0, p_.tasks[task].earliest);
    for (size_t a : p_.tasks[task].after) from = std::max(from, ends_[a]);
    return from;
  }

  void put(const Bar& bar) {
    const Task& t = p_.tasks[bar.task];
    for (size_t r : bar.resources) taken_[r].take(bar.start, t.minutes);
    if (bar.person) taken_[*bar.person].take(bar.start, t.attended);
    ends_[bar.task] = bar.end;
    layout.bars.push_back(bar);
    Bar& kept = layout.bars.back();
    if (t.due) kept.late = std::max(0, bar.end - *t.due);
    layout.lateness += kept.late;
  }

  bool placed(size_t task) const { return ends_[task] != kNever; }
  int end_of(size_t task) const { return ends_[task]; }

  Layout layout;

 private:
  bool someone(size_t machine) const {
    return std::any_of(people_.begin(), people_.end(),
                       [&](size_t person) { return may(p_.resources[machine], p_.resources[person]); });
  }

  const Problem& p_;
  std::vector<Taken> taken_;
  std::vector<size_t> people_;
  std::vector<int> ends_;
};

std::string why_unplaced(const Problem& p, size_t task, const Placer& placer) {
  const Task& t = p.tasks[task];
  for (size_t a : t.after)
    if (!placer.placed(a)) return t.title + " waits for what cannot be placed: " + p.tasks[a].title + ".";
  for (const auto& need : t.needs) {
    if (need.empty()) return t.title + ": nothing in the Kit can do it.";
    if (std::all_of(need.begin(), need.end(), [&](size_t r) { return p.resources[r].ends <= placer.ready_at(task); })) {
      const Resource& r = p.resources[need.front()];
      return t.title + ": " + r.name + " must not be used" + (r.why_ends.empty() ? "." : ": " + r.why_ends + ".");
    }
    if (t.attended > 0 && std::none_of(need.begin(), need.end(), [&](size_t r) {
          return std::any_of(p.resources.begin(), p.resources.end(), [&](const Resource& person) {
            return person.kind == Resource::Kind::person && may(p.resources[r], person);
          });
        }))
      return t.title + ": nobody who is there may use " + p.resources[need.front()].name + ".";
  }
  for (const auto& need : t.needs)
    for (size_t r : need)
      if (p.resources[r].ends != INT_MAX)
        return t.title + " finds no room before " + p.resources[r].name + " must not be used any more" +
               (p.resources[r].why_ends.empty() ? "." : ": " + p.resources[r].why_ends + ".");
  return t.title + " finds no room within " + std::to_string(p.horizon / kDay) + " days: nobody is there for " +
         std::to_string(t.attended) + " min at a stretch, or its machines are taken.";
}

// Places with the pins in `pins`; the first pin that cannot hold comes back.
using Followers = std::vector<std::vector<size_t>>;

Followers followers_of(const Problem& p) {
  Followers out(p.tasks.size());
  for (size_t t = 0; t < p.tasks.size(); ++t)
    for (size_t a : p.tasks[t].after) out[a].push_back(t);
  return out;
}

std::optional<Unmet> attempt(const Problem& p, const Followers& followers, const std::vector<size_t>& order,
                             const std::vector<char>& pins, bool words, Layout& out) {
  Placer placer(p);
  // Pinned bars are there first; what must come before them finds its place around them.
  for (size_t t = 0; t < p.tasks.size(); ++t) {
    if (!pins[t]) continue;
    const Task& task = p.tasks[t];
    const int at = *task.pinned;
    if (at < task.earliest)
      return Unmet{
          Unmet::Kind::pin, t,
          task.title + " cannot begin then" + (task.why_earliest.empty() ? "." : ": " + task.why_earliest + ".")};
    const auto bar = placer.find(t, at);
    if (!bar || bar->start != at) {
      std::string why = bar ? "a machine or a person is not free then" : why_unplaced(p, t, placer);
      return Unmet{Unmet::Kind::pin, t, bar ? task.title + " cannot begin then: " + why + "." : why};
    }
    placer.put(*bar);
  }
  // The first in the order whose predecessors are placed comes next.
  std::vector<size_t> rank(p.tasks.size());
  for (size_t i = 0; i < order.size(); ++i) rank[order[i]] = i;
  std::vector<size_t> open(p.tasks.size(), 0);
  std::priority_queue<std::pair<size_t, size_t>, std::vector<std::pair<size_t, size_t>>, std::greater<>> ready;
  for (size_t t = 0; t < p.tasks.size(); ++t) {
    for (size_t a : p.tasks[t].after) open[t] += !placer.placed(a);
    if (open[t] == 0 && !pins[t]) ready.push({rank[t], t});
  }
  std::vector<char> tried(pins);
  while (!ready.empty()) {
    const size_t t = ready.top().second;
    ready.pop();
    tried[t] = 1;
    const auto bar = placer.find(t, placer.ready_at(t));
    if (!bar) {
      placer.layout.unmet.push_back({Unmet::Kind::unplaced, t, {}});
      continue;
    }
    placer.put(*bar);
    for (size_t next : followers[t])
      if (--open[next] == 0 && !pins[next]) ready.push({rank[next], next});
  }
  for (size_t t = 0; t < p.tasks.size(); ++t)
    if (!tried[t]) placer.layout.unmet.push_back({Unmet::Kind::unplaced, t, {}});
  if (words)
    for (Unmet& u : placer.layout.unmet) u.why = why_unplaced(p, u.task, placer);
  for (size_t t = 0; t < p.tasks.size(); ++t) {
    if (!pins[t]) continue;
    for (size_t a : p.tasks[t].after)
      if (!placer.placed(a) || placer.end_of(a) > *p.tasks[t].pinned)
        return Unmet{Unmet::Kind::pin, t,
                     p.tasks[t].title + " cannot begin then: " + p.tasks[a].title + " must end before."};
  }
  out = std::move(placer.layout);
  return std::nullopt;
}

Layout place_with(const Problem& p, const Followers& followers, const std::vector<size_t>& order, bool words) {
  std::vector<char> pins(p.tasks.size());
  for (size_t t = 0; t < p.tasks.size(); ++t) pins[t] = p.tasks[t].pinned.has_value();
  Layout out;
  std::vector<Unmet> dropped;
  while (const auto broken = attempt(p, followers, order, pins, words, out)) {
    pins[broken->task] = 0;
    dropped.push_back(*broken);
  }
  out.unmet.insert(out.unmet.begin(), dropped.begin(), dropped.end());
  if (!words) return out;  // one of many tries: nobody reads it
  std::sort(out.bars.begin(), out.bars.end(),
            [](const Bar& a, const Bar& b) { return std::tie(a.start, a.task) < std::tie(b.start, b.task); });
  return out;
}

using Score = std::tuple<size_t, long, long>;

// A change to another group costs a person as much as so many minutes of waiting for a last step.
constexpr long kChange = 30;

Score score(const Problem& p, const Followers& followers, const Layout& l) {
  size_t unplaced = 0;
  for (const Unmet& u : l.unmet) unplaced += u.kind != Unmet::Kind::late;
  long ends = 0;
  std::vector<std::tuple<size_t, int, size_t>> turns;  // person, start, task
  for (const Bar& b : l.bars) {
    if (followers[b.task].empty()) ends += b.end;
    if (b.person) turns.push_back({*b.person, b.start, b.task});
  }
  std::sort(turns.begin(), turns.end());
  for (size_t i = 1; i < turns.size(); ++i) {
    const auto& [person, start, task] = turns[i];
    if (std::get<0>(turns[i - 1]) == person && p.tasks[std::get<2>(turns[i - 1])].group != p.tasks[task].group)
      ends += kChange;
  }
  return {unplaced, l.lateness, ends};
}

}  // namespace

bool may(const Resource& machine, const Resource& person) {
  return machine.who.empty() || std::find(machine.who.begin(), machine.who.end(), person.name) != machine.who.end();
}

const Bar* Layout::of(size_t task) const {
  const auto it = std::find_if(bars.begin(), bars.end(), [&](const Bar& b) { return b.task == task; });
  return it == bars.end() ? nullptr : &*it;
}

Layout place(const Problem& p, const std::vector<size_t>& order) {
  return place_with(p, followers_of(p), order, true);
}

bool better(const Problem& p, const Layout& a, const Layout& b) {
  const Followers followers = followers_of(p);
  return score(p, followers, a) < score(p, followers, b);
}

Layout plan(const Problem& p, uint64_t seed) {
  const size_t n = p.tasks.size();
  std::vector<size_t> order(n);
  std::iota(order.begin(), order.end(), size_t(0));
  // The longest chain of minutes that hangs on a task, itself included; circles end the walk.
  std::vector<int> tail(n, 0);
  for (size_t round = 0; round < n; ++round) {
    bool changed = false;
    for (size_t t = 0; t < n; ++t) {
      tail[t] = std::max(tail[t], p.tasks[t].minutes);
      for (size_t a : p.tasks[t].after)
        if (a < n && tail[a] < tail[t] + p.tasks[a].minutes && tail[t] < p.horizon)
          tail[a] = tail[t] + p.tasks[a].minutes, changed = true;
    }
    if (!changed) break;
  }
  // A task is as urgent as the most urgent that hangs on it.
  std::vector<int> due(n);
  for (size_t t = 0; t < n; ++t) due[t] = p.tasks[t].due.value_or(p.horizon);
  for (size_t round = 0; round < n; ++round) {
    bool changed = false;
    for (size_t t = 0; t < n; ++t)
      for (size_t a : p.tasks[t].after)
        if (a < n && due[t] < due[a]) due[a] = due[t], changed = true;
    if (!changed) break;
  }
  std::vector<size_t> best_order = order;
  const Followers followers = followers_of(p);
  Score best_score = score(p, followers, place_with(p, followers, order, false));
  const auto offer = [&](const std::vector<size_t>& o) {
    const Score s = score(p, followers, place_with(p, followers, o, false));
    if (s < best_score) best_score = s, best_order = o;
    return s;
  };
  const auto by = [&](auto key) {
    std::vector<size_t> o = order;
    std::stable_sort(o.begin(), o.end(), [&](size_t a, size_t b) { return key(a) < key(b); });
    offer(o);
  };
  by([&](size_t t) { return std::pair(due[t], -tail[t]); });
  by([&](size_t t) { return std::pair(due[t] - tail[t], t); });
  by([&](size_t t) { return std::pair(-tail[t], due[t]); });
  by([&](size_t t) { return std::pair(p.tasks[t].minutes, due[t]); });
  by([&](size_t t) { return std::pair(due[t], p.tasks[t].minutes); });
  boost::random::mt19937_64 random(seed);
  const size_t tries = n < 2 ? 0 : std::clamp<size_t>(6000000 / (n * n), 150, 3000);
  boost::random::uniform_int_distribution<size_t> any(0, n > 0 ? n - 1 : 0), coin(0, 3);
  // A part of the tries looks far, the rest makes the best found better; then once more from elsewhere.
  constexpr size_t kRounds = 3;
  std::vector<size_t> at = best_order;
  Score at_score = best_score;
  for (size_t round = 0; round < kRounds; ++round) {
    if (round > 0) {
      Score of_round{SIZE_MAX, 0, 0};
      std::vector<size_t> shuffled = order;
      for (size_t k = 0; k < tries / 12; ++k) {
        for (size_t i = n; i > 1; --i) std::swap(shuffled[i - 1], shuffled[any(random) % i]);
        const Score s = offer(shuffled);
        if (s < of_round) of_round = s, at = shuffled;
      }
      at_score = of_round;
    }
    for (size_t k = 0; k < tries / kRounds; ++k) {
      std::vector<size_t> o = at;
      const size_t from = any(random), to = any(random);
      if (coin(random) == 0) {
        std::swap(o[from], o[to]);
      } else {
        const size_t t = o[from];
        o.erase(o.begin() + long(from));
        o.insert(o.begin() + long(to), t);
      }
      if (const Score s = offer(o); s <= at_score) at = std::move(o), at_score = s;
    }
  }
  Layout best = place_with(p, followers, best_order, true);
  for (const Bar& b : best.bars)
    if (b.late > 0) {
      const int hours = b.late / 60;
      best.unmet.push_back({Unmet::Kind::late, b.task,
                            p.tasks[b.task].title + " ends " +
                                (b.late < 60  ? std::to_string(b.late) + " min"
                                 : hours < 48 ? std::to_string(hours) + " h"
                                              : std::to_string(hours / 24) + " days") +
                                " after it is due."});
    }
  return best;
}

}  // namespace fortitor::day
