#include "core/methods/hardness_rockwell/hardness_rockwell.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/methods/hardness_rockwell/model.h"
#include "core/methods/support/skeleton.h"

namespace fortitor {
namespace {

constexpr double kPlatesNear = 0.005;                        // of the force: as near as plates must come
constexpr double kCorrectionKnown = 0.1;                     // of a correction for a convex surface
constexpr double kAllowedDiamond = 1.5, kAllowedBall = 2.0;  // units (ISO 6508-2)

}  // namespace

std::optional<BetterScale> better_rockwell(const RockwellScale& scale, double hr) {
  if (!scale.bounded() || !std::isfinite(hr) || (hr >= scale.low && hr <= scale.high)) return std::nullopt;
  static const std::map<std::string_view, std::string_view> milder = {
      {"C", "B"},     {"D", "B"},     {"A", "B"},     {"G", "B"},     {"B", "F"},
      {"F", "E"},     {"K", "E"},     {"E", "H"},     {"H", "L"},     {"15N", "15T"},
      {"30N", "30T"}, {"45N", "45T"}, {"45T", "30T"}, {"30T", "15T"}, {"15T", "15W"}};
  static const std::map<std::string_view, std::string_view> harder = {
      {"B", "C"}, {"G", "C"},     {"F", "B"},     {"E", "B"},     {"H", "E"},     {"K", "B"},    {"C", "A"},
      {"D", "A"}, {"15T", "15N"}, {"30T", "30N"}, {"45T", "45N"}, {"45N", "30N"}, {"30N", "15N"}};
  const bool low = hr < scale.low;
  const auto& by = low ? milder : harder;
  const auto it = by.find(scale.id);
  BetterScale b;
  if (it != by.end()) b.scale = std::string(it->second);
  const std::string name = scale.written();
  if (low)
    b.why = name + " is not trusted below " + significant(scale.low, 3) + ": the indenter sinks in too far";
  else
    b.why = name + " is not trusted above " + significant(scale.high, 3) +
            (scale.diamond() ? ": the indenter hardly enters" : ": the ball flattens");
  return b;
}

std::optional<std::vector<size_t>> plates_for(double total, double base, const std::vector<double>& plates) {
  if (plates.size() > 12) return std::nullopt;
  std::optional<std::vector<size_t>> best;
  double least = kPlatesNear * total;
  for (unsigned mask = 0; mask < (1u << plates.size()); ++mask) {
    double sum = base;
    std::vector<size_t> hung;
    for (size_t i = 0; i < plates.size(); ++i)
      if (mask >> i & 1u) {
        sum += plates[i];
        hung.push_back(i);
      }
    if (std::abs(sum - total) > least) continue;
    least = std::abs(sum - total) - 1e-9;
    best = std::move(hung);
  }
  return best;
}

namespace rockwell {

using namespace ledger;
using D = Dimension;

double print_width(const RockwellScale& scale, double depth) {
  if (!(depth > 0)) return NAN;
  if (!scale.diamond()) return 2 * std::sqrt(std::max(0.0, depth * (scale.ball - depth)));
  // A cone of 120° with a tip of 0.2 mm radius: the tip alone for shallow prints.
  return std::max(2 * std::sqrt(3.0) * depth, 2 * std::sqrt(2 * 0.2 * depth));
}

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.scale = find_rockwell(f.text("specimen.scale"));
  if (s.scale != nullptr) s.written = s.scale->written(f.text("specimen.indenter") == "steel");
  s.correction = f.number("specimen.convex_correction").value_or(0);
  s.set = indents::set_of(record, kReadings, [&](const Row& row, indents::Indent& one) {
    if (s.scale == nullptr) return;
    if (const auto hr = row.number("hr")) one.hardness = *hr + s.correction;
    if (const auto h = row.number("depth")) one.hardness = s.scale->n - *h / s.scale->s + s.correction;
    one.size = (s.scale->n - one.hardness) * s.scale->s;
    for (const char* column : {key::hr, key::depth})
      if (const Reading* r = row.reading(column); r != nullptr && !r->missed())
        s.resolution = indents::finer(s.resolution, column[0] == 'h' ? r->resolution : r->resolution / s.scale->s);
  });
  return s;
}

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  if (s.scale == nullptr) return v;
  const double mean = s.set.mean() + shift(shifts, "eye") + shift(shifts, "convex");
  indents::put_common(v, s.set, key::hr, mean, shifts);
  const double hr = s.set.traverse ? mean : get(v, key::hr);
  const double depth = (s.scale->n - hr) * s.scale->s;
  put(v, key::depth, depth);
  put(v, key::min_thickness, (s.scale->diamond() ? 10 : 15) * depth);
  indents::put_derived(v, record, s.scale->symbol(), hr, shifts);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord& record) {
  const std::string scale = record.fields.text("specimen.scale");
  const RockwellScale* known = find_rockwell(scale);
  std::vector<ResultSpec> out = indents::specs_common(
      key::hr, known != nullptr ? known->written(record.fields.text("specimen.indenter") == "steel") : "HR");
  out.push_back(ledger::spec_of(key::depth, "h", D::length, false, 3));
  out.push_back(ledger::spec_of(key::min_thickness, "t_min", D::length, false, 3));
  for (ResultSpec& r : indents::specs_derived(record))
    if (r.key == indents::key::converted) out.push_back(std::move(r));
  out.push_back(ledger::spec_of(indents::key::designation, "", D::none, true, 4, true));
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& values) {
  const double value = get(values, key), hr = get(values, key::hr);
  const std::string n = significant(s.scale->n, 3), step = significant(s.scale->s, 2) + " mm";
  if (key == key::hr) {
    std::vector<Step> steps;
    const bool depths = std::any_of(s.set.all.begin(), s.set.all.end(), [&](const indents::Indent& i) {
      return record.run.rows(kReadings)[i.row].has(key::depth);
    });
    for (const indents::Indent& i : s.set.all)
      if (depths && i.counts && steps.size() < 6)
        steps.push_back(
            {"HR = N − h/S",
             n + " − " + significant((s.scale->n - i.hardness + s.correction) * s.scale->s, 4) + " mm / " + step,
             i.hardness - s.correction, D::none, "ISO 6508-1, table 1"});
    for (Step& one : indents::how_common(key, key::hr, s.set)) steps.push_back(std::move(one));
    if (s.correction != 0)
      steps.push_back({"correction for the convex surface", "+ " + significant(s.correction, 3) + ", as entered", hr,
                       D::none, "added to every reading"});
    return steps;
  }
  if (key == key::depth)
    return {{"h = (N − HR)·S", "(" + n + " − " + significant(hr, 4) + ") · " + step, value, D::length, "ISO 6508-1"}};
  if (key == key::min_thickness)
    return {{s.scale->diamond() ? "t = 10·h" : "t = 15·h", "h = " + significant(get(values, key::depth), 3) + " mm",
             value, D::length, "ISO 6508-1"}};
  if (key == indents::key::converted) return indents::how_derived(key, record, s.scale->symbol(), hr);
  return indents::how_common(key, key::hr, s.set);
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  if (s.scale == nullptr) return;
  if (s.resolution > 0)
    inputs.push_back({"eye", "dial, read to " + significant(s.resolution, 2), rectangular(s.resolution / 2)});
  if (s.correction != 0)
    inputs.push_back({"convex", "correction for the convex surface, a tenth of it (assumed)",
                      rectangular(kCorrectionKnown * std::abs(s.correction))});
  const double allowed = s.scale->diamond() ? kAllowedDiamond : kAllowedBall;
  indents::inputs_common(s.set,
                         {allowed, "machine, " + significant(allowed, 2) + " allowed (no block was read)", false},
                         rectangular(s.resolution / 2), inputs);
  indents::inputs_derived(record, s.scale->symbol(), inputs);
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  const ResultValue* hr = e.find(key::hr);
  if (hr == nullptr) return;
  const std::string number = significant(hr->value, 3);
  add_text(
      e, specs(record), indents::key::designation, number + " " + s.written,
      {{number + " " + s.written,
        number + " is the number, HR Rockwell, " + std::string(s.scale->id) + " the scale: " + s.scale->indenter() +
            (s.scale->diamond()        ? ""
             : s.written.back() == 'S' ? " of steel"
                                       : " of hard metal") +
            ", " + significant(s.scale->preliminary, 2) + " and " + significant(s.scale->total, 3) + " kgf",
        hr->value, D::none, "ISO 6508-1, designation"}});
}

