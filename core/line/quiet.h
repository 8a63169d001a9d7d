// How far a value moved in the last seconds.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <utility>

namespace fortitor::line {

/// Smallest and largest value of each tenth of a second of the last ten, however often an instrument speaks. Times in s
/// by any clock that does not go back; what is earlier than the newest is taken as of the newest.
class Quiet {
 public:
  static constexpr double kLongest = 10;  ///< s that are remembered

  void put(double at, double value);
  /// Nothing that was before counts any more: the wire broke, or what came was no reading.
  void forget();
  /// Smallest and largest of the last `window` s (at most kLongest) before `now`. False when that whole time was not
  /// heard: nothing came for `silence` s within it, or the first came later than it began.
  bool over(double now, double window, double silence, double& low, double& high) const;

 private:
  static constexpr double kTenth = 0.1;
  struct Part {
    int64_t tenth = -1;
    double low = 0, high = 0;
  };
  std::array<Part, 104> parts_ = {};
  double first_ = 0, last_ = 0;
  bool any_ = false;
};

}  // namespace fortitor::line
