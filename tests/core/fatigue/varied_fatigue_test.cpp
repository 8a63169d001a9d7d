// Sequences, points, chains and signals as they come: hundreds drawn at random, most of small whole numbers so that many
// are equal, and all that counting, fitting and smoothing say of them kept as text.
#include <gtest/gtest.h>

#include <cmath>
#include <sstream>

#include "core/fatigue/chain.h"
#include "core/fatigue/initiation.h"
#include "core/fatigue/level.h"
#include "core/fatigue/markov.h"
#include "core/fatigue/mean_stress.h"
#include "core/fatigue/rainflow.h"
#include "core/fatigue/smooth.h"
#include "core/fatigue/sn_line.h"
#include "core/fatigue/staircase.h"
#include "core/fatigue/turning.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::fatigue::varied_fatigue_test {
namespace {

std::vector<double> steps(Chance& chance, size_t n, size_t levels) {
  std::vector<double> out;
  for (size_t i = 0; i < n; ++i) out.push_back(double(chance.below(levels)));
  return out;
}

void write(std::ostream& out, const char* name, const std::vector<Cycle>& cycles) {
  out << name;
  for (const Cycle& c : cycles) out << " " << c.from << "–" << c.to << (c.count == 1 ? "" : "½");
  out << "\n";
}

TEST(KeptNumbersVariedFatigue, CyclesOfShortSequences) {
  const auto said = [](uint64_t seed) {
    std::ostringstream out;
    Chance chance(seed);
    const std::vector<double> x = steps(chance, chance.below(30), 2 + chance.below(9));
    out << "== " << seed << "\nturns";
    for (double v : alternating(x)) out << " " << v;
    std::vector<double> residue;
    const auto four = rainflow_four_point(x, &residue);
    out << "\nleft";
    for (double v : residue) out << " " << v;
    out << "\n";
    write(out, "four", four);
    write(out, "three", rainflow_three_point(x));
    std::vector<Extreme> extremes;
    extremes_of(x.data(), x.size(), 1000, extremes);
    out << "extremes";
    for (const Extreme& e : extremes) out << " " << e.at << ":" << e.value;
    for (double gate : {0.0, 1.0, 2.5}) {
      out << "\ngate " << gate;
      for (const Extreme& e : turning_points(extremes, gate)) out << " " << e.at << ":" << e.value;
    }
    out << "\n";
    return out.str();
  };
  std::string now;
  for (uint64_t seed = 1; seed <= 150; ++seed) now += said(seed);
  hold_kept("varied-cycles", now + summed(151, 2000, said));
}

TEST(KeptNumbersVariedFatigue, LinesAndStairs) {
  const auto said = [](uint64_t seed) {
    std::ostringstream out;
    Chance chance(seed + 500);
    std::vector<SnPoint> points;
    const size_t n = chance.below(18), levels = 1 + chance.below(4);
    for (size_t i = 0; i < n; ++i) {
      const double range = 200 / std::pow(1.25, double(chance.below(levels)));
      SnPoint p{range, std::round(std::pow(10, 12.3 - 3 * std::log10(range) + 0.2 * chance.normal())), chance.below(5) == 0};
      if (p.runout) p.cycles = 2e6;
      points.push_back(p);
    }
    out << "== " << seed << " " << n << "\n";
    const double fixed[] = {3, 5};
    for (int way = 0; way < 4; ++way) {
      const auto l = fit_sn(points, way < 2 ? std::nullopt : std::optional(fixed[way - 2]), way % 2 == 0);
      if (!l) continue;
      out << way << " " << num(l->slope) << " " << num(l->log_c) << " " << num(l->sd) << (l->likelihood ? " ml" : "") << (l->slope_fixed ? " fixed" : "") << " "
          << l->failures << " " << l->runouts << " " << num(l->pivot) << " " << num(l->level_error) << " " << num(l->slope_error) << " " << num(l->sd_error) << " "
          << num(l->log_life(120)) << " " << num(l->range_at(2e6, -1.5)) << "\n";
    }
    std::vector<SnPoint> stairs;
    double level = 300;
    for (size_t i = 0; i < n; ++i) {
      const bool out_of = level + 12 * chance.normal() < 290;
      stairs.push_back({level, out_of ? 1e7 : 1e5, out_of});
      level += (out_of ? 10 : -10) * (chance.below(12) == 0 ? 2.0 : 1.0);
    }
    const double step = step_between(stairs);
    out << "step " << num(step);
    if (step > 0)
      if (const auto s = dixon_mood(stairs, step))
        out << " mean " << num(s->mean) << " " << num(s->sd) << " " << num(s->step) << " " << num(s->lowest) << " " << s->n << " " << s->a << " " << s->b << (s->survivals ? " survivals " : " failures ") << num(s->scatter());
    if (const auto p = probit(stairs)) out << " probit " << num(p->mean) << " " << num(p->sd);
    out << "\n";
    return out.str();
  };
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 150; ++seed) out << said(seed);
  out << summed(151, 1500, said);
  for (size_t n = 0; n <= 40; ++n) out << n << " " << num(std::isfinite(characteristic_factor(n)) ? characteristic_factor(n) : -1) << "\n";
  for (double category : detail_categories()) {
    const DetailLine d{category};
    out << category << " " << num(d.knee()) << " " << num(d.cut_off());
    for (double range : {d.cut_off(), d.knee(), category, 0.9 * d.cut_off(), 1.1 * d.cut_off(), 2 * category})
      for (bool with : {true, false}) out << " " << (std::isfinite(d.life(range, with)) ? num(d.life(range, with)) : "for ever");
    out << "\n";
  }
  for (const auto rule : {MeanStress::none, MeanStress::goodman, MeanStress::gerber, MeanStress::smith_watson_topper, MeanStress::walker})
    for (double mean : {-200.0, -80.0, 0.0, 80.0, 200.0, 499.0, 500.0, 600.0}) {
      const double a = reversed_amplitude(rule, 80, mean, 500, 0.6);
      out << int(rule) << " " << mean << " " << (std::isfinite(a) ? num(a) : "none");
      for (double r : {-2.0, -1.0, 0.0, 0.1, 0.5, 0.9}) {
        const double e = equivalent_range(rule, 120, r, 0.1, 500, 0.6);
        out << " " << (std::isfinite(e) ? num(e) : "none");
      }
      out << "\n";
    }
  hold_kept("varied-lines", out.str());
}

