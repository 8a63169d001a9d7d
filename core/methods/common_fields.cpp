#include "core/methods/method.h"

namespace fortitor {

const FieldSpec* Method::field(const std::string& path) const {
  for (const FieldSpec& f : fields)
    if (f.path == path) return &f;
  return nullptr;
}

Stepwise Stepwise::for_record(const TestRecord& record) const {
  Stepwise w = *this;
  std::erase_if(w.read, [&](const StepChannel& c) {
    return !c.count_path.empty() && record.fields.number(c.count_path).value_or(0) < c.at_least;
  });
  return w;
}

namespace methods {

std::vector<FieldSpec> common_fields() {
  using D = Dimension;
  using K = FieldKind;
  std::vector<FieldSpec> all;
  auto add = [&](const char* path, const char* label, K kind, Stage stage, const char* hint = "", D d = D::none,
                 bool required = false) {
    FieldSpec f;
    f.path = path;
    f.label = label;
    f.kind = kind;
    f.dimension = d;
    f.stage = stage;
    f.hint = hint;
    f.required = required;
    all.push_back(f);
    return &all.back();
  };
  add("specimen.id", "Specimen", K::text, Stage::prepare, "As marked on the piece.", D::none, true);
  add("specimen.material", "Material", K::text, Stage::prepare, "Designation on the certificate or drawing.", D::none,
      true);
  add("specimen.family", "Family", K::text, Stage::prepare, "Usual values of the family check the results.", D::none,
      true);
  add("specimen.lot", "Lot or heat", K::text, Stage::prepare, "From the stamp or the colour on the bar's end.");
  add("specimen.marking", "Marking", K::text, Stage::prepare, "Stamp, colour or tag found on the piece.");
  add("specimen.surface", "Surface", K::text, Stage::prepare, "Turned, ground, as rolled; nicks seen.");
  add("specimen.note", "Note", K::text, Stage::prepare);
  add("conditions.temperature", "Room temperature", K::quantity, Stage::prepare, "", D::temperature);
  add("conditions.humidity", "Humidity", K::quantity, Stage::prepare, "", D::elongation);
  add("conditions.stated", "Condition for", K::quantity, Stage::prepare, "Starts the timer.", D::time);
  add("conditions.hours", "Conditioned for", K::quantity, Stage::prepare, "", D::time);
  add("equipment.frame.id", "Frame", K::text, Stage::set_up);
  add("equipment.frame.capacity", "Frame rating", K::quantity, Stage::set_up, "From its plate.", D::force);
  add("equipment.frame.stiffness", "Frame stiffness", K::quantity, Stage::set_up,
      "Force per millimetre of crosshead travel, from the machine's compliance test.", D::stiffness);
  add("equipment.load_cell.id", "Load cell", K::text, Stage::set_up);
  add("equipment.load_cell.capacity", "Cell capacity", K::quantity, Stage::set_up, "Expected maximum within 10–90 %.",
      D::force, true);
  const std::vector<Choice> classes = {{"0.5", "class 0.5"}, {"1", "class 1"}, {"2", "class 2"}, {"3", "class 3"}};
  add("equipment.load_cell.class", "Cell class", K::choice, Stage::set_up, "ISO 7500-1.")->choices = classes;
  add("equipment.grips.id", "Grips", K::text, Stage::set_up);
  add("equipment.grips.capacity", "Grip rating", K::quantity, Stage::set_up, "From their plate.", D::force);
  add("equipment.extensometer.id", "Extensometer", K::text, Stage::set_up);
  add("equipment.extensometer.class", "Extensometer class", K::choice, Stage::set_up, "ISO 9513.")->choices = {
      {"0.2", "class 0.2"}, {"0.5", "class 0.5"}, {"1", "class 1"}, {"2", "class 2"}};
  add("equipment.extensometer.range", "Extensometer range", K::quantity, Stage::set_up, "Travel before its stop.",
      D::length);
  // Pieces and faults are those of the method's stand-in: put in by add_standin().
  add("equipment.standin.piece", "Stand-in piece", K::choice, Stage::run, "Which model the stand-in holds.");
  add("equipment.standin.fault", "Practice fault", K::choice, Stage::run, "Something that goes wrong, for practice.");
  add("equipment.standin.seed", "Stand-in seed", K::number, Stage::run, "The same seed gives the same piece.");
  add("equipment.caliper.id", "Caliper", K::text, Stage::measure);
  add("equipment.caliper.resolution", "Caliper resolution", K::quantity, Stage::measure, "One step of its display.",
      D::length);
  add("settings.series.left_out", "Left out of the series because", K::text, Stage::evaluate,
      "A physical reason; the numbers are given with and without the piece.");
  add("settings.rounding", "Rounding", K::choice, Stage::evaluate)->choices = {
      {"iso", "ISO 6892-1"}, {"astm", "ASTM E29"}, {"significant", "significant figures"}};
  all.back().first_is_usual = true;
  add("settings.figures", "Figures", K::number, Stage::evaluate);
  add("settings.decision", "Decision rule", K::choice, Stage::prepare)->choices = {
      {"simple", "simple acceptance"},
      {"guarded-acceptance", "guarded acceptance"},
      {"guarded-rejection", "guarded rejection"}};
  all.back().first_is_usual = true;
  return all;
}

}  // namespace methods
}  // namespace fortitor
