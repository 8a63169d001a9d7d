// A sequence of turning points as a chain from level to level, and sequences made from it again.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/outcome.h"

namespace fortitor::fatigue {

/// n levels of one width; a value is its level's middle.
struct Levels {
  double from = 0, width = 1;
  int n = 64;
  int of(double value) const;
  double middle(int level) const { return from + (level + 0.5) * width; }
};
/// Levels that hold every value of [least, largest]; n from 2 to 1024.
Levels levels_over(double least, double largest, int n);

/// How often a turning point at level i is followed by one at level j.
struct Transitions {
  Levels levels;
  std::vector<double> counts;  ///< row by row: counts[i·n + j]
  Transitions() : Transitions(Levels{}) {}
  explicit Transitions(Levels l) : levels(l), counts(size_t(l.n) * size_t(l.n)) {}
  double& at(int i, int j) { return counts[size_t(i) * size_t(levels.n) + size_t(j)]; }
  double at(int i, int j) const { return counts[size_t(i) * size_t(levels.n) + size_t(j)]; }
  double total() const;
  /// Adds a sequence, closed: its end leads back to its beginning, so that every level that is reached is left again.
  void add(const std::vector<double>& points);
  void add(const Transitions& other, double weight = 1);
};

/// A random walk of `length` transitions over the chain: peaks and valleys in turn, ending where it began. The same
/// seed gives the same walk on every machine. `length` is even, from 2. Errors: an empty chain; one from which nothing
/// leads back.
Outcome<std::vector<uint16_t>> walk(const Transitions& chain, size_t length, uint64_t seed);
/// Values of the levels of a walk.
std::vector<double> values_of(const std::vector<uint16_t>& walk, const Levels& levels);

}  // namespace fortitor::fatigue
