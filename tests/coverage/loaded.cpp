// Pieces of proof load, compression after impact and fatigue.
#include <algorithm>
#include <cmath>

#include "core/fatigue/sn_line.h"
#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {

Piece proof(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("proof-load", {{"specimen.rated", "10 kN"},
                                         {"specimen.proof", "20 kN"},
                                         {"specimen.fixture_limit", "200 kN"},
                                         {"equipment.load_cell.class", "1"}});
  r.fields.set("specimen.function", std::string("free;free"));
  const double force_scale = 1 + draw.within(0.01), travel_scale = 1 + draw.within(0.01);
  const double noise = draw.between(5, 200), travel_noise = draw.between(0.0005, 0.004);
  const double stiff = draw.between(6000, 9000), bends_at = draw.between(30e3, 40e3), breaks_at = bends_at * 1.4;
  const double hysteresis = draw.between(0.01, 0.04);
  double rest = 0;
  Piece p;
  auto record = [&](const std::string& part, const std::vector<double>& f, const std::vector<double>& x) {
    auto s = std::make_shared<Samples>();
    std::vector<double> t, fs, xs;
    for (size_t i = 0; i < f.size(); ++i) {
      t.push_back(0.05 * double(i));
      fs.push_back(f[i] * force_scale + draw.normal(noise));
      xs.push_back(x[i] * travel_scale + draw.normal(travel_noise));
    }
    s->channels = {{"time", t}, {"force", fs}, {"displacement", xs}};
    if (part == "cycles") {
      Segment one;
      one.name = part;
      one.samples = s;
      r.run.segments.push_back(one);
    } else {
      r.run.set_samples(s, part);
    }
  };
  const int n = 600;
  for (int cycle = 0; cycle < 2; ++cycle) {
    const double sets = cycle == 0 ? draw.between(0.05, 0.2) : draw.between(0.005, 0.03);
    std::vector<double> f, x;
    for (int i = 0; i < 40; ++i) f.push_back(0), x.push_back(rest);
    for (int i = 0; i <= n; ++i) f.push_back(20e3 * i / n), x.push_back(rest + f.back() / stiff);
    const double top = x.back();
    for (int i = 0; i < 200; ++i) f.push_back(20e3), x.push_back(top);
    // Comes back along a bow that ends `sets` further; the loop is what lies between.
    double loop = 0;
    auto back = [&](double load) {
      const double u = load / 20e3;
      return rest + load / stiff + sets * (1 - u) + hysteresis * 4 * u * (1 - u);
    };
    for (int i = 1; i <= n; ++i) f.push_back(20e3 * (1 - double(i) / n)), x.push_back(back(f.back()));
    for (int i = 0; i < n; ++i) {
      const double u = (i + 0.5) / n;
      loop += (sets * (1 - u) + hysteresis * 4 * u * (1 - u)) * 20e3 / n;
    }
    for (int i = 0; i < 40; ++i) f.push_back(0), x.push_back(x.back());
    record("cycles", f, x);
    const std::string k = "_" + std::to_string(cycle + 1);
    p.truth["stiffness" + k] = stiff;
    p.truth["set" + k] = back(1000) - (rest + 1000 / stiff);
    p.truth["loop" + k] = loop * 1e-3;
    p.truth["held" + k] = 20e3;
    rest += sets;
  }
  std::vector<double> f, x;
  double work = 0;
  for (int i = 0; i < 40; ++i) f.push_back(0), x.push_back(rest);
  const double far = 2.2 * breaks_at / stiff;
  double elastic = 0, last_f = 0, last_x = rest;
  auto load_at = [&](double way) {
    const double straight = bends_at / stiff;
    return way <= straight ? stiff * way
                           : bends_at + (breaks_at - bends_at) * (1 - std::exp(-(way - straight) * stiff / 2e4));
  };
  for (int i = 0; i <= 4000; ++i) {
    const double way = far * i / 4000, load = load_at(way);
    if (elastic == 0 && way > 1.05 * load / stiff && way > bends_at / stiff) elastic = load;
    work += 0.5 * (load + last_f) * (way + rest - last_x);
    last_f = load;
    last_x = way + rest;
    f.push_back(load);
    x.push_back(last_x);
  }
  for (int i = 0; i < 10; ++i) f.push_back(0), x.push_back(last_x);
  record("destruction", f, x);
  p.truth["force_max"] = last_f;
  p.truth["function_limit"] = p.truth["function_limit_tool"] = 20e3;
  p.truth["disp_max"] = last_x - rest;
  p.truth["design_factor"] = last_f / 10e3;
  p.truth["elastic_limit_force"] = elastic;
  p.truth["energy_to_break"] = work * 1e-3;
  p.record = std::move(r);
  return p;
}

