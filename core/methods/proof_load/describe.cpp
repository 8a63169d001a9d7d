// What proof-load asks and advises.
#include "core/methods/proof_load/model.h"
#include "core/methods/proof_load/proof_load.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"

namespace fortitor::proof {

using D = Dimension;

namespace {

constexpr double kSameForce = 1e-4;  // of a limit: its last digit

}  // namespace

Plan plan(const TestRecord& r) {
  Plan p;
  const Fields& f = r.fields;
  const double proof = f.number("specimen.proof").value_or(0), rated = f.number("specimen.rated").value_or(0);
  const double fixture = f.number("specimen.fixture_limit").value_or(0),
               planned = f.number("settings.planned_max").value_or(proof);
  if (!(proof > 0)) p.blocking.push_back("Enter the proof load.");
  if (!(fixture > 0))
    p.blocking.push_back(
        "Enter the limit of the fixture: the smallest rating of pins, shackles and plates in the load path.");
  const bool over_proof = fixture > 0 && proof > fixture, over_planned = fixture > 0 && planned > fixture;
  if (over_proof || over_planned)
    p.blocking.push_back("The planned " + ledger::si(over_proof ? proof : planned, D::force, 4) +
                         " is above the fixture's limit of " + ledger::si(fixture, D::force, 4) + ".");
  const double most = fixture > 0 ? fixture : std::max(planned, proof);
  if (most > 0)
    p.expected = Expectation{D::force, proof, std::min(most, std::max(planned, proof)), most,
                             "from the proof load to the limit of the fixture"};
  judge_load_path(methods::proof_load(), r, "load_cell", p);
  p.advice.push_back({"settings.cycles", "Cycles", 2, D::none, "the first seats, the second tells"});
  p.advice.push_back(
      {"settings.rate", "Load rate", from_unit(20, "kN/min", D::force_rate), D::force_rate, "20 kN/min"});
  p.advice.push_back({"settings.hold", "Hold", 30, D::time, "half a minute at the proof load"});
  p.advice.push_back({"settings.speed.elastic", "Speed of the destruction", from_unit(5, "mm/min", D::speed), D::speed,
                      "displacement led: it breaks slowly"});
  p.advice.push_back({"settings.sampling", "Sampling", 20, D::frequency, "slow run"});
  if (fixture > 0)
    p.advice.push_back({"settings.stop.force", "Stop at force", fixture, D::force, "the limit of the fixture"});
  want_settings(r,
                {{"settings.rate", "load rate"},
                 {"settings.speed.elastic", "speed of the destruction"},
                 {"settings.sampling", "sampling rate"},
                 {"settings.stop.force", "force that stops the run"}},
                p);
  if (const auto stop = f.number("settings.stop.force"); stop && fixture > 0 && *stop > fixture * (1 + kSameForce))
    p.blocking.push_back("The run would stop at " + ledger::si(*stop, D::force, 4) +
                         " only, above the fixture's limit.");
  if (rated > 0 && proof > 0 && proof < rated) p.warnings.push_back("The proof load lies below the rated load.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  const Stage prepare = Stage::prepare, set_up = Stage::set_up, after = Stage::after;
  add(of_series(quantity("specimen.rated", D::force, prepare, "R")));
  add(of_series(quantity("specimen.proof", D::force, prepare, "P", true)));
  add(of_series(text("specimen.rule.text", prepare)));
  add(of_series(quantity("specimen.rule.required", D::force, prepare)));
  FieldSpec price = quantity("specimen.price", D::none, prepare);
  add(of_series(price));
  add(of_series(quantity("specimen.fixture_limit", D::force, set_up, "", true)));
  add(of_series(quantity("specimen.reference_preload", D::force, set_up)));
  FieldSpec function = choice("specimen.function", after, {"free", "by tool", "stuck"});
  function.kind = FieldKind::choices;
  function.in_order = true;
  add(of_piece(function));
  add(text("specimen.after.remark", after));
  add(of_piece(flag("specimen.after.destroyed", after)));
  add(of_series(quantity("specimen.snatch.mass", D::mass, Stage::evaluate)));
  add(of_series(quantity("specimen.snatch.speed", D::speed, Stage::evaluate)));
  add(of_series(quantity("specimen.snatch.distance", D::length, Stage::evaluate)));
  add(of_series(quantity("specimen.snatch.stiffness", D::stiffness, Stage::evaluate)));
  add(of_series(quantity("settings.departure", D::elongation, Stage::evaluate)));
  add(of_piece(quantity("settings.elastic_limit", D::force, Stage::evaluate)));
  add(of_series(quantity("settings.cycles", D::none, set_up, "n")));
  add(of_series(quantity("settings.rate", D::force_rate, set_up)));
  add(of_series(quantity("settings.hold", D::time, set_up)));
  add(of_series(quantity("settings.planned_max", D::force, set_up)));
  add_drive(m.fields, true);
  add(flag("run.censored", Stage::run));
  add(zero_choice());
  const std::vector<ChannelSpec> channels = {channels::time(false), channels::force(),
                                             channels::displacement("displacement", true)};
  m.channels = channels;
  SegmentSpec cycles{"cycles", {}, true, channels}, destruction{"destruction", {}, false, channels};
  m.segments = {cycles, destruction};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips()};
  m.asked_at_hold = "specimen.function";
  m.prepare_sketch = m.measure_sketch = m.after_sketch = "clamp";
  m.setup_sketch = "load-path";
  m.run_sketch = "clamp";
  m.standin = "proof-bench";
  m.minutes = {8, 20, 8};
  m.limit_keys = {key::design_factor, key::force_max, "set_1", "set_2", key::energy_to_break};
  m.after_keys = {key::force_max, key::design_factor};
  m.series.key = key::force_max;
  m.series.price_path = "specimen.price";
  m.printed_settings = {"settings.cycles", "settings.rate", "settings.hold", "settings.departure"};
  equipment::add_from_shelf(m, {"fixture", "dial"});
  finish(m);
}

}  // namespace fortitor::proof
