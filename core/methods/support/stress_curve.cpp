#include "core/methods/support/stress_curve.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/support/splice.h"
#include "core/section/section.h"

namespace fortitor {
namespace {

constexpr double kTravelOverLength = 0.05;  // relative, of a strain out of crosshead travel

double number(const TestRecord& r, const char* path) {
  const double v = r.fields.number(path).value_or(0.0);
  return std::isfinite(v) && v > 0 ? v : 0.0;
}

std::optional<double> removal_time(const TestRecord& record) {
  for (const Event& e : record.events)
    if (e.kind == "extensometer-removed") return e.at;
  return std::nullopt;
}

size_t last_finite(const std::vector<double>& v) {
  size_t i = v.size();
  while (i > 0 && !std::isfinite(v[i - 1])) --i;
  return i;
}

// Travel is what the frame gives, F/k, and what slack, grips and piece take besides: never less. A stiffness that says
// so beyond its own 10 % is another frame's, or was typed in another unit (45 kN/mm as 45 N/mm made strains of −1800
// %).
// A frame gives less than its stiffness says only by as much as the stiffness may be wrong, and a travel that short is
// slack.
constexpr double kLooked = 0.2;        // of the largest force: below it slack decides
constexpr double kStiffnessOff = 1.1;  // times the entered stiffness is still what was meant
constexpr double kTravelOff = 0.01;    // mm
std::optional<FrameClash> clash_of(const std::vector<double>& force, const std::vector<double>& x, double stiffness) {
  if (!(stiffness > 0) || x.size() != force.size() || force.empty()) return std::nullopt;
  const size_t peak = size_t(std::max_element(force.begin(), force.end()) - force.begin());
  FrameClash worst;
  double most = 0;
  for (size_t i = 1; i <= peak; ++i) {
    const double more = force[i] - force[0], went = x[i] - x[0];
    if (!(more > kLooked * force[peak]) || !std::isfinite(went)) continue;
    const double beyond = more / (kStiffnessOff * stiffness) - std::max(went, 0.0);
    if (beyond > std::max(most, kTravelOff)) most = beyond, worst = {stiffness, more, went};
  }
  return most > 0 ? std::optional(worst) : std::nullopt;
}

StrainSource choose_source(const TestRecord& record, const Signals& s, const CurveInputs& in, bool stiffness) {
  const std::string wish = record.fields.text("settings.strain_source");
  const bool gauge = any_finite(s.strain);
  const bool ext = any_finite(s.extension) && in.extensometer_length > 0;
  const bool cross = any_finite(s.crosshead) && in.parallel_length > 0;
  if (wish == "gauge" && gauge) return StrainSource::gauge;
  if (wish == "extensometer" && ext) return StrainSource::extensometer;
  if (wish == "crosshead-corrected" && cross && stiffness) return StrainSource::crosshead_corrected;
  if (wish == "crosshead" && cross) return StrainSource::crosshead;
  if (gauge) return StrainSource::gauge;
  if (ext) return StrainSource::extensometer;
  if (cross) return stiffness ? StrainSource::crosshead_corrected : StrainSource::crosshead;
  return StrainSource::none;
}

template <class Keep>
void keep_rows(StressCurve& c, const Keep& keep) {
  if (c.rows.empty()) {  // from here on the rows of the file have to be told
    c.rows.resize(c.size());
    for (size_t i = 0; i < c.rows.size(); ++i) c.rows[i] = i;
  }
  auto thin = [&](auto& v) {
    if (v.empty()) return;
    size_t to = 0;
    for (size_t i = 0; i < v.size(); ++i)
      if (keep(i)) v[to++] = v[i];
    v.resize(to);
  };
  for (auto* v : {&c.time, &c.force, &c.stress, &c.strain, &c.lateral, &c.crosshead}) thin(*v);
  thin(c.rows);
}

}  // namespace

std::string_view source_name(StrainSource s) {
  switch (s) {
    case StrainSource::gauge: return "strain channel";
    case StrainSource::extensometer: return "extensometer";
    case StrainSource::crosshead_corrected: return "crosshead, corrected for the machine";
    case StrainSource::crosshead: return "crosshead";
    case StrainSource::none: break;
  }
  return "no strain";
}

bool by_travel(StrainSource s) {
  return s == StrainSource::crosshead || s == StrainSource::crosshead_corrected;
}

StressCurve stress_curve(const TestRecord& record, const CurveInputs& in) {
  StressCurve c;
  const SamplesPtr samples = record.run.samples();
  if (!samples || !(in.area > 0)) return c;
  Signals s = clean(*samples);
  c.sign_flipped = s.sign_flipped;
  c.sorted = s.sorted_by_us;
  c.dropped = s.dropped + s.duplicates;
  c.time_invented = s.time_invented;
  c.clock_coarse = s.clock_coarse;
  c.area = in.area;
  c.faults = s.faults;
  if (s.size() < 3) return c;
  c.zero = take_zero(s.force, {&s.crosshead, &s.extension, &s.strain}, keeps_zero(record));
  c.rows = std::move(s.rows);
  c.time = std::move(s.time);
  c.force = std::move(s.force);
  c.stress.resize(c.force.size());
  for (size_t i = 0; i < c.force.size(); ++i) c.stress[i] = c.force[i] / in.area;

  c.clash = clash_of(c.force, s.crosshead, number(record, "equipment.frame.stiffness"));
  const double stiffness = c.clash ? 0 : number(record, "equipment.frame.stiffness");
  c.source = choose_source(record, s, in, stiffness > 0);
  c.source_text = source_name(c.source);
  const size_t n = c.force.size();
  c.strain.assign(n, NAN);
  c.crosshead = std::move(s.crosshead);
  const std::vector<double>& x = c.crosshead;
  // Without a quiet stretch there is nothing a zero could be read from: strain counts as it was logged.
  auto zero_of = [&](const std::vector<double>& v) { return c.zero.quiet > 0 ? mean_of(v, 0, c.zero.quiet) : 0.0; };
  if (c.source == StrainSource::gauge || c.source == StrainSource::extensometer) {
    const bool gauge = c.source == StrainSource::gauge;
    const std::vector<double>& raw = gauge ? s.strain : s.extension;
    const double zero = zero_of(raw), length = gauge ? 1.0 : in.extensometer_length;
    for (size_t i = 0; i < n; ++i) c.strain[i] = (raw[i] - zero) / length;
    c.removed_at = removal_time(record);
    const size_t given = last_finite(c.strain);
    // A channel that stops before the run does was taken off then, whether or not anyone said so.
    if (!c.removed_at && given > 0 && given < n) c.removed_at = c.time[given - 1];
    if (c.removed_at) {
      const size_t at = size_t(std::upper_bound(c.time.begin(), c.time.end(), *c.removed_at) - c.time.begin());
      size_t r = at == 0 ? 0 : at - 1;
      while (r > 0 && !std::isfinite(c.strain[r])) --r;
      c.removed_index = r;
      const bool splice = any_finite(x) && in.parallel_length > 0 && std::isfinite(x[r]);
      if (splice) c.splice = splice_of(c, x, r, stiffness, in.parallel_length);
      const double compliance = c.splice.stiffness > 0 ? 1 / c.splice.stiffness : 0;
      for (size_t i = r + 1; i < n; ++i) c.strain[i] = splice ? spliced(c, i, c.splice.length, compliance) : NAN;
      c.source_text += splice ? ", after its removal crosshead" : ", until its removal";
    }
  } else if (c.source != StrainSource::none) {
    const bool corrected = c.source == StrainSource::crosshead_corrected;
    // The first reading there is: where the very first was missing, no strain was left.
    const auto read = std::find_if(x.begin(), x.end(), [](double v) { return std::isfinite(v); });
    const double zero = c.zero.quiet > 0 ? zero_of(x) : *read;
    for (size_t i = 0; i < n; ++i)
      c.strain[i] = (x[i] - zero - (corrected ? c.force[i] / stiffness : 0.0)) / in.parallel_length;
  }
  c.lateral = std::move(s.strain_lateral);
  if (c.zero.quiet > 0 && any_finite(c.lateral)) {
    const double zero = zero_of(c.lateral);
    for (double& v : c.lateral) v -= zero;
  }
  // A dropped reading inside the curve leaves its row out; a channel that ended stays ended.
  const size_t last = last_finite(c.strain);
  if (c.source != StrainSource::none) {
    bool gaps = false;
    for (size_t i = 0; i < last && !gaps; ++i) gaps = !std::isfinite(c.strain[i]);
    if (gaps) {
      std::vector<bool> good(n);
      for (size_t i = 0; i < n; ++i) good[i] = i >= last || std::isfinite(c.strain[i]);
      c.dropped += size_t(std::count(good.begin(), good.end(), false));
      if (c.removed_index < n)
        c.removed_index -= size_t(std::count(good.begin(), good.begin() + long(c.removed_index), false));
      c.zero.quiet -= std::min(c.zero.quiet,
                               size_t(std::count(good.begin(), good.begin() + long(std::min(n, c.zero.quiet)), false)));
      keep_rows(c, [&](size_t i) { return good[i]; });
    }
  }
  return c;
}

LoadingEnd end_of(const StressCurve& c) {
  LoadingEnd e;
  if (c.stress.empty()) return e;
  e.peak = size_t(std::max_element(c.stress.begin(), c.stress.end()) - c.stress.begin());
  e.fracture = find_break(c.time, c.stress, e.peak);
  e.end = e.fracture ? e.fracture->last_loaded + 1 : c.size();
  return e;
}

StressCurve shifted(const StressCurve& c, const TestRecord& record, const Shifts& shifts) {
  StressCurve s = c;
  const double force = 1 + ledger::shift(shifts, "force");
  const double area = section_of(record.fields, shifts).area;
  const double stress = force * (area > 0 && c.area > 0 ? c.area / area : 1);
  for (double& v : s.stress) v *= stress;
  for (double& v : s.force) v *= force;
  s.strain = shifted_strain(c, shifts);
  if (area > 0) s.area = area;
  return s;
}

StressCurve thinned(const StressCurve& c, size_t wanted) {
  const size_t n = c.size();
  if (n <= wanted * 3 / 2) return c;
  const double top = *std::max_element(c.stress.begin(), c.stress.end());
  // Half of the samples go evenly over the rising stress, half evenly over the run.
  double progress = 0, highest = 0, due = 0;
  std::vector<size_t> take;
  take.reserve(2 * wanted);
  for (size_t i = 0; i < n; ++i) {
    if (c.stress[i] > highest) {
      progress += 0.5 * double(wanted) * (c.stress[i] - highest) / top;
      highest = c.stress[i];
    }
    progress += 0.5 * double(wanted) / double(n);
    if (progress < due && i + 1 != n && i != c.removed_index) continue;
    take.push_back(i);
    due = std::floor(progress) + 1;
  }
  StressCurve t;
  static_cast<CurveFacts&>(t) = c;
  if (c.removed_index < n)
    t.removed_index = size_t(std::lower_bound(take.begin(), take.end(), c.removed_index) - take.begin());
  const auto pick = [&](const auto& from, auto& to) {
    if (from.empty()) return;
    to.reserve(take.size());
    for (size_t i : take) to.push_back(from[i]);
  };
  pick(c.time, t.time);
  pick(c.force, t.force);
  pick(c.stress, t.stress);
  pick(c.strain, t.strain);
  pick(c.lateral, t.lateral);
  pick(c.crosshead, t.crosshead);
  pick(c.rows, t.rows);
  if (c.rows.empty()) t.rows = std::move(take);  // from here on the rows of the file have to be told
  return t;
}

std::vector<double> shifted_strain(const StressCurve& c, const Shifts& shifts) {
  const double scale = 1 + ledger::shift(shifts, "extension");
  std::vector<double> e(c.strain.size());
  for (size_t i = 0; i < e.size(); ++i) e[i] = c.strain[i] * scale;
  if (!c.splice.used || c.removed_index >= e.size()) return e;
  const double length = c.splice.length * (1 + ledger::shift(shifts, "splice_length")) +
                        c.splice.length_per_stiffness * ledger::shift(shifts, "splice_stiffness");
  const double compliance =
      c.splice.stiffness > 0 ? 1 / (c.splice.stiffness * (1 + ledger::shift(shifts, "splice_stiffness"))) : 0;
  const double at_removal = e[c.removed_index];
  for (size_t i = c.removed_index + 1; i < e.size(); ++i)
    e[i] = spliced(c, i, length, compliance) - c.strain[c.removed_index] + at_removal;
  return e;
}

void curve_inputs(const TestRecord& record, const StressCurve& c, std::vector<UncertainInput>& out) {
  ledger::class_input(record, "equipment.load_cell.class", "force", "force", out,
                      c.force.empty() ? NAN : *std::max_element(c.force.begin(), c.force.end()));
  if (c.source == StrainSource::extensometer || c.source == StrainSource::gauge) {
    ledger::class_input(record, "equipment.extensometer.class", "extension",
                        c.source == StrainSource::gauge ? "strain" : "extension", out);
  } else if (c.source != StrainSource::none) {
    out.push_back({"extension", "crosshead travel over its length, 5 % taken", rectangular(kTravelOverLength)});
  }
  if (!c.splice.used) return;
  const Splice& s = c.splice;
  out.push_back({"splice_length",
                 s.length_fitted ? "effective length after the extensometer, from where both were read"
                                 : "parallel length taken as effective after the extensometer, 2 %",
                 s.length_error / s.length, UncertainInput::Shape::normal});
  if (s.stiffness > 0)
    out.push_back({"splice_stiffness",
                   s.stiffness_entered ? "stiffness of the machine as entered, 10 % taken"
                                       : "stiffness of the machine, from the elastic part where both were read",
                   s.stiffness_error / s.stiffness, UncertainInput::Shape::normal});
}

}  // namespace fortitor
