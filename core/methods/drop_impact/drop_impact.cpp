#include "core/methods/drop_impact/drop_impact.h"

#include <algorithm>
#include <cmath>

#include "core/methods/drop_impact/model.h"
#include "core/methods/support/skeleton.h"
#include "core/record/words.h"

namespace fortitor::drop {

using namespace ledger;
using D = Dimension;

std::vector<ResultSpec> specs(const TestRecord& record) {
  const bool pressed = record.fields.text("settings.way") == "indentation";
  std::vector<ResultSpec> out;
  auto add = [&](auto&&... of) { out.push_back(spec_of(of...)); };
  add(key::energy_impact, "E_i", D::energy, true);
  if (pressed) out.back().name = Words::of("drop-impact").result("energy_impact.pressed");
  add(key::energy_absorbed, "E_a", D::energy, true);
  add(key::force_peak, "F_max", D::force, true);
  add(key::force_damage, "F_1", D::force, true);
  add(key::defl_peak, "δ_max", D::length, true);
  add(key::dent, "d", D::length, true, 3);
  add(key::dent_relaxed, "d_r", D::length, false, 3, true);
  add(key::length_front, "l_f", D::length, true, 3);
  add(key::width_front, "w_f", D::length, false, 3, true);
  add(key::length_back, "l_b", D::length, false, 3, true);
  add(key::width_back, "w_b", D::length, false, 3, true);
  add(key::damage_kinds, "", D::none, true);
  add(key::energy_error, "ΔE", D::elongation, true, 2);
  add(key::contact_time, "t_c", D::time, false, 4, true);
  add(key::v_impact, "v_i", D::speed, false, 4, true);
  add(key::v_rebound, "v_r", D::speed, false, 3);
  add(key::target_energy, "E", D::energy, false, 4, true);
  add(key::drop_height, "H", D::length, false, 4, true);
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& v) {
  std::vector<Step> steps;
  const double value = get(v, key);
  const ledger::AddStep add{steps, value};
  const std::string m = si(s.mass, D::mass, 5);
  const Contact& c = s.contact;
  if (key == key::target_energy)
    record.fields.number("specimen.target_energy")
        ? add("as asked", "", D::energy)
        : add("E = C_E·t",
              si(record.fields.number("specimen.energy_per_thickness").value_or(NAN), D::impact_width, 4) + " · " +
                  si(s.thickness.mean, D::length),
              D::energy, "ASTM D7136");
  if (key == key::drop_height)
    add("H = E/(m·g)", si(s.target, D::energy, 5) + " / (" + m + " · 9.80665 m/s²)", D::length);
  if (key == key::v_impact) {
    if (s.arrival.from == Arrival::From::entered) add("as entered", "", D::speed);
    if (s.arrival.from == Arrival::From::flag)
      add("v = s/Δt + g·(t_contact − t_mid)",
          si(record.fields.number("specimen.flag.width").value_or(NAN), D::length) + " in " +
              si(record.fields.number("specimen.flag.time").value_or(NAN), D::time, 5) + ", then " +
              si(record.fields.number("specimen.flag.to_contact").value_or(0), D::time, 4) + " to contact",
          D::speed, "flag timer");
    if (s.arrival.from == Arrival::From::height)
      add("v = √(2·g·H)", "friction of the guide is not in it: no speed was measured", D::speed);
  }
  if (key == key::energy_impact)
    s.pressed ? add("E = ∫F dδ", "up to the largest deflection", D::energy, "ASTM D6264")
              : add("E_i = ½·m·v_i²", m + ", " + si(s.arrival.speed, D::speed, 5), D::energy);
  if (key == key::energy_error)
    add("E_i/E − 1", si(get(v, key::energy_impact), D::energy) + " / " + si(s.target, D::energy), D::elongation);
  if (key == key::energy_absorbed)
    s.pressed
        ? add("E_a = ∮F dδ", "loading and unloading", D::energy, "ASTM D6264")
        : add("E_a = ½·m·(v_i² − v²) + m·g·δ",
              "v = v_i + g·t − ∫F dt/m, at the end of contact; ∫F dt = " + significant(c.impulse.back(), 4) + " N·s",
              D::energy, "ASTM D7136");
  if (key == key::force_peak)
    add("F_max", c.peak_error > 0 && !s.pressed ? "top of the force, noise averaged out" : "largest force", D::force);
  if (key == key::force_damage)
    add("F_1", "first maximum above 10 % of the peak after which the force falls by 5 % of the peak", D::force,
        s.pressed ? "" : "at " + si(c.damage_at, D::time, 4));
  if (key == key::defl_peak)
    s.pressed ? add("δ_max", "from where the load is first felt", D::length)
              : add("δ = ∫v dt", "v = v_i + g·t − ∫F dt/m; its largest value", D::length, "ASTM D7136");
  if (key == key::contact_time) add("t_c", "between the two places where the force passes 1 % of its peak", D::time);
  if (key == key::v_rebound) add("v at the end of contact", "v = v_i + g·t − ∫F dt/m", D::speed);
  if (key == key::dent) {
    const auto after = record.fields.number("specimen.damage.dent_after");
    add("read on the front", after ? si(*after, D::time, 3) + " after the impact" : "time after the impact not noted",
        D::length, "dial gauge over the dent");
  }
  if (key == key::dent_relaxed) {
    const auto after = record.fields.number("specimen.damage.relaxed_after");
    add("read again", after ? si(*after, D::time, 3) + " after the impact" : "", D::length,
        v.count(key::dent) ? percent(1 - value / get(v, key::dent)) + " of the dent came back" : "");
  }
  if (steps.empty()) add("measured", "", D::length, "scale or caliper on the face");
  return steps;
}

namespace {

constexpr double kMassKnown = 0.001, kMassMost = 0.02;  // of what falls; what a coarse digit may say at most

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  Section sizes;
  if (s.thickness.given()) sizes.dims.push_back(s.thickness);
  section_inputs(sizes, record.fields.number("equipment.caliper.resolution").value_or(0), inputs);
  for (const char* path : {"specimen.damage.dent", "specimen.damage.dent_relaxed", "specimen.damage.length_front",
                           "specimen.damage.width_front", "specimen.damage.length_back", "specimen.damage.width_back"})
    length_input(record, path,
                 path == std::string("specimen.damage.dent") ? "dent, read on the dial" : "size of the damage", 1,
                 inputs);
  class_input(record, "equipment.load_cell.class", "force", "force", inputs);
  if (s.pressed) {
    if (!s.press.empty()) inputs.push_back({"travel", "displacement, 1 % taken", rectangular(kTravelTaken)});
    return;
  }
  const Reading* typed = record.fields.reading("specimen.mass");
  if (s.mass > 0)
    inputs.push_back(
        {"mass", "mass of what falls, 0.1 % or half of its digit",
         std::max(rectangular(kMassKnown),
                  typed != nullptr ? std::min(kMassMost, rectangular(typed->resolution / 2) / s.mass) : 0.0)});
  if (s.arrival.from != Arrival::From::none)
    inputs.push_back({"speed",
                      s.arrival.from == Arrival::From::flag     ? "speed, digits of flag and timer"
                      : s.arrival.from == Arrival::From::height ? "speed from the height, 2 % taken for the guide"
                                                                : "speed as entered, 0.2 % or its digit",
                      s.arrival.relative_error,
                      s.arrival.from == Arrival::From::entered ? Shape::normal : Shape::rectangular});
  const Contact& c = s.contact;
  if (c.empty()) return;
  if (s.facts.zero.error > 0) inputs.push_back({"zero", "zero of the force", s.facts.zero.error, Shape::normal});
  if (c.peak_error > 0) inputs.push_back({"peak", "noise of the force at its peak", c.peak_error, Shape::normal});
  if (c.damage && c.damage_step > 0)
    inputs.push_back(
        {"crack", "the force rose on for up to one reading before the first damage", rectangular(c.damage_step)});
  inputs.push_back({"touch", "moment of the touch, half of the way to 1 % of the peak and a sample",
                    std::hypot(rectangular(0.5 * c.foot + 1 / c.rate), c.touch_error)});
  if (c.ended)
    inputs.push_back({"edges", "both ends of the contact, to a sample", rectangular(1 / c.rate) * std::sqrt(2.0)});
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  const std::string kinds = record.fields.text("specimen.damage.kinds");
  if (!kinds.empty()) {
    std::string list;
    for (const std::string& k : words_of(kinds)) list += (list.empty() ? "" : ", ") + k;
    add_text(e, specs(record), key::damage_kinds, list, {{"ticked on the plate", list, 0, D::none, "ASTM D7136"}});
  }
  if (!s.pressed && !s.contact.empty() && !s.contact.ended)
    if (ResultValue* r = e.find(key::defl_peak)) r->censored = Censoring{true, 0, 0};
}

}  // namespace

}  // namespace fortitor::drop

namespace fortitor::methods {

const Method& drop_impact() {
  static const Method method = [] {
    Parts<drop::State> parts;
    parts.describe = drop::describe;
    parts.results = drop::specs;
    parts.look = drop::look;
    parts.compute = drop::compute;
    parts.how = drop::how;
    parts.inputs = drop::add_inputs;
    parts.words = drop::words;
    parts.findings = drop::findings;
    parts.figures = drop::figures;
    parts.plan = drop::plan;
    return method_of("drop-impact", "ASTM D7136, ASTM D6264", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
