// What comes out of a spectrum: results with their derivation, findings.
#include <algorithm>
#include <cmath>

#include "core/evaluation/judge.h"
#include "core/methods/support/ledger.h"
#include "core/spectrum/values.h"

namespace fortitor::spectrum {
namespace {

using namespace ledger;
using D = Dimension;

// What is reported, by key; names: words.json.
namespace key {
constexpr auto cycles = "cycles", turning_points = "turning_points", range_p = "range_p", range_max = "range_max",
               omission_level = "omission_level", cycles_omitted = "cycles_omitted", damage_omitted = "damage_omitted",
               peak_loss = "peak_loss", damage = "damage", damage_no_cutoff = "damage_no_cutoff",
               range_equivalent = "range_equivalent", irregularity = "irregularity",
               blocks_to_failure = "blocks_to_failure", days_to_failure = "days_to_failure";
}  // namespace key

constexpr int kWhole = 9;  // figures of a count

const std::vector<ResultSpec>& specs() {
  static const std::vector<ResultSpec> all = [] {
    std::vector<ResultSpec> out = {
        spec_of(key::cycles, "n", D::none, true, kWhole),
        spec_of(key::turning_points, "", D::none, false, kWhole),
        spec_of(key::range_p, "Δε_p", D::microstrain, true, 4),
        spec_of(key::range_max, "Δε_max", D::microstrain, true, 4),
        spec_of(key::omission_level, "Δε_cut", D::microstrain, true, 4),
        spec_of(key::cycles_omitted, "", D::elongation, true, 3),
        spec_of(key::damage_omitted, "", D::elongation, true, 3),
        spec_of(key::peak_loss, "", D::elongation, true, 3),
        spec_of(key::damage, "D", D::none, true, 3),
        spec_of(key::damage_no_cutoff, "D₀", D::none, false, 3),
        spec_of(key::range_equivalent, "Δσ_eq", D::stress, true, 4),
        spec_of(key::irregularity, "I", D::none, true, 3),
        spec_of(key::blocks_to_failure, "", D::none, true, 3),
        spec_of(key::days_to_failure, "", D::time, true, 3),
    };
    for (ResultSpec& spec : out) name_result(spec, kMethod);
    return out;
  }();
  return all;
}

}  // namespace

Values values_of(const Week& w, const Settings& s, double rig) {
  Values v;
  put(v, key::cycles, w.cycles);
  put(v, key::turning_points, w.turning_points);
  put(v, key::range_p, w.range_p * 1e-6);
  put(v, key::range_max, w.range_max * 1e-6);
  put(v, key::omission_level, w.omission_level * 1e-6);
  put(v, key::cycles_omitted, w.cycles_omitted);
  put(v, key::damage_omitted, w.damage_omitted);
  put(v, key::peak_loss, w.peak_loss);
  put(v, key::damage, w.damage);
  put(v, key::damage_no_cutoff, w.damage_no_cutoff);
  put(v, key::range_equivalent, w.range_equivalent);
  put(v, key::irregularity, w.irregularity);
  if (w.damage > 0) {
    put(v, key::blocks_to_failure, s.d / w.damage);
    if (rig > 0) put(v, key::days_to_failure, s.d / w.damage * w.cycles * (1 - w.cycles_omitted) / rig);
  }
  return v;
}

namespace {

std::vector<Step> how(const std::string& key, const Week& w, const Settings& s, const Values& v) {
  std::vector<Step> steps;
  const auto spec = find_spec(specs(), key);
  const double value = get(v, key);
  auto add = [&](std::string expression, std::string with, std::string source = {}) {
    steps.push_back({std::move(expression), std::move(with), value, spec->dimension, std::move(source)});
  };
  auto micro = [](double x) { return significant(x, 4) + " µε"; };
  const std::string line = "category " + plain_number(s.category, 4) + " MPa, slope " + plain_number(s.m, 3) +
                           " to 5·10⁶, " + plain_number(s.m + 2, 3) + " to 10⁸";
  if (key == key::cycles)
    add(s.count == "three-point" ? "three-point count, halves as halves"
                                 : "four-point count, the residue put after itself",
        plain_number(w.turning_points, 9) + " turning points",
        s.count == "three-point" ? "ASTM E1049, 5.4.4" : "Amzallag et al. 1994");
  if (key == key::turning_points) add("reversals by more than the gate", "gate " + micro(s.gate));
  if (key == key::range_p)
    add("range exceeded by " + plain_number(100 * s.p, 3) + " % of the cycles", plain_number(w.cycles, 9) + " cycles",
        "straight line between sorted ranges");
  if (key == key::range_max) add("largest range", "one cycle of " + plain_number(w.cycles, 9));
  if (key == key::omission_level)
    add(plain_number(s.share, 3) + "·Δε_p",
        plain_number(s.share, 3) + "·" + micro(s.share > 0 ? w.omission_level / s.share : w.range_p),
        "the same for all weeks");
  if (key == key::cycles_omitted) add("share of the cycles below the cut", "below " + micro(w.omission_level));
  if (key == key::damage_omitted) add("their share of the damage", line + ", then on without a cut-off");
  if (key == key::peak_loss)
    add("mean loss of the hundred largest swings",
        "low-pass " + plain_number(s.cut, 3) + " Hz against the levelled signal");
  if (key == key::damage) add("Σ n/N", line + ", nothing below", "Palmgren–Miner");
  if (key == key::damage_no_cutoff) add("Σ n/N", line + ", then on", "Palmgren–Miner");
  if (key == key::range_equivalent)
    add("(Σ n·Δσ^m/Σ n)^(1/m)", "m = " + plain_number(s.m, 3) + ", E = " + si(s.modulus, D::modulus, 4));
  if (key == key::irregularity)
    add("upward crossings of the mean / peaks",
        plain_number(w.upward, 9) + " / " + plain_number(w.turning_points / 2, 9));
  if (key == key::blocks_to_failure) add("D/damage", plain_number(s.d, 3) + " / " + significant(w.damage, 3));
  if (key == key::days_to_failure)
    add("cycles after the cut × times / f", plain_number(std::round(w.cycles * (1 - w.cycles_omitted)), 9));
  return steps;
}

// (largest − smallest)/2 over the mean, of the weeks.
double scatter(const std::vector<Week>& weeks, double Week::*of) {
  double least = HUGE_VAL, largest = -HUGE_VAL, mean = 0;
  for (const Week& w : weeks) {
    least = std::min(least, w.*of);
    largest = std::max(largest, w.*of);
    mean += w.*of / double(weeks.size());
  }
  return mean > 0 ? (largest - least) / 2 / mean : NAN;
}

bool cut_off(const Week& w) {
  return w.smooth.top.cut_off() || w.smooth.bottom.cut_off();
}

std::string hours(double seconds) {
  return seconds < 7200 ? significant(seconds / 60, 3) + " min" : significant(seconds / 3600, 3) + " h";
}

// A range that ended, a zero that moved: what no setting of the chain puts right.
void logger_findings(Evaluation& e, const Week& w, double rate) {
  const auto micro = [](double x) { return significant(x, 4) + " µε"; };
  const Remedy stays{"keep", "They stay, because…", {}, true};
  for (const fatigue::RangeEnd* end : {&w.smooth.top, &w.smooth.bottom})
    if (end->cut_off())
      raise(e, "clipped", Severity::check,
            w.name + ": " + plain_number(double(end->samples), 9) + " samples in " +
                plain_number(double(end->stretches), 9) + " stretches stand exactly on the " +
                (end == &w.smooth.top ? "largest" : "least") + " value, " + micro(end->value) +
                ": the range of the logger ended there. How large these swings were is not known; ranges and damage "
                "are too small.",
            {{"samples", double(end->samples)}, {"value", end->value}}, {stays}, "range_max");
  // Those below the cut go with it.
  std::vector<fatigue::ZeroStep> steps;
  for (const fatigue::ZeroStep& s : w.smooth.steps)
    if (!(std::abs(s.by) < w.omission_level)) steps.push_back(s);
  if (steps.empty()) return;
  const auto largest = std::max_element(steps.begin(), steps.end(),
                                        [](const auto& a, const auto& b) { return std::abs(a.by) < std::abs(b.by); });
  raise(e, "zero-step", Severity::check,
        w.name + ": the zero moves " + plain_number(double(steps.size()), 6) +
            (steps.size() == 1 ? " time" : " times") + " from one sample to the next and stays there, most by " +
            micro(largest->by) + ", " + hours(double(largest->at) / rate) +
            " after the start. It is counted as a swing; the parts before and after belong into files of their own.",
        {{"steps", double(steps.size())}, {"by", largest->by}}, {stays}, "range_max");
}

void findings(Evaluation& e, const Spectrum& s) {
  const Settings& set = s.settings;
  const Week& t = s.together;
  for (const Week& w : s.weeks) {
    const double rate = w.signal ? w.signal->rate() : 0;
    if (!(rate > 0)) continue;
    if (w.raw.missing > 0)
      raise(e, "gaps", Severity::note,
            w.name + ": " + std::to_string(w.raw.gap_count) + (w.raw.gap_count == 1 ? " gap, " : " gaps, ") +
                hours(double(w.raw.missing) / rate) + " in all, " +
                percent(double(w.raw.missing) / double(w.raw.samples)) + ". They are kept out of every step.",
            {{"missing", double(w.raw.missing)}, {"gaps", double(w.raw.gap_count)}});
    const Remedy leave{"leave-out", "Take them as gaps", {{"settings.spikes", "leave-out"}}, false};
    const Remedy keep{"keep", "They stay, because…", {}, true};
    if (w.smooth.spike_count > 0)
      raise(e, "spikes", set.leave_out ? Severity::note : Severity::check,
            w.name + ": " + std::to_string(w.smooth.spike_count) +
                " single samples lie more than 12 robust deviations from their surroundings, the first " +
                hours(double(w.smooth.spikes.front()) / rate) + " after the start. " +
                (set.leave_out ? "They are gaps." : "They are counted as strain."),
            {{"spikes", double(w.smooth.spike_count)}},
            set.leave_out ? std::vector<Remedy>{} : std::vector<Remedy>{leave, keep}, "range_max");
    if (w.smooth.stuck_samples > 0)
      raise(e, "stuck", set.leave_out ? Severity::note : Severity::check,
            w.name + ": the same value for " + hours(double(w.smooth.stuck_samples) / rate) + " in all, first " +
                hours(double(w.smooth.stuck.empty() ? 0 : w.smooth.stuck.front().from) / rate) +
                " after the start: the logger stood still. " +
                (set.leave_out ? "These stretches are gaps." : "No cycle was counted there that may have been."),
            {{"samples", double(w.smooth.stuck_samples)}},
            set.leave_out ? std::vector<Remedy>{} : std::vector<Remedy>{leave, keep}, "cycles");
    logger_findings(e, w, rate);
    if (w.smooth.stuck_samples + w.raw.missing > w.raw.samples / 5)
      raise(e, "little-measured", Severity::check,
            w.name + ": " + percent(double(w.smooth.stuck_samples + w.raw.missing) / double(w.raw.samples)) +
                " of it was not measured: it is no whole week.",
            {}, {}, "cycles");
  }
  if (set.cut > 0)
    for (const Week& w : s.weeks)
      if (w.signal && set.cut >= w.signal->rate() / 2) {
        raise(e, "not-smoothed", Severity::note,
              "The cut of " + plain_number(set.cut, 4) + " Hz is at or above half the rate of " +
                  plain_number(w.signal->rate(), 5) + " Hz: nothing was smoothed.",
              {}, {}, "peak_loss");
        break;
      }
  constexpr double kOfNoise = 0.1;  // of the cycles: fewer change nothing that is read off the spectrum
  if (t.count_error > kOfNoise * t.cycles) {
    const std::string beyond = significant(t.gate_beyond, 2) + " µε";
    raise(e, "gate-in-noise", Severity::note,
          percent(t.count_error / t.cycles) + " of the cycles go when the gate moves from " + significant(set.gate, 2) +
              " to " + beyond + ", by the noise of a range: most of them are noise. The range at " +
              plain_number(100 * set.p, 3) + " % and the cut rest on their number.",
          {{"cycles", t.count_error}, {"gate", t.gate_beyond}},
          {{"gate", "Set the gate to " + beyond, {{"settings.gate", beyond}}, false}}, "cycles");
  }
  if (t.peak_loss > 0.05)
    raise(e, "peaks-lost", Severity::check,
          "Smoothing below " + plain_number(set.cut, 3) + " Hz takes " + percent(t.peak_loss) +
              " off the hundred largest swings: cut higher, or say why these peaks do not count.",
          {{"loss", t.peak_loss}}, {}, "peak_loss");
  if (t.damage_omitted > 0.01)
    raise(e, "cut-deep", Severity::check,
          "The cut takes " + percent(t.damage_omitted) + " of the damage away; below 1 % is wanted. Cut lower.",
          {{"omitted", t.damage_omitted}}, {}, "damage_omitted");
  if (!t.ranges.empty() && !(t.damage > 0) && std::none_of(s.weeks.begin(), s.weeks.end(), cut_off))
    raise(e, "no-damage", Severity::note,
          "Every range lies below the cut-off of the life line (" +
              si(LifeLine{set.category, set.m}.cut_off(), D::stress, 3) +
              "): by this line it lasts for ever. Without a cut-off the damage is " +
              significant(t.damage_no_cutoff, 3) + ".",
          {}, {}, "damage");
  if (set.p * double(t.ranges.size()) < 1)
    raise(e, "few-cycles", Severity::check,
          "Of " + std::to_string(t.ranges.size()) + " cycles less than one lies beyond " +
              plain_number(100 * set.p, 3) + " %: the range at that share is the largest one, by chance.",
          {}, {}, "range_p");
  if (s.weeks.size() >= 2) {
    const double p = scatter(s.weeks, &Week::range_p), largest = scatter(s.weeks, &Week::range_max),
                 equivalent = scatter(s.weeks, &Week::range_equivalent);
    raise(e, "weeks", Severity::note,
          "Over the " + std::to_string(s.weeks.size()) + " weeks the range at " + plain_number(100 * set.p, 3) +
              " % stays within ± " + percent(p) + ", the largest within ± " + percent(largest) +
              ", the equivalent range within ± " + percent(equivalent) + ".",
          {{"range_p", p}, {"range_max", largest}, {"range_equivalent", equivalent}}, {}, "range_p");
    if (equivalent > 0.1)
      raise(e, "weeks-differ", Severity::check,
            "The weeks are not alike: their equivalent ranges differ by ± " + percent(equivalent) +
                ". A drive from their sum is none of them.",
            {{"range_equivalent", equivalent}}, {}, "range_equivalent");
  }
  const Drive& d = s.drive;
  if (!d.values.empty() && d.source_per_transition > 0) {
    const double ratio = d.damage_per_transition / d.source_per_transition;
    if (std::abs(ratio - 1) > 0.1)
      raise(e, "drive-differs", Severity::check,
            "The drive does " + percent(std::abs(ratio - 1)) + (ratio > 1 ? " more" : " less") +
                " damage a transition than its source: take a longer one, or another seed.",
            {{"ratio", ratio}}, {}, "damage");
  }
  if (!s.study.empty()) {
    const size_t block = shortest_block(s.study);
    raise(e, "block-length", block > 0 ? Severity::note : Severity::check,
          block > 0 ? "Blocks from " + std::to_string(block) +
                          " transitions on repeat the damage of their source within ± 5 %." +
                          (s.settings.length < block ? " The drive is shorter than that." : "")
                    : "No block up to " + std::to_string(s.study.back().length) +
                          " transitions repeats the damage of its source within ± 5 %: rare large ranges rule it.",
          {{"length", double(block)}}, {}, "damage");
  }
}

// Of swings that went beyond the range of the logger no more is known than that they were larger: so is the damage,
// and the life is shorter.
void bound_by_range(Evaluation& e) {
  for (const char* k : {key::range_p, key::range_max, key::damage, key::damage_no_cutoff, key::range_equivalent})
    if (ResultValue* r = e.find(k)) r->censored = Censoring{true, 0, 0};
  for (const char* k : {key::blocks_to_failure, key::days_to_failure})
    if (ResultValue* r = e.find(k)) r->censored = Censoring{false, 0, r->value};
}

void rig_findings(Evaluation& e, const Spectrum& s, const Fields& f) {
  const Drive& d = s.drive;
  const double area = f.number("settings.area").value_or(0), limit = f.number("settings.rig.force").value_or(0),
               rate = f.number("settings.rig.rate").value_or(0), rig = f.number("settings.rig.frequency").value_or(0);
  if (d.values.empty() || !(area > 0)) return;
  const double newton = s.settings.modulus * 1e-6 * area;
  double most = 0, steepest = 0;
  for (size_t i = 0; i < d.values.size(); ++i) {
    most = std::max(most, std::abs(d.values[i]) * newton);
    // Half a cycle from point to point at the rig's frequency; a sine is π/2 steeper than its chord.
    if (i > 0 && rig > 0)
      steepest = std::max(steepest, std::abs(d.values[i] - d.values[i - 1]) * newton * 2 * rig * M_PI / 2);
  }
  if (limit > 0 && most > limit)
    raise(e, "rig-force", Severity::check,
          "The drive asks for " + si(most, D::force, 4) + " of a rig that can " + si(limit, D::force, 4) + ".",
          {{"force", most}}, {}, "range_max");
  if (rate > 0 && steepest > rate)
    raise(e, "rig-rate", Severity::check,
          "The drive moves at up to " + si(steepest, D::force_rate, 4) + " at " + plain_number(rig, 4) +
              " Hz; the rig follows up to " + si(rate, D::force_rate, 4) + ". Run it slower.",
          {{"rate", steepest}}, {}, "range_max");
}

}  // namespace

Evaluation evaluation_of_week(const Spectrum& s, const Week& w) {
  Evaluation e;
  e.method = kMethod;
  e.specimen = w.name;
  const Values v = values_of(w, s.settings, 0);
  add_results(e, specs(), v, [&](const std::string& key) { return how(key, w, s.settings, v); });
  attach_budget(e, w, s.settings, 0);
  if (cut_off(w)) bound_by_range(e);
  return e;
}

Evaluation evaluation_of(const Spectrum& s, const TestRecord& record) {
  Evaluation e;
  e.method = kMethod;
  e.specimen = record.specimen_id();
  const double rig = record.fields.number("settings.rig.frequency").value_or(0);
  const Values v = values_of(s.together, s.settings, rig);
  add_results(e, specs(), v, [&](const std::string& key) { return how(key, s.together, s.settings, v); });
  attach_budget(e, s.together, s.settings, rig);
  if (std::any_of(s.weeks.begin(), s.weeks.end(), cut_off)) bound_by_range(e);
  findings(e, s);
  rig_findings(e, s, record.fields);
  judge(e, record);
  return e;
}

std::string shown(const ResultValue& r, UnitSet units) {
  const std::string number = r.spec.figures == kWhole ? plain_number(r.value, 12)
                                                      : format_value(r.value, r.spec.dimension, units, r.spec.figures);
  return !r.censored ? number : (r.censored->above ? "≥ " : "≤ ") + number;
}

std::string shown_uncertainty(const ResultValue& r, UnitSet units) {
  if (!(r.standard_uncertainty > 0)) return {};
  if (r.spec.figures == kWhole) return "± " + significant(r.expanded(), 2);
  return "± " + printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, units).number;
}

}  // namespace fortitor::spectrum
