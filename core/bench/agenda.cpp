#include "core/bench/agenda.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/bench/progress.h"
#include "core/quantity/date.h"
#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor::agenda {
namespace {

using day::kDay;
using day::Problem;
using day::Resource;
using day::Task;

// Minutes from the first midnight to a local time; what lies before is 0.
int minute_of(const std::string& from, const std::string& at) {
  if (at.size() < 16 || !is_day(at.substr(0, 10))) return 0;
  return days_between(from, at.substr(0, 10)) * kDay + parse_clock(at.substr(11, 5)).value_or(0);
}

std::vector<day::Span> closed(const Person& p, const Hours& hours, const std::string& from, int days) {
  std::vector<day::Span> out;
  auto add = [&](int a, int b) {
    if (b <= a) return;
    if (!out.empty() && out.back().to >= a)
      out.back().to = std::max(out.back().to, b);
    else
      out.push_back({a, b});
  };
  std::vector<day::Span> breaks = hours.breaks;
  std::sort(breaks.begin(), breaks.end(), [](const day::Span& a, const day::Span& b) { return a.from < b.from; });
  for (int d = 0; d < days; ++d) {
    const int at = d * kDay;
    if (hours.days.find(char('0' + iso_weekday(days_after(from, d)))) == std::string::npos) {
      add(at, at + kDay);
      continue;
    }
    add(at, at + p.from);
    for (const day::Span& b : breaks) add(at + std::clamp(b.from, p.from, p.to), at + std::clamp(b.to, p.from, p.to));
    add(at + p.to, at + kDay);
  }
  return out;
}

// Resources, each once.
class Machines {
 public:
  Machines(const Input& in, Problem& p) : in_(in), p_(p) {}

  size_t item(const kit::Item& item) {
    const auto [it, fresh] = at_.try_emplace(item.kind + "/" + item.name(), p_.resources.size());
    if (!fresh) return it->second;
    Resource r{it->first, item.name()};
    r.who = kit::names_in(item.fields.text("settings.who"));
    const std::string due = item.due();
    if (item.retired()) {
      r.ends = 0;
      r.why_ends = "it is retired";
    } else if (!item.held().empty()) {
      r.ends = 0;
      r.why_ends = "held: " + item.held();
    } else if (!due.empty()) {  // its last day still counts
      r.ends = std::max(0, (days_between(in_.from, due) + 1) * kDay);
      r.why_ends = std::string("its calibration ") + (due < in_.from ? "ended " : "ends ") + day_words(due, in_.from);
    }
    p_.resources.push_back(std::move(r));
    return it->second;
  }
  // Named in a record, unknown to the Kit.
  size_t named(const std::string& kind, const std::string& name, const std::string& due) {
    const auto [it, fresh] = at_.try_emplace(kind + "/" + name, p_.resources.size());
    if (!fresh) return it->second;
    Resource r{it->first, name};
    if (is_day(due)) {
      r.ends = std::max(0, (days_between(in_.from, due) + 1) * kDay);
      r.why_ends = "its calibration ends " + day_words(due, in_.from);
    }
    p_.resources.push_back(std::move(r));
    return it->second;
  }
  size_t place(const std::string& name) {
    const auto [it, fresh] = at_.try_emplace("place/" + name, p_.resources.size());
    if (fresh) p_.resources.push_back({it->first, name, Resource::Kind::place});
    return it->second;
  }

