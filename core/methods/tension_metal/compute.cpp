#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/tension_metal/model.h"
#include "core/quantity/plain.h"
#include "core/reference/materials.h"

namespace fortitor::tension {
namespace {

std::vector<double> scaled(const std::vector<double>& v, double factor) {
  std::vector<double> out(v.size());
  for (size_t i = 0; i < v.size(); ++i) out[i] = v[i] * factor;
  return out;
}

// Strain at which uniform hardening starts: the plateau's level met by the first hardening line
// (ISO 6892-1, determination of A_e by the steepest slope after the plateau).
double hardening_start(const std::vector<double>& e, const std::vector<double>& r, const Landmarks& m, double level,
                       double from, double to) {
  const Yielding& y = *m.yielding;
  const double rise = r[m.peak] - level;
  const double fallback = e[y.plateau_end];
  if (!(rise > 0.01 * level)) return fallback;
  size_t a = y.plateau_end, b = y.plateau_end;
  while (a < m.peak && r[a] < level + from * rise) ++a;
  b = a;
  while (b < m.peak && r[b] < level + to * rise) ++b;
  const auto line = fit_line(e, r, a, b + 1);
  if (!line) return fallback;
  const double met = (level - line->intercept) / line->slope;
  return met > e[y.upper] && met < e[b] ? met : fallback;
}

void put_rates(Values& v, Values& errors, const StressCurve& c, const std::vector<double>& e,
               const std::vector<double>& r, const Landmarks& m, size_t yield_index) {
  if (c.time_invented) return;
  auto put = [&](const char* key, const std::optional<LineFit>& f) {
    if (!f) return;
    v[key] = f->slope;
    errors[key] = ledger::of_few(f->slope_error, f->n);
  };
  put(key::stress_rate, fit_line(c.time, r, m.elastic->first, m.elastic->last));
  size_t a = yield_index, b = yield_index;
  if (m.yielding) {
    a = m.yielding->upper;
    b = std::max(m.yielding->plateau_end, a + 3);
  } else {
    const double half = 0.1 * (c.time[yield_index] - c.time[m.elastic->first]);
    while (a > m.elastic->last && c.time[yield_index] - c.time[a] < half) --a;
    while (b + 1 < m.end && c.time[b] - c.time[yield_index] < half) ++b;
  }
  if (yield_index > 0)
    if (b > a + 2) put(key::strain_rate, fit_line(c.time, e, a, b + 1));
  const double from = c.time[m.peak] - 0.2 * (c.time[m.peak] - c.time[m.elastic->last]);
  size_t k = m.peak;
  while (k > m.elastic->last && c.time[k] > from) --k;
  if (m.peak > k + 2) put(key::strain_rate_rm, fit_line(c.time, e, k, m.peak + 1));
}

void put_hardening(Values& v, Values& errors, const TestRecord& record, const StressCurve& c,
                   const std::vector<double>& true_width, const std::vector<double>& e, const std::vector<double>& r,
                   const Landmarks& m, double modulus, double origin) {
  const HardeningRange range = hardening_range(record, v, c, m);
  if (!(range.to > range.from)) return;
  // Points equally spaced in engineering strain, each the mean of the samples around it: neither the sampling rate nor
  // a change of speed moves the fit (docs/methods/tension-metal.md).
  constexpr size_t kPoints = 200;
  const double step = (range.to - range.from) / double(kPoints);
  struct Bin {
    double strain = 0, stress = 0;
    size_t n = 0;
  };
  std::vector<Bin> bins(kPoints);
  // The stretch of a flat top lies on both sides of A_g.
  for (size_t i = m.elastic->last; i <= std::max(m.peak, m.top.last) && i < m.end; ++i) {
    const double eng = e[i] - origin;
    if (!(eng >= range.from) || eng >= range.to) continue;
    Bin& b = bins[std::min(kPoints - 1, size_t((eng - range.from) / step))];
    b.strain += eng;
    b.stress += r[i];
    ++b.n;
  }
  std::vector<double> x, y;
  for (const Bin& b : bins) {
    if (b.n == 0) continue;
    const double eng = b.strain / double(b.n), true_stress = b.stress / double(b.n) * (1 + eng);
    const double plastic = std::log1p(eng) - true_stress / modulus;
    if (!(plastic > 0) || !(true_stress > 0)) continue;
    x.push_back(std::log(plastic));
    y.push_back(std::log(true_stress));
  }
  if (x.size() < 5) return;
  if (const auto f = fit_line(x, y)) {
    v[key::n_value] = f->slope;
    v[key::k_strength] = std::exp(f->intercept);
    // Scatter of the points about their own smooth course: the bend of a real curve on these axes is no error of n.
    double mean = 0, spread = 0;
    for (double t : x) mean += t / double(x.size());
    for (double t : x) spread += (t - mean) * (t - mean);
    const double scatter = noise_of_bent(y, 0, y.size());
    errors[key::n_value] = scatter / std::sqrt(spread);
    errors[key::k_strength] = v[key::k_strength] * scatter * std::sqrt(1 / double(x.size()) + mean * mean / spread);
  }
  if (true_width.empty()) return;
  // ε_w = −m·ε_l, constant volume: r = ε_w/ε_t = m/(1 − m) (ISO 10113, by regression).
  std::vector<double> length, width;
  for (size_t i = m.elastic->last; i <= m.peak; ++i) {
    const double eng = e[i] - origin;
    if (!(eng >= range.from) || eng > range.to || !std::isfinite(true_width[i])) continue;
    length.push_back(std::log1p(eng));
    width.push_back(true_width[i]);
  }
  if (length.size() < 5) return;
  if (const auto f = fit_line(length, width)) {
    const double narrowing = -f->slope;
    if (narrowing > 0 && narrowing < 1) v[key::r_value] = narrowing / (1 - narrowing);
  }
}

// Elongation by the marked-division method (ISO 6892-1, annex on breaks outside the middle third).
std::optional<double> ratio_elongation(const TestRecord& record, double gauge_length) {
  auto get = [&](const char* name) { return record.fields.number(std::string("specimen.after.divisions.") + name); };
  const auto divisions = get("count"), between = get("between"), xy = get("xy"), yz = get("yz");
  if (!divisions || !between || !xy || !yz || !(gauge_length > 0)) return std::nullopt;
  const double rest = *divisions - *between;
  if (rest < 0) return std::nullopt;
  const bool even = std::fmod(std::round(rest), 2.0) == 0.0;
  if (even) return (*xy + 2 * *yz - gauge_length) / gauge_length;
  const auto yz2 = get("yz2");
  if (!yz2) return std::nullopt;
  return (*xy + *yz + *yz2 - gauge_length) / gauge_length;
}

void put_after(Values& v, const TestRecord& record, const Inputs& in) {
  const bool by_ratio = record.fields.text("settings.elongation.method") == "ratio";
  if (by_ratio) {
    if (const auto a = ratio_elongation(record, in.gauge_length)) v[key::a] = *a;
  } else if (in.final_length > 0 && in.gauge_length > 0) {
    v[key::a] = (in.final_length - in.gauge_length) / in.gauge_length;
  }
  if (in.final_area > 0 && in.area > 0) v[key::z] = (in.area - in.final_area) / in.area;
  if (v.count(key::a) == 0 || !(in.area > 0)) return;
  const double exponent = conversion_of(record, 0).exponent;
  if (exponent == 0) return;
  const auto target = record.fields.number("settings.elongation.convert_to");
  const double wanted = target.value_or(5.65 * std::sqrt(in.area));
  // ISO 2566-1/-2: A ∝ (√S₀/L₀)^n on pieces of the same section.
  if (!target && std::abs(in.gauge_length / wanted - 1) < 0.02) return;
  v[key::a_equiv] = v[key::a] * std::pow(in.gauge_length / wanted, exponent);
}

}  // namespace

Conversion conversion_of(const TestRecord& record, double rm) {
  Conversion c;
  const MaterialFamily* family = find_family(record.fields.text("specimen.family"));
  if (family == nullptr) return c;
  std::string said = record.fields.text("specimen.family") + " " + record.fields.text("specimen.material");
  for (char& letter : said) letter = plain::lower(letter);
  for (const char* word : {"cold", "quench", "+qt", " qt", "harden", "+c "})
    if ((said + " ").find(word) != std::string::npos) {
      c.why_not = "the standard does not hold for cold-worked or quenched steels";
      return c;
    }
  c.exponent = family->elongation_exponent;
  if (c.exponent == 0) {
    c.why_not = "no exponent is standardised for " + std::string(family->name);
    return c;
  }
  const bool austenitic = c.exponent < 0.2;
  const double low = austenitic ? 450 : 300, high = austenitic ? 750 : 700;
  if (rm > 0 && (rm < low || rm > high))
    c.why_not = "R_m of " + ledger::si(rm, Dimension::stress, 3) + " lies outside the " +
                ledger::si(low, Dimension::stress, 3) + " to " + ledger::si(high, Dimension::stress, 3) +
                " for which it was set up";
  return c;
}

std::string offset_key(double offset) {
  // 0.2 % → "02", 1 % → "1", 0.15 % → "015": the percent number without its point.
  std::string digits = plain::fixed(offset * 100, 4);
  while (digits.back() == '0') digits.pop_back();
  std::erase(digits, '.');
  return "rp" + digits;
}

std::optional<double> offset_of_key(const std::string& key) {
  if (key.size() < 3 || key.compare(0, 2, "rp") != 0) return std::nullopt;
  std::string digits = key.substr(2);
  if (digits.find_first_not_of("0123456789") != std::string::npos || digits.size() > 6) return std::nullopt;
  if (digits.size() > 1 && digits.back() == '0')
    return std::nullopt;  // no offset has this key: 1 % is "rp1", 10 % has none
  digits.insert(1, ".");
  const double percent = plain::number(digits).value_or(0);
  if (!(percent > 0)) return std::nullopt;
  return percent / 100;
}

// 12 % and 1.2 % would have one key: the strength of the one stood once under the name of the other, and 2.5 % had
// none.
bool offset_taken(double offset) {
  const auto said = offset_of_key(offset_key(offset));
  return said && std::abs(*said - offset) < 1e-6;
}

HardeningRange hardening_range(const TestRecord& record, const Values& v, const StressCurve& c, const Landmarks& m) {
  HardeningRange range;
  const bool fixed_range = record.fields.text("settings.hardening.range") == "10-20";
  const auto ag = v.find(key::ag);
  range.to = ag == v.end() ? 0 : ag->second;
  if (fixed_range) {
    range.from = 0.10;
    range.to = std::min(range.to, 0.20);
    range.why = "10 % to 20 %";
    return range;
  }
  range.why = "2 % to A_g";
  if (m.yielding && m.elastic) {
    const double origin = -m.elastic->line.intercept / m.elastic->line.slope;
    const double plateau = hardening_start(c.strain, c.stress, m, m.yielding->plateau, 0.04, 0.2) - origin;
    if (plateau > range.from) {
      range.from = plateau;
      range.why = "end of the plateau to A_g";
    }
  }
  return range;
}

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
  if (in.offsets.empty()) in.offsets.push_back(0.002);
  return in;
}