namespace {

void judge_scale(Evaluation& e, const TestRecord& record, const State& s, double hr, double needed) {
  const auto case_depth = record.fields.number("specimen.case_depth");
  const bool thin_case = case_depth && s.scale->diamond() && std::isfinite(needed) && *case_depth < needed;
  if (const auto better = better_rockwell(*s.scale, hr)) {
    raise(e, "scale-unsuited", Severity::check,
          "The mean is " + significant(hr, 3) + " " + s.written + ". " + better->why + "." +
              (better->scale.empty() ? "" : " Read it on scale " + better->scale + "."),
          {{"hr", hr}, {"low", s.scale->low}, {"high", s.scale->high}}, {}, key::hr);
  } else if (thin_case) {
    const bool heavy = s.scale->id == "C" || s.scale->id == "D";
    raise(e, "scale-unsuited", Severity::check,
          "The case is " + significant(*case_depth, 3) + " mm deep and a reading on scale " + std::string(s.scale->id) +
              " wants " + significant(needed, 3) + " mm: the soft core is measured too. Read it on " +
              (heavy                  ? "A or 15N."
               : s.scale->id == "15N" ? "Vickers with little force."
                                      : "15N."),
          {{"case_depth", *case_depth}, {"needed", needed}}, {}, key::hr);
  }
}

}  // namespace

