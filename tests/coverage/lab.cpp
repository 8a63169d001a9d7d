#include "tests/coverage/lab.h"
#include "tests/c_text.h"

#include <atomic>
#include <cmath>
#include <cstdio>
#include <mutex>
#include <thread>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/quantity/parse.h"

namespace fortitor::coverage {

double counted(double value, double count) {
  return count > 0 ? count * std::round(value / count) : value;
}

std::string typed(double value, double count, const char* unit) {
  char text[48];
  const int digits = std::max(0, int(std::ceil(-std::log10(count) - 1e-9)));
  c_snprintf(text, sizeof text, "%.*f %s", digits, counted(value, count), unit);
  return text;
}

void measure(TestRecord& r, const std::string& path, double truth, double spread, Draw& draw, double count,
             int readings) {
  const double off = draw.within(count);
  Readings list;
  for (int i = 0; i < readings; ++i) {
    const std::string text = typed(truth + off + draw.normal(spread), count, "mm");
    list.push_back(reading_of(parse_quantity(text, Dimension::length).value()));
  }
  if (readings == 1)
    r.fields.set(path, list.front());
  else
    r.fields.set(path, list);
}

const std::vector<Study>& studies() {
  static const std::vector<Study> all = {
      {"tension-metal, continuous", metal_continuous},
      {"tension-metal, plateau", metal_plateau},
      {"tension-metal, extensometer off", metal_spliced},
      {"tension-plastic, yields", plastic},
      {"tension-plastic, by the grips", plastic_drawn},
      {"tension-composite", composite},
      {"compression-solid", compression},
      {"compression-solid, wood across", wood_across},
      {"crush-shell", shell},
      {"flatwise-tension", sandwich},
      {"poisson-gauge", gauges},
      {"flexure-beam, dial", beam_dial},
      {"flexure-beam, recorded", beam_recorded},
      {"torsion-bar", torsion},
      {"density, by sizes", block},
      {"density, in water", in_water},
      {"hardness-rockwell", rockwell},
      {"hardness-brinell", brinell},
      {"hardness-vickers", vickers},
      {"hardness-vickers, case", case_hardened},
      {"hardness-knoop", knoop},
      {"impact-pendulum, notched bars", charpy},
      {"impact-pendulum, plastics", izod},
      {"impact-tension", pulled_apart},
      {"drop-impact", dropped},
      {"compression-after-impact", after_impact},
      {"proof-load", proof},
      {"fatigue-constant, all failed", sn_failed},
      {"fatigue-constant, run-outs", sn_runouts},
      {"fatigue-constant, staircase", staircase, {"staircase_ml_mean", "staircase_ml_sd"}},
      {"fatigue-constant, toe gauges", toe_gauges},
  };
  return all;
}

const Study* find_study(const std::string& name) {
  for (const Study& s : studies())
    if (name == s.name) return &s;
  return nullptr;
}

Outcomes run(const Study& study, int pieces, uint64_t first_seed) {
  Outcomes out;
  std::mutex mutex;
  std::atomic<int> next{0};
  auto work = [&] {
    for (int i = next++; i < pieces; i = next++) {
      const Piece piece = study.make(first_seed + uint64_t(i));
      const Evaluation e = methods::evaluate(piece.record);
      const std::lock_guard lock(mutex);
      for (const auto& [key, truth] : piece.truth) {
        Held& h = out.keys[key];
        const ResultValue* r = e.find(key);
        if (r == nullptr) {
          ++h.absent;
          continue;
        }
        ++h.of;
        if (!(r->standard_uncertainty > 0)) ++h.bare;
        const double u = r->expanded();
        if (std::abs(r->value - truth) <= u * (1 + 1e-9)) ++h.held;
        h.error2 += u > 0 ? std::pow((r->value - truth) / u, 2) : 0;
      }
      for (const ResultValue& r : e.results)
        if (!r.is_text() && piece.truth.count(r.spec.key) == 0) ++out.unknown[r.spec.key];
      for (const Finding& f : e.findings)
        if (f.severity != Severity::note) ++out.findings[f.code];
    }
  };
  std::vector<std::thread> others;
  for (unsigned k = 1; k < std::max(1u, std::thread::hardware_concurrency()); ++k) others.emplace_back(work);
  work();
  for (std::thread& t : others) t.join();
  return out;
}

}  // namespace fortitor::coverage
