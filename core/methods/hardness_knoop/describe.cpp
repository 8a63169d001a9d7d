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
  return force && hk && *hk > 0 ? std::sqrt(*force / kStandardGravity / (0.07028 * *hk)) / 2.5 : 0;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  FieldSpec force = quantity("specimen.force", "Test force", D::force, Stage::prepare, "F",
                             "Typed in kgf or N; little, for coatings and single phases.", true);
  force.unit = "kgf";
  add(force);
  add(quantity("specimen.dwell", "Dwell", D::time, Stage::prepare, "", "10 to 15 s unless agreed otherwise."));
  FieldSpec division = quantity("specimen.division", "Length of one division", D::length, Stage::set_up, "",
                                "Of this objective, checked on a stage scale.");
  division.unit = "µm";
  add(of_series(division));
  add(of_series(choice("settings.halves", "Middle of the diagonal", Stage::set_up,
                       {{"no", "not read"}, {"yes", "read, to compare the halves"}}, true)));
  m.equipment = {equipment::hardness_machine(false), equipment::caliper()};
  TableSpec t;
  t.id = kIndents;
  t.label = "Indents";
  t.row = "indent";
  FieldSpec d = readings("d1", "long diagonal", D::length, Stage::run, 2, "L", "Left end, then right end.");
  d.division_path = "specimen.division";
  d.drum = 50;
  d.unit = "µm";
  d.spread_limit = 0;
  FieldSpec middle = d;
  middle.path = "middle";
  middle.label = "middle";
  middle.symbol = "";
  middle.wanted = 1;
  middle.hint = "Where the short diagonal crosses.";
  middle.when_path = "settings.halves";
  middle.when_value = "yes";
  t.columns = {d, middle};
  t.instruction = "Left end, then right end";
  t.instrument = "eyepiece";
  t.usual = 5;
  m.tables = {t};
  indents::describe_common(m, spacing_of, expected_size);
  auto& s = m.stages;
  s[0] = {"A polished face, square to the indenter; coatings in cross-section or from above.",
          {"The print is a thirtieth as deep as it is long: right for thin layers."},
          {},
          {}};
  s[1] = {"The face, and where the indents go.", {"Two and a half widths to every edge, three between."}, {}, {}};
  s[2] = {"Machine, objective and reference block.",
          {"Check the length of a division on the stage scale, for this objective."},
          {"The indenter comes down by itself: keep fingers off the stage.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"indenter", "Indenter whole and clean", false},
           {"square", "Face square to the indenter, clamped", false},
           {"fingers", "Fingers off the stage while it moves", true}}};
  s[3] = {"Both ends of the long diagonal, at once, while the stage has not moved.",
          {"The fine ends vanish out of focus: focus first."},
          {"The indenter comes down by itself: keep fingers off the stage.",
           "Never drive the lines of the eyepiece through each other: they are glass."},
          {}};
  m.standin = "microhardness-bench";
  m.minutes = {8, 20, 6};
  m.series.alike = {"specimen.force"};
  m.limit_keys = {"hk"};
  m.after_keys = {"hk", "hk_sd", "block_error"};
  m.series.key = "hk";
  m.plan = plan;
  equipment::add_from_shelf(m, {"indenter", "reference_block", "eyepiece"});
  finish(m);
}

}  // namespace fortitor::knoop
