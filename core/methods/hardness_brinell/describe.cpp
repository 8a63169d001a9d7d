#include <cmath>

#include "core/methods/hardness_brinell/hardness_brinell.h"
#include "core/methods/hardness_brinell/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"

namespace fortitor::brinell {
namespace {

using D = Dimension;

Plan plan(const TestRecord& r) {
  Plan p;
  const auto force = r.fields.number("specimen.force"), ball = r.fields.number("specimen.ball");
  const auto expected = r.fields.number("settings.plan.expected");
  const std::string family = r.fields.text("specimen.family");
  if (!ball) p.blocking.push_back("Choose the ball.");
  if (!force) p.blocking.push_back("Choose the force.");
  const std::vector<double> suited = brinell_indices(family, expected.value_or(NAN));
  for (double index : suited) {
    if (!ball) break;
    Advice a;
    a.setting = "specimen.force";
    a.label = "Force";
    a.value = index * *ball * *ball / kPerNewton;
    a.dimension = D::force;
    a.why = "index " + significant(index, 2) + " for " + family;
    p.advice.push_back(a);
    break;
  }
  if (force) p.expected = Expectation{D::force, *force, *force, *force, "test force"};
  if (!r.fields.number("specimen.block.certified"))
    p.warnings.push_back("Read a reference block near the expected hardness before and after the work.");
  if (r.fields.text("specimen.indenter") == "steel")
    p.warnings.push_back("A steel ball is for old records only: it flattens above 350 HB.");
  const auto places = indents::places_of(r, expected_size(r), spacing_of(r));
  if (!places) p.blocking.push_back(places.error().message);
  return p;
}

}  // namespace

indents::Spacing spacing_of(const TestRecord&) {
  return {3, 2.5, "diameter"};
}

double expected_size(const TestRecord& r) {
  const auto force = r.fields.number("specimen.force"), ball = r.fields.number("specimen.ball");
  const auto hb = r.fields.number("settings.plan.expected");
  if (!force || !ball) return 0;
  if (!hb || !(*hb > 0)) return kLargestPrint * *ball;  // the largest print that is allowed
  const double cap = kPerNewton * *force / (M_PI * *ball * *hb);
  return cap < *ball / 2 ? 2 * std::sqrt(cap * (*ball - cap)) : *ball;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add(quantity("specimen.ball", D::length, Stage::prepare, "D", true));
  FieldSpec force = quantity("specimen.force", D::force, Stage::prepare, "F", true);
  force.unit = "kgf";
  add(force);
  add(quantity("specimen.dwell", D::time, Stage::prepare));
  add(of_series(choice("specimen.indenter", Stage::prepare, {"carbide", "steel"}, true)));
  m.equipment = {equipment::hardness_machine(true), equipment::caliper()};
  TableSpec t;
  t.id = kIndents;
  FieldSpec d = readings("d", D::length, Stage::run, 2, "d");
  d.unit = "mm";
  d.spread_limit = 0;
  t.columns = {d};
  t.instrument = "loupe";
  t.usual = 3;
  m.tables = {t};
  m.schools = {school("settings.hardness_unit", {"number", "mpa"})};
  indents::describe_common(m, spacing_of, expected_size);
  m.card_sketch = "print-ball";
  m.standin = "brinell-bench";
  m.minutes = {4, 8, 4};
  m.series.alike = {"specimen.force", "specimen.ball"};
  m.limit_keys = {key::hb};
  m.after_keys = {key::hb, key::hb_sd, indents::key::block_error};
  m.series.key = key::hb;
  m.plan = plan;
  equipment::add_from_shelf(m, {"indenter", "reference_block", "eyepiece"});
  finish(m);
}

}  // namespace fortitor::brinell
