// What the stand-in frame can hold: anything that carries a force when its ends are moved.
#pragma once

#include <functional>
#include <memory>
#include <vector>

namespace fortitor::standin {

class Workpiece {
 public:
  virtual ~Workpiece() = default;
  /// Gives piece, frame and seating together the crosshead travel `travel`, mm. Returns the force, N.
  virtual double stretch(double travel, double frame_stiffness, double seating) = 0;
  virtual double force() const = 0;
  virtual double strain() const = 0;  ///< of the length between the grips, without a neck
  virtual bool broken() const = 0;
  /// Stretch of a gauge of `length` in the middle, mm.
  virtual double gauge_extension(double length) const = 0;
  virtual double neck_extension() const { return 0; }  ///< mm
  virtual double neck_share() const { return 0; }
  virtual double neck_place() const { return 0.5; }
};

/// A piece given by its curve of force over travel: what yields, draws, folds or bursts. Beyond the last
/// node it is broken, unless it only grows stiffer (a crushed block).
class EnvelopePiece : public Workpiece {
 public:
  struct Node {
    double travel, force;  ///< mm, N; travel strictly rising
  };
  /// `length` mm, of which strain is counted. `breaks`: the last node is a break.
  EnvelopePiece(std::vector<Node> nodes, double length, bool breaks);

  double stretch(double travel, double frame_stiffness, double seating) override;
  double force() const override { return force_; }
  double strain() const override { return at_ / length_; }
  bool broken() const override { return broken_; }
  double gauge_extension(double length) const override { return strain() * length; }
  /// Force of the curve at a travel.
  double envelope(double travel) const;

 private:
  std::vector<Node> nodes_;
  double length_;
  bool breaks_, broken_ = false;
  double at_ = 0, force_ = 0, step_;
};

}  // namespace fortitor::standin
