#include "core/bench/progress.h"

#include <algorithm>

namespace fortitor {
namespace {

using State = StageProgress::State;

// Readings count as there when each wanted one is typed or marked missed.
bool filled(const FieldSpec& f, const TestRecord& r) {
  const FieldValue* v = r.fields.find(f.path);
  if (v == nullptr) return false;
  if (const auto* s = std::get_if<std::string>(v)) return !s->empty();
  if (const auto* list = std::get_if<Readings>(v)) {
    const bool any = std::any_of(list->begin(), list->end(), [](const Reading& x) { return !x.missed(); });
    return any && int(list->size()) >= f.wanted;
  }
  if (const auto* one = std::get_if<Reading>(v)) return !one->missed();
  return true;
}

StageProgress by_fields(const Method& m, const TestRecord& r, Stage stage) {
  StageProgress p;
  bool any = false, all = true;
  for (const FieldSpec& f : m.fields) {
    if (f.stage != stage || !field_applies(f, r)) continue;
    const bool there = filled(f, r);
    any = any || r.fields.has(f.path);
    if (!f.required || there) continue;
    all = false;
    p.missing.push_back(f.label + " is not there yet.");
  }
  p.state = all && any ? State::done : any ? State::begun : State::open;
  return p;
}

}  // namespace

Progress progress_of(const Method& m, const TestRecord& r, const Evaluation* e, bool signed_off) {
  Progress p;
  for (Stage s : {Stage::prepare, Stage::measure, Stage::after}) p[size_t(s)] = by_fields(m, r, s);
  auto& set_up = p[size_t(Stage::set_up)];
  const Plan plan = m.plan(r);
  set_up.missing = plan.blocking;
  for (const CheckItem& item : m.guide(Stage::set_up).checklist)
    if (item.safety && !r.fields.flag("settings.checks." + item.id))
      set_up.missing.push_back("To tick: " + item.text + ".");
  if (e != nullptr)
    for (const Finding* f : e->open_judgements())
      if (f->asks_first) set_up.missing.push_back(f->message + " It wants your word before the start.");
  bool begun = false;
  for (const FieldSpec& f : m.fields) begun = begun || (f.stage == Stage::set_up && f.required && r.fields.has(f.path));
  set_up.state = set_up.missing.empty() ? State::done : begun ? State::begun : State::open;

  auto& run = p[size_t(Stage::run)];
  const bool has_run = r.has_run();
  run.state = r.run.open ? State::begun : has_run ? State::done : State::open;
  if (r.run.open) run.missing.push_back("The run is still going on.");
  if (has_run) {
    set_up.state = State::done;  // it was run: what was missing then is the record's word now
  } else {
    run.missing.push_back("Nothing has been run or imported yet.");
  }
  auto& after = p[size_t(Stage::after)];
  // A piece that did not break has nothing to be looked at afterwards, and where nothing is asked for nothing is open.
  const bool nothing = std::none_of(m.fields.begin(), m.fields.end(),
                                    [&](const FieldSpec& f) { return f.stage == Stage::after && field_applies(f, r); });
  const bool asks = std::any_of(m.fields.begin(), m.fields.end(), [&](const FieldSpec& f) {
    return f.stage == Stage::after && f.required && field_applies(f, r);
  });
  const bool whole = e != nullptr && std::any_of(e->results.begin(), e->results.end(),
                                                 [](const ResultValue& x) { return x.censored && x.censored->above; });
  if (has_run && (whole || nothing || (!asks && signed_off)) && !r.run.open) after = {State::done, {}};
  if (r.run.open) after = {State::open, {"The run is still going on."}};
  if (!has_run && after.state == State::open) after.missing.assign(1, m.wording.run_first);

  auto& evaluate = p[size_t(Stage::evaluate)];
  if (r.run.open) {
    evaluate.missing.push_back("The run is still going on.");
  } else if (!has_run) {
    evaluate.missing.push_back("There is nothing to judge yet.");
  } else if (e != nullptr) {
    for (const Finding* f : e->open_judgements()) evaluate.missing.push_back(f->message);
    evaluate.state = evaluate.missing.empty() ? State::done : State::begun;
  }
  auto& sign = p[size_t(Stage::sign_off)];
  sign.state = signed_off ? State::done : State::open;
  if (!signed_off) sign.missing.push_back("Not signed yet.");
  return p;
}

std::string progress_code(const Progress& p) {
  std::string code;
  for (const StageProgress& s : p) code += char('0' + int(s.state));
  return code;
}

Stage next_stage(const std::string& code) {
  for (size_t i = 0; i < code.size() && i < kStageCount; ++i)
    if (code[i] != '2') return Stage(i);
  return Stage::sign_off;
}

std::string_view stage_name(Stage s) {
  static constexpr std::string_view names[] = {"Prepare", "Measure", "Set up", "Run", "After", "Evaluate", "Sign off"};
  return names[size_t(s)];
}

}  // namespace fortitor
