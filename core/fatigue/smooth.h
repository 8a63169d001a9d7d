// Zero-phase low-pass: a Butterworth filter of order 4, run forward and backward.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

namespace fortitor::fatigue {

class LowPass {
 public:
  /// `cut` and `rate` in Hz, 0 < cut < rate/2 (bilinear transform with its frequency prewarped; Oppenheim and Schafer,
  /// Discrete-Time Signal Processing, section 7). A cut of half the rate or more passes everything.
  LowPass(double cut, double rate);
  bool passes_all() const { return all_; }
  /// Samples after which what a run began with has died away to 10⁻¹² of it.
  size_t memory() const { return memory_; }
  /// Samples by which a stretch is carried on beyond both ends, mirrored in its end point.
  static constexpr size_t kEdge = 15;

  /// Forward and backward over a whole stretch, in place. The ends are carried on by odd reflection and the filter
  /// begins in the steady state of its first sample (Gustafsson 1996 discusses the choice; this is the usual one).
  void both_ways(std::vector<double>& x) const;
  /// The same for a part of a longer stretch that lies in x: whether its ends are those of the stretch is said; an end
  /// that is not must be followed by memory() samples that are thrown away.
  void both_ways(std::vector<double>& x, bool begins, bool ends) const;

 private:
  struct Section {
    double b0, a1, a2;  ///< b1 = 2·b0, b2 = b0
  };
  void run(double* x, std::ptrdiff_t count, std::ptrdiff_t step) const;
  std::array<Section, 2> sections_{};
  size_t memory_ = 0;
  bool all_ = false;
};

}  // namespace fortitor::fatigue
