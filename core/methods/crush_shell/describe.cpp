// What crush-shell asks and advises.
#include <algorithm>

#include "core/methods/crush_shell/crush_shell.h"
#include "core/methods/crush_shell/model.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/section/section.h"

namespace fortitor::crush {

using D = Dimension;

double height_of(const TestRecord& r) {
  return r.fields.number("specimen.height").value_or(0);
}

Plan plan(const TestRecord& r) {
  Plan p;
  const auto it = r.limits.find(key::peak_force);
  if (const auto x = r.fields.number("settings.expected_force")) {
    p.expected = Expectation{D::force, 0.5 * *x, *x, 2 * *x, "expected peak as entered"};
  } else if (it != r.limits.end() && it->second.min && it->second.min->value) {
    const double least = *it->second.min->value;
    p.expected = Expectation{D::force, least, 2 * least, 3 * least, "one to three times the limit of the job"};
  }
  judge_load_path(methods::crush_shell(), r, "load_cell", p);
  const double h = height_of(r);
  if (!(h > 0)) p.blocking.push_back("The height is wanted for the stroke.");
  if (h > 0) {
    p.advice.push_back({"settings.speed.elastic", "Speed", from_unit(std::min(0.1 * h, 25.0), "mm/min", D::speed),
                        D::speed, "a tenth of the height a minute"});
    p.advice.push_back(
        {"settings.stroke_limit", "Stroke limit", 0.6 * h, D::length, "before the folds lock: 60 % of the height"});
    p.advice.push_back({"settings.stop.travel", "Stop at travel", 0.65 * h, D::length, "just past the stroke limit"});
  }
  p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "folds come fast"});
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  if (!p.expected) p.warnings.push_back("No force can be foreseen: enter the expected peak, or a limit.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  for (FieldSpec f : section_fields({"tube", "round"}, Stage::measure)) {
    f.required = false;  // the force is the result; the section describes the piece
    add(std::move(f));
  }
  add(quantity("specimen.height", D::length, Stage::measure, "H", true));
  for (const char* id : kSuspects) add(flag(kSuspectsPath + id, Stage::prepare));
  add(choice("specimen.after.fracture", Stage::after, {"rings", "diamonds", "tilt", "burst", "none"}));
  add(quantity("settings.expected_force", D::force, Stage::set_up));
  add(quantity("settings.stroke_limit", D::length, Stage::set_up, "s"));
  add(quantity("settings.first_peak", D::length, Stage::evaluate));
  add(zero_choice());
  add(quantity("run.peak_force", D::force, Stage::run));
  add_drive(m.fields, true);
  m.channels = {channels::time(true), channels::force(), channels::crosshead(true), channels::extension()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::caliper()};
  m.prepare_sketch = "shell";
  m.measure_sketch = "shell-sizes";
  m.after_sketch = "shell-folded";
  m.setup_sketch = "load-path";
  m.run_sketch = "shell-press";
  m.standin = "shell-press";
  m.minutes = {5, 10, 5};
  m.limit_keys = {key::peak_force, key::mean_crush_force, key::crush_energy};
  m.measure_keys = {};
  m.after_keys = {key::peak_force, key::crush_energy};
  m.series.key = key::peak_force;
  m.series.suspects_path = kSuspectsPath;
  m.printed_settings = {"settings.stroke_limit", "settings.speed", "settings.sampling"};
  equipment::add_from_shelf(m, {"platens", "micrometer"});
  finish(m);
}

}  // namespace fortitor::crush
