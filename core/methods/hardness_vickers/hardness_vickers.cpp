#include "core/methods/hardness_vickers/hardness_vickers.h"

#include <algorithm>
#include <cmath>

#include "core/methods/hardness_vickers/model.h"
#include "core/methods/support/skeleton.h"
#include "core/record/keyed.h"
#include "core/statistics/sample.h"

namespace fortitor {

namespace vickers {

using namespace ledger;
using D = Dimension;

double hv_of(double force, double d) {
  return kPerNewton * force / (d * d);
}

namespace {

constexpr double kMachineAllowed = 0.03;  // of HV (ISO 6507-2)
constexpr double kUneven = 0.05;          // of a diagonal: they differ by more (ISO 6507-1)
constexpr double kReadersDiffer = 0.05;   // significance

// HV 0.5: the force in kgf, rounded as the scale is named.
std::string scale_of(double force) {
  return "HV " + plain_number(force / kStandardGravity, 4);
}

Diagonals diagonals_of(const Row& row, const TestRecord& record, const char* first, const char* second) {
  const TableSpec& t = *methods::hardness_vickers().table(kIndents);
  Diagonals d;
  if (const auto v = cell_value(row, *t.column(first), record)) d.first = *v;
  if (const auto v = cell_value(row, *t.column(second), record)) d.second = *v;
  return d;
}

}  // namespace

std::string symbol_of(const TestRecord& record) {
  const auto force = record.fields.number("specimen.force");
  return force ? scale_of(*force) : "HV";
}

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.force = f.number("specimen.force").value_or(NAN);
  s.division = f.number("specimen.division").value_or(0);
  s.factor = f.number("specimen.curvature.factor").value_or(1);
  s.set = indents::set_of(record, kIndents, [&](const Row& row, indents::Indent& one) {
    const Diagonals d = diagonals_of(row, record, "d1", "d2");
    s.diagonals.push_back(d);
    const double other = diagonals_of(row, record, "second_d1", "second_d2").mean();
    s.second.push_back(other > 0 ? hv_of(s.force, other) * s.factor : NAN);
    one.size = d.mean();
    if (d.mean() > 0) one.hardness = hv_of(s.force, d.mean()) * s.factor;
    if (!std::isfinite(one.hardness)) one.size = NAN;
  });
  // An eye turns a line to half a division at best, whatever is typed.
  for (const Row& row : record.run.rows(kIndents))
    for (const char* column : {"d1", "d2"})
      for (const Reading& r : row.cells.readings(column))
        if (!r.missed())
          s.resolution =
              indents::finer(s.resolution, r.counted ? std::max(0.5, r.resolution) * s.division : r.resolution);
  return s;
}

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  if (!(s.force > 0)) return v;
  // Each indent has its own hardness; what is common to all (force, eye, division) shifts every one.
  const double force = s.force * (1 + shift(shifts, "force"));
  double sum = 0;
  indents::IndentSet moved = s.set;
  for (indents::Indent& i : moved.all) {
    if (!i.counts) continue;
    const double d = i.size * (1 + shift(shifts, "division")) + shift(shifts, "eye");
    i.hardness = hv_of(force, d) * s.factor * (1 + shift(shifts, "machine"));
    sum += i.hardness;
  }
  const double n = double(s.set.count());
  const double mean = n > 0 ? sum / n : NAN;
  indents::put_common(v, moved, key::hv, mean, shifts);
  const double d = s.set.mean_size();
  put(v, key::diagonal, s.set.traverse ? NAN : d + shift(shifts, "eye"));
  if (s.division > 0 && n > 0 && !s.set.traverse) put(v, key::division_effect, 2 * mean / d * s.division);
  double asymmetry = NAN, largest = NAN;
  for (const indents::Indent& i : s.set.all) {
    if (!i.counts) continue;
    asymmetry = std::max(std::isfinite(asymmetry) ? asymmetry : 0, s.diagonals[i.row].asymmetry());
    largest = std::max(std::isfinite(largest) ? largest : 0, i.size);
  }
  put(v, key::diagonal_asymmetry, asymmetry + shift(shifts, "aslant"));
  put(v, key::min_thickness, 1.5 * (largest + shift(shifts, "eye")));
  const Readers readers = readers_of(s);
  put(v, key::reader_bias, readers.bias() + shift(shifts, "readers"));
  put(v, key::reader_scatter, readers.scatter() + shift(shifts, "readers_sd"));
  if (s.set.traverse && n > 0) {
    put(v, key::case_depth, case_depth(moved, shifts).value + shift(shifts, "edge"));
    const auto course = [&](bool surface) {
      const indents::Indent* best = nullptr;
      for (const indents::Indent& i : moved.all)
        if (i.counts && i.x && (best == nullptr || (surface ? *i.x < *best->x : *i.x > *best->x))) best = &i;
      return best == nullptr ? NAN : best->hardness + shift(shifts, "indent " + std::to_string(best->row + 1));
    };
    put(v, key::hv_surface, course(true));
    put(v, key::hv_core, course(false));
  }
  if (!s.set.traverse) {
    const double reported = get(v, key::hv);
    indents::put_derived(v, record, "HV", reported, shifts);
    if (record.fields.text("settings.hardness_unit") == "mpa") put(v, key::hv_mpa, reported * kStandardGravity);
  }
  return v;
}

