#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"
#include "core/methods/support/pulled.h"
#include "core/methods/tension_metal/model.h"
#include "core/reference/materials.h"

namespace fortitor::tension {
namespace {

using ledger::percent;

constexpr double kGripsLeft = 0.05;     // of the force at yield: what closing the grips may leave
constexpr double kUnderLoad = 0.01;     // of the stress at yield: the loading has begun
constexpr size_t kSamplesWanted = 50;   // below yield
constexpr double kLeastLooked = 20;     // samples: of fewer the largest difference is no rule
constexpr double kRoundSpread = 0.005;  // of a diameter

// A modulus, a strength and a section that the material cannot have.
constexpr double kModulusBelow = 0.9, kModulusAbove = 1.1;       // of the ends of its family's range
constexpr double kStrengthBelow = 0.5, kStrengthAbove = 1.6;     // likewise: then the section is another
constexpr double kLeastSection = 0.05, kLargestSection = 50000;  // mm²: a wire of 0.25 mm, a bar of 250 mm
// Results that cannot stand in this order, beyond what reading off a curve or by rule leaves open.
constexpr double kHardens = 0.08;  // n of a steel whose R_m lies above its yielding
constexpr double kAboveStrength = 1.002, kBelowUniform = 0.005, kBelowNeck = 0.01;

// Slips. A step within three samples is one of the piece or the blade when it is clear of what noise and flow make.
constexpr double kStep = 0.01;                        // of the largest stress
constexpr double kStillNoise = 6, kStillStep = 0.25;  // deviations of the strain; share of the step's elastic strain
constexpr double kGripStill = 1.5;                    // of the recoil: the gauge length only unloads while a grip slips
constexpr double kBladeQuick = 12;                    // times the strain of the samples beside it; flow only quickens
constexpr double kOffModulus = 0.7;                  // of the elastic strain: the two channels do not follow each other
constexpr size_t kBefore = 33, kAfter = 30;          // samples that are beside it
constexpr double kRecoil = 3;                        // times the elastic strain of a fall is still recoil
constexpr double kFrameGives = 2, kCrosshead = 1.2;  // times what frame and crosshead can have put into the length

// Sentences for people need no more than three figures.
std::string brief(double v, Dimension d, int figures = 3) {
  return ledger::si(v, d, figures);
}

struct Context {
  const TestRecord& record;
  const StressCurve& curve;
  const Landmarks& marks;
  const Inputs& in;
  const Values& values;
  std::vector<Finding>& out;