Piece after_impact(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("compression-after-impact", {{"specimen.undamaged", "390 MPa"},
                                                       {"equipment.load_cell.class", "1"},
                                                       {"equipment.gauge.tolerance", "1 %"},
                                                       {"equipment.caliper.resolution", "0.01 mm"}});
  const double width = draw.between(99.9, 100.1), thickness = draw.between(4.1, 4.3), area = width * thickness;
  measure(r, "specimen.width", width, 0.006, draw);
  measure(r, "specimen.thickness", thickness, 0.004, draw);
  const double modulus = draw.between(45e3, 55e3), strength = draw.between(180, 260);
  const double force_scale = 1 + draw.within(0.01), noise = draw.between(20, 100), jitter = draw.between(1e-6, 4e-6);
  const double bend[2] = {draw.within(0.06), draw.within(0.06)};
  double scale[2][2];
  for (auto& pair : scale)
    for (double& s : pair) s = 1 + draw.within(0.01);
  std::vector<double> t, f, g[2][2];
  const double rate = 60;  // N/s·10
  double time = 0;
  bool broken = false;
  for (int i = 0, after = 0; after < 20; ++i) {
    time = 0.1 * i;
    const double load = std::max(0.0, time - 2) * rate * 10, stress = load / area;
    broken = broken || stress > strength;
    after += broken ? 1 : 0;
    t.push_back(time);
    f.push_back(-(broken ? 0 : load) * force_scale + draw.normal(noise));
    for (int k = 0; k < 2; ++k)
      for (int side = 0; side < 2; ++side)
        g[k][side].push_back(-(broken ? 0 : stress) / modulus * (1 + (side == 0 ? bend[k] : -bend[k])) *
                                 scale[k][side] +
                             draw.normal(jitter));
  }
  give(r, {{"time", t},
           {"force", f},
           {"strain_front_1", g[0][0]},
           {"strain_back_1", g[0][1]},
           {"strain_front_2", g[1][0]},
           {"strain_back_2", g[1][1]}});
  Piece p;
  p.truth["area"] = area;
  p.truth["fm"] = strength * area;
  p.truth["cai_strength"] = strength;
  p.truth["cai_modulus"] = modulus;
  p.truth["eps_m"] = strength / modulus;
  p.truth["retention"] = strength / (390 * (1 + draw.within(0.02)));
  p.truth["bending_left"] = bend[0] * 100;
  p.truth["bending_right"] = bend[1] * 100;
  p.truth["bending_percent"] = std::max(std::abs(bend[0]), std::abs(bend[1])) * 100;
  p.record = std::move(r);
  return p;
}

namespace {

// A batch of fatigue pieces about log N = log C − m·log S with a scatter of log N.
Piece batch(uint64_t seed, double end) {
  Draw draw(seed);
  TestRecord r = piece_of("fatigue-constant", {{"specimen.family", "carbon steel"}});
  const double m = draw.between(2.8, 4.5), s = draw.between(0.08, 0.25), at_two = draw.between(85, 130);
  const double log_c = std::log10(2e6) + m * std::log10(at_two), off = 1 + draw.within(0.01);
  std::vector<double> levels = {2.0, 1.6, 1.3, 1.1};
  for (double level : levels)
    for (int i = 0; i < 4; ++i) {
      const double range = counted(level * at_two, 1),
                   n = std::pow(10, log_c - m * std::log10(range * off) + draw.normal(s));
      stop(r, {{"range", typed(range, 1, "MPa")},
               {"cycles", typed(std::min(n, end), 1, "")},
               {"runout", n > end ? "true" : "false"}});
    }
  Piece p;
  p.truth["sn_slope"] = m;
  p.truth["sn_logc"] = log_c;
  p.truth["sn_sd"] = s;
  p.truth["strength_2e6_mean"] = at_two;
  p.truth["strength_2e6_977"] = at_two * std::pow(10, -2 * s / m);
  p.record = std::move(r);
  return p;
}

}  // namespace

Piece sn_failed(uint64_t seed) {
  return batch(seed, 1e12);
}

Piece sn_runouts(uint64_t seed) {
  return batch(seed, 3e6);
}

Piece staircase(uint64_t seed) {
  Draw draw(seed);
  TestRecord r =
      piece_of("fatigue-constant", {{"settings.analysis", "staircase"}, {"settings.staircase.step", "10 MPa"}});
  const double limit = draw.between(230, 260), scatter = draw.between(6, 15), off = 1 + draw.within(0.01);
  double level = counted(limit + draw.within(10), 10);
  for (int i = 0; i < 30; ++i) {
    const bool fails = level * off > limit + draw.normal(scatter);
    stop(r, {{"range", typed(level, 10, "MPa")},
             {"cycles", fails ? typed(draw.between(2e5, 2e6), 1, "") : "10000000"},
             {"runout", fails ? "false" : "true"}});
    level += fails ? -10 : 10;
  }
  Piece p;
  p.truth["staircase_mean"] = p.truth["staircase_ml_mean"] = limit;
  p.truth["staircase_sd"] = p.truth["staircase_ml_sd"] = scatter;
  p.record = std::move(r);
  return p;
}

Piece toe_gauges(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("fatigue-constant", {});
  const double begins = draw.between(2e5, 6e5), ends = 1e6, noise = draw.between(1e-6, 5e-6);
  std::vector<double> n, one, two;
  for (double c = 0; c <= ends; c += 1e4) {
    const double over = std::max(0.0, c - begins) / ends;
    n.push_back(c);
    one.push_back(8e-4 - 3e-4 * over + draw.normal(noise));
    two.push_back(7.5e-4 + 4e-5 * over + draw.normal(noise));
  }
  give(r, {{"cycles", n}, {"gauge_1", one}, {"gauge_2", two}});
  Piece p;
  p.truth["n_initiation"] = begins;
  p.truth["life_share_left"] = 1 - begins / ends;
  p.record = std::move(r);
  return p;
}

}  // namespace fortitor::coverage
