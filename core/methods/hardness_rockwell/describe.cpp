#include <algorithm>
#include <cmath>

#include "core/methods/hardness_rockwell/hardness_rockwell.h"
#include "core/methods/hardness_rockwell/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"

namespace fortitor::rockwell {
namespace {

using D = Dimension;

constexpr double kKgf = kStandardGravity;

std::string kgf(double newtons) {
  return significant(newtons / kKgf, 3) + " kgf";
}

// What hangs on a dead-weight machine for this scale, in words.
void weights(const TestRecord& r, const RockwellScale& scale, Plan& p) {
  const auto base = r.fields.number("equipment.hardness_machine.base_force");
  std::vector<double> plates;
  for (const Reading& x : r.fields.readings("equipment.hardness_machine.plates"))
    if (!x.missed()) plates.push_back(*x.value);
  if (!base) return;
  const auto hung = plates_for(scale.total * kKgf, *base, plates);
  if (!hung) {
    p.blocking.push_back("No choice of the plates of this machine makes " + significant(scale.total, 3) +
                         " kgf over its " + kgf(*base) + ".");
    return;
  }
  std::string on, off;
  for (size_t i = 0; i < plates.size(); ++i) {
    const bool hangs = std::find(hung->begin(), hung->end(), i) != hung->end();
    std::string& list = hangs ? on : off;
    list += (list.empty() ? "" : ", ") + kgf(plates[i]);
  }
  const std::string ring = r.fields.text(scale.diamond() ? "equipment.hardness_machine.ring_diamond"
                                                         : "equipment.hardness_machine.ring_ball");
  p.warnings.push_back("For " + scale.symbol() + ": " + (on.empty() ? "no plate hangs" : "hang " + on) +
                       (off.empty() ? "" : ", take off " + off) + ", with the " + scale.indenter() +
                       (ring.empty() ? "." : "; read the " + ring + " ring."));
}

Plan plan(const TestRecord& r) {
  Plan p;
  const RockwellScale* scale = find_rockwell(r.fields.text("specimen.scale"));
  if (scale == nullptr) {
    p.blocking.push_back("Choose the scale. Of an unknown piece read A first, then C or B by its reading.");
    return p;
  }
  p.expected = Expectation{D::force, scale->total * kKgf, scale->total * kKgf, scale->total * kKgf,
                           "total force of " + scale->symbol()};
  weights(r, *scale, p);
  const auto case_depth = r.fields.number("specimen.case_depth");
  if (case_depth && *case_depth < 1.0 && (scale->id == "C" || scale->id == "D"))
    p.warnings.push_back("A case of " + significant(*case_depth, 2) + " mm is thin for " + scale->symbol() +
                         ": read it on A or 15N.");
  if (!r.fields.number("specimen.block.certified"))
    p.warnings.push_back("Read a reference block near the expected hardness before and after the work.");
  if (r.fields.number("specimen.diameter_convex") && !r.fields.number("specimen.convex_correction"))
    p.warnings.push_back("The surface is convex: look up the correction for this scale and diameter.");
  const auto places = indents::places_of(r, expected_size(r), spacing_of(r));
  if (!places) p.blocking.push_back(places.error().message);
  return p;
}

}  // namespace

indents::Spacing spacing_of(const TestRecord&) {
  return {3, 2.5, "print"};
}

double expected_size(const TestRecord& r) {
  const RockwellScale* scale = find_rockwell(r.fields.text("specimen.scale"));
  if (scale == nullptr) return 0;
  const double hr = r.fields.number("settings.plan.expected").value_or(scale->bounded() ? scale->low : 50);
  const double width = print_width(*scale, (scale->n - hr) * scale->s);
  return std::isfinite(width) ? width : 0;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  FieldSpec scale = choice("specimen.scale", Stage::prepare, {});
  for (const RockwellScale& s : rockwell_scales())
    scale.choices.push_back(
        {std::string(s.id), s.written() + ": " + s.indenter() + ", " + significant(s.total, 3) + " kgf"});
  scale.required = true;
  add(scale);
  FieldSpec ball = choice("specimen.indenter", Stage::prepare, {"carbide", "steel"}, true);
  ball.when_path = "specimen.scale";
  for (const RockwellScale& s : rockwell_scales())
    if (!s.diamond()) ball.when_value += (ball.when_value.empty() ? "" : "|") + std::string(s.id);
  add(of_series(ball));
  add(quantity("specimen.case_depth", D::length, Stage::prepare));
  add(of_series(quantity("specimen.diameter_convex", D::length, Stage::measure, "D")));
  FieldSpec correction = quantity("specimen.convex_correction", D::none, Stage::measure);
  add(of_series(correction));
  m.equipment = {equipment::hardness_machine(true), equipment::caliper()};
  TableSpec t;
  t.id = kReadings;
  t.lists = {{kReadings, "hr"}, {"depths", "depth"}};
  add(of_series(choice("settings.reads", Stage::set_up, {key::hr, key::depth}, true)));
  FieldSpec hr = column("hr", D::none);
  hr.symbol = "HR";
  hr.when_path = "settings.reads";
  hr.when_value = "hr";
  hr.when_default = true;
  FieldSpec depth = column("depth", D::length);
  depth.symbol = "h";
  depth.may_be_negative = false;
  depth.when_path = "settings.reads";
  depth.when_value = "depth";
  t.columns = {hr, depth};
  t.instrument = "dial";
  t.usual = 5;
  m.tables = {t};
  indents::describe_common(m, spacing_of, expected_size);
  m.card_sketch = "print-cone";
  m.standin = "hardness-bench";
  m.minutes = {4, 8, 4};
  m.series.alike = {"specimen.scale"};
  m.limit_keys = {key::hr};
  m.after_keys = {key::hr, key::hr_sd, indents::key::block_error};
  m.series.key = key::hr;
  m.plan = plan;
  equipment::add_from_shelf(m, {"indenter", "reference_block"});
  finish(m);
}

}  // namespace fortitor::rockwell
