// Stand-in torsion bench: a bar that yields from the skin inward, hardens, and turns until it breaks.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/methods/torsion_bar/torsion_bar.h"
#include "core/standin/benches.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Shaft {
  const char *id, *material, *family, *fracture;
  double g, yield, saturation, rate;  ///< MPa, MPa, Voce: τ = τ_y + Δ·(1 − exp(−γ_p/rate))
  double gamma_end;                   ///< shear strain at the surface at fracture
};
constexpr Shaft kShafts[] = {
    {"quenched-steel", "42CrMo4+QT", "alloy steel", "flat", 79.5e3, 520, 120, 0.15, 0.9},
    {"mild-steel", "S275JR", "carbon steel", "flat", 80.5e3, 165, 190, 0.6, 4.5},
    {"stainless", "X5CrNi18-10", "austenitic stainless steel", "flat", 76e3, 140, 380, 1.2, 5.5},
    {"cast-iron", "EN-GJL-250", "cast iron", "helical", 46e3, 150, 90, 0.006, 0.025},
    {"brass", "CuZn39Pb3 R430", "brass", "flat", 36.5e3, 130, 140, 0.5, 1.8},
};

const Shaft& shaft(const TestRecord& r) {
  const std::string id = piece_of(r, torsion_bench());
  for (const Shaft& s : kShafts)
    if (id == s.id) return s;
  return kShafts[0];
}

double true_diameter(const TestRecord& r) {
  std::mt19937_64 random(seed_of(r) * 61 + 3);
  std::normal_distribution<double> n;
  return 12 + 0.015 * n(random);
}

class TorsionBar : public StepMachine {
 public:
  explicit TorsionBar(const TestRecord& r) : shaft_(shaft(r)), indicator_(seed_of(r)), random_(seed_of(r) * 389 + 13) {
    const double measured = torsion::bar_of(r).diameter;
    radius_ = (measured > 0 ? measured : true_diameter(r)) / 2;
    length_ = r.fields.number("specimen.length").value_or(150);
    g_ = shaft_.g * (1 + 0.006 * n_(random_));
    yield_ = shaft_.yield * (1 + 0.03 * n_(random_));
    gamma_end_ = shaft_.gamma_end * std::exp(0.08 * n_(random_));
    // Angle is read between the chucks: the shoulders and jaws give a little.
    windup_ = has_fault(r, "windup") ? 0.30 : 0.012;
    frozen_ = has_fault(r, "frozen-gauge");
  }
  void balance() override {
    indicator_.balance(0, strain());
    indicator_.balance(1, -strain());
  }
  Outcome<Done> go_to(double angle) override {
    if (status_.broken) return InputError{"The bar is broken.", {}};
    if (gamma(angle) >= gamma_end_) {
      status_.broken = true;
      status_.bend = 1;
      status_.message = "The bar broke on the way to this stop.";
      return Done{};
    }
    status_.control = angle;
    status_.bend = gamma(angle) / gamma_end_;
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    std::map<std::string, std::string> out;
    out["torque"] = shown(torque(gamma(status_.control)) / 1e3 * (1 + 4e-4 * n_(random_)), 0.1, "N·m");
    if (std::abs(strain()) > 22e-3) indicator_.open(0);  // the gauge lets go
    if (frozen_ && gamma(status_.control) > 1.6 * yield_ / g_ && stuck_.empty())
      stuck_ = indicator_.read(0, strain()).value_or("");
    if (!stuck_.empty())
      out["strain_45"] = stuck_;
    else if (const auto text = indicator_.read(0, strain()))
      out["strain_45"] = *text;
    // In pure shear the second gauge reads the same the other way round.
    if (const auto text = indicator_.read(1, -strain()); text && std::abs(strain()) <= 22e-3)
      out["strain_minus_45"] = *text;
    return out;
  }
  Outcome<Done> unload() override {
    status_.control = 0;
    return Done{};
  }
  StepStatus status() const override { return status_; }
  double gamma_end() const { return gamma_end_; }
  double angle_of(double gamma) const { return gamma * length_ / radius_ * (1 + windup_); }

  /// Torque at a surface shear strain: T = 2π∫τ(γ·ρ/r)·ρ² dρ by Simpson's rule.
  double torque(double surface) const {
    constexpr int n = 200;
    double sum = 0;
    for (int i = 0; i <= n; ++i) {
      const double rho = radius_ * i / n, weight = i == 0 || i == n ? 1 : (i % 2 == 1 ? 4 : 2);
      sum += weight * stress(surface * i / n) * rho * rho;
    }
    return 2 * std::numbers::pi * sum * radius_ / n / 3;
  }

 private:
  double gamma(double angle) const { return angle * radius_ / length_ / (1 + windup_); }
  double strain() const { return gamma(status_.control) / 2; }
  double stress(double gamma) const {
    if (gamma * g_ <= yield_) return gamma * g_;
    const double plastic = gamma - yield_ / g_;
    return yield_ + shaft_.saturation * (1 - std::exp(-plastic / shaft_.rate));
  }
  const Shaft& shaft_;
  StrainIndicator indicator_;
  std::mt19937_64 random_;
  std::normal_distribution<double> n_;
  double radius_ = 6, length_ = 150, g_ = 1, yield_ = 1, gamma_end_ = 1, windup_ = 0;
  bool frozen_ = false;
  std::string stuck_;
  StepStatus status_;
};

std::vector<std::string> torsion_readings(const TestRecord& r, const std::string& path, int wanted) {
  if (path == "specimen.diameter") return caliper(true_diameter(r), 0.008, 0.01, wanted, seed_of(r) * 3 + 1);
  if (path == "specimen.length") return {"150.0 mm"};
  if (path != "specimen.after.angle" && path != "specimen.after.torque_max") return {};
  if (r.run.row_count() < 2) return {};
  const TorsionBar bar(r);
  if (path == "specimen.after.torque_max") return {shown(bar.torque(bar.gamma_end()) / 1e3, 0.1, "N·m")};
  return {shown(bar.angle_of(bar.gamma_end()) / (2 * std::numbers::pi), 0.01, "rev")};
}

void torsion_draft(TestRecord& r) {
  const Shaft& s = shaft(r);
  type_into(r, "specimen.material", s.material);
  type_into(r, "specimen.family", s.family);
  type_into(r, "specimen.gauges", "1");
  type_into(r, "equipment.torque_cell.capacity", "500 N·m");
  type_into(r, "equipment.torque_cell.class", "1");
}

std::map<std::string, std::string> torsion_looks(const TestRecord& r) {
  if (r.run.row_count() < 2) return {};
  return {{"specimen.after.fracture", shaft(r).fracture}};
}

TestRecord torsion_simulate(const SimulateOptions& o) {
  TestRecord r = measured_piece(torsion_bench(), "torsion-bar", o);
  run_stepwise(torsion_bench(), r);
  return r;
}

}  // namespace

const Bench& torsion_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "torsion-bench";
    b.name = "stand-in torsion bench";
    for (const Shaft& s : kShafts) b.pieces.push_back({s.id, s.material});
    b.faults = {
        {"none", "none"}, {"windup", "angle read outside the chucks"}, {"frozen-gauge", "a gauge that freezes"}};
    b.readings = torsion_readings;
    b.looks = torsion_looks;
    b.draft = torsion_draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<TorsionBar>(r); };
    b.simulate = torsion_simulate;
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
