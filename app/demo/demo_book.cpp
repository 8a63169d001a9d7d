#include "app/demo/demo_book.h"

#include <QDateTime>
#include <filesystem>

#include "app/demo/demo_papers.h"
#include "app/model/field_host.h"
#include "core/bench/common.h"
#include "core/bench/kit.h"
#include "core/bench/progress.h"
#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/json/json.h"
#include "core/methods/method.h"
#include "core/spectrum/spectrum.h"
#include "core/standin/benches.h"
#include "core/standin/bridge.h"
#include "store/book_plan.h"

namespace fortitor {
namespace {

// Fields beyond `stage` are taken away again, so that a specimen stands where the recipe says.
void cut_back(TestRecord& r, const Method& m, Stage stage) {
  for (const FieldSpec& f : m.fields)
    if (f.stage > stage && f.path.compare(0, 9, "specimen.") == 0) r.fields.erase(f.path);
  if (stage < Stage::run) {
    r.run = Run{};
    r.events.clear();
    for (const FieldSpec& f : m.fields)
      if (f.path.rfind("run.", 0) == 0 && f.stage >= Stage::run) r.fields.erase(f.path);
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
  // Readings that the recipe writes itself stand in place of the stand-in's.
  for (const auto& [id, rows] : read->run.tables) r.run.tables[id] = rows;
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
  o.method = m.id;
  o.seed = s.at("seed").get<uint64_t>();
  o.piece = s.value("piece", "");
  for (const Json& fault : s.value("faults", Json::array())) o.faults.insert(fault.get<std::string>());
  if (s.contains("cell")) o.cell_capacity = s.at("cell").get<double>();
  if (s.contains("frame_capacity")) o.frame_capacity = s.at("frame_capacity").get<double>();
  if (s.contains("temperature")) o.temperature = s.at("temperature").get<double>();
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
      if (f.path.rfind("run.", 0) == 0 && f.stage >= Stage::run) r.fields.erase(f.path);
    r.run.stopped.clear();
    r.events.clear();
  }
  for (const Json* part : {&common.at("record"), &s.at("record")}) {
    const auto done = apply(r, *part);
    if (!done) return InputError{code + ": " + done.error().message, {}};
  }
  if (const std::string on = s.value("bench", common.value("bench", "")); !on.empty()) {
    const auto items = book.kit();
    if (!items) return items.error();
    for (const kit::Item& i : *items)
      if (i.is_bench() && i.name() == on) kit::fill(r, m, i, *items);
  }
  if (stage >= Stage::set_up)
    for (const CheckItem& c : m.guide(Stage::set_up).checklist) r.fields.set("settings.checks." + c.id, true);
  const auto id = book.add_specimen(series, code, r);
  if (!id) return id.error();
  if (s.value("timer", false))
    for (const TimerSpec& spec : m.timers) {
      // Begun so long ago that a little over two hours are left: the pill shows a running time.
      const QDateTime end = book.clock().now().toUTC().addSecs(2 * 3600 + 600);
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

// Items of the Kit; their days are said from today, so that the demo stays young.
Outcome<Done> add_kit(Book& book, const Json& list) {
  for (const Json& j : list) {
    kit::Item item;
    item.kind = j.at("kind").get<std::string>();
    if (item.is_bench()) {
      item = kit::bench_of(j.at("name").get<std::string>());
      for (const auto& [kind, name] : j.at("items").items()) item.set_of_kind(kind, name.get<std::string>());
    } else {
      Json fields = Json::object();
      for (const auto& [key, value] : j.items()) {
        if (key == "kind" || key == "interval" || key == "checks" || key == "wire" || key == "line") continue;
        fields[key] = value;
        if (key != "calibrated" && key != "due") continue;
        const auto day = parse_day(value.get<std::string>(), book.clock().day());
        if (!day) return day.error();
        fields[key] = *day;
      }
      Json whole = {{"fortitor", "record/1"}, {"method", "kit/" + item.kind}, {"equipment", {{item.kind, fields}}}};
      for (const char* setting : {"interval", "wire"})
        if (j.contains(setting)) whole["settings"][setting] = j.at(setting);
      if (j.contains("line")) whole["settings"]["line"] = j.at("line").dump();
      auto read = kit::from_json(item.kind, whole.dump());
      if (!read) return read.error();
      item = std::move(*read);
    }
    const auto kept = book.save_item(item, "added to the Kit: " + item.name());
    if (!kept) return kept.error();
    item.id = *kept;
    // Daily checks, the last one of today.
    const Json checks = j.value("checks", Json::array());
    int days = int(checks.size());
    for (const Json& value : checks) {
      const QDateTime at = book.clock().now().toUTC().addDays(1 - days--);
      const auto noted = book.add_daily_check(
          item, {at.toString(Qt::ISODateWithMs).toStdString(), value.get<std::string>(), book.operator_name(), ""});
      if (!noted) return noted.error();
    }
  }
  return Done{};
}

// Weeks of strain beside the book, made by the stand-in bridge; the numbers come when the desk is opened.
Outcome<Done> add_spectrum(Book& book, Id job, const Json& s) {
  const std::string title = s.at("title").get<std::string>();
  const auto id = book.add_spectrum(job, title);
  if (!id) return id.error();
  auto record = book.spectrum_record(*id);
  if (!record) return record.error();
  const double rate = s.at("rate").get<double>(), hours = s.at("hours").get<double>();
  const std::filesystem::path folder = std::filesystem::absolute(book.path() + ".strain");
  std::error_code failed;
  std::filesystem::create_directories(folder, failed);
  int week = 0;
  for (const Json& seed : s.at("seeds")) {
    standin::BridgeTraffic traffic;
    traffic.seed = seed.get<uint64_t>();
    traffic.rate = rate;
    traffic.hours = hours;
    traffic.heaviest = s.value("heaviest", 1.0);
    const std::filesystem::path file = folder / ("bridge-" + std::to_string(traffic.seed) + ".f32");
    if (!std::filesystem::exists(file))
      if (const auto made = standin::write_bridge_history(traffic, file.string()); !made) return made.error();
    Row row;
    row.cells.set("file", file.string());
    row.cells.set("week", double(++week));
    row.cells.set("name", "week " + std::to_string(week));
    record->run.tables["sources"].push_back(row);
  }
  const Json settings = s.value("settings", Json::object());
  for (const auto& [path, typed] : settings.items()) {
    const FieldSpec* field = spectrum::schema().field(path);
    if (field == nullptr) return InputError{"there is no field " + path, {}};
    if (typed.is_number()) {
      record->fields.set(path, typed.get<double>());
      continue;
    }
    const auto q = parse_quantity(typed.get<std::string>(), field->dimension);
    if (!q) return q.error();
    record->fields.set(path, reading_of(*q));
  }
  record->fields.set("settings.rate",
                     reading_of(parse_quantity(plain_number(rate, 6) + " Hz", Dimension::frequency).value()));
  return book.save_spectrum(*id, *record, {}, "three weeks of the stand-in bridge");
}

// What one piece of a series has holds for all of them; those that wait begin with it.
Outcome<Done> hold(Book& book, Id series, const std::string& code) {
  for (const SpecimenRow& s : book.specimens(series)) {
    if (s.code != code) continue;
    const auto r = book.record(s.id);
    if (!r) return r.error();
    auto settings = book.series_record(series);
    if (!settings) return settings.error();
    const Method& m = *methods::find(r->method);
    common::set(*settings, *r, m);
    if (const auto kept = book.save_series_record(series, *settings, "held for the series as " + code + " has it");
        !kept)
      return kept;
    for (const SpecimenRow& other : book.specimens(series)) {
      auto waiting = book.record(other.id);
      if (!waiting) return waiting.error();
      if (waiting->has_run()) continue;
      common::set(*waiting, *settings, m);
      const auto kept = book.save_record(other.id, 0, *waiting, {other.stages, other.verdict, other.open_judgements},
                                         "begun as the series says");
      if (!kept) return kept.error();
    }
    return Done{};
  }
  return InputError{"there is no specimen " + code, {}};
}

}  // namespace

Outcome<Done> fill_demo(Book& book, const std::string& recipe) {
  try {
    const Json j = Json::parse(recipe);
    book.set_operator(j.at("operator").get<std::string>());
    if (const auto kept = book.set_setting("operator", book.operator_name()); !kept) return kept;
    if (j.contains("hours"))
      if (const auto kept = book.set_setting(kPlanHours, j["hours"].dump()); !kept) return kept;
    if (const auto kit = add_kit(book, j.value("kit", Json::array())); !kit) return kit;
    for (const Json& job : j.at("jobs")) {
      std::string due = job.value("due", "");
      if (!due.empty()) {
        const auto day = parse_day(due, book.clock().day());
        if (!day) return day.error();
        due = *day;
      }
      const auto id = book.add_job(job.at("code").get<std::string>(), job.at("title").get<std::string>(), due);
      if (!id) return id.error();
      for (const Json& series : job.at("series")) {
        const std::string title = series.at("title").get<std::string>();
        const auto series_id = book.add_series(*id, title, series.at("method").get<std::string>());
        if (!series_id) return series_id.error();
        Json common = {{"operator", j.at("operator")},
                       {"method", series.at("method")},
                       {"bench", series.value("bench", "")},
                       {"record", series.value("record", Json::object())}};
        for (const Json& s : series.at("specimens")) {
          const auto done = add_specimen(book, *series_id, job.at("code").get<std::string>(), title, common, s);
          if (!done) return done;
        }
        if (series.contains("hold"))
          if (const auto held = hold(book, *series_id, series.at("hold").get<std::string>()); !held) return held;
      }
      for (const Json& s : job.value("spectra", Json::array()))
        if (const auto added = add_spectrum(book, *id, s); !added) return added;
    }
    return fill_demo_papers(book, j);
  } catch (const Json::Error& e) {
    return InputError{std::string("The demo recipe cannot be read: ") + e.what(), {}};
  }
}

}  // namespace fortitor
