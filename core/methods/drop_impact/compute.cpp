// What a drop or a press gives: energies, forces, deflection, times, the sizes of the damage.
#include <algorithm>
#include <cmath>

#include "core/methods/drop_impact/model.h"
#include "core/methods/support/pulled.h"

namespace fortitor::drop {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kSpeedRead = 0.002, kGuide = 0.02;  // of a speed: as entered; from the height, for the guide

constexpr size_t kPressNodes = 4000;

Press press_of(const Loading& l) {
  Press p;
  if (l.empty() || !any_finite(l.s.crosshead)) return p;
  const size_t touch = touch_of(l.s.force, l.peak);
  const double start = l.s.crosshead[touch];
  double work = 0, f = l.s.force[touch], d = 0;
  const size_t stride = std::max<size_t>(1, (l.s.size() - touch) / kPressNodes);
  for (size_t i = touch; i < l.s.size(); ++i) {
    if (!std::isfinite(l.s.crosshead[i])) continue;
    const double to = l.s.crosshead[i] - start;
    work += 0.5e-3 * (f + l.s.force[i]) * (to - d);  // N·mm as mJ
    f = l.s.force[i];
    d = to;
    if ((i - touch) % stride != 0 && i != l.peak && i + 1 != l.s.size()) continue;
    p.force.push_back(f);
    p.deflection.push_back(d);
    p.work.push_back(work);
    if (d >= p.deflection[p.top]) p.top = p.deflection.size() - 1;
  }
  p.peak = l.peak_force();
  std::vector<double> up(p.force.begin(), p.force.begin() + long(std::min(p.top + 1, p.force.size())));
  std::vector<double> at(p.deflection.begin(), p.deflection.begin() + long(up.size()));
  if (const auto k = damage_of(at, up, noise_of_bent(p.force, 0, p.force.size()))) p.damage = k->force;
  return p;
}

double number(const Fields& f, const char* path) {
  return f.number(path).value_or(NAN);
}

// A parabola through the largest of three values: where the nodes are, the true top lies between them.
double top_of(const std::vector<double>& y) {
  const size_t i = size_t(std::max_element(y.begin(), y.end()) - y.begin());
  if (i == 0 || i + 1 >= y.size()) return y[i];
  const double bend = y[i - 1] - 2 * y[i] + y[i + 1], slope = 0.5 * (y[i + 1] - y[i - 1]);
  return bend < 0 ? y[i] - slope * slope / (2 * bend) : y[i];
}

}  // namespace

double target_of(const Fields& f, double thickness) {
  if (const auto asked = f.number("specimen.target_energy")) return *asked;
  const auto per = f.number("specimen.energy_per_thickness");  // J/m
  return per && thickness > 0 ? *per * thickness * 1e-3 : 0;
}

