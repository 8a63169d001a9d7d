// Pieces of tension-plastic and tension-composite.
#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {
namespace {

struct Flat {
  TestRecord record;
  double width, thickness;
  double area() const { return width * thickness; }
};

Flat flat(const char* method, double width, double thickness, Draw& draw) {
  Flat f;
  f.record = piece_of(
      method, {{"specimen.section.shape", "flat"},
               {"equipment.load_cell.capacity", std::string(method) == "tension-composite" ? "100 kN" : "10 kN"},
               {"equipment.load_cell.class", "1"},
               {"equipment.extensometer.class", "1"},
               {"equipment.caliper.resolution", "0.01 mm"}});
  f.width = width * (1 + draw.within(0.01));
  f.thickness = thickness * (1 + draw.within(0.01));
  measure(f.record, "specimen.section.width", f.width, 0.005, draw);
  measure(f.record, "specimen.section.thickness", f.thickness, 0.003, draw);
  return f;
}

// σ = E·ε_y/c·(1 − (1 − ε/ε_y)^c): level at the yield strain, steeper before; then it falls and draws level.
struct Dumbbell {
  double modulus, yield_strain, power, draw_stress, broken;
  double sigma_y() const { return modulus * yield_strain / power; }
  double at(double e) const {
    if (e <= 0) return 0;
    if (e <= yield_strain) return sigma_y() * (1 - std::pow(1 - e / yield_strain, power));
    const double u = (e - yield_strain) / yield_strain;
    return draw_stress + (sigma_y() - draw_stress) * std::exp(-u * u);
  }
};

Piece dumbbell(uint64_t seed, bool grips) {
  Draw draw(seed);
  Flat f = flat("tension-plastic", 10, 4, draw);
  Dumbbell d;
  d.modulus = draw.between(1500, 3500);
  d.yield_strain = draw.between(0.03, 0.06);
  d.power = draw.between(1.8, 3);
  d.draw_stress = d.sigma_y() * draw.between(0.6, 0.85);
  d.broken = draw.between(0.15, 0.4);
  const double slack = draw.between(0, 0.001), rate = 0.01 / 60 * draw.between(2, 10), hertz = 50;
  Trace t;
  t.rate = rate;
  for (double time = 0;; time += 1 / hertz) {
    const double e = std::max(0.0, time - 1) * (time < 26 ? rate : 1) - 0.0;
    const double strain = time < 26 ? e : 25 * rate + (time - 26) * 10 * rate;
    if (strain - slack >= d.broken) break;
    t.time.push_back(time);
    t.strain.push_back(strain);
    t.stress.push_back(d.at(strain - slack));
  }
  const double last_stress = t.stress.back(), last_strain = t.strain.back() - slack;
  for (int i = 1; i <= 8; ++i) {
    t.time.push_back(t.time.back() + 1 / hertz);
    t.strain.push_back(t.strain.back());
    t.stress.push_back(0);
  }
  Recorder how;
  how.strain_class = 1;
  how.force_noise = draw.between(0.0002, 0.001) * d.sigma_y() * f.area();
  how.strain_noise = draw.between(2e-6, 1e-5);
  Recorded run = record_trace(t, f.area(), 50, 115, 0, how, draw);
  Piece p;
  standin::type_into(f.record, "specimen.grip_separation", "115 mm");
  if (grips) {
    // Travel over its length is taken as good to 5 %; here it is off by as much.
    const double off = 1 + draw.within(0.05);
    for (double& x : run.crosshead) x *= off;
    give(f.record, {{"time", run.time}, {"force", run.force}, {"crosshead", run.crosshead}});
  } else {
    standin::type_into(f.record, "specimen.extensometer_length", "50 mm");
    give(f.record, {{"time", run.time}, {"force", run.force}, {"extension", run.extension}});
  }
  // The origin is where the chord meets the strain axis, and the chord counts from there: of the true curve.
  double origin = slack;
  for (int i = 0; i < 200; ++i) {
    const double y0 = d.at(origin + 0.0005 - slack), y1 = d.at(origin + 0.0025 - slack);
    origin = origin + 0.0005 - y0 * 0.002 / (y1 - y0);
  }
  p.truth["e_modulus"] = (d.at(origin + 0.0025 - slack) - d.at(origin + 0.0005 - slack)) / 0.002;
  const double zero = origin - slack;  // of strains from the corrected origin
  p.truth["toe_shift"] = origin;
  p.truth["area"] = f.area();
  p.truth["sigma_y"] = p.truth["sigma_m"] = d.sigma_y();
  p.truth["eps_y"] = p.truth["eps_m"] = d.yield_strain - zero;
  p.truth["sigma_b"] = last_stress;
  p.truth[grips ? "eps_tb" : "eps_b"] = last_strain - zero;
  p.truth["fm"] = d.sigma_y() * f.area();
  standin::type_into(f.record, "settings.at_strain", "1 %");
  p.truth["sigma_x"] = d.at(0.01 + zero);
  p.record = std::move(f.record);
  return p;
}

}  // namespace

