#include "core/fatigue/level.h"

#include <algorithm>
#include <cmath>

namespace fortitor::fatigue {

double Drift::operator()(double s) const {
  if (at.empty()) return 0;
  if (at.size() == 1) return value[0];
  size_t k = size_t(std::upper_bound(at.begin(), at.end(), s) - at.begin());
  k = std::clamp<size_t>(k, 1, at.size() - 1);
  return value[k - 1] + (value[k] - value[k - 1]) * (s - at[k - 1]) / (at[k] - at[k - 1]);
}

void Drift::take_off(double* x, size_t count, size_t from) const {
  if (at.empty()) return;
  for (size_t i = 0; i < count;) {
    const double s = double(from + i);
    size_t k = size_t(std::upper_bound(at.begin(), at.end(), s) - at.begin());
    const size_t piece = std::clamp<size_t>(k, 1, std::max<size_t>(1, at.size() - 1));
    const double end = k < at.size() ? at[k] : HUGE_VAL;
    size_t until = count;
    if (end < double(from + count)) until = std::max(i + 1, size_t(std::ceil(end - double(from))));
    const double slope = at.size() > 1 ? (value[piece] - value[piece - 1]) / (at[piece] - at[piece - 1]) : 0;
    const double base = at.size() > 1 ? value[piece - 1] + slope * (double(from) - at[piece - 1]) : value[0];
    for (; i < until; ++i) x[i] -= base + slope * double(i);
  }
}

LevelSums level_sums(const double* x, size_t count, size_t length, bool with_median) {
  LevelSums s;
  const double step = 1.0 / double(length);
  // Four sums side by side: one chain of additions would wait for itself.
  double sum[4] = {}, moment[4] = {}, squares[4] = {};
  const size_t whole = count / 4 * 4;
  for (size_t i = 0; i < whole; i += 4)
    for (size_t k = 0; k < 4; ++k) {
      const double v = x[i + k];
      sum[k] += v;
      moment[k] += v * double(i + k);
      squares[k] += v * v;
    }
  s.x = sum[0] + sum[1] + sum[2] + sum[3];
  s.tx = moment[0] + moment[1] + moment[2] + moment[3];
  s.squares = squares[0] + squares[1] + squares[2] + squares[3];
  for (size_t i = whole; i < count; ++i) s.x += x[i], s.tx += x[i] * double(i), s.squares += x[i] * x[i];
  s.tx *= step;
  const double n = double(count);
  s.n = n;
  s.t = n * (n - 1) / 2 * step;
  s.tt = n * (n - 1) * (2 * n - 1) / 6 * step * step;
  if (std::isnan(s.x)) {  // gaps: one sample after the other
    s = {};
    for (size_t i = 0; i < count; ++i) {
      if (std::isnan(x[i])) continue;
      const double t = double(i) * step;
      s.n += 1;
      s.t += t;
      s.tt += t * t;
      s.x += x[i];
      s.tx += t * x[i];
      s.squares += x[i] * x[i];
    }
  }
  if (with_median && s.n > 0) {
    std::vector<double> sorted;
    sorted.reserve(count);
    for (size_t i = 0; i < count; ++i)
      if (!std::isnan(x[i])) sorted.push_back(x[i]);
    const auto middle = sorted.begin() + std::ptrdiff_t(sorted.size() / 2);
    std::nth_element(sorted.begin(), middle, sorted.end());
    s.median = *middle;
    if (sorted.size() % 2 == 0) s.median = (s.median + *std::max_element(sorted.begin(), middle)) / 2;
  }
  return s;
}

Drift level_by_squares(const std::vector<LevelSums>& blocks, size_t block, size_t size) {
  Drift d;
  const size_t n = blocks.size();
  if (n == 0 || size == 0) return d;
  std::vector<double> main(n + 1), off(n + 1), right(n + 1);
  double all = 0;
  for (size_t b = 0; b < n; ++b) {
    const LevelSums& s = blocks[b];
    // Of the hats at both ends of the block: 1 − t and t.
    main[b] += s.n - 2 * s.t + s.tt;
    off[b] += s.t - s.tt;
    main[b + 1] += s.tt;
    right[b] += s.x - s.tx;
    right[b + 1] += s.tx;
    all += s.n;
  }
  if (!(all > 0)) return d;
  // Knots that hang in the air are tied to their neighbours, too weakly to be felt where there are samples.
  const double tie = 1e-12 * all / double(n);
  for (size_t b = 0; b < n; ++b) {
    const double weak = blocks[b].n < 2 ? 1e-3 : tie;
    main[b] += weak;
    main[b + 1] += weak;
    off[b] -= weak;
  }
  for (size_t k = 1; k <= n; ++k) {
    const double f = off[k - 1] / main[k - 1];
    main[k] -= f * off[k - 1];
    right[k] -= f * right[k - 1];
  }
  d.value.resize(n + 1);
  d.value[n] = right[n] / main[n];
  for (size_t k = n; k-- > 0;) d.value[k] = (right[k] - off[k] * d.value[k + 1]) / main[k];
  // t was counted by the length of a whole block in the last one too.
  for (size_t k = 0; k <= n; ++k) d.at.push_back(double(k * block));
  return d;
}

Drift level_by_medians(const std::vector<LevelSums>& blocks, size_t block, size_t size) {
  Drift d;
  for (size_t b = 0; b < blocks.size(); ++b) {
    if (!(blocks[b].n > 0)) continue;
    d.at.push_back((double(b * block) + double(std::min(size, (b + 1) * block))) / 2);
    d.value.push_back(blocks[b].median);
  }
  return d;
}

}  // namespace fortitor::fatigue
