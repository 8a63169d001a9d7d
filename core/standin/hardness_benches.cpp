// Stand-in hardness machines: a microhardness bench with an eyepiece, a machine with a dial, a Brinell press with a
// measuring glass.
#include <algorithm>
#include <cmath>
#include <map>
#include <random>

#include "core/methods/hardness_brinell/hardness_brinell.h"
#include "core/methods/support/indents.h"
#include "core/reference/hardness.h"
#include "core/standin/benches.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Lump {
  const char *id, *material, *family;
  double hardness;       ///< HV, of the core of a case-hardened one
  double surface = 0;    ///< HV; 0: the same throughout
  double depth = 0;      ///< mm, where it has fallen half way
  double thickness = 8;  ///< mm
  const char* face = "rectangle";
  double width = 12, height = 8;
};
constexpr Lump kMicro[] = {{"pinion", "18CrNiMo7-6, case-hardened", "alloy steel", 385, 745, 0.72},
                           {"hardened", "C60, hardened", "carbon steel", 640},
                           {"weld", "S355J2, butt weld", "carbon steel", 168, 0, 0, 10, "weld", 40, 10},
                           {"wrought", "EN AW-6082 T6", "aluminium alloy", 108},
                           {"coating", "hard chromium on steel", "coating", 940, 0, 0, 0.06}};
constexpr Lump kDial[] = {{"bolt-head", "42CrMo4, quenched and tempered", "alloy steel", 328, 0, 0, 18},
                          {"knife", "X153CrMoV12, hardened", "alloy steel", 735, 0, 0, 6},
                          {"brass", "CuZn39Pb3", "brass", 152, 0, 0, 6},
                          {"soft", "S235JR", "carbon steel", 132, 0, 0, 8},
                          {"case", "16MnCr5, thin case", "alloy steel", 700, 0, 0, 5}};
constexpr Lump kPress[] = {{"clamp", "GS 240, cast steel", "carbon steel", 206, 0, 0, 24, "rectangle", 40, 30},
                           {"iron", "EN-GJL-250", "cast iron", 195, 0, 0, 20, "rectangle", 40, 30},
                           {"bronze", "CuSn10", "bronze", 92, 0, 0, 14, "rectangle", 30, 30}};

template <size_t N>
const Lump& lump_of(const TestRecord& r, const Lump (&list)[N], const Bench& bench) {
  const std::string id = piece_of(r, bench);
  for (const Lump& l : list)
    if (id == l.id) return l;
  return list[0];
}

// The piece's own hardness: pieces of one kind differ by two per cent.
double own(const TestRecord& r, double hardness) {
  return hardness * scatter(seed_of(r), 11, 0.02);
}

double at_place(const TestRecord& r, const Lump& l, double x) {
  if (l.surface > 0) {
    const double fall = 1 / (1 + std::exp((x - l.depth * scatter(seed_of(r), 12, 0.04)) / 0.13));
    return own(r, l.hardness) + (l.surface - l.hardness) * fall;
  }
  if (std::string(l.face) == "weld") {
    const std::string zone = indents::face_of(r.fields).zone(x);
    return own(r, l.hardness) * (zone == "weld metal" ? 1.22 : zone == "heat-affected zone" ? 1.48 : 1.0);
  }
  return own(r, l.hardness);
}

std::vector<Fields> places(const TestRecord& r) {
  const TableSpec* t = methods::find(r.method)->keyed_table();
  return t->planned_rows ? t->planned_rows(r) : std::vector<Fields>{};
}

double half(double divisions) {
  return std::round(2 * divisions) / 2;
}

std::string drum(double divisions) {
  const double v = half(divisions);
  return plain_number(v, 6);
}

/// Pyramid and eyepiece. Every row is one indent; what the eyepiece shows is measured by hand, `read` is what a good
/// eye would turn the lines to.
class Eyepiece : public StepMachine {
 public:
  explicit Eyepiece(const TestRecord& r) : record_(r), places_(places(r)) {
    division_ = r.fields.number("specimen.division").value_or(0.00025);
    force_ = r.fields.number("specimen.force").value_or(kStandardGravity);
    knoop_ = r.method == "hardness-knoop";
  }
  void balance() override {}
  Outcome<Done> go_to(double row) override;
  std::map<std::string, std::string> read() override { return shows_; }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }
  std::optional<Sight> sight() const override { return sight_; }

 private:
  TestRecord record_;
  std::vector<Fields> places_;
  double division_ = 0, force_ = 0;
  bool knoop_ = false;
  std::optional<Sight> sight_;
  std::map<std::string, std::string> shows_;
};

