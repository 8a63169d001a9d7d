// The stand-in fatigue rig: pieces with scatter on their life, a limit below which nothing breaks, cycles
// fast-forwarded.
#include <algorithm>
#include <cmath>
#include <memory>
#include <random>

#include "core/bench/call_out.h"
#include "core/methods/method.h"
#include "core/section/section.h"
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

// One piece of the detail: its luck, its own limit.
struct Piece {
  double range = 0, cycles = 0;  ///< MPa; to the break, or to the run-out
  bool out = false;
};

Piece piece_at(const TestRecord& record, size_t row, double range, double most) {
  const Detail& d = find_in(kDetails, record);
  std::mt19937_64 random(seed_of(record) * 7351 + row * 193 + 5);
  std::normal_distribution<double> n;
  for (int i = 0; i < 3; ++i) n(random);
  const double luck = n(random), limit = d.limit + d.limit_sd * n(random);
  Piece p{range, std::pow(10, std::log10(2e6) + d.slope * std::log10(d.strength / range) + d.sd * luck)};
  p.out = range < limit || p.cycles > most;
  if (p.out) p.cycles = most;
  return p;
}

double most_of(const TestRecord& r) {
  return r.fields.number("settings.plan.runout").value_or(1e7);
}

std::optional<double> range_in(const Fields& cells, const TestRecord& record) {
  if (const auto range = cells.number("range")) return range;
  if (const auto amplitude = cells.number("amplitude")) return 2 * *amplitude;
  const double area = section_of(record.fields).area;
  if (const auto force = cells.number("force"); force && area > 0) return *force / area;
  return std::nullopt;
}

// What a finished piece leaves in its row, in every way a level may be typed.
std::map<std::string, std::string> cells_of(const TestRecord& record, size_t row, const Piece& p) {
  const bool unmarked = has_fault(record, "unmarked") && row / 4 % 2 == 0;  // some of those that ran out, not all
  std::map<std::string, std::string> out = {{"range", shown(p.range, 1, "MPa")},
                                            {"amplitude", shown(p.range / 2, 1, "MPa")},
                                            {"cycles", std::to_string(long(p.cycles))},
                                            {"runout", p.out && !unmarked ? "true" : "false"}};
  if (const double area = section_of(record.fields).area; area > 0) out["force"] = shown(p.range * area / 1e3, 3, "kN");
  return out;
}

// The next level: as planned, of the staircase where one is climbed, else the usual levels in turn.
double level_of(const TestRecord& record, size_t row) {
  const Detail& d = find_in(kDetails, record);
  const TableSpec* table = methods::find("fatigue-constant")->keyed_table();
  if (const auto planned = table->planned_rows(record); row < planned.size())
    if (const auto range = range_in(planned[row], record)) return *range;
  const Rows& rows = record.run.rows("points");
  if (record.fields.text("settings.analysis") != "staircase") {
    const std::vector<double> levels = levels_of(record);
    return levels[row % levels.size()];
  }
  const double step = record.fields.number("settings.staircase.step").value_or(d.limit_sd);
  for (size_t i = std::min(row, rows.size()); i-- > 0;)
    if (const auto last = range_in(rows[i].cells, record)) return *last + (rows[i].cells.flag("runout") ? step : -step);
  return std::round(d.limit / 5) * 5;
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
    const Rows& rows = record_.run.rows("points");
    const std::optional<double> typed = row_ < rows.size() ? range_in(rows[row_].cells, record_) : std::nullopt;
    return cells_of(record_, row_, piece_at(record_, row_, typed ? *typed : level_of(record_, row_), most_of(record_)));
  }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }

 private:
  TestRecord record_;
  size_t row_ = 0;
};

// The same piece under the rig's own counter. A crack begins at about half its life and grows: the stiffness falls,
// gauges along the toe let go one after the other, the nearest first.
class SlowRig : public LongMachine {
 public:
  SlowRig(const TestRecord& record, const LongOrder& order) : record_(record), order_(order) {
    const auto range = range_in(order.cells, record);
    piece_ = piece_at(record, order.row, range ? *range : level_of(record, order.row), order.most);
    gauges_ = size_t(std::clamp(record.fields.number("settings.gauges.count").value_or(0), 0.0, 12.0));
    drop_ = record.fields.number("settings.limit.stiffness").value_or(0);
    std::mt19937_64 random(seed_of(record) * 977 + order.row * 71 + 3);
    nearest_ = size_t(random() % std::max<size_t>(gauges_, 1));
    begins_ = piece_.out ? HUGE_VAL : piece_.cycles * (0.45 + 0.15 * double(random() % 1000) / 1000);
    stops_ = piece_.cycles;
    if (drop_ > 0 && !piece_.out)
      stops_ = std::min(stops_, begins_ + (piece_.cycles - begins_) * std::pow(drop_ / kLost, 0.25));
  }
  LongStatus after(double seconds) const override {
    LongStatus s;
    s.cycles = std::floor(std::min(std::max(0.0, seconds) * order_.frequency, stops_));
    s.ended = s.cycles >= std::floor(stops_);
    const double grown = s.cycles > begins_ ? (s.cycles - begins_) / (piece_.cycles - begins_) : 0;
    s.stiffness = 1 - kLost * std::pow(grown, 4);
    for (size_t g = 0; g < gauges_; ++g) {
      const double far = std::abs(double(g) - double(nearest_)) * 0.12;
      // Noise that is the same whenever this count is asked for.
      std::mt19937_64 random(seed_of(record_) * 31 + order_.row * 17 + g * 101 + uint64_t(s.cycles));
      std::normal_distribution<double> n;
      const double level = piece_.range / 0.21 * (1 - 0.02 * double(g % 3));
      s.gauges.push_back(level * (1 - 0.7 * std::max(0.0, grown - far)) + 1.5 * n(random));
    }
    if (!s.ended) return s;
    Piece p = piece_;
    p.cycles = s.cycles;
    s.ran_out = p.out;
    s.broken = !p.out && stops_ >= piece_.cycles;
    s.message = p.out      ? "It ran out."
                : s.broken ? "The piece broke."
                           : "The stiffness fell to its limit: the rig stopped before the piece parted.";
    s.cells = cells_of(record_, order_.row, p);
    return s;
  }

 private:
  static constexpr double kLost = 0.5;  // share of the stiffness that is gone when the piece parts
  TestRecord record_;
  LongOrder order_;
  Piece piece_;
  size_t gauges_ = 0, nearest_ = 0;
  double begins_ = 0, stops_ = 0, drop_ = 0;
};

void rig_draft(TestRecord& r) {
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
    b.faults = {{"none", "none"}, {"staircase", "a staircase is climbed"}, {"unmarked", "a run-out noted as a break"}};
    b.readings = [](const TestRecord&, const std::string&, int) { return std::vector<std::string>{}; };
    b.draft = rig_draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Rig>(r); };
    b.long_machine = [](const TestRecord& r, const LongOrder& order) { return std::make_unique<SlowRig>(r, order); };
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
