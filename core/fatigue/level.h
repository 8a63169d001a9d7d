// The slow drift of a long signal (temperature, creep of the gauge): a continuous piecewise-linear function.
#pragma once

#include <cstddef>
#include <vector>

namespace fortitor::fatigue {

/// Straight pieces between nodes; beyond the ends the outer pieces go on. Without nodes it is zero.
struct Drift {
  std::vector<double> at;     ///< samples, ascending
  std::vector<double> value;  ///< in the unit of the signal
  double operator()(double sample) const;
  /// Takes the drift off `x`, which begins at sample `from`.
  void take_off(double* x, size_t count, size_t from) const;
};

/// Sums of one block of samples for the least squares; blocks are independent of one another.
struct LevelSums {
  double n = 0, t = 0, tt = 0, x = 0, tx = 0;  ///< t = (i − first)/length of the block
  double median = 0;                           ///< only where it was asked for
  double squares = 0;                          ///< Σx²
};

/// Sums over the samples of a block; NaN are left out. `length` > 0: samples that t = 1 stands for.
LevelSums level_sums(const double* x, size_t count, size_t length, bool with_median);

/// Least squares over all samples of a continuous piecewise-linear function with knots at the block borders: knot k at
/// sample k·block, the last at `size`. The normal equations are tridiagonal (hat functions; de Boor, A Practical Guide
/// to Splines, order 2). A knot that no sample holds is carried by its neighbours.
Drift level_by_squares(const std::vector<LevelSums>& blocks, size_t block, size_t size);

/// The same through the medians of the blocks, each at the middle of its block: heavy traffic does not pull it.
Drift level_by_medians(const std::vector<LevelSums>& blocks, size_t block, size_t size);

}  // namespace fortitor::fatigue
