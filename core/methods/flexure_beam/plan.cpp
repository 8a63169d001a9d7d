#include "core/plan/plan.h"

#include <algorithm>
#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/flexure_beam/model.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/reference/library.h"

namespace fortitor::flexure {
namespace {

// Strength to be expected: the species at its moisture, or a limit of the job.
struct Expected {
  double low = 0, high = 0, modulus = 0;
  std::string from;
};

Expected expected_of(const TestRecord& record) {
  Expected x;
  const auto species = usual_of(record, "specimen.species", "wood");
  if (species) {
    const bool green = record.fields.number("specimen.moisture").value_or(0.12) > 0.2;
    const ReferenceValue& mor = species->values.at(green ? "mor_green" : "mor_12");
    x = {mor.mean * (1 - 2 * 0.16), mor.mean * (1 + 2 * 0.16), species->values.at(green ? "moe_green" : "moe_12").mean,
         "usual modulus of rupture of " + species->name};
  } else if (const auto material = usual_of(record, "specimen.material");
             material && material->values.count("strength")) {
    const ReferenceValue& s = material->values.at("strength");
    x = {s.low, 1.5 * s.high, material->values.count("e_modulus") ? material->values.at("e_modulus").mean : 0,
         "usual strength of " + material->name + ", in bending up to half as much again"};
  } else if (const auto it = record.limits.find("mor");
             it != record.limits.end() && it->second.min && it->second.min->value) {
    x = {*it->second.min->value, 2 * *it->second.min->value, 0, "limit of the job"};
  }
  return x;
}

double first_step(const TestRecord& record) {
  if (const auto set = record.fields.number("settings.step"); set && *set > 0) return *set;
  const Plan p = plan(record);
  // A dozen stops below a limit that lies near half the strength.
  return p.expected ? round_step(p.expected->likely / 20) : 100;
}

}  // namespace

Plan plan(const TestRecord& record) {
  Plan p;
  const Beam beam = beam_of(record);
  const Expected x = expected_of(record);
  if (beam.i > 0 && x.high > 0) {
    const double per_stress = beam.w / (beam.loads.m * beam.span);
    const double low = x.low * per_stress, high = x.high * per_stress;
    p.expected = Expectation{Dimension::force, low, 0.5 * (low + high), high, x.from};
    p.yield = 0.55 * p.expected->likely;
  }
  judge_load_path(methods::flexure_beam(), record, "load_cell", p);
  if (!(beam.i > 0)) p.blocking.push_back("Width, depth and span are wanted first.");
  if (p.expected)
    p.advice.push_back({"settings.step", "Step", round_step(p.expected->likely / 20), Dimension::force,
                        "about a dozen stops below the proportional limit"});
  if (beam.i > 0) {
    // Strain rate of the outer fibre 0.01 per minute: v = ė·k·L²/(m·h)·…, for a centre load ė·L²/(6h) (ISO 178).
    const double speed = from_unit(0.01 * beam.span * beam.span / (6 * beam.depth), "mm/min", Dimension::speed);
    p.advice.push_back({"settings.speed.elastic", "Speed", speed, Dimension::speed,
                        "outer fibre at 1 % a minute, between the stops or throughout"});
    if (is_wood(record) && beam.span / beam.depth < 14)
      p.warnings.push_back("The span is " + significant(beam.span / beam.depth, 3) +
                           " times the depth; 14 or more keeps shear small.");
  }
  if (!p.expected) p.warnings.push_back("No load can be foreseen: enter the species or a limit.");
  return p;
}

void stage_guides(Method& m) {
  auto& s = m.stages;
  s[0] = {"Know the beam before it is loaded.",
          {"Note species, moisture, density, rings, slope of grain and knots: wood has no certificate.",
           "Mark mid-span and the supports on the beam."},
          {"Wood snaps like a shot: face shield on, stand clear of the ends, guard between you and the beam."},
          {}};
  s[1] = {"Read width, depth and span.",
          {"Depth is in the direction of the load, width across it.",
           "Measure at mid-span and near the thirds. Enter goes to the next reading, M says it was missed."},
          {},
          {}};
  s[2] = {"Supports, load head and gauge stand where the drawing says.",
          {"Set the dial gauge under mid-span with travel to spare and zero it at no load.",
           "Choose a step that puts a dozen stops below the limit."},
          {"Long beams roll off their supports: fix them against tipping.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"shield", "Face shield on, guard in place", true},
           {"ends", "Nobody stands at the ends of the beam", true},
           {"gauge", "Dial gauge zeroed at no load, with travel to spare", false}}};
  s[3] = {"Load to the next stop, hold, read the gauge.",
          {"Read again at once when a reading is called out.", "Make the steps smaller when the line bends over."},
          {"Past half of the expected load wood can snap without warning. Face shield on, stand clear of the ends.",
           "Take the gauge away before the break if it would be hit."},
          {}};
  s[4] = {"How it broke, and between which loads.",
          {"The last load that held and the first load not reached.", "Look at the tension side first."},
          {"Splinters are sharp and long."},
          {}};
  s[5] = {"Judge where the straight part ends, and see what follows from it.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
}

TableSpec stops() {
  TableSpec t;
  t.id = kStops;
  t.label = "Stops";
  t.row = "stop";
  t.control = fields::column("force", "load", Dimension::force);
  t.columns = {fields::column("deflection", "dial gauge", Dimension::length)};
  t.instruction = "then read the dial gauge";
  t.broke_path = "specimen.after.broke_between";
  t.may_crack = true;
  t.ends_in_break = true;
  t.first_step = first_step;
  t.last_stop = [](const TestRecord& r) { return r.fields.number("settings.last_stop").value_or(0); };
  return t;
}

}  // namespace fortitor::flexure
