// Stand-in scale: a block on its pan, or hanging in water, read again and again.
#include <cmath>
#include <random>

#include "core/methods/density/density.h"
#include "core/section/section.h"
#include "core/standin/benches.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct ScaleLump {
  const char *id, *material, *family, *species;
  double density;                   ///< kg/m³, of the dry piece for wood
  double moisture;                  ///< of the dry mass
  double width, thickness, length;  ///< mm
  bool immersed;
};
constexpr ScaleLump kLumps[] = {{"larch", "larch, block", "softwood", "larch", 540, 0.118, 40, 30, 60, false},
                                {"polyamide", "PA 6, conditioned", "polymer", "", 1135, 0, 20, 12, 35, true},
                                {"foam", "PVC foam core", "foam", "", 82, 0, 50, 25, 50, false},
                                {"printed", "PLA, printed, 60 % infill", "polymer", "", 1010, 0, 20, 20, 20, false}};

const ScaleLump& lump(const TestRecord& r) {
  const std::string id = piece_of(r, scale_bench());
  for (const ScaleLump& l : kLumps)
    if (id == l.id) return l;
  return kLumps[0];
}

double side(const TestRecord& r, double size, int which) {
  return size * scatter(seed_of(r), which, 0.003);
}

double volume(const TestRecord& r) {
  const ScaleLump& l = lump(r);
  return side(r, l.width, 1) * side(r, l.thickness, 2) * side(r, l.length, 3);
}

double dry_mass(const TestRecord& r) {
  return lump(r).density * scatter(seed_of(r), 4, 0.01) * volume(r) * 1e-9;
}

class Scale : public StepMachine {
 public:
  explicit Scale(const TestRecord& r) : random_(seed_of(r) * 811 + 3) {
    mass_ = dry_mass(r) * (1 + lump(r).moisture);
    water_ = water_density(r.fields.number("specimen.water_temperature").value_or(20)) * volume(r) * 1e-9;
    drying_ = has_fault(r, "drying") ? 0.0015 : 0;
    bubbles_ = has_fault(r, "bubbles") ? 0.004 : 0;
  }
  void balance() override {}
  Outcome<Done> go_to(double) override {
    mass_ *= 1 - drying_;
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    const double hand = 2e-6;  // kg
    const double lift = bubbles_ * water_ * std::abs(n_(random_));
    return {{"mass", shown((mass_ + hand * n_(random_)) * 1e3, 0.01, "g")},
            {"mass_immersed", shown((mass_ - water_ - lift + hand * n_(random_)) * 1e3, 0.01, "g")}};
  }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }

 private:
  std::mt19937_64 random_;
  std::normal_distribution<double> n_;
  double mass_ = 0, water_ = 0, drying_ = 0, bubbles_ = 0;
};

std::vector<std::string> scale_readings(const TestRecord& r, const std::string& path, int wanted) {
  const ScaleLump& l = lump(r);
  const uint64_t seed = seed_of(r);
  if (path == "specimen.water_temperature")
    return l.immersed ? std::vector<std::string>{"21.4 °C"} : std::vector<std::string>{};
  if (path == "specimen.mass_dry")
    return l.moisture > 0 && r.run.row_count() > 0 ? std::vector<std::string>{shown(dry_mass(r) * 1e3, 0.01, "g")}
                                                   : std::vector<std::string>{};
  if (l.immersed) return {};
  if (path == "specimen.section.width") return caliper(side(r, l.width, 1), 0.02, 0.01, wanted, seed * 3 + 1);
  if (path == "specimen.section.thickness") return caliper(side(r, l.thickness, 2), 0.02, 0.01, wanted, seed * 3 + 2);
  if (path == "specimen.length") return caliper(side(r, l.length, 3), 0.02, 0.01, wanted, seed * 3 + 3);
  return {};
}

void scale_draft(TestRecord& r) {
  const ScaleLump& l = lump(r);
  type_into(r, "specimen.material", l.material);
  type_into(r, "specimen.family", l.family);
  if (*l.species != 0) type_into(r, "specimen.species", l.species);
  if (l.immersed)
    type_into(r, "specimen.immersed", "true");
  else
    type_into(r, "specimen.section.shape", "flat");
  type_into(r, "equipment.scale.resolution", "0.01 g");
}

}  // namespace

const Bench& scale_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "scale-bench";
    b.name = "stand-in scale";
    for (const ScaleLump& l : kLumps) b.pieces.push_back({l.id, l.material});
    b.faults = {{"none", "none"}, {"drying", "a piece that dries"}, {"bubbles", "bubbles in the water"}};
    b.readings = scale_readings;
    b.draft = scale_draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Scale>(r); };
    b.simulate = [](const SimulateOptions& o) {
      TestRecord r = measured_piece(scale_bench(), "density", o);
      run_stepwise(scale_bench(), r);
      return r;
    };
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
