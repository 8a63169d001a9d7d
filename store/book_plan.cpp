#include "store/book_plan.h"

#include <QDateTime>
#include <algorithm>
#include <set>

#include "core/json/json.h"
#include "core/practice/practice.h"
#include "core/quantity/date.h"
#include "core/standin/benches.h"
#include "store/papers.h"

namespace fortitor {

Outcome<agenda::Hours> plan_hours(const Book& book) {
  if (const auto kept = book.setting(kPlanHours)) return agenda::hours_from_json(*kept);
  agenda::Hours h;
  std::string who = book.operator_name();
  if (const auto lines = book.logbook(1); who.empty() && !lines.empty()) who = lines.front().who;
  h.people = {{who.empty() ? "operator" : who}};
  return h;
}

std::vector<agenda::Pin> plan_pins(const Book& book) {
  const auto kept = book.setting(kPlanPins);
  auto pins = kept ? agenda::pins_from_json(*kept) : std::vector<agenda::Pin>{};
  return pins ? *pins : std::vector<agenda::Pin>{};
}

namespace {

// What the demand of a series wants beyond the pieces that are there. A test that turned out void is known where it is
// evaluated, not here.
agenda::ToMake to_make(const Book& book, const JobRow& job, const SeriesOutline& series) {
  agenda::ToMake out{job.code, series.series.title, "", 0};
  const auto demand = Papers(book).demand_of(series.series.id);
  if (!demand || !*demand) return out;
  std::vector<Id> ids;
  for (const SpecimenRow& s : series.specimens) ids.push_back(s.id);
  const auto records = book.typed_records(ids);
  std::vector<lab::DemandPiece> pieces;
  for (const auto& [id, r] : records) pieces.push_back({0, "", &r, nullptr});
  for (const auto& line : lab::completeness(**demand, pieces).lines)
    if (line.row.needed && line.still_to_make() > out.pieces) {
      out.pieces = line.still_to_make();
      out.what = line.row.words();
    }
  return out;
}

bool played(const std::string& source) {
  for (const Method* m : methods::all())
    if (const standin::Bench* bench = standin::find_bench(m->standin); bench != nullptr && bench->name == source)
      return true;
  return source == "bundle";
}

// Minutes; a run that is stored in less came out of a file.
constexpr double kAtOnce = 0.1;

// What runs took, by method: those a person was at and that nothing broke off. What stand-ins play and what came out of
// files took no time of a bench.
std::map<std::string, agenda::Past> past_runs(const Book& book) {
  std::map<std::string, std::vector<double>> minutes;
  for (const RunSpan& run : book.run_spans(agenda::kPastRuns)) {
    const auto at = [](const std::string& t) {
      return QDateTime::fromString(QString::fromStdString(t), Qt::ISODateWithMs);
    };
    if (played(run.source)) continue;
    const double took = double(at(run.started_at).msecsTo(at(run.closed_at))) / 60000;
    if (took > kAtOnce) minutes[run.method].push_back(took);
  }
  std::map<std::string, agenda::Past> out;
  for (auto& [method, all] : minutes) {
    std::sort(all.begin(), all.end());
    const size_t n = all.size(), half = n / 2;
    out[method] = {n % 2 == 1 ? all[half] : (all[half - 1] + all[half]) / 2, n};
  }
  return out;
}

}  // namespace

Outcome<agenda::Input> agenda_input(const Book& book, const std::string& from, const std::string& now, size_t most) {
  agenda::Input in;
  in.from = from;
  in.now = now;
  const auto hours = plan_hours(book);
  if (!hours) return hours.error();
  in.hours = *hours;
  in.pins = plan_pins(book);
  auto items = book.kit();
  if (!items) return items.error();
  in.items = std::move(*items);
  in.past = past_runs(book);
  std::set<Id> on_rig;
  if (const auto rigs = book.setting("long_runs")) {
    const auto j = Json::read(*rigs);
    if (j.is_array())
      for (const auto& r : j)
        if (r.is_object() && r.contains("specimen") && r["specimen"].is_number_integer())
          on_rig.insert(r["specimen"].get<Id>());
  }
  std::vector<JobOutline> jobs = book.outline();
  std::stable_sort(jobs.begin(), jobs.end(), [](const JobOutline& a, const JobOutline& b) {
    return std::pair(!is_day(a.job.due), a.job.due) < std::pair(!is_day(b.job.due), b.job.due);
  });
  std::erase_if(jobs, [](const JobOutline& job) { return job.job.code == practice::kJob; });  // no work of the day
  std::vector<Id> open;
  for (const JobOutline& job : jobs)
    for (const SeriesOutline& series : job.series)
      for (const SpecimenRow& s : series.specimens)
        if (!s.signed_off && open.size() < most) open.push_back(s.id);
  auto records = book.typed_records(open);
  const std::set<Id> with_demand = Papers(book).with_demand();
  const std::vector<TimerRow> timers = book.timers();
  for (const JobOutline& job : jobs) {
    for (const SeriesOutline& series : job.series) {
      if (with_demand.count(series.series.id) != 0)
        if (auto wanted = to_make(book, job.job, series); wanted.pieces > 0) in.to_make.push_back(std::move(wanted));
      for (const SpecimenRow& s : series.specimens) {
        const auto record = records.find(s.id);
        if (record == records.end()) continue;  // one that cannot be read: the window says so where it is opened
        agenda::Piece p{s.id,
                        job.job.code,
                        series.series.title,
                        s.code,
                        job.job.due,
                        s.stages,
                        methods::find(series.series.method),
                        std::move(record->second),
                        {},
                        {},
                        on_rig.count(s.id) != 0};
        for (const TimerRow& t : timers)
          if (t.specimen == s.id) {
            p.timer = t.label;
            p.timer_ends = QDateTime::fromString(QString::fromStdString(t.ends_at), Qt::ISODate)
                               .toLocalTime()
                               .toString("yyyy-MM-dd'T'HH:mm")
                               .toStdString();
          }
        in.pieces.push_back(std::move(p));
      }
    }
  }
  return in;
}

}  // namespace fortitor
