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
    if (loss > 0.005 * available)
      p.warnings.push_back("The free swing loses " + significant(100 * loss / available, 2) +
                           " %; half a per cent is allowed.");
  }
  if (const auto energy = r.fields.number("specimen.available_energy"))
    p.expected =
        Expectation{D::energy, 0.1 * *energy, 0.4 * *energy, 0.8 * *energy, "range that the hammer reads well"};
  return p;
}

}  // namespace

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(of_series(choice("specimen.arrangement", "Arrangement", Stage::prepare,
                       {{"beam", "beam, struck opposite the notch"},
                        {"cantilever-metal", "cantilever, metal"},
                        {"cantilever-plastic", "cantilever, plastic"}},
                       true)));
  add(of_series(choice("specimen.notch", "Notch", Stage::prepare,
                       {{"V2", "V, 2 mm"},
                        {"V2.54", "V, 2.54 mm (plastics)"},
                        {"U2", "U, 2 mm"},
                        {"U3", "U, 3 mm"},
                        {"U5", "U, 5 mm"},
                        {"K5", "keyhole, 5 mm"},
                        {"H5", "pinned hole, 5 mm"},
                        {"none", "none"}},
                       true)));
  blows::describe_common(m);
  m.tables.front().columns.push_back(flag("second_set", "second set", Stage::run));
  m.tables.front().marks.push_back({'2', "second_set", "true", "of the second set"});
  for (FieldSpec f : section_fields({"flat"}, Stage::measure)) {
    f.required = false;
    add(std::move(f));
  }
  FieldSpec ligament = readings("specimen.ligament", "Ligament under the notch", D::length, Stage::measure, 3, "l",
                                "From the root of the notch to the far side.");
  ligament.spread_limit = 0.01;
  add(ligament);
  m.equipment.push_back(equipment::caliper());
  FieldSpec toss = quantity("settings.toss", "Toss of the free end", D::energy, Stage::evaluate, "",
                            "Energy that throwing a broken end takes: for weak plastics, taken off complete breaks.");
  toss.usual = "nothing taken off";
  toss.when_path = "specimen.arrangement";
  toss.when_value = "cantilever-plastic";
  add(of_series(toss));
  add(of_series(choice("settings.subsize", "Limit of thinner pieces", Stage::evaluate,
                       {{"proportional", "in proportion to the width"}, {"none", "as for 10 mm"}}, true)));
  m.schools = {
      {"settings.unbroken", "Pieces that did not break", {{"bound", "a lower bound"}, {"exclude", "left out"}}}};
  auto& s = m.stages;
  s[0] = {"A set: like pieces at one temperature, each with its mark.",
          {"Three pieces for metals, five or ten for plastics.",
           "In a bath at least 5 minutes, in a gas at least 30; the blow within 5 s of leaving it."},
          {"Cold baths burn: gloves and tongs."},
          {}};
  s[1] = {"Breadth and the ligament under the notch.", {"Reject a notch with a mark of the tool at its root."}, {}, {}};
  s[2] = {"Hammer, striker, free swing.",
          {"Swing once without a piece: it shows friction and air.", "Set the pointer, or the start of the angle."},
          {"Nobody beside the anvil or in the plane of the swing.",
           "The hammer is lifted last; catch it before anything is touched.", "Pieces fly: closed guards.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"centred", "Striker and anvil centred", false},
           {"guards", "Guards closed, path clear on both sides", true},
           {"away", "Nobody within the swing", true}}};
  s[3] = {"One blow after the other. Stand clear until the hammer hangs still.",
          {"Space lets the stand-in strike.", "J: a half jammed. U: it did not break."},
          {"Nobody inside the swing until the hammer hangs still.", "Cold pieces burn: tongs."},
          {}};
  s[4] = {"The halves, put together.",
          {"Shear in per cent of the area, lateral expansion, the bend of the halves."},
          {},
          {}};
  s[5] = {"Mean of the set, and its least value.",
          {"One blow may lie below the limit of the mean, none below 70 % of it."},
          {},
          {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = m.after_sketch = m.measure_sketch = "notched-bar";
  m.run_sketch = m.setup_sketch = "swing";
  m.standin = "pendulum-bench";
  m.minutes = {4, 4, 4};
  m.series.alike = {"specimen.arrangement", "specimen.notch", "specimen.temperature"};
  m.limit_keys = {"energy", "kc", "a_izod_kj_per_m2", "a_izod_j_per_m", "lateral_expansion", "shear_percent"};
  m.measure_keys = {};
  m.after_keys = {"energy", "energy_min", "shear_percent", "lateral_expansion"};
  m.series.key = "energy";
  m.series.evaluate = transition;
  m.series.beside_run = true;
  m.printed_settings = {"settings.unbroken", "settings.subsize"};
  m.wording = {"The broken pieces come after the blows.",
               "Blows stand here, one after the other.",
               "All pieces are struck. Put the halves together at After.",
               "halves to put together",
               "While they are sorted on the bench.",
               "Hammer and free swing",
               "Measure on the stand-in"};
  m.plan = plan;
  equipment::add_from_shelf(m, {"hammer", "bath", "chamber", "micrometer"});
  finish(m);
}

}  // namespace fortitor::pendulum
