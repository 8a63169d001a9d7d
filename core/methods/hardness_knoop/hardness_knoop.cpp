#include "core/methods/hardness_knoop/hardness_knoop.h"

#include <algorithm>
#include <cmath>

#include "core/methods/hardness_knoop/model.h"
#include "core/methods/support/skeleton.h"
#include "core/record/keyed.h"

namespace fortitor::knoop {

using namespace ledger;
using D = Dimension;

double hk_of(double force, double length) {
  return force / kStandardGravity / (kProjected * length * length);
}

namespace {

constexpr double kLopsided = 0.1;         // of the long diagonal: its halves differ (ISO 4545-1)
constexpr double kMachineAllowed = 0.03;  // of HK (ISO 4545-2)

std::string scale_of(double force) {
  return "HK " + plain_number(force / kStandardGravity, 4);
}

// The two halves of the long diagonal where its middle was read: their difference over the whole; NaN otherwise.
double lopsided(const Row& row) {
  const Readings ends = row.cells.readings("d1"), middle = row.cells.readings("middle");
  if (ends.size() != 2 || middle.size() != 1 || ends[0].missed() || ends[1].missed() || middle[0].missed()) return NAN;
  if (!ends[0].counted || !ends[1].counted || !middle[0].counted) return NAN;
  const double a = std::abs(*middle[0].value - *ends[0].value), b = std::abs(*ends[1].value - *middle[0].value);
  return std::max(a, b) > 0 ? std::abs(a - b) / std::max(a, b) : NAN;
}

}  // namespace

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.force = f.number("specimen.force").value_or(NAN);
  s.division = f.number("specimen.division").value_or(0);
  const FieldSpec& column = *methods::hardness_knoop().table(kIndents)->column("d1");
  s.set = indents::set_of(record, kIndents, [&](const Row& row, indents::Indent& one) {
    s.lopsided.push_back(lopsided(row));
    const auto length = cell_value(row, column, record);
    if (!length || !(*length > 0) || !(s.force > 0)) return;
    one.size = *length;
    one.hardness = hk_of(s.force, *length);
    for (const Reading& r : row.cells.readings("d1"))
      s.resolution = indents::finer(s.resolution, r.counted ? std::max(0.5, r.resolution) * s.division : r.resolution);
  });
  return s;
}

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  if (!(s.force > 0)) return v;
  indents::IndentSet moved = s.set;
  double sum = 0;
  for (indents::Indent& i : moved.all) {
    if (!i.counts) continue;
    i.hardness =
        hk_of(s.force * (1 + shift(shifts, "force")), i.size * (1 + shift(shifts, "division")) + shift(shifts, "eye"));
    sum += i.hardness;
  }
  const double n = double(s.set.count());
  indents::put_common(v, moved, key::hk, n > 0 ? sum / n : NAN, shifts);
  if (n == 0) return v;
  const double length = s.set.mean_size() + shift(shifts, "eye"), hk = get(v, key::hk);
  put(v, key::diagonal, length);
  if (s.division > 0) put(v, key::division_effect, 2 * hk / length * s.division);
  put(v, key::depth, length / 30);  // the pyramid of 172.5° and 130° is a thirtieth as deep as its print is long
  put(v, key::min_thickness, length / 3);
  indents::put_derived(v, record, "HK", hk, shifts);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord& record) {
  const auto force = record.fields.number("specimen.force");
  std::vector<ResultSpec> out = indents::specs_common(key::hk, force ? scale_of(*force) : "HK");
  out.push_back(ledger::spec_of(key::diagonal, "L", D::length, false, 3));
  out.push_back(ledger::spec_of(key::division_effect, "ΔHK", D::none, false, 3));
  out.push_back(ledger::spec_of(key::depth, "h", D::length, false, 3));
  out.push_back(ledger::spec_of(key::min_thickness, "t_min", D::length, false, 3));
  for (ResultSpec& r : indents::specs_derived(record))
    if (r.key == indents::key::converted) out.push_back(std::move(r));
  out.push_back(ledger::spec_of(indents::key::designation, "", D::none, true, 4, true));
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& values) {
  const double value = get(values, key);
  auto one = [&](std::string expression, std::string with, D d) {
    return std::vector<Step>{{std::move(expression), std::move(with), value, d, "ISO 4545-1"}};
  };
  if (key == key::hk) {
    std::vector<Step> steps;
    for (const indents::Indent& i : s.set.all)
      if (i.counts && steps.size() < 6)
        steps.push_back({"HK = P/(0.07028·L²)",
                         significant(s.force / kStandardGravity, 4) + " kgf, L = " + significant(i.size * 1e3, 4) +
                             " µm (indent " + std::to_string(i.row + 1) + ")",
                         i.hardness, D::none, "ISO 4545-1"});
    for (Step& step : indents::how_common(key, key::hk, s.set)) steps.push_back(std::move(step));
    return steps;
  }
  if (key == key::diagonal) return one("L = Σ L/n", "of " + std::to_string(s.set.count()) + " indents", D::length);
  if (key == key::division_effect)
    return one("ΔHK = 2·HK/L · one division", significant(s.division * 1e3, 4) + " µm", D::none);
  if (key == key::depth) return one("h = L/30", "angles of the pyramid, 172.5° and 130°", D::length);
  if (key == key::min_thickness) return one("t = L/3", "ten depths", D::length);
  if (key == indents::key::converted) return indents::how_derived(key, record, "HK", s.set.mean());
  return indents::how_common(key, key::hk, s.set);
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  if (!(s.force > 0)) return;
  class_input(record, "equipment.hardness_machine.class", "force", "force of the machine", inputs, s.force);
  if (s.resolution > 0)
    inputs.push_back({"eye", "ends of the diagonal, read to " + significant(s.resolution * 1e3, 2) + " µm",
                      rectangular(s.resolution)});
  if (s.division > 0) inputs.push_back({"division", "length of a division, 0.5 % (stage scale)", rectangular(0.005)});
  indents::inputs_common(s.set, {kMachineAllowed * s.set.mean(), "machine, 3 % allowed (no block was read)"},
                         indents::reading_error(s.set, s.resolution), inputs);
  indents::inputs_derived(record, "HK", inputs);
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  const ResultValue* hk = e.find(key::hk);
  if (hk == nullptr) return;
  const std::string number = significant(hk->value, 3);
  std::string text = number + " " + scale_of(s.force);
  std::string parts = number + " is the number, HK the Knoop pyramid, " + plain_number(s.force / kStandardGravity, 4) +
                      " the force in kgf";
  text += indents::dwell_in(record, parts);
  add_text(e, specs(record), indents::key::designation, text,
           {{text, parts, hk->value, D::none, "ISO 4545-1, designation"}});
}

