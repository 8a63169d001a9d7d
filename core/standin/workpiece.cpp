#include "core/standin/workpiece.h"

#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <cstdint>
#include <stdexcept>

namespace fortitor::standin {

EnvelopePiece::EnvelopePiece(std::vector<Node> nodes, double length, bool breaks)
    : nodes_(std::move(nodes)), length_(length), breaks_(breaks) {
  if (nodes_.size() < 2 || !(length_ > 0)) throw std::invalid_argument("envelope piece");
  for (size_t i = 1; i < nodes_.size(); ++i)
    if (!(nodes_[i].travel > nodes_[i - 1].travel)) throw std::invalid_argument("envelope piece: travel must rise");
  step_ = std::min(2e-5 * length_, nodes_.back().travel / 4000);
}

double EnvelopePiece::envelope(double x) const {
  const auto next =
      std::upper_bound(nodes_.begin(), nodes_.end(), x, [](double v, const Node& n) { return v < n.travel; });
  if (next == nodes_.begin()) return 0;
  const Node& a = *(next - 1);
  if (next == nodes_.end()) {  // past the end: on with the last slope
    const Node& b = nodes_[nodes_.size() - 2];
    return a.force + (x - a.travel) * (a.force - b.force) / (a.travel - b.travel);
  }
  return a.force + (x - a.travel) * (next->force - a.force) / (next->travel - a.travel);
}

double EnvelopePiece::stretch(double travel, double k, double seating) {
  if (broken_) return 0;
  auto total = [&](double x, double f) { return x + f / k + seating * (1 - std::exp(-f / 200)); };
  const double f0 = envelope(at_);
  if (total(at_, f0) >= travel) {  // unloading: along the elastic line of the start of the curve
    const double slope = nodes_[1].force / nodes_[1].travel;
    force_ = std::max(0.0, f0 - (total(at_, f0) - travel) / (1 / slope + 1 / k));
    return force_;
  }
  // Small steps follow the curve through its falls, where the frame lets it snap.
  while (total(at_, envelope(at_)) < travel) {
    at_ += step_;
    if (breaks_ && at_ >= nodes_.back().travel) {
      broken_ = true;
      force_ = 0;
      return 0;
    }
  }
  // The step went past the travel: back to it (Alefeld, Potra and Shi 1995), so that samples closer than a step stay
  // smooth.
  std::uintmax_t tries = 60;
  at_ = boost::math::tools::toms748_solve([&](double x) { return total(x, envelope(x)) - travel; }, at_ - step_, at_,
                                          boost::math::tools::eps_tolerance<double>(50), tries)
            .second;
  force_ = envelope(at_);
  return force_;
}

}  // namespace fortitor::standin