Piece plastic(uint64_t seed) {
  return dumbbell(seed, false);
}

Piece plastic_drawn(uint64_t seed) {
  return dumbbell(seed, true);
}

Piece composite(uint64_t seed) {
  Draw draw(seed);
  Flat f = flat("tension-composite", 25, 2, draw);
  standin::type_into(f.record, "specimen.grip_separation", "150 mm");
  const double modulus = draw.between(40e3, 140e3), second = modulus * draw.between(0.7, 0.85);
  const double knee = draw.between(0.0045, 0.006), failure = draw.between(0.011, 0.016), nu = draw.between(0.05, 0.35);
  const double bending = draw.between(-0.08, 0.08), slack = draw.between(0, 0.0004);
  const double force_scale = 1 + draw.within(0.01), noise = draw.between(0.0002, 0.0008);
  auto at = [&](double e) { return e < 0 ? 0 : e < knee ? modulus * e : modulus * knee + second * (e - knee); };
  const double top = at(failure) * f.area();
  std::vector<double> t, force, front, back, lateral;
  const double scale_front = 1 + draw.within(0.01), scale_back = 1 + draw.within(0.01),
               scale_side = 1 + draw.within(0.01), gauge_noise = draw.between(1e-6, 4e-6);
  for (int i = 0;; ++i) {
    const double time = 0.02 * i, e = std::max(0.0, time - 1) * 2e-4, strained = e - slack;
    const bool broken = strained >= failure;
    if (broken && t.size() > 5 && force.back() < 0.1 * top && force[force.size() - 5] < 0.1 * top) break;
    t.push_back(time);
    force.push_back((broken ? 0 : at(strained) * f.area()) * force_scale + draw.normal(noise * top));
    front.push_back(e * (1 + bending) * scale_front + draw.normal(gauge_noise));
    back.push_back(e * (1 - bending) * scale_back + draw.normal(gauge_noise));
    lateral.push_back(-nu * std::max(0.0, strained) * scale_side + draw.normal(gauge_noise));
  }
  give(f.record,
       {{"time", t}, {"force", force}, {"strain_front", front}, {"strain_back", back}, {"strain_lateral", lateral}});
  Piece p;
  p.truth["area"] = f.area();
  p.truth["sigma_m"] = at(failure);
  p.truth["fm"] = top;
  p.truth["eps_m"] = failure;
  p.truth["e_chord"] = modulus;
  p.truth["e_second"] = second;
  p.truth["transition_strain"] = knee;
  p.truth["nu12"] = nu;
  p.truth["toe_shift"] = slack;
  p.truth["bending_percent"] = bending;
  p.record = std::move(f.record);
  return p;
}

}  // namespace fortitor::coverage