Outcome<Done> Eyepiece::go_to(double row) {
  const Lump& l = lump_of(record_, kMicro, microhardness_bench());
  const size_t at = size_t(std::max(0.0, row));
  // The same piece and place give the same indent, however often it is looked at.
  std::mt19937_64 random(seed_of(record_) * 7919 + at * 104729 + 17);
  std::normal_distribution<double> n;
  const double x = at < places_.size() ? places_[at].number("x").value_or(0) : 0;
  const double hv = at_place(record_, l, x) * (1 + 0.012 * n(random));
  const double size = knoop_ ? std::sqrt(force_ / kStandardGravity / (0.07028 * hv)) : std::sqrt(0.1891 * force_ / hv);
  const double d = size / division_;  // divisions
  Sight s;
  s.division = division_;
  s.slender = knoop_;
  s.field = std::max(400.0, 1.7 * d);
  s.grain = seed_of(record_) * 31 + at;
  s.focus = 0.3 + 0.4 * double(random() % 1000) / 1000;
  const bool tilt = has_fault(record_, "tilt");
  const double uneven = 0.004 * n(random) + (tilt ? 0.045 : 0);
  const double mx = s.field / 2 + 0.05 * s.field * n(random) / 3, my = s.field / 2 + 0.05 * s.field * n(random) / 3;
  s.left = mx - d * (1 + uneven) / 2, s.right = mx + d * (1 + uneven) / 2;
  s.up = my - (knoop_ ? d / 7.11 : d * (1 - uneven)) / 2, s.down = my + (knoop_ ? d / 7.11 : d * (1 - uneven)) / 2;
  s.scratched = has_fault(record_, "scratch") && at == 6;
  sight_ = s;
  const auto hand = [&] { return 0.3 * n(random); };
  // A scratch that runs out of a corner is easily taken for its tip.
  const double misread = s.scratched ? 0.11 * d : 0;
  shows_.clear();
  shows_["d1"] = drum(s.left + hand()) + ";" + drum(s.right + hand() + misread);
  if (knoop_)
    shows_["middle"] = drum(mx + hand());
  else
    shows_["d2"] = drum(s.up + hand()) + ";" + drum(s.down + hand());
  // A second pair of eyes sets its lines a little further out.
  shows_["second_d1"] = drum(s.left - 0.5 + hand()) + ";" + drum(s.right + 0.5 + hand());
  shows_["second_d2"] = drum(s.up - 0.5 + hand()) + ";" + drum(s.down + 0.5 + hand());
  return Done{};
}

// HR of a hardness on a scale: by the table where it has it, else by how deep ball or cone would go.
double rockwell_of(double hv, const RockwellScale& scale) {
  if (const auto v = convert_hardness(hv, "HV", scale.symbol())) return *v;
  double depth = 0;
  if (scale.diamond())
    depth = 0.8 * (std::sqrt(scale.total / (3 * M_PI * hv)) - std::sqrt(scale.preliminary / (3 * M_PI * hv)));
  else
    depth = 0.83 * (scale.total - scale.preliminary) / (M_PI * scale.ball * hv);
  return scale.n - depth / scale.s;
}

/// Dial and lever. The hand on the machine goes through its movements; the reading counts when the lever is back.
class Dial : public StepMachine {
 public:
  explicit Dial(const TestRecord& r) : record_(r) {
    if (const RockwellScale* s = find_rockwell(r.fields.text("specimen.scale"))) scale_ = *s;
  }
  void balance() override {}
  Outcome<Done> go_to(double row) override {
    std::mt19937_64 random(seed_of(record_) * 6007 + uint64_t(std::max(0.0, row)) * 7907 + 5);
    std::normal_distribution<double> n;
    const Lump& l = lump_of(record_, kDial, hardness_bench());
    value_ = rockwell_of(own(record_, l.hardness), scale_) + 0.4 * n(random);
    // A fresh indenter and a piece that still seats: the first print is deeper.
    if (row < 0.5 && record_.fields.flag("run.new_indenter")) value_ -= 1.6;
    if (has_fault(record_, "block-off")) value_ += 2.4;
    value_ = std::round(2 * value_) / 2;
    phase_ = 0;
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    if (phase_ < 3) return {};
    return {{"hr", plain_number(value_, 4)}, {"depth", plain_number((scale_.n - value_) * scale_.s, 6) + " mm"}};
  }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }
  std::optional<DialFace> dial() const override {
    if (phase_ < 0) return std::nullopt;
    static const char* kNext[] = {"Turn up to the set mark", "Lever forward, wait until the hand stands", "Lever back",
                                  ""};
    DialFace f;
    f.small = phase_ >= 1 ? 1 : 0;
    f.loaded = phase_ == 2;
    // Under the whole force the hand stands lower: the spring of piece and machine comes back with the lever.
    f.large = phase_ == 0 ? 100 : phase_ == 1 ? 0 : phase_ == 2 ? std::max(0.0, value_ - 14) : value_;
    f.reading_counts = phase_ == 3;
    f.next = kNext[phase_];
    return f;
  }
  Outcome<Done> act() override {
    if (phase_ < 0) return InputError{"Move the piece to a fresh place first.", {}};
    if (phase_ == 3) return InputError{"The lever is back: read the dial.", {}};
    ++phase_;
    return Done{};
  }

 private:
  TestRecord record_;
  RockwellScale scale_ = *find_rockwell("C");
  double value_ = 0;
  int phase_ = -1;
};