TEST(KeptNumbersVariedFatigue, TurnsOfReadings) {
  const auto said = [](uint64_t seed) {
    std::ostringstream out;
    Chance chance(seed + 900);
    std::vector<double> cycles, strain;
    const size_t n = 4 + chance.below(40), turn = chance.below(n), leap = chance.below(n);
    double at = 0;
    for (size_t i = 0; i < n; ++i) {
      at += 1000 * double(1 + chance.below(4));
      cycles.push_back(at);
      const double bent = i > turn ? 0.02 * double(chance.below(2) + 1) * (at - cycles[turn]) : 0;
      strain.push_back(500 - 0.001 * at - bent + chance.normal() + (i == leap ? 60 : 0));
    }
    out << "== " << seed << " " << n;
    if (const auto t = turn_of(cycles, strain)) out << " turn " << num(t->cycles) << " " << num(t->before) << " " << num(t->after);
    if (const auto t = turn_of(cycles, strain, 4000, 0.7 * at)) out << " within " << num(t->cycles);
    if (const auto t = first_turn_of(cycles, strain)) out << " first " << num(t->cycles) << " " << num(t->after);
    out << "\n";
    for (size_t of : {1u, 3u, 5u, 9u}) {
      double sum = 0;
      for (double v : running_median(strain, of)) sum += v;
      out << " " << num(sum);
    }
    out << "\n";
    return out.str();
  };
  std::string now;
  for (uint64_t seed = 1; seed <= 120; ++seed) now += said(seed);
  hold_kept("varied-turns", now + summed(121, 2000, said));
}

TEST(KeptNumbersVariedFatigue, ChainsAndWalks) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 60; ++seed) {
    Chance chance(seed + 1300);
    const std::vector<double> x = alternating(steps(chance, 4 + chance.below(60), 3 + chance.below(12)));
    const Levels levels = levels_over(0, double(2 + chance.below(14)), int(2 + chance.below(20)));
    out << "== " << seed << " " << num(levels.from) << " " << num(levels.width) << " " << levels.n;
    for (double v : {-1.0, 0.0, 1.0, 3.5, 7.0, 100.0}) out << " " << levels.of(v) << ":" << num(levels.middle(levels.of(v)));
    Transitions t(levels), twice(levels);
    t.add(x);
    twice.add(t, 2);
    twice.add(x);
    double weight = 0;
    for (size_t i = 0; i < t.counts.size(); ++i) weight += t.counts[i] * double(i + 1);
    out << " " << num(t.total()) << " " << num(twice.total()) << " " << num(weight) << "\n";
    for (size_t length : {2u, 10u, 200u}) {
      const auto w = walk(t, length, seed);
      if (!w) {
        out << w.error().message << "\n";
        continue;
      }
      double sum = 0;
      for (size_t i = 0; i < w->size(); ++i) sum += double((*w)[i]) * double(i % 7 + 1);
      out << w->size() << " " << num(sum) << " " << num(values_of(*w, levels).front()) << "\n";
    }
  }
  // Chains that climb and fall by small steps: the way back to the start is long and seldom found at once.
  for (uint64_t seed = 1; seed <= 80; ++seed) {
    Chance chance(seed + 1500);
    std::vector<double> x;
    double at = 10;
    for (size_t i = 0; i < 400; ++i) x.push_back(at = std::clamp(at + (chance.below(2) == 0 ? 1.0 : -1.0) * double(1 + chance.below(2)), 0.0, 24.0));
    Transitions t(levels_over(0, 24, 25));
    t.add(alternating(x));
    out << "== slow " << seed;
    for (size_t length : {4u, 20u, 300u, 1000u}) {
      const auto w = walk(t, length, seed);
      double sum = 0;
      if (w)
        for (size_t i = 0; i < w->size(); ++i) sum += double((*w)[i]) * double(i % 7 + 1);
      out << " " << (w ? num(sum, 8) : w.error().message);
    }
    out << "\n";
  }
  hold_kept("varied-walks", out.str());
}

