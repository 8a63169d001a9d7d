// What compression-after-impact asks and advises.
#include "core/methods/compression_after_impact/compression_after_impact.h"
#include "core/methods/compression_after_impact/model.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/reference/library.h"

namespace fortitor::cai {

using D = Dimension;

Plan plan(const TestRecord& r) {
  Plan p;
  const State s = look(r);
  if (!(s.area > 0)) p.blocking.push_back("Measure width and thickness.");
  // A dented plate keeps between a fifth and nine tenths of its strength in compression.
  double low = 60, high = 350;
  std::string from = "usual range of dented carbon plates, 60 to 350 MPa";
  if (const auto u = r.fields.number("specimen.undamaged"); u && *u > 0) {
    low = 0.2 * *u;
    high = 0.9 * *u;
    from = "a fifth to nine tenths of the undamaged strength";
  }
  if (s.area > 0) p.expected = Expectation{D::force, low * s.area, 0.5 * (low + high) * s.area, high * s.area, from};
  judge_load_path(methods::compression_after_impact(), r, "load_cell", p);
  p.advice.push_back({"settings.speed.elastic", "Speed", from_unit(1.25, "mm/min", D::speed), D::speed, "ASTM D7137"});
  p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "the end is sudden"});
  p.advice.push_back(
      {"settings.seating", "Hold for alignment at", kSeating, D::force, "bending is read there, screws are turned"});
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  if (r.fields.text("specimen.impact").empty())
    p.warnings.push_back("Which impact the plate had is not said: retention and report stand without its energy.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(text("specimen.layup", "Layup", Stage::prepare, "Such as [45/0/−45/90]4s."));
  FieldSpec impact =
      text("specimen.impact", "Impact of this plate", Stage::prepare, "Mark of the plate in its drop record.");
  impact.record_of = "drop-impact";
  add(of_piece(impact));
  add(of_series(quantity("specimen.undamaged", "Undamaged strength", D::stress, Stage::prepare, "F₀",
                         "Compression, same laminate.")));
  add(readings("specimen.width", "Width", D::length, Stage::measure, 3, "w", "At top, middle and bottom.", true));
  add(readings("specimen.thickness", "Thickness", D::length, Stage::measure, 3, "t", "Away from the dent.", true));
  add(choice("specimen.failure", "How it gave way", Stage::after,
             {{"damage", "across, through the damage"},
              {"delamination", "delamination grew to the sides"},
              {"buckled", "buckled as a whole"},
              {"end", "crushed at an end"},
              {"edge", "at an edge, away from the damage"},
              {"other", "other"}}));
  add(zero_choice());
  add_drive(m.fields, true);
  add(of_series(quantity("settings.seating", "Hold for alignment at", D::force, Stage::set_up, "",
                         "450 N: bending is read there.")));
  auto gauge = [](const char* name, const char* label, std::vector<std::string> words) {
    return channels::gauge(name, label, false, std::move(words));
  };
  m.channels = {channels::time(false),
                channels::force(),
                gauge("strain_front_1", "front left",
                      {"strain_front_1", "front left", "front 1", "front1", "=f1", "fl", "sg1", "vorn links", "vorne 1",
                       "avant 1"}),
                gauge("strain_back_1", "back left",
                      {"strain_back_1", "back left", "back 1", "back1", "=b1", "bl", "sg2", "hinten links", "hinten 1",
                       "arrière 1"}),
                gauge("strain_front_2", "front right",
                      {"strain_front_2", "front right", "front 2", "front2", "=f2", "fr", "sg3", "vorn rechts",
                       "vorne 2", "avant 2"}),
                gauge("strain_back_2", "back right",
                      {"strain_back_2", "back right", "back 2", "back2", "=b2", "br", "sg4", "hinten rechts",
                       "hinten 2", "arrière 2"}),
                channels::crosshead()};
  m.equipment = {equipment::frame(),         equipment::load_cell(), equipment::grips(),
                 equipment::strain_gauges(), equipment::indicator(), equipment::caliper()};
  auto& s = m.stages;
  s[0] = {"The plate that was struck, under its own mark.",
          {"Four gauges in two pairs back to back, 25 mm from top and sides.",
           "Ends ground flat and parallel, square to the sides."},
          {"Splinters of fibre: gloves. Solvents and adhesives: gloves, air, no flame."},
          {}};
  s[1] = {"Width and thickness, three times each, away from the dent.", {}, {}, {}};
  s[2] = {"Plate in its fixture, side rails snug, gauges balanced.",
          {"Rails hold the sides from bowing out and let them slide.",
           "The run holds at 450 N: read the bending and turn the screws there."},
          {"Platens are heavy: pinned before hands leave them. Fingers out of the gap.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"balanced", "Four gauges balanced, unloaded", false},
           {"rails", "Side rails snug, plate slides", false},
           {"guard", "Guard closed, glasses on", true},
           {"fingers", "Fingers out of the gap", true}}};
  s[3] = {"Hold at 450 N, align, then through to the end.",
          {"Screws of the fixture: a sixteenth of a turn at a time.", "Below 10 % on both pairs: go on."},
          {"Guard closed. A laminate bursts and throws splinters and dust."},
          {}};
  s[4] = {"How it gave way, and where.",
          {"Crushed at an end, or at an edge away from the dent: the test is void."},
          {"Splinters of fibre: gloves."},
          {}};
  s[5] = {"Strains of the pairs and the bending along the way.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = "plate-gauged";
  m.measure_sketch = "plate-gauged-sizes";
  m.after_sketch = "plate-crushed";
  m.setup_sketch = "load-path";
  m.run_sketch = "plate-fixture";
  m.standin = "plate-press";
  m.minutes = {15, 20, 10};
  m.limit_keys = {"cai_strength", "cai_modulus", "retention", "bending_percent"};
  m.measure_keys = {"area"};
  m.after_keys = {"failure_mode", "cai_strength", "retention"};
  m.timers = {{"conditions.stated", "conditions.hours", "Conditioning", "conditioning-short"}};
  m.series.key = "cai_strength";
  m.printed_settings = {"settings.speed", "settings.sampling", "settings.seating"};
  m.wording = {"How it gave way comes after the run.", "Strains of the pairs grow here while the plate is pressed.",
               "The plate gave way. Look at it at After.", "plate to look at", "While it lies in the fixture."};
  equipment::add_from_shelf(m, {"fixture", "dial", "micrometer"});
  finish(m);
}

}  // namespace fortitor::cai
