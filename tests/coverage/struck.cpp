// Pieces of the impact methods: blows of a pendulum, and a mass that falls on a plate.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {
namespace {

constexpr double kDegree = std::numbers::pi / 180, kG = 9.80665;

}  // namespace

Piece charpy(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("impact-pendulum", {{"specimen.arrangement", "beam"},
                                              {"specimen.notch", "V2"},
                                              {"specimen.section.shape", "flat"},
                                              {"specimen.temperature", "-20 °C"},
                                              {"specimen.striker", "2 mm"},
                                              {"settings.reads", "angle"},
                                              {"settings.looks", "yes"},
                                              {"run.pendulum.mass", "20 kg"},
                                              {"run.pendulum.length", "0.75 m"},
                                              {"run.free_swing.alpha", "160 deg"}});
  const double width = draw.between(9.95, 10.05), ligament = draw.between(7.95, 8.05);
  measure(r, "specimen.section.width", width, 0.003, draw);
  measure(r, "specimen.section.thickness", draw.between(9.95, 10.05), 0.003, draw);
  measure(r, "specimen.ligament", ligament, 0.003, draw);
  const double moment = 20 * kG * 0.75 * (1 + draw.within(0.005)), off = 1 + draw.within(0.01);
  const double start = 160 * kDegree, free_rise = draw.between(157.5, 159.5);
  standin::type_into(r, "run.free_swing.beta", typed(free_rise, 0.1, "deg"));
  const double free_loss = moment * (std::cos(counted(free_rise, 0.1) * kDegree) - std::cos(start));
  const double available = moment * (1 - std::cos(start));
  const double toughness = draw.between(40, 180), scatter = draw.between(0.02, 0.08) * toughness;
  const double dull = draw.between(20, 80);
  std::vector<double> at;
  for (int i = 0; i < 3; ++i) {
    at.push_back(toughness + draw.normal(scatter));
    const double taken = at.back() * off;
    double low = 0, high = start;  // the rise at which what was taken and what was lost add up
    for (int k = 0; k < 60; ++k) {
      const double b = 0.5 * (low + high);
      const double loss = free_loss * (start + b) / (start + counted(free_rise, 0.1) * kDegree);
      (moment * (std::cos(b) - std::cos(start)) - loss > taken ? low : high) = b;
    }
    stop(r, {{"piece", std::to_string(i + 1)},
             {"alpha", "160 deg"},
             {"beta", typed(low / kDegree, 0.1, "deg")},
             {"shear", typed(std::clamp(dull + draw.normal(3), 1.0, 99.0), 1, "%")},
             {"lateral_expansion", typed(0.012 * toughness + draw.normal(0.05), 0.01, "mm")}});
  }
  std::sort(at.begin(), at.end());
  Piece p;
  p.truth["energy"] = toughness;
  p.truth["energy_min"] = at.front();
  p.truth["energy_second"] = at[1];
  p.truth["energy_sd"] = scatter;
  p.truth["kc"] = toughness / (width * ligament) * 100;
  p.truth["available"] = available;
  p.truth["shear_percent"] = dull / 100;
  p.truth["lateral_expansion"] = 0.012 * toughness;
  p.record = std::move(r);
  return p;
}

Piece izod(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("impact-pendulum", {{"specimen.arrangement", "cantilever-plastic"},
                                              {"specimen.notch", "V2.54"},
                                              {"specimen.available_energy", "2.75 J"},
                                              {"specimen.family", "polymer"},
                                              {"specimen.temperature", "23 °C"}});
  const double per_width = draw.between(50, 200), scatter = draw.between(0.03, 0.1), off = 1 + draw.within(0.01);
  for (int i = 0; i < 6; ++i) {
    const double width = draw.between(3.1, 3.3), energy = per_width * width * 1e-3 * (1 + draw.normal(scatter));
    stop(r, {{"piece", std::to_string(i + 1)},
             {"energy", typed(energy * off, 0.001, "J")},
             {"width", typed(width, 0.01, "mm")},
             {"ligament", "10.16 mm"},
             {"break", "C"}});
  }
  Piece p;
  p.truth["a_izod_j_per_m"] = per_width;  // mJ/mm = J/m
  p.truth["a_izod_kj_per_m2"] = per_width / 10.16;
  p.record = std::move(r);
  return p;
}

