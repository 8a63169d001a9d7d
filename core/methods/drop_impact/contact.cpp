// From force over time to the contact: where it begins and ends, its peak out of noise, the damage on the way up.
#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/methods/drop_impact/model.h"

namespace fortitor::drop {
namespace {

constexpr double kNoiseMatters = 2e-4;  // of the largest force
constexpr double kFoot = 0.01;          // of the peak: where the contact begins

constexpr size_t kNodes = 4000;

// Running sums, so that a mean over any stretch costs nothing.
struct Means {
  std::vector<double> sums;
  explicit Means(const std::vector<double>& y) : sums(y.size() + 1, 0) {
    for (size_t i = 0; i < y.size(); ++i) sums[i + 1] = sums[i] + y[i];
  }
  double around(size_t i, size_t half) const {
    const size_t a = i > half ? i - half : 0, b = std::min(sums.size() - 1, i + half + 1);
    return (sums[b] - sums[a]) / double(b - a);
  }
};

struct Peak {
  double value = 0, error = 0;
  size_t at = 0;
};

// The largest sample of a noisy record lies above the true peak by several deviations of the noise. Where noise matters
// a parabola through the top of the force says it: the stretch around the largest mean of nine that stays above 97 %,
// or above what noise alone brings down.
Peak peak_of(const std::vector<double>& f, const Means& means, double noise) {
  Peak p;
  p.at = size_t(std::max_element(f.begin(), f.end()) - f.begin());
  p.value = f[p.at];
  p.error = noise;
  if (!(noise > kNoiseMatters * p.value)) return p;
  constexpr size_t kHalf = 4;
  double best = -HUGE_VAL;
  for (size_t i = 0; i < f.size(); ++i)
    if (const double m = means.around(i, kHalf); m > best) best = m, p.at = i;
  p.value = best;
  p.error = noise / std::sqrt(2.0 * kHalf + 1);
  size_t a = p.at, b = p.at;
  // The largest of many noisy means is itself too high: on a rough record the stretch reaches further down, by means
  // over more samples, or it would hold little but that one.
  constexpr double kTop = 0.03, kOfNoise = 8;
  const double down = std::max(kTop, kOfNoise * p.error / best), level = (1 - down) * best;
  const size_t half_width = down > kTop ? 4 * kHalf : kHalf;
  while (a > 0 && means.around(a - 1, half_width) > level) --a;
  while (b + 1 < f.size() && means.around(b + 1, half_width) > level) ++b;
  if (b - a < 12) return p;
  // y = c0 + c1·u + c2·u² with u from −1 to 1, by the discrete orthogonal polynomials of equal steps.
  const double n = double(b - a + 1), mid = 0.5 * double(a + b), half = 0.5 * double(b - a);
  double s0 = 0, s1 = 0, s2 = 0, q0 = 0, q2 = 0;
  for (size_t i = a; i <= b; ++i) {
    const double u = (double(i) - mid) / half;
    q0 += u * u;
    s0 += f[i];
    s1 += u * f[i];
  }
  const double mean_square = q0 / n;
  for (size_t i = a; i <= b; ++i) {
    const double u = (double(i) - mid) / half, w = u * u - mean_square;
    s2 += w * f[i];
    q2 += w * w;
  }
  const double c1 = s1 / q0, c2 = s2 / q2, c0 = s0 / n - c2 * mean_square;
  if (c2 < 0 && std::abs(c1 / (2 * c2)) <= 1) {
    p.value = c0 - c1 * c1 / (4 * c2);
    p.at = size_t(std::lround(mid - half * c1 / (2 * c2)));
    p.error = 1.5 * noise / std::sqrt(n);
  }
  return p;
}

}  // namespace

std::optional<Damage> damage_of(const std::vector<double>& at, const std::vector<double>& force, double noise) {
  constexpr double kSmooth = 0.01;             // of the peak: noise left in the means must not look like a fall
  constexpr double kFrom = 0.1, kDrop = 0.05;  // of the largest: a fall this deep, from at least this high
  constexpr double kSlow = 0.025;  // of the contact: an undamaged plate also falls from its peak, only slowly
  if (force.size() < 8) return std::nullopt;
  const double peak = *std::max_element(force.begin(), force.end());
  // Means over so many nodes that three deviations of the noise stay below that.
  const double wanted = noise > 0 ? std::pow(3 * noise / (kSmooth * peak), 2) : 0;
  const size_t half = size_t(std::min(wanted / 2, double(force.size()) / 100));
  const Means means(force);
  std::vector<double> y(force.size());
  for (size_t i = 0; i < y.size(); ++i) y[i] = half > 0 ? means.around(i, half) : force[i];
  const double top = *std::max_element(y.begin(), y.end());
  size_t high = 0;
  for (size_t i = 1; i < y.size(); ++i) {
    if (y[i] > y[high]) {
      high = i;
      continue;
    }
    if (y[high] < kFrom * top || y[high] - y[i] < kDrop * top) continue;
    const double length = at.back() - at.front();
    if (y[high] >= top && at[i] - at[high] > kSlow * length) return std::nullopt;
    return Damage{high, y[high]};
  }
  return std::nullopt;
}

bool rings(const std::vector<double>& at, const std::vector<double>& force) {
  constexpr double kFall = 0.03, kBeat = 0.15;  // of the peak; of the distance between falls
  constexpr size_t kFalls = 5;
  if (force.empty()) return false;
  const double top = *std::max_element(force.begin(), force.end());
  std::vector<double> falls;
  double high = force[0], low = force[0], high_at = at[0];
  for (size_t i = 1; i < force.size(); ++i) {
    if (force[i] > high) {
      if (high - low > kFall * top) falls.push_back(high_at);
      high = low = force[i];
      high_at = at[i];
    }
    low = std::min(low, force[i]);
  }
  if (falls.size() < kFalls) return false;
  std::vector<double> apart;
  for (size_t i = 1; i < falls.size(); ++i) apart.push_back(falls[i] - falls[i - 1]);
  std::vector<double> sorted = apart;
  std::nth_element(sorted.begin(), sorted.begin() + long(sorted.size() / 2), sorted.end());
  const double beat = sorted[sorted.size() / 2];
  const auto even =
      std::count_if(apart.begin(), apart.end(), [&](double d) { return std::abs(d - beat) <= kBeat * beat; });
  return 2 * size_t(even) > apart.size();
}

Contact contact_of(const std::vector<double>& time, const std::vector<double>& force, double later) {
  Contact c;
  const size_t n = force.size();
  if (n < 8 || time.size() != n || !(time[n - 1] > time[0])) return c;
  c.rate = double(n - 1) / (time[n - 1] - time[0]);
  const Means means(force);
  const double noise = noise_of_bent(force, 0, std::min<size_t>(n, 100000));
  const Peak top = peak_of(force, means, noise);
  if (!(top.value > 0)) return c;
  c.peak = top.value;
  c.peak_error = top.error;
  c.noise = noise;
  // A force that is there with the first sample, well above any offset that is left: the trigger came too late.
  constexpr double kThere = 0.05;
  c.late = means.around(0, std::min<size_t>(2, n / 4)) > kThere * top.value && top.at > 0;
  const double foot = kFoot * top.value;
  // Means over so many samples that noise does not cross the foot by itself, at most a fiftieth of the way to the peak.
  const double wanted = std::pow(5 * noise / foot, 2) / 2;
  const size_t half = 5 * noise > foot ? size_t(std::min(wanted, double(top.at) / 50)) : 0;
  auto level = [&](size_t i) { return half > 0 ? means.around(i, half) : force[i]; };
  size_t first = 0;
  while (first < top.at && !(level(first) >= foot && level(std::min(first + 1, n - 1)) >= foot &&
                             level(std::min(first + 2, n - 1)) >= foot))
    ++first;
  // The end: below the foot for a twentieth of the way from the peak; a ringing plate lets go for less.
  size_t last = n - 1, low = 0;
  bool below = false;
  for (size_t i = top.at; i < n; ++i) {
    if (level(i) >= foot) {
      below = false;
    } else if (!below) {
      below = true;
      low = i;
    }
    if (below && i - low >= 2 && (i - low) * 20 >= i - first) {
      last = low;
      c.ended = true;
      break;
    }
  }
  if (!c.ended && below) last = low, c.ended = true;  // the record ends with the contact
  auto crossing = [&](size_t i) {                     // between i − 1 and i
    if (i == 0) return time[0];
    const double a = level(i - 1), b = level(i);
    return a == b ? time[i] : time[i - 1] + (time[i] - time[i - 1]) * std::clamp((foot - a) / (b - a), 0.0, 1.0);
  };
  const double begins = first > 0 ? crossing(first) : time[0], stop = c.ended ? crossing(last) : time[last];
  // The striker touches before the force reaches its foot, and travels meanwhile: back along the rise from 1 to 4 % of
  // the peak, or from where it stands clear of the noise to four times that. A mean over many samples rounds the place
  // of the touch: then the rise is read higher up, from 6 to 24 %.
  const double calm = noise / std::sqrt(2.0 * double(half) + 1),
               low_level = std::max({foot, 6 * calm, half > 3 ? 6 * foot : 0.0});
  size_t a = first;
  while (a < top.at && level(a) < low_level) ++a;
  size_t b = a;
  while (b < top.at && level(b) < 4 * low_level) ++b;
  const double slope = b > a && time[b] > time[a] ? (level(b) - level(a)) / (time[b] - time[a]) : 0;
  const double touch = slope > 0 ? time[a] - level(a) / slope : begins;
  const double found = std::clamp(touch, time[0], time[top.at]);
  // A contact has not begun before the record, nor where the plate carries a load already: what came before would be
  // missing from speed and energy without a word.
  const auto loaded = [&](double moment) {
    const size_t i = size_t(std::lower_bound(time.begin(), time.begin() + long(top.at), moment) - time.begin());
    return level(i) > kThere * top.value;
  };
  c.outside = later != 0 &&
              (!(found + later >= time[0] && found + later < time[top.at]) || (later > 0 && loaded(found + later)));
  c.later = c.outside ? 0 : later;
  const double start = found + c.later;
  c.foot = std::max(0.0, (half > 0 && slope > 0 ? start + foot / slope : begins) - start);
  c.touch_error = slope > 0 ? calm * 1.5 / slope : 0;
  first =
      size_t(std::lower_bound(time.begin(), time.begin() + long(c.later > 0 ? top.at : first), start) - time.begin());
  c.peak_at = time[top.at] - start;
  const size_t stride = std::max<size_t>(1, (last - first) / kNodes);
  double impulse = 0, drive = 0, t = 0, f = c.foot > 0 ? 0 : std::max(0.0, force[first]);
  auto node = [&](double at, double value) {
    c.time.push_back(at);
    c.force.push_back(value);
    c.impulse.push_back(impulse);
    c.drive.push_back(drive);
  };
  node(0, f);
  auto go = [&](double to, double value) {
    const double dt = to - t, before = impulse;
    impulse += 0.5 * (f + value) * dt;
    // Exact for a force that is straight between its samples.
    drive += before * dt + (2 * f + value) * dt * dt / 6;
    t = to;
    f = value;
  };
  for (size_t i = first; i < last; ++i) {
    if (time[i] - start <= t) continue;
    go(time[i] - start, force[i]);
    if ((i - first) % stride == 0 || i == top.at)
      node(t, i == top.at || stride == 1 ? force[i] : means.around(i, stride / 2));
  }
  if (stop - start > t) {
    go(stop - start, c.ended ? foot : force[last]);
    node(t, f);
  }
  // Nodes that are means carry less noise.
  const double node_noise = noise / std::sqrt(double(stride));
  c.ringing = rings(c.time, c.force);
  if (const auto k = damage_of(c.time, c.force, node_noise); k && !c.ringing) {
    c.damage = k->force;
    c.damage_at = c.time[k->at];
    // The crack came between two nodes: the rise over several of them says how far the force went on at most.
    constexpr size_t kBefore = 8;
    if (k->at >= kBefore) c.damage_step = std::max(0.0, c.force[k->at] - c.force[k->at - kBefore]) / double(kBefore);
  }
  for (size_t i = last + 1; c.ended && i < n; ++i) c.second = std::max(c.second, level(i));
  return c;
}

Motion motion_of(const Contact& c, double mass, double speed, double force_scale, double force_zero) {
  Motion m;
  const double per_mass = 1e3 / mass;  // N/kg as mm/s²
  for (size_t i = 0; i < c.time.size(); ++i) {
    const double t = c.time[i];
    const double push = force_scale * c.impulse[i] + force_zero * t,
                 drive = force_scale * c.drive[i] + 0.5 * force_zero * t * t;
    const double v = speed + kGravity * t - per_mass * push;
    const double d = speed * t + 0.5 * kGravity * t * t - per_mass * drive;
    m.speed.push_back(v);
    m.deflection.push_back(d);
    m.energy.push_back(0.5e-6 * mass * (speed * speed - v * v) + 1e-6 * mass * kGravity * d);
  }
  return m;
}

}  // namespace fortitor::drop
