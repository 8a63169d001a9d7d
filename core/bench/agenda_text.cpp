// The day plan in and out: hours and pins as the book keeps them; JSON, iCalendar and text of a plan.
#include <algorithm>
#include <set>

#include "core/bench/agenda.h"
#include "core/json/json.h"
#include "core/quantity/date.h"
#include "core/quantity/plain.h"

namespace fortitor::agenda {
namespace {

// RFC 5545, 3.3.11: what means something in a text is escaped.
std::string escaped(const std::string& s) {
  std::string out;
  for (char c : s) {
    if (c == '\\' || c == ';' || c == ',') out += '\\';
    if (c == '\n') {
      out += "\\n";
      continue;
    }
    if (c != '\r') out += c;
  }
  return out;
}

// Lines of at most 75 octets, never cut within a character (RFC 5545, 3.1).
std::string line(const std::string& s) {
  std::string out;
  size_t at = 0, room = 75;
  while (s.size() - at > room) {
    size_t cut = at + room;
    while (cut > at && (static_cast<unsigned char>(s[cut]) & 0xC0) == 0x80) --cut;
    out += s.substr(at, cut - at) + "\r\n ";
    at = cut;
    room = 74;
  }
  return out + s.substr(at) + "\r\n";
}

std::string compact(const std::string& when) {  // "2026-11-26T10:05" → "20261126T100500"
  std::string out;
  for (char c : when)
    if (c != '-' && c != ':') out += c;
  return out + "00";
}

std::vector<std::string> machines_of(const Agenda& a, const day::Bar& b) {
  std::vector<std::string> out;
  for (size_t r : b.resources) out.push_back(a.problem.resources[r].name);
  return out;
}

std::string joined(const std::vector<std::string>& words) {
  std::string out;
  for (const std::string& w : words) out += (out.empty() ? "" : ", ") + w;
  return out;
}

}  // namespace

std::optional<int> parse_clock(std::string_view typed) {
  while (!typed.empty() && typed.front() == ' ') typed.remove_prefix(1);
  while (!typed.empty() && typed.back() == ' ') typed.remove_suffix(1);
  int hour = 0, minute = 0;
  size_t i = 0;
  for (; i < typed.size() && plain::is_digit(typed[i]); ++i) hour = hour * 10 + (typed[i] - '0');
  if (i == 0 || i > 2) return std::nullopt;
  if (i < typed.size()) {
    if (typed[i] != ':' && typed[i] != '.') return std::nullopt;
    if (typed.size() - i != 3 || !plain::is_digit(typed[i + 1]) || !plain::is_digit(typed[i + 2])) return std::nullopt;
    minute = (typed[i + 1] - '0') * 10 + (typed[i + 2] - '0');
  }
  if (hour > 24 || minute > 59 || hour * 60 + minute > 24 * 60) return std::nullopt;
  return hour * 60 + minute;
}

std::string clock_words(int minute) {
  const auto two = [](int n) { return (n < 10 ? "0" : "") + std::to_string(n); };
  return two(minute / 60) + ":" + two(minute % 60);
}

Outcome<Done> check(const Hours& h) {
  if (h.people.empty()) return InputError{"At least one person is wanted.", {}};
  if (h.days.empty()) return InputError{"At least one working day is wanted.", {}};
  for (char c : h.days)
    if (c < '1' || c > '7') return InputError{"Working days are 1 (Monday) to 7 (Sunday).", {}};
  std::set<std::string> names;
  for (const Person& p : h.people) {
    if (p.name.empty()) return InputError{"A person wants a name.", {}};
    if (!names.insert(p.name).second) return InputError{p.name + " is there twice.", {}};
    if (p.from < 0 || p.to > 24 * 60 || p.to <= p.from)
      return InputError{p.name + ": the day ends before it begins.", {}};
  }
  for (const day::Span& b : h.breaks)
    if (b.from < 0 || b.to > 24 * 60 || b.to <= b.from) return InputError{"A break ends before it begins.", {}};
  return Done{};
}

Outcome<Hours> hours_from_json(std::string_view text) {
  const Json j = Json::read(text);
  Hours h;
  h.breaks.clear();
  const auto clock = [](const Json& v) { return v.is_string() ? parse_clock(v.get<std::string>()) : std::nullopt; };
  if (!j.is_object() || !j.contains("people") || !j["people"].is_array())
    return InputError{"The hours of the plan cannot be read.", {}};
  for (const Json& p : j["people"]) {
    if (!p.is_object() || !p.contains("name") || !p["name"].is_string())
      return InputError{"The hours of the plan cannot be read: a person without a name.", {}};
    const auto from = clock(p.value("from", Json())), to = clock(p.value("to", Json()));
    h.people.push_back({p["name"].get<std::string>(), from.value_or(8 * 60), to.value_or(16 * 60 + 30)});
  }
  if (j.contains("breaks") && j["breaks"].is_array())
    for (const Json& b : j["breaks"])
      if (b.is_array() && b.size() == 2)
        if (const auto from = clock(b[0]), to = clock(b[1]); from && to) h.breaks.push_back({*from, *to});
  if (j.contains("days") && j["days"].is_string()) h.days = j["days"].get<std::string>();
  if (const auto fine = check(h); !fine) return fine.error();
  return h;
}

std::string hours_to_json(const Hours& h) {
  Json j;
  j["people"] = Json::array();
  for (const Person& p : h.people)
    j["people"].push_back({{"name", p.name}, {"from", clock_words(p.from)}, {"to", clock_words(p.to)}});
  j["breaks"] = Json::array();
  for (const day::Span& b : h.breaks) j["breaks"].push_back({clock_words(b.from), clock_words(b.to)});
  j["days"] = h.days;
  return j.dump();
}

Outcome<std::vector<Pin>> pins_from_json(std::string_view text) {
  const Json j = Json::read(text);
  if (!j.is_array()) return InputError{"The pins of the plan cannot be read.", {}};
  std::vector<Pin> out;
  for (const Json& p : j)
    if (p.is_object() && p.contains("specimen") && p["specimen"].is_number_integer() && p.contains("step") &&
        p["step"].is_string() && p.contains("at") && p["at"].is_string()) {
      Pin pin{p["specimen"].get<long long>(), p["step"].get<std::string>(), p["at"].get<std::string>()};
      if (p.contains("minutes") && p["minutes"].is_number_integer())
        pin.minutes = int(std::clamp<long long>(p["minutes"].get<long long>(), 0, kMostMinutes));
      out.push_back(std::move(pin));
    }
  return out;
}

std::string pins_to_json(const std::vector<Pin>& pins) {
  Json j = Json::array();
  for (const Pin& p : pins) {
    j.push_back({{"specimen", p.specimen}, {"step", p.step}, {"at", p.at}});
    if (p.minutes > 0) j.back()["minutes"] = p.minutes;
  }
  return j.dump();
}

std::string to_json(const Agenda& a) {
  Json j = {{"fortitor", "plan/1"}, {"from", a.from}};
  j["bars"] = Json::array();
  for (const day::Bar& b : a.layout.bars) {
    const Agenda::Entry& e = a.entries[b.task];
    const day::Task& t = a.problem.tasks[b.task];
    j["bars"].push_back({{"job", e.job},
                         {"series", e.series},
                         {"specimen", e.code},
                         {"step", e.step},
                         {"title", t.title},
                         {"start", a.when(b.start)},
                         {"end", a.when(b.end)},
                         {"machines", machines_of(a, b)},
                         {"person", b.person ? Json(a.problem.resources[*b.person].name) : Json(nullptr)},
                         {"pinned", t.pinned == b.start},
                         {"due", t.due ? Json(e.due) : Json(nullptr)},
                         {"lasts", e.lasts},
                         {"late_minutes", b.late}});
  }
  j["unmet"] = Json::array();
  for (const day::Unmet& u : a.layout.unmet) {
    const Agenda::Entry& e = a.entries[u.task];
    j["unmet"].push_back({{"job", e.job},
                          {"specimen", e.code},
                          {"step", e.step},
                          {"kind", u.kind == day::Unmet::Kind::unplaced ? "unplaced"
                                   : u.kind == day::Unmet::Kind::pin    ? "pin"
                                                                        : "late"},
                          {"why", u.why}});
  }
  j["to_make"] = Json::array();
  for (const ToMake& w : a.to_make)
    j["to_make"].push_back({{"job", w.job}, {"series", w.series}, {"pieces", w.pieces}, {"what", w.what}});
  j["lateness_minutes"] = a.layout.lateness;
  return j.dump(1);
}

std::string words_of(const ToMake& w) {
  return w.job + ", " + w.series + ": " + std::to_string(w.pieces) +
         (w.pieces == 1 ? " more piece is" : " more pieces are") + " to be made for " + w.what + ".";
}

std::string to_ics(const Agenda& a, const std::string& stamp) {
  std::string out = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Fortitor//Day plan//EN\r\nCALSCALE:GREGORIAN\r\n";
  for (const day::Bar& b : a.layout.bars) {
    const Agenda::Entry& e = a.entries[b.task];
    const std::string person = b.person ? a.problem.resources[*b.person].name : "";
    out += "BEGIN:VEVENT\r\n" + line("UID:" + std::to_string(e.specimen) + "-" + e.step + "@fortitor") +
           line("DTSTAMP:" + stamp) + line("DTSTART:" + compact(a.when(b.start))) +
           line("DTEND:" + compact(a.when(b.end))) + line("SUMMARY:" + escaped(a.problem.tasks[b.task].title));
    if (const std::string where = joined(machines_of(a, b)); !where.empty()) out += line("LOCATION:" + escaped(where));
    out += line("DESCRIPTION:" + escaped(e.job + ", " + e.series + (person.empty() ? "" : "\n" + person))) +
           "END:VEVENT\r\n";
  }
  return out + "END:VCALENDAR\r\n";
}

std::string to_text(const Agenda& a) {
  std::string out, day;
  for (const day::Bar& b : a.layout.bars) {
    if (a.day_of(b.start) != day) out += (day.empty() ? "" : "\n") + day_words(day = a.day_of(b.start)) + "\n";
    const std::string where = joined(machines_of(a, b)),
                      end = a.day_of(b.end) == day
                                ? a.when(b.end).substr(11)
                                : day_words(a.day_of(b.end), a.from) + " " + a.when(b.end).substr(11);
    out += "  " + a.when(b.start).substr(11) + "–" + end + "  " + a.problem.tasks[b.task].title +
           (where.empty() ? "" : "  [" + where + "]") + (b.person ? "  " + a.problem.resources[*b.person].name : "") +
           "\n";
  }
  for (const day::Unmet& u : a.layout.unmet)
    out += (u.task == a.layout.unmet.front().task && &u == &a.layout.unmet.front() ? "\n" : "") + u.why + "\n";
  for (const ToMake& w : a.to_make) out += words_of(w) + "\n";
  return out.empty() ? "Nothing waits.\n" : out;
}

}  // namespace fortitor::agenda
