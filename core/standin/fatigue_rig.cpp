// The stand-in fatigue rig: pieces with scatter on their life, a limit below which nothing breaks, cycles fast-forwarded.
#include <algorithm>
#include <cmath>
#include <memory>
#include <random>

#include "core/bench/call_out.h"
#include "core/methods/method.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Detail {
  const char *id, *material, *family;
  double category, strength, slope, sd, limit, limit_sd;  ///< MPa; mean range at 2·10⁶, of log N; limit and its scatter
};
constexpr Detail kDetails[] = {{"bracket-weld", "bracket weld, fillet", "carbon steel", 71, 104, 3.2, 0.17, 78, 4},
                               {"ground-weld", "bracket weld, toe ground", "carbon steel", 90, 138, 3.4, 0.15, 110, 5},
                               {"axle-steel", "42CrMo4+QT", "alloy steel", 0, 420, 9, 0.2, 340, 12}};

std::vector<double> levels_of(const TestRecord& r) {
  const Detail& d = find_in(kDetails, r);
  std::vector<double> out;
  for (double share : {1.9, 1.5, 1.2, 0.95, 0.75}) out.push_back(std::round(share * d.strength / 5) * 5);
  return out;
}

class Rig : public StepMachine {
 public:
  explicit Rig(const TestRecord& r) : record_(r) {}
  void know(const TestRecord& r) override { record_ = r; }
  void balance() override {}
  Outcome<Done> go_to(double row) override {
    row_ = size_t(std::max(0.0, row));
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    const Detail& d = find_in(kDetails, record_);
    std::mt19937_64 random(seed_of(record_) * 7351 + row_ * 193 + 5);
    std::normal_distribution<double> n;
    for (int i = 0; i < 3; ++i) n(random);
    const double luck = n(random), limit = d.limit + d.limit_sd * n(random);
    const Rows& rows = record_.run.rows("points");
    const std::optional<double> typed = row_ < rows.size() ? rows[row_].number("range") : std::nullopt;
    const double range = typed ? *typed : level();
    const double most = record_.fields.number("settings.plan.runout").value_or(1e7);
    double cycles = std::pow(10, std::log10(2e6) + d.slope * std::log10(d.strength / range) + d.sd * luck);
    const bool out = range < limit || cycles > most;
    if (out) cycles = most;
    return {{"range", shown(range, 1, "MPa")}, {"amplitude", shown(range / 2, 1, "MPa")}, {"cycles", std::to_string(long(cycles))},
            {"runout", out ? "true" : "false"}};
  }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }

 private:
  // The next level: of the staircase where one is climbed, else the levels in turn.
  double level() const {
    const Detail& d = find_in(kDetails, record_);
    const Rows& rows = record_.run.rows("points");
    if (record_.fields.text("settings.analysis") != "staircase") {
      const std::vector<double> levels = levels_of(record_);
      return levels[row_ % levels.size()];
    }
    const double step = record_.fields.number("settings.staircase.step").value_or(d.limit_sd);
    for (size_t i = std::min(row_, rows.size()); i-- > 0;)
      if (const auto last = rows[i].number("range")) return *last + (rows[i].cells.flag("runout") ? step : -step);
    return std::round(d.limit / 5) * 5;
  }
  TestRecord record_;
  size_t row_ = 0;
};

void draft(TestRecord& r) {
  const Detail& d = find_in(kDetails, r);
  type_into(r, "specimen.material", d.material);
  type_into(r, "specimen.family", d.family);
  if (d.category > 0) type_into(r, "specimen.detail_category", shown(d.category, 1, "MPa"));
  type_into(r, "settings.frequency", "10 Hz");
  type_into(r, "equipment.load_cell.class", "1");
}

}  // namespace

const Bench& fatigue_rig() {
  static const Bench bench = [] {
    Bench b;
    b.id = "fatigue-rig";
    b.name = "stand-in fatigue rig";
    for (const Detail& d : kDetails) b.pieces.push_back({d.id, d.material});
    b.faults = {{"none", "none"}, {"staircase", "a staircase is climbed"}};
    b.readings = [](const TestRecord&, const std::string&, int) { return std::vector<std::string>{}; };
    b.draft = draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Rig>(r); };
    b.simulate = [](const SimulateOptions& o) {
      TestRecord r = measured_piece(fatigue_rig(), "fatigue-constant", o);
      if (has_fault(r, "staircase")) {
        type_into(r, "settings.analysis", "staircase");
        type_into(r, "settings.staircase.step", "5 MPa");
      }
      run_stepwise(fatigue_rig(), r);
      return r;
    };
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
