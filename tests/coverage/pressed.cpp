// Pieces of compression-solid, crush-shell and flatwise-tension.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/curve/fit.h"
#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {

Piece compression(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("compression-solid", {{"specimen.section.shape", "round"},
                                                {"specimen.extensometer_length", "10 mm"},
                                                {"settings.at_strain", "10 %"},
                                                {"equipment.load_cell.capacity", "100 kN"},
                                                {"equipment.load_cell.class", "1"},
                                                {"equipment.extensometer.class", "0.5"},
                                                {"equipment.caliper.resolution", "0.01 mm"}});
  const double diameter = draw.between(9.8, 10.2), height = draw.between(18, 20), barrel = draw.between(1.02, 1.1);
  measure(r, "specimen.section.diameter", diameter, 0.003, draw);
  measure(r, "specimen.height", height, 0.005, draw);
  measure(r, "specimen.after.diameter", diameter * barrel, 0, draw, 0.01, 1);
  Metal m;
  m.modulus = draw.between(65e3, 110e3);
  m.yield = draw.between(200, 350);
  m.strength = m.yield * draw.between(1.6, 2.2);
  m.power = draw.between(2, 3);
  m.uniform = 0.5;
  m.broken = 0.6;
  const double area = std::numbers::pi * diameter * diameter / 4, slack = draw.between(0, 0.0003);
  Trace t;
  for (double time = 0; time < 300; time += 0.05) {
    const double e = std::max(0.0, time - 1) * 5e-4, net = std::max(0.0, e - slack);
    if (net > 0.12) break;
    t.time.push_back(time);
    t.strain.push_back(e);
    t.stress.push_back(net < m.yield / m.modulus ? m.modulus * net : m.stress(m.plastic_at(net)));
  }
  Recorder how;
  how.force_noise = draw.between(0.0002, 0.0008) * m.yield * area;
  how.strain_noise = draw.between(2e-6, 8e-6);
  const Recorded run = record_trace(t, area, 10, height, 0, how, draw);
  give(r, {{"time", run.time}, {"force", run.force}, {"extension", run.extension}});
  Piece p;
  p.truth["area"] = area;
  p.truth["slenderness"] = height / diameter;
  p.truth["barrelling"] = barrel;
  p.truth["e_modulus"] = m.modulus;
  p.truth["rp02"] = m.stress(0.002);
  p.truth["strength"] = m.stress(m.plastic_at(0.10));
  p.truth["toe_shift"] = slack;
  p.record = std::move(r);
  return p;
}

Piece wood_across(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("compression-solid", {{"specimen.section.shape", "flat"},
                                                {"settings.grain", "perpendicular"},
                                                {"equipment.load_cell.capacity", "50 kN"},
                                                {"equipment.load_cell.class", "1"},
                                                {"equipment.caliper.resolution", "0.01 mm"}});
  const double width = draw.between(49, 51), thickness = draw.between(49, 51), height = draw.between(48, 52);
  measure(r, "specimen.section.width", width, 0.006, draw);
  measure(r, "specimen.section.thickness", thickness, 0.006, draw);
  measure(r, "specimen.height", height, 0.005, draw);
  const double modulus = draw.between(300, 900), yield = draw.between(3, 7),
               hardening = modulus * draw.between(0.03, 0.1);
  const double area = width * thickness, gap = draw.between(0.2, 1), travel_scale = 1 + draw.within(0.05);
  auto at = [&](double e) {
    return e <= 0 ? 0 : e < yield / modulus ? modulus * e : yield + hardening * (e - yield / modulus);
  };
  const double force_scale = 1 + draw.within(0.01), noise = draw.between(0.0003, 0.001) * yield * area;
  std::vector<double> t, f, x;
  for (double time = 0; time < 600; time += 0.1) {
    const double way = std::max(0.0, time - 2) * 0.015, e = std::max(0.0, way - gap) / height;
    if (e > 0.05) break;
    t.push_back(time);
    f.push_back(at(e) * area * force_scale + draw.normal(noise));
    x.push_back(way * travel_scale);
  }
  give(r, {{"time", t}, {"force", f}, {"crosshead", x}});
  Piece p;
  p.truth["area"] = area;
  p.truth["slenderness"] = height / std::min(width, thickness);
  p.truth["e_modulus"] = modulus;
  // The line E·(ε − 1 %) meets yield + h·(ε − ε_y).
  const double ey = yield / modulus, cross = (modulus * 0.01 + yield - hardening * ey) / (modulus - hardening);
  p.truth["rp1"] = modulus * (cross - 0.01);
  p.truth["sigma_25"] = at(0.025);
  p.record = std::move(r);
  return p;
}

