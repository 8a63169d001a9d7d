#include <cmath>

#include "core/methods/hardness_vickers/hardness_vickers.h"
#include "core/methods/hardness_vickers/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"

namespace fortitor::vickers {
namespace {

using D = Dimension;

constexpr double kStaggered = 2.5;  // diagonals between prints of two rows

bool light_metal(const TestRecord& r) {
  const std::string f = r.fields.text("specimen.family");
  // Tin and lead by their whole names: a coating is no tin, a leaded steel no lead.
  for (const char* name : {"tin", "tin alloy", "lead", "lead alloy"})
    if (f == name) return true;
  return f.find("alumin") != std::string::npos || f.find("magnes") != std::string::npos;
}

Plan plan(const TestRecord& r) {
  Plan p;
  const auto force = r.fields.number("specimen.force");
  if (!force) p.blocking.push_back("Choose the force.");
  if (!r.fields.number("specimen.division"))
    p.warnings.push_back(
        "The length of a division is not entered: drum readings give nothing without it. Check it on the stage scale.");
  if (!r.fields.number("specimen.block.certified"))
    p.warnings.push_back("Read a reference block near the expected hardness before and after the work.");
  const auto places = indents::places_of(r, expected_size(r), spacing_of(r));
  if (!places) p.blocking.push_back(places.error().message);
  const auto thickness = r.fields.number("specimen.thickness");
  if (const double d = expected_size(r); thickness && d > 0 && *thickness < 1.5 * d)
    p.warnings.push_back("An indent of " + significant(d * 1e3, 3) + " µm wants a piece of at least " +
                         significant(1.5 * d, 3) + " mm: use less force.");
  return p;
}

}  // namespace

indents::Spacing spacing_of(const TestRecord& r) {
  indents::Spacing s;
  if (light_metal(r)) s = {6, 3, "diagonal"};
  if (r.fields.text("settings.spacing") == "staggered") s.apart = kStaggered;
  return s;
}

double expected_size(const TestRecord& r) {
  const auto force = r.fields.number("specimen.force"), hv = r.fields.number("settings.plan.expected");
  return force && hv && *hv > 0 ? std::sqrt(kPerNewton * *force / *hv) : 0;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  FieldSpec force = quantity("specimen.force", D::force, Stage::prepare, "F", true);
  force.unit = "kgf";
  add(force);
  add(quantity("specimen.dwell", D::time, Stage::prepare));
  FieldSpec limit = quantity("specimen.traverse.limit", D::none, Stage::prepare);
  add(of_series(limit));
  add(of_series(choice("specimen.traverse.from", Stage::prepare, {"edge"})));
  FieldSpec division = quantity("specimen.division", D::length, Stage::set_up);
  division.unit = "µm";
  add(of_series(division));
  m.equipment = {equipment::hardness_machine(false), equipment::caliper()};
  TableSpec t;
  t.id = kIndents;
  for (const auto& [name, label] : {std::pair{"d1", "diagonal 1"}, {"d2", "diagonal 2"}}) {
    FieldSpec d = readings(name, D::length, Stage::run, 2, name[1] == '1' ? "d₁" : "d₂");
    d.division_path = "specimen.division";
    d.drum = 50;
    d.unit = "µm";
    d.spread_limit = 0;
    t.columns.push_back(std::move(d));
  }
  // The eye is the largest error of all: a second person reads the same indents.
  for (const auto& [name, label, symbol] : {std::tuple{"second_d1", "diagonal 1, second reader", "d₁ II"},
                                            {"second_d2", "diagonal 2, second reader", "d₂ II"}}) {
    FieldSpec d = t.columns.front();
    d.path = name;
    d.label = label;
    d.symbol = symbol;
    d.when_path = "settings.second_reader";
    d.when_value = "yes";
    t.columns.push_back(std::move(d));
  }
  t.instrument = "eyepiece";
  t.least = 1;
  t.usual = 5;
  m.tables = {t};
  m.schools = {school("settings.hardness_unit", {"number", "mpa"})};
  indents::describe_common(m, spacing_of, expected_size);
  add(of_series(choice("settings.second_reader", Stage::set_up, {"no", "yes"}, true)));
  add(of_series(choice("settings.spacing", Stage::measure, {"standard", "staggered"}, true)));
  add(of_series(
      choice("specimen.curvature.shape", Stage::measure, {"flat", "sphere", "cylinder", "cylinder-along"}, true)));
  add(of_series(choice("specimen.curvature.side", Stage::measure, {"convex", "concave"}, true)));
  add(of_series(quantity("specimen.curvature.diameter", D::length, Stage::measure, "D")));
  add(of_series(quantity("specimen.curvature.factor", D::none, Stage::measure)));
  m.card_sketch = "print-square";
  m.standin = "microhardness-bench";
  m.minutes = {8, 20, 6};
  m.series.alike = {"specimen.force"};
  m.limit_keys = {key::hv, key::case_depth, key::hv_surface, key::hv_core};
  m.after_keys = {key::hv, key::case_depth, indents::key::block_error};
  m.series.key = key::hv;
  m.printed_settings.push_back("settings.spacing");
  m.plan = plan;
  equipment::add_from_shelf(m, {"indenter", "reference_block", "eyepiece"});
  finish(m);
}

}  // namespace fortitor::vickers