std::vector<ResultSpec> specs(const TestRecord& record) {
  std::vector<ResultSpec> out = indents::specs_common(key::hv, symbol_of(record));
  auto add = [&](auto&&... of) { out.push_back(ledger::spec_of(of...)); };
  out.insert(out.begin() + 1, ledger::spec_of(key::case_depth, "CHD", D::length, true, 3));
  add(key::hv_surface, "HV_s", D::none, true);
  add(key::hv_core, "HV_c", D::none, true);
  add(key::diagonal, "d", D::length, false);
  add(key::division_effect, "ΔHV", D::none, false, 2);
  add(key::diagonal_asymmetry, "a_d", D::elongation, false, 2);
  add(key::min_thickness, "t_min", D::length, false, 3);
  add(key::reader_bias, "ΔR", D::none, false, 2);
  add(key::reader_scatter, "s_R", D::none, false, 2);
  add(key::hv_mpa, "HV", D::stress, false);
  for (ResultSpec& r : indents::specs_derived(record)) out.push_back(std::move(r));
  add(indents::key::designation, "", D::none, true, 4, true);
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& values) {
  const double d = s.set.mean_size(), value = get(values, key);
  auto one = [&](std::string expression, std::string with, D dimension, std::string source = {}) {
    return std::vector<Step>{{std::move(expression), std::move(with), value, dimension, std::move(source)}};
  };
  const std::string force = si(s.force, D::force);
  if (key == key::hv) {
    std::vector<Step> steps;
    for (const indents::Indent& i : s.set.all)
      if (i.counts && steps.size() < 6)
        steps.push_back(
            {"HV = 0.1891·F/d²",
             force + ", d = " + significant(i.size * 1e3, 4) + " µm (indent " + std::to_string(i.row + 1) + ")",
             i.hardness, D::none,
             s.factor == 1 ? "ISO 6507-1" : "with the factor " + significant(s.factor, 4) + " of the curved surface"});
    for (Step& step : indents::how_common(key, key::hv, s.set)) steps.push_back(std::move(step));
    return steps;
  }
  if (key == key::case_depth) {
    const CaseDepth c = case_depth(s.set, {});
    if (c.between.size() == 2) {
      auto at = [&](size_t row) {
        return significant(s.set.all[row].hardness, 4) + " HV at " + significant(*s.set.all[row].x, 3) + " mm";
      };
      return one("straight line between neighbours to " + plain_number(s.set.limit, 4) + " HV",
                 at(c.between[0]) + ", " + at(c.between[1]), D::length, "ISO 18203");
    }
    return one("the course does not cross " + plain_number(s.set.limit, 4) + " HV", "a bound only", D::length,
               "ISO 18203");
  }
  if (key == key::hv_surface) return one("of the indent nearest the edge", "", D::none);
  if (key == key::hv_core) return one("of the indent farthest in", "", D::none);
  if (key == key::diagonal)
    return one("d = (d₁ + d₂)/2", "mean of " + std::to_string(s.set.count()) + " indents", D::length);
  if (key == key::division_effect)
    return one("ΔHV = 2·HV/d · one division",
               significant(get(values, key::hv), 4) + ", d = " + significant(d * 1e3, 4) + " µm, " +
                   significant(s.division * 1e3, 4) + " µm",
               D::none);
  if (key == key::diagonal_asymmetry) return one("|d₁ − d₂|/d", "the largest of the indents", D::elongation);
  if (key == key::min_thickness) return one("t = 1.5·d", "of the largest indent", D::length, "ISO 6507-1");
  if (key == key::reader_bias)
    return one("mean of HV(second) − HV(first)",
               std::to_string(readers_of(s).difference.size()) + " indents read by both", D::none);
  if (key == key::reader_scatter) return one("s of HV(second) − HV(first)", "the same indents, read twice", D::none);
  if (key == key::hv_mpa) return one("HV · 9.80665", significant(get(values, key::hv), 4), D::stress, "kgf/mm² as MPa");
  if (key == indents::key::converted || key == indents::key::rm_estimate)
    return indents::how_derived(key, record, "HV", s.set.mean());
  return indents::how_common(key, key::hv, s.set);
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  if (!(s.force > 0)) return;
  class_input(record, "equipment.hardness_machine.class", "force", "force of the machine", inputs, s.force);
  if (s.resolution > 0)
    inputs.push_back({"eye", "edges of the indent, read to " + significant(s.resolution * 1e3, 2) + " µm",
                      rectangular(s.resolution)});
  if (s.division > 0) inputs.push_back({"division", "length of a division, 0.5 % (stage scale)", rectangular(0.005)});
  const double level = s.set.mean(), read = indents::reading_error(s.set, s.resolution);
  indents::inputs_common(s.set, {kMachineAllowed * level, "machine, 3 % allowed (no block was read)"}, read, inputs);
  if (const double d = s.set.mean_size(); d > 0 && s.resolution > 0)
    inputs.push_back({"aslant", "both diagonals of one indent, each read to its digit",
                      rectangular(s.resolution) * std::sqrt(2.0) / d, Shape::normal});
  if (const Readers readers = readers_of(s); readers.difference.size() > 1) {
    const double n = double(readers.difference.size()), sd = readers.scatter();
    inputs.push_back({"readers", "scatter of " + std::to_string(readers.difference.size()) + " differences",
                      std::hypot(sd, read * std::sqrt(2.0)) / std::sqrt(n), Shape::normal, n - 1});
    inputs.push_back({"readers_sd", "s out of " + std::to_string(readers.difference.size()) + " differences",
                      std::hypot(statistics::sd_error(sd, readers.difference.size()), read), Shape::normal});
  }
  indents::inputs_derived(record, "HV", inputs);
  if (!s.set.traverse) return;
  // Along a traverse every indent is read once: its neighbours say how far a single one scatters. The block's part
  // moves all of them alike.
  for (UncertainInput& i : inputs)
    if (i.name == "block") {
      i.name = "machine";
      i.standard = level > 0 ? i.standard / level : 0;
    }
  const CaseDepth c = case_depth(s.set, {});
  double scatter = course_scatter(s.set);
  for (size_t k = 0; k < s.set.all.size(); ++k) {
    const indents::Indent& i = s.set.all[k];
    if (!i.counts) continue;
    const bool used = std::find(c.between.begin(), c.between.end(), i.row) != c.between.end();
    const double own = 2 * i.hardness / i.size * s.resolution / std::sqrt(6.0);
    if (used || k == 0 || k + 1 == s.set.all.size())
      inputs.push_back({"indent " + std::to_string(i.row + 1),
                        "indent " + std::to_string(i.row + 1) + ", scatter about the course", std::hypot(scatter, own),
                        Shape::normal});
  }
  inputs.push_back({"edge", "distance from the edge, 0.01 mm", rectangular(0.01)});
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  if (s.set.traverse)
    if (ResultValue* r = e.find(key::case_depth)) {
      const CaseDepth c = case_depth(s.set, {});
      r->censored = c.bound;
      r->spec.symbol = "CHD " + plain_number(s.set.limit, 4) + " HV";
    }
  const ResultValue* hv = e.find(key::hv);
  if (hv == nullptr) return;
  std::string text = significant(hv->value, 3) + " " + scale_of(s.force);
  std::string parts = significant(hv->value, 3) + " is the number, HV the Vickers pyramid, " +
                      plain_number(s.force / kStandardGravity, 4) + " the force in kgf";
  text += indents::dwell_in(record, parts);
  add_text(e, specs(record), indents::key::designation, text,
           {{text, parts, hv->value, D::none, "ISO 6507-1, designation"}});
}

