// What the day plan wants to know of a book.
#pragma once

#include <string>

#include "core/bench/agenda.h"
#include "store/book.h"

namespace fortitor {

/// Settings of the book that the plan rests on: who is there and when, starts chosen by hand.
inline const std::string kPlanHours = "plan.hours", kPlanPins = "plan.pins";

/// Pieces that are not signed, those of the job due first in front, at most so many; the Kit, hours and pins. `from`:
/// first day; `now`: local time, "2026-11-25T14:20", or empty. Without hours in the book its operator is there on
/// weekdays.
Outcome<agenda::Input> agenda_input(const Book& book, const std::string& from, const std::string& now,
                                    size_t most = 150);
Outcome<agenda::Hours> plan_hours(const Book& book);
std::vector<agenda::Pin> plan_pins(const Book& book);

}  // namespace fortitor