Piece shell(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("crush-shell", {{"specimen.section.shape", "tube"},
                                          {"equipment.load_cell.capacity", "10 kN"},
                                          {"equipment.load_cell.class", "1"}});
  const double height = draw.between(100, 130);
  standin::type_into(r, "specimen.height", typed(height + draw.within(0.1), 0.1, "mm"));
  standin::type_into(r, "settings.stroke_limit", "60 mm");
  const double peak = draw.between(800, 3000), at_peak = draw.between(1, 3), level = peak * draw.between(0.35, 0.6);
  const double swing = draw.between(0.1, 0.3) * level, fold = draw.between(6, 12);
  auto force = [&](double s) {
    if (s <= 0) return 0.0;
    if (s < at_peak) return peak * std::sin(0.5 * std::numbers::pi * s / at_peak);
    const double u = s - at_peak, down = std::exp(-u * u / 2);
    return level + (peak - level) * down - swing * (1 - down) * std::cos(2 * std::numbers::pi * u / fold);
  };
  const double force_scale = 1 + draw.within(0.01), travel_scale = 1 + draw.within(0.005);
  const double noise = draw.between(0.0005, 0.002) * peak, gap = draw.between(0.5, 2);
  std::vector<double> t, f, x;
  for (double time = 0;; time += 0.02) {
    const double way = std::max(0.0, time - 1) * 1.0;
    if (way - gap > 62) break;
    t.push_back(time);
    f.push_back(force(way - gap) * force_scale + draw.normal(noise));
    x.push_back(way * travel_scale);
  }
  give(r, {{"time", t}, {"force", f}, {"crosshead", x}});
  auto work = [&](double a, double b) {
    double w = 0;
    const int n = 20000;
    for (int i = 0; i < n; ++i)
      w += 0.5 * (force(a + (b - a) * i / n) + force(a + (b - a) * (i + 1) / n)) * (b - a) / n;
    return w;
  };
  Piece p;
  p.truth["peak_force"] = p.truth["max_force"] = peak;
  p.truth["peak_travel"] = at_peak;
  p.truth["mean_crush_force"] = work(at_peak, 60) / (60 - at_peak);
  p.truth["crush_efficiency"] = p.truth["mean_crush_force"] / peak;
  p.truth["crush_energy"] = work(0, 60) * 1e-3;
  p.truth["crush_stroke"] = 60;
  p.truth["crush_ratio"] = 60 / height;
  p.record = std::move(r);
  return p;
}

Piece sandwich(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("flatwise-tension", {{"specimen.cure.stated", "24 h"},
                                               {"specimen.cure.elapsed", "30 h"},
                                               {"equipment.load_cell.capacity", "10 kN"},
                                               {"equipment.load_cell.class", "1"},
                                               {"equipment.caliper.resolution", "0.01 mm"}});
  const double width = draw.between(49, 51), depth = draw.between(49, 51), thickness = draw.between(18, 24);
  measure(r, "specimen.width", width, 0.006, draw);
  measure(r, "specimen.depth", depth, 0.006, draw);
  measure(r, "specimen.thickness", thickness, 0.006, draw);
  const double modulus = draw.between(60, 200), strength = draw.between(1, 2.5), area = width * depth;
  const double slack = draw.between(0, 0.05), force_scale = 1 + draw.within(0.01), way_scale = 1 + draw.within(0.01);
  const double noise = draw.between(0.0003, 0.001) * strength * area, way_noise = draw.between(1e-4, 5e-4);
  std::vector<double> t, f, x;
  for (int i = 0, after = 0; after < 8; ++i) {
    const double time = 0.02 * i, way = std::max(0.0, time - 1) * 0.01, net = std::max(0.0, way - slack);
    const double stress = modulus * net / thickness;
    after += stress >= strength ? 1 : 0;
    t.push_back(time);
    f.push_back((stress < strength ? stress : 0) * area * force_scale + draw.normal(noise));
    x.push_back(way * way_scale + draw.normal(way_noise));
  }
  give(r, {{"time", t}, {"force", f}, {"displacement", x}});
  Piece p;
  p.truth["area"] = area;
  p.truth["strength"] = strength;
  p.truth["peak_force"] = strength * area;
  p.truth["modulus"] = modulus;
  p.truth["strain_break"] = strength / modulus;
  p.record = std::move(r);
  return p;
}

}  // namespace fortitor::coverage
