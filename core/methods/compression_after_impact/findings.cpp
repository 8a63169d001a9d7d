// What a compression after impact is judged by.
#include <cmath>

#include "core/methods/compression_after_impact/model.h"
#include "core/quantity/plain.h"

namespace fortitor::cai {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kKeptMost = 1.1;  // of the undamaged strength: no dented plate carries more

// The pairs beyond the limit, as what their screws have to do.
std::string alignment(const std::array<double, 2>& bending) {
  std::string out;
  for (size_t k = 0; k < 2; ++k)
    if (std::abs(bending[k]) > kBendingLimit) out += (out.empty() ? "" : "; ") + screw_words(k, bending[k]);
  if (!out.empty()) out[0] = plain::upper(out[0]);
  return out;
}

void judge_bending(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  if (!s.pairs[0].there() && !s.pairs[1].there()) {
    raise(e, "no-strain", s.run.empty() ? Severity::note : Severity::check,
          "No pair of gauges was recorded: nobody can tell how much the plate was bent while it was pressed.", {}, {},
          key::bending_percent);
    return;
  }
  if (const auto picked = record.fields.number("settings.seating");
      picked && !s.run.empty() && !record.run.open && *picked >= s.run.peak_force())
    raise(e, "pick-outside", Severity::check,
          "The force of " + si(*picked, D::force, 3) +
              " set for the alignment is none that the run passed: bending is read at " + si(s.seating, D::force, 3) +
              ".",
          {{"force", *picked}}, {}, key::bending_seating);
  const bool over = !record.run.open && s.run.peak_force() > 2 * s.seating;
  std::array<double, 2> seat = {bending_seated(s, 0), bending_seated(s, 1)};
  if (get(v, key::bending_seating) > kBendingLimit)
    raise(e, "align-again", over ? Severity::note : Severity::check,
          over ? "At the seating load the plate was bent by " + significant(get(v, key::bending_seating), 3) + " %. " +
                     alignment(seat) + " next time."
               : alignment(seat) + ". Go on when both pairs are below 10 %.",
          {{"left", seat[0]}, {"right", seat[1]}}, {}, key::bending_seating);
  if (!over) return;
  const std::array<double, 2> high = {get(v, key::bending_left), get(v, key::bending_right)};
  if (get(v, key::bending_percent) > kBendingLimit)
    raise(e, "bending-high", Severity::check,
          "At 90 % of the largest force the plate was bent by " + significant(get(v, key::bending_percent), 3) +
              " % (" + (std::abs(high[0]) == get(v, key::bending_percent) ? "left" : "right") +
              " pair); 10 % is the limit. The strength is that of a plate pressed askew.",
          {{"bending", get(v, key::bending_percent)}}, {}, key::cai_strength);
  if (s.buckling) {
    const double at = s.run.s.force[s.buckling->at];
    raise(e, "buckling", Severity::check,
          std::string("The ") + (s.buckling->front ? "front" : "back") + " gauge of the " +
              pair_name(s.buckling->pair) + " pair turned back at " + si(at, D::force, 3) + " (" +
              percent(at / s.run.peak_force()) +
              " of the largest force) while its partner went on: the plate bowed out. Look to the side rails.",
          {{"force", at}}, {}, key::cai_strength);
  }
}

}  // namespace

void findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  std::vector<Dim> dims;
  for (const Dim& d : {s.width, s.thickness})
    if (d.given()) dims.push_back(d);
  dimension_findings(dims, e.findings);
  conditioning_finding(e, record, key::cai_strength);
  if (s.run.empty()) return;
  RunFacts facts = facts_of(s.run, s.area);
  facts.direction = "compression";
  run_findings(e, record, facts, key::cai_strength);
  if (s.strain_flipped)
    raise(e, "strain-sign", Severity::note,
          "Strains were logged with compression negative; their magnitudes are used.");
  for (const State::Lost& l : s.lost)
    raise(
        e, "gauge-lost", Severity::check,
        "The gauge " + methods::compression_after_impact().channel(l.gauge)->label + " stands at " +
            si(l.value, D::microstrain, 4) + " from " + si(l.force, D::force, 3) +
            " on while the plate is pressed further: its wire is off. It is in no mean, and its pair shows no bending.",
        {{"strain", l.value}, {"force", l.force}}, {}, key::cai_modulus);
  for (const std::string& name : s.against)
    raise(
        e, "sign-odd", Severity::check,
        "Gauge " + name + " runs against the others from the start: its wires are crossed, or the plate is bent hard.",
        {}, {}, key::bending_percent);
  judge_bending(e, record, s, v);
  const std::string mode = record.fields.text("specimen.failure");
  if (mode == "end")
    raise(e, "end-crushing", Severity::void_test,
          "The plate was crushed at an end, away from the damage: its residual strength is not known.", {}, {},
          key::cai_strength);
  if (mode == "edge")
    raise(e, "edge-failure", Severity::void_test,
          "The plate gave way at an edge, away from the damage: its residual strength is not known.", {}, {},
          key::cai_strength);
  if (!s.run.fracture) censored_note(e, record, key::cai_strength);
  if (s.run.fracture && mode.empty())
    raise(e, "failure-unknown", Severity::check,
          "Say how the plate gave way: crushing away from the damage makes the test void.", {}, {}, key::cai_strength);
  if (const double kept = get(v, key::retention); kept > kKeptMost)
    raise(e, "retention-unlikely", Severity::check,
          "The dented plate carried " + percent(kept, 3) +
              " of the undamaged strength. Check that strength and its section.",
          {{"retention", kept}}, {}, key::retention);
}

}  // namespace fortitor::cai
