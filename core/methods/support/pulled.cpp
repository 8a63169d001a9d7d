#include "core/methods/support/pulled.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/fields.h"

namespace fortitor {

namespace {

constexpr int kRounds = 25;
constexpr double kSameOrigin = 1e-7;             // strain
constexpr double kAwayTimes = 5, kAway = 0.05;   // of the window's end and the touch; strain: it runs away
constexpr double kFelt = 0.005, kFeltNoise = 6;  // of the largest force; times its noise
constexpr double kToeTravel = 0.005,
                 kToeMeasured = 0.0005;  // strain of a large toe, by the crosshead and by an instrument

}  // namespace

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
  CurveInputs in;
  in.area = section_of(record.fields).area;
  in.extensometer_length = record.fields.number("specimen.extensometer_length").value_or(0);
  in.parallel_length = length;
  p.curve = stress_curve(record, in);
  if (!p.empty()) static_cast<LoadingEnd&>(p) = end_of(p.curve);
  return p;
}

Pulled pulled_of(const TestRecord& record, double length, const SamplesPtr& samples) {
  TestRecord r = record;
  r.run.set_samples(samples);
  return pulled_of(r, length);
}

Pulled shifted(const Pulled& p, const TestRecord& record, const Shifts& shifts) {
  Pulled s;
  static_cast<LoadingEnd&>(s) = p;
  s.curve = shifted(p.curve, record, shifts);
  return s;
}

Pulled thinned(const Pulled& p, size_t wanted) {
  if (p.curve.size() <= wanted * 3 / 2) return p;
  Pulled t;
  t.curve = thinned(p.curve, wanted);
  t.peak = size_t(std::max_element(t.curve.stress.begin(), t.curve.stress.end()) - t.curve.stress.begin());
  // The end is held where the full curve has it: thinning must not move a break.
  const double last = p.end > 0 ? p.curve.time[p.end - 1] : 0;
  t.end = size_t(std::upper_bound(t.curve.time.begin(), t.curve.time.end(), last) - t.curve.time.begin());
  t.end = std::max(t.end, t.peak + 1);
  if (p.fracture) t.fracture = BreakPoint{t.end - 1, std::min(t.end, t.curve.size() - 1)};
  return t;
}

std::optional<ModulusFit> modulus_between(const Pulled& p, double origin, double from, double to, bool chord) {
  const auto a = p.reaching(origin + from), b = p.reaching(origin + to);
  if (!a || !b || *b <= *a + 1) return std::nullopt;
  ModulusFit m;
  m.from = from;
  m.to = to;
  const auto line = fit_line(p.curve.strain, p.curve.stress, *a, *b + 1);
  if (!line || !(line->slope > 0)) return std::nullopt;
  m.line = *line;
  m.error = line->slope_error;
  m.slope = line->slope;
  m.toe = -line->intercept / line->slope;
  const double middle = origin + 0.5 * (from + to);
  m.toe_error = std::hypot(line->residual_sd / std::sqrt(double(line->n)) / line->slope,
                           line->slope_error / line->slope * (middle - m.toe));
  if (chord) {
    const double y0 = p.stress_at(origin + from), y1 = p.stress_at(origin + to);
    m.slope = (y1 - y0) / (to - from);
    if (!(m.slope > 0)) return std::nullopt;
    m.toe = origin + from - y0 / m.slope;
    // Both ends are means over a few samples: the chord is a little less sure than the line over all of them, and so
    // is the place where it meets the axis.
    const size_t half = std::min<size_t>(5, p.curve.size() / 200);
    const double end = line->residual_sd / std::sqrt(double(2 * half + 1)), reach = from / (to - from);
    m.error = std::max(m.error, end * std::sqrt(2.0) / (to - from));
    m.toe_error = std::hypot(1 + reach, reach) * end / m.slope;
  }
  m.toe_error = std::hypot(m.toe_error, zero_error(p.curve, m.slope));
  // A strain that is itself rough makes the line too flat, by the share of its noise in all the strain it is fitted
  // over (attenuation; Fuller, Measurement Error Models, 1987, section 1.1).
  const double noise = noise_of_bent(p.curve.strain, *a, *b + 1), spread = (to - from) / std::sqrt(12.0);
  m.error = std::hypot(m.error, line->slope * std::min(1.0, noise * noise / (spread * spread)));
  return m;
}

