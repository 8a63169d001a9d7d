// Stand-in bending bench: a beam of wood or laminate on two supports, a load head, a dial gauge.
#include <algorithm>
#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/reference/library.h"
#include "core/standin/benches.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Timber {
  const char *id, *label, *species, *family;
  double modulus, rupture;  ///< mean MPa at 12 %
  double limit;             ///< proportional limit as a share of the rupture load
  double scatter;           ///< coefficient of variation of the modulus between pieces
  bool cracks;
};
constexpr Timber kTimbers[] = {
    {"ash", "ash, clear", "ash", "hardwood", 12000, 103e0, 0.52, 0.10, true},
    {"larch", "larch", "larch", "softwood", 12900, 90e0, 0.55, 0.12, true},
    {"oak", "oak", "oak", "hardwood", 12300, 105e0, 0.50, 0.12, true},
    {"ash-cross-grain", "ash, sloping grain", "ash", "hardwood", 9200, 55e0, 0.62, 0.10, true},
    {"glass-laminate", "glass fabric laminate", "", "composite", 22000, 420e0, 0.85, 0.03, false},
};

const Timber& timber(const TestRecord& r) {
  const std::string id = piece_of(r, bending_bench());
  for (const Timber& t : kTimbers)
    if (id == t.id) return t;
  return kTimbers[0];
}

/// Sizes the piece really has.
struct Sizes {
  double width, depth, span;
};
Sizes sizes(const TestRecord& r) {
  std::mt19937_64 random(seed_of(r) * 53 + 1);
  std::normal_distribution<double> n;
  const bool laminate = std::string(timber(r).family) == "composite";
  Sizes s{laminate ? 20.0 : 40.0, laminate ? 10.0 : 30.0, laminate ? 200.0 : 700.0};
  s.width += 0.15 * n(random);
  s.depth += 0.12 * n(random);
  s.span = r.fields.number("specimen.span").value_or(s.span);
  return s;
}

/// A beam with its own modulus, limit and rupture, and grain that makes every stop a little different.
class Beam : public StepMachine {
 public:
  explicit Beam(const TestRecord& r) : gauge_(0.01, seed_of(r)), random_(seed_of(r) * 977 + 5) {
    const Timber& t = timber(r);
    const Sizes s = sizes(r);
    const flexure::LoadingCase& loads = flexure::loading_case(r.fields.text("specimen.loading"));
    const double inertia = s.width * std::pow(s.depth, 3) / 12, w = s.width * s.depth * s.depth / 6;
    stiffness_ = t.modulus * std::exp(t.scatter * n_(random_)) * inertia / (loads.k * std::pow(s.span, 3));
    rupture_ = t.rupture * std::exp(0.6 * t.scatter * n_(random_)) * w / (loads.m * s.span);
    limit_ = t.limit * rupture_ * (1 + 0.05 * n_(random_));
    cracks_ = t.cracks;
    misread_ = has_fault(r, "misread") ? 4 + int(seed_of(r) % 2) : -1;
    slack_ = has_fault(r, "slack") ? 0.6 : 0;
  }
  void balance() override { gauge_.zero(deflection(status_.control)); }
  Outcome<Done> go_to(double load) override {
    if (status_.broken) return InputError{"The beam is broken.", {}};
    if (load >= rupture_) {
      status_.broken = true;
      status_.bend = 1;
      status_.message = "The beam broke on the way to this stop.";
      return Done{};
    }
    status_.cracks = 0;
    if (cracks_ && load > 0.8 * rupture_ && load > status_.control) {
      std::bernoulli_distribution heard(std::min(0.8, 4 * (load / rupture_ - 0.8)));
      status_.cracks = heard(random_) ? 1 : 0;
    }
    status_.control = load;
    status_.bend = load / rupture_;
    ++stop_;
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    // A misread turn of the dial, half a millimetre.
    const double slip = stop_ == misread_ ? 0.5 : 0;
    return {{"deflection", gauge_.read(deflection(status_.control) * (1 + 0.0015 * n_(random_)), slip)}};
  }
  Outcome<Done> unload() override {
    status_.control = 0;
    return Done{};
  }
  StepStatus status() const override { return status_; }

 private:
  double deflection(double load) const {
    const double seat = slack_ * (1 - std::exp(-load / (0.03 * rupture_)));
    const double over = std::max(0.0, load - limit_) / (rupture_ - limit_);
    // Fibres give way on the compression side first: the line bends over, faster towards the end.
    return seat + load / stiffness_ * (1 + 0.18 * over + 0.9 * over * over * over);
  }
  DialGauge gauge_;
  std::mt19937_64 random_;
  std::normal_distribution<double> n_;
  double stiffness_ = 1, rupture_ = 1, limit_ = 1, slack_ = 0;
  int misread_ = -1, stop_ = -1;
  bool cracks_ = false;
  StepStatus status_;
};

std::vector<std::string> bending_readings(const TestRecord& r, const std::string& path, int wanted) {
  const Sizes s = sizes(r);
  const uint64_t seed = seed_of(r);
  if (path == "specimen.width") return caliper(s.width, std::min(0.05, 0.003 * s.width), 0.01, wanted, seed * 3 + 1);
  if (path == "specimen.depth") return caliper(s.depth, std::min(0.05, 0.003 * s.depth), 0.01, wanted, seed * 3 + 2);
  if (path == "specimen.span") return {shown(s.span, 1, "mm")};
  return {};
}

void bending_draft(TestRecord& r) {
  const Timber& t = timber(r);
  type_into(r, "specimen.material", t.label);
  type_into(r, "specimen.family", t.family);
  type_into(r, "specimen.loading", "three-point");
  if (*t.species != 0) {
    type_into(r, "specimen.species", t.species);
    std::mt19937_64 random(seed_of(r) * 71 + 9);
    std::normal_distribution<double> n;
    type_into(r, "specimen.moisture", shown(11.6 + 0.5 * n(random), 0.1, "%"));
    type_into(r, "specimen.placed", "flat");
  }
  type_into(r, "equipment.load_cell.capacity", "10 kN");
  type_into(r, "equipment.load_cell.class", "1");
}

std::map<std::string, std::string> bending_looks(const TestRecord& r) {
  const bool broke = !r.fields.readings("specimen.after.broke_between").empty();
  if (!broke) return {{"specimen.after.fracture", "none"}};
  const std::string id = timber(r).id;
  return {{"specimen.after.fracture", id == "ash-cross-grain"  ? "cross-grain"
                                      : id == "glass-laminate" ? "tension"
                                      : seed_of(r) % 3 == 0    ? "tension"
                                                               : "splinter"}};
}

TestRecord bending_simulate(const SimulateOptions& o) {
  TestRecord r = measured_piece(bending_bench(), "flexure-beam", o);
  run_stepwise(bending_bench(), r);
  return r;
}

}  // namespace

const Bench& bending_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "bending-bench";
    b.name = "stand-in bending bench";
    for (const Timber& t : kTimbers) b.pieces.push_back({t.id, t.label});
    b.faults = {{"none", "none"}, {"misread", "a misread dial"}, {"slack", "supports not seated"}};
    b.readings = bending_readings;
    b.looks = bending_looks;
    b.draft = bending_draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Beam>(r); };
    b.simulate = bending_simulate;
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