/// Ball press with a measuring glass.
class Glass : public StepMachine {
 public:
  explicit Glass(const TestRecord& r) : record_(r) {}
  void balance() override {}
  Outcome<Done> go_to(double row) override {
    const double force = record_.fields.number("specimen.force").value_or(0),
                 ball = record_.fields.number("specimen.ball").value_or(0);
    if (!(force > 0) || !(ball > 0)) return InputError{"Choose ball and force first.", {}};
    const Lump& l = lump_of(record_, kPress, brinell_bench());
    std::mt19937_64 random(seed_of(record_) * 5003 + uint64_t(std::max(0.0, row)) * 6991 + 3);
    std::normal_distribution<double> n;
    const double hb = own(record_, l.hardness) * (1 + 0.015 * n(random));
    const double cap = 0.102 * force / (M_PI * ball * hb);
    if (cap >= ball / 2) return InputError{"The ball went in to its middle: far too much force for this piece.", {}};
    const double d = 2 * std::sqrt(cap * (ball - cap));
    const double oval = has_fault(record_, "oval") ? 0.03 : 0.004 * n(random);
    Sight s;
    s.division = ball / 1000;
    s.field = std::max(400.0, 1.7 * d / s.division);
    s.grain = seed_of(record_) * 37 + uint64_t(std::max(0.0, row));
    s.focus = 0.5;
    const double c = s.field / 2, w = d * (1 + oval) / s.division / 2, h = d * (1 - oval) / s.division / 2;
    s.left = c - w, s.right = c + w, s.up = c - h, s.down = c + h;
    s.round = true;
    sight_ = s;
    shows_ = {{"d", shown(d * (1 + oval), ball / 1000, "mm") + ";" + shown(d * (1 - oval), ball / 1000, "mm")}};
    return Done{};
  }
  std::map<std::string, std::string> read() override { return shows_; }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }
  std::optional<Sight> sight() const override { return sight_; }

 private:
  TestRecord record_;
  std::optional<Sight> sight_;
  std::map<std::string, std::string> shows_;
};

// Three readings of a block on a machine that reads `off` too high.
std::vector<std::string> block(const TestRecord& r, int wanted, double scatter_of, double off, int figures, int salt) {
  const auto certified = r.fields.number("specimen.block.certified");
  if (!certified) return {};
  std::mt19937_64 random(seed_of(r) * 401 + uint64_t(salt));
  std::normal_distribution<double> n;
  std::vector<std::string> out;
  for (int i = 0; i < wanted; ++i) out.push_back(plain_number(*certified + off + scatter_of * n(random), figures));
  return out;
}

std::vector<std::string> size_readings(const TestRecord& r, const Lump& l, const std::string& path) {
  auto mm = [](double v) { return std::vector<std::string>{plain_number(v, 5) + " mm"}; };
  if (path == "specimen.thickness") return {shown(l.thickness * scatter(seed_of(r), 3, 0.004), 0.01, "mm")};
  if (path == "specimen.face.width") return mm(l.width);
  if (path == "specimen.face.height") return mm(l.height);
  if (path == "specimen.face.weld_width" && std::string(l.face) == "weld") return mm(9);
  if (path == "specimen.face.haz_width" && std::string(l.face) == "weld") return mm(4);
  return {};
}

void draft_lump(TestRecord& r, const Lump& l) {
  type_into(r, "specimen.material", l.material);
  type_into(r, "specimen.family", l.family);
  type_into(r, "specimen.face.shape", l.face);
}

TestRecord carried_out(const Bench& bench, const std::string& method, const SimulateOptions& o) {
  TestRecord r = measured_piece(bench, method, o);
  run_stepwise(bench, r);
  return r;
}

void plan(TestRecord& r, const char* pattern, const char* count, const char* expected) {
  type_into(r, "settings.plan.pattern", pattern);
  type_into(r, "settings.plan.count", count);
  type_into(r, "settings.plan.expected", expected);
}

void block_of(TestRecord& r, double certified, double tolerance) {
  type_into(r, "specimen.block.certified", plain_number(certified, 4));
  type_into(r, "specimen.block.tolerance", plain_number(tolerance, 4));
}

}  // namespace

