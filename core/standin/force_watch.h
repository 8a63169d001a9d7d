// What a force that is only listened to says of a run: that it moves, that the piece broke, that it was unloaded.
#pragma once

#include <deque>
#include <optional>
#include <utility>
#include <vector>

namespace fortitor {

/// A force as it stands before it moves.
struct Standing {
  double zero = 0;       ///< what it says unloaded
  double threshold = 0;  ///< beyond which it moves
};
/// Whether the newest of these readings moved off what the older ones stand at, and what that is; nothing while it
/// stands, while too few are known, or after one without a number. `resolution`: step of the display's last digit, in
/// the unit of the force. The noise is told by the steps from reading to reading, which a force that moves already does
/// not hide (half the median step of a normal is 0.954 of its standard deviation; von Neumann 1941 for the idea).
std::optional<Standing> movement(const std::vector<double>& force, double resolution);

/// Watches a force that moves for what ends a run.
class EndWatch {
 public:
  enum class Says { goes_on, broke, over_broken, over_unloaded };
  explicit EndWatch(const Standing& standing = {}) : standing_(standing) {}
  /// `t` in s. A break is a fall within a moment of the middle one of three readings; some readings later it is over.
  Says look(double t, double force);

 private:
  bool stands_out() const;
  Standing standing_;
  double peak_ = 0;
  std::pair<double, double> last_;  ///< the two before
  size_t seen_ = 0;
  std::deque<double> off_line_;  ///< how far readings stand off the line of the two before them
  std::deque<std::pair<double, double>> recent_;
  std::optional<double> broken_at_, resting_since_;
};

}  // namespace fortitor
