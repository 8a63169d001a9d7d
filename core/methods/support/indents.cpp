#include "core/methods/support/indents.h"
#include "core/language/language.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/record/words.h"
#include "core/reference/hardness.h"
#include "core/statistics/sample.h"

namespace fortitor::indents {

using namespace fortitor::ledger;
using D = Dimension;

namespace {

constexpr double kConversionKnown = 0.02, kEstimateKnown = 0.05;  // relative, assumed

std::string number(double v, int figures = 4) {
  return significant(v, figures);
}

double mean_of(const std::vector<double>& v) {
  double sum = 0;
  for (double x : v) sum += x;
  return v.empty() ? NAN : sum / double(v.size());
}

double sd_of(const std::vector<double>& v) {
  if (v.size() < 2) return NAN;
  const double m = mean_of(v);
  double sum = 0;
  for (double x : v) sum += (x - m) * (x - m);
  return std::sqrt(sum / double(v.size() - 1));
}

double range_of(const std::vector<double>& v) {
  return v.empty() ? NAN : *std::max_element(v.begin(), v.end()) - *std::min_element(v.begin(), v.end());
}

std::vector<double> numbers(const Fields& fields, const std::string& path, double& count) {
  std::vector<double> out;
  for (const Reading& r : fields.readings(path))
    if (!r.missed()) out.push_back(*r.value), count = finer(count, r.resolution);
  return out;
}

std::string list_of(const std::vector<double>& v) {
  std::string out;
  for (size_t i = 0; i < v.size() && i < 8; ++i) out += (i > 0 ? ", " : "") + number(v[i]);
  return out + (v.size() > 8 ? " …" : "");
}

}  // namespace

std::vector<double> IndentSet::hardnesses() const {
  std::vector<double> out;
  for (const Indent& i : all)
    if (i.counts) out.push_back(i.hardness);
  return out;
}

std::vector<double> IndentSet::sizes() const {
  std::vector<double> out;
  for (const Indent& i : all)
    if (i.counts) out.push_back(i.size);
  return out;
}

double IndentSet::mean() const {
  return mean_of(hardnesses());
}

double IndentSet::mean_size() const {
  return mean_of(sizes());
}

size_t IndentSet::count() const {
  return size_t(std::count_if(all.begin(), all.end(), [](const Indent& i) { return i.counts; }));
}

IndentFace face_of(const Fields& fields) {
  IndentFace f;
  auto size = [&](const char* name) { return fields.number(std::string("specimen.face.") + name).value_or(0); };
  const std::string shape = fields.text("specimen.face.shape");
  f.width = size("width");
  f.height = size("height");
  if (shape == "disc") {
    f.width = f.height = size("diameter");
    f.shape = IndentFace::Shape::disc;
  } else if (shape == "weld") {
    f.shape = IndentFace::Shape::weld;
    f.weld_width = size("weld_width");
    f.haz_width = size("haz_width");
  } else if (shape == "rectangle") {
    f.shape = IndentFace::Shape::rectangle;
  }
  if (!(f.width > 0) || !(f.height > 0)) f = {};
  return f;
}

IndentSet set_of(const TestRecord& record, const std::string& table,
                 const std::function<void(const Row&, Indent&)>& measure) {
  IndentSet s;
  const Fields& f = record.fields;
  const Rows& rows = record.run.rows(table);
  const bool seats = f.flag("run.new_indenter");
  s.first_kept = seats && f.text("settings.first_reading") == "keep";
  bool first = true;
  for (size_t i = 0; i < rows.size(); ++i) {
    Indent one;
    one.row = i;
    one.x = rows[i].number("x");
    one.y = rows[i].number("y");
    measure(rows[i], one);
    const bool read = std::isfinite(one.hardness);
    one.counts = read && rows[i].used();
    if (first && read) {
      if (seats && !s.first_kept) {
        s.first_aside = one.counts;
        one.counts = false;
      }
      first = false;
    }
    s.all.push_back(one);
  }
  s.first_kept = s.first_kept && !first;
  s.certified = f.number("specimen.block.certified");
  s.tolerance = f.number("specimen.block.tolerance");
  s.block = numbers(f, "specimen.block.readings", s.block_count);
  s.block_after = numbers(f, "specimen.block.after", s.block_count);
  s.face = face_of(f);
  s.traverse = f.any_under("specimen.traverse");
  s.limit = f.number("specimen.traverse.limit").value_or(550);
  return s;
}

void put_common(Values& v, const IndentSet& set, const std::string& key, double mean, const Shifts& shifts) {
  const std::vector<double> h = set.hardnesses();
  if (!set.traverse) {
    put(v, key, mean + shift(shifts, "scatter") + shift(shifts, "block"));
    put(v, key + "_sd", sd_of(h) + shift(shifts, "sd"));
    if (h.size() > 1) put(v, key + "_range", range_of(h) + shift(shifts, "read"));
  }
  if (set.certified && !set.block.empty()) {
    put(v, key::block_error, mean_of(set.block) - *set.certified + shift(shifts, "block_error"));
    if (set.block.size() > 1) put(v, key::block_repeatability, range_of(set.block) + shift(shifts, "block_read"));
  }
}

std::vector<ResultSpec> specs_common(const std::string& key, const std::string& symbol) {
  return {ledger::spec_of(key, symbol, D::none), ledger::spec_of(key + "_sd", "s", D::none, true, 2, true),
          ledger::spec_of(key + "_range", "R", D::none, false, 3, true),
          ledger::spec_of(key::block_error, "b", D::none, false, 2, true),
          ledger::spec_of(key::block_repeatability, "r_b", D::none, false, 2)};
}

std::vector<Step> how_common(const std::string& key, const std::string& main, const IndentSet& set) {
  const std::vector<double> h = set.hardnesses();
  if (key == main)
    return {{"x̄ = Σx/n", "(" + list_of(h) + "), n = " + std::to_string(h.size()), set.mean(), D::none,
             "each indent has its own hardness; the result is their mean"}};
  if (key == main + "_sd")
    return {{"s = √(Σ(x − x̄)²/(n − 1))", "n = " + std::to_string(h.size()), sd_of(h), D::none, "of the indents"}};
  if (key == main + "_range") return {{"R = x_max − x_min", list_of(h), range_of(h), D::none, "of the indents"}};
  if (key == key::block_error)
    return {{"b = mean − certified", "(" + list_of(set.block) + ") − " + number(set.certified.value_or(0)),
             mean_of(set.block) - set.certified.value_or(0), D::none, "readings on the reference block before"}};
  if (key == key::block_repeatability)
    return {{"r = largest − smallest", list_of(set.block), range_of(set.block), D::none, "on the reference block"}};
  return {};
}

double reading_error(const IndentSet& set, double resolution) {
  double size = 0, n = 0;
  for (const Indent& i : set.all)
    if (i.counts && i.size > 0) size += i.size, n += 1;
  return n > 0 && resolution > 0 ? 2 * set.mean() / (size / n) * rectangular(resolution) / std::sqrt(2.0) : 0;
}

void inputs_common(const IndentSet& set, const Machine& machine, double read, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  const std::vector<double> h = set.hardnesses();
  if (h.size() > 1 && !set.traverse) {
    const std::string n = std::to_string(h.size());
    inputs.push_back({"scatter", "scatter of " + n + " indents", sd_of(h) / std::sqrt(double(h.size())), Shape::normal,
                      double(h.size()) - 1});
    inputs.push_back({"sd", "s out of " + n + " indents, and their reading",
                      std::hypot(statistics::sd_error(sd_of(h), h.size()), read), Shape::normal});
  }
  // A largest less a smallest is two readings.
  inputs.push_back({"read", "reading of the two of a range", read * std::sqrt(2.0), Shape::normal});
  const double of = double(set.block.size()), block_scatter = of > 1 ? sd_of(set.block) / std::sqrt(of) : 0;
  // Of an uncertainty of which only the scatter stands on few readings (GUM, G.4).
  const auto freedom = [&](double own) {
    return block_scatter > 0 ? (of - 1) * std::pow(own / block_scatter, 4) : HUGE_VAL;
  };
  if (set.certified && !set.block.empty()) {
    // What is read on the block is read like the piece, and typed with its own digits.
    const double digit = std::hypot(rectangular(set.block_count / 2), read);
    // Means of a few readings, each to its digit.
    const double own = std::hypot(block_scatter, digit / std::sqrt(of));
    inputs.push_back({"block_error", "readings on the block", own, Shape::normal, freedom(own)});
    inputs.push_back({"block_read", "reading of the two of a range", digit * std::sqrt(2.0), Shape::normal});
  }
  if (set.certified && set.tolerance && !set.block.empty() && *set.certified > 0 && !h.empty()) {
    // The block says what it is within its tolerance; how well it was read is its own scatter.
    const double own = std::hypot(rectangular(*set.tolerance), block_scatter);
    // A machine is off in proportion, or by as many points wherever it is read.
    const double here = machine.in_proportion ? set.mean() / *set.certified : 1;
    inputs.push_back({"block",
                      "machine, checked on a block of " + number(*set.certified) + " ± " + number(*set.tolerance, 3),
                      own * here, Shape::normal, freedom(own)});
  } else if (machine.allowed > 0) {
    inputs.push_back({"block", machine.words, rectangular(machine.allowed)});
  }
}

void put_derived(Values& v, const TestRecord& record, const std::string& scale, double mean, const Shifts& shifts) {
  const std::string to = record.fields.text("settings.convert_to");
  const std::string family = record.fields.text("specimen.family");
  if (!scale.empty() && !to.empty() && to != "none" && converts(family) && std::isfinite(mean))
    if (const auto c = convert_hardness(mean, scale, to))
      put(v, key::converted, *c * (1 + shift(shifts, "conversion")));
  if (strength_can_be_estimated(family) && std::isfinite(mean)) {
    const double good = 1 + shift(shifts, "estimate");
    if (scale == "HBW") put(v, key::rm_estimate, strength_of_brinell(mean) * good);
    if (scale == "HV") put(v, key::rm_estimate, strength_of_vickers(mean) * good);
  }
}

void inputs_derived(const TestRecord& record, const std::string& scale, std::vector<UncertainInput>& inputs) {
  const std::string to = record.fields.text("settings.convert_to");
  const std::string family = record.fields.text("specimen.family");
  if (!scale.empty() && !to.empty() && to != "none" && converts(family))
    inputs.push_back({"conversion", "conversion between scales, 2 % (assumed)", rectangular(kConversionKnown)});
  if ((scale == "HBW" || scale == "HV") && strength_can_be_estimated(family))
    inputs.push_back({"estimate", "strength from hardness, ± 10 %", kEstimateKnown, UncertainInput::Shape::normal});
}

std::vector<ResultSpec> specs_derived(const TestRecord& record) {
  const std::string to = record.fields.text("settings.convert_to");
  const bool any = to.empty() || to == "none";
  ResultSpec converted = ledger::spec_of(key::converted, any ? "conv." : to, D::none, true, 3, true);
  if (!any) converted.name = Tongue()(Words::shared().result("converted.to"), {{"scale", to}});
  return {converted, ledger::spec_of(key::rm_estimate, "R_m", D::stress, false, 2, true)};
}

std::vector<Step> how_derived(const std::string& key, const TestRecord& record, const std::string& scale, double mean) {
  if (key == key::converted) {
    const std::string to = record.fields.text("settings.convert_to");
    const auto v = convert_hardness(mean, scale, to);
    return {{"linear between rows of the table", number(mean) + " " + scale, v ? *v : NAN, D::none,
             "ASTM E140, non-austenitic steels; converted, not measured"}};
  }
  if (key == key::rm_estimate && scale == "HBW")
    return {{"R_m ≈ 3.45·HB", "3.45 · " + number(mean), strength_of_brinell(mean), D::stress,
             "unalloyed and low-alloy steel, ± 10 %; an estimate, no tension test"}};
  if (key == key::rm_estimate)
    return {{"R_m ≈ HV·9.80665/3", number(mean) + " · 9.80665/3", strength_of_vickers(mean), D::stress,
             "unalloyed and low-alloy steel, ± 10 %; an estimate, no tension test"}};
  return {};
}

std::string dwell_in(const TestRecord& record, std::string& parts) {
  const auto dwell = record.fields.number("specimen.dwell");
  if (!dwell || (*dwell >= 10 - 1e-9 && *dwell <= 15 + 1e-9)) return {};
  const std::string seconds = plain_number(*dwell, 3);
  parts += ", " + seconds + " the dwell in s";
  return "/" + seconds;
}

}  // namespace fortitor::indents