TEST(KeptNumbersVariedFatigue, SignalsWithGapsSpikesAndStuckStretches) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 40; ++seed) {
    Chance chance(seed + 1700);
    std::vector<double> x;
    const double rate = double(5 + chance.below(30));
    const size_t n = 50 + chance.below(4000);
    for (size_t i = 0; i < n; ++i)
      x.push_back(40 * std::sin(double(i) / (rate * 0.7)) + 0.02 * double(i) + 0.5 * chance.normal() + (chance.below(200) == 0 ? 25 : 0));
    for (size_t k = chance.below(5); k > 0; --k) {
      const size_t at = chance.below(n), kind = chance.below(3);
      if (kind == 0) x[at] += 900;
      for (size_t i = at; kind == 1 && i < std::min(n, at + chance.below(400)); ++i) x[i] = NAN;
      for (size_t i = at; kind == 2 && i < std::min(n, at + size_t(8 * rate)); ++i) x[i] = x[at];
    }
    const auto signal = signal_of(x, rate);
    out << "== " << seed << " " << n << " at " << rate << "\n";
    for (bool medians : {false, true}) {
      const double block_seconds = 10 + double(chance.below(60));
      const auto raw = read_raw(*signal, block_seconds, medians, {}, {1});
      ASSERT_TRUE(raw);
      const Drift drift = medians ? level_by_medians(raw->blocks, raw->block, raw->samples) : level_by_squares(raw->blocks, raw->block, raw->samples);
      out << raw->missing << " missing, " << raw->gap_count << " gaps, " << raw->blocks.size() << " of " << raw->block << ", overview " << raw->overview.per << " " << raw->overview.least.size() << "\ndrift";
      for (size_t i = 0; i < drift.at.size(); ++i) out << " " << num(drift.at[i]) << ":" << num(drift.value[i]);
      out << " | " << num(drift(-10)) << " " << num(drift(double(n) + 10)) << "\n";
      for (const auto& [cut, leave] : {std::pair{0.0, false}, {2.0, false}, {2.0, true}, {0.45 * rate, true}, {0.5 * rate, false}}) {
        const auto smooth = smooth_signal(*signal, *raw, drift, cut, leave, {}, {1});
        ASSERT_TRUE(smooth);
        double sum = 0, places = 0;
        for (const Extreme& e : smooth->extremes) sum += e.value, places += double(e.at);
        const auto turning = turning_points(smooth->extremes, 5);
        out << num(cut) << (leave ? " left out: " : ": ") << smooth->extremes.size() << " " << num(sum) << " " << num(places) << " spikes " << smooth->spike_count << " stuck " << smooth->stuck_samples
            << " in " << smooth->stuck.size() << " mean " << num(smooth->mean) << " turns " << turning.size();
        const auto loss = peak_loss(*signal, drift, cut, turning);
        if (loss) out << " loss " << (std::isfinite(*loss) ? num(*loss) : "none");
        if (const auto others = peak_losses(*signal, drift, cut, turning, {0.5, 1, 4}, {1}))
          for (double l : *others) out << " " << (std::isfinite(l) ? num(l) : "none");
        out << "\n";
      }
      const auto piece = look_at(*signal, drift, 2, n / 3, std::min<size_t>(100, n / 4));
      ASSERT_TRUE(piece);
      double sums[3] = {0, 0, 0};
      for (size_t i = 0; i < piece->smooth.size(); ++i) {
        if (std::isfinite(piece->measured[i])) sums[0] += piece->measured[i], sums[1] += piece->levelled[i];
        if (std::isfinite(piece->smooth[i])) sums[2] += piece->smooth[i];
      }
      out << "seen " << piece->smooth.size() << " " << num(sums[0]) << " " << num(sums[1]) << " " << num(sums[2]) << "\n";
    }
  }
  for (double cut : {0.01, 0.5, 2.0, 9.0, 10.0, 12.0}) {
    const LowPass pass(cut, 20);
    out << "pass " << cut << " " << pass.passes_all() << " " << pass.memory() << "\n";
  }
  hold_kept("varied-signals", out.str());
}

}  // namespace
}  // namespace fortitor::fatigue::varied_fatigue_test
