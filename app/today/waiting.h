// What wants somebody today, as rows in the order in which they are due.
#pragma once

#include <QString>
#include <vector>

#include "app/model/timer_board.h"
#include "app/plan/day_board.h"

namespace fortitor {

struct TodayRow {
  enum class Due { now, today, soon, later };
  QString when;  ///< "now", "07:06", "Mon"
  Due due = Due::later;
  QString title, why, action, key;
  QString desk = "specimen";  ///< where the action leads
  Id id = 0;
  int part = 0;
};

/// Timers, open judgements, what the plan has today, calibrations that end within a week, and the rest: now, by the
/// hour, by the day, then what has no hour yet. Pieces of a series that wait for the same are one row, which leads to
/// the first of them.
std::vector<TodayRow> today_rows(const std::vector<JobOutline>& outline, const std::vector<RunningTimer>& timers,
                                 const DayBoard& day, const std::string& today);

}  // namespace fortitor
