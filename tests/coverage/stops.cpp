// Pieces of the methods that are read stop by stop: Poisson's ratio, bending, torsion, density.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/methods/density/density.h"
#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {
namespace {

std::string micro(double strain) {
  return typed(strain * 1e6, 1, "µε");
}

}  // namespace

Piece gauges(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("poisson-gauge", {{"specimen.section.shape", "flat"},
                                            {"equipment.load_cell.class", "1"},
                                            {"equipment.gauge.tolerance", "1 %"},
                                            {"equipment.caliper.resolution", "0.01 mm"}});
  const double width = draw.between(24.8, 25.2), thickness = draw.between(3.1, 3.3), area = width * thickness;
  measure(r, "specimen.section.width", width, 0.004, draw);
  measure(r, "specimen.section.thickness", thickness, 0.003, draw);
  const double modulus = draw.between(65e3, 210e3), nu = draw.between(0.25, 0.36);
  const double force_scale = 1 + draw.within(0.01), along = 1 + draw.within(0.01), across = 1 + draw.within(0.01);
  const double jitter = draw.between(0.3, 1.5) * 1e-6, step = 0.00012 * modulus * area;
  const int stops = 9;
  for (int i = 0; i < stops; ++i) {
    const double shown = counted(step * i, 10), force = shown / force_scale, strain = force / (area * modulus);
    stop(r, {{"force", typed(shown, 10, "N")},
             {"strain_long", micro(strain * along + draw.normal(jitter))},
             {"strain_lat", micro(-nu * strain * across + draw.normal(jitter))}});
  }
  Piece p;
  p.truth["area"] = area;
  p.truth["nu"] = nu;
  p.truth["e_modulus"] = modulus;
  p.truth["slope_long"] = 1e9 / (area * modulus);
  p.truth["slope_lat"] = -nu * 1e9 / (area * modulus);
  p.record = std::move(r);
  return p;
}

namespace {

// A beam that is straight to its limit and bends over as a parabola.
struct Beam {
  TestRecord record;
  double width, depth, span, modulus, limit, most;
  double inertia() const { return width * std::pow(depth, 3) / 12; }
  double section() const { return width * depth * depth / 6; }
  double stiffness() const { return 48 * modulus * inertia() / std::pow(span, 3); }
  double deflection(double force) const {
    const double over = std::max(0.0, force - limit);
    return force / stiffness() + 1.2 * over * over / limit / stiffness();
  }
};

Beam beam(Draw& draw) {
  Beam b;
  b.record = piece_of("flexure-beam", {{"specimen.loading", "three-point"},
                                       {"equipment.load_cell.class", "1"},
                                       {"equipment.caliper.resolution", "0.01 mm"}});
  b.width = draw.between(39, 41);
  b.depth = draw.between(29, 31);
  measure(b.record, "specimen.width", b.width, 0.006, draw);
  measure(b.record, "specimen.depth", b.depth, 0.006, draw);
  b.span = 700 + draw.within(1);
  standin::type_into(b.record, "specimen.span", "700 mm");
  b.modulus = draw.between(8e3, 14e3);
  b.limit = draw.between(1200, 1800);
  b.most = b.limit * draw.between(1.5, 2);
  return b;
}

std::map<std::string, double> truth_of(const Beam& b, double reached) {
  std::map<std::string, double> t;
  t["i_moment"] = b.inertia();
  t["section_modulus"] = b.section();
  t["span_depth"] = b.span / b.depth;
  t["stiffness"] = b.stiffness();
  t["moe"] = b.modulus;
  t["max_force"] = reached;
  t["mor"] = reached * b.span / 4 / b.section();
  return t;
}

double work_to(const Beam& b, double force) {
  double w = 0;
  const int n = 4000;
  for (int i = 0; i < n; ++i) {
    const double f0 = force * i / n, f1 = force * (i + 1) / n;
    w += 0.5 * (f0 + f1) * (b.deflection(f1) - b.deflection(f0));
  }
  return w / (b.width * b.depth * b.span);
}

}  // namespace

Piece beam_dial(uint64_t seed) {
  Draw draw(seed);
  Beam b = beam(draw);
  const double force_scale = 1 + draw.within(0.01), dial = 1 + draw.within(0.01), count = 0.05;
  const double step = 100;
  double shown = 0;
  for (; shown / force_scale < b.most; shown += step)
    stop(b.record,
         {{"force", typed(shown, 1, "N")},
          {"deflection", typed(b.deflection(shown / force_scale) * dial + draw.within(0.5 * count), count, "mm")}});
  const double reached = (shown - step) / force_scale;
  standin::type_into(b.record, "specimen.after.max_force", typed(reached * force_scale, 1, "N"));
  Piece p;
  p.truth = truth_of(b, reached);
  p.truth["work_to_max"] = work_to(b, reached);
  p.record = std::move(b.record);
  return p;
}

Piece beam_recorded(uint64_t seed) {
  Draw draw(seed);
  Beam b = beam(draw);
  const double force_scale = 1 + draw.within(0.01), way_scale = 1 + draw.within(0.01);
  const double noise = draw.between(0.0003, 0.001) * b.most, way_noise = draw.between(1e-3, 4e-3);
  std::vector<double> t, f, x;
  for (int i = 0; i < 40; ++i) {
    t.push_back(0.05 * i);
    f.push_back(draw.normal(noise));
    x.push_back(draw.normal(way_noise));
  }
  const int n = 2400;
  for (int i = 1; i <= n; ++i) {
    const double force = b.most * i / n;
    t.push_back(t.back() + 0.05);
    f.push_back(force * force_scale + draw.normal(noise));
    x.push_back(b.deflection(force) * way_scale + draw.normal(way_noise));
  }
  for (int i = 0; i < 8; ++i) {
    t.push_back(t.back() + 0.05);
    f.push_back(draw.normal(noise));
    x.push_back(x.back());
  }
  give(b.record, {{"time", t}, {"force", f}, {"deflection", x}});
  Piece p;
  p.truth = truth_of(b, b.most);
  p.truth["work_to_max"] = work_to(b, b.most);
  p.record = std::move(b.record);
  return p;
}

