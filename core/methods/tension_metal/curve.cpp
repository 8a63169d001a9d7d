#include <algorithm>
#include <cmath>

#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

double number(const TestRecord& r, const char* path) {
  const double v = r.fields.number(path).value_or(0.0);
  return std::isfinite(v) && v > 0 ? v : 0.0;
}

double shift(const Shifts& shifts, const char* name) {
  const auto it = shifts.find(name);
  return it == shifts.end() ? 0.0 : it->second;
}

std::optional<double> removal_time(const TestRecord& record) {
  for (const Event& e : record.events)
    if (e.kind == "extensometer-removed") return e.at;
  return std::nullopt;
}

bool any_finite(const std::vector<double>& v) {
  return std::any_of(v.begin(), v.end(), [](double x) { return std::isfinite(x); });
}

size_t last_finite(const std::vector<double>& v) {
  size_t i = v.size();
  while (i > 0 && !std::isfinite(v[i - 1])) --i;
  return i;
}

StrainSource choose_source(const TestRecord& record, const Signals& s, const Inputs& in) {
  const std::string wish = record.fields.text("settings.strain_source");
  const bool stiffness = number(record, "equipment.frame.stiffness") > 0;
  const bool gauge = any_finite(s.strain);
  const bool ext = any_finite(s.extension) && in.extensometer_length > 0;
  const bool cross = any_finite(s.crosshead) && in.parallel_length > 0;
  if (wish == "gauge" && gauge) return StrainSource::gauge;
  if (wish == "extensometer" && ext) return StrainSource::extensometer;
  if (wish == "crosshead-corrected" && cross && stiffness) return StrainSource::crosshead_corrected;
  if (wish == "crosshead" && cross) return StrainSource::crosshead;
  // In order of trust.
  if (gauge) return StrainSource::gauge;
  if (ext) return StrainSource::extensometer;
  if (cross) return stiffness ? StrainSource::crosshead_corrected : StrainSource::crosshead;
  return StrainSource::none;
}

