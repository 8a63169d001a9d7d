// When is what done, on which machine and by whom: runs and waits laid out over days. Knows nothing of methods.
#pragma once

#include <climits>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fortitor::day {

/// Minutes from midnight before the first planned day.
struct Span {
  int from = 0, to = 0;
};
inline constexpr int kDay = 24 * 60;

/// Something a task takes for itself: a machine, a person; or a place where things wait, which takes any number.
struct Resource {
  enum class Kind { machine, person, place };
  std::string id, name;
  Kind kind = Kind::machine;
  std::vector<Span> closed = {};      ///< in order, apart: outside of working hours, breaks
  int ends = INT_MAX;                 ///< not used from that minute on: calibration over, held
  std::string why_ends = {};          ///< "its calibration ended 20 Nov"
  std::vector<std::string> who = {};  ///< names of those who may use it; empty: everybody
};

/// Whether a person may use a machine.
bool may(const Resource& machine, const Resource& person);

struct Task {
  std::string id, title, group;                 ///< group: the series; going on with it costs no change
  int minutes = 0;                              ///< that its resources are taken, without interruption
  int attended = 0;                             ///< minutes of a person, from its start; at most `minutes`
  std::vector<std::vector<size_t>> needs = {};  ///< of each list one resource, no persons
  std::vector<size_t> after = {};               ///< tasks that must have ended
  int earliest = 0;
  std::string why_earliest = {};   ///< "its cure runs until then"
  std::optional<int> due = {};     ///< wanted to end by then
  std::optional<int> pinned = {};  ///< start chosen by hand
};

struct Problem {
  std::vector<Resource> resources;
  std::vector<Task> tasks;
  int horizon = 14 * kDay;  ///< nothing is planned to end beyond
};

struct Bar {
  size_t task = 0;
  int start = 0, end = 0;
  std::vector<size_t> resources;  ///< one for each need
  std::optional<size_t> person;   ///< for the attended minutes
  int late = 0;                   ///< minutes beyond its due time
};

/// What cannot be: a task that found no place, a pin that cannot hold, a due time that is missed.
struct Unmet {
  enum class Kind { unplaced, pin, late };
  Kind kind = Kind::unplaced;
  size_t task = 0;
  std::string why;  ///< a sentence
};

struct Layout {
  std::vector<Bar> bars;  ///< by start
  std::vector<Unmet> unmet;
  long lateness = 0;  ///< sum over tasks, minutes
  const Bar* of(size_t task) const;
};

/// Places the tasks one after the other in the given order, each as early as it can be, predecessors first (serial
/// schedule generation, Kolisch 1996). Pins are kept where they can be. Tasks in a circle find no place.
Layout place(const Problem& problem, const std::vector<size_t>& order);

/// The best order found: several rules, then insertions that make it better (iterated local search, a fixed number of
/// tries drawn from `seed`, so that the same day gives the same plan). Better is: more tasks placed, then less
/// lateness, then earlier ends of what nothing waits for with fewer changes from group to group.
Layout plan(const Problem& problem, uint64_t seed = 1);

/// Whether `a` is better than `b` in that sense.
bool better(const Problem& problem, const Layout& a, const Layout& b);

/// Sentences about what a layout breaks: overlaps, waits, hours, calibration, who may; empty for a sound one.
std::vector<std::string> faults(const Problem& problem, const Layout& layout);

}  // namespace fortitor::day
