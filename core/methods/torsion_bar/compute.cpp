#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/methods/torsion_bar/model.h"
#include "core/methods/torsion_bar/torsion_bar.h"

namespace fortitor::torsion {
namespace {

using ledger::put;
using ledger::shift;

constexpr double kSameCount = 1.001;   // counts: the same reading but for its last digit
constexpr double kDeparture = 0.05;    // of the response, by the school "deviation"
constexpr double kFactorTaken = 0.01;  // of a gauge factor

constexpr double kSameStop = 1e-9;    // an angle typed at After that is the last stop's, whatever unit it was typed in
constexpr double kSameTorque = 1e-6;  // of itself: what a unit that it was typed in leaves
constexpr double kOffScale = 30e-3;   // no bonded foil gauge reads beyond 3 %

// Station from which the strain channel says nothing more, and in what way.
std::optional<size_t> gauge_lost(const Rows& s, const std::string& channel, std::string& how) {
  auto at = [&](size_t i) { return s[i].number(channel); };
  size_t last = s.size();
  while (last > 0 && !at(last - 1)) --last;
  if (last == 0) return std::nullopt;  // never there
  for (size_t i = 0; i < last; ++i)
    if (const auto v = at(i); v && std::abs(*v) > kOffScale) {
      how = "off scale";
      return i;
    }
  // Frozen: the same reading, but for its last digit, at three stops or more to the end while the bar turned on so far
  // that the gauge should have moved by many digits.
  const Reading* shown = s[last - 1].reading(channel);
  const double count = shown != nullptr && shown->resolution > 0 ? shown->resolution : 0;
  size_t same = last - 1;
  while (same > 0 && at(same - 1) && std::abs(*at(same - 1) - *at(last - 1)) <= kSameCount * count &&
         *at(last - 1) != 0)
    --same;
  const auto turned = [&](size_t from, size_t to) {
    const auto a = s[from].number("angle"), b = s[to].number("angle");
    return a && b ? std::abs(*b - *a) : 0.0;
  };
  const double before = same > 0 && at(0) ? std::abs(*at(same) - *at(0)) : 0, way = same > 0 ? turned(0, same) : 0;
  const double expected = way > 0 ? before / way * turned(same, last - 1) : HUGE_VAL;
  if (last - same >= 3 && expected > 10 * count) {
    how = "frozen";
    return same + 1;
  }
  if (last < s.size()) {
    how = "missing";
    return last;
  }
  return std::nullopt;
}

// Last stop of the slope: stops at the end of the straight part that already bend do not enter it. One alone is beyond
// the t quantile and three counts of the line through the earlier ones; several that bend over gradually carry the line
// with them, and show as a square term (docs/methods/torsion-bar.md).
size_t slope_end(const LoadingPath& p, const ProportionalLimit& limit) {
  constexpr size_t kFewest = 4;  // index of the last of so many stops and one
  constexpr double kByChance = 0.01;
  size_t last = limit.last;
  while (last > kFewest) {
    const auto d = departure_of(p, last, last + 1);
    if (!d || !d->off) break;
    --last;
  }
  while (last > kFewest) {
    const long n = long(last) + 1;
    const auto bend =
        quadratic_term({p.load.begin(), p.load.begin() + n}, {p.response.begin(), p.response.begin() + n});
    if (!bend || !(bend->p < kByChance) || !(bend->coefficient > 0)) break;
    --last;
  }
  return last;
}

std::optional<ProportionalLimit> limit_by(const LoadingPath& path, const TestRecord& record) {
  const std::string school = record.fields.text("settings.proportional_limit.school");
  const auto torque = record.fields.number("settings.proportional_limit.torque");
  if (school == "pick" && torque) return straight_to_load(path, *torque);
  if (school == "deviation") return straight_to_deviation(path, kDeparture);
  const auto set = record.fields.number("settings.proportional_limit.tolerance");
  const auto limit = straight_to(path, set.value_or(kStraight));
  // An angle read to the degree lies within one per cent of nothing.
  return limit || set ? limit : straight_to(path, kRough);
}

// First crossing of the curve with the line of slope G from γ₀ + offset, by straight line between stops.
double offset_stress(const LoadingPath& path, double per_load, double per_response, const LineFit& line,
                     double offset) {
  for (size_t i = 1; i < path.size(); ++i) {
    auto beyond = [&](size_t k) { return (path.response[k] - line.at(path.load[k])) * per_response - offset; };
    const double a = beyond(i - 1), b = beyond(i);
    if (a >= 0 || b < 0) continue;
    const double part = -a / (b - a);
    return (path.load[i - 1] + part * (path.load[i] - path.load[i - 1])) * per_load;
  }
  return NAN;
}

}  // namespace

double yield_offset(const TestRecord& record) {
  return record.fields.text("settings.offset") == "0.04" ? 0.0004 : 0.002;
}

Bar bar_of(const TestRecord& record, const Shifts& shifts) {
  Bar b;
  const ledger::Sizes sizes = ledger::sizes_of(methods::torsion_bar(), record);
  b.diameter = sizes.mean("specimen.diameter", shifts);
  b.inner = sizes.mean("specimen.inner", shifts);
  b.length = record.fields.number("specimen.length").value_or(0);
  if (b.length > 0) b.length += shift(shifts, "specimen.length");
  if (b.inner >= b.diameter) b.inner = 0;
  b.j = std::numbers::pi * (std::pow(b.diameter, 4) - std::pow(b.inner, 4)) / 32;
  return b;
}

Twisting twisting_of(const TestRecord& record) {
  Twisting t;
  t.rows = stops_of(record.run, {"torque", "angle", "strain_45", "strain_minus_45"});
  t.keyed = !record.run.rows(kStops).empty();
  t.twist = path_of(t.rows, "torque", "angle");
  const LoadingPath minus = path_of(t.rows, "torque", "strain_minus_45");
  t.two_gauges = minus.size() > 0 && record.fields.number("specimen.gauges").value_or(2) >= 2;
  t.lost_at = gauge_lost(t.rows, "strain_45", t.lost_how);
  if (t.two_gauges) {
    std::string other;
    const auto lost = gauge_lost(t.rows, "strain_minus_45", other);
    if (lost && (!t.lost_at || *lost < *t.lost_at)) {
      t.lost_at = lost;
      t.lost_how = other;
    }
  }
  const LoadingPath plus = path_of(t.rows, "torque", "strain_45");
  for (size_t i = 0; i < plus.size(); ++i) {
    if (t.lost_at && plus.station[i] >= *t.lost_at) break;
    double gamma = 2 * plus.response[i];
    if (t.two_gauges) {
      const auto other = t.rows[plus.station[i]].number("strain_minus_45");
      if (!other) continue;
      gamma = plus.response[i] - *other;
    }
    t.gauge.load.push_back(plus.load[i]);
    t.gauge.response.push_back(gamma);
    t.gauge.count.push_back(2 * plus.count[i]);
    t.gauge.station.push_back(plus.station[i]);
  }
  t.gauge_limit = limit_by(t.gauge, record);
  t.twist_limit = limit_by(t.twist, record);
  for (double torque : t.twist.load) t.torque_max = std::max(t.torque_max, torque);
  for (double angle : t.twist.response) t.angle_end = std::max(t.angle_end, angle);
  const auto torque = record.fields.number("specimen.after.torque_max");
  const auto angle = record.fields.number("specimen.after.angle");
  if (torque) t.torque_max = *torque;
  if (angle) t.angle_end = *angle;
  const std::string fracture = record.fields.text("specimen.after.fracture");
  t.broken = fracture != "none" && (torque || !fracture.empty());
  // Slope of the torque–angle curve at the end, over the last three points.
  std::vector<double> x, y;
  for (size_t i = t.twist.size() >= 3 ? t.twist.size() - 3 : 0; i < t.twist.size(); ++i) {
    x.push_back(t.twist.response[i]);
    y.push_back(t.twist.load[i]);
  }
  if (torque && angle && (x.empty() || *angle > x.back() * (1 + kSameStop))) {
    x.push_back(*angle);
    y.push_back(*torque);
    if (x.size() > 3) {
      x.erase(x.begin());
      y.erase(y.begin());
    }
  }
  if (x.size() >= 3) t.end_slope = fit_line(x, y);
  // Between stops that stand far apart the curve bends: the chords on, but never below flat.
  if (t.end_slope && x[1] > x[0] && x[2] > x[1]) {
    const double before = (y[1] - y[0]) / (x[1] - x[0]), last = (y[2] - y[1]) / (x[2] - x[1]);
    const double end = last + (last - before) * (x[2] - x[1]) / (x[2] - x[0]);
    const bool falls = y[2] < y[1] * (1 - kSameTorque);
    t.end_bend = std::abs(t.end_slope->slope - (falls ? end : std::max(end, 0.0)));
  }
  return t;
}

Values compute(const TestRecord& record, const Twisting& t, const Shifts& shifts) {
  Values v;
  const Bar b = bar_of(record, shifts);
  if (!(b.diameter > 0)) return v;
  const double r = b.radius(), torque = 1 + shift(shifts, "torque"), gauge = 1 + shift(shifts, "gauge");
  const double angle = 1 + shift(shifts, "angle");
  const double tau = r / b.j * torque;  // shear stress at the surface per torque as read
  put(v, key::j_moment, b.j);
  const bool has_length = b.length > 0;
  const double gamma = has_length ? r / b.length * angle : NAN;  // shear strain per radian of twist
  auto modulus = [&](const LoadingPath& p, const ProportionalLimit& l, double per_response) {
    const auto line = fit_line(p.response, p.load, 0, slope_end(p, l) + 1);
    return line && line->slope > 0 ? line->slope * tau / per_response : NAN;
  };
  if (t.gauge_limit)
    put(v, key::g_modulus,
        modulus(t.gauge, *t.gauge_limit, gauge) * (1 + shift(shifts, "slope") + shift(shifts, "straight")));
  if (t.twist_limit && has_length)
    put(v, key::g_twist,
        modulus(t.twist, *t.twist_limit, gamma) * (1 + shift(shifts, "slope_twist") + shift(shifts, "straight_twist")));
  const auto& limit = t.gauge_limit ? t.gauge_limit : t.twist_limit;
  if (limit) {
    put(v, key::tau_pl, limit->load * tau);
    put(v, key::torque_pl, limit->load * torque);
    double yield = NAN;
    if (t.gauge_limit) yield = offset_stress(t.gauge, tau, gauge, t.gauge_limit->line, yield_offset(record));
    // Where the gauge did not live to see yield, the twist does.
    if (!std::isfinite(yield) && t.twist_limit && has_length)
      yield = offset_stress(t.twist, tau, gamma, t.twist_limit->line, yield_offset(record));
    put(v, key::tau_y, yield);
  }
  if (t.torque_max > 0) {
    const double tm = t.torque_max * torque, ri = b.inner / 2;
    put(v, key::torque_max, tm);
    put(v, key::tau_rupture, tm * r / b.j);
    put(v, key::tau_plastic, 3 * tm / (2 * std::numbers::pi * (r * r * r - ri * ri * ri)));
    // Nadai 1950, vol. 1: true stress at the surface of a solid bar from the slope of the T–θ curve.
    if (t.end_slope && !b.tube() && !t.end_unknown())
      put(v, key::tau_nadai,
          (t.angle_end * (t.end_slope->slope + shift(shifts, "end_slope")) + 3 * t.torque_max) * torque /
              (2 * std::numbers::pi * r * r * r));
  }
  if (t.angle_end > 0) {
    put(v, key::turns, t.angle_end * angle / (2 * std::numbers::pi));
    if (has_length) {
      put(v, key::gamma_f, t.angle_end * gamma);
      put(v, key::strain_eq, t.angle_end * gamma / std::sqrt(3.0));
    }
  }
  if (const double nu = record.fields.number("specimen.poisson").value_or(0); nu > 0 && v.count(key::g_modulus))
    put(v, key::e_check, 2 * v[key::g_modulus] * (1 + nu));
  return v;
}

void add_inputs(const TestRecord& record, const Twisting& t, std::vector<UncertainInput>& inputs) {
  ledger::size_inputs(ledger::sizes_of(methods::torsion_bar(), record), record, inputs);
  ledger::length_input(record, "specimen.length", "twisted length", 1.0, inputs);
  if (t.torque_max > 0)
    ledger::class_input(record, "equipment.torque_cell.class", "torque", "torque", inputs, t.torque_max);
  if (t.gauge.size() > 0) inputs.push_back({"gauge", "gauge factor, ± 1 % (assumed)", rectangular(kFactorTaken)});
  if (t.angle_end > 0 && !t.twist.count.empty())
    inputs.push_back({"angle", "angle, one division at the end", rectangular(t.twist.count.back() / t.angle_end)});
  if (t.end_bend > 0)
    inputs.push_back(
        {"end_slope", "slope of torque over twist at the end, between the last stops", rectangular(t.end_bend)});
  for (const auto& [name, choice, path, limit, label] :
       {std::tuple{"slope", "straight", &t.gauge, &t.gauge_limit, "G"},
        std::tuple{"slope_twist", "straight_twist", &t.twist, &t.twist_limit, "G from twist"}}) {
    if (!*limit) continue;
    const size_t last = slope_end(*path, **limit);
    const auto line = fit_line(path->response, path->load, 0, last + 1);
    if (!line || !(line->slope > 0)) continue;
    if (line->slope_error > 0)
      inputs.push_back({name, std::string("fit of ") + label + ", " + std::to_string(line->n) + " stops",
                        line->slope_error / line->slope, UncertainInput::Shape::normal, double(line->n) - 2});
    if (const double moved = straight_choice(*path, last); moved > 0)
      inputs.push_back(
          {choice, std::string("choice of the straight part for ") + label, moved, UncertainInput::Shape::normal});
  }
}

}  // namespace fortitor::torsion
