// Practice on the stand-in machines: a task, one or two things that go wrong unseen, and what came of it.
#pragma once

#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/practice/timeline.h"

namespace fortitor::practice {

/// Job in which practice pieces lie, apart from every other.
inline const std::string kJob = "PRACTICE";

struct Task {
  std::string id, title, method;
  std::string piece;                ///< of the method's stand-in
  std::string words;                ///< what is wanted, in a sentence
  std::vector<std::string> faults;  ///< that may be hidden in it, ids of the stand-in
};
const std::vector<Task>& tasks();
const Task* find(const std::string& id);

/// Whether a record is practice and nothing else.
bool is_practice(const TestRecord& record);
/// Task and seed of a practice record.
const Task* task_of(const TestRecord& record);
uint64_t seed_of(const TestRecord& record);

/// What is hidden: none in one of five, else one, or two where the task has more than one. The same seed hides the
/// same.
std::set<std::string> draw(const Task& task, uint64_t seed);
/// A piece to be worked on, marked through and through; the stand-in holds what the seed says.
TestRecord begin(const Task& task, uint64_t seed, const std::string& code);

/// A result beside the truth.
struct Row {
  std::string key, symbol, name;
  double yours = 0, truth = 0;
  Dimension dimension = Dimension::none;
  int figures = 4;
  bool there = true;  ///< the person has this result
  bool off = false;   ///< by more than its uncertainty and one per cent
};

/// One thing that went wrong.
struct Hidden {
  std::string id, words;
  std::vector<std::string> shows;  ///< findings it is seen by on a run of a careful hand
  enum class Seen { seen, accepted, missed } seen = Seen::missed;
  std::string how;   ///< what was done about it, or not
  std::string cost;  ///< what it does to the result it moves most: "R_m +28 MPa"
  Instant when;      ///< where it takes hold in this run
};

struct Debrief {
  std::vector<Row> rows;
  std::vector<Hidden> hidden;
  std::vector<Moment> moments;  ///< what happened, what could be seen, what was done, along the run
  Figure course;                ///< the run as recorded over a careful run of the sound piece, along the same line
  size_t seen() const;          ///< hidden things that were seen
  size_t off() const;           ///< results that are off
};
/// Holds a run against the same piece, sound and carefully handled. `evaluation` of the whole record.
Debrief debrief(const TestRecord& record, const Evaluation& evaluation, const Worked& worked = {});

}  // namespace fortitor::practice