void add_findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  if (s.scale == nullptr) return;
  const double hr = get(v, key::hr), needed = get(v, key::min_thickness);
  std::vector<double> widths;
  for (const indents::Indent& i : s.set.all) widths.push_back(print_width(*s.scale, i.size));
  indents::judge_common(e, record, s.set, key::hr, needed, s.scale->diamond() ? "ten depths" : "fifteen depths",
                        spacing_of(record), widths);
  indents::judge_derived(e, record, s.scale->symbol(), hr);
  if (std::isfinite(hr)) judge_scale(e, record, s, hr, needed);
  if (std::isfinite(hr) && hr > s.scale->n)
    raise(e, "reading-impossible", Severity::check,
          "The mean is above " + significant(s.scale->n, 3) + ", which no depth can give on scale " +
              std::string(s.scale->id) + ": was another ring of the dial read?",
          {{"hr", hr}}, {}, key::hr);
  const auto convex = record.fields.number("specimen.diameter_convex");
  if (!convex) return;
  if (record.fields.number("specimen.convex_correction"))
    raise(e, "convex", Severity::note,
          "Read on a surface of " + significant(*convex, 3) + " mm diameter; corrected by " +
              significant(s.correction, 3) + " as entered.",
          {{"diameter", *convex}, {"correction", s.correction}}, {}, key::hr);
  else
    raise(e, "convex", Severity::check,
          "Read on a convex surface of " + significant(*convex, 3) +
              " mm diameter: it reads low. Enter the correction from the standard's table for this scale and diameter; "
              "none is made by itself.",
          {{"diameter", *convex}}, {}, key::hr);
}

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  if (s.scale == nullptr) return;
  RowValue each{kReadings, key::hr, s.written, D::none, {}};
  for (const indents::Indent& i : s.set.all) each.values.push_back(i.hardness);
  e.row_values = {each};
  indents::add_figures(e, record, s.set, key::hr, s.written, s.written);
}

std::vector<Clearance> clearances(const TestRecord& record, size_t row) {
  State s = look(record);
  if (s.scale == nullptr) return {};
  for (indents::Indent& i : s.set.all) i.size = print_width(*s.scale, i.size);  // in the face, not into it
  const double expected = expected_size(record), hr = s.set.mean();
  const double depth = std::isfinite(hr) ? (s.scale->n - hr) * s.scale->s : 0;
  return indents::room_of(record, s.set, row, expected, (s.scale->diamond() ? 10 : 15) * depth, spacing_of(record),
                          *methods::hardness_rockwell().keyed_table());
}

}  // namespace rockwell

namespace methods {

const Method& hardness_rockwell() {
  static const Method method = [] {
    Parts<rockwell::State> parts;
    parts.describe = rockwell::describe;
    parts.results = rockwell::specs;
    parts.look = rockwell::look;
    parts.compute = rockwell::compute;
    parts.how = rockwell::how;
    parts.inputs = rockwell::add_inputs;
    parts.words = rockwell::words;
    parts.findings = rockwell::add_findings;
    parts.figures = rockwell::figures;
    parts.doubted = {rockwell::key::hr};
    Method m = method_of("hardness-rockwell", "ISO 6508-1, ASTM E18", parts);
    m.clearances = rockwell::clearances;
    return m;
  }();
  return method;
}

}  // namespace methods
}  // namespace fortitor