Values compute(const TestRecord& record, const Test& test, const Shifts& shifts, Values* errors) {
  Values reading;
  const StressCurve& c = test.curve;
  const Landmarks& m = test.marks;
  const Inputs in = shifts.empty() ? test.in : inputs_of(record, shifts);
  Values v;
  if (in.area > 0) {
    v[key::area] = in.area;
    v[key::proportional_length] = 5.65 * std::sqrt(in.area);
  }
  put_after(v, record, in);
  if (c.size() < 3) return v;
  std::vector<double> stress_copy, strain_copy;
  if (!shifts.empty()) {
    stress_copy = scaled(c.stress, in.stress_scale);
    strain_copy = shifted_strain(c, shifts);
  }
  const std::vector<double>& r = shifts.empty() ? c.stress : stress_copy;
  const std::vector<double>& e = shifts.empty() ? c.strain : strain_copy;
  const double strain_scale = 1 + ledger::shift(shifts, "extension");

  // What was read off a noisy channel moves with its noise: the maximum, the yield points; less where a line is fitted.
  const double at_peak = 1 + ledger::shift(shifts, "noise_peak"), at_yield = 1 + ledger::shift(shifts, "noise_yield");
  const double at_line = 1 + 0.3 * ledger::shift(shifts, "noise_yield");
  v[key::rm] = r[m.peak] * at_peak;
  v[key::fm] = r[m.peak] * in.area * at_peak;
  if (m.smooth) {
    v[key::rm_top] = m.smooth->value * in.stress_scale;
    reading[key::rm_top] = m.smooth->error;
  }
  if (!m.elastic) return v;
  const ElasticWindow& w = *m.elastic;
  // The fitted line in shifted units, turned about the middle of its window by the slope's own error.
  const double slope = w.line.slope * in.stress_scale / strain_scale * in.modulus_scale;
  const double middle_e = 0.5 * (e[w.first] + e[w.last - 1]);
  const double middle_r = (w.line.intercept + w.line.slope * middle_e / strain_scale) * in.stress_scale;
  const double origin = middle_e - middle_r / slope;
  v[key::e_modulus] = slope;
  v[key::modulus_from] = m.school == "chord" || m.school == "secant" ? m.modulus_points.front().y : r[w.first];
  v[key::modulus_to] = m.school == "chord" || m.school == "secant" ? m.modulus_points.back().y : r[w.last - 1];
  if (m.fitted) {
    v[key::modulus_r2] = w.line.r2 + ledger::shift(shifts, "r2");
    v[key::modulus_slope_error] = w.line.slope_error / w.line.slope * (1 + ledger::shift(shifts, "slope_error"));
  }
  v[key::toe_shift] = origin;

  size_t yield_index = 0;
  Point yield_point{NAN, NAN};  // where the work up to yield ends, between two samples
  for (double offset : in.offsets) {
    if (const auto x = offset_crossing(e, r, slope, origin, offset, w.last, m.end)) {
      v[offset_key(offset)] = x->stress * at_line;
      if (yield_index == 0 || offset == 0.002) {
        yield_index = x->index;
        yield_point = {x->strain, x->stress};
      }
    }
  }
  const size_t half = std::clamp<size_t>(c.size() / 2000, 0, 25);
  if (const auto rt = value_at(e, r, origin + 0.005, w.last, m.end, half)) v[key::rt05] = *rt;
  if (m.yielding) {
    v[key::reh] = r[m.yielding->upper] * (at_yield + ledger::shift(shifts, "sample_yield"));
    v[key::rel] = r[m.yielding->lower] * at_yield;
    const double level = m.yielding->plateau * in.stress_scale;
    const double start = hardening_start(e, r, m, level, 0.04, 0.2);
    if (m.outside)
      v[key::ae] = m.crosshead_ae;
    else
      v[key::ae] = std::max(0.0, (start - level / slope) - (e[m.yielding->upper] - v[key::reh] / slope));
    yield_index = m.yielding->upper;
    yield_point = {e[yield_index], r[yield_index]};
    // Where uniform hardening starts is a choice of the stretch whose line is drawn back to the plateau; where the
    // upper yield lies is known to a sample.
    const double other = hardening_start(e, r, m, level, 0.08, 0.3), last = hardening_start(e, r, m, level, 0.02, 0.1);
    const double step = yield_index + 1 < m.end ? e[yield_index + 1] - e[yield_index] : 0;
    const size_t end = m.yielding->plateau_end;
    const double end_step = end > 0 ? e[end] - e[end - 1] : 0;
    reading[key::ae] =
        std::hypot(std::max(std::abs(other - start), std::abs(last - start)), rectangular(std::hypot(step, end_step)));
    reading[key::resilience] = rectangular(std::abs(step)) * r[yield_index];
  }
  const double middle = 0.5 * (c.time[m.top.first] + c.time[m.top.last]);
  const size_t mid = size_t(std::lower_bound(c.time.begin(), c.time.end(), middle) - c.time.begin());
  if (std::isfinite(e[mid]) && (m.fracture || m.peak + 1 < m.end)) {
    v[key::agt] = e[mid] - origin + ledger::shift(shifts, "top");
    v[key::ag] = v[key::agt] - v[key::rm] / slope;
  }
  if (m.fracture && std::isfinite(e[m.fracture->last_loaded])) {
    const size_t b = m.fracture->last_loaded;
    v[key::at] = e[b] - origin;
    v[key::a_ext] = v[key::at] - r[b] / slope;
  }
  if (yield_index > w.first) {
    const double foot = 0.5 * r[w.first] * r[w.first] / slope;
    // To the crossing itself, which lies between two samples.
    size_t before = yield_index;
    while (before > w.first && e[before] > yield_point.x) --before;
    v[key::resilience] = foot + work_under(e, r, w.first, before) +
                         0.5 * (r[before] + yield_point.y) * std::max(0.0, yield_point.x - e[before]);
    if (m.fracture && v.count(key::at) != 0)
      v[key::toughness] = foot + work_under(e, r, w.first, m.fracture->last_loaded);
    const double yield = m.yielding ? v[key::reh] : v.count(key::rp02) != 0 ? v[key::rp02] : 0.0;
    if (yield > 0) v[key::yield_ratio] = yield / v[key::rm];
  }
  put_rates(v, reading, c, e, r, m, yield_index);
  put_hardening(v, reading, record, c, test.true_width, e, r, m, slope, origin);
  if (errors != nullptr) *errors = reading;
  for (auto& [key, value] : v) value += ledger::shift(shifts, "read:" + key);
  return v;
}

}  // namespace fortitor::tension
