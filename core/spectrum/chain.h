// A spectrum: weeks of strain from their files to counted cycles, with every setting that was chosen on the way. A
// changed setting is computed from the step on that it touches.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/fatigue/chain.h"
#include "core/fatigue/markov.h"
#include "core/fatigue/rainflow.h"
#include "core/fatigue/sn_line.h"

namespace fortitor::spectrum {

/// Everything that is chosen. Strains in microstrain, stresses in MPa.
struct Settings {
  std::vector<fatigue::SignalSpec> weeks;
  std::vector<std::string> names;    ///< of the weeks; may be shorter
  double block = 3600;               ///< s
  std::string level = "squares";     ///< "squares", "quiet", "none"
  double cut = 2;                    ///< Hz; 0: not smoothed
  bool leave_out = false;            ///< spikes and stuck stretches are gaps
  double gate = 0.5;                 ///< µε
  std::string count = "four-point";  ///< or "three-point"
  double p = 0.002;                  ///< share of the cycles that exceed range_p
  double share = 0.25;               ///< of range_p: what is cut
  double modulus = 210000;           ///< MPa
  double category = 71;              ///< MPa, range at 2·10⁶
  double m = 3;                      ///< slope down to the knee at 5·10⁶; then m + 2
  double d = 1;                      ///< damage at failure
  int levels = 64;
  size_t length = 100000;  ///< transitions of the drive
  uint64_t seed = 1;
};

enum class ChainStep { raw, level, smooth, turn, count, cut, chain, drive };
inline constexpr int kSteps = 8;

/// A life line for strain histories: category at 2·10⁶ with slope m, from 5·10⁶ m + 2, nothing below the range at 10⁸.
struct LifeLine {
  double category = 71, m = 3;
  double knee() const;
  double cut_off() const;
  /// 1/N of a stress range; 0 at or below the cut-off unless it is left out.
  double damage(double range, bool with_cut_off) const;
};

/// One week, as far as it is computed.
struct Week {
  std::string name;
  std::shared_ptr<const fatigue::Signal> signal;
  fatigue::Raw raw;
  fatigue::Drift drift;
  fatigue::Smoothed smooth;
  std::vector<fatigue::Extreme> turning;
  std::vector<double> ranges;                     ///< ascending, µε; each counts `weight`
  double weight = 1;                              ///< 0.5 in the three-point school
  double peak_loss = 0;                           ///< NaN without a filter
  std::vector<std::pair<double, double>> losses;  ///< cut in Hz, what it would take off the same swings
  double upward = 0;                              ///< crossings of the mean by the turning points
  double irregularity = 0;
  double rate = 0;         ///< samples a second
  double noise = 0;        ///< standard, of a smoothed sample, µε
  double gate_beyond = 0;  ///< µε, the gate and the noise of a range above it (or 1 %)
  double count_error = 0;  ///< cycles that go when the gate moves there
  // After the cut:
  double cycles = 0, turning_points = 0, range_max = 0, range_p = 0, omission_level = 0, cycles_omitted = 0, damage = 0,
         damage_no_cutoff = 0, damage_omitted = 0, range_equivalent = 0;
  std::vector<double> kept;  ///< turning points that stay after the cut
  fatigue::Transitions transitions;
  /// Range exceeded by the share p of the cycles, µε: straight line between sorted ranges.
  double range_at(double share) const;
  double seconds() const { return signal ? double(raw.samples) / signal->rate() : 0; }
};

/// A drive and how it compares with its source.
struct Drive {
  std::vector<double> values;                                   ///< µε, turning points, closed
  double damage_per_transition = 0, source_per_transition = 0;  ///< without a cut-off
  double irregularity = 0, source_irregularity = 0, range_max = 0;
  std::vector<double> ranges;  ///< ascending
};

/// Scatter of the damage of blocks of one length over their seeds.
struct BlockLength {
  size_t length = 0;
  double mean = 0, least = 0, largest = 0;  ///< damage per transition over that of the source
  int within = 0, of = 0;                   ///< seeds within ± 5 %
};

struct Spectrum {
  Settings settings;
  std::vector<Week> weeks;
  Week together;             ///< all weeks as one: ranges pooled
  fatigue::Transitions sum;  ///< of the weeks
  Drive drive;
  std::vector<BlockLength> study;
  int done = -1;  ///< last step that is computed
  int from = 0;   ///< first step that the last compute() had to do
};

struct ComputeOptions {
  ChainStep until = ChainStep::drive;
  bool study = false;         ///< block length study (a second or two)
  bool losses = true;         ///< of other cuts too, for the picture
  bool keep_extremes = true;  ///< false: smoothing is done again when the gate changes, memory is saved
  fatigue::Workers workers = {};
};

/// Computes what differs from what `now` holds under its own settings. Progress goes from 0 to 1 over all weeks. What
/// could not be computed leaves `now` as far as it came, and is said.
Outcome<Done> compute(Spectrum& now, const Settings& settings, const ComputeOptions& options = {},
                      const fatigue::Progress& progress = {});

/// The block length study: 20 seeds each at 10³ … 10⁶ transitions.
Outcome<std::vector<BlockLength>> study_blocks(const Spectrum& s, size_t longest = 1000000,
                                               const fatigue::Progress& progress = {});
/// The shortest length of which 19 of 20 seeds are within ± 5 % of the source, and every longer one too; 0: none.
size_t shortest_block(const std::vector<BlockLength>& study);

}  // namespace fortitor::spectrum
