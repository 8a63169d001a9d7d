#include <cmath>

#include "core/methods/hardness_knoop/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"

namespace fortitor::knoop {
namespace {

using D = Dimension;

Plan plan(const TestRecord& r) {
  Plan p;
  if (!r.fields.number("specimen.force")) p.blocking.push_back("Choose the force.");
  if (!r.fields.number("specimen.division"))
    p.warnings.push_back(
        "The length of a division is not entered: drum readings give nothing without it. Check it on the stage scale.");
  if (!r.fields.number("specimen.block.certified"))
    p.warnings.push_back("Read a reference block near the expected hardness before and after the work.");
  const auto places = indents::places_of(r, expected_size(r), spacing_of(r));
  if (!places) p.blocking.push_back(places.error().message);
  return p;
}

}  // namespace

indents::Spacing spacing_of(const TestRecord&) {
  return {3, 2.5, "width"};
}

double expected_size(const TestRecord& r) {
  const auto force = r.fields.number("specimen.force"), hk = r.fields.number("settings.plan.expected");
  return force && hk && *hk > 0 ? std::sqrt(*force / kStandardGravity / (kProjected * *hk)) / kSlender : 0;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  FieldSpec force = quantity("specimen.force", D::force, Stage::prepare, "F", true);
  force.unit = "kgf";
  add(force);
  add(quantity("specimen.dwell", D::time, Stage::prepare));
  FieldSpec division = quantity("specimen.division", D::length, Stage::set_up);
  division.unit = "µm";
  add(of_series(division));
  add(of_series(choice("settings.halves", Stage::set_up, {"no", "yes"}, true)));
  m.equipment = {equipment::hardness_machine(false), equipment::caliper()};
  TableSpec t;
  t.id = kIndents;
  FieldSpec d = readings("d1", D::length, Stage::run, 2, "L");
  d.division_path = "specimen.division";
  d.drum = 50;
  d.unit = "µm";
  d.spread_limit = 0;
  FieldSpec middle = d;
  middle.path = "middle";
  middle.symbol = "";
  middle.wanted = 1;
  middle.when_path = "settings.halves";
  middle.when_value = "yes";
  t.columns = {d, middle};
  t.instrument = "eyepiece";
  t.usual = 5;
  m.tables = {t};
  indents::describe_common(m, spacing_of, expected_size);
  m.card_sketch = "print-rhomb";
  m.standin = "microhardness-bench";
  m.minutes = {8, 20, 6};
  m.series.alike = {"specimen.force"};
  m.limit_keys = {key::hk};
  m.after_keys = {key::hk, key::hk_sd, indents::key::block_error};
  m.series.key = key::hk;
  m.plan = plan;
  equipment::add_from_shelf(m, {"indenter", "reference_block", "eyepiece"});
  finish(m);
}

}  // namespace fortitor::knoop
