#include "core/methods/hardness_brinell/hardness_brinell.h"

#include <algorithm>
#include <cmath>

#include "core/methods/hardness_brinell/model.h"
#include "core/methods/support/skeleton.h"
#include "core/record/keyed.h"

namespace fortitor {
namespace {

constexpr double kMachineAllowed = 0.03;  // of HB (ISO 6506-2)
constexpr double kSameIndex = 0.03;       // of a force–diameter index

// ISO 6506-1, 7.5: a print counts between these parts of the ball's diameter.
constexpr double kSmallestPrint = 0.24, kLargestPrint = 0.6;
constexpr double kPerNewton = 0.102;   // kgf in a newton, as ISO 6506-1 writes it
constexpr double kLeastRatio = 1e-12;  // what rounding leaves of a print at the very edge

}  // namespace

double brinell_hardness(double force, double ball, double d) {
  if (!(force > 0) || !(ball > 0) || !(d > 0) || !(d < ball)) return NAN;
  // D − √(D² − d²) without the loss of figures for a small print.
  const double cap = d * d / (ball + std::sqrt(ball * ball - d * d));
  return kPerNewton * 2 * force / (M_PI * ball * cap);
}

std::vector<double> brinell_indices(const std::string& family, double hb) {
  auto has = [&](const char* word) { return family.find(word) != std::string::npos; };
  const bool known = std::isfinite(hb);
  if (has("iron")) return known && hb < 140 ? std::vector<double>{10} : std::vector<double>{30};
  if (has("steel") || has("nickel") || has("titan")) return {30};
  if (has("copper") || has("brass") || has("bronze")) {
    if (!known) return {10};
    return hb < 35 ? std::vector<double>{5} : hb <= 200 ? std::vector<double>{10} : std::vector<double>{30};
  }
  if (has("lead") || family == "tin" || has("tin alloy")) return {1};
  if (has("alumin") || has("magnes")) {
    if (!known) return {5, 10, 15};
    return hb < 35 ? std::vector<double>{2.5} : hb <= 80 ? std::vector<double>{5, 10, 15} : std::vector<double>{10, 15};
  }
  return {};
}

namespace brinell {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kKgf = kStandardGravity;

std::string scale_of(const State& s) {
  return (s.steel_ball ? "HBS " : "HBW ") + plain_number(s.ball, 3) + "/" + plain_number(s.force / kKgf, 4);
}

std::string list_of(const std::vector<double>& indices) {
  std::string out;
  for (size_t i = 0; i < indices.size(); ++i)
    out += (i == 0 ? "" : i + 1 == indices.size() ? " or " : ", ") + significant(indices[i], 2);
  return out;
}

double depth_of(double force, double ball, double hb) {
  return kPerNewton * force / (M_PI * ball * hb);
}

}  // namespace

std::string better_load(const std::string& family, double hb, double ball) {
  if (!(hb > 0)) return {};
  std::vector<double> indices = brinell_indices(family, hb);
  if (indices.empty()) indices = {30, 15, 10, 5, 2.5, 1};
  // The same ball first, then the others from the largest: a large print averages best.
  for (double d : {ball, 10.0, 5.0, 2.5, 1.0})
    for (double index : indices) {
      const double force = index * d * d / kPerNewton;
      const double cap = kPerNewton * force / (M_PI * d * hb), print = 2 * std::sqrt(std::max(0.0, cap * (d - cap)));
      if (cap >= d / 2 || print < kSmallestPrint * d || print > kLargestPrint * d) continue;
      return significant(force / kKgf, 3) + " kgf on a ball of " + significant(d, 2) + " mm (index " +
             significant(index, 2) + ")";
    }
  return {};
}

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.force = f.number("specimen.force").value_or(NAN);
  s.ball = f.number("specimen.ball").value_or(NAN);
  s.steel_ball = f.text("specimen.indenter") == "steel";
  const FieldSpec& column = *methods::hardness_brinell().table(kIndents)->column("d");
  s.set = indents::set_of(record, kIndents, [&](const Row& row, indents::Indent& one) {
    const auto d = cell_value(row, column, record);
    if (!d) return;
    one.hardness = brinell_hardness(s.force, s.ball, *d);
    one.size = std::isfinite(one.hardness) ? *d : NAN;
    for (const Reading& r : row.cells.readings("d")) s.resolution = indents::finer(s.resolution, r.resolution);
  });
  return s;
}

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  if (!(s.force > 0) || !(s.ball > 0)) return v;
  const double force = s.force * (1 + shift(shifts, "force")), ball = s.ball + shift(shifts, "ball");
  indents::IndentSet moved = s.set;
  double sum = 0;
  for (indents::Indent& i : moved.all) {
    if (!i.counts) continue;
    i.hardness = brinell_hardness(force, ball, i.size + shift(shifts, "eye"));
    sum += i.hardness;
  }
  const double n = double(s.set.count());
  indents::put_common(v, moved, key::hb, n > 0 ? sum / n : NAN, shifts);
  put(v, key::index, kPerNewton * force / (ball * ball));
  const double hb = get(v, key::hb);
  if (!std::isfinite(hb)) return v;
  const double depth = depth_of(force, ball, hb);
  put(v, key::diameter, s.set.mean_size() + shift(shifts, "eye"));
  put(v, key::depth, depth);
  put(v, key::min_thickness, 8 * depth);
  indents::put_derived(v, record, "HBW", hb, shifts);
  if (record.fields.text("settings.hardness_unit") == "mpa") put(v, key::hb_mpa, hb * kKgf);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord& record) {
  const State s = [&] {
    State named;
    named.force = record.fields.number("specimen.force").value_or(NAN);
    named.ball = record.fields.number("specimen.ball").value_or(NAN);
    named.steel_ball = record.fields.text("specimen.indenter") == "steel";
    return named;
  }();
  std::vector<ResultSpec> out = indents::specs_common(key::hb, s.force > 0 && s.ball > 0 ? scale_of(s) : "HBW");
  out.push_back(ledger::spec_of(key::diameter, "d", D::length, false));
  out.push_back(ledger::spec_of(key::index, "0.102F/D²", D::none, false, 3));
  out.push_back(ledger::spec_of(key::depth, "h", D::length, false, 3));
  out.push_back(ledger::spec_of(key::min_thickness, "t_min", D::length, false, 3));
  out.push_back(ledger::spec_of(key::hb_mpa, "HB", D::stress, false));
  for (ResultSpec& r : indents::specs_derived(record)) out.push_back(std::move(r));
  out.push_back(ledger::spec_of(indents::key::designation, "", D::none, true, 4, true));
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& values) {
  const double value = get(values, key), hb = get(values, key::hb);
  auto one = [&](std::string expression, std::string with, D d, std::string source = "ISO 6506-1") {
    return std::vector<Step>{{std::move(expression), std::move(with), value, d, std::move(source)}};
  };
  if (key == key::hb) {
    std::vector<Step> steps;
    for (const indents::Indent& i : s.set.all)
      if (i.counts && steps.size() < 6)
        steps.push_back({"HB = 0.102·2F/(πD(D − √(D² − d²)))",
                         "F = " + si(s.force, D::force) + ", D = " + significant(s.ball, 4) +
                             " mm, d = " + significant(i.size, 4) + " mm (indent " + std::to_string(i.row + 1) + ")",
                         i.hardness, D::none, "ISO 6506-1; d is the mean of two diameters at right angles"});
    for (Step& step : indents::how_common(key, key::hb, s.set)) steps.push_back(std::move(step));
    return steps;
  }
  if (key == key::diameter) return one("d = Σd/n", "of " + std::to_string(s.set.count()) + " indents", D::length);
  if (key == key::index)
    return one("0.102·F/D²", si(s.force, D::force) + ", " + significant(s.ball, 4) + " mm", D::none);
  if (key == key::depth)
    return one("h = 0.102·F/(π·D·HB)", si(s.force, D::force) + ", " + significant(hb, 4), D::length);
  if (key == key::min_thickness)
    return one("t = 8·h", "h = " + significant(get(values, key::depth), 3) + " mm", D::length);
  if (key == key::hb_mpa) return one("HB · 9.80665", significant(hb, 4), D::stress, "kgf/mm² as MPa");
  if (key == indents::key::converted || key == indents::key::rm_estimate)
    return indents::how_derived(key, record, "HBW", hb);
  return indents::how_common(key, key::hb, s.set);
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  if (!(s.force > 0) || !(s.ball > 0)) return;
  class_input(record, "equipment.hardness_machine.class", "force", "force of the machine", inputs, s.force);
  if (s.resolution > 0)
    inputs.push_back({"eye", "diameter, read to " + significant(s.resolution, 2) + " mm", rectangular(s.resolution)});
  inputs.push_back({"ball", "ball, 0.05 % of its diameter", rectangular(0.0005 * s.ball)});
  indents::inputs_common(s.set, {kMachineAllowed * s.set.mean(), "machine, 3 % allowed (no block was read)"},
                         indents::reading_error(s.set, s.resolution), inputs);
  indents::inputs_derived(record, "HBW", inputs);
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  const ResultValue* hb = e.find(key::hb);
  if (hb == nullptr) return;
  const std::string number = significant(hb->value, 3), kgf = plain_number(s.force / kKgf, 4);
  std::string text = number + " " + scale_of(s);
  std::string parts = number + " is the number, " +
                      (s.steel_ball ? "HBS a ball of steel, " : "HBW a ball of hard metal, ") + significant(s.ball, 3) +
                      " its diameter in mm, " + kgf + " the force in kgf";
  text += indents::dwell_in(record, parts);
  add_text(e, specs(record), indents::key::designation, text,
           {{text, parts, hb->value, D::none, "ISO 6506-1, designation"}});
}