void add_findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  const bool counted_alone = s.division <= 0 && std::any_of(record.run.rows(kIndents).begin(),
                                                            record.run.rows(kIndents).end(), [](const Row& row) {
                                                              for (const char* c : {"d1", "d2"})
                                                                for (const Reading& r : row.cells.readings(c))
                                                                  if (r.counted) return true;
                                                              return false;
                                                            });
  if (counted_alone)
    raise(e, "division-missing", Severity::check,
          "Divisions were read and the length of one is not known: enter it for this objective, from the stage scale.",
          {}, {{"accept", "Leave it without a result", {}, true}}, key::hv);
  std::vector<double> widths;
  for (const indents::Indent& i : s.set.all) widths.push_back(i.size);
  indents::judge_derived(e, record, "HV", s.set.mean());
  indents::judge_common(e, record, s.set, s.set.traverse ? key::case_depth : key::hv, get(v, key::min_thickness),
                        "1.5 diagonals", spacing_of(record), widths);
  std::string tilted;
  double worst = 0;
  for (const indents::Indent& i : s.set.all) {
    if (!i.counts) continue;
    const double a = s.diagonals[i.row].asymmetry();
    if (a <= kUneven) continue;
    tilted += (tilted.empty() ? "" : ", ") + std::to_string(i.row + 1);
    worst = std::max(worst, a);
  }
  if (!tilted.empty())
    raise(e, "tilted", Severity::check,
          "The two diagonals of indent " + tilted + " differ by " + percent(worst) +
              ", more than 5 %: the face was not square to the indenter, or an edge was misread.",
          {{"asymmetry", worst}}, {}, s.set.traverse ? key::case_depth : key::hv);
  if (const CaseDepth depth = case_depth(s.set, {}); depth.gap > 0)
    raise(e, "crossing-gap", Severity::check,
          "The hardness crosses the limit between two indents " + si(depth.gap, D::length, 3) +
              " apart: the depth lies somewhere between them. Set indents into the gap.",
          {{"gap", depth.gap}}, {}, key::case_depth);
  const double count = s.set.mean_size() > 0 ? 2 * s.set.mean() / s.set.mean_size() * s.resolution : 0;
  for (const OffCourse& o : off_course(s.set, count)) {
    const double has = s.set.all[o.row].hardness;
    raise(e, "re-read", Severity::check,
          "Indent " + std::to_string(o.row + 1) + " lies " + significant(std::abs(has - o.expected), 3) +
              (has < o.expected ? " below" : " above") + " the course of its neighbours, which expects about " +
              significant(o.expected, 3) +
              ": a soft spot, or a line sits on a scratch. Read it again before the "
              "stage moves.",
          {{"station", double(o.row)}, {"expected", o.expected}, {"read", has}},
          {{"set-aside",
            "Set it aside",
            {{"run." + kIndents + "." + std::to_string(o.row) + ".state", "set aside"}},
            true},
           {"there", "It is there", {}, true}},
          key::case_depth);
  }
  if (s.set.traverse)
    if (const ResultValue* r = e.find(key::case_depth); r != nullptr && r->censored && !(case_depth(s.set, {}).gap > 0))
      raise(e, "limit-not-reached", Severity::check,
            r->censored->above
                ? "The hardness is still above " + plain_number(s.set.limit, 4) + " HV at the last indent, " +
                      significant(r->value, 3) + " mm in: the case is at least as deep. Set further indents."
                : "The outermost indent, " + significant(r->censored->to, 3) + " mm in, is already below " +
                      plain_number(s.set.limit, 4) + " HV: if there is a case, it ends before it.",
            {{"limit", s.set.limit}}, {}, key::case_depth);
  const Readers readers = readers_of(s);
  const double n = double(readers.difference.size());
  if (n >= 3 && statistics::t_two_sided(readers.bias() / (readers.scatter() / std::sqrt(n)), n - 1) < kReadersDiffer)
    raise(e, "readers-differ", Severity::note,
          "The second reader reads " + significant(std::abs(readers.bias()), 2) + " HV " +
              (readers.bias() > 0 ? "higher" : "lower") + " on the average of " +
              std::to_string(readers.difference.size()) +
              " indents, more than their scatter explains: agree on where an edge is.",
          {{"bias", readers.bias()}, {"scatter", readers.scatter()}}, {}, key::reader_bias);
  const std::string curved = record.fields.text("specimen.curvature.shape");
  if (!curved.empty() && curved != "flat" && !record.fields.number("specimen.curvature.factor")) {
    const auto diameter = record.fields.number("specimen.curvature.diameter");
    const bool convex = record.fields.text("specimen.curvature.side") != "concave";
    const double factor = diameter && s.set.mean_size() > 0
                              ? curved_vickers_factor(s.set.mean_size(), *diameter, curved == "sphere", convex,
                                                      curved != "cylinder-along")
                              : NAN;
    std::vector<Remedy> remedies;
    if (std::isfinite(factor))
      remedies.push_back(
          {"geometry", "Use " + significant(factor, 4), {{"specimen.curvature.factor", significant(factor, 4)}}});
    remedies.push_back({"accept", "Leave it uncorrected, with a reason", {}, true});
    raise(e, "convex", Severity::check,
          "The surface is curved and no correction is entered." +
              (std::isfinite(factor) ? " The geometry of the contact gives the factor " + significant(factor, 4) + "."
                                     : std::string(" Enter the factor, or the diameter for a proposal.")),
          std::isfinite(factor) ? std::map<std::string, double>{{"factor", factor}} : std::map<std::string, double>{},
          std::move(remedies), key::hv);
  }
}

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  RowValue each{kIndents, key::hv, "HV", D::none, {}};
  for (const indents::Indent& i : s.set.all) each.values.push_back(i.hardness);
  e.row_values = {each};
  indents::add_figures(e, record, s.set, key::hv, symbol_of(record), "HV");
  if (const Readers readers = readers_of(s); readers.difference.size() > 1) e.figures.push_back(figure_of(readers));
}

std::vector<Clearance> clearances(const TestRecord& record, size_t row) {
  const State s = look(record);
  const double read = s.set.mean_size(), size = std::isfinite(read) ? read : expected_size(record);
  return indents::room_of(record, s.set, row, size, 1.5 * size, spacing_of(record),
                          *methods::hardness_vickers().keyed_table());
}

}  // namespace vickers

namespace methods {

const Method& hardness_vickers() {
  static const Method method = [] {
    Parts<vickers::State> parts;
    parts.describe = vickers::describe;
    parts.results = vickers::specs;
    parts.look = vickers::look;
    parts.compute = vickers::compute;
    parts.how = vickers::how;
    parts.inputs = vickers::add_inputs;
    parts.words = vickers::words;
    parts.findings = vickers::add_findings;
    parts.figures = vickers::figures;
    parts.doubted = {vickers::key::hv, vickers::key::case_depth};
    Method m = method_of("hardness-vickers", "ISO 6507-1, ASTM E92, ISO 18203", parts);
    m.clearances = vickers::clearances;
    return m;
  }();
  return method;
}

}  // namespace methods
}  // namespace fortitor