Origin origin_of(const Pulled& p, double from, double to, bool chord) {
  Origin o;
  if (!p.strained()) return o;
  // The modulus window counts from the origin and the origin is the foot of its line: both settle in a few rounds,
  // beginning where the load is first felt.
  o.strain = p.curve.strain[touch_of(p.curve.stress, p.peak)];
  const double touch = o.strain;
  for (int round = 0; round < kRounds; ++round) {
    const auto m = modulus_between(p, o.strain, from, to, chord);
    if (!m) break;
    o.modulus = m;
    const double next = m->toe;
    if (!std::isfinite(next) || std::abs(next - touch) > kAwayTimes * (to + std::abs(touch)) + kAway) {
      o.modulus.reset();  // no line that leads to a foot
      o.strain = touch;
      return o;
    }
    const bool settled = std::abs(next - o.strain) < kSameOrigin;
    o.strain = next;
    if (settled) break;
  }
  if (o.modulus) {
    o.modulus = modulus_between(p, o.strain, from, to, chord);
    if (o.modulus) o.strain = o.modulus->toe;
  }
  if (!o.modulus) o.strain = touch;
  return o;
}

ToeSchool toe_school(const TestRecord& record) {
  return {record.fields.text("settings.toe") == "preload", record.fields.number("settings.prestress").value_or(0)};
}

Origin origin_of(const Pulled& p, double from, double to, bool chord, const ToeSchool& school) {
  if (!school.preload) return origin_of(p, from, to, chord);
  Origin o;
  if (!p.strained()) return o;
  const StressCurve& c = p.curve;
  size_t i = touch_of(c.stress, p.peak);
  while (i < p.peak && c.stress[i] < school.prestress) ++i;
  o.strain = c.strain[i];
  if (i > 0 && school.prestress > 0 && c.stress[i] > c.stress[i - 1]) {
    const double back = std::clamp((c.stress[i] - school.prestress) / (c.stress[i] - c.stress[i - 1]), 0.0, 1.0);
    o.strain -= back * (c.strain[i] - c.strain[i - 1]);
  }
  o.modulus = modulus_between(p, o.strain, from, to, chord);
  if (o.modulus)
    o.modulus->toe_error =
        std::max(zero_error(c, o.modulus->slope), noise_of_bent(c.stress, 0, p.peak) / o.modulus->slope);
  return o;
}

void add_toe_school(Method& m) {
  m.schools.push_back(fields::school("settings.toe", {"corrected", "preload"}));
  FieldSpec prestress = fields::quantity("settings.prestress", Dimension::stress, Stage::evaluate, "σ₀");
  prestress.when_path = "settings.toe";
  prestress.when_value = "preload";
  prestress.may_be_zero = true;
  m.fields.push_back(fields::of_series(prestress));
}

Step toe_step(const Origin& origin, const ToeSchool& school, double toe) {
  if (school.preload)
    return {"ε at σ₀", "σ₀ = " + ledger::si(school.prestress, Dimension::stress, 3), toe, Dimension::strain,
            "ISO 527-1, 9.3: strain begins at the prestress"};
  return {origin.modulus ? "ε₀ = ε₁ − σ₁/E" : "ε₀",
          origin.modulus ? "where the modulus line meets the strain axis" : "where the load is first felt", toe,
          Dimension::strain, "taken off all strains"};
}

