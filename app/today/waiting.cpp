#include "app/today/waiting.h"

#include <QLocale>
#include <algorithm>
#include <map>

#include "app/theme/parts.h"
#include "core/bench/marks.h"
#include "core/practice/practice.h"

namespace fortitor {
namespace {

using parts::qs;
using Due = TodayRow::Due;

// Waiting in the order in which it costs most.
enum Rank { judgement, halves, signature, run, set_up, measure, prepare };

Rank rank_of(const SpecimenRow& s) {
  if (s.open_judgements > 0) return judgement;
  switch (next_stage(s.stages)) {
    case Stage::after: return halves;
    case Stage::evaluate:
    case Stage::sign_off: return signature;
    case Stage::run: return run;
    case Stage::set_up: return set_up;
    case Stage::measure: return measure;
    case Stage::prepare: break;
  }
  return prepare;
}

// What a specimen or several wait for, in words.
TodayRow row_of(const SpecimenRow& s, Rank rank, const QString& name, const Method& method) {
  TodayRow row;
  row.key = "today:" + QString::number(s.id);
  row.id = s.id;
  const auto say = [&](const char* when, Due due, const QString& what, const QString& why, const char* action,
                       Stage stage) {
    row.when = when;
    row.due = due;
    row.title = name + ": " + what;
    row.why = why;
    row.action = action;
    row.part = int(stage);
  };
  const int n = s.open_judgements;
  switch (rank) {
    case judgement:
      say("now", Due::now, QString::number(n) + (n == 1 ? " judgement waits" : " judgements wait"),
          "The numbers are there. Sign-off waits for your word.", "Decide", Stage::evaluate);
      break;
    case halves:
      say("now", Due::now, qs(method.wording.to_measure), qs(method.wording.measure_why), "Go on", Stage::after);
      break;
    case signature:
      say("next", Due::soon, "ready to sign", "Everything is answered.", "Sign off", Stage::sign_off);
      break;
    case run: say("next", Due::soon, "ready to run", "Measured and set up.", "Run", Stage::run); break;
    case set_up: say("next", Due::soon, "to set up", "Choose cell, speed and stops.", "Set up", Stage::set_up); break;
    case measure:
      say("later", Due::later, "to measure", "Three readings a dimension.", "Measure", Stage::measure);
      break;
    case prepare: say("later", Due::later, "to prepare", "Log lot, material and limits.", "Prepare", Stage::prepare);
  }
  return row;
}

// When the plan has a piece next, today, to do and not to wait: "11:40".
std::map<Id, QString> planned_hours(const DayBoard& day) {
  std::map<Id, QString> out;
  const AgendaPtr a = day.agenda();
  if (a == nullptr) return out;
  for (const day::Bar& b : a->layout.bars) {
    const auto& e = a->entries[b.task];
    if (e.step == "wait" || a->day_of(b.start) != a->from) continue;
    const QString at = qs(a->when(b.start).substr(11));
    const auto known = out.find(e.specimen);
    if (known == out.end() || at < known->second) out[e.specimen] = at;
  }
  return out;
}

TodayRow row_of(const RunningTimer& t, const QDate& today) {
  const QDateTime end = QDateTime::fromString(qs(t.row.ends_at), Qt::ISODate).toLocalTime();
  const bool over = t.left <= 0;
  TodayRow row;
  row.when = over                  ? "now"
             : end.date() == today ? end.toString("hh:mm")
                                   : QLocale(QLocale::English).toString(end, "ddd");
  row.due = over ? Due::now : end.date() == today ? Due::today : Due::later;
  row.title = qs(t.row.code) + ": " + qs(t.row.label).toLower() + (over ? " is over" : " runs");
  row.why = over ? "The piece can be run."
                 : "Ends " + QLocale(QLocale::English).toString(end, "ddd d MMM, hh:mm") +
                       ". A run before is refused until you say why.";
  row.action = over ? "Take over" : "Look";
  row.key = "today:" + QString::number(t.row.specimen);
  row.id = t.row.specimen;
  row.part = int(Stage::prepare);
  return row;
}

// A calibration that ends within the week, with the planned runs that would miss it.
void remind_of_kit(const DayBoard& day, const std::string& today, std::vector<std::pair<std::string, TodayRow>>& rows) {
  for (const kit::Item& item : day.input().items) {
    const std::string due = item.due();
    if (item.is_bench() || item.retired() || due.empty() || due < today || days_between(today, due) > 7) continue;
    size_t lost = 0;
    if (const AgendaPtr a = day.agenda())
      for (const agenda::Piece& p : day.input().pieces) {
        if (p.record.fields.text(item.path("id")) != item.name()) continue;
        bool before = false;
        for (const day::Bar& b : a->layout.bars)
          before = before || (a->entries[b.task].specimen == p.specimen && a->entries[b.task].step == "run");
        lost += !before && p.stages[size_t(Stage::run)] != '2';
      }
    TodayRow row;
    row.when =
        due == today ? "today" : QLocale(QLocale::English).toString(QDate::fromString(qs(due), Qt::ISODate), "ddd");
    row.due = due == today ? Due::today : Due::later;
    row.title = qs(item.name()) + ": calibration ends " + qs(day_words(due, today));
    row.why =
        lost > 0 ? QString::number(lost) + (lost == 1 ? " planned run falls after it." : " planned runs fall after it.")
                 : QString("Every planned run comes before it.");
    row.action = "Kit";
    row.key = "today-kit:" + qs(item.name());
    row.desk = "kit";
    row.id = item.id;
    row.part = -1;
    rows.emplace_back("2" + due, row);
  }
}

}  // namespace

std::vector<TodayRow> today_rows(const std::vector<JobOutline>& outline, const std::vector<RunningTimer>& timers,
                                 const DayBoard& day, const std::string& today) {
  std::vector<std::pair<std::string, TodayRow>> rows;  // by what they are ordered
  const QDate date = QDate::fromString(qs(today), Qt::ISODate);
  for (const RunningTimer& t : timers) {
    TodayRow row = row_of(t, date);
    const std::string order = row.due == Due::now     ? "0"
                              : row.due == Due::today ? "1" + row.when.toStdString()
                                                      : "2" + t.row.ends_at;
    rows.emplace_back(order, std::move(row));
  }
  remind_of_kit(day, today, rows);
  const auto hours = planned_hours(day);
  for (const auto& [job, all_series, spectra] : outline) {
    if (job.code == practice::kJob) continue;
    for (const auto& [series, specimens] : all_series) {
      std::map<Rank, std::vector<const SpecimenRow*>> groups;
      for (const SpecimenRow& s : specimens)
        if (!s.signed_off) groups[rank_of(s)].push_back(&s);
      const Method& method = *methods::find(series.method);
      for (const auto& [rank, pieces] : groups) {
        const bool alone = rank == judgement;  // each is a question of its own
        for (size_t i = 0; i < (alone ? pieces.size() : 1); ++i) {
          std::vector<std::string> marks;
          QString hour;
          for (const SpecimenRow* s : pieces) {
            if (alone && s != pieces[i]) continue;
            marks.push_back(s->code);
            if (const auto at = hours.find(s->id); at != hours.end() && (hour.isEmpty() || at->second < hour))
              hour = at->second;
          }
          TodayRow row = row_of(*pieces[i], rank, qs(marks_in_short(marks)) + "  " + qs(series.title), method);
          if (rank == signature && marks.size() == 1)
            row.why = "Everything is answered. Verdict: " + qs(pieces[i]->verdict) + ".";
          std::string order = std::string(rank <= halves ? "0" : rank <= set_up ? "3" : "4") + char('a' + rank);
          if (rank > halves && !hour.isEmpty()) {
            row.when = hour;
            row.due = Due::today;
            order = "1" + hour.toStdString();
          }
          rows.emplace_back(order, std::move(row));
        }
      }
    }
  }
  std::stable_sort(rows.begin(), rows.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<TodayRow> out;
  for (auto& [order, row] : rows) out.push_back(std::move(row));
  return out;
}

}  // namespace fortitor