  std::optional<double> get(const char* key) const {
    const auto it = values.find(key);
    return it == values.end() ? std::nullopt : std::optional(it->second);
  }
  void add(const char* code, Severity severity, std::string message, std::map<std::string, double> evidence = {},
           std::vector<Remedy> remedies = {}, const char* key = "") const {
    if (severity == Severity::check && remedies.empty()) remedies = {{"accept", "Accept with a reason", {}, true}};
    out.push_back({code, severity, std::move(message), std::move(evidence), std::move(remedies), key, {}});
  }
};

void about_zero(const Context& c) {
  const double offset = c.curve.zero.value, yield = c.marks.yield_stress * c.in.area;
  if (c.curve.zero.beyond && yield > 0 && std::abs(offset) > kGripsLeft * yield)
    c.add("grip-preload", Severity::check,
          "Closing the grips left " + brief(offset, Dimension::force) + " on the piece, " +
              percent(std::abs(offset) / yield) +
              " of its yield force. Zero with one grip open, and let the bottom jaw follow.",
          {{"offset", offset}, {"yield_force", yield}});
}

void about_offsets(const Context& c) {
  for (const Reading& r : c.record.fields.readings("settings.offset"))
    if (r.value && !offset_taken(*r.value))
      c.add("offset-not-taken", Severity::check,
            "No proof strength is read at an offset of " + plain_number(100 * *r.value, 4) +
                " %: it lies between 0.0001 % and 10 %.",
            {{"offset", *r.value}});
}

void about_modulus(const Context& c) {
  if (!c.marks.elastic) return;
  const ElasticWindow& w = *c.marks.elastic;
  if (w.poor)
    c.add("modulus-fit-poor", Severity::check,
          "No straight part meets the rule (8 samples or more over a fifth of the range below yield, bent by less than "
          "1 %, slope within 1 %). The best has R² " +
              fixed(w.line.r2, 5) + " and a slope good to " + percent(w.line.slope_error / w.line.slope) +
              ". Choose the window by hand or accept it.",
          {{"r2", w.line.r2}, {"slope_error", w.line.slope_error / w.line.slope}}, {}, key::e_modulus);
  if (w.loop)
    c.add("loop-left-out", Severity::note,
          "The piece was unloaded and loaded again on the way: the modulus is that of the first loading, the loop is "
          "left "
          "out.",
          {}, {}, key::e_modulus);
  const MaterialFamily* family = find_family(c.record.fields.text("specimen.family"));
  const double e = c.get(key::e_modulus).value_or(0);
  if (family != nullptr && (e < kModulusBelow * family->e_low || e > kModulusAbove * family->e_high))
    c.add("modulus-unlikely", Severity::check,
          "E is " + brief(e, Dimension::modulus) + "; " + std::string(family->name) + " lies between " +
              brief(family->e_low, Dimension::modulus) + " and " + brief(family->e_high, Dimension::modulus) +
              ". Check the gauge length, the units and whether a blade slipped.",
          {{"e_modulus", e}, {"low", family->e_low}, {"high", family->e_high}}, {}, key::e_modulus);
  const double yield = c.marks.yielding ? c.curve.stress[c.marks.yielding->upper] : c.marks.yield_stress;
  size_t below = first_reaching(c.curve.stress, c.marks.peak, yield);
  below -=
      std::min(below, std::max(c.curve.zero.quiet, first_reaching(c.curve.stress, c.marks.peak, kUnderLoad * yield)));
  if (below < kSamplesWanted)
    c.add("too-few-points", Severity::check,
          "Only " + std::to_string(below) +
              " samples lie below yield where 50 are wanted: sample faster or pull slower next time.",
          {{"points", double(below)}});
}

// A jump of the blades after yielding, where strain runs by itself and no force tells. What it cannot be: the gauge
// length cannot grow by more than the crosshead went and frame and piece gave back when the force fell, and while the
// crosshead goes on it shortens by no more than the elastic return of such a fall. A blade that slipped 0.03 mm on a
// yield plateau went unseen before this, and took its length off A_e.
class BladeAfterYield {
 public:
  BladeAfterYield(const Context& c, double strain_noise, double least) : c_(c), clear_(6 * strain_noise + least) {
    length_ = c.in.extensometer_length;
    const double stiffness = c.record.fields.number("equipment.frame.stiffness").value_or(10e3);  // N/mm; a soft one
    give_ = stiffness > 0 && length_ > 0 ? c.in.area / stiffness / length_ : 0;
  }
  bool jumped(size_t i, size_t back, size_t ahead, double usual) const {
    const auto &r = c_.curve.stress, &e = c_.curve.strain, &x = c_.curve.crosshead;
    const double de = e[i] - e[i - 3];
    if (!(std::abs(de) > clear_) || (de > 0 && de <= kBladeQuick * usual)) return false;  // nearly always
    const double fall = std::max(0.0, *std::max_element(r.begin() + long(i - 3), r.begin() + long(i)) - r[i]),
                 recoil = kRecoil * fall / c_.marks.elastic->line.slope;
    double count = 0;  // largest step of the crosshead nearby: its travel in a sample, or a whole count of a coarse one
    for (size_t k = back + 1; k <= ahead; ++k) count = std::max(count, std::abs(x[k] - x[k - 1]));
    const bool goes_on = x[ahead] > x[back] && x[i] >= x[i - 3];
    if (!goes_on) return false;
    if (de < -clear_ - recoil) return true;
    return length_ > 0 &&
           de > clear_ + recoil + kFrameGives * fall * give_ + kCrosshead * (x[i] - x[i - 3] + count) / length_;
  }

