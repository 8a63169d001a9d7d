// What drop-impact asks and advises.
#include <algorithm>
#include <cmath>

#include "core/methods/drop_impact/drop_impact.h"
#include "core/methods/drop_impact/model.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"

namespace fortitor::drop {

using D = Dimension;

namespace {

constexpr double kLeastHeight = 300;  // mm (ASTM D7136: at least 0.3 m)
constexpr double kUsualMass = 5.5;    // kg (ASTM D7136)

}  // namespace

Plan plan(const TestRecord& r) {
  Plan p;
  const State s = look(r);
  if (s.pressed) {
    judge_load_path(methods::drop_impact(), r, "load_cell", p);
    p.advice.push_back(
        {"settings.speed.elastic", "Speed", from_unit(1.25, "mm/min", D::speed), D::speed, "ASTM D6264"});
    p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "the plate cracks suddenly"});
    want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
    return p;
  }
  if (!(s.target > 0)) {
    p.blocking.push_back(s.thickness.given() ? "Say which energy: as asked, or per thickness."
                                             : "Measure the thickness: the energy follows from it.");
    if (s.thickness.given() && !r.fields.has("specimen.energy_per_thickness"))
      p.advice.push_back(
          {"specimen.energy_per_thickness", "Energy per thickness", 6700, D::impact_width, "6.7 J/mm (ASTM D7136)"});
    return p;
  }
  p.expected = Expectation{D::energy, s.target, s.target, s.target, "energy asked for"};
  // Masses that give the energy within the reach of the tower; of these the one nearest to what is usual.
  const double reach = r.fields.number("equipment.drop_tower.reach").value_or(1200);
  std::optional<double> best;
  auto height = [&](double mass) { return s.target * 1e6 / (mass * kGravity); };
  const Readings masses = r.fields.readings("equipment.drop_tower.masses");
  for (const Reading& m : masses) {
    if (!m.value || !(*m.value > 0) || height(*m.value) < kLeastHeight || height(*m.value) > reach) continue;
    if (!best || std::abs(*m.value - kUsualMass) < std::abs(*best - kUsualMass)) best = *m.value;
  }
  if (best)
    p.advice.push_back({"specimen.mass", "Mass", *best, D::mass,
                        "of the tower's masses the one nearest to " + ledger::si(kUsualMass, D::mass, 2) +
                            " with a drop of " + ledger::si(height(*best), D::length, 4)});
  else if (!masses.empty())
    p.warnings.push_back("None of the tower's masses gives " + ledger::si(s.target, D::energy, 4) +
                         " between 0.3 m and " + ledger::si(reach, D::length, 4) + ".");
  else
    p.advice.push_back(
        {"specimen.mass", "Mass", kUsualMass, D::mass, "usual (ASTM D7136); the Kit knows no masses of this tower"});
  if (!(s.mass > 0)) {
    p.blocking.push_back("Enter the mass that falls, striker and cell included.");
    return p;
  }
  const double h = s.height();
  p.advice.push_back({"settings.drop_height", "Height of the drop", h, D::length,
                      "E/(m·g) for " + ledger::si(s.target, D::energy, 4)});
  p.advice.push_back({"settings.sampling", "Sampling", 200e3, D::frequency, "100 kHz or more"});
  if (h < kLeastHeight)
    p.warnings.push_back("A drop of " + ledger::si(h, D::length, 3) +
                         " is short: 0.3 m at least, with a lighter mass.");
  if (h > reach)
    p.blocking.push_back("A drop of " + ledger::si(h, D::length, 4) + " is beyond the tower's " +
                         ledger::si(reach, D::length, 4) + ".");
  if (const auto set = r.fields.number("settings.drop_height"); set && std::abs(*set / h - 1) > 0.05)
    p.warnings.push_back("The height set gives " + ledger::si(s.mass * kGravity * *set * 1e-6, D::energy, 3) +
                         ", not the " + ledger::si(s.target, D::energy, 3) + " asked for.");
  want_settings(r, {{"settings.drop_height", "height of the drop"}}, p);
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  auto only = [](FieldSpec f, const char* value) {
    f.when_path = "settings.way";
    f.when_value = value;
    return f;
  };
  const Stage measure = Stage::measure, set_up = Stage::set_up, after = Stage::after;
  add(text("specimen.layup", "Layup", Stage::prepare, "Such as [45/0/−45/90]4s."));
  add(of_series(choice("settings.way", "How the dent is made", Stage::prepare,
                       {{"drop", "a falling mass"}, {"indentation", "pressed in slowly"}}, true)));
  add(readings("specimen.thickness", "Thickness", D::length, measure, 4, "t", "Around the place of the impact.", true));
  add(readings("specimen.length", "Length", D::length, measure, 1, "L", "150 mm."));
  add(readings("specimen.width", "Width", D::length, measure, 1, "w", "100 mm."));
  FieldSpec per = quantity("specimen.energy_per_thickness", "Energy per thickness", D::impact_width, measure, "C_E",
                           "6.7 J/mm is usual.");
  per.unit = "J/mm";
  add(of_series(per));
  add(of_series(quantity("specimen.target_energy", "Energy as asked", D::energy, measure, "E",
                         "Instead of an energy per thickness.")));
  add(of_series(
      only(quantity("specimen.mass", "Falling mass", D::mass, set_up, "m", "All that falls: mass, striker, cell."),
           "drop")));
  add(of_series(
      only(quantity("settings.drop_height", "Height of the drop", D::length, set_up, "H", "From striker to plate."),
           "drop")));
  FieldSpec speed =
      only(quantity("specimen.v_impact", "Speed at contact", D::speed, after, "v_i", "As the tower shows it."), "drop");
  speed.unit = "m/s";
  add(speed);
  add(of_series(only(quantity("specimen.flag.width", "Width of the flag", D::length, set_up, "s", "Between its edges."),
                     "drop")));
  add(only(quantity("specimen.flag.time", "Flag passes in", D::time, after, "Δt", "From the timer."), "drop"));
  add(only(quantity("specimen.flag.to_contact", "From its middle to contact", D::time, after, "",
                    "What gravity still adds."),
           "drop"));
  add(only(flag("specimen.rebound_caught", "Rebound caught", after), "drop"));
  auto damage = [&](const char* name, const char* label, D d, const char* symbol, const char* hint) {
    FieldSpec f = quantity(std::string("specimen.damage.") + name, label, d, after, symbol, hint);
    f.may_be_zero = true;
    add(std::move(f));
  };
  damage("dent", "Dent", D::length, "d", "Dial gauge over the dent, minutes after the impact.");
  damage("dent_after", "Read after", D::time, "", "Minutes after the impact.");
  damage("dent_relaxed", "Dent, relaxed", D::length, "d_r", "Read again days later.");
  damage("relaxed_after", "Read again after", D::time, "", "");
  damage("length_front", "Damage front, length", D::length, "l_f", "Along the plate.");
  damage("width_front", "Damage front, width", D::length, "w_f", "");
  damage("length_back", "Damage back, length", D::length, "l_b", "");
  damage("width_back", "Damage back, width", D::length, "w_b", "");
  FieldSpec kinds =
      choice("specimen.damage.kinds", "Damage seen", after,
             {{"dent", "dent"}, {"split", "split"}, {"delamination", "delamination"}, {"fibre break", "fibre break"}});
  kinds.kind = FieldKind::choices;
  add(of_piece(kinds));
  FieldSpec photo =
      text("specimen.damage.photo", "Photograph", after, "Of the struck face; printed on the certificate.");
  photo.kind = FieldKind::picture;
  add(of_piece(photo));
  // What is drawn on the plate: an ellipse of a kind on a face. Its middle from the middle of the plate.
  TableSpec drawn;
  drawn.id = kDamage;
  drawn.label = "Drawn on the plate";
  drawn.row = "mark";
  drawn.stage = after;
  drawn.usual = 0;
  drawn.least = 0;
  FieldSpec kind = choice("kind", "kind", after, kinds.choices),
            face = choice("face", "face", after, {{"front", "front"}, {"back", "back"}});
  FieldSpec x = column("x", "x", D::length), y = column("y", "y", D::length);
  FieldSpec length = quantity("length", "length", D::length, after),
            width = quantity("width", "width", D::length, after);
  length.may_be_zero = width.may_be_zero = true;
  drawn.columns = {kind, face, x, y, length, width};
  m.tables = {drawn};
  add(only(quantity("settings.speed.elastic", "Speed", D::speed, set_up, "v", "Of the striker."), "indentation"));
  add(quantity("settings.sampling", "Sampling", D::frequency, set_up, "f", "100 kHz or more for an impact."));
  add(only(quantity("settings.stop.force", "Stop at force", D::force, set_up), "indentation"));
  add(only(quantity("settings.stop.travel", "Stop at travel", D::length, set_up), "indentation"));
  add(zero_choice());
  m.channels = {channels::time(false), channels::force(),
                channels::displacement("displacement", "displacement", false)};
  EquipmentSlot cell = equipment::load_cell();
  for (FieldSpec& f : cell.fields) f.required = false;
  m.equipment = {equipment::drop_tower(), cell, equipment::caliper()};
  auto& s = m.stages;
  s[0] = {"A plate of 150 × 100 mm, layup and faces known.",
          {"Mark which face is struck and which way is up: the plate keeps its mark through dent and compression."},
          {"Edges of cut laminate are sharp: gloves; dust is not breathed in."},
          {}};
  s[1] = {"Thickness at four places around the middle.", {"The energy follows from the thickness."}, {}, {}};
  s[2] = {"Mass, height, rebound catcher.",
          {"Count all that falls: mass, striker, cell.", "Clamp tips on the plate, the pins against its edges.",
           "Try the rebound catcher by hand before the mass hangs over it."},
          {"The mass is locked until the guard is closed; no hand under it, ever.",
           "Nobody reaches in after the strike: let it be caught first.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"locked", "Mass locked while the plate was put in", true},
           {"guard", "Guard closed, nobody reaches in", true},
           {"catcher", "Rebound catcher tried", false},
           {"clamped", "Plate clamped, marked face up", false}}};
  s[3] = {"Raise, release, catch.",
          {"One strike. The rebound is caught, or the plate is lost."},
          {"Guard closed. The mass falls: no hand under it."},
          {}};
  s[4] = {"The dent within minutes, then both faces.",
          {"Dial gauge over the dent, and the minutes since the strike.",
           "Draw what is seen: pick a kind, then drag on the plate."},
          {"Splinters of fibre: gloves."},
          {}};
  s[5] = {"Force, deflection and energy of one impact.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = "plate";
  m.measure_sketch = "plate-sizes";
  m.after_sketch = "plate-damage";
  m.setup_sketch = m.run_sketch = "drop-tower";
  m.standin = "drop-tower";
  m.minutes = {10, 8, 15};
  m.series.alike = {"settings.way"};
  m.limit_keys = {"energy_impact", "energy_absorbed", "force_peak", "dent"};
  m.measure_keys = {"target_energy"};
  m.after_keys = {"energy_impact", "energy_absorbed", "dent"};
  m.series.key = "dent";
  m.printed_settings = {"settings.way", "settings.drop_height", "settings.sampling"};
  m.wording = {"Dent and damage come after the strike.",
               "The force stands here after the strike.",
               "Read the dent now: it grows shallower by the minute.",
               "dent to read",
               "It relaxes while it waits.",
               "Mass, height, speed"};
  equipment::add_from_shelf(m, {"fixture", "dial"});
  finish(m);
}

}  // namespace fortitor::drop
