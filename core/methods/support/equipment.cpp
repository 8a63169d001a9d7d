#include "core/methods/support/equipment.h"

#include "core/methods/support/calibration.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"

namespace fortitor::equipment {
namespace {

using D = Dimension;
using namespace fortitor::fields;

EquipmentSlot slot(std::string id, std::string label, std::vector<FieldSpec> more, const char* rating = "",
                   Stage stage = Stage::set_up) {
  EquipmentSlot s;
  s.id = std::move(id);
  s.label = std::move(label);
  s.stage = stage;
  s.fields.push_back(text("equipment." + s.id + ".id", s.label, stage));
  for (FieldSpec& f : more) s.fields.push_back(std::move(f));
  const std::string at = "equipment." + s.id + ".";
  s.papers = {text(at + "serial", "Serial mark", stage), date(at + "calibrated", "Calibrated", stage, DaySense::past),
              date(at + "due", "Calibration due", stage), text(at + "certificate", "Calibration certificate", stage),
              text(at + "held", "Held because", stage)};
  if (calibration::dimension_of(s.id) != D::none) {
    s.papers.push_back(text(at + "errors", "Errors on its certificate", stage));
    s.papers.back().hint = "Error ± U (k = 2) at each point, such as 10 kN: 0.12 ± 0.20 %; 50 kN: −0.1 ± 0.2 %.";
  }
  for (FieldSpec& f : s.papers) f.brought = true;
  if (*rating != 0) s.rating = "equipment." + s.id + "." + rating;
  s.in_load_path = !s.rating.empty();
  return s;
}

FieldSpec accuracy(const std::string& path, const std::string& label, std::vector<std::string> classes,
                   const char* hint) {
  std::vector<Choice> choices;
  for (std::string& c : classes) choices.push_back({c, "class " + c});
  FieldSpec f = choice(path, label, Stage::set_up, std::move(choices));
  f.hint = hint;
  return f;
}

}  // namespace

EquipmentSlot frame() {
  return slot("frame", "Frame",
              {quantity("equipment.frame.capacity", "Frame rating", D::force, Stage::set_up, "", "From its plate."),
               quantity("equipment.frame.stiffness", "Frame stiffness", D::stiffness, Stage::set_up, "",
                        "Force per millimetre of crosshead travel, from the machine's compliance test.")},
              "capacity");
}

std::vector<EquipmentSlot> shelf() {
  const auto rated = [](const char* id, const char* label) {
    return slot(id, label,
                {quantity(std::string("equipment.") + id + ".capacity", std::string(label) + " rating", D::force,
                          Stage::set_up, "", "From its plate.")},
                "capacity");
  };
  const auto plain = [](const char* id, const char* label, const char* what, const char* hint,
                        Stage stage = Stage::set_up) {
    FieldSpec f = text(std::string("equipment.") + id + ".grade", what, stage);
    f.hint = hint;
    return slot(id, label, {f}, "", stage);
  };
  std::vector<EquipmentSlot> all = {
      rated("fixture", "Fixture"),
      plain("platens", "Platens", "Class or flatness", "Such as 0.02 mm."),
      plain("indenter", "Indenter", "Kind", "Such as diamond cone 120°, ball 2.5 mm."),
      plain("reference_block", "Reference block", "Certified", "Such as 63.1 ± 0.5 HRC."),
      plain("eyepiece", "Eyepiece", "Division", "Such as 0.5 µm."),
      plain("micrometer", "Micrometer", "Resolution", "Such as 0.001 mm.", Stage::measure),
      plain("dial", "Dial gauge", "Resolution", "Such as 0.01 mm."),
      plain("hammer", "Hammer", "Energy and striker", "Such as 300 J, striker 2 mm."),
      plain("bath", "Bath", "Range", "Such as −80 to 20 °C."),
      plain("chamber", "Chamber", "Range", "Such as −60 to 200 °C."),
      rated("rig", "Rig")};
  for (EquipmentSlot& s : all) {
    s.from_kit = true;
    for (FieldSpec& f : s.fields) f.brought = true;
  }
  return all;
}

void add_from_shelf(Method& method, std::initializer_list<const char*> kinds) {
  for (const std::string kind : kinds) {
    bool there = false;
    for (EquipmentSlot& s : shelf())
      if (s.id == kind) {
        method.equipment.push_back(std::move(s));
        there = true;
      }
    if (!there) throw std::logic_error("no equipment " + kind);
  }
}

EquipmentSlot load_cell() {
  return slot("load_cell", "Load cell",
              {quantity("equipment.load_cell.capacity", "Cell capacity", D::force, Stage::set_up, "",
                        "Expected maximum within 10–90 %.", true),
               accuracy("equipment.load_cell.class", "Cell class", {"0.5", "1", "2", "3"}, "ISO 7500-1.")},
              "capacity");
}

EquipmentSlot grips() {
  return slot("grips", "Grips",
              {quantity("equipment.grips.capacity", "Grip rating", D::force, Stage::set_up, "", "From their plate.")},
              "capacity");
}

EquipmentSlot extensometer() {
  return slot("extensometer", "Extensometer",
              {accuracy("equipment.extensometer.class", "Extensometer class", {"0.2", "0.5", "1", "2"}, "ISO 9513."),
               quantity("equipment.extensometer.range", "Extensometer range", D::length, Stage::set_up, "",
                        "Travel before its stop.")});
}

EquipmentSlot torque_cell() {
  return slot("torque_cell", "Torque cell",
              {quantity("equipment.torque_cell.capacity", "Torque cell rating", D::torque, Stage::set_up, "T",
                        "From its plate.", true),
               accuracy("equipment.torque_cell.class", "Torque class", {"0.5", "1", "2"}, "")},
              "capacity");
}

EquipmentSlot caliper() {
  return slot("caliper", "Caliper",
              {quantity("equipment.caliper.resolution", "Caliper resolution", D::length, Stage::measure, "",
                        "One step of its display.")},
              "", Stage::measure);
}

EquipmentSlot strain_gauges() {
  EquipmentSlot s = slot("gauge", "Gauges",
                         {text("equipment.gauge.type", "Gauges", Stage::set_up, "Type and lot from the package."),
                          number("equipment.gauge.factor", "Gauge factor", Stage::set_up, "As set on the indicator."),
                          quantity("equipment.gauge.tolerance", "Factor tolerance", D::elongation, Stage::set_up, "",
                                   "From the package.")});
  s.fields.erase(s.fields.begin());  // their type names them
  s.papers.clear();                  // used once: no calibration of their own
  return s;
}

EquipmentSlot indicator() {
  return slot("indicator", "Indicator", {});
}

void judge_calibration(Evaluation& e, const TestRecord& r, const std::vector<EquipmentSlot>& slots,
                       const std::string& today) {
  const std::string day = day_of_test(r, today);
  const bool run = !r.tested_at.empty();
  std::string message;
  std::map<std::string, double> evidence;
  for (const EquipmentSlot& s : slots) {
    const std::string at = "equipment." + s.id + ".", due = r.fields.text(at + "due"),
                      held = r.fields.text(at + "held");
    const std::string id = r.fields.text(at + "id"), name = s.label + (id.empty() ? "" : " " + id);
    if (!day.empty() && is_day(due) && due < day) {
      const int late = days_between(due, day);
      message += (message.empty() ? "" : " ") + name + ": its calibration ended on " + day_words(due) + ", " +
                 std::to_string(late) + (late == 1 ? " day" : " days") + (run ? " before the test." : " ago.");
      evidence[at + "due"] = late;
    }
    if (!held.empty())
      message +=
          (message.empty() ? "" : " ") + name + (run ? " was held when it was used: " : " is held: ") + held + ".";
  }
  if (message.empty()) return;
  ledger::raise(e, "calibration-expired", Severity::check, message, std::move(evidence),
                {{"accept", "It was checked and is in order", {}, true}})
      .asks_first = true;
}

EquipmentSlot pendulum() {
  EquipmentSlot s = slot(
      "pendulum", "Pendulum",
      {quantity("equipment.pendulum.capacity", "Pendulum, energy", D::energy, Stage::set_up, "", "From its plate."),
       quantity("equipment.pendulum.height", "Height of its axis", D::length, Stage::set_up, "",
                "How far the swing reaches: nobody stands there.")});
  // What the Kit knows of it: hammer, start, and the free swing of the day.
  const Stage at = Stage::set_up;
  std::vector<FieldSpec> swing = {
      quantity("equipment.pendulum.mass", "Mass of the hammer", D::mass, at, "m"),
      quantity("equipment.pendulum.length", "Length of the pendulum", D::length, at, "L_p"),
      quantity("equipment.pendulum.free_start", "Start, α", D::angle, at, "α"),
      quantity("equipment.pendulum.free_rise", "Free swing of the day, β₀", D::angle, at, "β₀", "Without a piece."),
      date("equipment.pendulum.checked", "Free swing read on", at, DaySense::past),
      quantity("equipment.pendulum.reference_energy", "Reference pieces, energy", D::energy, at, "",
               "Of the indirect verification, ISO 148-2."),
      quantity("equipment.pendulum.bias", "Reads on them too high by", D::energy, at, "", "Minus: too low."),
      quantity("equipment.pendulum.repeatability", "Largest less smallest on them", D::energy, at)};
  for (FieldSpec& f : swing)
    if (f.path == "equipment.pendulum.bias") f.may_be_negative = f.may_be_zero = true;
  for (FieldSpec& f : swing) {
    f.brought = true;
    s.papers.push_back(std::move(f));
  }
  return s;
}

EquipmentSlot drop_tower() {
  FieldSpec masses = quantity("equipment.drop_tower.masses", "Masses", D::mass, Stage::set_up, "",
                              "What it can drop, striker and cell included; parted by semicolons.");
  masses.kind = FieldKind::texts;
  return slot(
      "drop_tower", "Drop tower",
      {std::move(masses),
       quantity("equipment.drop_tower.reach", "Highest drop", D::length, Stage::set_up, "", "From striker to plate."),
       quantity("equipment.drop_tower.striker", "Striker, diameter", D::length, Stage::set_up, "", "16 mm is usual.")});
}

EquipmentSlot hardness_machine(bool dead_weight) {
  const Stage at = Stage::set_up;
  std::vector<FieldSpec> more = {accuracy("equipment.hardness_machine.class", "Force class", {"0.5", "1"},
                                          "Permissible error of its forces in per cent.")};
  if (dead_weight) {
    FieldSpec plates = quantity("equipment.hardness_machine.plates", "Plates", D::force, at, "",
                                "Force that each adds at the indenter, parted by semicolons; not their weight.");
    plates.kind = FieldKind::texts;
    more.push_back(quantity("equipment.hardness_machine.base_force", "Force without plates", D::force, at, "",
                            "At the indenter, with the bare lever."));
    more.push_back(std::move(plates));
    more.push_back(text("equipment.hardness_machine.ring_diamond", "Ring for diamond scales", at,
                        "Colour of the dial's ring, as on this machine."));
    more.push_back(text("equipment.hardness_machine.ring_ball", "Ring for ball scales", at));
  } else {
    more.push_back(quantity("equipment.hardness_machine.stage_turn", "Stage, one turn of its screw", D::length, at, "",
                            "For how far to turn it to the next indent."));
  }
  return slot("hardness_machine", "Hardness machine", std::move(more));
}

EquipmentSlot scale() {
  EquipmentSlot s =
      slot("scale", "Scale",
           {quantity("equipment.scale.capacity", "Scale rating", D::mass, Stage::set_up, "", "From its plate."),
            quantity("equipment.scale.resolution", "Scale resolution", D::mass, Stage::set_up, "",
                     "One step of its display.")});
  for (FieldSpec& f : s.fields)
    if (f.dimension == D::mass) f.unit = "g";
  s.in_load_path = false;  // it carries the piece, no run
  return s;
}

}  // namespace fortitor::equipment
