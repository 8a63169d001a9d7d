#include "core/quantity/date.h"

#include <array>
#include <charconv>
#include <chrono>
#include <optional>
#include <vector>

#include "core/quantity/plain.h"

namespace fortitor {
namespace {

using namespace std::chrono;

constexpr std::array<std::string_view, 12> kMonths = {"january",   "february", "march",    "april",
                                                      "may",       "june",     "july",     "august",
                                                      "september", "october",  "november", "december"};
constexpr std::array<std::string_view, 7> kWeekdays = {"sunday",   "monday", "tuesday", "wednesday",
                                                       "thursday", "friday", "saturday"};

std::string text_of(year_month_day d) {
  return plain::padded(int(d.year()), 4) + "-" + plain::padded(unsigned(d.month()), 2) + "-" +
         plain::padded(unsigned(d.day()), 2);
}

std::optional<int> whole(std::string_view s) {
  int n = 0;
  const auto [end, error] = std::from_chars(s.data(), s.data() + s.size(), n);
  if (s.empty() || error != std::errc() || end != s.data() + s.size() || s.front() == '-') return std::nullopt;
  return n;
}

std::optional<year_month_day> day_of(std::string_view s) {
  if (s.size() != 10 || s[4] != '-' || s[7] != '-') return std::nullopt;
  const auto y = whole(s.substr(0, 4)), m = whole(s.substr(5, 2)), d = whole(s.substr(8, 2));
  if (!y || !m || !d) return std::nullopt;
  const year_month_day day = year(*y) / *m / *d;
  return day.ok() && *y > 0 ? std::optional(day) : std::nullopt;
}

// Index of the name that the word is, or is the beginning of (three letters at least).
template <size_t N>
std::optional<int> named(const std::array<std::string_view, N>& names, std::string_view word) {
  if (word.size() < 3) return std::nullopt;
  for (size_t i = 0; i < N; ++i)
    if (names[i].substr(0, word.size()) == word || (names[i] == "september" && word == "sept")) return int(i);
  return std::nullopt;
}

std::vector<std::string> words_of(std::string_view typed, std::string_view between) {
  std::vector<std::string> out(1);
  for (const char c : typed) {
    if (plain::is_space(c) != 0 || between.find(c) != std::string_view::npos) {
      if (!out.back().empty()) out.emplace_back();
    } else {
      out.back() += plain::lower(c);
    }
  }
  if (out.back().empty()) out.pop_back();
  return out;
}

year_month_day shifted(year_month_day from, int months) {
  year_month_day d = from + std::chrono::months(months);
  return d.ok() ? d : d.year() / d.month() / last;
}

struct Reader {
  year_month_day today;
  DaySense sense;
  std::string typed;

  InputError unclear() const {
    return InputError{"“" + typed + "” is no day: write it as 27.11.2026, 27 Nov, Fri or in 3 days.", {}};
  }

  Outcome<std::string> checked(int y, int m, int d) const {
    const year_month_day day = year(y) / m / d;
    if (!day.ok()) return InputError{"“" + typed + "” is no day of the calendar.", {}};
    return text_of(day);
  }

  // A year of two digits is of this century; none: the nearest such day in the sense asked for.
  Outcome<std::string> dated(int d, int m, std::optional<std::string> y) const {
    if (y && !y->empty()) {
      const auto n = whole(*y);
      if (!n || (y->size() != 2 && y->size() != 4)) return unclear();
      return checked(y->size() == 2 ? 2000 + *n : *n, m, d);
    }
    // The 29th of February is there every fourth year, every eighth around a century.
    const int step = sense == DaySense::coming ? 1 : -1;
    for (int i = 0; i <= 8; ++i) {
      const year_month_day day = (today.year() + years(step * i)) / m / d;
      if (!day.ok()) continue;
      if (step > 0 ? sys_days(day) >= sys_days(today) : sys_days(day) <= sys_days(today)) return text_of(day);
    }
    return checked(int(today.year()), m, d);
  }

  std::string moved(int n, const std::string& unit) const {
    if (unit[0] == 'd') return text_of(sys_days(today) + days(n));
    if (unit[0] == 'w') return text_of(sys_days(today) + days(7 * n));
    return text_of(shifted(today, unit[0] == 'y' ? 12 * n : n));
  }

  // "in 3 days", "3 days", "2 weeks ago", "in a month"
  std::optional<std::string> counted(std::vector<std::string> w) const {
    int sign = sense == DaySense::past && w.front() != "in" ? -1 : 1;
    if (w.front() == "in") w.erase(w.begin());
    if (w.size() == 3 && w.back() == "ago") {
      sign = -1;
      w.pop_back();
    }
    if (w.size() != 2) return std::nullopt;
    const auto n = w[0] == "a" || w[0] == "an" || w[0] == "one" ? std::optional(1) : whole(w[0]);
    if (!n || *n > 36500) return std::nullopt;
    for (const char* unit : {"day", "days", "week", "weeks", "month", "months", "year", "years"})
      if (w[1] == unit) return moved(sign * *n, w[1]);
    return std::nullopt;
  }

