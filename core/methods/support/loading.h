// A run with channels as a loading curve: zero taken off, peak, break. And the judgements about zero, cell and samples
// that every method shares.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/evaluation/evaluation.h"
#include "core/uncertainty/budget.h"

namespace fortitor {

/// Relative error that is taken for a displacement that nothing is known of: class 1 of ISO 9513.
inline constexpr double kTravelTaken = 0.01;

struct Loading {
  Signals s;        ///< force with its zero taken off unless it is kept as preload
  ForceZero zero;   ///< of the quiet stretch before motion
  size_t peak = 0;  ///< index of the largest force
  std::optional<BreakPoint> fracture;
  size_t end = 0;  ///< one past the last loaded sample
  bool empty() const { return s.size() < 3; }
  double peak_force() const { return empty() ? 0 : s.force[peak]; }
};

/// What is known of an offset before motion, by the events of the run: what happened decides what the figures use until
/// somebody says otherwise (ISO 6892-1, 10.2: the zero, once set, is not changed during the test).
enum class Offset {
  unknown,  ///< no event says: shifted, and it wants a word
  grip,     ///< the force was zeroed with one grip open and the second closed afterwards: force on the piece, kept
  free,     ///< zeroed, and no grip closed since: an error of the zero, shifted
};
Offset offset_of(const TestRecord& record);
/// Whether the offset before motion stays in the force: "settings.zero", else what happened.
bool keeps_zero(const TestRecord& record);

/// Cleans a run. `travel`: channel names of which the first present is taken as Signals::crosshead.
/// The sign of force and travel is turned so that the test's own direction is positive.
Loading loading_of(const TestRecord& record, const std::vector<std::string>& travel);

/// An entered stiffness of the frame that the run itself contradicts: it would have given more than the crosshead went.
struct FrameClash {
  double stiffness = 0, force = 0, travel = 0;  ///< N/mm as entered; N and mm of the reading that shows it best
};

/// Facts of a cleaned run that the shared judgements look at.
struct RunFacts {
  ForceZero zero;
  double peak_force = 0;  ///< N
  double area = 0;        ///< mm²; above 0 the sentence can name a stress
  bool sorted = false, sign_flipped = false, clock_coarse = false;
  size_t dropped = 0;
  std::string direction;  ///< what a negative force is used as: "tension"
  std::optional<FrameClash> clash = {};
  std::vector<ChannelFault> faults = {};
};
RunFacts facts_of(const Loading& loading, double area);

/// not-zeroed, no-quiet-start, frame-stiffness, channel-frozen, channel-jump, load-drop (note), noise-high, cell-low,
/// cell-over, sign-flipped, time-unsorted, clock-coarse, samples-dropped. `key`: the result the force leads to.
void run_findings(Evaluation& e, const TestRecord& record, const RunFacts& run, const std::string& key);

/// channel-frozen, channel-jump, load-drop, noise-high of a run whose channels were looked at.
void fault_findings(Evaluation& e, const TestRecord& record, const std::vector<ChannelFault>& faults);

/// What the largest force of a run is unsure by, relative, under "peak": noise lifts the largest of many readings on a
/// round top, and where the piece broke at the maximum it went on rising for up to one reading more. `end`: one past
/// the last loaded sample. Nothing below 10⁻⁵.
void peak_input(const std::vector<double>& force, size_t peak, size_t end, std::vector<UncertainInput>& out);

/// cell-over (void), cell-low: what was reached against the rating of the cell, sampled or keyed.
/// `rating`: path of the rating, in the unit of `reached`.
void cell_findings(Evaluation& e, const TestRecord& record, const std::string& rating, double reached, Dimension d,
                   const std::string& key);

/// The note that a run stopped before a break.
void censored_note(Evaluation& e, const TestRecord& record, const std::string& key);

/// conditioning-short, when a time was stated and less has passed.
void conditioning_finding(Evaluation& e, const TestRecord& record, const std::string& key);

}  // namespace fortitor
