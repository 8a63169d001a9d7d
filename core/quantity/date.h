// Days of the calendar as people type them. A day is kept as text, ISO 8601 ("2026-11-27"): such days compare as text.
#pragma once

#include <string>
#include <string_view>

#include "core/outcome.h"

namespace fortitor {

/// Which of several days a short form means: a due date lies ahead, a calibration behind.
enum class DaySense { coming, past };

/// Whether a text is a day as it is kept, one that the calendar has.
bool is_day(std::string_view text);

/// Reads "2026-11-27", "27.11.2026", "27.11.", "27 Nov", "Nov 27 2026", "Fri", "today", "tomorrow", "yesterday",
/// "in 3 days", "2 weeks ago", "in 1 month". Without a year (or with a weekday alone) the nearest day in `sense`
/// counts, `today` included. Errors: days the calendar does not have; "3/4/2026", which is April or March by country.
/// `today` is a day as it is kept.
Outcome<std::string> parse_day(std::string_view typed, const std::string& today, DaySense sense = DaySense::coming);

/// "27 Nov 2026"; without the year when it is that of `today`. Text that is no day comes back as it is.
std::string day_words(const std::string& day, const std::string& today = {});

/// "27 Nov 2026, 09:12 (UTC+01:00)" for an instant of ISO 8601; what it does not say is left out. Text that is no
/// instant comes back as it is.
std::string moment_words(const std::string& at);

/// Days from `from` to `to`; negative when `to` lies before. Both must be days.
int days_between(const std::string& from, const std::string& to);
/// The day so many days later (earlier when negative).
std::string days_after(const std::string& day, int days);
/// Monday 1 … Sunday 7.
int iso_weekday(const std::string& day);
/// The day `months` later, the last of its month where the month is too short.
std::string months_after(const std::string& day, int months);

}  // namespace fortitor
