// What flatwise-tension asks and advises.
#include "core/methods/flatwise_tension/model.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/load_path.h"

namespace fortitor::flatwise {

using D = Dimension;

Plan plan(const TestRecord& r) {
  Plan p;
  const ledger::Sizes sizes = ledger::sizes_of(methods::flatwise_tension(), r);
  const double area = sizes.mean("specimen.width") * sizes.mean("specimen.depth");
  const auto it = r.limits.find(key::strength);
  const double least = it != r.limits.end() && it->second.min ? it->second.min->value.value_or(0) : 0;
  if (area > 0) {
    const double low = (least > 0 ? least : 0.5) * area, high = (least > 0 ? 3 * least : 8.0) * area;
    p.expected = Expectation{
        D::force, low, 0.5 * (low + high), high,
        least > 0 ? "one to three times the limit of the job" : "0.5 to 8 MPa, usual for foam and honeycomb cores"};
  } else {
    p.blocking.push_back("Width and depth are wanted first.");
  }
  judge_load_path(methods::flatwise_tension(), r, "load_cell", p);
  p.advice.push_back({"settings.speed.elastic", "Speed", from_unit(0.5, "mm/min", D::speed), D::speed,
                      "0.5 mm/min, failure within 3 to 6 minutes (ASTM C297)"});
  p.advice.push_back({"settings.sampling", "Sampling", 20, D::frequency, "slow run, sudden break"});
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(text("specimen.core", Stage::prepare));
  add(text("specimen.faces", Stage::prepare));
  add(text("specimen.cure.adhesive", Stage::prepare));
  add(quantity("specimen.cure.stated", D::time, Stage::prepare));
  add(of_piece(quantity("specimen.cure.elapsed", D::time, Stage::prepare)));
  add(readings("specimen.width", D::length, Stage::measure, 3, "w", true));
  add(readings("specimen.depth", D::length, Stage::measure, 3, "d", true));
  FieldSpec t = readings("specimen.thickness", D::length, Stage::measure, 3, "t", true);
  t.spread_limit = 0.02;
  add(t);
  for (const auto& [id, label] : kModes)
    add(quantity(std::string("specimen.failure.") + id, D::elongation, Stage::after, "", std::string(id) == "core"));
  add(quantity("settings.modulus.from", D::elongation, Stage::evaluate));
  add(quantity("settings.modulus.to", D::elongation, Stage::evaluate));
  add(zero_choice());
  add(quantity("run.peak_force", D::force, Stage::run));
  add_drive(m.fields, true);
  m.channels = {channels::time(true), channels::force(), channels::displacement("displacement", false),
                channels::crosshead()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::caliper()};
  m.timers = {{"specimen.cure.stated", "specimen.cure.elapsed", {}, "cure-short"}};
  m.prepare_sketch = "sandwich";
  m.measure_sketch = "sandwich-sizes";
  m.after_sketch = "sandwich-broken";
  m.setup_sketch = "load-path";
  m.run_sketch = "sandwich";
  m.standin = "sandwich-frame";
  m.minutes = {8, 10, 6};
  m.limit_keys = {key::strength, key::modulus};
  m.measure_keys = {key::area};
  m.after_keys = {key::failure_mode, key::strength};
  m.series.key = key::strength;
  m.printed_settings = {"settings.modulus", "settings.speed", "settings.sampling"};
  equipment::add_from_shelf(m, {"fixture", "micrometer"});
  finish(m);
}

}  // namespace fortitor::flatwise