// Two diameters of one print that are not alike: one was misread, or the material flows more one way. Their mean is
// taken all the same, and said.
void judge_oval(Evaluation& e, const Rows& rows) {
  constexpr double kOval = 0.04;  // of the mean: two readings of a round print agree within 1 to 2 %
  std::string oval;
  double worst = 0;
  for (size_t i = 0; i < rows.size(); ++i) {
    double least = HUGE_VAL, most = 0;
    for (const Reading& r : rows[i].cells.readings("d"))
      if (r.value) least = std::min(least, *r.value), most = std::max(most, *r.value);
    const double apart = most > least ? (most - least) / (0.5 * (most + least)) : 0;
    if (!rows[i].used() || apart <= kOval) continue;
    oval += (oval.empty() ? "" : ", ") + std::to_string(i + 1);
    worst = std::max(worst, apart);
  }
  if (oval.empty()) return;
  raise(e, "print-oval", Severity::check,
        "The two diameters of indent " + oval + " differ by " + percent(worst) +
            ": read them again; if it stays, the material flows more one way, and the mean of the two is taken.",
        {{"asymmetry", worst}}, {}, key::hb);
}

void add_findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  const std::string family = record.fields.text("specimen.family");
  const double hb = get(v, key::hb);
  std::vector<double> widths;
  for (const indents::Indent& i : s.set.all) widths.push_back(i.size);
  indents::judge_derived(e, record, "HBW", s.set.mean());
  indents::judge_common(e, record, s.set, key::hb, get(v, key::min_thickness), "eight depths", spacing_of(record),
                        widths);
  std::string outside;
  double worst = 0, farthest = 0;  // outside the range, in parts of the ball
  const FieldSpec& column = *methods::hardness_brinell().table(kIndents)->column("d");
  const Rows& rows = record.run.rows(kIndents);
  for (size_t i = 0; i < rows.size(); ++i) {
    const auto d = cell_value(rows[i], column, record);
    if (!d || !(s.ball > 0) || !rows[i].used() || (!s.set.all[i].counts && std::isfinite(s.set.all[i].hardness)))
      continue;
    const double ratio = *d / s.ball;
    const double off = std::max(kSmallestPrint - ratio, ratio - kLargestPrint);
    if (off <= kLeastRatio) continue;
    outside += (outside.empty() ? "" : ", ") + std::to_string(i + 1);
    if (off > farthest) {
      farthest = off;
      worst = ratio;
    }
  }
  if (!outside.empty()) {
    const std::string better = better_load(family, hb, s.ball);
    raise(e, "indent-size", Severity::check,
          "The print of indent " + outside + " is " + significant(worst, 3) +
              " of the ball; it must lie between 0.24 and 0.6." + (better.empty() ? "" : " " + better + " would do."),
          {{"ratio", worst}}, {}, key::hb);
  }
  judge_oval(e, rows);
  const double index = s.index();
  const std::vector<double> suited = brinell_indices(family, hb);
  if (std::isfinite(index) && std::isfinite(hb) && !suited.empty() &&
      std::none_of(suited.begin(), suited.end(), [&](double i) { return std::abs(index / i - 1) < kSameIndex; })) {
    const std::string better = better_load(family, hb, s.ball);
    raise(e, "index-unsuited", Severity::check,
          "The force–diameter index is " + significant(index, 3) + "; for " + family + " of " + significant(hb, 3) +
              " HB it should be " + list_of(suited) + ", or the number cannot be compared." +
              (better.empty() ? "" : " " + better + " would do."),
          {{"index", index}}, {}, key::hb);
  }
  if (s.steel_ball && hb > 350)
    raise(e, "steel-ball", Severity::void_test,
          "A steel ball flattens above 350 HB; the mean is " + significant(hb, 3) +
              ". Read it with a ball of hard metal.",
          {{"hb", hb}}, {}, key::hb);
  else if (s.steel_ball)
    raise(e, "steel-ball", Severity::note, "HBS with a steel ball is kept for old records only.", {}, {}, key::hb);
}

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  RowValue each{kIndents, key::hb, "HB", D::none, {}};
  for (const indents::Indent& i : s.set.all) each.values.push_back(i.hardness);
  e.row_values = {each};
  indents::add_figures(e, record, s.set, key::hb, s.steel_ball ? "HBS" : "HBW", "HBW");
}

std::vector<Clearance> clearances(const TestRecord& record, size_t row) {
  const State s = look(record);
  const double read = s.set.mean_size(), size = std::isfinite(read) ? read : expected_size(record);
  return indents::room_of(record, s.set, row, size, s.set.count() > 0 ? 8 * depth_of(s.force, s.ball, s.set.mean()) : 0,
                          spacing_of(record), *methods::hardness_brinell().keyed_table());
}

}  // namespace brinell

namespace methods {

const Method& hardness_brinell() {
  static const Method method = [] {
    Parts<brinell::State> parts;
    parts.describe = brinell::describe;
    parts.results = brinell::specs;
    parts.look = brinell::look;
    parts.compute = brinell::compute;
    parts.how = brinell::how;
    parts.inputs = brinell::add_inputs;
    parts.words = brinell::words;
    parts.findings = brinell::add_findings;
    parts.figures = brinell::figures;
    parts.doubted = {brinell::key::hb};
    Method m = method_of("hardness-brinell", "ISO 6506-1, ASTM E10", parts);
    m.clearances = brinell::clearances;
    return m;
  }();
  return method;
}

}  // namespace methods
}  // namespace fortitor
