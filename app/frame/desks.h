// All desks there are. Who writes another adds it to desks.cpp, and nowhere else.
#pragma once

#include <vector>

namespace fortitor {

class DayBoard;
class Desk;
class TimerBoard;
class Workbench;

/// In the order in which Find or do offers what they have. The caller owns them.
std::vector<Desk*> make_desks(Workbench* bench, TimerBoard* timers, DayBoard* day);

}  // namespace fortitor
