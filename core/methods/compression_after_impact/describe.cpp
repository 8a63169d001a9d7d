// What compression-after-impact asks and advises.
#include "core/methods/compression_after_impact/compression_after_impact.h"
#include "core/methods/compression_after_impact/model.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/reference/library.h"

namespace fortitor::cai {

using D = Dimension;

namespace {

constexpr double kKeptFrom = 0.2, kKeptTo = 0.9;  // of the undamaged strength

}  // namespace

Plan plan(const TestRecord& r) {
  Plan p;
  const State s = look(r);
  if (!(s.area > 0)) p.blocking.push_back("Measure width and thickness.");
  // A dented plate keeps between a fifth and nine tenths of its strength in compression.
  double low = 60, high = 350;
  std::string from = "usual range of dented carbon plates, 60 to 350 MPa";
  if (const auto u = r.fields.number("specimen.undamaged"); u && *u > 0) {
    low = kKeptFrom * *u;
    high = kKeptTo * *u;
    from = "a fifth to nine tenths of the undamaged strength";
  }
  if (s.area > 0) p.expected = Expectation{D::force, low * s.area, 0.5 * (low + high) * s.area, high * s.area, from};
  judge_load_path(methods::compression_after_impact(), r, "load_cell", p);
  p.advice.push_back({"settings.speed.elastic", "Speed", from_unit(1.25, "mm/min", D::speed), D::speed, "ASTM D7137"});
  p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "the end is sudden"});
  p.advice.push_back(
      {"settings.seating", "Hold for alignment at", kSeating, D::force, "bending is read there, screws are turned"});
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  if (r.fields.text("specimen.impact").empty())
    p.warnings.push_back("Which impact the plate had is not said: retention and report stand without its energy.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(text("specimen.layup", Stage::prepare));
  FieldSpec impact = text("specimen.impact", Stage::prepare);
  impact.record_of = "drop-impact";
  add(of_piece(impact));
  add(of_series(quantity("specimen.undamaged", D::stress, Stage::prepare, "F₀")));
  add(readings("specimen.width", D::length, Stage::measure, 3, "w", true));
  add(readings("specimen.thickness", D::length, Stage::measure, 3, "t", true));
  add(choice("specimen.failure", Stage::after, {"damage", "delamination", "buckled", "end", "edge", "other"}));
  add(zero_choice());
  add_drive(m.fields, true);
  add(of_series(quantity("settings.seating", D::force, Stage::set_up)));
  auto gauge = [](const char* name, std::vector<std::string> words) {
    return channels::gauge(name, false, std::move(words));
  };
  m.channels = {channels::time(false),
                channels::force(),
                gauge("strain_front_1", {"strain_front_1", "front left", "front 1", "front1", "=f1", "fl", "sg1",
                                         "vorn links", "vorne 1", "avant 1"}),
                gauge("strain_back_1", {"strain_back_1", "back left", "back 1", "back1", "=b1", "bl", "sg2",
                                        "hinten links", "hinten 1", "arrière 1"}),
                gauge("strain_front_2", {"strain_front_2", "front right", "front 2", "front2", "=f2", "fr", "sg3",
                                         "vorn rechts", "vorne 2", "avant 2"}),
                gauge("strain_back_2", {"strain_back_2", "back right", "back 2", "back2", "=b2", "br", "sg4",
                                        "hinten rechts", "hinten 2", "arrière 2"}),
                channels::crosshead()};
  m.equipment = {equipment::frame(),         equipment::load_cell(), equipment::grips(),
                 equipment::strain_gauges(), equipment::indicator(), equipment::caliper()};
  m.prepare_sketch = "plate-gauged";
  m.measure_sketch = "plate-gauged-sizes";
  m.after_sketch = "plate-crushed";
  m.setup_sketch = "load-path";
  m.run_sketch = "plate-fixture";
  m.standin = "plate-press";
  m.minutes = {15, 20, 10};
  m.limit_keys = {key::cai_strength, key::cai_modulus, key::retention, key::bending_percent};
  m.measure_keys = {key::area};
  m.after_keys = {key::failure_mode, key::cai_strength, key::retention};
  m.timers = {{"conditions.stated", "conditions.hours", {}, "conditioning-short"}};
  m.series.key = key::cai_strength;
  m.printed_settings = {"settings.speed", "settings.sampling", "settings.seating"};
  equipment::add_from_shelf(m, {"fixture", "dial", "micrometer"});
  finish(m);
}

}  // namespace fortitor::cai
