// The numbers of a pull, group by group; what moves them in a budget is in the curve and the inputs already.
#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

// Share of the noise at yield that is left where a line is fitted through many samples.
constexpr double kLeftByALine = 0.3;
constexpr double kTotalExtension = 0.005;  // of R_t0.5
// A total extension is read over a two-thousandth of the samples on each side, no more than 25.
constexpr size_t kReadOver = 2000, kReadMost = 25;
// As good choices of the stretch that hardening_start draws back: what they differ by is what A_e is not known by.
constexpr Share kLaterHardening{0.08, 0.3}, kEarlierHardening{0.02, 0.1};

// One reading of a record: the curve and its inputs under the shifts of a budget, and what has come out so far.
struct Look {
  const TestRecord& record;
  const Test& test;
  const Shifts& shifts;
  const StressCurve& curve;
  const Inputs& in;
  Values& v;
  Values& errors;
  double slope = 0, origin = 0;  ///< of the modulus line, MPa and ratio
  size_t yield_index = 0;
  Point yield_point{NAN, NAN};  ///< where the work up to yield ends, between two samples
  double shift(const std::string& name) const { return ledger::shift(shifts, name); }
};

void put_maximum(Look& x) {
  const Landmarks& m = x.test.marks;
  // The maximum is read off a noisy channel and moves with its noise.
  const double at_peak = 1 + x.shift("noise_peak");
  x.v[key::rm] = x.curve.stress[m.peak] * at_peak;
  x.v[key::fm] = x.curve.stress[m.peak] * x.in.area * at_peak;
  if (!m.smooth) return;
  x.v[key::rm_top] = m.smooth->value * x.in.stress_scale;
  x.errors[key::rm_top] = m.smooth->error;
}

void put_modulus(Look& x) {
  const Landmarks& m = x.test.marks;
  const auto &e = x.curve.strain, &r = x.curve.stress;
  const ElasticWindow& w = *m.elastic;
  // The fitted line in shifted units, turned about the middle of its window by the slope's own error.
  const double strain_scale = 1 + x.shift("extension");
  x.slope = w.line.slope * x.in.stress_scale / strain_scale * x.in.modulus_scale;
  const double middle_e = 0.5 * (e[w.first] + e[w.last - 1]);
  const double middle_r = (w.line.intercept + w.line.slope * middle_e / strain_scale) * x.in.stress_scale;
  x.origin = middle_e - middle_r / x.slope;
  x.v[key::e_modulus] = x.slope;
  const bool by_points = m.school == "chord" || m.school == "secant";
  x.v[key::modulus_from] = by_points ? m.modulus_points.front().y : r[w.first];
  x.v[key::modulus_to] = by_points ? m.modulus_points.back().y : r[w.last - 1];
  if (m.fitted) {
    x.v[key::modulus_r2] = w.line.r2 + x.shift("r2");
    x.v[key::modulus_slope_error] = w.line.slope_error / w.line.slope * (1 + x.shift("slope_error"));
  }
  x.v[key::toe_shift] = x.origin;
}

void put_offsets(Look& x) {
  const Landmarks& m = x.test.marks;
  const auto &e = x.curve.strain, &r = x.curve.stress;
  const double at_line = 1 + kLeftByALine * x.shift("noise_yield");
  for (double offset : x.in.offsets) {
    const auto met = offset_crossing(e, r, x.slope, x.origin, offset, m.elastic->last, m.end);
    if (!met) continue;
    x.v[offset_key(offset)] = met->stress * at_line;
    if (x.yield_index == 0 || offset == kUsualOffset) {
      x.yield_index = met->index;
      x.yield_point = {met->strain, met->stress};
    }
  }
  const size_t half = std::clamp<size_t>(x.curve.size() / kReadOver, 0, kReadMost);
  if (const auto rt = value_at(e, r, x.origin + kTotalExtension, m.elastic->last, m.end, half)) x.v[key::rt05] = *rt;
}

void put_yielding(Look& x) {
  const Landmarks& m = x.test.marks;
  if (!m.yielding) return;
  const auto &e = x.curve.strain, &r = x.curve.stress;
  const double at_yield = 1 + x.shift("noise_yield");
  x.v[key::reh] = r[m.yielding->upper] * (at_yield + x.shift("sample_yield"));
  x.v[key::rel] = r[m.yielding->lower] * at_yield;
  const double level = m.yielding->plateau * x.in.stress_scale;
  const double start = hardening_start(x.curve, m, level, kHardening);
  if (m.outside)
    x.v[key::ae] = m.crosshead_ae;
  else
    x.v[key::ae] = std::max(0.0, (start - level / x.slope) - (e[m.yielding->upper] - x.v[key::reh] / x.slope));
  x.yield_index = m.yielding->upper;
  x.yield_point = {e[x.yield_index], r[x.yield_index]};
  // Where uniform hardening starts is a choice of the stretch whose line is drawn back to the plateau; where the
  // upper yield lies is known to a sample.
  const double other = hardening_start(x.curve, m, level, kLaterHardening),
               last = hardening_start(x.curve, m, level, kEarlierHardening);
  const double step = x.yield_index + 1 < m.end ? e[x.yield_index + 1] - e[x.yield_index] : 0;
  const size_t end = m.yielding->plateau_end;
  const double end_step = end > 0 ? e[end] - e[end - 1] : 0;
  x.errors[key::ae] =
      std::hypot(std::max(std::abs(other - start), std::abs(last - start)), rectangular(std::hypot(step, end_step)));
  x.errors[key::resilience] = rectangular(std::abs(step)) * r[x.yield_index];
}

