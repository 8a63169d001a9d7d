#include "core/methods/support/equipment.h"

#include "core/methods/support/calibration.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"
#include "core/record/words.h"

namespace fortitor::equipment {
namespace {

using D = Dimension;
using namespace fortitor::fields;

EquipmentSlot slot(std::string id, std::vector<FieldSpec> more, const char* rating = "", Stage stage = Stage::set_up) {
  EquipmentSlot s;
  s.id = std::move(id);
  s.label = Words::shared().equipment.at(s.id);
  s.stage = stage;
  s.fields.push_back(text("equipment." + s.id + ".id", stage));
  for (FieldSpec& f : more) s.fields.push_back(std::move(f));
  const std::string at = "equipment." + s.id + ".";
  s.papers = {text(at + "serial", stage), date(at + "calibrated", stage, DaySense::past), date(at + "due", stage),
              text(at + "certificate", stage), text(at + "held", stage)};
  if (calibration::dimension_of(s.id) != D::none) s.papers.push_back(text(at + "errors", stage));
  for (FieldSpec& f : s.papers) f.brought = true;
  if (*rating != 0) s.rating = "equipment." + s.id + "." + rating;
  s.in_load_path = !s.rating.empty();
  return s;
}

FieldSpec accuracy(const std::string& path, const std::vector<std::string>& classes) {
  return choice(path, Stage::set_up, classes);
}

}  // namespace

EquipmentSlot frame() {
  return slot("frame",
              {quantity("equipment.frame.capacity", D::force, Stage::set_up),
               quantity("equipment.frame.stiffness", D::stiffness, Stage::set_up)},
              "capacity");
}

std::vector<EquipmentSlot> shelf() {
  const auto at = [](const char* id, const char* what) { return std::string("equipment.") + id + what; };
  const auto rated = [&](const char* id) {
    return slot(id, {quantity(at(id, ".capacity"), D::force, Stage::set_up)}, "capacity");
  };
  const auto plain = [&](const char* id, Stage stage = Stage::set_up) {
    return slot(id, {text(at(id, ".grade"), stage)}, "", stage);
  };
  std::vector<EquipmentSlot> all = {rated("fixture"),  plain("platens"),
                                    plain("indenter"), plain("reference_block"),
                                    plain("eyepiece"), plain("micrometer", Stage::measure),
                                    plain("dial"),     plain("hammer"),
                                    plain("bath"),     plain("chamber"),
                                    rated("rig")};
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
  return slot("load_cell",
              {quantity("equipment.load_cell.capacity", D::force, Stage::set_up, "", true),
               accuracy("equipment.load_cell.class", {"0.5", "1", "2", "3"})},
              "capacity");
}

EquipmentSlot grips() {
  return slot("grips", {quantity("equipment.grips.capacity", D::force, Stage::set_up)}, "capacity");
}

EquipmentSlot extensometer() {
  return slot("extensometer", {accuracy("equipment.extensometer.class", {"0.2", "0.5", "1", "2"}),
                               quantity("equipment.extensometer.range", D::length, Stage::set_up)});
}

EquipmentSlot torque_cell() {
  return slot("torque_cell",
              {quantity("equipment.torque_cell.capacity", D::torque, Stage::set_up, "T", true),
               accuracy("equipment.torque_cell.class", {"0.5", "1", "2"})},
              "capacity");
}

EquipmentSlot caliper() {
  return slot("caliper", {quantity("equipment.caliper.resolution", D::length, Stage::measure)}, "", Stage::measure);
}

EquipmentSlot strain_gauges() {
  EquipmentSlot s =
      slot("gauge", {text("equipment.gauge.type", Stage::set_up), number("equipment.gauge.factor", Stage::set_up),
                     quantity("equipment.gauge.tolerance", D::elongation, Stage::set_up)});
  s.fields.erase(s.fields.begin());  // their type names them
  s.papers.clear();                  // used once: no calibration of their own
  return s;
}

EquipmentSlot indicator() {
  return slot("indicator", {});
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
  EquipmentSlot s = slot("pendulum", {quantity("equipment.pendulum.capacity", D::energy, Stage::set_up),
                                      quantity("equipment.pendulum.height", D::length, Stage::set_up)});
  // What the Kit knows of it: hammer, start, and the free swing of the day.
  const Stage at = Stage::set_up;
  std::vector<FieldSpec> swing = {quantity("equipment.pendulum.mass", D::mass, at, "m"),
                                  quantity("equipment.pendulum.length", D::length, at, "L_p"),
                                  quantity("equipment.pendulum.free_start", D::angle, at, "α"),
                                  quantity("equipment.pendulum.free_rise", D::angle, at, "β₀"),
                                  date("equipment.pendulum.checked", at, DaySense::past),
                                  quantity("equipment.pendulum.reference_energy", D::energy, at),
                                  quantity("equipment.pendulum.bias", D::energy, at),
                                  quantity("equipment.pendulum.repeatability", D::energy, at)};
  for (FieldSpec& f : swing)
    if (f.path == "equipment.pendulum.bias") f.may_be_negative = f.may_be_zero = true;
  for (FieldSpec& f : swing) {
    f.brought = true;
    s.papers.push_back(std::move(f));
  }
  return s;
}

EquipmentSlot drop_tower() {
  FieldSpec masses = quantity("equipment.drop_tower.masses", D::mass, Stage::set_up);
  masses.kind = FieldKind::texts;
  return slot("drop_tower", {std::move(masses), quantity("equipment.drop_tower.reach", D::length, Stage::set_up),
                             quantity("equipment.drop_tower.striker", D::length, Stage::set_up)});
}

EquipmentSlot hardness_machine(bool dead_weight) {
  const Stage at = Stage::set_up;
  std::vector<FieldSpec> more = {accuracy("equipment.hardness_machine.class", {"0.5", "1"})};
  if (dead_weight) {
    FieldSpec plates = quantity("equipment.hardness_machine.plates", D::force, at);
    plates.kind = FieldKind::texts;
    more.push_back(quantity("equipment.hardness_machine.base_force", D::force, at));
    more.push_back(std::move(plates));
    more.push_back(text("equipment.hardness_machine.ring_diamond", at));
    more.push_back(text("equipment.hardness_machine.ring_ball", at));
  } else {
    more.push_back(quantity("equipment.hardness_machine.stage_turn", D::length, at));
  }
  return slot("hardness_machine", std::move(more));
}

EquipmentSlot scale() {
  EquipmentSlot s = slot("scale", {quantity("equipment.scale.capacity", D::mass, Stage::set_up),
                                   quantity("equipment.scale.resolution", D::mass, Stage::set_up)});
  for (FieldSpec& f : s.fields)
    if (f.dimension == D::mass) f.unit = "g";
  s.in_load_path = false;  // it carries the piece, no run
  return s;
}

}  // namespace fortitor::equipment
