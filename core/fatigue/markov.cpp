#include "core/fatigue/markov.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <random>

namespace fortitor::fatigue {

int Levels::of(double value) const {
  return std::clamp(int(std::floor((value - from) / width)), 0, n - 1);
}

Levels levels_over(double least, double largest, int n) {
  n = std::clamp(n, 2, 1024);
  const double span = largest > least ? largest - least : 1;
  return {least, span * (1 + 1e-9) / n, n};
}

double Transitions::total() const {
  return std::accumulate(counts.begin(), counts.end(), 0.0);
}

void Transitions::add(const std::vector<double>& points) {
  // Points on one level are no transition; what goes on in the same direction is one.
  std::vector<int> path;
  auto take = [&](int level) {
    if (!path.empty() && path.back() == level) return;
    if (path.size() >= 2 && (path.back() > path[path.size() - 2]) == (level > path.back()))
      path.back() = level;
    else
      path.push_back(level);
  };
  for (double v : points) take(levels.of(v));
  if (path.size() < 2) return;
  // Back to where it began: through the first turn where end and beginning go on in one direction.
  take(path[0]);
  take(path[1]);
  if (path.size() >= 2 && path.back() == path[1] && path[path.size() - 2] == path[0]) path.pop_back();
  for (size_t i = 0; i + 1 < path.size(); ++i) at(path[i], path[i + 1]) += 1;
}

void Transitions::add(const Transitions& other, double weight) {
  for (size_t i = 0; i < counts.size(); ++i) counts[i] += weight * other.counts[i];
}

namespace {

// Where the chain goes from a level, upward and downward.
class Exits {
 public:
  explicit Exits(const Transitions& chain) : chain_(chain), n_(chain.levels.n), sums_(size_t(n_) * size_t(n_)) {
    for (int i = 0; i < n_; ++i) {
      double down = 0, up = 0;
      for (int j = 0; j < i; ++j) sums_[index(i, j)] = down += chain.at(i, j);
      for (int j = i + 1; j < n_; ++j) sums_[index(i, j)] = up += chain.at(i, j);
    }
  }
  double weight(int i, bool up) const {
    if (up) return i + 1 < n_ ? sums_[index(i, n_ - 1)] : 0;
    return i > 0 ? sums_[index(i, i - 1)] : 0;
  }
  // `u` in [0, 1).
  int next(int i, bool up, double u) const {
    const auto row = sums_.begin() + std::ptrdiff_t(index(i, 0));
    const auto first = row + (up ? i + 1 : 0), last = row + (up ? n_ : i);
    return int(std::upper_bound(first, last, u * weight(i, up)) - row);
  }
  double count(int i, int j) const { return chain_.at(i, j); }
  int size() const { return n_; }

 private:
  size_t index(int i, int j) const { return size_t(i) * size_t(n_) + size_t(j); }
  const Transitions& chain_;
  int n_;
  std::vector<double> sums_;
};

class Dice {
 public:
  explicit Dice(uint64_t seed) : random_(seed) {}
  // 53 bits, the same on every standard library.
  double operator()() { return double(random_() >> 11) * 0x1.0p-53; }

 private:
  std::mt19937_64 random_;
};

}  // namespace

Outcome<std::vector<uint16_t>> walk(const Transitions& chain, size_t length, uint64_t seed) {
  const Exits exits(chain);
  const int n = exits.size();
  length = std::max<size_t>(2, length + length % 2);
  // It begins at a valley, as often as that valley comes.
  std::vector<double> valleys(size_t(n), 0.0);
  double all = 0;
  for (int i = 0; i < n; ++i) valleys[size_t(i)] = all += exits.weight(i, true);
  if (!(all > 0)) return InputError{"The chain is empty: no turning point is left after the cut.", {}};
  Dice dice(seed);
  const int start = int(std::upper_bound(valleys.begin(), valleys.end(), dice() * all) - valleys.begin());
  std::vector<uint16_t> path(length + 1);
  path[0] = uint16_t(start);
  // From valley v by a peak back to the start.
  std::vector<double> ways(size_t(n), 0.0);
  auto closing = [&](int v) {
    double sum = 0;
    for (int j = v + 1; j < n; ++j)
      sum += exits.count(v, j) *
             (j > start && exits.weight(j, false) > 0 ? exits.count(j, start) / exits.weight(j, false) : 0);
    return sum;
  };
  for (int i = 0; i < n; ++i) ways[size_t(i)] = closing(i);
  auto go = [&](size_t from, size_t to) {
    for (size_t k = from; k < to; ++k) {
      const bool up = k % 2 == 0;
      if (!(exits.weight(path[k], up) > 0)) return false;
      path[k + 1] = uint16_t(exits.next(path[k], up, dice()));
    }
    return true;
  };
  if (!go(0, length - 2)) return InputError{"The chain leads to a level that nothing leaves.", {}};
  // The end is drawn again, from farther and farther back, until the start can be reached.
  size_t back = 2;
  for (int tries = 0; !(ways[path[length - 2]] > 0); ++tries) {
    if (tries >= 20000) return InputError{"From where the walk ends nothing leads back to where it began.", {}};
    if (tries % 50 == 49) back *= 2;
    const size_t from = length - 2 > back ? length - 2 - back : 0;
    if (!go(from, length - 2)) return InputError{"The chain leads to a level that nothing leaves.", {}};
  }
  const int v = path[length - 2];
  double u = dice() * ways[size_t(v)];
  int peak = -1;
  for (int j = std::max(v, start) + 1; j < n && u >= 0; ++j) {
    const double w =
        exits.weight(j, false) > 0 ? exits.count(v, j) * exits.count(j, start) / exits.weight(j, false) : 0;
    if (!(w > 0)) continue;
    peak = j;
    u -= w;
  }
  path[length - 1] = uint16_t(peak);
  path[length] = uint16_t(start);
  return path;
}

std::vector<double> values_of(const std::vector<uint16_t>& path, const Levels& levels) {
  std::vector<double> out;
  out.reserve(path.size());
  for (uint16_t level : path) out.push_back(levels.middle(level));
  return out;
}

}  // namespace fortitor::fatigue
