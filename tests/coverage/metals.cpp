// Pieces of tension-metal.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/curve/fit.h"
#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {
namespace {

struct Bar {
  TestRecord record;
  double diameter, area, gauge, blades, parallel;
};

// A round bar, its readings with the errors of caliper and marks.
Bar bar(Draw& draw) {
  Bar b;
  b.record = piece_of("tension-metal", {{"specimen.section.shape", "round"},
                                        {"specimen.gauge_length", "50.0 mm"},
                                        {"specimen.extensometer_length", "50 mm"},
                                        {"specimen.parallel_length", "60 mm"},
                                        {"equipment.load_cell.capacity", "100 kN"},
                                        {"equipment.load_cell.class", "1"},
                                        {"equipment.extensometer.class", "0.5"},
                                        {"equipment.caliper.resolution", "0.01 mm"}});
  b.diameter = draw.between(9.8, 10.2);
  b.area = std::numbers::pi * b.diameter * b.diameter / 4;
  b.gauge = 50 + draw.within(0.1);
  b.blades = 50;
  b.parallel = 60;
  measure(b.record, "specimen.section.diameter", b.diameter, 0.003, draw);
  return b;
}

void after(Bar& b, std::map<std::string, double>& truth, double elongation, double reduction, Draw& draw) {
  standin::type_into(b.record, "specimen.after.gauge_length",
                     typed(b.gauge * (1 + elongation) + draw.within(0.25), 0.01, "mm"));
  const double neck = b.diameter * std::sqrt(1 - reduction);
  measure(b.record, "specimen.after.diameter", neck, 0.004, draw, 0.01, 2);
  truth["a"] = elongation;
  truth["z"] = reduction;
}

// n and K as defined: least squares on points equally spaced in engineering strain, of the true curve.
void hardening(const Metal& m, double from, std::map<std::string, double>& truth) {
  std::vector<double> x, y;
  const double to = m.uniform;
  for (int i = 0; i <= 2000; ++i) {
    const double e = from + (to - from) * i / 2000, r = m.stress(m.plastic_at(e));
    x.push_back(std::log(std::log1p(e) - r * (1 + e) / m.modulus));
    y.push_back(std::log(r * (1 + e)));
  }
  const auto line = fit_line(x, y);
  truth["n_value"] = line->slope;
  truth["k_strength"] = std::exp(line->intercept);
}

Metal random_metal(Draw& draw) {
  Metal m;
  m.modulus = draw.between(68e3, 215e3);
  m.yield = draw.between(0.0018, 0.0032) * m.modulus;
  m.strength = m.yield * draw.between(1.15, 1.6);
  m.power = draw.between(2, 4);
  m.uniform = draw.between(0.06, 0.18);
  m.broken = m.uniform + draw.between(0.04, 0.12);
  m.fall = draw.between(0.1, 0.3);
  return m;
}

std::map<std::string, double> truth_of(const Metal& m, const Bar& b, double rate, double rate_after) {
  std::map<std::string, double> t;
  t["area"] = b.area;
  t["proportional_length"] = 5.65 * std::sqrt(b.area);
  t["e_modulus"] = m.modulus;
  t["toe_shift"] = 0;
  t["rm"] = m.strength;
  t["fm"] = m.strength * b.area;
  t["rt05"] = m.stress(m.plastic_at(0.005));
  t["ag"] = m.uniform;
  t["agt"] = m.uniform + m.strength / m.modulus;
  t["a_ext"] = m.broken;
  t["at"] = m.broken + m.stress(m.broken) / m.modulus;
  t["stress_rate"] = m.modulus * rate;
  t["strain_rate"] = rate;
  t["strain_rate_rm"] = rate_after;
  t["toughness"] = m.work_to(m.broken);
  return t;
}

Piece metal(uint64_t seed, bool removed) {
  Draw draw(seed);
  Bar b = bar(draw);
  const Metal m = random_metal(draw);
  const double rate = draw.between(2e-4, 1e-3), rate_after = rate * draw.between(1, 6);
  Recorder how;
  how.force_noise = draw.between(0.0002, 0.001) * m.strength * b.area;
  how.strain_noise = draw.between(2e-6, 1e-5);
  // The frame's stiffness is entered as the maker has it; the fillets give a little too.
  const double stiffness = draw.between(30e3, 90e3), parallel = b.parallel * (1 + draw.normal(0.02));
  Recorded run = record_trace(m.run(rate, rate_after, 25), b.area, b.blades, parallel, stiffness, how, draw);
  Piece p;
  p.truth = truth_of(m, b, rate, rate_after);
  p.truth["rp02"] = m.stress(0.002);
  p.truth["yield_ratio"] = m.stress(0.002) / m.strength;
  p.truth["resilience"] = m.work_to(0.002);
  if (m.uniform > 0.03) hardening(m, 0.02, p.truth);
  if (removed) {
    standin::type_into(b.record, "equipment.frame.stiffness",
                       typed(stiffness / 1000 * (1 + draw.normal(0.1)), 0.1, "kN/mm"));
    size_t at = 0;
    const Trace trace = m.run(rate, rate_after, 25);
    while (at < trace.strain.size() && trace.strain[at] < 0.03) ++at;
    if (at < trace.time.size()) b.record.events.push_back({trace.time[at], "extensometer-removed", ""});
    for (size_t i = at; i < run.extension.size(); ++i) run.extension[i] = NAN;
  }
  after(b, p.truth, m.broken * 0.98, draw.between(0.3, 0.7), draw);
  give(b.record,
       {{"time", run.time}, {"force", run.force}, {"extension", run.extension}, {"crosshead", run.crosshead}});
  p.record = std::move(b.record);
  return p;
}

}  // namespace

Piece metal_continuous(uint64_t seed) {
  return metal(seed, false);
}

Piece metal_spliced(uint64_t seed) {
  return metal(seed, true);
}

Piece metal_plateau(uint64_t seed) {
  Draw draw(seed);
  Bar b = bar(draw);
  Metal m = random_metal(draw);
  m.upper = m.yield * draw.between(1.03, 1.1);
  m.plateau_end = draw.between(0.012, 0.025);
  m.strength = m.yield * draw.between(1.2, 1.6);
  const double rate = draw.between(2e-4, 1e-3), rate_after = rate * draw.between(1, 6);
  Recorder how;
  how.force_noise = draw.between(0.0002, 0.001) * m.strength * b.area;
  how.strain_noise = draw.between(2e-6, 1e-5);
  const Recorded run = record_trace(m.run(rate, rate_after, 25, m.strain(m.plateau_end) + 0.004), b.area, b.blades,
                                    b.parallel, 50e3, how, draw);
  Piece p;
  p.truth = truth_of(m, b, rate, rate_after);
  p.truth.erase("rt05");  // falls on a serration of the band, which no rule reads
  p.truth["reh"] = m.upper;
  p.truth["rel"] = m.yield;
  p.truth["ae"] = m.plateau_end;
  p.truth["yield_ratio"] = m.upper / m.strength;
  p.truth["resilience"] = 0.5 * m.upper * m.upper / m.modulus;
  hardening(m, std::max(0.02, m.strain(m.plateau_end)), p.truth);
  after(b, p.truth, m.broken * 0.98, draw.between(0.3, 0.7), draw);
  give(b.record,
       {{"time", run.time}, {"force", run.force}, {"extension", run.extension}, {"crosshead", run.crosshead}});
  p.record = std::move(b.record);
  return p;
}

}  // namespace fortitor::coverage
