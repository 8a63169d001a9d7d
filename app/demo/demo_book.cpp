#include "app/demo/demo_book.h"

#include <QDateTime>
#include <nlohmann/json.hpp>

#include "core/bench/progress.h"
#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"

namespace fortitor {
namespace {

using Json = nlohmann::json;

// Fields beyond `stage` are taken away again, so that a specimen stands where the recipe says.
void cut_back(TestRecord& r, const Method& m, Stage stage) {
  for (const FieldSpec& f : m.fields)
    if (f.stage > stage && f.path.compare(0, 9, "specimen.") == 0) r.fields.erase(f.path);
  if (stage < Stage::run) {
    r.run = Run{};
    r.events.clear();
    for (const FieldSpec& f : m.fields)
      if (f.path.rfind("run.", 0) == 0) r.fields.erase(f.path);
  }
  if (stage < Stage::set_up)
    for (const FieldSpec& f : m.fields)
      if (f.stage == Stage::set_up || f.stage == Stage::run) r.fields.erase(f.path);
}

Outcome<Done> apply(TestRecord& r, const Json& fields) {
  // The recipe speaks the record format: its pieces are read as a record would be.
  Json whole = {{"fortitor", "record/1"}, {"method", r.method}};
  whole.update(fields);
  const auto read = record_from_json(whole.dump());
  if (!read) return read.error();
  for (const auto& [path, value] : read->fields.all()) r.fields.set(path, value);
  for (const auto& [key, limit] : read->limits) r.limits[key] = limit;
  for (const Answer& a : read->answers) r.answers.push_back(a);
  // A null limit in a piece of recipe takes the series' limit away.
  std::erase_if(r.limits, [](const auto& l) { return !l.second.min && !l.second.max; });
  return Done{};
}

Outcome<Done> add_specimen(Book& book, Id series, const std::string& job, const std::string& series_title,
                           const Json& common, const Json& s) {
  const Method& m = *methods::find(common.at("method").get<std::string>());
  const standin::Bench* bench = standin::find_bench(m.standin);
  if (bench == nullptr) return InputError{"there is no stand-in for " + m.id, {}};
  standin::SimulateOptions o;
  o.seed = s.at("seed").get<uint64_t>();
  o.piece = s.value("piece", "");
  for (const Json& fault : s.value("faults", Json::array())) o.faults.insert(fault.get<std::string>());
  if (s.contains("cell")) o.cell_capacity = s.at("cell").get<double>();
  if (s.contains("frame_capacity")) o.frame_capacity = s.at("frame_capacity").get<double>();
  if (s.contains("stop_force")) o.stop_force = s.at("stop_force").get<double>();
  TestRecord r = bench->simulate(o);
  r.method = m.id;
  r.job = job;
  r.series = series_title;
  r.operator_name = common.at("operator").get<std::string>();
  r.tested_at = s.value("tested_at", "");
  const std::string code = s.at("id").get<std::string>();
  r.fields.set("specimen.id", code);
  const Stage stage = Stage(s.at("stage").get<int>());
  cut_back(r, m, stage);
  if (s.contains("stops")) {  // a stepwise run that is still going on
    Rows& rows = r.run.tables[m.keyed_table()->id];
    rows.resize(std::min(rows.size(), s.at("stops").get<size_t>()));
    r.run.open = true;
    for (const FieldSpec& f : m.fields)
      if (f.path.rfind("run.", 0) == 0) r.fields.erase(f.path);
    r.run.stopped.clear();
    r.events.clear();
  }
  for (const Json* part : {&common.at("record"), &s.at("record")}) {
    const auto done = apply(r, *part);
    if (!done) return InputError{code + ": " + done.error().message, {}};
  }
  if (stage >= Stage::set_up)
    for (const CheckItem& c : m.guide(Stage::set_up).checklist) r.fields.set("settings.checks." + c.id, true);
  const auto id = book.add_specimen(series, code, r);
  if (!id) return id.error();
  if (s.value("timer", false))
    for (const TimerSpec& spec : m.timers) {
      // Begun so long ago that a little over two hours are left: the pill shows a running time.
      const QDateTime end = QDateTime::currentDateTimeUtc().addSecs(2 * 3600 + 600);
      const auto stated = r.fields.number(spec.stated_path).value_or(86400);
      const auto started =
          book.start_timer(*id, spec.name, end.addSecs(-qint64(stated)).toString(Qt::ISODate).toStdString(),
                           end.toString(Qt::ISODate).toStdString());
      if (!started) return started.error();
      r.fields.erase(spec.elapsed_path);
    }
  for (const Segment& segment : r.run.segments) {
    if (!segment.samples) continue;
    const auto run = book.store_run(*id, *segment.samples, bench->name, segment.name);
    if (!run) return run.error();
  }
  const Evaluation e = methods::evaluate(r);
  Summary summary{progress_code(progress_of(m, r, &e, false)), std::string(verdict_word(e.verdict)),
                  int(e.open_judgements().size())};
  const auto saved = book.save_record(*id, 0, r, summary, "demo specimen");
  if (!saved) return saved.error();
  if (s.value("signed", false) && e.open_judgements().empty()) {
    const auto signed_off = book.sign_off(*id, saved->version, evaluation_to_json(e, r.fields, -1), summary.verdict);
    if (!signed_off) return signed_off;
    summary.stages = progress_code(progress_of(m, r, &e, true));
    return book.set_summary(*id, summary);
  }
  return Done{};
}

}  // namespace

Outcome<Done> fill_demo(Book& book, const std::string& recipe) {
  try {
    const Json j = Json::parse(recipe);
    book.set_operator(j.at("operator").get<std::string>());
    if (const auto kept = book.set_setting("operator", book.operator_name()); !kept) return kept;
    for (const Json& job : j.at("jobs")) {
      const auto id =
          book.add_job(job.at("code").get<std::string>(), job.at("title").get<std::string>(), job.value("due", ""));
      if (!id) return id.error();
      for (const Json& series : job.at("series")) {
        const std::string title = series.at("title").get<std::string>();
        const auto series_id = book.add_series(*id, title, series.at("method").get<std::string>());
        if (!series_id) return series_id.error();
        Json common = {{"operator", j.at("operator")},
                       {"method", series.at("method")},
                       {"record", series.value("record", Json::object())}};
        for (const Json& s : series.at("specimens")) {
          const auto done = add_specimen(book, *series_id, job.at("code").get<std::string>(), title, common, s);
          if (!done) return done;
        }
      }
    }
  } catch (const Json::exception& e) {
    return InputError{std::string("The demo recipe cannot be read: ") + e.what(), {}};
  }
  return Done{};
}

}  // namespace fortitor