void prestress_finding(Evaluation& e, const Origin& origin, const ToeSchool& school, const std::string& key) {
  if (!school.preload || !origin.modulus) return;
  const double allowed = origin.modulus->slope / 2000;
  if (!(school.prestress > allowed)) return;
  ledger::raise(e, "prestress-large", Severity::check,
                "The prestress of " + ledger::si(school.prestress, Dimension::stress, 3) + " is more than E/2000, " +
                    ledger::si(allowed, Dimension::stress, 3) +
                    " (ISO 527-1, 9.3): part of the strain that the modulus is read over is lost before it begins.",
                {{"prestress", school.prestress}, {"allowed", allowed}},
                {{"corrected", "Begin at the foot of the modulus line", {{"settings.toe", "corrected"}}, false},
                 {"accept", "Accept with a reason", {}, true}},
                key);
}

double zero_error(const StressCurve& c, double slope) {
  if (c.zero.quiet < 3 || !(slope > 0) || !(c.area > 0)) return 0;
  return std::hypot(c.zero.error / c.area / slope,
                    noise_of(c.strain, 0, c.zero.quiet) / std::sqrt(double(c.zero.quiet)));
}

size_t touch_of(const std::vector<double>& force, size_t peak) {
  if (force.empty()) return 0;
  const double noise = noise_of(force, 0, std::max<size_t>(3, peak / 4));
  const double felt = std::max(kFelt * force[peak], kFeltNoise * noise);
  size_t i = 0;
  while (i < peak && force[i] < felt) ++i;
  return i > 0 ? i - 1 : 0;
}

void pulled_findings(Evaluation& e, const TestRecord& record, const Pulled& p, const std::string& key,
                     const std::string& direction, bool planned_by_travel, const std::string& modulus) {
  if (p.empty()) return;
  conditioning_finding(e, record, key);
  const StressCurve& c = p.curve;
  run_findings(e, record,
               {c.zero, c.force[p.peak], c.area, c.sorted, c.sign_flipped, c.clock_coarse, c.dropped, direction,
                c.clash, c.faults},
               key);
  strain_findings(e, c.source, planned_by_travel, modulus);
}

void strain_findings(Evaluation& e, StrainSource source, bool planned_by_travel, const std::string& modulus) {
  if (source == StrainSource::crosshead)
    ledger::raise(e, "modulus-from-crosshead", planned_by_travel ? Severity::note : Severity::check,
                  "Strain rests on raw crosshead travel, which holds the stretch of frame and grips as well: a modulus "
                  "from it is no material value. Enter the frame's stiffness or use an extensometer.",
                  {}, {}, modulus);
  if (source == StrainSource::none)
    ledger::raise(e, "no-strain", Severity::check,
                  "The run carries no strain that can be read: no extension with its gauge length and no crosshead "
                  "travel with the length that it counts over. Results that need a strain are left out.");
}

void toe_finding(Evaluation& e, StrainSource source, double toe) {
  const double allowed = by_travel(source) ? kToeTravel : kToeMeasured;
  if (!(std::abs(toe) > allowed)) return;
  ledger::raise(
      e, "toe-large", Severity::check,
      "The foot of the curve is bent: the modulus line meets the strain axis at " + ledger::percent(toe) +
          ", beyond the " + ledger::percent(allowed, 1) +
          " that seating explains. Look for slack, a bent piece or a slipping blade; strains are counted from "
          "there.",
      {{"toe_shift", toe}}, {}, "toe_shift");
}

CurveSheet pulled_sheet(const Pulled& p, double toe, double lens) {
  CurveSheet sheet;
  sheet.x_name = "strain";
  sheet.y_name = "stress";
  sheet.caption = "strain from " + p.curve.source_text;
  if (p.curve.source == StrainSource::none) {
    sheet.x_name = "time";
    sheet.x_dimension = Dimension::time;
    sheet.caption.clear();
    sheet.x = p.curve.time;
  } else {
    sheet.x.reserve(p.curve.size());
    for (double v : p.curve.strain) sheet.x.push_back(v - toe);
  }
  sheet.y = p.curve.stress;
  sheet.break_index = p.fracture ? p.fracture->last_loaded : sheet.x.size();
  if (lens > 0) sheet.lens_x = lens;
  return sheet;
}

}  // namespace fortitor
