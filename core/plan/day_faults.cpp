// A layout held against everything that a plan promises.
#include <algorithm>

#include "core/plan/day.h"

namespace fortitor::day {

std::vector<std::string> faults(const Problem& p, const Layout& l) {
  std::vector<std::string> out;
  const auto fault = [&](const Bar& b, const std::string& what) { out.push_back(p.tasks[b.task].title + ": " + what); };
  const auto overlap = [](int a, int b, int c, int d) { return a < d && c < b; };
  for (const Bar& b : l.bars) {
    const Task& t = p.tasks[b.task];
    if (b.end - b.start != t.minutes) fault(b, "is not as long as it takes");
    if (b.start < t.earliest || b.start < 0) fault(b, "begins before it may");
    if (b.end > p.horizon) fault(b, "ends beyond the plan");
    if (b.resources.size() != t.needs.size()) fault(b, "lacks a machine");
    for (size_t a : t.after) {
      const Bar* before = l.of(a);
      if (before == nullptr || before->end > b.start) fault(b, "begins before " + p.tasks[a].title + " has ended");
    }
    for (size_t n = 0; n < b.resources.size() && n < t.needs.size(); ++n) {
      const Resource& r = p.resources[b.resources[n]];
      if (std::find(t.needs[n].begin(), t.needs[n].end(), b.resources[n]) == t.needs[n].end())
        fault(b, "is on a machine that cannot do it");
      if (b.end > r.ends) fault(b, r.name + " must not be used then");
      for (const Span& s : r.closed)
        if (r.kind != Resource::Kind::place && overlap(b.start, b.end, s.from, s.to)) fault(b, r.name + " is closed");
      if (b.person && !may(r, p.resources[*b.person])) fault(b, p.resources[*b.person].name + " may not use " + r.name);
    }
    if ((t.attended > 0) != b.person.has_value()) fault(b, "has nobody, or somebody for nothing");
    if (b.person)
      for (const Span& s : p.resources[*b.person].closed)
        if (overlap(b.start, b.start + t.attended, s.from, s.to))
          fault(b, p.resources[*b.person].name + " is not there");
    for (const Bar& o : l.bars) {
      if (&o <= &b) continue;
      const Task& u = p.tasks[o.task];
      if (o.task == b.task) fault(b, "is there twice");
      for (size_t r : b.resources)
        if (p.resources[r].kind != Resource::Kind::place &&
            std::find(o.resources.begin(), o.resources.end(), r) != o.resources.end() &&
            overlap(b.start, b.end, o.start, o.end))
          fault(b, p.resources[r].name + " is taken twice");
      if (b.person && o.person == b.person && overlap(b.start, b.start + t.attended, o.start, o.start + u.attended))
        fault(b, p.resources[*b.person].name + " is in two places");
    }
  }
  return out;
}

}  // namespace fortitor::day
