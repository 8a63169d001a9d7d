#include "core/methods/support/blows.h"

#include <algorithm>

#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/figures.h"
#include "core/methods/support/possible.h"
#include "core/methods/support/timing.h"
#include "core/quantity/date.h"

namespace fortitor::blows {

using namespace fortitor::ledger;
using D = Dimension;

namespace {

// Relative, where no verification is entered; of the hammer's energy; of its moment.
constexpr double kMachineTaken = 0.01, kAvailableKnown = 0.01, kMomentKnown = 0.005;

constexpr double kDegree = M_PI / 180;

std::string joule(double v) {
  return significant(v, 4) + " J";
}

// Pieces take the temperature of a liquid in 5 minutes, of a gas in 30 (ISO 148-1).
void judge_soak(Evaluation& e, const TestRecord& record, const std::string& key) {
  const std::string bath = record.fields.text("settings.bath");
  const auto stated = record.fields.number("specimen.soak.stated"),
             passed = record.fields.number("specimen.soak.elapsed");
  const double least = bath == "liquid" ? 300 : bath == "gas" ? 1800 : 0;
  const double wanted = std::max(least, stated.value_or(0));
  if (least == 0 || !passed || *passed >= wanted) return;
  raise(e, "soak-short", Severity::check,
        "The pieces lay " + si(*passed, D::time, 3) + " in the " + (bath == "gas" ? "gas" : "bath") + "; " +
            si(wanted, D::time, 3) + " are wanted before they have its temperature.",
        {{"seconds", *passed}}, {}, key);
}

}  // namespace

Swing swing_of(const Fields& f) {
  // As typed for this set; else what the Kit says of the pendulum, its free swing of the day included.
  auto known = [&](const char* here, const char* kit) {
    const auto own = f.number(here);
    return own ? own : f.number(kit);
  };
  Swing s;
  s.mass = known("run.pendulum.mass", "equipment.pendulum.mass").value_or(0);
  s.length = known("run.pendulum.length", "equipment.pendulum.length").value_or(0);
  s.start = known("run.free_swing.alpha", "equipment.pendulum.free_start");
  s.free_rise = known("run.free_swing.beta", "equipment.pendulum.free_rise");
  return s;
}

double free_loss(const Swing& s) {
  return s.start && s.free_rise ? s.moment() * (std::cos(*s.free_rise) - std::cos(*s.start)) : NAN;
}

double energy_of_swing(const Swing& s, double start, double rise) {
  double energy = s.moment() * (std::cos(rise) - std::cos(start));
  const double loss = free_loss(s);
  if (std::isfinite(loss)) energy -= loss * (start + rise) / (*s.start + *s.free_rise);
  return energy;
}

std::vector<const Blow*> Set::counted() const {
  std::vector<const Blow*> out;
  for (const Blow& b : all)
    if (b.counts) out.push_back(&b);
  return out;
}

bool Set::second() const {
  return std::any_of(all.begin(), all.end(), [](const Blow& b) { return b.counts && b.second; });
}

bool Set::by_angles() const {
  return std::any_of(all.begin(), all.end(), [](const Blow& b) { return b.counts && b.by_angles; });
}

Set set_of(const TestRecord& record, const Shifts& shifts) {
  Set s;
  s.swing = swing_of(record.fields);
  s.swing.mass *= 1 + shift(shifts, "moment");
  const double off = shift(shifts, "angle"), scale = 1 + shift(shifts, "machine"), read = shift(shifts, "scale");
  if (const auto entered = record.fields.number("specimen.available_energy"))
    s.available = *entered * (1 + shift(shifts, "available"));
  else if (const auto plate = record.fields.number("equipment.pendulum.capacity"))
    s.available = *plate * (1 + shift(shifts, "available"));
  else if (s.swing.known() && s.swing.start)
    s.available = s.swing.moment() * (1 - std::cos(*s.swing.start));
  const Rows& rows = record.run.rows(kTable);
  for (size_t i = 0; i < rows.size(); ++i) {
    const Row& row = rows[i];
    Blow b;
    b.row = i;
    b.piece = row.cells.text("piece");
    b.look = row.cells.text("break");
    b.jammed = row.cells.flag("jammed");
    b.second = row.cells.flag("second_set");
    b.unbroken = b.look == "N";
    b.from_bath = row.number("from_bath").value_or(NAN);
    b.ligament = row.number("ligament").value_or(NAN);
    b.width = row.number("width").value_or(NAN);
    if (const auto energy = row.number("energy")) {
      b.energy = *energy * scale + read;
      if (const Reading* r = row.reading("energy"))
        s.resolution = s.resolution > 0 ? std::min(s.resolution, r->resolution) : r->resolution;
    } else if (const auto rise = row.number("beta"); rise && s.swing.known()) {
      const auto own = row.number("alpha");
      const auto start = own ? own : s.swing.start;
      if (start) {
        b.energy = energy_of_swing(s.swing, *start, *rise + off) * scale;
        b.by_angles = true;
      }
    }
    b.counts = row.used() && std::isfinite(b.energy) && !b.jammed;
    s.all.push_back(b);
  }
  return s;
}

void judge_common(Evaluation& e, const TestRecord& record, const Set& set, const std::string& key) {
  std::string over, under, none, late, jammed;
  auto name = [&](std::string& list, const Blow& b) { list += (list.empty() ? "" : ", ") + b.name(); };
  double most = 0, least = HUGE_VAL, latest = 0;
  for (const Blow& b : set.all) {
    if (b.jammed) name(jammed, b);
    if (!b.counts) continue;
    if (b.energy <= 0) name(none, b);
    if (b.energy > kTooMuch * set.available) name(over, b), most = std::max(most, b.energy);
    if (b.energy > 0 && b.energy < kTooLittle * set.available) name(under, b), least = std::min(least, b.energy);
    if (b.from_bath > kFromBath + 1e-9) name(late, b), latest = std::max(latest, b.from_bath);
  }
  for (const Blow& b : set.all) {
    // What a scale reads may be a hair above what the hammer has.
    constexpr double kReadAbove = 1.02;
    const std::string which = "Blow " + b.name();
    if (set.available > 0 && b.energy > kReadAbove * set.available && !b.by_angles)
      possible::cannot_be(e, which + " took " + joule(b.energy) + " of a hammer that has " + joule(set.available) + ".",
                          key);
    const auto rise = record.run.rows(kTable)[b.row].number("beta");
    if (b.by_angles && rise && set.swing.start && *rise > *set.swing.start)
      possible::cannot_be(e,
                          which + " rose to " + si(*rise, D::angle, 4) + ", higher than the start at " +
                              si(*set.swing.start, D::angle, 4) + ".",
                          key);
  }
  if (set.swing.start && set.swing.free_rise && *set.swing.free_rise > *set.swing.start)
    possible::cannot_be(e,
                        "The free swing rose to " + si(*set.swing.free_rise, D::angle, 4) +
                            ", higher than its start at " + si(*set.swing.start, D::angle, 4) + ".",
                        key);
  if (!jammed.empty())
    raise(e, "jammed", Severity::note,
          "Blow " + jammed +
              ": a half stuck between hammer and anvil. That energy is no property of the piece and does "
              "not count.",
          {}, {}, key);
  if (!none.empty())
    raise(
        e, "no-energy", Severity::check,
        "Blow " + none +
            " took no energy: the piece was not hit, the pointer not set, or the reading is wrong. It counts until it "
            "is set aside.",
        {}, {}, key);
  if (!over.empty())
    raise(e, "over-capacity", Severity::check,
          "Blow " + over + " took " + joule(most) + ", more than 80 % of the " + joule(set.available) +
              " available: the hammer is nearly stopped. Use a heavier one, or report it as approximate.",
          {{"energy", most}, {"available", set.available}}, {}, key);
  if (!under.empty())
    raise(e, "under-scale", Severity::note,
          "Blow " + under + " took " + joule(least) + ", less than a tenth of the " + joule(set.available) +
              " available: a lighter hammer reads it better.",
          {{"energy", least}, {"available", set.available}}, {}, key);
  const double loss = free_loss(set.swing);
  if (std::isfinite(loss) && set.available > 0 && loss > kLossAllowed * set.available)
    raise(
        e, "friction", Severity::check,
        "The free swing lost " + joule(loss) + ", " + percent(loss / set.available) +
            " of the scale; half a per cent is allowed. It is taken off every blow in proportion; look to bearings and "
            "pointer.",
        {{"loss", loss}}, {}, key);
  const std::string checked = record.fields.text("equipment.pendulum.checked"), day = day_of_test(record, {});
  if (!checked.empty() && !day.empty() && checked != day && !record.fields.has("run.free_swing.beta"))
    raise(e, "friction-old", Severity::check,
          "The free swing of the pendulum is that of " + day_words(checked) +
              ", not of the day of the test. Swing once without a "
              "piece each day.",
          {}, {}, key);
  judge_soak(e, record, key);
  const auto temperature = record.fields.number("specimen.temperature");
  if (!late.empty() && temperature && std::abs(*temperature - 23) > 5)
    raise(e, "late-from-bath", Severity::check,
          "Blow " + late + " fell " + significant(latest, 2) +
              " s after leaving the bath; 5 s are allowed. The piece was "
              "not at " +
              si(*temperature, D::temperature, 3) + " any more.",
          {{"seconds", latest}}, {}, key);
  if (!temperature && std::any_of(set.all.begin(), set.all.end(), [](const Blow& b) { return b.counts; }))
    raise(e, "temperature-missing", Severity::check,
          "The temperature of the pieces is not entered: an impact energy says nothing without it.", {}, {}, key);
}

// The machine by its indirect verification (ISO 148-2, 8; ISO 148-1, annex on uncertainty): its bias, which is not
// corrected, and how it repeats over the five reference pieces; one per cent where nothing is entered.
static UncertainInput machine_input(const TestRecord& record) {
  const auto energy = record.fields.number("equipment.pendulum.reference_energy");
  const auto bias = record.fields.number("equipment.pendulum.bias");
  if (!energy || !bias || !(*energy > 0))
    return {"machine", "machine, 1 % (ISO 148-2, indirect verification not entered)", rectangular(kMachineTaken)};
  // Mean range of five normal values: 2.326 standard deviations.
  constexpr double kRangeOfFive = 2.326, kPieces = 5;
  const double repeat =
      record.fields.number("equipment.pendulum.repeatability").value_or(0) / kRangeOfFive / std::sqrt(kPieces);
  return {"machine", "machine, off by " + joule(*bias) + " on reference pieces of " + joule(*energy) + " (ISO 148-2)",
          std::hypot(rectangular(*bias), repeat) / *energy, UncertainInput::Shape::normal};
}

constexpr double kRiseRead = 0.1 * kDegree;  // of a drag pointer

double reading_error(const Set& set) {
  // By the rise at its steepest, half of what the hammer has a radian.
  return set.by_angles() ? 0.5 * set.available * rectangular(kRiseRead) : rectangular(set.resolution / 2);
}

void inputs_common(const TestRecord& record, const Set& set, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  const std::vector<const Blow*> counted = set.counted();
  if (counted.empty()) return;
  if (set.resolution > 0) inputs.push_back({"scale", "scale, half of its digit", rectangular(set.resolution / 2)});
  if (set.by_angles()) {
    inputs.push_back({"angle", "rise, read to 0.1°", rectangular(kRiseRead)});
    inputs.push_back({"moment", "m·g·L_p, 0.5 %", rectangular(kMomentKnown)});
  }
  inputs.push_back(machine_input(record));
  inputs.push_back(
      {"available", "energy of the hammer, 1 % (ISO 148-2, direct verification)", rectangular(kAvailableKnown)});
  if (counted.size() < 2) return;
  double mean = 0, sum = 0;
  for (const Blow* b : counted) mean += b->energy / double(counted.size());
  for (const Blow* b : counted) sum += (b->energy - mean) * (b->energy - mean);
  const double n = double(counted.size()), sd = std::sqrt(sum / (n - 1));
  inputs.push_back({"scatter", "scatter of " + std::to_string(counted.size()) + " blows",
                    mean > 0 ? sd / std::sqrt(n) / mean : 0, Shape::normal, n - 1});
}

void describe_common(Method& m) {
  using namespace fortitor::fields;
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  const Stage set_up = Stage::set_up;
  add(quantity("specimen.temperature", D::temperature, Stage::prepare, "T", true));
  add(of_series(quantity("specimen.available_energy", D::energy, set_up)));
  add(of_series(quantity("specimen.striker", D::length, set_up)));
  add(of_series(quantity("run.pendulum.mass", D::mass, set_up, "m")));
  add(of_series(quantity("run.pendulum.length", D::length, set_up, "L_p")));
  for (const auto& [path, label, symbol] :
       {std::tuple{"run.free_swing.alpha", "Start", "α"}, {"run.free_swing.beta", "Rise of the free swing", "β₀"}})
    add(of_series(quantity(path, D::angle, set_up, symbol)));
  add(of_series(choice("settings.reads", set_up, {"energy", "angle"}, true)));
  add(of_series(number("settings.blows", Stage::prepare)));
  add(of_series(choice("settings.bath", Stage::prepare, {"air", "liquid", "gas"}, true)));
  // Both only where there is a bath or a chamber.
  auto soaked = [](FieldSpec f) {
    f.when_path = "settings.bath";
    f.when_value = "liquid|gas";
    return f;
  };
  add(of_series(soaked(quantity("specimen.soak.stated", D::time, Stage::prepare))));
  add(of_piece(soaked(quantity("specimen.soak.elapsed", D::time, Stage::prepare))));
  m.timers.push_back({"specimen.soak.stated", "specimen.soak.elapsed", {}, "soak-short"});
  add(of_series(choice("settings.looks", set_up, {"no", "yes"}, true)));
  m.equipment.push_back(equipment::pendulum());
  TableSpec t;
  t.id = kTable;
  auto only = [](FieldSpec f, const char* path, const char* value, bool otherwise = false) {
    f.when_path = path;
    f.when_value = value;
    f.when_default = otherwise;
    return f;
  };
  FieldSpec piece = text("piece", Stage::run);
  FieldSpec energy = only(quantity("energy", D::energy, Stage::run, "K"), "settings.reads", "energy", true);
  FieldSpec beta = only(column("beta", D::angle), "settings.reads", "angle");
  FieldSpec alpha = column("alpha", D::angle);
  FieldSpec bath = only(quantity("from_bath", D::time, Stage::run, "t"), "settings.bath", "liquid|gas");
  bath.may_be_zero = energy.may_be_zero = true;
  piece.planned = alpha.planned = true;
  beta.symbol = "β";
  FieldSpec shear = only(quantity("shear", D::elongation, Stage::run, "SA"), "settings.looks", "yes");
  FieldSpec expansion = only(quantity("lateral_expansion", D::length, Stage::run, "LE"), "settings.looks", "yes");
  FieldSpec bend = only(quantity("bend_angle", D::angle, Stage::run, "bend"), "settings.looks", "yes");
  shear.may_be_zero = expansion.may_be_zero = true;
  FieldSpec look = choice("break", Stage::run, {"C", "H", "P", "N"});
  FieldSpec jammed = flag("jammed", Stage::run);
  FieldSpec ligament = quantity("ligament", D::length, Stage::run), width = quantity("width", D::length, Stage::run);
  ligament.planned = width.planned = true;
  t.columns = {piece, energy, beta, bath, shear, expansion, bend, look, jammed, alpha, ligament, width};
  t.usual = 3;
  t.stopwatch = "from_bath";
  t.instrument = "halves";
  // Pieces are numbered as they come; plastics want five of them, metals three.
  t.planned_rows = [](const TestRecord& r) {
    const auto wanted = r.fields.number("settings.blows");
    const bool plastic = r.fields.text("specimen.arrangement") == "cantilever-plastic";
    std::vector<Fields> rows(size_t(std::clamp(wanted.value_or(plastic ? 5 : 3), 1.0, 100.0)));
    for (size_t i = 0; i < rows.size(); ++i) rows[i].set("piece", std::to_string(i + 1));
    return rows;
  };
  const std::string plastic_only = "specimen.arrangement=cantilever-plastic";
  t.marks = {{'J', "jammed", "true"},
             {'U', "break", "N"},
             {'C', "break", "C", {}, plastic_only},
             {'H', "break", "H", {}, plastic_only},
             {'P', "break", "P", {}, plastic_only}};
  m.tables = {t};
  m.run_time = [table = t](const TestRecord& r) {
    constexpr double kEach = 40;  // out of the bath, against the stops, the blow, the halves
    return timing::readings(r, table, kEach);
  };
}

RowValue energies(const Set& set) {
  RowValue each{kTable, "energy", "K", D::energy, {}};
  for (const Blow& b : set.all) each.values.push_back(b.energy);
  return each;
}

Figure figure_of(const Evaluation& e, const TestRecord& record, const Set& set, const std::string& key,
                 const std::string& least, const std::vector<std::pair<std::string, double>>& wanted) {
  ReadingsSheet sheet{"blows", "energy by blow", "blow", "energy", D::energy};
  for (const Blow& b : set.all) {
    sheet.names.push_back(b.name());
    sheet.values.push_back(b.energy);
    sheet.counts.push_back(b.counts);
    sheet.bound.push_back(b.unbroken ? 1 : 0);
  }
  sheet.key = key;
  sheet.mean_label = "mean";
  sheet.wanted = wanted;
  // The least of the set is one blow: its U is that of any of them.
  if (const ResultValue* r = e.find(least); r != nullptr && r->value > 0) sheet.relative = r->expanded() / r->value;
  return sheet.figure(e, record);
}

}  // namespace fortitor::blows
