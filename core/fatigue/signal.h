// Measured signals that are too long for the memory: files of samples at a rate, read in stretches. Values leave it in
// microstrain (or whatever `scale` makes of them); what is missing is NaN.
#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor::fatigue {

/// One week (or any length): files in order, as one signal.
struct SignalSpec {
  std::vector<std::string> files;
  std::string format = {};              ///< "csv", "f32", "f64" (little-endian); empty: by the name's ending
  double rate = 0;                      ///< Hz, > 0; 0: from the time column of a CSV
  double scale = 1;                     ///< microstrain a unit of the file
  std::string column = {};              ///< of a CSV: its name, or its number from 1; empty: the last that is no time
  std::optional<double> sentinel = {};  ///< value that stands for "nothing measured", before scaling
};

/// Told the share that is done, 0 … 1; false stops the work.
using Progress = std::function<bool(double)>;

class Signal {
 public:
  virtual ~Signal() = default;
  virtual size_t size() const = 0;
  virtual double rate() const = 0;
  /// Samples [from, from + count) scaled, NaN where nothing was measured. Any number of threads may read. Errors name
  /// the file that could not be read.
  virtual Outcome<Done> read(size_t from, size_t count, double* out) const = 0;
};

/// Opens a signal. A CSV is taken in once: it stays in memory while it is short and goes to a nameless temporary file
/// when it is long. A time column shows where time is missing: that stretch becomes a gap. Errors: no such file, no
/// number of whole samples, no such column, no rate, time that runs backwards, no room for a long CSV.
Outcome<std::shared_ptr<const Signal>> open_signal(const SignalSpec& spec, const Progress& progress = {});

/// A signal in memory, for tests and short histories.
std::shared_ptr<const Signal> signal_of(std::vector<double> samples, double rate);

}  // namespace fortitor::fatigue