Piece torsion(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("torsion-bar", {{"specimen.gauges", "1"},
                                          {"equipment.torque_cell.class", "1"},
                                          {"equipment.caliper.resolution", "0.01 mm"},
                                          {"specimen.after.fracture", "flat"}});
  const double d = draw.between(9.9, 10.1), radius = d / 2, length = 200 + draw.within(1);
  measure(r, "specimen.diameter", d, 0.003, draw);
  standin::type_into(r, "specimen.length", "200 mm");
  const double g = draw.between(26e3, 82e3), j = std::numbers::pi * std::pow(d, 4) / 32;
  const double tau_y = draw.between(0.0022, 0.0035) * g, most = draw.between(1.5, 1.9) * tau_y * j / radius;
  const double scale = 1 + draw.within(0.01), gauge = 1 + draw.within(0.01);
  // Straight to tau_y, then bending over towards `most`.
  const double torque_y = tau_y * j / radius, theta_y = torque_y * length / (g * j);
  auto torque = [&](double theta) {
    return theta < theta_y
               ? g * j * theta / length
               : most - (most - torque_y) * std::exp(-(theta - theta_y) * g * j / length / (most - torque_y));
  };
  const double degree = std::numbers::pi / 180, count = 0.1;
  auto one = [&](double theta) {
    const double turned = theta + draw.within(0.5 * count * degree);
    stop(r, {{"angle", typed(theta / degree, count, "deg")},
             {"torque", typed(torque(turned) / 1000 * scale, 0.01, "N·m")},
             {"strain_45", micro(0.5 * radius * turned / length * gauge + draw.normal(1e-6))}});
  };
  const double step = std::max(count, counted(theta_y / degree / 10, count)) * degree;
  double theta = 0;
  for (int i = 0; i < 22; ++i, theta += step) one(theta);
  for (int i = 0; i < 6; ++i, theta += 5 * step) one(theta);
  const double last = theta + 10 * step;
  standin::type_into(r, "specimen.after.angle", typed(last / degree, count, "deg"));
  standin::type_into(r, "specimen.after.torque_max", typed(torque(last) / 1000 * scale, 0.01, "N·m"));
  Piece p;
  p.truth["j_moment"] = j;
  p.truth["g_modulus"] = p.truth["g_twist"] = g;
  p.truth["torque_max"] = torque(last);
  p.truth["tau_rupture"] = torque(last) * radius / j;
  p.truth["tau_plastic"] = 12 * torque(last) / (std::numbers::pi * d * d * d);
  p.truth["turns"] = last / (2 * std::numbers::pi);
  p.truth["gamma_f"] = radius * last / length;
  p.truth["strain_eq"] = radius * last / length / std::sqrt(3.0);
  // τ at 0.2 % offset in γ: where the torque lies 0.2 % to the right of the line.
  double low = theta_y, high = last;
  for (int i = 0; i < 80; ++i) {
    const double middle = 0.5 * (low + high);
    (radius * (middle / length - torque(middle) / (g * j)) < 0.002 ? low : high) = middle;
  }
  p.truth["tau_y"] = torque(low) * radius / j;
  p.record = std::move(r);
  return p;
}

Piece block(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("density", {{"specimen.section.shape", "flat"},
                                      {"equipment.caliper.resolution", "0.01 mm"},
                                      {"equipment.scale.resolution", "0.01 g"}});
  const double width = draw.between(39, 41), thickness = draw.between(29, 31), length = draw.between(58, 62);
  measure(r, "specimen.section.width", width, 0.006, draw);
  measure(r, "specimen.section.thickness", thickness, 0.006, draw);
  measure(r, "specimen.length", length, 0.006, draw);
  const double density = draw.between(400, 1400), volume = width * thickness * length * 1e-9;
  for (int i = 0; i < 3; ++i) stop(r, {{"mass", typed(density * volume * 1e3 + draw.normal(0.004), 0.01, "g")}});
  const double moisture = draw.between(0.08, 0.16);
  standin::type_into(r, "specimen.mass_dry", typed(density * volume * 1e3 / (1 + moisture), 0.01, "g"));
  Piece p;
  p.truth["density"] = density;
  p.truth["moisture"] = moisture;
  p.truth["mass"] = density * volume;
  p.record = std::move(r);
  return p;
}

Piece in_water(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("density", {{"specimen.immersed", "true"}, {"equipment.scale.resolution", "0.001 g"}});
  const double shown = counted(draw.between(18, 25), 0.1), water = shown + draw.within(0.5);
  standin::type_into(r, "specimen.water_temperature", typed(shown, 0.1, "°C"));
  const double density = draw.between(1050, 2500), volume = draw.between(5e-6, 15e-6), air = 1.2;
  const double weight = (density - air) * volume / (1 - air / 8000),
               lifted = (density - water_density(water)) * volume / (1 - air / 8000);
  for (int i = 0; i < 3; ++i)
    stop(r, {{"mass", typed(weight * 1e3 + draw.normal(0.0005), 0.001, "g")},
             {"mass_immersed", typed(lifted * 1e3 + draw.normal(0.0008), 0.001, "g")}});
  Piece p;
  p.truth["density"] = density;
  p.record = std::move(r);
  return p;
}

}  // namespace fortitor::coverage
