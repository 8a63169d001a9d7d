#include "core/standin/specimen.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

namespace fortitor::standin {
namespace {

constexpr std::array kMetals = {
    Metal{"mild-steel", "mild steel", "carbon steel", 208e3, 384, 366, 0.014, 849, 0.170, 0, 0.52, 0.24, 0.63,
          "cup-and-cone"},
    Metal{"aluminium", "aluminium alloy", "aluminium alloy", 70.2e3, 0, 0, 0, 452, 0.085, 215, 0.30, 0.12, 0.38,
          "shear"},
    Metal{"bronze", "tin bronze", "bronze", 109e3, 0, 0, 0, 690, 0.26, 118, 0.36, 0.10, 0.30, "partial-cup"},
    Metal{"high-strength-steel", "high-strength steel", "high-strength steel", 206e3, 0, 0, 0, 1330, 0.062, 760, 0.42,
          0.22, 0.55, "cup-and-cone"},
    Metal{"cold-drawn-bar", "cold-drawn bar", "cold-drawn steel", 205e3, 0, 0, 0, 760, 0.040, 400, 0.48, 0.25, 0.52,
          "cup-and-cone"},
};

double engineering(double true_stress, double strain) {
  return true_stress / (1 + strain);
}

}  // namespace

std::span<const Metal> metals() {
  return kMetals;
}

const Metal* find_metal(const std::string& id) {
  for (const Metal& m : kMetals)
    if (m.id == id) return &m;
  return nullptr;
}

TensionSpecimen::TensionSpecimen(const Metal& metal, double area, double parallel_length, uint64_t seed)
    : area_(area), length_(parallel_length) {
  build(metal, seed);
}

void TensionSpecimen::build(const Metal& metal, uint64_t seed) {
  std::mt19937_64 random(seed * 7919 + 17);
  std::normal_distribution<double> scatter;
  auto vary = [&](double value, double relative) {
    return value * (1 + relative * std::clamp(scatter(random), -2.5, 2.5));
  };
  modulus_ = vary(metal.modulus, 0.004);
  const double strength = vary(1.0, 0.008);
  const double k = metal.k * strength;
  const double n = vary(metal.n, 0.02);
  reduction_ = std::clamp(vary(metal.fracture_reduction, 0.02), 0.02, 0.9);
  neck_limit_ = vary(metal.neck_extension, 0.04) * std::sqrt(area_);
  neck_place_ = std::clamp(0.5 + 0.16 * scatter(random), 0.08, 0.92);

  auto put = [&](double e, double r) { envelope_.push_back({e, r, 0}); };
  put(0, 0);
  double plastic = 0, flow = metal.start_stress * strength;
  if (metal.upper_yield > 0) {
    const double upper = metal.upper_yield * strength, lower = metal.lower_yield * strength;
    put(upper / modulus_, upper);
    // The drop, its transient trough, then a plateau whose serrations are the bands passing.
    const double ey = upper / modulus_;
    put(ey + 0.00035, lower * 0.985);
    put(ey + 0.00070, lower * 1.002);
    const double bands = 9 + double(random() % 5);
    for (int i = 1; i <= 400; ++i) {
      const double s = i / 400.0;
      const double wave = 0.004 * std::sin(2 * 3.14159265358979 * bands * s) + 0.0015 * scatter(random);
      put(ey + 0.0007 + (metal.luders_strain - 0.0007) * s, lower * (1 + wave * (i < 396 ? 1 : 0)));
    }
    flow = lower;
    plastic = ey + metal.luders_strain - lower / modulus_;
  }
  // Power hardening from the flow stress on; ε₀ makes it continuous there.
  const double start_true = flow * (1 + plastic + flow / modulus_);
  const double e0 = std::pow(start_true / k, 1 / n);
  const double uniform = std::max(plastic + 0.004, n - e0 + plastic);  // Considère: ε_u = n − ε₀
  for (int i = 1; i <= 1500; ++i) {
    const double s = double(i) / 1500;
    const double p = plastic + (uniform - plastic) * s * s;  // finer at the knee
    const double sigma = k * std::pow(e0 + p - plastic, n);
    const double e = std::expm1(sigma / modulus_ + p);
    put(e, std::max(engineering(sigma, e), envelope_.back().stress));
  }
  const Node top = envelope_.back();
  for (int i = 1; i <= 300; ++i) {
    const double s = i / 300.0;
    const double r = top.stress * (1 - metal.neck_drop * std::pow(s, 1.9));
    // The uniform part gives back its elastic strain while the neck draws out.
    envelope_.push_back({top.strain - (top.stress - r) / modulus_, r, neck_limit_ * s});
  }
}

double TensionSpecimen::stretch(double travel, double frame_stiffness, double seating) {
  if (broken_) return force_ = 0;
  const double seat_force = 0.02 * area_ * 100;
  auto taken = [&](double strain, double stress, double neck) {
    const double f = std::max(stress, 0.0) * area_;
    return strain * length_ + neck + f / frame_stiffness + seating * (1 - std::exp(-f / seat_force));
  };
  if (travel <= taken(envelope_strain_, envelope_stress_, neck_)) {
    // Below the envelope the piece is elastic about its plastic strain.
    double low = 0, high = envelope_stress_;
    const double plastic = envelope_strain_ - envelope_stress_ / modulus_;
    if (travel <= taken(plastic, 0, neck_)) {
      strain_ = plastic;
      return force_ = 0;
    }
    for (int i = 0; i < 60; ++i) {
      const double r = 0.5 * (low + high);
      (taken(plastic + r / modulus_, r, neck_) < travel ? low : high) = r;
    }
    strain_ = plastic + low / modulus_;
    return force_ = low * area_;
  }
  // Along the envelope; where it falls faster than the frame unloads the piece jumps ahead.
  while (node_ + 1 < envelope_.size()) {
    const Node& next = envelope_[node_ + 1];
    const double before = taken(envelope_strain_, envelope_stress_, neck_);
    const double after = taken(next.strain, next.stress, next.neck);
    if (after >= travel && after > before) {
      const double f = (travel - before) / (after - before);
      envelope_strain_ += f * (next.strain - envelope_strain_);
      envelope_stress_ += f * (next.stress - envelope_stress_);
      neck_ += f * (next.neck - neck_);
      strain_ = envelope_strain_;
      return force_ = envelope_stress_ * area_;
    }
    ++node_;
    envelope_strain_ = next.strain;
    envelope_stress_ = next.stress;
    neck_ = next.neck;
  }
  broken_ = true;
  break_plastic_ = envelope_strain_ - envelope_stress_ / modulus_;
  strain_ = break_plastic_;
  return force_ = 0;
}

double TensionSpecimen::gauge_extension(double length) const {
  const double half = 0.5 * length / length_;
  const bool inside = std::abs(neck_place_ - 0.5) <= half;
  return strain_ * length + (inside ? neck_ : 0.0);
}

}  // namespace fortitor::standin
