// What is not known of a spectrum: the scale of the strain, the modulus, the noise on its ranges, what the gate lets
// by.
#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/spectrum/values.h"
#include "core/statistics/sample.h"
#include "core/uncertainty/budget.h"

namespace fortitor::spectrum {

using ledger::shift;

namespace {

constexpr double kGauge = 0.01;    // gauge factor and amplifier, half width
constexpr double kModulus = 0.02;  // between heats of one steel, half width
constexpr size_t kSwings = 100;    // over which the loss of the peaks is a mean
constexpr double kHalfCount = 0.5;

// Ranges in steps of half a per cent, so that a sum over a week's millions of them costs nothing.
struct Binned {
  std::vector<double> range, count;  // µε
};

Binned binned(const std::vector<double>& ascending) {
  constexpr double kStep = 1.005;
  Binned b;
  auto from = std::upper_bound(ascending.begin(), ascending.end(), 0.0);
  while (from != ascending.end()) {
    const double edge = *from * kStep;
    const auto to = std::upper_bound(from, ascending.end(), edge);
    double sum = 0;
    for (auto i = from; i != to; ++i) sum += *i;
    b.count.push_back(double(to - from));
    b.range.push_back(sum / b.count.back());
    from = to;
  }
  return b;
}

// The loss of a swing is told by the largest readings about its two ends, which noise lifts: standard, as a share.
double loss_error(const Week& w, const Settings& s) {
  const size_t n = std::min(kSwings, w.ranges.size());
  if (n == 0 || !(w.rate > 0) || !(s.cut > 0)) return 0;
  double mean = 0;
  for (size_t i = w.ranges.size() - n; i < w.ranges.size(); ++i) mean += w.ranges[i] / double(n);
  return mean > 0 ? w.smooth.noise * statistics::lift_of_largest(w.rate / (2 * s.cut)) / mean : 0;
}

struct Sums {
  double damage = 0, whole = 0, omitted = 0;
};

// Damage of the ranges with strain and stress off by these shares.
Sums sums_of(const Binned& b, const Settings& s, double omission, double strain = 1, double stress = 1) {
  const LifeLine line{s.category, s.m};
  Sums out;
  for (size_t i = 0; i < b.range.size(); ++i) {
    const double range = b.range[i] * s.modulus * 1e-6 * strain * stress, d = b.count[i] * line.damage(range, false);
    out.damage += b.count[i] * line.damage(range, true);
    out.whole += d;
    if (b.range[i] < omission) out.omitted += d;
  }
  return out;
}

}  // namespace

void attach_budget(Evaluation& e, const Week& w, const Settings& s, double rig) {
  const Binned ranges = binned(w.ranges);
  const Sums plain = sums_of(ranges, s, w.omission_level);
  UncertaintyModel model;
  model.inputs = {{"strain", "strain, 1 % of gauge factor and amplifier (assumed)", rectangular(kGauge)},
                  {"modulus", "modulus, 2 % (assumed)", rectangular(kModulus)}};
  using Shape = UncertainInput::Shape;
  if (w.noise > 0)
    model.inputs.push_back(
        {"noise", "noise of the smoothed signal at both ends of a range", w.noise * std::sqrt(2.0), Shape::normal});
  model.inputs.push_back({"gate", "cycles that come and go with the gate",
                          std::clamp(w.count_error, rectangular(kHalfCount), std::max(kHalfCount, 0.5 * w.cycles)),
                          Shape::normal});
  // Of a signal that rests at its mean, noise crosses it too.
  if (w.count_error > 0)
    model.inputs.push_back({"crossings", "crossings of the mean by noise", w.count_error, Shape::normal});
  if (const double loss = loss_error(w, s); loss > 0)
    model.inputs.push_back({"loss", "noise of the hundred largest swings", loss, Shape::normal});
  model.values = [&](const Shifts& shifts) {
    const double strain = 1 + shift(shifts, "strain"), stress = 1 + shift(shifts, "modulus");
    Week moved;
    moved.cycles = w.cycles + shift(shifts, "gate");
    moved.turning_points = w.turning_points + 2 * shift(shifts, "gate");
    // Of more small cycles the same share is reached further down.
    const double down = w.range_at(s.p * moved.cycles / w.cycles) - w.range_p, by = down + shift(shifts, "noise");
    moved.range_p = w.range_p * strain + by;
    moved.range_max = w.range_max * strain + shift(shifts, "noise");
    moved.omission_level = w.omission_level * strain + s.share * by;
    const bool same = strain == 1 && stress == 1 && by == 0;
    const Sums now = same ? plain : sums_of(ranges, s, w.omission_level + s.share * by, strain, stress);
    const double kept = w.cycles * (1 - w.cycles_omitted);  // large ones: no gate moves them
    moved.cycles_omitted = moved.cycles > 0 ? 1 - kept / moved.cycles : NAN;
    const auto share = [](double of, double moved_by, double from) { return from > 0 ? of * moved_by / from : of; };
    moved.damage = share(w.damage, now.damage, plain.damage);
    moved.damage_no_cutoff = share(w.damage_no_cutoff, now.whole, plain.whole);
    moved.damage_omitted = plain.omitted > 0 && now.whole > 0
                               ? w.damage_omitted * (now.omitted / now.whole) / (plain.omitted / plain.whole)
                               : w.damage_omitted;
    moved.range_equivalent =
        w.range_equivalent * strain * stress * (moved.cycles > 0 ? std::pow(w.cycles / moved.cycles, 1 / s.m) : 1);
    moved.peak_loss = w.peak_loss + shift(shifts, "loss");
    moved.irregularity =
        moved.turning_points > 0 ? (w.upward + shift(shifts, "crossings")) / (moved.turning_points / 2) : NAN;
    return values_of(moved, s, rig);
  };
  attach_budgets(e, model);
}

}  // namespace fortitor::spectrum