template <class Keep>
void keep_rows(Curve& c, const Keep& keep) {
  for (auto* v : {&c.time, &c.force, &c.stress, &c.strain, &c.lateral, &c.crosshead}) {
    if (v->empty()) continue;
    size_t to = 0;
    for (size_t i = 0; i < v->size(); ++i)
      if (keep(i)) (*v)[to++] = (*v)[i];
    v->resize(to);
  }
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

Inputs inputs_of(const TestRecord& record, const Shifts& shifts) {
  Inputs in;
  in.area = section_of(record.fields, shifts).area;
  const double nominal = shifts.empty() ? in.area : section_of(record.fields).area;
  in.gauge_length = number(record, "specimen.gauge_length");
  if (in.gauge_length > 0) in.gauge_length += shift(shifts, "specimen.gauge_length");
  in.extensometer_length = number(record, "specimen.extensometer_length");
  in.parallel_length = number(record, "specimen.parallel_length");
  in.final_length = number(record, "specimen.after.gauge_length");
  if (in.final_length > 0) in.final_length += shift(shifts, "specimen.after.gauge_length");
  in.final_area = area_after(
      record.fields,
      record.fields.text("specimen.section.shape").empty() ? "round" : record.fields.text("specimen.section.shape"),
      shifts);
  in.stress_scale = (1 + shift(shifts, "force")) * (in.area > 0 ? nominal / in.area : 1);
  in.strain_scale = 1 + shift(shifts, "extension");
  in.modulus_scale = 1 + shift(shifts, "modulus");
  for (const Reading& r : record.fields.readings("settings.offset"))
    if (r.value && *r.value > 0 && *r.value < 0.2) in.offsets.push_back(*r.value);
  if (in.offsets.empty()) in.offsets.push_back(0.002);
  return in;
}

Curve curve_of(const TestRecord& record, const Inputs& in) {
  Curve c;
  if (!record.run.samples || !(in.area > 0)) return c;
  Signals s = clean(*record.run.samples);
  c.sign_flipped = s.sign_flipped;
  c.sorted = s.sorted_by_us;
  c.dropped = s.dropped + s.duplicates;
  c.time_invented = s.time_invented;
  c.area = in.area;
  if (s.size() < 3) return c;

  const std::vector<double>& motion = any_finite(s.crosshead)   ? s.crosshead
                                      : any_finite(s.extension) ? s.extension
                                      : any_finite(s.strain)    ? s.strain
                                                                : s.force;
  c.zero = take_zero(s.force, motion, record.fields.text("settings.zero") == "keep");
  c.time = std::move(s.time);
  c.force = std::move(s.force);
  c.stress.resize(c.force.size());
  for (size_t i = 0; i < c.force.size(); ++i) c.stress[i] = c.force[i] / in.area;

  c.source = choose_source(record, s, in);
  c.source_text = source_name(c.source);
  const double stiffness = number(record, "equipment.frame.stiffness");
  const std::vector<double>& x = s.crosshead;
  const size_t n = c.force.size();
  c.strain.assign(n, NAN);
  auto quiet_mean = [&](const std::vector<double>& v) { return mean_of(v, 0, c.zero.quiet); };
  if (c.source == StrainSource::gauge || c.source == StrainSource::extensometer) {
    const bool gauge = c.source == StrainSource::gauge;
    const std::vector<double>& raw = gauge ? s.strain : s.extension;
    const double zero = quiet_mean(raw), length = gauge ? 1.0 : in.extensometer_length;
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
      for (size_t i = r + 1; i < n; ++i) c.strain[i] = splice ? c.strain[r] + (x[i] - x[r]) / in.parallel_length : NAN;
      c.source_text += splice ? ", after its removal crosshead" : ", until its removal";
    }
  } else if (c.source != StrainSource::none) {
    const bool corrected = c.source == StrainSource::crosshead_corrected;
    const double zero = quiet_mean(x);
    for (size_t i = 0; i < n; ++i)
      c.strain[i] = (x[i] - zero - (corrected ? c.force[i] / stiffness : 0.0)) / in.parallel_length;
  }
  c.lateral = std::move(s.strain_lateral);
  c.crosshead = std::move(s.crosshead);
  // A dropped reading inside the curve leaves its row out; a channel that ended stays ended.
  const size_t last = last_finite(c.strain);
  if (c.source != StrainSource::none) {
    bool gaps = false;
    for (size_t i = 0; i < last && !gaps; ++i) gaps = !std::isfinite(c.strain[i]);
    if (gaps) {
      std::vector<bool> good(n);
      for (size_t i = 0; i < n; ++i) good[i] = i >= last || std::isfinite(c.strain[i]);
      c.dropped += size_t(std::count(good.begin(), good.end(), false));
      keep_rows(c, [&](size_t i) { return good[i]; });
    }
  }
  return c;
}

Curve thinned(const Curve& c, size_t wanted) {
  const size_t n = c.size();
  if (n <= wanted * 3 / 2) return c;
  Curve t = c;
  const double top = *std::max_element(c.stress.begin(), c.stress.end());
  // Half of the samples go evenly over the rising stress, half evenly over the run.
  double progress = 0, highest = 0, due = 0;
  std::vector<bool> take(n, false);
  for (size_t i = 0; i < n; ++i) {
    if (c.stress[i] > highest) {
      progress += 0.5 * double(wanted) * (c.stress[i] - highest) / top;
      highest = c.stress[i];
    }
    progress += 0.5 * double(wanted) / double(n);
    if (progress < due && i + 1 != n) continue;
    take[i] = true;
    due = std::floor(progress) + 1;
  }
  keep_rows(t, [&](size_t i) { return take[i]; });
  t.removed_index = SIZE_MAX;
  return t;
}

}  // namespace fortitor::tension
