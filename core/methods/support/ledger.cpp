#include "core/methods/support/ledger.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/calibration.h"
#include "core/quantity/plain.h"
#include "core/record/words.h"
#include "core/statistics/sample.h"

namespace fortitor::ledger {

std::string si(double value, Dimension d, int figures) {
  return format_value(value, d, UnitSet::si, figures);
}

std::string percent(double ratio, int figures) {
  return significant(100 * ratio, figures) + " %";
}

double get(const Values& values, const std::string& key) {
  const auto it = values.find(key);
  return it == values.end() ? NAN : it->second;
}

void put(Values& values, const std::string& key, double value) {
  if (std::isfinite(value)) values[key] = value;
}

double shift(const Shifts& shifts, const std::string& name) {
  const auto it = shifts.find(name);
  return it == shifts.end() ? 0.0 : it->second;
}

ResultSpec spec_of(std::string key, std::string symbol, Dimension d, bool headline, int figures, bool printed) {
  ResultSpec r;
  r.key = std::move(key);
  r.symbol = std::move(symbol);
  r.dimension = d;
  r.headline = headline;
  r.figures = figures;
  r.printed = printed;
  return r;
}

ResultSpec spec_of(std::string key, std::string symbol, Dimension d, RoundingClass rounding, int figures, bool headline,
                   bool printed) {
  ResultSpec r = spec_of(std::move(key), std::move(symbol), d, headline, figures, printed);
  r.rounding = rounding;
  return r;
}

void name_result(ResultSpec& spec, const std::string& method) {
  if (spec.name.empty()) spec.name = Words::of(method).result(spec.key);
  if (spec.name.empty()) spec.name = Words::shared().result(spec.key);
}

std::optional<ResultSpec> find_spec(const std::vector<ResultSpec>& table, const std::string& key) {
  for (const ResultSpec& s : table)
    if (s.key == key) return s;
  return std::nullopt;
}

void add_results(Evaluation& e, const std::vector<ResultSpec>& table, const Values& values, const HowFunction& how) {
  for (const ResultSpec& spec : table) {
    const auto it = values.find(spec.key);
    if (it == values.end() || !std::isfinite(it->second)) continue;
    ResultValue r;
    r.spec = spec;
    r.value = it->second;
    r.how = how(spec.key);
    e.results.push_back(std::move(r));
  }
}

void add_text(Evaluation& e, const std::vector<ResultSpec>& table, const std::string& key, std::string text,
              std::vector<Step> how) {
  if (text.empty()) return;
  ResultValue r;
  r.spec = find_spec(table, key).value();
  r.text = std::move(text);
  r.how = std::move(how);
  auto rank = [&](const std::string& k) {
    return std::find_if(table.begin(), table.end(), [&](const ResultSpec& s) { return s.key == k; }) - table.begin();
  };
  const auto before = std::find_if(e.results.begin(), e.results.end(),
                                   [&](const ResultValue& other) { return rank(other.spec.key) > rank(key); });
  e.results.insert(before, std::move(r));
}

Finding& raise(Evaluation& e, std::string code, Severity severity, std::string message,
               std::map<std::string, double> evidence, std::vector<Remedy> remedies, std::string result_key) {
  if (severity == Severity::check && remedies.empty()) remedies = {{"accept", "Accept with a reason", {}, true}};
  e.findings.push_back({std::move(code),
                        severity,
                        std::move(message),
                        std::move(evidence),
                        std::move(remedies),
                        std::move(result_key),
                        {}});
  return e.findings.back();
}

void doubtful_finding(Evaluation& e, const TestRecord& record, const std::vector<ResultSpec>& table,
                      const std::vector<std::string>& keys, const std::function<Values(const TestRecord&)>& values_of) {
  TestRecord with = record;
  size_t doubtful = 0;
  for (auto& [id, rows] : with.run.tables)
    for (Row& row : rows) {
      doubtful += row.doubtful();
      if (row.doubtful()) row.state = Row::State::used;
    }
  if (doubtful == 0) return;
  const Values all = values_of(with);
  std::string text;
  std::map<std::string, double> evidence = {{"doubtful", double(doubtful)}};
  for (const std::string& key : keys) {
    const ResultValue* r = e.find(key);
    if (r == nullptr || all.count(key) == 0) continue;
    const ResultSpec spec = find_spec(table, key).value();
    text += (text.empty() ? "" : "; ") + plain_symbol(spec.symbol) + " = " + si(r->value, spec.dimension, 4) +
            " without, " + si(all.at(key), spec.dimension, 4) + " with";
    evidence[key] = r->value;
    evidence[key + "_with"] = all.at(key);
  }
  raise(e, "doubtful-left-out", Severity::note,
        std::to_string(doubtful) + (doubtful == 1 ? " reading is" : " readings are") +
            " marked doubtful and left out of the fits" + (text.empty() ? "." : ": " + text + "."),
        evidence, {}, keys.empty() ? "" : keys.front());
}

double Sizes::mean(const std::string& path, const Shifts& shifts) const {
  const Dim* d = find(path);
  return d == nullptr || !d->given() ? 0.0 : d->mean + shift(shifts, path);
}

const Dim* Sizes::find(const std::string& path) const {
  for (const Dim& d : dims)
    if (d.path == path) return &d;
  return nullptr;
}

Sizes sizes_of(const Method& method, const TestRecord& record, Stage stage) {
  Sizes s;
  for (const FieldSpec& f : method.fields) {
    if (f.stage != stage || f.kind != FieldKind::readings || f.dimension != Dimension::length) continue;
    std::string label = f.label;
    label[0] = plain::lower(label[0]);
    s.dims.push_back(dimension_of(record.fields, f.path, f.symbol, label));
  }
  return s;
}

void size_findings(Evaluation& e, const Method& method, const TestRecord& record) {
  for (const Dim& d : sizes_of(method, record).dims) {
    const FieldSpec* f = method.field(d.path);
    dimension_findings({d}, e.findings, f->spread_limit, size_t(f->wanted));
  }
}

void size_inputs(const Sizes& sizes, const TestRecord& record, std::vector<UncertainInput>& out) {
  Section section;
  section.dims = sizes.dims;
  section_inputs(section, record.fields.number("equipment.caliper.resolution").value_or(0), out);
}

void length_input(const TestRecord& record, const std::string& path, const std::string& label, double most,
                  std::vector<UncertainInput>& out) {
  const Readings typed = record.fields.readings(path);
  if (typed.empty() || typed.front().missed()) return;
  const double digit = typed.front().resolution;
  const double half = digit > 0 ? std::min(most, digit) : most;
  out.push_back({path, label + ", read to " + significant(half, 2) + " mm", rectangular(half)});
  if (typed.front().standard > 0) out.push_back({path, label + ", read on a photograph", typed.front().standard});
}

double of_few(double error, size_t n) {
  constexpr double kTwoSigma = 0.97725;  // one side of ± 2 standard deviations
  if (n < 3) return error;
  return n > 200 ? error : error * statistics::t_quantile(kTwoSigma, double(n - 2)) / 2;
}

namespace {

// What the certificate of the instrument behind "equipment.load_cell.class" says there.
std::optional<calibration::Point> on_certificate(const TestRecord& record, const std::string& path, double at) {
  constexpr size_t kHead = std::string_view("equipment.").size();
  const std::string slot = path.substr(kHead, path.find('.', kHead) - kHead),
                    typed = record.fields.text("equipment." + slot + ".errors");
  if (typed.empty()) return std::nullopt;
  const auto points = calibration::read(typed, calibration::dimension_of(slot));
  if (!points || points->empty()) return std::nullopt;
  if (std::isfinite(at)) return calibration::at(*points, std::abs(at));
  return *std::max_element(points->begin(), points->end(), [](const auto& a, const auto& b) {
    return calibration::standard(a) < calibration::standard(b);
  });
}

}  // namespace

void straightness_inputs(const LineFit& line, std::vector<UncertainInput>& out, const std::string& r2) {
  if (line.n < 3) return;
  const double dof = double(line.n) - 2;
  const std::string of = "residuals of " + std::to_string(line.n) + " readings about their line";
  out.push_back({r2, of, (1 - line.r2) * statistics::relative_variance_error(dof), UncertainInput::Shape::normal});
  out.push_back({"slope_error", of, statistics::relative_sd_error(dof), UncertainInput::Shape::normal});
}

void class_input(const TestRecord& record, const std::string& path, const std::string& name, const std::string& what,
                 std::vector<UncertainInput>& out, double at) {
  if (const auto known = on_certificate(record, path, at)) {
    out.push_back({name,
                   what + ", certificate: error " + percent(known->error, 2) + ", U " + percent(known->expanded, 2),
                   calibration::standard(*known), UncertainInput::Shape::normal});
    return;
  }
  const std::string text = record.fields.text(path);
  const double c = plain::number(text).value_or(1.0);
  out.push_back({name, what + ", class " + (text.empty() ? "1 (assumed)" : text), rectangular(c / 100)});
}

}  // namespace fortitor::ledger
