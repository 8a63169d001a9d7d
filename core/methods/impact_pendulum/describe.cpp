#include <cmath>

#include "core/methods/impact_pendulum/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/section/section.h"

namespace fortitor::pendulum {
namespace {

using D = Dimension;

Plan plan(const TestRecord& r) {
  Plan p;
  const blows::Swing swing = blows::swing_of(r.fields);
  const bool angles = r.fields.text("settings.reads") == "angle";
  if (!r.fields.number("specimen.temperature")) p.blocking.push_back("Enter the temperature of the pieces.");
  if (angles && !swing.known()) p.blocking.push_back("Angles want mass and length of the pendulum.");
  if (angles && !swing.start) p.blocking.push_back("Angles want the start of the swing, α.");
  if (angles && !swing.free_rise)
    p.warnings.push_back(
        "Without today's free swing friction and windage stay in the energy. Swing once without a piece.");
  if (!r.fields.number("specimen.available_energy") && !(swing.known() && swing.start))
    p.warnings.push_back("The energy of the hammer is not known: nothing can be said of the range it reads well.");
  if (const double loss = blows::free_loss(swing); std::isfinite(loss)) {
    const double available =
        r.fields.number("specimen.available_energy").value_or(swing.moment() * (1 - std::cos(*swing.start)));
    if (loss > blows::kLossAllowed * available)
      p.warnings.push_back("The free swing loses " + significant(100 * loss / available, 2) +
                           " %; half a per cent is allowed.");
  }
  if (const auto energy = r.fields.number("specimen.available_energy"))
    p.expected = Expectation{D::energy, blows::kTooLittle * *energy, blows::kTooMuch / 2 * *energy,
                             blows::kTooMuch * *energy, "range that the hammer reads well"};
  return p;
}

}  // namespace

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(of_series(
      choice("specimen.arrangement", Stage::prepare, {"beam", "cantilever-metal", "cantilever-plastic"}, true)));
  add(of_series(choice("specimen.notch", Stage::prepare, {"V2", "V2.54", "U2", "U3", "U5", "K5", "H5", "none"}, true)));
  blows::describe_common(m);
  m.tables.front().columns.push_back(flag("second_set", Stage::run));
  m.tables.front().marks.push_back({'2', "second_set", "true"});
  for (FieldSpec f : section_fields({"flat"}, Stage::measure)) {
    f.required = false;
    add(std::move(f));
  }
  FieldSpec ligament = readings("specimen.ligament", D::length, Stage::measure, 3, "l");
  ligament.spread_limit = 0.01;
  add(ligament);
  m.equipment.push_back(equipment::caliper());
  FieldSpec toss = quantity("settings.toss", D::energy, Stage::evaluate);
  toss.when_path = "specimen.arrangement";
  toss.when_value = "cantilever-plastic";
  add(of_series(toss));
  add(of_series(choice("settings.subsize", Stage::evaluate, {"proportional", "none"}, true)));
  m.schools = {school("settings.unbroken", {"bound", "exclude"})};
  m.prepare_sketch = m.after_sketch = m.measure_sketch = "notched-bar";
  m.run_sketch = m.setup_sketch = "swing";
  m.standin = "pendulum-bench";
  m.minutes = {4, 4, 4};
  m.series.alike = {"specimen.arrangement", "specimen.notch", "specimen.temperature"};
  m.limit_keys = {key::energy,       key::kc, key::a_izod_kj_per_m2, key::a_izod_j_per_m, key::lateral_expansion,
                  key::shear_percent};
  m.measure_keys = {};
  m.after_keys = {key::energy, key::energy_min, key::shear_percent, key::lateral_expansion};
  m.series.key = key::energy;
  m.series.evaluate = transition;
  m.series.limit_keys = {key::t27j, key::t41j, key::t50, key::upper_shelf};
  m.series.results = transition_results();
  m.series.beside_run = true;
  m.printed_settings = {"settings.unbroken", "settings.subsize"};
  m.plan = plan;
  equipment::add_from_shelf(m, {"hammer", "bath", "chamber", "micrometer"});
  finish(m);
}

}  // namespace fortitor::pendulum
