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

constexpr double kHeightOff = 0.05;  // of the height that the energy asks for

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
  if (const auto set = r.fields.number("settings.drop_height"); set && std::abs(*set / h - 1) > kHeightOff)
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
  add(text("specimen.layup", Stage::prepare));
  add(of_series(choice("settings.way", Stage::prepare, {"drop", "indentation"}, true)));
  add(readings("specimen.thickness", D::length, measure, 4, "t", true));
  add(readings("specimen.length", D::length, measure, 1, "L"));
  add(readings("specimen.width", D::length, measure, 1, "w"));
  FieldSpec per = quantity("specimen.energy_per_thickness", D::impact_width, measure, "C_E");
  per.unit = "J/mm";
  add(of_series(per));
  add(of_series(quantity("specimen.target_energy", D::energy, measure, "E")));
  add(of_series(only(quantity("specimen.mass", D::mass, set_up, "m"), "drop")));
  add(of_series(only(quantity("settings.drop_height", D::length, set_up, "H"), "drop")));
  FieldSpec speed = only(quantity("specimen.v_impact", D::speed, after, "v_i"), "drop");
  speed.unit = "m/s";
  add(speed);
  add(of_series(only(quantity("specimen.flag.width", D::length, set_up, "s"), "drop")));
  add(only(quantity("specimen.flag.time", D::time, after, "Δt"), "drop"));
  add(only(quantity("specimen.flag.to_contact", D::time, after), "drop"));
  add(only(flag("specimen.rebound_caught", after), "drop"));
  const std::vector<std::string> seen = {"dent", "split", "delamination", "fibre break"};
  auto damage = [&](const char* name, D d, const char* symbol = "") {
    FieldSpec f = quantity(std::string("specimen.damage.") + name, d, after, symbol);
    f.may_be_zero = true;
    add(std::move(f));
  };
  damage("dent", D::length, "d");
  damage("dent_after", D::time);
  damage("dent_relaxed", D::length, "d_r");
  damage("relaxed_after", D::time);
  damage("length_front", D::length, "l_f");
  damage("width_front", D::length, "w_f");
  damage("length_back", D::length, "l_b");
  damage("width_back", D::length, "w_b");
  FieldSpec kinds = choice("specimen.damage.kinds", after, seen);
  kinds.kind = FieldKind::choices;
  add(of_piece(kinds));
  FieldSpec photo = text("specimen.damage.photo", after);
  photo.kind = FieldKind::picture;
  add(of_piece(photo));
  // What is drawn on the plate: an ellipse of a kind on a face. Its middle from the middle of the plate.
  TableSpec drawn;
  drawn.id = kDamage;
  drawn.stage = after;
  drawn.usual = 0;
  drawn.least = 0;
  FieldSpec kind = choice("kind", after, seen), face = choice("face", after, {"front", "back"});
  FieldSpec x = column("x", D::length), y = column("y", D::length);
  FieldSpec length = quantity("length", D::length, after), width = quantity("width", D::length, after);
  length.may_be_zero = width.may_be_zero = true;
  drawn.columns = {kind, face, x, y, length, width};
  m.tables = {drawn};
  add(only(quantity("settings.speed.elastic", D::speed, set_up, "v"), "indentation"));
  add(quantity("settings.sampling", D::frequency, set_up, "f"));
  add(only(quantity("settings.stop.force", D::force, set_up), "indentation"));
  add(only(quantity("settings.stop.travel", D::length, set_up), "indentation"));
  add(zero_choice());
  FieldSpec later = only(quantity("settings.contact_later", D::time, Stage::evaluate), "drop");
  later.may_be_zero = later.may_be_negative = later.when_default = true;
  add(of_piece(later));
  m.channels = {channels::time(false), channels::force(), channels::displacement("displacement", false)};
  EquipmentSlot cell = equipment::load_cell();
  for (FieldSpec& f : cell.fields) f.required = false;
  m.equipment = {equipment::drop_tower(), cell, equipment::caliper()};
  m.prepare_sketch = "plate";
  m.measure_sketch = "plate-sizes";
  m.after_sketch = "plate-damage";
  m.setup_sketch = m.run_sketch = "drop-tower";
  m.standin = "drop-tower";
  m.minutes = {10, 8, 15};
  m.series.alike = {"settings.way"};
  m.limit_keys = {key::energy_impact, key::energy_absorbed, key::force_peak, key::dent};
  m.measure_keys = {key::target_energy};
  m.after_keys = {key::energy_impact, key::energy_absorbed, key::dent};
  m.series.key = key::dent;
  m.printed_settings = {"settings.way", "settings.drop_height", "settings.sampling"};
  equipment::add_from_shelf(m, {"fixture", "dial"});
  finish(m);
}

}  // namespace fortitor::drop