Arrival arrival_of(const Fields& f, double target, double mass, const Shifts& shifts) {
  Arrival a;
  const double scale = 1 + shift(shifts, "speed");
  auto digit = [&](const char* path) {
    const Reading* r = f.reading(path);
    return r != nullptr && r->value && *r->value > 0 ? rectangular(r->resolution / 2) / *r->value : 0.0;
  };
  const auto width = f.number("specimen.flag.width"), passing = f.number("specimen.flag.time");
  if (const auto v = f.number("specimen.v_impact")) {
    a = {Arrival::From::entered, *v, std::max(kSpeedRead, digit("specimen.v_impact"))};
  } else if (width && passing && *passing > 0) {
    a.from = Arrival::From::flag;
    a.speed = *width / *passing + kGravity * f.number("specimen.flag.to_contact").value_or(0);
    a.relative_error = std::hypot(digit("specimen.flag.width"), digit("specimen.flag.time"));
  } else {
    // √(2 g h): of the height that was set, else of the one the energy asks for; the guide's friction is not in it.
    const auto set = f.number("settings.drop_height");
    const double height = set ? *set : mass > 0 ? target * 1e6 / (mass * kGravity) : 0;
    if (!(height > 0)) return a;
    a = {Arrival::From::height, std::sqrt(2 * kGravity * height), rectangular(kGuide)};
  }
  a.speed *= scale;
  return a;
}

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.pressed = f.text("settings.way") == "indentation";
  s.thickness = dimension_of(f, "specimen.thickness", "t", "thickness");
  s.mass = f.number("specimen.mass").value_or(0);
  s.target = target_of(f, s.thickness.mean);
  if (s.pressed) {
    const Loading l = loading_of(record, {"displacement", "crosshead"});
    s.facts = facts_of(l, 0);
    s.press = press_of(l);
    return s;
  }
  s.arrival = arrival_of(f, s.target, s.mass);
  const SamplesPtr samples = record.run.samples();
  if (!samples || samples->find("time") == nullptr) return s;
  Signals signals = clean(*samples);
  if (signals.size() < 8) return s;
  s.facts.zero = take_zero(signals.force, {}, f.text("settings.zero") == "keep");
  s.facts.sorted = signals.sorted_by_us;
  s.facts.faults = signals.faults;  // a blow jumps and rings by nature; it does not stand still
  std::erase_if(s.facts.faults, [](const ChannelFault& fault) { return fault.kind != ChannelFault::Kind::frozen; });
  s.facts.sign_flipped = signals.sign_flipped;
  s.facts.clock_coarse = signals.clock_coarse;
  s.facts.dropped = signals.dropped + signals.duplicates;
  s.facts.peak_force = *std::max_element(signals.force.begin(), signals.force.end());
  s.contact = contact_of(signals.time, signals.force, f.number("settings.contact_later").value_or(0));
  return s;
}

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  const Fields& f = record.fields;
  const double thickness = s.thickness.mean + shift(shifts, s.thickness.path);
  const double mass = s.mass * (1 + shift(shifts, "mass")), force = 1 + shift(shifts, "force");
  const double target = target_of(f, thickness);
  if (target > 0) put(v, key::target_energy, target);
  for (const auto& [key, path] : {std::pair{key::dent, "specimen.damage.dent"},
                                  {key::dent_relaxed, "specimen.damage.dent_relaxed"},
                                  {key::length_front, "specimen.damage.length_front"},
                                  {key::width_front, "specimen.damage.width_front"},
                                  {key::length_back, "specimen.damage.length_back"},
                                  {key::width_back, "specimen.damage.width_back"}})
    if (const double x = number(f, path); std::isfinite(x)) put(v, key, x + shift(shifts, path));
  if (s.pressed) {
    const Press& p = s.press;
    if (p.empty()) return v;
    const double travel = 1 + shift(shifts, "travel");
    put(v, key::force_peak, p.peak * force);
    put(v, key::defl_peak, p.deflection[p.top] * travel);
    put(v, key::energy_impact, p.work[p.top] * force * travel);
    put(v, key::energy_absorbed, p.work.back() * force * travel);
    if (p.damage) put(v, key::force_damage, *p.damage * force);
    if (target > 0) put(v, key::energy_error, get(v, key::energy_impact) / target - 1);
    return v;
  }
  if (target > 0 && mass > 0) put(v, key::drop_height, target * 1e6 / (mass * kGravity));
  const Arrival a = arrival_of(f, target, mass, shifts);
  if (a.from != Arrival::From::none) put(v, key::v_impact, a.speed);
  if (a.from == Arrival::From::none || !(mass > 0)) return v;
  const double impact = 0.5e-6 * mass * a.speed * a.speed;
  put(v, key::energy_impact, impact);
  if (target > 0) put(v, key::energy_error, impact / target - 1);
  const Contact& c = s.contact;
  if (c.empty()) return v;
  put(v, key::force_peak, c.peak * force + shift(shifts, "peak"));
  if (c.damage) put(v, key::force_damage, *c.damage * force + shift(shifts, "peak") + shift(shifts, "crack"));
  if (c.late) return v;  // what came before the record is in none of the integrals
  if (c.ended) put(v, key::contact_time, c.duration() + shift(shifts, "edges"));
  const Motion m = motion_of(c, mass, a.speed, force, shift(shifts, "zero"));
  put(v, key::defl_peak, top_of(m.deflection) + a.speed * shift(shifts, "touch"));
  if (!c.ended) return v;
  put(v, key::energy_absorbed, m.energy.back());
  put(v, key::v_rebound, -m.speed.back());
  return v;
}

}  // namespace fortitor::drop
