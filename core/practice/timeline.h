// A run of practice along its own time: what happened, what could be seen of it, what was done.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/record/record.h"

namespace fortitor::practice {

/// A place on the line of a run: before it, at a time or row of it, after it.
struct Instant {
  enum class Place { before, during, after } place = Place::before;
  double at = 0;  ///< of `during`: s since the start, or the number of the row counted from 1
  bool operator==(const Instant&) const = default;
};

/// One dot of the debrief's three lines.
struct Moment {
  enum class Lane { happened, seen, did } lane = Lane::happened;
  enum class Tone { plain, good, near, bad } tone = Tone::plain;
  Instant when;
  std::string words;
};

/// A line of the logbook on the piece.
struct Deed {
  std::string at, words;  ///< UTC as the book writes it ("2026-11-26T09:12:44.120Z")
};

/// When the run began and ended by the clock, and what was done to the piece; empty where nobody knows.
struct Worked {
  std::string began, ended;
  std::vector<Deed> deeds;
};

/// What a run looks like along its line: force over time, the result of each row, or a list of readings.
struct Course {
  Axis x, y;
  std::vector<double> at, value;  ///< internal units
  bool timed = false;             ///< `at` is time, otherwise rows
  bool empty() const { return at.empty(); }
};
Course course_of(const TestRecord& record, const Evaluation& evaluation);
/// The two courses on one panel, the second under the first; empty when there is none of the first.
Panel panel_of(const Course& yours, const Course& truth);

/// Where a fault takes hold: the first place at which two runs of one piece, one of them with it, are not the same.
/// With time, that place by the travel of the machine on the course of `mine`, which may have gone at another speed.
Instant departure(const TestRecord& sound, const TestRecord& faulty, const TestRecord& mine);

/// When each finding of a whole record could first be seen: the run is evaluated again as far as it had come, at 40
/// places. Findings that nothing in the run brings are there before it; those of what is read of the broken piece,
/// after.
std::vector<Moment> when_seen(const TestRecord& record, const Evaluation& whole);

/// What was done: events of the run, answers, and lines of the logbook, in order.
std::vector<Moment> what_was_done(const TestRecord& record, const Worked& worked);

}  // namespace fortitor::practice
