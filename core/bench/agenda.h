// The day plan of a laboratory: what the pieces of its jobs still want, laid out on machines, people and waits.
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/bench/kit.h"
#include "core/methods/method.h"
#include "core/outcome.h"
#include "core/plan/day.h"

namespace fortitor::agenda {

struct Person {
  std::string name;
  int from = 8 * 60, to = 16 * 60 + 30;  ///< minutes of the day
};

/// Who is there and when.
struct Hours {
  std::vector<Person> people;
  std::vector<day::Span> breaks = {{12 * 60, 12 * 60 + 30}};  ///< minutes of the day
  std::string days = "12345";                                 ///< Monday 1 … Sunday 7
};
/// Errors: no person, a name twice, hours or breaks that end before they begin.
Outcome<Done> check(const Hours& hours);
Outcome<Hours> hours_from_json(std::string_view json);
std::string hours_to_json(const Hours& hours);
/// "8:00", "08.30", "16" as minutes of the day; nothing for what is no time.
std::optional<int> parse_clock(std::string_view typed);
std::string clock_words(int minute_of_day);

/// A piece that is not signed yet.
struct Piece {
  long long specimen = 0;
  std::string job, series, code;  ///< number of the job, title of the series, marking
  std::string due;                ///< day of the job; empty: none
  std::string stages;             ///< one character a stage, as the book has it
  const Method* method = nullptr;
  TestRecord record;              ///< as typed, without samples
  std::string timer, timer_ends;  ///< label and end ("2026-11-26T10:30", local) of the one that runs; empty: none
  bool on_rig = false;            ///< runs by itself already
};

/// A start or a length chosen by hand.
struct Pin {
  long long specimen = 0;
  std::string step, at = {};  ///< "2026-11-26T10:00", local; empty: only its length is chosen
  int minutes = 0;            ///< 0: as it is worked out
};

/// What runs of a method took in this book: the median of the last of them, minutes.
struct Past {
  double minutes = 0;
  size_t runs = 0;
};
inline constexpr size_t kPastRuns = 20;  ///< that are looked at
inline constexpr size_t kFewRuns = 3;    ///< with fewer nothing is said

/// How long a step takes: on its machine, of a person; and where that comes from.
struct Lasting {
  int machine = 0, person = 0;
  std::string why;
};
/// Of a run: what a machine does alone by its own time; else the book's past, else what the record asks for, both with
/// what goes in and out of the grips; else what the method usually takes.
Lasting run_lasting(const Method& method, const TestRecord& record, const Past& past);
inline constexpr long long kMostMinutes = 100LL * day::kDay;  ///< of a step
Outcome<std::vector<Pin>> pins_from_json(std::string_view json);
std::string pins_to_json(const std::vector<Pin>& pins);

/// Pieces that a demand wants and nobody has cut yet: nothing of them can be laid out.
struct ToMake {
  std::string job, series, what;  ///< what: "Rm ≥ 490 MPa"
  int pieces = 0;
};
std::string words_of(const ToMake& wanted);

struct Input {
  std::string from;  ///< first day, ISO
  std::string now;   ///< "2026-11-25T14:20", local; nothing is planned before; empty: from the first minute of `from`
  int days = 14;
  Hours hours;
  std::vector<Piece> pieces;
  std::vector<kit::Item> items;
  std::vector<Pin> pins;
  std::vector<ToMake> to_make = {};
  std::map<std::string, Past> past = {};  ///< by method
};

/// Steps: "before" (prepare, measure, set up), "wait" (cure, conditioning), "run", "after" (measure, judge, sign).
struct Agenda {
  struct Entry {
    long long specimen = 0;
    std::string step, job, code, series;
    std::string due;               ///< day of the job; empty: none
    Stage stage = Stage::prepare;  ///< where the work is done
    std::string lasts;             ///< where its length comes from: "8 min: the last 12 runs"
  };
  std::string from;
  day::Problem problem;
  std::vector<Entry> entries;  ///< one a task
  std::vector<ToMake> to_make = {};
  day::Layout layout;

  /// "2026-11-26T10:05", local.
  std::string when(int minute) const;
  std::string day_of(int minute) const { return when(minute).substr(0, 10); }
};

/// Lays the days out.
Agenda plan(const Input& input);

/// {"fortitor": "plan/1", from, bars: [{job, series, specimen, step, start, end, machines, person, late}], unmet, …}.
std::string to_json(const Agenda& agenda);
/// iCalendar (RFC 5545), one event a bar, local times without a zone. `stamp`: "20261125T142000Z".
std::string to_ics(const Agenda& agenda, const std::string& stamp);
/// What people read: days, times, who, where.
std::string to_text(const Agenda& agenda);
/// "run", "measure", "cure" in words for a bar.
std::string step_words(const Agenda& agenda, size_t task);

}  // namespace fortitor::agenda
