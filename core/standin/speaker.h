// Stand-ins that speak: instruments and machines as a wire knows them, line by line, each in two forms of our own
// making. What they send is known, and so are their faults.
#pragma once

#include <memory>
#include <set>
#include <string>
#include <vector>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor::standin {

struct SpeakerKind {
  std::string name;     ///< "balance"
  std::string what;     ///< one line for people
  double rate = 10;     ///< lines a second
  bool stream = false;  ///< sends columns without being asked, for a run; else single readings
};
const std::vector<SpeakerKind>& speakers();
/// What can go wrong on a wire: "half-lines", "garbage", "wrong-unit", "silent", "counter-jump", "unplugged", "fast".
const std::vector<std::string>& speaker_faults();

struct SpeakerOptions {
  std::string name;
  int form = 0;  ///< 0 or 1
  uint64_t seed = 1;
  std::set<std::string> faults = {};
  double rest = 0;  ///< s that a frame stands still before it pulls
};

/// One device. The same options send the same lines.
class Speaker {
 public:
  virtual ~Speaker() = default;
  /// What it sends first; empty: nothing.
  virtual std::string head() const { return {}; }
  /// Line `n` with its end; empty when it sends nothing at that moment. After the last line `done`.
  virtual std::string line(size_t n) = 0;
  virtual bool done(size_t) const { return false; }
  double rate() const { return rate_; }
  /// What it measures, as it measures it, for tests: channel by channel, in the units it sends.
  virtual SamplesPtr truth() const { return nullptr; }

 protected:
  double rate_ = 10;
};

/// Errors: no such device, form or fault.
Outcome<std::unique_ptr<Speaker>> make_speaker(const SpeakerOptions& options);

}  // namespace fortitor::standin
