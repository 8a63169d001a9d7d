// What impact-tension asks and advises.
#include "core/methods/impact_tension/model.h"
#include "core/methods/support/blows.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/section/section.h"

namespace fortitor::impact_tension {
namespace {

Plan plan(const TestRecord& r) {
  Plan p;
  if (const std::string missing = section_of(r.fields).missing; !missing.empty()) p.blocking.push_back(missing);
  if (!r.fields.number("specimen.temperature")) p.blocking.push_back("Enter the temperature of the pieces.");
  return p;
}

}  // namespace

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  blows::describe_common(m);
  for (FieldSpec f : section_fields({"round", "flat"}, Stage::measure)) m.fields.push_back(std::move(f));
  m.equipment.push_back(equipment::caliper());
  m.prepare_sketch = m.after_sketch = "tagged-bar";
  m.run_sketch = m.setup_sketch = "swing";
  m.measure_sketch = "bar";
  m.standin = "pendulum-bench";
  m.minutes = {4, 4, 4};
  m.limit_keys = {key::kt, key::energy};
  m.measure_keys = {};
  m.after_keys = {key::kt, key::energy};
  m.series.key = key::kt;
  m.plan = plan;
  equipment::add_from_shelf(m, {"hammer", "bath", "chamber", "micrometer"});
  finish(m);
}

}  // namespace fortitor::impact_tension