  Outcome<std::string> read() const {
    std::vector<std::string> w = words_of(typed, ",");
    if (w.empty()) return unclear();
    if (w.size() == 1) {
      if (w[0] == "today") return text_of(today);
      if (w[0] == "tomorrow") return text_of(sys_days(today) + days(1));
      if (w[0] == "yesterday") return text_of(sys_days(today) - days(1));
      if (const auto d = day_of(w[0])) return text_of(*d);
      if (w[0].find('/') != std::string::npos) return slashed(words_of(w[0], "/"));
    }
    if (w.size() == 2 && (w[0] == "next" || w[0] == "last" || w[0] == "on")) w.erase(w.begin());
    if (w.size() == 1)
      if (const auto day = named(kWeekdays, w[0])) return weekday_of(*day);
    if (const auto day = counted(w)) return *day;
    return ordered(words_of(typed, ",.-"));
  }

  Outcome<std::string> weekday_of(int wanted) const {
    const int now = int(weekday(sys_days(today)).c_encoding());
    const int ahead = (wanted - now + 7) % 7;
    return text_of(sys_days(today) + days(sense == DaySense::coming || ahead == 0 ? ahead : ahead - 7));
  }

  // With strokes, day and month come in either order by country: only a day above 12 tells.
  Outcome<std::string> slashed(const std::vector<std::string>& p) const {
    if (p.size() != 2 && p.size() != 3) return unclear();
    const auto a = whole(p[0]), b = whole(p[1]);
    if (!a || !b) return unclear();
    const std::optional<std::string> y = p.size() == 3 ? std::optional(p[2]) : std::nullopt;
    if (*a > 12 || *a == *b) return dated(*a, *b, y);
    if (*b > 12) return dated(*b, *a, y);
    return InputError{"“" + typed + "” may be either of two days: write " + p[0] + "." + p[1] + ". for day and month.",
                      {}};
  }

  // "27.11.2026", "27 nov", "nov 27 2026"
  Outcome<std::string> ordered(const std::vector<std::string>& p) const {
    if (p.size() != 2 && p.size() != 3) return unclear();
    const std::optional<std::string> y = p.size() == 3 ? std::optional(p[2]) : std::nullopt;
    const auto first = whole(p[0]), second = whole(p[1]);
    if (first && second) return *second >= 1 && *second <= 12 ? dated(*first, *second, y) : unclear();
    if (const auto m = named(kMonths, p[1]); first && m) return dated(*first, *m + 1, y);
    if (const auto m = named(kMonths, p[0]); second && m) return dated(*second, *m + 1, y);
    return unclear();
  }
};

}  // namespace

bool is_day(std::string_view text) {
  return day_of(text).has_value();
}

Outcome<std::string> parse_day(std::string_view typed, const std::string& today, DaySense sense) {
  const auto now = day_of(today);
  if (!now) throw std::logic_error("today is no day: " + today);
  return Reader{*now, sense, std::string(typed)}.read();
}

std::string day_words(const std::string& day, const std::string& today) {
  const auto d = day_of(day);
  if (!d) return day;
  std::string month(kMonths[unsigned(d->month()) - 1].substr(0, 3));
  month[0] = plain::upper(month[0]);
  const std::string words = std::to_string(unsigned(d->day())) + " " + month;
  return today.substr(0, 4) == day.substr(0, 4) ? words : words + " " + day.substr(0, 4);
}

std::string moment_words(const std::string& at) {
  const std::string day = at.substr(0, 10);
  if (!is_day(day)) return at;
  const auto digits = [&](size_t from) { return plain::is_digit(at[from]) && plain::is_digit(at[from + 1]); };
  if (at.size() < 16 || (at[10] != 'T' && at[10] != ' ') || at[13] != ':' || !digits(11) || !digits(14))
    return at.size() == 10 ? day_words(day) : at;
  const size_t zone = at.find_first_of("Z+-", 16);
  const std::string said = zone == std::string::npos ? ""
                           : at[zone] == 'Z'         ? " (UTC)"
                                                     : " (UTC" + at.substr(zone) + ")";
  return day_words(day) + ", " + at.substr(11, 5) + said;
}

int days_between(const std::string& from, const std::string& to) {
  const auto a = day_of(from), b = day_of(to);
  if (!a || !b) throw std::logic_error("no day: " + from + ", " + to);
  return int((sys_days(*b) - sys_days(*a)).count());
}

std::string days_after(const std::string& day, int n) {
  const auto d = day_of(day);
  if (!d) throw std::logic_error("no day: " + day);
  return text_of(year_month_day(sys_days(*d) + days(n)));
}

int iso_weekday(const std::string& day) {
  const auto d = day_of(day);
  if (!d) throw std::logic_error("no day: " + day);
  return int(std::chrono::weekday(sys_days(*d)).iso_encoding());
}

std::string months_after(const std::string& day, int months) {
  const auto d = day_of(day);
  if (!d) throw std::logic_error("no day: " + day);
  return text_of(shifted(*d, months));
}

}  // namespace fortitor