void put_extensions(Look& x) {
  const Landmarks& m = x.test.marks;
  const auto &e = x.curve.strain, &t = x.curve.time;
  const double middle = 0.5 * (t[m.top.first] + t[m.top.last]);
  const size_t mid = size_t(std::lower_bound(t.begin(), t.end(), middle) - t.begin());
  if (std::isfinite(e[mid]) && (m.fracture || m.peak + 1 < m.end)) {
    x.v[key::agt] = e[mid] - x.origin + x.shift("top");
    x.v[key::ag] = x.v[key::agt] - x.v[key::rm] / x.slope;
  }
  if (m.fracture && std::isfinite(e[m.fracture->last_loaded])) {
    const size_t b = m.fracture->last_loaded;
    x.v[key::at] = e[b] - x.origin;
    x.v[key::a_ext] = x.v[key::at] - x.curve.stress[b] / x.slope;
  }
}

void put_work(Look& x) {
  const Landmarks& m = x.test.marks;
  const size_t first = m.elastic->first;
  if (x.yield_index <= first) return;
  const auto &e = x.curve.strain, &r = x.curve.stress;
  const double foot = 0.5 * r[first] * r[first] / x.slope;
  // To the crossing itself, which lies between two samples.
  size_t before = x.yield_index;
  while (before > first && e[before] > x.yield_point.x) --before;
  x.v[key::resilience] = foot + work_under(e, r, first, before) +
                         0.5 * (r[before] + x.yield_point.y) * std::max(0.0, x.yield_point.x - e[before]);
  if (m.fracture && x.v.count(key::at) != 0)
    x.v[key::toughness] = foot + work_under(e, r, first, m.fracture->last_loaded);
  const double yield = m.yielding ? x.v[key::reh] : x.v.count(key::rp02) != 0 ? x.v[key::rp02] : 0.0;
  if (yield > 0) x.v[key::yield_ratio] = yield / x.v[key::rm];
}

}  // namespace

Inputs inputs_of(const TestRecord& record, const Shifts& shifts) {
  auto number = [&](const char* path) {
    const double v = record.fields.number(path).value_or(0.0);
    return std::isfinite(v) && v > 0 ? v : 0.0;
  };
  auto shift = [&](const char* name) { return ledger::shift(shifts, name); };
  Inputs in;
  in.area = section_of(record.fields, shifts).area;
  const double nominal = shifts.empty() ? in.area : section_of(record.fields).area;
  in.gauge_length = number("specimen.gauge_length");
  if (in.gauge_length > 0) in.gauge_length += shift("specimen.gauge_length");
  in.extensometer_length = number("specimen.extensometer_length");
  in.parallel_length = number("specimen.parallel_length");
  in.final_length = number("specimen.after.gauge_length");
  if (in.final_length > 0) in.final_length += shift("specimen.after.gauge_length");
  const std::string shape = record.fields.text("specimen.section.shape");
  in.final_area = area_after(record.fields, shape.empty() ? "round" : shape, shifts);
  in.stress_scale = (1 + shift("force")) * (in.area > 0 ? nominal / in.area : 1);
  in.modulus_scale = 1 + shift("modulus");
  for (const Reading& r : record.fields.readings("settings.offset")) {
    if (!r.value || !offset_taken(*r.value)) continue;
    const std::string key = offset_key(*r.value);
    if (std::none_of(in.offsets.begin(), in.offsets.end(), [&](double o) { return offset_key(o) == key; }))
      in.offsets.push_back(*r.value);
  }
  if (in.offsets.empty()) in.offsets.push_back(kUsualOffset);
  return in;
}

Values compute(const TestRecord& record, const Test& test, const Shifts& shifts, Values* errors) {
  const Inputs in = shifts.empty() ? test.in : inputs_of(record, shifts);
  Values v, reading;
  if (in.area > 0) {
    v[key::area] = in.area;
    v[key::proportional_length] = proportional_length(in.area);
  }
  put_after(v, record, in);
  if (test.curve.size() < 3) return v;
  const StressCurve moved = shifts.empty() ? StressCurve{} : shifted(test.curve, record, shifts);
  Look x{record, test, shifts, shifts.empty() ? test.curve : moved, in, v, reading};
  put_maximum(x);
  if (!test.marks.elastic) return v;
  put_modulus(x);
  put_offsets(x);
  put_yielding(x);
  put_extensions(x);
  put_work(x);
  put_rates(v, reading, x.curve, test.marks, x.yield_index);
  put_hardening(v, reading, record, test, x.curve, x.slope, x.origin);
  if (errors != nullptr) *errors = reading;
  for (auto& [key, value] : v) value += ledger::shift(shifts, "read:" + key);
  return v;
}

}  // namespace fortitor::tension
