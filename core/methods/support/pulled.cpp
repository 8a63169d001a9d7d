#include "core/methods/support/pulled.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

std::optional<size_t> Pulled::reaching(double strain) const {
  for (size_t i = 0; i < end; ++i)
    if (curve.strain[i] >= strain) return i;
  return std::nullopt;
}

double Pulled::stress_at(double strain) const {
  if (empty()) return NAN;
  const size_t half = std::min<size_t>(5, curve.size() / 200);
  return value_at(curve.strain, curve.stress, strain, 0, end, half).value_or(NAN);
}

Pulled pulled_of(const TestRecord& record, double length) {
  Pulled p;
  tension::Inputs in;
  in.area = section_of(record.fields).area;
  in.extensometer_length = record.fields.number("specimen.extensometer_length").value_or(0);
  in.parallel_length = length;
  p.curve = tension::curve_of(record, in);
  if (p.empty()) return p;
  p.peak = size_t(std::max_element(p.curve.stress.begin(), p.curve.stress.end()) - p.curve.stress.begin());
  p.fracture = find_break(p.curve.time, p.curve.stress, p.peak);
  p.end = p.fracture ? p.fracture->last_loaded + 1 : p.curve.size();
  return p;
}

Pulled scaled(const Pulled& p, double stress, double strain) {
  Pulled s = p;
  for (double& v : s.curve.stress) v *= stress;
  for (double& v : s.curve.force) v *= stress;
  for (double& v : s.curve.strain) v *= strain;
  return s;
}

Pulled thinned(const Pulled& p, size_t wanted) {
  if (p.curve.size() <= wanted * 3 / 2) return p;
  Pulled t;
  t.curve = tension::thinned(p.curve, wanted);
  t.peak = size_t(std::max_element(t.curve.stress.begin(), t.curve.stress.end()) - t.curve.stress.begin());
  // The end is held where the full curve has it: thinning must not move a break.
  const double last = p.end > 0 ? p.curve.time[p.end - 1] : 0;
  t.end = size_t(std::upper_bound(t.curve.time.begin(), t.curve.time.end(), last) - t.curve.time.begin());
  t.end = std::max(t.end, t.peak + 1);
  if (p.curve.removed_index < p.curve.size()) {
    const double off = p.curve.time[p.curve.removed_index];
    t.curve.removed_index =
        size_t(std::upper_bound(t.curve.time.begin(), t.curve.time.end(), off) - t.curve.time.begin());
  }
  if (p.fracture) t.fracture = BreakPoint{t.end - 1, std::min(t.end, t.curve.size() - 1)};
  return t;
}

std::optional<ModulusFit> modulus_between(const Pulled& p, double from, double to, bool chord) {
  const auto a = p.reaching(from), b = p.reaching(to);
  if (!a || !b || *b <= *a + 1) return std::nullopt;
  ModulusFit m;
  m.from = from;
  m.to = to;
  const auto line = fit_line(p.curve.strain, p.curve.stress, *a, *b + 1);
  if (!line || !(line->slope > 0)) return std::nullopt;
  m.r2 = line->r2;
  m.error = line->slope_error;
  m.slope = line->slope;
  m.toe = -line->intercept / line->slope;
  if (chord) {
    const double y0 = p.stress_at(from), y1 = p.stress_at(to);
    m.slope = (y1 - y0) / (to - from);
    m.toe = from - y0 / m.slope;
    if (!(m.slope > 0)) return std::nullopt;
  }
  return m;
}

Loading as_loading(const tension::Curve& curve, size_t peak) {
  Loading l;
  l.s.force = curve.force;
  l.s.sorted_by_us = curve.sorted;
  l.s.dropped = curve.dropped;
  l.zero = curve.zero;
  l.peak = peak;
  return l;
}

void pulled_findings(Evaluation& e, const TestRecord& record, const Pulled& p, const std::string& key,
                     const std::string& direction) {
  if (p.empty()) return;
  const auto stated = record.fields.number("conditions.stated"), hours = record.fields.number("conditions.hours");
  if (stated && hours && *hours < *stated)
    ledger::raise(e, "conditioning-short", Severity::check,
                  "The piece was conditioned for " + ledger::si(*hours, Dimension::time, 3) + " of the " +
                      ledger::si(*stated, Dimension::time, 3) + " wanted.",
                  {{"ratio", *hours / *stated}}, {}, key);
  loading_findings(e, record, as_loading(p.curve, p.peak), p.curve.area, key);
  if (p.curve.sign_flipped)
    ledger::raise(e, "sign-flipped", Severity::note, "Force was logged negative; it is used as " + direction + ".");
  if (p.curve.source == tension::StrainSource::crosshead)
    ledger::raise(e, "modulus-from-crosshead", Severity::check,
                  "Strain rests on raw crosshead travel, which holds the stretch of frame and grips as well: a modulus "
                  "from it is no material value.",
                  {}, {}, "e_modulus");
  if (p.curve.source == tension::StrainSource::none)
    ledger::raise(e, "no-strain", Severity::check,
                  "The run carries no strain that can be read: results that need one are left out.");
}

void censored_note(Evaluation& e, const TestRecord& record, const std::string& key) {
  ledger::raise(e, "censored", Severity::note,
                "The run stopped before a break" +
                    (record.run.stopped.empty() ? std::string() : " (" + record.run.stopped + ")") +
                    ": values at the end are lower bounds, written with ≥.",
                {}, {}, key);
}

size_t touch_of(const std::vector<double>& force, size_t peak) {
  if (force.empty()) return 0;
  const double noise = noise_of(force, 0, std::max<size_t>(3, peak / 4));
  const double felt = std::max(0.005 * force[peak], 6 * noise);
  size_t i = 0;
  while (i < peak && force[i] < felt) ++i;
  return i > 0 ? i - 1 : 0;
}

void start_at_touch(Pulled& p) {
  const bool by_travel = p.curve.source == tension::StrainSource::crosshead ||
                         p.curve.source == tension::StrainSource::crosshead_corrected;
  if (p.empty() || !by_travel) return;
  const double start = p.curve.strain[touch_of(p.curve.stress, p.peak)];
  for (double& e : p.curve.strain) e -= start;
}

void pulled_inputs(const TestRecord& record, const Pulled& p, const Section& section,
                   std::vector<UncertainInput>& out) {
  ledger::class_input(record, "equipment.load_cell.class", "force", "force", out);
  if (p.curve.source == tension::StrainSource::extensometer || p.curve.source == tension::StrainSource::gauge)
    ledger::class_input(record, "equipment.extensometer.class", "extension", "extension", out);
  else if (p.curve.source != tension::StrainSource::none)
    out.push_back({"extension", "crosshead travel over its length, 5 % taken", rectangular(0.05)});
  section_inputs(section, record.fields.number("equipment.caliper.resolution").value_or(0), out);
}

std::shared_ptr<CurveData> pulled_curve(const Pulled& p, double toe, double lens) {
  auto data = std::make_shared<CurveData>();
  data->x_name = "strain";
  data->y_name = "stress";
  data->caption = "strain from " + p.curve.source_text;
  if (p.curve.source == tension::StrainSource::none) {
    data->x_name = "time";
    data->x_dimension = Dimension::time;
    data->caption.clear();
    data->x = p.curve.time;
  } else {
    data->x_origin = toe;
    data->x.reserve(p.curve.size());
    for (double v : p.curve.strain) data->x.push_back(v - toe);
  }
  data->y = p.curve.stress;
  data->break_index = p.fracture ? p.fracture->last_loaded : data->x.size();
  if (lens > 0) data->lens_x = lens;
  return data;
}

}  // namespace fortitor