 private:
  const Input& in_;
  Problem& p_;
  std::map<std::string, size_t> at_;
};

// What a run takes: of every slot of Set up the item that the record names; where the main machine is not chosen yet,
// any of its kind.
std::vector<std::vector<size_t>> needs_of(const Piece& piece, const Input& in, Machines& machines) {
  std::vector<std::vector<size_t>> out;
  bool first = true;
  for (const EquipmentSlot& slot : piece.method->equipment) {
    if (slot.stage != Stage::set_up) continue;
    const std::string base = "equipment." + slot.id + ".", name = piece.record.fields.text(base + "id");
    const bool main = std::exchange(first, false);
    if (!name.empty()) {
      const auto it = std::find_if(in.items.begin(), in.items.end(),
                                   [&](const kit::Item& i) { return i.kind == slot.id && i.name() == name; });
      out.push_back({it != in.items.end() ? machines.item(*it)
                                          : machines.named(slot.id, name, piece.record.fields.text(base + "due"))});
      continue;
    }
    if (!main) continue;
    std::vector<size_t> any;
    for (const kit::Item& i : in.items)
      if (i.kind == slot.id && !i.retired()) any.push_back(machines.item(i));
    if (any.empty())
      any.push_back(machines.named(slot.id, slot.label, {}));  // the laboratory has one, the Kit does not say which
    out.push_back(std::move(any));
  }
  return out;
}

std::string span_words(int minutes) {
  if (minutes < 120) return std::to_string(minutes) + " min";
  if (minutes < 2 * kDay) return significant(minutes / 60.0, 2) + " h";
  return significant(double(minutes) / kDay, 2) + " d";
}

const Pin* chosen(const Input& in, long long specimen, const std::string& step) {
  for (const Pin& pin : in.pins)
    if (pin.specimen == specimen && pin.step == step) return &pin;
  return nullptr;
}

}  // namespace

Lasting run_lasting(const Method& method, const TestRecord& record, const Past& past) {
  constexpr int kHandling = 4;  // into the grips, zero, out again
  const int usual = method.minutes.run;
  const auto worked_out = method.run_time ? method.run_time(record) : std::nullopt;
  const auto with_hands = [](double minutes) { return kHandling + std::max(1, int(std::ceil(minutes))); };
  if (worked_out && worked_out->alone) {
    const int machine = int(std::min(std::ceil(worked_out->seconds / 60), 1e6));
    return {machine, std::min(machine, usual), worked_out->why};
  }
  if (past.runs >= kFewRuns && past.minutes > 0) {
    const int n = with_hands(std::min(past.minutes, 1e6));
    return {n, n, "the last " + std::to_string(past.runs) + " runs of this kind"};
  }
  if (worked_out) {
    const int n = with_hands(std::min(worked_out->seconds / 60, 1e6));
    return {n, n, worked_out->why};
  }
  return {usual, usual, "what it usually takes"};
}