Piece pulled_apart(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of(
      "impact-tension",
      {{"specimen.section.shape", "round"}, {"specimen.available_energy", "300 J"}, {"specimen.temperature", "20 °C"}});
  const double diameter = draw.between(7.9, 8.1), area = std::numbers::pi * diameter * diameter / 4;
  measure(r, "specimen.section.diameter", diameter, 0.003, draw);
  const double energy = draw.between(60, 200), scatter = draw.between(0.02, 0.06) * energy, off = 1 + draw.within(0.01);
  std::vector<double> at;
  for (int i = 0; i < 4; ++i) {
    at.push_back(energy + draw.normal(scatter));
    stop(r, {{"piece", std::to_string(i + 1)}, {"energy", typed(at.back() * off, 0.5, "J")}});
  }
  Piece p;
  p.truth["energy"] = energy;
  p.truth["energy_min"] = *std::min_element(at.begin(), at.end());
  p.truth["kt"] = energy / area * 100;
  p.record = std::move(r);
  return p;
}

Piece dropped(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("drop-impact", {{"specimen.mass", "5.50 kg"},
                                          {"specimen.energy_per_thickness", "6.7 J/mm"},
                                          {"specimen.rebound_caught", "true"},
                                          {"equipment.load_cell.class", "1"},
                                          {"equipment.caliper.resolution", "0.01 mm"}});
  const double thickness = draw.between(4.1, 4.3), mass = 5.5 * (1 + draw.within(0.001));
  measure(r, "specimen.thickness", thickness, 0.004, draw);
  const double speed = draw.between(2.9, 3.3);  // m/s
  standin::type_into(r, "specimen.v_impact", typed(speed * (1 + draw.within(0.0034)), 0.001, "m/s"));
  const double stiff = draw.between(1.6e6, 2.6e6), cracks_at = draw.between(3500, 5000), fall = draw.between(0.2, 0.3);
  const double left = draw.between(0.1, 0.25), scale = 1 + draw.within(0.01), noise = draw.between(3, 12);
  // The plate as a spring that cracks once and comes back along a steeper path.
  double d = 0, v = speed, most = 0, at_most = 0, lost = 0, damage = 0, t = 0, peak = 0;
  bool cracked = false;
  auto force = [&](double x) {
    if (x >= at_most) return stiff * x - lost;
    const double rest = left * at_most;
    return x <= rest ? 0 : most * std::pow((x - rest) / (at_most - rest), 1.5);
  };
  const double dt = 1e-7, kEvery = 50;
  std::vector<double> time, read;
  for (int i = 0; i < 400; ++i) time.push_back(i * kEvery * dt), read.push_back(draw.normal(noise));
  double f = 0, work = 0;
  std::vector<double> fine;  // the true force at every step
  for (long i = 0; i < 400000; ++i) {
    f = force(d);
    if (!cracked && f >= cracks_at) cracked = true, damage = f, lost = fall * f, f = force(d);
    if (i % long(kEvery) == 0) {
      time.push_back(time.back() + kEvery * dt);
      read.push_back(f * scale + draw.normal(noise));
    }
    if (d > 0 && v < 0 && f <= 0) break;
    fine.push_back(f);
    const double a = kG - f / mass;
    work += f * (v * dt + 0.5 * a * dt * dt);
    d += v * dt + 0.5 * a * dt * dt;
    v += a * dt;
    if (d >= at_most) at_most = d, most = std::max(0.0, stiff * d - lost);
    peak = std::max({peak, f, damage});
    t += dt;
  }
  for (int i = 0; i < 200; ++i) time.push_back(time.back() + kEvery * dt), read.push_back(draw.normal(noise));
  give(r, {{"time", time}, {"force", read}});
  Piece p;
  p.truth["energy_impact"] = 0.5 * mass * speed * speed;
  p.truth["energy_absorbed"] = work;
  p.truth["force_peak"] = peak;
  p.truth["force_damage"] = damage;
  p.truth["defl_peak"] = at_most * 1e3;
  // Contact is where the force stands above 1 % of its peak.
  p.truth["contact_time"] =
      dt * double(std::count_if(fine.begin(), fine.end(), [&](double x) { return x > 0.01 * peak; }));
  p.truth["v_impact"] = speed * 1e3;
  p.truth["v_rebound"] = -v * 1e3;
  p.truth["target_energy"] = 6.7 * thickness;
  p.truth["drop_height"] = 6.7 * thickness / (mass * kG) * 1e3;
  p.truth["energy_error"] = 0.5 * mass * speed * speed / (6.7 * thickness) - 1;
  p.record = std::move(r);
  return p;
}

}  // namespace fortitor::coverage
