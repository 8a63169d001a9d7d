#include "core/methods/crush_shell/crush_shell.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/pulled.h"

namespace fortitor::crush {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

struct Fold {
  Loading loading;
  std::optional<size_t> first;  ///< first peak followed by a drop of at least 10 %
  size_t end = 0;               ///< index of the stroke limit, or the end of the run
  double stroke = 0;            ///< mm, asked; 0: whole run
  bool whole_stroke = true;     ///< the run reached it
};

// First maximum after which force falls by 10 % before it rises above it again.
std::optional<size_t> first_peak(const std::vector<double>& f) {
  size_t top = 0;
  for (size_t i = 0; i < f.size(); ++i) {
    if (f[i] > f[top]) top = i;
    if (f[top] > 0 && f[i] <= 0.9 * f[top]) return top;
  }
  return std::nullopt;
}

double height_of(const TestRecord& r) {
  return r.fields.number("specimen.height").value_or(0);
}

Fold fold_of(const TestRecord& r) {
  Fold c;
  c.loading = loading_of(r, {"crosshead", "displacement", "extension"});
  Loading& l = c.loading;
  if (l.empty()) return c;
  if (!l.s.crosshead.empty()) {  // travel counts from the touch: the gap before it is no crushing
    const double start = l.s.crosshead[touch_of(l.s.force, l.peak)];
    for (double& x : l.s.crosshead) x -= start;
  }
  // Noise at the touch must not pass for a peak: what lies below 2 % of the largest force does not count.
  std::vector<double> f = l.s.force;
  for (double& x : f)
    if (x < 0.02 * l.peak_force()) x = 0;
  c.first = first_peak(f);
  c.stroke = r.fields.number("settings.stroke_limit").value_or(0);
  c.end = l.s.size() - 1;
  const auto& x = l.s.crosshead;
  if (c.stroke > 0 && !x.empty()) {
    c.whole_stroke = false;
    for (size_t i = 0; i < x.size(); ++i)
      if (x[i] >= c.stroke) {
        c.end = i;
        c.whole_stroke = true;
        break;
      }
  }
  // After the stroke the platens open again: the way back is no crushing.
  if (!x.empty()) {
    const size_t farthest = size_t(std::max_element(x.begin(), x.begin() + long(c.end) + 1) - x.begin());
    c.end = std::min(c.end, farthest);
  }
  return c;
}

Values compute(const TestRecord& r, const Fold& c, const Shifts& shifts) {
  Values v;
  const Loading& l = c.loading;
  const double force = 1 + ledger::shift(shifts, "force"), travel = 1 + ledger::shift(shifts, "travel");
  const auto keyed = r.run.values.find("peak_force");
  if (l.empty()) {
    if (keyed != r.run.values.end() && keyed->second.value) put(v, "peak_force", *keyed->second.value * force);
    return v;
  }
  const size_t peak = c.first.value_or(l.peak);
  put(v, "peak_force", l.s.force[peak] * force);
  put(v, "max_force", l.peak_force() * force);
  const auto& x = l.s.crosshead;
  if (x.empty()) return v;
  put(v, "peak_travel", x[peak] * travel);
  const double way = x[c.end] - x[peak];
  if (c.first && way > 0 && c.end > peak) {
    const double mean = work_under(x, l.s.force, peak, c.end) / way;
    put(v, "mean_crush_force", mean * force);
    put(v, "crush_efficiency", mean / l.s.force[peak]);
  }
  put(v, "crush_energy", work_under(x, l.s.force, touch_of(l.s.force, l.peak), c.end) * force * travel * kJoulePerNewtonMillimetre);
  put(v, "crush_stroke", x[c.end] * travel);
  if (height_of(r) > 0) put(v, "crush_ratio", x[c.end] * travel / height_of(r));
  return v;
}

const std::vector<ResultSpec>& specs() {
  static const std::vector<ResultSpec> table = {
      {"peak_force", "F_p", "first peak force", D::force, R::other, 4, true},
      {"mean_crush_force", "F_c", "mean crush force", D::force, R::other, 4, true},
      {"crush_energy", "W", "energy taken up", D::energy, R::other, 3, true},
      {"crush_efficiency", "η_c", "crush efficiency", D::none, R::other, 3, true},
      {"max_force", "F_max", "largest force of the run", D::force, R::other, 4, false},
      {"peak_travel", "s_p", "travel at the first peak", D::length, R::other, 3, false},
      {"crush_stroke", "s", "stroke", D::length, R::other, 3, false},
      {"crush_ratio", "s/H", "stroke to height", D::elongation, R::other, 3, false},
  };
  return table;
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Fold& c, const Values& v) {
  std::vector<Step> steps;
  auto add = [&](std::string expression, std::string with, double value, D d, std::string source = {}) {
    steps.push_back({std::move(expression), std::move(with), value, d, std::move(source)});
  };
  const std::string stroke = "from the first peak to " + si(get(v, "crush_stroke"), D::length, 4);
  if (key == "peak_force")
    add("F_p", c.loading.empty() ? "as read from the machine" : "first maximum followed by a drop of 10 % or more",
        get(v, key), D::force);
  if (key == "mean_crush_force")
    add("F_c = ∫F ds/Δs", stroke, get(v, key), D::force, c.stroke > 0 ? "stroke limit" : "whole run");
  if (key == "crush_energy")
    add("W = ∫F ds", "from the touch to " + si(get(v, "crush_stroke"), D::length, 4) + ", trapezia", get(v, key),
        D::energy);
  if (key == "crush_efficiency")
    add("F_c/F_p", si(get(v, "mean_crush_force"), D::force) + " / " + si(get(v, "peak_force"), D::force), get(v, key),
        D::none);
  if (key == "max_force") add("F_max", "largest force", get(v, key), D::force);
  if (key == "peak_travel") add("s_p", "travel at the first peak", get(v, key), D::length);
  if (key == "crush_stroke")
    add("s", c.stroke > 0 ? "stroke limit, or the end of the run" : "end of the run", get(v, key), D::length);
  if (key == "crush_ratio")
    add("s/H", si(get(v, "crush_stroke"), D::length) + " / " + si(height_of(r), D::length), get(v, key), D::elongation);
  return steps;
}

UncertaintyModel uncertainty_model(const TestRecord& r, const Fold& c) {
  UncertaintyModel m;
  ledger::class_input(r, "equipment.load_cell.class", "force", "force", m.inputs);
  if (!c.loading.s.crosshead.empty())
    m.inputs.push_back({"travel", "crosshead travel, 0.5 % taken", rectangular(0.005)});
  m.values = [r, c](const Shifts& shifts) { return compute(r, c, shifts); };
  return m;
}

struct Suspect {
  const char *id, *label;
};
constexpr Suspect kSuspects[] = {{"dent", "dent seen before the test"},
                                 {"off_centre", "stood off centre"},
                                 {"not_level", "not level"},
                                 {"fluid", "fluid left inside"},
                                 {"platen_gap", "gap at a platen"}};

Evaluation evaluate(const TestRecord& r, const EvaluateOptions& options) {
  Evaluation e;
  const Fold c = fold_of(r);
  const Values v = compute(r, c, {});
  ledger::add_results(e, specs(), v, [&](const std::string& key) { return how(key, r, c, v); });
  if (options.uncertainty && !v.empty()) attach_budgets(e, uncertainty_model(r, c));
  const Loading& l = c.loading;
  if (!l.empty() && !c.first) {
    if (ResultValue* x = e.find("peak_force")) x->censored = Censoring{true, 0, 0};
    raise(e, "no-peak", Severity::check,
          "Force never fell by 10 %: the shell had not folded when the run ended, and the peak is a lower bound.", {},
          {}, "peak_force");
  }
  if (!c.whole_stroke)
    raise(e, "stroke-short", Severity::check,
          "The run ended at " + si(get(v, "crush_stroke"), D::length, 4) + ", before the stroke limit of " +
              si(c.stroke, D::length, 4) + ": energy and mean force are those of the shorter stroke.",
          {{"stroke", get(v, "crush_stroke")}}, {}, "crush_energy");
  std::string ticked;
  for (const Suspect& s : kSuspects)
    if (r.fields.flag(std::string("specimen.suspects.") + s.id))
      ticked += (ticked.empty() ? "" : ", ") + std::string(s.label);
  if (!ticked.empty())
    raise(e, "suspects", Severity::note, "Noted on this piece: " + ticked + ". The series tests whether it matters.",
          {}, {}, "peak_force");
  loading_findings(e, r, l, 0, "peak_force");
  if (!l.empty()) {
    auto data = std::make_shared<CurveData>();
    const auto& x = l.s.crosshead;
    data->x_name = x.empty() ? "time" : "travel";
    data->y_name = "force";
    data->x_dimension = x.empty() ? D::time : D::length;
    data->y_dimension = D::force;
    data->x = x.empty() ? l.s.time : x;
    data->y = l.s.force;
    data->break_index = data->x.size();
    const size_t peak = c.first.value_or(l.peak);
    data->lens_x = 3 * data->x[peak];
    using Kind = Construction::Kind;
    e.constructions.push_back({Kind::point, "peak_force", "Fp", {{data->x[peak], data->y[peak]}}, {}, true});
    if (v.count("mean_crush_force"))
      e.constructions.push_back(
          {Kind::line,
           "mean_crush_force",
           "Fc",
           {{data->x[peak], get(v, "mean_crush_force")}, {data->x[c.end], get(v, "mean_crush_force")}},
           {},
           true});
    e.curve = data;
  }
  return e;
}

Plan plan(const TestRecord& r) {
  Plan p;
  const auto it = r.limits.find("peak_force");
  if (const auto x = r.fields.number("settings.expected_force")) {
    p.force_low = 0.5 * *x;
    p.force_likely = *x;
    p.force_high = 2 * *x;
    p.force_from = "expected peak as entered";
  } else if (it != r.limits.end() && it->second.min && it->second.min->value) {
    p.force_low = *it->second.min->value;
    p.force_high = 3 * *p.force_low;
    p.force_likely = 2 * *p.force_low;
    p.force_from = "one to three times the limit of the job";
  }
  judge_load_path(r, p);
  const double h = height_of(r);
  if (!(h > 0)) p.blocking.push_back("The height is wanted for the stroke.");
  if (h > 0) {
    p.advice.push_back(
        {"settings.speed.elastic", "Speed", from_unit(std::min(0.1 * h, 25.0), "mm/min", D::speed), D::speed, "a tenth of the height a minute"});
    p.advice.push_back(
        {"settings.stroke_limit", "Stroke limit", 0.6 * h, D::length, "before the folds lock: 60 % of the height"});
    p.advice.push_back({"settings.stop.travel", "Stop at travel", 0.65 * h, D::length, "just past the stroke limit"});
  }
  p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "folds come fast"});
  for (const auto& [path, what] :
       {std::pair{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}})
    if (!r.fields.number(path)) p.blocking.push_back(std::string("Set the ") + what + ".");
  if (!p.force_high) p.warnings.push_back("No force can be foreseen: enter the expected peak, or a limit.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = methods::common_fields();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  for (FieldSpec f : section_fields({"tube", "round"}, Stage::measure)) {
    f.required = false;  // the force is the result; the section describes the piece
    add(std::move(f));
  }
  add(quantity("specimen.height", "Height", D::length, Stage::measure, "H", "Standing, before the test.", true));
  for (const Suspect& s : kSuspects) add(flag(std::string("specimen.suspects.") + s.id, s.label, Stage::prepare));
  add(choice("specimen.after.fracture", "How it folded", Stage::after,
             {{"rings", "ring folds"},
              {"diamonds", "diamond folds"},
              {"tilt", "tilted over"},
              {"burst", "seam burst"},
              {"none", "not folded"}}));
  add(quantity("settings.expected_force", "Expected peak", D::force, Stage::set_up));
  add(quantity("settings.stroke_limit", "Stroke limit", D::length, Stage::set_up, "s",
               "Energy and mean force are taken up to here."));
  add(choice("settings.zero", "Zero", Stage::evaluate,
             {{"shift", "take the offset off"}, {"keep", "keep it as preload"}}, true));
  add_drive(m.fields, true);
  m.channels = {{"time", "time", D::time, true},
                {"force", "force", D::force, true},
                {"crosshead", "crosshead travel", D::length, true}};
  auto& s = m.stages;
  s[0] = {"Every shell is different: look at it before it folds.",
          {"Tick what could explain scatter: dents, fluid left inside. The series tests it afterwards.",
           "Number the pieces."},
          {"Thin edges cut."},
          {}};
  s[1] = {"Height, diameter, wall.", {"The wall decides: three readings round the end."}, {}, {}};
  s[2] = {"Upright, in the middle, level, between flat platens.",
          {"Set a stroke limit: energy and mean force end there."},
          {"Platens are heavy: pinned before hands leave them. Fingers out of the gap.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"pinned", "Platens pinned and clean", true},
           {"gap", "A gap of a few millimetres left, fingers out", true},
           {"guard", "Guard closed, glasses on", true},
           {"level", "Shell upright and centred", false}}};
  s[3] = {"First peak, then fold after fold.",
          {"Note a shell that tilts."},
          {"Fingers out of the gap. Sealed shells can burst: empty them first."},
          {}};
  s[4] = {"How did it fold?", {}, {"Folded edges are sharp."}, {}};
  s[5] = {"Judge the first peak and the stroke.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = "shell";
  m.measure_sketch = "shell-sizes";
  m.after_sketch = "shell-folded";
  m.setup_sketch = "load-path";
  m.run_sketch = "shell-press";
  m.standin = "shell-press";
  m.limit_keys = {"peak_force", "mean_crush_force", "crush_energy"};
  m.measure_keys = {};
  m.after_keys = {"peak_force", "crush_energy"};
  m.series = {"peak_force", "specimen.suspects."};
  m.plan = plan;
}

}  // namespace
}  // namespace fortitor::crush

namespace fortitor::methods {

const Method& crush_shell() {
  static const Method method = [] {
    Method m;
    m.id = "crush-shell";
    m.name = "Crushing of thin shells";
    m.short_name = "Crush";
    m.standard = "in-house; first peak and mean force";
    m.result = [](const std::string& key) { return ledger::find_spec(crush::specs(), key); };
    m.evaluate = crush::evaluate;
    m.uncertainty = [](const TestRecord& r) { return crush::uncertainty_model(r, crush::fold_of(r)); };
    crush::describe(m);
    fields::add_derived(m);
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
