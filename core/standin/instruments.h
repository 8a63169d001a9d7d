// Stand-in instruments: what a true value looks like through a dial, an indicator, a caliper.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <random>
#include <string>
#include <vector>

namespace fortitor::standin {

/// Text of a display: value rounded to its step, with unit.
std::string shown(double value, double step, const std::string& unit);

/// Dial gauge: divisions, a little friction, zero set by hand.
class DialGauge {
 public:
  DialGauge(double division, uint64_t seed) : division_(division), random_(seed * 7919 + 3) {}
  void zero(double travel) { zero_ = travel; }
  /// Reading in mm as text; `slip` is added once (a finger on the plunger, a misread turn).
  std::string read(double travel, double slip = 0);

 private:
  double division_, zero_ = 0;
  std::mt19937_64 random_;
  std::normal_distribution<double> noise_;
};

/// Strain indicator with four channels: balance, slow drift, noise of a count, an open channel.
class StrainIndicator {
 public:
  explicit StrainIndicator(uint64_t seed);
  void balance(size_t channel, double strain) { zero_[channel] = strain + wander_[channel]; }
  /// Drift of a channel per reading, strain.
  void set_drift(size_t channel, double per_reading) { drift_[channel] = per_reading; }
  void open(size_t channel) { open_[channel] = true; }
  /// Reading in µε as text; empty when the channel is open.
  std::optional<std::string> read(size_t channel, double strain);

 private:
  std::array<double, 4> zero_{}, wander_{}, drift_{};
  std::array<bool, 4> open_{};
  std::mt19937_64 random_;
  std::normal_distribution<double> noise_;
};

/// A piece as it was cut is a count thinner at one end than at the other; only a drawing is the same everywhere.
void taper(std::vector<std::string>& readings, double size, double step);

/// Several caliper readings of a size with the scatter of piece and hand, mm.
std::vector<std::string> caliper(double size, double scatter, double step, int wanted, uint64_t seed);

}  // namespace fortitor::standin
