// From the run to pairs of strains: signs, zeros, seating, bending, the place where a gauge turns back.
#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/methods/compression_after_impact/model.h"
#include "core/methods/support/pulled.h"

namespace fortitor::cai {
namespace {

constexpr double kEarlyFrom = 0.1, kEarlyTo = 0.4;  // of the largest force
// A gauge that turns back: strain, share of what it reached, times the noise of its means.
constexpr double kTurnsBy = 50e-6, kTurnsShare = 0.05, kTurnsNoise = 6;
constexpr size_t kMeansOver = 200;  // part of the samples up to the peak, on each side
constexpr double kSeated = 1.05;    // times the seating force

constexpr const char* kGauges[2][2] = {{"strain_front_1", "strain_back_1"}, {"strain_front_2", "strain_back_2"}};

// Slope of a gauge over the force on the part that is straight for any plate: from a tenth to four tenths of the peak.
// A dozen samples may leave that part empty (the strains kept the sign they were logged with): then up to the peak.
double early_slope(const Loading& run, const std::vector<double>& strain) {
  auto between = [&](double low, double high) {
    std::vector<double> x, y;
    for (size_t i = 0; i <= run.peak; ++i)
      if (run.s.force[i] >= low * run.peak_force() && run.s.force[i] <= high * run.peak_force() &&
          std::isfinite(strain[i])) {
        x.push_back(run.s.force[i]);
        y.push_back(strain[i]);
      }
    return fit_line(x, y);
  };
  auto line = between(kEarlyFrom, kEarlyTo);
  if (!line) line = between(0, 1);
  return line ? line->slope : 0;
}

// Means over so many samples that the noise of a gauge is small against what counts as turning back.
std::vector<double> smoothed(const std::vector<double>& all, size_t half, size_t to) {
  const std::vector<double> y(all.begin(), all.begin() + long(std::min(to, all.size())));
  std::vector<double> out(y.size(), NAN);
  double sum = 0;
  size_t n = 0, a = 0, b = 0;
  for (size_t i = 0; i < y.size(); ++i) {
    for (; b < std::min(y.size(), i + half + 1); ++b)
      if (std::isfinite(y[b])) sum += y[b], ++n;
    for (; a + half < i; ++a)
      if (std::isfinite(y[a])) sum -= y[a], --n;
    if (n > 0) out[i] = sum / double(n);
  }
  return out;
}

// A gauge that has been shortened and then grows longer again by a twentieth of what it reached (and beyond noise and
// 50 µε) while force and partner go on.
std::optional<Buckling> buckling_of(const State& s) {
  std::optional<Buckling> found;
  const size_t n = std::min(s.run.end, s.run.peak + 1);
  const size_t half = std::max<size_t>(1, n / kMeansOver);
  for (size_t k = 0; k < 2; ++k) {
    if (!s.pairs[k].there()) continue;
    const auto front = smoothed(s.pairs[k].front, half, n), back = smoothed(s.pairs[k].back, half, n);
    for (const bool turned_front : {true, false}) {
      const auto &turned = turned_front ? front : back, &other = turned_front ? back : front;
      const double noise =
          noise_of(turned_front ? s.pairs[k].front : s.pairs[k].back, 0, n) / std::sqrt(2.0 * double(half) + 1);
      size_t high = 0;
      for (size_t i = 1; i < n; ++i) {
        if (!std::isfinite(turned[i]) || !std::isfinite(other[i])) continue;
        if (turned[i] > turned[high] || !std::isfinite(turned[high])) {
          high = i;
          continue;
        }
        const double fallen = turned[high] - turned[i];
        if (fallen < std::max({kTurnsBy, kTurnsShare * turned[high], kTurnsNoise * noise})) continue;
        if (s.run.s.force[i] < s.run.s.force[high] || other[i] <= other[high]) continue;  // the load went back too
        if (!found || high < found->at) found = Buckling{k, high, turned_front};
        break;
      }
    }
  }
  return found;
}

// Where a gauge stands at one value to the last digit while the force goes on rising by a tenth of its largest: its
// wire is off. Nothing where it goes with the plate.
std::optional<size_t> stands_from(const Loading& run, const std::vector<double>& v) {
  constexpr size_t kLeast = 20;     // samples
  constexpr double kForceOn = 0.1;  // of the largest force
  size_t start = 0;
  for (size_t i = 1; i <= run.peak && i < v.size(); ++i) {
    if (v[i] != v[i - 1]) start = i;
    if (i - start + 1 >= kLeast && run.s.force[i] - run.s.force[start] > kForceOn * run.peak_force()) return start;
  }
  return std::nullopt;
}

}  // namespace

double bending_of(double front, double back) {
  const double sum = front + back;
  return std::abs(sum) > 1e-9 ? 100 * (front - back) / sum : NAN;
}

double bending_at(const State& s, size_t k, double force, double front_scale, double back_scale) {
  const Pair& p = s.pairs[k];
  if (!p.there() || s.run.empty()) return NAN;
  const size_t half = std::min<size_t>(5, s.run.end / 200);
  const auto front = value_at(s.run.s.force, p.front, force, 0, s.run.peak + 1, half),
             back = value_at(s.run.s.force, p.back, force, 0, s.run.peak + 1, half);
  return front && back ? bending_of(*front * front_scale, *back * back_scale) : NAN;
}

double bending_seated(const State& s, size_t k) {
  const Pair& p = s.pairs[k];
  if (!p.there() || s.run.empty()) return NAN;
  // Screws are turned while the load is held: what counts is how the pair stands when the seating ends. A run that goes
  // through without a hold is read where it passes the load.
  const auto& f = s.run.s.force;
  if (!(f[s.seated] > 0.5 * s.seating)) return bending_at(s, k, s.seating);
  double front = 0, back = 0;
  for (size_t i = s.seated, n = 0; n < 5 && f[i] > 0.5 * s.seating; --i, ++n) {
    front += p.front[i];
    back += p.back[i];
    if (i == 0) break;
  }
  return bending_of(front, back);
}

std::string pair_name(size_t pair) {
  return pair == 0 ? "left" : "right";
}

std::string screw_words(size_t pair, double bending) {
  const std::string side = pair_name(pair), more = bending > 0 ? "front" : "back",
                    less = bending > 0 ? "back" : "front";
  const double size = std::abs(bending);
  const std::string turn = size > 40 ? "a quarter turn" : size > 20 ? "an eighth of a turn" : "a sixteenth of a turn";
  return "the " + side + " pair is shortened more on the " + more + " (" + significant(size, 2) + " %): turn its " +
         more + " screw out " + turn + ", or the " + less + " one in";
}

State look(const TestRecord& record) {
  State s;
  s.width = dimension_of(record.fields, "specimen.width", "w", "width");
  s.thickness = dimension_of(record.fields, "specimen.thickness", "t", "thickness");
  if (s.width.given() && s.thickness.given()) s.area = s.width.mean * s.thickness.mean;
  s.run = loading_of(record, {"crosshead"});
  // As it was set or picked; what the run never saw is none (pick-outside).
  if (const auto set = record.fields.number("settings.seating");
      set && *set > 0 && (record.run.open || *set < s.run.peak_force()))
    s.seating = *set;
  const SamplesPtr samples = record.run.samples();
  if (s.run.empty() || !samples) return s;
  const size_t quiet = s.run.zero.quiet;
  double slopes = 0;
  std::vector<std::pair<std::vector<double>*, const char*>> gauges;
  for (size_t k = 0; k < 2; ++k)
    for (size_t side = 0; side < 2; ++side) {
      std::vector<double> v = s.run.s.aligned(*samples, kGauges[k][side]);
      if (!any_finite(v)) continue;
      if (const auto from = stands_from(s.run, v)) {
        s.lost.push_back({kGauges[k][side], v[*from], s.run.s.force[*from]});
        continue;
      }
      // Zeroed with the force, over the quiet stretch; without one as it was logged.
      const double zero = quiet > 0 ? mean_of(v, 0, quiet) : 0;
      if (std::isfinite(zero))
        for (double& e : v) e -= zero;
      auto& into = side == 0 ? s.pairs[k].front : s.pairs[k].back;
      into = std::move(v);
      gauges.push_back({&into, kGauges[k][side]});
      slopes += early_slope(s.run, into);
    }
  if (gauges.empty()) return s;
  // Compression may be logged with either sign: magnitudes are used from here on.
  s.strain_flipped = slopes < 0;
  for (auto& [v, name] : gauges) {
    if (s.strain_flipped)
      for (double& e : *v) e = -e;
    if (gauges.size() > 2 && early_slope(s.run, *v) < 0) s.against.push_back(name);
  }
  s.mean.assign(s.run.s.size(), NAN);
  for (size_t i = 0; i < s.mean.size(); ++i) {
    double sum = 0;
    for (const auto& [v, name] : gauges) sum += (*v)[i];
    s.mean[i] = sum / double(gauges.size());
  }
  for (size_t i = 0; i <= s.run.peak; ++i)
    if (s.run.s.force[i] <= kSeated * s.seating) s.seated = i;
  s.buckling = buckling_of(s);
  return s;
}

}  // namespace fortitor::cai
