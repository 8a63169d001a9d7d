// Physical models of tension specimens for the stand-in frame.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "core/standin/workpiece.h"

namespace fortitor::standin {

/// A metal as the stand-in knows it. Stresses in MPa.
struct Metal {
  std::string_view id, name, family;
  double modulus;
  double upper_yield, lower_yield;  ///< both 0 for continuous yielding
  double luders_strain;
  double k, n;                ///< true stress = k·(ε₀ + ε_p)ⁿ
  double start_stress;        ///< stress at which flow begins (continuous yielding)
  double neck_extension;      ///< mm a neck adds before it breaks, per mm of √area
  double neck_drop;           ///< share of R_m lost between maximum and break
  double fracture_reduction;  ///< Z
  std::string_view fracture;  ///< look of the halves
};

std::span<const Metal> metals();
const Metal* find_metal(const std::string& id);

/// A bar of such a metal: one piece, with its own scatter from the seed.
class TensionSpecimen : public Workpiece {
 public:
  /// `area` mm², `parallel_length` mm; both > 0.
  TensionSpecimen(const Metal& metal, double area, double parallel_length, uint64_t seed);

  /// Sets the crosshead travel available to piece, frame and seating: solves
  /// e·L_c + F/k + seating(F) = travel for the smallest strain not below the present one (loading),
  /// or along the elastic line (unloading). Returns the force, N. A broken piece carries nothing.
  double stretch(double travel, double frame_stiffness, double seating) override;

  double force() const override { return force_; }
  double strain() const override { return strain_; }        ///< of the parallel length, without the neck
  double neck_extension() const override { return neck_; }  ///< mm
  double neck_share() const override { return neck_limit_ > 0 ? neck_ / neck_limit_ : 0; }
  double neck_place() const override { return neck_place_; }  ///< 0…1 along the parallel length
  bool broken() const override { return broken_; }
  double modulus() const { return modulus_; }
  double plastic_strain() const { return broken_ ? break_plastic_ : strain_ - force_ / (modulus_ * area_); }
  double reduction_of_area() const { return reduction_; }
  /// Stretch of a gauge of `length` centred on the parallel length: uniform part and, when it lies
  /// within the gauge, the neck. mm.
  double gauge_extension(double length) const override;

 private:
  struct Node {
    double strain, stress, neck;  ///< neck in mm; strain without neck
  };
  void build(const Metal& metal, uint64_t seed);

  double area_, length_, modulus_ = 0, reduction_ = 0;
  double neck_limit_ = 0, neck_place_ = 0.5, break_plastic_ = 0;
  std::vector<Node> envelope_;
  size_t node_ = 0;  ///< envelope reached so far
  double envelope_strain_ = 0, envelope_stress_ = 0;
  double strain_ = 0, force_ = 0, neck_ = 0;
  bool broken_ = false;
};

}  // namespace fortitor::standin
