// What proof-load asks and advises.
#include "core/methods/proof_load/model.h"
#include "core/methods/proof_load/proof_load.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"

namespace fortitor::proof {

using D = Dimension;

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
  if (const auto stop = f.number("settings.stop.force"); stop && fixture > 0 && *stop > fixture * 1.0001)
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
  add(of_series(quantity("specimen.rated", "Rated load", D::force, prepare, "R",
                         "As the maker marks it; left empty without one.")));
  add(of_series(quantity("specimen.proof", "Proof load", D::force, prepare, "P", "", true)));
  add(of_series(text("specimen.rule.text", "Rule and its source", prepare,
                     "Such as “line order 12: 5 × rated”, or “2 × 850 kg × g”.")));
  add(of_series(quantity("specimen.rule.required", "Load asked for", D::force, prepare, "",
                         "Only where the rule is no arithmetic.")));
  FieldSpec price = quantity("specimen.price", "Price of the piece", D::none, prepare, "", "In your own money.");
  add(of_series(price));
  add(of_series(quantity("specimen.fixture_limit", "Limit of the fixture", D::force, set_up, "",
                         "Smallest rating in the load path; watched.", true)));
  add(of_series(quantity("specimen.reference_preload", "Reference preload", D::force, set_up, "",
                         "5 % of the proof load when left empty.")));
  FieldSpec function = choice("specimen.function", "Opens after each cycle", after,
                              {{"free", "by hand"}, {"by tool", "by tool"}, {"stuck", "not at all"}});
  function.kind = FieldKind::choices;
  function.in_order = true;
  add(of_piece(function));
  add(text("specimen.after.remark", "Piece after the test", after, "Where it gave way, what bent."));
  add(of_piece(flag("specimen.after.destroyed", "Marked and destroyed", after)));
  for (const auto& [path, label, d, hint] :
       {std::tuple{"specimen.snatch.mass", "Jerk: mass", D::mass, "For the force of a jerk."},
        {"specimen.snatch.speed", "Jerk: closing speed", D::speed, ""},
        {"specimen.snatch.distance", "Jerk: stopped within", D::length, ""},
        {"specimen.snatch.stiffness", "Jerk: stiffness", D::stiffness, "That of the last cycle when left empty."}})
    add(usually(of_series(quantity(path, label, d, Stage::evaluate, "", hint)),
                d == D::stiffness ? "that of the last cycle" : "no jerk"));
  add(usually(of_series(quantity("settings.departure", "Leaves its line by", D::elongation, Stage::evaluate, "",
                                 "5 % when left empty.")),
              "5 %"));
  add(of_series(quantity("settings.cycles", "Cycles", D::none, set_up, "n")));
  add(of_series(quantity("settings.rate", "Load rate", D::force_rate, set_up)));
  add(of_series(quantity("settings.hold", "Hold", D::time, set_up, "", "At the proof load.")));
  add(of_series(quantity("settings.planned_max", "Planned largest load", D::force, set_up, "",
                         "Of the destruction, if it is to be stopped.")));
  add_drive(m.fields, true);
  add(flag("run.censored", "Stopped before it broke", Stage::run));
  add(zero_choice());
  const std::vector<ChannelSpec> channels = {channels::time(false), channels::force(),
                                             channels::displacement("displacement", "displacement", true)};
  m.channels = channels;
  SegmentSpec cycles{"cycles", "Cycles", true, channels}, destruction{"destruction", "Destruction", false, channels};
  m.segments = {cycles, destruction};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips()};
  m.asked_at_hold = "specimen.function";
  auto& s = m.stages;
  s[0] = {"A piece as it is used, with the pins and ropes it is used with.",
          {"Rated load, proof load and breaking load are three different numbers.",
           "Write the rule with its source: its arithmetic is done with units."},
          {"Chains, hooks and clamps under load store energy: they fly when they break."},
          {}};
  s[1] = {"Nothing is measured of the piece: it is loaded as a whole.", {}, {}, {}};
  s[2] = {"Load path with the rating of every part; the smallest is the fixture's limit.",
          {"Start is refused above that limit, and the run stops at it by itself."},
          {"Shield up, nobody in line with the load.", "No hand between pins while the drive is armed.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"shield", "Shield up, nobody in line with the load", true},
           {"path", "Every part of the load path looked over", true},
           {"hands", "Hands out before every start", true}}};
  s[3] = {"Cycles with a check after each, then to destruction.",
          {"After each cycle: does it open by hand, by tool, not at all?"},
          {"Unloaded to the preload before a hand goes near it.", "Nobody in line with the load."},
          {}};
  s[4] = {"How it gave way. What was tested is scrap.",
          {"Mark it and destroy it: a tested piece must never come back into use."},
          {"Sharp edges, stored energy in bent parts: gloves, and release slowly."},
          {}};
  s[5] = {"Loops, the line, the rule.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = m.measure_sketch = m.after_sketch = "clamp";
  m.setup_sketch = "load-path";
  m.run_sketch = "clamp";
  m.standin = "proof-bench";
  m.minutes = {8, 20, 8};
  m.limit_keys = {"design_factor", "force_max", "set_1", "set_2", "energy_to_break"};
  m.after_keys = {"force_max", "design_factor"};
  m.series.key = "force_max";
  m.series.price_path = "specimen.price";
  m.printed_settings = {"settings.cycles", "settings.rate", "settings.hold", "settings.departure"};
  m.wording = {"How it gave way comes after the run.",     "Loops grow here, one over the other.",
               "The piece broke. Mark it and destroy it.", "piece to look at",
               "While it hangs in the fixture.",           "Recipe and limits"};
  equipment::add_from_shelf(m, {"fixture", "dial"});
  finish(m);
}

}  // namespace fortitor::proof
