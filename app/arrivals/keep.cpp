#include "app/arrivals/keep.h"

#include <map>

#include "core/bench/progress.h"

namespace fortitor {
namespace {

// "IN-003": the first that is free.
std::string free_code(const Book& book) {
  std::string code;
  for (int n = 1;; ++n) {
    code = "IN-" + std::string(n < 10 ? "00" : n < 100 ? "0" : "") + std::to_string(n);
    bool taken = false;
    for (const JobOutline& j : book.outline()) taken = taken || j.job.code == code;
    if (!taken) return code;
  }
}

Outcome<Done> keep_one(Book& book, const Arrival& a, Id series, const std::string& job, const std::string& title,
                       const std::string& today, const std::string& now) {
  const Method& m = *a.proposed.method;
  TestRecord record = a.record;
  record.job = job;
  record.series = title;
  if (record.operator_name.empty()) record.operator_name = book.operator_name();
  const bool dated = !record.tested_at.empty();
  if (!dated) record.tested_at = now;
  Id id = 0;
  Id version = 0;
  for (const SpecimenRow& s : book.specimens(series)) {
    if (s.code != record.specimen_id()) continue;
    auto typed = book.typed_record(s.id);
    if (!typed) return typed.error();
    if (typed->has_run() || !book.runs(s.id).empty())
      return InputError{s.code + " has its run already. A raw run is never changed.", {}};
    // What was typed before the run stays; the file fills what is empty.
    for (const auto& [path, value] : record.fields.all())
      if (!typed->fields.has(path)) typed->fields.set(path, value);
    typed->operator_name = record.operator_name;
    typed->tested_at = record.tested_at;
    typed->run.set_samples(record.run.samples());
    record = std::move(*typed);
    id = s.id;
    version = book.record_version(id);
  }
  if (id == 0) {
    TestRecord bare = record;
    bare.run = {};
    const auto added = book.add_specimen(series, record.specimen_id(), bare);
    if (!added) return added.error();
    id = *added;
  }
  const auto run = book.store_run(id, *record.run.samples(), a.file);
  if (!run) return run.error();
  const Evaluation e = methods::evaluate(record, {.today = today});
  const Summary summary{progress_code(progress_of(m, record, &e, false)), std::string(verdict_word(e.verdict)),
                        int(e.open_judgements().size())};
  const auto saved = book.save_record(id, version, record, summary,
                                      "taken from " + a.file + (dated ? "" : "; it names no day, dated when it came"));
  return saved ? Outcome<Done>(Done{}) : Outcome<Done>(saved.error());
}

}  // namespace

Outcome<KeptArrivals> keep_arrivals(Book& book, const std::vector<Arrival>& arrivals, Id into, const std::string& today,
                                    const std::string& now) {
  KeptArrivals out;
  std::map<std::string, std::pair<Id, std::string>> series;  // by method
  std::string job_code;
  for (const JobOutline& j : book.outline())
    for (const auto& [row, specimens] : j.series)
      if (row.id == into) {
        series[row.method] = {row.id, row.title};
        job_code = j.job.code;
      }
  Id job = 0;
  for (size_t i = 0; i < arrivals.size(); ++i) {
    const Arrival& a = arrivals[i];
    auto refuse = [&](const std::string& why) { out.refused.emplace_back(i, why); };
    if (!a.problem.empty()) {
      refuse(a.problem);
      continue;
    }
    const Method& m = *a.proposed.method;
    auto at = series.find(m.id);
    if (at == series.end()) {
      if (into != 0) {
        refuse("It is of " + m.name + ", and the series is not.");
        continue;
      }
      if (job == 0) {
        job_code = free_code(book);
        const auto made = book.add_job(job_code, "Files of " + day_words(today));
        if (!made) return made.error();
        job = *made;
      }
      const auto made = book.add_series(job, m.name, m.id);
      if (!made) return made.error();
      at = series.emplace(m.id, std::pair(*made, m.name)).first;
    }
    const auto kept = keep_one(book, a, at->second.first, job_code, at->second.second, today, now);
    if (!kept) {
      refuse(kept.error().message);
      continue;
    }
    ++out.pieces;
    if (std::find(out.series.begin(), out.series.end(), at->second.first) == out.series.end())
      out.series.push_back(at->second.first);
  }
  return out;
}

}  // namespace fortitor
