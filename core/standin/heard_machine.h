// A real machine as it is heard on its wires: what it sends becomes the samples of a run. It is never driven: its own
// controls, guards and emergency stop stay in charge. Start, break and unloading are found from the data.
#pragma once

#include <deque>
#include <memory>
#include <mutex>

#include "core/line/line.h"
#include "core/record/mapping.h"
#include "core/standin/machine.h"

namespace fortitor {

/// Lines that one thread puts in and another takes out. Keeps nothing while nobody listens, and at most kMost lines.
class LineBox {
 public:
  struct Line {
    std::string text;
    double at = 0;  ///< s, arrival by a clock that all boxes share
  };
  static constexpr size_t kMost = 1 << 20;

  void put(std::string text, double at);
  /// The lines since the last time, in order.
  std::vector<Line> take();
  /// One more who listens, or one less: the next machine may be there before the last has gone.
  void listen(bool on);
  void set_open(bool open, std::string why);
  std::pair<bool, std::string> open() const;

 private:
  mutable std::mutex guard_;
  std::vector<Line> lines_;
  int listeners_ = 0;
  bool open_ = false;
  std::string why_;
};

/// One device of a run: what it is called, what its lines mean, and which channel of the run each of its values is.
struct Ear {
  std::string name;
  line::Format format;
  std::map<std::string, std::string> channels;  ///< channel of the line → channel of the run
  std::shared_ptr<LineBox> box;
};

/// Which value of a device's lines is which channel of a method; empty where none fits. `last`: a reading of it, for
/// units that stand in its lines alone.
std::map<std::string, std::string> heard_channels(const line::Format& format, const Schema& schema,
                                                  const line::Reading* last = nullptr);

/// Nothing unless one of them sends a force or a torque of the method. A channel that two send is taken from the first.
std::unique_ptr<Machine> heard_machine(std::vector<Ear> ears, const Schema& schema);

}  // namespace fortitor