const Bench& microhardness_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "microhardness-bench";
    b.name = "stand-in microhardness bench";
    for (const Lump& l : kMicro) b.pieces.push_back({l.id, l.material});
    b.faults = {{"none", "none"}, {"scratch", "a scratch through one indent"}, {"tilt", "a face that is not square"}};
    b.readings = [](const TestRecord& r, const std::string& path, int wanted) {
      const bool after = path == "specimen.block.after";
      if (after || path == "specimen.block.readings") return block(r, wanted, 4, 0, 4, after);
      return size_readings(r, lump_of(r, kMicro, microhardness_bench()), path);
    };
    b.draft = [](TestRecord& r) {
      const Lump& l = lump_of(r, kMicro, microhardness_bench());
      draft_lump(r, l);
      const bool knoop = r.method == "hardness-knoop", traverse = l.surface > 0 && !knoop;
      type_into(r, "specimen.force", knoop ? "0.05 kgf" : std::string(l.id) == "coating" ? "0.3 kgf" : "0.5 kgf");
      type_into(r, "specimen.dwell", "12 s");
      type_into(r, "specimen.division", "0.25 µm");
      block_of(r, 710, 12);
      if (traverse) {
        type_into(r, "specimen.traverse.limit", "550");
        plan(r, "staggered", "14", "350");
        type_into(r, "settings.plan.pitch", "0.1 mm");
        type_into(r, "settings.plan.start", "0.15 mm");
      } else {
        plan(r, std::string(l.face) == "weld" ? "weld" : "grid", std::string(l.face) == "weld" ? "3" : "5",
             plain_number(0.9 * l.hardness, 3).c_str());
        if (std::string(l.face) == "weld") type_into(r, "settings.plan.start", "2 mm");
      }
    };
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Eyepiece>(r); };
    b.simulate = [](const SimulateOptions& o) {
      return carried_out(microhardness_bench(), o.method.empty() ? "hardness-vickers" : o.method, o);
    };
    return b;
  }();
  return bench;
}

const Bench& hardness_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "hardness-bench";
    b.name = "stand-in machine with a dial";
    for (const Lump& l : kDial) b.pieces.push_back({l.id, l.material});
    b.faults = {{"none", "none"}, {"block-off", "a machine that reads high"}};
    b.readings = [](const TestRecord& r, const std::string& path, int wanted) {
      const bool after = path == "specimen.block.after";
      if (after || path == "specimen.block.readings")
        return block(r, wanted, 0.25, has_fault(r, "block-off") ? 2.4 : 0, 3, after);
      return size_readings(r, lump_of(r, kDial, hardness_bench()), path);
    };
    b.draft = [](TestRecord& r) {
      const Lump& l = lump_of(r, kDial, hardness_bench());
      draft_lump(r, l);
      const bool soft = l.hardness < 240;
      type_into(r, "specimen.scale", soft ? "B" : "C");
      block_of(r, soft ? 80 : l.hardness > 600 ? 60 : 35, 1.5);
      plan(r, "grid", "5", soft ? "60" : "25");
      type_into(r, "equipment.hardness_machine.base_force", "60 kgf");
      type_list(r, "equipment.hardness_machine.plates", {"40 kgf", "50 kgf"});
    };
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Dial>(r); };
    b.simulate = [](const SimulateOptions& o) { return carried_out(hardness_bench(), "hardness-rockwell", o); };
    return b;
  }();
  return bench;
}

const Bench& brinell_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "brinell-bench";
    b.name = "stand-in ball press";
    for (const Lump& l : kPress) b.pieces.push_back({l.id, l.material});
    b.faults = {{"none", "none"}, {"oval", "oval prints"}};
    b.readings = [](const TestRecord& r, const std::string& path, int wanted) {
      const bool after = path == "specimen.block.after";
      if (after || path == "specimen.block.readings") return block(r, wanted, 1.2, 0, 4, after);
      return size_readings(r, lump_of(r, kPress, brinell_bench()), path);
    };
    b.draft = [](TestRecord& r) {
      const Lump& l = lump_of(r, kPress, brinell_bench());
      draft_lump(r, l);
      const bool bronze = std::string(l.id) == "bronze";
      type_into(r, "specimen.ball", "5 mm");
      type_into(r, "specimen.force", bronze ? "250 kgf" : "750 kgf");
      type_into(r, "specimen.dwell", "12 s");
      block_of(r, 200, 6);
      plan(r, "grid", "3", plain_number(0.9 * l.hardness, 3).c_str());
    };
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Glass>(r); };
    b.simulate = [](const SimulateOptions& o) { return carried_out(brinell_bench(), "hardness-brinell", o); };
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
