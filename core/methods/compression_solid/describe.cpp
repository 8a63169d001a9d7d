#include "core/methods/compression_solid/model.h"

#include <algorithm>

#include "core/methods/compression_solid/compression_solid.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/methods/support/timing.h"
#include "core/reference/library.h"

namespace fortitor::compression {
using D = Dimension;

namespace {

// Shares of the modulus of rupture that wood carries in compression, along and across the grain.
constexpr double kAlongFrom = 0.35, kAlongTo = 0.7, kAcrossFrom = 0.05, kAcrossTo = 0.25;
// Of R_m at most: cast iron carries far more pressed than pulled.
constexpr double kCastIron = 4.5, kOtherMetal = 1.5;

}  // namespace

double height_of(const TestRecord& r) {
  const Readings list = r.fields.readings("specimen.height");
  double sum = 0, n = 0;
  for (const Reading& x : list)
    if (x.value) {
      sum += *x.value;
      n += 1;
    }
  return n > 0 ? sum / n : 0;
}

double least_width(const Section& s, const Shifts& shifts) {
  double least = 0;
  auto mean = [&](const Dim& d) {
    const auto it = shifts.find(d.path);
    return d.mean + (it == shifts.end() ? 0.0 : it->second);
  };
  for (const Dim& d : s.dims)
    if (d.given() && (least == 0 || mean(d) < least) && d.path.find("inner") == std::string::npos &&
        d.path.find("wall") == std::string::npos)
      least = mean(d);
  return least;
}

bool perpendicular(const TestRecord& r) {
  return r.fields.text("settings.grain") == "perpendicular";
}

Plan plan(const TestRecord& r) {
  Plan p;
  const Section section = section_of(r.fields);
  const auto m = usual_of(r, "specimen.material");
  const auto wood = usual_of(r, "specimen.species", "wood");
  if (section.area > 0) {
    Expectation x;
    if (m && m->values.count("strength")) {
      x.low = m->values.at("strength").low;
      x.high = 2 * m->values.at("strength").high;
      x.from = "once to twice the tensile strength of " + m->name;
    } else if (m && m->values.count("rm")) {
      x.low = (m->values.count("yield") ? m->values.at("yield") : m->values.at("rm")).low;
      x.high = (m->family == "cast iron" ? kCastIron : kOtherMetal) * m->values.at("rm").high;
      x.from = "yield to one and a half times R_m (cast iron: four and a half) of " + m->name;
    } else if (wood) {
      x.low = (perpendicular(r) ? kAcrossFrom : kAlongFrom) * wood->values.at("mor_12").mean;
      x.high = (perpendicular(r) ? kAcrossTo : kAlongTo) * wood->values.at("mor_12").mean;
      x.from = std::string("a share of the modulus of rupture of ") + wood->name +
               (perpendicular(r) ? ", across the grain" : ", along the grain");
    }
    x.low *= section.area;
    x.high *= section.area;
    x.likely = 0.5 * (x.low + x.high);
    if (x.high > 0) p.expected = x;
  } else {
    p.blocking.push_back(section.missing);
  }
  judge_load_path(methods::compression_solid(), r, "load_cell", p);
  const double h = height_of(r);
  if (!(h > 0)) p.blocking.push_back("The height is wanted for the strain.");
  if (h > 0)
    p.advice.push_back({"settings.speed.elastic", "Speed", from_unit(0.01 * h, "mm/min", D::speed), D::speed,
                        "1 % of the height a minute"});
  p.advice.push_back({"settings.sampling", "Sampling", 20, D::frequency, "slow run"});
  if (h > 0)
    p.advice.push_back(
        {"settings.stop.travel", "Stop at travel", 0.5 * h, D::length, "half the height: before the platens meet"});
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  if (section.area > 0 && h / least_width(section) > kSlender)
    p.warnings.push_back("Higher than twice its width: it may buckle.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(text("specimen.species", Stage::prepare));
  add(of_piece(quantity("specimen.moisture", D::elongation, Stage::prepare)));
  for (FieldSpec f : section_fields({"round", "flat", "tube"}, Stage::measure)) add(std::move(f));
  add(readings("specimen.height", D::length, Stage::measure, 3, "L", true));
  add(of_series(quantity("specimen.extensometer_length", D::length, Stage::measure, "Lₑ")));
  add(quantity("specimen.after.diameter", D::length, Stage::after, "D_u"));
  add(choice("specimen.after.fracture", Stage::after, {"barrelled", "shear", "crushed", "split", "buckled", "none"}));
  m.schools = {school("settings.grain", {"parallel", "perpendicular"})};
  add(choice("settings.strain_source", Stage::evaluate, {"auto", "extensometer", "crosshead-corrected", "crosshead"},
             true));
  add(quantity("settings.at_strain", D::elongation, Stage::evaluate));
  add(zero_choice());
  add_drive(m.fields, true);
  m.channels = {channels::time(true), channels::force(), channels::extension(), channels::crosshead(true)};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::extensometer(),
                 equipment::caliper()};
  m.prepare_sketch = "cylinder";
  m.measure_sketch = "cylinder-sizes";
  m.after_sketch = "cylinder-broken";
  m.setup_sketch = "load-path";
  m.run_sketch = "block-press";
  m.standin = "press";
  m.run_time = [](const TestRecord& r) { return timing::pulled(r, 0.2); };  // to the stop
  m.limit_keys = {key::strength, key::rp02, key::e_modulus};
  m.measure_keys = {key::area, key::slenderness};
  m.after_keys = {key::barrelling, key::strength};
  m.series.key = key::strength;
  m.printed_settings = {"settings.grain", "settings.at_strain", "settings.speed", "settings.sampling"};
  equipment::add_from_shelf(m, {"platens", "micrometer"});
  finish(m);
}

}  // namespace fortitor::compression