void add_findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  // Across the long diagonal prints are slender: by it the spacing is on the safe side.
  std::vector<double> widths;
  for (const indents::Indent& i : s.set.all) widths.push_back(i.size / kSlender);
  indents::judge_derived(e, record, "HK", s.set.mean());
  indents::judge_common(e, record, s.set, key::hk, get(v, key::min_thickness), "a third of the diagonal",
                        spacing_of(record), widths);
  std::string tilted;
  double worst = 0;
  for (const indents::Indent& i : s.set.all) {
    const double difference = s.lopsided[i.row];
    if (!i.counts || !(difference > kLopsided)) continue;
    tilted += (tilted.empty() ? "" : ", ") + std::to_string(i.row + 1);
    worst = std::max(worst, difference);
  }
  if (!tilted.empty())
    raise(e, "tilted", Severity::check,
          "The halves of the long diagonal of indent " + tilted + " differ by " + percent(worst) +
              ", more than 10 %: the face was not square to the indenter.",
          {{"asymmetry", worst}}, {}, key::hk);
}

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  RowValue each{kIndents, key::hk, "HK", D::none, {}};
  for (const indents::Indent& i : s.set.all) each.values.push_back(i.hardness);
  e.row_values = {each};
  indents::add_figures(e, record, s.set, key::hk, "HK", "HK");
}

std::vector<Clearance> clearances(const TestRecord& record, size_t row) {
  State s = look(record);
  for (indents::Indent& i : s.set.all) i.size /= kSlender;  // across, where neighbours lie
  const double read = s.set.mean_size(), size = std::isfinite(read) ? read : expected_size(record);
  return indents::room_of(record, s.set, row, size, kSlender * size / 3, spacing_of(record),
                          *methods::hardness_knoop().keyed_table());
}

}  // namespace fortitor::knoop

namespace fortitor::methods {

const Method& hardness_knoop() {
  static const Method method = [] {
    Parts<knoop::State> parts;
    parts.describe = knoop::describe;
    parts.results = knoop::specs;
    parts.look = knoop::look;
    parts.compute = knoop::compute;
    parts.how = knoop::how;
    parts.inputs = knoop::add_inputs;
    parts.words = knoop::words;
    parts.findings = knoop::add_findings;
    parts.figures = knoop::figures;
    parts.doubted = {knoop::key::hk};
    Method m = method_of("hardness-knoop", "ISO 4545-1, ASTM E92", parts);
    m.clearances = knoop::clearances;
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