Agenda plan(const Input& in) {
  Agenda a;
  a.from = in.from;
  a.to_make = in.to_make;
  Problem& p = a.problem;
  p.horizon = in.days * kDay;
  int last = 0;
  for (const Person& person : in.hours.people) {
    p.resources.push_back(
        {"person/" + person.name, person.name, Resource::Kind::person, closed(person, in.hours, in.from, in.days)});
    last = std::max(last, person.to);
  }
  Machines machines(in, p);
  const int now = in.now.empty() ? 0 : std::max(0, (minute_of(in.from, in.now) + 4) / 5 * 5);
  for (const Piece& piece : in.pieces) {
    if (piece.method == nullptr || piece.stages.size() != size_t(kStageCount)) continue;
    const auto done = [&](Stage s) { return piece.stages[size_t(s)] == '2'; };
    const Minutes& minutes = piece.method->minutes;
    std::optional<size_t> before;
    const auto add = [&](const std::string& step, const std::string& words, Stage stage, int length,
                         bool person) -> Task& {
      Task t;
      t.id = piece.code + "/" + step;
      t.title = piece.code + ": " + words;
      t.group = piece.job + "/" + piece.series;
      std::string lasts = span_words(length);
      if (const Pin* by_hand = chosen(in, piece.specimen, step); by_hand != nullptr && by_hand->minutes > 0 && person)
        length = by_hand->minutes, lasts = span_words(length) + ", as typed";
      t.minutes = length;
      t.attended = person ? length : 0;
      t.earliest = now;
      if (before) t.after = {*before};
      if (const Pin* pin = chosen(in, piece.specimen, step); pin != nullptr && !pin->at.empty()) {
        const int at = minute_of(in.from, pin->at);
        if (at >= now && at < p.horizon) t.pinned = at;  // what lies behind is history
      }
      before = p.tasks.size();
      p.tasks.push_back(std::move(t));
      a.entries.push_back({piece.specimen, step, piece.job, piece.code, piece.series,
                           is_day(piece.due) ? piece.due : std::string(), stage, std::move(lasts)});
      return p.tasks.back();
    };
    const auto due = [&](Task& t) {
      if (is_day(piece.due)) t.due = days_between(in.from, piece.due) * kDay + last;
    };
    const int open = !done(Stage::prepare) + !done(Stage::measure) + !done(Stage::set_up);
    if (!done(Stage::run) && !piece.on_rig) {
      if (open > 0) {
        const Stage at = !done(Stage::prepare)   ? Stage::prepare
                         : !done(Stage::measure) ? Stage::measure
                                                 : Stage::set_up;
        add("before",
            open == 3              ? "prepare and measure"
            : at == Stage::set_up  ? "set up"
            : at == Stage::measure ? "measure"
                                   : "prepare",
            at, std::max(1, (minutes.before * open + 2) / 3), true);
      }
      for (const TimerSpec& timer : piece.method->timers) {
        const double wanted = piece.record.fields.number(timer.stated_path).value_or(0),
                     elapsed = piece.record.fields.number(timer.elapsed_path).value_or(0);
        if (piece.timer == timer.name || !(wanted > elapsed)) continue;
        const bool answered = std::any_of(piece.record.answers.begin(), piece.record.answers.end(),
                                          [&](const Answer& said) { return said.code == timer.finding; });
        if (answered) continue;
        std::string words = timer.name;
        words[0] = plain::lower(words[0]);
        Task& wait = add("wait", words, Stage::prepare, int(std::ceil(std::min((wanted - elapsed) / 60, 1e6))), false);
        wait.needs = {{machines.place(timer.name)}};
      }
      auto needs = needs_of(piece, in, machines);
      const auto past = in.past.find(piece.method->id);
      const Lasting lasting = run_lasting(*piece.method, piece.record, past == in.past.end() ? Past{} : past->second);
      Task& run = add("run", "run", Stage::run, lasting.machine, true);
      const Pin* typed = chosen(in, piece.specimen, "run");
      if (typed == nullptr || typed->minutes <= 0) a.entries.back().lasts += ": " + lasting.why;
      if (lasting.person < lasting.machine) run.attended = std::min(run.minutes, lasting.person);
      run.needs = std::move(needs);
      if (!piece.timer_ends.empty()) {
        run.earliest = std::max(now, minute_of(in.from, piece.timer_ends));
        run.why_earliest = "its " + piece.timer + " runs until " + piece.timer_ends.substr(11, 5) + ", " +
                           day_words(piece.timer_ends.substr(0, 10), in.from);
      }
      due(run);
    }
    if (piece.on_rig) continue;
    due(add("after",
            !done(Stage::after)      ? "measure, judge and sign"
            : !done(Stage::evaluate) ? "judge and sign"
                                     : "sign off",
            !done(Stage::after)      ? Stage::after
            : !done(Stage::evaluate) ? Stage::evaluate
                                     : Stage::sign_off,
            minutes.after, true));
  }
  a.layout = day::plan(p);
  return a;
}

std::string Agenda::when(int minute) const {
  return days_after(from, minute / kDay) + "T" + clock_words(minute % kDay);
}

std::string step_words(const Agenda& a, size_t task) {
  const std::string& title = a.problem.tasks[task].title;
  return title.substr(title.find(": ") + 2);
}

}  // namespace fortitor::agenda