 private:
  const Context& c_;
  double clear_, length_ = 0, give_ = 0;
};

// A step of one channel that the other does not follow. `rise`: expected strain per stress.
void about_slip(const Context& c) {
  if (!c.marks.elastic || c.curve.crosshead.empty() || c.curve.source == StrainSource::crosshead ||
      c.curve.source == StrainSource::crosshead_corrected)
    return;
  const auto &r = c.curve.stress, &e = c.curve.strain, &x = c.curve.crosshead;
  const double slope = c.marks.elastic->line.slope;
  const double step = kStep * r[c.marks.peak];
  const double strain_noise = noise_of(e, c.marks.elastic->first, c.marks.elastic->last);
  const double still = std::max(kStillNoise * strain_noise, kStillStep * step / slope);
  // Noise makes no slip: the step stands out of what the largest of so many differences would be.
  const double noise = noise_of(r, c.marks.elastic->first, std::max(c.marks.elastic->last, c.marks.peak));
  const double clear = std::max(step, 2 * std::sqrt(2 * std::log(std::max(kLeastLooked, double(r.size())))) * noise);
  size_t end = std::min({c.marks.peak, c.curve.removed_index, c.marks.end - 1});
  if (c.marks.outside) end = std::min(end, c.marks.yielding->upper);  // a band beyond the blades looks like a slip
  const size_t yield_at =
      c.marks.yielding ? c.marks.yielding->upper : std::min(end, first_reaching(r, c.marks.peak, c.marks.yield_stress));
  const BladeAfterYield later(c, strain_noise, 2 * step / slope);
  for (size_t i = c.marks.elastic->first + 3; i <= end; ++i) {
    const double dr = r[i] - r[i - 3], de = e[i] - e[i - 3], dx = x[i] - x[i - 3];
    const bool grip = dr < -clear && dx > 0 && std::abs(de) <= still + kGripStill * std::abs(dr) / slope && de < still;
    // A blade jumps within a sample or two; plastic flow at the knee only quickens.
    const size_t back = i > kBefore ? i - kBefore : 0, ahead = std::min(end, i + kAfter);
    const double usual = std::max(std::abs(e[i - 3] - e[back]) / double(i - 3 - back + 1),
                                  std::abs(e[ahead] - e[i]) / double(ahead - i + 1));
    const bool blade = i < yield_at && std::abs(de) > kBladeQuick * usual &&
                       std::abs(de) > 2 * step / slope + kStillNoise * strain_noise &&
                       std::abs(std::abs(dr) - slope * std::abs(de)) > kOffModulus * slope * std::abs(de);
    if (!grip && !blade && !(i > yield_at + 3 && later.jumped(i, back, ahead, usual))) continue;
    c.add("slip", Severity::check,
          grip ? "At " + brief(c.curve.time[i], Dimension::time) + " the force fell by " +
                     brief(-dr * c.in.area, Dimension::force) +
                     " while the crosshead went on and the gauge length stood still: the piece slipped in a grip."
               : "At " + brief(c.curve.time[i], Dimension::time) + " the extensometer jumped by " +
                     percent(std::abs(de)) + " strain without the force to match: a blade slipped.",
          {{"time", c.curve.time[i]}, {"force_step", dr * c.in.area}, {"strain_step", de}});
    return;
  }
}

void about_run(const Context& c) {
  if (c.marks.outside)
    c.add("band-outside-gauge", Severity::note,
          "At " + brief(c.curve.stress[c.marks.yielding->upper], Dimension::stress) +
              " the piece began to yield beyond the blades: they saw it unload while the crosshead went on. R_eH and "
              "R_eL "
              "hold; A_e is read off the crosshead.",
          {}, {}, key::reh);
  const bool ext = c.curve.source == StrainSource::extensometer;
  if (ext && !c.curve.removed_at && c.marks.fracture)
    c.add("extensometer-at-break", Severity::note,
          "The extensometer stayed on through the break. Its last readings may hold the jolt; check it before the next "
          "piece.");
}

void about_after(const Context& c) {
  const auto a = c.get(key::a), z = c.get(key::z), ag = c.get(key::ag);
  const bool broke = c.marks.fracture.has_value();
  const bool asked = c.record.limits.count(key::a) + c.record.limits.count(key::z) > 0;
  if (broke && (!a || (asked && c.record.limits.count(key::z) > 0 && !z)))
    c.add("no-after-measure", asked ? Severity::check : Severity::note,
          std::string("The halves are not measured yet: ") + (!a ? "the final gauge length" : "the neck") +
              " is wanted. An elongation read off the crosshead does not replace it.",
          {}, {}, key::a);
  const auto to_mark = c.record.fields.number("specimen.after.break_to_mark");
  const bool by_ratio = c.record.fields.text("settings.elongation.method") == "ratio";
  if (to_mark && c.in.gauge_length > 0 && *to_mark < c.in.gauge_length / 3 && !by_ratio)
    c.add("break-outside-middle", Severity::check,
          "The break lies " + brief(*to_mark, Dimension::length) +
              " from the nearer mark, outside the middle third of L₀ (" +
              brief(c.in.gauge_length / 3, Dimension::length) + "): the elongation may read low.",
          {{"break_to_mark", *to_mark}, {"third", c.in.gauge_length / 3}},
          {{"ratio", "Use the ratio method", {{"settings.elongation.method", "ratio"}}, false},
           {"accept", "Accept A as measured", {}, true}},
          key::a);
  if (by_ratio && !a)
    c.add("ratio-incomplete", Severity::check,
          "The ratio method wants the divisions of L₀, those between X and Y, and the lengths XY and YZ: type them at "
          "After.",
          {}, {{"marks", "Back to the end marks", {{"settings.elongation.method", "marks"}}, false}}, key::a);
  // Only where the standard allows it; where it does not, a person who asked for it is told.
  const bool converted = c.values.count("a_equiv") > 0;
  const Conversion conversion = conversion_of(c.record, c.get(key::rm).value_or(0));
  if (!conversion.why_not.empty() && a && (converted || c.record.fields.has("settings.elongation.convert_to")))
    c.add("conversion-unsuited", Severity::check,
          std::string("ISO 2566 does not cover this conversion of A: ") + conversion.why_not +
              (converted ? "; the converted elongation is an estimate." : "; none is given."),
          {}, {}, converted ? key::a_equiv : key::a);
  const std::string look = c.record.fields.text("specimen.after.fracture");
  if (z && !look.empty() && look != "other") {
    const bool ductile_look = look == "cup-and-cone" || look == "partial-cup" || look == "star";
    const bool brittle_numbers = *z < kBrittleZ && a.value_or(0) < kBrittleA;
    const bool ductile_numbers = *z > kDuctileZ;
    if ((ductile_look && brittle_numbers) || (look == "flat" && ductile_numbers))
      c.add("ductility-conflict", Severity::check,
            "The fracture is entered as " + std::string(look == "flat" ? "flat" : "ductile (" + look + ")") +
                " but Z is " + percent(*z) + (a ? " and A " + percent(*a) : "") + ". Look at the halves again.",
            {{"z", *z}, {"a", a.value_or(0)}}, {}, key::z);
  }
  std::string order;
  const auto reh = c.get(key::reh), rm = c.get(key::rm), n = c.get(key::n_value);
  if (reh && rm && n && *n > kHardens && *reh > *rm * kAboveStrength)
    order = "R_eH (" + brief(*reh, Dimension::stress) + ") lies above R_m (" + brief(*rm, Dimension::stress) +
            ") on a steel that hardens.";
  else if (a && ag && broke && *a < *ag - kBelowUniform)
    order = "A (" + percent(*a, 3) + ") is less than A_g (" + percent(*ag, 3) + ").";
  else if (z && ag && broke && *z < *ag / (1 + *ag) - kBelowNeck)
    order = "Z (" + percent(*z, 3) + ") is less than uniform strain alone leaves at constant volume (" +
            percent(*ag / (1 + *ag), 3) + ").";
  if (!order.empty())
    c.add("order-violated", Severity::check,
          order + " One of the two is wrong: check the readings of the halves and the strain source.",
          {{"a", a.value_or(0)}, {"ag", ag.value_or(0)}, {"z", z.value_or(0)}});
}

void about_section(const Context& c, const Section& section) {
  const bool round = section.shape == "round";
  dimension_findings(section.dims, c.out, round ? kRoundSpread : kUsualSpread,
                     section.shape == "by-mass" ? 1 : kUsualReadings);
  if (!section.missing.empty() && c.curve.size() == 0 && c.record.run.samples())
    c.add("no-section", Severity::check, section.missing + " Nothing can be computed without the cross-section.");
  const MaterialFamily* family = find_family(c.record.fields.text("specimen.family"));
  const double rm = c.get(key::rm).value_or(0);
  const bool off = family != nullptr && rm > 0 && c.marks.fracture &&
                   (rm < kStrengthBelow * family->rm_low || rm > kStrengthAbove * family->rm_high);
  if (c.in.area > 0 && (c.in.area < kLeastSection || c.in.area > kLargestSection || off))
    c.add("area-unlikely", Severity::check,
          "The cross-section is " + brief(c.in.area, Dimension::area) +
              (off ? ", which makes R_m " + brief(rm, Dimension::stress) + "; " + std::string(family->name) +
                         " lies between " + brief(family->rm_low, Dimension::stress) + " and " +
                         brief(family->rm_high, Dimension::stress)
                   : std::string()) +
              ". Check the readings and their units.",
          {{"area", c.in.area}, {"rm", rm}}, {}, key::area);
  if (c.get(key::ag) && !c.get(key::n_value)) {
    const HardeningRange range = hardening_range(c.record, c.values, c.curve, c.marks);
    c.add("n-refused", Severity::note,
          "n and K are not given: between " + percent(range.from) + " and " + percent(std::max(range.to, 0.0)) +
              " strain there are fewer than five points to fit.",
          {{"from", range.from}, {"to", range.to}}, {}, key::n_value);
  }
}

}  // namespace

void add_findings(Evaluation& e, const TestRecord& record, const Test& test, const Values& values) {
  const StressCurve& curve = test.curve;
  const Context c{record, curve, test.marks, test.in, values, e.findings};
  about_section(c, test.section);
  about_run(c);
  if (curve.size() >= 3) {
    if (!test.marks.fracture) censored_note(e, record, key::rm);
    const double top = *std::max_element(curve.force.begin(), curve.force.end());
    std::vector<ChannelFault> faults = curve.faults;  // a blade that jumps is a slip, told below; force falls at yield
    std::erase_if(faults, [](const ChannelFault& f) {
      return f.kind == ChannelFault::Kind::dropped ||
             (f.kind == ChannelFault::Kind::jumped && f.channel == "extension");
    });
    run_findings(e, record,
                 {curve.zero, top, test.in.area, curve.sorted, curve.sign_flipped, curve.clock_coarse, curve.dropped,
                  "tension", curve.clash, faults},
                 key::rm);
    about_zero(c);
    if (const auto toe = c.get(key::toe_shift)) toe_finding(e, curve.source, *toe);
    about_offsets(c);
    if (test.marks.elastic || curve.source == StrainSource::none)
      strain_findings(e, curve.source, false, key::e_modulus);
    about_modulus(c);
    about_slip(c);
    rate_findings(record, test, values, e);
  }
  about_after(c);
}

}  // namespace fortitor::tension
