// Stand-in strain bench: an elastic strip in the frame, two gauges, a four-channel indicator.
#include <cmath>

#include "core/section/section.h"
#include "core/standin/benches.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Strip {
  const char *id, *material, *family;
  double modulus, nu, yield;  ///< MPa, –, MPa
};
constexpr Strip kStrips[] = {
    {"titanium", "Ti-6Al-4V", "titanium alloy", 114e3, 0.335, 880},
    {"magnesium", "AZ31B-H24", "magnesium alloy", 44.8e3, 0.345, 180},
    {"aluminium", "EN AW-6082-T6", "aluminium alloy", 69.8e3, 0.33, 280},
    {"steel", "S355J2", "carbon steel", 209e3, 0.288, 390},
};

const Strip& strip(const TestRecord& r) {
  const std::string id = piece_of(r, strain_bench());
  for (const Strip& s : kStrips)
    if (id == s.id) return s;
  return kStrips[0];
}

class GaugedStrip : public StepMachine {
 public:
  explicit GaugedStrip(const TestRecord& r) : indicator_(seed_of(r)), random_(seed_of(r) * 613 + 7) {
    const Strip& s = strip(r);
    const double area = section_of(r.fields).area;
    area_ = area > 0 ? area : 80;
    modulus_ = s.modulus * (1 + 0.008 * n_(random_));
    nu_ = s.nu * (1 + 0.01 * n_(random_));
    yield_ = s.yield * area_;
    if (has_fault(r, "drift")) indicator_.set_drift(1, 2.5e-6);
    if (has_fault(r, "open-channel")) open_from_ = 5;
    if (has_fault(r, "misread")) misread_ = 3 + int(seed_of(r) % 3);
    swapped_ = has_fault(r, "swapped");
  }
  void balance() override {
    for (size_t c : {0u, 1u}) indicator_.balance(c, strain(c));
  }
  Outcome<Done> go_to(double load) override {
    if (load > yield_) return InputError{"The strip would yield at that load; the stand-in frame refuses.", {}};
    status_.control = load;
    status_.bend = load / yield_;
    ++stop_;
    if (stop_ == open_from_) indicator_.open(1);
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    std::map<std::string, std::string> out;
    const size_t along = swapped_ ? 1 : 0;
    for (const auto& [name, channel] : {std::pair{"strain_long", along}, std::pair{"strain_lat", 1 - along}}) {
      // A minus overlooked, or two digits exchanged: a reading that is wrong by itself.
      const double slip = stop_ == misread_ && name == std::string("strain_lat") ? 45e-6 : 0;
      if (const auto text = indicator_.read(channel, strain(channel) + slip)) out[name] = *text;
    }
    return out;
  }
  Outcome<Done> unload() override {
    status_.control = 0;
    return Done{};
  }
  StepStatus status() const override { return status_; }

 private:
  double strain(size_t channel) const {
    const double along = status_.control / (area_ * modulus_);
    return channel == 0 ? along : -nu_ * along;
  }
  StrainIndicator indicator_;
  std::mt19937_64 random_;
  std::normal_distribution<double> n_;
  double area_ = 80, modulus_ = 1, nu_ = 0.3, yield_ = 1;
  int stop_ = -1, open_from_ = -1, misread_ = -1;
  bool swapped_ = false;
  StepStatus status_;
};

std::vector<std::string> strain_readings(const TestRecord& r, const std::string& path, int wanted) {
  std::mt19937_64 random(seed_of(r) * 59 + 2);
  std::normal_distribution<double> n;
  const double width = 25.4 + 0.03 * n(random), thickness = 3.18 + 0.01 * n(random);
  if (path == "specimen.section.width") return caliper(width, 0.012, 0.01, wanted, seed_of(r) * 3 + 1);
  if (path == "specimen.section.thickness") return caliper(thickness, 0.004, 0.001, wanted, seed_of(r) * 3 + 2);
  return {};
}

void strain_draft(TestRecord& r) {
  const Strip& s = strip(r);
  type_into(r, "specimen.material", s.material);
  type_into(r, "specimen.family", s.family);
  type_into(r, "specimen.section.shape", "flat");
  type_into(r, "equipment.load_cell.capacity", "50 kN");
  type_into(r, "equipment.load_cell.class", "0.5");
  type_into(r, "equipment.gauge.factor", "2.08");
  type_into(r, "equipment.gauge.tolerance", "0.5 %");
}

TestRecord strain_simulate(const SimulateOptions& o) {
  TestRecord r = measured_piece(strain_bench(), "poisson-gauge", o);
  run_stepwise(strain_bench(), r);
  return r;
}

}  // namespace

const Bench& strain_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "strain-bench";
    b.name = "stand-in strain indicator";
    for (const Strip& s : kStrips) b.pieces.push_back({s.id, s.material});
    b.faults = {{"none", "none"},
                {"misread", "a misread channel"},
                {"drift", "a drifting channel"},
                {"open-channel", "a wire that comes off"},
                {"swapped", "wires exchanged"}};
    b.readings = strain_readings;
    b.draft = strain_draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<GaugedStrip>(r); };
    b.simulate = strain_simulate;
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
